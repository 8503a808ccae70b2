//! Photos at the bench: a page makes them smaller before it sends them.

use actix_web::http::StatusCode;
use actix_web::http::header::{CACHE_CONTROL, CONTENT_TYPE};
use actix_web::{HttpRequest, HttpResponse, web};
use cerealis_core::fault::{Fault, Faults};
use cerealis_store::{BakeId, Store};
use serde::Deserialize;

use super::press::{key, moment};
use super::{Bench, device, part, standing, tell};
use crate::error::{PageError, blocking, html_as};
use crate::form::Form;
use crate::household::Household;

/// The largest photo that is taken, in bytes.
pub const PHOTO_MAX: usize = 3 * 1024 * 1024;

/// The most photos of one bake.
const MANY: usize = 60;

/// What a photo comes with: the name of the press, and when it was, ms by the server's clock.
#[derive(Deserialize)]
pub struct Taken {
    #[serde(default)]
    key: String,
    #[serde(default)]
    at: String,
}

/// What kind of picture bytes are; none for anything else.
fn kind(bytes: &[u8]) -> Option<&'static str> {
    match bytes {
        [0xff, 0xd8, 0xff, ..] => Some("image/jpeg"),
        [0x89, b'P', b'N', b'G', b'\r', b'\n', 0x1a, b'\n', ..] => Some("image/png"),
        [b'R', b'I', b'F', b'F', _, _, _, _, b'W', b'E', b'B', b'P', ..] => Some("image/webp"),
        _ => None,
    }
}

/// Takes a photo of a bake. What it is, its own first bytes say.
pub async fn add(
    store: web::Data<Store>,
    bench: Bench,
    id: web::Path<BakeId>,
    request: HttpRequest,
    taken: web::Query<Taken>,
    bytes: Result<web::Bytes, actix_web::Error>,
) -> Result<HttpResponse, PageError> {
    let (id, who) = (*id, device(&request));
    let bytes = bytes.map_err(|e| match e.as_response_error().status_code() {
        StatusCode::PAYLOAD_TOO_LARGE => PageError::TooLarge(PHOTO_MAX / 1024),
        _ => PageError::Slow,
    })?;
    let (status, part) = blocking(move || {
        let home = Household::load(&store)?;
        let (now, kept) = (store.clock.now(), store.bake(id)?);
        let mut form = Form::within(home.kitchen.notation());
        form.set("key", &taken.key);
        form.set("at", &taken.at);
        let refused = match kind(&bytes) {
            None => Some("That is no picture that is known here: JPEG, PNG or WebP."),
            Some(_) if kept.state().photos.len() >= MANY => {
                Some("This bake has sixty photos, and takes no more.")
            }
            Some(_) => None,
        };
        if let Some(says) = refused {
            let mut blank = Form::within(home.kitchen.notation());
            blank.mark(&Faults(vec![Fault::new("malformed", "", says)]));
            return Ok((StatusCode::UNPROCESSABLE_ENTITY, part(&store, &bench, id, blank)?));
        }
        let at = moment(&form, &kept, now);
        let (bake, fresh) = store.add_photo(id, key(&form), at, &who, &bytes)?;
        if fresh {
            tell(&bench.live, &store, id)?;
            bench.stood.take(&std::sync::Arc::new(standing(bake, now)?));
        }
        let mut part = part(&store, &bench, id, Form::within(home.kitchen.notation()))?;
        part.said = "The photo is kept.".into();
        Ok((StatusCode::OK, part))
    })
    .await?;
    html_as(status, &part)
}

/// A photo.
pub async fn show(
    store: web::Data<Store>,
    path: web::Path<(BakeId, String)>,
) -> Result<HttpResponse, PageError> {
    let (id, name) = path.into_inner();
    let bytes = blocking(move || {
        let of_it = store.bake(id)?.state().photos.iter().any(|p| p.photo == name);
        if of_it { Ok(store.photo(&name)?) } else { Err(PageError::NotFound) }
    })
    .await?;
    let of = kind(&bytes).unwrap_or("application/octet-stream");
    // Its name is that of its bytes: it never changes.
    let kept = (CACHE_CONTROL, "private, max-age=31536000, immutable");
    Ok(HttpResponse::Ok().insert_header((CONTENT_TYPE, of)).insert_header(kept).body(bytes))
}

#[cfg(test)]
mod tests {
    use super::kind;
    use proptest::prelude::*;

    proptest! {
        /// Nothing but a picture is one: no page, no script, whatever it is called.
        #[test]
        fn only_pictures_are_pictures(bytes in prop::collection::vec(any::<u8>(), 0..40)) {
            let known = bytes.starts_with(&[0xff, 0xd8, 0xff]) || bytes.starts_with(b"\x89PNG\r\n\x1a\n")
                || (bytes.starts_with(b"RIFF") && bytes.get(8..12) == Some(b"WEBP"));
            prop_assert_eq!(kind(&bytes).is_some(), known);
        }
    }

    #[test]
    fn a_page_is_no_picture() {
        assert_eq!(kind(b"<!doctype html><script>alert(1)</script>"), None);
        assert_eq!(kind(b"\xff\xd8\xff\xe0 and so on"), Some("image/jpeg"));
        assert_eq!(kind(b"RIFF1234WEBPVP8 "), Some("image/webp"));
        assert_eq!(kind(b"\x89PNG\r\n\x1a\nIHDR"), Some("image/png"));
    }
}
