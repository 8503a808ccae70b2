//! The day: the tasks of a dough, laid out in minutes, on the clock.

mod clock;
mod lay;
mod task;
mod wish;

pub use clock::{ClockStep, Day, Doubt, schedule};
pub use lay::{LaidOut, Step, lay};
pub use task::{Lasts, Moment, Moves, Needs, OvenNeed, Point, StepKind, Task, Tasks, lead_up};
pub use wish::{Anchor, DayWish};
