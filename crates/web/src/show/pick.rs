//! Entries to pick from.

use cerealis_core::choice::Choice;
use jiff::civil::Date;

/// An entry of a choice.
#[derive(Clone)]
pub struct Pick {
    /// Its value.
    pub key: String,
    /// Its name.
    pub name: String,
    /// Whether it is chosen.
    pub on: bool,
}

/// Entries by key and name, the chosen one marked.
pub fn picks<'a>(all: impl IntoIterator<Item = (&'a str, &'a str)>, chosen: &str) -> Vec<Pick> {
    all.into_iter()
        .map(|(key, name)| Pick { on: key == chosen, key: key.into(), name: name.into() })
        .collect()
}

/// Ovens or mixers by their names, the usual one first and by no name; nothing where there is no choice.
pub fn equipment(names: &[&str], chosen: &str) -> Vec<Pick> {
    if names.len() < 2 {
        return Vec::new();
    }
    picks(names.iter().enumerate().map(|(i, name)| (if i == 0 { "" } else { name }, *name)), chosen)
}

/// How many days lie ready to be picked.
const DAYS: usize = 8;

/// The days from today on, and one that was picked before them or after.
pub fn days(today: Date, chosen: &str) -> Vec<Pick> {
    let mut all: Vec<Date> = std::iter::successors(Some(today), |d| d.tomorrow().ok()).take(DAYS).collect();
    if let Some(other) = chosen.parse::<Date>().ok().filter(|d| !all.contains(d)) {
        all.push(other);
        all.sort_unstable();
    }
    let name = |d: Date| match (d - today).get_days() {
        0 => "Today".to_owned(),
        1 => "Tomorrow".to_owned(),
        _ => d.strftime("%a %-d %b").to_string(),
    };
    all.into_iter()
        .map(|d| {
            let key = d.to_string();
            Pick { on: key == chosen, name: name(d), key }
        })
        .collect()
}

/// The entries of one of the core's choices.
pub fn picks_of<C: Choice>(chosen: &str) -> Vec<Pick> {
    picks(C::all().iter().map(|c| (c.key(), c.name())), chosen)
}
