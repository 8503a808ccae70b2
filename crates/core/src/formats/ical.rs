//! A baker's own calendar (iCalendar, RFC 5545) read for the hours in which nobody is at the bench: events with their
//! repetitions, whole days, and other time zones. What is marked as free, or cancelled, takes no time.

use std::collections::BTreeMap;
use std::str::FromStr;

use chrono::{Datelike, TimeZone as _, Timelike};
use icalendar::parser::{Component, Property, read_calendar_simple, unfold};
use jiff::civil::{Date, DateTime};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Span};
use rrule::RRuleSet;
use schemars::JsonSchema;
use serde::Serialize;

use super::TEXT_MAX;
use crate::fault::Fault;

/// A stretch of one date in which the baker is not at the bench.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Absence {
    /// What the calendar calls it, at most 40 characters.
    pub name: String,
    /// From when, by the kitchen's clock.
    #[schemars(with = "String")]
    pub from: DateTime,
    /// To when, on the same date; 23:59 where it goes on to the next.
    #[schemars(with = "String")]
    pub to: DateTime,
}

/// What was read of a calendar.
#[derive(Clone, Debug, Default, PartialEq, Serialize, JsonSchema)]
pub struct Absences {
    /// In order of time.
    pub all: Vec<Absence>,
    /// What could not be read as it was meant, a sentence each.
    pub doubts: Vec<String>,
}

/// The most repetitions of one event within the days that are read.
const REPEATS: u16 = 200;
/// The most characters of a name.
const NAME: usize = 40;
/// The longest event that is looked back for, days.
const LOOKS_BACK: i64 = 31;
/// How many repetitions of one event are counted through: a daily one of fifty years has 18 263.
const LOOKS_AT_ONE: usize = 20_000;
/// How many of a calendar in all.
const LOOKS: usize = 100_000;

/// One event: its beginning by the clock of its zone, and how long it lasts.
struct Event {
    uid: String,
    name: String,
    begins: DateTime,
    zone: TimeZone,
    lasts: SignedDuration,
    rules: Vec<String>,
    added: Vec<DateTime>,
    left_out: Vec<DateTime>,
    /// Of which repetition of another event it is another version.
    instead_of: Option<DateTime>,
}

/// Reads the hours away within some days out of a calendar's text, by a kitchen's clock.
///
/// # Errors
/// A text that is too long, or is no calendar, with the line of the fault.
pub fn absences(text: &str, first: Date, days: u32, zone: &TimeZone) -> Result<Absences, Fault> {
    if text.len() > TEXT_MAX {
        return Err(Fault::new(
            "too-long",
            "calendar",
            "This calendar is over a megabyte. Export fewer months of it.",
        ));
    }
    let text = text.trim_start_matches('\u{feff}').trim_start();
    if text.is_empty() || (text.lines().count() < 2 && !text.starts_with("BEGIN:")) {
        let message = "This is no calendar: it does not begin with BEGIN:VCALENDAR, at line 1.";
        return Err(Fault::new("malformed", "calendar", message));
    }
    let unfolded = unfold(text);
    too_deep(&unfolded)?;
    let parts = read_calendar_simple(&unfolded).map_err(|e| {
        let before = unfolded.len().saturating_sub(e.input.len());
        let line = unfolded[..before].lines().count().max(1);
        let message = format!("This does not read as a calendar: line {line} is not as it should be.");
        Fault::new("malformed", "calendar", message)
    })?;
    let calendars: Vec<&Component<'_>> = parts.iter().filter(|c| c.name.as_str() == "VCALENDAR").collect();
    if calendars.is_empty() {
        let message = "This is no calendar: there is no BEGIN:VCALENDAR in it.";
        return Err(Fault::new("malformed", "calendar", message));
    }
    let mut found = Absences::default();
    let mut events: Vec<Event> = Vec::new();
    for part in calendars.iter().flat_map(|c| &c.components).filter(|c| c.name.as_str() == "VEVENT") {
        if takes_time(part) {
            events.extend(event(part, zone, &mut found.doubts));
        }
    }
    // What stands in for one repetition leaves that one out.
    let mut moved: BTreeMap<String, Vec<DateTime>> = BTreeMap::new();
    for part in calendars.iter().flat_map(|c| &c.components).filter(|c| c.name.as_str() == "VEVENT") {
        if let (Some(uid), Some(instead)) = (value(part, "UID"), property(part, "RECURRENCE-ID"))
            && let Some((at, _, _)) = moment(instead, zone, &mut Vec::new())
        {
            moved.entry(uid.to_owned()).or_default().push(at);
        }
    }
    let from = first.at(0, 0, 0, 0);
    let until = from.checked_add(Span::new().days(i64::from(days))).unwrap_or(from);
    let mut looks = LOOKS;
    for e in &mut events {
        if e.instead_of.is_none() {
            e.left_out.extend(moved.get(&e.uid).into_iter().flatten().copied());
        }
        for begins in repetitions(e, from, until, &mut looks, &mut found.doubts) {
            found.all.extend(stretches(e, begins, zone, (from, until)));
        }
    }
    found.all.sort_by(|a, b| (a.from, a.to, &a.name).cmp(&(b.from, b.to, &b.name)));
    found.all.dedup();
    found.doubts.sort();
    found.doubts.dedup();
    Ok(found)
}

/// How deep parts of a calendar may lie in each other: an alarm lies in an event in a calendar.
const DEEPEST: usize = 8;

/// The parser goes into each part by calling itself, and a stack that runs over ends the program. So parts are counted
/// before it: one is closed only by the end of its own name, as the parser sees it or sooner.
fn too_deep(text: &str) -> Result<(), Fault> {
    let mut open: Vec<String> = Vec::new();
    for (n, line) in text.split(['\n', '\r']).enumerate() {
        let line = line.trim();
        let after = |word: &str| {
            let head = line.get(..word.len())?;
            head.eq_ignore_ascii_case(word).then(|| line[word.len()..].trim().to_ascii_uppercase())
        };
        if let Some(name) = after("BEGIN:") {
            open.push(name);
        } else if let Some(name) = after("END:")
            && open.last() == Some(&name)
        {
            open.pop();
        }
        if open.len() > DEEPEST {
            let message = format!(
                "This calendar has more than {DEEPEST} parts inside each other, at line {}. Export it again from where it comes from.",
                n + 1
            );
            return Err(Fault::new("malformed", "calendar", message));
        }
    }
    Ok(())
}

fn property<'c>(part: &'c Component<'_>, name: &str) -> Option<&'c Property<'c>> {
    part.properties.iter().find(|p| p.name.as_str().eq_ignore_ascii_case(name))
}

fn value<'c>(part: &'c Component<'_>, name: &str) -> Option<&'c str> {
    property(part, name).map(|p| p.val.as_str())
}

fn takes_time(part: &Component<'_>) -> bool {
    let is = |name: &str, word: &str| value(part, name).is_some_and(|v| v.trim().eq_ignore_ascii_case(word));
    !is("STATUS", "CANCELLED") && !is("TRANSP", "TRANSPARENT")
}

fn parameter<'p>(p: &'p Property<'_>, key: &str) -> Option<&'p str> {
    let found = p.params.iter().find(|x| x.key.as_str().eq_ignore_ascii_case(key))?;
    found.val.as_ref().map(|v| v.as_str().trim_matches('"'))
}

/// A date or a time as it stands in a value: `20261127`, `20261127T173000`, `20261127T173000Z`.
fn clock(text: &str) -> Option<(DateTime, bool)> {
    let text = text.trim();
    let (digits, utc) = match text.strip_suffix('Z') {
        Some(rest) => (rest, true),
        None => (text, false),
    };
    let number = |from: usize, to: usize| digits.get(from..to)?.parse::<i16>().ok();
    let date = Date::new(number(0, 4)?, number(4, 6)? as i8, number(6, 8)? as i8).ok()?;
    if digits.len() == 8 {
        return Some((date.at(0, 0, 0, 0), utc));
    }
    let part = |from: usize| number(from, from + 2).map(|n| n as i8);
    let time = jiff::civil::Time::new(part(9)?, part(11)?, part(13).unwrap_or(0).min(59), 0).ok()?;
    (digits.as_bytes().get(8) == Some(&b'T')).then(|| (date.to_datetime(time), utc))
}

/// A moment by the clock of its zone, with that zone, and whether it is a whole day.
fn moment(p: &Property<'_>, here: &TimeZone, doubts: &mut Vec<String>) -> Option<(DateTime, TimeZone, bool)> {
    let text = p.val.as_str();
    let (at, utc) = clock(text)?;
    let whole = text.trim().len() == 8;
    if utc {
        return Some((at, TimeZone::UTC, whole));
    }
    let zone = match parameter(p, "TZID").map(|name| (name, TimeZone::get(name.trim_start_matches('/')))) {
        None => here.clone(),
        Some((_, Ok(zone))) => zone,
        Some((name, Err(_))) => {
            doubts.push(format!(
                "The time zone “{name}” is not known: its times are taken by the kitchen's clock."
            ));
            here.clone()
        }
    };
    Some((at, zone, whole))
}

fn event(part: &Component<'_>, here: &TimeZone, doubts: &mut Vec<String>) -> Option<Event> {
    let name: String =
        value(part, "SUMMARY").map_or_else(|| "Away".into(), unescaped).chars().take(NAME).collect();
    let Some((begins, zone, whole)) = property(part, "DTSTART").and_then(|p| moment(p, here, doubts)) else {
        doubts.push(format!("“{name}” has no beginning that reads, and is left out."));
        return None;
    };
    let ends = property(part, "DTEND").and_then(|p| moment(p, here, doubts));
    let lasts = match (ends, value(part, "DURATION")) {
        (Some((at, other, _)), _) => {
            let instant = |at: DateTime, zone: &TimeZone| {
                at.to_zoned_datetime(zone.clone()).ok().map(|z| z.timestamp())
            };
            instant(at, &other)?.duration_since(instant(begins, &zone)?)
        }
        (None, Some(text)) => {
            let span = Span::from_str(text.trim()).ok()?;
            span.to_duration(jiff::SpanRelativeTo::days_are_24_hours()).ok()?
        }
        (None, None) if whole => SignedDuration::from_hours(24),
        (None, None) => return None,
    };
    if lasts <= SignedDuration::ZERO {
        return None;
    }
    let by_its_clock = |p: &Property<'_>| -> Vec<DateTime> {
        let own = parameter(p, "TZID").and_then(|n| TimeZone::get(n).ok());
        let all = p.val.as_str().split(',').filter_map(clock);
        all.filter_map(|(at, utc)| {
            let from = if utc { TimeZone::UTC } else { own.clone().unwrap_or_else(|| zone.clone()) };
            Some(at.to_zoned_datetime(from).ok()?.with_time_zone(zone.clone()).datetime())
        })
        .collect()
    };
    let all = |name: &str| -> Vec<&Property<'_>> {
        part.properties.iter().filter(|p| p.name.as_str().eq_ignore_ascii_case(name)).collect()
    };
    Some(Event {
        uid: value(part, "UID").unwrap_or_default().to_owned(),
        rules: all("RRULE").into_iter().map(|p| by_clock(p.val.as_str(), &zone)).collect(),
        added: all("RDATE").into_iter().flat_map(by_its_clock).collect(),
        left_out: all("EXDATE").into_iter().flat_map(by_its_clock).collect(),
        instead_of: property(part, "RECURRENCE-ID").and_then(|p| moment(p, here, doubts)).map(|(at, ..)| at),
        name,
        begins,
        lasts,
        zone,
    })
}

/// A rule whose end is said by the clock of its zone, as its beginning is.
fn by_clock(rule: &str, zone: &TimeZone) -> String {
    let part = |part: &str| -> String {
        let Some(until) = part.strip_prefix("UNTIL=") else { return part.to_owned() };
        let Some((at, utc)) = clock(until) else { return part.to_owned() };
        let at = match utc {
            true => {
                at.to_zoned_datetime(TimeZone::UTC).map_or(at, |z| z.with_time_zone(zone.clone()).datetime())
            }
            false if until.trim().len() == 8 => at.date().at(23, 59, 59, 0),
            false => at,
        };
        format!("UNTIL={}", written(at))
    };
    rule.trim().split(';').map(part).collect::<Vec<_>>().join(";")
}

/// A time by the clock, as the rules are worked out: by no zone at all.
fn written(at: DateTime) -> String {
    at.strftime("%Y%m%dT%H%M%SZ").to_string()
}

/// When an event begins, by the clock of its zone, as far as it may reach into the days.
fn repetitions(
    e: &Event,
    from: DateTime,
    until: DateTime,
    looks: &mut usize,
    doubts: &mut Vec<String>,
) -> Vec<DateTime> {
    let once = |all: Vec<DateTime>| -> Vec<DateTime> {
        all.into_iter().filter(|at| !e.left_out.contains(at)).collect()
    };
    let mut all: Vec<DateTime> = e.added.clone();
    if e.rules.is_empty() {
        all.push(e.begins);
        return once(all);
    }
    let text = std::iter::once(format!("DTSTART:{}", written(e.begins)))
        .chain(e.rules.iter().map(|r| format!("RRULE:{r}")))
        .collect::<Vec<_>>()
        .join("\n");
    // RFC 5545 writes rules in ASCII; the crate (0.14.0) cuts some of their words by bytes.
    let Some(rules) = Some(&text).filter(|t| t.is_ascii()).and_then(|t| RRuleSet::from_str(t).ok()) else {
        doubts.push(format!("How “{}” repeats does not read: it is taken once.", e.name));
        all.push(e.begins);
        return once(all);
    };
    let utc = |at: DateTime| {
        let at = rrule::Tz::UTC.with_ymd_and_hms(
            i32::from(at.year()),
            at.month() as u32,
            at.day() as u32,
            at.hour() as u32,
            at.minute() as u32,
            0,
        );
        at.single()
    };
    // Another zone's clock is at most a day from this one.
    let first = from.checked_sub(Span::new().days(LOOKS_BACK)).unwrap_or(from);
    let last = until.checked_add(Span::new().days(1)).unwrap_or(until);
    let (Some(first), Some(last)) = (utc(first), utc(last)) else { return once(all) };
    let least = looks.saturating_sub(LOOKS_AT_ONE);
    for at in &rules.limit() {
        *looks = looks.saturating_sub(1);
        if at > last || all.len() >= usize::from(REPEATS) {
            break;
        }
        // What repeats every second since the year 226 is not counted through.
        if *looks <= least {
            doubts.push(format!(
                "“{}” repeats too often, or since too long ago: it may be missing here.",
                e.name
            ));
            break;
        }
        let date = Date::new(at.year() as i16, at.month() as i8, at.day() as i8);
        if let Some(date) = date.ok().filter(|_| at >= first) {
            all.push(date.at(at.hour() as i8, at.minute() as i8, 0, 0));
        }
    }
    once(all)
}

/// An event by the kitchen's clock, a stretch for each date that it touches within the days.
fn stretches(
    e: &Event,
    begins: DateTime,
    here: &TimeZone,
    (from, until): (DateTime, DateTime),
) -> Vec<Absence> {
    let Ok(start) = begins.to_zoned_datetime(e.zone.clone()) else { return Vec::new() };
    let Ok(end) = start.timestamp().checked_add(e.lasts) else { return Vec::new() };
    let local = |t: jiff::Timestamp| t.to_zoned_datetime(here.clone()).datetime();
    let (start, end) = (local(start.timestamp()).max(from), local(end).min(until));
    let mut all = Vec::new();
    let mut at = start;
    while at < end {
        let Ok(tomorrow) = at.date().tomorrow() else { break };
        let next = tomorrow.at(0, 0, 0, 0);
        let to = if end < next { end } else { at.date().at(23, 59, 0, 0) };
        if to > at {
            all.push(Absence { name: e.name.clone(), from: at, to });
        }
        at = next;
    }
    all
}

/// Text as it was before RFC 5545, 3.3.11 escaped it, on one line.
fn unescaped(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    let mut letters = text.chars();
    while let Some(c) = letters.next() {
        match (c, c == '\\') {
            (_, true) => match letters.next() {
                Some('n' | 'N') => out.push(' '),
                Some(other) => out.push(other),
                None => {}
            },
            (c, _) if c.is_control() => {}
            (c, _) => out.push(c),
        }
    }
    out.trim().to_owned()
}

#[cfg(test)]
mod tests;
