//! Backups in a folder, what is restored into an open kitchen, the bin, devices, and the file looked after.

use std::collections::BTreeSet;
use std::path::Path;
use std::sync::Arc;
use std::sync::atomic::{AtomicI64, Ordering};

use cerealis_core::formula::Formula;
use cerealis_core::pantry::OwnIngredient;
use cerealis_core::words::Style;
use cerealis_store::{Backups, Clock, DeviceId, InBin, Role, Session, Setting, Store, StoreError, kept};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use proptest::prelude::*;

fn moment(text: &str) -> Timestamp {
    text.parse().unwrap()
}

/// A kitchen whose clock is set on by hours.
fn at(path: &Path) -> (Store, Arc<AtomicI64>) {
    let hours = Arc::new(AtomicI64::new(0));
    let set = hours.clone();
    let clock = Clock::by(move || {
        moment("2026-11-26T03:00:00Z") + SignedDuration::from_hours(set.load(Ordering::Relaxed))
    });
    (Store::open(path).unwrap().by(clock), hours)
}

#[test]
fn a_year_of_nights_is_kept_in_seventeen_files_at_most() {
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("kitchen.sqlite");
    let (store, hours) = at(&data);
    store.create_formula(&Formula::beginning("Mill loaf", Style::Tin)).unwrap();
    let backups = Backups::of(&data, None);
    assert!(backups.all().unwrap().is_empty() && backups.room().unwrap().free > 0);
    std::fs::create_dir(&backups.folder).unwrap();
    std::fs::write(backups.folder.join("notes.txt"), "mine").unwrap();
    for night in 0..250 {
        hours.store(24 * night, Ordering::Relaxed);
        backups.nightly(&store, &TimeZone::UTC).unwrap();
    }
    let all = backups.all().unwrap();
    assert!((13..=17).contains(&all.len()), "{}", all.len());
    let days = |n: i64| store.clock.now() - SignedDuration::from_hours(24 * n);
    assert!((0..7).all(|n| all.iter().any(|k| k.at == days(n))), "the last week day by day");
    assert!(all.last().unwrap().at < days(120), "and months back");
    assert_eq!(std::fs::read_to_string(backups.folder.join("notes.txt")).unwrap(), "mine");
    assert_eq!(backups.room().unwrap().taken, all.iter().map(|k| k.bytes).sum::<u64>());
    assert!(backups.named("../kitchen.sqlite").is_err() && backups.named("notes.txt").is_err());
}

/// Two that are made at the same moment, by night and by hand, are two.
#[test]
fn backups_of_one_moment_stand_beside_each_other() {
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("kitchen.sqlite");
    let (store, _) = at(&data);
    store.create_formula(&Formula::beginning("Mill loaf", Style::Tin)).unwrap();
    let backups = Backups::of(&data, None);
    std::thread::scope(|scope| {
        let made: Vec<_> = (0..6).map(|_| scope.spawn(|| backups.make(&store))).collect();
        for one in made {
            one.join().unwrap().unwrap();
        }
    });
    let all = backups.all().unwrap();
    assert_eq!(all.len(), 6);
    assert!(all.iter().all(|k| cerealis_store::check_backup(&k.file).is_ok()));
}

/// A backup that is dated in the future, by its name or by what it says of itself, keeps no other from being made.
#[test]
fn a_backup_of_the_future_stops_nothing() {
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("kitchen.sqlite");
    let (store, hours) = at(&data);
    store.create_formula(&Formula::beginning("Mill loaf", Style::Tin)).unwrap();
    let backups = Backups::of(&data, None);
    hours.store(24 * 400, Ordering::Relaxed);
    backups.make(&store).unwrap();
    hours.store(0, Ordering::Relaxed);
    let now = store.clock.now();
    assert_eq!(backups.last(now).unwrap(), None, "it is not believed");
    assert_eq!(backups.ahead(now).unwrap().len(), 1, "and told");
    for night in 0..30 {
        hours.store(24 * night, Ordering::Relaxed);
        backups.nightly(&store, &TimeZone::UTC).unwrap();
        assert_eq!(
            backups.last(store.clock.now()).unwrap(),
            Some(store.clock.now()),
            "the last one is that of today"
        );
    }
    // What it says of itself goes before its name.
    let last = backups.all().unwrap().into_iter().find(|k| k.at == store.clock.now()).unwrap().file;
    std::fs::rename(&last, last.with_file_name("kitchen-20990101T000000Z.sqlite.gz")).unwrap();
    assert_eq!(backups.last(store.clock.now()).unwrap(), Some(store.clock.now()));
    assert_eq!(backups.ahead(store.clock.now()).unwrap().len(), 1);
}

proptest! {
    /// Whatever was made when: the newest is kept, no more than 17 are, each day of the last week that has one, and what
    /// is kept once is kept of itself.
    #[test]
    fn what_is_kept_is_the_last_of_its_span(hours in prop::collection::btree_set(0i64..24 * 400, 1..120)) {
        let made: Vec<Timestamp> =
            hours.iter().map(|h| moment("2026-01-01T00:00:00Z") + SignedDuration::from_hours(*h)).collect();
        let zone = TimeZone::get("Europe/Paris").unwrap();
        let stay = kept(&made, &zone);
        prop_assert!(stay.len() <= 17 && stay.contains(made.last().unwrap()));
        let again = kept(&stay.iter().copied().collect::<Vec<_>>(), &zone);
        prop_assert_eq!(&again, &stay);
        let date = |t: &Timestamp| t.to_zoned_datetime(zone.clone()).date();
        let days: BTreeSet<_> = made.iter().map(date).collect();
        for day in days.iter().rev().take(7) {
            let last = made.iter().filter(|t| date(t) == *day).max().unwrap();
            prop_assert!(stay.contains(last), "{}", day);
        }
    }
}

#[test]
fn a_backup_is_restored_into_an_open_kitchen() {
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("kitchen.sqlite");
    let (store, hours) = at(&data);
    store.fill_with_demo().unwrap();
    let before = format!("{:?}", store.formulas().unwrap());
    let backups = Backups::of(&data, None);
    backups.make(&store).unwrap();
    let file = backups.all().unwrap()[0].file.clone();
    let phone = store.add_device("Phone", Role::Baker).unwrap();
    let new = store.create_formula(&Formula::beginning("Afterwards", Style::Rye)).unwrap();
    let other = store.formulas().unwrap().into_iter().find(|f| f.id != new).unwrap();
    store.delete_formula(other.id).unwrap();
    hours.store(1, Ordering::Relaxed);
    let writes = store.writes();
    backups.restore_open(&store, &file).unwrap();
    assert!(store.writes() > writes, "what was read before is read again");
    assert_eq!(format!("{:?}", store.formulas().unwrap()), before);
    assert!(matches!(store.formula(new), Err(StoreError::NotFound)));
    assert_eq!(store.device(phone).unwrap().name, "Phone", "devices stay");
    // What was there before is a backup too.
    let all = backups.all().unwrap();
    assert_eq!(all.len(), 2);
    hours.store(2, Ordering::Relaxed);
    backups.restore_open(&store, &all[0].file).unwrap();
    assert_eq!(store.formula(new).unwrap().formula.name, "Afterwards");
    // A damaged one touches nothing.
    let mut bytes = std::fs::read(&file).unwrap();
    let middle = bytes.len() / 2;
    bytes[middle] ^= 1;
    std::fs::write(&file, bytes).unwrap();
    assert!(matches!(backups.restore_open(&store, &file), Err(StoreError::BadBackup(..))));
    assert_eq!(store.formula(new).unwrap().formula.name, "Afterwards");
    let left: Vec<_> = std::fs::read_dir(&backups.folder).unwrap().map(|e| e.unwrap().file_name()).collect();
    assert!(left.iter().all(|n| n.to_str().unwrap().ends_with(".gz")), "{left:?}");
}

#[test]
fn what_was_deleted_can_be_taken_back_for_thirty_days() {
    let dir = tempfile::tempdir().unwrap();
    let (store, hours) = at(&dir.path().join("kitchen.sqlite"));
    let kept = store.create_formula(&Formula::beginning("Kept", Style::Tin)).unwrap();
    let gone = store.create_formula(&Formula::beginning("Gone", Style::Tin)).unwrap();
    let own = OwnIngredient {
        key: "own-bran".into(),
        name: "Mill bran".into(),
        like: "bread-flour".into(),
        ..OwnIngredient::default()
    };
    store
        .change_cupboard(None, |c| {
            c.own.push(own.clone());
            Ok(())
        })
        .unwrap();
    let key = store.cupboard().unwrap().cupboard.own[0].key.clone();
    store.delete_formula(gone).unwrap();
    hours.store(1, Ordering::Relaxed);
    store.remove_own(&key).unwrap();
    let names = |s: &Store| s.bin().unwrap().into_iter().map(|d| d.name).collect::<Vec<_>>();
    assert_eq!(names(&store), ["Mill bran", "Gone"]);
    let in_bin: Vec<InBin> = store.bin().unwrap().iter().map(|d| d.what).collect();
    store.take_back(in_bin[0]).unwrap();
    assert_eq!(store.cupboard().unwrap().cupboard.own[0].name, "Mill bran");
    assert!(matches!(store.take_back(in_bin[0]), Err(StoreError::NotFound)));
    // The offer on the page itself leaves nothing behind.
    store.remove_own(&key).unwrap();
    store.restore_own(own).unwrap();
    assert_eq!(names(&store), ["Gone"]);
    hours.store(30 * 24 - 1, Ordering::Relaxed);
    assert_eq!(store.empty_bin().unwrap(), 0);
    hours.store(30 * 24 + 1, Ordering::Relaxed);
    let done = store.look_after().unwrap();
    assert_eq!((done.emptied, done.wrong), (1, None));
    assert!(names(&store).is_empty() && matches!(store.restore_formula(gone), Err(StoreError::NotFound)));
    assert_eq!(store.formula(kept).unwrap().formula.name, "Kept");
}

#[test]
fn a_session_ends_with_its_time_and_with_its_device() {
    let dir = tempfile::tempdir().unwrap();
    let (store, hours) = at(&dir.path().join("kitchen.sqlite"));
    let phone = store.add_device("Phone", Role::Helper).unwrap();
    let session = Session {
        device: phone,
        body: "{}".into(),
        ends_at: store.clock.now() + SignedDuration::from_hours(10),
    };
    store.keep_session("secret", &session).unwrap();
    assert_eq!(store.session("secret").unwrap(), Some(session.clone()));
    assert_eq!(store.session("secreT").unwrap(), None);
    hours.store(11, Ordering::Relaxed);
    assert_eq!(store.session("secret").unwrap(), None);
    assert_eq!(store.look_after().unwrap().ended, 1);
    assert!(store.devices().unwrap().is_empty(), "it has to come again");
    let phone = store.add_device("Phone", Role::Helper).unwrap();
    let session = Session { device: phone, ..session };
    store
        .keep_session(
            "new",
            &Session { ends_at: store.clock.now() + SignedDuration::from_hours(1), ..session.clone() },
        )
        .unwrap();
    store.remove_device(phone).unwrap();
    assert_eq!(store.session("new").unwrap(), None);
    assert!(store.keep_session("late", &session).is_err(), "nobody signs a removed device in");
    assert!(matches!(store.set_role(DeviceId(9), Role::Baker), Err(StoreError::NotFound)));
    // No key stands in the file.
    store.set(Setting::Passphrase, Some("hashed")).unwrap();
    let bytes = std::fs::read(dir.path().join("kitchen.sqlite")).unwrap();
    assert!(!bytes.windows(6).any(|w| w == b"secret"));
}
