//! What is said of a bake beside its figures. The limits are common practice, no source, where none is named.

use super::{Case, Met, at};
use crate::oven::physics::colour_word;
use crate::oven::setting::PARCHMENT_BEARS;
use crate::words::Made;

/// How much lighter than golden a crust is said to be pale.
const PALE: f64 = 6.0;

/// Lightness of a base that has had too much.
const TOO_DARK_BELOW: f64 = 42.0;

impl Case<'_> {
    pub(super) fn notes(&self, met: &Met, oven: f64, time: f64) -> Vec<String> {
        let mut notes = Vec::new();
        if let Some(own) = self.input.oven.minutes {
            let end = at(&met.curve, own.0);
            let wants = self.core_for(end.lightness);
            if end.core < wants - 1.0 {
                notes.push(format!(
                    "After {:.0} min its core is at {:.0} °C, not yet at {wants:.0} °C: it would be doughy inside.",
                    own.0, end.core
                ));
            }
            if end.lightness < self.wanted.dark && met.core < 0.9 * own.0 {
                notes.push(format!(
                    "After {:.0} min its crust is {}: darker than is usual here.",
                    own.0,
                    colour_word(end.lightness)
                ));
            } else if end.lightness > self.wanted.golden + PALE {
                notes.push(format!(
                    "After {:.0} min its crust is only {}.",
                    own.0,
                    colour_word(end.lightness)
                ));
            }
        } else if met.core.is_infinite() {
            notes.push(format!(
                "At {oven:.0} °C the core does not come to {:.0} °C within four hours. Use a hotter oven or smaller pieces.",
                self.core.1
            ));
        } else if met.colour.is_infinite() {
            notes.push(format!(
                "At {oven:.0} °C it stays {}. For a golden crust use a hotter oven, or a wash.",
                colour_word(at(&met.curve, time).lightness)
            ));
        }
        let late = met.colour - met.core;
        if met.colour.is_finite() && late > 0.3 * met.core && late > 5.0 {
            notes.push(format!(
                "The core is done after {:.0} min and the colour comes {late:.0} min later: it dries out. A hotter oven or a wash brings them together.",
                met.core
            ));
        }
        let end = self.input.hottest.0;
        if self.input.oven.temperature.is_some_and(|t| t.0 > end)
            || end < self.wanted.oven.1 && oven >= end - 0.5
        {
            notes.push(format!(
                "This oven ends at {end:.0} °C: that is what it bakes at. Heat it longer, and use a stone or a pot, which hold more."
            ));
        }
        let base = at(&met.curve, time).lightness_base;
        if base < TOO_DARK_BELOW {
            notes.push(format!(
                "Its base gets {}. Slide a cold tray under it for the last third, or lay it on two sheets of parchment.",
                colour_word(base)
            ));
        }
        let made = self.input.oven.made;
        let hottest = self.input.oven.hot_start.map_or(oven, |h| h.temperature.0.max(oven));
        if let Some(bears) = made.bears().filter(|t| *t < hottest) {
            notes.push(format!(
                "{} bears about {bears:.0} °C, and its maker's figure comes first: {hottest:.0} °C is too hot for it.",
                made.name()
            ));
        }
        if made == Made::Glass && self.input.start.0 < 12.0 {
            notes.push("Glass or stoneware from the fridge may crack in a hot oven. Let it come to room temperature first, or use metal.".into());
        }
        if self.input.oven.parchment && hottest > PARCHMENT_BEARS {
            notes.push(format!(
                "Parchment bears about {PARCHMENT_BEARS:.0} °C, and its packet's figure comes first: at {hottest:.0} °C it darkens and may catch. Trim it close, or dust with semolina instead."
            ));
        }
        // Ranges are whole fives of °C; a figure typed in °F lies up to three beside them.
        if oven < self.wanted.oven.0 - 3.0 || oven > self.wanted.oven.1 + 3.0 {
            notes.push(format!(
                "{oven:.0} °C is outside what is usual here: {:.0} to {:.0} °C.",
                self.wanted.oven.0, self.wanted.oven.1
            ));
        }
        if self.core.1 < self.wanted.core.1 {
            notes.push(format!(
                "Water boils at {:.1} °C here, so the core is done at {:.0} °C.",
                self.boiling, self.core.1
            ));
        }
        notes
    }
}
