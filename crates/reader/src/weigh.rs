//! Amounts weighed: as they were given, said again, or counted.

use winnow::combinator::{opt, repeat};
use winnow::prelude::*;

use crate::arrange::{CONTAINERS, without_container};
use crate::lines::{ReadLine, unread};
use crate::quantity::Unit;
use crate::quantity::{Amount, Count, Level, amount, further, smaller};
use cerealis_core::pantry::{FLUID_OUNCE, Group, Ingredient, Measures, TEASPOON, US_CUP, density};
use cerealis_core::units::{Grams, OUNCE, POUND};

/// A range wider than this share of its middle is doubted.
const WIDE: f64 = 0.2;

/// Grams of an amount of something unknown: a mass as it is, a volume as if of water.
pub(crate) fn keep_amount(line: &mut ReadLine, first: Option<Amount>, rest: &str, measures: Measures) {
    let stated = stated_amounts(rest).into_iter().find(|a| a.unit.is_some_and(|u| mass(u).is_some()));
    let Some(a) = stated.or(first) else { return };
    let metric = |u: Unit| matches!(u, Unit::Millilitre | Unit::Centilitre | Unit::Decilitre | Unit::Litre);
    let (one, spread) = match a.unit {
        Some(u) if mass(u).is_some() => (mass(u), 0.0),
        Some(u) if metric(u) => (volume(u, measures), 0.15),
        _ => (None, 0.0),
    };
    let Some(one) = one else { return };
    let middle = 0.5 * (a.count.low + a.count.high) * one;
    line.grams = Some(Grams(middle));
    line.low = Some(Grams(a.count.low * one * (1.0 - spread)));
    line.high = Some(Grams(a.count.high * one * (1.0 + spread)));
    if spread > 0.0 {
        line.doubts.push("It is weighed as if it were water. Weigh it to know.".into());
    }
}

/// Weighs a line by its amounts, or by the weight that it states besides.
pub(crate) fn weigh_line(
    line: &mut ReadLine,
    first: Option<Amount>,
    rest: &mut &str,
    ingredient: &Ingredient,
    measures: Measures,
) {
    let small: Vec<Amount> = match first.and_then(|a| a.unit) {
        Some(unit) => repeat(0..=2, smaller(unit)).parse_next(rest).unwrap_or_default(),
        None => Vec::new(),
    };
    let more: Vec<Amount> = repeat(0..=3, further).parse_next(rest).unwrap_or_default();
    let stated = stated_amounts(rest);
    let weighed = |a: &&Amount| a.unit.is_some_and(mass_or_volume);
    let Some(first) = first.or(stated.iter().find(weighed).copied()) else {
        let text = "No amount is given: to taste, or as is usual. Give one, or leave the line out.";
        line.doubts.push(text.into());
        return;
    };
    let said = [vec![first], small, more].concat();
    // “2 (7 g) packets”, “1 14-oz can”: so much each.
    let each = stated.first().copied().filter(|e| e.unit.is_some_and(mass_or_volume));
    let holds = a_container_follows(rest) || without_container(rest).len() < rest.len();
    if let Some(each) = each.filter(|_| first.unit.is_none() && holds) {
        let count = Count { low: first.count.low * each.count.low, high: first.count.high * each.count.high };
        return weigh(line, &[Amount { count, ..each }], ingredient, measures);
    }
    let rank = |a: &Amount| match a.unit {
        Some(Unit::Gram | Unit::Kilogram | Unit::Milligram) => 0,
        Some(Unit::Millilitre | Unit::Centilitre | Unit::Decilitre | Unit::Litre) => 1,
        Some(Unit::Ounce | Unit::Pound | Unit::FluidOunce | Unit::Packet) => 2,
        _ => 3,
    };
    // The same, said again: of all ways the metric one counts, and a contradiction is doubted.
    let best = said.iter().map(rank).min().unwrap_or(3);
    let known = |u: Unit| mass_or_volume(u) || one(Some(u), ingredient, measures).is_some();
    let again = stated.iter().filter(|a| a.unit.is_some_and(known)).min_by_key(|a| rank(a));
    match again {
        Some(other) if first.unit.is_some() || stated_count(ingredient) => {
            let (chosen, beside) =
                if rank(other) < best { (vec![*other], said) } else { (said, vec![*other]) };
            weigh(line, &chosen, ingredient, measures);
            contradict(line, &beside, ingredient, measures);
        }
        _ => weigh(line, &said, ingredient, measures),
    }
}

/// The amounts that are added to the first, and those that say it again.
pub(crate) fn amounts_in(mut rest: &str, first: Amount) -> Vec<Amount> {
    let rest = &mut rest;
    let small: Vec<Amount> = match first.unit {
        Some(unit) => repeat(0..=2, smaller(unit)).parse_next(rest).unwrap_or_default(),
        None => Vec::new(),
    };
    let more: Vec<Amount> = repeat(0..=3, further).parse_next(rest).unwrap_or_default();
    [small, more, stated_amounts(rest)].concat()
}

/// Whether a unit is one of mass or volume.
pub(crate) fn mass_or_volume(unit: Unit) -> bool {
    mass(unit).is_some() || volume(unit, Measures::default()).is_some()
}

/// Whether a bare count of it means something: eggs, onions.
fn stated_count(ingredient: &Ingredient) -> bool {
    ingredient.measures.iter().any(|m| m.name == "large" || m.name == "each")
}

/// How far two ways of saying one amount may be apart.
const CONTRADICTS: f64 = 0.15;

/// Doubts a line whose second way of saying its amount is another amount.
fn contradict(line: &mut ReadLine, beside: &[Amount], ingredient: &Ingredient, measures: Measures) {
    let mut other = unread("", line.stage);
    weigh(&mut other, beside, ingredient, measures);
    // A British pint is a fifth more than the American one that is taken.
    if beside.iter().any(|a| matches!(a.unit, Some(Unit::Pint | Unit::Quart))) {
        other.high = other.high.map(|h| Grams(1.2 * h.0));
    }
    if let (Some(a), Some(low), Some(high)) = (line.grams, other.low, other.high)
        && (a.0 < low.0 * (1.0 - CONTRADICTS) || a.0 > high.0 * (1.0 + CONTRADICTS))
    {
        let b = other.grams.unwrap_or(Grams(0.0));
        line.doubts.push(format!(
            "It says {} g and {} g at once. Which is meant?",
            cerealis_core::units::shown::grams(a),
            cerealis_core::units::shown::grams(b)
        ));
    }
}

/// Whether what the brackets stand before is a container: `(7 g) packets`, `(400 ml) can`, `14-oz can`.
fn a_container_follows(rest: &str) -> bool {
    let after = match rest.split_once(')') {
        Some((_, after)) => after,
        None => {
            let mut rest = rest.trim_start();
            let _ = opt(amount).parse_next(&mut rest);
            rest
        }
    };
    let after = after.trim_start_matches([' ', '-']).to_lowercase();
    CONTAINERS.iter().chain(&["cube", "stick", "block"]).any(|c| after.starts_with(c))
}

/// Amounts said again: `(about 260 g)`, `[240 ml]`, `(7 g / 1/4 oz)`, `/375 g`, `14-oz`.
fn stated_amounts(rest: &str) -> Vec<Amount> {
    let mut all = Vec::new();
    let mut read = |text: &str| {
        for part in text.split([';', ',']).flat_map(|p| p.split(" / ")).take(4) {
            let mut part = part.trim_start();
            if let Ok(a) = amount.parse_next(&mut part) {
                all.push(a);
                if let Some(slashed) = part.trim_start().strip_prefix('/') {
                    let mut slashed = slashed.trim_start();
                    all.extend(opt(amount).parse_next(&mut slashed).unwrap_or(None));
                }
            }
        }
    };
    if let Some(slashed) = rest.trim_start().strip_prefix('/') {
        read(slashed.split(['(', '[']).next().unwrap_or(""));
    } else if rest.trim_start().starts_with(|c: char| c.is_ascii_digit() || c == '½') {
        read(rest.split(['(', '[']).next().unwrap_or(""));
    }
    for (open, close) in [('(', ')'), ('[', ']')] {
        if let Some(inside) = rest.split_once(open).map(|(_, r)| r.split(close).next().unwrap_or("")) {
            read(inside);
        }
    }
    all.retain(|a| a.unit.is_some_and(|u| mass_or_volume(u) || u == Unit::Packet));
    all
}

/// Grams of one unit of mass.
fn mass(unit: Unit) -> Option<f64> {
    Some(match unit {
        Unit::Milligram => 0.001,
        Unit::Gram => 1.0,
        Unit::Kilogram => 1000.0,
        Unit::Ounce => OUNCE,
        Unit::Pound => POUND,
        _ => return None,
    })
}

/// Millilitres of one unit of volume.
fn volume(unit: Unit, measures: Measures) -> Option<f64> {
    Some(match unit {
        Unit::Millilitre => 1.0,
        Unit::Centilitre => 10.0,
        Unit::Decilitre => 100.0,
        Unit::Litre => 1000.0,
        Unit::FluidOunce => FLUID_OUNCE,
        Unit::Cup => measures.cup(),
        Unit::Tablespoon => measures.tablespoon(),
        Unit::Teaspoon => TEASPOON,
        Unit::Dessertspoon => 2.0 * TEASPOON,
        Unit::Pint => 2.0 * US_CUP,
        Unit::Quart => 4.0 * US_CUP,
        _ => return None,
    })
}

/// Grams of one unit of this ingredient, with the spread in per cent.
fn one(unit: Option<Unit>, ingredient: &Ingredient, measures: Measures) -> Option<(f64, f64)> {
    let named = |name: &str| ingredient.measures.iter().find(|m| m.name == name).map(|m| (m.grams, m.spread));
    let Some(unit) = unit else {
        // Eggs are counted; large ones are meant.
        return named("each").or_else(|| named("large"));
    };
    if let Some(g) = mass(unit) {
        return Some((g, 0.0));
    }
    if let Some(ml) = volume(unit, measures) {
        let small = matches!(unit, Unit::Teaspoon | Unit::Tablespoon | Unit::Dessertspoon);
        // A volume unstated in the catalogue is taken as of middling density, and doubted.
        let (density, spread) = density(ingredient, small).unwrap_or(if ingredient.group == Group::Liquid {
            (1.0, 5.0)
        } else {
            (0.6, 35.0)
        });
        let own = measures.own_cup(ingredient).filter(|_| !small);
        let (more, spread) = own.unwrap_or((1.0, spread));
        return Some((ml * density * more, spread));
    }
    match unit {
        Unit::Stick => named("stick"),
        Unit::Packet => named("packet"),
        Unit::Cube => named("cube"),
        Unit::Large => named("large"),
        Unit::Medium => named("medium"),
        Unit::Small => named("small"),
        Unit::ExtraLarge => named("extra large"),
        Unit::Clove => named("clove"),
        Unit::Pinch => Some((0.4, 50.0)),
        // A bottle's glug, a knob of butter, a splash, a few strokes on a grater (common practice, no source).
        Unit::Glug => Some((15.0 * density(ingredient, true).map_or(1.0, |d| d.0), 50.0)),
        Unit::Knob => Some((15.0, 40.0)),
        Unit::Splash => Some((5.0, 60.0)),
        Unit::Grinding => Some((0.1, 60.0)),
        Unit::Handful => Some((30.0, 40.0)),
        _ => None,
    }
}

/// A size that is said beside what is counted: “2 eggs, medium”.
fn size_beside(text: &str) -> Option<Unit> {
    let lower = text.to_lowercase();
    let says = |w: &str| lower.split(|c: char| !c.is_alphabetic()).any(|x| x == w);
    match () {
        () if lower.contains("extra large") || lower.contains("extra-large") => Some(Unit::ExtraLarge),
        () if says("large") => Some(Unit::Large),
        () if says("medium") => Some(Unit::Medium),
        () if says("small") => Some(Unit::Small),
        () if says("clove") || says("cloves") => Some(Unit::Clove),
        () => None,
    }
}

/// From this figure on, one without a unit is taken for grams, with a doubt (common practice, no source).
const BARE_GRAMS: f64 = 25.0;

/// What “about” leaves open of a weight, per cent either way (common practice, no source).
const ABOUT: f64 = 8.0;

fn weigh(line: &mut ReadLine, amounts: &[Amount], ingredient: &Ingredient, measures: Measures) {
    let (mut low, mut high) = (0.0, 0.0);
    let sized = size_beside(&line.text);
    if amounts.iter().any(|a| matches!(a.unit, Some(Unit::Pint | Unit::Quart))) {
        line.doubts.push("A pint is 473 ml in America and 568 ml in Britain. Which is meant?".into());
    }
    for a in amounts {
        let by_size = sized.filter(|_| a.unit.is_none()).and_then(|u| one(Some(u), ingredient, measures));
        let named = by_size.or_else(|| one(a.unit, ingredient, measures));
        // “three hundred and thirty of water”: nobody counts so many, and a scale shows grams.
        let bare = || (a.unit.is_none() && a.count.low >= BARE_GRAMS).then_some((1.0, 0.0));
        if named.is_none() && bare().is_some() {
            line.doubts.push("No unit is said: taken as grams.".into());
        }
        let Some((grams, spread)) = named.or_else(bare) else {
            line.doubts.push("That measure is not known for this ingredient. Weigh it.".into());
            return;
        };
        let Count { low: few, high: many } = a.count;
        // Heaping adds a quarter to a half; scant takes a little off.
        let weighed = a.unit.is_some_and(|u| mass(u).is_some());
        let (fill, spread) = match a.level {
            // A scale is neither heaped nor scant: “a scant 300 g” is about 300 g.
            Some(_) if weighed => (1.0, spread.max(ABOUT)),
            Some(Level::Heaping) => (1.375, spread.max(25.0)),
            Some(Level::Scant) => (0.94, spread.max(8.0)),
            _ => (1.0, spread),
        };
        let spread = if a.vague { spread.max(ABOUT) } else { spread };
        low += few * grams * fill * (1.0 - spread / 100.0);
        high += many * grams * fill * (1.0 + spread / 100.0);
    }
    let middle = 0.5 * (low + high);
    if middle > 0.0 && (high - low) / middle > WIDE {
        line.doubts.push("This measure leaves a wide range. Weigh it to know.".into());
    }
    line.grams = Some(Grams(middle));
    line.low = Some(Grams(low));
    line.high = Some(Grams(high));
}
