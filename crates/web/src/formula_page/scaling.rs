//! The ways to scale, by their fields.

use cerealis_core::fault::{Fault, Faults};
use cerealis_core::formula::{Formula, Have, PanCount, ScaleTo, scale_to};
use cerealis_core::units::Grams;

use crate::form::{Form, Reader};
use crate::household::Household;

/// The scaling that the fields of a way make.
fn read_scaling(
    form: &Form,
    way: &str,
    formula: &Formula,
    house: &Household,
) -> Result<Option<ScaleTo>, Faults> {
    let mut r = Reader::new(form);
    let to = match way {
        "pieces" => ScaleTo::Pieces { pieces: r.whole("scale.pieces"), weight: r.figure_of("scale.weight") },
        "dough" => ScaleTo::Dough { grams: r.figure_of("scale.dough") },
        "flour" => ScaleTo::Flour { grams: r.figure_of("scale.flour") },
        "factor" => ScaleTo::Factor { factor: r.number("scale.factor") },
        "baked" => ScaleTo::Baked { grams: r.figure_of("scale.baked"), loss: r.figure_of("scale.loss") },
        "pans" => {
            let pans = &house.kitchen.pans;
            let count = |(i, pan): (usize, &cerealis_core::shape::Pan)| {
                let count = r.optional(&format!("scale.pan.{i}")).unwrap_or(0.0);
                (count > 0.0).then_some(PanCount { ml: pan.ml, count: count.round() as u32 })
            };
            ScaleTo::Pans { pans: pans.iter().enumerate().filter_map(count).collect(), fill: None }
        }
        "cupboard" => {
            let mut have: Vec<Have> = Vec::new();
            for l in &formula.lines {
                let there = r.measure::<Grams>(&format!("scale.have.{}", l.ingredient));
                if let Some(grams) = there.filter(|_| !have.iter().any(|h| h.ingredient == l.ingredient)) {
                    have.push(Have { ingredient: l.ingredient.clone(), grams });
                }
            }
            ScaleTo::Cupboard { have }
        }
        "fit" => {
            let Some(piece) = formula.shape.piece_weight else { return Ok(None) };
            let others = formula.makeups_weight();
            ScaleTo::Dough { grams: piece * f64::from(formula.shape.pieces) + others }
        }
        _ => return Ok(None),
    };
    r.done(Some(to))
}

pub(super) fn scale(formula: &mut Formula, form: &Form, way: &str, house: &Household) -> Result<(), Faults> {
    formula.check(&house.catalogue)?;
    let Some(to) = read_scaling(form, way, formula, house)? else { return Ok(()) };
    let makeups = formula.makeups.clone();
    let scaled = scale_to(formula, &to, &house.catalogue).map_err(|Faults(faults)| {
        let moved = |f: Fault| {
            let path = match (way, f.path.as_str()) {
                ("fit", _) => "shape.piece_weight".to_owned(),
                (_, "pieces" | "weight" | "factor" | "loss") => format!("scale.{}", f.path),
                _ => format!("scale.{way}"),
            };
            Fault { path, ..f }
        };
        Faults(faults.into_iter().map(moved).collect())
    })?;
    *formula = scaled.formula;
    if way == "fit" {
        formula.makeups = makeups;
    }
    Ok(())
}
