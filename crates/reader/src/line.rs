//! A line put together and weighed.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use winnow::combinator::{opt, repeat};
use winnow::prelude::*;

use super::method::Finding;
use super::propose::{Proposal, propose};
use super::unit::Unit;
use super::weigh::{amounts_in, keep_amount, weigh_line};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::pantry::{Catalogue, Group, Ingredient, Measures};
use crate::arrange::{CONTAINERS, amount_first, bare, things};
use crate::either::{first_of_two, without_alternative, without_slashed};
use crate::heading::{Opens, bracketed_stage, heading};
use crate::left_over::left_over;
use crate::method::read_method;
use crate::name::Names;
use crate::parts::parts_of;
use crate::purpose::{more_besides, own_stage, unknown_purpose};
use crate::quantity::{Amount, amount, begins_with_amount, further, smaller};
use crate::step::{is_sentences, is_step};
use crate::told::{Told, put_in, told};
use cerealis_core::units::Grams;
use cerealis_core::words::Stage;

/// Lines to read.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ReadInput {
    /// The lines as they were written or said.
    pub text: String,
    /// The measures that are meant.
    #[serde(default)]
    pub measures: Measures,
}

/// What a line is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum LineKind {
    /// A heading that opens a stage.
    Heading,
    /// An amount of an ingredient.
    Ingredient,
    /// A step of the method.
    Method,
    /// Anything else.
    Remark,
}

/// One line as it was understood.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct ReadLine {
    /// The line as it was.
    pub text: String,
    /// What it is.
    pub kind: LineKind,
    /// The stage it belongs to.
    pub stage: Stage,
    /// The amount as it was given.
    pub amount: Option<Amount>,
    /// The ingredient it is taken for: the likeliest of `candidates`.
    pub ingredient: Option<String>,
    /// Keys of all that it may be.
    pub candidates: Vec<String>,
    /// Where it may be nothing known: keys of what is spelt most like it.
    pub near: Vec<String>,
    /// What was said besides.
    pub note: String,
    /// Its mass, where it could be weighed.
    pub grams: Option<Grams>,
    /// The low end of its mass.
    pub low: Option<Grams>,
    /// The high end.
    pub high: Option<Grams>,
    /// Where the doubt is, a sentence each.
    pub doubts: Vec<String>,
}

/// All lines.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct ReadOutput {
    /// The name of the bread, where the first line is one.
    pub title: Option<String>,
    /// The lines that hold anything, in order.
    pub lines: Vec<ReadLine>,
    /// What the lines of the method say of times, temperatures and counts.
    pub method: Vec<Finding>,
    /// The formula that is proposed of it; `None` where no line is weighed.
    pub proposal: Option<Proposal>,
}

/// The most lines that are read at once: a long recipe with its method has under a hundred.
pub const LINES_MAX: usize = 400;

/// The longest line that is read, in characters; what stands behind them is left unread, and the line says so.
const LINE_MAX: usize = 200;

/// Reads lines of kitchen English.
///
/// ```
/// use cerealis_core::pantry::Catalogue;
/// use cerealis_reader::{ReadInput, read};
/// let text = "3 3/4 cups plus 1 tablespoon all-purpose flour, sifted".to_owned();
/// let out = read(&ReadInput { text, measures: Default::default() }, Catalogue::bundled()).unwrap();
/// assert_eq!(out.lines[0].ingredient.as_deref(), Some("plain-flour"));
/// assert!((out.lines[0].grams.unwrap().0 - 476.6).abs() < 0.1);
/// ```
///
/// # Errors
/// More than [`LINES_MAX`] lines, at `text`.
pub fn read(input: &ReadInput, catalogue: &Catalogue) -> Result<ReadOutput, Faults> {
    let many = input.text.lines().filter(|l| !l.trim().is_empty()).count();
    if many > LINES_MAX {
        let text = format!(
            "These are {many} lines; at most {LINES_MAX} are read at once. Paste one recipe at a time."
        );
        return Err(Fault::new("out-of-range", "text", text).into());
    }
    let names = Names::of(catalogue);
    let (mut stage, mut in_method) = (Stage::Dough, false);
    let mut lines: Vec<ReadLine> = Vec::new();
    for (text, parted) in parted_lines(&input.text) {
        // What follows a block of its own without a heading is the dough.
        let block = lines.iter().rev().take_while(|l| l.kind == LineKind::Ingredient).count();
        if parted && !in_method && stage != Stage::Dough && block >= A_BLOCK && heading(text).is_none() {
            stage = Stage::Dough;
        }
        if in_method && heading(text).is_none() {
            lines.push(ReadLine { kind: LineKind::Method, ..unread(text, stage) });
            continue;
        }
        // What is longer than any line of a recipe is looked at no further.
        let body = bare(clipped(text));
        if !is_a_step(text, &body, &names) && heading(&body).is_none_or(|_| begins_with_amount(&body)) {
            let parts = things(&amount_first(&body), &names);
            let several = parts.len() > 1;
            for part in parts {
                let said = if several { part.as_str() } else { text };
                let mut line = read_line(said, stage, &names, catalogue, input.measures);
                let more = more_besides_it(&mut line, catalogue);
                lines.push(line);
                lines.extend(more);
            }
            if let Some(last) = lines.last_mut().filter(|_| clipped(text).len() < text.len()) {
                last.doubts.push(format!("Only the first {LINE_MAX} letters of this line were read."));
            }
            continue;
        }
        let line = read_line(text, stage, &names, catalogue, input.measures);
        if line.kind == LineKind::Heading {
            in_method = heading(text) == Some(Opens::Method);
            stage = line.stage;
        }
        lines.push(line);
    }
    // Where no line is an ingredient's, its sentences may name them.
    if !lines.iter().any(is_weighed) {
        let of = |t: Told| read_line(&t.text, t.stage, &names, catalogue, input.measures);
        put_in(
            &mut lines,
            told(&input.text, &names, catalogue).into_iter().map(of).filter(is_weighed).collect(),
        );
    }
    into_the_bath(&mut lines);
    let title = title(&mut lines);
    let method = read_method(&method_of(&lines).join("\n"));
    let proposal = lines
        .iter()
        .any(is_weighed)
        .then(|| propose(title.as_deref().unwrap_or_default(), &lines, &method, None, catalogue));
    Ok(ReadOutput { method, proposal, title, lines })
}

fn is_weighed(line: &ReadLine) -> bool {
    line.kind == LineKind::Ingredient && line.grams.is_some()
}

/// More soda than any dough has, g.
const OF_A_BATH: f64 = 10.0;

/// Where a bath is named, what makes it strong belongs to it.
fn into_the_bath(lines: &mut [ReadLine]) {
    let bath = lines.iter().any(|l| l.stage == Stage::Bath && l.kind == LineKind::Ingredient);
    let strong = |l: &ReadLine| {
        matches!(l.ingredient.as_deref(), Some("baking-soda" | "washing-soda" | "lye"))
            && l.grams.is_some_and(|g| g.0 >= OF_A_BATH)
    };
    lines.iter_mut().filter(|l| bath && strong(l)).for_each(|l| l.stage = Stage::Bath);
}

/// Lines that stand together under a heading make a block of their own from so many on.
const A_BLOCK: usize = 2;

/// The lines that hold anything, each with whether a new block begins with it: behind an empty line, and with another
/// line right after it. Of a text with an empty line between all its lines none is a block.
fn parted_lines(text: &str) -> Vec<(&str, bool)> {
    let all: Vec<&str> = text.lines().map(str::trim).collect();
    let empty = |i: usize| all.get(i).is_none_or(|l| l.is_empty());
    let begins = |i: usize| i > 0 && empty(i - 1) && !empty(i + 1);
    all.iter().enumerate().filter(|(_, l)| !l.is_empty()).map(|(i, l)| (*l, begins(i))).collect()
}

/// The lines that a method is searched in: its steps, and remarks, but for what stands over the first
/// ingredient and is no yield: that is a name, or says what sort of bread it is.
pub fn method_of(lines: &[ReadLine]) -> Vec<&str> {
    let first = lines.iter().position(|l| l.kind == LineKind::Ingredient).unwrap_or(0);
    let yields = |l: &ReadLine| {
        let lower = l.text.to_lowercase();
        ["makes", "yield", "for "].iter().any(|w| lower.starts_with(w))
    };
    let steps = lines.iter().enumerate().filter(|(n, l)| match l.kind {
        LineKind::Method => true,
        LineKind::Remark => *n >= first || yields(l),
        LineKind::Heading | LineKind::Ingredient => false,
    });
    steps.map(|(_, l)| l.text.as_str()).collect()
}

/// Takes the first line off as the bread's name: it has no amount, is no bare ingredient, and is
/// followed by lines that have one.
fn title(lines: &mut Vec<ReadLine>) -> Option<String> {
    let first = lines.first()?;
    let bare = first.kind == LineKind::Ingredient && first.note.is_empty();
    // “Plait for the fair” begins like a step, and is a name.
    let short = first.text.split_whitespace().count() <= 8
        && !first.text.contains(|c: char| c.is_ascii_digit() || c == '.');
    let named = match first.kind {
        LineKind::Ingredient | LineKind::Remark => first.amount.is_none(),
        LineKind::Method => short,
        LineKind::Heading => false,
    };
    let followed = lines.iter().skip(1).any(|l| l.amount.is_some());
    (named && !bare && followed).then(|| lines.remove(0).text)
}

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

/// What is usual for a bench and a pair of hands when the recipe does not say, g.
const DUSTING: (f64, f64, f64) = (5.0, 15.0, 30.0);

/// “Plus more for dusting” is a line of its own, of an amount that nobody said; more “as needed” of flour is for the
/// bench, and of anything else is left to the hands.
fn more_besides_it(line: &mut ReadLine, catalogue: &Catalogue) -> Option<ReadLine> {
    let lower = line.text.to_lowercase().replace(" + ", " plus ");
    let wanted = line.kind == LineKind::Ingredient && line.stage.in_dough();
    let found = line.ingredient.as_deref().and_then(|k| catalogue.get(k)).filter(|_| wanted)?;
    let why = more_besides(&lower)?;
    let purpose = ["for ", "to "].iter().any(|w| why.starts_with(w));
    if !purpose && found.group != Group::Flour {
        if line.doubts.is_empty() {
            line.doubts
                .push("More of it may be needed than this: keep some at hand, and go by the dough.".into());
        }
        return None;
    }
    let (low, grams, high) = DUSTING;
    let doubt = "How much is not said; this is usual.".to_owned();
    Some(ReadLine {
        stage: own_stage(why, None).unwrap_or(Stage::Dusting),
        amount: None,
        candidates: line.ingredient.clone().into_iter().collect(),
        note: String::new(),
        grams: Some(Grams(grams)),
        low: Some(Grams(low)),
        high: Some(Grams(high)),
        doubts: vec![doubt],
        ..line.clone()
    })
}

/// Whether a line is a step; of one that is longer than it is looked at, whether it is sentences.
fn is_a_step(text: &str, body: &str, names: &Names) -> bool {
    is_step(body, names) || clipped(text).len() < text.len() && is_sentences(text)
}

fn clipped(text: &str) -> &str {
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

pub(super) fn unread(text: &str, stage: Stage) -> ReadLine {
    ReadLine {
        text: text.to_owned(),
        kind: LineKind::Remark,
        stage,
        amount: None,
        ingredient: None,
        candidates: Vec::new(),
        near: Vec::new(),
        note: String::new(),
        grams: None,
        low: None,
        high: None,
        doubts: Vec::new(),
    }
}

fn read_line(text: &str, stage: Stage, names: &Names, catalogue: &Catalogue, measures: Measures) -> ReadLine {
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

/// The name without the container that was counted or weighed: `tin of coconut milk`.
pub(super) fn without_container(rest: &str) -> &str {
    let text = rest.trim_start();
    let word = text.split(|c: char| !c.is_alphabetic()).next().unwrap_or("");
    let one = word.strip_suffix('s').unwrap_or(word).to_lowercase();
    let is_one = CONTAINERS.contains(&one.as_str()) || one == "cube" || one == "block" || one == "stick";
    if !is_one || word.is_empty() {
        return rest;
    }
    let after = text[word.len()..].trim_start();
    after.strip_prefix("of ").unwrap_or(after)
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
