//! What a finish depends on, and what is told of it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::moment::GoesOnAt;
use super::wish::FinishWish;
use crate::units::{Grams, Minutes};
use crate::words::{Kind, Stage};

/// Something that goes on the pieces, or that they are dipped in.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct GoesOn {
    /// A wash, a glaze, a topping or a bath; what belongs to the dough is passed over.
    pub stage: Stage,
    /// Key of the ingredient in the catalogue; what is not known there is passed over.
    pub ingredient: String,
    /// Its mass on these pieces, g.
    pub grams: Grams,
    /// When; as is usual for its stage when left out.
    #[serde(default)]
    pub at: Option<GoesOnAt>,
    /// Other pieces of the same dough, which stay without it: how many of which shape.
    #[serde(default)]
    pub without: Vec<(u32, Kind)>,
}

/// Pieces that are finished, and what is wanted of them.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FinishInput {
    /// Their shape.
    pub kind: Kind,
    /// How many, 1 to 200.
    pub pieces: u32,
    /// Whether they are made of strands, whose ends may come loose.
    #[serde(default)]
    pub strands: bool,
    /// What is wanted.
    #[serde(default)]
    pub finish: FinishWish,
    /// What goes on them.
    #[serde(default)]
    pub on: Vec<GoesOn>,
}

/// When a step of the finish is due.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum When {
    /// As soon as it is shaped.
    Shaped,
    /// So many minutes before the oven.
    Before(Minutes),
    /// After so many minutes in the oven.
    Into(Minutes),
    /// In the oven, so many minutes before it comes out.
    ToGo(Minutes),
    /// So many minutes after it came out.
    After(Minutes),
    /// When it is cold.
    Cold,
}

/// A step of the finish.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct FinishStep {
    /// When.
    pub when: When,
    /// What it is called.
    pub title: String,
    /// What to do.
    pub what: String,
    /// Hands-on minutes.
    pub minutes: Minutes,
    /// What to be careful of.
    pub caution: Option<&'static str>,
}
