//! A thermometer that lies in an oven: the oven heats, its thermostat switches, its door is opened.

use serde::Deserialize;

use crate::protocol::{Act, Ask, Kind, Line, Quantity, VERSION};
use crate::{Device, normal};

/// How fast it heats from cold, K a minute.
const HEATS: f64 = 14.0;
/// The time constant with which it cools when nothing heats it, s.
const COOLS: f64 = 2400.0;
/// How far its thermostat lets it swing either way, K.
const SWINGS: f64 = 6.0;
/// The time constant with which it cools while its door is open, s.
const DOOR: f64 = 45.0;
/// Noise, as a standard deviation, K.
const NOISE: f64 = 0.4;
/// The kitchen around it, °C.
const KITCHEN: f64 = 21.0;

/// What is done at it.
#[derive(Clone, Copy, Debug, PartialEq, Deserialize)]
pub struct OvenStep {
    /// When, in seconds from the beginning.
    pub at: f64,
    /// What its dial is set to, °C; as it was when left out.
    #[serde(default)]
    pub dial: Option<f64>,
    /// For how many seconds its door is open.
    #[serde(default)]
    pub door: f64,
}

/// A thermometer in an oven.
pub struct Oven {
    steps: Vec<OvenStep>,
    dice: fastrand::Rng,
    clock: f64,
    inside: f64,
    heats: bool,
}

impl Oven {
    /// An oven that is cold, to which something is done; the same seed gives the same noise.
    pub fn new(mut steps: Vec<OvenStep>, seed: u64) -> Oven {
        steps.sort_by(|a, b| a.at.total_cmp(&b.at));
        Oven { steps, dice: fastrand::Rng::with_seed(seed), clock: 0.0, inside: KITCHEN, heats: false }
    }
}

impl Device for Oven {
    fn greeting(&self) -> Line {
        Line::Greeting { version: VERSION, kind: Kind::Oven, name: "Oven thermometer, simulated".into() }
    }

    fn after(&mut self, seconds: f64) -> Option<Line> {
        self.clock += seconds;
        let so_far = || self.steps.iter().filter(|s| s.at <= self.clock);
        let dial = so_far().filter_map(|s| s.dial).next_back().unwrap_or(0.0);
        let open = so_far().any(|s| self.clock < s.at + s.door);
        self.heats = match self.inside {
            t if t < dial - SWINGS => true,
            t if t > dial + SWINGS => false,
            _ => self.heats,
        };
        let before = self.inside;
        if self.heats {
            self.inside += HEATS * seconds / 60.0;
        }
        let cools = if open { DOOR } else { COOLS };
        self.inside += (KITCHEN - self.inside) * (1.0 - (-seconds / cools).exp());
        let value = (self.inside + NOISE * normal(&mut self.dice)).round();
        let stable = (self.inside - before).abs() <= 0.05 * seconds.max(1e-9);
        Some(Line::Shows { quantity: Quantity::Temperature, value, stable })
    }

    fn asked(&mut self, ask: Ask) -> Option<Line> {
        let now = OvenStep { at: self.clock, dial: None, door: 0.0 };
        match ask {
            Ask::Act(Act::Dial, dial) => self.steps.push(OvenStep { dial: Some(dial), ..now }),
            Ask::Act(Act::Door, door) => self.steps.push(OvenStep { door, ..now }),
            _ => return Some(Line::Trouble("an oven thermometer does not do that".into())),
        }
        Some(Line::Done)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn it_heats_swings_and_loses_heat_by_its_door() {
        let dial = OvenStep { at: 0.0, dial: Some(220.0), door: 0.0 };
        let mut oven = Oven::new(vec![dial, OvenStep { at: 2400.0, dial: None, door: 20.0 }], 5);
        let mut shown = Vec::new();
        for _ in 0..3000 {
            if let Some(Line::Shows { value, .. }) = oven.after(1.0) {
                shown.push(value);
            }
        }
        assert!(shown[300] < 110.0 && (shown[1200] - 220.0).abs() < 12.0, "{} {}", shown[300], shown[1200]);
        let steady = &shown[1500..2390];
        let (low, high) = steady.iter().fold((f64::MAX, f64::MIN), |(a, b), t| (a.min(*t), b.max(*t)));
        assert!(low > 208.0 && high < 232.0 && high - low > 8.0, "{low} to {high}");
        assert!(shown[2420] < low - 40.0, "the door costs {}", low - shown[2420]);
    }
}
