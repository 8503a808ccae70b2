//! The cut loaf: its section coloured by temperature at a moment of the bake that can be slid.

use std::f64::consts::PI;

use cerealis_core::oven::{BakeOutput, Cut, colour_word};
use cerealis_core::words::Kind;

use super::curves::crust_colour;
use super::{Room, Svg, escape};

/// Temperatures in °C and their colours: raw dough, setting, done, boiling, crust.
const STOPS: [(f64, [u8; 3]); 7] = [
    (20.0, [126, 158, 178]),
    (45.0, [176, 192, 186]),
    (65.0, [232, 222, 180]),
    (85.0, [243, 200, 110]),
    (99.0, [228, 144, 62]),
    (140.0, [168, 84, 38]),
    (210.0, [82, 44, 24]),
];
/// Vertices round about.
const VERTICES: usize = 72;

fn colour(t: f64) -> String {
    let i = STOPS.partition_point(|(at, _)| *at <= t).clamp(1, STOPS.len() - 1);
    let ((t0, a), (t1, b)) = (STOPS[i - 1], STOPS[i]);
    let k = ((t - t0) / (t1 - t0)).clamp(0.0, 1.0);
    let mix = |n: usize| f64::from(a[n]) + k * (f64::from(b[n]) - f64::from(a[n]));
    format!("rgb({:.0},{:.0},{:.0})", mix(0), mix(1), mix(2))
}

/// The outline's distance from the middle in a direction, for a body of half-width `a`, so high over
/// its middle and so deep under it.
fn reach(kind: Kind, a: f64, up: f64, down: f64, angle: f64) -> f64 {
    let (c, s) = (angle.cos(), angle.sin());
    let square = matches!(kind, Kind::Tin | Kind::Spirals | Kind::Swirl | Kind::Flat | Kind::PullApart);
    let (b, power) = match (s >= 0.0, square) {
        (true, true) => (up, 3.2),
        (true, false) => (up, 2.1),
        (false, true) => (down, 7.0),
        (false, false) => (down, 3.6),
    };
    ((c.abs() / a).powf(power) + (s.abs() / b).powf(power)).powf(-1.0 / power)
}

/// Which face a direction belongs to: 0 top, 1 sides, 2 base.
fn face(kind: Kind, angle: f64) -> usize {
    if matches!(kind, Kind::Flat | Kind::PullApart) {
        return if angle.sin() >= 0.0 { 0 } else { 2 };
    }
    match angle.sin() {
        s if s > 0.62 => 0,
        s if s < -0.62 => 2,
        _ => 1,
    }
}

/// Draws the cut loaf as it comes out, with all its moments for the slider.
pub fn cut_loaf(kind: Kind, b: &BakeOutput, room: Room) -> String {
    let Some(last) = b.cuts.last() else { return String::new() };
    let width = room.width();
    let tall = if room.narrow() { 196.0 } else { 250.0 };
    let mut svg = Svg::new(width, tall + 50.0);
    let size = b.size;
    let across = if kind == Kind::Ring { size.width / cerealis_core::shape::RING } else { size.width };
    let scale = ((tall - 26.0) / size.height).min((width - 40.0) / across).min(60.0);
    let (a, high) = (0.5 * across * scale, size.height * scale);
    // The middle of the heat lies a little under half the height.
    let (up, down) = (0.54 * high, 0.46 * high);
    let (cx, cy) = (0.5 * width, tall - 8.0 - down);
    let bands = last.top.len() - 1;
    let corner = |v: usize, part: f64| {
        let angle = 2.0 * PI * v as f64 / VERTICES as f64;
        let r = part * reach(kind, a, up, down, angle);
        (cx + r * angle.cos(), cy - r * angle.sin())
    };
    let side_of = |v: usize| face(kind, 2.0 * PI * (v as f64 + 0.5) / VERTICES as f64);
    for band in (0..bands).rev() {
        // Each lies over the one outside it, so that no seam shows.
        let outer = (band + 1) as f64 / bands as f64;
        let mut v = 0;
        while v < VERTICES {
            let of = side_of(v);
            let end = (v..VERTICES).find(|e| side_of(*e) != of).unwrap_or(VERTICES);
            let mut points: Vec<(f64, f64)> = (v..=end).map(|i| corner(i, outer)).collect();
            points.push((cx, cy));
            let d: Vec<String> = points.iter().map(|(x, y)| format!("{x:.1} {y:.1}")).collect();
            svg.raw(&format!(
                r#"<path d="M{}Z" data-at="{of}:{band}" fill="{}"/>"#,
                d.join("L"),
                colour(middle(last, of, band))
            ));
            v = end;
        }
    }
    let rim: Vec<String> =
        (0..VERTICES).map(|v| corner(v, 1.0)).map(|(x, y)| format!("{x:.1} {y:.1}")).collect();
    svg.raw(&format!(
        r#"<path d="M{}Z" class="cut-crust" data-crust stroke="{}"/>"#,
        rim.join("L"),
        crust_colour(b.lightness)
    ));
    let shelf = (a + 26.0).min(cx - 2.0);
    svg.line(cx - shelf, tall - 6.0, cx + shelf, tall - 6.0, "axis");
    legend(&mut svg, width, tall);
    let label = format!(
        "The loaf cut open: {:.0} cm wide, {:.1} cm high; coloured by its temperature. {}",
        across,
        size.height,
        says(b, last)
    );
    svg.finish(&label, "cut-loaf")
}

fn temperatures(cut: &Cut, face: usize) -> &[f64] {
    match face {
        0 => &cut.top,
        1 => &cut.sides,
        _ => &cut.base,
    }
}

fn middle(cut: &Cut, face: usize, band: usize) -> f64 {
    let t = temperatures(cut, face);
    0.5 * (t[band] + t[band + 1])
}

/// The colours with their temperatures.
fn legend(svg: &mut Svg, width: f64, tall: f64) {
    let (from, to, y) = (0.5 * width - 150.0, 0.5 * width + 150.0, tall + 14.0);
    let cells = 60;
    let at = |i: usize| 20.0 + 190.0 * i as f64 / cells as f64;
    let step = (to - from) / cells as f64;
    for i in 0..cells {
        let x = from + step * i as f64;
        svg.raw(&format!(
            r#"<rect x="{x:.1}" y="{y:.1}" width="{:.2}" height="12" fill="{}"/>"#,
            step + 0.4,
            colour(at(i))
        ));
    }
    for t in [25.0, 60.0, 100.0, 150.0, 200.0] {
        let x = from + (t - 20.0) / 190.0 * (to - from);
        svg.line(x, y + 12.0, x, y + 16.0, "axis");
        svg.text(x, y + 31.0, "middle", "tick", &format!("{t:.0} °C"));
    }
}

/// A moment in a sentence.
fn says(b: &BakeOutput, cut: &Cut) -> String {
    let n = b.curve.partition_point(|m| m.minutes < cut.minutes - 1e-6).min(b.curve.len() - 1);
    let m = &b.curve[n];
    format!(
        "After {:.0} min: core {:.0} °C, crust {:.0} °C on top and {:.0} °C below, {}.",
        cut.minutes,
        m.core,
        m.surface,
        m.base,
        colour_word(m.lightness)
    )
}

/// What the slider needs: temperatures, colours of the crust, and each moment in a sentence, as JSON
/// for an attribute.
pub fn cut_moments(b: &BakeOutput) -> String {
    let round = |t: &[f64]| t.iter().map(|x| x.round() as i32).collect::<Vec<_>>();
    let moments: Vec<serde_json::Value> = b
        .cuts
        .iter()
        .map(|cut| {
            let n = b.curve.partition_point(|m| m.minutes < cut.minutes - 1e-6).min(b.curve.len() - 1);
            serde_json::json!({
                "t": [round(&cut.top), round(&cut.sides), round(&cut.base)],
                "crust": crust_colour(b.curve[n].lightness),
                "says": says(b, cut),
            })
        })
        .collect();
    let stops: Vec<(f64, [u8; 3])> = STOPS.to_vec();
    escape(&serde_json::json!({ "stops": stops, "moments": moments }).to_string())
}

/// The last moment in a sentence, for a page without scripts.
pub fn cut_says(b: &BakeOutput) -> String {
    b.cuts.last().map_or(String::new(), |cut| says(b, cut))
}
