//! Swaps: what they keep, what they change, and that their reverse returns.

use crate::common::demo;
use approx::assert_relative_eq;
use cerealis_core::formula::{Figures, Formula, Line, Swap, SwapInput, Swapped, figures, offers, swap};
use cerealis_core::pantry::{Catalogue, Group};
use cerealis_core::units::{Grams, Percent};
use cerealis_core::words::{Stage, Style};
use proptest::prelude::*;
use rstest::rstest;

fn enriched(butter: f64, milk: f64, sugar: f64) -> Formula {
    let mut f = Formula::beginning("Test", Style::SoftRoll);
    f.lines = [
        ("plain-flour", Stage::Dough, 400.0),
        ("bread-flour", Stage::Dough, 100.0),
        ("milk", Stage::Dough, milk),
        ("water", Stage::Dough, 140.0),
        ("egg", Stage::Dough, 50.0),
        ("salt", Stage::Dough, 9.0),
        ("instant-yeast", Stage::Dough, 5.0),
        ("sugar", Stage::Dough, sugar),
        ("butter", Stage::Dough, butter),
        ("egg", Stage::Wash, 20.0),
    ]
    .map(|(k, stage, g)| Line::new(k, stage, Grams(g)))
    .to_vec();
    f
}

fn plain() -> Formula {
    enriched(50.0, 160.0, 40.0)
}

fn done(f: &Formula, s: Swap) -> Swapped {
    swap(&SwapInput { formula: f.clone(), swap: s, keep: true }, Catalogue::bundled()).unwrap()
}

fn liquid(from: &str, to: &str) -> Swap {
    Swap::Liquid { from: from.into(), to: to.into() }
}
fn fat(from: &str, to: &str) -> Swap {
    Swap::Fat { from: from.into(), to: to.into() }
}
fn sugar(from: &str, to: &str) -> Swap {
    Swap::Sugar { from: from.into(), to: to.into() }
}
fn flour(from: &str, to: &str, percent: f64) -> Swap {
    Swap::Flour { from: from.into(), to: to.into(), percent: Percent(percent) }
}

fn same_lines(a: &Formula, b: &Formula) {
    let weights = |f: &Formula| {
        let mut all: Vec<(Stage, String, f64)> =
            f.lines.iter().map(|l| (l.stage, l.ingredient.clone(), l.grams.0)).collect();
        all.sort_by(|x, y| (x.0, &x.1).cmp(&(y.0, &y.1)));
        all
    };
    let (a, b) = (weights(a), weights(b));
    assert_eq!(a.len(), b.len(), "{a:?}\n{b:?}");
    for (x, y) in a.iter().zip(&b) {
        assert!(x.0 == y.0 && x.1 == y.1 && (x.2 - y.2).abs() < 1e-6, "{x:?} {y:?}");
    }
}

fn kept(a: &Figures, b: &Figures) {
    assert_relative_eq!(a.effective_hydration.0, b.effective_hydration.0, epsilon = 1e-6);
    assert_relative_eq!(a.sugar.0, b.sugar.0, epsilon = 1e-6);
    assert_relative_eq!(a.fat.0, b.fat.0, epsilon = 1e-6);
    assert_relative_eq!(a.salt.0, b.salt.0, epsilon = 1e-6);
    assert_relative_eq!(a.flour.0, b.flour.0, epsilon = 1e-6);
}

#[rstest]
#[case(liquid("milk", "buttermilk"))]
#[case(liquid("milk", "oat-drink"))]
#[case(liquid("milk", "dry-milk"))]
#[case(liquid("milk", "water"))]
#[case(fat("butter", "vegetable-oil"))]
#[case(fat("butter", "salted-butter"))]
#[case(sugar("sugar", "honey"))]
#[case(sugar("sugar", "golden-syrup"))]
#[case(Swap::EggFree)]
fn water_sugar_fat_and_salt_are_kept(#[case] s: Swap) {
    let out = done(&plain(), s);
    kept(&out.before, &out.after);
    assert!(out.formula.lines.iter().all(|l| l.grams.0 >= 0.0));
    assert!(!out.changes.is_empty());
}

#[test]
fn unless_told_otherwise() {
    let input = SwapInput { formula: plain(), swap: sugar("sugar", "honey"), keep: false };
    let out = swap(&input, Catalogue::bundled()).unwrap();
    assert!(out.after.effective_hydration.0 > out.before.effective_hydration.0 + 1.0);
}

/// 1 : 0.4 : 0.33 by weight (common practice, no source).
#[test]
fn yeast_changes_its_form_by_weight() {
    let out = done(&plain(), Swap::Yeast { to: "fresh-yeast".into() });
    let fresh = out.formula.lines.iter().find(|l| l.ingredient == "fresh-yeast").unwrap();
    assert_relative_eq!(fresh.grams.0, 5.0 / 0.33, epsilon = 1e-9);
    assert_relative_eq!(out.before.instant_yeast.0, out.after.instant_yeast.0, epsilon = 1e-9);
}

/// The culture's flour and water come out of the dough; salt and the rest stay.
#[test]
fn a_levain_takes_its_flour_and_water_from_the_dough() {
    let out = done(&plain(), Swap::YeastToCulture { percent: Percent(15.0) });
    assert_relative_eq!(out.after.prefermented.0, 15.0, epsilon = 1e-9);
    assert_relative_eq!(out.after.inoculation.0, 15.0, epsilon = 1e-9);
    assert_eq!(out.after.instant_yeast.0, 0.0);
    // The yeast takes its own moisture along.
    let yeast = Catalogue::bundled().get("instant-yeast").unwrap();
    let moisture = 5.0 * yeast.per_100g.water / 100.0 / 5.0;
    assert_relative_eq!(
        out.after.effective_hydration.0,
        out.before.effective_hydration.0 - moisture,
        epsilon = 1e-6
    );
    assert_relative_eq!(out.after.flour.0, out.before.flour.0, epsilon = 1e-6);
}

#[test]
fn a_thirstier_flour_brings_its_water() {
    let out = done(&plain(), flour("plain-flour", "whole-wheat-flour", 50.0));
    let water = |f: &Formula| f.lines.iter().find(|l| l.ingredient == "water").unwrap().grams.0;
    // 200 g that drink 72 % instead of 58.
    assert_relative_eq!(water(&out.formula) - 140.0, 200.0 * 0.14, epsilon = 1e-9);
    assert_relative_eq!(out.after.whole_grain.0, 40.0, epsilon = 1e-9);
    assert!(out.notes[0].contains("drinks more"), "{:?}", out.notes);
}

#[test]
fn a_scald_moves_flour_and_water_and_adds_none() {
    let out = done(&plain(), Swap::Scald { percent: Percent(5.0), times: 4.0 });
    kept(&out.before, &out.after);
    let sum: f64 = out.formula.lines.iter().filter(|l| l.stage == Stage::Scald).map(|l| l.grams.0).sum();
    assert_relative_eq!(sum, 25.0 + 100.0, epsilon = 1e-9);
}

#[test]
fn the_gluten_free_template_has_none() {
    for f in demo() {
        if f.style == Style::GlutenFree {
            continue;
        }
        let out = done(&f, Swap::GlutenFree);
        assert!(!out.after.allergens.iter().any(|a| a == "gluten"), "{}", f.name);
        assert_relative_eq!(out.after.flour.0, out.before.flour.0, epsilon = 1e-6);
        out.formula.check(Catalogue::bundled()).unwrap();
    }
}

#[test]
fn the_wash_is_swapped_and_the_dough_is_not() {
    let out = done(&plain(), Swap::WashEggFree { to: "soy-drink".into() });
    assert_eq!(out.changes.len(), 2);
    assert!(out.after.egg, "the dough's own egg stays");
    assert!(out.after.allergens.iter().any(|a| a == "soy"));
}

#[rstest]
#[case(liquid("beer", "milk"), "from")]
#[case(liquid("milk", "butter"), "to")]
#[case(liquid("milk", "nothing"), "to")]
#[case(fat("butter", "sugar"), "to")]
#[case(flour("plain-flour", "plain-flour", 100.0), "to")]
#[case(flour("plain-flour", "rice-flour", 0.0), "percent")]
#[case(Swap::Yeast { to: "salt".into() }, "to")]
#[case(Swap::CultureToYeast { percent: Percent(1.0) }, "from")]
#[case(Swap::YeastToCulture { percent: Percent(90.0) }, "percent")]
#[case(Swap::Scald { percent: Percent(15.0), times: 5.0 }, "lines")]
fn what_cannot_be_is_told_at_its_field(#[case] s: Swap, #[case] path: &str) {
    let fault = swap(&SwapInput { formula: plain(), swap: s, keep: true }, Catalogue::bundled()).unwrap_err();
    assert_eq!(fault.0[0].path, path, "{fault:?}");
}

/// Whatever is offered can be done, on every formula of the demo and every beginning.
#[test]
fn every_offer_can_be_taken() {
    let c = Catalogue::bundled();
    let mut taken = 0;
    for f in demo().into_iter().chain(Style::ALL.map(|s| Formula::beginning("Test", s))).chain([plain()]) {
        for offer in offers(&f, c) {
            let out = swap(&SwapInput { formula: f.clone(), swap: offer.swap.clone(), keep: true }, c)
                .unwrap_or_else(|e| panic!("{}: {}: {e}", f.name, offer.name));
            out.formula.check(c).unwrap();
            assert!(out.formula.lines.iter().all(|l| l.grams.0 >= 0.0), "{}: {}", f.name, offer.name);
            taken += 1;
        }
    }
    assert!(taken > 100, "{taken}");
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// A swap and its reverse return.
    #[test]
    fn there_and_back(butter in 20.0..90.0f64, milk in 60.0..200.0f64, sweet in 25.0..80.0f64, which in 0usize..9) {
        let f = enriched(butter, milk, sweet);
        let (there, back) = match which {
            0 => (liquid("milk", "buttermilk"), liquid("buttermilk", "milk")),
            1 => (liquid("milk", "oat-drink"), liquid("oat-drink", "milk")),
            2 => (fat("butter", "salted-butter"), fat("salted-butter", "butter")),
            3 => (fat("butter", "vegetable-oil"), fat("vegetable-oil", "butter")),
            4 => (sugar("sugar", "honey"), sugar("honey", "sugar")),
            5 => (flour("plain-flour", "spelt-flour", 100.0), flour("spelt-flour", "plain-flour", 100.0)),
            6 => (flour("plain-flour", "whole-wheat-flour", 30.0), flour("whole-wheat-flour", "plain-flour", 100.0)),
            7 => (Swap::Yeast { to: "active-dry-yeast".into() }, Swap::Yeast { to: "instant-yeast".into() }),
            _ => (Swap::YeastToCulture { percent: Percent(20.0) }, Swap::CultureToYeast { percent: Percent(1.0) }),
        };
        let once = done(&f, there);
        prop_assert!(once.formula.lines.iter().all(|l| l.grams.0 >= 0.0));
        let twice = done(&once.formula, back);
        same_lines(&f, &twice.formula);
    }

    /// Total flour is nobody's to change but a template's.
    #[test]
    fn flour_stays(percent in 1.0..100.0f64, which in 0usize..4) {
        let c = Catalogue::bundled();
        let to = ["whole-wheat-flour", "dark-rye-flour", "rice-flour", "spelt-flour"][which];
        let out = done(&plain(), flour("plain-flour", to, percent));
        prop_assert!((out.after.flour.0 - 500.0).abs() < 1e-9);
        let flours: f64 = out.formula.lines.iter()
            .filter(|l| c.get(&l.ingredient).unwrap().group == Group::Flour).map(|l| l.grams.0).sum();
        prop_assert!((flours - 500.0).abs() < 1e-9);
        prop_assert_eq!(figures(&out.formula, c), out.after);
    }
}
