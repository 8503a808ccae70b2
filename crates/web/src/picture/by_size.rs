//! Every size of a dough: minutes against weight, with the oven temperature at each.

use cerealis_core::oven::SizeRow;
use cerealis_core::units::Grams;

use super::{Room, Svg, round_step};

/// Draws the sizes; weight goes in proportion, so that rolls have room. `here` is the present piece.
pub fn by_size(rows: &[SizeRow], here: Grams, room: Room) -> String {
    let (width, height) = (room.width(), 250.0);
    let mut svg = Svg::new(width, height);
    let (left, right, top, bottom) = (44.0, width - 22.0, 30.0, height - 48.0);
    let (low, high) = (rows.first().map_or(40.0, |r| r.grams.0), rows.last().map_or(1200.0, |r| r.grams.0));
    let most = rows.iter().map(|r| r.time.0).fold(10.0, f64::max) * 1.1;
    // The first stands off the axis, whose figures it would cover.
    let from = left + 22.0;
    let x = |g: f64| from + (g / low).ln() / (high / low).ln() * (right - from);
    let y = |m: f64| bottom - m / most * (bottom - top);
    let step = round_step(most, 5.0, &[5.0, 10.0, 20.0, 30.0]);
    let mut minutes = 0.0;
    while minutes <= most {
        svg.line(left, y(minutes), right, y(minutes), "grid");
        svg.text(left - 7.0, y(minutes) + 5.0, "end", "tick", &format!("{minutes:.0}"));
        minutes += step;
    }
    svg.text(left, 14.0, "start", "tick", "min");
    let line: Vec<(f64, f64)> = rows.iter().map(|r| (x(r.grams.0), y(r.time.0))).collect();
    svg.path(&line, "core-line");
    let mut free = f64::NEG_INFINITY;
    for r in rows {
        let (px, py) = (x(r.grams.0), y(r.time.0));
        svg.dot(px, py, 4.5, "mark");
        svg.text(px, py - 11.0, "middle", "name strong halo", &format!("{:.0}°", r.temperature.0));
        if px - free > if room.narrow() { 36.0 } else { 44.0 } {
            svg.text(px, bottom + 19.0, "middle", "tick", &format!("{:.0} g", r.grams.0));
            free = px;
        }
    }
    if (low..=high).contains(&here.0) {
        svg.line(x(here.0), top, x(here.0), bottom, "moment");
        svg.text(x(here.0), height - 8.0, "middle", "name strong", "this piece");
    }
    let said: Vec<String> = rows
        .iter()
        .map(|r| format!("{:.0} g {:.0} °C {:.0} min", r.grams.0, r.temperature.0, r.time.0))
        .collect();
    svg.finish(&format!("Every size of this dough: {}", said.join("; ")), "curve by-size")
}
