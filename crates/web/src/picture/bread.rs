//! A bread as it comes from the oven, small: its shape, its cuts and its pan, to one scale.

use cerealis_core::finish::Score;
use cerealis_core::formula::Formula;
use cerealis_core::shape::Size;
use cerealis_core::units::Grams;
use cerealis_core::words::{Kind, Style, Vessel};

use super::Svg;

/// The picture's size, and pixels for a centimetre: a long plait fills it.
const WIDE: f64 = 168.0;
const TALL: f64 = 96.0;
const A_CM: f64 = 4.0;
/// The most pieces that are drawn of many.
const SHOWN: u32 = 6;

/// What a bread is drawn by.
#[derive(Clone, Copy)]
pub struct Bread {
    /// Its style, for the colour of its crust.
    pub style: Style,
    /// Its shape.
    pub kind: Kind,
    /// How many pieces.
    pub pieces: u32,
    /// Strands of a plait.
    pub strands: u32,
    /// Its cuts.
    pub score: Score,
    /// What it bakes on or in.
    pub vessel: Vessel,
    /// A piece at its baked size, cm.
    pub size: Size,
}

/// Millilitres of baked bread from a gram of dough (common practice, no source).
const BAKED: f64 = 3.0;

impl Bread {
    /// The bread of a formula's main pieces.
    pub fn of(f: &Formula) -> Bread {
        let shape = &f.shape;
        let dough: Grams = f.lines.iter().filter(|l| l.stage.in_dough()).map(|l| l.grams).sum();
        let share = (dough - f.makeups_weight()) / f64::from(shape.pieces.max(1));
        let piece = shape.piece_weight.unwrap_or(share).0.clamp(20.0, 3000.0);
        Bread {
            style: f.style,
            kind: shape.kind,
            pieces: shape.pieces,
            strands: shape.strands,
            score: f.finish.score(shape.kind),
            vessel: f.oven.vessel,
            size: shape.kind.size(BAKED * piece),
        }
    }
}

/// Draws it; a word beside it says what it is, so the picture itself is silent.
pub fn bread(b: &Bread) -> String {
    let mut svg = Svg::new(WIDE, TALL);
    let crust = match b.style {
        Style::Rye => "crust-rye",
        Style::Hearth | Style::NoKnead => "crust-dark",
        Style::GlutenFree => "crust-pale",
        _ if b.kind == Kind::Dipped => "crust-rye",
        _ => "crust-gold",
    };
    let shown = b.pieces.clamp(1, SHOWN);
    match b.kind {
        Kind::Tin | Kind::Spirals | Kind::Swirl => in_a_tin(&mut svg, b, crust),
        Kind::PullApart => together(&mut svg, b, crust),
        _ => {
            let (long, short) = lying(b);
            let (rows, columns) = match shown {
                1 => (1, 1),
                2 | 3 => (1, shown),
                n => (2, n.div_ceil(2)),
            };
            let room = (WIDE - 8.0) / f64::from(columns);
            let scale = A_CM.min((room - 4.0) / long).min((TALL - 8.0) / f64::from(rows) / (short + 1.0));
            for n in 0..shown {
                let (row, column) = (n / columns, n % columns);
                let cx = 4.0 + room * (f64::from(column) + 0.5);
                let cy = TALL * (f64::from(row) + 0.5) / f64::from(rows);
                piece(&mut svg, b, crust, (cx, cy), (0.5 * long * scale, 0.5 * short * scale));
            }
        }
    }
    svg.silent("bread")
}

/// Its length across the picture and its width down it, cm.
fn lying(b: &Bread) -> (f64, f64) {
    let Size { width, length, .. } = b.size;
    (length.max(width).max(4.0), length.min(width).max(3.0))
}

/// One piece from above, its longer side across.
fn piece(svg: &mut Svg, b: &Bread, crust: &str, (cx, cy): (f64, f64), (rx, ry): (f64, f64)) {
    match b.kind {
        Kind::Braid | Kind::RoundBraid if b.strands > 1 => plait(svg, crust, (cx, cy), (rx, ry)),
        Kind::Ring => {
            svg.raw(&format!(
                r#"<ellipse cx="{cx:.1}" cy="{cy:.1}" rx="{:.1}" ry="{:.1}" class="ring {crust}" stroke-width="{:.1}"/>"#,
                0.72 * rx,
                0.72 * ry,
                0.5 * ry
            ));
        }
        Kind::Flat => {
            svg.raw(&format!(
                r#"<rect x="{:.1}" y="{:.1}" width="{:.1}" height="{:.1}" rx="9" class="crust {crust}"/>"#,
                cx - rx,
                cy - ry,
                2.0 * rx,
                2.0 * ry
            ));
            for i in 0..15 {
                let (x, y) = (f64::from(i % 5) - 2.0, f64::from(i / 5) - 1.0);
                svg.raw(&format!(
                    r#"<circle cx="{:.1}" cy="{:.1}" r="2.2" class="dimple"/>"#,
                    cx + 0.38 * rx * x,
                    cy + 0.55 * ry * y
                ));
            }
        }
        _ => {
            svg.raw(&format!(
                r#"<ellipse cx="{cx:.1}" cy="{cy:.1}" rx="{rx:.1}" ry="{ry:.1}" class="crust {crust}"/>"#
            ));
            if b.kind == Kind::FoldOver {
                svg.line(cx - 0.9 * rx, cy + 0.25 * ry, cx + 0.9 * rx, cy + 0.25 * ry, "slash");
            }
            // Cuts are given for a loaf that stands upright; here it lies.
            for [(x1, y1), (x2, y2)] in b.score.cuts(b.kind) {
                svg.line(cx + y1 * rx, cy + x1 * ry, cx + y2 * rx, cy + x2 * ry, "slash");
            }
        }
    }
}

/// Strands over and under, from one end to the other.
fn plait(svg: &mut Svg, crust: &str, (cx, cy): (f64, f64), (rx, ry): (f64, f64)) {
    let steps = 7;
    for n in 0..steps {
        let t = (f64::from(n) + 0.5) / f64::from(steps) * 2.0 - 1.0;
        let thick = ry * (1.0 - 0.55 * t * t);
        let side = if n % 2 == 0 { 1.0 } else { -1.0 };
        svg.raw(&format!(
            r#"<ellipse cx="{:.1}" cy="{:.1}" rx="{:.1}" ry="{:.1}" transform="rotate({:.0} {0:.1} {1:.1})" class="crust {crust}"/>"#,
            cx + t * rx * 0.9,
            cy + side * 0.22 * thick,
            1.5 * rx / f64::from(steps),
            0.78 * thick,
            side * 38.0
        ));
    }
}

/// From the side: the tin, and the loaf that has risen over it.
fn in_a_tin(svg: &mut Svg, b: &Bread, crust: &str) {
    let (long, _) = lying(b);
    let scale = A_CM.min((WIDE - 24.0) / long);
    let half = 0.5 * long * scale;
    let deep = (b.size.height * scale * 0.62).clamp(22.0, 50.0);
    let (cx, base) = (0.5 * WIDE, TALL - 8.0);
    let rim = base - deep;
    let top = (rim - (1.5 * (b.size.height * scale - deep)).clamp(26.0, 48.0)).max(2.0);
    let (l, r) = (cx - half, cx + half);
    if b.vessel == Vessel::Lidded {
        svg.raw(&format!(r#"<path d="M{l:.1} {rim:.1}V{top:.1}H{r:.1}V{rim:.1}Z" class="crust {crust}"/>"#));
    } else {
        let domes = if b.kind == Kind::Spirals { 3 } else { 1 };
        for n in 0..domes {
            let (a, e) = (
                l + 2.0 * half * f64::from(n) / f64::from(domes),
                l + 2.0 * half * f64::from(n + 1) / f64::from(domes),
            );
            svg.raw(&format!(
                r#"<path d="M{a:.1} {rim:.1}C{:.1} {top:.1} {:.1} {top:.1} {e:.1} {rim:.1}Z" class="crust {crust}"/>"#,
                a - 3.0,
                e + 3.0
            ));
        }
        if b.score == Score::Single {
            svg.line(l + 10.0, 0.5 * (top + rim), r - 10.0, 0.5 * (top + rim), "slash");
        }
    }
    svg.raw(&format!(
        r#"<path d="M{:.1} {rim:.1}H{:.1}L{:.1} {base:.1}H{:.1}Z" class="bread-tin"/>"#,
        l - 3.0,
        r + 3.0,
        r - 4.0,
        l + 4.0
    ));
}

/// Rolls that touch in their pan.
fn together(svg: &mut Svg, b: &Bread, crust: &str) {
    let columns = match b.pieces {
        0..=4 => 2,
        5..=9 => 3,
        10..=12 => 4,
        _ => 5,
    };
    let rows = b.pieces.clamp(1, 20).div_ceil(columns);
    let one = (A_CM * b.size.width.max(4.0))
        .min((WIDE - 20.0) / f64::from(columns))
        .min((TALL - 14.0) / f64::from(rows));
    let (wide, tall) = (one * f64::from(columns), one * f64::from(rows));
    let (x0, y0) = (0.5 * (WIDE - wide), 0.5 * (TALL - tall));
    svg.raw(&format!(
        r#"<rect x="{:.1}" y="{:.1}" width="{:.1}" height="{:.1}" rx="6" class="bread-tin"/>"#,
        x0 - 4.0,
        y0 - 4.0,
        wide + 8.0,
        tall + 8.0
    ));
    for n in 0..b.pieces.clamp(1, 20) {
        let (row, column) = (n / columns, n % columns);
        svg.raw(&format!(
            r#"<rect x="{:.1}" y="{:.1}" width="{one:.1}" height="{one:.1}" rx="{:.1}" class="crust {crust}"/>"#,
            x0 + one * f64::from(column),
            y0 + one * f64::from(row),
            0.32 * one
        ));
    }
}
