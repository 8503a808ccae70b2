//! The Rise station on the page.

mod answer;
mod fields;

pub use answer::RiseOut;
pub use fields::RiseFields;
