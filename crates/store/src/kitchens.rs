//! The kitchen itself in its file: one row.

use cerealis_core::kitchen::{FrictionReading, Kitchen};
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;

use crate::documents::{DamagedRecord, Kind, Revision};
use crate::one_row::{self, Kept, one_row};
use crate::schema::kitchens;
use crate::{Store, StoreError};

/// The kitchen as it is kept.
#[derive(Clone, Debug, PartialEq)]
pub struct StoredKitchen {
    /// Counted up at each save; 0 before the first.
    pub revision: Revision,
    /// The kitchen; an ordinary one where there is none yet, or the one there does not read.
    pub kitchen: Kitchen,
    /// Set where the one there does not read.
    pub damaged: Option<DamagedRecord>,
}

/// A new kitchen goes by this machine's clock until somebody says otherwise.
fn ordinary() -> Kitchen {
    Kitchen { time_zone: crate::system_zone(), ..Kitchen::default() }
}

one_row!(KitchenRow, kitchens, Kind::Kitchen);

pub(crate) fn read(c: &mut SqliteConnection) -> Result<StoredKitchen, StoreError> {
    let Kept { revision, document, damaged } = one_row::read::<KitchenRow, Kitchen>(c)?;
    Ok(StoredKitchen { revision, kitchen: document.unwrap_or_else(ordinary), damaged })
}

/// Saves the kitchen over the revision that was read, or over whatever is there; within a transaction.
pub(crate) fn write(
    c: &mut SqliteConnection,
    over: Option<Revision>,
    kitchen: &Kitchen,
    now: &str,
) -> Result<Revision, StoreError> {
    one_row::write::<KitchenRow, Kitchen>(c, over, kitchen, now)
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
    pub fn save_kitchen(&self, over: Option<Revision>, kitchen: &Kitchen) -> Result<Revision, StoreError> {
        self.write(|c| write(c, over, kitchen, &self.now()))
    }

    /// A kitchen that was never saved takes this time zone; whether it did.
    ///
    /// # Errors
    /// What the database reports.
    pub fn begin_in_zone(&self, zone: &str) -> Result<bool, StoreError> {
        self.write(|c| {
            let now = read(c)?;
            if now.revision > Revision(0) || now.damaged.is_some() {
                return Ok(false);
            }
            write(c, None, &Kitchen { time_zone: zone.to_owned(), ..now.kitchen }, &self.now())?;
            Ok(true)
        })
    }

    /// The kitchen learns what a mixer of it, by its name, or hands add, whatever else is changed there meanwhile.
    ///
    /// # Errors
    /// What the database reports.
    pub fn learn_friction(&self, mixer: &str, reading: FrictionReading) -> Result<(), StoreError> {
        self.write(|c| {
            let mut now = read(c)?;
            if now.damaged.is_none() {
                now.kitchen.learn_friction(mixer, reading);
                write(c, None, &now.kitchen, &self.now())?;
            }
            Ok(())
        })
    }
}
