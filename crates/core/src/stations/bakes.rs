//! Bakes that were worked out: ways to make one dough differ in how it rises, and hardly in how it bakes.

use std::sync::{Arc, Mutex, OnceLock, PoisonError};

use crate::fault::Faults;
use crate::oven::{BakeInput, BakeOutput, bake};
use crate::units::{Celsius, Grams};

/// The most bakes that are remembered.
const KNOWN_MAX: usize = 256;

type Found = Arc<OnceLock<Result<BakeOutput, Faults>>>;

/// What was asked of the oven for doughs that are planned, and what it answered.
#[derive(Debug, Default)]
pub struct KnownBakes(Mutex<Vec<(BakeInput, Found)>>);

impl KnownBakes {
    /// A bake by what is near enough to it: that of the same figures always, whatever was asked before.
    ///
    /// # Errors
    /// Those of [`bake`].
    pub fn bake(&self, input: &BakeInput) -> Result<BakeOutput, Faults> {
        let near = near(input);
        let found = {
            let mut known = self.0.lock().unwrap_or_else(PoisonError::into_inner);
            let there = known.iter().find(|(asked, _)| *asked == near).map(|(_, found)| found.clone());
            there.unwrap_or_else(|| {
                if known.len() >= KNOWN_MAX {
                    known.remove(0);
                }
                let found = Found::default();
                known.push((near.clone(), found.clone()));
                found
            })
        };
        found.get_or_init(|| bake(&near)).clone()
    }
}

/// The nearest of some figures each of which makes under a third of a minute in half an hour: a degree of the dough, a
/// twentieth of its volume, a hundredth of its mass, half a per cent of its water.
fn near(input: &BakeInput) -> BakeInput {
    let to = |x: f64, step: f64| (x / step).round() * step;
    let mass = |g: Grams| Grams(to(g.0.max(1.0).ln(), 0.01).exp());
    BakeInput {
        piece: mass(input.piece),
        load: input.load.map(mass),
        proofed_volume: to(input.proofed_volume, 0.05),
        start: Celsius(input.start.0.round()),
        water: to(input.water, 0.5),
        solids_heat: to(input.solids_heat, 0.02),
        ..input.clone()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formula::Formula;
    use crate::kitchen::Kitchen;
    use crate::pantry::Catalogue;
    use crate::stations::read;
    use crate::words::Style;
    use proptest::prelude::*;
    use proptest::sample::select;

    proptest! {
        #![proptest_config(ProptestConfig { cases: 24, ..ProptestConfig::default() })]

        /// What is planned with is what the oven says of the dough itself, to a minute or three in a hundred, and
        /// within a mark of its dial.
        #[test]
        fn what_is_near_bakes_alike(
            style in select(&Style::ALL[..]),
            start in 4.0..32.0f64,
            volume in 1.3..3.2f64,
            piece in 0.7..1.5f64,
        ) {
            let formula = Formula::beginning("A dough", style);
            let now = "2026-11-27T08:00:00Z".parse().unwrap();
            let read = read(&formula, &Kitchen::default(), Catalogue::bundled(), now).unwrap();
            let mut input = read.bake_input;
            input.start = Celsius(start);
            input.proofed_volume = volume;
            input.piece = input.piece * piece;
            let known = KnownBakes::default();
            let (near, itself) = (known.bake(&input).unwrap(), bake(&input).unwrap());
            if near.dial == itself.dial {
                let apart = (near.time.0 - itself.time.0).abs();
                prop_assert!(apart < 0.03 * itself.time.0 + 0.5, "{style:?}: {:?} for {:?}", near.time, itself.time);
            }
            prop_assert!((near.dial.0 - itself.dial.0).abs() <= 5.01);
            prop_assert_eq!(known.bake(&input).unwrap(), near, "the same again");
        }
    }
}
