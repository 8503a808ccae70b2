//! The Oven station on the page.

mod answer;
mod fields;

pub use answer::{OvenOut, this_oven};
pub use fields::OvenFields;
