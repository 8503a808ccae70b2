//! Backups: the nightly ones in their folder, one by hand, whether one is whole, and restoring one.

use actix_web::http::StatusCode;
use actix_web::http::header::{self, HeaderValue};
use actix_web::{HttpResponse, web};
use askama::Template;
use cerealis_store::{Backups, Store, StoreError, check_backup};
use jiff::{SignedDuration, Timestamp};

use crate::arrival;
use crate::error::{PageError, blocking, html_as};
use crate::household::Household;
use crate::posted::Posted;
use crate::sharing::Baker;

/// After how long without a backup it is said.
const TOO_OLD: SignedDuration = SignedDuration::from_hours(3 * 24);

/// A backup as a row.
struct Row {
    /// Its file's name.
    name: String,
    /// When it was made, by the kitchen's clock.
    at: String,
    size: String,
}

#[derive(Template)]
#[template(path = "backups.html")]
struct BackupsPage {
    rows: Vec<Row>,
    folder: String,
    room: String,
    /// Set where there is less room than is wanted.
    short: bool,
    warning: String,
    said: String,
    fault: String,
}

/// So many bytes, in words.
fn size(bytes: u64) -> String {
    match bytes as f64 {
        b if b < 1e6 => format!("{:.0} kB", (b / 1e3).ceil()),
        b if b < 1e9 => format!("{:.1} MB", b / 1e6),
        b => format!("{:.1} GB", b / 1e9),
    }
}

/// What is said where the last backup is too old; nothing where it is not.
///
/// # Errors
/// What the store and the folder report.
pub fn warning(store: &Store, backups: &Backups) -> Result<String, StoreError> {
    let now = store.clock.now();
    let last = backups.last(now)?;
    let since = match last {
        Some(at) => Some(at),
        // A kitchen that is new has none yet.
        None => {
            let saved =
                store.formula_marks()?.into_iter().filter_map(|m| m.updated_at.parse::<Timestamp>().ok());
            saved.min()
        }
    };
    if let Some(odd) = backups.ahead(now)?.first() {
        let name = odd.file.file_name().map_or(String::new(), |n| n.to_string_lossy().into_owned());
        return Ok(format!(
            "The backup {name} is dated in the future. This machine's clock is wrong, or was. Set the clock; delete that file if it is wrong."
        ));
    }
    Ok(match since.map(|at| now.duration_since(at)) {
        Some(age) if age > TOO_OLD => match last {
            Some(_) => format!("The last backup is {} days old. Make one now.", age.as_hours() / 24),
            None => "There is no backup of this kitchen. Make one now.".to_owned(),
        },
        _ => String::new(),
    })
}

fn page(store: &Store, backups: &Backups, said: String, fault: String) -> Result<BackupsPage, PageError> {
    let zone = Household::load(store)?.zone();
    let row = |k: &cerealis_store::Kept| Row {
        name: k.file.file_name().map_or(String::new(), |n| n.to_string_lossy().into_owned()),
        at: k.at.to_zoned_datetime(zone.clone()).strftime("%A %-d %B %Y, %H:%M").to_string(),
        size: size(k.bytes),
    };
    let room = backups.room()?;
    Ok(BackupsPage {
        rows: backups.all()?.iter().map(row).collect(),
        folder: backups.folder.display().to_string(),
        short: room.free < room.wanted.saturating_sub(room.taken),
        room: format!(
            "They take {}, and {} once all are there; {} are free.",
            size(room.taken),
            size(room.wanted),
            size(room.free)
        ),
        warning: warning(store, backups)?,
        said,
        fault,
    })
}

/// The page.
pub async fn show(
    _baker: Baker,
    store: web::Data<Store>,
    backups: web::Data<Backups>,
) -> Result<HttpResponse, PageError> {
    let page = blocking(move || page(&store, &backups, String::new(), String::new())).await?;
    html_as(StatusCode::OK, &page)
}

/// Makes one, looks at one, or restores one.
pub async fn post(
    _baker: Baker,
    store: web::Data<Store>,
    backups: web::Data<Backups>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let op = posted.0.value("op").to_owned();
    let (status, page) = blocking(move || {
        let done = match op.split_once(':').unwrap_or((op.as_str(), "")) {
            ("now", _) => backups.make(&store).map(|_| "Backed up.".to_owned()),
            ("check", name) => backups.named(name).and_then(|file| {
                let made = check_backup(&file)?;
                Ok(format!("It is whole: made by Cerealis {}, {} unpacked.", made.program, size(made.bytes)))
            }),
            ("restore", name) => backups.named(name).and_then(|file| {
                backups.restore_open(&store, &file)?;
                Ok(RESTORED.to_owned())
            }),
            _ => return Err(PageError::UnknownButton),
        };
        said(&store, &backups, done)
    })
    .await?;
    html_as(status, &page)
}

const RESTORED: &str = "Restored. How the kitchen was before is a backup of its own, the first in the list.";

fn said(
    store: &Store,
    backups: &Backups,
    done: Result<String, StoreError>,
) -> Result<(StatusCode, BackupsPage), PageError> {
    match done {
        Ok(said) => Ok((StatusCode::OK, page(store, backups, said, String::new())?)),
        Err(bad @ StoreError::BadBackup(..)) => {
            Ok((StatusCode::UNPROCESSABLE_ENTITY, page(store, backups, String::new(), bad.to_string())?))
        }
        Err(other) => Err(other.into()),
    }
}

/// The largest backup that a page takes, in bytes: a kitchen of years with its photos.
const BACKUP_MAX: u64 = 4 << 30;

/// Restores a backup that is kept elsewhere.
pub async fn bring(
    _baker: Baker,
    store: web::Data<Store>,
    backups: web::Data<Backups>,
    body: web::Payload,
) -> Result<HttpResponse, PageError> {
    let file = backups.folder.join(format!("brought-{}.part", store.clock.now().as_nanosecond()));
    let folder = backups.folder.clone();
    blocking(move || {
        cerealis_store::create_folder(&folder)
            .map_err(|e| StoreError::Unwritable(folder.clone(), e.to_string()).into())
    })
    .await?;
    let received = arrival::into_file(body, file, BACKUP_MAX).await?;
    let (status, page) = blocking(move || {
        let done = backups.restore_open(&store, received.path()).map(|_| RESTORED.to_owned());
        let named = |e| match e {
            StoreError::BadBackup(_, why) => StoreError::BadBackup("The file".into(), why),
            other => other,
        };
        said(&store, &backups, done.map_err(named))
    })
    .await?;
    html_as(status, &page)
}

/// A backup made at this moment, of what is in memory too, to be kept elsewhere.
pub async fn now(_baker: Baker, store: web::Data<Store>) -> Result<HttpResponse, PageError> {
    let made_at = store.clock.now();
    let bytes = blocking(move || {
        // Not beside the kitchen: its disk may be what is wrong.
        let file = std::env::temp_dir().join(format!(
            "cerealis-{}-{}.sqlite.gz",
            std::process::id(),
            store.clock.now().as_nanosecond()
        ));
        let made = store.back_up(&file).and_then(|_| {
            std::fs::read(&file).map_err(|e| StoreError::Unwritable(file.clone(), e.to_string()))
        });
        let _ = std::fs::remove_file(&file);
        Ok(made?)
    })
    .await?;
    let named = format!("attachment; filename=\"kitchen-{}.sqlite.gz\"", made_at.strftime("%Y%m%dT%H%M%SZ"));
    let mut response = HttpResponse::Ok().content_type("application/gzip").body(bytes);
    if let Ok(named) = HeaderValue::from_str(&named) {
        response.headers_mut().insert(header::CONTENT_DISPOSITION, named);
    }
    Ok(response)
}

/// One as a file, to be kept elsewhere.
pub async fn file(
    _baker: Baker,
    backups: web::Data<Backups>,
    name: web::Path<String>,
) -> Result<HttpResponse, PageError> {
    let named = format!("attachment; filename=\"{name}\"");
    let bytes = blocking(move || {
        let file = backups.named(&name)?;
        std::fs::read(&file).map_err(|_| PageError::NotFound)
    })
    .await?;
    let mut response = HttpResponse::Ok().content_type("application/gzip").body(bytes);
    if let Ok(named) = HeaderValue::from_str(&named) {
        response.headers_mut().insert(header::CONTENT_DISPOSITION, named);
    }
    Ok(response)
}
