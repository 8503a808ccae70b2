//! All bakes: those that go on, and those that are over, plan against what happened.

use std::sync::Arc;

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use askama::Template;
use cerealis_core::bake::{Outcome, Reading, replay};
use cerealis_core::units::{Minutes, shown};
use cerealis_core::watch::later;
use cerealis_store::{BakeId, FormulaId, Store, StoredBake};
use jiff::tz::TimeZone;

use super::{Standing, Stood, running};
use crate::error::{PageError, blocking, html_as};
use crate::household::Household;
use crate::show::{Here, clock};

/// A bake that is over.
pub struct Past {
    /// Which.
    pub id: BakeId,
    /// Its name.
    pub name: String,
    /// The day it was over.
    pub day: String,
    /// How it ended.
    pub outcome: Outcome,
    /// Plan against what happened, a sentence each.
    pub went: Vec<String>,
    /// What was noted.
    pub notes: Vec<String>,
    /// What is to be done otherwise next time.
    pub next_time: String,
}

/// One that goes on.
struct Running {
    id: BakeId,
    name: String,
    next: String,
    at: String,
}

#[derive(Template)]
#[template(path = "bake/list.html")]
struct BakesPage {
    running: Vec<Running>,
    past: Vec<Past>,
}

/// The most that are shown.
const MOST: i64 = 60;

/// The page.
pub async fn list(store: web::Data<Store>, stood: web::Data<Stood>) -> Result<HttpResponse, PageError> {
    let page = blocking(move || {
        let zone = Household::load(&store)?.zone();
        let here = Here::at(store.clock.now(), zone.clone());
        let view = |s: &Arc<Standing>| {
            let next = s.answer.due.next.first();
            Running {
                id: s.bake.id,
                name: s.bake.start.formula.name.clone(),
                next: next.map_or("done".into(), |d| d.title.clone()),
                at: next.map_or(String::new(), |d| here.when(d.at)),
            }
        };
        Ok(BakesPage {
            running: running(&store, &stood, MOST as usize)?.iter().map(view).collect(),
            past: past_rows(&store, None, MOST, &zone)?,
        })
    })
    .await?;
    html_as(StatusCode::OK, &page)
}

/// Bakes that are over, the last first.
///
/// # Errors
/// What the store reports.
pub fn past_rows(
    store: &Store,
    of: Option<FormulaId>,
    most: i64,
    zone: &TimeZone,
) -> Result<Vec<Past>, PageError> {
    Ok(store.past_bakes(of, most)?.iter().map(|b| past(b, zone)).collect())
}

fn past(bake: &StoredBake, zone: &TimeZone) -> Past {
    let state = replay(&bake.start, &bake.events);
    let took = |from, to: jiff::Timestamp| Minutes(to.duration_since(from).as_secs_f64() / 60.0);
    let mut went = Vec::new();
    // Each rise and the bake: as it was planned, and as it was.
    let mut before = bake.begun_at;
    for step in &bake.start.steps {
        let Some(over) = state.step(&step.id).and_then(|s| s.over_at()) else { continue };
        let (planned, really) = (step.length, took(before.max(bake.begun_at), over));
        let told = matches!(step.id.as_str(), "bulk" | "second" | "proof" | "bake.main");
        if told && (planned.0 - really.0).abs() >= 1.0 {
            went.push(format!("{}: {} instead of {}", step.title, shown::time(really), shown::time(planned)));
        }
        before = before.max(over);
    }
    let planned_end = bake.start.steps.iter().map(|s| later(s.at, s.length)).max();
    if let (Some(end), Some(planned)) = (bake.ended_at, planned_end) {
        let late = took(planned, end).0;
        let word = if late < 0.0 { "sooner" } else { "later" };
        if late.abs() >= 5.0 && state.outcome == Outcome::Finished {
            went.push(format!(
                "over {} {word} than planned, at {}",
                shown::time(Minutes(late.abs())),
                clock(&end.to_zoned_datetime(zone.clone()))
            ));
        }
    }
    let baked = state.readings.iter().rev().find_map(|(_, r)| match r {
        Reading::Baked(g) => Some(*g),
        _ => None,
    });
    if let Some(g) = baked {
        went.push(format!("{} g of bread", shown::grams(g)));
    }
    let ended = bake.ended_at.unwrap_or(bake.begun_at).to_zoned_datetime(zone.clone());
    Past {
        id: bake.id,
        name: bake.start.formula.name.clone(),
        day: ended.strftime("%a %-d %b").to_string(),
        outcome: state.outcome,
        went,
        notes: state.notes.into_iter().map(|n| n.text).collect(),
        next_time: state.next_time.unwrap_or_default(),
    }
}
