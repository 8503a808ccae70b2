//! What is wanted at the Mix station.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::fault::Check;
use crate::range::Range;
use crate::units::{Celsius, Minutes};
use crate::words::{Method, SaltSchool, WaterSchool};

/// The dough temperature that is wished for. One that can only be °F passes: it is a slip, and is taken for what
/// was meant.
pub const DESIRED: Range = Range::of("The desired dough temperature", 10.0, 38.0, "°C").or_fahrenheit();
/// How long flour and water rest together first.
pub const AUTOLYSE: Range = Range::of("An autolyse", 0.0, 180.0, "min");
/// How warm the flour is.
pub const FLOUR: Range = Range::of("The flour temperature", -20.0, 50.0, "°C");
/// How warm the room is.
pub const ROOM: Range = Range::of("The room temperature", -10.0, 50.0, "°C");
/// How long dry yeast stands in warm liquid first.
pub const BLOOM: Range = Range::of("Blooming", 1.0, 30.0, "min");
/// How long it is kneaded.
pub const KNEAD: Range = Range::of("Kneading", 1.0, 45.0, "min");
/// How long a mixer runs slowly first.
pub const SLOW: Range = Range::of("Mixing slowly", 1.0, 20.0, "min");
/// Which of the mixer's speeds.
pub const SPEED: Range = Range::of("The mixer's speed", 1.0, 8.0, "");
/// How many sets of folds there are.
pub const FOLDS: Range = Range::of("The sets of folds", 1.0, 8.0, "");
/// How far apart folds are.
pub const FOLDS_EVERY: Range = Range::of("The time between folds", 10.0, 120.0, "min");
/// In how many portions late butter goes in.
pub const PORTIONS: Range = Range::of("The portions of butter", 1.0, 20.0, "");
/// How long working it in takes.
pub const BUTTER: Range = Range::of("Working in the butter", 1.0, 40.0, "min");
/// How warm the preferment is.
pub const PREFERMENT: Range = Range::of("The preferment temperature", 0.0, 50.0, "°C");
/// What mixing adds.
pub const FRICTION: Range = Range::of("Friction", 0.0, 3.0, "°C a minute");

/// What is wanted at the Mix station.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct MixWish {
    /// How the dough is mixed.
    pub method: Method,
    /// Desired dough temperature after mixing, 10 to 38 °C.
    #[schemars(transform = DESIRED.limit())]
    pub desired: Celsius,
    /// Flour and water rest together first, 0 to 180 min.
    #[serde(default)]
    #[schemars(transform = AUTOLYSE.limit())]
    pub autolyse: Minutes,
    /// Flour temperature; the room's when left out.
    #[serde(default)]
    #[schemars(transform = FLOUR.limit())]
    pub flour: Option<Celsius>,
    /// Room temperature on the day; the kitchen's when left out.
    #[serde(default)]
    #[schemars(transform = ROOM.limit())]
    pub room: Option<Celsius>,
    /// Preferment temperature; that of its place when left out.
    #[serde(default)]
    #[schemars(transform = PREFERMENT.limit())]
    pub preferment: Option<Celsius>,
    /// What mixing adds, K a minute, 0 to 3; that of the method when left out.
    #[serde(default)]
    #[schemars(transform = FRICTION.limit())]
    pub friction: Option<f64>,
    /// How long the yeast stands in some of the liquid first, 1 to 30 min; it goes in dry when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = BLOOM.limit())]
    pub bloom: Option<Minutes>,
    /// How long a mixer runs at its first speed before that, 1 to 20 min; 4 when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = SLOW.limit())]
    pub slow: Option<Minutes>,
    /// How long it is kneaded or developed, 1 to 45 min; as long as the dough needs when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = KNEAD.limit())]
    pub knead: Option<Minutes>,
    /// At which of the mixer's speeds that is, counted from its slowest, 1 to 8; the second when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = SPEED.limit())]
    pub speed: Option<u32>,
    /// Sets of folds in the bulk rise, 1 to 8, after any way of mixing; as the way of mixing asks for when left
    /// out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = FOLDS.limit())]
    pub folds: Option<u32>,
    /// How far apart they are, 10 to 120 min; half an hour when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = FOLDS_EVERY.limit())]
    pub folds_every: Option<Minutes>,
    /// In how many portions late butter goes in, 1 to 20; by how much it is when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = PORTIONS.limit())]
    pub butter_portions: Option<u32>,
    /// How long working it in takes, 1 to 40 min; as the way of mixing needs when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = BUTTER.limit())]
    pub butter: Option<Minutes>,
    /// Which answer for the water leads.
    #[serde(default)]
    pub school: WaterSchool,
    /// When the salt goes in.
    #[serde(default)]
    pub salt: SaltSchool,
}

impl MixWish {
    /// A way of mixing and a dough temperature, with nothing else wanted.
    pub fn of(method: Method, desired: Celsius) -> MixWish {
        MixWish {
            method,
            desired,
            autolyse: Minutes(0.0),
            flour: None,
            room: None,
            preferment: None,
            friction: None,
            bloom: None,
            slow: None,
            knead: None,
            speed: None,
            folds: None,
            folds_every: None,
            butter_portions: None,
            butter: None,
            school: WaterSchool::Balance,
            salt: SaltSchool::WithAll,
        }
    }

    /// Notes what is out of range.
    pub fn check(&self, c: &mut Check) {
        DESIRED.check(c, "mix.desired", self.desired.0);
        AUTOLYSE.check(c, "mix.autolyse", self.autolyse.0);
        FLOUR.check_some(c, "mix.flour", self.flour.map(|t| t.0));
        ROOM.check_some(c, "mix.room", self.room.map(|t| t.0));
        PREFERMENT.check_some(c, "mix.preferment", self.preferment.map(|t| t.0));
        FRICTION.check_some(c, "mix.friction", self.friction);
        BLOOM.check_some(c, "mix.bloom", self.bloom.map(|m| m.0));
        SLOW.check_some(c, "mix.slow", self.slow.map(|m| m.0));
        KNEAD.check_some(c, "mix.knead", self.knead.map(|m| m.0));
        SPEED.check_some(c, "mix.speed", self.speed.map(f64::from));
        FOLDS.check_some(c, "mix.folds", self.folds.map(f64::from));
        PORTIONS.check_some(c, "mix.butter_portions", self.butter_portions.map(f64::from));
        BUTTER.check_some(c, "mix.butter", self.butter.map(|m| m.0));
        FOLDS_EVERY.check_some(c, "mix.folds_every", self.folds_every.map(|m| m.0));
    }
}
