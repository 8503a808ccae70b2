//! The Day page: several doughs planned together.

mod calendar;
mod fields;
mod page;

use std::collections::BTreeMap;
use std::sync::{Arc, Mutex, PoisonError};

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::formula::Formula;
use cerealis_core::plan::{DayPlan, DaysAnswer, DaysInput, Taken, days, replan};
use cerealis_core::units::{Minutes, shown};
use cerealis_store::{FormulaId, Store, StoreError};

use crate::download::as_file;
use crate::error::{PageError, blocking, html, html_as, on_to};
use crate::form::{Form, Reader};
use crate::household::Household;
use crate::posted::Posted;
use crate::show::clock;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};

use fields::{at_their_rows, fill, press, read};
use page::DaysPage;

/// The days that were planned last, so that looking at them again does not plan them again.
#[derive(Default)]
pub struct LastPlanned(Mutex<Option<(DaysInput, Arc<DaysAnswer>)>>);

impl LastPlanned {
    fn answer(&self, input: DaysInput, home: &Household) -> Result<Arc<DaysAnswer>, Faults> {
        // Nothing changes within a quarter of an hour but what has begun meanwhile.
        let same = |kept: &DaysInput| {
            kept.plan == input.plan
                && kept.formulas == input.formulas
                && kept.kitchen == input.kitchen
                && input.now.duration_since(kept.now).as_secs().abs() < 900
        };
        let mut last = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((_, answer)) = last.as_ref().filter(|(kept, _)| same(kept)) {
            return Ok(answer.clone());
        }
        let answer = Arc::new(days(&input, &home.catalogue)?);
        *last = Some((input, answer.clone()));
        Ok(answer)
    }
}

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

/// The page.
pub async fn show(store: web::Data<Store>, last: web::Data<LastPlanned>) -> Result<HttpResponse, PageError> {
    let page = blocking(move || {
        let home = Household::load(&store)?;
        let stored = store.day_plan()?;
        let plan = stored.plan.unwrap_or_else(|| DayPlan::beginning(home.today()));
        let form = fill(&plan, &home.kitchen, home.today());
        let mut page = DaysPage::new(form, stored.revision, formulas(&store)?, home.today());
        page.damaged = stored.damaged.is_some();
        if let Some(taken) = &plan.taken {
            return Ok(page.taking(&plan, taken, &home));
        }
        if plan.doughs.is_empty() {
            return Ok(page);
        }
        match last.answer(input(&store, &plan, &home)?, &home) {
            Ok(answer) => Ok(page.offering(&plan, &answer, &home)),
            Err(faults) => {
                page.form.mark(&at_their_rows(&page.form, faults));
                Ok(page)
            }
        }
    })
    .await?;
    html(&page)
}

/// How a press came out.
enum Outcome {
    Shown(StatusCode, Box<DaysPage>),
    Saved,
}

/// Plans what is asked, takes one of the plans, or adds and removes rows.
pub async fn post(
    store: web::Data<Store>,
    last: web::Data<LastPlanned>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    match blocking(move || pressed(&store, &last, posted.0)).await? {
        Outcome::Saved => Ok(on_to("/day".into())),
        Outcome::Shown(status, page) => html_as(status, &*page),
    }
}

fn pressed(store: &Store, last: &LastPlanned, mut form: Form) -> Result<Outcome, PageError> {
    let home = Household::load(store)?;
    let (all, today) = (formulas(store)?, home.today());
    let typed = form.revision();
    let op = form.value("op").to_owned();
    let shown = |form: Form, status| {
        let mut page =
            DaysPage::new(form, typed.unwrap_or(cerealis_store::Revision::UNSAID), all.clone(), today);
        page.touched = true;
        Outcome::Shown(status, Box::new(page))
    };
    if press(&mut form, &op, &all) {
        return Ok(shown(form, StatusCode::OK));
    }
    let over = form.over();
    let save = |plan: &DayPlan| match store.save_day_plan(over, plan) {
        Ok(_) => Ok(true),
        Err(StoreError::Conflict) => Ok(false),
        Err(other) => Err(PageError::from(other)),
    };
    let plan = if op == "plan" || form.ticked("over") {
        match read(&form, today).and_then(|p| p.check().map(|()| p)) {
            Ok(plan) => plan,
            Err(faults) => {
                form.mark(&at_their_rows(&form, faults));
                return Ok(shown(form, StatusCode::UNPROCESSABLE_ENTITY));
            }
        }
    } else {
        let stored = store.day_plan()?.plan.ok_or(PageError::UnknownButton)?;
        match op.split_once(':') {
            Some(("take", key)) => take(store, last, stored, key, &home)?,
            _ if op == "again" => DayPlan { taken: None, ..stored },
            _ if op == "until" || op.starts_with("late:") => {
                match otherwise(store, stored, &form, &op, &home)? {
                    Ok(plan) => plan,
                    Err(faults) => {
                        form.mark(&faults);
                        let stored = store.day_plan()?;
                        let plan = stored.plan.unwrap_or_else(|| DayPlan::beginning(today));
                        let mut again = fill(&plan, &home.kitchen, today);
                        again.set("until", form.value("until"));
                        again.mark(&faults);
                        let mut page = DaysPage::new(again, stored.revision, all.clone(), today);
                        if let Some(taken) = &plan.taken {
                            page = page.taking(&plan, taken, &home);
                        }
                        return Ok(Outcome::Shown(StatusCode::UNPROCESSABLE_ENTITY, Box::new(page)));
                    }
                }
            }
            _ => return Err(PageError::UnknownButton),
        }
    };
    if save(&plan)? {
        return Ok(Outcome::Saved);
    }
    let mut page = DaysPage::new(form, typed.unwrap_or(cerealis_store::Revision::UNSAID), all.clone(), today);
    page.conflict = true;
    Ok(Outcome::Shown(StatusCode::CONFLICT, Box::new(page)))
}

/// The plan with one of those that were offered taken.
fn take(
    store: &Store,
    last: &LastPlanned,
    plan: DayPlan,
    key: &str,
    home: &Household,
) -> Result<DayPlan, PageError> {
    let asked = DayPlan { taken: None, ..plan.clone() };
    let answer = last.answer(input(store, &asked, home)?, home).map_err(|_| PageError::UnknownButton)?;
    let offer = answer.offers.iter().find(|o| o.offer.key == key).ok_or(PageError::UnknownButton)?;
    let sequence = plan.taken.as_ref().map_or(0, |t| t.sequence + 1);
    let taken = Taken {
        key: key.to_owned(),
        changes: offer.offer.changes.clone(),
        doughs: answer.doughs.iter().map(|d| d.name.clone()).collect(),
        steps: offer.steps.clone(),
        since: Vec::new(),
        sequence,
    };
    Ok(DayPlan { taken: Some(taken), ..asked })
}

/// It goes otherwise: no hands for some minutes, or until a time; the rest is planned again, and what has begun stays.
fn otherwise(
    store: &Store,
    plan: DayPlan,
    form: &Form,
    op: &str,
    home: &Household,
) -> Result<Result<DayPlan, Faults>, PageError> {
    let Some(taken) = plan.taken.clone() else { return Err(PageError::UnknownButton) };
    let zone = home.zone();
    let until = match op.strip_prefix("late:").map(str::parse::<i64>) {
        Some(Ok(minutes)) if (1..=600).contains(&minutes) => {
            home.now.checked_add(SignedDuration::from_mins(minutes)).unwrap_or(home.now)
        }
        Some(_) => return Err(PageError::UnknownButton),
        None => {
            let mut r = Reader::new(form);
            let Some(time) = r.time("until") else {
                if form.value("until").trim().is_empty() {
                    r.fault("missing", "until", "Give the time from which there are hands again.");
                }
                return Ok(Err(r.done(()).err().unwrap_or(Faults(Vec::new()))));
            };
            next(time, home.now, &zone)
        }
    };
    let asked = input(store, &DayPlan { taken: None, ..plan.clone() }, home)?;
    let replanned = match replan(&asked, &taken, Some(until), &home.catalogue) {
        Ok(Some(replanned)) => replanned,
        Ok(None) => {
            let text = "The rest cannot be planned any more. Plan the days again, with other times.";
            return Ok(Err(Fault::new("impossible", "until", text).into()));
        }
        Err(faults) => return Ok(Err(faults)),
    };
    let back = clock(&until.to_zoned_datetime(zone));
    let mut since = vec![format!("No hands until {back}: the rest was planned again.")];
    since.extend(taken.doughs.iter().zip(&replanned.moved).filter(|(_, m)| m.abs() >= 5.0).map(
        |(name, m)| {
            let word = if *m > 0.0 { "later" } else { "sooner" };
            format!("{name} is ready {} {word} than it was.", shown::time(Minutes(m.abs())))
        },
    ));
    since.extend(replanned.gives_up.iter().map(|what| format!("Given up: {what}.")));
    since.extend(replanned.over.iter().map(|(dough, what)| {
        let name = taken.doughs.get(*dough).map_or("", String::as_str);
        format!("“{what}” of {name} stands longer than it should: look at it first, and put it somewhere cooler or into the fridge meanwhile.")
    }));
    let taken = Taken { steps: replanned.steps, since, sequence: taken.sequence + 1, ..taken };
    Ok(Ok(DayPlan { taken: Some(taken), ..plan }))
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
        let taken = plan.taken.ok_or(PageError::NotFound)?;
        Ok(calendar::calendar(&taken, store.clock.now()))
    })
    .await?;
    Ok(as_file("Baking", "ics", "text/calendar; charset=utf-8", text))
}
