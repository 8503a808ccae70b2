//! Versions: every saved state of a formula, with what changed.

use cerealis_core::formula::Formula;
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;

use crate::schema::versions;
use crate::{FormulaId, Store, StoreError, now};

/// A state of a formula as it was saved.
#[derive(Clone, Debug, PartialEq)]
pub struct StoredVersion {
    /// The revision that it is.
    pub revision: i32,
    /// What changed, or why.
    pub reason: String,
    /// When it was saved, RFC 3339 in UTC.
    pub saved_at: String,
    /// The formula then.
    pub formula: Formula,
}

#[derive(Queryable, Selectable)]
#[diesel(table_name = versions)]
struct Row {
    revision: i32,
    body: String,
    reason: String,
    saved_at: String,
}

impl Row {
    fn read(self) -> Result<StoredVersion, StoreError> {
        Ok(StoredVersion {
            revision: self.revision,
            reason: self.reason,
            saved_at: self.saved_at,
            formula: serde_json::from_str(&self.body)?,
        })
    }
}

/// Keeps a state; within the transaction that saves it.
pub(crate) fn keep(
    c: &mut SqliteConnection,
    formula: i32,
    revision: i32,
    body: &str,
    reason: &str,
) -> Result<(), StoreError> {
    diesel::insert_into(versions::table)
        .values((
            versions::formula_id.eq(formula),
            versions::revision.eq(revision),
            versions::body.eq(body),
            versions::reason.eq(reason),
            versions::saved_at.eq(now()),
        ))
        .execute(c)?;
    Ok(())
}

impl Store {
    /// All versions of a formula, the newest first.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such formula, or it is deleted.
    pub fn versions(&self, id: FormulaId) -> Result<Vec<StoredVersion>, StoreError> {
        self.formula(id)?;
        let rows: Vec<Row> = versions::table
            .filter(versions::formula_id.eq(id.0))
            .order(versions::revision.desc())
            .select(Row::as_select())
            .load(&mut self.connection()?)?;
        rows.into_iter().map(Row::read).collect()
    }
}
