//! What is found wrong with the kitchen's file or around it.

use std::sync::Mutex;

/// What can be found wrong.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum FindingKind {
    /// The file's name leads nowhere.
    NameLost,
    /// The file's name leads to another file.
    Replaced,
    /// The log of writes is gone, or another.
    LogLost,
    /// There is no room on the disk.
    DiskFull,
    /// The file or its folder may not be written.
    ReadOnly,
    /// The clock was set while the program ran.
    ClockJumped,
    /// Another program keeps the folder in step with other machines.
    SyncedFolder,
    /// The folder is on another machine.
    NetworkFolder,
    /// The file has a second name.
    SecondName,
}

impl FindingKind {
    /// Its stable name.
    pub fn key(self) -> &'static str {
        match self {
            FindingKind::NameLost => "name-lost",
            FindingKind::Replaced => "replaced",
            FindingKind::LogLost => "log-lost",
            FindingKind::DiskFull => "disk-full",
            FindingKind::ReadOnly => "read-only",
            FindingKind::ClockJumped => "clock-jumped",
            FindingKind::SyncedFolder => "synced-folder",
            FindingKind::NetworkFolder => "network-folder",
            FindingKind::SecondName => "second-name",
        }
    }
}

/// Something that was found wrong.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Finding {
    /// What it is.
    pub kind: FindingKind,
    /// Whether nothing can be saved until it is mended.
    pub stops: bool,
    /// What happened and what to do, as sentences.
    pub says: String,
}

/// What is found at the moment.
#[derive(Default)]
pub(crate) struct Findings(Mutex<Vec<Finding>>);

impl Findings {
    /// Notes something, and logs it where it is new; the same kind again takes its place.
    pub(crate) fn note(&self, kind: FindingKind, stops: bool, says: String) {
        let mut all = self.0.lock().unwrap_or_else(|e| e.into_inner());
        let found = Finding { kind, stops, says };
        if !all.contains(&found) {
            log::error!("{}: {}", kind.key(), found.says);
        }
        match all.iter_mut().find(|f| f.kind == kind) {
            Some(there) => *there = found,
            None => all.push(found),
        }
    }

    /// Takes a finding back.
    pub(crate) fn clear(&self, kind: FindingKind) {
        self.0.lock().unwrap_or_else(|e| e.into_inner()).retain(|f| f.kind != kind);
    }

    /// All of them.
    pub(crate) fn all(&self) -> Vec<Finding> {
        self.0.lock().unwrap_or_else(|e| e.into_inner()).clone()
    }
}
