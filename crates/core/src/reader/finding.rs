//! What is found in a method.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::formula::Formula;
use crate::units::{Celsius, Minutes, shown};
use crate::words::{Kind, Method, Vessel};

choice! {
    /// What was found.
    Found {
        /// Flour and water rest, min.
        Autolyse = "autolyse", "Autolyse";
        /// Kneading or mixing, min.
        Knead = "knead", "Kneading";
        /// A rest on the bench, min.
        Rest = "rest", "Rest";
        /// The bulk rise, min.
        Bulk = "bulk", "Bulk rise";
        /// How far the bulk rise goes, times its volume.
        BulkTarget = "bulk-target", "Bulk rise until";
        /// The final proof, min.
        Proof = "proof", "Final proof";
        /// How far the proof goes, times its volume.
        ProofTarget = "proof-target", "Proof until";
        /// A stay in the fridge, min.
        Fridge = "fridge", "Fridge";
        /// The oven, °C.
        Oven = "oven", "Oven";
        /// The bake, min.
        Bake = "bake", "Bake";
        /// The core of the done loaf, °C.
        Core = "core", "Core";
        /// The liquid, °C.
        Liquid = "liquid", "Liquid";
        /// Cooling, min.
        Cool = "cool", "Cooling";
        /// How many pieces.
        Pieces = "pieces", "Pieces";
        /// What it bakes on or in.
        BakesIn = "bakes-in", "Bakes on or in";
        /// How it is mixed.
        MixedBy = "mixed-by", "Mixed";
        /// Steam, or water thrown in.
        Steam = "steam", "Steam";
    }
}

/// Something found in the method.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Finding {
    /// What it is.
    pub found: Found,
    /// Its low end, in the unit of what it is.
    pub low: f64,
    /// Its high end.
    pub high: f64,
    /// For pieces, vessel and mixing: the key of the choice.
    #[serde(default)]
    pub key: String,
    /// The sentence it stands in.
    pub text: String,
}

impl Finding {
    /// `190 °C`, `28 min`, `8 rolls`.
    pub fn figure(&self) -> String {
        let range = |show: &dyn Fn(f64) -> String| {
            if self.low == self.high {
                show(self.low)
            } else {
                format!("{} to {}", show(self.low), show(self.high))
            }
        };
        match self.found {
            Found::Oven | Found::Core | Found::Liquid => range(&|t| format!("{t:.0} °C")),
            Found::BulkTarget | Found::ProofTarget => range(&|x| format!("{x} times")),
            Found::Pieces => {
                let kind = Kind::from_key(&self.key).map_or("pieces", Kind::name);
                format!("{} × {}", range(&|n| format!("{n:.0}")), kind.to_lowercase())
            }
            Found::BakesIn => Vessel::from_key(&self.key).map_or_else(String::new, |v| v.name().into()),
            Found::MixedBy => Method::from_key(&self.key).map_or_else(String::new, |m| m.name().into()),
            Found::Steam => "yes".into(),
            _ if self.high < 60.0 && self.low != self.high => {
                format!("{:.0} to {}", self.low, shown::time(Minutes(self.high)))
            }
            _ => range(&|m| shown::time(Minutes(m))),
        }
    }

    /// Whether a station has a field for it; the others are worth a note.
    pub fn has_field(&self) -> bool {
        !matches!(
            self.found,
            Found::Knead
                | Found::Rest
                | Found::Bulk
                | Found::Proof
                | Found::Fridge
                | Found::Bake
                | Found::Core
                | Found::Liquid
                | Found::Cool
        )
    }

    /// Puts it where it belongs; what has no field goes into the notes.
    pub fn put_into(&self, formula: &mut Formula) {
        let middle = 0.5 * (self.low + self.high);
        match self.found {
            Found::Autolyse => formula.mix.autolyse = Minutes(middle),
            Found::BulkTarget => formula.rise.bulk.target = middle,
            Found::ProofTarget => formula.rise.proof.target = middle,
            Found::Oven => formula.oven.temperature = Some(Celsius(middle.round())),
            Found::Steam => formula.oven.steam = true,
            Found::Pieces => {
                formula.shape.pieces = self.low.round().clamp(1.0, 200.0) as u32;
                formula.shape.piece_weight = None;
                if let Some(kind) = Kind::from_key(&self.key) {
                    formula.shape.kind = kind;
                }
            }
            Found::BakesIn => {
                if let Some(vessel) = Vessel::from_key(&self.key) {
                    formula.oven.vessel = vessel;
                }
            }
            Found::MixedBy => {
                if let Some(method) = Method::from_key(&self.key) {
                    formula.mix.method = method;
                }
            }
            _ => {
                let line =
                    format!("The recipe says: {} {}.", self.found.name().to_lowercase(), self.figure());
                if !formula.notes.is_empty() {
                    formula.notes.push('\n');
                }
                formula.notes.push_str(&line);
            }
        }
    }
}
