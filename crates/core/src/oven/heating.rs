//! Before and after the bake: heating the oven and what stands in it, and cooling the bread.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::around::{Outside, Surroundings};
use super::baking::Bake;
use super::body::{Loaf, Material};
use crate::fault::{Check, Faults};
use crate::shape::Size;
use crate::units::{Celsius, Minutes};
use crate::words::Vessel;

/// The oven's air goes towards this many K over the hottest setting when it heats at full power: a
/// household oven that has passed 200 °C gains ever more slowly (common practice, no source).
pub(super) const FULL_POWER: f64 = 330.0;
/// How near its vessel must have come to the oven to count as hot, K.
const NEAR: f64 = 10.0;
/// Heat transfer from a heating oven to a stone or a pot, W/m² K, both faces together (common
/// practice, no source).
const TO_VESSEL: f64 = 30.0;

/// What `preheat` asks for.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PreheatInput {
    /// The temperature wanted, 80 to 300 °C.
    pub to: Celsius,
    /// Minutes the oven takes to 200 °C, 1 to 120.
    pub to_200: Minutes,
    /// The room it starts from, 0 to 45 °C.
    #[serde(default = "room")]
    pub room: Celsius,
    /// What is heated in it.
    pub vessel: Vessel,
}

fn room() -> Celsius {
    Celsius(21.0)
}

/// How the oven heats.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct PreheatOutput {
    /// Minutes to the wanted temperature, what stands in it included.
    pub time: Minutes,
    /// Minutes to it in the oven's air alone.
    pub air: Minutes,
    /// Minute by minute: air and vessel, °C.
    pub curve: Vec<(f64, f64)>,
}

/// The course of heating: minutes to the air's and the vessel's temperature, and both by the minute.
fn heating(to_200: f64, room: f64, to: f64, vessel: Vessel) -> PreheatOutput {
    let limit = FULL_POWER.max(to + 30.0);
    let tau = -to_200.max(0.5) / (1.0 - (200.0 - room) / (limit - room)).ln();
    let air_at = |m: f64| (limit - (limit - room) * (-m / tau).exp()).min(to);
    let slow = vessel.holds() / TO_VESSEL / 60.0;
    let hot = if vessel.goes_in_hot() { to - NEAR } else { f64::NEG_INFINITY };
    let (mut minutes, mut stone, mut air) = (0.0, room, None);
    let mut curve = vec![(room, room)];
    while minutes < 240.0 && (air.is_none() || stone < hot) {
        // Within a minute the air hardly moves: the vessel goes its exact way towards it.
        minutes += 1.0;
        let now = air_at(minutes);
        stone = now + (stone - now) * (-1.0 / slow).exp();
        if air.is_none() && now >= to - 1.0 {
            air = Some(minutes);
        }
        curve.push((now, stone));
    }
    PreheatOutput { time: Minutes(minutes), air: Minutes(air.unwrap_or(minutes)), curve }
}

/// Minutes until oven and vessel are hot.
pub(super) fn heats_up(to_200: f64, room: f64, to: f64, vessel: Vessel) -> f64 {
    heating(to_200, room, to, vessel).time.0
}

/// Works out when an oven is hot.
///
/// # Errors
/// A figure outside its range, by its path.
pub fn preheat(input: &PreheatInput) -> Result<PreheatOutput, Faults> {
    let mut c = Check::new();
    c.range("to", "The oven temperature", input.to.0, 80.0, 300.0, "°C");
    c.range("to_200", "Preheating to 200 °C", input.to_200.0, 1.0, 120.0, "min");
    c.range("room", "The room temperature", input.room.0, 0.0, 45.0, "°C");
    c.done(())?;
    Ok(heating(input.to_200.0, input.room.0, input.to.0, input.vessel))
}

/// Core temperature at which bread is cut, °C (common practice).
pub const CUT_AT: f64 = 40.0;
/// Conductivity of crumb that cools, W/m K: the vapour helps while it is hot.
const COOLING_CRUMB: f64 = 0.4;

/// Minutes on a rack until a loaf that comes out at `core` °C may be cut.
pub(super) fn cools(loaf: &Loaf, size: Size, core: f64, room: f64) -> f64 {
    let material = Material { crumb: COOLING_CRUMB, vapour: 0.0, crust: COOLING_CRUMB, evaporates: false };
    let hot = Loaf { start: core, material, ..*loaf };
    let still = (8.0 * (20.0 / size.width).powf(0.25)).clamp(6.0, 11.0);
    let open = |share: f64| Outside { convection: still, ..Outside::open(share) };
    let around = Surroundings { faces: [open(0.4), open(0.3), open(0.3)], ..Surroundings::still(room) };
    let cut_at = CUT_AT.max(room + 5.0);
    let curve = Bake::new(&hot, &around, 12).until(360.0, |m| m.core <= cut_at);
    curve.last().map_or(0.0, |m| m.minutes)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn hot(to: f64, vessel: Vessel) -> PreheatOutput {
        preheat(&PreheatInput { to: Celsius(to), to_200: Minutes(15.0), room: Celsius(21.0), vessel })
            .unwrap()
    }

    /// The figure that the kitchen gave comes back; a stone or an iron pot takes 20 to 40 min more
    /// (common practice, no source).
    #[test]
    fn an_oven_heats_as_its_kitchen_says() {
        assert!((hot(200.0, Vessel::Sheet).time.0 - 15.0).abs() <= 1.0);
        for vessel in [Vessel::Stone, Vessel::Pot] {
            let more = (hot(230.0, vessel).time - hot(230.0, Vessel::Sheet).time).0;
            assert!((12.0..=40.0).contains(&more), "{vessel:?}: {more} min more");
        }
        assert_eq!(
            preheat(&PreheatInput {
                to: Celsius(500.0),
                ..PreheatInput {
                    to: Celsius(1.0),
                    to_200: Minutes(15.0),
                    room: Celsius(21.0),
                    vessel: Vessel::Tin
                }
            })
            .unwrap_err()
            .0[0]
                .path,
            "to"
        );
    }

    proptest! {
        #[test]
        fn hotter_never_comes_sooner(to in 100.0..290.0f64, to_200 in 5.0..60.0f64) {
            let at = |t: f64| heats_up(to_200, 21.0, t, Vessel::Stone);
            prop_assert!(at(to + 10.0) >= at(to));
        }
    }
}
