//! The pan in section, with the dough at filling, when it is ready, and after the oven.

use cerealis_core::stations::PanAnswer;

use super::{Room, Svg};

/// Height of a figure with its name under it.
const LABEL: f64 = 34.0;

/// Draws the pan.
pub fn pan(p: &PanAnswer, room: Room) -> String {
    let width = if room.narrow() { room.width() } else { 0.5 * room.width() - 10.0 };
    let names = 138.0;
    let form = &p.form;
    let highest = p.fit.heights.iter().copied().fold(form.depth, f64::max);
    let across = form.width_at(form.depth);
    let scale = (170.0 / highest).min((width - names - 30.0) / across);
    // A low pan still has room for its figures beside it.
    let height = (highest * scale + 46.0).max(4.0 * LABEL + 12.0);
    let mut svg = Svg::new(width, height);
    let (cx, floor) = (14.0 + 0.5 * across * scale, height - 18.0);
    let y = |cm: f64| floor - cm * scale;
    let half = |cm: f64| 0.5 * form.width_at(cm.min(form.depth)) * scale;
    // The dough, the highest first, so that each lower one lies over it.
    for (n, class) in [(2, "pan-baked"), (1, "pan-ready"), (0, "pan-filled")] {
        let top = p.fit.heights[n];
        let steps = 14;
        let level = |i: usize| top.min(form.depth) * i as f64 / steps as f64;
        let mut points: Vec<(f64, f64)> = (0..=steps).map(|i| (cx - half(level(i)), y(level(i)))).collect();
        // Over the rim it is a dome of the same volume, drawn half as high again in the middle.
        let over = (top - form.depth).max(0.0);
        let rim = top.min(form.depth);
        points.extend((0..=steps).map(|i| {
            let x = 2.0 * i as f64 / steps as f64 - 1.0;
            (cx + x * half(rim), y(rim + 1.5 * over * (1.0 - x * x)))
        }));
        points.extend((0..=steps).rev().map(|i| (cx + half(level(i)), y(level(i)))));
        svg.area(&points, class, None);
    }
    let wall = |side: f64| -> Vec<(f64, f64)> {
        (0..=14).map(|i| form.depth * f64::from(i) / 14.0).map(|cm| (cx + side * half(cm), y(cm))).collect()
    };
    svg.path(&wall(-1.0), "pan-wall");
    svg.path(&wall(1.0), "pan-wall");
    svg.line(cx - half(0.0), floor, cx + half(0.0), floor, "pan-wall-line");
    let line = form.depth - p.fit.ready_line;
    svg.line(cx - half(line) - 6.0, y(line), cx + half(line) + 12.0, y(line), "target");
    let x = cx + half(form.depth) + 18.0;
    let mut labels = vec![
        (p.fit.heights[2], format!("{:.1} cm", p.fit.heights[2]), "after the oven".to_owned()),
        (line, under_rim(p.fit.ready_line), "wait for this line".to_owned()),
        (p.fit.heights[0], format!("{:.1} cm", p.fit.heights[0]), "when filled".to_owned()),
    ];
    if (p.fit.heights[1] - line).abs() > 0.4 {
        labels.push((p.fit.heights[1], format!("{:.1} cm", p.fit.heights[1]), "when proofed".to_owned()));
    }
    labels.sort_by(|a, b| b.0.total_cmp(&a.0));
    let mut free = 0.0f64;
    let many = labels.len();
    for (n, (at, figure, name)) in labels.into_iter().enumerate() {
        let below = LABEL * (many - 1 - n) as f64;
        let ly = y(at).min(height - 20.0 - below).max(free + 14.0);
        svg.text(x, ly, "start", "name strong", &figure);
        svg.text(x, ly + 16.0, "start", "tick", &name);
        free = ly + 20.0;
    }
    let label = format!(
        "{} in section, {:.1} cm deep: the dough stands at {:.1} cm when filled, {:.1} cm when proofed and {:.1} cm after the oven",
        p.name, form.depth, p.fit.heights[0], p.fit.heights[1], p.fit.heights[2]
    );
    svg.finish(&label, "pan-section")
}

/// The line to wait for, from the rim.
pub fn under_rim(cm: f64) -> String {
    match cm {
        c if c.abs() < 0.15 => "at the rim".into(),
        c if c > 0.0 => format!("{c:.1} cm under the rim"),
        c => format!("{:.1} cm over the rim", -c),
    }
}
