//! The size of a piece, and the work that it is. The proportions are common practice, without a source.

use std::f64::consts::PI;

use schemars::JsonSchema;
use serde::Serialize;

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
                let w = cube(PI / 4.0 * 0.7 * 2.4);
                of(w, 0.7 * w, 2.4 * w)
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
    pub(super) fn work(self) -> (f64, f64) {
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
