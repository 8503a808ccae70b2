//! Changing amounts: type grams or a percentage and the other follows.

use super::{Formula, Line, counted_flour, scale};
use crate::fault::Fault;
use crate::pantry::{Catalogue, Group, Ingredient};
use crate::units::{Grams, Percent};
use crate::words::Counting;

/// A line's baker's percentage, by the way of counting.
pub fn percent(formula: &Formula, line: usize, catalogue: &Catalogue, counting: Counting) -> Percent {
    formula.lines[line].grams.percent_of(counted_flour(formula, catalogue, counting))
}

/// The part of a line that is in the flour counted against, 0 to 1.
fn counted(line: &Line, ingredient: &Ingredient, counting: Counting) -> f64 {
    let beside = line.stage.is_preferment() || ingredient.group == Group::Culture;
    if !line.stage.in_dough() || (counting == Counting::FinalFlour && beside) {
        0.0
    } else {
        ingredient.flour
    }
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
/// For a flour the counted flour stays and the other flours share the rest in proportion. For a
/// culture whose own flour is part of the total, the equation is solved for that.
///
/// # Errors
/// When the flours would not add up to 100 %, or a culture would be more than the whole.
pub fn set_percent(
    formula: &mut Formula,
    line: usize,
    wanted: Percent,
    catalogue: &Catalogue,
    counting: Counting,
) -> Result<(), Fault> {
    let path = format!("lines.{line}.percent");
    let total = counted_flour(formula, catalogue, counting);
    let Some(ingredient) = catalogue.get(&formula.lines[line].ingredient) else {
        return Ok(());
    };
    let share = counted(&formula.lines[line], ingredient, counting);
    if ingredient.group == Group::Flour && share > 0.0 {
        let flours: Vec<bool> = formula
            .lines
            .iter()
            .map(|l| {
                let flour = catalogue.get(&l.ingredient).filter(|i| i.group == Group::Flour);
                flour.is_some_and(|i| counted(l, i, counting) > 0.0)
            })
            .collect();
        return set_flour_percent(formula, line, &flours, wanted.of(total).0, path);
    }
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
    flours: &[bool],
    new: f64,
    path: String,
) -> Result<(), Fault> {
    let is_other = |i: usize| i != line && flours[i];
    let others: f64 =
        formula.lines.iter().enumerate().filter(|(i, _)| is_other(*i)).map(|(_, l)| l.grams.0).sum();
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
        } else if flours[i] {
            l.grams = l.grams * k;
        }
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formula::flour;
    use crate::words::{Stage, Style};
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
        .map(|(k, stage, g)| Line::new(k, stage, Grams(g)))
        .to_vec();
        f
    }

    #[test]
    fn the_only_flour_stays_at_a_hundred() {
        let mut f = sourdough();
        f.lines = vec![Line::new("bread-flour", Stage::Dough, Grams(500.0))];
        let fault =
            set_percent(&mut f, 0, Percent(80.0), Catalogue::bundled(), Counting::AllFlour).unwrap_err();
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
        fn a_percentage_typed_is_the_percentage_read(line in 0usize..7, pct in 0.1..90.0f64, school in 0usize..2) {
            let (c, school) = (Catalogue::bundled(), Counting::ALL[school]);
            let mut f = sourdough();
            if set_percent(&mut f, line, Percent(pct), c, school).is_ok() {
                prop_assert!((percent(&f, line, c, school).0 - pct).abs() < 1e-6);
                prop_assert!(f.lines.iter().all(|l| l.grams.0 >= 0.0));
            }
        }

        #[test]
        fn changing_a_flour_keeps_the_flour(pct in 0.0..90.0f64, school in 0usize..2) {
            let (c, school) = (Catalogue::bundled(), Counting::ALL[school]);
            let mut f = sourdough();
            let before = flour(&f, c).0;
            set_percent(&mut f, 3, Percent(pct), c, school).unwrap();
            prop_assert!((flour(&f, c).0 - before).abs() < 1e-6);
        }

        /// Both ways of counting are ways of writing the same grams.
        #[test]
        fn both_ways_of_counting_give_the_same_grams(line in 0usize..7) {
            let c = Catalogue::bundled();
            let before = sourdough();
            for school in Counting::ALL {
                let mut f = before.clone();
                let p = percent(&f, line, c, school);
                set_percent(&mut f, line, p, c, school).unwrap();
                for (a, b) in f.lines.iter().zip(&before.lines) {
                    prop_assert!((a.grams.0 - b.grams.0).abs() < 1e-6);
                }
            }
        }
    }
}
