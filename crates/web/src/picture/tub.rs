//! The straight-sided tub with its start line and the line to tape on it.

use std::f64::consts::PI;

use super::{Room, Svg};

/// Draws the tub with a dough of `ml` without gas, its target and the height at which it gives way,
/// both in times. `across` is the tub's inner width in cm, where it is known.
pub fn tub(ml: f64, target: f64, most: f64, across: Option<f64>, room: Room) -> String {
    let width = if room.narrow() { room.width() } else { 0.5 * room.width() - 10.0 };
    let height = 230.0;
    let (left, right, bottom, top) = (26.0, 156.0, height - 16.0, 18.0);
    let full = (most.max(target) * 1.12).max(1.6);
    let y = |times: f64| bottom - (bottom - top) * times / full;
    let mut svg = Svg::new(width, height);
    svg.rect(left, y(target), right - left, bottom - y(target), "tub-grown");
    svg.rect(left, y(1.0), right - left, bottom - y(1.0), "tub-dough");
    svg.path(&[(left, top), (left, bottom), (right, bottom), (right, top)], "tub-wall");
    let cm = across.map(|d| ml / (PI / 4.0 * d * d));
    let line = |svg: &mut Svg, times: f64, class: &str, name: &str| {
        svg.line(left - 10.0, y(times), right + 14.0, y(times), class);
        let figure = cm.map_or(format!("{times:.2} ×"), |cm| format!("{:.1} cm", cm * times));
        svg.text(right + 20.0, y(times) - 2.0, "start", "name strong", &figure);
        svg.text(right + 20.0, y(times) + 14.0, "start", "tick", name);
    };
    line(&mut svg, 1.0, "tub-line", "start line");
    line(&mut svg, target, "target", "tape it here: ready");
    if most > target + 0.25 {
        line(&mut svg, most, "tub-limit", "it falls past this");
    }
    let label = match cm {
        Some(cm) => format!("The tub: the dough begins at {cm:.1} cm and is ready at {:.1} cm", cm * target),
        None => format!("The tub: ready at {target:.2} times the height at which the dough begins"),
    };
    svg.finish(&label, "tub")
}
