//! A kitchen sent back is as it was.

use super::*;
use jiff::civil::time;
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
            let ml = ml.or_else(|| form.map(|f| f.ml())).unwrap_or(800.0);
            Pan { name, ml, form, lid, made, count: lid.then_some(2) }
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
        tubs: (night > 2).then_some(3),
        measured: (day > 30).then_some(Celsius(f64::from(day) - 1.5)),
    })
}

fn further() -> impl Strategy<Value = (Vec<FurtherOven>, Vec<FurtherMixer>, Hours)> {
    let oven = (name(), tenths(-20, 20), select(&Marks::ALL[..]), 1u32..4, readings()).prop_map(
        |(name, offset, marks, levels, reading)| FurtherOven {
            name,
            offset,
            marks,
            levels,
            readings: vec![reading],
            ..FurtherOven::default()
        },
    );
    let mixer =
        (name(), tenths(100, 3000), tenths(0, 3)).prop_map(|(name, limit, per_minute)| FurtherMixer {
            name,
            speeds: vec![50.0, 90.5],
            limit: Some(Grams(limit)),
            friction: vec![FrictionReading { method: Method::Mixer, per_minute }],
        });
    let clock = || (0i8..24, 0i8..12).prop_map(|(h, m)| time(h, 5 * m, 0, 0));
    let night = (select(&Weekday::ALL[..]), clock(), clock()).prop_map(|(evening, from, to)| Night {
        evening,
        from,
        to,
    });
    let away = (name(), prop::sample::subsequence(Weekday::ALL.to_vec(), 1..7), clock(), clock(), 0i32..60)
        .prop_map(|(name, days, from, to, spares)| Away {
            name,
            days,
            from,
            to,
            spares: Minutes(f64::from(spares)),
        });
    let helper = (name(), prop::sample::subsequence(Weekday::ALL.to_vec(), 1..7), clock(), clock())
        .prop_map(|(name, days, from, to)| Helper { name, days, from, to });
    let rows = (prop::collection::vec(away, 0..3), prop::collection::vec(helper, 0..3));
    let hours = (clock(), clock(), prop::option::of(night), rows).prop_map(
        |(sleep_from, sleep_to, night, (away, helpers))| Hours {
            sleep_from,
            sleep_to,
            nights: night.into_iter().collect(),
            away,
            helpers,
            ..Kitchen::default().hours()
        },
    );
    (prop::collection::vec(oven, 0..2), prop::collection::vec(mixer, 0..2), hours)
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
    let notation = (
        select(&Temperatures::ALL[..]),
        select(&Weights::ALL[..]),
        select(&Lengths::ALL[..]),
        select(&ClockFace::ALL[..]),
    );
    (lists, figures, notation, further(), select(&HotSide::ALL[..])).prop_map(
        |(
            (pans, oven_readings, places, friction, speeds),
            (room, night, cup, tub, fan),
            (units, weights, lengths, clock),
            (ovens, mixers, hours),
            hot,
        )| {
            let as_many = places.len();
            Kitchen {
                weights,
                lengths,
                clock,
                ovens,
                mixers,
                sleep_from: hours.sleep_from,
                sleep_to: hours.sleep_to,
                nights: hours.nights,
                away: hours.away,
                culture_feeds: hours.helpers.len() as u32,
                helpers: hours.helpers,
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
                instruments: (0..as_many)
                    .map(|n| Instrument {
                        kind: InstrumentKind::ALL[n % 3],
                        address: format!("127.0.0.{n}:876{n}"),
                    })
                    .collect(),
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
