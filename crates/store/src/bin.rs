//! What was deleted, for as long as that can be taken back.

use cerealis_core::pantry::{Catalogue, OwnIngredient};
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use jiff::{SignedDuration, Timestamp};

use crate::cupboards;
use crate::documents::{self, Kind};
use crate::schema::{bakes, bin, doughs, formulas, versions};
use crate::{FormulaId, Store, StoreError};

/// How long what was deleted can be taken back.
pub const KEPT: SignedDuration = SignedDuration::from_hours(30 * 24);

/// What can be taken back.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum InBin {
    /// A formula with its versions.
    Formula(FormulaId),
    /// An own ingredient, by its number in the bin.
    Own(i32),
}

/// Something that was deleted.
#[derive(Clone, Debug, PartialEq)]
pub struct Deleted {
    /// What it is.
    pub what: InBin,
    /// Its name.
    pub name: String,
    /// When it was deleted.
    pub at: Timestamp,
}

/// Brings an own ingredient back, and takes it out of the bin; within a transaction.
fn bring_back(c: &mut SqliteConnection, own: OwnIngredient, now: &str) -> Result<(), StoreError> {
    let rows: Vec<(i32, String, i32)> = bin::table.select((bin::id, bin::body, bin::schema)).load(c)?;
    for (id, body, schema) in rows {
        let there: Result<OwnIngredient, _> = documents::read(Kind::Cupboard, schema, &body);
        if there.is_ok_and(|o| o.key == own.key) {
            diesel::delete(bin::table.find(id)).execute(c)?;
        }
    }
    let mut cupboard = cupboards::read(c)?.cupboard;
    match cupboard.own.iter_mut().find(|o| o.key == own.key) {
        Some(there) => there.put_away = false,
        None => cupboard.own.push(OwnIngredient { put_away: false, ..own }),
    }
    cupboard.check(Catalogue::bundled()).map_err(StoreError::Refused)?;
    cupboards::write(c, None, &cupboard, now)?;
    Ok(())
}

impl Store {
    /// Everything that can be taken back, the last first.
    ///
    /// # Errors
    /// What the database reports.
    pub fn bin(&self) -> Result<Vec<Deleted>, StoreError> {
        let mut all = Vec::new();
        for (id, name) in self.deleted_formulas()? {
            let at: Option<String> =
                formulas::table.find(id.0).select(formulas::deleted_at).first(&mut self.reading()?)?;
            // One that was taken back since is not there any more.
            let Some(at) = at else { continue };
            all.push(Deleted { what: InBin::Formula(id), name, at: documents::time(&at)? });
        }
        let rows: Vec<(i32, String, i32, String)> = bin::table.load(&mut self.reading()?)?;
        for (id, body, schema, at) in rows {
            let Ok(own) = documents::read::<OwnIngredient>(Kind::Cupboard, schema, &body) else { continue };
            all.push(Deleted { what: InBin::Own(id), name: own.name, at: documents::time(&at)? });
        }
        all.sort_by_key(|d| std::cmp::Reverse(d.at));
        Ok(all)
    }

    /// Takes a deletion back.
    ///
    /// # Errors
    /// [`StoreError::NotFound`] when it is not in the bin; [`StoreError::Refused`] when the cupboard cannot take it.
    pub fn take_back(&self, what: InBin) -> Result<(), StoreError> {
        let id = match what {
            InBin::Formula(id) => return self.restore_formula(id),
            InBin::Own(id) => id,
        };
        self.write(|c| {
            let row: Option<(String, i32)> =
                bin::table.find(id).select((bin::body, bin::schema)).first(c).optional()?;
            let (body, schema) = row.ok_or(StoreError::NotFound)?;
            bring_back(c, documents::read(Kind::Cupboard, schema, &body)?, &self.now())
        })
    }

    /// Takes the deletion of an own ingredient back.
    ///
    /// # Errors
    /// [`StoreError::Refused`] when the cupboard cannot take it.
    pub fn restore_own(&self, own: OwnIngredient) -> Result<(), StoreError> {
        self.write(|c| bring_back(c, own, &self.now()))
    }

    /// Deletes for good what has been in the bin for longer than that can be taken back; how much it was.
    ///
    /// # Errors
    /// What the database reports.
    pub fn empty_bin(&self) -> Result<usize, StoreError> {
        let before = (self.clock.now() - KEPT).to_string();
        self.write(|c| {
            let over = formulas::table.filter(formulas::deleted_at.lt(&before)).select(formulas::id);
            let gone: Vec<i32> = over.load(c)?;
            diesel::delete(versions::table.filter(versions::formula_id.eq_any(&gone))).execute(c)?;
            diesel::delete(doughs::table.filter(doughs::formula_id.eq_any(&gone))).execute(c)?;
            // A bake is kept: it has its formula as it was.
            let orphans = bakes::table.filter(bakes::formula_id.eq_any(&gone));
            diesel::update(orphans).set(bakes::formula_id.eq(None::<i32>)).execute(c)?;
            diesel::delete(formulas::table.filter(formulas::id.eq_any(&gone))).execute(c)?;
            let own = diesel::delete(bin::table.filter(bin::deleted_at.lt(&before))).execute(c)?;
            Ok(gone.len() + own)
        })
    }
}
