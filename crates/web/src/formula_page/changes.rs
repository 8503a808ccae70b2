//! What the buttons of a formula's page do to it.

use cerealis_core::day::{Anchor, DayWish};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::finish::Pieces;
use cerealis_core::formula::{
    Formula, MAKEUPS_MAX, MakeUp, PrefermentSize, Swap, SwapInput, figures, levers, pull, round_for,
    size_preferment, slips, swap, whole_eggs,
};
use cerealis_core::pantry::{Catalogue, Group};
use cerealis_core::rise::{InverseInput, Lever, RiseWish, Which, rise_inverse};
use cerealis_core::stations;
use cerealis_core::units::{Celsius, Grams, Hours, Minutes, Percent};
use cerealis_core::words::{Kind, Stage, Vessel};
use cerealis_reader::Found;

use crate::asks::wait_until;
use crate::form::{Form, Reader};
use crate::formula_page::rows::{insert_row, remove_row};
use crate::formula_page::scaling::scale;
use crate::formula_page::*;

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
    /// A rise goes by what the recipe says.
    Follow(String),
    /// A rise goes by the dough again.
    Unfollow(String),
    /// A swap is looked at, the one typed when none is named: nothing changes yet.
    Try(Option<Swap>),
    /// A swap that was looked at is left.
    Leave,
    /// A swap is accepted.
    Swap(Swap),
    /// The bulk rise is made to fit the time at which the baker is back.
    Back(Lever),
    /// More of what makes it rise, or less.
    Nudge(bool),
    /// The day starts then, by the kitchen's clock.
    StartAt(jiff::civil::DateTime),
    /// A further make-up.
    AddMakeUp,
    /// A make-up goes.
    RemoveMakeUp(usize),
}

/// What was pressed.
#[derive(Clone, Debug, PartialEq)]
pub enum Press {
    /// Save, or nothing but a field that was left.
    Save,
    /// A button that changes or asks something.
    Change(Change),
    /// To another station, with what was typed: for a browser without scripts.
    Go(String),
    /// A button that no page has.
    Unknown,
}

impl Press {
    /// Reads the button's value; without one it is a save.
    pub fn from_key(key: &str) -> Press {
        match key {
            "" => Press::Save,
            key if key.starts_with("go:") => Press::Go(key[3..].to_owned()),
            key => Change::from_key(key).map_or(Press::Unknown, Press::Change),
        }
    }
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
            "follow" => Change::Follow(rest.to_owned()),
            "unfollow" => Change::Unfollow(rest.to_owned()),
            "try" => Change::Try(read_swap()),
            "leave" => Change::Leave,
            "swap" => Change::Swap(read_swap()?),
            "back" => Change::Back(Lever::from_key(rest)?),
            "nudge" => match rest {
                "more" => Change::Nudge(true),
                "less" => Change::Nudge(false),
                _ => return None,
            },
            "start" => Change::StartAt(rest.parse().ok()?),
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
pub fn change(form: &mut Form, change: &Change, house: &Household) -> Result<Formula, Faults> {
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

fn apply_change(
    formula: &mut Formula,
    form: &Form,
    change: &Change,
    house: &Household,
) -> Result<(), Faults> {
    let catalogue = &house.catalogue;
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
        Change::Follow(what) if what == Found::Bake.key() => {
            let said = formula.said.iter().find(|s| s.what == *what).map(|s| 0.5 * (s.low + s.high));
            formula.oven.minutes = said.map(|m| Minutes(m.round().clamp(3.0, 240.0)));
        }
        Change::Unfollow(what) if what == Found::Bake.key() => formula.oven.minutes = None,
        Change::Follow(what) => {
            let said = formula.said.iter().find(|s| s.what == *what).map(|s| 0.5 * (s.low + s.high) / 60.0);
            if let (Some(hours), Some(wish)) = (said, rise_named(formula, what)) {
                wish.stays = Some(Hours(hours.clamp(0.25, 72.0)));
            }
        }
        Change::Unfollow(what) => {
            if let Some(wish) = rise_named(formula, what) {
                wish.stays = None;
            }
        }
        Change::Swap(wanted) => *formula = try_swap(formula, wanted, catalogue)?.formula,
        Change::StartAt(at) => formula.day = DayWish { anchor: Anchor::Start, at: Some(*at) },
        Change::AddMakeUp => add_makeup(formula, catalogue)?,
        Change::Nudge(more) => nudge(formula, *more, house)?,
        Change::Back(by) => make_it_fit(formula, form, *by, house)?,
        _ => {}
    }
    Ok(())
}

/// A tenth more of what makes it rise, or less.
fn nudge(formula: &mut Formula, more: bool, house: &Household) -> Result<(), Faults> {
    let s = stations::read(formula, &house.kitchen, &house.catalogue, house.now)?;
    let step = if more { 1.1 } else { 1.0 / 1.1 };
    let by = levers(formula, &house.catalogue).first().copied();
    let (by, now) = match by {
        Some(Lever::Yeast) => (Lever::Yeast, s.rise_input.dough.instant_yeast.0),
        Some(Lever::Culture) => (Lever::Culture, s.rise_input.dough.culture.0),
        _ => {
            let text = "There is no yeast in the dough and no levain to take more or less of.";
            return Err(Fault::new("impossible", "lines", text).into());
        }
    };
    pull(formula, by, now * step, &s.rise_input, &house.kitchen, &house.catalogue)?;
    Ok(())
}

/// Makes the bulk rise last until the time in `back.at`, by one lever.
fn make_it_fit(formula: &mut Formula, form: &Form, by: Lever, house: &Household) -> Result<(), Faults> {
    let missing = || Fault::new("missing", "back.at", "Give the time at which you are back.");
    let at: jiff::civil::Time = form.value("back.at").parse().map_err(|_| missing())?;
    let s = stations::read(formula, &house.kitchen, &house.catalogue, house.now)?;
    let time = wait_until(at, &s).ok_or_else(missing)?;
    let fridge = Celsius(house.kitchen.fridge.0.max(0.0));
    let rise = s.rise_input.clone();
    let answer = rise_inverse(&InverseInput { rise, which: Which::Bulk, time, by, fridge })?;
    if !answer.found {
        let text = format!("That is not to be had by the {}.", by.name().to_lowercase());
        return Err(Fault::new("impossible", "back.at", text).into());
    }
    pull(formula, by, answer.value, &s.rise_input, &house.kitchen, &house.catalogue)
        .map_err(|f| Fault { path: "back.at".into(), ..f })?;
    Ok(())
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
    let percent = r.measure("swap.percent").unwrap_or(Percent(100.0));
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
        let text = format!("At most {MAKEUPS_MAX} further portions.");
        return Err(Fault::new("out-of-range", "makeups", text).into());
    }
    let others = formula.makeups_weight();
    let dough = figures(formula, catalogue).dough - others;
    // What the main pieces leave; of a dough that they share out, a third.
    let left = formula.shape.piece_weight.map(|w| dough - w * f64::from(formula.shape.pieces));
    let some = left.filter(|g| g.0 >= LEAST_LEFT).unwrap_or_else(|| {
        formula.shape.piece_weight = None;
        dough / 3.0
    });
    let pieces = (some.0 / 75.0).round().clamp(1.0, 24.0);
    let each = Grams((some.0 / pieces).floor().max(5.0));
    formula.makeups.push(MakeUp::of(Kind::Bun, pieces as u32, each, Vessel::Sheet));
    Ok(())
}

/// What is left of a dough that is worth a make-up of its own, g.
const LEAST_LEFT: f64 = 40.0;

/// A make-up goes, those behind it move up, and what went on its pieces goes on none.
fn remove_makeup(form: &mut Form, gone: usize) {
    let mut moved = Form::default();
    for (name, value) in form.values() {
        let parts = name.strip_prefix("makeups.").and_then(|rest| rest.split_once('.'));
        let Some((number, field)) = parts.and_then(|(n, field)| Some((n.parse::<usize>().ok()?, field)))
        else {
            continue;
        };
        if number != gone {
            moved.set(format!("makeups.{}.{field}", number - usize::from(number > gone)), value);
        }
    }
    form.forget(|name| name.starts_with("makeups."));
    for (name, value) in moved.values() {
        form.set(name, value);
    }
    let on = |name: &str| name.starts_with("lines.") && name.ends_with(".on");
    let lines: Vec<String> = form.values().keys().filter(|n| on(n)).cloned().collect();
    for name in lines {
        if let Ok(pieces) = form.value(&name).parse::<Pieces>()
            && !pieces.is_main()
        {
            form.set(name, pieces.without(gone as u32).to_string());
        }
    }
}

/// The wish of a rise by its key.
fn rise_named<'a>(formula: &'a mut Formula, key: &str) -> Option<&'a mut RiseWish> {
    match key {
        "bulk" => Some(&mut formula.rise.bulk),
        "second" => Some(&mut formula.rise.second),
        "proof" => Some(&mut formula.rise.proof),
        _ => None,
    }
}
