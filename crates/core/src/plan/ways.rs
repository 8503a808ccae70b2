//! The ways in which a baker would fit one dough into a life: as written, in another place, in the fridge for part of
//! it, with less yeast. Each is worked out by the engines; none is scaled by hand.

use std::collections::{BTreeSet, VecDeque};
use std::sync::{Mutex, PoisonError};

use jiff::Timestamp;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::problem::{LaneHold, Within};
use super::things::holds;
use super::trials::{Trial, trials};
use super::way_out::{WayOut, way_out};
use super::wish::Pins;
use crate::choice::choice;
use crate::day::{DayWish, Lasts, Task};
use crate::formula::Formula;
use crate::kitchen::Kitchen;
use crate::pantry::Catalogue;
use crate::rise::{Forecast, Which};
use crate::stations::{KnownBakes, Stations, read_to_plan};
use crate::units::Minutes;

choice! {
    /// What kind of change a way is.
    WayKind {
        /// None.
        AsWritten = "as-written", "as written";
        /// Another place of this kitchen.
        Place = "place", "another place";
        /// The bulk rise in the fridge for part of it.
        FridgeBulk = "fridge-bulk", "bulk in the fridge";
        /// The final proof in the fridge.
        FridgeProof = "fridge-proof", "proof in the fridge";
        /// Less yeast.
        LessYeast = "less-yeast", "less yeast";
        /// More yeast.
        MoreYeast = "more-yeast", "more yeast";
        /// Cooler water, and so a slower dough.
        CoolerDough = "cooler-dough", "cooler water";
        /// Warmer water.
        WarmerDough = "warmer-dough", "warmer water";
        /// The levain or preferment set with more or less of what leavens it, so that it is ripe sooner or later.
        Levain = "levain", "the levain otherwise";
        /// What rises now, into the fridge.
        FridgeNow = "fridge-now", "into the fridge now";
        /// What rises now, somewhere cooler.
        CoolerNow = "cooler-now", "somewhere cooler now";
        /// What rises now, somewhere warmer.
        WarmerNow = "warmer-now", "somewhere warmer now";
        /// What rises now, worked on at once.
        AtOnce = "at-once", "at once";
        /// What rises now, knocked back, to rise again.
        KnockBack = "knock-back", "knocked back";
    }
}

/// How sure the length of a task is.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Doubtful {
    /// The task, by its id.
    pub id: String,
    /// The standard deviation of the logarithm of its length.
    pub sigma: f64,
    /// What can still be done with it.
    #[serde(flatten)]
    pub way_out: WayOut,
}

/// One way to make a dough.
#[derive(Clone, Debug, Serialize, JsonSchema)]
pub struct Way {
    /// Its name among those of its dough: `as-written`, `fridge-bulk-12`, `place-Cellar`.
    pub key: String,
    /// What kind of change it is.
    pub kind: WayKind,
    /// What it changes, in a sentence; empty where it is as written.
    pub changes: String,
    /// What it costs to change that much, beside what a plan costs.
    pub cost: i32,
    /// The wait that goes by the clock, and how long it may be.
    #[serde(skip)]
    pub(super) stands: Option<(&'static str, Lasts)>,
    /// When it may begin: where nights are cooler its rises are as long as that only from there.
    #[serde(skip)]
    pub(super) begins: Within,
    /// For which step of a plan it was worked out; for the day as it is asked for where it is none.
    #[serde(skip)]
    pub(super) worked_out_at: Option<i32>,
    /// What is said of it at its stations, by code.
    #[serde(skip)]
    pub(super) slips: BTreeSet<&'static str>,
    /// The dough made that way.
    #[serde(flatten)]
    pub lane: TakenLane,
}

/// A dough made one way: what is to be done, as the engines worked it out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct TakenLane {
    /// The formula with its change in it.
    pub formula: Formula,
    /// What is to be done.
    pub tasks: Vec<Task>,
    /// How sure its rises are.
    pub doubtful: Vec<Doubtful>,
    /// What it takes up of what the household has only so much of.
    pub holds: Vec<LaneHold>,
    /// How its rises swell.
    #[serde(default)]
    pub swells: Vec<Swell>,
}

/// How a dough swells while it waits.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Swell {
    /// The wait, by its id.
    pub id: String,
    /// Minutes from its beginning, and times the dough without gas.
    pub course: Vec<(f64, f64)>,
}

/// How many moments of a rise are kept.
const MOMENTS: usize = 14;

fn swell(id: &str, f: &Forecast) -> Swell {
    let every = f.curve.len().div_ceil(MOMENTS).max(1);
    let kept = f.curve.iter().step_by(every).chain(f.curve.last());
    Swell { id: id.into(), course: kept.map(|m| (m.minutes, m.volume)).collect() }
}

/// The tenth and the ninetieth part of what is likely are so many standard deviations apart.
const LIKELY: f64 = 2.563;
/// What a rise is not known better than.
const LEAST_DOUBT: f64 = 0.06;

/// All ways of a dough in a kitchen that come out, the one as written first. Empty where the formula itself does not
/// read, or does not hold as it is and has no way that does.
pub fn ways(
    formula: &Formula,
    pins: Pins,
    kitchen: &Kitchen,
    catalogue: &Catalogue,
    now: Timestamp,
) -> Vec<Way> {
    let readings = &Readings::default();
    Engines { kitchen, catalogue, pins, now, day: formula.day.clone(), readings }.ways(formula)
}

/// What the ways of a dough are worked out with.
pub(super) struct Engines<'a> {
    pub(super) kitchen: &'a Kitchen,
    pub(super) catalogue: &'a Catalogue,
    pub(super) pins: Pins,
    pub(super) now: Timestamp,
    /// When the dough begins, or is to be ready: where nights are cooler its rises go by that.
    pub(super) day: DayWish,
    /// What was read already.
    pub(super) readings: &'a Readings,
}

/// What was read of doughs for their ways.
#[derive(Debug, Default)]
pub(super) struct Readings {
    bakes: KnownBakes,
    again: Mutex<VecDeque<(Again, Option<Way>)>>,
}

/// A way that was read on another day: all that its reading hangs on, beside the household's ingredients.
#[derive(Clone, Debug, PartialEq)]
struct Again {
    key: String,
    kind: WayKind,
    cost: i32,
    stands: Option<(&'static str, Lasts)>,
    day: DayWish,
    pins: Pins,
    slips: BTreeSet<&'static str>,
    formula: Formula,
    kitchen: Kitchen,
}

/// The most readings on another day that are remembered: while something is dragged, the doughs beside it stay.
const AGAIN_MAX: usize = 96;

impl Readings {
    /// What was read already; otherwise as it is read now.
    fn again(&self, asked: Again, read: impl FnOnce() -> Option<Way>) -> Option<Way> {
        let known = || self.again.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((_, way)) = known().iter().find(|(known, _)| *known == asked) {
            return way.clone();
        }
        let way = read();
        let mut known = known();
        if known.len() >= AGAIN_MAX {
            known.pop_front();
        }
        known.push_back((asked, way.clone()));
        way
    }
}

impl Engines<'_> {
    fn read(&self, formula: &Formula) -> Option<Stations> {
        let on_its_day = Formula { day: self.day.clone(), ..formula.clone() };
        read_to_plan(&on_its_day, self.kitchen, self.catalogue, self.now, &self.readings.bakes).ok()
    }

    /// One way; `None` where it does not read, or its wait is not there.
    pub(super) fn way(&self, trial: Trial) -> Option<Way> {
        let read = self.read(&trial.formula)?;
        way(trial, &read, self.kitchen, self.pins)
    }

    /// A way that is known, on another day; `None` where it does not hold on that.
    pub(super) fn way_again(&self, known: &Way) -> Option<Way> {
        let asked = Again {
            key: known.key.clone(),
            kind: known.kind,
            cost: known.cost,
            stands: known.stands,
            day: self.day.clone(),
            pins: self.pins,
            slips: known.slips.clone(),
            formula: known.lane.formula.clone(),
            kitchen: self.kitchen.clone(),
        };
        self.readings.again(asked, || {
            let Way { key, kind, changes, cost, stands, .. } = known.clone();
            let trial = Trial { key, kind, changes, formula: known.lane.formula.clone(), cost, stands };
            let read = self.read(&trial.formula)?;
            let as_it_was = known.kind == WayKind::AsWritten || holds_as_well(&read, &known.slips);
            as_it_was.then(|| way(trial, &read, self.kitchen, self.pins))?
        })
    }

    /// All ways of a dough.
    pub(super) fn ways(&self, formula: &Formula) -> Vec<Way> {
        let Some(written) = self.read(formula) else { return Vec::new() };
        let known = slips_of(&written);
        let tried = |trial: Trial| {
            let s = self.read(&trial.formula)?;
            holds_as_well(&s, &known).then(|| way(trial, &s, self.kitchen, self.pins))?
        };
        let trials = trials(formula, &written, self.pins, self.kitchen, self.catalogue);
        let mut all: Vec<Way> =
            way(as_written(formula), &written, self.kitchen, self.pins).into_iter().collect();
        all.extend(in_parallel(trials, &tried).into_iter().flatten());
        all
    }
}

fn slips_of(s: &Stations) -> BTreeSet<&'static str> {
    s.slips.iter().map(|s| s.code).collect()
}

/// A change that brings a slip with it that was not there is none that a baker would accept.
fn holds_as_well(s: &Stations, known: &BTreeSet<&str>) -> bool {
    s.stops.is_empty() && s.slips.iter().all(|slip| known.contains(slip.code))
}

fn as_written(formula: &Formula) -> Trial {
    Trial {
        key: "as-written".into(),
        kind: WayKind::AsWritten,
        changes: String::new(),
        formula: formula.clone(),
        cost: 0,
        stands: None,
    }
}

/// Each of some things done, on all of the machine's cores, in their order.
pub(super) fn in_parallel<T: Send, U: Send>(all: Vec<T>, each: &(impl Fn(T) -> U + Sync)) -> Vec<U> {
    let cores = std::thread::available_parallelism().map_or(1, usize::from).min(all.len().max(1));
    let mut shares: Vec<Vec<(usize, T)>> = (0..cores).map(|_| Vec::new()).collect();
    for (n, thing) in all.into_iter().enumerate() {
        shares[n % cores].push((n, thing));
    }
    let mut done: Vec<(usize, U)> = std::thread::scope(|scope| {
        let work = |share: Vec<(usize, T)>| {
            scope.spawn(move || share.into_iter().map(|(n, t)| (n, each(t))).collect::<Vec<_>>())
        };
        let threads: Vec<_> = shares.into_iter().map(work).collect();
        threads.into_iter().flat_map(|t| t.join().unwrap_or_else(|p| std::panic::resume_unwind(p))).collect()
    });
    done.sort_by_key(|(n, _)| *n);
    done.into_iter().map(|(_, u)| u).collect()
}

/// A way as it was read; `None` where the wait that goes by the clock is not there.
fn way(trial: Trial, s: &Stations, kitchen: &Kitchen, pins: Pins) -> Option<Way> {
    let Trial { key, kind, changes, formula, cost, stands } = trial;
    let rises = || Which::ALL.into_iter().filter_map(|which| Some((which, s.rise.forecast(which)?)));
    let sure = |(which, f): (Which, &Forecast)| Doubtful {
        id: which.key().into(),
        sigma: sigma(f.early, f.late),
        way_out: way_out(s, which, kitchen, pins),
    };
    let doubtful = rises().map(sure).collect();
    let swells = rises().map(|(which, f)| swell(which.key(), f)).collect();
    let mut tasks = s.tasks.clone();
    if let Some((id, lasts)) = &stands {
        tasks.iter_mut().find(|t| t.id == *id)?.lasts = *lasts;
    }
    let holds = holds(&formula, s, &tasks, kitchen);
    let settled = TakenLane { formula, tasks, doubtful, holds, swells };
    Some(Way {
        key,
        kind,
        changes,
        cost,
        stands,
        begins: Within::default(),
        worked_out_at: None,
        slips: slips_of(s),
        lane: settled,
    })
}

fn sigma(early: Minutes, late: Minutes) -> f64 {
    let spread = (late.0.max(1.0) / early.0.max(1.0)).ln() / LIKELY;
    if spread.is_finite() { spread.clamp(LEAST_DOUBT, 0.5) } else { 0.2 }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::kitchen::KitchenPlace;
    use crate::units::Celsius;
    use crate::words::Style;

    fn all(style: Style, pins: Pins) -> Vec<Way> {
        let cellar = KitchenPlace {
            name: "Cellar".into(),
            temperature: Celsius(14.0),
            night: 0.0,
            tubs: None,
            measured: None,
        };
        let kitchen = Kitchen { places: vec![cellar], ..Kitchen::default() };
        let now = "2026-11-27T08:00:00Z".parse().unwrap();
        ways(&Formula::beginning("A dough", style), pins, &kitchen, Catalogue::bundled(), now)
    }

    #[test]
    fn a_plain_dough_has_ways_of_every_kind() {
        let found = all(Style::Tin, Pins::default());
        let kinds: BTreeSet<&str> = found.iter().map(|w| w.kind.key()).collect();
        for kind in [WayKind::AsWritten, WayKind::Place, WayKind::FridgeBulk, WayKind::LessYeast] {
            assert!(kinds.contains(kind.key()), "{kind:?} of {kinds:?}");
        }
        let keys: BTreeSet<&str> = found.iter().map(|w| w.key.as_str()).collect();
        assert_eq!(keys.len(), found.len(), "each has its own key");
        // The engines worked each out: less yeast rises for longer.
        let bulk = |key: &str| {
            let w = found.iter().find(|w| w.key == key).unwrap();
            w.lane.tasks.iter().find(|t| t.id == "bulk").unwrap().lasts.best.0
        };
        assert!(bulk("yeast-0.5") > 1.2 * bulk("as-written"));
        assert!(bulk("place-Cellar-14") > 1.2 * bulk("as-written"));
    }

    /// Baked out of the fridge, or shaped after it, a dough has come to its rise: nine tenths of that as written, or
    /// three quarters of its bulk.
    #[test]
    fn a_night_in_the_fridge_brings_a_dough_to_its_rise() {
        let mut seen = 0;
        for style in Style::ALL {
            let found = all(style, Pins::default());
            let risen = |w: &Way, id: &str| {
                let swell = w.lane.swells.iter().find(|s| s.id == id)?;
                Some(swell.course.last()?.1 / swell.course.first()?.1 - 1.0)
            };
            for w in &found {
                let (id, part) = match w.kind {
                    WayKind::FridgeBulk => ("bulk", 0.75),
                    WayKind::FridgeProof => ("proof", 0.9),
                    _ => continue,
                };
                let (has, written) = (risen(w, id).unwrap(), risen(&found[0], id).unwrap());
                assert!(has >= part * written - 0.02, "{style:?} {}: {has:.2} of {written:.2}", w.key);
                seen += 1;
            }
        }
        assert!(seen > 20, "{seen} ways into the fridge");
    }

    #[test]
    fn what_is_pinned_stays() {
        let pins = Pins { no_fridge: true, yeast: true, place: true };
        for style in Style::ALL {
            assert_eq!(all(style, pins).len(), 1, "{style:?}");
        }
    }
}
