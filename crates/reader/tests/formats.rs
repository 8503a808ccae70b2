//! Lines that the program writes are read back as they were.

#[path = "../../core/tests/common/mod.rs"]
mod common;

use cerealis_core::formats::{Format, Imported, RecipeText, export, import};
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::{Catalogue, Cupboard, Measures};
use cerealis_core::stations::read;
use cerealis_core::words::{Stage, Style};
use cerealis_reader::{LineKind, ReadInput, read as read_lines};
use common::demo;

fn recipe(text: &str) -> RecipeText {
    match import(text, Catalogue::bundled()).unwrap().unwrap() {
        Imported::Recipe(r) => r,
        other => panic!("{other:?}"),
    }
}

fn amounts(f: &Formula) -> Vec<(Stage, String, f64)> {
    f.lines.iter().map(|l| (l.stage, l.ingredient.clone(), l.grams.0)).collect()
}

fn read_back(text: &str) -> Vec<(Stage, String, f64)> {
    let input = ReadInput { text: text.into(), measures: Measures::default() };
    read_lines(&input, Catalogue::bundled())
        .unwrap()
        .lines
        .into_iter()
        .inspect(|l| assert_eq!(l.kind, LineKind::Ingredient, "{}", l.text))
        .map(|l| (l.stage, l.ingredient.unwrap(), l.grams.unwrap().0))
        .collect()
}

fn alike(a: &[(Stage, String, f64)], b: &[(Stage, String, f64)]) {
    assert_eq!(a.len(), b.len());
    for (x, y) in a.iter().zip(b) {
        assert!(x.0 == y.0 && x.1 == y.1 && (x.2 - y.2).abs() < 1e-6, "{x:?} {y:?}");
    }
}

#[test]
fn json_ld_and_csv_keep_every_amount() {
    let now = "2026-03-07T08:00:00Z".parse().unwrap();
    for f in demo() {
        let s = read(&f, &Kitchen::default(), Catalogue::bundled(), now).unwrap();
        for format in [Format::JsonLd, Format::Csv] {
            let text = export(&f, Some(&s), format, &Cupboard::default());
            alike(&amounts(&f), &read_back(&recipe(&text).lines));
        }
    }
}

#[test]
fn every_ingredient_is_read_back_by_its_name() {
    let mut f = Formula::beginning("All", Style::Hearth);
    f.lines.clear();
    for i in Catalogue::bundled().iter() {
        f.lines.push(cerealis_core::formula::Line::new(
            &i.key,
            Stage::Dough,
            cerealis_core::units::Grams(12.5),
        ));
    }
    let text = export(&f, None, Format::JsonLd, &Cupboard::default());
    let wrong: Vec<_> =
        amounts(&f).into_iter().zip(read_back(&recipe(&text).lines)).filter(|(a, b)| a != b).collect();
    assert!(wrong.is_empty(), "{wrong:?}");
}
