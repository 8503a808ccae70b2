//! The kinds of bread, and what is usual for each.

use crate::choice::choice;

choice! {
    /// The kind of bread; it brings the usual ranges for hydration, core and crust.
    Style {
        /// White or mixed bread in a tin.
        Tin = "tin", "Tin loaf";
        /// Soft rolls and buns with some fat and sugar.
        SoftRoll = "soft-roll", "Soft rolls";
        /// Lean hearth bread with a thick crust.
        Hearth = "hearth", "Hearth bread";
        /// Enriched plaits.
        Braid = "braid", "Enriched plait";
        /// Wet dough that develops by time alone.
        NoKnead = "no-knead", "No-knead";
        /// Flat bakes such as focaccia.
        Flat = "flat", "Flat bake";
        /// Bread with a good share of rye.
        Rye = "rye", "Rye";
        /// Bread without gluten.
        GlutenFree = "gluten-free", "Gluten-free";
    }
}

/// What is usual for a style. All *common practice, no source*.
#[derive(Clone, Copy, Debug)]
pub struct StyleRange {
    /// Effective hydration, per cent of flour.
    pub hydration: (f64, f64),
    /// Instant yeast over which a warning is due, per cent of flour.
    pub yeast_max: f64,
}

impl Style {
    /// What is usual for it.
    pub fn usual(self) -> StyleRange {
        let (hydration, yeast_max) = match self {
            Style::Tin => ((58.0, 70.0), 2.0),
            Style::SoftRoll => ((52.0, 70.0), 2.5),
            Style::Hearth => ((62.0, 82.0), 2.0),
            Style::Braid => ((50.0, 64.0), 2.5),
            Style::NoKnead => ((73.0, 87.0), 1.0),
            Style::Flat => ((70.0, 90.0), 2.0),
            Style::Rye => ((60.0, 100.0), 2.0),
            Style::GlutenFree => ((80.0, 125.0), 3.0),
        };
        StyleRange { hydration, yeast_max }
    }
}
