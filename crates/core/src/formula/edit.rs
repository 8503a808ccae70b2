//! Changing amounts: type grams or a percentage and the other follows; scale the whole.

use super::{Formula, LINE_GRAMS_MAX, figures, flour};
use crate::fault::Fault;
use crate::ingredient::{Catalogue, Group};
use crate::units::{Grams, Percent};

/// A line's baker's percentage.
pub fn percent(formula: &Formula, line: usize, catalogue: &Catalogue) -> Percent {
    formula.lines[line].grams.percent_of(flour(formula, catalogue))
}

/// Sets one line's grams. With the percentages locked, every other line follows; a line that was
/// or becomes nothing has no percentage to keep and changes alone.
///
/// # Errors
/// With the percentages locked, when another line would grow over the heaviest one allowed.
pub fn set_grams(formula: &mut Formula, line: usize, grams: Grams) -> Result<(), Fault> {
    let old = formula.lines[line].grams;
    if formula.percent_locked && old.0 > 0.0 && grams.0 > 0.0 {
        return scale(formula, grams.0 / old.0);
    }
    formula.lines[line].grams = grams;
    Ok(())
}

/// Sets one line's baker's percentage.
///
/// For a flour the total flour stays and the other flours share the rest in proportion. For a
/// culture its own flour is part of the total, and the equation is solved for that.
///
/// # Errors
/// When the flours would not add up to 100 %, or a culture would be more than the whole.
pub fn set_percent(
    formula: &mut Formula,
    line: usize,
    wanted: Percent,
    catalogue: &Catalogue,
) -> Result<(), Fault> {
    let path = format!("lines.{line}.percent");
    let total = flour(formula, catalogue);
    let Some(ingredient) = catalogue.get(&formula.lines[line].ingredient) else {
        return Ok(());
    };
    let in_dough = formula.lines[line].stage.in_dough();
    if ingredient.group == Group::Flour && in_dough {
        return set_flour_percent(formula, line, wanted, catalogue, total, path);
    }
    let share = if in_dough { ingredient.flour } else { 0.0 };
    let others = total.0 - formula.lines[line].grams.0 * share;
    let p = wanted.0 / 100.0;
    let rest = 1.0 - p * share;
    if rest <= 0.01 {
        let text = "That much culture would be all of the flour. Enter less.";
        return Err(Fault::new("impossible", path, text));
    }
    formula.lines[line].grams = Grams(p * others / rest);
    Ok(())
}

fn set_flour_percent(
    formula: &mut Formula,
    line: usize,
    wanted: Percent,
    catalogue: &Catalogue,
    total: Grams,
    path: String,
) -> Result<(), Fault> {
    let is_flour = |key: &str| catalogue.get(key).is_some_and(|i| i.group == Group::Flour);
    let new = wanted.of(total).0;
    let others: f64 = formula
        .lines
        .iter()
        .enumerate()
        .filter(|(i, l)| *i != line && l.stage.in_dough() && is_flour(&l.ingredient))
        .map(|(_, l)| l.grams.0)
        .sum();
    let rest = others + formula.lines[line].grams.0 - new;
    if others <= 0.0 {
        let text =
            "This is the only flour, so it is all of the 100 %. Add another flour, or change its grams.";
        return Err(Fault::new("impossible", path, text));
    }
    if rest < -1e-9 {
        let text = "The flours together are 100 %. Enter less.";
        return Err(Fault::new("impossible", path, text));
    }
    let k = rest.max(0.0) / others;
    for (i, l) in formula.lines.iter_mut().enumerate() {
        if i == line {
            l.grams = Grams(new);
        } else if l.stage.in_dough() && is_flour(&l.ingredient) {
            l.grams = l.grams * k;
        }
    }
    Ok(())
}

/// Multiplies every line.
///
/// # Errors
/// When a line would grow over the heaviest one allowed, or the factor is not a positive number.
pub fn scale(formula: &mut Formula, factor: f64) -> Result<(), Fault> {
    if !(factor.is_finite() && factor > 0.0) {
        return Err(Fault::new("impossible", "scale", "There is nothing to scale from."));
    }
    if formula.lines.iter().any(|l| l.grams.0 * factor > LINE_GRAMS_MAX) {
        let text = format!("That would make a line heavier than {LINE_GRAMS_MAX} g. Enter less.");
        return Err(Fault::new("out-of-range", "scale", text));
    }
    formula.lines.iter_mut().for_each(|l| l.grams = l.grams * factor);
    Ok(())
}

/// Scales to a dough weight, percentages kept.
///
/// # Errors
/// As [`scale`].
pub fn scale_to_dough(formula: &mut Formula, dough: Grams, catalogue: &Catalogue) -> Result<(), Fault> {
    let now = figures(formula, catalogue).dough;
    scale(formula, dough.0 / now.0)
}

/// Scales to so many pieces of a weight and notes them at the Shape station.
///
/// # Errors
/// As [`scale`].
pub fn scale_to_pieces(
    formula: &mut Formula,
    pieces: u32,
    weight: Grams,
    catalogue: &Catalogue,
) -> Result<(), Fault> {
    scale_to_dough(formula, weight * f64::from(pieces), catalogue)?;
    formula.shape.pieces = pieces;
    formula.shape.piece_weight = None;
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formula::{Line, Stage, Style};
    use proptest::prelude::*;

    fn sourdough() -> Formula {
        let mut f = Formula::beginning("Test", Style::Hearth);
        f.lines = [
            ("bread-flour", Stage::Preferment, 60.0),
            ("culture-100", Stage::Preferment, 20.0),
            ("bread-flour", Stage::Dough, 400.0),
            ("dark-rye-flour", Stage::Dough, 80.0),
            ("water", Stage::Dough, 340.0),
            ("salt", Stage::Dough, 11.0),
            ("egg", Stage::Wash, 20.0),
        ]
        .map(|(k, stage, g)| Line { ingredient: k.into(), stage, grams: Grams(g) })
        .to_vec();
        f
    }

    #[test]
    fn the_only_flour_stays_at_a_hundred() {
        let mut f = sourdough();
        f.lines = vec![Line { ingredient: "bread-flour".into(), stage: Stage::Dough, grams: Grams(500.0) }];
        let fault = set_percent(&mut f, 0, Percent(80.0), Catalogue::bundled()).unwrap_err();
        assert_eq!(fault.path, "lines.0.percent");
    }

    #[test]
    fn locked_percentages_scale_the_whole() {
        let mut f = sourdough();
        f.percent_locked = true;
        set_grams(&mut f, 5, Grams(22.0)).unwrap();
        assert_eq!(f.lines[4].grams, Grams(680.0));
        set_grams(&mut f, 5, Grams(0.0)).unwrap();
        assert_eq!(f.lines[5].grams, Grams(0.0));
        assert_eq!(f.lines[4].grams, Grams(680.0));
    }

    proptest! {
        #[test]
        fn a_percentage_typed_is_the_percentage_read(line in 0usize..7, pct in 0.1..90.0f64) {
            let c = Catalogue::bundled();
            let mut f = sourdough();
            if set_percent(&mut f, line, Percent(pct), c).is_ok() {
                prop_assert!((percent(&f, line, c).0 - pct).abs() < 1e-6);
                prop_assert!(f.lines.iter().all(|l| l.grams.0 >= 0.0));
            }
        }

        #[test]
        fn changing_a_flour_keeps_the_flour(pct in 0.0..90.0f64) {
            let c = Catalogue::bundled();
            let mut f = sourdough();
            let before = flour(&f, c).0;
            set_percent(&mut f, 3, Percent(pct), c).unwrap();
            prop_assert!((flour(&f, c).0 - before).abs() < 1e-6);
        }

        #[test]
        fn scaling_keeps_percentages_and_meets_the_weight(pieces in 1u32..60, each in 20.0..1500.0f64) {
            let c = Catalogue::bundled();
            let mut f = sourdough();
            let before: Vec<f64> = (0..f.lines.len()).map(|i| percent(&f, i, c).0).collect();
            scale_to_pieces(&mut f, pieces, Grams(each), c).unwrap();
            for (i, b) in before.iter().enumerate() {
                prop_assert!((percent(&f, i, c).0 - b).abs() < 1e-6);
            }
            prop_assert!((figures(&f, c).dough.0 - f64::from(pieces) * each).abs() < 1e-6);
        }
    }
}
