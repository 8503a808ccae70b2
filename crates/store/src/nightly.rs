//! Backups in a folder: one a night, and of the older ones those of seven days, four weeks and six months.

use std::collections::BTreeSet;
use std::io;
use std::path::{Path, PathBuf};
use std::sync::Mutex;

use jiff::civil::Date;
use jiff::fmt::strtime;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};

use crate::backup::{Backup, check_backup, header};
use crate::{Store, StoreError, private};

/// Of how many days the last backup is kept.
const DAYS: usize = 7;
/// Of how many weeks.
const WEEKS: usize = 4;
/// Of how many months.
const MONTHS: usize = 6;

const BEGINS: &str = "kitchen-";
const MOMENT: &str = "%Y%m%dT%H%M%SZ";
const ENDS: &str = ".sqlite.gz";

/// The folder in which a kitchen's backups are kept.
#[derive(Clone, Debug)]
pub struct Backups {
    /// The kitchen's file.
    pub data: PathBuf,
    /// The folder; made when it is needed.
    pub folder: PathBuf,
}

/// What backups take up, in bytes.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Room {
    /// Those that are there.
    pub taken: u64,
    /// As many as are kept in the end, each as large as the last one.
    pub wanted: u64,
    /// What is free on the disk.
    pub free: u64,
}

/// A backup in the folder.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Kept {
    /// When it was made, as it says of itself; by its name where it does not.
    pub at: Timestamp,
    /// The file.
    pub file: PathBuf,
    /// How large it is, in bytes.
    pub bytes: u64,
}

/// The span of time that a day lies in, as something that is the same for all of its days.
type Span = fn(Date) -> (i16, i16);

/// Which of some backups are kept: the last of each of the last days, weeks and months that have one, by the kitchen's
/// clock.
pub fn kept(made: &[Timestamp], zone: &TimeZone) -> BTreeSet<Timestamp> {
    let mut newest: Vec<Timestamp> = made.to_vec();
    newest.sort_unstable_by(|a, b| b.cmp(a));
    let mut all = BTreeSet::new();
    let spans: [(usize, Span); 3] = [
        (DAYS, |d| (d.year(), d.day_of_year())),
        (WEEKS, |d| (d.iso_week_date().year(), d.iso_week_date().week().into())),
        (MONTHS, |d| (d.year(), d.month().into())),
    ];
    for (most, span) in spans {
        let mut seen = BTreeSet::new();
        for t in &newest {
            if seen.len() < most && seen.insert(span(t.to_zoned_datetime(zone.clone()).date())) {
                all.insert(*t);
            }
        }
    }
    all
}

impl Backups {
    /// Those of a kitchen's file: in a folder that is given, or one beside the file.
    pub fn of(data: &Path, folder: Option<PathBuf>) -> Backups {
        let beside = || {
            let mut name = data.file_stem().unwrap_or_default().to_owned();
            name.push("-backups");
            data.with_file_name(name)
        };
        Backups { data: data.into(), folder: folder.unwrap_or_else(beside) }
    }

    /// What is in the folder, the last first; other files are passed over.
    ///
    /// # Errors
    /// A folder that cannot be read.
    pub fn all(&self) -> Result<Vec<Kept>, StoreError> {
        let unreadable = |e: io::Error| StoreError::Unwritable(self.folder.clone(), e.to_string());
        let mut all = Vec::new();
        match std::fs::read_dir(&self.folder) {
            Err(e) if e.kind() == io::ErrorKind::NotFound => return Ok(all),
            Err(e) => return Err(unreadable(e)),
            Ok(entries) => {
                for entry in entries {
                    let entry = entry.map_err(unreadable)?;
                    let named = entry.file_name().to_str().and_then(moment_of);
                    if let (Some(named), Ok(meta)) = (named, entry.metadata()) {
                        let file = entry.path();
                        let at = header(&file).map_or(named, |says| says.made_at);
                        all.push(Kept { at, file, bytes: meta.len() });
                    }
                }
            }
        }
        all.sort_unstable_by_key(|k| std::cmp::Reverse(k.at));
        Ok(all)
    }

    /// When the last one was made, as far as that can be believed: what is dated after now was made by a clock that was
    /// wrong, and keeps no other from being made.
    ///
    /// # Errors
    /// A folder that cannot be read.
    pub fn last(&self, now: Timestamp) -> Result<Option<Timestamp>, StoreError> {
        Ok(self.all()?.into_iter().map(|k| k.at).find(|at| !is_ahead(*at, now)))
    }

    /// Those that are dated after now.
    ///
    /// # Errors
    /// A folder that cannot be read.
    pub fn ahead(&self, now: Timestamp) -> Result<Vec<Kept>, StoreError> {
        Ok(self.all()?.into_iter().filter(|k| is_ahead(k.at, now)).collect())
    }

    /// One of them, by its name.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when there is none of that name.
    pub fn named(&self, name: &str) -> Result<PathBuf, StoreError> {
        let of_ours = moment_of(name).is_some().then(|| self.folder.join(name));
        of_ours.filter(|f| f.is_file()).ok_or(StoreError::NotFound)
    }

    /// Makes one now, of a kitchen that is open here.
    ///
    /// # Errors
    /// What a backup reports; a folder that cannot be made.
    pub fn make(&self, store: &Store) -> Result<Backup, StoreError> {
        // One at a time: two of one moment would take the same name.
        static MAKING: Mutex<()> = Mutex::new(());
        let _alone = MAKING.lock().unwrap_or_else(|e| e.into_inner());
        let now = store.clock.now();
        let unwritable = |e: io::Error| StoreError::Unwritable(self.folder.clone(), e.to_string());
        private::create_folder(&self.folder).map_err(unwritable)?;
        let file = |at: Timestamp| self.folder.join(format!("{BEGINS}{}{ENDS}", at.strftime(MOMENT)));
        // Two of one second stand beside each other: none is written over another.
        let free = (0..).map(|n| file(now + SignedDuration::from_secs(n))).find(|f| !f.exists());
        store.back_up(&free.unwrap_or_else(|| file(now)))
    }

    /// Makes one, and lets those go that are not kept any longer; how many went.
    ///
    /// # Errors
    /// What a backup reports. Nothing goes where none was made.
    pub fn nightly(&self, store: &Store, zone: &TimeZone) -> Result<(Backup, usize), StoreError> {
        let made = self.make(store)?;
        let now = store.clock.now();
        // What is dated after now takes no other's place, and stays.
        let all: Vec<Kept> = self.all()?.into_iter().filter(|k| !is_ahead(k.at, now)).collect();
        let stay = kept(&all.iter().map(|k| k.at).collect::<Vec<_>>(), zone);
        let gone = all.iter().filter(|k| !stay.contains(&k.at) && std::fs::remove_file(&k.file).is_ok());
        Ok((made, gone.count()))
    }

    /// What they take up, and what there is.
    ///
    /// # Errors
    /// A folder or a disk that cannot be asked.
    pub fn room(&self) -> Result<Room, StoreError> {
        let all = self.all()?;
        let last = match all.first() {
            Some(last) => last.bytes,
            // Not packed yet.
            None => std::fs::metadata(&self.data).map_or(0, |m| m.len()),
        };
        let asked = self.folder.ancestors().find(|f| f.exists()).unwrap_or(Path::new("."));
        let free = fs4::available_space(asked)
            .map_err(|e| StoreError::Unwritable(self.folder.clone(), e.to_string()))?;
        let most = (DAYS + WEEKS + MONTHS) as u64;
        Ok(Room { taken: all.iter().map(|k| k.bytes).sum(), wanted: most * last, free })
    }

    /// Restores one of them into a kitchen that is open, in one piece; how it was before is backed up first. Devices and
    /// settings stay as they are.
    ///
    /// # Errors
    /// What is wrong with the backup, before anything is touched.
    pub fn restore_open(&self, store: &Store, file: &Path) -> Result<Backup, StoreError> {
        check_backup(file)?;
        let before = self.make(store)?;
        store.take_over(file)?;
        Ok(before)
    }
}

/// A clock that is set on by a network may have been a little ahead before.
const AHEAD: SignedDuration = SignedDuration::from_mins(5);

fn is_ahead(at: Timestamp, now: Timestamp) -> bool {
    at.duration_since(now) > AHEAD
}

fn moment_of(name: &str) -> Option<Timestamp> {
    let moment = name.strip_prefix(BEGINS)?.strip_suffix(ENDS)?;
    strtime::parse(MOMENT, moment)
        .ok()?
        .to_datetime()
        .ok()?
        .to_zoned_datetime(TimeZone::UTC)
        .ok()
        .map(|z| z.timestamp())
}
