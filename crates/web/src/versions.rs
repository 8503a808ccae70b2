//! Versions of a formula: what changed when, two side by side, and the way back.

use actix_web::{HttpResponse, web};
use cerealis_core::formula::{changes, figures};
use cerealis_core::pantry::Catalogue;
use cerealis_core::units::{Grams, shown};
use cerealis_store::{FormulaId, Revision, StoreError, StoredVersion};
use jiff::tz::TimeZone;
use serde::Deserialize;

use crate::error::{PageError, blocking, html, on_to};
use crate::household::Household;
use crate::picture;
use crate::posted::Posted;
use crate::sharing::Baker;
use crate::view::{VersionRow, VersionsPage};
use cerealis_store::Store;

/// Which two are side by side.
#[derive(Deserialize)]
pub struct Query {
    a: Option<Revision>,
    b: Option<Revision>,
}

impl Query {
    /// What is asked for when a version is touched: it beside today's; or beside the one that was touched before; or
    /// neither, where it was that one.
    fn touched(&self, one: Revision) -> String {
        match (self.a, self.b) {
            (Some(a), None) if a == one => String::new(),
            (Some(a), None) => format!("?a={}&b={}", a.min(one), a.max(one)),
            _ => format!("?a={one}"),
        }
    }
}

/// The list, with two versions side by side: the last change, where none are named.
pub async fn show(
    _baker: Baker,
    store: web::Data<Store>,
    id: web::Path<FormulaId>,
    query: web::Query<Query>,
) -> Result<HttpResponse, PageError> {
    let id = id.into_inner();
    let (all, damaged, home) =
        blocking(move || Ok((store.versions(id)?, store.damaged_versions(id)?, Household::load(&store)?)))
            .await?;
    let zone = home.kitchen.zone().unwrap_or(TimeZone::UTC);
    let newest = all.first().map_or(Revision(0), |v| v.revision);
    let of = |wanted: Option<Revision>, otherwise: Revision| {
        let wanted = wanted.unwrap_or(otherwise);
        all.iter().find(|v| v.revision == wanted).or(all.first())
    };
    let (Some(a), Some(b)) = (of(query.a, Revision(newest.0 - 1)), of(query.b, newest)) else {
        return Err(PageError::NotFound);
    };
    let rows = all
        .iter()
        .map(|v| VersionRow {
            revision: v.revision,
            reason: v.reason.clone(),
            at: v.saved_at.to_zoned_datetime(zone.clone()).strftime("%a %-d %b %Y, %H:%M").to_string(),
            picture: picture::bread(&picture::Bread::of(&v.formula)),
            chosen: v.revision == a.revision || v.revision == b.revision,
            touch: format!("/formulas/{id}/versions{}", query.touched(v.revision)),
            newest: v.revision == newest,
        })
        .collect();
    html(&VersionsPage {
        id,
        name: b.formula.name.clone(),
        rows,
        a: a.revision,
        b: b.revision,
        newest,
        lines: beside(a, b, &home.catalogue),
        damaged,
    })
}

/// What is different, line by line and in the key figures: name, in `a`, in `b`.
fn beside(a: &StoredVersion, b: &StoredVersion, catalogue: &Catalogue) -> Vec<[String; 3]> {
    let (ka, kb) = (figures(&a.formula, catalogue), figures(&b.formula, catalogue));
    let line = |g: Grams, flour: Grams| match g.0 {
        0.0 => "none".to_owned(),
        _ => format!("{} g, {} %", shown::grams(g), shown::percent(g.percent_of(flour))),
    };
    let mut rows: Vec<[String; 3]> = changes(&a.formula, &b.formula)
        .into_iter()
        .map(|c| {
            let name = catalogue.get(&c.ingredient).map_or(c.ingredient.clone(), |i| i.name.clone());
            let name = format!("{name}, {}", c.stage.name().to_lowercase());
            [name, line(c.before, ka.flour), line(c.after, kb.flour)]
        })
        .collect();
    let f = |v: &StoredVersion| v.formula.clone();
    let (fa, fb) = (f(a), f(b));
    let pairs = [
        ("Name", fa.name.clone(), fb.name.clone()),
        ("Style", fa.style.name().into(), fb.style.name().into()),
        ("Dough weight", format!("{} g", shown::grams(ka.dough)), format!("{} g", shown::grams(kb.dough))),
        (
            "Effective hydration",
            format!("{:.0} %", ka.effective_hydration.0),
            format!("{:.0} %", kb.effective_hydration.0),
        ),
        ("Salt", format!("{:.2} %", ka.salt.0), format!("{:.2} %", kb.salt.0)),
        ("Prefermented flour", format!("{:.0} %", ka.prefermented.0), format!("{:.0} %", kb.prefermented.0)),
        ("Dough temperature", format!("{} °C", fa.mix.desired.0), format!("{} °C", fb.mix.desired.0)),
        ("Bulk until", format!("{} times", fa.rise.bulk.target), format!("{} times", fb.rise.bulk.target)),
        ("Proof until", format!("{} times", fa.rise.proof.target), format!("{} times", fb.rise.proof.target)),
        (
            "Pieces",
            format!("{} × {}", fa.shape.pieces, fa.shape.kind.name().to_lowercase()),
            format!("{} × {}", fb.shape.pieces, fb.shape.kind.name().to_lowercase()),
        ),
        ("Bakes on or in", fa.oven.vessel.name().into(), fb.oven.vessel.name().into()),
        ("Allergens", ka.allergens.join(", "), kb.allergens.join(", ")),
    ];
    rows.extend(pairs.into_iter().filter(|(_, x, y)| x != y).map(|(n, x, y)| [n.to_owned(), x, y]));
    rows
}

/// Goes back to a version: it becomes the newest, and none is lost.
pub async fn go_back(
    _baker: Baker,
    store: web::Data<Store>,
    id: web::Path<FormulaId>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let id = id.into_inner();
    let Posted(form) = posted;
    let wanted = form.value("revision").parse().map(Revision).map_err(|_| PageError::NotFound)?;
    blocking(move || {
        let id = id;
        let now = store.formula(id)?.revision;
        let old =
            store.versions(id)?.into_iter().find(|v| v.revision == wanted).ok_or(StoreError::NotFound)?;
        Ok(store.save_formula(id, now, &old.formula, &format!("Back to version {wanted}"))?)
    })
    .await?;
    Ok(on_to(format!("/formulas/{id}/formula")))
}
