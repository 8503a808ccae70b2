//! The invented household of the demo, from the plain files in `data/demo/`.

use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::Cupboard;
use cerealis_core::units::{Celsius, Minutes};
use cerealis_core::watch::{TimedReading, Watch, later};
use jiff::Timestamp;

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

/// A dough of the demo household in mid-rise: mixed some hours before `now`, read twice since.
pub fn demo_watch(formula: &Formula, now: Timestamp) -> Watch {
    let ago = |minutes: f64| later(now, Minutes(-minutes));
    let reading =
        |minutes: f64| TimedReading { at: ago(minutes), volume: None, dough: None, place: None, poke: None };
    Watch {
        measured: Some(Celsius(21.5)),
        readings: vec![
            TimedReading { dough: Some(Celsius(21.0)), ..reading(150.0) },
            TimedReading { volume: Some(1.35), ..reading(20.0) },
        ],
        ..Watch::new(formula.clone(), ago(230.0))
    }
}
