//! An ingredient of a household's own, described as the baker knows it: “like that one of the catalogue, but
//! with so much protein”. What is not said is taken from its model.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::catalogue::Catalogue;
use super::ingredient::{ALLERGENS, Composition, Ingredient, Measure};
use crate::fault::{Check, Fault};

/// An ingredient of the household's own. Figures are per 100 g; what is left out is as its model.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(default)]
pub struct OwnIngredient {
    /// Its unchanging key; it begins with `own-`.
    pub key: String,
    /// Its name, 1 to 60 characters, unlike every other.
    pub name: String,
    /// Key of the catalogue's ingredient that it is like.
    pub like: String,
    /// Water, g.
    pub water: Option<f64>,
    /// Protein, g.
    pub protein: Option<f64>,
    /// Fat, g.
    pub fat: Option<f64>,
    /// Starch and sugars without fibre, g; what makes up 100 when left out.
    pub carb: Option<f64>,
    /// Sugars, g.
    pub sugars: Option<f64>,
    /// Fibre, g.
    pub fibre: Option<f64>,
    /// Ash, salt included, g.
    pub ash: Option<f64>,
    /// Salt, g.
    pub salt: Option<f64>,
    /// For flours: water it takes up to an ordinary dough, per cent, 30 to 300.
    pub absorption: Option<f64>,
    /// Grams of a level US cup, 20 to 500.
    pub cup: Option<f64>,
    /// Its allergens; those of its model when left out.
    pub allergens: Option<Vec<String>>,
    /// Whether it is out of sight: earlier versions use it still, and nothing new should.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    pub put_away: bool,
}

/// The longest name of an own ingredient, in characters.
pub(super) const NAME_MAX: usize = 60;

/// Whether a name is this one, with or without a number behind it.
pub(super) fn is_named(name: &str, this: &str) -> bool {
    let number = name.rsplit_once(" (").and_then(|(stem, n)| Some((stem, n.strip_suffix(')')?)));
    name == this
        || number.is_some_and(|(stem, n)| {
            n.chars().all(|c| c.is_ascii_digit()) && !stem.is_empty() && this.starts_with(stem)
        })
}

/// Whether a key can stand in an address: small letters, figures and hyphens.
pub(super) fn is_plain(key: &str) -> bool {
    key.strip_prefix("own-").is_some_and(|rest| {
        (1..=80).contains(&rest.len())
            && rest.chars().all(|c| c.is_ascii_lowercase() || c.is_ascii_digit() || c == '-')
    })
}

/// How much further a dough of wheat rises for each per cent of protein in its flour: 3.2 times
/// at 10.3 %, 3.8 at 12 % (common practice, no source).
const HOLD_PER_PROTEIN: f64 = 0.35;

impl OwnIngredient {
    /// The ingredient that it makes with its model.
    pub fn resolve(&self, model: &Ingredient) -> Ingredient {
        let was = model.per_100g;
        let mut c = Composition {
            water: self.water.unwrap_or(was.water),
            protein: self.protein.unwrap_or(was.protein),
            fat: self.fat.unwrap_or(was.fat),
            carb: was.carb,
            sugars: self.sugars.unwrap_or(was.sugars),
            fibre: self.fibre.unwrap_or(was.fibre),
            ash: self.ash.unwrap_or(was.ash),
            salt: self.salt.unwrap_or(was.salt),
        };
        c.ash = c.ash.max(c.salt);
        let moved = (c.water + c.protein + c.fat + c.fibre + c.ash)
            - (was.water + was.protein + was.fat + was.fibre + was.ash);
        c.carb = self.carb.unwrap_or((was.carb - moved).max(0.0));
        c.sugars = c.sugars.min(c.carb);
        let more = if model.has_allergen("gluten") { c.protein - was.protein } else { 0.0 };
        Ingredient {
            key: self.key.clone(),
            name: self.name.clone(),
            hold: model.hold.map(|h| (h + HOLD_PER_PROTEIN * more).clamp(1.2, 4.5)),
            absorption: self.absorption.or(model.absorption),
            per_100g: c,
            allergens: self.allergens.clone().unwrap_or_else(|| model.allergens.clone()),
            measures: self.measures(model),
            aliases: Vec::new(),
            source: "own".into(),
            like: Some(model.key.clone()),
            put_away: self.put_away,
            ..model.clone()
        }
    }

    /// Household measures follow the weight of the cup.
    fn measures(&self, model: &Ingredient) -> Vec<Measure> {
        let Some(cup) = self.cup else { return model.measures.clone() };
        let was = model.measures.iter().find(|m| m.name == "cup").map_or(cup, |m| m.grams);
        let mut measures: Vec<Measure> = model
            .measures
            .iter()
            .map(|m| Measure {
                grams: if matches!(m.name.as_str(), "cup" | "tbsp" | "tsp") {
                    m.grams * cup / was
                } else {
                    m.grams
                },
                ..m.clone()
            })
            .collect();
        if !measures.iter().any(|m| m.name == "cup") {
            measures.push(Measure { name: "cup".into(), grams: cup, spread: 10.0 });
        }
        measures
    }

    pub(super) fn check(&self, at: &str, catalogue: &Catalogue, c: &mut Check) {
        let path = |field: &str| format!("{at}{field}");
        if self.name.trim().is_empty() || self.name.chars().count() > NAME_MAX {
            c.note(Fault::new("missing", path("name"), "Give it a name of 1 to 60 characters."));
        } else if catalogue.named(&self.name).is_some() {
            let text = format!("“{}” is in the catalogue already. Give yours another name.", self.name);
            c.note(Fault::new("unknown", path("name"), text));
        }
        let Some(model) = catalogue.get(&self.like) else {
            let text = "Pick the ingredient of the catalogue that it is most like.";
            c.note(Fault::new("unknown", path("like"), text));
            return;
        };
        let figures = [
            ("water", self.water),
            ("protein", self.protein),
            ("fat", self.fat),
            ("carb", self.carb),
            ("sugars", self.sugars),
            ("fibre", self.fibre),
            ("ash", self.ash),
            ("salt", self.salt),
        ];
        for (field, figure) in figures {
            c.range(&path(field), "A share of 100 g", figure.unwrap_or(0.0), 0.0, 100.0, "g");
        }
        c.range(&path("absorption"), "Water absorption", self.absorption.unwrap_or(60.0), 30.0, 300.0, "%");
        c.range(&path("cup"), "A cup", self.cup.unwrap_or(100.0), 20.0, 500.0, "g");
        for a in self.allergens.iter().flatten() {
            if !ALLERGENS.contains(&a.as_str()) {
                let text = format!("“{a}” is not an allergen on the list: {}.", ALLERGENS.join(", "));
                c.note(Fault::new("unknown", path("allergens"), text));
            }
        }
        let made = self.resolve(model).per_100g;
        let sum = made.water + made.protein + made.fat + made.carb + made.fibre + made.ash;
        if sum > 103.0 {
            let text =
                format!("These add up to {sum:.0} g in 100 g. Check water, protein, fat, fibre and ash.");
            c.note(Fault::new("impossible", path("water"), text));
        }
    }
}
