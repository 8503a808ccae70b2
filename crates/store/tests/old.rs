//! Files of programs before this one open, and all in them reads.

use std::path::Path;

use cerealis_core::bake::{Reading, watch};
use cerealis_core::pantry::Catalogue;
use cerealis_store::Store;

/// Each file that is kept in `old/`, opened as a copy.
fn each(look: impl Fn(&str, Store)) {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/old");
    let mut opened = 0;
    for entry in std::fs::read_dir(folder).unwrap() {
        let kept = entry.unwrap().path();
        let dir = tempfile::tempdir().unwrap();
        let copy = dir.path().join("kitchen.sqlite");
        std::fs::copy(&kept, &copy).unwrap();
        look(&kept.display().to_string(), Store::open(&copy).unwrap());
        opened += 1;
    }
    assert!(opened > 0);
}

#[test]
fn old_files_open_and_all_in_them_reads() {
    each(|name, store| {
        assert!(store.damaged().unwrap().is_empty(), "{name}");
        assert!(store.is_demo().unwrap(), "{name}");
        let formulas = store.formulas().unwrap();
        assert_eq!(formulas.len(), 6, "{name}");
        assert_eq!(formulas.iter().filter(|f| f.archived).count(), 1);
        assert_eq!(store.deleted_formulas().unwrap().len(), 1);
        let cupboard = store.cupboard().unwrap().cupboard;
        let catalogue = Catalogue::bundled().with(&cupboard.own);
        for f in &formulas {
            f.formula.check(&catalogue).unwrap_or_else(|e| panic!("{name}: {}: {e}", f.formula.name));
            assert!(!store.versions(f.id).unwrap().is_empty());
        }
        let changed = formulas.iter().filter(|f| f.revision.0 == 2).count();
        assert_eq!(changed, 1);
        assert!(!store.kitchen().unwrap().kitchen.pans.is_empty());
    });
}

/// What rose when the file was written is a bake now, with all that was read of it, and rises on.
#[test]
fn old_files_keep_their_rising_dough() {
    each(|name, store| {
        let bakes = store.running_bakes().unwrap();
        assert_eq!(bakes.len(), 1, "{name}");
        assert!(bakes[0].formula.is_some());
        let state = bakes[0].state();
        assert_eq!(state.readings.iter().filter(|(_, r)| !matches!(r, Reading::Mixed(_))).count(), 2);
        assert!(state.readings.iter().any(|(_, r)| matches!(r, Reading::Mixed(_))));
        let watch = watch(&bakes[0].start, &state).expect("it rises");
        let now = state.readings.iter().map(|(at, _)| *at).max().unwrap();
        watch.answer(&store.kitchen().unwrap().kitchen, Catalogue::bundled(), now).unwrap();
        assert_eq!(store.past_bakes(None, 99).unwrap().len(), 0);
    });
}
