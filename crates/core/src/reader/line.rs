//! A line put together and weighed.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use winnow::combinator::{alt, delimited, opt, repeat};
use winnow::prelude::*;

use super::method::{Finding, read_method};
use super::name::Names;
use super::quantity::{Amount, Count, Level, Unit, amount, further};
use crate::fault::{Fault, Faults};
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
}

/// A range wider than this share of its middle is doubted.
const WIDE: f64 = 0.2;

/// The most lines that are read at once: a long recipe with its method has under a hundred.
pub const LINES_MAX: usize = 1000;

/// The longest line that is read, in characters; the rest of a longer one is left unread.
const LINE_MAX: usize = 400;

/// Reads lines of kitchen English.
///
/// ```
/// use cerealis_core::ingredient::Catalogue;
/// use cerealis_core::reader::{ReadInput, read};
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
    for text in input.text.lines().map(str::trim).filter(|l| !l.is_empty()) {
        let mut line = if in_method && heading(text).is_none() {
            ReadLine { kind: LineKind::Method, ..unread(text, stage) }
        } else {
            read_line(text, stage, &names, catalogue, input.measures)
        };
        if line.kind == LineKind::Heading {
            in_method = heading(text) == Some(Opens::Method);
            stage = line.stage;
        }
        let dusting = dusting_besides(&mut line);
        lines.push(line);
        lines.extend(dusting);
    }
    let title = title(&mut lines);
    let method = |l: &&ReadLine| matches!(l.kind, LineKind::Method | LineKind::Remark);
    let text: Vec<&str> = lines.iter().filter(method).map(|l| l.text.as_str()).collect();
    Ok(ReadOutput { method: read_method(&text.join("\n")), title, lines })
}

/// Takes the first line off as the bread's name: it has no amount, is no bare ingredient, and is
/// followed by lines that have one.
fn title(lines: &mut Vec<ReadLine>) -> Option<String> {
    let first = lines.first()?;
    let bare = first.kind == LineKind::Ingredient && first.note.is_empty();
    let named = matches!(first.kind, LineKind::Ingredient | LineKind::Remark) && first.amount.is_none();
    let followed = lines.iter().skip(1).any(|l| l.amount.is_some());
    (named && !bare && followed).then(|| lines.remove(0).text)
}

/// Reads one line again as this ingredient: its mass, spread and doubts. Without an ingredient
/// nothing is weighed.
pub fn weigh_as(text: &str, ingredient: Option<&Ingredient>, measures: Measures) -> ReadLine {
    let mut line = unread(text, Stage::Dough);
    let mut rest = bare(text);
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

/// “Plus more for dusting” is a line of its own, of an amount that nobody said.
fn dusting_besides(line: &mut ReadLine) -> Option<ReadLine> {
    let lower = line.text.to_lowercase();
    let more = ["plus more for", "plus extra for", "and more for", "plus extra to", "plus more to"];
    let wanted = line.kind == LineKind::Ingredient
        && line.stage.in_dough()
        && line.ingredient.is_some()
        && more.iter().any(|m| lower.contains(m));
    if !wanted {
        return None;
    }
    let stage = if ["brush", "glaz"].iter().any(|w| lower.contains(w)) {
        Stage::Wash
    } else if ["sprinkl", "top"].iter().any(|w| lower.contains(w)) {
        Stage::Topping
    } else {
        Stage::Dusting
    };
    let (low, grams, high) = DUSTING;
    let doubt = "How much is not said; this is usual.".to_owned();
    Some(ReadLine {
        stage,
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

/// The line without the mark of a list.
fn bare(text: &str) -> &str {
    let end = text.char_indices().nth(LINE_MAX).map_or(text.len(), |(i, _)| i);
    text[..end].trim_start_matches(['-', '*', '•', '·', '–', '▢', '☐', '□', ' '])
}

fn unread(text: &str, stage: Stage) -> ReadLine {
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
    let body = bare(text);
    let mut line = unread(text, stage);
    if is_step(body) {
        line.kind = LineKind::Method;
        return line;
    }
    let mut rest = body;
    let first = opt(amount).parse_next(&mut rest).unwrap_or(None);
    if first.is_none()
        && let Some(opened) = heading(body)
    {
        line.kind = LineKind::Heading;
        line.stage = match opened {
            Opens::Stage(stage) => stage,
            Opens::Method => stage,
        };
        return line;
    }
    let mut name = rest;
    let _: winnow::Result<Vec<Amount>> = repeat(0..=3, further).parse_next(&mut name);
    let matched = names.find(name);
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
    if line.candidates.is_empty() {
        line.near = names.near(name);
    }
    doubt_the_name(&mut line, catalogue);
    if let Some(ingredient) = line.ingredient.as_deref().and_then(|k| catalogue.get(k)) {
        weigh_line(&mut line, first, &mut rest, ingredient, measures);
    }
    line
}

/// Weighs a line by its amounts, or by the weight that it states besides.
fn weigh_line(
    line: &mut ReadLine,
    first: Option<Amount>,
    rest: &mut &str,
    ingredient: &Ingredient,
    measures: Measures,
) {
    let more: Vec<Amount> = repeat(0..=3, further).parse_next(rest).unwrap_or_default();
    let stated = stated_weight(rest);
    let Some(first) = first.or(stated) else {
        line.doubts.push("No amount is given. Weigh it, or leave the line out.".into());
        return;
    };
    let amounts = match stated {
        // “2 (7 g) packets”: so much each.
        Some(each) if first.unit.is_none() && a_container_follows(rest) => vec![Amount {
            count: Count { low: first.count.low * each.count.low, high: first.count.high * each.count.high },
            ..each
        }],
        Some(stated) => vec![stated],
        None => [vec![first], more].concat(),
    };
    weigh(line, &amounts, ingredient, measures);
}

/// Whether what the brackets stand before is a container: `(7 g) packets`, `(400 ml) can`.
fn a_container_follows(rest: &str) -> bool {
    const CONTAINERS: [&str; 14] = [
        "packet", "package", "pkg", "sachet", "envelope", "can", "tin", "jar", "bag", "cube", "stick", "box",
        "carton", "bottle",
    ];
    let after = rest.split_once(')').map_or("", |(_, after)| after).trim_start().to_lowercase();
    CONTAINERS.iter().any(|c| after.starts_with(c))
}

/// Words that steps of a method begin with.
const STEP_WORDS: [&str; 56] = [
    "add",
    "allow",
    "bake",
    "beat",
    "bring",
    "brush",
    "combine",
    "cook",
    "cool",
    "cover",
    "cut",
    "dissolve",
    "divide",
    "do",
    "dust",
    "fold",
    "form",
    "gently",
    "grease",
    "heat",
    "if",
    "in",
    "knead",
    "leave",
    "let",
    "line",
    "make",
    "meanwhile",
    "melt",
    "mix",
    "once",
    "place",
    "pour",
    "preheat",
    "prepare",
    "press",
    "prove",
    "punch",
    "put",
    "remove",
    "repeat",
    "roll",
    "serve",
    "set",
    "shape",
    "slash",
    "sprinkle",
    "stir",
    "take",
    "tip",
    "transfer",
    "turn",
    "using",
    "warm",
    "when",
    "whisk",
];

/// Whether a line is a step of the method: it begins with what to do, and says more than a name.
fn is_step(body: &str) -> bool {
    let unnumbered = body.trim_start_matches(|c: char| c.is_ascii_digit());
    let numbered = unnumbered.len() < body.len() && unnumbered.starts_with(['.', ')', ':']);
    let text = if numbered { unnumbered[1..].trim_start() } else { body };
    let text = text.strip_prefix("Step ").unwrap_or(text);
    let mut words = text.split_whitespace();
    let first = words.next().unwrap_or("").trim_matches(|c: char| !c.is_alphanumeric()).to_lowercase();
    STEP_WORDS.contains(&first.as_str()) && words.count() >= 2 && !text.trim_end().ends_with(':')
}

/// What a heading opens.
#[derive(Clone, Copy, Debug, PartialEq)]
enum Opens {
    Stage(Stage),
    Method,
}

/// Words of headings beside the stages' own names (common practice, no source).
const HEADINGS: [(&[&str], Stage); 12] = [
    (&["levain", "starter", "sourdough", "preferment", "leaven"], Stage::Preferment),
    (&["pâte fermentée", "pate fermentee", "prefermented dough"], Stage::OldDough),
    (&["pre-dough", "predough"], Stage::Sponge),
    (&["soaking", "soaked seeds", "soaked grains"], Stage::Soaker),
    (&["tangzhong", "yudane", "water roux", "flour paste", "scalded flour", "roux"], Stage::Scald),
    (&["topping", "toppings", "top", "crumble", "to finish", "finish"], Stage::Topping),
    (&["egg wash", "washing", "brushing"], Stage::Wash),
    (&["icing", "syrup", "after baking"], Stage::Glaze),
    (&["filling", "fruit and nuts", "mix-ins", "inclusions", "extras"], Stage::AddIns),
    (&["boiling", "poaching", "poaching liquid", "alkaline bath", "lye bath", "soda bath"], Stage::Bath),
    (&["work surface", "bench", "the pan"], Stage::Dusting),
    (&["final dough", "main dough", "bread", "ingredients", "the bread"], Stage::Dough),
];

/// A heading opens a stage, or the method: `For the levain:`, `Topping`, `Directions`.
fn heading(text: &str) -> Option<Opens> {
    let lower = text.to_lowercase();
    let bare = lower.trim_matches(|c: char| !c.is_alphanumeric()).trim();
    let bare = bare.strip_prefix("for ").unwrap_or(bare);
    let bare = bare.strip_prefix("the ").unwrap_or(bare).trim();
    const METHOD: [&str; 8] = [
        "method",
        "directions",
        "instructions",
        "steps",
        "preparation",
        "procedure",
        "how to make it",
        "to make",
    ];
    if METHOD.contains(&bare) {
        return Some(Opens::Method);
    }
    let own = Stage::ALL.into_iter().find(|s| s.name().to_lowercase() == bare);
    let named = || HEADINGS.iter().find(|(words, _)| words.contains(&bare)).map(|(_, stage)| *stage);
    let heads = own.or_else(named).or_else(|| lower.ends_with(':').then(|| heading_word(bare)));
    heads.map(Opens::Stage)
}

/// The stage that a heading of several words names somewhere, or the dough.
fn heading_word(bare: &str) -> Stage {
    let says = |w: &str| bare.split(|c: char| !c.is_alphanumeric()).any(|x| x == w);
    let own = Stage::ALL.into_iter().filter(|s| *s != Stage::Dough).find(|s| says(&s.name().to_lowercase()));
    let named = || HEADINGS.iter().find(|(words, _)| words.iter().any(|w| says(w))).map(|(_, stage)| *stage);
    own.or_else(named).unwrap_or(Stage::Dough)
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
    } else if says(&["plus more", "plus extra", "and more for"]) {
        None
    } else if says(&["for dusting", "to dust", "for the work surface", "for kneading", "for the bench"]) {
        Some(Stage::Dusting)
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
