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

impl Handling {
    /// The share of its gas that a dough keeps (common practice, no source).
    pub fn keeps(self) -> f64 {
        match self {
            Handling::Gentle => 0.75,
            Handling::Firm => 0.25,
        }
    }
}
