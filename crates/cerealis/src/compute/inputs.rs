//! What the calculations read and answer on the command line, where that is no plain input of an engine.

use std::collections::BTreeMap;

use cerealis_core::formats::{Format, Imported};
use cerealis_core::formula::{Build, Cost, Figures, Formula, ScaleTo, Scaled, Slip};
use cerealis_core::kitchen::{EggSize, Kitchen, Scale};
use cerealis_core::pantry::Cupboard;
use cerealis_core::plan::{DayPlan, Otherwise, Pins, Taken};
use cerealis_core::rise::{Dough, Matter, Place, Ripening, RiseOutput};
use cerealis_core::stations::Ahead;
use cerealis_core::units::{Celsius, Grams};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// The key figures of a formula, and what looks like a slip.
#[derive(Serialize, JsonSchema)]
pub struct FormulaOutput {
    pub figures: Figures,
    pub slips: Vec<Slip>,
}

/// What a plan depends on.
#[derive(Deserialize, JsonSchema)]
pub struct PlanInput {
    /// The formula with its wishes at each station.
    pub formula: Formula,
    /// The kitchen; an ordinary one by this machine's clock when left out.
    #[serde(default = "here")]
    pub kitchen: Kitchen,
    /// The moment to take for now, RFC 3339; the clock's when left out.
    #[serde(default)]
    #[schemars(with = "Option<String>")]
    pub now: Option<jiff::Timestamp>,
}

/// What `scale` reads.
#[derive(Deserialize, JsonSchema)]
pub struct ScaleInput {
    /// The formula.
    pub formula: Formula,
    /// What to scale to.
    pub to: ScaleTo,
    /// Round to whole eggs of this size and rebalance the liquid.
    #[serde(default)]
    pub whole_eggs: Option<EggSize>,
    /// Round for this scale.
    #[serde(default)]
    pub round: Option<Scale>,
}

/// What `scale` answers.
#[derive(Serialize, JsonSchema)]
pub struct ScaleOutput {
    /// The formula scaled.
    #[serde(flatten)]
    pub scaled: Scaled,
    /// What was done about the eggs, a sentence each.
    pub eggs: Vec<String>,
}

/// What `slips` reads.
#[derive(Deserialize, JsonSchema)]
pub struct SlipsInput {
    /// The formula.
    pub formula: Formula,
    /// The code of a slip to mend.
    #[serde(default)]
    pub mend: Option<String>,
}

/// What `slips` answers.
#[derive(Serialize, JsonSchema)]
pub struct SlipsOutput {
    /// Everything that looks like a slip.
    pub slips: Vec<Slip>,
    /// The formula mended, where that was asked.
    pub mended: Option<Formula>,
}

/// What `rise` answers.
#[derive(Serialize, JsonSchema)]
pub struct RiseAnswer {
    /// Bulk and proof.
    #[serde(flatten)]
    pub rise: RiseOutput,
    /// What a small change does to the bulk rise, the strongest first.
    pub bulk_matters: Vec<Matter>,
    /// What it does to the final proof.
    pub proof_matters: Vec<Matter>,
}

/// What `levain` reads.
#[derive(Deserialize, JsonSchema)]
pub struct LevainInput {
    /// The levain or preferment as a dough of its own: `culture` is the flour of its seed, per cent
    /// of all its flour.
    pub dough: Dough,
    /// Its temperature when it is stirred together.
    pub start: Celsius,
    /// Where it stands, with its daily curve.
    pub place: Place,
}

/// What `levain` answers for a formula.
#[derive(Serialize, JsonSchema)]
pub struct AheadOutput {
    /// The builds of the levain, first to last.
    pub builds: Vec<Build>,
    /// Everything made ahead, and when it is ripe.
    pub ahead: Vec<Ahead>,
}

/// What `levain` answers: of a formula, or of one levain.
#[derive(JsonSchema)]
#[serde(untagged)]
#[allow(dead_code, reason = "only its schema is asked for")]
pub enum LevainOutput {
    Formula(AheadOutput),
    Plain(Ripening),
}

/// Either a formula in its kitchen, or the engine's own plain input: what says `formula` is taken
/// for the first.
#[derive(JsonSchema)]
#[serde(untagged)]
#[allow(dead_code, reason = "only its schema is asked for")]
pub enum FormulaOr<T> {
    Formula(Box<PlanInput>),
    Plain(T),
}

/// What `cost` reads.
#[derive(Deserialize, JsonSchema)]
pub struct CostInput {
    /// The formula.
    pub formula: Formula,
    /// Prices of a kilogram by ingredient key, and own ingredients.
    pub cupboard: Cupboard,
    /// What a piece weighs; all of the dough when left out.
    #[serde(default)]
    pub piece: Option<Grams>,
}

/// What `cost` answers.
#[derive(Serialize, JsonSchema)]
pub struct CostOutput {
    /// The cost; null while nothing in the formula has a price.
    pub cost: Option<Cost>,
}

/// What `import` reads.
#[derive(Deserialize, JsonSchema)]
pub struct ImportInput {
    /// The text: our JSON, JSON-LD, a page's source, or CSV.
    pub text: String,
}

/// What `import` answers.
#[derive(Serialize, JsonSchema)]
pub struct ImportOutput {
    /// What was taken in.
    pub imported: Imported,
}

/// What `export` reads.
#[derive(Deserialize, JsonSchema)]
pub struct ExportInput {
    /// The formula.
    pub formula: Formula,
    /// The form it goes out in.
    pub format: Format,
    /// Own ingredients that it may use.
    #[serde(default)]
    pub cupboard: Cupboard,
    /// The kitchen for steps and times; without one there are none.
    #[serde(default)]
    pub kitchen: Option<Kitchen>,
    /// The moment to take for now, RFC 3339; the clock's when left out.
    #[serde(default)]
    #[schemars(with = "Option<String>")]
    pub now: Option<jiff::Timestamp>,
}

/// What `export` answers.
#[derive(Serialize, JsonSchema)]
pub struct ExportOutput {
    /// The formula in that form.
    pub text: String,
}

fn here() -> Kitchen {
    Kitchen { time_zone: cerealis_store::system_zone(), ..Kitchen::default() }
}

/// What `replan` reads.
#[derive(Deserialize, JsonSchema)]
pub struct ReplanAsked {
    /// What was asked.
    pub plan: DayPlan,
    /// The formulas that it names, by their numbers.
    pub formulas: BTreeMap<i32, Formula>,
    /// The kitchen.
    #[serde(default)]
    pub kitchen: Kitchen,
    /// The moment to take for now.
    #[schemars(with = "String")]
    pub now: jiff::Timestamp,
    /// The plan that is followed; the first that `day` offers at the moment of planning when left out.
    #[serde(default)]
    pub taken: Option<Taken>,
    /// When it was planned, where no plan is given.
    #[serde(default)]
    #[schemars(with = "Option<String>")]
    pub planned: Option<jiff::Timestamp>,
    /// What has come otherwise.
    #[serde(default)]
    pub otherwise: Otherwise,
}

/// What `ways` reads.
#[derive(Deserialize, JsonSchema)]
pub struct WaysInput {
    /// The formula.
    pub formula: Formula,
    /// What may not be changed.
    #[serde(default)]
    pub pins: Pins,
    /// The kitchen; an ordinary one by this machine's clock when left out.
    #[serde(default = "here")]
    pub kitchen: Kitchen,
    /// The moment to take for now, RFC 3339; the clock's when left out.
    #[serde(default)]
    #[schemars(with = "Option<String>")]
    pub now: Option<jiff::Timestamp>,
}
