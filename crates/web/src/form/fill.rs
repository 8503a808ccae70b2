//! A formula written into the fields of a form.

use cerealis_core::formula::{Formula, Line, counted_flour, figures, levers};
use cerealis_core::rise::LEGS_MAX;
use cerealis_core::rise::Lever;
use cerealis_core::units::{Percent, shown};
use cerealis_core::words::{Counting, Stage};

use super::*;

/// Fills a form from a formula.
pub fn fill(formula: &Formula, house: House<'_>) -> Form {
    let mut form = Form::default();
    let optional = |t: Option<f64>| t.map_or(String::new(), plain);
    let tick = |on: bool| if on { "on" } else { "" };
    form.set("name", &formula.name);
    form.set("style", formula.style.key());
    form.set("percent_locked", tick(formula.percent_locked));
    form.set("counting", formula.counting.map_or("", Counting::key));
    fill_lines(&mut form, formula, house);
    fill_stages(&mut form, formula);
    fill_now(&mut form, formula, house);
    form.set("author", &formula.author);
    form.set("tags", formula.tags.join(", "));
    form.set("notes", &formula.notes);
    form.set("meant", formula.meant.join(" "));
    let m = &formula.mix;
    form.set("mix.method", m.method.key());
    form.set("mix.desired", plain(m.desired.0));
    form.set("mix.autolyse", plain(m.autolyse.0));
    form.set("mix.flour", optional(m.flour.map(|t| t.0)));
    form.set("mix.room", optional(m.room.map(|t| t.0)));
    form.set("mix.preferment", optional(m.preferment.map(|t| t.0)));
    form.set("mix.friction", optional(m.friction));
    form.set("mix.school", m.school.key());
    form.set("mix.salt", m.salt.key());
    let r = &formula.rise;
    for (name, wish) in r.rises() {
        let at = |field: &str| format!("rise.{name}.{field}");
        form.set(at("place"), optional(wish.place.map(|t| t.0)));
        form.set(at("target"), plain(wish.target));
        form.set(at("stays"), optional(wish.stays.map(|h| h.0)));
        form.set(at("stands"), wish.stands.key());
        form.set(at("night"), optional(Some(wish.night).filter(|n| *n > 0.0)));
        for n in 0..LEGS_MAX {
            let leg = wish.legs.get(n);
            form.set(at(&format!("legs.{n}.hours")), optional(leg.map(|l| l.hours.0)));
            form.set(at(&format!("legs.{n}.place")), optional(leg.map(|l| l.place.0)));
        }
    }
    form.set("rise.handling", r.handling.key());
    form.set("rise.between", r.between.key());
    form.set("rise.levain_place", optional(r.levain_place.map(|t| t.0)));
    form.set("shape.kind", formula.shape.kind.key());
    form.set("shape.pieces", formula.shape.pieces.to_string());
    form.set("shape.piece_weight", optional(formula.shape.piece_weight.map(|g| g.0)));
    form.set("shape.strands", formula.shape.strands.to_string());
    form.set("shape.hand", formula.shape.hand.key());
    form.set("shape.pan", formula.shape.pan.as_deref().unwrap_or_default());
    form.set("shape.on_scale", optional(formula.shape.on_scale.map(|g| g.0)));
    form.set("shape.rolled", optional(formula.shape.rolled));
    form.set("finish.score", formula.finish.score.map_or("", |s| s.key()));
    form.set("finish.piped", tick(formula.finish.piped));
    form.set("finish.basted", tick(formula.finish.basted));
    let hot = formula.oven.hot_start;
    form.set("oven.hot_start.temperature", optional(hot.map(|h| h.temperature.0)));
    form.set("oven.hot_start.minutes", optional(hot.map(|h| h.minutes.0)));
    form.set("oven.made", formula.oven.made.key());
    form.set("oven.parchment", tick(formula.oven.parchment));
    form.set("oven.vessel", formula.oven.vessel.key());
    form.set("oven.steam", tick(formula.oven.steam));
    form.set("oven.temperature", optional(formula.oven.temperature.map(|t| t.0)));
    form.set("day.anchor", formula.day.anchor.key());
    form.set("day.at", formula.day.at.map_or(String::new(), |at| at.strftime("%Y-%m-%dT%H:%M").to_string()));
    form
}

pub(super) fn fill_stages(form: &mut Form, formula: &Formula) {
    let optional = |t: Option<f64>| t.map_or(String::new(), plain);
    for stage in Stage::ALL.into_iter().filter(|s| s.is_ahead()) {
        let plan = formula.stage_plan(stage);
        let at = |field: &str| format!("stages.{}.{field}", stage.key());
        form.set(at("hours"), optional(plan.hours.map(|h| h.0)));
        form.set(at("place"), optional(plan.place.map(|t| t.0)));
        form.set(at("temperature"), optional(plan.temperature.map(|t| t.0)));
    }
    form.set("levain.builds", formula.levain.builds.to_string());
    form.set("levain.keep", plain(formula.levain.keep.0));
    form.values.retain(|name, _| !name.starts_with("makeups."));
    for (i, m) in formula.makeups.iter().enumerate() {
        let at = |field: &str| format!("makeups.{i}.{field}");
        form.set(at("kind"), m.kind.key());
        form.set(at("pieces"), m.pieces.to_string());
        form.set(at("piece_weight"), plain(m.piece_weight.0));
        form.set(at("vessel"), m.vessel.key());
    }
}

/// The way of counting that a formula's percentages are shown by.
pub(super) fn counting(formula: &Formula, house: House<'_>) -> Counting {
    formula.counting(house.kitchen.counting)
}

pub(super) fn fill_lines(form: &mut Form, formula: &Formula, house: House<'_>) {
    let catalogue = house.catalogue;
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
    form.set(format!("lines.{row}.grams"), shown::grams(line.grams));
    form.set(format!("lines.{row}.percent"), shown::percent(percent));
    // What the page shows travels along too: what differs from it was typed, whatever else has changed
    // meanwhile: a name, a line that is gone, the way of counting.
    form.set(
        format!("lines.{row}.shown"),
        format!("{} {}", shown::grams(line.grams), shown::percent(percent)),
    );
}

/// What the Rise station repeats of other stations, to be stepped there.
fn fill_now(form: &mut Form, formula: &Formula, house: House<'_>) {
    form.set("now.dough", format!("{} °C", plain(formula.mix.desired.0)));
    let leaven = match levers(formula, house.catalogue).first() {
        Some(Lever::Yeast) => {
            let is_yeast =
                |l: &&Line| house.catalogue.get(&l.ingredient).is_some_and(|i| i.instant_yeast() > 0.0);
            let grams = formula.lines.iter().filter(|l| l.stage == Stage::Dough).filter(is_yeast);
            format!("{} g of yeast", shown::grams(grams.map(|l| l.grams).sum()))
        }
        Some(Lever::Culture) => {
            let share = figures(formula, house.catalogue).prefermented.0;
            format!("{share:.0} % of the flour in the levain")
        }
        _ => "none".into(),
    };
    form.set("now.leaven", leaven);
}

/// Brings the page's amounts in line with the formula, leaving half-typed empty rows alone.
pub fn show_amounts(form: &mut Form, formula: &Formula, house: House<'_>) {
    let school = counting(formula, house);
    form.set("counted", school.key());
    fill_now(form, formula, house);
    let flour = counted_flour(formula, house.catalogue, school);
    let named: Vec<LineRow> = rows(form)
        .into_iter()
        .filter(|r| !form.value(&format!("lines.{}.ingredient", r.row)).trim().is_empty())
        .collect();
    for (line, LineRow { row, .. }) in formula.lines.iter().zip(named) {
        let name = form.value(&format!("lines.{row}.ingredient")).to_owned();
        fill_line(form, row, line, &name, line.grams.percent_of(flour));
    }
}
