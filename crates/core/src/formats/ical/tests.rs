use super::*;
use jiff::civil::Date;
use jiff::civil::date;
use proptest::prelude::*;

fn read(events: &str) -> Absences {
    let text = format!(
        "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//a//b//EN\r\n{}\r\nEND:VCALENDAR\r\n",
        events.trim().replace('\n', "\r\n")
    );
    let paris = TimeZone::get("Europe/Paris").unwrap();
    absences(&text, date(2026, 11, 27), 3, &paris).unwrap()
}

fn said(found: &Absences) -> Vec<String> {
    let one =
        |a: &Absence| format!("{} {} to {}", a.name, a.from.strftime("%a %H:%M"), a.to.strftime("%H:%M"));
    found.all.iter().map(one).collect()
}

/// 27 November 2026 is a Friday; Paris is at UTC+1.
#[test]
fn events_repetitions_whole_days_and_other_zones_are_read() {
    let found = read(
        "BEGIN:VEVENT\nUID:1\nSUMMARY:Dentist\\, then tea\nDTSTART:20261127T090000Z\nDTEND:20261127T103000Z\nEND:VEVENT\n\
         BEGIN:VEVENT\nUID:2\nSUMMARY:Choir\nDTSTART;TZID=Europe/Paris:20240105T190000\nDURATION:PT1H30M\nRRULE:FREQ=WEEKLY;BYDAY=FR\nEND:VEVENT\n\
         BEGIN:VEVENT\nUID:3\nSUMMARY:Fair\nDTSTART;VALUE=DATE:20261128\nDTEND;VALUE=DATE:20261129\nEND:VEVENT\n\
         BEGIN:VEVENT\nUID:4\nSUMMARY:Call\nDTSTART;TZID=America/New_York:20261127T060000\nDTEND;TZID=America/New_York:20261127T070000\nEND:VEVENT\n\
         BEGIN:VEVENT\nUID:5\nSUMMARY:Birthday\nTRANSP:TRANSPARENT\nDTSTART;VALUE=DATE:20261127\nEND:VEVENT\n\
         BEGIN:VEVENT\nUID:6\nSUMMARY:Off\nSTATUS:CANCELLED\nDTSTART:20261127T100000Z\nDTEND:20261127T110000Z\nEND:VEVENT",
    );
    assert_eq!(
        said(&found),
        [
            "Dentist, then tea Fri 10:00 to 11:30",
            "Call Fri 12:00 to 13:00",
            "Choir Fri 19:00 to 20:30",
            "Fair Sat 00:00 to 23:59",
        ]
    );
    assert!(found.doubts.is_empty(), "{:?}", found.doubts);
}

#[test]
fn a_repetition_may_be_left_out_moved_or_at_its_end() {
    let found = read(
        "BEGIN:VEVENT\nUID:1\nSUMMARY:Walk\nDTSTART;TZID=Europe/Paris:20261101T080000\nDTEND;TZID=Europe/Paris:20261101T090000\nRRULE:FREQ=DAILY\nEXDATE;TZID=Europe/Paris:20261128T080000\nEND:VEVENT\n\
         BEGIN:VEVENT\nUID:1\nSUMMARY:Walk\nRECURRENCE-ID;TZID=Europe/Paris:20261129T080000\nDTSTART;TZID=Europe/Paris:20261129T100000\nDTEND;TZID=Europe/Paris:20261129T110000\nEND:VEVENT\n\
         BEGIN:VEVENT\nUID:2\nSUMMARY:Class\nDTSTART;TZID=Europe/Paris:20261120T170000\nDTEND;TZID=Europe/Paris:20261120T180000\nRRULE:FREQ=DAILY;UNTIL=20261128T160000Z\nEND:VEVENT",
    );
    assert_eq!(
        said(&found),
        [
            "Walk Fri 08:00 to 09:00",
            "Class Fri 17:00 to 18:00",
            "Class Sat 17:00 to 18:00",
            "Walk Sun 10:00 to 11:00",
        ]
    );
}

/// A weekly hour by the clock stays at its hour over the night in which the clocks change.
#[test]
fn a_weekly_hour_stays_at_its_hour_when_the_clocks_change() {
    let text = "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nUID:1\r\nSUMMARY:Choir\r\nDTSTART;TZID=Europe/Paris:20261018T190000\r\nDURATION:PT1H\r\nRRULE:FREQ=WEEKLY\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n";
    let paris = TimeZone::get("Europe/Paris").unwrap();
    for day in [18, 25] {
        let found = absences(text, date(2026, 10, day), 1, &paris).unwrap();
        assert_eq!(said(&found), ["Choir Sun 19:00 to 20:00"], "{day}");
    }
}

/// Rules that would be counted for minutes, and words that are cut by bytes: both were found by the fuzz targets.
#[test]
fn rules_that_are_hard_to_count_are_said_to_be() {
    let zone = TimeZone::get("Europe/Paris").unwrap();
    let of = |start: &str, rule: &str| {
        let text = format!(
            "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nUID:1\r\nSUMMARY:Choir\r\nDTSTART:{start}\r\nDURATION:PT1H\r\nRRULE:{rule}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
        );
        absences(&text, date(2026, 11, 27), 1, &zone).unwrap().doubts
    };
    for (start, rule) in [
        ("20200101T080000", "FREQ=SECONDLY"),
        ("02261127T090000", "FREQ=MINUTELY"),
        ("20261126T090000", "FREQ=WEEKLY;BYDAY=TH\u{679}R"),
    ] {
        assert_eq!(of(start, rule).len(), 1, "{start} {rule}");
    }
    assert!(of("19760101T080000", "FREQ=DAILY").is_empty(), "a daily one of fifty years is counted");
}

#[test]
fn what_is_no_calendar_is_refused_with_the_place_of_the_fault() {
    let zone = TimeZone::UTC;
    let fault = |text: &str| absences(text, date(2026, 11, 27), 1, &zone).unwrap_err().message;
    assert!(fault("flour, water, salt").contains("line 1"), "{}", fault("flour, water, salt"));
    let cut = "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:1\r\n";
    assert!(fault(cut).contains("line"), "{}", fault(cut));
    assert!(fault("").contains("no calendar"));
    let unknown = read(
        "BEGIN:VEVENT\nUID:1\nSUMMARY:Far\nDTSTART;TZID=Elsewhere Time:20261127T090000\nDURATION:PT1H\nEND:VEVENT",
    );
    assert_eq!((unknown.all.len(), unknown.doubts.len()), (1, 1));
}

fn starts() -> impl Strategy<Value = String> {
    prop_oneof!["[0-9TZ]{0,16}", "202611(2[0-9]|30)T[01][0-9][0-5][0-9]00Z?"]
}

/// Anything, and what begins as a rule does and goes on as it should not.
fn rules() -> impl Strategy<Value = String> {
    prop_oneof![
        "[A-Z=;,0-9]{0,40}",
        "FREQ=(DAILY|WEEKLY|MONTHLY|YEARLY)(;(BYDAY|BYMONTHDAY|BYSETPOS|BYHOUR|UNTIL|WKST|INTERVAL|COUNT)=[+-]?[0-9]{0,3}(MO|TU|TH)?[^\\r\\n;]{0,3}){0,3}",
    ]
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 400, ..ProptestConfig::default() })]

    /// Any text is read or refused, and what is read lies within the days.
    #[test]
    fn any_text_is_read_or_refused(text in ".{0,400}", start in starts(), rule in rules()) {
        let zone = TimeZone::get("Europe/Paris").unwrap();
        let whole = format!("BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nSUMMARY:{}\r\nDTSTART:{start}\r\nDURATION:PT2H\r\nRRULE:{rule}\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n", text.replace(['\r', '\n'], " "));
        for text in [&text, &whole] {
            if let Ok(found) = absences(text, date(2026, 11, 27), 3, &zone) {
                for a in &found.all {
                    prop_assert!(a.from < a.to && a.from.date() == a.to.date());
                    prop_assert!(a.from.date() >= date(2026, 11, 27) && a.to.date() <= date(2026, 11, 29));
                    prop_assert!(a.name.chars().count() <= NAME);
                }
            }
        }
    }
}

/// Parts in parts are refused before the parser, which would go into them until its stack runs over.
#[test]
fn parts_inside_each_other_are_counted_before_they_are_read() {
    let read = |text: &str| absences(text, Date::constant(2026, 11, 27), 3, &TimeZone::UTC);
    for (begin, end) in [
        ("BEGIN:VEVENT\n", "END:VEVENT\n"),
        ("begin:vevent\n", "end:vevent\n"),
        ("BEGIN:X\r", ""),
        // An end of another name closes nothing.
        ("BEGIN:VEVENT\r\nEND:OTHER\r\n", ""),
        (" BEGIN:VEVENT\nEND:VALARM\n", ""),
        ("BEG\n IN:VEVENT\n", ""),
    ] {
        for deep in [9, 2000, 60_000] {
            let mut text =
                format!("BEGIN:VCALENDAR\n{}{}END:VCALENDAR\n", begin.repeat(deep), end.repeat(deep));
            text.truncate(TEXT_MAX);
            let fault = read(&text).unwrap_err();
            assert_eq!(fault.code, "malformed", "{begin:?} {deep}: {fault:?}");
        }
    }
    // As deep as calendars are, any number beside each other.
    let event = "BEGIN:VEVENT\nUID:1\nDTSTART:20261127T100000Z\nDTEND:20261127T110000Z\nBEGIN:VALARM\nEND:VALARM\nEND:VEVENT\n";
    assert_eq!(read(&format!("BEGIN:VCALENDAR\n{}END:VCALENDAR\n", event.repeat(500))).unwrap().all.len(), 1);
}

proptest::proptest! {
    #![proptest_config(proptest::prelude::ProptestConfig::with_cases(64))]
    /// Beginnings and ends in any order and number never end the program.
    #[test]
    fn no_order_of_parts_ends_the_program(
        parts in proptest::collection::vec((0usize..6, 1usize..400), 1..40)
    ) {
        let words = ["BEGIN:VEVENT\n", "END:VEVENT\n", "BEGIN:VALARM\r\n", "END:VALARM\n", "end:vcalendar\n", "BEGIN:VCALENDAR\n"];
        let text: String = parts.iter().map(|(w, n)| words[*w].repeat(*n)).collect();
        let _ = absences(&format!("BEGIN:VCALENDAR\n{text}"), Date::constant(2026, 11, 27), 3, &TimeZone::UTC);
    }
}
