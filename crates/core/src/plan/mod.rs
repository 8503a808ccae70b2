//! The day: several doughs, one household's hands and ovens, and a life beside them.

mod answer;
mod blocks;
mod chance;
mod choose;
mod model;
mod problem;
mod search;
mod ways;
mod wish;

pub use answer::{DaysAnswer, DaysInput, DoughAnswer, OfferAnswer, PlannedStep, Replanned, days, replan};
pub use chance::Chance;
pub use choose::{Candidate, Choice, Offer, choose};
pub use problem::{Closed, Costs, Lane, Outcome, Placed, Problem, STEP, Solved, TOGETHER, Wanted};
pub use search::solve;
pub use ways::{Doubtful, Way, WayKind, ways};
pub use wish::{DAYS_MAX, DOUGHS_MAX, DayPlan, Exception, Fixed, Pins, PlanDough, Taken, WantedAs};
