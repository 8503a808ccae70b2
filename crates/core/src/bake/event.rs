//! What can happen to a bake.

use jiff::Timestamp;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::plan::PlannedStep;
use crate::rise::Poke;
use crate::units::{Celsius, Grams, Minutes};

/// The name of an event, made where it happened: the same event that arrives twice is one.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct EventKey(pub String);

/// Something that happened to a bake.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Event {
    /// Its name.
    pub key: EventKey,
    /// When it happened, by the server's clock: a device corrects its own.
    #[schemars(with = "String")]
    pub at: Timestamp,
    /// At which device, by its name.
    #[serde(default)]
    pub device: String,
    /// What happened.
    #[serde(flatten)]
    pub what: What,
}

choice! {
    /// How a bake rings, so that it is known from another room which dough it is.
    Bell {
        /// A low stroke.
        Low = "low", "Low";
        /// A high stroke.
        High = "high", "High";
        /// Two strokes, the second lower.
        Falling = "falling", "Falling";
        /// Three strokes, each higher.
        Rising = "rising", "Rising";
        /// Short and dry, twice.
        Knocks = "knocks", "Knocks";
        /// Quick strokes of two tones.
        Trembles = "trembles", "Trembles";
    }
}

impl Bell {
    /// The one of a dough for which nobody chose: by its name, so that it is the same each time.
    pub fn of_name(name: &str) -> Bell {
        let sum = name.bytes().fold(0usize, |sum, b| sum + usize::from(b));
        Bell::ALL[sum % Bell::ALL.len()]
    }
}

/// What was read at a dough or a bread.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(tag = "read", content = "value", rename_all = "kebab-case")]
pub enum Reading {
    /// Times its volume at the beginning of the rise.
    Volume(f64),
    /// How it came back when it was poked.
    Poke(Poke),
    /// The dough's temperature when its mixing was over.
    Mixed(Celsius),
    /// The dough's temperature.
    Dough(Celsius),
    /// That of the place where it stands.
    Place(Celsius),
    /// The core of the bread.
    Core(Celsius),
    /// The baked bread's weight.
    Baked(Grams),
}

/// What happened.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(tag = "what", rename_all = "kebab-case")]
pub enum What {
    /// A step was begun.
    Begun {
        /// The step, by its id.
        step: String,
    },
    /// A step was done.
    Done {
        /// The step, by its id.
        step: String,
    },
    /// A step is left out.
    Skipped {
        /// The step, by its id.
        step: String,
    },
    /// A line of the formula was weighed.
    Weighed {
        /// Its place among the lines.
        line: usize,
        /// What was really weighed.
        grams: Grams,
    },
    /// What is still to be weighed is scaled, for a line that came out heavier or lighter.
    Scaled {
        /// Times which.
        by: f64,
    },
    /// Something was read.
    Read(Reading),
    /// The dough was carried to another place.
    Moved {
        /// Its temperature.
        to: Celsius,
    },
    /// It is later than planned.
    Late {
        /// By so much.
        by: Minutes,
    },
    /// The day that it is of was planned again: its steps from then on.
    Replanned {
        /// All of them, those that are over too, in the order in which they begin; at most 200.
        steps: Vec<PlannedStep>,
    },
    /// A step gets more time.
    Longer {
        /// The step, by its id.
        step: String,
        /// So much more.
        by: Minutes,
    },
    /// Something was noted.
    Noted {
        /// In the baker's words, at most 500 characters.
        text: String,
    },
    /// A photo was taken.
    Photo {
        /// Its name: the SHA-256 of its bytes, in 64 letters of hex.
        photo: String,
    },
    /// How it rings was chosen.
    Rings {
        /// How.
        bell: Bell,
    },
    /// What is to be done otherwise next time.
    NextTime {
        /// In the baker's words, at most 500 characters.
        text: String,
    },
    /// An event was taken back.
    Undone {
        /// Which.
        event: EventKey,
    },
    /// An event that was taken back holds again.
    Redone {
        /// Which.
        event: EventKey,
    },
    /// The bake was given up.
    Abandoned,
    /// It is over, and the bread is there.
    Finished,
}
