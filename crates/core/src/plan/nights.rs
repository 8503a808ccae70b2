//! Nights that are cooler: a rise is as long as it is only from the hour at which it begins. What is offered is worked
//! out again for the hour at which it would begin, and planned again, until both agree.

use std::sync::Arc;

use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};

use super::answer::DaysInput;
use super::blocks::Blocks;
use super::combinations::Candidate;
use super::offers::{Choice, Offer, Search};
use super::problem::{STEP, Within};
use super::ways::{Engines, Readings, Way, in_parallel};
use crate::day::{Anchor, DayWish};
use crate::kitchen::Kitchen;
use crate::pantry::Catalogue;
use crate::stations::has_night;

/// How far from the step for which it was worked out a way may begin at the most, before that is looked at.
const HOLDS_FOR: i32 = 12;
/// How much longer or shorter a rise may be than it was planned, as a part of it: no forecast is nearer than that.
const ALIKE: f64 = 0.04;
/// What is as good as nothing, min.
const A_LITTLE: f64 = 4.0;
/// How often what is offered is worked out again; less often where somebody waits for it.
const ROUNDS: usize = 8;
const ROUNDS_AT_ONCE: usize = 3;
/// How often it is searched in between.
const SEARCHES: usize = 2;

/// The nights of some days in a kitchen.
#[derive(Clone, Debug)]
pub(super) struct Nights<'a> {
    pub(super) days: &'a DaysInput,
    pub(super) catalogue: &'a Catalogue,
    /// What was read already.
    pub(super) readings: Arc<Readings>,
}

/// Whether it gets cooler by night anywhere in a kitchen.
pub(super) fn gets_cooler(kitchen: &Kitchen) -> bool {
    kitchen.night > 0.0 || kitchen.places.iter().any(|p| p.night > 0.0)
}

/// A way of a dough that begins at a step.
#[derive(Clone, Copy, Debug, PartialEq)]
struct Begun {
    dough: usize,
    way: usize,
    step: i32,
    /// Its first touch, min.
    first: f64,
}

impl Nights<'_> {
    /// Chooses with `search`, and again with what was offered as it is at the hours at which it begins.
    pub(super) fn chosen(
        &self,
        candidates: &mut [Candidate],
        search: Search<'_>,
        choose: impl Fn(&[Candidate], Search<'_>) -> Choice,
    ) -> Choice {
        let by_night = |w: &Way| has_night(&w.lane.formula, &self.days.kitchen);
        if !candidates.iter().any(|c| c.ways.iter().any(by_night)) {
            return choose(candidates, search);
        }
        let mut agreed = Vec::new();
        // What is near is found quickly; then it is searched.
        let quickly = |c: &[Candidate]| choose(c, Search { quick: true, ..search });
        if search.quick {
            return self.settled(candidates, &mut agreed, ROUNDS_AT_ONCE, quickly);
        }
        self.settled(candidates, &mut agreed, ROUNDS, quickly);
        for _ in 0..SEARCHES {
            let chosen = choose(candidates, search);
            let wanted = self.not_known(&chosen.offers, candidates, &agreed);
            if wanted.is_empty() || !self.work_out(wanted, candidates, &mut agreed) {
                return chosen;
            }
            self.settled(candidates, &mut agreed, ROUNDS_AT_ONCE, quickly);
        }
        let chosen = self.known_of(choose(candidates, search), candidates, &agreed);
        if chosen
            .offers
            .iter()
            .all(|o| self.not_known(std::slice::from_ref(o), candidates, &agreed).is_empty())
        {
            return chosen;
        }
        self.settled(candidates, &mut agreed, ROUNDS, quickly)
    }

    /// What hangs on a minute is not offered where there is something else.
    fn known_of(&self, mut chosen: Choice, candidates: &[Candidate], agreed: &[Begun]) -> Choice {
        let known = |o: &Offer| self.not_known(std::slice::from_ref(o), candidates, agreed).is_empty();
        if chosen.offers.iter().any(known) {
            chosen.offers.retain(known);
        }
        chosen
    }

    fn settled(
        &self,
        candidates: &mut [Candidate],
        agreed: &mut Vec<Begun>,
        rounds: usize,
        choose: impl Fn(&[Candidate]) -> Choice,
    ) -> Choice {
        let mut chosen = choose(candidates);
        for _ in 0..rounds {
            let wanted = self.not_known(&chosen.offers, candidates, agreed);
            if wanted.is_empty() {
                return chosen;
            }
            if !self.work_out(wanted, candidates, agreed) {
                return chosen;
            }
            chosen = choose(candidates);
        }
        self.known_of(chosen, candidates, agreed)
    }

    /// What is offered to begin at a step for which it was not worked out.
    fn not_known(&self, offers: &[Offer], candidates: &[Candidate], agreed: &[Begun]) -> Vec<Begun> {
        let mut wanted: Vec<Begun> = Vec::new();
        for offer in offers {
            for (dough, way) in offer.ways.iter().enumerate() {
                let c = &candidates[dough];
                if !c.fixed.is_empty() || !has_night(&c.ways[*way].lane.formula, &self.days.kitchen) {
                    continue;
                }
                let Some((step, first)) = begins(c, *way, offer, dough) else { continue };
                let begun = Begun { dough, way: *way, step, first };
                let known = c.ways[*way].worked_out_at == Some(step) || agreed.contains(&begun);
                if !known && !wanted.contains(&begun) {
                    wanted.push(begun);
                }
            }
        }
        wanted
    }

    /// Works ways out for the steps at which they are to begin, and says whether any is otherwise there.
    fn work_out(&self, wanted: Vec<Begun>, candidates: &mut [Candidate], agreed: &mut Vec<Begun>) -> bool {
        let known = |b: &Begun| &candidates[b.dough].ways[b.way];
        let read = |b: Begun| (b, self.engines(b.dough, self.moment(b.first)).way_again(known(&b)));
        let found = in_parallel(wanted, &read);
        let mut any = false;
        for (begun, way) in found {
            let ways = &mut candidates[begun.dough].ways;
            if way.as_ref().is_some_and(|w| alike(w, &ways[begun.way])) {
                agreed.push(begun);
                continue;
            }
            any = true;
            let (step, key) = (begun.step, ways[begun.way].key.clone());
            let mut here = (step - HOLDS_FOR, step + HOLDS_FOR);
            // Between two steps for which a way was worked out each goes half way.
            for other in ways.iter_mut().filter(|w| w.key == key) {
                match (other.worked_out_at, &mut other.begins.only) {
                    (Some(at), Some((_, last))) if at < step && *last >= here.0 => {
                        *last = (at + step).div_euclid(2);
                        here.0 = here.0.max(*last + 1);
                    }
                    (Some(at), Some((first, _))) if at > step && *first <= here.1 => {
                        *first = (at + step).div_euclid(2) + 1;
                        here.1 = here.1.min(*first - 1);
                    }
                    (None, _) => other.begins.never.push((step - HOLDS_FOR, step + HOLDS_FOR)),
                    _ => {}
                }
            }
            let begins = Within { only: Some(here), never: Vec::new() };
            ways.extend(way.map(|w| Way { begins, worked_out_at: Some(step), ..w }));
        }
        any
    }

    fn engines(&self, dough: usize, first: Timestamp) -> Engines<'_> {
        let DaysInput { plan, kitchen, now, .. } = self.days;
        let zone = kitchen.zone().unwrap_or(TimeZone::UTC);
        let at = first.to_zoned_datetime(zone).datetime();
        let day = DayWish { anchor: Anchor::Start, at: Some(at) };
        let pins = plan.doughs.get(dough).map(|d| d.pins).unwrap_or_default();
        Engines { kitchen, catalogue: self.catalogue, pins, now: *now, day, readings: &self.readings }
    }

    fn moment(&self, minutes: f64) -> Timestamp {
        let zone = self.days.kitchen.zone().unwrap_or(TimeZone::UTC);
        let begins = self.days.plan.begins(&zone);
        begins.checked_add(SignedDuration::from_secs((minutes * 60.0) as i64)).unwrap_or(begins)
    }
}

/// Whether two readings of one way have rises that are as long as each other.
fn alike(a: &Way, b: &Way) -> bool {
    let waits = a.lane.tasks.iter().filter(|t| !t.needs.hands);
    waits.into_iter().all(|task| {
        let other = b.lane.tasks.iter().find(|t| t.id == task.id);
        let apart = other.map_or(f64::INFINITY, |o| (o.lasts.best.0 - task.lasts.best.0).abs());
        apart <= A_LITTLE.max(ALIKE * task.lasts.best.0)
    })
}

/// The step at which the first block of a dough begins in an offer, and its first touch in minutes.
fn begins(c: &Candidate, way: usize, offer: &Offer, n: usize) -> Option<(i32, f64)> {
    let lane = c.lane(way, c.wanted);
    let blocks = Blocks::of(&lane);
    let placed = offer.plan.lanes.get(n)?;
    let first = placed.iter().map(|p| p.start).reduce(f64::min)?;
    let of_first = lane.tasks.iter().zip(&blocks.tasks).find(|(_, (at, _))| at.block == 0)?;
    let (task, (at, _)) = of_first;
    let start = placed.iter().find(|p| p.id == task.id)?.start - at.minutes;
    Some(((start / STEP).round() as i32, first))
}
