//! What has become of a bake: the fold of its events.

use std::borrow::Cow;
use std::collections::BTreeMap;

use jiff::Timestamp;
use schemars::JsonSchema;
use serde::Serialize;

use super::event::{Bell, Event, EventKey, Reading, What};
use super::start::{BEFORE, Start};
use crate::choice::choice;
use crate::formula::Formula;
use crate::units::{Celsius, Grams, Minutes};

choice! {
    /// How a bake stands.
    Outcome {
        /// It goes on.
        Running = "running", "running";
        /// It is over, and the bread is there.
        Finished = "finished", "finished";
        /// It was given up.
        Abandoned = "abandoned", "abandoned";
    }
}

/// How one step stands.
#[derive(Clone, Debug, Default, PartialEq, Serialize, JsonSchema)]
pub struct StepState {
    /// The step, by its id.
    pub id: String,
    /// When it was begun, where it was.
    #[schemars(with = "Option<String>")]
    pub begun: Option<Timestamp>,
    /// When it was done, where it is.
    #[schemars(with = "Option<String>")]
    pub done: Option<Timestamp>,
    /// When it was left out, where it is.
    #[schemars(with = "Option<String>")]
    pub skipped: Option<Timestamp>,
    /// How much longer it was given than was planned, min.
    pub longer: Minutes,
}

impl StepState {
    /// Whether nothing more is to be done about it.
    pub fn is_over(&self) -> bool {
        self.over_at().is_some()
    }

    /// When it was done, or left out.
    pub fn over_at(&self) -> Option<Timestamp> {
        self.done.or(self.skipped)
    }
}

/// Something that was written down.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Note {
    /// When.
    #[schemars(with = "String")]
    pub at: Timestamp,
    /// In the baker's words.
    pub text: String,
}

/// A photo that was taken.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Photo {
    /// When.
    #[schemars(with = "String")]
    pub at: Timestamp,
    /// Its name: the SHA-256 of its bytes.
    pub photo: String,
}

/// What has become of a bake.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct BakeState {
    /// How it stands.
    pub outcome: Outcome,
    /// When it was finished or given up.
    #[schemars(with = "Option<String>")]
    pub ended: Option<Timestamp>,
    /// Its steps, in their order.
    pub steps: Vec<StepState>,
    /// How much later than it was when the last step was done, as was said since, min.
    pub said_late: Minutes,
    /// The formula with what was really weighed.
    pub formula: Formula,
    /// What was weighed, by the place of the line.
    pub weighed: BTreeMap<usize, Grams>,
    /// Times which is what was still to be weighed.
    pub scale: f64,
    /// What was read, and when.
    #[schemars(with = "Vec<(String, Reading)>")]
    pub readings: Vec<(Timestamp, Reading)>,
    /// Where the dough was carried to, and when, °C.
    #[schemars(with = "Vec<(String, Celsius)>")]
    pub moved: Vec<(Timestamp, Celsius)>,
    /// What was noted.
    pub notes: Vec<Note>,
    /// What was photographed.
    pub photos: Vec<Photo>,
    /// What is to be done otherwise next time, the last that was said.
    pub next_time: Option<String>,
    /// How it rings, where somebody chose.
    pub bell: Option<Bell>,
    /// What would be taken back next.
    pub undo: Option<EventKey>,
    /// The last that was taken back, where nothing happened since.
    pub redo: Option<EventKey>,
}

impl BakeState {
    /// How a step stands.
    pub fn step(&self, id: &str) -> Option<&StepState> {
        self.steps.iter().find(|s| s.id == id)
    }
}

/// The events that hold, in order of time: each once, and those that were taken back left out.
fn holding<'e>(start: &Start, events: &'e [Event]) -> (Vec<&'e Event>, Vec<(&'e Event, &'e EventKey, bool)>) {
    let wide = with_all_steps(start, events);
    let mut once: BTreeMap<&EventKey, &Event> = BTreeMap::new();
    for e in events.iter().filter(|e| wide.check(e).is_ok()) {
        // Of two that call themselves the same the one that is smaller holds, wherever it stands.
        let smaller =
            |there: &&Event| (e.at, format!("{:?}", e.what)) < (there.at, format!("{:?}", there.what));
        once.entry(&e.key)
            .and_modify(|there| {
                if smaller(there) {
                    *there = e
                }
            })
            .or_insert(e);
    }
    let mut all: Vec<&Event> = once.into_values().collect();
    all.sort_by(|a, b| (a.at, &a.key).cmp(&(b.at, &b.key)));
    let turned = |e: &&'_ Event| matches!(e.what, What::Undone { .. } | What::Redone { .. });
    let turns: Vec<(&Event, &EventKey, bool)> = all
        .iter()
        .filter_map(|e| match &e.what {
            What::Undone { event } => Some((*e, event, true)),
            What::Redone { event } => Some((*e, event, false)),
            _ => None,
        })
        .collect();
    // The last word on each holds.
    let back: BTreeMap<&EventKey, bool> = turns.iter().map(|(_, event, back)| (*event, *back)).collect();
    let holds = |e: &&Event| !turned(e) && !back.get(&e.key).copied().unwrap_or(false);
    (all.into_iter().filter(|e| holds(e)).collect(), turns)
}

/// A bake with the steps of every plan that it was ever on: what was done on one is done.
pub(super) fn with_all_steps<'s>(start: &'s Start, events: &[Event]) -> Cow<'s, Start> {
    let mut wide = Cow::Borrowed(start);
    for e in events {
        if let What::Replanned { steps } = &e.what {
            wide.to_mut().steps.extend(steps.iter().cloned());
        }
    }
    wide
}

/// A bake on the plan that it goes by: the last that the day was given.
pub fn on_its_plan<'s>(start: &'s Start, events: &[Event]) -> Cow<'s, Start> {
    if events.iter().all(|e| !matches!(e.what, What::Replanned { .. })) {
        return Cow::Borrowed(start);
    }
    let (holding, _) = holding(start, events);
    let last = holding.iter().rev().find_map(|e| match &e.what {
        What::Replanned { steps } => Some(steps.clone()),
        _ => None,
    });
    match last {
        Some(steps) => Cow::Owned(Start { steps, ..start.clone() }),
        None => Cow::Borrowed(start),
    }
}

/// What its events have made of a bake: the same in whatever order they arrive, and however often. What does not fit it is
/// passed over.
pub fn replay(start: &Start, events: &[Event]) -> BakeState {
    let start = &on_its_plan(start, events);
    let (holding, turns) = holding(start, events);
    let mut state = BakeState {
        outcome: Outcome::Running,
        ended: None,
        steps: start.steps.iter().map(|s| StepState { id: s.id.clone(), ..StepState::default() }).collect(),
        said_late: Minutes(0.0),
        formula: start.formula.clone(),
        weighed: BTreeMap::new(),
        scale: 1.0,
        readings: Vec::new(),
        moved: Vec::new(),
        notes: Vec::new(),
        photos: Vec::new(),
        next_time: None,
        bell: start.bell,
        undo: holding.iter().rfind(|e| can_be_undone(e)).map(|e| e.key.clone()),
        redo: None,
    };
    for e in &holding {
        apply(&mut state, e);
    }
    state.redo = turns
        .last()
        .filter(|(turn, _, back)| {
            *back && holding.last().is_none_or(|e| (e.at, &e.key) < (turn.at, &turn.key))
        })
        .map(|(_, event, _)| (*event).clone());
    // What was weighed is what its figures go by from then on, and what is still to be weighed is scaled.
    for (n, line) in state.formula.lines.iter_mut().enumerate() {
        line.grams = state.weighed.get(&n).copied().unwrap_or(line.grams * state.scale);
    }
    state
}

/// What had happened before the bake was begun here is not taken back by a press.
fn can_be_undone(e: &Event) -> bool {
    !e.key.0.starts_with(BEFORE) && !matches!(e.what, What::Begun { .. } | What::Replanned { .. })
}

fn apply(state: &mut BakeState, e: &Event) {
    let over = matches!(e.what, What::Done { .. } | What::Skipped { .. });
    let mut at_step = |id: &str, change: &dyn Fn(&mut StepState)| {
        if let Some(step) = state.steps.iter_mut().find(|s| s.id == id) {
            change(step);
        }
    };
    match &e.what {
        // Two phones that press together: the first of them counts.
        What::Begun { step } => at_step(step, &|s| s.begun = s.begun.or(Some(e.at))),
        What::Done { step } => at_step(step, &|s| {
            s.done = s.done.or(Some(e.at));
            s.skipped = None;
        }),
        What::Skipped { step } => {
            at_step(step, &|s| s.skipped = s.skipped.or(Some(e.at).filter(|_| s.done.is_none())))
        }
        What::Longer { step, by } => at_step(step, &|s| s.longer += *by),
        What::Weighed { line, grams } => {
            state.weighed.insert(*line, *grams);
        }
        What::Scaled { by } => state.scale *= by,
        What::Read(reading) => state.readings.push((e.at, *reading)),
        What::Moved { to } => state.moved.push((e.at, *to)),
        What::Late { by } => state.said_late += *by,
        What::Noted { text } => state.notes.push(Note { at: e.at, text: text.clone() }),
        What::Photo { photo } => state.photos.push(Photo { at: e.at, photo: photo.clone() }),
        What::Rings { bell } => state.bell = Some(*bell),
        What::NextTime { text } => state.next_time = Some(text.clone()),
        What::Abandoned => (state.outcome, state.ended) = (Outcome::Abandoned, Some(e.at)),
        What::Finished => (state.outcome, state.ended) = (Outcome::Finished, Some(e.at)),
        // The plan has it by now, however late it was.
        What::Replanned { .. } => state.said_late = Minutes(0.0),
        What::Undone { .. } | What::Redone { .. } => {}
    }
    if over {
        // How late it is shows by itself now.
        state.said_late = Minutes(0.0);
    }
}
