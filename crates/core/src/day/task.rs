//! What is to be done for one dough, before anybody knows at what minute: each task with what it needs, how
//! long it lasts, and what it hangs on.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::units::{Celsius, Minutes};
use crate::words::{Air, Vessel};

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

/// One thing to do, or to wait for.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Task {
    /// What it is, whatever it is called: `mix.2`, `bulk`, `proof`, `in.main`, `bake.main`, `out.main`.
    /// Each stands once among the tasks of a dough.
    pub id: String,
    /// Where it belongs.
    pub kind: StepKind,
    /// What it is called.
    pub title: String,
    /// What to do, and the sign to look for.
    pub detail: String,
    /// What it takes up while it lasts.
    pub needs: Needs,
    /// How long it lasts.
    pub lasts: Lasts,
    /// When it should begin.
    pub begins: Moment,
    /// How far it may be moved from there; `None` for what stands where it hangs.
    pub moves: Option<Moves>,
}

/// What a task takes up while it lasts.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Needs {
    /// Somebody's hands, or an eye on the mixer.
    pub hands: bool,
    /// The mixer.
    pub mixer: bool,
    /// The oven.
    pub oven: Option<OvenNeed>,
    /// A place to stand, by its temperature, °C.
    pub place: Option<Celsius>,
    /// What it stands in from here on.
    pub vessel: Option<Vessel>,
}

/// What a task needs of the oven.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct OvenNeed {
    /// Its setting.
    pub dial: Celsius,
    /// Its air.
    #[serde(default)]
    pub air: Air,
    /// How many trays go in.
    pub trays: u32,
    /// How long before it must have been switched on.
    pub preheat: Minutes,
    /// Whether what it bakes in heats with it, as a pot does.
    #[serde(default)]
    pub pot: bool,
}

/// How long something lasts: a deed as long as it takes, a wait within what the dough forgives.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Lasts {
    /// The soonest at which it may be ended.
    pub earliest: Minutes,
    /// As it is planned.
    pub best: Minutes,
    /// The latest.
    pub latest: Minutes,
}

impl Lasts {
    /// What takes as long as it takes.
    pub fn just(minutes: Minutes) -> Self {
        Lasts { earliest: minutes, best: minutes, latest: minutes }
    }

    /// A wait that may be ended between two times; as it is planned is always one of them.
    pub fn between(earliest: Minutes, best: Minutes, latest: Minutes) -> Self {
        Lasts { earliest: Minutes(earliest.0.min(best.0)), best, latest: Minutes(latest.0.max(best.0)) }
    }
}

/// The beginning or the end of a task.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Point {
    /// The first touch.
    First,
    /// When the task of this id begins.
    Start(String),
    /// When it ends.
    End(String),
}

/// A moment of the day, before it has a clock time.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Moment {
    /// What it hangs on.
    pub of: Point,
    /// So many minutes after that; before it where negative.
    pub plus: Minutes,
}

impl Moment {
    /// The first touch.
    pub fn first() -> Self {
        Moment { of: Point::First, plus: Minutes(0.0) }
    }

    /// When a task begins.
    pub fn start(id: &str) -> Self {
        Moment { of: Point::Start(id.into()), plus: Minutes(0.0) }
    }

    /// When a task ends.
    pub fn end(id: &str) -> Self {
        Moment { of: Point::End(id.into()), plus: Minutes(0.0) }
    }

    /// So many minutes later; earlier where negative.
    pub fn later(&self, minutes: f64) -> Self {
        Moment { of: self.of.clone(), plus: Minutes(self.plus.0 + minutes) }
    }
}

/// How far a short deed beside the line may be moved when hands are wanted elsewhere.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Moves {
    /// It begins at most so much sooner.
    pub sooner: Minutes,
    /// It begins at most so much later.
    pub later: Minutes,
}

impl Moves {
    /// As much either way.
    pub fn either_way(minutes: f64) -> Self {
        Moves { sooner: Minutes(minutes), later: Minutes(minutes) }
    }

    /// Only sooner, or only later.
    pub fn within(sooner: f64, later: f64) -> Self {
        Moves { sooner: Minutes(sooner.max(0.0)), later: Minutes(later.max(0.0)) }
    }
}

impl Task {
    fn new(id: String, kind: StepKind, title: String, lasts: Lasts, hands: bool) -> Self {
        let needs = Needs { hands, ..Needs::default() };
        let (detail, begins) = (String::new(), Moment::first());
        Task { id, kind, title, detail, needs, lasts, begins, moves: None }
    }

    /// Something that hands do, in so many minutes.
    pub fn deed(id: impl Into<String>, kind: StepKind, title: impl Into<String>, minutes: f64) -> Self {
        Task::new(id.into(), kind, title.into(), Lasts::just(Minutes(minutes)), true)
    }

    /// Something that goes by itself.
    pub fn wait(id: impl Into<String>, kind: StepKind, title: impl Into<String>, lasts: Lasts) -> Self {
        Task::new(id.into(), kind, title.into(), lasts, false)
    }

    /// With what to do, and the sign to look for.
    pub fn says(self, detail: impl Into<String>) -> Self {
        Task { detail: detail.into(), ..self }
    }

    /// With a place to stand in.
    pub fn stands_at(mut self, place: Celsius) -> Self {
        self.needs.place = Some(place);
        self
    }

    /// In something from here on.
    pub fn stands_in(mut self, vessel: Vessel) -> Self {
        self.needs.vessel = Some(vessel);
        self
    }

    /// With the mixer.
    pub fn in_the_mixer(mut self, mixer: bool) -> Self {
        self.needs.mixer = mixer;
        self
    }

    /// With the oven.
    pub fn in_the_oven(mut self, oven: OvenNeed) -> Self {
        self.needs.oven = Some(oven);
        self
    }
}

/// The tasks of one dough, as they are thought out: a line of what follows each other, and what goes beside it.
#[derive(Debug, Default)]
pub struct Tasks {
    tasks: Vec<Task>,
    end: Option<Moment>,
}

impl Tasks {
    /// Nothing yet.
    pub fn new() -> Self {
        Self::default()
    }

    /// When all that stands in line so far is over.
    pub fn end(&self) -> Moment {
        self.end.clone().unwrap_or_else(Moment::first)
    }

    /// After all the others in line. What takes no time is passed over.
    pub fn then(&mut self, task: Task) {
        if task.lasts.best.0 > 0.0 {
            let begins = self.end();
            self.end = Some(Moment::end(&task.id));
            self.tasks.push(Task { begins, ..task });
        }
    }

    /// Beside the line, where it may be moved for what stands in it.
    pub fn beside(&mut self, task: Task, begins: Moment, moves: Moves) {
        self.tasks.push(Task { begins, moves: Some(moves), ..task });
    }

    /// Beside the line, at its moment. What takes no time is passed over.
    pub fn alongside(&mut self, task: Task, begins: Moment) {
        if task.lasts.best.0 > 0.0 {
            self.tasks.push(Task { begins, ..task });
        }
    }

    /// All of them, as they were thought out. No wait may be ended before what is done in it is over.
    pub fn into_tasks(mut self) -> Vec<Task> {
        for n in 0..self.tasks.len() {
            let (start, end) = (Point::Start(self.tasks[n].id.clone()), Point::End(self.tasks[n].id.clone()));
            let takes = |t: &Task| match &t.begins.of {
                of if *of == start => t.begins.plus.0 + t.lasts.best.0,
                of if *of == end => -t.begins.plus.0,
                _ => 0.0,
            };
            let least = self.tasks.iter().map(takes).fold(0.0, f64::max);
            let lasts = &mut self.tasks[n].lasts;
            lasts.earliest = Minutes(lasts.earliest.0.max(least).min(lasts.best.0));
        }
        self.tasks
    }
}

/// Where hands-on steps one after the other begin, in minutes from a time at which there is room for them, when
/// all are to be over after `room` minutes: each at the minute wished for it, or as near to it as the others
/// let it. `None` where there is no room for all of them.
pub fn lead_up(chain: &[(Minutes, Minutes)], room: Minutes) -> Option<Vec<Minutes>> {
    let total: f64 = chain.iter().map(|(_, length)| length.0).sum();
    if room.0 - total < -1e-9 {
        return None;
    }
    let mut at = room.0;
    let mut placed: Vec<f64> = chain
        .iter()
        .rev()
        .map(|(wished, length)| {
            at = (at - length.0).min(wished.0).max(0.0);
            at
        })
        .collect();
    placed.reverse();
    // What was wished earlier than there is room for moves up against the next.
    let mut free = 0.0;
    for (start, (_, length)) in placed.iter_mut().zip(chain) {
        *start = start.max(free);
        free = *start + length.0;
    }
    (free <= room.0 + 1e-6).then(|| placed.into_iter().map(Minutes).collect())
}
