//! What is wanted of the rises.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::fault::{Check, Fault};
use crate::range::Range;
use crate::units::{Celsius, Hours, Minutes};
use crate::words::{Handling, Stands};

/// A stay somewhere before a rise's own place: an hour on the counter, a night in the fridge.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Leg {
    /// How long, over 0 and to 72 h.
    #[schemars(transform = LEG.limit())]
    pub hours: Hours,
    /// Temperature there, 0 to 45 °C.
    #[schemars(transform = LEG_PLACE.limit())]
    pub place: Celsius,
}

/// Where dough stands. One that can only be °F passes: it is a slip.
pub const PLACE: Range = Range::of("A place for dough", 0.0, 45.0, "°C").or_fahrenheit();
/// Where a levain ripens.
pub const LEVAIN_PLACE: Range = Range::of("A place for a levain", 0.0, 45.0, "°C").or_fahrenheit();
/// How far it rises.
pub const TARGET: Range = Range::of("The target", 1.0, 3.0, "times");
/// How long it stays whatever it has reached.
pub const STAYS: Range = Range::of("A stay", 0.25, 72.0, "h");
/// How much cooler a place gets by night.
pub const NIGHT: Range = Range::of("How much cooler it gets by night", 0.0, 15.0, "K");
/// How long a stay before the rise's own place is.
pub const LEG: Range = Range::of("A stay", 0.05, 72.0, "h");
/// Where such a stay is.
pub const LEG_PLACE: Range = Range::of("A place for dough", 0.0, 45.0, "°C");

/// Where the dough stands against the rim of its pan when it is ready.
pub const RIM: Range = Range::of("The line in the pan", -15.0, 8.0, "cm");
/// How long it is kneaded again before the second rise.
pub const KNEADS: Range = Range::of("Kneading again", 1.0, 20.0, "min");

choice! {
    /// How lively the culture or the yeast is, before it has been seen (common practice, no source).
    Liveliness {
        /// Slow: it comes from the fridge unfed, or is near its date.
        Sluggish = "sluggish", "Sluggish";
        /// As is usual.
        Usual = "usual", "As usual";
        /// Quick: it is fed twice a day.
        Lively = "lively", "Lively";
    }
}

impl Liveliness {
    /// How much faster it is than is usual, times.
    pub fn pace(self) -> f64 {
        match self {
            Liveliness::Sluggish => 0.75,
            Liveliness::Usual => 1.0,
            Liveliness::Lively => 1.3,
        }
    }

    /// As is usual.
    pub fn is_usual(&self) -> bool {
        *self == Liveliness::Usual
    }
}

/// The most stays before a rise's own place.
pub const LEGS_MAX: usize = 3;

/// One rise: where it stands and how far it should go.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct RiseWish {
    /// Stays before its place, at most 3.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub legs: Vec<Leg>,
    /// Temperature of the place, 0 to 45 °C; the kitchen's room when left out.
    #[serde(default)]
    #[schemars(transform = PLACE.limit())]
    pub place: Option<Celsius>,
    /// How many times its starting volume it should reach: 1 (no rise) to 3.
    #[schemars(transform = TARGET.limit())]
    pub target: f64,
    /// How long it stays at its place whatever it has reached, 0.25 to 72 h: a proof that is baked
    /// from the fridge. Until its target when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = STAYS.limit())]
    pub stays: Option<Hours>,
    /// What it stands in.
    #[serde(default)]
    pub stands: Stands,
    /// How much cooler its place gets by night than by day, 0 to 15 K. The room follows the
    /// kitchen's own night.
    #[serde(default, skip_serializing_if = "is_nought")]
    #[schemars(transform = NIGHT.limit())]
    pub night: f64,
}

fn is_nought(x: &f64) -> bool {
    *x == 0.0
}

impl RiseWish {
    /// No rise at all.
    pub fn none() -> RiseWish {
        RiseWish::to(1.0, None)
    }

    /// Whether there is a rise at all.
    pub fn rises(&self) -> bool {
        self.target > 1.0 || self.stays.is_some()
    }

    /// A rise to a target in one place, the room when none is given.
    pub fn to(target: f64, place: Option<Celsius>) -> RiseWish {
        RiseWish { place, target, ..RiseWish::default() }
    }
}

/// What the baker wants of bulk and proof.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct RisesWish {
    /// The bulk rise.
    pub bulk: RiseWish,
    /// A second bulk rise, after the dough was knocked down or folded; none when left out.
    #[serde(default = "RiseWish::none")]
    pub second: RiseWish,
    /// How the dough is handled before a second bulk rise.
    #[serde(default = "knocked_down")]
    pub between: Handling,
    /// The final proof.
    pub proof: RiseWish,
    /// How the dough is handled when it is divided and shaped.
    pub handling: Handling,
    /// How long it is kneaded again before the second rise, 1 to 20 min; it is only pressed or folded when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = KNEADS.limit())]
    pub kneads: Option<Minutes>,
    /// Where the dough stands against the rim of its pan when it is proofed, cm: over it, or under it where negative,
    /// −15 to 8. It sets the proof's target where a pan is known at Shape.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schemars(transform = RIM.limit())]
    pub rim: Option<f64>,
    /// Whether it proofs uncovered, so that a skin forms.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub uncovered: bool,
    /// How lively its culture or yeast is.
    #[serde(default = "as_usual", skip_serializing_if = "Liveliness::is_usual")]
    pub leaven: Liveliness,
    /// Where the levain or preferment ripens; the kitchen's room when left out.
    #[serde(default)]
    #[schemars(transform = LEVAIN_PLACE.limit())]
    pub levain_place: Option<Celsius>,
}

fn as_usual() -> Liveliness {
    Liveliness::Usual
}

fn knocked_down() -> Handling {
    Handling::Firm
}

impl RiseWish {
    /// Notes what is out of range; `path` is the wish's own.
    pub fn check(&self, c: &mut Check, path: &str) {
        let at = |field: &str| format!("{path}.{field}");
        PLACE.check_some(c, &at("place"), self.place.map(|t| t.0));
        TARGET.check(c, &at("target"), self.target);
        STAYS.check_some(c, &at("stays"), self.stays.map(|h| h.0));
        NIGHT.check(c, &at("night"), self.night);
        if self.legs.len() > LEGS_MAX {
            c.note(Fault::new("out-of-range", at("legs"), format!("At most {LEGS_MAX} stays before.")));
        }
        for (n, leg) in self.legs.iter().enumerate() {
            LEG.check(c, &at(&format!("legs.{n}.hours")), leg.hours.0);
            LEG_PLACE.check(c, &at(&format!("legs.{n}.place")), leg.place.0);
        }
    }
}

impl RisesWish {
    /// Notes what is out of range.
    pub fn check(&self, c: &mut Check) {
        for (name, wish) in self.rises() {
            wish.check(c, &format!("rise.{name}"));
        }
        KNEADS.check_some(c, "rise.kneads", self.kneads.map(|m| m.0));
        RIM.check_some(c, "rise.rim", self.rim);
        LEVAIN_PLACE.check_some(c, "rise.levain_place", self.levain_place.map(|t| t.0));
    }

    /// The three rises by the names of their fields.
    pub fn rises(&self) -> [(&'static str, &RiseWish); 3] {
        [("bulk", &self.bulk), ("second", &self.second), ("proof", &self.proof)]
    }
}
