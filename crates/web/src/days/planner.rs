//! The planner of the household: what it worked out last, so that looking at the days again, or moving one thing in
//! them, does not begin anew; and the search that is under way, which can be stopped.

use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex, PoisonError};

use cerealis_core::fault::Faults;
use cerealis_core::pantry::Cupboard;
use cerealis_core::plan::{Asked, DaysAnswer, DaysInput, KnownWays, ReplanInput, Rest, Search};

use crate::household::Household;
use crate::measures::timed;

/// How long an answer is as good as new, s: nothing changes meanwhile but what has begun.
const KEEPS: i64 = 900;

#[derive(Default)]
struct Known {
    ways: KnownWays,
    /// The ingredients that the ways were worked out with.
    cupboard: Option<Cupboard>,
    last: Option<(DaysInput, Arc<DaysAnswer>)>,
}

/// All that is known, and whether the search is to stop.
#[derive(Default)]
pub struct Planner {
    known: Mutex<Known>,
    stop: AtomicBool,
}

impl Planner {
    fn known(&self) -> std::sync::MutexGuard<'_, Known> {
        self.known.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// What is known of this household, as its cupboard is now.
    fn known_of(&self, home: &Household) -> std::sync::MutexGuard<'_, Known> {
        let mut known = self.known();
        if known.cupboard.as_ref() != Some(&home.cupboard) {
            *known = Known { cupboard: Some(home.cupboard.clone()), ..Known::default() };
        }
        known
    }

    /// What is asked, with the ways of its doughs.
    ///
    /// # Errors
    /// Each fault by its field.
    pub fn asked<'a>(&self, input: &'a DaysInput, home: &'a Household) -> Result<Asked<'a>, Faults> {
        Asked::of(input, &home.catalogue, &mut self.known_of(home).ways)
    }

    /// What is asked of one plan while something in it is moved.
    ///
    /// # Errors
    /// Each fault by its field.
    pub fn along<'a>(
        &self,
        input: &'a DaysInput,
        key: &str,
        home: &'a Household,
    ) -> Result<Asked<'a>, Faults> {
        Asked::along(input, key, &home.catalogue, &mut self.known_of(home).ways)
    }

    /// The rest of a plan that is followed, as it is asked.
    ///
    /// # Errors
    /// Each fault by its field.
    pub fn rest<'a>(&self, input: &'a ReplanInput, home: &'a Household) -> Result<Rest<'a>, Faults> {
        Rest::of(input, &home.catalogue, &mut self.known_of(home).ways)
    }

    /// The plans, as far as they are known: those of the last search, or without one.
    ///
    /// # Errors
    /// Each fault by its field.
    pub fn shown(&self, input: &DaysInput, home: &Household) -> Result<Arc<DaysAnswer>, Faults> {
        self.answer(input, home, true)
    }

    /// The plans, searched for until the best is proved or somebody has had enough.
    ///
    /// # Errors
    /// Each fault by its field.
    pub fn searched(&self, input: &DaysInput, home: &Household) -> Result<Arc<DaysAnswer>, Faults> {
        self.stop.store(false, Ordering::Relaxed);
        self.answer(input, home, false)
    }

    fn answer(&self, input: &DaysInput, home: &Household, quick: bool) -> Result<Arc<DaysAnswer>, Faults> {
        let same = |kept: &DaysInput| {
            kept.plan == input.plan
                && kept.formulas == input.formulas
                && kept.kitchen == input.kitchen
                && input.now.duration_since(kept.now).as_secs().abs() < KEEPS
        };
        let asked = self.asked(input, home)?;
        if let Some((_, answer)) =
            self.known().last.as_ref().filter(|(kept, a)| same(kept) && (quick || a.proved))
        {
            return Ok(answer.clone());
        }
        let search = Search { quick, stop: (!quick).then_some(&self.stop) };
        let answer = Arc::new(timed(if quick { "plan" } else { "plan, proved" }, || asked.plan(search)));
        self.known().last = Some((input.clone(), answer.clone()));
        Ok(answer)
    }

    /// Ends the search that is under way: what was found until now is shown.
    pub fn stop(&self) {
        self.stop.store(true, Ordering::Relaxed);
    }
}
