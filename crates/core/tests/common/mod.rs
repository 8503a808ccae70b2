//! What several tests share: the demo household's formulas, from their plain files.

use cerealis_core::formula::Formula;

/// The demo's formulas, in the order of their files.
pub fn demo() -> Vec<Formula> {
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/../../data/demo");
    let mut files: Vec<_> = std::fs::read_dir(folder).unwrap().map(|e| e.unwrap().path()).collect();
    files.sort();
    files
        .iter()
        .filter(|p| !p.ends_with("kitchen.toml") && !p.ends_with("cupboard.toml"))
        .map(|p| {
            toml::from_str(&std::fs::read_to_string(p).unwrap()).unwrap_or_else(|e| panic!("{p:?}: {e}"))
        })
        .collect()
}
