//! Our own JSON.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::cupboard::{Cupboard, OwnIngredient};
use crate::fault::{Fault, Faults};
use crate::formula::Formula;
use crate::ingredient::Catalogue;

/// What the file calls itself.
pub(super) const NAME: &str = "cerealis-formulas";

/// The version that is written; older ones keep opening.
pub const FILE_VERSION: u32 = 1;

/// The most formulas of one file.
const FORMULAS_MAX: usize = 500;

/// A file of formulas, as described in `docs/formats.md`.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FormulaFile {
    /// Always `cerealis-formulas`.
    pub format: String,
    /// The version of the form, 1.
    pub version: u32,
    /// The household's own ingredients that they use.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub own: Vec<OwnIngredient>,
    /// The formulas, whole.
    pub formulas: Vec<Formula>,
}

pub(super) fn write(formulas: &[Formula], cupboard: &Cupboard) -> String {
    let own = cupboard.used_by(formulas);
    let file = FormulaFile { format: NAME.into(), version: FILE_VERSION, own, formulas: formulas.to_vec() };
    serde_json::to_string_pretty(&file).unwrap_or_default()
}

pub(super) fn read(text: &str, catalogue: &Catalogue) -> Result<FormulaFile, Faults> {
    let file: FormulaFile = serde_json::from_str(text).map_err(|e| {
        let place = format!("line {}, column {}", e.line(), e.column());
        Faults::from(Fault::new("malformed", place, format!("This is not a file of formulas: {e}.")))
    })?;
    if file.version > FILE_VERSION {
        let text =
            format!("This file is of version {}, newer than this program. Update it first.", file.version);
        return Err(Fault::new("out-of-range", "version", text).into());
    }
    if file.formulas.is_empty() || file.formulas.len() > FORMULAS_MAX {
        let text = format!("A file holds 1 to {FORMULAS_MAX} formulas.");
        return Err(Fault::new("out-of-range", "formulas", text).into());
    }
    let cupboard = Cupboard { own: file.own.clone(), ..Cupboard::default() };
    cupboard.check(catalogue)?;
    let catalogue = &catalogue.with(&cupboard);
    let mut faults = Vec::new();
    for (n, formula) in file.formulas.iter().enumerate() {
        if let Err(Faults(found)) = formula.check(catalogue) {
            faults.extend(found.into_iter().map(|f| Fault { path: format!("formulas.{n}.{}", f.path), ..f }));
        }
    }
    if faults.is_empty() { Ok(file) } else { Err(Faults(faults)) }
}
