//! Style sheets, scripts and fonts, from inside the binary.
//!
//! Their addresses carry a hash of all of them, so that a browser keeps each for a year and never shows
//! a page with yesterday's script.

use std::sync::OnceLock;

use actix_web::http::header::{self, ETag, EntityTag, Header, IfNoneMatch};
use actix_web::{HttpRequest, HttpResponse, web};
use rust_embed::RustEmbed;

use crate::error::PageError;

#[derive(RustEmbed)]
#[folder = "static/"]
struct Files;

/// A short hash of all files together.
fn edition() -> &'static str {
    static EDITION: OnceLock<String> = OnceLock::new();
    EDITION.get_or_init(|| {
        let mut names: Vec<_> = Files::iter().collect();
        names.sort();
        let mut mixed = [0u8; 32];
        for file in names.iter().filter_map(|n| Files::get(n)) {
            for (i, byte) in file.metadata.sha256_hash().into_iter().enumerate() {
                // Order matters, so that two files that change places make another edition.
                mixed[i] = mixed[i].rotate_left(3) ^ byte;
            }
        }
        mixed[..6].iter().map(|b| format!("{b:02x}")).collect()
    })
}

/// The address of a file as it is now.
pub fn at(path: &str) -> String {
    format!("/static/{}/{path}", edition())
}

/// Serves one file; a browser that has it already is told so.
pub async fn serve(request: HttpRequest, path: web::Path<String>) -> Result<HttpResponse, PageError> {
    let (named, file) = match path.split_once('/') {
        Some((named, rest)) if named == edition() => (true, Files::get(rest)),
        // A page of another edition finds its files still, as they are now.
        Some((named, rest)) if named.len() == edition().len() => (false, Files::get(rest)),
        _ => (false, Files::get(&path)),
    };
    let file = file.ok_or(PageError::NotFound)?;
    let hash: String = file.metadata.sha256_hash()[..12].iter().map(|b| format!("{b:02x}")).collect();
    let tag = EntityTag::new_strong(hash);
    let known = match IfNoneMatch::parse(&request) {
        Ok(IfNoneMatch::Items(tags)) => tags.iter().any(|t| t.weak_eq(&tag)),
        _ => false,
    };
    let mut response = if known { HttpResponse::NotModified() } else { HttpResponse::Ok() };
    let keep = if named { "public, max-age=31536000, immutable" } else { "no-cache" };
    response.insert_header(ETag(tag)).insert_header((header::CACHE_CONTROL, keep));
    if known {
        return Ok(response.finish());
    }
    let kind = file.metadata.mimetype().to_owned();
    Ok(response.insert_header((header::CONTENT_TYPE, kind)).body(file.data.into_owned()))
}
