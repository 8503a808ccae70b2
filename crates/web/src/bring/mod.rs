//! Bringing in a recipe. Nothing is saved before the baker accepts.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::formats::{FormulaFile, Imported, import, made};
use cerealis_core::formula::{Formula, Line, NAME_MAX, NOTES_MAX, TAGS_MAX};
use cerealis_core::pantry::{Catalogue, Cup, Cupboard, FLOUR_CUP, Measures, OwnIngredient, Tablespoon};
use cerealis_core::shape::ShapeWish;
use cerealis_core::units::{Grams, shown};
use cerealis_core::words::{Stage, Style};
use cerealis_reader::{
    Finding, LineKind, ReadInput, ReadLine, found_in, hydration_doubt, propose, read, take, unlisted,
    weigh_as,
};
use cerealis_store::{Revision, Store, StoreError, Wanted};

mod correction;

use self::correction::{Correction, correct, row_ingredient};
use crate::error::{PageError, blocking, html, html_as, on_to};
use crate::form::{Form, Reader, exact_field, shown_field};
use crate::household::Household;
use crate::posted::Posted;
use crate::sharing::Baker;
use crate::view::{BringPage, HouseholdView, ReviewRow, stage_picks};

/// The most lines that are reviewed at once.
const ROWS_MAX: usize = 200;

/// The empty page.
pub async fn show(_baker: Baker, store: web::Data<Store>) -> Result<HttpResponse, PageError> {
    let home = blocking(move || Ok(Household::load(&store)?)).await?;
    let mut form = Form::within(home.kitchen.notation());
    form.set("cup", home.kitchen.measures.cup.key());
    form.set("tablespoon", home.kitchen.measures.tablespoon.key());
    form.put_some("flour_cup", home.kitchen.measures.flour_cup);
    html(&BringPage::new(form, Vec::new(), &home.catalogue))
}

/// How a press came out: another page, or this one.
enum Outcome {
    On(String),
    Page(StatusCode, Box<BringPage>),
}

impl Outcome {
    fn shown(page: BringPage) -> Result<Outcome, PageError> {
        Ok(Outcome::Page(StatusCode::OK, Box::new(page)))
    }

    fn refused(page: BringPage) -> Result<Outcome, PageError> {
        Ok(Outcome::Page(StatusCode::UNPROCESSABLE_ENTITY, Box::new(page)))
    }
}

/// Reads the pasted lines, corrects one of the reviewed ones, or accepts them. A text may be a
/// megabyte: nothing of it is read on the event loop.
pub async fn post(_baker: Baker, store: web::Data<Store>, posted: Posted) -> Result<HttpResponse, PageError> {
    match blocking(move || pressed(&store, posted.0)).await? {
        Outcome::On(address) => Ok(on_to(address)),
        Outcome::Page(status, page) => html_as(status, &*page),
    }
}

fn pressed(store: &Store, mut form: Form) -> Result<Outcome, PageError> {
    let home = Household::load(store)?;
    let catalogue = home.catalogue.as_ref();
    let op = form.value("op").to_owned();
    match op.as_str() {
        "accept" => return accept(store, form, catalogue),
        "household" => return take_household(store, form, catalogue),
        "again" => return Outcome::shown(review(form, catalogue)),
        "" | "read" => {}
        other => {
            let correction = Correction::from_key(other).ok_or(PageError::UnknownButton)?;
            correct(&mut form, &correction, catalogue);
            return Outcome::shown(review(form, catalogue));
        }
    }
    // A file brings its own ingredients along; those of this house are not taken for them.
    match import(form.value("text"), Catalogue::bundled()) {
        Ok(None) => first_review(form, Vec::new(), catalogue),
        Ok(Some(Imported::Recipe(recipe))) => {
            form.set("text", &recipe.lines);
            if form.value("name").is_empty() {
                form.set("name", recipe.name.chars().take(NAME_MAX).collect::<String>());
            }
            form.set("makes", &recipe.makes);
            form.set("author", recipe.author.chars().take(NAME_MAX).collect::<String>());
            form.set("tags", recipe.keywords.join(", "));
            form.set("said", &recipe.description);
            form.set("category", &recipe.category);
            let makes = (!recipe.makes.is_empty() && made(&recipe.makes).is_none())
                .then(|| format!("Makes {}", recipe.makes));
            let method = makes.into_iter().chain(recipe.method.lines().map(str::to_owned)).collect();
            first_review(form, method, catalogue)
        }
        Ok(Some(Imported::Formulas(file))) => add_all(store, form, file, catalogue),
        Ok(Some(Imported::Household(file))) => {
            let mut page = BringPage::new(form, Vec::new(), catalogue);
            let new_here = store.kitchen()?.revision == Revision(0);
            page.household = Some(HouseholdView::new(&file, new_here));
            Outcome::shown(page)
        }
        Err(Faults(faults)) => refuse(form, &faults, catalogue),
    }
}

/// Formulas of our own come in whole; there is nothing to review.
fn add_all(
    store: &Store,
    form: Form,
    file: FormulaFile,
    catalogue: &Catalogue,
) -> Result<Outcome, PageError> {
    match store.bring_in(file.formulas, &file.own) {
        Err(StoreError::Refused(Faults(faults))) => refuse(form, &faults, catalogue),
        other => Ok(Outcome::On(match other?.as_slice() {
            [one] => format!("/formulas/{}/formula", one.0),
            _ => "/formulas".into(),
        })),
    }
}

/// A household's file is taken in as it was shown, with what is ticked.
fn take_household(store: &Store, form: Form, catalogue: &Catalogue) -> Result<Outcome, PageError> {
    let file = match import(form.value("text"), Catalogue::bundled()) {
        Ok(Some(Imported::Household(file))) => *file,
        Ok(_) => {
            let fault =
                Fault::new("malformed", "text", "This is not a household's file any more. Open it again.");
            return refuse(form, &[fault], catalogue);
        }
        Err(Faults(faults)) => return refuse(form, &faults, catalogue),
    };
    let wanted = Wanted { kitchen: form.ticked("take.kitchen"), prices: form.ticked("take.prices") };
    match store.take_household(file, wanted) {
        Err(StoreError::Refused(Faults(faults))) => refuse(form, &faults, catalogue),
        other => other.map(|_| Outcome::On("/formulas".into())).map_err(PageError::from),
    }
}

/// The page with what was pasted, and the place of the fault.
fn refuse(mut form: Form, faults: &[Fault], catalogue: &Catalogue) -> Result<Outcome, PageError> {
    let said = |f: &Fault| {
        if f.path.is_empty() || f.path == "text" {
            f.message.clone()
        } else {
            format!("At {}: {}", f.path, f.message)
        }
    };
    let text = faults.iter().take(3).map(said).collect::<Vec<_>>().join(" ");
    form.mark(&Fault::new("malformed", "text", text).into());
    Outcome::refused(BringPage::new(form, Vec::new(), catalogue))
}

fn measures(form: &Form) -> Measures {
    Measures {
        cup: Cup::from_key(form.value("cup")).unwrap_or_default(),
        tablespoon: Tablespoon::from_key(form.value("tablespoon")).unwrap_or_default(),
        flour_cup: form.figure::<Grams>("flour_cup").filter(|g| FLOUR_CUP.holds(g.0)),
    }
}

/// Reads the text and fills the rows; `method` are steps that came beside the lines.
fn first_review(mut form: Form, method: Vec<String>, catalogue: &Catalogue) -> Result<Outcome, PageError> {
    if form.value("text").trim().is_empty() {
        form.mark(&Fault::new("missing", "text", "Paste the lines of the recipe here.").into());
        return Outcome::refused(BringPage::new(form, Vec::new(), catalogue));
    }
    form.forget(|name| name.starts_with("rows.") || name.starts_with("found."));
    let input = ReadInput { text: form.value("text").to_owned(), measures: measures(&form) };
    let read = match read(&input, catalogue) {
        Ok(read) => read,
        Err(Faults(faults)) => return refuse(form, &faults, catalogue),
    };
    if form.value("name").is_empty() {
        let name = read.title.unwrap_or_default();
        form.set("name", name.chars().take(NAME_MAX).collect::<String>());
    }
    form.set("unlisted", unlisted(&read.lines).join("\n"));
    let found = found_in(&input.text, &read.lines, &method);
    let (lines, rest): (Vec<_>, Vec<_>) =
        read.lines.into_iter().partition(|l| l.kind == LineKind::Ingredient);
    if lines.is_empty() {
        let text = "Nothing of this was understood as an ingredient. One a line with its amount, as in “400 g bread flour”, is read best.";
        return refuse(form, &[Fault::new("malformed", "text", text)], catalogue);
    }
    if lines.len() > ROWS_MAX {
        let text = format!(
            "These are {} lines of ingredients; {ROWS_MAX} are reviewed at once. Paste one recipe at a time.",
            lines.len()
        );
        return refuse(form, &[Fault::new("out-of-range", "text", text)], catalogue);
    }
    let steps = rest.into_iter().filter(|l| l.kind != LineKind::Heading).map(|l| l.text);
    let steps = steps.chain(method).collect::<Vec<_>>().join("\n");
    for (n, line) in lines.iter().enumerate() {
        fill_row(&mut form, n, line, catalogue);
    }
    let style = Style::ALL.into_iter().find(|s| s.name().eq_ignore_ascii_case(form.value("category")));
    let proposal = propose(form.value("name"), &lines, &found, style, catalogue);
    form.set("style", proposal.style.key());
    form.set("because", &proposal.because);
    for (n, fact) in proposal.facts.iter().enumerate() {
        form.set(format!("found.{n}"), serde_json::to_string(&fact.finding).unwrap_or_default());
        form.set(format!("found.{n}.used"), if fact.taken { "on" } else { "" });
    }
    form.set("method", steps);
    Outcome::shown(review(form, catalogue))
}

fn fill_row(form: &mut Form, row: usize, line: &ReadLine, catalogue: &Catalogue) {
    let at = |field: &str| format!("rows.{row}.{field}");
    let name = line.ingredient.as_deref().and_then(|k| catalogue.get(k)).map(|i| i.name.clone());
    let choose = if line.candidates.is_empty() { &line.near } else { &line.candidates };
    form.set(at("text"), &line.text);
    form.set(at("ingredient"), name.unwrap_or_default());
    form.set(at("stage"), line.stage.key());
    form.put_weight(&at("grams"), line.grams);
    form.set(at("note"), &line.note);
    form.set(
        at("choose"),
        if choose.len() > 1 || line.candidates.is_empty() { choose.join(" ") } else { String::new() },
    );
    // What nobody said the amount of is left out until somebody does.
    form.set(at("used"), if line.grams.is_some() || line.amount.is_some() { "on" } else { "" });
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
    let typed = form.weight(&format!("rows.{row}.grams"));
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
        exact: form.value(&exact_field(&format!("rows.{row}.grams"))).to_owned(),
        shown: form.value(&shown_field(&format!("rows.{row}.grams"))).to_owned(),
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

fn accept(store: &Store, mut form: Form, catalogue: &Catalogue) -> Result<Outcome, PageError> {
    let brought = match read_rows(&form, catalogue) {
        Ok((formula, own)) => store.bring_in(vec![formula], &own),
        Err(faults) => Err(StoreError::Refused(faults)),
    };
    match brought {
        Ok(ids) => Ok(Outcome::On(
            ids.first().map_or("/formulas".into(), |id| format!("/formulas/{}/formula", id.0)),
        )),
        Err(StoreError::Refused(faults)) => {
            form.mark(&faults);
            Outcome::refused(review(form, catalogue))
        }
        Err(other) => Err(other.into()),
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
        let grams = match r.weight(&at("grams")) {
            Some(grams) => grams,
            None => r.figure_of(&at("grams")),
        };
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
    take(&mut formula, &findings(form), catalogue);
    if let Some((pieces, kind, strands, each)) = made(form.value("makes")) {
        formula.shape = ShapeWish { pieces, kind, piece_weight: each, ..formula.shape };
        formula.shape.strands = strands.unwrap_or(formula.shape.strands);
    }
    formula.author = r.text("author");
    let (most, longest) = TAGS_MAX;
    let tags = form.value("tags").split(',').map(|t| t.trim().chars().take(longest).collect::<String>());
    formula.tags = tags.filter(|t| !t.is_empty()).take(most).collect();
    for more in [form.value("said"), form.value("method")] {
        let notes = format!("{}\n\n{}", formula.notes.trim(), more.trim());
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
    formula.check(&catalogue.with(&new.own)).map_err(moved)?;
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
