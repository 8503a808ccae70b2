//! It goes otherwise than planned: what has begun stays as it was, and the rest is planned again. Beside the plan as it
//! stands there is what a baker would do with what rises now: into the fridge, somewhere cooler or warmer, on with it at once, or
//! knocked back; each worked out by the engines from now on.

use std::collections::BTreeSet;

use jiff::Timestamp;
use jiff::tz::TimeZone;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::answer::{DaysInput, KnownWays, OfferAnswer, PlannedStep, candidates, on_the_clock};
use super::blocks::Blocks;
use super::choose::choose;
use super::combinations::Candidate;
use super::nights::Nights;
use super::offers::{Offer, Search};
use super::problem::{Closed, Problem, STEP, Within};
use super::spots::Spot;
use super::trials::{COLD, COLD_GIVES, OTHER, Trial};
use super::ways::{Engines, TakenLane, Way, WayKind, in_parallel};
use super::wish::Taken;
use crate::day::{Anchor, DayWish, Lasts, StepKind};
use crate::fault::{Fault, Faults};
use crate::formula::Formula;
use crate::pantry::Catalogue;
use crate::rise::{Leg, RiseWish};
use crate::units::{Hours, Minutes};
use crate::words::Handling;

/// What has come otherwise.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(tag = "happened", rename_all = "kebab-case")]
pub enum Otherwise {
    /// Nothing: the rest is planned again as it stands.
    #[default]
    Nothing,
    /// There are no hands until then.
    NoHands {
        /// When there are again.
        #[schemars(with = "String")]
        until: Timestamp,
    },
    /// What waits is ready before its time.
    Ready {
        /// Which dough, by its place in the plan.
        dough: usize,
        /// The wait, by the id of its step.
        id: String,
    },
    /// A step is wanted at a time.
    Moved {
        /// Of which dough, by its place in the plan.
        dough: usize,
        /// The step, by its id.
        id: String,
        /// When.
        #[schemars(with = "String")]
        at: Timestamp,
    },
    /// The oven is wanted by somebody else.
    OvenTaken {
        /// Which oven, by its number in the kitchen.
        oven: usize,
        /// Until when.
        #[schemars(with = "String")]
        until: Timestamp,
    },
}

/// The steps of a dough that have begun, by their ids, and when each did.
pub type Began = Vec<(String, Timestamp)>;

/// A plan that is being followed, and what has come otherwise.
#[derive(Clone, Debug, PartialEq)]
pub struct ReplanInput {
    /// What was planned, and the moment to take for now.
    pub days: DaysInput,
    /// The plan that was taken.
    pub taken: Taken,
    /// What has come otherwise.
    pub otherwise: Otherwise,
    /// What the bench says of each dough: its steps that have begun, and when. Where it says nothing of a dough, what was
    /// planned until now is taken as done.
    pub bench: Vec<Option<Began>>,
}

/// One of the ways on from here.
#[derive(Clone, Debug, Serialize, JsonSchema)]
pub struct Onward {
    /// The plan, what was done in it.
    #[serde(flatten)]
    pub offer: OfferAnswer,
    /// How far each bread is from where it was before, min; later where it is positive.
    pub moved: Vec<f64>,
    /// What stands longer than it should: the dough and what it is called.
    pub over: Vec<(usize, String)>,
    /// What is left out, or comes while nobody is there for it: the dough and what it is called.
    pub missed: Vec<(usize, String)>,
}

/// The ways on from here.
#[derive(Clone, Debug, Serialize, JsonSchema)]
pub struct Replanned {
    /// The plans, the one to take first; none where nothing can be saved.
    pub offers: Vec<Onward>,
    /// What has to be given up for them, a phrase each.
    pub gives_up: Vec<String>,
}

impl Replanned {
    /// One of the ways on, as it is followed from here; `None` where none has that key.
    pub fn take(&self, key: &str, before: &Taken) -> Option<Taken> {
        let onward = self.offers.iter().find(|o| o.offer.offer.key == key)?;
        let mut changes = before.changes.clone();
        changes.extend(onward.offer.offer.changes.iter().filter(|c| !before.changes.contains(c)).cloned());
        Some(onward.offer.taken(before.doughs.clone(), changes))
    }
}

/// What it costs to make a dough that has not begun otherwise than was promised.
const BROKEN: i32 = 40;
/// What it costs to do something out of turn.
const OUT_OF_TURN: i32 = 70;
/// What it costs to go on at once, beside that it is sooner than best.
const TOO_SOON: i32 = 120;
/// What it costs to go on before a dough may be gone on with, for each hundredth of its rise that is missing: a bread that is
/// a quarter of an hour late is better than one that lacks a fifth of its rise (common practice, no source).
const HASTE: i32 = 1000;
/// A short stay in the fridge that holds a dough back, h.
const HELD: f64 = 2.0;
/// How much longer a dough that is gone on with at once may still stand, min.
const AT_ONCE: f64 = 20.0;

/// Plans the rest of a plan again: what has begun stays as it was.
///
/// # Errors
/// Those of [`Rest::of`].
pub fn replan(input: &ReplanInput, catalogue: &Catalogue) -> Result<Replanned, Faults> {
    Ok(Rest::of(input, catalogue, &mut KnownWays::default())?.plan())
}

/// The rest of a plan as it is asked: each dough with its ways on, and the hours.
pub struct Rest<'a> {
    taken: &'a Taken,
    candidates: Vec<Candidate>,
    problem: Problem,
    begins: Timestamp,
    nights: Nights<'a>,
    /// Whether nothing has come otherwise.
    as_it_is: bool,
    /// This moment, min from the beginning of the plan.
    now: f64,
}

impl<'a> Rest<'a> {
    /// What is asked, by what is known of the ways already.
    ///
    /// # Errors
    /// Those of [`super::Asked::of`]; a plan of an older kind, at its doughs.
    pub fn of(
        input: &'a ReplanInput,
        catalogue: &'a Catalogue,
        known: &mut KnownWays,
    ) -> Result<Rest<'a>, Faults> {
        let ReplanInput { days, taken, otherwise, bench } = input;
        let DaysInput { plan, kitchen, now, .. } = days;
        if taken.lanes.len() != plan.doughs.len() {
            let text = "This plan was taken by an older Cerealis. Plan the days again.";
            return Err(Fault::new("impossible", "doughs", text).into());
        }
        let mut candidates = candidates(days, catalogue, known, None)?;
        let zone = kitchen.zone().unwrap_or(TimeZone::UTC);
        let begins = plan.begins(&zone);
        let minutes = |t: Timestamp| t.duration_since(begins).as_secs_f64() / 60.0;
        let keys: Vec<&str> = taken.key.split('+').collect();
        for (n, c) in candidates.iter_mut().enumerate() {
            let lane = &taken.lanes[n];
            // As the bench has it, or else as it was planned.
            let said = bench.get(n).and_then(Option::as_ref);
            let began = |s: &PlannedStep| match said {
                Some(all) => all.iter().find(|(id, _)| *id == s.id).map(|(_, at)| *at),
                None => Some(s.at).filter(|at| at <= now),
            };
            let steps = taken.steps.iter().filter(|s| s.dough == n);
            let begun: Vec<PlannedStep> =
                steps.filter_map(|s| Some(PlannedStep { at: began(s)?, ..s.clone() })).collect();
            let begun: Vec<&PlannedStep> = begun.iter().collect();
            let as_planned = Way {
                key: keys.get(n).copied().unwrap_or_default().to_owned(),
                kind: WayKind::AsWritten,
                changes: String::new(),
                cost: 0,
                stands: None,
                begins: Within::default(),
                worked_out_at: None,
                slips: BTreeSet::new(),
                lane: lane.clone(),
            };
            let mut all = vec![as_planned];
            if begun.is_empty() {
                let promised = all[0].key.clone();
                let others = c.ways.drain(..).filter(|w| w.key != promised);
                all.extend(others.map(|w| Way { cost: w.cost + BROKEN, ..w }));
            } else if let Some(wait) = running(&begun, *now) {
                let stood = minutes(*now) - minutes(wait.at);
                let ready =
                    matches!(otherwise, Otherwise::Ready { dough, id } if *dough == n && *id == wait.id);
                if ready {
                    end_now(&mut all[0].lane, &wait.id, stood);
                } else {
                    let first = begun.iter().map(|s| s.at).min().unwrap_or(*now);
                    let at = first.to_zoned_datetime(zone.clone()).datetime();
                    let day = DayWish { anchor: Anchor::Start, at: Some(at) };
                    let (pins, readings) = (plan.doughs[n].pins, &*known.readings);
                    let engines = Engines { kitchen, catalogue, pins, now: *now, day, readings };
                    all.extend(from_now(lane, wait, stood, &engines));
                }
            }
            c.ways = all;
            c.pinned.clear();
            c.fixed = begun.iter().map(|s| (s.id.clone(), minutes(s.at))).collect();
            if let Otherwise::Moved { dough, id, at } = otherwise
                && *dough == n
                && !begun.iter().any(|s| s.id == *id)
            {
                c.pinned = vec![(id.clone(), (minutes(*at) / STEP).round() as i32)];
            }
        }
        let mut problem = plan.problem(kitchen, *now);
        let step = |t: &Timestamp| (minutes(*t) / STEP).ceil() as i32;
        match otherwise {
            Otherwise::NoHands { until } => {
                // From this minute on: what has begun may come to a step before the next one of the plan.
                let (from, to) = ((minutes(*now) / STEP).floor() as i32, step(until));
                problem.closed.push(Closed { from, to, spares: 0, sleep: false, certain: true });
            }
            Otherwise::OvenTaken { oven, until } => {
                problem.oven_taken.push((*oven, problem.begins, step(until)));
            }
            Otherwise::Ready { .. } | Otherwise::Moved { .. } | Otherwise::Nothing => {}
        }
        let nights = Nights { days, catalogue, readings: known.readings.clone() };
        let as_it_is = *otherwise == Otherwise::Nothing && bench.iter().all(Option::is_none);
        let now = minutes(*now);
        Ok(Rest { taken, candidates, problem, begins, nights, as_it_is, now })
    }

    /// The plan as it was taken, to the minute.
    fn unchanged(&self) -> Option<OfferAnswer> {
        let Rest { taken, candidates, problem, begins, .. } = self;
        let mut all = candidates.clone();
        for (n, c) in all.iter_mut().enumerate() {
            c.ways.truncate(1);
            let minutes = |t: Timestamp| t.duration_since(*begins).as_secs_f64() / 60.0;
            let steps = taken.steps.iter().filter(|s| s.dough == n);
            c.fixed = steps.map(|s| (s.id.clone(), minutes(s.at))).collect();
        }
        let found = choose(problem, &all, Search { quick: true, ..Search::default() });
        let offer = found.offers.into_iter().next()?;
        let offer = on_the_clock(offer, &all, *begins, &problem.closed);
        Some(OfferAnswer { steps: taken.steps.clone(), ..offer })
    }

    /// The ways on.
    pub fn plan(self) -> Replanned {
        let as_taken = if self.as_it_is { self.unchanged() } else { None };
        let Rest { taken, mut candidates, problem, begins, nights, now, .. } = self;
        let chosen = |doughs: &[Candidate], search: Search<'_>| choose(&problem, doughs, search);
        let choice = nights.chosen(&mut candidates, Search::default(), chosen);
        let onward = |offer: Offer| {
            let missed = left_out(&problem, &candidates, &offer);
            let mut on =
                onward(on_the_clock(offer, &candidates, begins, &problem.closed), &candidates, taken);
            let is_missed = |s: &PlannedStep| {
                missed.iter().any(|(dough, id)| (*dough, id.as_str()) == (s.dough, s.id.as_str()))
            };
            on.missed =
                on.offer.steps.iter().filter(|s| is_missed(s)).map(|s| (s.dough, s.title.clone())).collect();
            on.offer.steps.retain(|s| !is_missed(s));
            on.missed.extend(missed_in(&problem, begins, now, &on.offer));
            on
        };
        let mut offers: Vec<Onward> = Vec::new();
        let mut gives_up = choice.gives_up;
        let mut found = choice.offers.into_iter();
        if let Some(unchanged) = as_taken {
            let key = unchanged.offer.key.clone();
            offers.push(self::onward(unchanged, &candidates, taken));
            offers.extend(found.filter(|o| o.key != key).map(onward));
            offers.truncate(OFFERS);
            gives_up.clear();
        } else {
            offers.extend(found.by_ref().map(onward));
        }
        if let Some(first) = offers.first() {
            let name = |n: usize| taken.doughs.get(n).map_or("", String::as_str);
            let says = |(dough, what): &(usize, String)| {
                format!("“{what}” of {}, which comes while nobody is there for it", name(*dough))
            };
            gives_up.extend(first.missed.iter().map(says));
        }
        Replanned { offers, gives_up }
    }
}

/// The most ways on that are offered.
const OFFERS: usize = 4;

/// What hangs on something that has begun and cannot be done in its time any more: the dough, and the task by its id.
fn left_out(problem: &Problem, candidates: &[Candidate], offer: &Offer) -> Vec<(usize, String)> {
    let mut all = Vec::new();
    for (dough, (c, way)) in candidates.iter().zip(&offer.ways).enumerate() {
        let lane = c.lane(*way, c.wanted);
        let mut blocks = Blocks::of(&lane);
        let missed = blocks.miss(problem);
        let of_them = lane.tasks.iter().zip(&blocks.tasks).filter(|(_, (at, _))| missed.contains(&at.block));
        all.extend(of_them.map(|(task, _)| (dough, task.id.clone())));
    }
    all
}

/// What has begun and comes to a step with hands, or to its oven, in hours in which there are none: the dough, and what it is
/// called.
fn missed_in(problem: &Problem, begins: Timestamp, now: f64, offer: &OfferAnswer) -> Vec<(usize, String)> {
    let minutes = |t: Timestamp| t.duration_since(begins).as_secs_f64() / 60.0;
    let comes = |s: &&PlannedStep| {
        let (from, to) = (minutes(s.at), minutes(s.at) + s.length.0);
        let within = |a: i32, b: i32| to.min(f64::from(b) * STEP) - from.max(f64::from(a) * STEP) > 0.5;
        let nobody = || problem.closed.iter().any(|c| c.certain && within(c.from, c.to));
        let taken = || {
            problem.oven_taken.iter().any(|(oven, a, b)| {
                problem.lanes.get(s.dough).is_none_or(|l| l.oven == *oven) && within(*a, *b)
            })
        };
        from >= now && s.hands_on && nobody() || s.oven.is_some() && to > now && taken()
    };
    offer.steps.iter().filter(comes).map(|s| (s.dough, s.title.clone())).collect()
}

fn onward(offer: OfferAnswer, candidates: &[Candidate], taken: &Taken) -> Onward {
    let was = |dough: usize| {
        let cool = taken.steps.iter().rev().find(|s| s.dough == dough && s.kind == StepKind::Cool);
        cool.map(|s| s.at.as_second() as f64 / 60.0 + s.length.0)
    };
    let moved = offer
        .ready
        .iter()
        .enumerate()
        .map(|(n, ready)| was(n).map_or(0.0, |was| ready.as_second() as f64 / 60.0 - was));
    let over = offer.steps.iter().filter(|s| {
        let lane = &candidates[s.dough].ways[offer.offer.ways[s.dough]].lane;
        let task = lane.tasks.iter().find(|t| t.id == s.id);
        task.is_some_and(|t| s.length.0 > t.lasts.latest.0 + STEP)
    });
    let over = over.map(|s| (s.dough, s.title.clone())).collect();
    Onward { moved: moved.collect(), over, missed: Vec::new(), offer }
}

/// What rises now: the last wait of the dough that has begun and is not over.
fn running<'a>(begun: &[&'a PlannedStep], now: Timestamp) -> Option<&'a PlannedStep> {
    let lasts = |s: &PlannedStep| s.at.as_second() as f64 + 60.0 * s.length.0;
    let waits = begun.iter().filter(|s| RISES.contains(&s.id.as_str()));
    waits.copied().rfind(|s| lasts(s) > now.as_second() as f64)
}

/// The waits that may go on otherwise.
const RISES: [&str; 3] = ["bulk", "second", "proof"];

/// A wait that is over now.
fn end_now(lane: &mut TakenLane, id: &str, stood: f64) {
    if let Some(task) = lane.tasks.iter_mut().find(|t| t.id == id) {
        task.lasts = at_once(stood);
    }
}

/// What it costs to end a wait of a dough after so many minutes.
fn haste(lane: &TakenLane, id: &str, stood: f64) -> i32 {
    let Some(task) = lane.tasks.iter().find(|t| t.id == id) else { return 0 };
    let missing = (task.lasts.earliest.0 - stood).max(0.0) / task.lasts.best.0.max(1.0);
    (f64::from(HASTE) * 100.0 * missing).round() as i32
}

fn at_once(stood: f64) -> Lasts {
    Lasts::between(Minutes(stood), Minutes(stood), Minutes(stood + AT_ONCE))
}

/// What a baker would do with a dough that has stood for so many minutes.
fn from_now(lane: &TakenLane, wait: &PlannedStep, stood: f64, engines: &Engines<'_>) -> Vec<Way> {
    let Engines { kitchen, pins, .. } = engines;
    let Some(id) = RISES.iter().find(|id| **id == wait.id) else { return Vec::new() };
    let mut trials = Vec::new();
    let place = wish(&mut lane.formula.clone(), id).place.unwrap_or(kitchen.room);
    let what = if *id == "proof" { "shaped pieces" } else { "dough" };
    let trial = |key: String, kind, changes: String, formula, cost, stands| Trial {
        key: format!("now-{key}"),
        kind,
        changes,
        formula,
        cost,
        stands,
    };
    let onward = if *id == "proof" { "baked" } else { "shaped" };
    trials.push(trial(
        "at-once".into(),
        WayKind::AtOnce,
        format!("{onward} at once, before it is quite ready"),
        lane.formula.clone(),
        TOO_SOON + haste(lane, id, stood),
        Some((*id, at_once(stood))),
    ));
    // Somewhere else from now on: what it has stood counts, and the rest is worked out there.
    let moved = |to: &Spot, stays: Option<Hours>| -> Option<Formula> {
        let mut f = lane.formula.clone();
        let w = wish(&mut f, id);
        if !w.legs.is_empty() || w.stays.is_some() {
            return None;
        }
        w.legs = vec![Leg { hours: Hours((stood / 60.0).max(0.05)), place }];
        to.takes(w);
        w.stays = stays;
        Some(f)
    };
    for hours in std::iter::once(HELD).chain(COLD).filter(|_| !pins.no_fridge) {
        let minutes = |h: f64| Minutes(stood + 60.0 * h);
        let gives = COLD_GIVES.min(0.5 * hours);
        let lasts = Lasts::between(minutes(hours - gives), minutes(hours), minutes(hours + gives));
        if let Some(f) = moved(&Spot::fridge(kitchen), Some(Hours(hours))) {
            let says = format!("the {what} into the fridge now, for {hours:.0} h");
            trials.push(trial(
                format!("fridge-{hours:.0}"),
                WayKind::FridgeNow,
                says,
                f,
                OUT_OF_TURN,
                Some((*id, lasts)),
            ));
        }
    }
    let elsewhere = |s: &&Spot| (place.0 - s.warm.0).abs() >= OTHER && !pins.place;
    for spot in Spot::all(kitchen).iter().filter(elsewhere) {
        if let Some(f) = moved(spot, None) {
            let kind = if spot.warm < place { WayKind::CoolerNow } else { WayKind::WarmerNow };
            let says = format!("the {what} to {} now, {:.0} °C", spot.name, spot.warm.0);
            trials.push(trial(format!("to-{}", spot.key()), kind, says, f, OUT_OF_TURN, None));
        }
    }
    if *id == "bulk" && !lane.formula.rise.second.rises() {
        let mut f = lane.formula.clone();
        let again = RiseWish { legs: Vec::new(), stays: None, ..f.rise.bulk.clone() };
        (f.rise.second, f.rise.between) = (again, Handling::Firm);
        f.rise.bulk.stays = Some(Hours((stood / 60.0).max(0.25)));
        f.rise.bulk.legs.clear();
        let says = "knocked back now, to rise once more".to_owned();
        trials.push(trial(
            "knock-back".into(),
            WayKind::KnockBack,
            says,
            f,
            OUT_OF_TURN,
            Some(("bulk", at_once(stood))),
        ));
    }
    in_parallel(trials, &|t| engines.way(t)).into_iter().flatten().collect()
}

fn wish<'f>(formula: &'f mut Formula, id: &str) -> &'f mut RiseWish {
    match id {
        "second" => &mut formula.rise.second,
        "proof" => &mut formula.rise.proof,
        _ => &mut formula.rise.bulk,
    }
}
