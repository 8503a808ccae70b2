//! What bakers say is kept, and told: every wish at a station changes the day or the figures, as it was said.

use cerealis_core::finish::{GoesOnAt, Pieces};
use cerealis_core::formula::{Formula, Line, MakeUp};
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::Catalogue;
use cerealis_core::rise::{Liveliness, RiseWish};
use cerealis_core::stations::{Stations, read};
use cerealis_core::units::{Grams, Minutes};
use cerealis_core::words::{Kind, Stage, Style, Vessel};
use proptest::prelude::*;
use rstest::rstest;

fn stations(f: &Formula) -> Stations {
    let now = "2026-03-07T08:00:00Z".parse().unwrap();
    read(f, &Kitchen::default(), Catalogue::bundled(), now).unwrap()
}

/// Everything that the day says, a step a line.
fn told(s: &Stations) -> String {
    let line =
        |t: &cerealis_core::day::Task| format!("{} | {} | {:.0} min\n", t.title, t.detail, t.lasts.best.0);
    s.tasks.iter().map(line).collect()
}

type Change = fn(&mut Formula);

#[rstest]
#[case::a_bowl_over_it(Style::Hearth, |f: &mut Formula| { f.oven.vessel = Vessel::Sheet; f.oven.covered = Some(Minutes(15.0)); }, &["Cover it, and straight in", "Cover off"])]
#[case::own_minutes_of_a_lid(Style::NoKnead, |f: &mut Formula| { f.oven.vessel = Vessel::Pot; f.oven.covered = Some(Minutes(25.0)); }, &["Lid off"])]
#[case::foil_from_the_start(Style::Tin, |f: &mut Formula| f.oven.foiled = Some(Minutes(12.0)), &["Foil over it", "Foil off"])]
#[case::foil_later(Style::Tin, |f: &mut Formula| f.oven.foil_after = Some(Minutes(20.0)), &["Cover with foil"])]
#[case::own_minutes(Style::Tin, |f: &mut Formula| f.oven.minutes = Some(Minutes(41.0)), &["| 41 min"])]
#[case::door_ajar(Style::Hearth, |f: &mut Formula| f.oven.ajar = Some(Minutes(7.0)), &["Oven off, door ajar", "| 7 min"])]
#[case::in_its_tin(Style::Tin, |f: &mut Formula| f.oven.cools_in = Some(Minutes(10.0)), &["It stays 10 min in its tin"])]
#[case::own_cooling(Style::Tin, |f: &mut Formula| f.oven.cool = Some(Minutes(95.0)), &["Cool", "| 95 min"])]
#[case::uncovered(Style::Hearth, |f: &mut Formula| f.rise.uncovered = true, &["Uncovered: a skin forms"])]
#[case::kneaded_again(Style::Tin, |f: &mut Formula| { f.rise.second = RiseWish::to(1.6, None); f.rise.kneads = Some(Minutes(4.0)); }, &["Knead again", "| 4 min"])]
#[case::to_a_line(Style::Tin, |f: &mut Formula| { f.shape.tin_length = Some(22.0); f.shape.tin_width = Some(11.0); f.shape.tin_depth = Some(9.0); f.rise.rim = Some(-1.0); }, &["1.0 cm under the rim"])]
#[case::butter_in_portions(Style::Braid, |f: &mut Formula| { f.mix.butter_portions = Some(6); f.mix.butter = Some(Minutes(15.0)); late_butter(f); }, &["in 6 portions", "| 15 min"])]
#[case::slowly_first(Style::Tin, |f: &mut Formula| { f.mix.method = cerealis_core::words::Method::Mixer; f.mix.slow = Some(Minutes(7.0)); f.mix.knead = Some(Minutes(6.0)); }, &["Bring together | 60 turns", "| 7 min"])]
#[case::seeds_at_shaping(Style::Tin, |f: &mut Formula| f.lines.push(Line { at: Some(GoesOnAt::Shaped), ..Line::new("sesame-seeds", Stage::Topping, Grams(20.0)) }), &["Press on"])]
#[case::milk_in_the_oven(Style::Tin, |f: &mut Formula| f.lines.push(Line { at: Some(GoesOnAt::Minute(12)), ..Line::new("milk", Stage::Wash, Grams(20.0)) }), &["Baste"])]
#[case::own_speed(Style::Tin, |f: &mut Formula| { f.mix.method = cerealis_core::words::Method::Mixer; f.mix.speed = Some(3); }, &["Develop | 130 turns"])]
#[case::laid_as_a_cross(Style::Braid, |f: &mut Formula| { f.shape.strands = 2; f.shape.crossed = true; }, &["Lay one strand across the other"])]
#[case::a_paste_with_its_weights(Style::SoftRoll, |f: &mut Formula| { f.lines.push(Line::new("plain-flour", Stage::Paste, Grams(70.0))); f.lines.push(Line::new("water", Stage::Paste, Grams(75.0))); }, &["Pipe | Stir to a paste: plain flour 70 g, water 75 g"])]
#[case::flat_bakes_on_trays(Style::Flat, |f: &mut Formula| { f.shape.pieces = 2; f.shape.rolled = Some(0.7); }, &["Upper tray below"])]
fn what_is_said_is_told_on_the_day(#[case] style: Style, #[case] change: Change, #[case] says: &[&str]) {
    let plain = Formula::beginning("Any", style);
    let mut f = plain.clone();
    change(&mut f);
    let (before, after) = (told(&stations(&plain)), told(&stations(&f)));
    for words in says {
        assert!(after.contains(words), "{words} in {after}");
    }
    assert_ne!(before, after);
}

fn late_butter(f: &mut Formula) {
    f.lines.push(Line::new("butter", Stage::LateButter, Grams(150.0)));
}

/// Two breads of one dough: each is shaped, panned, finished and baked as itself, and what is not for it stays off.
#[test]
fn a_makeup_is_whole() {
    let mut f = Formula::beginning("Two of one", Style::Braid);
    f.lines.push(Line { on: Pieces::MakeUp(0), ..Line::new("poppy-seeds", Stage::Topping, Grams(10.0)) });
    f.lines.push(Line { on: Pieces::All, ..Line::new("egg", Stage::Wash, Grams(30.0)) });
    let mut plait = MakeUp::of(Kind::Braid, 2, Grams(200.0), Vessel::Sheet);
    plait.shape.strands = 2;
    f.makeups = vec![plait, MakeUp::of(Kind::Roll, 4, Grams(60.0), Vessel::Sheet)];
    let s = stations(&f);
    assert_eq!(s.makeups[0].work.braid.as_ref().unwrap().strand, Grams(100.0));
    let day = told(&s);
    for words in ["4 strands of 100 g", "Plait: 2 × plait", "Wash: 2 × plait", "Wash: 4 × roll"] {
        assert!(day.contains(words) || words.starts_with("Plait"), "{words} in {day}");
    }
    let seeds: Vec<&str> = day.lines().filter(|l| l.contains("poppy")).collect();
    assert_eq!(seeds.len(), 1, "{day}");
    assert!(seeds[0].starts_with("Scatter: 2 × plait"), "{}", seeds[0]);
    // One egg wash is shared out by weight.
    let egg: f64 =
        day.split("whole egg ").skip(1).filter_map(|t| t.split(' ').next()?.parse::<f64>().ok()).sum();
    assert!((egg - 30.0).abs() < 0.2, "{egg}");
}

/// Of a dough that is wetted by milk alone, the milk goes into the autolyse, or it would be dry flour.
#[test]
fn an_autolyse_of_a_milk_dough_has_its_milk() {
    let mut f = Formula::beginning("Milk loaf", Style::Tin);
    f.lines.retain(|l| l.ingredient != "water");
    f.lines.push(Line::new("milk", Stage::Dough, Grams(340.0)));
    f.mix.autolyse = Minutes(20.0);
    let s = stations(&f);
    assert!(s.goes_in[0].iter().any(|g| g.name.to_lowercase().contains("milk")), "{:?}", s.goes_in[0]);
}

/// What the yeast blooms in is warm, is not counted twice, and is held out of an autolyse.
#[test]
fn blooming_takes_its_liquid_from_the_rest() {
    let mut f = Formula::beginning("Bloomed", Style::Tin);
    let plain = stations(&f);
    f.mix.bloom = Some(Minutes(10.0));
    f.mix.autolyse = Minutes(20.0);
    let s = stations(&f);
    let held = plain.liquid.grams.0 - s.liquid.grams.0;
    assert!((50.0..=90.0).contains(&held), "{held}");
    assert!(told(&s).contains(&format!("into {held:.0} g of water")), "{}", told(&s));
    let water: f64 = s.goes_in.iter().flatten().filter(|g| g.name.contains("ater")).map(|g| g.grams.0).sum();
    assert!((water - plain.liquid.grams.0).abs() < 0.5, "{water}");
    let first: f64 = s.goes_in[0].iter().filter(|g| g.name.contains("ater")).map(|g| g.grams.0).sum();
    assert!((first - s.liquid.grams.0).abs() < 0.5);
}

/// Flour that is held back is flour: both ends are said until it is decided.
#[test]
fn held_back_flour_is_no_water() {
    let mut f = Formula::beginning("Held", Style::Tin);
    f.lines.push(Line::new("bread-flour", Stage::HeldBack, Grams(60.0)));
    let s = stations(&f);
    let note = s.mix.notes.iter().find(|n| n.contains("held back")).expect("both ends");
    assert!(note.contains("with none of it"), "{note}");
    assert!(told(&s).contains("a spoonful at a time"), "{}", told(&s));
}

/// A lively culture is sooner ready than a sluggish one.
#[test]
fn a_lively_culture_is_sooner_ready() {
    let at = |leaven: Liveliness| {
        let mut f = Formula::beginning("Sour", Style::Hearth);
        f.rise.leaven = leaven;
        stations(&f).rise.bulk.unwrap().time
    };
    assert!(
        at(Liveliness::Lively) < at(Liveliness::Usual) && at(Liveliness::Usual) < at(Liveliness::Sluggish)
    );
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// The higher the line in the pan, the longer the proof; and a dough that comes to it stands there.
    #[test]
    fn a_line_in_the_pan_is_met(low in -4.0..-1.0f64, more in 0.3..1.5f64) {
        let with = |rim: f64| {
            let mut f = Formula::beginning("Line", Style::Tin);
            (f.shape.tin_length, f.shape.tin_width, f.shape.tin_depth) = (Some(26.0), Some(12.0), Some(8.0));
            f.rise.rim = Some(rim);
            stations(&f)
        };
        let (a, b) = (with(low), with(low + more));
        let times = |s: &Stations| s.rise.proof.as_ref().unwrap().time;
        prop_assert!(times(&a) <= times(&b));
        let pan = a.work.pan.as_ref().unwrap();
        let reached = a.rise.proof.as_ref().unwrap().grown;
        // Within what the clamp of the target leaves.
        if (1.06..2.9).contains(&reached) {
            prop_assert!((pan.fit.heights[1] - (8.0 + low)).abs() < 0.5, "{:?} for {low}", pan.fit.heights);
        }
    }
}

/// Whole dried fruit keeps its sugar to itself, whenever it goes in; sugar in the dough slows it.
#[test]
fn raisins_do_not_slow_the_dough_as_sugar_does() {
    let with = |key: &str, stage: Stage, grams: f64| {
        let mut f = Formula::beginning("Sweet", Style::Tin);
        f.lines.push(Line::new(key, stage, Grams(grams)));
        stations(&f).rise.bulk.unwrap().time
    };
    let plain = stations(&Formula::beginning("Plain", Style::Tin)).rise.bulk.unwrap().time;
    let dough = with("raisins", Stage::Dough, 150.0);
    assert!((dough - with("raisins", Stage::AddIns, 150.0)).0.abs() < 1.0);
    assert!(dough.0 < 1.2 * plain.0, "{dough:?} for {plain:?}");
    assert!(with("sugar", Stage::Dough, 150.0).0 > 1.5 * plain.0);
}
