//! Household measures of the catalogue against the weights bakers' tables give: USDA SR Legacy,
//! recalled, not read from the source; eggs, packets, cubes and sticks are common practice.

use cerealis_core::pantry::Catalogue;
use cerealis_core::stations::YeastForms;
use cerealis_core::units::Grams;
use rstest::rstest;

fn grams(key: &str, measure: &str) -> f64 {
    let entry = Catalogue::bundled().get(key).unwrap_or_else(|| panic!("no {key}"));
    entry
        .measures
        .iter()
        .find(|m| m.name == measure)
        .unwrap_or_else(|| panic!("{key} has no {measure}"))
        .grams
}

/// Level US cups.
#[rstest]
#[case("plain-flour", 125.0)]
#[case("bread-flour", 137.0)]
#[case("whole-wheat-flour", 120.0)]
#[case("dark-rye-flour", 128.0)]
#[case("sorghum-flour", 121.0)]
#[case("rice-flour", 158.0)]
#[case("potato-starch", 160.0)]
#[case("cocoa", 86.0)]
#[case("sugar", 200.0)]
#[case("brown-sugar", 220.0)]
#[case("icing-sugar", 120.0)]
#[case("honey", 339.0)]
#[case("molasses", 337.0)]
#[case("maple-syrup", 315.0)]
#[case("butter", 227.0)]
#[case("vegetable-oil", 218.0)]
#[case("milk", 244.0)]
#[case("buttermilk", 245.0)]
#[case("cream", 238.0)]
#[case("water", 237.0)]
#[case("coconut-milk", 226.0)]
#[case("coconut-fresh", 80.0)]
#[case("dry-milk", 124.0)]
#[case("raisins", 145.0)]
#[case("walnuts", 117.0)]
#[case("sesame-seeds", 144.0)]
#[case("sunflower-seeds", 140.0)]
#[case("rolled-oats", 81.0)]
fn cups(#[case] key: &str, #[case] tabled: f64) {
    assert!((grams(key, "cup") - tabled).abs() <= 1.0, "{key}: {}", grams(key, "cup"));
}

/// Level teaspoons; where the tables give a range, its ends.
#[rstest]
#[case("salt", 6.0, 6.0)]
#[case("flake-salt", 2.8, 4.8)]
#[case("sugar", 4.2, 4.2)]
#[case("active-dry-yeast", 3.0, 4.0)]
#[case("instant-yeast", 3.1, 3.1)]
#[case("baking-soda", 4.6, 4.6)]
#[case("cinnamon", 2.6, 2.6)]
#[case("nutmeg", 2.2, 2.2)]
#[case("caraway", 2.1, 2.1)]
fn teaspoons(#[case] key: &str, #[case] low: f64, #[case] high: f64) {
    assert!((low..=high).contains(&grams(key, "tsp")), "{key}: {}", grams(key, "tsp"));
}

#[rstest]
#[case("egg", "small", 38.0)]
#[case("egg", "medium", 44.0)]
#[case("egg", "large", 50.0)]
#[case("egg", "extra large", 56.0)]
#[case("egg-white", "large", 33.0)]
#[case("egg-yolk", "large", 17.0)]
#[case("instant-yeast", "packet", 7.0)]
#[case("active-dry-yeast", "packet", 7.0)]
#[case("fresh-yeast", "cube", 42.0)]
#[case("butter", "stick", 113.0)]
fn things_that_are_counted(#[case] key: &str, #[case] measure: &str, #[case] usual: f64) {
    assert_eq!(grams(key, measure), usual);
}

/// A packet of instant yeast is two and a quarter teaspoons; white and yolk make the egg; a stick
/// is half a cup, eight tablespoons.
#[test]
fn measures_agree_with_each_other() {
    assert!((2.25 * grams("instant-yeast", "tsp") - grams("instant-yeast", "packet")).abs() < 0.1);
    assert_eq!(grams("egg-white", "large") + grams("egg-yolk", "large"), grams("egg", "large"));
    assert!((2.0 * grams("butter", "stick") - grams("butter", "cup")).abs() <= 1.0);
    assert!((8.0 * grams("butter", "tbsp") - grams("butter", "stick")).abs() <= 1.0);
}

/// A volume of flour is less certain than one of a liquid: every spread is there and sensible.
#[test]
fn every_measure_carries_its_spread() {
    for entry in Catalogue::bundled().iter() {
        for m in &entry.measures {
            assert!(m.grams > 0.0 && (1.0..=40.0).contains(&m.spread), "{}: {m:?}", entry.name);
        }
    }
    let spread = |key: &str| {
        Catalogue::bundled().get(key).unwrap().measures.iter().find(|m| m.name == "cup").unwrap().spread
    };
    assert_eq!((spread("plain-flour"), spread("water")), (8.0, 3.0));
}

/// Fresh : active dry : instant = 1 : 0.4 : 0.33 (common practice, no source).
#[test]
fn yeast_in_three_forms() {
    let forms = YeastForms::of_instant(Grams(3.3));
    assert!((forms.fresh.0 - 10.0).abs() < 1e-9);
    assert!((forms.active_dry.0 - 4.0).abs() < 1e-9);
    let work = |key: &str| Catalogue::bundled().get(key).unwrap().instant_yeast();
    assert!((work("fresh-yeast") * forms.fresh.0 - 3.3).abs() < 1e-9);
    assert!((work("active-dry-yeast") * forms.active_dry.0 - 3.3).abs() < 1e-9);
}
