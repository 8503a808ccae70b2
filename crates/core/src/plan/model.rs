//! A problem as variables and constraints of the solver: what may stand where, what holds together, what costs.

use pumpkin_constraints as constraints;
use pumpkin_core::Solver;
use pumpkin_core::variables::{AffineView, DomainId, Literal, TransformableVariable};

use super::blocks::{Block, Blocks, Hold, OvenUse, Use};
use super::problem::{Problem, STEP};
use super::terms::{HEATS, KEEPS_HOT, OFF_WISH, SOON, SPAN, SPARED, Terms, given_up, weights};

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

    /// The step at which a block begins, of those that are open to it, and what it costs in hours that are spared.
    fn start(&mut self, open: &[(i32, i32)]) -> DomainId {
        let dear = open.iter().map(|(_, c)| *c).max().unwrap_or(0);
        let start = self.solver.new_sparse_integer(open.iter().map(|(s, _)| *s).collect::<Vec<i32>>());
        if dear > 0 {
            // The cost of each start, by its place in the list from the first step on.
            let (first, last) = (open[0].0, open[open.len() - 1].0);
            let mut by_start = vec![0; (last - first + 1) as usize];
            for (s, c) in open {
                by_start[(s - first) as usize] = *c;
            }
            let cost = self.solver.new_bounded_integer(0, dear);
            let array: Vec<DomainId> =
                by_start.into_iter().map(|c| self.solver.new_bounded_integer(c, c)).collect();
            let tag = self.solver.new_constraint_tag();
            self.solver.add_constraint(constraints::element(start.offset(-first), array, cost, tag)).post();
            self.costs(cost.scaled(SPARED), i64::from(dear) * i64::from(SPARED));
        }
        start
    }

    /// One dough: its blocks, what holds them together, when it is wanted, and what is known of what it costs.
    pub(super) fn lane(&mut self, terms: &Terms, least: i32) -> bool {
        let starts: Vec<DomainId> = terms.open.iter().map(|open| self.start(open)).collect();
        for link in terms.links.iter().flatten() {
            let (from, to) = (starts[link.from], starts[link.to]);
            self.at_most(to, from, link.latest);
            self.at_most(from, to, -link.earliest);
            let (sooner, later) = weights(link);
            self.over(vec![from.scaled(1), to.scaled(-1)], -link.best, link.best - link.earliest, sooner);
            self.over(vec![to.scaled(1), from.scaled(-1)], link.best, link.latest - link.best, later);
        }
        let length = self.problem.length;
        if let Some(ready) = terms.ready {
            let start = starts[ready.block];
            if ready.low > i32::MIN {
                self.bound(start.scaled(-1), -ready.low);
            }
            if ready.high < i32::MAX {
                self.bound(start.scaled(1), ready.high);
            }
            let open = &terms.open[ready.block];
            let (first, last) = (open[0].0, open[open.len() - 1].0);
            if let Some(at) = ready.later {
                self.over(vec![start.scaled(1)], at, last - at, OFF_WISH);
            }
            if let Some(at) = ready.sooner {
                self.over(vec![start.scaled(-1)], -at, at - first, OFF_WISH);
            }
            if let Some(keeps) = ready.keeps {
                let gives_up = self.solver.new_literal();
                let kept = !gives_up;
                for (term, most) in [
                    (start.scaled(1), ready.later.map(|at| at + keeps)),
                    (start.scaled(-1), ready.sooner.map(|at| keeps - at)),
                ] {
                    if let Some(most) = most {
                        let tag = self.solver.new_constraint_tag();
                        let within = constraints::less_than_or_equals(vec![term], most, tag);
                        self.solver.add_constraint(within).implied_by(kept);
                    }
                }
                let cost = given_up();
                self.costs(gives_up.get_integer_variable().scaled(cost), i64::from(cost));
            }
            if let Some(at) = ready.soon {
                let most = (last - at).max(0) / SPAN + 1;
                let soon = self.solver.new_bounded_integer(0, most);
                let tag = self.solver.new_constraint_tag();
                let sum = vec![start.scaled(1), soon.scaled(-SPAN)];
                self.solver.add_constraint(constraints::less_than_or_equals(sum, at, tag)).post();
                self.costs(soon.scaled(SOON), i64::from(SOON * most));
            }
            // Of two plans that are as good, the one that is shorter, by quarters of an hour.
            let span = self.solver.new_bounded_integer(0, length / SPAN + 1);
            let tag = self.solver.new_constraint_tag();
            let sum = vec![start.scaled(1), starts[0].scaled(-1), span.scaled(-SPAN)];
            self.solver.add_constraint(constraints::less_than_or_equals(sum, 0, tag)).post();
            self.costs(span.scaled(1), i64::from(length / SPAN + 1));
        }
        if let Some(length) = terms.late {
            // As late as its wish allows: nobody begins sooner than need be.
            let late = self.solver.new_bounded_integer(0, length / SPAN + 1);
            let tag = self.solver.new_constraint_tag();
            let sum = vec![starts[0].scaled(-1), late.scaled(-SPAN)];
            self.solver.add_constraint(constraints::less_than_or_equals(sum, -length, tag)).post();
            self.costs(late.scaled(1), i64::from(length / SPAN + 1));
        }
        self.starts.push(starts);
        let most = self.most.clamp(1, i64::from(i32::MAX / 64)) as i32;
        if least > most {
            return false;
        }
        let cost = self.solver.new_bounded_integer(least.max(0), most);
        let mut sum = std::mem::take(&mut self.terms);
        sum.push(cost.scaled(-1));
        let tag = self.solver.new_constraint_tag();
        self.solver.add_constraint(constraints::less_than_or_equals(sum, 0, tag)).post();
        self.all_most += i64::from(most);
        self.most = 0;
        self.lanes.push(cost);
        true
    }

    /// `term <= most`.
    fn bound(&mut self, term: Var, most: i32) {
        let tag = self.solver.new_constraint_tag();
        self.solver.add_constraint(constraints::less_than_or_equals(vec![term], most, tag)).post();
    }

    /// So many at a time. What has begun stands where it is, however much that is: it leaves no room, and is no
    /// contradiction. (The solver's own constraint for one at a time, in 0.5.0, ends in a panic on some days, so that is room
    /// for one.)
    fn at_a_time(&mut self, uses: Vec<Taken>, room: i32) {
        let (begun, open): (Vec<Taken>, Vec<Taken>) = uses.into_iter().partition(|t| t.begun.is_some());
        let mut taken: Vec<(DomainId, Use, i32)> =
            open.into_iter().map(|t| (t.start, t.when, t.takes.min(room))).collect();
        if taken.is_empty() || taken.len() + begun.len() < 2 {
            return;
        }
        for (from, to, takes) in profile(&begun, room) {
            let at = self.solver.new_bounded_integer(from, from);
            taken.push((at, Use { from: 0, lasts: to - from }, takes));
        }
        let tag = self.solver.new_constraint_tag();
        let starts: Vec<Var> = taken.iter().map(|(s, u, _)| s.offset(u.from)).collect();
        let lasts: Vec<i32> = taken.iter().map(|(_, u, _)| u.lasts).collect();
        let takes: Vec<i32> = taken.iter().map(|(_, _, n)| *n).collect();
        self.solver.add_constraint(constraints::cumulative(starts, lasts, takes, room, tag)).post();
    }

    /// Hands, mixers and ovens.
    pub(super) fn things(&mut self, all: &[Blocks]) {
        let each = |of: &dyn Fn(&Block) -> Vec<Use>, lane: usize| -> Vec<Taken> {
            let blocks = all[lane].blocks.iter().enumerate();
            blocks
                .flat_map(|(n, b)| of(b).into_iter().map(move |u| (n, u)))
                .map(|(n, when)| Taken {
                    start: self.starts[lane][n],
                    when,
                    takes: 1,
                    begun: all[lane].given[n],
                })
                .collect()
        };
        let mut hands: Vec<Taken> =
            (0..all.len()).flat_map(|lane| each(&|b| b.hands.clone(), lane)).collect();
        let mixers = self.problem.lanes.iter().map(|l| l.mixer).max().unwrap_or(0);
        let mixing: Vec<Vec<Taken>> = (0..=mixers)
            .map(|m| {
                let lanes = (0..all.len()).filter(|l| self.problem.lanes[*l].mixer == m);
                lanes.flat_map(|lane| each(&|b| b.mixer.clone(), lane)).collect()
            })
            .collect();
        if self.problem.hands > 1 {
            for (from, to) in &self.problem.one_less {
                let start = self.solver.new_bounded_integer(*from, *from);
                let when = Use { from: 0, lasts: to - from };
                hands.push(Taken { start, when, takes: 1, begun: Some(*from) });
            }
        }
        self.at_a_time(hands, self.problem.hands.max(1));
        for uses in mixing {
            self.at_a_time(uses, 1);
        }
        for oven in 0..self.problem.ovens.len() {
            self.oven(all, oven);
        }
        for thing in 0..self.problem.things.len() {
            self.thing(all, thing);
        }
    }

    /// `left <= right + most` where a literal holds.
    fn at_most_if(&mut self, left: DomainId, right: DomainId, most: i32, holds: Literal) {
        let tag = self.solver.new_constraint_tag();
        let terms = vec![left.scaled(1), right.scaled(-1)];
        self.solver.add_constraint(constraints::less_than_or_equals(terms, most, tag)).implied_by(holds);
    }

    /// A place or a pan: of so many doughs that they are one too many for it, two are not there at the same time.
    fn thing(&mut self, all: &[Blocks], thing: usize) {
        let room = self.problem.things[thing];
        let mut holds: Vec<(usize, Hold)> = Vec::new();
        for (lane, blocks) in all.iter().enumerate() {
            holds.extend(blocks.holds.iter().filter(|h| h.thing == thing).map(|h| (lane, *h)));
        }
        let ends = |h: &Hold| (h.to.minutes / STEP - 1e-9).ceil() as i32;
        let begins = |h: &Hold| (h.from.minutes / STEP + 1e-9).floor() as i32;
        let mut apart: Vec<Vec<Option<Literal>>> = vec![vec![None; holds.len()]; holds.len()];
        for (i, (lane, one)) in holds.iter().enumerate() {
            for (j, (other_lane, other)) in holds.iter().enumerate().filter(|(j, _)| *j != i) {
                // The one is out before the other comes.
                let before = self.solver.new_literal();
                let (from, to) =
                    (self.starts[*lane][one.to.block], self.starts[*other_lane][other.from.block]);
                self.at_most_if(from, to, begins(other) - ends(one), before);
                apart[i][j] = Some(before);
            }
        }
        // What is larger than all the room there is takes all of it: it is alone there.
        for set in too_many(&holds.iter().map(|(_, h)| h.takes.min(room)).collect::<Vec<_>>(), room) {
            let begun = |n: &usize| {
                let (lane, h) = &holds[*n];
                all[*lane].given[h.from.block].and(all[*lane].given[h.to.block]).is_some()
            };
            if set.iter().all(begun) {
                continue;
            }
            let pairs = set.iter().flat_map(|i| set.iter().map(move |j| (*i, *j)));
            let clause: Vec<_> =
                pairs.filter_map(|(i, j)| apart[i][j]).map(|l| l.get_true_predicate()).collect();
            let tag = self.solver.new_constraint_tag();
            self.solver.add_clause(clause, tag);
        }
    }

    /// How often the ovens are heated: each bake finds its oven cold, or one before it has left it hot.
    pub(super) fn heatings(&mut self, all: &[Blocks]) -> Vec<Var> {
        let mut baking: Vec<(usize, DomainId, Use)> = Vec::new();
        for (lane, blocks) in all.iter().enumerate() {
            let oven = self.problem.lanes[lane].oven;
            for (n, block) in blocks.blocks.iter().enumerate() {
                baking.extend(block.oven.iter().map(|o| (oven, self.starts[lane][n], o.when)));
            }
        }
        let mut cold = Vec::with_capacity(baking.len());
        for (i, (oven, after, use_)) in baking.iter().enumerate() {
            let heats = self.solver.new_literal();
            let mut clause = vec![heats.get_true_predicate()];
            for (j, (other, before, first)) in baking.iter().enumerate() {
                if i == j || other != oven {
                    continue;
                }
                let hot = self.solver.new_literal();
                // Of two that go in together one finds it cold.
                let sooner = use_.from - first.from - i32::from(j > i);
                self.at_most_if(*before, *after, sooner, hot);
                self.at_most_if(*after, *before, first.from + first.lasts + KEEPS_HOT - use_.from, hot);
                clause.push(hot.get_true_predicate());
            }
            let tag = self.solver.new_constraint_tag();
            self.solver.add_clause(clause, tag);
            cold.push(heats.get_integer_variable().scaled(HEATS));
        }
        self.all_most += i64::from(HEATS) * cold.len() as i64;
        cold
    }

    fn oven(&mut self, all: &[Blocks], oven: usize) {
        let mut inside = Vec::new();
        for (lane, blocks) in all.iter().enumerate().filter(|(l, _)| self.problem.lanes[*l].oven == oven) {
            for (n, block) in blocks.blocks.iter().enumerate() {
                let begun = blocks.given[n];
                inside.extend(block.oven.iter().map(|o| (lane, self.starts[lane][n], *o, begun)));
            }
        }
        let taken = |(_, start, o, begun): &(usize, DomainId, OvenUse, Option<i32>)| Taken {
            start: *start,
            when: o.when,
            takes: o.trays,
            begun: *begun,
        };
        self.at_a_time(inside.iter().map(taken).collect(), self.problem.ovens[oven].max(1));
        for (i, (lane, a, one, begun)) in inside.iter().enumerate() {
            for (other_lane, b, other, other_begun) in &inside[i + 1..] {
                let both = begun.and(*other_begun).is_some();
                if lane == other_lane || both || one.shares(other) {
                    continue;
                }
                // One is out, and the oven at the other's setting, before that one goes in.
                let first = self.solver.new_literal();
                for (before, after, x, y, when) in [(a, b, one, other, first), (b, a, other, one, !first)] {
                    let gap = y.when.from - x.when.from - x.when.lasts - x.before(y);
                    self.at_most_if(*before, *after, gap, when);
                }
            }
        }
    }
}

/// Something that is taken up for a while.
struct Taken {
    start: DomainId,
    when: Use,
    takes: i32,
    /// At which step its block began, where it has.
    begun: Option<i32>,
}

/// What has begun, stretch by stretch: from which step to which how much is taken, never more than there is room.
fn profile(begun: &[Taken], room: i32) -> Vec<(i32, i32, i32)> {
    let span = |t: &Taken| {
        let from = t.begun.unwrap_or(0) + t.when.from;
        (from, from + t.when.lasts)
    };
    let mut edges: Vec<i32> = begun.iter().flat_map(|t| [span(t).0, span(t).1]).collect();
    edges.sort_unstable();
    edges.dedup();
    let stretches = edges.windows(2).map(|w| {
        let takes = begun.iter().filter(|t| span(t).0 <= w[0] && w[1] <= span(t).1).map(|t| t.takes);
        (w[0], w[1], takes.sum::<i32>().min(room))
    });
    stretches.filter(|(.., takes)| *takes > 0).collect()
}

/// The smallest sets of holds that are too many for a room together.
fn too_many(takes: &[i32], room: i32) -> Vec<Vec<usize>> {
    let mut sets: Vec<Vec<usize>> = Vec::new();
    let sum = |set: u32| (0..takes.len()).filter(|n| set & (1 << n) != 0).map(|n| takes[n]).sum::<i32>();
    for set in 1u32..1 << takes.len().min(HOLDS) {
        let members: Vec<usize> = (0..takes.len()).filter(|n| set & (1 << n) != 0).collect();
        let least = sum(set) > room && members.iter().all(|n| sum(set & !(1 << n)) <= room);
        if least && members.len() > 1 {
            sets.push(members);
        }
    }
    sets
}

/// The most holds of one thing whose sets are looked through.
const HOLDS: usize = 14;
