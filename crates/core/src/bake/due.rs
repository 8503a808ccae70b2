//! What is still to come of a bake, when, and what rings. What stands in the line follows what was done before it; what is
//! done beside a wait keeps to what it hangs on: folds to the beginning of their rise and to each other, the lid to the oven's,
//! washes to the end of the proof, the oven to when it has to be hot.

use jiff::{SignedDuration, Timestamp};
use schemars::JsonSchema;
use serde::Serialize;

use super::fold::{BakeState, Outcome};
use super::start::Start;
use crate::day::{Point, StepKind};
use crate::plan::PlannedStep;
use crate::units::Minutes;
use crate::watch::{WatchAnswer, later};

/// The share of their interval by which folds stay apart at least (common practice, no source).
const APART: f64 = 2.0 / 3.0;
/// A gap of this many minutes before a deed is waited for.
const GAP: f64 = 1.5;

/// A step that is still to come.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct DueStep {
    /// The step, by its id.
    pub id: String,
    /// What it is called.
    pub title: String,
    /// When it begins, or began, as things stand.
    #[schemars(with = "String")]
    pub begins: Timestamp,
    /// When it is over.
    #[schemars(with = "String")]
    pub ends: Timestamp,
    /// When it is to be touched: a deed when it begins, a wait when it ends.
    #[schemars(with = "String")]
    pub at: Timestamp,
    /// Minutes until then; negative where it is over its time.
    pub in_minutes: Minutes,
    /// Whether it wants hands.
    pub hands_on: bool,
    /// Whether it is under way.
    pub under_way: bool,
}

/// A timer that runs.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Timer {
    /// Its step.
    pub step: String,
    /// What it is called.
    pub title: String,
    /// When it was set.
    #[schemars(with = "String")]
    pub from: Timestamp,
    /// When it rings.
    #[schemars(with = "String")]
    pub rings: Timestamp,
}

/// From when to when a step lasted, or will as things stand.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Span {
    /// The step, by its id.
    pub id: String,
    /// When it begins.
    #[schemars(with = "String")]
    pub from: Timestamp,
    /// When it ends.
    #[schemars(with = "String")]
    pub to: Timestamp,
}

/// What is to come of a bake.
#[derive(Clone, Debug, Default, PartialEq, Serialize, JsonSchema)]
pub struct Due {
    /// In the order of their touches.
    pub next: Vec<DueStep>,
    /// What runs, the one that rings first before the others.
    pub timers: Vec<Timer>,
    /// All of its steps, those that are over too, in the order in which they were planned.
    pub spans: Vec<Span>,
    /// How much later it will be over than was planned, min; negative where sooner.
    pub late: Minutes,
}

fn end(step: &PlannedStep) -> Timestamp {
    later(step.at, step.length)
}

fn minutes(from: Timestamp, to: Timestamp) -> f64 {
    to.duration_since(from).as_secs_f64() / 60.0
}

/// The wait beside which a deed is done; nothing for what stands in the line.
pub(super) fn within(steps: &[PlannedStep], n: usize) -> Option<usize> {
    let deed = &steps[n];
    let eps = SignedDuration::from_secs(1);
    let holds = |wait: &PlannedStep| {
        !wait.hands_on
            && wait.at <= deed.at + eps
            && end(deed) <= end(wait) + eps
            && wait.length > deed.length
    };
    let beside = (0..steps.len()).find(|m| *m != n && deed.hands_on && holds(&steps[*m]))?;
    // A bread that cools beside the next dough is no wait that a deed belongs to.
    (steps[beside].kind != StepKind::Cool).then_some(beside)
}

/// What a deed beside a wait hangs on.
fn hangs_on(steps: &[PlannedStep], n: usize, wait: usize) -> Option<usize> {
    match &steps[n].hangs_on {
        Some(Point::Start(id) | Point::End(id)) => steps.iter().position(|s| s.id == *id),
        Some(Point::First) | None => Some(wait),
    }
}

/// Whether it hangs on its end. What began before that was kept goes by its wait: what is done for the oven by its end.
fn at_its_end(steps: &[PlannedStep], n: usize, wait: usize) -> bool {
    match &steps[n].hangs_on {
        Some(Point::Start(_)) => false,
        Some(Point::End(_)) => true,
        Some(Point::First) | None => matches!(steps[wait].kind, StepKind::Proof | StepKind::Cool),
    }
}

/// When what is done beside a wait begins, as things stand.
fn beside_at(steps: &[PlannedStep], spans: &[Option<Spanned>], n: usize, wait: usize) -> Option<Timestamp> {
    let planned = &steps[n];
    let (of, at_its_end) = (hangs_on(steps, n, wait)?, at_its_end(steps, n, wait));
    let on = spans[of].or(spans[wait])?;
    let (was, is) = if at_its_end { (end(&steps[of]), on.ends) } else { (steps[of].at, on.begins) };
    Some(later(is, Minutes(minutes(was, planned.at))))
}

/// When a step begins and ends as things stand.
#[derive(Clone, Copy)]
struct Spanned {
    begins: Timestamp,
    ends: Timestamp,
    /// When it would end if it kept its time: what is over its time ends now at the soonest.
    rings: Timestamp,
    can_begin: bool,
}

/// What is to come, from what was done until now and the forecast of the rise that it is in.
pub fn due(start: &Start, state: &BakeState, rising: Option<&WatchAnswer>, now: Timestamp) -> Due {
    let steps = &start.steps;
    let mut spans: Vec<Option<Spanned>> = vec![None; steps.len()];
    let beside: Vec<Option<usize>> = (0..steps.len()).map(|n| within(steps, n)).collect();
    // The line: each follows the one before it.
    let first = steps.first().map_or(now, |s| s.at);
    let (mut free, mut planned_free, mut ready) = (first, first, true);
    let mut opens = true;
    let mut said_late = state.said_late;
    // The wait in which somebody said to be late, and by how much.
    let mut late_in: Option<(usize, Minutes)> = None;
    let rise = rising.map(|r| r.which.key());
    for n in (0..steps.len()).filter(|n| beside[*n].is_none()) {
        let (planned, s) = (&steps[n], &state.steps[n]);
        let gap = minutes(planned_free, planned.at);
        let wait = if gap > GAP { gap } else { 0.0 };
        let mut begins = s.begun.filter(|_| ready).unwrap_or_else(|| later(free, Minutes(wait)));
        let span = match s.over_at() {
            Some(over) => Spanned { begins: begins.min(over), ends: over, rings: over, can_begin: ready },
            None => {
                // Who is late begins later with what is not begun, and goes on longer with what is.
                let late = std::mem::take(&mut said_late);
                let longer = if begins > now && s.begun.is_none() {
                    begins = later(begins, late);
                    s.longer
                } else {
                    late_in = late_in.or((late.0 > 0.0).then_some((n, late)));
                    s.longer + late
                };
                let own = later(begins, planned.length);
                let own =
                    rising.filter(|_| ready && rise == Some(planned.id.as_str())).map_or(own, |r| r.ready);
                let rings = later(own, longer);
                // What waits for its turn is not over before it could begin.
                let ends = if ready { rings.max(now) } else { rings };
                Spanned { begins, ends, rings, can_begin: ready }
            }
        };
        ready = ready && s.is_over();
        // Cooling does not keep hands from the next bread.
        if planned.kind != StepKind::Cool || n + 1 == steps.len() {
            // The first of all pulls the rest along where it was done before its time.
            free = if s.is_over() && !opens { span.ends.max(free) } else { span.ends };
            planned_free = end(planned);
        }
        spans[n] = Some(span);
        opens = false;
    }
    // Beside the waits.
    for n in 0..steps.len() {
        let Some(wait) = beside[n] else { continue };
        let (planned, s) = (&steps[n], &state.steps[n]);
        let Some(of) = spans[wait] else { continue };
        let Some(mut at) = beside_at(steps, &spans, n, wait) else { continue };
        // Who is late comes later to what is next in the wait too; what hangs on its end has moved with that already.
        if let Some((_, late)) =
            late_in.filter(|(of, _)| *of == wait && !s.is_over() && !at_its_end(steps, n, wait))
            && later(at, late) > now
        {
            at = later(at, late);
            late_in = None;
        }
        if planned.kind == StepKind::Fold {
            let before = (0..n).rev().find(|m| beside[*m] == Some(wait) && steps[*m].kind == StepKind::Fold);
            if let Some(m) = before.filter(|m| state.steps[*m].skipped.is_none()) {
                // One that is not made yet is made now at the soonest: none overtakes it.
                let made = state.steps[m].done.or(spans[m].map(|s| s.begins.max(now)));
                let apart = APART * minutes(steps[m].at, planned.at);
                at = made.map_or(at, |made| at.max(later(made, Minutes(apart))));
            }
        }
        let at = later(at, s.longer);
        spans[n] = Some(match s.over_at() {
            Some(over) => Spanned { begins: over, ends: over, rings: over, can_begin: true },
            None => {
                Spanned { begins: at, ends: later(at, planned.length), rings: at, can_begin: of.can_begin }
            }
        });
    }
    let last = |ends: &dyn Fn(usize) -> Timestamp| (0..steps.len()).map(ends).max();
    let planned_end = last(&|n| end(&steps[n]));
    let real_end = last(&|n| spans[n].map_or(now, |s| s.ends));
    let late = planned_end.zip(real_end).map_or(0.0, |(planned, real)| minutes(planned, real));
    let spanned =
        |n: usize| spans[n].map(|s| Span { id: steps[n].id.clone(), from: s.begins.min(s.ends), to: s.ends });
    let course: Vec<Span> = (0..steps.len()).filter_map(spanned).collect();
    if state.outcome != Outcome::Running {
        return Due { late: Minutes(late), spans: course, ..Due::default() };
    }
    let mut next: Vec<(usize, DueStep, Spanned)> = Vec::new();
    for n in 0..steps.len() {
        let (planned, s) = (&steps[n], &state.steps[n]);
        let Some(span) = spans[n].filter(|_| !s.is_over()) else { continue };
        // A fold that was not made before the rise was over is none any more.
        let missed = planned.kind == StepKind::Fold && beside[n].is_some_and(|w| state.steps[w].is_over());
        if missed {
            continue;
        }
        let at = if planned.hands_on { span.begins } else { span.rings };
        let under_way = span.can_begin && span.begins <= now;
        let step = DueStep {
            id: planned.id.clone(),
            title: planned.title.clone(),
            begins: span.begins,
            ends: span.ends,
            at,
            in_minutes: Minutes(minutes(now, at)),
            hands_on: planned.hands_on,
            under_way,
        };
        next.push((n, step, span));
    }
    // By their touches; what stands in the line never changes places.
    next.sort_by_key(|(n, step, span)| (if step.hands_on { step.at } else { span.ends }, *n));
    let mut timers: Vec<Timer> = next
        .iter()
        .enumerate()
        .filter_map(|(place, (n, _, span))| timer(place, &steps[*n], beside[*n], span, start, state, now))
        .collect();
    timers.sort_by_key(|t| t.rings);
    Due {
        next: next.into_iter().map(|(_, step, _)| step).collect(),
        timers,
        spans: course,
        late: Minutes(late),
    }
}

/// What rings for a step: a wait when it ends; what is waited for when it begins; kneading when it is enough.
fn timer(
    place: usize,
    planned: &PlannedStep,
    beside: Option<usize>,
    span: &Spanned,
    start: &Start,
    state: &BakeState,
    now: Timestamp,
) -> Option<Timer> {
    if !span.can_begin {
        return None;
    }
    let made = |from: Timestamp, rings: Timestamp| {
        Some(Timer { step: planned.id.clone(), title: planned.title.clone(), from, rings })
    };
    if !planned.hands_on {
        return made(span.begins, span.rings);
    }
    let last_touch = state.steps.iter().filter_map(super::fold::StepState::over_at).max();
    match (beside, last_touch) {
        (Some(wait), _) => {
            let from =
                last_touch.filter(|t| *t < span.begins).unwrap_or(start.steps[wait].at.min(span.begins));
            made(from, span.begins)
        }
        (None, Some(touched)) if minutes(touched, span.begins) > GAP => made(touched, span.begins),
        // Nothing was touched yet, and its time is to come.
        (None, None) if minutes(now, span.begins) > GAP => made(now, span.begins),
        (None, _) if place == 0 && planned.kind == StepKind::Mix && planned.id != "weigh" => {
            made(span.begins, span.rings)
        }
        _ => None,
    }
}
