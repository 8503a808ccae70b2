//! The plans of some days; where not all wishes can be kept, the fewest that have to be given up, and the plans without.

use super::combinations::Candidate;
use super::offers::{Choice, Search, choice_of, offers, only};
use super::problem::{Placed, Problem, STEP, Wanted};
use crate::units::{Minutes, shown};

/// Something that may have to be given up.
#[derive(Clone, Copy, PartialEq)]
enum Wish {
    /// The time that is set for a step of a dough.
    Step(usize),
    /// The time at which a dough's bread is wanted.
    Time(usize),
    /// A night's sleep.
    Sleep,
    /// The hours away.
    Away,
}

/// What a time becomes that cannot be kept.
#[derive(Clone, Copy)]
enum Instead {
    /// So many steps later, or up to half an hour to either side of that.
    Later(i32),
    /// By then.
    Sooner,
    /// Whenever it comes.
    AnyTime,
}

/// What is tried for it, one after the other: an hour later, two, three; before it; whenever.
const INSTEAD: [Instead; 4] = [Instead::Later(12), Instead::Later(24), Instead::Later(36), Instead::Sooner];

impl Instead {
    fn of(self, wanted: Wanted) -> Wanted {
        match (self, wanted) {
            (Instead::Later(steps), Wanted::At(t) | Wanted::By(t)) => Wanted::At(t + steps),
            (Instead::Sooner, Wanted::At(t)) => Wanted::By(t),
            _ => Wanted::AnyTime,
        }
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

/// The fewest wishes that have to be given up, and the plans without them: each on its own, steps and times first and
/// sleep and absence after them; then two together.
fn nearest(base: &Problem, candidates: &[Candidate], asked: &[Wanted], search: Search<'_>) -> Choice {
    let has = |asleep: bool| base.closed.iter().any(|c| c.sleep == asleep && !c.certain);
    let set = (0..candidates.len()).filter(|n| !candidates[*n].pinned.is_empty()).map(Wish::Step);
    let timed = (0..candidates.len()).filter(|n| asked[*n] != Wanted::AnyTime).map(Wish::Time);
    let hours = has(true).then_some(Wish::Sleep).into_iter().chain(has(false).then_some(Wish::Away));
    let single: Vec<Wish> = set.chain(timed).chain(hours).collect();
    let mut all: Vec<Vec<Wish>> = single.iter().map(|w| vec![*w]).collect();
    for (i, a) in single.iter().enumerate() {
        all.extend(single[i + 1..].iter().map(|b| vec![*a, *b]));
    }
    for set in all {
        let mut problem = base.clone();
        let hours = |sleep: bool| if sleep { Wish::Sleep } else { Wish::Away };
        problem.closed.retain(|c| c.certain || !set.contains(&hours(c.sleep)));
        let mut freed = candidates.to_vec();
        for (_, c) in freed.iter_mut().enumerate().filter(|(n, _)| set.contains(&Wish::Step(*n))) {
            c.pinned.clear();
        }
        // A bread that cannot be there at its time is best there soon after it, or else before it.
        let without = |instead: Instead| -> Vec<Wanted> {
            let given_up = |n: usize| set.contains(&Wish::Time(n));
            asked.iter().enumerate().map(|(n, w)| if given_up(n) { instead.of(*w) } else { *w }).collect()
        };
        let some_time = set.iter().any(|w| matches!(w, Wish::Time(_)));
        let instead = INSTEAD.iter().filter(|_| some_time).chain([&Instead::AnyTime]);
        let mut tried = instead.map(|i| offers(&problem, &freed, &without(*i), search));
        let Some(tried) = tried.find(|t| !t.found.is_empty()) else { continue };
        let lanes = tried.found.first().map(|o| o.plan.lanes.clone()).unwrap_or_default();
        let says = |wish: &Wish| match wish {
            Wish::Step(n) => format!("the times set for steps of {}", candidates[*n].name),
            Wish::Time(n) => time_given_up(&candidates[*n], lanes.get(*n).map(Vec::as_slice)),
            Wish::Sleep => "a night's sleep".to_owned(),
            Wish::Away => "the hours away".to_owned(),
        };
        return Choice { gives_up: set.iter().map(says).collect(), ..choice_of(tried) };
    }
    Choice { offers: Vec::new(), proved: false, gap: 0.0, gives_up: Vec::new() }
}

/// That a bread is not there at its time, and when it is.
fn time_given_up(c: &Candidate, placed: Option<&[Placed]>) -> String {
    let at = match c.wanted {
        Wanted::At(t) | Wanted::By(t) | Wanted::NotBefore(t) => f64::from(t) * STEP,
        Wanted::AnyTime => f64::NAN,
    };
    let ready = placed.and_then(|p| p.iter().rev().find(|p| p.id.starts_with("cool.")));
    let off = ready.map_or(f64::NAN, |p| p.start + p.length - at);
    let by = || shown::time(Minutes((off.abs() / STEP).round() * STEP));
    let how = match off {
        off if off >= STEP => format!(", {} too late", by()),
        off if off <= -STEP => format!(", {} too early", by()),
        _ => String::new(),
    };
    format!("the time of {}{how}", c.name)
}
