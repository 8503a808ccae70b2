//! The ways in which a baker would fit one dough into a life: as written, in another place, in the fridge for part of
//! it, with less yeast. Each is worked out by the engines; none is scaled by hand.

use std::collections::BTreeSet;

use jiff::Timestamp;
use schemars::JsonSchema;
use serde::Serialize;

use super::wish::Pins;
use crate::choice::choice;
use crate::day::{Lasts, Task};
use crate::formula::{Formula, Line};
use crate::kitchen::Kitchen;
use crate::pantry::Catalogue;
use crate::rise::{Forecast, Leg};
use crate::stations::{Stations, read};
use crate::units::{Hours, Minutes};
use crate::words::Stage;

choice! {
    /// What kind of change a way is.
    WayKind {
        /// None.
        AsWritten = "as-written", "as written";
        /// Another place of this kitchen.
        Place = "place", "another place";
        /// The bulk rise in the fridge for part of it.
        FridgeBulk = "fridge-bulk", "bulk in the fridge";
        /// The final proof in the fridge.
        FridgeProof = "fridge-proof", "proof in the fridge";
        /// Less yeast.
        LessYeast = "less-yeast", "less yeast";
        /// More yeast.
        MoreYeast = "more-yeast", "more yeast";
    }
}

/// How sure the length of a task is.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Doubtful {
    /// The task, by its id.
    pub id: String,
    /// The standard deviation of the logarithm of its length.
    pub sigma: f64,
}

/// One way to make a dough.
#[derive(Clone, Debug, Serialize, JsonSchema)]
pub struct Way {
    /// Its name among those of its dough: `as-written`, `fridge-bulk-12`, `place-Cellar`.
    pub key: String,
    /// What kind of change it is.
    pub kind: WayKind,
    /// What it changes, in a sentence; empty where it is as written.
    pub changes: String,
    /// The formula with the change in it.
    pub formula: Formula,
    /// What is to be done.
    pub tasks: Vec<Task>,
    /// How sure its rises are.
    pub doubtful: Vec<Doubtful>,
    /// What it costs to change that much, beside what a plan costs.
    pub cost: i32,
}

/// Hours in the fridge that are tried.
const COLD: [f64; 4] = [9.0, 12.0, 15.0, 19.0];
/// How long a dough stands warm before it goes into the fridge, h.
const WARM_FIRST: f64 = 1.0;
/// How much the hours in the fridge may be more or less, h: in the cold an hour hardly shows.
const COLD_GIVES: f64 = 1.5;
/// The least difference of a place that is worth a change, K.
const OTHER: f64 = 2.0;
/// Parts of the yeast that are tried.
const YEAST: [f64; 3] = [0.5, 0.33, 1.5];
/// The tenth and the ninetieth part of what is likely are so many standard deviations apart.
const LIKELY: f64 = 2.563;
/// What a rise is not known better than.
const LEAST_DOUBT: f64 = 0.06;

/// All ways of a dough in a kitchen that come out, the one as written first. Empty where the formula itself does not
/// read, or does not hold as it is and has no way that does.
pub fn ways(
    formula: &Formula,
    pins: Pins,
    kitchen: &Kitchen,
    catalogue: &Catalogue,
    now: Timestamp,
) -> Vec<Way> {
    let read = |f: &Formula| read(f, kitchen, catalogue, now).ok();
    let Some(written) = read(formula) else { return Vec::new() };
    let mut all = vec![way("as-written", WayKind::AsWritten, String::new(), formula.clone(), &written, 0)];
    let known: BTreeSet<&str> = written.slips.iter().map(|s| s.code).collect();
    // A change that brings a slip with it that was not there is none that a baker would accept.
    let mut offer =
        |key: String, kind: WayKind, changes: String, f: Formula, cost: i32, lasts: Option<(&str, Lasts)>| {
            let Some(s) = read(&f) else { return };
            if !s.stops.is_empty() || s.slips.iter().any(|slip| !known.contains(slip.code)) {
                return;
            }
            let mut new = way(&key, kind, changes, f, &s, cost);
            if let Some((id, lasts)) = lasts {
                let Some(task) = new.tasks.iter_mut().find(|t| t.id == id) else { return };
                task.lasts = lasts;
            }
            all.push(new);
        };
    let has_bulk = written.rise.bulk.is_some() && formula.rise.bulk.legs.is_empty();
    let has_proof = written.rise.proof.is_some() && formula.rise.proof.legs.is_empty();
    if !pins.place {
        let now_at = formula.rise.bulk.place.unwrap_or(kitchen.room);
        let room = [("the room".to_owned(), kitchen.room)];
        let places = kitchen.places.iter().map(|p| (p.name.clone(), p.really()));
        for (name, t) in room.into_iter().chain(places).filter(|(_, t)| (t.0 - now_at.0).abs() >= OTHER) {
            let mut f = formula.clone();
            f.rise.bulk.place = Some(t);
            f.rise.proof.place = Some(t);
            let changes = format!("rises in {name}, {:.0} °C", t.0);
            offer(format!("place-{name}"), WayKind::Place, changes, f, 40, None);
        }
    }
    if !pins.no_fridge {
        for hours in COLD {
            let gives = Lasts::between(
                Minutes(60.0 * (hours - COLD_GIVES)),
                Minutes(60.0 * hours),
                Minutes(60.0 * (hours + COLD_GIVES)),
            );
            if has_bulk {
                let mut f = formula.clone();
                let place = f.rise.bulk.place.unwrap_or(kitchen.room);
                f.rise.bulk.legs = vec![Leg { hours: Hours(WARM_FIRST), place }];
                f.rise.bulk.place = Some(kitchen.fridge);
                f.rise.bulk.stays = Some(Hours(hours));
                let warm = 60.0 * WARM_FIRST;
                let lasts = Lasts::between(
                    gives.earliest + Minutes(warm),
                    gives.best + Minutes(warm),
                    gives.latest + Minutes(warm),
                );
                let changes = format!("an hour out, then {hours:.0} h in the fridge before it is shaped");
                offer(
                    format!("fridge-bulk-{hours:.0}"),
                    WayKind::FridgeBulk,
                    changes,
                    f,
                    60,
                    Some(("bulk", lasts)),
                );
            }
            if has_proof {
                let mut f = formula.clone();
                f.rise.proof.place = Some(kitchen.fridge);
                f.rise.proof.stays = Some(Hours(hours));
                let changes = format!("shaped, then {hours:.0} h in the fridge, and baked from there");
                offer(
                    format!("fridge-proof-{hours:.0}"),
                    WayKind::FridgeProof,
                    changes,
                    f,
                    60,
                    Some(("proof", gives)),
                );
            }
        }
    }
    if !pins.yeast {
        for part in YEAST {
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
            offer(format!("yeast-{part}"), kind, format!("{how_much} {word}"), f, 80, None);
        }
    }
    all
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

fn way(key: &str, kind: WayKind, changes: String, formula: Formula, s: &Stations, cost: i32) -> Way {
    let sure = |id: &str, f: &Forecast| Doubtful { id: id.into(), sigma: sigma(f.early, f.late) };
    let mut doubtful = Vec::new();
    doubtful.extend(s.rise.bulk.as_ref().map(|f| sure("bulk", f)));
    doubtful.extend(s.rise.second.as_ref().map(|f| sure("second", f)));
    doubtful.extend(s.rise.proof.as_ref().map(|f| sure("proof", f)));
    Way { key: key.into(), kind, changes, formula, tasks: s.tasks.clone(), doubtful, cost }
}

fn sigma(early: Minutes, late: Minutes) -> f64 {
    let spread = (late.0.max(1.0) / early.0.max(1.0)).ln() / LIKELY;
    if spread.is_finite() { spread.clamp(LEAST_DOUBT, 0.5) } else { 0.2 }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::kitchen::KitchenPlace;
    use crate::units::Celsius;
    use crate::words::Style;

    fn all(style: Style, pins: Pins) -> Vec<Way> {
        let cellar = KitchenPlace {
            name: "Cellar".into(),
            temperature: Celsius(14.0),
            night: 0.0,
            tubs: None,
            measured: None,
        };
        let kitchen = Kitchen { places: vec![cellar], ..Kitchen::default() };
        let now = "2026-11-27T08:00:00Z".parse().unwrap();
        ways(&Formula::beginning("A dough", style), pins, &kitchen, Catalogue::bundled(), now)
    }

    #[test]
    fn a_plain_dough_has_ways_of_every_kind() {
        let found = all(Style::Tin, Pins::default());
        let kinds: BTreeSet<&str> = found.iter().map(|w| w.kind.key()).collect();
        for kind in [WayKind::AsWritten, WayKind::Place, WayKind::FridgeBulk, WayKind::LessYeast] {
            assert!(kinds.contains(kind.key()), "{kind:?} of {kinds:?}");
        }
        let keys: BTreeSet<&str> = found.iter().map(|w| w.key.as_str()).collect();
        assert_eq!(keys.len(), found.len(), "each has its own key");
        // The engines worked each out: less yeast rises for longer.
        let bulk = |key: &str| {
            let w = found.iter().find(|w| w.key == key).unwrap();
            w.tasks.iter().find(|t| t.id == "bulk").unwrap().lasts.best.0
        };
        assert!(bulk("yeast-0.5") > 1.2 * bulk("as-written"));
        assert!(bulk("place-Cellar") > 1.2 * bulk("as-written"));
    }

    #[test]
    fn what_is_pinned_stays() {
        let pins = Pins { no_fridge: true, yeast: true, place: true };
        for style in Style::ALL {
            assert_eq!(all(style, pins).len(), 1, "{style:?}");
        }
    }
}
