//! What went wrong, as a page.

use actix_web::http::{StatusCode, header};
use actix_web::{HttpResponse, ResponseError};
use askama::Template;
use cerealis_store::StoreError;

use crate::view::ErrorPage;

/// What can keep a page from being served.
#[derive(Debug, thiserror::Error)]
pub enum PageError {
    /// There is nothing at this address.
    #[error("There is nothing at this address. It may have been deleted.")]
    NotFound,
    /// The kitchen's file.
    #[error(transparent)]
    Store(#[from] StoreError),
    /// A template did not render.
    #[error("The page could not be drawn.")]
    Template(#[from] askama::Error),
    /// More was sent than any form holds.
    #[error("What was sent is too large. A formula has at most sixty lines.")]
    TooLarge,
    /// The work was broken off.
    #[error("The work was broken off. Try again.")]
    BrokenOff(#[from] actix_web::error::BlockingError),
}

impl ResponseError for PageError {
    fn status_code(&self) -> StatusCode {
        match self {
            PageError::NotFound | PageError::Store(StoreError::NotFound) => StatusCode::NOT_FOUND,
            PageError::Store(StoreError::Conflict) => StatusCode::CONFLICT,
            PageError::TooLarge => StatusCode::PAYLOAD_TOO_LARGE,
            _ => StatusCode::INTERNAL_SERVER_ERROR,
        }
    }

    fn error_response(&self) -> HttpResponse {
        let status = self.status_code();
        let title = match status {
            StatusCode::NOT_FOUND => "Not here",
            StatusCode::CONFLICT => "Changed elsewhere",
            StatusCode::PAYLOAD_TOO_LARGE => "Too much at once",
            _ => {
                tracing::error!(error = ?self, "page failed");
                "That did not work"
            }
        };
        page(status, title, &self.to_string())
    }
}

/// A page with a title and a sentence.
pub fn page(status: StatusCode, title: &str, message: &str) -> HttpResponse {
    let page = ErrorPage { title: title.into(), message: message.into() };
    let html = page.render().unwrap_or_else(|_| message.to_owned());
    HttpResponse::build(status).insert_header((header::CONTENT_TYPE, "text/html; charset=utf-8")).body(html)
}

/// Any address that is not ours.
pub async fn not_found() -> Result<HttpResponse, PageError> {
    Err(PageError::NotFound)
}

/// Runs work on the kitchen's file or the engines off the event loop.
pub async fn blocking<T, F>(work: F) -> Result<T, PageError>
where
    F: FnOnce() -> Result<T, PageError> + Send + 'static,
    T: Send + 'static,
{
    actix_web::web::block(work).await?
}

/// A page that rendered.
pub fn html(page: &impl Template) -> Result<HttpResponse, PageError> {
    html_as(StatusCode::OK, page)
}

/// A page that rendered, with a status.
pub fn html_as(status: StatusCode, page: &impl Template) -> Result<HttpResponse, PageError> {
    let body = page.render()?;
    Ok(HttpResponse::build(status)
        .insert_header((header::CONTENT_TYPE, "text/html; charset=utf-8"))
        .body(body))
}

/// On to another address after a change.
pub fn on_to(address: String) -> HttpResponse {
    HttpResponse::SeeOther().insert_header((header::LOCATION, address)).finish()
}
