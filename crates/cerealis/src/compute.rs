//! Every calculation of the pages on the command line: JSON in, JSON out, the same core function.

mod inputs;

use cerealis_core::bake::{self, BakeAnswer, WeighInput, WeighOutput, bake_state, weigh};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::formats::{FormulaFile, HouseholdFile, export, import};
use cerealis_core::formula::{
    Formula, SwapInput, Swapped, cost, figures, round_for, scale_to, slips, swap, whole_eggs,
};
use cerealis_core::mix::{MixInput, MixOutput, WaterAnswers, WaterInput, mix, water};
use cerealis_core::oven::{
    BakeInput, BakeOutput, BySizeInput, CoolOutput, PreheatInput, PreheatOutput, SizeRow, WhatNow,
    WhatNowInput, bake, by_size, cool, preheat, usual_sizes, what_now,
};
use cerealis_core::pantry::Catalogue;
use cerealis_core::plan::{DaysAnswer, DaysInput, ReplanInput, Replanned, Way, days, replan, ways};
use cerealis_core::rise::{
    ForecastInput, ForecastOutput, InverseInput, InverseOutput, RiseInput, Which, forecast_with, matters,
    ripen, rise, rise_inverse,
};
use cerealis_core::shape::{
    BraidInput, BraidOutput, DivideInput, DivideOutput, PanInput, PanOutput, ShapeInput, ShapeOutput,
    TrayInput, TrayOutput, braid, divide, pan, shape, tray,
};
use cerealis_core::stations::{Stations, read};
use cerealis_reader::{ReadInput, ReadOutput};
use cerealis_store::Clock;
use clap::ValueEnum;
use schemars::schema_for;
use serde::{Deserialize, Serialize, de::DeserializeOwned};
use std::io::{ErrorKind, Read, Write};
use std::path::Path;
use std::process::ExitCode;

use inputs::{
    AheadOutput, CostInput, CostOutput, ExportInput, ExportOutput, FormulaOr, FormulaOutput, ImportInput,
    ImportOutput, LevainInput, LevainOutput, PlanInput, ReplanAsked, RiseAnswer, ScaleInput, ScaleOutput,
    SlipsInput, SlipsOutput, WaysInput,
};

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
    /// What makes a rise take just so long.
    RiseInverse,
    /// A running rise corrected by its readings.
    Forecast,
    /// When a levain or preferment is ripe.
    Levain,
    /// Pieces.
    Shape,
    /// Dividing: shares, halvings, a rolled sheet, what to pinch off where.
    Divide,
    /// How a dough stands in a pan.
    Pan,
    /// How pieces lie on a tray.
    Tray,
    /// A plait, crossing by crossing.
    Braid,
    /// Oven temperature and minutes.
    Bake,
    /// The same for every size of a dough.
    BySize,
    /// What now, when a loaf only looks done.
    WhatNow,
    /// When an oven, and what stands in it, is hot.
    Preheat,
    /// How long a bread cools.
    Cool,
    /// A formula in a kitchen at all six stations, with the day on the clock.
    Plan,
    /// Some days with several doughs, one pair of hands and one oven: the plans to choose from.
    Day,
    /// A plan that is followed, and what has come otherwise: the ways on from here.
    Replan,
    /// The ways in which one dough may be fitted into a life.
    Ways,
    /// What a bake is at a moment, by what happened to it.
    BakeState,
    /// What a scale's figures mean for a line that is weighed.
    Weigh,
    /// Lines of kitchen English as amounts in grams.
    Read,
    /// A formula scaled to pieces, pans, a weight, the cupboard.
    Scale,
    /// One ingredient for another, and what that changes.
    Swap,
    /// What looks like a slip, and a formula mended.
    Slips,
    /// What a formula costs by a household's prices.
    Cost,
    /// Formulas or a recipe's lines out of JSON, JSON-LD, a page's source or CSV.
    Import,
    /// A formula as JSON, JSON-LD, CSV or Markdown.
    Export,
}

/// Of a bake's plain input, or of a formula in its kitchen.
fn baked<O: Serialize>(
    text: &str,
    compute: impl Fn(&BakeInput) -> Result<O, Faults>,
) -> Result<String, Faults> {
    if names_a_formula(text) {
        answer(text, |input: &PlanInput| compute(&plan(input)?.bake_input))
    } else {
        answer(text, compute)
    }
}

fn names_a_formula(text: &str) -> bool {
    #[derive(Deserialize)]
    struct Named {
        #[serde(rename = "formula")]
        _formula: serde::de::IgnoredAny,
    }
    serde_json::from_str::<Named>(text).is_ok()
}

fn made_ahead(input: &PlanInput) -> Result<AheadOutput, Faults> {
    let stations = plan(input)?;
    Ok(AheadOutput { builds: stations.builds, ahead: stations.ahead })
}

fn risen(input: &RiseInput) -> Result<RiseAnswer, Faults> {
    Ok(RiseAnswer {
        rise: rise(input)?,
        bulk_matters: matters(input, Which::Bulk)?,
        proof_matters: matters(input, Which::Proof)?,
    })
}

fn imported(input: &ImportInput) -> Result<ImportOutput, Faults> {
    match import(&input.text, Catalogue::bundled())? {
        Some(imported) => Ok(ImportOutput { imported }),
        None => {
            let text = "This is none of the forms that are taken in. For plain lines use `read`.";
            Err(Fault::new("unknown", "text", text).into())
        }
    }
}

fn costed(input: &CostInput) -> Result<CostOutput, Faults> {
    input.cupboard.check(Catalogue::bundled())?;
    let catalogue = &Catalogue::bundled().with(&input.cupboard.own);
    input.formula.check(catalogue)?;
    let piece = input.piece.unwrap_or_else(|| figures(&input.formula, catalogue).dough);
    Ok(CostOutput { cost: cost(&input.formula, piece, &input.cupboard.prices, catalogue) })
}

fn replanned(input: &ReplanAsked) -> Result<Replanned, Faults> {
    let ReplanAsked { plan, formulas, kitchen, now, taken, planned, otherwise } = input;
    let (plan, formulas, kitchen) = (plan.clone(), formulas.clone(), kitchen.clone());
    let asked = DaysInput { plan, formulas, kitchen, now: *now };
    let taken = match taken {
        Some(taken) => taken.clone(),
        None => {
            let before = DaysInput { now: planned.unwrap_or(asked.now), ..asked.clone() };
            let answer = days(&before, Catalogue::bundled())?;
            let first = answer.offers.first().and_then(|o| answer.take(&o.offer.key));
            first.ok_or_else(|| Fault::new("impossible", "plan", "There is no such plan."))?
        }
    };
    let input = ReplanInput { days: asked, taken, otherwise: otherwise.clone(), bench: Vec::new() };
    replan(&input, Catalogue::bundled())
}

fn ways_of(input: &WaysInput) -> Result<Vec<Way>, Faults> {
    input.formula.check(Catalogue::bundled())?;
    input.kitchen.check()?;
    let now = input.now.unwrap_or_else(|| Clock::system().now());
    Ok(ways(&input.formula, input.pins, &input.kitchen, Catalogue::bundled(), now))
}

fn exported(input: &ExportInput) -> Result<ExportOutput, Faults> {
    input.cupboard.check(Catalogue::bundled())?;
    let catalogue = &Catalogue::bundled().with(&input.cupboard.own);
    input.formula.check(catalogue)?;
    let now = input.now.unwrap_or_else(|| Clock::system().now());
    let stations = input.kitchen.as_ref().map(|k| read(&input.formula, k, catalogue, now)).transpose()?;
    Ok(ExportOutput { text: export(&input.formula, stations.as_ref(), input.format, &input.cupboard) })
}

fn scaled(input: &ScaleInput) -> Result<ScaleOutput, Faults> {
    let catalogue = Catalogue::bundled();
    input.formula.check(catalogue)?;
    let mut scaled = scale_to(&input.formula, &input.to, catalogue)?;
    let eggs = match input.whole_eggs {
        Some(size) => whole_eggs(&mut scaled.formula, size, catalogue)?,
        None => Vec::new(),
    };
    if let Some(scale) = input.round {
        round_for(&mut scaled.formula, scale);
    }
    Ok(ScaleOutput { scaled, eggs })
}

fn swapped(input: &SwapInput) -> Result<Swapped, Faults> {
    input.formula.check(Catalogue::bundled())?;
    swap(input, Catalogue::bundled())
}

fn slips_of(input: &SlipsInput) -> Result<SlipsOutput, Faults> {
    let catalogue = Catalogue::bundled();
    input.formula.check(catalogue)?;
    let slips = slips(&input.formula, &figures(&input.formula, catalogue), catalogue);
    let mended = match &input.mend {
        None => None,
        Some(code) => {
            let mend = slips.iter().find(|s| s.code == code).and_then(|s| s.mend.as_ref());
            let text = "There is no such slip with a mend in this formula.";
            Some(*mend.ok_or_else(|| Fault::new("unknown", "mend", text))?.formula.clone())
        }
    };
    Ok(SlipsOutput { slips, mended })
}

fn formula(f: &Formula) -> Result<FormulaOutput, Faults> {
    f.check(Catalogue::bundled())?;
    let figures = figures(f, Catalogue::bundled());
    Ok(FormulaOutput { slips: slips(f, &figures, Catalogue::bundled()), figures })
}

fn plan(input: &PlanInput) -> Result<Stations, Faults> {
    let now = input.now.unwrap_or_else(|| Clock::system().now());
    read(&input.formula, &input.kitchen, Catalogue::bundled(), now)
}

/// Computes and prints; 0 when it could, 2 with an error object when it could not.
pub fn run(name: Name, input: Option<&Path>) -> ExitCode {
    let done = text(input).and_then(|text| match name {
        Name::Formula => answer(&text, formula),
        Name::Water => answer(&text, water),
        Name::Mix => answer(&text, mix),
        Name::Rise if names_a_formula(&text) => {
            answer(&text, |input: &PlanInput| risen(&plan(input)?.rise_input))
        }
        Name::Rise => answer(&text, risen),
        Name::RiseInverse => answer(&text, rise_inverse),
        Name::Forecast => answer(&text, forecast_with),
        Name::Levain if names_a_formula(&text) => answer(&text, made_ahead),
        Name::Levain => answer(&text, |l: &LevainInput| ripen(&l.dough, l.start, &l.place)),
        Name::Shape => answer(&text, shape),
        Name::Divide => answer(&text, divide),
        Name::Pan => answer(&text, pan),
        Name::Tray => answer(&text, tray),
        Name::Braid => answer(&text, braid),
        Name::Bake => baked(&text, bake),
        Name::BySize if names_a_formula(&text) => answer(&text, |input: &PlanInput| {
            by_size(&BySizeInput { bake: plan(input)?.bake_input, sizes: usual_sizes() })
        }),
        Name::BySize => answer(&text, by_size),
        Name::WhatNow => answer(&text, |input: &WhatNowInput| what_now(&bake(&input.bake)?, &input.read)),
        Name::Preheat => answer(&text, preheat),
        Name::Cool => baked(&text, cool),
        Name::Plan => answer(&text, plan),
        Name::Day => answer(&text, |input: &DaysInput| days(input, Catalogue::bundled())),
        Name::Replan => answer(&text, replanned),
        Name::Ways => answer(&text, ways_of),
        Name::BakeState => answer(&text, bake_state),
        Name::Weigh => answer(&text, |input: &WeighInput| weigh(input, Catalogue::bundled())),
        Name::Read => answer(&text, |input| cerealis_reader::read(input, Catalogue::bundled())),
        Name::Scale => answer(&text, scaled),
        Name::Swap => answer(&text, swapped),
        Name::Slips => answer(&text, slips_of),
        Name::Cost => answer(&text, costed),
        Name::Import => answer(&text, imported),
        Name::Export => answer(&text, exported),
    });
    match done {
        Ok(json) => print(&json),
        Err(Faults(faults)) => {
            let error = serde_json::json!({ "error": faults.first(), "all": faults });
            let _ = writeln!(std::io::stderr(), "{error:#}");
            ExitCode::from(2)
        }
    }
}

/// Prints an answer. A reader that has gone away has had enough; anything else is said.
fn print(text: &str) -> ExitCode {
    let mut out = std::io::stdout().lock();
    match writeln!(out, "{text}").and_then(|()| out.flush()) {
        Ok(()) => ExitCode::SUCCESS,
        Err(e) if e.kind() == ErrorKind::BrokenPipe => ExitCode::SUCCESS,
        Err(e) => {
            let error = Fault::new("unwritable", "", format!("The answer cannot be written: {e}."));
            let _ = writeln!(std::io::stderr(), "{:#}", serde_json::json!({ "error": error }));
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
        Name::Water => (schema_for!(WaterInput), schema_for!(WaterAnswers)),
        Name::Mix => (schema_for!(MixInput), schema_for!(MixOutput)),
        Name::Rise => (schema_for!(FormulaOr<RiseInput>), schema_for!(RiseAnswer)),
        Name::RiseInverse => (schema_for!(InverseInput), schema_for!(InverseOutput)),
        Name::Forecast => (schema_for!(ForecastInput), schema_for!(ForecastOutput)),
        Name::Levain => (schema_for!(FormulaOr<LevainInput>), schema_for!(LevainOutput)),
        Name::Shape => (schema_for!(ShapeInput), schema_for!(ShapeOutput)),
        Name::Divide => (schema_for!(DivideInput), schema_for!(DivideOutput)),
        Name::Pan => (schema_for!(PanInput), schema_for!(PanOutput)),
        Name::Tray => (schema_for!(TrayInput), schema_for!(TrayOutput)),
        Name::Braid => (schema_for!(BraidInput), schema_for!(BraidOutput)),
        Name::Bake => (schema_for!(FormulaOr<BakeInput>), schema_for!(BakeOutput)),
        Name::BySize => (schema_for!(FormulaOr<BySizeInput>), schema_for!(Vec<SizeRow>)),
        Name::WhatNow => (schema_for!(WhatNowInput), schema_for!(WhatNow)),
        Name::Preheat => (schema_for!(PreheatInput), schema_for!(PreheatOutput)),
        Name::Cool => (schema_for!(FormulaOr<BakeInput>), schema_for!(CoolOutput)),
        Name::Plan => (schema_for!(PlanInput), schema_for!(Stations)),
        Name::Day => (schema_for!(DaysInput), schema_for!(DaysAnswer)),
        Name::Replan => (schema_for!(ReplanAsked), schema_for!(Replanned)),
        Name::Ways => (schema_for!(WaysInput), schema_for!(Vec<Way>)),
        Name::BakeState => (schema_for!(bake::BakeInput), schema_for!(BakeAnswer)),
        Name::Weigh => (schema_for!(WeighInput), schema_for!(WeighOutput)),
        Name::Read => (schema_for!(ReadInput), schema_for!(ReadOutput)),
        Name::Scale => (schema_for!(ScaleInput), schema_for!(ScaleOutput)),
        Name::Swap => (schema_for!(SwapInput), schema_for!(Swapped)),
        Name::Slips => (schema_for!(SlipsInput), schema_for!(SlipsOutput)),
        Name::Cost => (schema_for!(CostInput), schema_for!(CostOutput)),
        Name::Import => (schema_for!(ImportInput), schema_for!(ImportOutput)),
        Name::Export => (schema_for!(ExportInput), schema_for!(ExportOutput)),
    };
    let mut both = serde_json::json!({ "input": input, "output": output });
    if matches!(name, Name::Import | Name::Export) {
        both["file"] = schema_for!(FormulaFile).into();
        both["household"] = schema_for!(HouseholdFile).into();
    }
    print(&format!("{both:#}"))
}
