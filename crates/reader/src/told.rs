//! A recipe told in sentences, with its amounts in them: “Soak 90 g oats in 150 g boiling water. In the big bowl: 410 g
//! strong flour, 230 g water and a pinch of salt.”

use winnow::prelude::*;

use crate::heading::{Opens, heading};
use crate::lines::{LINES_MAX, LineKind, ReadLine};
use crate::name::Names;
use crate::quantity::amount;
use crate::weigh::mass_or_volume;
use cerealis_core::pantry::{Catalogue, Group};
use cerealis_core::words::Stage;

/// A thing that a sentence names with its amount.
pub(crate) struct Told {
    /// The stage that its sentence is of.
    pub stage: Stage,
    /// Its amount and its name, as they were said.
    pub text: String,
}

/// The most amounts that are looked at: a recipe has some dozens.
const MOST: usize = 2000;

/// The longest name of a thing, in characters.
const NAME: usize = 60;

/// What ends the name of a thing within its sentence.
const ENDS: [&str; 22] = [
    ",", ";", ":", "(", ")", ". ", " and ", " with ", " in ", " into ", " until ", " till ", " then ",
    " over ", " to ", " for ", " at ", " on ", " which ", " that ", " plus ", " – ",
];

/// Words of a sentence that say what its things are for, the first that is found (common practice, no source).
const SAID: [(&[&str], Stage); 7] = [
    (&["after baking", "while hot", "while still hot", "once baked"], Stage::Glaze),
    (&["soak"], Stage::Soaker),
    (&["scald", "cook to a paste"], Stage::Scald),
    (&["brush", "glaze"], Stage::Wash),
    (&["sprinkle", "scatter", "strew"], Stage::Topping),
    (&["dust"], Stage::Dusting),
    (&["poach", "bath"], Stage::Bath),
];

/// Words with which a sentence comes back to the dough.
const PUT_IN: [&str; 7] = ["add", "mix", "stir", "work", "knead", "combine", "dough"];

/// When something is made ahead of its dough, and what that may be (common practice, no source).
const AHEAD: [&str; 4] = ["evening", "night before", "day before", "overnight"];
const MADE_AHEAD: [(&str, Stage); 6] = [
    ("levain", Stage::Preferment),
    ("leaven", Stage::Preferment),
    ("starter", Stage::Preferment),
    ("poolish", Stage::Poolish),
    ("biga", Stage::Biga),
    ("sponge", Stage::Sponge),
];

/// The things that sentences name with their amounts, in their order. An amount “of the” flour, and “the” butter that was
/// named before, are what was named before.
pub(crate) fn told(text: &str, names: &Names, catalogue: &Catalogue) -> Vec<Told> {
    let mut all: Vec<Told> = Vec::new();
    let mut named: Vec<String> = Vec::new();
    let mut looked_at = 0;
    for sentence in text.lines().flat_map(sentences) {
        let whole = stage_of_all(sentence);
        let (mut stage, mut behind) = (Stage::Dough, 0);
        for (at, _) in sentence.char_indices() {
            if at < behind || !begins_a_word(sentence, at) {
                continue;
            }
            let mut rest = &sentence[at..];
            let Ok(read) = amount.parse_next(&mut rest) else { continue };
            looked_at += 1;
            if looked_at > MOST {
                return all;
            }
            let rest = rest.trim_start();
            let after = clipped(rest);
            let end = ENDS.iter().filter_map(|e| after.find(e)).min().unwrap_or(after.len());
            let name = after[..end].trim_end_matches(['.', ' ']);
            let lower = name.to_lowercase();
            if ["of the ", "of your ", "the ", "of it"].iter().any(|w| lower.starts_with(w)) {
                continue;
            }
            // A bare grain is its flour.
            let Some(key) = names.find(name).candidates.into_iter().next().or_else(|| names.flour_of(name))
            else {
                continue;
            };
            // What has no unit is counted: eggs are, and nothing else of a dough.
            let counted = || catalogue.get(&key).is_some_and(|i| i.group == Group::Egg);
            if read.unit.is_none_or(|u| u.is_size()) && !counted() {
                continue;
            }
            let spoken_of = last_word(&sentence[..at]).eq_ignore_ascii_case("the") && named.contains(&key);
            stage = whole.or_else(|| said_of(&sentence[behind..at])).unwrap_or(stage);
            behind = sentence.len() - rest.len() + end;
            if !spoken_of {
                named.push(key);
                all.push(Told { stage, text: sentence[at..behind].trim_end_matches(['.', ' ']).to_owned() });
            }
        }
    }
    all
}

/// The steps that stand over a line with an amount, and have amounts of their own: nothing of them is among the lines, and
/// whoever reads on has to know. What stands under all lines speaks of them.
pub fn unlisted(lines: &[ReadLine]) -> Vec<&str> {
    let weighed = |l: &ReadLine| l.kind == LineKind::Ingredient && l.amount.is_some();
    let last = lines.iter().rposition(weighed).unwrap_or(0);
    let over = lines[..last].iter().filter(|l| l.kind == LineKind::Method);
    over.map(|l| l.text.as_str()).filter(|text| has_amounts(clipped_to(text, SENTENCE))).collect()
}

/// The longest step that is looked through for amounts, in characters.
const SENTENCE: usize = 600;

/// What an amount is of that is none of the dough (common practice, no source).
const NOT_OF_IT: [&str; 9] = ["tin", "pan", "loaf", "piece", "each", "ball", "bowl", "of the ", "of your "];

/// Whether a step names an amount by weight or by measure, other than of what was named before.
fn has_amounts(text: &str) -> bool {
    text.char_indices().any(|(at, _)| {
        let mut rest = &text[at..];
        let measured = begins_a_word(text, at)
            && amount.parse_next(&mut rest).is_ok_and(|read| read.unit.is_some_and(mass_or_volume));
        let after = rest.trim_start_matches([' ', '-']);
        let before = last_word(&text[..at]).to_lowercase();
        measured
            && !NOT_OF_IT.iter().any(|w| after.starts_with(w))
            && !matches!(before.as_str(), "the" | "remaining" | "other" | "pieces" | "balls" | "loaves")
    })
}

/// Puts what was told among the lines, before the first of its steps.
pub(crate) fn put_in(lines: &mut Vec<ReadLine>, told: Vec<ReadLine>) {
    let steps = lines.iter().position(|l| l.kind == LineKind::Method).unwrap_or(lines.len());
    lines.splice(steps..steps, told.into_iter().take(LINES_MAX));
}

fn clipped(text: &str) -> &str {
    clipped_to(text, NAME)
}

fn clipped_to(text: &str, most: usize) -> &str {
    text.char_indices().nth(most).map_or(text, |(i, _)| &text[..i])
}

fn last_word(text: &str) -> &str {
    let text = text.trim_end();
    text.rsplit(|c: char| !c.is_alphabetic()).next().unwrap_or("")
}

fn begins_a_word(text: &str, at: usize) -> bool {
    let begins = text[at..].chars().next().is_some_and(|c| c.is_alphanumeric() || "½⅓⅔¼¾⅛⅜⅝⅞".contains(c));
    begins && text[..at].chars().next_back().is_none_or(|b| b.is_whitespace() || "(:,-–".contains(b))
}

/// A line's sentences. A stop ends one where a capital follows: “2 tsp. salt” goes on.
fn sentences(line: &str) -> Vec<&str> {
    let ends = line.match_indices(['.', '!', ';']).filter(|(i, end)| {
        let after = &line[i + 1..];
        *end == ";" || after.starts_with(' ') && after.trim_start().starts_with(char::is_uppercase)
    });
    let mut all = Vec::new();
    let mut from = 0;
    for (i, _) in ends {
        all.push(&line[from..=i]);
        from = i + 1;
    }
    all.push(&line[from..]);
    all
}

/// The stage that a whole sentence is of: what it is headed by, or what is made of it the evening before.
fn stage_of_all(sentence: &str) -> Option<Stage> {
    let lower = sentence.to_lowercase();
    let label = lower.split([':', ',']).next().unwrap_or("").trim();
    if let Some(Opens::Stage(stage)) = heading(label) {
        return Some(stage);
    }
    let ahead = AHEAD.iter().any(|w| lower.contains(w));
    MADE_AHEAD.iter().find(|(w, _)| ahead && lower.contains(w)).map(|(_, stage)| *stage)
}

/// The stage that the words before a thing tell; nothing where they only go on.
fn said_of(before: &str) -> Option<Stage> {
    let lower = before.to_lowercase();
    let begins = |word: &str| lower.split(|c: char| !c.is_alphabetic()).any(|w| w.starts_with(word));
    let says = |word: &&str| if word.contains(' ') { lower.contains(*word) } else { begins(word) };
    let named = SAID.iter().find(|(words, _)| words.iter().any(&says)).map(|(_, stage)| *stage);
    named.or_else(|| PUT_IN.iter().any(says).then_some(Stage::Dough))
}
