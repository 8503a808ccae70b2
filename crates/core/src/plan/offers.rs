//! Which way each dough goes: combinations of ways from the cheapest on, until none that is left can be better than
//! the best that was found; of those the ones that differ in kind are offered side by side.

use std::collections::BTreeMap;
use std::sync::atomic::{AtomicBool, Ordering};

use schemars::JsonSchema;
use serde::Serialize;

use super::chance::{Chance, chance};
use super::combinations::{Candidate, Combination, Combinations};
use super::exact::Effort;
use super::problem::{Outcome, Placed, Problem, Solved, Wanted};
use super::search::{best_of, quick_of};
use super::ways::{WayKind, in_parallel};

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
    /// What of what was asked it gives up, a phrase each; empty where all is kept.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub gives_up: Vec<String>,
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
/// The most combinations that are laid out where the best is searched for; where somebody waits for it, so many over
/// all doughs, for each of which a plan takes longer.
const TRIES: usize = 240;
const TRIES_AT_ONCE: usize = 120;
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

impl Search<'_> {
    fn stopped(&self) -> bool {
        self.stop.is_some_and(|s| s.load(Ordering::Relaxed))
    }
}

/// Plans all doughs as they are wanted: nothing is offered where that cannot be.
pub(super) fn only(base: &Problem, candidates: &[Candidate], search: Search<'_>) -> Choice {
    let asked: Vec<Wanted> = candidates.iter().map(|c| c.wanted).collect();
    choice_of(offers(base, candidates, &asked, search))
}

/// The kinds of ways of a combination: plans that differ in them differ for the baker.
fn kinds(candidates: &[Candidate], ways: &[usize]) -> Vec<WayKind> {
    candidates.iter().zip(ways).map(|(c, w)| c.ways[*w].kind).collect()
}

/// A plan for one combination of ways.
struct Found {
    of: Combination,
    plan: Solved,
    cost: i32,
}

/// The best plans so far, by the kinds of their ways.
struct Best<'a> {
    candidates: &'a [Candidate],
    found: BTreeMap<Vec<WayKind>, Found>,
    /// What the cheapest costs.
    least: i32,
    /// What no plan that was not looked at to the end can be under.
    bound: i32,
}

impl Best<'_> {
    fn keep(&mut self, of: Combination, plan: Solved) {
        let (kinds, cost) = (kinds(self.candidates, &of.ways), plan.cost + of.changed);
        self.least = self.least.min(cost);
        if self.found.get(&kinds).is_none_or(|known| cost < known.cost) {
            self.found.insert(kinds, Found { of, plan, cost });
        }
    }

    fn not_under(&mut self, bound: i32) {
        self.bound = self.bound.min(bound);
    }

    /// Whether a combination that costs so much at least is still worth a look.
    fn wants(&self, at_least: i32) -> bool {
        at_least < self.least || self.found.len() < OFFERS
    }

    /// What the last of those costs that are offered: what costs more is not.
    fn last(&self) -> i32 {
        let mut costs: Vec<i32> = self.found.values().map(|f| f.cost).collect();
        costs.sort_unstable();
        costs.get(OFFERS - 1).copied().unwrap_or(i32::MAX)
    }
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
    let Some(mut combinations) = Combinations::of(base, candidates, asked) else {
        return Tried { found: Vec::new(), least: 0, bound: i32::MAX };
    };
    let mut best = Best { candidates, found: BTreeMap::new(), least: i32::MAX, bound: i32::MAX };
    let open = laid_out(&mut combinations, &mut best, search);
    for these in open.chunks(AT_ONCE) {
        let better: Vec<&Combination> = these.iter().filter(|c| c.least < best.least).collect();
        if search.quick || search.stopped() {
            better.into_iter().for_each(|c| best.not_under(c.least));
            continue;
        }
        let searched = |c: &Combination| {
            let (problem, doughs) = combinations.problem(c);
            let effort = Effort { looks: LOOKS, stop: search.stop };
            let under = (!best.found.is_empty()).then(|| best.least - c.changed);
            (c.clone(), best_of(&problem, doughs, under, effort))
        };
        for (c, outcome) in in_parallel(better, &searched) {
            match outcome {
                Outcome::Found(plan) => {
                    if !plan.proved {
                        best.not_under(c.least);
                    }
                    best.keep(c, plan);
                }
                Outcome::Impossible => {}
                Outcome::GaveUp => best.not_under(c.least),
            }
        }
    }
    if !search.stopped() {
        let laid = |c: Combination| Some((laid(&combinations, &c, i32::MAX)?, c));
        for (plan, c) in in_parallel(each_kind(&combinations, &best), &laid).into_iter().flatten() {
            best.keep(c, plan);
        }
    }
    let Best { found, least, bound, .. } = best;
    let mut all: Vec<Found> = found.into_values().collect();
    all.sort_by_key(|o| o.cost);
    let offer = |f: Found| offer(&combinations.problem(&f.of).0, candidates, f);
    Tried { found: apart(all, candidates, offer), least, bound }
}

/// A plan of a combination without a search, where one that costs less than `under` is of use.
fn laid(combinations: &Combinations<'_>, of: &Combination, under: i32) -> Option<Solved> {
    let (problem, doughs) = combinations.problem(of);
    quick_of(&problem, doughs, under.saturating_sub(of.changed))
}

/// Lays combinations out without a search, as long as one may be better than the best; those that may still be better
/// are returned.
fn laid_out(
    combinations: &mut Combinations<'_>,
    best: &mut Best<'_>,
    search: Search<'_>,
) -> Vec<Combination> {
    let mut open = Vec::new();
    let tries = if search.quick { TRIES_AT_ONCE / best.candidates.len().max(1) } else { TRIES };
    for round in 0.. {
        let next: Vec<Combination> = combinations.take(AT_ONCE).collect();
        let Some(Combination { after, .. }) = next.first() else { break };
        if !best.wants(*after) {
            break;
        }
        if round == tries / AT_ONCE || search.stopped() && !best.found.is_empty() {
            best.not_under(*after);
            break;
        }
        let next = next.into_iter().filter(|c| best.wants(c.least)).collect();
        let (all, under) = (&*combinations, best.last());
        for (plan, c) in in_parallel(next, &|c: Combination| (laid(all, &c, under), c)) {
            let proved = plan.as_ref().is_some_and(|p| p.proved);
            if !proved {
                open.push(c.clone());
            }
            if let Some(plan) = plan {
                best.keep(c, plan);
            }
        }
    }
    open
}

/// Each dough in each kind of way that no plan has yet, beside the others as they are in the best.
fn each_kind(combinations: &Combinations<'_>, best: &Best<'_>) -> Vec<Combination> {
    let Some(first) = best.found.values().min_by_key(|f| f.cost) else { return Vec::new() };
    let mut all = Vec::new();
    for (dough, candidate) in best.candidates.iter().enumerate() {
        let mut seen: Vec<WayKind> = best.found.keys().map(|kinds| kinds[dough]).collect();
        for changed in combinations.with_each(&first.of, dough) {
            let kind = candidate.ways[changed.ways[dough]].kind;
            if !seen.contains(&kind) {
                seen.push(kind);
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
        let same = |k: &&Offer| !differ(&k.plan, &f.plan) && done_now(&k.ways) == done_now(&f.of.ways);
        let beside: Vec<f64> = kept.iter().filter(same).map(|k| k.chance.holds).collect();
        // How often it holds takes the longest to know.
        if beside.is_empty() || unchanged(&f.of.ways) {
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
    let Found { of: Combination { ways, .. }, plan, cost } = found;
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
        gives_up: Vec::new(),
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
