//! A bake at the bench, by its pages.

use crate::house;
use crate::house::{demo, get, post, text};
use actix_web::dev::Service;
use actix_web::http::{StatusCode, header};
use actix_web::test::TestRequest;
use cerealis_core::bake::{Bell, Outcome, Start, StepState};
use cerealis_core::pantry::Catalogue;
use cerealis_core::stations::read;
use cerealis_store::{BakeId, FormulaId, StoredBake};
use jiff::Timestamp;
use std::sync::atomic::{AtomicI64, Ordering};

type Pairs = Vec<(String, String)>;

fn of(pairs: &[(&str, &str)]) -> Pairs {
    pairs.iter().map(|(k, v)| ((*k).to_owned(), (*v).to_owned())).collect()
}

/// A moment of its own for each press: the kitchen's clock stands still.
fn moment() -> String {
    static PRESSES: AtomicI64 = AtomicI64::new(0);
    let stands = "2026-03-14T08:00:30Z".parse::<Timestamp>().unwrap().as_millisecond();
    (stands - 100_000 + 10 * PRESSES.fetch_add(1, Ordering::Relaxed)).to_string()
}

/// As the page's script sends it.
fn press(path: &str, pairs: &[(&str, &str)]) -> TestRequest {
    let mut all = of(pairs);
    if pairs.iter().all(|(name, _)| *name != "at") {
        all.push(("at".into(), moment()));
    }
    post(path, &all).insert_header((header::ACCEPT, "application/json"))
}

/// The id of the step that the page shows.
fn head(page: &str) -> Option<String> {
    Some(page.split("data-card=\"").nth(1)?.split('"').next()?.to_owned())
}

macro_rules! begun {
    ($app:expr, $formula:expr) => {{
        let answer = $app.call(post("/bakes", &of(&[("formula", $formula)])).to_request()).await.unwrap();
        assert_eq!(answer.status(), StatusCode::SEE_OTHER);
        answer.headers().get(header::LOCATION).unwrap().to_str().unwrap().to_owned()
    }};
}

fn stored(kitchen: &house::Kitchen, at: &str) -> StoredBake {
    kitchen.store.bake(BakeId(at.rsplit('/').next().unwrap().parse().unwrap())).unwrap()
}

/// From the first gram to the cut with one press a step, for every formula of the demo; what is shown first is always what is
/// pressed, and the last press ends the bake.
#[actix_web::test]
async fn every_formula_is_baked_with_one_press_a_step() {
    let kitchen = demo();
    let app = app!(kitchen);
    for formula in ["1", "2", "3", "4", "5", "6", "7"] {
        let at = begun!(app, formula);
        let steps = stored(&kitchen, &at).start.steps.len();
        let (status, mut page) = text(app.call(get(&at).to_request()).await.unwrap()).await;
        assert_eq!(status, StatusCode::OK);
        let mut presses = 0;
        while let Some(step) = head(&page) {
            presses += 1;
            assert!(presses <= steps, "{formula}: more presses than steps");
            let answer = app.call(press(&at, &[("op", &format!("done:{step}"))]).to_request()).await.unwrap();
            let (status, next) = text(answer).await;
            assert_eq!(status, StatusCode::OK, "{formula} {step}");
            page = next;
        }
        // A fold that nobody made before the rise was over is none any more.
        assert!(presses <= steps && presses + 6 >= steps, "{formula}: {presses} of {steps}");
        let state = stored(&kitchen, &at).state();
        assert_eq!(state.outcome, Outcome::Finished, "{formula}");
        assert!(page.contains("The bread is there"));
        assert!(state.steps.iter().filter(|s| s.id != "fold").any(StepState::is_over));
    }
}

/// At the bench it is dark while the household sleeps, and by day as the device has it.
#[actix_web::test]
async fn it_is_dark_by_itself_while_the_household_sleeps() {
    // It is half past eight.
    let kitchen = demo();
    let app = app!(kitchen);
    let (_, day) = text(app.call(get("/bakes/1").to_request()).await.unwrap()).await;
    assert!(!day.contains("data-night"));
    let mut home = kitchen.store.kitchen().unwrap();
    home.kitchen.sleep_from = "20:00".parse().unwrap();
    home.kitchen.sleep_to = "11:00".parse().unwrap();
    kitchen.store.save_kitchen(None, &home.kitchen).unwrap();
    let (_, night) = text(app.call(get("/bakes/1").to_request()).await.unwrap()).await;
    assert!(
        night.contains("<html lang=\"en\" data-night>")
            && night.contains("data-outcome=\"running\" data-night")
    );
    let (_, elsewhere) = text(app.call(get("/formulas").to_request()).await.unwrap()).await;
    assert!(!elsewhere.contains("data-night"));
}

/// A photo is kept under its own name, once; undo takes it back, and nothing that is none is taken.
#[actix_web::test]
async fn photos_are_kept_and_only_photos() {
    let kitchen = demo();
    let app = app!(kitchen);
    let at = begun!(app, "1");
    let sent = |key: &str, bytes: &[u8]| {
        let to = format!("{at}/photos?key={key}&at={}", moment());
        post(&to, &[]).set_payload(bytes.to_vec())
    };
    let bytes = b"\xff\xd8\xff\xe0 a crumb".to_vec();
    for key in ["photo-key-one", "photo-key-one", "photo-key-two"] {
        let (status, page) = text(app.call(sent(key, &bytes).to_request()).await.unwrap()).await;
        assert_eq!(status, StatusCode::OK);
        assert!(page.contains("The photo is kept."));
    }
    let photos = stored(&kitchen, &at).state().photos;
    assert_eq!(photos.len(), 2);
    let address = format!("{at}/photos/{}", photos[0].photo);
    let (_, page) = text(app.call(get(&at).to_request()).await.unwrap()).await;
    assert!(page.contains(&address));
    let answer = app.call(get(&address).to_request()).await.unwrap();
    assert_eq!(answer.headers().get(header::CONTENT_TYPE).unwrap(), "image/jpeg");
    assert_eq!(actix_web::body::to_bytes(answer.into_body()).await.unwrap(), bytes);
    for refused in [&b"<script>alert(1)</script>"[..], b"", b"GIF89a"] {
        let (status, page) = text(app.call(sent("photo-key-bad", refused).to_request()).await.unwrap()).await;
        assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
        assert!(page.contains("That is no picture that is known here"));
    }
    let large = vec![0xff; 3 * 1024 * 1024 + 1];
    let (status, _) = text(app.call(sent("photo-key-big", &large).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::PAYLOAD_TOO_LARGE);
    app.call(press(&at, &[("op", "undo")]).to_request()).await.unwrap();
    assert_eq!(stored(&kitchen, &at).state().photos.len(), 1);
    // Of another bake it is none, and a name is no path.
    for elsewhere in [format!("/bakes/1/photos/{}", photos[0].photo), format!("{at}/photos/..%2f..%2fetc")] {
        let answer = app.call(get(&elsewhere).to_request()).await.unwrap();
        assert_eq!(answer.status(), StatusCode::NOT_FOUND, "{elsewhere}");
    }
}

/// The same press twice, from two phones, or sent again after a break: it is done once, and nothing is pressed by it that comes
/// after.
#[actix_web::test]
async fn the_same_press_twice_is_one() {
    let kitchen = demo();
    let app = app!(kitchen);
    let at = begun!(app, "1");
    let done = [("op", "done:weigh"), ("key", "0f8b2c34-aaaa-bbbb"), ("at", "0")];
    for _ in 0..3 {
        assert_eq!(app.call(press(&at, &done).to_request()).await.unwrap().status(), StatusCode::OK);
    }
    let other = [("op", "done:weigh"), ("key", "another-phone-1")];
    app.call(press(&at, &other).to_request()).await.unwrap();
    let state = stored(&kitchen, &at).state();
    assert_eq!(state.steps.iter().filter(|s| s.is_over()).count(), 1);
    assert_eq!(stored(&kitchen, &at).events.len(), 2);
}

#[actix_web::test]
async fn what_is_odd_is_asked_about_and_what_is_wrong_is_told_at_its_field() {
    let kitchen = demo();
    let app = app!(kitchen);
    // The dough in mid-rise was read at 1.35 times. Without a script it is a page of its own.
    let plain = post("/bakes/1", &of(&[("op", "read:volume:1.2")]));
    let (status, _) = text(app.call(plain.to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::CONFLICT);
    let (status, page) =
        text(app.call(press("/bakes/1", &[("op", "read:volume:1.2")]).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(page.contains("Has it fallen?") && page.contains("name=\"sure\" value=\"1\""));
    let sure = [("op", "read:volume:1.2"), ("sure", "1")];
    let (status, page) = text(app.call(press("/bakes/1", &sure).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(page.contains(" later: "), "it is said by how much: {page:.300}");
    let hot = [("op", "read:dough"), ("dough", "72")];
    let (_, page) = text(app.call(press("/bakes/1", &hot).to_request()).await.unwrap()).await;
    assert!(page.contains("id=\"fault-dough\"") && page.contains("value=\"72\""));
    for (op, status) in [
        ("dance", StatusCode::BAD_REQUEST),
        ("read:volume:much", StatusCode::BAD_REQUEST),
        ("done:elsewhere", StatusCode::UNPROCESSABLE_ENTITY),
        ("weigh:99", StatusCode::BAD_REQUEST),
        ("note", StatusCode::UNPROCESSABLE_ENTITY),
    ] {
        let answer = app.call(post("/bakes/1", &of(&[("op", op)])).to_request()).await.unwrap();
        assert_eq!(answer.status(), status, "{op}");
    }
    assert_eq!(app.call(get("/bakes/99").to_request()).await.unwrap().status(), StatusCode::NOT_FOUND);
}

#[actix_web::test]
async fn notes_next_time_undo_and_giving_up_are_kept() {
    let kitchen = demo();
    let app = app!(kitchen);
    let at = begun!(app, "2");
    for op in ["note:sticky", "late:20", "skip:weigh", "abandon"] {
        let (status, _) = text(app.call(press(&at, &[("op", op)]).to_request()).await.unwrap()).await;
        assert_eq!(status, StatusCode::OK, "{op}");
    }
    assert_eq!(stored(&kitchen, &at).state().outcome, Outcome::Abandoned);
    // Without a script the page itself comes back.
    let back = app.call(post(&at, &of(&[("op", "undo"), ("at", &moment())])).to_request()).await.unwrap();
    assert_eq!(back.status(), StatusCode::SEE_OTHER);
    let state = stored(&kitchen, &at).state();
    assert_eq!((state.outcome, state.redo.is_some()), (Outcome::Running, true));
    assert!(state.steps[0].skipped.is_some() && state.notes[0].text == "sticky");
    app.call(press(&at, &[("op", "finish")]).to_request()).await.unwrap();
    app.call(press(&at, &[("op", "next"), ("text", "A hotter <oven>")]).to_request()).await.unwrap();
    let (_, list) = text(app.call(get("/bakes").to_request()).await.unwrap()).await;
    assert!(
        list.contains("A hotter &#60;oven&#62;") || list.contains("A hotter &lt;oven&gt;"),
        "{list:.200}"
    );
    let (_, formula) = text(app.call(get("/formulas/2/formula").to_request()).await.unwrap()).await;
    assert!(formula.contains("data-test=\"next-time\""));
}

/// A bake that is planned for tomorrow says so wherever it stands, and rings then: nothing of it is now.
#[actix_web::test]
async fn what_is_planned_for_tomorrow_is_not_now() {
    let kitchen = demo();
    let app = app!(kitchen);
    let home = kitchen.store.kitchen().unwrap().kitchen;
    let zone = home.zone().unwrap();
    let formula = kitchen.store.formula(FormulaId(1)).unwrap().formula;
    // By Paris, where the demo's kitchen stands, it is nine in the morning; a quarter past one tomorrow.
    let tomorrow = zone.to_timestamp("2026-03-15T13:15:00".parse().unwrap()).unwrap();
    let stations = read(&formula, &home, Catalogue::bundled(), tomorrow).unwrap();
    let start = Start::of(&formula, &stations, tomorrow);
    let id = kitchen.store.begin_bake(Some(FormulaId(1)), &start, &[]).unwrap();
    let (_, page) = text(app.call(get(&format!("/bakes/{id}")).to_request()).await.unwrap()).await;
    let kicker = page.split("bake-kicker\">").nth(1).unwrap().split('<').next().unwrap();
    assert_eq!(kicker, "At 13:15 tomorrow");
    assert!(page.contains(&format!("data-rings=\"{}\"", tomorrow.as_millisecond())));
    let (_, bakes) = text(app.call(get("/bakes").to_request()).await.unwrap()).await;
    assert!(bakes.contains("13:15 tomorrow"));
    // Once it is pressed it is under way: what is next is now.
    let answer =
        app.call(press(&format!("/bakes/{id}"), &[("op", "done:weigh")]).to_request()).await.unwrap();
    let (_, page) = text(answer).await;
    assert!(page.contains("bake-kicker\">Now<"));
}

/// How a dough rings is chosen at its bake, and holds for its next.
#[actix_web::test]
async fn a_dough_rings_as_was_chosen_the_next_time_too() {
    let kitchen = demo();
    let app = app!(kitchen);
    let at = begun!(app, "2");
    let chosen = press(&at, &[("op", "rings:knocks")]);
    let (status, page) = text(app.call(chosen.to_request()).await.unwrap()).await;
    assert_eq!((status, page.contains("It rings: knocks.")), (StatusCode::OK, true));
    assert!(page.contains("data-bell=\"knocks\" aria-pressed=\"true\""));
    let next = begun!(app, "2");
    assert_eq!(stored(&kitchen, &next).state().bell, Some(Bell::Knocks));
    let other = begun!(app, "3");
    assert_eq!(stored(&kitchen, &other).state().bell, None);
    // What is looked at beside it rings its own.
    let (_, page) = text(app.call(get(&other).to_request()).await.unwrap()).await;
    assert!(page.contains("data-bell=\"knocks\""));
    let none = app.call(press(&at, &[("op", "rings:gong")]).to_request()).await.unwrap();
    assert_eq!(none.status(), StatusCode::BAD_REQUEST);
}

#[actix_web::test]
async fn today_says_what_goes_on_and_an_empty_kitchen_goes_to_its_first_steps() {
    let kitchen = demo();
    let app = app!(kitchen);
    let (status, page) = text(app.call(get("/").to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    for said in ["Overnight no-knead", "Weirside tin loaf", "Fold-over supper rolls", "Next time: "] {
        assert!(page.contains(said), "{said}");
    }
    // The list is one over all doughs that are at the bench and those of the plan, in order of time.
    let list = page.split("today-list\">").nth(1).unwrap().split("</ol>").next().unwrap();
    let touches: Vec<&str> = list.split("<li").skip(1).collect();
    assert!(touches.iter().filter(|t| t.contains("href=\"/bakes/")).count() >= 3, "{list}");
    let today = touches.iter().take_while(|t| !t.contains("today-then"));
    let times: Vec<&str> =
        today.map(|t| t.split("\"at\">").nth(1).unwrap().split('<').next().unwrap()).collect();
    assert!(times.is_sorted() && times.len() >= 3, "{times:?}");
    let empty = house::empty();
    let app = app!(empty);
    let first = app.call(get("/").to_request()).await.unwrap();
    assert_eq!(first.headers().get(header::LOCATION).unwrap(), "/formulas");
}
