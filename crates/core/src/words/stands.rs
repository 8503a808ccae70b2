//! What dough stands in while it rises.

use crate::choice::choice;

choice! {
    /// What the dough stands in.
    #[derive(Default)]
    Stands {
        /// A bowl or tub with a lid or cloth.
        #[default]
        Tub = "tub", "Bowl or tub, covered";
        /// A steel tin.
        Tin = "tin", "Tin";
        /// A basket lined with cloth.
        Basket = "basket", "Basket";
        /// On a sheet or board, loosely covered.
        Sheet = "sheet", "Sheet or board";
        /// A cool box or a wrapped pot.
        Box = "box", "Insulated box";
    }
}

impl Stands {
    /// How strongly its walls and air keep heat from the dough, against a covered bowl (common
    /// practice, no source).
    pub fn insulates(self) -> f64 {
        match self {
            Stands::Tub => 1.0,
            Stands::Tin | Stands::Sheet => 0.8,
            Stands::Basket => 1.3,
            Stands::Box => 3.0,
        }
    }
}
