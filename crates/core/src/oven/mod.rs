//! Oven: temperature and minutes for what goes in.
//!
//! A one-dimensional heat balance of the loaf with evaporation gives core, crust and loss; a
//! search over it finds the temperature at which colour and core come out together. See
//! `docs/oven.md` for what is assumed and how it was checked.

mod asked;
mod bake;
mod heating;
mod learned;
mod loaf;
mod physics;
mod setting;

pub use asked::*;
pub use bake::*;
pub use heating::*;
pub use learned::*;
pub use loaf::*;
pub use physics::*;
pub use setting::*;
