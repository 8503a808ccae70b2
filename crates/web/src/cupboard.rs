//! The cupboard: what the household bakes with, what it costs, and ingredients of its own.

use std::collections::{BTreeMap, BTreeSet};

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use askama::Template;
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::notation::Notation;
use cerealis_core::pantry::{ALLERGENS, Catalogue, Cupboard, OwnIngredient};
use cerealis_core::units::Grams;
use cerealis_store::{Removed, Store, StoreError, StoredCupboard};
use serde::Deserialize;

use crate::error::{PageError, blocking, html, html_as, on_to};
use crate::form::{Form, Reader, plain};
use crate::household::catalogue_with;
use crate::posted::Posted;
use crate::sharing::Baker;
use crate::view::{CupboardPage, OwnPage};

/// What is looked for, and what has just happened.
#[derive(Deserialize)]
pub struct Query {
    q: Option<String>,
    saved: Option<String>,
}

/// What the page is drawn from.
struct Shelf {
    stored: StoredCupboard,
    used: BTreeSet<String>,
}

fn load(store: &Store) -> Result<Shelf, StoreError> {
    let used = store.formulas()?.into_iter().flat_map(|f| f.formula.lines).map(|l| l.ingredient).collect();
    Ok(Shelf { stored: store.cupboard()?, used })
}

/// How a change came out: on to another page, or the form again.
enum Outcome<P> {
    On(&'static str),
    Page(StatusCode, P),
}

impl<P: Template> Outcome<P> {
    fn respond(self) -> Result<HttpResponse, PageError> {
        match self {
            Outcome::On(address) => Ok(on_to(address.into())),
            Outcome::Page(status, page) => html_as(status, &page),
        }
    }
}

/// Where a saved change leads.
const SAVED: &str = "/cupboard?saved=1";

fn page(shelf: &Shelf, form: Form, sought: &str, currency: String) -> CupboardPage {
    let catalogue = catalogue_with(&shelf.stored.cupboard);
    CupboardPage::new(form, &catalogue, &shelf.used, sought, shelf.stored.revision, currency)
}

fn price_field(key: &str) -> String {
    format!("prices.{key}")
}

fn stock_field(key: &str) -> String {
    format!("stock.{key}")
}

fn with_prices(cupboard: &Cupboard, notation: Notation) -> Form {
    let mut form = Form::within(notation);
    for (key, price) in &cupboard.prices {
        form.set(price_field(key), format!("{price:.2}"));
    }
    for (key, grams) in &cupboard.stock {
        form.put_weight(&stock_field(key), Some(Grams(*grams)));
    }
    form
}

/// The cupboard: what is used and one's own, or what is sought.
pub async fn show(
    _baker: Baker,
    store: web::Data<Store>,
    query: web::Query<Query>,
) -> Result<HttpResponse, PageError> {
    let sought = query.q.clone().unwrap_or_default();
    let (shelf, home) = blocking(move || Ok((load(&store)?, store.kitchen()?.kitchen))).await?;
    let (form, currency) = (with_prices(&shelf.stored.cupboard, home.notation()), home.currency);
    let mut page = page(&shelf, form, &sought, currency);
    page.saved = query.saved.is_some();
    html(&page)
}

/// Saves the prices on the page; those of other ingredients stay.
pub async fn save_prices(
    _baker: Baker,
    store: web::Data<Store>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let Posted(form) = posted;
    blocking(move || {
        let mut form = form;
        let sought = form.value("q").to_owned();
        let currency = store.kitchen()?.kitchen.currency;
        let changed = match read_prices(&form) {
            Err(faults) => Err(StoreError::Refused(faults)),
            Ok((prices, stock)) => store.change_cupboard(form.over(), |cupboard| {
                put_in(&mut cupboard.prices, prices);
                put_in(&mut cupboard.stock, stock);
                Ok(())
            }),
        };
        match changed {
            Ok(()) => Ok(Outcome::On(SAVED)),
            Err(StoreError::Refused(faults)) => {
                form.mark(&faults);
                let page = page(&load(&store)?, form, &sought, currency);
                Ok(Outcome::Page(StatusCode::UNPROCESSABLE_ENTITY, page))
            }
            Err(StoreError::Conflict) => {
                let mut page = page(&load(&store)?, form, &sought, currency);
                page.conflict = true;
                Ok(Outcome::Page(StatusCode::CONFLICT, page))
            }
            Err(other) => Err(other.into()),
        }
    })
    .await?
    .respond()
}

/// Figures by ingredient; those that were cleared are none.
type Figures = Vec<(String, Option<f64>)>;

fn put_in(all: &mut BTreeMap<String, f64>, typed: Figures) {
    for (key, figure) in typed {
        match figure {
            Some(figure) => drop(all.insert(key, figure)),
            None => drop(all.remove(&key)),
        }
    }
}

/// What a kilogram costs, and how much there is.
fn read_prices(form: &Form) -> Result<(Figures, Figures), Faults> {
    let mut r = Reader::new(form);
    let keys = |list: &str| -> Vec<String> {
        form.values().keys().filter_map(|k| k.strip_prefix(list)).map(str::to_owned).collect()
    };
    let prices = keys("prices.").into_iter().map(|k| (k.clone(), r.optional(&price_field(&k)))).collect();
    let weight = |r: &mut Reader<'_>, key: &str| r.weight(&stock_field(key)).map(|g| g.0);
    let stock = keys("stock.").into_iter().map(|k| (k.clone(), weight(&mut r, &k))).collect();
    r.done((prices, stock))
}

/// The form for a new own ingredient, like one that may be named.
pub async fn new(
    _baker: Baker,
    store: web::Data<Store>,
    query: web::Query<NewQuery>,
) -> Result<HttpResponse, PageError> {
    let revision = blocking(move || Ok(store.cupboard()?.revision)).await?;
    let mut form = Form::default();
    form.set("name", query.name.clone().unwrap_or_default());
    form.set("like", query.like.clone().unwrap_or_else(|| "Bread flour".into()));
    form.set("revision", revision.to_string());
    html(&OwnPage::new(None, form))
}

/// What a new ingredient begins with.
#[derive(Deserialize)]
pub struct NewQuery {
    name: Option<String>,
    like: Option<String>,
}

/// The form of an own ingredient.
pub async fn edit(
    _baker: Baker,
    store: web::Data<Store>,
    key: web::Path<String>,
) -> Result<HttpResponse, PageError> {
    let key = key.into_inner();
    let stored = blocking(move || Ok(store.cupboard()?)).await?;
    let own = stored.cupboard.own.iter().find(|o| o.key == *key).ok_or(PageError::NotFound)?;
    let mut form = fill(own);
    form.set("revision", stored.revision.to_string());
    html(&OwnPage::new(Some(own.key.clone()), form))
}

const FIGURES: [&str; 10] =
    ["protein", "water", "fat", "carb", "sugars", "fibre", "ash", "salt", "absorption", "cup"];

fn fill(own: &OwnIngredient) -> Form {
    let mut form = Form::default();
    form.set("name", &own.name);
    let model = Catalogue::bundled().get(&own.like);
    form.set("like", model.map_or(own.like.as_str(), |m| m.name.as_str()));
    let o = own;
    let figures = [o.protein, o.water, o.fat, o.carb, o.sugars, o.fibre, o.ash, o.salt, o.absorption, o.cup];
    for (name, figure) in FIGURES.into_iter().zip(figures) {
        form.set(name, figure.map_or(String::new(), plain));
    }
    if let Some(allergens) = &own.allergens {
        form.set("own_allergens", "on");
        for a in allergens {
            form.set(format!("allergen.{a}"), "on");
        }
    }
    form
}

/// Reads the form; its key is kept or made afresh.
fn read(form: &Form, key: String) -> Result<OwnIngredient, Faults> {
    let mut r = Reader::new(form);
    let like = Catalogue::bundled().named(&r.text("like")).map(|i| i.key.clone());
    if like.is_none() {
        r.fault("unknown", "like", "Pick the ingredient of the catalogue that it is most like.");
    }
    let allergens = form.ticked("own_allergens").then(|| {
        let on = |a: &&str| form.ticked(&format!("allergen.{a}"));
        ALLERGENS.into_iter().filter(on).map(str::to_owned).collect()
    });
    let own = OwnIngredient {
        key,
        name: r.text("name"),
        like: like.unwrap_or_default(),
        protein: r.optional("protein"),
        water: r.optional("water"),
        fat: r.optional("fat"),
        carb: r.optional("carb"),
        sugars: r.optional("sugars"),
        fibre: r.optional("fibre"),
        ash: r.optional("ash"),
        salt: r.optional("salt"),
        absorption: r.optional("absorption"),
        cup: r.optional("cup"),
        allergens,
        put_away: false,
    };
    r.done(own)
}

/// Saves a new own ingredient, or shows what it would be.
pub async fn create(
    _baker: Baker,
    store: web::Data<Store>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    save_own(store, None, posted.0).await
}

/// Saves an own ingredient, or shows what it would be.
pub async fn save(
    _baker: Baker,
    store: web::Data<Store>,
    key: web::Path<String>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    save_own(store, Some(key.into_inner()), posted.0).await
}

async fn save_own(
    store: web::Data<Store>,
    key: Option<String>,
    mut form: Form,
) -> Result<HttpResponse, PageError> {
    if form.value("op") == "look" {
        if let Err(faults) = read(&form, String::new()) {
            form.mark(&faults);
        }
        return html(&OwnPage::new(key, form));
    }
    blocking(move || {
        let saved = store.change_cupboard(form.over(), |cupboard| {
            let at = match &key {
                Some(key) => cupboard.own.iter().position(|o| o.key == *key).ok_or(StoreError::NotFound)?,
                None => cupboard.own.len(),
            };
            let fresh = key.clone().unwrap_or_else(|| cupboard.fresh_key(form.value("name")));
            let own = read(&form, fresh).map_err(StoreError::Refused)?;
            if at == cupboard.own.len() {
                cupboard.own.push(own)
            } else {
                cupboard.own[at] = own
            }
            cupboard
                .check(Catalogue::bundled())
                .map_err(|Faults(faults)| StoreError::Refused(on_fields(faults, at)))
        });
        match saved {
            Ok(()) => Ok(Outcome::On(SAVED)),
            Err(StoreError::Refused(faults)) => {
                form.mark(&faults);
                Ok(Outcome::Page(StatusCode::UNPROCESSABLE_ENTITY, OwnPage::new(key, form)))
            }
            Err(StoreError::Conflict) => {
                let mut page = OwnPage::new(key, form);
                page.conflict = true;
                Ok(Outcome::Page(StatusCode::CONFLICT, page))
            }
            Err(other) => Err(other.into()),
        }
    })
    .await?
    .respond()
}

/// Faults of the ingredient at `at` stand at the form's fields; the page has no others.
fn on_fields(faults: Vec<Fault>, at: usize) -> Faults {
    let prefix = format!("own.{at}.");
    let moved = |mut f: Fault| {
        f.path = f.path.strip_prefix(&prefix).unwrap_or("name").to_owned();
        f
    };
    Faults(faults.into_iter().map(moved).collect())
}

/// Takes an own ingredient out, unless a formula or a rising dough uses it, and offers to take that back.
pub async fn delete(
    _baker: Baker,
    store: web::Data<Store>,
    key: web::Path<String>,
) -> Result<HttpResponse, PageError> {
    let key = key.into_inner();
    blocking(move || {
        let removed = store.remove_own(&key);
        let shelf = load(&store)?;
        let cupboard = &shelf.stored.cupboard;
        let home = store.kitchen()?.kitchen;
        let (mut form, currency) = (with_prices(cupboard, home.notation()), home.currency);
        match removed {
            Ok(Removed::Gone(own) | Removed::PutAway(own)) => {
                let mut page = page(&shelf, form, "", currency);
                page.deleted = Some((own.name.clone(), serde_json::to_string(&own).unwrap_or_default()));
                Ok(Outcome::Page(StatusCode::OK, page))
            }
            Err(StoreError::InUse(by)) => {
                let name = cupboard.own.iter().find(|o| o.key == key).map_or("", |o| o.name.as_str());
                let text = format!("“{name}” is used by {by}. Take it out of there first.");
                form.mark(&Fault::new("impossible", "", text).into());
                Ok(Outcome::Page(StatusCode::UNPROCESSABLE_ENTITY, page(&shelf, form, "", currency)))
            }
            Err(other) => Err(other.into()),
        }
    })
    .await?
    .respond()
}

/// Takes a deletion back.
pub async fn restore(
    _baker: Baker,
    store: web::Data<Store>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let own: OwnIngredient = serde_json::from_str(posted.0.value("own")).map_err(|_| PageError::NotFound)?;
    blocking(move || Ok(store.restore_own(own)?)).await?;
    Ok(on_to("/cupboard".into()))
}
