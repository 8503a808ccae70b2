//! What happens, told to every open page at once: server-sent events. A page that missed some names the last one that it
//! heard, and is told what has changed since.

use std::sync::Arc;
use std::time::Duration;

use actix_sse::{Data, Event, Sse};
use actix_web::http::header::HeaderValue;
use actix_web::{HttpRequest, Responder, web};
use cerealis_core::bake::{Over, WeighInput, Weighed, weigh};
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::Catalogue;
use cerealis_core::units::Grams;
use cerealis_store::{BakeId, Store};
use serde::Deserialize;
use tokio::sync::{broadcast, mpsc};
use tokio_stream::wrappers::ReceiverStream;

use crate::error::{PageError, blocking};
use crate::household::Household;
use crate::measures::MEASURES;

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
pub struct Live(broadcast::Sender<Said>);

/// How much a page that is slow may fall behind.
const BEHIND: usize = 256;

impl Default for Live {
    fn default() -> Self {
        Live(broadcast::channel(BEHIND).0)
    }
}

impl Live {
    /// Tells it; nobody may listen.
    pub fn say(&self, said: Said) {
        let _ = self.0.send(said);
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

/// Counts a page while it listens.
struct Listens;

impl Listens {
    fn begin() -> Listens {
        MEASURES.listening.inc();
        Listens
    }
}

impl Drop for Listens {
    fn drop(&mut self) {
        MEASURES.listening.dec();
    }
}

/// The events, from the first that the page missed on.
pub async fn events(
    request: HttpRequest,
    store: web::Data<Store>,
    live: web::Data<Live>,
    query: web::Query<Query>,
) -> Result<impl Responder, PageError> {
    let mut heard = live.0.subscribe();
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
        let _here = Listens::begin();
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
