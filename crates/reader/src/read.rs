//! A recipe read: its lines, its method, and the formula that is proposed of it.

use schemars::JsonSchema;
use serde::Serialize;

use crate::arrange::{amount_first, bare, things};
use crate::besides::{more_besides_it, told_in_steps};
use crate::course::told_of_all;
use crate::finding::Finding;
use crate::heading::{Opens, heading};
use crate::layout::{Block, blocks, clean, opens};
use crate::line::{LINE_MAX, clipped, read_line};
use crate::lines::{LINES_MAX, LineKind, ReadInput, ReadLine, is_weighed, unread};
use crate::method::read_method;
use crate::name::Names;
use crate::propose::{Proposal, propose};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::pantry::Catalogue;
use cerealis_core::words::Stage;

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
    let text = clean(&input.text, &names);
    let parted = parted_lines(&text);
    let blocks = blocks(&parted, &names);
    let mut stage = Stage::Dough;
    let mut lines: Vec<ReadLine> = Vec::new();
    for ((text, parted), block) in parted.iter().zip(blocks) {
        let (text, parted) = (*text, *parted);
        // What follows a block of its own without a heading is the dough.
        let ingredients = lines.iter().rev().take_while(|l| l.kind == LineKind::Ingredient).count();
        if parted && stage != Stage::Dough && ingredients >= A_BLOCK && heading(text).is_none() {
            stage = Stage::Dough;
        }
        match block {
            Block::Step => lines.push(ReadLine { kind: LineKind::Method, ..unread(text, stage) }),
            Block::Chatter | Block::Meta | Block::Note | Block::Debris => lines.push(unread(text, stage)),
            Block::Head => {
                if let Some(Opens::Stage(opened)) = opens(text) {
                    stage = opened;
                }
                lines.push(ReadLine { kind: LineKind::Heading, ..unread(text, stage) });
            }
            Block::Item => {
                // What is longer than any line of a recipe is looked at no further.
                let body = bare(clipped(text));
                let parts = things(&amount_first(&body), &names);
                let several = parts.len() > 1;
                for part in parts {
                    let said = if several { part.as_str() } else { text };
                    let mut line = read_line(said, stage, &names, catalogue, input.measures);
                    if line.kind == LineKind::Heading {
                        stage = line.stage;
                    }
                    let more = more_besides_it(&mut line, catalogue);
                    lines.push(line);
                    lines.extend(more);
                }
                if let Some(last) = lines.last_mut().filter(|_| clipped(text).len() < text.len()) {
                    last.doubts.push(format!("Only the first {LINE_MAX} letters of this line were read."));
                }
            }
        }
    }
    told_in_steps(&mut lines, &names, catalogue, input.measures);
    into_the_bath(&mut lines);
    let title = title(&mut lines);
    let method = found_in(&input.text, &lines, &[]);
    let proposal = lines
        .iter()
        .any(is_weighed)
        .then(|| propose(title.as_deref().unwrap_or_default(), &lines, &method, None, catalogue));
    Ok(ReadOutput { method, proposal, title, lines })
}

/// What a recipe says of times, temperatures, counts and shapes: its steps, those that came with it apart, and the whole of
/// its text where no step says it.
pub fn found_in(text: &str, lines: &[ReadLine], apart: &[String]) -> Vec<Finding> {
    let steps: Vec<&str> = method_of(lines).into_iter().chain(apart.iter().map(String::as_str)).collect();
    let mut found = read_method(&steps.join("\n"));
    if lines.len() > 1 {
        let whole: Vec<&str> = std::iter::once(text).chain(apart.iter().map(String::as_str)).collect();
        told_of_all(&whole.join("\n"), &mut found);
    }
    found
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
fn method_of(lines: &[ReadLine]) -> Vec<&str> {
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
