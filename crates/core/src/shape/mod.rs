//! Pieces: how many, how heavy, and what size they have on the bench and in the oven.
//!
//! The proportions are common practice, without a source.

mod braid;
mod divide;
mod pan;
mod pan_line;
mod steps;
mod tray;

pub use braid::*;
pub use divide::*;
pub use pan::*;
pub use pan_line::*;
pub use steps::*;
pub use tray::*;

use std::f64::consts::PI;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::fault::{Check, Faults};
use crate::ferment::DOUGH_DENSITY;
use crate::units::{Grams, Minutes};
use crate::words::Kind;

impl Kind {
    /// Its outer size for a volume in ml.
    pub fn size(self, ml: f64) -> Size {
        let cube = |shape: f64| (ml / shape).cbrt();
        let of = |width: f64, height: f64, length: f64| Size { width, height, length };
        match self {
            Kind::Round => ellipsoid(ml, 0.5, 1.0),
            Kind::RoundBraid => ellipsoid(ml, 0.5, 1.0),
            Kind::Roll => ellipsoid(ml, 0.62, 1.0),
            Kind::Bun | Kind::Dipped => ellipsoid(ml, 0.45, 1.0),
            Kind::FoldOver => ellipsoid(ml, 0.5, 1.3),
            Kind::PullApart => {
                let w = cube(0.8);
                of(w, 0.8 * w, w)
            }
            Kind::Ring => {
                // A roll of width w and height 0.8 w, bent so that the ring is four times as wide.
                let w = cube(0.8 * PI / 4.0 * PI * (RING - 1.0));
                of(RING * w, 0.8 * w, RING * w)
            }
            Kind::Batard => ellipsoid(ml, 0.6, 1.9),
            Kind::Baguette => {
                let w = cube(PI / 4.0 * 0.75 * 8.5);
                of(w, 0.75 * w, 8.5 * w)
            }
            Kind::Braid => {
                let w = cube(PI / 4.0 * 0.62 * 2.8);
                of(w, 0.62 * w, 2.8 * w)
            }
            Kind::Tin | Kind::Spirals | Kind::Swirl => {
                let w = cube(1.05 * 2.1);
                of(w, 1.05 * w, 2.1 * w)
            }
            Kind::Flat => {
                // A flat bake keeps its height and spreads: 2.5 cm when it is baked.
                let w = (ml / (2.5 * 1.4)).sqrt();
                of(w, 2.5, 1.4 * w)
            }
        }
    }

    /// Hands-on minutes to divide and shape one piece, and the rest before the final shape.
    fn work(self) -> (f64, f64) {
        match self {
            Kind::Round | Kind::Batard => (2.0, 20.0),
            Kind::Baguette => (2.5, 20.0),
            Kind::Tin => (2.0, 15.0),
            Kind::Spirals => (4.0, 15.0),
            Kind::Swirl => (6.0, 10.0),
            Kind::Braid | Kind::RoundBraid => (6.0, 10.0),
            Kind::Ring => (3.0, 15.0),
            Kind::Roll | Kind::PullApart => (0.6, 10.0),
            Kind::Bun => (0.7, 10.0),
            Kind::FoldOver => (0.8, 10.0),
            Kind::Dipped => (1.2, 10.0),
            Kind::Flat => (2.0, 0.0),
        }
    }
}

/// How many times as wide a ring is as the roll that it is made of.
pub const RING: f64 = 4.0;

fn ellipsoid(ml: f64, flat: f64, long: f64) -> Size {
    let w = (ml / (PI / 6.0 * flat * long)).cbrt();
    Size { width: w, height: flat * w, length: long * w }
}

/// The outer size of a piece in cm.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Size {
    /// Width.
    pub width: f64,
    /// Height.
    pub height: f64,
    /// Length; the width again for what is round.
    pub length: f64,
}

/// What is wanted at the Shape station.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ShapePlan {
    /// The shape of the pieces.
    pub kind: Kind,
    /// How many, 1 to 200.
    pub pieces: u32,
    /// What each should weigh; an equal share of the dough when left out.
    #[serde(default)]
    pub piece_weight: Option<Grams>,
    /// Strands of a plait, 1 to 8.
    #[serde(default = "three")]
    pub strands: u32,
    /// From which side a plait is begun.
    #[serde(default, skip_serializing_if = "is_right")]
    pub hand: Hand,
    /// The kitchen's pan that it goes into, by name, at most 40 characters.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pan: Option<String>,
    /// What the dough really weighs on the scale, 1 g to 100 kg; as it was formulated when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub on_scale: Option<Grams>,
    /// How thick the dough is rolled to be cut in squares, 0.3 to 8 cm; not rolled when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub rolled: Option<f64>,
}

fn three() -> u32 {
    3
}

fn is_right(hand: &Hand) -> bool {
    *hand == Hand::Right
}

impl ShapePlan {
    /// Pieces of a shape in equal shares, with nothing else wanted.
    pub fn of(kind: Kind, pieces: u32) -> ShapePlan {
        ShapePlan {
            kind,
            pieces,
            piece_weight: None,
            strands: three(),
            hand: Hand::default(),
            pan: None,
            on_scale: None,
            rolled: None,
        }
    }

    /// Notes what is out of range.
    pub fn check(&self, c: &mut Check) {
        c.range("shape.pieces", "The number of pieces", f64::from(self.pieces), 1.0, 200.0, "");
        c.range("shape.strands", "The number of strands", f64::from(self.strands), 1.0, 8.0, "");
        if let Some(w) = self.piece_weight {
            c.range("shape.piece_weight", "A piece", w.0, 5.0, 20_000.0, "g");
        }
        if let Some(g) = self.on_scale {
            c.range("shape.on_scale", "The dough on the scale", g.0, 1.0, 100_000.0, "g");
        }
        if let Some(cm) = self.rolled {
            c.range("shape.rolled", "The rolled sheet", cm, 0.3, 8.0, "cm");
        }
        c.length("shape.pan", "The pan's name", self.pan.as_deref().unwrap_or_default(), 40);
    }
}

/// What dividing and shaping depend on.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ShapeInput {
    /// The dough to divide.
    pub dough: Grams,
    /// What is wanted.
    pub shape: ShapePlan,
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
    /// How long to roll a strand, in cm: 1.6 times the proofed loaf.
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
        strand_length: braid.then_some(1.6 * proofed.length),
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

fn notes(plan: &ShapePlan, piece: Grams, left_over: Grams) -> Vec<String> {
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
    use super::*;
    use proptest::prelude::*;

    fn input(dough: f64, kind: Kind, pieces: u32) -> ShapeInput {
        ShapeInput {
            dough: Grams(dough),
            shape: ShapePlan { strands: 4, ..ShapePlan::of(kind, pieces) },
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
