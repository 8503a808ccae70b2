//! The exact search: starts of blocks in steps of five minutes, by a constraint solver that learns from its conflicts.
//!
//! `pumpkin-core` has hands and ovens that must not overlap as one constraint each; an integer programme would want a
//! pair of binaries for every two tasks. That was not measured: see docs/plan.md for what was.

use std::ops::ControlFlow;
use std::sync::atomic::{AtomicBool, Ordering};

use pumpkin_conflict_resolvers::resolvers::ResolutionResolver;
use pumpkin_constraints as constraints;
use pumpkin_core::optimisation::OptimisationDirection;
use pumpkin_core::optimisation::linear_sat_unsat::LinearSatUnsat;
use pumpkin_core::results::{OptimisationResult, ProblemSolution, SolutionReference};
use pumpkin_core::termination::TerminationCondition;
use pumpkin_core::variables::{DomainId, TransformableVariable};
use pumpkin_core::{DefaultBrancher, Solver};

use super::alone;
use super::blocks::{At, Blocks};
use super::model::{Model, Var};
use super::problem::{Costs, Outcome, Placed, Problem, STEP, Solved, Wanted};
use super::standing::{Standing, heatings};
use super::terms::{HEATS, Terms};

/// The most doughs of which every order is tried for a first plan; of more, each begins once.
const EVERY_ORDER: usize = 4;

/// How far the solver goes: so many looks, so that the same input gives the same plan on any machine; or until somebody
/// has had enough.
#[derive(Clone, Copy)]
pub(super) struct Effort<'a> {
    pub(super) looks: u64,
    pub(super) stop: Option<&'a AtomicBool>,
}

impl Effort<'_> {
    pub(super) fn stopped(&self) -> bool {
        self.stop.is_some_and(|s| s.load(Ordering::Relaxed))
    }
}

impl TerminationCondition for Effort<'_> {
    fn should_stop(&mut self) -> bool {
        self.looks = self.looks.saturating_sub(1);
        self.looks == 0 || self.stopped()
    }
}

/// A plan by the starts of its blocks.
#[derive(Clone)]
struct Raw {
    starts: Vec<Vec<i32>>,
    cost: i32,
    proved: bool,
}

enum Tried {
    Found(Raw),
    Impossible,
    GaveUp,
}

/// Doughs in blocks, with what each may do.
struct Doughs<'a> {
    problem: &'a Problem,
    all: &'a [Blocks],
    terms: Vec<Terms>,
    /// What each costs at least.
    least: Vec<i32>,
    /// What none of them can be under together.
    bound: i32,
}

impl<'a> Doughs<'a> {
    /// Each dough by itself; `None` where one of them has no plan at all.
    fn of(problem: &'a Problem, all: &'a [Blocks]) -> Option<Self> {
        let terms: Vec<Terms> = all.iter().map(|b| Terms::of(problem, b, None)).collect::<Option<_>>()?;
        let alone = |(n, t): (usize, &Terms)| Some(t.cost(&alone::best(n, &all[n], t, None)?));
        let least: Vec<i32> = terms.iter().enumerate().map(alone).collect::<Option<_>>()?;
        let bakes = |b: &Blocks| b.blocks.iter().any(|b| !b.oven.is_empty());
        let mut ovens: Vec<usize> = (0..all.len())
            .filter(|n| bakes(&all[*n]))
            .map(|n| problem.lanes.get(n).map_or(0, |l| l.oven))
            .collect();
        ovens.sort_unstable();
        ovens.dedup();
        let bound = least.iter().sum::<i32>() + HEATS * ovens.len() as i32;
        Some(Doughs { problem, all, terms, least, bound })
    }

    fn cost(&self, starts: &[Vec<i32>]) -> i32 {
        let each = self.terms.iter().zip(starts).map(|(t, s)| t.cost(s));
        each.sum::<i32>() + HEATS * heatings(self.problem, self.all, starts)
    }

    /// The best place for one dough beside those that stand: by the sum over its blocks; where two of its own want the
    /// same hands, by the solver.
    fn beside(&self, lane: usize, standing: &[Option<Vec<i32>>], effort: Effort<'_>) -> Option<Vec<i32>> {
        let before = self.standing(standing);
        let starts = alone::best(lane, &self.all[lane], &self.terms[lane], Some(&before))?;
        if self.standing(standing).take(lane, &self.all[lane], &starts) {
            return Some(starts);
        }
        let mut lanes: Vec<usize> = (0..self.all.len()).filter(|n| standing[*n].is_some()).collect();
        lanes.push(lane);
        let part = Problem {
            lanes: lanes.iter().map(|l| self.problem.lanes[*l].clone()).collect(),
            ..self.problem.clone()
        };
        let blocks: Vec<Blocks> = lanes.iter().map(|l| self.all[*l].clone()).collect();
        let terms: Vec<Terms> = lanes
            .iter()
            .map(|l| Terms::of(self.problem, &self.all[*l], standing[*l].as_deref()))
            .collect::<Option<_>>()?;
        let least: Vec<i32> = lanes.iter().map(|l| self.least[*l]).collect();
        match run(&part, &blocks, &terms, &least, None, Effort { looks: effort.looks / 8 + 200, ..effort }) {
            Tried::Found(mut raw) => raw.starts.pop(),
            Tried::Impossible | Tried::GaveUp => None,
        }
    }

    fn standing(&self, starts: &[Option<Vec<i32>>]) -> Standing<'_> {
        let mut standing = Standing::new(self.problem);
        for (n, starts) in starts.iter().enumerate() {
            if let Some(starts) = starts {
                standing.take(n, &self.all[n], starts);
            }
        }
        standing
    }

    /// A plan without a search: one dough after the other in several orders, then each taken out and put in again until
    /// none can be put better.
    fn quick(&self, effort: Effort<'_>) -> Option<Raw> {
        let mut best: Option<Raw> = None;
        'orders: for order in orders(self.all.len()) {
            let mut standing: Vec<Option<Vec<i32>>> = vec![None; self.all.len()];
            let mut sum: i32 = self.least.iter().sum();
            for next in order {
                if effort.stopped() && best.is_some() {
                    break 'orders;
                }
                let Some(starts) = self.beside(next, &standing, effort) else { continue 'orders };
                sum += self.terms[next].cost(&starts) - self.least[next];
                if best.as_ref().is_some_and(|b| sum >= b.cost) {
                    continue 'orders;
                }
                standing[next] = Some(starts);
            }
            let raw = self.settled(standing, effort);
            if best.as_ref().is_none_or(|b| raw.cost < b.cost) {
                best = Some(raw);
            }
            if best.as_ref().is_some_and(|b| b.cost <= self.bound) {
                break;
            }
        }
        best.map(|raw| Raw { proved: raw.cost <= self.bound, ..raw })
    }

    /// A plan with each dough put in again, until none can be put better.
    fn settled(&self, mut standing: Vec<Option<Vec<i32>>>, effort: Effort<'_>) -> Raw {
        let all = |standing: &[Option<Vec<i32>>]| standing.iter().flatten().cloned().collect::<Vec<_>>();
        let mut starts = all(&standing);
        let mut cost = self.cost(&starts);
        let mut better = self.all.len() > 1;
        while better && cost > self.bound {
            better = false;
            for n in 0..standing.len() {
                let was = standing[n].take();
                standing[n] = self.beside(n, &standing, effort).or_else(|| was.clone());
                let tried = all(&standing);
                let now = self.cost(&tried);
                if now < cost {
                    (starts, cost, better) = (tried, now, true);
                } else {
                    standing[n] = was;
                }
            }
        }
        Raw { starts, cost, proved: false }
    }
}

/// The orders in which doughs are put in for a first plan.
fn orders(count: usize) -> Vec<Vec<usize>> {
    if count > EVERY_ORDER {
        let turned = |turn: usize| (0..count).map(|n| (n + turn) % count).collect::<Vec<_>>();
        return (0..count).flat_map(|t| [turned(t), turned(t).into_iter().rev().collect()]).collect();
    }
    let mut all = vec![Vec::new()];
    for n in 0..count {
        let put = |order: &Vec<usize>| {
            (0..=order.len())
                .map(|at| {
                    let mut order = order.clone();
                    order.insert(at, n);
                    order
                })
                .collect::<Vec<_>>()
        };
        all = all.iter().flat_map(put).collect();
    }
    all
}

/// One run of the solver: what each dough costs at least is known, and only a plan that costs less than `under` is of
/// use.
fn run(
    problem: &Problem,
    all: &[Blocks],
    terms: &[Terms],
    least: &[i32],
    under: Option<i32>,
    effort: Effort<'_>,
) -> Tried {
    let mut model = Model::new(problem);
    for (terms, least) in terms.iter().zip(least) {
        if !model.lane(terms, *least) {
            return Tried::Impossible;
        }
    }
    model.things(all);
    let mut sum: Vec<Var> = model.lanes.iter().map(|l| l.scaled(1)).collect();
    sum.extend(model.heatings(all));
    let most = model.all_most.clamp(1, i64::from(i32::MAX / 4)) as i32;
    let most = under.map_or(most, |u| most.min(u - 1));
    if model.solver.is_inconsistent() || most < least.iter().sum::<i32>() {
        return Tried::Impossible;
    }
    let cost = model.solver.new_bounded_integer(0, most);
    sum.push(cost.scaled(-1));
    let tag = model.solver.new_constraint_tag();
    model.solver.add_constraint(constraints::less_than_or_equals(sum, 0, tag)).post();
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
    let mut effort = effort;
    let result = model.solver.optimise(
        &mut brancher,
        &mut effort,
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
        cost: solution.get_integer_value(cost),
        proved,
    })
}

/// What all lanes cost at least; `None` where one of them has no plan by itself.
pub(super) fn least(problem: &Problem) -> Option<i32> {
    let all: Vec<Blocks> = problem.lanes.iter().map(Blocks::of).collect();
    Some(Doughs::of(problem, &all)?.least.iter().sum())
}

/// A plan without a search, in milliseconds: for what is shown while a wish is moved, and as what the search begins
/// from. `None` where none was found, which does not say that there is none.
pub fn quick(problem: &Problem) -> Option<Solved> {
    let all: Vec<Blocks> = problem.lanes.iter().map(Blocks::of).collect();
    let doughs = Doughs::of(problem, &all)?;
    let raw = doughs.quick(Effort { looks: 800, stop: None })?;
    Some(read(problem, &all, &raw, doughs.bound))
}

/// Finds the best plan for all lanes, in at most about so many looks of the solver: each dough alone, which says what
/// they cost at least; one after the other in several orders, which gives a plan; then all of them together, for a
/// better one or the proof that there is none.
pub fn solve(problem: &Problem, looks: u64) -> Outcome {
    let all: Vec<Blocks> = problem.lanes.iter().map(Blocks::of).collect();
    best_of(problem, &all, None, Effort { looks, stop: None })
}

/// The same for doughs that are in blocks already, where only a plan that costs less than `under` is of use.
pub(super) fn best_of(problem: &Problem, all: &[Blocks], under: Option<i32>, effort: Effort<'_>) -> Outcome {
    let Some(doughs) = Doughs::of(problem, all).filter(|_| !all.is_empty()) else {
        return Outcome::Impossible;
    };
    if under.is_some_and(|u| doughs.bound >= u) {
        return Outcome::Impossible;
    }
    let mut best = doughs.quick(effort).filter(|raw| under.is_none_or(|u| raw.cost < u));
    if best.as_ref().is_none_or(|raw| !raw.proved) && !effort.stopped() {
        let to_beat = best.as_ref().map(|b| b.cost).or(under);
        match run(problem, all, &doughs.terms, &doughs.least, to_beat, effort) {
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
        Some(raw) => Outcome::Found(read(problem, all, &raw, doughs.bound)),
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
