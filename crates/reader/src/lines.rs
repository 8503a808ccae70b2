//! What is read of a recipe: its lines.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::quantity::Amount;
use cerealis_core::pantry::Measures;
use cerealis_core::units::Grams;
use cerealis_core::words::Stage;

/// Lines to read.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ReadInput {
    /// The lines as they were written or said.
    pub text: String,
    /// The measures that are meant.
    #[serde(default)]
    pub measures: Measures,
}

/// What a line is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum LineKind {
    /// A heading that opens a stage.
    Heading,
    /// An amount of an ingredient.
    Ingredient,
    /// A step of the method.
    Method,
    /// Anything else.
    Remark,
}

/// One line as it was understood.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct ReadLine {
    /// The line as it was.
    pub text: String,
    /// What it is.
    pub kind: LineKind,
    /// The stage it belongs to.
    pub stage: Stage,
    /// The amount as it was given.
    pub amount: Option<Amount>,
    /// The ingredient it is taken for: the likeliest of `candidates`.
    pub ingredient: Option<String>,
    /// Keys of all that it may be.
    pub candidates: Vec<String>,
    /// Where it may be nothing known: keys of what is spelt most like it.
    pub near: Vec<String>,
    /// What was said besides.
    pub note: String,
    /// Its mass, where it could be weighed.
    pub grams: Option<Grams>,
    /// The low end of its mass.
    pub low: Option<Grams>,
    /// The high end.
    pub high: Option<Grams>,
    /// Where the doubt is, a sentence each.
    pub doubts: Vec<String>,
}

/// The most lines that are read at once: a long recipe with its method has under a hundred.
pub const LINES_MAX: usize = 400;

pub(crate) fn is_weighed(line: &ReadLine) -> bool {
    line.kind == LineKind::Ingredient && line.grams.is_some()
}

/// A line of which nothing is known yet.
pub(crate) fn unread(text: &str, stage: Stage) -> ReadLine {
    ReadLine {
        text: text.to_owned(),
        kind: LineKind::Remark,
        stage,
        amount: None,
        ingredient: None,
        candidates: Vec::new(),
        near: Vec::new(),
        note: String::new(),
        grams: None,
        low: None,
        high: None,
        doubts: Vec::new(),
    }
}
