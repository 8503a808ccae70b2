//! A dough that is rising now: begin, measure, read, divide, end.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use cerealis_core::fault::Faults;
use cerealis_core::rise::Poke;
use cerealis_core::units::{Celsius, Minutes};
use cerealis_core::watch::{TimedReading, Watch, later};
use cerealis_store::{FormulaId, Store, StoreError, StoredWatch};
use jiff::Timestamp;
use jiff::tz::TimeZone;

use crate::error::{PageError, blocking, html_as, on_to};
use crate::form::{Form, Reader};
use crate::household::Household;
use crate::posted::Posted;
use crate::view::{DoughPage, Rising};

/// The page: the forecast as the readings have made it, or how to begin.
pub async fn show(store: web::Data<Store>, id: web::Path<FormulaId>) -> Result<HttpResponse, PageError> {
    let page = blocking(move || page(&store, *id, Form::default(), false)).await?;
    html_as(StatusCode::OK, &page)
}

fn page(store: &Store, id: FormulaId, form: Form, conflict: bool) -> Result<DoughPage, PageError> {
    let stored = store.formula(id)?;
    let home = Household::load(store)?;
    let form = if form.values().is_empty() { Form::within(home.kitchen.notation()) } else { form };
    let now = store.clock.now();
    let rising = store.rising(id)?.map(|StoredWatch { revision, watch }| {
        let answer = watch.answer(&home.kitchen, &home.catalogue, now);
        Rising { revision, watch, answer }
    });
    Ok(DoughPage::new(id, &stored.formula, rising.as_ref(), &home, now, form, conflict))
}

/// What happened at the dough.
enum Event {
    Begin,
    Measure,
    Read,
    TakeBack(usize),
    KnockDown,
    Divide,
    End,
}

impl Event {
    fn from_key(key: &str) -> Option<Event> {
        Some(match key.split_once(':').unwrap_or((key, "")) {
            ("begin", _) => Event::Begin,
            ("measure", _) => Event::Measure,
            ("read", _) => Event::Read,
            ("take-back", n) => Event::TakeBack(n.parse().ok()?),
            ("knock-down", _) => Event::KnockDown,
            ("divide", _) => Event::Divide,
            ("end", _) => Event::End,
            _ => return None,
        })
    }
}

/// Takes in what happened; what does not fit is shown at its field.
pub async fn post(
    store: web::Data<Store>,
    id: web::Path<FormulaId>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let id = id.into_inner();
    let shown = blocking(move || {
        let Posted(mut form) = posted;
        let event = Event::from_key(form.value("op")).ok_or(PageError::UnknownButton)?;
        match happen(&store, id, &form, &event) {
            Ok(()) => Ok(None),
            Err(Trouble::Faults(faults)) => {
                form.mark(&faults);
                Ok(Some((StatusCode::UNPROCESSABLE_ENTITY, page(&store, id, form, false)?)))
            }
            Err(Trouble::Store(StoreError::Conflict)) => {
                Ok(Some((StatusCode::CONFLICT, page(&store, id, form, true)?)))
            }
            Err(Trouble::Store(other)) => Err(other.into()),
        }
    })
    .await?;
    match shown {
        Some((status, page)) => html_as(status, &page),
        None => Ok(on_to(format!("/formulas/{id}/dough"))),
    }
}

enum Trouble {
    Faults(Faults),
    Store(StoreError),
}

impl From<Faults> for Trouble {
    fn from(faults: Faults) -> Self {
        Trouble::Faults(faults)
    }
}

impl From<StoreError> for Trouble {
    fn from(error: StoreError) -> Self {
        Trouble::Store(error)
    }
}

fn happen(store: &Store, id: FormulaId, form: &Form, event: &Event) -> Result<(), Trouble> {
    let home = Household::load(store)?;
    let zone = home.zone();
    let now = store.clock.now();
    let mut r = Reader::new(form);
    if let Event::Begin = event {
        let watch = Watch::new(store.formula(id)?.formula, r.moment("mixed_at", &zone, now));
        let mut watch = watch.at_home(&home.kitchen, &home.cupboard);
        watch.measured = r.measure::<Celsius>("measured");
        r.done(())?;
        watch.check(now)?;
        // A formula that has no rise, or that no longer reads, cannot be watched.
        watch.answer(&home.kitchen, &home.catalogue, now)?;
        store.begin_rising(id, &watch)?;
        // Only a dough that was taken teaches anything.
        return learn(store, &watch, &home);
    }
    // Without the revision that was read, the page is not one of ours.
    let revision = form.revision().ok_or(StoreError::Conflict)?;
    if let Event::End = event {
        return Ok(store.end_rising(id, revision)?);
    }
    let Some(StoredWatch { mut watch, .. }) = store.rising(id)? else {
        return Err(StoreError::Conflict.into());
    };
    match event {
        Event::Measure => {
            let first = watch.measured.is_none();
            watch.measured = Some(r.figure_of("measured"));
            r.done(())?;
            watch.check(now)?;
            store.save_rising(id, revision, &watch)?;
            return if first { learn(store, &watch, &home) } else { Ok(()) };
        }
        Event::Divide => {
            let at = r.moment("divided_at", &zone, now);
            r.done(())?;
            watch.divide(at, now)?;
        }
        Event::KnockDown => {
            let at = r.moment("divided_at", &zone, now);
            r.done(())?;
            watch.knock_down(at, now)?;
        }
        Event::Read => {
            let reading = read(&mut r, &zone, now);
            r.done(())?;
            watch.take_reading(reading, now)?;
        }
        Event::TakeBack(n) if *n < watch.readings.len() => drop(watch.readings.remove(*n)),
        Event::TakeBack(_) | Event::Begin | Event::End => {}
    }
    Ok(store.save_rising(id, revision, &watch)?)
}

/// The kitchen learns what its mixer or hands add.
fn learn(store: &Store, watch: &Watch, home: &Household) -> Result<(), Trouble> {
    let stations = watch.stations(&home.kitchen, &home.catalogue)?;
    if let Some(reading) = watch.friction(&stations) {
        store.learn_friction(&watch.formula.uses.mixer, reading)?;
    }
    Ok(())
}

fn read(r: &mut Reader<'_>, zone: &TimeZone, now: Timestamp) -> TimedReading {
    let (height, began) = (r.optional("height"), r.optional("began_at"));
    let volume = match (height, began) {
        (Some(height), Some(began)) if began > 0.0 => Some(height / began),
        (Some(_), _) => {
            r.fault("missing", "began_at", "Give the height at which this rise began, in the same unit.");
            None
        }
        (None, _) => None,
    };
    TimedReading {
        at: r.moment("at", zone, now),
        volume,
        dough: r.measure::<Celsius>("dough"),
        place: r.measure::<Celsius>("place"),
        poke: match r.text("poke").as_str() {
            "" => None,
            _ => Some(r.choice("poke", Poke::from_key, Poke::Slowly)),
        },
    }
}

impl Reader<'_> {
    /// The last time that it was this time of day; now when it is left empty.
    fn moment(&mut self, name: &str, zone: &TimeZone, now: Timestamp) -> Timestamp {
        let Some(time) = self.time(name) else { return now };
        let today = now.to_zoned_datetime(zone.clone()).date();
        let at = |date: jiff::civil::Date| {
            date.to_datetime(time).to_zoned_datetime(zone.clone()).map(|z| z.timestamp())
        };
        match at(today) {
            Ok(t) if t <= later(now, Minutes(1.0)) => t.min(now),
            _ => today.yesterday().ok().and_then(|d| at(d).ok()).unwrap_or(now),
        }
    }
}
