//! Curves: the rise with its target, and core and crust in the oven.

use cerealis_core::oven::{BakeOutput, colour_word};
use cerealis_core::rise::Forecast;
use cerealis_core::units::shown;

use super::{Room, Svg, round_step};

struct Axes {
    left: f64,
    top: f64,
    right: f64,
    bottom: f64,
    minutes: f64,
    low: f64,
    high: f64,
}

impl Axes {
    fn x(&self, minutes: f64) -> f64 {
        self.left + (self.right - self.left) * minutes / self.minutes
    }

    fn y(&self, value: f64) -> f64 {
        self.bottom - (self.bottom - self.top) * (value - self.low) / (self.high - self.low)
    }

    fn draw(&self, svg: &mut Svg, step: f64, unit: &str, wanted: f64) {
        let mut v = self.low;
        while v <= self.high + 1e-9 {
            let y = self.y(v);
            svg.line(self.left, y, self.right, y, "grid");
            let text = format!("{}{unit}", crate::form::plain(v));
            svg.text(self.left - 7.0, y + 4.5, "end", "tick", &text);
            v += step;
        }
        let step = round_step(self.minutes, wanted, &[2.0, 5.0, 10.0, 15.0, 30.0, 60.0, 120.0, 240.0, 480.0]);
        let hours = step >= 30.0;
        let mut m = 0.0;
        while m <= self.minutes + 1e-9 {
            let x = self.x(m);
            svg.line(x, self.bottom, x, self.bottom + 5.0, "axis");
            let text = if hours { format!("{} h", crate::form::plain(m / 60.0)) } else { format!("{m:.0}") };
            svg.text(x, self.bottom + 20.0, "middle", "tick", &text);
            m += step;
        }
        svg.line(self.left, self.bottom, self.right, self.bottom, "axis");
    }
}

/// What is laid over a rise.
#[derive(Clone, Copy, Default)]
pub struct Over<'a> {
    /// Another forecast: another setting, or the one before the readings.
    pub other: Option<&'a Forecast>,
    /// Readings: minutes since the rise began, and times its volume then.
    pub readings: &'a [(f64, f64)],
    /// Minutes since it began, now.
    pub now: Option<f64>,
    /// The field of the target, where its line can be pulled up and down.
    pub pull: Option<&'a str>,
}

/// Volume of one rise against time, from its start, with target and spread.
///
/// The temperature of the dough stands under it.
pub fn rise_curve(name: &str, f: &Forecast, target: f64, over: &Over<'_>, room: Room) -> String {
    let width = if room.narrow() { room.width() } else { 0.5 * room.width() - 10.0 };
    let height = 262.0;
    let start = f.curve.first().map_or(1.0, |m| m.volume);
    let highest = f.curve.iter().chain(&f.fast).map(|m| m.volume / start).fold(target, f64::max);
    let longest =
        over.other.map_or(0.0, |o| o.time.0).max(f.late.0).max(f.time.0).max(over.now.unwrap_or(0.0));
    let axes = Axes {
        left: 42.0,
        top: 14.0,
        right: width - 14.0,
        bottom: height - 74.0,
        minutes: longest * 1.04,
        low: 1.0,
        high: 1.0 + 0.5 * ((highest - 1.0) / 0.5).ceil() + 0.25,
    };
    let mut svg = Svg::new(width, height);
    axes.draw(&mut svg, if axes.high - axes.low > 1.6 { 0.5 } else { 0.25 }, "×", 5.0);
    // The spread: everything between the course in a faster kitchen and that in a slower one.
    let at = |m: &cerealis_core::rise::Moment| (axes.x(m.minutes), axes.y(m.volume / start));
    let mut between: Vec<_> = f.fast.iter().map(at).collect();
    between.extend(f.slow.iter().rev().map(at));
    svg.area(&between, "spread", None);
    svg.line(axes.left, axes.y(target), axes.right, axes.y(target), "target");
    let curve: Vec<_> = f.curve.iter().map(at).collect();
    if let Some(o) = over.other {
        let begin = o.curve.first().map_or(1.0, |m| m.volume);
        let line: Vec<_> = o.curve.iter().map(|m| (axes.x(m.minutes), axes.y(m.volume / begin))).collect();
        svg.path(&line, "other-line");
    }
    svg.path(&curve, "rise-line");
    if let Some(&(x, y)) = curve.last() {
        svg.dot(x, y, 5.5, "mark");
    }
    svg.text(
        axes.left + 8.0,
        axes.top + 14.0,
        "start",
        "name strong halo",
        &format!("{name} {}", shown::time(f.time)),
    );
    for &(minutes, volume) in over.readings {
        svg.dot(axes.x(minutes), axes.y(volume.min(axes.high)), 7.0, "reading");
    }
    if let Some(now) = over.now {
        svg.line(axes.x(now), axes.top, axes.x(now), axes.bottom, "moment");
        svg.text(axes.x(now) - 6.0, axes.bottom - 8.0, "end", "name strong halo", "now");
    }
    if let Some(field) = over.pull {
        handle(&mut svg, &axes, target, field);
    }
    temperature_strip(&mut svg, &axes, f, height);
    let label = format!(
        "{name}: volume against time; {} to {target} times, likely {} to {}",
        shown::time(f.time),
        shown::time(f.early),
        shown::time(f.late)
    );
    svg.finish(&label, "curve")
}

/// The grip on the target's line. What it needs to be pulled travels with it.
fn handle(svg: &mut Svg, axes: &Axes, target: f64, field: &str) {
    let (x, y) = (axes.left + 26.0, axes.y(target));
    svg.raw(&format!(
        r#"<g class="grip" data-pull="{field}" data-top="{:.1}" data-bottom="{:.1}" data-low="{}" data-high="{}"><circle cx="{x:.1}" cy="{y:.1}" r="22" class="grip-room"/><circle cx="{x:.1}" cy="{y:.1}" r="11" class="grip-mark"/><path d="M{x:.1} {:.1}l4 4.5h-8zM{x:.1} {:.1}l4 -4.5h-8z" class="grip-arrow"/></g>"#,
        axes.top,
        axes.bottom,
        axes.low,
        axes.high,
        y - 7.0,
        y + 7.0,
    ));
}

/// The dough's temperature along the foot of its rise, with its figure where it has moved.
fn temperature_strip(svg: &mut Svg, axes: &Axes, f: &Forecast, height: f64) {
    let (top, tall) = (height - 44.0, 22.0);
    for w in f.curve.windows(2) {
        let (x0, x1) = (axes.x(w[0].minutes), axes.x(w[1].minutes));
        svg.raw(&format!(
            r#"<rect x="{x0:.1}" y="{top:.1}" width="{:.2}" height="{tall:.1}" fill="{}"/>"#,
            x1 - x0 + 0.4,
            super::band::dough_colour(w[1].temperature)
        ));
    }
    svg.rect(axes.left, top, axes.x(f.time.0) - axes.left, tall, "frame");
    svg.text(axes.left - 7.0, top + 15.5, "end", "tick", "°C");
    let mut free = f64::NEG_INFINITY;
    let mut written = f64::NAN;
    let last = f.curve.len().saturating_sub(1);
    for (i, m) in f.curve.iter().enumerate() {
        let x = axes.x(m.minutes).clamp(axes.left + 12.0, (axes.x(f.time.0) - 12.0).max(axes.left + 12.0));
        let moved = written.is_nan() || (m.temperature - written).abs() >= 1.5 || i == last;
        if moved && x > free {
            svg.text(x, top + 15.5, "middle", "on-dough", &format!("{:.0}°", m.temperature));
            (free, written) = (x + 34.0, m.temperature);
        }
    }
}

/// Core and crust against minutes, with the crust's colour along the foot.
pub fn oven_curves(b: &BakeOutput, room: Room) -> String {
    let width = room.width();
    let height = if room.narrow() { 330.0 } else { 340.0 };
    let axes = Axes {
        left: 52.0,
        top: 20.0,
        right: width - if room.narrow() { 12.0 } else { 110.0 },
        bottom: height - 92.0,
        minutes: b.time.0,
        low: 0.0,
        high: (b.temperature.0 / 50.0).ceil() * 50.0,
    };
    let mut svg = Svg::new(width, height);
    axes.draw(&mut svg, 50.0, "°", if room.narrow() { 6.0 } else { 11.0 });
    svg.text(0.5 * (axes.left + axes.right), axes.bottom + 36.0, "middle", "tick", "minutes in the oven");
    svg.line(axes.left, axes.y(b.core_target.0), axes.right, axes.y(b.core_target.0), "target");
    let line = |of: fn(&cerealis_core::oven::BakeMoment) -> f64| -> Vec<(f64, f64)> {
        b.curve.iter().map(|m| (axes.x(m.minutes), axes.y(of(m)))).collect()
    };
    svg.path(&line(|m| m.surface), "crust-line");
    svg.path(&line(|m| m.core), "core-line");
    if let Some(lid) = b.lid_off {
        moment(&mut svg, &axes, lid.0, "lid off");
    }
    if let Some(foil) = b.foil_on {
        moment(&mut svg, &axes, foil.0, "foil on");
    }
    ends(&mut svg, &axes, b, room);
    crust_strip(&mut svg, &axes, b, height);
    let label = format!(
        "Core and crust temperature over {} minutes at {:.0} °C: the core comes to {:.0} °C, the crust is {}",
        b.time.0.round(),
        b.temperature.0,
        b.core.0,
        b.colour
    );
    svg.finish(&label, "curve")
}

fn moment(svg: &mut Svg, axes: &Axes, minutes: f64, name: &str) {
    let x = axes.x(minutes);
    svg.line(x, axes.top, x, axes.bottom, "moment");
    svg.text(x - 6.0, axes.top + 12.0, "end", "name strong halo", &format!("{name} {minutes:.0}"));
}

/// Names at the ends of the curves, with their figures.
fn ends(svg: &mut Svg, axes: &Axes, b: &BakeOutput, room: Room) {
    let Some(last) = b.curve.last() else { return };
    let core = format!("core {:.0} °C", last.core);
    let crust = format!("crust {:.0} °C", last.surface);
    svg.dot(axes.x(last.minutes), axes.y(last.core), 5.0, "mark");
    if room.narrow() {
        svg.text(axes.right - 4.0, axes.y(last.core) + 22.0, "end", "name strong halo", &core);
        svg.text(axes.right - 4.0, axes.y(last.surface) - 9.0, "end", "name strong halo", &crust);
    } else {
        svg.text(axes.right + 10.0, axes.y(last.core) + 5.0, "start", "name strong", &core);
        svg.text(axes.right + 10.0, axes.y(last.surface) + 5.0, "start", "name strong", &crust);
        if axes.y(last.core) - axes.y(b.core_target.0) > 14.0
            || axes.y(b.core_target.0) - axes.y(last.core) > 14.0
        {
            svg.text(
                axes.right + 10.0,
                axes.y(b.core_target.0) + 5.0,
                "start",
                "tick",
                &format!("done {:.0} °C", b.core_target.0),
            );
        }
    }
}

/// The crust's colour along the minutes, each change of word named.
fn crust_strip(svg: &mut Svg, axes: &Axes, b: &BakeOutput, height: f64) {
    let (y, h) = (height - 44.0, 20.0);
    for w in b.curve.windows(2) {
        let (x0, x1) = (axes.x(w[0].minutes), axes.x(w[1].minutes));
        svg.raw(&format!(
            r#"<rect x="{x0:.1}" y="{y:.1}" width="{:.2}" height="{h:.1}" fill="{}"/>"#,
            x1 - x0 + 0.4,
            crust_colour(w[1].lightness)
        ));
    }
    svg.rect(axes.left, y, axes.right - axes.left, h, "frame");
    svg.text(axes.left - 7.0, y + 15.0, "end", "tick", "crust");
    let mut words: Vec<(f64, &str)> = Vec::new();
    for m in &b.curve {
        let word = colour_word(m.lightness);
        if words.last().is_none_or(|(_, before)| *before != word) {
            words.push((axes.x(m.minutes), word));
        }
    }
    // The last is the one that counts, so it has its place first; another gives way where it is crowded.
    let mut free = axes.right;
    for (n, (x, word)) in words.iter().rev().enumerate() {
        let at = x.min(free - 8.0 * word.len() as f64);
        if n == 0 || at > x - 16.0 {
            svg.line(*x, y + h, *x, y + h + 5.0, "axis");
            svg.text(at, height - 6.0, "start", "tick", word);
            free = at - 6.0;
        }
    }
}

/// A crust of lightness `l` as a colour.
pub fn crust_colour(l: f64) -> String {
    const STOPS: [(f64, [f64; 3]); 6] = [
        (25.0, [58.0, 34.0, 20.0]),
        (40.0, [96.0, 54.0, 26.0]),
        (50.0, [132.0, 74.0, 32.0]),
        (62.0, [184.0, 116.0, 52.0]),
        (72.0, [217.0, 166.0, 96.0]),
        (85.0, [242.0, 226.0, 192.0]),
    ];
    let i = STOPS.partition_point(|(at, _)| *at <= l).clamp(1, STOPS.len() - 1);
    let ((l0, a), (l1, b)) = (STOPS[i - 1], STOPS[i]);
    let k = ((l - l0) / (l1 - l0)).clamp(0.0, 1.0);
    let c = |n: usize| (a[n] + k * (b[n] - a[n])) as u8;
    format!("#{:02x}{:02x}{:02x}", c(0), c(1), c(2))
}
