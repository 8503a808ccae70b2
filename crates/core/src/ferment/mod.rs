//! Rise: how fast a dough swells, and when it is ready.
//!
//! Baker's yeast and a culture make gas at rates that follow the dough's temperature; the gas
//! first dissolves, then swells the dough until its flour can hold no more. See `docs/rise.md`
//! for what is assumed and how it was checked.
//!
//! `rates.rs` holds every parameter, `dough.rs` and `places.rs` what goes in, `model.rs` the
//! equations. On them stand the forecast (`rise.rs`), preferments (`levain.rs`), the questions put
//! the other way round (`inverse.rs`), what a degree or a gram is worth (`matters.rs`), and what a
//! reading at the tub tells (`readings.rs`).

mod dough;
mod inverse;
mod levain;
mod matters;
mod model;
mod places;
mod rates;
mod readings;
mod rise;

pub use dough::*;
pub use inverse::*;
pub use levain::*;
pub use matters::*;
pub use places::*;
pub use rates::*;
pub use readings::*;
pub use rise::*;
