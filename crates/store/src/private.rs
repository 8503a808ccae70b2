//! Files that only their owner reads: a kitchen holds the passphrase's hash and the key that signs cookies.

use std::fs::{File, OpenOptions};
use std::io;
use std::path::Path;

/// Creates an empty file for its owner alone, or opens the one that is there; what is in it stays.
///
/// # Errors
/// What the file system reports.
pub fn create(path: &Path) -> io::Result<File> {
    let mut options = OpenOptions::new();
    options.write(true).create(true).truncate(false);
    #[cfg(unix)]
    std::os::unix::fs::OpenOptionsExt::mode(&mut options, 0o600);
    options.open(path)
}

/// Makes a file that is there its owner's alone. A file of somebody else's stays as it is.
pub(crate) fn close_to_others(path: &Path) {
    #[cfg(unix)]
    {
        use std::os::unix::fs::PermissionsExt;
        let Ok(meta) = std::fs::metadata(path) else { return };
        let mode = meta.permissions().mode();
        if mode & 0o077 != 0 {
            let only_mine = std::fs::Permissions::from_mode(mode & !0o077);
            let _ = std::fs::set_permissions(path, only_mine);
        }
    }
    #[cfg(not(unix))]
    let _ = path;
}

/// Makes a folder, and those above it that are missing, for their owner alone. One that is there stays as it is.
///
/// # Errors
/// What the file system reports.
pub fn create_folder(path: &Path) -> io::Result<()> {
    let mut builder = std::fs::DirBuilder::new();
    builder.recursive(true);
    #[cfg(unix)]
    std::os::unix::fs::DirBuilderExt::mode(&mut builder, 0o700);
    builder.create(path)
}
