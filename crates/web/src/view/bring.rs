//! Bringing in a recipe: paste, review, accept.

use askama::Template;
use cerealis_core::formula::{Stage, Style};
use cerealis_core::ingredient::Catalogue;
use cerealis_core::measures::{Cup, Tablespoon};

use super::{Pick, picks_of};
use crate::form::Form;

/// A line under review.
pub struct ReviewRow {
    /// Its number on the page.
    pub row: usize,
    /// The line as it was.
    pub text: String,
    /// The ingredient it is taken for, by name.
    pub ingredient: String,
    /// The stages to choose from.
    pub stages: Vec<Pick>,
    /// Its grams as text.
    pub grams: String,
    /// `115 to 135 g`, where there is a spread.
    pub spread: String,
    /// Where the doubt is.
    pub doubts: Vec<String>,
    /// Whether it goes into the formula.
    pub used: bool,
    /// What is wrong with its fields.
    pub ingredient_fault: String,
    /// See above.
    pub grams_fault: String,
}

/// The page.
#[derive(Template)]
#[template(path = "bring.html")]
pub struct BringPage {
    pub(crate) form: Form,
    pub(crate) rows: Vec<ReviewRow>,
    pub(crate) remarks: Vec<String>,
    pub(crate) hydration: Option<String>,
    pub(crate) names: Vec<String>,
}

impl BringPage {
    /// The page as typed, with the lines under review.
    pub fn new(form: Form, rows: Vec<ReviewRow>) -> Self {
        let names = Catalogue::bundled().iter().map(|i| i.name.clone()).collect();
        BringPage { form, rows, remarks: Vec::new(), hydration: None, names }
    }

    fn chosen<'a>(&'a self, field: &str, otherwise: &'a str) -> &'a str {
        Some(self.form.value(field)).filter(|v| !v.is_empty()).unwrap_or(otherwise)
    }

    fn cups(&self) -> Vec<Pick> {
        picks_of!(Cup, self.chosen("cup", "us"))
    }

    fn tablespoons(&self) -> Vec<Pick> {
        picks_of!(Tablespoon, self.chosen("tablespoon", "us"))
    }

    fn styles(&self) -> Vec<Pick> {
        picks_of!(Style, self.chosen("style", "tin"))
    }
}

/// The stages with one chosen.
pub fn stage_picks(chosen: &str) -> Vec<Pick> {
    picks_of!(Stage, chosen)
}
