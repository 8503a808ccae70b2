//! What is wanted at the Shape station.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::bed::TOGETHER;
use super::braid::{Hand, lengthens};
use super::pan::{PanForm, PanShape};
use crate::fault::{Check, Fault};
use crate::range::Range;
use crate::units::Grams;
use crate::words::Kind;

/// How many pieces.
pub const PIECES: Range = Range::of("The number of pieces", 1.0, 200.0, "");
/// What a piece weighs.
pub const PIECE: Range = Range::of("A piece", 5.0, 20_000.0, "g");
/// Strands of a plait.
pub const STRANDS: Range = Range::of("The number of strands", 1.0, 8.0, "");
/// How long a strand is rolled.
pub const STRAND_LENGTH: Range = Range::of("A strand", 8.0, 120.0, "cm");
/// What the dough really weighs.
pub const ON_SCALE: Range = Range::of("The dough on the scale", 1.0, 100_000.0, "g");
/// How thick it is rolled.
pub const ROLLED: Range = Range::of("The rolled sheet", 0.3, 8.0, "cm");

/// Length and width of a pan that is none of the kitchen's.
pub const TIN: Range = Range::of("The pan", 3.0, 100.0, "cm");
/// Its depth.
pub const TIN_DEPTH: Range = Range::of("The pan's depth", 0.5, 40.0, "cm");

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
    /// How long each strand is rolled, 8 to 120 cm; by the size of the loaf when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = STRAND_LENGTH.limit())]
    pub strand_length: Option<f64>,
    /// Whether two strands are laid as a cross, and their ends worked over each other.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub crossed: bool,
    /// From which side a plait is begun.
    #[serde(default, skip_serializing_if = "is_right")]
    pub hand: Hand,
    /// The kitchen's pan that it goes into, by name, at most 40 characters.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pan: Option<String>,
    /// How many lie in one pan, touching, 1 to 60; one, and all of pull-apart rolls, when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = TOGETHER.limit())]
    pub together: Option<u32>,
    /// Length in cm of a pan that is none of the kitchen's, or the width of a round one, 3 to 100.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = TIN.limit())]
    pub tin_length: Option<f64>,
    /// Its width in cm, 3 to 100; round when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = TIN.limit())]
    pub tin_width: Option<f64>,
    /// Its depth in cm, 0.5 to 40; 5 when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = TIN_DEPTH.limit())]
    pub tin_depth: Option<f64>,
    /// What the dough really weighs on the scale, 1 g to 100 kg; as it was formulated when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = ON_SCALE.limit())]
    pub on_scale: Option<Grams>,
    /// How thick the dough is rolled to be cut in squares, or a flat bake is pressed out, 0.3 to 8 cm; not rolled when
    /// left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = ROLLED.limit())]
    pub rolled: Option<f64>,
}

/// How deep a pan is of which only length and width are said, cm (common practice, no source).
const TIN_DEEP: f64 = 5.0;

/// A pan as narrow as this is one for loaves, and deeper, cm (common practice, no source).
const LOAF_WIDE: f64 = 15.0;
const LOAF_DEEP: f64 = 7.0;

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
            strand_length: None,
            crossed: false,
            hand: Hand::default(),
            pan: None,
            together: None,
            tin_length: None,
            tin_width: None,
            tin_depth: None,
            on_scale: None,
            rolled: None,
        }
    }

    /// Whether it is a plait of two strands that are laid as a cross.
    pub fn is_crossed(&self) -> bool {
        self.crossed && self.strands == 2 && self.kind == Kind::Braid
    }

    /// How much longer its strands are than the loaf they make.
    pub fn lengthens(&self) -> f64 {
        lengthens(self.strands, self.kind == Kind::RoundBraid, self.is_crossed())
    }

    /// The pan that is none of the kitchen's.
    pub fn tin(&self) -> Option<PanForm> {
        Some(PanForm {
            shape: if self.tin_width.is_some() { PanShape::Tin } else { PanShape::Round },
            length: self.tin_length?,
            width: self.tin_width,
            base_length: None,
            base_width: None,
            depth: self.tin_depth.unwrap_or(match self.tin_width {
                Some(width) if width <= LOAF_WIDE => LOAF_DEEP,
                _ => TIN_DEEP,
            }),
        })
    }

    /// How many lie in one pan, touching.
    pub fn in_one_pan(&self) -> u32 {
        let usual = if self.kind == Kind::PullApart { self.pieces.min(60) } else { 1 };
        self.together.unwrap_or(usual).clamp(1, self.pieces.max(1))
    }

    /// Notes what is out of range.
    pub fn check(&self, c: &mut Check) {
        PIECES.check(c, "shape.pieces", f64::from(self.pieces));
        STRANDS.check(c, "shape.strands", f64::from(self.strands));
        PIECE.check_some(c, "shape.piece_weight", self.piece_weight.map(|w| w.0));
        ON_SCALE.check_some(c, "shape.on_scale", self.on_scale.map(|g| g.0));
        STRAND_LENGTH.check_some(c, "shape.strand_length", self.strand_length);
        ROLLED.check_some(c, "shape.rolled", self.rolled);
        TOGETHER.check_some(c, "shape.together", self.together.map(f64::from));
        TIN.check_some(c, "shape.tin_length", self.tin_length);
        TIN.check_some(c, "shape.tin_width", self.tin_width);
        TIN_DEPTH.check_some(c, "shape.tin_depth", self.tin_depth);
        if self.tin_length.is_none() && (self.tin_width.is_some() || self.tin_depth.is_some()) {
            c.note(Fault::new(
                "missing",
                "shape.tin_length",
                "Give the pan's length, or the width of a round one.",
            ));
        }
        c.length("shape.pan", "The pan's name", self.pan.as_deref().unwrap_or_default(), 40);
    }
}
