//! How the stations hang together: what one wish does to all the others.

use cerealis_core::day::{Anchor, DayWish, StepKind};
use cerealis_core::fault::Faults;
use cerealis_core::formula::{Formula, Line, MakeUp, figures};
use cerealis_core::kitchen::Kitchen;
use cerealis_core::oven::{HotSide, HotStart};
use cerealis_core::pantry::Catalogue;
use cerealis_core::shape::{Pan, PanForm, PanShape, ShapeWish};
use cerealis_core::stations::{Stations, read};
use cerealis_core::units::{Celsius, Grams, Minutes};
use cerealis_core::words::{Kind, Made, Method, SaltSchool, Stage, Style, Vessel};
use proptest::prelude::*;
use rstest::rstest;

fn try_read(f: &Formula, k: &Kitchen) -> Result<Stations, Faults> {
    read(f, k, Catalogue::bundled(), "2026-11-21T08:00:00Z".parse().unwrap())
}

fn stations(f: &Formula, k: &Kitchen) -> Stations {
    try_read(f, k).unwrap_or_else(|e| panic!("{}: {e}", f.name))
}

fn loaf(style: Style) -> Formula {
    Formula::beginning("Test", style)
}

fn add(f: &mut Formula, stage: Stage, key: &str, grams: f64) {
    f.lines.push(Line::new(key, stage, Grams(grams)));
}

fn kitchen() -> Kitchen {
    Kitchen::default()
}

/// A dough of milk has its milk warmed, from the fridge's temperature.
#[test]
fn milk_stands_in_for_water() {
    let s = stations(&loaf(Style::SoftRoll), &kitchen());
    assert_eq!(s.liquid.name, "whole milk");
    assert_eq!(s.liquid.comes_at, kitchen().fridge);
    let s = stations(&loaf(Style::Tin), &kitchen());
    assert_eq!((s.liquid.name.as_str(), s.liquid.comes_at), ("water", kitchen().tap));
}

/// Where water is a small part, both are free, and come at their common temperature.
#[test]
fn a_little_water_and_much_milk_are_one_liquid() {
    let mut f = loaf(Style::SoftRoll);
    add(&mut f, Stage::Dough, "water", 50.0);
    let s = stations(&f, &kitchen());
    assert_eq!(s.liquid.name, "liquid");
    assert_eq!(s.liquid.grams, Grams(350.0));
    let between = (300.0 * kitchen().fridge.0 + 50.0 * kitchen().tap.0) / 350.0;
    assert!((s.liquid.comes_at.0 - between).abs() < 1e-9);
}

/// The factor rule counts a preferment as a fourth temperature.
#[test]
fn a_preferment_is_a_fourth_temperature() {
    let mut f = loaf(Style::Tin);
    assert_eq!(stations(&f, &kitchen()).water.factor_n, 3.0);
    add(&mut f, Stage::Preferment, "bread-flour", 100.0);
    add(&mut f, Stage::Preferment, "water", 100.0);
    add(&mut f, Stage::Preferment, "culture-100", 20.0);
    let s = stations(&f, &kitchen());
    assert_eq!(s.water.factor_n, 4.0);
    assert!(s.ahead[0].ripening.as_ref().is_some_and(|l| l.ripens));
}

/// A night in a preferment multiplies its yeast, so the dough rises sooner than its yeast alone says.
#[test]
fn a_poolish_brings_more_yeast_than_went_in() {
    let mut straight = loaf(Style::Tin);
    straight.lines.retain(|l| l.ingredient != "instant-yeast");
    let mut poolish = straight.clone();
    add(&mut straight, Stage::Dough, "instant-yeast", 0.5);
    for (key, grams) in [("bread-flour", 150.0), ("water", 150.0), ("instant-yeast", 0.5)] {
        add(&mut poolish, Stage::Preferment, key, grams);
    }
    let (a, b) = (stations(&straight, &kitchen()), stations(&poolish, &kitchen()));
    assert!(b.ahead[0].ripening.as_ref().unwrap().yeast_growth > 1.2, "{:?}", b.ahead);
    let percent = |s: &Stations| s.figures.instant_yeast.0;
    assert!(percent(&b) < percent(&a), "it is spread over more flour");
    assert!(b.rise.bulk.unwrap().time < a.rise.bulk.unwrap().time);
}

/// A hot day, entered at Mix, is the place of a rise that has none of its own.
#[test]
fn the_room_of_the_day_reaches_the_rise() {
    let mut f = loaf(Style::Tin);
    let usual = stations(&f, &kitchen());
    f.mix.room = Some(Celsius(29.0));
    let hot = stations(&f, &kitchen());
    assert!(hot.rise.bulk.as_ref().unwrap().time < usual.rise.bulk.as_ref().unwrap().time);
    assert!(hot.water.balance.water < usual.water.balance.water);
    f.rise.bulk.place = Some(Celsius(21.0));
    let shaded = stations(&f, &kitchen());
    assert!(shaded.rise.bulk.unwrap().time > hot.rise.bulk.unwrap().time);
}

/// An oven that runs cool is set hotter, to five degrees; what is in it stays the same.
#[test]
fn the_dial_is_corrected_for_the_oven() {
    let cool = Kitchen { oven_offset: -12.0, ..kitchen() };
    let (a, b) = (stations(&loaf(Style::Tin), &kitchen()).bake, stations(&loaf(Style::Tin), &cool).bake);
    assert_eq!(a.temperature, b.temperature);
    assert_eq!(a.dial, a.temperature);
    assert_eq!(b.dial.0 - a.dial.0, 10.0, "twelve, to the nearest five");
}

/// With the fan on it is at least as fast at one temperature.
#[test]
fn a_fan_is_never_slower_to_the_core() {
    let mut f = loaf(Style::Tin);
    f.oven.temperature = Some(Celsius(190.0));
    let fan = Kitchen { oven_fan: true, ..kitchen() };
    let core = |k: &Kitchen| {
        stations(&f, k).bake.curve.iter().find(|m| m.core >= 90.0).map_or(f64::INFINITY, |m| m.minutes)
    };
    assert!(core(&fan) <= core(&kitchen()));
}

#[test]
fn a_mountain_kitchen_has_a_cooler_core() {
    let high = Kitchen { altitude: 2200.0, ..kitchen() };
    let s = stations(&loaf(Style::Hearth), &high);
    assert!(s.bake.boiling.0 < 93.5 && s.bake.core_target.0 <= s.bake.boiling.0 - 2.0 + 1e-9);
}

#[rstest]
#[case(Style::Hearth, "hot as the oven")]
#[case(Style::SoftRoll, "between 4 and 60")]
#[case(Style::Braid, "between 4 and 60")]
#[case(Style::GlutenFree, "coeliac")]
#[case(Style::Tin, "Raw flour")]
fn cautions_apply_where_they_should(#[case] style: Style, #[case] words: &str) {
    let s = stations(&loaf(style), &kitchen());
    assert!(s.cautions.iter().any(|c| c.contains(words)), "{:?}", s.cautions);
    let coeliac = s.cautions.iter().any(|c| c.contains("coeliac"));
    assert_eq!(coeliac, style == Style::GlutenFree, "{:?}", s.cautions);
}

/// The oven is on in time, the pot's lid comes off during the bake.
#[test]
fn the_oven_is_hot_when_the_dough_is_ready() {
    let s = stations(&loaf(Style::Hearth), &kitchen());
    let step = |title: &str| {
        s.day.steps.iter().find(|c| c.step.title == title).unwrap_or_else(|| panic!("no {title}"))
    };
    let (on, bake, lid) = (step("Oven on"), step("Bake"), step("Lid off"));
    assert!(bake.step.start.0 - on.step.start.0 >= s.bake.preheat.0);
    assert!(lid.step.start > bake.step.start && lid.step.end() <= bake.step.end());
    assert!(on.step.detail.contains("pot"));
}

/// Folds are steps of the bulk rise.
#[test]
fn folds_fall_into_the_bulk_rise() {
    let s = stations(&loaf(Style::Flat), &kitchen());
    let bulk = s.day.steps.iter().find(|c| c.step.kind == StepKind::Bulk).unwrap();
    let folds: Vec<_> = s.day.steps.iter().filter(|c| c.step.kind == StepKind::Fold).collect();
    assert!(!folds.is_empty());
    for f in folds {
        assert!(f.step.start > bulk.step.start && f.step.end() <= bulk.step.end(), "{f:?}");
    }
}

#[test]
fn more_pieces_take_the_hands_longer() {
    let mut f = loaf(Style::SoftRoll);
    let few = stations(&f, &kitchen()).day.hands_on;
    f.shape.pieces = 28;
    assert!(stations(&f, &kitchen()).day.hands_on > few);
}

/// What an engine cannot take is told at the lines, with the station's name.
#[rstest]
#[case::no_water(|f: &mut Formula| f.lines.retain(|l| l.ingredient != "water"), "hardly any water")]
#[case::too_heavy_a_piece(|f: &mut Formula| f.lines.iter_mut().for_each(|l| l.grams = l.grams * 20.0), "At oven")]
#[case::a_thimble(|f: &mut Formula| f.lines.iter_mut().for_each(|l| l.grams = l.grams * 0.01), "under 20 g")]
#[case::a_levain_without_flour(
    |f: &mut Formula| add(f, Stage::Preferment, "water", 100.0),
    "no flour"
)]
fn what_cannot_be_is_said_at_the_lines(#[case] spoil: fn(&mut Formula), #[case] words: &str) {
    let mut f = loaf(Style::Tin);
    spoil(&mut f);
    let faults = try_read(&f, &kitchen()).unwrap_err().0;
    assert!(faults.iter().all(|f| f.path == "lines"), "{faults:?}");
    assert!(faults.iter().any(|f| f.message.contains(words)), "{faults:?}");
}

#[test]
fn a_kitchen_in_disorder_is_refused() {
    let k = Kitchen { time_zone: "Mill/Pond".into(), ..kitchen() };
    assert_eq!(try_read(&loaf(Style::Tin), &k).unwrap_err().0[0].path, "time_zone");
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// Whatever is wished for, the day is whole: steps in line follow without a gap, one pair of
    /// hands never has two of them, and ready lies within its spread.
    #[test]
    fn every_day_is_whole(
        style in prop::sample::select(Style::ALL.to_vec()),
        method in prop::sample::select(Method::ALL.to_vec()),
        vessel in prop::sample::select(Vessel::ALL.to_vec()),
        kind in prop::sample::select(Kind::ALL.to_vec()),
        pieces in 1u32..30,
        desired in 18.0..30.0f64,
        room in 14.0..30.0f64,
        autolyse in 0.0..60.0f64,
        anchor in prop::sample::select(Anchor::ALL.to_vec()),
    ) {
        let mut f = loaf(style);
        f.mix.method = method;
        f.mix.desired = Celsius(desired);
        f.mix.room = Some(Celsius(room));
        f.mix.autolyse.0 = autolyse.round();
        f.oven.vessel = vessel;
        f.shape.kind = kind;
        f.shape.pieces = pieces;
        f.day = DayWish { anchor, at: Some("2031-03-30T12:00:00".parse().unwrap()) };
        let s = stations(&f, &Kitchen { time_zone: "Europe/Paris".into(), ..kitchen() });
        let steps: Vec<_> = s.day.steps.iter().map(|c| &c.step).collect();
        // From the first touch on somebody is at it, or something waits.
        let mut covered = 0.0f64;
        for s in &steps {
            prop_assert!(s.start.0 <= covered + 1e-6, "nothing before {s:?}");
            covered = covered.max(s.end().0);
        }
        let hands: Vec<_> = steps.iter().filter(|s| s.hands_on).collect();
        for w in hands.windows(2) {
            prop_assert!(w[0].end().0 <= w[1].start.0 + 1e-6, "{:?} and {:?}", w[0], w[1]);
        }
        prop_assert!(s.day.ready_early <= s.day.ready && s.day.ready <= s.day.ready_late);
        prop_assert!(s.day.hands_on <= s.day.length);
        for c in s.course() {
            prop_assert!(c.volume.is_finite() && c.volume >= 1.0 && c.temperature.is_finite());
        }
    }

    /// A warmer dough is never ready later, below the yeast's optimum.
    #[test]
    fn a_warmer_dough_is_never_later(desired in 18.0..30.0f64, style in prop::sample::select(vec![Style::Tin, Style::Hearth, Style::SoftRoll])) {
        let at = |t: f64| {
            let mut f = loaf(style);
            f.mix.desired = Celsius(t);
            let rise = stations(&f, &kitchen()).rise;
            rise.bulk.unwrap().time.0 + rise.proof.unwrap().time.0
        };
        prop_assert!(at(desired + 1.0) <= at(desired) + 1e-6);
    }
}

/// Dough lost in the bowl: the pieces are of what the scale shows, and bake a little sooner.
#[test]
fn the_dough_on_the_scale_is_divided() {
    let mut f = loaf(Style::SoftRoll);
    let whole = stations(&f, &kitchen());
    f.shape.on_scale = Some(whole.figures.dough * 0.9);
    let less = stations(&f, &kitchen());
    assert!((less.shape.piece.0 - 0.9 * whole.shape.piece.0).abs() < 1e-9);
    assert!(less.bake.core_at.unwrap() <= whole.bake.core_at.unwrap());
    assert_eq!(less.work.divide.piece, less.shape.piece);
}

/// A pan of the kitchen that is picked: how the dough stands in it, and what it is made of.
#[test]
fn a_picked_pan_reaches_shape_and_oven() {
    let form = PanForm {
        shape: PanShape::Tin,
        length: 23.0,
        width: Some(12.0),
        base_length: Some(21.0),
        base_width: Some(10.0),
        depth: 8.0,
    };
    let dark = Pan { form: Some(form), made: Made::Dark, ..Pan::of_ml("Dark tin", form.ml()) };
    let large = Pan { lid: true, ..Pan::of_ml("Large tin", 2400.0) };
    let k = Kitchen { pans: vec![dark, large, Pan::of_ml("Small tin", 500.0)], ..kitchen() };
    let mut f = loaf(Style::Tin);
    f.shape.pan = Some("Small tin".into());
    let s = stations(&f, &k);
    let pan = s.work.pan.unwrap();
    assert!(pan.fit.over.0 > 0.0 && !pan.measured && pan.fit.says.contains("Too much"));
    assert!(pan.fits_also.iter().all(|p| p != "Small tin"));
    f.shape.pan = Some("Dark tin".into());
    let dark = stations(&f, &k);
    assert_eq!(dark.bake_input.oven.made, Made::Dark);
    assert!(dark.work.pan.unwrap().measured && dark.work.tray.is_none());
    f.shape.pan = Some("A pan that was given away".into());
    assert_eq!(stations(&f, &k).work.pan, None);
}

/// Many rolls need a second tray: it is said, it takes longer, and they are turned about.
#[test]
fn two_trays_are_changed_about() {
    let mut f = loaf(Style::SoftRoll);
    f.shape.kind = Kind::Bun;
    f.shape.pieces = 6;
    f.shape.on_scale = Some(Grams(540.0));
    let one = stations(&f, &kitchen());
    let small = Kitchen { tray: (32.0, 24.0), ..kitchen() };
    let two = stations(&f, &small);
    assert_eq!((one.work.tray.unwrap().layout.trays, two.work.tray.as_ref().unwrap().layout.trays), (1, 2));
    assert!(two.bake.time >= one.bake.time);
    let turned = |s: &Stations| s.day.steps.iter().any(|c| c.step.title == "Turn it round");
    assert!(turned(&two) && two.bake.turn.is_some());
    let hot = Kitchen { oven_hot: HotSide::Left, ..kitchen() };
    assert!(stations(&loaf(Style::Tin), &hot).bake.turn.is_some());
    assert!(stations(&loaf(Style::Tin), &kitchen()).bake.turn.is_none());
}

/// The finish stands on the day at its times: washes before the oven, butter after it.
#[test]
fn the_finish_is_on_the_day() {
    let mut f = loaf(Style::SoftRoll);
    add(&mut f, Stage::Wash, "egg", 20.0);
    add(&mut f, Stage::Topping, "poppy-seeds", 8.0);
    add(&mut f, Stage::Glaze, "butter", 15.0);
    let s = stations(&f, &kitchen());
    let at =
        |title: &str| s.day.steps.iter().find(|c| c.step.title == title).map(|c| c.step.start.0).unwrap();
    assert!(at("Wash") < at("Scatter") && at("Scatter") < at("Into the oven"));
    assert!(at("Out of the oven") < at("Brush"));
    f.oven.hot_start = Some(HotStart { temperature: Celsius(230.0), minutes: Minutes(5.0) });
    let s = stations(&f, &kitchen());
    assert!(s.day.steps.iter().any(|c| c.step.title == "Turn the oven down"));
}

/// A third of the dough as buns: the pieces add up, and small pieces bake shorter.
#[test]
fn one_dough_into_two_make_ups() {
    let mut f = Formula::beginning("Two ways", Style::Tin);
    let dough = figures(&f, Catalogue::bundled()).dough.0;
    f.makeups = vec![MakeUp::of(Kind::Bun, 4, Grams(70.0), Vessel::Sheet)];
    let now = "2026-03-07T08:00:00Z".parse().unwrap();
    let s = read(&f, &Kitchen::default(), Catalogue::bundled(), now).unwrap();
    assert!((s.shape.used.0 + s.makeups[0].shape.used.0 - dough).abs() < 1e-6);
    assert!((8.0..=20.0).contains(&s.makeups[0].bake.time.0), "{:?}", s.makeups[0].bake.time);
    assert!(s.makeups[0].bake.time.0 < s.bake.time.0);
    f.makeups[0].shape.pieces = 100;
    assert_eq!(read(&f, &Kitchen::default(), Catalogue::bundled(), now).unwrap_err().0[0].path, "makeups");
}

/// A levain in two builds begins earlier and says what to feed; a poolish beside it is ready at
/// the same time.
#[test]
fn what_is_made_ahead_is_ready_together() {
    let mut f = Formula::beginning("Ahead", Style::Hearth);
    f.lines.retain(|l| l.ingredient != "instant-yeast");
    for (key, stage, g) in [
        ("bread-flour", Stage::Preferment, 60.0),
        ("water", Stage::Preferment, 60.0),
        ("culture-100", Stage::Preferment, 20.0),
        ("bread-flour", Stage::Poolish, 50.0),
        ("water", Stage::Poolish, 50.0),
        ("instant-yeast", Stage::Poolish, 0.5),
        ("linseed", Stage::Soaker, 30.0),
        ("water", Stage::Soaker, 40.0),
    ] {
        f.lines.push(Line::new(key, stage, Grams(g)));
    }
    f.levain.builds = 2;
    let now = "2026-03-07T08:00:00Z".parse().unwrap();
    let s = read(&f, &Kitchen::default(), Catalogue::bundled(), now).unwrap();
    assert_eq!(s.ahead.len(), 3);
    let at = |title: &str| s.day.steps.iter().find(|c| c.step.title == title).unwrap().step.start.0;
    let weigh = at("Weigh out");
    for a in &s.ahead {
        let set = at(&format!("Set the {}", a.stage.name().to_lowercase()));
        // One pair of hands sets one after the other: they may begin some minutes early.
        assert!(((set + 5.0 + a.time.0) - weigh).abs() < 15.5, "{:?} {set} {weigh}", a.stage);
    }
    assert!(at("Feed, build 1 of 2") < at("Set the levain"));
}

/// A night that cools the room makes a dough that stands overnight take longer, and one that is
/// done by the afternoon hardly at all.
#[test]
fn a_cool_night_is_felt_where_it_falls() {
    let mut slow = loaf(Style::NoKnead);
    slow.day = DayWish { anchor: Anchor::Start, at: Some("2026-11-21T20:00".parse().unwrap()) };
    let cold = Kitchen { night: 6.0, ..kitchen() };
    let bulk = |f: &Formula, k: &Kitchen| stations(f, k).rise.bulk.unwrap().time.0;
    assert!(bulk(&slow, &cold) > 1.1 * bulk(&slow, &kitchen()), "{}", bulk(&slow, &cold));
    let mut quick = loaf(Style::Tin);
    quick.day = DayWish { anchor: Anchor::Start, at: Some("2026-11-21T14:00".parse().unwrap()) };
    let (mild, plain) = (bulk(&quick, &cold), bulk(&quick, &kitchen()));
    assert!((mild / plain - 1.0).abs() < 0.05, "{mild} {plain}");
    quick.rise.bulk.place = Some(Celsius(24.0));
    assert_eq!(bulk(&quick, &cold), bulk(&quick, &kitchen()), "a place of its own has no night");
}

/// What the kitchen has learned of its hands moves the water; a formula's own figure stands.
#[test]
fn learned_friction_moves_the_water() {
    let mut learned = kitchen();
    for _ in 0..10 {
        learned.learn_friction(
            "",
            cerealis_core::kitchen::FrictionReading { method: Method::Hand, per_minute: 0.6 },
        );
    }
    let mut f = loaf(Style::Tin);
    f.mix.method = Method::Hand;
    let (before, after) = (stations(&f, &kitchen()), stations(&f, &learned));
    assert_eq!(before.friction, None);
    assert_eq!(after.friction.unwrap().1, 10);
    assert!(after.water.balance.water < before.water.balance.water && after.mix.rise > before.mix.rise);
    f.mix.friction = Some(0.25);
    assert_eq!(stations(&f, &learned).friction, None);
}

/// A levain, a soaker and cold eggs each count as a part of the factor rule.
#[test]
fn the_factor_rule_counts_the_parts() {
    let mut f = loaf(Style::Tin);
    assert_eq!(stations(&f, &kitchen()).water.factor_n, 3.0);
    add(&mut f, Stage::Soaker, "rye-flakes", 60.0);
    add(&mut f, Stage::Soaker, "water", 60.0);
    assert_eq!(stations(&f, &kitchen()).water.factor_n, 4.0);
    add(&mut f, Stage::Dough, "egg", 100.0);
    assert_eq!(stations(&f, &kitchen()).water.factor_n, 5.0);
}

/// A proof that is baked from the fridge goes into the oven cold, and the loaf takes longer.
#[test]
fn a_cold_proof_bakes_from_the_fridge() {
    let mut f = loaf(Style::Hearth);
    let warm = stations(&f, &kitchen());
    f.rise.proof.place = Some(Celsius(4.0));
    f.rise.proof.stays = Some(cerealis_core::units::Hours(12.0));
    let cold = stations(&f, &kitchen());
    assert!(cold.rise.final_temperature.0 < 6.0 && cold.bake.time > warm.bake.time);
    assert!((cold.rise.proof.unwrap().time.0 - 720.0).abs() < 1e-6);
}

/// Everything in the dough goes in at one phase of mixing, and once.
#[test]
fn what_goes_in_adds_up_to_the_dough() {
    for style in Style::ALL {
        let mut f = loaf(style);
        for (stage, key, grams) in [
            (Stage::Preferment, "bread-flour", 100.0),
            (Stage::Preferment, "water", 100.0),
            (Stage::Preferment, "culture-100", 20.0),
            (Stage::HeldBack, "water", 15.0),
            (Stage::LateButter, "butter", 40.0),
            (Stage::AddIns, "raisins", 60.0),
        ] {
            add(&mut f, stage, key, grams);
        }
        for (salt, autolyse) in [(SaltSchool::WithAll, 0.0), (SaltSchool::Later, 20.0)] {
            f.mix.salt = salt;
            f.mix.autolyse = Minutes(autolyse);
            let s = stations(&f, &kitchen());
            assert_eq!(s.goes_in.len(), s.mix.phases.len());
            let all: f64 = s.goes_in.iter().flatten().map(|g| g.grams.0).sum();
            assert!((all - s.figures.dough.0).abs() < 1e-6, "{style:?}: {all} of {}", s.figures.dough.0);
        }
    }
}

/// Of water and milk the colder is warmed alone where that is enough.
#[test]
fn one_liquid_of_two_is_warmed_alone() {
    let mut f = loaf(Style::SoftRoll);
    add(&mut f, Stage::Dough, "water", 50.0);
    let s = stations(&f, &kitchen());
    let wanted = Celsius(s.liquid.comes_at.0 + 10.0);
    let (name, warm) = s.liquid.one_alone(wanted).unwrap();
    assert_eq!(name, "whole milk");
    let milk = s.liquid.parts.iter().find(|p| p.name == name).unwrap();
    let mixed = (s.liquid.parts.iter().map(|p| p.grams.0 * p.comes_at.0).sum::<f64>()
        + milk.grams.0 * (warm - milk.comes_at).0)
        / s.liquid.grams.0;
    assert!((mixed - wanted.0).abs() < 1e-9, "together they come to {mixed}");
    assert_eq!(s.liquid.one_alone(Celsius(60.0)), None, "no one of them can, under 43 °C");
    assert_eq!(s.liquid.one_alone(Celsius(0.0)), None, "nothing to warm");
}

/// A place's own night slows a rise that goes through it, and the levain that stands there.
#[test]
fn a_place_with_a_night_is_slower_overnight() {
    let mut f = loaf(Style::NoKnead);
    f.day = DayWish { anchor: Anchor::Start, at: Some("2026-11-21T20:00:00".parse().unwrap()) };
    f.rise.bulk.place = Some(Celsius(20.0));
    let steady = stations(&f, &kitchen()).rise.bulk.unwrap().time;
    f.rise.bulk.night = 5.0;
    let cooler = stations(&f, &kitchen()).rise.bulk.unwrap().time;
    assert!(cooler.0 > 1.05 * steady.0, "{cooler:?} against {steady:?}");
}

/// Twelve touching rolls in one pan are one bake of the pan's height, not twelve on a sheet; one answer holds for Shape
/// and Oven, whatever the oven's own field says.
#[test]
fn rolls_side_by_side_bake_as_one() {
    let mut f = loaf(Style::SoftRoll);
    f.shape.kind = Kind::Bun;
    (f.shape.pieces, f.shape.pan, f.oven.vessel) = (12, None, Vessel::Sheet);
    f.oven.temperature = Some(Celsius(190.0));
    let free = stations(&f, &kitchen());
    (f.shape.together, f.shape.tin_length, f.shape.tin_width, f.shape.tin_depth) =
        (Some(12), Some(33.0), Some(23.0), Some(6.0));
    let inside = stations(&f, &kitchen());
    assert_eq!(inside.bake_input.oven.vessel, Vessel::Tin);
    assert!(inside.bake.time.0 > 1.15 * free.bake.time.0, "{} for {}", inside.bake.time.0, free.bake.time.0);
    let laid = inside.day.steps.iter().filter(|s| s.step.detail.contains("Lay 12 side by side")).count();
    assert_eq!(laid, 1, "the day says it once");
    let pan = inside.work.pan.unwrap();
    assert_eq!((pan.pans, pan.together), (1, 12));
    assert!(inside.work.tray.is_none() && pan.fit.reaches, "{}", pan.fit.says);
    let wide = Formula { shape: ShapeWish { tin_length: Some(45.0), ..f.shape.clone() }, ..f.clone() };
    assert!(stations(&wide, &kitchen()).bake.size.height <= inside.bake.size.height);
}

/// A flat bake that is pressed out thinner covers more and bakes sooner.
#[test]
fn a_thinner_flat_bake_is_sooner() {
    let mut f = loaf(Style::Flat);
    f.shape.kind = Kind::Flat;
    let at = |f: &mut Formula, thick: f64| {
        f.shape.rolled = Some(thick);
        stations(f, &kitchen()).bake
    };
    f.oven.temperature = Some(Celsius(220.0));
    let (thin, thick) = (at(&mut f, 1.0), at(&mut f, 2.0));
    assert!(thin.size.height < thick.size.height && thin.size.width > thick.size.width);
    assert!(thin.time < thick.time, "{:?} for {:?}", thin.time, thick.time);
}

/// What is more than the mixer bears is mixed part after part: the day has each, and hands and mixer for all of it.
#[test]
fn a_dough_that_is_too_much_for_the_mixer_is_mixed_twice() {
    let mut f = Formula::beginning("A double batch", Style::Tin);
    f.mix.method = Method::Mixer;
    let at = |limit: Option<f64>| {
        let kitchen = Kitchen { mixer_limit: limit.map(Grams), ..Kitchen::default() };
        read(&f, &kitchen, Catalogue::bundled(), "2026-11-27T08:00:00Z".parse().unwrap()).unwrap()
    };
    let (once, twice) = (at(None), at(Some(0.6 * at(None).figures.dough.0)));
    assert_eq!((once.mix.parts, twice.mix.parts), (1, 2));
    let mixing = |s: &Stations| s.tasks.iter().filter(|t| t.needs.mixer).count();
    assert_eq!(mixing(&twice), 2 * mixing(&once));
    assert!(twice.tasks.iter().any(|t| t.title.ends_with("part 2 of 2")));
    let bulk = |s: &Stations| s.day.steps.iter().position(|t| t.step.id == "bulk").unwrap();
    assert!(bulk(&twice) > bulk(&once));
}
