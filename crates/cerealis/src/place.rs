//! Where a kitchen's file is kept, and that one program at a time has it.

use std::path::{Path, PathBuf};

use cerealis_store::FileLock;

/// The given place, or one of this name in the user's data folder; its folder is made when needed.
pub fn or_default(given: Option<PathBuf>, name: &str) -> anyhow::Result<PathBuf> {
    let path = given.unwrap_or_else(|| data_folder().join(name));
    if let Some(folder) = path.parent().filter(|f| !f.as_os_str().is_empty()) {
        cerealis_store::create_folder(folder).map_err(|e| {
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

/// Takes a kitchen's file for this program; `None` where another has it.
///
/// # Errors
/// A folder that cannot be written.
pub fn hold(data: &Path) -> anyhow::Result<Option<FileLock>> {
    FileLock::take(data).map_err(|e| {
        anyhow::anyhow!(
            "{} cannot be opened for writing: {e}. Choose another place with --data.",
            data.display()
        )
    })
}
