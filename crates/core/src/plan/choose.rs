//! Which way each dough goes: combinations of ways from the cheapest on, until none that is left can be better than
//! the best that was found; of those the ones that differ in kind are offered side by side.

use std::cmp::Reverse;
use std::collections::{BTreeMap, BinaryHeap, HashSet};

use schemars::JsonSchema;
use serde::Serialize;

use super::chance::{Chance, chance};
use super::problem::{Lane, Outcome, Problem, Solved, Wanted};
use super::search::solve;
use super::ways::{Way, WayKind};

/// A dough with its ways, as it is to be planned.
#[derive(Clone, Debug)]
pub struct Candidate {
    /// Its name, as sentences say it.
    pub name: String,
    /// When it is wanted.
    pub wanted: Wanted,
    /// Its ways.
    pub ways: Vec<Way>,
    /// Tasks that begin at a step and nowhere else.
    pub fixed: Vec<(String, i32)>,
    /// Its oven's number.
    pub oven: usize,
    /// Its mixer's number.
    pub mixer: usize,
}

/// A plan that is offered.
#[derive(Clone, Debug, Serialize, JsonSchema)]
pub struct Offer {
    /// Its name among the offers: the ways of its doughs.
    pub key: String,
    /// Which way each dough goes, by its place among the dough's ways.
    pub ways: Vec<usize>,
    /// What is changed in the doughs, a sentence each; empty where all are as written.
    pub changes: Vec<String>,
    /// The plan.
    pub plan: Solved,
    /// How sure it is.
    pub chance: Chance,
    /// What it costs with its changes.
    pub cost: i32,
}

/// What came of the search.
#[derive(Clone, Debug, Serialize, JsonSchema)]
pub struct Choice {
    /// The plans, the one to take first.
    pub offers: Vec<Offer>,
    /// Whether it is proved that none is better than the best of them.
    pub proved: bool,
    /// Where there is none: what would have to be given up for the plans that are offered instead.
    pub gives_up: Vec<String>,
}

/// Looks of the solver at one combination.
const LOOKS: u64 = 30_000;
/// The most combinations that are tried.
const TRIES: usize = 14;
/// The most plans that are offered.
const OFFERS: usize = 4;
/// Under this chance a plan is not offered first where another holds better.
const FIRST: f64 = 67.0;

fn lane(c: &Candidate, way: usize, wanted: Wanted) -> Lane {
    Lane { tasks: c.ways[way].tasks.clone(), wanted, fixed: c.fixed.clone(), oven: c.oven, mixer: c.mixer }
}

/// Plans all doughs: the best plans of different kinds, or what stands in their way.
pub fn choose(base: &Problem, candidates: &[Candidate]) -> Choice {
    let asked: Vec<Wanted> = candidates.iter().map(|c| c.wanted).collect();
    let tried = offers(base, candidates, &asked, TRIES);
    if !tried.0.is_empty() || candidates.is_empty() {
        return Choice { offers: in_order(tried.0), proved: tried.1, gives_up: Vec::new() };
    }
    nearest(base, candidates, &asked)
}

/// What each way of each dough costs alone; none for those that have no plan.
fn alone(base: &Problem, candidates: &[Candidate], asked: &[Wanted]) -> Vec<Vec<(i32, usize)>> {
    candidates
        .iter()
        .zip(asked)
        .map(|(c, wanted)| {
            let mut all: Vec<(i32, usize)> = (0..c.ways.len())
                .filter_map(|way| {
                    let problem = Problem { lanes: vec![lane(c, way, *wanted)], ..base.clone() };
                    match solve(&problem, LOOKS / 8) {
                        Outcome::Found(plan) => Some((plan.cost + c.ways[way].cost, way)),
                        Outcome::Impossible | Outcome::GaveUp => None,
                    }
                })
                .collect();
            all.sort_unstable();
            all
        })
        .collect()
}

/// The kinds of ways of a combination: plans that differ in them differ for the baker.
fn kinds(candidates: &[Candidate], ways: &[usize]) -> Vec<WayKind> {
    candidates.iter().zip(ways).map(|(c, w)| c.ways[*w].kind).collect()
}

/// The best plan of each kind, from the cheapest combination on, and whether the first is proved the best.
fn offers(base: &Problem, candidates: &[Candidate], asked: &[Wanted], tries: usize) -> (Vec<Offer>, bool) {
    let each = alone(base, candidates, asked);
    if each.iter().any(Vec::is_empty) {
        return (Vec::new(), true);
    }
    let bound = |at: &[usize]| -> i32 { at.iter().zip(&each).map(|(n, e)| e[*n].0).sum() };
    let mut heap = BinaryHeap::new();
    let mut seen = HashSet::new();
    let first = vec![0; candidates.len()];
    heap.push(Reverse((bound(&first), first.clone())));
    seen.insert(first);
    let mut best: BTreeMap<Vec<WayKind>, Offer> = BTreeMap::new();
    let mut least = i32::MAX;
    let (mut proved, mut tried) = (true, 0);
    while let Some(Reverse((at_least, at))) = heap.pop() {
        let enough = best.len() >= OFFERS;
        if tried >= tries || (at_least >= least && enough) {
            proved &= at_least >= least;
            break;
        }
        for n in 0..at.len() {
            let mut next = at.clone();
            next[n] += 1;
            if next[n] < each[n].len() && seen.insert(next.clone()) {
                heap.push(Reverse((bound(&next), next)));
            }
        }
        let ways: Vec<usize> = at.iter().zip(&each).map(|(n, e)| e[*n].1).collect();
        let kinds = kinds(candidates, &ways);
        // Of one kind the cheaper is enough, unless it may still be beaten.
        if best.get(&kinds).is_some_and(|o| o.cost <= at_least) {
            continue;
        }
        tried += 1;
        let lanes =
            candidates.iter().zip(&ways).zip(asked).map(|((c, w), wanted)| lane(c, *w, *wanted)).collect();
        let problem = Problem { lanes, ..base.clone() };
        // What is beside the best is shown, not proved.
        let looks = if least == i32::MAX { LOOKS } else { LOOKS / 8 };
        let Outcome::Found(plan) = solve(&problem, looks) else {
            proved = false;
            continue;
        };
        let changes: i32 = candidates.iter().zip(&ways).map(|(c, w)| c.ways[*w].cost).sum();
        let cost = plan.cost + changes;
        if !plan.proved && at_least < least.min(cost) {
            proved = false;
        }
        least = least.min(cost);
        let doubtful: Vec<_> =
            candidates.iter().zip(&ways).map(|(c, w)| c.ways[*w].doubtful.as_slice()).collect();
        let said = candidates.iter().zip(&ways).filter(|(c, w)| !c.ways[**w].changes.is_empty());
        let offer = Offer {
            key: candidates
                .iter()
                .zip(&ways)
                .map(|(c, w)| c.ways[*w].key.as_str())
                .collect::<Vec<_>>()
                .join("+"),
            changes: said.map(|(c, w)| format!("{}: {}.", c.name, c.ways[*w].changes)).collect(),
            chance: chance(&problem, &doubtful, &plan),
            ways,
            plan,
            cost,
        };
        match best.get_mut(&kinds) {
            Some(known) if known.cost <= offer.cost => {}
            Some(known) => *known = offer,
            None => drop(best.insert(kinds, offer)),
        }
    }
    let mut all: Vec<Offer> = best.into_values().collect();
    all.sort_by_key(|o| o.cost);
    all.truncate(OFFERS);
    (all, proved)
}

/// The plan that costs least stands first, unless it fails too often where another holds.
fn in_order(mut offers: Vec<Offer>) -> Vec<Offer> {
    if offers.first().is_some_and(|o| o.chance.holds < FIRST)
        && let Some(n) = offers.iter().position(|o| o.chance.holds >= FIRST)
    {
        let sure = offers.remove(n);
        offers.insert(0, sure);
    }
    offers
}

/// The fewest wishes that have to be given up, and the plans without them.
fn nearest(base: &Problem, candidates: &[Candidate], asked: &[Wanted]) -> Choice {
    // Each wish on its own, sleep and absence after the times; then two together.
    let wishes: Vec<usize> = (0..candidates.len()).filter(|n| asked[*n] != Wanted::AnyTime).collect();
    let (sleep, away) = (candidates.len(), candidates.len() + 1);
    let mut all: Vec<Vec<usize>> = wishes.iter().map(|n| vec![*n]).collect();
    let has = |asleep: bool| base.closed.iter().any(|c| c.sleep == asleep);
    all.extend(has(true).then(|| vec![sleep]));
    all.extend(has(false).then(|| vec![away]));
    let single: Vec<usize> = all.iter().map(|s| s[0]).collect();
    for (i, a) in single.iter().enumerate() {
        all.extend(single[i + 1..].iter().map(|b| vec![*a, *b]));
    }
    for set in all {
        let mut problem = base.clone();
        problem.closed.retain(|c| !set.contains(if c.sleep { &sleep } else { &away }));
        // A bread that cannot be there at its time is best there before it.
        let without = |soft: fn(Wanted) -> Wanted| -> Vec<Wanted> {
            asked.iter().enumerate().map(|(n, w)| if set.contains(&n) { soft(*w) } else { *w }).collect()
        };
        let sooner = without(|w| match w {
            Wanted::At(t) => Wanted::By(t),
            _ => Wanted::AnyTime,
        });
        let (mut found, mut proved) = offers(&problem, candidates, &sooner, 3);
        if found.is_empty() {
            (found, proved) = offers(&problem, candidates, &without(|_| Wanted::AnyTime), 3);
        }
        if !found.is_empty() {
            let says = |n: &usize| match *n {
                n if n == sleep => "a night's sleep".to_owned(),
                n if n == away => "the hours away".to_owned(),
                n => format!("the time at which {} is wanted", candidates[n].name),
            };
            return Choice { offers: in_order(found), proved, gives_up: set.iter().map(says).collect() };
        }
    }
    Choice { offers: Vec::new(), proved: false, gives_up: Vec::new() }
}
