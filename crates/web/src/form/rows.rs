//! Lists as rows of a form: each row has its number, and one field that tells that it is there.

use cerealis_core::fault::{Fault, Faults};

use super::Form;

/// The lists of a page: the name of each, and the field that tells that a row of it is there.
pub type Lists = [(&'static str, &'static str)];

/// The most rows of one list that a page may send.
const ROWS_MAX: usize = 60;

fn first_of(lists: &Lists, list: &str) -> Option<(&'static str, &'static str)> {
    lists.iter().find(|(name, _)| *name == list).copied()
}

/// The numbers of the rows of a list, in order.
pub fn rows(form: &Form, lists: &Lists, list: &str) -> Vec<usize> {
    let Some((_, first)) = first_of(lists, list) else { return Vec::new() };
    let number = |name: &String| {
        let row = name.strip_prefix(list)?.strip_prefix('.')?.strip_suffix(first)?.strip_suffix('.')?;
        row.parse().ok()
    };
    let mut found: Vec<usize> = form.values().keys().filter_map(number).collect();
    found.sort_unstable();
    found.truncate(ROWS_MAX);
    found
}

/// The field on the page of a fault that the core tells by a row's place in its list: `pans.1.ml` of the rows 0 and 4
/// is `pans.4.ml`.
pub fn at_its_row(form: &Form, lists: &Lists, path: &str) -> Option<(String, String)> {
    let (list, rest) = path.split_once('.')?;
    let (place, field) = rest.split_once('.')?;
    let (list, _) = first_of(lists, list)?;
    let row = *rows(form, lists, list).get(place.parse::<usize>().ok()?)?;
    Some((format!("{list}.{row}"), field.to_owned()))
}

/// Faults at the fields that a page has for them; those that it does not know stay where they are.
pub fn moved(faults: Faults, at: impl Fn(&str) -> Option<String>) -> Faults {
    let moved = |f: Fault| match at(&f.path) {
        Some(path) => Fault { path, ..f },
        None => f,
    };
    Faults(faults.0.into_iter().map(moved).collect())
}

/// What a button of a list asks for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Press {
    /// Another row at its end.
    Add(&'static str),
    /// A row away.
    Remove(&'static str, usize),
}

impl Press {
    /// Reads `add:pans` and `remove:pans:2`; nothing for any other button.
    pub fn from_key(lists: &Lists, key: &str) -> Option<Press> {
        let mut parts = key.split(':');
        let (what, list) = (parts.next()?, parts.next()?);
        let (list, _) = first_of(lists, list)?;
        match (what, parts.next(), parts.next()) {
            ("add", None, None) => Some(Press::Add(list)),
            ("remove", Some(row), None) => Some(Press::Remove(list, row.parse().ok()?)),
            _ => None,
        }
    }

    /// Does it to what was typed; the number of the row that came.
    pub fn on(self, lists: &Lists, form: &mut Form) -> Option<usize> {
        match self {
            Press::Add(list) => {
                let (_, first) = first_of(lists, list)?;
                let next = rows(form, lists, list).last().map_or(0, |n| n + 1);
                form.set(format!("{list}.{next}.{first}"), "");
                Some(next)
            }
            Press::Remove(list, row) => {
                let own = format!("{list}.{row}.");
                form.forget(|name| name.starts_with(&own));
                None
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const LISTS: [(&str, &str); 2] = [("pans", "name"), ("places", "name")];

    #[test]
    fn only_the_buttons_of_a_page_are_pressed() {
        let read = |key: &str| Press::from_key(&LISTS, key);
        assert_eq!(read("add:pans"), Some(Press::Add("pans")));
        assert_eq!(read("remove:places:7"), Some(Press::Remove("places", 7)));
        for key in
            ["", "add", "add:ovens", "add:pans:1", "remove:pans", "remove:pans:x", "remove:pans:1:2", "save"]
        {
            assert_eq!(read(key), None, "{key}");
        }
    }

    #[test]
    fn a_fault_stands_at_the_number_of_its_row() {
        let mut form = Form::default();
        for row in [0, 4, 11] {
            form.set(format!("pans.{row}.name"), "x");
        }
        let at = |path: &str| at_its_row(&form, &LISTS, path);
        assert_eq!(at("pans.1.ml"), Some(("pans.4".into(), "ml".into())));
        assert_eq!(at("pans.2.form.depth"), Some(("pans.11".into(), "form.depth".into())));
        for path in ["pans.3.ml", "ovens.0.name", "pans", "pans.1"] {
            assert_eq!(at(path), None, "{path}");
        }
    }

    proptest! {
        /// However rows come and go, each keeps what was typed in it, and none takes another's number.
        #[test]
        fn rows_keep_what_is_theirs(presses in prop::collection::vec((any::<bool>(), 0usize..6), 0..24)) {
            let mut form = Form::default();
            let mut there: Vec<usize> = Vec::new();
            for (adds, which) in presses {
                if adds || there.is_empty() {
                    let row = Press::Add("pans").on(&LISTS, &mut form).unwrap();
                    prop_assert!(!there.contains(&row));
                    form.set(format!("pans.{row}.name"), format!("pan {row}"));
                    there.push(row);
                } else {
                    let row = there.remove(which % there.len());
                    Press::Remove("pans", row).on(&LISTS, &mut form);
                }
                prop_assert_eq!(&rows(&form, &LISTS, "pans"), &there);
                for row in &there {
                    prop_assert_eq!(form.value(&format!("pans.{row}.name")), format!("pan {row}"));
                }
            }
        }
    }
}
