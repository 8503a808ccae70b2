//! Dough temperature: how warm the water must be.
//!
//! Two schools side by side. The **factor rule** averages flour, room, water (and preferment) and
//! takes off what mixing adds (common practice; also Hamelman, *Bread*, recalled). The **heat
//! balance** weighs every ingredient with its own heat capacity after Choi and Okos (1986;
//! ASHRAE Refrigeration, *Thermal Properties of Foods*, recalled).

use super::wish::{DESIRED, FLOUR, PREFERMENT, ROOM};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::heat::{heat_capacity, water_heat_capacity};
use crate::fault::{Check, Faults};
use crate::pantry::Composition;
use crate::units::{Celsius, Grams};
use crate::words::YEAST_LIMIT;

/// Latent heat of ice in units of water's heat capacity, K: 334 kJ/kg over 4.18 kJ/kg K. Bakers
/// say 80.
pub const ICE: f64 = 334.0 / 4.18;

/// Heat capacity of a steel bowl, kJ/kg K.
const STEEL: f64 = 0.5;

/// Water may be off by this much and still be used straight from the tap, K.
const NEAR_ENOUGH: f64 = 1.0;

/// The largest share of the water that may go in as ice: more does not melt while mixing.
const ICE_SHARE_MAX: f64 = 0.6;

/// Something that goes into the dough at a temperature of its own.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Part {
    /// What it is.
    pub name: String,
    /// Its mass.
    pub grams: Grams,
    /// What 100 g of it are made of.
    pub per_100g: Composition,
    /// Its temperature.
    pub temperature: Celsius,
}

/// What the water's temperature depends on.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct WaterInput {
    /// Whether the liquid is water, so that some of it may be ice.
    #[serde(default = "is_water")]
    pub ice: bool,
    /// Desired dough temperature, 10 to 38 °C.
    pub desired: Celsius,
    /// Flour temperature, −20 to 50 °C.
    pub flour: Celsius,
    /// Room temperature, −10 to 50 °C.
    pub room: Celsius,
    /// Preferment temperature, where there is one.
    #[serde(default)]
    pub preferment: Option<Celsius>,
    /// Temperatures of further parts that the factor rule counts one by one: a second preferment, a
    /// soaker, a scald, cold eggs or milk. At most 8.
    #[serde(default)]
    pub others: Vec<Celsius>,
    /// By how much mixing warms the dough, K, 0 to 25.
    pub mixing_rise: f64,
    /// The liquid as it comes, from the tap or the fridge, 0 to 40 °C.
    pub tap: Celsius,
    /// The water (or other liquid) whose temperature is free to choose.
    pub water: Grams,
    /// Everything else in the dough.
    pub parts: Vec<Part>,
    /// Mass of the steel bowl, at room temperature; 0 leaves it out.
    #[serde(default)]
    pub bowl: Grams,
}

/// What to do with the water.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
#[serde(rename_all = "kebab-case", tag = "do")]
pub enum WaterAction {
    /// It is near enough as it comes.
    Tap,
    /// Warm it to the temperature.
    Warm,
    /// Replace part of it by ice.
    Ice {
        /// Ice, weighed.
        ice: Grams,
        /// Tap water beside it.
        water: Grams,
    },
    /// It cannot be done with water alone.
    Refused {
        /// The dough temperature that the hottest or coldest water allowed would give.
        dough: Celsius,
    },
    /// There is no liquid to adjust.
    NoLiquid,
}

/// How warm the water must be, by one school.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct WaterAnswer {
    /// The temperature it would need.
    pub water: Celsius,
    /// What to do.
    pub action: WaterAction,
}

/// Both answers with their working.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct WaterAnswers {
    /// Number of temperatures averaged: 3, and one for each preferment and other part.
    pub factor_n: f64,
    /// The friction figure of the rule: what mixing adds, times `factor_n`.
    pub factor_friction: f64,
    /// By the factor rule.
    pub factor: WaterAnswer,
    /// By the heat balance.
    pub balance: WaterAnswer,
    /// The dough's temperature when the liquid goes in as it comes, by the heat balance.
    pub if_nothing_is_done: Celsius,
    /// Heat capacity of the dough, kJ/kg K.
    pub dough_heat_capacity: f64,
}

fn is_water() -> bool {
    true
}

impl WaterInput {
    fn check(&self) -> Result<(), Faults> {
        let mut c = Check::new();
        DESIRED.exact().check(&mut c, "desired", self.desired.0);
        FLOUR.check(&mut c, "flour", self.flour.0);
        ROOM.check(&mut c, "room", self.room.0);
        c.range("tap", "The liquid as it comes", self.tap.0, 0.0, 40.0, "°C");
        c.range("mixing_rise", "The rise by mixing", self.mixing_rise, 0.0, 25.0, "K");
        c.range("water", "Water", self.water.0, 0.0, 1e6, "g");
        c.range("bowl", "The bowl", self.bowl.0, 0.0, 50_000.0, "g");
        if let Some(p) = self.preferment {
            PREFERMENT.check(&mut c, "preferment", p.0);
        }
        c.range("others", "The number of other parts", self.others.len() as f64, 0.0, 8.0, "");
        for (i, t) in self.others.iter().enumerate() {
            c.range(&format!("others.{i}"), "A part's temperature", t.0, -30.0, 100.0, "°C");
        }
        for (i, p) in self.parts.iter().enumerate() {
            c.range(&format!("parts.{i}.grams"), "An ingredient", p.grams.0, 0.0, 1e6, "g");
            c.range(
                &format!("parts.{i}.temperature"),
                "An ingredient's temperature",
                p.temperature.0,
                -30.0,
                100.0,
                "°C",
            );
        }
        c.done(())
    }

    /// Heat in kJ that everything but the water takes up on its way to `dough` °C, mixing taken off.
    fn heat_wanted(&self, dough: f64) -> f64 {
        let parts: f64 = self
            .parts
            .iter()
            .map(|p| {
                let mean = 0.5 * (p.temperature.0 + dough);
                p.grams.0 / 1000.0 * heat_capacity(&p.per_100g, mean) * (dough - p.temperature.0)
            })
            .sum();
        let bowl = self.bowl.0 / 1000.0 * STEEL * (dough - self.room.0);
        parts + bowl - self.dough_heat(dough) * self.mixing_rise
    }

    /// Heat in kJ that warms the whole dough by 1 K.
    fn dough_heat(&self, t: f64) -> f64 {
        let parts: f64 = self.parts.iter().map(|p| p.grams.0 / 1000.0 * heat_capacity(&p.per_100g, t)).sum();
        parts + self.water.0 / 1000.0 * water_heat_capacity(t)
    }

    /// Water temperature that gives `dough` °C by the heat balance.
    fn water_for(&self, dough: f64) -> f64 {
        let heat = self.heat_wanted(dough);
        let mut water = dough;
        for _ in 0..6 {
            // Water's heat capacity hardly changes; outside its liquid range the value at the
            // nearest end stands in, since the answer is then only “far too hot” or “ice”.
            let c = water_heat_capacity((0.5 * (water + dough)).clamp(0.0, 100.0));
            water = dough + heat / (self.water.0 / 1000.0 * c);
        }
        water
    }

    /// Dough temperature from water of `water` °C by the heat balance.
    fn dough_from(&self, water: f64) -> f64 {
        let (mut low, mut high) = (-60.0, 120.0);
        for _ in 0..50 {
            let mid = 0.5 * (low + high);
            let spare = if self.water.0 > 0.0 {
                self.water.0 / 1000.0 * water_heat_capacity(0.5 * (water + mid)) * (water - mid)
            } else {
                0.0
            };
            if spare > self.heat_wanted(mid) { low = mid } else { high = mid }
        }
        0.5 * (low + high)
    }

    fn answer(&self, water: f64, dough_from: impl Fn(f64) -> f64) -> WaterAnswer {
        let tap = self.tap.0;
        let action = if self.water.0 < 1.0 {
            WaterAction::NoLiquid
        } else if water > YEAST_LIMIT {
            WaterAction::Refused { dough: Celsius(dough_from(YEAST_LIMIT)) }
        } else if (water - tap).abs() <= NEAR_ENOUGH {
            WaterAction::Tap
        } else if water > tap {
            WaterAction::Warm
        } else if !self.ice {
            // Ice in milk would thin it.
            WaterAction::Refused { dough: Celsius(dough_from(tap)) }
        } else {
            let ice = ice(self.water, self.tap, Celsius(water));
            if ice.0 > ICE_SHARE_MAX * self.water.0 {
                let coldest = tap - ICE_SHARE_MAX * (tap + ICE);
                WaterAction::Refused { dough: Celsius(dough_from(coldest)) }
            } else {
                WaterAction::Ice { ice, water: self.water - ice }
            }
        };
        WaterAnswer { water: Celsius(water), action }
    }
}

/// Ice that brings `water` of tap temperature down to `needed`, the ice included in the weight:
/// 1500 g at 20 °C wanted at 5 °C take 225 g of ice.
///
/// ```
/// use cerealis_core::{mix::ice, units::{Celsius, Grams}};
/// assert!((ice(Grams(1500.0), Celsius(20.0), Celsius(5.0)).0 - 225.0).abs() < 0.5);
/// ```
pub fn ice(water: Grams, tap: Celsius, needed: Celsius) -> Grams {
    water * ((tap.0 - needed.0) / (tap.0 + ICE)).max(0.0)
}

/// Plans the water's temperature.
///
/// # Errors
/// A figure outside its range, by its path.
pub fn water(input: &WaterInput) -> Result<WaterAnswers, Faults> {
    input.check()?;
    let desired = input.desired.0;
    let further: Vec<f64> = input.preferment.iter().chain(&input.others).map(|t| t.0).collect();
    let n = 3.0 + further.len() as f64;
    let friction = n * input.mixing_rise;
    let others = input.flour.0 + input.room.0 + further.iter().sum::<f64>() + friction;
    let by_factor = n * desired - others;
    let by_balance = if input.water.0 >= 1.0 { input.water_for(desired) } else { desired };
    Ok(WaterAnswers {
        factor_n: n,
        factor_friction: friction,
        factor: input.answer(by_factor, |w| (others + w) / n),
        balance: input.answer(by_balance, |w| input.dough_from(w)),
        if_nothing_is_done: Celsius(input.dough_from(input.tap.0)),
        dough_heat_capacity: {
            let mass: f64 = input.parts.iter().map(|p| p.grams.0).sum::<f64>() + input.water.0;
            if mass > 0.0 { input.dough_heat(desired) / mass * 1000.0 } else { 0.0 }
        },
    })
}

#[cfg(test)]
mod tests {
    use super::super::heat::heat_capacity;
    use super::*;
    use crate::pantry::Catalogue;
    use approx::assert_relative_eq;
    use proptest::prelude::*;

    fn lean(room: f64, rise: f64, tap: f64, desired: f64) -> WaterInput {
        let flour = Catalogue::bundled().get("bread-flour").unwrap().per_100g;
        WaterInput {
            ice: true,
            desired: Celsius(desired),
            flour: Celsius(room),
            room: Celsius(room),
            preferment: None,
            others: Vec::new(),
            mixing_rise: rise,
            tap: Celsius(tap),
            water: Grams(650.0),
            parts: vec![Part {
                name: "flour".into(),
                grams: Grams(1000.0),
                per_100g: flour,
                temperature: Celsius(room),
            }],
            bowl: Grams(0.0),
        }
    }

    /// Heat capacities at 20 °C against the values tabled for the same source (ASHRAE
    /// Refrigeration, Thermal Properties of Foods; recalled, not read from the source).
    #[test]
    fn choi_and_okos_at_twenty_degrees() {
        let of = |f: fn(&mut Composition)| {
            let mut c = Composition::default();
            f(&mut c);
            heat_capacity(&c, 20.0)
        };
        assert_relative_eq!(of(|c| c.water = 100.0), 4.177, epsilon = 0.003);
        assert_relative_eq!(of(|c| c.protein = 100.0), 2.032, epsilon = 0.003);
        assert_relative_eq!(of(|c| c.fat = 100.0), 2.012, epsilon = 0.003);
        assert_relative_eq!(of(|c| c.carb = 100.0), 1.586, epsilon = 0.003);
    }

    /// 3 × 25 − 21 − 21 − 3 × 4 = 21 (common practice, no source).
    #[test]
    fn the_factor_rule_by_hand() {
        let plan = water(&lean(21.0, 4.0, 14.0, 25.0)).unwrap();
        assert_relative_eq!(plan.factor.water.0, 21.0);
    }

    /// With a levain of 24 °C, a soaker of 18 °C and cold eggs of 4 °C: 6 × 25 − 21 − 21 − 24 − 18 − 4
    /// − 6 × 4 = 38 (common practice, no source).
    #[test]
    fn every_part_counts_in_the_factor_rule() {
        let mut i = lean(21.0, 4.0, 14.0, 25.0);
        i.preferment = Some(Celsius(24.0));
        i.others = vec![Celsius(18.0), Celsius(4.0)];
        let plan = water(&i).unwrap();
        assert_relative_eq!(plan.factor.water.0, 38.0);
        assert_eq!(plan.factor_n, 6.0);
    }

    /// The schools agree within a few degrees on an ordinary dough.
    #[test]
    fn the_schools_agree_on_an_ordinary_dough() {
        let plan = water(&lean(21.0, 2.5, 14.0, 25.0)).unwrap();
        assert!((plan.factor.water.0 - plan.balance.water.0).abs() < 4.0, "{plan:?}");
    }

    #[test]
    fn too_hot_is_refused_with_what_can_be_had() {
        let plan = water(&lean(5.0, 1.0, 8.0, 28.0)).unwrap();
        let WaterAction::Refused { dough } = plan.balance.action else { panic!("{plan:?}") };
        assert!(dough.0 < 28.0 && dough.0 > 20.0, "{dough:?}");
    }

    #[test]
    fn summer_asks_for_ice() {
        let plan = water(&lean(31.0, 6.0, 24.0, 24.0)).unwrap();
        assert!(matches!(plan.balance.action, WaterAction::Ice { .. }), "{plan:?}");
        let plan = water(&lean(45.0, 20.0, 30.0, 15.0)).unwrap();
        assert!(matches!(plan.balance.action, WaterAction::Refused { .. }), "{plan:?}");
    }

    #[test]
    fn nothing_to_adjust_is_said() {
        let mut i = lean(21.0, 2.0, 14.0, 25.0);
        i.water = Grams(0.0);
        assert_eq!(water(&i).unwrap().balance.action, WaterAction::NoLiquid);
    }

    #[test]
    fn nonsense_is_refused_at_its_field() {
        let mut i = lean(21.0, 2.0, 14.0, 25.0);
        i.desired = Celsius(f64::NAN);
        i.tap = Celsius(90.0);
        let Faults(faults) = water(&i).unwrap_err();
        let paths: Vec<_> = faults.iter().map(|f| f.path.as_str()).collect();
        assert_eq!(paths, ["desired", "tap"]);
    }

    proptest! {
        /// Water of the planned temperature gives the desired dough, to 0.1 % of the heat moved.
        #[test]
        fn the_balance_closes(room in 5.0..35.0f64, rise in 0.0..6.0f64, desired in 18.0..32.0f64) {
            let i = lean(room, rise, 12.0, desired);
            let w = water(&i).unwrap().balance.water.0;
            prop_assume!((1.0..99.0).contains(&w));
            prop_assert!((i.dough_from(w) - desired).abs() < 0.02);
        }

        /// Ice and tap water together hold as much heat as the cold water they stand for, to 0.1 %.
        #[test]
        fn ice_closes(tap in 5.0..35.0f64, colder in 1.0..30.0f64) {
            let needed = tap - colder;
            let x = ice(Grams(1000.0), Celsius(tap), Celsius(needed)).0;
            let (c, latent) = (4.18, 334.0);
            let mixed = (1000.0 - x) * c * tap - x * latent;
            prop_assert!((mixed - 1000.0 * c * needed).abs() < 0.001 * 1000.0 * c * colder);
        }

        #[test]
        fn a_warmer_wish_needs_warmer_water(room in 10.0..30.0f64, desired in 18.0..30.0f64) {
            let cool = water(&lean(room, 2.0, 12.0, desired)).unwrap();
            let warm = water(&lean(room, 2.0, 12.0, desired + 1.0)).unwrap();
            prop_assert!(warm.balance.water > cool.balance.water);
            prop_assert!(warm.factor.water > cool.factor.water);
        }
    }
}
