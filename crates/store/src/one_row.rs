//! Documents that a household has one of: the kitchen, the cupboard. Each is one row, saved over the
//! revision that was read.

use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use schemars::JsonSchema;
use serde::Serialize;
use serde::de::DeserializeOwned;

use crate::StoreError;
use crate::documents::{self, DamagedRecord, Kind, Revision};

/// A table of one document.
pub(crate) trait OneRow {
    /// What it is of.
    const KIND: Kind;

    /// Its body, revision and schema.
    fn get(c: &mut SqliteConnection) -> QueryResult<Option<(String, i32, i32)>>;

    /// Its revision alone, where the body does not read.
    fn revision(c: &mut SqliteConnection) -> QueryResult<i32>;

    /// Replaces it.
    fn put(c: &mut SqliteConnection, body: &str, revision: i32) -> QueryResult<usize>;
}

/// Declares the row of a table with `id`, `body`, `revision` and `schema`.
macro_rules! one_row {
    ($row:ident, $table:ident, $kind:expr) => {
        struct $row;

        impl $crate::one_row::OneRow for $row {
            const KIND: $crate::documents::Kind = $kind;

            fn get(c: &mut SqliteConnection) -> QueryResult<Option<(String, i32, i32)>> {
                let row = $table::table.find(1).select(($table::body, $table::revision, $table::schema));
                row.first(c).optional()
            }

            fn revision(c: &mut SqliteConnection) -> QueryResult<i32> {
                $table::table.find(1).select($table::revision).first(c)
            }

            fn put(c: &mut SqliteConnection, body: &str, revision: i32) -> QueryResult<usize> {
                diesel::replace_into($table::table)
                    .values((
                        $table::id.eq(1),
                        $table::body.eq(body),
                        $table::revision.eq(revision),
                        $table::schema.eq($crate::documents::SCHEMA),
                    ))
                    .execute(c)
            }
        }
    };
}
pub(crate) use one_row;

/// A document as it is kept.
pub(crate) struct Kept<T> {
    /// Counted up at each save; 0 before the first.
    pub revision: Revision,
    /// The document; `None` where there is none yet, or the one there does not read.
    pub document: Option<T>,
    /// Set where the one there does not read.
    pub damaged: Option<DamagedRecord>,
}

/// Reads the document of a table.
pub(crate) fn read<R: OneRow, T: DeserializeOwned>(c: &mut SqliteConnection) -> Result<Kept<T>, StoreError> {
    let unread = |c: &mut SqliteConnection, revision: Revision, why: &StoreError| {
        let body = documents::raw(c, R::KIND, 1)?;
        let damaged = Some(DamagedRecord::new(R::KIND, 1, &body, why));
        Ok(Kept { revision, document: None, damaged })
    };
    match R::get(c) {
        Ok(None) => Ok(Kept { revision: Revision(0), document: None, damaged: None }),
        Ok(Some((body, revision, schema))) => match documents::read(R::KIND, schema, &body) {
            Ok(document) => {
                Ok(Kept { revision: Revision(revision), document: Some(document), damaged: None })
            }
            Err(why) => unread(c, Revision(revision), &why),
        },
        Err(diesel::result::Error::DeserializationError(why)) => {
            let revision = Revision(R::revision(c)?);
            unread(c, revision, &StoreError::Damaged(why.to_string()))
        }
        Err(other) => Err(other.into()),
    }
}

/// Saves the document of a table, what does not read set aside; within a transaction. `over` is the revision
/// that was read; `None` saves over whatever is there.
///
/// # Errors
/// [`StoreError::Conflict`] when it has been saved since.
pub(crate) fn write<R: OneRow, T: Serialize + DeserializeOwned + JsonSchema>(
    c: &mut SqliteConnection,
    over: Option<Revision>,
    document: &T,
    now: &str,
) -> Result<Revision, StoreError> {
    let Kept { revision, damaged, .. } = read::<R, T>(c)?;
    let next = Revision::after(over, Some(revision.0))?;
    if damaged.is_some() {
        documents::keep_aside(c, R::KIND, 1, now)?;
    }
    let body = match documents::raw(c, R::KIND, 1) {
        Ok(there) => documents::write_over(document, &String::from_utf8_lossy(&there))?,
        Err(StoreError::NotFound) => documents::write(document)?,
        Err(other) => return Err(other),
    };
    R::put(c, &body, next.0)?;
    Ok(next)
}
