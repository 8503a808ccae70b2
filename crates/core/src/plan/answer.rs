//! A plan on the clock: what was asked, which plans there are, and what is done when in each.

use std::collections::BTreeMap;

use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::choose::{Candidate, Choice, Offer, choose};
use super::problem::{Closed, STEP};
use super::ways::{Doubtful, WayKind, ways};
use super::wish::{DayPlan, Taken};
use crate::day::StepKind;
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
    /// How far its time is an estimate, either way: it waits on a dough. Nothing for what goes by the clock.
    pub give: Minutes,
    /// The setting of the oven while it lasts, °C, where it is in one.
    pub oven: Option<f64>,
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
    /// What would have to be given up, a phrase each; empty where everything is kept.
    pub gives_up: Vec<String>,
}

/// The doughs with their ways.
fn candidates(input: &DaysInput, catalogue: &Catalogue) -> Result<Vec<Candidate>, Faults> {
    let DaysInput { plan, formulas, kitchen, now } = input;
    plan.check()?;
    kitchen.check()?;
    let zone = kitchen.zone().unwrap_or(TimeZone::UTC);
    let mut c = Check::new();
    let mut candidates = Vec::with_capacity(plan.doughs.len());
    for (n, dough) in plan.doughs.iter().enumerate() {
        let path = format!("doughs.{n}.formula");
        let Some(formula) = formulas.get(&dough.formula) else {
            c.note(Fault::new("unknown", path, "This formula is not there any more. Choose another."));
            continue;
        };
        let found = ways(formula, dough.pins, kitchen, catalogue, *now);
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
            fixed: dough.fixed.iter().map(|f| (f.id.clone(), plan.step(f.at, &zone))).collect(),
            oven: number(kitchen.oven_names(), &formula.uses.oven),
            mixer: number(kitchen.mixer_names(), &formula.uses.mixer),
        });
    }
    c.done(())?;
    Ok(candidates)
}

/// Plans some days.
///
/// # Errors
/// Each figure that is out of range, and each dough that has no way at all, by its field.
pub fn days(input: &DaysInput, catalogue: &Catalogue) -> Result<DaysAnswer, Faults> {
    let DaysInput { plan, kitchen, now, .. } = input;
    let candidates = candidates(input, catalogue)?;
    let zone = kitchen.zone().unwrap_or(TimeZone::UTC);
    let begins = plan.begins(&zone);
    let Choice { offers, proved, gives_up } = choose(&plan.problem(kitchen, *now), &candidates);
    let ways_of = |c: &Candidate| c.ways.iter().map(|w| (w.key.clone(), w.kind, w.changes.clone())).collect();
    Ok(DaysAnswer {
        begins,
        doughs: candidates.iter().map(|c| DoughAnswer { name: c.name.clone(), ways: ways_of(c) }).collect(),
        offers: offers.into_iter().map(|o| on_the_clock(o, &candidates, begins)).collect(),
        proved,
        gives_up,
    })
}

/// What has become of a plan that was taken.
#[derive(Clone, Debug, Serialize, JsonSchema)]
pub struct Replanned {
    /// What is done when from now on, and what was done.
    pub steps: Vec<PlannedStep>,
    /// What had to be given up for it, a phrase each.
    pub gives_up: Vec<String>,
    /// How far each bread is from where it was before, min; later where it is positive.
    pub moved: Vec<f64>,
    /// What stands longer than it should: the dough and what it is called.
    pub over: Vec<(usize, String)>,
}

/// Plans the rest of a plan again: what has begun stays as it was, and there are no hands until a moment. The doughs go
/// the ways that they went.
///
/// # Errors
/// What [`days`] reports; a dough whose formula has lost its way since, by its field.
pub fn replan(
    input: &DaysInput,
    taken: &Taken,
    busy_until: Option<Timestamp>,
    catalogue: &Catalogue,
) -> Result<Option<Replanned>, Faults> {
    let DaysInput { plan, kitchen, now, .. } = input;
    let mut candidates = candidates(input, catalogue)?;
    let begins = plan.begins(&kitchen.zone().unwrap_or(TimeZone::UTC));
    let minutes = |t: Timestamp| t.duration_since(begins).as_secs_f64() / 60.0;
    let keys: Vec<&str> = taken.key.split('+').collect();
    for (n, c) in candidates.iter_mut().enumerate() {
        let key = keys.get(n).copied().unwrap_or_default();
        let Some(way) = c.ways.iter().position(|w| w.key == key) else {
            let text =
                "Its formula or the kitchen has changed, and it cannot go its way any more. Plan again.";
            return Err(Fault::new("impossible", format!("doughs.{n}.formula"), text).into());
        };
        c.ways = vec![c.ways.swap_remove(way)];
        c.ways[0].cost = 0;
        let begun = taken.steps.iter().filter(|s| s.dough == n && s.at <= *now);
        c.fixed = begun.map(|s| (s.id.clone(), (minutes(s.at) / STEP).round() as i32)).collect();
    }
    let mut problem = plan.problem(kitchen, *now);
    if let Some(until) = busy_until {
        let to = (minutes(until) / STEP).ceil() as i32;
        problem.closed.push(Closed { from: problem.begins, to, spares: 0, sleep: false });
    }
    let choice = choose(&problem, &candidates);
    let gives_up = choice.gives_up.clone();
    let Some(offer) = choice.offers.into_iter().next() else { return Ok(None) };
    let answer = on_the_clock(offer, &candidates, begins);
    let ready = |steps: &[PlannedStep], dough: usize| {
        let cool = steps.iter().rev().find(|s| s.dough == dough && s.kind == StepKind::Cool);
        cool.map_or(0.0, |s| minutes(s.at) + s.length.0)
    };
    let moved = (0..candidates.len()).map(|n| ready(&answer.steps, n) - ready(&taken.steps, n)).collect();
    let stands = |s: &&PlannedStep| {
        let task = candidates[s.dough].ways[0].tasks.iter().find(|t| t.id == s.id);
        task.is_some_and(|t| s.length.0 > t.lasts.latest.0 + STEP)
    };
    let over = answer.steps.iter().filter(stands).map(|s| (s.dough, s.title.clone())).collect();
    Ok(Some(Replanned { steps: answer.steps, gives_up, moved, over }))
}

/// The ninetieth part of a normal distribution, in standard deviations.
const NINETY: f64 = 1.2816;

fn on_the_clock(offer: Offer, candidates: &[Candidate], begins: Timestamp) -> OfferAnswer {
    let at = |minutes: f64| {
        begins.checked_add(SignedDuration::from_secs((minutes * 60.0).round() as i64)).unwrap_or(begins)
    };
    let mut steps = Vec::new();
    let mut ready = Vec::with_capacity(candidates.len());
    for (dough, (candidate, placed)) in candidates.iter().zip(&offer.plan.lanes).enumerate() {
        let way = &candidate.ways[offer.ways[dough]];
        let sigma = |id: &str| way.doubtful.iter().find(|d: &&Doubtful| d.id == id).map_or(0.0, |d| d.sigma);
        // A wait that may be ended sooner or later takes up as much of what is not known.
        let give = |start: f64| {
            let waits = placed.iter().filter(|p| p.start + p.length <= start + 1e-6);
            waits
                .filter_map(|p| {
                    let task = way.tasks.iter().find(|t| t.id == p.id)?;
                    let unknown = NINETY * sigma(&p.id) * p.length;
                    let room = (task.lasts.latest.0 - p.length).min(p.length - task.lasts.earliest.0);
                    Some((unknown - room.max(0.0)).max(0.0))
                })
                .sum::<f64>()
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
                give: Minutes(give(p.start)),
                oven: task.needs.oven.map(|o| o.dial.0),
            });
        }
        let cool = placed.iter().rev().find(|p| p.id.starts_with("cool.")).or(placed.last());
        ready.push(cool.map_or(begins, |p| at(p.start + p.length)));
    }
    // A deed stands before the wait that begins with it.
    steps.sort_by(|a, b| a.at.cmp(&b.at).then_with(|| b.hands_on.cmp(&a.hands_on)));
    let tight = offer.chance.tight.as_ref().map(|(dough, id)| {
        let way = &candidates[*dough].ways[offer.ways[*dough]];
        let title = way.tasks.iter().find(|t| t.id == *id).map_or(id.clone(), |t| t.title.clone());
        (*dough, title)
    });
    OfferAnswer {
        hands_on: Minutes(steps.iter().filter(|s| s.hands_on).map(|s| s.length.0).sum()),
        first: steps.first().map_or(begins, |s| s.at),
        ready,
        steps,
        tight,
        offer,
    }
}
