//! The pages of Cerealis: Actix Web handlers by what they serve, Askama templates, SVG pictures.

pub mod asks;
mod assets;
mod bring;
mod cupboard;
mod day;
mod days;
mod dough;
mod download;
mod error;
pub mod form;
pub mod formula_page;
mod formulas;
pub mod household;
mod kitchen;
mod last_read;
mod mix;
pub mod notation;
mod oven;
pub mod picture;
mod posted;
mod rise;
mod security;
mod shape;
pub mod show;
mod sure;
mod versions;
pub mod view;
mod words;

use std::net::{Ipv4Addr, TcpListener};
use std::time::Duration;

use actix_web::{App, HttpResponse, HttpServer, guard, middleware, web};

use crate::error::PageError;
use crate::posted::up_to;
use cerealis_store::Store;

/// The largest body that a page may send: a formula of sixty lines is under 20 kB.
const BODY_MAX: usize = 128 * 1024;

/// The largest body that brings something in: the text, which a form writes at up to thrice its
/// length, and the rows under review.
const BRING_MAX: usize = 4 * cerealis_core::formats::TEXT_MAX;

/// Binds the address that pages are served on: this machine only.
///
/// # Errors
/// When the port is taken, or may not be used.
pub fn listen(port: u16) -> std::io::Result<TcpListener> {
    TcpListener::bind((Ipv4Addr::LOCALHOST, port))
}

/// Serves the pages until the process is told to stop.
///
/// # Errors
/// What the sockets report.
pub async fn serve(store: Store, listener: TcpListener) -> std::io::Result<()> {
    // One for all workers: what one has read the others know.
    let known = Known::default();
    HttpServer::new(move || {
        App::new()
            .wrap(middleware::from_fn(notation::say))
            .wrap(middleware::Compress::default())
            .wrap(middleware::from_fn(error::keep_typed))
            .wrap(middleware::from_fn(security::guard))
            .configure(|config| routes(config, store.clone(), &known))
    })
    .workers(2)
    .max_connections(256)
    .client_request_timeout(Duration::from_secs(10))
    .listen(listener)?
    .run()
    .await
}

/// What the pages keep from one request to the next.
#[derive(Clone, Default)]
pub struct Known {
    read: web::Data<last_read::LastRead>,
    index: web::Data<formulas::Index>,
    planner: web::Data<days::Planner>,
}

/// All routes; separate from [`serve`] so that tests can drive them without a socket.
pub fn routes(config: &mut web::ServiceConfig, store: Store, known: &Known) {
    // Every address has its own methods; another one is told so, and HEAD is a GET without its body.
    let at = |path: &str| web::resource(path).default_service(web::to(not_so));
    let get = || web::route().guard(guard::Any(guard::Get()).or(guard::Head()));
    let (payload, most) = up_to(BODY_MAX);
    let (bring_payload, bring_most) = up_to(BRING_MAX);
    let (day_payload, day_most) = up_to(BRING_MAX);
    config
        .app_data(web::Data::new(store))
        .app_data(known.read.clone())
        .app_data(known.index.clone())
        .app_data(known.planner.clone())
        .app_data(payload)
        .app_data(most)
        .app_data(web::PathConfig::default().error_handler(|_, _| PageError::NotFound.into()))
        .app_data(web::QueryConfig::default().error_handler(|e, _| PageError::BadQuery(e.to_string()).into()))
        .app_data(
            web::JsonConfig::default().limit(4096).error_handler(|_, _| PageError::UnknownButton.into()),
        )
        .service(at("/").route(get().to(formulas::home)))
        .service(at("/export").route(get().to(formulas::export_all)))
        .service(at("/formulas").route(get().to(formulas::list)).route(web::post().to(formulas::create)))
        .service(
            at("/formulas/bring")
                .app_data(bring_payload)
                .app_data(bring_most)
                .route(get().to(bring::show))
                .route(web::post().to(bring::post)),
        )
        .service(at("/formulas/examples").route(web::post().to(formulas::first_run::load_examples)))
        .service(at("/formulas/examples/remove").route(web::post().to(formulas::first_run::remove_examples)))
        .service(at("/kitchen/first").route(web::post().to(formulas::first_run::answer)))
        .service(
            at("/formulas/{id}")
                .route(get().to(formula_page::first_station))
                .route(web::post().to(formula_page::save)),
        )
        .service(at("/formulas/{id}/preview").route(web::post().to(formula_page::preview)))
        .service(at("/formulas/{id}/copy").route(web::post().to(formulas::copy)))
        .service(at("/formulas/{id}/delete").route(web::post().to(formulas::delete)))
        .service(at("/formulas/{id}/archive").route(web::post().to(formulas::archive)))
        .service(at("/formulas/{id}/restore").route(web::post().to(formulas::restore)))
        .service(at("/formulas/{id}/export/{format}").route(get().to(formulas::export)))
        .service(at("/formulas/{id}/dough").route(get().to(dough::show)).route(web::post().to(dough::post)))
        .service(
            at("/formulas/{id}/versions")
                .route(get().to(versions::show))
                .route(web::post().to(versions::go_back)),
        )
        .service(at("/formulas/{id}/sheet").route(get().to(formula_page::sheet)))
        .service(at("/formulas/{id}/{station}").route(get().to(formula_page::station)))
        .service(at("/damaged/{kind}/{id}").route(get().to(formulas::download_damaged)))
        .service(at("/damaged/{kind}/{id}/delete").route(web::post().to(formulas::delete_damaged)))
        .service(at("/cupboard").route(get().to(cupboard::show)))
        .service(at("/cupboard/prices").route(web::post().to(cupboard::save_prices)))
        .service(at("/cupboard/own/new").route(get().to(cupboard::new)))
        .service(at("/cupboard/own").route(web::post().to(cupboard::create)))
        .service(at("/cupboard/own/restore").route(web::post().to(cupboard::restore)))
        .service(
            at("/cupboard/own/{key}").route(get().to(cupboard::edit)).route(web::post().to(cupboard::save)),
        )
        .service(at("/cupboard/own/{key}/delete").route(web::post().to(cupboard::delete)))
        .service(at("/kitchen").route(get().to(kitchen::show)).route(web::post().to(kitchen::save)))
        .service(at("/kitchen/export").route(get().to(kitchen::export)))
        .service(at("/kitchen/draw").route(web::post().to(kitchen::draw)))
        .service(at("/kitchen/zone").route(web::post().to(kitchen::begin_in_zone)))
        .service(
            at("/day")
                .app_data(day_payload)
                .app_data(day_most)
                .route(get().to(days::show))
                .route(web::post().to(days::post)),
        )
        .service(at("/day/searched").route(get().to(days::searched)))
        .service(at("/day/stop").route(web::post().to(days::stop)))
        .service(at("/day/try").route(web::post().to(days::tried)))
        .service(at("/day/step.ics").route(get().to(days::step)))
        .service(at("/day/calendar.ics").route(get().to(days::calendar)))
        .service(at("/sure").route(get().to(sure::show)))
        .service(at("/words").route(get().to(words::show)))
        .service(at("/static/{path:.*}").route(get().to(assets::serve)))
        .default_service(web::to(error::not_found));
}

async fn not_so() -> Result<HttpResponse, PageError> {
    Err(PageError::NotSo)
}

/// The layers around the routes, for tests that check them.
pub use error::keep_typed;
pub use security::guard as security_guard;
