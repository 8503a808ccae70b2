//! The kitchen's page.

mod fields;
mod page;
mod rows;

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use cerealis_core::kitchen::Kitchen;
use cerealis_store::{Revision, Store, StoreError};
use serde::Deserialize;

use crate::error::{PageError, blocking, html, html_as, on_to};
use crate::posted::Posted;
use fields::{fill, read};
use page::{KitchenPage, PanView};
use rows::Press;

/// Whether it has just been saved.
#[derive(Deserialize)]
pub struct Query {
    saved: Option<u8>,
}

/// The page.
pub async fn show(store: web::Data<Store>, query: web::Query<Query>) -> Result<HttpResponse, PageError> {
    let stored = blocking(move || Ok(store.kitchen()?)).await?;
    let mut page = KitchenPage::of(&stored.kitchen, fill(&stored.kitchen), stored.revision);
    page.saved = query.saved.is_some();
    page.damaged = stored.damaged.is_some();
    html(&page)
}

/// Saves the kitchen.
pub async fn save(store: web::Data<Store>, posted: Posted) -> Result<HttpResponse, PageError> {
    let Posted(mut form) = posted;
    let typed = form.revision().unwrap_or(Revision::UNSAID);
    if let Some(press) = Press::from_key(form.value("op")) {
        press.on(&mut form);
        let mut page = KitchenPage::new(form, typed);
        page.touched = true;
        return html(&page);
    }
    let kitchen = match read(&form).and_then(|k| k.check().map(|()| k)) {
        Ok(kitchen) => kitchen,
        Err(faults) => {
            form.mark(&rows::at_their_rows(&form, faults));
            return html_as(StatusCode::UNPROCESSABLE_ENTITY, &KitchenPage::new(form, typed));
        }
    };
    let over = form.over();
    let saved = blocking(move || match store.save_kitchen(over, &kitchen) {
        Ok(_) => Ok(true),
        Err(StoreError::Conflict) => Ok(false),
        Err(other) => Err(other.into()),
    })
    .await?;
    if saved {
        return Ok(on_to("/kitchen?saved=1".into()));
    }
    let mut page = KitchenPage::new(form, typed);
    page.conflict = true;
    html_as(StatusCode::CONFLICT, &page)
}

/// The pans drawn as they are typed: each row's number with its picture and what it holds.
pub async fn draw(posted: Posted) -> HttpResponse {
    let drawn: Vec<_> = PanView::all(&posted.0)
        .into_iter()
        .map(|p| serde_json::json!({ "row": p.row, "picture": p.picture, "holds": p.holds }))
        .collect();
    HttpResponse::Ok().json(drawn)
}

/// What a browser says at its first visit.
#[derive(Deserialize)]
pub struct Zone {
    zone: String,
}

/// A kitchen that nobody has set yet takes the time zone of the browser that looks at it first. Answers
/// with what it now goes by, or nothing where it was set already.
pub async fn begin_in_zone(
    store: web::Data<Store>,
    said: web::Json<Zone>,
) -> Result<HttpResponse, PageError> {
    let Zone { zone } = said.into_inner();
    let known = Kitchen { time_zone: zone.clone(), ..Kitchen::default() };
    if zone.len() > 80 || known.zone().is_none() {
        return Ok(HttpResponse::NoContent().finish());
    }
    let taken = zone.clone();
    match blocking(move || Ok(store.begin_in_zone(&taken)?)).await? {
        true => Ok(HttpResponse::Ok().json(serde_json::json!({ "zone": zone }))),
        false => Ok(HttpResponse::NoContent().finish()),
    }
}
