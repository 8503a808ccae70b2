//! What is tried so that a dough fits into a life: another place, the fridge, another yeast, other water.

use super::spots::Spot;
use super::ways::WayKind;
use super::wish::Pins;
use crate::day::Lasts;
use crate::formula::{Formula, Line};
use crate::kitchen::Kitchen;
use crate::pantry::{Catalogue, Group};
use crate::rise::{Leg, Place, Which};
use crate::stations::Stations;
use crate::units::{Celsius, Grams, Hours, Minutes, shown};
use crate::words::Stage;

/// Hours in the fridge that are tried.
pub(super) const COLD: [f64; 4] = [9.0, 12.0, 15.0, 19.0];
/// How long a dough may stand warm before it goes into the fridge, h.
const BULK_FIRST: [f64; 7] = [0.25, 0.5, 1.0, 1.5, 2.0, 3.0, 4.0];
/// How long shaped dough may.
const PROOF_FIRST: [f64; 8] = [0.0, 0.25, 0.5, 0.75, 1.0, 1.5, 2.0, 3.0];
/// How much of its rise a dough has in the fridge at the least, as a part of what it has as written: one that is shaped
/// after it makes good what is missing.
const RISEN_BULK: f64 = 0.75;
/// The same of what is baked from there.
const RISEN_PROOF: f64 = 0.9;
/// How much the hours in the fridge may be more or less, h: in the cold an hour hardly shows.
pub(super) const COLD_GIVES: f64 = 1.5;
/// The least difference of a place that is worth a change, K.
pub(super) const OTHER: f64 = 2.0;
/// How much cooler or warmer a dough is mixed, K.
const COOLER: f64 = 3.0;
/// Parts of what leavens a preferment that are tried.
const PARTS: [f64; 2] = [0.5, 2.0];
/// Parts of the yeast that are tried.
const YEAST: [f64; 3] = [0.5, 0.33, 1.5];
/// A change that is tried.
pub(super) struct Trial {
    pub(super) key: String,
    pub(super) kind: WayKind,
    pub(super) changes: String,
    pub(super) formula: Formula,
    pub(super) cost: i32,
    /// The wait that goes by the clock, and how long it may be.
    pub(super) stands: Option<(&'static str, Lasts)>,
}

/// What is tried.
pub(super) fn trials(
    formula: &Formula,
    written: &Stations,
    pins: Pins,
    kitchen: &Kitchen,
    catalogue: &Catalogue,
) -> Vec<Trial> {
    let mut all = Vec::new();
    let has_bulk = written.rise.bulk.is_some() && formula.rise.bulk.legs.is_empty();
    let has_proof = written.rise.proof.is_some() && formula.rise.proof.legs.is_empty();
    if !pins.place {
        let now_at = formula.rise.bulk.place.unwrap_or(kitchen.room);
        for spot in Spot::all(kitchen).iter().filter(|s| (s.warm.0 - now_at.0).abs() >= OTHER) {
            let mut f = formula.clone();
            spot.takes(&mut f.rise.bulk);
            spot.takes(&mut f.rise.proof);
            all.push(Trial {
                key: format!("place-{}", spot.key()),
                kind: WayKind::Place,
                changes: format!("rises in {}, {:.0} °C", spot.name, spot.warm.0),
                formula: f,
                cost: 40,
                stands: None,
            });
        }
    }
    for hours in COLD.into_iter().filter(|_| !pins.no_fridge) {
        let warm_first =
            |which, tried: &[f64], part| warm_first(written, which, (kitchen.fridge, hours), (tried, part));
        if let Some(warm) = warm_first(Which::Bulk, &BULK_FIRST, RISEN_BULK).filter(|_| has_bulk) {
            all.push(bulk_in_the_fridge(formula, kitchen, warm, hours));
        }
        if let Some(warm) = warm_first(Which::Proof, &PROOF_FIRST, RISEN_PROOF).filter(|_| has_proof) {
            all.push(proof_in_the_fridge(formula, kitchen, warm, hours));
        }
    }
    for part in YEAST.into_iter().filter(|_| !pins.yeast) {
        let Some(f) = with_yeast(formula, part, catalogue) else { continue };
        let (kind, word) = if part < 1.0 {
            (WayKind::LessYeast, "of the yeast")
        } else {
            (WayKind::MoreYeast, "times the yeast")
        };
        let how_much = match part {
            p if p < 0.4 => "a third".to_owned(),
            p if p < 1.0 => "half".to_owned(),
            p => format!("{p}"),
        };
        all.push(Trial {
            key: format!("yeast-{part}"),
            kind,
            changes: format!("{how_much} {word}"),
            formula: f,
            cost: 80,
            stands: None,
        });
    }
    for (kind, warmer) in [(WayKind::CoolerDough, -COOLER), (WayKind::WarmerDough, COOLER)] {
        if pins.place || !has_bulk {
            continue;
        }
        let mut f = formula.clone();
        let desired = Celsius((formula.mix.desired.0 + warmer).round());
        f.mix.desired = desired;
        all.push(Trial {
            key: format!("dough-{:.0}", desired.0),
            kind,
            changes: format!("mixed to {:.0} °C, with the water that this takes", desired.0),
            formula: f,
            cost: 30,
            stands: None,
        });
    }
    if !pins.yeast {
        all.extend(PARTS.into_iter().filter_map(|part| levain(formula, part, catalogue)));
    }
    all
}

/// The preferment with less or more of what leavens it, so that it stands for longer or for less: fed in the evening, or
/// at dawn. What it weighs, and how wet it is, stays; `None` where there is none, or it is built up.
fn levain(formula: &Formula, part: f64, catalogue: &Catalogue) -> Option<Trial> {
    if formula.levain.builds > 1 {
        return None;
    }
    let mut f = formula.clone();
    let group = |l: &Line| catalogue.get(&l.ingredient).map(|i| i.group);
    let within = |l: &&mut Line, g: Group| l.stage.is_preferment() && group(l) == Some(g);
    let (mut seed, mut missing) = (Grams(0.0), Grams(0.0));
    for line in f.lines.iter_mut().filter(|l| within(l, Group::Culture)) {
        missing += line.grams * (1.0 - part);
        line.grams = line.grams * part;
        seed += line.grams;
    }
    for line in f.lines.iter_mut().filter(|l| within(l, Group::Yeast)) {
        line.grams = line.grams * part;
        seed += line.grams;
    }
    // A culture is taken for half flour and half water.
    for wanted in [Group::Flour, Group::Liquid].into_iter().filter(|_| missing.0 != 0.0) {
        let line = f.lines.iter_mut().find(|l| within(l, wanted))?;
        line.grams += missing * 0.5;
    }
    let positive = f.lines.iter().all(|l| l.grams.0 >= 0.0);
    let word =
        if part < 1.0 { "half the seed, and so for longer" } else { "twice the seed, and so for less" };
    (seed.0 > 0.0 && positive).then(|| Trial {
        key: format!("levain-{part}"),
        kind: WayKind::Levain,
        changes: format!("the preferment is set with {word}"),
        formula: f,
        cost: 35,
        stands: None,
    })
}

/// For how long a dough stands where it rises, h, so that it has risen as far as it should when it has been in the
/// fridge for so many hours after it, by such a part of its rise: the shortest of those that are tried, in their order;
/// `None` where none does.
fn warm_first(
    s: &Stations,
    which: Which,
    (fridge, hours): (Celsius, f64),
    (tried, part): (&[f64], f64),
) -> Option<f64> {
    let written = s.rise.forecast(which)?.grown;
    let rises = |warm: f64| -> bool {
        let mut input = s.rise_input.clone();
        let stretch = input.stretch_mut(which);
        let own = stretch.places.last().copied().map(|p| Place { stay: Some(Hours(warm).into()), ..p });
        stretch.places = own.into_iter().filter(|_| warm > 0.0).chain([Place::steady(fridge)]).collect();
        stretch.hours = Some(Hours(warm + hours));
        input.likely(which).is_ok_and(|likely| likely.grown() - 1.0 >= part * (written - 1.0))
    };
    // The longer it stands warm, the further it rises.
    tried.get(tried.partition_point(|warm| !rises(*warm))).copied()
}

/// How long it is out first, as a sentence begins.
fn out_first(warm: f64) -> String {
    if warm > 0.0 { format!("{} out, then ", shown::time(Hours(warm).into())) } else { String::new() }
}

fn bulk_in_the_fridge(formula: &Formula, kitchen: &Kitchen, warm: f64, hours: f64) -> Trial {
    let mut f = formula.clone();
    let place = f.rise.bulk.place.unwrap_or(kitchen.room);
    f.rise.bulk.legs = vec![Leg { hours: Hours(warm), place }];
    Spot::fridge(kitchen).takes(&mut f.rise.bulk);
    f.rise.bulk.stays = Some(Hours(hours));
    Trial {
        key: format!("fridge-bulk-{hours:.0}"),
        kind: WayKind::FridgeBulk,
        changes: format!("{}{hours:.0} h in the fridge before it is shaped", out_first(warm)),
        formula: f,
        cost: 60,
        stands: Some(("bulk", about(hours, warm))),
    }
}

fn proof_in_the_fridge(formula: &Formula, kitchen: &Kitchen, warm: f64, hours: f64) -> Trial {
    let mut f = formula.clone();
    let place = f.rise.proof.place.unwrap_or(kitchen.room);
    f.rise.proof.legs = (warm > 0.0).then_some(Leg { hours: Hours(warm), place }).into_iter().collect();
    Spot::fridge(kitchen).takes(&mut f.rise.proof);
    f.rise.proof.stays = Some(Hours(hours));
    let out = if warm > 0.0 { out_first(warm) } else { "then ".to_owned() };
    Trial {
        key: format!("fridge-proof-{hours:.0}"),
        kind: WayKind::FridgeProof,
        changes: format!("shaped, {out}{hours:.0} h in the fridge, and baked from there"),
        formula: f,
        cost: 60,
        stands: Some(("proof", about(hours, warm))),
    }
}

/// So many hours in the cold after some out of it: in the cold an hour hardly shows.
fn about(hours: f64, warm: f64) -> Lasts {
    let minutes = |h: f64| Minutes(60.0 * (h + warm));
    Lasts::between(minutes(hours - COLD_GIVES), minutes(hours), minutes(hours + COLD_GIVES))
}

/// The formula with a part of its yeast, or more of it; `None` where none is in the dough itself.
fn with_yeast(formula: &Formula, part: f64, catalogue: &Catalogue) -> Option<Formula> {
    let mut f = formula.clone();
    let is_yeast = |l: &Line| {
        l.stage == Stage::Dough && catalogue.get(&l.ingredient).is_some_and(|i| i.instant_yeast() > 0.0)
    };
    let mut any = false;
    for line in f.lines.iter_mut().filter(|l| is_yeast(l)) {
        line.grams = line.grams * part;
        any = true;
    }
    any.then_some(f)
}
