//! What is to be planned, as plain figures: the tasks of each dough, one household's hands and things, and the hours
//! in which nobody is at the bench. Times are in steps of five minutes from the beginning of the plan.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::day::Task;

/// Minutes of a step.
pub const STEP: f64 = 5.0;

/// One dough as it is to be laid on the clock: its tasks in one of its ways, and when its bread is wanted.
#[derive(Clone, Debug, Default, PartialEq, Serialize, JsonSchema)]
pub struct Lane {
    /// What is to be done for it.
    pub tasks: Vec<Task>,
    /// When the bread is wanted, ready to cut.
    pub wanted: Wanted,
    /// Tasks that have begun, and when, in minutes from the beginning of the plan: they are not asked whether they may.
    pub fixed: Vec<(String, f64)>,
    /// Tasks that are wanted at a step and nowhere else.
    pub pinned: Vec<(String, i32)>,
    /// Which oven it bakes in, by its number.
    pub oven: usize,
    /// Which mixer it is mixed in, by its number.
    pub mixer: usize,
    /// What it takes up for longer than a task: a place while it rises, the pan that it is baked in.
    pub holds: Vec<LaneHold>,
    /// When it may begin.
    #[serde(skip)]
    pub begins: Within,
}

/// Steps of a plan at which a dough may begin.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Within {
    /// From the first to the last of these and at no other; at any where it is none.
    pub only: Option<(i32, i32)>,
    /// From the first to the last of each of these never.
    pub never: Vec<(i32, i32)>,
}

impl Within {
    /// Whether a step is one of them.
    pub fn has(&self, step: i32) -> bool {
        let within = |(first, last): &(i32, i32)| (*first..=*last).contains(&step);
        self.only.as_ref().is_none_or(within) && !self.never.iter().any(within)
    }
}

/// A thing of the household that a dough takes up from the beginning of one task to the end of another.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct LaneHold {
    /// Which of the problem's things.
    pub thing: usize,
    /// The first task, by its id.
    pub from: String,
    /// The last.
    pub to: String,
    /// How much of its room: tubs, litres, pans.
    pub takes: i32,
}

/// When a bread is wanted, in steps from the beginning of the plan.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(tag = "wanted", content = "at", rename_all = "kebab-case")]
pub enum Wanted {
    /// Whenever it comes.
    #[default]
    AnyTime,
    /// At this step, or up to half an hour to either side.
    At(i32),
    /// At this step at the latest.
    By(i32),
    /// At this step at the soonest.
    NotBefore(i32),
}

/// Hours in which there are no hands.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Closed {
    /// From this step on.
    pub from: i32,
    /// To this step, which is open again.
    pub to: i32,
    /// How many steps hands can be had in it all the same, if need be.
    #[serde(default)]
    pub spares: i32,
    /// Whether it is sleep.
    #[serde(default)]
    pub sleep: bool,
    /// Whether it is so whatever is given up: it has come.
    #[serde(default)]
    pub certain: bool,
}

/// What may be given up, each at what it costs a household: a plan for which something is given up is nearest to what was
/// asked.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Gives {
    /// The times at which breads are wanted.
    pub times: bool,
    /// The times that are set for steps.
    pub pins: bool,
    /// Sleep.
    pub sleep: bool,
    /// The hours away.
    pub away: bool,
}

impl Gives {
    /// All of it.
    pub const ALL: Gives = Gives { times: true, pins: true, sleep: true, away: true };
}

/// All that is planned together.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Problem {
    /// The first step at which anything may begin.
    pub begins: i32,
    /// How many steps the plan has.
    pub length: i32,
    /// The doughs.
    pub lanes: Vec<Lane>,
    /// Hours without hands.
    pub closed: Vec<Closed>,
    /// How many pairs of hands there are at most, 1 or 2.
    pub hands: i32,
    /// From which step to which one pair of them is missing.
    pub one_less: Vec<(i32, i32)>,
    /// How many trays bake at a time in each oven.
    pub ovens: Vec<i32>,
    /// Ovens that are wanted by others: which, from which step, and to which.
    pub oven_taken: Vec<(usize, i32, i32)>,
    /// How much room each further thing has: tubs of a place, litres of the fridge, pans of a kind.
    pub things: Vec<i32>,
    /// What may be given up.
    #[serde(skip)]
    pub gives: Gives,
}

/// How near to each other two settings of an oven are for what bakes in it together, K.
pub const TOGETHER: f64 = 10.0;

/// Where a task stands in a plan.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Placed {
    /// The task, by its id.
    pub id: String,
    /// When it begins, in minutes from the beginning of the plan.
    pub start: f64,
    /// How long it lasts in this plan, min.
    pub length: f64,
}

/// What a plan costs, each in its own unit; the smaller the better, the first counts most.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Costs {
    /// How far breads are from when they are wanted, min in all.
    pub off_wish: f64,
    /// Minutes of hands that are taken from sleep or absence.
    pub spared: f64,
    /// How far waits are from their best, each as a part of the way to where it would be too early or too late.
    pub off_best: f64,
    /// How often an oven is heated.
    pub heatings: u32,
    /// From the first touch to the last bread, min.
    pub span: f64,
}

/// A plan for all lanes.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Solved {
    /// Where each task of each lane stands, in the order of the lanes and of their tasks.
    pub lanes: Vec<Vec<Placed>>,
    /// What the search made small.
    pub cost: i32,
    /// What no plan can be under.
    pub bound: i32,
    /// The same by what it is made of.
    pub costs: Costs,
    /// Whether it is proved that there is no better one; otherwise it is the best that was found.
    pub proved: bool,
}

/// How a search came out.
#[derive(Clone, Debug, PartialEq)]
pub enum Outcome {
    /// A plan.
    Found(Solved),
    /// There is none: proved.
    Impossible,
    /// None was found in as many steps as were allowed, and none is ruled out.
    GaveUp,
}
