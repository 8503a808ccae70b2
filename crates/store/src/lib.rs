//! The kitchen's one SQLite file.
//!
//! A formula is always read and written whole, so it is kept as one JSON document a row, beside
//! the columns that lists and conflicts need, with the schema it was written as. A revision is
//! counted up at each save, and a save that names an older one is refused: two tabs never
//! overwrite each other silently. A record that does not read is set aside by name, and the rest
//! goes on.

mod backup;
mod bakes;
mod bin;
mod clock;
mod cupboards;
mod day_plans;
mod demo;
mod devices;
mod documents;
mod doughs;
mod error;
mod file;
mod file_lock;
mod finding;
mod formulas;
mod household;
mod keeping;
mod kitchens;
mod mend;
mod nightly;
mod one_row;
mod open;
mod photos;
mod plain_tables;
mod private;
mod rescue;
mod riders;
mod schema;
mod settings;
mod versions;
mod watch;

use std::ops::{Deref, DerefMut};
use std::sync::Arc;
use std::sync::atomic::{AtomicU64, Ordering};
use std::time::{Duration, Instant};

use diesel::r2d2::{ConnectionManager, Pool, PooledConnection};
use diesel::sqlite::SqliteConnection;

pub use backup::{Backup, back_up, check_backup, restore};
pub use bakes::{BakeId, StoredBake, UnreadEvent};
pub use bin::{Deleted, InBin, KEPT};
pub use clock::Clock;
pub use cupboards::{Removed, StoredCupboard};
pub use day_plans::StoredDayPlan;
pub use demo::{demo_cupboard, demo_formulas, demo_kitchen};
pub use devices::{Device, DeviceId, Role, Session};
pub use documents::{DamagedRecord, Kind, Revision};
pub use error::StoreError;
pub use file_lock::FileLock;
pub use finding::{Finding, FindingKind};
pub use formulas::{FormulaId, FormulaMark, StoredFormula};
pub use household::{Taken, Wanted};
pub use keeping::LookedAfter;
pub use kitchens::StoredKitchen;
pub use nightly::{Backups, Kept, Room, kept};
pub use private::{create as create_private, create_folder};
pub use settings::Setting;
pub use versions::StoredVersion;
pub use watch::LEAST_ROOM;

use file::KitchenFile;

type Connections = Pool<ConnectionManager<SqliteConnection>>;
type Connection = PooledConnection<ConnectionManager<SqliteConnection>>;

/// An open kitchen. Cheap to clone; clones share the same file.
///
/// One connection writes and several read: SQLite takes one writer at a time anyway, and a writer
/// that waits for the disk or for another program then never keeps a page from being read.
#[derive(Clone)]
pub struct Store {
    file: Arc<KitchenFile>,
    writes: Arc<Writes>,
    /// What time it is; what is saved is stamped by it.
    pub clock: Clock,
}

impl Store {
    /// The same file by another clock.
    pub fn by(self, clock: Clock) -> Store {
        Store { clock, ..self }
    }

    /// This moment, as it is written.
    fn now(&self) -> String {
        self.clock.now().to_string()
    }

    fn reading(&self) -> Result<Connection, StoreError> {
        Ok(self.file.open().readers.get()?)
    }

    /// The connection that writes, for what is no transaction.
    fn writing(&self) -> Result<Writing, StoreError> {
        let connection = self.file.open().writer.get()?;
        Ok(Writing { connection, began: Instant::now(), writes: self.writes.clone() })
    }

    /// Writes in one piece. What it returns is on the disk, in the file that has the kitchen's name: a kill loses nothing
    /// of it.
    ///
    /// # Errors
    /// What the work reports; [`StoreError::Unsafe`] where the file has lost its name and cannot be put back.
    fn write<T>(
        &self,
        work: impl FnOnce(&mut SqliteConnection) -> Result<T, StoreError>,
    ) -> Result<T, StoreError> {
        self.stands()?;
        let done = self.writing()?.immediate_transaction(work);
        if let Err(StoreError::Full) = done {
            let says = "The disk of the kitchen's file is full. What was sent last is not saved. Make room, then save again.";
            self.file.findings.note(FindingKind::DiskFull, false, says.into());
        }
        let done = done?;
        self.stands()?;
        Ok(done)
    }

    /// How often something was written since it was opened: what was read at the same count is as it was.
    pub fn writes(&self) -> u64 {
        self.writes.count.load(Ordering::Acquire)
    }

    /// What was written since it was opened.
    pub fn written(&self) -> Written {
        let took = Duration::from_nanos(self.writes.nanos.load(Ordering::Relaxed));
        Written { count: self.writes(), took }
    }
}

/// How often something was written, and how long that took in all.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Written {
    /// How often.
    pub count: u64,
    /// How long in all, the disk waited for.
    pub took: Duration,
}

#[derive(Debug, Default)]
pub(crate) struct Writes {
    count: AtomicU64,
    nanos: AtomicU64,
}

/// The one connection that writes; counted when it is done.
struct Writing {
    connection: Connection,
    began: Instant,
    writes: Arc<Writes>,
}

impl Deref for Writing {
    type Target = SqliteConnection;

    fn deref(&self) -> &SqliteConnection {
        &self.connection
    }
}

impl DerefMut for Writing {
    fn deref_mut(&mut self) -> &mut SqliteConnection {
        &mut self.connection
    }
}

impl Drop for Writing {
    fn drop(&mut self) {
        let took = u64::try_from(self.began.elapsed().as_nanos()).unwrap_or(u64::MAX);
        self.writes.nanos.fetch_add(took, Ordering::Relaxed);
        self.writes.count.fetch_add(1, Ordering::Release);
    }
}

/// The IANA name of this machine's time zone; `UTC` where it has none.
pub fn system_zone() -> String {
    jiff::tz::TimeZone::system().iana_name().unwrap_or("UTC").to_owned()
}
