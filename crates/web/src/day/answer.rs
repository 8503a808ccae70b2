//! What the Day station answers.

use askama::Template;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::stations::Stations;
use cerealis_core::units::shown;

use crate::picture::{self, both};
use crate::show::{clock, day};

/// One step of the day as shown.
pub struct DayRow {
    /// Its clock time.
    pub at: String,
    /// The day, where it differs from the row before.
    pub day: Option<String>,
    /// What it is called.
    pub title: String,
    /// What to do.
    pub detail: String,
    /// How long.
    pub time: String,
    /// Whether it needs hands.
    pub hands_on: bool,
}

/// The Day station.
#[derive(Template)]
#[template(path = "day/answer.html")]
pub struct DayOut {
    start: String,
    start_day: String,
    ready: String,
    ready_day: String,
    likely: String,
    hands_on: String,
    waiting: String,
    band: String,
    rows: Vec<DayRow>,
    notes: Vec<String>,
    out: String,
    stops: Vec<String>,
    /// The next start that wakes nobody: its value and how it is said.
    free_start: Option<(String, String)>,
}

impl DayOut {
    /// Shows the steps on the clock.
    pub fn new(s: &Stations, kitchen: &Kitchen) -> Self {
        let d = &s.day;
        let early = clock(&d.ready_early);
        let late = clock(&d.ready_late);
        DayOut {
            start: clock(&d.start),
            start_day: day(&d.start),
            ready: clock(&d.ready),
            ready_day: day(&d.ready),
            likely: format!("likely {early} to {late}"),
            hands_on: shown::time(d.hands_on),
            waiting: shown::time(d.length - d.hands_on),
            band: both(|room| picture::band("day", s, kitchen, room)),
            rows: day_rows(s),
            notes: d.notes.clone(),
            out: clock(&d.out),
            stops: s.stops.clone(),
            free_start: d.free_start.as_ref().map(|at| {
                (at.strftime("%Y-%m-%dT%H:%M").to_string(), at.strftime("%H:%M on %a %-d %b").to_string())
            }),
        }
    }
}

/// The steps on the clock as rows.
pub fn day_rows(s: &Stations) -> Vec<DayRow> {
    let mut last = None;
    s.day
        .steps
        .iter()
        .map(|c| {
            let date = c.at.date();
            let new_day = last != Some(date);
            last = Some(date);
            DayRow {
                at: clock(&c.at),
                day: new_day.then(|| day(&c.at)),
                title: c.step.title.clone(),
                detail: c.step.detail.clone(),
                time: shown::time(c.step.length),
                hands_on: c.step.hands_on,
            }
        })
        .collect()
}
