//! The day of several doughs: what every plan keeps to, and days as a baker would ask for them.

use cerealis_core::day::StepKind;
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::{Away, Kitchen, KitchenPlace, Weekday};
use cerealis_core::pantry::Catalogue;
use cerealis_core::plan::{
    Candidate, Choice, Closed, DayPlan, DaysInput, Lane, Outcome, Pins, PlanDough, PlannedStep, Problem,
    STEP, Solved, TOGETHER, Taken, Wanted, WantedAs, choose, days, replan, solve, ways,
};
use cerealis_core::stations::read;
use cerealis_core::units::{Celsius, Minutes};
use cerealis_core::words::Style;
use jiff::civil::{Date, date, time};
use jiff::tz::TimeZone;
use proptest::prelude::*;
use proptest::sample::select;

fn lane(style: Style, wanted: Wanted) -> Lane {
    let formula = Formula::beginning(style.name(), style);
    let now = "2026-11-26T08:00:00Z".parse().unwrap();
    let s = read(&formula, &Kitchen::default(), Catalogue::bundled(), now).unwrap();
    Lane { tasks: s.tasks, wanted, fixed: Vec::new(), oven: 0, mixer: 0 }
}

fn night(day: i32) -> Closed {
    Closed { from: day * 288 + 270, to: day * 288 + 366, spares: 0, sleep: true }
}

fn two_days(lanes: Vec<Lane>) -> Problem {
    let closed = vec![night(-1), night(0), night(1)];
    Problem { begins: 78, length: 576, lanes, closed, hands: 1, ovens: vec![2] }
}

/// What holds of any plan whatever, by the tasks themselves and not by what the search took them for.
fn keeps_to_its_rules(problem: &Problem, plan: &Solved) {
    let mut hands: Vec<(f64, f64, usize)> = Vec::new();
    let mut baking: Vec<(f64, f64, f64, usize, u32)> = Vec::new();
    for (n, (lane, placed)) in problem.lanes.iter().zip(&plan.lanes).enumerate() {
        for p in placed {
            let task = lane.tasks.iter().find(|t| t.id == p.id).unwrap();
            let end = p.start + p.length;
            assert!(p.start >= f64::from(problem.begins) * STEP - 1e-6, "{} begins before the plan", p.id);
            // A step of the grid either way is what it is rounded to.
            let (low, high) = (task.lasts.earliest.0 - STEP, task.lasts.latest.0 + STEP);
            assert!((low..=high).contains(&p.length), "{} of {} min in {low} to {high}", p.id, p.length);
            if task.needs.hands {
                hands.push((p.start, end, n));
                for c in &problem.closed {
                    let within = end.min(f64::from(c.to) * STEP) - p.start.max(f64::from(c.from) * STEP);
                    assert!(within <= f64::from(c.spares) * STEP + 1e-6, "{} in closed hours", p.id);
                }
            }
            if let Some(oven) = task.needs.oven {
                baking.push((p.start, end, oven.dial.0, n, oven.trays));
            }
        }
        let ready = lane.tasks.iter().rev().find(|t| t.id.starts_with("cool.")).unwrap();
        let at = placed.iter().find(|p| p.id == ready.id).map(|p| p.start + p.length).unwrap();
        match lane.wanted {
            Wanted::At(t) => {
                assert!((at - f64::from(t) * STEP).abs() <= 35.0, "wanted at {t}, ready at {at}")
            }
            Wanted::By(t) => assert!(at <= f64::from(t) * STEP + STEP, "wanted by {t}, ready at {at}"),
            Wanted::NotBefore(t) => assert!(at >= f64::from(t) * STEP - STEP, "ready at {at} before {t}"),
            Wanted::AnyTime => {}
        }
    }
    let overlap = |a: (f64, f64), b: (f64, f64)| a.1.min(b.1) - a.0.max(b.0);
    for (i, a) in hands.iter().enumerate() {
        for b in hands[i + 1..].iter().filter(|b| b.2 != a.2) {
            assert!(overlap((a.0, a.1), (b.0, b.1)) <= 1e-6, "one pair of hands has two things: {a:?} {b:?}");
        }
    }
    for (i, a) in baking.iter().enumerate() {
        for b in baking[i + 1..].iter().filter(|b| b.3 != a.3) {
            let together = overlap((a.0, a.1), (b.0, b.1)) > 1e-6;
            assert!(!together || (a.2 - b.2).abs() <= TOGETHER, "{:.0} and {:.0} °C at once", a.2, b.2);
        }
    }
}

fn found(problem: &Problem, looks: u64) -> Solved {
    match solve(problem, looks) {
        Outcome::Found(plan) => plan,
        other => panic!("{other:?}"),
    }
}

const LOOKS: u64 = 30_000;

#[test]
fn three_doughs_and_a_night_are_planned_and_proved() {
    let lanes = vec![
        lane(Style::Tin, Wanted::At(288 + 216)),
        lane(Style::Braid, Wanted::By(288 + 230)),
        lane(Style::SoftRoll, Wanted::By(288 + 230)),
    ];
    let problem = two_days(lanes);
    let plan = found(&problem, LOOKS);
    assert!(plan.proved && plan.cost == plan.bound);
    keeps_to_its_rules(&problem, &plan);
    assert_eq!(found(&problem, LOOKS), plan, "the same input gives the same plan");
}

#[test]
fn what_stands_is_not_moved_by_planning_again() {
    let mut problem =
        two_days(vec![lane(Style::Tin, Wanted::At(288 + 216)), lane(Style::SoftRoll, Wanted::AnyTime)]);
    let plan = found(&problem, LOOKS);
    for (lane, placed) in problem.lanes.iter_mut().zip(&plan.lanes) {
        let first = placed.iter().find(|p| p.id == "weigh").unwrap();
        lane.fixed = vec![("weigh".into(), (first.start / STEP).round() as i32)];
    }
    let again = found(&problem, LOOKS);
    assert!(again.cost <= plan.cost, "{} after {}", again.cost, plan.cost);
    for (before, after) in plan.lanes.iter().zip(&again.lanes) {
        assert!((before[0].start - after[0].start).abs() < STEP, "{:?} {:?}", before[0], after[0]);
    }
}

#[test]
fn a_night_without_a_way_round_it_is_impossible() {
    let mut problem = two_days(vec![lane(Style::Tin, Wanted::At(84))]);
    problem.begins = 0;
    assert_eq!(solve(&problem, LOOKS), Outcome::Impossible, "ready at seven, and asleep until half past six");
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, ..ProptestConfig::default() })]

    /// Whatever is asked: one pair of hands, one oven at one setting, no hands in closed hours, every wait in its window.
    #[test]
    fn every_plan_keeps_to_its_rules(
        styles in prop::collection::vec(select(&Style::ALL[..]), 1..4),
        wishes in prop::collection::vec((0u8..4, 150i32..540), 3),
        away in prop::option::of((300i32..480, 6i32..60, 0i32..4)),
        two in any::<bool>(),
    ) {
        let lanes = styles.iter().zip(&wishes).map(|(s, (kind, at))| lane(*s, match kind {
            0 => Wanted::At(*at),
            1 => Wanted::By(*at),
            2 => Wanted::NotBefore(*at),
            _ => Wanted::AnyTime,
        }));
        let mut problem = two_days(lanes.collect());
        problem.hands = 1 + i32::from(two);
        problem.closed.extend(away.map(|(from, length, spares)| Closed { from, to: from + length, spares, sleep: false }));
        if let Outcome::Found(plan) = solve(&problem, 3000) {
            prop_assert!(plan.cost >= plan.bound);
            if !two {
                keeps_to_its_rules(&problem, &plan);
            }
        }
    }

    /// A later wish never makes the first touch earlier, in the same way.
    #[test]
    fn a_later_wish_begins_no_earlier(style in select(&Style::ALL[..]), at in 400i32..520, later in 1i32..40) {
        let first = |at: i32| match solve(&Problem { length: 640, ..two_days(vec![lane(style, Wanted::At(at))]) }, LOOKS) {
            Outcome::Found(plan) if plan.costs.off_wish < 10.0 && plan.costs.off_best < 1e-9 => {
                Some(plan.lanes[0].iter().map(|p| p.start).fold(f64::INFINITY, f64::min))
            }
            _ => None,
        };
        if let (Some(a), Some(b)) = (first(at), first(at + later)) {
            prop_assert!(b >= a - 15.0, "{a} and {b}");
        }
    }
}

/// A Friday with work from nine to five, sleep from half past ten to half past six.
fn kitchen() -> Kitchen {
    let week = [Weekday::Monday, Weekday::Tuesday, Weekday::Wednesday, Weekday::Thursday, Weekday::Friday];
    let work = Away {
        name: "Work".into(),
        days: week.to_vec(),
        from: time(9, 0, 0, 0),
        to: time(17, 0, 0, 0),
        spares: Minutes(0.0),
    };
    let cellar = KitchenPlace {
        name: "Cellar".into(),
        temperature: Celsius(14.0),
        night: 0.0,
        tubs: None,
        measured: None,
    };
    Kitchen { away: vec![work], places: vec![cellar], ..Kitchen::default() }
}

const FRIDAY: Date = date(2026, 11, 27);

/// A dough and the hour at which it is wanted, counted from the midnight before Friday.
fn ask(asked: &[(Style, f64)], pins: Pins) -> Choice {
    let kitchen = kitchen();
    let plan = DayPlan { days: 3, ..DayPlan::beginning(FRIDAY) };
    let now = FRIDAY.at(6, 30, 0, 0).to_zoned_datetime(TimeZone::UTC).unwrap().timestamp();
    let base = plan.problem(&kitchen, now);
    let candidates: Vec<Candidate> = asked
        .iter()
        .map(|(style, hour)| {
            let formula = Formula::beginning(style.name(), *style);
            Candidate {
                name: style.name().into(),
                wanted: Wanted::At((hour * 12.0).round() as i32),
                ways: ways(&formula, pins, &kitchen, Catalogue::bundled(), now),
                fixed: Vec::new(),
                oven: 0,
                mixer: 0,
            }
        })
        .collect();
    let choice = choose(&base, &candidates);
    for offer in &choice.offers {
        let lanes = candidates.iter().zip(&offer.ways).map(|(c, w)| Lane {
            tasks: c.ways[*w].tasks.clone(),
            wanted: if choice.gives_up.is_empty() { c.wanted } else { Wanted::AnyTime },
            fixed: Vec::new(),
            oven: 0,
            mixer: 0,
        });
        if choice.gives_up.is_empty() {
            keeps_to_its_rules(&Problem { lanes: lanes.collect(), ..base.clone() }, &offer.plan);
        }
        assert!((0.0..=100.0).contains(&offer.chance.holds));
    }
    choice
}

fn asked(hour: i8, now: &str) -> DaysInput {
    let dough = |formula, hour| PlanDough {
        formula,
        wanted: WantedAs::At,
        at: Some(date(2026, 11, 28).at(hour, 0, 0, 0)),
        pins: Pins::default(),
        fixed: Vec::new(),
    };
    let formulas = [(1, Style::Tin), (2, Style::SoftRoll)];
    DaysInput {
        plan: DayPlan { doughs: vec![dough(1, hour), dough(2, hour + 1)], ..DayPlan::beginning(FRIDAY) },
        formulas: formulas.into_iter().map(|(n, s)| (n, Formula::beginning(s.name(), s))).collect(),
        kitchen: kitchen(),
        now: now.parse().unwrap(),
    }
}

fn take(input: &DaysInput) -> Taken {
    let answer = days(input, Catalogue::bundled()).unwrap();
    assert!(answer.gives_up.is_empty());
    let first = &answer.offers[0];
    Taken {
        key: first.offer.key.clone(),
        changes: first.offer.changes.clone(),
        doughs: answer.doughs.iter().map(|d| d.name.clone()).collect(),
        steps: first.steps.clone(),
        since: Vec::new(),
        sequence: 0,
    }
}

/// Planned again with nothing changed, nothing changes; forty minutes late, what has begun stays and the rest is later.
#[test]
fn the_rest_is_planned_again_and_what_is_done_stays() {
    let before = asked(18, "2026-11-27T06:30:00Z");
    let taken = take(&before);
    let mixed = taken.steps.iter().find(|s| s.id == "bulk").unwrap();
    let now = mixed.at + jiff::SignedDuration::from_mins(20);
    let later = DaysInput { now, ..before };
    let same = replan(&later, &taken, None, Catalogue::bundled()).unwrap().unwrap();
    assert!(same.moved.iter().all(|m| m.abs() < 10.0) && same.over.is_empty(), "{:?}", same.moved);
    for step in taken.steps.iter().filter(|s| s.at <= now) {
        let again = same.steps.iter().find(|s| s.dough == step.dough && s.id == step.id).unwrap();
        assert!((again.at.duration_since(step.at).as_secs_f64() / 60.0).abs() <= STEP, "{}", step.id);
    }
    let until = now + jiff::SignedDuration::from_hours(3);
    let held = replan(&later, &taken, Some(until), Catalogue::bundled()).unwrap().unwrap();
    // Mixing that has begun is brought to its end; nobody shapes before there are hands again.
    let shapes = |s: &&PlannedStep| s.hands_on && s.at > now && s.kind == StepKind::Shape;
    let next = held.steps.iter().find(shapes).unwrap();
    assert!(next.at >= until - jiff::SignedDuration::from_mins(5), "{} at {}", next.id, next.at);
    assert!(
        !held.over.is_empty() || held.moved.iter().any(|m| *m > 20.0),
        "{:?} {:?}",
        held.moved,
        held.over
    );
}

/// A tin loaf for Saturday supper is made on Saturday as it is written, and nothing is offered first that is riskier.
#[test]
fn a_loaf_for_saturday_supper_is_made_as_written() {
    let choice = ask(&[(Style::Tin, 24.0 + 18.0)], Pins::default());
    assert_eq!(choice.offers[0].key, "as-written", "{:?}", choice.offers[0].changes);
    assert!(choice.proved && choice.offers[0].chance.holds > 90.0, "{:?}", choice.offers[0].chance);
    assert!(choice.offers[0].plan.lanes[0][0].start > 24.0 * 60.0, "on Saturday");
    assert!(choice.offers.len() > 1, "others are shown beside it");
}

/// Rolls for breakfast, asleep until half past six: no baker gets up at three; the dough goes into the fridge, or is
/// mixed with less yeast in the evening.
#[test]
fn rolls_for_breakfast_rise_overnight() {
    let choice = ask(&[(Style::SoftRoll, 24.0 + 9.0)], Pins::default());
    assert!(choice.gives_up.is_empty());
    let kinds = ["fridge", "yeast", "place"];
    assert!(kinds.iter().any(|k| choice.offers[0].key.starts_with(k)), "{}", choice.offers[0].key);
    assert!(choice.offers[0].plan.lanes[0][0].start < 22.5 * 60.0, "begun on Friday");
    // Nothing may be changed: then there is none, and it is said what stands in the way.
    let pins = Pins { no_fridge: true, yeast: true, place: true };
    let none = ask(&[(Style::SoftRoll, 24.0 + 9.0)], pins);
    assert!(!none.gives_up.is_empty() && !none.offers.is_empty(), "{:?}", none.gives_up);
}

/// Bread for Saturday at six and buns for breakfast on Sunday: two doughs, one pair of hands, one oven, a night.
#[test]
fn bread_on_saturday_and_buns_on_sunday() {
    let choice = ask(&[(Style::Hearth, 24.0 + 18.0), (Style::SoftRoll, 48.0 + 9.0)], Pins::default());
    assert!(choice.gives_up.is_empty(), "{:?}", choice.gives_up);
    assert!(choice.offers.iter().all(|o| o.plan.costs.off_wish <= 60.0));
    // The hearth round is made on Saturday itself; the buns are begun before the night.
    let first = &choice.offers[0].plan.lanes;
    assert!(first[0][0].start >= 24.0 * 60.0 && first[1][0].start < (24.0 + 22.5) * 60.0);
}
