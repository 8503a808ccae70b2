//! The kitchen goes on where its file was deleted or replaced under the program.

use std::path::{Path, PathBuf};

use diesel::connection::SimpleConnection;

use crate::file::{FileId, Stands};
use crate::finding::FindingKind;
use crate::open::connections;
use crate::rescue::{READY, stamp, sync_folder_of, take_name, write_copy};
use crate::{Store, StoreError, file_lock};

/// How often it is put back before somebody has to look: a program that replaces the file again and again would win.
const PUT_BACK: u32 = 3;

impl Store {
    /// Puts back what was confirmed, where the file's name or log was lost.
    ///
    /// # Errors
    /// [`StoreError::Unsafe`] where that cannot be: nothing is confirmed then.
    pub(crate) fn mend(&self, found: Stands) -> Result<(), StoreError> {
        let file = &self.file;
        let _one_at_a_time = file.mending.lock().unwrap_or_else(|e| e.into_inner());
        let kind = match (file.stands(), found) {
            // Somebody else has mended it meanwhile.
            (Stands::Well, _) => return Ok(()),
            (Stands::NameLost, _) => FindingKind::NameLost,
            (Stands::Replaced, _) => FindingKind::Replaced,
            (Stands::LogLost, _) => FindingKind::LogLost,
        };
        // What was found before and could not be mended is not tried at each look.
        if let Some(stopped) = self.findings().into_iter().find(|f| f.kind == kind && f.stops) {
            return Err(StoreError::Unsafe(stopped));
        }
        let what = match kind {
            FindingKind::NameLost => "The kitchen's file was deleted or moved while the program ran.",
            FindingKind::Replaced => "Another program put another file in the place of the kitchen's file.",
            _ => "Another program deleted the log that belongs to the kitchen's file.",
        };
        let (stops, says) = match self.put_back() {
            Ok(Some(aside)) => (
                false,
                format!(
                    "{what} Everything that was saved here is back in its place; the other file is kept as {}. Find out which program does that, and let it leave the kitchen alone.",
                    aside.display()
                ),
            ),
            Ok(None) => (
                false,
                format!(
                    "{what} Everything that was saved here is back in its place. Find out which program does that, and let it leave the kitchen alone."
                ),
            ),
            Err((saved, why)) => {
                let saved = saved.map_or(
                    "Download a backup under Kitchen, Backups before you stop the program: it holds everything.".to_owned(),
                    |f| format!("Everything that was saved is in {}.", f.display()),
                );
                (
                    true,
                    format!(
                        "{what} Nothing more can be saved: {why}. {saved} Then stop the program, put that file in the place of the kitchen's, and start again."
                    ),
                )
            }
        };
        file.findings.note(kind, stops, says);
        match self.findings().into_iter().find(|f| f.kind == kind && f.stops) {
            Some(stopped) => Err(StoreError::Unsafe(stopped)),
            None => Ok(()),
        }
    }

    /// Puts it back; where what had its name is kept. Else why not, and where what was confirmed is saved.
    fn put_back(&self) -> Result<Option<PathBuf>, (Option<PathBuf>, String)> {
        let file = &self.file;
        let lost = |e: &dyn std::fmt::Display| (None, e.to_string());
        let open = file.open();
        // Nobody else writes meanwhile.
        let mut writer = open.writer.get().map_err(|e| lost(&e))?;
        let now = self.clock.now();
        let part = file.beside(".rescue.part");
        write_copy(&mut writer, &part).map_err(|e| lost(&e))?;
        let mut times = file.put_back.lock().unwrap_or_else(|e| e.into_inner());
        if *times >= PUT_BACK {
            let saved = file.beside(&format!(".saved-{}", stamp(now)));
            let why = "it happened again and again".to_owned();
            return Err(match std::fs::rename(&part, &saved) {
                Ok(()) => (Some(saved), why),
                Err(_) => (Some(part), why),
            });
        }
        *times += 1;
        let ready = file.beside(READY);
        let failed = |e: &dyn std::fmt::Display| (Some(part.clone()), e.to_string());
        match file_lock::lock_file(&part) {
            Ok(true) => {}
            Ok(false) => return Err(failed(&"another program has it")),
            Err(e) => return Err(failed(&e)),
        }
        std::fs::rename(&part, &ready).map_err(|e| failed(&e))?;
        sync_folder_of(&ready);
        let log = FileId::of(&file.beside("-wal")).ok().flatten();
        let log_is_ours = log.is_none_or(|l| l == open.log);
        let kept = take_name(&ready, &file.path, now, log_is_ours)
            .map_err(|e| (Some(ready.clone()), e.to_string()))?;
        let fresh = connections(&file.path).map_err(|e| lost(&e))?;
        file.go_on_with(fresh);
        Ok(kept)
    }

    /// Writes everything that is saved, as it is in memory, into another file; whatever has become of the kitchen's own.
    ///
    /// # Errors
    /// A place that cannot be written.
    pub fn copy_into(&self, into: &Path) -> Result<(), StoreError> {
        let open = self.file.open();
        let c = &mut open.readers.get()?;
        // It only reads; SQLite takes a copy for a write.
        c.batch_execute("PRAGMA query_only = OFF;")?;
        let copied = write_copy(c, into);
        c.batch_execute("PRAGMA query_only = ON;")?;
        copied
    }
}
