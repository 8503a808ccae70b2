//! The cupboard: a household's own ingredients, and what things cost there.
//!
//! An own ingredient is described as the baker knows it: “like that one of the catalogue, but with
//! so much protein”. What is not said is taken from its model.

use std::collections::BTreeMap;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::fault::{Check, Fault, Faults};
use crate::formula::Formula;
use crate::ingredient::{ALLERGENS, Catalogue, Composition, Ingredient, Measure};

/// The most own ingredients of a household.
pub const OWN_MAX: usize = 300;

/// One household's cupboard.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(default)]
pub struct Cupboard {
    /// Ingredients that the catalogue has not.
    pub own: Vec<OwnIngredient>,
    /// Price of a kilogram by ingredient key, 0 to 10 000 of whatever the household pays in.
    pub prices: BTreeMap<String, f64>,
}

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
const NAME_MAX: usize = 60;

/// Whether a name is this one, with or without a number behind it.
fn is_named(name: &str, this: &str) -> bool {
    let number = name.rsplit_once(" (").and_then(|(stem, n)| Some((stem, n.strip_suffix(')')?)));
    name == this
        || number.is_some_and(|(stem, n)| {
            n.chars().all(|c| c.is_ascii_digit()) && !stem.is_empty() && this.starts_with(stem)
        })
}

/// Whether a key can stand in an address: small letters, figures and hyphens.
fn is_plain(key: &str) -> bool {
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

    fn check(&self, at: &str, catalogue: &Catalogue, c: &mut Check) {
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

impl Cupboard {
    /// Checks every own ingredient and price against the bundled catalogue.
    ///
    /// # Errors
    /// Each fault by its field: `own.2.name`, `prices.butter`.
    pub fn check(&self, catalogue: &Catalogue) -> Result<(), Faults> {
        let mut c = Check::new();
        if self.own.len() > OWN_MAX {
            c.note(Fault::new("out-of-range", "own", format!("At most {OWN_MAX} own ingredients.")));
        }
        for (i, own) in self.own.iter().enumerate() {
            own.check(&format!("own.{i}."), catalogue, &mut c);
            let before = &self.own[..i];
            if before.iter().any(|o| o.name.to_lowercase() == own.name.to_lowercase() || o.key == own.key) {
                let text = format!("“{}” is there twice. Names differ.", own.name);
                c.note(Fault::new("impossible", format!("own.{i}.name"), text));
            }
            if !own.key.starts_with("own-") {
                c.note(Fault::new("malformed", format!("own.{i}.key"), "A key begins with own-."));
            }
        }
        for (key, price) in &self.prices {
            c.range(&format!("prices.{key}"), "A price", *price, 0.0, 10_000.0, "a kilogram");
        }
        c.done(())
    }

    /// The own ingredients that these formulas use.
    pub fn used_by(&self, formulas: &[Formula]) -> Vec<OwnIngredient> {
        let used =
            |o: &&OwnIngredient| formulas.iter().any(|f| f.lines.iter().any(|l| l.ingredient == o.key));
        self.own.iter().filter(used).cloned().collect()
    }

    /// Takes in own ingredients that came with formulas. One that is here already is not taken
    /// twice; one whose key or name is taken by another, or whose key no page could address, gets a
    /// new one, and the formulas follow, each line by the key that it came with.
    ///
    /// # Errors
    /// More than [`OWN_MAX`] ingredients, or one that does not check.
    pub fn take_in(
        &mut self,
        own: &[OwnIngredient],
        formulas: &mut [Formula],
        catalogue: &Catalogue,
    ) -> Result<(), Faults> {
        let mut renamed: BTreeMap<&str, String> = BTreeMap::new();
        let here = self.own.len();
        for new in own {
            // Out of sight or not, and under the number it was given when it came first, it is the same.
            let alike = |o: &&mut OwnIngredient| {
                let (key, name) = (new.key.clone(), new.name.clone());
                is_named(&o.name, &new.name)
                    && OwnIngredient { key, name, put_away: new.put_away, ..(**o).clone() } == *new
            };
            let key = match self.own[..here].iter_mut().find(alike) {
                Some(found) => {
                    found.put_away &= new.put_away;
                    found.key.clone()
                }
                None => {
                    let name = self.free_name(&new.name);
                    let free = is_plain(&new.key) && !self.own.iter().any(|o| o.key == new.key);
                    let key = if free { new.key.clone() } else { self.fresh_key(&name) };
                    self.own.push(OwnIngredient { key: key.clone(), name, ..new.clone() });
                    key
                }
            };
            renamed.insert(&new.key, key);
        }
        for line in formulas.iter_mut().flat_map(|f| f.lines.iter_mut()) {
            if let Some(key) = renamed.get(line.ingredient.as_str()) {
                line.ingredient.clone_from(key);
            }
        }
        self.check(catalogue)
    }

    /// The name, or the first with a number behind it that is not taken, no longer than names are.
    fn free_name(&self, name: &str) -> String {
        let taken = |name: &str| self.own.iter().any(|o| o.name.to_lowercase() == name.to_lowercase());
        let numbered = |n: usize| {
            let end = format!(" ({n})");
            name.chars().take(NAME_MAX - end.len()).chain(end.chars()).collect::<String>()
        };
        let all = std::iter::once(name.to_owned()).chain((2..).map(numbered));
        all.take(OWN_MAX + 2).find(|n| !taken(n)).unwrap_or_else(|| name.to_owned())
    }

    /// A key for a new ingredient of this name, unlike all others here.
    pub fn fresh_key(&self, name: &str) -> String {
        let plain: String =
            name.to_lowercase().chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '-' }).collect();
        let words: Vec<&str> = plain.split('-').filter(|w| !w.is_empty()).collect();
        let stem = format!("own-{}", if words.is_empty() { "thing".into() } else { words.join("-") });
        let taken = |key: &str| self.own.iter().any(|o| o.key == key);
        if !taken(&stem) {
            return stem;
        }
        (2..).map(|n| format!("{stem}-{n}")).find(|k| !taken(k)).unwrap_or(stem)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn strong() -> OwnIngredient {
        OwnIngredient {
            key: "own-mill-flour".into(),
            name: "Mill flour".into(),
            like: "bread-flour".into(),
            protein: Some(13.5),
            ash: Some(0.7),
            absorption: Some(66.0),
            ..OwnIngredient::default()
        }
    }

    #[test]
    fn an_own_flour_is_its_model_but_for_what_is_said() {
        let cupboard = Cupboard { own: vec![strong()], ..Cupboard::default() };
        let bundled = Catalogue::bundled();
        cupboard.check(bundled).unwrap();
        let all = bundled.with(&cupboard);
        let (own, model) = (all.get("own-mill-flour").unwrap(), all.get("bread-flour").unwrap());
        assert_eq!(all.named("mill flour").unwrap().key, own.key);
        assert_eq!((own.per_100g.protein, own.absorption), (13.5, Some(66.0)));
        assert_eq!(own.per_100g.water, model.per_100g.water);
        assert!(own.hold > model.hold);
        assert_eq!(all.iter().count(), bundled.iter().count() + 1);
    }

    #[test]
    fn faults_name_their_fields() {
        let mut bad = strong();
        bad.name = "Butter".into();
        bad.water = Some(95.0);
        bad.absorption = Some(5.0);
        let twin = OwnIngredient { key: "own-twin".into(), like: "nothing".into(), ..bad.clone() };
        let cupboard = Cupboard { own: vec![bad, twin], prices: [("salt".into(), -1.0)].into() };
        let paths: Vec<_> =
            cupboard.check(Catalogue::bundled()).unwrap_err().0.into_iter().map(|f| f.path).collect();
        assert_eq!(
            paths,
            [
                "own.0.name",
                "own.0.absorption",
                "own.0.water",
                "own.1.name",
                "own.1.like",
                "own.1.name",
                "prices.salt"
            ]
        );
    }

    #[test]
    fn an_own_flour_is_treated_as_its_model() {
        let own = |like: &str| OwnIngredient { like: like.into(), ..strong() };
        let made = |like: &str| own(like).resolve(Catalogue::bundled().get(like).unwrap());
        assert!(made("whole-wheat-flour").is_whole_grain() && made("dark-rye-flour").is_rye());
        assert!(!made("bread-flour").is_whole_grain());
        assert_eq!(made("fresh-yeast").instant_yeast(), 0.33);
    }

    #[test]
    fn what_comes_with_formulas_is_taken_once_and_never_over_another() {
        let c = Catalogue::bundled();
        let mut here = Cupboard { own: vec![strong()], ..Cupboard::default() };
        let mut f = Formula::beginning("Loaf", crate::words::Style::Tin);
        f.lines[0].ingredient = "own-mill-flour".into();
        let mut formulas = [f];
        here.take_in(&[strong()], &mut formulas, c).unwrap();
        assert_eq!((here.own.len(), formulas[0].lines[0].ingredient.as_str()), (1, "own-mill-flour"));
        let other = OwnIngredient { protein: Some(9.0), ..strong() };
        here.take_in(std::slice::from_ref(&other), &mut formulas, c).unwrap();
        assert_eq!(here.own[1].name, "Mill flour (2)");
        assert_eq!(formulas[0].lines[0].ingredient, here.own[1].key);
        assert_eq!(here.own[0], strong(), "the first is untouched");
        assert_eq!(here.used_by(&formulas), [here.own[1].clone()]);
        let broken = OwnIngredient { key: "own-x".into(), name: "X".into(), like: "no".into(), ..strong() };
        assert!(here.take_in(&[broken], &mut formulas, c).is_err());
    }

    #[test]
    fn keys_are_fresh() {
        let mut cupboard = Cupboard::default();
        assert_eq!(cupboard.fresh_key("Mühle 12 %"), "own-m-hle-12");
        cupboard.own.push(strong());
        assert_eq!(cupboard.fresh_key("Mill flour"), "own-mill-flour-2");
    }

    /// Everything that a line says of its ingredient, but for key and name.
    fn nature(cupboard: &Cupboard, key: &str) -> Option<OwnIngredient> {
        let own = cupboard.own.iter().find(|o| o.key == key)?;
        Some(OwnIngredient { key: String::new(), name: String::new(), put_away: false, ..own.clone() })
    }

    /// A few keys and names that clash with each other and with what they would be renamed to.
    fn clashing() -> impl Strategy<Value = Vec<OwnIngredient>> {
        let keys =
            prop::sample::select(vec!["own-a", "own-a-2", "own-a-3", "own-b", "own-a/b", "own-A b", "own-"]);
        let names = prop::sample::select(vec!["A", "a", "A (2)", "B", "A b"]);
        let one =
            (keys, names, 5..9u8, any::<bool>()).prop_map(|(key, name, protein, put_away)| OwnIngredient {
                key: key.into(),
                name: name.into(),
                like: "bread-flour".into(),
                protein: Some(f64::from(protein)),
                put_away,
                ..OwnIngredient::default()
            });
        prop::collection::vec(one, 0..6).prop_map(|mut all| {
            let mut keys = std::collections::BTreeSet::new();
            let mut names = std::collections::BTreeSet::new();
            all.retain(|o| keys.insert(o.key.clone()) && names.insert(o.name.to_lowercase()));
            all
        })
    }

    proptest! {
        /// Whatever is here and whatever comes: no line ends at another ingredient than it came with,
        /// and none that was here changes.
        #[test]
        fn no_import_turns_one_ingredient_into_another(here in clashing(), comes in clashing()) {
            let c = Catalogue::bundled();
            let mut mine = Cupboard::default();
            mine.take_in(&here, &mut [], c).unwrap();
            let before = mine.clone();
            let file = Cupboard { own: comes.clone(), ..Cupboard::default() };
            let mut f = Formula::beginning("Loaf", crate::words::Style::Tin);
            f.lines = comes
                .iter()
                .map(|o| crate::formula::Line::new(o.key.clone(), crate::words::Stage::Dough, crate::units::Grams(1.0)))
                .collect();
            let mut formulas = [f];
            mine.take_in(&comes, &mut formulas, c).unwrap();
            for (line, came) in formulas[0].lines.iter().zip(&comes) {
                prop_assert_eq!(nature(&mine, &line.ingredient), nature(&file, &came.key));
                prop_assert!(is_plain(&line.ingredient));
            }
            for own in &before.own {
                prop_assert_eq!(nature(&mine, &own.key), nature(&before, &own.key));
            }
            let again = mine.clone();
            mine.take_in(&comes, &mut [], c).unwrap();
            prop_assert_eq!(mine.own.len(), again.own.len(), "taken twice");
        }

        #[test]
        fn what_is_left_out_makes_up_the_rest(protein in 5.0..20.0f64, water in 8.0..16.0f64) {
            let own = OwnIngredient { protein: Some(protein), water: Some(water), ..strong() };
            let model = Catalogue::bundled().get("bread-flour").unwrap();
            let sum = |c: Composition| c.water + c.protein + c.fat + c.carb + c.fibre + c.ash;
            let made = own.resolve(model);
            prop_assert!((sum(made.per_100g) - sum(model.per_100g)).abs() < 1e-9);
            prop_assert!(made.per_100g.carb >= made.per_100g.sugars);
        }
    }
}
