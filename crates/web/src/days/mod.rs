//! The Day page: several doughs planned together.

mod calendar;
mod fields;
mod page;
mod planner;
mod press;
mod said;
mod shopping;

use std::collections::BTreeMap;

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::formula::Formula;
use cerealis_core::plan::{DayPlan, DaysInput, Otherwise, ReplanInput, Replanned, Taken, replan};

use cerealis_store::{BakeId, FormulaId, Revision, Store, StoreError};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use serde::Deserialize;

use crate::download::as_file;
use crate::error::{PageError, blocking, html, html_as, on_to};
use crate::form::{Form, Reader};
use crate::household::Household;
use crate::live::{Live, Said};
use crate::notation;
use crate::posted::Posted;
use crate::sharing::Baker;
use crate::show::clock;
use calendar::Calendar;
use fields::{at_their_rows, fill, press as press_row, read, with_absences};
use page::{DaysPage, OffersPart, offer_says};
use press::{Happens, Move, Press};

pub use planner::Planner;

fn formulas(store: &Store) -> Result<Vec<(i32, String)>, StoreError> {
    let all = store.formulas()?.into_iter().filter(|f| !f.archived);
    Ok(all.map(|f| (f.id.0, f.formula.name)).collect())
}

fn input(store: &Store, plan: &DayPlan, home: &Household) -> Result<DaysInput, StoreError> {
    let mut named: BTreeMap<i32, Formula> = BTreeMap::new();
    for dough in &plan.doughs {
        match store.formula(FormulaId(dough.formula)) {
            Ok(stored) => drop(named.insert(dough.formula, stored.formula)),
            // It is said at its field.
            Err(StoreError::NotFound | StoreError::Damaged(_)) => {}
            Err(other) => return Err(other),
        }
    }
    Ok(DaysInput { plan: plan.clone(), formulas: named, kitchen: home.kitchen.clone(), now: home.now })
}

/// Whether the best is to be searched for before the page is shown: without scripts it does not come after it.
#[derive(Deserialize)]
pub struct Query {
    search: Option<u8>,
}

/// The page.
pub async fn show(
    store: web::Data<Store>,
    planner: web::Data<Planner>,
    query: web::Query<Query>,
) -> Result<HttpResponse, PageError> {
    let page = blocking(move || {
        let home = Household::load(&store)?;
        let stored = store.day_plan()?;
        let plan = stored.plan.unwrap_or_else(|| DayPlan::beginning(home.today()));
        let mut page = page_of(&store, &plan, &formulas(&store)?, &home)?;
        page.damaged = stored.damaged.is_some();
        if let Some(taken) = &plan.taken {
            return Ok(page.taking(&plan, taken, &home));
        }
        if plan.doughs.is_empty() {
            return Ok(page);
        }
        let asked = input(&store, &plan, &home)?;
        let answer = if query.search.is_some() {
            planner.searched(&asked, &home)
        } else {
            planner.shown(&asked, &home)
        };
        match answer {
            Ok(answer) => Ok(page.offering(OffersPart::of(&plan, &answer, &home))),
            Err(faults) => {
                page.form.mark(&at_their_rows(&page.form, faults));
                Ok(page)
            }
        }
    })
    .await?;
    html(&page)
}

/// The plans once the best is proved, for the page that shows what was found at first.
pub async fn searched(
    store: web::Data<Store>,
    planner: web::Data<Planner>,
) -> Result<HttpResponse, PageError> {
    let part = blocking(move || {
        let home = Household::load(&store)?;
        let plan = store.day_plan()?.plan.ok_or(PageError::NotFound)?;
        let asked = input(&store, &plan, &home)?;
        let answer = planner.searched(&asked, &home).map_err(|_| PageError::NotFound)?;
        Ok(OffersPart::of(&plan, &answer, &home))
    })
    .await?;
    html(&part)
}

/// Ends the search.
pub async fn stop(_baker: Baker, planner: web::Data<Planner>) -> HttpResponse {
    planner.stop();
    HttpResponse::NoContent().finish()
}

/// What a plan would be with something moved, while it is moved: its picture and what it comes to.
pub async fn tried(
    _baker: Baker,
    store: web::Data<Store>,
    planner: web::Data<Planner>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let answer = blocking(move || {
        let Posted(form) = posted;
        let home = Household::load(&store)?;
        let moved = Move::from_text(form.value("move")).ok_or(PageError::UnknownButton)?;
        let zone = home.zone();
        let stored = store.day_plan()?.plan.ok_or(PageError::NotFound)?;
        let found = match &stored.taken {
            Some(taken) => {
                let on = on_from(&store, &stored, taken, moved.otherwise(&stored, &zone), &home)?;
                let on = on.map_err(|_| PageError::UnknownButton)?;
                on.offers.into_iter().next().map(|o| o.offer)
            }
            None => {
                let plan = moved.in_plan(stored.clone(), "", &zone);
                let asked = input(&store, &plan, &home)?;
                let asked = planner.asked(&asked, &home).map_err(|_| PageError::UnknownButton)?;
                asked.quick_of(form.value("key"))
            }
        };
        let at = moved.at(&stored, &zone).to_zoned_datetime(zone);
        let when = format!("{} {}", crate::show::day(&at), clock(&at));
        let notation = home.kitchen.notation();
        Ok(match found {
            Some(o) => serde_json::json!({
                "when": notation::text(&when, notation, false),
                "picture": notation::page(&page::drawn(&stored, &o.steps, &page::names(&stored, &o), &home), notation),
                "says": notation::text(&offer_says(&o, &home), notation, false),
            }),
            None => serde_json::json!({
                "when": notation::text(&when, notation, false),
                "says": "That cannot be: the dough, the hours or the oven stand in the way.",
            }),
        })
    })
    .await?;
    Ok(HttpResponse::Ok().json(answer))
}

/// How a press came out.
enum Outcome {
    Shown(StatusCode, Box<DaysPage>),
    /// With the bakes that go by it from now on.
    Saved(Vec<BakeId>),
}

/// Plans what is asked, takes one of the plans, goes on otherwise, or adds and removes rows.
pub async fn post(
    _baker: Baker,
    store: web::Data<Store>,
    planner: web::Data<Planner>,
    live: web::Data<Live>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let done = blocking(move || {
        let done = pressed(&store, &planner, posted.0)?;
        if let Outcome::Saved(bakes) = &done {
            let seq = store.last_event()?;
            bakes.iter().for_each(|id| live.say(Said::Bake(*id, seq)));
        }
        Ok(done)
    });
    match done.await? {
        Outcome::Saved(_) => Ok(on_to("/day".into())),
        Outcome::Shown(status, page) => html_as(status, &*page),
    }
}

fn pressed(store: &Store, planner: &Planner, mut form: Form) -> Result<Outcome, PageError> {
    let home = Household::load(store)?;
    let (all, today) = (formulas(store)?, home.today());
    let typed = form.revision();
    let shown = |form: Form, status| {
        let mut page = DaysPage::new(form, typed.unwrap_or(Revision::UNSAID), all.clone(), today);
        page.touched = true;
        Outcome::Shown(status, Box::new(page))
    };
    let op = form.value("op").to_owned();
    if press_row(&mut form, &op, &all) {
        return Ok(shown(form, StatusCode::OK));
    }
    if op == "absences" {
        return Ok(match with_absences(&mut form, &home) {
            Ok(doubts) => match shown(form, StatusCode::OK) {
                Outcome::Shown(status, mut page) => {
                    page.doubts = doubts;
                    Outcome::Shown(status, page)
                }
                saved => saved,
            },
            Err(faults) => {
                form.mark(&faults);
                shown(form, StatusCode::UNPROCESSABLE_ENTITY)
            }
        });
    }
    let over = form.over();
    let press = if form.ticked("over") {
        Press::Plan
    } else {
        Press::from_key(&op).ok_or(PageError::UnknownButton)?
    };
    let stored = || store.day_plan()?.plan.ok_or(PageError::UnknownButton);
    let told = |plan: DayPlan| -> Result<DayPlan, PageError> {
        let before = store.day_plan()?.plan.filter(|p| p.from == plan.from);
        Ok(DayPlan { told: before.map(|p| p.told).unwrap_or_default(), ..plan })
    };
    let plan = match press {
        Press::Plan | Press::Move(_) | Press::Free(..) => {
            let plan = match read(&form, today).and_then(|p| p.check().map(|()| p)) {
                Ok(plan) => plan,
                Err(faults) => {
                    form.mark(&at_their_rows(&form, faults));
                    return Ok(shown(form, StatusCode::UNPROCESSABLE_ENTITY));
                }
            };
            let plan = told(plan)?;
            match press {
                Press::Move(moved) => moved.in_plan(plan, form.value(&format!("title.{op}")), &home.zone()),
                Press::Free(dough, place) => freed(plan, dough, place),
                _ => plan,
            }
        }
        Press::Again => DayPlan { taken: None, ..stored()? },
        Press::Take(key) => {
            let asked = DayPlan { taken: None, ..stored()? };
            let mut page = page_of(store, &asked, &all, &home)?;
            match planner.shown(&input(store, &asked, &home)?, &home) {
                Ok(answer) => match answer.take(&key) {
                    Some(taken) => asked.following(taken),
                    // What was offered is not so any more: what is, is offered.
                    None => {
                        page.gone = true;
                        let page = page.offering(OffersPart::of(&asked, &answer, &home));
                        return Ok(Outcome::Shown(StatusCode::OK, Box::new(page)));
                    }
                },
                Err(faults) => {
                    page.form.mark(&at_their_rows(&page.form, faults));
                    return Ok(Outcome::Shown(StatusCode::UNPROCESSABLE_ENTITY, Box::new(page)));
                }
            }
        }
        Press::Otherwise(happens) => return otherwise(store, stored()?, happens, form, all, &home),
        Press::On(key) => {
            let plan = stored()?;
            let happened =
                serde_json::from_str(form.value("happened")).map_err(|_| PageError::UnknownButton)?;
            match on_in(store, &plan, &happened, &key, &home)? {
                Some(plan) => plan,
                // What was offered is not so any more: it is offered anew.
                None => return offered(store, plan, happened, &form, all, &home),
            }
        }
    };
    match store.save_day_plan(over, &plan) {
        Ok((_, bakes)) => Ok(Outcome::Saved(bakes)),
        Err(StoreError::Conflict) => {
            let mut page = DaysPage::new(form, typed.unwrap_or(Revision::UNSAID), all.clone(), today);
            page.conflict = true;
            Ok(Outcome::Shown(StatusCode::CONFLICT, Box::new(page)))
        }
        Err(other) => Err(other.into()),
    }
}

/// The page of a plan as it is kept.
fn page_of(
    store: &Store,
    plan: &DayPlan,
    all: &[(i32, String)],
    home: &Household,
) -> Result<DaysPage, PageError> {
    let form = fill(plan, &home.kitchen, home.today());
    Ok(DaysPage::new(form, store.day_plan()?.revision, all.to_vec(), home.today()))
}

fn freed(mut plan: DayPlan, dough: usize, place: usize) -> DayPlan {
    if let Some(dough) = plan.doughs.get_mut(dough).filter(|d| place < d.fixed.len()) {
        dough.fixed.remove(place);
    }
    plan
}

fn on_from(
    store: &Store,
    plan: &DayPlan,
    taken: &Taken,
    otherwise: Otherwise,
    home: &Household,
) -> Result<Result<Replanned, Faults>, PageError> {
    let days = input(store, &DayPlan { taken: None, ..plan.clone() }, home)?;
    Ok(replan(&ReplanInput { days, taken: taken.clone(), otherwise }, &home.catalogue))
}

/// It goes otherwise: the ways on are offered.
fn otherwise(
    store: &Store,
    plan: DayPlan,
    happens: Happens,
    form: Form,
    all: Vec<(i32, String)>,
    home: &Household,
) -> Result<Outcome, PageError> {
    let zone = home.zone();
    let minutes = |m: i64| home.now.checked_add(SignedDuration::from_mins(m)).unwrap_or(home.now);
    let typed = |name: &str, empty: &str| -> Result<Timestamp, Faults> {
        let mut r = Reader::new(&form);
        let time = r.time(name);
        if time.is_none() && form.value(name).trim().is_empty() {
            r.fault("missing", name, empty);
        }
        r.done(()).map(|()| time.map_or(home.now, |t| next(t, home.now, &zone)))
    };
    let happened = match happens {
        Happens::Late(late) => Ok(Otherwise::NoHands { until: minutes(late) }),
        Happens::NoHands => typed("until", "Give the time from which there are hands again.")
            .map(|until| Otherwise::NoHands { until }),
        Happens::OvenTaken => typed("oven_until", "Give the time from which the oven is free.")
            .map(|until| Otherwise::OvenTaken { oven: which_oven(&form, home), until }),
        Happens::Bed => Ok(Otherwise::NoHands { until: wakes(&plan, home, &zone) }),
        Happens::Ready(dough, id) => Ok(Otherwise::Ready { dough, id }),
        Happens::Moved(moved) => Ok(moved.otherwise(&plan, &zone)),
    };
    match happened {
        Ok(happened) => offered(store, plan, happened, &form, all, home),
        Err(faults) => refused(store, &plan, &faults, &form, all, home),
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

fn offered(
    store: &Store,
    plan: DayPlan,
    happened: Otherwise,
    form: &Form,
    all: Vec<(i32, String)>,
    home: &Household,
) -> Result<Outcome, PageError> {
    let Some(taken) = &plan.taken else { return Err(PageError::UnknownButton) };
    match on_from(store, &plan, taken, happened.clone(), home)? {
        Ok(on) if !on.offers.is_empty() => {
            let again = fill(&plan, &home.kitchen, home.today());
            let revision = form.revision().unwrap_or(Revision::UNSAID);
            let page = DaysPage::new(again, revision, all, home.today());
            let page = page.taking(&plan, taken, home).going_on(&plan, taken, &on, &happened, home);
            Ok(Outcome::Shown(StatusCode::OK, Box::new(page)))
        }
        Ok(_) => {
            let text = "The rest cannot be planned any more. Plan the days again, with other times.";
            refused(store, &plan, &Fault::new("impossible", "until", text).into(), form, all, home)
        }
        Err(faults) => refused(store, &plan, &faults, form, all, home),
    }
}

fn refused(
    store: &Store,
    plan: &DayPlan,
    faults: &Faults,
    form: &Form,
    all: Vec<(i32, String)>,
    home: &Household,
) -> Result<Outcome, PageError> {
    let mut again = fill(plan, &home.kitchen, home.today());
    for name in ["until", "oven_until"] {
        again.set(name, form.value(name));
    }
    again.mark(faults);
    let mut page = DaysPage::new(again, store.day_plan()?.revision, all, home.today());
    if let Some(taken) = &plan.taken {
        page = page.taking(plan, taken, home);
    }
    Ok(Outcome::Shown(StatusCode::UNPROCESSABLE_ENTITY, Box::new(page)))
}

/// The plan that goes on in one of the ways that were offered; `None` where it is not offered any more.
fn on_in(
    store: &Store,
    plan: &DayPlan,
    happened: &Otherwise,
    key: &str,
    home: &Household,
) -> Result<Option<DayPlan>, PageError> {
    let Some(before) = &plan.taken else { return Err(PageError::UnknownButton) };
    let Ok(on) = on_from(store, plan, before, happened.clone(), home)? else { return Ok(None) };
    let Some(mut taken) = on.take(key, before) else { return Ok(None) };
    let zone = home.zone();
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

/// The next time that it is this time of day.
fn next(time: jiff::civil::Time, now: Timestamp, zone: &TimeZone) -> Timestamp {
    let today = now.to_zoned_datetime(zone.clone()).date();
    let on = |date: jiff::civil::Date| {
        date.to_datetime(time).to_zoned_datetime(zone.clone()).map_or(now, |z| z.timestamp())
    };
    let at = on(today);
    if at > now { at } else { today.tomorrow().map_or(now, on) }
}

/// The plan that was taken, for calendars.
pub async fn calendar(store: web::Data<Store>) -> Result<HttpResponse, PageError> {
    let text = blocking(move || {
        let plan = store.day_plan()?.plan.ok_or(PageError::NotFound)?;
        let zone = store.kitchen()?.kitchen.time_zone;
        Calendar::of(&plan, &zone, store.clock.now()).whole().ok_or(PageError::NotFound)
    })
    .await?;
    Ok(as_file("Baking", "ics", "text/calendar; charset=utf-8", text))
}

/// Which step.
#[derive(Deserialize)]
pub struct OneStep {
    dough: usize,
    id: String,
}

/// One step of the plan that is followed, for calendars.
pub async fn step(store: web::Data<Store>, query: web::Query<OneStep>) -> Result<HttpResponse, PageError> {
    let text = blocking(move || {
        let plan = store.day_plan()?.plan.ok_or(PageError::NotFound)?;
        let zone = store.kitchen()?.kitchen.time_zone;
        Calendar::of(&plan, &zone, store.clock.now()).one(query.dough, &query.id).ok_or(PageError::NotFound)
    })
    .await?;
    Ok(as_file("Baking step", "ics", "text/calendar; charset=utf-8", text))
}
