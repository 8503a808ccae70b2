//! Doughs put beside each other one after the other: a plan in a millisecond, and what none can be under.

use super::alone;
use super::blocks::Blocks;
use super::exact::{Effort, Raw, Tried, run};
use super::problem::{Lane, Problem};
use super::standing::{Bakes, Standing, bakes, heatings, heatings_at_least};
use super::terms::{HEATS, Terms};

/// The most doughs of which every order is tried for a first plan; of more, each begins once.
const EVERY_ORDER: usize = 4;

/// A dough in blocks, and what it would do by itself.
#[derive(Clone, Debug)]
pub(super) struct Dough {
    pub(super) blocks: Blocks,
    pub(super) terms: Terms,
    /// The best starts of its blocks.
    starts: Vec<i32>,
    /// What it costs at least.
    pub(super) least: i32,
    /// When it bakes.
    bakes: Vec<Bakes>,
}

/// What some doughs cost at least together.
pub(super) fn least_of<'d>(doughs: impl Iterator<Item = &'d Dough> + Clone) -> i32 {
    let heatings = heatings_at_least(doughs.clone().flat_map(|d| d.bakes.iter().copied()).collect());
    doughs.map(|d| d.least).sum::<i32>() + HEATS * heatings
}

impl Dough {
    /// A dough of some days; `None` where it has no plan at all.
    pub(super) fn of(problem: &Problem, lane: &Lane) -> Option<Dough> {
        let mut blocks = Blocks::of(lane);
        blocks.miss(problem);
        Dough::in_blocks(problem, blocks)
    }

    /// The same where it is in blocks already.
    pub(super) fn in_blocks(problem: &Problem, blocks: Blocks) -> Option<Dough> {
        let terms = Terms::of(problem, &blocks, None)?;
        let starts = alone::best(0, &blocks, &terms, None)?;
        Some(Dough { least: terms.cost(&starts), bakes: bakes(&blocks, &terms), starts, blocks, terms })
    }
}

/// Doughs that are planned together.
pub(super) struct Doughs<'a> {
    problem: &'a Problem,
    pub(super) all: Vec<Blocks>,
    pub(super) terms: Vec<Terms>,
    /// What each does by itself.
    alone: Vec<Vec<i32>>,
    /// What each costs at least.
    pub(super) least: Vec<i32>,
    /// What none of them can be under together.
    pub(super) bound: i32,
}

impl<'a> Doughs<'a> {
    /// Doughs of some days, in the order of its lanes.
    pub(super) fn of(problem: &'a Problem, doughs: Vec<Dough>) -> Self {
        let bound = least_of(doughs.iter());
        let mut of = Doughs {
            problem,
            all: Vec::new(),
            terms: Vec::new(),
            alone: Vec::new(),
            least: Vec::new(),
            bound,
        };
        for Dough { blocks, terms, starts, least, .. } in doughs {
            of.all.push(blocks);
            of.terms.push(terms);
            of.alone.push(starts);
            of.least.push(least);
        }
        of
    }

    pub(super) fn cost(&self, starts: &[Vec<i32>]) -> i32 {
        let each = self.terms.iter().zip(starts).map(|(t, s)| t.cost(s));
        each.sum::<i32>() + HEATS * heatings(self.problem, &self.all, starts)
    }

    /// The best place for one dough beside those that stand: by the sum over its blocks; where two of its own want the
    /// same hands, by the solver.
    fn beside(&self, lane: usize, standing: &[Option<Vec<i32>>], effort: Effort<'_>) -> Option<Vec<i32>> {
        let mut before = self.standing(standing);
        let starts = if standing.iter().all(Option::is_none) {
            self.alone[lane].clone()
        } else {
            alone::best(lane, &self.all[lane], &self.terms[lane], Some(&before))?
        };
        if before.take(lane, &self.all[lane], &starts) {
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
            .map(|l| match &standing[*l] {
                Some(starts) => Terms::of(self.problem, &self.all[*l], Some(starts)),
                None => Some(self.terms[*l].clone()),
            })
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
    /// none can be put better. An order that comes to `under` before all are in is left.
    pub(super) fn quick(&self, under: i32, effort: Effort<'_>) -> Option<Raw> {
        let mut best: Option<Raw> = None;
        let mut seen: Vec<Vec<Option<Vec<i32>>>> = Vec::new();
        'orders: for order in orders(self.all.len()) {
            let mut standing: Vec<Option<Vec<i32>>> = vec![None; self.all.len()];
            let mut sum = self.bound;
            for next in &order {
                if effort.stopped() && best.is_some() {
                    break 'orders;
                }
                let Some(starts) = self.beside(*next, &standing, effort) else { continue 'orders };
                sum += self.terms[*next].cost(&starts) - self.least[*next];
                if sum >= best.as_ref().map_or(under, |b| b.cost.min(under)) {
                    continue 'orders;
                }
                standing[*next] = Some(starts);
            }
            if seen.contains(&standing) {
                continue;
            }
            seen.push(standing.clone());
            let raw = self.settled(standing, order.last().copied(), effort);
            if best.as_ref().is_none_or(|b| raw.cost < b.cost) {
                best = Some(raw);
            }
            if best.as_ref().is_some_and(|b| b.cost <= self.bound) {
                break;
            }
        }
        best.map(|raw| Raw { proved: raw.cost <= self.bound, ..raw })
    }

    /// A plan with each dough put in again, until none can be put better; the last that was put in stands well.
    fn settled(
        &self,
        mut standing: Vec<Option<Vec<i32>>>,
        mut last: Option<usize>,
        effort: Effort<'_>,
    ) -> Raw {
        let all = |standing: &[Option<Vec<i32>>]| standing.iter().flatten().cloned().collect::<Vec<_>>();
        let mut starts = all(&standing);
        let mut cost = self.cost(&starts);
        let mut better = self.all.len() > 1;
        while better && cost > self.bound {
            better = false;
            for n in 0..standing.len() {
                if last == Some(n) {
                    continue;
                }
                let was = standing[n].take();
                standing[n] = self.beside(n, &standing, effort).or_else(|| was.clone());
                let tried = all(&standing);
                let now = self.cost(&tried);
                if now < cost {
                    (starts, cost, better, last) = (tried, now, true, Some(n));
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
