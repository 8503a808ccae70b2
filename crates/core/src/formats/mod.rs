//! Formats: formulas in and out, in open forms.
//!
//! Our own JSON is complete and lossless; schema.org Recipe as JSON-LD and CSV keep every amount;
//! Markdown is for reading. Nothing is ever fetched.

mod csv_lines;
mod ical;
mod jsonld;
mod markdown;
mod own;
mod page;

pub use ical::{Absence, Absences, absences};
pub use markdown::markdown;
pub use own::{FILE_VERSION, FormulaFile, HouseholdFile, household_file, write_household};

use std::borrow::Cow;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::fault::{Fault, Faults};
use crate::formula::Formula;
use crate::pantry::{Catalogue, Cupboard};
use crate::stations::Stations;
use crate::units::Grams;
use crate::words::{Kind, Stage};

/// The longest text that is taken in, in bytes.
pub const TEXT_MAX: usize = 1024 * 1024;

choice! {
    /// A form in which a formula goes out.
    Format {
        /// Our own JSON: complete and lossless.
        Json = "json", "Cerealis JSON";
        /// schema.org Recipe.
        JsonLd = "jsonld", "Recipe as JSON-LD";
        /// Lines with commas between.
        Csv = "csv", "CSV";
        /// For reading.
        Markdown = "markdown", "Markdown";
    }
}

impl Format {
    /// The ending of a file of it.
    pub fn ending(self) -> &'static str {
        match self {
            Format::Json => "json",
            Format::JsonLd => "jsonld",
            Format::Csv => "csv",
            Format::Markdown => "md",
        }
    }

    /// Its media type.
    pub fn media_type(self) -> &'static str {
        match self {
            Format::Json => "application/json",
            Format::JsonLd => "application/ld+json",
            Format::Csv => "text/csv; charset=utf-8",
            Format::Markdown => "text/markdown; charset=utf-8",
        }
    }
}

/// A recipe that came in as text: to be read by the reader and reviewed.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct RecipeText {
    /// Its name.
    pub name: String,
    /// What it makes, as it was said: “8 buns”.
    pub makes: String,
    /// Ingredient lines, one a line.
    pub lines: String,
    /// Steps of the method and stated times, one a line.
    pub method: String,
    /// Whose recipe it is.
    pub author: String,
    /// What is said of it.
    pub description: String,
    /// Its category, such as the name of a style.
    pub category: String,
    /// Words to find it by.
    pub keywords: Vec<String>,
}

/// What was taken in.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Imported {
    /// Whole formulas, checked, with the own ingredients that they use.
    Formulas(FormulaFile),
    /// A recipe's lines, to be reviewed.
    Recipe(RecipeText),
    /// A whole household, checked.
    Household(Box<HouseholdFile>),
}

/// What a yield says of the pieces, where it says it as we write it: `8 × bun`, `2 × plait, 4 strands`,
/// `12 × roll, 60 g each`.
pub fn made(makes: &str) -> Option<(u32, Kind, Option<u32>, Option<Grams>)> {
    let (pieces, rest) = makes.split_once(" × ")?;
    let mut parts = rest.split(", ");
    let kind = parts.next()?.trim();
    let kind = Kind::ALL.into_iter().find(|k| k.name().eq_ignore_ascii_case(kind))?;
    let (mut strands, mut each) = (None, None);
    for part in parts {
        if let Some(n) = part.strip_suffix(" strands") {
            strands = n.parse().ok();
        } else if let Some(g) = part.strip_suffix(" g each").filter(|g| !g.starts_with("about")) {
            each = g.replace(['\u{a0}', '\u{202f}', ' '], "").parse().ok().map(Grams);
        }
    }
    Some((pieces.trim().parse().ok().filter(|n| (1..=200).contains(n))?, kind, strands, each))
}

/// Takes in a text of any of our forms, told apart by how it begins: our JSON, JSON-LD by itself
/// or in a page's source, CSV with a header. `None` for anything else: plain lines.
///
/// # Errors
/// Too long a text; a broken one, with the place of the fault as its path: `line 3, column 7`,
/// `formulas.0.lines.2.grams`.
pub fn import(text: &str, catalogue: &Catalogue) -> Result<Option<Imported>, Faults> {
    if text.len() > TEXT_MAX {
        let words = format!("This is longer than {} kB. Bring in a part of it.", TEXT_MAX / 1024);
        return Err(Fault::new("out-of-range", "text", words).into());
    }
    let cleaned = plain_text(text);
    let trimmed = cleaned.trim_start_matches('\u{feff}').trim();
    if trimmed.starts_with(['{', '[']) {
        let mut value = parse(trimmed)?;
        plain_texts(&mut value);
        if value.get("format").is_some_and(|f| f == own::NAME) {
            return Ok(Some(Imported::Formulas(own::read(value, catalogue)?)));
        }
        if value.get("format").is_some_and(|f| f == own::HOUSEHOLD) {
            return Ok(Some(Imported::Household(Box::new(own::read_household(value, catalogue)?))));
        }
        return Ok(Some(Imported::Recipe(jsonld::recipe(&value)?)));
    }
    if trimmed.starts_with('<') || trimmed.contains("application/ld+json") || trimmed.contains("itemprop=") {
        return Ok(Some(Imported::Recipe(page::recipe(trimmed)?)));
    }
    if csv_lines::is_csv(trimmed) {
        return Ok(Some(Imported::Recipe(csv_lines::read(trimmed)?)));
    }
    Ok(None)
}

/// A text without what nobody typed on purpose: control characters (other than line ends and tabs), and marks that turn
/// the direction of what stands after them, so that a name reads as another.
pub fn plain_text(text: &str) -> Cow<'_, str> {
    let odd = |c: char| {
        (c.is_control() && !matches!(c, '\n' | '\r' | '\t'))
            || matches!(c, '\u{200e}' | '\u{200f}' | '\u{202a}'..='\u{202e}' | '\u{2066}'..='\u{2069}')
    };
    if text.contains(odd) { Cow::Owned(text.replace(odd, "")) } else { Cow::Borrowed(text) }
}

/// The same of every text in a value, names of fields left out.
fn plain_texts(value: &mut serde_json::Value) {
    match value {
        serde_json::Value::String(s) => {
            if let Cow::Owned(plain) = plain_text(s) {
                *s = plain;
            }
        }
        serde_json::Value::Array(all) => all.iter_mut().for_each(plain_texts),
        serde_json::Value::Object(map) => map.values_mut().for_each(plain_texts),
        _ => {}
    }
}

/// Parses JSON; a fault names the place. Nesting over 128 levels is refused.
fn parse(text: &str) -> Result<serde_json::Value, Fault> {
    serde_json::from_str(text).map_err(|e| {
        let place = format!("line {}, column {}", e.line(), e.column());
        Fault::new("malformed", place, format!("This JSON is broken: {e}."))
    })
}

/// Writes a formula. `stations` add steps and times where a form has room for them; `cupboard`
/// holds the own ingredients that it may use.
pub fn export(formula: &Formula, stations: Option<&Stations>, format: Format, cupboard: &Cupboard) -> String {
    let catalogue = &Catalogue::bundled().with(&cupboard.own);
    match format {
        Format::Json => own::write(std::slice::from_ref(formula), cupboard),
        Format::JsonLd => jsonld::write(formula, stations, catalogue),
        Format::Csv => csv_lines::write(formula, catalogue),
        Format::Markdown => markdown(formula, stations, catalogue),
    }
}

/// A line as text that the reader takes back to the same amount, ingredient and stage.
fn line_text(grams: f64, name: &str, stage: Stage, note: &str) -> String {
    let amount = format!("{grams:.6}");
    let amount = amount.trim_end_matches('0').trim_end_matches('.');
    let place =
        if stage == Stage::Dough { String::new() } else { format!(" ({})", stage.name().to_lowercase()) };
    let note = if note.is_empty() { String::new() } else { format!(", {note}") };
    format!("{amount} g {name}{place}{note}")
}

/// The name of an ingredient, or its key where it is unknown.
fn name_of<'a>(key: &'a str, catalogue: &'a Catalogue) -> &'a str {
    catalogue.get(key).map_or(key, |i| i.name.as_str())
}
