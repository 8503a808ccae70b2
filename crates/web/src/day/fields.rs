//! The fields of the Day station.

use askama::Template;
use cerealis_core::day::{Anchor, DayWish};

use crate::form::{Fields, Form, Visit};
use crate::show::{Pick, days, picks_of};
use jiff::civil::Date;

impl Fields for DayWish {
    fn fields(&mut self, to: &mut impl Visit) {
        to.choice("day.anchor", &mut self.anchor);
        to.moment("day.at", &mut self.at);
        if self.anchor != Anchor::Now && self.at.is_none() {
            to.fault("day.at.time", "Give the day and the time to plan from.");
        }
    }
}

/// The controls of the station.
#[derive(Template)]
#[template(path = "day/fields.html")]
pub struct DayFields<'a> {
    /// What was typed.
    pub form: &'a Form,
    /// What day it is.
    pub today: Date,
}

impl DayFields<'_> {
    fn anchors(&self) -> Vec<Pick> {
        picks_of::<Anchor>(self.form.value("day.anchor"))
    }

    fn days(&self) -> Vec<Pick> {
        days(self.today, self.form.value("day.at.day"))
    }
}
