//! What the whole of a recipe tells of its shape, its pan, its mixing and its pieces, where no step says it outright: by
//! how often, and how early, its words are said.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::Deserialize;

use crate::finding::{Finding, Found};
use crate::quantity::counted;
use winnow::prelude::*;

/// Words of a kind by their weight.
type Weights = BTreeMap<String, Vec<String>>;

#[derive(Deserialize)]
struct Things {
    shape: BTreeMap<String, Weights>,
    pan: BTreeMap<String, Weights>,
    method: BTreeMap<String, Weights>,
    pieces: BTreeMap<String, Vec<String>>,
}

static ENGLISH: LazyLock<Things> = LazyLock::new(|| {
    toml::from_str(include_str!("things.toml")).unwrap_or_else(|e| unreachable!("things: {e}"))
});

/// How much of a text counts as its beginning, bytes.
const BEGINNING: usize = 90;

/// How far before a count its verb stands, in characters.
const NEAR: usize = 40;

/// The longest text that is searched, bytes.
const LONGEST: usize = 20_000;

/// The kind that most is said of, with what is said.
fn heaviest<'a>(lower: &str, kinds: &'a BTreeMap<String, Weights>) -> Option<(&'a str, f64, usize)> {
    let weigh = |weights: &Weights| -> f64 {
        let each = weights.iter().flat_map(|(weight, words)| {
            let weight: f64 = weight.parse().unwrap_or(1.0);
            words.iter().map(move |w| (weight, w))
        });
        each.map(|(weight, word)| {
            let said = lower.match_indices(word.as_str()).filter(|(at, w)| whole_word(lower, *at, w.len()));
            let mut all = 0.0;
            for (n, (at, _)) in said.enumerate() {
                all += match (at < BEGINNING, n) {
                    (true, _) => 2.0 * weight,
                    (false, 0) => weight,
                    (false, 1..=3) => 0.4 * weight,
                    _ => 0.0,
                };
            }
            all
        })
        .sum()
    };
    let first = |weights: &Weights| {
        let all = weights.values().flatten().flat_map(|w| lower.match_indices(w.as_str()));
        all.filter(|(at, w)| whole_word(lower, *at, w.len())).map(|(at, _)| at).min().unwrap_or(0)
    };
    kinds
        .iter()
        .map(|(kind, w)| (kind.as_str(), weigh(w), first(w)))
        .filter(|(_, w, _)| *w > 0.0)
        .max_by(|a, b| a.1.total_cmp(&b.1))
}

fn whole_word(lower: &str, at: usize, long: usize) -> bool {
    let edge = |c: Option<char>| c.is_none_or(|c| !c.is_alphanumeric());
    edge(lower[..at].chars().next_back()) && edge(lower[at + long..].chars().next())
}

/// The count that is said of pieces: “makes 2 loaves”, “12 rolls”, “2 dozen buns”, “divide into 8”.
fn pieces(lower: &str) -> Option<(f64, usize)> {
    let words = ENGLISH.pieces.get("words")?;
    let leads = ["makes", "yield", "yields", "makes:", "yield:", "yields:", "quantity:", "for", "gives"];
    let mut best: Option<(u8, f64, usize)> = None;
    let mut before = None::<char>;
    for (at, c) in lower.char_indices() {
        let begins = c.is_alphanumeric() && !before.is_some_and(char::is_alphanumeric);
        before = Some(c);
        if !begins {
            continue;
        }
        let mut rest = &lower[at..];
        let Ok((count, _)) = counted.parse_next(&mut rest) else { continue };
        if count.low.fract() != 0.0 && !rest.trim_start().starts_with("do")
            || !(1.0..=96.0).contains(&count.low)
        {
            continue;
        }
        let dozen = ["dozen", "doz.", "doz"].iter().find_map(|d| rest.trim_start().strip_prefix(d));
        let (n, rest) = match dozen {
            Some(after) => (count.low * 12.0, after),
            None => (count.low, rest),
        };
        let head: Vec<&str> = rest
            .split(|c: char| !(c.is_alphanumeric() || c == '-'))
            .filter(|w| !w.is_empty())
            .take(4)
            .collect();
        let ends = rest.trim_start_matches(' ').starts_with(['\n', '|', '.', ',', ';', ')'])
            || rest.trim().is_empty();
        let said = head.iter().position(|w| words.iter().any(|p| p == w));
        let unit = head.first().is_some_and(|w| {
            [
                "g", "kg", "ml", "oz", "lb", "min", "mins", "minutes", "hours", "hour", "hrs", "cm", "inch",
                "in", "cups", "cup", "tbsp", "tsp", "x", "c", "f", "days", "slices", "people", "servings",
            ]
            .contains(w)
        });
        let led = lower[..at].trim_end().rsplit(|c: char| c.is_whitespace()).next().unwrap_or("");
        let led = led.trim_matches(|c: char| !c.is_alphanumeric() && c != ':');
        let yields = leads.contains(&led);
        let near = lower[..at].char_indices().rev().nth(NEAR).map_or(0, |(i, _)| i);
        let before_it = &lower[near..at];
        let divides = ["into", "in"].contains(&led)
            && ["divide", "cut", "split", "portion"].iter().any(|w| before_it.contains(w));
        let rank = match (yields && led != "for", divides, said) {
            (true, _, Some(_)) => 4,
            (_, true, Some(_)) => 4,
            (_, true, None)
                if !unit && (ends || head.first() == Some(&"and") || head.first() == Some(&"equal")) =>
            {
                3
            }
            (true, _, None) if dozen.is_some() || ends => 3,
            (_, _, Some(_)) if yields => 3,
            (_, _, Some(0 | 1)) if at < 400 && !unit => 2,
            (_, _, Some(0)) if !unit => 1,
            _ => 0,
        };
        if rank > best.map_or(0, |b| b.0) {
            best = Some((rank, n, at));
        }
    }
    best.map(|(_, n, at)| (n, at))
}

/// Adds what is told of all of it, where nothing was found.
pub(crate) fn told_of_all(text: &str, found: &mut Vec<Finding>) {
    let end = (0..=LONGEST.min(text.len())).rev().find(|i| text.is_char_boundary(*i)).unwrap_or(0);
    // Of ASCII alone, so that places are the same in both.
    let lower = text[..end].to_ascii_lowercase();
    let sentence = |at: usize| {
        let from = text[..at].rfind('\n').map_or(0, |i| i + 1);
        let to = text[at..].find('\n').map_or(text.len(), |i| at + i);
        text[from..to].trim().chars().take(200).collect::<String>()
    };
    let one = |found: Found, key: &str, n: f64, text: String| Finding {
        found,
        low: n,
        high: n,
        key: key.to_owned(),
        text,
    };
    let has = |found: &[Finding], what: Found| found.iter().any(|f| f.found == what);
    let shape = heaviest(&lower, &ENGLISH.shape);
    let counted = pieces(&lower);
    if let Some(p) = found.iter_mut().find(|f| f.found == Found::Pieces) {
        if let Some((kind, weight, _)) =
            shape.filter(|_| p.key.is_empty() || p.key == "round" || p.key == "tin" || p.key == "roll")
            && (p.key.is_empty() || weight >= 6.0)
        {
            p.key = kind.to_owned();
        }
    } else if let Some((n, at)) = counted {
        let key = found
            .iter()
            .find(|f| f.found == Found::Shape)
            .map(|f| f.key.clone())
            .or(shape.map(|s| s.0.to_owned()));
        found.push(one(Found::Pieces, key.as_deref().unwrap_or(""), n, sentence(at)));
    }
    if !has(found, Found::Pieces) && !has(found, Found::Shape) {
        found.extend(shape.map(|(kind, _, at)| one(Found::Shape, kind, 1.0, sentence(at))));
    }
    if !has(found, Found::BakesIn)
        && let Some((pan, _, at)) = heaviest(&lower, &ENGLISH.pan).filter(|(p, _, _)| *p != "griddle")
    {
        found.push(one(Found::BakesIn, pan, 1.0, sentence(at)));
    }
    if !has(found, Found::MixedBy)
        && let Some((method, _, at)) = heaviest(&lower, &ENGLISH.method)
    {
        found.push(one(Found::MixedBy, method, 1.0, sentence(at)));
    }
    found.sort_by_key(|f| f.found as usize);
}
