//! The page of one formula: six stations in one form.

use askama::Template;
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::stations::Stations;
use cerealis_core::words::{Counting, Station, Style};
use cerealis_store::{FormulaId, Revision};

use super::answer::{FormulaOut, Tried};
use super::lines::{Lines, MakeUps};
use super::rail::Rail;
use super::rows::rows;
use crate::asks::Asks;
use crate::day::{DayFields, DayOut};
use crate::form::Form;
use crate::household::Household;
use crate::mix::{MixFields, MixOut};
use crate::oven::{OvenAsked, OvenFields, OvenOut};
use crate::rise::{RiseAsked, RiseFields, RiseOut};
use crate::shape::{ShapeAsked, ShapeFields, ShapeOut};
use crate::show::{Pick, picks, picks_of};

/// Everything on a formula's page that follows from the figures, by the place it stands in.
pub struct Fragments {
    /// The rail.
    pub rail: String,
    /// The stations' answers; empty while the fields cannot be read.
    pub outs: Vec<(Station, String)>,
}

impl Fragments {
    /// Draws them for a formula that reads.
    pub fn of(
        id: FormulaId,
        here: Station,
        now: (&Formula, &Stations),
        saved: Option<(&Formula, &Stations)>,
        tried: Option<&Tried>,
        asks: &Asks,
        house: &Household,
    ) -> Result<Fragments, askama::Error> {
        let (f, s) = now;
        let kitchen = &house.kitchen;
        // What takes longest is worked out for the station on show alone.
        let at = |station: Station| Asks { ways: asks.ways && here == station, ..asks.clone() };
        let out = |station: Station| match station {
            Station::Formula => FormulaOut::new(f, s, tried, house).render(),
            Station::Mix => MixOut::new(f, s).render(),
            Station::Rise => {
                let asks = at(station);
                let asked = RiseAsked::of(&asks, f, s, house);
                RiseOut::new(id, f, s, &asks, &asked, kitchen).render()
            }
            Station::Shape => ShapeOut::new(f, s, &ShapeAsked::of(asks, f, s))?.render(),
            Station::Oven => OvenOut::new(f, s, &OvenAsked::of(&at(station), s), kitchen).render(),
            Station::Day => DayOut::new(s, kitchen).render(),
        };
        let wanted = Station::ALL.into_iter().filter(|s| !asks.quick || *s == here);
        Ok(Fragments {
            rail: Rail::new(id, here, now, saved).render()?,
            outs: wanted.map(|s| Ok((s, out(s)?))).collect::<Result<_, askama::Error>>()?,
        })
    }

    /// What stands there while fields cannot be read.
    pub fn waiting(id: FormulaId, here: Station) -> Result<Fragments, askama::Error> {
        let note = r#"<p class="waiting">The figures wait for the fields marked.</p>"#;
        Ok(Fragments {
            rail: Rail::empty(id, here).render()?,
            outs: Station::ALL.into_iter().map(|s| (s, note.to_owned())).collect(),
        })
    }

    fn out(&self, station: Station) -> &str {
        self.outs.iter().find(|(s, _)| *s == station).map_or("", |(_, html)| html)
    }
}

/// The page of one formula: six stations in one form.
#[derive(Template)]
#[template(path = "formula/page.html")]
pub struct FormulaPage {
    pub(crate) id: FormulaId,
    pub(crate) revision: Revision,
    pub(crate) here: Station,
    pub(crate) form: Form,
    pub(crate) fragments: Fragments,
    pub(crate) lines: String,
    pub(crate) controls: Vec<(Station, String)>,
    pub(crate) have: Vec<(String, String)>,
    pub(crate) dirty: bool,
    pub(crate) conflict: Option<Revision>,
    pub(crate) kitchen: Kitchen,
    pub(crate) names: Vec<String>,
    /// What the last bake of it said is to be done otherwise.
    pub(crate) next_time: Option<String>,
}

impl FormulaPage {
    /// The page as typed.
    pub fn new(
        id: FormulaId,
        revision: Revision,
        here: Station,
        form: Form,
        fragments: Fragments,
        home: &Household,
    ) -> Result<Self, askama::Error> {
        let (catalogue, kitchen) = (&home.catalogue, &home.kitchen);
        let lines = Lines::new(&form).render()?;
        let makeups = &MakeUps::new(&form, kitchen).render()?;
        let controls = {
            let form = &form;
            vec![
                (Station::Mix, MixFields { form, kitchen }.render()?),
                (Station::Rise, RiseFields { form, kitchen }.render()?),
                (Station::Shape, ShapeFields { form, kitchen, makeups }.render()?),
                (Station::Oven, OvenFields { form, kitchen }.render()?),
                (Station::Day, DayFields { form, today: home.today() }.render()?),
            ]
        };
        let mut have: Vec<(String, String)> = Vec::new();
        for r in rows(&form) {
            let named = catalogue.named(form.value(&format!("lines.{}.ingredient", r.row)));
            if let Some(i) = named.filter(|i| !have.iter().any(|(key, _)| *key == i.key)) {
                have.push((i.key.clone(), i.name.clone()));
            }
        }
        let names = catalogue.at_hand().map(|i| i.name.clone()).collect();
        Ok(FormulaPage {
            id,
            revision,
            here,
            form,
            fragments,
            lines,
            controls,
            have,
            dirty: false,
            conflict: None,
            kitchen: kitchen.clone(),
            names,
            next_time: None,
        })
    }

    fn controls(&self, station: Station) -> &str {
        self.controls.iter().find(|(s, _)| *s == station).map_or("", |(_, html)| html)
    }

    fn title(&self) -> String {
        format!("{}, {}", self.form.value("name"), self.here.name())
    }

    fn styles(&self) -> Vec<Pick> {
        picks_of::<Style>(self.form.value("style"))
    }

    fn countings(&self) -> Vec<Pick> {
        let own = Counting::ALL.map(|c| (c.key(), c.name()));
        picks([("", "As the kitchen does")].into_iter().chain(own), self.form.value("counting"))
    }
}
