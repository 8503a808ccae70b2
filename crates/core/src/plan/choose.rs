//! Which way each dough goes: combinations of ways from the cheapest on, until none that is left can be better than
//! the best that was found; of those the ones that differ in kind are offered side by side.

use std::cmp::Reverse;
use std::collections::{BTreeMap, BinaryHeap, HashSet};
use std::sync::atomic::{AtomicBool, Ordering};

use schemars::JsonSchema;
use serde::Serialize;

use super::blocks::Blocks;
use super::chance::{Chance, chance};
use super::nearest::nearest;
use super::problem::{Lane, Outcome, Placed, Problem, Solved, Wanted};

use super::search::{Effort, best_of, least, quick};
use super::ways::{TakenLane, Way, WayKind, in_parallel};

/// A dough with its ways, as it is to be planned.
#[derive(Clone, Debug)]
pub struct Candidate {
    /// Its name, as sentences say it.
    pub name: String,
    /// When it is wanted.
    pub wanted: Wanted,
    /// Its ways.
    pub ways: Vec<Way>,
    /// Tasks that have begun, and at which step.
    pub fixed: Vec<(String, i32)>,
    /// Tasks that are wanted at a step.
    pub pinned: Vec<(String, i32)>,
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
    /// What kind of way that is.
    pub kinds: Vec<WayKind>,
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
    /// By how much of what it costs another could be better than the first, as far as is known, 0 to 1.
    pub gap: f64,
    /// Where there is none: what would have to be given up for the plans that are offered instead.
    pub gives_up: Vec<String>,
}

/// Looks of the solver at one combination.
const LOOKS: u64 = 30_000;
/// The most combinations that are laid out, and of those the most that are searched.
const TRIES: usize = 60;
/// How many of them are at a time, on all of the machine's cores: the same on each machine, so that the plans are.
const AT_ONCE: usize = 4;
/// The most plans that are offered.
const OFFERS: usize = 4;
/// Under this chance a plan is not offered first where another holds better.
const FIRST: f64 = 67.0;

/// How long is searched for the best plan.
#[derive(Clone, Copy, Default)]
pub struct Search<'a> {
    /// Only what is found without a search, in milliseconds: the plans are not proved.
    pub quick: bool,
    /// Set by somebody who has had enough: the best that was found until then is offered.
    pub stop: Option<&'a AtomicBool>,
}

pub(super) fn lane(c: &Candidate, way: usize, wanted: Wanted) -> Lane {
    let TakenLane { tasks, holds, .. } = &c.ways[way].lane;
    Lane {
        tasks: tasks.clone(),
        wanted,
        fixed: c.fixed.clone(),
        pinned: c.pinned.clone(),
        oven: c.oven,
        mixer: c.mixer,
        holds: holds.clone(),
        begins: c.ways[way].begins.clone(),
    }
}

/// Plans all doughs: the best plans of different kinds, or what stands in their way.
pub fn choose(base: &Problem, candidates: &[Candidate], search: Search<'_>) -> Choice {
    let found = only(base, candidates, search);
    if !found.offers.is_empty() || candidates.is_empty() {
        return found;
    }
    let asked: Vec<Wanted> = candidates.iter().map(|c| c.wanted).collect();
    nearest(base, candidates, &asked, search)
}

/// Plans all doughs as they are wanted: nothing is offered where that cannot be.
pub(super) fn only(base: &Problem, candidates: &[Candidate], search: Search<'_>) -> Choice {
    let asked: Vec<Wanted> = candidates.iter().map(|c| c.wanted).collect();
    choice_of(offers(base, candidates, &asked, search))
}

/// The ways of each dough, the cheapest first, by what each costs at least; those that have no plan are left out.
fn alone(base: &Problem, candidates: &[Candidate], asked: &[Wanted]) -> Vec<Vec<(i32, usize)>> {
    candidates
        .iter()
        .zip(asked)
        .map(|(c, wanted)| {
            let least = |way: usize| {
                let problem = Problem { lanes: vec![lane(c, way, *wanted)], ..base.clone() };
                Some((least(&problem)? + c.ways[way].cost, way))
            };
            let mut all: Vec<(i32, usize)> = (0..c.ways.len()).filter_map(least).collect();
            all.sort_unstable();
            all
        })
        .collect()
}

/// The kinds of ways of a combination: plans that differ in them differ for the baker.
fn kinds(candidates: &[Candidate], ways: &[usize]) -> Vec<WayKind> {
    candidates.iter().zip(ways).map(|(c, w)| c.ways[*w].kind).collect()
}

/// Combinations of ways, from the one that may be cheapest on.
struct Combinations {
    each: Vec<Vec<(i32, usize)>>,
    heap: BinaryHeap<Reverse<(i32, Vec<usize>)>>,
    seen: HashSet<Vec<usize>>,
}

impl Combinations {
    fn of(each: Vec<Vec<(i32, usize)>>) -> Self {
        let first = vec![0; each.len()];
        let mut all = Combinations { each, heap: BinaryHeap::new(), seen: HashSet::new() };
        all.put(first);
        all
    }

    fn put(&mut self, at: Vec<usize>) {
        let within = at.iter().zip(&self.each).all(|(n, e)| *n < e.len());
        if within && self.seen.insert(at.clone()) {
            let sum = at.iter().zip(&self.each).map(|(n, e)| e[*n].0).sum();
            self.heap.push(Reverse((sum, at)));
        }
    }
}

impl Iterator for Combinations {
    /// What it costs at least, and the ways.
    type Item = (i32, Vec<usize>);

    fn next(&mut self) -> Option<Self::Item> {
        let Reverse((least, at)) = self.heap.pop()?;
        for n in 0..at.len() {
            let mut next = at.clone();
            next[n] += 1;
            self.put(next);
        }
        Some((least, at.iter().zip(&self.each).map(|(n, e)| e[*n].1).collect()))
    }
}

/// A plan for one combination of ways.
struct Found {
    ways: Vec<usize>,
    plan: Solved,
    cost: i32,
}

/// The best plan of each kind, and whether the first is proved the best: all combinations that may be better than the
/// best are laid out without a search; then those that may still be better are searched, for a better plan or the proof
/// that there is none.
pub(super) fn offers(
    base: &Problem,
    candidates: &[Candidate],
    asked: &[Wanted],
    search: Search<'_>,
) -> Tried {
    let each = alone(base, candidates, asked);
    if each.iter().any(Vec::is_empty) {
        return Tried { found: Vec::new(), least: 0, bound: i32::MAX };
    }
    let problem = |ways: &[usize]| Problem {
        lanes: candidates.iter().zip(ways).zip(asked).map(|((c, w), wanted)| lane(c, *w, *wanted)).collect(),
        ..base.clone()
    };
    let changed = |ways: &[usize]| candidates.iter().zip(ways).map(|(c, w)| c.ways[*w].cost).sum::<i32>();
    let stopped = || search.stop.is_some_and(|s| s.load(Ordering::Relaxed));
    let mut best: BTreeMap<Vec<WayKind>, Found> = BTreeMap::new();
    let keep = |best: &mut BTreeMap<Vec<WayKind>, Found>, found: Found| {
        let kinds = kinds(candidates, &found.ways);
        if best.get(&kinds).is_none_or(|known| found.cost < known.cost) {
            best.insert(kinds, found);
        }
    };
    let mut open: Vec<(i32, Vec<usize>)> = Vec::new();
    // What a combination that is not done with may still cost.
    let (mut least, mut bound) = (i32::MAX, i32::MAX);
    let mut combinations = Combinations::of(each.clone());
    for _ in 0..TRIES / AT_ONCE {
        let next: Vec<(i32, Vec<usize>)> = combinations.by_ref().take(AT_ONCE).collect();
        let Some((at_least, _)) = next.first() else { break };
        if *at_least >= least && best.len() >= OFFERS {
            break;
        }
        if stopped() && !best.is_empty() {
            bound = bound.min(*at_least);
            break;
        }
        for ((at_least, ways), plan) in in_parallel(next, &|c| (c.clone(), quick(&problem(&c.1)))) {
            let Some(plan) = plan else {
                open.push((at_least, ways));
                continue;
            };
            let cost = plan.cost + changed(&ways);
            least = least.min(cost);
            if !plan.proved {
                open.push((at_least, ways.clone()));
            }
            keep(&mut best, Found { ways, plan, cost });
        }
    }
    if let Some((at_least, _)) = combinations.next().filter(|(at_least, _)| *at_least < least) {
        bound = bound.min(at_least);
    }
    for these in open.chunks(AT_ONCE) {
        let better: Vec<&(i32, Vec<usize>)> = these.iter().filter(|(l, _)| *l < least).collect();
        if search.quick {
            bound = better.iter().map(|(l, _)| *l).fold(bound, i32::min);
            continue;
        }
        let searched = |(at_least, ways): &(i32, Vec<usize>)| {
            let all = problem(ways);
            let blocks: Vec<Blocks> = all.lanes.iter().map(Blocks::of).collect();
            let effort = Effort { looks: LOOKS, stop: search.stop };
            (*at_least, ways.clone(), best_of(&all, &blocks, least.checked_sub(changed(ways)), effort))
        };
        for (at_least, ways, outcome) in in_parallel(better, &searched) {
            match outcome {
                Outcome::Found(plan) => {
                    let cost = plan.cost + changed(&ways);
                    if !plan.proved {
                        bound = bound.min(at_least.max(plan.bound + changed(&ways)));
                    }
                    least = least.min(cost);
                    keep(&mut best, Found { ways, plan, cost });
                }
                Outcome::Impossible => {}
                Outcome::GaveUp => bound = bound.min(at_least),
            }
        }
    }
    if !search.quick && !stopped() {
        let laid = |ways: Vec<usize>| quick(&problem(&ways)).map(|plan| (ways, plan));
        for (ways, plan) in in_parallel(each_kind(candidates, &each, &best), &laid).into_iter().flatten() {
            let cost = plan.cost + changed(&ways);
            keep(&mut best, Found { ways, plan, cost });
        }
    }
    let mut all: Vec<Found> = best.into_values().collect();
    all.sort_by_key(|o| o.cost);
    let least = all.first().map_or(0, |f| f.cost);
    let offer = |f: Found| offer(&problem(&f.ways), candidates, f);
    Tried { found: apart(all, candidates, offer), least, bound }
}

/// Each dough in each kind of way that no plan has yet, beside the others as they are in the best.
fn each_kind(
    candidates: &[Candidate],
    each: &[Vec<(i32, usize)>],
    best: &BTreeMap<Vec<WayKind>, Found>,
) -> Vec<Vec<usize>> {
    let Some(first) = best.values().min_by_key(|f| f.cost) else { return Vec::new() };
    let mut all = Vec::new();
    for (dough, ways) in each.iter().enumerate() {
        let kind = |way: usize| candidates[dough].ways[way].kind;
        let mut seen: Vec<WayKind> = best.keys().map(|kinds| kinds[dough]).collect();
        for (_, way) in ways {
            if !seen.contains(&kind(*way)) {
                seen.push(kind(*way));
                let mut changed = first.ways.clone();
                changed[dough] = *way;
                all.push(changed);
            }
        }
    }
    all
}

/// How far from each other in time the same deeds of two plans are where the plans differ for a baker, min.
const DIFFERS: f64 = 60.0;

/// The first plans of which each is another day at the bench than those before it, or holds where those do not, or
/// changes nothing where those do.
fn apart(all: Vec<Found>, candidates: &[Candidate], offer: impl Fn(Found) -> Offer) -> Vec<Offer> {
    // What is done now with what rises is always a choice.
    let done_now = |ways: &[usize]| {
        let begun = candidates.iter().zip(ways).filter(|(c, _)| !c.fixed.is_empty());
        begun.map(|(c, way)| c.ways[*way].kind).collect::<Vec<_>>()
    };
    let unchanged = |ways: &[usize]| candidates.iter().zip(ways).all(|(c, w)| c.ways[*w].changes.is_empty());
    let mut kept: Vec<Offer> = Vec::new();
    for f in all {
        let same = |k: &&Offer| !differ(&k.plan, &f.plan) && done_now(&k.ways) == done_now(&f.ways);
        let beside: Vec<f64> = kept.iter().filter(same).map(|k| k.chance.holds).collect();
        // How often it holds takes the longest to know.
        if beside.is_empty() || unchanged(&f.ways) {
            kept.push(offer(f));
        } else if beside.iter().all(|holds| *holds < FIRST) {
            kept.extend(Some(offer(f)).filter(|o| o.chance.holds >= FIRST));
        }
        if kept.len() == OFFERS {
            break;
        }
    }
    kept
}

/// Whether two plans are different days: a dough is begun, worked on or ready at another time.
fn differ(a: &Solved, b: &Solved) -> bool {
    let moments = |placed: &[Placed]| {
        let begins = |id: &str| placed.iter().find(|p| p.id.starts_with(id)).map(|p| p.start);
        let first = placed.iter().map(|p| p.start).reduce(f64::min);
        let last = placed.iter().map(|p| p.start + p.length).reduce(f64::max);
        [first, begins("mix"), begins("shape"), begins("bake"), last]
    };
    a.lanes.iter().zip(&b.lanes).any(|(a, b)| {
        let pairs = moments(a).into_iter().zip(moments(b));
        pairs.into_iter().any(|(a, b)| a.zip(b).is_some_and(|(a, b)| (a - b).abs() >= DIFFERS))
    })
}

/// Plans, and how near to the best they are.
pub(super) struct Tried {
    pub(super) found: Vec<Offer>,
    /// What the cheapest that was found costs.
    least: i32,
    /// What no plan that was not looked at to the end can be under.
    bound: i32,
}

/// What was tried, as it is offered.
pub(super) fn choice_of(tried: Tried) -> Choice {
    let Tried { found, least, bound } = tried;
    let gap = f64::from((least - bound.min(least)).max(0)) / f64::from(least.max(1));
    Choice { offers: in_order(found), proved: least <= bound, gap, gives_up: Vec::new() }
}

fn offer(problem: &Problem, candidates: &[Candidate], found: Found) -> Offer {
    let Found { ways, plan, cost } = found;
    let chosen = || candidates.iter().zip(&ways).map(|(c, w)| (c, &c.ways[*w]));
    let doubtful: Vec<_> = chosen().map(|(_, w)| w.lane.doubtful.as_slice()).collect();
    let said = chosen().filter(|(_, w)| !w.changes.is_empty());
    Offer {
        key: chosen().map(|(_, w)| w.key.as_str()).collect::<Vec<_>>().join("+"),
        changes: said.map(|(c, w)| format!("{}: {}.", c.name, w.changes)).collect(),
        chance: chance(problem, &doubtful, &plan),
        kinds: kinds(candidates, &ways),
        ways,
        plan,
        cost,
    }
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
