//! On the wire: methods, files, limits; what was typed stays with every answer; figures change only when
//! they are typed.

use crate::house::{HOST, Kitchen, demo, fields, get, post, set, text};
use actix_web::dev::Service;
use actix_web::http::{Method, StatusCode, header};
use actix_web::test::TestRequest;
use cerealis_core::formula::{Formula, Line};
use cerealis_core::pantry::Catalogue;
use cerealis_core::units::Grams;
use cerealis_core::words::{Stage, Style};
use cerealis_store::{FormulaId, Store};
use proptest::prelude::*;
use proptest::test_runner::{Config, TestRunner};
use rstest::rstest;

fn ask(method: Method, path: &str) -> TestRequest {
    get(path).method(method).insert_header((header::ORIGIN, format!("http://{HOST}")))
}

#[rstest]
#[case(Method::HEAD, "/formulas", StatusCode::OK)]
#[case(Method::HEAD, "/formulas/1/rise", StatusCode::OK)]
#[case(Method::PUT, "/formulas", StatusCode::METHOD_NOT_ALLOWED)]
#[case(Method::DELETE, "/formulas/1", StatusCode::METHOD_NOT_ALLOWED)]
#[case(Method::GET, "/formulas/1/preview", StatusCode::METHOD_NOT_ALLOWED)]
#[case(Method::GET, "/nowhere", StatusCode::NOT_FOUND)]
#[case(Method::GET, "/formulas?deleted=x", StatusCode::BAD_REQUEST)]
#[actix_web::test]
async fn every_address_has_its_methods(
    #[case] method: Method,
    #[case] path: &str,
    #[case] status: StatusCode,
) {
    let kitchen = demo();
    let app = app!(kitchen);
    let response = app.call(ask(method, path).to_request()).await.unwrap();
    assert_eq!(response.status(), status);
    let kind = response.headers().get(header::CONTENT_TYPE).unwrap().to_str().unwrap().to_owned();
    assert!(kind.starts_with("text/html"), "{kind}");
}

#[actix_web::test]
async fn pages_are_not_kept_and_files_are_for_a_year() {
    let kitchen = demo();
    let app = app!(kitchen);
    let page = app.call(get("/formulas").to_request()).await.unwrap();
    let head = |r: &actix_web::dev::ServiceResponse<_>, name: &str| -> String {
        r.headers().get(name).map_or(String::new(), |v| v.to_str().unwrap().to_owned())
    };
    assert_eq!(head(&page, "cache-control"), "no-store");
    assert!(head(&page, "permissions-policy").contains("camera=()"));
    let (_, html) = text(page).await;
    let sheet = html.split('"').find(|p| p.ends_with("cerealis.css")).unwrap().to_owned();
    let file = app.call(get(&sheet).to_request()).await.unwrap();
    assert!(head(&file, "cache-control").contains("immutable"), "{sheet}");
    let old = sheet.replace(sheet.split('/').nth(2).unwrap(), "0123456789ab");
    let file = app.call(get(&old).to_request()).await.unwrap();
    assert_eq!((file.status(), head(&file, "cache-control").as_str()), (StatusCode::OK, "no-cache"));
}

#[actix_web::test]
async fn a_file_goes_out_by_its_whole_name_and_runs_nowhere() {
    let kitchen = demo();
    let mut f = Formula::beginning("Müller's „Körner\" 50/50", Style::Tin);
    f.lines[0].note = "=HYPERLINK(1)".into();
    f.lines[1].note = "plain".into();
    let id = kitchen.store.create_formula(&f).unwrap();
    let app = app!(kitchen);
    let response = app.call(get(&format!("/formulas/{}/export/csv?bom=1", id.0)).to_request()).await.unwrap();
    let named = response.headers().get("content-disposition").unwrap().to_str().unwrap().to_owned();
    assert!(named.contains("filename*=UTF-8''M%C3%BCller"), "{named}");
    let (_, csv) = text(response).await;
    assert!(csv.starts_with('\u{feff}') && csv.contains("\r\n") && csv.contains("'=HYPERLINK"), "{csv}");
    let back = [("text", csv.as_str()), ("op", "read")].map(|(k, v)| (k.to_owned(), v.to_owned()));
    let (_, page) = text(app.call(post("/formulas/bring", &back).to_request()).await.unwrap()).await;
    assert!(
        page.contains("=HYPERLINK(1)") && !page.contains("&#39;=HYPERLINK"),
        "the mark is taken off again"
    );
}

/// Everything out into one file, and into an empty kitchen.
#[actix_web::test]
async fn a_household_moves_house() {
    let kitchen = demo();
    let app = app!(kitchen);
    let (_, file) = text(app.call(get("/export").to_request()).await.unwrap()).await;
    let dir = tempfile::tempdir().unwrap();
    let empty = Kitchen::at(Store::open(&dir.path().join("new.sqlite")).unwrap());
    let there = app!(empty);
    let mut typed = vec![("text".to_owned(), file), ("op".to_owned(), "read".to_owned())];
    let (status, page) = text(there.call(post("/formulas/bring", &typed).to_request()).await.unwrap()).await;
    assert!(
        status.is_success() && page.contains("7 formulas") && page.contains("take.kitchen\" checked"),
        "{page:.400}"
    );
    set(&mut typed, "op", "household");
    set(&mut typed, "take.kitchen", "on");
    set(&mut typed, "take.prices", "on");
    let done = there.call(post("/formulas/bring", &typed).to_request()).await.unwrap();
    assert_eq!(done.status(), StatusCode::SEE_OTHER);
    assert_eq!(empty.store.household().unwrap(), kitchen.store.household().unwrap());
}

/// A button that no page has changes nothing, by a script or without.
#[actix_web::test]
async fn an_unknown_button_saves_nothing() {
    let kitchen = demo();
    let app = app!(kitchen);
    let before = kitchen.store.formula(FormulaId(1)).unwrap();
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, "lines.2.grams", "999");
    set(&mut typed, "op", "frobnicate");
    for path in ["/formulas/1", "/formulas/1/preview"] {
        let (status, page) = text(app.call(post(path, &typed).to_request()).await.unwrap()).await;
        assert_eq!(status, StatusCode::BAD_REQUEST);
        assert!(page.contains("999"), "what was typed is on the page");
        let scripted = post(path, &typed).insert_header((header::ACCEPT, "application/json"));
        let (_, json) = text(app.call(scripted.to_request()).await.unwrap()).await;
        let json: serde_json::Value = serde_json::from_str(&json).unwrap();
        assert!(json["error"].as_str().unwrap().contains("Nothing was changed"), "{json}");
    }
    assert_eq!(kitchen.store.formula(FormulaId(1)).unwrap(), before);
}

/// A file that is held, and a formula deleted elsewhere: what was typed is kept, what is wrong is said,
/// and the way on is one press.
#[actix_web::test]
async fn what_was_typed_outlives_trouble_with_the_file() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, "notes", "Ten minutes less proof next time");
    kitchen.store.delete_formula(FormulaId(1)).unwrap();
    let (status, page) = text(app.call(post("/formulas/1", &typed).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::NOT_FOUND);
    assert!(
        page.contains("Ten minutes less proof next time") && page.contains("name=\"back\""),
        "{page:.600}"
    );
    set(&mut typed, "back", "1");
    let done = app.call(post("/formulas/1", &typed).to_request()).await.unwrap();
    assert_eq!(done.status(), StatusCode::SEE_OTHER);
    assert_eq!(
        kitchen.store.formula(FormulaId(1)).unwrap().formula.notes,
        "Ten minutes less proof next time"
    );

    use diesel::connection::{Connection, SimpleConnection};
    let mut other = diesel::SqliteConnection::establish(kitchen.path().to_str().unwrap()).unwrap();
    other.batch_execute("BEGIN IMMEDIATE; UPDATE kitchens SET revision = revision;").unwrap();
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, "notes", "Held up");
    let response = app.call(post("/formulas/1", &typed).to_request()).await.unwrap();
    assert_eq!(response.status(), StatusCode::SERVICE_UNAVAILABLE);
    assert!(response.headers().contains_key(header::RETRY_AFTER));
    let (_, page) = text(response).await;
    assert!(
        page.contains("Another program holds") && page.contains("Held up") && page.contains("data-again")
    );
    other.batch_execute("ROLLBACK").unwrap();
    let again = app.call(post("/formulas/1", &typed).to_request()).await.unwrap();
    assert_eq!(again.status(), StatusCode::SEE_OTHER);
}

#[actix_web::test]
async fn a_damaged_record_is_listed_downloaded_and_deleted() {
    let kitchen = demo();
    {
        use diesel::connection::{Connection, SimpleConnection};
        let mut other = diesel::SqliteConnection::establish(kitchen.path().to_str().unwrap()).unwrap();
        other.batch_execute("UPDATE formulas SET body = '{\"name\":\"Weir loaf\",' WHERE id = 2").unwrap();
    }
    let app = app!(kitchen);
    let (status, list) = text(app.call(get("/formulas").to_request()).await.unwrap()).await;
    assert!(status.is_success() && list.contains("Weir loaf") && list.contains("/damaged/formula/2"));
    let (_, body) = text(app.call(get("/damaged/formula/2").to_request()).await.unwrap()).await;
    assert_eq!(body, "{\"name\":\"Weir loaf\",");
    for path in [
        "/formulas/2/formula",
        "/formulas/2/rise",
        "/formulas/2/sheet",
        "/formulas/2/export/json",
        "/formulas/2/dough",
    ] {
        let (status, page) = text(app.call(get(path).to_request()).await.unwrap()).await;
        assert!(
            status == StatusCode::UNPROCESSABLE_ENTITY && page.contains("cannot be read"),
            "{path}: {status}"
        );
    }
    let gone = app.call(post("/damaged/formula/2/delete", &[]).to_request()).await.unwrap();
    assert_eq!(gone.status(), StatusCode::SEE_OTHER);
    let (_, list) = text(app.call(get("/formulas").to_request()).await.unwrap()).await;
    assert!(!list.contains("/damaged/"));
}

/// A new kitchen takes the first browser's zone, once, and only a zone.
#[actix_web::test]
async fn a_new_kitchen_takes_the_zone_of_the_first_browser() {
    let dir = tempfile::tempdir().unwrap();
    let empty = Kitchen::at(Store::open(&dir.path().join("new.sqlite")).unwrap());
    let app = app!(empty);
    let say = |zone: &str| {
        let body = serde_json::json!({ "zone": zone }).to_string();
        ask(Method::POST, "/kitchen/zone")
            .insert_header((header::CONTENT_TYPE, "application/json"))
            .set_payload(body)
            .to_request()
    };
    assert_eq!(app.call(say("Mill/Pond")).await.unwrap().status(), StatusCode::NO_CONTENT);
    assert_eq!(app.call(say("Europe/Paris")).await.unwrap().status(), StatusCode::OK);
    assert_eq!(app.call(say("Asia/Tokyo")).await.unwrap().status(), StatusCode::NO_CONTENT, "it is set");
    assert_eq!(empty.store.kitchen().unwrap().kitchen.time_zone, "Europe/Paris");
}

/// Renaming a line, adding and removing others: no figure moves that was not typed.
#[test]
fn no_figure_changes_by_a_name() {
    let kitchen = demo();
    let names: Vec<String> = Catalogue::bundled().iter().map(|i| i.name.clone()).collect();
    let change = (0usize..6, 0..names.len(), prop::option::of(0usize..6), any::<bool>());
    let mut runner = TestRunner::new(Config::with_cases(60));
    let cupboard = cerealis_store::demo_cupboard();
    let home = kitchen.store.kitchen().unwrap().kitchen;
    let outcome = runner.run(&(1i32..8, change), |(id, (row, name, removed, locked))| {
        let house = &cerealis_web::household::Household::of(
            home.clone(),
            cupboard.clone(),
            jiff::Timestamp::UNIX_EPOCH,
        );
        let mut formula = kitchen.store.formula(FormulaId(id)).unwrap().formula;
        formula.percent_locked = locked;
        let mut form = cerealis_web::formula_page::fill(&formula, house);
        let row = row % formula.lines.len();
        form.set(format!("lines.{row}.ingredient"), names[name].clone());
        let mut kept: Vec<(usize, f64)> = formula.lines.iter().map(|l| l.grams.0).enumerate().collect();
        if let Some(gone) = removed.map(|g| g % formula.lines.len()).filter(|g| *g != row) {
            form.forget(|n| n.starts_with(&format!("lines.{gone}.")));
            kept.retain(|(i, _)| *i != gone);
        }
        // A dough without flour is refused; all else keeps its grams.
        if let Ok(read) = cerealis_web::formula_page::read(&form, house) {
            let grams: Vec<f64> = read.lines.iter().map(|l| l.grams.0).collect();
            let wanted: Vec<f64> = kept.iter().map(|(_, g)| *g).collect();
            prop_assert_eq!(grams, wanted);
        }
        Ok(())
    });
    outcome.unwrap();
}

/// Seventy-five lines are refused with all of them still on the page, not cut to sixty.
#[actix_web::test]
async fn no_line_is_dropped_in_silence() {
    let kitchen = demo();
    let mut f = kitchen.store.formula(FormulaId(1)).unwrap().formula;
    f.lines.extend((0..70).map(|n| Line::new("raisins", Stage::AddIns, Grams(10.0 + f64::from(n)))));
    let home = kitchen.store.kitchen().unwrap().kitchen;
    let cupboard = cerealis_store::demo_cupboard();
    let house =
        &cerealis_web::household::Household::of(home.clone(), cupboard.clone(), jiff::Timestamp::UNIX_EPOCH);
    let form = cerealis_web::formula_page::fill(&f, house);
    let mut typed: Vec<(String, String)> =
        form.values().clone().into_iter().filter(|(_, v)| !v.is_empty()).collect();
    typed.push(("revision".into(), "1".into()));
    let app = app!(kitchen);
    let (status, page) = text(app.call(post("/formulas/1", &typed).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(page.contains("at most 60 lines"));
    assert_eq!(page.matches(".ingredient\" id=").count(), f.lines.len(), "all are still there");
    let lines: String = (0..75).map(|n| format!("{} g raisins\n", n + 1)).collect();
    let pasted = [("text", lines.as_str()), ("op", "read")].map(|(k, v)| (k.to_owned(), v.to_owned()));
    let (_, review) = text(app.call(post("/formulas/bring", &pasted).to_request()).await.unwrap()).await;
    assert!(review.contains("Untick 15") && review.contains("75 g raisins"));
    let many = "2 g salt\n".repeat(1200);
    let pasted = [("text", many.as_str()), ("op", "read")].map(|(k, v)| (k.to_owned(), v.to_owned()));
    let (status, page) = text(app.call(post("/formulas/bring", &pasted).to_request()).await.unwrap()).await;
    assert!(status == StatusCode::UNPROCESSABLE_ENTITY && page.contains("at most 400"), "{status}");
}

/// What the program is made with, and under which licences, can be read in the program.
#[actix_web::test]
async fn the_notices_are_a_press_away() {
    let kitchen = demo();
    let app = app!(kitchen);
    let (_, page) = text(app.call(get("/kitchen").to_request()).await.unwrap()).await;
    let at =
        page.split("href=\"").find_map(|p| p.split('"').next().filter(|a| a.ends_with("THIRD-PARTY.txt")));
    let (status, notices) = text(app.call(get(at.unwrap()).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(notices.contains("diesel ") && notices.contains("SIL OPEN FONT LICENSE"));
}
