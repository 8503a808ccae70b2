//! Oven: temperature and minutes for what goes in.
//!
//! A one-dimensional heat balance of the loaf with evaporation gives core, crust and loss; a
//! search over it finds the temperature at which colour and core come out together. See
//! `docs/oven.md` for what is assumed and how it was checked.

mod answer;
mod around;
mod asked;
mod baking;
mod body;
mod heating;
mod learned;
mod marks;
mod physics;
mod search;
mod setting;
mod wanted;
mod wish;

pub use answer::{BakeInput, BakeOutput, Cut, Last};
pub use around::{Heat, Outside, Surroundings, Wall};
pub use asked::{
    BySizeInput, CoolOutput, FAN_LOWER, Looks, Notations, ProbeReading, SizeRow, WhatNow, WhatNowInput,
    by_size, colour_card, cool, usual_sizes, what_now,
};
pub use baking::{Bake, BakeMoment, WATER_HEAT};
pub use body::{BREAD, Body, FACES, Loaf, Material};
pub use heating::{CUT_AT, PreheatInput, PreheatOutput, preheat};
pub use learned::{HotSide, Oven, OvenReading};
pub use marks::Marks;
pub use physics::{
    DOUGH_LIGHTNESS, LATENT, SEA_LEVEL, STEFAN, boiling_point, browning_rate, colour_word, pressure_at,
    saturation,
};
pub use search::bake;
pub use setting::{PARCHMENT_BEARS, Setting};
pub use wanted::usual_range;
pub use wish::{
    AJAR, BAKES_FOR, COOLS, COOLS_IN, COVERED, DIAL, HOT_START, HOT_START_MINUTES, HotStart, OVEN, OvenWish,
};
