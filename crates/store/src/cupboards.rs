//! The cupboard in its file: one row.

use std::collections::BTreeSet;

use cerealis_core::bake::Start;
use cerealis_core::formula::Formula;
use cerealis_core::pantry::{Catalogue, Cupboard, OwnIngredient};
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;

use crate::documents::{self, DamagedRecord, Kind, Revision, SCHEMA};
use crate::one_row::{self, Kept, one_row};
use crate::schema::{bakes, bin, cupboards, formulas as formula_rows, versions};
use crate::{FormulaId, Store, StoreError, formulas};

/// The cupboard as it is kept.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct StoredCupboard {
    /// Counted up at each save; 0 before the first.
    pub revision: Revision,
    /// The cupboard; an empty one where there is none yet, or the one there does not read.
    pub cupboard: Cupboard,
    /// Set where the one there does not read.
    pub damaged: Option<DamagedRecord>,
}

/// How an own ingredient went.
#[derive(Clone, Debug, PartialEq)]
pub enum Removed {
    /// Nothing used it: it is gone.
    Gone(OwnIngredient),
    /// An earlier version or a deleted formula uses it: it is out of sight, and those still read.
    PutAway(OwnIngredient),
}

one_row!(CupboardRow, cupboards, Kind::Cupboard);

pub(crate) fn read(c: &mut SqliteConnection) -> Result<StoredCupboard, StoreError> {
    let Kept { revision, document, damaged } = one_row::read::<CupboardRow, Cupboard>(c)?;
    Ok(StoredCupboard { revision, cupboard: document.unwrap_or_default(), damaged })
}

/// Saves the cupboard over the revision that was read, or over whatever is there; within a transaction.
pub(crate) fn write(
    c: &mut SqliteConnection,
    over: Option<Revision>,
    cupboard: &Cupboard,
    now: &str,
) -> Result<Revision, StoreError> {
    one_row::write::<CupboardRow, Cupboard>(c, over, cupboard, now)
}

/// Adds formulas with the own ingredients that came with them; within a transaction.
pub(crate) fn bring_in(
    c: &mut SqliteConnection,
    mut new: Vec<Formula>,
    own: &[OwnIngredient],
    now: &str,
) -> Result<Vec<FormulaId>, StoreError> {
    let StoredCupboard { mut cupboard, .. } = read(c)?;
    let before = cupboard.clone();
    let renamed = cupboard.take_in(own, Catalogue::bundled()).map_err(StoreError::Refused)?;
    new.iter_mut().for_each(|f| f.rename(&renamed));
    if cupboard != before {
        write(c, None, &cupboard, now)?;
    }
    new.iter().map(|f| formulas::create(c, f, now)).collect()
}

/// The names of formulas and of bakes that go on that use an ingredient now.
fn users(c: &mut SqliteConnection, key: &str) -> Result<Vec<String>, StoreError> {
    let uses = |f: &Formula| f.lines.iter().any(|l| l.ingredient == key);
    let bodies: Vec<(i32, String)> = formula_rows::table
        .filter(formula_rows::deleted_at.is_null())
        .filter(formula_rows::body.like(said(key)))
        .select((formula_rows::schema, formula_rows::body))
        .load(c)?;
    let mut by: BTreeSet<String> = bodies
        .iter()
        .filter_map(|(schema, b)| documents::read::<Formula>(Kind::Formula, *schema, b).ok())
        .filter(uses)
        .map(|f| format!("“{}”", f.name))
        .collect();
    let baking: Vec<(i32, String)> = bakes::table
        .filter(bakes::ended_at.is_null())
        .filter(bakes::body.like(said(key)))
        .select((bakes::schema, bakes::body))
        .load(c)?;
    let begun = baking.iter().filter_map(|(schema, b)| documents::read::<Start>(Kind::Bake, *schema, b).ok());
    by.extend(
        begun.filter(|s| uses(&s.formula)).map(|s| format!("a bake of “{}” that goes on", s.formula.name)),
    );
    Ok(by.into_iter().collect())
}

/// How a body says that it uses an ingredient; keys have no letter that `LIKE` takes for another.
fn said(key: &str) -> String {
    format!("%\"ingredient\":\"{key}\"%")
}

/// Whether an earlier version or a deleted formula uses an ingredient.
fn remembered(c: &mut SqliteConnection, key: &str) -> Result<bool, StoreError> {
    let versions: i64 = versions::table.filter(versions::body.like(said(key))).count().get_result(c)?;
    let deleted: i64 =
        formula_rows::table.filter(formula_rows::body.like(said(key))).count().get_result(c)?;
    Ok(versions + deleted > 0)
}

/// Keeps an own ingredient that is deleted; within the transaction that does so.
fn to_bin(c: &mut SqliteConnection, own: &OwnIngredient, now: &str) -> Result<(), StoreError> {
    let row = (bin::body.eq(documents::write(own)?), bin::schema.eq(SCHEMA), bin::deleted_at.eq(now));
    diesel::insert_into(bin::table).values(row).execute(c)?;
    Ok(())
}

impl Store {
    /// The cupboard; an empty one before the first save.
    ///
    /// # Errors
    /// What the database reports.
    pub fn cupboard(&self) -> Result<StoredCupboard, StoreError> {
        read(&mut *self.reading()?)
    }

    /// Changes the cupboard as it stands in the file, checks it and saves it, in one piece. `over`
    /// is the revision that was read; `None` changes whatever is there.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] when it has been saved since; [`StoreError::Refused`] when it would no
    /// longer check; what `change` reports.
    pub fn change_cupboard<T>(
        &self,
        over: Option<Revision>,
        change: impl FnOnce(&mut Cupboard) -> Result<T, StoreError>,
    ) -> Result<T, StoreError> {
        self.write(|c| {
            let StoredCupboard { revision, mut cupboard, .. } = read(c)?;
            Revision::after(over, Some(revision.0))?;
            let done = change(&mut cupboard)?;
            cupboard.check(Catalogue::bundled()).map_err(StoreError::Refused)?;
            write(c, over, &cupboard, &self.now())?;
            Ok(done)
        })
    }

    /// Takes an own ingredient out. What an earlier version or a deleted formula still needs is only
    /// put away.
    ///
    /// # Errors
    /// [`StoreError::InUse`] while a formula or a bake that goes on uses it; [`StoreError::NotFound`] when
    /// there is none of this key.
    pub fn remove_own(&self, key: &str) -> Result<Removed, StoreError> {
        self.write(|c| {
            let StoredCupboard { mut cupboard, .. } = read(c)?;
            let at = cupboard.own.iter().position(|o| o.key == key).ok_or(StoreError::NotFound)?;
            let by = users(c, key)?;
            if !by.is_empty() {
                return Err(StoreError::InUse(by.join(", ")));
            }
            let removed = if remembered(c, key)? {
                cupboard.own[at].put_away = true;
                Removed::PutAway(cupboard.own[at].clone())
            } else {
                Removed::Gone(cupboard.own.remove(at))
            };
            let (Removed::Gone(own) | Removed::PutAway(own)) = &removed;
            to_bin(c, own, &self.now())?;
            write(c, None, &cupboard, &self.now())?;
            Ok(removed)
        })
    }

    /// Adds formulas with the own ingredients that came with them, all or none.
    ///
    /// # Errors
    /// [`StoreError::Refused`] when the cupboard cannot take the ingredients.
    pub fn bring_in(&self, new: Vec<Formula>, own: &[OwnIngredient]) -> Result<Vec<FormulaId>, StoreError> {
        self.write(|c| bring_in(c, new, own, &self.now()))
    }
}
