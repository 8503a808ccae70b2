//! Times and temperatures in a text, however they are written: what belongs together is one figure.

use winnow::prelude::*;

use crate::quantity::and_a_part;
use crate::quantity::{Count, counted};
use cerealis_core::units::Celsius;

/// A time or a temperature.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Figure {
    /// Minutes; whether “more” stands in it.
    Time(Count, bool),
    /// °C of an oven without its fan, or of whatever it is; whether a fan was spoken of.
    Heat(Count, bool),
    /// A number of its own.
    Bare(Count),
}

/// A figure and where it stands, bytes.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Placed {
    pub(crate) figure: Figure,
    pub(crate) from: usize,
    pub(crate) to: usize,
}

/// The most figures of one text.
const MOST: usize = 64;

/// What a fan bakes hotter by, °C (common practice, no source).
const FAN: f64 = 20.0;

/// °C of the gas marks from a half on (the usual British table, recalled, not read from the source).
const GAS: [f64; 10] = [130.0, 140.0, 150.0, 170.0, 180.0, 190.0, 200.0, 220.0, 230.0, 240.0];

/// A scale that a temperature is said in.
#[derive(Clone, Copy, PartialEq)]
enum Scale {
    Celsius,
    Fahrenheit,
    Gas,
    Unsaid,
}

/// All figures of a text in lower case.
pub(crate) fn figures(lower: &str) -> Vec<Placed> {
    let mut heats: Vec<(usize, usize, Count, Scale)> = Vec::new();
    let mut out = Vec::new();
    let mut at = 0;
    while let Some(from) = word_start(lower, at).filter(|_| out.len() + heats.len() < MOST) {
        let text = &lower[from..];
        if let Some((mark, long)) = gas(text) {
            heats.push((from, from + long, Count { low: mark, high: mark }, Scale::Gas));
            at = from + long;
        } else if let Some((count, more, long)) = time(text) {
            out.push(Placed { figure: Figure::Time(count, more), from, to: from + long });
            at = from + long;
        } else if let Some((count, scale, long)) = heat(text) {
            heats.push((from, from + long, count, scale));
            at = from + long;
        } else if let Some((count, long)) = number(text) {
            let before = lower[..from].trim_end();
            let alone = !lower[from + long..].starts_with(|c: char| c.is_alphanumeric());
            // “oven at 425”, “hot oven (425)”, “fan 170”, “260/20 min”
            if alone && count.low == count.high && said_of_an_oven(before, &lower[from + long..], count.low) {
                heats.push((from, from + long, count, Scale::Unsaid));
            } else {
                out.push(Placed { figure: Figure::Bare(count), from, to: from + long });
            }
            at = from + long;
        } else {
            at = from + text.chars().next().map_or(1, char::len_utf8);
        }
    }
    out.extend(grouped(lower, &heats));
    out.sort_by_key(|p| p.from);
    joined(lower, out)
}

fn word_start(text: &str, from: usize) -> Option<usize> {
    let mut before = text[..from].chars().next_back();
    for (i, c) in text[from..].char_indices() {
        if (c.is_alphanumeric() || c.is_numeric()) && !before.is_some_and(char::is_alphanumeric) {
            return Some(from + i);
        }
        before = Some(c);
    }
    None
}

fn number(text: &str) -> Option<(Count, usize)> {
    let mut rest = text;
    let (count, _) = counted.parse_next(&mut rest).ok()?;
    Some((count, text.len() - rest.len()))
}

/// `gas 7`, `gas mark 7`, `regulo 6`, `mark ½`.
fn gas(text: &str) -> Option<(f64, usize)> {
    let after = ["gas mark ", "gas no. ", "gas no ", "gas ", "regulo ", "mark "]
        .iter()
        .find_map(|w| text.strip_prefix(w))?;
    let (count, long) = number(after)?;
    let mark = count.low;
    let celsius = if mark <= 0.5 { GAS[0] } else { *GAS.get(mark.round() as usize)? };
    Some((celsius, text.len() - after.len() + long))
}

/// Words that may stand between a number and its unit of time.
const BETWEEN: [&str; 11] =
    ["more", "further", "additional", "extra", "other", "full", "good", "whole", "solid", "long", "or so"];

/// Minutes, whether “more” was said, and how many bytes it takes.
fn time(text: &str) -> Option<(Count, bool, usize)> {
    if let Some(rest) = text.strip_prefix("overnight") {
        return (!rest.starts_with(char::is_alphabetic)).then_some((
            Count { low: 480.0, high: 720.0 },
            false,
            "overnight".len(),
        ));
    }
    let mut more = false;
    let mut rest = text;
    let mut count = Count { low: 1.0, high: 1.0 };
    if let Some(after) = text.strip_prefix("another ") {
        more = true;
        rest = after;
    }
    let whole = rest;
    match number(rest) {
        Some((said, long)) => {
            count = said;
            rest = &rest[long..];
        }
        None if more => {}
        None => return None,
    }
    if let Some((clocks, long)) = between_clocks(whole) {
        let at = text.len() - whole.len() + long;
        return Some((Count { low: clocks, high: clocks }, more, at));
    }
    // “half an hour”, “three quarters of an hour”, “a couple of hours”
    for filler in [" of an ", " of a ", " an ", " a ", " couple of "] {
        if let Some(after) = rest.strip_prefix(filler).filter(|a| unit(a).is_some()) {
            rest = after;
            if filler == " couple of " {
                count = Count { low: 2.0, high: 2.0 };
            }
            break;
        }
    }
    for word in BETWEEN {
        let after =
            rest.trim_start().strip_prefix(word).filter(|a| a.starts_with([' ', '-']) && unit(a).is_some());
        if let Some(after) = after {
            rest = after;
            more |= matches!(word, "more" | "further" | "additional" | "extra" | "other");
            break;
        }
    }
    let (one, after) = unit(rest)?;
    rest = after;
    let part = winnow::combinator::opt(and_a_part).parse_next(&mut rest).unwrap_or(None).unwrap_or(0.0);
    let mut total = Count { low: (count.low + part) * one, high: (count.high + part) * one };
    // “1 hour 15 minutes”, “1h30”, “1 hr 30”
    if one == 60.0 {
        let joint = rest.strip_prefix(" and ").unwrap_or(rest).trim_start_matches([' ', ',']);
        if let Some((minutes, long)) = number(joint).filter(|(m, _)| m.low == m.high && m.low < 60.0) {
            let behind = &joint[long..];
            let bare = [5.0, 10.0, 15.0, 20.0, 30.0, 40.0, 45.0, 50.0].contains(&minutes.low)
                && ends(behind)
                && !rest.starts_with(',');
            let said = unit(behind).filter(|(u, _)| *u == 1.0);
            if let Some(left) = said.map(|(_, left)| left).or(bare.then_some(behind)) {
                total = Count { low: total.low + minutes.low, high: total.high + minutes.low };
                rest = left;
            }
        }
    }
    for word in [" more", " further", " longer", " extra"] {
        if let Some(after) = rest.strip_prefix(word).filter(|a| !a.starts_with(char::is_alphabetic)) {
            rest = after;
            more = true;
        }
    }
    Some((total, more, text.len() - rest.len()))
}

/// Whether nothing goes on that would make the number one of something else.
fn ends(rest: &str) -> bool {
    let rest = rest.trim_start_matches('.');
    rest.is_empty()
        || rest.starts_with([',', ';', ')', '\n', '/'])
        || [" at ", " until", " in ", " or until", " total", " -", " –"].iter().any(|w| rest.starts_with(w))
}

/// Minutes of the unit that a text begins with, and what is behind it.
fn unit(text: &str) -> Option<(f64, &str)> {
    let text = text.trim_start_matches([' ', '-', '\u{a0}']);
    let end = text.find(|c: char| !c.is_ascii_alphabetic()).unwrap_or(text.len());
    let one = match &text[..end] {
        "seconds" | "secs" | "sec" | "second" => 1.0 / 60.0,
        "m" | "min" | "mins" | "minute" | "minutes" | "minuts" => 1.0,
        "h" | "hr" | "hrs" | "hour" | "hours" => 60.0,
        "day" | "days" => 1440.0,
        _ => return None,
    };
    let rest = &text[end..];
    Some((
        one,
        if matches!(&text[..end], "min" | "mins" | "hr" | "hrs" | "sec" | "secs" | "h") {
            rest.strip_prefix('.').filter(|r| !r.is_empty()).unwrap_or(rest)
        } else {
            rest
        },
    ))
}

/// Minutes from one time of the day to another: “07:20 to 11:00”.
fn between_clocks(text: &str) -> Option<(f64, usize)> {
    let clock = |text: &str| -> Option<(f64, usize)> {
        let (hours, after) = text.split_once(':')?;
        let minutes = after.get(..2)?;
        let fits = hours.len() <= 2
            && after.get(2..).is_none_or(|rest| !rest.starts_with(|c: char| c.is_ascii_digit()));
        let (h, m): (f64, f64) = (hours.parse().ok()?, minutes.parse().ok()?);
        (fits && h < 24.0 && m < 60.0).then_some((60.0 * h + m, hours.len() + 3))
    };
    let (from, long) = clock(text)?;
    let after = &text[long..];
    let gap =
        [" to ", " until ", " till ", "-", "–", " - ", " – "].into_iter().find(|g| after.starts_with(g))?;
    let (to, more) = clock(&after[gap.len()..])?;
    Some(((to - from).rem_euclid(24.0 * 60.0), long + gap.len() + more))
}

/// A temperature with its scale.
fn heat(text: &str) -> Option<(Count, Scale, usize)> {
    let (count, long) = number(text)?;
    let after = text[long..].trim_start_matches([' ', '\u{a0}']);
    let sign = ["°", "º", "˚", "degrees", "degree", "degs", "deg"].iter().find_map(|s| after.strip_prefix(s));
    let rest = sign.unwrap_or(after).trim_start_matches([' ', '.', '\u{a0}']);
    let end = rest.find(|c: char| !c.is_ascii_alphabetic()).unwrap_or(rest.len());
    let scale = match &rest[..end] {
        "f" | "fahrenheit" => Scale::Fahrenheit,
        "c" | "celsius" | "centigrade" => Scale::Celsius,
        _ if sign.is_some() => {
            let used = text.len() - sign.unwrap_or(after).len();
            return Some((count, Scale::Unsaid, used));
        }
        _ => return None,
    };
    // “2 c. flour” is of cups.
    if sign.is_none() && count.low < 30.0 {
        return None;
    }
    Some((count, scale, text.len() - rest[end..].len()))
}

/// A bare number that stands where an oven's does.
fn said_of_an_oven(before: &str, after: &str, number: f64) -> bool {
    if !(130.0..=550.0).contains(&number) || number.fract() != 0.0 || number % 5.0 != 0.0 {
        return false;
    }
    let after = after.trim_start_matches([' ', '(', '/', ')', ',']);
    let other = ["g ", "g,", "ml", "gram", "kcal", "x ", "×", "%", "cal", "each", "kg", "mm", "cm"];
    if other.iter().any(|w| after.starts_with(w)) {
        return false;
    }
    let open = before.strip_suffix('(').unwrap_or(before).trim_end();
    let led = [
        "oven",
        "fan",
        "bake at",
        "oven at",
        "oven to",
        "heat to",
        "preheat to",
        "down to",
        "reduce to",
        "lower to",
        "lid",
        "open",
        "drop to",
        "bake",
        "baked at",
        "temp",
        "set to",
        "set at",
        "set it to",
        "temperature to",
        "get it to",
        "up to",
        "oven on",
        "heat",
    ];
    led.iter().any(|w| open.ends_with(w))
        || after.starts_with("fan")
        || after.starts_with("oven")
        || before.ends_with("at") && after.starts_with("for ")
}

/// Words that stand within one temperature said several ways.
const WITHIN: [&str; 26] = [
    "fan",
    "gas",
    "mark",
    "or",
    "oven",
    "convection",
    "conventional",
    "forced",
    "assisted",
    "electric",
    "in",
    "a",
    "if",
    "using",
    "ordinary",
    "static",
    "your",
    "with",
    "the",
    "ovens",
    "non",
    "not",
    "no",
    "you",
    "use",
    "for",
];

/// Temperatures that say one thing several ways are one: “220C/200C fan/gas 7”.
fn grouped(lower: &str, heats: &[(usize, usize, Count, Scale)]) -> Vec<Placed> {
    let mut out = Vec::new();
    let mut i = 0;
    while i < heats.len() {
        let mut j = i + 1;
        while j < heats.len() && within(&lower[heats[j - 1].1..heats[j].0]) {
            j += 1;
        }
        out.push(one_of(lower, &heats[i..j]));
        i = j;
    }
    out
}

fn within(gap: &str) -> bool {
    gap.len() <= 28
        && gap.split(|c: char| !c.is_alphabetic()).filter(|w| !w.is_empty()).all(|w| WITHIN.contains(&w))
        && gap.chars().all(|c| c.is_alphabetic() || " /()-–,;|[]'’\u{a0}.=".contains(c))
        // “220C. 200C” are two.
        && !gap.contains(". ")
}

fn one_of(lower: &str, group: &[(usize, usize, Count, Scale)]) -> Placed {
    let (from, mut to) = (group[0].0, group[group.len() - 1].1);
    let behind = |n: usize| {
        let end = group.get(n + 1).map_or(lower.len(), |g| g.0);
        lower[group[n].1..end].trim_start_matches([' ', '-', '(', '/', ',', '\u{a0}'])
    };
    let fanned = |text: &str| ["fan", "convection", "forced"].iter().any(|w| text.starts_with(w));
    let mut fans: Vec<bool> =
        (0..group.len()).map(|n| fanned(behind(n)) && !behind(n).starts_with("fan oven off")).collect();
    if !fans.iter().any(|f| *f) {
        for n in 0..group.len() {
            let start = if n == 0 { 0 } else { group[n - 1].1 };
            let before = lower[start..group[n].0].trim_end_matches([' ', ':', '(', '\u{a0}', '/']);
            let not = ["no fan", "not fan", "non-fan", "non fan", "without fan", "without the fan"]
                .iter()
                .any(|w| before.ends_with(w));
            fans[n] = !not && ["fan", "convection", "fan oven", "fan at"].iter().any(|w| before.ends_with(w));
        }
    } else if let Some(last) = fans.last().filter(|l| **l) {
        let _ = last;
        // What says that it is the fan's belongs to it.
        let rest = &lower[to..];
        let skipped = rest.len() - rest.trim_start_matches([' ', '-', '(', '\u{a0}', '/', ',']).len();
        let word =
            rest[skipped..].find(|c: char| !(c.is_alphabetic() || c == '-')).unwrap_or(rest.len() - skipped);
        to += skipped + word;
    }
    let celsius = |count: Count, scale: Scale| {
        let one = |t: f64| match scale {
            Scale::Celsius | Scale::Gas => t,
            Scale::Fahrenheit => Celsius::from_fahrenheit(t).0,
            Scale::Unsaid if t >= 300.0 => Celsius::from_fahrenheit(t).0,
            Scale::Unsaid => t,
        };
        Count { low: one(count.low), high: one(count.high) }
    };
    let order = |scale: Scale| match scale {
        Scale::Celsius => 0,
        Scale::Unsaid => 1,
        Scale::Fahrenheit => 2,
        Scale::Gas => 3,
    };
    let plain = (0..group.len()).filter(|n| !fans[*n]).min_by_key(|n| order(group[*n].3));
    let fan = fans.iter().any(|f| *f);
    let count = match plain {
        Some(n) => celsius(group[n].2, group[n].3),
        None => {
            let n = (0..group.len()).min_by_key(|n| order(group[*n].3)).unwrap_or(0);
            let c = celsius(group[n].2, group[n].3);
            Count { low: c.low + FAN, high: c.high + FAN }
        }
    };
    Placed { figure: Figure::Heat(count, fan), from, to }
}

/// “1 hour to 1¼ hours” is one time, and so is “an hour, an hour and a quarter”.
fn joined(lower: &str, all: Vec<Placed>) -> Vec<Placed> {
    let mut out: Vec<Placed> = Vec::new();
    for next in all {
        if let (Some(Placed { figure: Figure::Time(a, more), to, .. }), Figure::Time(b, _)) =
            (out.last_mut(), next.figure)
        {
            let gap = lower[*to..next.from].trim();
            let one = matches!(gap, "to" | "-" | "–" | "or" | "or even" | "up to" | "maybe" | "to about");
            if (one
                || gap == "," && (1.0..=2.0).contains(&(b.low / a.low)) && a.low == a.high && a.low >= 60.0)
                && b.low > a.low
                && a.low == a.high
            {
                (a.high, *to) = (b.high, next.to);
                let _ = more;
                continue;
            }
        }
        out.push(next);
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    fn first(text: &str) -> Figure {
        figures(&text.to_lowercase()).first().unwrap_or_else(|| panic!("nothing in {text}")).figure
    }

    #[rstest]
    #[case("45 min", 45.0, 45.0)]
    #[case("1h30", 90.0, 90.0)]
    #[case("1 h 30, one fold", 90.0, 90.0)]
    #[case("half an hour", 30.0, 30.0)]
    #[case("an hour and a half", 90.0, 90.0)]
    #[case("1-1½ hrs", 60.0, 90.0)]
    #[case("1 hour to 1¼ hours", 60.0, 75.0)]
    #[case("an hour to an hour and a half", 60.0, 90.0)]
    #[case("three quarters of an hour", 45.0, 45.0)]
    #[case("5 to 6 more minutes", 5.0, 6.0)]
    #[case("another 12 to 15 minutes", 12.0, 15.0)]
    #[case("1 hr 45 mins", 105.0, 105.0)]
    #[case("30–35 mins.", 30.0, 35.0)]
    #[case("90-minute", 90.0, 90.0)]
    #[case("2 hours in the tub", 120.0, 120.0)]
    fn times(#[case] text: &str, #[case] low: f64, #[case] high: f64) {
        let Figure::Time(c, _) = first(text) else { panic!("{text}: {:?}", first(text)) };
        assert!((c.low - low).abs() < 1e-6 && (c.high - high).abs() < 1e-6, "{text}: {c:?}");
    }

    #[rstest]
    #[case("220C/200C fan/gas 7", 220.0)]
    #[case("190°C/170°C fan/Gas 5", 190.0)]
    #[case("425°F (220°C)", 220.0)]
    #[case("Gas Mark 6 (400°F.)", 204.0)]
    #[case("gas 6", 200.0)]
    #[case("hot oven (425)", 218.0)]
    #[case("fan 170, 22-25 min", 190.0)]
    #[case("200°C fan", 220.0)]
    #[case("200°C (180°C fan-forced)", 200.0)]
    #[case("180 C, 160 in the fan one", 180.0)]
    #[case("230°C no fan / 450°F", 230.0)]
    #[case("preheat the oven to 350", 177.0)]
    fn ovens(#[case] text: &str, #[case] celsius: f64) {
        let all = figures(&text.to_lowercase());
        let heats: Vec<f64> = all
            .iter()
            .filter_map(|p| if let Figure::Heat(c, _) = p.figure { Some(c.low.round()) } else { None })
            .collect();
        assert_eq!(heats.first(), Some(&celsius), "{text}: {all:?}");
    }

    #[rstest]
    #[case("3 c. flour")]
    #[case("2 cups")]
    #[case("300 ml water")]
    #[case("bake 12 rolls")]
    fn neither(#[case] text: &str) {
        assert!(figures(text).iter().all(|p| matches!(p.figure, Figure::Bare(_))), "{text}");
    }
}
