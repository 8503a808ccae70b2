//! The kitchen: what stays the same from one bake to the next.

mod equipment;
mod hours;
mod instruments;

use equipment::by_a_mixer;
pub use equipment::{FURTHER_MAX, FurtherMixer, FurtherOven};
pub use hours::{AWAY_MAX, Away, Helper, Hours, Night, Weekday, covers};
pub use instruments::{INSTRUMENTS_MAX, Instrument, InstrumentKind};

use jiff::civil::{Time, time};
use jiff::tz::TimeZone;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::fault::{Check, Fault, Faults};
use crate::notation::{ClockFace, Lengths, Notation, Temperatures, Weights};
use crate::oven::{HotSide, Marks, Oven, OvenReading};
use crate::pantry::{FLOUR_CUP, Measures};
use crate::range::Range;
use crate::rise::{LEG_PLACE, NIGHT as PLACE_NIGHT};
use crate::shape::Pan;
use crate::units::{Celsius, Grams, Minutes};
use crate::words::{Counting, Method};

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

/// The most pans of a kitchen.
pub const PANS_MAX: usize = 24;

/// A place where dough can stand: a proofing box, the oven with its lamp on, a cellar.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct KitchenPlace {
    /// Its name, 1 to 40 characters.
    pub name: String,
    /// Its temperature by day, 0 to 45 °C.
    pub temperature: Celsius,
    /// How much cooler it gets by night, 0 to 15 K.
    #[serde(default)]
    pub night: f64,
    /// How many tubs or trays it has room for, 1 to 20; no matter when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tubs: Option<u32>,
    /// What a thermometer in it showed when it was meant to have that, °C; not measured when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub measured: Option<Celsius>,
}

impl KitchenPlace {
    /// How warm it really is: as it was measured, or as it was set.
    pub fn really(&self) -> Celsius {
        self.measured.unwrap_or(self.temperature)
    }
}

/// The most places of a kitchen.
pub const PLACES_MAX: usize = 12;

/// What mixing warmed a dough by, as it was measured once.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FrictionReading {
    /// How it was mixed.
    pub method: Method,
    /// K a minute of working the dough, −1 to 4.
    pub per_minute: f64,
}

/// The most friction readings that are kept: the newest count.
pub const FRICTION_MAX: usize = 30;

/// The most oven readings that are kept.
pub const OVEN_READINGS_MAX: usize = 20;

/// How many readings the method's usual friction counts for.
const FRICTION_PRIOR: f64 = 2.0;

/// One household's kitchen.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(default)]
pub struct Kitchen {
    /// How temperatures are shown.
    pub units: Temperatures,
    /// How weights are shown.
    pub weights: Weights,
    /// How lengths are shown.
    pub lengths: Lengths,
    /// How times of day are shown.
    pub clock: ClockFace,
    /// Time zone by its IANA name, such as `Europe/Paris`.
    pub time_zone: String,
    /// Usual room temperature, 0 to 45 °C.
    pub room: Celsius,
    /// Fridge, −2 to 12 °C.
    pub fridge: Celsius,
    /// How much room the fridge has for dough, 0.5 to 400 l; no matter when left out.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub fridge_room: Option<f64>,
    /// Cold tap water, 0 to 40 °C.
    pub tap: Celsius,
    /// The usual oven's name, at most 40 characters.
    pub oven_name: String,
    /// The marks on its dial.
    pub oven_marks: Marks,
    /// How many trays bake in it at a time, 1 to 4.
    pub oven_levels: u32,
    /// What the oven really has over its dial, K, −60 to 60.
    pub oven_offset: f64,
    /// Whether the fan is usually on.
    pub oven_fan: bool,
    /// Minutes the oven takes to 200 °C, 1 to 90.
    pub oven_preheat: Minutes,
    /// Time constant with which it comes back after the door was open, 1 to 30 min.
    pub oven_recovery: Minutes,
    /// The hottest that its dial goes, 150 to 320 °C.
    pub oven_hottest: Celsius,
    /// The side on which it is hotter.
    pub oven_hot: HotSide,
    /// What it showed: thermometer readings and bakes, the newest last.
    pub oven_readings: Vec<OvenReading>,
    /// Ovens beside the usual one.
    pub ovens: Vec<FurtherOven>,
    /// The usual mixer's name, at most 40 characters.
    pub mixer_name: String,
    /// Mixers beside the usual one.
    pub mixers: Vec<FurtherMixer>,
    /// The mixer's speeds in turns of the hook a minute, slowest first, 2 to 8 of them.
    pub mixer_speeds: Vec<f64>,
    /// Mass of the mixing bowl, 0 to 10 000 g.
    pub bowl: Grams,
    /// Altitude in metres, −430 to 4500.
    pub altitude: f64,
    /// When sleep begins on an ordinary evening.
    #[schemars(with = "String")]
    pub sleep_from: Time,
    /// When it ends.
    #[schemars(with = "String")]
    pub sleep_to: Time,
    /// How long the baker gets up for if need be, 0 to 120 min.
    pub wakes_for: Minutes,
    /// Nights that are otherwise, one an evening of the week.
    pub nights: Vec<Night>,
    /// Away from the bench.
    pub away: Vec<Away>,
    /// When a second pair of hands is there.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub helpers: Vec<Helper>,
    /// How often a kept culture is fed before it raises a dough, 0 to 3: none that stands in the room and is fed daily,
    /// once or twice one from the fridge.
    #[serde(skip_serializing_if = "is_none")]
    pub culture_feeds: u32,
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
    /// Its baking tray, length and width in cm, 10 to 100.
    pub tray: (f64, f64),
    /// What prices are in, at most 4 characters.
    pub currency: String,
    /// How much cooler the room gets by night than it is by day, 0 to 12 K.
    pub night: f64,
    /// Further places where dough can stand.
    pub places: Vec<KitchenPlace>,
    /// Inner width of the straight-sided tub, cm, 5 to 60; none when left out.
    pub tub: Option<f64>,
    /// The most dough that the mixer's maker allows, at about 60 % hydration, 100 to 20 000 g.
    pub mixer_limit: Option<Grams>,
    /// What mixing warmed earlier doughs by.
    pub friction: Vec<FrictionReading>,
    /// Instruments of the bench.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    pub instruments: Vec<Instrument>,
}

impl Default for Kitchen {
    fn default() -> Self {
        Kitchen {
            units: Temperatures::default(),
            weights: Weights::default(),
            lengths: Lengths::default(),
            clock: ClockFace::default(),
            time_zone: "UTC".into(),
            room: Celsius(21.0),
            fridge: Celsius(4.0),
            fridge_room: None,
            tap: Celsius(14.0),
            oven_name: String::new(),
            oven_marks: Marks::default(),
            oven_levels: 2,
            oven_offset: 0.0,
            oven_fan: false,
            oven_preheat: Minutes(15.0),
            oven_recovery: Minutes(6.0),
            oven_hottest: Celsius(275.0),
            oven_hot: HotSide::default(),
            oven_readings: Vec::new(),
            ovens: Vec::new(),
            mixer_name: String::new(),
            mixers: Vec::new(),
            mixer_speeds: vec![60.0, 95.0, 130.0, 180.0],
            bowl: Grams(800.0),
            altitude: 0.0,
            sleep_from: time(22, 30, 0, 0),
            sleep_to: time(6, 30, 0, 0),
            wakes_for: Minutes(0.0),
            nights: Vec::new(),
            away: Vec::new(),
            helpers: Vec::new(),
            culture_feeds: 0,
            counting: Counting::default(),
            scale: Scale::default(),
            eggs: EggSize::default(),
            measures: Measures::default(),
            pans: Vec::new(),
            tray: (40.0, 32.0),
            currency: "€".into(),
            night: 0.0,
            places: Vec::new(),
            tub: None,
            mixer_limit: None,
            friction: Vec::new(),
            instruments: Vec::new(),
        }
    }
}

fn is_none(n: &u32) -> bool {
    *n == 0
}

const ROOM: Range = Range::of("The room temperature", 0.0, 45.0, "°C");
const FRIDGE: Range = Range::of("The fridge", -2.0, 12.0, "°C");
const FRIDGE_ROOM: Range = Range::of("The fridge's room for dough", 0.5, 400.0, "l");
const PAN_COUNT: Range = Range::of("How many there are", 1.0, 40.0, "");
const TAP: Range = Range::of("Tap water", 0.0, 40.0, "°C");
const OVEN_OFFSET: Range = Range::of("The oven's offset", -60.0, 60.0, "°C");
const OVEN_PREHEAT: Range = Range::of("Preheating", 1.0, 90.0, "min");
const OVEN_RECOVERY: Range = Range::of("The oven's recovery", 1.0, 30.0, "min");
const OVEN_HOTTEST: Range = Range::of("The dial's end", 150.0, 320.0, "°C");
const OVEN_LEVELS: Range = Range::of("The trays at a time", 1.0, 4.0, "");
const CULTURE_FEEDS: Range = Range::of("The feeds before a bake", 0.0, 3.0, "");
const TUBS: Range = Range::of("The room for tubs", 1.0, 20.0, "");
const BOWL: Range = Range::of("The bowl", 0.0, 10_000.0, "g");
const ALTITUDE: Range = Range::of("Altitude", -430.0, 4500.0, "m");
const TRAY_LENGTH: Range = Range::of("The tray's length", 10.0, 100.0, "cm");
const TRAY_WIDTH: Range = Range::of("The tray's width", 10.0, 100.0, "cm");
const NIGHT: Range = Range::of("The night", 0.0, 12.0, "K");
const TUB: Range = Range::of("The tub", 5.0, 60.0, "cm");
const MIXER_LIMIT: Range = Range::of("The mixer's limit", 100.0, 20_000.0, "g");
const MIXER_SPEEDS: Range = Range::of("A mixer speed", 20.0, 400.0, "turns a minute");

/// Notes what is wrong with a mixer's speeds.
fn check_speeds(c: &mut Check, path: &str, speeds: &[f64]) {
    if !(2..=8).contains(&speeds.len()) {
        let text = "Give two to eight speeds, slowest first, such as 60, 95, 130.";
        c.note(Fault::new("out-of-range", path, text));
    }
    for s in speeds {
        MIXER_SPEEDS.check(c, path, *s);
    }
    if speeds.windows(2).any(|w| w[0] >= w[1]) {
        c.note(Fault::new("impossible", path, "Give the speeds from slowest to fastest."));
    }
}

impl Kitchen {
    /// Checks every figure.
    ///
    /// # Errors
    /// Each figure outside its range and an unknown time zone, by their fields.
    pub fn check(&self) -> Result<(), Faults> {
        let mut c = Check::new();
        ROOM.check(&mut c, "room", self.room.0);
        FRIDGE.check(&mut c, "fridge", self.fridge.0);
        FRIDGE_ROOM.check_some(&mut c, "fridge_room", self.fridge_room);
        TAP.check(&mut c, "tap", self.tap.0);
        OVEN_OFFSET.check(&mut c, "oven_offset", self.oven_offset);
        OVEN_PREHEAT.check(&mut c, "oven_preheat", self.oven_preheat.0);
        OVEN_RECOVERY.check(&mut c, "oven_recovery", self.oven_recovery.0);
        OVEN_HOTTEST.check(&mut c, "oven_hottest", self.oven_hottest.0);
        BOWL.check(&mut c, "bowl", self.bowl.0);
        ALTITUDE.check(&mut c, "altitude", self.altitude);
        instruments::check(&mut c, &self.instruments);
        CULTURE_FEEDS.check(&mut c, "culture_feeds", f64::from(self.culture_feeds));
        OVEN_LEVELS.check(&mut c, "oven_levels", f64::from(self.oven_levels));
        check_speeds(&mut c, "mixer_speeds", &self.mixer_speeds);
        c.length("oven_name", "The oven's name", &self.oven_name, 40);
        c.length("mixer_name", "The mixer's name", &self.mixer_name, 40);
        self.check_further(&mut c);
        self.hours().check(&mut c);
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
            PAN_COUNT.check_some(&mut c, &format!("pans.{i}.count"), pan.count.map(f64::from));
            if let Some(form) = &pan.form {
                form.check(&mut c, &format!("pans.{i}.form"));
            }
        }
        TRAY_LENGTH.check(&mut c, "tray_length", self.tray.0);
        TRAY_WIDTH.check(&mut c, "tray_width", self.tray.1);
        NIGHT.check(&mut c, "night", self.night);
        if self.places.len() > PLACES_MAX {
            c.note(Fault::new("out-of-range", "places", format!("At most {PLACES_MAX} places.")));
        }
        for (i, place) in self.places.iter().enumerate() {
            if place.name.trim().is_empty() || place.name.chars().count() > 40 {
                let text = "Give the place a name of 1 to 40 characters.";
                c.note(Fault::new("missing", format!("places.{i}.name"), text));
            }
            let at = format!("places.{i}.temperature");
            LEG_PLACE.check(&mut c, &at, place.temperature.0);
            let at = format!("places.{i}.night");
            PLACE_NIGHT.check(&mut c, &at, place.night);
            let at = format!("places.{i}.measured");
            LEG_PLACE.check_some(&mut c, &at, place.measured.map(|t| t.0));
            TUBS.check_some(&mut c, &format!("places.{i}.tubs"), place.tubs.map(f64::from));
        }
        FLOUR_CUP.check_some(&mut c, "flour_cup", self.measures.flour_cup.map(|g| g.0));
        TUB.check_some(&mut c, "tub", self.tub);
        MIXER_LIMIT.check_some(&mut c, "mixer_limit", self.mixer_limit.map(|g| g.0));
        for (i, f) in self.friction.iter().enumerate() {
            c.range(&format!("friction.{i}.per_minute"), "Friction", f.per_minute, -1.0, 4.0, "K a minute");
        }
        if self.oven_readings.len() > OVEN_READINGS_MAX {
            let text = format!("At most {OVEN_READINGS_MAX} readings: take out the oldest.");
            c.note(Fault::new("out-of-range", "oven_readings", text));
        }
        for (i, r) in self.oven_readings.iter().enumerate() {
            r.check(&mut c, &format!("oven_readings.{i}"));
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

    /// When the baker sleeps and is away.
    pub fn hours(&self) -> Hours {
        Hours {
            sleep_from: self.sleep_from,
            sleep_to: self.sleep_to,
            wakes_for: self.wakes_for,
            nights: self.nights.clone(),
            away: self.away.clone(),
            helpers: self.helpers.clone(),
        }
    }

    /// How it writes its figures.
    pub fn notation(&self) -> Notation {
        Notation { temperatures: self.units, weights: self.weights, lengths: self.lengths, clock: self.clock }
    }

    /// Its time zone, if the name is known.
    pub fn zone(&self) -> Option<TimeZone> {
        TimeZone::get(&self.time_zone).ok()
    }

    /// What mixing by a method adds here, K a minute, and on how many readings that rests: the
    /// method's usual figure counts for two. `None` without a reading.
    pub fn learned_friction(&self, method: Method, usual: f64) -> Option<(f64, usize)> {
        let read: Vec<f64> =
            self.friction.iter().filter(|f| f.method == method).map(|f| f.per_minute).collect();
        let n = read.len() as f64;
        let mean = (FRICTION_PRIOR * usual + read.iter().sum::<f64>()) / (FRICTION_PRIOR + n);
        (!read.is_empty()).then_some((mean.clamp(0.0, 3.0), read.len()))
    }

    /// The oven as it was set, with what its readings taught.
    pub fn oven(&self) -> Oven {
        let set = Oven { offset: self.oven_offset, preheat: self.oven_preheat, recovery: self.oven_recovery };
        set.learned(self.room.0, &self.oven_readings)
    }

    /// Keeps a reading of what mixing adds, with the mixer of this name where it was mixed in one of the further ones;
    /// the oldest gives way.
    pub fn learn_friction(&mut self, mixer: &str, reading: FrictionReading) {
        let further = self.mixers.iter_mut().find(|m| m.name == mixer && by_a_mixer(reading.method));
        let readings = further.map_or(&mut self.friction, |m| &mut m.friction);
        readings.push(reading);
        let over = readings.len().saturating_sub(FRICTION_MAX);
        readings.drain(..over);
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
    fn friction_is_learned_from_readings() {
        let mut k = Kitchen::default();
        assert_eq!(k.learned_friction(Method::Hand, 0.25), None);
        for _ in 0..6 {
            k.learn_friction("", FrictionReading { method: Method::Hand, per_minute: 0.45 });
        }
        let (mean, n) = k.learned_friction(Method::Hand, 0.25).unwrap();
        assert!((mean - 0.4).abs() < 1e-12 && n == 6, "(2 × 0.25 + 6 × 0.45) / 8");
        assert_eq!(k.learned_friction(Method::Mixer, 0.7), None, "hands say nothing of the mixer");
        for _ in 0..100 {
            k.learn_friction("", FrictionReading { method: Method::Mixer, per_minute: 0.9 });
        }
        assert_eq!(k.friction.len(), FRICTION_MAX);
        k.check().unwrap();
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
