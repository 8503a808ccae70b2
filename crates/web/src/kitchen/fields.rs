//! The kitchen written into its form, and read from it.

use cerealis_core::fault::Faults;
use cerealis_core::kitchen::{
    Away, EggSize, FrictionReading, FurtherMixer, FurtherOven, Helper, Hours, Instrument, InstrumentKind,
    Kitchen, KitchenPlace, Night, Scale, Weekday,
};
use cerealis_core::notation::{ClockFace, Lengths, Temperatures, Weights};
use cerealis_core::oven::{HotSide, Looks, Marks, OvenReading};
use cerealis_core::pantry::{Cup, Measures, Tablespoon};
use cerealis_core::shape::{Pan, PanForm, PanShape};
use cerealis_core::units::{Celsius, Grams, Minutes};
use cerealis_core::words::{Counting, Made, Method};
use jiff::civil::Time;

use super::rows::rows;
use crate::form::{Cm, Form, Kelvins, Reader, plain};

/// The most speeds of a mixer.
pub const SPEEDS: usize = 8;

/// How an oven was looked at.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Seen {
    /// Hot through.
    Hot,
    /// On its way from cold.
    Heating,
    /// On its way back after the door was open.
    Door,
    /// By the bread that came out of it.
    Bread(Looks),
}

impl Seen {
    /// The choices with their words.
    pub const ALL: [(&'static str, &'static str); 6] = [
        ("hot", "hot through, it showed"),
        ("heating", "heating up, it showed"),
        ("door", "door was open, it showed"),
        ("pale", "bread came out pale"),
        ("right", "bread came out right"),
        ("dark", "bread came out dark"),
    ];

    fn key(self) -> &'static str {
        match self {
            Seen::Hot => "hot",
            Seen::Heating => "heating",
            Seen::Door => "door",
            Seen::Bread(looks) => looks.key(),
        }
    }

    fn from_key(key: &str) -> Option<Seen> {
        match key {
            "hot" | "" => Some(Seen::Hot),
            "heating" => Some(Seen::Heating),
            "door" => Some(Seen::Door),
            looks => Looks::from_key(looks).map(Seen::Bread),
        }
    }

    fn of(r: &OvenReading) -> Seen {
        match (r.looks, r.fell_to, r.after) {
            (Some(looks), ..) => Seen::Bread(looks),
            (None, Some(_), _) => Seen::Door,
            (None, None, Some(_)) => Seen::Heating,
            (None, None, None) => Seen::Hot,
        }
    }
}

/// Writes a kitchen into a form.
pub fn fill(k: &Kitchen) -> Form {
    let mut form = Form::within(k.notation());
    let notation = k.notation();
    let tick = |on: bool| if on { "on" } else { "" };
    form.set("units", k.units.key());
    form.set("weights", k.weights.key());
    form.set("lengths", k.lengths.key());
    form.set("clock", k.clock.key());
    form.set("time_zone", &k.time_zone);
    form.put("room", k.room);
    form.put("fridge", k.fridge);
    form.put_some("fridge_room", k.fridge_room);
    form.put("tap", k.tap);
    form.set("oven_name", &k.oven_name);
    form.set("oven_marks", k.oven_marks.key());
    form.put("oven_levels", f64::from(k.oven_levels));
    form.put("oven_offset", Kelvins(k.oven_offset));
    form.set("oven_fan", tick(k.oven_fan));
    form.put("oven_preheat", k.oven_preheat);
    form.put("bowl", k.bowl);
    form.put("altitude", k.altitude);
    form.set("sleep_from", notation.time(k.sleep_from));
    form.set("sleep_to", notation.time(k.sleep_to));
    form.put("wakes_for", k.wakes_for);
    form.set("culture_feeds", k.culture_feeds.to_string());
    form.set("counting", k.counting.key());
    form.set("scale", k.scale.key());
    form.set("eggs", k.eggs.key());
    form.set("cup", k.measures.cup.key());
    form.set("tablespoon", k.measures.tablespoon.key());
    form.put_some("flour_cup", k.measures.flour_cup);
    form.set("currency", &k.currency);
    form.put("oven_recovery", k.oven_recovery);
    form.put("oven_hottest", k.oven_hottest);
    form.set("oven_hot", k.oven_hot.key());
    form.put("tray_length", Cm(k.tray.0));
    form.put("tray_width", Cm(k.tray.1));
    form.put("night", Kelvins(k.night));
    form.put_some("tub", k.tub.map(Cm));
    form.set("mixer_name", &k.mixer_name);
    form.put_some("mixer_limit", k.mixer_limit);
    for (n, speed) in k.mixer_speeds.iter().enumerate() {
        form.put(format!("mixer_speeds.{n}"), *speed);
    }
    for (n, p) in k.places.iter().enumerate() {
        fill_place(&mut form, n, p);
    }
    for (n, p) in k.pans.iter().enumerate() {
        fill_pan(&mut form, n, p);
    }
    for (n, o) in k.ovens.iter().enumerate() {
        fill_oven(&mut form, n, o);
    }
    for (n, m) in k.mixers.iter().enumerate() {
        form.set(format!("mixers.{n}.name"), &m.name);
        form.set(format!("mixers.{n}.speeds"), speeds_said(&m.speeds));
        form.put_some(format!("mixers.{n}.limit"), m.limit);
    }
    let every_oven = std::iter::once(&k.oven_readings).chain(k.ovens.iter().map(|o| &o.readings));
    let readings = every_oven.enumerate().flat_map(|(of, all)| all.iter().map(move |r| (of, r)));
    for (n, (of, r)) in readings.enumerate() {
        let at = |field: &str| format!("oven_readings.{n}.{field}");
        form.set(at("oven"), of.to_string());
        form.put(at("dial"), r.dial);
        form.set(at("seen"), Seen::of(r).key());
        form.put_some(at("read"), r.read);
        form.put_some(at("after"), r.after);
        form.put_some(at("fell_to"), r.fell_to);
    }
    let every_mixer = std::iter::once(&k.friction).chain(k.mixers.iter().map(|m| &m.friction));
    let friction = every_mixer.enumerate().flat_map(|(of, all)| all.iter().map(move |f| (of, f)));
    for (n, (of, f)) in friction.enumerate() {
        form.set(format!("friction.{n}.mixer"), of.to_string());
        form.set(format!("friction.{n}.method"), f.method.key());
        form.put(format!("friction.{n}.per_minute"), Kelvins(f.per_minute));
    }
    for (n, night) in k.nights.iter().enumerate() {
        form.set(format!("nights.{n}.evening"), night.evening.key());
        form.set(format!("nights.{n}.from"), notation.time(night.from));
        form.set(format!("nights.{n}.to"), notation.time(night.to));
    }
    for (n, a) in k.away.iter().enumerate() {
        form.set(format!("away.{n}.name"), &a.name);
        form.set(format!("away.{n}.from"), notation.time(a.from));
        form.set(format!("away.{n}.to"), notation.time(a.to));
        form.put_some(format!("away.{n}.spares"), Some(a.spares).filter(|m| m.0 > 0.0));
        fill_days(&mut form, &format!("away.{n}"), &a.days);
    }
    for (n, i) in k.instruments.iter().enumerate() {
        form.set(format!("instruments.{n}.kind"), i.kind.key());
        form.set(format!("instruments.{n}.address"), &i.address);
    }
    for (n, h) in k.helpers.iter().enumerate() {
        form.set(format!("helpers.{n}.name"), &h.name);
        form.set(format!("helpers.{n}.from"), notation.time(h.from));
        form.set(format!("helpers.{n}.to"), notation.time(h.to));
        fill_days(&mut form, &format!("helpers.{n}"), &h.days);
    }
    form
}

fn fill_days(form: &mut Form, row: &str, days: &[Weekday]) {
    for day in Weekday::ALL {
        form.set(format!("{row}.{}", day.key()), if days.contains(&day) { "on" } else { "" });
    }
}

fn days(form: &Form, row: &str) -> Vec<Weekday> {
    Weekday::ALL.into_iter().filter(|d| form.ticked(&format!("{row}.{}", d.key()))).collect()
}

fn speeds_said(speeds: &[f64]) -> String {
    speeds.iter().map(|s| plain(*s)).collect::<Vec<_>>().join(", ")
}

fn fill_place(form: &mut Form, n: usize, p: &KitchenPlace) {
    let at = |field: &str| format!("places.{n}.{field}");
    form.set(at("name"), &p.name);
    form.put(at("temperature"), p.temperature);
    form.put_some(at("by_night"), Some(Celsius(p.temperature.0 - p.night)).filter(|_| p.night != 0.0));
    form.put_some(at("measured"), p.measured);
    form.put_some(at("tubs"), p.tubs.map(f64::from));
}

fn fill_oven(form: &mut Form, n: usize, o: &FurtherOven) {
    let at = |field: &str| format!("ovens.{n}.{field}");
    form.set(at("name"), &o.name);
    form.put(at("offset"), Kelvins(o.offset));
    form.set(at("fan"), if o.fan { "on" } else { "" });
    form.put(at("preheat"), o.preheat);
    form.put(at("recovery"), o.recovery);
    form.put(at("hottest"), o.hottest);
    form.set(at("hot"), o.hot.key());
    form.set(at("marks"), o.marks.key());
    form.put(at("levels"), f64::from(o.levels));
}

fn fill_pan(form: &mut Form, n: usize, p: &Pan) {
    let at = |field: &str| format!("pans.{n}.{field}");
    form.set(at("name"), &p.name);
    form.set(at("lid"), if p.lid { "on" } else { "" });
    form.set(at("made"), p.made.key());
    form.put_some(at("count"), p.count.map(f64::from));
    // One that was weighed with water stays as it was weighed, however near its sizes come to it.
    let worked_out = p.form.is_some_and(|f| (f.ml() - p.ml).abs() < 1e-9);
    form.put_some(at("ml"), Some(p.ml).filter(|_| !worked_out));
    if let Some(f) = &p.form {
        form.set(at("shape"), f.shape.key());
        form.put(at("length"), Cm(f.length));
        form.put_some(at("width"), f.width.map(Cm));
        form.put(at("depth"), Cm(f.depth));
        form.put_some(at("base_length"), f.base_length.map(Cm));
        form.put_some(at("base_width"), f.base_width.map(Cm));
    }
}

/// Reads a kitchen.
///
/// # Errors
/// Every field that does not read, by its name.
pub fn read(form: &Form) -> Result<Kitchen, Faults> {
    let mut r = Reader::new(form);
    let hours = hours(&mut r, form);
    let mut kitchen = Kitchen {
        units: r.choice("units", Temperatures::from_key, Temperatures::Celsius),
        weights: r.choice("weights", Weights::from_key, Weights::Grams),
        lengths: r.choice("lengths", Lengths::from_key, Lengths::Centimetres),
        clock: r.choice("clock", ClockFace::from_key, ClockFace::Hours24),
        time_zone: r.text("time_zone"),
        room: r.figure_of("room"),
        fridge: r.figure_of("fridge"),
        fridge_room: r.optional("fridge_room"),
        tap: r.figure_of("tap"),
        oven_name: r.text("oven_name"),
        oven_marks: r.choice("oven_marks", Marks::from_key, Marks::Five),
        oven_levels: r.whole("oven_levels"),
        oven_offset: r.figure_of::<Kelvins>("oven_offset").0,
        oven_fan: form.ticked("oven_fan"),
        oven_preheat: r.figure_of("oven_preheat"),
        ovens: rows(form, "ovens").into_iter().map(|n| oven(&mut r, form, n)).collect(),
        mixer_name: r.text("mixer_name"),
        mixers: rows(form, "mixers").into_iter().map(|n| mixer(&mut r, n)).collect(),
        mixer_speeds: (0..SPEEDS).filter_map(|n| r.optional(&format!("mixer_speeds.{n}"))).collect(),
        bowl: r.figure_of("bowl"),
        altitude: r.number("altitude"),
        sleep_from: hours.sleep_from,
        sleep_to: hours.sleep_to,
        wakes_for: hours.wakes_for,
        nights: hours.nights,
        away: hours.away,
        helpers: hours.helpers,
        culture_feeds: if form.value("culture_feeds").is_empty() { 0 } else { r.whole("culture_feeds") },
        counting: r.choice("counting", Counting::from_key, Counting::AllFlour),
        scale: r.choice("scale", Scale::from_key, Scale::Gram),
        eggs: r.choice("eggs", EggSize::from_key, EggSize::Large),
        measures: Measures {
            cup: r.choice("cup", Cup::from_key, Cup::Us),
            tablespoon: r.choice("tablespoon", Tablespoon::from_key, Tablespoon::Us),
            flour_cup: r.measure::<Grams>("flour_cup"),
        },
        oven_recovery: r.figure_of("oven_recovery"),
        oven_hottest: r.figure_of("oven_hottest"),
        oven_hot: r.choice("oven_hot", HotSide::from_key, HotSide::Even),
        oven_readings: Vec::new(),
        tray: (r.figure_of::<Cm>("tray_length").0, r.figure_of::<Cm>("tray_width").0),
        pans: rows(form, "pans").into_iter().map(|n| pan(&mut r, form, n)).collect(),
        currency: r.text("currency"),
        night: r.measure::<Kelvins>("night").map_or(0.0, |k| k.0),
        places: rows(form, "places").into_iter().map(|n| place(&mut r, n)).collect(),
        tub: r.measure::<Cm>("tub").map(|cm| cm.0),
        mixer_limit: r.measure::<Grams>("mixer_limit"),
        friction: Vec::new(),
        instruments: rows(form, "instruments")
            .into_iter()
            .map(|n| Instrument {
                kind: r.choice(
                    &format!("instruments.{n}.kind"),
                    InstrumentKind::from_key,
                    InstrumentKind::Scale,
                ),
                address: r.text(&format!("instruments.{n}.address")),
            })
            .collect(),
    };
    for n in rows(form, "oven_readings") {
        let reading = reading(&mut r, n);
        let of: usize = r.text(&format!("oven_readings.{n}.oven")).parse().unwrap_or(0);
        let further = of.checked_sub(1).and_then(|i| kitchen.ovens.get_mut(i));
        further.map_or(&mut kitchen.oven_readings, |o| &mut o.readings).push(reading);
    }
    for n in rows(form, "friction") {
        let friction = friction(&mut r, n);
        let of: usize = r.text(&format!("friction.{n}.mixer")).parse().unwrap_or(0);
        let further = of.checked_sub(1).and_then(|i| kitchen.mixers.get_mut(i));
        further.map_or(&mut kitchen.friction, |m| &mut m.friction).push(friction);
    }
    r.done(kitchen)
}

fn hours(r: &mut Reader<'_>, form: &Form) -> Hours {
    let usual = Kitchen::default();
    let time = |r: &mut Reader<'_>, name: &str, otherwise: Time| {
        r.time(name).unwrap_or_else(|| {
            if r.text(name).is_empty() {
                r.fault("missing", name, "Give a time of day, such as 22:30.");
            }
            otherwise
        })
    };
    Hours {
        sleep_from: time(r, "sleep_from", usual.sleep_from),
        sleep_to: time(r, "sleep_to", usual.sleep_to),
        wakes_for: r.measure("wakes_for").unwrap_or(Minutes(0.0)),
        nights: rows(form, "nights")
            .into_iter()
            .map(|n| Night {
                evening: r.choice(&format!("nights.{n}.evening"), Weekday::from_key, Weekday::Friday),
                from: time(r, &format!("nights.{n}.from"), usual.sleep_from),
                to: time(r, &format!("nights.{n}.to"), usual.sleep_to),
            })
            .collect(),
        away: rows(form, "away")
            .into_iter()
            .map(|n| Away {
                name: r.text(&format!("away.{n}.name")),
                days: days(form, &format!("away.{n}")),
                from: time(r, &format!("away.{n}.from"), usual.sleep_to),
                to: time(r, &format!("away.{n}.to"), usual.sleep_from),
                spares: r.measure(&format!("away.{n}.spares")).unwrap_or(Minutes(0.0)),
            })
            .collect(),
        helpers: rows(form, "helpers")
            .into_iter()
            .map(|n| Helper {
                name: r.text(&format!("helpers.{n}.name")),
                days: days(form, &format!("helpers.{n}")),
                from: time(r, &format!("helpers.{n}.from"), usual.sleep_to),
                to: time(r, &format!("helpers.{n}.to"), usual.sleep_from),
            })
            .collect(),
    }
}

fn oven(r: &mut Reader<'_>, form: &Form, n: usize) -> FurtherOven {
    let at = |field: &str| format!("ovens.{n}.{field}");
    FurtherOven {
        name: r.text(&at("name")),
        offset: r.measure::<Kelvins>(&at("offset")).map_or(0.0, |k| k.0),
        fan: form.ticked(&at("fan")),
        preheat: r.figure_of(&at("preheat")),
        recovery: r.figure_of(&at("recovery")),
        hottest: r.figure_of(&at("hottest")),
        hot: r.choice(&at("hot"), HotSide::from_key, HotSide::Even),
        marks: r.choice(&at("marks"), Marks::from_key, Marks::Five),
        levels: r.whole(&at("levels")),
        readings: Vec::new(),
    }
}

fn mixer(r: &mut Reader<'_>, n: usize) -> FurtherMixer {
    let at = |field: &str| format!("mixers.{n}.{field}");
    let text = r.text(&at("speeds"));
    let read: Option<Vec<f64>> =
        text.split([',', ';', ' ']).filter(|w| !w.is_empty()).map(|w| w.parse().ok()).collect();
    if read.is_none() {
        r.fault("not-a-number", &at("speeds"), "Give the speeds with commas between, such as 60, 95, 130.");
    }
    FurtherMixer {
        name: r.text(&at("name")),
        speeds: read.unwrap_or_default(),
        limit: r.measure(&at("limit")),
        friction: Vec::new(),
    }
}

fn place(r: &mut Reader<'_>, n: usize) -> KitchenPlace {
    let at = |field: &str| format!("places.{n}.{field}");
    let temperature: Celsius = r.figure_of(&at("temperature"));
    let by_night = r.measure::<Celsius>(&at("by_night")).unwrap_or(temperature);
    let tubs = (!r.text(&at("tubs")).is_empty()).then(|| r.whole(&at("tubs")));
    KitchenPlace {
        name: r.text(&at("name")),
        temperature,
        night: (temperature - by_night).0,
        tubs,
        measured: r.measure(&at("measured")),
    }
}

/// A pan: by its shape and sizes, by what it holds, or both.
fn pan(r: &mut Reader<'_>, form: &Form, n: usize) -> Pan {
    let at = |field: &str| format!("pans.{n}.{field}");
    let ml = r.optional(&at("ml"));
    let shape_of = |key: &str| if key.is_empty() { Some(None) } else { PanShape::from_key(key).map(Some) };
    let shape = r.choice(&at("shape"), shape_of, None);
    let form_of = shape.map(|shape| PanForm {
        shape,
        length: r.figure_of::<Cm>(&at("length")).0,
        width: r.measure::<Cm>(&at("width")).map(|cm| cm.0),
        base_length: r.measure::<Cm>(&at("base_length")).map(|cm| cm.0),
        base_width: r.measure::<Cm>(&at("base_width")).map(|cm| cm.0),
        depth: r.figure_of::<Cm>(&at("depth")).0,
    });
    if ml.is_none() && form_of.is_none() {
        r.fault("missing", &at("ml"), "Give its shape and sizes, or what it holds.");
    }
    Pan {
        name: r.text(&at("name")).trim().to_owned(),
        ml: ml.or_else(|| form_of.map(|f| f.ml())).unwrap_or(0.0),
        form: form_of,
        lid: form.ticked(&at("lid")),
        made: r.choice(&at("made"), Made::from_key, Made::default()),
        count: (!r.text(&at("count")).is_empty()).then(|| r.whole(&at("count"))),
    }
}

fn reading(r: &mut Reader<'_>, n: usize) -> OvenReading {
    let at = |field: &str| format!("oven_readings.{n}.{field}");
    let dial = r.figure_of(&at("dial"));
    let seen = r.choice(&at("seen"), Seen::from_key, Seen::Hot);
    if let Seen::Bread(looks) = seen {
        return OvenReading::looked(dial, looks);
    }
    let read = r.figure_of(&at("read"));
    let hot = OvenReading::hot(dial, read);
    match seen {
        Seen::Heating => OvenReading { after: Some(r.figure_of(&at("after"))), ..hot },
        Seen::Door => OvenReading {
            fell_to: Some(r.figure_of(&at("fell_to"))),
            after: Some(r.figure_of(&at("after"))),
            ..hot
        },
        _ => hot,
    }
}

fn friction(r: &mut Reader<'_>, n: usize) -> FrictionReading {
    FrictionReading {
        method: r.choice(&format!("friction.{n}.method"), Method::from_key, Method::Mixer),
        per_minute: r.figure_of::<Kelvins>(&format!("friction.{n}.per_minute")).0,
    }
}

/// The pans as far as they read, to be drawn while they are typed.
pub fn pans_as_typed(form: &Form) -> Vec<(usize, Option<Pan>)> {
    rows(form, "pans")
        .into_iter()
        .map(|n| {
            let mut r = Reader::new(form);
            let read = pan(&mut r, form, n);
            (n, r.done(read).ok())
        })
        .collect()
}

#[cfg(test)]
mod tests;
