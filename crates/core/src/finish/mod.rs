//! Finishing: what is done to the pieces just before the oven, while they bake and afterwards.

mod coat;
mod cuts;
mod input;
mod moment;
mod steps;
mod wish;

pub use cuts::{Cut, Score};
pub use input::{FinishInput, FinishStep, GoesOn, When};
pub use moment::{GoesOnAt, LATEST_MINUTE, Pieces};
pub use steps::finish;
pub use wish::FinishWish;
