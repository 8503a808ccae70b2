//! The Oven station on the page.

mod answer;
mod asked;
mod fields;

pub use answer::{OvenOut, this_oven};
pub use asked::OvenAsked;
pub use fields::OvenFields;
