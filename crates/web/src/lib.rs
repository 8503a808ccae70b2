//! The pages of Cerealis: Actix Web handlers by what they serve, Askama templates, SVG pictures.

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
mod live;
mod measures;
mod mix;
pub mod notation;
mod oven;
pub mod picture;
mod posted;
mod rise;
mod security;
mod seen;
mod shape;
pub mod sharing;
pub mod show;
mod sure;
mod today;
mod versions;
pub mod view;
mod words;

use std::net::{Ipv4Addr, TcpListener};
use std::time::Duration;

use actix_session::SessionMiddleware;
use actix_session::config::PersistentSession;
use actix_web::cookie::time::Duration as CookieDuration;
use actix_web::cookie::{Key, SameSite};
use actix_web::dev::ServerHandle;
use actix_web::{App, HttpResponse, HttpServer, guard, middleware, web};
use cerealis_store::{Backups, Setting, Store};
use rustls::ServerConfig;

use crate::error::PageError;
use crate::posted::up_to;
use crate::seen::Figures;
use crate::sharing::{Door, Doors, Sessions, Share};

/// The largest body that a page may send: a formula of sixty lines is under 20 kB.
const BODY_MAX: usize = 128 * 1024;

/// The largest body that brings something in: the text, which a form writes at up to thrice its
/// length, and the rows under review.
const BRING_MAX: usize = 4 * cerealis_core::formats::TEXT_MAX;

/// The largest backup that a page takes.
const BACKUP_MAX: usize = 64 * 1024 * 1024;

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
            .wrap(middleware::from_fn(notation::say))
            .wrap(middleware::Compress::default())
            .wrap(middleware::from_fn(error::keep_typed))
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
        let lasts = PersistentSession::default().session_ttl(SIGNED_IN);
        let sessions = SessionMiddleware::builder(Sessions(house.store.clone()), key)
            // A name that a browser takes from this place alone, by TLS alone.
            .cookie_name("__Host-cerealis".into())
            .cookie_same_site(SameSite::Strict)
            .session_lifecycle(lasts)
            .build();
        App::new()
            .wrap(middleware::from_fn(sharing::drawn_for))
            .wrap(middleware::from_fn(notation::say))
            .wrap(middleware::Compress::default())
            .wrap(middleware::from_fn(error::keep_typed))
            .wrap(middleware::from_fn(sharing::let_in))
            .wrap(sessions)
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
    // Every address has its own methods; another one is told so, and HEAD is a GET without its body.
    let at = |path: &str| web::resource(path).default_service(web::to(not_so));
    let get = || web::route().guard(guard::Any(guard::Get()).or(guard::Head()));
    let (payload, most) = up_to(BODY_MAX);
    let (bring_payload, bring_most) = up_to(BRING_MAX);
    let (day_payload, day_most) = up_to(BRING_MAX);
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
        )
        .service(at("/").route(get().to(today::home)))
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
        .service(
            at("/formulas/{id}/dough").route(get().to(bake::begin_page)).route(web::post().to(bake::take_up)),
        )
        .service(at("/bakes").route(get().to(bake::list)).route(web::post().to(bake::begin)))
        .service(at("/bakes/{id}").route(get().to(bake::show)).route(web::post().to(bake::press)))
        .service(at("/bakes/{id}/part").route(get().to(bake::fresh)))
        .service(
            web::resource("/bakes/{id}/photos")
                .app_data(web::PayloadConfig::new(bake::PHOTO_MAX))
                .default_service(web::to(not_so))
                .route(web::post().to(bake::add_photo)),
        )
        .service(at("/bakes/{id}/photos/{name}").route(get().to(bake::photo)))
        .service(at("/bakes/{id}/rise").route(get().to(bake::rise)).route(web::post().to(bake::rise_post)))
        .service(at("/live").route(get().to(live::events)))
        .service(
            at("/instruments").route(get().to(instruments::show)).route(web::post().to(instruments::press)),
        )
        .service(at("/instruments/test").route(web::post().to(instruments::test)))
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
        .service(at("/backups").route(get().to(backups::show)).route(web::post().to(backups::post)))
        .service(
            at("/backups/bring")
                .app_data(web::PayloadConfig::new(BACKUP_MAX))
                .route(web::post().to(backups::bring)),
        )
        .service(at("/backups/file/{name}").route(get().to(backups::file)))
        .service(at("/bin").route(get().to(bin::show)).route(web::post().to(bin::take_back)))
        .service(at("/sharing").route(get().to(sharing::show)).route(web::post().to(sharing::post)))
        .service(at("/sharing/strength").route(web::post().to(sharing::strength)))
        .service(at("/sign-in").route(get().to(sharing::sign_in)).route(web::post().to(sharing::signed_in)))
        .service(at("/sign-out").route(web::post().to(sharing::out)))
        .service(at("/pair/{token}").route(get().to(sharing::pair)).route(web::post().to(sharing::paired)))
        .service(at("/trust").route(get().to(sharing::trust)))
        .service(at("/trust/authority.crt").route(get().to(sharing::authority)))
        .service(at("/manifest.webmanifest").route(get().to(installed::manifest)))
        .service(at("/worker.js").route(get().to(installed::worker)))
        .service(at("/offline").route(get().to(installed::offline)))
        .service(at("/healthz").route(get().to(seen::health)))
        .service(at("/metrics").route(get().to(seen::figures)))
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
