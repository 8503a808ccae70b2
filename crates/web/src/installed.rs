//! Cerealis kept on a device like a program of its own: what it is called there, and what still works out of reach.

use actix_web::HttpResponse;
use actix_web::http::StatusCode;
use actix_web::http::header;
use askama::Template;

use crate::assets;
use crate::error::{PageError, html_as};

#[derive(Template)]
#[template(path = "worker.js", escape = "none")]
struct Worker {
    edition: &'static str,
    files: Vec<String>,
}

#[derive(Template)]
#[template(path = "offline.html")]
struct OfflinePage;

/// What a device is told of it.
pub async fn manifest() -> HttpResponse {
    let icon = |name: &str, sizes: &str, purpose: &str| serde_json::json!({ "src": assets::at(name), "sizes": sizes, "type": "image/png", "purpose": purpose });
    let manifest = serde_json::json!({
        "name": "Cerealis", "short_name": "Cerealis", "id": "/", "start_url": "/", "scope": "/",
        "description": "The kitchen's bench partner", "display": "standalone",
        "background_color": "#f4ede0", "theme_color": "#f4ede0",
        "icons": [
            icon("icons/192.png", "192x192", "any"),
            icon("icons/512.png", "512x512", "any"),
            icon("icons/maskable-512.png", "512x512", "maskable"),
        ],
    });
    HttpResponse::Ok().content_type("application/manifest+json").body(manifest.to_string())
}

/// The script that answers for the kitchen while it is out of reach. It is asked for anew at each visit.
pub async fn worker() -> Result<HttpResponse, PageError> {
    let files = assets::names().map(|n| assets::at(&n)).collect();
    let script = Worker { edition: assets::edition(), files }.render()?;
    Ok(HttpResponse::Ok()
        .content_type("text/javascript; charset=utf-8")
        .insert_header((header::CACHE_CONTROL, "no-cache"))
        .body(script))
}

/// The page that is shown where nothing else is kept.
pub async fn offline() -> Result<HttpResponse, PageError> {
    html_as(StatusCode::OK, &OfflinePage)
}
