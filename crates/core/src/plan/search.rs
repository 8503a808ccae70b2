//! The exact search: starts of blocks in steps of five minutes, by a constraint solver that learns from its conflicts.
//!
//! `pumpkin-core` has hands and ovens that must not overlap as one constraint each; an integer programme would want a
//! pair of binaries for every two tasks. That was not measured: see docs/plan.md for what was.

use std::ops::ControlFlow;

use pumpkin_conflict_resolvers::resolvers::ResolutionResolver;
use pumpkin_constraints as constraints;
use pumpkin_core::optimisation::OptimisationDirection;
use pumpkin_core::optimisation::linear_sat_unsat::LinearSatUnsat;
use pumpkin_core::results::{OptimisationResult, ProblemSolution, SolutionReference};
use pumpkin_core::termination::TerminationCondition;
use pumpkin_core::variables::{DomainId, TransformableVariable};
use pumpkin_core::{DefaultBrancher, Solver};

use super::blocks::{At, Blocks};
use super::model::{Model, Var};
use super::problem::{Costs, Outcome, Placed, Problem, STEP, Solved, Wanted};

/// In how many orders, and their reverse, a first plan is tried.
const TURNS: usize = 2;

/// Stops the search after so many looks, so that the same input gives the same plan on any machine.
struct Looks {
    left: u64,
}

impl TerminationCondition for Looks {
    fn should_stop(&mut self) -> bool {
        self.left = self.left.saturating_sub(1);
        self.left == 0
    }
}

/// A plan by the starts of its blocks.
struct Raw {
    starts: Vec<Vec<i32>>,
    /// What each lane costs.
    lanes: Vec<i32>,
    cost: i32,
    proved: bool,
}

enum Tried {
    Found(Raw),
    Impossible,
    GaveUp,
}

/// One run of the solver over some of the lanes: those that are pinned stay where they are, what each costs at least
/// is known, and only a plan that costs less than `under` is of use.
fn run(
    problem: &Problem,
    all: &[Blocks],
    pinned: &[Option<Vec<i32>>],
    least: &[i32],
    under: Option<i32>,
    looks: u64,
) -> Tried {
    let mut model = Model::new(problem);
    for (n, blocks) in all.iter().enumerate() {
        if !model.lane(blocks, pinned[n].as_ref(), least[n]) {
            return Tried::Impossible;
        }
    }
    model.things(all);
    let most = model.all_most.clamp(1, i64::from(i32::MAX / 4)) as i32;
    let most = under.map_or(most, |u| most.min(u - 1));
    if model.solver.is_inconsistent() || most < least.iter().sum::<i32>() {
        return Tried::Impossible;
    }
    let cost = model.solver.new_bounded_integer(0, most);
    let mut terms: Vec<Var> = model.lanes.iter().map(|l| l.scaled(1)).collect();
    terms.push(cost.scaled(-1));
    let tag = model.solver.new_constraint_tag();
    model.solver.add_constraint(constraints::less_than_or_equals(terms, 0, tag)).post();
    if model.solver.is_inconsistent() {
        return Tried::Impossible;
    }
    let mut brancher = model.solver.default_brancher();
    let mut resolver = ResolutionResolver::default();
    let go_on = |_: &Solver,
                 _: SolutionReference<'_>,
                 _: &DefaultBrancher,
                 _: &ResolutionResolver|
     -> ControlFlow<()> { ControlFlow::Continue(()) };
    let result = model.solver.optimise(
        &mut brancher,
        &mut Looks { left: looks },
        &mut resolver,
        LinearSatUnsat::new(OptimisationDirection::Minimise, cost, go_on),
    );
    let (solution, proved) = match result {
        OptimisationResult::Optimal(solution) => (solution, true),
        OptimisationResult::Satisfiable(solution) | OptimisationResult::Stopped(solution, ()) => {
            (solution, false)
        }
        OptimisationResult::Unsatisfiable => return Tried::Impossible,
        OptimisationResult::Unknown => return Tried::GaveUp,
    };
    let values = |of: &[DomainId]| of.iter().map(|v| solution.get_integer_value(*v)).collect::<Vec<i32>>();
    Tried::Found(Raw {
        starts: model.starts.iter().map(|lane| values(lane)).collect(),
        lanes: values(&model.lanes),
        cost: solution.get_integer_value(cost),
        proved,
    })
}

/// The part of a problem that is some of its lanes.
fn part(problem: &Problem, lanes: &[usize]) -> Problem {
    Problem { lanes: lanes.iter().map(|l| problem.lanes[*l].clone()).collect(), ..problem.clone() }
}

/// Each lane as if it were alone: what it costs at least. `None` where one has no plan at all, with its number.
///
/// # Errors
/// The lane that cannot be.
fn alone(problem: &Problem, all: &[Blocks], looks: u64) -> Result<Vec<i32>, Option<usize>> {
    let mut least = Vec::with_capacity(all.len());
    for n in 0..all.len() {
        match run(&part(problem, &[n]), &all[n..=n], &[None], &[0], None, looks) {
            Tried::Found(raw) if raw.proved => least.push(raw.cost),
            Tried::Found(_) => least.push(0),
            Tried::Impossible => return Err(Some(n)),
            Tried::GaveUp => return Err(None),
        }
    }
    Ok(least)
}

/// A first plan: one dough after the other, each where it is best beside those that stand already.
fn one_after_the_other(
    problem: &Problem,
    all: &[Blocks],
    order: &[usize],
    least: &[i32],
    looks: u64,
) -> Option<Raw> {
    let mut standing: Vec<(usize, Vec<i32>, i32)> = Vec::new();
    for &next in order {
        let mut lanes: Vec<usize> = standing.iter().map(|(l, ..)| *l).collect();
        lanes.push(next);
        let blocks: Vec<Blocks> = lanes.iter().map(|l| all[*l].clone()).collect();
        let mut pinned: Vec<Option<Vec<i32>>> = standing.iter().map(|(_, s, _)| Some(s.clone())).collect();
        pinned.push(None);
        let mut known: Vec<i32> = standing.iter().map(|(_, _, c)| *c).collect();
        known.push(least[next]);
        let Tried::Found(mut raw) = run(&part(problem, &lanes), &blocks, &pinned, &known, None, looks) else {
            return None;
        };
        let (starts, cost) = (raw.starts.pop()?, raw.lanes.pop()?);
        standing.push((next, starts, cost));
    }
    standing.sort_by_key(|(lane, ..)| *lane);
    let cost = standing.iter().map(|(_, _, c)| c).sum();
    let lanes = standing.iter().map(|(_, _, c)| *c).collect();
    Some(Raw { starts: standing.into_iter().map(|(_, s, _)| s).collect(), lanes, cost, proved: false })
}

/// Finds the best plan for all lanes, in at most about so many looks of the solver: each dough alone, which says what
/// they cost at least; one after the other in several orders, which gives a plan; then all of them together, for a
/// better one or the proof that there is none.
pub fn solve(problem: &Problem, looks: u64) -> Outcome {
    let all: Vec<Blocks> = problem.lanes.iter().map(Blocks::of).collect();
    best_of(problem, &all, looks)
}

/// The same for doughs that are in blocks already.
fn best_of(problem: &Problem, all: &[Blocks], looks: u64) -> Outcome {
    let count = all.len();
    if count == 0 {
        return Outcome::Impossible;
    }
    let least = match alone(problem, all, looks) {
        Ok(least) => least,
        Err(Some(_)) => return Outcome::Impossible,
        Err(None) => return Outcome::GaveUp,
    };
    let bound: i32 = least.iter().sum();
    let mut best: Option<Raw> = None;
    for turn in 0..count.min(TURNS) {
        let order: Vec<usize> = (0..count).map(|n| (n + turn) % count).collect();
        for order in [order.clone(), order.into_iter().rev().collect()] {
            let found = one_after_the_other(problem, all, &order, &least, looks / 8 + 200);
            if let Some(raw) = found.filter(|raw| best.as_ref().is_none_or(|b| raw.cost < b.cost)) {
                best = Some(raw);
            }
            if best.as_ref().is_some_and(|b| b.cost <= bound) {
                break;
            }
        }
    }
    if let Some(raw) = best.as_mut().filter(|raw| raw.cost <= bound) {
        raw.proved = true;
    } else {
        let under = best.as_ref().map(|b| b.cost);
        match run(problem, all, &vec![None; count], &least, under, looks) {
            Tried::Found(raw) => best = Some(raw),
            Tried::Impossible => match best.as_mut() {
                Some(raw) => raw.proved = true,
                None => return Outcome::Impossible,
            },
            Tried::GaveUp => {}
        }
    }
    match best {
        Some(raw) => Outcome::Found(read(problem, all, &raw, bound)),
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
