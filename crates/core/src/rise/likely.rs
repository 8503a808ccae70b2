//! One rise as it is likely to go: a single run, for what is asked of many rises at once and not told with its spread.

use super::course::{RiseInput, stands_until};
use super::inverse::Which;
use super::model::{HORIZON, Model, Run, State};
use super::places::Stretch;
use crate::fault::Faults;
use crate::units::Minutes;

/// How one of the rises is likely to go.
pub struct Likely<'a> {
    input: &'a RiseInput,
    which: Which,
    model: Model,
    begins: State,
    run: Run,
}

impl RiseInput {
    /// What is planned of one of the rises, to be changed.
    pub fn stretch_mut(&mut self, which: Which) -> &mut Stretch {
        match which {
            Which::Bulk => &mut self.bulk,
            Which::Second => &mut self.second,
            Which::Proof => &mut self.proof,
        }
    }

    /// One of the rises as it is likely to go: the same figures as those of [`super::rise`], without early and late ends.
    ///
    /// # Errors
    /// A figure outside its range, by its path.
    pub fn likely(&self, which: Which) -> Result<Likely<'_>, Faults> {
        self.check()?;
        let model = Model::new(&self.dough, self.kitchen);
        let begins = self.begins(&model, which);
        let run = self.run(&model, begins, self.stretch(which), which);
        Ok(Likely { input: self, which, model, begins, run })
    }

    /// The dough as one of its rises begins.
    pub(super) fn begins(&self, model: &Model, which: Which) -> State {
        let s = model.start(&self.dough, self.start.0);
        match which {
            Which::Bulk => s,
            Which::Second => self.begin_again(model, self.risen(model, s)),
            Which::Proof => self.shaped(model, self.risen_again(model, self.risen(model, s))),
        }
    }

    /// The state after the bulk rise.
    fn risen(&self, model: &Model, s: State) -> State {
        if self.bulk.rises() { self.run(model, s, &self.bulk, Which::Bulk).end } else { s }
    }

    fn run(&self, model: &Model, s: State, stretch: &Stretch, which: Which) -> Run {
        model.run(s, stretch, self.follows_air(which), HORIZON, |_, _| {})
    }

    /// The time constant with which a dough follows its place, h.
    pub(super) fn follows_air(&self, which: Which) -> f64 {
        let (whole, piece) = self.follows();
        match which {
            Which::Bulk => whole,
            Which::Second => self.second.follows(self.dough.mass.0 / 1000.0),
            Which::Proof => piece,
        }
    }
}

impl Likely<'_> {
    /// How long it takes.
    pub fn time(&self) -> Minutes {
        Minutes(60.0 * self.run.hours)
    }

    /// Whether its target is reached.
    pub fn reached(&self) -> bool {
        self.run.reached
    }

    /// Times its start that it stands at in the end.
    pub fn grown(&self) -> f64 {
        self.model.volume(&self.run.end) / self.model.volume(&self.begins)
    }

    /// How long it may stand in all before its surface falls; `None` where that is not within three days.
    pub fn stands_until(&self) -> Option<Minutes> {
        let stretch = self.input.stretch(self.which);
        stands_until(&self.model, self.begins, stretch, self.input.follows_air(self.which), self.run.most)
    }

    /// How long the rise after it takes; `None` where it is the last.
    pub fn next(&self) -> Option<Minutes> {
        let (input, model) = (self.input, &self.model);
        let (next, begins) = match self.which {
            Which::Bulk if input.second.rises() => (Which::Second, input.begin_again(model, self.run.end)),
            Which::Bulk | Which::Second if input.proof.rises() => {
                (Which::Proof, input.shaped(model, self.run.end))
            }
            _ => return None,
        };
        Some(Minutes(60.0 * input.run(model, begins, input.stretch(next), next).hours))
    }
}

#[cfg(test)]
mod tests {
    use crate::formula::Formula;
    use crate::kitchen::Kitchen;
    use crate::pantry::Catalogue;
    use crate::rise::{Which, rise};
    use crate::stations::read;
    use crate::units::Minutes;
    use crate::words::Style;
    use proptest::prelude::*;
    use proptest::sample::select;

    proptest! {
        #![proptest_config(ProptestConfig { cases: 48, ..ProptestConfig::default() })]

        /// The single run is that of the forecast, whatever the dough, its start and its place.
        #[test]
        fn it_is_the_forecast_s_likely_run(
            style in select(&Style::ALL[..]),
            start in 16.0..32.0f64,
            place in 4.0..32.0f64,
        ) {
            let formula = Formula::beginning("A dough", style);
            let now = "2026-11-27T08:00:00Z".parse().unwrap();
            let read = read(&formula, &Kitchen::default(), Catalogue::bundled(), now).unwrap();
            let mut input = read.rise_input;
            input.start.0 = start;
            input.bulk.places.iter_mut().for_each(|p| p.temperature.0 = place);
            let all = rise(&input).unwrap();
            let (bulk, second, proof) = (&all.bulk, &all.second, &all.proof);
            let next = [second.as_ref().or(proof.as_ref()), proof.as_ref(), None];
            for ((which, forecast), next) in Which::ALL.into_iter().zip([bulk, second, proof]).zip(next) {
                let Some(forecast) = forecast else { continue };
                let likely = input.likely(which).unwrap();
                let near = |a: Minutes, b: Minutes| (a.0 - b.0).abs() < 1e-6;
                prop_assert!(near(likely.time(), forecast.time), "{which:?}");
                prop_assert_eq!(likely.reached(), forecast.reached);
                prop_assert!((likely.grown() - forecast.grown).abs() < 1e-9);
                prop_assert_eq!(likely.stands_until(), forecast.stands_until);
                match (likely.next(), next) {
                    (Some(a), Some(b)) => prop_assert!(near(a, b.time), "{which:?}"),
                    (a, b) => prop_assert!(a.is_none() && b.is_none(), "{which:?}"),
                }
            }
        }
    }
}
