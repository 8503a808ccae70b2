//! A backup is made while the kitchen is written to, restored, and every row is the same; one that is damaged, is
//! something else or newer is refused, and nothing is touched.

use std::io::Write;
use std::path::Path;
use std::sync::atomic::{AtomicBool, Ordering};

use cerealis_core::formula::Formula;
use cerealis_core::plan::DayPlan;
use cerealis_core::words::Style;
use cerealis_store::{Backups, Store, StoreError, back_up, check_backup, restore};
use diesel::connection::SimpleConnection;
use diesel::{Connection, SqliteConnection};
use jiff::Timestamp;
use proptest::prelude::*;

fn now() -> Timestamp {
    "2026-11-27T03:00:00Z".parse().unwrap()
}

/// Everything that is in a kitchen.
fn all(store: &Store) -> String {
    let formulas = store.formulas().unwrap();
    let versions: Vec<_> = formulas.iter().map(|f| store.versions(f.id).unwrap()).collect();
    let (kitchen, cupboard) = (store.kitchen().unwrap(), store.cupboard().unwrap());
    let day = store.day_plan().unwrap();
    let bakes = (store.running_bakes().unwrap(), store.past_bakes(None, 99).unwrap());
    format!("{formulas:#?}{versions:#?}{kitchen:#?}{cupboard:#?}{day:#?}{bakes:#?}")
}

fn demo(path: &Path) -> Store {
    let store = Store::open(path).unwrap();
    store.fill_with_demo().unwrap();
    store.save_day_plan(None, &DayPlan::beginning(jiff::civil::date(2026, 11, 27))).unwrap();
    store
}

#[test]
fn what_is_restored_is_what_was_there() {
    let dir = tempfile::tempdir().unwrap();
    let (data, file) = (dir.path().join("kitchen.sqlite"), dir.path().join("last.sqlite.gz"));
    let store = demo(&data);
    let before = all(&store);
    let made = back_up(&data, &file, now()).unwrap();
    assert_eq!(check_backup(&file).unwrap(), made);
    // What comes after it is lost, what was there when it was made is not; and what was there is kept beside it.
    store.create_formula(&Formula::beginning("Afterwards", Style::Rye)).unwrap();
    let after = all(&store);
    drop(store);
    let kept = restore(&file, &data, now()).unwrap().unwrap();
    assert_eq!(all(&Store::open(&data).unwrap()), before);
    assert_eq!(all(&Store::open(&kept).unwrap()), after);
    let elsewhere = dir.path().join("new.sqlite");
    assert_eq!(restore(&file, &elsewhere, now()).unwrap(), None);
    assert_eq!(all(&Store::open(&elsewhere).unwrap()), before);
    let left: Vec<String> = std::fs::read_dir(dir.path())
        .unwrap()
        .map(|f| f.unwrap().file_name().into_string().unwrap())
        .filter(|n| [".copy", ".part", ".check", ".restored"].iter().any(|e| n.ends_with(e)))
        .collect();
    assert!(left.is_empty(), "{left:?}");
}

/// While formulas are created as quickly as they can be, each backup holds those of one moment: the first so many.
#[test]
fn a_backup_under_writes_is_of_one_moment() {
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("kitchen.sqlite");
    let store = Store::open(&data).unwrap();
    let done = AtomicBool::new(false);
    let mut counts = Vec::new();
    std::thread::scope(|scope| {
        let writer = scope.spawn(|| {
            let mut n = 0;
            while !done.load(Ordering::Relaxed) && n < 5000 {
                store.create_formula(&Formula::beginning(&format!("{n:05}"), Style::Tin)).unwrap();
                n += 1;
            }
        });
        for n in 0..4 {
            let file = dir.path().join(format!("{n}.sqlite.gz"));
            back_up(&data, &file, now()).unwrap();
            let restored = dir.path().join(format!("{n}.sqlite"));
            restore(&file, &restored, now()).unwrap();
            let mut names: Vec<String> = Store::open(&restored)
                .unwrap()
                .formulas()
                .unwrap()
                .into_iter()
                .map(|f| f.formula.name)
                .collect();
            names.sort();
            assert!(
                names.iter().enumerate().all(|(i, name)| *name == format!("{i:05}")),
                "{} of them",
                names.len()
            );
            counts.push(names.len());
        }
        done.store(true, Ordering::Relaxed);
        writer.join().unwrap();
    });
    assert!(counts.is_sorted() && counts[0] < counts[3], "{counts:?}");
}

/// Packed by hand, as somebody might who means ill or a tool that knows no better.
fn packed(content: &[u8], says: &str) -> Vec<u8> {
    let mut gz = flate2::GzBuilder::new().comment(says).write(Vec::new(), flate2::Compression::fast());
    gz.write_all(content).unwrap();
    gz.finish().unwrap()
}

#[test]
fn what_is_no_backup_is_refused_and_nothing_is_touched() {
    let dir = tempfile::tempdir().unwrap();
    let (data, file) = (dir.path().join("kitchen.sqlite"), dir.path().join("bad.gz"));
    let before = all(&demo(&data));
    let refused = |bytes: &[u8]| -> String {
        std::fs::write(&file, bytes).unwrap();
        let Err(StoreError::BadBackup(_, why)) = restore(&file, &data, now()) else {
            panic!("it was restored")
        };
        assert!(check_backup(&file).is_err());
        assert_eq!(all(&Store::open(&data).unwrap()), before);
        why
    };
    assert!(refused(b"").contains("no backup"));
    assert!(refused(b"flour, water, salt").contains("no backup"));
    assert!(refused(&packed(b"flour", "a note")).contains("no backup"));
    let says = r#"{"made_at":"2026-11-27T03:00:00Z","program":"0.1.0","bytes":5,"sha256":"00"}"#;
    assert!(refused(&packed(b"flour", says)).contains("check sum"));
    assert!(refused(&packed(b"flour and water", says)).contains("more than it says"));
    let missing = restore(&dir.path().join("nowhere.gz"), &data, now());
    assert!(matches!(missing, Err(StoreError::BadBackup(..))));
    assert!(back_up(&dir.path().join("nowhere.sqlite"), &file, now()).is_err());
    assert!(!dir.path().join("nowhere.sqlite").exists(), "nothing is made by looking");
}

/// A kitchen of a newer program is neither backed up by this one, nor restored.
#[test]
fn a_newer_kitchen_is_refused() {
    let dir = tempfile::tempdir().unwrap();
    let (data, file) = (dir.path().join("kitchen.sqlite"), dir.path().join("new.gz"));
    drop(demo(&data));
    back_up(&data, &file, now()).unwrap();
    let mut c = SqliteConnection::establish(data.to_str().unwrap()).unwrap();
    c.batch_execute("INSERT INTO __diesel_schema_migrations (version) VALUES ('99990101000001')").unwrap();
    drop(c);
    assert!(matches!(back_up(&data, &file, now()), Err(StoreError::NewerFile(_))));
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 48, ..ProptestConfig::default() })]

    /// Whatever one byte becomes, and wherever it is cut off: what is restored is what was backed up, or nothing is.
    #[test]
    fn a_damaged_backup_is_refused(at in 0.0..1.0f64, bits in 1u8..=255, cut in any::<bool>()) {
        let dir = tempfile::tempdir().unwrap();
        let (data, file) = (dir.path().join("kitchen.sqlite"), dir.path().join("last.gz"));
        let store = Store::open(&data).unwrap();
        store.create_formula(&Formula::beginning("Weir loaf", Style::Tin)).unwrap();
        let before = all(&store);
        back_up(&data, &file, now()).unwrap();
        let mut bytes = std::fs::read(&file).unwrap();
        let place = (at * bytes.len() as f64) as usize;
        if cut {
            bytes.truncate(place);
        } else {
            bytes[place] ^= bits;
        }
        std::fs::write(&file, &bytes).unwrap();
        let restored = dir.path().join("restored.sqlite");
        match restore(&file, &restored, now()) {
            Ok(_) => prop_assert_eq!(all(&Store::open(&restored).unwrap()), before),
            Err(e) => prop_assert!(matches!(e, StoreError::BadBackup(..)) && !restored.exists(), "{e}"),
        }
    }
}

/// What a restore into an open kitchen brings is all of it, photos too.
#[test]
fn photos_come_back_into_an_open_kitchen() {
    use cerealis_core::bake::EventKey;
    let dir = tempfile::tempdir().unwrap();
    let data = dir.path().join("kitchen.sqlite");
    let store = demo(&data);
    let bake = store.running_bakes().unwrap()[0].id;
    let photo = b"\xff\xd8\xff\xe0 a crumb";
    let (taken, _) = store.add_photo(bake, EventKey("p1".into()), now(), "Phone", photo).unwrap();
    let name = taken.state().photos[0].photo.clone();
    let backups = Backups::of(&data, None);
    backups.make(&store).unwrap();
    let file = backups.all().unwrap()[0].file.clone();
    for other in ["an empty kitchen", "one of its own"] {
        let place = dir.path().join(format!("{other}.sqlite"));
        let open = Store::open(&place).unwrap();
        if other.contains("own") {
            open.fill_with_demo().unwrap();
        }
        Backups::of(&place, None).restore_open(&open, &file).unwrap();
        assert_eq!(open.photo(&name).unwrap(), photo, "{other}");
        assert_eq!(all(&open), all(&store));
    }
}

/// A file of somebody else's making, packed as a backup: with a view that never ends, a trigger, another column, an index or
/// a table too many, it is refused before anything of it is read.
#[test]
fn a_backup_that_was_made_to_do_harm_is_refused() {
    let dir = tempfile::tempdir().unwrap();
    let (data, file) = (dir.path().join("kitchen.sqlite"), dir.path().join("last.gz"));
    drop(demo(&data));
    let endless = "WITH RECURSIVE n(i) AS (VALUES(1) UNION ALL SELECT i + 1 FROM n) SELECT i FROM n";
    for harm in [
        format!("DROP TABLE bin; CREATE VIEW bin AS {endless};"),
        format!("CREATE VIEW more AS {endless};"),
        "CREATE TRIGGER t AFTER INSERT ON formulas BEGIN DELETE FROM formulas; END;".to_owned(),
        "ALTER TABLE bakes ADD COLUMN more TEXT;".to_owned(),
        "ALTER TABLE bakes ADD COLUMN more TEXT GENERATED ALWAYS AS (hex(zeroblob(1000000000))) VIRTUAL;"
            .to_owned(),
        "CREATE INDEX i ON formulas (hex(body));".to_owned(),
        "CREATE TABLE more (a TEXT);".to_owned(),
        "DROP TABLE photos;".to_owned(),
        format!(
            "DROP TABLE __diesel_schema_migrations; CREATE VIEW __diesel_schema_migrations AS SELECT '2026' AS version, 'x' AS run_on FROM ({endless});"
        ),
    ] {
        let crafted = dir.path().join("crafted.sqlite");
        let _ = std::fs::remove_file(&crafted);
        std::fs::copy(&data, &crafted).unwrap();
        let mut c = SqliteConnection::establish(crafted.to_str().unwrap()).unwrap();
        c.batch_execute("PRAGMA foreign_keys = OFF; PRAGMA journal_mode = DELETE;").unwrap();
        c.batch_execute(&harm).unwrap();
        drop(c);
        let content = std::fs::read(&crafted).unwrap();
        let mut backup = cerealis_store::Backup {
            made_at: now(),
            program: "0.1.0".into(),
            bytes: content.len() as u64,
            sha256: String::new(),
        };
        backup.seal(&content);
        std::fs::write(&file, packed(&content, &serde_json::to_string(&backup).unwrap())).unwrap();
        let Err(StoreError::BadBackup(_, why)) = check_backup(&file) else { panic!("it passed: {harm}") };
        assert!(why.contains("something else than the tables"), "{why}");
        let open = Store::open(&dir.path().join("open.sqlite")).unwrap();
        assert!(Backups::of(&data, Some(dir.path().join("b"))).restore_open(&open, &file).is_err());
    }
}
