//! Today: what goes on, what is due, what is to be bought, and what the last bread said.

use std::sync::Arc;

use actix_web::http::StatusCode;
use actix_web::{HttpMessage, HttpRequest, HttpResponse, web};
use askama::Template;
use cerealis_core::bake::DueStep;
use cerealis_core::plan::{DayPlan, Taken, shopping};
use cerealis_core::units::shown;
use cerealis_store::{BakeId, Store};
use jiff::{SignedDuration, Timestamp};

use crate::bake::{Standing, Stood, past_rows, running};
use crate::error::{PageError, blocking, html_as, on_to};
use crate::household::Household;
use crate::picture::{self, both};
use crate::sharing::Visitor;
use crate::show::Here;

/// A bake that goes on.
struct Now {
    id: BakeId,
    name: String,
    next: String,
    at: String,
    rings: Option<i64>,
    band: String,
}

/// Something that is to be done, of a bake or of the plan.
struct ToDo {
    when: Timestamp,
    at: String,
    /// What the day is called, where it is the first of another.
    day: String,
    title: String,
    dough: String,
    /// Whether it is due within the hour.
    soon: bool,
    /// The bake that it is of.
    bake: Option<BakeId>,
    /// The dough, by its place, where its bake can be begun with this.
    begins: Option<usize>,
}

#[derive(Template)]
#[template(path = "today.html")]
struct TodayPage {
    day: String,
    now: i64,
    bakes: Vec<Now>,
    to_do: Vec<ToDo>,
    /// Whether a plan is followed that is not over.
    plans: bool,
    /// What of it comes first, where that is further off than the list looks.
    far: String,
    buy: Vec<(String, String)>,
    last: Option<crate::bake::Past>,
}

/// The most bakes that are shown.
const MOST: usize = 12;
/// How far ahead the day's list looks.
const AHEAD: SignedDuration = SignedDuration::from_hours(16);
/// What is due within it is marked.
const HOUR: SignedDuration = SignedDuration::from_hours(1);
/// How late a step may be and still stands in it.
const BEHIND: SignedDuration = SignedDuration::from_hours(1);
/// For how long the last bread is worth a word when nothing else is.
const LATELY: SignedDuration = SignedDuration::from_hours(72);

/// The front door: today where there is anything to do, the formulas where there is not.
pub async fn home(
    store: web::Data<Store>,
    stood: web::Data<Stood>,
    request: HttpRequest,
) -> Result<HttpResponse, PageError> {
    let helper = request.extensions().get::<Visitor>().is_some_and(|v| v.key() == "helper");
    let page = blocking(move || page(&store, &stood)).await?;
    match page {
        Some(page) => html_as(StatusCode::OK, &page),
        None => Ok(on_to(if helper { "/day" } else { "/formulas" }.into())),
    }
}

fn page(store: &Store, stood: &Stood) -> Result<Option<TodayPage>, PageError> {
    let home = Household::load(store)?;
    let (zone, now) = (home.zone(), store.clock.now());
    let all = running(store, stood, MOST)?;
    let mut bakes: Vec<Now> = all.iter().map(|s| bake(s, &home)).collect();
    bakes.sort_by_key(|b| b.rings.unwrap_or(i64::MAX));
    let (plan, here) = (store.day_plan()?.plan, Here::at(now, home.zone()));
    let mut to_do: Vec<ToDo> = all.iter().flat_map(|s| of_bake(s, &home)).collect();
    let buy = match plan.as_ref().and_then(|p| Some((p, p.taken.as_ref()?))) {
        Some((plan, taken)) => {
            to_do.extend(of_plan(plan, taken, &all, &here, now));
            to_buy(taken, &home, now)
        }
        None => Vec::new(),
    };
    let to_come =
        plan.iter().flat_map(|p| &p.taken).flat_map(|t| &t.steps).find(|s| s.at > now && s.hands_on);
    let plans = to_come.is_some();
    let far = to_come
        .filter(|s| !listed(s.at, now))
        .map_or(String::new(), |s| format!("The plan goes on at {} with “{}”.", here.when(s.at), s.title));
    to_do.sort_by_key(|t| t.when);
    let mut day = String::new();
    for t in &mut to_do {
        let of = std::mem::take(&mut t.day);
        if of != day {
            day.clone_from(&of);
            t.day = of;
        }
    }
    let last = past_rows(store, None, 1, &zone)?.into_iter().next();
    let lately =
        store.past_bakes(None, 1)?.first().and_then(|b| b.ended_at).is_some_and(|t| t > now - LATELY);
    if bakes.is_empty() && to_do.is_empty() && !plans && !lately {
        return Ok(None);
    }
    let day = now.to_zoned_datetime(zone).strftime("%A, %-d %B").to_string();
    Ok(Some(TodayPage { day, now: now.as_millisecond(), bakes, to_do, plans, far, buy, last }))
}

fn bake(s: &Standing, home: &Household) -> Now {
    let zone = home.zone();
    let next = s.answer.due.next.first();
    let draw = |room| {
        picture::bench(&s.bake.start, &s.answer.due, s.answer.outlook.as_ref(), &[], s.now, &zone, room)
    };
    Now {
        id: s.bake.id,
        name: s.bake.start.formula.name.clone(),
        next: next.map_or("All done".into(), |d| d.title.clone()),
        at: next.map_or(String::new(), |d| s.here(home).when(d.at)),
        rings: next.map(|d| d.at.as_millisecond()),
        band: both(draw),
    }
}

/// Whether something is to be done soon enough to stand in the list.
fn listed(at: Timestamp, now: Timestamp) -> bool {
    at > now - BEHIND && at < now + AHEAD
}

/// The touches of a bake that goes on.
fn of_bake(s: &Standing, home: &Household) -> Vec<ToDo> {
    let here = s.here(home);
    let touches = s.answer.due.next.iter().filter(|d| d.hands_on && listed(d.at, s.now));
    let to_do = |d: &DueStep| ToDo {
        when: d.at,
        at: here.clock(d.at),
        day: here.day(d.at),
        title: d.title.clone(),
        dough: s.bake.start.formula.name.clone(),
        soon: d.at < s.now + HOUR,
        bake: Some(s.bake.id),
        begins: None,
    };
    touches.map(to_do).collect()
}

/// The touches of the plan, feeds and all, without the doughs that are at the bench already.
fn of_plan(
    plan: &DayPlan,
    taken: &Taken,
    at_bench: &[Arc<Standing>],
    here: &Here,
    now: Timestamp,
) -> Vec<ToDo> {
    let from = plan.from.to_string();
    let begun = |dough: usize| {
        let of = |s: &Arc<Standing>| {
            s.bake.start.of_plan.as_ref().is_some_and(|o| o.from == from && o.dough == dough)
        };
        at_bench.iter().any(of)
    };
    let mut told: Vec<usize> = Vec::new();
    let mut all = Vec::new();
    for s in taken.steps.iter().filter(|s| s.hands_on && listed(s.at, now) && !begun(s.dough)) {
        let first = !told.contains(&s.dough);
        told.push(s.dough);
        all.push(ToDo {
            when: s.at,
            at: here.clock(s.at),
            day: here.day(s.at),
            title: s.title.clone(),
            dough: taken.doughs.get(s.dough).cloned().unwrap_or_default(),
            soon: s.at < now + HOUR,
            bake: None,
            begins: first.then_some(s.dough),
        });
    }
    all
}

/// What is to be bought for a plan that is to come.
fn to_buy(taken: &Taken, home: &Household, now: Timestamp) -> Vec<(String, String)> {
    let ahead = taken.steps.iter().any(|s| s.at > now);
    let needed = if ahead {
        shopping(&taken.lanes, &home.kitchen, &home.cupboard, &home.catalogue)
    } else {
        Vec::new()
    };
    let buy = needed.into_iter().filter(|n| n.buy.0 >= 0.5);
    buy.map(|n| (n.name.clone(), format!("{} g", shown::grams(n.buy)))).collect()
}
