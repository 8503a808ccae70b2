//! The handlers on a real SQLite file.

use crate::house::{demo, fields, get, post, set, text};
use actix_web::dev::Service;
use actix_web::http::{StatusCode, header};
use cerealis_core::bake::{Outcome, Reading};
use cerealis_core::pantry::{Catalogue, Group, household};
use cerealis_core::units::Grams;
use cerealis_store::{BakeId, FormulaId};
use rstest::rstest;

#[actix_web::test]
async fn every_page_of_the_demo_answers() {
    let kitchen = demo();
    let app = app!(kitchen);
    for id in 1..=7 {
        for station in ["formula", "mix", "rise", "shape", "oven", "day", "sheet"] {
            let path = format!("/formulas/{id}/{station}");
            let (status, body) = text(app.call(get(&path).to_request()).await.unwrap()).await;
            assert_eq!(status, StatusCode::OK, "{path}");
            assert!(!body.contains("The figures wait"), "{path}");
        }
    }
    for path in ["/formulas", "/kitchen", "/static/cerealis.css", "/static/vendor/alpine.csp.min.js"] {
        assert_eq!(app.call(get(path).to_request()).await.unwrap().status(), StatusCode::OK, "{path}");
    }
}

#[rstest]
#[case("/nowhere")]
#[case("/formulas/99/rise")]
#[case("/formulas/1/attic")]
#[case("/formulas/abc")]
#[case("/formulas/99999999999999999999/rise")]
#[case("/static/../Cargo.toml")]
#[case("/static/nothing.css")]
#[actix_web::test]
async fn what_is_not_there_gets_a_page(#[case] path: &str) {
    let kitchen = demo();
    let app = app!(kitchen);
    let (status, body) = text(app.call(get(path).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::NOT_FOUND);
    assert!(body.contains("Not here"), "{body}");
}

#[actix_web::test]
async fn answers_carry_their_security_headers() {
    let kitchen = demo();
    let app = app!(kitchen);
    let response = app.call(get("/formulas").to_request()).await.unwrap();
    let policy = response.headers().get(header::CONTENT_SECURITY_POLICY).unwrap().to_str().unwrap();
    assert!(policy.starts_with("default-src 'none'") && !policy.contains("unsafe"), "{policy}");
    let (_, page) = text(response).await;
    assert!(!page.contains(" style=\"") && !page.contains("onclick"), "inline style or script");
}

#[actix_web::test]
async fn changes_from_elsewhere_are_refused() {
    let kitchen = demo();
    let app = app!(kitchen);
    let from_elsewhere =
        post("/formulas/1/delete", &[]).insert_header((header::ORIGIN, "http://evil.example"));
    assert_eq!(app.call(from_elsewhere.to_request()).await.unwrap().status(), StatusCode::FORBIDDEN);
    let other_name = get("/formulas").insert_header((header::HOST, "kitchen.example"));
    assert_eq!(app.call(other_name.to_request()).await.unwrap().status(), StatusCode::MISDIRECTED_REQUEST);
    assert_eq!(kitchen.store.formulas().unwrap().len(), 7);
}

#[actix_web::test]
async fn a_preview_moves_the_rail_and_saves_nothing() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, "mix.desired", "27");
    let answer = preview!(app, 1, typed);
    assert_eq!(answer["dirty"], true);
    assert!(answer["html"]["rail"].as_str().unwrap().contains("against saved"), "{}", answer["html"]["rail"]);
    assert_eq!(kitchen.store.formula(FormulaId(1)).unwrap().formula.mix.desired.0, 25.0);
}

/// What a page shows, sent back unchanged, is the same formula to the last digit.
#[actix_web::test]
async fn showing_and_sending_back_changes_nothing() {
    let kitchen = demo();
    let app = app!(kitchen);
    for id in 1..=7 {
        let before = kitchen.store.formula(FormulaId(id)).unwrap();
        let (_, body) = text(
            app.call(post(&format!("/formulas/{id}/preview"), &fields(&kitchen, id)).to_request())
                .await
                .unwrap(),
        )
        .await;
        let answer: serde_json::Value = serde_json::from_str(&body).unwrap();
        assert_eq!(answer["dirty"], false, "{}: {}", before.formula.name, answer["faults"]);
        let response =
            app.call(post(&format!("/formulas/{id}"), &fields(&kitchen, id)).to_request()).await.unwrap();
        assert_eq!(response.status(), StatusCode::SEE_OTHER);
        assert_eq!(kitchen.store.formula(FormulaId(id)).unwrap().formula, before.formula);
    }
}

#[actix_web::test]
async fn grams_and_percentages_follow_each_other() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, "lines.2.percent", "70");
    let answer = preview!(app, 1, typed);
    assert_eq!(answer["values"]["lines.2.grams"], "315");
    set(&mut typed, "percent_locked", "on");
    set(&mut typed, "lines.2.percent", "65.3");
    set(&mut typed, "lines.2.grams", "588");
    let answer = preview!(app, 1, typed);
    assert_eq!(answer["values"]["lines.0.grams"], "800");
    assert_eq!(answer["values"].get("lines.0.percent"), None, "what stays as it was is not sent back");
}

/// An amount typed in cups or spoons is weighed as the household's cups are.
#[actix_web::test]
async fn an_amount_may_be_typed_in_cups() {
    let kitchen = demo();
    let app = app!(kitchen);
    let formula = kitchen.store.formula(FormulaId(1)).unwrap().formula;
    let first = Catalogue::bundled().get(&formula.lines[0].ingredient).unwrap();
    assert_eq!(first.group, Group::Flour);
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, "lines.0.grams", "3 1/2 cups");
    let answer = preview!(app, 1, typed);
    let cup = kitchen.store.kitchen().unwrap().kitchen.measures;
    let grams: f64 = answer["values"]["lines.0.exact"].as_str().unwrap().parse().unwrap();
    assert_eq!(household(first, Grams(grams), cup).unwrap(), "3 ½ cups");
    set(&mut typed, "lines.0.grams", "3 shovels");
    let answer = preview!(app, 1, typed);
    assert!(answer["faults"]["lines.0.grams"].as_str().unwrap().contains("not a"), "{}", answer["faults"]);
}

#[actix_web::test]
async fn two_tabs_do_not_overwrite_each_other() {
    let kitchen = demo();
    let app = app!(kitchen);
    let first = fields(&kitchen, 1);
    let mut second = first.clone();
    let mut one = first;
    set(&mut one, "mix.desired", "26");
    set(&mut second, "mix.desired", "23");
    assert_eq!(
        app.call(post("/formulas/1", &one).to_request()).await.unwrap().status(),
        StatusCode::SEE_OTHER
    );
    let (status, body) = text(app.call(post("/formulas/1", &second).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::CONFLICT);
    assert!(
        body.contains("changed in another window") && body.contains(r#"value="23""#),
        "typed text is lost"
    );
    assert_eq!(kitchen.store.formula(FormulaId(1)).unwrap().formula.mix.desired.0, 26.0);
    set(&mut second, "over", "2");
    assert_eq!(
        app.call(post("/formulas/1", &second).to_request()).await.unwrap().status(),
        StatusCode::SEE_OTHER
    );
    assert_eq!(kitchen.store.formula(FormulaId(1)).unwrap().formula.mix.desired.0, 23.0);
}

#[actix_web::test]
async fn lines_come_and_go_without_a_script() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, "op", "add:add-ins");
    let (status, body) = text(app.call(post("/formulas/1", &typed).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(body.contains("Add-ins") && body.contains("lines.6.ingredient"), "no new line");
    set(&mut typed, "op", "remove:5");
    let (_, body) = text(app.call(post("/formulas/1", &typed).to_request()).await.unwrap()).await;
    assert!(!body.contains("lines.5.ingredient"));
    assert_eq!(
        kitchen.store.formula(FormulaId(1)).unwrap().formula.lines.len(),
        6,
        "nothing is saved by that"
    );
}

#[actix_web::test]
async fn scaling_to_pieces() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = fields(&kitchen, 2);
    for (name, value) in [("scale.pieces", "24"), ("scale.weight", "60"), ("op", "scale:pieces")] {
        set(&mut typed, name, value);
    }
    let answer = preview!(app, 2, typed);
    assert_eq!(answer["values"]["shape.pieces"], "24");
    assert!(answer["html"]["rail"].as_str().unwrap().contains("1440 g"), "{}", answer["html"]["rail"]);
}

/// Wrong input at every field answers at the field, keeps what was typed and saves nothing.
#[rstest]
#[actix_web::test]
async fn wrong_input_answers_at_its_field(
    #[values(
        "name",
        "style",
        "lines.0.ingredient",
        "lines.0.grams",
        "lines.2.percent",
        "mix.method",
        "mix.desired",
        "mix.autolyse",
        "mix.room",
        "mix.flour",
        "mix.preferment",
        "mix.friction",
        "mix.school",
        "rise.bulk.place",
        "rise.bulk.target",
        "rise.proof.place",
        "rise.proof.target",
        "rise.handling",
        "rise.levain_place",
        "shape.kind",
        "shape.pieces",
        "shape.piece_weight",
        "shape.strands",
        "oven.vessel",
        "oven.temperature",
        "day.anchor"
    )]
    field: &str,
    #[values("flour", "-3", "10000000", "1e308", "NaN", "", "<script>alert(1)</script>")] wrong: &str,
) {
    let optional = [
        "mix.autolyse",
        "mix.room",
        "mix.flour",
        "mix.preferment",
        "mix.friction",
        "rise.bulk.place",
        "rise.proof.place",
        "rise.levain_place",
        "shape.piece_weight",
        "oven.temperature",
        "lines.2.percent",
    ];
    // A name may be almost anything, an oven's flour may be frozen, and what is optional may be empty.
    let allowed = (field == "name" && !wrong.is_empty())
        || (wrong.is_empty() && optional.contains(&field))
        || (wrong == "-3" && ["mix.flour", "mix.room"].contains(&field));
    let kitchen = demo();
    let app = app!(kitchen);
    let before = kitchen.store.formula(FormulaId(1)).unwrap();
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, field, wrong);
    let answer = preview!(app, 1, typed);
    assert_eq!(answer["faults"][field].is_string(), !allowed, "{field} = {wrong:?}: {}", answer["faults"]);
    // The answer is JSON; what becomes markup on the page are its fragments.
    assert!(!answer["html"].to_string().contains("<script>"), "{field}");
    if allowed {
        return;
    }
    let (status, page) = text(app.call(post("/formulas/1", &typed).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(!page.contains("<script>alert"), "{field}");
    let shown_again = wrong.replace('<', "&#60;").replace('>', "&#62;");
    let is_a_choice =
        ["style", "mix.method", "mix.school", "rise.handling", "shape.kind", "oven.vessel", "day.anchor"];
    if !wrong.is_empty() && !is_a_choice.contains(&field) {
        assert!(page.contains(&shown_again), "{field}: what was typed is lost");
    }
    assert_eq!(kitchen.store.formula(FormulaId(1)).unwrap(), before);
}

#[actix_web::test]
async fn no_flour_is_said_at_the_flour() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = fields(&kitchen, 7);
    for row in 0..3 {
        set(&mut typed, &format!("lines.{row}.grams"), "0");
    }
    let answer = preview!(app, 7, typed);
    assert!(answer["faults"]["lines.0.grams"].as_str().unwrap().contains("no flour"), "{}", answer["faults"]);
}

/// The fields of the Kitchen page, in order.
fn kitchen_fields() -> Vec<(String, String)> {
    [
        ("revision", "1"),
        ("units", "both"),
        ("weights", "grams"),
        ("lengths", "cm"),
        ("clock", "24"),
        ("oven_name", "Range"),
        ("oven_marks", "10"),
        ("oven_levels", "2"),
        ("ovens.0.name", "Stone oven"),
        ("ovens.0.preheat", "60"),
        ("ovens.0.recovery", "9"),
        ("ovens.0.hottest", "320"),
        ("ovens.0.hot", "back"),
        ("ovens.0.marks", "5"),
        ("ovens.0.levels", "1"),
        ("mixers.0.name", "Small mixer"),
        ("mixers.0.speeds", "50, 90"),
        ("nights.0.evening", "sat"),
        ("nights.0.from", "23:30"),
        ("nights.0.to", "8:15"),
        ("away.0.name", "Work"),
        ("away.0.fri", "on"),
        ("away.0.from", "9:00"),
        ("away.0.to", "5:30 pm"),
        ("time_zone", "Europe/London"),
        ("room", "20"),
        ("fridge", "4"),
        ("tap", "12"),
        ("oven_offset", "-8"),
        ("oven_preheat", "16"),
        ("oven_recovery", "7"),
        ("oven_hottest", "250"),
        ("oven_hot", "left"),
        ("oven_readings.0.dial", "200"),
        ("oven_readings.0.seen", "hot"),
        ("oven_readings.0.read", "191"),
        ("oven_readings.1.dial", "190"),
        ("oven_readings.1.seen", "right"),
        ("tray_length", "40"),
        ("tray_width", "30"),
        ("mixer_speeds.0", "60"),
        ("mixer_speeds.1", "95"),
        ("bowl", "700"),
        ("altitude", "180"),
        ("sleep_from", "22:30"),
        ("sleep_to", "06:30"),
        ("counting", "final-flour"),
        ("scale", "tenth"),
        ("eggs", "medium"),
        ("cup", "metric"),
        ("tablespoon", "metric"),
        ("currency", "£"),
        ("pans.0.name", "Weir tin"),
        ("pans.0.shape", "tin"),
        ("pans.0.length", "24"),
        ("pans.0.width", "12"),
        ("pans.0.depth", "9"),
        ("pans.0.base_length", "22"),
        ("pans.0.base_width", "10"),
        ("pans.0.made", "dark"),
        ("pans.0.lid", "on"),
        ("pans.1.name", "Small tin"),
        ("pans.1.ml", "950"),
        ("pans.1.made", "bright"),
    ]
    .map(|(n, v)| (n.to_owned(), v.to_owned()))
    .to_vec()
}

#[rstest]
#[case("room", "warm")]
#[case("room", "200")]
#[case("fridge", "")]
#[case("tap", "1e308")]
#[case("altitude", "99999")]
#[case("oven_offset", "-400")]
#[case("oven_preheat", "0")]
#[case("bowl", "-1")]
#[case("mixer_speeds.0", "fast")]
#[case("mixer_speeds.0", "130")]
#[case("mixer_speeds.0", "")]
#[case("time_zone", "Mill/Cottage")]
#[case("sleep_from", "late")]
#[case("sleep_to", "")]
#[case("oven_marks", "7")]
#[case("oven_levels", "9")]
#[case("weights", "stones")]
#[case("clock", "13")]
#[case("ovens.0.name", "range")]
#[case("ovens.0.hottest", "600")]
#[case("mixers.0.speeds", "fast")]
#[case("mixers.0.speeds", "90, 50")]
#[case("nights.0.from", "25:00")]
#[case("away.0.name", "")]
#[case("away.0.to", "13 pm")]
#[case("units", "stones")]
#[case("pans.0.name", "")]
#[case("pans.0.length", "wide")]
#[case("pans.0.depth", "900")]
#[case("pans.0.shape", "saucer")]
#[case("pans.1.ml", "5")]
#[case("pans.1.ml", "")]
#[case("oven_readings.0.read", "toasted")]
#[case("oven_readings.0.dial", "900")]
#[case("oven_readings.0.seen", "smelled")]
#[case("oven_hot", "underneath")]
#[case("tray_width", "300")]
#[case("currency", "guineas")]
#[case("counting", "fingers")]
#[actix_web::test]
async fn the_kitchen_answers_at_the_field(#[case] field: &str, #[case] wrong: &str) {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = kitchen_fields();
    let good = app.call(post("/kitchen", &typed).to_request()).await.unwrap();
    assert_eq!(good.status(), StatusCode::SEE_OTHER);
    set(&mut typed, "revision", "2");
    set(&mut typed, field, wrong);
    let (status, page) = text(app.call(post("/kitchen", &typed).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    let at = page
        .find(&format!("id=\"fault-{field}\""))
        .unwrap_or_else(|| panic!("no place for the fault of {field}"));
    let said = &page[at..at + page[at..].find("</p>").unwrap()];
    assert!(!said.contains("hidden"), "{said}");
}

#[actix_web::test]
async fn a_formula_lives_and_dies_and_lives() {
    let kitchen = demo();
    let app = app!(kitchen);
    let named =
        |name: &str| vec![("name".to_owned(), name.to_owned()), ("style".to_owned(), "rye".to_owned())];
    let (status, page) = text(app.call(post("/formulas", &named(" ")).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(page.contains("Give the formula a name."));
    let made = app.call(post("/formulas", &named("Weir <b>rye</b>")).to_request()).await.unwrap();
    assert_eq!(made.headers().get(header::LOCATION).unwrap(), "/formulas/8/formula");
    let (_, page) = text(app.call(get("/formulas").to_request()).await.unwrap()).await;
    assert!(page.contains("Weir") && !page.contains("<b>rye</b>"));
    app.call(post("/formulas/8/copy", &[]).to_request()).await.unwrap();
    assert_eq!(kitchen.store.formula(FormulaId(9)).unwrap().formula.name, "Weir <b>rye</b>, copy");
    let gone = app.call(post("/formulas/8/delete", &[]).to_request()).await.unwrap();
    let (_, page) = text(
        app.call(get(gone.headers().get(header::LOCATION).unwrap().to_str().unwrap()).to_request())
            .await
            .unwrap(),
    )
    .await;
    assert!(page.contains("is deleted") && page.contains("Undo"));
    app.call(post("/formulas/8/restore", &[]).to_request()).await.unwrap();
    assert!(kitchen.store.formula(FormulaId(8)).is_ok());
}

#[actix_web::test]
async fn a_body_that_is_too_large_or_not_text_is_refused_in_a_sentence() {
    let kitchen = demo();
    let app = app!(kitchen);
    let huge = vec![("name".to_owned(), "x".repeat(300_000))];
    let (status, body) = text(app.call(post("/formulas/1", &huge).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::PAYLOAD_TOO_LARGE);
    assert!(body.contains("too large"), "{body}");
    let binary = post("/formulas/1/preview", &[]).set_payload(vec![0xff, 0xfe, b'=', 0x80, b'&', b'%', b'%']);
    let (status, body) = text(app.call(binary.to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(body.contains("Enter a number."), "{body}");
}

fn recipe(text: &str) -> Vec<(String, String)> {
    [("text", text), ("cup", "us"), ("tablespoon", "us"), ("op", "read")]
        .map(|(n, v)| (n.to_owned(), v.to_owned()))
        .to_vec()
}

/// What a step among the lines names with amounts is told, in the page that is corrected too.
#[actix_web::test]
async fn a_step_with_amounts_among_the_lines_is_told() {
    let kitchen = demo();
    let app = app!(kitchen);
    let step = "The night before mash one big boiled potato (about 200 g) with its own water, 150 ml.";
    let mut pasted =
        recipe(&format!("Potato bread\n{step}\n800 g flour\n300 ml buttermilk\n2 tsp salt\nKnead it."));
    let (_, page) = text(app.call(post("/formulas/bring", &pasted).to_request()).await.unwrap()).await;
    assert!(page.contains("data-test=\"unlisted\""));
    set(&mut pasted, "op", "again");
    set(&mut pasted, "unlisted", step);
    set(&mut pasted, "rows.0.text", "800 g flour");
    set(&mut pasted, "rows.0.used", "on");
    set(&mut pasted, "rows.0.ingredient", "Bread flour");
    set(&mut pasted, "rows.0.grams", "800");
    let (_, page) = text(app.call(post("/formulas/bring", &pasted).to_request()).await.unwrap()).await;
    assert!(page.contains("data-test=\"unlisted\""));
}

#[actix_web::test]
async fn a_pasted_recipe_is_reviewed_and_saved_only_when_accepted() {
    let kitchen = demo();
    let app = app!(kitchen);
    let pasted =
        recipe("4 cups bread flour\n1 1/2 cups water\n2 tsp salt\n1 packet instant yeast\n<b>Mix</b> well");
    let (status, page) = text(app.call(post("/formulas/bring", &pasted).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(page.contains("Effective hydration:") && page.contains(r#"value="548""#), "no review");
    assert!(!page.contains("<b>Mix</b>"));
    assert_eq!(kitchen.store.formulas().unwrap().len(), 7, "nothing is saved before it is accepted");

    let mut rows = recipe("");
    set(&mut rows, "op", "accept");
    set(&mut rows, "style", "tin");
    let lines = [
        ("Bread flour", "548"),
        ("Water", "355"),
        ("Fine salt", "12"),
        ("Dragon scales", "7"),
        ("Instant yeast", "7"),
    ];
    for (n, (name, grams)) in lines.iter().enumerate() {
        let fields = [
            ("text", "as it was"),
            ("used", "on"),
            ("ingredient", name),
            ("grams", grams),
            ("stage", "dough"),
        ];
        for (field, value) in fields {
            set(&mut rows, &format!("rows.{n}.{field}"), value);
        }
    }
    let (status, page) = text(app.call(post("/formulas/bring", &rows).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(
        page.contains("Pick a name from the list") && page.contains("Dragon scales"),
        "typed text is lost"
    );

    rows.retain(|(name, _)| name != "rows.3.used");
    let (status, page) = text(app.call(post("/formulas/bring", &rows).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(page.contains("The formula needs a name."));

    set(&mut rows, "name", "Guest loaf");
    let made = app.call(post("/formulas/bring", &rows).to_request()).await.unwrap();
    assert_eq!(made.headers().get(header::LOCATION).unwrap(), "/formulas/8/formula");
    let formula = kitchen.store.formula(FormulaId(8)).unwrap().formula;
    assert_eq!(formula.lines.len(), 4);
    assert_eq!(formula.lines[3].ingredient, "instant-yeast");
}

#[rstest]
#[case("rows.0.grams", "lots", "This is not a weight")]
#[case("rows.0.grams", "-4", "A line goes from 0")]
#[case("rows.0.grams", "", "Enter a number")]
#[case("rows.0.grams", "0", "There is no flour yet")]
#[case("rows.0.ingredient", "", "Pick a name")]
#[actix_web::test]
async fn a_review_answers_at_the_row(#[case] field: &str, #[case] wrong: &str, #[case] said: &str) {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut rows = recipe("");
    for (name, value) in [
        ("op", "accept"),
        ("name", "Guest loaf"),
        ("style", "tin"),
        ("rows.0.text", "as it was"),
        ("rows.0.used", "on"),
        ("rows.0.ingredient", "Bread flour"),
        ("rows.0.grams", "500"),
        ("rows.0.stage", "dough"),
    ] {
        set(&mut rows, name, value);
    }
    set(&mut rows, field, wrong);
    let (status, page) = text(app.call(post("/formulas/bring", &rows).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(page.contains(said), "{field} = {wrong}");
    assert_eq!(kitchen.store.formulas().unwrap().len(), 7);
}

#[actix_web::test]
async fn an_empty_paste_is_answered_at_its_field() {
    let kitchen = demo();
    let app = app!(kitchen);
    let (status, page) =
        text(app.call(post("/formulas/bring", &recipe("  ")).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(page.contains("Paste the lines of the recipe here."));
}

/// What goes out comes in again; what is broken is refused with its place, and nothing is lost.
#[actix_web::test]
async fn formulas_go_out_and_come_in() {
    let kitchen = demo();
    let app = app!(kitchen);
    let count = kitchen.store.formulas().unwrap().len();
    for format in ["json", "jsonld", "csv", "markdown"] {
        let request = get(&format!("/formulas/3/export/{format}")).to_request();
        let (status, body) = text(app.call(request).await.unwrap()).await;
        assert_eq!(status, StatusCode::OK, "{format}");
        if format == "markdown" {
            continue;
        }
        let typed = vec![("op".to_owned(), "read".to_owned()), ("text".to_owned(), body)];
        let (status, page) =
            text(app.call(post("/formulas/bring", &typed).to_request()).await.unwrap()).await;
        if format == "json" {
            assert_eq!(status, StatusCode::SEE_OTHER);
        } else {
            assert_eq!(status, StatusCode::OK);
            assert!(page.contains("value=\"360\"") && page.contains("value=\"Linseed\""), "{format}");
        }
    }
    let all = kitchen.store.formulas().unwrap();
    assert_eq!(all.len(), count + 1);
    let twins = all.iter().filter(|f| f.formula.name == "Seeded sourdough round").collect::<Vec<_>>();
    assert_eq!(twins[0].formula, twins[1].formula);
    let broken = "{\"@type\": \"Recipe\",, \"name\": 1}".to_owned();
    let typed = vec![("op".to_owned(), "read".to_owned()), ("text".to_owned(), broken)];
    let (status, page) = text(app.call(post("/formulas/bring", &typed).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(page.contains("At line 1, column 20"), "{page}");
    assert!(
        page.contains(",, &#34;name&#34;") || page.contains(",, &quot;name&quot;"),
        "what was pasted is kept"
    );
    let nowhere = app.call(get("/formulas/3/export/pdf").to_request()).await.unwrap();
    assert_eq!(nowhere.status(), StatusCode::NOT_FOUND);
}

/// Every save is a version; two stand side by side, and one can be gone back to.
#[actix_web::test]
async fn versions_are_kept_compared_and_gone_back_to() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, "lines.3.grams", "8.2");
    set(&mut typed, "reason", "Gran finds it <salty>");
    let saved = app.call(post("/formulas/1", &typed).to_request()).await.unwrap();
    assert!(saved.status().is_redirection() || saved.status().is_success(), "{}", saved.status());
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, "mix.desired", "26");
    app.call(post("/formulas/1", &typed).to_request()).await.unwrap();
    let versions = kitchen.store.versions(FormulaId(1)).unwrap();
    let reasons: Vec<&str> = versions.iter().map(|v| v.reason.as_str()).collect();
    assert_eq!(reasons, ["Dough 25 °C to 26 °C", "Gran finds it <salty>", "As it began"]);
    let (status, page) =
        text(app.call(get("/formulas/1/versions?a=1&b=3").to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(page.contains("Fine salt, dough") && page.contains("8.2 g"), "{page}");
    assert!(!page.contains("<salty>"), "what was typed is text");
    let back = vec![("revision".to_owned(), "1".to_owned())];
    let answer = app.call(post("/formulas/1/versions", &back).to_request()).await.unwrap();
    assert_eq!(answer.status(), StatusCode::SEE_OTHER);
    let all = kitchen.store.versions(FormulaId(1)).unwrap();
    assert_eq!((all.len(), all[0].reason.as_str()), (4, "Back to version 1"));
    assert_eq!(all[0].formula, all[3].formula);
    for wrong in ["99", "one"] {
        let wrong = vec![("revision".to_owned(), wrong.to_owned())];
        let answer = app.call(post("/formulas/1/versions", &wrong).to_request()).await.unwrap();
        assert_eq!(answer.status(), StatusCode::NOT_FOUND);
    }
    let nowhere = app.call(get("/formulas/99/versions").to_request()).await.unwrap();
    assert_eq!(nowhere.status(), StatusCode::NOT_FOUND);
}

#[actix_web::test]
async fn the_cupboard_keeps_prices_and_never_overwrites_another_tab() {
    let kitchen = demo();
    let app = app!(kitchen);
    let (status, page) = text(app.call(get("/cupboard").to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(page.contains("Valley mill white") && page.contains("1.30"), "own and priced");
    let revision = kitchen.store.cupboard().unwrap().revision.to_string();
    let form = |price: &str, revision: &str| {
        vec![
            ("prices.bread-flour".to_owned(), price.to_owned()),
            ("revision".to_owned(), revision.to_owned()),
        ]
    };
    let saved = app.call(post("/cupboard/prices", &form("1,45", &revision)).to_request()).await.unwrap();
    assert_eq!(saved.status(), StatusCode::SEE_OTHER);
    let cupboard = kitchen.store.cupboard().unwrap().cupboard;
    assert_eq!((cupboard.prices["bread-flour"], cupboard.prices["salt"]), (1.45, 0.6), "others stay");
    let (status, page) =
        text(app.call(post("/cupboard/prices", &form("9", &revision)).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::CONFLICT);
    assert!(page.contains("another window") && page.contains("value=\"9\""));
    let now = kitchen.store.cupboard().unwrap().revision.to_string();
    let emptied = app.call(post("/cupboard/prices", &form("", &now)).to_request()).await.unwrap();
    assert_eq!(emptied.status(), StatusCode::SEE_OTHER);
    assert!(!kitchen.store.cupboard().unwrap().cupboard.prices.contains_key("bread-flour"));
    for (price, words) in
        [("-1", "A price"), ("x", "not a number"), ("1e9", "not a number"), ("99999", "A price")]
    {
        let now = kitchen.store.cupboard().unwrap().revision.to_string();
        let (status, page) =
            text(app.call(post("/cupboard/prices", &form(price, &now)).to_request()).await.unwrap()).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{price}");
        assert!(page.contains(words) && page.contains(&format!("value=\"{price}\"")), "{price}");
    }
}

#[actix_web::test]
async fn an_own_ingredient_bakes_like_any_other() {
    let kitchen = demo();
    let app = app!(kitchen);
    let own = [("name", "Stone mill"), ("like", "Whole-wheat flour"), ("protein", "14"), ("revision", "1")]
        .map(|(k, v)| (k.to_owned(), v.to_owned()));
    let made = app.call(post("/cupboard/own", &own).to_request()).await.unwrap();
    assert_eq!(made.status(), StatusCode::SEE_OTHER);
    let mut fields = fields(&kitchen, 1);
    set(&mut fields, "lines.0.ingredient", "Stone mill");
    let (status, answer) = text(app.call(post("/formulas/1", &fields).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::SEE_OTHER, "{answer}");
    let (_, sheet) = text(app.call(get("/formulas/1/sheet").to_request()).await.unwrap()).await;
    assert!(sheet.contains("Stone mill"));
    let (_, json) = text(app.call(get("/formulas/1/export/json").to_request()).await.unwrap()).await;
    assert!(json.contains("\"own-stone-mill\"") && json.contains("\"like\": \"whole-wheat-flour\""));
    // Brought in again, the ingredient is the one that is here.
    let brought = [("text", json.as_str()), ("op", "read")].map(|(k, v)| (k.to_owned(), v.to_owned()));
    let response = app.call(post("/formulas/bring", &brought).to_request()).await.unwrap();
    assert_eq!(response.status(), StatusCode::SEE_OTHER);
    assert_eq!(kitchen.store.cupboard().unwrap().cupboard.own.len(), 2);
    for (change, words) in [
        (("name", "Butter"), "in the catalogue already"),
        (("name", ""), "Give it a name"),
        (("like", "Moon dust"), "most like"),
        (("protein", "many"), "not a number"),
        (("absorption", "5"), "absorption"),
    ] {
        let mut bad = own.to_vec();
        set(&mut bad, "revision", &kitchen.store.cupboard().unwrap().revision.to_string());
        set(&mut bad, change.0, change.1);
        set(&mut bad, "name", if change.0 == "name" { change.1 } else { "Another mill" });
        let (status, page) = text(app.call(post("/cupboard/own", &bad).to_request()).await.unwrap()).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{change:?}");
        assert!(page.to_lowercase().contains(&words.to_lowercase()), "{change:?}");
    }
    for address in ["/cupboard/own/own-nothing", "/cupboard/own/butter"] {
        assert_eq!(app.call(get(address).to_request()).await.unwrap().status(), StatusCode::NOT_FOUND);
    }
}

#[actix_web::test]
async fn back_at_a_time_offers_what_makes_it_right() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, "day.anchor", "start");
    set(&mut typed, "day.at.other", "6 March 2027");
    set(&mut typed, "day.at.time", "9:00");
    set(&mut typed, "back.at", "14:00");
    set(&mut typed, "compare.place", "27");
    let answer = preview!(app, 1, typed);
    let rise = answer["html"]["rise"].as_str().unwrap();
    assert!(rise.contains("At 14:00 it will") && !rise.contains("back:yeast"), "the ways come later");
    assert!(rise.contains("The broken line: in bulk at 27 °C (81 °F), the bulk rise takes"), "{rise}");
    set(&mut typed, "ways", "1");
    set(&mut typed, "here", "rise");
    let (_, body) = text(app.call(post("/formulas/1/preview", &typed).to_request()).await.unwrap()).await;
    let answer: serde_json::Value = serde_json::from_str(&body).unwrap();
    assert!(answer["html"]["rise"].as_str().unwrap().contains("back:yeast"), "{body:.300}");
    assert!(
        !answer["html"]["oven"].as_str().unwrap().contains("table-sizes"),
        "for the station on show alone"
    );
    set(&mut typed, "here", "oven");
    let answer = preview!(app, 1, typed);
    assert!(answer["html"]["oven"].as_str().unwrap().contains("table-sizes"), "every size");
    set(&mut typed, "op", "back:yeast");
    let (_, body) = text(app.call(post("/formulas/1/preview", &typed).to_request()).await.unwrap()).await;
    let answer: serde_json::Value = serde_json::from_str(&body).unwrap();
    assert!(answer["html"]["rise"].as_str().unwrap().contains("At 14:00 it is just right"), "{body:.300}");
    let yeast = |v: &serde_json::Value| -> f64 {
        let is_yeast = |(k, v): &&(String, String)| k.ends_with(".ingredient") && v == "Instant yeast";
        let row: usize = typed.iter().find(is_yeast).unwrap().0.split('.').nth(1).unwrap().parse().unwrap();
        v["values"][format!("lines.{row}.grams")].as_str().unwrap().parse().unwrap()
    };
    assert!(yeast(&answer) < 4.0);
    for op in ["back:place", "back:fridge"] {
        set(&mut typed, "op", op);
        let answer = preview!(app, 1, typed);
        let place = &answer["values"]["rise.bulk.place"];
        let leg = &answer["values"]["rise.bulk.legs.0.hours"];
        assert!(if op == "back:place" { place != "" } else { leg != "" }, "{op}: {place} {leg}");
    }
    set(&mut typed, "op", "back:culture");
    set(&mut typed, "back.at", "");
    let (_, body) = text(app.call(post("/formulas/1/preview", &typed).to_request()).await.unwrap()).await;
    assert!(body.contains("Give the time at which you are back"), "{body:.300}");
}

/// A second rise, a place's own night, and a tenth more of what makes it rise.
#[actix_web::test]
async fn a_second_rise_is_planned_and_its_leaven_stepped() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, "rise.second.target", "2");
    set(&mut typed, "rise.between", "firm");
    set(&mut typed, "rise.second.night", "3");
    set(&mut typed, "op", "nudge:more");
    let (_, body) = text(app.call(post("/formulas/1/preview", &typed).to_request()).await.unwrap()).await;
    let answer: serde_json::Value = serde_json::from_str(&body).unwrap();
    assert_eq!(answer["values"]["now.leaven"], "4.4 g of yeast", "{body:.400}");
    let rise = answer["html"]["rise"].as_str().unwrap();
    assert!(
        rise.contains("Second rise, 2 times its size") && rise.contains("data-pull=\"rise.second.target\"")
    );
    let day = answer["html"]["day"].as_str().unwrap();
    assert!(day.contains("Knock down") && day.contains("Second rise"));
    set(&mut typed, "op", "");
    let saved = app.call(post("/formulas/1", &typed).to_request()).await.unwrap();
    assert_eq!(saved.status(), StatusCode::SEE_OTHER);
    let plan = kitchen.store.formula(FormulaId(1)).unwrap().formula.rise;
    assert_eq!((plan.second.target, plan.second.night), (2.0, 3.0));
    // The overnight dough has a levain or yeast of its own; one without either has nothing to step.
    let mut bare = fields(&kitchen, 1);
    let yeast = bare.iter().position(|(_, v)| v == "Instant yeast").unwrap();
    let row = bare[yeast].0.split('.').nth(1).unwrap().to_owned();
    bare.retain(|(k, _)| !k.starts_with(&format!("lines.{row}.")));
    set(&mut bare, "op", "nudge:less");
    let (_, body) = text(app.call(post("/formulas/1/preview", &bare).to_request()).await.unwrap()).await;
    assert!(body.contains("There is no yeast in the dough"), "{body:.300}");
}

/// A named place with its night is a row, and comes back as it was; a row is added and taken away by a press, and what
/// was typed stays.
#[actix_web::test]
async fn the_kitchen_lists_are_rows() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = kitchen_fields();
    for (name, value) in [
        ("places.0.name", "Porch shelf"),
        ("places.0.temperature", "12"),
        ("places.0.by_night", "7"),
        ("places.3.name", "Box"),
        ("places.3.temperature", "27 °C"),
    ] {
        set(&mut typed, name, value);
    }
    let mut more = typed.clone();
    set(&mut more, "op", "add:places");
    let (status, page) = text(app.call(post("/kitchen", &more).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(page.contains("name=\"places.4.name\"") && page.contains("Porch shelf"), "a row more");
    set(&mut more, "op", "remove:pans:0");
    let (_, page) = text(app.call(post("/kitchen", &more).to_request()).await.unwrap()).await;
    assert!(!page.contains("pans.0.name") && page.contains("pans.1.name") && page.contains("Not saved yet"));
    assert_eq!(kitchen.store.kitchen().unwrap().revision.0, 1, "nothing is saved by that");
    let saved = app.call(post("/kitchen", &typed).to_request()).await.unwrap();
    assert_eq!(saved.status(), StatusCode::SEE_OTHER);
    let stored = kitchen.store.kitchen().unwrap().kitchen;
    let place = &stored.places[0];
    assert_eq!((place.name.as_str(), place.temperature.0, place.night), ("Porch shelf", 12.0, 5.0));
    assert_eq!((stored.places[1].temperature.0, stored.places[1].night), (27.0, 0.0));
    let tin = &stored.pans[0];
    assert!(
        tin.lid
            && tin.form.unwrap().base_width == Some(10.0)
            && (tin.ml - tin.form.unwrap().ml()).abs() < 1.0
    );
    assert_eq!((stored.pans[1].ml, stored.pans[1].form), (950.0, None));
    set(&mut typed, "revision", "2");
    set(&mut typed, "places.3.temperature", "cold");
    let (status, page) = text(app.call(post("/kitchen", &typed).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(page.contains("value=\"cold\"") && page.contains("value=\"Porch shelf\""));
}

/// Pans are drawn as they are typed, and what they hold is worked out.
#[actix_web::test]
async fn pans_are_drawn_as_they_are_typed() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = kitchen_fields();
    set(&mut typed, "pans.1.shape", "round");
    let request = post("/kitchen/draw", &typed).to_request();
    let (status, body) = text(app.call(request).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    let drawn: serde_json::Value = serde_json::from_str(&body).unwrap();
    assert!(drawn[0]["picture"].as_str().unwrap().contains("<svg"), "{drawn}");
    assert!(drawn[0]["holds"].as_str().unwrap().contains("worked out"), "{drawn}");
    assert_eq!(drawn[1]["picture"], "", "a round pan without its size is not drawn");
}

#[actix_web::test]
async fn places_in_sequence_are_typed_saved_and_refused_at_their_fields() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = fields(&kitchen, 1);
    set(&mut typed, "rise.proof.legs.0.hours", "0.5");
    set(&mut typed, "rise.proof.legs.0.place", "21");
    set(&mut typed, "rise.proof.place", "4");
    set(&mut typed, "rise.proof.stays", "12");
    set(&mut typed, "rise.proof.stands", "basket");
    let saved = app.call(post("/formulas/1", &typed).to_request()).await.unwrap();
    assert_eq!(saved.status(), StatusCode::SEE_OTHER);
    let proof = kitchen.store.formula(FormulaId(1)).unwrap().formula.rise.proof;
    assert_eq!((proof.legs.len(), proof.stays.unwrap().0), (1, 12.0));
    let (_, page) = text(app.call(get("/formulas/1/day").to_request()).await.unwrap()).await;
    assert!(page.contains("Into the fridge"), "the day");
    let (_, page) = text(app.call(get("/formulas/1/rise").to_request()).await.unwrap()).await;
    assert!(page.contains("stands at"), "the answer");
    for (field, wrong, at) in [
        ("rise.proof.legs.0.place", "", "rise.proof.legs.0.place"),
        ("rise.proof.legs.0.hours", "900", "rise.proof.legs.0.hours"),
        ("rise.proof.stays", "0", "rise.proof.stays"),
        ("rise.bulk.legs.1.hours", "soon", "rise.bulk.legs.1.hours"),
    ] {
        let mut bad = fields(&kitchen, 1);
        set(&mut bad, field, wrong);
        let (_, body) = text(app.call(post("/formulas/1/preview", &bad).to_request()).await.unwrap()).await;
        let answer: serde_json::Value = serde_json::from_str(&body).unwrap();
        assert!(answer["faults"][at].is_string(), "{field}: {body:.300}");
    }
}

#[actix_web::test]
async fn a_rising_dough_is_followed_from_bowl_to_oven() {
    let kitchen = demo();
    let app = app!(kitchen);
    let of = |pairs: &[(&str, &str)]| -> Vec<(String, String)> {
        pairs.iter().map(|(k, v)| ((*k).to_owned(), (*v).to_owned())).collect()
    };
    let (_, page) = text(app.call(get("/formulas/1/dough").to_request()).await.unwrap()).await;
    assert!(page.contains("When the dough is mixed, begin here"));
    let readings = kitchen.store.kitchen().unwrap().kitchen.friction.len();
    let begin = of(&[("op", "begin"), ("measured", "27")]);
    let begun = app.call(post("/formulas/1/dough", &begin).to_request()).await.unwrap();
    assert_eq!(begun.status(), StatusCode::SEE_OTHER);
    let at = begun.headers().get(header::LOCATION).unwrap().to_str().unwrap().to_owned();
    assert_eq!(kitchen.store.kitchen().unwrap().kitchen.friction.len(), readings + 1, "hands are learned");
    let running = kitchen.store.running_bakes().unwrap().len();
    app.call(post("/formulas/1/dough", &begin).to_request()).await.unwrap();
    assert_eq!(kitchen.store.running_bakes().unwrap().len(), running + 1, "two of one formula at once");
    let read = of(&[("op", "read"), ("height", "5"), ("began_at", "4.5"), ("poke", "springs")]);
    assert_eq!(app.call(post(&at, &read).to_request()).await.unwrap().status(), StatusCode::SEE_OTHER);
    let number: i32 = at.split('/').nth(2).unwrap().parse().unwrap();
    let state = || kitchen.store.bake(BakeId(number)).unwrap().state();
    let volume = state().readings.iter().find_map(|(_, r)| match r {
        Reading::Volume(x) => Some(*x),
        _ => None,
    });
    assert!((volume.unwrap() - 5.0 / 4.5).abs() < 1e-9);
    for (bad, field) in [
        (vec![("height", "5"), ("began_at", "")], "fault-began_at"),
        (vec![("dough", "99")], "fault-dough"),
        (vec![("height", "90"), ("began_at", "4")], "fault-volume"),
        (vec![], "fault-volume"),
        (vec![("dough", "warm")], "fault-dough"),
        (vec![("dough", "24"), ("at", "noon")], "fault-at"),
    ] {
        let mut pairs = vec![("op", "read")];
        pairs.extend(bad.clone());
        let (status, page) = text(app.call(post(&at, &of(&pairs)).to_request()).await.unwrap()).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY, "{bad:?}");
        let fault = page.split(&format!("id=\"{field}\"")).nth(1).unwrap().split("</p>").next().unwrap();
        assert!(!fault.contains("hidden"), "{bad:?}: {fault}");
    }
    let before = state().readings.len();
    for (op, status) in [
        ("take-back:1", StatusCode::SEE_OTHER),
        ("take-back:7", StatusCode::BAD_REQUEST),
        ("divide", StatusCode::SEE_OTHER),
        ("end", StatusCode::SEE_OTHER),
    ] {
        let done = app.call(post(&at, &of(&[("op", op)])).to_request()).await.unwrap();
        assert_eq!(done.status(), status, "{op}");
    }
    assert_eq!(state().readings.len(), before - 1, "taken back is an event more and a reading less");
    let proof = state().step("proof").and_then(|s| s.done);
    assert!(proof.is_some() && state().outcome == Outcome::Running, "into the oven, and the bake goes on");
    for (path, op, status) in [
        ("/formulas/1/dough", "dance", StatusCode::BAD_REQUEST),
        ("/formulas/99/dough", "begin", StatusCode::NOT_FOUND),
        ("/bakes/99/rise", "end", StatusCode::NOT_FOUND),
    ] {
        let lost = app.call(post(path, &of(&[("op", op)])).to_request()).await.unwrap();
        assert_eq!(lost.status(), status);
    }
}

#[actix_web::test]
async fn a_recipe_under_review_is_corrected_line_by_line() {
    let kitchen = demo();
    let app = app!(kitchen);
    let of = |pairs: &[(&str, &str)]| -> Vec<(String, String)> {
        pairs.iter().map(|(k, v)| ((*k).to_owned(), (*v).to_owned())).collect()
    };
    let text_of = "Buns\n3 cups flour\n300 g moon dust\n2 tsp salt\nBake at 375 °F for 20 minutes.";
    let read = of(&[("op", "read"), ("text", text_of), ("cup", "us"), ("tablespoon", "us")]);
    let (status, page) = text(app.call(post("/formulas/bring", &read).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    for words in ["value=\"Buns\"", "pick:0:bread-flour", "new:1", "Oven 191 °C", "Bake 20 min"] {
        assert!(page.contains(words), "{words}");
    }
    let mut rows = of(&[
        ("text", text_of),
        ("name", "Buns"),
        ("style", "soft-roll"),
        ("rows.0.text", "3 cups flour"),
        ("rows.0.ingredient", "Plain flour"),
        ("rows.0.grams", "375"),
        ("rows.0.stage", "dough"),
        ("rows.0.used", "on"),
        ("rows.0.choose", "plain-flour bread-flour"),
        ("rows.1.text", "300 g moon dust"),
        ("rows.1.ingredient", ""),
        ("rows.1.grams", ""),
        ("rows.1.stage", "dough"),
        ("rows.1.used", "on"),
        ("rows.1.note", "moon dust"),
    ]);
    set(&mut rows, "op", "pick:0:bread-flour");
    let (_, page) = text(app.call(post("/formulas/bring", &rows).to_request()).await.unwrap()).await;
    assert!(page.contains("value=\"Bread flour\"") && page.contains("value=\"411\""));
    set(&mut rows, "op", "accept");
    let (status, page) = text(app.call(post("/formulas/bring", &rows).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(page.contains("make it a new ingredient") && page.contains("Enter a number."));
    set(&mut rows, "op", "new:1");
    let (_, page) = text(app.call(post("/formulas/bring", &rows).to_request()).await.unwrap()).await;
    assert!(page.contains("value=\"Moon dust\"") && page.contains("A new ingredient, most like"));
    set(&mut rows, "rows.1.ingredient", "Moon dust");
    set(&mut rows, "rows.1.like", "Semolina");
    set(&mut rows, "op", "weigh:1");
    let (_, page) = text(app.call(post("/formulas/bring", &rows).to_request()).await.unwrap()).await;
    assert!(page.contains("name=\"rows.1.grams\" value=\"300\""), "a weight is a weight");
    let before = kitchen.store.formulas().unwrap().len();
    set(&mut rows, "rows.1.grams", "300");
    set(&mut rows, "rows.1.like", "Bread flour");
    set(&mut rows, "op", "accept");
    let made = app.call(post("/formulas/bring", &rows).to_request()).await.unwrap();
    assert_eq!(made.status(), StatusCode::SEE_OTHER);
    assert_eq!(kitchen.store.formulas().unwrap().len(), before + 1);
    let own = kitchen.store.cupboard().unwrap().cupboard.own;
    assert!(own.iter().any(|o| o.name == "Moon dust" && o.like == "bread-flour"), "{own:?}");
    for odd in ["pick:99:butter", "pick:0:nothing", "weigh:77", "new:", "pick:x:y"] {
        set(&mut rows, "op", odd);
        let (status, _) = text(app.call(post("/formulas/bring", &rows).to_request()).await.unwrap()).await;
        let refused = status == StatusCode::UNPROCESSABLE_ENTITY || status == StatusCode::BAD_REQUEST;
        assert!(status.is_success() || refused, "{odd}: {status}");
    }
}

#[actix_web::test]
async fn the_list_is_searched_sorted_and_put_away() {
    let kitchen = demo();
    let app = app!(kitchen);
    let names = |page: &str| -> Vec<String> {
        let name = |part: &str| part.split('<').next().unwrap().replace("&#39;", "'");
        page.split("class=\"loaf-name\">").skip(1).map(name).collect()
    };
    let mut all: Vec<Vec<String>> = Vec::new();
    for query in [
        "",
        "?sort=hydration",
        "?q=RYE+caraway",
        "?tag=toast",
        "?q=nothing+such",
        "?away=1",
        "?sort=%3Cb%3E&tag=%27",
    ] {
        let (status, page) =
            text(app.call(get(&format!("/formulas{query}")).to_request()).await.unwrap()).await;
        assert_eq!(status, StatusCode::OK, "{query}");
        all.push(names(&page));
    }
    assert_eq!((all[0].len(), all[1].len()), (7, 7));
    assert_ne!(all[0], all[1]);
    assert_eq!(all[2], ["Walkers' rye buns"]);
    assert_eq!(all[3].len(), 2);
    assert!(all[4].is_empty() && all[5].is_empty() && all[6].is_empty());
    let away = vec![("away".to_owned(), "1".to_owned())];
    let gone = app.call(post("/formulas/1/archive", &away).to_request()).await.unwrap();
    assert_eq!(gone.status(), StatusCode::SEE_OTHER);
    let (_, page) = text(app.call(get("/formulas?away=1").to_request()).await.unwrap()).await;
    assert_eq!(names(&page), ["Weirside tin loaf"]);
    let (_, page) = text(app.call(get("/formulas/1/mix").to_request()).await.unwrap()).await;
    assert!(page.contains("Weirside tin loaf"), "put away, it still opens");
    let lost = app.call(post("/formulas/99/archive", &away).to_request()).await.unwrap();
    assert_eq!(lost.status(), StatusCode::NOT_FOUND);
}
