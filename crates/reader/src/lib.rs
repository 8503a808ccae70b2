//! Reader: lines of kitchen English become amounts of ingredients in grams, with their doubts.
//!
//! A line is first put in order, its amount before its name and each thing by itself (`arrange.rs`). Then
//! it is a quantity, a unit, a name and some noise. Quantity and unit are a grammar
//! (`quantity.rs`, built on winnow); the name is matched to the catalogue (`name.rs`); `line.rs`
//! puts them together and weighs them, and doubts what was left over (`left_over.rs`); `method.rs` searches the steps for times, temperatures
//! and counts.

mod arrange;
mod besides;
mod course;
mod doubt;
mod either;
mod finding;
mod heading;
mod layout;
mod lead_in;
mod left_over;
mod line;
mod lines;
mod method;
mod name;
mod parts;
mod propose;
mod purpose;
mod quantity;
mod read;
mod sentence;
mod step;
mod told;
mod weigh;

pub use doubt::{HydrationDoubt, hydration_doubt};
pub use finding::{Finding, Found};
pub use line::weigh_as;
pub use lines::{LINES_MAX, LineKind, ReadInput, ReadLine};
pub use method::read_method;
pub use propose::{Fact, Proposal, likely_style, propose, take};
pub use quantity::{Amount, Count, Level, Unit};
pub use read::{ReadOutput, found_in, read};
pub use told::unlisted;
