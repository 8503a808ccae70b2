//! What is read from a form that a wish has filled is that wish, whatever it wishes.

use cerealis_core::day::{Anchor, DayWish};
use cerealis_core::finish::{FinishWish, Score};
use cerealis_core::formula::MakeUp;
use cerealis_core::mix::MixWish;
use cerealis_core::oven::{HotStart, OvenWish};
use cerealis_core::range::Range;
use cerealis_core::rise::{
    KNEADS, LEG, LEG_PLACE, Leg, Liveliness, NIGHT, PLACE, RIM, RiseWish, RisesWish, STAYS, TARGET,
};
use cerealis_core::shape::{Hand, ON_SCALE, PIECE, ROLLED, STRAND_LENGTH, ShapeWish, TIN, TIN_DEPTH};
use cerealis_core::units::{Celsius, Grams, Hours, Minutes};
use cerealis_core::words::{Handling, Kind, Made, Method, SaltSchool, Stands, Style, Vessel, WaterSchool};
use cerealis_core::{mix, oven};
use cerealis_web::form::{Fields, Form, Reader, fill, fill_under, read, read_under};
use proptest::option::of;
use proptest::prelude::*;
use proptest::sample::select;

fn read_back<W: Fields + Clone>(wish: &W, blank: W) -> W {
    let mut form = Form::default();
    fill(&mut form, wish);
    let mut r = Reader::new(&form);
    let back = read(&mut r, blank);
    r.done(back).unwrap()
}

/// Any figure of a range, to whatever digit, and those that people type.
fn any_of(range: Range) -> impl Strategy<Value = f64> {
    let whole = (range.low.ceil() as i64..=range.high.floor() as i64).prop_map(|n| n as f64);
    prop_oneof![range.low..=range.high, whole, Just(range.low), Just(range.high)]
}

fn mixes() -> impl Strategy<Value = MixWish> {
    let warm = |r: Range| of(any_of(r).prop_map(Celsius));
    let figures = (
        any_of(mix::DESIRED),
        any_of(mix::AUTOLYSE),
        warm(mix::FLOUR),
        warm(mix::ROOM),
        warm(mix::PREFERMENT),
    );
    let schools = (select(&Method::ALL[..]), select(&WaterSchool::ALL[..]), select(&SaltSchool::ALL[..]));
    let own = (
        of(any_of(mix::BLOOM).prop_map(Minutes)),
        of(any_of(mix::KNEAD).prop_map(Minutes)),
        of(1u32..9),
        of(any_of(mix::FOLDS_EVERY).prop_map(Minutes)),
        of(1u32..=20),
        of(any_of(mix::BUTTER).prop_map(Minutes)),
        of(any_of(mix::SLOW).prop_map(Minutes)),
        of(1u32..=8),
    );
    (figures, schools, of(any_of(mix::FRICTION)), own).prop_map(|(f, s, friction, own)| MixWish {
        method: s.0,
        desired: Celsius(f.0),
        autolyse: Minutes(f.1),
        flour: f.2,
        room: f.3,
        preferment: f.4,
        friction,
        bloom: own.0,
        slow: own.6,
        knead: own.1,
        speed: own.7,
        folds: own.2,
        folds_every: own.3,
        butter_portions: own.4,
        butter: own.5,
        school: s.1,
        salt: s.2,
    })
}

fn rise() -> impl Strategy<Value = RiseWish> {
    let leg = (any_of(LEG), any_of(LEG_PLACE)).prop_map(|(h, t)| Leg { hours: Hours(h), place: Celsius(t) });
    let legs = prop::collection::vec(leg, 0..=3);
    let figures = (
        of(any_of(PLACE).prop_map(Celsius)),
        any_of(TARGET),
        of(any_of(STAYS).prop_map(Hours)),
        any_of(NIGHT),
    );
    (legs, figures, select(&Stands::ALL[..])).prop_map(|(legs, (place, target, stays, night), stands)| {
        RiseWish { legs, place, target, stays, stands, night }
    })
}

fn rises() -> impl Strategy<Value = RisesWish> {
    let handling = || select(&Handling::ALL[..]);
    let more =
        (of(any_of(KNEADS).prop_map(Minutes)), of(any_of(RIM)), any::<bool>(), select(&Liveliness::ALL[..]));
    (rise(), rise(), handling(), rise(), handling(), of(any_of(PLACE).prop_map(Celsius)), more).prop_map(
        |(bulk, second, between, proof, handling, levain_place, (kneads, rim, uncovered, leaven))| {
            RisesWish { bulk, second, between, proof, handling, kneads, rim, uncovered, leaven, levain_place }
        },
    )
}

fn shapes() -> impl Strategy<Value = ShapeWish> {
    let grams = |r: Range| of(any_of(r).prop_map(Grams));
    let counts = (1u32..=200, 1u32..=8);
    (
        (select(&Kind::ALL[..]), (select(&Hand::ALL[..]), any::<bool>()), counts),
        (grams(PIECE), grams(ON_SCALE), of(any_of(ROLLED))),
        of("[A-Za-z0-9 äé“”&<]{0,20}[a-z]"),
        (of(1u32..=60), of(any_of(TIN)), of(any_of(TIN)), of(any_of(TIN_DEPTH)), of(any_of(STRAND_LENGTH))),
    )
        .prop_map(
            |((kind, (hand, crossed), (pieces, strands)), (piece_weight, on_scale, rolled), pan, lies)| {
                ShapeWish {
                    kind,
                    pieces,
                    piece_weight,
                    strands,
                    strand_length: lies.4,
                    crossed,
                    hand,
                    pan: pan.map(|p| p.trim().to_owned()),
                    together: lies.0,
                    tin_length: lies.1,
                    tin_width: lies.2,
                    tin_depth: lies.3,
                    on_scale,
                    rolled,
                }
            },
        )
}

fn ovens() -> impl Strategy<Value = OvenWish> {
    let hot = (any_of(oven::HOT_START), any_of(oven::HOT_START_MINUTES))
        .prop_map(|(t, m)| HotStart { temperature: Celsius(t), minutes: Minutes(m) });
    let minutes = |r: Range| of(any_of(r).prop_map(Minutes));
    (
        (select(&Vessel::ALL[..]), select(&Made::ALL[..])),
        (any::<bool>(), any::<bool>()),
        of(any_of(oven::DIAL).prop_map(Celsius)),
        of(hot),
        (minutes(oven::COVERED), minutes(oven::COVERED), minutes(oven::COVERED), minutes(oven::BAKES_FOR)),
        (
            minutes(oven::AJAR),
            minutes(oven::COOLS_IN),
            minutes(oven::COOLS),
            of(any_of(oven::HOT_START).prop_map(Celsius)),
        ),
    )
        .prop_map(|((vessel, made), (steam, parchment), temperature, hot_start, covers, after)| {
            OvenWish {
                vessel,
                steam,
                temperature,
                hot_start,
                heated_to: after.3,
                covered: covers.0,
                foiled: covers.1,
                foil_after: covers.2,
                minutes: covers.3,
                ajar: after.0,
                cools_in: after.1,
                cool: after.2,
                made,
                parchment,
            }
        })
}

proptest! {
    #[test]
    fn a_mix(wish in mixes()) {
        prop_assert_eq!(read_back(&wish, cerealis_core::formula::Formula::beginning("", Style::Tin).mix), wish);
    }

    #[test]
    fn rises_and_their_stays(wish in rises()) {
        let blank = cerealis_core::formula::Formula::beginning("", Style::Hearth).rise;
        prop_assert_eq!(read_back(&wish, blank), wish);
    }

    #[test]
    fn a_shape(wish in shapes()) {
        prop_assert_eq!(read_back(&wish, ShapeWish::of(Kind::Round, 1)), wish);
    }

    #[test]
    fn a_finish(score in of(select(&Score::ALL[..])), piped in any::<bool>(), basted in any::<bool>()) {
        let wish = FinishWish { score, piped, basted };
        let other = FinishWish { score: Some(Score::Cross), piped: true, basted: true };
        prop_assert_eq!(read_back(&wish, other), wish);
    }

    #[test]
    fn an_oven(wish in ovens()) {
        prop_assert_eq!(read_back(&wish, OvenWish::on(Vessel::Sheet)), wish);
    }

    /// A further make-up has all that the main pieces have, under its own name.
    #[test]
    fn a_makeup(shape in shapes(), vessel in select(&Vessel::ALL[..]), score in of(select(&Score::ALL[..])),
        piped in any::<bool>(), row in 0usize..4) {
        let wish = MakeUp { shape, finish: FinishWish { score, piped, basted: !piped }, vessel };
        let mut form = Form::default();
        fill_under(&mut form, format!("makeups.{row}."), &wish);
        let own = format!("makeups.{row}.");
        let strangers = form.values().keys().filter(|name| !name.starts_with(&own)).count();
        prop_assert_eq!(strangers, 0);
        let mut r = Reader::new(&form);
        let blank = MakeUp::of(Kind::Roll, 3, Grams(50.0), Vessel::Stone);
        let back = read_under(&mut r, format!("makeups.{row}."), blank);
        prop_assert_eq!(r.done(back).unwrap(), wish);
    }

    #[test]
    fn a_day(day in 1..=28i8, hour in 0..=23i8, minute in 0..=59i8, anchor in select(&Anchor::ALL[..])) {
        let at = Some(jiff::civil::date(2026, 3, day).at(hour, minute, 0, 0));
        let wish = DayWish { anchor, at };
        prop_assert_eq!(read_back(&wish, DayWish { anchor: Anchor::Now, at: None }), wish);
    }
}
