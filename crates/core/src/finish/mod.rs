//! Finishing: what is done to the pieces just before the oven, while they bake and afterwards.

mod coat;
mod cuts;
mod steps;
mod wish;

pub use coat::{GoesOnAt, LATEST_MINUTE, Pieces};
pub use cuts::{Cut, Score};
pub use steps::{FinishInput, FinishStep, GoesOn, When, finish};
pub use wish::FinishWish;
