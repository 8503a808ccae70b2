//! Lines that are not in the list: what steps name with an amount, and what is wanted besides.

use crate::line::read_line;
use crate::lines::{LineKind, ReadLine, is_weighed};
use crate::name::Names;
use crate::purpose::{more_besides, own_stage};
use crate::told::{put_in, told};
use cerealis_core::pantry::{Catalogue, Group, Measures};
use cerealis_core::units::Grams;
use cerealis_core::words::Stage;

/// What is usual for a bench and a pair of hands when the recipe does not say, g.
const DUSTING: (f64, f64, f64) = (5.0, 15.0, 30.0);

/// What the steps name with an amount, and no line has: by its kind, for “oil” is the olive oil of the list. What is made
/// ahead has its own flour and water.
pub(crate) fn told_in_steps(
    lines: &mut Vec<ReadLine>,
    names: &Names,
    catalogue: &Catalogue,
    measures: Measures,
) {
    let listed: Vec<(Stage, Group)> = lines
        .iter()
        .filter(|l| l.kind == LineKind::Ingredient)
        .filter_map(|l| Some((l.stage, catalogue.get(l.ingredient.as_deref()?)?.group)))
        .collect();
    let none = !lines.iter().any(is_weighed);
    let steps: Vec<&str> = lines
        .iter()
        .filter(|l| l.kind == LineKind::Method || none && l.kind == LineKind::Remark)
        .map(|l| l.text.as_str())
        .collect();
    let ahead = |s: Stage| {
        matches!(
            s,
            Stage::Preferment | Stage::Poolish | Stage::Biga | Stage::Sponge | Stage::Soaker | Stage::Scald
        )
    };
    let new = |l: &ReadLine| {
        let group = l.ingredient.as_deref().and_then(|k| catalogue.get(k)).map(|i| i.group);
        if ahead(l.stage) {
            listed.iter().all(|(s, _)| *s != l.stage)
        } else {
            listed.iter().all(|(_, g)| Some(*g) != group)
        }
    };
    let found: Vec<ReadLine> = told(&steps.join("\n"), names, catalogue)
        .into_iter()
        .map(|t| read_line(&t.text, t.stage, names, catalogue, measures))
        .filter(|l| is_weighed(l) && (none || new(l)))
        .collect();
    put_in(lines, found);
}

/// “Plus more for dusting” is a line of its own, of an amount that nobody said; more “as needed” of flour is for the
/// bench, and of anything else is left to the hands.
pub(crate) fn more_besides_it(line: &mut ReadLine, catalogue: &Catalogue) -> Option<ReadLine> {
    let lower = line.text.to_lowercase().replace(" + ", " plus ");
    let wanted = line.kind == LineKind::Ingredient && line.stage.in_dough();
    let found = line.ingredient.as_deref().and_then(|k| catalogue.get(k)).filter(|_| wanted)?;
    let why = more_besides(&lower)?;
    let purpose = ["for ", "to "].iter().any(|w| why.starts_with(w));
    if !purpose && found.group != Group::Flour {
        if line.doubts.is_empty() {
            line.doubts
                .push("More of it may be needed than this: keep some at hand, and go by the dough.".into());
        }
        return None;
    }
    let (low, grams, high) = DUSTING;
    let doubt = "How much is not said; this is usual.".to_owned();
    Some(ReadLine {
        stage: own_stage(why, None).unwrap_or(Stage::Dusting),
        amount: None,
        candidates: line.ingredient.clone().into_iter().collect(),
        note: String::new(),
        grams: Some(Grams(grams)),
        low: Some(Grams(low)),
        high: Some(Grams(high)),
        doubts: vec![doubt],
        ..line.clone()
    })
}
