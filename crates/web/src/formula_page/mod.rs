//! One formula at its six stations: show, preview a change, save, print.

mod answer;
mod changes;
mod fill;
mod lines;
mod page;
mod rail;
mod read;
mod rows;
mod scaling;
mod sheet;

pub use answer::{FormulaOut, Tried};
pub use changes::{Change, Press, change, try_swap, typed_swap};
pub use fill::{fill, show_amounts};
pub use lines::{Lines, MakeUps};
pub use page::{FormulaPage, Fragments};
pub use rail::Rail;
pub use read::{makeup_rows, read};
pub use rows::{LineRow, rows};
pub use sheet::Sheet;

use std::collections::BTreeMap;
use std::sync::Arc;

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use cerealis_core::fault::Faults;
use cerealis_core::formula::{Formula, REASON_MAX, difference};
use cerealis_core::stations::Stations;
use cerealis_core::words::Station;
use cerealis_store::{FormulaId, Revision, StoreError, StoredFormula};
use serde::Serialize;

use crate::asks::Asks;
use crate::error::{PageError, blocking, from_script, html, html_as, on_to};
use crate::form::Form;
use crate::household::Household;
use crate::last_read::LastRead;
use crate::notation;
use crate::posted::Posted;
use crate::sharing::Baker;
use cerealis_store::Store;

/// A formula without a station: the first one.
pub async fn first_station(_baker: Baker, id: web::Path<FormulaId>) -> HttpResponse {
    on_to(format!("/formulas/{id}/formula"))
}

/// The page of a formula at a station.
pub async fn station(
    _baker: Baker,
    store: web::Data<Store>,
    last: web::Data<LastRead>,
    path: web::Path<(FormulaId, String)>,
) -> Result<HttpResponse, PageError> {
    let (id, station) = path.into_inner();
    let here = Station::from_key(&station).ok_or(PageError::NotFound)?;
    let page = blocking(move || {
        let (stored, home) = load(&store, id)?;
        let house = &home;
        let mut form = fill::fill(&stored.formula, house);
        let fragments = match last.stations(&stored.formula, house) {
            // The other stations are drawn when one walks there.
            Ok(s) => {
                let asks = Asks { quick: true, ..Asks::default() };
                Fragments::of(id, here, (&stored.formula, &s), None, None, &asks, house)?
            }
            Err(faults) => {
                form.mark(&faults);
                Fragments::waiting(id, here)?
            }
        };
        let mut page = FormulaPage::new(id, stored.revision, here, form, fragments, house)?;
        let last = store.past_bakes(Some(id), 1)?;
        page.next_time = last.first().and_then(|bake| bake.state().next_time).filter(|t| !t.is_empty());
        Ok(page)
    })
    .await?;
    html(&page)
}

fn load(store: &Store, id: FormulaId) -> Result<(StoredFormula, Household), PageError> {
    Ok((store.formula(id)?, Household::load(store)?))
}

/// What the page gets back for a change.
#[derive(Default, Serialize)]
struct Answer {
    /// Fragments by the place they stand in; none while fields cannot be read.
    html: BTreeMap<&'static str, String>,
    /// The text of every field that is another than was sent, where the formula reads.
    values: BTreeMap<String, String>,
    /// What is wrong, by field.
    faults: BTreeMap<String, String>,
    /// What is wrong and has no field.
    general: Vec<String>,
    /// Whether the formula differs from the saved one.
    dirty: bool,
    /// The revision now in the kitchen's file.
    revision: Revision,
    /// Set when another window has saved since.
    conflict: bool,
}

impl Answer {
    /// In the household's notation, its fields in that of the form.
    fn said(mut self, house: &Household, form: &Form) -> Answer {
        let n = house.kitchen.notation();
        for html in self.html.values_mut() {
            *html = notation::part(html, n, form.notation());
        }
        for message in self.faults.values_mut().chain(&mut self.general) {
            *message = notation::text(message, n, false).into_owned();
        }
        self
    }
}

/// A form evaluated: the formula it makes, read at all stations.
struct Draft {
    formula: Formula,
    stations: Arc<Stations>,
    tried: Option<Tried>,
    asks: Asks,
}

fn evaluate(
    form: &mut Form,
    change: Option<&Change>,
    house: &Household,
    last: &LastRead,
) -> Result<Draft, Faults> {
    let formula = match change {
        Some(change) => changes::change(form, change, house)?,
        None => read::read(form, house)?,
    };
    let tried = match change {
        Some(Change::Try(swap)) => {
            let swap = swap.clone().map_or_else(|| typed_swap(form, &house.catalogue), Ok)?;
            Some(Tried { swapped: try_swap(&formula, &swap, &house.catalogue)?, swap })
        }
        _ => None,
    };
    let stations = last.stations(&formula, house)?;
    show_amounts(form, &formula, house);
    Ok(Draft { formula, stations, tried, asks: Asks::of(form) })
}

fn draw(
    draft: &Draft,
    stored: &StoredFormula,
    here: Station,
    house: &Household,
    last: &LastRead,
) -> Result<Fragments, PageError> {
    let saved =
        if draft.formula == stored.formula { None } else { last.stations(&stored.formula, house).ok() };
    let now = (&draft.formula, &*draft.stations);
    let saved = saved.as_deref().map(|s| (&stored.formula, s));
    Ok(Fragments::of(stored.id, here, now, saved, draft.tried.as_ref(), &draft.asks, house)?)
}

/// The change that a button asks for; a button that no page has is refused, not taken for a save.
fn change_of(form: &Form) -> Result<Option<Change>, PageError> {
    match Press::from_key(form.value("op")) {
        Press::Save | Press::Go(_) => Ok(None),
        Press::Change(change) => Ok(Some(change)),
        Press::Unknown => Err(PageError::UnknownButton),
    }
}

fn here_of(form: &Form) -> Station {
    Station::from_key(form.value("here")).unwrap_or(Station::Formula)
}

/// Shows what a change does, without saving it.
pub async fn preview(
    _baker: Baker,
    store: web::Data<Store>,
    last: web::Data<LastRead>,
    id: web::Path<FormulaId>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let answer = blocking(move || {
        let (stored, home) = load(&store, *id)?;
        let Posted(mut form) = posted;
        let change = change_of(&form)?;
        answer(&mut form, change.as_ref(), &stored, &home, &last)
    })
    .await?;
    Ok(HttpResponse::Ok().json(answer))
}

fn answer(
    form: &mut Form,
    change: Option<&Change>,
    stored: &StoredFormula,
    house: &Household,
    last: &LastRead,
) -> Result<Answer, PageError> {
    let mut answer = Answer { revision: stored.revision, dirty: true, ..Answer::default() };
    // Only fields that are another now are sent back.
    let (typed, redraw) = (form.clone(), form.ticked("redraw"));
    match evaluate(form, change, house, last) {
        Ok(draft) => {
            let fragments = draw(&draft, stored, here_of(form), house, last)?;
            answer.html.insert("rail", fragments.rail);
            answer.html.extend(fragments.outs.into_iter().map(|(s, html)| (s.key(), html)));
            answer.dirty = draft.formula != stored.formula;
            let now = |name: &String, value: &String| typed.value(name) == value;
            answer.values = form
                .values()
                .iter()
                .filter(|(k, v)| redraw || !now(k, v))
                .map(|(k, v)| (k.clone(), v.clone()))
                .collect();
        }
        Err(faults) => {
            form.mark(&faults);
            answer.faults = form.faults().clone();
            answer.general = form.general_faults().into_iter().map(str::to_owned).collect();
        }
    }
    if change.is_some_and(|c| !c.only_asks()) || form.ticked("redraw") {
        answer.html.insert("lines", Lines::new(form).render()?);
        answer.html.insert("makeups", MakeUps::new(form, &house.kitchen).render()?);
    }
    Ok(answer.said(house, form))
}

/// Saves, or with a button of the line editor and no script, shows what it does.
pub async fn save(
    _baker: Baker,
    store: web::Data<Store>,
    last: web::Data<LastRead>,
    id: web::Path<FormulaId>,
    request: HttpRequest,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let id = id.into_inner();
    let scripted = from_script(request.headers());
    let Posted(mut form) = posted;
    if let Press::Go(to) = Press::from_key(form.value("op")) {
        form.set("here", to);
        form.set("walks", "1");
    }
    let here = here_of(&form);
    if !scripted {
        // Without scripts nobody would come back for what takes longest.
        form.set("ways", "1");
        form.set("quick", "1");
    }
    match blocking(move || outcome(&store, &last, id, form)).await? {
        Outcome::Saved(revision) if scripted => {
            Ok(HttpResponse::Ok().json(Answer { revision, ..Answer::default() }))
        }
        Outcome::Saved(_) => Ok(on_to(format!("/formulas/{id}/{}", here.key()))),
        Outcome::Shown(status, answer, _) if scripted => Ok(HttpResponse::build(status).json(answer)),
        Outcome::Shown(status, _, page) => html_as(status, &*page),
    }
}

/// How a save came out.
enum Outcome {
    /// It is in the kitchen's file, at this revision.
    Saved(Revision),
    /// It is not, and is shown as typed.
    Shown(StatusCode, Box<Answer>, Box<FormulaPage>),
}

fn outcome(store: &Store, last: &LastRead, id: FormulaId, mut form: Form) -> Result<Outcome, PageError> {
    let change = change_of(&form)?;
    if form.ticked("back") {
        // It was deleted in another window meanwhile, and is wanted all the same.
        store.restore_formula(id)?;
    }
    let (stored, home) = load(store, id)?;
    let house = &home;
    let here = here_of(&form);
    let shown = |form: Form, fragments: Fragments, status, conflict: bool| {
        let answer = Answer {
            faults: form.faults().clone(),
            general: form.general_faults().into_iter().map(str::to_owned).collect(),
            dirty: true,
            revision: stored.revision,
            conflict,
            ..Answer::default()
        }
        .said(house, &form);
        let revision = form.revision().unwrap_or(stored.revision);
        let mut page = FormulaPage::new(id, revision, here, form, fragments, house)?;
        page.dirty = true;
        page.conflict = conflict.then_some(stored.revision);
        Ok::<_, PageError>(Outcome::Shown(status, Box::new(answer), Box::new(page)))
    };
    let draft = match evaluate(&mut form, change.as_ref(), house, last) {
        Ok(draft) => draft,
        Err(faults) => {
            form.mark(&faults);
            let fragments = Fragments::waiting(id, here)?;
            return shown(form, fragments, StatusCode::UNPROCESSABLE_ENTITY, false);
        }
    };
    if change.is_some() || form.ticked("walks") {
        let fragments = draw(&draft, &stored, here, house, last)?;
        return shown(form, fragments, StatusCode::OK, false);
    }
    // “Save mine over it” names the revision it has been shown.
    let over = form.value("over").parse().ok().map(Revision);
    let Some(revision) = over.or_else(|| form.revision()) else {
        let fragments = draw(&draft, &stored, here, house, last)?;
        return shown(form, fragments, StatusCode::CONFLICT, true);
    };
    let typed = form.value("reason").trim();
    let reason: String = match typed {
        "" => difference(&stored.formula, &draft.formula, &house.catalogue),
        typed => typed.chars().take(REASON_MAX).collect(),
    };
    match store.save_formula(id, revision, &draft.formula, &reason) {
        Ok(revision) => Ok(Outcome::Saved(revision)),
        Err(StoreError::Conflict) => {
            let fragments = draw(&draft, &stored, here, house, last)?;
            shown(form, fragments, StatusCode::CONFLICT, true)
        }
        Err(other) => Err(other.into()),
    }
}

/// Which sheet is wanted.
#[derive(serde::Deserialize)]
pub struct OnPaper {
    wall: Option<u8>,
}

/// The printed sheet of the saved formula.
pub async fn sheet(
    store: web::Data<Store>,
    last: web::Data<LastRead>,
    id: web::Path<FormulaId>,
    query: web::Query<OnPaper>,
) -> Result<HttpResponse, PageError> {
    let id = id.into_inner();
    let wall = query.wall.is_some();
    let sheet = blocking(move || {
        let (stored, home) = load(&store, id)?;
        let Ok(s) = last.stations(&stored.formula, &home) else { return Ok(None) };
        let sheet = Sheet::new(id, &stored.formula, &s, &home.kitchen, &home.catalogue);
        Ok(Some(if wall { sheet.for_the_wall() } else { sheet }))
    })
    .await?;
    match sheet {
        Some(sheet) => html(&sheet),
        // A saved formula that no longer reads is mended on its page, where the faults stand.
        None => Ok(on_to(format!("/formulas/{id}/formula"))),
    }
}
