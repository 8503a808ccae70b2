//! The kitchen's page as a script and as a browser without one saves it: row by row, with undo, out and in as a file.

use crate::house::{Kitchen, demo, drawn, fields, get, on_page, post, set, text};
use actix_web::dev::Service;
use actix_web::http::{StatusCode, header};
use cerealis_core::kitchen::{FurtherMixer, FurtherOven, Kitchen as Settings};
use cerealis_core::notation::Temperatures;
use cerealis_core::oven::Marks;
use cerealis_core::units::Celsius;
use cerealis_core::words::Method;
use cerealis_store::FormulaId;
use rstest::rstest;
use serde_json::Value;

type Fields = Vec<(String, String)>;

macro_rules! page {
    ($app:expr) => {{
        let (status, page) = text($app.call(get("/kitchen").to_request()).await.unwrap()).await;
        assert_eq!(status, StatusCode::OK);
        page
    }};
}

/// What a script gets back for a save.
macro_rules! save {
    ($app:expr, $typed:expr) => {{
        let request =
            post("/kitchen", &$typed).insert_header((header::ACCEPT, "application/json")).to_request();
        let (status, body) = text($app.call(request).await.unwrap()).await;
        (status, serde_json::from_str::<Value>(&body).unwrap_or_else(|e| panic!("{e}: {body:.200}")))
    }};
}

fn settings(kitchen: &Kitchen) -> Settings {
    kitchen.store.kitchen().unwrap().kitchen
}

/// Whatever the kitchen has, its page sent back untouched changes nothing, in any notation.
#[rstest]
#[actix_web::test]
async fn the_page_sent_back_changes_nothing(
    #[values(Temperatures::Celsius, Temperatures::Fahrenheit, Temperatures::FahrenheitFirst)]
    units: Temperatures,
    #[values(false, true)] inches: bool,
) {
    let kitchen = demo();
    let mut own = settings(&kitchen);
    own.units = units;
    if inches {
        own.lengths = cerealis_core::notation::Lengths::Inches;
        own.weights = cerealis_core::notation::Weights::OuncesFirst;
        own.clock = cerealis_core::notation::ClockFace::Hours12;
    }
    own.ovens.push(FurtherOven {
        name: "Stone oven".into(),
        marks: Marks::TwentyFiveF,
        ..FurtherOven::default()
    });
    own.mixers.push(FurtherMixer {
        name: "Small one".into(),
        speeds: vec![50.0, 90.0],
        limit: None,
        friction: Vec::new(),
    });
    kitchen.store.save_kitchen(None, &own).unwrap();
    let app = app!(kitchen);
    let typed = on_page(&page!(app));
    let (status, answer) = save!(app, typed);
    assert_eq!((status, &answer["saved"]), (StatusCode::OK, &Value::Bool(true)), "{}", answer["faults"]);
    assert_eq!(settings(&kitchen), own);
}

#[actix_web::test]
async fn a_script_saves_and_is_told_the_revision() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = on_page(&page!(app));
    set(&mut typed, "room", "23,5");
    let (status, answer) = save!(app, typed);
    assert_eq!(status, StatusCode::OK);
    assert!(answer["saved"].as_bool().unwrap() && !answer["unfinished"].as_bool().unwrap());
    assert_eq!(answer["revision"].as_i64().unwrap(), i64::from(kitchen.store.kitchen().unwrap().revision.0));
    assert_eq!(settings(&kitchen).room, Celsius(23.5));
    assert!(answer["oven"].as_str().unwrap().contains("makes good"));
    // The same page again is one that another window has overtaken.
    set(&mut typed, "room", "19");
    let (_, answer) = save!(app, typed);
    assert!(answer["conflict"].as_bool().unwrap() && !answer["saved"].as_bool().unwrap());
    assert_eq!(settings(&kitchen).room, Celsius(23.5));
}

/// What has a fault stays as it is kept, told at its field, and keeps nothing else unsaved; a press on Save asks for all.
#[actix_web::test]
async fn a_fault_is_told_at_its_field_and_the_rest_is_saved() {
    let kitchen = demo();
    let app = app!(kitchen);
    let before = settings(&kitchen);
    let mut typed = on_page(&page!(app));
    set(&mut typed, "room", "22");
    set(&mut typed, "tap", "cold");
    set(&mut typed, "pans.1.name", "The wide one");
    set(&mut typed, "pans.0.length", "long");
    let mut pressed = typed.clone();
    set(&mut pressed, "pressed", "1");
    let (status, answer) = save!(app, pressed);
    assert_eq!((status, &answer["saved"]), (StatusCode::UNPROCESSABLE_ENTITY, &Value::Bool(false)));
    assert_eq!(settings(&kitchen), before);
    let (status, answer) = save!(app, typed);
    assert_eq!((status, &answer["saved"]), (StatusCode::OK, &Value::Bool(true)));
    let faults: Vec<&String> = answer["faults"].as_object().unwrap().keys().collect();
    assert_eq!(faults, ["pans.0.length", "tap"]);
    assert!(answer["faults"]["tap"].as_str().unwrap().contains("not a temperature"));
    let mut wanted = before;
    wanted.room = Celsius(22.0);
    wanted.pans[1].name = "The wide one".into();
    assert_eq!(settings(&kitchen), wanted);
}

/// A row that went moves those after it: none is taken for another.
#[actix_web::test]
async fn a_fault_beside_a_removed_row_saves_nothing() {
    let kitchen = demo();
    let app = app!(kitchen);
    let before = settings(&kitchen);
    let mut typed = on_page(&page!(app));
    typed.retain(|(name, _)| !name.starts_with("pans.0."));
    set(&mut typed, "pans.1.name", "");
    let (status, _) = save!(app, typed);
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(settings(&kitchen), before);
}

/// A row that was added and is not filled yet waits; a press on Save asks for it.
#[actix_web::test]
async fn a_row_that_is_not_filled_yet_waits() {
    let kitchen = demo();
    let app = app!(kitchen);
    let pans = settings(&kitchen).pans.len();
    let mut typed = on_page(&page!(app));
    set(&mut typed, "op", "add:pans");
    let (status, drawn) = text(app.call(post("/kitchen", &typed).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(drawn.contains("this-oven"), "what the oven is like stays on the page");
    let mut typed = on_page(&drawn);
    let fresh = typed.iter().find(|(n, _)| n.starts_with("fresh.pans.")).unwrap().0.clone();
    let row = fresh.strip_prefix("fresh.").unwrap().to_owned();
    set(&mut typed, "room", "22");
    let (_, answer) = save!(app, typed);
    assert!(answer["saved"].as_bool().unwrap() && answer["unfinished"].as_bool().unwrap());
    assert_eq!((settings(&kitchen).pans.len(), settings(&kitchen).room), (pans, Celsius(22.0)));
    let revision = answer["revision"].to_string();
    set(&mut typed, "revision", &revision);
    let mut pressed = typed.clone();
    set(&mut pressed, "pressed", "1");
    let (status, answer) = save!(app, pressed);
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "a press asks for all of it");
    assert!(
        answer["faults"].as_object().unwrap().keys().any(|k| k.starts_with(&row)),
        "{}",
        answer["faults"]
    );
    for (field, value) in [("name", "Long tin"), ("length", "30"), ("width", "11"), ("depth", "9")] {
        set(&mut typed, &format!("{row}.{field}"), value);
    }
    let (_, answer) = save!(app, typed);
    assert!(!answer["unfinished"].as_bool().unwrap());
    assert_eq!(settings(&kitchen).pans.last().unwrap().name, "Long tin");
}

/// Undo sends what the form was before: it is drawn as it was, and saved by what follows.
#[actix_web::test]
async fn what_a_form_was_before_is_drawn_again() {
    let kitchen = demo();
    let app = app!(kitchen);
    let before = on_page(&page!(app));
    let mut typed = before.clone();
    typed.retain(|(n, _)| !n.starts_with("places.0."));
    let (_, answer) = save!(app, typed);
    assert_eq!(settings(&kitchen).places.len(), 1);
    let mut undone = before.clone();
    set(&mut undone, "op", "undo");
    set(&mut undone, "revision", &answer["revision"].to_string());
    let (status, drawn) = text(app.call(post("/kitchen", &undone).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(settings(&kitchen).places.len(), 1, "drawing saves nothing");
    let (_, answer) = save!(app, on_page(&drawn));
    assert!(answer["saved"].as_bool().unwrap());
    assert_eq!(settings(&kitchen).places.len(), 2);
}

#[actix_web::test]
async fn an_oven_goes_with_what_it_has_shown() {
    let kitchen = demo();
    let mut own = settings(&kitchen);
    let reading = own.oven_readings[0];
    for name in ["First", "Second"] {
        let oven = FurtherOven { name: name.into(), readings: vec![reading], ..FurtherOven::default() };
        own.ovens.push(oven);
    }
    kitchen.store.save_kitchen(None, &own).unwrap();
    let app = app!(kitchen);
    let mut typed = on_page(&page!(app));
    set(&mut typed, "op", "remove:ovens:0");
    let (_, drawn) = text(app.call(post("/kitchen", &typed).to_request()).await.unwrap()).await;
    let (_, answer) = save!(app, on_page(&drawn));
    assert!(answer["saved"].as_bool().unwrap(), "{answer}");
    let now = settings(&kitchen);
    assert_eq!((now.ovens.len(), now.ovens[0].name.as_str()), (1, "Second"));
    assert_eq!((now.ovens[0].readings.len(), now.oven_readings.len()), (1, own.oven_readings.len()));
}

#[actix_web::test]
async fn a_kitchen_goes_out_and_comes_into_another() {
    let from = demo();
    let app = app!(from);
    let (status, file) = text(app.call(get("/kitchen/export").to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    let dir = tempfile::tempdir().unwrap();
    let empty = Kitchen::at(cerealis_store::Store::open(&dir.path().join("kitchen.sqlite")).unwrap());
    let app = app!(empty);
    let read: Fields = vec![("text".into(), file.clone()), ("op".into(), "read".into())];
    let (_, page) = text(app.call(post("/formulas/bring", &read).to_request()).await.unwrap()).await;
    assert!(page.contains("nothing but its kitchen"));
    let taken: Fields =
        vec![("text".into(), file), ("take.kitchen".into(), "on".into()), ("op".into(), "household".into())];
    app.call(post("/formulas/bring", &taken).to_request()).await.unwrap();
    assert_eq!(settings(&empty), settings(&from));
    assert!(empty.store.formulas().unwrap().is_empty());
}

/// A formula that uses another oven is baked by its dial and told of it; one that uses another mixer, by its speeds.
#[actix_web::test]
async fn a_formula_uses_the_oven_and_the_mixer_that_it_names() {
    let kitchen = demo();
    let mut own = settings(&kitchen);
    own.ovens.push(FurtherOven {
        name: "Stone oven".into(),
        marks: Marks::Ten,
        offset: 0.0,
        preheat: cerealis_core::units::Minutes(60.0),
        ..FurtherOven::default()
    });
    own.mixers.push(FurtherMixer {
        name: "Small one".into(),
        speeds: vec![40.0, 77.0],
        limit: None,
        friction: Vec::new(),
    });
    kitchen.store.save_kitchen(None, &own).unwrap();
    let app = app!(kitchen);
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, "here", "oven");
    set(&mut typed, "uses.oven", "Stone oven");
    let answer = preview!(app, 1, typed);
    assert!(drawn(&answer, "oven").contains("Stone oven goes by its dial"), "{}", drawn(&answer, "oven"));
    set(&mut typed, "here", "mix");
    set(&mut typed, "mix.method", "mixer");
    set(&mut typed, "uses.mixer", "Small one");
    let answer = preview!(app, 1, typed);
    assert!(drawn(&answer, "mix").contains("77 turns"), "the second of its speeds");
    // What is measured in that mixer is learned by it.
    app.call(post("/formulas/1", &typed).to_request()).await.unwrap();
    assert_eq!(kitchen.store.formula(FormulaId(1)).unwrap().formula.uses.mixer, "Small one");
    let begun: Fields = vec![
        ("op".into(), "begin".into()),
        ("measured".into(), "27".into()),
        ("mixed_at".into(), "7:45".into()),
    ];
    app.call(post("/formulas/1/dough", &begun).to_request()).await.unwrap();
    let now = settings(&kitchen);
    assert_eq!(now.mixers[0].friction.len(), 1);
    assert_eq!(now.mixers[0].friction[0].method, Method::Mixer);
    assert_eq!(now.friction, own.friction, "the usual mixer learns nothing by it");
}
