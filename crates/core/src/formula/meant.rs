//! What was meant by temperatures that no dough or oven has.

use super::document::Formula;
use crate::mix::DESIRED;
use crate::oven::OVEN;
use crate::rise::PLACE;
use crate::units::Celsius;

impl Formula {
    /// The formula with temperatures that can only be °F read as such: what the engines take until
    /// the slip is mended.
    pub fn as_meant(&self) -> Formula {
        let mut f = self.clone();
        f.oven.temperature = f.oven.temperature.map(|t| if OVEN.holds(t.0) { t } else { oven_meant(t) });
        f.mix.desired = DESIRED.meant(f.mix.desired);
        f.rise.bulk.place = f.rise.bulk.place.map(|t| PLACE.meant(t));
        f.rise.second.place = f.rise.second.place.map(|t| PLACE.meant(t));
        f.rise.proof.place = f.rise.proof.place.map(|t| PLACE.meant(t));
        f.rise.levain_place = f.rise.levain_place.map(|t| PLACE.meant(t));
        f
    }
}

/// What was meant by an oven that no bread bakes at: °F said as °C, or °C that were read as °F and
/// converted once too often. It is not rounded: what was typed is what is shown.
pub(super) fn oven_meant(t: Celsius) -> Celsius {
    let again = Celsius(t.fahrenheit());
    match OVEN.as_fahrenheit(t.0) {
        Some(meant) => meant,
        None if t.0 < OVEN.low && OVEN.holds(again.0) => again,
        None => Celsius(t.0.clamp(OVEN.low, OVEN.high)),
    }
}
