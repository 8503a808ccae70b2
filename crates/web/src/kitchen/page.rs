//! The kitchen as it is shown.

use askama::Template;
use cerealis_core::kitchen::{EggSize, InstrumentKind, Kitchen, Scale, Weekday};
use cerealis_core::notation::{ClockFace, Lengths, Temperatures, Weights};
use cerealis_core::oven::{HotSide, Marks};
use cerealis_core::pantry::{Cup, Tablespoon};
use cerealis_core::shape::PanShape;
use cerealis_core::words::{Counting, Made, Method};
use cerealis_store::Revision;

use super::fields::{SPEEDS, Seen, pans_as_typed};
use super::rows::rows;
use crate::form::Form;
use crate::oven::this_oven;
use crate::picture::empty_pan;
use crate::show::{Pick, picks, picks_of};

/// The kitchen's page.
#[derive(Template)]
#[template(path = "kitchen.html")]
pub struct KitchenPage {
    pub(crate) form: Form,
    pub(crate) revision: Revision,
    pub(crate) saved: bool,
    pub(crate) conflict: bool,
    pub(crate) damaged: bool,
    pub(crate) zones: Vec<String>,
    /// Whether rows were added or removed that are not saved yet.
    pub(crate) touched: bool,
    oven: Option<String>,
    pans: Vec<PanView>,
}

/// A pan as it is typed.
pub struct PanView {
    /// Its row on the page.
    pub row: usize,
    /// Its picture, where it reads.
    pub picture: String,
    /// What it holds, and what dough fits.
    pub holds: String,
    /// Its shapes to choose from.
    pub shapes: Vec<Pick>,
    /// What it may be made of.
    pub made: Vec<Pick>,
}

impl PanView {
    /// All of the page.
    pub fn all(form: &Form) -> Vec<PanView> {
        pans_as_typed(form)
            .into_iter()
            .map(|(row, pan)| {
                let value = |field: &str| form.value(&format!("pans.{row}.{field}"));
                let holds = pan.as_ref().filter(|p| p.ml > 0.0).map_or(String::new(), |p| {
                    let how = if value("ml").is_empty() { ", worked out" } else { "" };
                    format!("holds {:.0} ml{how}", p.ml)
                });
                let drawn = pan
                    .as_ref()
                    .and_then(|p| p.form)
                    .filter(|f| [f.length, f.depth].iter().all(|x| (0.5..=100.0).contains(x)));
                let picture =
                    drawn.map_or(String::new(), |f| empty_pan(&f, "The pan in section, and from above"));
                let shapes = [("", "only what it holds")]
                    .into_iter()
                    .chain(PanShape::ALL.into_iter().map(|s| (s.key(), s.name())));
                PanView {
                    row,
                    picture,
                    holds,
                    shapes: picks(shapes, value("shape")),
                    made: picks_of::<Made>(value("made")),
                }
            })
            .collect()
    }
}

impl KitchenPage {
    /// The page as typed.
    pub fn new(form: Form, revision: Revision) -> Self {
        let zones = jiff::tz::db()
            .available()
            .map(|z| z.to_string())
            .filter(|z| z.contains('/') || z == "UTC")
            .collect();
        let pans = PanView::all(&form);
        KitchenPage {
            form,
            revision,
            saved: false,
            conflict: false,
            damaged: false,
            zones,
            touched: false,
            oven: None,
            pans,
        }
    }

    /// The page of a kitchen as it is stored, with what it has learned.
    pub fn of(kitchen: &Kitchen, form: Form, revision: Revision) -> Self {
        KitchenPage { oven: Some(this_oven(kitchen)), ..KitchenPage::new(form, revision) }
    }

    fn rows(&self, list: &str) -> Vec<usize> {
        rows(&self.form, list)
    }

    fn speeds(&self) -> std::ops::Range<usize> {
        0..SPEEDS
    }

    fn speed(&self, n: &usize) -> &str {
        self.form.value(&format!("mixer_speeds.{n}"))
    }

    fn faulty_speed(&self, n: &usize) -> bool {
        self.form.fault(&format!("mixer_speeds.{n}")).is_some()
    }

    fn typed(&self, list: &str, row: &usize, field: &str) -> &str {
        self.form.value(&format!("{list}.{row}.{field}"))
    }

    fn seen(&self, row: &usize) -> Vec<Pick> {
        picks(Seen::ALL, self.form.value(&format!("oven_readings.{row}.seen")))
    }

    fn methods(&self, row: &usize) -> Vec<Pick> {
        picks_of::<Method>(self.form.value(&format!("friction.{row}.method")))
    }

    fn hot_sides(&self) -> Vec<Pick> {
        picks_of::<HotSide>(self.form.value("oven_hot"))
    }

    /// A choice of a further oven.
    fn oven_hot_sides(&self, row: &usize) -> Vec<Pick> {
        picks_of::<HotSide>(self.form.value(&format!("ovens.{row}.hot")))
    }

    fn marks(&self, field: impl AsRef<str>) -> Vec<Pick> {
        picks_of::<Marks>(self.form.value(field.as_ref()))
    }

    fn instruments(&self, n: &usize) -> Vec<Pick> {
        picks_of::<InstrumentKind>(self.form.value(&format!("instruments.{n}.kind")))
    }

    /// How often a culture is fed before a bake.
    fn feeds(&self) -> Vec<Pick> {
        let now = self.form.value("culture_feeds");
        let all = ["not at all", "once", "twice", "three times"];
        let pick = |(n, name): (usize, &&str)| {
            let key = n.to_string();
            Pick { on: key == now, key, name: (*name).to_owned() }
        };
        all.iter().enumerate().map(pick).collect()
    }

    fn weekdays(&self) -> [Weekday; 7] {
        Weekday::ALL
    }

    fn evenings(&self, row: &usize) -> Vec<Pick> {
        picks_of::<Weekday>(self.form.value(&format!("nights.{row}.evening")))
    }

    /// The ovens, or the mixers, that a reading may be of; none where there is one only.
    fn of_which(&self, list: &str, readings: &str, row: &usize) -> Vec<Pick> {
        let (usual, otherwise, field) = match list {
            "ovens" => ("oven_name", "The oven", "oven"),
            _ => ("mixer_name", "The mixer", "mixer"),
        };
        let named = |name: &str, otherwise: &str| if name.is_empty() { otherwise } else { name }.to_owned();
        let further = rows(&self.form, list);
        if further.is_empty() {
            return Vec::new();
        }
        let names = std::iter::once(named(self.form.value(usual), otherwise)).chain(
            further.iter().map(|n| named(self.form.value(&format!("{list}.{n}.name")), "without a name yet")),
        );
        let chosen = self.form.value(&format!("{readings}.{row}.{field}"));
        let all: Vec<(String, String)> = names.enumerate().map(|(i, name)| (i.to_string(), name)).collect();
        picks(all.iter().map(|(k, n)| (k.as_str(), n.as_str())), if chosen.is_empty() { "0" } else { chosen })
    }

    fn is_fresh(&self, list: &str, row: &usize) -> bool {
        self.form.ticked(&format!("fresh.{list}.{row}"))
    }

    fn units(&self) -> Vec<Pick> {
        picks_of::<Temperatures>(self.form.value("units"))
    }

    fn weights(&self) -> Vec<Pick> {
        picks_of::<Weights>(self.form.value("weights"))
    }

    fn lengths(&self) -> Vec<Pick> {
        picks_of::<Lengths>(self.form.value("lengths"))
    }

    fn clocks(&self) -> Vec<Pick> {
        picks_of::<ClockFace>(self.form.value("clock"))
    }

    fn countings(&self) -> Vec<Pick> {
        picks_of::<Counting>(self.form.value("counting"))
    }

    fn scales(&self) -> Vec<Pick> {
        picks_of::<Scale>(self.form.value("scale"))
    }

    fn eggs(&self) -> Vec<Pick> {
        picks_of::<EggSize>(self.form.value("eggs"))
    }

    fn cups(&self) -> Vec<Pick> {
        picks_of::<Cup>(self.form.value("cup"))
    }

    fn tablespoons(&self) -> Vec<Pick> {
        picks_of::<Tablespoon>(self.form.value("tablespoon"))
    }
}
