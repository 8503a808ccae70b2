//! An ingredient: what it is made of, how it behaves in a dough, and how people measure it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::units::Grams;
use crate::words::{ACTIVE_DRY_AS_INSTANT, FRESH_AS_INSTANT};

/// What 100 g of something are made of, in grams.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Composition {
    /// Water.
    pub water: f64,
    /// Protein.
    pub protein: f64,
    /// Fat.
    pub fat: f64,
    /// Starch and sugars, without fibre.
    pub carb: f64,
    /// Sugars, already counted in `carb`.
    pub sugars: f64,
    /// Fibre.
    pub fibre: f64,
    /// Ash, salt included.
    pub ash: f64,
    /// Sodium chloride, already counted in `ash`.
    pub salt: f64,
}

impl Composition {
    /// Adds `mass` grams of something of composition `other` to absolute masses in grams.
    pub fn add(&mut self, mass: Grams, other: &Composition) {
        let k = mass.0 / 100.0;
        self.water += k * other.water;
        self.protein += k * other.protein;
        self.fat += k * other.fat;
        self.carb += k * other.carb;
        self.sugars += k * other.sugars;
        self.fibre += k * other.fibre;
        self.ash += k * other.ash;
        self.salt += k * other.salt;
    }
}

/// The shelf an ingredient belongs to; it decides how the engines treat it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Group {
    /// Counts as flour: 100 % of the formula together.
    Flour,
    /// Water and other pourable things.
    Liquid,
    /// Milk and what is made of it; its sugar is lactose, which yeast cannot use.
    Dairy,
    /// Eggs and their parts.
    Egg,
    /// Fats and oils.
    Fat,
    /// Sugars and syrups.
    Sugar,
    /// Salts.
    Salt,
    /// Baker's yeast in its forms.
    Yeast,
    /// A ripe sourdough culture: part flour, part water.
    Culture,
    /// Seeds and grains.
    Seed,
    /// Nuts.
    Nut,
    /// Fruit.
    Fruit,
    /// Spices.
    Spice,
    /// Anything else.
    Other,
}

/// Where an ingredient is kept, and so how warm it is when it meets the dough.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Kept {
    /// In a cupboard at room temperature.
    Pantry,
    /// In the fridge.
    Fridge,
    /// From the tap.
    Tap,
    /// Standing in the room.
    Room,
}

/// A household measure: its name, what it weighs, and how far that is to be trusted.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Measure {
    /// `cup` (US, 236.6 ml), `tbsp`, `tsp`, `large`, `packet`, `cube`, `stick`.
    pub name: String,
    /// The level measure in grams.
    pub grams: f64,
    /// Spread in per cent, either way.
    pub spread: f64,
}

/// One ingredient of the catalogue.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Ingredient {
    /// Its unchanging key, such as `bread-flour`.
    pub key: String,
    /// Its name as shown.
    pub name: String,
    /// Its shelf.
    pub group: Group,
    /// The part of it that counts as flour, 0 to 1: a flour 1, an equal-weights culture 0.5.
    pub flour: f64,
    /// For flours: how many times its own volume a dough of it can hold before it gives way.
    pub hold: Option<f64>,
    /// For flours: how fast it ferments against white wheat flour.
    pub pace: Option<f64>,
    /// For flours: water it takes up to an ordinary dough, per cent of its mass.
    pub absorption: Option<f64>,
    /// Where it is kept.
    pub kept: Kept,
    /// What 100 g are made of.
    pub per_100g: Composition,
    /// Allergens, of [`ALLERGENS`].
    pub allergens: Vec<String>,
    /// Household measures.
    pub measures: Vec<Measure>,
    /// Other names it goes by.
    pub aliases: Vec<String>,
    /// Where its figures come from: `SR`, `practice`, or `own`.
    pub source: String,
    /// For an own ingredient: the key of the one that it is like.
    pub like: Option<String>,
    /// Whether it is out of sight: what uses it still reads, nothing new should.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub put_away: bool,
}

/// The allergens that are named.
pub const ALLERGENS: [&str; 8] = ["gluten", "egg", "milk", "sesame", "nuts", "peanut", "soy", "lupin"];

impl Group {
    /// Every shelf with its name as shown.
    pub const ALL: [(Group, &'static str); 14] = [
        (Group::Flour, "Flours and starches"),
        (Group::Liquid, "Liquids"),
        (Group::Dairy, "Milk and cheese"),
        (Group::Egg, "Eggs"),
        (Group::Fat, "Fats"),
        (Group::Sugar, "Sugars, syrups and malt"),
        (Group::Salt, "Salts"),
        (Group::Yeast, "Yeasts"),
        (Group::Culture, "Cultures"),
        (Group::Seed, "Seeds and grains"),
        (Group::Nut, "Nuts"),
        (Group::Fruit, "Fruit"),
        (Group::Spice, "Spices"),
        (Group::Other, "Everything else"),
    ];
}

impl Ingredient {
    /// The key of what it is treated as: its own, or that of the ingredient it is like.
    pub fn kin(&self) -> &str {
        self.like.as_deref().unwrap_or(&self.key)
    }

    /// Whether it is plain water.
    pub fn is_water(&self) -> bool {
        self.kin() == "water"
    }

    /// The water that 100 g of it bring to the dough, in grams: everything but the moisture that
    /// the flour in it carried already.
    pub fn free_water(&self) -> f64 {
        match self.group {
            Group::Flour => 0.0,
            Group::Culture => 100.0 * (1.0 - self.flour),
            _ => self.per_100g.water,
        }
    }

    /// For yeast: how much instant yeast does the work of 1 g of it.
    pub fn instant_yeast(&self) -> f64 {
        match self.kin() {
            "instant-yeast" => 1.0,
            "active-dry-yeast" => ACTIVE_DRY_AS_INSTANT,
            "fresh-yeast" => FRESH_AS_INSTANT,
            _ => 0.0,
        }
    }

    /// Whether it is a wheat-like flour that counts as whole grain, or rye.
    pub fn is_whole_grain(&self) -> bool {
        self.group == Group::Flour && (self.is_rye() || self.kin().starts_with("whole"))
    }

    /// Whether it is rye flour, or a culture fed with it.
    pub fn is_rye(&self) -> bool {
        self.kin().contains("rye")
    }

    /// Whether it carries this allergen.
    pub fn has_allergen(&self, allergen: &str) -> bool {
        self.allergens.iter().any(|a| a == allergen)
    }
}
