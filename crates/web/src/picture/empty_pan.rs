//! A pan of the kitchen, empty: in section and from above, as it is typed.

use cerealis_core::shape::{PanForm, PanShape};

use super::Svg;

const WIDE: f64 = 200.0;
const TALL: f64 = 84.0;

/// Draws it; `says` tells it in words.
pub fn empty_pan(f: &PanForm, says: &str) -> String {
    let mut svg = Svg::new(WIDE, TALL);
    let width = f.width.unwrap_or(f.length);
    let scale = (86.0 / f.length.max(width)).min(58.0 / f.depth).min(66.0 / width).min(5.0);
    // In section along its length.
    let (cx, floor) = (50.0, 72.0);
    let (rim, base) = (0.5 * f.length * scale, 0.5 * f.base_length.unwrap_or(f.length) * scale);
    let top = floor - f.depth * scale;
    let wall = match f.shape {
        PanShape::Basket => format!(
            "M{:.1} {top:.1}C{:.1} {:.1} {:.1} {:.1} {:.1} {top:.1}",
            cx - rim,
            cx - 0.8 * rim,
            floor + 0.3 * f.depth * scale,
            cx + 0.8 * rim,
            floor + 0.3 * f.depth * scale,
            cx + rim
        ),
        _ => format!(
            "M{:.1} {top:.1}L{:.1} {floor:.1}H{:.1}L{:.1} {top:.1}",
            cx - rim,
            cx - base,
            cx + base,
            cx + rim
        ),
    };
    svg.raw(&format!(r#"<path d="{wall}" class="pan-wall"/>"#));
    if f.shape == PanShape::Ring {
        let tube = 0.5 * f.width.unwrap_or(0.0) * scale;
        svg.raw(&format!(
            r#"<path d="M{:.1} {floor:.1}V{top:.1}H{:.1}V{floor:.1}" class="pan-wall"/>"#,
            cx - tube,
            cx + tube
        ));
    }
    // From above.
    let (x, y) = (150.0, 40.0);
    match f.shape {
        PanShape::Tin | PanShape::Tray => {
            let (l, w) = (f.length * scale, width * scale);
            svg.raw(&format!(
                r#"<rect x="{:.1}" y="{:.1}" width="{l:.1}" height="{w:.1}" rx="5" class="pan-above"/>"#,
                x - 0.5 * l,
                y - 0.5 * w
            ));
        }
        _ => {
            let oval = if f.shape == PanShape::Basket { width } else { f.length };
            svg.raw(&format!(
                r#"<ellipse cx="{x:.1}" cy="{y:.1}" rx="{:.1}" ry="{:.1}" class="pan-above"/>"#,
                rim,
                0.5 * oval * scale
            ));
            if f.shape == PanShape::Ring {
                let tube = 0.5 * f.width.unwrap_or(0.0) * scale;
                svg.raw(&format!(r#"<circle cx="{x:.1}" cy="{y:.1}" r="{tube:.1}" class="pan-above"/>"#));
            }
        }
    }
    svg.finish(says, "empty-pan")
}
