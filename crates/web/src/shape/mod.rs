//! The Shape station on the page.

mod answer;
mod fields;

pub use answer::ShapeOut;
pub use fields::ShapeFields;
