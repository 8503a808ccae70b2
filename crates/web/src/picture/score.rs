//! The cuts on a loaf, from above.

use cerealis_core::finish::Score;
use cerealis_core::shape::Size;
use cerealis_core::words::Kind;

use super::Svg;

/// Draws a loaf of its proportions with its cuts.
pub fn score(of: Score, kind: Kind, size: Size) -> String {
    let (wide, tall) = (150.0, 150.0);
    let mut svg = Svg::new(wide, tall);
    let scale = 128.0 / size.length.max(size.width);
    let (rx, ry) = ((0.5 * size.width * scale).max(16.0), 0.5 * size.length * scale);
    let (cx, cy) = (0.5 * wide, 0.5 * tall);
    if kind == Kind::Flat {
        svg.rect(cx - rx, cy - ry, 2.0 * rx, 2.0 * ry, "tray-piece");
    } else {
        svg.raw(&format!(
            r#"<ellipse cx="{cx:.1}" cy="{cy:.1}" rx="{rx:.1}" ry="{ry:.1}" class="tray-piece"/>"#
        ));
    }
    for [(x1, y1), (x2, y2)] in of.cuts(kind) {
        svg.line(cx + x1 * rx, cy + y1 * ry, cx + x2 * rx, cy + y2 * ry, "cut");
    }
    svg.finish(&format!("The cuts from above: {}", of.name().to_lowercase()), "score-above")
}
