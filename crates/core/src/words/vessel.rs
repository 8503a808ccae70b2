//! What bread bakes on or in, and what that is made of.

use crate::choice::choice;

choice! {
    /// What the loaf bakes on or in.
    Vessel {
        /// A baking sheet.
        Sheet = "sheet", "Baking sheet";
        /// A hot stone or steel.
        Stone = "stone", "Hot stone";
        /// A tin.
        Tin = "tin", "Tin";
        /// A tin with its lid on.
        Lidded = "lidded", "Tin with its lid on";
        /// A hot pot with a lid.
        Pot = "pot", "Hot pot with lid";
    }
}

impl Vessel {
    /// Heat that it holds under the loaf, J/m² K: a millimetre of steel, 15 mm of stone, 5 mm of iron.
    pub fn holds(self) -> f64 {
        match self {
            Vessel::Sheet | Vessel::Tin | Vessel::Lidded => 3_600.0,
            Vessel::Stone => 30_000.0,
            Vessel::Pot => 17_000.0,
        }
    }

    /// Whether it is heated with the oven before the loaf goes in.
    pub fn goes_in_hot(self) -> bool {
        matches!(self, Vessel::Stone | Vessel::Pot)
    }
}

choice! {
    /// What a tin, sheet or dish is made of.
    #[derive(Default)]
    Made {
        /// Bright metal.
        #[default]
        Bright = "bright", "Bright metal";
        /// Dark metal.
        Dark = "dark", "Dark metal";
        /// Metal with a non-stick coating.
        NonStick = "non-stick", "Non-stick";
        /// Glass or stoneware.
        Glass = "glass", "Glass or stoneware";
        /// Silicone.
        Silicone = "silicone", "Silicone";
    }
}

impl Made {
    /// The oven temperature that it bears, °C, by common practice; its maker's figure comes first.
    pub fn bears(self) -> Option<f64> {
        match self {
            Made::Bright | Made::Dark => None,
            Made::NonStick => Some(230.0),
            Made::Glass => Some(220.0),
            Made::Silicone => Some(220.0),
        }
    }
}
