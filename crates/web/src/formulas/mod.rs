//! The list of formulas: create, copy, delete with undo.

pub mod first_run;
mod index;
mod page;

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::formats::{self, Format};
use cerealis_core::formula::{Formula, NAME_MAX, figures};
use cerealis_core::pantry::Catalogue;
use cerealis_core::stations::read;
use cerealis_core::units::shown;
use cerealis_core::words::Style;
use cerealis_store::{FormulaId, Kind, Revision, StoreError, StoredFormula};
use serde::Deserialize;

use crate::backups;
use crate::download::as_file;
use crate::error::{PageError, blocking, html_as, on_to};
use crate::form::{Form, Reader};
use crate::household::Household;
use crate::picture;
use crate::posted::Posted;
use crate::sharing::Baker;
use cerealis_store::{Backups, Store};
use first_run::Questions;
pub use index::Index;
use index::{Kept, Listed};
use page::{Entry, FormulasPage, Sought};

/// What is looked for, and what has just happened.
#[derive(Clone, Default, Deserialize)]
pub struct Query {
    /// What is to be said of the backups.
    #[serde(skip)]
    old_backup: String,
    /// The formula that has just been deleted.
    deleted: Option<FormulaId>,
    /// Words to look for.
    #[serde(default)]
    q: String,
    /// A tag.
    #[serde(default)]
    tag: String,
    /// By what to sort.
    #[serde(default)]
    sort: String,
    /// Those put away instead of those at hand.
    #[serde(default)]
    away: String,
    /// The page of a long list, from 1.
    #[serde(default)]
    page: Option<usize>,
    /// Whether the questions of an empty kitchen have just been answered.
    #[serde(default)]
    answered: String,
}

/// The list.
pub async fn list(
    _baker: Baker,
    store: web::Data<Store>,
    index: web::Data<Index>,
    backups: web::Data<Backups>,
    query: web::Query<Query>,
) -> Result<HttpResponse, PageError> {
    let kept_in = store.clone();
    let old_backup = blocking(move || Ok(backups::warning(&kept_in, &backups)?)).await?;
    let query = Query { old_backup, ..query.into_inner() };
    show(store, index, query, Form::default(), StatusCode::OK).await
}

/// Formulas on one page of a long list.
const A_PAGE: usize = 48;

/// The list, with what was typed into one of its forms.
pub async fn show(
    store: web::Data<Store>,
    index: web::Data<Index>,
    query: Query,
    form: Form,
    status: StatusCode,
) -> Result<HttpResponse, PageError> {
    let page = blocking(move || {
        let deleted = match query.deleted.map(|id| (id, store.deleted_name(id))) {
            Some((id, Ok(name))) => Some((id, name)),
            _ => None,
        };
        let home = Household::load(&store)?;
        let away = !query.away.is_empty();
        let list = index.all(&store, &home.cupboard, &home.catalogue)?;
        let mut damaged = list.damaged.clone();
        damaged.extend(store.damaged_besides_formulas()?);
        let counts = (list.kept[0].count, list.kept[1].count);
        let words: Vec<String> = query.q.to_lowercase().split_whitespace().map(str::to_owned).collect();
        let says = list.saying(&words);
        let sought = |l: &&Listed| {
            l.mark.archived == away && (query.tag.is_empty() || l.card.tags.contains(&query.tag))
        };
        let all = list.all.iter().zip(says).filter(|(_, says)| *says).map(|(l, _)| l);
        let mut all: Vec<&Listed> = all.filter(sought).collect();
        let Kept { tags, examples, .. } = &list.kept[usize::from(away)];
        index::sort(&mut all, &query.sort);
        let found = all.len();
        let pages = found.div_ceil(A_PAGE).max(1);
        let number = query.page.unwrap_or(1).clamp(1, pages);
        let shown: Vec<FormulaId> =
            all.iter().skip((number - 1) * A_PAGE).take(A_PAGE).map(|l| l.mark.id).collect();
        let rising = store.all_baking()?;
        let mut entries: Vec<Entry> = store
            .formulas_of(&shown)?
            .0
            .iter()
            .map(|f| Entry { rising: rising.contains(&f.id), ..entry(f, &home.catalogue) })
            .collect();
        entries.sort_by_key(|e| shown.iter().position(|id| *id == e.id));
        let Query { q, tag, sort, answered, old_backup, .. } = query;
        let sought = Sought { q, tag, sort, away, tags: tags.clone(), counts, found, page: number, pages };
        let mut page = FormulasPage::new(entries, damaged, deleted, sought, form);
        (page.in_bin, page.old_backup) = (store.bin()?.len(), old_backup);
        let kitchen = store.kitchen()?;
        page.questions = (counts == (0, 0)).then(|| Questions::of(&kitchen.kitchen));
        (page.answered, page.examples) = (!answered.is_empty(), *examples);
        page.zone = (kitchen.revision == Revision(0)).then_some(kitchen.kitchen.time_zone);
        Ok(page)
    })
    .await?;
    html_as(status, &page)
}

fn entry(stored: &StoredFormula, catalogue: &Catalogue) -> Entry {
    let f = &stored.formula;
    let k = figures(f, catalogue);
    let leaven = match (k.inoculation.0 > 0.0, k.instant_yeast.0 > 0.0) {
        (true, true) => "culture and yeast",
        (true, false) => "culture",
        (false, true) => "yeast",
        (false, false) => "none",
    };
    let (_, wet) = crate::show::hydration(&k);
    Entry {
        id: stored.id,
        name: f.name.clone(),
        style: f.style.name(),
        tags: f.tags.clone(),
        dough: format!("{} g", shown::grams(k.dough)),
        hydration: format!("{:.0} %", wet.0),
        leaven,
        pieces: format!("{} × {}", f.shape.pieces, f.shape.kind.name().to_lowercase()),
        vessel: f.oven.vessel.name(),
        archived: stored.archived,
        rising: false,
        picture: picture::bread(&picture::Bread::of(f)),
    }
}

/// A new formula from its name and style.
pub async fn create(
    _baker: Baker,
    store: web::Data<Store>,
    index: web::Data<Index>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let Posted(mut form) = posted;
    match read_new(&form) {
        Ok(formula) => {
            let id = blocking(move || Ok(store.create_formula(&formula)?)).await?;
            Ok(on_to(format!("/formulas/{}/formula", id.0)))
        }
        Err(faults) => {
            form.mark(&faults);
            show(store, index, Query::default(), form, StatusCode::UNPROCESSABLE_ENTITY).await
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
pub async fn copy(
    _baker: Baker,
    store: web::Data<Store>,
    id: web::Path<FormulaId>,
) -> Result<HttpResponse, PageError> {
    let id = blocking(move || {
        let mut formula = store.formula(*id)?.formula;
        let name: String = formula.name.chars().take(NAME_MAX - 7).collect();
        formula.name = format!("{name}, copy");
        Ok(store.create_formula(&formula)?)
    })
    .await?;
    Ok(on_to(format!("/formulas/{}/formula", id.0)))
}

/// Deletes, and offers to take that back.
pub async fn delete(
    _baker: Baker,
    store: web::Data<Store>,
    id: web::Path<FormulaId>,
) -> Result<HttpResponse, PageError> {
    let id = id.into_inner();
    blocking(move || Ok(store.delete_formula(id)?)).await?;
    Ok(on_to(format!("/formulas?deleted={id}")))
}

/// Puts a formula away, or takes it out again.
pub async fn archive(
    _baker: Baker,
    store: web::Data<Store>,
    id: web::Path<FormulaId>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let away = posted.0.ticked("away");
    blocking(move || Ok(store.archive_formula(*id, away)?)).await?;
    Ok(on_to(if away { "/formulas".into() } else { "/formulas?away=1".into() }))
}

/// Takes a deletion back.
pub async fn restore(
    _baker: Baker,
    store: web::Data<Store>,
    id: web::Path<FormulaId>,
) -> Result<HttpResponse, PageError> {
    blocking(move || match store.restore_formula(*id) {
        Err(StoreError::NotFound) => Err(PageError::NotFound),
        other => Ok(other?),
    })
    .await?;
    Ok(on_to("/formulas".into()))
}

/// How a file goes out.
#[derive(Deserialize)]
pub struct Out {
    /// With a mark at its head by which a spreadsheet knows that it is UTF-8.
    bom: Option<String>,
}

/// The saved formula as a file, in one of the open forms.
pub async fn export(
    _baker: Baker,
    store: web::Data<Store>,
    path: web::Path<(FormulaId, String)>,
    out: web::Query<Out>,
) -> Result<HttpResponse, PageError> {
    let (id, format) = path.into_inner();
    let format = Format::from_key(&format).ok_or(PageError::NotFound)?;
    let (name, text) = blocking(move || {
        let formula = store.formula(id)?.formula;
        let home = Household::load(&store)?;
        // One that no longer reads at the stations goes out without its steps.
        let stations = read(&formula, &home.kitchen, &home.catalogue, home.now).ok();
        let text = formats::export(&formula, stations.as_ref(), format, &home.cupboard);
        Ok((formula.name, text))
    })
    .await?;
    let text = if out.bom.is_some() && format == Format::Csv { format!("\u{feff}{text}") } else { text };
    Ok(as_file(&name, format.ending(), format.media_type(), text))
}

/// The whole household as one file.
pub async fn export_all(_baker: Baker, store: web::Data<Store>) -> Result<HttpResponse, PageError> {
    let file = blocking(move || Ok(formats::write_household(&store.household()?))).await?;
    Ok(as_file("Cerealis household", "json", Format::Json.media_type(), file))
}

/// A record that does not read, as it lies in the file.
pub async fn download_damaged(
    _baker: Baker,
    store: web::Data<Store>,
    path: web::Path<(String, i32)>,
) -> Result<HttpResponse, PageError> {
    let (kind, id) = path.into_inner();
    let kind = Kind::from_key(&kind).ok_or(PageError::NotFound)?;
    let body = blocking(move || Ok(store.raw_record(kind, id)?)).await?;
    Ok(as_file(&format!("{} {id}", kind.name()), "txt", "application/octet-stream", body))
}

/// Deletes a record that does not read.
pub async fn delete_damaged(
    _baker: Baker,
    store: web::Data<Store>,
    path: web::Path<(String, i32)>,
) -> Result<HttpResponse, PageError> {
    let (kind, id) = path.into_inner();
    let kind = Kind::from_key(&kind).ok_or(PageError::NotFound)?;
    blocking(move || Ok(store.delete_damaged(kind, id)?)).await?;
    Ok(on_to("/formulas".into()))
}
