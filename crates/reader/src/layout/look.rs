//! What a line looks like.

use crate::arrange::{amount_first, bare};
use crate::course::figures::{Figure, figures};
use crate::course::lexicon::{Act, ENGLISH, stem, words_of};
use crate::heading::{Opens, heading};
use crate::name::Names;
use crate::quantity::{after_amount, begins_with_amount, begins_with_measure};
use crate::step::is_step;

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

pub(super) struct Look {
    pub(super) words: usize,
    /// Begins with an amount of something.
    pub(super) amount: bool,
    /// An amount stands in it.
    pub(super) measured: bool,
    /// What stands behind its amount is known.
    pub(super) known: bool,
    /// A thing that is known, without an amount.
    pub(super) bare: bool,
    pub(super) acts: usize,
    pub(super) verb_first: bool,
    pub(super) times: usize,
    pub(super) heats: usize,
    pub(super) colon: bool,
    pub(super) stop: bool,
    pub(super) numbered: bool,
    pub(super) heads: Option<Opens>,
    /// Begins with a time of the day.
    pub(super) clock: bool,
    pub(super) debris: bool,
    pub(super) note: bool,
    pub(super) meta: bool,
    pub(super) question: bool,
    pub(super) after_gap: bool,
    pub(super) first: bool,
    /// Whether by itself it would be a step.
    pub(super) told: bool,
    /// Begins with “add” and an amount.
    pub(super) adds: bool,
}

/// The longest line that is looked at, in characters.
const LOOKED_AT: usize = 200;

pub(super) fn look(n: usize, line: &str, gap: bool, names: &Names) -> Look {
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
