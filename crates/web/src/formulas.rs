//! The list of formulas: create, copy, delete with undo.

use actix_web::http::{StatusCode, header};
use actix_web::{HttpResponse, web};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::formats::{self, Format};
use cerealis_core::formula::{Formula, NAME_MAX, Style, figures};
use cerealis_core::ingredient::Catalogue;
use cerealis_core::stations::read;
use cerealis_core::units::shown;
use cerealis_store::{FormulaId, Store, StoreError, StoredFormula};
use jiff::Timestamp;
use serde::Deserialize;

use crate::error::{PageError, blocking, html_as, on_to};
use crate::form::{Form, Reader};
use crate::posted::Posted;
use crate::view::{Entry, FormulasPage};

/// The front door.
pub async fn home() -> HttpResponse {
    on_to("/formulas".into())
}

/// Which formula has just been deleted.
#[derive(Deserialize)]
pub struct Query {
    deleted: Option<i32>,
}

/// The list.
pub async fn list(store: web::Data<Store>, query: web::Query<Query>) -> Result<HttpResponse, PageError> {
    show(store, query.deleted, Form::default(), StatusCode::OK).await
}

async fn show(
    store: web::Data<Store>,
    deleted: Option<i32>,
    form: Form,
    status: StatusCode,
) -> Result<HttpResponse, PageError> {
    let (all, deleted) = blocking(move || {
        let deleted = match deleted.map(|id| (id, store.deleted_name(FormulaId(id)))) {
            Some((id, Ok(name))) => Some((id, name)),
            _ => None,
        };
        Ok((store.formulas()?, deleted))
    })
    .await?;
    let entries = all.iter().map(entry).collect();
    html_as(status, &FormulasPage::new(entries, deleted, form))
}

fn entry(stored: &StoredFormula) -> Entry {
    let f = &stored.formula;
    let k = figures(f, Catalogue::bundled());
    let leaven = match (k.inoculation.0 > 0.0, k.instant_yeast.0 > 0.0) {
        (true, true) => "culture and yeast",
        (true, false) => "culture",
        (false, true) => "yeast",
        (false, false) => "none",
    };
    Entry {
        id: stored.id.0,
        name: f.name.clone(),
        style: f.style.name(),
        dough: format!("{} g", shown::grams(k.dough)),
        flour: format!("{} g", shown::grams(k.flour)),
        hydration: format!("{:.0} %", k.effective_hydration.0),
        leaven,
        pieces: format!("{} × {}", f.shape.pieces, f.shape.kind.name().to_lowercase()),
        vessel: f.oven.vessel.name(),
    }
}

/// A new formula from its name and style.
pub async fn create(store: web::Data<Store>, posted: Posted) -> Result<HttpResponse, PageError> {
    let Posted(mut form) = posted;
    match read_new(&form) {
        Ok(formula) => {
            let id = blocking(move || Ok(store.create_formula(&formula)?)).await?;
            Ok(on_to(format!("/formulas/{}/formula", id.0)))
        }
        Err(faults) => {
            form.mark(&faults);
            show(store, None, form, StatusCode::UNPROCESSABLE_ENTITY).await
        }
    }
}

fn read_new(form: &Form) -> Result<Formula, Faults> {
    let mut r = Reader::new(form);
    let style = r.choice("style", Style::from_key, Style::Tin);
    let name = r.text("name");
    let faulty = |message: String| Faults::from(Fault::new("missing", "name", message));
    if name.is_empty() {
        return Err(faulty("Give the formula a name.".into()));
    }
    if name.chars().count() > NAME_MAX {
        return Err(faulty(format!("Keep the name under {NAME_MAX} characters.")));
    }
    r.done(Formula::beginning(&name, style))
}

/// A copy, to change without touching the first.
pub async fn copy(store: web::Data<Store>, id: web::Path<i32>) -> Result<HttpResponse, PageError> {
    let id = blocking(move || {
        let mut formula = store.formula(FormulaId(*id))?.formula;
        let name: String = formula.name.chars().take(NAME_MAX - 7).collect();
        formula.name = format!("{name}, copy");
        Ok(store.create_formula(&formula)?)
    })
    .await?;
    Ok(on_to(format!("/formulas/{}/formula", id.0)))
}

/// Deletes, and offers to take that back.
pub async fn delete(store: web::Data<Store>, id: web::Path<i32>) -> Result<HttpResponse, PageError> {
    let id = id.into_inner();
    blocking(move || Ok(store.delete_formula(FormulaId(id))?)).await?;
    Ok(on_to(format!("/formulas?deleted={id}")))
}

/// Takes a deletion back.
pub async fn restore(store: web::Data<Store>, id: web::Path<i32>) -> Result<HttpResponse, PageError> {
    blocking(move || match store.restore_formula(FormulaId(*id)) {
        Err(StoreError::NotFound) => Err(PageError::NotFound),
        other => Ok(other?),
    })
    .await?;
    Ok(on_to("/formulas".into()))
}

/// The saved formula as a file, in one of the open forms.
pub async fn export(
    store: web::Data<Store>,
    path: web::Path<(i32, String)>,
) -> Result<HttpResponse, PageError> {
    let (id, format) = path.into_inner();
    let format = Format::from_key(&format).ok_or(PageError::NotFound)?;
    let (name, text) = blocking(move || {
        let formula = store.formula(FormulaId(id))?.formula;
        let kitchen = store.kitchen()?.kitchen;
        // One that no longer reads at the stations goes out without its steps.
        let stations = read(&formula, &kitchen, Catalogue::bundled(), Timestamp::now()).ok();
        let text = formats::export(&formula, stations.as_ref(), format, Catalogue::bundled());
        Ok((formula.name, text))
    })
    .await?;
    let plain: String = name.chars().map(|c| if c.is_ascii_alphanumeric() { c } else { '-' }).collect();
    let file = format!("attachment; filename=\"{}.{}\"", plain.to_lowercase(), format.ending());
    Ok(HttpResponse::Ok()
        .insert_header((header::CONTENT_TYPE, format.media_type()))
        .insert_header((header::CONTENT_DISPOSITION, file))
        .body(text))
}
