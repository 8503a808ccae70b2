//! Finishing: what is done to the pieces just before the oven, while they bake and afterwards.

mod cuts;
mod steps;
mod wish;

pub use cuts::{Cut, Score};
pub use steps::{FinishInput, FinishStep, GoesOn, When, finish};
pub use wish::FinishWish;
