//! The day's invariants, over arbitrary formulas with make-ups, preferments, a second rise, stages made
//! ahead, finishes and slow ovens.

use cerealis_core::day::{Anchor, DayWish, Point, Step, lay};
use cerealis_core::finish::{GoesOnAt, Pieces};
use cerealis_core::formats::{Format, export};
use cerealis_core::formula::{AheadWish, Formula, LevainWish, Line, MakeUp, PrefermentSize, size_preferment};
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::Catalogue;
use cerealis_core::rise::RiseWish;
use cerealis_core::stations::{Stations, read};
use cerealis_core::units::{Celsius, Grams, Hours, Minutes, Percent};
use cerealis_core::words::{Kind, Stage, Style, Vessel};
use proptest::prelude::*;
use proptest::sample::select;

fn stations(f: &Formula, k: &Kitchen) -> Stations {
    let now = "2026-03-07T08:00:00Z".parse().unwrap();
    read(f, k, Catalogue::bundled(), now).unwrap_or_else(|e| panic!("{}: {e}", f.name))
}

/// Any formula that a household might plan a day for.
fn any_formula() -> impl Strategy<Value = (Formula, Kitchen)> {
    let dough = (
        select(Style::ALL.to_vec()),
        select(Kind::ALL.to_vec()),
        select(Vessel::ALL.to_vec()),
        1u32..26,
        prop::option::of((
            select(vec![Stage::Preferment, Stage::Poolish, Stage::Biga, Stage::Sponge]),
            8.0..35.0f64,
        )),
        1u32..4,
        any::<bool>(),
    );
    let more = (
        prop::option::of(1.3..2.0f64),
        prop::collection::vec(
            (
                select(vec![Kind::Bun, Kind::Tin, Kind::Round, Kind::Roll, Kind::Braid]),
                1u32..9,
                select(Vessel::ALL.to_vec()),
            ),
            0..3,
        ),
        prop::collection::vec(
            (
                select(vec![Stage::Wash, Stage::SecondWash, Stage::Topping, Stage::Glaze, Stage::Bath]),
                (
                    select(vec![
                        Pieces::Main,
                        Pieces::All,
                        Pieces::MakeUp(0),
                        Pieces::MakeUp(1),
                        Pieces::None,
                    ]),
                    select(vec![
                        None,
                        None,
                        Some(GoesOnAt::Shaped),
                        Some(GoesOnAt::Earlier(20)),
                        Some(GoesOnAt::Minute(12)),
                        Some(GoesOnAt::ToGo(5)),
                        Some(GoesOnAt::Hot),
                        Some(GoesOnAt::Cold),
                    ]),
                ),
            ),
            0..5,
        ),
        prop::option::of(1.0..16.0f64),
        prop::option::of((0.5..14.0f64, 1.0..20.0f64)),
        5.0..80.0f64,
        select(Anchor::ALL.to_vec()),
    );
    (dough, more).prop_map(
        |(
            (style, kind, vessel, pieces, preferment, builds, soaker),
            (second, makeups, finish, stays, leg, preheat, anchor),
        )| {
            let mut f = Formula::beginning("Any", style);
            f.shape.kind = kind;
            f.shape.pieces = pieces;
            f.oven.vessel = vessel;
            if let Some((stage, share)) = preferment {
                // A style without enough of its own to give keeps its straight dough.
                let _ = size_preferment(
                    &mut f,
                    stage,
                    PrefermentSize::Flour(Percent(share)),
                    Catalogue::bundled(),
                );
                f.levain = LevainWish { builds, keep: Grams(20.0) };
            }
            if soaker {
                f.lines.push(Line::new("sunflower-seeds", Stage::Soaker, Grams(40.0)));
                f.lines.push(Line::new("water", Stage::Soaker, Grams(40.0)));
                f.stages.push(AheadWish {
                    stage: Stage::Soaker,
                    hours: Some(Hours(3.0)),
                    place: None,
                    temperature: None,
                });
            }
            if let Some(target) = second {
                f.rise.second = RiseWish::to(target, None);
            }
            f.rise.proof.stays = stays.map(Hours);
            if let Some((hours, place)) = leg {
                f.rise.bulk.legs =
                    vec![cerealis_core::rise::Leg { hours: Hours(hours), place: Celsius(place) }];
            }
            let main = cerealis_core::formula::figures(&f, Catalogue::bundled()).dough;
            for (kind, pieces, vessel) in makeups {
                let piece_weight = Grams((main.0 / 4.0 / f64::from(pieces)).max(5.0));
                f.makeups.push(MakeUp::of(kind, pieces, piece_weight, vessel));
            }
            for (stage, goes) in finish {
                for (key, grams) in match stage {
                    Stage::Bath => vec![("water", 1000.0), ("baking-soda", 40.0)],
                    Stage::Topping => vec![("sesame-seeds", 15.0)],
                    Stage::Glaze => vec![("butter", 20.0)],
                    _ => vec![("egg", 20.0)],
                } {
                    let (on, at) = goes;
                    f.lines.push(Line { on, at, ..Line::new(key, stage, Grams(grams)) });
                }
            }
            f.day = DayWish { anchor, at: Some("2031-03-30T12:00:00".parse().unwrap()) };
            let kitchen = Kitchen {
                oven_preheat: Minutes(preheat),
                time_zone: "Europe/Paris".into(),
                tray: (36.0, 28.0),
                ..Kitchen::default()
            };
            (f, kitchen)
        },
    )
}

fn at<'a>(steps: &'a [Step], id: &str) -> Option<&'a Step> {
    steps.iter().find(|s| s.id == id)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(160))]

    #[test]
    fn every_step_stands_after_what_it_needs((f, k) in any_formula()) {
        let s = stations(&f, &k);
        let steps: Vec<Step> = s.day.steps.iter().map(|c| c.step.clone()).collect();
        let all: Vec<&str> = steps.iter().map(|s| s.id.as_str()).collect();
        let mut once = all.clone();
        once.sort_unstable();
        once.dedup();
        prop_assert_eq!(once.len(), all.len(), "each id stands once: {:?}", all);
        let near = |a: f64, b: f64| (a - b).abs() < 1e-6;
        let before = |a: &str, b: &str| match (at(&steps, a), at(&steps, b)) {
            (Some(x), Some(y)) => x.end().0 <= y.start.0 + 1e-6,
            _ => true,
        };
        // In the list, too, a deed stands before the wait that follows it.
        for (n, step) in steps.iter().enumerate().filter(|(_, s)| s.id.ends_with(".stands")) {
            let deed = step.id.trim_end_matches(".stands");
            let place = steps.iter().position(|s| s.id == deed).expect("what stands was set");
            prop_assert!(place < n && near(steps[place].end().0, step.start.0), "{} before {}", step.id, deed);
            prop_assert!(step.end().0 <= at(&steps, "mix.0").unwrap().start.0 + 1e-6, "{} is ready for the dough", deed);
        }
        let last_mix = steps.iter().filter(|s| s.id.starts_with("mix.")).map(|s| s.end().0).fold(0.0, f64::max);
        prop_assert!(near(s.mixed_at.0, last_mix));
        for (id, says) in [("bulk", s.mixed_at), ("proof", s.proof_at), ("bake.main", s.oven_at)] {
            if let Some(step) = at(&steps, id) {
                prop_assert!(near(step.start.0, says.0), "{id} begins when it is said to");
            }
        }
        let order = ["bulk", "between", "second", "shape.0", "proof", "in.main", "bake.main", "out.main", "cool.main"];
        let there: Vec<&str> = order.into_iter().filter(|id| at(&steps, id).is_some()).collect();
        for pair in there.windows(2) {
            prop_assert!(before(pair[0], pair[1]), "{} before {}", pair[0], pair[1]);
        }
        let on = at(&steps, "oven-on").unwrap();
        prop_assert!(on.start.0 + s.bake.preheat.0 <= at(&steps, "in.main").unwrap().start.0 + 2.0, "it is hot in time");
        // What is brushed, scattered and cut before the oven is over when its pieces go in, not before they are shaped,
        // and what goes on hot or cold only on what is baked. The main pieces' stand in their order.
        use cerealis_core::finish::When;
        let mut main = Vec::new();
        for x in steps.iter().filter(|s| s.id.starts_with("finish.")) {
            let parts: Vec<&str> = x.id.split('.').skip(1).collect();
            let (when, into, out, shaped) = match parts[0].strip_prefix('m') {
                None => {
                    let n: usize = parts[0].parse().unwrap();
                    main.push((n, x));
                    (s.work.finish[n].when, "in.main".to_owned(), "out.main".to_owned(), s.proof_at.0)
                }
                Some(k) => {
                    let n: usize = parts[1].parse().unwrap();
                    let own = format!("in.{k}");
                    let into = if at(&steps, &own).is_some() { own } else { "in.main".to_owned() };
                    let shaped = at(&steps, &format!("makeup.{k}")).unwrap().end().0;
                    (s.makeups[k.parse::<usize>().unwrap()].work.finish[n].when, into, format!("out.{k}"), shaped)
                }
            };
            if matches!(when, When::Before(_) | When::Shaped) {
                prop_assert!(x.end().0 <= at(&steps, &into).unwrap().start.0 + 1e-6, "{} before the oven", x.title);
                prop_assert!(x.start.0 >= shaped - 1e-6, "{} on what is shaped", x.title);
            }
            if matches!(when, When::Into(_) | When::ToGo(_)) {
                prop_assert!(x.start.0 >= at(&steps, &into).unwrap().end().0 - 1e-6, "{} in the oven", x.title);
            }
            if matches!(when, When::After(_) | When::Cold) {
                prop_assert!(x.start.0 >= at(&steps, &out).unwrap().end().0 - 1e-6, "{} on what is baked", x.title);
            }
        }
        let before: Vec<usize> =
            main.iter().filter(|(n, _)| matches!(s.work.finish[*n].when, When::Before(_))).map(|(n, _)| *n).collect();
        prop_assert!(before.windows(2).all(|p| p[0] < p[1]), "in their order: {before:?}");
        // Nothing goes on pieces that it is not for.
        let on = |makeup: Option<u32>, stage: Stage| {
            f.lines.iter().any(|l| l.stage == stage && l.on.on(makeup) && l.grams.0 > 0.0)
        };
        let finishes = s.makeups.iter().enumerate().map(|(n, m)| (Some(n as u32), &m.work)).chain([(None, &s.work)]);
        for (makeup, work) in finishes {
            let washed = work.finish.iter().any(|s| s.title.to_lowercase().contains("wash"));
            let seeded = work.finish.iter().any(|s| s.title == "Scatter" || s.title == "Press on");
            prop_assert!(!washed || on(makeup, Stage::Wash) || on(makeup, Stage::SecondWash), "{makeup:?}");
            prop_assert_eq!(seeded, on(makeup, Stage::Topping), "{:?}", makeup);
        }
    }

    #[test]
    fn what_goes_in_comes_out_after_its_minutes((f, k) in any_formula()) {
        let s = stations(&f, &k);
        let steps: Vec<Step> = s.day.steps.iter().map(|c| c.step.clone()).collect();
        for bake in steps.iter().filter(|s| s.id.starts_with("bake.")) {
            let which = bake.id.trim_start_matches("bake.");
            let (into, out) = (at(&steps, &format!("in.{which}")).unwrap(), at(&steps, &format!("out.{which}")).unwrap());
            prop_assert!((into.end().0 - bake.start.0).abs() < 1e-6 && (bake.end().0 - out.start.0).abs() < 1e-6, "{which}");
        }
        // A make-up bakes by itself or beside the rest; either way it comes out when it is done.
        for (n, answer) in s.makeups.iter().enumerate() {
            let out = at(&steps, &format!("out.{n}")).expect("every make-up comes out");
            if at(&steps, &format!("bake.{n}")).is_none() {
                let due = s.oven_at.0 + answer.bake.time.0;
                prop_assert!((due - 1e-6..=due + 12.0).contains(&out.start.0), "{} for {due}", out.start.0);
            }
        }
        // No more trays than the oven has levels, and all of them bake.
        let trays = s.work.tray.as_ref().map_or(1, |t| t.layout.trays.max(1));
        let batches = steps.iter().filter(|s| s.id.starts_with("bake.main")).count() as u32;
        prop_assert!(batches * 2 >= trays);
        // Nothing else is in the oven while a batch is.
        let mut bakes: Vec<&Step> = steps.iter().filter(|s| s.id.starts_with("bake.")).collect();
        bakes.sort_by(|a, b| a.start.0.total_cmp(&b.start.0));
        for pair in bakes.windows(2) {
            prop_assert!(pair[0].end().0 <= pair[1].start.0 + 1e-6);
        }
        prop_assert!(s.day.out <= s.day.ready);
    }

    #[test]
    fn one_pair_of_hands_has_one_step_at_a_time((f, k) in any_formula()) {
        let s = stations(&f, &k);
        let mut hands: Vec<&Step> = s.day.steps.iter().map(|c| &c.step).filter(|s| s.hands_on).collect();
        hands.sort_by(|a, b| a.start.0.total_cmp(&b.start.0));
        for w in hands.windows(2) {
            prop_assert!(w[0].end().0 <= w[1].start.0 + 1e-6, "{:?} and {:?}", w[0], w[1]);
        }
        prop_assert!(s.day.steps[0].step.start.0.abs() < 1e-9);
        prop_assert!(s.day.ready_early <= s.day.ready && s.day.ready <= s.day.ready_late);
    }

    /// Tasks are whole: each hangs on one that is there, and every one of them is a step of the day.
    #[test]
    fn every_task_hangs_on_another((f, k) in any_formula()) {
        let s = stations(&f, &k);
        let ids: Vec<&str> = s.tasks.iter().map(|t| t.id.as_str()).collect();
        for task in &s.tasks {
            prop_assert_eq!(ids.iter().filter(|id| **id == task.id).count(), 1, "{} stands once", &task.id);
            match &task.begins.of {
                Point::First => {}
                Point::Start(id) | Point::End(id) => {
                    prop_assert!(ids.contains(&id.as_str()) && *id != task.id, "{} hangs on {id}", task.id);
                }
            }
            prop_assert!(task.lasts.earliest <= task.lasts.best && task.lasts.best <= task.lasts.latest);
            prop_assert!(s.day.steps.iter().any(|c| c.step.id == task.id), "{} has its minutes", task.id);
            let in_the_oven = task.id.starts_with("in.") || task.id.starts_with("bake.");
            prop_assert_eq!(task.needs.oven.is_some(), in_the_oven, "{}", &task.id);
        }
        prop_assert_eq!(ids.len(), s.day.steps.len());
    }

    /// Whatever of its room each wait takes, the rest follows: nothing before what it needs, and never two
    /// things for one pair of hands.
    #[test]
    fn waits_may_be_ended_anywhere_in_their_room((f, k) in any_formula(), shares in prop::collection::vec(-1.0..1.0f64, 24)) {
        let mut tasks = stations(&f, &k).tasks;
        for (task, share) in tasks.iter_mut().zip(shares.iter().cycle()) {
            let l = task.lasts;
            let to = if *share < 0.0 { l.best - l.earliest } else { Minutes((l.latest - l.best).0.min(300.0)) };
            task.lasts.best = l.best + to * *share;
        }
        let laid = lay(&tasks);
        prop_assert_eq!(laid.steps.len(), tasks.len());
        let mut hands: Vec<&Step> = laid.steps.iter().filter(|s| s.hands_on).collect();
        hands.sort_by(|a, b| a.start.0.total_cmp(&b.start.0));
        for w in hands.windows(2) {
            prop_assert!(w[0].end().0 <= w[1].start.0 + 1e-6, "{:?} and {:?}", w[0], w[1]);
        }
        let order = ["bulk", "between", "second", "shape.0", "proof", "in.main", "bake.main", "out.main", "cool.main"];
        let there: Vec<&Step> = order.into_iter().filter_map(|id| at(&laid.steps, id)).collect();
        for pair in there.windows(2) {
            prop_assert!(pair[0].end().0 <= pair[1].start.0 + 1e-6, "{} before {}", pair[0].id, pair[1].id);
        }
    }

    /// One target is one figure, wherever it is said; a range never runs backwards.
    #[test]
    fn one_target_is_one_figure((mut f, k) in any_formula(), wished in 1.2..3.0f64) {
        f.rise.bulk.target = (4.0 * wished).round() / 4.0;
        f.rise.bulk.stays = None;
        let s = stations(&f, &k);
        let bulk = s.rise.bulk.as_ref().unwrap();
        let until = bulk.until(f.rise.bulk.target, false);
        let said = format!("{until:.2}").trim_end_matches('0').trim_end_matches('.').to_owned();
        let step = s.day.steps.iter().find(|c| c.step.id == "bulk").unwrap();
        prop_assert!(step.step.detail.contains(&format!("{said} times")), "{} for {said}", step.step.detail);
        prop_assert!(until <= f.rise.bulk.target + 1e-9 && (bulk.reached || until <= bulk.most + 1e-9));
        let sheet = export(&f, Some(&s), Format::Markdown, &Default::default());
        let says = format!("{said} times");
        prop_assert!(sheet.contains(&says), "the sheet says another height");
        for r in [&s.rise.bulk, &s.rise.second, &s.rise.proof].into_iter().flatten() {
            prop_assert!(r.grown_low <= r.grown + 1e-9 && r.grown <= r.grown_high + 1e-9);
            prop_assert!(r.early <= r.time && r.time <= r.late);
        }
    }

    /// A plan that does not hold says so, on the day as on the sheet; one that holds does not.
    #[test]
    fn a_stay_that_is_too_long_stops_the_plan(hours in 0.5..60.0f64, place in 3.0..26.0f64) {
        let mut f = Formula::beginning("Stays", Style::Tin);
        f.rise.bulk.place = Some(Celsius(place));
        f.rise.bulk.stays = Some(Hours(hours));
        let s = stations(&f, &Kitchen::default());
        let bulk = s.rise.bulk.as_ref().unwrap();
        let said = s.stops.iter().any(|t| t.contains("bulk rise stands"));
        prop_assert_eq!(said, bulk.has_sunk(), "{:?}", s.stops);
    }
}
