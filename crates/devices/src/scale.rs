//! A bench scale: slow to settle, a little noisy, drifting, and rounded to its step.

use serde::Deserialize;

use crate::protocol::{Act, Ask, Kind, Line, Quantity, VERSION};
use crate::{Device, normal};

/// The time constant with which it settles, s.
const SETTLES: f64 = 0.35;
/// Noise, as a standard deviation, g.
const NOISE: f64 = 0.25;
/// Drift, g a minute.
const DRIFT: f64 = 0.15;
/// For how long it has to show the same to call itself stable, s.
const STILL: f64 = 0.8;
/// How fast a hand pours, g a second.
const POURS: f64 = 250.0;
/// The most it bears, g.
const BEARS: f64 = 5000.0;

/// What is done at it, in order of time.
#[derive(Clone, Copy, Debug, PartialEq, Deserialize)]
pub struct ScaleStep {
    /// When, in seconds from the beginning.
    pub at: f64,
    /// What is put on it, g; taken off where it is negative.
    #[serde(default)]
    pub put: f64,
    /// Over how many seconds; at once when left out.
    #[serde(default)]
    pub over: f64,
    /// Whether its button for nought is pressed.
    #[serde(default)]
    pub tare: bool,
    /// For how many seconds it says nothing.
    #[serde(default)]
    pub silent: f64,
}

/// A bench scale.
pub struct Scale {
    steps: Vec<ScaleStep>,
    step: f64,
    dice: fastrand::Rng,
    clock: f64,
    settled: f64,
    nought: f64,
    drifted: f64,
    shown: f64,
    since: f64,
    tared: usize,
}

impl Scale {
    /// A scale that shows steps of so many grams, to which something is done; the same seed gives the same noise.
    pub fn new(step: f64, mut steps: Vec<ScaleStep>, seed: u64) -> Scale {
        steps.sort_by(|a, b| a.at.total_cmp(&b.at));
        Scale {
            steps,
            step: step.clamp(0.01, 10.0),
            dice: fastrand::Rng::with_seed(seed),
            clock: 0.0,
            settled: 0.0,
            nought: 0.0,
            drifted: 0.0,
            shown: 0.0,
            since: 0.0,
            tared: 0,
        }
    }

    /// What lies on it now, g.
    fn load(&self) -> f64 {
        let part = |s: &ScaleStep| match s.over > 0.0 {
            true => ((self.clock - s.at) / s.over).clamp(0.0, 1.0),
            false => f64::from(u8::from(self.clock >= s.at)),
        };
        self.steps.iter().map(|s| s.put * part(s)).sum()
    }
}

impl Device for Scale {
    fn greeting(&self) -> Line {
        Line::Greeting { version: VERSION, kind: Kind::Scale, name: "Bench scale, simulated".into() }
    }

    fn after(&mut self, seconds: f64) -> Option<Line> {
        self.clock += seconds;
        let load = self.load();
        self.settled += (load - self.settled) * (1.0 - (-seconds / SETTLES).exp());
        self.drifted += DRIFT * seconds / 60.0;
        let due = self.steps.iter().filter(|s| s.tare && s.at <= self.clock).count();
        if due > self.tared {
            self.tared = due;
            self.asked(Ask::Tare);
        }
        if self.steps.iter().any(|s| s.silent > 0.0 && (s.at..s.at + s.silent).contains(&self.clock)) {
            return None;
        }
        if self.settled > BEARS {
            return Some(Line::Trouble("more than it bears".into()));
        }
        let raw = self.settled + self.drifted - self.nought + NOISE * normal(&mut self.dice);
        let shown = (raw / self.step).round() * self.step;
        if (shown - self.shown).abs() > 1.5 * self.step {
            self.since = self.clock;
        }
        self.shown = shown;
        let stable = self.clock - self.since >= STILL;
        Some(Line::Shows { quantity: Quantity::Weight, value: shown, stable })
    }

    fn asked(&mut self, ask: Ask) -> Option<Line> {
        let now = ScaleStep { at: self.clock, put: 0.0, over: 0.0, tare: false, silent: 0.0 };
        match ask {
            Ask::Tare => {
                self.nought = self.settled + self.drifted;
                self.since = self.clock;
            }
            // As a hand pours: some hundred grams a second, and slower at the end.
            Ask::Act(Act::Put, grams) => {
                let over = (grams.abs() / POURS).clamp(0.2, 6.0);
                self.steps.push(ScaleStep { put: grams, over, ..now });
            }
            Ask::Act(Act::Silent, seconds) => self.steps.push(ScaleStep { silent: seconds, ..now }),
            Ask::Act(..) => return Some(Line::Trouble("a scale does not do that".into())),
        }
        Some(Line::Done)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use cerealis_core::bake::{WeighInput, WeighOutput, Weighed, weigh};
    use cerealis_core::formula::Formula;
    use cerealis_core::pantry::Catalogue;
    use cerealis_core::units::Grams;
    use cerealis_core::words::Style;
    use proptest::prelude::*;

    fn step(at: f64, put: f64, over: f64) -> ScaleStep {
        ScaleStep { at, put, over, tare: false, silent: 0.0 }
    }

    /// What it shows in so many seconds, ten times a second.
    fn trace(scale: &mut Scale, seconds: f64) -> Vec<(f64, f64, bool)> {
        (1..=(10.0 * seconds) as usize)
            .filter_map(|n| match scale.after(0.1)? {
                Line::Shows { value, stable, .. } => Some((n as f64 / 10.0, value, stable)),
                _ => None,
            })
            .collect()
    }

    #[test]
    fn it_settles_at_what_lies_on_it_and_is_tared() {
        let tare = ScaleStep { tare: true, ..step(12.0, 0.0, 0.0) };
        let mut scale = Scale::new(1.0, vec![step(1.0, 500.0, 4.0), tare], 7);
        let all = trace(&mut scale, 20.0);
        let at = |second: f64| all.iter().find(|(s, ..)| *s >= second).copied().unwrap();
        assert!(!at(3.0).2, "it moves while it is poured on");
        assert!((at(11.0).1 - 500.0).abs() <= 2.0 && at(11.0).2);
        assert!(at(19.0).1.abs() <= 2.0);
    }

    #[test]
    fn the_same_seed_gives_the_same_figures_and_too_much_is_said() {
        let run = |seed| trace(&mut Scale::new(1.0, vec![step(0.0, 300.0, 2.0)], seed), 5.0);
        assert_eq!(run(3), run(3));
        assert_ne!(run(3), run(4));
        let mut heavy = Scale::new(1.0, vec![step(0.0, 9000.0, 0.0)], 1);
        assert!((0..50).filter_map(|_| heavy.after(0.1)).any(|l| matches!(l, Line::Trouble(_))));
    }

    #[test]
    fn it_drops_out_when_it_is_told_to() {
        let silent = ScaleStep { silent: 2.0, ..step(1.0, 0.0, 0.0) };
        let mut scale = Scale::new(1.0, vec![silent], 1);
        let said: Vec<bool> = (0..40).map(|_| scale.after(0.1).is_some()).collect();
        assert!(said[5] && !said[15] && said[35]);
    }

    fn weighed(trace: &[(f64, f64, bool)]) -> WeighOutput {
        let formula = Formula::beginning("A dough", Style::Tin);
        let shown = trace.iter().map(|(s, g, _)| Weighed { second: *s, grams: Grams(*g) }).collect();
        weigh(&WeighInput::of(formula, 0, shown), Catalogue::bundled()).unwrap()
    }

    proptest! {
        #![proptest_config(ProptestConfig { cases: 40, ..ProptestConfig::default() })]

        /// The rule by which a figure is taken, on this scale: never while flour is poured that will be too much or too
        /// little, and within three seconds of when what is wanted lies on it.
        #[test]
        fn a_figure_is_taken_soon_after_it_is_right_and_never_before(seed: u64, over in 2.0..12.0f64, short in 30.0..200.0f64) {
            let wanted = Formula::beginning("A dough", Style::Tin).lines[0].grams.0;
            let right = trace(&mut Scale::new(1.0, vec![step(0.5, wanted, over)], seed), over + 4.0);
            prop_assert!(weighed(&right).take.is_some(), "{:?}", right.last());
            for end in (20..(10.0 * over) as usize).step_by(7) {
                let so_far = weighed(&right[..end]);
                prop_assert!(so_far.take.is_none(), "taken at {} s: {:?}", end as f64 / 10.0, so_far);
            }
            let little = trace(&mut Scale::new(1.0, vec![step(0.5, wanted - short, over)], seed), over + 6.0);
            prop_assert!(weighed(&little).take.is_none());
        }
    }
}
