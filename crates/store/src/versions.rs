//! Versions: every saved state of a formula, with what changed.

use cerealis_core::formula::Formula;
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use jiff::Timestamp;

use crate::documents::{self, DamagedRecord, Kind, Revision, SCHEMA};
use crate::schema::versions;
use crate::{FormulaId, Store, StoreError};

/// A state of a formula as it was saved.
#[derive(Clone, Debug, PartialEq)]
pub struct StoredVersion {
    /// The revision that it is.
    pub revision: Revision,
    /// What changed, or why.
    pub reason: String,
    /// When it was saved.
    pub saved_at: Timestamp,
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
    schema: i32,
}

impl Row {
    fn read(self) -> Result<StoredVersion, StoreError> {
        Ok(StoredVersion {
            revision: Revision(self.revision),
            reason: self.reason,
            saved_at: documents::time(&self.saved_at)?,
            formula: documents::read(Kind::Version, self.schema, &self.body)?,
        })
    }
}

/// Keeps a state; within the transaction that saves it.
pub(crate) fn keep(
    c: &mut SqliteConnection,
    formula: FormulaId,
    revision: Revision,
    body: &str,
    reason: &str,
    now: &str,
) -> Result<(), StoreError> {
    diesel::insert_into(versions::table)
        .values((
            versions::formula_id.eq(formula.0),
            versions::revision.eq(revision.0),
            versions::body.eq(body),
            versions::reason.eq(reason),
            versions::saved_at.eq(now),
            versions::schema.eq(SCHEMA),
        ))
        .execute(c)?;
    Ok(())
}

/// The versions of a formula, the newest first, and those that do not read.
fn read_all(
    c: &mut SqliteConnection,
    formula: i32,
) -> Result<(Vec<StoredVersion>, Vec<DamagedRecord>), StoreError> {
    let ids: Vec<i32> = versions::table
        .filter(versions::formula_id.eq(formula))
        .order(versions::revision.desc())
        .select(versions::id)
        .load(c)?;
    let (mut all, mut damaged) = (Vec::new(), Vec::new());
    for id in ids {
        let row: QueryResult<Row> = versions::table.find(id).select(Row::as_select()).first(c);
        let read = match row {
            Ok(row) => row.read(),
            Err(diesel::result::Error::DeserializationError(why)) => {
                Err(StoreError::Damaged(why.to_string()))
            }
            Err(other) => return Err(other.into()),
        };
        match read {
            Ok(version) => all.push(version),
            Err(why) => {
                let body = documents::raw(c, Kind::Version, id)?;
                damaged.push(DamagedRecord::new(Kind::Version, id, &body, &why));
            }
        }
    }
    Ok((all, damaged))
}

impl Store {
    /// All versions of a formula, the newest first; those that do not read are passed over.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such formula, or it is deleted.
    pub fn versions(&self, id: FormulaId) -> Result<Vec<StoredVersion>, StoreError> {
        self.formula(id)?;
        Ok(read_all(&mut *self.reading()?, id.0)?.0)
    }

    /// Versions of a formula that do not read.
    ///
    /// # Errors
    /// What the database reports.
    pub fn damaged_versions(&self, formula: FormulaId) -> Result<Vec<DamagedRecord>, StoreError> {
        Ok(read_all(&mut *self.reading()?, formula.0)?.1)
    }
}
