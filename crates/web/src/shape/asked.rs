//! What is asked beside the plan at the Shape station: pieces that have been weighed.

use cerealis_core::fault::Faults;
use cerealis_core::formula::Formula;
use cerealis_core::shape::{DivideInput, DivideOutput, divide};
use cerealis_core::stations::Stations;
use cerealis_core::units::Grams;

use crate::asks::Asks;

/// The answers, each with what is wrong where there is none.
pub struct ShapeAsked {
    /// What to pinch off where; `None` where nothing was weighed.
    pub weighed: Option<Result<DivideOutput, Faults>>,
    /// How many pieces were weighed.
    pub count: usize,
}

impl ShapeAsked {
    /// Works out what is asked.
    pub fn of(asks: &Asks, f: &Formula, s: &Stations) -> Self {
        let input = || DivideInput {
            dough: s.shape.used.max(Grams(1.0)),
            pieces: f.shape.pieces,
            piece: Some(s.shape.piece.max(Grams(1.0))),
            weighed: asks.weighed.clone(),
            rolled: None,
        };
        let weighed = (!asks.weighed.is_empty()).then(|| divide(&input()));
        ShapeAsked { weighed, count: asks.weighed.len() }
    }
}
