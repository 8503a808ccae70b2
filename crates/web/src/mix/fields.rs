//! The fields of the Mix station.

use askama::Template;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::mix::MixWish;
use cerealis_core::words::{Method, SaltSchool, WaterSchool};

use crate::form::{Fields, Form, Visit, as_kelvins, plain};
use crate::show::{Pick, equipment, picks_of};

impl Fields for MixWish {
    fn fields(&mut self, to: &mut impl Visit) {
        to.choice("mix.method", &mut self.method);
        to.figure("mix.desired", &mut self.desired);
        to.or_nought("mix.autolyse", &mut self.autolyse);
        to.some("mix.flour", &mut self.flour);
        to.some("mix.room", &mut self.room);
        to.some("mix.preferment", &mut self.preferment);
        as_kelvins(to, [("mix.friction", &mut self.friction)]);
        to.some("mix.bloom", &mut self.bloom);
        to.some("mix.slow", &mut self.slow);
        to.some("mix.knead", &mut self.knead);
        to.some_whole("mix.speed", &mut self.speed);
        to.some_whole("mix.folds", &mut self.folds);
        to.some("mix.folds_every", &mut self.folds_every);
        to.some_whole("mix.butter_portions", &mut self.butter_portions);
        to.some("mix.butter", &mut self.butter);
        to.choice("mix.school", &mut self.school);
        to.choice("mix.salt", &mut self.salt);
    }
}

/// The controls of the station.
#[derive(Template)]
#[template(path = "mix/fields.html")]
pub struct MixFields<'a> {
    /// What was typed.
    pub form: &'a Form,
    /// The household's settings.
    pub kitchen: &'a Kitchen,
}

impl MixFields<'_> {
    /// The kitchen's mixers to choose from; none where there is one only.
    fn mixers(&self) -> Vec<Pick> {
        equipment(&self.kitchen.mixer_names(), self.form.value("uses.mixer"))
    }

    fn methods(&self) -> Vec<Pick> {
        picks_of::<Method>(self.form.value("mix.method"))
    }

    fn schools(&self) -> Vec<Pick> {
        picks_of::<WaterSchool>(self.form.value("mix.school"))
    }

    fn salts(&self) -> Vec<Pick> {
        picks_of::<SaltSchool>(self.form.value("mix.salt"))
    }

    /// What lies folded is open where something is wished in it.
    fn folded_wishes(&self) -> bool {
        [
            "mix.bloom",
            "mix.slow",
            "mix.knead",
            "mix.speed",
            "mix.folds",
            "mix.folds_every",
            "mix.butter_portions",
            "mix.butter",
        ]
        .iter()
        .any(|n| !self.form.value(n).is_empty())
    }

    fn room_text(&self) -> String {
        plain(self.kitchen.room.0)
    }
}
