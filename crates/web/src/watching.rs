//! What the watch on the kitchen's file has found, on every page.

use actix_web::body::{BoxBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::header;
use actix_web::middleware::Next;
use actix_web::{Error, HttpResponse, web};
use askama::Template;
use cerealis_store::{Finding, Store};

use crate::error::{PageError, html, on_to};
use crate::posted::Posted;
use crate::sharing::Baker;

/// Where it stands in a page, as the page is drawn.
const PLACE: &str = "<!--findings-->";

#[derive(Template)]
#[template(path = "findings.html")]
struct Findings {
    all: Vec<Finding>,
}

/// Writes what was found into a page on its way out.
///
/// # Errors
/// What the handler reports.
pub async fn tell(
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    let store = request.app_data::<web::Data<Store>>().cloned();
    let response = next.call(request).await?.map_into_boxed_body();
    let page =
        response.headers().get(header::CONTENT_TYPE).is_some_and(|t| t.as_bytes().starts_with(b"text/html"));
    let Some(store) = store.filter(|_| page) else { return Ok(response) };
    let all = store.findings();
    if all.is_empty() {
        return Ok(response);
    }
    let told = Findings { all }.render().unwrap_or_default();
    Ok(response.map_body(|_, body| match body.try_into_bytes() {
        Ok(bytes) => BoxBody::new(String::from_utf8_lossy(&bytes).replacen(PLACE, &told, 1)),
        Err(body) => body,
    }))
}

/// What is found now, for a page that stays open.
pub async fn show(store: web::Data<Store>) -> Result<HttpResponse, PageError> {
    html(&Findings { all: store.findings() })
}

/// Takes what was read off the pages.
pub async fn read(_baker: Baker, store: web::Data<Store>, posted: Posted) -> Result<HttpResponse, PageError> {
    store.read_finding(posted.0.value("read"));
    Ok(on_to("/".into()))
}
