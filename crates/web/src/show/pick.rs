//! Entries to pick from.

use cerealis_core::choice::Choice;

/// An entry of a choice.
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

/// The entries of one of the core's choices.
pub fn picks_of<C: Choice>(chosen: &str) -> Vec<Pick> {
    picks(C::all().iter().map(|c| (c.key(), c.name())), chosen)
}
