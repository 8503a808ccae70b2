//! Pictures in SVG, drawn on the server: the same code serves the page, the printed sheet and a
//! browser without scripts. Colours come from the style sheet by class, so both themes and print
//! have their own.

mod band;
mod bench;
mod braid;
mod bread;
mod by_size;
mod curves;
mod cut_loaf;
mod days;
mod empty_pan;
mod flour_bar;
mod matters;
mod mix_strip;
mod pan;
mod score;
mod tray;
mod tub;

pub use band::band;
pub use bench::bench;
pub use braid::braid;
pub use bread::{Bread, bread};
pub use by_size::by_size;
pub use curves::{Over, crust_colour, oven_curves, rise_curve};
pub use cut_loaf::{cut_loaf, cut_moments, cut_says};
pub use days::{Days, days};
pub use empty_pan::empty_pan;
pub use flour_bar::flour_bar;
pub use matters::matters;
pub use mix_strip::{mix_strip, stop_sign};
pub use pan::{pan, under_rim};
pub use score::score;
pub use tray::{lies, tray};
pub use tub::tub;

use std::fmt::Write;

/// How much room a picture has.
#[derive(Clone, Copy, PartialEq, Eq)]
pub enum Room {
    /// Beside the controls on a wide page.
    Wide,
    /// On a phone.
    Narrow,
}

impl Room {
    /// Width in CSS pixels.
    pub fn width(self) -> f64 {
        match self {
            Room::Wide => 720.0,
            Room::Narrow => 340.0,
        }
    }

    /// A name for a pattern of a picture that stands at `place`.
    fn id(self, place: &str) -> String {
        format!("{place}-{}", if self.narrow() { "narrow" } else { "wide" })
    }

    fn narrow(self) -> bool {
        self == Room::Narrow
    }
}

/// An SVG in the making.
pub struct Svg {
    width: f64,
    height: f64,
    body: String,
}

/// Escapes text for SVG and HTML.
pub fn escape(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    for c in text.chars() {
        match c {
            '&' => out.push_str("&amp;"),
            '<' => out.push_str("&lt;"),
            '>' => out.push_str("&gt;"),
            '"' => out.push_str("&quot;"),
            '\'' => out.push_str("&#39;"),
            c => out.push(c),
        }
    }
    out
}

impl Svg {
    /// An empty picture of a size in CSS pixels.
    pub fn new(width: f64, height: f64) -> Self {
        Svg { width, height, body: String::new() }
    }

    /// A rectangle.
    pub fn rect(&mut self, x: f64, y: f64, w: f64, h: f64, class: &str) {
        let _ = write!(
            self.body,
            r#"<rect x="{x:.1}" y="{y:.1}" width="{:.1}" height="{:.1}" class="{class}"/>"#,
            w.max(0.0),
            h.max(0.0)
        );
    }

    /// A line.
    pub fn line(&mut self, x1: f64, y1: f64, x2: f64, y2: f64, class: &str) {
        let _ = write!(
            self.body,
            r#"<line x1="{x1:.1}" y1="{y1:.1}" x2="{x2:.1}" y2="{y2:.1}" class="{class}"/>"#
        );
    }

    /// Text; `anchor` is `start`, `middle` or `end`.
    pub fn text(&mut self, x: f64, y: f64, anchor: &str, class: &str, text: &str) {
        let _ = write!(
            self.body,
            r#"<text x="{x:.1}" y="{y:.1}" text-anchor="{anchor}" class="{class}">{}</text>"#,
            escape(text)
        );
    }

    /// A line through points.
    pub fn path(&mut self, points: &[(f64, f64)], class: &str) {
        let _ = write!(self.body, r#"<path d="{}" class="{class}"/>"#, path(points, false));
    }

    /// An area, with a fill where the class gives none.
    pub fn area(&mut self, points: &[(f64, f64)], class: &str, fill: Option<&str>) {
        let fill = fill.map_or(String::new(), |f| format!(r#" fill="{f}""#));
        let _ = write!(self.body, r#"<path d="{}" class="{class}"{fill}/>"#, path(points, true));
    }

    /// A round mark.
    pub fn dot(&mut self, x: f64, y: f64, r: f64, class: &str) {
        let _ = write!(self.body, r#"<circle cx="{x:.1}" cy="{y:.1}" r="{r:.1}" class="{class}"/>"#);
    }

    /// Anything else.
    pub fn raw(&mut self, markup: &str) {
        self.body.push_str(markup);
    }

    /// The picture beside words that say what it shows.
    pub fn silent(self, class: &str) -> String {
        format!(
            r#"<svg class="picture {class}" viewBox="0 0 {:.0} {:.0}" aria-hidden="true" focusable="false" preserveAspectRatio="xMidYMid meet">{}</svg>"#,
            self.width, self.height, self.body
        )
    }

    /// The picture, with what it shows in words.
    pub fn finish(self, label: &str, class: &str) -> String {
        format!(
            r#"<svg class="picture {class}" viewBox="0 0 {:.0} {:.0}" role="img" aria-label="{}" preserveAspectRatio="xMidYMid meet">{}</svg>"#,
            self.width,
            self.height,
            escape(label),
            self.body
        )
    }
}

/// Writes a coordinate to a tenth of a pixel. By whole numbers: the thousands of them that the curves
/// have were a third of a page's time as decimals.
fn tenths(out: &mut String, x: f64) {
    let tenths = (10.0 * x).round() as i64;
    if tenths < 0 {
        out.push('-');
    }
    let (whole, part) = (tenths.unsigned_abs() / 10, tenths.unsigned_abs() % 10);
    let _ = write!(out, "{whole}");
    if part > 0 {
        let _ = write!(out, ".{part}");
    }
}

fn path(points: &[(f64, f64)], closed: bool) -> String {
    let mut d = String::new();
    for (i, (x, y)) in points.iter().enumerate() {
        d.push(if i == 0 { 'M' } else { 'L' });
        tenths(&mut d, *x);
        d.push(' ');
        tenths(&mut d, *y);
    }
    if closed {
        d.push('Z');
    }
    d
}

/// A picture at both widths; the style sheet shows the one that fits.
pub fn both(draw: impl Fn(Room) -> String) -> String {
    format!(
        r#"<div class="only-wide">{}</div><div class="only-narrow">{}</div>"#,
        draw(Room::Wide),
        draw(Room::Narrow)
    )
}

/// Steps of a round figure that divide `span` into about `wanted` parts.
pub fn round_step(span: f64, wanted: f64, steps: &[f64]) -> f64 {
    steps
        .iter()
        .copied()
        .find(|s| span / s <= wanted)
        .unwrap_or_else(|| steps.last().copied().unwrap_or(span))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// What is written reads as what it was, to a tenth.
        #[test]
        fn a_coordinate_is_written_to_a_tenth(x in -2000.0..2000.0f64) {
            let mut out = String::new();
            tenths(&mut out, x);
            prop_assert!((out.parse::<f64>().unwrap() - x).abs() <= 0.05 + 1e-9, "{out} for {x}");
        }
    }

    #[test]
    fn names_cannot_break_out_of_a_picture() {
        let mut svg = Svg::new(10.0, 10.0);
        svg.text(0.0, 0.0, "start", "", "<script>alert('x')</script>");
        let out = svg.finish("\"><script>", "");
        assert!(!out.contains("<script>"), "{out}");
    }
}
