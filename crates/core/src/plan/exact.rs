//! All doughs together, exactly: starts of blocks in steps of five minutes, by a constraint solver that learns from its
//! conflicts.
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

use super::blocks::Blocks;
use super::model::{Model, Var};
use super::problem::Problem;
use super::terms::Terms;

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
pub(super) struct Raw {
    pub(super) starts: Vec<Vec<i32>>,
    pub(super) cost: i32,
    pub(super) proved: bool,
}

/// How a run came out.
pub(super) enum Tried {
    Found(Raw),
    Impossible,
    GaveUp,
}

/// One run of the solver: what each dough costs at least is known, and only a plan that costs less than `under` is of
/// use.
pub(super) fn run(
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
