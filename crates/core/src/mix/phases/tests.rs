use super::super::input::{MixInput, PhaseKind};
use super::*;
use crate::units::Grams;
use rstest::rstest;

fn input(method: Method, style: Style, hydration: f64) -> MixInput {
    MixInput {
        method,
        style,
        hydration: Percent(hydration),
        late_fat: Percent(0.0),
        add_ins: false,
        autolyse: Minutes(0.0),
        bulk: Minutes(90.0),
        dough: Grams(900.0),
        speeds: vec![60.0, 95.0, 130.0, 180.0],
        friction: None,
        knead: None,
        speed: None,
        folds: None,
        folds_every: None,
        salt: SaltSchool::WithAll,
        held_back: false,
        slow: None,
        held_flour: None,
        butter_portions: None,
        butter: None,
        mixer_limit: None,
    }
}

/// By hand 10 to 15 minutes to a window (common practice, no source).
#[test]
fn hands_need_ten_to_fifteen_minutes() {
    let out = mix(&input(Method::Hand, Style::Tin, 64.0)).unwrap();
    let knead = out.phases.iter().find(|p| p.kind == PhaseKind::Knead).unwrap();
    assert!((10.0..=15.0).contains(&knead.minutes.0), "{knead:?}");
}

/// Three fold sets finish a wet dough; twelve hours finish a no-knead one.
#[test]
fn folds_and_time_do_the_work() {
    let mut wet = input(Method::Fold, Style::Hearth, 75.0);
    wet.bulk = Minutes(240.0);
    let out = mix(&wet).unwrap();
    assert!(out.work_done.0 >= 95.0, "{out:?}");
    let mut slow = input(Method::None, Style::NoKnead, 80.0);
    slow.bulk = Minutes(720.0);
    assert!(mix(&slow).unwrap().work_done.0 >= 100.0);
    slow.bulk = Minutes(120.0);
    let hurried = mix(&slow).unwrap();
    assert!(hurried.notes.iter().any(|n| n.contains("slack")), "{hurried:?}");
}

#[test]
fn an_autolyse_saves_about_a_third() {
    let plain = mix(&input(Method::Mixer, Style::Tin, 64.0)).unwrap();
    let mut rested = input(Method::Mixer, Style::Tin, 64.0);
    rested.autolyse = Minutes(30.0);
    let rested = mix(&rested).unwrap();
    assert!((0.6..0.7).contains(&(rested.turns_wanted / plain.turns_wanted)));
    assert!(rested.rise < plain.rise);
}

#[rstest]
#[case(Method::Hand)]
#[case(Method::Mixer)]
fn late_butter_and_add_ins_come_last_and_in_order(#[case] method: Method) {
    let mut i = input(method, Style::Braid, 55.0);
    i.late_fat = Percent(12.0);
    i.add_ins = true;
    let kinds: Vec<_> = mix(&i).unwrap().phases.iter().map(|p| p.kind).collect();
    use crate::mix::PhaseKind::*;
    assert_eq!(kinds, [Mix, Rest, Knead, Butter, AddIns]);
}

/// A mixer heats 0.5 to 1.1 K a minute by its speed, hands 0.2 to 0.3 (common practice).
#[test]
fn friction_is_of_the_usual_size() {
    let hand = mix(&input(Method::Hand, Style::Tin, 64.0)).unwrap();
    let each = hand.rise / hand.kneading.0;
    assert!((0.2..=0.3).contains(&each));
    let mixer = mix(&input(Method::Mixer, Style::Tin, 64.0)).unwrap();
    let each = mixer.rise / mixer.kneading.0;
    assert!((0.5..=1.1).contains(&each), "{each}");
}

#[test]
fn turns_add_up_and_never_fall() {
    for method in Method::ALL {
        let mut i = input(method, Style::Braid, 56.0);
        i.late_fat = Percent(10.0);
        let out = mix(&i).unwrap();
        let turns: Vec<f64> = out.phases.iter().filter(|p| p.turns > 0.0).map(|p| p.turns).collect();
        assert!(turns.windows(2).all(|w| w[1] > w[0]), "{method:?} {turns:?}");
    }
    let mixer = mix(&input(Method::Mixer, Style::Tin, 64.0)).unwrap();
    let last = mixer.phases.iter().map(|p| p.turns).fold(0.0, f64::max);
    assert!((last / mixer.turns_wanted - 1.0).abs() < 0.1, "{last} of {}", mixer.turns_wanted);
}

#[test]
fn the_mixers_limit_counts_stiffness() {
    let with = |limit: f64, hydration: f64| {
        let mut i = input(Method::Mixer, Style::Tin, hydration);
        i.mixer_limit = Some(Grams(limit));
        mix(&i).unwrap().notes.iter().any(|n| n.contains("too much for the mixer"))
    };
    assert!(!with(1000.0, 65.0) && with(1000.0, 48.0) && with(700.0, 65.0));
}

#[test]
fn salt_and_held_back_water_come_when_the_school_says() {
    let mut i = input(Method::Mixer, Style::Tin, 64.0);
    i.salt = SaltSchool::Later;
    i.held_back = true;
    let out = mix(&i).unwrap();
    let what = |kind| out.phases.iter().find(|p| p.kind == kind).unwrap().what.clone();
    assert!(what(PhaseKind::Mix).contains("but what is held back and the salt."));
    assert!(what(PhaseKind::Knead).starts_with("The salt goes in now. Work in what was held back"));
}

#[test]
fn a_hand_mixer_is_finished_by_hand() {
    let out = mix(&input(Method::HandMixer, Style::Braid, 56.0)).unwrap();
    assert_eq!(out.phases.last().unwrap().name, "Finish by hand");
    assert!(out.work_done.0 > 90.0);
}

#[test]
fn no_gluten_is_only_beaten() {
    let out = mix(&input(Method::Paddle, Style::GlutenFree, 100.0)).unwrap();
    assert_eq!(out.phases.len(), 1);
    assert_eq!(out.work_done, Percent(100.0));
}

#[test]
fn a_mixer_without_speeds_is_refused() {
    let mut i = input(Method::Mixer, Style::Tin, 64.0);
    i.speeds.clear();
    assert_eq!(mix(&i).unwrap_err().0[0].path, "speeds");
}

#[rstest]
fn kneading_is_as_long_as_is_wished(
    #[values(Method::Hand, Method::Mixer, Method::HandMixer)] method: Method,
    #[values(4.0, 15.0, 30.0)] minutes: f64,
) {
    let mut i = input(method, Style::Tin, 65.0);
    i.knead = Some(Minutes(minutes));
    let out = mix(&i).unwrap();
    let kneads: f64 = out.phases.iter().filter(|p| p.kind == PhaseKind::Knead).map(|p| p.minutes.0).sum();
    assert_eq!(kneads, minutes);
    assert_eq!(
        out.work_done < Percent(90.0),
        out.notes.iter().any(|n| n.contains("slack")) || i.bulk.0 == 0.0 && out.work_done < Percent(90.0)
    );
}

#[rstest]
fn folds_are_as_they_are_wished_after_any_way_of_mixing(
    #[values(Method::Hand, Method::Mixer, Method::Fold, Method::None)] method: Method,
) {
    let mut i = input(method, Style::Hearth, 72.0);
    i.folds = Some(3);
    i.folds_every = Some(Minutes(45.0));
    let folds = mix(&i).unwrap().folds.unwrap();
    assert_eq!((folds.sets, folds.every), (3, Minutes(45.0)));
}

/// A faster speed develops the dough in fewer minutes, or in as few as there may be; one that the mixer has not is its
/// fastest.
#[rstest]
fn a_faster_speed_is_never_slower(#[values(Style::Tin, Style::Braid, Style::SoftRoll)] style: Style) {
    let at = |speed: Option<u32>| {
        let mut i = input(Method::Mixer, style, 62.0);
        i.speed = speed;
        let out = mix(&i).unwrap();
        let knead = out.phases.iter().find(|p| p.kind == PhaseKind::Knead).unwrap();
        (knead.minutes.0, knead.rpm.unwrap())
    };
    let all: Vec<(f64, f64)> = (1..=4).map(|n| at(Some(n))).collect();
    assert!(all.windows(2).all(|w| w[0].0 >= w[1].0 && w[0].1 < w[1].1), "{all:?}");
    assert_eq!(at(None), all[1], "the second where nothing is said");
    assert_eq!(at(Some(8)), all[3]);
}

#[test]
fn a_speed_out_of_range_is_refused_at_its_field() {
    let mut i = input(Method::Mixer, Style::Tin, 62.0);
    i.speed = Some(9);
    assert_eq!(mix(&i).unwrap_err().0[0].path, "speed");
}
