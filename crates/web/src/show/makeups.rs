//! The further make-ups of a dough, a row each.

use cerealis_core::formula::{Formula, MakeUp};
use cerealis_core::stations::{MakeUpAnswer, Stations};
use cerealis_core::units::shown;

use crate::show::celsius;

/// The further make-ups: name, pieces, size, oven.
pub fn makeup_rows(f: &Formula, s: &Stations) -> Vec<[String; 4]> {
    let row = |(m, answer): (&MakeUp, &MakeUpAnswer)| {
        let z = &answer.shape.proofed;
        let bake = &answer.bake;
        [
            format!("{}, {}", m.shape.kind.name(), answer.oven.vessel.name().to_lowercase()),
            format!("{} × {} g", m.shape.pieces, shown::grams(m.each())),
            format!("{:.0} × {:.0} cm, {:.1} cm high", z.length, z.width, z.height),
            format!(
                "{} for {}{}",
                celsius(bake.dial),
                shown::time(bake.time),
                if answer.together { ", beside the others" } else { "" }
            ),
        ]
    };
    f.makeups.iter().zip(&s.makeups).map(row).collect()
}
