//! What becomes of a loaf when it is out: how long it cools, what it loses, and what keeps its crust.

use super::Case;
use crate::oven::baking::WATER_HEAT;
use crate::oven::heating::cools;
use crate::oven::physics::LATENT;
use crate::units::Minutes;
use crate::words::Style;

/// The share of its heat that a cooling loaf gives up as vapour (common practice, no source: about 2 %
/// of its weight).
const STEAMS: f64 = 0.22;

impl Case<'_> {
    /// Cooling on a rack before the cut: until the core is under 40 °C; rye sets overnight.
    pub(super) fn cool(&self) -> Minutes {
        if let Some(own) = self.input.oven.cool {
            return own;
        }
        if self.input.style == Style::Rye && self.input.piece.0 > 300.0 {
            return Minutes(12.0 * 60.0);
        }
        let minutes = cools(&self.loaf, self.size, self.core.1, self.input.room.0);
        Minutes(5.0 * (minutes / 5.0).round())
    }

    /// What it loses as it cools, per cent of the dough: vapour carries off a part of the heat that the
    /// crumb gives up.
    pub(super) fn steams(&self) -> f64 {
        let l = &self.loaf;
        let heat = (l.water * WATER_HEAT + l.solids * l.solids_heat) * (self.core.1 - self.input.room.0);
        100.0 * STEAMS * heat / LATENT / (l.water + l.solids)
    }

    /// What keeps the crust as it should be (common practice, no source).
    pub(super) fn crust(&self) -> &'static str {
        if self.input.oven.cools_in.is_some() {
            return "It stays in its tin first, as you say; then onto a rack, or the crust sweats.";
        }
        if self.input.oven.ajar.is_some() {
            return "Crisp crust: on a rack in the open, with air all round it.";
        }
        match self.input.style {
            Style::SoftRoll | Style::Braid => {
                "Soft crust: brush it with butter while it is hot, or lay a cloth over it as it cools."
            }
            Style::Tin | Style::GlutenFree => {
                "Out of the tin at once, or the crust sweats. For a soft crust lay a cloth over it."
            }
            _ => {
                "Crisp crust: leave it in the switched-off oven with the door ajar for five minutes, then cool it on a rack in the open."
            }
        }
    }
}
