//! Lines with commas between: `stage,ingredient,grams,percent,note`.

use super::{RecipeText, line_text, name_of};
use crate::fault::{Fault, Faults};
use crate::formula::{Formula, flour};
use crate::pantry::Catalogue;
use crate::units::shown;
use crate::words::Stage;

/// The most lines that are taken in.
const LINES_MAX: usize = 200;

/// Whether a text begins with a header that names an ingredient and grams.
pub(super) fn is_csv(text: &str) -> bool {
    let head = text.lines().next().unwrap_or_default().to_lowercase();
    let names: Vec<&str> = head.split([',', ';', '\t']).map(|n| n.trim().trim_matches('"')).collect();
    names.contains(&"ingredient") && names.contains(&"grams")
}

pub(super) fn write(formula: &Formula, catalogue: &Catalogue) -> String {
    let all = flour(formula, catalogue);
    let mut out = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    let _ = out.write_record(["stage", "ingredient", "grams", "percent", "note"]);
    for l in &formula.lines {
        let (grams, percent) = (l.grams.0.to_string(), shown::percent(l.grams.percent_of(all)));
        let name = name_of(&l.ingredient, catalogue);
        let _ = out.write_record([l.stage.key(), &no_formula(name), &grams, &percent, &no_formula(&l.note)]);
    }
    // Writing to memory cannot fail.
    String::from_utf8(out.into_inner().unwrap_or_default()).unwrap_or_default()
}

/// Signs with which a spreadsheet would take a cell for something to work out.
const RUNS: [char; 6] = ['=', '+', '-', '@', '\t', '\r'];

/// A text that no spreadsheet runs: an apostrophe before what would make it a formula.
fn no_formula(text: &str) -> String {
    if text.trim_start_matches('\'').starts_with(RUNS) { format!("'{text}") } else { text.to_owned() }
}

/// The text as it was before [`no_formula`].
fn as_it_was(cell: &str) -> &str {
    match cell.strip_prefix('\'') {
        Some(rest) if rest.trim_start_matches('\'').starts_with(RUNS) => rest,
        _ => cell,
    }
}

pub(super) fn read(text: &str) -> Result<RecipeText, Faults> {
    // Lines are counted by their feeds alone.
    let text = &text.replace("\r\n", "\n");
    let head = text.lines().next().unwrap_or_default();
    let by = [b',', b';', b'\t']
        .into_iter()
        .max_by_key(|d| head.bytes().filter(|b| b == d).count())
        .unwrap_or(b',');
    let mut reader = csv::ReaderBuilder::new().delimiter(by).flexible(true).from_reader(text.as_bytes());
    let malformed =
        |line: usize, text: String| Faults::from(Fault::new("malformed", format!("line {line}"), text));
    let names: Vec<String> = match reader.headers() {
        Ok(h) => h.iter().map(|n| n.trim().to_lowercase()).collect(),
        Err(e) => return Err(malformed(1, e.to_string())),
    };
    let column = |name: &str| names.iter().position(|n| n == name);
    let (Some(ingredient), Some(grams)) = (column("ingredient"), column("grams")) else {
        return Err(malformed(1, "The first line names the columns: ingredient and grams at least.".into()));
    };
    let (stage, note) = (column("stage"), column("note"));
    let mut lines = Vec::new();
    for (n, record) in reader.records().enumerate() {
        let record = record.map_err(|e| malformed(n + 2, e.to_string()))?;
        let line = record.position().map_or(n + 2, |p| p.line() as usize);
        let cell = |at: Option<usize>| at.and_then(|i| record.get(i)).unwrap_or_default().trim();
        let (name, amount) = (cell(Some(ingredient)), cell(Some(grams)));
        if name.is_empty() && amount.is_empty() {
            continue;
        }
        let g: f64 = amount
            .replace(',', ".")
            .parse()
            .ok()
            .filter(|g: &f64| (0.0..=50_000.0).contains(g))
            .ok_or_else(|| malformed(line, format!("“{amount}” is no weight in grams, 0 to 50 000.")))?;
        let key = cell(stage);
        let stage = match (key.is_empty(), Stage::from_key(key)) {
            (true, _) => Stage::Dough,
            (_, Some(stage)) => stage,
            (_, None) => {
                return Err(malformed(
                    line,
                    format!("“{key}” is not a stage. Such as dough, wash or topping."),
                ));
            }
        };
        lines.push(line_text(g, as_it_was(name), stage, as_it_was(cell(note))));
        if lines.len() > LINES_MAX {
            return Err(malformed(line, format!("At most {LINES_MAX} lines are taken in.")));
        }
    }
    if lines.is_empty() {
        return Err(malformed(2, "There are no lines under the header.".into()));
    }
    Ok(RecipeText { lines: lines.join("\n"), ..RecipeText::default() })
}
