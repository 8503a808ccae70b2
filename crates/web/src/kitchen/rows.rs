//! Lists of the kitchen as rows: places, pans, speeds and readings, each with its own fields.

use cerealis_core::fault::Faults;

use crate::form::Form;
use crate::form::rows::{self as of_form, Press, at_its_row, moved};

/// The lists, and the field that tells that a row is there.
const LISTS: [(&str, &str); 10] = [
    ("places", "name"),
    ("pans", "name"),
    ("ovens", "name"),
    ("mixers", "name"),
    ("nights", "evening"),
    ("away", "name"),
    ("helpers", "name"),
    ("oven_readings", "dial"),
    ("friction", "per_minute"),
    ("instruments", "address"),
];

/// The numbers of the rows of a list on the page, in order.
pub fn rows(form: &Form, list: &str) -> Vec<usize> {
    of_form::rows(form, &LISTS, list)
}

/// Faults that the core tells by a row's place in its list, at the row's number on the page; those of a pan's form at the
/// pan's own fields.
pub fn at_their_rows(form: &Form, faults: Faults) -> Faults {
    let at = |path: &str| -> Option<String> {
        let (row, field) = at_its_row(form, &LISTS, path)?;
        let field = field.strip_prefix("form.").unwrap_or(&field);
        Some(format!("{row}.{}", if field == "night" { "by_night" } else { field }))
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
    let speeds = |path: &str| (path == "mixer_speeds").then(|| "mixer_speeds.0".to_owned());
    moved(faults, |path| reading(path).or_else(|| at(path)).or_else(|| speeds(path)))
}

/// What stands in a new row before anything is typed.
fn usual(list: &str) -> &'static [(&'static str, &'static str)] {
    match list {
        "ovens" => &[("preheat", "15"), ("recovery", "6"), ("levels", "2"), ("marks", "5"), ("hot", "even")],
        "mixers" => &[("speeds", "60, 95, 130")],
        "nights" => &[("evening", "fri")],
        "pans" => &[("shape", "tin")],
        "instruments" => &[("kind", "scale")],
        _ => &[],
    }
}

/// What a save that nobody pressed leaves out where it has a fault, so that the rest is saved: rows that were added and
/// are not filled yet, and rows and fields as they are kept. `None` where a fault has no such field.
pub fn without_faults(form: &Form, kept: &Form, faults: &Faults) -> Option<Held> {
    let mut held = Held { form: form.clone(), unfinished: false, faulty: false };
    for fault in &faults.0 {
        let mut parts = fault.path.split('.');
        let (list, row) = (parts.next()?, parts.next());
        let Some(row) = row.and_then(|r| r.parse::<usize>().ok()) else {
            // A field by itself.
            if !kept.values().contains_key(&fault.path) {
                return None;
            }
            held.form.set(&fault.path, kept.value(&fault.path));
            held.faulty = true;
            continue;
        };
        let own = format!("{list}.{row}.");
        let fresh = form.ticked(&format!("fresh.{list}.{row}"));
        let place = rows(form, list).iter().position(|n| *n == row)?;
        held.form.forget(|name| name.starts_with(&own));
        if fresh {
            held.unfinished = true;
            continue;
        }
        // Rows are known by their place: one that came or went moves the others.
        let mut old =
            rows(kept, list).into_iter().filter(|_| rows(form, list).len() == rows(kept, list).len());
        let was = format!("{list}.{}.", old.nth(place)?);
        for (name, value) in kept.values() {
            if let Some(field) = name.strip_prefix(&was) {
                held.form.set(format!("{own}{field}"), value);
            }
        }
        held.faulty = true;
    }
    Some(held)
}

/// A form without what is faulty in it.
pub struct Held {
    /// The form.
    pub form: Form,
    /// Whether rows are out of it that are not filled yet.
    pub unfinished: bool,
    /// Whether something stays as it was kept.
    pub faulty: bool,
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

/// The press of a list's button, if it is one.
pub fn press_of(form: &Form) -> Option<Press> {
    Press::from_key(&LISTS, form.value("op"))
}

/// Does what a button of a list asks for to what was typed.
pub fn press(press: Press, form: &mut Form) {
    match press {
        Press::Remove("ovens", row) => take_out(form, row, "ovens", ("oven_readings", "oven")),
        Press::Remove("mixers", row) => take_out(form, row, "mixers", ("friction", "mixer")),
        _ => {}
    }
    match (press, press.on(&LISTS, form)) {
        (Press::Add(list), Some(row)) => {
            for (field, usual) in usual(list) {
                form.set(format!("{list}.{row}.{field}"), *usual);
            }
            form.set(format!("fresh.{list}.{row}"), "1");
        }
        (Press::Remove(list, row), _) => form.forget(|name| name == format!("fresh.{list}.{row}")),
        _ => {}
    }
}
