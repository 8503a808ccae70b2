//! Ingredients: what is in the cupboard, and what it is made of.
//!
//! The catalogue is the plain file `data/catalogue.csv`, which a baker can read and correct.
//! Compositions are per 100 g; each entry names its source. `SR`: after USDA SR Legacy (recalled,
//! not read from the source), checked against the Indian Food Composition Tables 2017 in
//! `tests/composition.rs`. `practice`: common practice and usual labels, no source. The water
//! absorption of flours is common practice throughout. A household adds its own ([`Cupboard`]).

use std::collections::HashMap;
use std::sync::OnceLock;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::cupboard::{Cupboard, OwnIngredient};
use crate::fault::Fault;
use crate::units::Grams;

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

    /// For yeast: how much instant yeast does the work of 1 g of it. Fresh : active dry : instant
    /// = 1 : 0.4 : 0.33 by weight (common practice, no source).
    pub fn instant_yeast(&self) -> f64 {
        match self.kin() {
            "instant-yeast" => 1.0,
            "active-dry-yeast" => 0.33 / 0.4,
            "fresh-yeast" => 0.33,
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

/// Every ingredient the kitchen knows.
#[derive(Clone, Debug)]
pub struct Catalogue {
    entries: Vec<Ingredient>,
    by_key: HashMap<String, usize>,
    by_name: HashMap<String, usize>,
}

#[derive(Deserialize)]
struct Row {
    key: String,
    name: String,
    group: Group,
    flour: f64,
    hold: Option<f64>,
    pace: Option<f64>,
    absorption: Option<f64>,
    kept: Kept,
    water: f64,
    protein: f64,
    fat: f64,
    carb: f64,
    sugars: f64,
    fibre: f64,
    ash: f64,
    salt: f64,
    allergens: String,
    measures: String,
    aliases: String,
    source: String,
}

impl Catalogue {
    /// The catalogue that ships with the program.
    pub fn bundled() -> &'static Catalogue {
        static BUNDLED: OnceLock<Catalogue> = OnceLock::new();
        BUNDLED.get_or_init(|| {
            Catalogue::parse(include_str!("../../../data/catalogue.csv"))
                .expect("the bundled catalogue is checked by a test")
        })
    }

    /// Reads a catalogue from CSV text. A fault names the line.
    pub fn parse(text: &str) -> Result<Catalogue, Fault> {
        let mut entries = Vec::new();
        for (i, row) in csv::Reader::from_reader(text.as_bytes()).deserialize().enumerate() {
            let line = i + 2;
            let row: Row = row.map_err(|e| Fault::new("malformed", format!("line {line}"), e.to_string()))?;
            entries.push(row.into_ingredient(line)?);
        }
        Ok(Catalogue::of(entries))
    }

    /// The catalogue with a household's own ingredients after the others. One whose model is not
    /// in the catalogue is passed over: [`Cupboard::check`] tells.
    pub fn with(&self, cupboard: &Cupboard) -> Catalogue {
        let own = cupboard.own.iter().filter_map(|o: &OwnIngredient| Some(o.resolve(self.get(&o.like)?)));
        Catalogue::of(self.entries.iter().cloned().chain(own).collect())
    }

    fn of(entries: Vec<Ingredient>) -> Catalogue {
        let by_key = entries.iter().enumerate().map(|(i, e)| (e.key.clone(), i)).collect();
        let mut by_name = HashMap::new();
        for (i, e) in entries.iter().enumerate() {
            for name in e.aliases.iter().chain([&e.name, &e.key]) {
                by_name.insert(name.to_lowercase(), i);
            }
        }
        Catalogue { entries, by_key, by_name }
    }

    /// The ingredient of this key.
    pub fn get(&self, key: &str) -> Option<&Ingredient> {
        self.by_key.get(key).map(|&i| &self.entries[i])
    }

    /// The ingredient that goes by this name, alias or key, whatever its case.
    pub fn named(&self, name: &str) -> Option<&Ingredient> {
        self.by_name.get(&name.trim().to_lowercase()).map(|&i| &self.entries[i])
    }

    /// All entries but those out of sight, in the order of the file.
    pub fn at_hand(&self) -> impl Iterator<Item = &Ingredient> {
        self.entries.iter().filter(|e| !e.put_away)
    }

    /// All entries, in the order of the file.
    pub fn iter(&self) -> impl Iterator<Item = &Ingredient> {
        self.entries.iter()
    }
}

impl Row {
    fn into_ingredient(self, line: usize) -> Result<Ingredient, Fault> {
        let measures = list(&self.measures)
            .map(|m| {
                measure(m)
                    .ok_or_else(|| malformed(line, &format!("the measure “{m}” is not NAME=GRAMS~SPREAD")))
            })
            .collect::<Result<_, _>>()?;
        Ok(Ingredient {
            per_100g: Composition {
                water: self.water,
                protein: self.protein,
                fat: self.fat,
                carb: self.carb,
                sugars: self.sugars,
                fibre: self.fibre,
                ash: self.ash,
                salt: self.salt,
            },
            allergens: list(&self.allergens).map(str::to_owned).collect(),
            aliases: list(&self.aliases).map(str::to_owned).collect(),
            measures,
            key: self.key,
            name: self.name,
            group: self.group,
            flour: self.flour,
            hold: self.hold,
            pace: self.pace,
            absorption: self.absorption,
            kept: self.kept,
            source: self.source,
            like: None,
            put_away: false,
        })
    }
}

fn list(text: &str) -> impl Iterator<Item = &str> {
    text.split('|').map(str::trim).filter(|s| !s.is_empty())
}

fn measure(text: &str) -> Option<Measure> {
    let (name, figures) = text.split_once('=')?;
    let (grams, spread) = figures.split_once('~')?;
    Some(Measure { name: name.into(), grams: grams.parse().ok()?, spread: spread.parse().ok()? })
}

fn malformed(line: usize, message: &str) -> Fault {
    Fault::new("malformed", format!("line {line}"), message)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_bundled_catalogue_reads_and_is_large_enough() {
        let n = Catalogue::parse(include_str!("../../../data/catalogue.csv")).unwrap().entries.len();
        assert!(n >= 160, "{n}");
    }

    #[test]
    fn every_composition_is_whole() {
        for e in Catalogue::bundled().iter() {
            let c = e.per_100g;
            let sum = c.water + c.protein + c.fat + c.carb + c.fibre + c.ash;
            assert!((95.0..=102.5).contains(&sum), "{}: {sum}", e.name);
            assert!(c.sugars <= c.carb + 0.1, "{}", e.name);
            assert!(c.salt <= c.ash + 0.1, "{}", e.name);
            assert!(e.allergens.iter().all(|a| ALLERGENS.contains(&a.as_str())), "{}", e.name);
            assert!(matches!(e.source.as_str(), "SR" | "practice"), "{}", e.name);
        }
    }

    #[test]
    fn names_and_keys_are_given_once() {
        let c = Catalogue::bundled();
        assert_eq!(c.by_key.len(), c.entries.len());
        // A key that reads as its own name ("salt", "Fine salt") may repeat within one entry only.
        for (name, &i) in &c.by_name {
            let owners = c.entries.iter().enumerate().filter(|(_, e)| {
                e.aliases.iter().chain([&e.name, &e.key]).any(|n| &n.to_lowercase() == name)
            });
            for (j, _) in owners {
                assert_eq!(i, j, "“{name}” names two entries");
            }
        }
    }

    #[test]
    fn flours_say_what_they_hold() {
        for e in Catalogue::bundled().iter() {
            assert_eq!(e.group == Group::Flour, e.hold.is_some(), "{}", e.name);
            assert_eq!(e.hold.is_some(), e.pace.is_some(), "{}", e.name);
            assert_eq!(e.hold.is_some(), e.absorption.is_some(), "{}", e.name);
        }
    }

    #[test]
    fn a_broken_row_is_refused_with_its_line() {
        let head = include_str!("../../../data/catalogue.csv").lines().next().unwrap();
        let bad = format!("{head}\nx,X,flour,1,3,1,60,pantry,12,10,1,73,0,3,1,0,,cup:125,,SR\n");
        let fault = Catalogue::parse(&bad).unwrap_err();
        assert_eq!(fault.path, "line 2");
        assert!(fault.message.contains("cup:125"));
    }
}
