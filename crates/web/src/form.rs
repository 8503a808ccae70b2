//! What was typed: form fields as text, what is wrong with them, and the formula they make.
//!
//! Nothing typed is lost: a page is always drawn again from the text itself.

use std::collections::BTreeMap;

use cerealis_core::cupboard::Cupboard;
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::ferment::{InverseInput, Lever, Stands, Which, rise_inverse};
use cerealis_core::formula::{
    Counting, Formula, Handling, Have, LEGS_MAX, LINES_MAX, Leg, LevainPlan, Line, MAKEUPS_MAX, MakeUp,
    PanCount, PrefermentSize, RisePlan, RiseWish, ScaleTo, Stage, StagePlan, Style, Swap, SwapInput,
    counted_flour, figures, pull, round_for, scale_to, set_grams, set_percent, size_preferment, slips, swap,
    whole_eggs,
};
use cerealis_core::ingredient::{Catalogue, Group};
use cerealis_core::kitchen::Kitchen;
use cerealis_core::mixing::{Method, MixPlan, SaltSchool, WaterSchool};
use cerealis_core::oven::{OvenPlan, Vessel};
use cerealis_core::plan::{Anchor, DayPlan, StepKind};
use cerealis_core::shape::{Kind, ShapePlan};
use cerealis_core::stations::{self, Stations};
use cerealis_core::units::{Celsius, Grams, Hours, Minutes, Percent, shown};

/// The text of every field of a form, with what is wrong.
#[derive(Clone, Debug, Default)]
pub struct Form {
    values: BTreeMap<String, String>,
    faults: BTreeMap<String, String>,
}

impl Form {
    /// Reads a posted body; bytes that are no text become the mark for that.
    pub fn parse(body: &[u8]) -> Form {
        let values = form_urlencoded::parse(body).map(|(k, v)| (k.into_owned(), v.into_owned())).collect();
        Form { values, faults: BTreeMap::new() }
    }

    /// The text of a field; empty when it is missing.
    pub fn value(&self, name: &str) -> &str {
        self.values.get(name).map_or("", String::as_str)
    }

    /// Whether a box is ticked.
    pub fn ticked(&self, name: &str) -> bool {
        !self.value(name).is_empty()
    }

    /// What is wrong with a field.
    pub fn fault(&self, name: &str) -> Option<&str> {
        self.faults.get(name).map(String::as_str)
    }

    /// All faults by field.
    pub fn faults(&self) -> &BTreeMap<String, String> {
        &self.faults
    }

    /// Faults that belong to no field on the page.
    pub fn general_faults(&self) -> Vec<&str> {
        let homeless =
            |name: &str| matches!(name, "lines" | "" | "scale" | "makeups" | "swap" | "meant" | "which");
        self.faults.iter().filter(|(k, _)| homeless(k)).map(|(_, m)| m.as_str()).collect()
    }

    /// All fields and their text.
    pub fn values(&self) -> &BTreeMap<String, String> {
        &self.values
    }

    /// Sets a field's text.
    pub fn set(&mut self, name: impl Into<String>, value: impl Into<String>) {
        self.values.insert(name.into(), value.into());
    }

    /// Forgets fields.
    pub fn forget(&mut self, which: impl Fn(&str) -> bool) {
        self.values.retain(|name, _| !which(name));
    }

    /// Marks what is wrong.
    pub fn mark(&mut self, faults: &Faults) {
        for f in &faults.0 {
            self.faults.entry(f.path.clone()).or_insert_with(|| f.message.clone());
        }
    }
}

/// Reads fields one by one and collects what is wrong with each.
pub struct Reader<'a> {
    form: &'a Form,
    faults: Vec<Fault>,
}

/// Reads a number as people type it: a decimal point or comma, a sign, no other marks.
pub fn number(text: &str) -> Option<f64> {
    let text = text.trim().replace(',', ".").replace('\u{2212}', "-");
    let plain = text.chars().all(|c| c.is_ascii_digit() || matches!(c, '.' | '-' | '+'));
    text.parse().ok().filter(|n: &f64| plain && n.is_finite())
}

impl<'a> Reader<'a> {
    /// Begins to read a form.
    pub fn new(form: &'a Form) -> Self {
        Reader { form, faults: Vec::new() }
    }

    /// Notes what is wrong with a field.
    pub fn fault(&mut self, code: &str, name: &str, message: &str) {
        self.faults.push(Fault::new(code, name, message));
    }

    /// The text of a field.
    pub fn text(&self, name: &str) -> String {
        self.form.value(name).trim().to_owned()
    }

    /// A number that must be there.
    pub fn number(&mut self, name: &str) -> f64 {
        self.optional(name).unwrap_or_else(|| {
            if self.form.value(name).trim().is_empty() {
                self.fault("missing", name, "Enter a number.");
            }
            0.0
        })
    }

    /// A number that may be left out.
    pub fn optional(&mut self, name: &str) -> Option<f64> {
        let text = self.form.value(name);
        if text.trim().is_empty() {
            return None;
        }
        let read = number(text);
        if read.is_none() {
            self.fault("not-a-number", name, "This is not a number. Use digits, such as 25 or 25.5.");
        }
        read
    }

    /// A whole number that must be there.
    pub fn whole(&mut self, name: &str) -> u32 {
        let n = self.number(name);
        if n.fract() == 0.0 && (0.0..=1e6).contains(&n) {
            return n as u32;
        }
        self.fault("not-a-number", name, "Enter a whole number, such as 2.");
        1
    }

    /// One of a fixed set.
    pub fn choice<T>(&mut self, name: &str, from_key: impl Fn(&str) -> Option<T>, otherwise: T) -> T {
        from_key(self.form.value(name)).unwrap_or_else(|| {
            self.fault("unknown", name, "Choose one from the list.");
            otherwise
        })
    }

    /// `Ok(value)` when every field could be read.
    ///
    /// # Errors
    /// All faults.
    pub fn done<T>(self, value: T) -> Result<T, Faults> {
        if self.faults.is_empty() { Ok(value) } else { Err(Faults(self.faults)) }
    }
}

/// A number without trailing noughts.
pub fn plain(x: f64) -> String {
    let text = format!("{x:.2}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

/// A row of the line editor, as typed.
#[derive(Clone, Debug)]
pub struct LineRow {
    /// Its number on the page.
    pub row: usize,
    /// Its stage.
    pub stage: Stage,
}

/// The numbers of the rows on the page, in order.
pub fn rows(form: &Form) -> Vec<LineRow> {
    let mut found: Vec<LineRow> = form
        .values
        .iter()
        .filter_map(|(name, stage)| {
            let row = name.strip_prefix("lines.")?.strip_suffix(".stage")?.parse().ok()?;
            Some(LineRow { row, stage: Stage::from_key(stage).unwrap_or(Stage::Dough) })
        })
        .collect();
    found.sort_by_key(|r| r.row);
    found.truncate(LINES_MAX + 1);
    found
}

/// The household that a form is read in: what it has, and how it counts.
#[derive(Clone, Copy)]
pub struct House<'a> {
    /// What is in the cupboard.
    pub catalogue: &'a Catalogue,
    /// Its settings.
    pub kitchen: &'a Kitchen,
    /// Its own ingredients and what things cost.
    pub cupboard: &'a Cupboard,
}

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
    for (name, wish) in [("bulk", &r.bulk), ("proof", &r.proof)] {
        let at = |field: &str| format!("rise.{name}.{field}");
        form.set(at("place"), optional(wish.place.map(|t| t.0)));
        form.set(at("target"), plain(wish.target));
        form.set(at("stays"), optional(wish.stays.map(|h| h.0)));
        form.set(at("stands"), wish.stands.key());
        for n in 0..LEGS_MAX {
            let leg = wish.legs.get(n);
            form.set(at(&format!("legs.{n}.hours")), optional(leg.map(|l| l.hours.0)));
            form.set(at(&format!("legs.{n}.place")), optional(leg.map(|l| l.place.0)));
        }
    }
    form.set("rise.handling", r.handling.key());
    form.set("rise.levain_place", optional(r.levain_place.map(|t| t.0)));
    form.set("shape.kind", formula.shape.kind.key());
    form.set("shape.pieces", formula.shape.pieces.to_string());
    form.set("shape.piece_weight", optional(formula.shape.piece_weight.map(|g| g.0)));
    form.set("shape.strands", formula.shape.strands.to_string());
    form.set("oven.vessel", formula.oven.vessel.key());
    form.set("oven.steam", tick(formula.oven.steam));
    form.set("oven.temperature", optional(formula.oven.temperature.map(|t| t.0)));
    form.set("day.anchor", formula.day.anchor.key());
    form.set("day.at", formula.day.at.map_or(String::new(), |at| at.strftime("%Y-%m-%dT%H:%M").to_string()));
    form
}

fn fill_stages(form: &mut Form, formula: &Formula) {
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
fn counting(formula: &Formula, house: House<'_>) -> Counting {
    formula.counting(house.kitchen.counting)
}

fn fill_lines(form: &mut Form, formula: &Formula, house: House<'_>) {
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

fn fill_line(form: &mut Form, row: usize, line: &Line, name: &str, percent: Percent) {
    form.set(format!("lines.{row}.stage"), line.stage.key());
    form.set(format!("lines.{row}.ingredient"), name);
    // The exact mass travels along, so that rounding on the page never changes the formula.
    form.set(format!("lines.{row}.exact"), line.grams.0.to_string());
    form.set(format!("lines.{row}.note"), &line.note);
    form.set(format!("lines.{row}.grams"), shown::grams(line.grams));
    form.set(format!("lines.{row}.percent"), shown::percent(percent));
}

/// A change to the formula as a whole, asked for by a button.
#[derive(Clone, Debug, PartialEq)]
pub enum Change {
    /// A new empty line in a stage.
    Add(Stage),
    /// A line goes.
    Remove(usize),
    /// Scale, by the fields of this way of scaling.
    Scale(String),
    /// A preferment takes the size typed.
    Size(Stage),
    /// Eggs become whole ones.
    WholeEggs,
    /// Amounts are rounded for the scale at hand.
    Round,
    /// A slip is mended as it offers.
    Mend(String),
    /// A slip is meant.
    Mean(String),
    /// A slip is not meant after all.
    Unmean(String),
    /// A swap is looked at, the one typed when none is named: nothing changes yet.
    Try(Option<Swap>),
    /// A swap that was looked at is left.
    Leave,
    /// A swap is accepted.
    Swap(Swap),
    /// The bulk rise is made to fit the time at which the baker is back.
    Back(Lever),
    /// A further make-up.
    AddMakeUp,
    /// A make-up goes.
    RemoveMakeUp(usize),
}

impl Change {
    /// Reads the button's value.
    pub fn from_key(key: &str) -> Option<Change> {
        let (name, rest) = key.split_once(':').unwrap_or((key, ""));
        let read_swap = || serde_json::from_str::<Swap>(rest).ok();
        Some(match name {
            "add" => Change::Add(Stage::from_key(rest)?),
            "remove" => Change::Remove(rest.parse().ok()?),
            "scale" => Change::Scale(rest.to_owned()),
            "size" => Change::Size(Stage::from_key(rest)?),
            "whole-eggs" => Change::WholeEggs,
            "round" => Change::Round,
            "mend" => Change::Mend(rest.to_owned()),
            "mean" => Change::Mean(rest.to_owned()),
            "unmean" => Change::Unmean(rest.to_owned()),
            "try" => Change::Try(read_swap()),
            "leave" => Change::Leave,
            "swap" => Change::Swap(read_swap()?),
            "back" => Change::Back(Lever::from_key(rest)?),
            "add-makeup" => Change::AddMakeUp,
            "remove-makeup" => Change::RemoveMakeUp(rest.parse().ok()?),
            _ => return None,
        })
    }

    /// Whether it only asks, and changes nothing.
    pub fn only_asks(&self) -> bool {
        matches!(self, Change::Try(_) | Change::Leave)
    }
}

/// Applies a button to the form and returns the formula, if it can be read.
///
/// Rows are added and removed in the text itself, so that a half-typed line stays as it is.
pub fn change(form: &mut Form, change: &Change, house: House<'_>) -> Result<Formula, Faults> {
    match change {
        Change::Add(stage) => insert_row(form, *stage),
        Change::Remove(row) => remove_row(form, *row),
        Change::RemoveMakeUp(row) => remove_makeup(form, *row),
        Change::Try(_) | Change::Leave => {}
        _ => {
            let mut formula = read(form, house)?;
            apply_change(&mut formula, form, change, house)?;
            let filled = fill(&formula, house);
            form.values.retain(|name, _| !name.starts_with("lines.") && !name.starts_with("makeups."));
            for (name, value) in filled.values {
                form.set(name, value);
            }
            return Ok(formula);
        }
    }
    read(form, house)
}

fn apply_change(formula: &mut Formula, form: &Form, change: &Change, house: House<'_>) -> Result<(), Faults> {
    let catalogue = house.catalogue;
    let at = |field: String| move |f: Fault| Faults(vec![Fault { path: field, ..f }]);
    let all = |formula: &Formula| slips(formula, &figures(formula, catalogue), catalogue);
    match change {
        Change::Scale(way) => scale(formula, form, way, house)?,
        Change::Size(stage) => {
            let (share, weight) = (format!("size.{}", stage.key()), format!("weight.{}", stage.key()));
            let mut r = Reader::new(form);
            let (path, size) = match (r.optional(&share), r.optional(&weight)) {
                (None, Some(grams)) => (weight, PrefermentSize::Weight(Grams(grams))),
                (given, _) => (share, PrefermentSize::Flour(Percent(given.unwrap_or_default()))),
            };
            r.done(())?;
            size_preferment(formula, *stage, size, catalogue).map_err(at(path))?;
        }
        Change::WholeEggs => {
            let said = whole_eggs(formula, house.kitchen.eggs, catalogue).map_err(at("scale".into()))?;
            if said.is_empty() {
                let text = "There are no eggs in the dough, or they are whole already.";
                return Err(Fault::new("impossible", "scale", text).into());
            }
        }
        Change::Round => round_for(formula, house.kitchen.scale),
        Change::Mend(code) => {
            if let Some(mend) = all(formula).into_iter().find(|s| s.code == code).and_then(|s| s.mend) {
                *formula = *mend.formula;
            }
        }
        Change::Mean(code) if !formula.meant.contains(code) => formula.meant.push(code.clone()),
        Change::Unmean(code) => formula.meant.retain(|m| m != code),
        Change::Swap(wanted) => *formula = try_swap(formula, wanted, catalogue)?.formula,
        Change::AddMakeUp => add_makeup(formula, catalogue)?,
        Change::Back(by) => make_it_fit(formula, form, *by, house)?,
        _ => {}
    }
    Ok(())
}

/// Makes the bulk rise last until the time in `back.at`, by one lever.
fn make_it_fit(formula: &mut Formula, form: &Form, by: Lever, house: House<'_>) -> Result<(), Faults> {
    let missing = || Fault::new("missing", "back.at", "Give the time at which you are back.");
    let at: jiff::civil::Time = form.value("back.at").parse().map_err(|_| missing())?;
    let s = stations::read(formula, house.kitchen, house.catalogue, jiff::Timestamp::now())?;
    let time = wait_until(at, &s).ok_or_else(missing)?;
    let fridge = Celsius(house.kitchen.fridge.0.max(0.0));
    let rise = s.rise_input.clone();
    let answer = rise_inverse(&InverseInput { rise, which: Which::Bulk, time, by, fridge })?;
    if !answer.found {
        let text = format!("That is not to be had by the {}.", by.name().to_lowercase());
        return Err(Fault::new("impossible", "back.at", text).into());
    }
    pull(formula, by, answer.value, &s.rise_input, house.kitchen, house.catalogue)
        .map_err(|f| Fault { path: "back.at".into(), ..f })?;
    Ok(())
}

/// From the beginning of the bulk rise to a time of day, 10 min to a day later.
pub fn wait_until(at: jiff::civil::Time, s: &Stations) -> Option<Minutes> {
    let begins = s.day.steps.iter().find(|c| c.step.kind == StepKind::Bulk && !c.step.hands_on)?.at.time();
    let minutes = |t: jiff::civil::Time| 60.0 * f64::from(t.hour()) + f64::from(t.minute());
    let away = (minutes(at) - minutes(begins)).rem_euclid(1440.0);
    Some(Minutes(if away < 10.0 { away + 1440.0 } else { away }))
}

/// Does a swap, with its faults at the page's fields.
pub fn try_swap(
    formula: &Formula,
    wanted: &Swap,
    catalogue: &Catalogue,
) -> Result<cerealis_core::formula::Swapped, Faults> {
    let input = SwapInput { formula: formula.clone(), swap: wanted.clone(), keep: true };
    swap(&input, catalogue).map_err(|Faults(faults)| {
        let moved = |f: Fault| Fault {
            path: if matches!(f.path.as_str(), "from" | "to" | "percent") {
                format!("swap.{}", f.path)
            } else {
                "swap".into()
            },
            ..f
        };
        Faults(faults.into_iter().map(moved).collect())
    })
}

/// The swap that the fields “this for that” make, by the shelf of what gives way.
pub fn typed_swap(form: &Form, catalogue: &Catalogue) -> Result<Swap, Faults> {
    let mut r = Reader::new(form);
    let mut key = |field: &str| match catalogue.named(&r.text(field)) {
        Some(i) => Some((i.key.clone(), i.group)),
        None => {
            r.fault("unknown", field, "Pick a name from the list.");
            None
        }
    };
    let (from, to) = (key("swap.from"), key("swap.to"));
    let percent = Percent(r.optional("swap.percent").unwrap_or(100.0));
    r.done(())?;
    let (Some((from, group)), Some((to, _))) = (from, to) else {
        return Err(Fault::new("missing", "swap.from", "Pick a name from the list.").into());
    };
    Ok(match group {
        Group::Flour => Swap::Flour { from, to, percent },
        Group::Liquid | Group::Dairy => Swap::Liquid { from, to },
        Group::Fat => Swap::Fat { from, to },
        Group::Sugar => Swap::Sugar { from, to },
        Group::Yeast => Swap::Yeast { to },
        _ => {
            let text = "This way takes flours, liquids, milk, fats, sugars and yeasts. The others are in the list beside.";
            return Err(Fault::new("impossible", "swap.from", text).into());
        }
    })
}

/// A third of the dough as eight buns, to be changed from there.
fn add_makeup(formula: &mut Formula, catalogue: &Catalogue) -> Result<(), Faults> {
    if formula.makeups.len() >= MAKEUPS_MAX {
        let text = format!("At most {MAKEUPS_MAX} further make-ups.");
        return Err(Fault::new("out-of-range", "makeups", text).into());
    }
    let others: Grams = formula.makeups.iter().map(|m| m.piece_weight * f64::from(m.pieces)).sum();
    let third = (figures(formula, catalogue).dough - others) / 3.0;
    let pieces = (third.0 / 75.0).round().clamp(1.0, 24.0);
    let piece_weight = Grams((third.0 / pieces).round().max(5.0));
    formula.makeups.push(MakeUp {
        kind: Kind::Bun,
        pieces: pieces as u32,
        piece_weight,
        vessel: Vessel::Sheet,
    });
    formula.shape.piece_weight = None;
    Ok(())
}

fn remove_makeup(form: &mut Form, row: usize) {
    let fields = ["kind", "pieces", "piece_weight", "vessel"];
    let old = |form: &Form, i: usize, field: &str| form.value(&format!("makeups.{i}.{field}")).to_owned();
    for i in row..MAKEUPS_MAX {
        for field in fields {
            let next = old(form, i + 1, field);
            let name = format!("makeups.{i}.{field}");
            if next.is_empty() {
                form.values.remove(&name)
            } else {
                form.values.insert(name, next)
            };
        }
    }
}

/// The scaling that the fields of a way make.
fn read_scaling(
    form: &Form,
    way: &str,
    formula: &Formula,
    house: House<'_>,
) -> Result<Option<ScaleTo>, Faults> {
    let mut r = Reader::new(form);
    let to = match way {
        "pieces" => {
            ScaleTo::Pieces { pieces: r.whole("scale.pieces"), weight: Grams(r.number("scale.weight")) }
        }
        "dough" => ScaleTo::Dough { grams: Grams(r.number("scale.dough")) },
        "flour" => ScaleTo::Flour { grams: Grams(r.number("scale.flour")) },
        "factor" => ScaleTo::Factor { factor: r.number("scale.factor") },
        "baked" => {
            ScaleTo::Baked { grams: Grams(r.number("scale.baked")), loss: Percent(r.number("scale.loss")) }
        }
        "pans" => {
            let pans = &house.kitchen.pans;
            let count = |(i, pan): (usize, &cerealis_core::kitchen::Pan)| {
                let count = r.optional(&format!("scale.pan.{i}")).unwrap_or(0.0);
                (count > 0.0).then_some(PanCount { ml: pan.ml, count: count.round() as u32 })
            };
            ScaleTo::Pans { pans: pans.iter().enumerate().filter_map(count).collect(), fill: None }
        }
        "cupboard" => {
            let mut have: Vec<Have> = Vec::new();
            for l in &formula.lines {
                let there = r.optional(&format!("scale.have.{}", l.ingredient));
                if let Some(grams) = there.filter(|_| !have.iter().any(|h| h.ingredient == l.ingredient)) {
                    have.push(Have { ingredient: l.ingredient.clone(), grams: Grams(grams) });
                }
            }
            ScaleTo::Cupboard { have }
        }
        "fit" => {
            let Some(piece) = formula.shape.piece_weight else { return Ok(None) };
            let others: Grams = formula.makeups.iter().map(|m| m.piece_weight * f64::from(m.pieces)).sum();
            ScaleTo::Dough { grams: piece * f64::from(formula.shape.pieces) + others }
        }
        _ => return Ok(None),
    };
    r.done(Some(to))
}

fn scale(formula: &mut Formula, form: &Form, way: &str, house: House<'_>) -> Result<(), Faults> {
    formula.check(house.catalogue)?;
    let Some(to) = read_scaling(form, way, formula, house)? else { return Ok(()) };
    let makeups = formula.makeups.clone();
    let scaled = scale_to(formula, &to, house.catalogue).map_err(|Faults(faults)| {
        let moved = |f: Fault| {
            let path = match (way, f.path.as_str()) {
                ("fit", _) => "shape.piece_weight".to_owned(),
                (_, "pieces" | "weight" | "factor" | "loss") => format!("scale.{}", f.path),
                _ => format!("scale.{way}"),
            };
            Fault { path, ..f }
        };
        Faults(faults.into_iter().map(moved).collect())
    })?;
    *formula = scaled.formula;
    if way == "fit" {
        formula.makeups = makeups;
    }
    Ok(())
}

fn in_range(path: &str, what: &str, value: f64, low: f64, high: f64, unit: &str) -> Result<(), Faults> {
    let mut c = cerealis_core::fault::Check::new();
    c.range(path, what, value, low, high, unit);
    c.done(())
}

fn line_fields(form: &Form, row: usize) -> Vec<(String, String)> {
    let prefix = format!("lines.{row}.");
    let own = |name: &String| name.starts_with(&prefix);
    form.values
        .iter()
        .filter(|(k, _)| own(k))
        .map(|(k, v)| (k[prefix.len()..].to_owned(), v.clone()))
        .collect()
}

/// Writes the rows back under consecutive numbers.
fn renumber(form: &mut Form, order: Vec<Vec<(String, String)>>) {
    form.values.retain(|name, _| !name.starts_with("lines."));
    for (i, fields) in order.into_iter().enumerate() {
        for (field, value) in fields {
            form.set(format!("lines.{i}.{field}"), value);
        }
    }
}

fn insert_row(form: &mut Form, stage: Stage) {
    let rows = rows(form);
    let at = rows.iter().rposition(|r| r.stage <= stage).map_or(0, |i| i + 1);
    let mut order: Vec<_> = rows.iter().map(|r| line_fields(form, r.row)).collect();
    let field = |k: &str, v: &str| (k.to_owned(), v.to_owned());
    order.insert(
        at,
        vec![
            field("stage", stage.key()),
            field("ingredient", ""),
            field("exact", "0"),
            field("grams", ""),
            field("percent", ""),
            field("note", ""),
        ],
    );
    renumber(form, order);
}

fn remove_row(form: &mut Form, row: usize) {
    let order = rows(form).iter().filter(|r| r.row != row).map(|r| line_fields(form, r.row)).collect();
    renumber(form, order);
}

/// Reads the formula that a form makes.
///
/// Grams and percentage of a line are compared with what the page showed for its exact mass: the
/// one that differs is what the baker typed, and the other follows.
///
/// # Errors
/// Every field that cannot be read or is out of range.
pub fn read(form: &Form, house: House<'_>) -> Result<Formula, Faults> {
    let catalogue = house.catalogue;
    let mut r = Reader::new(form);
    let celsius = |x: Option<f64>| x.map(Celsius);
    let style = r.choice("style", Style::from_key, Style::Tin);
    let mix = MixPlan {
        method: r.choice("mix.method", Method::from_key, Method::Hand),
        desired: Celsius(r.number("mix.desired")),
        autolyse: Minutes(r.optional("mix.autolyse").unwrap_or(0.0)),
        flour: celsius(r.optional("mix.flour")),
        room: celsius(r.optional("mix.room")),
        preferment: celsius(r.optional("mix.preferment")),
        friction: r.optional("mix.friction"),
        salt: r.choice("mix.salt", SaltSchool::from_key, SaltSchool::WithAll),
        school: r.choice("mix.school", WaterSchool::from_key, WaterSchool::Balance),
    };
    let rise = RisePlan {
        bulk: read_rise(&mut r, "bulk"),
        proof: read_rise(&mut r, "proof"),
        handling: r.choice("rise.handling", Handling::from_key, Handling::Gentle),
        levain_place: celsius(r.optional("rise.levain_place")),
    };
    let shape = ShapePlan {
        kind: r.choice("shape.kind", Kind::from_key, Kind::Round),
        pieces: r.whole("shape.pieces"),
        piece_weight: r.optional("shape.piece_weight").map(Grams),
        strands: r.whole("shape.strands"),
    };
    let oven = OvenPlan {
        vessel: r.choice("oven.vessel", Vessel::from_key, Vessel::Sheet),
        steam: form.ticked("oven.steam"),
        temperature: celsius(r.optional("oven.temperature")),
    };
    let day = read_day(&mut r);
    let words = |text: &str, by: char| -> Vec<String> {
        text.split(by).map(str::trim).filter(|t| !t.is_empty()).map(str::to_owned).collect()
    };
    let counting = match form.value("counting") {
        "" => None,
        _ => Some(r.choice("counting", Counting::from_key, Counting::AllFlour)),
    };
    let mut formula = Formula {
        counting,
        stages: read_stages(&mut r),
        levain: LevainPlan {
            builds: if form.value("levain.builds").is_empty() { 1 } else { r.whole("levain.builds") },
            keep: Grams(r.optional("levain.keep").unwrap_or(0.0)),
        },
        makeups: read_makeups(&mut r),
        tags: words(form.value("tags"), ','),
        notes: form.value("notes").replace("\r\n", "\n"),
        meant: words(form.value("meant"), ' '),
        name: r.text("name"),
        style,
        percent_locked: form.ticked("percent_locked"),
        lines: Vec::new(),
        mix,
        rise,
        shape,
        oven,
        day,
    };
    let typed = read_lines(&mut r, &mut formula, catalogue);
    r.done(())?;
    apply(&mut formula, &typed, house, Counting::from_key(form.value("counted")))?;
    formula.check(catalogue).map_err(|faults| on_rows(faults, &typed))?;
    Ok(formula)
}

fn read_rise(r: &mut Reader<'_>, name: &str) -> RiseWish {
    let at = |field: &str| format!("rise.{name}.{field}");
    let mut legs = Vec::new();
    for n in 0..LEGS_MAX {
        let hours = r.optional(&at(&format!("legs.{n}.hours")));
        let place = r.optional(&at(&format!("legs.{n}.place")));
        match (hours, place) {
            (Some(hours), Some(place)) => legs.push(Leg { hours: Hours(hours), place: Celsius(place) }),
            (Some(_), None) => {
                r.fault("missing", &at(&format!("legs.{n}.place")), "Give the temperature there.")
            }
            (None, Some(_)) => r.fault("missing", &at(&format!("legs.{n}.hours")), "Give the hours there."),
            (None, None) => {}
        }
    }
    RiseWish {
        legs,
        place: r.optional(&at("place")).map(Celsius),
        target: r.number(&at("target")),
        stays: r.optional(&at("stays")).map(Hours),
        stands: r.choice(&at("stands"), Stands::from_key, Stands::Tub),
    }
}

fn read_stages(r: &mut Reader<'_>) -> Vec<StagePlan> {
    let mut plans = Vec::new();
    for stage in Stage::ALL.into_iter().filter(|s| s.is_ahead()) {
        let mut figure = |field: &str| r.optional(&format!("stages.{}.{field}", stage.key()));
        let plan = StagePlan {
            stage,
            hours: figure("hours").map(Hours),
            place: figure("place").map(Celsius),
            temperature: figure("temperature").map(Celsius),
        };
        if plan.hours.is_some() || plan.place.is_some() || plan.temperature.is_some() {
            plans.push(plan);
        }
    }
    plans
}

/// The numbers of the further make-ups on the page.
pub fn makeup_rows(form: &Form) -> Vec<usize> {
    (0..=MAKEUPS_MAX).filter(|i| form.values.contains_key(&format!("makeups.{i}.kind"))).collect()
}

fn read_makeups(r: &mut Reader<'_>) -> Vec<MakeUp> {
    makeup_rows(r.form)
        .into_iter()
        .map(|i| {
            let at = |field: &str| format!("makeups.{i}.{field}");
            MakeUp {
                kind: r.choice(&at("kind"), Kind::from_key, Kind::Bun),
                pieces: r.whole(&at("pieces")),
                piece_weight: Grams(r.number(&at("piece_weight"))),
                vessel: r.choice(&at("vessel"), Vessel::from_key, Vessel::Sheet),
            }
        })
        .collect()
}

fn read_day(r: &mut Reader<'_>) -> DayPlan {
    let anchor = r.choice("day.anchor", Anchor::from_key, Anchor::Now);
    let text = r.text("day.at");
    let at = if text.is_empty() { None } else { text.parse().ok() };
    if anchor != Anchor::Now && at.is_none() {
        r.fault("missing", "day.at", "Give the date and the time to plan from.");
    }
    DayPlan { anchor, at }
}

/// What was typed into one row.
struct Typed {
    row: usize,
    grams: Option<f64>,
    percent: Option<f64>,
}

/// Fills the formula's lines with their exact masses, and returns what was typed over them.
fn read_lines(r: &mut Reader<'_>, formula: &mut Formula, catalogue: &Catalogue) -> Vec<Typed> {
    let mut typed = Vec::new();
    for LineRow { row, stage } in rows(r.form) {
        let at = |field: &str| format!("lines.{row}.{field}");
        let name = r.text(&at("ingredient"));
        let (grams_text, percent_text) = (r.text(&at("grams")), r.text(&at("percent")));
        if name.is_empty() && grams_text.is_empty() && percent_text.is_empty() {
            continue;
        }
        let key = match catalogue.named(&name) {
            Some(i) => i.key.clone(),
            None if name.is_empty() => {
                r.fault("missing", &at("ingredient"), "Name the ingredient of this line.");
                continue;
            }
            None => {
                let text = format!("“{name}” is not in the catalogue. Pick a name from the list.");
                r.fault("unknown", &at("ingredient"), &text);
                continue;
            }
        };
        let exact = number(r.form.value(&at("exact"))).filter(|x| *x >= 0.0).unwrap_or(0.0);
        // A new line may be given by its percentage alone; on an old one, cleared grams are missing.
        let by_percent = exact == 0.0 && grams_text.is_empty() && !percent_text.is_empty();
        let grams = (!by_percent).then(|| r.number(&at("grams")));
        typed.push(Typed { row, grams, percent: r.optional(&at("percent")) });
        formula.lines.push(Line { note: r.text(&at("note")), ..Line::new(key, stage, Grams(exact)) });
    }
    typed
}

/// Whether a typed figure is another than the one the page showed.
fn differs(typed: f64, shown: &str) -> bool {
    number(shown).is_none_or(|s| (s - typed).abs() > 1e-9)
}

fn apply(
    formula: &mut Formula,
    typed: &[Typed],
    house: House<'_>,
    counted: Option<Counting>,
) -> Result<(), Faults> {
    let catalogue = house.catalogue;
    let school = counting(formula, house);
    // What was typed is compared with what the page showed, by the way it counted then.
    let flour = counted_flour(formula, catalogue, counted.unwrap_or(school));
    let before: Vec<Grams> = formula.lines.iter().map(|l| l.grams).collect();
    let on_row =
        |f: Fault, row: usize, field: &str| Faults(vec![Fault { path: format!("lines.{row}.{field}"), ..f }]);
    let mut percents = Vec::new();
    for (i, t) in typed.iter().enumerate() {
        match (t.grams, t.percent) {
            (Some(g), _) if differs(g, &shown::grams(before[i])) => {
                in_range(
                    &format!("lines.{}.grams", t.row),
                    "A line",
                    g,
                    0.0,
                    cerealis_core::formula::LINE_GRAMS_MAX,
                    "g",
                )?;
                set_grams(formula, i, Grams(g)).map_err(|f| on_row(f, t.row, "grams"))?;
            }
            (_, Some(p)) if differs(p, &shown::percent(before[i].percent_of(flour))) => {
                percents.push((i, t.row, p))
            }
            _ => {}
        }
    }
    for (i, row, p) in percents {
        in_range(&format!("lines.{row}.percent"), "A percentage", p, 0.0, 1000.0, "%")?;
        set_percent(formula, i, Percent(p), catalogue, school).map_err(|f| on_row(f, row, "percent"))?;
    }
    Ok(())
}

/// Faults name lines by their place in the formula; the page knows them by their row.
fn on_rows(Faults(faults): Faults, typed: &[Typed]) -> Faults {
    let moved = |mut f: Fault| {
        if let Some((index, field)) = f.path.strip_prefix("lines.").and_then(|rest| rest.split_once('.'))
            && let Some(t) = index.parse().ok().and_then(|i: usize| typed.get(i))
        {
            f.path = format!("lines.{}.{field}", t.row);
        }
        f
    };
    Faults(faults.into_iter().map(moved).collect())
}

/// Brings the page's amounts in line with the formula, leaving half-typed empty rows alone.
pub fn show_amounts(form: &mut Form, formula: &Formula, house: House<'_>) {
    let school = counting(formula, house);
    form.set("counted", school.key());
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
