//! Tasks of one dough as blocks: what has a fixed distance from each other moves together, and blocks are held to each
//! other by waits that give.

use super::problem::{Lane, Problem, STEP, TOGETHER, Wanted, Within};
use crate::day::{Moment, Point, StepKind, Task};
use crate::words::Air;

/// A wait that gives by less than this is as long as it is best, min.
const STIFF: f64 = 10.0;

/// The most that a deed beside the line is shifted, min: an oven is not heated for a night.
const SHIFTS: f64 = 60.0;

/// Something that is taken up, in steps from where its block begins.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Use {
    /// From this step on.
    pub from: i32,
    /// For so many steps.
    pub lasts: i32,
}

/// The oven while something is in it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct OvenUse {
    /// When.
    pub when: Use,
    /// Its setting, °C.
    pub dial: f64,
    /// Its air.
    pub air: Air,
    /// How many trays.
    pub trays: i32,
    /// For how many steps it heats from cold before it goes in.
    pub heats: i32,
    /// Whether what it bakes in heats with it from cold, as a pot does.
    pub pot: bool,
}

/// Steps between two bakes at one setting of which one wants steam.
const AIRS: i32 = 2;
/// By how much an oven with its door ajar falls in a step, K (common practice, no source).
const FALLS: f64 = 25.0;
/// From where an oven heats, °C.
const COLD: f64 = 20.0;

impl OvenUse {
    /// Whether another bakes beside it: at its setting, in its air.
    pub(super) fn shares(&self, other: &OvenUse) -> bool {
        self.near(other) && self.air.suits(other.air)
    }

    fn near(&self, other: &OvenUse) -> bool {
        (self.dial - other.dial).abs() <= TOGETHER
    }

    /// How long after this one is out another may go in that does not bake beside it, in steps: the oven heats on, or
    /// falls; a pot heats as long as from cold.
    pub(super) fn before(&self, next: &OvenUse) -> i32 {
        if self.near(next) {
            return AIRS;
        }
        let part = (next.dial - self.dial) / (next.dial - COLD).max(1.0);
        match part > 0.0 {
            _ if next.pot => next.heats.max(AIRS),
            true => ((f64::from(next.heats) * part).ceil() as i32).max(AIRS),
            false => (((self.dial - next.dial) / FALLS).ceil() as i32).max(AIRS),
        }
    }
}

/// Tasks that move together.
#[derive(Clone, Debug, Default)]
pub struct Block {
    /// When hands are wanted.
    pub hands: Vec<Use>,
    /// When the mixer is.
    pub mixer: Vec<Use>,
    /// When the oven is.
    pub oven: Vec<OvenUse>,
    /// The first step before its beginning, and the last after it, that it takes up.
    pub reach: (i32, i32),
}

/// How far one block begins after another, in steps.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Link {
    /// The block before.
    pub from: usize,
    /// The block after.
    pub to: usize,
    /// At the soonest.
    pub earliest: i32,
    /// At best.
    pub best: i32,
    /// At the latest.
    pub latest: i32,
    /// Whether it is a wait of the dough, and not a deed that may be shifted.
    pub waits: bool,
}

/// Where a moment lies: so many minutes after a block begins.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct At {
    /// The block.
    pub block: usize,
    /// Minutes after its beginning.
    pub minutes: f64,
}

/// A thing that is taken up over more than one block: a place, a pan.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Hold {
    /// Which of the problem's things.
    pub thing: usize,
    /// From here on.
    pub from: At,
    /// To here.
    pub to: At,
    /// How much of its room.
    pub takes: i32,
}

/// One dough in blocks.
#[derive(Clone, Debug, Default)]
pub struct Blocks {
    /// Its blocks.
    pub blocks: Vec<Block>,
    /// What holds them together.
    pub links: Vec<Link>,
    /// Which oven it bakes in.
    pub oven: usize,
    /// What is taken up from one block to another.
    pub holds: Vec<Hold>,
    /// Where each task begins and ends, in the order of the tasks.
    pub tasks: Vec<(At, At)>,
    /// When the bread is ready to cut.
    pub ready: Option<At>,
    /// When the bread is wanted.
    pub wanted: Wanted,
    /// Blocks that have begun, and at which step.
    pub given: Vec<Option<i32>>,
    /// Steps at which a block is wanted to begin, and at no other.
    pub pinned: Vec<(usize, i32)>,
    /// When the first block may begin.
    pub begins: Within,
}

fn steps(minutes: f64) -> i32 {
    (minutes / STEP).round() as i32
}

fn first_step(minutes: f64) -> i32 {
    (minutes / STEP + 1e-9).floor() as i32
}

fn last_step(minutes: f64) -> i32 {
    (minutes / STEP - 1e-9).ceil() as i32
}

impl Blocks {
    /// A dough in blocks. A task that hangs on one that is not there is left out.
    pub fn of(lane: &Lane) -> Blocks {
        let mut all = Blocks {
            wanted: lane.wanted,
            oven: lane.oven,
            begins: lane.begins.clone(),
            blocks: vec![Block::default()],
            ..Blocks::default()
        };
        let nowhere = At { block: 0, minutes: f64::NAN };
        all.tasks = vec![(nowhere, nowhere); lane.tasks.len()];
        let mut waiting: Vec<usize> = (0..lane.tasks.len()).collect();
        // What stands still goes first, then what may be moved.
        while let Some(next) = {
            let known = |n: &usize| all.at(&lane.tasks, &lane.tasks[*n].begins).is_some();
            let still = waiting.iter().position(|n| lane.tasks[*n].moves.is_none() && known(n));
            still.or_else(|| waiting.iter().position(known))
        } {
            let n = waiting.remove(next);
            all.place(&lane.tasks, n);
        }
        all.take_up(&lane.tasks);
        all.given = vec![None; all.blocks.len()];
        for (id, began) in &lane.fixed {
            let Some(n) = lane.tasks.iter().position(|t| t.id == *id) else { continue };
            let (At { block, minutes }, _) = all.tasks[n];
            // Of several in one block the first is what it begins by.
            if !minutes.is_nan() && all.given[block].is_none() {
                all.given[block] = Some(steps(began - minutes));
            }
        }
        for (id, step) in &lane.pinned {
            let n = lane.tasks.iter().position(|t| t.id == *id);
            if let Some((At { block, minutes }, _)) =
                n.map(|n| all.tasks[n]).filter(|(a, _)| !a.minutes.is_nan())
            {
                all.pinned.push((block, step - steps(minutes)));
            }
        }
        for hold in &lane.holds {
            let of = |id: &str| {
                let n = lane.tasks.iter().position(|t| t.id == id)?;
                Some(all.tasks[n]).filter(|(start, _)| !start.minutes.is_nan())
            };
            if let (Some((from, _)), Some((_, to))) = (of(&hold.from), of(&hold.to)) {
                all.holds.push(Hold { thing: hold.thing, from, to, takes: hold.takes });
            }
        }
        let over = |kinds: &dyn Fn(StepKind) -> bool| {
            let placed =
                lane.tasks.iter().zip(&all.tasks).filter(|(t, (a, _))| kinds(t.kind) && !a.minutes.is_nan());
            placed.map(|(_, (_, end))| *end).last()
        };
        all.ready = over(&|k| k == StepKind::Cool).or_else(|| over(&|_| true));
        all
    }

    /// What hangs on something that has begun and cannot be done in its time any more, for nobody is there: it stands where
    /// it should have been, and is left out; which blocks that are.
    pub fn miss(&mut self, problem: &Problem) -> Vec<usize> {
        let mut missed = Vec::new();
        for link in self.links.clone().into_iter().filter(|l| !l.waits) {
            let (Some(began), None) = (self.given[link.from], self.given[link.to]) else { continue };
            let there = |start: &i32| {
                self.blocks[link.to].hands.iter().all(|u| {
                    let (from, to) = (start + u.from, start + u.from + u.lasts);
                    problem.closed.iter().all(|c| to.min(c.to) - from.max(c.from) <= c.spares.max(0))
                })
            };
            let latest = began + link.latest;
            let soonest = (began + link.earliest).max(problem.begins - self.blocks[link.to].reach.0);
            if soonest > latest || !(soonest..=latest).any(|start| there(&start)) {
                self.given[link.to] = Some(began + link.best);
                missed.push(link.to);
            }
        }
        missed
    }

    fn at(&self, tasks: &[Task], moment: &Moment) -> Option<At> {
        let of = |id: &str| {
            let n = tasks.iter().position(|t| t.id == id)?;
            Some(self.tasks[n]).filter(|(start, _)| !start.minutes.is_nan())
        };
        let at = match &moment.of {
            Point::First => At { block: 0, minutes: 0.0 },
            Point::Start(id) => of(id)?.0,
            Point::End(id) => of(id)?.1,
        };
        Some(At { minutes: at.minutes + moment.plus.0, ..at })
    }

    fn place(&mut self, tasks: &[Task], n: usize) {
        let task = &tasks[n];
        let Some(mut start) = self.at(tasks, &task.begins) else { return };
        if let Some(moves) = task.moves {
            let best = steps(start.minutes);
            let far = |minutes: f64| (minutes.min(SHIFTS) / STEP).floor() as i32;
            let (earliest, latest) = (best - far(moves.sooner.0), best + far(moves.later.0));
            // What cannot be moved by a step is done in one go with what it stands beside.
            if earliest == latest {
                self.stand(tasks, n, start);
                return;
            }
            start = self.new_block(Link { from: start.block, to: 0, earliest, best, latest, waits: false });
        }
        self.stand(tasks, n, start);
    }

    /// Notes where a task stands, and where it ends.
    fn stand(&mut self, tasks: &[Task], n: usize, start: At) {
        let task = &tasks[n];
        let lasts = task.lasts;
        let gives =
            lasts.latest.0 - lasts.earliest.0 >= STIFF && task.kind != StepKind::Cool && !task.needs.hands;
        let end = if gives {
            let best = steps(start.minutes + lasts.best.0);
            let earliest = last_step(start.minutes + lasts.earliest.0).min(best);
            let latest = first_step(start.minutes + lasts.latest.0).max(best);
            self.new_block(Link { from: start.block, to: 0, earliest, best, latest, waits: true })
        } else {
            At { minutes: start.minutes + lasts.best.0, ..start }
        };
        self.tasks[n] = (start, end);
    }

    fn new_block(&mut self, link: Link) -> At {
        let block = self.blocks.len();
        self.blocks.push(Block::default());
        self.links.push(Link { to: block, ..link });
        At { block, minutes: 0.0 }
    }

    /// Notes what every block takes up.
    fn take_up(&mut self, tasks: &[Task]) {
        for (task, (start, end)) in tasks.iter().zip(&self.tasks) {
            if start.minutes.is_nan() {
                continue;
            }
            let block = &mut self.blocks[start.block];
            let length = if end.block == start.block { end.minutes - start.minutes } else { 0.0 };
            let from = first_step(start.minutes);
            let when = Use { from, lasts: (last_step(start.minutes + length) - from).max(1) };
            block.reach = (block.reach.0.min(from), block.reach.1.max(from + when.lasts));
            if task.needs.hands {
                merge(&mut block.hands, when);
            }
            if task.needs.mixer {
                merge(&mut block.mixer, when);
            }
            if let Some(need) = task.needs.oven {
                let (dial, air, trays) = (need.dial.0, need.air, need.trays as i32);
                let (heats, pot) = (last_step(need.preheat.0), need.pot);
                match block.oven.last_mut() {
                    Some(last)
                        if (last.dial - dial).abs() < 1.0
                            && last.air == air
                            && from <= last.when.from + last.when.lasts
                            && last.when.from <= from =>
                    {
                        last.when.lasts = last.when.lasts.max(from + when.lasts - last.when.from);
                        last.trays = last.trays.max(trays);
                    }
                    _ => block.oven.push(OvenUse { when, dial, air, trays, heats, pot }),
                }
            }
        }
    }
}

/// Adds a use to those of a block; what touches is one.
fn merge(uses: &mut Vec<Use>, new: Use) {
    uses.push(new);
    uses.sort_by_key(|u| u.from);
    let mut merged: Vec<Use> = Vec::with_capacity(uses.len());
    for u in uses.iter() {
        match merged.last_mut() {
            Some(last) if u.from <= last.from + last.lasts => {
                last.lasts = last.lasts.max(u.from + u.lasts - last.from);
            }
            _ => merged.push(*u),
        }
    }
    *uses = merged;
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::day::{Lasts, Moves, Tasks};
    use crate::units::Minutes;

    #[test]
    fn what_has_a_fixed_distance_moves_together() {
        let mut day = Tasks::new();
        day.then(Task::deed("mix", StepKind::Mix, "Mix", 18.0));
        let rise = Lasts::between(Minutes(80.0), Minutes(95.0), Minutes(130.0));
        day.then(Task::wait("bulk", StepKind::Bulk, "Bulk", rise));
        day.then(Task::deed("shape", StepKind::Shape, "Shape", 12.0));
        let on = Task::deed("oven-on", StepKind::Oven, "Oven on", 1.0);
        day.beside(on, Moment::end("bulk").later(-30.0), Moves::within(20.0, 0.0));
        let tasks = day.into_tasks();
        let lane = Lane { tasks, wanted: Wanted::AnyTime, ..Lane::default() };
        let blocks = Blocks::of(&lane);
        assert_eq!(blocks.blocks.len(), 3, "mix; shape; oven on");
        assert_eq!(blocks.blocks[0].hands, [Use { from: 0, lasts: 4 }]);
        let wait = blocks.links.iter().find(|l| l.waits).unwrap();
        // 98, 113 and 148 min after the block of the mix begins.
        assert_eq!((wait.earliest, wait.best, wait.latest), (20, 23, 29));
        let shift = blocks.links.iter().find(|l| !l.waits).unwrap();
        assert_eq!((shift.earliest, shift.best, shift.latest), (-10, -6, -6));
    }
}
