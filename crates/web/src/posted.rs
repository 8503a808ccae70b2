//! A posted form, with a page for one that is too large.

use std::future::Future;
use std::pin::Pin;

use actix_web::dev::Payload;
use actix_web::{FromRequest, HttpRequest, web};

use crate::error::PageError;
use crate::form::Form;

/// The form of a request's body.
pub struct Posted(pub Form);

impl FromRequest for Posted {
    type Error = PageError;
    type Future = Pin<Box<dyn Future<Output = Result<Self, PageError>>>>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let body = web::Bytes::from_request(request, payload);
        // Actix fails here only for a body over the limit, or one that broke off.
        Box::pin(async move { body.await.map(|b| Posted(Form::parse(&b))).map_err(|_| PageError::TooLarge) })
    }
}
