//! Ovens and mixers beside the usual ones.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::{FrictionReading, Kitchen};
use crate::fault::{Check, Fault};
use crate::oven::{HotSide, Marks, OvenReading};
use crate::units::{Celsius, Grams, Minutes};
use crate::words::Method;

/// The most ovens, and the most mixers, beside the usual one.
pub const FURTHER_MAX: usize = 4;

/// An oven beside the usual one.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(default)]
pub struct FurtherOven {
    /// Its name, 1 to 40 characters.
    pub name: String,
    /// What it really has over its dial, K, −60 to 60.
    pub offset: f64,
    /// Whether its fan is usually on.
    pub fan: bool,
    /// Minutes it takes to 200 °C, 1 to 90.
    pub preheat: Minutes,
    /// Time constant with which it comes back after the door was open, 1 to 30 min.
    pub recovery: Minutes,
    /// The hottest that its dial goes, 150 to 320 °C.
    pub hottest: Celsius,
    /// The side on which it is hotter.
    pub hot: HotSide,
    /// The marks on its dial.
    pub marks: Marks,
    /// How many trays bake in it at a time, 1 to 4.
    pub levels: u32,
    /// What it showed.
    pub readings: Vec<OvenReading>,
}

impl Default for FurtherOven {
    fn default() -> Self {
        Kitchen::default().usual_oven()
    }
}

/// A mixer beside the usual one.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FurtherMixer {
    /// Its name, 1 to 40 characters.
    pub name: String,
    /// Its speeds in turns of the hook a minute, slowest first, 2 to 8 of them.
    pub speeds: Vec<f64>,
    /// The most dough that its maker allows, 100 to 20 000 g.
    #[serde(default)]
    pub limit: Option<Grams>,
    /// What mixing in it warmed doughs by.
    #[serde(default)]
    pub friction: Vec<FrictionReading>,
}

impl Kitchen {
    /// The usual oven, as the others are kept.
    pub fn usual_oven(&self) -> FurtherOven {
        FurtherOven {
            name: self.oven_name.clone(),
            offset: self.oven_offset,
            fan: self.oven_fan,
            preheat: self.oven_preheat,
            recovery: self.oven_recovery,
            hottest: self.oven_hottest,
            hot: self.oven_hot,
            marks: self.oven_marks,
            levels: self.oven_levels,
            readings: self.oven_readings.clone(),
        }
    }

    /// This kitchen with another oven and another mixer for the usual ones; where there is none of that name, the
    /// usual one stays.
    pub fn with(&self, oven: &str, mixer: &str) -> Kitchen {
        let mut kitchen = self.clone();
        if let Some(o) = self.ovens.iter().find(|o| o.name == oven).cloned() {
            kitchen.oven_name = o.name;
            kitchen.oven_offset = o.offset;
            kitchen.oven_fan = o.fan;
            kitchen.oven_preheat = o.preheat;
            kitchen.oven_recovery = o.recovery;
            kitchen.oven_hottest = o.hottest;
            kitchen.oven_hot = o.hot;
            kitchen.oven_marks = o.marks;
            kitchen.oven_levels = o.levels;
            kitchen.oven_readings = o.readings;
        }
        if let Some(m) = self.mixers.iter().find(|m| m.name == mixer).cloned() {
            kitchen.mixer_name = m.name;
            kitchen.mixer_speeds = m.speeds;
            kitchen.mixer_limit = m.limit;
            // What hands warm a dough by is the same beside any mixer.
            kitchen.friction.retain(|f| !by_a_mixer(f.method));
            kitchen.friction.extend(m.friction);
        }
        kitchen
    }

    /// Every oven by its name, the usual one first.
    pub fn oven_names(&self) -> Vec<&str> {
        names(&self.oven_name, "The oven", self.ovens.iter().map(|o| o.name.as_str()))
    }

    /// Every mixer by its name, the usual one first.
    pub fn mixer_names(&self) -> Vec<&str> {
        names(&self.mixer_name, "The mixer", self.mixers.iter().map(|m| m.name.as_str()))
    }

    /// Notes what is out of order.
    pub(super) fn check_further(&self, c: &mut Check) {
        let mut seen = vec![self.oven_name.trim().to_lowercase()];
        for (i, o) in self.ovens.iter().enumerate() {
            let at = |field: &str| format!("ovens.{i}.{field}");
            check_name(c, &at("name"), &o.name, &mut seen);
            super::OVEN_OFFSET.check(c, &at("offset"), o.offset);
            super::OVEN_PREHEAT.check(c, &at("preheat"), o.preheat.0);
            super::OVEN_RECOVERY.check(c, &at("recovery"), o.recovery.0);
            super::OVEN_HOTTEST.check(c, &at("hottest"), o.hottest.0);
            super::OVEN_LEVELS.check(c, &at("levels"), f64::from(o.levels));
            for (j, reading) in o.readings.iter().enumerate() {
                reading.check(c, &at(&format!("readings.{j}")));
            }
        }
        let mut seen = vec![self.mixer_name.trim().to_lowercase()];
        for (i, m) in self.mixers.iter().enumerate() {
            check_name(c, &format!("mixers.{i}.name"), &m.name, &mut seen);
            super::check_speeds(c, &format!("mixers.{i}.speeds"), &m.speeds);
            super::MIXER_LIMIT.check_some(c, &format!("mixers.{i}.limit"), m.limit.map(|g| g.0));
        }
        for (list, count) in [("ovens", self.ovens.len()), ("mixers", self.mixers.len())] {
            if count > FURTHER_MAX {
                c.note(Fault::new(
                    "out-of-range",
                    list,
                    format!("At most {FURTHER_MAX} beside the usual one."),
                ));
            }
        }
    }
}

/// Whether a way of mixing goes by one of the kitchen's mixers.
pub(super) fn by_a_mixer(method: Method) -> bool {
    matches!(method, Method::Mixer | Method::Paddle)
}

fn names<'a>(usual: &'a str, otherwise: &'a str, further: impl Iterator<Item = &'a str>) -> Vec<&'a str> {
    let usual = if usual.is_empty() { otherwise } else { usual };
    std::iter::once(usual).chain(further).collect()
}

fn check_name(c: &mut Check, path: &str, name: &str, seen: &mut Vec<String>) {
    let key = name.trim().to_lowercase();
    if key.is_empty() || name.chars().count() > 40 {
        c.note(Fault::new("missing", path, "Give it a name of 1 to 40 characters."));
    } else if seen.contains(&key) {
        c.note(Fault::new("impossible", path, "There is another of this name."));
    }
    seen.push(key);
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn another_oven_and_mixer_take_the_place_of_the_usual_ones() {
        let reading = |method, per_minute| FrictionReading { method, per_minute };
        let oven =
            FurtherOven { name: "Stone oven".into(), hottest: Celsius(320.0), ..FurtherOven::default() };
        let mixer = FurtherMixer {
            name: "Small one".into(),
            speeds: vec![40.0, 80.0],
            limit: None,
            friction: vec![reading(Method::Mixer, 1.1)],
        };
        let kitchen = Kitchen {
            ovens: vec![oven],
            mixers: vec![mixer],
            friction: vec![reading(Method::Hand, 0.3), reading(Method::Mixer, 0.6)],
            ..Kitchen::default()
        };
        kitchen.check().unwrap();
        let there = kitchen.with("Stone oven", "Small one");
        assert_eq!((there.oven_hottest, there.mixer_speeds.len()), (Celsius(320.0), 2));
        assert_eq!(there.friction, [reading(Method::Hand, 0.3), reading(Method::Mixer, 1.1)]);
        assert_eq!(kitchen.with("", "nothing of that name"), kitchen);
        // What is measured there is learned there; what hands add is the household's.
        let mut taught = kitchen.clone();
        taught.learn_friction("Small one", reading(Method::Mixer, 1.3));
        taught.learn_friction("Small one", reading(Method::Hand, 0.2));
        assert_eq!((taught.mixers[0].friction.len(), taught.friction.len()), (2, 3));
    }

    #[test]
    fn two_of_one_name_are_refused() {
        let oven = FurtherOven { name: "big".into(), ..FurtherOven::default() };
        let kitchen = Kitchen { oven_name: "Big".into(), ovens: vec![oven], ..Kitchen::default() };
        assert_eq!(kitchen.check().unwrap_err().0[0].path, "ovens.0.name");
    }
}
