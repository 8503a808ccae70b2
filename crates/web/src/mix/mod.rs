//! The Mix station on the page.

mod answer;
mod fields;

pub use answer::MixOut;
pub use fields::MixFields;
