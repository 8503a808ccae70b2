//! A formula as the bread that comes of it.

use cerealis_core::formula::Formula;
use cerealis_core::units::Grams;

use crate::picture::Bread;

/// Millilitres of baked bread from a gram of dough (common practice, no source).
const BAKED: f64 = 3.0;

/// What the bread of a formula is drawn by.
pub fn picture_of(f: &Formula) -> Bread {
    let shape = &f.shape;
    let dough: Grams = f.lines.iter().filter(|l| l.stage.in_dough()).map(|l| l.grams).sum();
    let share = (dough - f.makeups_weight()) / f64::from(shape.pieces.max(1));
    let piece = shape.piece_weight.unwrap_or(share).0.clamp(20.0, 3000.0);
    Bread {
        style: f.style,
        kind: shape.kind,
        pieces: shape.pieces,
        strands: shape.strands,
        score: f.finish.score(shape.kind),
        vessel: f.oven.vessel,
        size: shape.kind.size(BAKED * piece),
    }
}
