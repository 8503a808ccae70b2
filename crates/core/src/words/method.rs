//! How a dough is mixed, and the schools of water and salt.

use crate::choice::choice;

choice! {
    /// How the dough is mixed.
    Method {
        /// Kneaded by hand.
        Hand = "hand", "By hand";
        /// A mixer with a dough hook.
        Mixer = "mixer", "Mixer";
        /// A hand-held mixer with two small hooks.
        HandMixer = "hand-mixer", "Hand mixer";
        /// Mixed, then folded in sets during the bulk rise.
        Fold = "fold", "Mix and fold";
        /// Mixed and left alone.
        None = "none", "Mix and wait";
        /// Beaten with a paddle: a dough without gluten.
        Paddle = "paddle", "Paddle, no gluten";
    }
}

choice! {
    /// Which answer for the water is shown largest.
    #[derive(Default)]
    WaterSchool {
        /// The heat balance over all ingredients.
        #[default]
        Balance = "balance", "Heat balance";
        /// The factor rule.
        Factor = "factor", "Factor rule";
    }
}

choice! {
    /// When the salt goes in.
    #[derive(Default)]
    SaltSchool {
        /// With everything else.
        #[default]
        WithAll = "with-all", "With everything";
        /// After the autolyse or the first rest.
        Later = "later", "After the rest";
    }
}
