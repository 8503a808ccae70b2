//! The days that are planned together, in their file: one row.

use cerealis_core::plan::DayPlan;
use diesel::prelude::*;

use crate::bakes::{self, BakeId};
use crate::documents::{DamagedRecord, Kind, Revision};
use crate::one_row::{self, Kept, one_row};
use crate::schema::day_plans;
use crate::{Store, StoreError};

/// The plan as it is kept.
#[derive(Clone, Debug, PartialEq)]
pub struct StoredDayPlan {
    /// Counted up at each save; 0 before the first.
    pub revision: Revision,
    /// The plan; nothing where there is none yet, or the one there does not read.
    pub plan: Option<DayPlan>,
    /// Set where the one there does not read.
    pub damaged: Option<DamagedRecord>,
}

one_row!(DayPlanRow, day_plans, Kind::DayPlan);

impl Store {
    /// The plan, if there is one.
    ///
    /// # Errors
    /// What the database reports.
    pub fn day_plan(&self) -> Result<StoredDayPlan, StoreError> {
        let Kept { revision, document, damaged } =
            one_row::read::<DayPlanRow, DayPlan>(&mut *self.reading()?)?;
        Ok(StoredDayPlan { revision, plan: document, damaged })
    }

    /// Saves the plan over the revision that was read; `None` overwrites whatever is there. The bakes of it that go on go by
    /// it from then on: those that it has otherwise than before come with the new revision.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when it has been saved since.
    pub fn save_day_plan(
        &self,
        over: Option<Revision>,
        plan: &DayPlan,
    ) -> Result<(Revision, Vec<BakeId>), StoreError> {
        let now = self.clock.now();
        self.write(|c| {
            let revision = one_row::write::<DayPlanRow, DayPlan>(c, over, plan, &now.to_string())?;
            Ok((revision, bakes::replan(c, plan, revision, now)?))
        })
    }
}
