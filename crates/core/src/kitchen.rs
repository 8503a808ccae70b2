//! The kitchen: what stays the same from one bake to the next.

use jiff::civil::{Time, time};
use jiff::tz::TimeZone;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::fault::{Check, Fault, Faults};
use crate::formula::Counting;
use crate::measures::Measures;
use crate::units::{Celsius, Grams, Minutes};

choice! {
    /// How temperatures are shown. Weights are always in grams.
    #[derive(Default)]
    TemperatureUnits {
        /// Degrees Celsius.
        #[default]
        Celsius = "celsius", "Grams and °C";
        /// Degrees Celsius with Fahrenheit beside them.
        Both = "both", "Grams, °C and °F";
    }
}

choice! {
    /// How fine the scale at hand weighs.
    #[derive(Default)]
    Scale {
        /// Whole grams; tiny amounts by the spoon.
        #[default]
        Gram = "gram", "1 g";
        /// Tenths.
        Tenth = "tenth", "0.1 g";
    }
}

impl Scale {
    /// Its step in grams.
    pub fn step(self) -> f64 {
        match self {
            Scale::Gram => 1.0,
            Scale::Tenth => 0.1,
        }
    }
}

choice! {
    /// The eggs that are usually in the house.
    #[derive(Default)]
    EggSize {
        /// 38 g out of the shell.
        Small = "small", "small, 38 g";
        /// 44 g.
        Medium = "medium", "medium, 44 g";
        /// 50 g.
        #[default]
        Large = "large", "large, 50 g";
        /// 56 g.
        ExtraLarge = "extra-large", "extra large, 56 g";
    }
}

impl EggSize {
    /// Out of the shell, g (USDA SR, recalled).
    pub fn grams(self) -> f64 {
        match self {
            EggSize::Small => 38.0,
            EggSize::Medium => 44.0,
            EggSize::Large => 50.0,
            EggSize::ExtraLarge => 56.0,
        }
    }
}

/// A pan of the house.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Pan {
    /// Its name, 1 to 40 characters.
    pub name: String,
    /// What it holds to the rim, 50 to 20 000 ml.
    pub ml: f64,
}

/// The most pans of a kitchen.
pub const PANS_MAX: usize = 24;

/// One household's kitchen.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(default)]
pub struct Kitchen {
    /// How temperatures are shown.
    pub units: TemperatureUnits,
    /// Time zone by its IANA name, such as `Europe/Paris`.
    pub time_zone: String,
    /// Usual room temperature, 0 to 45 °C.
    pub room: Celsius,
    /// Fridge, −2 to 12 °C.
    pub fridge: Celsius,
    /// Cold tap water, 0 to 40 °C.
    pub tap: Celsius,
    /// What the oven really has over its dial, K, −60 to 60.
    pub oven_offset: f64,
    /// Whether the fan is usually on.
    pub oven_fan: bool,
    /// Minutes the oven takes to 200 °C, 1 to 90.
    pub oven_preheat: Minutes,
    /// The mixer's speeds in turns of the hook a minute, slowest first, 2 to 8 of them.
    pub mixer_speeds: Vec<f64>,
    /// Mass of the mixing bowl, 0 to 10 000 g.
    pub bowl: Grams,
    /// Altitude in metres, −430 to 4500.
    pub altitude: f64,
    /// When sleep begins.
    #[schemars(with = "String")]
    pub sleep_from: Time,
    /// When sleep ends.
    #[schemars(with = "String")]
    pub sleep_to: Time,
    /// How a starter is counted.
    pub counting: Counting,
    /// How fine the scale at hand weighs.
    pub scale: Scale,
    /// The eggs that are usually in the house.
    pub eggs: EggSize,
    /// Which cup and tablespoon are meant.
    pub measures: Measures,
    /// Its pans.
    pub pans: Vec<Pan>,
    /// What prices are in, at most 4 characters.
    pub currency: String,
}

impl Default for Kitchen {
    fn default() -> Self {
        Kitchen {
            units: TemperatureUnits::Celsius,
            time_zone: "UTC".into(),
            room: Celsius(21.0),
            fridge: Celsius(4.0),
            tap: Celsius(14.0),
            oven_offset: 0.0,
            oven_fan: false,
            oven_preheat: Minutes(15.0),
            mixer_speeds: vec![60.0, 95.0, 130.0, 180.0],
            bowl: Grams(800.0),
            altitude: 0.0,
            sleep_from: time(22, 30, 0, 0),
            sleep_to: time(6, 30, 0, 0),
            counting: Counting::default(),
            scale: Scale::default(),
            eggs: EggSize::default(),
            measures: Measures::default(),
            pans: Vec::new(),
            currency: "€".into(),
        }
    }
}

impl Kitchen {
    /// Checks every figure.
    ///
    /// # Errors
    /// Each figure outside its range and an unknown time zone, by their fields.
    pub fn check(&self) -> Result<(), Faults> {
        let mut c = Check::new();
        c.range("room", "The room temperature", self.room.0, 0.0, 45.0, "°C");
        c.range("fridge", "The fridge", self.fridge.0, -2.0, 12.0, "°C");
        c.range("tap", "Tap water", self.tap.0, 0.0, 40.0, "°C");
        c.range("oven_offset", "The oven's offset", self.oven_offset, -60.0, 60.0, "°C");
        c.range("oven_preheat", "Preheating", self.oven_preheat.0, 1.0, 90.0, "min");
        c.range("bowl", "The bowl", self.bowl.0, 0.0, 10_000.0, "g");
        c.range("altitude", "Altitude", self.altitude, -430.0, 4500.0, "m");
        if !(2..=8).contains(&self.mixer_speeds.len()) {
            c.note(Fault::new(
                "out-of-range",
                "mixer_speeds",
                "Give two to eight speeds, slowest first, such as 60, 95, 130.",
            ));
        }
        c.length("currency", "The currency", &self.currency, 4);
        if self.pans.len() > PANS_MAX {
            c.note(Fault::new("out-of-range", "pans", format!("At most {PANS_MAX} pans.")));
        }
        for (i, pan) in self.pans.iter().enumerate() {
            if pan.name.trim().is_empty() || pan.name.chars().count() > 40 {
                let text = "Give the pan a name of 1 to 40 characters.";
                c.note(Fault::new("missing", format!("pans.{i}.name"), text));
            }
            c.range(&format!("pans.{i}.ml"), "A pan", pan.ml, 50.0, 20_000.0, "ml");
        }
        for s in &self.mixer_speeds {
            c.range("mixer_speeds", "A mixer speed", *s, 20.0, 400.0, "turns a minute");
        }
        if self.mixer_speeds.windows(2).any(|w| w[0] >= w[1]) {
            c.note(Fault::new("impossible", "mixer_speeds", "Give the speeds from slowest to fastest."));
        }
        if self.zone().is_none() {
            let text = format!(
                "“{}” is not a time zone. Pick one from the list, such as Europe/Paris.",
                self.time_zone
            );
            c.note(Fault::new("unknown", "time_zone", text));
        }
        c.done(())
    }

    /// Its time zone, if the name is known.
    pub fn zone(&self) -> Option<TimeZone> {
        TimeZone::get(&self.time_zone).ok()
    }

    /// Whether the baker sleeps at this time of day.
    pub fn asleep(&self, t: Time) -> bool {
        let (from, to) = (self.sleep_from, self.sleep_to);
        if from <= to { from <= t && t < to } else { t >= from || t < to }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_new_kitchen_is_in_order() {
        Kitchen::default().check().unwrap();
    }

    #[test]
    fn sleep_goes_over_midnight() {
        let k = Kitchen::default();
        assert!(k.asleep(time(23, 0, 0, 0)) && k.asleep(time(3, 0, 0, 0)));
        assert!(!k.asleep(time(6, 30, 0, 0)) && !k.asleep(time(12, 0, 0, 0)));
    }

    #[test]
    fn faults_name_their_fields() {
        let k = Kitchen {
            time_zone: "Nowhere/Mill".into(),
            room: Celsius(80.0),
            mixer_speeds: vec![95.0, 60.0],
            ..Kitchen::default()
        };
        let paths: Vec<_> = k.check().unwrap_err().0.into_iter().map(|f| f.path).collect();
        assert_eq!(paths, ["room", "mixer_speeds", "time_zone"]);
    }
}
