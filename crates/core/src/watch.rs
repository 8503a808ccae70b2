//! A dough that is rising now: when it was mixed, what was read at it, and what that makes of the
//! forecast.

use jiff::{SignedDuration, Timestamp};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::fault::{Check, Fault, Faults};
use crate::ferment::{ForecastInput, ForecastOutput, Poke, Reading, RiseInput, Which, forecast_with};
use crate::formula::Formula;
use crate::ingredient::Catalogue;
use crate::kitchen::{FrictionReading, Kitchen};
use crate::stations::{Stations, read};
use crate::thermal::WaterAction;
use crate::units::{Celsius, Minutes};

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
    /// When the bulk rise was over and dividing began.
    #[serde(default)]
    #[schemars(with = "Option<String>")]
    pub divided_at: Option<Timestamp>,
    /// Its readings, in the order they were taken.
    #[serde(default)]
    pub readings: Vec<TimedReading>,
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
        Watch { formula, mixed_at, measured: None, divided_at: None, readings: Vec::new() }
    }

    /// Checks times and figures.
    ///
    /// # Errors
    /// Each fault by its field; a reading's at `volume`, `dough`, `place` or `at`.
    pub fn check(&self, now: Timestamp) -> Result<(), Faults> {
        let mut c = Check::new();
        if let Some(t) = self.measured {
            c.range("measured", "The dough's temperature", t.0, 0.0, 60.0, "°C");
        }
        if self.mixed_at > now {
            c.note(Fault::new(
                "impossible",
                "mixed_at",
                "That is still to come. Give the time it was mixed.",
            ));
        }
        if now.duration_since(self.mixed_at) > SignedDuration::from_hours(96) {
            c.note(Fault::new("impossible", "mixed_at", "That is more than four days ago. Begin anew."));
        }
        if self.divided_at.is_some_and(|t| t < self.mixed_at || t > now) {
            let text = "It is divided after it was mixed, and not in the future.";
            c.note(Fault::new("impossible", "divided_at", text));
        }
        if self.readings.len() > READINGS_MAX {
            c.note(Fault::new("out-of-range", "at", format!("At most {READINGS_MAX} readings.")));
        }
        for r in &self.readings {
            if r.at < self.mixed_at || r.at > now {
                let text = "A reading is taken after the dough was mixed, and not in the future.";
                c.note(Fault::new("impossible", "at", text));
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
        }
        c.done(())
    }

    /// The plan that this dough was mixed by.
    ///
    /// # Errors
    /// A formula or kitchen that does not read.
    pub fn stations(&self, kitchen: &Kitchen, catalogue: &Catalogue) -> Result<Stations, Faults> {
        read(&self.formula, kitchen, catalogue, self.mixed_at)
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

    /// The rise that it is in, and since when.
    fn stage(&self, rise: &RiseInput) -> (Which, Timestamp) {
        match self.divided_at {
            Some(divided) => (Which::Proof, later(divided, rise.shaping)),
            None if !rise.bulk.rises() => (Which::Proof, later(self.mixed_at, rise.shaping)),
            None => (Which::Bulk, self.mixed_at),
        }
    }

    /// Which rise a moment belongs to, and the minutes since that began.
    fn moment(&self, at: Timestamp, rise: &RiseInput) -> (Which, Minutes) {
        let (which, began) = self.stage(rise);
        let since = |t: Timestamp| Minutes((at.duration_since(t).as_secs_f64() / 60.0).max(0.0));
        match which {
            Which::Proof if self.divided_at.is_some_and(|d| at < d) => (Which::Bulk, since(self.mixed_at)),
            _ => (which, since(began)),
        }
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
        let (which, began) = self.stage(&rise);
        let timed = |r: &TimedReading| {
            let (which, at) = self.moment(r.at, &rise);
            Reading { which, at, volume: r.volume, dough: r.dough, place: r.place, poke: r.poke }
        };
        let input = ForecastInput {
            which,
            bulk_took: self
                .divided_at
                .map(|d| Minutes(d.duration_since(self.mixed_at).as_secs_f64() / 60.0))
                // A second rise lies in that time too: then both go as planned.
                .filter(|_| rise.bulk.rises() && !rise.second.rises()),
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

/// What to do now (common practice, no source).
fn advice(which: Which, poke: Option<Poke>, elapsed: Minutes, forecast: &ForecastOutput) -> String {
    let f = &forecast.after;
    let over = f.stands_until.is_some_and(|until| elapsed > until) || (f.most <= 1.02 && elapsed > f.time);
    let text = match (which, poke) {
        (Which::Proof, Some(Poke::Stays)) => {
            "The dent stays: it is over-proofed. Bake it at once in a hot oven without scoring; or press it out, shape it again and let it rise for half as long; or make flat bread of it."
        }
        (Which::Proof, Some(Poke::Slowly)) => "The dent comes back slowly: it is ready. Into the oven.",
        (Which::Proof, Some(Poke::Springs)) => {
            "It springs back: not yet. Poke again when half of the time left is over."
        }
        _ if elapsed < f.early => "It is on its way. Look again at the early end of the time.",
        _ if over => "It has stood longer than it bears. Go on at once.",
        (Which::Bulk, _) if elapsed < f.time => "It may be ready any time now. Go by the mark on the tub.",
        (Which::Bulk, _) => "By the forecast it is ready. Go by the mark on the tub, then divide.",
        _ if elapsed < f.time => "It may be ready any time now. Poke it with a floured finger.",
        _ => "By the forecast it is ready. Poke it: when the dent comes back slowly, bake.",
    };
    text.to_owned()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formula::Style;
    use crate::mixing::Method;

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
        let absurd = Watch { measured: Some(Celsius(59.0)), ..watch(5.0) };
        assert!(absurd.friction(&s).is_none_or(|f| f.per_minute <= 4.0), "{:?}", Method::Hand);
    }

    #[test]
    fn impossible_times_and_figures_are_refused_at_their_fields() {
        let paths =
            |w: Watch| -> Vec<String> { w.check(now()).unwrap_err().0.into_iter().map(|f| f.path).collect() };
        assert_eq!(paths(watch(-5.0)), ["mixed_at"]);
        assert_eq!(paths(watch(60.0 * 200.0)), ["mixed_at"]);
        let with = |r: TimedReading| Watch { readings: vec![r], ..watch(60.0) };
        assert_eq!(paths(with(reading(90.0))), ["at", "volume"]);
        assert_eq!(paths(with(TimedReading { volume: Some(9.0), ..reading(5.0) })), ["volume"]);
        assert_eq!(paths(with(TimedReading { dough: Some(Celsius(99.0)), ..reading(5.0) })), ["dough"]);
    }
}
