//! Bulk rise, handling and final proof as one run through time.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::dough::Dough;
use super::inverse::Which;
use super::model::{HORIZON, Model, Run, STEP, State};
use super::places::{Stretch, time_constant};
use super::rates::{KITCHEN_SPREAD, SOURNESS_STEP};
use crate::fault::{Check, Faults};
use crate::units::{Celsius, Grams, Minutes};
use crate::words::{Handling, Stands};

/// What a bulk rise and a final proof depend on.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct RiseInput {
    /// The dough.
    pub dough: Dough,
    /// Its temperature after mixing, 0 to 60 °C.
    pub start: Celsius,
    /// The bulk rise.
    pub bulk: Stretch,
    /// How it is handled between the bulk rise and a second one.
    #[serde(default = "knocked_down")]
    pub between: Handling,
    /// A second bulk rise; none when left out.
    #[serde(default)]
    pub second: Stretch,
    /// How it is handled when divided and shaped.
    pub handling: Handling,
    /// Minutes from the end of the bulk rise to the last piece shaped.
    pub shaping: Minutes,
    /// Temperature of the room in which it is shaped.
    pub room: Celsius,
    /// Mass of one piece; the whole dough when left out.
    #[serde(default)]
    pub piece: Option<Grams>,
    /// The final proof.
    pub proof: Stretch,
    /// This kitchen against the model: 1 as the model says, 1.2 a fifth faster. 0.2 to 5.
    #[serde(default = "one")]
    pub kitchen: f64,
    /// How far the kitchen is known, as the standard deviation of the factor's logarithm, 0 to 1.
    #[serde(default = "unknown_kitchen")]
    pub spread: f64,
}

fn one() -> f64 {
    1.0
}
fn knocked_down() -> Handling {
    Handling::Firm
}
fn unknown_kitchen() -> f64 {
    KITCHEN_SPREAD
}

/// A moment of the rise.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Moment {
    /// Minutes since this stretch began.
    pub minutes: f64,
    /// Volume against the dough without gas.
    pub volume: f64,
    /// Dough temperature, °C.
    pub temperature: f64,
    /// Gas made since mixing, ml per 100 g flour.
    pub gas: f64,
}

/// The share of its growth with which a dough may be used (common practice, no source).
const YOUNG: f64 = 0.8;

/// How one stretch goes.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Forecast {
    /// Time to the target, or how long it is left to stand.
    pub time: Minutes,
    /// The early end of what is likely (about two in three).
    pub early: Minutes,
    /// The late end.
    pub late: Minutes,
    /// Whether the target is reached. If not, `time` is when the dough stands highest, or the
    /// end of the three days that are looked at.
    pub reached: bool,
    /// Whether it has stood past its height and falls.
    pub fallen: bool,
    /// The most it can rise from its start before it falls, in times.
    pub most: f64,
    /// How long it may stand in all before its surface falls: the late end of what it forgives.
    /// `None` when it does not get that far within three days.
    pub stands_until: Option<Minutes>,
    /// Times its start that it stands at in the end.
    pub grown: f64,
    /// The least of the same in a slower and a faster kitchen, at the end of the same time; at most the
    /// target when it is waited for.
    pub grown_low: f64,
    /// The most of the same.
    pub grown_high: f64,
    /// Its course from start to `time`, at most some 130 moments.
    pub curve: Vec<Moment>,
    /// Its course in a faster kitchen, at most some 70 moments.
    pub fast: Vec<Moment>,
    /// Its course in a slower one.
    pub slow: Vec<Moment>,
}

/// How sour it will be.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Sourness {
    /// 0 to 10: 0 without a culture, about 7 a ripe levain as it is.
    pub index: f64,
    /// Acid for each step of its yeast: about 1.05 at 20 to 26 °C, over 1.18 sharp, as it gets from 30 °C on.
    pub sharpness: f64,
}

/// Acid for each step of its yeast from which a bread tastes sharp: what a culture at 30 °C makes (common practice, no
/// source).
const SHARP: f64 = 1.18;

impl Sourness {
    /// The index and the sharpness in words.
    pub fn word(&self) -> &'static str {
        match (self.index, self.sharpness) {
            (i, _) if i < 0.3 => "not sour",
            (i, _) if i < 2.0 => "mild",
            (i, s) if i < 4.5 && s < SHARP => "balanced",
            (i, _) if i < 4.5 => "tangy",
            (_, s) if s < SHARP => "sour",
            _ => "sharp and sour",
        }
    }
}

/// Bulk and proof.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct RiseOutput {
    /// The bulk rise; `None` when there is none.
    pub bulk: Option<Forecast>,
    /// The second bulk rise; `None` when there is none.
    pub second: Option<Forecast>,
    /// Volume against the dough without gas, when the last piece is shaped.
    pub shaped_volume: f64,
    /// Dough temperature then.
    pub shaped_temperature: Celsius,
    /// The final proof; `None` when there is none.
    pub proof: Option<Forecast>,
    /// Volume against the dough without gas, when it goes into the oven.
    pub final_volume: f64,
    /// Dough temperature then.
    pub final_temperature: Celsius,
    /// How sour it will be; `None` without a culture.
    pub sourness: Option<Sourness>,
}

impl RiseOutput {
    /// How one of the rises goes; `None` where it is not there.
    pub fn forecast(&self, which: Which) -> Option<&Forecast> {
        match which {
            Which::Bulk => self.bulk.as_ref(),
            Which::Second => self.second.as_ref(),
            Which::Proof => self.proof.as_ref(),
        }
    }
}

/// One stretch as it ran, with its course.
pub(super) struct Course {
    pub run: Run,
    pub start: f64,
    pub end: f64,
    pub moments: Vec<Moment>,
}

/// Bulk, handling and proof for one kitchen factor.
pub(super) struct Chain {
    pub bulk: Option<Course>,
    /// The dough as its second rise begins, and that rise.
    again: State,
    pub second: Option<Course>,
    shaped: State,
    shaped_volume: f64,
    pub proof: Option<Course>,
    end: State,
    end_volume: f64,
}

impl Forecast {
    /// The height that is waited for, in times of the start: what was wished where the dough gets there,
    /// what it reaches at most where it does not, what it will stand at where it is left to stand. One
    /// figure for every page, sheet and file.
    pub fn until(&self, wished: f64, left_to_stand: bool) -> f64 {
        if left_to_stand {
            self.grown
        } else if self.reached {
            wished
        } else {
            // Rounded down: a target a little past the top is never reached.
            (20.0 * self.grown.min(self.most)).floor() / 20.0
        }
    }

    /// From when on it may be used: with four fifths of its growth it is a little young, and good bread.
    pub fn usable_from(&self) -> Minutes {
        let Some(first) = self.curve.first() else { return self.time };
        let enough = first.volume * (1.0 + YOUNG * (self.grown - 1.0).max(0.0));
        let there = self.curve.iter().find(|m| m.volume >= enough);
        there.map_or(self.time, |m| Minutes(m.minutes.min(self.time.0)))
    }

    /// Whether it stands so long that it has sunk from its height, and does not only stand past it.
    pub fn has_sunk(&self) -> bool {
        self.stands_too_long() && self.grown < NEAR_ITS_HEIGHT * self.most
    }

    /// Whether it stands past what it bears: over its top, or gone flat.
    pub fn stands_too_long(&self) -> bool {
        self.fallen || self.stands_until.is_some_and(|until| self.time.0 > until.0 + 1.0)
    }
}

/// The share of the most that a dough can stand at from which it holds, though it is past its height (common practice,
/// no source).
const NEAR_ITS_HEIGHT: f64 = 0.95;

impl RiseInput {
    pub(super) fn check(&self) -> Result<(), Faults> {
        let mut c = Check::new();
        self.dough.check(&mut c, "dough");
        c.range("start", "The dough temperature", self.start.0, 0.0, 60.0, "°C");
        c.range("shaping", "Shaping", self.shaping.0, 0.0, 1000.0, "min");
        c.range("room", "The room temperature", self.room.0, -10.0, 50.0, "°C");
        c.range("kitchen", "The kitchen factor", self.kitchen, 0.2, 5.0, "");
        c.range("spread", "The kitchen's spread", self.spread, 0.0, 1.0, "");
        if let Some(p) = self.piece {
            c.range("piece", "A piece", p.0, 1.0, 100_000.0, "g");
        }
        self.bulk.check(&mut c, "bulk");
        self.second.check(&mut c, "second");
        self.proof.check(&mut c, "proof");
        c.done(())
    }

    /// Time constants of the dough in bulk and of a piece in its proof, h.
    pub(super) fn follows(&self) -> (f64, f64) {
        let piece = self.piece.unwrap_or(self.dough.mass);
        (self.bulk.follows(self.dough.mass.0 / 1000.0), self.proof.follows(piece.0 / 1000.0))
    }

    /// The dough when its second rise begins: knocked down or folded, where there is one.
    pub(super) fn begin_again(&self, model: &Model, mut s: State) -> State {
        if self.second.rises() {
            model.handled(&mut s, self.between.keeps());
        }
        s
    }

    /// The state at the end of the second rise, from that at the end of the first.
    pub(super) fn risen_again(&self, model: &Model, s: State) -> State {
        if !self.second.rises() {
            return s;
        }
        let tau = self.follows_air(Which::Second);
        model.run(self.begin_again(model, s), &self.second, tau, HORIZON, |_, _| {}).end
    }

    /// The state after `s` has been divided and shaped.
    pub(super) fn shaped(&self, model: &Model, mut s: State) -> State {
        let piece = time_constant(self.piece.unwrap_or(self.dough.mass).0 / 1000.0, Stands::Sheet);
        for _ in 0..self.shaping.0.round() as usize {
            s = model.step(&s, STEP, self.room.0, piece);
        }
        model.handled(&mut s, self.handling.keeps());
        s
    }

    /// Bulk, handling and proof in a kitchen of this factor.
    pub(super) fn chain(&self, kitchen: f64) -> Chain {
        let model = Model::new(&self.dough, kitchen);
        let (whole, piece) = self.follows();
        let mut s = model.start(&self.dough, self.start.0);
        let bulk = self.bulk.rises().then(|| course(&model, s, &self.bulk, whole));
        if let Some(c) = &bulk {
            s = c.run.end;
        }
        let again = self.begin_again(&model, s);
        let tau = self.follows_air(Which::Second);
        let second = self.second.rises().then(|| course(&model, again, &self.second, tau));
        if let Some(c) = &second {
            s = c.run.end;
        }
        let shaped = self.shaped(&model, s);
        s = shaped;
        let proof = self.proof.rises().then(|| course(&model, s, &self.proof, piece));
        if let Some(c) = &proof {
            s = c.run.end;
        }
        Chain {
            bulk,
            again,
            second,
            shaped_volume: model.volume(&shaped),
            shaped,
            proof,
            end_volume: model.volume(&s),
            end: s,
        }
    }
}

pub(super) fn course(model: &Model, s: State, stretch: &Stretch, tau: f64) -> Course {
    let mut moments = Vec::new();
    let run = model.run(s, stretch, tau, HORIZON, |s, hours| moments.push(moment(s, model.volume(s), hours)));
    Course { start: model.volume(&s), end: model.volume(&run.end), run, moments }
}

pub(super) fn moment(s: &State, volume: f64, hours: f64) -> Moment {
    Moment { minutes: 60.0 * hours, volume, temperature: s.t, gas: s.gas }
}

/// A forecast from the likely course and those of a faster and a slower kitchen.
pub(super) fn forecast(
    likely: &Course,
    fast: &Course,
    slow: &Course,
    stands_until: Option<Minutes>,
) -> Forecast {
    let (run, hours) = (&likely.run, |c: &Course| 60.0 * c.run.hours);
    let highest = likely.moments.iter().map(|m| m.volume).fold(0.0, f64::max);
    Forecast {
        time: Minutes(hours(likely)),
        early: Minutes(hours(fast).min(hours(likely))),
        late: Minutes(hours(slow).max(hours(likely))),
        reached: run.reached,
        fallen: likely.end < 0.98 * highest,
        most: run.most,
        stands_until,
        grown: likely.end / likely.start,
        // Past its height a faster kitchen stands lower.
        grown_low: (slow.end / slow.start).min(fast.end / fast.start).min(likely.end / likely.start),
        grown_high: (fast.end / fast.start).max(slow.end / slow.start).max(likely.end / likely.start),
        curve: thinned(&likely.moments, 120),
        fast: thinned(&fast.moments, 60),
        slow: thinned(&slow.moments, 60),
    }
}

/// Forecasts bulk rise and final proof.
///
/// ```
/// # use cerealis_core::{formula::Formula, kitchen::Kitchen, pantry::Catalogue, stations::read, words::Style};
/// # let f = Formula::beginning("Weir loaf", Style::Tin);
/// # let now = "2026-03-07T08:00:00Z".parse().unwrap();
/// # let s = read(&f, &Kitchen::default(), Catalogue::bundled(), now).unwrap();
/// use cerealis_core::rise::rise;
/// // Two degrees more in the dough, and the bulk rise is over sooner.
/// let mut warmer = s.rise_input.clone();
/// warmer.start.0 += 2.0;
/// let (now, then) = (s.rise.bulk.unwrap(), rise(&warmer).unwrap().bulk.unwrap());
/// assert!(then.time < now.time && now.early <= now.time && now.time <= now.late);
/// ```
///
/// # Errors
/// A figure outside its range, by its path.
pub fn rise(input: &RiseInput) -> Result<RiseOutput, Faults> {
    input.check()?;
    let likely = input.chain(input.kitchen);
    let fast = input.chain(input.kitchen * input.spread.exp());
    let slow = input.chain(input.kitchen * (-input.spread).exp());
    let model = Model::new(&input.dough, input.kitchen);
    let (whole, piece) = input.follows();
    let of = |pick: fn(&Chain) -> &Option<Course>, begins: State, stretch: &Stretch, tau: f64| {
        let (Some(l), Some(f), Some(s)) = (pick(&likely), pick(&fast), pick(&slow)) else { return None };
        Some(forecast(l, f, s, stands_until(&model, begins, stretch, tau, l.run.most)))
    };
    let begins = model.start(&input.dough, input.start.0);
    Ok(RiseOutput {
        bulk: of(|c| &c.bulk, begins, &input.bulk, whole),
        second: of(|c| &c.second, likely.again, &input.second, input.follows_air(Which::Second)),
        shaped_volume: likely.shaped_volume,
        shaped_temperature: Celsius(likely.shaped.t),
        proof: of(|c| &c.proof, likely.shaped, &input.proof, piece),
        final_volume: likely.end_volume,
        final_temperature: Celsius(likely.end.t),
        sourness: sourness(&input.dough, &likely.end),
    })
}

/// How long a dough may stand in a stretch before it falls.
pub(super) fn stands_until(
    model: &Model,
    begins: State,
    stretch: &Stretch,
    tau: f64,
    most: f64,
) -> Option<Minutes> {
    model.run(begins, &to_the_top(stretch, most), tau, HORIZON, |_, _| {}).reached_at()
}

/// The same stretch, waited for until its dough stands as high as it can.
pub(super) fn to_the_top(stretch: &Stretch, most: f64) -> Stretch {
    Stretch { target: most, hours: None, ..stretch.clone() }
}

/// How sour a dough is at the end of its rise.
fn sourness(dough: &Dough, end: &State) -> Option<Sourness> {
    let seed = dough.culture.0 / 100.0;
    (seed > 0.0).then(|| {
        // Growth of both from the same seed tells which of them the temperatures have favoured.
        let grown = |x: f64| (x / (1.0 - x).max(1e-6) * (1.0 - seed) / seed).max(1.0).ln();
        Sourness {
            index: (end.acid / SOURNESS_STEP).min(10.0),
            sharpness: if seed < 1.0 && grown(end.culture) > 0.05 {
                grown(end.bacteria) / grown(end.culture)
            } else {
                1.0
            },
        }
    })
}

/// Keeps at most some `most` moments, first and last among them.
pub(super) fn thinned(moments: &[Moment], most: usize) -> Vec<Moment> {
    let every = (moments.len() / most).max(1);
    let last = moments.len().saturating_sub(1);
    moments.iter().enumerate().filter(|(i, _)| i % every == 0 || *i == last).map(|(_, m)| *m).collect()
}
