//! The instruments of the bench: listened to where the kitchen names them, told of to open pages. Nothing waits for one.

use std::collections::HashMap;
use std::sync::{Arc, RwLock};
use std::time::{Duration, Instant};

use actix_web::{HttpResponse, web};
use askama::Template;
use cerealis_core::bake::Weighed;
use cerealis_core::kitchen::{Instrument, InstrumentKind};
use cerealis_core::units::Grams;
use cerealis_devices::{Act, Ask, Heard, Kind, Line, follow};
use cerealis_store::Store;
use tokio::sync::{Semaphore, mpsc};
use tokio::task::JoinHandle;
use tokio::time::timeout;

use crate::error::{PageError, blocking, html, on_to};
use crate::live::{Live, Said};
use crate::posted::Posted;
use crate::sharing::Baker;

/// What an instrument shows.
#[derive(Clone, Debug, PartialEq)]
pub struct Shown {
    /// Which one.
    pub of: Instrument,
    /// Its name, once it has said it.
    pub name: String,
    /// Whether it is there, or why it is not.
    pub gone: Option<String>,
    /// The figure, in grams or °C.
    pub value: Option<f64>,
    /// Whether it stands still.
    pub stable: bool,
    /// How many figures were left out, for they came too quickly.
    pub left_out: u64,
}

struct Followed {
    asks: mpsc::Sender<Ask>,
    tasks: [JoinHandle<()>; 2],
}

impl Drop for Followed {
    fn drop(&mut self) {
        self.tasks.iter().for_each(JoinHandle::abort);
    }
}

/// All that are listened to.
#[derive(Default)]
pub struct Instruments {
    shown: Arc<RwLock<Vec<Shown>>>,
    asks: RwLock<HashMap<Instrument, mpsc::Sender<Ask>>>,
}

/// How often it is looked whether the kitchen names others.
const LOOKS: Duration = Duration::from_secs(1);

fn kind(k: Kind) -> InstrumentKind {
    match k {
        Kind::Scale => InstrumentKind::Scale,
        Kind::Probe => InstrumentKind::Probe,
        Kind::Oven => InstrumentKind::Oven,
    }
}

impl Instruments {
    /// What all of them show.
    pub fn all(&self) -> Vec<Shown> {
        self.shown.read().unwrap_or_else(|e| e.into_inner()).clone()
    }

    /// Whether one of a kind is named.
    pub fn has(&self, kind: InstrumentKind) -> bool {
        self.shown.read().unwrap_or_else(|e| e.into_inner()).iter().any(|s| s.of.kind == kind)
    }

    /// Asks all of a kind for something; those that are gone do not hear it.
    pub fn ask(&self, kind: InstrumentKind, ask: Ask) {
        let asks = self.asks.read().unwrap_or_else(|e| e.into_inner());
        for (_, sender) in asks.iter().filter(|(of, _)| of.kind == kind) {
            let _ = sender.try_send(ask);
        }
    }

    /// Listens to what the kitchen names, as long as it is served.
    pub async fn keep(&self, store: &Store, live: web::Data<Live>) {
        let (mut seen, mut named): (Option<u64>, Vec<Instrument>) = (None, Vec::new());
        let mut followed: HashMap<Instrument, Followed> = HashMap::new();
        loop {
            let writes = store.writes();
            if seen != Some(writes) {
                let kitchen = store.clone();
                let read =
                    tokio::task::spawn_blocking(move || kitchen.kitchen().map(|k| k.kitchen.instruments));
                if let Ok(Ok(all)) = read.await {
                    seen = Some(writes);
                    if all != named {
                        named = all;
                        self.name(&named, &mut followed, &live);
                    }
                }
            }
            tokio::time::sleep(LOOKS).await;
        }
    }

    fn name(
        &self,
        named: &[Instrument],
        followed: &mut HashMap<Instrument, Followed>,
        live: &web::Data<Live>,
    ) {
        followed.retain(|of, _| named.contains(of));
        let mut shown = self.shown.write().unwrap_or_else(|e| e.into_inner());
        shown.retain(|s| named.contains(&s.of));
        for of in named {
            if followed.contains_key(of) {
                continue;
            }
            let gone = Some("not there yet".to_owned());
            let Some(socket) = of.socket() else {
                let gone = Some("its address is not one of this machine or of your home network".to_owned());
                shown.push(Shown {
                    of: of.clone(),
                    name: of.kind.name().into(),
                    gone,
                    value: None,
                    stable: false,
                    left_out: 0,
                });
                continue;
            };
            shown.push(Shown {
                of: of.clone(),
                name: of.kind.name().into(),
                gone,
                value: None,
                stable: false,
                left_out: 0,
            });
            let (tell, mut heard) = mpsc::channel(16);
            let (asks, asked) = mpsc::channel(8);
            let (all, live, mine) = (self.shown.clone(), live.clone(), of.clone());
            let following = tokio::spawn(follow(socket, tell, asked));
            let began = Instant::now();
            let hearing = tokio::spawn(async move {
                while let Some(said) = heard.recv().await {
                    take(&all, &mine, &said);
                    if let Some(text) = told(&all, &mine) {
                        live.say(Said::Shows(text.into()));
                    }
                    if let (InstrumentKind::Scale, Heard::Says(Line::Shows { value, .. })) = (mine.kind, said)
                    {
                        live.say(Said::Scale(Weighed {
                            second: began.elapsed().as_secs_f64(),
                            grams: Grams(value),
                        }));
                    }
                }
            });
            followed.insert(of.clone(), Followed { asks, tasks: [following, hearing] });
        }
        let senders = followed.iter().map(|(of, f)| (of.clone(), f.asks.clone())).collect();
        *self.asks.write().unwrap_or_else(|e| e.into_inner()) = senders;
    }
}

fn take(all: &RwLock<Vec<Shown>>, of: &Instrument, said: &Heard) {
    let mut all = all.write().unwrap_or_else(|e| e.into_inner());
    let Some(mine) = all.iter_mut().find(|s| s.of == *of) else { return };
    match said {
        Heard::There(k, name) if kind(*k) == of.kind => {
            (mine.gone, mine.name) = (None, name.clone());
        }
        Heard::There(k, name) => {
            (mine.gone, mine.name) = (Some(format!("it is a {}", kind(*k).name())), name.clone());
        }
        Heard::Says(Line::Shows { value, stable, .. }) if mine.gone.is_none() => {
            (mine.value, mine.stable) = (Some(*value), *stable);
        }
        Heard::Says(Line::Trouble(why)) => (mine.value, mine.stable) = (None, why.is_empty()),
        Heard::Says(_) => {}
        Heard::LeftOut(n) => mine.left_out += n,
        Heard::Gone(why) => (mine.gone, mine.value) = (Some(why.clone()), None),
    }
}

fn told(all: &RwLock<Vec<Shown>>, of: &Instrument) -> Option<String> {
    let all = all.read().unwrap_or_else(|e| e.into_inner());
    let mine = all.iter().find(|s| s.of == *of)?;
    let said = serde_json::json!({
        "kind": of.kind.key(), "address": of.address, "value": mine.value, "stable": mine.stable,
        "gone": mine.gone, "name": mine.name,
    });
    Some(said.to_string())
}

#[derive(Template)]
#[template(path = "instruments.html")]
struct InstrumentsPage {
    all: Vec<InstrumentView>,
}

struct InstrumentView {
    kind: InstrumentKind,
    address: String,
    name: String,
    gone: String,
    value: String,
    unit: &'static str,
    simulated: bool,
    acts: Vec<(String, &'static str)>,
    left_out: u64,
}

fn acts(kind: InstrumentKind) -> Vec<(String, &'static str)> {
    let all: &[(&str, &str)] = match kind {
        InstrumentKind::Scale => &[
            ("put:400", "Pour 400 g"),
            ("put:100", "Pour 100 g"),
            ("put:10", "Pour 10 g"),
            ("put:1", "Add 1 g"),
            ("put:-10", "Spoon 10 g out"),
            ("silent:6", "Unplug it for 6 s"),
        ],
        InstrumentKind::Probe => &[
            ("into:24", "Into a dough at 24 °C"),
            ("into:27", "Into a dough at 27 °C"),
            ("into:94", "Into a bread at 94 °C"),
        ],
        InstrumentKind::Oven => &[
            ("dial:220", "Set it to 220 °C"),
            ("dial:0", "Switch it off"),
            ("door:15", "Open the door for 15 s"),
        ],
    };
    all.iter().map(|(key, name)| (format!("{}:{key}", kind.key()), *name)).collect()
}

/// What all of them show, and for simulated ones what can be done at them.
pub async fn show(instruments: web::Data<Instruments>) -> Result<HttpResponse, PageError> {
    let view = |s: Shown| InstrumentView {
        kind: s.of.kind,
        address: s.of.address,
        simulated: s.name.contains("simulated"),
        name: s.name,
        gone: s.gone.unwrap_or_default(),
        value: s.value.map_or("—".into(), crate::form::plain),
        left_out: s.left_out,
        unit: if s.of.kind == InstrumentKind::Scale { "g" } else { "°C" },
        acts: acts(s.of.kind),
    };
    html(&InstrumentsPage { all: instruments.all().into_iter().map(view).collect() })
}

/// Presses a button of an instrument.
pub async fn press(instruments: web::Data<Instruments>, posted: Posted) -> Result<HttpResponse, PageError> {
    let Posted(form) = posted;
    let parts: Vec<&str> = form.value("op").split(':').collect();
    let (kind, ask) = match parts[..] {
        ["tare"] => (Some(InstrumentKind::Scale), Some(Ask::Tare)),
        [kind, act, figure] => {
            let figure = figure.parse::<f64>().ok().filter(|f| f.is_finite() && f.abs() <= 5000.0);
            let act = Act::from_word(act).zip(figure).map(|(act, figure)| Ask::Act(act, figure));
            (InstrumentKind::from_key(kind), act)
        }
        _ => (None, None),
    };
    let (kind, ask) = kind.zip(ask).ok_or(PageError::UnknownButton)?;
    instruments.ask(kind, ask);
    Ok(on_to("/instruments".into()))
}

/// How long a test may take.
const TEST: Duration = Duration::from_secs(4);

/// One address at a time is tested: nobody looks through a network by this.
static ONE_TEST: Semaphore = Semaphore::const_new(1);

/// Calls an address once, and says who answers there.
pub async fn test(_baker: Baker, store: web::Data<Store>, posted: Posted) -> Result<HttpResponse, PageError> {
    let Posted(form) = posted;
    let address = form.value("address").trim().to_owned();
    // It calls what the kitchen names, or what is about to be named there: an address and a port.
    let checked = cerealis_core::kitchen::Kitchen {
        instruments: vec![Instrument { kind: InstrumentKind::Scale, address }],
        ..blocking(move || Ok(store.kitchen()?.kitchen)).await?
    };
    if let Err(faults) = checked.check() {
        return Ok(HttpResponse::Ok().json(serde_json::json!({ "says": faults.0[0].message })));
    }
    let Some(socket) = checked.instruments[0].socket() else { return Err(PageError::UnknownButton) };
    let Ok(_alone) = ONE_TEST.try_acquire() else {
        let says = "Another instrument is being tested. Try again in a few seconds.";
        return Ok(HttpResponse::Ok().json(serde_json::json!({ "says": says })));
    };
    let (tell, mut heard) = mpsc::channel(8);
    let (_asks, asked) = mpsc::channel(1);
    let following = tokio::spawn(follow(socket, tell, asked));
    let mut says = "Nothing answers there.".to_owned();
    let _ = timeout(TEST, async {
        let mut who = String::new();
        while let Some(said) = heard.recv().await {
            match said {
                Heard::There(_, name) => {
                    says = format!("{name} answers.");
                    who = name;
                }
                Heard::Says(Line::Shows { value, quantity, .. }) => {
                    let unit = if quantity == cerealis_devices::Quantity::Weight { "g" } else { "°C" };
                    says = format!("{who} answers, and shows {} {unit}.", crate::form::plain(value));
                    return;
                }
                Heard::Says(_) | Heard::LeftOut(_) => {}
                Heard::Gone(why) => {
                    says = format!("Nothing to be heard there: {why}.");
                    return;
                }
            }
        }
    })
    .await;
    following.abort();
    Ok(HttpResponse::Ok().json(serde_json::json!({ "says": says })))
}
