//! Several days: a lane for each dough, the hands and the ovens under one clock, hatched where nobody is at the bench.

use cerealis_core::day::StepKind;
use cerealis_core::plan::{Closed, PlannedStep, STEP};
use jiff::Timestamp;
use jiff::tz::TimeZone;

use super::{Svg, escape};

/// What is drawn.
pub struct Days<'a> {
    /// When the picture begins; steps of closed hours count from here.
    pub begins: Timestamp,
    /// Of which time zone its clock is.
    pub zone: &'a TimeZone,
    /// The names of the doughs.
    pub doughs: &'a [String],
    /// What is done when.
    pub steps: &'a [PlannedStep],
    /// When each bread is wanted, in steps from the beginning, where it is at a time.
    pub wanted: &'a [Option<i32>],
    /// Hours without hands.
    pub closed: &'a [Closed],
    /// This moment.
    pub now: Timestamp,
    /// Whether the plan is followed already: then what is wanted stays, and what has begun does.
    pub followed: bool,
}

const LANE: f64 = 74.0;
const LEFT: f64 = 14.0;
const TOP: f64 = 34.0;
/// Points of an hour: wide enough that ten minutes are seen.
const HOUR: f64 = 34.0;

/// How thick a dough is without gas, as a part of its lane: three times that, as far as any rises, fills it.
const WITHOUT_GAS: f64 = 0.3;

/// How a dough swells while it is waited for: minutes, and times the dough without gas.
fn swelling(s: &PlannedStep) -> Vec<(f64, f64)> {
    let mut course: Vec<(f64, f64)> = s.swells.iter().copied().filter(|(m, _)| *m <= s.length.0).collect();
    let last = s.swells.iter().rfind(|(m, _)| *m <= s.length.0).map_or(1.0, |(_, v)| *v);
    // Between two moments, and after the last one, as far as it stands.
    let next = s.swells.iter().find(|(m, _)| *m > s.length.0);
    let end = match (course.last(), next) {
        (Some((m0, v0)), Some((m1, v1))) if m1 > m0 => v0 + (v1 - v0) * (s.length.0 - m0) / (m1 - m0),
        _ => last,
    };
    course.push((s.length.0, end));
    course.iter().map(|(m, v)| (*m, v.min(3.1))).collect()
}

/// How thick a dough is while a step lasts, at its beginning and its end, as parts of its lane.
pub(super) fn thickness(kind: StepKind) -> (f64, f64) {
    match kind {
        StepKind::Levain => (0.12, 0.3),
        StepKind::Mix | StepKind::Fold => (0.3, 0.3),
        StepKind::Bulk => (0.3, 0.66),
        StepKind::Shape => (0.42, 0.36),
        StepKind::Proof => (0.36, 0.72),
        StepKind::Finish | StepKind::Oven => (0.72, 0.72),
        StepKind::Bake | StepKind::Cool => (0.78, 0.78),
    }
}

pub(super) fn class(kind: StepKind) -> &'static str {
    match kind {
        StepKind::Levain => "lane-levain",
        StepKind::Proof => "lane-proof",
        StepKind::Bake => "lane-bake",
        StepKind::Cool => "lane-cool",
        _ => "lane-dough",
    }
}

/// Draws the days; as wide as they are long.
pub fn days(d: &Days<'_>) -> String {
    let minute = |t: Timestamp| t.duration_since(d.begins).as_secs_f64() / 60.0;
    let ends = d.steps.iter().map(|s| minute(s.at) + s.length.0).fold(60.0, f64::max);
    let from = d.steps.iter().map(|s| minute(s.at)).fold(f64::INFINITY, f64::min).min(ends - 60.0);
    let from = ((from / 60.0).floor() - 1.0).max(0.0) * 60.0;
    let to = (ends / 60.0).ceil() * 60.0 + 30.0;
    let x = |m: f64| LEFT + (m - from) / 60.0 * HOUR;
    let lanes = d.doughs.len() as f64;
    let (hands_top, oven_top) = (TOP + LANE * lanes + 6.0, TOP + LANE * lanes + 44.0);
    let (width, height) = (x(to) + 12.0, oven_top + 62.0);
    let mut svg = Svg::new(width.max(360.0), height);
    svg.raw(r#"<defs><pattern id="shut" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><rect width="1.6" height="7" class="hatch"/></pattern></defs>"#);
    for c in d.closed {
        let (a, b) = ((f64::from(c.from) * STEP).max(from), (f64::from(c.to) * STEP).min(to));
        if b > a {
            let (left, wide) = (x(a), x(b) - x(a));
            svg.raw(&format!(
                r#"<rect x="{left:.1}" y="{TOP:.1}" width="{wide:.1}" height="{:.1}" fill="url(#shut)"/>"#,
                oven_top + 30.0 - TOP
            ));
            if wide > 40.0 {
                let word = if c.sleep { "sleep" } else { "away" };
                svg.text(left + 0.5 * wide, TOP - 6.0, "middle", "tick", word);
            }
        }
    }
    for (n, name) in d.doughs.iter().enumerate() {
        let base = TOP + LANE * (n as f64 + 1.0) - 8.0;
        lane(&mut svg, d, n, base, &|t| x(minute(t)), &|m| m / 60.0 * HOUR);
        svg.line(LEFT, base, width - 8.0, base, "axis");
        svg.text(LEFT + 4.0, base - LANE + 22.0, "start", "name strong halo", name);
    }
    svg.text(LEFT + 4.0, hands_top + 11.0, "start", "tick halo", "hands");
    for s in d.steps.iter().filter(|s| s.hands_on) {
        notch(&mut svg, d, s, hands_top + 14.0, &x);
    }
    for (n, wanted) in d.wanted.iter().enumerate().filter(|_| !d.followed) {
        let m = wanted.map(|step| f64::from(step) * STEP).filter(|m| (from..=to).contains(m));
        if let Some(m) = m {
            flag(&mut svg, d, n, m, TOP + LANE * (n as f64 + 1.0) - 8.0, &x);
        }
    }
    oven(&mut svg, d, oven_top, &|t| x(minute(t)));
    hours(&mut svg, d, (from, to), oven_top + 34.0, &x);
    let now = minute(d.now);
    if (from..=to).contains(&now) {
        svg.line(x(now), TOP, x(now), oven_top + 30.0, "moment");
        svg.text(x(now) + 4.0, TOP + 12.0, "start", "name strong halo", "now");
    }
    // What is dragged is told where it is by the picture's own measure.
    let size = format!(
        r#"<svg width="{:.0}" height="{height:.0}" data-from="{from:.0}" data-left="{LEFT:.0}" data-hour="{HOUR:.0}""#,
        width.max(360.0)
    );
    let says = format!("{} on the clock, with hands and oven below", d.doughs.join(", "));
    // As wide as its hours: a long plan is scrolled, not made small.
    let drawn = svg.finish(&says, "days-picture").replacen("<svg", &size, 1);
    // What is in it can be moved: it is no image to what reads it aloud.
    drawn.replacen(r#"role="img""#, r#"role="group""#, 1)
}

/// A moment with hands on, in their lane: it can be set to another time, unless it has begun.
fn notch(svg: &mut Svg, d: &Days<'_>, s: &PlannedStep, top: f64, x: &dyn Fn(f64) -> f64) {
    let minute = s.at.duration_since(d.begins).as_secs_f64() / 60.0;
    let wide = (s.length.0 / 60.0 * HOUR).max(3.0);
    let (name, title) = (escape(&d.doughs[s.dough]), escape(&s.title));
    let at = s.at.to_zoned_datetime(d.zone.clone()).strftime("%a %H:%M").to_string();
    let moves = if d.followed && s.at <= d.now {
        String::new()
    } else {
        let step = (minute / STEP).round();
        let (low, high) = (step - 288.0, step + 288.0);
        format!(
            r#" tabindex="0" role="slider" aria-label="{title}, {name}" aria-valuemin="{low:.0}" aria-valuemax="{high:.0}" aria-valuenow="{step:.0}" aria-valuetext="{at}" data-move="{}:{}" data-step="{step:.0}" data-title="{title}""#,
            s.dough,
            escape(&s.id)
        )
    };
    svg.raw(&format!(
        r#"<rect x="{:.1}" y="{top:.1}" width="{wide:.1}" height="16" class="hand-{}"{moves}><title>{name}, {title}, {at}</title></rect>"#,
        x(minute),
        s.dough % 3
    ));
}

/// When a bread is wanted: a flag in its lane, which can be set elsewhere.
fn flag(svg: &mut Svg, d: &Days<'_>, dough: usize, minute: f64, base: f64, x: &dyn Fn(f64) -> f64) {
    let (left, top) = (x(minute), base - LANE + 30.0);
    let at =
        d.begins.checked_add(jiff::SignedDuration::from_secs((minute * 60.0) as i64)).unwrap_or(d.begins);
    let at = at.to_zoned_datetime(d.zone.clone()).strftime("%a %H:%M").to_string();
    let (name, step) = (escape(&d.doughs[dough]), (minute / STEP).round());
    let (low, high) = (step - 288.0, step + 288.0);
    svg.raw(&format!(
        r#"<g class="wanted" tabindex="0" role="slider" aria-label="{name} is wanted" aria-valuemin="{low:.0}" aria-valuemax="{high:.0}" aria-valuenow="{step:.0}" aria-valuetext="{at}" data-move="{dough}:" data-step="{step:.0}" data-title=""><title>{name} is wanted {at}</title><line x1="{left:.1}" y1="{base:.1}" x2="{left:.1}" y2="{top:.1}"/><path d="M{left:.1} {top:.1} l14 5 l-14 5 z"/></g>"#
    ));
}

/// A dough along its lane: its thickness is its volume, as it swells and is cut.
fn lane(
    svg: &mut Svg,
    d: &Days<'_>,
    dough: usize,
    base: f64,
    x: &dyn Fn(Timestamp) -> f64,
    wide: &dyn Fn(f64) -> f64,
) {
    let main = |s: &&PlannedStep| {
        s.dough == dough && !matches!(s.kind, StepKind::Oven | StepKind::Fold | StepKind::Finish)
    };
    for s in d.steps.iter().filter(main) {
        let (left, right) = (x(s.at), x(s.at) + wide(s.length.0).max(1.5));
        let tall = |part: f64| base - part * (LANE - 22.0);
        let mut points = vec![(left, base)];
        match s.swells.len() {
            0 | 1 => {
                let (a, b) = thickness(s.kind);
                points.extend([(left, tall(a)), (right, tall(b))]);
            }
            // As the engine has it swell, as far as it is waited for.
            _ => points.extend(swelling(s).into_iter().map(|(m, v)| (left + wide(m), tall(WITHOUT_GAS * v)))),
        }
        points.push((right, base));
        svg.area(&points, class(s.kind), None);
        if right - left > 70.0 && matches!(s.kind, StepKind::Bulk | StepKind::Proof | StepKind::Levain) {
            let text = cerealis_core::units::shown::time(s.length);
            svg.text(0.5 * (left + right), base - 6.0, "middle", "on-dough", &text);
        }
    }
}

/// How long an oven takes to be cold again, as it is drawn, min.
const COOLS: f64 = 75.0;
/// The hottest that its lane shows, °C.
const HOTTEST: f64 = 280.0;

/// The ovens: what bakes, under the line of the heat: up from when it is switched on, at its setting while it bakes,
/// down when nothing does.
fn oven(svg: &mut Svg, d: &Days<'_>, top: f64, x: &dyn Fn(Timestamp) -> f64) {
    svg.text(LEFT + 4.0, top + 9.0, "start", "tick halo", "oven");
    let base = top + 27.0;
    let minutes = |m: f64| m / 60.0 * HOUR;
    let heat = |dial: f64| base - 24.0 * (dial / HOTTEST).clamp(0.0, 1.0);
    let mut bakes: Vec<(f64, f64, f64, f64)> = Vec::new();
    for s in d.steps.iter().filter(|s| s.kind == StepKind::Bake && !s.hands_on) {
        let Some(dial) = s.oven else { continue };
        let (from, to) = (x(s.at), x(s.at) + minutes(s.length.0).max(4.0));
        // Switched on for it, last.
        let on = d.steps.iter().filter(|o| o.dough == s.dough && o.kind == StepKind::Oven && o.at <= s.at);
        let on = on.map(|o| x(o.at)).fold(f64::NEG_INFINITY, f64::max);
        bakes.push((if on.is_finite() { on } else { from - minutes(20.0) }, from, to, dial));
    }
    bakes.sort_by(|a, b| a.1.total_cmp(&b.1));
    let mut line: Vec<(f64, f64)> = Vec::new();
    let mut free = f64::NEG_INFINITY;
    for (n, (on, from, to, dial)) in bakes.iter().enumerate() {
        // Still hot from the one before, it only goes to another setting.
        let hot = line.last().is_some_and(|(end, _)| *on < end + minutes(COOLS));
        if !hot {
            line.push((*on, base));
        }
        line.extend([(*from, heat(*dial)), (*to, heat(*dial))]);
        let next = bakes.get(n + 1).map_or(f64::INFINITY, |b| b.0);
        if next >= to + minutes(COOLS) {
            line.push((to + minutes(COOLS), base));
        }
        svg.rect(*from, heat(*dial), to - from, base - heat(*dial), "lane-bake");
        if *from > free {
            svg.text(*from, heat(*dial) - 4.0, "start", "tick halo", &format!("{dial:.0} °C"));
            free = from + 52.0;
        }
    }
    let path: String = line.iter().map(|(x, y)| format!("{x:.1},{y:.1} ")).collect();
    if !line.is_empty() {
        svg.raw(&format!(r#"<polyline points="{}" class="heat"/>"#, path.trim_end()));
    }
}

/// The hours along the foot, and the days.
fn hours(svg: &mut Svg, d: &Days<'_>, (from, to): (f64, f64), top: f64, x: &dyn Fn(f64) -> f64) {
    let mut m = from;
    while m <= to {
        let at = d.begins.checked_add(jiff::SignedDuration::from_secs((m * 60.0) as i64)).unwrap_or(d.begins);
        let z = at.to_zoned_datetime(d.zone.clone());
        if z.minute() == 0 && z.hour() % 3 == 0 {
            svg.line(x(m), top - 4.0, x(m), top + 1.0, "axis");
            svg.text(x(m), top + 14.0, "middle", "tick", &z.strftime("%H:%M").to_string());
            if z.hour() == 0 || m < from + 180.0 {
                svg.text(x(m).max(LEFT), 13.0, "start", "name strong", &z.strftime("%a %-d %b").to_string());
            }
        }
        m += 60.0;
    }
}
