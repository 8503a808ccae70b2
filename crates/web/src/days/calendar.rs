//! A plan as a calendar (RFC 5545): an event for each thing that wants hands, with a bell, under a name of its own that
//! stays the same, so that a plan that is changed moves its events and does not double them; what is not done any more is
//! cancelled. The `icalendar` crate reads, in the core; it writes a stamp and a random name into time zones and bells,
//! so that the same plan would never be the same file twice: it is written here.

use cerealis_core::plan::{DayPlan, PlannedStep, Taken, ToldStep};
use jiff::tz::{Offset, TimeZone};
use jiff::{SignedDuration, Timestamp};

/// The longest line in octets.
const LINE: usize = 75;

/// A plan that is followed, or was, in its time zone.
pub struct Calendar<'p> {
    plan: &'p DayPlan,
    zone: TimeZone,
    name: &'p str,
    now: Timestamp,
}

impl<'p> Calendar<'p> {
    /// The plan by the clock of a time zone; of UTC where it is not known.
    pub fn of(plan: &'p DayPlan, zone: &'p str, now: Timestamp) -> Calendar<'p> {
        match TimeZone::get(zone) {
            Ok(found) => Calendar { plan, zone: found, name: zone, now },
            Err(_) => Calendar { plan, zone: TimeZone::UTC, name: "UTC", now },
        }
    }

    /// All hands-on steps, and those that calendars were told of and that are not done any more; `None` where there are
    /// none.
    pub fn whole(&self) -> Option<String> {
        let steps: Vec<&PlannedStep> =
            self.plan.taken.iter().flat_map(|t| &t.steps).filter(|s| s.hands_on).collect();
        let there = |told: &ToldStep| steps.iter().any(|s| s.dough == told.dough && s.id == told.id);
        let dropped: Vec<&ToldStep> = self.plan.told.steps.iter().filter(|t| !there(t)).collect();
        (!steps.is_empty() || !dropped.is_empty()).then(|| self.written(&steps, &dropped))
    }

    /// One step; `None` where the plan has none of that name.
    pub fn one(&self, dough: usize, id: &str) -> Option<String> {
        let step =
            self.plan.taken.as_ref()?.steps.iter().find(|s| s.dough == dough && s.id == id && s.hands_on)?;
        Some(self.written(&[step], &[]))
    }

    fn written(&self, steps: &[&PlannedStep], dropped: &[&ToldStep]) -> String {
        let mut out = String::new();
        for line in [
            "BEGIN:VCALENDAR",
            "VERSION:2.0",
            "PRODID:-//Cerealis//Day//EN",
            "CALSCALE:GREGORIAN",
            "METHOD:PUBLISH",
        ] {
            put(&mut out, line);
        }
        let times = steps.iter().map(|s| s.at).chain(dropped.iter().map(|t| t.at));
        if let Some(first) = times.min() {
            self.time_zone(&mut out, first);
        }
        for step in steps {
            self.event(&mut out, step);
        }
        for told in dropped {
            self.cancelled(&mut out, told);
        }
        put(&mut out, "END:VCALENDAR");
        out
    }

    /// The time zone as it is in these days: the rule that holds, and the changes of its clocks about a year on.
    fn time_zone(&self, out: &mut String, first: Timestamp) {
        if self.name == "UTC" {
            return;
        }
        put(out, "BEGIN:VTIMEZONE");
        put(out, &format!("TZID:{}", self.name));
        let before = self.zone.preceding(first).next();
        let mut from = before.as_ref().map_or_else(
            || self.zone.to_offset(first),
            |t| self.zone.to_offset(t.timestamp().checked_sub(SignedDuration::from_secs(1)).unwrap_or(first)),
        );
        if before.is_none() {
            // It never changed.
            part(out, "STANDARD", "19700101T000000", from, from, self.name);
        }
        for t in before.into_iter().chain(self.zone.following(first).take(3)) {
            let to = t.offset();
            // By the clock that is changed.
            let at = from.to_datetime(t.timestamp()).strftime("%Y%m%dT%H%M%S").to_string();
            let kind = if t.dst().is_dst() { "DAYLIGHT" } else { "STANDARD" };
            part(out, kind, &at, from, to, t.abbreviation());
            from = to;
        }
        put(out, "END:VTIMEZONE");
    }

    fn uid(&self, dough: usize, id: &str) -> String {
        format!("UID:{}-{dough}-{}@cerealis", self.plan.from, escape(id))
    }

    fn at(&self, name: &str, t: Timestamp) -> String {
        let local = t.to_zoned_datetime(self.zone.clone()).datetime();
        // The hour that the clocks show twice is taken for its first time (3.3.5): the second is said in UTC.
        let meant = local.to_zoned_datetime(self.zone.clone()).is_ok_and(|z| z.timestamp() == t);
        if self.name == "UTC" || !meant {
            return format!("{name}:{}", utc(t));
        }
        format!("{name};TZID={}:{}", self.name, local.strftime("%Y%m%dT%H%M%S"))
    }

    fn head(&self, out: &mut String, dough: usize, id: &str, from: Timestamp, minutes: f64, title: &str) {
        let name =
            self.plan.taken.as_ref().and_then(|t: &Taken| t.doughs.get(dough)).map_or("", String::as_str);
        let seconds = (minutes.max(1.0) * 60.0).round() as i64;
        let ends = from.checked_add(SignedDuration::from_secs(seconds)).unwrap_or(from);
        put(out, "BEGIN:VEVENT");
        put(out, &self.uid(dough, id));
        put(out, &format!("SEQUENCE:{}", self.plan.told.sequence));
        put(out, &format!("DTSTAMP:{}", utc(self.now)));
        put(out, &self.at("DTSTART", from));
        put(out, &self.at("DTEND", ends));
        let summary = if name.is_empty() { title.to_owned() } else { format!("{title}: {name}") };
        put(out, &format!("SUMMARY:{}", escape(&summary)));
    }

    fn event(&self, out: &mut String, step: &PlannedStep) {
        self.head(out, step.dough, &step.id, step.at, step.length.0, &step.title);
        if !step.detail.is_empty() {
            put(out, &format!("DESCRIPTION:{}", escape(&step.detail)));
        }
        for line in ["BEGIN:VALARM", "ACTION:DISPLAY"] {
            put(out, line);
        }
        put(out, &format!("DESCRIPTION:{}", escape(&step.title)));
        for line in ["TRIGGER:-PT5M", "END:VALARM", "END:VEVENT"] {
            put(out, line);
        }
    }

    fn cancelled(&self, out: &mut String, told: &ToldStep) {
        self.head(out, told.dough, &told.id, told.at, 5.0, &told.title);
        for line in ["STATUS:CANCELLED", "END:VEVENT"] {
            put(out, line);
        }
    }
}

/// One rule of a time zone.
fn part(out: &mut String, kind: &str, at: &str, from: Offset, to: Offset, name: &str) {
    let offset = |o: Offset| {
        let (sign, s) = (if o.seconds() < 0 { '-' } else { '+' }, o.seconds().unsigned_abs());
        format!("{sign}{:02}{:02}", s / 3600, s / 60 % 60)
    };
    put(out, &format!("BEGIN:{kind}"));
    put(out, &format!("DTSTART:{at}"));
    put(out, &format!("TZOFFSETFROM:{}", offset(from)));
    put(out, &format!("TZOFFSETTO:{}", offset(to)));
    put(out, &format!("TZNAME:{}", escape(name)));
    put(out, &format!("END:{kind}"));
}

fn utc(t: Timestamp) -> String {
    t.strftime("%Y%m%dT%H%M%SZ").to_string()
}

/// Text as RFC 5545 wants it, 3.3.11.
fn escape(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    for c in text.chars() {
        match c {
            '\\' | ';' | ',' => {
                out.push('\\');
                out.push(c);
            }
            '\n' => out.push_str("\\n"),
            c if c.is_control() => {}
            c => out.push(c),
        }
    }
    out
}

/// A line, folded where it is long, 3.1.
fn put(out: &mut String, line: &str) {
    let mut room = LINE;
    for c in line.chars() {
        if c.len_utf8() > room {
            out.push_str("\r\n ");
            room = LINE - 1;
        }
        room -= c.len_utf8();
        out.push(c);
    }
    out.push_str("\r\n");
}

#[cfg(test)]
mod tests {
    use super::*;
    use cerealis_core::day::StepKind;
    use cerealis_core::units::Minutes;
    use proptest::prelude::*;

    fn plan(title: &str, detail: &str) -> DayPlan {
        let step = |id: &str, hands_on| PlannedStep {
            dough: 0,
            id: id.into(),
            kind: StepKind::Mix,
            title: title.into(),
            detail: detail.into(),
            at: "2026-11-27T17:30:00Z".parse().unwrap(),
            length: Minutes(20.0),
            hands_on,
            hangs_on: None,
            give: Minutes(0.0),
            oven: None,
            swells: Vec::new(),
        };
        let taken = Taken {
            key: "as-written".into(),
            changes: Vec::new(),
            since: Vec::new(),
            doughs: vec!["Tin loaf; the small one".into()],
            steps: vec![step("mix.0", true), step("bulk", false)],
            lanes: Vec::new(),
        };
        DayPlan::beginning(jiff::civil::date(2026, 11, 27)).following(taken)
    }

    fn whole(plan: &DayPlan) -> String {
        Calendar::of(plan, "Europe/Paris", Timestamp::UNIX_EPOCH).whole().unwrap()
    }

    #[test]
    fn an_event_says_when_what_and_rings() {
        let text = whole(&plan("Mix, then rest", "Until it comes together"));
        for line in [
            "UID:2026-11-27-0-mix.0@cerealis",
            "SEQUENCE:0",
            "TZID:Europe/Paris",
            "DTSTART:20261025T030000",
            "TZOFFSETFROM:+0200",
            "TZOFFSETTO:+0100",
            "DTSTART;TZID=Europe/Paris:20261127T183000",
            "DTEND;TZID=Europe/Paris:20261127T185000",
            "SUMMARY:Mix\\, then rest: Tin loaf\\; the small one",
            "TRIGGER:-PT5M",
        ] {
            assert!(text.contains(&format!("{line}\r\n")), "{line} in {text}");
        }
        assert_eq!(text.matches("BEGIN:VEVENT").count(), 1, "waits are no events");
    }

    /// A plan that is changed moves its events by a higher number; what is not done any more is cancelled.
    #[test]
    fn a_changed_plan_moves_and_cancels() {
        let first = plan("Mix", "");
        let mut taken = first.taken.clone().unwrap();
        taken.steps[0].id = "shape.0".into();
        let second = first.following(taken);
        let text = whole(&second);
        assert_eq!(text.matches("SEQUENCE:1\r\n").count(), 2, "{text}");
        let mixed = text.split("BEGIN:VEVENT").find(|e| e.contains("UID:2026-11-27-0-mix.0@")).unwrap();
        assert!(mixed.contains("STATUS:CANCELLED\r\n") && !mixed.contains("BEGIN:VALARM"), "{mixed}");
        // Let go, all of it is cancelled.
        let none = whole(&DayPlan { taken: None, ..second });
        assert_eq!(none.matches("STATUS:CANCELLED").count(), 2, "{none}");
    }

    /// A touch every hour through a night in which the clocks change.
    fn night(day: jiff::civil::Date) -> DayPlan {
        let first = plan("Fold", "Every hour");
        let before =
            day.yesterday().unwrap().at(21, 0, 0, 0).to_zoned_datetime(TimeZone::UTC).unwrap().timestamp();
        let mut taken = first.taken.unwrap();
        let one = taken.steps.remove(0);
        let hour = |n: i64| PlannedStep {
            id: format!("fold.{n}"),
            at: before + SignedDuration::from_hours(n),
            ..one.clone()
        };
        taken.steps = (0..8).map(hour).collect();
        DayPlan::beginning(day.yesterday().unwrap()).following(taken)
    }

    /// What Python's `icalendar` 7.3.2 (PyPI) reads of the two files in tests/data, written by this code and read by
    /// `scripts/calendar_read.py`: the moments of the plan, in the nights in which the clocks of Paris change.
    #[test]
    fn another_reader_finds_the_same_moments_when_the_clocks_change() {
        let read: serde_json::Value =
            serde_json::from_str(include_str!("../../tests/data/calendar_read.json")).unwrap();
        for (name, day, file) in [
            ("spring", jiff::civil::date(2026, 3, 29), include_str!("../../tests/data/calendar_spring.ics")),
            ("autumn", jiff::civil::date(2026, 10, 25), include_str!("../../tests/data/calendar_autumn.ics")),
        ] {
            let plan = night(day);
            let written = whole(&plan);
            if std::env::var_os("GOLDEN").is_some() {
                std::fs::write(format!("tests/data/calendar_{name}.ics"), &written).unwrap();
                continue;
            }
            assert_eq!(written, file, "GOLDEN=write writes it anew; then run scripts/calendar_read.py");
            let steps = &plan.taken.as_ref().unwrap().steps;
            let events = read[name].as_array().unwrap();
            assert_eq!(events.len(), steps.len());
            for (event, step) in events.iter().zip(steps) {
                assert_eq!(event["start"].as_str().unwrap().parse::<Timestamp>().unwrap(), step.at, "{name}");
                assert_eq!(event["minutes"].as_f64(), Some(step.length.0));
                assert_eq!((event["sequence"].as_i64(), event["bell"].as_f64()), (Some(0), Some(-5.0)));
                assert!(event["uid"].as_str().unwrap().contains(&step.id));
            }
        }
    }

    proptest! {
        #[test]
        fn lines_are_folded_and_can_be_joined_again(title in "[^\\r]{0,200}", detail in ".{0,300}") {
            let text = whole(&plan(&title, &detail));
            for line in text.split("\r\n") {
                prop_assert!(line.len() <= LINE, "{}", line);
                prop_assert!(!line.contains('\n') && !line.contains('\r'));
            }
            let joined = text.replace("\r\n ", "");
            let summary = format!("SUMMARY:{}", escape(&format!("{title}: Tin loaf; the small one")));
            prop_assert!(joined.contains(&summary));
        }
    }
}
