//! What was confirmed is put back where a file was deleted or replaced under the program.
//!
//! The connections still hold all of it. It is written into a new file beside the old one, which takes the old one's name;
//! what has that name meanwhile is kept under another. A kill between two steps is made good at the next start.

use std::fs::File;
use std::path::{Path, PathBuf};

use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use diesel::{sql_query, sql_types};
use jiff::Timestamp;

use crate::file::{beside, plain};
use crate::{StoreError, private};

/// The end of the name of what is to be put back; where such a file is whole, it is.
pub(crate) const READY: &str = ".rescue";
/// Writes a kitchen as one connection sees it into a new file, for its owner alone and on the disk.
///
/// # Errors
/// A place that cannot be written; what SQLite reports.
pub(crate) fn write_copy(c: &mut SqliteConnection, into: &Path) -> Result<(), StoreError> {
    let unwritable = |e: &dyn std::fmt::Display| StoreError::Unwritable(into.into(), e.to_string());
    let _ = std::fs::remove_file(into);
    // SQLite writes into an empty file that is there, with the rights that it has.
    drop(private::create(into).map_err(|e| unwritable(&e))?);
    // A copy of one moment, whatever is written meanwhile.
    sql_query("VACUUM INTO ?")
        .bind::<sql_types::Text, _>(plain(into)?)
        .execute(c)
        .map_err(|e| unwritable(&e))?;
    File::open(into).and_then(|f| f.sync_all()).map_err(|e| unwritable(&e))
}

/// The name of a folder's entry is on the disk too.
pub(crate) fn sync_folder_of(path: &Path) {
    if let Some(folder) = path.parent().and_then(|f| File::open(f).ok()) {
        let _ = folder.sync_all();
    }
}

/// A moment as it stands in a name.
pub(crate) fn stamp(now: Timestamp) -> String {
    now.strftime("%Y%m%dT%H%M%SZ").to_string()
}

/// Gives a file that is ready the kitchen's name; what has that name is kept under another, where there is something.
///
/// # Errors
/// What the file system reports.
pub(crate) fn take_name(
    ready: &Path,
    data: &Path,
    now: Timestamp,
    log_is_ours: bool,
) -> std::io::Result<Option<PathBuf>> {
    let mut kept = None;
    if data.exists() {
        let aside = beside(data, &format!(".other-{}", stamp(now)));
        // A second name first: the kitchen's own name leads to a whole file at every moment.
        match std::fs::hard_link(data, &aside) {
            Ok(()) => {}
            Err(_) => std::fs::rename(data, &aside)?,
        }
        kept = Some(aside);
    }
    // A log of another file would be read into the new one. Ours is in what is put back.
    match (&kept, log_is_ours) {
        (Some(aside), false) => {
            let _ = std::fs::rename(beside(data, "-wal"), beside(aside, "-wal"));
        }
        _ => {
            let _ = std::fs::remove_file(beside(data, "-wal"));
        }
    }
    let _ = std::fs::remove_file(beside(data, "-shm"));
    std::fs::rename(ready, data)?;
    sync_folder_of(data);
    Ok(kept)
}

/// Finishes what a kill broke off. Asked before a kitchen is opened.
///
/// # Errors
/// [`StoreError::Unwritable`] where it cannot be finished.
pub(crate) fn finish(data: &Path, now: Timestamp) -> Result<(), StoreError> {
    let ready = beside(data, READY);
    if !ready.exists() {
        return Ok(());
    }
    take_name(&ready, data, now, true)
        .map(|_| ())
        .map_err(|e| StoreError::Unwritable(data.into(), e.to_string()))
}
