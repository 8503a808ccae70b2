//! The kitchen's file as it is open: its connections, and which file on the disk they hold.

use std::io;
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, RwLock};
use std::time::Duration;

use jiff::Timestamp;

use crate::finding::Findings;
use crate::{Connections, StoreError};

/// A file on a disk, whatever its name is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct FileId {
    device: u64,
    inode: u64,
}

impl FileId {
    /// The file under a name; `None` where there is none. It is never opened for that.
    ///
    /// # Errors
    /// What the file system reports.
    pub(crate) fn of(path: &Path) -> io::Result<Option<FileId>> {
        match std::fs::metadata(path) {
            #[cfg(unix)]
            Ok(meta) => {
                use std::os::unix::fs::MetadataExt;
                Ok(Some(FileId { device: meta.dev(), inode: meta.ino() }))
            }
            #[cfg(not(unix))]
            Ok(_) => Ok(Some(FileId { device: 0, inode: 0 })),
            Err(e) if e.kind() == io::ErrorKind::NotFound => Ok(None),
            Err(e) => Err(e),
        }
    }
}

/// Connections to one file.
pub(crate) struct Open {
    pub readers: Connections,
    pub writer: Connections,
    /// The file that they hold.
    pub main: FileId,
    /// Its log of writes.
    pub log: FileId,
}

/// A kitchen's file.
pub(crate) struct KitchenFile {
    /// Its name, without links on the way.
    pub path: PathBuf,
    open: RwLock<Arc<Open>>,
    /// Held while what is in memory is put back.
    pub mending: Mutex<()>,
    /// What was found wrong with it.
    pub findings: Findings,
    /// What the kitchen's clock, and one that nobody sets, showed when they were looked at last.
    pub clocks: Mutex<Option<(Timestamp, Duration)>>,
    /// How often what was in memory has been put back.
    pub put_back: Mutex<u32>,
}

impl KitchenFile {
    pub(crate) fn new(path: PathBuf, open: Open) -> KitchenFile {
        KitchenFile {
            path,
            open: RwLock::new(Arc::new(open)),
            mending: Mutex::default(),
            findings: Findings::default(),
            clocks: Mutex::default(),
            put_back: Mutex::default(),
        }
    }

    /// Its connections as they are now.
    pub(crate) fn open(&self) -> Arc<Open> {
        self.open.read().unwrap_or_else(|e| e.into_inner()).clone()
    }

    /// Goes on with connections to another file under the same name. Those before are never closed: the last one that
    /// SQLite closes deletes the log by its name, and under that name is the new file's by then.
    pub(crate) fn go_on_with(&self, open: Open) {
        let mut now = self.open.write().unwrap_or_else(|e| e.into_inner());
        std::mem::forget(std::mem::replace(&mut *now, Arc::new(open)));
    }

    /// A name beside it.
    pub(crate) fn beside(&self, end: &str) -> PathBuf {
        beside(&self.path, end)
    }

    /// Whether the names still lead to the file, and to the log, that the connections hold.
    pub(crate) fn stands(&self) -> Stands {
        let open = self.open();
        match (FileId::of(&self.path), FileId::of(&self.beside("-wal"))) {
            (Ok(None), _) => Stands::NameLost,
            (Ok(Some(main)), _) if main != open.main => Stands::Replaced,
            (Ok(_), Ok(log)) if log != Some(open.log) => Stands::LogLost,
            // What cannot be asked, such as a folder that may not be entered, cannot be written either.
            (Err(_), _) | (_, Err(_)) => Stands::NameLost,
            _ => Stands::Well,
        }
    }
}

/// How a file stands to its name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Stands {
    Well,
    NameLost,
    Replaced,
    LogLost,
}

/// A path with an end added to its name.
pub(crate) fn beside(path: &Path, end: &str) -> PathBuf {
    let mut name = path.as_os_str().to_owned();
    name.push(end);
    name.into()
}

/// A path as SQLite takes it.
///
/// # Errors
/// [`StoreError::Unwritable`] for a name that is not plain text.
pub(crate) fn plain(path: &Path) -> Result<&str, StoreError> {
    path.to_str().ok_or_else(|| StoreError::Unwritable(path.into(), "its name is not plain text".into()))
}
