//! The cupboard: a household's own ingredients, and what things cost there.

use std::collections::{BTreeMap, BTreeSet};

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::catalogue::Catalogue;
use super::own::{NAME_MAX, OwnIngredient, is_named, is_plain};
use crate::fault::{Check, Fault, Faults};

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
    /// How much of it is there, g, by ingredient key, 0 to 1 000 000; not known where it is left out.
    #[serde(skip_serializing_if = "BTreeMap::is_empty")]
    pub stock: BTreeMap<String, f64>,
}

/// The keys under which a household took in what came with other keys.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Renamed(BTreeMap<String, String>);

impl Renamed {
    /// The key that this one has here; itself where it was not taken in.
    pub fn key<'a>(&'a self, came: &'a str) -> &'a str {
        self.0.get(came).map_or(came, String::as_str)
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
        for (key, grams) in &self.stock {
            c.range(&format!("stock.{key}"), "What is there", *grams, 0.0, 1_000_000.0, "g");
        }
        c.done(())
    }

    /// The own ingredients of these keys.
    pub fn used_by<'a>(&self, keys: impl IntoIterator<Item = &'a str>) -> Vec<OwnIngredient> {
        let keys: BTreeSet<&str> = keys.into_iter().collect();
        self.own.iter().filter(|o| keys.contains(o.key.as_str())).cloned().collect()
    }

    /// Takes in own ingredients that came with formulas. One that is here already is not taken
    /// twice; one whose key or name is taken by another, or whose key no page could address, gets a
    /// new one. The answer tells the key that each has here; the formulas follow by it.
    ///
    /// # Errors
    /// More than [`OWN_MAX`] ingredients, or one that does not check.
    pub fn take_in(&mut self, own: &[OwnIngredient], catalogue: &Catalogue) -> Result<Renamed, Faults> {
        let mut renamed = Renamed::default();
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
            renamed.0.insert(new.key.clone(), key);
        }
        self.check(catalogue).map(|()| renamed)
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
    use crate::pantry::Composition;
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
        let all = bundled.with(&cupboard.own);
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
        let cupboard =
            Cupboard { own: vec![bad, twin], prices: [("salt".into(), -1.0)].into(), ..Cupboard::default() };
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
        let as_before = here.take_in(&[strong()], c).unwrap();
        assert_eq!((here.own.len(), as_before.key("own-mill-flour")), (1, "own-mill-flour"));
        let other = OwnIngredient { protein: Some(9.0), ..strong() };
        let renamed = here.take_in(std::slice::from_ref(&other), c).unwrap();
        assert_eq!(here.own[1].name, "Mill flour (2)");
        assert_eq!(renamed.key("own-mill-flour"), here.own[1].key);
        assert_eq!(here.own[0], strong(), "the first is untouched");
        assert_eq!(here.used_by(["butter", renamed.key("own-mill-flour")]), [here.own[1].clone()]);
        let broken = OwnIngredient { key: "own-x".into(), name: "X".into(), like: "no".into(), ..strong() };
        assert!(here.take_in(&[broken], c).is_err());
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
            mine.take_in(&here, c).unwrap();
            let before = mine.clone();
            let file = Cupboard { own: comes.clone(), ..Cupboard::default() };
            let renamed = mine.take_in(&comes, c).unwrap();
            for came in &comes {
                let key = renamed.key(&came.key);
                prop_assert_eq!(nature(&mine, key), nature(&file, &came.key));
                prop_assert!(is_plain(key));
            }
            for own in &before.own {
                prop_assert_eq!(nature(&mine, &own.key), nature(&before, &own.key));
            }
            let again = mine.clone();
            mine.take_in(&comes, c).unwrap();
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
