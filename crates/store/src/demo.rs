//! The invented household of the demo, from the plain files in `data/demo/`.

use cerealis_core::bake::{Event, EventKey, Reading, Start, What};
use cerealis_core::day::StepKind;
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::{Catalogue, Cupboard};
use cerealis_core::plan::PlannedStep;
use cerealis_core::stations::read;
use cerealis_core::units::{Celsius, Grams, Minutes};
use cerealis_core::watch::later;
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

/// A bake of the demo household: the formula it is of, by its place, what it began with, and what happened to it since.
pub struct DemoBake {
    /// The place of its formula.
    pub formula: usize,
    /// What it began with.
    pub start: Start,
    /// What happened.
    pub events: Vec<Event>,
}

/// The bakes of the demo household at a moment: one in mid-rise that was read twice, one about to be shaped, one that cools, and
/// one of the day before yesterday.
pub fn demo_bakes(
    formulas: &[Formula],
    kitchen: &Kitchen,
    cupboard: &Cupboard,
    now: Timestamp,
) -> Vec<DemoBake> {
    let ago = |minutes: f64| later(now, Minutes(-minutes));
    let catalogue = Catalogue::bundled().with(&cupboard.own);
    let begun = |place: usize| {
        let formula = &formulas[place];
        let stations =
            read(formula, kitchen, &catalogue, now).expect("the demo's files are checked by a test");
        Start::of(formula, &stations, now).at_home(kitchen, cupboard)
    };
    let said = |key: &str, at: Timestamp, what: What| Event {
        key: EventKey(key.into()),
        at,
        device: "Bench phone".into(),
        what,
    };
    let place = |part: &str| formulas.iter().position(|f| f.name.contains(part)).expect("the demo has it");
    let end = |s: &PlannedStep| later(s.at, s.length);
    let mut bakes = Vec::new();

    let formula = place("no-knead");
    let start = begun(formula).with_step_at("bulk", ago(230.0));
    let mut events = start.rising_since(ago(230.0), "Bench phone");
    events.push(said("mixed", ago(229.0), What::Read(Reading::Mixed(Celsius(21.5)))));
    events.push(said("read-1", ago(150.0), What::Read(Reading::Dough(Celsius(21.0)))));
    events.push(said("read-2", ago(20.0), What::Read(Reading::Volume(1.35))));
    bakes.push(DemoBake { formula, start, events });

    let formula = place("tin loaf");
    let start = begun(formula);
    let bulk = start.step("bulk").map_or(Minutes(0.0), |s| s.length);
    let start = start.with_step_at("bulk", later(now, Minutes(2.0) - bulk));
    let mut events = start.as_planned(now, "Bench phone");
    events.push(said("weighed-0", start.steps[0].at, What::Weighed { line: 0, grams: Grams(403.0) }));
    events.push(said("note-1", ago(40.0), What::Noted { text: "slack".into() }));
    bakes.push(DemoBake { formula, start, events });

    let formula = place("rolls");
    let start = begun(formula);
    let cool =
        start.steps.iter().find(|s| s.kind == StepKind::Cool).map(|s| s.id.clone()).unwrap_or_default();
    let start = start.with_step_at(&cool, ago(12.0));
    let events = start.as_planned(now, "Bench phone");
    bakes.push(DemoBake { formula, start, events });

    let formula = place("sourdough");
    let start = begun(formula);
    let last = start.steps.last().map(end).unwrap_or(now);
    let shift = ago(44.0 * 60.0).duration_since(last);
    let first = start.steps.first().map(|s| (s.id.clone(), s.at + shift));
    let start = first.into_iter().fold(start, |s, (id, at)| s.with_step_at(&id, at));
    let mut events = start.as_planned(now, "Bench phone");
    events.push(said("late", ago(47.0 * 60.0), What::Noted { text: "stuck to the basket".into() }));
    events.push(said(
        "next",
        ago(44.0 * 60.0),
        What::NextTime { text: "More rye flour in the basket, and ten minutes less proof.".into() },
    ));
    events.push(said("end", ago(44.0 * 60.0), What::Finished));
    bakes.push(DemoBake { formula, start, events });
    bakes
}
