//! The rows of the line editor, as typed.

use cerealis_core::words::Stage;

use crate::form::Form;

/// A row of the line editor, as typed.
#[derive(Clone, Debug)]
pub struct LineRow {
    /// Its number on the page.
    pub row: usize,
    /// Its stage.
    pub stage: Stage,
}

/// The numbers of the rows on the page, in order.
pub fn rows(form: &Form) -> Vec<LineRow> {
    let mut found: Vec<LineRow> = form
        .values
        .iter()
        .filter_map(|(name, stage)| {
            let row = name.strip_prefix("lines.")?.strip_suffix(".stage")?.parse().ok()?;
            Some(LineRow { row, stage: Stage::from_key(stage).unwrap_or(Stage::Dough) })
        })
        .collect();
    found.sort_by_key(|r| r.row);
    found
}

pub(super) fn line_fields(form: &Form, row: usize) -> Vec<(String, String)> {
    let prefix = format!("lines.{row}.");
    let own = |name: &String| name.starts_with(&prefix);
    form.values
        .iter()
        .filter(|(k, _)| own(k))
        .map(|(k, v)| (k[prefix.len()..].to_owned(), v.clone()))
        .collect()
}

/// Writes the rows back under consecutive numbers.
pub(super) fn renumber(form: &mut Form, order: Vec<Vec<(String, String)>>) {
    form.values.retain(|name, _| !name.starts_with("lines."));
    for (i, fields) in order.into_iter().enumerate() {
        for (field, value) in fields {
            form.set(format!("lines.{i}.{field}"), value);
        }
    }
}

pub(super) fn insert_row(form: &mut Form, stage: Stage) {
    let rows = rows(form);
    let at = rows.iter().rposition(|r| r.stage <= stage).map_or(0, |i| i + 1);
    let mut order: Vec<_> = rows.iter().map(|r| line_fields(form, r.row)).collect();
    let field = |k: &str, v: &str| (k.to_owned(), v.to_owned());
    order.insert(
        at,
        vec![
            field("stage", stage.key()),
            field("ingredient", ""),
            field("exact", "0"),
            field("grams", ""),
            field("percent", ""),
            field("shown", "0 0"),
            field("note", ""),
        ],
    );
    renumber(form, order);
}

pub(super) fn remove_row(form: &mut Form, row: usize) {
    let order = rows(form).iter().filter(|r| r.row != row).map(|r| line_fields(form, r.row)).collect();
    renumber(form, order);
}
