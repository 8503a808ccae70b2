//! What can be swapped for what, and what comes of it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::formula::changes::LineChange;
use crate::formula::{Figures, Formula};
use crate::units::Percent;

/// A swap with all that it needs to know.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Swap {
    /// All baker's yeast to another form of it.
    Yeast {
        /// Key of the form: `instant-yeast`, `active-dry-yeast`, `fresh-yeast`.
        to: String,
    },
    /// Baker's yeast to a levain from a kept culture; the rise is computed anew.
    YeastToCulture {
        /// Flour in the levain, 5 to 50 % of all.
        percent: Percent,
    },
    /// Levain and culture to baker's yeast; their flour and water go back into the dough.
    CultureToYeast {
        /// Instant yeast, 0.05 to 3 % of the flour.
        percent: Percent,
    },
    /// One flour to another, all of it or a part; the water follows what they drink.
    Flour {
        /// Key of the flour that gives way.
        from: String,
        /// Key of the flour that takes its place.
        to: String,
        /// How much of it, 1 to 100 %.
        percent: Percent,
    },
    /// One drink or dairy to another, `dry-milk` with water among them.
    Liquid {
        /// Key of what gives way.
        from: String,
        /// Key of what takes its place.
        to: String,
    },
    /// Eggs to water and oil.
    EggFree,
    /// One fat to another.
    Fat {
        /// Key of the fat that gives way.
        from: String,
        /// Key of the fat that takes its place.
        to: String,
    },
    /// One sugar or syrup to another.
    Sugar {
        /// Key of the sugar that gives way.
        from: String,
        /// Key of what takes its place.
        to: String,
    },
    /// Egg in wash and glaze to a drink.
    WashEggFree {
        /// Key of what is brushed on instead.
        to: String,
    },
    /// A part of the flour is cooked with water of the dough.
    Scald {
        /// How much of the flour, 2 to 15 %.
        percent: Percent,
        /// Water against that flour, 3 to 5.
        times: f64,
    },
    /// Everything with gluten to a gluten-free template of the same flour weight.
    GlutenFree,
}

/// What to swap in a formula.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SwapInput {
    /// The formula.
    pub formula: Formula,
    /// The swap.
    pub swap: Swap,
    /// Whether to keep effective hydration, sugar, fat and salt; they are kept when left out.
    #[serde(default = "yes")]
    pub keep: bool,
}

fn yes() -> bool {
    true
}

/// A swap done, to be looked at.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Swapped {
    /// The formula as it would be.
    pub formula: Formula,
    /// Lines that changed.
    pub changes: Vec<LineChange>,
    /// Key figures before.
    pub before: Figures,
    /// Key figures after.
    pub after: Figures,
    /// What to know.
    pub notes: Vec<String>,
}
