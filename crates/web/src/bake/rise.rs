//! The rise of a bake in full: its curve and its readings; and a dough that is rising already, taken up.

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, web};
use cerealis_core::bake::{Event, EventKey, Reading, Start, What};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::rise::Poke;
use cerealis_core::stations::read;
use cerealis_core::units::{Celsius, Minutes};
use cerealis_core::watch::{Watch, later};
use cerealis_store::{BakeId, FormulaId, Store, StoreError};
use jiff::Timestamp;
use jiff::tz::TimeZone;

use super::{at_home, device, learn, standing, tell};
use crate::error::{PageError, blocking, html_as, on_to};
use crate::form::{Form, Reader};
use crate::household::Household;
use crate::live::Live;
use crate::posted::Posted;
use crate::sharing::Baker;
use crate::view::DoughPage;

/// The page: the forecast as the readings have made it.
pub async fn rise(store: web::Data<Store>, id: web::Path<BakeId>) -> Result<HttpResponse, PageError> {
    let page = blocking(move || {
        let home = Household::load(&store)?;
        page(&store, *id, Form::within(home.kitchen.notation()))
    })
    .await?;
    html_as(StatusCode::OK, &page)
}

fn page(store: &Store, id: BakeId, form: Form) -> Result<DoughPage, PageError> {
    let home = Household::load(store)?;
    let s = standing(store.bake(id)?, store.clock.now())?;
    let watch = cerealis_core::bake::watch(&s.bake.start, &s.answer.state);
    Ok(DoughPage::of(id, &s.bake, watch.as_ref(), s.answer.outlook.as_ref(), &home, s.now, form))
}

/// How a dough that is rising already is taken up.
pub async fn begin_page(
    _baker: Baker,
    store: web::Data<Store>,
    id: web::Path<FormulaId>,
) -> Result<HttpResponse, PageError> {
    let page = blocking(move || {
        let home = Household::load(&store)?;
        let form = Form::within(home.kitchen.notation());
        Ok(DoughPage::beginning(*id, &store.formula(*id)?.formula, form))
    })
    .await?;
    html_as(StatusCode::OK, &page)
}

/// Takes up a dough that was mixed at a time.
pub async fn begin(
    _baker: Baker,
    store: web::Data<Store>,
    live: web::Data<Live>,
    id: web::Path<FormulaId>,
    request: HttpRequest,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let (id, who) = (*id, device(&request));
    let Posted(mut form) = posted;
    let done = blocking(move || {
        if form.value("op") != "begin" {
            return Err(PageError::UnknownButton);
        }
        match taken_up(&store, id, &form, &who) {
            Ok(bake) => {
                tell(&live, &store, bake)?;
                Ok(Ok(bake))
            }
            Err(Trouble::Faults(faults)) => {
                form.mark(&faults);
                Ok(Err(DoughPage::beginning(id, &store.formula(id)?.formula, form)))
            }
            Err(Trouble::Page(e)) => Err(e),
        }
    })
    .await?;
    match done {
        Ok(bake) => Ok(on_to(format!("/bakes/{bake}/rise"))),
        Err(page) => html_as(StatusCode::UNPROCESSABLE_ENTITY, &page),
    }
}

enum Trouble {
    Faults(Faults),
    Page(PageError),
}

impl From<Faults> for Trouble {
    fn from(faults: Faults) -> Self {
        Trouble::Faults(faults)
    }
}

impl From<PageError> for Trouble {
    fn from(error: PageError) -> Self {
        Trouble::Page(error)
    }
}

impl From<StoreError> for Trouble {
    fn from(error: StoreError) -> Self {
        Trouble::Page(error.into())
    }
}

fn taken_up(store: &Store, id: FormulaId, form: &Form, who: &str) -> Result<BakeId, Trouble> {
    let home = Household::load(store)?;
    let now = store.clock.now();
    let mut r = Reader::new(form);
    let at = r.moment("mixed_at", &home.zone(), now);
    let measured = r.measure::<Celsius>("measured");
    r.done(())?;
    let formula = store.formula(id)?.formula;
    Watch { measured, ..Watch::new(formula.clone(), at) }.check(now)?;
    let stations = read(&formula, &home.kitchen, &home.catalogue, at)?;
    let start = at_home(store, Some(id), Start::of(&formula, &stations, at), &home)?;
    let Some(first) = start.first_rise().map(|s| s.id.clone()) else {
        let text = "This dough does not rise. Begin it at the bench instead.";
        return Err(Faults(vec![Fault::new("impossible", "mixed_at", text)]).into());
    };
    let start = start.with_step_at(&first, at);
    let mut events = start.rising_since(at, who);
    if let Some(t) = measured {
        let what = What::Read(Reading::Mixed(t));
        events.push(Event { key: EventKey("mixed".into()), at, device: who.to_owned(), what });
    }
    let bake = store.begin_bake(Some(id), &start, &events)?;
    let s = standing(store.bake(bake)?, now)?;
    learn(store, &events, &s, &home)?;
    Ok(bake)
}

/// Takes in what happened at the dough; what does not fit is shown at its field.
pub async fn rise_post(
    store: web::Data<Store>,
    live: web::Data<Live>,
    id: web::Path<BakeId>,
    request: HttpRequest,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let (id, who) = (*id, device(&request));
    let Posted(mut form) = posted;
    // What comes after the last rise is at the bench.
    let ends = form.value("op") == "end";
    let shown = blocking(move || match happen(&store, id, &form, &who) {
        Ok(()) => {
            tell(&live, &store, id)?;
            Ok(None)
        }
        Err(Trouble::Faults(faults)) => {
            form.mark(&faults);
            Ok(Some(page(&store, id, form)?))
        }
        Err(Trouble::Page(other)) => Err(other),
    })
    .await?;
    match shown {
        Some(page) => html_as(StatusCode::UNPROCESSABLE_ENTITY, &page),
        None if ends => Ok(on_to(format!("/bakes/{id}"))),
        None => Ok(on_to(format!("/bakes/{id}/rise"))),
    }
}

/// Steps that are over once a dough is divided, or knocked down.
fn over_by(start: &Start, op: &str) -> Vec<String> {
    let all = if op == "knock-down" { ["bulk", "between", ""] } else { ["bulk", "between", "second"] };
    all.into_iter().filter(|id| start.step(id).is_some()).map(str::to_owned).collect()
}

fn happen(store: &Store, id: BakeId, form: &Form, who: &str) -> Result<(), Trouble> {
    let home = Household::load(store)?;
    let (zone, now) = (home.zone(), store.clock.now());
    let s = standing(store.bake(id)?, now)?;
    let mut r = Reader::new(form);
    let (op, rest) = form.value("op").split_once(':').unwrap_or((form.value("op"), ""));
    let begun =
        cerealis_core::bake::watch(&s.bake.start, &s.answer.state).map_or(s.bake.begun_at, |w| w.mixed_at);
    let after = |at: Timestamp, field: &str, what: &str| match at < begun || at > now {
        true => Err(Faults(vec![Fault::new(
            "impossible",
            field,
            format!("{what} after the dough was mixed, and not in the future."),
        )])),
        false => Ok(()),
    };
    let (at, what): (Timestamp, Vec<What>) = match op {
        "measure" => {
            let t = r.figure_of::<Celsius>("measured");
            r.done(())?;
            (begun, vec![What::Read(Reading::Mixed(t))])
        }
        "divide" | "knock-down" => {
            let at = r.moment("divided_at", &zone, now);
            r.done(())?;
            after(at, "divided_at", if op == "divide" { "It is divided" } else { "It is knocked down" })?;
            (at, over_by(&s.bake.start, op).into_iter().map(|step| What::Done { step }).collect())
        }
        "read" => {
            let at = r.moment("at", &zone, now);
            let readings = readings(&mut r);
            r.done(())?;
            after(at, "at", "A reading is taken")?;
            if readings.is_empty() {
                let text = "Give at least one figure of the reading.";
                return Err(Faults(vec![Fault::new("missing", "volume", text)]).into());
            }
            (at, readings.into_iter().map(What::Read).collect())
        }
        "take-back" => {
            let n: usize = rest.parse().map_err(|_| PageError::UnknownButton)?;
            let of_rise = s.bake.events.iter().filter(|e| matches!(e.what, What::Read(_)));
            let key = of_rise.map(|e| e.key.clone()).nth(n).ok_or(PageError::UnknownButton)?;
            (now, vec![What::Undone { event: key }])
        }
        "end" if s.answer.outlook.is_some_and(|w| w.which == cerealis_core::rise::Which::Proof) => {
            (now, vec![What::Done { step: "proof".into() }])
        }
        "end" => (now, vec![What::Abandoned]),
        _ => return Err(PageError::UnknownButton.into()),
    };
    let base: String = {
        let mut bytes = [0; 10];
        let _ = getrandom::fill(&mut bytes);
        bytes.iter().map(|b| format!("{b:02x}")).collect()
    };
    let events: Vec<Event> = what
        .into_iter()
        .enumerate()
        .map(|(n, what)| Event { key: EventKey(format!("{base}-{n}")), at, device: who.to_owned(), what })
        .collect();
    for e in &events {
        s.bake.start.check(e).map_err(|f| named(f, e))?;
    }
    let (bake, _) = store.add_events(id, &events)?;
    learn(store, &events, &standing(bake, now)?, &home)?;
    Ok(())
}

/// What is out of range, at the field of what was read.
fn named(faults: Faults, e: &Event) -> Faults {
    let field = match &e.what {
        What::Read(Reading::Volume(_)) => "volume",
        What::Read(Reading::Dough(_)) => "dough",
        What::Read(Reading::Place(_)) => "place",
        What::Read(Reading::Mixed(_)) => "measured",
        _ => return faults,
    };
    Faults(faults.0.into_iter().map(|f| Fault { path: field.into(), ..f }).collect())
}

fn readings(r: &mut Reader<'_>) -> Vec<Reading> {
    let (height, began) = (r.optional("height"), r.optional("began_at"));
    let volume = match (height, began) {
        (Some(height), Some(began)) if began > 0.0 => Some(height / began),
        (Some(_), _) => {
            r.fault("missing", "began_at", "Give the height at which this rise began, in the same unit.");
            None
        }
        (None, _) => None,
    };
    let poke = match r.text("poke").as_str() {
        "" => None,
        _ => Some(r.choice("poke", Poke::from_key, Poke::Slowly)),
    };
    let all = [
        volume.map(Reading::Volume),
        r.measure::<Celsius>("dough").map(Reading::Dough),
        r.measure::<Celsius>("place").map(Reading::Place),
        poke.map(Reading::Poke),
    ];
    all.into_iter().flatten().collect()
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
