//! The six stations that a formula is worked at.

use crate::choice::choice;

choice! {
    /// The six stations in the order of the hands.
    Station {
        /// What goes in.
        Formula = "formula", "Formula";
        /// Water, mixing, kneading.
        Mix = "mix", "Mix";
        /// Bulk rise and proof.
        Rise = "rise", "Rise";
        /// Pieces.
        Shape = "shape", "Shape";
        /// Temperature and minutes.
        Oven = "oven", "Oven";
        /// The clock.
        Day = "day", "Day";
    }
}
