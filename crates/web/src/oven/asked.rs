//! What is asked beside the plan at the Oven station: a thermometer in the loaf, other sizes.

use cerealis_core::fault::Faults;
use cerealis_core::oven::{BySizeInput, SizeRow, WhatNow, by_size, usual_sizes, what_now};
use cerealis_core::stations::Stations;

use crate::asks::Asks;

/// The answers, each with what is wrong where there is none.
pub struct OvenAsked {
    /// What a thermometer in the loaf says.
    pub probed: Option<Result<WhatNow, Faults>>,
    /// The same dough at every usual size.
    pub sizes: Option<Result<Vec<SizeRow>, Faults>>,
}

impl OvenAsked {
    /// Works out what is asked.
    pub fn of(asks: &Asks, s: &Stations) -> Self {
        let sizes = || by_size(&BySizeInput { bake: s.bake_input.clone(), sizes: usual_sizes() });
        OvenAsked { probed: asks.probe.map(|read| what_now(&s.bake, &read)), sizes: asks.ways.then(sizes) }
    }
}
