//! The kitchen's page.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::formula::Counting;
use cerealis_core::kitchen::{EggSize, FrictionReading, Kitchen, KitchenPlace, Pan, Scale, TemperatureUnits};
use cerealis_core::measures::{Cup, Measures, Tablespoon};
use cerealis_core::mixing::Method;
use cerealis_core::units::{Celsius, Grams, Minutes};
use cerealis_store::{Store, StoreError};
use jiff::civil::Time;
use serde::Deserialize;

use crate::error::{PageError, blocking, html, html_as, on_to};
use crate::form::{Form, Reader, number, plain};
use crate::posted::Posted;
use crate::view::KitchenPage;

/// Whether it has just been saved.
#[derive(Deserialize)]
pub struct Query {
    saved: Option<u8>,
}

/// The page.
pub async fn show(store: web::Data<Store>, query: web::Query<Query>) -> Result<HttpResponse, PageError> {
    let stored = blocking(move || Ok(store.kitchen()?)).await?;
    let mut page = KitchenPage::new(fill(&stored.kitchen), stored.revision);
    page.saved = query.saved.is_some();
    html(&page)
}

/// Saves the kitchen.
pub async fn save(store: web::Data<Store>, posted: Posted) -> Result<HttpResponse, PageError> {
    let Posted(mut form) = posted;
    let typed = form.value("revision").parse::<i32>().unwrap_or(-1);
    let read = read(&form).and_then(|k| k.check().map(|()| k));
    let kitchen = match read {
        Ok(kitchen) => kitchen,
        Err(faults) => {
            // A pan's own fault is told at the field that holds them all.
            let on_pans = |f: &Fault| {
                let lists = ["pans", "places", "friction"];
                let list = lists.into_iter().find(|l| f.path.starts_with(&format!("{l}.")));
                Fault { path: list.map_or_else(|| f.path.clone(), str::to_owned), ..f.clone() }
            };
            form.mark(&Faults(faults.0.iter().map(on_pans).collect()));
            return html_as(StatusCode::UNPROCESSABLE_ENTITY, &KitchenPage::new(form, typed));
        }
    };
    let revision = if form.ticked("over") { None } else { Some(typed) };
    let saved = blocking(move || match store.save_kitchen(revision, &kitchen) {
        Ok(_) => Ok(true),
        Err(StoreError::Conflict) => Ok(false),
        Err(other) => Err(other.into()),
    })
    .await?;
    if saved {
        return Ok(on_to("/kitchen?saved=1".into()));
    }
    let mut page = KitchenPage::new(form, typed);
    page.conflict = true;
    html_as(StatusCode::CONFLICT, &page)
}

fn fill(k: &Kitchen) -> Form {
    let mut form = Form::default();
    form.set("units", k.units.key());
    form.set("time_zone", &k.time_zone);
    form.set("room", plain(k.room.0));
    form.set("fridge", plain(k.fridge.0));
    form.set("tap", plain(k.tap.0));
    form.set("oven_offset", plain(k.oven_offset));
    form.set("oven_fan", if k.oven_fan { "on" } else { "" });
    form.set("oven_preheat", plain(k.oven_preheat.0));
    form.set("mixer_speeds", k.mixer_speeds.iter().map(|s| plain(*s)).collect::<Vec<_>>().join(", "));
    form.set("bowl", plain(k.bowl.0));
    form.set("altitude", plain(k.altitude));
    form.set("sleep_from", k.sleep_from.strftime("%H:%M").to_string());
    form.set("sleep_to", k.sleep_to.strftime("%H:%M").to_string());
    form.set("counting", k.counting.key());
    form.set("scale", k.scale.key());
    form.set("eggs", k.eggs.key());
    form.set("cup", k.measures.cup.key());
    form.set("tablespoon", k.measures.tablespoon.key());
    form.set("currency", &k.currency);
    let pans: Vec<String> = k.pans.iter().map(|p| format!("{}: {}", p.name, plain(p.ml))).collect();
    form.set("pans", pans.join("\n"));
    let places: Vec<String> = k.places.iter().map(place_line).collect();
    form.set("places", places.join("\n"));
    form.set("night", plain(k.night));
    form.set("tub", k.tub.map_or(String::new(), plain));
    form.set("mixer_limit", k.mixer_limit.map_or(String::new(), |g| plain(g.0)));
    let friction: Vec<String> =
        k.friction.iter().map(|f| format!("{}: {}", f.method.name(), plain(f.per_minute))).collect();
    form.set("friction", friction.join("\n"));
    form
}

fn read(form: &Form) -> Result<Kitchen, Faults> {
    let mut r = Reader::new(form);
    let time = |text: &str| text.parse::<Time>().ok();
    let ordinary = Kitchen::default();
    let kitchen = Kitchen {
        units: r.choice("units", TemperatureUnits::from_key, TemperatureUnits::Celsius),
        time_zone: r.text("time_zone"),
        room: Celsius(r.number("room")),
        fridge: Celsius(r.number("fridge")),
        tap: Celsius(r.number("tap")),
        oven_offset: r.number("oven_offset"),
        oven_fan: form.ticked("oven_fan"),
        oven_preheat: Minutes(r.number("oven_preheat")),
        mixer_speeds: r.list("mixer_speeds"),
        bowl: Grams(r.number("bowl")),
        altitude: r.number("altitude"),
        sleep_from: r.choice("sleep_from", time, ordinary.sleep_from),
        sleep_to: r.choice("sleep_to", time, ordinary.sleep_to),
        counting: r.choice("counting", Counting::from_key, Counting::AllFlour),
        scale: r.choice("scale", Scale::from_key, Scale::Gram),
        eggs: r.choice("eggs", EggSize::from_key, EggSize::Large),
        measures: Measures {
            cup: r.choice("cup", Cup::from_key, Cup::Us),
            tablespoon: r.choice("tablespoon", Tablespoon::from_key, Tablespoon::Us),
        },
        pans: r
            .named_figures("pans", "ml", "Long tin: 1800")
            .into_iter()
            .map(|(name, ml)| Pan { name, ml })
            .collect(),
        currency: r.text("currency"),
        night: r.optional("night").unwrap_or(0.0),
        places: read_places(&mut r),
        tub: r.optional("tub"),
        mixer_limit: r.optional("mixer_limit").map(Grams),
        friction: read_friction(&mut r),
    };
    r.done(kitchen)
}

/// A place as a line: its name, its temperature, and that by night where it differs.
fn place_line(p: &KitchenPlace) -> String {
    let night = if p.night > 0.0 {
        format!(", by night {}", plain(p.temperature.0 - p.night))
    } else {
        String::new()
    };
    format!("{}: {}{night}", p.name, plain(p.temperature.0))
}

fn read_places(r: &mut Reader<'_>) -> Vec<KitchenPlace> {
    let degrees = |text: &str| number(text.trim().trim_end_matches("°C"));
    let read = |line: &str| {
        let (name, rest) = line.rsplit_once(':')?;
        let (day, night) = rest.split_once("by night").map_or((rest, None), |(d, n)| (d, Some(n)));
        let day = degrees(day.trim().trim_end_matches(','))?;
        let night = night.map_or(Some(day), degrees)?;
        Some(KitchenPlace { name: name.trim().to_owned(), temperature: Celsius(day), night: day - night })
    };
    let text = r.text("places");
    let mut all = Vec::new();
    for line in text.lines().map(str::trim).filter(|l| !l.is_empty()) {
        match read(line) {
            Some(place) => all.push(place),
            None => {
                let text = format!(
                    "“{line}” does not read. Write a name, a colon and °C, such as “Proofing box: 27” or “Cellar: 13, by night 10”."
                );
                r.fault("not-a-number", "places", &text);
            }
        }
    }
    all
}

fn read_friction(r: &mut Reader<'_>) -> Vec<FrictionReading> {
    let mut all = Vec::new();
    for (name, per_minute) in r.named_figures("friction", "K", "Mixer: 0.85") {
        match Method::ALL.into_iter().find(|m| m.name().eq_ignore_ascii_case(&name)) {
            Some(method) => all.push(FrictionReading { method, per_minute }),
            None => {
                let text = format!("“{name}” is no way of mixing. Write such as Mixer: 0.85.");
                r.fault("unknown", "friction", &text);
            }
        }
    }
    all
}

impl Reader<'_> {
    /// Lines of a name, a colon and a figure; `such` is an example of one.
    fn named_figures(&mut self, name: &str, unit: &str, such: &str) -> Vec<(String, f64)> {
        let text = self.text(name);
        let read = |line: &str| {
            let (name, figure) = line.rsplit_once(':')?;
            let figure = figure.trim().trim_end_matches(unit).trim();
            Some((name.trim().to_owned(), number(figure)?))
        };
        let mut all = Vec::new();
        for line in text.lines().map(str::trim).filter(|l| !l.is_empty()) {
            match read(line) {
                Some(one) => all.push(one),
                None => {
                    let text = format!(
                        "“{line}” does not read. Write a name, a colon and a figure, such as {such}."
                    );
                    self.fault("not-a-number", name, &text);
                }
            }
        }
        all
    }

    /// Numbers with commas or spaces between them.
    fn list(&mut self, name: &str) -> Vec<f64> {
        let text = self.text(name);
        let parts = text.split([',', ';', ' ']).map(str::trim).filter(|p| !p.is_empty());
        let read: Option<Vec<f64>> = parts.map(number).collect();
        read.unwrap_or_else(|| {
            self.fault("not-a-number", name, "Give numbers with commas between them, such as 60, 95, 130.");
            Vec::new()
        })
    }
}
