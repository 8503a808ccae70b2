//! Slips: what looks like a mistake of the pen, said before it costs a bake.

mod ahead;
mod amounts;
mod bath;
mod fahrenheit;
mod free_of;
mod leaven;
mod look;
mod pieces;
mod rules;
mod slip;
mod water;

pub(crate) use rules::mark_meant;
pub use rules::slips;
pub(crate) use slip::slip;
pub use slip::{Mend, Slip, Strength};
