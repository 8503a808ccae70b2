//! A page's source: the recipe that it holds as linked data, or as microdata in its tags.
//!
//! The source is read as a stream of tags, once, so that no page takes longer than its length.

use std::collections::BTreeMap;

use html5gum::emitters::default::DefaultEmitter;
use html5gum::{Token, Tokenizer};
use serde_json::{Map, Value, json};

use super::{RecipeText, jsonld, parse};
use crate::fault::{Fault, Faults};

/// The most scripts of linked data that are looked at.
const SCRIPTS_MAX: usize = 200;

/// Tags that have no end of their own.
const VOID: [&str; 13] =
    ["area", "base", "br", "col", "embed", "hr", "img", "input", "link", "meta", "source", "track", "wbr"];

/// The recipe in a page's source: the first script of linked data that holds one, or else microdata.
pub(super) fn recipe(page: &str) -> Result<RecipeText, Faults> {
    let found = look_through(page);
    let mut first_fault = None;
    for (line, script) in &found.scripts {
        match parse(bare(script)).map_err(Faults::from).and_then(|v| jsonld::recipe(&v)) {
            Ok(recipe) => return Ok(recipe),
            Err(Faults(mut faults)) => {
                faults.iter_mut().for_each(|f| f.path = format!("script at line {line}, {}", f.path));
                first_fault.get_or_insert(Faults(faults));
            }
        }
    }
    if found.microdata.contains_key("recipeIngredient") || found.microdata.contains_key("ingredients") {
        return jsonld::recipe(&Value::Object(found.microdata));
    }
    Err(first_fault.unwrap_or_else(|| {
        let text = "This page's source holds no recipe as linked data. Paste its lines instead.";
        Fault::new("missing", "text", text).into()
    }))
}

/// A script without the marks that hide it from very old browsers.
fn bare(script: &str) -> &str {
    let mut text = script.trim();
    for mark in ["//<![CDATA[", "/*<![CDATA[*/", "<![CDATA[", "<!--"] {
        text = text.strip_prefix(mark).unwrap_or(text).trim_start();
    }
    for mark in ["//]]>", "/*]]>*/", "]]>", "//-->", "-->"] {
        text = text.strip_suffix(mark).unwrap_or(text).trim_end();
    }
    text
}

#[derive(Default)]
struct Found {
    /// Scripts of linked data with the line they begin at.
    scripts: Vec<(usize, String)>,
    /// The recipe's properties, as linked data would have them.
    microdata: Map<String, Value>,
}

/// An element that is open and of which something is wanted.
struct Open {
    tag: String,
    /// Elements of the same name that are open within it.
    within: usize,
    property: Option<String>,
    text: String,
    /// Whether it is the recipe itself.
    recipe: bool,
}

fn look_through(page: &str) -> Found {
    let mut emitter = DefaultEmitter::<usize>::new_with_span();
    emitter.naively_switch_states(true);
    let mut found = Found::default();
    let mut open: Vec<Open> = Vec::new();
    let mut script: Option<(usize, String)> = None;
    let (mut line, mut counted) = (1, 0);
    let mut properties: BTreeMap<String, Vec<Value>> = BTreeMap::new();
    for Ok(token) in Tokenizer::new_with_emitter(page, emitter) {
        match token {
            Token::StartTag(tag) => {
                let name = String::from_utf8_lossy(&tag.name).into_owned();
                let attribute = |key: &str| {
                    tag.attributes
                        .iter()
                        .find(|(k, _)| k.as_slice() == key.as_bytes())
                        .map(|(_, v)| String::from_utf8_lossy(v).into_owned())
                };
                if name == "script" {
                    let end = tag.span.end.min(page.len());
                    line +=
                        page.as_bytes()[counted..end.max(counted)].iter().filter(|b| **b == b'\n').count();
                    counted = end.max(counted);
                    let is_data = attribute("type").is_some_and(|t| t.to_lowercase().contains("ld+json"));
                    script = (is_data && found.scripts.len() < SCRIPTS_MAX).then(|| (line, String::new()));
                    continue;
                }
                if let Some(inner) = open.iter_mut().rfind(|o| o.tag == name) {
                    inner.within += 1;
                }
                let recipe = attribute("itemtype")
                    .is_some_and(|t| t.trim_end_matches('/').ends_with("schema.org/Recipe"));
                let in_recipe = open.iter().any(|o| o.recipe);
                let property = attribute("itemprop").filter(|_| in_recipe && !recipe);
                if property.is_none() && !recipe {
                    continue;
                }
                let said = attribute("content").or_else(|| attribute("datetime"));
                match (property, said) {
                    (Some(property), Some(said)) => properties.entry(property).or_default().push(said.into()),
                    (property, _)
                        if !tag.self_closing && !VOID.contains(&name.as_str()) && open.len() < 64 =>
                    {
                        open.push(Open { tag: name, within: 0, property, text: String::new(), recipe });
                    }
                    _ => {}
                }
            }
            Token::EndTag(tag) => {
                let name = String::from_utf8_lossy(&tag.name).into_owned();
                if name == "script" {
                    found.scripts.extend(script.take());
                    continue;
                }
                let Some(at) = open.iter().rposition(|o| o.tag == name) else { continue };
                if open[at].within > 0 {
                    open[at].within -= 1;
                    continue;
                }
                // What stands open inside of it was never closed.
                for o in open.drain(at..).rev() {
                    let text = o.text.split_whitespace().collect::<Vec<_>>().join(" ");
                    if let Some(property) = o.property.filter(|_| !text.is_empty()) {
                        properties.entry(property).or_default().push(text.into());
                    }
                    if o.recipe && !properties.is_empty() && found.microdata.is_empty() {
                        found.microdata = std::mem::take(&mut properties)
                            .into_iter()
                            .map(|(k, v)| (k, if v.len() == 1 { v[0].clone() } else { Value::Array(v) }))
                            .collect();
                        found.microdata.insert("@type".into(), json!("Recipe"));
                    }
                }
            }
            Token::String(text) => {
                let text = String::from_utf8_lossy(&text);
                if let Some((_, script)) = &mut script {
                    script.push_str(&text);
                } else if let Some(inner) = open.last_mut()
                    && inner.text.len() < 20_000
                {
                    inner.text.push(' ');
                    inner.text.push_str(&text);
                }
            }
            _ => {}
        }
    }
    found.scripts.extend(script);
    found
}
