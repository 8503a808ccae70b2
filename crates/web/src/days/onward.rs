//! It goes otherwise than planned: the ways on are offered, and one of them is followed.

use actix_web::http::StatusCode;
use cerealis_core::bake::{on_its_plan, stands};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::pantry::Catalogue;
use cerealis_core::plan::{Began, DayPlan, Otherwise, ReplanInput, Replanned, Rest, Taken};
use cerealis_store::{Revision, Store, StoredBake};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};

use super::fields::fill;
use super::page::DaysPage;
use super::press::Happens;
use super::{Outcome, Planner, input, said};
use crate::error::PageError;
use crate::form::{Form, Reader};
use crate::household::Household;
use crate::show::clock;

/// How many of the last bakes are looked through for those of a plan.
const LAST_BAKES: i64 = 20;

/// Where a plan that is followed is gone on with.
pub(super) struct Onward<'a> {
    pub(super) store: &'a Store,
    pub(super) planner: &'a Planner,
    pub(super) home: &'a Household,
}

impl Onward<'_> {
    pub(super) fn on_from(
        &self,
        plan: &DayPlan,
        taken: &Taken,
        otherwise: Otherwise,
    ) -> Result<Result<Replanned, Faults>, PageError> {
        let days = input(self.store, &DayPlan { taken: None, ..plan.clone() }, self.home)?;
        let input = ReplanInput { days, taken: taken.clone(), otherwise, bench: self.bench(plan)? };
        Ok(self.planner.rest(&input, self.home).map(Rest::plan))
    }

    /// What the bench says of the plan's doughs: of each that is there, what has begun and when; of the others nothing has,
    /// once one of them is there.
    fn bench(&self, plan: &DayPlan) -> Result<Vec<Option<Began>>, PageError> {
        let (from, now) = (plan.from.to_string(), self.home.now);
        let mut all = vec![None; plan.doughs.len()];
        for bake in self.store.running_bakes()? {
            let of = bake.start.of_plan.as_ref().filter(|of| of.from == from);
            let Some(place) = of.and_then(|of| all.get_mut(of.dough)) else { continue };
            let start = on_its_plan(&bake.start, &bake.events);
            let catalogue = Catalogue::bundled().with(&bake.start.own);
            let Ok(stands) = stands(&start, &bake.events, &catalogue, now) else { continue };
            let has_begun = |id: &str| {
                let state = stands.state.step(id);
                state.is_some_and(|s| s.begun.is_some() || s.is_over())
                    || stands.due.next.iter().any(|d| d.id == id && d.under_way)
            };
            let spans = stands.due.spans.iter().filter(|s| has_begun(&s.id));
            *place = Some(spans.map(|s| (s.id.clone(), s.from.min(now))).collect());
        }
        if all.iter().any(Option::is_some) {
            let over = |n: usize| {
                let steps = plan.taken.iter().flat_map(|t| &t.steps).filter(move |s| s.dough == n);
                steps.map(|s| s.at).max().is_some_and(|last| last <= now)
            };
            // One that is over is not at the bench any more.
            for (n, said) in all.iter_mut().enumerate().filter(|(n, _)| !over(*n)) {
                said.get_or_insert_with(|| self.finished(plan, n).unwrap_or_default());
            }
        }
        Ok(all)
    }

    /// What has begun of a dough whose bake is over; nothing where there was none.
    fn finished(&self, plan: &DayPlan, dough: usize) -> Option<Began> {
        let from = plan.from.to_string();
        let past = self.store.past_bakes(None, LAST_BAKES).ok()?;
        let of_it =
            |b: &StoredBake| b.start.of_plan.as_ref().is_some_and(|of| of.from == from && of.dough == dough);
        past.iter().any(of_it).then_some(())?;
        let steps = plan.taken.iter().flat_map(|t| &t.steps).filter(|s| s.dough == dough);
        Some(steps.map(|s| (s.id.clone(), s.at.min(self.home.now))).collect())
    }

    /// It goes otherwise: the ways on are offered.
    pub(super) fn otherwise(
        &self,
        plan: DayPlan,
        happens: Happens,
        form: Form,
        all: Vec<(i32, String)>,
    ) -> Result<Outcome, PageError> {
        let zone = self.home.zone();
        let minutes =
            |m: i64| self.home.now.checked_add(SignedDuration::from_mins(m)).unwrap_or(self.home.now);
        let typed = |name: &str, empty: &str| -> Result<Timestamp, Faults> {
            let mut r = Reader::new(&form);
            let time = r.time(name);
            if time.is_none() && form.value(name).trim().is_empty() {
                r.fault("missing", name, empty);
            }
            r.done(()).map(|()| time.map_or(self.home.now, |t| next(t, self.home.now, &zone)))
        };
        let happened = match happens {
            // What is next is done so much later than it was to be.
            Happens::Late(late) => {
                let hands = plan.taken.iter().flat_map(|t| &t.steps).filter(|s| s.hands_on);
                let next = hands.map(|s| s.at).filter(|at| *at > self.home.now).min();
                let from = next.unwrap_or(self.home.now);
                let until = from.checked_add(SignedDuration::from_mins(late)).unwrap_or(minutes(late));
                Ok(Otherwise::NoHands { until })
            }
            Happens::NoHands => typed("until", "Give the time from which there are hands again.")
                .map(|until| Otherwise::NoHands { until }),
            Happens::OvenTaken => typed("oven_until", "Give the time from which the oven is free.")
                .map(|until| Otherwise::OvenTaken { oven: which_oven(&form, self.home), until }),
            Happens::Bed => Ok(Otherwise::NoHands { until: wakes(&plan, self.home, &zone) }),
            Happens::Ready(dough, id) => Ok(Otherwise::Ready { dough, id }),
            Happens::Moved(moved) => Ok(moved.otherwise(&plan, &zone)),
        };
        match happened {
            Ok(happened) => self.offered(plan, happened, &form, all),
            Err(faults) => self.refused(&plan, &faults, &form, all),
        }
    }

    pub(super) fn offered(
        &self,
        plan: DayPlan,
        happened: Otherwise,
        form: &Form,
        all: Vec<(i32, String)>,
    ) -> Result<Outcome, PageError> {
        let Some(taken) = &plan.taken else { return Err(PageError::UnknownButton) };
        match self.on_from(&plan, taken, happened.clone())? {
            Ok(on) if !on.offers.is_empty() => {
                let again = fill(&plan, &self.home.kitchen, self.home.today());
                let revision = form.revision().unwrap_or(Revision::UNSAID);
                let page = DaysPage::new(again, revision, all, self.home.today());
                let page =
                    page.taking(&plan, taken, self.home).going_on(&plan, taken, &on, &happened, self.home);
                Ok(Outcome::Shown(StatusCode::OK, Box::new(page)))
            }
            Ok(_) => {
                let text = "The rest cannot be planned any more. Plan the days again, with other times.";
                self.refused(&plan, &Fault::new("impossible", "until", text).into(), form, all)
            }
            Err(faults) => self.refused(&plan, &faults, form, all),
        }
    }

    fn refused(
        &self,
        plan: &DayPlan,
        faults: &Faults,
        form: &Form,
        all: Vec<(i32, String)>,
    ) -> Result<Outcome, PageError> {
        let mut again = fill(plan, &self.home.kitchen, self.home.today());
        for name in ["until", "oven_until"] {
            again.set(name, form.value(name));
        }
        again.mark(faults);
        let mut page = DaysPage::new(again, self.store.day_plan()?.revision, all, self.home.today());
        if let Some(taken) = &plan.taken {
            page = page.taking(plan, taken, self.home);
        }
        Ok(Outcome::Shown(StatusCode::UNPROCESSABLE_ENTITY, Box::new(page)))
    }

    /// The plan that goes on in one of the ways that were offered; `None` where it is not offered any more.
    pub(super) fn on_in(
        &self,
        plan: &DayPlan,
        happened: &Otherwise,
        key: &str,
    ) -> Result<Option<DayPlan>, PageError> {
        let Some(before) = &plan.taken else { return Err(PageError::UnknownButton) };
        let Ok(on) = self.on_from(plan, before, happened.clone())? else { return Ok(None) };
        let Some(mut taken) = on.take(key, before) else { return Ok(None) };
        let zone = self.home.zone();
        let Some(chosen) = on.offers.iter().find(|o| o.offer.offer.key == key) else { return Ok(None) };
        let said = |t: Timestamp| clock(&t.to_zoned_datetime(zone.clone()));
        let name = |n: usize| before.doughs.get(n).map_or("", String::as_str);
        let first = match happened {
            Otherwise::NoHands { until } => {
                format!("No hands until {}: the rest was planned again.", said(*until))
            }
            Otherwise::OvenTaken { until, .. } => {
                format!("The oven was taken until {}: the rest was planned again.", said(*until))
            }
            Otherwise::Ready { dough, .. } => {
                format!("{} was ready early: the rest was planned again.", name(*dough))
            }
            Otherwise::Moved { at, .. } => {
                format!("A step was set to {}: the rest was planned again.", said(*at))
            }
            Otherwise::Nothing => "The rest was planned again.".to_owned(),
        };
        let mut since = vec![first];
        since.extend(said::moved_says(&chosen.moved, &before.doughs));
        since.extend(on.gives_up.iter().map(|what| format!("Given up: {what}.")));
        let missed = chosen.missed.iter().filter(|_| on.gives_up.is_empty());
        since.extend(missed.map(|(dough, what)| said::missed_says(what, name(*dough))));
        since.extend(chosen.over.iter().map(|(dough, what)| said::over_says(what, name(*dough))));
        taken.since = since;
        Ok(Some(plan.clone().following(taken)))
    }
}

/// The oven that is meant, by its number; the first where the kitchen has one.
fn which_oven(form: &Form, home: &Household) -> usize {
    let number = form.value("oven_no").parse::<usize>().ok();
    number.filter(|n| *n <= home.kitchen.ovens.len()).unwrap_or(0)
}

/// When the night is over that comes next, or is now.
fn wakes(plan: &DayPlan, home: &Household, zone: &TimeZone) -> Timestamp {
    let begins = plan.begins(zone);
    let at = |step: i32| {
        let minutes = (f64::from(step) * cerealis_core::plan::STEP) as i64;
        begins.checked_add(SignedDuration::from_mins(minutes)).unwrap_or(begins)
    };
    let nights = plan.closed(&home.kitchen, zone).into_iter().filter(|c| c.sleep).map(|c| at(c.to));
    nights.into_iter().find(|to| *to > home.now).unwrap_or(home.now)
}

/// The next time that it is this time of day.
fn next(time: jiff::civil::Time, now: Timestamp, zone: &TimeZone) -> Timestamp {
    let today = now.to_zoned_datetime(zone.clone()).date();
    let on = |date: jiff::civil::Date| {
        date.to_datetime(time).to_zoned_datetime(zone.clone()).map_or(now, |z| z.timestamp())
    };
    let at = on(today);
    if at > now { at } else { today.tomorrow().map_or(now, on) }
}
