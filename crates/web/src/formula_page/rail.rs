//! The rail: six stations, each with its headline figure and what a change did to it.

use askama::Template;
use cerealis_core::formula::Formula;
use cerealis_core::mix::WaterAction;
use cerealis_core::stations::Stations;
use cerealis_core::units::{Minutes, shown};
use cerealis_core::words::Station;
use cerealis_store::FormulaId;

use crate::show::{clock, day, hydration};

/// One stop on the rail.
pub struct Stop {
    /// Which station.
    pub station: Station,
    /// Its address.
    pub href: String,
    /// Its headline figure.
    pub figure: String,
    /// What stands under it.
    pub under: String,
    /// What it was before the unsaved change, where that differs.
    pub was: Option<String>,
    /// Whether it is the one on show.
    pub here: bool,
}

/// The rail.
#[derive(Template)]
#[template(path = "formula/rail.html")]
pub struct Rail {
    /// Its stops.
    pub stops: Vec<Stop>,
}

struct Headline {
    figure: String,
    under: String,
    /// A finer figure, to tell whether anything moved and by how much.
    moved: Moved,
}

enum Moved {
    Text(String),
    Time(Minutes),
}

impl Rail {
    /// The rail of a formula. `here` is the station on show; `saved` is what it was before the unsaved change.
    pub fn new(
        id: FormulaId,
        here: Station,
        now: (&Formula, &Stations),
        saved: Option<(&Formula, &Stations)>,
    ) -> Self {
        let stops = Station::ALL
            .into_iter()
            .map(|station| {
                let head = headline(station, now.0, now.1);
                let was = saved.and_then(|(f, s)| difference(&headline(station, f, s), &head));
                Stop {
                    href: format!("/formulas/{id}/{}", station.key()),
                    here: station == here,
                    station,
                    figure: head.figure,
                    under: head.under,
                    was,
                }
            })
            .collect();
        Rail { stops }
    }

    /// The rail of a formula that cannot be read yet.
    pub fn empty(id: FormulaId, here: Station) -> Self {
        let stop = |station: Station| Stop {
            href: format!("/formulas/{id}/{}", station.key()),
            here: station == here,
            station,
            figure: "?".into(),
            under: "waits for the fields marked".into(),
            was: None,
        };
        Rail { stops: Station::ALL.into_iter().map(stop).collect() }
    }
}

fn difference(before: &Headline, now: &Headline) -> Option<String> {
    match (&before.moved, &now.moved) {
        (Moved::Time(b), Moved::Time(n)) => {
            let by = n.0 - b.0;
            let sign = if by < 0.0 { '\u{2212}' } else { '+' };
            (by.abs() >= 1.0).then(|| format!("{sign}{} against saved", shown::time(Minutes(by.abs()))))
        }
        (Moved::Text(b), Moved::Text(n)) => (b != n).then(|| format!("was {}", before.figure)),
        _ => None,
    }
}

fn headline(station: Station, f: &Formula, s: &Stations) -> Headline {
    let text = |figure: String, under: String| {
        let moved = Moved::Text(figure.clone());
        Headline { figure, under, moved }
    };
    match station {
        Station::Formula => text(format!("{} g", shown::grams(s.figures.dough)), {
            let (what, share) = hydration(&s.figures);
            format!("{:.0} % {what}", share.0)
        }),
        Station::Mix => water(f, s),
        Station::Rise => rise(s),
        Station::Shape => text(
            format!("{} × {} g", f.shape.pieces, shown::grams(s.shape.piece)),
            f.shape.kind.name().to_lowercase(),
        ),
        Station::Oven => text(format!("{:.0} °C", s.bake.temperature.0), shown::time(s.bake.time)),
        Station::Day => Headline {
            figure: clock(&s.day.ready),
            under: format!("ready {}", day(&s.day.ready)),
            moved: Moved::Time(Minutes(s.day.ready.timestamp().as_second() as f64 / 60.0)),
        },
    }
}

fn water(f: &Formula, s: &Stations) -> Headline {
    let answer = s.water_answer(f.mix.school);
    let (figure, under) = match &answer.action {
        WaterAction::Tap | WaterAction::Warm => (format!("{:.0} °C", answer.water.0), s.liquid.name.clone()),
        WaterAction::Ice { ice, .. } => {
            (format!("{} g ice", shown::grams(*ice)), format!("in the {}", s.liquid.name))
        }
        WaterAction::Refused { dough } => (format!("{:.0} °C dough", dough.0), "water alone cannot".into()),
        WaterAction::NoLiquid => ("none".into(), "no liquid to warm".into()),
    };
    Headline { moved: Moved::Text(figure.clone()), figure, under }
}

fn rise(s: &Stations) -> Headline {
    let proof = s.rise.proof.as_ref();
    let second = s.rise.second.as_ref().map_or(Minutes(0.0), |r| r.time);
    match (&s.rise.bulk, proof) {
        (Some(bulk), proof) => Headline {
            figure: shown::time(bulk.time + second),
            under: proof.map_or("bulk, no proof".into(), |p| format!("then proof {}", shown::time(p.time))),
            moved: Moved::Time(bulk.time + second + proof.map_or(Minutes(0.0), |p| p.time)),
        },
        (None, Some(proof)) => Headline {
            figure: shown::time(proof.time),
            under: "one rise".into(),
            moved: Moved::Time(proof.time),
        },
        (None, None) => {
            Headline { figure: "none".into(), under: "no rise".into(), moved: Moved::Text(String::new()) }
        }
    }
}
