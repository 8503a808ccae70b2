//! The pages of Cerealis: Actix Web handlers by what they serve, Askama templates, SVG pictures.

mod arrival;
pub mod asks;
mod assets;
mod backups;
mod bake;
mod bin;
mod bring;
mod cupboard;
mod day;
mod days;
mod download;
mod error;
pub mod form;
pub mod formula_page;
mod formulas;
pub mod household;
mod installed;
mod instruments;
mod kitchen;
mod last_read;
mod listeners;
mod live;
mod measures;
mod mix;
pub mod notation;
mod oven;
pub mod picture;
mod posted;
mod rise;
pub mod routes;
mod security;
mod seen;
mod shape;
pub mod sharing;
pub mod show;
mod sure;
mod today;
mod versions;
pub mod view;
mod watching;
mod words;

use std::net::{Ipv4Addr, TcpListener};
use std::time::Duration;

use actix_session::SessionMiddleware;
use actix_session::config::PersistentSession;
use actix_web::cookie::time::Duration as CookieDuration;
use actix_web::cookie::{Key, SameSite};
use actix_web::dev::ServerHandle;
use actix_web::{App, HttpServer, middleware, web};
use cerealis_store::{Backups, Setting, Store};
use rustls::ServerConfig;

use crate::error::PageError;
use crate::posted::up_to;
use crate::routes::{Routes, Who};
use crate::seen::Figures;
use crate::sharing::{Door, Doors, Sessions, Share};

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

/// A kitchen that is served.
#[derive(Clone)]
pub struct House {
    /// Its file.
    pub store: Store,
    known: Known,
    doors: web::Data<Doors>,
    backups: web::Data<Backups>,
    figures: web::Data<Figures>,
}

impl House {
    /// One that may be shared, with the folder of its backups.
    pub fn new(store: Store, share: Share, backups: Backups) -> House {
        let (doors, backups) = (web::Data::new(Doors::new(share)), web::Data::new(backups));
        House { store, known: Known::default(), doors, backups, figures: web::Data::new(Figures(false)) }
    }

    /// The same with its figures given out at this machine.
    pub fn with_figures(self) -> House {
        House { figures: web::Data::new(Figures(true)), ..self }
    }
}

/// How many connections a door takes at once, by each worker. What is small goes out at once on each: on a kept connection the
/// second part of an answer would wait 40 ms for the other side to say that it has the first.
const CONNECTIONS: usize = 256;

/// Serves the pages until the process is told to stop.
///
/// # Errors
/// What the sockets report.
pub async fn serve(house: House, listener: TcpListener) -> std::io::Result<()> {
    let here = house.clone();
    let server = HttpServer::new(move || {
        let house = here.clone();
        App::new()
            .wrap(middleware::from_fn(watching::tell))
            .wrap(middleware::from_fn(notation::say))
            .wrap(middleware::Compress::default())
            .wrap(middleware::from_fn(error::keep_typed))
            .wrap(middleware::from_fn(arrival::in_time))
            .wrap(middleware::from_fn(security::guard))
            .wrap(middleware::from_fn(seen::asked))
            .configure(move |config| routes(config, &house, Door::Here))
    })
    .workers(2)
    .max_connections(CONNECTIONS)
    .tcp_nodelay(true)
    .client_request_timeout(Duration::from_secs(10))
    .listen(listener)?
    .run();
    let key = cookie_key(&house.store)?;
    let begin = |listeners: Vec<TcpListener>, tls: ServerConfig| shared(&house, &key, listeners, tls);
    tokio::select! {
        ended = server => ended,
        () = house.doors.keep(&house.store, &begin) => Ok(()),
        () = house.known.instruments.keep(&house.store, house.known.live.clone()) => Ok(()),
    }
}

/// What session cookies are signed by: the same until the kitchen is another.
fn cookie_key(store: &Store) -> std::io::Result<Key> {
    let made = || Key::generate().master().iter().map(|b| format!("{b:02x}")).collect();
    let kept: String = store.setting_or(Setting::CookieKey, made).map_err(std::io::Error::other)?;
    let byte = |n: usize| kept.get(2 * n..2 * n + 2).and_then(|pair| u8::from_str_radix(pair, 16).ok());
    let bytes: Option<Vec<u8>> = (0..kept.len() / 2).map(byte).collect();
    match bytes.filter(|b| b.len() >= 64) {
        Some(bytes) => Ok(Key::from(&bytes)),
        None => Err(std::io::Error::other("what cookies are signed by does not read")),
    }
}

/// How long a device stays signed in.
const SIGNED_IN: CookieDuration = CookieDuration::days(30);

/// Serves the household's devices at listeners of its network.
fn shared(
    house: &House,
    key: &Key,
    listeners: Vec<TcpListener>,
    tls: ServerConfig,
) -> std::io::Result<ServerHandle> {
    let (house, key) = (house.clone(), key.clone());
    let mut server = HttpServer::new(move || {
        let (house, key) = (house.clone(), key.clone());
        let signs = key.clone();
        let lasts = PersistentSession::default().session_ttl(SIGNED_IN);
        let sessions = SessionMiddleware::builder(Sessions(house.store.clone()), key)
            // A name that a browser takes from this place alone, by TLS alone.
            .cookie_name("__Host-cerealis".into())
            .cookie_same_site(SameSite::Strict)
            .session_lifecycle(lasts)
            .build();
        App::new()
            .app_data(web::Data::new(sharing::Signs(signs.clone())))
            .wrap(middleware::from_fn(sharing::drawn_for))
            .wrap(middleware::from_fn(watching::tell))
            .wrap(middleware::from_fn(notation::say))
            .wrap(middleware::Compress::default())
            .wrap(middleware::from_fn(error::keep_typed))
            .wrap(middleware::from_fn(sharing::let_in))
            .wrap(sessions)
            .wrap(middleware::from_fn(arrival::in_time))
            .wrap(middleware::from_fn(security::guard))
            .wrap(middleware::from_fn(seen::asked))
            .configure(move |config| {
                let door = Door::Kitchen(house.doors.names.clone());
                routes(config, &house, door);
            })
    })
    .workers(2)
    .max_connections(CONNECTIONS)
    .tcp_nodelay(true)
    .client_request_timeout(Duration::from_secs(10))
    .tls_handshake_timeout(Duration::from_secs(5))
    .disable_signals();
    for listener in listeners {
        server = server.listen_rustls_0_23(listener, tls.clone())?;
    }
    let running = server.run();
    let handle = running.handle();
    actix_web::rt::spawn(running);
    Ok(handle)
}

/// What the pages keep from one request to the next: one for all workers, so that what one has read the others know.
#[derive(Clone, Default)]
struct Known {
    read: web::Data<last_read::LastRead>,
    index: web::Data<formulas::Index>,
    planner: web::Data<days::Planner>,
    live: web::Data<live::Live>,
    instruments: web::Data<instruments::Instruments>,
    stood: web::Data<bake::Stood>,
}

/// All routes behind a door; separate from [`serve`] so that tests can drive them without a socket.
pub fn routes(config: &mut web::ServiceConfig, house: &House, door: Door) {
    let House { store, known, doors, backups, figures } = house.clone();
    let (payload, most) = up_to(BODY_MAX);
    config
        .app_data(web::Data::new(store))
        .app_data(web::Data::new(door))
        .app_data(doors)
        .app_data(backups)
        .app_data(figures)
        .app_data(known.read.clone())
        .app_data(known.index.clone())
        .app_data(known.planner.clone())
        .app_data(known.live.clone())
        .app_data(known.instruments.clone())
        .app_data(known.stood.clone())
        .app_data(payload)
        .app_data(most)
        .app_data(web::PathConfig::default().error_handler(|_, _| PageError::NotFound.into()))
        .app_data(web::QueryConfig::default().error_handler(|e, _| PageError::BadQuery(e.to_string()).into()))
        .app_data(
            web::JsonConfig::default().limit(4096).error_handler(|_, _| PageError::UnknownButton.into()),
        );
    addresses().serve(config);
    config.default_service(web::to(error::not_found));
}

/// Every address that is served, for whom it is, and what answers there.
pub fn addresses() -> Routes {
    let (bring_payload, bring_most) = up_to(BRING_MAX);
    let (day_payload, day_most) = up_to(BRING_MAX);
    Routes::default()
        .at("/")
        .get(Who::Household, today::home)
        .at("/export")
        .get(Who::Baker, formulas::export_all)
        .at("/formulas")
        .get(Who::Baker, formulas::list)
        .post(Who::Baker, formulas::create)
        .at("/formulas/bring")
        .data(bring_payload)
        .data(bring_most)
        .get(Who::Baker, bring::show)
        .post(Who::Baker, bring::post)
        .at("/formulas/examples")
        .post(Who::Baker, formulas::first_run::load_examples)
        .at("/formulas/examples/remove")
        .post(Who::Baker, formulas::first_run::remove_examples)
        .at("/kitchen/first")
        .post(Who::Baker, formulas::first_run::answer)
        .at("/formulas/{id}")
        .get(Who::Baker, formula_page::first_station)
        .post(Who::Baker, formula_page::save)
        .at("/formulas/{id}/preview")
        .post(Who::Baker, formula_page::preview)
        .at("/formulas/{id}/copy")
        .post(Who::Baker, formulas::copy)
        .at("/formulas/{id}/delete")
        .post(Who::Baker, formulas::delete)
        .at("/formulas/{id}/archive")
        .post(Who::Baker, formulas::archive)
        .at("/formulas/{id}/restore")
        .post(Who::Baker, formulas::restore)
        .at("/formulas/{id}/export/{format}")
        .get(Who::Baker, formulas::export)
        .at("/formulas/{id}/dough")
        .get(Who::Baker, bake::begin_page)
        .post(Who::Baker, bake::take_up)
        .at("/bakes")
        .get(Who::Household, bake::list)
        .post(Who::Baker, bake::begin)
        .at("/bakes/{id}")
        .get(Who::Household, bake::show)
        .post(Who::Household, bake::press)
        .at("/bakes/{id}/part")
        .get(Who::Household, bake::fresh)
        .at("/bakes/{id}/photos")
        .data(web::PayloadConfig::new(bake::PHOTO_MAX))
        .post(Who::Household, bake::add_photo)
        .at("/bakes/{id}/photos/{name}")
        .get(Who::Household, bake::photo)
        .at("/bakes/{id}/rise")
        .get(Who::Household, bake::rise)
        .post(Who::Household, bake::rise_post)
        .at("/live")
        .get(Who::Household, live::events)
        .at("/instruments")
        .get(Who::Household, instruments::show)
        .post(Who::Household, instruments::press)
        .at("/instruments/test")
        .post(Who::Baker, instruments::test)
        .at("/formulas/{id}/versions")
        .get(Who::Baker, versions::show)
        .post(Who::Baker, versions::go_back)
        .at("/formulas/{id}/sheet")
        .get(Who::Household, formula_page::sheet)
        .at("/formulas/{id}/{station}")
        .get(Who::Baker, formula_page::station)
        .at("/damaged/{kind}/{id}")
        .get(Who::Baker, formulas::download_damaged)
        .at("/damaged/{kind}/{id}/delete")
        .post(Who::Baker, formulas::delete_damaged)
        .at("/cupboard")
        .get(Who::Baker, cupboard::show)
        .at("/cupboard/prices")
        .post(Who::Baker, cupboard::save_prices)
        .at("/cupboard/own/new")
        .get(Who::Baker, cupboard::new)
        .at("/cupboard/own")
        .post(Who::Baker, cupboard::create)
        .at("/cupboard/own/restore")
        .post(Who::Baker, cupboard::restore)
        .at("/cupboard/own/{key}")
        .get(Who::Baker, cupboard::edit)
        .post(Who::Baker, cupboard::save)
        .at("/cupboard/own/{key}/delete")
        .post(Who::Baker, cupboard::delete)
        .at("/kitchen")
        .get(Who::Baker, kitchen::show)
        .post(Who::Baker, kitchen::save)
        .at("/kitchen/export")
        .get(Who::Baker, kitchen::export)
        .at("/kitchen/draw")
        .post(Who::Baker, kitchen::draw)
        .at("/kitchen/zone")
        .post(Who::Baker, kitchen::begin_in_zone)
        .at("/day")
        .data(day_payload)
        .data(day_most)
        .get(Who::Household, days::show)
        .post(Who::Baker, days::post)
        .at("/day/searched")
        .get(Who::Household, days::searched)
        .at("/day/stop")
        .post(Who::Baker, days::stop)
        .at("/day/try")
        .post(Who::Baker, days::tried)
        .at("/day/step.ics")
        .get(Who::Household, days::step)
        .at("/day/calendar.ics")
        .get(Who::Household, days::calendar)
        .at("/backups")
        .get(Who::Baker, backups::show)
        .post(Who::Baker, backups::post)
        .at("/backups/bring")
        .post(Who::Baker, backups::bring)
        .at("/backups/now")
        .get(Who::Baker, backups::now)
        .at("/backups/file/{name}")
        .get(Who::Baker, backups::file)
        .at("/watch")
        .get(Who::Household, watching::show)
        .post(Who::Baker, watching::read)
        .at("/bin")
        .get(Who::Baker, bin::show)
        .post(Who::Baker, bin::take_back)
        .at("/sharing")
        .get(Who::Baker, sharing::show)
        .post(Who::Baker, sharing::post)
        .at("/sharing/strength")
        .post(Who::Baker, sharing::strength)
        .at("/sign-in")
        .get(Who::Anyone, sharing::sign_in)
        .post(Who::Anyone, sharing::signed_in)
        .at("/sign-out")
        .post(Who::Household, sharing::out)
        .at("/pair/{token}")
        .get(Who::Anyone, sharing::pair)
        .post(Who::Anyone, sharing::paired)
        .at("/trust")
        .get(Who::Anyone, sharing::trust)
        .at("/trust/authority.crt")
        .get(Who::Anyone, sharing::authority)
        .at("/manifest.webmanifest")
        .get(Who::Anyone, installed::manifest)
        .at("/worker.js")
        .get(Who::Anyone, installed::worker)
        .at("/offline")
        .get(Who::Anyone, installed::offline)
        .at("/healthz")
        .get(Who::ThisMachine, seen::health)
        .at("/metrics")
        .get(Who::ThisMachine, seen::figures)
        .at("/sure")
        .get(Who::Household, sure::show)
        .at("/words")
        .get(Who::Household, words::show)
        .at("/static/{path:.*}")
        .get(Who::Anyone, assets::serve)
}

/// The layers around the routes, for tests that check them.
pub use error::keep_typed;
pub use security::guard as security_guard;
