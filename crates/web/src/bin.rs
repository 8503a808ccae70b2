//! The bin: what was deleted in the last thirty days, to be taken back.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use askama::Template;
use cerealis_store::{Deleted, FormulaId, InBin, KEPT, Store};

use crate::error::{PageError, blocking, html_as, on_to};
use crate::household::Household;
use crate::posted::Posted;
use crate::sharing::Baker;

/// Something that was deleted.
struct Row {
    key: String,
    kind: &'static str,
    name: String,
    at: String,
    until: String,
}

#[derive(Template)]
#[template(path = "bin.html")]
struct BinPage {
    rows: Vec<Row>,
}

/// The page.
pub async fn show(_baker: Baker, store: web::Data<Store>) -> Result<HttpResponse, PageError> {
    let (all, home) = blocking(move || Ok((store.bin()?, Household::load(&store)?))).await?;
    let day = |t: jiff::Timestamp| t.to_zoned_datetime(home.zone()).strftime("%-d %B").to_string();
    let row = |Deleted { what, name, at }| {
        let (key, kind) = match what {
            InBin::Formula(id) => (format!("formula:{}", id.0), "Formula"),
            InBin::Own(id) => (format!("own:{id}"), "Own ingredient"),
        };
        Row { key, kind, name, at: day(at), until: day(at + KEPT) }
    };
    html_as(StatusCode::OK, &BinPage { rows: all.into_iter().map(row).collect() })
}

/// Takes a deletion back.
pub async fn take_back(
    _baker: Baker,
    store: web::Data<Store>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let (kind, id) = posted.0.value("what").split_once(':').ok_or(PageError::UnknownButton)?;
    let id: i32 = id.parse().map_err(|_| PageError::UnknownButton)?;
    let what = match kind {
        "formula" => InBin::Formula(FormulaId(id)),
        "own" => InBin::Own(id),
        _ => return Err(PageError::UnknownButton),
    };
    blocking(move || Ok(store.take_back(what)?)).await?;
    Ok(on_to("/bin".into()))
}
