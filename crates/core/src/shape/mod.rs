//! Shaping: dividing, pieces and their sizes, plaits, pans and trays.

mod bed;
mod braid;
mod divide;
mod house_pan;
mod pan;
mod pieces;
mod size;
mod steps;
mod tray;
mod wish;

pub use bed::{Bed, TOGETHER};
pub use braid::{BraidInput, BraidOutput, BraidStep, Hand, Move, Passes, braid};
pub use divide::{DivideInput, DivideOutput, Grid, NEAR_ENOUGH, Parting, Pinch, divide};
pub use house_pan::Pan;
pub use pan::{PanForm, PanInput, PanOutput, PanShape, fill_rule, pan};
pub use pieces::{ShapeInput, ShapeOutput, shape};
pub use size::{RING, Size};
pub use steps::{FILLING, ShapeStep, steps};
pub use tray::{GAP, Lie, TrayInput, TrayOutput, tray};
pub use wish::{ON_SCALE, PIECE, PIECES, ROLLED, STRAND_LENGTH, STRANDS, ShapeWish, TIN, TIN_DEPTH};
