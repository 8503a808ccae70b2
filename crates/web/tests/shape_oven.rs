//! Shape and Oven through the handlers: what is asked for shows, and what cannot be is said where it
//! was typed.

use crate::house::{demo, drawn, fields, get, post, set, text};
use actix_web::dev::Service;
use actix_web::http::StatusCode;
use cerealis_core::finish::Score;
use cerealis_core::words::{Kind, Vessel};
use cerealis_store::FormulaId;
use proptest::prelude::*;
use proptest::strategy::ValueTree;
use proptest::test_runner::{Config, TestRunner};
use rstest::rstest;

/// A quick answer draws the rail and one station, as the whole answer would; the whole one may follow.
#[actix_web::test]
async fn a_quick_answer_is_the_same_for_its_station() {
    let kitchen = demo();
    let app = app!(kitchen);
    for (id, here) in [(1, "rise"), (3, "oven"), (5, "shape"), (2, "mix"), (6, "day"), (7, "formula")] {
        let mut typed = fields(&kitchen, id);
        set(&mut typed, "mix.desired", "24.7");
        set(&mut typed, "here", here);
        set(&mut typed, "quick", "");
        let whole = preview!(app, id, typed);
        set(&mut typed, "quick", "1");
        let quick = preview!(app, id, typed);
        let places: Vec<_> = quick["html"].as_object().unwrap().keys().cloned().collect();
        assert_eq!(places.len(), 2, "{places:?}");
        assert_eq!(whole["html"].as_object().unwrap().len(), 7);
        for place in ["rail", here] {
            assert_eq!(drawn(&quick, place), drawn(&whole, place), "{place} of formula {id}");
        }
        assert_eq!(quick["values"]["mix.desired"], whole["values"]["mix.desired"]);
        assert_eq!(quick["dirty"], true);
    }
}

/// What was read is kept, but a change in another window, or of the kitchen, is seen at once.
#[actix_web::test]
async fn what_was_kept_never_hides_a_change() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, "mix.desired", "23");
    let before = drawn(&preview!(app, 1, typed), "rise").to_owned();
    assert_eq!(before, drawn(&preview!(app, 1, typed), "rise"), "the same again");
    let mut stored = kitchen.store.kitchen().unwrap();
    stored.kitchen.room.0 = 27.0;
    kitchen.store.save_kitchen(None, &stored.kitchen).unwrap();
    assert_ne!(before, drawn(&preview!(app, 1, typed), "rise"), "the kitchen is warmer");
}

/// Each shape in each vessel has its answer, its steps and its pictures, and none is broken.
#[rstest]
#[actix_web::test]
async fn every_shape_bakes_in_every_vessel(#[values(2, 3)] id: i32) {
    let kitchen = demo();
    let app = app!(kitchen);
    for (n, kind) in Kind::ALL.into_iter().enumerate() {
        let vessel = Vessel::ALL[n % Vessel::ALL.len()];
        let mut typed = fields(&kitchen, id);
        set(&mut typed, "shape.kind", kind.key());
        set(&mut typed, "shape.pieces", if kind.is_small() { "9" } else { "1" });
        set(&mut typed, "shape.pan", "");
        set(&mut typed, "oven.vessel", vessel.key());
        set(&mut typed, "finish.score", Score::ALL[n % Score::ALL.len()].key());
        let answer = preview!(app, id, typed);
        let (shape, oven) = (drawn(&answer, "shape"), drawn(&answer, "oven"));
        for html in [shape, oven, drawn(&answer, "day")] {
            assert!(!html.contains("NaN") && !html.contains("inf "), "{kind:?} {vessel:?}");
        }
        assert!(shape.contains("Dividing and shaping") || shape.contains("batter"), "{kind:?}");
        assert!(oven.contains("data-cut=") && oven.contains("Done when the core is"), "{kind:?} {vessel:?}");
    }
}

#[rstest]
#[case("shape.pieces", "0", "pieces")]
#[case("shape.pieces", "5000", "pieces")]
#[case("shape.on_scale", "1e9", "g")]
#[case("shape.on_scale", "heavy", "weight")]
#[case("shape.rolled", "90", "cm")]
#[case("shape.strands", "9", "strands")]
#[case("finish.score", "zigzag", "Choose")]
#[case("oven.temperature", "9000", "°C")]
#[case("oven.temperature", "hot", "temperature")]
#[case("oven.hot_start.temperature", "90", "°C")]
#[case("oven.made", "gold", "Choose")]
#[actix_web::test]
async fn what_cannot_be_is_said_at_its_field(#[case] field: &str, #[case] wrong: &str, #[case] says: &str) {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = fields(&kitchen, 5);
    set(&mut typed, field, wrong);
    if field.starts_with("oven.hot_start") {
        set(&mut typed, "oven.hot_start.minutes", "10");
    }
    let answer = preview!(app, 5, typed);
    let said = answer["faults"][field].as_str().unwrap_or_else(|| panic!("{}", answer["faults"]));
    assert!(said.to_lowercase().contains(&says.to_lowercase()), "{field}: {said}");
    assert!(answer["html"].as_object().unwrap().is_empty(), "the old answers stay");
    let (status, page) = text(app.call(post("/formulas/5", &typed).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(page.contains(said.split(['“', '’', '<', '(']).next().unwrap().trim_end()), "{said}");
}

/// What is only asked, and does not read, is left unanswered; it is never in the way of the rest.
#[actix_web::test]
async fn questions_that_do_not_read_are_left_unanswered() {
    let kitchen = demo();
    let app = app!(kitchen);
    let plain = preview!(app, 2, fields(&kitchen, 2));
    for (field, wrong) in [
        ("weighed", "some, more"),
        ("weighed", "-4; 1e400"),
        ("probe.core", "warm"),
        ("compare.place", "400"),
        ("compare.dough", "ten"),
        ("back.at", "25:61"),
    ] {
        let mut typed = fields(&kitchen, 2);
        set(&mut typed, field, wrong);
        let answer = preview!(app, 2, typed);
        assert_eq!(answer["html"], plain["html"], "{field} = {wrong}");
        assert_eq!(answer["dirty"], false, "{field}");
    }
    let mut typed = fields(&kitchen, 2);
    set(&mut typed, "weighed", "61; 48,5 63");
    let shape = preview!(app, 2, typed);
    assert!(drawn(&shape, "shape").contains("data-test=\"pinches\""), "{}", drawn(&shape, "shape"));
}

/// Basting is a step of the finish, a moment of the oven and a line of the day, and is kept.
#[actix_web::test]
async fn half_of_the_glaze_goes_on_in_the_oven() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = fields(&kitchen, 1);
    let next = 1 + typed
        .iter()
        .filter_map(|(n, _)| n.strip_prefix("lines.")?.split('.').next()?.parse::<usize>().ok())
        .max()
        .unwrap();
    for (field, value) in [("stage", "glaze"), ("ingredient", "Butter"), ("grams", "15")] {
        set(&mut typed, &format!("lines.{next}.{field}"), value);
    }
    let without = preview!(app, 1, typed);
    assert!(!drawn(&without, "oven").contains("Baste after") && drawn(&without, "shape").contains("Brush"));
    set(&mut typed, "finish.basted", "on");
    let with = preview!(app, 1, typed);
    assert!(drawn(&with, "oven").contains("Baste after"), "{}", with["faults"]);
    assert!(drawn(&with, "shape").contains("5 min to go"));
    assert!(drawn(&with, "day").contains("Half of the butter"));
    let saved = app.call(post("/formulas/1", &typed).to_request()).await.unwrap();
    assert_eq!(saved.status(), StatusCode::SEE_OTHER);
    assert!(kitchen.store.formula(FormulaId(1)).unwrap().formula.finish.basted);
}

/// Without scripts every size is worked out when it is asked for.
#[actix_web::test]
async fn every_size_without_a_script() {
    let kitchen = demo();
    let app = app!(kitchen);
    let (_, page) = text(app.call(get("/formulas/1/oven").to_request()).await.unwrap()).await;
    assert!(page.contains("Calculate every size") && !page.contains("table-sizes"));
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, "here", "oven");
    set(&mut typed, "op", "leave");
    let (status, page) = text(app.call(post("/formulas/1", &typed).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(page.contains("table-sizes") && page.contains("1200 g"));
}

/// An oven's readings, as they are typed, come back as they were, and move what is learned.
#[actix_web::test]
async fn what_the_oven_showed_is_learned_row_by_row() {
    let kitchen = demo();
    let app = app!(kitchen);
    let stored = kitchen.store.kitchen().unwrap();
    let mut own = stored.kitchen.clone();
    own.oven_readings.clear();
    let revision = kitchen.store.save_kitchen(Some(stored.revision), &own).unwrap();
    let (_, page) = text(app.call(get("/kitchen").to_request()).await.unwrap()).await;
    assert!(page.contains("heats to 200 °C in 16 min") && page.contains("as it was set"), "nothing learned");
    let mut typed = typed_kitchen(&page);
    set(&mut typed, "revision", &revision.to_string());
    let rows = [
        ("200", "hot", "191", "", ""),
        ("230", "heating", "162", "10", ""),
        ("230", "door", "207", "4", "186"),
        ("190", "dark", "", "", ""),
    ];
    for (n, (dial, seen, read, after, fell)) in rows.into_iter().enumerate() {
        for (field, value) in
            [("dial", dial), ("seen", seen), ("read", read), ("after", after), ("fell_to", fell)]
        {
            set(&mut typed, &format!("oven_readings.{n}.{field}"), value);
        }
    }
    let saved = app.call(post("/kitchen", &typed).to_request()).await.unwrap();
    assert_eq!(saved.status(), StatusCode::SEE_OTHER);
    let kept = kitchen.store.kitchen().unwrap().kitchen;
    assert_eq!(kept.oven_readings.len(), 4);
    let learned = kept.oven();
    assert!(learned.preheat.0 < 16.0 && learned.recovery.0 < 7.0, "{learned:?}");
    set(&mut typed, "revision", &(revision.0 + 1).to_string());
    for (field, wrong, says) in [
        ("oven_readings.2.fell_to", "210", "give the lower first"),
        ("oven_readings.2.fell_to", "", "number"),
        ("oven_readings.2.after", "", "number"),
        ("oven_readings.1.after", "lunch", "not a time"),
        ("oven_readings.1.after", "900", "minutes of a reading"),
        ("oven_readings.0.read", "", "number"),
    ] {
        let mut typed = typed.clone();
        set(&mut typed, field, wrong);
        let (status, page) = text(app.call(post("/kitchen", &typed).to_request()).await.unwrap()).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{field}: {wrong}");
        let at = page.find(&format!("id=\"fault-{field}\"")).unwrap();
        let said = &page[at..at + page[at..].find("</p>").unwrap()];
        assert!(said.to_lowercase().contains(says), "{field}: {wrong}: {said}");
    }
}

fn typed_kitchen(page: &str) -> Vec<(String, String)> {
    let of = |tag: &str, name: &str| {
        let at = tag.find(&format!("{name}=\""))? + name.len() + 2;
        Some(tag[at..at + tag[at..].find('"')?].to_owned())
    };
    let mut typed = Vec::new();
    for tag in page.split('<').filter(|t| t.starts_with("input ") || t.starts_with("textarea ")) {
        let Some(name) = of(tag, "name") else { continue };
        let ticked = tag.contains("type=\"radio\"") || tag.contains("type=\"checkbox\"");
        if ticked && !tag.contains(" checked") {
            continue;
        }
        let value = match tag.strip_prefix("textarea ") {
            Some(rest) => rest.split_once('>').map_or("", |(_, v)| v).to_owned(),
            None => of(tag, "value").unwrap_or_default(),
        };
        typed.push((name, value.replace("&#38;", "&").replace("&#34;", "\"")));
    }
    for select in page.split("<select ").skip(1) {
        let body = &select[..select.find("</select>").unwrap()];
        let chosen = body.split("<option ").find(|o| o.contains(" selected"));
        if let (Some(name), Some(value)) = (of(body, "name"), chosen.and_then(|o| of(o, "value"))) {
            typed.push((name, value));
        }
    }
    typed
}

/// Whatever is typed into any field of any demo formula is answered: with figures, or with a sentence.
#[actix_web::test]
async fn anything_typed_anywhere_is_answered() {
    let kitchen = demo();
    let app = app!(kitchen);
    let forms: Vec<_> = (1..=7).map(|id| (id, fields(&kitchen, id))).collect();
    let nasty = prop_oneof![
        Just(String::new()),
        Just("0".to_owned()),
        Just("-0.0".to_owned()),
        Just("1e308".to_owned()),
        Just("NaN".to_owned()),
        Just("½".to_owned()),
        Just("9".repeat(400)),
        Just("\u{0}\u{202e}<svg onload=1>".to_owned()),
        (-1e4..1e4f64).prop_map(|x| format!("{x:.2}")),
        "\\PC{0,24}",
    ];
    let strategy = (0..forms.len(), proptest::collection::vec((any::<prop::sample::Index>(), nasty), 1..4));
    let mut runner = TestRunner::new(Config::with_cases(96));
    for _ in 0..96 {
        let tree = strategy.new_tree(&mut runner).unwrap();
        let (form, changes) = tree.current();
        let (id, mut typed) = forms[form].clone();
        for (index, value) in &changes {
            let name = typed[index.index(typed.len())].0.clone();
            set(&mut typed, &name, value);
        }
        let answer = preview!(app, id, typed);
        let drawn = answer["html"].as_object().unwrap().len();
        let faults =
            answer["faults"].as_object().unwrap().len() + answer["general"].as_array().unwrap().len();
        assert!(drawn > 0 || faults > 0, "neither figures nor a sentence for {changes:?}");
        assert!(!answer["html"].to_string().contains("<svg onload"), "{changes:?}");
    }
}
