//! Formulas in the kitchen's file.

use cerealis_core::formula::Formula;
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;

use crate::schema::formulas;
use crate::versions::keep;
use crate::{Store, StoreError, now};

/// Which formula.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub struct FormulaId(pub i32);

/// A formula as it is kept.
#[derive(Clone, Debug, PartialEq)]
pub struct StoredFormula {
    /// Which one.
    pub id: FormulaId,
    /// Counted up at each save.
    pub revision: i32,
    /// When it was last saved, RFC 3339 in UTC.
    pub updated_at: String,
    /// Whether it is put away.
    pub archived: bool,
    /// The formula.
    pub formula: Formula,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = formulas)]
struct Row {
    id: i32,
    body: String,
    revision: i32,
    updated_at: String,
    archived_at: Option<String>,
}

#[derive(Insertable)]
#[diesel(table_name = formulas)]
struct NewRow<'a> {
    body: &'a str,
    revision: i32,
    updated_at: &'a str,
}

impl Row {
    fn read(self) -> Result<StoredFormula, StoreError> {
        Ok(StoredFormula {
            id: FormulaId(self.id),
            revision: self.revision,
            updated_at: self.updated_at,
            archived: self.archived_at.is_some(),
            formula: serde_json::from_str(&self.body)?,
        })
    }
}

/// Adds a formula; within a transaction.
pub(crate) fn create(c: &mut SqliteConnection, formula: &Formula) -> Result<FormulaId, StoreError> {
    let body = serde_json::to_string(formula)?;
    let row = NewRow { body: &body, revision: 1, updated_at: &now() };
    let id: i32 = diesel::insert_into(formulas::table).values(row).returning(formulas::id).get_result(c)?;
    keep(c, id, 1, &body, "As it began")?;
    Ok(FormulaId(id))
}

impl Store {
    /// All formulas that are not deleted, those put away among them, by name.
    ///
    /// # Errors
    /// What the database reports.
    pub fn formulas(&self) -> Result<Vec<StoredFormula>, StoreError> {
        let rows: Vec<Row> = formulas::table
            .filter(formulas::deleted_at.is_null())
            .select(Row::as_select())
            .load(&mut self.connection()?)?;
        let mut all = rows.into_iter().map(Row::read).collect::<Result<Vec<_>, _>>()?;
        all.sort_by_key(|f| f.formula.name.to_lowercase());
        Ok(all)
    }

    /// One formula.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none, or it is deleted.
    pub fn formula(&self, id: FormulaId) -> Result<StoredFormula, StoreError> {
        formulas::table
            .find(id.0)
            .filter(formulas::deleted_at.is_null())
            .select(Row::as_select())
            .first(&mut self.connection()?)
            .optional()?
            .ok_or(StoreError::NotFound)?
            .read()
    }

    /// Adds a formula.
    ///
    /// # Errors
    /// What the database reports.
    pub fn create_formula(&self, formula: &Formula) -> Result<FormulaId, StoreError> {
        self.connection()?.immediate_transaction(|c| create(c, formula))
    }

    /// Saves a formula over the revision that was read, keeps that state as a version with its
    /// reason, and returns the new revision.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when it has been saved since; [`StoreError::NotFound`] when it is
    /// gone.
    pub fn save_formula(
        &self,
        id: FormulaId,
        revision: i32,
        formula: &Formula,
        reason: &str,
    ) -> Result<i32, StoreError> {
        let body = serde_json::to_string(formula)?;
        let changed = self.connection()?.immediate_transaction(|c| {
            let still = formulas::table
                .find(id.0)
                .filter(formulas::deleted_at.is_null())
                .filter(formulas::revision.eq(revision));
            let changed = diesel::update(still)
                .set((
                    formulas::body.eq(&body),
                    formulas::revision.eq(revision + 1),
                    formulas::updated_at.eq(now()),
                ))
                .execute(c)?;
            if changed == 1 {
                keep(c, id.0, revision + 1, &body, reason)?;
            }
            Ok::<_, StoreError>(changed)
        })?;
        if changed == 1 {
            return Ok(revision + 1);
        }
        self.formula(id)?;
        Err(StoreError::Conflict)
    }

    /// Deletes a formula; [`Store::restore_formula`] takes that back.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none.
    pub fn delete_formula(&self, id: FormulaId) -> Result<(), StoreError> {
        self.set_deleted(id, Some(now()))
    }

    /// Takes a deletion back.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none.
    pub fn restore_formula(&self, id: FormulaId) -> Result<(), StoreError> {
        self.set_deleted(id, None)
    }

    fn set_deleted(&self, id: FormulaId, at: Option<String>) -> Result<(), StoreError> {
        let changed = diesel::update(formulas::table.find(id.0))
            .set(formulas::deleted_at.eq(at))
            .execute(&mut self.connection()?)?;
        if changed == 1 { Ok(()) } else { Err(StoreError::NotFound) }
    }

    /// Puts a formula away, or takes it out again.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none.
    pub fn archive_formula(&self, id: FormulaId, away: bool) -> Result<(), StoreError> {
        let changed = diesel::update(formulas::table.find(id.0).filter(formulas::deleted_at.is_null()))
            .set(formulas::archived_at.eq(away.then(now)))
            .execute(&mut self.connection()?)?;
        if changed == 1 { Ok(()) } else { Err(StoreError::NotFound) }
    }

    /// The name of a formula that was deleted, for the offer to take that back.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such deleted formula.
    pub fn deleted_name(&self, id: FormulaId) -> Result<String, StoreError> {
        let row: Row = formulas::table
            .find(id.0)
            .filter(formulas::deleted_at.is_not_null())
            .select(Row::as_select())
            .first(&mut self.connection()?)
            .optional()?
            .ok_or(StoreError::NotFound)?;
        Ok(row.read()?.formula.name)
    }
}
