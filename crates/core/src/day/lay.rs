//! Tasks laid out in minutes: one dough, one pair of hands.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::task::{Moment, Moves, Point, StepKind, Task};
use crate::units::Minutes;

/// A step in minutes from the first touch.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Step {
    /// What it is, whatever it is called: the id of its [`Task`].
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
    fn of(task: &Task, start: f64) -> Step {
        Step {
            id: task.id.clone(),
            kind: task.kind,
            title: task.title.clone(),
            detail: task.detail.clone(),
            start: Minutes(start),
            length: task.lasts.best,
            hands_on: task.needs.hands,
        }
    }

    /// When it ends.
    pub fn end(&self) -> Minutes {
        self.start + self.length
    }

    pub(super) fn overlaps(&self, other: &Step) -> bool {
        self.start.0 < other.end().0 - 1e-9 && other.start.0 < self.end().0 - 1e-9
    }
}

/// Tasks with their minutes.
#[derive(Clone, Debug, PartialEq)]
pub struct LaidOut {
    /// In the order in which they begin, from 0; a deed stands before the wait that begins with it.
    pub steps: Vec<Step>,
    /// The minute of [`Point::First`]: over 0 where something beside the line comes before it.
    first: f64,
}

impl LaidOut {
    /// The minute of a moment; `None` where the task that it hangs on is not among them.
    pub fn minute(&self, moment: &Moment) -> Option<Minutes> {
        minute(&self.steps, self.first, moment).map(Minutes)
    }
}

fn minute(steps: &[Step], first: f64, moment: &Moment) -> Option<f64> {
    let step = |id: &str| steps.iter().find(|s| s.id == id);
    let of = match &moment.of {
        Point::First => first,
        Point::Start(id) => step(id)?.start.0,
        Point::End(id) => step(id)?.end().0,
    };
    Some(of + moment.plus.0)
}

/// Lays tasks out, each wait as long as is best. Each begins at its moment; what may be moved is, so that one
/// pair of hands never has two at once. A task that hangs on one that is not there is left out.
///
/// ```
/// use cerealis_core::day::{Lasts, Moment, Moves, StepKind, Task, Tasks, lay};
/// use cerealis_core::units::Minutes;
/// let mut tasks = Tasks::new();
/// tasks.then(Task::deed("shape", StepKind::Shape, "Shape", 10.0));
/// let rise = Lasts::between(Minutes(40.0), Minutes(55.0), Minutes(80.0));
/// tasks.then(Task::wait("proof", StepKind::Proof, "Final proof", rise));
/// let on = Task::deed("oven-on", StepKind::Oven, "Oven on", 1.0);
/// tasks.beside(on, Moment::end("proof").later(-30.0), Moves::within(60.0, 0.0));
/// let day = lay(&tasks.into_tasks());
/// let at = |id| day.minute(&Moment::start(id)).unwrap();
/// assert_eq!((at("proof"), at("oven-on")), (Minutes(10.0), Minutes(35.0)));
/// ```
pub fn lay(tasks: &[Task]) -> LaidOut {
    let mut waiting: Vec<&Task> = tasks.iter().collect();
    let mut steps: Vec<Step> = Vec::with_capacity(tasks.len());
    // What may be moved comes last, when it is known what stands still.
    let next = |waiting: &[&Task], steps: &[Step]| {
        let known = |t: &&Task| minute(steps, 0.0, &t.begins).is_some();
        let still = waiting.iter().position(|t| t.moves.is_none() && known(t));
        still.or_else(|| waiting.iter().position(known))
    };
    while let Some(n) = next(&waiting, &steps) {
        let task = waiting.remove(n);
        let at = minute(&steps, 0.0, &task.begins).unwrap_or(0.0);
        let step = Step::of(task, at);
        let side = Side::of(task, at);
        let start = task.moves.map_or(at, |moves| free_place(&steps, &step, moves, side));
        steps.push(Step { start: Minutes(start), ..step });
    }
    steps.sort_by(|a, b| a.start.0.total_cmp(&b.start.0).then_with(|| b.hands_on.cmp(&a.hands_on)));
    let first = steps.first().map_or(0.0, |s| s.start.0).min(0.0);
    steps.iter_mut().for_each(|s| s.start.0 -= first);
    LaidOut { steps, first: -first }
}

/// On which side of what it hangs on a task stays, however far it is moved: what is brushed on what is shaped is not brushed
/// before that, and the oven is not switched on after the bread went in.
#[derive(Clone, Copy)]
struct Side {
    after: f64,
    before: f64,
}

impl Side {
    /// That of a task which should begin at a minute.
    fn of(task: &Task, at: f64) -> Side {
        let (hung, lasts) = (at - task.begins.plus.0, task.lasts.best.0);
        let (never, ever) = (f64::NEG_INFINITY, f64::INFINITY);
        match at {
            _ if at >= hung => Side { after: hung, before: ever },
            _ if at + lasts <= hung + 1e-9 => Side { after: never, before: hung - lasts },
            _ => Side { after: never, before: ever },
        }
    }

    fn holds(self, at: f64) -> bool {
        at >= self.after - 1e-9 && at <= self.before + 1e-9
    }
}

/// The free place for a hands-on step that is nearest to where it should begin, on its side of what it hangs on, and as far
/// as it may be moved where there is one.
fn free_place(steps: &[Step], step: &Step, moves: Moves, side: Side) -> f64 {
    let busy = |at: f64| {
        let here = Step { start: Minutes(at), ..step.clone() };
        steps.iter().any(|s| s.hands_on && s.overlaps(&here))
    };
    let wished = step.start.0;
    let (first, last) = (wished - moves.sooner.0, wished + moves.later.0);
    // It fits where it should be, or against one of the others.
    let against = steps.iter().filter(|s| s.hands_on).flat_map(|s| [s.start.0 - step.length.0, s.end().0]);
    let mut places: Vec<f64> = std::iter::once(wished).chain(against).filter(|at| !busy(*at)).collect();
    let outside = |at: f64| (first - at).max(at - last).max(0.0);
    // First on its side, then as far as it may be moved; then near to the wish; of two as near the earlier.
    places.sort_by(|a, b| {
        let far = |x: f64| (!side.holds(x), outside(x) > 1e-9, outside(x), (x - wished).abs(), x);
        far(*a).partial_cmp(&far(*b)).unwrap_or(std::cmp::Ordering::Equal)
    });
    places.first().copied().unwrap_or(wished)
}
