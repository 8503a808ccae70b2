//! The kitchen itself in its file: one row.

use cerealis_core::kitchen::Kitchen;
use diesel::prelude::*;

use crate::schema::kitchens;
use crate::{Store, StoreError};

/// The kitchen as it is kept.
#[derive(Clone, Debug, PartialEq)]
pub struct StoredKitchen {
    /// Counted up at each save; 0 before the first.
    pub revision: i32,
    /// The kitchen.
    pub kitchen: Kitchen,
}

impl Store {
    /// The kitchen, or an ordinary one before the first save.
    ///
    /// # Errors
    /// What the database reports.
    pub fn kitchen(&self) -> Result<StoredKitchen, StoreError> {
        let row: Option<(String, i32)> = kitchens::table
            .find(1)
            .select((kitchens::body, kitchens::revision))
            .first(&mut self.connection()?)
            .optional()?;
        Ok(match row {
            Some((body, revision)) => StoredKitchen { revision, kitchen: serde_json::from_str(&body)? },
            None => StoredKitchen { revision: 0, kitchen: Kitchen::default() },
        })
    }

    /// Saves the kitchen over the revision that was read; `None` overwrites whatever is there.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when it has been saved since.
    pub fn save_kitchen(&self, revision: Option<i32>, kitchen: &Kitchen) -> Result<i32, StoreError> {
        let body = serde_json::to_string(kitchen)?;
        self.connection()?.immediate_transaction(|c| {
            let now: i32 =
                kitchens::table.find(1).select(kitchens::revision).first(c).optional()?.unwrap_or(0);
            if revision.is_some_and(|r| r != now) {
                return Err(StoreError::Conflict);
            }
            diesel::replace_into(kitchens::table)
                .values((kitchens::id.eq(1), kitchens::body.eq(body), kitchens::revision.eq(now + 1)))
                .execute(c)?;
            Ok(now + 1)
        })
    }
}
