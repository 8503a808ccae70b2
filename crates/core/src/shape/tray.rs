//! The tray from above: how many pieces fit at the size that they bake to, in rows or staggered.

use super::wish::PIECES;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::fault::{Check, Faults};

/// What laying out depends on. All cm.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct TrayInput {
    /// The tray, 10 to 100 by 10 to 100.
    pub length: f64,
    /// Its width.
    pub width: f64,
    /// A piece at its baked size, 1 to 60.
    pub piece_length: f64,
    /// Its width.
    pub piece_width: f64,
    /// How many there are, 1 to 200.
    pub pieces: u32,
    /// The gap between them, 0 to 10; 0 for rolls that touch. 4 to 5 cm is usual at the proofed size.
    #[serde(default = "usual_gap")]
    pub gap: f64,
}

fn usual_gap() -> f64 {
    GAP
}

/// The gap between pieces at their baked size, cm: 4 to 5 cm apart when they are laid out (common
/// practice, no source), of which they take half as they rise and spring.
pub const GAP: f64 = 2.5;

/// How pieces lie.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Lie {
    /// Row behind row.
    Rows,
    /// Each row in the gaps of the one before.
    Staggered,
    /// Touching, in rows.
    Touching,
}

/// The layout.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct TrayOutput {
    /// How many fit on one tray.
    pub fits: u32,
    /// Trays needed; none fits when this is 0.
    pub trays: u32,
    /// How they lie.
    pub lie: Lie,
    /// Middles of the pieces on the first tray, cm from its corner.
    pub at: Vec<(f64, f64)>,
    /// What to do about a second tray, or about pieces that do not fit.
    pub says: String,
}

/// Lays pieces out on a tray.
///
/// # Errors
/// A figure outside its range, by its path.
pub fn tray(input: &TrayInput) -> Result<TrayOutput, Faults> {
    let mut c = Check::new();
    c.range("length", "The tray's length", input.length, 10.0, 100.0, "cm");
    c.range("width", "The tray's width", input.width, 10.0, 100.0, "cm");
    c.range("piece_length", "A piece's length", input.piece_length, 1.0, 60.0, "cm");
    c.range("piece_width", "A piece's width", input.piece_width, 1.0, 60.0, "cm");
    PIECES.check(&mut c, "pieces", f64::from(input.pieces));
    c.range("gap", "The gap", input.gap, 0.0, 10.0, "cm");
    c.done(())?;
    let (length, width) = (input.length.max(input.width), input.length.min(input.width));
    let (long, short) =
        (input.piece_length.max(input.piece_width), input.piece_length.min(input.piece_width));
    let round = long < 1.15 * short;
    let mut ways =
        vec![rows(length, width, long, short, input.gap), rows(length, width, short, long, input.gap)];
    if round && input.gap > 0.0 {
        ways.push(staggered(length, width, long, input.gap));
        ways.push(staggered(width, length, long, input.gap).into_iter().map(|(x, y)| (y, x)).collect());
    }
    let wanted = input.pieces as usize;
    // The first way that holds all of them, for rows are easier to lay; or the one that holds most.
    let best = ways
        .iter()
        .position(|w| w.len() >= wanted)
        .or_else(|| (0..ways.len()).max_by(|a, b| ways[*a].len().cmp(&ways[*b].len()).then(b.cmp(a))))
        .unwrap_or(0);
    let fits = ways[best].len();
    let trays = if fits == 0 { 0 } else { wanted.div_ceil(fits) };
    // Several trays share them out evenly.
    let on_first = if trays > 1 { wanted.div_ceil(trays) } else { wanted.min(fits) };
    let lie = match (best, input.gap) {
        (_, 0.0) => Lie::Touching,
        (0 | 1, _) => Lie::Rows,
        _ => Lie::Staggered,
    };
    let at = ways[best].iter().copied().take(on_first).collect();
    let says = match trays {
        0 => "Not one of them fits on this tray.".to_owned(),
        1 => String::new(),
        2 => format!(
            "Two trays, {on_first} on the first. In one oven: above and below the middle, changed about and turned round after two thirds of the time; it takes some minutes longer. Or one after the other, the second kept cool."
        ),
        n => format!(
            "{n} trays, {on_first} on each. Bake two at a time, changed about after two thirds of the time; keep the others cool until then."
        ),
    };
    Ok(TrayOutput { fits: fits as u32, trays: trays as u32, lie, at, says })
}

/// How many of a size go into a length with gaps between.
fn count(length: f64, size: f64, gap: f64) -> usize {
    if size > length { 0 } else { ((length + gap + 1e-9) / (size + gap)) as usize }
}

/// Row behind row, in the middle of the tray.
fn rows(length: f64, width: f64, across: f64, deep: f64, gap: f64) -> Vec<(f64, f64)> {
    let (n, m) = (count(length, across, gap), count(width, deep, gap));
    let start = |whole: f64, n: usize, size: f64| {
        0.5 * (whole - n as f64 * size - (n.max(1) - 1) as f64 * gap) + 0.5 * size
    };
    let (x0, y0) = (start(length, n, across), start(width, m, deep));
    (0..m)
        .flat_map(|j| (0..n).map(move |i| (x0 + i as f64 * (across + gap), y0 + j as f64 * (deep + gap))))
        .collect()
}

/// Each row in the gaps of the one before.
fn staggered(length: f64, width: f64, across: f64, gap: f64) -> Vec<(f64, f64)> {
    let pitch = across + gap;
    let rise = pitch * 0.75f64.sqrt();
    let n = count(length, across, gap);
    if n == 0 || across > width {
        return Vec::new();
    }
    let rows = ((width - across) / rise + 1e-9) as usize + 1;
    // A shifted row holds as many where half a pitch is to spare.
    let spare = length - (n as f64 * pitch - gap);
    let shifted = if spare >= 0.5 * pitch - 1e-9 { n } else { n - 1 };
    let x0 = 0.5 * across + if shifted == n { 0.5 * (spare - 0.5 * pitch) } else { 0.5 * spare };
    let y0 = 0.5 * across + 0.5 * (width - across - (rows - 1) as f64 * rise);
    (0..rows)
        .flat_map(|j| {
            let (count, shift) = if j % 2 == 0 { (n, 0.0) } else { (shifted, 0.5 * pitch) };
            (0..count).map(move |i| (x0 + shift + i as f64 * pitch, y0 + j as f64 * rise))
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn of(size: f64, pieces: u32, gap: f64) -> TrayInput {
        TrayInput { length: 40.0, width: 30.0, piece_length: size, piece_width: size, pieces, gap }
    }

    #[test]
    fn a_dozen_rolls_on_a_tray() {
        let out = tray(&of(7.0, 12, 2.5)).unwrap();
        assert_eq!((out.trays, out.lie, out.at.len()), (1, Lie::Rows, 12));
        let two = tray(&of(9.0, 16, 2.5)).unwrap();
        assert!(two.trays == 2 && two.at.len() == 8 && two.says.contains("changed about"), "{two:?}");
        let touching = tray(&of(6.0, 30, 0.0)).unwrap();
        assert_eq!((touching.trays, touching.lie), (1, Lie::Touching));
        assert_eq!(tray(&of(45.0, 1, 2.5)).unwrap().trays, 0);
        assert_eq!(tray(&of(-1.0, 1, 2.5)).unwrap_err().0[0].path, "piece_length");
    }

    #[test]
    fn staggered_holds_more_where_rows_do_not() {
        let out = tray(&TrayInput { length: 40.0, width: 37.0, ..of(9.0, 13, 1.0) }).unwrap();
        let in_rows = rows(40.0, 37.0, 9.0, 9.0, 1.0).len();
        assert!(out.fits as usize >= in_rows);
    }

    proptest! {
        /// Nothing overlaps, nothing hangs over the edge, and every piece has a tray.
        #[test]
        fn pieces_never_overlap(
            length in 15.0..60.0f64, width in 15.0..60.0f64, long in 3.0..20.0f64, flat in 0.3..1.0f64,
            pieces in 1u32..60, gap in 0.0..5.0f64,
        ) {
            let i = TrayInput { length, width, piece_length: long, piece_width: (long * flat).max(1.0), pieces, gap };
            let out = tray(&i).unwrap();
            prop_assert!(out.trays == 0 || out.trays * out.fits >= pieces);
            let (l, w) = (length.max(width), length.min(width));
            let round = flat > 1.0 / 1.15;
            for (n, a) in out.at.iter().enumerate() {
                let half = if round { long * 0.5 } else { long * flat * 0.5 };
                prop_assert!(a.0 >= half * flat - 1e-6 && a.0 <= l - half * flat + 1e-6);
                prop_assert!(a.1 >= half * flat - 1e-6 && a.1 <= w - half * flat + 1e-6);
                for b in &out.at[..n] {
                    let (dx, dy) = ((a.0 - b.0).abs(), (a.1 - b.1).abs());
                    let apart = if out.lie == Lie::Staggered {
                        dx.hypot(dy) >= long + gap - 1e-6
                    } else {
                        dx >= long * flat + gap - 1e-6 || dy >= long * flat + gap - 1e-6
                    };
                    prop_assert!(apart, "{a:?} and {b:?}");
                }
            }
        }
    }
}
