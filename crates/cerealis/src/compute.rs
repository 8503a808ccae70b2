//! Every calculation of the pages on the command line: JSON in, JSON out, the same core function.

use std::io::Read;
use std::path::Path;
use std::process::ExitCode;

use cerealis_core::fault::{Fault, Faults};
use cerealis_core::ferment::{RiseInput, RiseOutput, rise};
use cerealis_core::formula::{Figures, Formula, Slip, figures, slips};
use cerealis_core::ingredient::Catalogue;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::mixing::{MixInput, MixOutput, mix};
use cerealis_core::oven::{BakeInput, BakeOutput, bake};
use cerealis_core::reader::{self, ReadInput, ReadOutput};
use cerealis_core::shape::{ShapeInput, ShapeOutput, shape};
use cerealis_core::stations::{Stations, read};
use cerealis_core::thermal::{WaterInput, WaterPlan, water};
use clap::ValueEnum;
use schemars::{JsonSchema, schema_for};
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};

/// What can be computed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, ValueEnum)]
pub enum Name {
    /// Key figures and slips of a formula.
    Formula,
    /// Water temperature for a dough temperature.
    Water,
    /// Phases of mixing and kneading.
    Mix,
    /// Bulk rise and final proof.
    Rise,
    /// Pieces.
    Shape,
    /// Oven temperature and minutes.
    Bake,
    /// A formula in a kitchen at all six stations, with the day on the clock.
    Plan,
    /// Lines of kitchen English as amounts in grams.
    Read,
}

/// The key figures of a formula, and what looks like a slip.
#[derive(Serialize, JsonSchema)]
struct FormulaOutput {
    figures: Figures,
    slips: Vec<Slip>,
}

/// What a plan depends on.
#[derive(Deserialize, JsonSchema)]
struct PlanInput {
    /// The formula with its wishes at each station.
    formula: Formula,
    /// The kitchen; an ordinary one when left out.
    #[serde(default)]
    kitchen: Kitchen,
    /// The moment to take for now, RFC 3339; the clock's when left out.
    #[serde(default)]
    #[schemars(with = "Option<String>")]
    now: Option<jiff::Timestamp>,
}

fn formula(f: &Formula) -> Result<FormulaOutput, Faults> {
    f.check(Catalogue::bundled())?;
    let figures = figures(f, Catalogue::bundled());
    Ok(FormulaOutput { slips: slips(f, &figures), figures })
}

fn plan(input: &PlanInput) -> Result<Stations, Faults> {
    let now = input.now.unwrap_or_else(jiff::Timestamp::now);
    read(&input.formula, &input.kitchen, Catalogue::bundled(), now)
}

/// Computes and prints; 0 when it could, 2 with an error object when it could not.
pub fn run(name: Name, input: Option<&Path>) -> ExitCode {
    let done = text(input).and_then(|text| match name {
        Name::Formula => answer(&text, formula),
        Name::Water => answer(&text, water),
        Name::Mix => answer(&text, mix),
        Name::Rise => answer(&text, rise),
        Name::Shape => answer(&text, shape),
        Name::Bake => answer(&text, bake),
        Name::Plan => answer(&text, plan),
        Name::Read => answer(&text, |input| Ok(reader::read(input, Catalogue::bundled()))),
    });
    match done {
        Ok(json) => {
            println!("{json}");
            ExitCode::SUCCESS
        }
        Err(Faults(faults)) => {
            let error = serde_json::json!({ "error": faults.first(), "all": faults });
            eprintln!("{error:#}");
            ExitCode::from(2)
        }
    }
}

fn text(input: Option<&Path>) -> Result<String, Faults> {
    let read = match input {
        Some(path) => std::fs::read_to_string(path),
        None => {
            let mut text = String::new();
            std::io::stdin().read_to_string(&mut text).map(|_| text)
        }
    };
    read.map_err(|e| Fault::new("unreadable", "", format!("The input cannot be read: {e}.")).into())
}

fn answer<I: DeserializeOwned, O: Serialize>(
    text: &str,
    compute: impl Fn(&I) -> Result<O, Faults>,
) -> Result<String, Faults> {
    let input = serde_json::from_str(text).map_err(|e| {
        let place = format!("line {}, column {}", e.line(), e.column());
        Fault::new(
            "malformed",
            place,
            format!("The input is not what is asked for: {e}. See `cerealis schema`."),
        )
    })?;
    let output = compute(&input)?;
    serde_json::to_string_pretty(&output)
        .map_err(|e| Fault::new("impossible", "", format!("The answer cannot be written: {e}.")).into())
}

/// Prints the schema of what goes in and what comes out.
pub fn schema(name: Name) -> ExitCode {
    let (input, output) = match name {
        Name::Formula => (schema_for!(Formula), schema_for!(FormulaOutput)),
        Name::Water => (schema_for!(WaterInput), schema_for!(WaterPlan)),
        Name::Mix => (schema_for!(MixInput), schema_for!(MixOutput)),
        Name::Rise => (schema_for!(RiseInput), schema_for!(RiseOutput)),
        Name::Shape => (schema_for!(ShapeInput), schema_for!(ShapeOutput)),
        Name::Bake => (schema_for!(BakeInput), schema_for!(BakeOutput)),
        Name::Plan => (schema_for!(PlanInput), schema_for!(Stations)),
        Name::Read => (schema_for!(ReadInput), schema_for!(ReadOutput)),
    };
    println!("{:#}", serde_json::json!({ "input": input, "output": output }));
    ExitCode::SUCCESS
}
