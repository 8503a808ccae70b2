//! Kitchen English becomes grams.

use cerealis_core::pantry::{Catalogue, Cup, Measures, Tablespoon, household};
use cerealis_core::units::Grams;
use cerealis_core::words::Stage;
use cerealis_reader::*;
use proptest::prelude::*;
use rstest::rstest;

fn line(text: &str) -> ReadLine {
    let out =
        read(&ReadInput { text: text.into(), measures: Measures::default() }, Catalogue::bundled()).unwrap();
    out.lines.into_iter().next().unwrap_or_else(|| panic!("nothing read of {text:?}"))
}

/// How many, and of what, from the ways people write it.
#[rstest]
#[case("3 cups water", 3.0, 3.0, Some(Unit::Cup))]
#[case("3.5 cups water", 3.5, 3.5, Some(Unit::Cup))]
#[case("3,5 dl water", 3.5, 3.5, Some(Unit::Decilitre))]
#[case("1,000 g bread flour", 1000.0, 1000.0, Some(Unit::Gram))]
#[case("1,500 kg bread flour", 1.5, 1.5, Some(Unit::Kilogram))]
#[case("0,125 l water", 0.125, 0.125, Some(Unit::Litre))]
#[case("1/2 tsp salt", 0.5, 0.5, Some(Unit::Teaspoon))]
#[case("½ teaspoon salt", 0.5, 0.5, Some(Unit::Teaspoon))]
#[case("2 1/4 tsp. instant yeast", 2.25, 2.25, Some(Unit::Teaspoon))]
#[case("2¼ tsp instant yeast", 2.25, 2.25, Some(Unit::Teaspoon))]
#[case("2 and 1/2 cups water", 2.5, 2.5, Some(Unit::Cup))]
#[case("three and three quarter cups water", 3.75, 3.75, Some(Unit::Cup))]
#[case("a cup and a half of water", 1.5, 1.5, Some(Unit::Cup))]
#[case("one and a half cups water", 1.5, 1.5, Some(Unit::Cup))]
#[case("half a cup of water", 0.5, 0.5, Some(Unit::Cup))]
#[case("three quarters of a cup water", 0.75, 0.75, Some(Unit::Cup))]
#[case("a quarter cup sugar", 0.25, 0.25, Some(Unit::Cup))]
#[case("two thirds cup milk", 2.0 / 3.0, 2.0 / 3.0, Some(Unit::Cup))]
#[case("2-3 tbsp honey", 2.0, 3.0, Some(Unit::Tablespoon))]
#[case("2–3 Tbsp honey", 2.0, 3.0, Some(Unit::Tablespoon))]
#[case("3 to 3 1/2 cups bread flour", 3.0, 3.5, Some(Unit::Cup))]
#[case("a few large eggs", 2.0, 4.0, Some(Unit::Large))]
#[case("a pinch of nutmeg", 1.0, 1.0, Some(Unit::Pinch))]
#[case("1 T sugar", 1.0, 1.0, Some(Unit::Tablespoon))]
#[case("1 t sugar", 1.0, 1.0, Some(Unit::Teaspoon))]
#[case("500g bread flour", 500.0, 500.0, Some(Unit::Gram))]
#[case("1 kg bread flour", 1.0, 1.0, Some(Unit::Kilogram))]
#[case("2 lbs. bread flour", 2.0, 2.0, Some(Unit::Pound))]
#[case("8 fl oz milk", 8.0, 8.0, Some(Unit::FluidOunce))]
#[case("8 fl. oz. milk", 8.0, 8.0, Some(Unit::FluidOunce))]
#[case("2 extra-large eggs", 2.0, 2.0, Some(Unit::ExtraLarge))]
#[case("2 eggs", 2.0, 2.0, None)]
#[case("1 stick butter", 1.0, 1.0, Some(Unit::Stick))]
#[case("1 packet instant yeast", 1.0, 1.0, Some(Unit::Packet))]
#[case("1 cube fresh yeast", 1.0, 1.0, Some(Unit::Cube))]
#[case("- 2 heaping teaspoons caraway seeds", 2.0, 2.0, Some(Unit::Teaspoon))]
#[case("about 300 ml water", 300.0, 300.0, Some(Unit::Millilitre))]
fn amounts(#[case] text: &str, #[case] low: f64, #[case] high: f64, #[case] unit: Option<Unit>) {
    let amount = line(text).amount.unwrap_or_else(|| panic!("no amount in {text:?}"));
    assert!((amount.count.low - low).abs() < 1e-9 && (amount.count.high - high).abs() < 1e-9, "{amount:?}");
    assert_eq!(amount.unit, unit, "{text}");
}

/// Weights of household measures after USDA SR Legacy and common practice (recalled, not read
/// from the source), as the catalogue holds them; ounces and pounds by definition.
#[rstest]
#[case("1 cup all-purpose flour", "plain-flour", 125.0)]
#[case("3 3/4 cups plus 1 tablespoon all-purpose flour", "plain-flour", 476.6)]
#[case("1 cup + 2 tbsp milk", "milk", 274.4)]
#[case("2 cups (about 260 g) bread flour", "bread-flour", 260.0)]
#[case("1 large egg", "egg", 50.0)]
#[case("2 eggs, beaten", "egg", 100.0)]
#[case("1 extra large egg", "egg", 56.0)]
#[case("2 egg yolks", "egg-yolk", 34.0)]
#[case("1 stick butter, softened, divided", "butter", 113.0)]
#[case("1 packet active dry yeast", "active-dry-yeast", 7.0)]
#[case("1 cube fresh yeast", "fresh-yeast", 42.0)]
#[case("1 1/2 teaspoons fine sea salt", "salt", 9.0)]
#[case("8 oz bread flour", "bread-flour", 226.796)]
#[case("1 lb whole wheat flour", "whole-wheat-flour", 453.592)]
#[case("2 dl water", "water", 200.0)]
#[case("1 cup honey", "honey", 339.0)]
fn weights(#[case] text: &str, #[case] key: &str, #[case] grams: f64) {
    let l = line(text);
    assert_eq!(l.ingredient.as_deref(), Some(key), "{l:?}");
    let got = l.grams.unwrap_or_else(|| panic!("{l:?}")).0;
    // Two measures of one line may carry different spreads: the middle moves by a hair.
    assert!((got - grams).abs() < 0.002 * grams, "{text}: {got}");
    assert!(l.low.unwrap().0 <= got && got <= l.high.unwrap().0);
}

#[rstest]
#[case("3 cups unbleached organic all-purpose flour, sifted, plus more for dusting", "plain-flour", "sifted")]
#[case("100 g butter, softened, divided", "butter", "softened")]
#[case("1 cup lukewarm whole milk", "milk", "lukewarm")]
#[case("2 tablespoons toasted sesame seeds", "sesame-seeds", "toasted")]
fn noise_is_kept_as_a_note(#[case] text: &str, #[case] key: &str, #[case] noise: &str) {
    let l = line(text);
    assert_eq!(l.ingredient.as_deref(), Some(key));
    assert!(l.note.contains(noise), "{}", l.note);
}

#[test]
fn what_is_open_asks() {
    let l = line("3 cups flour");
    assert!(l.candidates.len() > 1 && l.doubts.iter().any(|d| d.contains("any of these")), "{l:?}");
    let l = line("2 tsp yeast");
    assert_eq!(l.candidates, ["instant-yeast", "active-dry-yeast", "fresh-yeast"]);
    let l = line("200 g moon dust");
    assert!(l.candidates.is_empty() && l.doubts[0].contains("not in the catalogue"), "{l:?}");
    let l = line("2 cups whole weat flower");
    assert!(l.near.contains(&"whole-wheat-flour".to_owned()), "{l:?}");
    let l = line("salt");
    assert!(l.grams.is_none() && l.doubts[0].contains("No amount"), "{l:?}");
}

#[test]
fn headings_open_stages_and_a_line_may_say_its_own() {
    let text = "For the levain:\n50 g bread flour\n50 g water\n\nDough\n400 g bread flour\n1 egg, for brushing\n\
                Topping:\n2 tbsp sesame seeds\nBake until golden.";
    let out =
        read(&ReadInput { text: text.into(), measures: Measures::default() }, Catalogue::bundled()).unwrap();
    let stages: Vec<_> =
        out.lines.iter().filter(|l| l.kind == LineKind::Ingredient).map(|l| l.stage).collect();
    use Stage::*;
    assert_eq!(stages, [Preferment, Preferment, Dough, Wash, Topping]);
    assert_eq!(out.lines.last().unwrap().kind, LineKind::Method);
}

#[test]
fn spreads_are_carried_and_heaping_adds() {
    let level = line("1 cup all-purpose flour");
    assert!((level.low.unwrap().0 - 115.0).abs() < 0.1 && (level.high.unwrap().0 - 135.0).abs() < 0.1);
    let heaping = line("1 heaping cup all-purpose flour");
    let more = heaping.grams.unwrap().0 / level.grams.unwrap().0;
    assert!((1.25..=1.5).contains(&more), "{more}");
    let range = line("3 to 4 cups all-purpose flour");
    assert!(range.doubts.iter().any(|d| d.contains("Weigh it")), "{range:?}");
    assert_eq!(line("400 g all-purpose flour").low, line("400 g all-purpose flour").high);
}

#[test]
fn cups_and_spoons_by_setting() {
    let with = |cup, tablespoon, text: &str| {
        let measures = Measures { cup, tablespoon, flour_cup: None };
        read(&ReadInput { text: text.into(), measures }, Catalogue::bundled()).unwrap().lines[0]
            .grams
            .unwrap()
            .0
    };
    let us = with(Cup::Us, Tablespoon::Us, "1 cup water");
    let metric = with(Cup::Metric, Tablespoon::Us, "1 cup water");
    assert!((metric / us - 250.0 / 236.588_236_5).abs() < 1e-9);
    let spoon =
        with(Cup::Us, Tablespoon::Australian, "1 tbsp water") / with(Cup::Us, Tablespoon::Us, "1 tbsp water");
    assert!((spoon - 20.0 / (236.588_236_5 / 16.0)).abs() < 1e-9);
}

/// The doubt of the hydration by hand: 2 cups of flour (250 g ± 8 %) and 160 g of water.
/// A household that packs its cups is read by its own, in flour alone, and told its amounts by it.
#[test]
fn a_cup_of_ones_own_is_gone_by() {
    let own = Measures { flour_cup: Some(Grams(150.0)), ..Measures::default() };
    let grams = |text: &str, measures: Measures| {
        read(&ReadInput { text: text.into(), measures }, Catalogue::bundled()).unwrap().lines[0]
            .grams
            .unwrap()
            .0
    };
    let usual = Measures::default();
    assert!((grams("2 cups plain flour", own) - 300.0).abs() < 1.0);
    let (more, as_ever) = (grams("1 cup rye flour", own), grams("1 cup rye flour", usual));
    assert!((more / as_ever - 1.2).abs() < 1e-9, "other flours in proportion");
    for same in ["1 cup sugar", "2 tbsp plain flour", "300 g plain flour"] {
        assert_eq!(grams(same, own), grams(same, usual), "{same}");
    }
    let said = household(Catalogue::bundled().get("plain-flour").unwrap(), Grams(300.0), own);
    assert_eq!(said.as_deref(), Some("2 cups"));
}

#[test]
fn the_doubt_of_the_hydration() {
    let out = |text: &str| {
        let read =
            read(&ReadInput { text: text.into(), measures: Measures::default() }, Catalogue::bundled())
                .unwrap();
        hydration_doubt(&read.lines, Catalogue::bundled())
    };
    let d = out("160 g water\n2 cups all-purpose flour\nTopping:\n3 cups water").unwrap();
    assert!(
        (d.low.0 - 100.0 * 160.0 / 270.0).abs() < 0.1 && (d.high.0 - 100.0 * 160.0 / 230.0).abs() < 0.1,
        "{d:?}"
    );
    assert_eq!(d.weigh, Some(1), "the flour brings the doubt");
    let weighed = out("160 g water\n250 g all-purpose flour").unwrap();
    assert_eq!((weighed.low, weighed.high, weighed.weigh), (weighed.high, weighed.low, None));
    assert_eq!(out("1 cup water"), None);
}

#[rstest]
#[case("For the poolish:", Stage::Poolish)]
#[case("BIGA", Stage::Biga)]
#[case("Soaker", Stage::Soaker)]
#[case("For the tangzhong", Stage::Scald)]
#[case("Scald:", Stage::Scald)]
#[case("Egg wash", Stage::Wash)]
#[case("Glaze:", Stage::Glaze)]
#[case("For the lye bath:", Stage::Bath)]
#[case("For the filling:", Stage::AddIns)]
#[case("Rye starter, evening before:", Stage::Preferment)]
#[case("For the rolls:", Stage::Dough)]
fn every_stage_has_headings(#[case] heading: &str, #[case] stage: Stage) {
    let out = read(
        &ReadInput { text: format!("{heading}\n50 g water"), measures: Measures::default() },
        Catalogue::bundled(),
    )
    .unwrap();
    assert_eq!((out.lines[0].kind, out.lines[1].stage), (LineKind::Heading, stage));
}

#[test]
fn more_for_dusting_is_a_line_of_its_own() {
    let of = |text: &str| {
        read(&ReadInput { text: text.into(), measures: Measures::default() }, Catalogue::bundled())
            .unwrap()
            .lines
    };
    let lines = of("3 cups bread flour, plus more for dusting");
    assert_eq!(lines.iter().map(|l| l.stage).collect::<Vec<_>>(), [Stage::Dough, Stage::Dusting]);
    assert_eq!(lines[1].ingredient, lines[0].ingredient);
    assert!(lines[1].low.unwrap() < lines[1].high.unwrap() && !lines[1].doubts.is_empty());
    let stage = |text: &str| of(text).last().unwrap().stage;
    assert_eq!(stage("1 egg, plus more for brushing"), Stage::Wash);
    assert_eq!(stage("2 tbsp sesame seeds, plus extra to sprinkle"), Stage::Topping);
    assert_eq!(stage("rice flour for dusting"), Stage::Dusting);
    assert_eq!(of("500 g bread flour").len(), 1);
}

#[rstest]
#[case("2 (7 g) packets instant yeast", 14.0)]
#[case("1 (1/4-oz) envelope instant yeast", 7.087)]
#[case("3 cups (about 375 g) bread flour", 375.0)]
fn a_stated_weight_is_of_each_container_or_of_all(#[case] text: &str, #[case] grams: f64) {
    assert!((line(text).grams.unwrap().0 - grams).abs() < 0.01, "{:?}", line(text));
}

#[test]
fn a_method_pasted_along_is_no_ingredient() {
    let text = "500 g bread flour\n1 tsp salt\nMethod\n1. Mix the flour, water and salt.\nKnead 10 minutes.\n\
                Ingredients\n2 eggs";
    let out =
        read(&ReadInput { text: text.into(), measures: Measures::default() }, Catalogue::bundled()).unwrap();
    use LineKind::*;
    let kinds: Vec<_> = out.lines.iter().map(|l| l.kind).collect();
    assert_eq!(kinds, [Ingredient, Ingredient, Heading, Method, Method, Heading, Ingredient]);
    assert!(out.method.iter().any(|f| f.found == Found::Knead && f.figure() == "10 min"), "{:?}", out.method);
    let alone = line("2. Combine the butter and the flour in a bowl.");
    assert_eq!(alone.kind, Method, "without a heading");
}

#[test]
fn the_first_line_may_be_the_breads_name() {
    let of = |text: &str| {
        read(&ReadInput { text: text.into(), measures: Measures::default() }, Catalogue::bundled()).unwrap()
    };
    let out = of("Honey wheat rolls\n500 g bread flour\n3 tbsp honey");
    assert_eq!((out.title.as_deref(), out.lines.len()), (Some("Honey wheat rolls"), 2));
    assert_eq!(of("Honey\n500 g bread flour").title, None, "a bare ingredient without its amount");
    assert_eq!(of("Honey wheat rolls").title, None, "nothing follows");
    assert_eq!(of("500 g bread flour\n3 tbsp honey").title, None);
}

#[test]
fn a_line_weighed_as_another_ingredient() {
    let c = Catalogue::bundled();
    let weigh = |text: &str, key: &str| weigh_as(text, c.get(key), Measures::default());
    let spoon = weigh("2 cups (about 300 g) mystery meal", "dark-rye-flour");
    assert_eq!(spoon.grams.unwrap().0, 300.0);
    let cup = weigh("1 cup mystery meal", "plain-flour");
    assert!((cup.grams.unwrap().0 - 125.0).abs() < 1e-9 && cup.ingredient.as_deref() == Some("plain-flour"));
    assert!(weigh("mystery", "plain-flour").grams.is_none());
}

#[derive(serde::Deserialize)]
struct Parsed {
    text: String,
    low: Option<f64>,
    high: Option<f64>,
    unit: Option<String>,
    heading: bool,
}

/// Quantities and units beside those of the npm package parse-ingredient 3.0.0, taken by
/// `lines/take.mjs`. Every line that differs stands in `lines/differences.txt` with its reason.
#[test]
fn quantities_and_units_beside_a_general_parser() {
    let theirs: Vec<Parsed> = serde_json::from_str(include_str!("lines/parsed.json")).unwrap();
    let explained: std::collections::BTreeMap<&str, &str> =
        include_str!("lines/differences.txt").lines().filter_map(|l| l.split_once(" | ")).collect();
    let mut differ = Vec::new();
    for p in &theirs {
        let ours = line(&p.text);
        let heading = ours.kind == LineKind::Heading;
        let (low, high, unit) = match ours.amount {
            Some(a) => (Some(a.count.low), Some(a.count.high), a.unit),
            None => (None, None, None),
        };
        let unit = unit.map(|u| serde_json::to_value(u).unwrap().as_str().unwrap().to_owned());
        let named = p.unit.as_deref().map(|u| match u {
            "fluid ounce" => "fluid-ounce".to_owned(),
            "deciliter" => "decilitre".into(),
            "liter" => "litre".into(),
            "milliliter" => "millilitre".into(),
            "package" => "packet".into(),
            "dash" => "pinch".into(),
            other => other.into(),
        });
        let near = |a: Option<f64>, b: Option<f64>| match (a, b) {
            // Theirs are rounded to three places.
            (Some(a), Some(b)) => (a - b).abs() < 0.002,
            (a, b) => a == b,
        };
        let same = heading == p.heading && near(low, p.low) && near(high, p.high.or(p.low)) && unit == named;
        match (same, explained.get(p.text.as_str())) {
            (true, None) => {}
            (false, Some(_)) => differ.push(p.text.as_str()),
            (true, Some(_)) => panic!("{:?} no longer differs: take it from the list", p.text),
            (false, None) => panic!(
                "{:?}: ours {low:?} {high:?} {unit:?} {heading}, theirs {:?} {:?} {:?} {}",
                p.text, p.low, p.high, p.unit, p.heading
            ),
        }
    }
    assert_eq!(differ.len(), explained.len(), "every explained line is one of the lines");
    assert!(theirs.len() >= 300);
}

proptest! {
    #[test]
    fn no_input_panics(text in "\\PC{0,120}") {
        let _ = read(&ReadInput { text, measures: Measures::default() }, Catalogue::bundled()).unwrap();
    }

    /// Kitchen-like noise, far likelier to reach the grammar than random letters.
    #[test]
    fn no_kitchen_noise_panics(parts in prop::collection::vec(prop::sample::select(vec![
        "1", "2 ", "1/0", "½", "¼", " and ", "a", " half ", "three", "to", "-", "–", "+", "plus", "cup", "tbsp.", "T", "t",
        "fl", "oz", "(", ")", "about", "g", "flour", "egg", "extra", "-large", ",", "99999999", ".", " ", "\u{301}", "é",
        // Letters whose lower case is longer or shorter than they are.
        "Ⱥ", "İ", "\u{212a}", " each", ", plus ", "%", ";", " of ", " egg yolk", "for ",
    ]), 0..14)) {
        let out = read(&ReadInput { text: parts.concat(), measures: Measures::default() }, Catalogue::bundled()).unwrap();
        for l in out.lines {
            if let (Some(low), Some(g), Some(high)) = (l.low, l.grams, l.high) {
                prop_assert!(low.0 >= 0.0 && low <= g && g <= high && high.0.is_finite());
            }
        }
    }

    #[test]
    fn a_weight_reads_as_itself(grams in 1u32..9999) {
        let l = line(&format!("{grams} g water"));
        prop_assert_eq!(l.grams.unwrap().0, f64::from(grams));
    }
}

fn all(text: &str) -> ReadOutput {
    read(&ReadInput { text: text.into(), measures: Measures::default() }, Catalogue::bundled()).unwrap()
}

/// What was understood, an ingredient a line: stage, key, grams.
fn understood(text: &str) -> Vec<(Stage, String, f64)> {
    let lines = all(text).lines;
    let of = |l: ReadLine| Some((l.stage, l.ingredient?, l.grams?.0.round()));
    lines.into_iter().filter(|l| l.kind == LineKind::Ingredient).filter_map(of).collect()
}

/// What a step among the lines names with amounts is not in the formula: it is told. A list with its method under it says
/// nothing, whatever that repeats.
#[test]
fn amounts_of_a_step_among_the_lines_are_told() {
    let over = "Potato bread\nThe night before mash one big boiled potato (about 200 g) with its own water, 150 ml.\n\
                800 g strong white flour\n300 ml buttermilk\n2 tsp salt\nMix and knead ten minutes with 20 g of the flour.";
    let out = all(over);
    let told = unlisted(&out.lines);
    assert_eq!(told.len(), 1, "{told:?}");
    assert!(told[0].contains("potato"));
    let under = "500 g flour\nGrease a 900 g tin.\n330 g water\n10 g salt\n\nMix 400 g of the flour with the 330 g water. Divide \
                 into pieces of 80 g. Steam with 200 ml water in a tray.";
    assert_eq!(unlisted(&all(under).lines), Vec::<&str>::new());
}

#[test]
fn a_recipe_told_in_sentences_gives_its_amounts() {
    let told = "Sunday seed loaf\n\nSoak 60 grams sunflower seeds in 80 g boiling water. In a big bowl: 450 g strong white flour, \
                another 50 g rye, 320 g lukewarm water, a teaspoon of salt and 7 g instant yeast.\n\
                Knead 10 min with the salt, then let it double in 1 1/2 hours. Work in 20 g of soft butter, bake for 35 min at \
                210 C in a 2 lb tin, and brush with an egg. Sprinkle with 15 g sesame seeds.";
    let out = all(told);
    assert_eq!(out.title.as_deref(), Some("Sunday seed loaf"));
    let (soaker, dough) = (Stage::Soaker, Stage::Dough);
    let wanted = [
        (soaker, "sunflower-seeds", 60.0),
        (soaker, "water", 80.0),
        (dough, "bread-flour", 450.0),
        (dough, "dark-rye-flour", 50.0),
        (dough, "water", 320.0),
        (dough, "salt", 6.0),
        (dough, "instant-yeast", 7.0),
        (dough, "butter", 20.0),
        (Stage::Wash, "egg", 50.0),
        (Stage::Topping, "sesame-seeds", 15.0),
    ];
    let got = understood(told);
    for (g, w) in got.iter().zip(wanted) {
        assert_eq!((g.0, g.1.as_str(), g.2), w);
    }
    assert_eq!(got.len(), wanted.len(), "{got:?}");
    assert!(!out.method.is_empty(), "its times are found too");
}

#[test]
fn what_a_sentence_names_again_is_not_put_in_twice() {
    let told = "You will need 500 g bread flour, 330 g water, 10 g salt and 5 g instant yeast for this one. Stir the 330 g water \
                into half of the flour, then add 100 g of the flour and the 10 g salt as it comes together.";
    let keys: Vec<String> = understood(told).into_iter().map(|(_, key, _)| key).collect();
    assert_eq!(keys, ["bread-flour", "water", "salt", "instant-yeast"]);
}

#[test]
fn what_is_stirred_the_evening_before_is_made_ahead() {
    let told = "In the evening stir 25 g rye starter with 100 g rye flour and 100 g water in a jar and leave it. In the morning add \
                400 g bread flour, 250 g water and 10 g salt, and knead it all well.";
    let stages: Vec<Stage> = understood(told).into_iter().map(|(stage, ..)| stage).collect();
    let (p, d) = (Stage::Preferment, Stage::Dough);
    assert_eq!(stages, [p, p, p, d, d, d]);
}

#[test]
fn where_lines_are_listed_their_steps_put_nothing_in() {
    let listed = "500 g bread flour\n320 g water\n10 g salt\nStir in 100 g water first, and keep 220 g water back for the second \
                  stage of the kneading of this bread.";
    assert_eq!(understood(listed).len(), 3);
}

proptest! {
    /// The same things, listed and told, are the same.
    #[test]
    fn what_is_told_is_what_is_listed(
        things in prop::collection::vec((prop::sample::select(vec![
            "bread flour", "rye flour", "water", "milk", "sugar", "butter", "olive oil", "raisins", "walnuts", "honey",
        ]), 2u32..900), 2..7),
        joint in prop::sample::select(vec![", ", " and ", ", then ", " with ", "; "]),
        led in prop::sample::select(vec!["Put into the biggest bowl of the house ", "You will want for this one: ", "Mix together "]),
    ) {
        let all: Vec<String> = things.iter().map(|(name, g)| format!("{g} g {name}")).collect();
        let told = format!("{led}{} and let it stand for 20 minutes.", all.join(joint));
        let (told, listed) = (understood(&told), understood(&all.join("\n")));
        prop_assert_eq!(told, listed);
    }
}

#[derive(serde::Deserialize)]
struct Pint {
    grams: std::collections::BTreeMap<String, f64>,
    millilitres: std::collections::BTreeMap<String, f64>,
    celsius: std::collections::BTreeMap<String, f64>,
}

/// Conversions beside those of the Python package pint, taken by `pint/units.py`.
#[test]
fn units_beside_a_reference_library() {
    let theirs: Pint = serde_json::from_str(include_str!("pint/units.json")).unwrap();
    let grams = |text: &str| line(text).grams.unwrap().0;
    for (unit, g) in &theirs.grams {
        let ours = grams(&format!("10 {unit} salt"));
        assert!((ours - 10.0 * g).abs() < 1e-9 * ours, "{unit}: {ours}");
    }
    // Buttermilk has but one measure in the catalogue, so its density falls out.
    let density = grams("10 ml buttermilk") / 10.0;
    for (unit, ml) in &theirs.millilitres {
        let ours = grams(&format!("10 {unit} buttermilk")) / density;
        assert!((ours - 10.0 * ml).abs() < 1e-6 * ours, "{unit}: {ours} against {}", 10.0 * ml);
    }
    for (f, c) in &theirs.celsius {
        let ours = cerealis_core::units::Celsius::from_fahrenheit(f.parse().unwrap());
        assert!((ours.0 - c).abs() < 1e-9, "{f} °F: {ours:?}");
    }
}

/// What stands behind the letters that are read may be an amount: it is not lost in silence.
#[test]
fn a_line_that_is_too_long_says_so() {
    let text = format!("500 g strong flour {}and 20 g salt", "of the mill by the ford ".repeat(10));
    let out = read(&ReadInput { text, measures: Measures::default() }, Catalogue::bundled()).unwrap();
    assert_eq!(out.lines.len(), 1);
    assert!(
        out.lines[0].doubts.iter().any(|d| d.contains("letters of this line")),
        "{:?}",
        out.lines[0].doubts
    );
}

/// “Plus more” is more of the same: for the bench where it is flour, and else a word to the hands.
#[rstest]
#[case("3 cups plain flour, plus more as needed", &[Stage::Dough, Stage::Dusting])]
#[case("3 cups plain flour plus extra if the dough sticks", &[Stage::Dough, Stage::Dusting])]
#[case("60 ml olive oil, plus extra for drizzling", &[Stage::Dough, Stage::Topping])]
#[case("60 ml olive oil, with a little more to brush", &[Stage::Dough, Stage::Wash])]
#[case("320 ml water, plus more as needed", &[Stage::Dough])]
fn more_of_it_is_not_lost(#[case] text: &str, #[case] stages: &[Stage]) {
    let out =
        read(&ReadInput { text: text.into(), measures: Measures::default() }, Catalogue::bundled()).unwrap();
    assert_eq!(out.lines.iter().map(|l| l.stage).collect::<Vec<_>>(), stages, "{text}");
    assert!(out.lines.iter().any(|l| !l.doubts.is_empty()), "{text}: what nobody weighed is doubted");
}

/// Names of everything in the catalogue, as people write them.
fn names() -> Vec<String> {
    Catalogue::bundled().iter().map(|i| i.name.to_lowercase()).collect()
}

proptest! {
    /// Every amount that is pasted lands in a stage of the formula, whatever the order of the line and whatever it
    /// stands under, or its line says that something is open.
    #[test]
    fn every_pasted_amount_lands_in_a_stage_or_is_doubted(
        lines in prop::collection::vec(
            (prop::sample::select(names()), 1u32..2000, 0usize..8, prop::sample::select(vec![
                "", "For the levain:", "Dough", "Topping:", "For the crosses:", "Icing", "Egg wash", "Soaker:",
                "Filling:", "For the tin:", "For the bath:",
            ])),
            1..12,
        )
    ) {
        let mut text = String::new();
        for (name, g, way, heading) in &lines {
            if !heading.is_empty() {
                text.push_str(&format!("\n{heading}\n"));
            }
            let line = match way {
                0 => format!("{g} g {name}"),
                1 => format!("{name}, {g} g"),
                2 => format!("{name}: {g} g"),
                3 => format!("{g}g {name}"),
                4 => format!("{g} grams of {name}"),
                5 => format!("- {g} g {name}, at room temperature"),
                6 => format!("{name} {g} g"),
                _ => format!("{g} gr {name} for the top"),
            };
            text.push_str(&line);
            text.push('\n');
        }
        let out = read(&ReadInput { text: text.clone(), measures: Measures::default() }, Catalogue::bundled()).unwrap();
        let mut there: Vec<f64> =
            out.proposal.iter().flat_map(|p| &p.formula.lines).map(|l| l.grams.0).collect();
        let mut open = out.lines.iter().filter(|l| !l.doubts.is_empty()).count();
        for (name, g, ..) in &lines {
            let at = there.iter().position(|x| (x - f64::from(*g)).abs() < 1e-9);
            match at {
                Some(at) => drop(there.remove(at)),
                None => {
                    prop_assert!(open > 0, "{g} g {name} is nowhere in {:?} of\n{text}", out.lines);
                    open -= 1;
                }
            }
        }
        prop_assert!(there.iter().all(|g| *g == 0.0), "{there:?} was never pasted in\n{text}");
    }
}

/// A grain or a kind of flour by itself, with an amount, is its flour, and that is said; a line without an amount, a bread's
/// name and what is no flour are not taken for one.
#[test]
fn a_grain_by_itself_is_its_flour() {
    let input = ReadInput {
        text: "Dark rye\n450 g strong white\n50 g rye\n60 g buckwheat\n30 g barley, sifted\n100 g plain\n20 g dark rye\n50 g shovel\n9 g salt"
            .into(),
        measures: Measures::default(),
    };
    let out = read(&input, Catalogue::bundled()).unwrap();
    assert_eq!(out.title.as_deref(), Some("Dark rye"));
    let said: Vec<(&str, usize)> =
        out.lines.iter().map(|l| (l.ingredient.as_deref().unwrap_or("none"), l.doubts.len())).collect();
    assert_eq!(
        said,
        [
            ("bread-flour", 0),
            ("dark-rye-flour", 1),
            ("buckwheat-flour", 1),
            ("barley-flour", 1),
            ("plain-flour", 1),
            ("dark-rye-flour", 1),
            ("none", 1),
            ("salt", 0)
        ]
    );
    assert!(out.lines[1].doubts[0].contains("flour") && out.lines[1].grams.is_some(), "{:?}", out.lines[1]);
}

proptest! {
    /// Whatever recipes are made of, in whatever order and whatever letters: it is read, and every figure is one.
    #[test]
    fn nothing_that_is_like_a_recipe_stops_the_reader(parts in prop::collection::vec(prop::sample::select(vec![
        "500 g flour", "300 ml water", "7 g yeast", "cut into ", "divide in ", "12 rolls", "makes 2 doz", "é", "–", "½", "ßßß ", "🍞", "İ",
        "[18:02] Mina: ", "[1:2", "0:07 ", "> ", "| ", ";100;5,5", "   68 %", "\t", "  ", "TOTAL", "08:15 ", "8 pm ", "Levain, 22:00",
        "Bake ", "gas 7", "220C/200C fan", "425", " for 15 min", "the last 5 of them", "Notes", "Step 1 ", "1. ", "(", ")", ": ", ". ", "\n", "\n\n",
        "\u{a0}", "’s", "☐ ", "overnight", "as needed",
    ]), 0..60)) {
        let text = parts.concat();
        let out = read(&ReadInput { text, measures: Measures::default() }, Catalogue::bundled()).unwrap();
        for f in &out.method {
            prop_assert!(f.low.is_finite() && f.low <= f.high, "{f:?}");
        }
        for l in &out.lines {
            prop_assert!(l.grams.is_none_or(|g| g.0.is_finite() && g.0 >= 0.0), "{l:?}");
        }
    }
}
