//! Backups: the nightly ones in their folder, one by hand, whether one is whole, and restoring one.

use actix_web::http::StatusCode;
use actix_web::http::header::{self, HeaderValue};
use actix_web::{HttpResponse, web};
use askama::Template;
use cerealis_store::{Backups, Store, StoreError, check_backup};
use jiff::{SignedDuration, Timestamp};

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
    let last = backups.all()?.first().map(|k| k.at);
    let since = match last {
        Some(at) => Some(at),
        // A kitchen that is new has none yet.
        None => {
            let saved =
                store.formula_marks()?.into_iter().filter_map(|m| m.updated_at.parse::<Timestamp>().ok());
            saved.min()
        }
    };
    Ok(match since.map(|at| now.duration_since(at)) {
        Some(age) if age > TOO_OLD => match last {
            Some(_) => format!("The last backup is {} days old.", age.as_hours() / 24),
            None => "There is no backup of this kitchen.".to_owned(),
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
            ("now", _) => backups.make(store.clock.now()).map(|_| "Backed up.".to_owned()),
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

/// Restores a backup that is kept elsewhere.
pub async fn bring(
    _baker: Baker,
    store: web::Data<Store>,
    backups: web::Data<Backups>,
    body: web::Bytes,
) -> Result<HttpResponse, PageError> {
    let (status, page) = blocking(move || {
        let file = backups.folder.join(format!("brought-{}.part", store.clock.now().as_nanosecond()));
        let unwritable = |e: std::io::Error| StoreError::Unwritable(file.clone(), e.to_string());
        std::fs::create_dir_all(&backups.folder).map_err(unwritable)?;
        std::fs::write(&file, &body).map_err(unwritable)?;
        let done = backups.restore_open(&store, &file).map(|_| RESTORED.to_owned());
        let _ = std::fs::remove_file(&file);
        let named = |e| match e {
            StoreError::BadBackup(_, why) => StoreError::BadBackup("The file".into(), why),
            other => other,
        };
        said(&store, &backups, done.map_err(named))
    })
    .await?;
    html_as(status, &page)
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
