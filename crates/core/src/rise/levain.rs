//! When a levain or preferment is ripe, and how long it stays good.

use schemars::JsonSchema;
use serde::Serialize;

use super::dough::Dough;
use super::model::{HORIZON, Model, STEP, State};
use super::places::{Place, time_constant};
use super::rates::{KITCHEN_SPREAD, OVER, RIPE};
use crate::fault::{Check, Faults};
use crate::units::{Celsius, Minutes};
use crate::words::Stands;

/// How long a levain or preferment takes to ripen, and is good.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Ripening {
    /// Time to ripeness.
    pub time: Minutes,
    /// The early end of what is likely.
    pub early: Minutes,
    /// The late end.
    pub late: Minutes,
    /// Until when it is good to use; after that it sours and sinks.
    pub good_until: Minutes,
    /// Whether it ripens within three days.
    pub ripens: bool,
    /// Baker's yeast then, against the yeast put in.
    pub yeast_growth: f64,
}

/// A levain is past its best when its culture has this share of its full activity: some three hours
/// after it is ripe at 25 °C (common practice, no source).
const PAST: f64 = 0.93;
/// A yeast preferment is past its best when it has made so many times the gas with which it was
/// ripe (common practice, no source).
const PAST_GAS: f64 = 1.35;

/// Forecasts when a levain or preferment is ripe, standing at `place`.
///
/// A culture is ripe at [`RIPE`] of its full activity; a preferment of baker's yeast when it
/// stands at two and a half times, or as high as its flour lets it.
///
/// # Errors
/// A figure outside its range, by its path.
pub fn ripen(dough: &Dough, start: Celsius, place: &Place) -> Result<Ripening, Faults> {
    let mut c = Check::new();
    dough.check(&mut c, "dough");
    c.range("start", "The dough temperature", start.0, 0.0, 60.0, "°C");
    c.range("place", "A place for a levain", place.temperature.0, 0.0, 60.0, "°C");
    c.done(())?;
    let likely = stand(dough, start, place, 1.0);
    let early = stand(dough, start, place, KITCHEN_SPREAD.exp()).ripe;
    let late = stand(dough, start, place, (-KITCHEN_SPREAD).exp()).ripe;
    let (time, minutes) = (likely.ripe.unwrap_or(HORIZON), |h: f64| Minutes(60.0 * h));
    Ok(Ripening {
        time: minutes(time),
        early: minutes(early.unwrap_or(HORIZON).min(time)),
        late: minutes(late.unwrap_or(HORIZON).max(time)),
        good_until: minutes(likely.spent.unwrap_or(HORIZON).max(time)),
        ripens: likely.ripe.is_some(),
        yeast_growth: likely.yeast_growth,
    })
}

/// Hours to ripeness and to the end of it, where they come within [`HORIZON`].
struct Stood {
    ripe: Option<f64>,
    spent: Option<f64>,
    yeast_growth: f64,
}

fn stand(dough: &Dough, start: Celsius, place: &Place, kitchen: f64) -> Stood {
    let model = Model::new(dough, kitchen);
    let tau = time_constant(dough.mass.0 / 1000.0, Stands::Tub);
    let swollen_enough = 2.5f64.min(OVER * dough.hold);
    let is_ripe = |s: &State| {
        if dough.culture.0 > 0.0 { s.culture >= RIPE } else { model.volume(s) >= swollen_enough }
    };
    let mut s = model.start(dough, start.0);
    let mut gas_when_ripe = 0.0;
    let mut stood = Stood { ripe: None, spent: None, yeast_growth: 1.0 };
    let mut hours = 0.0;
    while hours < HORIZON && stood.spent.is_none() {
        if stood.ripe.is_none() && is_ripe(&s) {
            stood.ripe = Some(hours);
            gas_when_ripe = s.gas;
            stood.yeast_growth =
                if dough.instant_yeast.0 > 0.0 { s.yeast / dough.instant_yeast.0 } else { 1.0 };
        }
        let past = if dough.culture.0 > 0.0 { s.culture >= PAST } else { s.gas >= PAST_GAS * gas_when_ripe };
        if stood.ripe.is_some() && past {
            stood.spent = Some(hours);
        }
        s = model.step(&s, STEP, place.at(hours), tau);
        hours += STEP;
    }
    stood
}
