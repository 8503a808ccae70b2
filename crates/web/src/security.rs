//! What is asked of every request, and what every answer carries.

use actix_web::body::{BoxBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::header::{self, HeaderMap, HeaderName, HeaderValue};
use actix_web::http::{Method, StatusCode};
use actix_web::middleware::Next;
use actix_web::{Error, HttpResponse, web};

use crate::error;
use crate::sharing::Door;

const HEADERS: [(HeaderName, &str); 6] = [
    (
        header::CONTENT_SECURITY_POLICY,
        "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; \
         connect-src 'self'; manifest-src 'self'; worker-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'",
    ),
    (header::X_CONTENT_TYPE_OPTIONS, "nosniff"),
    (header::X_FRAME_OPTIONS, "DENY"),
    (header::REFERRER_POLICY, "same-origin"),
    (header::CROSS_ORIGIN_OPENER_POLICY, "same-origin"),
    (header::CROSS_ORIGIN_RESOURCE_POLICY, "same-origin"),
];

/// What a page may not ask of the browser; said of pages alone, for nothing else asks.
const PERMISSIONS: &str = "accelerometer=(), bluetooth=(), browsing-topics=(), camera=(), display-capture=(), geolocation=(), \
     gyroscope=(), hid=(), magnetometer=(), microphone=(), midi=(), payment=(), serial=(), usb=()";

/// Lets a request through if it is for this machine and, when it changes something, from our own
/// pages; sets the security headers on every answer.
///
/// # Errors
/// What the handler reports.
pub async fn guard(
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    let door = request.app_data::<web::Data<Door>>().map_or(Door::Here, |d| d.get_ref().clone());
    let mut response = match refusal(&door, request.method(), request.headers()) {
        Some(refused) => request.into_response(refused),
        None => next.call(request).await?.map_into_boxed_body(),
    };
    let headers = response.headers_mut();
    for (name, value) in HEADERS {
        headers.insert(name, HeaderValue::from_static(value));
    }
    if headers.get(header::CONTENT_TYPE).is_some_and(|t| t.as_bytes().starts_with(b"text/html")) {
        let policy = HeaderName::from_static("permissions-policy");
        headers.insert(policy, HeaderValue::from_static(PERMISSIONS));
    }
    if !headers.contains_key(header::CACHE_CONTROL) {
        headers.insert(header::CACHE_CONTROL, HeaderValue::from_static("no-store"));
    }
    Ok(response)
}

fn refusal(door: &Door, method: &Method, headers: &HeaderMap) -> Option<HttpResponse> {
    let text = |name: HeaderName| headers.get(name).and_then(|v| v.to_str().ok());
    let host = text(header::HOST).unwrap_or_default();
    if !door.is_named(host) {
        let message = match door {
            Door::Here => "Cerealis answers on this machine only. Open it at 127.0.0.1.",
            Door::Kitchen(_) => "This is not an address of this kitchen. Its page Sharing says which are.",
        };
        return Some(error::page(StatusCode::MISDIRECTED_REQUEST, "Another address", message));
    }
    let reads = matches!(*method, Method::GET | Method::HEAD);
    if reads
        || from_our_pages(door, host, text(header::ORIGIN), text(HeaderName::from_static("sec-fetch-site")))
    {
        return None;
    }
    let message = "A change must come from Cerealis' own pages. Open the page again and repeat it there.";
    Some(error::page(StatusCode::FORBIDDEN, "Not from here", message))
}

fn from_our_pages(door: &Door, host: &str, origin: Option<&str>, fetch_site: Option<&str>) -> bool {
    match (origin, fetch_site) {
        (Some(origin), _) => origin.strip_prefix(door.scheme()) == Some(host),
        (None, Some(site)) => site == "same-origin",
        (None, None) => false,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::sharing::Names;

    #[test]
    fn only_our_own_pages_change_anything() {
        let host = "127.0.0.1:8750";
        let from_our_pages = |host: &str, origin: Option<&str>, site: Option<&str>| {
            from_our_pages(&Door::Here, host, origin, site)
        };
        let kitchen = Door::Kitchen(Names::default());
        let shared = |origin: &str| super::from_our_pages(&kitchen, "10.0.0.2:8751", Some(origin), None);
        assert!(
            shared("https://10.0.0.2:8751") && !shared("http://10.0.0.2:8751") && !shared("https://10.0.0.2")
        );
        assert!(from_our_pages(host, Some("http://127.0.0.1:8750"), None));
        assert!(from_our_pages(host, None, Some("same-origin")));
        assert!(!from_our_pages(host, Some("http://localhost:8750"), None));
        assert!(!from_our_pages(host, Some("http://evil.example"), Some("same-origin")));
        assert!(!from_our_pages(host, Some("null"), None));
        assert!(!from_our_pages(host, None, Some("cross-site")));
        assert!(!from_our_pages(host, None, None));
    }
}
