//! The Day page: several doughs planned together.

mod beside;
mod calendar;
mod fields;
mod onward;
mod page;
mod planner;
mod press;
mod said;
mod shopping;

use std::collections::BTreeMap;

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use cerealis_core::formula::Formula;
use cerealis_core::plan::{DayPlan, DaysInput};
use cerealis_store::{BakeId, FormulaId, Revision, Store, StoreError};
use serde::Deserialize;

use crate::download::as_file;
use crate::error::{PageError, blocking, html, html_as, on_to};
use crate::form::Form;
use crate::household::Household;
use crate::live::{Live, Said};
use crate::notation;
use crate::posted::Posted;
use crate::sharing::Baker;
use crate::show::clock;
use calendar::Calendar;
use fields::{at_their_rows, fill, press as press_row, read, with_absences};
use onward::Onward;
use page::{DaysPage, OffersPart, offer_says};
use press::{Move, Press};

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
                let onward = Onward { store: &store, planner: &planner, home: &home };
                let on = onward.on_from(&stored, taken, moved.otherwise(&stored, &zone))?;
                let on = on.map_err(|_| PageError::UnknownButton)?;
                on.offers.into_iter().next().map(|o| o.offer)
            }
            None => {
                let plan = moved.in_plan(stored.clone(), "", &zone);
                let asked = input(&store, &plan, &home)?;
                let key = form.value("key");
                let asked = planner.along(&asked, key, &home).map_err(|_| PageError::UnknownButton)?;
                asked.quick_of(key)
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
    let onward = Onward { store, planner, home: &home };
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
        Press::Otherwise(happens) => return onward.otherwise(stored()?, happens, form, all),
        Press::On(key) => {
            let plan = stored()?;
            let happened =
                serde_json::from_str(form.value("happened")).map_err(|_| PageError::UnknownButton)?;
            match onward.on_in(&plan, &happened, &key)? {
                Some(plan) => plan,
                // What was offered is not so any more: it is offered anew.
                None => return onward.offered(plan, happened, &form, all),
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
