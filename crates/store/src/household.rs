//! The household as a whole: out into one file, in from one, and the demo's.

use cerealis_core::formats::{FormulaFile, HouseholdFile, household_file};
use cerealis_core::formula::Formula;
use cerealis_core::pantry::Catalogue;
use diesel::connection::SimpleConnection;
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;

use crate::backup::TABLES;
use crate::demo::demo_bakes;
use crate::schema::{formulas, kitchens};
use crate::settings::{self, Setting};
use crate::{
    FormulaId, Revision, Store, StoreError, bakes, cupboards, demo_cupboard, demo_formulas, demo_kitchen,
    kitchens as kitchen_rows,
};

/// What of a household's file is wanted beside its formulas.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Wanted {
    /// Its kitchen's settings, over those here.
    pub kitchen: bool,
    /// Its prices, where there is none here yet.
    pub prices: bool,
}

/// What was taken in.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Taken {
    /// Formulas added.
    pub formulas: usize,
    /// Formulas that were here already, to the letter.
    pub here_already: usize,
}

fn is_demo(c: &mut SqliteConnection) -> Result<bool, StoreError> {
    Ok(settings::get(c, Setting::Demo)?.is_some())
}

impl Store {
    /// Whether the file is a demo, which may be made afresh.
    ///
    /// # Errors
    /// What the database reports.
    pub fn is_demo(&self) -> Result<bool, StoreError> {
        is_demo(&mut *self.reading()?)
    }

    /// Whether nothing has been put into it yet, so that nothing is lost with it.
    ///
    /// # Errors
    /// What the database reports.
    pub fn is_empty(&self) -> Result<bool, StoreError> {
        let c = &mut *self.reading()?;
        let formulas: i64 = formulas::table.count().get_result(c)?;
        let kitchens: i64 = kitchens::table.count().get_result(c)?;
        Ok(formulas + kitchens == 0 && cupboards::read(c)?.revision == Revision(0))
    }

    /// Takes everything out of a demo kitchen, so that it can be made afresh. Any other kitchen stays as it is.
    ///
    /// # Errors
    /// What the database reports.
    pub fn clear_demo(&self) -> Result<(), StoreError> {
        self.write(|c| {
            if is_demo(c)? {
                for table in
                    TABLES.iter().rev().chain(&["sessions", "devices", "settings", "sqlite_sequence"])
                {
                    c.batch_execute(&format!("DELETE FROM {table};"))?;
                }
            }
            Ok(())
        })
    }

    /// Fills an empty kitchen with the demo household and marks it as a demo, in one piece.
    ///
    /// # Errors
    /// What the database reports.
    pub fn fill_with_demo(&self) -> Result<(), StoreError> {
        let now = self.now();
        self.write(|c| {
            settings::put(c, Setting::Demo, &now)?;
            let kitchen = demo_kitchen();
            kitchen_rows::write(c, None, &kitchen, &now)?;
            let cupboard = demo_cupboard();
            cupboards::write(c, None, &cupboard, &now)?;
            let all = demo_formulas();
            let mut ids = Vec::with_capacity(all.len());
            for formula in &all {
                ids.push(crate::formulas::create(c, formula, &now)?);
            }
            let moment = self.clock.now();
            for bake in demo_bakes(&all, &kitchen, &cupboard, moment) {
                bakes::begin(c, Some(ids[bake.formula]), &bake.start, &bake.events, moment)?;
            }
            Ok(())
        })
    }

    /// The whole household, to be kept or taken elsewhere: kitchen, cupboard, and every formula that
    /// is not deleted.
    ///
    /// # Errors
    /// What the database reports.
    pub fn household(&self) -> Result<HouseholdFile, StoreError> {
        let (away, at_hand): (Vec<_>, Vec<_>) = self.formulas()?.into_iter().partition(|f| f.archived);
        let bare =
            |all: Vec<crate::StoredFormula>| -> Vec<Formula> { all.into_iter().map(|f| f.formula).collect() };
        Ok(household_file(self.kitchen()?.kitchen, self.cupboard()?.cupboard, bare(at_hand), bare(away)))
    }

    /// Takes a household's file in: all or nothing. Formulas that are here to the letter are not taken
    /// twice.
    ///
    /// # Errors
    /// [`StoreError::Refused`] when the cupboard cannot take its ingredients.
    pub fn take_household(&self, file: HouseholdFile, wanted: Wanted) -> Result<Taken, StoreError> {
        let now = self.now();
        let here: Vec<Formula> = self.formulas()?.into_iter().map(|f| f.formula).collect();
        self.write(|c| {
            let HouseholdFile { formulas: at_hand, put_away, cupboard, kitchen, .. } = file;
            let (mut taken, mut ids) = (Taken::default(), Vec::new());
            for (mut all, away) in [(at_hand, false), (put_away, true)] {
                let came = all.len();
                all.retain(|f| !here.contains(f));
                taken.here_already += came - all.len();
                taken.formulas += all.len();
                let file = FormulaFile::of(all, &cupboard);
                for id in cupboards::bring_in(c, file.formulas, &file.own, &now)? {
                    ids.push((id, away));
                }
            }
            for (FormulaId(id), _) in ids.iter().filter(|(_, away)| *away) {
                diesel::update(formulas::table.find(id)).set(formulas::archived_at.eq(&now)).execute(c)?;
            }
            let mut mine = cupboards::read(c)?.cupboard;
            let before = mine.clone();
            mine.take_in(&cupboard.own, Catalogue::bundled()).map_err(StoreError::Refused)?;
            if wanted.prices {
                for (key, price) in cupboard.prices {
                    mine.prices.entry(key).or_insert(price);
                }
            }
            if mine != before {
                cupboards::write(c, None, &mine, &now)?;
            }
            if wanted.kitchen {
                kitchen_rows::write(c, None, &kitchen, &now)?;
            }
            Ok(taken)
        })
    }
}
