//! Scaling: from one batch to any other, percentages kept.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::{Figures, Formula, LINE_GRAMS_MAX, figures, flour, known};
use crate::fault::{Check, Fault, Faults};
use crate::kitchen::{EggSize, Scale};
use crate::pantry::{Catalogue, Group};
use crate::shape::PIECES;
use crate::units::{Grams, Percent, shown};
use crate::words::Style;

/// So many pans of a size.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PanCount {
    /// What one holds to the rim, 50 to 20 000 ml.
    pub ml: f64,
    /// How many, 1 to 50.
    pub count: u32,
}

/// So much of an ingredient is in the cupboard.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Have {
    /// Key of the ingredient.
    pub ingredient: String,
    /// How much there is of it, 0.01 to 50 000 g.
    pub grams: Grams,
}

/// What to scale to.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(tag = "by", rename_all = "kebab-case")]
pub enum ScaleTo {
    /// A factor, 0.01 to 100.
    Factor {
        /// The factor.
        factor: f64,
    },
    /// A dough weight, 20 to 100 000 g.
    Dough {
        /// The dough.
        grams: Grams,
    },
    /// So many pieces of a weight, noted at the Shape station too.
    Pieces {
        /// How many, 1 to 200.
        pieces: u32,
        /// What each weighs as dough, 5 to 20 000 g.
        weight: Grams,
    },
    /// The flour in hand, all stages together, 10 to 50 000 g.
    Flour {
        /// The flour.
        grams: Grams,
    },
    /// What the bread weighs when it has cooled, 20 to 100 000 g.
    Baked {
        /// All the bread together.
        grams: Grams,
        /// What it loses in the oven and after, 1 to 40 % of the dough.
        loss: Percent,
    },
    /// One or several pans, by volume and fill.
    Pans {
        /// The pans, at most 24 sizes.
        pans: Vec<PanCount>,
        /// Dough in grams a ml of pan, 0.2 to 1; [`usual_fill`] when left out.
        #[serde(default)]
        fill: Option<f64>,
    },
    /// Whatever runs out first.
    Cupboard {
        /// What there is; ingredients that are not named are taken to be enough.
        have: Vec<Have>,
    },
}

/// A formula scaled.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Scaled {
    /// The formula.
    pub formula: Formula,
    /// By what every line was multiplied.
    pub factor: f64,
    /// What ran out first, where that was asked: the key of the ingredient.
    pub runs_out: Option<String>,
}

/// Dough in grams a ml of a pan in which pieces lie side by side (common practice, no source).
pub const SIDE_BY_SIDE: f64 = 0.25;

/// Dough for a pan in grams a ml: 0.475 for white dough, 0.55 for whole grain, 0.675 without
/// gluten (the middles of what is common practice; no source).
pub fn usual_fill(style: Style, figures: &Figures) -> f64 {
    if style == Style::GlutenFree { 0.675 } else { 0.475 + 0.075 * figures.whole_grain.0.min(100.0) / 100.0 }
}

/// Scales a formula that has passed [`Formula::check`].
///
/// # Errors
/// A figure outside its range by its path; a line that would grow over the heaviest one allowed;
/// nothing of what is in the cupboard being in the formula.
pub fn scale_to(formula: &Formula, to: &ScaleTo, catalogue: &Catalogue) -> Result<Scaled, Faults> {
    check(to)?;
    let k = figures(formula, catalogue);
    let mut out = formula.clone();
    let mut runs_out = None;
    let factor = match to {
        ScaleTo::Factor { factor } => *factor,
        ScaleTo::Dough { grams } => grams.0 / k.dough.0,
        ScaleTo::Pieces { pieces, weight } => {
            out.shape.pieces = *pieces;
            out.shape.piece_weight = None;
            weight.0 * f64::from(*pieces) / k.dough.0
        }
        ScaleTo::Flour { grams } => grams.0 / flour(formula, catalogue).0,
        ScaleTo::Baked { grams, loss } => grams.0 / (1.0 - loss.0 / 100.0) / k.dough.0,
        ScaleTo::Pans { pans, fill } => {
            let low = formula.shape.in_one_pan() > 1;
            let fill = fill.unwrap_or_else(|| if low { SIDE_BY_SIDE } else { usual_fill(formula.style, &k) });
            // As many lie in each as lay in one.
            let pieces = pans.iter().map(|p| p.count).sum::<u32>() * formula.shape.in_one_pan();
            out.shape.pieces = pieces.min(PIECES.high as u32);
            out.shape.piece_weight = None;
            let dough: f64 = pans.iter().map(|p| p.ml * f64::from(p.count) * fill).sum();
            dough / k.dough.0
        }
        ScaleTo::Cupboard { have } => {
            let (factor, key) = runs_out_first(formula, have)?;
            runs_out = Some(key);
            factor
        }
    };
    // With further make-ups the main one keeps its share: all pieces grow alike.
    if !matches!(to, ScaleTo::Pieces { .. } | ScaleTo::Pans { .. }) {
        out.makeups.iter_mut().for_each(|m| m.shape.piece_weight = m.shape.piece_weight.map(|w| w * factor));
    }
    scale(&mut out, factor)?;
    Ok(Scaled { formula: out, factor, runs_out })
}

fn check(to: &ScaleTo) -> Result<(), Faults> {
    let mut c = Check::new();
    match to {
        ScaleTo::Factor { factor } => c.range("factor", "The factor", *factor, 0.01, 100.0, ""),
        ScaleTo::Dough { grams } => c.range("grams", "The dough", grams.0, 20.0, 100_000.0, "g"),
        ScaleTo::Pieces { pieces, weight } => {
            c.range("pieces", "The number of pieces", f64::from(*pieces), 1.0, 200.0, "");
            c.range("weight", "A piece", weight.0, 5.0, 20_000.0, "g");
        }
        ScaleTo::Flour { grams } => c.range("grams", "The flour", grams.0, 10.0, 50_000.0, "g"),
        ScaleTo::Baked { grams, loss } => {
            c.range("grams", "The bread", grams.0, 20.0, 100_000.0, "g");
            c.range("loss", "The loss", loss.0, 1.0, 40.0, "%");
        }
        ScaleTo::Pans { pans, fill } => {
            if pans.is_empty() || pans.len() > 24 {
                c.note(Fault::new("missing", "pans", "Say how many of which pan."));
            }
            for (i, p) in pans.iter().enumerate() {
                c.range(&format!("pans.{i}.ml"), "A pan", p.ml, 50.0, 20_000.0, "ml");
                c.range(&format!("pans.{i}.count"), "The number of pans", f64::from(p.count), 1.0, 50.0, "");
            }
            c.range("fill", "The fill", fill.unwrap_or(0.5), 0.2, 1.0, "g/ml");
        }
        ScaleTo::Cupboard { have } => {
            if have.is_empty() {
                c.note(Fault::new("missing", "have", "Say what is in the cupboard."));
            }
            for (i, h) in have.iter().enumerate() {
                c.range(&format!("have.{i}.grams"), "What there is", h.grams.0, 0.01, 50_000.0, "g");
            }
        }
    }
    c.done(())
}

fn runs_out_first(formula: &Formula, have: &[Have]) -> Result<(f64, String), Faults> {
    let needed =
        |key: &str| -> f64 { formula.lines.iter().filter(|l| l.ingredient == key).map(|l| l.grams.0).sum() };
    let reaches = have
        .iter()
        .filter(|h| needed(&h.ingredient) > 0.0)
        .map(|h| (h.grams.0 / needed(&h.ingredient), h.ingredient.clone()))
        .min_by(|a, b| a.0.total_cmp(&b.0));
    reaches.ok_or_else(|| {
        let text = "None of this is in the formula. Name what it asks for.";
        Fault::new("impossible", "have", text).into()
    })
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

/// Rounds the eggs of the dough to whole ones and rebalances the liquid. Returns what was done, a
/// sentence each; nothing where there are no eggs, or they are whole already.
///
/// # Errors
/// When there is not enough liquid to take the water of the eggs from.
pub fn whole_eggs(formula: &mut Formula, size: EggSize, catalogue: &Catalogue) -> Result<Vec<String>, Fault> {
    let mut said = Vec::new();
    let mut water = 0.0;
    for line in formula.lines.iter_mut().filter(|l| l.stage.in_dough() && l.grams.0 > 0.0) {
        let Some(egg) = catalogue.get(&line.ingredient).filter(|i| i.group == Group::Egg) else { continue };
        // White and yolk are two thirds and one third of the egg.
        let one = match egg.key.as_str() {
            "egg" => size.grams(),
            "egg-white" => size.grams() * 0.66,
            "egg-yolk" => size.grams() * 0.34,
            _ => continue,
        };
        let whole = (line.grams.0 / one).round().max(1.0);
        let grams = Grams(whole * one);
        if (grams.0 - line.grams.0).abs() < 0.05 {
            continue;
        }
        water += (grams.0 - line.grams.0) * egg.free_water() / 100.0;
        let name = egg.name.to_lowercase();
        said.push(format!(
            "{name}: {} g becomes {whole} whole, {} g",
            shown::grams(line.grams),
            shown::grams(grams)
        ));
        line.grams = grams;
    }
    if said.is_empty() {
        return Ok(said);
    }
    let (name, change) = pour(formula, -water, catalogue)?;
    let word = if change.0 < 0.0 { "less" } else { "more" };
    said.push(format!(
        "{name}: {} g {word}, so that the dough is as wet as before",
        shown::grams(Grams(change.0.abs()))
    ));
    Ok(said)
}

/// Brings so many grams of water more (or fewer) into the dough: from its plain water, or else
/// from the wettest of its liquids. Returns the liquid's name and by how much it changed.
///
/// # Errors
/// When no liquid has that much to give.
pub(super) fn pour(
    formula: &mut Formula,
    water: f64,
    catalogue: &Catalogue,
) -> Result<(String, Grams), Fault> {
    let best = known(formula, catalogue)
        .filter(|(l, i)| {
            l.stage.in_dough()
                && !l.stage.is_preferment()
                && matches!(i.group, Group::Liquid | Group::Dairy)
                && i.per_100g.water > 60.0
        })
        .max_by(|(a, x), (b, y)| {
            let rank = |l: &super::Line, i: &crate::pantry::Ingredient| {
                (i.is_water() && l.stage == crate::words::Stage::Dough, i.is_water())
            };
            rank(a, x).cmp(&rank(b, y)).then(a.grams.0.total_cmp(&b.grams.0))
        })
        .map(|(l, i)| (std::ptr::from_ref(l), i.name.to_lowercase(), water * 100.0 / i.per_100g.water));
    let Some((which, name, change)) = best else {
        return Err(Fault::new("impossible", "lines", "There is no liquid in the dough to change."));
    };
    let Some(line) = formula.lines.iter_mut().find(|l| std::ptr::eq(*l, which)) else {
        return Err(Fault::new("impossible", "lines", "There is no liquid in the dough to change."));
    };
    if line.grams.0 + change < 0.0 {
        let text = format!(
            "There is not enough {name} in the dough to take {} g from.",
            shown::grams(Grams(-change))
        );
        return Err(Fault::new("impossible", "lines", text));
    }
    line.grams += Grams(change);
    Ok((name, Grams(change)))
}

/// Rounds every line to the scale at hand: to its step from ten steps up, and to a tenth of it
/// below, which is measured by the spoon. The sum of the lines is then what the scale shows.
pub fn round_for(formula: &mut Formula, scale: Scale) {
    for line in &mut formula.lines {
        let step = if line.grams.0 >= 10.0 * scale.step() { scale.step() } else { scale.step() / 10.0 };
        let steps = (line.grams.0 / step).round();
        let least = if line.grams.0 > 0.0 { 1.0 } else { 0.0 };
        // Divided, not multiplied, so that 7.4 is the number that reads 7.4.
        line.grams = Grams(steps.max(least) / (1.0 / step).round());
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formula::{Line, percent};
    use crate::words::{Counting, Stage};
    use approx::assert_relative_eq;
    use proptest::prelude::*;

    fn enriched() -> Formula {
        let mut f = Formula::beginning("Test", Style::Braid);
        f.lines = [
            ("bread-flour", Stage::Dough, 520.0),
            ("milk", Stage::Dough, 60.0),
            ("water", Stage::Dough, 160.0),
            ("egg", Stage::Dough, 78.0),
            ("salt", Stage::Dough, 9.4),
            ("instant-yeast", Stage::Dough, 4.16),
            ("butter", Stage::LateButter, 50.0),
            ("egg", Stage::Wash, 20.0),
        ]
        .map(|(k, stage, g)| Line::new(k, stage, Grams(g)))
        .to_vec();
        f
    }

    fn dough(f: &Formula) -> f64 {
        figures(f, Catalogue::bundled()).dough.0
    }

    #[test]
    fn pans_are_filled_by_volume() {
        let c = Catalogue::bundled();
        let to = ScaleTo::Pans {
            pans: vec![PanCount { ml: 1800.0, count: 2 }, PanCount { ml: 900.0, count: 1 }],
            fill: None,
        };
        let s = scale_to(&enriched(), &to, c).unwrap();
        assert_relative_eq!(dough(&s.formula), 4500.0 * 0.475, epsilon = 1e-6);
        assert_eq!(s.formula.shape.pieces, 3);
        let mut rolls = enriched();
        (rolls.shape.pieces, rolls.shape.together) = (12, Some(12));
        let s = scale_to(&rolls, &to, c).unwrap();
        assert_eq!(s.formula.shape.pieces, 36, "no giant of them: twelve in each");
        assert_relative_eq!(dough(&s.formula), 4500.0 * SIDE_BY_SIDE, epsilon = 1e-6);
    }

    #[test]
    fn the_scarcest_rules() {
        let have = [("bread-flour", 1040.0), ("milk", 90.0), ("honey", 5.0)]
            .map(|(k, g)| Have { ingredient: k.into(), grams: Grams(g) })
            .to_vec();
        let s = scale_to(&enriched(), &ScaleTo::Cupboard { have }, Catalogue::bundled()).unwrap();
        assert_eq!(s.runs_out.as_deref(), Some("milk"));
        assert_relative_eq!(s.factor, 1.5);
        let none = ScaleTo::Cupboard { have: vec![Have { ingredient: "honey".into(), grams: Grams(5.0) }] };
        assert_eq!(scale_to(&enriched(), &none, Catalogue::bundled()).unwrap_err().0[0].path, "have");
    }

    #[test]
    fn bread_weighs_what_was_wanted() {
        let to = ScaleTo::Baked { grams: Grams(880.0), loss: Percent(12.0) };
        assert_relative_eq!(
            dough(&scale_to(&enriched(), &to, Catalogue::bundled()).unwrap().formula),
            1000.0,
            epsilon = 1e-9
        );
    }

    #[test]
    fn eggs_become_whole_and_the_dough_stays_as_wet() {
        let c = Catalogue::bundled();
        let mut f = enriched();
        let before = figures(&f, c).effective_hydration.0;
        let said = whole_eggs(&mut f, EggSize::Large, c).unwrap();
        assert_eq!(f.lines[3].grams, Grams(100.0));
        assert_eq!(f.lines[7].grams, Grams(20.0), "a wash is not the dough's");
        assert_relative_eq!(figures(&f, c).effective_hydration.0, before, epsilon = 1e-9);
        assert_eq!(said.len(), 2, "{said:?}");
        assert!(whole_eggs(&mut f, EggSize::Large, c).unwrap().is_empty());
    }

    #[test]
    fn eggs_need_liquid_to_give_way() {
        let mut f = enriched();
        f.lines.retain(|l| l.ingredient != "milk" && l.ingredient != "water");
        assert_eq!(whole_eggs(&mut f, EggSize::Large, Catalogue::bundled()).unwrap_err().code, "impossible");
    }

    #[test]
    fn rounded_for_the_scale_at_hand() {
        let mut f = enriched();
        scale(&mut f, 1.337).unwrap();
        let mut coarse = f.clone();
        round_for(&mut coarse, Scale::Gram);
        let texts: Vec<String> = coarse.lines.iter().map(|l| l.grams.0.to_string()).collect();
        assert_eq!(texts, ["695", "80", "214", "104", "13", "5.6", "67", "27"]);
        round_for(&mut f, Scale::Tenth);
        assert_eq!(f.lines[4].grams.0.to_string(), "12.6");
    }

    proptest! {
        #[test]
        fn scaling_keeps_percentages_and_meets_the_weight(pieces in 1u32..60, each in 20.0..1500.0f64) {
            let c = Catalogue::bundled();
            let f = enriched();
            let of = |f: &Formula| -> Vec<f64> {
                (0..f.lines.len()).map(|i| percent(f, i, c, Counting::AllFlour).0).collect()
            };
            let to = ScaleTo::Pieces { pieces, weight: Grams(each) };
            // Sixty large pieces would be heavier than a line may be.
            let Ok(s) = scale_to(&f, &to, c) else { return Ok(()) };
            for (a, b) in of(&f).iter().zip(of(&s.formula)) {
                prop_assert!((a - b).abs() < 1e-6);
            }
            prop_assert!((dough(&s.formula) - f64::from(pieces) * each).abs() < 1e-6);
        }

        #[test]
        fn a_factor_and_its_reverse_return(factor in 0.05..20.0f64) {
            let c = Catalogue::bundled();
            let there = scale_to(&enriched(), &ScaleTo::Factor { factor }, c).unwrap().formula;
            let back = scale_to(&there, &ScaleTo::Factor { factor: 1.0 / factor }, c).unwrap().formula;
            for (a, b) in back.lines.iter().zip(enriched().lines) {
                prop_assert!((a.grams.0 - b.grams.0).abs() < 1e-9);
            }
        }

        #[test]
        fn rounding_moves_no_line_further_than_half_a_step(factor in 0.05..20.0f64) {
            let mut f = enriched();
            scale(&mut f, factor).unwrap();
            for at_hand in Scale::ALL {
                let mut rounded = f.clone();
                round_for(&mut rounded, at_hand);
                for (a, b) in rounded.lines.iter().zip(&f.lines) {
                    prop_assert!((a.grams.0 - b.grams.0).abs() <= 0.5 * at_hand.step() + 1e-9);
                }
                let once = rounded.clone();
                round_for(&mut rounded, at_hand);
                prop_assert_eq!(once, rounded);
            }
        }
    }
}
