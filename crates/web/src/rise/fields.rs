//! The fields of the Rise station.

use askama::Template;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::notation::Quantity;
use cerealis_core::rise::{LEGS_MAX, Leg, Liveliness, RiseWish, RisesWish};
use cerealis_core::words::{Handling, Stands};

use crate::form::{Fields, Form, Visit, as_kelvins, as_lengths};
use crate::show::{Pick, picks, picks_of};

impl Fields for RisesWish {
    fn fields(&mut self, to: &mut impl Visit) {
        rise(&mut self.bulk, "bulk", to);
        rise(&mut self.second, "second", to);
        to.choice("rise.between", &mut self.between);
        to.some("rise.kneads", &mut self.kneads);
        rise(&mut self.proof, "proof", to);
        as_lengths(to, [("rise.rim", &mut self.rim)]);
        to.tick("rise.uncovered", &mut self.uncovered);
        to.choice("rise.leaven", &mut self.leaven);
        to.choice("rise.handling", &mut self.handling);
        to.some("rise.levain_place", &mut self.levain_place);
    }
}

fn rise(wish: &mut RiseWish, name: &str, to: &mut impl Visit) {
    let at = |field: &str| format!("rise.{name}.{field}");
    let mut legs = Vec::new();
    for n in 0..LEGS_MAX {
        let mut leg = wish.legs.get(n).map(|l| (l.hours, l.place));
        let (hours, place) = (at(&format!("legs.{n}.hours")), at(&format!("legs.{n}.place")));
        let ask = ["Give the hours there.", "Give the temperature there."];
        to.pair([&hours, &place], &mut leg, ask);
        legs.extend(leg.map(|(hours, place)| Leg { hours, place }));
    }
    wish.legs = legs;
    to.some(&at("place"), &mut wish.place);
    to.figure(&at("target"), &mut wish.target);
    to.some(&at("stays"), &mut wish.stays);
    to.choice(&at("stands"), &mut wish.stands);
    let mut night = Some(wish.night).filter(|n| *n != 0.0);
    as_kelvins(to, [(&at("night"), &mut night)]);
    wish.night = night.unwrap_or(0.0);
}

/// The controls of the station.
#[derive(Template)]
#[template(path = "rise/fields.html")]
pub struct RiseFields<'a> {
    /// What was typed.
    pub form: &'a Form,
    /// The household's settings.
    pub kitchen: &'a Kitchen,
}

impl RiseFields<'_> {
    fn targets(&self, field: &str) -> Vec<Pick> {
        let none = match field {
            "rise.bulk.target" => "no bulk rise",
            "rise.second.target" => "no second rise",
            _ => "no proof",
        };
        let named = [
            ("1", none),
            ("1.25", "1.25 times"),
            ("1.5", "1.5 times"),
            ("1.75", "1.75 times"),
            ("2", "2 times"),
            ("2.25", "2.25 times"),
            ("2.5", "2.5 times"),
            ("2.75", "2.75 times"),
            ("3", "3 times"),
        ];
        let value = self.form.value(field);
        let mut all = picks(named, value);
        if !all.iter().any(|p| p.on) && !value.is_empty() {
            all.push(Pick { key: value.into(), name: format!("{value} times"), on: true });
        }
        all
    }

    fn stands(&self, field: &str) -> Vec<Pick> {
        picks_of::<Stands>(self.form.value(field))
    }

    /// Whether a rise goes through several places, or stands for a set time.
    fn moves(&self, rise: &str) -> bool {
        ["legs.0.hours", "legs.1.hours", "legs.2.hours", "stays", "night"]
            .iter()
            .any(|f| !self.form.value(&format!("rise.{rise}.{f}")).is_empty())
    }

    /// Whether there is a second bulk rise.
    fn twice(&self) -> bool {
        !matches!(self.form.value("rise.second.target"), "" | "1") || self.moves("second")
    }

    /// Places where dough can stand, as steps under a field: name, temperature, and how much cooler
    /// it gets there by night.
    fn places(&self) -> Vec<(String, String, String)> {
        let k = &self.kitchen;
        let own = k.places.iter().map(|p| (p.name.clone(), p.really(), p.night));
        let n = self.form.notation();
        let night = |k: f64| if k > 0.0 { n.text(k, Quantity::Kelvin) } else { String::new() };
        [("Room".to_owned(), k.room, k.night), ("Fridge".to_owned(), k.fridge, 0.0)]
            .into_iter()
            .chain(own)
            .map(|(name, t, k)| (name, n.text(t.0, Quantity::Celsius), night(k)))
            .collect()
    }

    fn livelinesses(&self) -> Vec<Pick> {
        picks_of::<Liveliness>(self.form.value("rise.leaven"))
    }

    /// Whether a line in the pan is said, or that it stands uncovered.
    fn to_a_line(&self) -> bool {
        !self.form.value("rise.rim").is_empty() || self.form.ticked("rise.uncovered")
    }

    fn handlings(&self, field: &str) -> Vec<Pick> {
        picks_of::<Handling>(self.form.value(field))
    }
}
