//! A bake: one dough made once. What happened is a list of events that is only ever added to; what a bake is at a moment is
//! the fold of its events, in whatever order they arrived.

mod answer;
mod due;
mod event;
mod fold;
mod rising;
mod start;
#[cfg(test)]
mod tests;
mod weigh;

pub use answer::{BakeAnswer, BakeInput, bake_state, doubt, moved, stands};
pub use due::{Due, DueStep, Span, Timer};
pub use event::{Bell, Event, EventKey, Reading, What};
pub use fold::{BakeState, Note, Outcome, Photo, StepState, on_its_plan, replay};
pub use rising::{of_watch, watch};
pub use start::{NOTE_MAX, OfPlan, Start};
pub use weigh::{Over, WeighInput, WeighOutput, Weighed, weigh};
