//! A bulk rise made to take just so long: the answers of `rise_inverse` put into the formula.

use super::{Formula, Leg, PrefermentSize, Stage, size_preferment};
use crate::fault::Fault;
use crate::ferment::{Lever, RiseInput};
use crate::ingredient::Catalogue;
use crate::kitchen::Kitchen;
use crate::units::{Celsius, Hours, Percent};

/// The levers that this formula has for its bulk rise.
pub fn levers(formula: &Formula, catalogue: &Catalogue) -> Vec<Lever> {
    let any = |stage: Stage, of: fn(&crate::ingredient::Ingredient) -> bool| {
        let mut lines = formula.lines.iter().filter(|l| l.stage == stage && l.grams.0 > 0.0);
        lines.any(|l| catalogue.get(&l.ingredient).is_some_and(of))
    };
    let mut all = Vec::new();
    if any(Stage::Dough, |i| i.instant_yeast() > 0.0) {
        all.push(Lever::Yeast);
    }
    if any(Stage::Preferment, |i| i.flour > 0.0) {
        all.push(Lever::Culture);
    }
    all.extend([Lever::Place, Lever::Start, Lever::Fridge]);
    all
}

/// Puts a lever's value into the formula. `rise` is what the value was found for.
///
/// # Errors
/// A levain that cannot be sized so, by its field.
pub fn pull(
    formula: &mut Formula,
    by: Lever,
    value: f64,
    rise: &RiseInput,
    kitchen: &Kitchen,
    catalogue: &Catalogue,
) -> Result<(), Fault> {
    let half = |x: f64| Celsius((2.0 * x).round() / 2.0);
    match by {
        Lever::Yeast => {
            let factor = value / rise.dough.instant_yeast.0.max(1e-6);
            let is_yeast = |key: &str| catalogue.get(key).is_some_and(|i| i.instant_yeast() > 0.0);
            for line in
                formula.lines.iter_mut().filter(|l| l.stage == Stage::Dough && is_yeast(&l.ingredient))
            {
                line.grams = line.grams * factor;
            }
        }
        Lever::Culture => {
            let now = super::figures(formula, catalogue).prefermented.0;
            let share = now * value / rise.dough.culture.0.max(1e-6);
            size_preferment(formula, Stage::Preferment, PrefermentSize::Flour(Percent(share)), catalogue)?;
        }
        Lever::Place => {
            // All places move together, as they did when the answer was found.
            let last = rise.bulk.places.last().map_or(value, |p| p.temperature.0);
            for leg in &mut formula.rise.bulk.legs {
                leg.place = half((leg.place.0 + value - last).clamp(0.0, 45.0));
            }
            formula.rise.bulk.place = Some(half(value));
            formula.rise.bulk.stays = None;
        }
        Lever::Start => formula.mix.desired = half(value),
        Lever::Fridge => {
            let hours = Hours((4.0 * value).round().max(1.0) / 4.0);
            formula.rise.bulk.legs.insert(0, Leg { hours, place: Celsius(kitchen.fridge.0.max(0.0)) });
            formula.rise.bulk.legs.truncate(super::LEGS_MAX);
            formula.rise.bulk.stays = None;
        }
    }
    Ok(())
}
