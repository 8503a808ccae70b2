//! In how many of a hundred such days a plan holds: the rises of each are longer or shorter, as far as they are not
//! known, and the baker does what is next when the dough is ready, at its time where it can wait. Where that goes wrong,
//! the day goes on as a baker would have it: a dough that is ready too soon, or in the night, is held in the fridge, and
//! a slow one finished in the warmest place. A bread that is gone on with before it is ready does not hold, and a dough
//! that is knocked back is another bread: neither counts.

use schemars::JsonSchema;
use serde::Serialize;

use super::blocks::Blocks;
use super::problem::{Closed, Lane, Placed, Problem, STEP, Solved, Wanted};
use super::way_out::{HALF_WAY, HELD, WayOut};
use super::ways::Doubtful;
use crate::day::Task;

/// How many days are tried.
const DAYS: u32 = 300;
/// How late a bread may be and still be in time, min.
const IN_TIME: f64 = 30.0;
/// How late a baker comes to a dough that has waited, min on average: now and then much more (common practice, no
/// source).
const LATE: f64 = 5.0;
/// How far two deeds may run into each other, min: a dough waits so long.
const SLACK: f64 = 15.0;

/// How long it takes to carry a dough to the fridge, min.
const TAKES: f64 = 5.0;
/// For how long somebody is looked for who is there again, in steps: a night.
const NIGHT: i32 = 144;

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
            let lane = &problem.lanes[n];
            // One dough is quick or slow as a whole: its kitchen, its flour, its yeast.
            let pace = dice.normal();
            let late: Vec<f64> = lane.tasks.iter().map(|_| dice.late()).collect();
            let day =
                Day { problem, lane, blocks, placed: &plan.lanes[n], doubtful: doubtful[n], pace, late };
            let mut went = day.goes(false);
            if went.failed.is_some() {
                went = day.goes(true);
            }
            failed = failed.or(went.failed.map(|task| (n, task)));
            hands.extend(went.touches.into_iter().map(|t| Touch { lane: n, ..t }));
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
struct Day<'a> {
    problem: &'a Problem,
    lane: &'a Lane,
    blocks: &'a Blocks,
    placed: &'a [Placed],
    doubtful: &'a [Doubtful],
    /// How quick or slow its rises are, in standard deviations.
    pace: f64,
    /// How late the baker comes at the end of each task, min.
    late: Vec<f64>,
}

/// A wait on one day, min from the beginning of the plan.
struct Waits {
    begins: f64,
    soonest: f64,
    latest: f64,
    /// When it is best ended, as far as its dough goes.
    best: f64,
    /// When the baker comes.
    wished: f64,
    /// How much longer or shorter it is than planned, times.
    factor: f64,
}

impl Day<'_> {
    fn planned(&self, id: &str) -> Option<&Placed> {
        self.placed.iter().find(|p| p.id == id)
    }

    /// Whether hands are there at a minute, or can be had.
    fn open(&self, at: f64) -> bool {
        let (from, to) = (at / STEP, (at + TAKES) / STEP);
        !self.problem.closed.iter().any(|c| shuts(c, from, to))
    }

    /// When a wait ends: when the baker comes, as far as the dough can wait for that; and, where the day goes on by other
    /// ways, what is made of it in the fridge or in the warmest place. With it, how long it was held cold.
    fn ends(&self, w: &Waits, way_out: Option<&WayOut>) -> (f64, f64) {
        let ends = w.wished.clamp(w.soonest, w.latest.max(w.soonest));
        let Some(way_out) = way_out else { return (ends, 0.0) };
        let mut ends = ends;
        if let Some(part) = way_out.warmed.filter(|_| w.soonest > w.wished && self.open(w.wished)) {
            ends = w.wished + part * (w.soonest - w.wished);
        }
        let wanted = match w.wished > ends {
            true => w.wished,
            false if self.open(ends) => return (ends, 0.0),
            // As soon as somebody is there again.
            false => {
                let later = (1..=NIGHT).map(|n| ends + STEP * f64::from(n));
                later.into_iter().find(|at| self.open(*at)).unwrap_or(ends)
            }
        };
        let Some(until) = way_out.cold_until.map(|until| w.begins + w.factor * until) else {
            return (ends, 0.0);
        };
        // Somebody has to put it there, as late as may be: what goes in sooner is ready later.
        let rises = w.best - w.begins;
        let steps = ((1.0 - HALF_WAY) * rises / STEP).max(0.0) as usize;
        let put = (0..=steps).map(|n| w.best - STEP * n as f64).find(|at| self.open(*at));
        let Some(put) = put.filter(|_| rises > 0.0) else { return (ends, 0.0) };
        let sooner = ((w.best - put) / rises / (1.0 - HALF_WAY)).clamp(0.0, 1.0);
        let ready = w.best + sooner * (w.begins + w.factor * way_out.cold_ready - w.best).max(0.0);
        let held = wanted.max(ready).min(until);
        if held > ends { (held, held - put) } else { (ends, 0.0) }
    }

    /// How it goes: by waiting alone, or by other ways too.
    fn goes(&self, other_ways: bool) -> Went {
        let Day { lane, blocks, .. } = self;
        // How much later each block is than planned, min; how long it may wait beyond that; and how much longer what
        // follows takes, where it was held cold.
        let mut later = vec![0.0_f64; blocks.blocks.len()];
        let mut room = vec![0.0_f64; blocks.blocks.len()];
        let mut cold = vec![0.0_f64; blocks.blocks.len()];
        let mut blame: Option<usize> = None;
        for (n, task) in lane.tasks.iter().enumerate() {
            let (start, end) = blocks.tasks[n];
            if start.minutes.is_nan() || end.block == start.block {
                continue;
            }
            let Some(p) = self.planned(&task.id) else { continue };
            let known = self.doubtful.iter().find(|d| d.id == task.id);
            let factor = known.map_or(1.0, |d| (d.sigma * self.pace).exp());
            let begins = p.start + later[start.block];
            let after = |m: f64| begins + factor * m + cold[start.block];
            let (soonest, latest) = (after(task.lasts.earliest.0), after(task.lasts.latest.0));
            let planned = p.start + p.length;
            let wait = Waits {
                begins,
                soonest,
                latest,
                best: after(task.lasts.best.0),
                wished: planned + self.late[n],
                factor,
            };
            let way_out = known.map(|d| &d.way_out).filter(|_| other_ways);
            let (ends, held) = self.ends(&wait, way_out);
            later[end.block] = ends - planned;
            room[end.block] = (latest - ends).max(0.0);
            cold[end.block] = known.map_or(0.0, |d| d.way_out.cold_costs) * (held / HELD).clamp(0.0, 1.0);
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
        let doubted = |t: &Task| self.doubtful.iter().any(|d| d.id == t.id);
        let any = blame.or_else(|| lane.tasks.iter().position(doubted));
        for (n, task) in lane.tasks.iter().enumerate() {
            let (start, _) = blocks.tasks[n];
            if start.minutes.is_nan() || !task.needs.hands {
                continue;
            }
            let Some(p) = self.planned(&task.id) else { continue };
            let shift = later[start.block];
            let (from, to) = (p.start + shift, p.start + shift + p.length);
            touches.push(Touch { lane: 0, task: blame.unwrap_or(n), from, to, room: room[start.block] });
            let shut = |c: &Closed| shuts(c, from / STEP, to / STEP);
            if shift.abs() > SLACK && self.problem.closed.iter().any(shut) {
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
}

/// Whether hours without hands are in the way of something from one step to another.
fn shuts(c: &Closed, from: f64, to: f64) -> bool {
    to.min(f64::from(c.to)) - from.max(f64::from(c.from)) > f64::from(c.spares) + 1e-6
}
