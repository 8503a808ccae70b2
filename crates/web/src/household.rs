//! The household as it stands: its settings, its cupboard, and all that it can bake with.

use std::borrow::Cow;

use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::Catalogue;
use cerealis_core::pantry::Cupboard;
use cerealis_store::{Store, StoreError};
use jiff::{RoundMode, Timestamp, TimestampRound, Unit};

/// What every page of a formula is read in.
pub struct Household {
    /// Its settings.
    pub kitchen: Kitchen,
    /// Its own ingredients and prices.
    pub cupboard: Cupboard,
    /// The catalogue with its own ingredients.
    pub catalogue: Cow<'static, Catalogue>,
    /// The minute at which it was loaded. A day is planned to five minutes: seconds would only make
    /// the same thing look new.
    pub now: Timestamp,
}

impl Household {
    /// One with these settings and this cupboard, at a moment.
    pub fn of(kitchen: Kitchen, cupboard: Cupboard, now: Timestamp) -> Household {
        Household { kitchen, catalogue: catalogue_with(&cupboard), cupboard, now }
    }

    /// Reads it from its file.
    ///
    /// # Errors
    /// What the store reports.
    pub fn load(store: &Store) -> Result<Household, StoreError> {
        Ok(Household::of(store.kitchen()?.kitchen, store.cupboard()?.cupboard, this_minute()))
    }
}

fn this_minute() -> Timestamp {
    let now = Timestamp::now();
    let down = TimestampRound::new().smallest(Unit::Minute).mode(RoundMode::Floor);
    now.round(down).unwrap_or(now)
}

/// The bundled catalogue, with the household's own ingredients where it has any.
pub fn catalogue_with(cupboard: &Cupboard) -> Cow<'static, Catalogue> {
    let bundled = Catalogue::bundled();
    if cupboard.own.is_empty() { Cow::Borrowed(bundled) } else { Cow::Owned(bundled.with(&cupboard.own)) }
}
