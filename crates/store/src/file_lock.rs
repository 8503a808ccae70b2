//! One program at a time serves a kitchen: a lock by its name and by the file itself.

use std::fs::{File, TryLockError};
use std::io;
use std::path::{Path, PathBuf};

use crate::private;

/// The mark that a program serves a kitchen. The system takes it away with the program, however that ends.
#[derive(Debug)]
pub struct FileLock {
    _name: File,
}

impl FileLock {
    /// Takes a kitchen's file for this program; `None` where another program has it, under this name or any other.
    /// Where there is no file yet, an empty one is made.
    ///
    /// Take it before SQLite opens the file: the lock on the file itself stays open until the process ends, for closing
    /// any handle of a file drops all locks that SQLite holds on it.
    ///
    /// # Errors
    /// A folder that cannot be written.
    pub fn take(data: &Path) -> io::Result<Option<FileLock>> {
        let data = real_path(data)?;
        let mut name = data.clone().into_os_string();
        name.push(".lock");
        let name = private::create(Path::new(&name))?;
        if is_taken(&name) {
            return Ok(None);
        }
        Ok(lock_file(&data)?.then_some(FileLock { _name: name }))
    }
}

/// Whether another program has the lock of a file. Some file systems know no locks: SQLite's own still hold there.
fn is_taken(file: &File) -> bool {
    matches!(file.try_lock(), Err(TryLockError::WouldBlock))
}

/// Locks the file itself, whatever its name is, until this process ends; whether no other program had it.
///
/// # Errors
/// A file that can be neither made nor opened for writing.
pub(crate) fn lock_file(data: &Path) -> io::Result<bool> {
    // Elsewhere such a lock would get into the way of SQLite's own.
    if !cfg!(target_os = "linux") {
        return Ok(true);
    }
    let file = private::create(data)?;
    if is_taken(&file) {
        return Ok(false);
    }
    std::mem::forget(file);
    Ok(true)
}

/// A path without links on its way: SQLite keeps its log beside the file that a link leads to.
///
/// # Errors
/// A folder that is not there.
pub(crate) fn real_path(path: &Path) -> io::Result<PathBuf> {
    let whole = std::path::absolute(path)?;
    match whole.canonicalize() {
        Ok(real) => Ok(real),
        Err(e) if e.kind() == io::ErrorKind::NotFound => {
            let folder = whole.parent().unwrap_or(Path::new("/")).canonicalize()?;
            Ok(folder.join(whole.file_name().unwrap_or_default()))
        }
        Err(e) => Err(e),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[cfg(target_os = "linux")]
    #[test]
    fn a_kitchen_is_one_under_all_its_names() {
        let dir = tempfile::tempdir().unwrap();
        let at = |name: &str| dir.path().join(name);
        let held = FileLock::take(&at("kitchen.sqlite")).unwrap();
        assert!(held.is_some());
        std::os::unix::fs::symlink(at("kitchen.sqlite"), at("soft.sqlite")).unwrap();
        std::fs::hard_link(at("kitchen.sqlite"), at("hard.sqlite")).unwrap();
        for other in ["kitchen.sqlite", "soft.sqlite", "hard.sqlite"] {
            assert!(FileLock::take(&at(other)).unwrap().is_none(), "{other}");
        }
        assert!(FileLock::take(&at("another.sqlite")).unwrap().is_some());
    }
}
