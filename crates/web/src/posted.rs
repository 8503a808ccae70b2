//! A posted form, with a page for one that is too large or does not arrive.

use std::future::Future;
use std::pin::Pin;
use std::time::Duration;

use actix_web::dev::Payload;
use actix_web::rt::time::timeout;
use actix_web::{FromRequest, HttpMessage, HttpRequest, web};

use crate::error::PageError;
use crate::form::Form;

/// How long a form may take to arrive. A page on this machine sends it at once.
const ARRIVES_WITHIN: Duration = Duration::from_secs(15);

/// The most bytes of a form that are parsed on the event loop: a formula's takes well under a millisecond.
const AT_ONCE: usize = 64 * 1024;

/// The form of a request's body. A copy stays with the request, for an answer that says that something
/// went wrong.
pub struct Posted(pub Form);

impl FromRequest for Posted {
    type Error = PageError;
    type Future = Pin<Box<dyn Future<Output = Result<Self, PageError>>>>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let most = request.app_data::<web::Data<Most>>().map_or(0, |m| m.0) / 1024;
        let body = web::Bytes::from_request(request, payload);
        let request = request.clone();
        Box::pin(async move {
            let body = match timeout(ARRIVES_WITHIN, body).await {
                Err(_) => return Err(PageError::Slow),
                Ok(Ok(body)) => body,
                Ok(Err(e)) if e.as_response_error().status_code() == 413 => {
                    return Err(PageError::TooLarge(most));
                }
                Ok(Err(_)) => return Err(PageError::Slow),
            };
            let form = if body.len() > AT_ONCE {
                web::block(move || Form::parse(&body)).await?
            } else {
                Form::parse(&body)
            };
            request.extensions_mut().insert(form.clone());
            Ok(Posted(form))
        })
    }
}

/// The most bytes of a form at an address.
pub struct Most(pub usize);

/// The limits of an address that takes forms of so many bytes.
pub fn up_to(bytes: usize) -> (web::PayloadConfig, web::Data<Most>) {
    (web::PayloadConfig::new(bytes), web::Data::new(Most(bytes)))
}
