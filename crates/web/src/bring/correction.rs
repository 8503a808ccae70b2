//! Corrections of a line of what is brought in, each by one press.

use cerealis_core::pantry::{Catalogue, Ingredient};
use cerealis_reader::weigh_as;

use crate::form::Form;

/// A correction of one line by one press.
pub(super) enum Correction {
    /// It is this ingredient: its weight follows.
    Pick(usize, String),
    /// Weigh it as the ingredient that is typed.
    Weigh(usize),
    /// It becomes a new ingredient.
    New(usize),
}

impl Correction {
    pub(super) fn from_key(key: &str) -> Option<Correction> {
        let mut parts = key.split(':');
        let name = parts.next()?;
        let row = parts.next()?.parse().ok()?;
        match name {
            "pick" => Some(Correction::Pick(row, parts.next()?.to_owned())),
            "weigh" => Some(Correction::Weigh(row)),
            "new" => Some(Correction::New(row)),
            _ => None,
        }
    }
}

pub(super) fn correct(form: &mut Form, correction: &Correction, catalogue: &Catalogue) {
    match correction {
        Correction::Pick(row, key) => {
            let Some(i) = catalogue.get(key) else { return };
            form.set(format!("rows.{row}.ingredient"), &i.name);
            form.set(format!("rows.{row}.choose"), "");
            form.forget(|name| name == format!("rows.{row}.like"));
            weigh_row(form, *row, i);
        }
        Correction::Weigh(row) => {
            if let Some(i) = row_ingredient(form, *row, catalogue) {
                weigh_row(form, *row, i);
            }
        }
        Correction::New(row) => {
            form.set(format!("rows.{row}.like"), "");
            form.set(format!("rows.{row}.choose"), "");
            let name = format!("rows.{row}.ingredient");
            if form.value(&name).trim().is_empty() || catalogue.named(form.value(&name)).is_some() {
                let said = form.value(&format!("rows.{row}.note")).split(';').next().unwrap_or("");
                let mut said: String = said.trim().chars().take(60).collect();
                if let Some(first) = said.get_mut(0..1) {
                    first.make_ascii_uppercase();
                }
                form.set(name, said);
            }
        }
    }
}

/// The ingredient that a row names, or that its new one is like.
pub(super) fn row_ingredient<'a>(
    form: &Form,
    row: usize,
    catalogue: &'a Catalogue,
) -> Option<&'a Ingredient> {
    let named = |field: &str| catalogue.named(form.value(&format!("rows.{row}.{field}")));
    named("ingredient").or_else(|| named("like"))
}

fn weigh_row(form: &mut Form, row: usize, ingredient: &Ingredient) {
    let line = weigh_as(form.value(&format!("rows.{row}.text")), Some(ingredient), super::measures(form));
    if line.grams.is_some() {
        form.put_weight(&format!("rows.{row}.grams"), line.grams);
    }
}
