//! The kitchen's page.

use actix_web::http::StatusCode;
use actix_web::{HttpResponse, web};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::kitchen::{EggSize, FrictionReading, Kitchen, KitchenPlace, Scale, TemperatureUnits};
use cerealis_core::oven::{HotSide, Looks, OvenReading};
use cerealis_core::pantry::{Cup, Measures, Tablespoon};
use cerealis_core::shape::Pan;
use cerealis_core::units::{Celsius, Grams, Minutes};
use cerealis_core::words::{Counting, Method};
use cerealis_store::{Revision, StoreError};
use jiff::civil::Time;
use serde::Deserialize;

use crate::error::{PageError, blocking, html, html_as, on_to};
use crate::form::{Form, Reader, number, plain};
use crate::posted::Posted;
use crate::view::KitchenPage;
use cerealis_store::Store;

/// Whether it has just been saved.
#[derive(Deserialize)]
pub struct Query {
    saved: Option<u8>,
}

/// The page.
pub async fn show(store: web::Data<Store>, query: web::Query<Query>) -> Result<HttpResponse, PageError> {
    let stored = blocking(move || Ok(store.kitchen()?)).await?;
    let mut page = KitchenPage::of(&stored.kitchen, fill(&stored.kitchen), stored.revision);
    page.saved = query.saved.is_some();
    page.damaged = stored.damaged.is_some();
    html(&page)
}

/// Saves the kitchen.
pub async fn save(store: web::Data<Store>, posted: Posted) -> Result<HttpResponse, PageError> {
    let Posted(mut form) = posted;
    let typed = form.revision().unwrap_or(Revision::UNSAID);
    let read = read(&form).and_then(|k| k.check().map(|()| k));
    let kitchen = match read {
        Ok(kitchen) => kitchen,
        Err(faults) => {
            // A pan's own fault is told at the field that holds them all.
            let on_pans = |f: &Fault| {
                let lists = ["pans", "places", "friction", "oven_readings"];
                let list = lists.into_iter().find(|l| f.path.starts_with(&format!("{l}.")));
                Fault { path: list.map_or_else(|| f.path.clone(), str::to_owned), ..f.clone() }
            };
            form.mark(&Faults(faults.0.iter().map(on_pans).collect()));
            return html_as(StatusCode::UNPROCESSABLE_ENTITY, &KitchenPage::new(form, typed));
        }
    };
    let over = form.over();
    let saved = blocking(move || match store.save_kitchen(over, &kitchen) {
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

/// What a browser says at its first visit.
#[derive(Deserialize)]
pub struct Zone {
    zone: String,
}

/// A kitchen that nobody has set yet takes the time zone of the browser that looks at it first. Answers
/// with what it now goes by, or nothing where it was set already.
pub async fn begin_in_zone(
    store: web::Data<Store>,
    said: web::Json<Zone>,
) -> Result<HttpResponse, PageError> {
    let Zone { zone } = said.into_inner();
    let known = Kitchen { time_zone: zone.clone(), ..Kitchen::default() };
    if zone.len() > 80 || known.zone().is_none() {
        return Ok(HttpResponse::NoContent().finish());
    }
    let taken = zone.clone();
    match blocking(move || Ok(store.begin_in_zone(&taken)?)).await? {
        true => Ok(HttpResponse::Ok().json(serde_json::json!({ "zone": zone }))),
        false => Ok(HttpResponse::NoContent().finish()),
    }
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
    form.set("oven_recovery", plain(k.oven_recovery.0));
    form.set("oven_hottest", plain(k.oven_hottest.0));
    form.set("oven_hot", k.oven_hot.key());
    let readings: Vec<String> = k.oven_readings.iter().map(oven_line).collect();
    form.set("oven_readings", readings.join("\n"));
    form.set("tray_length", plain(k.tray.0));
    form.set("tray_width", plain(k.tray.1));
    let pans: Vec<String> = k.pans.iter().map(Pan::line).collect();
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
        room: r.figure_of("room"),
        fridge: r.figure_of("fridge"),
        tap: r.figure_of("tap"),
        oven_offset: r.number("oven_offset"),
        oven_fan: form.ticked("oven_fan"),
        oven_preheat: r.figure_of("oven_preheat"),
        mixer_speeds: r.list("mixer_speeds"),
        bowl: r.figure_of("bowl"),
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
        oven_recovery: r.figure_of("oven_recovery"),
        oven_hottest: r.figure_of("oven_hottest"),
        oven_hot: r.choice("oven_hot", HotSide::from_key, HotSide::Even),
        oven_readings: r.read_lines("oven_readings", read_oven, "the dial, a colon and what was seen, such as “200: 188”, “200: dark”, “230: 160 after 9 min” or “230: fell to 185, 210 after 4 min”"),
        tray: (r.number("tray_length"), r.number("tray_width")),
        pans: r.read_lines("pans", Pan::from_line, "a name, a colon and ml or a shape, such as “Long tin: 1800” or “Weir tin: tin 24 × 12 to 22 × 10 × 9, lid”"),
        currency: r.text("currency"),
        night: r.optional("night").unwrap_or(0.0),
        places: r.read_lines("places", read_place, "a name, a colon and °C, such as “Proofing box: 27” or “Cellar: 13, by night 10”"),
        tub: r.optional("tub"),
        mixer_limit: r.measure::<Grams>("mixer_limit"),
        friction: r.read_lines("friction", read_friction, "a way of mixing, a colon and K a minute, such as “Mixer: 0.85”"),
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

fn read_place(line: &str) -> Option<KitchenPlace> {
    let degrees = |text: &str| number(text.trim().trim_end_matches("°C"));
    let (name, rest) = line.rsplit_once(':')?;
    let (day, night) = rest.split_once("by night").map_or((rest, None), |(d, n)| (d, Some(n)));
    let day = degrees(day.trim().trim_end_matches(','))?;
    let night = night.map_or(Some(day), degrees)?;
    Some(KitchenPlace { name: name.trim().to_owned(), temperature: Celsius(day), night: day - night })
}

/// An oven reading as a line: the dial, and what was seen: the thermometer, when it was read if the oven
/// was still on its way, or how the bread looked.
fn oven_line(r: &OvenReading) -> String {
    let dial = plain(r.dial.0);
    let Some(read) = r.read else { return format!("{dial}: {}", r.looks.map_or("", Looks::key)) };
    let fell = r.fell_to.map_or(String::new(), |t| format!("fell to {}, ", plain(t.0)));
    let after = r.after.map_or(String::new(), |m| format!(" after {} min", plain(m.0)));
    format!("{dial}: {fell}{}{after}", plain(read.0))
}

fn read_oven(line: &str) -> Option<OvenReading> {
    let degrees = |text: &str| number(text.trim().trim_end_matches("°C")).map(Celsius);
    let (dial, shown) = line.split_once(':')?;
    let dial = degrees(dial)?;
    let shown = shown.trim().to_lowercase();
    if let Some(looks) = Looks::from_key(&shown) {
        return Some(OvenReading::looked(dial, looks));
    }
    let (shown, after) = match shown.split_once("after") {
        Some((shown, after)) => (shown, Some(Minutes(number(after.trim().trim_end_matches("min").trim())?))),
        None => (shown.as_str(), None),
    };
    let (fell_to, read) = match shown.trim().strip_prefix("fell to") {
        Some(rest) => {
            let (fell, read) = rest.split_once([',', ';'])?;
            (Some(degrees(fell)?), read)
        }
        None => (None, shown),
    };
    Some(OvenReading { after, fell_to, ..OvenReading::hot(dial, degrees(read)?) })
}

fn read_friction(line: &str) -> Option<FrictionReading> {
    let (name, figure) = line.rsplit_once(':')?;
    let name = name.trim().to_lowercase();
    let method = Method::ALL.into_iter().find(|m| m.name().to_lowercase() == name)?;
    Some(FrictionReading { method, per_minute: number(figure.trim().trim_end_matches('K').trim())? })
}

impl Reader<'_> {
    /// Lines that `read` takes; `such` says how one is written.
    fn read_lines<T>(&mut self, name: &str, read: impl Fn(&str) -> Option<T>, such: &str) -> Vec<T> {
        let text = self.text(name);
        let mut all = Vec::new();
        for line in text.lines().map(str::trim).filter(|l| !l.is_empty()) {
            match read(line) {
                Some(one) => all.push(one),
                None => self.fault("not-a-number", name, &format!("“{line}” does not read. Write {such}.")),
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
