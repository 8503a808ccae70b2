//! What is done for a kitchen by night: its backup, and what its file wants now and then.

use std::time::Duration;

use ::log;
use cerealis_store::{Backups, Store};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};

/// How often it is looked whether it is time.
const LOOKS: Duration = Duration::from_secs(10 * 60);
/// From which hour of the night on, by the kitchen's clock.
const HOUR: i8 = 3;
/// No backup is wanted sooner after the last one: a night is skipped rather than made twice.
const APART: SignedDuration = SignedDuration::from_hours(12);
/// A machine that sleeps by night is backed up by day, once the last one is as old as this.
const OLD: SignedDuration = SignedDuration::from_hours(26);

/// How often the kitchen's file is looked at.
const WATCHES: Duration = Duration::from_secs(1);

/// Watches the kitchen's file for as long as the program runs; what is found is logged, and stands on every page.
pub fn watch(store: Store) {
    let looks = move || loop {
        store.look();
        std::thread::sleep(WATCHES);
    };
    if let Err(e) = std::thread::Builder::new().name("watch".into()).spawn(looks) {
        log::error!("the kitchen's file is not watched: {e}");
    }
}

/// Begins to keep a kitchen, for as long as the program runs.
pub fn begin(store: Store, backups: Backups) {
    let keep = move || loop {
        if let Err(e) = look(&store, &backups) {
            log::error!("the nightly backup failed: {e}");
        }
        std::thread::sleep(LOOKS);
    };
    if let Err(e) = std::thread::Builder::new().name("keeper".into()).spawn(keep) {
        log::error!("nothing is done by night: {e}");
    }
}

/// Whether a backup is due at a moment, where the last one was made then.
fn is_due(last: Option<Timestamp>, now: Timestamp, zone: &TimeZone) -> bool {
    let age = last.map(|l| now.duration_since(l));
    let night = now.to_zoned_datetime(zone.clone()).hour() == HOUR;
    age.is_none_or(|age| age >= OLD || (night && age >= APART))
}

fn look(store: &Store, backups: &Backups) -> Result<(), cerealis_store::StoreError> {
    let now = store.clock.now();
    let zone = store.kitchen()?.kitchen.zone().unwrap_or(TimeZone::UTC);
    let last = backups.last(now)?;
    for odd in backups.ahead(now)? {
        log::warn!("{} is dated in the future: this machine's clock is wrong, or was", odd.file.display());
    }
    // Nothing is there to be kept yet.
    if store.is_empty()? || !is_due(last, now, &zone) {
        return Ok(());
    }
    let (made, gone) = backups.nightly(store, &zone)?;
    log::info!("backed up: {} bytes, {gone} older ones gone", made.bytes);
    let done = store.look_after()?;
    match done.wrong {
        None => {
            log::info!("the file is whole; {} out of the bin, {} sessions ended", done.emptied, done.ended)
        }
        Some(wrong) => log::error!("the file is damaged: {wrong}"),
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn once_a_night_or_by_day_where_the_night_was_missed() {
        let zone = TimeZone::get("Europe/Paris").unwrap();
        let at = |text: &str| text.parse::<Timestamp>().unwrap();
        assert!(is_due(None, at("2026-11-26T15:00:00Z"), &zone), "the first at once");
        let last = Some(at("2026-11-26T02:05:00Z"));
        assert!(!is_due(last, at("2026-11-26T02:55:00Z"), &zone), "once a night");
        assert!(!is_due(last, at("2026-11-26T20:00:00Z"), &zone));
        assert!(is_due(last, at("2026-11-27T02:05:00Z"), &zone), "the next night");
        assert!(is_due(last, at("2026-11-27T09:00:00Z"), &zone), "or the day after it");
    }
}
