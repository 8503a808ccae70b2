//! What is wanted at the Oven station.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::fault::Check;
use crate::range::Range;
use crate::units::{Celsius, Minutes};
use crate::words::{Made, Vessel};

/// What bread bakes at in a household oven.
pub const OVEN: Range = Range::of("The oven temperature", 120.0, 300.0, "°C").or_fahrenheit();
/// What a formula may hold: outside of [`OVEN`] it is a slip that offers its mend.
pub const DIAL: Range = Range::of("The oven temperature", 80.0, 575.0, "°C");
/// How hot it is at the start.
pub const HOT_START: Range = Range::of("The hot start", 120.0, 300.0, "°C");
/// How long it is hotter at the start.
pub const HOT_START_MINUTES: Range = Range::of("The hot start", 1.0, 60.0, "min");

/// A hotter start.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct HotStart {
    /// How hot, 120 to 300 °C.
    #[schemars(transform = HOT_START.limit())]
    pub temperature: Celsius,
    /// For how long, 1 to 60 min.
    #[schemars(transform = HOT_START_MINUTES.limit())]
    pub minutes: Minutes,
}

/// What is wanted at the Oven station.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct OvenWish {
    /// What the loaf bakes on or in.
    pub vessel: Vessel,
    /// Steam for the first ten minutes.
    #[serde(default)]
    pub steam: bool,
    /// Oven temperature the baker insists on, 120 to 300 °C; found when left out. A formula may
    /// hold 80 to 575, which is a slip to be mended.
    #[serde(default)]
    #[schemars(transform = DIAL.limit())]
    pub temperature: Option<Celsius>,
    /// Hotter at the start, then lower.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hot_start: Option<HotStart>,
    /// What it is made of.
    #[serde(default)]
    pub made: Made,
    /// Whether the loaf lies on parchment.
    #[serde(default)]
    pub parchment: bool,
}

impl OvenWish {
    /// On or in a vessel, with nothing else wanted.
    pub fn on(vessel: Vessel) -> OvenWish {
        OvenWish {
            vessel,
            steam: false,
            temperature: None,
            hot_start: None,
            made: Made::default(),
            parchment: false,
        }
    }
}

impl OvenWish {
    /// Notes what is out of range.
    pub fn check(&self, c: &mut Check) {
        DIAL.check_some(c, "oven.temperature", self.temperature.map(|t| t.0));
        if let Some(hot) = self.hot_start {
            HOT_START.check(c, "oven.hot_start.temperature", hot.temperature.0);
            HOT_START_MINUTES.check(c, "oven.hot_start.minutes", hot.minutes.0);
        }
    }
}
