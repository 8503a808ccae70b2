//! Formulas in the kitchen's file.

use std::fmt;

use cerealis_core::formula::Formula;
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};

use crate::documents::{self, DamagedRecord, Kind, Revision, SCHEMA};
use crate::schema::formulas;
use crate::versions::keep;
use crate::{Store, StoreError};

/// Which formula.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(transparent)]
pub struct FormulaId(pub i32);

impl fmt::Display for FormulaId {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        self.0.fmt(f)
    }
}

/// A formula as it is kept.
#[derive(Clone, Debug, PartialEq)]
pub struct StoredFormula {
    /// Which one.
    pub id: FormulaId,
    /// Counted up at each save.
    pub revision: Revision,
    /// When it was last saved.
    pub updated_at: Timestamp,
    /// Whether it is put away.
    pub archived: bool,
    /// The formula.
    pub formula: Formula,
}

/// A formula without its body.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct FormulaMark {
    /// Which one.
    pub id: FormulaId,
    /// Counted up at each save.
    pub revision: Revision,
    /// When it was last saved, as it is written: RFC 3339, so it sorts as text.
    pub updated_at: String,
    /// Whether it is put away.
    pub archived: bool,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = formulas)]
struct Row {
    id: i32,
    body: String,
    revision: i32,
    updated_at: String,
    archived_at: Option<String>,
    schema: i32,
}

#[derive(Insertable)]
#[diesel(table_name = formulas)]
struct NewRow<'a> {
    body: &'a str,
    revision: i32,
    updated_at: &'a str,
    schema: i32,
}

impl Row {
    fn read(self) -> Result<StoredFormula, StoreError> {
        Ok(StoredFormula {
            id: FormulaId(self.id),
            revision: Revision(self.revision),
            updated_at: documents::time(&self.updated_at)?,
            archived: self.archived_at.is_some(),
            formula: documents::read(Kind::Formula, self.schema, &self.body)?,
        })
    }
}

/// Adds a formula; within a transaction.
pub(crate) fn create(
    c: &mut SqliteConnection,
    formula: &Formula,
    now: &str,
) -> Result<FormulaId, StoreError> {
    let body = documents::write(formula)?;
    let row = NewRow { body: &body, revision: 1, updated_at: now, schema: SCHEMA };
    let id: i32 = diesel::insert_into(formulas::table).values(row).returning(formulas::id).get_result(c)?;
    keep(c, FormulaId(id), Revision(1), &body, "As it began", now)?;
    Ok(FormulaId(id))
}

/// The most numbers that one question names.
const AT_ONCE: usize = 10_000;

/// Rows by their numbers; what does not read is told apart.
fn read_rows(
    c: &mut SqliteConnection,
    ids: &[i32],
) -> Result<(Vec<StoredFormula>, Vec<DamagedRecord>), StoreError> {
    let (mut all, mut damaged) = (Vec::new(), Vec::new());
    for ids in ids.chunks(AT_ONCE) {
        let at_once: QueryResult<Vec<Row>> =
            formulas::table.filter(formulas::id.eq_any(ids)).select(Row::as_select()).load(c);
        let rows: Vec<(i32, Result<Row, StoreError>)> = match at_once {
            Ok(rows) => rows.into_iter().map(|r| (r.id, Ok(r))).collect(),
            // Bytes that are no text somewhere: row by row shows where.
            Err(diesel::result::Error::DeserializationError(_)) => ids
                .iter()
                .map(|&id| {
                    let row = formulas::table.find(id).select(Row::as_select()).first(c);
                    (id, row.map_err(|e| StoreError::Damaged(e.to_string())))
                })
                .collect(),
            Err(other) => return Err(other.into()),
        };
        for (id, row) in rows {
            match row.and_then(Row::read) {
                Ok(formula) => all.push(formula),
                Err(why) => {
                    let body = documents::raw(c, Kind::Formula, id)?;
                    damaged.push(DamagedRecord::new(Kind::Formula, id, &body, &why));
                }
            }
        }
    }
    Ok((all, damaged))
}

impl Store {
    /// All formulas that are not deleted, those put away among them, by name; what does not read is
    /// passed over ([`Store::damaged`] tells).
    ///
    /// # Errors
    /// What the database reports.
    pub fn formulas(&self) -> Result<Vec<StoredFormula>, StoreError> {
        Ok(self.all_formulas()?.0)
    }

    pub(crate) fn all_formulas(&self) -> Result<(Vec<StoredFormula>, Vec<DamagedRecord>), StoreError> {
        let c = &mut *self.reading()?;
        let ids: Vec<i32> =
            formulas::table.filter(formulas::deleted_at.is_null()).select(formulas::id).load(c)?;
        let (mut all, damaged) = read_rows(c, &ids)?;
        all.sort_by_cached_key(|f| f.formula.name.to_lowercase());
        Ok((all, damaged))
    }

    /// What there is, without reading any of it: a list that was read before needs only what has another revision.
    ///
    /// # Errors
    /// What the database reports.
    pub fn formula_marks(&self) -> Result<Vec<FormulaMark>, StoreError> {
        type Marked = (i32, i32, String, Option<String>);
        let columns = (formulas::id, formulas::revision, formulas::updated_at, formulas::archived_at);
        let c = &mut *self.reading()?;
        let rows: Vec<Marked> =
            formulas::table.filter(formulas::deleted_at.is_null()).select(columns).load(c)?;
        let mark = |(id, revision, updated_at, archived_at): Marked| FormulaMark {
            id: FormulaId(id),
            revision: Revision(revision),
            updated_at,
            archived: archived_at.is_some(),
        };
        Ok(rows.into_iter().map(mark).collect())
    }

    /// Some formulas by their numbers, those that do not read apart.
    ///
    /// # Errors
    /// What the database reports.
    pub fn formulas_of(
        &self,
        ids: &[FormulaId],
    ) -> Result<(Vec<StoredFormula>, Vec<DamagedRecord>), StoreError> {
        let ids: Vec<i32> = ids.iter().map(|id| id.0).collect();
        read_rows(&mut *self.reading()?, &ids)
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
            .first(&mut self.reading()?)
            .optional()
            .map_err(damaged)?
            .ok_or(StoreError::NotFound)?
            .read()
    }

    /// Adds a formula.
    ///
    /// # Errors
    /// What the database reports.
    pub fn create_formula(&self, formula: &Formula) -> Result<FormulaId, StoreError> {
        self.write(|c| create(c, formula, &self.now()))
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
        over: Revision,
        formula: &Formula,
        reason: &str,
    ) -> Result<Revision, StoreError> {
        let now = self.now();
        self.write(|c| {
            let row = || formulas::table.find(id.0).filter(formulas::deleted_at.is_null());
            let there: Option<i32> = row().select(formulas::revision).first(c).optional()?;
            let next = Revision::after(Some(over), there)?;
            let before = String::from_utf8_lossy(&documents::raw(c, Kind::Formula, id.0)?).into_owned();
            let body = documents::write_over(formula, &before)?;
            diesel::update(row())
                .set((
                    formulas::body.eq(&body),
                    formulas::schema.eq(SCHEMA),
                    formulas::revision.eq(next.0),
                    formulas::updated_at.eq(&now),
                ))
                .execute(c)?;
            keep(c, id, next, &body, reason, &now)?;
            Ok(next)
        })
    }

    /// Deletes a formula; [`Store::restore_formula`] takes that back.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none.
    pub fn delete_formula(&self, id: FormulaId) -> Result<(), StoreError> {
        self.set_deleted(id, Some(self.now()))
    }

    /// Takes a deletion back.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none.
    pub fn restore_formula(&self, id: FormulaId) -> Result<(), StoreError> {
        self.set_deleted(id, None)
    }

    fn set_deleted(&self, id: FormulaId, at: Option<String>) -> Result<(), StoreError> {
        let change = diesel::update(formulas::table.find(id.0)).set(formulas::deleted_at.eq(at));
        let changed = self.write(|c| Ok(change.execute(c)?))?;
        if changed == 1 { Ok(()) } else { Err(StoreError::NotFound) }
    }

    /// Puts a formula away, or takes it out again.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none.
    pub fn archive_formula(&self, id: FormulaId, away: bool) -> Result<(), StoreError> {
        let change = diesel::update(formulas::table.find(id.0).filter(formulas::deleted_at.is_null()))
            .set(formulas::archived_at.eq(away.then(|| self.now())));
        let changed = self.write(|c| Ok(change.execute(c)?))?;
        if changed == 1 { Ok(()) } else { Err(StoreError::NotFound) }
    }

    /// Formulas that were deleted, by name; those that do not read are passed over.
    ///
    /// # Errors
    /// What the database reports.
    pub fn deleted_formulas(&self) -> Result<Vec<(FormulaId, String)>, StoreError> {
        let deleted = formulas::table.filter(formulas::deleted_at.is_not_null());
        let ids: Vec<i32> = deleted.select(formulas::id).load(&mut self.reading()?)?;
        let name = |id: i32| Some((FormulaId(id), self.deleted_name(FormulaId(id)).ok()?));
        let mut all: Vec<_> = ids.into_iter().filter_map(name).collect();
        all.sort_by_cached_key(|(_, name)| name.to_lowercase());
        Ok(all)
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
            .first(&mut self.reading()?)
            .optional()
            .map_err(damaged)?
            .ok_or(StoreError::NotFound)?;
        Ok(row.read()?.formula.name)
    }
}

/// Bytes that are no text are damage, not a fault of the database.
fn damaged(error: diesel::result::Error) -> StoreError {
    match error {
        diesel::result::Error::DeserializationError(why) => StoreError::Damaged(why.to_string()),
        other => other.into(),
    }
}
