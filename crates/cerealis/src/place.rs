//! Where a kitchen's file is kept.

use std::io::ErrorKind;
use std::path::{Path, PathBuf};

/// The given place, or one of this name in the user's data folder, which is made when needed.
pub fn or_default(given: Option<PathBuf>, name: &str) -> anyhow::Result<PathBuf> {
    if let Some(path) = given {
        return Ok(path);
    }
    let folder = data_folder();
    std::fs::create_dir_all(&folder).map_err(|e| {
        anyhow::anyhow!("{} cannot be made: {e}. Choose another place with --data.", folder.display())
    })?;
    Ok(folder.join(name))
}

fn data_folder() -> PathBuf {
    let set = |name: &str| std::env::var_os(name).filter(|v| !v.is_empty()).map(PathBuf::from);
    set("XDG_DATA_HOME")
        .or_else(|| set("HOME").map(|h| h.join(".local/share")))
        .unwrap_or_else(std::env::temp_dir)
        .join("cerealis")
}

/// Removes a kitchen's file with what the database keeps beside it.
pub fn remove_kitchen(data: &Path) -> anyhow::Result<()> {
    for end in ["", "-wal", "-shm"] {
        let mut name = data.as_os_str().to_owned();
        name.push(end);
        match std::fs::remove_file(&name) {
            Err(e) if e.kind() != ErrorKind::NotFound => {
                anyhow::bail!(
                    "{} cannot be removed: {e}. Choose another place with --data.",
                    Path::new(&name).display()
                )
            }
            _ => {}
        }
    }
    Ok(())
}
