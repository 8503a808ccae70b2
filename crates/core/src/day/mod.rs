//! The day: the steps of a dough, in their order, on the clock.

mod clock;
mod lay;
mod wish;

pub use clock::{ClockStep, Day, Doubt, schedule};
pub use lay::{Layout, Step, StepKind, Window};
pub use wish::{Anchor, DayWish};
