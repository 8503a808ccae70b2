//! What a file wants now and then so that it stays well.

use diesel::connection::SimpleConnection;
use diesel::prelude::*;
use diesel::{sql_query, sql_types};
use jiff::SignedDuration;

use crate::schema::{devices, sessions};
use crate::{Store, StoreError};

/// What was done for the file.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct LookedAfter {
    /// What SQLite finds wrong with it; nothing where it is whole.
    pub wrong: Option<String>,
    /// How much was in the bin for longer than that can be taken back.
    pub emptied: usize,
    /// How many sessions had ended.
    pub ended: usize,
}

#[derive(QueryableByName)]
struct Word {
    #[diesel(sql_type = sql_types::Text)]
    integrity_check: String,
}

impl Store {
    /// Looks after the file: its statistics, its log of writes, its wholeness, its bin.
    ///
    /// # Errors
    /// What the database reports.
    pub fn look_after(&self) -> Result<LookedAfter, StoreError> {
        let emptied = self.empty_bin()?;
        let now = self.now();
        let hour_ago = (self.clock.now() - SignedDuration::from_hours(1)).to_string();
        let ended = self.write(|c| {
            let ended = diesel::delete(sessions::table.filter(sessions::ends_at.lt(now))).execute(c)?;
            // A device that is signed in by nothing any more has to come again, as another.
            let signed_in = sessions::table.select(sessions::device_id);
            let gone =
                devices::table.filter(devices::id.ne_all(signed_in)).filter(devices::added_at.lt(hour_ago));
            diesel::delete(gone).execute(c)?;
            Ok(ended)
        })?;
        // Readers are not waited for: what they still need stays in the log of writes.
        self.writing()?.batch_execute("PRAGMA optimize; PRAGMA wal_checkpoint(PASSIVE);")?;
        let words: Vec<Word> = sql_query("PRAGMA integrity_check(1)").load(&mut *self.reading()?)?;
        let wrong = words.into_iter().map(|w| w.integrity_check).find(|w| w != "ok");
        Ok(LookedAfter { wrong, emptied, ended })
    }

    /// Whether the file answers.
    ///
    /// # Errors
    /// What the database reports.
    pub fn answers(&self) -> Result<(), StoreError> {
        sql_query("SELECT 1").execute(&mut *self.reading()?)?;
        Ok(())
    }
}
