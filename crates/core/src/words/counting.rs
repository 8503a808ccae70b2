//! The two ways of writing a formula with a starter.

use crate::choice::choice;

choice! {
    /// How a starter is counted: the two ways of writing a formula. Both give the same grams.
    #[derive(Default)]
    Counting {
        /// Percentages are of all flour, that of levain and preferments included.
        #[default]
        AllFlour = "all-flour", "Starter's flour counted in";
        /// Percentages are of the flour of the final dough; a starter stands beside it.
        FinalFlour = "final-flour", "Starter beside the flour";
    }
}
