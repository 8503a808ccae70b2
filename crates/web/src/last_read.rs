//! Formulas at their stations, kept from one preview to the next. Every change is shown against the
//! saved formula, which is the same until it is saved again; and what a change does is asked for twice,
//! first for the station on show and then for the rest.

use std::collections::VecDeque;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use cerealis_core::fault::Faults;
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::Cupboard;
use cerealis_core::stations::{Stations, read};
use jiff::Timestamp;

use crate::household::Household;
use crate::measures::timed;

/// How many are kept: the saved one and a change of it, in two tabs.
const KEPT: usize = 4;

/// What was read, and all that it depends on.
struct Kept {
    formula: Formula,
    kitchen: Kitchen,
    cupboard: Cupboard,
    now: Timestamp,
    stations: Arc<Stations>,
}

/// The formulas that were read last, the newest first.
#[derive(Default)]
pub struct LastRead(Mutex<VecDeque<Kept>>);

impl LastRead {
    /// Reads a formula in its house, if it has not just been read.
    ///
    /// # Errors
    /// Every fault of formula and kitchen, by its field.
    pub fn stations(&self, formula: &Formula, house: &Household) -> Result<Arc<Stations>, Faults> {
        let same = |k: &Kept| {
            k.now == house.now
                && k.formula == *formula
                && k.kitchen == house.kitchen
                && k.cupboard == house.cupboard
        };
        if let Some(kept) = self.kept().iter().find(|k| same(k)) {
            return Ok(Arc::clone(&kept.stations));
        }
        let read = || read(formula, &house.kitchen, &house.catalogue, house.now);
        let stations = Arc::new(timed("stations", read)?);
        let mut kept = self.kept();
        kept.truncate(KEPT - 1);
        kept.push_front(Kept {
            formula: formula.clone(),
            kitchen: house.kitchen.clone(),
            cupboard: house.cupboard.clone(),
            now: house.now,
            stations: Arc::clone(&stations),
        });
        Ok(stations)
    }

    /// What a panic elsewhere left behind is whole: each is put there in one piece.
    fn kept(&self) -> MutexGuard<'_, VecDeque<Kept>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use cerealis_core::units::Celsius;
    use cerealis_core::words::Style;

    #[test]
    fn it_is_read_again_when_anything_it_rests_on_is_another() {
        let mut kitchen = Kitchen::default();
        let mut formula = Formula::beginning("Test", Style::Tin);
        let last = LastRead::default();
        let read = |formula: &Formula, kitchen: &Kitchen| {
            let now = Timestamp::UNIX_EPOCH;
            last.stations(formula, &Household::of(kitchen.clone(), Cupboard::default(), now))
                .expect("it reads")
        };
        let first = read(&formula, &kitchen);
        kitchen.room = Celsius(26.0);
        let warmer = read(&formula, &kitchen);
        assert_ne!(first.rise, warmer.rise, "the kitchen is another");
        formula.mix.desired = Celsius(22.0);
        let cooler = read(&formula, &kitchen);
        assert_ne!(warmer.water, cooler.water, "the formula is another");
        for n in 0..20 {
            formula.name = format!("Loaf {n}");
            read(&formula, &kitchen);
        }
        assert_eq!(last.kept().len(), KEPT);
    }
}
