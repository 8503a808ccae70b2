//! The layout of a recipe: which of its lines is a heading, an ingredient, a step, or beside it. Decided for all lines
//! together: each kind has a cost by what a line looks like, each change of kind has one, and the cheapest course counts.

mod clean;
mod grid;

pub(crate) use clean::clean;

use crate::arrange::{amount_first, bare};
use crate::course::figures::{Figure, figures};
use crate::course::lexicon::{Act, ENGLISH, stem, words_of};
use crate::heading::{Opens, heading};
use crate::name::Names;
use crate::quantity::{after_amount, begins_with_amount, begins_with_measure};
use crate::step::is_step;

/// What a line is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Block {
    /// The name of the bread, or what is said over the recipe.
    Chatter,
    /// Yield and times.
    Meta,
    /// A heading of ingredients or steps.
    Head,
    /// An ingredient.
    Item,
    /// A step.
    Step,
    /// Notes, and variants.
    Note,
    /// What is no part of it: ratings, nutrition, comments.
    Debris,
}

const ALL: [Block; 7] =
    [Block::Chatter, Block::Meta, Block::Head, Block::Item, Block::Step, Block::Note, Block::Debris];

/// Words that begin what is no part of a recipe (common practice, no source).
const DEBRIS: &[&str] = &[
    "jump to",
    "print",
    "pin ",
    "share",
    "save",
    "rate",
    "home »",
    "skip to",
    "advertisement",
    "nutrition",
    "calories",
    "per slice",
    "per serving",
    "per roll",
    "did you make",
    "tag me",
    "leave a comment",
    "subscribe",
    "follow",
    "last updated",
    "posted",
    "updated",
    "this post may",
    "newsletter",
    "1x",
    "us customary",
    "scale",
    "★",
    "rating",
    "from:",
    "to:",
    "subject:",
    "sent:",
    "on monday",
    "on tuesday",
    "on sunday",
    "by ",
    "photo",
];
/// Words that head notes.
const NOTES: &[&str] = &[
    "notes",
    "note:",
    "note",
    "tips",
    "tip:",
    "tip",
    "variations",
    "variation",
    "storage",
    "to store",
    "to freeze",
    "make ahead",
    "make-ahead",
    "why you'll",
    "a word on",
    "equipment",
    "you will also need",
    "substitutions",
    "faq",
    "troubleshooting",
    "homework",
    "comments",
    "reply",
    "→ reply",
    "questions",
    "reviews",
    "can i",
    "q:",
    "faq",
    "what if",
    "serving",
];
/// Words of yields and times.
const META: &[&str] = &[
    "makes",
    "yield",
    "serves",
    "servings",
    "prep",
    "cook time",
    "total time",
    "total:",
    "hands-on",
    "rise:",
    "difficulty",
    "for 1 ",
    "for one ",
    "for 2 ",
    "for two ",
    "quantity",
    "proving about",
    "ready in",
    "time:",
    "bake time",
    "oven:",
    "feeds",
];

struct Look {
    words: usize,
    /// Begins with an amount of something.
    amount: bool,
    /// An amount stands in it.
    measured: bool,
    /// What stands behind its amount is known.
    known: bool,
    /// A thing that is known, without an amount.
    bare: bool,
    acts: usize,
    verb_first: bool,
    times: usize,
    heats: usize,
    colon: bool,
    stop: bool,
    numbered: bool,
    heads: Option<Opens>,
    /// Begins with a time of the day.
    clock: bool,
    debris: bool,
    note: bool,
    meta: bool,
    question: bool,
    after_gap: bool,
    first: bool,
    /// Whether by itself it would be a step.
    told: bool,
    /// Begins with “add” and an amount.
    adds: bool,
}

/// The kind of every line that holds anything.
pub(crate) fn blocks(lines: &[(&str, bool)], names: &Names) -> Vec<Block> {
    let looks: Vec<Look> =
        lines.iter().enumerate().map(|(n, (line, gap))| look(n, line, *gap, names)).collect();
    let k = ALL.len();
    if looks.is_empty() {
        return Vec::new();
    }
    let mut fore: Vec<f64> = ALL
        .iter()
        .map(|b| cost(&looks[0], *b) + if matches!(b, Block::Item | Block::Step) { 0.3 } else { 0.0 })
        .collect();
    let mut from: Vec<Vec<usize>> = Vec::new();
    for look in &looks[1..] {
        let mut next = vec![f64::INFINITY; k];
        let mut by = vec![0; k];
        for s in 0..k {
            for b in 0..k {
                let c = fore[b] + step(ALL[b], ALL[s], look);
                if c < next[s] {
                    (next[s], by[s]) = (c, b);
                }
            }
            next[s] += cost(look, ALL[s]);
        }
        fore = next;
        from.push(by);
    }
    let mut s = (0..k).min_by(|a, b| fore[*a].total_cmp(&fore[*b])).unwrap_or(0);
    let mut path = vec![ALL[s]; looks.len()];
    for i in (0..from.len()).rev() {
        s = from[i][s];
        path[i] = ALL[s];
    }
    path
}

/// The longest line that is looked at, in characters.
const LOOKED_AT: usize = 400;

fn look(n: usize, line: &str, gap: bool, names: &Names) -> Look {
    let end = line.char_indices().nth(LOOKED_AT).map_or(line.len(), |(i, _)| i);
    let line = &line[..end];
    let lower = line.to_lowercase();
    let body = bare(line);
    let trimmed = line.trim_start_matches(['-', '*', '•', '☐', '☑', '▢', ' ', '#']);
    let numbered = step_number(trimmed).is_some();
    let plain = step_number(trimmed).map_or(body.as_str(), |at| trimmed[at..].trim_start());
    let placed = figures(&plain.to_lowercase());
    let times = placed.iter().filter(|p| matches!(p.figure, Figure::Time(..))).count();
    let heats = placed.iter().filter(|p| matches!(p.figure, Figure::Heat(c, _) if c.low >= 100.0)).count();
    let ordered = amount_first(plain);
    let amount = !clock(trimmed)
        && (begins_with_amount(plain) || begins_with_measure(plain))
        && !placed.first().is_some_and(|p| p.from == 0 && !matches!(p.figure, Figure::Bare(_)));
    let timed = clock(trimmed) || placed_clock(plain);
    let measured = !amount && !timed && ordered != plain && begins_with_amount(&ordered);
    let known = (amount || measured)
        && !names
            .find(clipped(after_amount(if amount { plain } else { &ordered }).trim_start()))
            .candidates
            .is_empty();
    let few = plain.split_whitespace().count() <= 9;
    let last = plain.rsplit(' ').next().unwrap_or(plain);
    let bare = !amount
        && !measured
        && few
        && [clipped(plain), last].iter().any(|w| !names.find(w).candidates.is_empty());
    // “Grated rind of half a lemon”
    let parts = plain.to_lowercase();
    let of_one = few
        && [
            " of half ",
            " of one ",
            " of two ",
            " of three ",
            " of a ",
            " of an ",
            " of 1 ",
            " of 2 ",
            " of ½ ",
        ]
        .iter()
        .any(|w| parts.contains(w));
    let bare = bare || !amount && !measured && of_one;
    let stems: Vec<String> = words_of(&plain.to_lowercase()).map(stem).collect();
    let stems: Vec<&str> = stems.iter().map(String::as_str).collect();
    let (mut acts, mut i, mut verb_first) = (0, 0, false);
    while i < stems.len() {
        match ENGLISH.act(&stems[i..]) {
            Some((act, long)) => {
                if !matches!(act, Act::Store | Act::Aside) || i == 0 {
                    acts += 1;
                    verb_first |= i == 0;
                }
                i += long;
            }
            None => i += 1,
        }
    }
    let begins = |all: &[&str]| {
        all.iter().any(|w| lower.trim_start_matches(['*', '-', '•', '(', ' ', '_', '#']).starts_with(w))
    };
    Look {
        words: stems.len(),
        amount,
        measured,
        known,
        bare,
        acts,
        verb_first,
        times,
        heats,
        colon: line.trim_end().ends_with(':'),
        stop: line.trim_end().ends_with(['.', '!', ')']) && stems.len() >= 6,
        numbered,
        heads: opens(line),
        clock: clock(trimmed),
        debris: begins(DEBRIS)
            || lower.contains("kcal")
            || lower.contains("carbs")
            || lower.contains("http")
            || lower.contains("links"),
        note: begins(NOTES),
        meta: begins(META),
        question: line.trim_end().ends_with('?'),
        after_gap: gap,
        first: n == 0,
        told: is_step(plain, names),
        adds: measured && stems.first() == Some(&"add") && stems.len() <= 18,
    }
}

/// What a line opens as a heading, without what stands behind its name: “Levain, 22:00”, “Poolish (the night before)”.
pub(crate) fn opens(line: &str) -> Option<Opens> {
    heading(line).or_else(|| {
        let end = line.find([',', '(', '–', '—', '[']).or_else(|| line.find(" - "))?;
        let name = line[..end].trim().trim_matches(|c: char| !c.is_alphanumeric());
        let behind = &line[end..];
        let measured = begins_with_amount(behind.trim_start_matches(|c: char| !c.is_alphanumeric()))
            && ["g ", "g,", "ml", "cup", "tsp", "tbsp", "kg", "oz"].iter().any(|w| behind.contains(w));
        let short = name.split_whitespace().count() <= 3 && behind.split_whitespace().count() <= 6;
        (short && !measured).then(|| heading(name)).flatten()
    })
}

/// Whether a time of the day stands in a line: “Levain, 22:00”.
fn placed_clock(line: &str) -> bool {
    line.match_indices(':').any(|(i, _)| {
        let before = line[..i].chars().rev().take_while(char::is_ascii_digit).count();
        let after = line[i + 1..].chars().take_while(char::is_ascii_digit).count();
        (1..=2).contains(&before) && after == 2
    })
}

/// Whether a line begins with a time of the day.
fn clock(line: &str) -> bool {
    let digits = line.chars().take_while(char::is_ascii_digit).count();
    if digits == 0 || digits > 2 || line[..digits].parse::<u32>().is_ok_and(|h| h > 24) {
        return false;
    }
    let rest = &line[digits..];
    let minutes = rest.strip_prefix([':', '.']).is_some_and(|r| {
        r.len() >= 2
            && r.as_bytes()[..2].iter().all(u8::is_ascii_digit)
            && !r[2..].starts_with(|c: char| c.is_ascii_digit())
    });
    let half = ["am", "pm", " am", " pm", " a.m", " p.m", "a.m", "p.m"]
        .iter()
        .any(|w| rest.to_ascii_lowercase().starts_with(w));
    minutes && (rest[3..].starts_with([' ', '\t', '-', '–']) || rest.len() == 3) || half
}

fn clipped(text: &str) -> &str {
    &text[..text.char_indices().nth(80).map_or(text.len(), |(i, _)| i)]
}

/// Where a step begins behind its number: `1 Put`, `1. `, `Step 2:`.
fn step_number(line: &str) -> Option<usize> {
    let lower = line.to_ascii_lowercase();
    let led = ["step ", "stage ", "part "].iter().find(|w| lower.starts_with(**w)).map_or(0, |w| w.len());
    let digits = line[led..].chars().take_while(char::is_ascii_digit).count();
    if digits == 0 || digits > 2 {
        return None;
    }
    let rest = &line[led + digits..];
    let mark = rest
        .chars()
        .take_while(|c| matches!(c, '.' | ')' | ':' | '-' | ' '))
        .map(char::len_utf8)
        .sum::<usize>();
    let letter = rest[mark..].starts_with(char::is_uppercase);
    let marked = rest.starts_with(['.', ')', ':']) && rest[1..].starts_with([' ', '\t']) || led > 0;
    (mark > 0 && (marked || letter && rest.starts_with(' '))).then_some(led + digits + mark)
}

/// What it costs to take a line for a kind. Set by hand (reading order and marks; common practice, no source).
fn cost(l: &Look, b: Block) -> f64 {
    let some = |yes: bool, cost: f64| if yes { cost } else { 0.0 };
    let many = |n: usize, each: f64, most: f64| (n as f64 * each).max(most);
    match b {
        Block::Item => {
            2.0 + some(l.amount, -2.2)
                + some(l.measured && l.words <= 14, -1.6)
                + some(l.known, -1.2)
                + some(l.bare && !l.told, -2.2)
                + some(l.words > 18, 2.0)
                + some(l.words > 30, 2.0)
                + some(l.verb_first && !l.amount && (l.told || !l.bare), 1.2)
                + l.acts as f64 * 0.25
                + l.times as f64 * 0.7
                + some(l.heats > 0 && l.times > 0, 2.0)
                + some(l.stop && !l.amount, 0.8)
                + some(l.colon, 1.7)
                + some(l.numbered && !l.known, 1.5)
                + some(l.clock, 3.0)
                + some(l.heads.is_some() && !l.amount && !l.measured, 2.2)
                + some(l.debris, 1.5)
                + some(l.meta, 2.0)
                + some(l.note, 1.0)
                + some(l.question, 2.0)
                + some(l.told, 1.2)
                + some(
                    !l.told && (l.amount || l.measured),
                    if l.known && (l.adds || l.words <= 13 && l.acts <= 3) { -2.6 } else { -1.2 },
                )
        }
        Block::Step => {
            2.0 + some(l.told, -1.0)
                + some(!l.told && l.words < 12, 1.0)
                + some(l.verb_first, -1.2)
                + many(l.acts, -0.4, -2.4)
                + many(l.times, -0.9, -1.8)
                + many(l.heats, -0.8, -0.8)
                + some(l.numbered, -1.5)
                + some(l.clock, -2.5)
                + some(l.stop, -0.5)
                + some(l.words < 3 && l.times == 0 && l.heats == 0, 1.5)
                + some(l.amount && l.known && l.words < 12, 1.0)
                + some(l.heads.is_some() && l.words <= 4, 1.5)
                + some(l.debris, 1.5)
                + some(l.meta, 1.2)
                + some(l.note, 1.5)
                + some(l.question, 0.7)
                + some(l.first, 0.7)
        }
        Block::Head => {
            3.0 + some(matches!(l.heads, Some(Opens::Stage(_))), -2.6)
                + some(l.heads == Some(Opens::Method), -3.5)
                + some(l.colon, -1.2)
                + some(l.words > 6, 2.0)
                + some(l.amount, 1.5)
                + some(l.acts > 1, 0.7)
                + some(l.times > 0 && l.words > 8, 1.0)
                + some(l.stop, 1.0)
        }
        Block::Meta => {
            2.6 + some(l.meta, -2.6)
                + some(l.amount && !l.meta, 1.5)
                + some(l.known, 1.5)
                + l.acts as f64 * 0.1
                + some(l.words > 25, 1.5)
        }
        Block::Chatter => {
            2.0 + some(l.amount, 1.2)
                + some(l.known, 1.0)
                + many(l.acts, 0.3, 0.0).min(1.5)
                + l.times as f64 * 0.3
                + l.heats as f64 * 0.5
                + some(l.numbered, 1.0)
                + some(l.heads.is_some(), 1.5)
                + some(l.meta, 1.0)
                + some(l.debris, 0.5)
                + some(l.first, -1.0)
                + some(l.question, -0.3)
        }
        Block::Note => {
            2.4 + some(l.note, -2.4) + some(l.heads.is_some(), 1.0) + some(!l.note && l.first, 2.0)
        }
        Block::Debris => 3.0 + some(l.debris, -2.4) + some(l.question, -0.8) + some(l.known, 0.5),
    }
}

fn step(from: Block, to: Block, l: &Look) -> f64 {
    use Block::*;
    match (from, to) {
        (Note, Note) => -2.0,
        (Note, Chatter | Meta | Debris) => 1.0,
        (Note, Item) if l.after_gap => 2.0,
        (Note, Item | Step) => 4.5,
        (Note, Head) => 0.5,
        (a, b) if a == b => -0.2,
        (Chatter, Item) | (Meta, Item) => 0.3,
        (Chatter | Meta, Step) => 0.6,
        (Head, Item) | (Item, Step) => 0.0,
        (Head, Step) => 0.1,
        (Head, Chatter | Meta) => 1.0,
        (Step, Item) => {
            if l.after_gap {
                0.6
            } else {
                1.2
            }
        }
        (Item, Chatter) | (Step, Chatter) => 0.8,
        (Debris, _) | (_, Debris) => 0.3,
        (_, Note) if !l.note => 2.0,
        (_, Note) => 0.3,
        _ => 0.4,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use cerealis_core::pantry::Catalogue;
    use rstest::rstest;

    fn kinds(text: &str) -> Vec<Block> {
        let names = Names::of(Catalogue::bundled());
        let lines: Vec<(&str, bool)> = text.lines().map(|l| (l, false)).collect();
        blocks(&lines, &names)
    }

    #[rstest]
    #[case("Saturday loaf\nMakes 1 large loaf | Prep 20 mins\n500 g bread flour\n10 g salt\nMethod\n1 Put the flour in a bowl and add the salt.\n2 Knead for 10 minutes.", &[Block::Chatter, Block::Meta, Block::Item, Block::Item, Block::Head, Block::Step, Block::Step])]
    #[case("Levain, 22:00\n50 g rye flour\n50 g water\nDough, next morning\n450 g bread flour\n08:15 levain in, pinch it through\n10:45 coil fold", &[Block::Head, Block::Item, Block::Item, Block::Head, Block::Item, Block::Step, Block::Step])]
    #[case("500 g flour\n300 g water\nBake 30 minutes at 220 °C.\nNotes\nFreezes for 3 months.\nUse 2 tsp yeast for a quicker loaf.", &[Block::Item, Block::Item, Block::Step, Block::Note, Block::Note, Block::Note])]
    fn lines_are_told_apart_together(#[case] text: &str, #[case] kinds_wanted: &[Block]) {
        assert_eq!(kinds(text), kinds_wanted);
    }
}
