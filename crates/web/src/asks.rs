//! What is asked at the stations without becoming part of the formula.

use cerealis_core::oven::{Looks, ProbeReading};
use cerealis_core::stations::Stations;
use cerealis_core::typed::time_of_day;
use cerealis_core::units::{Celsius, Grams, Minutes};
use jiff::civil::Time;

use crate::form::{Form, number};

/// What is asked at the stations without becoming part of the formula.
#[derive(Clone, Debug, Default)]
pub struct Asks {
    /// When the baker is back.
    pub back: Option<Time>,
    /// Whether what takes longest to work out is wanted now: the ways to be back in time, every size.
    pub ways: bool,
    /// Whether only the rail and the station on show are wanted, for a quick answer.
    pub quick: bool,
    /// Another place to lay over the bulk rise, °C.
    pub other_place: Option<f64>,
    /// Another place to lay over the final proof, °C.
    pub other_proof: Option<f64>,
    /// Another dough temperature to lay over it, °C.
    pub other_dough: Option<f64>,
    /// Pieces that have been weighed.
    pub weighed: Vec<Grams>,
    /// A thermometer in a loaf that bakes.
    pub probe: Option<ProbeReading>,
}

impl Asks {
    /// As typed; what does not read is not asked.
    pub fn of(form: &Form) -> Self {
        let degrees =
            |name: &str| form.figure(name).map(|t: Celsius| t.0).filter(|t| (0.0..=45.0).contains(t));
        let weights = form.value("weighed").split([',', ';', ' ']).filter_map(number);
        let probe = || {
            Some(ProbeReading {
                minutes: form.figure("probe.minutes")?,
                core: form.figure("probe.core")?,
                looks: Looks::from_key(form.value("probe.looks")).unwrap_or(Looks::Right),
            })
        };
        Asks {
            back: time_of_day(form.value("back.at")),
            ways: form.ticked("ways"),
            quick: form.ticked("quick"),
            other_place: degrees("compare.place"),
            other_proof: degrees("compare.proof"),
            other_dough: degrees("compare.dough"),
            weighed: weights.filter(|w| (0.0..=100_000.0).contains(w)).take(200).map(Grams).collect(),
            probe: probe(),
        }
    }
}

/// From the beginning of the bulk rise to a time of day, 10 min to a day later.
pub fn wait_until(at: jiff::civil::Time, s: &Stations) -> Option<Minutes> {
    let begins = s.day.steps.iter().find(|c| c.step.id == "bulk")?.at.time();
    let minutes = |t: jiff::civil::Time| 60.0 * f64::from(t.hour()) + f64::from(t.minute());
    let away = (minutes(at) - minutes(begins)).rem_euclid(1440.0);
    Some(Minutes(if away < 10.0 { away + 1440.0 } else { away }))
}
