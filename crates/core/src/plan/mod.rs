//! The day: several doughs, one household's hands and ovens, and a life beside them.

mod alone;
mod answer;
mod blocks;
mod chance;
mod choose;
mod combinations;
mod doughs;
mod exact;
mod hands;
mod heat;
mod model;
mod nights;
mod offers;
mod otherwise;
mod problem;
mod search;
mod shopping;
mod spots;
mod standing;
mod terms;
mod things;
mod trials;
mod way_out;
mod ways;
mod wish;

pub use answer::{Asked, DaysAnswer, DaysInput, DoughAnswer, KnownWays, OfferAnswer, PlannedStep, days};
pub use chance::Chance;
pub use choose::choose;
pub use combinations::Candidate;
pub use hands::{Exception, Who};
pub use offers::{Choice, Offer, Search};
pub use otherwise::{Began, Onward, Otherwise, ReplanInput, Replanned, Rest, replan};
pub use problem::{
    Closed, Costs, Gives, Lane, LaneHold, Outcome, Placed, Problem, STEP, Solved, TOGETHER, Wanted,
};
pub use search::{quick, solve};
pub use shopping::{Needed, shopping, shopping_of};
pub use way_out::WayOut;
pub use ways::{Doubtful, TakenLane, Way, WayKind, ways};
pub use wish::{
    DAYS_MAX, DOUGHS_MAX, DayPlan, EXCEPTIONS_MAX, Fixed, Pins, PlanDough, Taken, Told, ToldStep, WantedAs,
};
