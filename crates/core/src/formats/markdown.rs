//! Markdown, for reading and passing on.

use super::name_of;
use crate::formula::{Formula, figures};
use crate::pantry::{Catalogue, Measures, household};
use crate::stations::Stations;
use crate::units::shown;
use crate::words::Stage;

/// A formula in Markdown: lines in grams, per cent and household measures, then the steps.
pub fn markdown(formula: &Formula, stations: Option<&Stations>, catalogue: &Catalogue) -> String {
    let k = figures(formula, catalogue);
    let mut out = format!("# {}\n\n", one_line(&formula.name));
    let pieces = format!("{} × {}", formula.shape.pieces, formula.shape.kind.name().to_lowercase());
    out.push_str(&format!(
        "{}, {pieces}. {} g of dough, effective hydration {:.0} %.\n",
        formula.style.name(),
        shown::grams(k.dough),
        k.effective_hydration.0
    ));
    for stage in Stage::ALL {
        let lines: Vec<_> = formula.lines.iter().filter(|l| l.stage == stage).collect();
        if lines.is_empty() {
            continue;
        }
        out.push_str(&format!("\n## {}\n\n| g | % | | about |\n|---:|---:|---|---|\n", stage.name()));
        for l in lines {
            let said = catalogue
                .get(&l.ingredient)
                .and_then(|i| household(i, l.grams, Measures::default()))
                .unwrap_or_default();
            let note = if l.note.is_empty() { String::new() } else { format!(", {}", one_line(&l.note)) };
            let (grams, percent) = (shown::grams(l.grams), shown::percent(l.grams.percent_of(k.flour)));
            let name = name_of(&l.ingredient, catalogue);
            out.push_str(&format!("| {grams} | {percent} | {name}{note} | {said} |\n"));
        }
    }
    if let Some(s) = stations {
        out.push_str("\n## Steps\n\n");
        for (n, c) in s.day.steps.iter().enumerate() {
            let (title, time) = (&c.step.title, shown::time(c.step.length));
            out.push_str(&format!("{}. **{title}**, {time}. {}\n", n + 1, c.step.detail));
        }
        let oven = format!("{:.0} °C for {}", s.bake.dial.0, shown::time(s.bake.time));
        out.push_str(&format!("\nOven: {oven}, to a core of {:.0} °C.\n", s.bake.core_target.0));
    }
    let allergens = if k.allergens.is_empty() { "none named".into() } else { k.allergens.join(", ") };
    out.push_str(&format!("\nAllergens: {allergens}.\n"));
    if !formula.notes.is_empty() {
        out.push_str(&format!("\n{}\n", formula.notes.trim()));
    }
    out
}

/// Text that stays within its cell.
fn one_line(text: &str) -> String {
    text.replace(['|', '\n', '\r'], " ")
}
