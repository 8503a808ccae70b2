//! A dough that is rising now: when it was mixed, what was read at it, and what that makes of the
//! forecast.

mod advice;

use std::borrow::Cow;

use jiff::{SignedDuration, Timestamp};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::fault::{Check, Fault, Faults};
use crate::formula::Formula;
use crate::kitchen::{FrictionReading, Kitchen};
use crate::mix::WaterAction;
use crate::pantry::{Catalogue, Cupboard, OwnIngredient};
use crate::rise::{ForecastInput, ForecastOutput, Poke, Reading, RiseInput, Which, forecast_with};
use crate::stations::{Stations, read};
use crate::units::{Celsius, Minutes};
use advice::advice;

/// What is said of a dough that was mixed too long ago.
const STALE: &str = "This dough was mixed more than four days ago: nothing can be forecast of it any more. End it, and begin anew with the next.";

/// The most readings of one dough.
pub const READINGS_MAX: usize = 40;

/// A reading with the time it was taken at.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct TimedReading {
    /// When.
    #[schemars(with = "String")]
    pub at: Timestamp,
    /// Times the volume that this rise began with, 0.8 to 6.
    pub volume: Option<f64>,
    /// Dough temperature, 0 to 60 °C.
    pub dough: Option<Celsius>,
    /// Temperature of the place, 0 to 60 °C.
    pub place: Option<Celsius>,
    /// How a poke comes back.
    pub poke: Option<Poke>,
}

/// A dough that is rising.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Watch {
    /// The formula as it was when the dough was mixed.
    pub formula: Formula,
    /// When mixing was over.
    #[schemars(with = "String")]
    pub mixed_at: Timestamp,
    /// The dough's temperature then, as measured, 0 to 60 °C.
    #[serde(default)]
    pub measured: Option<Celsius>,
    /// When the bulk rise was over and the dough was knocked down, or folded, for its second rise.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(with = "Option<String>")]
    pub knocked_at: Option<Timestamp>,
    /// When the bulk rise, or the second one, was over and dividing began.
    #[serde(default)]
    #[schemars(with = "Option<String>")]
    pub divided_at: Option<Timestamp>,
    /// When shaping was over and the proof began, where that is known: as long after dividing as is planned otherwise.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(with = "Option<String>")]
    pub shaped_at: Option<Timestamp>,
    /// Its readings, in the order they were taken.
    #[serde(default)]
    pub readings: Vec<TimedReading>,
    /// The kitchen as it was when the dough was mixed: what is changed there later is not about it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub kitchen: Option<Box<Kitchen>>,
    /// The own ingredients that it was made of, as they were.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub own: Vec<OwnIngredient>,
}

/// What is known of a rising dough at a moment.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct WatchAnswer {
    /// The rise that it is in.
    pub which: Which,
    /// When that began; in the future while the pieces are being shaped.
    #[schemars(with = "String")]
    pub began: Timestamp,
    /// When it is likely ready.
    #[schemars(with = "String")]
    pub ready: Timestamp,
    /// The early end of what is likely.
    #[schemars(with = "String")]
    pub early: Timestamp,
    /// The late end.
    #[schemars(with = "String")]
    pub late: Timestamp,
    /// When it was forecast ready before any reading of this rise.
    #[schemars(with = "String")]
    pub planned: Timestamp,
    /// The forecast before and after the readings.
    pub forecast: ForecastOutput,
    /// Times the volume that this rise began with, now.
    pub volume: f64,
    /// What to do now, a sentence.
    pub advice: String,
}

impl Watch {
    /// A dough that has just been mixed.
    pub fn new(formula: Formula, mixed_at: Timestamp) -> Watch {
        Watch {
            formula,
            mixed_at,
            measured: None,
            knocked_at: None,
            divided_at: None,
            shaped_at: None,
            readings: Vec::new(),
            kitchen: None,
            own: Vec::new(),
        }
    }

    /// With the kitchen and the own ingredients as they are now.
    pub fn at_home(self, kitchen: &Kitchen, cupboard: &Cupboard) -> Watch {
        let own = cupboard.used_by(self.formula.keys());
        Watch { kitchen: Some(Box::new(kitchen.clone())), own, ..self }
    }

    /// Checks when it was mixed and how warm it was.
    ///
    /// # Errors
    /// Each fault at `mixed_at` or `measured`.
    pub fn check(&self, now: Timestamp) -> Result<(), Faults> {
        let mut c = Check::new();
        if let Some(t) = self.measured {
            c.range("measured", "The dough's temperature", t.0, 0.0, 60.0, "°C");
        }
        if self.mixed_at > now {
            let text = "That is still to come. Give the time it was mixed.";
            c.note(Fault::new("impossible", "mixed_at", text));
        }
        if self.is_stale(now) {
            c.note(Fault::new("impossible", "mixed_at", STALE));
        }
        c.done(())
    }

    /// Whether it was mixed so long ago that nothing can be forecast of it.
    pub fn is_stale(&self, now: Timestamp) -> bool {
        now.duration_since(self.mixed_at) > SignedDuration::from_hours(96)
    }

    /// Takes in one reading. Those before it are left alone: a clock that was put back since does not
    /// make them wrong.
    ///
    /// # Errors
    /// Each fault at `volume`, `dough`, `place` or `at`; a dough too old at `mixed_at`.
    pub fn take_reading(&mut self, r: TimedReading, now: Timestamp) -> Result<(), Faults> {
        let mut c = self.on_time("at", "A reading is taken", r.at, now);
        if self.readings.len() >= READINGS_MAX {
            c.note(Fault::new("out-of-range", "at", format!("At most {READINGS_MAX} readings.")));
        }
        if let Some(v) = r.volume {
            c.range("volume", "A dough's volume", v, 0.8, 6.0, "times");
        }
        if let Some(t) = r.dough {
            c.range("dough", "A dough's temperature", t.0, 0.0, 60.0, "°C");
        }
        if let Some(t) = r.place {
            c.range("place", "A place's temperature", t.0, 0.0, 60.0, "°C");
        }
        if r.volume.is_none() && r.dough.is_none() && r.place.is_none() && r.poke.is_none() {
            c.note(Fault::new("missing", "volume", "Give at least one figure of the reading."));
        }
        c.done(())?;
        self.readings.push(r);
        Ok(())
    }

    /// The bulk rise is over and dividing began.
    ///
    /// # Errors
    /// A time before it was mixed or still to come, at `divided_at`; a dough too old at `mixed_at`.
    pub fn divide(&mut self, at: Timestamp, now: Timestamp) -> Result<(), Faults> {
        self.on_time("divided_at", "It is divided", at, now).done(())?;
        self.divided_at = Some(at);
        Ok(())
    }

    /// The bulk rise is over, and the dough was knocked down or folded for its second rise.
    ///
    /// # Errors
    /// A time before it was mixed or still to come, at `divided_at`; a dough too old at `mixed_at`.
    pub fn knock_down(&mut self, at: Timestamp, now: Timestamp) -> Result<(), Faults> {
        self.on_time("divided_at", "It is knocked down", at, now).done(())?;
        self.knocked_at = Some(at);
        Ok(())
    }

    /// What happens to it happens after it was mixed, not in the future, and not to a dough too old.
    fn on_time(&self, path: &str, what: &str, at: Timestamp, now: Timestamp) -> Check {
        let mut c = Check::new();
        if self.is_stale(now) {
            c.note(Fault::new("impossible", "mixed_at", STALE));
        }
        // After a clock was put back, the mixing itself may seem to lie ahead.
        if at > now || (at < self.mixed_at && self.mixed_at <= now) {
            let text = format!("{what} after the dough was mixed, and not in the future.");
            c.note(Fault::new("impossible", path, text));
        }
        c
    }

    /// The kitchen that it was mixed in; the one given where that was not kept.
    fn its_kitchen<'a>(&'a self, now: &'a Kitchen) -> &'a Kitchen {
        self.kitchen.as_deref().unwrap_or(now)
    }

    /// What it was made of; the catalogue given where that was not kept.
    fn its_catalogue<'a>(&self, now: &'a Catalogue) -> Cow<'a, Catalogue> {
        if self.kitchen.is_none() || self.own.is_empty() {
            return Cow::Borrowed(now);
        }
        Cow::Owned(Catalogue::bundled().with(&self.own))
    }

    /// The plan that this dough was mixed by.
    ///
    /// # Errors
    /// A formula or kitchen that does not read.
    pub fn stations(&self, kitchen: &Kitchen, catalogue: &Catalogue) -> Result<Stations, Faults> {
        read(&self.formula, self.its_kitchen(kitchen), &self.its_catalogue(catalogue), self.mixed_at)
    }

    /// What mixing added, by the dough measured after it, K a minute; `None` where nothing was
    /// measured or nothing was worked.
    pub fn friction(&self, s: &Stations) -> Option<FrictionReading> {
        let measured = self.measured?;
        let expected = match &s.water_answer(self.formula.mix.school).action {
            WaterAction::Refused { dough } => *dough,
            WaterAction::NoLiquid => s.water.if_nothing_is_done,
            _ => self.formula.mix.desired,
        };
        let minutes = s.mix.kneading.0;
        let per_minute = (s.mix.rise + measured.0 - expected.0) / minutes;
        let believable = minutes >= 2.0 && (-1.0..=4.0).contains(&per_minute);
        believable.then_some(FrictionReading { method: self.formula.mix.method, per_minute })
    }

    /// The rises that are over or under way, with the moment each began.
    fn rises(&self, rise: &RiseInput) -> Vec<(Which, Timestamp)> {
        let mut all = Vec::new();
        if rise.bulk.rises() {
            all.push((Which::Bulk, self.mixed_at));
        }
        if let Some(knocked) = self.knocked_at.filter(|_| rise.second.rises()) {
            all.push((Which::Second, knocked));
        }
        let divided =
            if rise.bulk.rises() { self.divided_at } else { self.divided_at.or(Some(self.mixed_at)) };
        if let Some(divided) = divided {
            all.push((Which::Proof, self.shaped_at.unwrap_or(later(divided, rise.shaping))));
        }
        all
    }

    /// Which rise a moment belongs to, and the minutes since that began. What is read while the pieces
    /// are shaped belongs to the proof.
    fn moment(&self, at: Timestamp, rise: &RiseInput) -> (Which, Minutes) {
        let rises = self.rises(rise);
        let begun = |(which, began): &&(Which, Timestamp)| match which {
            Which::Proof => self.divided_at.is_none_or(|d| at >= d),
            _ => at >= *began,
        };
        let (which, began) = rises
            .iter()
            .rev()
            .find(begun)
            .or(rises.first())
            .copied()
            .unwrap_or((Which::Proof, self.mixed_at));
        (which, Minutes((at.duration_since(began).as_secs_f64() / 60.0).max(0.0)))
    }

    /// What the readings make of the forecast at `now`.
    ///
    /// # Errors
    /// A formula or kitchen that does not read, or a dough without a rise.
    pub fn answer(
        &self,
        kitchen: &Kitchen,
        catalogue: &Catalogue,
        now: Timestamp,
    ) -> Result<WatchAnswer, Faults> {
        let mut rise = self.stations(kitchen, catalogue)?.rise_input;
        if let Some(t) = self.measured {
            rise.start = t;
        }
        let (which, began) =
            self.rises(&rise).last().copied().unwrap_or((Which::Proof, later(self.mixed_at, rise.shaping)));
        let timed = |r: &TimedReading| {
            let (which, at) = self.moment(r.at, &rise);
            Reading { which, at, volume: r.volume, dough: r.dough, place: r.place, poke: r.poke }
        };
        let minutes = |from: Timestamp, to: Timestamp| {
            Minutes((to.duration_since(from).as_secs_f64() / 60.0).clamp(0.0, 60.0 * 72.0))
        };
        let (bulk, second) = (rise.bulk.rises(), rise.second.rises());
        let bulk_over = if second { self.knocked_at } else { self.divided_at };
        let input = ForecastInput {
            which,
            // A second rise that nobody told of lies in the time to dividing: then both go as planned.
            bulk_took: bulk_over.filter(|_| bulk).map(|d| minutes(self.mixed_at, d)),
            second_took: self.knocked_at.zip(self.divided_at).filter(|_| second).map(|(k, d)| minutes(k, d)),
            readings: self.readings.iter().map(timed).collect(),
            rise: rise.clone(),
        };
        let forecast = forecast_with(&input)?;
        let after = &forecast.after;
        let elapsed = self.moment(now, &rise).1;
        let start = after.curve.first().map_or(1.0, |m| m.volume);
        let at_now = after.curve.iter().rfind(|m| m.minutes <= elapsed.0 + 1e-6).or(after.curve.first());
        let last_poke = self.readings.iter().rev().find_map(|r| Some((self.moment(r.at, &rise).0, r.poke?)));
        let poke = last_poke.filter(|(w, _)| *w == which).map(|(_, p)| p);
        Ok(WatchAnswer {
            which,
            began,
            ready: later(began, after.time),
            early: later(began, after.early),
            late: later(began, after.late),
            planned: later(began, forecast.before.time),
            volume: at_now.map_or(1.0, |m| m.volume / start),
            advice: advice(which, poke, elapsed, &forecast),
            forecast,
        })
    }
}

/// A moment some minutes after another.
pub fn later(at: Timestamp, minutes: Minutes) -> Timestamp {
    at.checked_add(SignedDuration::from_secs((60.0 * minutes.0).round() as i64)).unwrap_or(at)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::words::Style;

    fn now() -> Timestamp {
        "2026-03-07T12:00:00Z".parse().unwrap()
    }

    fn watch(minutes_ago: f64) -> Watch {
        Watch::new(Formula::beginning("Loaf", Style::Tin), later(now(), Minutes(-minutes_ago)))
    }

    fn answer(w: &Watch) -> WatchAnswer {
        w.check(now()).unwrap();
        w.answer(&Kitchen::default(), Catalogue::bundled(), now()).unwrap()
    }

    fn reading(minutes_ago: f64) -> TimedReading {
        let at = later(now(), Minutes(-minutes_ago));
        TimedReading { at, volume: None, dough: None, place: None, poke: None }
    }

    /// What stood too long is not lost, and the baker is told what to do with it; before, it is told to wait.
    #[test]
    fn past_its_best_it_is_told_what_to_do() {
        let until = answer(&watch(10.0)).forecast.after.stands_until.expect("it falls at last").0;
        assert!(answer(&watch(until + 30.0)).advice.contains("not lost"));
        assert!(!answer(&watch(until - 10.0)).advice.contains("not lost"));
        let proofing = |minutes: f64| {
            let divided_at = Some(later(now(), Minutes(-minutes)));
            answer(&Watch { divided_at, ..watch(90.0 + minutes) })
        };
        let until = proofing(30.0).forecast.after.stands_until.expect("it falls at last").0;
        assert!(
            proofing(until + 60.0).advice.contains("Bake it at once"),
            "{}",
            proofing(until + 60.0).advice
        );
        assert!(!proofing(30.0).advice.contains("not lost"));
    }

    #[test]
    fn a_warmer_dough_moves_everything_downstream() {
        let plain = answer(&watch(20.0));
        let warm = answer(&Watch { measured: Some(Celsius(29.0)), ..watch(20.0) });
        assert!(warm.ready < plain.ready && plain.ready == plain.planned);
        assert_eq!((plain.which, plain.began), (Which::Bulk, watch(20.0).mixed_at));
    }

    #[test]
    fn dividing_begins_the_proof_and_early_readings_stay_with_the_bulk() {
        let mut w = watch(150.0);
        w.divided_at = Some(later(now(), Minutes(-60.0)));
        w.readings = vec![TimedReading { volume: Some(1.7), ..reading(70.0) }];
        let bulk_read = answer(&w);
        assert_eq!(bulk_read.which, Which::Proof);
        assert!(bulk_read.began > w.divided_at.unwrap(), "after shaping");
        w.readings.push(TimedReading { poke: Some(Poke::Slowly), ..reading(2.0) });
        let poked = answer(&w);
        assert!(poked.advice.contains("ready"), "{}", poked.advice);
        w.readings.push(TimedReading { poke: Some(Poke::Stays), ..reading(1.0) });
        assert!(answer(&w).advice.contains("over-proofed"));
    }

    #[test]
    fn friction_is_what_the_dough_has_over_the_plan() {
        let w = Watch { measured: Some(Celsius(27.0)), ..watch(5.0) };
        let s = w.stations(&Kitchen::default(), Catalogue::bundled()).unwrap();
        let f = w.friction(&s).unwrap();
        let minutes = s.mix.kneading.0;
        let expected = (s.mix.rise + 27.0 - w.formula.mix.desired.0) / minutes;
        assert!((f.per_minute - expected).abs() < 1e-9 && f.method == w.formula.mix.method);
        assert_eq!(watch(5.0).friction(&s), None, "nothing measured");
        let most = 27.0 + (4.0 - expected) * minutes;
        let hot = |t: f64| Watch { measured: Some(Celsius(t)), ..watch(5.0) };
        assert!(hot(most - 0.1).friction(&s).is_some());
        assert_eq!(hot(most + 0.1).friction(&s), None, "over 4 K a minute nobody warms a dough");
    }

    #[test]
    fn impossible_times_and_figures_are_refused_at_their_fields() {
        let paths =
            |r: Result<(), Faults>| -> Vec<String> { r.unwrap_err().0.into_iter().map(|f| f.path).collect() };
        assert_eq!(paths(watch(-5.0).check(now())), ["mixed_at"]);
        assert_eq!(paths(watch(60.0 * 200.0).check(now())), ["mixed_at"]);
        let with = |r: TimedReading| watch(60.0).take_reading(r, now());
        assert_eq!(paths(with(reading(90.0))), ["at", "volume"]);
        assert_eq!(paths(with(TimedReading { volume: Some(9.0), ..reading(5.0) })), ["volume"]);
        assert_eq!(paths(with(TimedReading { dough: Some(Celsius(99.0)), ..reading(5.0) })), ["dough"]);
        assert_eq!(paths(watch(60.0).divide(later(now(), Minutes(9.0)), now())), ["divided_at"]);
        let old = TimedReading { volume: Some(1.5), ..reading(5.0) };
        assert_eq!(paths(watch(60.0 * 24.0 * 365.0).take_reading(old, now())), ["mixed_at"]);
    }

    /// A second rise is watched as the others are: its readings move it, and it goes on to the proof.
    #[test]
    fn a_second_rise_is_watched() {
        let mut w = watch(200.0);
        w.formula.rise.second = crate::rise::RiseWish::to(1.8, None);
        assert_eq!(answer(&w).which, Which::Bulk);
        w.knock_down(later(now(), Minutes(-60.0)), now()).unwrap();
        let before = answer(&w);
        assert_eq!((before.which, before.began), (Which::Second, later(now(), Minutes(-60.0))));
        let slow = TimedReading { volume: Some(before.volume * 0.8), ..reading(1.0) };
        w.take_reading(slow, now()).unwrap();
        let after = answer(&w);
        assert!(after.ready > before.ready, "a slow second rise is ready later");
        w.divide(later(now(), Minutes(-0.5)), now()).unwrap();
        assert_eq!(answer(&w).which, Which::Proof);
    }

    /// A clock that was put back leaves readings, and the mixing itself, in the future.
    #[test]
    fn a_clock_put_back_blocks_nothing() {
        let mut w = watch(60.0);
        w.readings.push(TimedReading { volume: Some(1.2), ..reading(-50.0) });
        w.take_reading(TimedReading { volume: Some(1.3), ..reading(1.0) }, now()).unwrap();
        let mut ahead = watch(-30.0);
        ahead.take_reading(TimedReading { volume: Some(1.1), ..reading(0.0) }, now()).unwrap();
        ahead.divide(now(), now()).unwrap();
        ahead.answer(&Kitchen::default(), Catalogue::bundled(), now()).unwrap();
    }

    /// What the kitchen and the cupboard are changed to later is not about a dough that was mixed.
    #[test]
    fn a_dough_keeps_the_kitchen_and_the_flour_it_was_mixed_with() {
        let own = OwnIngredient {
            key: "own-mill".into(),
            name: "Mill flour".into(),
            like: "bread-flour".into(),
            ..OwnIngredient::default()
        };
        let cupboard = Cupboard { own: vec![own], ..Cupboard::default() };
        let mut formula = Formula::beginning("Loaf", Style::Tin);
        formula.lines[0].ingredient = "own-mill".into();
        let kitchen = Kitchen::default();
        let w = Watch::new(formula, later(now(), Minutes(-40.0))).at_home(&kitchen, &cupboard);
        let before = w.answer(&kitchen, &Catalogue::bundled().with(&cupboard.own), now()).unwrap();
        let warmer = Kitchen { room: Celsius(29.0), ..Kitchen::default() };
        let after = w.answer(&warmer, Catalogue::bundled(), now()).unwrap();
        assert_eq!((before.ready, before.volume), (after.ready, after.volume));
    }
}
