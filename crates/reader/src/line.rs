//! A line put together and weighed.

use winnow::combinator::{opt, repeat};
use winnow::prelude::*;

use crate::arrange::{amount_first, bare, without_container};
use crate::either::{first_of_two, without_alternative, without_slashed};
use crate::heading::{Opens, bracketed_stage, heading};
use crate::left_over::left_over;
use crate::lines::{LineKind, ReadLine, unread};
use crate::name::Names;
use crate::parts::parts_of;
use crate::purpose::{own_stage, unknown_purpose};
use crate::quantity::Unit;
use crate::quantity::{Amount, amount, further, smaller};
use crate::step::{is_sentences, is_step};
use crate::weigh::{amounts_in, keep_amount, weigh_line};
use cerealis_core::pantry::{Catalogue, Group, Ingredient, Measures};
use cerealis_core::words::Stage;

/// The longest line that is read, in characters; what stands behind them is left unread, and the line says so.
pub(crate) const LINE_MAX: usize = 200;

/// Reads one line again as this ingredient: its mass, spread and doubts. Without an ingredient
/// nothing is weighed.
pub fn weigh_as(text: &str, ingredient: Option<&Ingredient>, measures: Measures) -> ReadLine {
    let mut line = unread(text, Stage::Dough);
    let arranged = arranged(text);
    let mut rest = arranged.as_str();
    line.amount = opt(amount).parse_next(&mut rest).unwrap_or(None);
    if let Some(ingredient) = ingredient {
        line.ingredient = Some(ingredient.key.clone());
        let first = line.amount;
        weigh_line(&mut line, first, &mut rest, ingredient, measures);
    }
    line
}

/// Whether a line is a step; of one that is longer than it is looked at, whether it is sentences.
fn is_a_step(text: &str, body: &str, names: &Names) -> bool {
    is_step(body, names) || clipped(text).len() < text.len() && is_sentences(text)
}

pub(crate) fn clipped(text: &str) -> &str {
    let end = text.char_indices().nth(LINE_MAX).map_or(text.len(), |(i, _)| i);
    &text[..end]
}

/// The line in the order in which it is read, at most so long.
fn arranged(text: &str) -> String {
    let body = bare(clipped(text));
    match parts_of(&body).first() {
        Some((name, count)) => format!("{count} {name}"),
        None => amount_first(&body),
    }
}

pub(crate) fn read_line(
    text: &str,
    stage: Stage,
    names: &Names,
    catalogue: &Catalogue,
    measures: Measures,
) -> ReadLine {
    let mut line = unread(text, stage);
    let plain = bare(clipped(text));
    if is_a_step(text, &plain, names) {
        line.kind = LineKind::Method;
        return line;
    }
    let body = arranged(text);
    let mut rest = body.as_str();
    let first = opt(amount).parse_next(&mut rest).unwrap_or(None);
    if first.is_none()
        && let Some(opened) = heading(&plain)
    {
        line.kind = LineKind::Heading;
        line.stage = match opened {
            Opens::Stage(stage) => stage,
            Opens::Method => stage,
        };
        return line;
    }
    let mut name = without_container(rest);
    if let Some(unit) = first.and_then(|a| a.unit) {
        let _: winnow::Result<Vec<Amount>> = repeat(0..=2, smaller(unit)).parse_next(&mut name);
    }
    let _: winnow::Result<Vec<Amount>> = repeat(0..=3, further).parse_next(&mut name);
    name = without_alternative(without_slashed(name));
    let (name, either) = first_of_two(name, names);
    let matched = names.find(name);
    let beside = first.and_then(|first| {
        let used = [vec![first], amounts_in(rest, first)].concat();
        left_over(name, &matched, &used, names)
    });
    let beside = beside.or(either);
    let is_stage = |note: &str| bracketed_stage(&format!("({})", note.to_lowercase())).is_some();
    line.note = matched.note.split("; ").filter(|n| !is_stage(n)).collect::<Vec<_>>().join("; ");
    let flour = first.filter(|_| matched.candidates.is_empty()).and_then(|_| names.flour_of(name));
    let is_flour = flour.is_some();
    line.candidates = held_by(first, flour.map_or(matched.candidates, |key| vec![key]), catalogue);
    line.ingredient = line.candidates.first().cloned();
    if first.is_none() && line.candidates.is_empty() {
        return line;
    }
    if first.is_none() && says_no_ingredient(&plain, names) {
        return line;
    }
    line.kind = LineKind::Ingredient;
    line.amount = first;
    let found = line.ingredient.as_deref().and_then(|k| catalogue.get(k));
    let own = own_stage(text, found);
    line.stage = own.unwrap_or(stage);
    if line.stage == stage && first.is_none() && stage == Stage::Dough && found.is_some_and(is_scattered) {
        line.stage = Stage::Topping;
    }
    if line.candidates.is_empty() {
        line.near = names.near(name);
    }
    doubt_the_name(&mut line, catalogue);
    if is_flour {
        line.doubts.push("Taken for its flour, which is not said.".into());
    }
    match found {
        Some(ingredient) => weigh_line(&mut line, first, &mut rest, ingredient, measures),
        // Of what is not known, the amount is kept all the same.
        None => keep_amount(&mut line, first, rest, measures),
    }
    if line.doubts.is_empty() {
        line.doubts.extend(beside);
    }
    let open = own.is_none() && line.doubts.is_empty();
    if let Some(purpose) = open.then(|| unknown_purpose(text)).flatten() {
        let put = line.stage.name().to_lowercase();
        line.doubts.push(format!("What “{purpose}” means is not known here: it is put with the {put}."));
    }
    let taken_off = plain.to_lowercase().replace("less than", "");
    if taken_off.contains(" less ") || taken_off.contains(" minus ") {
        line.doubts.push("Something is to be taken off again. Weigh it.".into());
        line.grams = None;
    }
    line
}

/// Of the ingredients that a name may be, those that come in what was counted: a cube of yeast is fresh.
fn held_by(first: Option<Amount>, candidates: Vec<String>, catalogue: &Catalogue) -> Vec<String> {
    let holds = match first.and_then(|a| a.unit) {
        Some(Unit::Cube) => "cube",
        Some(Unit::Packet) => "packet",
        Some(Unit::Stick) => "stick",
        _ => return candidates,
    };
    let comes_so =
        |key: &&String| catalogue.get(key).is_some_and(|i| i.measures.iter().any(|m| m.name == holds));
    let some: Vec<String> = candidates.iter().filter(comes_so).cloned().collect();
    if some.is_empty() { candidates } else { some }
}

/// What stands on a loaf when nobody says how much: seeds, and salt in grains or flakes.
fn is_scattered(i: &Ingredient) -> bool {
    i.group == Group::Seed || matches!(i.kin(), "flake-salt" | "coarse-salt" | "pearl-sugar")
}

/// Whether a line without an amount is a sentence about something else, though it names an ingredient.
fn says_no_ingredient(plain: &str, names: &Names) -> bool {
    let lower = plain.to_lowercase();
    let about = [
        "makes ",
        "serves ",
        "yield",
        "prep time",
        "cook time",
        "total time",
        "difficulty",
        "keeps ",
        "bulk",
        "proof",
        "final rise",
    ];
    if about.iter().any(|w| lower.starts_with(w)) {
        return true;
    }
    // “all of the levain”, “the soaker from above”: what was set before is listed there.
    let whole = ["all of the ", "all the ", "the ", "your ", "all of your "];
    if let Some(thing) = whole.iter().find_map(|w| lower.strip_prefix(w)) {
        let first =
            thing.split(|c: char| !c.is_alphabetic()).find(|w| !["ripe", "active", "risen"].contains(w));
        let before =
            [Stage::Preferment, Stage::Soaker, Stage::Scald, Stage::Sponge, Stage::Poolish, Stage::Biga];
        let set = |w: &str| {
            matches!(w, "starter" | "leaven") || before.iter().any(|s| s.name().to_lowercase() == w)
        };
        if first.is_some_and(set) || thing.ends_with(" above") {
            return true;
        }
    }
    // A name of a bread has an ingredient in it and is none: more words beside it than a name has.
    let beside = names.find(plain);
    let breads = ["bread", "loaf", "rolls", "buns", "plait", "focaccia", "round", "cake", "dough"];
    let is_bread = breads.iter().any(|w| lower.split(|c: char| !c.is_alphabetic()).any(|x| x == *w));
    is_bread && !beside.note.is_empty() && !lower.contains(" for ") && !lower.contains(',')
}

fn doubt_the_name(line: &mut ReadLine, catalogue: &Catalogue) {
    match line.candidates.len() {
        0 => line.doubts.push("This is not in the catalogue. Pick an ingredient, or make a new one.".into()),
        1 => {}
        _ => {
            let names: Vec<&str> =
                line.candidates.iter().filter_map(|k| catalogue.get(k)).map(|i| i.name.as_str()).collect();
            line.doubts.push(format!("It may be any of these: {}. Pick one.", names.join(", ")));
        }
    }
}
