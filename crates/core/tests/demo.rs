//! The demo kitchen through all six stations.

use crate::common::demo;
use cerealis_core::day::{Anchor, DayWish};
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::Catalogue;
use cerealis_core::stations::{Stations, read};
use cerealis_core::units::shown;

fn kitchen() -> Kitchen {
    toml::from_str(include_str!("../../../data/demo/kitchen.toml")).unwrap()
}

fn stations(f: &Formula) -> Stations {
    let now = "2026-11-21T08:00:00Z".parse().unwrap();
    read(f, &kitchen(), Catalogue::bundled(), now).unwrap_or_else(|e| panic!("{}: {e}", f.name))
}

#[test]
fn there_are_seven_and_nothing_nags_on_them() {
    let formulas = demo();
    assert_eq!(formulas.len(), 7);
    for f in &formulas {
        let s = stations(f);
        assert!(s.slips.is_empty(), "{}: {:?}", f.name, s.slips);
        for rise in [&s.rise.bulk, &s.rise.proof].into_iter().flatten() {
            assert!(rise.reached, "{}: a rise of at most {:.2}", f.name, rise.most);
        }
        assert!(s.shape.notes.is_empty(), "{}: {:?}", f.name, s.shape.notes);
        assert!(s.bake.notes.is_empty(), "{}: {:?}", f.name, s.bake.notes);
        assert!(s.mix.work_done.0 >= 90.0, "{}: {:.0} % of the work", f.name, s.mix.work_done.0);
    }
}

/// Each demo dough within what bakers of its kind would expect (common practice, no source).
#[test]
fn their_times_are_believable() {
    let hours = |f: &Formula| {
        let r = stations(f).rise;
        (r.bulk.map_or(0.0, |b| b.time.0 / 60.0), r.proof.map_or(0.0, |p| p.time.0 / 60.0))
    };
    let expected = [
        ("tin", (1.0, 2.5), (0.6, 1.7)),
        ("rolls", (1.0, 2.5), (0.5, 1.5)),
        ("sourdough", (3.0, 6.0), (0.5, 3.0)),
        ("rye", (1.0, 3.5), (0.3, 2.0)),
        ("plait", (1.2, 3.0), (0.5, 1.7)),
        ("no-knead", (10.0, 16.0), (0.5, 3.0)),
        ("rice", (0.0, 0.0), (0.3, 1.5)),
    ];
    for (f, (name, bulk, proof)) in demo().iter().zip(expected) {
        assert!(f.name.contains(name), "{}", f.name);
        let (b, p) = hours(f);
        assert!((bulk.0..=bulk.1).contains(&b), "{}: bulk {b:.2} h", f.name);
        assert!((proof.0..=proof.1).contains(&p), "{}: proof {p:.2} h", f.name);
    }
}

/// What the pages show adds up: pieces and leftovers to the dough, lines to the dough.
#[test]
fn what_is_shown_adds_up() {
    for f in demo() {
        let s = stations(&f);
        let lines = shown::total(f.lines.iter().filter(|l| l.stage.in_dough()).map(|l| l.grams));
        assert!((lines.0 - s.figures.dough.0).abs() <= 0.5 * f.lines.len() as f64);
        assert!((s.shape.used.0 + s.shape.left_over.0 - s.figures.dough.0).abs() < 1e-6);
    }
}

/// The heart of the rail: two degrees more make the rise shorter and the bread ready earlier.
#[test]
fn two_degrees_move_the_rise_and_the_day() {
    for f in demo().iter().filter(|f| f.rise.bulk.target > 1.0) {
        let mut warm = f.clone();
        warm.mix.desired.0 += 2.0;
        let (a, b) = (stations(f), stations(&warm));
        assert!(b.rise.bulk.unwrap().time < a.rise.bulk.unwrap().time, "{}", f.name);
        assert!(b.day.ready < a.day.ready, "{}", f.name);
        assert!(b.water.balance.water > a.water.balance.water, "{}", f.name);
    }
}

#[test]
fn every_beginning_reads() {
    use cerealis_core::words::Style;
    for style in Style::ALL {
        let f = Formula::beginning("New", style);
        let s = stations(&f);
        assert!(s.slips.is_empty(), "{}: {:?}", style.name(), s.slips);
    }
}

/// A formula written out and read back is the same formula.
#[test]
fn json_is_lossless() {
    for f in demo() {
        let text = serde_json::to_string(&f).unwrap();
        assert_eq!(serde_json::from_str::<Formula>(&text).unwrap(), f);
    }
}

/// The start that is offered when a plan runs into the night wakes nobody, wherever the night falls in its rises.
#[test]
fn the_start_that_is_offered_wakes_nobody() {
    let mut offered = 0;
    for f in demo() {
        for hour in [0, 3, 14, 17, 20, 22] {
            let at = |at| DayWish { anchor: Anchor::Start, at: Some(at) };
            let late = Formula { day: at(jiff::civil::date(2026, 12, 5).at(hour, 0, 0, 0)), ..f.clone() };
            let Some(free) = stations(&late).day.free_start else { continue };
            let mended = stations(&Formula { day: at(free.datetime()), ..f.clone() });
            assert!(mended.day.free_start.is_none(), "{} at {hour}: {:?}", f.name, mended.day.notes);
            offered += 1;
        }
    }
    assert!(offered >= 10, "{offered}");
}
