//! What readings at a running rise tell: the forecast by Bayes' rule.
//!
//! Before any reading a kitchen is the model's, give or take a log-normal fifth. Each reading makes
//! some kitchens likelier than others; the forecast is that of the mean kitchen then.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::course::{Course, Forecast, Moment, RiseInput, forecast, moment, to_the_top};
use super::inverse::Which;
use super::model::{HORIZON, Model, State};
use super::places::{Place, Stretch};
use crate::choice::choice;
use crate::fault::{Check, Fault, Faults};
use crate::units::{Celsius, Hours, Minutes};

choice! {
    /// How a poke with a floured finger comes back.
    Poke {
        /// It springs back at once.
        Springs = "springs", "Springs back at once";
        /// It comes back slowly and leaves a dent.
        Slowly = "slowly", "Comes back slowly, leaves a dent";
        /// It stays.
        Stays = "stays", "Stays";
    }
}

/// A reading at a running rise; at least one of its figures is given.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Reading {
    /// The rise it belongs to.
    pub which: Which,
    /// Minutes since that rise began.
    pub at: Minutes,
    /// Times the volume that this rise began with, 0.8 to 6: height against height in a
    /// straight-sided tub.
    #[serde(default)]
    pub volume: Option<f64>,
    /// Dough temperature, 0 to 60 °C.
    #[serde(default)]
    pub dough: Option<Celsius>,
    /// Temperature of the place, 0 to 60 °C.
    #[serde(default)]
    pub place: Option<Celsius>,
    /// How a poke comes back.
    #[serde(default)]
    pub poke: Option<Poke>,
}

/// A running rise and its readings.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ForecastInput {
    /// Everything as it was planned.
    pub rise: RiseInput,
    /// The rise that runs now.
    pub which: Which,
    /// How long the bulk rise really took, once it is over.
    #[serde(default)]
    pub bulk_took: Option<Minutes>,
    /// How long the second rise really took, once it is over.
    #[serde(default)]
    pub second_took: Option<Minutes>,
    /// All readings, at most 60.
    #[serde(default)]
    pub readings: Vec<Reading>,
}

/// A reading that is hard to believe.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Question {
    /// Its place among the readings.
    pub reading: usize,
    /// What is odd about it.
    pub text: String,
}

/// A forecast that readings have corrected.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct ForecastOutput {
    /// As it was forecast before any reading.
    pub before: Forecast,
    /// As it is forecast now.
    pub after: Forecast,
    /// This kitchen against the model, by these readings.
    pub kitchen: f64,
    /// What is left of the spread, as the standard deviation of the factor's logarithm.
    pub spread: f64,
    /// Readings that are hard to believe.
    pub questions: Vec<Question>,
}

/// How well a height is read off a tub, as a share of the volume (common practice, no source).
const VOLUME_READ: f64 = 0.04;
/// How far a poke is apart from the share of the rise that it stands for.
const POKE_READ: f64 = 0.12;
/// A poke springs back under this share of the rise to the target, and stays over the other
/// (common practice, no source).
const POKE_AT: (f64, f64) = (0.7, 1.1);
/// Kitchens that are weighed, over this many standard deviations either way.
const NODES: usize = 33;
const WIDTH: f64 = 3.5;
/// A reading further than this from every likely kitchen is asked about, in its own deviations.
const ODD: f64 = 3.0;

impl ForecastInput {
    fn check(&self) -> Result<(), Faults> {
        self.rise.check().map_err(|Faults(faults)| {
            let under = |f: Fault| Fault { path: format!("rise.{}", f.path), ..f };
            Faults(faults.into_iter().map(under).collect())
        })?;
        let mut c = Check::new();
        c.range("readings", "The number of readings", self.readings.len() as f64, 0.0, 60.0, "");
        for (path, took) in [("bulk_took", self.bulk_took), ("second_took", self.second_took)] {
            if let Some(took) = took {
                c.range(path, "A rise that is over", took.0, 0.0, 60.0 * HORIZON, "min");
            }
        }
        for (i, r) in self.readings.iter().enumerate() {
            let at = |field: &str| format!("readings.{i}.{field}");
            c.range(&at("at"), "A reading", r.at.0, 0.0, 60.0 * HORIZON, "min");
            if let Some(v) = r.volume {
                c.range(&at("volume"), "A dough's volume", v, 0.8, 6.0, "times");
            }
            if let Some(t) = r.dough {
                c.range(&at("dough"), "A dough's temperature", t.0, 0.0, 60.0, "°C");
            }
            if let Some(t) = r.place {
                c.range(&at("place"), "A place's temperature", t.0, 0.0, 60.0, "°C");
            }
            if r.volume.is_none() && r.dough.is_none() && r.place.is_none() && r.poke.is_none() {
                c.note(Fault::new("missing", at("volume"), "Give at least one figure of the reading."));
            }
        }
        c.done(())
    }

    fn of(&self, which: Which) -> impl Iterator<Item = &Reading> {
        self.readings.iter().filter(move |r| r.which == which)
    }

    /// The stretch with the temperatures of its place as they were read.
    fn measured(&self, which: Which) -> Stretch {
        let mut stretch = self.rise.stretch(which).clone();
        let mut read: Vec<(f64, Celsius)> = self.of(which).filter_map(|r| Some((r.at.0, r.place?))).collect();
        read.sort_by(|a, b| a.0.total_cmp(&b.0));
        for (at, t) in read {
            stretch.places = from_then_on(&stretch.places, at, t);
        }
        stretch
    }

    /// Runs one rise in a kitchen; what it shows at each reading goes to `seen`.
    fn run(
        &self,
        which: Which,
        model: &Model,
        s: State,
        stretch: &Stretch,
        mut seen: impl FnMut(usize, Seen),
    ) -> Course {
        let tau = self.rise.follows_air(which);
        let mut due: Vec<(usize, &Reading)> =
            self.readings.iter().enumerate().filter(|(_, r)| r.which == which).collect();
        due.sort_by(|a, b| b.1.at.0.total_cmp(&a.1.at.0));
        let start = model.volume(&s);
        let mut moments: Vec<Moment> = Vec::new();
        let run = model.run(s, stretch, tau, HORIZON, |s, hours| {
            while due.last().is_some_and(|(_, r)| r.at.0 <= 60.0 * hours + 1e-6) {
                if let Some((n, r)) = due.pop() {
                    seen(
                        n,
                        Seen { volume: model.volume(s) / start, temperature: s.t, target: stretch.target },
                    );
                    if let Some(t) = r.dough {
                        s.t = t.0;
                    }
                }
            }
            moments.push(moment(s, model.volume(s), hours));
        });
        // Readings after it was ready see it as it stood then.
        let end =
            Seen { volume: model.volume(&run.end) / start, temperature: run.end.t, target: stretch.target };
        for (n, _) in due {
            seen(n, end);
        }
        Course { start, end: model.volume(&run.end), run, moments }
    }

    /// All rises in a kitchen of this factor, up to the one that runs: its course, and how likely the
    /// readings are there.
    fn weigh(&self, kitchen: f64, stretches: &Stretches) -> (Course, f64) {
        let mut weight = 0.0;
        let mut count = |n: usize, seen: Seen| weight += seen.likelihood(&self.readings[n]);
        let course = self.run_all(kitchen, stretches, &mut count);
        (course, weight)
    }

    /// Runs the rises one after the other, up to the one that runs now; gives its course.
    fn run_all(&self, kitchen: f64, stretches: &Stretches, mut seen: impl FnMut(usize, Seen)) -> Course {
        let model = Model::new(&self.rise.dough, kitchen);
        let mut s = model.start(&self.rise.dough, self.rise.start.0);
        let [bulk, second, proof] = stretches;
        if self.which == Which::Bulk {
            return self.run(Which::Bulk, &model, s, bulk, seen);
        }
        if bulk.rises() || self.bulk_took.is_some() {
            s = self.run(Which::Bulk, &model, s, bulk, &mut seen).run.end;
        }
        if second.rises() {
            let again = self.run(Which::Second, &model, self.rise.begin_again(&model, s), second, &mut seen);
            if self.which == Which::Second {
                return again;
            }
            s = again.run.end;
        }
        self.run(Which::Proof, &model, self.rise.shaped(&model, s), proof, seen)
    }
}

/// Bulk rise, second rise and final proof.
type Stretches = [Stretch; 3];

/// What a reading should have shown.
#[derive(Clone, Copy)]
struct Seen {
    volume: f64,
    temperature: f64,
    target: f64,
}

impl Seen {
    /// Logarithm of how likely the reading is here. Far readings weigh less than their distance
    /// says: a slip of the eye must not carry the forecast away.
    fn likelihood(&self, r: &Reading) -> f64 {
        let mut log = 0.0;
        if let Some(v) = r.volume {
            let z = (v - self.volume) / (VOLUME_READ * self.volume);
            log -= 2.5 * (1.0 + z * z / 4.0).ln();
        }
        if let Some(p) = self.poke_likelihood(r) {
            log += p.ln();
        }
        log
    }

    /// How likely the poke is here; one in fifty is taken for a slip of the finger.
    fn poke_likelihood(&self, r: &Reading) -> Option<f64> {
        let poke = r.poke.filter(|_| self.target > 1.0)?;
        let share = (self.volume - 1.0) / (self.target - 1.0);
        let over = |at: f64| 1.0 / (1.0 + (-(share - at) / (0.55 * POKE_READ)).exp());
        let p = match poke {
            Poke::Springs => 1.0 - over(POKE_AT.0),
            Poke::Slowly => over(POKE_AT.0) * (1.0 - over(POKE_AT.1)),
            Poke::Stays => over(POKE_AT.1),
        };
        Some(0.02 + 0.96 * p)
    }
}

/// Places as they were planned, but of this temperature from `at` minutes on to the end of the
/// stay that it was read in.
fn from_then_on(places: &[Place], at: f64, t: Celsius) -> Vec<Place> {
    let mut out = Vec::new();
    let mut begin = 0.0;
    for p in places {
        let end = p.stay.map_or(f64::INFINITY, |s| begin + s.0);
        if at >= begin && at < end {
            if at > begin {
                out.push(Place { stay: Some(Minutes(at - begin)), ..*p });
            }
            let stay = p.stay.map(|_| Minutes(end - at));
            out.push(Place { stay, ..Place::steady(t) });
        } else {
            out.push(*p);
        }
        begin = end;
    }
    out
}

/// Corrects the forecast of a running rise by its readings.
///
/// # Errors
/// A figure outside its range, by its path; a rise that is not there, at `which`.
pub fn forecast_with(input: &ForecastInput) -> Result<ForecastOutput, Faults> {
    input.check()?;
    let mut stretches = Which::ALL.map(|which| input.measured(which));
    if !input.rise.stretch(input.which).rises() {
        return Err(Fault::new("impossible", "which", "This rise is not planned.").into());
    }
    if let Some(took) = input.bulk_took.filter(|_| input.which != Which::Bulk) {
        stretches[0].hours = Some(Hours(took.0 / 60.0));
    }
    if let Some(took) = input.second_took.filter(|_| input.which == Which::Proof) {
        stretches[1].hours = Some(Hours(took.0 / 60.0));
    }
    let (mid, spread) = (input.rise.kitchen, input.rise.spread);
    let bare = ForecastInput { readings: Vec::new(), ..input.clone() };
    let planned = Which::ALL.map(|which| input.rise.stretch(which).clone());
    let at = |who: &ForecastInput, stretches: &Stretches, mid: f64, spread: f64| {
        let course = |k: f64| who.weigh(mid * (k * spread).exp(), stretches).0;
        let likely = course(0.0);
        let mut highest = stretches.clone();
        let watched = &mut highest[input.which as usize];
        *watched = to_the_top(watched, likely.run.most);
        let falls = who.run_all(mid, &highest, |_, _| {}).run.reached_at();
        forecast(&likely, &course(1.0), &course(-1.0), falls)
    };
    let before = at(&bare, &planned, mid, spread);
    let (mean, left) = if input.readings.is_empty() || spread == 0.0 {
        (0.0, spread)
    } else {
        let node = |i: usize| WIDTH * spread * (2.0 * i as f64 / (NODES - 1) as f64 - 1.0);
        let logs: Vec<f64> = (0..NODES)
            .map(|i| {
                let z = node(i) / spread;
                input.weigh(mid * node(i).exp(), &stretches).1 - 0.5 * z * z
            })
            .collect();
        let top = logs.iter().copied().fold(f64::NEG_INFINITY, f64::max);
        let weights: Vec<f64> = logs.iter().map(|l| (l - top).exp()).collect();
        let sum: f64 = weights.iter().sum();
        let mean = weights.iter().enumerate().map(|(i, w)| w * node(i)).sum::<f64>() / sum;
        let var = weights.iter().enumerate().map(|(i, w)| w * (node(i) - mean).powi(2)).sum::<f64>() / sum;
        (mean, var.sqrt().min(spread))
    };
    let kitchen = mid * mean.exp();
    let after = at(input, &stretches, kitchen, left);
    Ok(ForecastOutput { questions: questions(input, &stretches), before, after, kitchen, spread: left })
}

/// Readings that no likely kitchen explains, and those that contradict each other.
fn questions(input: &ForecastInput, stretches: &Stretches) -> Vec<Question> {
    let mut seen: Vec<Vec<Seen>> = vec![Vec::new(); input.readings.len()];
    for k in [-2.0, -1.0, 0.0, 1.0, 2.0] {
        let kitchen = input.rise.kitchen * (k * input.rise.spread).exp();
        input.run_all(kitchen, stretches, |n, x| seen[n].push(x));
    }
    let mut all = Vec::new();
    for (n, r) in input.readings.iter().enumerate() {
        let (low, high) = (
            seen[n].iter().map(|s| s.volume).fold(f64::INFINITY, f64::min),
            seen[n].iter().map(|s| s.volume).fold(0.0, f64::max),
        );
        let far = ODD * VOLUME_READ;
        if let Some(v) = r.volume.filter(|v| *v < low * (1.0 - far) || *v > high * (1.0 + far)) {
            let text = format!(
                "{v:.2} times is far from the {low:.1} to {high:.1} that were likely then. Is it the right mark, and the right dough?"
            );
            all.push(Question { reading: n, text });
        }
        let earlier = |o: &&Reading| o.which == r.which && o.at < r.at;
        let before = input.readings.iter().filter(earlier).filter_map(|o| o.volume).fold(0.0, f64::max);
        if let Some(v) = r.volume.filter(|v| *v < before * (1.0 - 2.0 * VOLUME_READ)) {
            let text = format!(
                "It was {before:.2} times before and is {v:.2} now. Has it been folded, or has it fallen?"
            );
            all.push(Question { reading: n, text });
        }
        let poke = seen[n].iter().filter_map(|s| s.poke_likelihood(r)).fold(0.0, f64::max);
        if r.poke.is_some() && poke > 0.0 && poke < 0.1 {
            let text = "No likely kitchen is that far then. Poke again in another place.".to_owned();
            all.push(Question { reading: n, text });
        }
        let expected = seen[n].get(2).map(|s| s.temperature);
        if let (Some(t), Some(e)) = (r.dough, expected)
            && (t.0 - e).abs() > 5.0
        {
            let text = format!(
                "{:.0} °C is far from the {e:.0} °C that were likely. Was it the middle of the dough?",
                t.0
            );
            all.push(Question { reading: n, text });
        }
    }
    all
}
