//! What stands in a plan already, step by step, and what is left for one more dough.

use super::blocks::{Block, Blocks, Hold, OvenUse};
use super::problem::{Problem, STEP};
use super::terms::{KEEPS_HOT, Terms};

/// A day before the plan begins: what has begun may lie there.
const BEFORE: i32 = 288;

/// What is taken, by the step.
pub(super) struct Standing<'p> {
    problem: &'p Problem,
    hands: Vec<i32>,
    mixers: Vec<Vec<i32>>,
    trays: Vec<Vec<i32>>,
    things: Vec<Vec<i32>>,
    /// What is in the ovens: whose, and when by the clock of the plan.
    baking: Vec<(usize, OvenUse)>,
}

/// A use of an oven as it stands when its block begins.
fn moved(o: &OvenUse, start: i32) -> OvenUse {
    let mut o = *o;
    o.when.from += start;
    o
}

fn place(step: i32, len: usize) -> usize {
    ((step + BEFORE).max(0) as usize).min(len)
}

fn free(taken: &[i32], from: i32, to: i32, takes: i32, room: i32) -> bool {
    taken[place(from, taken.len())..place(to, taken.len())].iter().all(|n| n + takes <= room)
}

fn add(taken: &mut [i32], from: i32, to: i32, takes: i32) {
    let len = taken.len();
    taken[place(from, len)..place(to, len)].iter_mut().for_each(|n| *n += takes);
}

impl<'p> Standing<'p> {
    /// Nothing yet.
    pub(super) fn new(problem: &'p Problem) -> Self {
        let none = vec![0; (problem.length + 2 * BEFORE).max(1) as usize];
        let mut hands = none.clone();
        for (from, to) in &problem.one_less {
            add(&mut hands, *from, *to, 1);
        }
        let mixers = problem.lanes.iter().map(|l| l.mixer + 1).max().unwrap_or(1);
        Standing {
            problem,
            mixers: vec![none.clone(); mixers],
            trays: vec![none.clone(); problem.ovens.len()],
            things: vec![none.clone(); problem.things.len()],
            hands,
            baking: Vec::new(),
        }
    }

    fn room_of(&self, oven: usize) -> i32 {
        self.problem.ovens.get(oven).copied().unwrap_or(1).max(1)
    }

    /// Whether a block of a lane may begin at a step, beside what stands.
    pub(super) fn fits(&self, lane: usize, block: &Block, start: i32) -> bool {
        let Some(of) = self.problem.lanes.get(lane) else { return true };
        let one = |taken: &[i32], u: &super::blocks::Use, room: i32| {
            free(taken, start + u.from, start + u.from + u.lasts, 1, room)
        };
        let room = self.room_of(of.oven);
        block.hands.iter().all(|u| one(&self.hands, u, self.problem.hands.max(1)))
            && block.mixer.iter().all(|u| one(&self.mixers[of.mixer], u, 1))
            && block.oven.iter().map(|o| moved(o, start)).all(|o| {
                let (from, to) = (o.when.from, o.when.from + o.when.lasts);
                free(&self.trays[of.oven], from, to, o.trays.min(room), room)
                    && self.baking.iter().filter(|(l, _)| *l != lane && self.oven_of(*l) == of.oven).all(
                        |(_, b)| {
                            b.shares(&o)
                                || to + o.before(b) <= b.when.from
                                || b.when.from + b.when.lasts + b.before(&o) <= from
                        },
                    )
            })
    }

    fn oven_of(&self, lane: usize) -> usize {
        self.problem.lanes.get(lane).map_or(0, |l| l.oven)
    }

    /// How often the oven would have to be heated for a block that begins at a step.
    pub(super) fn heats(&self, lane: usize, block: &Block, start: i32) -> i32 {
        let oven = self.oven_of(lane);
        let here = || self.baking.iter().filter(|(l, _)| self.oven_of(*l) == oven);
        let cold = |o: &OvenUse| !here().any(|(_, b)| keeps_hot(b, o));
        block.oven.iter().map(|o| moved(o, start)).filter(cold).count() as i32
    }

    /// For each step, the last to which a thing has room from there on, for so much.
    pub(super) fn has_room_until(&self, hold: &Hold) -> RoomUntil {
        let (taken, room) = (&self.things[hold.thing], self.problem.things[hold.thing]);
        let mut until = vec![taken.len() as i32; taken.len() + 1];
        for n in (0..taken.len()).rev() {
            until[n] = if taken[n] + hold.takes.min(room) > room { n as i32 } else { until[n + 1] };
        }
        RoomUntil(until)
    }

    /// Puts a dough there; whether all of it has room, beside itself too.
    pub(super) fn take(&mut self, lane: usize, blocks: &Blocks, starts: &[i32]) -> bool {
        let mut fits = true;
        let (oven, mixer) = self.problem.lanes.get(lane).map_or((0, 0), |l| (l.oven, l.mixer));
        let room = self.room_of(oven);
        for ((block, start), given) in blocks.blocks.iter().zip(starts).zip(&blocks.given) {
            // What has begun is where it is, whatever stands beside it.
            fits &= given.is_some() || self.fits(lane, block, *start);
            for u in &block.hands {
                add(&mut self.hands, start + u.from, start + u.from + u.lasts, 1);
            }
            for u in &block.mixer {
                add(&mut self.mixers[mixer], start + u.from, start + u.from + u.lasts, 1);
            }
            for o in block.oven.iter().map(|o| moved(o, *start)) {
                add(&mut self.trays[oven], o.when.from, o.when.from + o.when.lasts, o.trays.min(room));
                self.baking.push((lane, o));
            }
        }
        for hold in &blocks.holds {
            let (from, to) = hold.steps(starts);
            let room = self.problem.things[hold.thing];
            let begun = blocks.given[hold.from.block].and(blocks.given[hold.to.block]).is_some();
            let takes = hold.takes.min(room);
            fits &= begun || free(&self.things[hold.thing], from, to, takes, room);
            add(&mut self.things[hold.thing], from, to, takes);
        }
        fits
    }
}

/// To which step a thing has room, from each step on.
pub(super) struct RoomUntil(Vec<i32>);

impl RoomUntil {
    /// The last step to which it has from one on.
    pub(super) fn last(&self, from: i32) -> i32 {
        let len = self.0.len() - 1;
        let until = self.0[place(from, len)];
        // What is past the end of the days is not asked.
        if until as usize == len { i32::MAX / 4 } else { from.max(until - BEFORE) }
    }

    /// Whether it has from one step to another.
    pub(super) fn holds(&self, from: i32, to: i32) -> bool {
        to <= self.last(from)
    }
}

/// Whether an oven is still hot from one bake when the other begins.
fn keeps_hot(before: &OvenUse, after: &OvenUse) -> bool {
    before.when.from <= after.when.from && after.when.from <= before.when.from + before.when.lasts + KEEPS_HOT
}

/// How often ovens are heated in a plan: for each bake that finds its oven cold.
pub(super) fn heatings(problem: &Problem, all: &[Blocks], starts: &[Vec<i32>]) -> i32 {
    let mut baking: Vec<(usize, OvenUse)> = Vec::new();
    for (lane, (blocks, starts)) in all.iter().zip(starts).enumerate() {
        let oven = problem.lanes.get(lane).map_or(0, |l| l.oven);
        for (block, start) in blocks.blocks.iter().zip(starts) {
            baking.extend(block.oven.iter().map(|o| (oven, moved(o, *start))));
        }
    }
    let cold = |n: &usize| {
        let (oven, o) = &baking[*n];
        // Of two that go in together one finds it cold.
        let hot = |m: usize| {
            let (other, b) = &baking[m];
            other == oven && m != *n && keeps_hot(b, o) && (b.when.from < o.when.from || m < *n)
        };
        !(0..baking.len()).any(hot)
    };
    (0..baking.len()).filter(cold).count() as i32
}

/// When something may go into an oven.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) struct Bakes {
    oven: usize,
    /// At this step at the soonest.
    first: i32,
    /// To this step at the latest the oven is hot from it.
    hot_until: i32,
}

/// When a dough bakes, by itself.
pub(super) fn bakes(blocks: &Blocks, terms: &Terms) -> Vec<Bakes> {
    let mut all = Vec::new();
    for (block, open) in blocks.blocks.iter().zip(&terms.open) {
        if let (Some((first, _)), Some((last, _))) = (open.first(), open.last()) {
            all.extend(block.oven.iter().map(|o| Bakes {
                oven: blocks.oven,
                first: first + o.when.from,
                hot_until: last + o.when.from + o.when.lasts + KEEPS_HOT,
            }));
        }
    }
    all
}

/// How often ovens are heated at the least for some bakes, whenever each begins: what cannot be hot from any before it
/// is a heating of its own.
pub(super) fn heatings_at_least(mut bakes: Vec<Bakes>) -> i32 {
    bakes.sort_unstable();
    let (mut heated, mut hot) = (0, None);
    for Bakes { oven, first, hot_until } in bakes {
        match &mut hot {
            Some((same, until)) if *same == oven && first <= *until => *until = hot_until.max(*until),
            _ => {
                heated += 1;
                hot = Some((oven, hot_until));
            }
        }
    }
    heated
}

impl Hold {
    /// From and to which step it is taken up, by the starts of the blocks.
    pub(super) fn steps(&self, starts: &[i32]) -> (i32, i32) {
        self.between(starts[self.from.block], starts[self.to.block])
    }

    /// The same by the starts of its two blocks.
    pub(super) fn between(&self, first: i32, last: i32) -> (i32, i32) {
        let from = first + (self.from.minutes / STEP + 1e-9).floor() as i32;
        let to = last + (self.to.minutes / STEP - 1e-9).ceil() as i32;
        (from, to.max(from))
    }
}
