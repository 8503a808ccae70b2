//! A calendar that was pasted.
#![no_main]

use cerealis_core::formats::absences;
use jiff::civil::date;
use jiff::tz::TimeZone;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|text: &str| {
    let zone = TimeZone::get("Europe/Paris").unwrap_or(TimeZone::UTC);
    if let Ok(found) = absences(text, date(2026, 11, 26), 4, &zone) {
        assert!(found.all.len() <= 1000);
    }
});
