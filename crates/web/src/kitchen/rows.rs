//! Lists of the kitchen as rows: places, pans, speeds and readings, each with its own fields.

use cerealis_core::fault::{Fault, Faults};

use crate::form::Form;

/// The lists, and the field that tells that a row is there.
pub const LISTS: [(&str, &str); 4] =
    [("places", "name"), ("pans", "name"), ("oven_readings", "dial"), ("friction", "per_minute")];

/// The most rows of one list that a page may send.
const ROWS_MAX: usize = 60;

/// The numbers of the rows of a list on the page, in order.
pub fn rows(form: &Form, list: &str) -> Vec<usize> {
    let first = LISTS.iter().find(|(l, _)| *l == list).map_or("name", |(_, first)| first);
    let number = |name: &String| {
        let row = name.strip_prefix(list)?.strip_prefix('.')?.strip_suffix(first)?.strip_suffix('.')?;
        row.parse().ok()
    };
    let mut found: Vec<usize> = form.values().keys().filter_map(number).collect();
    found.sort_unstable();
    found.truncate(ROWS_MAX);
    found
}

/// Faults that the core tells by a row's place in its list, at the row's number on the page; those of a pan's form at the
/// pan's own fields.
pub fn at_their_rows(form: &Form, faults: Faults) -> Faults {
    let at = |path: &str| -> Option<String> {
        let (list, rest) = path.split_once('.')?;
        let (place, field) = rest.split_once('.')?;
        LISTS.iter().find(|(l, _)| *l == list)?;
        let row = *rows(form, list).get(place.parse::<usize>().ok()?)?;
        let field = field.strip_prefix("form.").unwrap_or(field);
        let field = if field == "night" { "by_night" } else { field };
        Some(format!("{list}.{row}.{field}"))
    };
    let moved = |f: Fault| match at(&f.path) {
        Some(path) => Fault { path, ..f },
        None if f.path == "mixer_speeds" => Fault { path: "mixer_speeds.0".into(), ..f },
        None => f,
    };
    Faults(faults.0.into_iter().map(moved).collect())
}

/// What a button of a list asks for.
pub enum Press {
    /// Another row at its end.
    Add(&'static str),
    /// A row away.
    Remove(&'static str, usize),
}

impl Press {
    /// Reads `add:pans` and `remove:pans:2`; nothing for any other button.
    pub fn from_key(key: &str) -> Option<Press> {
        let mut parts = key.split(':');
        let (what, list) = (parts.next()?, parts.next()?);
        let list = LISTS.iter().find(|(l, _)| *l == list)?.0;
        match (what, parts.next()) {
            ("add", None) => Some(Press::Add(list)),
            ("remove", Some(row)) => Some(Press::Remove(list, row.parse().ok()?)),
            _ => None,
        }
    }

    /// Does it to what was typed.
    pub fn on(self, form: &mut Form) {
        match self {
            Press::Add(list) => {
                let next = rows(form, list).last().map_or(0, |n| n + 1);
                let first = LISTS.iter().find(|(l, _)| *l == list).map_or("name", |(_, first)| first);
                form.set(format!("{list}.{next}.{first}"), "");
            }
            Press::Remove(list, row) => {
                let own = format!("{list}.{row}.");
                form.forget(|name| name.starts_with(&own));
            }
        }
    }
}
