//! The swelling band of one bake that goes on: what was is solid, what is to come is pale, and the moment stands in it.

use cerealis_core::bake::{Due, Start};
use cerealis_core::day::StepKind;
use cerealis_core::watch::WatchAnswer;
use jiff::Timestamp;
use jiff::tz::TimeZone;

use super::days::{class, thickness};
use super::{Room, Svg, round_step};

const HEIGHT: f64 = 96.0;
const TOP: f64 = 8.0;
const BASE: f64 = 66.0;

/// Draws the band; `volumes` are readings of the rise that it is in.
pub fn bench(
    start: &Start,
    due: &Due,
    rising: Option<&WatchAnswer>,
    volumes: &[(Timestamp, f64)],
    now: Timestamp,
    zone: &TimeZone,
    room: Room,
) -> String {
    let width = room.width();
    let mut svg = Svg::new(width, HEIGHT);
    let (Some(first), Some(last)) =
        (due.spans.iter().map(|s| s.from).min(), due.spans.iter().map(|s| s.to).max())
    else {
        return svg.finish("Nothing of this bake is known on the clock", "band");
    };
    let minute = |t: Timestamp| t.duration_since(first).as_secs_f64() / 60.0;
    let length = minute(last.max(now)).max(30.0);
    let x = |t: Timestamp| 2.0 + (width - 4.0) * (minute(t) / length).clamp(0.0, 1.0);
    let tall = BASE - TOP;
    let y = |thick: f64| BASE - tall * thick.clamp(0.02, 1.0);
    let area = |svg: &mut Svg, top: &[(f64, f64)], class: &str| {
        let (Some(a), Some(b)) = (top.first(), top.last()) else { return };
        let points: Vec<(f64, f64)> = top.iter().copied().chain([(b.0, BASE), (a.0, BASE)]).collect();
        svg.area(&points, class, None);
    };
    for span in &due.spans {
        let Some(step) = start.step(&span.id) else { continue };
        let beside = step.hands_on && matches!(step.kind, StepKind::Fold | StepKind::Finish | StepKind::Oven);
        if !beside {
            let here = rising.filter(|r| span.from <= now && is_its(r, &span.id));
            let top: Vec<(f64, f64)> = match here {
                Some(r) => {
                    let start = r.forecast.after.curve.first().map_or(1.0, |m| m.volume);
                    let at = |m: f64| cerealis_core::watch::later(r.began, cerealis_core::units::Minutes(m));
                    let curve = r.forecast.after.curve.iter().filter(|m| at(m.minutes) <= span.to);
                    curve.map(|m| (x(at(m.minutes)), y(0.3 * m.volume / start))).collect()
                }
                None => {
                    let (a, b) = thickness(step.kind);
                    vec![(x(span.from), y(a)), (x(span.to), y(b))]
                }
            };
            let paint = if span.from > now {
                format!("{} to-come", class(step.kind))
            } else {
                class(step.kind).to_owned()
            };
            area(&mut svg, &top, &paint);
        }
        if step.hands_on {
            let at = x(span.from);
            svg.rect(at, BASE + 3.0, (x(span.to) - at).max(2.5), 7.0, "hands");
        }
    }
    if let Some(r) = rising {
        for (at, volume) in volumes.iter().filter(|(at, _)| *at >= r.began) {
            svg.raw(&format!(
                r#"<circle cx="{:.1}" cy="{:.1}" r="4" class="reading"/>"#,
                x(*at),
                y(0.3 * volume)
            ));
        }
    }
    svg.line(2.0, BASE, width - 2.0, BASE, "axis");
    let step = round_step(
        length,
        if room.narrow() { 4.0 } else { 9.0 },
        &[15.0, 30.0, 60.0, 120.0, 180.0, 240.0, 360.0, 720.0],
    );
    let begins = first.to_zoned_datetime(zone.clone());
    let past = f64::from(begins.hour()) * 60.0 + f64::from(begins.minute());
    let mut at = (past / step).ceil() * step - past;
    while at <= length {
        let t = cerealis_core::watch::later(first, cerealis_core::units::Minutes(at));
        let place = x(t);
        if place > 22.0 && place < width - 22.0 {
            svg.text(
                place,
                HEIGHT - 4.0,
                "middle",
                "tick",
                &t.to_zoned_datetime(zone.clone()).strftime("%H:%M").to_string(),
            );
        }
        at += step;
    }
    svg.line(x(now), 2.0, x(now), BASE + 12.0, "moment");
    svg.finish(
        "This dough along the clock, from its first gram to its cut, and where it stands now",
        "band bench-band",
    )
}

fn is_its(r: &WatchAnswer, step: &str) -> bool {
    use cerealis_core::rise::Which;
    matches!((r.which, step), (Which::Bulk, "bulk") | (Which::Second, "second") | (Which::Proof, "proof"))
}
