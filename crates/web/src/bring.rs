//! Bringing in a recipe. Nothing is saved before the baker accepts.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::formats::{Imported, import};
use cerealis_core::formula::{Formula, Line, NAME_MAX, Stage, Style};
use cerealis_core::ingredient::Catalogue;
use cerealis_core::measures::{Cup, Measures, Tablespoon};
use cerealis_core::reader::{LineKind, ReadInput, ReadLine, hydration_doubt, read};
use cerealis_core::units::{Grams, shown};
use cerealis_store::Store;

use crate::error::{PageError, blocking, html, html_as, on_to};
use crate::form::{Form, Reader};
use crate::posted::Posted;
use crate::view::{BringPage, ReviewRow, stage_picks};

/// The most lines that are taken at once.
const ROWS_MAX: usize = 60;

/// The empty page.
pub async fn show() -> Result<HttpResponse, PageError> {
    html(&BringPage::new(Form::default(), Vec::new()))
}

/// Reads the pasted lines, or accepts the reviewed ones.
pub async fn post(store: web::Data<Store>, posted: Posted) -> Result<HttpResponse, PageError> {
    let Posted(form) = posted;
    if form.value("op") == "accept" {
        return accept(store, form).await;
    }
    match import(form.value("text"), Catalogue::bundled()) {
        Ok(None) => review(form, Vec::new()),
        Ok(Some(Imported::Recipe(recipe))) => {
            let mut form = form;
            form.set("text", &recipe.lines);
            if form.value("name").is_empty() {
                form.set("name", recipe.name.chars().take(NAME_MAX).collect::<String>());
            }
            let makes = (!recipe.makes.is_empty()).then(|| format!("Makes: {}", recipe.makes));
            let method = makes.into_iter().chain(recipe.method.lines().map(str::to_owned)).collect();
            review(form, method)
        }
        Ok(Some(Imported::Formulas(formulas))) => add_all(store, formulas).await,
        Err(Faults(faults)) => refuse(form, &faults),
    }
}

/// Formulas of our own come in whole; there is nothing to review.
async fn add_all(store: web::Data<Store>, formulas: Vec<Formula>) -> Result<HttpResponse, PageError> {
    let ids = blocking(move || {
        formulas.iter().map(|f| Ok(store.create_formula(f)?)).collect::<Result<Vec<_>, PageError>>()
    })
    .await?;
    Ok(match ids.as_slice() {
        [one] => on_to(format!("/formulas/{}/formula", one.0)),
        _ => on_to("/formulas".into()),
    })
}

/// The page with what was pasted, and the place of the fault.
fn refuse(mut form: Form, faults: &[Fault]) -> Result<HttpResponse, PageError> {
    let said = |f: &Fault| {
        if f.path == "text" { f.message.clone() } else { format!("At {}: {}", f.path, f.message) }
    };
    let text = faults.iter().take(3).map(said).collect::<Vec<_>>().join(" ");
    form.mark(&Fault::new("malformed", "text", text).into());
    html_as(StatusCode::UNPROCESSABLE_ENTITY, &BringPage::new(form, Vec::new()))
}

fn review(mut form: Form, method: Vec<String>) -> Result<HttpResponse, PageError> {
    if form.value("text").trim().is_empty() {
        form.mark(&Fault::new("missing", "text", "Paste the lines of the recipe here.").into());
        return html_as(StatusCode::UNPROCESSABLE_ENTITY, &BringPage::new(form, Vec::new()));
    }
    let measures = Measures {
        cup: Cup::from_key(form.value("cup")).unwrap_or_default(),
        tablespoon: Tablespoon::from_key(form.value("tablespoon")).unwrap_or_default(),
    };
    let read = read(&ReadInput { text: form.value("text").to_owned(), measures }, Catalogue::bundled());
    let (lines, rest): (Vec<_>, Vec<_>) =
        read.lines.into_iter().partition(|l| l.kind == LineKind::Ingredient);
    let remarks =
        rest.into_iter().filter(|l| l.kind == LineKind::Remark).map(|l| l.text).chain(method).collect();
    let hydration = hydration_sentence(&lines);
    let rows = lines.iter().take(ROWS_MAX).enumerate().map(|(n, l)| row_of(n, l)).collect();
    let mut page = BringPage::new(form, rows);
    page.remarks = remarks;
    page.hydration = hydration;
    html(&page)
}

fn hydration_sentence(lines: &[ReadLine]) -> Option<String> {
    let doubt = hydration_doubt(lines, Catalogue::bundled())?;
    let (low, high) = (doubt.low.0.round(), doubt.high.0.round());
    if low == high {
        return Some(format!("Effective hydration: {low} %."));
    }
    let weigh = doubt.weigh.map_or(String::new(), |n| format!(" Weigh “{}” to know it best.", lines[n].text));
    Some(format!("Effective hydration: {low} to {high} %.{weigh}"))
}

fn row_of(row: usize, line: &ReadLine) -> ReviewRow {
    let name = line.ingredient.as_deref().and_then(|k| Catalogue::bundled().get(k)).map(|i| i.name.clone());
    let spread = match (line.low, line.high) {
        (Some(low), Some(high)) if low != high => {
            format!("{} to {} g", shown::grams(low), shown::grams(high))
        }
        _ => String::new(),
    };
    ReviewRow {
        row,
        text: line.text.clone(),
        ingredient: name.unwrap_or_default(),
        stages: stage_picks(line.stage.key()),
        grams: line.grams.map_or(String::new(), shown::grams),
        spread,
        doubts: line.doubts.clone(),
        used: true,
        ingredient_fault: String::new(),
        grams_fault: String::new(),
    }
}

async fn accept(store: web::Data<Store>, mut form: Form) -> Result<HttpResponse, PageError> {
    match read_rows(&form) {
        Ok(formula) => {
            let id = blocking(move || Ok(store.create_formula(&formula)?)).await?;
            Ok(on_to(format!("/formulas/{}/formula", id.0)))
        }
        Err(faults) => {
            form.mark(&faults);
            let rows = row_numbers(&form).into_iter().map(|n| typed_row(&form, n)).collect();
            html_as(StatusCode::UNPROCESSABLE_ENTITY, &BringPage::new(form, rows))
        }
    }
}

fn row_numbers(form: &Form) -> Vec<usize> {
    (0..ROWS_MAX).filter(|n| form.values().contains_key(&format!("rows.{n}.text"))).collect()
}

/// A row as it was typed, for a page that is shown again.
fn typed_row(form: &Form, row: usize) -> ReviewRow {
    let text = |field: &str| form.value(&format!("rows.{row}.{field}")).to_owned();
    let fault = |field: &str| form.fault(&format!("rows.{row}.{field}")).unwrap_or_default().to_owned();
    ReviewRow {
        row,
        text: text("text"),
        ingredient: text("ingredient"),
        stages: stage_picks(&text("stage")),
        grams: text("grams"),
        spread: String::new(),
        doubts: Vec::new(),
        used: form.ticked(&format!("rows.{row}.used")),
        ingredient_fault: fault("ingredient"),
        grams_fault: fault("grams"),
    }
}

/// The formula that the accepted rows make, with the wishes that its style begins with.
fn read_rows(form: &Form) -> Result<Formula, Faults> {
    let mut r = Reader::new(form);
    let style = r.choice("style", Style::from_key, Style::Tin);
    let mut formula = Formula::beginning(&r.text("name"), style);
    formula.lines.clear();
    let mut row_of_line = Vec::new();
    for row in row_numbers(form) {
        let at = |field: &str| format!("rows.{row}.{field}");
        if !form.ticked(&at("used")) {
            continue;
        }
        let name = r.text(&at("ingredient"));
        let stage = r.choice(&at("stage"), Stage::from_key, Stage::Dough);
        let grams = Grams(r.number(&at("grams")));
        match Catalogue::bundled().named(&name) {
            Some(i) => {
                formula.lines.push(Line::new(i.key.clone(), stage, grams));
                row_of_line.push(row);
            }
            None => {
                let text = "Pick a name from the list, or untick the line to leave it out.";
                r.fault("unknown", &at("ingredient"), text);
            }
        }
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
    formula
        .check(Catalogue::bundled())
        .map_err(|Faults(faults)| Faults(faults.into_iter().map(on_rows).collect()))?;
    Ok(formula)
}
