//! Degrees Fahrenheit that were read as Celsius, and the other way round.

use super::look::Look;
use super::slip::{Slip, Strength, slip};
use crate::formula::meant::oven_meant;
use crate::mix::DESIRED;
use crate::oven::OVEN;
use crate::rise::PLACE;

/// An oven temperature over what household ovens reach was read in °F.
pub(super) fn oven_fahrenheit(s: &Look) -> Option<Slip> {
    let t = s.f.oven.temperature.filter(|t| t.0 > OVEN.high)?;
    let meant = oven_meant(t);
    let text = format!(
        "No household oven reaches {:.0} °C. {:.0} °F is {:.0} °C, and is taken for it here.",
        t.0, t.0, meant.0
    );
    let slip = slip("oven-fahrenheit", Strength::Strong, text);
    Some(slip.mended(format!("Set it to {:.0} °C", meant.0), s.f, |f| f.oven.temperature = Some(meant)))
}

pub(super) fn oven_celsius_as_fahrenheit(s: &Look) -> Option<Slip> {
    let t = s.f.oven.temperature.filter(|t| t.0 < OVEN.low)?;
    let meant = oven_meant(t);
    let text = format!(
        "Bread does not bake at {:.0} °C. That is what {:.0} °C looks like when it was read as °F; it is taken for that here.",
        t.0, meant.0
    );
    let slip = slip("oven-celsius-as-fahrenheit", Strength::Strong, text);
    Some(slip.mended(format!("Set it to {:.0} °C", meant.0), s.f, |f| f.oven.temperature = Some(meant)))
}

pub(super) fn dough_fahrenheit(s: &Look) -> Option<Slip> {
    let t = s.f.mix.desired;
    if t.0 <= DESIRED.high {
        return None;
    }
    let meant = DESIRED.meant(t);
    let text = format!(
        "A dough of {:.0} °C is dead. {:.0} °F is {:.0} °C, and is taken for it here.",
        t.0, t.0, meant.0
    );
    let slip = slip("dough-fahrenheit", Strength::Strong, text);
    Some(slip.mended(format!("Set it to {:.0} °C", meant.0), s.f, |f| f.mix.desired = meant))
}

pub(super) fn place_fahrenheit(s: &Look) -> Option<Slip> {
    let r = &s.f.rise;
    let t = [r.bulk.place, r.second.place, r.proof.place, r.levain_place]
        .into_iter()
        .flatten()
        .find(|t| t.0 > PLACE.high)?;
    let text = format!(
        "A place of {:.0} °C kills the dough. {:.0} °F is {:.0} °C, and is taken for it here.",
        t.0,
        t.0,
        PLACE.meant(t).0
    );
    let slip = slip("place-fahrenheit", Strength::Strong, text);
    Some(slip.mended("Read it as °F", s.f, |f| {
        let r = &mut f.rise;
        let places = [&mut r.bulk.place, &mut r.second.place, &mut r.proof.place, &mut r.levain_place];
        for place in places.into_iter().flatten() {
            *place = PLACE.meant(*place);
        }
    }))
}
