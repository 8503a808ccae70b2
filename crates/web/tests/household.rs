//! Backups, the bin, what an installed program is told, and what is seen from outside.

use crate::house::{HOST, demo, get, post, text};
use actix_web::dev::Service;
use actix_web::http::{StatusCode, header};
use actix_web::test::TestRequest;
use cerealis_core::formula::Formula;
use cerealis_core::words::Style;
use cerealis_store::{Backups, Clock, FormulaId};
use jiff::SignedDuration;
use serde_json::Value;

fn fields(all: &[(&str, &str)]) -> Vec<(String, String)> {
    all.iter().map(|(n, v)| ((*n).to_owned(), (*v).to_owned())).collect()
}

#[actix_web::test]
async fn a_backup_is_made_checked_restored_and_brought_from_elsewhere() {
    let kitchen = demo();
    let app = app!(kitchen);
    let press = |op: &str| post("/backups", &fields(&[("op", op)])).to_request();
    let (_, page) = text(app.call(press("now")).await.unwrap()).await;
    assert!(page.contains("Backed up.") && page.contains("are free."), "{page}");
    let backups = Backups::of(&kitchen.path(), None);
    let name = |n: usize| {
        let all = backups.all().unwrap();
        all[n].file.file_name().unwrap().to_str().unwrap().to_owned()
    };
    let first = name(0);
    let (_, page) = text(app.call(press(&format!("check:{first}"))).await.unwrap()).await;
    assert!(page.contains("It is whole"), "{page}");
    let file = app.call(get(&format!("/backups/file/{first}")).to_request()).await.unwrap();
    assert_eq!(file.headers().get(header::CONTENT_TYPE).unwrap(), "application/gzip");
    let bytes = actix_web::body::to_bytes(file.into_body()).await.unwrap();
    kitchen.store.create_formula(&Formula::beginning("Afterwards", Style::Rye)).unwrap();
    let has = || kitchen.store.formulas().unwrap().iter().any(|f| f.formula.name == "Afterwards");
    let (status, page) = text(app.call(press(&format!("restore:{first}"))).await.unwrap()).await;
    assert!(status == StatusCode::OK && page.contains("Restored.") && !has(), "{page}");
    // One that was downloaded, and one that is none.
    kitchen.store.create_formula(&Formula::beginning("Afterwards", Style::Rye)).unwrap();
    let bring = |body: Vec<u8>| {
        TestRequest::post()
            .uri("/backups/bring")
            .insert_header((header::HOST, HOST))
            .insert_header((header::ORIGIN, "http://127.0.0.1:8750"))
            .set_payload(body)
            .to_request()
    };
    let (status, page) = text(app.call(bring(b"flour".to_vec())).await.unwrap()).await;
    assert!(status == StatusCode::UNPROCESSABLE_ENTITY && page.contains("no backup of Cerealis"), "{page}");
    assert!(has());
    let (_, page) = text(app.call(bring(bytes.to_vec())).await.unwrap()).await;
    assert!(page.contains("Restored.") && !has(), "{page}");
    for other in ["../kitchen.sqlite", "kitchen.sqlite", "kitchen-20260101T000000Z.sqlite.gz"] {
        let asked = app.call(press(&format!("restore:{other}"))).await.unwrap();
        assert_eq!(asked.status(), StatusCode::NOT_FOUND, "{other}");
    }
    let left: Vec<_> = std::fs::read_dir(&backups.folder).unwrap().map(|e| e.unwrap().file_name()).collect();
    assert!(left.iter().all(|n| n.to_str().unwrap().ends_with(".gz")), "{left:?}");
}

#[actix_web::test]
async fn an_old_backup_is_said_on_the_first_page() {
    let kitchen = demo();
    let backups = Backups::of(&kitchen.path(), None);
    let app = app!(kitchen);
    let list = || async { text(app.call(get("/formulas").to_request()).await.unwrap()).await.1 };
    let now = kitchen.home().clock.now();
    let ago = |days: i64| kitchen.home().by(Clock::by(move || now - SignedDuration::from_hours(days * 24)));
    backups.make(&ago(5)).unwrap();
    assert!(list().await.contains("The last backup is 5 days old."));
    backups.make(&ago(2)).unwrap();
    assert!(!list().await.contains("The last backup"));
}

#[actix_web::test]
async fn what_is_deleted_is_in_the_bin() {
    let kitchen = demo();
    let app = app!(kitchen);
    app.call(post("/formulas/2/delete", &[]).to_request()).await.unwrap();
    let (_, page) = text(app.call(get("/bin").to_request()).await.unwrap()).await;
    assert!(page.contains("formula:2") && page.contains("here until"), "{page}");
    let back = post("/bin", &fields(&[("what", "formula:2")])).to_request();
    assert_eq!(app.call(back).await.unwrap().status(), StatusCode::SEE_OTHER);
    assert!(kitchen.store.formula(FormulaId(2)).is_ok());
    for unknown in ["formula:x", "bread:1", ""] {
        let asked = app.call(post("/bin", &fields(&[("what", unknown)])).to_request()).await.unwrap();
        assert_eq!(asked.status(), StatusCode::BAD_REQUEST, "{unknown}");
    }
}

/// Every icon is there in its size, and the worker keeps files that there are, under the edition of the program.
#[actix_web::test]
async fn an_installed_program_finds_what_it_is_told_of() {
    let kitchen = demo();
    let app = app!(kitchen);
    let (_, manifest) = text(app.call(get("/manifest.webmanifest").to_request()).await.unwrap()).await;
    let manifest: Value = serde_json::from_str(&manifest).unwrap();
    let icons = manifest["icons"].as_array().unwrap();
    assert!(icons.iter().any(|i| i["purpose"] == "maskable"));
    for icon in icons {
        let answer = app.call(get(icon["src"].as_str().unwrap()).to_request()).await.unwrap();
        assert_eq!(answer.headers().get(header::CONTENT_TYPE).unwrap(), "image/png");
        let png = actix_web::body::to_bytes(answer.into_body()).await.unwrap();
        let side = |at: usize| u32::from_be_bytes(png[at..at + 4].try_into().unwrap());
        assert_eq!(format!("{}x{}", side(16), side(20)), icon["sizes"].as_str().unwrap());
    }
    let (_, worker) = text(app.call(get("/worker.js").to_request()).await.unwrap()).await;
    let files: Vec<&str> = worker.split('\'').filter(|f| f.starts_with("/static/")).collect();
    assert!(files.len() > 20 && worker.contains("cerealis-shell-"));
    for file in files.into_iter().filter(|f| f.len() > "/static/".len()) {
        assert_eq!(app.call(get(file).to_request()).await.unwrap().status(), StatusCode::OK, "{file}");
    }
}

#[actix_web::test]
async fn whether_it_is_well_is_said_and_figures_only_where_they_are_wanted() {
    let kitchen = demo();
    let app = app!(kitchen);
    let (status, health) = text(app.call(get("/healthz").to_request()).await.unwrap()).await;
    let health: Value = serde_json::from_str(&health).unwrap();
    assert!(status == StatusCode::OK && health["ok"] == true && health["last_backup"].is_null(), "{health}");
    assert!(health["disk_free"].as_u64().unwrap() > 0);
    assert_eq!(app.call(get("/metrics").to_request()).await.unwrap().status(), StatusCode::NOT_FOUND);
}
