//! When the day begins or ends.

use jiff::civil::DateTime;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;

choice! {
    /// From where a day is planned.
    #[derive(Default)]
    Anchor {
        /// Forward from now.
        #[default]
        Now = "now", "From now";
        /// Forward from a start.
        Start = "start", "Start at";
        /// Back from when the bread is wanted.
        Ready = "ready", "Ready at";
    }
}

/// What is wanted at the Day station.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct DayWish {
    /// From where it is planned.
    #[serde(default)]
    pub anchor: Anchor,
    /// The start, or when the bread is wanted, by the kitchen's clock; needed unless from now.
    #[serde(default)]
    #[schemars(with = "Option<String>")]
    pub at: Option<DateTime>,
}
