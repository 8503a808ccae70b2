//! The form: what is typed becomes the formula, and nothing else does.

use std::sync::LazyLock;

use cerealis_core::fault::Faults;
use cerealis_core::formula::{AheadWish, Formula, LevainWish, MakeUp, Swap, figures, flour};
use cerealis_core::pantry::Catalogue;
use cerealis_core::units::{Celsius, Grams, Hours};
use cerealis_core::words::{Counting, Kind, Stage, Vessel};
use cerealis_store::{demo_cupboard, demo_formulas, demo_kitchen};
use cerealis_web::form::{Form, number};
use cerealis_web::formula_page::{Change, change, fill, read, rows, show_amounts, typed_swap};
use cerealis_web::household::Household;
use jiff::Timestamp;
use proptest::prelude::*;
use rstest::rstest;

fn catalogue() -> &'static Catalogue {
    Catalogue::bundled()
}

fn house() -> &'static Household {
    static HOUSE: LazyLock<Household> =
        LazyLock::new(|| Household::of(demo_kitchen(), demo_cupboard(), Timestamp::UNIX_EPOCH));
    &HOUSE
}

fn demo(index: usize) -> (Formula, Form) {
    let formula = demo_formulas().remove(index);
    let form = fill(&formula, house());
    (formula, form)
}

#[rstest]
#[case("25", Some(25.0))]
#[case(" 25,5 ", Some(25.5))]
#[case("\u{2212}3", Some(-3.0))]
#[case("+4", Some(4.0))]
#[case("", None)]
#[case("1e5", None)]
#[case("inf", None)]
#[case("NaN", None)]
#[case("10 000", None)]
#[case("25 °C", None)]
#[case("1/2", Some(0.5))]
#[case("9 in", None)]
#[case("1.2.3", None)]
fn numbers_as_people_type_them(#[case] text: &str, #[case] expected: Option<f64>) {
    assert_eq!(number(text), expected);
}

#[test]
fn a_half_typed_line_stays_while_others_come_and_go() {
    let (_, mut form) = demo(0);
    form.set("lines.2.ingredient", "Wat");
    assert!(change(&mut form, &Change::Add(Stage::Wash), house()).is_err());
    assert_eq!(form.value("lines.2.ingredient"), "Wat");
    assert_eq!(rows(&form).len(), 7);
    let _ = change(&mut form, &Change::Remove(0), house());
    assert_eq!(form.value("lines.1.ingredient"), "Wat");
    assert_eq!(rows(&form).len(), 6);
}

#[test]
fn a_new_line_stands_at_the_end_of_its_stage() {
    let (_, mut form) = demo(4);
    let last = rows(&form).iter().rposition(|r| r.stage == Stage::Dough).unwrap();
    change(&mut form, &Change::Add(Stage::Dough), house()).unwrap();
    assert_eq!(form.value(&format!("lines.{}.ingredient", last + 1)), "");
    assert_eq!(form.value(&format!("lines.{}.stage", last + 1)), "dough");
    assert_eq!(form.value(&format!("lines.{}.stage", last + 2)), "late-butter");
}

#[test]
fn an_alias_is_understood_and_kept_as_typed() {
    let (_, mut form) = demo(0);
    form.set("lines.0.ingredient", "Strong White Flour");
    let formula = read(&form, house()).unwrap();
    assert_eq!(formula.lines[0].ingredient, "bread-flour");
    show_amounts(&mut form, &formula, house());
    assert_eq!(form.value("lines.0.ingredient"), "Strong White Flour");
}

#[test]
fn a_line_may_be_given_by_its_percentage_alone() {
    let (_, mut form) = demo(0);
    change(&mut form, &Change::Add(Stage::AddIns), house()).unwrap();
    form.set("lines.6.percent", "20");
    form.set("lines.6.ingredient", "Pebbles");
    assert_eq!(read(&form, house()).unwrap_err().0[0].path, "lines.6.ingredient");
    form.set("lines.6.ingredient", "walnut");
    let formula = read(&form, house()).unwrap();
    assert!((formula.lines[6].grams.0 - 90.0).abs() < 1e-9);
}

#[test]
fn scaling_to_fit_the_pieces() {
    let (_, mut form) = demo(1);
    form.set("shape.piece_weight", "70");
    let formula = change(&mut form, &Change::Scale("fit".into()), house()).unwrap();
    assert!((figures(&formula, catalogue()).dough.0 - 18.0 * 70.0).abs() < 1e-6);
    assert_eq!(form.value("shape.piece_weight"), "70");
}

#[rstest]
#[case("add:wash", Some(Change::Add(Stage::Wash)))]
#[case("remove:3", Some(Change::Remove(3)))]
#[case("scale:dough", Some(Change::Scale("dough".into())))]
#[case("try", Some(Change::Try(None)))]
#[case("swap:{\"kind\":\"egg-free\"}", Some(Change::Swap(Swap::EggFree)))]
#[case("swap:butter", None)]
#[case("remove:-1", None)]
#[case("add:attic", None)]
#[case("", None)]
fn buttons_by_their_value(#[case] key: &str, #[case] expected: Option<Change>) {
    assert_eq!(Change::from_key(key), expected);
}

proptest! {
    /// Whatever is typed, nothing panics, and a formula that reads is one that passes its check.
    #[test]
    fn any_text_in_any_field_is_survived(
        which in 0usize..7,
        fields in prop::collection::vec((any::<prop::sample::Index>(), ".{0,12}"), 1..5),
        op in prop::sample::select(vec![
            "", "add:dough", "remove:1", "scale:pieces", "scale:pans", "scale:cupboard", "scale:fit", "size:poolish", "whole-eggs",
            "round", "mean:salt-far", "mend:salt-missing", "add-makeup", "remove-makeup:0", "swap:{\"kind\":\"gluten-free\"}",
        ]),
    ) {
        let (_, mut form) = demo(which);
        let names: Vec<String> = form.values().keys().cloned().collect();
        for (index, text) in fields {
            form.set(index.get(&names).clone(), text);
        }
        let read = match Change::from_key(op) {
            Some(c) => change(&mut form, &c, house()),
            None => read(&form, house()),
        };
        if let Ok(formula) = read {
            prop_assert!(formula.check(catalogue()).is_ok());
        }
    }

    /// Grams typed in any line are the grams of that line, and typing them again changes nothing.
    #[test]
    fn typed_grams_hold(which in 0usize..7, line in any::<prop::sample::Index>(), grams in 1.0..2000.0f64) {
        let (formula, mut form) = demo(which);
        let line = line.index(formula.lines.len());
        let typed = format!("{grams:.1}");
        form.set(format!("lines.{line}.grams"), typed.clone());
        let once = read(&form, house()).unwrap();
        prop_assert!((once.lines[line].grams.0 - typed.parse::<f64>().unwrap()).abs() < 0.51);
        show_amounts(&mut form, &once, house());
        form.set(format!("lines.{line}.grams"), typed);
        let twice = read(&form, house()).unwrap();
        prop_assert!((flour(&once, catalogue()).0 - flour(&twice, catalogue()).0).abs() < 0.51);
    }

    /// Filling a form and reading it back is the same formula, to the last digit.
    #[test]
    fn a_form_is_lossless(which in 0usize..7, factor in 0.05..40.0f64) {
        let (mut formula, _) = demo(which);
        formula.lines.iter_mut().for_each(|l| l.grams = l.grams * factor);
        prop_assert_eq!(read(&fill(&formula, house()), house()).unwrap(), formula);
    }
}

/// A formula with something in every field that a page holds.
fn full() -> Formula {
    let (mut f, _) = demo(2);
    let plan = |stage, hours, place, temperature| AheadWish { stage, hours, place, temperature };
    f.stages = vec![
        plan(Stage::Preferment, Some(Hours(5.5)), Some(Celsius(26.0)), None),
        plan(Stage::Soaker, None, Some(Celsius(4.0)), Some(Celsius(8.0))),
    ];
    f.levain = LevainWish { builds: 3, keep: Grams(25.0) };
    f.makeups = vec![
        MakeUp::of(Kind::Bun, 4, Grams(70.0), Vessel::Sheet),
        MakeUp::of(Kind::Roll, 2, Grams(55.5), Vessel::Stone),
    ];
    f.counting = Some(Counting::FinalFlour);
    f.tags = vec!["thursday".into(), "for the soup".into()];
    f.notes = "Crisper next time.\nLess sesame.".into();
    f.meant = vec!["salt-unusual".into(), "hydration-far".into()];
    f.lines[0].note = "sifted; twice".into();
    f
}

/// The page's form of `f`, changed by a button.
fn changed(f: &Formula, fields: &[(&str, &str)], op: &str) -> Result<Formula, Faults> {
    let mut form = fill(f, house());
    fields.iter().for_each(|(name, text)| form.set(*name, *text));
    change(&mut form, &Change::from_key(op).unwrap(), house())
}

#[test]
fn every_field_of_a_full_formula_is_read_back() {
    let f = full();
    assert_eq!(read(&fill(&f, house()), house()).unwrap(), f);
}

/// The way of counting is how percentages are written; changing it changes no gram.
#[test]
fn another_way_of_counting_changes_no_gram() {
    let f = full();
    let mut form = fill(&f, house());
    let beside = form.value("lines.4.percent").to_owned();
    form.set("counting", "all-flour");
    let read_as = read(&form, house()).unwrap();
    assert_eq!(read_as.lines, f.lines);
    show_amounts(&mut form, &read_as, house());
    assert_ne!(form.value("lines.4.percent"), beside);
    assert_eq!(form.value("counted"), "all-flour");
    // A percentage typed now is of all flour.
    form.set("lines.7.percent", "2.1");
    let salted = read(&form, house()).unwrap();
    assert!((salted.lines[7].grams.0 - 0.021 * flour(&salted, catalogue()).0).abs() < 1e-9);
}

#[test]
fn a_make_up_comes_and_goes_without_its_neighbours() {
    let f = full();
    let fewer = changed(&f, &[], "remove-makeup:0").unwrap();
    assert_eq!(fewer.makeups, f.makeups[1..]);
    let more = changed(&fewer, &[], "add-makeup").unwrap();
    assert_eq!(more.makeups.len(), 2);
    assert_eq!(more.makeups[0], f.makeups[1]);
    let mut many = f.clone();
    many.makeups = vec![f.makeups[1].clone(); 4];
    assert_eq!(changed(&many, &[], "add-makeup").unwrap_err().0[0].path, "makeups");
}

#[rstest]
#[case::pieces("scale:pieces", &[("scale.pieces", "3"), ("scale.weight", "500")], 1500.0)]
#[case::dough("scale:dough", &[("scale.dough", "1234,5")], 1234.5)]
#[case::bread("scale:baked", &[("scale.baked", "880"), ("scale.loss", "12")], 1000.0)]
#[case::pans("scale:pans", &[("scale.pan.0", "2")], 2.0 * 1683.0 * (0.475 + 0.075 / 9.0))]
fn scaled_by_its_fields(#[case] op: &str, #[case] fields: &[(&str, &str)], #[case] dough: f64) {
    let (f, _) = demo(0);
    let scaled = changed(&f, fields, op).unwrap();
    assert!((figures(&scaled, catalogue()).dough.0 - dough).abs() < 1e-6);
}

#[rstest]
#[case("scale:pieces", &[("scale.pieces", "some"), ("scale.weight", "500")], "scale.pieces")]
#[case("scale:dough", &[], "scale.dough")]
#[case("scale:factor", &[("scale.factor", "-2")], "scale.factor")]
#[case("scale:baked", &[("scale.baked", "800"), ("scale.loss", "90")], "scale.loss")]
#[case("scale:pans", &[], "scale.pans")]
#[case("scale:cupboard", &[], "scale.cupboard")]
#[case("size:poolish", &[("size.poolish", "400")], "size.poolish")]
#[case("whole-eggs", &[], "scale")]
#[case("swap:{\"kind\":\"egg-free\"}", &[], "swap.from")]
fn a_refusal_stands_at_its_field(#[case] op: &str, #[case] fields: &[(&str, &str)], #[case] path: &str) {
    let (f, _) = demo(0);
    assert_eq!(changed(&f, fields, op).unwrap_err().0[0].path, path);
}

#[test]
fn mended_meant_and_asked_again() {
    let (mut f, _) = demo(0);
    f.lines.iter_mut().filter(|l| l.ingredient == "salt").for_each(|l| l.grams = l.grams * 3.0);
    let mended = changed(&f, &[], "mend:salt-spoon").unwrap();
    assert!((figures(&mended, catalogue()).salt.0 - 2.0).abs() < 0.05);
    let meant = changed(&f, &[], "mean:salt-spoon").unwrap();
    assert_eq!(meant.meant, ["salt-spoon"]);
    assert_eq!(changed(&meant, &[], "mean:salt-spoon").unwrap().meant.len(), 1, "said once");
    assert!(changed(&meant, &[], "unmean:salt-spoon").unwrap().meant.is_empty());
    assert_eq!(changed(&f, &[], "mend:no-such-slip").unwrap(), f, "an old page's button does nothing");
}

#[test]
fn this_for_that_goes_by_the_shelf_of_what_gives_way() {
    let typed = |from: &str, to: &str| {
        let mut form = Form::default();
        form.set("swap.from", from);
        form.set("swap.to", to);
        typed_swap(&form, catalogue())
    };
    assert!(matches!(typed("bread flour", "white spelt flour"), Ok(Swap::Flour { .. })));
    assert!(matches!(typed("whole milk", "oat drink"), Ok(Swap::Liquid { .. })));
    assert!(matches!(typed("butter", "olive oil"), Ok(Swap::Fat { .. })));
    assert!(matches!(typed("sugar", "honey"), Ok(Swap::Sugar { .. })));
    assert!(matches!(typed("instant yeast", "fresh yeast"), Ok(Swap::Yeast { .. })));
    assert_eq!(typed("cinnamon", "honey").unwrap_err().0[0].path, "swap.from");
    assert_eq!(typed("butter", "sawdust").unwrap_err().0[0].path, "swap.to");
}

#[test]
fn a_preferment_takes_its_flour_or_its_weight() {
    let (_, mut form) = demo(2);
    form.set("weight.preferment", "200");
    let sized = change(&mut form, &Change::Size(Stage::Preferment), house()).unwrap();
    let levain: f64 = sized.lines.iter().filter(|l| l.stage == Stage::Preferment).map(|l| l.grams.0).sum();
    assert!((levain - 200.0).abs() < 0.01, "{levain}");
    let dough = |f: &Formula| figures(f, catalogue()).dough.0;
    assert!((dough(&sized) - dough(&demo(2).0)).abs() < 0.01, "the dough shrinks to match");
    form.set("size.preferment", "10");
    let sized = change(&mut form, &Change::Size(Stage::Preferment), house()).unwrap();
    assert!((figures(&sized, catalogue()).prefermented.0 - 10.0).abs() < 0.01, "the share leads");
    form.set("size.preferment", "");
    form.set("weight.preferment", "0");
    let faults = change(&mut form, &Change::Size(Stage::Preferment), house()).unwrap_err();
    assert_eq!(faults.0[0].path, "weight.preferment");
}
