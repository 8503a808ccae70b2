//! The equations of a rising dough, and one run of them through time.

use super::dough::Dough;
use super::places::Stretch;
use super::rates::{
    ACID_AT, AMYLASE, CULTURE_GAS, CULTURE_GAS_AT, CULTURE_LAG, CULTURE_SALTED, DISSOLVES, DOUGH_DENSITY,
    FLOUR_SUGAR, GAS_CARDINAL, GAS_PER_SUGAR, GROWTH_CARDINAL, HEATS, LEVAIN_ACID, MALTOSE, OVER, SINKS_TO,
    SUGAR_HALF, UNBLOOMED_LAG, WEAKENS, YEAST_GAS, YEAST_GAS_AT, YEAST_GROWTH, YEAST_LAG, YEAST_ROOM,
    bacteria_rate, fatty, home_culture_rate, killed, osmotic, swollen,
};
use crate::units::Minutes;
use crate::words::GENTLY_KEEPS;

/// As far as a rise is looked at, h.
pub(super) const HORIZON: f64 = 72.0;
/// Integration step, h.
pub(super) const STEP: f64 = 1.0 / 60.0;

/// What changes while a dough rises. Masses and gas are per 100 g flour.
#[derive(Clone, Copy, Debug)]
pub(super) struct State {
    /// Hours since mixing.
    pub age: f64,
    /// Dough temperature, °C.
    pub t: f64,
    /// Baker's yeast, g as instant.
    pub yeast: f64,
    /// Activity of the culture's yeast over that of a ripe one.
    pub culture: f64,
    /// Activity of its bacteria over that of a ripe one.
    pub bacteria: f64,
    /// Acid, in hours of a ripe culture at 26 °C.
    pub acid: f64,
    /// Gas made, ml.
    pub gas: f64,
    /// Gas that swells the dough, ml.
    pub free: f64,
    /// How many times its own volume the dough can hold.
    pub hold: f64,
}

/// Change an hour of what is integrated.
#[derive(Clone, Copy)]
struct Change {
    t: f64,
    yeast: f64,
    culture: f64,
    bacteria: f64,
    acid: f64,
    gas: f64,
}

/// How far a start-up of time constant `lag` has come at `age`, both in h, from 0 to 1.
fn awake(age: f64, lag: f64) -> f64 {
    // After twenty time constants what is missing is under a billionth.
    if age > 20.0 * lag { 1.0 } else { 1.0 - (-age / lag).exp() }
}

/// The dough's constants, worked out once.
pub(super) struct Model {
    yeast0: f64,
    yeast_rate: f64,
    yeast_lag: f64,
    culture_rate: f64,
    culture_salt: f64,
    sours: bool,
    sugar: f64,
    pace: f64,
    kitchen: f64,
    dissolves: f64,
    volume: f64,
    hold: f64,
}

/// The share of what a dough can still grow by at which it is ready, where its target is past that (common practice,
/// no source).
const READY: f64 = 0.85;

/// The share of its quickest pace at which a dough that does not reach its target is not waited for any longer
/// (common practice, no source).
const SLACKENED: f64 = 0.1;
/// The least of the pace of yeast, against its best, that its temperature is reckoned with here.
const LEAST_WARM: f64 = 0.01;

impl Model {
    pub fn new(d: &Dough, kitchen: f64) -> Self {
        let osm = osmotic(d.osmolality);
        let fat = fatty(d.fat.0);
        Model {
            yeast0: d.instant_yeast.0,
            yeast_rate: YEAST_GAS / GAS_CARDINAL.at(YEAST_GAS_AT) * osm * fat,
            yeast_lag: if d.unbloomed { UNBLOOMED_LAG } else { YEAST_LAG },
            culture_rate: CULTURE_GAS / CULTURE_GAS_AT * osm.min(1.0) * fat,
            culture_salt: if d.salt.0 > 0.5 { CULTURE_SALTED } else { 1.0 } * osm.min(1.0),
            sours: d.culture.0 > 0.0,
            sugar: FLOUR_SUGAR + d.sugar.0,
            pace: d.pace,
            kitchen,
            dissolves: DISSOLVES * d.water.0,
            volume: d.mass.0 / d.flour.0 * 100.0 / DOUGH_DENSITY,
            hold: d.hold,
        }
    }

    /// Volume against the dough without gas.
    pub fn volume(&self, s: &State) -> f64 {
        swollen(s.free / self.volume, s.hold)
    }

    /// The dough handled so that a share of its gas stays: of that which it holds, which past its height is less than
    /// it was given. What has sunk is formed anew, the more of it is pressed out the better (common practice, no
    /// source).
    pub fn handled(&self, s: &mut State, keeps: f64) {
        s.free = keeps * (self.volume(s) - 1.0) * self.volume;
        s.hold += (self.hold - s.hold) * (1.0 - keeps);
    }

    /// Change an hour at state `s` in air of `air` °C, with time constant `tau` h.
    fn change(&self, s: &State, air: f64, tau: f64) -> Change {
        let split = MALTOSE * awake(s.age, AMYLASE);
        let left = (self.sugar + split - s.gas / GAS_PER_SUGAR).max(0.0);
        let fed = left / (left + SUGAR_HALF) * self.pace * self.kitchen;
        let yeast_awake = awake(s.age, self.yeast_lag);
        let room = (1.0 - (s.yeast - self.yeast0) / YEAST_ROOM).max(0.0);
        let (mut rate, mut bacteria_pace, mut culture_awake) = (0.0, 0.0, 0.0);
        if self.sours {
            culture_awake = awake(s.age, CULTURE_LAG);
            rate = home_culture_rate(s.t);
            bacteria_pace = bacteria_rate(s.t) * culture_awake * self.pace * self.kitchen;
        }
        let gas = fed
            * (self.yeast_rate * GAS_CARDINAL.at(s.t) * s.yeast * yeast_awake
                + self.culture_rate * rate * s.culture * culture_awake);
        let grows = culture_awake * self.culture_salt * self.pace * self.kitchen;
        let dies = killed(s.t);
        Change {
            t: (air - s.t) / tau + HEATS * gas,
            yeast: (YEAST_GROWTH * GROWTH_CARDINAL.at(s.t) * room * self.kitchen - dies) * s.yeast,
            culture: (rate * (1.0 - s.culture).max(0.0) * grows - dies) * s.culture,
            bacteria: (bacteria_pace * self.culture_salt * (1.0 - s.bacteria).max(0.0) - dies) * s.bacteria,
            acid: bacteria_pace / ACID_AT * s.bacteria,
            gas,
        }
    }

    /// One step of the classical Runge–Kutta method over `h` hours.
    pub fn step(&self, s: &State, h: f64, air: f64, tau: f64) -> State {
        let along = |k: &Change, h: f64| State {
            age: s.age + h,
            t: s.t + h * k.t,
            yeast: s.yeast + h * k.yeast,
            culture: s.culture + h * k.culture,
            bacteria: s.bacteria + h * k.bacteria,
            gas: s.gas + h * k.gas,
            ..*s
        };
        let k1 = self.change(s, air, tau);
        let k2 = self.change(&along(&k1, h / 2.0), air, tau);
        let k3 = self.change(&along(&k2, h / 2.0), air, tau);
        let k4 = self.change(&along(&k3, h), air, tau);
        let mean = |f: fn(&Change) -> f64| h / 6.0 * (f(&k1) + 2.0 * f(&k2) + 2.0 * f(&k3) + f(&k4));
        let made = mean(|k| k.gas);
        // What is made past the point where the dough water is full of gas swells the dough.
        let gas = s.gas + made;
        let freed = (gas - self.dissolves).max(0.0) - (s.gas - self.dissolves).max(0.0);
        State {
            age: s.age + h,
            t: s.t + mean(|k| k.t),
            yeast: s.yeast + mean(|k| k.yeast),
            culture: (s.culture + mean(|k| k.culture)).min(1.0),
            bacteria: (s.bacteria + mean(|k| k.bacteria)).min(1.0),
            acid: s.acid + mean(|k| k.acid),
            gas,
            free: s.free + freed,
            hold: s.hold,
        }
    }

    /// Past its height a dough weakens, and its surface sinks: it does not go back to where it began.
    fn weaken(&self, s: &mut State, h: f64) {
        if s.hold < self.hold || self.volume(s) > OVER * self.hold {
            let floor = SINKS_TO * self.hold;
            let pace = WEAKENS * GAS_CARDINAL.at(s.t) / GAS_CARDINAL.at(YEAST_GAS_AT);
            s.hold = floor + (s.hold - floor) * (-pace * h).exp();
        }
    }

    pub fn start(&self, d: &Dough, t: f64) -> State {
        let seed = d.culture.0 / 100.0;
        State {
            age: 0.0,
            t,
            yeast: d.instant_yeast.0,
            culture: seed,
            bacteria: seed,
            acid: seed * LEVAIN_ACID,
            gas: 0.0,
            free: 0.0,
            hold: d.hold,
        }
    }

    /// Runs a stretch: for its hours; or until its target, or the dough can hold no more, or
    /// `limit` hours. `see` is shown every state with the hours since the stretch began, and may
    /// change what is known better: a reading of the dough's temperature.
    pub fn run(
        &self,
        mut s: State,
        stretch: &Stretch,
        tau: f64,
        limit: f64,
        mut see: impl FnMut(&mut State, f64),
    ) -> Run {
        let start = self.volume(&s);
        let most = (OVER * s.hold / start).max(1.0);
        let until = stretch.hours.map_or(limit, |h| h.0);
        // A dough that stands for so long stands on when it has reached its target, and past it.
        let goal = if stretch.hours.is_some() {
            f64::INFINITY
        } else if stretch.target > most {
            // What it cannot reach is not waited for to the last: the nearer it is, the more of its gas it loses.
            start * (1.0 + READY * (most - 1.0))
        } else {
            start * stretch.target
        };
        let (mut hours, mut v0, mut highest) = (0.0, start, start);
        // What it was kept at before its last place says nothing of how it ends.
        let settled =
            stretch.places.iter().rev().skip(1).filter_map(|p| p.stay).map(|m| m.0 / 60.0).sum::<f64>() + 1.0;
        let mut quickest: f64 = 0.0;
        let mut folds = stretch.folds.iter().map(|f| f.0 / 60.0).peekable();
        see(&mut s, hours);
        while hours < until - 1e-9 {
            let step = STEP.min(until - hours);
            if folds.next_if(|&f| f <= hours + 0.5 * step).is_some() {
                self.handled(&mut s, GENTLY_KEEPS);
                v0 = self.volume(&s);
            }
            let air = stretch.air(hours + 0.5 * step);
            let next = self.step(&s, step, air, tau);
            let v1 = self.volume(&next);
            if v1 >= goal {
                let part = if v1 > v0 { ((goal - v0) / (v1 - v0)).clamp(0.0, 1.0) } else { 1.0 };
                let mut end = self.step(&s, step * part, air, tau);
                hours += step * part;
                see(&mut end, hours);
                return Run { end, hours, reached: stretch.target <= most, most };
            }
            if hours > settled && goal.is_finite() {
                // At one temperature: what is slow in the cold goes on all the same.
                let pace = (v1 - v0) / step / GAS_CARDINAL.at(next.t).max(LEAST_WARM);
                quickest = quickest.max(pace);
                // It will not get there: it is as risen as anybody would wait for.
                if pace < SLACKENED * quickest && v1 > start {
                    return Run { end: next, hours: hours + step, reached: false, most };
                }
            }
            (s, v0) = (next, v1);
            if goal.is_infinite() {
                self.weaken(&mut s, step);
                v0 = self.volume(&s);
            }
            highest = v0.max(highest);
            hours += step;
            see(&mut s, hours);
        }
        let reached = stretch.hours.is_some() && highest >= start * stretch.target - 1e-9;
        Run { end: s, hours, reached, most }
    }
}

/// How a run went.
#[derive(Clone, Copy, Debug)]
pub(super) struct Run {
    pub end: State,
    pub hours: f64,
    pub reached: bool,
    pub most: f64,
}

impl Run {
    /// When it was where it was to go; never, where it did not get there.
    pub fn reached_at(&self) -> Option<Minutes> {
        self.reached.then_some(Minutes(60.0 * self.hours))
    }
}
