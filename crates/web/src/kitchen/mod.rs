//! The kitchen's page.

mod fields;
mod page;
mod rows;

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, web};
use cerealis_core::fault::Faults;
use cerealis_core::formats::{Format, household_file, write_household};
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::Cupboard;
use cerealis_store::{Revision, Store, StoreError};
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

use crate::download::as_file;
use crate::error::{PageError, blocking, from_script, html, html_as, on_to};
use crate::form::Form;
use crate::notation;
use crate::oven::this_oven;
use crate::posted::Posted;
use crate::sharing::Baker;
use fields::{fill, read};
use page::{KitchenPage, PanView};

/// Whether it has just been saved.
#[derive(Deserialize)]
pub struct Query {
    saved: Option<u8>,
}

/// The page.
pub async fn show(
    _baker: Baker,
    store: web::Data<Store>,
    query: web::Query<Query>,
) -> Result<HttpResponse, PageError> {
    let stored = blocking(move || Ok(store.kitchen()?)).await?;
    let mut page = KitchenPage::of(&stored.kitchen, fill(&stored.kitchen), stored.revision);
    page.saved = query.saved.is_some();
    page.damaged = stored.damaged.is_some();
    html(&page)
}

/// What a script gets back for a save.
#[derive(Serialize)]
struct Answer {
    /// The revision that is now in the file.
    revision: Revision,
    /// What is wrong, by field.
    faults: BTreeMap<String, String>,
    /// Whether it is in the file; rows that are not filled yet stay out of it.
    saved: bool,
    /// Whether rows stay out of it because they are not filled yet.
    unfinished: bool,
    /// Whether another window has saved since.
    conflict: bool,
    /// What the oven is like by its readings.
    oven: String,
}

/// Saves the kitchen; with a button of a list, shows the page with the row added or removed.
pub async fn save(
    _baker: Baker,
    store: web::Data<Store>,
    request: HttpRequest,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let Posted(mut form) = posted;
    let typed = form.revision().unwrap_or(Revision::UNSAID);
    let press = rows::press_of(&form);
    let undone = form.value("op") == "undo";
    if press.is_some() || undone {
        if let Some(press) = press {
            rows::press(press, &mut form);
        }
        let kept = blocking(move || Ok(store.kitchen()?.kitchen)).await?;
        let mut page = KitchenPage::of(&kept, form, typed);
        page.touched = true;
        return html(&page);
    }
    let scripted = from_script(request.headers());
    let kept = match scripted && !form.ticked("pressed") {
        true => {
            let store = store.clone();
            Some(blocking(move || Ok(store.kitchen()?.kitchen)).await?)
        }
        false => None,
    };
    let Settled { kitchen, unfinished, faults } = match settled(&form, kept.as_ref()) {
        Ok(settled) => settled,
        Err(faults) => {
            form.mark(&faults);
            if scripted {
                let answer = Answer {
                    revision: typed,
                    faults: form.faults().clone(),
                    saved: false,
                    unfinished: false,
                    conflict: false,
                    oven: String::new(),
                };
                return Ok(HttpResponse::UnprocessableEntity().json(answer));
            }
            return html_as(StatusCode::UNPROCESSABLE_ENTITY, &KitchenPage::new(form, typed));
        }
    };
    form.mark(&faults);
    let over = form.over();
    let oven = this_oven(&kitchen);
    let notation = kitchen.notation();
    let saved = blocking(move || match store.save_kitchen(over, &kitchen) {
        Ok(revision) => Ok(Some(revision)),
        Err(StoreError::Conflict) => Ok(None),
        Err(other) => Err(other.into()),
    })
    .await?;
    if scripted {
        let answer = Answer {
            revision: saved.unwrap_or(typed),
            faults: form.faults().clone(),
            saved: saved.is_some(),
            unfinished,
            conflict: saved.is_none(),
            oven: notation::text(&oven, notation, false).into_owned(),
        };
        return Ok(HttpResponse::Ok().json(answer));
    }
    if saved.is_some() {
        return Ok(on_to("/kitchen?saved=1".into()));
    }
    let mut page = KitchenPage::new(form, typed);
    page.conflict = true;
    html_as(StatusCode::CONFLICT, &page)
}

/// What can be saved of a form.
struct Settled {
    kitchen: Kitchen,
    /// Whether rows were left out that are not filled yet.
    unfinished: bool,
    /// What stays as it was because of a fault.
    faults: Faults,
}

/// The kitchen that a form makes. What nobody pressed for is saved but for what has a fault: that stays as it is kept.
fn settled(form: &Form, kept: Option<&Kitchen>) -> Result<Settled, Faults> {
    let checked = |form: &Form| read(form).and_then(|k| k.check().map(|()| k));
    let whole = |kitchen| Settled { kitchen, unfinished: false, faults: Faults(Vec::new()) };
    checked(form).map(whole).or_else(|faults| {
        let faults = rows::at_their_rows(form, faults);
        let kept = kept.map(fill).filter(|k| k.notation() == form.notation());
        let Some(held) = kept.and_then(|kept| rows::without_faults(form, &kept, &faults)) else {
            return Err(faults);
        };
        match checked(&held.form) {
            Ok(kitchen) if held.faulty => Ok(Settled { kitchen, unfinished: held.unfinished, faults }),
            Ok(kitchen) => Ok(Settled { unfinished: held.unfinished, ..whole(kitchen) }),
            Err(_) => Err(faults),
        }
    })
}

/// The kitchen as a file, to be imported elsewhere: a household's file that holds its kitchen alone.
pub async fn export(_baker: Baker, store: web::Data<Store>) -> Result<HttpResponse, PageError> {
    let file = blocking(move || {
        let kitchen = store.kitchen()?.kitchen;
        Ok(write_household(&household_file(kitchen, Cupboard::default(), Vec::new(), Vec::new())))
    })
    .await?;
    Ok(as_file("Cerealis kitchen", "json", Format::Json.media_type(), file))
}

/// The pans drawn as they are typed: each row's number with its picture and what it holds.
pub async fn draw(_baker: Baker, posted: Posted) -> HttpResponse {
    let n = posted.0.notation();
    let drawn: Vec<_> = PanView::all(&posted.0)
        .into_iter()
        .map(|p| serde_json::json!({ "row": p.row, "picture": notation::page(&p.picture, n), "holds": p.holds }))
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
    _baker: Baker,
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
