//! A bulk rise made to take just so long: the answers of `rise_inverse` put into the formula.

use super::{Formula, PrefermentSize, known, size_preferment};
use crate::fault::Fault;
use crate::kitchen::Kitchen;
use crate::pantry::Catalogue;
use crate::rise::{Leg, Lever, RiseInput};
use crate::units::{Celsius, Grams, Hours, Percent};
use crate::words::Stage;

/// The levers that this formula has for its bulk rise.
pub fn levers(formula: &Formula, catalogue: &Catalogue) -> Vec<Lever> {
    let any = |stage: Stage, of: fn(&crate::pantry::Ingredient) -> bool| {
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

/// By how much the yeast of the dough itself changes for `wanted` per cent of instant yeast in all: what
/// comes in a preferment stays as it is.
///
/// # Errors
/// Where the preferments alone bring more.
pub fn yeast_factor(
    formula: &Formula,
    wanted: f64,
    rise: &RiseInput,
    catalogue: &Catalogue,
) -> Result<f64, Fault> {
    let flour = super::figures(formula, catalogue).flour;
    let own: Grams = known(formula, catalogue)
        .filter(|(l, _)| l.stage == Stage::Dough)
        .map(|(l, i)| l.grams * i.instant_yeast())
        .sum();
    let own = own.percent_of(flour).0;
    let brought = (rise.dough.instant_yeast.0 - own).max(0.0);
    if wanted <= brought || own <= 0.0 {
        let text = "The yeast that comes in the preferment is more than that already. Make the preferment smaller, or its yeast less.";
        return Err(Fault::new("impossible", "lines", text));
    }
    Ok((wanted - brought) / own)
}

/// The share of the flour, per cent, that the levain must have for `wanted` per cent of flour fermented
/// by culture in all; a culture in the dough itself stays as it is.
///
/// # Errors
/// Where that alone is more.
pub fn levain_share(formula: &Formula, wanted: f64, catalogue: &Catalogue) -> Result<f64, Fault> {
    let k = super::figures(formula, catalogue);
    let own: Grams = known(formula, catalogue)
        .filter(|(l, _)| l.stage == Stage::Preferment)
        .map(|(l, i)| l.grams * i.flour)
        .sum();
    let own = own.percent_of(k.flour).0;
    let share = wanted - (k.inoculation.0 - own).max(0.0);
    if share <= 0.0 {
        let text = "The culture in the dough itself is more than that already.";
        return Err(Fault::new("impossible", "lines", text));
    }
    Ok(share)
}

/// Puts a lever's value into the formula. `rise` is what the value was found for.
///
/// # Errors
/// A preferment that brings more already, a levain that cannot be sized so, a rise that has all the
/// places it can have.
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
            let factor = yeast_factor(formula, value, rise, catalogue)?;
            let is_yeast = |key: &str| catalogue.get(key).is_some_and(|i| i.instant_yeast() > 0.0);
            for line in
                formula.lines.iter_mut().filter(|l| l.stage == Stage::Dough && is_yeast(&l.ingredient))
            {
                line.grams = line.grams * factor;
            }
        }
        Lever::Culture => {
            let share = levain_share(formula, value, catalogue)?;
            size_preferment(formula, Stage::Preferment, PrefermentSize::Flour(Percent(share)), catalogue)?;
        }
        Lever::Place => {
            // All places move together, as they did when the answer was found; the last keeps its night.
            let (last, swing) = rise.bulk.places.last().map_or((value, 0.0), |p| (p.temperature.0, p.swing));
            for leg in &mut formula.rise.bulk.legs {
                leg.place = half((leg.place.0 + value - last).clamp(0.0, 45.0));
            }
            formula.rise.bulk.place = Some(half(value + swing));
            formula.rise.bulk.night = 2.0 * swing;
            formula.rise.bulk.stays = None;
        }
        Lever::Start => formula.mix.desired = half(value),
        Lever::Fridge => {
            if formula.rise.bulk.legs.len() >= crate::rise::LEGS_MAX {
                let text =
                    "This rise goes through as many places as it can have. Take one of them out first.";
                return Err(Fault::new("impossible", "rise.bulk.legs", text));
            }
            let hours = Hours((4.0 * value).round().max(1.0) / 4.0);
            formula.rise.bulk.legs.insert(0, Leg { hours, place: Celsius(kitchen.fridge.0.max(0.0)) });
            formula.rise.bulk.stays = None;
        }
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formula::Line;
    use crate::rise::{InverseInput, Which, rise_inverse};
    use crate::stations::read;
    use crate::units::{Grams, Minutes};
    use crate::words::Style;
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

    /// A poolish brings yeast of its own, which the lever leaves alone.
    #[test]
    fn yeast_beside_a_yeasted_preferment_still_meets_the_wish() {
        let mut f = Formula::beginning("Loaf", Style::Hearth);
        let c = Catalogue::bundled();
        size_preferment(&mut f, Stage::Poolish, PrefermentSize::Flour(Percent(30.0)), c).unwrap();
        let poolish: Vec<Line> = f.lines.iter().filter(|l| l.stage == Stage::Poolish).cloned().collect();
        assert!(made_to_take(&mut f, 2.0, Lever::Yeast));
        assert!((minutes(&f) - 120.0).abs() < 4.0, "{} min", minutes(&f));
        let after: Vec<Line> = f.lines.iter().filter(|l| l.stage == Stage::Poolish).cloned().collect();
        assert_eq!(after, poolish);
    }

    #[test]
    fn the_fridge_takes_no_place_away() {
        let mut f = Formula::beginning("Loaf", Style::Tin);
        let leg = |h: f64| Leg { hours: Hours(h), place: Celsius(20.0) };
        f.rise.bulk.legs = vec![leg(0.1), leg(0.2), leg(0.1)];
        let before = f.clone();
        let c = Catalogue::bundled();
        let rise = read(&f, &Kitchen::default(), c, jiff::Timestamp::UNIX_EPOCH).unwrap().rise_input;
        let refused = pull(&mut f, Lever::Fridge, 8.0, &rise, &Kitchen::default(), c).unwrap_err();
        assert_eq!((refused.path.as_str(), &f), ("rise.bulk.legs", &before));
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
