//! The tray from above, with the pieces at the size that they bake to.

use cerealis_core::shape::Lie;
use cerealis_core::stations::TrayAnswer;

use super::{Room, Svg};

/// Draws the first tray.
pub fn tray(t: &TrayAnswer, room: Room) -> String {
    let width = if room.narrow() { room.width() } else { 0.5 * room.width() - 10.0 };
    let (length, deep) = t.tray;
    let scale = (width - 20.0) / length;
    let height = deep * scale + 30.0;
    let mut svg = Svg::new(width, height);
    svg.raw(&format!(
        r#"<rect x="6" y="4" width="{:.1}" height="{:.1}" rx="8" class="tray-edge"/>"#,
        length * scale,
        deep * scale
    ));
    let (long, short) = (t.piece.length.max(t.piece.width), t.piece.length.min(t.piece.width));
    let round = long < 1.15 * short;
    // Oblong pieces lie along the tray when their neighbours are further off that way.
    let pitch = |pick: fn(&(f64, f64)) -> f64| -> f64 {
        let first = t.layout.at.first().map_or(0.0, pick);
        t.layout
            .at
            .iter()
            .map(|p| (pick(p) - first).abs())
            .filter(|d| *d > 1e-6)
            .fold(f64::INFINITY, f64::min)
    };
    let along = round || pitch(|p| p.0) >= long - 1e-6;
    let (w, h) = if along { (long, short) } else { (short, long) };
    for (n, (x, y)) in t.layout.at.iter().enumerate() {
        let (x, y) = (6.0 + x * scale, 4.0 + y * scale);
        if t.square || t.layout.lie == Lie::Touching {
            svg.raw(&format!(
                r#"<rect x="{:.1}" y="{:.1}" width="{:.1}" height="{:.1}" rx="9" class="tray-piece"/>"#,
                x - 0.5 * w * scale,
                y - 0.5 * h * scale,
                w * scale,
                h * scale
            ));
        } else {
            svg.raw(&format!(
                r#"<ellipse cx="{x:.1}" cy="{y:.1}" rx="{:.1}" ry="{:.1}" class="tray-piece"/>"#,
                0.5 * w * scale,
                0.5 * h * scale
            ));
        }
        if 0.5 * short * scale > 12.0 {
            svg.text(x, y + 5.0, "middle", "name on-crumb", &(n + 1).to_string());
        }
    }
    svg.text(
        6.0,
        height - 6.0,
        "start",
        "tick",
        &format!("{length:.0} × {deep:.0} cm, pieces at their baked size"),
    );
    let label = format!(
        "The tray from above: {} pieces {}, of {} that fit",
        t.layout.at.len(),
        lies(t.layout.lie),
        t.layout.fits
    );
    svg.finish(&label, "tray-above")
}

/// How pieces lie, in words.
pub fn lies(lie: Lie) -> &'static str {
    match lie {
        Lie::Rows => "in rows",
        Lie::Staggered => "staggered",
        Lie::Touching => "touching",
    }
}
