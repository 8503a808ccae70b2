//! A formula written into the fields of a form.

use cerealis_core::formula::{Formula, Line, counted_flour, figures, levers};
use cerealis_core::rise::Lever;
use cerealis_core::units::{Percent, shown};
use cerealis_core::words::{Counting, Stage};

use super::rows::{LineRow, rows};
use crate::form;
use crate::form::{Form, plain};
use crate::household::Household;

/// Fills a form from a formula.
pub fn fill(formula: &Formula, house: &Household) -> Form {
    let mut form = Form::within(house.kitchen.notation());
    let tick = |on: bool| if on { "on" } else { "" };
    form.set("name", &formula.name);
    form.set("style", formula.style.key());
    form.set("percent_locked", tick(formula.percent_locked));
    form.set("counting", formula.counting.map_or("", Counting::key));
    fill_lines(&mut form, formula, house);
    fill_stages(&mut form, formula);
    fill_now(&mut form, formula, house);
    form.set("uses.oven", &formula.uses.oven);
    form.set("uses.mixer", &formula.uses.mixer);
    form.set("author", &formula.author);
    form.set("tags", formula.tags.join(", "));
    form.set("notes", &formula.notes);
    form.set("meant", formula.meant.join(" "));
    form.set("said", serde_json::to_string(&formula.said).unwrap_or_default());
    form::fill(&mut form, &formula.mix);
    form::fill(&mut form, &formula.rise);
    form::fill(&mut form, &formula.shape);
    form::fill(&mut form, &formula.finish);
    form::fill(&mut form, &formula.oven);
    form::fill(&mut form, &formula.day);
    form
}

pub(super) fn fill_stages(form: &mut Form, formula: &Formula) {
    for stage in Stage::ALL.into_iter().filter(|s| s.is_ahead()) {
        let plan = formula.stage_plan(stage);
        let at = |field: &str| format!("stages.{}.{field}", stage.key());
        form.put_some(at("hours"), plan.hours);
        form.put_some(at("place"), plan.place);
        form.put_some(at("temperature"), plan.temperature);
    }
    form.set("levain.builds", formula.levain.builds.to_string());
    form.put("levain.keep", formula.levain.keep);
    form.values.retain(|name, _| !name.starts_with("makeups."));
    for (i, m) in formula.makeups.iter().enumerate() {
        form::fill_under(form, format!("makeups.{i}."), m);
    }
}

/// The way of counting that a formula's percentages are shown by.
pub(super) fn counting(formula: &Formula, house: &Household) -> Counting {
    formula.counting(house.kitchen.counting)
}

pub(super) fn fill_lines(form: &mut Form, formula: &Formula, house: &Household) {
    let catalogue = &house.catalogue;
    form.values.retain(|name, _| !name.starts_with("lines."));
    let school = counting(formula, house);
    // The way the shown percentages are counted travels along, so that a change of it is no typing.
    form.set("counted", school.key());
    let flour = counted_flour(formula, catalogue, school);
    for (i, line) in formula.lines.iter().enumerate() {
        let name = catalogue.get(&line.ingredient).map_or(line.ingredient.as_str(), |e| e.name.as_str());
        fill_line(form, i, line, name, line.grams.percent_of(flour));
    }
}

pub(super) fn fill_line(form: &mut Form, row: usize, line: &Line, name: &str, percent: Percent) {
    form.set(format!("lines.{row}.stage"), line.stage.key());
    form.set(format!("lines.{row}.ingredient"), name);
    // The exact mass travels along, so that rounding on the page never changes the formula.
    form.set(format!("lines.{row}.exact"), line.grams.0.to_string());
    form.set(format!("lines.{row}.note"), &line.note);
    if !line.stage.in_dough() {
        form.set(format!("lines.{row}.at"), line.at.map_or(String::new(), |at| at.to_string()));
        form.set(
            format!("lines.{row}.on"),
            if line.on.is_main() { String::new() } else { line.on.to_string() },
        );
    }
    let grams = form.weighed(line.grams);
    form.set(format!("lines.{row}.grams"), &grams);
    form.set(format!("lines.{row}.percent"), shown::percent(percent));
    // What the page shows travels along too: what differs from it was typed, whatever else has changed
    // meanwhile: a name, a line that is gone, the way of counting.
    form.set(format!("lines.{row}.shown"), format!("{grams} {}", shown::percent(percent)));
}

/// What the Rise station repeats of other stations, to be stepped there.
fn fill_now(form: &mut Form, formula: &Formula, house: &Household) {
    form.set("now.dough", format!("{} °C", plain(formula.mix.desired.0)));
    let leaven = match levers(formula, &house.catalogue).first() {
        Some(Lever::Yeast) => {
            let is_yeast =
                |l: &&Line| house.catalogue.get(&l.ingredient).is_some_and(|i| i.instant_yeast() > 0.0);
            let grams = formula.lines.iter().filter(|l| l.stage == Stage::Dough).filter(is_yeast);
            format!("{} g of yeast", shown::grams(grams.map(|l| l.grams).sum()))
        }
        Some(Lever::Culture) => {
            let share = figures(formula, &house.catalogue).prefermented.0;
            format!("{share:.0} % of the flour in the levain")
        }
        _ => "none".into(),
    };
    form.set("now.leaven", leaven);
}

/// Brings the page's amounts in line with the formula, leaving half-typed empty rows alone.
pub fn show_amounts(form: &mut Form, formula: &Formula, house: &Household) {
    let school = counting(formula, house);
    form.set("counted", school.key());
    fill_now(form, formula, house);
    let flour = counted_flour(formula, &house.catalogue, school);
    let named: Vec<LineRow> = rows(form)
        .into_iter()
        .filter(|r| !form.value(&format!("lines.{}.ingredient", r.row)).trim().is_empty())
        .collect();
    for (line, LineRow { row, .. }) in formula.lines.iter().zip(named) {
        let name = form.value(&format!("lines.{row}.ingredient")).to_owned();
        fill_line(form, row, line, &name, line.grams.percent_of(flour));
    }
}
