//! A bake as it stands at a moment: what was done, what is to come, and what should be asked.

use jiff::Timestamp;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::due::{Due, due};
use super::event::{Event, Reading};
use super::fold::{BakeState, on_its_plan, replay, with_all_steps};
use super::rising::rising;
use super::start::Start;
use crate::day::StepKind;
use crate::fault::{Fault, Faults};
use crate::formula::figures;
use crate::kitchen::Kitchen;
use crate::pantry::{Catalogue, Group};
use crate::units::{Minutes, shown};
use crate::watch::WatchAnswer;

/// A bake, what happened to it, and the moment that is asked about.
#[derive(Clone, Debug, PartialEq, Deserialize, JsonSchema)]
pub struct BakeInput {
    /// What it began with.
    pub start: Start,
    /// What happened, in any order.
    #[serde(default)]
    pub events: Vec<Event>,
    /// The moment.
    #[schemars(with = "String")]
    pub now: Timestamp,
}

/// A bake as it stands.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct BakeAnswer {
    /// What has become of it.
    #[serde(flatten)]
    pub state: BakeState,
    /// What is to come.
    #[serde(flatten)]
    pub due: Due,
    /// The rise that it is in, where it is in one.
    pub outlook: Option<WatchAnswer>,
    /// A line that was not weighed though mixing goes on without it, by its place: it is asked about.
    pub forgotten: Option<usize>,
}

/// A bake as it stands at a moment.
///
/// # Errors
/// A formula or kitchen that does not read any more.
pub fn stands(
    start: &Start,
    events: &[Event],
    catalogue: &Catalogue,
    now: Timestamp,
) -> Result<BakeAnswer, Faults> {
    let start = &on_its_plan(start, events);
    let state = replay(start, events);
    let usual = Kitchen::default();
    let kitchen = start.kitchen.as_deref().unwrap_or(&usual);
    let outlook = rising(start, &state, kitchen, catalogue, now)?;
    let due = due(start, &state, outlook.as_ref(), now);
    let forgotten = forgotten(start, &state, &due, catalogue);
    Ok(BakeAnswer { state, due, outlook, forgotten })
}

/// What a bake is at a moment.
///
/// # Errors
/// Each event that does not fit the bake, by its place; a formula or kitchen that does not read.
pub fn bake_state(input: &BakeInput) -> Result<BakeAnswer, Faults> {
    let plan = with_all_steps(&input.start, &input.events);
    let mut all: Vec<Fault> = Vec::new();
    for (n, e) in input.events.iter().enumerate() {
        if let Err(faults) = plan.check(e) {
            all.extend(faults.0.into_iter().map(|f| Fault { path: format!("events.{n}.{}", f.path), ..f }));
        }
    }
    if !all.is_empty() {
        return Err(Faults(all));
    }
    let catalogue = Catalogue::bundled().with(&input.start.own);
    stands(&input.start, &input.events, &catalogue, input.now)
}

/// The salt, where others were weighed or ticked and it was not, once the last of the mixing is at hand.
fn forgotten(start: &Start, state: &BakeState, due: &Due, catalogue: &Catalogue) -> Option<usize> {
    let head = due.next.first()?;
    let last_mix = start.steps.iter().rfind(|s| s.kind == StepKind::Mix)?;
    let weighing_is_over =
        start.step("weigh").is_some() && state.step("weigh").is_some_and(super::fold::StepState::is_over);
    if head.id != last_mix.id || !weighing_is_over || state.weighed.is_empty() {
        return None;
    }
    let is_salt = |n: &usize| {
        let line = &start.formula.lines[*n];
        line.stage.in_dough() && catalogue.get(&line.ingredient).is_some_and(|i| i.group == Group::Salt)
    };
    (0..start.formula.lines.len()).filter(is_salt).find(|n| !state.weighed.contains_key(n))
}

/// What should be asked before a reading is believed; nothing where it is as one would expect.
pub fn doubt(
    state: &BakeState,
    outlook: Option<&WatchAnswer>,
    reading: &Reading,
    catalogue: &Catalogue,
) -> Option<String> {
    let since = outlook.map(|o| o.began);
    let before = |of: &dyn Fn(&Reading) -> Option<f64>| {
        let of_this_rise = state.readings.iter().rev().filter(|(at, _)| since.is_none_or(|s| *at >= s));
        of_this_rise.filter_map(|(at, r)| Some((*at, of(r)?))).next()
    };
    match reading {
        Reading::Volume(x) => {
            let (_, last) = before(&|r| match r {
                Reading::Volume(x) => Some(*x),
                _ => None,
            })?;
            (*x < 0.95 * last)
                .then(|| format!("It stood at {last:.2} times before, and this is less. Has it fallen?"))
        }
        Reading::Mixed(t) | Reading::Dough(t) if !(5.0..=38.0).contains(&t.0) => {
            Some(format!("A dough at {:.0} °C: is that its own temperature?", t.0))
        }
        Reading::Dough(t) => {
            let (_, last) = before(&|r| match r {
                Reading::Mixed(t) | Reading::Dough(t) => Some(t.0),
                _ => None,
            })?;
            ((t.0 - last).abs() > 10.0)
                .then(|| format!("It was {last:.0} °C before, and is {:.0} °C now?", t.0))
        }
        Reading::Place(t) if !(0.0..=45.0).contains(&t.0) => {
            Some(format!("A place at {:.0} °C: does the dough stand there?", t.0))
        }
        Reading::Core(t) if t.0 > 101.0 => {
            Some(format!("A core at {:.0} °C: bread does not get over 100. Is the tip in the crumb?", t.0))
        }
        Reading::Baked(g) => {
            let dough = figures(&state.formula, catalogue).dough;
            (g.0 > dough.0 || g.0 < 0.6 * dough.0)
                .then(|| format!("{} g of bread from {} g of dough?", shown::grams(*g), shown::grams(dough)))
        }
        _ => None,
    }
}

/// How much sooner or later a rise is ready than it was said before, as it is said; nothing under two minutes.
pub fn moved(before: Option<&WatchAnswer>, after: Option<&WatchAnswer>) -> Option<Minutes> {
    let (before, after) = before.zip(after).filter(|(b, a)| b.which == a.which)?;
    let by = after.ready.duration_since(before.ready).as_secs_f64() / 60.0;
    (by.abs() >= 2.0).then_some(Minutes(by))
}
