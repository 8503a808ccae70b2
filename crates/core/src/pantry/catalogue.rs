//! The catalogue: every ingredient that ships with the program.
//!
//! It is the plain file `data/catalogue.csv`, which a baker can read and correct. Compositions are per
//! 100 g; each entry names its source. `SR`: after USDA SR Legacy (recalled, not read from the source),
//! checked against the Indian Food Composition Tables 2017 in `tests/composition.rs`. `practice`: common
//! practice and usual labels, no source. The water absorption of flours is common practice throughout. A
//! household adds its own ([`OwnIngredient`]).

use std::collections::HashMap;
use std::sync::OnceLock;

use serde::Deserialize;

use super::ingredient::{Composition, Group, Ingredient, Kept, Measure};
use super::own::OwnIngredient;
use crate::fault::Fault;

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
            Catalogue::parse(include_str!("../../../../data/catalogue.csv"))
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
    /// in the catalogue is passed over: [`Cupboard::check`](super::Cupboard::check) tells.
    pub fn with(&self, own: &[OwnIngredient]) -> Catalogue {
        let own = own.iter().filter_map(|o| Some(o.resolve(self.get(&o.like)?)));
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
    use crate::pantry::ALLERGENS;

    #[test]
    fn the_bundled_catalogue_reads_and_is_large_enough() {
        let n = Catalogue::parse(include_str!("../../../../data/catalogue.csv")).unwrap().entries.len();
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
        let head = include_str!("../../../../data/catalogue.csv").lines().next().unwrap();
        let bad = format!("{head}\nx,X,flour,1,3,1,60,pantry,12,10,1,73,0,3,1,0,,cup:125,,SR\n");
        let fault = Catalogue::parse(&bad).unwrap_err();
        assert_eq!(fault.path, "line 2");
        assert!(fault.message.contains("cup:125"));
    }
}
