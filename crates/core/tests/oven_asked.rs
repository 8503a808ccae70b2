//! What must hold of any bake, whatever is asked of the oven. Properties of the model, with no source
//! but where one is named.

use cerealis_core::oven::{
    BREAD, Bake, BakeInput, BakeOutput, Body, BySizeInput, HotStart, Loaf, Looks, Notations, OvenWish,
    PreheatInput, ProbeReading, Surroundings, bake, boiling_point, by_size, cool, preheat, what_now,
};
use cerealis_core::units::{Celsius, Grams, Minutes};
use cerealis_core::words::{Kind, Made, Style, Vessel};
use proptest::prelude::*;
use proptest::sample::select;
use rstest::rstest;

fn piece(grams: f64, kind: Kind, style: Style, vessel: Vessel, oven: f64) -> BakeInput {
    let json = serde_json::json!({
        "piece": grams, "kind": kind, "style": style, "proofed_volume": 2.2, "start": 25, "water": 46,
        "oven": OvenWish { temperature: Some(Celsius(oven)), ..OvenWish::on(vessel) },
    });
    serde_json::from_value(json).expect("the input is written here")
}

/// A kind with the vessel and style that it is baked in.
fn usual(kind: Kind) -> (Style, Vessel) {
    match kind {
        Kind::Tin | Kind::Swirl => (Style::Tin, Vessel::Tin),
        Kind::Spirals => (Style::Tin, Vessel::Lidded),
        Kind::Round | Kind::Batard | Kind::Baguette => (Style::Hearth, Vessel::Stone),
        Kind::Flat => (Style::Flat, Vessel::Sheet),
        Kind::Braid | Kind::RoundBraid | Kind::Ring => (Style::Braid, Vessel::Sheet),
        _ => (Style::SoftRoll, Vessel::Sheet),
    }
}

/// The minute at which the core comes to `t` °C; infinite when it never does.
fn core_at(out: &BakeOutput, t: f64) -> f64 {
    out.curve.iter().find(|m| m.core >= t).map_or(f64::INFINITY, |m| m.minutes)
}

fn loaf(radius: f64) -> Loaf {
    Loaf {
        body: Body::Sphere,
        radius,
        water: 150.0,
        solids: 180.0,
        solids_heat: 1700.0,
        start: 25.0,
        material: BREAD,
        browning: 1.0,
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(32))]

    /// A bigger piece of any shape never reaches its core sooner in the same oven.
    #[test]
    fn a_bigger_piece_of_one_shape_is_never_sooner(
        grams in 60.0..1400.0f64, kind in select(Kind::ALL.to_vec()), oven in 185.0..235.0f64,
    ) {
        let (style, vessel) = usual(kind);
        let core = |g: f64| core_at(&bake(&piece(g, kind, style, vessel, oven)).unwrap(), 85.0);
        // A quarter of a minute lies between the moments that are kept.
        prop_assert!(core(1.2 * grams) >= core(grams) - 0.25, "{} for {}", core(1.2 * grams), core(grams));
    }

    /// A lid, left on longer, never brings a colour sooner that an eye tells from pale, and no loaf under one is
    /// drier than in the open oven. Under it less evaporates, so that the skin is a little warmer and moister in the
    /// first minutes and heat goes in more easily: colour may begin a hundredth of a step of L earlier, where an eye
    /// sees whole steps, and loss be ahead by hundredths of a point, where a scale shows tenths.
    #[test]
    fn a_lid_never_browns_faster(radius in 0.03..0.09f64, oven in 190.0..260.0f64, lid in 1.0..40.0f64) {
        let loaf = loaf(radius);
        let course = |lid: f64| {
            let around = Surroundings { lid, ..Surroundings::still(oven) };
            Bake::new(&loaf, &around, 16).until(60.0, |_| false)
        };
        let courses = [course(0.0), course(lid), course(1.5 * lid)];
        for covered in &courses[1..] {
            for (c, open) in covered.iter().zip(&courses[0]) {
                prop_assert!(c.loss <= open.loss + 0.03, "{} after {} min, {} in the open", c.loss, c.minutes, open.loss);
            }
        }
        for pair in courses.windows(2) {
            for colour in [84.0, 80.0, 75.0, 70.0, 62.0, 50.0] {
                let seen = |i: usize| pair[i].iter().find(|m| m.lightness <= colour).map_or(f64::INFINITY, |m| m.minutes);
                prop_assert!(seen(1) >= seen(0), "{colour} at {} under the longer lid, {} before", seen(1), seen(0));
            }
        }
    }

    /// Foil never darkens, and steam holds the colour back.
    #[test]
    fn foil_and_steam_hold_the_colour_back(radius in 0.03..0.09f64, oven in 190.0..260.0f64, foil in 5.0..40.0f64) {
        let loaf = loaf(radius);
        let last = |around: Surroundings| *Bake::new(&loaf, &around, 16).until(50.0, |_| false).last().unwrap();
        let open = last(Surroundings::still(oven));
        let foiled = last(Surroundings { foil, ..Surroundings::still(oven) });
        let steamed = last(Surroundings { steam: 10.0, ..Surroundings::still(oven) });
        prop_assert!(foiled.lightness >= open.lightness - 1e-9);
        prop_assert!(steamed.lightness >= open.lightness - 1e-9);
    }

    /// What keeps heat from the loaf never brings its core sooner: a colder dough, a fuller oven, a
    /// slower oven, a higher place's cooler steam apart.
    #[test]
    fn what_keeps_heat_away_is_never_sooner(
        grams in 200.0..1200.0f64, start in 4.0..24.0f64, load in 1.2..6.0f64, slow in 1.2..4.0f64,
    ) {
        let plain = piece(grams, Kind::Tin, Style::Tin, Vessel::Tin, 200.0);
        let core = |i: &BakeInput| core_at(&bake(i).unwrap(), 85.0);
        let base = core(&plain);
        let colder = BakeInput { start: Celsius(start), ..plain.clone() };
        let fuller = BakeInput { load: Some(Grams(load * grams)), ..plain.clone() };
        let slower = BakeInput { recovery: Minutes(slow * plain.recovery.0), ..plain.clone() };
        for (what, i) in [("colder", colder), ("fuller", fuller), ("slower", slower)] {
            prop_assert!(core(&i) >= base - 0.25, "{what}: {} for {base}", core(&i));
        }
    }

    /// No part of the moist crumb is ever hotter than boiling water, at any altitude, nor is anything
    /// hotter than the oven; every cut runs from the core to the surface.
    #[test]
    fn the_cut_loaf_stays_within_its_oven(
        grams in 100.0..1200.0f64, altitude in 0.0..3500.0f64, kind in select(Kind::ALL.to_vec()),
    ) {
        let (style, vessel) = usual(kind);
        let i = BakeInput { altitude, ..piece(grams, kind, style, vessel, 215.0) };
        let out = bake(&i).unwrap();
        prop_assert!((out.boiling.0 - boiling_point(altitude)).abs() < 1e-9);
        prop_assert!(out.core_target.0 <= out.boiling.0 - 2.0 + 1e-9);
        for cut in &out.cuts {
            prop_assert!(cut.top[0] <= out.boiling.0 + 0.5, "a core of {}", cut.top[0]);
            for t in cut.top.iter().chain(&cut.sides).chain(&cut.base) {
                prop_assert!((20.0..=216.0).contains(t), "{t} °C at {} min", cut.minutes);
            }
            prop_assert!((cut.top[0] - cut.base[0]).abs() < 1e-9 && (cut.top[0] - cut.sides[0]).abs() < 1e-9);
        }
    }

    /// Each moment named lies within its bake, and the spread round its time.
    #[test]
    fn moments_lie_within_the_bake(
        grams in 40.0..1500.0f64, kind in select(Kind::ALL.to_vec()), hot in proptest::option::of(230.0..280.0f64),
        pot in any::<bool>(), trays in 1..3u32,
    ) {
        let (style, usual) = usual(kind);
        let vessel = if pot { Vessel::Pot } else { usual };
        let mut i = piece(grams, kind, style, vessel, 210.0);
        i.oven.hot_start = hot.map(|t| HotStart { temperature: Celsius(t), minutes: Minutes(6.0) });
        i.trays = trays;
        let out = bake(&i).unwrap();
        for m in [out.turn, out.lid_off, out.foil_on, out.core_at].into_iter().flatten() {
            prop_assert!(m.0 > 0.0 && m <= out.time, "{m:?} of {:?}", out.time);
        }
        prop_assert!(out.early <= out.time && out.time <= out.late);
        prop_assert!(out.curve.windows(2).all(|w| w[0].minutes < w[1].minutes));
        prop_assert!((out.curve.last().unwrap().minutes - out.time.0).abs() < 1e-6);
        prop_assert!(out.hot >= out.baked && out.baked.0 > 0.6 * grams);
        prop_assert!((out.hot.0 - grams * (1.0 - out.loss / 100.0)).abs() < 1e-6);
        prop_assert!(out.preheat.0 > 0.0 && out.preheat.0 % 5.0 == 0.0);
    }

    /// “What now”: a hotter core needs less time, a slow oven more, and nobody is sent away with less
    /// than none.
    #[test]
    fn what_now_falls_with_the_core(at in 10.0..40.0f64, core in 40.0..92.0f64, more in 1.0..5.0f64) {
        let out = bake(&piece(750.0, Kind::Tin, Style::Tin, Vessel::Tin, 195.0)).unwrap();
        let ask = |minutes: f64, core: f64, looks| {
            what_now(&out, &ProbeReading { minutes: Minutes(minutes), core: Celsius(core), looks }).unwrap()
        };
        let now = ask(at, core, Looks::Right);
        prop_assert!(now.more.0 >= 0.0 && now.more.0.is_finite() && !now.says.is_empty());
        prop_assert!(ask(at, core + more, Looks::Right).more <= now.more);
        prop_assert!(ask(1.3 * at, core, Looks::Right).more >= now.more);
    }

    /// A bigger loaf cools longer, and one in a warm kitchen longer than one in a cool one.
    #[test]
    fn cooling_has_its_order(grams in 80.0..900.0f64, room in 12.0..24.0f64) {
        let cools = |g: f64, room: f64| {
            let i = piece(g, Kind::Round, Style::Hearth, Vessel::Stone, 225.0);
            cool(&BakeInput { room: Celsius(room), ..i }).unwrap()
        };
        let one = cools(grams, room);
        prop_assert!(cools(1.4 * grams, room).cool >= one.cool);
        prop_assert!(cools(grams, room + 8.0).cool >= one.cool);
        prop_assert!(one.cold < one.hot && one.hot.0 < grams);
    }

    /// A setting comes back from every notation to within what a dial is set to.
    #[test]
    fn notations_go_together(t in 110.0..290.0f64) {
        let (still, fan) = (Notations::of(Celsius(t), false), Notations::of(Celsius(t - 20.0), true));
        prop_assert_eq!(&still, &fan);
        prop_assert!((still.still.0 - t).abs() <= 2.5 + 1e-9);
        prop_assert!((still.fahrenheit - (t * 1.8 + 32.0)).abs() <= 2.5 + 1e-9);
    }

    /// What was typed in °F is what is shown: no figure goes through rounded °C.
    #[test]
    fn degrees_fahrenheit_stay_what_they_were(fives in 50u32..112) {
        let f = 5.0 * f64::from(fives);
        prop_assert_eq!(Notations::of(Celsius::from_fahrenheit(f), false).fahrenheit, f);
    }

    /// An oven on its way up never falls, its stone is never ahead of it, and both end where they should.
    #[test]
    fn heating_rises(to in 120.0..280.0f64, to_200 in 6.0..40.0f64, vessel in select(Vessel::ALL.to_vec())) {
        let input = PreheatInput { to: Celsius(to), to_200: Minutes(to_200), room: Celsius(20.0), vessel };
        let out = preheat(&input).unwrap();
        prop_assert!(out.curve.windows(2).all(|w| w[1].0 >= w[0].0 && w[1].1 >= w[0].1));
        prop_assert!(out.curve.iter().all(|(air, stone)| *stone <= air + 1e-9 && *air <= to + 1e-9));
        prop_assert!(out.time >= out.air);
        prop_assert!(out.curve.last().unwrap().0 >= to - 1.0);
    }
}

/// What a tin is made of moves heat in the order in which bakers name it: dark before bright before
/// glass before silicone (common practice, no source).
#[test]
fn what_a_tin_is_made_of_has_its_order() {
    let core = |made: Made| {
        let i = piece(750.0, Kind::Tin, Style::Tin, Vessel::Tin, 195.0);
        core_at(&bake(&BakeInput { oven: OvenWish { made, ..i.oven }, ..i }).unwrap(), 85.0)
    };
    let all = [Made::Dark, Made::Bright, Made::Glass, Made::Silicone].map(core);
    assert!(all.windows(2).all(|w| w[0] <= w[1]), "{all:?}");
    assert_eq!(core(Made::NonStick), core(Made::Dark));
}

/// Every size of every dough: a bigger piece of the same shape never takes less time but for the five
/// degrees that an oven is set to.
#[rstest]
#[case(Kind::Tin)]
#[case(Kind::Round)]
#[case(Kind::Braid)]
#[case(Kind::Bun)]
fn sizes_are_in_order(#[case] kind: Kind) {
    let (style, vessel) = usual(kind);
    let mut bake = piece(500.0, kind, style, vessel, 200.0);
    bake.oven.temperature = None;
    let sizes = [40.0, 70.0, 110.0, 130.0, 260.0, 500.0, 800.0, 1200.0].map(Grams).to_vec();
    let rows = by_size(&BySizeInput { bake, sizes }).unwrap();
    for w in rows.windows(2).filter(|w| w[0].kind == w[1].kind) {
        assert!(w[1].time.0 >= 0.95 * w[0].time.0 - 0.5, "{kind:?}: {w:?}");
    }
}

/// What is asked in disorder is refused by the path of its figure.
#[test]
fn disorder_is_refused_by_its_path() {
    let good = piece(500.0, Kind::Round, Style::Hearth, Vessel::Stone, 220.0);
    let paths = |i: BakeInput| bake(&i).unwrap_err().0.into_iter().map(|f| f.path).collect::<Vec<_>>();
    assert_eq!(paths(BakeInput { proofed_volume: 9.0, ..good.clone() }), ["proofed_volume"]);
    assert_eq!(paths(BakeInput { trays: 0, ..good.clone() }), ["trays"]);
    assert_eq!(paths(BakeInput { load: Some(Grams(1e6)), ..good.clone() }), ["load"]);
    assert_eq!(paths(BakeInput { recovery: Minutes(0.0), ..good.clone() }), ["recovery"]);
    assert_eq!(paths(BakeInput { hottest: Celsius(20.0), ..good.clone() }), ["hottest"]);
    assert_eq!(paths(BakeInput { start: Celsius(f64::NAN), ..good.clone() }), ["start"]);
    let hot = Some(HotStart { temperature: Celsius(400.0), minutes: Minutes(0.0) });
    let oven = OvenWish { hot_start: hot, ..good.oven };
    assert_eq!(
        paths(BakeInput { oven, ..good.clone() }),
        ["oven.hot_start.temperature", "oven.hot_start.minutes"]
    );
    let none = BySizeInput { bake: good.clone(), sizes: Vec::new() };
    assert_eq!(by_size(&none).unwrap_err().0[0].path, "sizes");
    let out = bake(&good).unwrap();
    let early = ProbeReading { minutes: Minutes(0.0), core: Celsius(300.0), looks: Looks::Pale };
    let paths: Vec<_> = what_now(&out, &early).unwrap_err().0.into_iter().map(|f| f.path).collect();
    assert_eq!(paths, ["minutes", "core"]);
}
