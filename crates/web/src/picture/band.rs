//! The swelling band: the dough along the clock. Its thickness is its volume, its tint its
//! temperature; notches under it are hands, hatching behind it is sleep.

use cerealis_core::day::StepKind;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::stations::{CoursePoint, Phase, Stations};
use cerealis_core::units::{Minutes, shown};
use jiff::{SignedDuration, ZonedDateTime};

use super::{Room, Svg, round_step};
use crate::show::clock;

struct Frame<'a> {
    stations: &'a Stations,
    room: Room,
    left: f64,
    scale: f64,
    base: f64,
    unit: f64,
    top: f64,
}

/// Draws the band from the first touch to the cut. `place` is where on the page it stands: several
/// may be there at once, and their patterns need names of their own.
pub fn band(place: &str, stations: &Stations, kitchen: &Kitchen, room: Room) -> String {
    let course = stations.course();
    let highest = course.iter().map(|p| p.volume).fold(1.0, f64::max);
    let width = room.width();
    let (left, right) = (2.0, 2.0);
    let tallest = if room.narrow() { 110.0 } else { 120.0 };
    let top = 62.0;
    let base = top + tallest;
    let height = base + 58.0;
    let frame = Frame {
        stations,
        room,
        left,
        scale: (width - left - right) / stations.day.length.0,
        base,
        unit: tallest / highest,
        top,
    };
    let mut svg = Svg::new(width, height);
    let id = &room.id(place);
    svg.raw(&format!(
        r#"<defs><pattern id="sleep-{id}" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><rect width="1.6" height="7" class="hatch"/></pattern></defs>"#
    ));
    frame.sleep(&mut svg, kitchen, id);
    frame.ticks(&mut svg);
    frame.levain(&mut svg);
    frame.dough(&mut svg, &course, id);
    frame.names(&mut svg);
    frame.hands(&mut svg);
    let label = format!(
        "The dough along the clock from {} to {}: it swells in the bulk rise, is cut, swells again and sets in the oven",
        clock(&stations.day.start),
        clock(&stations.day.ready)
    );
    svg.finish(&label, "band")
}

impl Frame<'_> {
    fn x(&self, minutes: f64) -> f64 {
        self.left + self.scale * minutes
    }

    fn y(&self, volume: f64) -> f64 {
        self.base - self.unit * volume
    }

    fn at(&self, minutes: f64) -> ZonedDateTime {
        let start = &self.stations.day.start;
        start
            .checked_add(SignedDuration::from_secs((60.0 * minutes) as i64))
            .unwrap_or_else(|_| start.clone())
    }

    fn sleep(&self, svg: &mut Svg, kitchen: &Kitchen, id: &str) {
        let (length, hours) = (self.stations.day.length.0, kitchen.hours());
        let step = 10.0;
        let mut from = None;
        let mut minutes = 0.0;
        while minutes <= length + step {
            let asleep = minutes <= length && hours.asleep(&self.at(minutes));
            match (asleep, from) {
                (true, None) => from = Some(minutes),
                (false, Some(start)) => {
                    let (a, b) = (self.x(start), self.x(minutes.min(length)));
                    svg.raw(&format!(r#"<rect x="{a:.1}" y="{:.1}" width="{:.1}" height="{:.1}" fill="url(#sleep-{id})"/>"#, 18.0, b - a, self.base - 18.0));
                    if b - a > 44.0 {
                        svg.text(0.5 * (a + b), 13.0, "middle", "tick", "sleep");
                    }
                    from = None;
                }
                _ => {}
            }
            minutes += step;
        }
    }

    fn ticks(&self, svg: &mut Svg) {
        let length = self.stations.day.length.0;
        let wanted = if self.room.narrow() { 5.0 } else { 11.0 };
        let step = round_step(length, wanted, &[30.0, 60.0, 120.0, 180.0, 240.0, 360.0, 720.0, 1440.0]);
        let start = &self.stations.day.start;
        let past = f64::from(start.hour()) * 60.0 + f64::from(start.minute());
        let mut minutes = (past / step).ceil() * step - past;
        svg.line(self.left, self.base, self.x(length), self.base, "axis");
        while minutes <= length {
            let x = self.x(minutes);
            svg.line(x, self.base + 22.0, x, self.base + 28.0, "axis");
            let anchor = if x < 20.0 {
                "start"
            } else if x > self.x(length) - 20.0 {
                "end"
            } else {
                "middle"
            };
            svg.text(x, self.base + 43.0, anchor, "tick", &clock(&self.at(minutes)));
            minutes += step;
        }
    }

    /// What ferments ahead stands as a bar before the dough, ready when mixing begins.
    fn levain(&self, svg: &mut Svg) {
        let longest = self.stations.ahead.iter().max_by(|a, b| a.time.0.total_cmp(&b.time.0));
        let Some(ahead) = longest.filter(|a| a.time.0 > 0.0) else { return };
        let mixing = self.stations.mixed_at.0 - self.stations.mix.minutes.0 - 10.0;
        let (from, to) = (self.x((mixing - ahead.time.0).max(0.0)), self.x(mixing));
        let thick = 0.32 * self.unit;
        svg.rect(from, self.base - thick, to - from, thick, "levain");
        if to - from > 90.0 {
            let text = format!("{} {}", ahead.stage.name().to_lowercase(), shown::time(ahead.time));
            svg.text(0.5 * (from + to), self.base - thick - 7.0, "middle", "name", &text);
        }
    }

    fn dough(&self, svg: &mut Svg, course: &[CoursePoint], id: &str) {
        let (Some(first), Some(last)) = (course.first(), course.last()) else { return };
        let (x0, x1) = (self.x(first.minutes), self.x(last.minutes));
        let mut stops = String::new();
        let every = (course.len() / 40).max(1);
        for (i, p) in course.iter().enumerate() {
            if i % every == 0 || i + 1 == course.len() || course[i.saturating_sub(1)].phase != p.phase {
                let offset = (self.x(p.minutes) - x0) / (x1 - x0);
                stops.push_str(&format!(r#"<stop offset="{offset:.4}" stop-color="{}"/>"#, tint(p)));
            }
        }
        svg.raw(&format!(
            r#"<linearGradient id="tint-{id}" gradientUnits="userSpaceOnUse" x1="{x0:.1}" x2="{x1:.1}" y1="0" y2="0">{stops}</linearGradient>"#
        ));
        let edge: Vec<(f64, f64)> = course.iter().map(|p| (self.x(p.minutes), self.y(p.volume))).collect();
        let mut area = edge.clone();
        area.push((x1, self.base));
        area.push((x0, self.base));
        svg.area(&area, "dough", Some(&format!("url(#tint-{id})")));
        svg.path(&edge, "edge");
        // Where the dough is cut, and where it meets the oven.
        for (i, p) in course.iter().enumerate().skip(1) {
            if p.phase != course[i - 1].phase && matches!(p.phase, Phase::Shaping | Phase::Oven) {
                let x = self.x(p.minutes);
                svg.line(x, self.y(p.volume.max(course[i - 1].volume)) - 5.0, x, self.base, "cut");
            }
        }
        self.temperatures(svg, course);
    }

    fn temperatures(&self, svg: &mut Svg, course: &[CoursePoint]) {
        for phase in [Phase::Bulk, Phase::Proof, Phase::Oven] {
            let of: Vec<_> = course.iter().filter(|p| p.phase == phase).collect();
            let (Some(a), Some(b)) = (of.first(), of.last()) else { continue };
            let width = self.x(b.minutes) - self.x(a.minutes);
            let figures = if (a.temperature - b.temperature).abs() < 0.6 {
                format!("{:.0} °C", b.temperature)
            } else {
                format!("{:.0} → {:.0} °C", a.temperature, b.temperature)
            };
            let needs = 7.6 * figures.chars().count() as f64;
            let x = 0.5 * (self.x(a.minutes) + self.x(b.minutes));
            if width > needs {
                svg.text(
                    x,
                    self.base - 9.0,
                    "middle",
                    if phase == Phase::Oven { "on-crust" } else { "on-dough" },
                    &figures,
                );
            } else if width > 30.0 {
                svg.text(
                    x,
                    self.base - 9.0,
                    "middle",
                    if phase == Phase::Oven { "on-crust" } else { "on-dough" },
                    &format!("{:.0}°", b.temperature),
                );
            }
        }
    }

    fn names(&self, svg: &mut Svg) {
        let s = self.stations;
        let mut names: Vec<(f64, f64, &str, Minutes)> = Vec::new();
        if let Some(b) = &s.rise.bulk {
            names.push((s.mixed_at.0, s.mixed_at.0 + b.time.0, "bulk", b.time));
        }
        if let (Some(b), Some(again)) = (&s.rise.bulk, &s.rise.second) {
            let from = s.mixed_at.0 + b.time.0;
            names.push((from, from + again.time.0, "second", again.time));
        }
        if let Some(p) = &s.rise.proof {
            names.push((s.proof_at.0, s.proof_at.0 + p.time.0, "proof", p.time));
        }
        names.push((s.oven_at.0, s.oven_at.0 + s.bake.time.0, "oven", s.bake.time));
        // Side by side if there is room, else in two rows above the band.
        let mut ends = [f64::NEG_INFINITY; 2];
        for (from, to, name, time) in names {
            let text = format!("{name} {}", shown::time(time));
            let half = 3.9 * text.chars().count() as f64;
            let x = (0.5 * (self.x(from) + self.x(to))).clamp(self.left + half, self.room.width() - half);
            let row = usize::from(x - half < ends[0] + 6.0);
            ends[row] = x + half;
            svg.text(x, self.top - 10.0 - 16.0 * row as f64, "middle", "name strong halo", &text);
        }
    }

    fn hands(&self, svg: &mut Svg) {
        for c in self.stations.day.steps.iter().filter(|c| c.step.hands_on) {
            let (a, w) = (self.x(c.step.start.0), (self.scale * c.step.length.0).max(4.0));
            let class = if c.step.kind == StepKind::Oven { "hands oven" } else { "hands" };
            svg.rect(a, self.base + 3.0, w, 13.0, class);
        }
    }
}

/// The tint of a dough by its temperature, of a loaf by its crust.
fn tint(p: &CoursePoint) -> String {
    let rgb = match p.phase {
        Phase::Oven => {
            // From dough to crust while the core comes up.
            let k = ((p.temperature - 25.0) / 65.0).clamp(0.0, 1.0);
            mix([236.0, 190.0, 120.0], [142.0, 84.0, 40.0], k)
        }
        Phase::Cooling => [190.0, 138.0, 84.0],
        _ => return dough_colour(p.temperature),
    };
    hex(rgb)
}

/// The tint of a dough of `t` °C.
pub(super) fn dough_colour(t: f64) -> String {
    const STOPS: [(f64, [f64; 3]); 6] = [
        (4.0, [164.0, 187.0, 200.0]),
        (14.0, [205.0, 208.0, 190.0]),
        (21.0, [236.0, 219.0, 178.0]),
        (26.0, [240.0, 205.0, 138.0]),
        (31.0, [235.0, 178.0, 100.0]),
        (40.0, [224.0, 150.0, 76.0]),
    ];
    let i = STOPS.partition_point(|(at, _)| *at <= t).clamp(1, STOPS.len() - 1);
    let ((t0, a), (t1, b)) = (STOPS[i - 1], STOPS[i]);
    hex(mix(a, b, ((t - t0) / (t1 - t0)).clamp(0.0, 1.0)))
}

fn hex(rgb: [f64; 3]) -> String {
    format!("#{:02x}{:02x}{:02x}", rgb[0] as u8, rgb[1] as u8, rgb[2] as u8)
}

fn mix(a: [f64; 3], b: [f64; 3], k: f64) -> [f64; 3] {
    std::array::from_fn(|i| a[i] + k * (b[i] - a[i]))
}
