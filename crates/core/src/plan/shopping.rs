//! What a plan needs of everything, over all its doughs, against what is in the cupboard.

use std::collections::BTreeMap;

use schemars::JsonSchema;
use serde::Serialize;

use super::ways::TakenLane;
use crate::formula::{Formula, Line};
use crate::kitchen::Kitchen;
use crate::pantry::{Catalogue, Cupboard, Group};
use crate::stations::InKitchen;
use crate::units::Grams;

/// One ingredient of the shopping.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Needed {
    /// Its key.
    pub ingredient: String,
    /// Its name.
    pub name: String,
    /// How much all doughs take.
    pub needs: Grams,
    /// How much is there, where that is known.
    pub there: Option<Grams>,
    /// How much is missing: all of it where nothing is known of what is there.
    pub buy: Grams,
    /// What that costs, in what the household pays in, where its price is known.
    pub cost: Option<f64>,
}

/// What all doughs of a plan need, what is missing first; water comes from the tap, and a culture from its jar.
///
/// ```
/// use cerealis_core::formula::Formula;
/// use cerealis_core::pantry::{Catalogue, Cupboard};
/// use cerealis_core::plan::shopping_of;
/// use cerealis_core::words::Style;
/// let loaf = Formula::beginning("Weir loaf", Style::Tin);
/// let mut cupboard = Cupboard::default();
/// cupboard.stock.insert("bread-flour".into(), 300.0);
/// let all = shopping_of([&loaf, &loaf], &cupboard, Catalogue::bundled());
/// let flour = all.iter().find(|n| n.ingredient == "bread-flour").unwrap();
/// assert_eq!(flour.buy.0, flour.needs.0 - 300.0);
/// ```
pub fn shopping_of<'f>(
    formulas: impl IntoIterator<Item = &'f Formula>,
    cupboard: &Cupboard,
    catalogue: &Catalogue,
) -> Vec<Needed> {
    needed_of(formulas.into_iter().flat_map(|f| &f.lines), cupboard, catalogue)
}

fn needed_of<'f>(
    lines: impl IntoIterator<Item = &'f Line>,
    cupboard: &Cupboard,
    catalogue: &Catalogue,
) -> Vec<Needed> {
    let mut sums: BTreeMap<&str, f64> = BTreeMap::new();
    for line in lines {
        *sums.entry(line.ingredient.as_str()).or_default() += line.grams.0;
    }
    let needed = |(key, needs): (&str, f64)| {
        let found = catalogue.get(key);
        let there = cupboard.stock.get(key).copied();
        let buy = (needs - there.unwrap_or(0.0)).max(0.0);
        Needed {
            ingredient: key.to_owned(),
            name: found.map_or_else(|| key.to_owned(), |i| i.name.clone()),
            needs: Grams(needs),
            there: there.map(Grams),
            buy: Grams(buy),
            cost: cupboard.prices.get(key).map(|price| price * buy / 1000.0),
        }
    };
    let at_home = |key: &str| catalogue.get(key).is_some_and(|i| i.is_water() || i.group == Group::Culture);
    let bought = |(key, grams): &(&str, f64)| *grams > 0.0 && !at_home(key);
    let mut all: Vec<Needed> = sums.into_iter().filter(bought).map(needed).collect();
    all.sort_by(|a, b| (b.buy.0 > 0.0).cmp(&(a.buy.0 > 0.0)).then_with(|| b.needs.0.total_cmp(&a.needs.0)));
    all
}

/// The same for the doughs of a plan that is followed, with the flour that their cultures are fed for it.
pub fn shopping(
    lanes: &[TakenLane],
    kitchen: &Kitchen,
    cupboard: &Cupboard,
    catalogue: &Catalogue,
) -> Vec<Needed> {
    let is_fed = |l: &&TakenLane| l.tasks.iter().any(|t| t.id.starts_with("feed."));
    let fed = |l: &TakenLane| InKitchen::new(&l.formula, kitchen, catalogue).flour_fed();
    let fed: Vec<Line> = lanes.iter().filter(is_fed).flat_map(fed).collect();
    needed_of(lanes.iter().flat_map(|l| &l.formula.lines).chain(&fed), cupboard, catalogue)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plan::{Pins, ways};
    use crate::words::{Stage, Style};
    use proptest::prelude::*;

    /// A hearth loaf whose culture comes from the fridge and is fed twice: the flour of both feeds is bought too.
    #[test]
    fn what_a_culture_is_fed_is_needed() {
        let mut loaf = Formula::beginning("A hearth loaf", Style::Hearth);
        loaf.lines.retain(|l| !l.ingredient.contains("yeast"));
        loaf.lines.push(Line::new("culture-100", Stage::Dough, Grams(100.0)));
        let needs = |culture_feeds: u32| {
            let kitchen = Kitchen { culture_feeds, ..Kitchen::default() };
            let now = "2026-11-27T08:00:00Z".parse().unwrap();
            let catalogue = Catalogue::bundled();
            let lane = ways(&loaf, Pins::default(), &kitchen, catalogue, now).remove(0).lane;
            let all = shopping(&[lane], &kitchen, &Cupboard::default(), catalogue);
            all.iter().find(|n| n.ingredient == "bread-flour").unwrap().needs.0
        };
        // 20 g of the culture and 80 g of flour and water for the last feed, 10 g and 40 g for the one before.
        assert!((needs(1) - needs(0) - 40.0).abs() < 1e-6, "{} {}", needs(0), needs(1));
        assert!((needs(2) - needs(0) - 60.0).abs() < 1e-6, "{} {}", needs(0), needs(2));
    }

    proptest! {
        /// What is there and what is bought is what is needed, or more where more is there; nothing is bought twice.
        #[test]
        fn what_is_there_and_what_is_bought_is_enough(
            styles in prop::collection::vec(prop::sample::select(&Style::ALL[..]), 1..6),
            there in 0.0..3000.0f64,
        ) {
            let mut formulas: Vec<Formula> = styles.iter().map(|s| Formula::beginning(s.name(), *s)).collect();
            formulas[0].lines.push(Line::new("culture-100", Stage::Preferment, Grams(20.0)));
            let mut cupboard = Cupboard::default();
            for key in ["bread-flour", "salt", "instant-yeast"] {
                cupboard.stock.insert(key.into(), there);
                cupboard.prices.insert(key.into(), 2.0);
            }
            let all = shopping_of(&formulas, &cupboard, Catalogue::bundled());
            for n in &all {
                let has = n.there.map_or(0.0, |g| g.0);
                prop_assert!((has + n.buy.0 - n.needs.0.max(has)).abs() < 1e-9);
                let lines = formulas.iter().flat_map(|f| &f.lines).filter(|l| l.ingredient == n.ingredient);
                prop_assert!((lines.map(|l| l.grams.0).sum::<f64>() - n.needs.0).abs() < 1e-6);
                prop_assert!(n.cost.is_none_or(|c| (c - 2.0 * n.buy.0 / 1000.0).abs() < 1e-9));
            }
            let home = |n: &Needed| Catalogue::bundled().get(&n.ingredient).unwrap();
            prop_assert!(all.iter().all(|n| !home(n).is_water() && home(n).group != Group::Culture));
            let keys: std::collections::BTreeSet<&str> = all.iter().map(|n| n.ingredient.as_str()).collect();
            prop_assert_eq!(keys.len(), all.len());
        }
    }
}
