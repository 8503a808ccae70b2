//! In how many of a hundred such days a plan holds: the rises of each are longer or shorter, as far as they are not
//! known, and the baker does what is next when the dough is ready, at its time where it can wait.

use schemars::JsonSchema;
use serde::Serialize;

use super::blocks::Blocks;
use super::problem::{Lane, Problem, STEP, Solved, Wanted};
use super::ways::Doubtful;

/// How many days are tried.
const DAYS: u32 = 300;
/// How late a bread may be and still be in time, min.
const IN_TIME: f64 = 30.0;
/// How late a baker comes to a dough that has waited, min on average: now and then much more (common practice, no
/// source).
const LATE: f64 = 5.0;
/// How far two deeds may run into each other, min: a dough waits so long.
const SLACK: f64 = 15.0;

/// How sure a plan is.
#[derive(Clone, Debug, Default, PartialEq, Serialize, JsonSchema)]
pub struct Chance {
    /// In how many of a hundred days nobody is woken and all bread is there in time.
    pub holds: f64,
    /// Which wait goes wrong most often, where one does: the lane and the id of its task.
    pub tight: Option<(usize, String)>,
}

/// A sequence that is the same for the same plan.
struct Dice(u64);

impl Dice {
    fn next(&mut self) -> f64 {
        // Constants of Knuth's MMIX generator.
        self.0 = self.0.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        ((self.0 >> 11) as f64 + 0.5) / (1u64 << 53) as f64
    }

    /// How late a baker is once, min.
    fn late(&mut self) -> f64 {
        -LATE * self.next().ln()
    }

    /// Of the standard normal distribution, by Box and Muller.
    fn normal(&mut self) -> f64 {
        (-2.0 * self.next().ln()).sqrt() * (std::f64::consts::TAU * self.next()).cos()
    }
}

/// Tries a plan on many days.
pub fn chance(problem: &Problem, doubtful: &[&[Doubtful]], plan: &Solved) -> Chance {
    let all: Vec<Blocks> = problem.lanes.iter().map(Blocks::of).collect();
    let mut dice = Dice(0x5EED);
    let mut held = 0u32;
    let mut wrong: Vec<((usize, usize), u32)> = Vec::new();
    for _ in 0..DAYS {
        let mut failed = None;
        let mut hands: Vec<Touch> = Vec::new();
        for (n, blocks) in all.iter().enumerate() {
            // One dough is quick or slow as a whole: its kitchen, its flour, its yeast.
            let pace = dice.normal();
            let lane = &problem.lanes[n];
            let day = one_day(lane, blocks, &plan.lanes[n], doubtful[n], pace, problem, &mut dice);
            failed = failed.or(day.failed.map(|task| (n, task)));
            hands.extend(day.touches.into_iter().map(|t| Touch { lane: n, ..t }));
        }
        failed = failed.or_else(|| crowded(&mut hands, problem.hands.max(1) as usize));
        match failed {
            None => held += 1,
            Some(at) => match wrong.iter_mut().find(|(w, _)| *w == at) {
                Some((_, count)) => *count += 1,
                None => wrong.push((at, 1)),
            },
        }
    }
    let tight = wrong.into_iter().max_by_key(|(_, count)| *count);
    Chance {
        holds: 100.0 * f64::from(held) / f64::from(DAYS),
        tight: tight
            .and_then(|((lane, task), _)| Some((lane, problem.lanes[lane].tasks.get(task)?.id.clone()))),
    }
}

/// Something that hands do on one day.
#[derive(Clone, Copy)]
struct Touch {
    lane: usize,
    /// The task whose wait it ends, or itself.
    task: usize,
    /// From when to when, min.
    from: f64,
    to: f64,
    /// How long it may still wait, min.
    room: f64,
}

/// Where hands are wanted for too much at once: the dough that cannot wait for its turn, and its task.
fn crowded(touches: &mut [Touch], pairs: usize) -> Option<(usize, usize)> {
    touches.sort_by(|a, b| a.from.total_cmp(&b.from));
    let mut free_from = vec![f64::NEG_INFINITY; pairs];
    for t in touches {
        let first = free_from.iter_mut().min_by(|a, b| a.total_cmp(b))?;
        let waits = (*first - t.from).max(0.0);
        if waits > t.room + SLACK {
            return Some((t.lane, t.task));
        }
        *first = t.to + waits;
    }
    None
}

/// How a lane went on one day.
struct Went {
    /// The task whose wait made it fail, where it did.
    failed: Option<usize>,
    /// What hands did.
    touches: Vec<Touch>,
}

/// One lane on one day.
fn one_day(
    lane: &Lane,
    blocks: &Blocks,
    placed: &[super::problem::Placed],
    doubtful: &[Doubtful],
    pace: f64,
    problem: &Problem,
    dice: &mut Dice,
) -> Went {
    let planned = |id: &str| placed.iter().find(|p| p.id == id);
    // How much later each block is than planned, min.
    let mut later = vec![0.0_f64; blocks.blocks.len()];
    // And how long it may wait beyond that.
    let mut room = vec![0.0_f64; blocks.blocks.len()];
    let mut blame: Option<usize> = None;
    for (n, task) in lane.tasks.iter().enumerate() {
        let (start, end) = blocks.tasks[n];
        if start.minutes.is_nan() || end.block == start.block {
            continue;
        }
        let Some(p) = planned(&task.id) else { continue };
        let factor = doubtful.iter().find(|d| d.id == task.id).map_or(1.0, |d| (d.sigma * pace).exp());
        let begins = p.start + later[start.block];
        let (soonest, latest) =
            (begins + factor * task.lasts.earliest.0, begins + factor * task.lasts.latest.0);
        let wished = p.start + p.length + dice.late();
        let ends = wished.clamp(soonest, latest.max(soonest));
        let planned = p.start + p.length;
        later[end.block] = ends - planned;
        room[end.block] = (latest - ends).max(0.0);
        if (ends - planned).abs() > SLACK {
            blame.get_or_insert(n);
        }
    }
    // What may be shifted goes with what it hangs on.
    for link in blocks.links.iter().filter(|l| !l.waits) {
        later[link.to] = later[link.from];
        room[link.to] = SLACK;
    }
    let mut touches = Vec::new();
    let any = blame.or_else(|| lane.tasks.iter().position(|t| doubtful.iter().any(|d| d.id == t.id)));
    for (n, task) in lane.tasks.iter().enumerate() {
        let (start, _) = blocks.tasks[n];
        if start.minutes.is_nan() || !task.needs.hands {
            continue;
        }
        let Some(p) = planned(&task.id) else { continue };
        let shift = later[start.block];
        let (from, to) = (p.start + shift, p.start + shift + p.length);
        touches.push(Touch { lane: 0, task: blame.unwrap_or(n), from, to, room: room[start.block] });
        if shift.abs() <= SLACK {
            continue;
        }
        let (from, to) = ((p.start + shift) / STEP, (p.start + shift + p.length) / STEP);
        let shut = |c: &&super::problem::Closed| {
            to.min(f64::from(c.to)) - from.max(f64::from(c.from)) > f64::from(c.spares) + 1e-6
        };
        if problem.closed.iter().any(|c| shut(&c)) {
            return Went { failed: any, touches };
        }
    }
    let Some(ready) = blocks.ready else { return Went { failed: None, touches } };
    let shift = later[ready.block];
    let too_late = match lane.wanted {
        Wanted::At(_) => shift.abs() > IN_TIME,
        Wanted::By(_) => shift > IN_TIME,
        Wanted::AnyTime | Wanted::NotBefore(_) => false,
    };
    Went { failed: any.filter(|_| too_late), touches }
}
