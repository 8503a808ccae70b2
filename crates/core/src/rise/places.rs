//! Where a dough stands, for how long, and how fast it follows the air there.

use super::wish::{NIGHT, TARGET};
use std::f64::consts::PI;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::fault::Check;
use crate::units::{Celsius, Hours, Minutes};
use crate::words::Stands;

/// A place the dough stands in, and how long; the last of a list lasts as long as needed.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Place {
    /// Temperature of the place, 0 to 60 °C; its mean where it has a daily curve.
    pub temperature: Celsius,
    /// How long the dough stands there; as long as needed when left out.
    #[serde(default)]
    pub stay: Option<Minutes>,
    /// A daily curve: how much warmer than its mean it gets, 0 to 15 K.
    #[serde(default)]
    pub swing: f64,
    /// Minutes from the beginning of the stretch to the place's warmest moment.
    #[serde(default)]
    pub warmest: Minutes,
}

impl Place {
    /// A place of one temperature, for as long as needed.
    pub fn steady(temperature: Celsius) -> Place {
        Place { temperature, stay: None, swing: 0.0, warmest: Minutes(0.0) }
    }

    /// Its temperature `hours` into the stretch, °C.
    pub(super) fn at(&self, hours: f64) -> f64 {
        if self.swing == 0.0 {
            return self.temperature.0;
        }
        let round = 2.0 * PI * (hours - self.warmest.0 / 60.0) / 24.0;
        self.temperature.0 + self.swing * round.cos()
    }
}

/// One rise: through which places, in what, and how far or how long.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Stretch {
    /// Places in sequence, 1 to 20.
    pub places: Vec<Place>,
    /// How many times its starting volume it should reach, 1 to 3. At 1 there is no rise.
    pub target: f64,
    /// How long it stands in all, 0 to 72 h, whatever it has reached then; until the target when
    /// left out. A proof that is baked from the fridge stands so.
    #[serde(default)]
    pub hours: Option<Hours>,
    /// What it stands in.
    #[serde(default)]
    pub stands: Stands,
    /// Minutes into it at which the dough is folded gently, in order, at most 12: three quarters of
    /// its gas stay.
    #[serde(default)]
    pub folds: Vec<Minutes>,
}

impl Default for Stretch {
    /// No rise at all.
    fn default() -> Self {
        Stretch {
            places: vec![Place::steady(Celsius(20.0))],
            target: 1.0,
            hours: None,
            stands: Stands::default(),
            folds: Vec::new(),
        }
    }
}

impl Stretch {
    /// Whether there is a rise at all.
    pub fn rises(&self) -> bool {
        self.target > 1.0 || self.hours.is_some()
    }

    pub(super) fn check(&self, c: &mut Check, path: &str) {
        TARGET.check(c, &format!("{path}.target"), self.target);
        c.range(&format!("{path}.places"), "The number of places", self.places.len() as f64, 1.0, 20.0, "");
        if let Some(hours) = self.hours {
            c.range(&format!("{path}.hours"), "A rise", hours.0, 0.0, 72.0, "h");
        }
        c.range(&format!("{path}.folds"), "The number of folds", self.folds.len() as f64, 0.0, 12.0, "");
        for (i, fold) in self.folds.iter().enumerate() {
            let before = if i > 0 { self.folds[i - 1].0 } else { 0.0 };
            c.range(
                &format!("{path}.folds.{i}"),
                "A fold after the one before",
                fold.0,
                before,
                4320.0,
                "min",
            );
        }
        for (i, p) in self.places.iter().enumerate() {
            let at = |field: &str| format!("{path}.places.{i}.{field}");
            c.range(&at("temperature"), "A place for dough", p.temperature.0, 0.0, 60.0, "°C");
            NIGHT.check(c, &at("swing"), p.swing);
            c.range(&at("warmest"), "The warmest moment", p.warmest.0, -10_000.0, 10_000.0, "min");
            if let Some(stay) = p.stay {
                c.range(&at("stay"), "A stay", stay.0, 0.0, 10_000.0, "min");
            }
        }
    }

    /// Temperature of the place at `hours` into the stretch, °C.
    pub(super) fn air(&self, hours: f64) -> f64 {
        let mut end = 0.0;
        for p in &self.places {
            end += p.stay.map_or(f64::INFINITY, |s| s.0 / 60.0);
            if hours < end {
                return p.at(hours);
            }
        }
        self.places.last().map_or(20.0, |p| p.at(hours))
    }

    /// Time constant in h of a dough of `kg` in what it stands in.
    pub(super) fn follows(&self, kg: f64) -> f64 {
        time_constant(kg, self.stands)
    }
}

/// Resistance of still air to a dough of 1 kg in a covered bowl, h. For a ball it stands for 18 W/m²
/// K; a dough in a bowl is flatter and needs less.
pub const AIR_RESISTANCE: f64 = 0.95;
/// Resistance of the dough itself at 1 kg, h: ρ c r²/15k of a ball of 0.48 W/m K, 2.9 kJ/kg K.
pub const DOUGH_RESISTANCE: f64 = 0.45;

/// Time constant in h with which a dough of `kg` follows its place. It adds the resistance of air
/// and wall, which grows with the radius, and that of the dough itself, which grows with its
/// square; 1 kg in a bowl takes about 1.4 h. Checked against the series of a ball and a slab with
/// a surface resistance in `tests/cooling.rs`.
pub fn time_constant(kg: f64, stands: Stands) -> f64 {
    let r = kg.max(0.005).cbrt();
    AIR_RESISTANCE * stands.insulates() * r + DOUGH_RESISTANCE * r * r
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// 1 kg in a bowl follows still air with about 1.3 to 1.6 h (common practice, no source).
    #[test]
    fn a_kilogram_takes_about_an_hour_and_a_half() {
        assert!((1.3..=1.6).contains(&time_constant(1.0, Stands::Tub)));
        assert!(time_constant(1.0, Stands::Box) > 2.0 * time_constant(1.0, Stands::Tub));
    }

    #[test]
    fn places_come_one_after_another() {
        let leg = |t: f64, stay: f64| Place { stay: Some(Minutes(stay)), ..Place::steady(Celsius(t)) };
        let s = Stretch {
            places: vec![leg(24.0, 60.0), leg(4.0, 600.0), Place::steady(Celsius(21.0))],
            target: 2.0,
            ..Stretch::default()
        };
        assert_eq!(
            [s.air(0.5), s.air(1.5), s.air(10.9), s.air(11.1), s.air(99.0)],
            [24.0, 4.0, 4.0, 21.0, 21.0]
        );
    }

    proptest! {
        #[test]
        fn a_daily_curve_comes_round(mean in 5.0..25.0f64, swing in 0.0..8.0f64, warmest in -600.0..600.0f64, h in 0.0..48.0f64) {
            let p = Place { swing, warmest: Minutes(warmest), ..Place::steady(Celsius(mean)) };
            prop_assert!((p.at(h) - p.at(h + 24.0)).abs() < 1e-9);
            prop_assert!((p.at(warmest / 60.0) - (mean + swing)).abs() < 1e-9);
            prop_assert!((p.at(h) - mean).abs() <= swing + 1e-9);
        }

        #[test]
        fn more_dough_follows_more_slowly(kg in 0.02..5.0f64) {
            prop_assert!(time_constant(kg * 1.1, Stands::Tin) > time_constant(kg, Stands::Tin));
        }
    }
}
