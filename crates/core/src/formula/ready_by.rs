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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::ferment::{InverseInput, Which, rise_inverse};
    use crate::formula::{Line, Style};
    use crate::stations::read;
    use crate::units::{Grams, Minutes};
    use rstest::rstest;

    fn minutes(f: &Formula) -> f64 {
        let now = "2026-03-07T08:00:00Z".parse().unwrap();
        read(f, &Kitchen::default(), Catalogue::bundled(), now).unwrap().rise.bulk.unwrap().time.0
    }

    fn made_to_take(f: &mut Formula, hours: f64, by: Lever) -> bool {
        let (kitchen, c) = (Kitchen::default(), Catalogue::bundled());
        let rise = read(f, &kitchen, c, "2026-03-07T08:00:00Z".parse().unwrap()).unwrap().rise_input;
        let time = Minutes(60.0 * hours);
        let wish = InverseInput { rise: rise.clone(), which: Which::Bulk, time, by, fridge: kitchen.fridge };
        let answer = rise_inverse(&wish).unwrap();
        pull(f, by, answer.value, &rise, &kitchen, c).unwrap();
        answer.found
    }

    fn sourdough() -> Formula {
        let mut f = Formula::beginning("Sour", Style::Hearth);
        f.lines = [
            ("bread-flour", Stage::Preferment, 60.0),
            ("water", Stage::Preferment, 60.0),
            ("culture-100", Stage::Preferment, 12.0),
            ("bread-flour", Stage::Dough, 440.0),
            ("water", Stage::Dough, 290.0),
            ("salt", Stage::Dough, 10.0),
        ]
        .map(|(key, stage, g)| Line::new(key, stage, Grams(g)))
        .to_vec();
        f
    }

    /// Each lever, put into the formula, makes the rise take about as long as was wished: places and
    /// dough are rounded to half a degree, the fridge to a quarter of an hour.
    #[rstest]
    #[case(Lever::Yeast, 3.0, 2.0)]
    #[case(Lever::Place, 2.5, 12.0)]
    #[case(Lever::Fridge, 12.0, 12.0)]
    fn a_lever_pulled_does_what_was_promised(#[case] by: Lever, #[case] hours: f64, #[case] within: f64) {
        let mut f = Formula::beginning("Loaf", Style::Tin);
        assert!(made_to_take(&mut f, hours, by));
        assert!((minutes(&f) - 60.0 * hours).abs() < within, "{} min", minutes(&f));
    }

    #[test]
    fn a_levain_is_resized_and_the_dough_stays_as_heavy() {
        let mut f = sourdough();
        let dough = |f: &Formula| super::super::figures(f, Catalogue::bundled()).dough.0;
        let (before, was) = (dough(&f), minutes(&f) / 60.0);
        assert!(made_to_take(&mut f, was - 0.8, Lever::Culture));
        assert!((dough(&f) - before).abs() < 0.01);
        assert!((minutes(&f) - 60.0 * (was - 0.8)).abs() < 6.0, "{} h for {}", minutes(&f) / 60.0, was - 0.8);
    }

    #[test]
    fn only_levers_that_are_there_are_offered() {
        let c = Catalogue::bundled();
        let tin = levers(&Formula::beginning("Loaf", Style::Tin), c);
        assert_eq!(tin, [Lever::Yeast, Lever::Place, Lever::Start, Lever::Fridge]);
        assert_eq!(levers(&sourdough(), c)[0], Lever::Culture);
        assert!(!levers(&sourdough(), c).contains(&Lever::Yeast));
    }
}
