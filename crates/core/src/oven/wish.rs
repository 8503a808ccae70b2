//! What is wanted at the Oven station.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::fault::Check;
use crate::range::Range;
use crate::units::{Celsius, Minutes};
use crate::words::{Air, Made, Vessel};

/// What bread bakes at in a household oven.
pub const OVEN: Range = Range::of("The oven temperature", 120.0, 300.0, "°C").or_fahrenheit();
/// What a formula may hold: outside of [`OVEN`] it is a slip that offers its mend.
pub const DIAL: Range = Range::of("The oven temperature", 80.0, 575.0, "°C");
/// How hot it is at the start.
pub const HOT_START: Range = Range::of("The hot start", 120.0, 300.0, "°C");
/// How long it is hotter at the start.
pub const HOT_START_MINUTES: Range = Range::of("The hot start", 1.0, 60.0, "min");

/// How long it is covered, or under foil, from the start.
pub const COVERED: Range = Range::of("The time under a cover", 1.0, 180.0, "min");
/// How long it bakes, where the baker insists.
pub const BAKES_FOR: Range = Range::of("The time in the oven", 3.0, 240.0, "min");
/// How long it stays in the switched-off oven with the door ajar.
pub const AJAR: Range = Range::of("The time with the door ajar", 1.0, 60.0, "min");
/// How long it stays in its tin when it is out.
pub const COOLS_IN: Range = Range::of("The time in its tin", 1.0, 120.0, "min");
/// How long it cools before it is cut.
pub const COOLS: Range = Range::of("The time to cool", 5.0, 2880.0, "min");

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
    /// What the oven is heated to before it goes in, 120 to 300 °C; to what it bakes at when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = HOT_START.limit())]
    pub heated_to: Option<Celsius>,
    /// How long it is covered from the start, 1 to 180 min: by the pot's lid, or by a bowl or a roasting pan over it; as
    /// long as is found for a pot, and not at all else, when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = COVERED.limit())]
    pub covered: Option<Minutes>,
    /// How long its top is under foil from the start, 1 to 180 min; not at all when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = COVERED.limit())]
    pub foiled: Option<Minutes>,
    /// After how long foil goes over its top, 1 to 180 min; when it would get too dark, when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = COVERED.limit())]
    pub foil_after: Option<Minutes>,
    /// How long the baker insists that it bakes, 3 to 240 min; found when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = BAKES_FOR.limit())]
    pub minutes: Option<Minutes>,
    /// How long it then stays in the switched-off oven with the door ajar, 1 to 60 min; not at all when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = AJAR.limit())]
    pub ajar: Option<Minutes>,
    /// How long it stays in its tin or pot when it is out, 1 to 120 min; it comes out at once when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = COOLS_IN.limit())]
    pub cools_in: Option<Minutes>,
    /// How long it cools before it is cut, 5 min to 48 h; found when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = COOLS.limit())]
    pub cool: Option<Minutes>,
    /// What it is made of.
    #[serde(default)]
    pub made: Made,
    /// Whether the loaf lies on parchment.
    #[serde(default)]
    pub parchment: bool,
}

impl OvenWish {
    /// What it wants of the oven's air.
    pub fn air(&self) -> Air {
        match self.vessel {
            Vessel::Pot | Vessel::Lidded => Air::Lidded,
            _ if self.covered.is_some() => Air::Lidded,
            _ if self.steam => Air::Steamed,
            _ => Air::Dry,
        }
    }

    /// On or in a vessel, with nothing else wanted.
    pub fn on(vessel: Vessel) -> OvenWish {
        OvenWish {
            vessel,
            steam: false,
            temperature: None,
            hot_start: None,
            heated_to: None,
            covered: None,
            foiled: None,
            foil_after: None,
            minutes: None,
            ajar: None,
            cools_in: None,
            cool: None,
            made: Made::default(),
            parchment: false,
        }
    }
}

impl OvenWish {
    /// Notes what is out of range.
    pub fn check(&self, c: &mut Check) {
        DIAL.check_some(c, "oven.temperature", self.temperature.map(|t| t.0));
        HOT_START.check_some(c, "oven.heated_to", self.heated_to.map(|t| t.0));
        COVERED.check_some(c, "oven.covered", self.covered.map(|m| m.0));
        COVERED.check_some(c, "oven.foiled", self.foiled.map(|m| m.0));
        COVERED.check_some(c, "oven.foil_after", self.foil_after.map(|m| m.0));
        BAKES_FOR.check_some(c, "oven.minutes", self.minutes.map(|m| m.0));
        AJAR.check_some(c, "oven.ajar", self.ajar.map(|m| m.0));
        COOLS_IN.check_some(c, "oven.cools_in", self.cools_in.map(|m| m.0));
        COOLS.check_some(c, "oven.cool", self.cool.map(|m| m.0));
        if let Some(hot) = self.hot_start {
            HOT_START.check(c, "oven.hot_start.temperature", hot.temperature.0);
            HOT_START_MINUTES.check(c, "oven.hot_start.minutes", hot.minutes.0);
        }
    }
}
