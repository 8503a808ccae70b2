//! What a bake began with: nothing of it changes any more, whatever becomes of formula, kitchen and plan.

use jiff::Timestamp;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::event::{Bell, Event, EventKey, Reading, What};
use crate::fault::{Check, Fault, Faults};
use crate::formula::Formula;
use crate::kitchen::Kitchen;
use crate::pantry::{Cupboard, OwnIngredient};
use crate::plan::{PlannedStep, TakenLane};
use crate::stations::Stations;
use crate::units::Minutes;
use crate::watch::later;

/// The longest note, in characters.
pub const NOTE_MAX: usize = 500;

/// The most steps of a plan.
const STEPS_MAX: f64 = 200.0;

/// How the keys begin of what had happened before a bake was begun here.
pub(super) const BEFORE: &str = "before-";

/// What a bake began with.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Start {
    /// The formula as it was.
    pub formula: Formula,
    /// What was planned, in the order in which it begins.
    pub steps: Vec<PlannedStep>,
    /// The kitchen as it was; as is usual when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub kitchen: Option<Box<Kitchen>>,
    /// The own ingredients that it is made of, as they were.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub own: Vec<OwnIngredient>,
    /// Of which dough of the plan of days it is, where it is of one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub of_plan: Option<OfPlan>,
    /// How it rings, where somebody chose that for the dough before.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bell: Option<Bell>,
}

/// Which dough of which plan a bake is.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct OfPlan {
    /// The plan, by the day it begins on.
    pub from: String,
    /// The dough, by its place in it.
    pub dough: usize,
}

impl Start {
    /// A dough that is begun at a moment, as its stations lay its day out.
    pub fn of(formula: &Formula, stations: &Stations, at: Timestamp) -> Start {
        let first = stations.day.steps.first().map_or(at, |s| s.at.timestamp());
        let shift = at.duration_since(first);
        let steps = stations.day.steps.iter().map(|s| {
            let task = stations.tasks.iter().find(|t| t.id == s.step.id);
            PlannedStep {
                dough: 0,
                id: s.step.id.clone(),
                kind: s.step.kind,
                title: s.step.title.clone(),
                detail: s.step.detail.clone(),
                at: s.at.timestamp().checked_add(shift).unwrap_or(at),
                length: s.step.length,
                hands_on: s.step.hands_on,
                hangs_on: task.filter(|t| t.needs.hands).map(|t| t.begins.of.clone()),
                give: Minutes(0.0),
                oven: task.and_then(|t| t.needs.oven).map(|o| o.dial.0),
                swells: Vec::new(),
            }
        });
        Start { steps: steps.collect(), ..Start::bare(formula) }
    }

    /// One without steps.
    pub(super) fn bare(formula: &Formula) -> Start {
        let formula = formula.clone();
        Start { formula, steps: Vec::new(), kitchen: None, own: Vec::new(), of_plan: None, bell: None }
    }

    /// A dough of a plan that is followed.
    pub fn of_lane(lane: &TakenLane, steps: &[PlannedStep], of_plan: OfPlan) -> Start {
        let own: Vec<PlannedStep> = steps.iter().filter(|s| s.dough == of_plan.dough).cloned().collect();
        let of_plan = Some(of_plan);
        Start { steps: own, of_plan, ..Start::bare(&lane.formula) }
    }

    /// With the kitchen and the own ingredients as they are now.
    #[must_use]
    pub fn at_home(self, kitchen: &Kitchen, cupboard: &Cupboard) -> Start {
        let own = cupboard.used_by(self.formula.keys());
        Start { kitchen: Some(Box::new(kitchen.clone())), own, ..self }
    }

    /// A step of it.
    pub fn step(&self, id: &str) -> Option<&PlannedStep> {
        self.steps.iter().find(|s| s.id == id)
    }

    /// The first rise of it: bulk, or the proof of a dough that is shaped at once.
    pub fn first_rise(&self) -> Option<&PlannedStep> {
        self.step("bulk").or_else(|| self.step("second")).or_else(|| self.step("proof"))
    }

    /// What has happened to a dough that is rising already since a moment: all that comes before its first rise.
    pub fn rising_since(&self, at: Timestamp, device: &str) -> Vec<Event> {
        let Some(rise) = self.first_rise() else { return Vec::new() };
        let before = self.steps.iter().take_while(|s| s.id != rise.id);
        let event = |key: String, what| Event { key: EventKey(key), at, device: device.to_owned(), what };
        let done = before.map(|s| event(format!("{BEFORE}{}", s.id), What::Done { step: s.id.clone() }));
        let begun = event(format!("{BEFORE}rising"), What::Begun { step: rise.id.clone() });
        done.chain([begun]).collect()
    }

    /// What has happened by a moment where all went as planned: each step done at its end.
    pub fn as_planned(&self, until: Timestamp, device: &str) -> Vec<Event> {
        let ends = |s: &PlannedStep| later(s.at, s.length);
        let over = self.steps.iter().filter(|s| ends(s) <= until);
        let done = over.map(|s| Event {
            key: EventKey(format!("{BEFORE}{}", s.id)),
            at: ends(s),
            device: device.to_owned(),
            what: What::Done { step: s.id.clone() },
        });
        done.collect()
    }

    /// Its steps moved in time, so that one of them begins at a moment.
    #[must_use]
    pub fn with_step_at(mut self, id: &str, at: Timestamp) -> Start {
        if let Some(shift) = self.step(id).map(|s| at.duration_since(s.at)) {
            for step in &mut self.steps {
                step.at = step.at.checked_add(shift).unwrap_or(step.at);
            }
        }
        self
    }

    /// Whether an event fits this bake.
    ///
    /// # Errors
    /// What does not, at `step`, `line`, `grams`, `value`, `to`, `by`, `photo`, `steps` or `text`.
    pub fn check(&self, event: &Event) -> Result<(), Faults> {
        let mut c = Check::new();
        match &event.what {
            What::Begun { step } | What::Done { step } | What::Skipped { step } => self.known(step, &mut c),
            What::Longer { step, by } => {
                self.known(step, &mut c);
                c.range("by", "How much longer", by.0, 1.0, 720.0, "min");
            }
            What::Weighed { line, grams } => {
                if *line >= self.formula.lines.len() {
                    c.note(Fault::new("unknown", "line", "This formula has no such line."));
                }
                c.range("grams", "What was weighed", grams.0, 0.0, 100_000.0, "g");
            }
            What::Scaled { by } => c.range("by", "The scale", *by, 0.25, 4.0, "times"),
            What::Read(reading) => {
                let (name, value, low, high, unit) = match reading {
                    Reading::Volume(x) => ("The volume", *x, 0.8, 6.0, "times"),
                    Reading::Mixed(t) | Reading::Dough(t) => ("The dough", t.0, 0.0, 60.0, "°C"),
                    Reading::Place(t) => ("The place", t.0, -10.0, 60.0, "°C"),
                    Reading::Core(t) => ("The core", t.0, 0.0, 130.0, "°C"),
                    Reading::Baked(g) => ("The bread", g.0, 1.0, 100_000.0, "g"),
                    Reading::Poke(_) => return c.done(()),
                };
                c.range("value", name, value, low, high, unit);
            }
            What::Moved { to } => c.range("to", "The place", to.0, -10.0, 60.0, "°C"),
            What::Late { by } => c.range("by", "How late it is", by.0, 0.0, 2880.0, "min"),
            What::Photo { photo } => {
                let hex = |b: u8| b.is_ascii_digit() || (b'a'..=b'f').contains(&b);
                if photo.len() != 64 || !photo.bytes().all(hex) {
                    c.note(Fault::new("malformed", "photo", "A photo is named by 64 letters of hex."));
                }
            }
            What::Replanned { steps } => {
                c.range("steps", "The steps of a plan", steps.len() as f64, 1.0, STEPS_MAX, "");
            }
            What::Noted { text } | What::NextTime { text } => c.length("text", "A note", text, NOTE_MAX),
            What::Rings { .. }
            | What::Undone { .. }
            | What::Redone { .. }
            | What::Abandoned
            | What::Finished => {}
        }
        c.done(())
    }

    fn known(&self, step: &str, c: &mut Check) {
        if self.step(step).is_none() {
            c.note(Fault::new("unknown", "step", "This bake has no such step."));
        }
    }
}
