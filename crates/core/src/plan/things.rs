//! What a household has only so much of, beside hands and ovens: room for tubs in its places, litres in the fridge, pans
//! of a kind.

use super::problem::LaneHold;
use crate::day::Task;
use crate::formula::Formula;
use crate::kitchen::Kitchen;
use crate::stations::Stations;
use crate::units::{Celsius, Grams};

/// How near a dough's place must be to be one of the kitchen's, K.
const SAME_PLACE: f64 = 0.6;
/// What is to be colder than this stands in the fridge, whatever that has, °C.
const FRIDGE: Celsius = Celsius(8.0);
/// What a litre of dough weighs before it rises, g (a dough is a tenth heavier than water; common practice, no source).
const LITRE: f64 = 1100.0;

/// Something that there is only so much of.
enum Thing<'k> {
    /// Places of one temperature, by what they are really like, and how many tubs they have room for together.
    Places(Vec<Celsius>, u32),
    /// The fridge with its litres.
    Fridge(Celsius, f64),
    /// A pan, and how many there are of it.
    Pan(&'k str, u32),
}

fn near(a: Celsius, b: Celsius) -> bool {
    (a.0 - b.0).abs() <= SAME_PLACE
}

/// The places of a kitchen, those of one temperature together: a dough goes by the temperature, and stands in whichever
/// has room. Where one of them has room for any number, all have.
fn places(kitchen: &Kitchen) -> Vec<(Vec<Celsius>, Option<u32>)> {
    let mut all: Vec<(Vec<Celsius>, Option<u32>)> = Vec::new();
    for p in &kitchen.places {
        let warm = p.really();
        match all.iter_mut().find(|(these, _)| these.iter().any(|t| near(*t, warm))) {
            Some((these, room)) => {
                these.push(warm);
                *room = room.zip(p.tubs).map(|(a, b)| a + b);
            }
            None => all.push((vec![warm], p.tubs)),
        }
    }
    all
}

fn things(kitchen: &Kitchen) -> Vec<Thing<'_>> {
    let places = places(kitchen).into_iter().filter_map(|(warm, tubs)| Some(Thing::Places(warm, tubs?)));
    let fridge = kitchen.fridge_room.map(|litres| Thing::Fridge(kitchen.fridge, litres));
    let pans = kitchen.pans.iter().filter_map(|p| Some(Thing::Pan(&p.name, p.count?)));
    places.chain(fridge).chain(pans).collect()
}

/// How much room each has: tubs, litres, pans.
pub(super) fn rooms(kitchen: &Kitchen) -> Vec<i32> {
    let room = |t: Thing<'_>| match t {
        Thing::Places(_, tubs) => tubs as i32,
        Thing::Fridge(_, litres) => litres.floor() as i32,
        Thing::Pan(_, count) => count as i32,
    };
    things(kitchen).into_iter().map(room).collect()
}

/// What a dough takes up of them, and from which of its tasks to which.
pub(super) fn holds(formula: &Formula, s: &Stations, tasks: &[Task], kitchen: &Kitchen) -> Vec<LaneHold> {
    let mut all = Vec::new();
    let litres = |Grams(g): Grams, grown: f64| ((g / LITRE * grown.max(1.0)).ceil() as i32).max(1);
    let rises = [("bulk", &s.rise.bulk), ("second", &s.rise.second), ("proof", &s.rise.proof)];
    let standing: Vec<(&Task, Celsius)> =
        tasks.iter().filter_map(|t| Some((t, t.needs.place?))).filter(|(t, _)| !t.needs.hands).collect();
    for (thing, what) in things(kitchen).iter().enumerate() {
        match what {
            Thing::Places(these, _) => {
                let here = standing.iter().filter(|(_, at)| these.iter().any(|t| near(*at, *t)));
                all.extend(here.map(|(task, _)| hold(thing, &task.id, &task.id, 1)));
            }
            Thing::Fridge(t, _) => {
                for (task, _) in standing.iter().filter(|(_, at)| near(*at, *t) || at.0 < FRIDGE.0) {
                    let grown = rises.iter().find(|(id, _)| *id == task.id);
                    let grown = grown.and_then(|(_, f)| f.as_ref()).map_or(1.5, |f| f.grown_high);
                    all.push(hold(thing, &task.id, &task.id, litres(s.figures.dough, grown)));
                }
            }
            Thing::Pan(name, _) if formula.shape.pan.as_deref() == Some(name) => {
                // From when it goes in, to the end of its bake.
                let into = tasks.iter().find(|t| t.needs.vessel.is_some());
                let out = tasks.iter().rev().find(|t| t.id.starts_with("bake"));
                if let (Some(into), Some(out)) = (into, out) {
                    let in_one = formula.shape.together.unwrap_or(1).max(1);
                    let pans = formula.shape.pieces.div_ceil(in_one) as i32;
                    all.push(hold(thing, &into.id, &out.id, pans));
                }
            }
            Thing::Pan(..) => {}
        }
    }
    all
}

fn hold(thing: usize, from: &str, to: &str, takes: i32) -> LaneHold {
    LaneHold { thing, from: from.into(), to: to.into(), takes }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::kitchen::KitchenPlace;

    #[test]
    fn two_places_of_one_temperature_have_the_room_of_both() {
        let place = |name: &str, warm: f64, tubs| KitchenPlace {
            name: name.into(),
            temperature: Celsius(warm),
            night: 0.0,
            tubs,
            measured: None,
        };
        let of = |places| rooms(&Kitchen { places, ..Kitchen::default() });
        let shelf = place("Shelf", 24.0, Some(1));
        assert_eq!(of(vec![shelf.clone(), place("Cupboard", 24.4, Some(2))]), [3]);
        assert_eq!(of(vec![shelf.clone(), place("Cellar", 14.0, Some(2))]), [1, 2]);
        assert!(of(vec![shelf, place("Table", 24.0, None)]).is_empty(), "a table has room for any number");
    }
}
