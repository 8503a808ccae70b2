//! The fields of the Oven station.

use askama::Template;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::oven::{HotStart, Looks, OvenWish};
use cerealis_core::words::{Made, Vessel};

use crate::form::{Fields, Form, Visit};
use crate::show::{Pick, equipment, picks_of};

impl Fields for OvenWish {
    fn fields(&mut self, to: &mut impl Visit) {
        to.choice("oven.vessel", &mut self.vessel);
        to.tick("oven.steam", &mut self.steam);
        to.some("oven.temperature", &mut self.temperature);
        let mut hot = self.hot_start.map(|h| (h.temperature, h.minutes));
        let names = ["oven.hot_start.temperature", "oven.hot_start.minutes"];
        let ask = ["Give the temperature of the hot start.", "Give the minutes for which it is hotter."];
        to.pair(names, &mut hot, ask);
        self.hot_start = hot.map(|(temperature, minutes)| HotStart { temperature, minutes });
        to.some("oven.heated_to", &mut self.heated_to);
        to.some("oven.covered", &mut self.covered);
        to.some("oven.foiled", &mut self.foiled);
        to.some("oven.foil_after", &mut self.foil_after);
        to.some("oven.minutes", &mut self.minutes);
        to.some("oven.ajar", &mut self.ajar);
        to.some("oven.cools_in", &mut self.cools_in);
        to.some("oven.cool", &mut self.cool);
        to.choice("oven.made", &mut self.made);
        to.tick("oven.parchment", &mut self.parchment);
    }
}

/// The controls of the station.
#[derive(Template)]
#[template(path = "oven/fields.html")]
pub struct OvenFields<'a> {
    /// What was typed.
    pub form: &'a Form,
    /// The household's settings.
    pub kitchen: &'a Kitchen,
}

impl OvenFields<'_> {
    /// Whether anything is said that stands folded away under these names.
    fn said(&self, names: &[&str]) -> bool {
        names.iter().any(|n| {
            let name = format!("oven.{n}");
            !self.form.value(&name).is_empty() || self.form.fault(&name).is_some()
        })
    }

    /// The kitchen's ovens to choose from; none where there is one only.
    fn ovens(&self) -> Vec<Pick> {
        equipment(&self.kitchen.oven_names(), self.form.value("uses.oven"))
    }

    fn mades(&self) -> Vec<Pick> {
        picks_of::<Made>(self.form.value("oven.made"))
    }

    fn looks(&self) -> Vec<Pick> {
        let chosen = self.form.value("probe.looks");
        picks_of::<Looks>(if chosen.is_empty() { Looks::Right.key() } else { chosen })
    }

    fn vessels(&self) -> Vec<Pick> {
        picks_of::<Vessel>(self.form.value("oven.vessel"))
    }
}
