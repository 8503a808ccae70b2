//! A plan on the clock: what was asked, which plans there are, and what is done when in each.

use std::collections::BTreeMap;
use std::sync::Arc;

use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::choose::choose;
use super::combinations::Candidate;
use super::heat::shares_its_heat;
use super::nights::{Nights, gets_cooler};
use super::offers::{Choice, Offer, Search, only};
use super::problem::{Closed, Placed, Problem, STEP};
use super::ways::{Doubtful, Engines, Readings, TakenLane, Way, WayKind};
use super::wish::{DayPlan, Pins, Taken};
use crate::day::{Anchor, DayWish, Point, StepKind, Task};
use crate::fault::{Check, Fault, Faults};
use crate::formula::Formula;
use crate::kitchen::Kitchen;
use crate::pantry::Catalogue;
use crate::units::Minutes;

/// What some days are planned from.
#[derive(Clone, Debug, PartialEq, Deserialize, JsonSchema)]
pub struct DaysInput {
    /// What is asked.
    pub plan: DayPlan,
    /// The formulas that it names, by their numbers.
    pub formulas: BTreeMap<i32, Formula>,
    /// The kitchen.
    #[serde(default)]
    pub kitchen: Kitchen,
    /// The moment to take for now, before which nothing begins.
    #[schemars(with = "String")]
    pub now: Timestamp,
}

/// One thing that is done, or waited for, on the clock.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PlannedStep {
    /// Of which dough, by its place in the plan.
    pub dough: usize,
    /// What it is, by the id of its task.
    pub id: String,
    /// Where it belongs.
    pub kind: StepKind,
    /// What it is called.
    pub title: String,
    /// What to do, and the sign to look for.
    pub detail: String,
    /// When it begins.
    #[schemars(with = "String")]
    pub at: Timestamp,
    /// How long it lasts.
    pub length: Minutes,
    /// Whether it wants hands.
    pub hands_on: bool,
    /// What a deed hangs on: when that moves, it moves along. Nothing for a wait, and in plans of before it was kept.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hangs_on: Option<Point>,
    /// How far its time is an estimate, either way: it waits on a dough. Nothing for what goes by the clock.
    pub give: Minutes,
    /// The setting of the oven while it lasts, °C, where it is in one.
    pub oven: Option<f64>,
    /// How it swells, where it rises: minutes from its beginning, and times the dough without gas.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub swells: Vec<(f64, f64)>,
}

/// One dough of the plan.
#[derive(Clone, Debug, Serialize, JsonSchema)]
pub struct DoughAnswer {
    /// Its name.
    pub name: String,
    /// The ways that it may go: key, kind, and what each changes.
    pub ways: Vec<(String, WayKind, String)>,
}

/// A plan that is offered, on the clock.
#[derive(Clone, Debug, Serialize, JsonSchema)]
pub struct OfferAnswer {
    /// The plan.
    #[serde(flatten)]
    pub offer: Offer,
    /// What is done when, over all doughs.
    pub steps: Vec<PlannedStep>,
    /// Minutes with hands on.
    pub hands_on: Minutes,
    /// The first touch.
    #[schemars(with = "String")]
    pub first: Timestamp,
    /// When each bread is ready to cut.
    #[schemars(with = "Vec<String>")]
    pub ready: Vec<Timestamp>,
    /// Which wait is the tight one: the dough and what it is called.
    pub tight: Option<(usize, String)>,
    /// How often hands are wanted: what follows on each other within a quarter of an hour is once.
    pub touches: u32,
    /// The longest stretch of the day without a touch, asleep left out.
    pub free: Minutes,
    /// The doughs as they are made.
    pub lanes: Vec<TakenLane>,
}

/// Some days planned.
#[derive(Clone, Debug, Serialize, JsonSchema)]
pub struct DaysAnswer {
    /// When the plan begins.
    #[schemars(with = "String")]
    pub begins: Timestamp,
    /// Its doughs.
    pub doughs: Vec<DoughAnswer>,
    /// The plans, the one to take first; where something has to be given up for them, what.
    pub offers: Vec<OfferAnswer>,
    /// Whether the first is proved the best.
    pub proved: bool,
    /// By how much of what it costs another could be better than the best that was found, 0 to 1; 0 where it is proved.
    pub gap: f64,
    /// What would have to be given up, a phrase each; empty where everything is kept.
    pub gives_up: Vec<String>,
}

impl DaysAnswer {
    /// One of the plans as it is followed; `None` where none has that key.
    pub fn take(&self, key: &str) -> Option<Taken> {
        let offer = self.offers.iter().find(|o| o.offer.key == key)?;
        let doughs = self.doughs.iter().map(|d| d.name.clone()).collect();
        Some(offer.taken(doughs, offer.offer.changes.clone()))
    }
}

impl OfferAnswer {
    pub(super) fn taken(&self, doughs: Vec<String>, changes: Vec<String>) -> Taken {
        Taken {
            key: self.offer.key.clone(),
            changes,
            doughs,
            steps: self.steps.clone(),
            since: Vec::new(),
            lanes: self.lanes.clone(),
        }
    }
}

/// What was worked out of the ways of doughs, so that another time or another dough beside it does not ask the engines
/// again.
#[derive(Clone, Debug, Default)]
pub struct KnownWays {
    ways: Vec<(Formula, Pins, Kitchen, DayWish, Vec<Way>)>,
    pub(super) readings: Arc<Readings>,
}

/// The most doughs that are remembered.
const KNOWN_MAX: usize = 24;

impl KnownWays {
    fn find(&self, formula: &Formula, engines: &Engines<'_>, day: Option<&DayWish>) -> Option<&Vec<Way>> {
        let same = |(f, p, k, d, _): &&(Formula, Pins, Kitchen, DayWish, Vec<Way>)| {
            *p == engines.pins && day.is_none_or(|day| d == day) && f == formula && k == engines.kitchen
        };
        self.ways.iter().find(same).map(|(.., ways)| ways)
    }

    /// All ways of a dough.
    fn of(&mut self, formula: &Formula, engines: &Engines<'_>) -> Vec<Way> {
        let Engines { kitchen, pins, day, .. } = engines;
        if let Some(ways) = self.find(formula, engines, Some(day)) {
            return ways.clone();
        }
        let found = engines.ways(formula);
        if self.ways.len() >= KNOWN_MAX {
            self.ways.remove(0);
        }
        self.ways.push((formula.clone(), *pins, Kitchen::clone(kitchen), day.clone(), found.clone()));
        found
    }

    /// One of them by its name, where that is all that is asked for: that of another day is worked out again for this.
    fn one(&mut self, formula: &Formula, engines: &Engines<'_>, key: &str) -> Vec<Way> {
        let its = |ways: &Vec<Way>| ways.iter().find(|w| w.key == key).cloned();
        if let Some(ways) = self.find(formula, engines, Some(&engines.day)) {
            return its(ways).into_iter().collect();
        }
        match self.find(formula, engines, None).map(its) {
            Some(other_day) => other_day.and_then(|w| engines.way_again(&w)).into_iter().collect(),
            None => self.of(formula, engines).into_iter().filter(|w| w.key == key).collect(),
        }
    }
}

/// The doughs with their ways; with the one of each that a plan's name says, where it is given.
pub(super) fn candidates(
    input: &DaysInput,
    catalogue: &Catalogue,
    known: &mut KnownWays,
    key: Option<&str>,
) -> Result<Vec<Candidate>, Faults> {
    let DaysInput { plan, formulas, kitchen, now } = input;
    plan.check()?;
    kitchen.check()?;
    let zone = kitchen.zone().unwrap_or(TimeZone::UTC);
    let keys: Vec<&str> = key.map_or(Vec::new(), |key| key.split('+').collect());
    let mut c = Check::new();
    let mut candidates = Vec::with_capacity(plan.doughs.len());
    for (n, dough) in plan.doughs.iter().enumerate() {
        let path = format!("doughs.{n}.formula");
        let Some(formula) = formulas.get(&dough.formula) else {
            c.note(Fault::new("unknown", path, "This formula is not there any more. Choose another."));
            continue;
        };
        // Where nights are cooler, rises go by when the bread is wanted.
        let day = match dough.at.filter(|_| gets_cooler(kitchen)) {
            Some(at) => DayWish { anchor: Anchor::Ready, at: Some(at) },
            None => formula.day.clone(),
        };
        let readings = known.readings.clone();
        let engines = Engines { kitchen, catalogue, pins: dough.pins, now: *now, day, readings: &readings };
        let found = match keys.get(n) {
            Some(key) => known.one(formula, &engines, key),
            None => known.of(formula, &engines),
        };
        if found.is_empty() {
            let text = "This formula does not read at its stations. Mend it on its own page first.";
            c.note(Fault::new("impossible", path, text));
            continue;
        }
        let number = |names: Vec<&str>, name: &str| names.iter().position(|n| *n == name).unwrap_or(0);
        candidates.push(Candidate {
            name: formula.name.clone(),
            wanted: plan.wanted(dough, &zone),
            ways: found,
            fixed: Vec::new(),
            pinned: dough.fixed.iter().map(|f| (f.id.clone(), plan.step(f.at, &zone))).collect(),
            oven: number(kitchen.oven_names(), &formula.uses.oven),
            mixer: number(kitchen.mixer_names(), &formula.uses.mixer),
        });
    }
    c.done(())?;
    Ok(candidates)
}

/// Some days as they are asked: each dough with its ways, and the hours.
#[derive(Clone, Debug)]
pub struct Asked<'a> {
    candidates: Vec<Candidate>,
    problem: Problem,
    begins: Timestamp,
    nights: Nights<'a>,
}

impl<'a> Asked<'a> {
    /// What is asked, by what is known of the ways already.
    ///
    /// # Errors
    /// Each figure that is out of range, and each dough that has no way at all, by its field.
    pub fn of(
        input: &'a DaysInput,
        catalogue: &'a Catalogue,
        known: &mut KnownWays,
    ) -> Result<Asked<'a>, Faults> {
        Asked::by(input, catalogue, known, None)
    }

    /// What is asked of one plan alone, by its name, while something in it is moved: no other way is looked at.
    ///
    /// # Errors
    /// Those of [`Asked::of`]; a dough that does not go that way on these days.
    pub fn along(
        input: &'a DaysInput,
        key: &str,
        catalogue: &'a Catalogue,
        known: &mut KnownWays,
    ) -> Result<Asked<'a>, Faults> {
        Asked::by(input, catalogue, known, Some(key))
    }

    fn by(
        input: &'a DaysInput,
        catalogue: &'a Catalogue,
        known: &mut KnownWays,
        key: Option<&str>,
    ) -> Result<Asked<'a>, Faults> {
        let candidates = candidates(input, catalogue, known, key)?;
        let zone = input.kitchen.zone().unwrap_or(TimeZone::UTC);
        let problem = input.plan.problem(&input.kitchen, input.now);
        let nights = Nights { days: input, catalogue, readings: known.readings.clone() };
        Ok(Asked { candidates, problem, begins: input.plan.begins(&zone), nights })
    }

    /// The plans, as far as is searched for them.
    pub fn plan(&self, search: Search<'_>) -> DaysAnswer {
        let mut all = self.candidates.clone();
        let chosen =
            self.nights.chosen(&mut all, search, |doughs, search| choose(&self.problem, doughs, search));
        let Choice { offers, proved, gap, gives_up } = chosen;
        let ways_of =
            |c: &Candidate| c.ways.iter().map(|w| (w.key.clone(), w.kind, w.changes.clone())).collect();
        let doughs = self.candidates.iter();
        DaysAnswer {
            begins: self.begins,
            doughs: doughs.map(|c| DoughAnswer { name: c.name.clone(), ways: ways_of(c) }).collect(),
            offers: offers.into_iter().map(|o| self.on_the_clock(o, &all)).collect(),
            proved,
            gap,
            gives_up,
        }
    }

    /// The plan of one combination of ways without a search: in milliseconds, while something is moved. `None` where
    /// there is none.
    pub fn quick_of(&self, key: &str) -> Option<OfferAnswer> {
        let keys: Vec<&str> = key.split('+').collect();
        let mut these = self.candidates.clone();
        for (c, key) in these.iter_mut().zip(&keys) {
            c.ways.retain(|w| w.key == *key);
        }
        let search = Search { quick: true, ..Search::default() };
        let only = |doughs: &[Candidate], search: Search<'_>| only(&self.problem, doughs, search);
        let found = self.nights.chosen(&mut these, search, only);
        Some(self.on_the_clock(found.offers.into_iter().next()?, &these))
    }

    fn on_the_clock(&self, offer: Offer, candidates: &[Candidate]) -> OfferAnswer {
        on_the_clock(offer, candidates, self.begins, &self.problem.closed)
    }
}

/// Plans some days, for as long as it takes to prove the best.
///
/// # Errors
/// Those of [`Asked::of`].
pub fn days(input: &DaysInput, catalogue: &Catalogue) -> Result<DaysAnswer, Faults> {
    Ok(Asked::of(input, catalogue, &mut KnownWays::default())?.plan(Search::default()))
}

/// The ninetieth part of a normal distribution, in standard deviations.
const NINETY: f64 = 1.2816;

pub(super) fn on_the_clock(
    offer: Offer,
    candidates: &[Candidate],
    begins: Timestamp,
    closed: &[Closed],
) -> OfferAnswer {
    let at = |minutes: f64| {
        begins.checked_add(SignedDuration::from_secs((minutes * 60.0).round() as i64)).unwrap_or(begins)
    };
    let mut steps = Vec::new();
    let mut ready = Vec::with_capacity(candidates.len());
    for (dough, (candidate, placed)) in candidates.iter().zip(&offer.plan.lanes).enumerate() {
        let way = &candidate.ways[offer.ways[dough]].lane;
        let sigma = |id: &str| way.doubtful.iter().find(|d: &&Doubtful| d.id == id).map_or(0.0, |d| d.sigma);
        // A wait that may be ended sooner or later takes up as much of what is not known, of those before it too.
        let give = |start: f64| {
            let mut waits: Vec<&Placed> =
                placed.iter().filter(|p| p.start + p.length <= start + 1e-6).collect();
            waits.sort_by(|a, b| a.start.total_cmp(&b.start));
            waits.into_iter().fold(0.0, |before: f64, p| {
                let Some(task) = way.tasks.iter().find(|t| t.id == p.id && !t.needs.hands) else {
                    return before;
                };
                let unknown = NINETY * sigma(&p.id) * p.length;
                let room = (task.lasts.latest.0 - p.length).min(p.length - task.lasts.earliest.0);
                (before + unknown - room.max(0.0)).max(0.0)
            })
        };
        // What is done so long before something is as sure as that.
        let hangs_on = |task: &Task| {
            let of = |id: &str| placed.iter().find(|p| p.id == id);
            match &task.begins.of {
                Point::First => None,
                Point::Start(id) => of(id).map(|p| p.start),
                Point::End(id) => of(id).map(|p| p.start + p.length),
            }
        };
        for p in placed {
            let Some(task) = way.tasks.iter().find(|t| t.id == p.id) else { continue };
            steps.push(PlannedStep {
                dough,
                id: p.id.clone(),
                kind: task.kind,
                title: task.title.clone(),
                detail: task.detail.clone(),
                at: at(p.start),
                length: Minutes(p.length),
                hands_on: task.needs.hands,
                hangs_on: task.needs.hands.then(|| task.begins.of.clone()),
                give: Minutes(give(hangs_on(task).map_or(p.start, |at| at.max(p.start)))),
                oven: task.needs.oven.map(|o| o.dial.0),
                swells: way.swells.iter().find(|s| s.id == p.id).map_or(Vec::new(), |s| s.course.clone()),
            });
        }
        let cool = placed.iter().rev().find(|p| p.id.starts_with("cool.")).or(placed.last());
        ready.push(cool.map_or(begins, |p| at(p.start + p.length)));
    }
    shares_its_heat(&mut steps, candidates);
    // A deed stands before the wait that begins with it.
    steps.sort_by(|a, b| a.at.cmp(&b.at).then_with(|| b.hands_on.cmp(&a.hands_on)));
    let tight = offer.chance.tight.as_ref().map(|(dough, id)| {
        let way = &candidates[*dough].ways[offer.ways[*dough]].lane;
        let title = way.tasks.iter().find(|t| t.id == *id).map_or(id.clone(), |t| t.title.clone());
        (*dough, title)
    });
    let (touches, free) = stretches(&steps, closed, begins);
    OfferAnswer {
        lanes: candidates.iter().zip(&offer.ways).map(|(c, w)| c.ways[*w].lane.clone()).collect(),
        touches,
        free,
        hands_on: Minutes(steps.iter().filter(|s| s.hands_on).map(|s| s.length.0).sum()),
        first: steps.first().map_or(begins, |s| s.at),
        ready,
        steps,
        tight,
        offer,
    }
}

/// What is nearer than this is one stretch of work, min.
const ONE_TOUCH: f64 = 15.0;

/// How often hands are wanted, and the longest stretch in between in which nobody sleeps.
fn stretches(steps: &[PlannedStep], closed: &[Closed], begins: Timestamp) -> (u32, Minutes) {
    let minute = |t: Timestamp| t.duration_since(begins).as_secs_f64() / 60.0;
    let (mut touches, mut free, mut busy_until) = (0, 0.0_f64, f64::NEG_INFINITY);
    for s in steps.iter().filter(|s| s.hands_on) {
        let from = minute(s.at);
        if from - busy_until > ONE_TOUCH {
            touches += 1;
            if busy_until.is_finite() {
                let asleep = closed.iter().filter(|c| c.sleep).map(|c| {
                    (from.min(f64::from(c.to) * STEP) - busy_until.max(f64::from(c.from) * STEP)).max(0.0)
                });
                free = free.max(from - busy_until - asleep.sum::<f64>());
            }
        }
        busy_until = busy_until.max(from + s.length.0);
    }
    (touches, Minutes(free))
}
