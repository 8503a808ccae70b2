//! What a newer program wrote into a document and this one does not know rides along when it is saved: a field is never lost
//! by being unknown.
//!
//! Which fields are known is said by the document's schema. In a list a part keeps its own fields as long as it is the part
//! that it was: unchanged, or changed where it stands.

use std::collections::BTreeMap;

use schemars::{JsonSchema, schema_for};
use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::Value;

/// What of a value is not known.
enum Rider {
    /// All of it.
    Whole(Value),
    /// Some of its fields.
    Fields(BTreeMap<String, Rider>),
    /// Something in some of its parts, by their places.
    Parts(BTreeMap<usize, Rider>),
}

/// Writes a document over the one that was there, with what of that is not known.
///
/// # Errors
/// What JSON reports.
pub(crate) fn write_over<T: Serialize + DeserializeOwned + JsonSchema>(
    document: &T,
    there: &str,
) -> serde_json::Result<String> {
    let mut fresh = serde_json::to_value(document)?;
    if let Ok(old) = serde_json::from_str::<Value>(there)
        && let Ok(known) = serde_json::from_value::<T>(old.clone()).and_then(|t| serde_json::to_value(&t))
        && old != known
    {
        let schema = serde_json::to_value(schema_for!(T))?;
        if let Some(rider) = riders(&old, &[&schema], &schema) {
            lay_on(&mut fresh, &known, rider);
        }
    }
    serde_json::to_string(&fresh)
}

/// The schemas that a schema stands for: what it refers to, and each of its choices.
fn resolved<'s>(schemas: &[&'s Value], root: &'s Value) -> Vec<&'s Value> {
    let mut all = Vec::new();
    let mut open: Vec<&Value> = schemas.to_vec();
    // A schema that refers to itself ends here: no document of ours is deeper.
    while let Some(schema) = open.pop().filter(|_| all.len() < 200) {
        if let Some(name) = schema.get("$ref").and_then(Value::as_str) {
            open.extend(name.strip_prefix('#').and_then(|at| root.pointer(at)));
        }
        for choices in ["anyOf", "oneOf", "allOf"] {
            open.extend(schema.get(choices).and_then(Value::as_array).into_iter().flatten());
        }
        all.push(schema);
    }
    all
}

fn riders(value: &Value, schemas: &[&Value], root: &Value) -> Option<Rider> {
    let schemas = resolved(schemas, root);
    match value {
        Value::Object(fields) => {
            let of = |name: &str| -> Vec<&Value> {
                let named = schemas.iter().filter_map(|s| s.get("properties")?.get(name));
                let any =
                    schemas.iter().filter_map(|s| s.get("additionalProperties")).filter(|a| !a.is_boolean());
                named.chain(any).collect()
            };
            let found: BTreeMap<String, Rider> = fields
                .iter()
                .filter_map(|(name, inner)| {
                    let known = of(name);
                    let rider = if known.is_empty() {
                        Some(Rider::Whole(inner.clone()))
                    } else {
                        riders(inner, &known, root)
                    };
                    Some((name.clone(), rider?))
                })
                .collect();
            // A value that the schema says nothing of is known as it is.
            let described = schemas
                .iter()
                .any(|s| s.get("properties").is_some() || s.get("additionalProperties").is_some());
            (described && !found.is_empty()).then_some(Rider::Fields(found))
        }
        Value::Array(parts) => {
            let of: Vec<&Value> = schemas.iter().filter_map(|s| s.get("items")).collect();
            let found: BTreeMap<usize, Rider> =
                parts.iter().enumerate().filter_map(|(n, p)| Some((n, riders(p, &of, root)?))).collect();
            (!found.is_empty()).then_some(Rider::Parts(found))
        }
        _ => None,
    }
}

/// Lays what is not known on a value; `known` is the value that it was found in, without it.
fn lay_on(fresh: &mut Value, known: &Value, rider: Rider) {
    match (fresh, rider) {
        (Value::Object(fresh), Rider::Fields(fields)) => {
            for (name, rider) in fields {
                match rider {
                    Rider::Whole(value) => drop(fresh.entry(name).or_insert(value)),
                    inner => {
                        if let Some(there) = fresh.get_mut(&name) {
                            lay_on(there, &known[&name], inner);
                        }
                    }
                }
            }
        }
        (Value::Array(fresh), Rider::Parts(parts)) => {
            let known = known.as_array().map_or(&[][..], Vec::as_slice);
            for (n, rider) in parts {
                let Some(was) = known.get(n) else { continue };
                let place = same_part(fresh, known, n);
                if let Some(part) = place.and_then(|at| fresh.get_mut(at)) {
                    lay_on(part, was, rider);
                }
            }
        }
        _ => {}
    }
}

/// The place of a part of a list in the list as it is now.
fn same_part(fresh: &[Value], known: &[Value], n: usize) -> Option<usize> {
    let was = &known[n];
    if fresh.get(n) == Some(was) {
        return Some(n);
    }
    // Moved as it was: of some that are alike, that of the same turn.
    let turn = known[..n].iter().filter(|k| *k == was).count();
    let alike = fresh.iter().enumerate().filter(|(_, f)| *f == was).nth(turn);
    // Changed: it has its name or its key still.
    let name = |v: &Value| ["id", "key", "ingredient", "name"].iter().find_map(|k| v.get(k).cloned());
    let named = || {
        let mine = name(was)?;
        let turn = known[..n].iter().filter(|k| name(k) == Some(mine.clone())).count();
        fresh.iter().enumerate().filter(|(_, f)| name(f) == Some(mine.clone())).nth(turn)
    };
    alike.or_else(named).map(|(at, _)| at).or_else(|| (fresh.len() == known.len()).then_some(n))
}

/// A document's fields that a schema does not know, for tests.
#[cfg(test)]
fn is_known(value: &Value, schema: &Value) -> bool {
    riders(value, &[schema], schema).is_none()
}

#[cfg(test)]
mod tests {
    use cerealis_core::formula::Formula;
    use cerealis_core::kitchen::Kitchen;
    use cerealis_core::words::Style;
    use proptest::prelude::*;
    use serde_json::json;

    use super::*;

    /// Every object in a value, by its path.
    fn objects(value: &Value, at: &str, out: &mut Vec<String>) {
        match value {
            Value::Object(fields) => {
                out.push(at.to_owned());
                fields.iter().for_each(|(k, v)| objects(v, &format!("{at}/{k}"), out));
            }
            Value::Array(parts) => {
                parts.iter().enumerate().for_each(|(n, v)| objects(v, &format!("{at}/{n}"), out))
            }
            _ => {}
        }
    }

    fn keeps<T: Serialize + DeserializeOwned + JsonSchema + Clone>(
        document: &T,
        pick: usize,
        change: impl Fn(&mut T),
    ) {
        let mut old = serde_json::to_value(document).unwrap();
        let schema = serde_json::to_value(schema_for!(T)).unwrap();
        assert!(is_known(&old, &schema), "the schema knows what is written");
        let mut places = Vec::new();
        objects(&old, "", &mut places);
        // A map takes any name: what is put there is a part of it.
        let place = &places[pick % places.len()];
        old.pointer_mut(place).unwrap()["from_a_newer_one"] = json!({"grams": [1, 2, 3]});
        if is_known(&old, &schema) || serde_json::from_value::<T>(old.clone()).is_err() {
            return;
        }
        let mut changed = document.clone();
        change(&mut changed);
        let written = write_over(&changed, &old.to_string()).unwrap();
        let written: Value = serde_json::from_str(&written).unwrap();
        assert_eq!(
            written.pointer(place).unwrap()["from_a_newer_one"],
            json!({"grams": [1, 2, 3]}),
            "{place}"
        );
        let mut bare = written.clone();
        bare.pointer_mut(place).unwrap().as_object_mut().unwrap().remove("from_a_newer_one");
        assert_eq!(bare, serde_json::to_value(&changed).unwrap(), "and nothing else is there");
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(200))]
        /// Wherever a newer program put a field, it is there after a save of this one.
        #[test]
        fn what_is_not_known_rides_along(pick in 0usize..4000, which in 0usize..7, room in 20u32..60) {
            let formula = &crate::demo_formulas()[which];
            keeps(formula, pick, |f| f.name = "Another name".into());
            keeps(formula, pick, |f| f.lines.iter_mut().for_each(|l| l.grams.0 *= 2.0));
            let kitchen = crate::demo_kitchen();
            keeps(&kitchen, pick, |k: &mut Kitchen| k.room.0 = f64::from(room) / 2.0);
        }
    }

    #[test]
    fn a_line_keeps_what_is_its_own_when_others_come_and_go() {
        let formula = Formula::beginning("Weir loaf", Style::Tin);
        let mut old = serde_json::to_value(&formula).unwrap();
        old["lines"][1]["mill"] = json!("stone");
        let mut moved = formula.clone();
        moved.lines.swap(0, 1);
        let written: Value = serde_json::from_str(&write_over(&moved, &old.to_string()).unwrap()).unwrap();
        assert_eq!(written["lines"][0]["mill"], "stone");
        moved.lines.remove(0);
        let written = write_over(&moved, &old.to_string()).unwrap();
        assert!(!written.contains("stone"), "it goes with its line");
    }
}
