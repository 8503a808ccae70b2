//! Household measures: which cup is meant, and grams said in cups and spoons.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::pantry::{Group, Ingredient};
use crate::range::Range;
use crate::units::Grams;

choice! {
    /// Which cup is meant.
    #[derive(Default)]
    Cup {
        /// 236.6 ml.
        #[default]
        Us = "us", "US, 236.6 ml";
        /// 250 ml.
        Metric = "metric", "metric, 250 ml";
        /// 284 ml.
        Imperial = "imperial", "imperial, 284 ml";
    }
}

choice! {
    /// Which tablespoon is meant.
    #[derive(Default)]
    Tablespoon {
        /// 14.8 ml.
        #[default]
        Us = "us", "US, 14.8 ml";
        /// 15 ml.
        Metric = "metric", "metric, 15 ml";
        /// 20 ml.
        Australian = "australian", "Australian, 20 ml";
    }
}

/// The measures that are meant.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(default)]
pub struct Measures {
    /// Which cup.
    pub cup: Cup,
    /// Which tablespoon.
    pub tablespoon: Tablespoon,
    /// What a cup of white flour weighs as it is filled in this house, 80 to 220 g; as is usual when left out.
    #[serde(skip_serializing_if = "Option::is_none")]
    #[schemars(transform = FLOUR_CUP.limit())]
    pub flour_cup: Option<Grams>,
}

/// What one's own cup of white flour weighs.
pub const FLOUR_CUP: Range = Range::of("A cup of flour", 80.0, 220.0, "g");

/// What a US cup of white flour weighs where nothing else is said, g (as in the catalogue).
const USUAL_FLOUR_CUP: f64 = 125.0;

/// How far cups of one's own are apart, per cent (common practice, no source).
const OWN_SPREAD: f64 = 5.0;

/// A US cup, ml.
pub const US_CUP: f64 = 236.588_236_5;
/// A US tablespoon, ml.
pub const US_TABLESPOON: f64 = US_CUP / 16.0;
/// A US teaspoon, ml.
pub const TEASPOON: f64 = US_CUP / 48.0;
/// A US fluid ounce, ml.
pub const FLUID_OUNCE: f64 = US_CUP / 8.0;

impl Measures {
    /// A cup in ml.
    pub fn cup(self) -> f64 {
        match self.cup {
            Cup::Us => US_CUP,
            Cup::Metric => 250.0,
            Cup::Imperial => 284.130_625,
        }
    }

    /// How much more flour a cup holds than is usual, as it is filled in this house, with the spread in per cent; for
    /// flour alone.
    pub fn own_cup(self, ingredient: &Ingredient) -> Option<(f64, f64)> {
        let own = self.flour_cup.filter(|_| ingredient.group == Group::Flour)?;
        Some((own.0 / (USUAL_FLOUR_CUP * self.cup() / US_CUP), OWN_SPREAD))
    }

    /// A tablespoon in ml.
    pub fn tablespoon(self) -> f64 {
        match self.tablespoon {
            Tablespoon::Us => US_TABLESPOON,
            Tablespoon::Metric => 15.0,
            Tablespoon::Australian => 20.0,
        }
    }
}

/// Grams of a ml of an ingredient with the spread in per cent: by its spoons or by its cup, as
/// the measure asks for. `None` where the catalogue has no volume of it.
pub fn density(ingredient: &Ingredient, by_spoon: bool) -> Option<(f64, f64)> {
    let named = |name: &str, ml: f64| {
        ingredient.measures.iter().find(|m| m.name == name).map(|m| (m.grams / ml, m.spread))
    };
    let (cup, tbsp, tsp) = (named("cup", US_CUP), named("tbsp", US_TABLESPOON), named("tsp", TEASPOON));
    if by_spoon { tsp.or(tbsp).or(cup) } else { cup.or(tbsp).or(tsp) }
}

/// A mass in household measures, as one would fill them: `2 ¼ cups`, `1 ½ tsp`, `3 large`.
/// `None` where the catalogue has no measure of it, or it is too little for a spoon.
///
/// ```
/// use cerealis_core::pantry::Catalogue;
/// use cerealis_core::pantry::{Measures, household};
/// use cerealis_core::units::Grams;
/// let c = Catalogue::bundled();
/// let said = |key: &str, g: f64| household(c.get(key).unwrap(), Grams(g), Measures::default());
/// assert_eq!(said("plain-flour", 500.0).unwrap(), "4 cups");
/// assert_eq!(said("instant-yeast", 0.8).unwrap(), "¼ tsp");
/// assert_eq!(said("egg", 100.0).unwrap(), "2 large");
/// ```
pub fn household(ingredient: &Ingredient, grams: Grams, measures: Measures) -> Option<String> {
    if ingredient.group == Group::Egg
        && let Some(large) = ingredient.measures.iter().find(|m| m.name == "large")
    {
        let eggs = (grams.0 / large.grams * 4.0).round() / 4.0;
        return (eggs > 0.0).then(|| format!("{} large", parts(eggs)));
    }
    let spoon = density(ingredient, true)?;
    let cup = density(ingredient, false)?;
    let own = measures.own_cup(ingredient).map_or(1.0, |(more, _)| more);
    let cups = grams.0 / (cup.0 * own * measures.cup());
    if cups >= 0.24 {
        // Quarters and thirds of a cup, whichever is nearer.
        let (quarters, thirds) = ((cups * 4.0).round() / 4.0, (cups * 3.0).round() / 3.0);
        let near = if (quarters - cups).abs() <= (thirds - cups).abs() { quarters } else { thirds };
        return Some(format!("{} {}", parts(near), if near > 1.0 { "cups" } else { "cup" }));
    }
    let tablespoons = grams.0 / (spoon.0 * measures.tablespoon());
    if tablespoons >= 0.95 {
        return Some(format!("{} tbsp", parts((tablespoons * 2.0).round() / 2.0)));
    }
    let teaspoons = grams.0 / (spoon.0 * TEASPOON);
    let step = if teaspoons < 0.3 { 16.0 } else { 8.0 };
    let near = (teaspoons * step).round() / step;
    (near > 0.0).then(|| format!("{} tsp", parts(near)))
}

/// A figure with its part as a fraction: `2 ¼`, `⅔`, `1/16`.
fn parts(x: f64) -> String {
    const PARTS: [(f64, &str); 13] = [
        (0.0, ""),
        (1.0 / 16.0, "1/16"),
        (0.125, "⅛"),
        (3.0 / 16.0, "3/16"),
        (0.25, "¼"),
        (1.0 / 3.0, "⅓"),
        (0.375, "⅜"),
        (0.5, "½"),
        (0.625, "⅝"),
        (2.0 / 3.0, "⅔"),
        (0.75, "¾"),
        (0.875, "⅞"),
        (1.0, ""),
    ];
    let nearest = PARTS
        .iter()
        .min_by(|a, b| (x.fract() - a.0).abs().total_cmp(&(x.fract() - b.0).abs()))
        .map_or((0.0, ""), |p| *p);
    let whole = x.floor() + if nearest.0 == 1.0 { 1.0 } else { 0.0 };
    match (whole, nearest.1) {
        (w, "") => format!("{w:.0}"),
        (0.0, part) => part.to_owned(),
        (w, part) => format!("{w:.0} {part}"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::pantry::Catalogue;
    use proptest::prelude::*;
    use rstest::rstest;

    #[rstest]
    #[case("salt", 10.0, "1 ⅝ tsp")]
    #[case("water", 325.0, "1 ⅓ cups")]
    #[case("butter", 28.0, "2 tbsp")]
    #[case("instant-yeast", 0.2, "1/16 tsp")]
    #[case("egg-yolk", 34.0, "2 large")]
    #[case("honey", 85.0, "¼ cup")]
    fn said_as_one_would_fill_it(#[case] key: &str, #[case] grams: f64, #[case] said: &str) {
        let i = Catalogue::bundled().get(key).unwrap();
        assert_eq!(household(i, Grams(grams), Measures::default()).as_deref(), Some(said));
    }

    #[test]
    fn what_has_no_measure_has_none() {
        let i = Catalogue::bundled().get("lye").unwrap();
        assert_eq!(household(i, Grams(20.0), Measures::default()), None);
        let yeast = Catalogue::bundled().get("instant-yeast").unwrap();
        assert_eq!(household(yeast, Grams(0.01), Measures::default()), None);
    }

    proptest! {
        /// What is said never strays further than a spoon's smallest mark.
        #[test]
        fn fractions_stay_near(x in 0.0..40.0f64) {
            let eighth = (x * 8.0).round() / 8.0;
            let text = parts(eighth);
            let back: f64 = text.split(' ').map(|w| match w {
                "⅛" => 0.125, "¼" => 0.25, "⅜" => 0.375, "½" => 0.5, "⅝" => 0.625, "¾" => 0.75, "⅞" => 0.875,
                n => n.parse().unwrap(),
            }).sum();
            prop_assert!((back - eighth).abs() < 1e-9, "{x} {text}");
        }
    }
}
