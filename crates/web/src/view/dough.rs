//! A dough that is rising now.

use askama::Template;
use cerealis_core::fault::Faults;
use cerealis_core::formula::{Formula, figures};
use cerealis_core::notation::Quantity;
use cerealis_core::rise::{DOUGH_DENSITY, Poke, Which};
use cerealis_core::units::{Minutes, shown};
use cerealis_core::watch::{Watch, WatchAnswer};
use cerealis_store::{FormulaId, Revision};
use jiff::Timestamp;

use crate::form::Form;
use crate::household::Household;
use crate::picture::{self, Over, both};
use crate::show::{Pick, celsius, picks, rise_word};

/// A reading in the list.
pub struct ReadingRow {
    number: usize,
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
    revision: Revision,
    began_at: String,
}

/// A dough that is rising, and how it stands.
pub struct Rising {
    /// Which save of it.
    pub revision: Revision,
    /// The dough and its readings.
    pub watch: Watch,
    /// How it stands, or why that cannot be told.
    pub answer: Result<WatchAnswer, Faults>,
}

/// The page.
#[derive(Template)]
#[template(path = "dough.html")]
pub struct DoughPage {
    id: FormulaId,
    name: String,
    form: Form,
    known: Option<Known>,
    trouble: Option<String>,
    revision: Revision,
    conflict: bool,
    cm: bool,
}

impl DoughPage {
    /// The page for a formula, with the dough of it that is rising.
    pub fn new(
        id: FormulaId,
        formula: &Formula,
        rising: Option<&Rising>,
        home: &Household,
        now: Timestamp,
        form: Form,
        conflict: bool,
    ) -> Self {
        let mut page = DoughPage {
            id,
            name: rising.map_or(&formula.name, |r| &r.watch.formula.name).clone(),
            form,
            known: None,
            trouble: None,
            revision: rising.map_or(Revision(0), |r| r.revision),
            conflict,
            cm: home.kitchen.tub.is_some(),
        };
        if let Some(Rising { revision, watch, answer }) = rising {
            match answer {
                Ok(_) if watch.is_stale(now) => {
                    page.trouble =
                        Some(format!("it was mixed on {}, more than four days ago.", mixed_on(watch, home)))
                }
                Ok(answer) => page.known = Some(Known::new(*revision, watch, answer, home, now)),
                Err(faults) => page.trouble = Some(faults.to_string()),
            }
        }
        page
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
    fn new(revision: Revision, watch: &Watch, a: &WatchAnswer, home: &Household, now: Timestamp) -> Known {
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
                number: n,
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
            revision,
            began_at: began_at(watch, a.which, home),
        }
    }
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
