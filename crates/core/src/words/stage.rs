//! When a line meets the dough.

use crate::choice::choice;

choice! {
    /// When a line meets the dough, in the order of the hands.
    Stage {
        /// A sourdough levain, made ahead from a kept culture; all of it goes into the dough.
        Preferment = "preferment", "Levain";
        /// Equal weights of flour and water with a little yeast.
        Poolish = "poolish", "Poolish";
        /// A stiff preferment with a little yeast.
        Biga = "biga", "Biga";
        /// A quick preferment with much of the yeast.
        Sponge = "sponge", "Sponge";
        /// Dough kept back from an earlier bake, salt and all.
        OldDough = "old-dough", "Old dough";
        /// Seeds or grain left to drink.
        Soaker = "soaker", "Soaker";
        /// Flour cooked with three to five times its liquid.
        Scald = "scald", "Scald";
        /// The dough itself.
        Dough = "dough", "Dough";
        /// Water or flour kept back, to be worked in as the dough asks for it.
        HeldBack = "held-back", "Held back";
        /// Butter or fat that goes in late, in portions.
        LateButter = "late-butter", "Late butter";
        /// Seeds, fruit and nuts, in the last minute.
        AddIns = "add-ins", "Add-ins";
        /// Brushed on; not part of the dough's weight.
        Wash = "wash", "Wash";
        /// Brushed on again later; not part of the dough's weight.
        SecondWash = "second-wash", "Second wash";
        /// Brushed on after the bake; not part of the dough's weight.
        Glaze = "glaze", "Glaze";
        /// Scattered on; not part of the dough's weight.
        Topping = "topping", "Topping";
        /// A paste piped on before the bake; not part of the dough's weight.
        Paste = "paste", "Paste to pipe";
        /// For bench, basket and pan; not part of the dough's weight.
        Dusting = "dusting", "Dusting";
        /// What the pieces are dipped in; not part of the dough's weight.
        Bath = "bath", "Bath";
    }
}

impl Stage {
    /// Whether it is part of the dough's weight.
    pub fn in_dough(self) -> bool {
        self <= Stage::AddIns
    }

    /// Whether it ferments ahead of the dough.
    pub fn is_preferment(self) -> bool {
        self <= Stage::OldDough
    }

    /// Whether it is made ahead of the dough.
    pub fn is_ahead(self) -> bool {
        self < Stage::Dough
    }

    /// How long a soaker stands whose liquid is poured over it boiling, in hours: until it is no warmer than the hand
    /// (common practice, no source).
    pub const HOT_SOAKER_HOURS: f64 = 1.5;

    /// How long it stands when nothing else is said, for what does not ferment, in hours
    /// (common practice, no source). Preferments stand until they are ripe.
    pub fn usual_hours(self) -> Option<f64> {
        match self {
            Stage::Soaker => Some(8.0),
            Stage::Scald => Some(1.5),
            _ => None,
        }
    }
}
