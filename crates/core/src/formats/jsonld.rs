//! schema.org Recipe as JSON-LD.
//!
//! The vocabulary is that of schema.org/Recipe (recalled, not read from the source).

use jiff::{Span, SpanRelativeTo, Unit};
use serde_json::{Map, Value, json};

use super::{RecipeText, line_text, name_of};
use crate::fault::{Fault, Faults};
use crate::formula::Formula;
use crate::pantry::Catalogue;
use crate::stations::Stations;
use crate::units::shown;

/// The most lines or steps that are taken in.
const LIST_MAX: usize = 400;

/// The first recipe in a document, however deep: alone, in a list, in `@graph`.
pub(super) fn recipe(value: &Value) -> Result<RecipeText, Faults> {
    let Some(found) = find(value) else {
        let text = "There is no Recipe in this JSON, and it is not a file of formulas.";
        return Err(Fault::new("missing", "@type", text).into());
    };
    let all = |key: &str| {
        let mut all = Vec::new();
        get(found, key).into_iter().for_each(|v| texts(v, &mut all));
        all
    };
    let mut lines = all("recipeIngredient");
    if lines.is_empty() {
        lines = all("ingredients");
    }
    if lines.is_empty() {
        let text = "The recipe has no recipeIngredient lines.";
        return Err(Fault::new("missing", "recipeIngredient", text).into());
    }
    let mut method = Vec::new();
    for (key, name) in [("prepTime", "Preparation"), ("cookTime", "Baking"), ("totalTime", "In all")] {
        if let Some(minutes) = get(found, key).and_then(Value::as_str).and_then(minutes) {
            method.push(format!("{name}: {minutes} minutes."));
        }
    }
    if let Some(steps) = get(found, "recipeInstructions") {
        let mut said = Vec::new();
        texts(steps, &mut said);
        method.extend(said);
    }
    let first = |key: &str| all(key).into_iter().next().unwrap_or_default();
    // The longest yield says most: `["8", "8 buns of 75 g"]`.
    let makes = all("recipeYield").into_iter().max_by_key(String::len).unwrap_or_default();
    let bare = ["makes ", "yields ", "yield: "].iter().find_map(|w| {
        makes.get(..w.len()).filter(|head| head.eq_ignore_ascii_case(w)).map(|_| makes[w.len()..].to_owned())
    });
    let keywords = all("keywords");
    Ok(RecipeText {
        name: first("name"),
        makes: bare.unwrap_or(makes),
        lines: lines.join("\n"),
        method: method.join("\n"),
        author: first("author"),
        description: all("description").join("\n"),
        category: first("recipeCategory"),
        keywords: keywords
            .iter()
            .flat_map(|k| k.split(','))
            .map(str::trim)
            .filter(|k| !k.is_empty())
            .map(str::to_owned)
            .collect(),
    })
}

/// A key by itself, with a prefix or as a whole address: `name`, `schema:name`, `https://schema.org/name`.
fn bare_key(key: &str) -> &str {
    key.rsplit(['/', ':', '#']).next().unwrap_or(key)
}

fn get<'a>(found: &'a Value, key: &str) -> Option<&'a Value> {
    let map = found.as_object()?;
    map.get(key)
        .or_else(|| map.iter().find(|(k, _)| !k.starts_with('@') && bare_key(k) == key).map(|(_, v)| v))
}

/// Documents nest to 128 levels at most, by the parser.
fn find(value: &Value) -> Option<&Value> {
    let is_recipe = |t: &Value| match t {
        Value::String(s) => bare_key(s) == "Recipe",
        Value::Array(all) => all.iter().any(|s| s.as_str().is_some_and(|s| bare_key(s) == "Recipe")),
        _ => false,
    };
    match value {
        Value::Object(map) if map.get("@type").or_else(|| map.get("type")).is_some_and(is_recipe) => {
            Some(value)
        }
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
        Value::Array(_) => in_order(value).into_iter().for_each(|v| texts(v, out)),
        Value::Object(map) => {
            let inner = ["@list", "@set", "itemListElement", "steps", "step"]
                .iter()
                .find_map(|k| get_any(value, map, k));
            if let Some(inner) = inner {
                if let Some(name) = get(value, "name") {
                    texts(name, out);
                }
                in_order(inner).into_iter().for_each(|v| texts(v, out));
            } else if let Some(item) = get(value, "item") {
                texts(item, out);
            } else if let Some(text) =
                ["text", "@value", "description", "name", "value"].iter().find_map(|k| get_any(value, map, k))
            {
                texts(text, out);
            }
        }
        _ => {}
    }
}

fn get_any<'a>(value: &'a Value, map: &'a Map<String, Value>, key: &str) -> Option<&'a Value> {
    map.get(key).or_else(|| get(value, key))
}

/// The elements of a list by their stated positions, as they stand where none are stated.
fn in_order(list: &Value) -> Vec<&Value> {
    let Value::Array(all) = list else { return vec![list] };
    let mut all: Vec<&Value> = all.iter().take(LIST_MAX).collect();
    let position = |v: &Value| {
        let at = get(v, "position")?;
        at.as_f64().or_else(|| at.as_str()?.parse().ok())
    };
    if all.iter().all(|v| position(v).is_some()) {
        all.sort_by(|a, b| position(a).unwrap_or(0.0).total_cmp(&position(b).unwrap_or(0.0)));
    }
    all
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
        "recipeCategory": formula.style.name(),
        "recipeYield": yield_text(formula, stations),
        "recipeIngredient": lines,
    });
    if !formula.author.is_empty() {
        out["author"] = json!({"@type": "Person", "name": formula.author});
    }
    if !formula.notes.is_empty() {
        out["description"] = json!(formula.notes);
    }
    if !formula.tags.is_empty() {
        out["keywords"] = json!(formula.tags.join(", "));
    }
    if let Some(s) = stations {
        let duration = |m: f64| format!("PT{}M", m.round());
        out["cookTime"] = json!(duration(s.bake.time.0));
        out["totalTime"] = json!(duration(s.day.length.0));
        let step = |(n, c): (usize, &crate::day::ClockStep)| {
            let time = shown::time(c.step.length);
            json!({"@type": "HowToStep", "position": n + 1, "name": c.step.title, "text": format!("{}, {time}. {}", c.step.title, c.step.detail)})
        };
        out["recipeInstructions"] = s.day.steps.iter().enumerate().map(step).collect();
        let n = &s.piece_nutrition;
        let g = |x: f64| format!("{x:.0} g");
        out["nutrition"] = json!({
            "@type": "NutritionInformation",
            "servingSize": "1 piece",
            "calories": format!("{:.0} kcal", n.kilocalories),
            "fatContent": g(n.fat),
            "carbohydrateContent": g(n.carbohydrate),
            "sugarContent": g(n.sugars),
            "fiberContent": g(n.fibre),
            "proteinContent": g(n.protein),
        });
    }
    serde_json::to_string_pretty(&out).unwrap_or_default()
}

/// What a formula makes: `8 × bun`, `2 × plait, 4 strands`; [`super::made`] reads it back.
fn yield_text(formula: &Formula, stations: Option<&Stations>) -> String {
    let shape = &formula.shape;
    let mut said = format!("{} × {}", shape.pieces, shape.kind.name().to_lowercase());
    if shape.kind.is_plaited() {
        said.push_str(&format!(", {} strands", shape.strands));
    }
    match (shape.piece_weight, stations) {
        (Some(each), _) => said.push_str(&format!(", {} g each", shown::grams(each))),
        (None, Some(s)) => said.push_str(&format!(", about {} g each", shown::grams(s.shape.piece))),
        (None, None) => {}
    }
    said
}
