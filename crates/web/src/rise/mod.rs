//! The Rise station on the page.

mod answer;
mod asked;
mod fields;

pub use answer::RiseOut;
pub use asked::RiseAsked;
pub use fields::RiseFields;
