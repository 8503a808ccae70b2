//! Times one bake of 45 min, for `tests/scipy/time_bake.py`: microseconds a simulation, and the core
//! and loss it ends at.

use std::time::Instant;

use cerealis_core::oven::{BREAD, Bake, Body, Loaf, Surroundings};

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
}
