//! Opening a kitchen's file: is it ours, is it whole, is it not newer than this program.

use std::path::Path;
use std::sync::Arc;
use std::time::Duration;

use diesel::connection::SimpleConnection;
use diesel::migration::{Migration, MigrationSource};
use diesel::r2d2::{ConnectionManager, CustomizeConnection, Pool};
use diesel::sqlite::{Sqlite, SqliteConnection};
use diesel::{Connection, QueryableByName, RunQueryDsl, sql_query};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};

use crate::file::{FileId, KitchenFile, Open, beside};
use crate::file_lock::real_path;
use crate::{Clock, Connections, Store, StoreError, private, rescue};

pub(crate) const MIGRATIONS: EmbeddedMigrations = embed_migrations!();
/// `CRLS`, in the header of every file of ours; set by the first migration.
const APPLICATION_ID: i32 = 1_129_466_963;
/// How many connections read.
const READERS: u32 = 4;
/// How long a connection waits for its turn at the file.
const PATIENCE: Duration = Duration::from_secs(4);

/// What a connection is set to: readers beside one writer, every confirmed write on the disk.
#[derive(Clone, Copy, Debug)]
struct Settings {
    writes: bool,
}

impl CustomizeConnection<SqliteConnection, diesel::r2d2::Error> for Settings {
    fn on_acquire(&self, connection: &mut SqliteConnection) -> Result<(), diesel::r2d2::Error> {
        let only = if self.writes { "" } else { "PRAGMA query_only = ON;" };
        let settings = "PRAGMA busy_timeout = 4000; PRAGMA journal_mode = WAL; PRAGMA synchronous = FULL; PRAGMA foreign_keys = ON; PRAGMA trusted_schema = OFF;";
        connection.batch_execute(&format!("{settings}{only}")).map_err(diesel::r2d2::Error::QueryError)
    }
}

impl Store {
    /// Opens a kitchen, or makes a new one where there is no file.
    ///
    /// # Errors
    /// A file that is not ours, is damaged, was written by a newer program or cannot be written.
    pub fn open(path: &Path) -> Result<Store, StoreError> {
        let unwritable = |e: &dyn std::fmt::Display| StoreError::Unwritable(path.into(), e.to_string());
        // A whole path is never taken for one of SQLite's own names, such as `:memory:`.
        let whole = real_path(path).map_err(|e| unwritable(&e))?;
        let name = whole.to_str().ok_or_else(|| unwritable(&"its name is not plain text"))?;
        rescue::finish(&whole, Clock::system().now())?;
        if !whole.exists() {
            // For its owner alone, before SQLite makes it and its log for everybody.
            drop(private::create(&whole).map_err(|e| unwritable(&e))?);
        }
        if std::fs::metadata(&whole).is_ok_and(|m| m.len() > 0) {
            look_over(name, path)?;
        }
        // A first connection tells plainly what is wrong; the pool would try on for seconds.
        let mut first = SqliteConnection::establish(name).map_err(|e| unwritable(&e))?;
        Settings { writes: true }.on_acquire(&mut first).map_err(|e| unwritable(&e))?;
        first.run_pending_migrations(MIGRATIONS).map_err(|e| unwritable(&e))?;
        drop(first);
        for end in ["", "-wal", "-shm"] {
            private::close_to_others(&beside(&whole, end));
        }
        let open = connections(&whole)?;
        let store = Store {
            file: Arc::new(KitchenFile::new(whole, open)),
            writes: Arc::default(),
            clock: Clock::system(),
        };
        store.take_up_doughs()?;
        store.look_at_place();
        Ok(store)
    }
}

/// Connections to a kitchen's file, and which file they hold.
///
/// # Errors
/// What SQLite reports; a file that is gone before it is open.
pub(crate) fn connections(path: &Path) -> Result<Open, StoreError> {
    let unwritable = |e: &dyn std::fmt::Display| StoreError::Unwritable(path.into(), e.to_string());
    let name = path.to_str().ok_or_else(|| unwritable(&"its name is not plain text"))?;
    let (readers, writer) = (pool(name, READERS, false)?, pool(name, 1, true)?);
    // The first question makes the log, and shared memory for it.
    for pool in [&readers, &writer] {
        sql_query("SELECT count(*) AS n FROM sqlite_master").get_result::<Number>(&mut *pool.get()?)?;
    }
    let id = |of: &Path| FileId::of(of).ok().flatten().ok_or_else(|| unwritable(&"it is gone again"));
    let (main, log) = (id(path)?, id(&beside(path, "-wal"))?);
    Ok(Open { readers, writer, main, log })
}

fn pool(name: &str, most: u32, writes: bool) -> Result<Connections, StoreError> {
    Ok(Pool::builder()
        .max_size(most)
        .min_idle(Some(1))
        // A connection stays: the last one of a file that SQLite closes deletes the log.
        .idle_timeout(None)
        .max_lifetime(None)
        .connection_timeout(PATIENCE)
        .connection_customizer(Box::new(Settings { writes }))
        .build(ConnectionManager::new(name))?)
}

#[derive(QueryableByName)]
struct Number {
    #[diesel(sql_type = diesel::sql_types::Integer)]
    n: i32,
}

/// The tables of a file.
#[cfg(test)]
pub(crate) fn table_names(name: &str) -> Vec<String> {
    #[derive(QueryableByName)]
    struct Table {
        #[diesel(sql_type = diesel::sql_types::Text)]
        name: String,
    }
    let mut c = SqliteConnection::establish(name).unwrap();
    let tables = "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'";
    sql_query(tables).load::<Table>(&mut c).unwrap().into_iter().map(|t| t.name).collect()
}

#[derive(QueryableByName)]
struct Word {
    #[diesel(sql_type = diesel::sql_types::Text)]
    quick_check: String,
}

/// Refuses a file that is something else, damaged or newer.
pub(crate) fn look_over(name: &str, path: &Path) -> Result<(), StoreError> {
    let unwritable = |e: &dyn std::fmt::Display| StoreError::Unwritable(path.into(), e.to_string());
    let mut c = SqliteConnection::establish(name).map_err(|e| unwritable(&e))?;
    c.batch_execute("PRAGMA busy_timeout = 4000;").map_err(|e| unwritable(&e))?;
    let broken = |why: &str| StoreError::BrokenFile(path.into(), why.trim_end_matches('.').to_owned());
    let id = match sql_query("SELECT application_id AS n FROM pragma_application_id")
        .get_result::<Number>(&mut c)
    {
        Ok(id) => id.n,
        // SQLite's own words for a file that is something else, or is ours no more.
        Err(e) if e.to_string().contains("not a database") => return Err(StoreError::NotOurs(path.into())),
        Err(e) if e.to_string().contains("malformed") => return Err(broken(&e.to_string())),
        Err(e) => return Err(unwritable(&e)),
    };
    if id != APPLICATION_ID {
        return if id == 0 && is_unfinished(&mut c) { Ok(()) } else { Err(StoreError::NotOurs(path.into())) };
    }
    let checked = sql_query("PRAGMA quick_check(1)").get_result::<Word>(&mut c);
    match checked.map(|w| w.quick_check) {
        Ok(word) if word == "ok" => {}
        Ok(word) => return Err(broken(&word)),
        Err(e) => return Err(broken(&e.to_string())),
    }
    if is_newer(&mut c).map_err(|e| broken(&e.to_string()))? {
        return Err(StoreError::NewerFile(path.into()));
    }
    Ok(())
}

/// A file that was being made when the program was killed: it holds no table yet but the list of
/// migrations, none of which has taken place.
fn is_unfinished(c: &mut SqliteConnection) -> bool {
    sql_query("SELECT count(*) AS n FROM sqlite_master WHERE name NOT LIKE '%diesel_schema_migrations%'")
        .get_result::<Number>(c)
        .is_ok_and(|tables| tables.n == 0)
}

type AnyError = Box<dyn std::error::Error + Send + Sync>;

/// Whether a migration has taken place that this program does not know.
fn is_newer(c: &mut SqliteConnection) -> Result<bool, AnyError> {
    let all: Vec<Box<dyn Migration<Sqlite>>> = MIGRATIONS.migrations()?;
    let known: Vec<String> = all.iter().map(|m| m.name().version().to_string()).collect();
    Ok(c.applied_migrations()?.iter().any(|m| !known.contains(&m.to_string())))
}
