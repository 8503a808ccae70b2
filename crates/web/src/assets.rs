//! Style sheets, scripts and fonts, from inside the binary.

use actix_web::http::header::{self, ETag, EntityTag, Header, IfNoneMatch};
use actix_web::{HttpRequest, HttpResponse, web};
use rust_embed::RustEmbed;

use crate::error::PageError;

#[derive(RustEmbed)]
#[folder = "static/"]
struct Files;

/// Serves one file; a browser that has it already is told so.
pub async fn serve(request: HttpRequest, path: web::Path<String>) -> Result<HttpResponse, PageError> {
    let file = Files::get(&path).ok_or(PageError::NotFound)?;
    let hash: String = file.metadata.sha256_hash()[..12].iter().map(|b| format!("{b:02x}")).collect();
    let tag = EntityTag::new_strong(hash);
    let known = match IfNoneMatch::parse(&request) {
        Ok(IfNoneMatch::Items(tags)) => tags.iter().any(|t| t.weak_eq(&tag)),
        _ => false,
    };
    let mut response = if known { HttpResponse::NotModified() } else { HttpResponse::Ok() };
    response.insert_header(ETag(tag));
    if known {
        return Ok(response.finish());
    }
    let kind = file.metadata.mimetype().to_owned();
    Ok(response.insert_header((header::CONTENT_TYPE, kind)).body(file.data.into_owned()))
}
