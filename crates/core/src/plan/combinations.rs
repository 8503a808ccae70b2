//! Which way each dough goes: every combination of ways, from the one that may be cheapest on.

use std::cmp::Reverse;
use std::collections::{BinaryHeap, HashSet};

use super::doughs::{Dough, least_of};
use super::problem::{Lane, Problem, Wanted};
use super::terms::HEATS;
use super::ways::{TakenLane, Way, in_parallel};

/// A dough with its ways, as it is to be planned.
#[derive(Clone, Debug)]
pub struct Candidate {
    /// Its name, as sentences say it.
    pub name: String,
    /// When it is wanted.
    pub wanted: Wanted,
    /// Its ways.
    pub ways: Vec<Way>,
    /// Tasks that have begun, and when, in minutes from the beginning of the plan.
    pub fixed: Vec<(String, f64)>,
    /// Tasks that are wanted at a step.
    pub pinned: Vec<(String, i32)>,
    /// Its oven's number.
    pub oven: usize,
    /// Its mixer's number.
    pub mixer: usize,
}

impl Candidate {
    /// One of its ways, as it is to be laid on the clock.
    pub(super) fn lane(&self, way: usize, wanted: Wanted) -> Lane {
        let TakenLane { tasks, holds, .. } = &self.ways[way].lane;
        Lane {
            tasks: tasks.clone(),
            wanted,
            fixed: self.fixed.clone(),
            pinned: self.pinned.clone(),
            oven: self.oven,
            mixer: self.mixer,
            holds: holds.clone(),
            begins: self.ways[way].begins.clone(),
        }
    }
}

/// A way of a dough, as it is by itself.
struct Known {
    way: usize,
    /// What the change costs.
    changed: i32,
    lane: Lane,
    dough: Dough,
}

impl Known {
    fn least(&self) -> i32 {
        self.dough.least + self.changed
    }
}

/// Which way each dough goes.
#[derive(Clone, Debug)]
pub(super) struct Combination {
    /// By its place among the dough's ways, the cheapest first.
    at: Vec<usize>,
    /// By its place among the ways of the candidate.
    pub(super) ways: Vec<usize>,
    /// What the changes cost.
    pub(super) changed: i32,
    /// What it costs at least, with them.
    pub(super) least: i32,
    /// What none that comes after it is under.
    pub(super) after: i32,
}

/// All combinations of some doughs' ways, from the one that may be cheapest on.
pub(super) struct Combinations<'a> {
    base: &'a Problem,
    each: Vec<Vec<Known>>,
    next: BinaryHeap<Reverse<(i32, Vec<usize>)>>,
    seen: HashSet<Vec<usize>>,
}

impl<'a> Combinations<'a> {
    /// Those of all ways that have a plan by themselves; `None` where a dough has no such way.
    pub(super) fn of(base: &'a Problem, candidates: &[Candidate], asked: &[Wanted]) -> Option<Self> {
        let each = candidates.iter().zip(asked).enumerate();
        let all = each.flat_map(|(n, (c, wanted))| (0..c.ways.len()).map(move |way| (n, c, way, *wanted)));
        let by_itself = |(n, c, way, wanted): (usize, &Candidate, usize, Wanted)| {
            let lane = c.lane(way, wanted);
            let dough = Dough::of(base, &lane)?;
            Some((n, Known { way, changed: c.ways[way].cost, lane, dough }))
        };
        let mut each: Vec<Vec<Known>> = candidates.iter().map(|_| Vec::new()).collect();
        for (n, known) in in_parallel(all.collect(), &by_itself).into_iter().flatten() {
            each[n].push(known);
        }
        for ways in &mut each {
            ways.sort_by_key(|k| (k.least(), k.way));
        }
        let first = vec![0; each.len()];
        let mut all = Combinations { base, each, next: BinaryHeap::new(), seen: HashSet::new() };
        all.each.iter().all(|ways| !ways.is_empty()).then(|| all.put(first))?;
        Some(all)
    }

    fn chosen<'s>(&'s self, at: &'s [usize]) -> impl Iterator<Item = &'s Known> + Clone {
        at.iter().zip(&self.each).map(|(n, ways)| &ways[*n])
    }

    fn put(&mut self, at: Vec<usize>) {
        let within = at.iter().zip(&self.each).all(|(n, ways)| *n < ways.len());
        if within && self.seen.insert(at.clone()) {
            let sum = self.chosen(&at).map(Known::least).sum();
            self.next.push(Reverse((sum, at)));
        }
    }

    fn combination(&self, at: Vec<usize>) -> Combination {
        let sum: i32 = self.chosen(&at).map(Known::least).sum();
        let changed = self.chosen(&at).map(|k| k.changed).sum();
        let least = changed + least_of(self.chosen(&at).map(|k| &k.dough));
        let ways = self.chosen(&at).map(|k| k.way).collect();
        // Whatever way they go, what is baked heats an oven once.
        Combination { ways, changed, least, after: least.min(sum + HEATS), at }
    }

    /// The problem of a combination, and its doughs.
    pub(super) fn problem(&self, of: &Combination) -> (Problem, Vec<Dough>) {
        let lanes = self.chosen(&of.at).map(|k| k.lane.clone()).collect();
        let doughs = self.chosen(&of.at).map(|k| k.dough.clone()).collect();
        (Problem { lanes, ..self.base.clone() }, doughs)
    }

    /// A combination with each way of one dough, the cheapest first.
    pub(super) fn with_each(&self, of: &Combination, dough: usize) -> Vec<Combination> {
        let with = |n: usize| {
            let mut at = of.at.clone();
            at[dough] = n;
            self.combination(at)
        };
        (0..self.each[dough].len()).map(with).collect()
    }
}

impl Iterator for Combinations<'_> {
    type Item = Combination;

    fn next(&mut self) -> Option<Combination> {
        let Reverse((_, at)) = self.next.pop()?;
        for n in 0..at.len() {
            let mut next = at.clone();
            next[n] += 1;
            self.put(next);
        }
        Some(self.combination(at))
    }
}
