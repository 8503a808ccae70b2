//! Times 24 h of rise with its spread, for `tests/scipy/time_rise.py`: microseconds a forecast, and
//! the volume it ends at.

use std::time::Instant;

use cerealis_core::rise::{RiseInput, rise};

fn main() {
    let input: RiseInput = serde_json::from_str(
        r#"{"dough": {"mass": 1000, "flour": 598.8023952095808, "water": 65, "instant_yeast": 0.02, "salt": 2},
            "start": 25, "bulk": {"places": [{"temperature": 21}], "target": 3, "hours": 24}, "handling": "gentle",
            "shaping": 0, "room": 21, "proof": {"places": [{"temperature": 21}], "target": 1}}"#,
    )
    .expect("the input is written here");
    let runs = 300;
    let (start, mut volume) = (Instant::now(), 0.0);
    for _ in 0..runs {
        volume = rise(&input).ok().and_then(|r| r.bulk).map_or(0.0, |b| b.grown);
    }
    println!("{:.1} {volume:.6}", start.elapsed().as_secs_f64() * 1e6 / f64::from(runs));
}
