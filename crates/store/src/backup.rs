//! A backup: the kitchen's file as one file, packed, with the check sum of what is in it. It is a gzip of an SQLite
//! file, so that any tool opens it; what is to be known of it stands in the comment of its header.

use std::fs::File;
use std::io::{self, BufReader, BufWriter, Read, Write};
use std::path::{Path, PathBuf};

use diesel::connection::SimpleConnection;
use diesel::sqlite::SqliteConnection;
use diesel::{Connection, RunQueryDsl, sql_query, sql_types};
use flate2::Compression;
use flate2::GzBuilder;
use flate2::bufread::GzDecoder;
use flate2::write::GzEncoder;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use sha2::{Digest, Sha256};

use crate::file::{beside, plain};
use crate::file_lock::real_path;
use crate::open::look_over;
use crate::rescue::write_copy;
use crate::{Store, StoreError, private};

/// What a backup says of itself.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct Backup {
    /// When it was made.
    pub made_at: Timestamp,
    /// By which program.
    pub program: String,
    /// How large the kitchen's file in it is, in bytes.
    pub bytes: u64,
    /// The SHA-256 of that, and of the moment and the program, in hexadecimal.
    pub sha256: String,
}

/// The most that a kitchen's file may unpack to, in bytes: what claims to be more is no kitchen.
const UNPACKS_TO: u64 = 8 << 30;

fn unwritable(path: &Path) -> impl Fn(io::Error) -> StoreError {
    move |e| StoreError::Unwritable(path.into(), e.to_string())
}

/// A file that goes when it is not wanted any more.
struct Passing(PathBuf);

impl Drop for Passing {
    fn drop(&mut self) {
        let _ = std::fs::remove_file(&self.0);
    }
}

/// Backs a kitchen's file up into another, while another program serves it. What is there under that name is replaced
/// once the new one is whole. In the program that serves it, [`Store::back_up`] is the way.
///
/// # Errors
/// A file that is not ours, is damaged or newer than this program; a place that cannot be written.
pub fn back_up(data: &Path, into: &Path, now: Timestamp) -> Result<Backup, StoreError> {
    let whole = real_path(data).map_err(unwritable(data))?;
    // SQLite would make an empty one where there is none.
    std::fs::metadata(&whole).map_err(unwritable(data))?;
    let name = plain(&whole)?;
    look_over(name, data)?;
    let fails = |e: &dyn std::fmt::Display| StoreError::Unwritable(into.into(), e.to_string());
    let mut c = SqliteConnection::establish(name).map_err(|e| fails(&e))?;
    c.batch_execute("PRAGMA busy_timeout = 4000;").map_err(|e| fails(&e))?;
    let copy = Passing(beside(into, ".copy"));
    write_copy(&mut c, &copy.0)?;
    packed_copy(&copy.0, into, now)
}

/// Packs a copy of a kitchen into a backup.
fn packed_copy(copy: &Path, into: &Path, now: Timestamp) -> Result<Backup, StoreError> {
    let mut backup =
        Backup { made_at: now, program: env!("CARGO_PKG_VERSION").into(), bytes: 0, sha256: String::new() };
    let mut sum = backup.sum_begun();
    let file = File::open(copy).map_err(unwritable(into))?;
    backup.bytes = passed(file, &mut io::sink(), &mut sum, u64::MAX).map_err(unwritable(into))?;
    backup.sha256 = hex(&sum.finalize());
    let part = Passing(beside(into, ".part"));
    packed(copy, &part.0, &backup).map_err(unwritable(into))?;
    std::fs::rename(&part.0, into).map_err(unwritable(into))?;
    Ok(backup)
}

/// What a backup says of itself, without unpacking it; `None` where it is none.
pub(crate) fn header(file: &Path) -> Option<Backup> {
    let mut gz = GzDecoder::new(BufReader::new(File::open(file).ok()?));
    // The header is read with the first bytes, of which none are wanted.
    let _ = gz.read(&mut []).ok()?;
    serde_json::from_slice(gz.header()?.comment()?).ok()
}

impl Backup {
    /// Says of itself what is so of some content: its length and its check sum.
    pub fn seal(&mut self, content: &[u8]) {
        let mut sum = self.sum_begun();
        sum.update(content);
        self.bytes = content.len() as u64;
        self.sha256 = hex(&sum.finalize());
    }

    fn sum_begun(&self) -> Sha256 {
        let mut sum = Sha256::new();
        sum.update(format!("{} {}\n", self.made_at, self.program));
        sum
    }
}

/// Passes on what is read, into a sum as well; how much it was. More than the most is an error.
fn passed(mut from: impl Read, to: &mut impl Write, sum: &mut Sha256, most: u64) -> io::Result<u64> {
    let (mut buffer, mut bytes) = (vec![0; 1 << 16], 0u64);
    loop {
        let n = from.read(&mut buffer)?;
        if n == 0 {
            return Ok(bytes);
        }
        bytes += n as u64;
        if bytes > most {
            return Err(io::Error::other("it holds more than it says"));
        }
        sum.update(&buffer[..n]);
        to.write_all(&buffer[..n])?;
    }
}

pub(crate) fn hex(bytes: &[u8]) -> String {
    bytes.iter().map(|b| format!("{b:02x}")).collect()
}

fn packed(from: &Path, into: &Path, backup: &Backup) -> io::Result<()> {
    let says = serde_json::to_string(backup)?;
    let _ = std::fs::remove_file(into);
    let file = BufWriter::new(private::create(into)?);
    let mut out: GzEncoder<BufWriter<File>> =
        GzBuilder::new().filename("kitchen.sqlite").comment(says).write(file, Compression::default());
    io::copy(&mut File::open(from)?, &mut out)?;
    let mut file = out.finish()?;
    file.flush()?;
    file.get_ref().sync_all()
}

/// Unpacks a backup into a file, as far as it is what it says.
fn unpacked(file: &Path, into: &Path) -> Result<Backup, StoreError> {
    let bad = |why: String| StoreError::BadBackup(file.into(), why);
    let opened = File::open(file).map_err(|e| bad(e.to_string()))?;
    let mut gz = GzDecoder::new(BufReader::new(opened));
    // The header is read with the first bytes.
    let begun = gz.read(&mut []).map(|_| ());
    let says = gz.header().and_then(|h| h.comment()).and_then(|c| serde_json::from_slice::<Backup>(c).ok());
    let backup = says.filter(|_| begun.is_ok()).ok_or_else(|| bad("it is no backup of Cerealis".into()))?;
    let _ = std::fs::remove_file(into);
    let mut out = BufWriter::new(private::create(into).map_err(unwritable(into))?);
    let mut sum = backup.sum_begun();
    let most = backup.bytes.min(UNPACKS_TO);
    let bytes =
        passed(&mut gz, &mut out, &mut sum, most).map_err(|e| bad(format!("it does not unpack, {e}")))?;
    out.flush().and_then(|()| out.get_ref().sync_all()).map_err(unwritable(into))?;
    if bytes != backup.bytes || hex(&sum.finalize()) != backup.sha256 {
        return Err(bad("its check sum is another: something of it was changed or lost".into()));
    }
    let name = into.to_str().ok_or_else(|| bad("its name is not plain text".into()))?;
    crate::plain_tables::check(name)
        .map_err(|odd| bad(format!("it holds something else than the tables of a kitchen: {odd}")))?;
    look_over(name, file).map_err(|e| match e {
        StoreError::NewerFile(_) => bad("it was made by a newer Cerealis: update the program first".into()),
        StoreError::NotOurs(_) => bad("it holds no kitchen of Cerealis".into()),
        StoreError::BrokenFile(_, why) => bad(why),
        other => bad(other.to_string()),
    })?;
    Ok(backup)
}

/// Whether a backup can be restored: it unpacks, its check sum is right, what is in it is whole and not newer than this
/// program.
///
/// # Errors
/// What is wrong with it.
pub fn check_backup(file: &Path) -> Result<Backup, StoreError> {
    unpacked(file, &Passing(beside(file, ".check")).0)
}

/// Restores a backup over a kitchen's file, which must not be open. What was there is kept beside it, under a name that
/// tells when; `None` where nothing was.
///
/// # Errors
/// What is wrong with the backup, before anything is touched; a place that cannot be written.
pub fn restore(file: &Path, data: &Path, now: Timestamp) -> Result<Option<PathBuf>, StoreError> {
    let part = Passing(beside(data, ".restored"));
    unpacked(file, &part.0)?;
    let mut kept = None;
    if std::fs::metadata(data).is_ok_and(|m| m.len() > 0) {
        let aside = beside(data, &format!(".before-{}", now.strftime("%Y%m%dT%H%M%SZ")));
        for end in ["", "-wal", "-shm"] {
            let from = beside(data, end);
            if from.exists() {
                std::fs::rename(&from, beside(&aside, end)).map_err(unwritable(&from))?;
            }
        }
        kept = Some(aside);
    }
    std::fs::rename(&part.0, data).map_err(unwritable(data))?;
    if let Some(folder) = data.parent().and_then(|f| File::open(f).ok()) {
        // The name is on the disk too.
        let _ = folder.sync_all();
    }
    Ok(kept)
}

/// What a restore into an open kitchen brings: everything but who is let in and what is known of
/// the file itself. A table comes after those that it hangs on.
pub(crate) const TABLES: [&str; 11] = [
    "formulas",
    "versions",
    "kitchens",
    "cupboards",
    "doughs",
    "bakes",
    "bake_events",
    "photos",
    "day_plans",
    "set_aside",
    "bin",
];

impl Store {
    /// Backs the kitchen up as it is open here. What is there under that name is replaced once the new one is whole.
    ///
    /// # Errors
    /// A place that cannot be written.
    pub fn back_up(&self, into: &Path) -> Result<Backup, StoreError> {
        let copy = Passing(beside(into, ".copy"));
        self.copy_into(&copy.0)?;
        packed_copy(&copy.0, into, self.clock.now())
    }

    /// Takes over what a backup holds, in one piece.
    ///
    /// # Errors
    /// What is wrong with it, before anything is touched.
    pub(crate) fn take_over(&self, file: &Path) -> Result<(), StoreError> {
        let part = Passing(beside(file, ".opened"));
        unpacked(file, &part.0)?;
        // Opened once, it has the tables of this program.
        drop(Store::open(&part.0)?);
        let name = plain(&part.0)?;
        self.stands()?;
        let c = &mut *self.writing()?;
        sql_query("ATTACH ? AS backup").bind::<sql_types::Text, _>(name).execute(c)?;
        let taken = c.immediate_transaction(|c| {
            c.batch_execute("PRAGMA defer_foreign_keys = ON;")?;
            for table in TABLES.iter().rev() {
                c.batch_execute(&format!("DELETE FROM main.{table};"))?;
            }
            for table in TABLES {
                c.batch_execute(&format!("INSERT INTO main.{table} SELECT * FROM backup.{table};"))?;
            }
            Ok::<_, StoreError>(())
        });
        c.batch_execute("DETACH backup;")?;
        for end in ["-wal", "-shm"] {
            let _ = std::fs::remove_file(beside(&part.0, end));
        }
        taken?;
        self.stands()
    }
}

#[cfg(test)]
mod tests {
    use std::collections::BTreeSet;

    use super::*;
    use crate::open::table_names;

    /// Who is let in, and what is known of the file itself.
    const STAYS: [&str; 4] = ["devices", "sessions", "settings", "__diesel_schema_migrations"];

    #[test]
    fn each_table_is_brought_by_a_restore_or_stays_on_purpose() {
        let dir = tempfile::tempdir().unwrap();
        let data = dir.path().join("kitchen.sqlite");
        Store::open(&data).unwrap();
        let there: BTreeSet<String> = table_names(data.to_str().unwrap()).into_iter().collect();
        let listed: BTreeSet<String> = TABLES.iter().chain(&STAYS).map(|t| (*t).to_owned()).collect();
        assert_eq!(there, listed);
    }
}
