//! The dough as the rise sees it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rates::OSM_REF;
use crate::fault::Check;
use crate::units::{Grams, Percent};

/// A dough as the rise sees it. Percentages are of the flour.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Dough {
    /// Its mass, 1 g to 100 kg.
    pub mass: Grams,
    /// The flour in it.
    pub flour: Grams,
    /// Its effective hydration.
    pub water: Percent,
    /// Baker's yeast as instant yeast, 0 to 10 %.
    #[serde(default)]
    pub instant_yeast: Percent,
    /// Active dry yeast that goes in without blooming starts later.
    #[serde(default)]
    pub unbloomed: bool,
    /// Flour fermented by a ripe culture, times its strength (1 = ripe), 0 to 100 %.
    #[serde(default)]
    pub culture: Percent,
    /// Added sugars that yeast can use.
    #[serde(default)]
    pub sugar: Percent,
    /// Added fat.
    #[serde(default)]
    pub fat: Percent,
    /// Salt; a culture is slower in salted dough.
    #[serde(default)]
    pub salt: Percent,
    /// Salt and sugars in osmol per kg of dough water; a lean dough's when left out.
    #[serde(default = "reference_osmolality")]
    pub osmolality: f64,
    /// How many times its own volume it can hold, over 1 and to 5.
    #[serde(default = "strong_white")]
    pub hold: f64,
    /// How fast its flours ferment against white wheat, 0.5 to 2.
    #[serde(default = "one")]
    pub pace: f64,
}

fn reference_osmolality() -> f64 {
    OSM_REF
}
fn strong_white() -> f64 {
    3.8
}
fn one() -> f64 {
    1.0
}

impl Dough {
    pub(super) fn check(&self, c: &mut Check, path: &str) {
        let at = |f: &str| format!("{path}.{f}");
        c.range(&at("mass"), "The dough", self.mass.0, 1.0, 100_000.0, "g");
        c.range(&at("flour"), "Flour", self.flour.0, 0.5, 100_000.0, "g");
        c.range(&at("water"), "Hydration", self.water.0, 0.0, 500.0, "%");
        c.range(&at("instant_yeast"), "Instant yeast", self.instant_yeast.0, 0.0, 20.0, "%");
        c.range(&at("culture"), "Culture", self.culture.0, 0.0, 100.0, "%");
        c.range(&at("sugar"), "Sugar", self.sugar.0, 0.0, 500.0, "%");
        c.range(&at("fat"), "Fat", self.fat.0, 0.0, 500.0, "%");
        c.range(&at("salt"), "Salt", self.salt.0, 0.0, 100.0, "%");
        c.range(&at("osmolality"), "Osmolality", self.osmolality, 0.0, 100.0, "osmol/kg");
        c.range(&at("hold"), "What the dough can hold", self.hold, 1.05, 5.0, "times");
        c.range(&at("pace"), "The flour's pace", self.pace, 0.5, 2.0, "");
    }
}
