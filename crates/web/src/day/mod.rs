//! The Day station on the page.

mod answer;
mod fields;

pub use answer::{DayOut, DayRow, day_rows};
pub use fields::DayFields;
