//! Dividing: equal pieces from the dough that is really there, with a scale or without.

use super::wish::{PIECES, ROLLED};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::fault::{Check, Faults};
use crate::rise::DOUGH_DENSITY;
use crate::units::Grams;

/// Pieces within this of their share are equal enough: 2 % (common practice, no source).
pub const NEAR_ENOUGH: f64 = 0.02;

/// What dividing depends on.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct DivideInput {
    /// The dough on the scale, 1 g to 100 kg.
    pub dough: Grams,
    /// How many pieces, 1 to 200.
    pub pieces: u32,
    /// What each should weigh; an equal share when left out.
    #[serde(default)]
    pub piece: Option<Grams>,
    /// Pieces that have been weighed, in order, at most 200.
    #[serde(default)]
    pub weighed: Vec<Grams>,
    /// How thick the dough is rolled for a grid of pieces, 0.3 to 8 cm; no grid when left out.
    #[serde(default)]
    pub rolled: Option<f64>,
}

/// One halving or parting without a scale.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Parting {
    /// Into how many each part is cut: 2, 3, 5 or more.
    pub into: u32,
    /// How many parts there are then.
    pub parts: u32,
    /// What each weighs.
    pub each: Grams,
}

/// A sheet of dough cut in squares.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Grid {
    /// Pieces along the long side, and across.
    pub columns: u32,
    /// Pieces across.
    pub rows: u32,
    /// Side of a piece, cm.
    pub side: f64,
    /// The sheet to roll: length and width, cm.
    pub sheet: (f64, f64),
    /// Where to cut along the length, cm from its edge.
    pub along: Vec<f64>,
    /// Where to cut across.
    pub across: Vec<f64>,
}

impl Grid {
    /// What to roll and how to cut, in a sentence.
    pub fn says(&self) -> String {
        let (length, width) = self.sheet;
        format!(
            "Roll it out to {length:.0} × {width:.0} cm and cut {} × {} squares of {:.0} cm.",
            self.columns, self.rows, self.side
        )
    }
}

/// Dough taken from one piece for another.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Pinch {
    /// The piece it comes off, from 0.
    pub from: usize,
    /// The piece it goes to; none when it is left over, or when it is cut from what is left.
    pub to: Option<usize>,
    /// How much.
    pub grams: Grams,
}

/// How to divide.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct DivideOutput {
    /// What each piece should weigh.
    pub piece: Grams,
    /// Weights that are near enough, 2 % either way.
    pub near_enough: (Grams, Grams),
    /// Left over; below zero what is short.
    pub left_over: Grams,
    /// Without a scale: halve, halve again, and so on.
    pub tree: Vec<Parting>,
    /// As a rolled sheet.
    pub grid: Option<Grid>,
    /// What to pinch off where, so that the weighed pieces are equal.
    pub pinches: Vec<Pinch>,
}

/// Divides a dough.
///
/// ```
/// use cerealis_core::shape::{DivideInput, divide};
/// use cerealis_core::units::Grams;
/// let input =
///     DivideInput { dough: Grams(640.0), pieces: 8, piece: None, weighed: vec![], rolled: None };
/// let out = divide(&input).unwrap();
/// assert!(out.near_enough.0 < Grams(80.0) && Grams(80.0) < out.near_enough.1);
/// assert_eq!(out.tree.last().unwrap().parts, 8, "halved three times");
/// ```
///
/// # Errors
/// A figure outside its range, by its path.
pub fn divide(input: &DivideInput) -> Result<DivideOutput, Faults> {
    let mut c = Check::new();
    c.range("dough", "The dough", input.dough.0, 1.0, 100_000.0, "g");
    PIECES.check(&mut c, "pieces", f64::from(input.pieces));
    if let Some(p) = input.piece {
        c.range("piece", "A piece", p.0, 1.0, 100_000.0, "g");
    }
    c.range("weighed", "The number of weighed pieces", input.weighed.len() as f64, 0.0, 200.0, "");
    for (i, w) in input.weighed.iter().enumerate() {
        c.range(&format!("weighed.{i}"), "A piece", w.0, 0.0, 100_000.0, "g");
    }
    if let Some(cm) = input.rolled {
        ROLLED.check(&mut c, "rolled", cm);
    }
    c.done(())?;
    let pieces = f64::from(input.pieces);
    let piece = input.piece.unwrap_or(input.dough / pieces);
    Ok(DivideOutput {
        near_enough: (piece * (1.0 - NEAR_ENOUGH), piece * (1.0 + NEAR_ENOUGH)),
        left_over: input.dough - piece * pieces,
        tree: tree(piece * pieces, input.pieces),
        grid: input.rolled.map(|cm| grid(piece * pieces, input.pieces, cm)),
        pinches: pinches(&input.weighed, piece),
        piece,
    })
}

/// By halves first, for the eye halves best, then by thirds and so on.
fn tree(dough: Grams, pieces: u32) -> Vec<Parting> {
    let (mut left, mut parts) = (pieces, 1);
    let mut all = Vec::new();
    let mut by = 2;
    while left > 1 {
        if left % by == 0 {
            left /= by;
            parts *= by;
            all.push(Parting { into: by, parts, each: dough / f64::from(parts) });
        } else {
            by += 1;
        }
    }
    all
}

/// The grid nearest to a square sheet.
fn grid(dough: Grams, pieces: u32, thick: f64) -> Grid {
    let rows = (1..=pieces).filter(|r| pieces.is_multiple_of(*r) && r * r <= pieces).max().unwrap_or(1);
    let columns = pieces / rows;
    let area = dough.0 / DOUGH_DENSITY / thick;
    let side = (area / f64::from(pieces)).sqrt();
    let cuts = |n: u32| (1..n).map(|i| side * f64::from(i)).collect();
    Grid {
        columns,
        rows,
        side,
        sheet: (side * f64::from(columns), side * f64::from(rows)),
        along: cuts(columns),
        across: cuts(rows),
    }
}

/// Takes from the heaviest for the lightest until all are near enough.
fn pinches(weighed: &[Grams], piece: Grams) -> Vec<Pinch> {
    let mut over: Vec<f64> = weighed.iter().map(|w| w.0 - piece.0).collect();
    let near = NEAR_ENOUGH * piece.0;
    let mut all = Vec::new();
    for _ in 0..2 * weighed.len() {
        let most = (0..over.len()).max_by(|a, b| over[*a].total_cmp(&over[*b]));
        let least = (0..over.len()).min_by(|a, b| over[*a].total_cmp(&over[*b]));
        let (Some(most), Some(least)) = (most, least) else { break };
        let (spare, lacks) = (over[most], -over[least]);
        if spare <= near && lacks <= near {
            break;
        }
        if spare > 0.0 && lacks > 0.0 && most != least {
            let grams = spare.min(lacks);
            all.push(Pinch { from: most, to: Some(least), grams: Grams(grams) });
            over[most] -= grams;
            over[least] += grams;
        } else if spare > near {
            all.push(Pinch { from: most, to: None, grams: Grams(spare) });
            over[most] = 0.0;
        } else {
            break;
        }
    }
    all
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn of(dough: f64, pieces: u32) -> DivideInput {
        DivideInput { dough: Grams(dough), pieces, piece: None, weighed: Vec::new(), rolled: None }
    }

    #[test]
    fn twelve_are_halved_twice_and_cut_in_three() {
        let out = divide(&of(1200.0, 12)).unwrap();
        let into: Vec<_> = out.tree.iter().map(|p| (p.into, p.parts, p.each.0)).collect();
        assert_eq!(into, [(2, 2, 600.0), (2, 4, 300.0), (3, 12, 100.0)]);
        assert_eq!(out.near_enough, (Grams(98.0), Grams(102.0)));
    }

    #[test]
    fn a_sheet_has_its_marks() {
        let out = divide(&DivideInput { rolled: Some(1.5), ..of(1140.0, 12) }).unwrap();
        let g = out.grid.unwrap();
        assert_eq!((g.columns, g.rows, g.along.len(), g.across.len()), (4, 3, 3, 2));
        assert!((g.side * g.side * 1.5 * 12.0 * DOUGH_DENSITY - 1140.0).abs() < 1e-6);
        assert!((g.along[2] - 3.0 * g.side).abs() < 1e-9);
    }

    #[test]
    fn a_heavy_piece_gives_to_a_light_one() {
        let weighed = [108.0, 92.0, 100.5].map(Grams).to_vec();
        let out = divide(&DivideInput { weighed, ..of(300.0, 3) }).unwrap();
        assert_eq!(out.pinches, [Pinch { from: 0, to: Some(1), grams: Grams(8.0) }]);
        let heavy = [110.0, 101.0].map(Grams).to_vec();
        let out = divide(&DivideInput { piece: Some(Grams(100.0)), weighed: heavy, ..of(250.0, 2) }).unwrap();
        assert_eq!((out.pinches.len(), out.pinches[0].to, out.left_over.0), (1, None, 50.0));
    }

    proptest! {
        #[test]
        fn shares_add_up_and_pinching_evens_them(dough in 100.0..5000.0f64, pieces in 1u32..60, off in prop::collection::vec(-0.2..0.2f64, 1..60)) {
            let share = dough / f64::from(pieces);
            let n = (pieces as usize).min(off.len());
            let mean: f64 = off[..n].iter().sum::<f64>() / n as f64;
            let weighed: Vec<Grams> = off[..n].iter().map(|o| Grams(share * (1.0 + o - mean))).collect();
            let out = divide(&DivideInput { weighed: weighed.clone(), ..of(dough, pieces) }).unwrap();
            prop_assert!((out.piece.0 * f64::from(pieces) + out.left_over.0 - dough).abs() < 1e-6);
            prop_assert!(out.tree.iter().map(|p| p.into).product::<u32>() == pieces);
            let mut after: Vec<f64> = weighed.iter().map(|w| w.0).collect();
            for p in &out.pinches {
                after[p.from] -= p.grams.0;
                if let Some(to) = p.to { after[to] += p.grams.0; }
            }
            for w in after {
                prop_assert!((w - share).abs() <= NEAR_ENOUGH * share + 1e-6, "{w} for {share}");
            }
        }
    }
}
