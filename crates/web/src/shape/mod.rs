//! The Shape station on the page.

mod answer;
mod asked;
mod fields;

pub use answer::ShapeOut;
pub use asked::ShapeAsked;
pub use fields::{ShapeFields, pans, scores};
