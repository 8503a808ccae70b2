//! Times one bake of 45 min, for `tests/scipy/time_bake.py`: microseconds a simulation, and the core
//! and loss it ends at. What a search takes goes to standard error.

use std::time::Instant;

use cerealis_core::oven::{
    BREAD, Bake, BakeInput, Body, BySizeInput, Loaf, Surroundings, bake, by_size, usual_sizes,
};

fn main() {
    let loaf = Loaf {
        body: Body::Sphere,
        radius: 0.07,
        water: 150.0,
        solids: 180.0,
        solids_heat: 1700.0,
        start: 25.0,
        material: BREAD,
        browning: 1.0,
    };
    let around = Surroundings::still(230.0);
    for cells in [16, 32, 64] {
        let runs = 50;
        let (start, mut end) = (Instant::now(), (0.0, 0.0));
        for _ in 0..runs {
            let mut bake = Bake::new(&loaf, &around, cells);
            bake.on_to(45.0);
            end = (bake.core(), bake.loss());
        }
        let micros = start.elapsed().as_secs_f64() * 1e6 / f64::from(runs);
        println!("{cells} {micros:.1} {:.4} {:.4}", end.0, end.1);
    }
    searches();
}

/// The search for temperature and minutes, and every size of a dough, on standard error.
fn searches() {
    for (what, vessel) in [("on a stone", "stone"), ("in a pot", "pot")] {
        let text = format!(
            r#"{{"piece": 900, "kind": "round", "style": "hearth", "proofed_volume": 2.2, "start": 24, "water": 46, "oven": {{"vessel": "{vessel}"}}}}"#
        );
        let input: BakeInput = serde_json::from_str(&text).expect("the input is written here");
        let start = Instant::now();
        for _ in 0..10 {
            let _ = bake(&input);
        }
        eprintln!("search, 900 g {what}: {:.1} ms", start.elapsed().as_secs_f64() * 100.0);
        let start = Instant::now();
        let _ = by_size(&BySizeInput { bake: input, sizes: usual_sizes() });
        eprintln!("nine sizes {what}: {:.1} ms", start.elapsed().as_secs_f64() * 1000.0);
    }
}
