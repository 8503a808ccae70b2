//! The cupboard in its file: one row.

use cerealis_core::cupboard::{Cupboard, OwnIngredient};
use cerealis_core::formula::Formula;
use cerealis_core::ingredient::Catalogue;
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;

use crate::schema::cupboards;
use crate::{FormulaId, Store, StoreError, formulas};

/// The cupboard as it is kept.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct StoredCupboard {
    /// Counted up at each save; 0 before the first.
    pub revision: i32,
    /// The cupboard.
    pub cupboard: Cupboard,
}

fn read(c: &mut SqliteConnection) -> Result<StoredCupboard, StoreError> {
    let row: Option<(String, i32)> =
        cupboards::table.find(1).select((cupboards::body, cupboards::revision)).first(c).optional()?;
    Ok(match row {
        Some((body, revision)) => StoredCupboard { revision, cupboard: serde_json::from_str(&body)? },
        None => StoredCupboard::default(),
    })
}

fn write(c: &mut SqliteConnection, revision: i32, cupboard: &Cupboard) -> Result<(), StoreError> {
    let body = serde_json::to_string(cupboard)?;
    diesel::replace_into(cupboards::table)
        .values((cupboards::id.eq(1), cupboards::body.eq(body), cupboards::revision.eq(revision)))
        .execute(c)?;
    Ok(())
}

impl Store {
    /// The cupboard; an empty one before the first save.
    ///
    /// # Errors
    /// What the database reports.
    pub fn cupboard(&self) -> Result<StoredCupboard, StoreError> {
        read(&mut *self.connection()?)
    }

    /// Saves the cupboard over the revision that was read; `None` overwrites whatever is there.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when it has been saved since.
    pub fn save_cupboard(&self, revision: Option<i32>, cupboard: &Cupboard) -> Result<i32, StoreError> {
        self.connection()?.immediate_transaction(|c| {
            let now = read(c)?.revision;
            if revision.is_some_and(|r| r != now) {
                return Err(StoreError::Conflict);
            }
            write(c, now + 1, cupboard)?;
            Ok(now + 1)
        })
    }

    /// Adds formulas with the own ingredients that came with them, all or none.
    ///
    /// # Errors
    /// [`StoreError::Refused`] when the cupboard cannot take the ingredients.
    pub fn bring_in(
        &self,
        mut new: Vec<Formula>,
        own: &[OwnIngredient],
    ) -> Result<Vec<FormulaId>, StoreError> {
        self.connection()?.immediate_transaction(|c| {
            let StoredCupboard { revision, mut cupboard } = read(c)?;
            let before = cupboard.own.len();
            cupboard.take_in(own, &mut new, Catalogue::bundled()).map_err(StoreError::Refused)?;
            if cupboard.own.len() != before {
                write(c, revision + 1, &cupboard)?;
            }
            new.iter().map(|f| formulas::create(c, f)).collect()
        })
    }
}
