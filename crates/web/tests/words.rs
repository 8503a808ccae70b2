//! What stands on the pages in words and figures.

use askama::Template;
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::notation::{ClockFace, Lengths, Notation, Temperatures, Weights};
use cerealis_core::pantry::{Catalogue, Cupboard, household};
use cerealis_core::stations::{Stations, read};
use cerealis_core::units::{Celsius, Grams, shown};
use cerealis_core::words::{Method, Station};
use cerealis_store::FormulaId;
use cerealis_store::{demo_formulas, demo_kitchen};
use cerealis_web::asks::Asks;
use cerealis_web::formula_page::{Fragments, Rail, Sheet};
use cerealis_web::household::Household;
use cerealis_web::notation;
use rstest::rstest;

fn stations(f: &Formula, kitchen: &Kitchen) -> Stations {
    let now = "2026-11-21T08:00:00Z".parse().unwrap();
    read(f, kitchen, Catalogue::bundled(), now).unwrap_or_else(|e| panic!("{}: {e}", f.name))
}

fn fragment(f: &Formula, kitchen: &Kitchen, station: Station) -> String {
    let s = stations(f, kitchen);
    let all = Fragments::of(
        FormulaId(1),
        station,
        (f, &s),
        None,
        None,
        &Asks::default(),
        &Household::of(kitchen.clone(), Cupboard::default(), jiff::Timestamp::UNIX_EPOCH),
    )
    .unwrap();
    all.outs.into_iter().find(|(at, _)| *at == station).unwrap().1
}

/// Every temperature of a page is in the degrees of the kitchen, or in both; the one line that gives the dial in every
/// notation stays as it is. The same for weights, lengths and times of day.
#[rstest]
fn units_are_as_the_kitchen_wants_them(
    #[values(Station::Formula, Station::Mix, Station::Rise, Station::Shape, Station::Oven, Station::Day)]
    station: Station,
) {
    let kitchen = demo_kitchen();
    let there = Notation {
        temperatures: Temperatures::Fahrenheit,
        weights: Weights::OuncesFirst,
        lengths: Lengths::Inches,
        clock: ClockFace::Hours12,
    };
    let beside = Notation { temperatures: Temperatures::Both, ..Notation::default() };
    for f in demo_formulas() {
        let html = fragment(&f, &kitchen, station);
        assert_eq!(notation::part(&html, Notation::default(), Notation::default()), html);
        let own = |html: &str| {
            let (before, after) = html.split_once("<p class=\"notations\"").unwrap_or((html, ""));
            before.to_owned() + after.split_once("</p>").map_or("", |(_, rest)| rest)
        };
        let (ours, theirs) = (own(&html), own(&notation::part(&html, there, there)));
        let at = format!("{} at {}", f.name, station.name());
        let left = theirs.find("°C").map(|i| theirs[..i + 4].chars().rev().take(90).collect::<String>());
        assert!(!ours.contains("°F") && left.is_none(), "{at}: {left:?}");
        assert_eq!(ours.matches("°C").count(), theirs.matches("°F").count(), "{at}");
        assert!(!theirs.contains(" cm"), "{at}");
        let both = own(&notation::part(&html, beside, beside));
        assert!(both.contains("°F)") || !ours.contains("°C") || !both.contains("°C ("), "{at}");
    }
}

/// The sheet has every line with its mass, every step, and the oven.
#[test]
fn the_sheet_is_complete() {
    let kitchen = demo_kitchen();
    for f in demo_formulas() {
        let s = stations(&f, &kitchen);
        let sheet = Sheet::new(FormulaId(1), &f, &s, &kitchen, Catalogue::bundled()).render().unwrap();
        for line in &f.lines {
            let name = &Catalogue::bundled().get(&line.ingredient).unwrap().name;
            let cell =
                format!("<td>{name}</td><td class=\"num\"><strong>{} g</strong>", shown::grams(line.grams));
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

/// In a kitchen of cups the sheet has the measure first, the grams beside it, and nothing is measured that has no measure.
#[test]
fn a_sheet_in_cups_has_the_grams_beside() {
    let kitchen = Kitchen { weights: Weights::CupsFirst, ..demo_kitchen() };
    for f in demo_formulas() {
        let s = stations(&f, &kitchen);
        let sheet = Sheet::new(FormulaId(1), &f, &s, &kitchen, Catalogue::bundled()).render().unwrap();
        for line in &f.lines {
            let i = Catalogue::bundled().get(&line.ingredient).unwrap();
            let grams = format!("{} g", shown::grams(line.grams));
            let (first, then) = match household(i, line.grams, kitchen.measures) {
                Some(said) => (said, grams),
                None => (grams, String::new()),
            };
            let row = format!("<td>{}</td><td class=\"num\"><strong>{first}</strong>", i.name);
            assert!(sheet.contains(&row), "{}: {row}", f.name);
            assert!(sheet.contains(&format!("<td class=\"said\">{then}</td>")), "{}: {then}", f.name);
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
    assert!(html.contains("This dough gives way at 1.6 times"), "{html}");
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

/// When to be back is answered with the early end, the likely time and how long it waits.
#[test]
fn when_to_be_back_is_answered() {
    let kitchen = demo_kitchen();
    for f in demo_formulas() {
        let html = fragment(&f, &kitchen, Station::Rise);
        assert!(html.contains("When must I be back?</strong> Look at "), "{}", f.name);
        let waits = html.contains("It bears waiting until") || html.contains("It does not wait.");
        assert!(waits, "{}", f.name);
    }
}

/// A rise that is left to stand says what it will have become, and what is wrong with that.
#[test]
fn a_rise_left_to_stand_says_what_becomes_of_it() {
    let kitchen = demo_kitchen();
    let stays = |hours: f64, place: f64| {
        let mut f = demo_formulas().remove(0);
        f.rise.proof.stays = Some(cerealis_core::units::Hours(hours));
        f.rise.proof.place = Some(Celsius(place));
        fragment(&f, &kitchen, Station::Rise)
    };
    let night = stays(12.0, 4.0);
    assert!(night.contains("left to stand") && night.contains(" times then, likely "), "{night}");
    assert!(stays(10.0, 28.0).contains("It stands too long and falls."));
    assert!(stays(0.5, 4.0).contains("It does not get to 1.75 times in that time."));
}

/// The figures of the curve stand in a table for those who cannot see it.
#[test]
fn the_curve_is_told_in_a_table() {
    let kitchen = demo_kitchen();
    let f = demo_formulas().remove(0);
    let html = fragment(&f, &kitchen, Station::Rise);
    let table = html.split("id=\"table-bulk\"").nth(1).unwrap().split("</table>").next().unwrap();
    assert_eq!(table.matches("<tr>").count(), 10, "a head and nine moments");
    assert!(table.contains("<td class=\"num\">1.00</td>") && table.contains("<td class=\"num\">2.00</td>"));
}

/// What mixing adds is said with the readings it rests on.
#[test]
fn learned_friction_is_said_with_its_readings() {
    let kitchen = demo_kitchen();
    let mixed = demo_formulas().into_iter().find(|f| f.mix.method == Method::Mixer).unwrap();
    let html = fragment(&mixed, &kitchen, Station::Mix);
    assert!(html.contains("learned from 2 readings"), "{html}");
    assert!(html.contains("turns done by then"));
    let html = fragment(&mixed, &Kitchen { friction: vec![], ..kitchen }, Station::Mix);
    assert!(!html.contains("learned from"));
}

/// Costs are told with what has no price yet; without any price there is only where to give them.
#[test]
fn costs_are_told_with_what_has_no_price() {
    let (kitchen, f) = (demo_kitchen(), demo_formulas().remove(0));
    assert!(fragment(&f, &kitchen, Station::Formula).contains("no prices yet."));
    let cupboard = Cupboard { prices: [("bread-flour".into(), 1.3)].into(), ..Cupboard::default() };
    let house = &Household::of(kitchen.clone(), cupboard, jiff::Timestamp::UNIX_EPOCH);
    let s = stations(&f, &kitchen);
    let all =
        Fragments::of(FormulaId(1), Station::Formula, (&f, &s), None, None, &Asks::default(), house).unwrap();
    let html = &all.outs[0].1;
    assert!(
        html.contains("0.52 £ in all") && html.contains("Without a price yet: whole-wheat flour"),
        "{html}"
    );
}

fn fragment_of_rail(f: &Formula, kitchen: &Kitchen) -> String {
    let s = stations(f, kitchen);
    Rail::new(FormulaId(1), Station::Formula, (f, &s), None).render().unwrap()
}

/// What stands large on the sheet is what stands on the rail.
#[test]
fn the_sheet_says_what_the_rail_says() {
    let kitchen = demo_kitchen();
    for f in demo_formulas() {
        let s = stations(&f, &kitchen);
        let sheet = Sheet::new(FormulaId(1), &f, &s, &kitchen, Catalogue::bundled()).render().unwrap();
        let rail = fragment_of_rail(&f, &kitchen);
        let fact = sheet.split("ydration</dt><dd>").nth(1).unwrap().split("</dd>").next().unwrap();
        assert!(
            rail.contains(&format!("{fact} hydration")) || rail.contains(&format!("{fact} water in all")),
            "{fact}: {rail}"
        );
        let inside = format!("{:.0}\u{a0}°C", s.bake.temperature.0);
        let told = sheet.split("<h2>Oven</h2>").nth(1).unwrap().split("</p>").next().unwrap();
        assert!(told.contains(&inside), "{}: {told}", f.name);
    }
}
