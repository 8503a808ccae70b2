//! A plan as a calendar (RFC 5545): an event for each thing that wants hands, with a bell, under a name of its own that
//! stays the same, so that a plan that is changed moves its events and does not double them.

use cerealis_core::plan::{PlannedStep, Taken};
use jiff::{SignedDuration, Timestamp};

/// The longest line in octets.
const LINE: usize = 75;

/// The plan's hands-on steps as a calendar. Times are in UTC, which every calendar shows by its own clock, in nights in
/// which the clocks change too.
pub fn calendar(taken: &Taken, now: Timestamp) -> String {
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
    for step in taken.steps.iter().filter(|s| s.hands_on) {
        event(&mut out, step, taken, now);
    }
    put(&mut out, "END:VCALENDAR");
    out
}

fn event(out: &mut String, step: &PlannedStep, taken: &Taken, now: Timestamp) {
    let dough = taken.doughs.get(step.dough).map_or("", String::as_str);
    let seconds = (step.length.0.max(1.0) * 60.0).round() as i64;
    let ends = step.at.checked_add(SignedDuration::from_secs(seconds)).unwrap_or(step.at);
    put(out, "BEGIN:VEVENT");
    put(out, &format!("UID:{}-{}@cerealis", step.dough, escape(&step.id)));
    put(out, &format!("SEQUENCE:{}", taken.sequence));
    put(out, &format!("DTSTAMP:{}", utc(now)));
    put(out, &format!("DTSTART:{}", utc(step.at)));
    put(out, &format!("DTEND:{}", utc(ends)));
    put(out, &format!("SUMMARY:{}", escape(&format!("{}: {dough}", step.title))));
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

    fn taken(title: &str, detail: &str) -> Taken {
        let step = |id: &str, hands_on| PlannedStep {
            dough: 0,
            id: id.into(),
            kind: StepKind::Mix,
            title: title.into(),
            detail: detail.into(),
            at: "2026-11-27T17:30:00Z".parse().unwrap(),
            length: Minutes(20.0),
            hands_on,
            give: Minutes(0.0),
            oven: None,
        };
        Taken {
            key: "as-written".into(),
            changes: Vec::new(),
            since: Vec::new(),
            doughs: vec!["Tin loaf; the small one".into()],
            steps: vec![step("mix.0", true), step("bulk", false)],
            sequence: 3,
        }
    }

    #[test]
    fn an_event_says_when_what_and_rings() {
        let text = calendar(&taken("Mix, then rest", "Until it comes together"), Timestamp::UNIX_EPOCH);
        for line in [
            "UID:0-mix.0@cerealis",
            "SEQUENCE:3",
            "DTSTART:20261127T173000Z",
            "DTEND:20261127T175000Z",
            "SUMMARY:Mix\\, then rest: Tin loaf\\; the small one",
            "TRIGGER:-PT5M",
        ] {
            assert!(text.contains(&format!("{line}\r\n")), "{line} in {text}");
        }
        assert_eq!(text.matches("BEGIN:VEVENT").count(), 1, "waits are no events");
    }

    proptest! {
        #[test]
        fn lines_are_folded_and_can_be_joined_again(title in "[^\\r]{0,200}", detail in ".{0,300}") {
            let text = calendar(&taken(&title, &detail), Timestamp::UNIX_EPOCH);
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
