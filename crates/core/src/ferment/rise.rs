//! Bulk rise, handling and final proof as one run through time.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rates::*;
use crate::fault::{Check, Faults};
use crate::formula::Handling;
use crate::units::{Celsius, Grams, Minutes, Percent};

/// A dough as the rise sees it. Percentages are of the flour.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Dough {
    /// Its mass, 1 g to 100 kg.
    pub mass: Grams,
    /// The flour in it.
    pub flour: Grams,
    /// Its effective hydration.
    pub water: Percent,
    /// Baker's yeast as instant yeast, 0 to 10 %.
    #[serde(default)]
    pub instant_yeast: Percent,
    /// Active dry yeast that goes in without blooming starts later.
    #[serde(default)]
    pub unbloomed: bool,
    /// Flour fermented by a ripe culture, times its strength (1 = ripe), 0 to 100 %.
    #[serde(default)]
    pub culture: Percent,
    /// Added sugars that yeast can use.
    #[serde(default)]
    pub sugar: Percent,
    /// Added fat.
    #[serde(default)]
    pub fat: Percent,
    /// Salt; a culture is slower in salted dough.
    #[serde(default)]
    pub salt: Percent,
    /// Salt and sugars in osmol per kg of dough water; a lean dough's when left out.
    #[serde(default = "reference_osmolality")]
    pub osmolality: f64,
    /// How many times its own volume it can hold, over 1 and to 5.
    #[serde(default = "strong_white")]
    pub hold: f64,
    /// How fast its flours ferment against white wheat, 0.5 to 2.
    #[serde(default = "one")]
    pub pace: f64,
}

fn reference_osmolality() -> f64 {
    OSM_REF
}
fn strong_white() -> f64 {
    3.8
}
fn one() -> f64 {
    1.0
}

/// A place the dough stands in, and how long; the last of a list lasts as long as needed.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Place {
    /// Temperature of the place, 0 to 45 °C.
    pub temperature: Celsius,
    /// How long the dough stands there; as long as needed when left out.
    #[serde(default)]
    pub stay: Option<Minutes>,
}

/// One rise: through which places, and how far.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Stretch {
    /// Places in sequence, at least one.
    pub places: Vec<Place>,
    /// How many times its starting volume it should reach, 1 to 3. At 1 there is no rise.
    pub target: f64,
}

/// What a bulk rise and a final proof depend on.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct RiseInput {
    /// The dough.
    pub dough: Dough,
    /// Its temperature after mixing, 0 to 45 °C.
    pub start: Celsius,
    /// The bulk rise.
    pub bulk: Stretch,
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

/// How one stretch goes.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Forecast {
    /// Time to the target.
    pub time: Minutes,
    /// The early end of what is likely (about two in three).
    pub early: Minutes,
    /// The late end.
    pub late: Minutes,
    /// Whether the target is reached. If not, `time` is when the dough stands highest, or the
    /// end of the three days that are looked at.
    pub reached: bool,
    /// The most it can rise from its start before it falls, in times.
    pub most: f64,
    /// Its course from start to `time`, at most some 130 moments.
    pub curve: Vec<Moment>,
}

/// Bulk and proof.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct RiseOutput {
    /// The bulk rise; `None` when its target is 1.
    pub bulk: Option<Forecast>,
    /// Volume against the dough without gas, when the last piece is shaped.
    pub shaped_volume: f64,
    /// Dough temperature then.
    pub shaped_temperature: Celsius,
    /// The final proof; `None` when its target is 1.
    pub proof: Option<Forecast>,
    /// Volume against the dough without gas, when it goes into the oven.
    pub final_volume: f64,
    /// Dough temperature then.
    pub final_temperature: Celsius,
}

/// How long a levain or preferment takes to ripen.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Ripening {
    /// Time to ripeness.
    pub time: Minutes,
    /// The early end of what is likely.
    pub early: Minutes,
    /// The late end.
    pub late: Minutes,
    /// Whether it ripens within three days.
    pub ripens: bool,
    /// Baker's yeast then, against the yeast put in.
    pub yeast_growth: f64,
}

/// As far as a rise is looked at, h.
const HORIZON: f64 = 72.0;
/// Integration step, h.
const STEP: f64 = 1.0 / 60.0;

impl Dough {
    fn check(&self, c: &mut Check, path: &str) {
        let at = |f: &str| format!("{path}.{f}");
        c.range(&at("mass"), "The dough", self.mass.0, 1.0, 100_000.0, "g");
        c.range(&at("flour"), "Flour", self.flour.0, 0.5, 100_000.0, "g");
        c.range(&at("water"), "Hydration", self.water.0, 0.0, 500.0, "%");
        c.range(&at("instant_yeast"), "Instant yeast", self.instant_yeast.0, 0.0, 20.0, "%");
        c.range(&at("culture"), "Culture", self.culture.0, 0.0, 100.0, "%");
        c.range(&at("sugar"), "Sugar", self.sugar.0, 0.0, 500.0, "%");
        c.range(&at("fat"), "Fat", self.fat.0, 0.0, 500.0, "%");
        c.range(&at("salt"), "Salt", self.salt.0, 0.0, 100.0, "%");
        c.range(&at("osmolality"), "Osmolality", self.osmolality, 0.0, 100.0, "osmol/kg");
        c.range(&at("hold"), "What the dough can hold", self.hold, 1.05, 5.0, "times");
        c.range(&at("pace"), "The flour's pace", self.pace, 0.5, 2.0, "");
    }
}

impl Stretch {
    fn check(&self, c: &mut Check, path: &str) {
        c.range(&format!("{path}.target"), "The target", self.target, 1.0, 3.0, "times");
        c.range(&format!("{path}.places"), "The number of places", self.places.len() as f64, 1.0, 20.0, "");
        for (i, p) in self.places.iter().enumerate() {
            let at = format!("{path}.places.{i}.temperature");
            c.range(&at, "A place for dough", p.temperature.0, 0.0, 45.0, "°C");
            if let Some(stay) = p.stay {
                c.range(&format!("{path}.places.{i}.stay"), "A stay", stay.0, 0.0, 10_000.0, "min");
            }
        }
    }

    /// Temperature of the place at `hours` into the stretch.
    fn place(&self, hours: f64) -> f64 {
        let mut end = 0.0;
        for p in &self.places {
            end += p.stay.map_or(f64::INFINITY, |s| s.0 / 60.0);
            if hours < end {
                return p.temperature.0;
            }
        }
        self.places.last().map_or(20.0, |p| p.temperature.0)
    }
}

/// What changes while a dough rises. Masses and gas are per 100 g flour.
#[derive(Clone, Copy, Debug)]
struct State {
    /// Hours since mixing.
    age: f64,
    /// Dough temperature, °C.
    t: f64,
    /// Baker's yeast, g as instant.
    yeast: f64,
    /// Activity of the culture over that of a ripe one.
    culture: f64,
    /// Gas made, ml.
    gas: f64,
    /// Gas that swells the dough, ml.
    free: f64,
}

/// How far a start-up of time constant `lag` has come at `age`, both in h, from 0 to 1.
fn awake(age: f64, lag: f64) -> f64 {
    // After twenty time constants what is missing is under a billionth.
    if age > 20.0 * lag { 1.0 } else { 1.0 - (-age / lag).exp() }
}

/// The dough's constants, worked out once.
struct Model {
    yeast0: f64,
    yeast_rate: f64,
    yeast_lag: f64,
    culture_rate: f64,
    culture_salt: f64,
    sugar: f64,
    pace: f64,
    kitchen: f64,
    dissolves: f64,
    volume: f64,
    hold: f64,
}

impl Model {
    fn new(d: &Dough, kitchen: f64) -> Self {
        let osm = osmotic(d.osmolality);
        let fat = fatty(d.fat.0);
        Model {
            yeast0: d.instant_yeast.0,
            yeast_rate: YEAST_GAS / GAS_CARDINAL.at(YEAST_GAS_AT) * osm * fat,
            yeast_lag: if d.unbloomed { UNBLOOMED_LAG } else { YEAST_LAG },
            culture_rate: CULTURE_GAS / CULTURE_GAS_AT * osm.min(1.0) * fat,
            culture_salt: if d.salt.0 > 0.5 { CULTURE_SALTED } else { 1.0 } * osm.min(1.0),
            sugar: FLOUR_SUGAR + d.sugar.0,
            pace: d.pace,
            kitchen,
            dissolves: DISSOLVES * d.water.0,
            volume: d.mass.0 / d.flour.0 * 100.0 / DOUGH_DENSITY,
            hold: d.hold,
        }
    }

    fn volume(&self, s: &State) -> f64 {
        swollen(s.free / self.volume, self.hold)
    }

    /// Change an hour at state `s` in a place of `place` °C, with time constant `tau` h.
    fn change(&self, s: &State, place: f64, tau: f64) -> State {
        let left = (self.sugar - s.gas / GAS_PER_SUGAR).max(0.0);
        let fed = left / (left + SUGAR_HALF) * self.pace * self.kitchen;
        let yeast_awake = awake(s.age, self.yeast_lag);
        let culture_awake = awake(s.age, CULTURE_LAG);
        let rate = culture_rate(s.t);
        let gas = fed
            * (self.yeast_rate * GAS_CARDINAL.at(s.t) * s.yeast * yeast_awake
                + self.culture_rate * rate * s.culture * culture_awake);
        let room = (1.0 - (s.yeast - self.yeast0) / YEAST_ROOM).max(0.0);
        State {
            age: 1.0,
            t: (place - s.t) / tau,
            yeast: YEAST_GROWTH * GROWTH_CARDINAL.at(s.t) * s.yeast * room * self.kitchen,
            culture: rate
                * s.culture
                * (1.0 - s.culture).max(0.0)
                * culture_awake
                * self.culture_salt
                * self.pace
                * self.kitchen,
            gas,
            free: 0.0,
        }
    }

    /// One step of the classical Runge–Kutta method.
    fn step(&self, s: &State, h: f64, place: f64, tau: f64) -> State {
        let along = |k: &State, h: f64| State {
            age: s.age + h,
            t: s.t + h * k.t,
            yeast: s.yeast + h * k.yeast,
            culture: s.culture + h * k.culture,
            gas: s.gas + h * k.gas,
            free: s.free,
        };
        let k1 = self.change(s, place, tau);
        let k2 = self.change(&along(&k1, h / 2.0), place, tau);
        let k3 = self.change(&along(&k2, h / 2.0), place, tau);
        let k4 = self.change(&along(&k3, h), place, tau);
        let mean = |f: fn(&State) -> f64| h / 6.0 * (f(&k1) + 2.0 * f(&k2) + 2.0 * f(&k3) + f(&k4));
        let gas = s.gas + mean(|k| k.gas);
        // What is made past the point where the water is full of gas swells the dough.
        let freed = (gas - self.dissolves).max(0.0) - (s.gas - self.dissolves).max(0.0);
        State {
            age: s.age + h,
            t: s.t + mean(|k| k.t),
            yeast: s.yeast + mean(|k| k.yeast),
            culture: (s.culture + mean(|k| k.culture)).min(1.0),
            gas,
            free: s.free + freed,
        }
    }

    /// Runs a stretch until its target, or until the dough can hold no more.
    fn run(&self, mut s: State, stretch: &Stretch, tau: f64) -> Run {
        let start = self.volume(&s);
        let most = (OVER * self.hold / start).max(1.0);
        let reachable = stretch.target <= most;
        let goal = start * stretch.target.min(most);
        let mut hours = 0.0;
        let mut moments = vec![moment(&s, start, 0.0)];
        let mut v0 = start;
        while hours < HORIZON {
            let next = self.step(&s, STEP, stretch.place(hours + 0.5 * STEP), tau);
            let v1 = self.volume(&next);
            if v1 >= goal {
                let part = if v1 > v0 { ((goal - v0) / (v1 - v0)).clamp(0.0, 1.0) } else { 1.0 };
                let end = self.step(&s, STEP * part, stretch.place(hours + 0.5 * STEP), tau);
                hours += STEP * part;
                moments.push(moment(&end, self.volume(&end), hours));
                return Run { end, hours, reached: reachable, most, moments };
            }
            (s, v0) = (next, v1);
            hours += STEP;
            moments.push(moment(&s, v1, hours));
        }
        Run { end: s, hours, reached: false, most, moments }
    }

    fn start(&self, d: &Dough, t: Celsius) -> State {
        State {
            age: 0.0,
            t: t.0,
            yeast: d.instant_yeast.0,
            culture: d.culture.0 / 100.0,
            gas: 0.0,
            free: 0.0,
        }
    }
}

fn moment(s: &State, volume: f64, hours: f64) -> Moment {
    Moment { minutes: 60.0 * hours, volume, temperature: s.t, gas: s.gas }
}

struct Run {
    end: State,
    hours: f64,
    reached: bool,
    most: f64,
    moments: Vec<Moment>,
}

/// Bulk, handling and proof for one kitchen factor.
struct Chain {
    bulk: Option<Run>,
    shaped: State,
    shaped_volume: f64,
    proof: Option<Run>,
    end: State,
    end_volume: f64,
}

impl RiseInput {
    fn check(&self) -> Result<(), Faults> {
        let mut c = Check::new();
        self.dough.check(&mut c, "dough");
        c.range("start", "The dough temperature", self.start.0, 0.0, 45.0, "°C");
        c.range("shaping", "Shaping", self.shaping.0, 0.0, 1000.0, "min");
        c.range("room", "The room temperature", self.room.0, -10.0, 50.0, "°C");
        c.range("kitchen", "The kitchen factor", self.kitchen, 0.2, 5.0, "");
        if let Some(p) = self.piece {
            c.range("piece", "A piece", p.0, 1.0, 100_000.0, "g");
        }
        self.bulk.check(&mut c, "bulk");
        self.proof.check(&mut c, "proof");
        c.done(())
    }

    fn chain(&self, kitchen: f64) -> Chain {
        let model = Model::new(&self.dough, kitchen);
        let mut s = model.start(&self.dough, self.start);
        let whole = time_constant(self.dough.mass.0 / 1000.0);
        let piece = time_constant(self.piece.unwrap_or(self.dough.mass).0 / 1000.0);
        let bulk = (self.bulk.target > 1.0).then(|| model.run(s, &self.bulk, whole));
        if let Some(run) = &bulk {
            s = run.end;
        }
        let steps = (self.shaping.0).round() as usize;
        for _ in 0..steps {
            s = model.step(&s, STEP, self.room.0, piece);
        }
        s.free *= match self.handling {
            Handling::Gentle => 0.75,
            Handling::Firm => 0.25,
        };
        let shaped = s;
        let proof = (self.proof.target > 1.0).then(|| model.run(s, &self.proof, piece));
        if let Some(run) = &proof {
            s = run.end;
        }
        Chain {
            bulk,
            shaped_volume: model.volume(&shaped),
            shaped,
            proof,
            end_volume: model.volume(&s),
            end: s,
        }
    }
}

/// Forecasts bulk rise and final proof.
///
/// # Errors
/// A figure outside its range, by its path.
pub fn rise(input: &RiseInput) -> Result<RiseOutput, Faults> {
    input.check()?;
    let likely = input.chain(input.kitchen);
    let fast = input.chain(input.kitchen * KITCHEN_SPREAD.exp());
    let slow = input.chain(input.kitchen * (-KITCHEN_SPREAD).exp());
    let forecast = |of: fn(&Chain) -> &Option<Run>| {
        let run = of(&likely).as_ref()?;
        let at = |c: &Chain| of(c).as_ref().map_or(run.hours, |r| r.hours);
        let (early, late) = (at(&fast).min(run.hours), at(&slow).max(run.hours));
        Some(Forecast {
            time: Minutes(60.0 * run.hours),
            early: Minutes(60.0 * early),
            late: Minutes(60.0 * late),
            reached: run.reached,
            most: run.most,
            curve: thinned(&run.moments),
        })
    };
    Ok(RiseOutput {
        bulk: forecast(|c| &c.bulk),
        shaped_volume: likely.shaped_volume,
        shaped_temperature: Celsius(likely.shaped.t),
        proof: forecast(|c| &c.proof),
        final_volume: likely.end_volume,
        final_temperature: Celsius(likely.end.t),
    })
}

/// Forecasts when a levain or preferment is ripe, standing at `place`.
///
/// A culture is ripe at [`RIPE`] of its full activity; a preferment of baker's yeast when it
/// stands at two and a half times, or as high as its flour lets it.
///
/// # Errors
/// A figure outside its range, by its path.
pub fn ripen(dough: &Dough, start: Celsius, place: Celsius) -> Result<Ripening, Faults> {
    let mut c = Check::new();
    dough.check(&mut c, "dough");
    c.range("start", "The dough temperature", start.0, 0.0, 45.0, "°C");
    c.range("place", "A place for a levain", place.0, 0.0, 45.0, "°C");
    c.done(())?;
    let run = |kitchen: f64| {
        let model = Model::new(dough, kitchen);
        let tau = time_constant(dough.mass.0 / 1000.0);
        let mut s = model.start(dough, start);
        let swollen_enough = 2.5f64.min(OVER * dough.hold);
        let mut hours = 0.0;
        while hours < HORIZON {
            let ripe =
                if dough.culture.0 > 0.0 { s.culture >= RIPE } else { model.volume(&s) >= swollen_enough };
            if ripe {
                return (hours, true, s.yeast);
            }
            s = model.step(&s, STEP, place.0, tau);
            hours += STEP;
        }
        (hours, false, s.yeast)
    };
    let (hours, ripens, yeast) = run(1.0);
    let early = run(KITCHEN_SPREAD.exp()).0.min(hours);
    let late = run((-KITCHEN_SPREAD).exp()).0.max(hours);
    Ok(Ripening {
        time: Minutes(60.0 * hours),
        early: Minutes(60.0 * early),
        late: Minutes(60.0 * late),
        ripens,
        yeast_growth: if dough.instant_yeast.0 > 0.0 { yeast / dough.instant_yeast.0 } else { 1.0 },
    })
}

/// Keeps at most some 130 moments, first and last among them.
fn thinned(moments: &[Moment]) -> Vec<Moment> {
    let every = (moments.len() / 120).max(1);
    let last = moments.len() - 1;
    moments.iter().enumerate().filter(|(i, _)| i % every == 0 || *i == last).map(|(_, m)| *m).collect()
}
