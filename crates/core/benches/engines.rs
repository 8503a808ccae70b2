//! How long the engines take. Figures are in docs/numbers.md.

#![allow(missing_docs, reason = "criterion makes the functions")]

use std::hint::black_box;

use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::oven::{
    BREAD, Bake, BakeInput, Body, BySizeInput, Loaf, Surroundings, bake, by_size, usual_sizes,
};
use cerealis_core::pantry::Catalogue;
use cerealis_core::stations::read;
use criterion::{Criterion, criterion_group, criterion_main};

const FORMULAS: [(&str, &str); 3] = [
    ("tin loaf", include_str!("../../../data/demo/1-tin-loaf.toml")),
    ("sourdough in a pot", include_str!("../../../data/demo/3-seeded-sourdough.toml")),
    ("overnight no-knead", include_str!("../../../data/demo/6-overnight-no-knead.toml")),
];

fn rises(c: &mut Criterion) {
    use cerealis_core::rise::{RiseInput, rise};
    let day: RiseInput = serde_json::from_str(
        r#"{"dough": {"mass": 1670, "flour": 1000, "water": 65, "instant_yeast": 1, "salt": 2}, "start": 25,
            "bulk": {"places": [{"temperature": 25}], "target": 2}, "handling": "firm", "shaping": 20, "room": 21,
            "proof": {"places": [{"temperature": 21}], "target": 1.75}}"#,
    )
    .expect("the input is written here");
    c.bench_function("rise: tin loaf, bulk and proof with spread", |b| b.iter(|| rise(black_box(&day))));
    let mut long = day.clone();
    long.dough.instant_yeast.0 = 0.02;
    long.bulk.places[0].temperature.0 = 4.0;
    long.bulk.target = 3.0;
    c.bench_function("rise: three days in a fridge, with spread", |b| b.iter(|| rise(black_box(&long))));
}

fn asked(c: &mut Criterion) {
    use cerealis_core::rise::{ForecastInput, InverseInput, RiseInput, forecast_with, rise, rise_inverse};
    let plan = r#"{"dough": {"mass": 1000, "flour": 590, "water": 66, "instant_yeast": 0.1, "salt": 2}, "start": 24,
        "bulk": {"places": [{"temperature": 22, "stay": 120}, {"temperature": 5, "stay": 720}, {"temperature": 22}], "target": 2},
        "handling": "gentle", "shaping": 20, "room": 22, "proof": {"places": [{"temperature": 22}], "target": 1.5}}"#;
    let of = |hours: Option<f64>| {
        let mut day: RiseInput = serde_json::from_str(plan).expect("the input is written here");
        if let Some(hours) = hours {
            day.bulk.hours = Some(cerealis_core::units::Hours(hours));
            day.proof.target = 1.0;
        }
        day
    };
    for hours in [6.0, 12.0, 24.0, 48.0] {
        let day = of(Some(hours));
        c.bench_function(&format!("rise: {hours} h, three places, with spread"), |b| {
            b.iter(|| rise(black_box(&day)))
        });
    }
    for by in ["yeast", "place", "start", "fridge"] {
        let text = format!(r#"{{"rise": {plan}, "which": "bulk", "time": 1080, "by": "{by}"}}"#);
        let wish: InverseInput = serde_json::from_str(&text).expect("the input is written here");
        c.bench_function(&format!("rise asked: {by} for 18 h"), |b| {
            b.iter(|| rise_inverse(black_box(&wish)))
        });
    }
    let text = format!(
        r#"{{"rise": {plan}, "which": "bulk", "readings": [{{"which": "bulk", "at": 100, "volume": 1.1}}, {{"which": "bulk", "at": 600, "dough": 6}}]}}"#
    );
    let watched: ForecastInput = serde_json::from_str(&text).expect("the input is written here");
    c.bench_function("rise: corrected by two readings", |b| b.iter(|| forecast_with(black_box(&watched))));
}

fn bakes(c: &mut Criterion) {
    let loaf = Loaf {
        body: Body::Sphere,
        radius: 0.07,
        water: 160.0,
        solids: 190.0,
        solids_heat: 1700.0,
        start: 25.0,
        material: BREAD,
        browning: 1.0,
    };
    let around = Surroundings::still(230.0);
    for cells in [16, 32, 64] {
        c.bench_function(&format!("bake: one simulation of 45 min, {cells} shells"), |b| {
            b.iter(|| Bake::new(black_box(&loaf), &around, cells).until(45.0, |_| false));
        });
    }
    let pot: BakeInput = serde_json::from_str(
        r#"{"piece": 900, "kind": "round", "style": "hearth", "proofed_volume": 2.2, "start": 24, "water": 46,
            "oven": {"vessel": "pot"}}"#,
    )
    .expect("the input is written here");
    c.bench_function("bake: search with lid and spread, 900 g in a pot", |b| {
        b.iter(|| bake(black_box(&pot)))
    });
    let sizes = BySizeInput { bake: pot, sizes: usual_sizes() };
    c.bench_function("bake: nine sizes, in a pot", |b| b.iter(|| by_size(black_box(&sizes))));
}

fn rail(c: &mut Criterion) {
    let kitchen = Kitchen::default();
    let now = "2026-11-21T08:00:00Z".parse().expect("the time is written here");
    for (name, text) in FORMULAS {
        let formula: Formula = toml::from_str(text).expect("the demo's files are checked by a test");
        c.bench_function(&format!("rail: all six stations, {name}"), |b| {
            b.iter(|| read(black_box(&formula), &kitchen, Catalogue::bundled(), now));
        });
    }
}

fn pieces(c: &mut Criterion) {
    use cerealis_core::shape::{BraidInput, TrayInput, braid, tray};
    let buns: TrayInput = serde_json::from_str(
        r#"{"length": 40, "width": 32, "piece_length": 8, "piece_width": 8, "pieces": 40, "gap": 4}"#,
    )
    .expect("the input is written here");
    c.bench_function("shape: 40 buns on trays", |b| b.iter(|| tray(black_box(&buns))));
    let six: BraidInput = serde_json::from_str(r#"{"dough": 900, "strands": 6, "length": 32}"#)
        .expect("the input is written here");
    c.bench_function("shape: a plait of six", |b| b.iter(|| braid(black_box(&six))));
}

criterion_group!(engines, rises, asked, bakes, pieces, rail);
criterion_main!(engines);
