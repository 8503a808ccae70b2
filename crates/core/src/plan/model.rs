//! A problem as variables and constraints of the solver: what may stand where, what holds together, what costs.

use pumpkin_constraints as constraints;
use pumpkin_core::Solver;
use pumpkin_core::variables::{AffineView, DomainId, TransformableVariable};

use super::blocks::{Block, Blocks, Link, Use};
use super::problem::{Problem, STEP, TOGETHER, Wanted};

/// What a step off the wished time costs.
const OFF_WISH: i32 = 2000;
/// How far a bread may be from when it is wanted at a time, in steps.
const NEAR_WISH: i32 = 6;
/// What a step of hands taken from sleep or absence costs.
const SPARED: i32 = 1000;
/// What it costs to end a wait where it would just be too early or too late.
const OFF_BEST: f64 = 480.0;
/// How long after hands are back a dough that stands over its time may still be seen to, in steps: others come first.
const HELD_UP: i32 = 6;
/// Steps of a quarter of an hour: what is shorter is no better.
const SPAN: i32 = 3;
/// Steps between two settings of one oven.
const RESET: i32 = 2;

pub(super) type Var = AffineView<DomainId>;

/// The model while it is built.
pub(super) struct Model<'p> {
    problem: &'p Problem,
    pub(super) solver: Solver,
    /// The first step of each block of each lane; none of a lane that is left out.
    pub(super) starts: Vec<Vec<DomainId>>,
    /// What is made small of the lane that is built, and the most that it can be.
    terms: Vec<Var>,
    most: i64,
    /// What each lane costs.
    pub(super) lanes: Vec<DomainId>,
    pub(super) all_most: i64,
}

impl<'p> Model<'p> {
    /// Nothing of a problem yet.
    pub(super) fn new(problem: &'p Problem) -> Self {
        Model {
            problem,
            solver: Solver::default(),
            starts: Vec::new(),
            terms: Vec::new(),
            most: 0,
            lanes: Vec::new(),
            all_most: 0,
        }
    }

    /// `left - right <= most`.
    fn at_most(&mut self, left: DomainId, right: DomainId, most: i32) {
        let tag = self.solver.new_constraint_tag();
        let terms = vec![left.scaled(1), right.scaled(-1)];
        self.solver.add_constraint(constraints::less_than_or_equals(terms, most, tag)).post();
    }

    /// What something costs for each step that it is over `base`: a figure that is at least `sum(terms) - base`.
    fn over(&mut self, terms: Vec<Var>, base: i32, most: i32, weight: i32) {
        if most <= 0 {
            return;
        }
        let far = self.solver.new_bounded_integer(0, most);
        let mut terms = terms;
        terms.push(far.scaled(-1));
        let tag = self.solver.new_constraint_tag();
        self.solver.add_constraint(constraints::less_than_or_equals(terms, base, tag)).post();
        self.costs(far.scaled(weight), i64::from(most) * i64::from(weight));
    }

    fn costs(&mut self, term: Var, most: i64) {
        self.terms.push(term);
        self.most += most;
    }

    /// The steps at which a block may begin, and what each costs in hours that are spared.
    fn domain(&mut self, blocks: &Blocks, n: usize, pinned: Option<i32>) -> Option<DomainId> {
        if let Some(given) = blocks.given[n] {
            // What has begun is not asked whether it may.
            return Some(self.solver.new_bounded_integer(given, given));
        }
        let block = &blocks.blocks[n];
        let first = self.problem.begins - block.reach.0;
        let last = self.problem.length - block.reach.1;
        let spared = |start: i32| -> Option<i32> {
            let mut sum = 0;
            for hands in &block.hands {
                let (from, to) = (start + hands.from, start + hands.from + hands.lasts);
                for closed in &self.problem.closed {
                    let within = to.min(closed.to) - from.max(closed.from);
                    if within > closed.spares.max(0) {
                        return None;
                    }
                    sum += within.max(0);
                }
            }
            Some(sum)
        };
        let at = |s: &i32| pinned.is_none_or(|p| p == *s);
        let open: Vec<(i32, i32)> = (first..=last).filter(at).filter_map(|s| Some((s, spared(s)?))).collect();
        if open.is_empty() {
            return None;
        }
        let dear = open.iter().map(|(_, c)| *c).max().unwrap_or(0);
        let start = self.solver.new_sparse_integer(open.iter().map(|(s, _)| *s).collect::<Vec<i32>>());
        if dear > 0 {
            // The cost of each start, by its place in the list from the first step on.
            let mut by_start = vec![0; (last - first + 1) as usize];
            for (s, c) in &open {
                by_start[(s - first) as usize] = *c;
            }
            let cost = self.solver.new_bounded_integer(0, dear);
            let array: Vec<DomainId> =
                by_start.into_iter().map(|c| self.solver.new_bounded_integer(c, c)).collect();
            let tag = self.solver.new_constraint_tag();
            self.solver.add_constraint(constraints::element(start.offset(-first), array, cost, tag)).post();
            self.costs(cost.scaled(SPARED), i64::from(dear) * i64::from(SPARED));
        }
        Some(start)
    }

    /// One dough: its blocks, what holds them together, when it is wanted, and what is known of what it costs.
    pub(super) fn lane(&mut self, blocks: &Blocks, pinned: Option<&Vec<i32>>, least: i32) -> bool {
        let mut starts = Vec::with_capacity(blocks.blocks.len());
        for n in 0..blocks.blocks.len() {
            match self.domain(blocks, n, pinned.map(|p| p[n])) {
                Some(start) => starts.push(start),
                None => return false,
            }
        }
        for link in &blocks.links {
            let (from, to) = (starts[link.from], starts[link.to]);
            let link = match (blocks.given[link.from], blocks.given[link.to]) {
                // What is done is done.
                (_, Some(_)) => continue,
                // What stands already, and cannot be ended before now, is ended late rather than never.
                (Some(began), None) => {
                    let soonest = self.problem.begins - blocks.blocks[link.to].reach.0 - began;
                    let closed = self.problem.closed.iter().filter(|c| c.from <= self.problem.begins);
                    let held = closed.map(|c| c.to - began).max().unwrap_or(0);
                    Link { latest: link.latest.max(soonest).max(held + HELD_UP), ..*link }
                }
                (None, None) => *link,
            };
            self.at_most(to, from, link.latest);
            self.at_most(from, to, -link.earliest);
            let (sooner, later) = (link.best - link.earliest, link.latest - link.best);
            if !link.waits {
                self.over(vec![from.scaled(1), to.scaled(-1)], -link.best, sooner, 1);
                self.over(vec![to.scaled(1), from.scaled(-1)], link.best, later, 1);
            }
            if link.waits && sooner + later > 0 {
                let weight = |room: i32| ((OFF_BEST / f64::from(room.max(1))).round() as i32).max(2);
                // A day in the fridge is not planned to its last hour: what is far counts as what is usual.
                self.over(vec![from.scaled(1), to.scaled(-1)], -link.best, sooner, weight(sooner));
                self.over(vec![to.scaled(1), from.scaled(-1)], link.best, later, weight(later));
            }
        }
        if let Some(ready) = blocks.ready {
            let start = starts[ready.block];
            let after = (ready.minutes / STEP).ceil() as i32;
            let tag = self.solver.new_constraint_tag();
            let (low, high) = match blocks.wanted {
                Wanted::AnyTime => (i32::MIN, i32::MAX),
                Wanted::At(t) => (t - NEAR_WISH - after, t + NEAR_WISH - after),
                Wanted::By(t) => (i32::MIN, t - after),
                Wanted::NotBefore(t) => (t - after, i32::MAX),
            };
            if low > i32::MIN {
                self.solver
                    .add_constraint(constraints::less_than_or_equals(vec![start.scaled(-1)], -low, tag))
                    .post();
            }
            if high < i32::MAX {
                self.solver
                    .add_constraint(constraints::less_than_or_equals(vec![start.scaled(1)], high, tag))
                    .post();
            }
            if let Wanted::At(t) = blocks.wanted {
                self.over(vec![start.scaled(1)], t - after, NEAR_WISH, OFF_WISH);
                self.over(vec![start.scaled(-1)], after - t, NEAR_WISH, OFF_WISH);
            }
        }
        // Of two plans that are as good, the one that is shorter, by quarters of an hour.
        let length = self.problem.length;
        if let Some(ready) = blocks.ready {
            let span = self.solver.new_bounded_integer(0, length / SPAN + 1);
            let tag = self.solver.new_constraint_tag();
            let terms = vec![starts[ready.block].scaled(1), starts[0].scaled(-1), span.scaled(-SPAN)];
            self.solver.add_constraint(constraints::less_than_or_equals(terms, 0, tag)).post();
            self.costs(span.scaled(1), i64::from(length / SPAN + 1));
        }
        if blocks.wanted != Wanted::AnyTime {
            // As late as its wish allows: nobody begins sooner than need be.
            let late = self.solver.new_bounded_integer(0, length / SPAN + 1);
            let tag = self.solver.new_constraint_tag();
            let terms = vec![starts[0].scaled(-1), late.scaled(-SPAN)];
            self.solver.add_constraint(constraints::less_than_or_equals(terms, -length, tag)).post();
            self.costs(late.scaled(1), i64::from(length / SPAN + 1));
        }
        self.starts.push(starts);
        let most = self.most.clamp(1, i64::from(i32::MAX / 64)) as i32;
        if least > most {
            return false;
        }
        let cost = self.solver.new_bounded_integer(least.max(0), most);
        let mut terms = std::mem::take(&mut self.terms);
        terms.push(cost.scaled(-1));
        let tag = self.solver.new_constraint_tag();
        self.solver.add_constraint(constraints::less_than_or_equals(terms, 0, tag)).post();
        self.all_most += i64::from(most);
        self.most = 0;
        self.lanes.push(cost);
        true
    }

    /// Everything that is taken up in the same way, one at a time. The solver's own constraint for that (0.5.0) ends in
    /// a panic on some days, so it is one of room for one.
    fn one_at_a_time(&mut self, uses: Vec<(DomainId, Use)>) {
        if uses.len() > 1 {
            let uses: Vec<_> = uses.into_iter().map(|(start, u)| (start, u, 1)).collect();
            self.at_a_time(&uses, 1);
        }
    }

    /// So many at a time.
    fn at_a_time(&mut self, uses: &[(DomainId, Use, i32)], room: i32) {
        let tag = self.solver.new_constraint_tag();
        let starts: Vec<Var> = uses.iter().map(|(s, u, _)| s.offset(u.from)).collect();
        let lasts: Vec<i32> = uses.iter().map(|(_, u, _)| u.lasts).collect();
        let takes: Vec<i32> = uses.iter().map(|(_, _, n)| (*n).min(room)).collect();
        self.solver.add_constraint(constraints::cumulative(starts, lasts, takes, room, tag)).post();
    }

    /// Hands, mixers and ovens.
    pub(super) fn things(&mut self, all: &[Blocks]) {
        let each = |of: &dyn Fn(&Block) -> Vec<Use>, lane: usize| -> Vec<(DomainId, Use)> {
            let blocks = all[lane].blocks.iter().enumerate();
            blocks
                .flat_map(|(n, b)| of(b).into_iter().map(move |u| (n, u)))
                .map(|(n, u)| (self.starts[lane][n], u))
                .collect()
        };
        let hands: Vec<(DomainId, Use)> =
            (0..all.len()).flat_map(|lane| each(&|b| b.hands.clone(), lane)).collect();
        let mixers = self.problem.lanes.iter().map(|l| l.mixer).max().unwrap_or(0);
        let mixing: Vec<Vec<(DomainId, Use)>> = (0..=mixers)
            .map(|m| {
                let lanes = (0..all.len()).filter(|l| self.problem.lanes[*l].mixer == m);
                lanes.flat_map(|lane| each(&|b| b.mixer.clone(), lane)).collect()
            })
            .collect();
        if self.problem.hands <= 1 {
            self.one_at_a_time(hands);
        } else {
            let taken: Vec<_> = hands.into_iter().map(|(s, u)| (s, u, 1)).collect();
            self.at_a_time(&taken, self.problem.hands);
        }
        for uses in mixing {
            self.one_at_a_time(uses);
        }
        for oven in 0..self.problem.ovens.len() {
            self.oven(all, oven);
        }
    }

    fn oven(&mut self, all: &[Blocks], oven: usize) {
        let mut inside = Vec::new();
        for (lane, blocks) in all.iter().enumerate().filter(|(l, _)| self.problem.lanes[*l].oven == oven) {
            for (n, block) in blocks.blocks.iter().enumerate() {
                inside.extend(block.oven.iter().map(|o| (lane, self.starts[lane][n], *o)));
            }
        }
        let taken: Vec<(DomainId, Use, i32)> = inside.iter().map(|(_, s, o)| (*s, o.when, o.trays)).collect();
        let room = self.problem.ovens[oven].max(1);
        if taken.len() > 1 {
            self.at_a_time(&taken, room);
        }
        for (i, (lane, a, one)) in inside.iter().enumerate() {
            for (other_lane, b, other) in &inside[i + 1..] {
                if lane == other_lane || (one.dial - other.dial).abs() <= TOGETHER {
                    continue;
                }
                // One is out, and the oven at the other's setting, before that one goes in.
                let first = self.solver.new_literal();
                for (before, after, x, y, when) in [(a, b, one, other, first), (b, a, other, one, !first)] {
                    let tag = self.solver.new_constraint_tag();
                    let gap = y.when.from - x.when.from - x.when.lasts - RESET;
                    let terms = vec![before.scaled(1), after.scaled(-1)];
                    self.solver
                        .add_constraint(constraints::less_than_or_equals(terms, gap, tag))
                        .implied_by(when);
                }
            }
        }
    }
}
