//! What a formula amounts to.

use std::collections::{BTreeMap, BTreeSet};

use schemars::JsonSchema;
use serde::Serialize;

use super::{Formula, Line};
use crate::pantry::{Catalogue, Composition, Group, Ingredient};
use crate::units::{Grams, Percent};
use crate::words::{Counting, Stage};

/// The key figures of a formula. Percentages are of the total flour.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Figures {
    /// All flour, in whatever stage, culture included.
    pub flour: Grams,
    /// Everything that is in the dough.
    pub dough: Grams,
    /// Plain water, the water of a culture included.
    pub hydration: Percent,
    /// The water in everything but the flour itself.
    pub effective_hydration: Percent,
    /// Salt, that of butter and cheese included.
    pub salt: Percent,
    /// Sugars of all ingredients that are not flour.
    pub sugar: Percent,
    /// Fat of all ingredients that are not flour.
    pub fat: Percent,
    /// Baker's yeast, as instant yeast.
    pub instant_yeast: Percent,
    /// Flour that ferments ahead, in a preferment or a culture.
    pub prefermented: Percent,
    /// Flour fermented by a culture that is ripe when it meets the dough.
    pub inoculation: Percent,
    /// Whole-grain and rye flour.
    pub whole_grain: Percent,
    /// Rye flour.
    pub rye: Percent,
    /// Flour that has gluten.
    pub gluten_flour: Percent,
    /// What the dough is made of, in grams.
    pub composition: Composition,
    /// Sugars that yeast can use and that are not the flour's own, per cent of flour.
    pub fermentable_sugar: Percent,
    /// Salt (×2) and sugars in osmol per kg of the dough's water.
    pub osmolality: f64,
    /// How many times its volume the dough can hold.
    pub hold: f64,
    /// How fast the flours ferment against white wheat.
    pub pace: f64,
    /// Whether egg is in the dough.
    pub egg: bool,
    /// Whether milk, cream or cheese is in the dough.
    pub dairy: bool,
    /// All allergens, wash and topping included, in alphabetical order.
    pub allergens: Vec<String>,
}

/// All flour of a formula; 0 when there is none.
pub fn flour(formula: &Formula, catalogue: &Catalogue) -> Grams {
    known(formula, catalogue).filter(|(l, _)| l.stage.in_dough()).map(|(l, i)| l.grams * i.flour).sum()
}

/// The flour that percentages are counted against, by the school: all of it, or that of the final
/// dough, without what a culture or a preferment brings.
pub fn counted_flour(formula: &Formula, catalogue: &Catalogue, counting: Counting) -> Grams {
    let beside = |l: &Line, i: &Ingredient| l.stage.is_preferment() || i.group == Group::Culture;
    match counting {
        Counting::AllFlour => flour(formula, catalogue),
        Counting::FinalFlour => known(formula, catalogue)
            .filter(|(l, i)| l.stage.in_dough() && !beside(l, i))
            .map(|(l, i)| l.grams * i.flour)
            .sum(),
    }
}

/// Lines with their ingredients; unknown keys are passed over (they are faults of their own).
pub fn known<'a>(
    formula: &'a Formula,
    catalogue: &'a Catalogue,
) -> impl Iterator<Item = (&'a Line, &'a Ingredient)> {
    formula.lines.iter().filter_map(|l| catalogue.get(&l.ingredient).map(|i| (l, i)))
}

/// Works out the key figures. The formula should have passed [`Formula::check`]; without flour
/// all percentages are 0.
///
/// ```
/// use cerealis_core::formula::{Formula, figures};
/// use cerealis_core::pantry::Catalogue;
/// use cerealis_core::words::Style;
/// let loaf = Formula::beginning("Weir loaf", Style::Tin);
/// let k = figures(&loaf, Catalogue::bundled());
/// assert!(k.dough > k.flour && (55.0..75.0).contains(&k.hydration.0));
/// ```
pub fn figures(formula: &Formula, catalogue: &Catalogue) -> Figures {
    let flour = flour(formula, catalogue);
    let mut sums = Sums::default();
    for (line, ingredient) in known(formula, catalogue) {
        sums.add(line, ingredient);
    }
    let pct = |g: f64| Grams(g).percent_of(flour);
    // Shares mix as resistances do: half whole wheat (2.3) with strong white (3.8) holds 2.8.
    let hold = if sums.hold > 0.0 { 1.0 + sums.flour_lines / sums.hold } else { 1.0 };
    let water_kg = sums.free_water / 1000.0;
    Figures {
        flour,
        dough: Grams(sums.dough),
        hydration: pct(sums.plain_water),
        effective_hydration: pct(sums.free_water),
        salt: pct(sums.composition.salt),
        sugar: pct(sums.sugar),
        fat: pct(sums.fat),
        instant_yeast: pct(sums.yeast),
        prefermented: pct(sums.prefermented),
        inoculation: pct(
            sums.culture_dough + sums.levains.values().filter(|l| l.culture).map(|l| l.flour).sum::<f64>()
        ),
        whole_grain: pct(sums.whole),
        rye: pct(sums.rye),
        gluten_flour: pct(sums.gluten),
        fermentable_sugar: pct(sums.fermentable),
        osmolality: if water_kg > 0.0 { sums.osmol / water_kg } else { 0.0 },
        hold,
        pace: if sums.flour_lines > 0.0 { sums.pace / sums.flour_lines } else { 1.0 },
        egg: sums.egg,
        dairy: sums.dairy,
        allergens: sums.allergens.into_iter().collect(),
        composition: sums.composition,
    }
}

#[derive(Default)]
struct Sums {
    composition: Composition,
    dough: f64,
    plain_water: f64,
    free_water: f64,
    sugar: f64,
    fermentable: f64,
    osmol: f64,
    fat: f64,
    yeast: f64,
    prefermented: f64,
    levains: BTreeMap<Stage, Levain>,
    culture_dough: f64,
    whole: f64,
    rye: f64,
    gluten: f64,
    flour_lines: f64,
    hold: f64,
    pace: f64,
    egg: bool,
    dairy: bool,
    allergens: BTreeSet<String>,
}

/// A preferment: its flour, and whether a culture works in it.
#[derive(Default)]
struct Levain {
    flour: f64,
    culture: bool,
}

/// Water of what is dried, at most, in 100 g.
const DRIED: f64 = 40.0;

/// Whether it is whole dried fruit, which gives little of its sugar to the dough (common practice, no source).
fn keeps_its_sugar(i: &Ingredient) -> bool {
    i.group == Group::Fruit && i.per_100g.water < DRIED
}

/// Osmol per gram. Sodium chloride gives two ions (58.44 g/mol); sucrose is split by the yeast
/// into two hexoses (2 / 342.3), close to hexoses themselves; lactose stays whole.
const OSMOL_SALT: f64 = 2.0 / 58.44;
const OSMOL_SUGAR: f64 = 2.0 / 342.3;
const OSMOL_LACTOSE: f64 = 1.0 / 342.3;

impl Sums {
    fn add(&mut self, line: &Line, ingredient: &Ingredient) {
        self.allergens.extend(ingredient.allergens.iter().cloned());
        if !line.stage.in_dough() {
            return;
        }
        let g = line.grams.0;
        let c = &ingredient.per_100g;
        self.composition.add(line.grams, c);
        self.dough += g;
        let free = g * ingredient.free_water() / 100.0;
        self.free_water += free;
        if ingredient.is_water() || ingredient.group == Group::Culture {
            self.plain_water += free;
        }
        let salt = g * c.salt / 100.0;
        self.osmol += salt * OSMOL_SALT;
        let as_flour = g * ingredient.flour;
        if !matches!(ingredient.group, Group::Flour | Group::Culture) {
            let sugar = g * c.sugars / 100.0;
            self.sugar += sugar;
            self.fat += g * c.fat / 100.0;
            if ingredient.group == Group::Dairy {
                self.osmol += sugar * OSMOL_LACTOSE;
            } else if !(line.stage == Stage::AddIns || keeps_its_sugar(ingredient)) {
                // What goes in in the last minute keeps its sugar to itself, and dried fruit does whenever it goes in.
                self.osmol += sugar * OSMOL_SUGAR;
                self.fermentable += sugar;
            }
        }
        self.yeast += g * ingredient.instant_yeast();
        if line.stage.is_preferment() {
            self.prefermented += as_flour;
            let levain = self.levains.entry(line.stage).or_default();
            levain.flour += as_flour;
            levain.culture |= ingredient.group == Group::Culture;
        } else if ingredient.group == Group::Culture {
            self.prefermented += as_flour;
            self.culture_dough += as_flour;
        }
        if let (Some(hold), Some(pace)) = (ingredient.hold, ingredient.pace) {
            self.flour_lines += as_flour;
            self.hold += as_flour / (hold - 1.0);
            self.pace += as_flour * pace;
            self.rye += if ingredient.is_rye() { as_flour } else { 0.0 };
            self.whole += if ingredient.is_whole_grain() { as_flour } else { 0.0 };
            self.gluten += if ingredient.has_allergen("gluten") { as_flour } else { 0.0 };
        } else if ingredient.group == Group::Culture {
            self.gluten += if ingredient.has_allergen("gluten") { as_flour } else { 0.0 };
            self.rye += if ingredient.is_rye() { as_flour } else { 0.0 };
        }
        self.egg |= ingredient.group == Group::Egg;
        self.dairy |= ingredient.group == Group::Dairy;
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::words::Style;
    use approx::assert_relative_eq;

    fn of(lines: &[(&str, Stage, f64)]) -> Figures {
        let mut f = Formula::beginning("Test", Style::Tin);
        f.lines = lines.iter().map(|&(key, stage, g)| Line::new(key, stage, Grams(g))).collect();
        figures(&f, Catalogue::bundled())
    }

    /// The worked check of the handbook's kind: 1000 g flour at 65 %, a fifth of it prefermented
    /// in an equal-weights levain (common practice, no source).
    #[test]
    fn a_fifth_prefermented() {
        let f = of(&[
            ("bread-flour", Stage::Preferment, 200.0),
            ("water", Stage::Preferment, 200.0),
            ("bread-flour", Stage::Dough, 800.0),
            ("water", Stage::Dough, 450.0),
            ("salt", Stage::Dough, 20.0),
        ]);
        assert_relative_eq!(f.flour.0, 1000.0);
        assert_relative_eq!(f.dough.0, 1670.0);
        assert_relative_eq!(f.hydration.0, 65.0);
        assert_relative_eq!(f.prefermented.0, 20.0);
        assert_relative_eq!(f.salt.0, 2.0, epsilon = 0.01);
    }

    /// A ripe culture as one line gives the same grams of flour and water as its parts.
    #[test]
    fn a_culture_counts_as_its_flour_and_water() {
        let parts = of(&[
            ("bread-flour", Stage::Preferment, 200.0),
            ("water", Stage::Preferment, 200.0),
            ("bread-flour", Stage::Dough, 800.0),
            ("water", Stage::Dough, 450.0),
        ]);
        let whole = of(&[
            ("culture-100", Stage::Dough, 400.0),
            ("bread-flour", Stage::Dough, 800.0),
            ("water", Stage::Dough, 450.0),
        ]);
        assert_relative_eq!(parts.flour.0, whole.flour.0);
        assert_relative_eq!(parts.hydration.0, whole.hydration.0);
        assert_relative_eq!(parts.prefermented.0, whole.prefermented.0);
        assert_relative_eq!(parts.dough.0, whole.dough.0);
    }

    /// How far mixed flours hold their gas: common practice, no source.
    #[test]
    fn mixed_flours_hold_as_practice_says() {
        let half_whole = of(&[
            ("bread-flour", Stage::Dough, 250.0),
            ("whole-wheat-flour", Stage::Dough, 250.0),
            ("water", Stage::Dough, 350.0),
        ]);
        assert_relative_eq!(half_whole.hold, 2.8, epsilon = 0.05);
        let half_rye = of(&[("bread-flour", Stage::Dough, 250.0), ("dark-rye-flour", Stage::Dough, 250.0)]);
        assert_relative_eq!(half_rye.hold, 2.0, epsilon = 0.05);
    }

    #[test]
    fn the_water_in_milk_egg_and_butter_is_effective() {
        let f = of(&[
            ("plain-flour", Stage::Dough, 500.0),
            ("milk", Stage::Dough, 200.0),
            ("egg", Stage::Dough, 50.0),
            ("butter", Stage::LateButter, 100.0),
            ("egg", Stage::Wash, 20.0),
        ]);
        assert_relative_eq!(f.hydration.0, 0.0);
        let water = 200.0 * 0.881 + 50.0 * 0.762 + 100.0 * 0.17;
        assert_relative_eq!(f.effective_hydration.0, water / 5.0, epsilon = 1e-9);
        assert_relative_eq!(f.dough.0, 850.0);
        assert_eq!(f.allergens, ["egg", "gluten", "milk"]);
    }

    /// Reference dough of the yeast model: 2 % salt at 65 % water.
    #[test]
    fn the_reference_osmolality() {
        let f = of(&[
            ("bread-flour", Stage::Dough, 1000.0),
            ("water", Stage::Dough, 650.0),
            ("salt", Stage::Dough, 20.0),
        ]);
        assert_relative_eq!(f.osmolality, crate::rise::OSM_REF, epsilon = 0.01);
    }
}
