//! The household as it stands: its settings, its cupboard, and all that it can bake with.

use std::borrow::Cow;

use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::{Catalogue, Cupboard};
use cerealis_store::StoreError;
use jiff::Timestamp;
use jiff::civil::Date;
use jiff::tz::TimeZone;

use cerealis_store::Store;

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

    /// What day it is, by the kitchen's clock.
    pub fn today(&self) -> Date {
        self.now.to_zoned_datetime(self.zone()).date()
    }

    /// The kitchen's time zone.
    pub fn zone(&self) -> TimeZone {
        self.kitchen.zone().unwrap_or(TimeZone::UTC)
    }

    /// Reads it from its file.
    ///
    /// # Errors
    /// What the store reports.
    pub fn load(home: &Store) -> Result<Household, StoreError> {
        Ok(Household::of(home.kitchen()?.kitchen, home.cupboard()?.cupboard, home.clock.minute()))
    }
}

/// The bundled catalogue, with the household's own ingredients where it has any.
pub fn catalogue_with(cupboard: &Cupboard) -> Cow<'static, Catalogue> {
    let bundled = Catalogue::bundled();
    if cupboard.own.is_empty() { Cow::Borrowed(bundled) } else { Cow::Owned(bundled.with(&cupboard.own)) }
}
