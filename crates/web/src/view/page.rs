//! The pages of versions and of errors.

use askama::Template;
use cerealis_store::{DamagedRecord, FormulaId, Revision};

/// A version in the list.
pub struct VersionRow {
    /// Its number.
    pub revision: Revision,
    /// What changed.
    pub reason: String,
    /// When, by the kitchen's clock.
    pub at: String,
    /// Its bread, drawn.
    pub picture: String,
    /// Whether it is one of the two that are compared.
    pub chosen: bool,
    /// Where touching it leads.
    pub touch: String,
    /// Whether it is how the formula stands.
    pub newest: bool,
}

/// The versions of a formula.
#[derive(Template)]
#[template(path = "versions.html")]
pub struct VersionsPage {
    pub(crate) id: FormulaId,
    pub(crate) name: String,
    pub(crate) rows: Vec<VersionRow>,
    pub(crate) a: Revision,
    pub(crate) b: Revision,
    pub(crate) newest: Revision,
    pub(crate) lines: Vec<[String; 3]>,
    pub(crate) damaged: Vec<DamagedRecord>,
}

/// A page that says what went wrong, and keeps what was typed.
#[derive(Template)]
#[template(path = "error.html")]
pub struct ErrorPage {
    title: String,
    message: String,
    pub(crate) action: String,
    pub(crate) kept: Vec<(String, String)>,
    pub(crate) passes: bool,
    pub(crate) gone: bool,
}

impl ErrorPage {
    /// A title and a sentence.
    pub fn new(title: &str, message: &str) -> Self {
        ErrorPage {
            title: title.into(),
            message: message.into(),
            action: String::new(),
            kept: Vec::new(),
            passes: false,
            gone: false,
        }
    }

    /// Whether what was typed is of a formula, which can be brought back.
    fn of_formula(&self) -> bool {
        self.gone && self.kept.iter().any(|(name, _)| name == "rise.bulk.target")
    }

    /// What was typed and is worth reading: neither empty nor what the page itself sends along.
    fn readable(&self) -> impl Iterator<Item = &(String, String)> {
        let own = |name: &str| {
            matches!(name, "revision" | "here" | "op" | "counted" | "over") || name.ends_with(".exact")
        };
        self.kept.iter().filter(move |(name, value)| !value.trim().is_empty() && !own(name))
    }
}
