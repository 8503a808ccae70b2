//! Rise: how fast a dough swells, and when it is ready.
//!
//! Baker's yeast and a culture make gas at rates that follow the dough's temperature; the gas
//! first dissolves, then swells the dough until its flour can hold no more. See `docs/rise.md`
//! for what is assumed and how it was checked.

mod rates;
mod rise;

pub use rates::*;
pub use rise::*;
