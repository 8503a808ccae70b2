//! What is another in the lines of two formulas.

use schemars::JsonSchema;
use serde::Serialize;

use crate::formula::Formula;
use crate::units::Grams;
use crate::words::Stage;

/// A line that changed.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct LineChange {
    /// Its stage.
    pub stage: Stage,
    /// Key of its ingredient.
    pub ingredient: String,
    /// What it weighed; 0 for a new line.
    pub before: Grams,
    /// What it weighs; 0 for a line that is gone.
    pub after: Grams,
}

/// The lines in which two formulas differ, by stage and ingredient.
pub fn changes(a: &Formula, b: &Formula) -> Vec<LineChange> {
    let sum = |f: &Formula, stage: Stage, key: &str| -> Grams {
        f.lines.iter().filter(|l| l.stage == stage && l.ingredient == key).map(|l| l.grams).sum()
    };
    let mut seen: Vec<(Stage, &str)> = Vec::new();
    for line in a.lines.iter().chain(&b.lines) {
        if !seen.contains(&(line.stage, line.ingredient.as_str())) {
            seen.push((line.stage, &line.ingredient));
        }
    }
    seen.sort_by_key(|s| s.0);
    seen.into_iter()
        .map(|(stage, key)| LineChange {
            stage,
            ingredient: key.into(),
            before: sum(a, stage, key),
            after: sum(b, stage, key),
        })
        .filter(|c| (c.before.0 - c.after.0).abs() > 5e-4)
        .collect()
}
