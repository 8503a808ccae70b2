//! A figure by its name, and a phase of work.

/// A figure with its name.
pub struct Fact {
    /// Its name.
    pub name: &'static str,
    /// The figure with its unit.
    pub figure: String,
}

/// A figure by its name.
pub fn fact(name: &'static str, figure: impl Into<String>) -> Fact {
    Fact { name, figure: figure.into() }
}

/// One phase of mixing as shown.
pub struct PhaseRow {
    /// Its name.
    pub name: String,
    /// Its length.
    pub time: String,
    /// What goes in: names with their grams.
    pub goes_in: Vec<(String, String)>,
    /// What is done, and the mixer's speed.
    pub what: String,
    /// The sign to stop at.
    pub sign: String,
    /// Whether it needs hands.
    pub hands_on: bool,
}
