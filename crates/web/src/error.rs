//! What went wrong, as a page or, for a script, as JSON; what was typed stays with either.

use actix_web::body::{BoxBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::header::{self, HeaderMap};
use actix_web::http::{Method, StatusCode};
use actix_web::middleware::Next;
use actix_web::{Error, HttpMessage, HttpResponse, ResponseError};
use askama::Template;
use cerealis_store::StoreError;

use crate::form::Form;
use crate::view::ErrorPage;

/// What can keep a page from being served.
#[derive(Debug, thiserror::Error)]
pub enum PageError {
    /// There is nothing at this address.
    #[error("There is nothing at this address. It may have been deleted.")]
    NotFound,
    /// The address is there, and takes something else.
    #[error("This address does not take that. Go back to the page and use its buttons.")]
    NotSo(String),
    /// A handler panicked.
    #[error(
        "That did not work: the program has a fault here. Nothing was saved; what you typed is kept. Change it, then try again."
    )]
    Fault,
    /// The kitchen's file.
    #[error(transparent)]
    Store(#[from] StoreError),
    /// A template did not render.
    #[error("The page could not be drawn.")]
    Template(#[from] askama::Error),
    /// More was sent than any form holds.
    #[error("What was sent is too large: {0} kB are taken at once. Import a part of it.")]
    TooLarge(usize),
    /// What was sent took too long to arrive, or broke off.
    #[error("What was sent did not arrive whole. Send it again.")]
    Slow,
    /// Only the baker may.
    #[error("That is the baker's. This device is let in as a helper: it sees the day and the bench.")]
    ForTheBaker,
    /// A link that was good once.
    #[error(
        "This link was used before, or is older than five minutes. Let the laptop show a new one, on its page Sharing."
    )]
    UsedLink,
    /// A button that no page has.
    #[error("This page does not know the button that was pressed. Nothing was changed. Load the page again.")]
    UnknownButton,
    /// The address asks for something that does not read.
    #[error("The address does not read: {0}.")]
    BadQuery(String),
    /// Work on another thread panicked.
    #[error(
        "That did not work: the program has a fault here. Nothing was saved; what you typed is kept. Change it, then try again."
    )]
    BrokenOff(#[from] actix_web::error::BlockingError),
}

impl PageError {
    /// Whether the same may well succeed in a moment.
    fn passes(&self) -> bool {
        matches!(
            self,
            PageError::Store(
                StoreError::Busy | StoreError::Full | StoreError::ReadOnly | StoreError::Unsafe(_)
            ) | PageError::Slow
        )
    }

    fn title(&self) -> &'static str {
        match self.status_code() {
            StatusCode::NOT_FOUND => "Not here",
            StatusCode::UNPROCESSABLE_ENTITY => "Cannot be read",
            StatusCode::CONFLICT => "Changed elsewhere",
            StatusCode::FORBIDDEN => "Not for helpers",
            StatusCode::GONE => "Not good any more",
            StatusCode::PAYLOAD_TOO_LARGE => "Too much at once",
            StatusCode::SERVICE_UNAVAILABLE | StatusCode::INSUFFICIENT_STORAGE => "Not saved yet",
            StatusCode::BAD_REQUEST | StatusCode::METHOD_NOT_ALLOWED => "Not understood",
            _ => "That did not work",
        }
    }
}

/// What went wrong, beside the answer, for [`keep_typed`].
struct Failed {
    title: &'static str,
    message: String,
    passes: bool,
}

impl ResponseError for PageError {
    fn status_code(&self) -> StatusCode {
        match self {
            PageError::NotFound | PageError::Store(StoreError::NotFound) => StatusCode::NOT_FOUND,
            PageError::NotSo(_) => StatusCode::METHOD_NOT_ALLOWED,
            PageError::ForTheBaker => StatusCode::FORBIDDEN,
            PageError::UsedLink => StatusCode::GONE,
            PageError::Store(StoreError::Conflict | StoreError::InUse(_)) => StatusCode::CONFLICT,
            PageError::Store(StoreError::Refused(_) | StoreError::Damaged(_)) => {
                StatusCode::UNPROCESSABLE_ENTITY
            }
            PageError::Store(StoreError::Full) => StatusCode::INSUFFICIENT_STORAGE,
            PageError::Store(StoreError::Busy | StoreError::ReadOnly | StoreError::Unsafe(_)) => {
                StatusCode::SERVICE_UNAVAILABLE
            }
            PageError::TooLarge(_) => StatusCode::PAYLOAD_TOO_LARGE,
            PageError::Slow => StatusCode::REQUEST_TIMEOUT,
            PageError::UnknownButton | PageError::BadQuery(_) => StatusCode::BAD_REQUEST,
            _ => StatusCode::INTERNAL_SERVER_ERROR,
        }
    }

    fn error_response(&self) -> HttpResponse {
        let status = self.status_code();
        if status.is_server_error() {
            log::error!("a page failed: {self:?}");
        }
        let mut response = page(status, self.title(), &self.to_string());
        if let PageError::NotSo(allowed) = self
            && let Ok(allowed) = header::HeaderValue::from_str(allowed)
        {
            response.headers_mut().insert(header::ALLOW, allowed);
        }
        let failed = Failed { title: self.title(), message: self.to_string(), passes: self.passes() };
        response.extensions_mut().insert(failed);
        response
    }
}

/// Whether a script asks, rather than a browser that shows a page.
pub fn from_script(headers: &HeaderMap) -> bool {
    headers.get(header::ACCEPT).is_some_and(|a| a.as_bytes().starts_with(b"application/json"))
}

/// An answer that says what went wrong carries what was typed, to be sent again: as hidden fields of a
/// page, or for a script as JSON, since its page still has the fields.
///
/// # Errors
/// What the handler reports.
pub async fn keep_typed(
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    let mut response = next.call(request).await?.map_into_boxed_body();
    let Some(failed) = response.response_mut().extensions_mut().remove::<Failed>() else {
        return Ok(response);
    };
    let status = response.status();
    let asked = response.request();
    let mut answer = if from_script(asked.headers()) {
        HttpResponse::build(status)
            .json(serde_json::json!({ "error": failed.message, "again": failed.passes }))
    } else {
        let typed = asked.extensions_mut().remove::<Form>().filter(|_| asked.method() == Method::POST);
        let Some(form) = typed else { return Ok(response) };
        kept_page(status, asked.path(), &failed, &form)
    };
    if let Some(allowed) = response.headers().get(header::ALLOW) {
        answer.headers_mut().insert(header::ALLOW, allowed.clone());
    }
    if failed.passes {
        answer.headers_mut().insert(header::RETRY_AFTER, header::HeaderValue::from_static("5"));
    }
    Ok(response.into_response(answer))
}

fn kept_page(status: StatusCode, path: &str, failed: &Failed, form: &Form) -> HttpResponse {
    let mut page = ErrorPage::new(failed.title, &failed.message);
    page.passes = failed.passes;
    page.gone = status == StatusCode::NOT_FOUND;
    path.clone_into(&mut page.action);
    page.kept = form
        .values()
        .iter()
        .filter(|(name, _)| *name != "back")
        .map(|(k, v)| (k.clone(), v.clone()))
        .collect();
    rendered(status, &page, &failed.message)
}

fn rendered(status: StatusCode, page: &ErrorPage, message: &str) -> HttpResponse {
    let html = page.render().unwrap_or_else(|_| message.to_owned());
    HttpResponse::build(status).insert_header((header::CONTENT_TYPE, "text/html; charset=utf-8")).body(html)
}

/// A page with a title and a sentence.
pub fn page(status: StatusCode, title: &str, message: &str) -> HttpResponse {
    rendered(status, &ErrorPage::new(title, message), message)
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
