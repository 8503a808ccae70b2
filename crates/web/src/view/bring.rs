//! Bringing in a recipe: paste, review, accept.

use askama::Template;
use cerealis_core::formats::HouseholdFile;
use cerealis_core::formula::LINES_MAX;
use cerealis_core::pantry::{Catalogue, Cup, Tablespoon};
use cerealis_core::words::{Stage, Style};
use cerealis_reader::{Fact, Finding};

use crate::form::Form;
use crate::show::{Pick, picks_of};

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
    /// The same exactly, and as the page showed it.
    pub exact: String,
    /// What the page showed of that.
    pub shown: String,
    /// `115 to 135 g`, where there is a spread.
    pub spread: String,
    /// Where the doubt is.
    pub doubts: Vec<String>,
    /// Whether it goes into the formula.
    pub used: bool,
    /// What was said besides.
    pub note: String,
    /// Keys and names of what it may be.
    pub choose: Vec<(String, String)>,
    /// The keys as they travel along.
    pub choose_keys: String,
    /// Whether the ingredient is in the catalogue.
    pub known: bool,
    /// Where it becomes a new ingredient: what that is like, as typed.
    pub like: Option<String>,
    /// What is wrong with its fields.
    pub ingredient_fault: String,
    /// See above.
    pub grams_fault: String,
    /// See above.
    pub like_fault: String,
}

impl ReviewRow {
    /// Whether it is shown in full: where it is doubted, or something is wrong with it.
    fn is_open(&self) -> bool {
        let faults = [&self.ingredient_fault, &self.grams_fault, &self.like_fault];
        self.used && !self.doubts.is_empty() || self.like.is_some() || faults.iter().any(|f| !f.is_empty())
    }

    fn stage_name(&self) -> &str {
        self.stages.iter().find(|p| p.on).map_or("", |p| p.name.as_ref())
    }

    fn in_dough(&self) -> bool {
        self.stages.iter().any(|p| p.on && p.key == Stage::Dough.key())
    }

    /// Whether another ingredient would weigh otherwise: its amount is a volume, or not weighed yet.
    fn weighable(&self) -> bool {
        let named = self.known || self.like.is_some();
        self.choose.is_empty() && named && (!self.spread.is_empty() || self.grams.is_empty())
    }
}

/// The most findings that are shown.
const FOUND_MAX: usize = 40;

/// Something found in the method.
pub struct FoundRow {
    /// Its number on the page.
    pub row: usize,
    /// Itself, as it travels along.
    pub json: String,
    /// What it is, with its figure.
    pub says: String,
    /// What becomes of it.
    pub goes: String,
    /// Whether it is hard to believe.
    pub doubted: bool,
    /// Whether it is the first of its sentence, which is then shown.
    pub first: bool,
    /// The sentence it stands in.
    pub text: String,
    /// Whether it is taken.
    pub used: bool,
}

impl FoundRow {
    fn new(form: &Form, row: usize) -> Option<FoundRow> {
        let json = form.value(&format!("found.{row}")).to_owned();
        let finding: Finding = serde_json::from_str(&json).ok()?;
        Some(FoundRow {
            row,
            says: format!("{} {}", finding.found.name(), finding.figure()),
            text: finding.text.clone(),
            doubted: finding.doubt().is_some(),
            first: row == 0 || !form.value(&format!("found.{}", row - 1)).contains(&quoted(&finding.text)),
            goes: Fact::of(finding).why,
            used: form.ticked(&format!("found.{row}.used")),
            json,
        })
    }
}

/// A text as it stands in JSON.
fn quoted(text: &str) -> String {
    serde_json::to_string(text).unwrap_or_default()
}

/// What is in a household's file, before it is taken in.
pub struct HouseholdView {
    pub(crate) says: String,
    /// Whether this kitchen is new, and so takes the file's settings unless it is told not to.
    pub(crate) new_here: bool,
    pub(crate) prices: usize,
}

impl HouseholdView {
    /// What a file holds.
    pub fn new(file: &HouseholdFile, new_here: bool) -> Self {
        let count = |n: usize, one: &str, many: &str| match n {
            0 => None,
            1 => Some(format!("1 {one}")),
            n => Some(format!("{n} {many}")),
        };
        let parts = [
            count(file.formulas.len(), "formula", "formulas"),
            count(file.put_away.len(), "formula of the archive", "formulas of the archive"),
            count(file.cupboard.own.len(), "ingredient of its own", "ingredients of its own"),
            count(file.cupboard.prices.len(), "price", "prices"),
        ];
        let parts: Vec<String> = parts.into_iter().flatten().collect();
        let says = if parts.is_empty() { "nothing but its kitchen".into() } else { parts.join(", ") };
        HouseholdView { says, new_here, prices: file.cupboard.prices.len() }
    }
}

/// The page.
#[derive(Template)]
#[template(path = "bring.html")]
pub struct BringPage {
    pub(crate) household: Option<HouseholdView>,
    pub(crate) form: Form,
    pub(crate) rows: Vec<ReviewRow>,
    pub(crate) found: Vec<FoundRow>,
    pub(crate) hydration: Option<String>,
    pub(crate) names: Vec<String>,
}

impl BringPage {
    /// The page as typed, with the lines under review.
    pub fn new(form: Form, rows: Vec<ReviewRow>, catalogue: &Catalogue) -> Self {
        let names = catalogue.at_hand().map(|i| i.name.clone()).collect();
        let found = (0..FOUND_MAX).map_while(|n| FoundRow::new(&form, n)).collect();
        BringPage { household: None, found, rows, hydration: None, names, form }
    }

    fn doubted(&self) -> usize {
        self.rows.iter().filter(|r| r.used && !r.doubts.is_empty()).count()
    }

    /// How many more lines are ticked than a formula has.
    fn too_many(&self) -> usize {
        self.rows.iter().filter(|r| r.used).count().saturating_sub(LINES_MAX)
    }

    fn chosen<'a>(&'a self, field: &str, otherwise: &'a str) -> &'a str {
        Some(self.form.value(field)).filter(|v| !v.is_empty()).unwrap_or(otherwise)
    }

    fn cups(&self) -> Vec<Pick> {
        picks_of::<Cup>(self.chosen("cup", "us"))
    }

    fn tablespoons(&self) -> Vec<Pick> {
        picks_of::<Tablespoon>(self.chosen("tablespoon", "us"))
    }

    /// Why this style is proposed.
    fn because(&self) -> String {
        match self.form.value("because") {
            "" => String::new(),
            because => format!("Because {because}."),
        }
    }

    fn styles(&self) -> Vec<Pick> {
        picks_of::<Style>(self.chosen("style", "tin"))
    }
}

/// The stages with one chosen.
pub fn stage_picks(chosen: &str) -> Vec<Pick> {
    picks_of::<Stage>(chosen)
}
