//! What a formula feeds: energy and main nutrients, estimated from the composition and the bake.

use schemars::JsonSchema;
use serde::Serialize;

use super::Figures;
use crate::units::Grams;

/// Energy and main nutrients of a mass of bread. An estimate from tables, not a label.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Nutrition {
    /// The bread that this is in, g.
    pub bread: Grams,
    /// Energy, kJ.
    pub kilojoules: f64,
    /// Energy, kcal.
    pub kilocalories: f64,
    /// Fat, g.
    pub fat: f64,
    /// Starch and sugars, g.
    pub carbohydrate: f64,
    /// Sugars, g; what yeast eats of them is not taken off.
    pub sugars: f64,
    /// Fibre, g.
    pub fibre: f64,
    /// Protein, g.
    pub protein: f64,
    /// Salt, g.
    pub salt: f64,
}

/// Energy of a gram: fat 37 kJ (9 kcal), carbohydrate and protein 17 kJ (4 kcal), fibre 8 kJ
/// (2 kcal): the conversion factors of Regulation (EU) 1169/2011, Annex XIV (recalled, not read
/// from the source).
const KJ: [f64; 4] = [37.0, 17.0, 17.0, 8.0];
const KCAL: [f64; 4] = [9.0, 4.0, 4.0, 2.0];

/// Nutrition of `bread` grams, where the whole dough loses `loss` per cent of its mass. Only
/// water goes in the oven; the rest stays. Wash and topping are not counted.
pub fn nutrition(figures: &Figures, loss: f64, bread: Grams) -> Nutrition {
    let baked = figures.dough.0 * (1.0 - loss / 100.0);
    let share = if baked > 0.0 { bread.0 / baked } else { 0.0 };
    let c = &figures.composition;
    let parts = [c.fat, c.carb, c.protein, c.fibre];
    let energy = |factors: [f64; 4]| share * parts.iter().zip(factors).map(|(g, k)| g * k).sum::<f64>();
    Nutrition {
        bread,
        kilojoules: energy(KJ),
        kilocalories: energy(KCAL),
        fat: share * c.fat,
        carbohydrate: share * c.carb,
        sugars: share * c.sugars,
        fibre: share * c.fibre,
        protein: share * c.protein,
        salt: share * c.salt,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formula::{Formula, figures};
    use crate::pantry::Catalogue;
    use crate::words::Style;
    use approx::assert_relative_eq;

    /// White bread is 240 to 290 kcal a hundred grams with 8 to 10 g of protein in every food
    /// table (common practice, no source read).
    #[test]
    fn a_white_loaf_feeds_as_tables_say() {
        let k = figures(&Formula::beginning("Loaf", Style::Tin), Catalogue::bundled());
        let n = nutrition(&k, 12.0, Grams(100.0));
        assert!((230.0..=290.0).contains(&n.kilocalories), "{n:?}");
        assert!((7.0..=10.5).contains(&n.protein), "{n:?}");
        assert!((0.9..=1.6).contains(&n.salt), "{n:?}");
        assert!((n.kilojoules / n.kilocalories - 4.2).abs() < 0.1);
    }

    #[test]
    fn the_pieces_together_hold_what_the_dough_holds() {
        let k = figures(&Formula::beginning("Rolls", Style::SoftRoll), Catalogue::bundled());
        let piece = nutrition(&k, 10.0, k.dough * 0.9 / 14.0);
        assert_relative_eq!(14.0 * piece.protein, k.composition.protein, epsilon = 1e-9);
        assert_eq!(nutrition(&k, 10.0, Grams(0.0)).kilocalories, 0.0);
    }
}
