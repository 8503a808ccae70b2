//! Doughs that are rising now.

use cerealis_core::watch::Watch;
use diesel::prelude::*;
use diesel::result::{DatabaseErrorKind, Error};
use diesel::sqlite::SqliteConnection;

use crate::documents::{self, DamagedRecord, Kind, Revision, SCHEMA};
use crate::schema::doughs;
use crate::{FormulaId, Store, StoreError};

/// A rising dough as it is kept.
#[derive(Clone, Debug, PartialEq)]
pub struct StoredWatch {
    /// Counted up at each save.
    pub revision: Revision,
    /// The dough and its readings.
    pub watch: Watch,
}

/// Begins to watch a dough; within a transaction.
pub(crate) fn begin(c: &mut SqliteConnection, id: FormulaId, watch: &Watch) -> Result<(), StoreError> {
    let row = (
        doughs::formula_id.eq(id.0),
        doughs::body.eq(documents::write(watch)?),
        doughs::revision.eq(1),
        doughs::schema.eq(SCHEMA),
    );
    match diesel::insert_into(doughs::table).values(row).execute(c) {
        Err(Error::DatabaseError(DatabaseErrorKind::UniqueViolation, _)) => Err(StoreError::Conflict),
        other => Ok(other.map(drop)?),
    }
}

impl Store {
    /// The dough of a formula that is rising now.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such formula.
    pub fn rising(&self, id: FormulaId) -> Result<Option<StoredWatch>, StoreError> {
        self.formula(id)?;
        let row = doughs::table
            .filter(doughs::formula_id.eq(id.0))
            .filter(doughs::ended_at.is_null())
            .select((doughs::body, doughs::revision, doughs::schema));
        let found: QueryResult<Option<(String, i32, i32)>> = row.first(&mut self.reading()?).optional();
        match found {
            Ok(Some((body, revision, schema))) => {
                let watch = documents::read(Kind::Dough, schema, &body)?;
                Ok(Some(StoredWatch { revision: Revision(revision), watch }))
            }
            Ok(None) => Ok(None),
            Err(Error::DeserializationError(why)) => Err(StoreError::Damaged(why.to_string())),
            Err(other) => Err(other.into()),
        }
    }

    /// Rising doughs that do not read.
    pub(crate) fn damaged_doughs(&self) -> Result<Vec<DamagedRecord>, StoreError> {
        let c = &mut *self.reading()?;
        let open = doughs::table.filter(doughs::ended_at.is_null());
        let rows: Vec<(i32, i32)> = open.select((doughs::id, doughs::schema)).load(c)?;
        let mut damaged = Vec::new();
        for (id, schema) in rows {
            let body = documents::raw(c, Kind::Dough, id)?;
            let text = String::from_utf8_lossy(&body);
            if let Err(why) = documents::read::<Watch>(Kind::Dough, schema, &text) {
                damaged.push(DamagedRecord::new(Kind::Dough, id, &body, &why));
            }
        }
        Ok(damaged)
    }

    /// The formulas of which a dough is rising now.
    ///
    /// # Errors
    /// What the database reports.
    pub fn all_rising(&self) -> Result<Vec<FormulaId>, StoreError> {
        let ids: Vec<i32> = doughs::table
            .filter(doughs::ended_at.is_null())
            .select(doughs::formula_id)
            .load(&mut self.reading()?)?;
        Ok(ids.into_iter().map(FormulaId).collect())
    }

    /// Begins to watch a dough.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when one of this formula is rising already.
    pub fn begin_rising(&self, id: FormulaId, watch: &Watch) -> Result<(), StoreError> {
        self.formula(id)?;
        self.writing()?.immediate_transaction(|c| begin(c, id, watch))
    }

    /// Saves a rising dough over the revision that was read.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when it has been saved or ended since.
    pub fn save_rising(&self, id: FormulaId, over: Revision, watch: &Watch) -> Result<(), StoreError> {
        let body = documents::write(watch)?;
        self.change_rising(id, over, |next| {
            (doughs::body.eq(body), doughs::revision.eq(next.0), doughs::schema.eq(SCHEMA))
        })
    }

    /// Ends the watch over a dough: it is in the oven, or given up.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when it has been saved or ended since.
    pub fn end_rising(&self, id: FormulaId, over: Revision) -> Result<(), StoreError> {
        self.change_rising(id, over, |_| doughs::ended_at.eq(self.now()))
    }

    fn change_rising<C>(
        &self,
        id: FormulaId,
        over: Revision,
        change: impl FnOnce(Revision) -> C,
    ) -> Result<(), StoreError>
    where
        C: diesel::AsChangeset<Target = doughs::table>,
        C::Changeset: diesel::query_builder::QueryFragment<diesel::sqlite::Sqlite>,
    {
        self.writing()?.immediate_transaction(|c| {
            let row = || doughs::table.filter(doughs::formula_id.eq(id.0)).filter(doughs::ended_at.is_null());
            let there: Option<i32> = row().select(doughs::revision).first(c).optional()?;
            // One that has been ended is as good as changed.
            let next = Revision::after(Some(over), there.or(Some(0)))?;
            diesel::update(row()).set(change(next)).execute(c)?;
            Ok(())
        })
    }
}
