//! What is wrong with an input, said so that a person and a program can both act on it.

use std::fmt;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// One thing that is wrong with an input.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Fault {
    /// A short word for programs: `missing`, `not-a-number`, `out-of-range`, `unknown`, `impossible`.
    pub code: String,
    /// A plain sentence that says what to do.
    pub message: String,
    /// The field it is about, as a dotted path: `lines.2.grams`. Empty when it is the whole input.
    pub path: String,
}

impl Fault {
    /// A fault of the given code at a field.
    pub fn new(code: &str, path: impl Into<String>, message: impl Into<String>) -> Self {
        Fault { code: code.into(), message: message.into(), path: path.into() }
    }
}

impl fmt::Display for Fault {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(&self.message)
    }
}

/// Everything that is wrong with an input; never empty.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
#[error("{}", .0.iter().map(|f| f.message.as_str()).collect::<Vec<_>>().join(" "))]
pub struct Faults(pub Vec<Fault>);

impl From<Fault> for Faults {
    fn from(f: Fault) -> Self {
        Faults(vec![f])
    }
}

/// Collects faults while an input is checked, so that all are told at once.
#[derive(Debug, Default)]
pub struct Check {
    faults: Vec<Fault>,
}

impl Check {
    /// Nothing found yet.
    pub fn new() -> Self {
        Self::default()
    }

    /// Notes a fault.
    pub fn note(&mut self, fault: Fault) {
        self.faults.push(fault);
    }

    /// Notes a fault unless `value` is a number within `low..=high`. `what` begins the sentence,
    /// `unit` ends its figures.
    pub fn range(&mut self, path: &str, what: &str, value: f64, low: f64, high: f64, unit: &str) {
        if !(value >= low && value <= high) {
            self.note(Fault::new("out-of-range", path, out_of_range(what, low, high, unit)));
        }
    }

    /// Notes a fault when `text` is longer than `most` characters.
    pub fn length(&mut self, path: &str, what: &str, text: &str, most: usize) {
        if text.chars().count() > most {
            self.note(Fault::new("out-of-range", path, format!("{what} has at most {most} characters.")));
        }
    }

    /// `Ok(value)` when nothing was found.
    pub fn done<T>(self, value: T) -> Result<T, Faults> {
        if self.faults.is_empty() { Ok(value) } else { Err(Faults(self.faults)) }
    }
}

/// The sentence for a figure outside its range.
pub fn out_of_range(what: &str, low: f64, high: f64, unit: &str) -> String {
    let unit = if unit.is_empty() { String::new() } else { format!(" {unit}") };
    format!("{what} goes from {low} to {high}{unit}. Enter a figure in that range.")
}
