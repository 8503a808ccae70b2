//! A bake with all that its pages are drawn from.

use std::borrow::Cow;

use cerealis_core::bake::{BakeAnswer, Bell, Outcome, on_its_plan, stands};
use cerealis_core::fault::Faults;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::Catalogue;
use cerealis_core::stations::{Stations, read};
use cerealis_store::StoredBake;
use jiff::Timestamp;

use crate::household::Household;
use crate::measures::timed;
use crate::show::Here;

/// A bake as it stands.
pub struct Standing {
    /// As it is kept, on the plan that it goes by.
    pub bake: StoredBake,
    /// What has become of it, and what is to come.
    pub answer: BakeAnswer,
    /// What its stations find, by what was really weighed; nothing where it is over.
    pub stations: Option<Stations>,
    /// All that it is made of.
    pub catalogue: Cow<'static, Catalogue>,
    /// This moment.
    pub now: Timestamp,
}

impl Standing {
    /// One of a household at a moment.
    ///
    /// # Errors
    /// A formula or kitchen that does not read any more.
    pub fn of(bake: StoredBake, now: Timestamp) -> Result<Standing, Faults> {
        let start = on_its_plan(&bake.start, &bake.events).into_owned();
        let bake = StoredBake { start, ..bake };
        let own = &bake.start.own;
        let catalogue: Cow<'static, Catalogue> = match own.is_empty() {
            true => Cow::Borrowed(Catalogue::bundled()),
            false => Cow::Owned(Catalogue::bundled().with(own)),
        };
        let answer = timed("bake", || stands(&bake.start, &bake.events, &catalogue, now))?;
        let usual = Kitchen::default();
        let kitchen = bake.start.kitchen.as_deref().unwrap_or(&usual);
        let stations = (answer.state.outcome == Outcome::Running)
            .then(|| read(&answer.state.formula, kitchen, &catalogue, bake.begun_at).ok())
            .flatten();
        Ok(Standing { bake, answer, stations, catalogue, now })
    }

    /// The kitchen's clock and calendar as it stands.
    pub fn here(&self, home: &Household) -> Here {
        Here::at(self.now, home.zone())
    }

    /// How it rings: as was chosen, or by its name.
    pub fn bell(&self) -> Bell {
        self.answer.state.bell.unwrap_or_else(|| Bell::of_name(&self.bake.start.formula.name))
    }

    /// The kitchen that it was begun in.
    pub fn kitchen<'a>(&'a self, home: &'a Household) -> &'a Kitchen {
        self.bake.start.kitchen.as_deref().unwrap_or(&home.kitchen)
    }
}
