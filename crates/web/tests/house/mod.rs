//! The demo kitchen on a real SQLite file, with the handlers before it.

use actix_web::body::{MessageBody, to_bytes};
use actix_web::dev::ServiceResponse;
use actix_web::http::{StatusCode, header};
use actix_web::test;
use cerealis_store::{FormulaId, Store};
use tempfile::TempDir;

pub struct Kitchen {
    pub store: Store,
    dir: Option<TempDir>,
}

impl Kitchen {
    /// A kitchen that somebody else keeps the place of.
    pub fn at(store: Store) -> Kitchen {
        Kitchen { store, dir: None }
    }

    /// The demo's file.
    pub fn path(&self) -> std::path::PathBuf {
        self.dir.as_ref().unwrap().path().join("kitchen.sqlite")
    }
}

pub fn empty() -> Kitchen {
    let dir = tempfile::tempdir().unwrap();
    let store = Store::open(&dir.path().join("kitchen.sqlite")).unwrap();
    Kitchen { store, dir: Some(dir) }
}

pub fn demo() -> Kitchen {
    let kitchen = empty();
    kitchen.home().fill_with_demo().unwrap();
    kitchen
}

/// The program as it is served, without a socket; a macro, since its type has no name.
macro_rules! app {
    ($kitchen:expr) => {
        actix_web::test::init_service(
            actix_web::App::new()
                .wrap(actix_web::middleware::from_fn(cerealis_web::keep_typed))
                .wrap(actix_web::middleware::from_fn(cerealis_web::security_guard))
                .configure(|config| {
                    cerealis_web::routes(config, &$kitchen.house(), cerealis_web::sharing::Door::Here)
                }),
        )
        .await
    };
}

pub const HOST: &str = "127.0.0.1:8750";

pub fn get(path: &str) -> test::TestRequest {
    test::TestRequest::get().uri(path).insert_header((header::HOST, HOST))
}

pub fn post(path: &str, fields: &[(String, String)]) -> test::TestRequest {
    let body = form_urlencoded::Serializer::new(String::new()).extend_pairs(fields).finish();
    test::TestRequest::post()
        .uri(path)
        .insert_header((header::HOST, HOST))
        .insert_header((header::ORIGIN, "http://127.0.0.1:8750"))
        .insert_header((header::CONTENT_TYPE, "application/x-www-form-urlencoded"))
        .set_payload(body)
}

pub async fn text<B: MessageBody>(response: ServiceResponse<B>) -> (StatusCode, String)
where
    B::Error: std::fmt::Debug,
{
    let status = response.status();
    let bytes = to_bytes(response.into_body()).await.unwrap_or_else(|_| panic!("no body"));
    (status, String::from_utf8(bytes.to_vec()).unwrap())
}

impl Kitchen {
    /// It as it is served, shut.
    pub fn house(&self) -> cerealis_web::House {
        let beside = self.dir.as_ref().map_or(std::path::PathBuf::from("kitchen.sqlite"), |_| self.path());
        let share = cerealis_web::sharing::Share::beside(&beside);
        cerealis_web::House::new(self.home(), share, cerealis_store::Backups::of(&beside, None))
    }

    /// The kitchen by a clock that stands at a Saturday morning.
    pub fn home(&self) -> cerealis_store::Store {
        let now = "2026-03-14T08:00:30Z".parse::<jiff::Timestamp>().unwrap();
        self.store.clone().by(cerealis_store::Clock::by(move || now))
    }
}

/// The fields of the demo's tin loaf, as its page holds them.
pub fn fields(kitchen: &Kitchen, id: i32) -> Vec<(String, String)> {
    let stored = kitchen.store.formula(FormulaId(id)).unwrap();
    let own = kitchen.store.kitchen().unwrap().kitchen;
    let house = &cerealis_web::household::Household::of(
        own,
        cerealis_store::demo_cupboard(),
        jiff::Timestamp::UNIX_EPOCH,
    );
    let form = cerealis_web::formula_page::fill(&stored.formula, house);
    let mut fields: Vec<_> = form.values().clone().into_iter().filter(|(_, v)| !v.is_empty()).collect();
    fields.push(("revision".into(), stored.revision.to_string()));
    fields.push(("here".into(), "formula".into()));
    fields
}

pub fn set(fields: &mut Vec<(String, String)>, name: &str, value: &str) {
    fields.retain(|(n, _)| n != name);
    fields.push((name.into(), value.into()));
}

/// What a preview of typed fields answers.
#[allow(unused_macros, reason = "each test file uses its part of it")]
macro_rules! preview {
    ($app:expr, $id:expr, $typed:expr) => {{
        let request = $crate::house::post(&format!("/formulas/{}/preview", $id), &$typed).to_request();
        let (status, body) = $crate::house::text($app.call(request).await.unwrap()).await;
        assert_eq!(status, actix_web::http::StatusCode::OK, "{body:.300}");
        serde_json::from_str::<serde_json::Value>(&body).unwrap_or_else(|e| panic!("{e}: {body:.300}"))
    }};
}

/// What is drawn at a place, as its text.
pub fn drawn<'a>(answer: &'a serde_json::Value, place: &str) -> &'a str {
    answer["html"][place].as_str().unwrap_or_else(|| panic!("nothing drawn at {place}: {}", answer["faults"]))
}

/// The fields of the page as it is served, by their names.
pub fn on_page(page: &str) -> Vec<(String, String)> {
    let mut found = Vec::new();
    for tag in page.split("<input").skip(1) {
        let tag = &tag[..tag.find('>').unwrap()];
        let attribute = |name: &str| {
            let from = tag.find(&format!(" {name}=\""))? + name.len() + 3;
            Some(tag[from..from + tag[from..].find('"')?].replace("&#34;", "\"").replace("&#38;", "&"))
        };
        let picked = tag.contains("type=\"radio\"") || tag.contains("type=\"checkbox\"");
        if let Some(name) = attribute("name").filter(|_| !picked || tag.contains(" checked")) {
            found.push((name, attribute("value").unwrap_or_else(|| "on".into())));
        }
    }
    for select in page.split("<select").skip(1) {
        let select = &select[..select.find("</select>").unwrap()];
        let name = select.split("name=\"").nth(1).unwrap().split('"').next().unwrap();
        // With none selected a browser sends the first.
        let options = || select.split("<option").skip(1);
        let chosen = options().find(|o| o.contains(" selected")).or(options().next());
        let value =
            chosen.and_then(|o| o.split("value=\"").nth(1)).map_or("", |v| v.split('"').next().unwrap());
        found.push((name.to_owned(), value.to_owned()));
    }
    found
}
