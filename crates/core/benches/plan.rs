//! How long days take to plan, from one dough to six: two days, two nights, one oven, a wish for each. Figures are in
//! docs/plan.md.

#![allow(missing_docs, reason = "criterion makes the functions")]

use std::hint::black_box;

use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::Catalogue;
use cerealis_core::plan::{Closed, Lane, Pins, Problem, Wanted, quick, solve, ways};
use cerealis_core::stations::read;
use cerealis_core::words::Style;
use criterion::{BenchmarkId, Criterion, criterion_group, criterion_main};

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

criterion_group!(benches, days);
criterion_main!(benches);
