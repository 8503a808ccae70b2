//! A slip: what looks like one, how loudly it is said, and what would mend it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::formula::Formula;

/// How loudly a slip is said.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Strength {
    /// Unusual, perhaps meant.
    Unusual,
    /// Likely to spoil the bread.
    Warning,
    /// Almost surely a slip.
    Strong,
}

impl Strength {
    /// The word that goes before it.
    pub fn word(self) -> &'static str {
        match self {
            Strength::Unusual => "Unusual",
            Strength::Warning => "Look again",
            Strength::Strong => "Stop and check",
        }
    }
}

/// What would mend a slip, in one press.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Mend {
    /// What it does: “Use 4 g”.
    pub label: String,
    /// The formula mended.
    #[serde(skip)]
    pub formula: Box<Formula>,
}

/// One slip.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Slip {
    /// A short word for programs, such as `salt-missing`.
    pub code: &'static str,
    /// How loudly to say it.
    pub strength: Strength,
    /// What, why and what to do.
    pub text: String,
    /// What would mend it, where one thing is likely.
    pub mend: Option<Mend>,
    /// Whether it was answered “I mean it”.
    pub meant: bool,
}

pub(crate) fn slip(code: &'static str, strength: Strength, text: impl Into<String>) -> Slip {
    Slip { code, strength, text: text.into(), mend: None, meant: false }
}

impl Slip {
    /// With a mend: a change to a copy of the formula.
    pub(super) fn mended(
        mut self,
        label: impl Into<String>,
        formula: &Formula,
        change: impl FnOnce(&mut Formula),
    ) -> Slip {
        let mut copy = formula.clone();
        change(&mut copy);
        self.mend = Some(Mend { label: label.into(), formula: Box::new(copy) });
        self
    }
}
