//! It goes otherwise than planned: the ways on are offered, and one of them is followed.

use actix_web::http::StatusCode;
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::plan::{DayPlan, Otherwise, ReplanInput, Replanned, Rest, Taken};
use cerealis_store::{Revision, Store};
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
        let input = ReplanInput { days, taken: taken.clone(), otherwise };
        Ok(self.planner.rest(&input, self.home).map(Rest::plan))
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
            Happens::Late(late) => Ok(Otherwise::NoHands { until: minutes(late) }),
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
