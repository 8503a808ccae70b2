//! The lines and the make-ups, as they are typed.

use askama::Template;
use cerealis_core::words::{Kind, Stage, Vessel};

use crate::form::Form;
use crate::show::{Pick, picks, picks_of};

/// A line being edited.
pub struct LineView {
    /// Its number on the page.
    pub row: usize,
    /// Its fields as typed.
    pub ingredient: String,
    /// The exact mass that travels with it.
    pub exact: String,
    /// What the page shows of it, which travels along.
    pub shown: String,
    /// Grams as typed.
    pub grams: String,
    /// Percentage as typed.
    pub percent: String,
    /// What is to be known of it besides.
    pub note: String,
    /// What is wrong with each.
    pub ingredient_fault: String,
    /// See above.
    pub grams_fault: String,
    /// See above.
    pub percent_fault: String,
}

/// A stage being edited.
pub struct StageView {
    /// Its name.
    pub name: &'static str,
    /// Its key.
    pub key: &'static str,
    /// Whether it is made ahead, and so stands somewhere for a time.
    pub ahead: bool,
    /// Whether it ferments, and so has a size against the dough.
    pub preferment: bool,
    /// Whether it is the levain, which is built from a kept culture.
    pub levain: bool,
    /// Its lines.
    pub lines: Vec<LineView>,
}

/// The line editor.
#[derive(Template)]
#[template(path = "formula/lines.html")]
pub struct Lines {
    form: Form,
    stages: Vec<StageView>,
    add: Vec<Pick>,
}

impl Lines {
    /// The editor as typed.
    pub fn new(form: &Form) -> Self {
        let rows = super::rows::rows(form);
        let stage_view = |stage: Stage| StageView {
            name: stage.name(),
            key: stage.key(),
            ahead: stage.is_ahead(),
            preferment: stage.is_preferment(),
            levain: stage == Stage::Preferment,
            lines: rows.iter().filter(|r| r.stage == stage).map(|r| line_view(form, r.row)).collect(),
        };
        let stages: Vec<_> = Stage::ALL.into_iter().map(stage_view).collect();
        let (used, free): (Vec<_>, Vec<_>) =
            stages.into_iter().partition(|s| !s.lines.is_empty() || s.key == "dough");
        let add = picks(free.into_iter().map(|s| (s.key, s.name)), "");
        Lines { form: form.clone(), add, stages: used }
    }
}

/// The further make-ups being edited.
#[derive(Template)]
#[template(path = "formula/makeups.html")]
pub struct MakeUps {
    form: Form,
    rows: Vec<MakeUpRow>,
}

/// A further make-up being edited.
pub struct MakeUpRow {
    /// Its number on the page.
    pub row: usize,
    /// Its shapes to choose from.
    pub kinds: Vec<Pick>,
    /// What it may bake on or in.
    pub vessels: Vec<Pick>,
}

impl MakeUps {
    /// The make-ups as typed.
    pub fn new(form: &Form) -> Self {
        let row = |row: usize| MakeUpRow {
            row,
            kinds: picks_of::<Kind>(form.value(&format!("makeups.{row}.kind"))),
            vessels: picks_of::<Vessel>(form.value(&format!("makeups.{row}.vessel"))),
        };
        MakeUps { form: form.clone(), rows: super::read::makeup_rows(form).into_iter().map(row).collect() }
    }
}

fn line_view(form: &Form, row: usize) -> LineView {
    let text = |field: &str| form.value(&format!("lines.{row}.{field}")).to_owned();
    let fault = |field: &str| form.fault(&format!("lines.{row}.{field}")).unwrap_or_default().to_owned();
    LineView {
        row,
        ingredient: text("ingredient"),
        exact: text("exact"),
        shown: text("shown"),
        grams: text("grams"),
        percent: text("percent"),
        note: text("note"),
        ingredient_fault: fault("ingredient"),
        grams_fault: fault("grams"),
        percent_fault: fault("percent"),
    }
}
