//! The search: a first plan by putting doughs beside each other, then the best, or the proof that there is none.

use super::blocks::{At, Blocks};
use super::doughs::{Dough, Doughs};
use super::exact::{Effort, Raw, Tried, run};
use super::problem::{Costs, Outcome, Placed, Problem, STEP, Solved, Wanted};
use super::standing::heatings;

/// Looks that a plan without a search has where two deeds of one dough want the same hands.
const AT_ONCE: u64 = 800;

/// The doughs of some days; `None` where one of them has no plan by itself.
fn doughs(problem: &Problem) -> Option<Vec<Dough>> {
    problem.lanes.iter().map(|lane| Dough::of(problem, lane)).collect()
}

/// A plan without a search, in milliseconds: for what is shown while a wish is moved, and as what the search begins
/// from. `None` where none was found, which does not say that there is none.
pub fn quick(problem: &Problem) -> Option<Solved> {
    quick_of(problem, doughs(problem)?, i32::MAX)
}

/// The same for doughs that are known, where a plan that costs less than `under` is of use.
pub(super) fn quick_of(problem: &Problem, doughs: Vec<Dough>, under: i32) -> Option<Solved> {
    let doughs = Doughs::of(problem, doughs);
    let raw = doughs.quick(under, Effort { looks: AT_ONCE, stop: None })?;
    Some(read(problem, &doughs.all, &raw, doughs.bound))
}

/// Finds the best plan for all lanes, in at most about so many looks of the solver: each dough alone, which says what
/// they cost at least; one after the other in several orders, which gives a plan; then all of them together, for a
/// better one or the proof that there is none.
pub fn solve(problem: &Problem, looks: u64) -> Outcome {
    match doughs(problem) {
        Some(doughs) if !doughs.is_empty() => best_of(problem, doughs, None, Effort { looks, stop: None }),
        _ => Outcome::Impossible,
    }
}

/// The same for doughs that are known. Where only a plan that costs less than `under` is of use, none is laid out first.
pub(super) fn best_of(
    problem: &Problem,
    doughs: Vec<Dough>,
    under: Option<i32>,
    effort: Effort<'_>,
) -> Outcome {
    let doughs = Doughs::of(problem, doughs);
    if under.is_some_and(|u| doughs.bound >= u) {
        return Outcome::Impossible;
    }
    let mut best = if under.is_none() { doughs.quick(i32::MAX, effort) } else { None };
    if best.as_ref().is_none_or(|raw| !raw.proved) && !effort.stopped() {
        let to_beat = best.as_ref().map(|b| b.cost).or(under);
        match run(problem, &doughs.all, &doughs.terms, &doughs.least, to_beat, effort) {
            Tried::Found(raw) => {
                // What the solver counts of a plan is never less than what it costs.
                let cost = doughs.cost(&raw.starts);
                best = Some(Raw { cost, ..raw });
            }
            Tried::Impossible => match best.as_mut() {
                Some(raw) => raw.proved = true,
                None => return Outcome::Impossible,
            },
            Tried::GaveUp => {}
        }
    }
    match best {
        Some(raw) => Outcome::Found(read(problem, &doughs.all, &raw, doughs.bound)),
        None => Outcome::GaveUp,
    }
}

/// The plan that the starts of all blocks make.
fn read(problem: &Problem, all: &[Blocks], raw: &Raw, bound: i32) -> Solved {
    let mut costs = Costs::default();
    let mut lanes = Vec::with_capacity(all.len());
    let (mut first, mut last) = (f64::INFINITY, 0.0_f64);
    for ((lane, blocks), starts) in problem.lanes.iter().zip(all).zip(&raw.starts) {
        let minute = |at: &At| f64::from(starts[at.block]) * STEP + at.minutes;
        let placed: Vec<Placed> = lane
            .tasks
            .iter()
            .zip(&blocks.tasks)
            .filter(|(_, (start, _))| !start.minutes.is_nan())
            .map(|(task, (start, end))| Placed {
                id: task.id.clone(),
                start: minute(start),
                length: (minute(end) - minute(start)).max(0.0),
            })
            .collect();
        first = placed.iter().map(|p| p.start).fold(first, f64::min);
        if let Some(ready) = &blocks.ready {
            let at = minute(ready);
            last = last.max(at);
            if let Wanted::At(t) = blocks.wanted {
                costs.off_wish += (at - f64::from(t) * STEP).abs();
            }
        }
        for link in blocks.links.iter().filter(|l| l.waits) {
            let off = starts[link.to] - starts[link.from] - link.best;
            let room = if off < 0 { link.best - link.earliest } else { link.latest - link.best };
            costs.off_best += f64::from(off.abs()) / f64::from(room.max(1));
        }
        for (block, start) in blocks.blocks.iter().zip(starts) {
            for u in &block.hands {
                let (from, to) = (start + u.from, start + u.from + u.lasts);
                let within = problem.closed.iter().map(|c| (to.min(c.to) - from.max(c.from)).max(0));
                costs.spared += f64::from(within.sum::<i32>()) * STEP;
            }
        }
        lanes.push(placed);
    }
    costs.span = (last - first).max(0.0);
    costs.heatings = heatings(problem, all, &raw.starts) as u32;
    Solved {
        lanes,
        cost: raw.cost,
        bound: if raw.proved { raw.cost } else { bound },
        costs,
        proved: raw.proved,
    }
}

#[cfg(test)]
mod tests;
