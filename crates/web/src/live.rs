//! What happens, told to every open page at once: server-sent events. A page that missed some names the last one that it
//! heard, and is told what has changed since.

use std::sync::Arc;
use std::time::Duration;

use actix_sse::{Data, Event, Sse};
use actix_web::http::header::HeaderValue;
use actix_web::{HttpMessage, HttpRequest, Responder, web};
use cerealis_core::bake::{Over, WeighInput, Weighed, weigh};
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::Catalogue;
use cerealis_core::units::Grams;
use cerealis_store::{BakeId, DeviceId, Store};
use serde::Deserialize;
use tokio::sync::{broadcast, mpsc};
use tokio_stream::wrappers::ReceiverStream;

use crate::error::{PageError, blocking};
use crate::household::Household;
use crate::listeners::{Listener, Listeners};
use crate::sharing::{Doors, Visitor};

/// Something that open pages are told.
#[derive(Clone, Debug)]
pub enum Said {
    /// Something happened to a bake; the number of the event.
    Bake(BakeId, i64),
    /// What an instrument shows, or that it is gone, as JSON.
    Shows(Arc<str>),
    /// What the scale shows: when, in seconds, and grams.
    Scale(Weighed),
}

/// What tells every open page.
pub struct Live {
    tell: broadcast::Sender<Said>,
    listeners: Listeners,
}

/// How much a page that is slow may fall behind.
const BEHIND: usize = 256;

impl Default for Live {
    fn default() -> Self {
        Live { tell: broadcast::channel(BEHIND).0, listeners: Listeners::default() }
    }
}

impl Live {
    /// Tells it; nobody may listen.
    pub fn say(&self, said: Said) {
        let _ = self.tell.send(said);
    }
}

/// What a page listens for.
#[derive(Deserialize)]
pub struct Query {
    /// The bake that it shows.
    bake: Option<BakeId>,
    /// The line of it that is weighed.
    line: Option<usize>,
    /// What stands on the scale already, g, where several lines are weighed on one tare.
    base: Option<f64>,
    /// The last event that it knows.
    after: Option<i64>,
}

/// What a page is weighing: the formula as it stands in its kitchen, and the line.
struct Weighing {
    bake: BakeId,
    line: usize,
    base: Grams,
    known: Option<Known>,
    shown: Vec<Weighed>,
    told: String,
    /// What a line that is so heavy, g, does if it is left so: it is worked out once.
    left: Option<(f64, Over)>,
}

/// What a bake is made of.
struct Known {
    formula: Formula,
    kitchen: Box<Kitchen>,
    catalogue: Catalogue,
}

/// How near to a weight that was asked about another is the same, as a part of the line.
const NEAR: f64 = 0.02;

/// For how long what the scale shows is kept, s.
const WINDOW: f64 = 3.0;

impl Weighing {
    async fn read(&mut self, store: &web::Data<Store>) {
        let (store, id) = (store.clone(), self.bake);
        let known = blocking(move || {
            let bake = store.bake(id)?;
            let kitchen = match bake.start.kitchen.clone() {
                Some(kitchen) => kitchen,
                None => Box::new(Household::load(&store)?.kitchen),
            };
            let catalogue = Catalogue::bundled().with(&bake.start.own);
            Ok(Known { formula: bake.state().formula, kitchen, catalogue })
        });
        (self.known, self.left) = (known.await.ok(), None);
        self.shown.clear();
    }

    /// What the scale's figures mean for the line, where that is something new.
    fn heard(&mut self, shows: Weighed) -> Option<Event> {
        let known = self.known.as_ref().filter(|k| self.line < k.formula.lines.len())?;
        self.shown.retain(|w| (0.0..=WINDOW).contains(&(shows.second - w.second)));
        self.shown.push(shows);
        let alone = WeighInput::of(known.formula.clone(), self.line, self.shown.clone());
        let mut input = WeighInput { base: self.base, ..alone };
        let mut said = weigh(&input, &known.catalogue).ok()?;
        // What it does to the rise is asked once for each weight that stands.
        if said.steady && said.over.is_some() {
            let near = (NEAR * said.wanted.0).max(2.0);
            let same = |(grams, _): &&(f64, Over)| (grams - said.grams.0).abs() < near;
            let left = self.left.as_ref().filter(same).cloned().or_else(|| {
                input.kitchen = Some(known.kitchen.clone());
                Some((said.grams.0, weigh(&input, &known.catalogue).ok()?.over?))
            });
            said.over = left.as_ref().map(|(_, over)| over.clone());
            self.left = left;
        }
        let mut value = serde_json::to_value(&said).ok()?;
        value["line"] = self.line.into();
        let text = value.to_string();
        if text == self.told {
            return None;
        }
        self.told.clone_from(&text);
        Some(Event::Data(Data::new(text).event("weigh")))
    }
}

fn happened(id: BakeId, seq: i64) -> Event {
    Event::Data(Data::new(format!(r#"{{"bake":{id},"seq":{seq}}}"#)).id(seq.to_string()).event("bake"))
}

/// After how long without anything to tell it is looked whether a device is still let in.
const LOOKS: Duration = Duration::from_secs(30);

async fn is_signed_in(store: &web::Data<Store>, id: DeviceId) -> bool {
    let store = store.clone();
    blocking(move || Ok(store.device(id).is_ok())).await.unwrap_or(false)
}

/// The events, from the first that the page missed on.
pub async fn events(
    request: HttpRequest,
    store: web::Data<Store>,
    live: web::Data<Live>,
    doors: web::Data<Doors>,
    query: web::Query<Query>,
) -> Result<impl Responder, PageError> {
    let device = match request.extensions().get::<Visitor>() {
        Some(Visitor::Known(device)) => Some(device.id),
        _ => None,
    };
    let from = Listener { device, address: request.peer_addr().map(|a| a.ip()) };
    let (listening, mut ended) = live.listeners.begin(from);
    let mut heard = live.tell.subscribe();
    let mut signed_out = doors.signed_out();
    let last = |v: &HeaderValue| v.to_str().ok()?.parse::<i64>().ok();
    let known = request.headers().get("Last-Event-ID").and_then(last).or(query.after);
    let missed_in = store.clone();
    let (seq, missed) = blocking(move || {
        let seq = missed_in.last_event()?;
        // After a restore numbers may be lower than those that were heard.
        let since = known.map(|k| if k > seq { 0 } else { k });
        Ok((seq, since.map_or(Ok(Vec::new()), |k| missed_in.bakes_since(k))?))
    })
    .await?;
    let mut weighing = query.bake.zip(query.line).map(|(bake, line)| Weighing {
        bake,
        line,
        base: Grams(query.base.filter(|b| b.is_finite()).unwrap_or(0.0).max(0.0)),
        known: None,
        shown: Vec::new(),
        told: String::new(),
        left: None,
    });
    let (tell, told) = mpsc::channel::<Event>(64);
    let now = store.clock.now().as_millisecond();
    actix_web::rt::spawn(async move {
        let _listening = listening;
        let hello = Data::new(format!(r#"{{"now":{now},"seq":{seq}}}"#)).event("hello");
        if tell.send(Event::Data(hello)).await.is_err() {
            return;
        }
        for id in missed {
            if tell.send(happened(id, seq)).await.is_err() {
                return;
            }
        }
        if let Some(w) = &mut weighing {
            w.read(&store).await;
        }
        loop {
            let said = tokio::select! {
                said = heard.recv() => said,
                () = tell.closed() => return,
                // Another page of the same device has its place.
                _ = &mut ended => return,
                // Devices were signed out, or this one's time is over.
                _ = signed_out.recv() => match device {
                    Some(id) if !is_signed_in(&store, id).await => return,
                    _ => continue,
                },
                () = actix_web::rt::time::sleep(LOOKS) => match device {
                    Some(id) if !is_signed_in(&store, id).await => return,
                    _ => continue,
                },
            };
            let event = match said {
                Ok(Said::Bake(id, seq)) => {
                    if let Some(w) = weighing.as_mut().filter(|w| w.bake == id) {
                        w.read(&store).await;
                    }
                    Some(happened(id, seq))
                }
                Ok(Said::Shows(text)) => Some(Event::Data(Data::new(&*text).event("shows"))),
                Ok(Said::Scale(shows)) => weighing.as_mut().and_then(|w| w.heard(shows)),
                // It fell behind: it looks at everything anew.
                Err(broadcast::error::RecvError::Lagged(_)) => {
                    Some(Event::Data(Data::new("{}").event("behind")))
                }
                Err(broadcast::error::RecvError::Closed) => return,
            };
            if let Some(event) = event
                && tell.send(event).await.is_err()
            {
                return;
            }
        }
    });
    Ok(Sse::from_infallible_stream(ReceiverStream::new(told))
        .with_keep_alive(Duration::from_secs(15))
        .with_retry_duration(Duration::from_secs(2)))
}
