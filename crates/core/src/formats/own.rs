//! Our own JSON: formulas by themselves, or a whole household.

use schemars::JsonSchema;
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use serde_json::Value;

use crate::fault::{Fault, Faults};
use crate::formula::Formula;
use crate::kitchen::Kitchen;
use crate::pantry::{Catalogue, Cupboard, OwnIngredient};
use crate::words::Style;

/// What a file of formulas calls itself.
pub(super) const NAME: &str = "cerealis-formulas";

/// What a file of a household calls itself.
pub(super) const HOUSEHOLD: &str = "cerealis-household";

/// The version that is written; older ones keep opening.
pub const FILE_VERSION: u32 = 1;

/// The most formulas of one file.
const FORMULAS_MAX: usize = 500;

/// The most formulas of a household's file.
const HOUSEHOLD_MAX: usize = 5000;

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

impl FormulaFile {
    /// A file of these formulas, with the own ingredients that they use.
    pub fn of(formulas: Vec<Formula>, cupboard: &Cupboard) -> FormulaFile {
        let own = cupboard.used_by(formulas.iter().flat_map(Formula::keys));
        FormulaFile { format: NAME.into(), version: FILE_VERSION, own, formulas }
    }
}

/// A file of a whole household, as described in `docs/formats.md`.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct HouseholdFile {
    /// Always `cerealis-household`.
    pub format: String,
    /// The version of the form, 1.
    pub version: u32,
    /// The kitchen.
    pub kitchen: Kitchen,
    /// Own ingredients and prices.
    #[serde(default)]
    pub cupboard: Cupboard,
    /// The formulas at hand.
    #[serde(default)]
    pub formulas: Vec<Formula>,
    /// Those put away.
    #[serde(default)]
    pub put_away: Vec<Formula>,
}

/// A household's file of these parts.
pub fn household_file(
    kitchen: Kitchen,
    cupboard: Cupboard,
    formulas: Vec<Formula>,
    put_away: Vec<Formula>,
) -> HouseholdFile {
    HouseholdFile { format: HOUSEHOLD.into(), version: FILE_VERSION, kitchen, cupboard, formulas, put_away }
}

pub(super) fn write(formulas: &[Formula], cupboard: &Cupboard) -> String {
    serde_json::to_string_pretty(&FormulaFile::of(formulas.to_vec(), cupboard)).unwrap_or_default()
}

/// A household's file as text.
pub fn write_household(file: &HouseholdFile) -> String {
    serde_json::to_string_pretty(file).unwrap_or_default()
}

/// Reads a document; a part that it does not know is refused by its place, not dropped.
fn known_parts<T: DeserializeOwned>(value: Value) -> Result<T, Faults> {
    let mut unknown: Option<String> = None;
    let mut passed_over = |path: serde_ignored::Path| {
        unknown.get_or_insert_with(|| path.to_string().replace(".?", ""));
    };
    let read = serde_path_to_error::deserialize(serde_ignored::Deserializer::new(&value, &mut passed_over));
    let read: T = read.map_err(|e| {
        let at = e.path().to_string();
        Fault::new("malformed", if at == "." { String::new() } else { at }, format!("{}.", e.inner()))
    })?;
    match unknown {
        None => Ok(read),
        Some(path) => {
            let word = path.rsplit('.').next().unwrap_or_default();
            let text = format!("“{word}” is no part of this form. Check its spelling, or take it out.");
            Err(Fault::new("unknown", path, text).into())
        }
    }
}

/// What a formula leaves out is as its style begins with.
fn whole(formula: &mut Value) {
    let Some(given) = formula.as_object() else { return };
    let text = |key: &str| given.get(key).and_then(Value::as_str).unwrap_or_default();
    let style = Style::from_key(text("style")).unwrap_or(Style::Tin);
    let mut begun = Formula::beginning(text("name"), style);
    begun.lines.clear();
    if let Ok(mut begun) = serde_json::to_value(begun) {
        lay_over(&mut begun, formula);
        *formula = begun;
    }
}

/// Puts what is given over what stands there, part by part.
fn lay_over(under: &mut Value, over: &Value) {
    match (under, over) {
        (Value::Object(under), Value::Object(over)) => {
            for (key, value) in over {
                match under.get_mut(key) {
                    Some(there) if there.is_object() => lay_over(there, value),
                    _ => drop(under.insert(key.clone(), value.clone())),
                }
            }
        }
        (under, over) => *under = over.clone(),
    }
}

fn check_version(value: &Value) -> Result<(), Faults> {
    match value.get("version").and_then(Value::as_u64) {
        Some(v) if v > u64::from(FILE_VERSION) => {
            let text = format!("This file is of version {v}, newer than this program. Update it first.");
            Err(Fault::new("out-of-range", "version", text).into())
        }
        Some(v) if v > 0 => Ok(()),
        _ => Err(Fault::new("missing", "version", "The file does not say its version, such as 1.").into()),
    }
}

fn make_whole(value: &mut Value, lists: &[&str]) {
    for list in lists {
        if let Some(all) = value.get_mut(list).and_then(Value::as_array_mut) {
            all.iter_mut().take(HOUSEHOLD_MAX).for_each(whole);
        }
    }
}

fn check_formulas(list: &str, formulas: &[Formula], catalogue: &Catalogue, faults: &mut Vec<Fault>) {
    for (n, formula) in formulas.iter().enumerate() {
        if let Err(Faults(found)) = formula.check(catalogue) {
            faults.extend(found.into_iter().map(|f| Fault { path: format!("{list}.{n}.{}", f.path), ..f }));
        }
    }
}

pub(super) fn read(mut value: Value, catalogue: &Catalogue) -> Result<FormulaFile, Faults> {
    check_version(&value)?;
    make_whole(&mut value, &["formulas"]);
    let file: FormulaFile = known_parts(value)?;
    if file.formulas.is_empty() || file.formulas.len() > FORMULAS_MAX {
        let text = format!("A file holds 1 to {FORMULAS_MAX} formulas.");
        return Err(Fault::new("out-of-range", "formulas", text).into());
    }
    let catalogue = &with_own(&file.own, catalogue)?;
    let mut faults = Vec::new();
    check_formulas("formulas", &file.formulas, catalogue, &mut faults);
    if faults.is_empty() { Ok(file) } else { Err(Faults(faults)) }
}

/// The catalogue with the own ingredients of a file, once they check. Their keys are made anew where
/// they must be when they are taken in.
fn with_own(own: &[OwnIngredient], catalogue: &Catalogue) -> Result<Catalogue, Faults> {
    let cupboard = Cupboard { own: own.to_vec(), ..Cupboard::default() };
    cupboard.check(catalogue)?;
    Ok(catalogue.with(&cupboard.own))
}

pub(super) fn read_household(mut value: Value, catalogue: &Catalogue) -> Result<HouseholdFile, Faults> {
    check_version(&value)?;
    make_whole(&mut value, &["formulas", "put_away"]);
    let file: HouseholdFile = known_parts(value)?;
    if file.formulas.len() + file.put_away.len() > HOUSEHOLD_MAX {
        let text = format!("A household's file holds at most {HOUSEHOLD_MAX} formulas.");
        return Err(Fault::new("out-of-range", "formulas", text).into());
    }
    let mut faults = Vec::new();
    let at = |part: &str, Faults(found): Faults| {
        found.into_iter().map(|f| Fault { path: format!("{part}.{}", f.path), ..f }).collect::<Vec<_>>()
    };
    file.kitchen.check().unwrap_or_else(|f| faults.extend(at("kitchen", f)));
    file.cupboard.check(catalogue).unwrap_or_else(|f| faults.extend(at("cupboard", f)));
    let catalogue = &catalogue.with(&file.cupboard.own);
    check_formulas("formulas", &file.formulas, catalogue, &mut faults);
    check_formulas("put_away", &file.put_away, catalogue, &mut faults);
    if faults.is_empty() { Ok(file) } else { Err(Faults(faults)) }
}
