//! Bringing in a recipe. Nothing is saved before the baker accepts.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use cerealis_core::cupboard::{Cupboard, OwnIngredient};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::formats::{FormulaFile, Imported, import};
use cerealis_core::formula::{Formula, Line, NAME_MAX, NOTES_MAX, Stage, Style};
use cerealis_core::ingredient::{Catalogue, Ingredient};
use cerealis_core::measures::{Cup, Measures, Tablespoon};
use cerealis_core::reader::{
    Finding, Found, LineKind, ReadInput, ReadLine, hydration_doubt, read, read_method, weigh_as,
};
use cerealis_core::units::{Grams, shown};
use cerealis_store::{Store, StoreError};

use crate::error::{PageError, blocking, html, html_as, on_to};
use crate::form::{Form, Reader, number};
use crate::household::Household;
use crate::posted::Posted;
use crate::view::{BringPage, ReviewRow, stage_picks};

/// The most lines that are taken at once.
const ROWS_MAX: usize = 60;

/// The empty page.
pub async fn show(store: web::Data<Store>) -> Result<HttpResponse, PageError> {
    let home = blocking(move || Ok(Household::load(&store)?)).await?;
    let mut form = Form::default();
    form.set("cup", home.kitchen.measures.cup.key());
    form.set("tablespoon", home.kitchen.measures.tablespoon.key());
    html(&BringPage::new(form, Vec::new(), &home.catalogue))
}

/// Reads the pasted lines, corrects one of the reviewed ones, or accepts them.
pub async fn post(store: web::Data<Store>, posted: Posted) -> Result<HttpResponse, PageError> {
    let Posted(mut form) = posted;
    let loaded = store.clone();
    let home = blocking(move || Ok(Household::load(&loaded)?)).await?;
    let catalogue = home.catalogue.as_ref();
    let op = form.value("op").to_owned();
    if op == "accept" {
        return accept(store, form, catalogue).await;
    }
    if let Some(correction) = Correction::from_key(&op) {
        correct(&mut form, &correction, catalogue);
        return html(&review(form, catalogue));
    }
    if op == "again" {
        return html(&review(form, catalogue));
    }
    // A file brings its own ingredients along; those of this house are not taken for them.
    match import(form.value("text"), Catalogue::bundled()) {
        Ok(None) => first_review(form, Vec::new(), catalogue),
        Ok(Some(Imported::Recipe(recipe))) => {
            form.set("text", &recipe.lines);
            if form.value("name").is_empty() {
                form.set("name", recipe.name.chars().take(NAME_MAX).collect::<String>());
            }
            let makes = (!recipe.makes.is_empty()).then(|| format!("Makes {}", recipe.makes));
            let method = makes.into_iter().chain(recipe.method.lines().map(str::to_owned)).collect();
            first_review(form, method, catalogue)
        }
        Ok(Some(Imported::Formulas(file))) => add_all(store, form, file, catalogue).await,
        Err(Faults(faults)) => refuse(form, &faults, catalogue),
    }
}

/// Formulas of our own come in whole; there is nothing to review.
async fn add_all(
    store: web::Data<Store>,
    form: Form,
    file: FormulaFile,
    catalogue: &Catalogue,
) -> Result<HttpResponse, PageError> {
    let brought = blocking(move || match store.bring_in(file.formulas, &file.own) {
        Err(StoreError::Refused(faults)) => Ok(Err(faults)),
        other => Ok(Ok(other?)),
    });
    Ok(match brought.await? {
        Err(Faults(faults)) => return refuse(form, &faults, catalogue),
        Ok(ids) if ids.len() == 1 => on_to(format!("/formulas/{}/formula", ids[0].0)),
        Ok(_) => on_to("/formulas".into()),
    })
}

/// The page with what was pasted, and the place of the fault.
fn refuse(mut form: Form, faults: &[Fault], catalogue: &Catalogue) -> Result<HttpResponse, PageError> {
    let said = |f: &Fault| {
        if f.path == "text" { f.message.clone() } else { format!("At {}: {}", f.path, f.message) }
    };
    let text = faults.iter().take(3).map(said).collect::<Vec<_>>().join(" ");
    form.mark(&Fault::new("malformed", "text", text).into());
    html_as(StatusCode::UNPROCESSABLE_ENTITY, &BringPage::new(form, Vec::new(), catalogue))
}

fn measures(form: &Form) -> Measures {
    Measures {
        cup: Cup::from_key(form.value("cup")).unwrap_or_default(),
        tablespoon: Tablespoon::from_key(form.value("tablespoon")).unwrap_or_default(),
    }
}

/// Reads the text and fills the rows; `method` are steps that came beside the lines.
fn first_review(
    mut form: Form,
    method: Vec<String>,
    catalogue: &Catalogue,
) -> Result<HttpResponse, PageError> {
    if form.value("text").trim().is_empty() {
        form.mark(&Fault::new("missing", "text", "Paste the lines of the recipe here.").into());
        return html_as(StatusCode::UNPROCESSABLE_ENTITY, &BringPage::new(form, Vec::new(), catalogue));
    }
    form.forget(|name| name.starts_with("rows.") || name.starts_with("found."));
    let read = read(&ReadInput { text: form.value("text").to_owned(), measures: measures(&form) }, catalogue);
    if form.value("name").is_empty() {
        let name = read.title.unwrap_or_default();
        form.set("name", name.chars().take(NAME_MAX).collect::<String>());
    }
    let (lines, rest): (Vec<_>, Vec<_>) =
        read.lines.into_iter().partition(|l| l.kind == LineKind::Ingredient);
    let steps = rest.into_iter().filter(|l| l.kind != LineKind::Heading).map(|l| l.text);
    let steps = steps.chain(method).collect::<Vec<_>>().join("\n");
    for (n, line) in lines.iter().take(ROWS_MAX).enumerate() {
        fill_row(&mut form, n, line, catalogue);
    }
    let found = read_method(&steps);
    if let Some(style) = likely_style(&found) {
        form.set("style", style.key());
    }
    for (n, finding) in found.iter().enumerate() {
        form.set(format!("found.{n}"), serde_json::to_string(finding).unwrap_or_default());
        form.set(format!("found.{n}.used"), "on");
    }
    form.set("method", steps);
    html(&review(form, catalogue))
}

/// The style that the pieces or the vessel tell of.
fn likely_style(found: &[Finding]) -> Option<Style> {
    let key = |what: Found| found.iter().find(|f| f.found == what).map(|f| f.key.as_str());
    match (key(Found::Pieces), key(Found::BakesIn)) {
        (Some("roll" | "bun"), _) => Some(Style::SoftRoll),
        (Some("braid"), _) => Some(Style::Braid),
        (Some("round" | "baguette"), _) | (_, Some("pot" | "stone")) => Some(Style::Hearth),
        (_, Some("tin")) => Some(Style::Tin),
        _ => None,
    }
}

fn fill_row(form: &mut Form, row: usize, line: &ReadLine, catalogue: &Catalogue) {
    let at = |field: &str| format!("rows.{row}.{field}");
    let name = line.ingredient.as_deref().and_then(|k| catalogue.get(k)).map(|i| i.name.clone());
    let choose = if line.candidates.is_empty() { &line.near } else { &line.candidates };
    form.set(at("text"), &line.text);
    form.set(at("ingredient"), name.unwrap_or_default());
    form.set(at("stage"), line.stage.key());
    form.set(at("grams"), line.grams.map_or(String::new(), shown::grams));
    form.set(at("note"), &line.note);
    form.set(
        at("choose"),
        if choose.len() > 1 || line.candidates.is_empty() { choose.join(" ") } else { String::new() },
    );
    form.set(at("used"), "on");
}

/// A correction of one line by one press.
enum Correction {
    /// It is this ingredient: its weight follows.
    Pick(usize, String),
    /// Weigh it as the ingredient that is typed.
    Weigh(usize),
    /// It becomes a new ingredient.
    New(usize),
}

impl Correction {
    fn from_key(key: &str) -> Option<Correction> {
        let mut parts = key.split(':');
        let name = parts.next()?;
        let row = parts.next()?.parse().ok()?;
        match name {
            "pick" => Some(Correction::Pick(row, parts.next()?.to_owned())),
            "weigh" => Some(Correction::Weigh(row)),
            "new" => Some(Correction::New(row)),
            _ => None,
        }
    }
}

fn correct(form: &mut Form, correction: &Correction, catalogue: &Catalogue) {
    match correction {
        Correction::Pick(row, key) => {
            let Some(i) = catalogue.get(key) else { return };
            form.set(format!("rows.{row}.ingredient"), &i.name);
            form.set(format!("rows.{row}.choose"), "");
            form.forget(|name| name == format!("rows.{row}.like"));
            weigh_row(form, *row, i);
        }
        Correction::Weigh(row) => {
            if let Some(i) = row_ingredient(form, *row, catalogue) {
                weigh_row(form, *row, i);
            }
        }
        Correction::New(row) => {
            form.set(format!("rows.{row}.like"), "");
            form.set(format!("rows.{row}.choose"), "");
            let name = format!("rows.{row}.ingredient");
            if form.value(&name).trim().is_empty() || catalogue.named(form.value(&name)).is_some() {
                let said = form.value(&format!("rows.{row}.note")).split(';').next().unwrap_or("");
                let mut said: String = said.trim().chars().take(60).collect();
                if let Some(first) = said.get_mut(0..1) {
                    first.make_ascii_uppercase();
                }
                form.set(name, said);
            }
        }
    }
}

/// The ingredient that a row names, or that its new one is like.
fn row_ingredient<'a>(form: &Form, row: usize, catalogue: &'a Catalogue) -> Option<&'a Ingredient> {
    let named = |field: &str| catalogue.named(form.value(&format!("rows.{row}.{field}")));
    named("ingredient").or_else(|| named("like"))
}

fn weigh_row(form: &mut Form, row: usize, ingredient: &Ingredient) {
    let line = weigh_as(form.value(&format!("rows.{row}.text")), Some(ingredient), measures(form));
    if let Some(grams) = line.grams {
        form.set(format!("rows.{row}.grams"), shown::grams(grams));
    }
}

/// The page with its rows as they stand, each weighed again to tell its spread.
fn review(form: Form, catalogue: &Catalogue) -> BringPage {
    let lines: Vec<(usize, ReadLine)> =
        row_numbers(&form).into_iter().map(|n| (n, line_of_row(&form, n, catalogue))).collect();
    let used: Vec<ReadLine> = lines
        .iter()
        .filter(|(n, _)| form.ticked(&format!("rows.{n}.used")))
        .map(|(_, l)| l.clone())
        .collect();
    let rows = lines.iter().map(|(n, l)| row_of(&form, *n, l, catalogue)).collect();
    let hydration = hydration_sentence(&used, catalogue);
    let mut page = BringPage::new(form, rows, catalogue);
    page.hydration = hydration;
    page
}

/// A row as a line: the spread of its measure, as long as its grams are those that were read.
fn line_of_row(form: &Form, row: usize, catalogue: &Catalogue) -> ReadLine {
    let value = |field: &str| form.value(&format!("rows.{row}.{field}"));
    let ingredient = row_ingredient(form, row, catalogue);
    let measures = measures(form);
    let mut line = weigh_as(value("text"), ingredient, measures);
    line.kind = LineKind::Ingredient;
    line.stage = Stage::from_key(value("stage")).unwrap_or(Stage::Dough);
    let typed = number(value("grams")).map(Grams);
    let besides = line.stage == Stage::Dusting && line.text.to_lowercase().contains("more");
    if besides || line.grams.map(shown::grams) != typed.map(shown::grams) {
        (line.grams, line.low, line.high) = (typed, typed, typed);
        line.doubts.clear();
    }
    line
}

fn row_of(form: &Form, row: usize, line: &ReadLine, catalogue: &Catalogue) -> ReviewRow {
    let text = |field: &str| form.value(&format!("rows.{row}.{field}")).to_owned();
    let fault = |field: &str| form.fault(&format!("rows.{row}.{field}")).unwrap_or_default().to_owned();
    let like = form.values().get(&format!("rows.{row}.like")).cloned();
    let mut doubts = line.doubts.clone();
    let choose: Vec<(String, String)> = text("choose")
        .split_whitespace()
        .filter_map(|k| catalogue.get(k))
        .map(|i| (i.key.clone(), i.name.clone()))
        .collect();
    let known = catalogue.named(&text("ingredient")).is_some();
    if !known && like.is_none() {
        doubts.insert(0, "This is not in the catalogue. Pick an ingredient, or make a new one.".into());
    } else if !choose.is_empty() {
        doubts.insert(0, "It may be any of these.".into());
    }
    let spread = match (line.low, line.high) {
        (Some(low), Some(high)) if low != high => {
            format!("{} to {} g", shown::grams(low), shown::grams(high))
        }
        _ => String::new(),
    };
    ReviewRow {
        row,
        ingredient: text("ingredient"),
        stages: stage_picks(line.stage.key()),
        grams: text("grams"),
        note: text("note"),
        choose_keys: text("choose"),
        choose,
        known,
        like,
        spread,
        doubts,
        used: form.ticked(&format!("rows.{row}.used")),
        ingredient_fault: fault("ingredient"),
        grams_fault: fault("grams"),
        like_fault: fault("like"),
        text: text("text"),
    }
}

fn hydration_sentence(lines: &[ReadLine], catalogue: &Catalogue) -> Option<String> {
    let doubt = hydration_doubt(lines, catalogue)?;
    let (low, high) = (doubt.low.0.round(), doubt.high.0.round());
    if low == high {
        return Some(format!("Effective hydration: {low} %."));
    }
    let weigh = doubt.weigh.map_or(String::new(), |n| format!(" Weigh “{}” to know it best.", lines[n].text));
    Some(format!("Effective hydration: {low} to {high} %.{weigh}"))
}

async fn accept(
    store: web::Data<Store>,
    mut form: Form,
    catalogue: &Catalogue,
) -> Result<HttpResponse, PageError> {
    match read_rows(&form, catalogue) {
        Ok((formula, own)) => {
            let ids = blocking(move || Ok(store.bring_in(vec![formula], &own)?)).await?;
            Ok(on_to(ids.first().map_or("/formulas".into(), |id| format!("/formulas/{}/formula", id.0))))
        }
        Err(faults) => {
            form.mark(&faults);
            html_as(StatusCode::UNPROCESSABLE_ENTITY, &review(form, catalogue))
        }
    }
}

fn row_numbers(form: &Form) -> Vec<usize> {
    (0..ROWS_MAX).filter(|n| form.values().contains_key(&format!("rows.{n}.text"))).collect()
}

/// The findings that are ticked.
fn findings(form: &Form) -> Vec<Finding> {
    (0..ROWS_MAX)
        .filter(|n| form.ticked(&format!("found.{n}.used")))
        .filter_map(|n| serde_json::from_str(form.value(&format!("found.{n}"))).ok())
        .collect()
}

/// The formula that the accepted rows make, with the wishes that its style begins with and what is
/// taken of the method, and the ingredients that are new.
fn read_rows(form: &Form, catalogue: &Catalogue) -> Result<(Formula, Vec<OwnIngredient>), Faults> {
    let mut r = Reader::new(form);
    let style = r.choice("style", Style::from_key, Style::Tin);
    let mut formula = Formula::beginning(&r.text("name"), style);
    formula.lines.clear();
    let mut row_of_line = Vec::new();
    let mut new = Cupboard::default();
    for row in row_numbers(form) {
        let at = |field: &str| format!("rows.{row}.{field}");
        if !form.ticked(&at("used")) {
            continue;
        }
        let name = r.text(&at("ingredient"));
        let stage = r.choice(&at("stage"), Stage::from_key, Stage::Dough);
        let grams = Grams(r.number(&at("grams")));
        let key = match catalogue.named(&name) {
            Some(i) => i.key.clone(),
            None if form.values().contains_key(&at("like")) => new_ingredient(&mut r, row, &name, &mut new),
            None => {
                let text = "Pick a name from the list, make it a new ingredient, or untick the line.";
                r.fault("unknown", &at("ingredient"), text);
                continue;
            }
        };
        formula.lines.push(Line { note: r.text(&at("note")), ..Line::new(key, stage, grams) });
        row_of_line.push(row);
    }
    findings(form).iter().for_each(|f| f.put_into(&mut formula));
    let method = r.text("method");
    if !method.is_empty() {
        let notes = format!("{}\n\n{method}", formula.notes);
        formula.notes = notes.trim().chars().take(NOTES_MAX).collect();
    }
    let formula = r.done(formula)?;
    let on_rows = |mut f: Fault| {
        if let Some((index, field)) = f.path.strip_prefix("lines.").and_then(|p| p.split_once('.'))
            && let Some(row) = index.parse().ok().and_then(|i: usize| row_of_line.get(i))
        {
            f.path = format!("rows.{row}.{field}");
        }
        f
    };
    let moved = |Faults(faults): Faults| Faults(faults.into_iter().map(on_rows).collect());
    new.check(catalogue)?;
    formula.check(&catalogue.with(&new)).map_err(moved)?;
    Ok((formula, new.own))
}

/// A new ingredient of the household's own, like the one that the row names; its key.
fn new_ingredient(r: &mut Reader<'_>, row: usize, name: &str, new: &mut Cupboard) -> String {
    if let Some(there) = new.own.iter().find(|o| o.name.eq_ignore_ascii_case(name)) {
        return there.key.clone();
    }
    let field = format!("rows.{row}.like");
    match Catalogue::bundled().named(&r.text(&field)) {
        Some(model) => {
            let key = new.fresh_key(name);
            let own = OwnIngredient {
                key: key.clone(),
                name: name.to_owned(),
                like: model.key.clone(),
                ..OwnIngredient::default()
            };
            if name.is_empty() || name.chars().count() > 60 {
                let text = "Give the new ingredient a name of 1 to 60 characters.";
                r.fault("missing", &format!("rows.{row}.ingredient"), text);
            } else {
                new.own.push(own);
            }
            key
        }
        None => {
            r.fault("unknown", &field, "Pick the ingredient of the catalogue that it is most like.");
            String::new()
        }
    }
}
