//! The bench: bakes that go on, one step at a time, and those that are over.

mod card;
mod list;
mod page;
mod photos;
mod press;
mod rise;
mod standing;

use std::collections::BTreeMap;
use std::future::{Ready, ready};
use std::sync::{Arc, Mutex, MutexGuard};

use actix_web::dev::Payload;
use actix_web::http::StatusCode;
use actix_web::{FromRequest, HttpMessage, HttpRequest, HttpResponse, web};
use cerealis_core::bake::{Event, OfPlan, Start, What, doubt};
use cerealis_core::fault::Faults;
use cerealis_core::kitchen::InstrumentKind;
use cerealis_core::stations::read;
use cerealis_devices::Ask as AskDevice;
use cerealis_store::{BakeId, FormulaId, Store, StoreError, StoredBake};
use jiff::{SignedDuration, Timestamp};

use crate::error::{PageError, blocking, from_script, html_as, on_to};
use crate::form::Form;
use crate::household::Household;
use crate::instruments::Instruments;
use crate::live::{Live, Said};
use crate::posted::Posted;
use crate::sharing::{Baker, Visitor};
use page::{Ask, BakePage, DayMove, Part, changed};
use press::Trouble;

pub use list::{Past, list, past_rows};
pub use photos::{PHOTO_MAX, add as add_photo, show as photo};
pub use rise::{begin as take_up, begin_page, rise, rise_post};
pub use standing::Standing;

/// What the bench's pages are drawn beside their bakes from.
pub struct Bench {
    live: web::Data<Live>,
    instruments: web::Data<Instruments>,
    stood: web::Data<Stood>,
}

impl Bench {
    fn of(request: &HttpRequest) -> Result<Bench, PageError> {
        let live = request.app_data::<web::Data<Live>>().cloned();
        let instruments = request.app_data::<web::Data<Instruments>>().cloned();
        let stood = request.app_data::<web::Data<Stood>>().cloned();
        match (live, instruments, stood) {
            (Some(live), Some(instruments), Some(stood)) => Ok(Bench { live, instruments, stood }),
            _ => Err(PageError::NotFound),
        }
    }
}

impl FromRequest for Bench {
    type Error = PageError;
    type Future = Ready<Result<Self, PageError>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        ready(Bench::of(request))
    }
}

/// What a device that presses is called.
fn device(request: &HttpRequest) -> String {
    match request.extensions().get::<Visitor>() {
        Some(Visitor::Known(device)) => device.name.clone(),
        _ => "This machine".into(),
    }
}

/// Tells open pages that something happened to a bake.
fn tell(live: &Live, store: &Store, id: BakeId) -> Result<i64, StoreError> {
    let seq = store.last_event()?;
    live.say(Said::Bake(id, seq));
    Ok(seq)
}

/// A bake that does not read any more is told as damaged.
fn standing(bake: StoredBake, now: Timestamp) -> Result<Standing, PageError> {
    Standing::of(bake, now).map_err(|faults: Faults| StoreError::Damaged(faults.to_string()).into())
}

/// How long a bake beside the one on show may stand as it was worked out.
const STANDS: SignedDuration = SignedDuration::from_secs(20);
/// The same of the one on show: pages that are told of one press ask at the same moment.
const ON_SHOW: SignedDuration = SignedDuration::from_secs(1);

/// Bakes as they stood when they were last worked out: those beside the one on show, whose times are on the clock anyway.
#[derive(Default)]
pub struct Stood(Mutex<BTreeMap<BakeId, Arc<Standing>>>);

impl Stood {
    fn of(&self, bake: StoredBake, now: Timestamp) -> Option<Arc<Standing>> {
        self.as_of(bake, now, STANDS).ok()
    }

    /// One that was worked out so long ago at most, or is now.
    fn as_of(
        &self,
        bake: StoredBake,
        now: Timestamp,
        stands: SignedDuration,
    ) -> Result<Arc<Standing>, PageError> {
        let still = |s: &&Arc<Standing>| {
            s.bake.events.len() == bake.events.len()
                && now.duration_since(s.now).abs() < stands
                && s.bake.begun_at == bake.begun_at
        };
        let known = self.known().get(&bake.id).filter(still).cloned();
        if let Some(known) = known {
            return Ok(known);
        }
        let fresh = Arc::new(standing(bake, now)?);
        self.take(&fresh);
        Ok(fresh)
    }

    fn known(&self) -> MutexGuard<'_, BTreeMap<BakeId, Arc<Standing>>> {
        self.0.lock().unwrap_or_else(|e| e.into_inner())
    }

    /// Takes one that was just worked out.
    fn take(&self, s: &Arc<Standing>) {
        self.known().insert(s.bake.id, s.clone());
    }
}

/// The most bakes that stand beside the one on show.
const BESIDE: usize = 6;

/// Bakes that go on, as they stand: the last that were begun, so many at most.
pub fn running(store: &Store, stood: &Stood, most: usize) -> Result<Vec<Arc<Standing>>, PageError> {
    let now = store.clock.now();
    let all = store.running_bakes()?;
    let all = all.iter().skip(all.len().saturating_sub(most)).cloned();
    Ok(all.filter_map(|bake| stood.of(bake, now)).collect())
}

fn part(store: &Store, bench: &Bench, id: BakeId, form: Form) -> Result<Part, PageError> {
    let home = Household::load(store)?;
    let s = bench.stood.as_of(store.bake(id)?, store.clock.now(), ON_SHOW)?;
    drawn(store, bench, &s, &home, form)
}

/// A bake as it stands, with what else goes on.
fn drawn(
    store: &Store,
    bench: &Bench,
    s: &Arc<Standing>,
    home: &Household,
    form: Form,
) -> Result<Part, PageError> {
    bench.stood.take(s);
    let (seq, others) = (store.last_event()?, running(store, &bench.stood, BESIDE)?);
    let mut part = Part::of(s, &others, home, &bench.instruments, seq, form);
    part.day = match s.bake.start.of_plan {
        Some(_) => DayMove::of(s, &store.day_plan()?, &home.zone()),
        None => None,
    };
    Ok(part)
}

/// The page of a bake.
pub async fn show(
    store: web::Data<Store>,
    bench: Bench,
    id: web::Path<BakeId>,
) -> Result<HttpResponse, PageError> {
    let page = blocking(move || {
        let home = Household::load(&store)?;
        let part = part(&store, &bench, *id, Form::within(home.kitchen.notation()))?;
        let formula = store.bake(*id)?.formula;
        Ok(BakePage { id: *id, name: part.name.clone(), formula, part })
    })
    .await?;
    html_as(StatusCode::OK, &page)
}

/// What of it changes, for a page that was told that something happened.
pub async fn fresh(
    store: web::Data<Store>,
    bench: Bench,
    id: web::Path<BakeId>,
) -> Result<HttpResponse, PageError> {
    let part = blocking(move || {
        let home = Household::load(&store)?;
        part(&store, &bench, *id, Form::within(home.kitchen.notation()))
    })
    .await?;
    html_as(StatusCode::OK, &part)
}

/// What became of a press.
enum Done {
    Part(StatusCode, Box<Part>),
    Over(Box<Part>),
}

/// A press at the bench: kept before it is answered, told to every open page.
pub async fn press(
    store: web::Data<Store>,
    bench: Bench,
    id: web::Path<BakeId>,
    request: HttpRequest,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let (id, scripted, who) = (*id, from_script(request.headers()), device(&request));
    let Posted(form) = posted;
    let done = blocking(move || pressed(&store, &bench, id, form, &who)).await?;
    match done {
        // A script draws what it gets: a question is no failure.
        Done::Part(_, part) | Done::Over(part) if scripted => html_as(StatusCode::OK, &*part),
        Done::Over(_) => Ok(on_to(format!("/bakes/{id}"))),
        Done::Part(status, part) => {
            let page = BakePage { id, name: part.name.clone(), formula: None, part: *part };
            html_as(status, &page)
        }
    }
}

fn pressed(store: &Store, bench: &Bench, id: BakeId, mut form: Form, who: &str) -> Result<Done, PageError> {
    let home = Household::load(store)?;
    let now = store.clock.now();
    let kept = store.bake(id)?;
    let before = match bench.stood.of(kept.clone(), now) {
        Some(before) => before,
        None => Arc::new(standing(kept, now)?),
    };
    let events = match press::events(&form, &before.bake, &before.answer, who, now) {
        Ok(events) => events,
        Err(Trouble::Unknown) => return Err(PageError::UnknownButton),
        Err(Trouble::Faults(faults)) => {
            form.mark(&at_its_field(&form, faults));
            let part = part(store, bench, id, form)?;
            return Ok(Done::Part(StatusCode::UNPROCESSABLE_ENTITY, Box::new(part)));
        }
    };
    if let Some(What::Read(reading)) = events.first().map(|e| &e.what)
        && !form.ticked("sure")
        && let Some(says) =
            doubt(&before.answer.state, before.answer.outlook.as_ref(), reading, &before.catalogue)
    {
        let op = form.value("op").to_owned();
        let fields = form.values().iter().filter(|(name, _)| !matches!(name.as_str(), "op" | "key" | "at"));
        let fields = fields.map(|(k, v)| (k.clone(), v.clone())).collect();
        let mut part = part(store, bench, id, form.clone())?;
        part.ask = Some(Ask { says, op, fields });
        return Ok(Done::Part(StatusCode::CONFLICT, Box::new(part)));
    }
    let (bake, fresh) = store.add_events(id, &events)?;
    if fresh > 0 {
        tell(&bench.live, store, id)?;
    }
    if form.ticked("scale") {
        bench.instruments.ask(InstrumentKind::Scale, AskDevice::Tare);
    }
    let after = Arc::new(standing(bake, now)?);
    let said = changed(&events, before.answer.outlook.as_ref(), &after, &home);
    if fresh > 0 {
        learn(store, &events, &after, &home)?;
    }
    let mut part = drawn(store, bench, &after, &home, Form::within(home.kitchen.notation()))?;
    part.said = said;
    Ok(Done::Over(Box::new(part)))
}

/// What is out of range is told at the field that was typed in.
fn at_its_field(form: &Form, faults: Faults) -> Faults {
    let field = form.value("op").split(':').nth(1).unwrap_or_default().to_owned();
    let moved = faults.0.into_iter().map(|mut f| {
        if f.path == "value" && !field.is_empty() {
            f.path.clone_from(&field);
        }
        f
    });
    Faults(moved.collect())
}

/// A dough that was measured after mixing teaches the kitchen what its mixer, or these hands, add.
fn learn(store: &Store, events: &[Event], after: &Standing, home: &Household) -> Result<(), PageError> {
    use cerealis_core::bake::Reading;
    let measured = events.iter().any(|e| matches!(e.what, What::Read(Reading::Mixed(_))));
    let first =
        after.answer.state.readings.iter().filter(|(_, r)| matches!(r, Reading::Mixed(_))).count() == 1;
    if !measured || !first {
        return Ok(());
    }
    let start = &after.bake.start;
    let Some(watch) = cerealis_core::bake::watch(start, &after.answer.state) else { return Ok(()) };
    if let Ok(stations) = watch.stations(after.kitchen(home), &after.catalogue)
        && let Some(reading) = watch.friction(&stations)
    {
        store.learn_friction(&start.formula.uses.mixer, reading)?;
    }
    Ok(())
}

/// Begins a bake: of a formula, now or at the moment that was typed; or of a dough of the plan that is followed.
pub async fn begin(
    _baker: Baker,
    store: web::Data<Store>,
    live: web::Data<Live>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let Posted(form) = posted;
    let id = blocking(move || {
        let home = Household::load(&store)?;
        let now = store.clock.now();
        let (formula, start) = match form.value("dough").parse::<usize>() {
            Ok(dough) => of_plan(&store, dough)?,
            Err(_) => {
                let id =
                    form.value("formula").parse().map(FormulaId).map_err(|_| PageError::UnknownButton)?;
                (Some(id), of_formula(&store, &home, id, now)?)
            }
        };
        let id = store.begin_bake(formula, &at_home(&store, formula, start, &home)?, &[])?;
        tell(&live, &store, id)?;
        Ok(id)
    })
    .await?;
    Ok(on_to(format!("/bakes/{id}")))
}

/// A bake with the kitchen as it is, which rings as its formula's last bake did.
fn at_home(
    store: &Store,
    formula: Option<FormulaId>,
    start: Start,
    home: &Household,
) -> Result<Start, PageError> {
    let last = formula.map(|id| store.last_bake(id)).transpose()?.flatten();
    let bell = last.and_then(|bake| bake.state().bell);
    Ok(Start { bell, ..start.at_home(&home.kitchen, &home.cupboard) })
}

fn of_formula(store: &Store, home: &Household, id: FormulaId, now: Timestamp) -> Result<Start, PageError> {
    let formula = store.formula(id)?.formula;
    let stations = read(&formula, &home.kitchen, &home.catalogue, now);
    let stations = stations.map_err(StoreError::Refused)?;
    Ok(Start::of(&formula, &stations, now))
}

fn of_plan(store: &Store, dough: usize) -> Result<(Option<FormulaId>, Start), PageError> {
    let plan = store.day_plan()?.plan.ok_or(PageError::NotFound)?;
    let taken = plan.taken.as_ref().ok_or(PageError::NotFound)?;
    let lane = taken.lanes.get(dough).ok_or(PageError::NotFound)?;
    let of = OfPlan { from: plan.from.to_string(), dough };
    let formula = plan.doughs.get(dough).map(|d| FormulaId(d.formula));
    // A formula that was deleted since is none to hang it on; its dough is made all the same.
    let formula = formula.filter(|id| store.formula(*id).is_ok());
    Ok((formula, Start::of_lane(lane, &taken.steps, of)))
}
