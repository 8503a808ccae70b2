//! What is wanted of a loaf: its core, its crust and its oven, by style and shape.

use crate::words::{Kind, Style, Vessel};

/// What a style wants of its bake. Common practice, no source.
pub(super) struct Wanted {
    /// Range of oven temperature, °C.
    pub oven: (f64, f64),
    /// Core at which bakers take it out, °C: least, under a dark crust, and under one that is just golden.
    pub(super) core: (f64, f64),
    /// Lightness of the crust at which it is done.
    pub(super) golden: f64,
    /// Lightness under which it would be too dark.
    pub(super) dark: f64,
    /// Least loss, per cent, where the crust is wanted dry; nought where dryness is no reason to bake on.
    pub(super) loss: f64,
    /// Volume after oven spring over volume before.
    pub(super) spring: f64,
}

/// The usual range of oven temperature, °C, for this style, shape and vessel (common practice, no source).
pub fn usual_range(style: Style, kind: Kind, vessel: Vessel) -> (f64, f64) {
    wanted(style, kind, vessel, false).oven
}

/// `touching`: several lie in one pan.
pub(super) fn wanted(style: Style, kind: Kind, vessel: Vessel, touching: bool) -> Wanted {
    let small = kind.is_small();
    let (oven, core, golden, dark, loss, spring) = match style {
        _ if vessel == Vessel::Lidded => ((190.0, 220.0), (90.0, 93.0), 72.0, 56.0, 0.0, 1.1),
        _ if kind == Kind::PullApart => ((170.0, 200.0), (86.0, 90.0), 70.0, 60.0, 0.0, 1.2),
        // A bath browns it deeply.
        _ if kind == Kind::Dipped => ((200.0, 235.0), (86.0, 90.0), 60.0, 48.0, 0.0, 1.2),
        Style::Tin => ((185.0, 215.0), (90.0, 93.0), 64.0, 57.0, 0.0, 1.15),
        // Of what touches, the top is all the crust there is: it is wanted browner than that of a roll by itself.
        Style::SoftRoll if touching => ((170.0, 200.0), (86.0, 90.0), 70.0, 60.0, 0.0, 1.25),
        Style::SoftRoll => ((175.0, 210.0), (86.0, 90.0), 74.0, 60.0, 0.0, 1.25),
        Style::Hearth | Style::NoKnead if small => ((210.0, 240.0), (93.0, 96.0), 72.0, 56.0, 10.0, 1.25),
        Style::Hearth | Style::NoKnead if kind == Kind::Baguette => {
            ((230.0, 250.0), (93.0, 96.0), 67.0, 50.0, 14.0, 1.5)
        }
        Style::Hearth | Style::NoKnead => ((200.0, 245.0), (93.0, 96.0), 62.0, 48.0, 10.0, 1.4),
        Style::Braid => ((165.0, 190.0), (86.0, 90.0), 71.0, 58.0, 0.0, 1.2),
        Style::Flat => ((205.0, 230.0), (93.0, 96.0), 62.0, 52.0, 0.0, 1.15),
        Style::Rye if small => ((195.0, 235.0), (93.0, 96.0), 72.0, 54.0, 0.0, 1.1),
        Style::Rye => ((190.0, 235.0), (93.0, 96.0), 62.0, 48.0, 0.0, 1.1),
        Style::GlutenFree => ((180.0, 205.0), (94.0, 97.0), 70.0, 57.0, 0.0, 1.1),
    };
    Wanted { oven, core, golden, dark, loss, spring }
}
