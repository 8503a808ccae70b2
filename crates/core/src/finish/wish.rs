//! What is wanted of the finish.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::cuts::Score;
use crate::words::Kind;

/// What is wanted of the finish.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FinishWish {
    /// The cuts; as is usual for the shape when left out.
    #[serde(default)]
    pub score: Option<Score>,
    /// A cross or a line piped of flour and water before the bake.
    #[serde(default)]
    pub piped: bool,
    /// Half of a brushed glaze goes on in the oven, near the end of the bake.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub basted: bool,
}

impl FinishWish {
    /// The cuts of a shape.
    pub fn score(&self, kind: Kind) -> Score {
        self.score.unwrap_or_else(|| Score::usual(kind))
    }
}
