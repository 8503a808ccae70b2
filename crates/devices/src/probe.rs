//! A thermometer that is stuck into a dough: it follows slowly.

use serde::Deserialize;

use crate::protocol::{Act, Ask, Kind, Line, Quantity, VERSION};
use crate::{Device, normal};

/// The time constant with which it follows what it is stuck into, s.
const FOLLOWS: f64 = 6.0;
/// Noise, as a standard deviation, K.
const NOISE: f64 = 0.05;
/// A change under this in a second is standing still, K.
const STILL: f64 = 0.05;

/// Into what it is stuck from a moment on.
#[derive(Clone, Copy, Debug, PartialEq, Deserialize)]
pub struct ProbeStep {
    /// When, in seconds from the beginning.
    pub at: f64,
    /// How warm that is, °C.
    pub into: f64,
    /// How that changes, K a minute.
    #[serde(default)]
    pub warms: f64,
}

/// A thermometer in a dough.
pub struct Probe {
    steps: Vec<ProbeStep>,
    dice: fastrand::Rng,
    clock: f64,
    shows: f64,
}

impl Probe {
    /// One that is stuck into one thing after the other; the same seed gives the same noise.
    pub fn new(mut steps: Vec<ProbeStep>, seed: u64) -> Probe {
        steps.sort_by(|a, b| a.at.total_cmp(&b.at));
        let shows = steps.first().map_or(21.0, |s| s.into);
        Probe { steps, dice: fastrand::Rng::with_seed(seed), clock: 0.0, shows }
    }

    fn around(&self) -> f64 {
        let now = self.steps.iter().rev().find(|s| s.at <= self.clock);
        now.map_or(self.shows, |s| s.into + s.warms * (self.clock - s.at) / 60.0)
    }
}

impl Device for Probe {
    fn greeting(&self) -> Line {
        Line::Greeting { version: VERSION, kind: Kind::Probe, name: "Dough probe, simulated".into() }
    }

    fn after(&mut self, seconds: f64) -> Option<Line> {
        self.clock += seconds;
        let moves = (self.around() - self.shows) * (1.0 - (-seconds / FOLLOWS).exp());
        self.shows += moves;
        let value = ((self.shows + NOISE * normal(&mut self.dice)) * 10.0).round() / 10.0;
        let stable = moves.abs() <= STILL * seconds.max(1e-9);
        Some(Line::Shows { quantity: Quantity::Temperature, value, stable })
    }

    fn asked(&mut self, ask: Ask) -> Option<Line> {
        let Ask::Act(Act::Into, into) = ask else {
            return Some(Line::Trouble("a probe does not do that".into()));
        };
        self.steps.push(ProbeStep { at: self.clock, into, warms: 0.0 });
        Some(Line::Done)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn it_comes_to_what_it_is_stuck_into() {
        let steps = vec![
            ProbeStep { at: 0.0, into: 21.0, warms: 0.0 },
            ProbeStep { at: 5.0, into: 26.0, warms: 0.0 },
        ];
        let mut probe = Probe::new(steps, 3);
        let all: Vec<Line> = (0..600).filter_map(|_| probe.after(0.1)).collect();
        let shown = |n: usize| match all[n] {
            Line::Shows { value, stable, .. } => (value, stable),
            _ => panic!("{:?}", all[n]),
        };
        assert!((shown(30).0 - 21.0).abs() < 0.4 && shown(30).1);
        assert!(!shown(70).1, "it is on its way");
        assert!((shown(590).0 - 26.0).abs() < 0.4 && shown(590).1);
    }
}
