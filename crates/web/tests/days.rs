//! Several doughs planned together, as the pages serve it. The clock stands at a Saturday morning, eight o'clock.

use crate::house::{Kitchen, demo, get, post, set, text};
use actix_web::dev::Service;
use actix_web::http::{StatusCode, header};
use cerealis_core::kitchen::{FurtherOven, Kitchen as Settings};
use cerealis_core::notation::ClockFace;
use cerealis_core::plan::{DayPlan, WantedAs, Who};
use cerealis_store::{FormulaId, Revision};
use diesel::connection::SimpleConnection;
use diesel::{Connection, SqliteConnection};
use rstest::rstest;

type Fields = Vec<(String, String)>;

/// The fields of a plan from that Saturday on: formula, how it is wanted, day, time.
fn asked(days: &str, doughs: &[(i32, &str, &str, &str)]) -> Fields {
    let mut fields: Fields = vec![
        ("typed_in".into(), "celsius.grams.cm.24".into()),
        ("today".into(), "2026-03-14".into()),
        ("from.day".into(), "2026-03-14".into()),
        ("days".into(), days.into()),
        ("hands".into(), "1".into()),
        ("revision".into(), "0".into()),
    ];
    for (n, (formula, wanted, day, time)) in doughs.iter().enumerate() {
        for (field, value) in [
            ("formula", formula.to_string().as_str()),
            ("wanted", wanted),
            ("at.day", day),
            ("at.time", time),
        ] {
            fields.push((format!("doughs.{n}.{field}"), value.to_string()));
        }
    }
    fields
}

fn tin_loaf() -> Fields {
    asked("1", &[(1, "at", "2026-03-14", "18:00")])
}

fn with_op(fields: &Fields, op: &str) -> Fields {
    let mut fields = fields.clone();
    set(&mut fields, "op", op);
    fields
}

fn stored(kitchen: &Kitchen) -> DayPlan {
    kitchen.store.day_plan().unwrap().plan.unwrap()
}

fn revision(kitchen: &Kitchen) -> String {
    kitchen.store.day_plan().unwrap().revision.to_string()
}

/// The keys of a page's buttons that begin with a word.
fn buttons(page: &str, word: &str) -> Vec<String> {
    let all = page.split("name=\"op\" value=\"").skip(1);
    all.filter_map(|b| b.split('"').next()).filter(|k| k.starts_with(word)).map(str::to_owned).collect()
}

/// The value of a hidden field.
fn hidden(page: &str, name: &str) -> String {
    let field = page.split(&format!("name=\"{name}\" value=\"")).nth(1).unwrap();
    field.split('"').next().unwrap().replace("&#34;", "\"")
}

/// A press on the page as it is now.
fn pressed(kitchen: &Kitchen, op: &str) -> Fields {
    vec![("op".into(), op.into()), ("revision".into(), revision(kitchen))]
}

/// The text between an id and the end of its element.
fn fault<'a>(page: &'a str, field: &str) -> &'a str {
    let from = page.find(&format!("id=\"fault-{field}\"")).unwrap_or_else(|| panic!("no fault at {field}"));
    &page[from..from + page[from..].find("</p>").unwrap()]
}

#[actix_web::test]
async fn a_page_without_a_plan_says_what_belongs_there() {
    let kitchen = demo();
    let app = app!(kitchen);
    let (status, page) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(page.contains("add each dough and say when it is wanted") && page.contains("Add a dough"));
    assert!(!page.contains("class=\"panel offer\"") && !page.contains("Plan these days"));
    assert_eq!(
        app.call(get("/day/calendar.ics").to_request()).await.unwrap().status(),
        StatusCode::NOT_FOUND
    );
}

#[actix_web::test]
async fn rows_come_and_go_and_keep_what_was_typed() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = with_op(&tin_loaf(), "add:doughs");
    set(&mut typed, "doughs.0.at.time", "half past");
    let (status, page) = text(app.call(post("/day", &typed).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(page.contains("name=\"doughs.1.formula\"") && page.contains("value=\"half past\""));
    let (_, page) =
        text(app.call(post("/day", &with_op(&typed, "remove:doughs:0")).to_request()).await.unwrap()).await;
    assert!(!page.contains("name=\"doughs.0.formula\""));
    let (_, page) =
        text(app.call(post("/day", &with_op(&typed, "add:exceptions")).to_request()).await.unwrap()).await;
    assert!(page.contains("name=\"exceptions.0.from\"") && page.contains("value=\"half past\""));
    assert!(kitchen.store.day_plan().unwrap().plan.is_none(), "nothing is saved before it is asked for");
}

#[actix_web::test]
async fn what_is_asked_is_planned_and_one_plan_is_taken() {
    let kitchen = demo();
    let app = app!(kitchen);
    let saved = app.call(post("/day", &with_op(&tin_loaf(), "plan")).to_request()).await.unwrap();
    assert_eq!(saved.status(), StatusCode::SEE_OTHER);
    let plan = stored(&kitchen);
    assert_eq!((plan.doughs.len(), plan.doughs[0].wanted), (1, WantedAs::At));
    let (_, page) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    assert!(page.contains("value=\"take:as-written\"") && page.contains("As written, first touch Sat 1"));
    assert!(page.contains("No plan is better than the first"), "one dough is proved");
    assert!(page.contains("Holds on"));
    let taken = app.call(post("/day", &pressed(&kitchen, "take:as-written")).to_request()).await.unwrap();
    assert_eq!(taken.status(), StatusCode::SEE_OTHER);
    let plan = stored(&kitchen).taken.unwrap();
    assert_eq!((plan.key.as_str(), plan.doughs.len()), ("as-written", 1));
    let (_, once) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    let (_, again) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    assert_eq!(once, again, "a reload chooses no other");
    for step in &plan.steps {
        assert!(once.contains(&format!("<strong>{}</strong>", step.title)), "{}", step.title);
    }
    let ready = plan.steps.iter().rev().find(|s| s.id.starts_with("cool.")).unwrap();
    let ends = ready.at.duration_since("2026-03-14T18:00:00Z".parse().unwrap()).as_secs_f64() / 60.0
        + ready.length.0;
    assert!(ends.abs() <= 30.0, "ready {ends} min off");
    // Planning again lets it go, and offers what there is.
    app.call(post("/day", &pressed(&kitchen, "again")).to_request()).await.unwrap();
    assert!(stored(&kitchen).taken.is_none());
}

#[actix_web::test]
async fn a_plan_goes_into_a_calendar() {
    let kitchen = demo();
    let app = app!(kitchen);
    app.call(post("/day", &with_op(&tin_loaf(), "plan")).to_request()).await.unwrap();
    app.call(post("/day", &pressed(&kitchen, "take:as-written")).to_request()).await.unwrap();
    let response = app.call(get("/day/calendar.ics").to_request()).await.unwrap();
    let kind = response.headers().get(header::CONTENT_TYPE).unwrap().to_str().unwrap().to_owned();
    let (status, file) = text(response).await;
    assert_eq!(status, StatusCode::OK);
    assert!(kind.starts_with("text/calendar"));
    let hands = stored(&kitchen).taken.unwrap().steps.iter().filter(|s| s.hands_on).count();
    assert_eq!(file.matches("BEGIN:VEVENT").count(), hands);
    assert_eq!(file.matches("BEGIN:VALARM").count(), hands);
    let ids: std::collections::BTreeSet<&str> = file.lines().filter(|l| l.starts_with("UID:")).collect();
    assert_eq!(ids.len(), hands, "each event has its own name");
}

#[actix_web::test]
async fn a_second_window_does_not_overwrite_the_first() {
    let kitchen = demo();
    let app = app!(kitchen);
    app.call(post("/day", &with_op(&tin_loaf(), "plan")).to_request()).await.unwrap();
    let mut late = with_op(&tin_loaf(), "plan");
    set(&mut late, "doughs.0.at.time", "19:15");
    let (status, page) = text(app.call(post("/day", &late).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::CONFLICT);
    assert!(page.contains("planned anew in another window") && page.contains("value=\"19:15\""));
    assert_eq!(stored(&kitchen).doughs[0].at.unwrap().hour(), 18);
    set(&mut late, "over", "1");
    let saved = app.call(post("/day", &late).to_request()).await.unwrap();
    assert_eq!(saved.status(), StatusCode::SEE_OTHER);
    assert_eq!(stored(&kitchen).doughs[0].at.unwrap().hour(), 19);
}

#[rstest]
#[case("doughs.0.at.time", "late", "doughs.0.at.time", "time of day")]
#[case("doughs.0.at.time", "", "doughs.0.at.time", "the day and the time")]
#[case("doughs.0.at.day", "2026-03-20", "doughs.0.at.time", "within the days")]
#[case("doughs.0.wanted", "soon", "doughs.0.wanted", "Choose")]
#[case("days", "9", "days", "1 to 4")]
#[case("days", "many", "days", "number")]
#[case("hands", "5", "hands", "1 to 2")]
#[actix_web::test]
async fn what_cannot_be_is_said_at_its_field_and_nothing_typed_is_lost(
    #[case] field: &str,
    #[case] wrong: &str,
    #[case] at: &str,
    #[case] says: &str,
) {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = with_op(&tin_loaf(), "plan");
    set(&mut typed, field, wrong);
    let (status, page) = text(app.call(post("/day", &typed).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(fault(&page, at).to_lowercase().contains(&says.to_lowercase()), "{}", fault(&page, at));
    assert!(!fault(&page, at).contains(" hidden"));
    assert!(kitchen.store.day_plan().unwrap().plan.is_none());
}

#[actix_web::test]
async fn hours_that_are_otherwise_are_read_with_their_faults() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = with_op(&tin_loaf(), "plan");
    set(&mut typed, "exceptions.3.on.day", "2026-03-14");
    set(&mut typed, "exceptions.3.from", "13:00");
    set(&mut typed, "exceptions.3.to", "");
    let (status, page) = text(app.call(post("/day", &typed).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(fault(&page, "exceptions.3.to").contains("time of day"));
    set(&mut typed, "exceptions.3.to", "3 pm");
    app.call(post("/day", &typed).to_request()).await.unwrap();
    let exception = stored(&kitchen).exceptions[0].clone();
    assert_eq!((exception.from.hour(), exception.to.hour(), exception.who), (13, 15, Who::Away));
    // No hands lie in them.
    app.call(post("/day", &pressed(&kitchen, "take:as-written")).to_request()).await.unwrap();
    let taken = stored(&kitchen).taken.expect("it is planned round them");
    let away = ("2026-03-14T13:00:00Z".parse().unwrap(), "2026-03-14T15:00:00Z".parse().unwrap());
    for s in taken.steps.iter().filter(|s| s.hands_on) {
        let ends = s.at + jiff::SignedDuration::from_secs((s.length.0 * 60.0) as i64);
        assert!(ends <= away.0 || s.at >= away.1, "{} at {}", s.title, s.at);
    }
}

#[actix_web::test]
async fn a_wish_that_cannot_be_is_said_with_the_nearest_plan() {
    let kitchen = demo();
    let app = app!(kitchen);
    // Ready an hour from now.
    let typed = with_op(&asked("1", &[(1, "at", "2026-03-14", "9:00")]), "plan");
    app.call(post("/day", &typed).to_request()).await.unwrap();
    let (_, page) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    assert!(page.contains("Not everything fits") && page.contains("the time of Weirside tin loaf"));
    assert!(page.contains("value=\"take:"), "the nearest is offered");
    assert!(!page.contains("From when it is wanted"), "no plan is called on time that is not");
}

#[actix_web::test]
async fn a_formula_that_is_gone_is_said_at_its_dough() {
    let kitchen = demo();
    let app = app!(kitchen);
    app.call(post("/day", &with_op(&tin_loaf(), "plan")).to_request()).await.unwrap();
    kitchen.store.delete_formula(FormulaId(1)).unwrap();
    let (status, page) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(fault(&page, "doughs.0.formula").contains("not there any more"));
}

/// A day with the tin loaf by a time, planned and followed as it is written.
macro_rules! followed {
    ($app:expr, $kitchen:expr, $by:expr) => {{
        let typed = with_op(&asked("1", &[(1, "by", "2026-03-14", $by)]), "plan");
        $app.call(post("/day", &typed).to_request()).await.unwrap();
        $app.call(post("/day", &pressed(&$kitchen, "take:as-written")).to_request()).await.unwrap();
        stored(&$kitchen).taken.unwrap()
    }};
}

/// Taken at eight with the dough not begun: an hour late, what is next is done an hour after its time.
#[actix_web::test]
async fn when_it_goes_otherwise_the_rest_is_planned_again() {
    let kitchen = demo();
    let app = app!(kitchen);
    let before = followed!(app, kitchen, "14:00");
    // First the ways on are shown, then one of them is followed.
    let (status, page) =
        text(app.call(post("/day", &pressed(&kitchen, "late:60")).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert_eq!(stored(&kitchen).taken.unwrap(), before, "nothing is changed before it is chosen");
    let ways = buttons(&page, "on:");
    assert!(page.contains("What to do now") && !ways.is_empty(), "{page:.400}");
    let mut on = pressed(&kitchen, &ways[0]);
    set(&mut on, "happened", &hidden(&page, "happened"));
    let answer = app.call(post("/day", &on).to_request()).await.unwrap();
    assert_eq!(answer.status(), StatusCode::SEE_OTHER);
    let after = stored(&kitchen).taken.unwrap();
    assert_eq!(stored(&kitchen).told.sequence, 1);
    let now: jiff::Timestamp = "2026-03-14T08:00:00Z".parse().unwrap();
    let next = before.steps.iter().filter(|s| s.hands_on && s.at > now).map(|s| s.at).min().unwrap();
    let until = next + jiff::SignedDuration::from_mins(60);
    let told = format!("No hands until {}", until.strftime("%H:%M"));
    assert!(after.since[0].starts_with(&told), "{told}: {:?}", after.since);
    for s in after.steps.iter().filter(|s| s.hands_on) {
        let begun = before.steps.iter().any(|b| b.id == s.id && b.at <= now);
        assert!(begun || s.at >= until, "{} at {}", s.title, s.at);
    }
    let (_, page) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    assert!(page.contains(&told));
}

/// A bake of the plan that is late offers to move the day to it, and says so no more when the day has moved.
#[actix_web::test]
async fn a_bake_that_is_late_carries_its_time_to_the_day() {
    let kitchen = demo();
    let app = app!(kitchen);
    let planned = followed!(app, kitchen, "15:00");
    let begun = app.call(post("/bakes", &[("dough".into(), "0".into())]).to_request()).await.unwrap();
    let at = begun.headers().get(header::LOCATION).unwrap().to_str().unwrap().to_owned();
    let (_, page) = text(app.call(get(&at).to_request()).await.unwrap()).await;
    assert!(buttons(&page, "shift:").is_empty(), "it keeps to the plan");
    let late: Fields = vec![("op".into(), "late:40".into())];
    app.call(post(&at, &late).to_request()).await.unwrap();
    let (_, page) = text(app.call(get(&at).to_request()).await.unwrap()).await;
    let [op] = buttons(&page, "shift:").try_into().unwrap_or_else(|b| panic!("one button: {b:?}"));
    assert!(page.contains("The day has “"));
    let mut shift = vec![("op".to_owned(), op.clone())];
    shift.push(("revision".into(), hidden(&page, "revision")));
    let (status, offers) = text(app.call(post("/day", &shift).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK, "{op}");
    let mut on: Fields = vec![("op".into(), buttons(&offers, "on:")[0].clone())];
    on.push(("revision".into(), hidden(&offers, "revision")));
    on.push(("happened".into(), hidden(&offers, "happened")));
    let answer = app.call(post("/day", &on).to_request()).await.unwrap();
    assert_eq!(answer.status(), StatusCode::SEE_OTHER);
    let moved = stored(&kitchen).taken.unwrap();
    let id = op.split(':').nth(2).unwrap();
    let when = |taken: &cerealis_core::plan::Taken| taken.steps.iter().find(|s| s.id == id).unwrap().at;
    let by = when(&moved).duration_since(when(&planned)).as_secs_f64() / 60.0;
    assert!((35.0..=45.0).contains(&by), "{id} moved by {by} min");
    let (_, page) = text(app.call(get(&at).to_request()).await.unwrap()).await;
    assert!(buttons(&page, "shift:").is_empty(), "the day is where the bake is");
    let went = kitchen.store.running_bakes().unwrap();
    let bake = went.iter().find(|b| b.start.of_plan.is_some()).unwrap();
    assert!(matches!(bake.events.last().unwrap().what, cerealis_core::bake::What::Replanned { .. }));
}

#[rstest]
#[case("until", "", "from which there are hands again")]
#[case("until", "soonish", "time of day")]
#[actix_web::test]
async fn a_time_without_hands_that_does_not_read_is_said(
    #[case] op: &str,
    #[case] typed: &str,
    #[case] says: &str,
) {
    let kitchen = demo();
    let app = app!(kitchen);
    app.call(post("/day", &with_op(&tin_loaf(), "plan")).to_request()).await.unwrap();
    app.call(post("/day", &pressed(&kitchen, "take:as-written")).to_request()).await.unwrap();
    let before = stored(&kitchen);
    let mut fields = pressed(&kitchen, op);
    set(&mut fields, "until", typed);
    let (status, page) = text(app.call(post("/day", &fields).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(fault(&page, "until").contains(says), "{}", fault(&page, "until"));
    assert_eq!(stored(&kitchen), before);
}

#[rstest]
#[case("dance")]
#[case("late:0")]
#[case("late:100000")]
#[case("late:soon")]
#[case("remove:doughs:x")]
#[actix_web::test]
async fn a_button_that_no_page_has_is_refused(#[case] op: &str) {
    let kitchen = demo();
    let app = app!(kitchen);
    app.call(post("/day", &with_op(&tin_loaf(), "plan")).to_request()).await.unwrap();
    if op.starts_with("late") {
        app.call(post("/day", &pressed(&kitchen, "take:as-written")).to_request()).await.unwrap();
    }
    let before = stored(&kitchen);
    let answer = app.call(post("/day", &pressed(&kitchen, op)).to_request()).await.unwrap();
    assert_eq!(answer.status(), StatusCode::BAD_REQUEST, "{op}");
    assert_eq!(stored(&kitchen), before);
}

/// Where there are two ovens, the one that is taken is said; a kitchen with one is not asked.
#[actix_web::test]
async fn the_oven_that_is_taken_is_chosen_where_there_are_two() {
    let kitchen = demo();
    let app = app!(kitchen);
    app.call(post("/day", &with_op(&tin_loaf(), "plan")).to_request()).await.unwrap();
    app.call(post("/day", &pressed(&kitchen, "take:as-written")).to_request()).await.unwrap();
    let shown = || async { text(app.call(get("/day").to_request()).await.unwrap()).await.1 };
    let ovens = kitchen.store.kitchen().unwrap().kitchen.ovens.len();
    assert_eq!(shown().await.contains("name=\"oven_no\""), ovens > 0);
    let mut two = kitchen.store.kitchen().unwrap().kitchen;
    two.ovens = vec![FurtherOven { name: "Attic".into(), ..FurtherOven::default() }];
    kitchen.store.save_kitchen(None, &two).unwrap();
    let page = shown().await;
    assert!(page.contains("name=\"oven_no\"") && page.contains(">Attic</option>"));
    for (no, taken) in [("0", true), ("1", false), ("7", true)] {
        let mut fields = pressed(&kitchen, "oven");
        set(&mut fields, "oven_until", "17:30");
        set(&mut fields, "oven_no", no);
        let (_, page) = text(app.call(post("/day", &fields).to_request()).await.unwrap()).await;
        let moved = !page.contains("All bread is there as it was");
        assert_eq!(moved, taken, "oven {no}");
    }
}

/// A page that lay open for so long that what it offers has no time any more: what there is now is offered, and nothing
/// is taken.
#[actix_web::test]
async fn a_plan_that_is_not_offered_any_more_is_not_taken() {
    let kitchen = demo();
    let app = app!(kitchen);
    app.call(post("/day", &with_op(&tin_loaf(), "plan")).to_request()).await.unwrap();
    let (_, page) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    let before = stored(&kitchen);
    let late = pressed(&kitchen, "take:fridge-bulk-400");
    let (status, now) = text(app.call(post("/day", &late).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(now.contains("Time has gone on") && !page.contains("Time has gone on"));
    assert_eq!(buttons(&now, "take:"), buttons(&page, "take:"));
    assert_eq!(stored(&kitchen), before);
}

#[actix_web::test]
async fn a_plan_that_does_not_read_is_put_aside_when_another_is_saved() {
    let kitchen = demo();
    let app = app!(kitchen);
    app.call(post("/day", &with_op(&tin_loaf(), "plan")).to_request()).await.unwrap();
    let mut file = SqliteConnection::establish(kitchen.path().to_str().unwrap()).unwrap();
    file.batch_execute("UPDATE day_plans SET body = '{\"from\":\"someday\"}'").unwrap();
    let (status, page) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(page.contains("does not read any more"));
    let mut again = with_op(&tin_loaf(), "plan");
    set(&mut again, "revision", "1");
    let saved = app.call(post("/day", &again).to_request()).await.unwrap();
    assert_eq!(saved.status(), StatusCode::SEE_OTHER);
    assert_eq!(kitchen.store.day_plan().unwrap().revision, Revision(2));
    let aside = kitchen.store.damaged().unwrap();
    assert!(aside.iter().any(|d| d.name.starts_with("Day plan")), "{aside:?}");
}

/// A household on a clock of twelve hours types and sees its own.
#[actix_web::test]
async fn times_are_in_the_household_s_notation() {
    let kitchen = demo();
    let now = kitchen.store.kitchen().unwrap();
    let settings = Settings { clock: ClockFace::Hours12, ..now.kitchen };
    kitchen.store.save_kitchen(Some(now.revision), &settings).unwrap();
    let app = app!(kitchen);
    let mut typed = with_op(&tin_loaf(), "plan");
    set(&mut typed, "typed_in", "celsius.grams.cm.12");
    set(&mut typed, "doughs.0.at.time", "6 pm");
    app.call(post("/day", &typed).to_request()).await.unwrap();
    let (_, page) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    assert!(page.contains("value=\"6:00 pm\""), "the field");
    assert_eq!(stored(&kitchen).doughs[0].at.unwrap().hour(), 18);
}

/// A step is kept at its time, stands at its dough with day and time, is moved there, and set free again.
#[actix_web::test]
async fn a_step_is_set_to_a_time_and_set_free() {
    let kitchen = demo();
    let app = app!(kitchen);
    app.call(post("/day", &with_op(&tin_loaf(), "plan")).to_request()).await.unwrap();
    let (_, page) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    let shape = buttons(&page, "move:0:shape.").remove(0);
    let id = shape.split(':').nth(2).unwrap().to_owned();
    let mut typed = with_op(&tin_loaf(), &shape);
    set(&mut typed, "revision", &revision(&kitchen));
    set(&mut typed, &format!("title.{shape}"), "Shape the loaf");
    app.call(post("/day", &typed).to_request()).await.unwrap();
    let set_to = stored(&kitchen).doughs[0].fixed.clone();
    assert_eq!(
        (set_to.len(), set_to[0].title.as_str(), set_to[0].id.as_str()),
        (1, "Shape the loaf", "shape.0")
    );
    let (_, page) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    assert!(page.contains("Shape the loaf, set to") && page.contains("doughs.0.fixed.0.at.time"));
    // A time that does not read is told there.
    let fields = |time: &str, op: &str| {
        let mut typed = with_op(&tin_loaf(), op);
        set(&mut typed, "revision", &revision(&kitchen));
        for (field, value) in
            [("id", id.as_str()), ("title", "Shape the loaf"), ("at.day", "2026-03-14"), ("at.time", time)]
        {
            set(&mut typed, &format!("doughs.0.fixed.0.{field}"), value);
        }
        typed
    };
    let (status, wrong) =
        text(app.call(post("/day", &fields("dusk", "plan")).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(fault(&wrong, "doughs.0.fixed.0.at.time").contains("time of day"), "{wrong:.300}");
    app.call(post("/day", &fields("15:20", "plan")).to_request()).await.unwrap();
    let (_, page) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    assert!(page.contains("<span class=\"at\">15:20"), "shaped at twenty past three");
    app.call(post("/day", &fields("15:20", "free:0:0")).to_request()).await.unwrap();
    assert!(stored(&kitchen).doughs[0].fixed.is_empty());
}

/// While something is moved, the plan is told as it would be; nothing is saved.
#[actix_web::test]
async fn what_is_moved_is_planned_while_it_moves() {
    let kitchen = demo();
    let app = app!(kitchen);
    app.call(post("/day", &with_op(&tin_loaf(), "plan")).to_request()).await.unwrap();
    let before = stored(&kitchen);
    let tried = |moved: &str, key: &str| {
        post("/day/try", &[("move".to_owned(), moved.to_owned()), ("key".to_owned(), key.to_owned())])
            .to_request()
    };
    // Wanted at 17:00 instead of 18:00.
    let (status, body) = text(app.call(tried("0::204", "as-written")).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    let answer: serde_json::Value = serde_json::from_str(&body).unwrap();
    assert!(answer["when"].as_str().unwrap().ends_with("17:00"), "{}", answer["when"]);
    assert!(answer["picture"].as_str().unwrap().starts_with("<svg"));
    assert!(answer["says"].as_str().unwrap().starts_with("Ready to cut: Weirside tin loaf Sat 1"));
    // In the small hours of a night nobody shapes.
    let (_, body) = text(app.call(tried("0:shape.0:300", "as-written")).await.unwrap()).await;
    assert!(body.contains("That cannot be"), "{body:.200}");
    for (moved, key) in [("0:shape.0", "as-written"), ("", "as-written"), ("x:shape.0:200", "")] {
        assert_eq!(app.call(tried(moved, key)).await.unwrap().status(), StatusCode::BAD_REQUEST, "{moved}");
    }
    assert_eq!(stored(&kitchen), before);
}

/// What was found at once is searched on; the part that comes then is that of the page.
#[actix_web::test]
async fn the_search_goes_on_after_the_page_is_there() {
    let kitchen = demo();
    let app = app!(kitchen);
    let two = asked("2", &[(1, "at", "2026-03-14", "18:00"), (5, "by", "2026-03-15", "12:00")]);
    app.call(post("/day", &with_op(&two, "plan")).to_request()).await.unwrap();
    let (_, page) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    assert!(!buttons(&page, "take:").is_empty());
    let (status, part) = text(app.call(get("/day/searched").to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    assert!(part.contains("id=\"offers\"") && !part.contains("<html"));
    let (_, page) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    assert_eq!(buttons(&page, "take:"), buttons(&part, "take:"), "the page shows what was found");
    let stop = post("/day/stop", &Vec::<(String, String)>::new()).to_request();
    assert_eq!(app.call(stop).await.unwrap().status(), StatusCode::NO_CONTENT);
}

/// A calendar's events become rows to look at; one that is none is refused with its line, and nothing typed is lost.
#[actix_web::test]
async fn a_calendar_becomes_hours_away() {
    let kitchen = demo();
    let app = app!(kitchen);
    let mut typed = with_op(&tin_loaf(), "absences");
    let text_of = "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nUID:1\r\nSUMMARY:Choir\r\nDTSTART:20260314T140000Z\r\nDURATION:PT2H\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n";
    set(&mut typed, "calendar", text_of);
    let (status, page) = text(app.call(post("/day", &typed).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::OK);
    for (field, value) in [("name", "Choir"), ("from", "14:00"), ("to", "16:00")] {
        assert!(page.contains(&format!("name=\"exceptions.0.{field}\" value=\"{value}\"")), "{field}");
    }
    assert!(kitchen.store.day_plan().unwrap().plan.is_none(), "shown before it is taken");
    set(&mut typed, "calendar", "flour, water, salt");
    let (status, page) = text(app.call(post("/day", &typed).to_request()).await.unwrap()).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert!(fault(&page, "calendar").contains("line 1"), "{}", fault(&page, "calendar"));
    assert!(page.contains("value=\"18:00\""));
    set(&mut typed, "calendar", "BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n");
    let (_, page) = text(app.call(post("/day", &typed).to_request()).await.unwrap()).await;
    assert!(page.contains("No event of this calendar takes time"));
}

/// One step goes into a calendar by itself; what the plan needs is summed up, against what is there.
#[actix_web::test]
async fn a_step_and_the_shopping_of_a_plan() {
    let kitchen = demo();
    let app = app!(kitchen);
    kitchen
        .store
        .change_cupboard(None, |c| {
            c.stock.insert("bread-flour".into(), 100.0);
            Ok(())
        })
        .unwrap();
    app.call(post("/day", &with_op(&tin_loaf(), "plan")).to_request()).await.unwrap();
    app.call(post("/day", &pressed(&kitchen, "take:as-written")).to_request()).await.unwrap();
    let (status, file) =
        text(app.call(get("/day/step.ics?dough=0&id=shape.0").to_request()).await.unwrap()).await;
    assert_eq!((status, file.matches("BEGIN:VEVENT").count()), (StatusCode::OK, 1));
    let none = app.call(get("/day/step.ics?dough=7&id=shape.0").to_request()).await.unwrap();
    assert_eq!(none.status(), StatusCode::NOT_FOUND);
    let (_, page) = text(app.call(get("/day").to_request()).await.unwrap()).await;
    let row = page.split("<th scope=\"row\">Bread flour</th>").nth(1).unwrap().split("</tr>").next().unwrap();
    assert!(row.contains(">100 g<") && row.contains("<strong>"), "{row}");
}
