//! The page of one bake.

use std::sync::Arc;

use askama::Template;
use cerealis_core::bake::{Bell, DueStep, Event, Outcome, Reading, What, moved};
use cerealis_core::day::StepKind;
use cerealis_core::formula::figures;
use cerealis_core::kitchen::InstrumentKind;
use cerealis_core::rise::{DOUGH_DENSITY, Poke, Which};
use cerealis_core::units::{Minutes, shown};
use cerealis_core::watch::WatchAnswer;
use cerealis_store::{BakeId, FormulaId, Revision, StoredDayPlan, UnreadEvent};
use jiff::tz::TimeZone;

use super::card::{Card, cards};
use super::press::QUICK;
use super::standing::Standing;
use crate::form::{Form, plain};
use crate::household::Household;
use crate::instruments::Instruments;
use crate::picture::{self, both};
use crate::show::Here;

/// Another bake that goes on, and what it wants next.
pub struct Beside {
    /// Which.
    pub id: BakeId,
    /// Its name.
    pub name: String,
    /// What is next, and when.
    pub next: String,
    /// By the clock.
    pub at: String,
    /// When it rings, ms.
    pub rings: Option<i64>,
    /// How it rings.
    pub bell: Bell,
    /// Whether it is this one.
    pub here: bool,
}

/// A level of the tub.
pub struct Level {
    /// Times its volume at the beginning.
    pub key: String,
    /// How that is said.
    pub says: String,
    /// Whether it is where the rise should be ready.
    pub target: bool,
}

/// What can be read where the bake stands.
pub struct Readings {
    /// The levels of the tub, the highest first; none where it is not rising in one.
    pub levels: Vec<Level>,
    /// How a poke comes back.
    pub pokes: Vec<(Poke, &'static str)>,
    /// Temperatures: field, what it is called, and what stands there to begin with.
    pub temperatures: Vec<Temperature>,
    /// What the bread should weigh, where it is out of the oven.
    pub baked: Option<String>,
    /// Where it may be carried to: how warm that is, and its name.
    pub places: Vec<(String, String)>,
}

/// A temperature that can be read.
pub struct Temperature {
    /// Its field, and what it is a reading of.
    pub field: &'static str,
    /// What it is called.
    pub name: &'static str,
    /// What stands there to begin with.
    pub value: String,
    /// Whether a probe tells it.
    pub probe: bool,
}

/// A question before something is taken.
pub struct Ask {
    /// What is asked.
    pub says: String,
    /// What was pressed.
    pub op: String,
    /// Fields that came with it.
    pub fields: Vec<(String, String)>,
}

/// What has happened, as it is listed.
pub struct Happened {
    /// When.
    pub at: String,
    /// What.
    pub says: String,
}

/// A photo.
pub struct Taken {
    /// When it was taken.
    pub at: String,
    /// Its name.
    pub photo: String,
}

/// A step that the plan of days has at another time than the bake: the day can be moved to it.
#[derive(Debug, PartialEq)]
pub struct DayMove {
    /// What the day has, and where it would go.
    pub says: String,
    /// The day's own button for it.
    pub op: String,
    /// To when, by the clock.
    pub to: String,
    /// The plan as it was looked at.
    pub revision: Revision,
}

/// From so many minutes on it is worth moving a day.
const WORTH: f64 = 5.0;

impl DayMove {
    /// Where the next touch of a bake is so much off the plan that it is of; nothing where it keeps to it, or where the plan is
    /// another by now.
    pub fn of(s: &Standing, stored: &StoredDayPlan, zone: &TimeZone) -> Option<DayMove> {
        let plan = stored.plan.as_ref()?;
        let here = Here::at(s.now, zone.clone());
        let of = s.bake.start.of_plan.as_ref().filter(|of| of.from == plan.from.to_string())?;
        let steps = &plan.taken.as_ref()?.steps;
        let off = |d: &&DueStep| {
            let planned = steps.iter().find(|p| p.dough == of.dough && p.id == d.id)?;
            let by = d.begins.duration_since(planned.at).as_secs_f64() / 60.0;
            (by.abs() >= WORTH).then_some(planned.at)
        };
        let to_come = s.answer.due.next.iter().filter(|d| d.hands_on && d.begins > s.now);
        let (touch, planned) = to_come.filter_map(|d| Some((d, off(&d)?))).next()?;
        let to = plan.step(touch.begins.to_zoned_datetime(zone.clone()).datetime(), zone);
        Some(DayMove {
            says: format!("The day has “{}” at {}.", touch.title, here.when(planned)),
            op: format!("shift:{}:{}:{to}", of.dough, touch.id),
            to: here.when(touch.begins),
            revision: stored.revision,
        })
    }
}

/// What changes of the page when something happens.
#[derive(Template)]
#[template(path = "bake/part.html")]
pub struct Part {
    pub(super) id: BakeId,
    pub(super) name: String,
    pub(super) outcome: Outcome,
    pub(super) now: i64,
    pub(super) seq: i64,
    pub(super) night: bool,
    pub(super) cards: Vec<Card>,
    pub(super) band: String,
    pub(super) beside: Vec<Beside>,
    pub(super) readings: Readings,
    pub(super) lateness: String,
    pub(super) undo: bool,
    pub(super) redo: bool,
    pub(super) said: String,
    /// What of it does not read, where there is such.
    pub(super) unread: String,
    pub(super) day: Option<DayMove>,
    pub(super) ask: Option<Ask>,
    pub(super) forgotten: Option<(usize, String)>,
    pub(super) notes: Vec<Happened>,
    pub(super) photos: Vec<Taken>,
    pub(super) next_time: String,
    pub(super) form: Form,
    pub(super) scale: bool,
    pub(super) ended: String,
    pub(super) bell: Bell,
}

/// What is said of presses that do not read: they are kept.
fn unread(all: &[UnreadEvent]) -> String {
    let presses = |n: usize| if n == 1 { "1 press".to_owned() } else { format!("{n} presses") };
    let newer = all.iter().filter(|e| e.newer).count();
    let damaged = all.len() - newer;
    let mut says = Vec::new();
    if newer > 0 {
        says.push(format!("{} of this bake came from a newer Cerealis and cannot be shown here. Nothing is lost: update the program.", presses(newer)));
    }
    if damaged > 0 {
        says.push(format!(
            "{} of this bake cannot be read. Download what is left of it under Formulas.",
            presses(damaged)
        ));
    }
    says.join(" ")
}

/// The page around it.
#[derive(Template)]
#[template(path = "bake/page.html")]
pub struct BakePage {
    pub(super) id: BakeId,
    pub(super) name: String,
    pub(super) formula: Option<FormulaId>,
    pub(super) part: Part,
}

impl Part {
    fn quick(&self) -> [&'static str; 6] {
        QUICK
    }

    fn bells(&self) -> [Bell; Bell::ALL.len()] {
        Bell::ALL
    }

    /// The page of a bake, with the others that go on.
    pub fn of(
        s: &Standing,
        others: &[Arc<Standing>],
        home: &Household,
        instruments: &Instruments,
        seq: i64,
        form: Form,
    ) -> Part {
        let (zone, here) = (home.zone(), s.here(home));
        let state = &s.answer.state;
        let volumes: Vec<_> = state
            .readings
            .iter()
            .filter_map(|(at, r)| match r {
                Reading::Volume(x) => Some((*at, *x)),
                _ => None,
            })
            .collect();
        let draw = |room| {
            let start = &s.bake.start;
            picture::bench(start, &s.answer.due, s.answer.outlook.as_ref(), &volumes, s.now, &zone, room)
        };
        let name_of = |line: usize| {
            let key = &state.formula.lines[line].ingredient;
            s.catalogue.get(key).map_or_else(|| key.clone(), |i| i.name.clone())
        };
        Part {
            id: s.bake.id,
            name: s.bake.start.formula.name.clone(),
            outcome: state.outcome,
            now: s.now.as_millisecond(),
            seq,
            night: home.kitchen.hours().asleep(&s.now.to_zoned_datetime(home.zone())),
            cards: cards(s, home),
            band: both(draw),
            beside: if others.len() > 1 { beside(s, others, home) } else { Vec::new() },
            readings: readings(s, home, instruments),
            lateness: lateness(s.answer.due.late),
            undo: state.undo.is_some(),
            redo: state.redo.is_some(),
            said: String::new(),
            unread: unread(&s.bake.unread),
            day: None,
            ask: None,
            forgotten: s.answer.forgotten.map(|line| (line, name_of(line))),
            notes: notes(s, home),
            photos: state
                .photos
                .iter()
                .map(|p| Taken { at: here.when(p.at), photo: p.photo.clone() })
                .collect(),
            next_time: state.next_time.clone().unwrap_or_default(),
            form,
            scale: instruments.has(InstrumentKind::Scale),
            ended: state.ended.map_or(String::new(), |t| here.when(t)),
            bell: s.bell(),
        }
    }
}

fn lateness(late: Minutes) -> String {
    match late.0 {
        m if m >= 5.0 => format!("{} later than planned", shown::time(Minutes(m))),
        m if m <= -5.0 => format!("{} sooner than planned", shown::time(Minutes(-m))),
        _ => "as planned".into(),
    }
}

/// All bakes that go on, this one among them.
fn beside(s: &Standing, others: &[Arc<Standing>], home: &Household) -> Vec<Beside> {
    let here = s.here(home);
    let view = |o: &Arc<Standing>| {
        let next = o.answer.due.next.first();
        Beside {
            id: o.bake.id,
            name: o.bake.start.formula.name.clone(),
            next: next.map_or("done".into(), |d| d.title.clone()),
            at: next.map_or(String::new(), |d| here.when(d.at)),
            bell: o.bell(),
            rings: o.answer.due.timers.first().map(|t| t.rings.as_millisecond()),
            here: o.bake.id == s.bake.id,
        }
    };
    others.iter().map(view).collect()
}

/// The levels that a tub is marked at, times the volume that a rise began with.
const LEVELS: [f64; 8] = [3.0, 2.5, 2.0, 1.75, 1.5, 1.35, 1.2, 1.0];

fn readings(s: &Standing, home: &Household, instruments: &Instruments) -> Readings {
    let mut all = Readings {
        levels: Vec::new(),
        pokes: Vec::new(),
        temperatures: Vec::new(),
        baked: None,
        places: Vec::new(),
    };
    let Some(st) = &s.stations else { return all };
    let probe = instruments.has(InstrumentKind::Probe);
    let warm =
        |field, name, value: f64, probe| Temperature { field, name, value: plain(value.round()), probe };
    let head = s.answer.due.next.first();
    let kind = head.and_then(|h| s.bake.start.step(&h.id)).map(|p| p.kind);
    let under = |k: StepKind| {
        s.answer
            .due
            .next
            .iter()
            .any(|d| d.under_way && !d.hands_on && s.bake.start.step(&d.id).is_some_and(|p| p.kind == k))
    };
    if let Some(o) = &s.answer.outlook {
        let f = &s.answer.state.formula;
        let target = match o.which {
            Which::Bulk => f.rise.bulk.target,
            Which::Second => f.rise.second.target,
            Which::Proof => f.rise.proof.target,
        };
        let ml = figures(f, &s.catalogue).dough.0 / DOUGH_DENSITY;
        let tub = s.kitchen(home).tub.filter(|_| o.which == Which::Bulk);
        let cm = tub.map(|across| ml / (std::f64::consts::PI / 4.0 * across * across));
        let nearest = LEVELS.iter().copied().min_by(|a, b| (a - target).abs().total_cmp(&(b - target).abs()));
        all.levels = LEVELS
            .iter()
            .map(|times| Level {
                key: plain(*times),
                says: cm.map_or_else(|| format!("{} ×", plain(*times)), |cm| format!("{:.1} cm", cm * times)),
                target: nearest == Some(*times),
            })
            .collect();
        let kitchen = s.kitchen(home);
        let place = |t: f64, name: &str| (plain(t), format!("{name}, {:.0} °C", t));
        all.places = vec![place(kitchen.room.0, "The room"), place(kitchen.fridge.0, "The fridge")];
        all.places.extend(kitchen.places.iter().map(|p| place(p.really().0, &p.name)));
        all.pokes = Poke::ALL.into_iter().map(|p| (p, p.name())).collect();
        let now = o.forecast.after.curve.last().map_or(24.0, |m| m.temperature);
        let last = s.answer.state.readings.iter().rev().find_map(|(_, r)| match r {
            Reading::Dough(t) | Reading::Mixed(t) => Some(t.0),
            _ => None,
        });
        if s.answer.state.readings.is_empty() && o.which == Which::Bulk {
            all.temperatures.push(warm("mixed", "The dough after mixing", f.mix.desired.0, probe));
        }
        all.temperatures.push(warm("dough", "The dough now", last.unwrap_or(now), probe));
        let place = s.answer.state.moved.last().map_or(s.kitchen(home).room.0, |(_, t)| t.0);
        all.temperatures.push(warm("place", "The place where it stands", place, false));
    } else if kind == Some(StepKind::Mix) {
        all.temperatures.push(warm(
            "mixed",
            "The dough after mixing",
            s.answer.state.formula.mix.desired.0,
            probe,
        ));
    }
    if under(StepKind::Bake) {
        all.temperatures.push(warm("core", "The core of the bread", st.bake.core_target.0 - 5.0, probe));
    }
    if kind == Some(StepKind::Cool) {
        let f = &s.answer.state.formula;
        let bread = figures(f, &s.catalogue).dough.0 * 0.88;
        all.baked = Some(plain(bread.round()));
    }
    all
}

fn notes(s: &Standing, home: &Household) -> Vec<Happened> {
    let here = s.here(home);
    let said = s.answer.state.notes.iter().rev();
    said.map(|n| Happened { at: here.when(n.at), says: n.text.clone() }).collect()
}

/// What a press has changed, as it is said.
pub fn changed(events: &[Event], before: Option<&WatchAnswer>, after: &Standing, home: &Household) -> String {
    let here = after.here(home);
    match events.first().map(|e| &e.what) {
        Some(What::Read(_) | What::Moved { .. }) => {
            match (&after.answer.outlook, moved(before, after.answer.outlook.as_ref())) {
                (Some(o), Some(by)) => {
                    let word = if by.0 < 0.0 { "sooner" } else { "later" };
                    format!(
                        "Ready {} {word}: {}, likely {}.",
                        shown::time(Minutes(by.0.abs())),
                        here.when(o.ready),
                        here.between(o.early, o.late)
                    )
                }
                (Some(o), None) => format!("As it was forecast: ready {}.", here.when(o.ready)),
                (None, _) => "Taken.".into(),
            }
        }
        Some(What::Weighed { line, grams }) => {
            let written = &after.bake.start.formula;
            let name = |n: usize| {
                let key = &written.lines[n].ingredient;
                after.catalogue.get(key).map_or_else(|| key.clone(), |i| i.name.clone())
            };
            let wet = |f| figures(f, &after.catalogue).effective_hydration.0;
            let (was, is) = (wet(written), wet(&after.answer.state.formula));
            match (is - was).abs() >= 0.5 && after.answer.state.weighed.len() >= written.lines.len() {
                true => format!(
                    "{}: {} g. Hydration {is:.1} instead of {was:.1}.",
                    name(*line),
                    shown::grams(*grams)
                ),
                false => format!("{}: {} g.", name(*line), shown::grams(*grams)),
            }
        }
        Some(What::Scaled { by }) => format!("What is still to be weighed goes by {by:.2}."),
        Some(What::Rings { bell }) => format!("It rings: {}.", bell.name().to_lowercase()),
        Some(What::Undone { .. }) => "Taken back.".into(),
        Some(What::Redone { .. }) => "It holds again.".into(),
        Some(What::Noted { .. } | What::NextTime { .. }) => "Noted.".into(),
        Some(What::Late { by } | What::Longer { by, .. }) => {
            format!("{} more; the rest moves.", shown::time(*by))
        }
        _ => String::new(),
    }
}
