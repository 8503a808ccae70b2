//! What stands on the pages in words and figures.

use askama::Template;
use cerealis_core::cupboard::Cupboard;
use cerealis_core::formula::Formula;
use cerealis_core::ingredient::Catalogue;
use cerealis_core::kitchen::{Kitchen, TemperatureUnits};
use cerealis_core::stations::{Stations, read};
use cerealis_core::units::{Celsius, Grams, shown};
use cerealis_store::{demo_formulas, demo_kitchen};
use cerealis_web::form::House;
use cerealis_web::view::{Asks, Fragments, Sheet, Station};
use rstest::rstest;

fn stations(f: &Formula, kitchen: &Kitchen) -> Stations {
    let now = "2026-11-21T08:00:00Z".parse().unwrap();
    read(f, kitchen, Catalogue::bundled(), now).unwrap_or_else(|e| panic!("{}: {e}", f.name))
}

fn fragment(f: &Formula, kitchen: &Kitchen, station: Station) -> String {
    let s = stations(f, kitchen);
    let all = Fragments::of(
        1,
        station,
        (f, &s),
        None,
        None,
        &Asks::default(),
        House { catalogue: Catalogue::bundled(), kitchen, cupboard: &Cupboard::default() },
    )
    .unwrap();
    all.outs.into_iter().find(|(at, _)| *at == station).unwrap().1
}

/// Degrees Fahrenheit stand beside Celsius where the kitchen wants them, and nowhere else.
#[rstest]
fn units_are_as_the_kitchen_wants_them(
    #[values(Station::Mix, Station::Rise, Station::Oven)] station: Station,
    #[values(TemperatureUnits::Celsius, TemperatureUnits::Both)] units: TemperatureUnits,
) {
    let kitchen = Kitchen { units, ..demo_kitchen() };
    for f in demo_formulas() {
        let html = fragment(&f, &kitchen, station);
        assert_eq!(html.contains("°F"), units == TemperatureUnits::Both, "{} at {}", f.name, station.name());
        assert!(html.contains("°C"), "{} at {}", f.name, station.name());
    }
}

/// The sheet has every line with its mass, every step, and the oven.
#[test]
fn the_sheet_is_complete() {
    let kitchen = demo_kitchen();
    for f in demo_formulas() {
        let s = stations(&f, &kitchen);
        let sheet = Sheet::new(1, &f, &s, &kitchen, Catalogue::bundled()).unwrap().render().unwrap();
        for line in &f.lines {
            let name = &Catalogue::bundled().get(&line.ingredient).unwrap().name;
            let cell =
                format!("<td>{name}</td><td class=\"num\"><strong>{}</strong>", shown::grams(line.grams));
            assert!(sheet.contains(&cell), "{}: {cell}", f.name);
        }
        for step in &s.day.steps {
            let at = step.at.strftime("%H:%M").to_string();
            assert!(sheet.contains(&at), "{}: nothing at {at}", f.name);
        }
        assert!(sheet.contains(&format!("{:.0}\u{a0}°C", s.bake.dial.0)), "{}", f.name);
        for allergen in &s.figures.allergens {
            assert!(sheet.contains(allergen.as_str()), "{}: {allergen} is not named", f.name);
        }
    }
}

/// A slip is said in words at the Formula station, with its strength first.
#[test]
fn slips_are_said_in_words() {
    let kitchen = demo_kitchen();
    let mut f = demo_formulas().remove(0);
    f.lines.iter_mut().filter(|l| l.ingredient == "salt").for_each(|l| l.grams = Grams(0.0));
    let html = fragment(&f, &kitchen, Station::Formula);
    assert!(html.contains("Stop and check.") && html.contains("There is no salt."), "{html}");
}

/// Water that is too hot is refused with what can be done instead.
#[test]
fn a_refusal_says_what_to_do() {
    let kitchen = Kitchen { room: Celsius(6.0), tap: Celsius(5.0), ..demo_kitchen() };
    let mut f = demo_formulas().remove(0);
    f.mix.desired = Celsius(30.0);
    let html = fragment(&f, &kitchen, Station::Mix);
    for words in ["not by water", "over 43 °C the yeast is harmed", "Warm the flour"] {
        assert!(html.contains(words), "{words} is missing in {html}");
    }
}

/// A target the dough cannot reach is said where it stands, with the nearest.
#[test]
fn an_unreachable_rise_is_said() {
    let kitchen = demo_kitchen();
    let mut f = demo_formulas().into_iter().find(|f| f.name.contains("rice")).unwrap();
    f.rise.proof.target = 2.5;
    let html = fragment(&f, &kitchen, Station::Rise);
    assert!(html.contains("This dough gives way at 1.62 times"), "{html}");
}

/// Pieces that the dough is short of are said, with a button that mends it.
#[test]
fn short_pieces_offer_to_scale() {
    let kitchen = demo_kitchen();
    let mut f = demo_formulas().remove(1);
    f.shape.piece_weight = Some(Grams(80.0));
    let html = fragment(&f, &kitchen, Station::Shape);
    assert!(html.contains("short of 18 pieces of 80 g") && html.contains("data-op=\"scale:fit\""), "{html}");
}

/// What a piece feeds is told with what a hundred grams feed, as an estimate.
#[test]
fn what_it_feeds_is_told_as_an_estimate() {
    let kitchen = demo_kitchen();
    for f in demo_formulas() {
        let html = fragment(&f, &kitchen, Station::Formula);
        for words in ["An estimate, not a label", " kcal, ", "A piece", "It keeps", "To refresh it"] {
            assert!(html.contains(words), "{}: {words}", f.name);
        }
    }
}
