//! An empty kitchen, and a list that grows: the first answers, the examples, the search and its pages.

use crate::house;
use crate::house::{Kitchen, get, post, text};
use actix_web::dev::Service;
use actix_web::http::{StatusCode, header};
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::{Kitchen as Settings, Scale};
use cerealis_core::notation::{ClockFace, Lengths, Temperatures, Weights};
use cerealis_core::oven::Marks;
use cerealis_core::words::Style;
use cerealis_store::{FormulaId, Store};
use cerealis_web::picture::{Bread, bread};
use proptest::prelude::*;
use rstest::rstest;

fn empty() -> (tempfile::TempDir, Kitchen) {
    let dir = tempfile::tempdir().unwrap();
    let store = Store::open(&dir.path().join("kitchen.sqlite")).unwrap();
    (dir, Kitchen::at(store))
}

fn typed(fields: &[(&str, &str)]) -> Vec<(String, String)> {
    fields.iter().map(|(n, v)| ((*n).to_owned(), (*v).to_owned())).collect()
}

#[actix_web::test]
async fn an_empty_kitchen_asks_and_offers() {
    let (_dir, kitchen) = empty();
    let app = app!(kitchen);
    let (status, page) = text(app.call(get("/formulas").to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(page.contains("in four answers") && page.contains("Paste it here"));
    for style in Style::ALL {
        assert!(page.contains(style.name()), "{} is offered", style.name());
    }
    assert_eq!(page.matches("class=\"start-card\"").count(), Style::ALL.len());
}

#[actix_web::test]
async fn what_is_answered_is_kept_and_what_is_left_out_stays() {
    let (_dir, kitchen) = empty();
    let app = app!(kitchen);
    let usual = Settings::default();
    let answers = typed(&[("units", "ounces"), ("scale", "tenth"), ("oven", "fan"), ("room", "")]);
    let saved = app.call(post("/kitchen/first", &answers).to_request()).await.unwrap();
    assert_eq!(saved.status(), StatusCode::SEE_OTHER);
    let now = kitchen.store.kitchen().unwrap().kitchen;
    assert_eq!((now.units, now.scale, now.oven_fan), (Temperatures::Fahrenheit, Scale::Tenth, true));
    assert_eq!((now.weights, now.lengths), (Weights::OuncesFirst, Lengths::Inches));
    assert_eq!((now.clock, now.oven_marks), (ClockFace::Hours12, Marks::TwentyFiveF));
    assert_eq!((now.room, now.pans.len()), (usual.room, usual.pans.len()));
    let warm = typed(&[("units", "metric"), ("scale", "gram"), ("oven", "plain"), ("room", "77 F")]);
    app.call(post("/kitchen/first", &warm).to_request()).await.unwrap();
    let now = kitchen.store.kitchen().unwrap().kitchen;
    assert!((now.room.0 - 25.0).abs() < 1e-9 && now.units == Temperatures::Celsius, "{:?}", now.room);
    // A bare figure is in the degrees that are chosen with it.
    let there = typed(&[("units", "grams"), ("scale", "gram"), ("oven", "plain"), ("room", "68")]);
    app.call(post("/kitchen/first", &there).to_request()).await.unwrap();
    let now = kitchen.store.kitchen().unwrap().kitchen;
    assert!((now.room.0 - 20.0).abs() < 1e-9 && now.weights == Weights::Grams, "{:?}", now.room);
}

#[rstest]
#[case("room", "warm")]
#[case("room", "300")]
#[case("units", "stones")]
#[case("scale", "feather")]
#[actix_web::test]
async fn an_answer_that_cannot_be_is_told_and_nothing_typed_is_lost(
    #[case] field: &str,
    #[case] wrong: &str,
) {
    let (_dir, kitchen) = empty();
    let app = app!(kitchen);
    let before = kitchen.store.kitchen().unwrap().kitchen;
    let mut answers = typed(&[("units", "metric"), ("scale", "gram"), ("oven", "plain"), ("room", "22")]);
    house::set(&mut answers, field, wrong);
    let (status, page) = text(app.call(post("/kitchen/first", &answers).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    let at = page.find(&format!("id=\"fault-{field}\"")).unwrap();
    assert!(!page[at..at + page[at..].find('>').unwrap()].contains("hidden"));
    let room = if field == "room" { wrong } else { "22" };
    assert!(page.contains(&format!("value=\"{room}\"")), "what was typed");
    assert_eq!(kitchen.store.kitchen().unwrap().kitchen, before);
}

#[actix_web::test]
async fn examples_come_once_and_go_without_ones_own() {
    let (_dir, kitchen) = empty();
    let app = app!(kitchen);
    kitchen.store.create_formula(&Formula::beginning("Own loaf", Style::Tin)).unwrap();
    for _ in 0..2 {
        let answer = app.call(post("/formulas/examples", &[]).to_request()).await.unwrap();
        assert_eq!(answer.status(), StatusCode::SEE_OTHER);
        assert_eq!(kitchen.store.formulas().unwrap().len(), 8, "pressed twice they are there once");
    }
    let (_, page) = text(app.call(get("/formulas").to_request()).await.unwrap()).await;
    assert!(page.contains("7 of these are examples") && !page.contains("in four answers"));
    app.call(post("/formulas/examples/remove", &[]).to_request()).await.unwrap();
    let left: Vec<String> = kitchen.store.formulas().unwrap().into_iter().map(|f| f.formula.name).collect();
    assert_eq!(left, ["Own loaf"]);
    assert_eq!(kitchen.store.deleted_formulas().unwrap().len(), 7, "and can be restored");
}

#[actix_web::test]
async fn a_long_list_has_pages_and_keeps_what_is_looked_for() {
    let (_dir, kitchen) = empty();
    let app = app!(kitchen);
    for n in 0..60 {
        let name = format!("{} loaf {n:02}", if n % 2 == 0 { "Mill & weir" } else { "Ford" });
        kitchen.store.create_formula(&Formula::beginning(&name, Style::Tin)).unwrap();
    }
    let cards = |page: &str| page.matches("class=\"loaf-card").count();
    let (_, first) = text(app.call(get("/formulas").to_request()).await.unwrap()).await;
    assert!(cards(&first) == 48 && first.contains("Page 1 of 2"));
    let (_, second) = text(app.call(get("/formulas?page=2").to_request()).await.unwrap()).await;
    assert!(cards(&second) == 12 && second.contains("Page 2 of 2") && second.contains("Previous"));
    let (_, beyond) = text(app.call(get("/formulas?page=99").to_request()).await.unwrap()).await;
    assert_eq!(cards(&beyond), 12, "past the end is the end");
    let (_, found) = text(app.call(get("/formulas?q=wier").to_request()).await.unwrap()).await;
    assert!(found.contains("30 found") && cards(&found) == 30, "a slip of the finger is forgiven");
    let (_, none) = text(app.call(get("/formulas?q=zzzz").to_request()).await.unwrap()).await;
    assert!(none.contains("Nothing here has all of that."));
    let (_, next) = text(app.call(get("/formulas?q=loaf+%26&sort=newest").to_request()).await.unwrap()).await;
    assert!(next.contains("30 found"));
}

/// Touching a version compares it with today's; a second one, the two; the first again, neither.
#[actix_web::test]
async fn versions_are_touched() {
    let kitchen = house::demo();
    let app = app!(kitchen);
    let mut stored = kitchen.store.formula(FormulaId(1)).unwrap();
    for grams in [8.0, 8.5, 9.5] {
        stored.formula.lines[3].grams = cerealis_core::units::Grams(grams);
        stored.revision =
            kitchen.store.save_formula(FormulaId(1), stored.revision, &stored.formula, "salt").unwrap();
    }
    let page = |query: &str| {
        let request = get(&format!("/formulas/1/versions{query}")).to_request();
        let answer = app.call(request);
        async move { text(answer.await.unwrap()).await.1 }
    };
    let plain = page("").await;
    assert!(
        plain.contains("Version 3 beside version 4") && plain.contains("href=\"/formulas/1/versions?a=1\"")
    );
    let one = page("?a=2").await;
    assert!(one.contains("Version 2 beside version 4") && one.contains("Restore version 2"));
    let two = ["?a=1&#38;b=2", "?a=1&amp;b=2", "?a=1&b=2"];
    assert!(two.iter().any(|q| one.contains(q)), "the next one is compared with it");
    assert!(one.contains("href=\"/formulas/1/versions\""), "touched again it is let go");
    let both = page("?a=1&b=2").await;
    assert!(both.contains("Version 1 beside version 2") && both.contains("Restore version 1"));
    assert_eq!(both.matches("class=\"chosen\"").count(), 2);
}

#[actix_web::test]
async fn the_sheet_for_the_wall_is_the_day_in_large() {
    let kitchen = house::demo();
    let app = app!(kitchen);
    let (_, whole) = text(app.call(get("/formulas/5/sheet").to_request()).await.unwrap()).await;
    let (_, wall) = text(app.call(get("/formulas/5/sheet?wall=1").to_request()).await.unwrap()).await;
    assert!(whole.contains("sheet-plait") && !whole.contains("class=\"rail\""));
    assert!(wall.contains("class=\"sheet wall\"") && !wall.contains("sheet-plait"));
    let day = |page: &str| page.matches("class=\"at\"").count();
    assert_eq!(day(&whole), day(&wall), "every step stands on both");
}

#[actix_web::test]
async fn words_have_their_place() {
    let (_dir, kitchen) = empty();
    let app = app!(kitchen);
    let answer = app.call(get("/words").to_request()).await.unwrap();
    assert!(answer.headers().contains_key(header::CONTENT_SECURITY_POLICY));
    let (_, page) = text(answer).await;
    let at = |id: &str| page.find(&format!("id=\"{id}\"")).unwrap_or_else(|| panic!("{id}"));
    assert!(at("autolyse") < at("lye") && at("lye") < at("levain") && at("levain") < at("yeast"));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(120))]

    /// Every bread of any shape, number and weight is drawn within its picture.
    #[test]
    fn every_bread_stays_in_its_picture(
        style in prop::sample::select(&Style::ALL[..]), kind in prop::sample::select(&cerealis_core::words::Kind::ALL[..]),
        pieces in 1u32..=200, strands in 1u32..=8, grams in 20.0..4000.0f64,
    ) {
        let mut f = Formula::beginning("Any", style);
        f.shape.kind = kind;
        f.shape.pieces = pieces;
        f.shape.strands = strands;
        f.shape.piece_weight = Some(cerealis_core::units::Grams(grams));
        let svg = bread(&Bread::of(&f));
        prop_assert!(!svg.contains("NaN") && !svg.contains("inf") && svg.contains("aria-hidden"));
        for (mid, half, most) in [("cx", "rx", 168.0), ("cy", "ry", 96.0)] {
            for tag in svg.split('<').filter(|t| t.starts_with("ellipse") && !t.contains("rotate")) {
                let of = |name: &str| -> f64 {
                    tag.split(&format!(" {name}=\"")).nth(1).unwrap().split('"').next().unwrap().parse().unwrap()
                };
                prop_assert!(of(mid) - of(half) >= -1.0 && of(mid) + of(half) <= most + 1.0, "{tag}");
            }
        }
    }
}
