//! The patterns of cuts, from above.

use crate::choice::choice;
use crate::words::Kind;

choice! {
    /// A pattern of cuts.
    Score {
        /// None.
        Plain = "plain", "Not scored";
        /// One long cut, a little beside the middle.
        Single = "single", "One long cut";
        /// Two cuts that cross.
        Cross = "cross", "Cross";
        /// Four cuts round a square.
        Square = "square", "Square";
        /// Slanting cuts along a stick, each beginning beside the end of the one before.
        Slanting = "slanting", "Slanting cuts";
        /// A middle line with short cuts to both sides.
        Grain = "grain", "Ear of grain";
        /// Pricked all over, so that a flat bread stays flat.
        Docked = "docked", "Docked all over";
    }
}

/// One cut, from the middle of the loaf: x along its width, y along its length, from −1 to 1. A prick
/// ends where it begins.
pub type Cut = [(f64, f64); 2];

impl Score {
    /// What is usual for a shape.
    pub fn usual(kind: Kind) -> Score {
        match kind {
            Kind::Round => Score::Cross,
            Kind::Batard => Score::Single,
            Kind::Baguette => Score::Slanting,
            _ => Score::Plain,
        }
    }

    /// Its cuts on a shape: a flat bake reaches into its corners, all else is round.
    pub fn cuts(self, kind: Kind) -> Vec<Cut> {
        match self {
            Score::Plain => Vec::new(),
            Score::Single => vec![[(-0.12, -0.75), (0.12, 0.75)]],
            Score::Cross => vec![[(0.0, -0.62), (0.0, 0.62)], [(-0.62, 0.0), (0.62, 0.0)]],
            Score::Square => {
                let (a, b) = (0.42, 0.55);
                vec![[(-a, -b), (-a, b)], [(a, -b), (a, b)], [(-b, -a), (b, -a)], [(-b, a), (b, a)]]
            }
            Score::Slanting => (0..4)
                .map(|i| {
                    let y = -0.78 + 0.39 * f64::from(i);
                    [(-0.3, y), (0.3, y + 0.38)]
                })
                .collect(),
            Score::Grain => {
                let mut cuts = vec![[(0.0, -0.75), (0.0, 0.75)]];
                for i in 0..4 {
                    let y = -0.5 + 0.32 * f64::from(i);
                    cuts.push([(0.1, y), (0.45, y - 0.22)]);
                    cuts.push([(-0.1, y), (-0.45, y - 0.22)]);
                }
                cuts
            }
            // In rows that stand between each other, as far as the loaf reaches.
            Score::Docked => (-3..=3)
                .flat_map(|row: i32| {
                    let off = 0.13 * f64::from(row.rem_euclid(2));
                    (-3..=3).map(move |n| (0.26 * f64::from(n) + off, 0.26 * f64::from(row)))
                })
                .filter(|(x, y)| {
                    let out = if kind == Kind::Flat { x.abs().max(y.abs()) } else { x.hypot(*y) };
                    out < 0.85
                })
                .map(|prick| [prick, prick])
                .collect(),
        }
    }

    /// How deep, mm, and how the blade is held.
    pub fn depth(self) -> (f64, &'static str) {
        match self {
            Score::Plain => (0.0, ""),
            Score::Single | Score::Slanting => (6.0, "the blade held flat, as if to lift a flap"),
            Score::Cross | Score::Square => (10.0, "the blade upright"),
            Score::Grain => (4.0, "the blade upright, lightly"),
            Score::Docked => (0.0, "down to the tray"),
        }
    }
}
