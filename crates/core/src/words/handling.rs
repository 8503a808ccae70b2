//! How dough is handled when it is divided.

use crate::choice::choice;

choice! {
    /// How the dough is handled when it is divided and shaped: what that leaves of its gas.
    Handling {
        /// Folded over gently: three quarters of the gas stay.
        Gentle = "gentle", "Handle gently";
        /// Knocked down: a quarter stays.
        Firm = "firm", "Knock down";
    }
}

/// The share of its gas that dough keeps when it is folded, in a set of folds as before shaping (common
/// practice, no source).
pub const GENTLY_KEEPS: f64 = 0.75;

impl Handling {
    /// The share of its gas that a dough keeps (common practice, no source).
    pub fn keeps(self) -> f64 {
        match self {
            Handling::Gentle => GENTLY_KEEPS,
            Handling::Firm => 0.25,
        }
    }
}
