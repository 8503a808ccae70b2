//! The rise that a bake is in: by what was done and read, the forecast of [`crate::watch`].

use jiff::Timestamp;

use super::event::{Event, EventKey, Reading, What};
use super::fold::{BakeState, Outcome};
use super::start::Start;
use crate::fault::Faults;
use crate::kitchen::Kitchen;
use crate::pantry::Catalogue;
use crate::units::Minutes;
use crate::watch::{READINGS_MAX, TimedReading, Watch, WatchAnswer, later};

/// When a step could begin: all that stands before it in its line is over.
fn begins(start: &Start, state: &BakeState, id: &str) -> Option<Timestamp> {
    if let Some(begun) = state.step(id).and_then(|s| s.begun) {
        return Some(begun);
    }
    let at = start.steps.iter().position(|s| s.id == id)?;
    // What is done beside a wait does not end it.
    let line = (0..at).filter(|n| super::due::within(&start.steps, *n).is_none());
    line.map(|n| state.steps[n].over_at())
        .try_fold(None, |last: Option<Timestamp>, over| Some(last.max(Some(over?))))?
}

/// The dough as it rises, where it has begun to.
pub fn watch(start: &Start, state: &BakeState) -> Option<Watch> {
    let first = start.first_rise()?;
    let mixed_at = begins(start, state, &first.id)?;
    let over = |id: &str| state.step(id).and_then(|s| s.over_at());
    let last_rise = if start.step("second").is_some() { "second" } else { "bulk" };
    let divided_at = over(last_rise);
    let timed = |at: Timestamp| TimedReading { at, volume: None, dough: None, place: None, poke: None };
    let mut readings: Vec<TimedReading> = Vec::new();
    let (mut measured, begun) = (None, mixed_at);
    for (at, reading) in &state.readings {
        let one = match *reading {
            Reading::Mixed(t) => {
                measured = Some(t);
                continue;
            }
            Reading::Core(_) | Reading::Baked(_) => continue,
            Reading::Volume(x) => TimedReading { volume: Some(x), ..timed(*at) },
            Reading::Poke(p) => TimedReading { poke: Some(p), ..timed(*at) },
            Reading::Dough(t) => TimedReading { dough: Some(t), ..timed(*at) },
            Reading::Place(t) => TimedReading { place: Some(t), ..timed(*at) },
        };
        if *at >= begun {
            readings.push(one);
        }
    }
    let carried = state.moved.iter().filter(|(at, _)| *at >= begun);
    readings.extend(carried.map(|(at, to)| TimedReading { place: Some(*to), ..timed(*at) }));
    readings.sort_by_key(|r| r.at);
    if readings.len() > READINGS_MAX {
        readings.drain(..readings.len() - READINGS_MAX);
    }
    let shaped_at =
        start.step("proof").filter(|p| p.id != first.id).and_then(|p| begins(start, state, &p.id));
    Some(Watch {
        measured,
        knocked_at: over("between"),
        divided_at,
        shaped_at: shaped_at.filter(|_| divided_at.is_some()),
        readings,
        kitchen: start.kitchen.clone(),
        own: start.own.clone(),
        ..Watch::new(state.formula.clone(), mixed_at)
    })
}

/// The rise that it is in at a moment; nothing where it is in none.
///
/// # Errors
/// A formula or kitchen that does not read any more.
pub fn rising(
    start: &Start,
    state: &BakeState,
    kitchen: &Kitchen,
    catalogue: &Catalogue,
    now: Timestamp,
) -> Result<Option<WatchAnswer>, Faults> {
    let last = start.steps.iter().rfind(|s| matches!(s.id.as_str(), "bulk" | "second" | "proof"));
    let over = last.is_some_and(|s| state.step(&s.id).is_some_and(super::fold::StepState::is_over));
    if over || state.outcome != Outcome::Running {
        return Ok(None);
    }
    match watch(start, state) {
        Some(watch) if !watch.is_stale(now) => watch.answer(kitchen, catalogue, now).map(Some),
        _ => Ok(None),
    }
}

/// A dough that was watched as a bake: with what was read of it, divided and ended when it was. One that cannot be forecast any
/// more, for its formula or kitchen does not read, is a bake without steps that was given up.
pub fn of_watch(
    watch: &Watch,
    kitchen: &Kitchen,
    catalogue: &Catalogue,
    ended: Option<Timestamp>,
) -> (Start, Vec<Event>) {
    let stations = watch.stations(kitchen, catalogue);
    let mut start = match &stations {
        Ok(stations) => Start::of(&watch.formula, stations, watch.mixed_at),
        Err(_) => Start::bare(&watch.formula),
    };
    (start.kitchen, start.own) = (watch.kitchen.clone(), watch.own.clone());
    let first = start.first_rise().map(|s| s.id.clone()).unwrap_or_default();
    let start = start.with_step_at(&first, watch.mixed_at);
    let mut events = start.rising_since(watch.mixed_at, "");
    let mut event = |key: String, at: Timestamp, what| {
        events.push(Event { key: EventKey(key), at, device: String::new(), what });
    };
    if let Some(t) = watch.measured {
        event("mixed".into(), watch.mixed_at, What::Read(Reading::Mixed(t)));
    }
    for (n, r) in watch.readings.iter().enumerate() {
        let all = [
            ("volume", r.volume.map(Reading::Volume)),
            ("poke", r.poke.map(Reading::Poke)),
            ("dough", r.dough.map(Reading::Dough)),
            ("place", r.place.map(Reading::Place)),
        ];
        for (name, reading) in all.into_iter().filter_map(|(name, r)| Some((name, r?))) {
            event(format!("read-{n}-{name}"), r.at, What::Read(reading));
        }
    }
    let rise_is_over =
        |id: &str, at: Timestamp| (format!("over-{id}"), at, What::Done { step: id.to_owned() });
    if let Some(at) = watch.knocked_at {
        for id in ["bulk", "between"].into_iter().filter(|id| start.step(id).is_some()) {
            let (key, at, what) = rise_is_over(id, at);
            event(key, at, what);
        }
    }
    if let Some(at) = watch.divided_at {
        for id in ["bulk", "between", "second"].into_iter().filter(|id| start.step(id).is_some()) {
            let (key, at, what) = rise_is_over(id, at);
            event(key, at, what);
        }
        // Shaping goes on as it was planned: nobody said when it was over.
        let divided = start.steps.iter().position(|s| s.id == "proof").map(|proof| &start.steps[..proof]);
        let shaping = divided.unwrap_or_default().iter().filter(|s| s.kind == crate::day::StepKind::Shape);
        let mut over = at;
        for s in shaping {
            over = later(over, Minutes(s.length.0));
            let (key, at, what) = rise_is_over(&s.id, over);
            event(key, at, what);
        }
    }
    match ended {
        Some(at) if watch.divided_at.is_some() => event("ended".into(), at, What::Finished),
        Some(at) => event("ended".into(), at, What::Abandoned),
        None if stations.is_err() => event("ended".into(), watch.mixed_at, What::Abandoned),
        None => {}
    }
    (start, events)
}
