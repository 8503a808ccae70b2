//! Pieces: how many, how heavy, and what size they have on the bench and in the oven.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::size::Size;
use super::wish::ShapeWish;
use crate::fault::{Check, Faults};
use crate::rise::DOUGH_DENSITY;
use crate::units::{Grams, Minutes};
use crate::words::Kind;

/// What dividing and shaping depend on.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ShapeInput {
    /// The dough to divide.
    pub dough: Grams,
    /// What is wanted.
    pub shape: ShapeWish,
    /// Volume against the dough without gas when shaped, 1 to 5.
    #[serde(default = "one")]
    pub shaped_volume: f64,
    /// The same when proofed.
    #[serde(default = "two")]
    pub proofed_volume: f64,
    /// Whether the dough is a batter that is filled and smoothed instead of shaped.
    #[serde(default)]
    pub batter: bool,
}

fn one() -> f64 {
    1.0
}

fn two() -> f64 {
    2.0
}

/// The pieces.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct ShapeOutput {
    /// What one piece weighs.
    pub piece: Grams,
    /// What all pieces weigh together.
    pub used: Grams,
    /// What is left over; below zero what is short.
    pub left_over: Grams,
    /// What one strand weighs, for a plait.
    pub strand: Option<Grams>,
    /// How long to roll a strand, in cm, by how the plait takes it up.
    pub strand_length: Option<f64>,
    /// Size when shaped.
    pub shaped: Size,
    /// Size when ready for the oven.
    pub proofed: Size,
    /// Volume of one proofed piece, ml.
    pub proofed_ml: f64,
    /// Hands-on minutes to divide and pre-shape.
    pub divide: Minutes,
    /// Rest before the final shape.
    pub rest: Minutes,
    /// Hands-on minutes for the final shape.
    pub shape: Minutes,
    /// What to know.
    pub notes: Vec<String>,
}

/// Divides the dough.
///
/// ```
/// use cerealis_core::shape::{ShapeInput, ShapeWish, shape};
/// use cerealis_core::units::Grams;
/// use cerealis_core::words::Kind;
/// let wish = ShapeWish::of(Kind::Roll, 8);
/// let input =
///     ShapeInput { dough: Grams(640.0), shape: wish, shaped_volume: 1.3, proofed_volume: 2.2, batter: false };
/// let rolls = shape(&input).unwrap();
/// assert_eq!((rolls.piece, rolls.left_over), (Grams(80.0), Grams(0.0)));
/// ```
///
/// # Errors
/// A figure outside its range, by its path.
pub fn shape(input: &ShapeInput) -> Result<ShapeOutput, Faults> {
    let mut c = Check::new();
    c.range("dough", "The dough", input.dough.0, 1.0, 1e6, "g");
    c.range("shaped_volume", "The shaped volume", input.shaped_volume, 1.0, 5.0, "times");
    c.range("proofed_volume", "The proofed volume", input.proofed_volume, 1.0, 5.0, "times");
    input.shape.check(&mut c);
    c.done(())?;
    let plan = &input.shape;
    let pieces = f64::from(plan.pieces);
    let piece = plan.piece_weight.unwrap_or(input.dough / pieces);
    let used = piece * pieces;
    let ml = piece.0 / DOUGH_DENSITY;
    let proofed = plan.kind.size(ml * input.proofed_volume);
    let braid = plan.kind.is_plaited();
    let (each, rest) = if input.batter { (1.5, 0.0) } else { plan.kind.work() };
    let hands = each * pieces;
    let left_over = input.dough - used;
    Ok(ShapeOutput {
        strand: braid.then(|| piece / f64::from(plan.strands)),
        strand_length: braid.then_some(plan.strand_length.unwrap_or(plan.lengthens() * proofed.length)),
        shaped: plan.kind.size(ml * input.shaped_volume),
        proofed_ml: ml * input.proofed_volume,
        proofed,
        divide: Minutes((0.4 * hands).max(1.0).ceil()),
        rest: Minutes(rest),
        shape: Minutes((0.6 * hands).max(1.0).ceil()),
        notes: notes(plan, piece, left_over),
        piece,
        used,
        left_over,
    })
}

fn notes(plan: &ShapeWish, piece: Grams, left_over: Grams) -> Vec<String> {
    let mut notes = Vec::new();
    if left_over.0 < -0.5 {
        notes.push(format!(
            "The dough is {:.0} g short of {} pieces of {:.0} g. Make fewer or lighter pieces, or scale the formula up.",
            -left_over.0, plan.pieces, piece.0
        ));
    } else if left_over.0 > 0.5 && left_over.0 >= 0.5 * piece.0 {
        notes.push(format!(
            "{:.0} g are left over, nearly another piece. Make one more, or share it out.",
            left_over.0
        ));
    }
    let usual = match plan.kind {
        Kind::Roll | Kind::FoldOver | Kind::PullApart => Some((40.0, 90.0, "a roll")),
        Kind::Bun | Kind::Dipped => Some((70.0, 140.0, "a bun")),
        Kind::Tin | Kind::Spirals | Kind::Swirl => Some((300.0, 1400.0, "a tin loaf")),
        Kind::Round | Kind::Batard => Some((250.0, 1600.0, "a hearth loaf")),
        Kind::Baguette => Some((150.0, 450.0, "a baguette")),
        Kind::Braid | Kind::RoundBraid => Some((80.0, 1200.0, "a plait")),
        Kind::Ring => Some((80.0, 1000.0, "a ring")),
        Kind::Flat => None,
    };
    if let Some((low, high, what)) = usual
        && !(low..=high).contains(&piece.0)
    {
        notes.push(format!("{:.0} g is unusual for {what}: {low} to {high} g is usual.", piece.0));
    }
    notes
}

#[cfg(test)]
mod tests {
    use super::super::size::RING;
    use super::super::wish::ShapeWish;
    use super::*;
    use proptest::prelude::*;
    use std::f64::consts::PI;

    fn input(dough: f64, kind: Kind, pieces: u32) -> ShapeInput {
        ShapeInput {
            dough: Grams(dough),
            shape: ShapeWish { strands: 4, ..ShapeWish::of(kind, pieces) },
            shaped_volume: 1.2,
            proofed_volume: 2.2,
            batter: false,
        }
    }

    #[test]
    fn a_plait_has_equal_strands_and_a_length_to_roll() {
        let out = shape(&input(800.0, Kind::Braid, 1)).unwrap();
        assert_eq!(out.strand, Some(Grams(200.0)));
        // 1.4 to 1.8 times the wanted loaf (common practice, no source).
        let ratio = out.strand_length.unwrap() / out.proofed.length;
        assert!((1.4..=1.8).contains(&ratio));
    }

    #[test]
    fn a_short_dough_is_said() {
        let mut i = input(800.0, Kind::Round, 2);
        i.shape.piece_weight = Some(Grams(450.0));
        let out = shape(&i).unwrap();
        assert_eq!(out.left_over, Grams(-100.0));
        assert!(out.notes[0].contains("100 g short"));
    }

    proptest! {
        #[test]
        fn pieces_and_leftovers_add_up(dough in 50.0..5000.0f64, pieces in 1u32..60, each in 5.0..500.0f64) {
            let mut i = input(dough, Kind::Roll, pieces);
            i.shape.piece_weight = Some(Grams(each));
            let out = shape(&i).unwrap();
            prop_assert!((out.used.0 + out.left_over.0 - dough).abs() < 1e-6);
        }

        #[test]
        fn a_size_has_its_volume(ml in 20.0..5000.0f64) {
            for kind in Kind::ALL {
                let s = kind.size(ml);
                let body = match kind {
                    Kind::Tin | Kind::Spirals | Kind::Swirl | Kind::PullApart | Kind::Flat => 1.0,
                    Kind::Braid | Kind::Baguette => PI / 4.0,
                    // The ring's tube, by its middle line: π/4 · π (RING − 1) / RING² of its box.
                    Kind::Ring => PI * PI / 4.0 * (RING - 1.0) / (RING * RING),
                    _ => PI / 6.0,
                };
                prop_assert!((body * s.width * s.height * s.length - ml).abs() < 1e-6 * ml);
            }
        }
    }
}
