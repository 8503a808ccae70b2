//! The pages of Cerealis: Actix Web handlers by what they serve, Askama templates, SVG pictures.

mod assets;
mod bench;
mod bring;
mod cupboard;
mod dough;
mod error;
pub mod form;
mod formulas;
mod household;
mod kitchen;
mod last_read;
pub mod picture;
mod posted;
mod security;
mod versions;
pub mod view;

use std::net::{Ipv4Addr, TcpListener};

use actix_web::{App, HttpServer, middleware, web};
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
    HttpServer::new(move || {
        App::new()
            .wrap(middleware::from_fn(security::guard))
            .configure(|config| routes(config, store.clone()))
    })
    .workers(2)
    .listen(listener)?
    .run()
    .await
}

/// All routes; separate from [`serve`] so that tests can drive them without a socket.
pub fn routes(config: &mut web::ServiceConfig, store: Store) {
    config
        .app_data(web::Data::new(store))
        .app_data(web::Data::new(last_read::LastRead::default()))
        .app_data(web::PayloadConfig::new(BODY_MAX))
        .app_data(web::PathConfig::default().error_handler(|_, _| error::PageError::NotFound.into()))
        .route("/", web::get().to(formulas::home))
        .route("/formulas", web::get().to(formulas::list))
        .route("/formulas", web::post().to(formulas::create))
        .service(
            web::resource("/formulas/bring")
                .app_data(web::PayloadConfig::new(BRING_MAX))
                .route(web::get().to(bring::show))
                .route(web::post().to(bring::post)),
        )
        .route("/formulas/{id}", web::get().to(bench::first_station))
        .route("/formulas/{id}", web::post().to(bench::save))
        .route("/formulas/{id}/preview", web::post().to(bench::preview))
        .route("/formulas/{id}/copy", web::post().to(formulas::copy))
        .route("/formulas/{id}/delete", web::post().to(formulas::delete))
        .route("/formulas/{id}/archive", web::post().to(formulas::archive))
        .route("/formulas/{id}/restore", web::post().to(formulas::restore))
        .route("/formulas/{id}/export/{format}", web::get().to(formulas::export))
        .route("/formulas/{id}/dough", web::get().to(dough::show))
        .route("/formulas/{id}/dough", web::post().to(dough::post))
        .route("/formulas/{id}/versions", web::get().to(versions::show))
        .route("/formulas/{id}/versions", web::post().to(versions::go_back))
        .route("/formulas/{id}/sheet", web::get().to(bench::sheet))
        .route("/formulas/{id}/{station}", web::get().to(bench::station))
        .route("/cupboard", web::get().to(cupboard::show))
        .route("/cupboard/prices", web::post().to(cupboard::save_prices))
        .route("/cupboard/own/new", web::get().to(cupboard::new))
        .route("/cupboard/own", web::post().to(cupboard::create))
        .route("/cupboard/own/restore", web::post().to(cupboard::restore))
        .route("/cupboard/own/{key}", web::get().to(cupboard::edit))
        .route("/cupboard/own/{key}", web::post().to(cupboard::save))
        .route("/cupboard/own/{key}/delete", web::post().to(cupboard::delete))
        .route("/kitchen", web::get().to(kitchen::show))
        .route("/kitchen", web::post().to(kitchen::save))
        .route("/static/{path:.*}", web::get().to(assets::serve))
        .default_service(web::to(error::not_found));
}

/// The security layer, for tests that check it.
pub use security::guard;
