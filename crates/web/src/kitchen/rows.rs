//! Lists of the kitchen as rows: places, pans, speeds and readings, each with its own fields.

use cerealis_core::fault::{Fault, Faults};

use crate::form::Form;

/// The lists, and the field that tells that a row is there.
pub const LISTS: [(&str, &str); 8] = [
    ("places", "name"),
    ("pans", "name"),
    ("ovens", "name"),
    ("mixers", "name"),
    ("nights", "evening"),
    ("away", "name"),
    ("oven_readings", "dial"),
    ("friction", "per_minute"),
];

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
        // Readings of further ovens and mixers stand in one list with those of the usual one.
        let row = *rows(form, list).get(place.parse::<usize>().ok()?)?;
        let field = field.strip_prefix("form.").unwrap_or(field);
        let field = if field == "night" { "by_night" } else { field };
        Some(format!("{list}.{row}.{field}"))
    };
    // “ovens.0.readings.1.dial” stands in the list of all readings.
    let reading = |path: &str| -> Option<String> {
        let mut parts = path.strip_prefix("ovens.")?.splitn(4, '.');
        let (oven, _, nth, field) = (parts.next()?, parts.next()?, parts.next()?, parts.next()?);
        let oven = (oven.parse::<usize>().ok()? + 1).to_string();
        let of_it = |n: &usize| form.value(&format!("oven_readings.{n}.oven")) == oven;
        let row = rows(form, "oven_readings").into_iter().filter(of_it).nth(nth.parse().ok()?)?;
        Some(format!("oven_readings.{row}.{field}"))
    };
    let moved = |f: Fault| match reading(&f.path).or_else(|| at(&f.path)) {
        Some(path) => Fault { path, ..f },
        None if f.path == "mixer_speeds" => Fault { path: "mixer_speeds.0".into(), ..f },
        None => f,
    };
    Faults(faults.0.into_iter().map(moved).collect())
}

/// What stands in a new row before anything is typed.
fn usual(list: &str) -> &'static [(&'static str, &'static str)] {
    match list {
        "ovens" => &[("preheat", "15"), ("recovery", "6"), ("levels", "2"), ("marks", "5"), ("hot", "even")],
        "mixers" => &[("speeds", "60, 95, 130")],
        "nights" => &[("evening", "fri")],
        "pans" => &[("shape", "tin")],
        _ => &[],
    }
}

/// The rows that were added and are not filled yet: in a save that nobody pressed they are left out where they have a
/// fault.
pub fn without_unfinished(form: &Form, faults: &Faults) -> Option<Form> {
    let row_of = |path: &str| -> Option<String> {
        let mut parts = path.split('.');
        Some(format!("{}.{}", parts.next()?, parts.next()?))
    };
    let mut left = form.clone();
    for fault in &faults.0 {
        let row = row_of(&fault.path)?;
        if !form.ticked(&format!("fresh.{row}")) {
            return None;
        }
        left.forget(|name| name.strip_prefix(row.as_str()).is_some_and(|rest| rest.starts_with('.')));
    }
    Some(left)
}

/// What an oven or a mixer has shown goes with it, and the others move up.
fn take_out(form: &mut Form, row: usize, list: &str, (readings, of): (&str, &str)) {
    let Some(place) = rows(form, list).iter().position(|n| *n == row) else { return };
    for n in rows(form, readings) {
        let field = format!("{readings}.{n}.{of}");
        match form.value(&field).parse::<usize>() {
            Ok(m) if m == place + 1 => form.forget(|name| name.starts_with(&format!("{readings}.{n}."))),
            Ok(m) if m > place + 1 => form.set(field, (m - 1).to_string()),
            _ => {}
        }
    }
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
                for (field, usual) in usual(list) {
                    form.set(format!("{list}.{next}.{field}"), *usual);
                }
                form.set(format!("fresh.{list}.{next}"), "1");
            }
            Press::Remove(list, row) => {
                match list {
                    "ovens" => take_out(form, row, list, ("oven_readings", "oven")),
                    "mixers" => take_out(form, row, list, ("friction", "mixer")),
                    _ => {}
                }
                let own = format!("{list}.{row}.");
                form.forget(|name| name.starts_with(&own) || name == format!("fresh.{list}.{row}"));
            }
        }
    }
}
