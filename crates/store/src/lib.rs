//! The kitchen's one SQLite file.
//!
//! A formula is always read and written whole, so it is kept as one JSON document a row, beside
//! the columns that lists and conflicts need. A revision is counted up at each save, and a save
//! that names an older one is refused: two tabs never overwrite each other silently.

mod cupboards;
mod demo;
mod doughs;
mod formulas;
mod kitchens;
mod schema;
mod versions;

use std::path::{Path, PathBuf};

use diesel::connection::SimpleConnection;
use diesel::r2d2::{ConnectionManager, CustomizeConnection, Pool, PooledConnection};
use diesel::sqlite::SqliteConnection;
use diesel::{Connection, QueryableByName, RunQueryDsl, sql_query};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};

pub use cupboards::StoredCupboard;
pub use demo::{demo_cupboard, demo_formulas, demo_kitchen, demo_watch};
pub use doughs::StoredWatch;
pub use formulas::{FormulaId, StoredFormula};
pub use kitchens::StoredKitchen;
pub use versions::StoredVersion;

const MIGRATIONS: EmbeddedMigrations = embed_migrations!();
/// `CRLS`, in the header of every file of ours; set by the first migration.
const APPLICATION_ID: i32 = 1_129_466_963;

/// What can go wrong with the file.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// The file cannot be opened or written.
    #[error("{0} cannot be opened for writing: {1}. Choose another place with --data.")]
    Unwritable(PathBuf, String),
    /// The file is something else.
    #[error("{0} is not a Cerealis kitchen. Choose another file with --data.")]
    NotOurs(PathBuf),
    /// What is asked for is not there.
    #[error("That is not in the kitchen any more.")]
    NotFound,
    /// Someone else has saved it since it was read.
    #[error("It was changed in another window since you opened it.")]
    Conflict,
    /// What was brought in does not check.
    #[error("What came in does not fit the cupboard: {}", .0.0.first().map_or("", |f| f.message.as_str()))]
    Refused(cerealis_core::fault::Faults),
    /// A stored document does not read.
    #[error("A stored record does not read: {0}")]
    Damaged(#[from] serde_json::Error),
    /// Anything else that the database reports.
    #[error("The kitchen's file reports: {0}")]
    Database(#[from] diesel::result::Error),
    /// No connection could be had.
    #[error("The kitchen's file is busy: {0}")]
    Busy(#[from] diesel::r2d2::PoolError),
}

/// An open kitchen. Cheap to clone; clones share the same file.
#[derive(Clone)]
pub struct Store {
    pool: Pool<ConnectionManager<SqliteConnection>>,
}

/// What every connection is set to: readers beside one writer, every confirmed write on the disk.
#[derive(Debug)]
struct Settings;

impl CustomizeConnection<SqliteConnection, diesel::r2d2::Error> for Settings {
    fn on_acquire(&self, connection: &mut SqliteConnection) -> Result<(), diesel::r2d2::Error> {
        connection
            .batch_execute(
                "PRAGMA busy_timeout = 5000; PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; PRAGMA foreign_keys = ON;",
            )
            .map_err(diesel::r2d2::Error::QueryError)
    }
}

#[derive(QueryableByName)]
struct ApplicationId {
    #[diesel(sql_type = diesel::sql_types::Integer)]
    application_id: i32,
}

impl Store {
    /// Opens a kitchen, or makes a new one where there is no file.
    ///
    /// # Errors
    /// A file that is not ours, or that cannot be written.
    pub fn open(path: &Path) -> Result<Store, StoreError> {
        let unwritable = |e: &dyn std::fmt::Display| StoreError::Unwritable(path.into(), e.to_string());
        let name = path.to_str().ok_or_else(|| unwritable(&"its name is not plain text"))?;
        let there = std::fs::metadata(path).is_ok_and(|m| m.len() > 0);
        if there {
            check_ours(name, path)?;
        }
        // A first connection tells plainly what is wrong; the pool would try on for seconds.
        let mut first = SqliteConnection::establish(name).map_err(|e| unwritable(&e))?;
        Settings.on_acquire(&mut first).map_err(|e| unwritable(&e))?;
        first.run_pending_migrations(MIGRATIONS).map_err(|e| unwritable(&e))?;
        drop(first);
        let pool = Pool::builder()
            .max_size(4)
            .min_idle(Some(1))
            .connection_customizer(Box::new(Settings))
            .build(ConnectionManager::new(name))?;
        Ok(Store { pool })
    }

    /// Fills an empty kitchen with the demo household.
    ///
    /// # Errors
    /// What the database reports.
    pub fn fill_with_demo(&self) -> Result<(), StoreError> {
        self.save_kitchen(None, &demo_kitchen())?;
        self.save_cupboard(None, &demo_cupboard())?;
        for formula in demo_formulas() {
            self.create_formula(&formula)?;
        }
        if let Some(no_knead) = self.formulas()?.iter().find(|f| f.formula.name.contains("no-knead")) {
            self.begin_rising(no_knead.id, &demo_watch(&no_knead.formula, jiff::Timestamp::now()))?;
        }
        Ok(())
    }

    fn connection(&self) -> Result<PooledConnection<ConnectionManager<SqliteConnection>>, StoreError> {
        Ok(self.pool.get()?)
    }
}

fn check_ours(name: &str, path: &Path) -> Result<(), StoreError> {
    let unwritable = |e: &dyn std::fmt::Display| StoreError::Unwritable(path.into(), e.to_string());
    let mut connection = SqliteConnection::establish(name).map_err(|e| unwritable(&e))?;
    connection.batch_execute("PRAGMA busy_timeout = 5000;").map_err(|e| unwritable(&e))?;
    let found = sql_query("SELECT application_id FROM pragma_application_id")
        .get_result::<ApplicationId>(&mut connection);
    match found {
        Ok(id) if id.application_id == APPLICATION_ID => Ok(()),
        Ok(_) => Err(StoreError::NotOurs(path.into())),
        // SQLite's own words for a file that is something else; anything else is about access.
        Err(e) if e.to_string().contains("not a database") => Err(StoreError::NotOurs(path.into())),
        Err(e) => Err(unwritable(&e)),
    }
}

fn now() -> String {
    jiff::Timestamp::now().to_string()
}
