//! What a formula costs, from the household's prices.

use std::collections::BTreeMap;

use schemars::JsonSchema;
use serde::Serialize;

use super::{Formula, figures};
use crate::pantry::Catalogue;
use crate::units::Grams;

/// What a formula costs, in whatever the household pays in.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Cost {
    /// All its lines that have a price.
    pub total: f64,
    /// One piece, by its share of the dough; washes, toppings and dusting are shared alike.
    pub piece: f64,
    /// A kilogram of dough.
    pub kilogram: f64,
    /// Names of ingredients without a price, each once. Water without a price costs nothing.
    pub unpriced: Vec<String>,
}

/// Works out the cost; `None` while nothing in the formula has a price. `prices` are per kilogram.
pub fn cost(
    formula: &Formula,
    piece: Grams,
    prices: &BTreeMap<String, f64>,
    catalogue: &Catalogue,
) -> Option<Cost> {
    let mut unpriced: Vec<String> = Vec::new();
    let (mut total, mut any) = (0.0, false);
    for line in formula.lines.iter().filter(|l| l.grams.0 > 0.0) {
        match prices.get(&line.ingredient) {
            Some(price) => {
                total += price * line.grams.0 / 1000.0;
                any = true;
            }
            None => {
                let entry = catalogue.get(&line.ingredient);
                let name = entry.map_or(line.ingredient.clone(), |i| i.name.clone());
                if !entry.is_some_and(|i| i.is_water()) && !unpriced.contains(&name) {
                    unpriced.push(name);
                }
            }
        }
    }
    let dough = figures(formula, catalogue).dough;
    (any && dough.0 > 0.0).then(|| Cost {
        total,
        piece: total * piece.0 / dough.0,
        kilogram: total * 1000.0 / dough.0,
        unpriced,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formula::Line;
    use crate::words::{Stage, Style};
    use proptest::prelude::*;

    fn loaf() -> Formula {
        let mut f = Formula::beginning("Loaf", Style::Tin);
        f.lines = [("bread-flour", 500.0), ("water", 320.0), ("salt", 10.0), ("butter", 20.0)]
            .map(|(key, g)| Line::new(key, Stage::Dough, Grams(g)))
            .to_vec();
        f
    }

    /// By hand: 500 g at 1.20 and 20 g at 10.00 a kilogram are 0.60 + 0.20.
    #[test]
    fn by_hand() {
        let prices = [("bread-flour".into(), 1.2), ("butter".into(), 10.0)].into();
        let c = cost(&loaf(), Grams(425.0), &prices, Catalogue::bundled()).unwrap();
        assert!((c.total - 0.8).abs() < 1e-12 && (c.piece - 0.4).abs() < 1e-12, "{c:?}");
        assert_eq!(c.unpriced, ["Fine salt"]);
        assert_eq!(cost(&loaf(), Grams(425.0), &BTreeMap::new(), Catalogue::bundled()), None);
    }

    proptest! {
        #[test]
        fn all_pieces_together_cost_the_whole(price in 0.01..50.0f64, pieces in 1u32..40) {
            let (f, c) = (loaf(), Catalogue::bundled());
            let piece = Grams(figures(&f, c).dough.0 / f64::from(pieces));
            let prices = [("bread-flour".into(), price)].into();
            let cost = cost(&f, piece, &prices, c).unwrap();
            prop_assert!((cost.piece * f64::from(pieces) - cost.total).abs() < 1e-9 * cost.total);
        }
    }
}
