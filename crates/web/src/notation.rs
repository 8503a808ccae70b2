//! Pages in the household's own notation: °F, ounces, inches, a clock of twelve hours.
//!
//! Everything that is worked out and written here is in °C, g, cm and on the clock of 24 hours, and so are the
//! templates. What goes out is turned once, in its text: figures with their unit, units that stand alone at a field,
//! times of day. What a person wrote is marked `data-own` in the templates and stays as it was written; what stands
//! in fields is written in the notation by the form itself, which says in which one it is (`typed_in`).

use std::borrow::Cow;
use std::sync::LazyLock;

use actix_web::body::{BoxBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::header;
use actix_web::middleware::Next;
use actix_web::{Error, web};
use cerealis_core::notation::{ClockFace, Lengths, Notation, Quantity, Temperatures, Weights};
use cerealis_core::units::OUNCE;
use cerealis_store::Store;
use regex::{Captures, Regex};

/// Turns what a page says into the notation of the household.
///
/// # Errors
/// What the handler reports.
pub async fn say(
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    let store = request.app_data::<web::Data<Store>>().cloned();
    let response = next.call(request).await?.map_into_boxed_body();
    let is_page =
        response.headers().get(header::CONTENT_TYPE).is_some_and(|t| t.as_bytes().starts_with(b"text/html"));
    let (Some(store), true) = (store, is_page) else { return Ok(response) };
    let notation =
        web::block(move || store.kitchen().map(|k| k.kitchen.notation()).unwrap_or_default()).await;
    let notation = notation.unwrap_or_default();
    Ok(response.map_body(|_, body| match body.try_into_bytes() {
        Ok(bytes) => match std::str::from_utf8(&bytes) {
            Ok(html) => BoxBody::new(page(html, notation)),
            Err(_) => BoxBody::new(bytes),
        },
        Err(body) => body,
    }))
}

/// Elements whose text is not said to anyone, or is a person's own.
const SILENT: [&str; 4] = ["script", "style", "textarea", "title"];

/// A page in a notation; its fields in the one that its form says, in °C, g and cm where it says none.
pub fn page(html: &str, n: Notation) -> String {
    let said = TYPED_IN.captures(html).and_then(|c| Notation::from_key(&c[1]));
    // A form that does not say is read in °C, g and cm, and so its fields are in them.
    part(html, n, said.unwrap_or_default())
}

/// A part of a page in a notation, and its fields in another.
pub fn part(html: &str, n: Notation, fields: Notation) -> String {
    turned(html, n, fields, false)
}

/// `brief` where there is room for one figure alone: in what is marked `data-brief`, and in pictures.
fn turned(html: &str, n: Notation, fields: Notation, brief: bool) -> String {
    if n == Notation::default() && fields == n {
        return html.to_owned();
    }
    let mut out = String::with_capacity(html.len() + html.len() / 16);
    let mut rest = html;
    let mut pictures = 0_u32;
    while let Some(open) = rest.find('<') {
        out.push_str(&at_field(&text(&rest[..open], n, brief || pictures > 0), fields));
        let tag_end = end_of_tag(&rest[open..]).map_or(rest.len(), |e| open + e);
        let tag = &rest[open..tag_end];
        let name = tag_name(tag);
        let own = tag.contains(" data-own") && !tag.starts_with("</");
        out.push_str(&if own { Cow::Borrowed(tag) } else { attributes(tag, n, fields) });
        rest = &rest[tag_end..];
        match name {
            "svg" => pictures += 1,
            "/svg" => pictures = pictures.saturating_sub(1),
            _ => {}
        }
        if SILENT.contains(&name) || own {
            let inside = until_closed(rest, name);
            out.push_str(&rest[..inside]);
            rest = &rest[inside..];
        } else if tag.contains(" data-brief") {
            let inside = until_closed(rest, name);
            out.push_str(&turned(&rest[..inside], n, fields, true));
            rest = &rest[inside..];
        }
    }
    out.push_str(&at_field(&text(rest, n, brief || pictures > 0), fields));
    out
}

/// A unit that stands alone is that of a field.
fn at_field(text: &str, fields: Notation) -> Cow<'_, str> {
    match BARE.captures(text) {
        Some(c) => Cow::Owned(format!("{}{}{}", &c[1], unit(&c[2], fields), &c[3])),
        None => Cow::Borrowed(text),
    }
}

/// The end of a tag: the `>` that stands in no attribute.
fn end_of_tag(tag: &str) -> Option<usize> {
    let mut quoted = false;
    for (i, b) in tag.bytes().enumerate() {
        match b {
            b'"' => quoted = !quoted,
            b'>' if !quoted => return Some(i + 1),
            _ => {}
        }
    }
    None
}

fn tag_name(tag: &str) -> &str {
    let name = tag.trim_start_matches('<');
    let end = name.char_indices().find(|(i, c)| !(c.is_ascii_alphanumeric() || (*i == 0 && *c == '/')));
    &name[..end.map_or(name.len(), |(i, _)| i)]
}

/// How far it is to the tag that closes an element of this name, or nothing for one that has no inside.
fn until_closed(html: &str, name: &str) -> usize {
    if matches!(name, "input" | "img" | "br" | "hr") {
        return 0;
    }
    let mut depth = 1;
    let mut at = 0;
    while let Some(open) = html[at..].find('<').map(|i| at + i) {
        let tag = &html[open..];
        let found = tag_name(tag);
        if found == name {
            depth += 1;
        } else if found.strip_prefix('/') == Some(name) {
            depth -= 1;
        }
        if depth == 0 {
            return open;
        }
        at = open + 1;
    }
    html.len()
}

fn pattern(text: &str) -> Regex {
    // The patterns are constants, and each is used by a test below.
    Regex::new(text).unwrap_or_else(|e| unreachable!("a pattern that does not read: {e}"))
}

const NUMBER: &str = r"-?\d+(?:\.\d+)?";

static DEGREES: LazyLock<Regex> = LazyLock::new(|| {
    pattern(&format!(
        "({NUMBER}(?:(?: to | and | or | – | → ){NUMBER})*)([\u{a0} ]?)(\u{2060}?)°C(/min| a minute)?"
    ))
});
static TICK: LazyLock<Regex> = LazyLock::new(|| pattern(&format!("^({NUMBER})°$")));
static GRAMS: LazyLock<Regex> =
    LazyLock::new(|| pattern(&format!(r"({NUMBER}(?: to {NUMBER})?)([\u00a0 ])g\b")));
static CM: LazyLock<Regex> = LazyLock::new(|| {
    pattern(&format!(
        r"({NUMBER}(?:(?: × | to |–){NUMBER})*)([\u00a0 ])cm\b(?:[\u00a0 ](wide|long|high|deep))?"
    ))
});
static CLOCK: LazyLock<Regex> = LazyLock::new(|| pattern(r"\b([01]\d|2[0-3]):([0-5]\d)\b"));
static EACH: LazyLock<Regex> = LazyLock::new(|| pattern(NUMBER));
static BARE: LazyLock<Regex> = LazyLock::new(|| pattern(r"^(.*, |\s*)(°C|°C/min|g|cm)(\s*)$"));
static SAID: LazyLock<Regex> = LazyLock::new(|| {
    pattern(
        r#"(aria-label|placeholder|alt|title|data-step|data-step-size|aria-valuetext|data-cut)="([^"]*)""#,
    )
});
/// Attributes that are read aloud, shown, or stepped by.
const SAYS: [&str; 7] =
    ["aria-label=", "placeholder=", "alt=", "title=", "data-step", "aria-valuetext=", "data-cut="];
static TYPED_IN: LazyLock<Regex> = LazyLock::new(|| pattern(r#"name="typed_in" value="([^"]*)""#));
static UNIT: LazyLock<Regex> = LazyLock::new(|| pattern(r#"data-unit="([^"]*)""#));

/// A sentence in a notation; in a picture there is room for one figure only.
pub fn text(text: &str, n: Notation, in_picture: bool) -> Cow<'_, str> {
    let mut out = Cow::Borrowed(text);
    let mut turn = |pattern: &Regex, with: &dyn Fn(&Captures<'_>) -> String| {
        if let Cow::Owned(turned) = pattern.replace_all(&out, with) {
            out = Cow::Owned(turned);
        }
    };
    if n.temperatures != Temperatures::Celsius && text.contains('°') {
        let whole = text;
        turn(&DEGREES, &|c| {
            // In brackets already, the other figure stands after a comma.
            let before = &whole[..c.get(0).map_or(0, |m| m.start()).min(whole.len())];
            let nested = before.rfind('(').is_some_and(|open| !before[open..].contains(')'));
            let said = degrees(c, n, in_picture);
            if nested { said.replace(" (", ", ").replace(')', "") } else { said }
        });
        if in_picture && n.in_fahrenheit() {
            turn(&TICK, &|c| format!("{}°", each(&c[1], |t| n.written(t, Quantity::Celsius))));
        }
    }
    if n.has_ounces() && text.contains('g') {
        turn(&GRAMS, &|c| weight(c, n, in_picture));
    }
    if n.lengths == Lengths::Inches && text.contains("cm") {
        turn(&CM, &|c| {
            let which = c.get(3).map_or(String::new(), |w| format!(" {}", w.as_str()));
            format!("{}{}in{which}", inches(&c[1]), &c[2])
        });
    }
    if n.clock == ClockFace::Hours12 && text.contains(':') {
        turn(&CLOCK, &|c| twelve(c[1].parse().unwrap_or(0), &c[2]));
    }
    out
}

/// The unit that a field has for one of ours.
fn unit(ours: &str, n: Notation) -> &str {
    match ours {
        "°C" if n.in_fahrenheit() => "°F",
        "°C/min" if n.in_fahrenheit() => "°F/min",
        "g" if n.in_ounces() => "oz",
        "cm" if n.in_inches() => "in",
        ours => ours,
    }
}

/// Every number of a list turned, with as many decimals as it has.
fn each(list: &str, turn: impl Fn(f64) -> f64) -> String {
    EACH.replace_all(list, |c: &Captures<'_>| {
        let decimals = c[0].split_once('.').map_or(0, |(_, part)| part.len());
        let turned = format!("{:.decimals$}", turn(c[0].parse().unwrap_or(0.0)));
        if turned == "-0" { "0".into() } else { turned }
    })
    .into_owned()
}

fn degrees(c: &Captures<'_>, n: Notation, in_picture: bool) -> String {
    let (list, gap, minute) = (&c[1], &c[2], c.get(4).map_or("", |m| m.as_str()));
    let is_difference = !c[3].is_empty() || !minute.is_empty();
    let fahrenheit =
        if is_difference { each(list, |k| 1.8 * k) } else { each(list, |t| dialled(1.8 * t + 32.0)) };
    let (celsius, fahrenheit) = (format!("{list}{gap}°C{minute}"), format!("{fahrenheit}{gap}°F{minute}"));
    match n.temperatures {
        Temperatures::Celsius => celsius,
        Temperatures::Both if in_picture => celsius,
        Temperatures::Fahrenheit | Temperatures::FahrenheitFirst if in_picture => fahrenheit,
        Temperatures::Fahrenheit => fahrenheit,
        Temperatures::Both => format!("{celsius} ({fahrenheit})"),
        Temperatures::FahrenheitFirst => format!("{fahrenheit} ({celsius})"),
    }
}

/// What is written to the whole °C may be a mark of a dial in °F: one within the rounding is that mark.
fn dialled(f: f64) -> f64 {
    let mark = (f / 5.0).round() * 5.0;
    if f >= 250.0 && (f - mark).abs() < 0.95 { mark } else { f }
}

fn weight(c: &Captures<'_>, n: Notation, in_picture: bool) -> String {
    let grams = format!("{}{}g", &c[1], &c[2]);
    let heavy = |g: f64| {
        if in_picture && g >= 16.0 * OUNCE {
            format!("{}\u{a0}lb", trimmed(g / OUNCE / 16.0, 2))
        } else {
            ounces(g)
        }
    };
    let ounces = c[1].split(" to ").map(|g| heavy(g.parse().unwrap_or(0.0))).collect::<Vec<_>>().join(" to ");
    match n.weights {
        Weights::Grams | Weights::CupsFirst => grams,
        Weights::Both if in_picture => grams,
        Weights::OuncesFirst if in_picture => ounces,
        Weights::Both => format!("{grams} ({ounces})"),
        Weights::OuncesFirst => format!("{ounces} ({grams})"),
    }
}

fn trimmed(x: f64, decimals: usize) -> String {
    let text = format!("{x:.decimals$}");
    if decimals > 0 { text.trim_end_matches('0').trim_end_matches('.').to_owned() } else { text }
}

/// A mass in pounds and ounces.
fn ounces(grams: f64) -> String {
    let oz = grams / OUNCE;
    let tenths = (10.0 * oz).round() / 10.0;
    if oz.abs() < 1.0 {
        format!("{}\u{a0}oz", trimmed(oz, 2))
    } else if tenths < 16.0 {
        format!("{}\u{a0}oz", trimmed(tenths, 1))
    } else {
        let pounds = (tenths / 16.0 + 1e-9).floor();
        let rest = tenths - 16.0 * pounds;
        match trimmed(rest, 1).as_str() {
            "0" => format!("{pounds}\u{a0}lb"),
            rest => format!("{pounds}\u{a0}lb {rest}\u{a0}oz"),
        }
    }
}

fn inches(list: &str) -> String {
    EACH.replace_all(list, |c: &Captures<'_>| {
        let inches = c[0].parse().unwrap_or(0.0) / 2.54;
        trimmed(inches, if inches < 2.0 { 2 } else { 1 })
    })
    .into_owned()
}

/// A time of day on a clock of twelve hours.
fn twelve(hour: u32, minute: &str) -> String {
    let (of_twelve, half) = ((hour + 11) % 12 + 1, if hour < 12 { "am" } else { "pm" });
    format!("{of_twelve}:{minute}\u{a0}{half}")
}

/// A tag with what it says in the notation; a field's steps and examples are in the unit of the field.
fn attributes(tag: &str, n: Notation, fields: Notation) -> Cow<'_, str> {
    // Most tags say nothing, and those of pictures are long.
    if !SAYS.iter().any(|name| tag.contains(name)) {
        return Cow::Borrowed(tag);
    }
    let of = UNIT.captures(tag).and_then(|c| quantity(c.get(1)?.as_str()));
    SAID.replace_all(tag, |c: &Captures<'_>| {
        let (name, value) = (&c[1], &c[2]);
        let said = match (name, of, value.parse::<f64>()) {
            ("data-step" | "data-step-size", Some(of), Ok(step)) => step_of(step, of, fields),
            ("data-step" | "data-step-size", ..) => value.to_owned(),
            ("placeholder", Some(of), Ok(x)) => {
                trimmed(fields.written(x, of), if x.abs() < 10.0 { 1 } else { 0 })
            }
            _ => text(value, n, false).into_owned(),
        };
        format!(r#"{name}="{said}""#)
    })
}

fn quantity(unit: &str) -> Option<Quantity> {
    Some(match unit {
        "°C" => Quantity::Celsius,
        "K" | "°C/min" => Quantity::Kelvin,
        "g" => Quantity::Grams,
        "cm" => Quantity::Length,
        _ => return None,
    })
}

/// A step of a field that a hand would choose in its unit.
fn step_of(step: f64, of: Quantity, n: Notation) -> String {
    let sign = if step < 0.0 { "-" } else { "" };
    let size = match of {
        Quantity::Celsius | Quantity::Kelvin if n.in_fahrenheit() => match step.abs() {
            s if s < 0.2 => 0.1,
            s if s < 4.0 => 1.0,
            _ => 5.0,
        },
        Quantity::Grams if n.in_ounces() => {
            if step.abs() < 5.0 {
                0.1
            } else {
                1.0
            }
        }
        Quantity::Length if n.in_inches() => 0.25,
        _ => step.abs(),
    };
    format!("{sign}{size}")
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const THERE: Notation = Notation {
        temperatures: Temperatures::Fahrenheit,
        weights: Weights::OuncesFirst,
        lengths: Lengths::Inches,
        clock: ClockFace::Hours12,
    };
    const BESIDE: Notation = Notation {
        temperatures: Temperatures::Both,
        weights: Weights::Both,
        lengths: Lengths::Centimetres,
        clock: ClockFace::Hours24,
    };

    fn says(html: &str) -> String {
        part(html, THERE, THERE).replace('\u{a0}', " ")
    }

    #[test]
    fn figures_are_said_in_the_notation() {
        for (ours, theirs) in [
            ("<p>Set it to 218 °C.</p>", "<p>Set it to 425 °F.</p>"),
            ("<p>24 to 26 °C for wheat</p>", "<p>75 to 79 °F for wheat</p>"),
            (
                "<p>Turn it down by 20\u{2060} °C.</p>".replace("20\u{2060} ", "20 \u{2060}").as_str(),
                "<p>Turn it down by 36 °F.</p>",
            ),
            ("<p>adds 0.5 °C a minute</p>", "<p>adds 0.9 °F a minute</p>"),
            ("<p>500 g flour, 9 g salt</p>", "<p>1 lb 1.6 oz (500 g) flour, 0.32 oz (9 g) salt</p>"),
            ("<p>2 × 350 g</p>", "<p>2 × 12.3 oz (350 g)</p>"),
            ("<p>24 × 10 cm, 9.5 cm high</p>", "<p>9.4 × 3.9 in, 3.7 in high</p>"),
            ("<p>at 00:05, 12:30 and 17:45</p>", "<p>at 12:05 am, 12:30 pm and 5:45 pm</p>"),
            (
                "<svg><text>150°</text><text>40 g</text></svg>",
                "<svg><text>302°</text><text>1.4 oz</text></svg>",
            ),
            (
                r#"<span class="unit">°C</span><label>Tray, cm</label>"#,
                r#"<span class="unit">°F</span><label>Tray, in</label>"#,
            ),
            (r#"<b aria-label="At 25 °C">x</b>"#, r#"<b aria-label="At 77 °F">x</b>"#),
            (
                r#"<input data-unit="°C" value="25" placeholder="200" data-step-size="0.5">"#,
                r#"<input data-unit="°C" value="25" placeholder="392" data-step-size="1">"#,
            ),
        ] {
            assert_eq!(says(ours), theirs);
        }
    }

    #[test]
    fn both_stand_beside_each_other_where_there_is_room() {
        let said = page("<p>230 °C, 500 g</p><svg><text>230 °C</text></svg>", BESIDE).replace('\u{a0}', " ");
        assert_eq!(said, "<p>230 °C (446 °F), 500 g (1 lb 1.6 oz)</p><svg><text>230 °C</text></svg>");
    }

    #[test]
    fn in_brackets_the_other_figure_stands_after_a_comma() {
        let said = page("<p>As it comes (12 °C), it is 19 °C.</p>", BESIDE);
        assert_eq!(said, "<p>As it comes (12 °C, 54 °F), it is 19 °C (66 °F).</p>");
    }

    #[test]
    fn what_a_person_wrote_stays() {
        for own in [
            "<textarea>Bake at 200 °C, 500 g</textarea>",
            "<p data-own>Bake at 200 °C <p>17:30</p> 12 cm</p>",
            "<script>let a = '200 °C';</script>",
            r#"<input value="200 °C">"#,
        ] {
            assert_eq!(says(own), own);
            assert_eq!(says(&format!("{own}<b>100 °C</b>")), format!("{own}<b>212 °F</b>"));
        }
    }

    proptest! {
        #[test]
        fn a_household_of_grams_and_celsius_sees_what_was_written(html in "[a-z<>\"/ °C0-9:.g]{0,80}") {
            prop_assert_eq!(page(&html, Notation::default()), html);
        }

        /// Turned once, nothing is left to turn: no figure is converted twice.
        #[test]
        fn nothing_is_turned_twice(t in -20i32..300, g in 1i32..3000, cm in 1i32..90, h in 0u32..24, m in 0u32..60) {
            let once = page(&format!("<p>{t} °C, {cm} cm at {h:02}:{m:02}</p><i>{t} to {} °C</i>", t + 5), THERE);
            prop_assert!(!once.contains("°C") && !once.contains(" cm"), "{}", once);
            let temperatures = Notation { weights: Weights::Grams, clock: ClockFace::Hours24, ..THERE };
            prop_assert_eq!(page(&page(&format!("<p>{t} °C {g}</p>"), temperatures), temperatures).matches("°F").count(), 1);
        }

        #[test]
        fn any_text_is_turned_without_a_panic(html in ".{0,200}") {
            page(&html, THERE);
            page(&html, BESIDE);
        }
    }
}
