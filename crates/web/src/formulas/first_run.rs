//! An empty kitchen: four questions, the usual breads as pictures, and examples to play with.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::{Kitchen, Scale};
use cerealis_core::notation::{ClockFace, Lengths, Quantity, Temperatures, Weights};
use cerealis_core::oven::Marks;
use cerealis_core::typed::typed_in;
use cerealis_core::units::Celsius;
use cerealis_core::words::Style;
use cerealis_store::{Store, StoreError, demo_formulas};

use super::Index;
use crate::error::{PageError, blocking, on_to};
use crate::form::{Form, Reader};
use crate::picture;
use crate::posted::Posted;
use crate::sharing::Baker;
use crate::show::{Pick, picks, picks_of};

/// The tag by which examples are known, and taken out again.
pub const EXAMPLE: &str = "example";

/// A usual bread to begin with.
pub struct StartCard {
    /// The key of its style.
    pub key: &'static str,
    /// The name that a formula of it begins with.
    pub name: &'static str,
    /// What it is, in a line.
    pub says: &'static str,
    /// Its picture.
    pub picture: String,
}

/// The usual breads, one a style.
pub fn cards() -> Vec<StartCard> {
    Style::ALL
        .into_iter()
        .map(|style| {
            let f = Formula::beginning(style.name(), style);
            StartCard {
                key: style.key(),
                name: style.name(),
                says: says(style),
                picture: picture::bread(&picture::Bread::of(&f)),
            }
        })
        .collect()
}

fn says(style: Style) -> &'static str {
    match style {
        Style::Tin => "White or mixed, for slices and toast. About 4 hours.",
        Style::SoftRoll => "With a little butter and sugar. About 4 hours.",
        Style::Hearth => "A crusty round with a wide crumb. Half a day.",
        Style::Braid => "Egg, sugar and butter, in strands. About 5 hours.",
        Style::NoKnead => "Stirred in the evening, baked in a pot. Overnight.",
        Style::Flat => "Wet, dimpled and oiled. About 5 hours.",
        Style::Rye => "Dense and dark, keeps for a week.",
        Style::GlutenFree => "A batter in a tin, without wheat.",
    }
}

/// The usual ways to weigh and measure; the Kitchen page sets each by itself.
const UNITS: [(&str, &str); 3] = [("metric", "g, °C"), ("grams", "g, °F"), ("ounces", "oz, °F")];

fn units_of(kitchen: &Kitchen) -> &'static str {
    let n = kitchen.notation();
    match (n.in_fahrenheit(), n.in_ounces()) {
        (false, _) => "metric",
        (true, false) => "grams",
        (true, true) => "ounces",
    }
}

/// A kitchen that weighs and measures in one of the usual ways.
fn with_units(kitchen: Kitchen, key: &str) -> Kitchen {
    if key == units_of(&kitchen) {
        return kitchen;
    }
    if key == "metric" {
        return Kitchen {
            units: Temperatures::default(),
            weights: Weights::default(),
            lengths: Lengths::default(),
            clock: ClockFace::default(),
            oven_marks: Marks::default(),
            ..kitchen
        };
    }
    Kitchen {
        units: Temperatures::Fahrenheit,
        weights: if key == "ounces" { Weights::OuncesFirst } else { Weights::Grams },
        lengths: Lengths::Inches,
        clock: ClockFace::Hours12,
        oven_marks: Marks::TwentyFiveF,
        ..kitchen
    }
}

/// The four questions as they were answered, or nothing yet.
pub struct Questions {
    /// How temperatures are shown.
    pub units: Vec<Pick>,
    /// How fine the scale is.
    pub scales: Vec<Pick>,
}

impl Questions {
    /// The questions, with the kitchen as it is now.
    pub fn of(kitchen: &Kitchen) -> Self {
        Questions {
            units: picks(UNITS.map(|(key, name)| (key, name)), units_of(kitchen)),
            scales: picks_of::<Scale>(kitchen.scale.key()),
        }
    }
}

/// Takes the answers into the kitchen; what is left out stays as it is usual.
pub async fn answer(
    _baker: Baker,
    store: web::Data<Store>,
    index: web::Data<Index>,
    posted: Posted,
) -> Result<HttpResponse, PageError> {
    let Posted(mut form) = posted;
    let answers = {
        let mut r = Reader::new(&form);
        let units = r.choice("units", |key| UNITS.iter().find(|(k, _)| *k == key).map(|u| u.0), "metric");
        // A bare figure is in the degrees that were just chosen.
        let notation = with_units(Kitchen::default(), units).notation();
        let text = r.text("room");
        let room = typed_in(&text, Quantity::Celsius, notation).map(Celsius);
        if room.is_none() && !text.is_empty() {
            r.fault("not-a-number", "room", "This is not a temperature. Use digits, such as 21 °C or 70 °F.");
        }
        let scale = r.choice("scale", Scale::from_key, Scale::Gram);
        r.done((room, units, scale))
    };
    let fan = form.value("oven") == "fan";
    let (room, units, scale) = match answers {
        Ok(answers) => answers,
        Err(faults) => {
            form.mark(&faults);
            return refused(store, index, form).await;
        }
    };
    let saved = blocking(move || {
        let stored = store.kitchen()?;
        let room = room.unwrap_or(stored.kitchen.room);
        let kitchen = Kitchen { scale, room, oven_fan: fan, ..with_units(stored.kitchen, units) };
        match kitchen.check() {
            Err(faults) => Ok(Err((store, faults))),
            Ok(()) => match store.save_kitchen(Some(stored.revision), &kitchen) {
                Ok(_) | Err(StoreError::Conflict) => Ok(Ok(())),
                Err(other) => Err(other.into()),
            },
        }
    })
    .await?;
    match saved {
        Ok(()) => Ok(on_to("/formulas?answered=1".into())),
        Err((store, faults)) => {
            form.mark(&faults);
            refused(store, index, form).await
        }
    }
}

async fn refused(
    store: web::Data<Store>,
    index: web::Data<Index>,
    form: Form,
) -> Result<HttpResponse, PageError> {
    super::show(store, index, super::Query::default(), form, StatusCode::UNPROCESSABLE_ENTITY).await
}

/// Puts the examples into this kitchen, marked by their tag.
pub async fn load_examples(_baker: Baker, store: web::Data<Store>) -> Result<HttpResponse, PageError> {
    blocking(move || {
        let there = store.formulas()?;
        let new = |f: &Formula| !there.iter().any(|t| is_example(&t.formula) && t.formula.name == f.name);
        for mut formula in demo_formulas().into_iter().filter(|f| new(f)) {
            formula.tags.truncate(4);
            formula.tags.push(EXAMPLE.into());
            store.create_formula(&formula)?;
        }
        Ok(())
    })
    .await?;
    Ok(on_to("/formulas".into()))
}

/// Takes them all out again; each can still be restored among the deleted.
pub async fn remove_examples(_baker: Baker, store: web::Data<Store>) -> Result<HttpResponse, PageError> {
    blocking(move || {
        for stored in store.formulas()?.into_iter().filter(|f| is_example(&f.formula)) {
            store.delete_formula(stored.id)?;
        }
        Ok(())
    })
    .await?;
    Ok(on_to("/formulas".into()))
}

/// Whether a formula is one of the examples.
pub fn is_example(f: &Formula) -> bool {
    f.tags.iter().any(|t| t == EXAMPLE)
}
