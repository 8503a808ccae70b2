//! What is wanted at the Shape station.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::braid::Hand;
use crate::fault::Check;
use crate::range::Range;
use crate::units::Grams;
use crate::words::Kind;

/// How many pieces.
pub const PIECES: Range = Range::of("The number of pieces", 1.0, 200.0, "");
/// What a piece weighs.
pub const PIECE: Range = Range::of("A piece", 5.0, 20_000.0, "g");
/// Strands of a plait.
pub const STRANDS: Range = Range::of("The number of strands", 1.0, 8.0, "");
/// What the dough really weighs.
pub const ON_SCALE: Range = Range::of("The dough on the scale", 1.0, 100_000.0, "g");
/// How thick it is rolled.
pub const ROLLED: Range = Range::of("The rolled sheet", 0.3, 8.0, "cm");

/// What is wanted at the Shape station.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ShapeWish {
    /// The shape of the pieces.
    pub kind: Kind,
    /// How many, 1 to 200.
    #[schemars(transform = PIECES.limit())]
    pub pieces: u32,
    /// What each should weigh; an equal share of the dough when left out.
    #[serde(default)]
    #[schemars(transform = PIECE.limit())]
    pub piece_weight: Option<Grams>,
    /// Strands of a plait, 1 to 8.
    #[serde(default = "three")]
    #[schemars(transform = STRANDS.limit())]
    pub strands: u32,
    /// From which side a plait is begun.
    #[serde(default, skip_serializing_if = "is_right")]
    pub hand: Hand,
    /// The kitchen's pan that it goes into, by name, at most 40 characters.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pan: Option<String>,
    /// What the dough really weighs on the scale, 1 g to 100 kg; as it was formulated when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = ON_SCALE.limit())]
    pub on_scale: Option<Grams>,
    /// How thick the dough is rolled to be cut in squares, 0.3 to 8 cm; not rolled when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = ROLLED.limit())]
    pub rolled: Option<f64>,
}

fn three() -> u32 {
    3
}

fn is_right(hand: &Hand) -> bool {
    *hand == Hand::Right
}

impl ShapeWish {
    /// Pieces of a shape in equal shares, with nothing else wanted.
    pub fn of(kind: Kind, pieces: u32) -> ShapeWish {
        ShapeWish {
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
        PIECES.check(c, "shape.pieces", f64::from(self.pieces));
        STRANDS.check(c, "shape.strands", f64::from(self.strands));
        PIECE.check_some(c, "shape.piece_weight", self.piece_weight.map(|w| w.0));
        ON_SCALE.check_some(c, "shape.on_scale", self.on_scale.map(|g| g.0));
        ROLLED.check_some(c, "shape.rolled", self.rolled);
        c.length("shape.pan", "The pan's name", self.pan.as_deref().unwrap_or_default(), 40);
    }
}
