//! The steps of one dough, in their order and with their windows.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::units::Minutes;

/// The station at which a step belongs.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum StepKind {
    /// Levain or preferment.
    Levain,
    /// Weighing and mixing.
    Mix,
    /// Bulk rise.
    Bulk,
    /// Folding.
    Fold,
    /// Dividing and shaping.
    Shape,
    /// Final proof.
    Proof,
    /// Washes, seeds, cuts; butter and icing.
    Finish,
    /// Oven on, or lid off.
    Oven,
    /// In the oven.
    Bake,
    /// Cooling.
    Cool,
}

/// A step in minutes from the first touch.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Step {
    /// What it is, whatever it is called: `mix.2`, `bulk`, `proof`, `in.main`, `bake.main`, `out.main`.
    /// Each stands once in a day.
    #[serde(default)]
    pub id: String,
    /// Where it belongs.
    pub kind: StepKind,
    /// What it is called.
    pub title: String,
    /// What to do, and the sign to look for.
    pub detail: String,
    /// When it begins.
    pub start: Minutes,
    /// How long it takes.
    pub length: Minutes,
    /// Whether it needs hands.
    pub hands_on: bool,
}

impl Step {
    /// When it ends.
    pub fn end(&self) -> Minutes {
        self.start + self.length
    }

    pub(super) fn overlaps(&self, other: &Step) -> bool {
        self.start.0 < other.end().0 - 1e-9 && other.start.0 < self.end().0 - 1e-9
    }
}

/// Where a short step beside the line may stand.
#[derive(Clone, Copy, Debug)]
pub struct Window {
    /// It begins no sooner.
    pub from: f64,
    /// It ends no later.
    pub to: f64,
}

/// Lays steps out one after another, with short ones beside the waits.
#[derive(Debug, Default)]
pub struct Layout {
    /// Those in line, and waits that run along beside it.
    steps: Vec<Step>,
    /// Short ones beside the line, each with where it may stand.
    floating: Vec<(Step, Window)>,
    end: f64,
}

fn step(
    id: &str,
    kind: StepKind,
    title: &str,
    detail: impl Into<String>,
    start: f64,
    minutes: f64,
    hands_on: bool,
) -> Step {
    Step {
        id: id.into(),
        kind,
        title: title.into(),
        detail: detail.into(),
        start: Minutes(start),
        length: Minutes(minutes),
        hands_on,
    }
}

impl Layout {
    /// Nothing yet.
    pub fn new() -> Self {
        Self::default()
    }

    /// The end of what is laid out in line so far.
    pub fn end(&self) -> Minutes {
        Minutes(self.end)
    }

    /// Appends a step after all the others in line.
    pub fn then(
        &mut self,
        id: &str,
        kind: StepKind,
        title: &str,
        detail: impl Into<String>,
        minutes: f64,
        hands_on: bool,
    ) {
        if minutes > 0.0 {
            self.steps.push(step(id, kind, title, detail, self.end, minutes, hands_on));
            self.end += minutes;
        }
    }

    /// A wait that runs along beside the line.
    pub fn alongside(
        &mut self,
        id: &str,
        kind: StepKind,
        title: &str,
        detail: impl Into<String>,
        start: f64,
        minutes: f64,
    ) {
        if minutes > 0.0 {
            self.steps.push(step(id, kind, title, detail, start, minutes, false));
        }
    }

    /// A short hands-on step that should begin at `start`, and may stand anywhere in its window when
    /// hands are wanted elsewhere then.
    #[allow(clippy::too_many_arguments, reason = "a step is what it says")]
    pub fn beside(
        &mut self,
        id: &str,
        kind: StepKind,
        title: &str,
        detail: impl Into<String>,
        start: f64,
        minutes: f64,
        window: Window,
    ) {
        self.floating.push((step(id, kind, title, detail, start, minutes, true), window));
    }

    /// Hands-on steps one after the other that are over by `end` and begin no sooner than `from`: each as
    /// late as it may be. What has no room is not laid out; whether all had.
    pub fn lead_up_to(&mut self, end: f64, from: f64, chain: Vec<Step>) -> bool {
        let total: f64 = chain.iter().map(|s| s.length.0).sum();
        if end - total < from - 1e-9 {
            return false;
        }
        let mut at = end;
        let mut placed = Vec::new();
        for mut s in chain.into_iter().rev() {
            s.start = Minutes((at - s.length.0).min(s.start.0).max(from));
            at = s.start.0;
            placed.push(s);
        }
        // What was wished earlier than there is room for moves up against the next.
        placed.reverse();
        let mut free = from;
        for s in &mut placed {
            s.start = Minutes(s.start.0.max(free));
            free = s.end().0;
        }
        if free > end + 1e-6 {
            return false;
        }
        self.steps.extend(placed);
        true
    }

    /// All steps in the order of their start, from 0, and the minutes by which all of them were put off
    /// for one that had to come before the first. One pair of hands never has two of them; a deed stands
    /// before the wait that begins with it.
    pub fn finish(self) -> (Vec<Step>, Minutes) {
        let mut steps = self.steps;
        for (mut step, window) in self.floating {
            step.start = Minutes(free_place(&steps, &step, window));
            steps.push(step);
        }
        steps.sort_by(|a, b| a.start.0.total_cmp(&b.start.0).then_with(|| b.hands_on.cmp(&a.hands_on)));
        let first = steps.first().map_or(0.0, |s| s.start.0).min(0.0);
        steps.iter_mut().for_each(|s| s.start.0 -= first);
        (steps, Minutes(-first))
    }
}

/// The free place for a hands-on step that is nearest to where it should begin, within its window where
/// there is one.
fn free_place(steps: &[Step], step: &Step, window: Window) -> f64 {
    let busy = |at: f64| {
        let here = Step { start: Minutes(at), ..step.clone() };
        steps.iter().any(|s| s.hands_on && s.overlaps(&here))
    };
    let last = (window.to - step.length.0).max(window.from);
    let wished = step.start.0.clamp(window.from, last);
    // It fits where it should be, or against one of the others.
    let against = steps.iter().filter(|s| s.hands_on).flat_map(|s| [s.start.0 - step.length.0, s.end().0]);
    let mut places: Vec<f64> = std::iter::once(wished).chain(against).filter(|at| !busy(*at)).collect();
    let outside = |at: f64| (window.from - at).max(at - last).max(0.0);
    // First inside of the window; then near to the wish; of two as near the earlier.
    places.sort_by(|a, b| {
        let far = |x: f64| (outside(x) > 1e-9, outside(x), (x - wished).abs(), x);
        far(*a).partial_cmp(&far(*b)).unwrap_or(std::cmp::Ordering::Equal)
    });
    places.first().copied().unwrap_or(wished)
}
