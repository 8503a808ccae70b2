//! Figures in the sentences of a method: times, temperatures, counts.

use winnow::combinator::{alt, opt, preceded};
use winnow::prelude::*;

use crate::quantity::and_a_part;
use crate::quantity::{Count, counted};
use cerealis_core::units::Celsius;

/// A figure with the unit that makes it one.
pub(super) enum Figure {
    Time(Count),
    Heat(Count),
    /// A number that only its neighbours tell of.
    Bare(Count),
}

/// The next place where a word or figure begins.
pub(super) fn word_start(text: &str, from: usize) -> Option<usize> {
    let mut before = text[..from].chars().next_back();
    for (i, c) in text[from..].char_indices() {
        let begins = c.is_alphanumeric() && !before.is_some_and(char::is_alphanumeric);
        if begins || (!c.is_ascii() && c.is_numeric()) {
            return Some(from + i);
        }
        before = Some(c);
    }
    None
}

pub(super) fn figure(rest: &mut &str) -> Option<Figure> {
    if let Some(minutes) = between_clocks(rest) {
        return Some(Figure::Time(Count { low: minutes, high: minutes }));
    }
    // “another hour and a half”
    let (count, _) = match rest.strip_prefix("another ") {
        Some(after) if time_unit.parse_peek(after).is_ok() => {
            *rest = after;
            (Count { low: 1.0, high: 1.0 }, false)
        }
        _ => counted.parse_next(rest).ok()?,
    };
    if let Ok(minutes) = time_unit.parse_next(rest) {
        // “an hour and a half”, “a day and a half”
        let part = opt(and_a_part).parse_next(rest).unwrap_or(None).unwrap_or(0.0);
        let whole = |x: f64| (x + part) * minutes;
        let mut total = Count { low: whole(count.low), high: whole(count.high) };
        // “1 hour 15 minutes”, “1 hour and a quarter”.
        let mut further = *rest;
        let more: winnow::Result<f64> = preceded(
            (winnow::ascii::space0, opt((alt(("and", ",")), winnow::ascii::space0))),
            (counted, time_unit),
        )
        .map(|((c, _), m)| c.low * m)
        .parse_next(&mut further);
        if let Some(more) = more.ok().filter(|m| minutes == 60.0 && *m < 60.0) {
            *rest = further;
            total = Count { low: total.low + more, high: total.high + more };
        }
        // “4 h 30”
        let mut further = *rest;
        let bare: winnow::Result<f64> =
            preceded(winnow::ascii::space1, winnow::ascii::float::<&str, f64, winnow::error::ContextError>)
                .parse_next(&mut further);
        let ends = further.chars().next().is_none_or(|c| matches!(c, ' ' | ',' | '.' | ';' | ')'));
        let unit = time_unit.parse_peek(further).is_ok() || further.trim_start().starts_with(['°', 'º']);
        if let Some(more) =
            bare.ok().filter(|m| minutes == 60.0 && ends && !unit && [15.0, 30.0, 45.0].contains(m))
            && total.low.fract() == 0.0
            && total.low % 60.0 == 0.0
        {
            *rest = further;
            total = Count { low: total.low + more, high: total.high + more };
        }
        return Some(Figure::Time(total));
    }
    if let Ok(scale) = heat_unit.parse_next(rest) {
        let celsius = |t: f64| match scale {
            Heat::Celsius => t,
            Heat::Fahrenheit => Celsius::from_fahrenheit(t).0,
            Heat::Unsaid => {
                if t >= 300.0 {
                    Celsius::from_fahrenheit(t).0
                } else {
                    t
                }
            }
        };
        return Some(Figure::Heat(Count { low: celsius(count.low), high: celsius(count.high) }));
    }
    Some(Figure::Bare(count))
}

/// Minutes from one time of the day to another: “07:20 to 11:00”.
fn between_clocks(rest: &mut &str) -> Option<f64> {
    let clock = |text: &str| -> Option<(f64, usize)> {
        let (hours, after) = text.split_once([':', '.'])?;
        let minutes = after.get(..2)?;
        let ends = after.get(2..).is_none_or(|rest| !rest.starts_with(|c: char| c.is_ascii_digit()));
        let fits = hours.len() <= 2 && text.as_bytes().get(hours.len()) == Some(&b':') && ends;
        let (h, m): (f64, f64) = (hours.parse().ok()?, minutes.parse().ok()?);
        (fits && h < 24.0 && m < 60.0).then_some((60.0 * h + m, hours.len() + 3))
    };
    let (from, long) = clock(rest)?;
    let after = &rest[long..];
    let gap =
        [" to ", " until ", " till ", "-", "–", " - ", " – "].into_iter().find(|g| after.starts_with(g))?;
    let (to, more) = clock(&after[gap.len()..])?;
    *rest = &after[gap.len() + more..];
    Some((to - from).rem_euclid(24.0 * 60.0))
}

/// Minutes of the unit said.
fn time_unit(input: &mut &str) -> winnow::Result<f64> {
    preceded(
        (winnow::ascii::space0, opt('-')),
        winnow::token::take_while(1.., char::is_alphabetic).verify_map(|w: &str| match w {
            "seconds" | "secs" | "sec" => Some(1.0 / 60.0),
            "min" | "mins" | "minute" | "minutes" => Some(1.0),
            "h" | "hr" | "hrs" | "hour" | "hours" => Some(60.0),
            "day" | "days" => Some(1440.0),
            _ => None,
        }),
    )
    .parse_next(input)
}

#[derive(Clone, Copy)]
enum Heat {
    Celsius,
    Fahrenheit,
    Unsaid,
}

fn heat_unit(input: &mut &str) -> winnow::Result<Heat> {
    let mut spaces = winnow::ascii::space0::<&str, winnow::error::ContextError>;
    let letter = || {
        alt(("fahrenheit", "celsius", "centigrade", "f", "c")).verify_map(|w: &str| match w.chars().next() {
            Some('f') => Some(Heat::Fahrenheit),
            Some('c') => Some(Heat::Celsius),
            _ => None,
        })
    };
    let mut rest = *input;
    spaces.parse_next(&mut rest)?;
    let sign: Option<&str> = opt(alt(("°", "º", "degrees", "degree", "deg"))).parse_next(&mut rest)?;
    spaces.parse_next(&mut rest)?;
    let mut named = rest;
    let found: winnow::Result<Heat> = letter().parse_next(&mut named);
    let ends = named.chars().next().is_none_or(|c| !c.is_alphabetic());
    match (found, sign) {
        (Ok(heat), _) if ends => {
            *input = named;
            Ok(heat)
        }
        (_, Some(_)) => {
            *input = rest;
            Ok(Heat::Unsaid)
        }
        _ => Err(winnow::error::ContextError::new()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    fn minutes(text: &str) -> Option<(f64, f64)> {
        match figure(&mut &*text)? {
            Figure::Time(c) => Some((c.low, c.high)),
            _ => None,
        }
    }

    #[rstest]
    #[case("45 min", 45.0, 45.0)]
    #[case("half-hour intervals", 30.0, 30.0)]
    #[case("an hour and a half", 90.0, 90.0)]
    #[case("1 hr 10 min", 70.0, 70.0)]
    #[case("4 h 30", 270.0, 270.0)]
    #[case("4 h 30 total", 270.0, 270.0)]
    #[case("1 h at 30 °C", 60.0, 60.0)]
    #[case("8 to 10 hours", 480.0, 600.0)]
    #[case("07:20 to 11:00", 220.0, 220.0)]
    #[case("22:30-06:30", 480.0, 480.0)]
    fn times_as_they_are_written(#[case] text: &str, #[case] low: f64, #[case] high: f64) {
        assert_eq!(minutes(text), Some((low, high)), "{text}");
    }

    #[rstest]
    #[case("4 h 30 °C")]
    #[case("1 h 12")]
    fn a_figure_behind_hours_may_be_something_else(#[case] text: &str) {
        assert!(minutes(text).is_some_and(|(low, _)| low % 60.0 == 0.0), "{text}");
    }

    #[rstest]
    #[case("07:10 mix")]
    #[case("25:10 to 26:00")]
    fn what_is_no_stretch_of_the_clock_is_none(#[case] text: &str) {
        assert_eq!(between_clocks(&mut &*text), None, "{text}");
    }
}
