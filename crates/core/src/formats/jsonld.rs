//! schema.org Recipe as JSON-LD: a file, or the source of a page that holds one.
//!
//! The vocabulary is that of schema.org/Recipe (recalled, not read from the source).

use jiff::{Span, SpanRelativeTo, Unit};
use serde_json::{Value, json};

use super::{RecipeText, line_text, name_of, parse};
use crate::fault::{Fault, Faults};
use crate::formula::Formula;
use crate::ingredient::Catalogue;
use crate::stations::Stations;
use crate::units::shown;

/// The most lines or steps that are taken in.
const LIST_MAX: usize = 400;

/// The recipe in a page's source: the first script of linked data that holds one.
pub(super) fn from_page(page: &str) -> Result<RecipeText, Faults> {
    let lower = page.to_ascii_lowercase();
    let mut from = 0;
    let mut first_fault = None;
    while let Some(at) = lower[from..].find("ld+json").map(|i| i + from) {
        let Some(open) = lower[at..].find('>').map(|i| at + i + 1) else { break };
        let close = lower[open..].find("</script").map_or(page.len(), |i| open + i);
        from = close;
        let line = page[..open].lines().count();
        let found = parse(page[open..close].trim()).map_err(Faults::from).and_then(|v| recipe(&v));
        match found {
            Ok(recipe) => return Ok(recipe),
            Err(Faults(mut faults)) => {
                faults.iter_mut().for_each(|f| f.path = format!("script at line {line}, {}", f.path));
                first_fault.get_or_insert(Faults(faults));
            }
        }
    }
    Err(first_fault.unwrap_or_else(|| {
        let text = "This page's source holds no recipe as linked data. Paste its lines instead.";
        Fault::new("missing", "text", text).into()
    }))
}

/// The first recipe in a document, however deep: alone, in a list, in `@graph`.
pub(super) fn recipe(value: &Value) -> Result<RecipeText, Faults> {
    let Some(found) = find(value) else {
        let text = "There is no Recipe in this JSON, and it is not a file of formulas.";
        return Err(Fault::new("missing", "@type", text).into());
    };
    let ingredients = found.get("recipeIngredient").or_else(|| found.get("ingredients"));
    let mut lines = Vec::new();
    ingredients.into_iter().for_each(|v| texts(v, &mut lines));
    if lines.is_empty() {
        let text = "The recipe has no recipeIngredient lines.";
        return Err(Fault::new("missing", "recipeIngredient", text).into());
    }
    let mut method = Vec::new();
    for (key, name) in [("prepTime", "Preparation"), ("cookTime", "Baking"), ("totalTime", "In all")] {
        if let Some(minutes) = found.get(key).and_then(Value::as_str).and_then(minutes) {
            method.push(format!("{name}: {minutes} minutes."));
        }
    }
    found.get("recipeInstructions").into_iter().for_each(|v| texts(v, &mut method));
    let one = |key: &str| {
        let mut all = Vec::new();
        found.get(key).into_iter().for_each(|v| texts(v, &mut all));
        all.pop().unwrap_or_default()
    };
    Ok(RecipeText {
        name: one("name"),
        makes: one("recipeYield"),
        lines: lines.join("\n"),
        method: method.join("\n"),
    })
}

/// Documents nest to 128 levels at most, by the parser.
fn find(value: &Value) -> Option<&Value> {
    let is_recipe = |t: &Value| match t {
        Value::String(s) => s == "Recipe" || s.ends_with("/Recipe"),
        Value::Array(all) => all.iter().any(|s| s == "Recipe"),
        _ => false,
    };
    match value {
        Value::Object(map) if map.get("@type").is_some_and(is_recipe) => Some(value),
        Value::Object(map) => map.values().find_map(find),
        Value::Array(all) => all.iter().find_map(find),
        _ => None,
    }
}

/// Every text in a value: a string, its lines, a list, a step with its text, a section with its
/// steps, a quantity with its value.
fn texts(value: &Value, out: &mut Vec<String>) {
    if out.len() >= LIST_MAX {
        return;
    }
    match value {
        Value::String(s) => out.extend(s.lines().map(plain).filter(|l| !l.is_empty())),
        Value::Number(n) => out.push(n.to_string()),
        Value::Array(all) => all.iter().for_each(|v| texts(v, out)),
        Value::Object(map) => {
            let inner = ["itemListElement", "steps", "step"].iter().find_map(|k| map.get(*k));
            if let Some(inner) = inner {
                if let Some(name) = map.get("name") {
                    texts(name, out);
                }
                texts(inner, out);
            } else if let Some(text) =
                ["text", "description", "name", "value"].iter().find_map(|k| map.get(*k))
            {
                texts(text, out);
            }
        }
        _ => {}
    }
}

/// Text without tags and entities, its white space single.
fn plain(text: &str) -> String {
    let (mut out, mut inside) = (String::new(), false);
    for c in text.chars() {
        match c {
            '<' => inside = true,
            '>' if inside => {
                inside = false;
                out.push(' ');
            }
            c if !inside => out.push(c),
            _ => {}
        }
    }
    let out = html_escape::decode_html_entities(&out);
    out.split_whitespace().collect::<Vec<_>>().join(" ")
}

/// An ISO 8601 duration in minutes.
fn minutes(text: &str) -> Option<i64> {
    let span: Span = text.trim().parse().ok()?;
    let total = span.total((Unit::Minute, SpanRelativeTo::days_are_24_hours())).ok()?;
    (0.0..=20_000.0).contains(&total).then(|| total.round() as i64)
}

pub(super) fn write(formula: &Formula, stations: Option<&Stations>, catalogue: &Catalogue) -> String {
    let lines: Vec<String> = formula
        .lines
        .iter()
        .map(|l| line_text(l.grams.0, name_of(&l.ingredient, catalogue), l.stage, &l.note))
        .collect();
    let mut out = json!({
        "@context": "https://schema.org",
        "@type": "Recipe",
        "name": formula.name,
        "recipeCategory": "Bread",
        "recipeYield": format!("{} × {}", formula.shape.pieces, formula.shape.kind.name().to_lowercase()),
        "recipeIngredient": lines,
    });
    if !formula.tags.is_empty() {
        out["keywords"] = json!(formula.tags.join(", "));
    }
    if let Some(s) = stations {
        let duration = |m: f64| format!("PT{}M", m.round());
        out["cookTime"] = json!(duration(s.bake.time.0));
        out["totalTime"] = json!(duration(s.day.length.0));
        let step = |c: &crate::plan::ClockStep| {
            let time = shown::time(c.step.length);
            json!({"@type": "HowToStep", "name": c.step.title, "text": format!("{}, {time}. {}", c.step.title, c.step.detail)})
        };
        out["recipeInstructions"] = s.day.steps.iter().map(step).collect();
    }
    serde_json::to_string_pretty(&out).unwrap_or_default()
}
