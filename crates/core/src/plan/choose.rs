//! The plans of some days; where not all that is asked can be, the plans that are nearest to it, and what they give up.

use super::combinations::Candidate;
use super::offers::{Choice, Offer, Search, only};
use super::problem::{Gives, Placed, Problem, STEP, Wanted};
use crate::units::{Minutes, shown};

/// Plans all doughs: the best plans of different kinds; where not all that is asked can be, those that are nearest to it.
pub fn choose(base: &Problem, candidates: &[Candidate], search: Search<'_>) -> Choice {
    let found = only(base, candidates, search);
    if !found.offers.is_empty() || candidates.is_empty() {
        return found;
    }
    let near = |gives: Gives| only(&Problem { gives, ..base.clone() }, candidates, search);
    let mut nearest = near(Gives::ALL);
    for offer in &mut nearest.offers {
        offer.gives_up = given_up(base, candidates, offer);
    }
    // Whoever would be woken is asked whether later will do.
    let wakes = |o: &Offer| o.gives_up.iter().any(|g| g == SLEEP);
    if nearest.offers.first().is_some_and(wakes) {
        let mut asleep = near(Gives { sleep: false, ..Gives::ALL }).offers;
        for offer in &mut asleep {
            offer.gives_up = given_up(base, candidates, offer);
        }
        if let Some(later) = asleep.into_iter().next() {
            nearest.offers.truncate(OFFERS - 1);
            nearest.offers.push(later);
        }
    }
    let gives_up = nearest.offers.first().map(|o| o.gives_up.clone()).unwrap_or_default();
    Choice { gives_up, ..nearest }
}

/// The most plans that are offered.
const OFFERS: usize = 4;
/// A night's sleep, as it is given up.
const SLEEP: &str = "a night's sleep";

/// What of all that was asked a plan gives up, a phrase each.
fn given_up(base: &Problem, candidates: &[Candidate], offer: &Offer) -> Vec<String> {
    let mut says = Vec::new();
    let lanes = || candidates.iter().zip(&offer.ways).zip(&offer.plan.lanes);
    for ((c, _), placed) in lanes() {
        let moved = |(id, step): &(String, i32)| {
            let at = placed.iter().find(|p| p.id == *id).map(|p| p.start);
            at.is_some_and(|at| (at - f64::from(*step) * STEP).abs() >= STEP)
        };
        if c.pinned.iter().any(moved) {
            says.push(format!("the times set for steps of {}", c.name));
        }
    }
    says.extend(lanes().filter_map(|((c, _), placed)| time_given_up(c, placed)));
    let taken = |sleep: bool| {
        lanes().any(|((c, way), placed)| {
            let hands = |p: &&Placed| {
                let task = c.ways[*way].lane.tasks.iter().find(|t| t.id == p.id);
                task.is_some_and(|t| t.needs.hands) && !c.fixed.iter().any(|(id, _)| *id == p.id)
            };
            placed.iter().filter(hands).any(|p| {
                base.closed.iter().filter(|c| c.sleep == sleep && !c.certain).any(|c| {
                    let (from, to) = (f64::from(c.from) * STEP, f64::from(c.to) * STEP);
                    let within = (p.start + p.length).min(to) - p.start.max(from);
                    within > f64::from(c.spares.max(0)) * STEP + 1e-6
                })
            })
        })
    };
    says.extend(taken(true).then(|| SLEEP.to_owned()));
    says.extend(taken(false).then(|| "the hours away".to_owned()));
    says
}

/// That a bread is not there at its time, and when it is; nothing where it is.
fn time_given_up(c: &Candidate, placed: &[Placed]) -> Option<String> {
    let (at, sooner, later) = match c.wanted {
        Wanted::At(t) => (t, NEAR, NEAR),
        Wanted::By(t) => (t, f64::INFINITY, 0.0),
        Wanted::NotBefore(t) => (t, 0.0, f64::INFINITY),
        Wanted::AnyTime => return None,
    };
    let ready = placed.iter().rev().find(|p| p.id.starts_with("cool."))?;
    let off = ready.start + ready.length - f64::from(at) * STEP;
    let by = || shown::time(Minutes((off.abs() / STEP).round() * STEP));
    let how = match off {
        off if off > later + 0.5 => format!("{} too late", by()),
        off if off < -sooner - 0.5 => format!("{} too early", by()),
        _ => return None,
    };
    Some(format!("the time of {}, {how}", c.name))
}

/// How far from its time a bread that is wanted at it may be, min: half an hour, and what a step is rounded by.
const NEAR: f64 = 30.0 + STEP;
