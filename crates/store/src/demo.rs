//! The invented household of the demo, from the plain files in `data/demo/`.

use cerealis_core::cupboard::Cupboard;
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;

const FORMULAS: [&str; 7] = [
    include_str!("../../../data/demo/1-tin-loaf.toml"),
    include_str!("../../../data/demo/2-supper-rolls.toml"),
    include_str!("../../../data/demo/3-seeded-sourdough.toml"),
    include_str!("../../../data/demo/4-rye-buns.toml"),
    include_str!("../../../data/demo/5-four-strand-plait.toml"),
    include_str!("../../../data/demo/6-overnight-no-knead.toml"),
    include_str!("../../../data/demo/7-gluten-free-pan-loaf.toml"),
];

/// The demo household's formulas.
pub fn demo_formulas() -> Vec<Formula> {
    FORMULAS
        .iter()
        .map(|text| toml::from_str(text).expect("the demo's files are checked by a test"))
        .collect()
}

/// The demo household's kitchen.
pub fn demo_kitchen() -> Kitchen {
    toml::from_str(include_str!("../../../data/demo/kitchen.toml"))
        .expect("the demo's files are checked by a test")
}

/// The demo household's cupboard.
pub fn demo_cupboard() -> Cupboard {
    toml::from_str(include_str!("../../../data/demo/cupboard.toml"))
        .expect("the demo's files are checked by a test")
}
