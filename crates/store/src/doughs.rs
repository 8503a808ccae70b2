//! Doughs that are rising now.

use cerealis_core::watch::Watch;
use diesel::prelude::*;
use diesel::result::{DatabaseErrorKind, Error};

use crate::schema::doughs;
use crate::{FormulaId, Store, StoreError, now};

/// A rising dough as it is kept.
#[derive(Clone, Debug, PartialEq)]
pub struct StoredWatch {
    /// Counted up at each save.
    pub revision: i32,
    /// The dough and its readings.
    pub watch: Watch,
}

impl Store {
    /// The dough of a formula that is rising now.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such formula.
    pub fn rising(&self, id: FormulaId) -> Result<Option<StoredWatch>, StoreError> {
        self.formula(id)?;
        let row: Option<(String, i32)> = doughs::table
            .filter(doughs::formula_id.eq(id.0))
            .filter(doughs::ended_at.is_null())
            .select((doughs::body, doughs::revision))
            .first(&mut self.connection()?)
            .optional()?;
        row.map(|(body, revision)| Ok(StoredWatch { revision, watch: serde_json::from_str(&body)? }))
            .transpose()
    }

    /// The formulas of which a dough is rising now.
    ///
    /// # Errors
    /// What the database reports.
    pub fn all_rising(&self) -> Result<Vec<FormulaId>, StoreError> {
        let ids: Vec<i32> = doughs::table
            .filter(doughs::ended_at.is_null())
            .select(doughs::formula_id)
            .load(&mut self.connection()?)?;
        Ok(ids.into_iter().map(FormulaId).collect())
    }

    /// Begins to watch a dough.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when one of this formula is rising already.
    pub fn begin_rising(&self, id: FormulaId, watch: &Watch) -> Result<(), StoreError> {
        self.formula(id)?;
        let body = serde_json::to_string(watch)?;
        let row = (doughs::formula_id.eq(id.0), doughs::body.eq(body), doughs::revision.eq(1));
        match diesel::insert_into(doughs::table).values(row).execute(&mut self.connection()?) {
            Err(Error::DatabaseError(DatabaseErrorKind::UniqueViolation, _)) => Err(StoreError::Conflict),
            other => Ok(other.map(drop)?),
        }
    }

    /// Saves a rising dough over the revision that was read.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when it has been saved or ended since.
    pub fn save_rising(&self, id: FormulaId, revision: i32, watch: &Watch) -> Result<(), StoreError> {
        let body = serde_json::to_string(watch)?;
        self.change_rising(id, revision, (doughs::body.eq(body), doughs::revision.eq(revision + 1)))
    }

    /// Ends the watch over a dough: it is in the oven, or given up.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when it has been saved or ended since.
    pub fn end_rising(&self, id: FormulaId, revision: i32) -> Result<(), StoreError> {
        self.change_rising(id, revision, doughs::ended_at.eq(now()))
    }

    fn change_rising<C>(&self, id: FormulaId, revision: i32, change: C) -> Result<(), StoreError>
    where
        C: diesel::AsChangeset<Target = doughs::table>,
        C::Changeset: diesel::query_builder::QueryFragment<diesel::sqlite::Sqlite>,
    {
        let still = doughs::table
            .filter(doughs::formula_id.eq(id.0))
            .filter(doughs::ended_at.is_null())
            .filter(doughs::revision.eq(revision));
        let changed = diesel::update(still).set(change).execute(&mut self.connection()?)?;
        if changed == 1 { Ok(()) } else { Err(StoreError::Conflict) }
    }
}
