//! The kitchen written into its form, and read from it.

use cerealis_core::fault::Faults;
use cerealis_core::kitchen::{EggSize, FrictionReading, Kitchen, KitchenPlace, Scale, TemperatureUnits};
use cerealis_core::oven::{HotSide, Looks, OvenReading};
use cerealis_core::pantry::{Cup, Measures, Tablespoon};
use cerealis_core::shape::{Pan, PanForm, PanShape};
use cerealis_core::units::{Celsius, Grams};
use cerealis_core::words::{Counting, Made, Method};
use jiff::civil::Time;

use super::rows::rows;
use crate::form::{Form, Reader, plain};

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
    let mut form = Form::default();
    form.set("units", k.units.key());
    form.set("time_zone", &k.time_zone);
    form.set("room", plain(k.room.0));
    form.set("fridge", plain(k.fridge.0));
    form.set("tap", plain(k.tap.0));
    form.set("oven_offset", plain(k.oven_offset));
    form.set("oven_fan", if k.oven_fan { "on" } else { "" });
    form.set("oven_preheat", plain(k.oven_preheat.0));
    form.set("bowl", plain(k.bowl.0));
    form.set("altitude", plain(k.altitude));
    form.set("sleep_from", k.sleep_from.strftime("%H:%M").to_string());
    form.set("sleep_to", k.sleep_to.strftime("%H:%M").to_string());
    form.set("counting", k.counting.key());
    form.set("scale", k.scale.key());
    form.set("eggs", k.eggs.key());
    form.set("cup", k.measures.cup.key());
    form.set("tablespoon", k.measures.tablespoon.key());
    form.set("flour_cup", k.measures.flour_cup.map_or(String::new(), |g| plain(g.0)));
    form.set("currency", &k.currency);
    form.set("oven_recovery", plain(k.oven_recovery.0));
    form.set("oven_hottest", plain(k.oven_hottest.0));
    form.set("oven_hot", k.oven_hot.key());
    form.set("tray_length", plain(k.tray.0));
    form.set("tray_width", plain(k.tray.1));
    form.set("night", plain(k.night));
    form.set("tub", k.tub.map_or(String::new(), plain));
    form.set("mixer_limit", k.mixer_limit.map_or(String::new(), |g| plain(g.0)));
    for (n, speed) in k.mixer_speeds.iter().enumerate() {
        form.set(format!("mixer_speeds.{n}"), plain(*speed));
    }
    for (n, p) in k.places.iter().enumerate() {
        let at = |field: &str| format!("places.{n}.{field}");
        form.set(at("name"), &p.name);
        form.set(at("temperature"), plain(p.temperature.0));
        form.set(
            at("by_night"),
            if p.night == 0.0 { String::new() } else { plain(p.temperature.0 - p.night) },
        );
    }
    for (n, p) in k.pans.iter().enumerate() {
        fill_pan(&mut form, n, p);
    }
    for (n, r) in k.oven_readings.iter().enumerate() {
        let at = |field: &str| format!("oven_readings.{n}.{field}");
        let some = |x: Option<f64>| x.map_or(String::new(), plain);
        form.set(at("dial"), plain(r.dial.0));
        form.set(at("seen"), Seen::of(r).key());
        form.set(at("read"), some(r.read.map(|t| t.0)));
        form.set(at("after"), some(r.after.map(|m| m.0)));
        form.set(at("fell_to"), some(r.fell_to.map(|t| t.0)));
    }
    for (n, f) in k.friction.iter().enumerate() {
        form.set(format!("friction.{n}.method"), f.method.key());
        form.set(format!("friction.{n}.per_minute"), plain(f.per_minute));
    }
    form
}

fn fill_pan(form: &mut Form, n: usize, p: &Pan) {
    let mut set = |field: &str, value: String| form.set(format!("pans.{n}.{field}"), value);
    set("name", p.name.clone());
    set("lid", if p.lid { "on".into() } else { String::new() });
    set("made", p.made.key().into());
    let some = |x: Option<f64>| x.map_or(String::new(), plain);
    let worked_out = p.form.is_some_and(|f| (f.ml() - p.ml).abs() < 1.0);
    set("ml", if worked_out { String::new() } else { plain(p.ml) });
    if let Some(f) = &p.form {
        set("shape", f.shape.key().into());
        set("length", plain(f.length));
        set("width", some(f.width));
        set("depth", plain(f.depth));
        set("base_length", some(f.base_length));
        set("base_width", some(f.base_width));
    }
}

/// Reads a kitchen.
///
/// # Errors
/// Every field that does not read, by its name.
pub fn read(form: &Form) -> Result<Kitchen, Faults> {
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
        mixer_speeds: (0..SPEEDS).filter_map(|n| r.optional(&format!("mixer_speeds.{n}"))).collect(),
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
            flour_cup: r.measure::<Grams>("flour_cup"),
        },
        oven_recovery: r.figure_of("oven_recovery"),
        oven_hottest: r.figure_of("oven_hottest"),
        oven_hot: r.choice("oven_hot", HotSide::from_key, HotSide::Even),
        oven_readings: rows(form, "oven_readings").into_iter().map(|n| reading(&mut r, n)).collect(),
        tray: (r.number("tray_length"), r.number("tray_width")),
        pans: rows(form, "pans").into_iter().map(|n| pan(&mut r, form, n)).collect(),
        currency: r.text("currency"),
        night: r.optional("night").unwrap_or(0.0),
        places: rows(form, "places").into_iter().map(|n| place(&mut r, n)).collect(),
        tub: r.optional("tub"),
        mixer_limit: r.measure::<Grams>("mixer_limit"),
        friction: rows(form, "friction").into_iter().map(|n| friction(&mut r, n)).collect(),
    };
    r.done(kitchen)
}

fn place(r: &mut Reader<'_>, n: usize) -> KitchenPlace {
    let temperature: Celsius = r.figure_of(&format!("places.{n}.temperature"));
    let by_night = r.measure::<Celsius>(&format!("places.{n}.by_night")).unwrap_or(temperature);
    KitchenPlace {
        name: r.text(&format!("places.{n}.name")).trim().to_owned(),
        temperature,
        night: (temperature - by_night).0,
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
        length: r.number(&at("length")),
        width: r.optional(&at("width")),
        base_length: r.optional(&at("base_length")),
        base_width: r.optional(&at("base_width")),
        depth: r.number(&at("depth")),
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
        per_minute: r.number(&format!("friction.{n}.per_minute")),
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
mod tests {
    use super::*;
    use cerealis_core::units::Minutes;
    use proptest::option::of;
    use proptest::prelude::*;
    use proptest::sample::select;

    /// A figure as people type it, in tenths.
    fn tenths(low: i32, high: i32) -> impl Strategy<Value = f64> {
        (10 * low..=10 * high).prop_map(|x| f64::from(x) / 10.0)
    }

    fn name() -> impl Strategy<Value = String> {
        "[A-Za-zäé“&<\"][A-Za-z0-9 äé“&<\"]{0,20}[a-z]"
    }

    fn pans() -> impl Strategy<Value = Pan> {
        let form = (
            select(&PanShape::ALL[..]),
            tenths(10, 60),
            of(tenths(3, 9)),
            of(tenths(3, 50)),
            of(tenths(3, 50)),
            tenths(1, 30),
        );
        let form = form.prop_map(|(shape, length, width, base_length, base_width, depth)| PanForm {
            shape,
            length,
            width,
            base_length,
            base_width,
            depth,
        });
        (name(), of(form), of(tenths(60, 9000)), any::<bool>(), select(&Made::ALL[..])).prop_map(
            |(name, form, ml, lid, made)| {
                let held = ml.or_else(|| form.map(|f| f.ml())).unwrap_or(800.0);
                // A figure that is just what its form holds is not typed a second time.
                let ml = form.map_or(held, |f| if (f.ml() - held).abs() < 1.0 { f.ml() } else { held });
                Pan { name, ml, form, lid, made }
            },
        )
    }

    fn readings() -> impl Strategy<Value = OvenReading> {
        let seen = prop_oneof![
            Just(Seen::Hot),
            Just(Seen::Heating),
            Just(Seen::Door),
            select(&Looks::ALL[..]).prop_map(Seen::Bread),
        ];
        (tenths(80, 300), tenths(190, 340), tenths(1, 119), tenths(50, 180), seen).prop_map(
            |(dial, read, after, fell, seen)| {
                let hot = OvenReading::hot(Celsius(dial), Celsius(read));
                match seen {
                    Seen::Hot => hot,
                    Seen::Heating => OvenReading { after: Some(Minutes(after)), ..hot },
                    Seen::Door => {
                        OvenReading { after: Some(Minutes(after)), fell_to: Some(Celsius(fell)), ..hot }
                    }
                    Seen::Bread(looks) => OvenReading::looked(Celsius(dial), looks),
                }
            },
        )
    }

    fn places() -> impl Strategy<Value = KitchenPlace> {
        (name(), 15i32..40, 0i32..12).prop_map(|(name, day, night)| KitchenPlace {
            name,
            temperature: Celsius(f64::from(day)),
            night: f64::from(night),
        })
    }

    fn kitchens() -> impl Strategy<Value = Kitchen> {
        let lists = (
            prop::collection::vec(pans(), 0..5),
            prop::collection::vec(readings(), 0..6),
            prop::collection::vec(places(), 0..5),
            prop::collection::vec((select(&Method::ALL[..]), tenths(-1, 4)), 0..4),
            prop::collection::btree_set(20u32..400, 2..=SPEEDS),
        );
        let figures = (tenths(10, 35), tenths(0, 12), of(tenths(80, 220)), of(tenths(5, 60)), any::<bool>());
        (lists, figures, select(&TemperatureUnits::ALL[..]), select(&HotSide::ALL[..])).prop_map(
            |((pans, oven_readings, places, friction, speeds), (room, night, cup, tub, fan), units, hot)| {
                Kitchen {
                    pans,
                    oven_readings,
                    places,
                    friction: friction
                        .into_iter()
                        .map(|(method, per_minute)| FrictionReading { method, per_minute })
                        .collect(),
                    mixer_speeds: speeds.into_iter().map(f64::from).collect(),
                    room: Celsius(room),
                    night,
                    measures: Measures { flour_cup: cup.map(Grams), ..Measures::default() },
                    tub,
                    oven_fan: fan,
                    units,
                    oven_hot: hot,
                    ..Kitchen::default()
                }
            },
        )
    }

    proptest! {
        /// Showing a kitchen and sending it back changes nothing, whatever is in its lists; and rows that are numbered
        /// otherwise, with gaps where some were taken away, keep their order.
        #[test]
        fn a_kitchen_sent_back_is_as_it_was(kitchen in kitchens()) {
            let form = fill(&kitchen);
            prop_assert_eq!(&read(&form).unwrap(), &kitchen);
            let mut gaps = Form::default();
            for (name, value) in form.values() {
                let mut parts: Vec<String> = name.split('.').map(str::to_owned).collect();
                if parts.len() == 3 {
                    parts[1] = (3 * parts[1].parse::<usize>().unwrap() + 1).to_string();
                }
                gaps.set(parts.join("."), value.clone());
            }
            prop_assert_eq!(&read(&gaps).unwrap(), &kitchen);
        }
    }
}
