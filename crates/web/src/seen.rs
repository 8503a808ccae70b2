//! The program seen from outside: whether it is well, how much it is asked, and how long that takes. Addresses are told by
//! their route, and nothing that anybody typed is.

use std::sync::atomic::AtomicU64;
use std::time::Instant;

use actix_web::body::{BoxBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::middleware::Next;
use actix_web::{Error, HttpResponse, web};
use cerealis_store::{Backups, FindingKind, LEAST_ROOM, Store};
use prometheus_client::encoding::text::encode;
use prometheus_client::metrics::counter::Counter;
use prometheus_client::metrics::gauge::Gauge;
use prometheus_client::registry::{Registry, Unit};

use crate::error::{PageError, blocking};
use crate::measures::{Asked, MEASURES, Of};
use crate::sharing::AtThisMachine;

/// Counts what is asked, and notes it in the log.
///
/// # Errors
/// What the handler reports.
pub async fn asked(
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    let (began, method) = (Instant::now(), request.method().to_string());
    MEASURES.open.inc();
    let answered = next.call(request).await;
    MEASURES.open.dec();
    let response = answered?.map_into_boxed_body();
    let route = response.request().match_pattern().unwrap_or_else(|| "none".into());
    let (status, took) = (response.status().as_u16(), began.elapsed());
    log::info!(method = method.as_str(), route = route.as_str(), status = status, ms = took.as_secs_f64() * 1e3; "asked");
    MEASURES.answers.get_or_create(&Of { what: route.clone() }).observe(took.as_secs_f64());
    MEASURES.requests.get_or_create(&Asked { method, route, status }).inc();
    Ok(response)
}

/// Whether figures are given out.
#[derive(Clone, Copy)]
pub struct Figures(pub bool);

/// A device that was seen within this time is there now, s.
const LATELY: i64 = 5 * 60;

/// The figures, in the text that Prometheus reads; at this machine alone, and where it was started for it.
pub async fn figures(
    _here: AtThisMachine,
    given: web::Data<Figures>,
    store: web::Data<Store>,
) -> Result<HttpResponse, PageError> {
    if !given.0 {
        return Err(PageError::NotFound);
    }
    let (written, devices) = blocking(move || {
        let now = store.clock.now();
        let here = |d: &cerealis_store::Device| now.duration_since(d.seen_at).as_secs() <= LATELY;
        Ok((store.written(), store.devices()?.iter().filter(|d| here(d)).count()))
    })
    .await?;
    let mut all = Registry::with_prefix("cerealis");
    let m = &*MEASURES;
    all.register("requests", "Requests by route and status", m.requests.clone());
    all.register_with_unit("answer", "Times to an answer by route", Unit::Seconds, m.answers.clone());
    all.register_with_unit("engine", "Times of the engines", Unit::Seconds, m.engines.clone());
    all.register("open_requests", "Requests that are being answered", m.open.clone());
    all.register("live_pages", "Pages that listen to what happens", m.listening.clone());
    let lately: Gauge = Gauge::default();
    lately.set(devices as i64);
    all.register("devices_lately", "Devices of the household seen within five minutes", lately);
    let writes: Counter<u64, AtomicU64> = Counter::default();
    writes.inc_by(written.count);
    all.register("writes", "Writes to the kitchen's file", writes);
    let write_time: Counter<f64, AtomicU64> = Counter::default();
    write_time.inc_by(written.took.as_secs_f64());
    all.register_with_unit("write", "Time that writes took in all", Unit::Seconds, write_time);
    let mut text = String::new();
    encode(&mut text, &all).map_err(|_| PageError::Slow)?;
    Ok(HttpResponse::Ok()
        .content_type("application/openmetrics-text; version=1.0.0; charset=utf-8")
        .body(text))
}

/// Whether it is well: the file answers, the disk has room; and when the last backup was made.
pub async fn health(
    _here: AtThisMachine,
    store: web::Data<Store>,
    backups: web::Data<Backups>,
) -> Result<HttpResponse, PageError> {
    let (file, free, last, findings) = blocking(move || {
        let now = store.clock.now();
        let last = backups.last(now).ok().flatten().map(|at| at.to_string());
        store.look();
        Ok((store.answers().is_ok(), backups.room().map_or(0, |r| r.free), last, store.findings()))
    })
    .await?;
    let well =
        file && free >= LEAST_ROOM && !findings.iter().any(|f| f.stops || f.kind == FindingKind::DiskFull);
    let findings: Vec<_> = findings
        .iter()
        .map(|f| serde_json::json!({ "code": f.kind.key(), "stops_saving": f.stops, "says": f.says }))
        .collect();
    let mut answer = if well { HttpResponse::Ok() } else { HttpResponse::ServiceUnavailable() };
    Ok(answer.json(serde_json::json!({
        "ok": well, "file": file, "disk_free": free, "last_backup": last, "findings": findings, "version": env!("CARGO_PKG_VERSION"),
    })))
}
