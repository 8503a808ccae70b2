//! The shapes of pieces.

use crate::choice::choice;

choice! {
    /// The shape of a piece.
    Kind {
        /// A hearth round, half as high as wide.
        Round = "round", "Round";
        /// An oval hearth loaf.
        Batard = "batard", "Bâtard";
        /// A long thin stick.
        Baguette = "baguette", "Baguette";
        /// A loaf in a tin.
        Tin = "tin", "Tin loaf";
        /// Rolled spirals side by side in a tin, mostly with its lid on.
        Spirals = "spirals", "Rolled spirals in a tin";
        /// A sheet of dough rolled up with a filling, in a tin.
        Swirl = "swirl", "Filled swirl";
        /// A plait.
        Braid = "braid", "Plait";
        /// A round plait, woven of strands laid crosswise.
        RoundBraid = "round-braid", "Round plait";
        /// A roll bent into a ring.
        Ring = "ring", "Ring";
        /// A roll.
        Roll = "roll", "Roll";
        /// A bun, flatter than a roll.
        Bun = "bun", "Bun";
        /// A round folded over upon itself.
        FoldOver = "fold-over", "Fold-over roll";
        /// Rolls that touch in their pan.
        PullApart = "pull-apart", "Pull-apart rolls";
        /// A bun or knot that is dipped in a bath before it bakes.
        Dipped = "dipped", "Dipped bun";
        /// A flat bake.
        Flat = "flat", "Flat bake";
    }
}

impl Kind {
    /// Whether it is a roll or bun: many to a tray.
    pub fn is_small(self) -> bool {
        matches!(self, Kind::Roll | Kind::Bun | Kind::FoldOver | Kind::PullApart | Kind::Dipped)
    }

    /// Whether it is made of strands.
    pub fn is_plaited(self) -> bool {
        matches!(self, Kind::Braid | Kind::RoundBraid)
    }
}
