//! What can still be done with a rise that comes out otherwise than planned, by the engines: held in the fridge once it
//! is ready, or moved to the warmest place when it is slow.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::trials::{COLD, OTHER};
use super::wish::Pins;
use crate::kitchen::Kitchen;
use crate::rise::{Forecast, Place, RiseInput, RiseOutput, Stretch, rise};
use crate::stations::Stations;
use crate::units::{Celsius, Hours, Minutes};

/// How long it is held in the fridge when what comes of it is worked out, min.
pub(super) const HELD: f64 = 120.0;
/// After which part of its rise a dough goes into the fridge at the soonest.
pub(super) const HALF_WAY: f64 = 0.5;
/// After which part of its rise a slow dough is moved, when what comes of it is worked out.
const SEEN: f64 = 0.7;

/// What can still be done with a rise.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(default)]
pub struct WayOut {
    /// How long it may stand in all where it goes into the fridge when it is ready, min; not at all when left out.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cold_until: Option<f64>,
    /// When it is ready where it goes there half way, min in all.
    pub cold_ready: f64,
    /// How much longer the rise after it takes when it was held in the fridge for two hours, min.
    pub cold_costs: f64,
    /// What is left of its rise takes so much of its time in the warmest place; there is none when left out.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub warmed: Option<f64>,
}

pub(super) fn stretch<'i>(input: &'i mut RiseInput, id: &str) -> &'i mut Stretch {
    match id {
        "bulk" => &mut input.bulk,
        "second" => &mut input.second,
        _ => &mut input.proof,
    }
}

pub(super) fn forecast<'o>(output: &'o RiseOutput, id: &str) -> Option<&'o Forecast> {
    match id {
        "bulk" => output.bulk.as_ref(),
        "second" => output.second.as_ref(),
        _ => output.proof.as_ref(),
    }
}

/// The rise as it was read, and elsewhere from a moment on.
fn moved(s: &Stations, id: &str, at: Minutes, to: Celsius) -> Option<RiseInput> {
    let mut input = s.rise_input.clone();
    let rise = stretch(&mut input, id);
    let (last, before) = rise.places.split_last_mut()?;
    let passed: f64 = before.iter().filter_map(|p| p.stay).map(|m| m.0).sum();
    last.stay = Some(Minutes((at.0 - passed).max(0.0)));
    rise.places.push(Place::steady(to));
    Some(input)
}

/// What can still be done with a rise of a dough, where it is waited for.
pub(super) fn way_out(s: &Stations, id: &str, kitchen: &Kitchen, pins: Pins) -> WayOut {
    let none = WayOut::default();
    let mut input = s.rise_input.clone();
    let its_own = stretch(&mut input, id);
    let (Some(likely), Some(place)) = (forecast(&s.rise, id), its_own.places.last().copied()) else {
        return none;
    };
    if its_own.hours.is_some() || !likely.reached {
        return none;
    }
    let cold = || -> Option<WayOut> {
        if pins.no_fridge || place.temperature.0 - kitchen.fridge.0 < OTHER {
            return None;
        }
        let mut held = moved(s, id, likely.time, kitchen.fridge)?;
        stretch(&mut held, id).hours = Some(Hours((likely.time.0 + HELD) / 60.0));
        let out = rise(&held).ok()?;
        let longest = likely.time.0 + 60.0 * COLD[COLD.len() - 1];
        let until = forecast(&out, id)?.stands_until.map_or(longest, |m| m.0.min(longest));
        let after = |o: &RiseOutput| match id {
            "bulk" => o.second.as_ref().or(o.proof.as_ref()).map(|f| f.time.0),
            "second" => o.proof.as_ref().map(|f| f.time.0),
            _ => None,
        };
        let costs = after(&out).zip(after(&s.rise)).map_or(0.0, |(held, usual)| (held - usual).max(0.0));
        let half = moved(s, id, Minutes(HALF_WAY * likely.time.0), kitchen.fridge)?;
        let ready = rise(&half).ok().and_then(|o| forecast(&o, id).filter(|f| f.reached).map(|f| f.time.0));
        let cold_ready = ready.unwrap_or(until);
        Some(WayOut { cold_until: Some(until), cold_ready, cold_costs: costs, warmed: None })
    };
    let warmed = || -> Option<f64> {
        let warmest = kitchen.places.iter().map(|p| p.really()).max_by(|a, b| a.0.total_cmp(&b.0))?;
        if pins.place || warmest.0 - place.temperature.0 < OTHER {
            return None;
        }
        let at = SEEN * likely.time.0;
        let there = rise(&moved(s, id, Minutes(at), warmest)?).ok()?;
        let left = (forecast(&there, id)?.time.0 - at) / (likely.time.0 - at);
        (left.is_finite()).then(|| left.clamp(0.05, 1.0))
    };
    WayOut { warmed: warmed(), ..cold().unwrap_or(none) }
}
