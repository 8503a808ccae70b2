//! The kitchen itself in its file: one row.

use cerealis_core::kitchen::{FrictionReading, Kitchen};
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;

use crate::documents::{self, DamagedRecord, Kind, SCHEMA};
use crate::schema::kitchens;
use crate::{Store, StoreError};

/// The kitchen as it is kept.
#[derive(Clone, Debug, PartialEq)]
pub struct StoredKitchen {
    /// Counted up at each save; 0 before the first.
    pub revision: i32,
    /// The kitchen; an ordinary one where there is none yet, or the one there does not read.
    pub kitchen: Kitchen,
    /// Set where the one there does not read.
    pub damaged: Option<DamagedRecord>,
}

/// A new kitchen goes by this machine's clock until somebody says otherwise.
fn ordinary() -> Kitchen {
    Kitchen { time_zone: crate::system_zone(), ..Kitchen::default() }
}

fn read(c: &mut SqliteConnection) -> Result<StoredKitchen, StoreError> {
    let row = kitchens::table.find(1).select((kitchens::body, kitchens::revision, kitchens::schema));
    let found: QueryResult<Option<(String, i32, i32)>> = row.first(c).optional();
    let unread = |c: &mut SqliteConnection, revision: i32, why: &StoreError| {
        let body = documents::raw(c, Kind::Kitchen, 1)?;
        let damaged = Some(DamagedRecord::new(Kind::Kitchen, 1, &body, why));
        Ok(StoredKitchen { revision, kitchen: ordinary(), damaged })
    };
    match found {
        Ok(None) => Ok(StoredKitchen { revision: 0, kitchen: ordinary(), damaged: None }),
        Ok(Some((body, revision, schema))) => match documents::read(schema, &body) {
            Ok(kitchen) => Ok(StoredKitchen { revision, kitchen, damaged: None }),
            Err(why) => unread(c, revision, &why),
        },
        Err(diesel::result::Error::DeserializationError(why)) => {
            let revision = kitchens::table.find(1).select(kitchens::revision).first(c)?;
            unread(c, revision, &StoreError::Damaged(why.to_string()))
        }
        Err(other) => Err(other.into()),
    }
}

/// Saves the kitchen over whatever is there; within a transaction.
pub(crate) fn write(c: &mut SqliteConnection, kitchen: &Kitchen) -> Result<i32, StoreError> {
    let StoredKitchen { revision, damaged, .. } = read(c)?;
    if damaged.is_some() {
        documents::keep_aside(c, Kind::Kitchen, 1)?;
    }
    diesel::replace_into(kitchens::table)
        .values((
            kitchens::id.eq(1),
            kitchens::body.eq(documents::write(kitchen)?),
            kitchens::revision.eq(revision + 1),
            kitchens::schema.eq(SCHEMA),
        ))
        .execute(c)?;
    Ok(revision + 1)
}

impl Store {
    /// The kitchen, or an ordinary one before the first save.
    ///
    /// # Errors
    /// What the database reports.
    pub fn kitchen(&self) -> Result<StoredKitchen, StoreError> {
        read(&mut *self.reading()?)
    }

    /// Saves the kitchen over the revision that was read; `None` overwrites whatever is there.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when it has been saved since.
    pub fn save_kitchen(&self, revision: Option<i32>, kitchen: &Kitchen) -> Result<i32, StoreError> {
        self.writing()?.immediate_transaction(|c| match revision {
            Some(r) if r != read(c)?.revision => Err(StoreError::Conflict),
            _ => write(c, kitchen),
        })
    }

    /// A kitchen that was never saved takes this time zone; whether it did.
    ///
    /// # Errors
    /// What the database reports.
    pub fn begin_in_zone(&self, zone: &str) -> Result<bool, StoreError> {
        self.writing()?.immediate_transaction(|c| {
            let now = read(c)?;
            if now.revision > 0 || now.damaged.is_some() {
                return Ok(false);
            }
            write(c, &Kitchen { time_zone: zone.to_owned(), ..now.kitchen })?;
            Ok(true)
        })
    }

    /// The kitchen learns what its mixer or hands add, whatever else is changed there meanwhile.
    ///
    /// # Errors
    /// What the database reports.
    pub fn learn_friction(&self, reading: FrictionReading) -> Result<(), StoreError> {
        self.writing()?.immediate_transaction(|c| {
            let mut now = read(c)?;
            if now.damaged.is_none() {
                now.kitchen.learn_friction(reading);
                write(c, &now.kitchen)?;
            }
            Ok(())
        })
    }
}
