//! What one dough may do and what it costs, said once: the sum over one dough and the solver over all of them read it.

use super::blocks::{At, Blocks, Link};
use super::problem::{Problem, STEP, Wanted};

/// What a step off the wished time costs.
pub(super) const OFF_WISH: i32 = 2000;
/// How far a bread may be from when it is wanted at a time, in steps.
const NEAR_WISH: i32 = 6;
/// What a step of hands taken from sleep or absence costs.
pub(super) const SPARED: i32 = 1000;
/// What it costs to give a wished time up at all, beside how far off it is.
const GIVEN_UP: i32 = 12 * OFF_WISH;
/// What it costs to be woken for something, in steps of hands that are spared: more than a bread that is an hour late, its
/// time given up (common practice, no source).
const WOKEN: i32 = 90;
/// What it costs to be there for something while one is away, likewise.
const CALLED: i32 = 60;
/// What it costs to move a step from the time that was set for it, likewise.
const UNPINNED: i32 = 24;
/// What it costs to end a wait where it would just be too early or too late.
const OFF_BEST: f64 = 480.0;
/// How long after hands are back a dough that stands over its time may still be seen to, in steps: others come first.
const HELD_UP: i32 = 6;
/// What a quarter of an hour costs by which a bread that is not wanted before a time comes after it.
pub(super) const SOON: i32 = 4;
/// Steps of a quarter of an hour: what is shorter is no better.
pub(super) const SPAN: i32 = 3;
/// What it costs to heat an oven once more.
pub(super) const HEATS: i32 = 30;
/// How long after a bake the oven is still taken for hot, in steps.
pub(super) const KEEPS_HOT: i32 = 12;

/// When the block in which the bread is ready may begin, and when it should.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Ready {
    pub(super) block: usize,
    pub(super) low: i32,
    pub(super) high: i32,
    /// What is sooner than this costs by the step.
    pub(super) sooner: Option<i32>,
    /// What is later than this costs by the step.
    pub(super) later: Option<i32>,
    /// Where the wish may be given up: how many steps off still keep it.
    pub(super) keeps: Option<i32>,
    /// The sooner after this the better, by quarters of an hour.
    pub(super) soon: Option<i32>,
}

/// One dough: what its blocks may do.
#[derive(Clone, Debug)]
pub(super) struct Terms {
    /// The steps at which each block may begin, in order, with the steps of spared hours that each takes.
    pub(super) open: Vec<Vec<(i32, i32)>>,
    /// The links in their order; none where both ends are done.
    pub(super) links: Vec<Option<Link>>,
    pub(super) ready: Option<Ready>,
    /// The steps of the plan, where beginning late counts.
    pub(super) late: Option<i32>,
}

impl Terms {
    /// The terms of a dough; `None` where a block has no step to begin at. What is pinned begins there and nowhere else.
    pub(super) fn of(problem: &Problem, blocks: &Blocks, pinned: Option<&[i32]>) -> Option<Terms> {
        let mut open = Vec::with_capacity(blocks.blocks.len());
        for n in 0..blocks.blocks.len() {
            let starts = match (blocks.given[n], pinned) {
                // What has begun is not asked whether it may.
                (Some(given), _) => vec![(given, 0)],
                (None, None) => starts(problem, blocks, n),
                (None, Some(pinned)) => {
                    starts(problem, blocks, n).into_iter().filter(|(s, _)| *s == pinned[n]).collect()
                }
            };
            if starts.is_empty() {
                return None;
            }
            open.push(starts);
        }
        let ready: Option<Ready> = blocks.ready.map(|At { block, minutes }| {
            let after = (minutes / STEP).ceil() as i32;
            let none = Ready {
                block,
                low: i32::MIN,
                high: i32::MAX,
                sooner: None,
                later: None,
                keeps: None,
                soon: None,
            };
            let wish = match blocks.wanted {
                Wanted::AnyTime => none,
                Wanted::At(t) => {
                    let at = t - after;
                    let (low, high) = (at - NEAR_WISH, at + NEAR_WISH);
                    Ready { low, high, sooner: Some(at), later: Some(at), keeps: Some(NEAR_WISH), ..none }
                }
                Wanted::By(t) => Ready { high: t - after, later: Some(t - after), keeps: Some(0), ..none },
                Wanted::NotBefore(t) => {
                    // Not a minute before.
                    let at = t - (minutes / STEP + 1e-9).floor() as i32;
                    Ready { low: at, sooner: Some(at), keeps: Some(0), soon: Some(at), ..none }
                }
            };
            match problem.gives.times {
                true => Ready { low: i32::MIN, high: i32::MAX, ..wish },
                false => Ready { keeps: None, ..wish },
            }
        });
        let links: Vec<Option<Link>> = blocks.links.iter().map(|l| in_force(problem, blocks, l)).collect();
        narrow(&mut open, &links, ready)?;
        let late = matches!(blocks.wanted, Wanted::At(_) | Wanted::By(_)).then_some(problem.length);
        Some(Terms { open, links, ready, late })
    }

    /// What beginning late, and being ready soon after, costs.
    pub(super) fn length(&self, starts: &[i32]) -> i32 {
        let span = self.ready.map_or(0, |r| quarters(starts[r.block] - starts[0]));
        span + self.late.map_or(0, |length| quarters(length - starts[0]))
    }

    /// What a dough costs by the starts of its blocks.
    pub(super) fn cost(&self, starts: &[i32]) -> i32 {
        let spared = self.open.iter().zip(starts).map(|(open, start)| {
            let at = open.binary_search_by_key(start, |(s, _)| *s);
            at.map_or(0, |n| SPARED * open[n].1)
        });
        let links = self.links.iter().flatten().map(|l| link_cost(l, starts[l.to] - starts[l.from]));
        let wish = self.ready.map_or(0, |r| ready_cost(&r, starts[r.block]));
        spared.sum::<i32>() + links.sum::<i32>() + wish + self.length(starts)
    }
}

/// Steps in quarters of an hour, rounded up.
pub(super) fn quarters(steps: i32) -> i32 {
    (-(-steps).div_euclid(SPAN)).max(0)
}

/// What it costs that the bread is ready off its time.
pub(super) fn ready_cost(ready: &Ready, start: i32) -> i32 {
    let sooner = ready.sooner.map_or(0, |at| (at - start).max(0));
    let later = ready.later.map_or(0, |at| (start - at).max(0));
    let off = sooner + later;
    let given_up = if ready.keeps.is_some_and(|keeps| off > keeps) { GIVEN_UP } else { 0 };
    OFF_WISH * off + given_up + ready.soon.map_or(0, |at| SOON * quarters(start - at))
}

/// What it costs to give up a wished time.
pub(super) fn given_up() -> i32 {
    GIVEN_UP
}

/// What a step sooner and a step later than is best costs at a link.
pub(super) fn weights(link: &Link) -> (i32, i32) {
    if !link.waits {
        return (1, 1);
    }
    let weight = |room: i32| ((OFF_BEST / f64::from(room.max(1))).round() as i32).max(2);
    (weight(link.best - link.earliest), weight(link.latest - link.best))
}

/// What it costs that the one block begins so many steps after the other.
pub(super) fn link_cost(link: &Link, apart: i32) -> i32 {
    let (sooner, later) = weights(link);
    if apart < link.best { sooner * (link.best - apart) } else { later * (apart - link.best) }
}

/// The steps at which a block may begin, and what each takes of hours that are spared.
fn starts(problem: &Problem, blocks: &Blocks, n: usize) -> Vec<(i32, i32)> {
    let block = &blocks.blocks[n];
    let first = problem.begins - block.reach.0;
    let last = problem.length - block.reach.1;
    let spared = |start: i32| -> Option<i32> {
        let mut sum = 0;
        for hands in &block.hands {
            let (from, to) = (start + hands.from, start + hands.from + hands.lasts);
            for closed in &problem.closed {
                let within = to.min(closed.to) - from.max(closed.from);
                let spares = closed.spares.max(0);
                if within > spares {
                    let (gives, costs) = match closed.sleep {
                        true => (problem.gives.sleep, WOKEN),
                        false => (problem.gives.away, CALLED),
                    };
                    if closed.certain || !gives {
                        return None;
                    }
                    sum += costs;
                }
                sum += within.max(0);
            }
        }
        Some(sum)
    };
    let taken = |start: i32| {
        let here = problem.oven_taken.iter().filter(|(oven, ..)| *oven == blocks.oven);
        here.into_iter().any(|(_, from, to)| {
            block
                .oven
                .iter()
                .map(|o| (start + o.when.from, o.when.lasts))
                .any(|(f, l)| f < *to && f + l > *from)
        })
    };
    let off = |start: i32| -> i32 {
        let mine = blocks.pinned.iter().filter(|(block, _)| *block == n);
        mine.map(|(_, step)| (step - start).abs()).max().unwrap_or(0)
    };
    let wanted = |start: i32| problem.gives.pins || off(start) == 0;
    let unpinned = |start: i32| if off(start) > 0 { UNPINNED + off(start) } else { 0 };
    let may = |start: i32| n != 0 || blocks.begins.has(start);
    (first..=last)
        .filter(|s| wanted(*s) && may(*s) && !taken(*s))
        .filter_map(|s| Some((s, spared(s)? + unpinned(s))))
        .collect()
}

/// Leaves of the steps at which blocks may begin those from which the others can be reached: each block hangs on one
/// before it, so that once back and once forth is enough. `None` where a block has none left.
fn narrow(open: &mut [Vec<(i32, i32)>], links: &[Option<Link>], ready: Option<Ready>) -> Option<()> {
    fn keep(open: &mut Vec<(i32, i32)>, first: i32, last: i32) -> Option<()> {
        open.retain(|(s, _)| (first..=last).contains(s));
        (!open.is_empty()).then_some(())
    }
    fn ends(open: &[(i32, i32)]) -> (i32, i32) {
        (open[0].0, open[open.len() - 1].0)
    }
    if let Some(ready) = ready {
        keep(&mut open[ready.block], ready.low, ready.high)?;
    }
    for link in links.iter().rev().flatten() {
        let (first, last) = ends(&open[link.to]);
        keep(&mut open[link.from], first - link.latest, last - link.earliest)?;
    }
    for link in links.iter().flatten() {
        let (first, last) = ends(&open[link.from]);
        keep(&mut open[link.to], first + link.earliest, last + link.latest)?;
    }
    Some(())
}

/// A link as it holds now: what is done is done, and what stands already and cannot be ended before now is ended late
/// rather than never.
fn in_force(problem: &Problem, blocks: &Blocks, link: &Link) -> Option<Link> {
    match (blocks.given[link.from], blocks.given[link.to]) {
        (_, Some(_)) => None,
        (Some(began), None) => {
            let soonest = problem.begins - blocks.blocks[link.to].reach.0 - began;
            let closed = problem.closed.iter().filter(|c| c.from <= problem.begins);
            let held = closed.map(|c| c.to - began).max().unwrap_or(0);
            Some(Link { latest: link.latest.max(soonest).max(held + HELD_UP), ..*link })
        }
        (None, None) => Some(*link),
    }
}
