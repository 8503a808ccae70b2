//! Formulas in and out: what comes back, and what is refused with its place.

use crate::common::demo;
use cerealis_core::formats::{Format, Imported, RecipeText, TEXT_MAX, export, import};
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::{Catalogue, Cupboard, OwnIngredient};
use cerealis_core::stations::read;
use cerealis_core::words::{Stage, Style};
use proptest::prelude::*;
use rstest::rstest;

fn taken(text: &str) -> Imported {
    import(text, Catalogue::bundled()).unwrap().unwrap()
}

fn recipe(text: &str) -> RecipeText {
    match taken(text) {
        Imported::Recipe(r) => r,
        other => panic!("{other:?}"),
    }
}

#[test]
fn our_own_json_is_the_identity() {
    for mut f in demo() {
        f.tags = vec!["thursday".into()];
        f.notes = "Two lines,\nand a “quote”.".into();
        f.lines[0].note = "sifted".into();
        let text = export(&f, None, Format::Json, &Cupboard::default());
        match taken(&text) {
            Imported::Formulas(file) => assert_eq!((file.formulas, file.own), (vec![f], vec![])),
            other => panic!("{other:?}"),
        }
    }
}

#[test]
fn own_ingredients_travel_with_their_formulas() {
    let own = OwnIngredient {
        key: "own-mill".into(),
        name: "Mill flour".into(),
        like: "bread-flour".into(),
        protein: Some(13.0),
        ..OwnIngredient::default()
    };
    let other = OwnIngredient { key: "own-other".into(), name: "Other".into(), ..own.clone() };
    let cupboard = Cupboard { own: vec![own.clone(), other], ..Cupboard::default() };
    let mut f = Formula::beginning("Loaf", Style::Tin);
    f.lines[0].ingredient = own.key.clone();
    let text = export(&f, None, Format::Json, &cupboard);
    match taken(&text) {
        Imported::Formulas(file) => assert_eq!((file.formulas, file.own), (vec![f.clone()], vec![own])),
        other => panic!("{other:?}"),
    }
    assert!(export(&f, None, Format::Csv, &cupboard).contains("Mill flour"));
    let broken = text.replace("\"like\": \"bread-flour\"", "\"like\": \"moon-flour\"");
    let fault = import(&broken, Catalogue::bundled()).unwrap_err().0.remove(0);
    assert_eq!(fault.path, "own.0.like");
}

#[test]
fn a_recipe_as_linked_data_has_its_steps_and_its_bake() {
    let now = "2026-03-07T08:00:00Z".parse().unwrap();
    for f in demo() {
        let s = read(&f, &Kitchen::default(), Catalogue::bundled(), now).unwrap();
        let ld: serde_json::Value =
            serde_json::from_str(&export(&f, Some(&s), Format::JsonLd, &Cupboard::default())).unwrap();
        assert_eq!(ld["@type"], "Recipe");
        assert!(ld["recipeInstructions"].as_array().unwrap().len() > 5);
        let duration: jiff::Span = ld["cookTime"].as_str().unwrap().parse().unwrap();
        assert_eq!(f64::from(duration.get_minutes() as i32), s.bake.time.0.round());
    }
}

#[rstest]
#[case::a_list(
    r#"[{"@type": "Person"}, {"@type": ["Recipe", "Thing"], "name": "Buns", "recipeIngredient": ["1 egg"]}]"#
)]
#[case::a_graph(r#"{"@graph": [{"@type": "WebPage"}, {"@type": "Recipe", "name": "Buns", "recipeIngredient": ["1 egg"]}]}"#)]
#[case::a_full_type(
    r#"{"@type": "https://schema.org/Recipe", "name": ["Buns"], "recipeIngredient": "1 egg"}"#
)]
#[case::old_ingredients(r#"{"@type": "Recipe", "name": "Buns", "ingredients": ["1 egg"]}"#)]
#[case::tags_and_entities(
    r#"{"@type": "Recipe", "name": "<b>Buns</b>", "recipeIngredient": ["1&nbsp;egg"]}"#
)]
#[case::a_page(r#"<html><head><script>var x = "<";</script><script type="application/ld+json">{"@type": "WebSite"}</script>
<script type="application/ld+json">{"@type": "Recipe", "name": "Buns", "recipeIngredient": ["1 egg"]}</script></html>"#)]
fn a_recipe_in_any_of_its_shapes(#[case] text: &str) {
    let r = recipe(text);
    assert_eq!((r.name.as_str(), r.lines.as_str()), ("Buns", "1 egg"));
}

#[test]
fn sections_steps_times_and_yield() {
    let r = recipe(
        r#"{"@type": "Recipe", "name": "Buns", "recipeYield": {"@type": "QuantitativeValue", "value": 8},
        "prepTime": "PT1H30M", "cookTime": "PT28M", "totalTime": "never", "recipeIngredient": ["500 g flour\n300 g milk"],
        "recipeInstructions": [{"@type": "HowToSection", "name": "Dough", "itemListElement": [
          {"@type": "HowToStep", "text": "Knead 10 minutes."}, "Rise 1 hour."]}, {"@type": "HowToStep", "name": "Bake."}]}"#,
    );
    assert_eq!(r.lines, "500 g flour\n300 g milk");
    assert_eq!(r.makes, "8");
    assert_eq!(
        r.method,
        "Preparation: 90 minutes.\nBaking: 28 minutes.\nDough\nKnead 10 minutes.\nRise 1 hour.\nBake."
    );
}

#[rstest]
#[case::broken_json("{\"a\": [1, 2,, 3]}", "line 1, column 13")]
#[case::no_recipe("{\"@type\": \"Person\"}", "@type")]
#[case::no_lines("{\"@type\": \"Recipe\", \"name\": \"Buns\"}", "recipeIngredient")]
#[case::no_linked_data("<html><p>Buns</p></html>", "text")]
#[case::broken_in_a_page(
    "<html>\n<script type=\"application/ld+json\">{\"@type\":</script>",
    "script at line 2, line 1, column 9"
)]
#[case::not_a_formula(
    "{\"format\": \"cerealis-formulas\", \"version\": 1, \"formulas\": [{}]}",
    "formulas.0.name"
)]
#[case::not_a_word(
    "{\"format\": \"cerealis-formulas\", \"version\": 1, \"formulas\": [{\"name\": \"X\", \"mix\": {\"method\": \"spoon\"}}]}",
    "formulas[0].mix.method"
)]
#[case::unknown_part(
    "{\"format\": \"cerealis-formulas\", \"version\": 1, \"formulas\": [{\"name\": \"X\", \"mix\": {\"kneed\": 1}}]}",
    "formulas.0.mix.kneed"
)]
#[case::csv_with_crlf("stage,ingredient,grams\r\ndough,Bread flour,500\r\ndough,Water,lots\r\n", "line 3")]
#[case::too_new("{\"format\": \"cerealis-formulas\", \"version\": 9, \"formulas\": []}", "version")]
#[case::none("{\"format\": \"cerealis-formulas\", \"version\": 1, \"formulas\": []}", "formulas")]
#[case::csv_weight("stage,ingredient,grams\ndough,Bread flour,500\ndough,Water,lots\n", "line 3")]
#[case::csv_stage("stage,ingredient,grams\nattic,Bread flour,500\n", "line 2")]
#[case::csv_empty("ingredient;grams\n", "line 2")]
fn what_is_broken_names_its_place(#[case] text: &str, #[case] path: &str) {
    let fault = import(text, Catalogue::bundled()).unwrap_err();
    assert_eq!(fault.0[0].path, path, "{fault:?}");
}

#[test]
fn a_fault_within_a_formula_has_its_path() {
    let f = demo().remove(0);
    let text = export(&f, None, Format::Json, &Cupboard::default());
    let bad = text.replacen("\"ingredient\": \"", "\"ingredient\": \"un", 1);
    assert_eq!(import(&bad, Catalogue::bundled()).unwrap_err().0[0].path, "formulas.0.lines.0.ingredient");
}

/// A formula written before stages, make-ups, tags and notes opens as it was.
#[test]
fn the_first_documents_keep_opening() {
    let old = r#"{"name": "Weir loaf", "style": "tin", "lines": [
        {"ingredient": "bread-flour", "stage": "preferment", "grams": 100},
        {"ingredient": "culture-100", "stage": "preferment", "grams": 20},
        {"ingredient": "bread-flour", "stage": "dough", "grams": 400}],
        "mix": {"method": "hand", "desired": 25}, "rise": {"bulk": {"target": 2}, "proof": {"target": 1.75},
        "handling": "firm", "levain_place": 23}, "shape": {"kind": "tin", "pieces": 1}, "oven": {"vessel": "tin"}}"#;
    let f: Formula = serde_json::from_str(old).unwrap();
    f.check(Catalogue::bundled()).unwrap();
    assert_eq!(f.lines[0].stage, Stage::Preferment);
    assert_eq!((f.levain.builds, f.makeups.len(), f.counting), (1, 0, None));
    let again: Formula = serde_json::from_str(&serde_json::to_string(&f).unwrap()).unwrap();
    assert_eq!(again, f);
}

#[test]
fn limits_hold() {
    let long = "x".repeat(TEXT_MAX + 1);
    assert_eq!(import(&long, Catalogue::bundled()).unwrap_err().0[0].code, "out-of-range");
    let deep = format!("{}1{}", "[".repeat(5000), "]".repeat(5000));
    assert_eq!(import(&deep, Catalogue::bundled()).unwrap_err().0[0].code, "malformed");
    assert_eq!(
        import("500 g flour\n300 g water", Catalogue::bundled()),
        Ok(None),
        "plain lines are for the reader"
    );
}

#[test]
fn markdown_names_every_line_and_allergen() {
    for f in demo() {
        let text = export(&f, None, Format::Markdown, &Cupboard::default());
        for l in &f.lines {
            assert!(text.contains(&Catalogue::bundled().get(&l.ingredient).unwrap().name), "{}", f.name);
        }
        assert!(text.contains("Allergens: "));
    }
}

proptest! {
    #[test]
    fn no_text_panics_it(text in "(\\PC|\n){0,400}") {
        let _ = import(&text, Catalogue::bundled());
    }

    #[test]
    fn no_broken_json_panics_it(which in 0usize..7, cut in any::<prop::sample::Index>(), with in "\\PC{0,3}") {
        let text = export(&demo()[which], None, Format::Json, &Cupboard::default());
        let at = (0..text.len()).filter(|&i| text.is_char_boundary(i)).nth(cut.index(text.chars().count())).unwrap();
        let _ = import(&format!("{}{with}{}", &text[..at], &text[at..]), Catalogue::bundled());
        let _ = import(&text[..at], Catalogue::bundled());
    }
}

/// What goes out as linked data comes back: shape and number of pieces, keywords, author, notes, and the
/// steps in their order.
#[test]
fn a_recipe_as_linked_data_keeps_its_shape_and_words() {
    use cerealis_core::formats::made;
    let now = "2026-03-07T08:00:00Z".parse().unwrap();
    for mut f in demo() {
        f.author = "The mill cottage".into();
        f.tags = vec!["thursday".into(), "easy".into()];
        f.notes = "Ten minutes less proof next time.".into();
        let s = read(&f, &Kitchen::default(), Catalogue::bundled(), now).unwrap();
        let back = recipe(&export(&f, Some(&s), Format::JsonLd, &Cupboard::default()));
        let (pieces, kind, strands, _) = made(&back.makes).unwrap_or_else(|| panic!("{}", back.makes));
        assert_eq!((pieces, kind), (f.shape.pieces, f.shape.kind));
        assert!(strands.is_none_or(|n| n == f.shape.strands));
        assert_eq!((back.author.as_str(), back.description.as_str()), ("The mill cottage", f.notes.as_str()));
        assert_eq!((back.keywords, back.category.as_str()), (f.tags.clone(), f.style.name()));
        let at: Vec<usize> = s
            .day
            .steps
            .iter()
            .map(|c| {
                back.method.find(&format!("{}, ", c.step.title)).unwrap_or_else(|| panic!("{}", c.step.title))
            })
            .collect();
        assert!(at[0] < at[at.len() - 1]);
    }
}

/// Forms of linked data that were refused: lists, prefixed keys, a comment round the script, microdata,
/// positions out of order.
#[rstest]
#[case::listed(
    r#"{"@type": "Recipe", "name": "Buns", "recipeIngredient": {"@list": ["500 g bread flour"]}}"#
)]
#[case::prefixed(
    r#"{"@type": "schema:Recipe", "schema:name": "Buns", "schema:recipeIngredient": ["500 g bread flour"]}"#
)]
#[case::hidden(
    "<script type=\"application/ld+json\">//<![CDATA[\n{\"@type\":\"Recipe\",\"name\":\"Buns\",\"recipeIngredient\":[\"500 g bread flour\"]}\n//]]></script>"
)]
#[case::microdata(
    "<article itemscope itemtype=\"http://schema.org/Recipe\"><h1 itemprop=\"name\">Buns</h1><ul><li itemprop=\"recipeIngredient\">500 g <b>bread</b> flour</li></ul></article>"
)]
fn other_ways_of_writing_a_recipe(#[case] text: &str) {
    let r = recipe(text);
    assert_eq!((r.name.as_str(), r.lines.as_str()), ("Buns", "500 g bread flour"));
}

#[test]
fn steps_come_by_their_positions() {
    let text = r#"{"@type": "Recipe", "recipeIngredient": ["1 g salt"], "recipeYield": "Makes 8",
        "recipeInstructions": [{"@type": "HowToStep", "position": 2, "text": "Bake."}, {"@type": "HowToStep", "position": 1, "text": "Mix."}]}"#;
    let r = recipe(text);
    assert_eq!((r.method.as_str(), r.makes.as_str()), ("Mix.\nBake.", "8"));
}
