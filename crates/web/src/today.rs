//! Today: what goes on, what is due, what is to be bought, and what the last bread said.

use std::sync::Arc;

use actix_web::http::StatusCode;
use actix_web::{HttpMessage, HttpRequest, HttpResponse, web};
use askama::Template;
use cerealis_core::plan::shopping;
use cerealis_core::units::shown;
use cerealis_store::{BakeId, Store};
use jiff::{SignedDuration, Timestamp};

use crate::bake::{Standing, Stood, clock, past_rows, running};
use crate::error::{PageError, blocking, html_as, on_to};
use crate::household::Household;
use crate::picture::{self, both};
use crate::sharing::Visitor;

/// A bake that goes on.
struct Now {
    id: BakeId,
    name: String,
    next: String,
    at: String,
    rings: Option<i64>,
    band: String,
}

/// Something of the plan that is to be done.
struct Planned {
    at: String,
    title: String,
    dough: String,
    /// Whether it is due within the hour.
    soon: bool,
    /// The dough, by its place, where its bake can be begun with this.
    begins: Option<usize>,
}

#[derive(Template)]
#[template(path = "today.html")]
struct TodayPage {
    day: String,
    now: i64,
    bakes: Vec<Now>,
    planned: Vec<Planned>,
    buy: Vec<(String, String)>,
    last: Option<crate::bake::Past>,
}

/// The most bakes that are shown.
const MOST: usize = 12;
/// How far ahead the day's list looks.
const AHEAD: SignedDuration = SignedDuration::from_hours(16);
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
    let (planned, buy) = planned(store, &home, now, &all)?;
    let last = past_rows(store, None, 1, &zone)?.into_iter().next();
    let lately =
        store.past_bakes(None, 1)?.first().and_then(|b| b.ended_at).is_some_and(|t| t > now - LATELY);
    if bakes.is_empty() && planned.is_empty() && !lately {
        return Ok(None);
    }
    let day = now.to_zoned_datetime(zone).strftime("%A, %-d %B").to_string();
    Ok(Some(TodayPage { day, now: now.as_millisecond(), bakes, planned, buy, last }))
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
        at: next.map_or(String::new(), |d| clock(d.at, &zone)),
        rings: next.map(|d| d.at.as_millisecond()),
        band: both(draw),
    }
}

type Listed = (Vec<Planned>, Vec<(String, String)>);

/// The plan's list from now on, without what is at the bench already, and what is to be bought for it.
fn planned(
    store: &Store,
    home: &Household,
    now: Timestamp,
    at_bench: &[Arc<Standing>],
) -> Result<Listed, PageError> {
    let Some(plan) = store.day_plan()?.plan else { return Ok(Listed::default()) };
    let Some(taken) = &plan.taken else { return Ok(Listed::default()) };
    let from = plan.from.to_string();
    let begun = |dough: usize| {
        let of = |s: &Arc<Standing>| {
            s.bake.start.of_plan.as_ref().is_some_and(|o| o.from == from && o.dough == dough)
        };
        at_bench.iter().any(of)
    };
    let zone = home.zone();
    let here = |at: Timestamp| at > now - BEHIND && at < now + AHEAD;
    let mut told: Vec<usize> = Vec::new();
    let mut all = Vec::new();
    for s in taken.steps.iter().filter(|s| s.hands_on && here(s.at) && !begun(s.dough)) {
        let first = !told.contains(&s.dough);
        told.push(s.dough);
        all.push(Planned {
            at: clock(s.at, &zone),
            title: s.title.clone(),
            dough: taken.doughs.get(s.dough).cloned().unwrap_or_default(),
            soon: s.at < now + SignedDuration::from_hours(1),
            begins: first.then_some(s.dough),
        });
    }
    let ahead = taken.steps.iter().any(|s| s.at > now);
    let needed = if ahead { shopping(&taken.lanes, &home.cupboard, &home.catalogue) } else { Vec::new() };
    let buy = needed.into_iter().filter(|n| n.buy.0 >= 0.5);
    let buy = buy.map(|n| (n.name.clone(), format!("{} g", shown::grams(n.buy)))).collect();
    Ok((all, buy))
}
