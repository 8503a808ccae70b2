//! A dough that is rising now.

use askama::Template;
use cerealis_core::bake::{Event, Reading, What};
use cerealis_core::formula::{Formula, figures};
use cerealis_core::notation::Quantity;
use cerealis_core::rise::{DOUGH_DENSITY, Poke, Which};
use cerealis_core::units::{Minutes, shown};
use cerealis_core::watch::{TimedReading, Watch, WatchAnswer};
use cerealis_store::{BakeId, FormulaId, StoredBake};
use jiff::Timestamp;

use crate::form::Form;
use crate::household::Household;
use crate::picture::{self, Over, both};
use crate::show::{Pick, celsius, picks, rise_word};

/// A reading in the list.
pub struct ReadingRow {
    number: Option<usize>,
    at: String,
    says: String,
    question: Option<String>,
}

/// What is known of the dough.
struct Known {
    rise: &'static str,
    proof: bool,
    /// Whether a second rise is planned to come next.
    second_next: bool,
    ready: String,
    in_time: String,
    likely: String,
    planned: String,
    volume: String,
    advice: String,
    mixed: String,
    measured: Option<String>,
    curve: String,
    rows: Vec<ReadingRow>,
    learned: String,
    began_at: String,
}

/// The page.
#[derive(Template)]
#[template(path = "dough.html")]
pub struct DoughPage {
    /// Where it is posted to.
    at: String,
    /// Where one comes back to.
    back: String,
    name: String,
    form: Form,
    known: Option<Known>,
    trouble: Option<String>,
    begins: bool,
    cm: bool,
}

impl DoughPage {
    /// The page for a dough of a formula that is to be taken up.
    pub fn beginning(id: FormulaId, formula: &Formula, form: Form) -> Self {
        DoughPage {
            at: format!("/formulas/{id}/dough"),
            back: format!("/formulas/{id}/rise"),
            name: formula.name.clone(),
            form,
            known: None,
            trouble: None,
            begins: true,
            cm: false,
        }
    }

    /// The page of a bake, with the rise that it is in.
    pub fn of(
        id: BakeId,
        bake: &StoredBake,
        watch: Option<&Watch>,
        watched: Option<&WatchAnswer>,
        home: &Household,
        now: Timestamp,
        form: Form,
    ) -> Self {
        let trouble = match (watch, watched) {
            (Some(w), None) if w.is_stale(now) => {
                Some(format!("it was mixed on {}, more than four days ago.", mixed_on(w, home)))
            }
            (_, None) => Some("it is in no rise now.".into()),
            _ => None,
        };
        let known = watch.zip(watched).map(|(w, a)| Known::new(bake, w, a, home, now));
        DoughPage {
            at: format!("/bakes/{id}/rise"),
            back: format!("/bakes/{id}"),
            name: bake.start.formula.name.clone(),
            form,
            known,
            trouble,
            begins: false,
            cm: home.kitchen.tub.is_some(),
        }
    }

    /// Heights are in cm where the tub is known; any unit will do otherwise.
    fn tub_unit(&self) -> &'static str {
        if self.cm { "cm" } else { "" }
    }

    fn pokes(&self) -> Vec<Pick> {
        let own = Poke::ALL.map(|p| (p.key(), p.name()));
        picks([("", "not poked")].into_iter().chain(own), self.form.value("poke"))
    }

    /// What was typed, or what stands there to begin with.
    fn typed<'a>(&'a self, name: &str, otherwise: &'a str) -> &'a str {
        self.form.values().get(name).map_or(otherwise, String::as_str)
    }
}

fn mixed_on(watch: &Watch, home: &Household) -> String {
    let zone = home.zone();
    watch.mixed_at.to_zoned_datetime(zone).strftime("%a %-d %b %Y").to_string()
}

impl Known {
    fn new(bake: &StoredBake, watch: &Watch, a: &WatchAnswer, home: &Household, now: Timestamp) -> Known {
        let zone = home.zone();
        let clock = |t: Timestamp| t.to_zoned_datetime(zone.clone()).strftime("%H:%M").to_string();
        let minutes = |t: Timestamp| t.duration_since(now).as_secs_f64() / 60.0;
        let left = minutes(a.ready);
        let target = match a.which {
            Which::Bulk => watch.formula.rise.bulk.target,
            Which::Second => watch.formula.rise.second.target,
            Which::Proof => watch.formula.rise.proof.target,
        };
        let since = |t: Timestamp| (t.duration_since(a.began).as_secs_f64() / 60.0).max(0.0);
        let since_then = match a.which {
            Which::Bulk => None,
            Which::Second => watch.knocked_at,
            Which::Proof => watch.divided_at,
        };
        let of_this = |t: Timestamp| since_then.is_none_or(|began| t >= began);
        let dots: Vec<(f64, f64)> = watch
            .readings
            .iter()
            .filter(|r| of_this(r.at))
            .filter_map(|r| Some((since(r.at), r.volume?)))
            .collect();
        let name = a.which.name();
        let over = Over {
            other: Some(&a.forecast.before),
            readings: &dots,
            now: Some(since(now)),
            ..Over::default()
        };
        let rows = watch
            .readings
            .iter()
            .enumerate()
            .map(|(n, r)| ReadingRow {
                number: number(bake, r),
                at: clock(r.at),
                says: [
                    r.volume.map(|v| format!("{v:.2} times")),
                    r.dough.map(|t| format!("dough {}", celsius(t))),
                    r.place.map(|t| format!("place {}", celsius(t))),
                    r.poke.map(|p| p.name().to_lowercase()),
                ]
                .into_iter()
                .flatten()
                .collect::<Vec<_>>()
                .join(", "),
                question: a.forecast.questions.iter().find(|q| q.reading == n).map(|q| q.text.clone()),
            })
            .collect();
        let factor = a.forecast.kitchen;
        let pace = match factor {
            k if (0.97..=1.03).contains(&k) => "as the model says".to_owned(),
            k if k > 1.0 => format!("{:.0} % faster than the model", 100.0 * (k - 1.0)),
            k => format!("{:.0} % slower than the model", 100.0 * (1.0 - k)),
        };
        Known {
            rise: rise_word(a.which),
            proof: a.which == Which::Proof,
            second_next: a.which == Which::Bulk && watch.formula.rise.second.rises(),
            ready: clock(a.ready),
            in_time: if left >= 1.0 {
                format!("in {}", shown::time(Minutes(left)))
            } else {
                format!("{} ago", shown::time(Minutes(-left)))
            },
            likely: format!("{} to {}", clock(a.early), clock(a.late)),
            planned: if (a.planned.duration_since(a.ready)).as_secs().abs() < 90 {
                String::new()
            } else {
                format!("Before the readings it was {}.", clock(a.planned))
            },
            volume: format!("{:.2}", a.volume),
            advice: a.advice.clone(),
            mixed: clock(watch.mixed_at),
            measured: watch.measured.map(celsius),
            curve: both(|room| picture::rise_curve(name, &a.forecast.after, target, &over, room)),
            rows,
            learned: format!(
                "By the readings this dough rises {pace}, give or take {:.0} %.",
                100.0 * a.forecast.spread
            ),
            began_at: began_at(watch, a.which, home),
        }
    }
}

/// The place of a reading among those that were taken; nothing for a dough that was carried elsewhere.
fn number(bake: &StoredBake, r: &TimedReading) -> Option<usize> {
    let same = |e: &Event| match e.what {
        _ if e.at != r.at => false,
        What::Read(Reading::Volume(v)) => r.volume == Some(v),
        What::Read(Reading::Poke(p)) => r.poke == Some(p),
        What::Read(Reading::Dough(t)) => r.dough == Some(t),
        What::Read(Reading::Place(t)) => r.place == Some(t),
        _ => false,
    };
    bake.events.iter().filter(|e| matches!(e.what, What::Read(_))).position(same)
}

/// The height in the household's tub at which the bulk rise began, cm.
fn began_at(watch: &Watch, which: Which, home: &Household) -> String {
    let ml = figures(&watch.formula, &home.catalogue).dough.0 / DOUGH_DENSITY;
    match (which, home.kitchen.tub) {
        (Which::Bulk, Some(across)) => {
            let cm = (10.0 * ml / (std::f64::consts::PI / 4.0 * across * across)).round() / 10.0;
            home.kitchen.notation().text(cm, Quantity::Length)
        }
        _ => String::new(),
    }
}
