//! Photos of bakes, by the SHA-256 of their bytes.

use cerealis_core::bake::{Event, EventKey, What};
use diesel::prelude::*;
use jiff::Timestamp;
use sha2::{Digest, Sha256};

use crate::backup::hex;
use crate::bakes::{self, BakeId, StoredBake};
use crate::schema::photos;
use crate::{Store, StoreError};

impl Store {
    /// Keeps a photo, and that it was taken of a bake; the bake as it is then, and whether that is new. The same event twice
    /// is there once, and so are the same bytes.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is no such bake.
    pub fn add_photo(
        &self,
        id: BakeId,
        key: EventKey,
        at: Timestamp,
        device: &str,
        bytes: &[u8],
    ) -> Result<(StoredBake, bool), StoreError> {
        let name = hex(&Sha256::digest(bytes));
        let event = Event { key, at, device: device.to_owned(), what: What::Photo { photo: name.clone() } };
        let now = self.now();
        self.write(|c| {
            let (bake, fresh) = bakes::add_to(c, id, &[event], &now)?;
            if fresh > 0 {
                let row = (photos::name.eq(&name), photos::bytes.eq(bytes), photos::taken_in.eq(&now));
                diesel::insert_or_ignore_into(photos::table).values(row).execute(c)?;
            }
            Ok((bake, fresh > 0))
        })
    }

    /// A photo's bytes.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none of this name.
    pub fn photo(&self, name: &str) -> Result<Vec<u8>, StoreError> {
        let bytes = photos::table.find(name).select(photos::bytes).first(&mut *self.reading()?).optional()?;
        bytes.ok_or(StoreError::NotFound)
    }
}
