//! How long days take to plan, from one dough to six: two days, two nights, one oven, a wish for each. Figures are in
//! docs/plan.md.

#![allow(missing_docs, reason = "criterion makes the functions")]

use std::collections::BTreeMap;
use std::hint::black_box;

use cerealis_core::formula::Formula;
use cerealis_core::kitchen::{Away, Kitchen, KitchenPlace, Weekday};
use cerealis_core::pantry::Catalogue;
use cerealis_core::plan::{
    Asked, Closed, DayPlan, DaysInput, Gives, KnownWays, Lane, Pins, PlanDough, Problem, Search, Wanted,
    WantedAs, quick, solve, ways,
};
use cerealis_core::stations::read;
use cerealis_core::units::{Celsius, Minutes};
use cerealis_core::words::Style;
use criterion::{BatchSize, BenchmarkId, Criterion, criterion_group, criterion_main};
use jiff::civil::{date, time};

const STYLES: [Style; 6] =
    [Style::Tin, Style::Braid, Style::SoftRoll, Style::Hearth, Style::Rye, Style::Flat];
const LOOKS: u64 = 30_000;

fn days(c: &mut Criterion) {
    let now = "2026-11-26T08:00:00Z".parse().expect("it is written here");
    let kitchen = Kitchen::default();
    let lane = |n: usize| {
        let formula = Formula::beginning("A dough", STYLES[n]);
        let stations = read(&formula, &kitchen, Catalogue::bundled(), now).expect("a beginning reads");
        let wanted = if n == 0 { Wanted::At(504) } else { Wanted::By(518) };
        Lane { tasks: stations.tasks, wanted, ..Lane::default() }
    };
    let night =
        |d: i32| Closed { from: d * 288 + 270, to: d * 288 + 366, spares: 0, sleep: true, certain: false };
    let days_of = |count: usize| Problem {
        begins: 102,
        length: 576,
        lanes: (0..count).map(lane).collect(),
        closed: vec![night(-1), night(0), night(1)],
        hands: 1,
        one_less: Vec::new(),
        ovens: vec![2],
        oven_taken: Vec::new(),
        things: Vec::new(),
        gives: Gives::default(),
    };
    let mut group = c.benchmark_group("plan: doughs over two days, proved");
    group.sample_size(10);
    for count in 1..=STYLES.len() {
        let problem = days_of(count);
        group.bench_with_input(BenchmarkId::from_parameter(count), &problem, |b, problem| {
            b.iter(|| solve(black_box(problem), LOOKS));
        });
    }
    group.finish();
    let mut group = c.benchmark_group("plan: the first plan, without a search");
    group.sample_size(20);
    for count in [1, 3, 6] {
        let problem = days_of(count);
        group.bench_with_input(BenchmarkId::from_parameter(count), &problem, |b, problem| {
            b.iter(|| quick(black_box(problem)));
        });
    }
    group.finish();
    let formula = Formula::beginning("A dough", Style::Tin);
    c.bench_function("plan: the ways of one dough", |b| {
        b.iter(|| ways(black_box(&formula), Pins::default(), &kitchen, Catalogue::bundled(), now));
    });
}

/// A household with a job, a cellar and an airing cupboard, whose nights are so many K cooler, and doughs for Saturday and
/// Sunday, as they are asked on Friday morning.
fn household(count: usize, night: f64) -> DaysInput {
    const WISHES: [(i8, i8, WantedAs); 6] = [
        (28, 18, WantedAs::At),
        (29, 8, WantedAs::By),
        (29, 12, WantedAs::At),
        (28, 19, WantedAs::By),
        (28, 12, WantedAs::By),
        (29, 17, WantedAs::At),
    ];
    let place = |name: &str, temperature: f64| KitchenPlace {
        name: name.into(),
        temperature: Celsius(temperature),
        night: 0.0,
        tubs: None,
        measured: None,
    };
    let work = Away {
        name: "Work".into(),
        days: vec![Weekday::Friday],
        from: time(9, 0, 0, 0),
        to: time(13, 0, 0, 0),
        spares: Minutes(10.0),
    };
    let dough = |n: usize| PlanDough {
        formula: n as i32,
        wanted: WISHES[n].2,
        at: Some(date(2026, 11, WISHES[n].0).at(WISHES[n].1, 0, 0, 0)),
        pins: Pins::default(),
        fixed: Vec::new(),
    };
    let formula = |n: usize| (n as i32, Formula::beginning(STYLES[n].name(), STYLES[n]));
    DaysInput {
        plan: DayPlan {
            doughs: (0..count).map(dough).collect(),
            days: 3,
            ..DayPlan::beginning(date(2026, 11, 27))
        },
        formulas: (0..count).map(formula).collect::<BTreeMap<_, _>>(),
        kitchen: Kitchen {
            time_zone: "Europe/Paris".into(),
            night,
            away: vec![work],
            places: vec![place("Cellar", 14.0), place("Airing cupboard", 26.0)],
            ..Kitchen::default()
        },
        now: "2026-11-27T07:00:00Z".parse().expect("it is written here"),
    }
}

/// Doughs with all their ways, as a page asks for them: the ways once, the first offers, the best, and one plan while its
/// first wish is dragged by a quarter of an hour.
fn all_ways(c: &mut Criterion) {
    let catalogue = Catalogue::bundled();
    for night in [0.0, 5.0] {
        let mut group = c.benchmark_group(format!("plan: all ways, nights {night} K cooler"));
        group.sample_size(10);
        for count in [1, 3, 6] {
            let input = household(count, night);
            let mut known = KnownWays::default();
            group.bench_function(BenchmarkId::new("the ways, once", count), |b| {
                let new = KnownWays::default;
                let ask = |mut known| drop(black_box(Asked::of(&input, catalogue, &mut known)));
                b.iter_batched(new, ask, BatchSize::PerIteration);
            });
            let asked = Asked::of(&input, catalogue, &mut known).expect("these doughs are sound");
            let found = |quick| asked.plan(Search { quick, stop: None });
            group.bench_function(BenchmarkId::new("first offers", count), |b| b.iter(|| found(true)));
            group.bench_function(BenchmarkId::new("searched", count), |b| b.iter(|| found(false)));
            let key = found(true).offers[0].offer.key.clone();
            let mut moved = input.clone();
            let at = &mut moved.plan.doughs[0].at;
            *at = at.map(|at| at - jiff::Span::new().minutes(15));
            group.bench_function(BenchmarkId::new("a wish dragged", count), |b| {
                let ask = |mut known| {
                    let asked = Asked::along(&moved, &key, catalogue, &mut known);
                    black_box(asked.ok().and_then(|a| a.quick_of(&key)))
                };
                b.iter_batched(|| known.clone(), ask, BatchSize::PerIteration);
            });
        }
        group.finish();
    }
}

criterion_group!(benches, days, all_ways);
criterion_main!(benches);
