//! The rise asked the other way round: what makes it take just so long.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::course::RiseInput;
use super::model::{HORIZON, Model};
use super::places::{Place, Stretch};
use crate::choice::choice;
use crate::fault::{Check, Fault, Faults};
use crate::units::{Celsius, Minutes, Percent};

choice! {
    /// One of the rises.
    Which {
        /// The bulk rise.
        Bulk = "bulk", "Bulk rise";
        /// A second bulk rise, after the dough was knocked down or folded.
        Second = "second", "Second rise";
        /// The final proof.
        Proof = "proof", "Final proof";
    }
}

choice! {
    /// What is free to be changed.
    Lever {
        /// Baker's yeast, as instant yeast, per cent of flour.
        Yeast = "yeast", "Yeast";
        /// Flour fermented by the culture, per cent of flour.
        Culture = "culture", "Culture";
        /// The temperature of all places of this rise, moved together, °C of the last.
        Place = "place", "Place";
        /// The temperature of the dough after mixing, °C.
        Start = "start", "Dough temperature";
        /// Hours in the fridge before its place.
        Fridge = "fridge", "Time in the fridge";
    }
}

impl Lever {
    /// The range in which an answer is looked for, in the lever's own unit: yeast and culture %,
    /// place and dough °C, fridge h.
    pub fn range(self, input: &RiseInput) -> (f64, f64) {
        let by_culture = input.dough.instant_yeast.0 == 0.0;
        match self {
            Lever::Yeast => (0.005, 4.0),
            Lever::Culture => (0.5, 60.0),
            // Past its optimum a warmer place would be slower again.
            Lever::Place | Lever::Start if by_culture => (3.0, 27.0),
            Lever::Place | Lever::Start => (3.0, 36.0),
            Lever::Fridge => (0.0, 60.0),
        }
    }

    /// Whether more of it makes the rise longer.
    fn lengthens(self) -> bool {
        self == Lever::Fridge
    }
}

/// A wish for a rise that takes just so long.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct InverseInput {
    /// Everything as it is planned.
    pub rise: RiseInput,
    /// Which of the rises is meant.
    pub which: Which,
    /// How long it should take to its target, 10 min to 72 h.
    pub time: Minutes,
    /// What is free.
    pub by: Lever,
    /// The fridge, 0 to 12 °C.
    #[serde(default = "fridge")]
    pub fridge: Celsius,
}

fn fridge() -> Celsius {
    Celsius(4.0)
}

/// The answer to a wish.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct InverseOutput {
    /// Whether there is an answer within the lever's range.
    pub found: bool,
    /// The answer, or what comes nearest: yeast and culture %, place and dough °C, fridge h.
    pub value: f64,
    /// How long the rise takes with it.
    pub time: Minutes,
}

/// How finely an answer is looked for: a share of itself for amounts, of the range for the others.
const NEAR: f64 = 2e-5;

/// Finds what makes a rise take just so long.
///
/// # Errors
/// A figure outside its range, by its path; a rise without a target, at `which`.
pub fn rise_inverse(input: &InverseInput) -> Result<InverseOutput, Faults> {
    input.rise.check()?;
    let mut c = Check::new();
    c.range("time", "The wished time", input.time.0, 10.0, 60.0 * HORIZON, "min");
    c.range("fridge", "The fridge", input.fridge.0, 0.0, 12.0, "°C");
    c.done(())?;
    let stretch = input.rise.stretch(input.which);
    if stretch.target <= 1.0 {
        return Err(Fault::new("impossible", "which", "This rise has no target to wait for.").into());
    }
    let (low, high) = input.by.range(&input.rise);
    let wanted = input.time.0 / 60.0;
    let hours = |value: f64, limit: f64| input.with(value).hours_of(input.which, limit);
    // Whether the rise takes longer than wished; it need not be run further than that.
    let too_long = |value: f64| hours(value, 1.05 * wanted + 0.1) > wanted;
    let answer = |found, value: f64| {
        let time = Minutes(60.0 * hours(value, HORIZON));
        InverseOutput { found: found && (time.0 - input.time.0).abs() < 1.0, value, time }
    };
    let more_is_longer = input.by.lengthens();
    if too_long(low) == more_is_longer {
        return Ok(answer(true, low).nearest(wanted));
    }
    if too_long(high) != more_is_longer {
        return Ok(answer(true, high).nearest(wanted));
    }
    let in_proportion = matches!(input.by, Lever::Yeast | Lever::Culture);
    // Amounts are halved in proportion, temperatures and hours in steps.
    let between = |a: f64, b: f64| if in_proportion { (a * b).sqrt() } else { 0.5 * (a + b) };
    let (mut a, mut b) = (low, high);
    while if in_proportion { b > a * (1.0 + NEAR) } else { b - a > NEAR * high } {
        let mid = between(a, b);
        if too_long(mid) == more_is_longer { b = mid } else { a = mid }
    }
    Ok(answer(true, between(a, b)))
}

impl InverseOutput {
    /// The end of a range is an answer only when it meets the wish.
    fn nearest(self, wanted: f64) -> Self {
        InverseOutput { found: (self.time.0 - 60.0 * wanted).abs() < 1.0, ..self }
    }
}

impl InverseInput {
    /// The plan with the lever at a value.
    pub fn with(&self, value: f64) -> RiseInput {
        let mut rise = self.rise.clone();
        let stretch = rise.stretch_mut(self.which);
        stretch.hours = None;
        match self.by {
            Lever::Yeast => rise.dough.instant_yeast = Percent(value),
            Lever::Culture => rise.dough.culture = Percent(value),
            Lever::Start => rise.start = Celsius(value),
            Lever::Place => {
                let moved = value - stretch.places.last().map_or(value, |p| p.temperature.0);
                let warmer = |t: Celsius| Celsius((t.0 + moved).clamp(0.0, 60.0));
                stretch.places.iter_mut().for_each(|p| p.temperature = warmer(p.temperature));
            }
            Lever::Fridge => {
                let stay = Some(Minutes(60.0 * value));
                stretch.places.insert(0, Place { stay, ..Place::steady(self.fridge) });
            }
        }
        rise
    }
}

impl RiseInput {
    /// What is planned of one of the rises.
    pub fn stretch(&self, which: Which) -> &Stretch {
        match which {
            Which::Bulk => &self.bulk,
            Which::Second => &self.second,
            Which::Proof => &self.proof,
        }
    }

    /// Hours that one of the rises takes, looked at for `limit` hours.
    pub(super) fn hours_of(&self, which: Which, limit: f64) -> f64 {
        let model = Model::new(&self.dough, self.kitchen);
        let begins = self.begins(&model, which);
        model.run(begins, self.stretch(which), self.follows_air(which), limit, |_, _| {}).hours
    }
}
