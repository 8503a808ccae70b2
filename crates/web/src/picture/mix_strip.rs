//! The phases of mixing as a strip, to the scale of their minutes, with what goes in over each and
//! the sign to stop at drawn under it.

use cerealis_core::mix::{MixOutput, Phase, Stop};
use cerealis_core::stations::GoesIn;
use cerealis_core::units::{Grams, shown};

use super::{Room, Svg};

/// The narrowest block, so that its picture has room.
const LEAST: f64 = 88.0;

/// Draws the strip; on a phone the phases stand in two rows or more. `goes_in` goes with the phases.
pub fn mix_strip(mix: &MixOutput, goes_in: &[Vec<GoesIn>], room: Room) -> String {
    let width = room.width();
    let per_row = if room.narrow() { 3 } else { 7 };
    let phases: Vec<(&Phase, &[GoesIn])> = mix.phases.iter().zip(goes_in.iter().map(Vec::as_slice)).collect();
    let rows: Vec<&[(&Phase, &[GoesIn])]> = phases.chunks(per_row).collect();
    let tall = 146.0;
    let mut svg = Svg::new(width, tall * rows.len() as f64);
    for (n, row) in rows.iter().enumerate() {
        let top = tall * n as f64;
        let spare = (width - LEAST * row.len() as f64).max(0.0);
        let minutes: f64 = row.iter().map(|(p, _)| p.minutes.0).sum::<f64>().max(1.0);
        let mut x = 0.0;
        for (phase, goes_in) in *row {
            let w = (LEAST + spare * phase.minutes.0 / minutes).min(width - x);
            block(&mut svg, phase, goes_in, x, top, w);
            x += w;
        }
    }
    let said: Vec<String> =
        mix.phases.iter().map(|p| format!("{} {}", p.name, shown::time(p.minutes))).collect();
    svg.finish(&format!("The phases of mixing: {}", said.join(", ")), "mix-strip")
}

fn block(svg: &mut Svg, phase: &Phase, goes_in: &[GoesIn], x: f64, top: f64, w: f64) {
    let middle = x + 0.5 * w;
    svg.text(middle, top + 14.0, "middle", "name strong", &phase.name);
    if !goes_in.is_empty() {
        let all: Grams = goes_in.iter().map(|g| g.grams).sum();
        let grams = shown::grams(all);
        let text = match goes_in {
            [one] if 7.0 * (one.name.len() + grams.len() + 4) as f64 <= w => {
                format!("+ {} {grams} g", one.name.to_lowercase())
            }
            more => format!("{} more, {grams} g", more.len()),
        };
        svg.text(middle, top + 31.0, "middle", "tick goes", &text);
    }
    let top = top + 18.0;
    let class = if phase.hands_on { "phase-hands" } else { "phase-rest" };
    svg.rect(x + 1.0, top + 22.0, w - 2.0, 30.0, class);
    let figure = if phase.hands_on { "figure on-crust" } else { "figure" };
    svg.text(middle, top + 42.0, "middle", figure, &shown::time(phase.minutes));
    sign(svg, phase.stop, middle, top + 86.0);
    svg.text(middle, top + 122.0, "middle", "tick", phase.stop.name());
}

/// A sign to stop at, alone.
pub fn stop_sign(stop: Stop) -> String {
    let mut svg = Svg::new(84.0, 52.0);
    sign(&mut svg, stop, 42.0, 26.0);
    svg.finish(stop.name(), "sign-alone")
}

/// The small picture of a sign, about its middle.
fn sign(svg: &mut Svg, stop: Stop, x: f64, y: f64) {
    let mut raw = |markup: String| svg.raw(&markup);
    match stop {
        Stop::Shaggy => {
            let edge = "M-20 8 l5 -13 l6 6 l4 -14 l7 10 l6 -9 l5 12 l6 -3 l1 11 q-20 10 -40 0z";
            raw(format!(r#"<g transform="translate({x:.1} {y:.1})"><path d="{edge}" class="sign"/></g>"#));
        }
        Stop::Relaxed => {
            raw(format!(r#"<ellipse cx="{x:.1}" cy="{:.1}" rx="27" ry="9" class="sign"/>"#, y + 6.0));
        }
        Stop::Side => raw(format!(
            r#"<g transform="translate({x:.1} {y:.1})"><path d="M-28 -20 L-20 18 H20 L28 -20" class="sign-line"/><path d="M-9 -12 q9 -9 18 0 q7 14 3 30 h-24 q-4 -16 3 -30z" class="sign"/></g>"#
        )),
        Stop::Window => raw(format!(
            r#"<rect x="{:.1}" y="{:.1}" width="52" height="36" rx="9" class="sign"/><ellipse cx="{x:.1}" cy="{y:.1}" rx="15" ry="11" class="sign-thin"/>"#,
            x - 26.0,
            y - 18.0
        )),
        Stop::Paste => raw(format!(
            r#"<g transform="translate({x:.1} {y:.1})"><path d="M-28 -18 L-20 18 H20 L28 -18" class="sign-line"/><path d="M-22 2 q22 -8 44 0 L20 18 H-20z" class="sign"/></g>"#
        )),
        Stop::Peak => raw(format!(
            r#"<g transform="translate({x:.1} {y:.1})"><path d="M-26 14 q8 -2 12 -12 q6 -18 12 -20 q4 12 14 18 q10 6 16 14z" class="sign"/></g>"#
        )),
        Stop::Spread => raw(format!(
            r#"<g transform="translate({x:.1} {y:.1})"><circle r="20" class="sign"/><circle cx="-8" cy="-6" r="3" class="sign-dot"/><circle cx="7" cy="-9" r="3" class="sign-dot"/><circle cx="2" cy="6" r="3" class="sign-dot"/><circle cx="-11" cy="8" r="3" class="sign-dot"/><circle cx="12" cy="5" r="3" class="sign-dot"/></g>"#
        )),
    }
}
