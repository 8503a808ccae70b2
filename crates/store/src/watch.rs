//! A watch on the kitchen's file: has it lost its name, is it another, is the disk full, did the clock jump.
//!
//! SQLite writes to the file that it opened, whatever has become of its name. So a file that was deleted or replaced goes on
//! taking writes that nobody will ever read. The watch looks before and after each write and once a second, and what it
//! finds is mended or stops all saving.

use std::path::{Path, PathBuf};
use std::sync::Mutex;
use std::time::Duration;

use jiff::{SignedDuration, Timestamp};

use crate::file::Stands;
use crate::finding::{Finding, FindingKind};
use crate::{Store, StoreError};

/// Under this the disk is as good as full, bytes: a bake of three days writes under 1 MB.
pub const LEAST_ROOM: u64 = 50 * 1024 * 1024;
/// A clock that is further off than this from one look to the next was set, and did not drift.
const JUMP: SignedDuration = SignedDuration::from_secs(60);
/// Words in the names of folders, and of hidden files in them, that tell of a program which keeps a folder in step.
/// Common practice, no source.
const SYNC_WORDS: [&str; 4] = ["sync", "cloud", "stfolder", "unison"];
/// File systems that are on another machine, as Linux names them: SQLite's log of writes needs shared memory, which they
/// do not have.
const NETWORK: [&str; 8] = ["nfs", "nfs4", "cifs", "smb3", "smbfs", "9p", "afs", "fuse.sshfs"];

/// How far a clock has jumped since the last look.
fn jumped(clocks: &Mutex<Option<(Timestamp, Duration)>>, now: Timestamp) -> Option<SignedDuration> {
    let steady = steady();
    let before = clocks.lock().unwrap_or_else(|e| e.into_inner()).replace((now, steady));
    let (then, steady_then) = before?;
    let passed = SignedDuration::try_from(steady.saturating_sub(steady_then)).unwrap_or_default();
    let jump = now.duration_since(then) - passed;
    (jump.abs() > JUMP).then_some(jump)
}

/// A clock that nobody sets; it counts while the machine sleeps where the system has such a one.
fn steady() -> Duration {
    #[cfg(target_os = "linux")]
    {
        let now = rustix::time::clock_gettime(rustix::time::ClockId::Boottime);
        Duration::new(now.tv_sec.unsigned_abs(), u32::try_from(now.tv_nsec).unwrap_or(0))
    }
    #[cfg(not(target_os = "linux"))]
    {
        static BEGAN: std::sync::LazyLock<std::time::Instant> =
            std::sync::LazyLock::new(std::time::Instant::now);
        BEGAN.elapsed()
    }
}

impl Store {
    /// Where the kitchen is kept.
    pub fn path(&self) -> &Path {
        &self.file.path
    }

    /// What is found wrong at the moment.
    pub fn findings(&self) -> Vec<Finding> {
        self.file.findings.all()
    }

    /// Takes a finding that stops nothing off the pages: it was read.
    pub fn read_finding(&self, key: &str) {
        for f in self.findings().into_iter().filter(|f| f.kind.key() == key && !f.stops) {
            self.file.findings.clear(f.kind);
        }
    }

    /// Nothing is to be confirmed that a kill would lose.
    ///
    /// # Errors
    /// [`StoreError::Unsafe`] while something stops all saving.
    pub(crate) fn stands(&self) -> Result<(), StoreError> {
        let stands = self.file.stands();
        if stands != Stands::Well {
            self.mend(stands)?;
        }
        match self.findings().into_iter().find(|f| f.stops) {
            Some(found) => Err(StoreError::Unsafe(found)),
            None => Ok(()),
        }
    }

    /// Looks at everything that is watched. Asked once a second.
    pub fn look(&self) {
        if !matches!(self.file.stands(), Stands::Well) {
            // What it finds, it notes.
            let _ = self.stands();
        }
        self.look_at_room();
        self.look_at_rights();
        if let Some(jump) = jumped(&self.file.clocks, self.clock.now()) {
            let way = if jump.is_negative() { "back" } else { "forward" };
            let says = format!(
                "This machine's clock was set {way} by {}. Check the times of what is running: a wait that began before goes by the old clock.",
                spoken(jump)
            );
            self.file.findings.note(FindingKind::ClockJumped, false, says);
        }
    }

    fn look_at_room(&self) {
        let folder = self.file.path.parent().unwrap_or(Path::new("/"));
        let Ok(free) = fs4::available_space(folder) else { return };
        let findings = &self.file.findings;
        if free >= LEAST_ROOM {
            findings.clear(FindingKind::DiskFull);
        } else {
            let says = format!(
                "The disk of the kitchen's file is nearly full: {} MB are free. Make room; what does not fit any more is not saved, and the page says so.",
                free / 1_000_000
            );
            findings.note(FindingKind::DiskFull, false, says);
        }
    }

    fn look_at_rights(&self) {
        let path = &self.file.path;
        let closed = |p: &Path| std::fs::metadata(p).is_ok_and(|m| m.permissions().readonly());
        let which = if closed(path) {
            Some("file")
        } else if path.parent().is_some_and(closed) {
            Some("folder")
        } else {
            None
        };
        match which {
            Some(what) => {
                let says = format!(
                    "The kitchen's {what} was set to be read only. Nothing is saved until writing is allowed again. What is open here stays as it is."
                );
                self.file.findings.note(FindingKind::ReadOnly, true, says);
            }
            None => self.file.findings.clear(FindingKind::ReadOnly),
        }
    }

    /// What is odd about the place of the file; looked at once, at the start.
    pub(crate) fn look_at_place(&self) {
        let (path, findings) = (&self.file.path, &self.file.findings);
        if let Some(folder) = synced(path) {
            let says = format!(
                "The kitchen is in a folder that another program seems to keep in step with other machines ({}). Such a program may put an old copy in its place. Keep the kitchen elsewhere, and its backups there.",
                folder.display()
            );
            findings.note(FindingKind::SyncedFolder, false, says);
        }
        if on_network(path) {
            let says = "The kitchen is in a folder of another machine. A kitchen needs a disk of this machine: move its file here, and keep its backups there.";
            findings.note(FindingKind::NetworkFolder, false, says.into());
        }
        #[cfg(unix)]
        if std::fs::metadata(path).is_ok_and(|m| std::os::unix::fs::MetadataExt::nlink(&m) > 1) {
            let says = format!(
                "The kitchen's file has a second name beside {}. Do not open it under the other one: remove that name.",
                path.display()
            );
            findings.note(FindingKind::SecondName, false, says);
        }
    }
}

/// A time in a baker's words.
fn spoken(time: SignedDuration) -> String {
    let minutes = (time.abs().as_secs() + 30) / 60;
    match minutes {
        0..=119 => format!("{minutes} minutes"),
        120..=2879 => format!("{} hours", (minutes + 30) / 60),
        _ => format!("{} days", (minutes + 720) / 1440),
    }
}

/// The folder above a file that another program seems to keep in step.
fn synced(path: &Path) -> Option<PathBuf> {
    let tells = |name: &str| SYNC_WORDS.iter().any(|w| name.to_lowercase().contains(w));
    path.ancestors().skip(1).find_map(|folder| {
        let named = folder.file_name().and_then(|n| n.to_str()).is_some_and(tells);
        let marked = || {
            let entries = std::fs::read_dir(folder).ok()?;
            let mut names = entries.filter_map(|e| e.ok()?.file_name().into_string().ok());
            names.find(|n| n.starts_with('.') && tells(n))
        };
        (named || marked().is_some()).then(|| folder.to_owned())
    })
}

/// Whether a file is on another machine, as far as the system tells.
fn on_network(path: &Path) -> bool {
    let Ok(mounts) = std::fs::read_to_string("/proc/mounts") else { return false };
    let of = mounts.lines().filter_map(|l| {
        let mut words = l.split(' ');
        let (_, at, kind) = (words.next()?, words.next()?, words.next()?);
        path.starts_with(at).then_some((at.len(), kind))
    });
    of.max_by_key(|(length, _)| *length).is_some_and(|(_, kind)| NETWORK.contains(&kind))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_folder_that_is_kept_in_step_is_told_by_its_name_or_by_what_lies_in_it() {
        let dir = tempfile::tempdir().unwrap();
        let inside = |names: &[&str]| {
            let folder = names.iter().fold(dir.path().to_owned(), |f, n| f.join(n));
            std::fs::create_dir_all(&folder).unwrap();
            folder.join("kitchen.sqlite")
        };
        assert_eq!(synced(&inside(&["bread"])), None);
        assert_eq!(synced(&inside(&["My Cloud", "bread"])), Some(dir.path().join("My Cloud")));
        let marked = inside(&["shared", "bread"]);
        std::fs::create_dir(dir.path().join("shared/.stfolder")).unwrap();
        assert_eq!(synced(&marked), Some(dir.path().join("shared")));
    }

    #[test]
    fn a_clock_that_was_set_is_told_from_one_that_runs() {
        let clocks = Mutex::default();
        let begun: Timestamp = "2026-11-26T15:00:00Z".parse().unwrap();
        assert_eq!(jumped(&clocks, begun), None, "the first look");
        assert_eq!(jumped(&clocks, begun + SignedDuration::from_secs(20)), None, "a slow look");
        let back = jumped(&clocks, begun - SignedDuration::from_hours(3)).unwrap();
        assert_eq!(spoken(back), "3 hours");
        assert!(back.is_negative());
        let on = jumped(&clocks, begun + SignedDuration::from_hours(69)).unwrap();
        assert_eq!(spoken(on), "3 days");
    }
}
