//! What can still be done with a rise that comes out otherwise than planned, by the engines: held in the fridge once it
//! is ready, or moved to the warmest place when it is slow.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::trials::{COLD, OTHER};
use super::wish::Pins;
use crate::kitchen::Kitchen;
use crate::rise::{Place, RiseInput, Which};
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

/// The rise as it was read, and elsewhere from a moment on.
fn moved(s: &Stations, which: Which, at: Minutes, to: Celsius) -> Option<RiseInput> {
    let mut input = s.rise_input.clone();
    let rise = input.stretch_mut(which);
    let (last, before) = rise.places.split_last_mut()?;
    let passed: f64 = before.iter().filter_map(|p| p.stay).map(|m| m.0).sum();
    last.stay = Some(Minutes((at.0 - passed).max(0.0)));
    rise.places.push(Place::steady(to));
    Some(input)
}

/// What can still be done with a rise of a dough, where it is waited for.
pub(super) fn way_out(s: &Stations, which: Which, kitchen: &Kitchen, pins: Pins) -> WayOut {
    let none = WayOut::default();
    let its_own = s.rise_input.stretch(which);
    let (Some(likely), Some(place)) = (s.rise.forecast(which), its_own.places.last()) else {
        return none;
    };
    if its_own.hours.is_some() || !likely.reached {
        return none;
    }
    let time = likely.time;
    let cold = || -> Option<WayOut> {
        if pins.no_fridge || place.temperature.0 - kitchen.fridge.0 < OTHER {
            return None;
        }
        let mut held = moved(s, which, time, kitchen.fridge)?;
        held.stretch_mut(which).hours = Some(Hours((time.0 + HELD) / 60.0));
        let out = held.likely(which).ok()?;
        let longest = time.0 + 60.0 * COLD[COLD.len() - 1];
        let until = out.stands_until().map_or(longest, |m| m.0.min(longest));
        let usual = match which {
            Which::Bulk => s.rise.second.as_ref().or(s.rise.proof.as_ref()),
            Which::Second => s.rise.proof.as_ref(),
            Which::Proof => None,
        };
        let costs = out.next().zip(usual).map_or(0.0, |(held, usual)| (held.0 - usual.time.0).max(0.0));
        let half = moved(s, which, Minutes(HALF_WAY * time.0), kitchen.fridge)?;
        let half = half.likely(which).ok()?;
        let cold_ready = if half.reached() { half.time().0 } else { until };
        Some(WayOut { cold_until: Some(until), cold_ready, cold_costs: costs, warmed: None })
    };
    let warmed = || -> Option<f64> {
        let warmest = kitchen.places.iter().map(|p| p.really()).max_by(|a, b| a.0.total_cmp(&b.0))?;
        if pins.place || warmest.0 - place.temperature.0 < OTHER {
            return None;
        }
        let at = SEEN * time.0;
        let there = moved(s, which, Minutes(at), warmest)?.likely(which).ok()?.time().0;
        let left = (there - at) / (time.0 - at);
        (left.is_finite()).then(|| left.clamp(0.05, 1.0))
    };
    WayOut { warmed: warmed(), ..cold().unwrap_or(none) }
}
