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
mod formulas;
mod household;
mod keeping;
mod kitchens;
mod nightly;
mod one_row;
mod open;
mod photos;
mod schema;
mod settings;
mod versions;

use std::ops::{Deref, DerefMut};
use std::sync::Arc;
use std::sync::atomic::{AtomicU64, Ordering};
use std::time::{Duration, Instant};

use diesel::r2d2::{ConnectionManager, Pool, PooledConnection};
use diesel::sqlite::SqliteConnection;

pub use backup::{Backup, back_up, check_backup, restore};
pub use bakes::{BakeId, StoredBake};
pub use bin::{Deleted, InBin, KEPT};
pub use clock::Clock;
pub use cupboards::{Removed, StoredCupboard};
pub use day_plans::StoredDayPlan;
pub use demo::{demo_cupboard, demo_formulas, demo_kitchen};
pub use devices::{Device, DeviceId, Role, Session};
pub use documents::{DamagedRecord, Kind, Revision};
pub use error::StoreError;
pub use formulas::{FormulaId, FormulaMark, StoredFormula};
pub use household::{Taken, Wanted};
pub use keeping::LookedAfter;
pub use kitchens::StoredKitchen;
pub use nightly::{Backups, Kept, Room, kept};
pub use settings::Setting;
pub use versions::StoredVersion;

type Connections = Pool<ConnectionManager<SqliteConnection>>;
type Connection = PooledConnection<ConnectionManager<SqliteConnection>>;

/// An open kitchen. Cheap to clone; clones share the same file.
///
/// One connection writes and several read: SQLite takes one writer at a time anyway, and a writer
/// that waits for the disk or for another program then never keeps a page from being read.
#[derive(Clone)]
pub struct Store {
    readers: Connections,
    writer: Connections,
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
        Ok(self.readers.get()?)
    }

    fn writing(&self) -> Result<Writing, StoreError> {
        let connection = self.writer.get()?;
        Ok(Writing { connection, began: Instant::now(), writes: self.writes.clone() })
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
