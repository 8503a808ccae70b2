//! Style sheets, scripts and fonts, from inside the binary.
//!
//! Their addresses carry a hash of all of them, so that a browser keeps each for a year and never shows
//! a page with yesterday's script.

use std::collections::HashMap;
use std::io::Write;
use std::sync::OnceLock;

use actix_web::http::header::{self, ETag, EntityTag, Header, IfNoneMatch};
use actix_web::{HttpRequest, HttpResponse, web};
use flate2::Compression;
use flate2::write::GzEncoder;
use rust_embed::RustEmbed;

use crate::error::PageError;

#[derive(RustEmbed)]
#[folder = "static/"]
struct Files;

/// A short hash of all files together.
pub fn edition() -> &'static str {
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

/// Style sheets, scripts and pictures made small, once: as small as gzip makes them.
fn small() -> &'static HashMap<String, Vec<u8>> {
    static SMALL: OnceLock<HashMap<String, Vec<u8>>> = OnceLock::new();
    SMALL.get_or_init(|| {
        let text = |name: &str| [".css", ".js", ".svg"].iter().any(|e| name.ends_with(e));
        let made = |name: &str| {
            let mut gzip = GzEncoder::new(Vec::new(), Compression::best());
            gzip.write_all(&Files::get(name)?.data).ok()?;
            Some((name.to_owned(), gzip.finish().ok()?))
        };
        Files::iter().filter(|n| text(n)).filter_map(|n| made(&n)).collect()
    })
}

/// The names of all files.
pub fn names() -> impl Iterator<Item = String> {
    Files::iter().map(|n| n.into_owned())
}

/// The address of a file as it is now.
pub fn at(path: &str) -> String {
    format!("/static/{}/{path}", edition())
}

/// Serves one file; a browser that has it already is told so.
pub async fn serve(request: HttpRequest, path: web::Path<String>) -> Result<HttpResponse, PageError> {
    let (named, name) = match path.split_once('/') {
        Some((named, rest)) if named == edition() => (true, rest),
        // A page of another edition finds its files still, as they are now.
        Some((named, rest)) if named.len() == edition().len() => (false, rest),
        _ => (false, path.as_str()),
    };
    let file = Files::get(name).ok_or(PageError::NotFound)?;
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
    let kind = match file.metadata.mimetype() {
        "text/plain" => "text/plain; charset=utf-8".to_owned(),
        kind => kind.to_owned(),
    };
    let takes_gzip = request
        .headers()
        .get(header::ACCEPT_ENCODING)
        .is_some_and(|v| v.to_str().is_ok_and(|v| v.split(',').any(|e| e.trim().starts_with("gzip"))));
    if let Some(small) = small().get(name).filter(|_| takes_gzip) {
        let response = response.insert_header((header::CONTENT_TYPE, kind));
        return Ok(response
            .insert_header((header::CONTENT_ENCODING, "gzip"))
            .insert_header((header::VARY, "accept-encoding"))
            .body(small.clone()));
    }
    Ok(response.insert_header((header::CONTENT_TYPE, kind)).body(file.data.into_owned()))
}
