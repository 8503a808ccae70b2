//! Where a kitchen's file is kept, and that one program at a time has it.

use std::fs::{File, TryLockError};
use std::io::ErrorKind;
use std::path::{Path, PathBuf};

/// The given place, or one of this name in the user's data folder; its folder is made when needed.
pub fn or_default(given: Option<PathBuf>, name: &str) -> anyhow::Result<PathBuf> {
    let path = given.unwrap_or_else(|| data_folder().join(name));
    if let Some(folder) = path.parent().filter(|f| !f.as_os_str().is_empty()) {
        std::fs::create_dir_all(folder).map_err(|e| {
            anyhow::anyhow!("{} cannot be made: {e}. Choose another place with --data.", folder.display())
        })?;
    }
    Ok(path)
}

fn data_folder() -> PathBuf {
    let set = |name: &str| std::env::var_os(name).filter(|v| !v.is_empty()).map(PathBuf::from);
    set("XDG_DATA_HOME")
        .or_else(|| set("HOME").map(|h| h.join(".local/share")))
        .unwrap_or_else(std::env::temp_dir)
        .join("cerealis")
}

/// The mark that a program has a kitchen's file open; the system takes it away with the program, however
/// that ends.
pub struct Held {
    _lock: File,
}

/// Takes a kitchen's file for this program; `None` where another has it.
///
/// The lock is on a file of its own beside it: one on the kitchen's file would be lost whenever SQLite
/// closes one of its own handles.
pub fn hold(data: &Path) -> anyhow::Result<Option<Held>> {
    let name = beside(data, ".lock");
    let lock = File::options().create(true).truncate(false).write(true).open(&name).map_err(|e| {
        anyhow::anyhow!("{} cannot be made: {e}. Choose another place with --data.", name.display())
    })?;
    match lock.try_lock() {
        Ok(()) => Ok(Some(Held { _lock: lock })),
        Err(TryLockError::WouldBlock) => Ok(None),
        // Some file systems know no locks; SQLite's own still hold there.
        Err(TryLockError::Error(_)) => Ok(Some(Held { _lock: lock })),
    }
}

fn beside(data: &Path, end: &str) -> PathBuf {
    let mut name = data.as_os_str().to_owned();
    name.push(end);
    name.into()
}

/// Removes a kitchen's file with what the database keeps beside it.
pub fn remove_kitchen(data: &Path) -> anyhow::Result<()> {
    for end in ["-wal", "-shm", ""] {
        let name = beside(data, end);
        match std::fs::remove_file(&name) {
            Err(e) if e.kind() != ErrorKind::NotFound => {
                anyhow::bail!("{} cannot be removed: {e}. Choose another place with --data.", name.display())
            }
            _ => {}
        }
    }
    Ok(())
}
