//! The store on a real SQLite file.

use std::path::PathBuf;

use cerealis_core::formula::{Formula, Style};
use cerealis_core::units::Celsius;
use cerealis_store::{FormulaId, Store, StoreError};
use tempfile::TempDir;

fn place() -> (TempDir, PathBuf) {
    let dir = tempfile::tempdir().unwrap();
    let path = dir.path().join("kitchen.sqlite");
    (dir, path)
}

#[test]
fn what_was_saved_is_there_after_opening_again() {
    let (_dir, path) = place();
    let formula = Formula::beginning("Mill loaf", Style::Tin);
    let id = Store::open(&path).unwrap().create_formula(&formula).unwrap();
    let again = Store::open(&path).unwrap();
    assert_eq!(again.formula(id).unwrap().formula, formula);
}

#[test]
fn a_second_tab_does_not_overwrite_the_first() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    let mut formula = Formula::beginning("Mill loaf", Style::Tin);
    let id = store.create_formula(&formula).unwrap();
    let read = store.formula(id).unwrap().revision;
    formula.mix.desired = Celsius(26.0);
    let saved = store.save_formula(id, read, &formula, "").unwrap();
    formula.mix.desired = Celsius(22.0);
    assert!(matches!(store.save_formula(id, read, &formula, ""), Err(StoreError::Conflict)));
    assert_eq!(store.formula(id).unwrap().formula.mix.desired, Celsius(26.0));
    assert_eq!(store.save_formula(id, saved, &formula, "").unwrap(), saved + 1);
}

#[test]
fn a_deletion_can_be_taken_back() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    let id = store.create_formula(&Formula::beginning("Mill loaf", Style::Tin)).unwrap();
    store.delete_formula(id).unwrap();
    assert!(matches!(store.formula(id), Err(StoreError::NotFound)));
    assert!(store.formulas().unwrap().is_empty());
    assert_eq!(store.deleted_name(id).unwrap(), "Mill loaf");
    store.restore_formula(id).unwrap();
    assert_eq!(store.formulas().unwrap().len(), 1);
    assert!(matches!(store.delete_formula(FormulaId(99)), Err(StoreError::NotFound)));
}

#[test]
fn two_saves_of_the_kitchen_conflict() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    let mut read = store.kitchen().unwrap();
    assert_eq!(read.revision, 0);
    read.kitchen.room = Celsius(19.0);
    store.save_kitchen(Some(read.revision), &read.kitchen).unwrap();
    assert!(matches!(store.save_kitchen(Some(read.revision), &read.kitchen), Err(StoreError::Conflict)));
    assert_eq!(store.kitchen().unwrap().kitchen.room, Celsius(19.0));
}

#[test]
fn the_demo_fills_a_kitchen() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    store.fill_with_demo().unwrap();
    assert_eq!(store.formulas().unwrap().len(), 7);
    assert_eq!(store.kitchen().unwrap().kitchen.time_zone, "Europe/London");
}

#[test]
fn a_file_that_is_not_ours_is_refused_and_left_alone() {
    let (_dir, path) = place();
    std::fs::write(&path, "flour, water, salt\n").unwrap();
    assert!(matches!(Store::open(&path), Err(StoreError::NotOurs(_))));
    assert_eq!(std::fs::read_to_string(&path).unwrap(), "flour, water, salt\n");
}

#[test]
fn another_programs_database_is_refused() {
    use diesel::connection::{Connection, SimpleConnection};
    let (_dir, path) = place();
    let mut other = diesel::SqliteConnection::establish(path.to_str().unwrap()).unwrap();
    other.batch_execute("CREATE TABLE songs (title TEXT);").unwrap();
    drop(other);
    assert!(matches!(Store::open(&path), Err(StoreError::NotOurs(_))));
}

#[test]
fn an_impossible_place_is_said_in_a_sentence() {
    let (dir, _) = place();
    let nowhere = dir.path().join("no/such/folder/kitchen.sqlite");
    let Err(error) = Store::open(&nowhere) else { panic!("opened a file in no folder") };
    assert!(error.to_string().contains("cannot be opened for writing"), "{error}");
}

#[test]
fn every_save_is_a_version_and_old_files_get_theirs() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    let mut formula = Formula::beginning("Mill loaf", Style::Tin);
    let id = store.create_formula(&formula).unwrap();
    formula.mix.desired = Celsius(26.0);
    store.save_formula(id, 1, &formula, "Dough 25 °C to 26 °C").unwrap();
    assert!(store.save_formula(id, 1, &formula, "late").is_err());
    let all = store.versions(id).unwrap();
    let told: Vec<_> = all.iter().map(|v| (v.revision, v.reason.as_str())).collect();
    assert_eq!(told, [(2, "Dough 25 °C to 26 °C"), (1, "As it began")]);
    assert_eq!(all[0].formula, formula);
    assert_eq!(all[1].formula.mix.desired, Celsius(25.0));
    assert!(matches!(store.versions(FormulaId(99)), Err(StoreError::NotFound)));
}
