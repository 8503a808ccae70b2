//! Swaps: one thing for another, with everything that follows from it shown before it is accepted.
//!
//! Effective hydration, sugar, fat and salt are kept: what the new ingredient brings too much or
//! too little of is made up from the lines that are there. Only flours move the water on purpose,
//! by what they drink. The proportions are common practice, without a source.

use super::kinds::{Swap, SwapInput, Swapped};
use crate::fault::{Fault, Faults};
use crate::formula::changes::changes;
use crate::formula::{Figures, Formula, Line, figures};
use crate::pantry::{Catalogue, Group, Ingredient};

/// Swaps, in a formula that has passed [`Formula::check`].
///
/// # Errors
/// What is to give way is not there, what takes its place does not fit, or the dough has not the
/// water to give.
pub fn swap(input: &SwapInput, catalogue: &Catalogue) -> Result<Swapped, Faults> {
    let mut work = Work { f: input.formula.clone(), c: catalogue, notes: Vec::new() };
    let before = figures(&input.formula, catalogue);
    work.apply(&input.swap, input.keep, &before)?;
    merge(&mut work.f);
    work.f.lines.sort_by_key(|l| l.stage);
    let after = figures(&work.f, catalogue);
    Ok(Swapped {
        changes: changes(&input.formula, &work.f),
        formula: work.f,
        before,
        after,
        notes: work.notes,
    })
}

pub(super) struct Work<'a> {
    pub(super) f: Formula,
    pub(super) c: &'a Catalogue,
    pub(super) notes: Vec<String>,
}

pub(super) fn impossible(path: &str, text: impl Into<String>) -> Fault {
    Fault::new("impossible", path, text)
}

impl Work<'_> {
    pub(super) fn apply(&mut self, swap: &Swap, keep: bool, before: &Figures) -> Result<(), Faults> {
        match swap {
            Swap::Yeast { to } => self.yeast(to)?,
            Swap::YeastToCulture { percent } => self.yeast_to_culture(*percent)?,
            Swap::CultureToYeast { percent } => self.culture_to_yeast(*percent)?,
            Swap::Flour { from, to, percent } => self.flour(from, to, *percent)?,
            Swap::Liquid { from, to } => {
                self.liquid(from, to)?;
                self.kept(keep, before)?;
            }
            Swap::EggFree => {
                self.egg_free()?;
                self.kept(keep, before)?;
            }
            Swap::Fat { from, to } => {
                self.alike(from, to, Group::Fat, |i| i.per_100g.fat)?;
                self.kept(keep, before)?;
            }
            Swap::Sugar { from, to } => {
                self.alike(from, to, Group::Sugar, |i| i.per_100g.sugars)?;
                self.kept(keep, before)?;
            }
            Swap::WashEggFree { to } => self.wash_egg_free(to)?,
            Swap::Scald { percent, times } => self.scald(*percent, *times)?,
            Swap::GlutenFree => self.gluten_free()?,
        }
        Ok(())
    }

    pub(super) fn get(&self, key: &str, path: &str) -> Result<&Ingredient, Fault> {
        self.c.get(key).ok_or_else(|| {
            Fault::new(
                "unknown",
                path,
                format!("“{key}” is not in the catalogue. Pick a name from the list."),
            )
        })
    }

    /// Grams of an ingredient in the dough; a fault where there is none.
    pub(super) fn there(&self, key: &str) -> Result<f64, Fault> {
        let grams: f64 = self
            .f
            .lines
            .iter()
            .filter(|l| l.ingredient == key && l.stage.in_dough())
            .map(|l| l.grams.0)
            .sum();
        if grams > 0.0 { Ok(grams) } else { Err(impossible("from", "That is not in the dough.")) }
    }

    /// Puts `ratio` grams of `to` in the place of each gram of `from`, wherever it is in the dough.
    pub(super) fn replace(&mut self, from: &str, to: &str, ratio: f64) {
        for l in self.f.lines.iter_mut().filter(|l| l.ingredient == from && l.stage.in_dough()) {
            l.ingredient = to.into();
            l.grams = l.grams * ratio;
        }
    }
}

/// Makes one line of lines of the same stage and ingredient.
pub(super) fn merge(f: &mut Formula) {
    let mut merged: Vec<Line> = Vec::new();
    for line in f.lines.drain(..) {
        match merged.iter_mut().find(|l| l.stage == line.stage && l.ingredient == line.ingredient) {
            Some(same) => same.grams += line.grams,
            None => merged.push(line),
        }
    }
    f.lines = merged;
}
