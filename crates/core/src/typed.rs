//! Figures as bakers type them into a field: `25`, `25,5`, `1/2`, `1 1/2`, `½`, `1.000,5`, `500 g`, `1 lb 2 oz`,
//! `77 °F`, `1 h 30`, `1:30`, `90 min`, `9 in`. A bare figure is in the unit of the field.

use jiff::civil::{Date, Time};

use crate::notation::{Notation, Quantity, to_step};
use crate::units::{OUNCE, POUND, vulgar_fraction};

/// The longest text that is looked at, in characters.
const LONGEST: usize = 40;

/// Whether a mass is written with a comma that parts thousands: nobody weighs a dough to the thousandth of a gram.
fn thousands(text: &str, of: Quantity) -> bool {
    let Some((whole, rest)) = text.split_once(',') else { return false };
    let part = rest.chars().take_while(char::is_ascii_digit).count();
    let whole_number = (1..=3).contains(&whole.len()) && whole.chars().all(|c| c.is_ascii_digit());
    of == Quantity::Grams
        && whole_number
        && !whole.starts_with('0')
        && part == 3
        && !rest.contains(['.', ','])
}

/// Reads a figure in the unit of its field; `None` where it is none, or is in a unit of something else.
///
/// ```
/// use cerealis_core::notation::Quantity;
/// use cerealis_core::typed::typed;
/// assert_eq!(typed("1 1/2 kg", Quantity::Grams), Some(1500.0));
/// assert_eq!(typed("77F", Quantity::Celsius), Some(25.0));
/// assert_eq!(typed("1:30", Quantity::Minutes), Some(90.0));
/// assert_eq!(typed("1.000,5", Quantity::Grams), Some(1000.5));
/// assert_eq!(typed("500 g", Quantity::Minutes), None);
/// ```
pub fn typed(text: &str, of: Quantity) -> Option<f64> {
    typed_in(text, of, Notation::default())
}

/// Reads a figure in the unit that its field has in a notation, where it does not say its own; what comes out is in
/// the unit of the quantity. `None` as by [`typed`].
///
/// ```
/// use cerealis_core::notation::{Notation, Quantity, Temperatures};
/// use cerealis_core::typed::typed_in;
/// let there = Notation { temperatures: Temperatures::Fahrenheit, ..Notation::default() };
/// assert_eq!(typed_in("77", Quantity::Celsius, there), Some(25.0));
/// assert_eq!(typed_in("25 °C", Quantity::Celsius, there), Some(25.0));
/// ```
pub fn typed_in(text: &str, of: Quantity, notation: Notation) -> Option<f64> {
    let read = read(text, of)?;
    let says_its_unit =
        text.contains(|c: char| c.is_alphabetic() || matches!(c, '°' | '"' | '″' | '%' | ':'));
    if says_its_unit {
        return Some(read);
    }
    let decimals = text.trim().rsplit_once(['.', ',']).map_or(0, |(_, part)| part.len());
    Some(notation.unrounded(notation.meant(read, of), decimals, of))
}

/// A time of day as people type it: `17:30`, `17.30`, `1730`, `17`, `5:30 pm`, `5pm`, `noon`, `midnight`.
///
/// ```
/// use cerealis_core::typed::time_of_day;
/// assert_eq!(time_of_day("5:30 pm"), Some(jiff::civil::time(17, 30, 0, 0)));
/// assert_eq!(time_of_day("25:00"), None);
/// ```
pub fn time_of_day(text: &str) -> Option<Time> {
    let text = text.trim().to_lowercase().replace(['\u{a0}', '\u{202f}'], " ");
    match text.as_str() {
        "noon" => return Time::new(12, 0, 0, 0).ok(),
        "midnight" => return Some(Time::midnight()),
        _ => {}
    }
    let compact: String = text.chars().filter(|c| !matches!(c, ' ' | '.')).collect();
    let (figures, half) = match (compact.strip_suffix("am"), compact.strip_suffix("pm")) {
        (Some(_), _) => (text.split('a').next()?, Some(0)),
        (_, Some(_)) => (text.split('p').next()?, Some(12)),
        _ => (text.trim_end_matches('h').trim_end_matches("o'clock"), None),
    };
    let figures = figures.trim();
    let whole =
        |t: &str| (t.len() <= 2 && t.bytes().all(|b| b.is_ascii_digit())).then(|| t.parse::<i8>().ok())?;
    let (hour, minute) = match figures.split_once([':', '.', 'h']) {
        Some((hour, minute)) if minute.len() == 2 => (whole(hour)?, whole(minute)?),
        Some(_) => return None,
        None if figures.len() >= 3 && figures.is_ascii() => {
            let (hour, minute) = figures.split_at(figures.len() - 2);
            (whole(hour)?, whole(minute)?)
        }
        None => (whole(figures)?, 0),
    };
    let hour = match half {
        Some(_) if !(1..=12).contains(&hour) => return None,
        Some(after) => hour % 12 + after,
        None if hour == 24 && minute == 0 => 0,
        None => hour,
    };
    Time::new(hour, minute, 0, 0).ok()
}

/// A date as people type it, the next one where it says no year: `24 Dec`, `24.12.`, `Dec 24`, `2026-12-24`.
pub fn date_of(text: &str, today: Date) -> Option<Date> {
    let text = text.trim().to_lowercase();
    if let Ok(date) = text.parse::<Date>() {
        return Some(date);
    }
    const MONTHS: [&str; 12] =
        ["jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"];
    let words: Vec<&str> = text.split([' ', '.', '/', ',', '-']).filter(|w| !w.is_empty()).collect();
    let number = |w: &str| w.trim_end_matches(|c: char| c.is_alphabetic()).parse::<i16>().ok();
    let month = |w: &str| MONTHS.iter().position(|m| w.starts_with(m)).map(|i| i as i16 + 1);
    let (day, month, year) = match words.as_slice() {
        [a, b, rest @ ..] if rest.len() <= 1 => {
            let year = rest.first().map(|y| number(y)).unwrap_or(None);
            match (month(a), month(b)) {
                (None, Some(m)) => (number(a)?, m, year),
                (Some(m), None) => (number(b)?, m, year),
                _ => (number(a)?, number(b)?, year),
            }
        }
        _ => return None,
    };
    let on = |year: i16| Date::new(year, i8::try_from(month).ok()?, i8::try_from(day).ok()?).ok();
    match year {
        Some(year) => on(if year < 100 { 2000 + year } else { year }),
        None => on(today.year()).filter(|d| *d >= today).or_else(|| on(today.year() + 1)),
    }
}

fn read(text: &str, of: Quantity) -> Option<f64> {
    let text = text.trim().replace('\u{2212}', "-").replace(['\u{a0}', '\u{202f}'], " ");
    if text.is_empty() || text.chars().count() > LONGEST {
        return None;
    }
    let (negative, text) = match text.strip_prefix(['-', '+']) {
        Some(rest) => (text.starts_with('-'), rest.trim_start().to_owned()),
        None => (false, text),
    };
    let text = if thousands(&text, of) { text.replacen(',', "", 1) } else { text };
    let sum = clock(&text, of).or_else(|| parts(&text.to_lowercase(), of))?;
    let signed = if negative { negated(&text, of, sum) } else { sum };
    signed.is_finite().then_some(signed)
}

/// A degree Fahrenheit below nought is no negative degree Celsius of the same.
fn negated(text: &str, of: Quantity, sum: f64) -> f64 {
    let fahrenheit = of == Quantity::Celsius && text.trim_end().ends_with(['F', 'f']);
    if fahrenheit { (-to_step(sum * 1.8 + 32.0, 1000.0) - 32.0) / 1.8 } else { -sum }
}

/// `1:30` of a time.
fn clock(text: &str, of: Quantity) -> Option<f64> {
    let (hours, minutes) = text.split_once(':')?;
    let whole = |t: &str| t.trim().parse::<u32>().ok().map(f64::from);
    let minutes = 60.0 * whole(hours)? + whole(minutes).filter(|m| *m < 60.0)?;
    match of {
        Quantity::Hours => Some(minutes / 60.0),
        Quantity::Minutes => Some(minutes),
        _ => None,
    }
}

/// One figure with its unit, or several that add up: `1 h 30`, `1 lb 2 oz`.
fn parts(text: &str, of: Quantity) -> Option<f64> {
    let (mut rest, mut sum, mut before): (&str, f64, Option<f64>) = (text.trim(), 0.0, None);
    while !rest.is_empty() {
        let (figure, after) = figure(rest)?;
        let after = after.trim_start();
        let end = after.find(|c: char| c.is_ascii_digit() || vulgar_fraction(c).is_some());
        let unit = after[..end.unwrap_or(after.len())].trim();
        let (per, own) = match (unit, before) {
            // What follows hours without a unit are minutes.
            ("", Some(hour)) if of == Quantity::Hours && hour == 1.0 => (1.0 / 60.0, 1.0 / 60.0),
            ("", Some(hour)) if of == Quantity::Minutes && hour == 60.0 => (1.0, 1.0),
            ("", Some(_)) => return None,
            (unit, _) => {
                let per = in_unit(unit, of)?;
                (per, per)
            }
        };
        // The parts of a sum go from the large unit to the small, and degrees do not add up.
        if before.is_some_and(|b| {
            own >= b || matches!(of, Quantity::Celsius | Quantity::Kelvin | Quantity::Percent)
        }) {
            return None;
        }
        sum += if of == Quantity::Celsius && unit.trim_start_matches(['°', 'º', ' ']).starts_with('f') {
            to_step((figure - 32.0) / 1.8, 10_000.0)
        } else {
            figure * per
        };
        before = Some(own);
        rest = end.map_or("", |end| &after[end..]);
    }
    before.map(|_| sum)
}

/// How many of the field's own unit one of these is.
fn in_unit(unit: &str, of: Quantity) -> Option<f64> {
    let unit = unit.trim_matches(['°', 'º', '.', ' ']);
    if unit.is_empty() {
        return Some(1.0);
    }
    Some(match (of, unit) {
        (Quantity::Percent, "%" | "per cent" | "percent") => 1.0,
        (Quantity::Grams, "g" | "gr" | "gram" | "grams") => 1.0,
        (Quantity::Grams, "kg" | "kilo" | "kilos") => 1000.0,
        (Quantity::Grams, "mg") => 0.001,
        (Quantity::Grams, "oz" | "ounce" | "ounces") => OUNCE,
        (Quantity::Grams, "lb" | "lbs" | "pound" | "pounds") => POUND,
        (Quantity::Celsius, "c" | "k" | "f" | "celsius" | "fahrenheit") => 1.0,
        (Quantity::Hours, "h" | "hr" | "hrs" | "hour" | "hours") => 1.0,
        (Quantity::Hours, "min" | "mins" | "m" | "minute" | "minutes") => 1.0 / 60.0,
        (Quantity::Hours, "d" | "day" | "days") => 24.0,
        (Quantity::Minutes, "min" | "mins" | "m" | "minute" | "minutes") => 1.0,
        (Quantity::Minutes, "h" | "hr" | "hrs" | "hour" | "hours") => 60.0,
        (Quantity::Minutes, "s" | "sec" | "secs" | "seconds") => 1.0 / 60.0,
        (Quantity::Kelvin, "k" | "c" | "celsius") => 1.0,
        (Quantity::Kelvin, "f" | "fahrenheit") => 1.0 / 1.8,
        (Quantity::Length, "cm") => 1.0,
        (Quantity::Length, "mm") => 0.1,
        (Quantity::Length, "in" | "inch" | "inches" | "\"" | "″") => 2.54,
        _ => return None,
    })
}

/// `25`, `25,5`, `1.000,5`, `1/2`, `1 1/2`, `1½`, `½`; and what follows.
fn figure(text: &str) -> Option<(f64, &str)> {
    if let Some((value, rest)) = fraction(text) {
        return Some((value, rest));
    }
    let end = text.find(|c: char| !(c.is_ascii_digit() || matches!(c, '.' | ','))).unwrap_or(text.len());
    let whole = decimal(&text[..end])?;
    let rest = &text[end..];
    // “1 1/2”: only a whole number has a fraction behind it.
    match fraction(rest.trim_start()) {
        Some((part, after)) if whole.fract() == 0.0 && part < 1.0 => Some((whole + part, after)),
        _ => Some((whole, rest)),
    }
}

fn fraction(text: &str) -> Option<(f64, &str)> {
    let first = text.chars().next()?;
    if let Some(value) = vulgar_fraction(first) {
        return Some((value, &text[first.len_utf8()..]));
    }
    let (over, rest) = digits(text)?;
    let rest = rest.trim_start().strip_prefix(['/', '\u{2044}'])?;
    let (under, rest) = digits(rest.trim_start())?;
    (under > 0.0).then_some((over / under, rest))
}

fn digits(text: &str) -> Option<(f64, &str)> {
    let end = text.find(|c: char| !c.is_ascii_digit()).unwrap_or(text.len());
    Some((text[..end].parse().ok()?, &text[end..]))
}

/// A number whose decimal mark may be a stop or a comma; where both stand, the last is the mark, and the other parts
/// thousands.
fn decimal(text: &str) -> Option<f64> {
    let text = text.trim_end_matches(['.', ',']);
    let (stops, commas) = (text.matches('.').count(), text.matches(',').count());
    let mark = match (text.rfind('.'), text.rfind(',')) {
        (Some(stop), Some(comma)) => Some(if stop > comma { '.' } else { ',' }),
        (Some(_), None) if stops == 1 => Some('.'),
        (None, Some(_)) if commas == 1 => Some(','),
        (None, None) => None,
        // “1.000.000”
        _ => None,
    };
    let (whole, part) = mark.and_then(|m| text.rsplit_once(m)).unwrap_or((text, ""));
    let groups: Vec<&str> = whole.split(['.', ',']).collect();
    let threes = groups.iter().skip(1).all(|g| g.len() == 3);
    let parted = groups.len() > 1;
    if (parted && (!threes || groups[0].len() > 3)) || !part.chars().all(|c| c.is_ascii_digit()) {
        return None;
    }
    if mark.is_some_and(|m| whole.contains(m)) {
        return None;
    }
    format!("{}.{}", groups.concat(), if part.is_empty() { "0" } else { part }).parse().ok()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn figures_are_read_as_they_are_typed() {
        use Quantity::*;
        let cases = [
            ("25", Plain, 25.0),
            (" 25,5 ", Plain, 25.5),
            ("−3", Celsius, -3.0),
            ("+4", Plain, 4.0),
            (".5", Plain, 0.5),
            ("1/2", Hours, 0.5),
            ("1 1/2", Hours, 1.5),
            ("1½", Hours, 1.5),
            ("¾ h", Minutes, 45.0),
            ("1.000,5", Grams, 1000.5),
            ("1,000.5 g", Grams, 1000.5),
            ("1.000.000", Plain, 1e6),
            ("500g", Grams, 500.0),
            ("1,500", Grams, 1500.0),
            ("1.125", Grams, 1.125),
            ("0,125", Grams, 0.125),
            ("1/2 kg", Grams, 500.0),
            ("2 oz", Grams, 56.69904625),
            ("1 lb 2 oz", Grams, 453.59237 + 56.69904625),
            ("77F", Celsius, 25.0),
            ("375 °F", Celsius, 190.5556),
            ("-4 °F", Celsius, -20.0),
            ("24 °C", Celsius, 24.0),
            ("1 h 30", Minutes, 90.0),
            ("1 h 30 min", Hours, 1.5),
            ("1:30", Hours, 1.5),
            ("90 min", Hours, 1.5),
            ("1,5 h", Minutes, 90.0),
            ("2 days", Hours, 48.0),
            ("70%", Percent, 70.0),
            ("9 in", Length, 22.86),
            ("23 cm", Length, 23.0),
            ("9 °F", Kelvin, 5.0),
        ];
        for (text, of, figure) in cases {
            let read = typed(text, of).unwrap_or_else(|| panic!("{text} was not read"));
            assert!((read - figure).abs() < 1e-9, "{text}: {read}");
        }
    }

    #[test]
    fn what_is_no_figure_of_the_field_is_none() {
        use Quantity::*;
        let cases = [
            ("", Plain),
            ("abc", Plain),
            ("1e3", Plain),
            ("inf", Plain),
            ("NaN", Plain),
            ("1..2", Plain),
            ("1,00,5", Grams),
            ("12.34.5", Grams),
            ("5 g", Celsius),
            ("1/0", Plain),
            ("30 min 1 h", Minutes),
            ("20 °C 5 °C", Celsius),
            ("1:75", Minutes),
            ("1 2", Plain),
            ("--5", Plain),
        ];
        for (text, of) in cases {
            assert_eq!(typed(text, of), None, "{text}");
        }
    }

    #[test]
    fn times_of_day_are_read_as_they_are_typed() {
        for (text, hour, minute) in [
            ("17:30", 17, 30),
            ("7:05", 7, 5),
            ("17.30", 17, 30),
            ("1730", 17, 30),
            ("630", 6, 30),
            ("17", 17, 0),
            ("17 h", 17, 0),
            ("5:30 pm", 17, 30),
            ("5.30 p.m.", 17, 30),
            ("5pm", 17, 0),
            ("12 am", 0, 0),
            ("12:15 PM", 12, 15),
            ("noon", 12, 0),
            ("midnight", 0, 0),
            ("24:00", 0, 0),
        ] {
            assert_eq!(time_of_day(text), Time::new(hour, minute, 0, 0).ok(), "{text}");
        }
        for text in ["", "25:00", "13 pm", "0 am", "7:5", "7:60", "late", "17:30:10", "-3"] {
            assert_eq!(time_of_day(text), None, "{text}");
        }
    }

    #[test]
    fn dates_are_read_as_they_are_typed() {
        let today = jiff::civil::date(2026, 11, 26);
        for text in ["24 Dec", "24. December", "Dec 24", "24.12.", "24.12.26", "2026-12-24", "24th Dec 2026"]
        {
            assert_eq!(date_of(text, today), Some(jiff::civil::date(2026, 12, 24)), "{text}");
        }
        assert_eq!(date_of("5 Jan", today), Some(jiff::civil::date(2027, 1, 5)), "the next one");
        for text in ["", "soon", "31 Feb", "1 2 3 4"] {
            assert_eq!(date_of(text, today), None, "{text}");
        }
    }

    proptest! {
        #[test]
        fn a_time_is_itself_on_either_clock(hour in 0i8..24, minute in 0i8..60) {
            let time = Time::new(hour, minute, 0, 0).unwrap();
            for clock in crate::notation::ClockFace::ALL {
                let notation = Notation { clock, ..Notation::default() };
                prop_assert_eq!(time_of_day(&notation.time(time)), Some(time));
            }
        }

        #[test]
        fn any_text_is_read_or_refused(text in ".{0,60}") {
            time_of_day(&text);
            date_of(&text, jiff::civil::date(2026, 11, 26));
            for of in [
                Quantity::Plain,
                Quantity::Grams,
                Quantity::Celsius,
                Quantity::Kelvin,
                Quantity::Length,
                Quantity::Hours,
                Quantity::Minutes,
            ] {
                if let Some(read) = typed(&text, of) {
                    prop_assert!(read.is_finite());
                }
            }
        }

        #[test]
        fn a_number_is_itself_in_either_notation(cents in -9_999_999i64..9_999_999) {
            let number = cents as f64 / 100.0;
            for text in [format!("{number}"), format!("{number}").replace('.', ",")] {
                prop_assert_eq!(typed(&text, Quantity::Plain), Some(number), "{}", text);
            }
        }
    }
}
