//! A line put together and weighed.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use winnow::combinator::{alt, delimited, opt, repeat};
use winnow::prelude::*;

use super::name::Names;
use super::quantity::{Amount, Count, Level, Unit, amount, further};
use crate::formula::Stage;
use crate::ingredient::{Catalogue, Group, Ingredient};
use crate::measures::{FLUID_OUNCE, Measures, TEASPOON, US_CUP, density};
use crate::units::Grams;

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
    /// The lines that hold anything, in order.
    pub lines: Vec<ReadLine>,
}

/// A range wider than this share of its middle is doubted.
const WIDE: f64 = 0.2;

/// The longest line that is read, in characters; the rest of a longer one is left unread.
const LINE_MAX: usize = 400;

/// Reads lines of kitchen English.
///
/// ```
/// use cerealis_core::ingredient::Catalogue;
/// use cerealis_core::reader::{ReadInput, read};
/// let text = "3 3/4 cups plus 1 tablespoon all-purpose flour, sifted".to_owned();
/// let out = read(&ReadInput { text, measures: Default::default() }, Catalogue::bundled());
/// assert_eq!(out.lines[0].ingredient.as_deref(), Some("plain-flour"));
/// assert!((out.lines[0].grams.unwrap().0 - 476.6).abs() < 0.1);
/// ```
pub fn read(input: &ReadInput, catalogue: &Catalogue) -> ReadOutput {
    let names = Names::of(catalogue);
    let mut stage = Stage::Dough;
    let mut lines = Vec::new();
    for text in input.text.lines().map(str::trim).filter(|l| !l.is_empty()) {
        let line = read_line(text, stage, &names, catalogue, input.measures);
        if line.kind == LineKind::Heading {
            stage = line.stage;
        }
        lines.push(line);
    }
    ReadOutput { lines }
}

fn read_line(text: &str, stage: Stage, names: &Names, catalogue: &Catalogue, measures: Measures) -> ReadLine {
    let end = text.char_indices().nth(LINE_MAX).map_or(text.len(), |(i, _)| i);
    let body = text[..end].trim_start_matches(['-', '*', '•', '·', '–', ' ']);
    let mut line = ReadLine {
        text: text.to_owned(),
        kind: LineKind::Remark,
        stage,
        amount: None,
        ingredient: None,
        candidates: Vec::new(),
        note: String::new(),
        grams: None,
        low: None,
        high: None,
        doubts: Vec::new(),
    };
    let mut rest = body;
    let first = opt(amount).parse_next(&mut rest).unwrap_or(None);
    if first.is_none()
        && let Some(opened) = heading(body)
    {
        line.kind = LineKind::Heading;
        line.stage = opened;
        return line;
    }
    let more: Vec<Amount> = repeat(0..=3, further).parse_next(&mut rest).unwrap_or_default();
    let stated = stated_weight(&mut rest);
    let matched = names.find(rest);
    let is_stage = |note: &str| bracketed_stage(&format!("({})", note.to_lowercase())).is_some();
    line.note = matched.note.split("; ").filter(|n| !is_stage(n)).collect::<Vec<_>>().join("; ");
    line.candidates = matched.candidates;
    line.ingredient = line.candidates.first().cloned();
    line.stage = own_stage(body).unwrap_or(stage);
    if first.is_none() && line.candidates.is_empty() {
        return line;
    }
    line.kind = LineKind::Ingredient;
    line.amount = first;
    doubt_the_name(&mut line, catalogue);
    let Some(ingredient) = line.ingredient.as_deref().and_then(|k| catalogue.get(k)) else { return line };
    let Some(first) = stated.or(first) else {
        line.doubts.push("No amount is given. Weigh it, or leave the line out.".into());
        return line;
    };
    let amounts = if stated.is_some() { vec![first] } else { [vec![first], more].concat() };
    weigh(&mut line, &amounts, ingredient, measures);
    line
}

/// A heading opens a stage: `For the levain:`, `Topping`.
fn heading(text: &str) -> Option<Stage> {
    let lower = text.to_lowercase();
    let bare = lower.trim_end_matches(':').trim_start_matches("for the ").trim_start_matches("for ").trim();
    let known = |words: &[&str]| words.contains(&bare);
    let stage = if known(&["levain", "starter", "preferment", "poolish", "biga", "sponge"]) {
        Stage::Preferment
    } else if known(&["topping", "toppings", "top"]) {
        Stage::Topping
    } else if known(&["wash", "egg wash", "glaze"]) {
        Stage::Wash
    } else if known(&["add-ins", "filling", "fruit and nuts"]) {
        Stage::AddIns
    } else if known(&["dough", "final dough", "main dough", "bread", "ingredients"]) || lower.ends_with(':') {
        Stage::Dough
    } else {
        return None;
    };
    Some(stage)
}

/// A stage in brackets, `(levain)`, as the formats write it.
fn bracketed_stage(lower: &str) -> Option<Stage> {
    Stage::ALL.into_iter().find(|s| lower.contains(&format!("({})", s.name().to_lowercase())))
}

/// A line may say for itself where it belongs.
fn own_stage(text: &str) -> Option<Stage> {
    let lower = text.to_lowercase();
    let says = |words: &[&str]| words.iter().any(|w| lower.contains(w));
    if let Some(named) = bracketed_stage(&lower) {
        Some(named)
    } else if says(&["egg wash", "for brushing", "to brush", "for the wash", "to glaze"]) {
        Some(Stage::Wash)
    } else if says(&["for the top", "for topping", "to sprinkle", "for sprinkling", "to scatter"]) {
        Some(Stage::Topping)
    } else {
        None
    }
}

/// `(about 260 g)`: a stated weight beats a volume.
fn stated_weight(rest: &mut &str) -> Option<Amount> {
    let open = rest.find('(')?;
    let mut inside = &rest[open..];
    let found: winnow::Result<Amount> =
        delimited(('(', winnow::ascii::space0), amount, (winnow::ascii::space0, alt((")", ",", ";"))))
            .parse_next(&mut inside);
    found.ok().filter(|a| a.unit.is_some_and(|u| mass(u).is_some()))
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

/// Grams of one unit of mass.
fn mass(unit: Unit) -> Option<f64> {
    Some(match unit {
        Unit::Milligram => 0.001,
        Unit::Gram => 1.0,
        Unit::Kilogram => 1000.0,
        Unit::Ounce => 28.349_523_125,
        Unit::Pound => 453.592_37,
        _ => return None,
    })
}

/// Millilitres of one unit of volume.
fn volume(unit: Unit, measures: Measures) -> Option<f64> {
    Some(match unit {
        Unit::Millilitre => 1.0,
        Unit::Centilitre => 10.0,
        Unit::Decilitre => 100.0,
        Unit::Litre => 1000.0,
        Unit::FluidOunce => FLUID_OUNCE,
        Unit::Cup => measures.cup(),
        Unit::Tablespoon => measures.tablespoon(),
        Unit::Teaspoon => TEASPOON,
        Unit::Pint => 2.0 * US_CUP,
        Unit::Quart => 4.0 * US_CUP,
        _ => return None,
    })
}

/// Grams of one unit of this ingredient, with the spread in per cent.
fn one(unit: Option<Unit>, ingredient: &Ingredient, measures: Measures) -> Option<(f64, f64)> {
    let named = |name: &str| ingredient.measures.iter().find(|m| m.name == name).map(|m| (m.grams, m.spread));
    let Some(unit) = unit else {
        // Eggs are counted; large ones are meant.
        return named("large");
    };
    if let Some(g) = mass(unit) {
        return Some((g, 0.0));
    }
    if let Some(ml) = volume(unit, measures) {
        let small = matches!(unit, Unit::Teaspoon | Unit::Tablespoon);
        // A volume unstated in the catalogue is taken as of middling density, and doubted.
        let (density, spread) = density(ingredient, small).unwrap_or(if ingredient.group == Group::Liquid {
            (1.0, 5.0)
        } else {
            (0.6, 35.0)
        });
        return Some((ml * density, spread));
    }
    match unit {
        Unit::Stick => named("stick"),
        Unit::Packet => named("packet"),
        Unit::Cube => named("cube"),
        Unit::Large => named("large"),
        Unit::Medium => named("medium"),
        Unit::Small => named("small"),
        Unit::ExtraLarge => named("extra large"),
        Unit::Pinch => Some((0.4, 50.0)),
        Unit::Handful => Some((30.0, 40.0)),
        _ => None,
    }
}

fn weigh(line: &mut ReadLine, amounts: &[Amount], ingredient: &Ingredient, measures: Measures) {
    let (mut low, mut high) = (0.0, 0.0);
    for a in amounts {
        let Some((grams, spread)) = one(a.unit, ingredient, measures) else {
            line.doubts.push("That measure is not known for this ingredient. Weigh it.".into());
            return;
        };
        let Count { low: few, high: many } = a.count;
        // Heaping adds a quarter to a half; scant takes a little off.
        let (fill, spread) = match a.level {
            Some(Level::Heaping) => (1.375, spread.max(25.0)),
            Some(Level::Scant) => (0.94, spread.max(8.0)),
            _ => (1.0, spread),
        };
        let spread = if a.vague { spread.max(10.0) } else { spread };
        low += few * grams * fill * (1.0 - spread / 100.0);
        high += many * grams * fill * (1.0 + spread / 100.0);
    }
    let middle = 0.5 * (low + high);
    if middle > 0.0 && (high - low) / middle > WIDE {
        line.doubts.push("This measure leaves a wide range. Weigh it to know.".into());
    }
    line.grams = Some(Grams(middle));
    line.low = Some(Grams(low));
    line.high = Some(Grams(high));
}
