//! What the air of an oven is to a bread.

use crate::choice::choice;

choice! {
    /// What the air of an oven is to what bakes in it.
    #[derive(Default)]
    Air {
        /// Dry.
        #[default]
        Dry = "dry", "dry";
        /// Steam for its first minutes.
        Steamed = "steamed", "steamed";
        /// No matter: it is under its own lid.
        Lidded = "lidded", "under a lid";
    }
}

impl Air {
    /// Whether two breads bake in one oven: steam is no place for what bakes dry, and under a lid there is neither.
    pub fn suits(self, other: Air) -> bool {
        self == other || self == Air::Lidded || other == Air::Lidded
    }
}
