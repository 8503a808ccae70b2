//! What is done to a kitchen's file from outside: killed, damaged, newer, locked, full.

use std::path::PathBuf;

use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::units::Celsius;
use cerealis_core::words::Style;
use cerealis_store::{FormulaId, Kind, Store, StoreError};
use diesel::SqliteConnection;
use diesel::connection::{Connection, SimpleConnection};
use rstest::rstest;
use tempfile::TempDir;

fn place() -> (TempDir, PathBuf) {
    let dir = tempfile::tempdir().unwrap();
    let path = dir.path().join("kitchen.sqlite");
    (dir, path)
}

fn filled() -> (TempDir, PathBuf) {
    let (dir, path) = place();
    Store::open(&path).unwrap().fill_with_demo().unwrap();
    (dir, path)
}

/// Another program at the same file.
fn outside(path: &std::path::Path) -> SqliteConnection {
    SqliteConnection::establish(path.to_str().unwrap()).unwrap()
}

fn run(path: &std::path::Path, sql: &str) {
    outside(path).batch_execute(sql).unwrap();
}

/// A kill in the first milliseconds leaves a file that has nothing in it but what came first.
#[rstest]
#[case("PRAGMA journal_mode = WAL;")]
#[case(
    "PRAGMA journal_mode = WAL; CREATE TABLE __diesel_schema_migrations (version VARCHAR(50) PRIMARY KEY NOT NULL, run_on TIMESTAMP NOT NULL DEFAULT CURRENT_TIMESTAMP);"
)]
fn a_kill_while_it_is_made_leaves_a_file_that_opens(#[case] so_far: &str) {
    let (_dir, path) = place();
    run(&path, so_far);
    let store = Store::open(&path).unwrap();
    assert!(store.is_empty().unwrap() && !store.is_demo().unwrap());
    store.fill_with_demo().unwrap();
    assert!(store.is_demo().unwrap() && !store.is_empty().unwrap());
}

#[test]
fn a_file_of_a_newer_program_is_refused_and_left_alone() {
    let (_dir, path) = filled();
    run(&path, "INSERT INTO __diesel_schema_migrations (version) VALUES ('20991231000001');");
    let before = std::fs::read(&path).unwrap();
    assert!(matches!(Store::open(&path), Err(StoreError::NewerFile(_))));
    assert_eq!(std::fs::read(&path).unwrap(), before);
}

#[test]
fn a_file_with_a_broken_page_is_refused_with_what_to_do() {
    let (_dir, path) = filled();
    run(&path, "PRAGMA wal_checkpoint(TRUNCATE); PRAGMA journal_mode = DELETE;");
    let mut bytes = std::fs::read(&path).unwrap();
    let pages = bytes.len() / 4096;
    for page in 2..pages {
        bytes[page * 4096..page * 4096 + 40].fill(0xAB);
    }
    std::fs::write(&path, &bytes).unwrap();
    let Err(error) = Store::open(&path) else { panic!("a broken file opened") };
    assert!(matches!(error, StoreError::BrokenFile(..)), "{error:?}");
    assert!(error.to_string().contains("last copy"), "{error}");
    assert_eq!(std::fs::read(&path).unwrap(), bytes, "it is left as it was");
}

#[rstest]
#[case("UPDATE formulas SET body = '{\"name\":\"Weir loaf\",\"lines\":[' WHERE id = 2", "Weir loaf")]
#[case("UPDATE formulas SET body = x'ff00fe' WHERE id = 2", "Formula 2")]
#[case("UPDATE formulas SET updated_at = x'ff00fe' WHERE id = 2", "Fold-over supper rolls")]
#[case("UPDATE formulas SET schema = 9 WHERE id = 2", "Fold-over supper rolls")]
fn one_damaged_formula_is_set_aside_by_name_and_the_rest_goes_on(#[case] sql: &str, #[case] name: &str) {
    let (_dir, path) = filled();
    run(&path, sql);
    let store = Store::open(&path).unwrap();
    assert_eq!(store.formulas().unwrap().len(), 6);
    let damaged = store.damaged().unwrap();
    assert_eq!(damaged.len(), 1, "{damaged:?}");
    assert_eq!((damaged[0].kind, damaged[0].id, damaged[0].name.as_str()), (Kind::Formula, 2, name));
    let id = cerealis_store::FormulaId(2);
    assert!(matches!(store.formula(id), Err(StoreError::Damaged(_))));
    assert!(!store.raw_record(Kind::Formula, 2).unwrap().is_empty(), "it can be downloaded");
    store.delete_damaged(Kind::Formula, 2).unwrap();
    assert!(store.damaged().unwrap().is_empty());
    assert!(matches!(store.delete_damaged(Kind::Formula, 1), Err(StoreError::NotFound)), "what reads stays");
    assert_eq!(store.formulas().unwrap().len(), 6);
}

#[test]
fn a_damaged_version_bake_or_dough_is_set_aside() {
    let (_dir, path) = filled();
    run(
        &path,
        "UPDATE bakes SET body = '[]' WHERE id = 1; UPDATE versions SET body = 'x' WHERE formula_id = 3;
         INSERT INTO doughs (formula_id, body, revision, schema) VALUES (1, '{}', 1, 1);
         UPDATE bake_events SET body = '{}' WHERE bake_id = 2 AND seq % 2 = 0;",
    );
    let store = Store::open(&path).unwrap();
    let kinds: Vec<Kind> = store.damaged().unwrap().iter().map(|d| d.kind).collect();
    assert_eq!(kinds[..2], [Kind::Dough, Kind::Bake]);
    assert!(kinds.len() > 2 && kinds[2..].iter().all(|k| *k == Kind::BakeEvent), "{kinds:?}");
    assert_eq!(store.running_bakes().unwrap().len(), 2, "the others go on");
    assert!(store.versions(cerealis_store::FormulaId(3)).unwrap().is_empty());
    let version = &store.damaged_versions(FormulaId(3)).unwrap()[0];
    store.delete_damaged(Kind::Version, version.id).unwrap();
    store.delete_damaged(Kind::Dough, 1).unwrap();
    store.delete_damaged(Kind::Bake, 1).unwrap();
    for press in store.damaged().unwrap() {
        store.delete_damaged(press.kind, press.id).unwrap();
    }
    assert!(store.damaged_versions(FormulaId(3)).unwrap().is_empty() && store.damaged().unwrap().is_empty());
}

#[test]
fn damaged_settings_are_stood_in_for_and_kept_when_saved_over() {
    let (_dir, path) = filled();
    run(&path, "UPDATE kitchens SET body = '{\"room\":\"warm\"}'; UPDATE cupboards SET body = x'ff';");
    let store = Store::open(&path).unwrap();
    let stored = store.kitchen().unwrap();
    assert!(stored.damaged.is_some() && store.cupboard().unwrap().damaged.is_some());
    assert_eq!(stored.kitchen.room, Kitchen::default().room);
    let mine = Kitchen { room: Celsius(18.0), ..stored.kitchen };
    store.save_kitchen(Some(stored.revision), &mine).unwrap();
    store
        .change_cupboard(None, |c| {
            c.prices.insert("salt".into(), 1.0);
            Ok(())
        })
        .unwrap();
    assert_eq!(store.kitchen().unwrap().kitchen, mine);
    let aside: Vec<_> = store.damaged().unwrap().into_iter().filter(|d| d.kind == Kind::SetAside).collect();
    assert_eq!(aside.len(), 2);
    assert_eq!(store.raw_record(Kind::SetAside, aside[0].id).unwrap(), b"{\"room\":\"warm\"}");
}

/// While another program writes for long, pages can be read and a save is told to wait, not lost.
#[test]
fn a_file_held_by_another_program_can_still_be_read() {
    let (_dir, path) = filled();
    let store = Store::open(&path).unwrap();
    let mut other = outside(&path);
    other.batch_execute("BEGIN IMMEDIATE; UPDATE kitchens SET revision = revision;").unwrap();
    let writers: Vec<_> = (0..6)
        .map(|n| {
            let store = store.clone();
            std::thread::spawn(move || {
                store.create_formula(&Formula::beginning(&format!("Loaf {n}"), Style::Tin))
            })
        })
        .collect();
    std::thread::sleep(std::time::Duration::from_millis(200));
    assert_eq!(store.formulas().unwrap().len(), 7, "readers do not stand behind writers");
    for writer in writers {
        assert!(matches!(writer.join().unwrap(), Err(StoreError::Busy)));
    }
    other.batch_execute("ROLLBACK").unwrap();
    store.create_formula(&Formula::beginning("Loaf", Style::Tin)).unwrap();
}

/// What happened at the bench and does not read is kept and told: of a newer kind, or damaged.
#[test]
fn an_event_that_does_not_read_is_kept_and_told() {
    let (_dir, path) = filled();
    let of = Store::open(&path).unwrap().running_bakes().unwrap()[0].clone();
    let newer = r#"{"key":"n1","at":"2026-11-26T15:00:00Z","what":"sung-to","song":"low"}"#;
    let odd = r#"{"key":"n2","at":"2026-11-26T15:00:00Z","what":"read","read":"smell","value":3}"#;
    for (key, body) in [
        ("n1", newer),
        ("n2", odd),
        ("d1", r#"{"key":"d1","at":"yesterday","what":"finished"}"#),
        ("d2", "{"),
    ] {
        run(
            &path,
            &format!(
                "INSERT INTO bake_events (bake_id, key, said_at, body) VALUES ({}, '{key}', '', '{body}');",
                of.id
            ),
        );
    }
    run(
        &path,
        &format!(
            "INSERT INTO bake_events (bake_id, key, said_at, body) VALUES ({}, 'd3', '', x'ff00');",
            of.id
        ),
    );
    let store = Store::open(&path).unwrap();
    let read = store.bake(of.id).unwrap();
    assert_eq!(read.events, of.events, "the rest of it is as it was");
    let newer: Vec<bool> = read.unread.iter().map(|e| e.newer).collect();
    assert_eq!(newer, [true, true, false, false, false]);
    let damaged: Vec<_> =
        store.damaged().unwrap().into_iter().filter(|d| d.kind == Kind::BakeEvent).collect();
    assert_eq!(damaged.len(), 3);
    assert!(damaged[0].name.contains(&of.start.formula.name), "{damaged:?}");
    assert_eq!(store.raw_record(Kind::BakeEvent, damaged[1].id).unwrap(), b"{");
    store.delete_damaged(Kind::BakeEvent, damaged[1].id).unwrap();
    assert_eq!(store.bake(of.id).unwrap().unread.len(), 4);
}

/// The clock of the kitchen is set while the program runs: it is told, with how far.
#[test]
fn a_clock_that_jumps_is_found() {
    let (_dir, path) = place();
    let hours = std::sync::Arc::new(std::sync::atomic::AtomicI64::new(0));
    let set = hours.clone();
    let begun = jiff::Timestamp::now();
    let ran = std::time::Instant::now();
    let clock = cerealis_store::Clock::by(move || {
        let shift = jiff::SignedDuration::from_hours(set.load(std::sync::atomic::Ordering::Relaxed));
        begun + jiff::SignedDuration::try_from(ran.elapsed()).unwrap() + shift
    });
    let store = Store::open(&path).unwrap().by(clock);
    store.look();
    assert!(store.findings().is_empty(), "{:?}", store.findings());
    for (to, says) in [(-3, "back by 3 hours"), (69, "forward by 3 days")] {
        hours.store(to, std::sync::atomic::Ordering::Relaxed);
        store.look();
        let found = store.findings();
        assert!(
            found.len() == 1 && found[0].kind.key() == "clock-jumped" && found[0].says.contains(says),
            "{found:?}"
        );
        assert!(!found[0].stops, "what is saved is kept all the same");
        store.look();
        assert_eq!(store.findings(), found, "it stands until it was read");
    }
    store.read_finding("clock-jumped");
    assert!(store.findings().is_empty());
}

/// SQLite's own reports, made by it, each become what to do about it.
#[test]
fn a_full_disk_and_a_file_set_to_read_only_are_told_apart() {
    let (_dir, path) = filled();
    let said = |settings: &str| {
        let mut c = outside(&path);
        c.batch_execute(settings).unwrap();
        let more = "INSERT INTO versions (formula_id, revision, body, reason, saved_at) VALUES (1, 77, zeroblob(400000), '', '');";
        StoreError::from(c.batch_execute(more).unwrap_err())
    };
    assert!(matches!(said("PRAGMA max_page_count = 1;"), StoreError::Full));
    assert!(matches!(said("PRAGMA query_only = ON;"), StoreError::ReadOnly));
}

/// A whole path is never taken for one of SQLite's own names.
#[test]
fn a_strange_name_is_a_file_like_any_other() {
    let (dir, _) = place();
    let path = dir.path().join(":memory:");
    Store::open(&path).unwrap().create_formula(&Formula::beginning("Loaf", Style::Tin)).unwrap();
    assert!(path.exists());
    assert_eq!(Store::open(&path).unwrap().formulas().unwrap().len(), 1);
}
