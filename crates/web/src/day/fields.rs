//! The fields of the Day station.

use askama::Template;
use cerealis_core::day::{Anchor, DayWish};
use cerealis_core::kitchen::Kitchen;

use crate::form::{Fields, Form, Visit};
use crate::show::{Pick, picks_of};

impl Fields for DayWish {
    fn fields(&mut self, to: &mut impl Visit) {
        to.choice("day.anchor", &mut self.anchor);
        let mut at = self.at.map(|at| at.strftime("%Y-%m-%dT%H:%M").to_string());
        to.some_text("day.at", &mut at);
        self.at = at.and_then(|text| text.parse().ok());
        if self.anchor != Anchor::Now && self.at.is_none() {
            to.fault("day.at", "Give the date and the time to plan from.");
        }
    }
}

/// The controls of the station.
#[derive(Template)]
#[template(path = "day/fields.html")]
pub struct DayFields<'a> {
    /// What was typed.
    pub form: &'a Form,
    /// The household's settings.
    pub kitchen: &'a Kitchen,
}

impl DayFields<'_> {
    fn anchors(&self) -> Vec<Pick> {
        picks_of::<Anchor>(self.form.value("day.anchor"))
    }
}
