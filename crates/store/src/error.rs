//! What can go wrong with the file, told apart by what to do about it.

use std::path::PathBuf;

use cerealis_core::fault::Faults;

use crate::finding::Finding;

/// What can go wrong with the file.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// The file cannot be opened or written.
    #[error("{0} cannot be opened for writing: {1}. Choose another place with --data.")]
    Unwritable(PathBuf, String),
    /// The file is something else.
    #[error("{0} is not a Cerealis kitchen. Choose another file with --data.")]
    NotOurs(PathBuf),
    /// The file was written by a newer program.
    #[error(
        "{0} was written by a newer Cerealis. This one would lose what it does not know, so the file is left as it is. Update the program, or choose another file with --data."
    )]
    NewerFile(PathBuf),
    /// The file is damaged.
    #[error(
        "{0} is damaged: {1}. It is left as it is. Put your last copy of it in its place; keep this one beside it, for what may still be read out of it."
    )]
    BrokenFile(PathBuf, String),
    /// A backup that cannot be restored; why.
    #[error("{0} cannot be restored: {1}. Nothing was changed.")]
    BadBackup(PathBuf, String),
    /// What is asked for is not there.
    #[error("That is not in the kitchen any more.")]
    NotFound,
    /// Someone else has saved it since it was read.
    #[error("It was changed in another window since you opened it.")]
    Conflict,
    /// What was brought in does not check.
    #[error("What came in does not fit the cupboard: {}", .0.0.first().map_or("", |f| f.message.as_str()))]
    Refused(Faults),
    /// An own ingredient cannot go while something needs it; what needs it.
    #[error("It is used by {0}. Take it out of there first.")]
    InUse(String),
    /// A stored document does not read; why.
    #[error("This record cannot be read: {0}. Download or delete it under Formulas.")]
    Damaged(String),
    /// The disk is full.
    #[error("The disk is full. Make room, then try again.")]
    Full,
    /// The file may be read and not written.
    #[error(
        "The kitchen's file cannot be written: it, or its folder, is set to be read only. Allow writing, then try again."
    )]
    ReadOnly,
    /// The watch found something that would lose what is saved.
    #[error("{}", .0.says)]
    Unsafe(Finding),
    /// Another program holds the file.
    #[error("Another program holds the kitchen's file just now. Try again in a moment.")]
    Busy,
    /// The file broke while it was open.
    #[error(
        "The kitchen's file does not read any more: {0}. Stop the program and look to the disk before going on."
    )]
    Broke(String),
    /// Anything else that the database reports.
    #[error("The kitchen's file reports: {0}")]
    Database(diesel::result::Error),
}

impl From<serde_json::Error> for StoreError {
    fn from(error: serde_json::Error) -> Self {
        StoreError::Damaged(error.to_string())
    }
}

impl From<diesel::r2d2::PoolError> for StoreError {
    fn from(_: diesel::r2d2::PoolError) -> Self {
        StoreError::Busy
    }
}

/// SQLite's own words tell these apart; Diesel keeps no code of theirs.
impl From<diesel::result::Error> for StoreError {
    fn from(error: diesel::result::Error) -> Self {
        let said = error.to_string();
        let says = |words: &[&str]| words.iter().any(|w| said.contains(w));
        if says(&["disk is full"]) {
            StoreError::Full
        } else if says(&["readonly database", "unable to open database file"]) {
            StoreError::ReadOnly
        } else if says(&["is locked", "is busy"]) {
            StoreError::Busy
        } else if says(&["malformed", "not a database", "disk I/O error"]) {
            StoreError::Broke(said)
        } else {
            StoreError::Database(error)
        }
    }
}
