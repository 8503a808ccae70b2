//! How long an event of a bake takes until it is on the disk: the median and the twentieth of five hundred, to a bake that has
//! as many, in a new file beside this program's data.
//!
//! `cargo run --release -p cerealis-store --example append`

use std::time::Instant;

use cerealis_core::bake::{Event, EventKey, Start, What};
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::Catalogue;
use cerealis_core::stations::read;
use cerealis_core::words::Style;
use cerealis_store::Store;

fn main() {
    let folder = std::env::current_dir().expect("a folder").join("target/append");
    let _ = std::fs::remove_dir_all(&folder);
    std::fs::create_dir_all(&folder).expect("a folder of its own");
    let store = Store::open(&folder.join("kitchen.sqlite")).expect("a new file");
    let formula = Formula::beginning("A loaf", Style::Tin);
    let now = store.clock.now();
    let stations = read(&formula, &Kitchen::default(), Catalogue::bundled(), now).expect("it reads");
    let id = store.begin_bake(None, &Start::of(&formula, &stations, now), &[]).expect("it begins");
    let mut took: Vec<f64> = (0..500)
        .map(|n| {
            let what = What::Noted { text: "sticky".into() };
            let event = Event { key: EventKey(format!("event-{n}")), at: now, device: "Phone".into(), what };
            let began = Instant::now();
            store.add_events(id, &[event]).expect("it is kept");
            1e3 * began.elapsed().as_secs_f64()
        })
        .collect();
    took.sort_by(f64::total_cmp);
    println!(
        "an event, with the disk's sync: median {:.2} ms, one in twenty over {:.2} ms",
        took[250], took[475]
    );
}
