//! The search against another solver.

use super::super::alone;
use super::super::blocks::{Block, Hold, Link, OvenUse, Use};
use super::super::problem::{Closed, Gives, Lane, Within};
use super::super::standing::Standing;
use super::super::terms::Terms;
use super::*;
use crate::words::Air;
use serde_json::Value;

fn numbers(v: &Value) -> Vec<f64> {
    v.as_array()
        .unwrap()
        .iter()
        .map(|x| x.as_f64().unwrap_or_else(|| f64::from(u8::from(x == true))))
        .collect()
}

fn lists(v: &Value) -> Vec<Vec<f64>> {
    v.as_array().unwrap().iter().map(numbers).collect()
}

fn hold(v: &Value) -> Hold {
    let v = numbers(v);
    let at = |n: usize| At { block: v[n] as usize, minutes: STEP * v[n + 1] };
    Hold { thing: v[0] as usize, from: at(1), to: at(3), takes: v[5] as i32 }
}

fn one_dough(v: &Value) -> Blocks {
    let block = |b: &Value| Block {
        hands: lists(&b["hands"]).iter().map(|u| Use { from: u[0] as i32, lasts: u[1] as i32 }).collect(),
        oven: lists(&b["oven"])
            .iter()
            .map(|u| OvenUse {
                when: Use { from: u[0] as i32, lasts: u[1] as i32 },
                dial: u[2],
                trays: u[3] as i32,
                air: Air::ALL[u[4] as usize],
                heats: u[5] as i32,
                pot: u[6] > 0.0,
            })
            .collect(),
        reach: (b["reach"][0].as_i64().unwrap() as i32, b["reach"][1].as_i64().unwrap() as i32),
        ..Block::default()
    };
    let link = |l: &Vec<f64>| Link {
        from: l[0] as usize,
        to: l[1] as usize,
        earliest: l[2] as i32,
        best: l[3] as i32,
        latest: l[4] as i32,
        waits: l[5] > 0.0,
    };
    let at = v["wanted"][1].as_i64().unwrap() as i32;
    let blocks: Vec<Block> = v["blocks"].as_array().unwrap().iter().map(block).collect();
    let ready = numbers(&v["ready"]);
    Blocks {
        given: vec![None; blocks.len()],
        pinned: Vec::new(),
        blocks,
        links: lists(&v["links"]).iter().map(link).collect(),
        tasks: Vec::new(),
        oven: 0,
        holds: v["holds"].as_array().map_or(Vec::new(), |all| all.iter().map(hold).collect()),
        ready: Some(At { block: ready[0] as usize, minutes: ready[1] }),
        wanted: match v["wanted"][0].as_str().unwrap() {
            "at" => Wanted::At(at),
            "by" => Wanted::By(at),
            "not-before" => Wanted::NotBefore(at),
            _ => Wanted::AnyTime,
        },
        begins: Within::default(),
    }
}

/// The hours and things of a day, for so many doughs.
fn one_day(day: &Value, doughs: usize) -> Problem {
    let hours = |c: &Vec<f64>| {
        let [from, to, spares] = [0, 1, 2].map(|n| c[n] as i32);
        Closed { from, to, spares, sleep: true, certain: false }
    };
    Problem {
        begins: 0,
        length: day["length"].as_i64().unwrap() as i32,
        lanes: vec![Lane::default(); doughs],
        closed: lists(&day["closed"]).iter().map(hours).collect(),
        hands: 1,
        one_less: Vec::new(),
        ovens: vec![2],
        oven_taken: Vec::new(),
        things: numbers(&day["things"]).into_iter().map(|n| n as i32).collect(),
        gives: Gives::default(),
    }
}

/// Looks at one day: enough to prove each of the two hundred.
const LOOKS: u64 = 30_000;

/// Two hundred random days of one to four doughs against OR-Tools 9.15's CP-SAT, by the same model written a second
/// time (`scripts/plan_cpsat.py`, which made the file): the same optimum, and no plan where it proves that there is
/// none. It took 47 s over them, one thread, beside other work.
#[test]
fn the_optimum_is_that_of_another_solver() {
    let all: Vec<Value> = serde_json::from_str(include_str!("../../../tests/data/plan_cpsat.json")).unwrap();
    let (mut proved, mut best, mut nearest, mut asked_proved) = (0, 0, 0, 0);
    for (n, day) in all.iter().enumerate() {
        let blocks: Vec<Blocks> = day["lanes"].as_array().unwrap().iter().map(one_dough).collect();
        let mut problem = one_day(day, blocks.len());
        let effort = Effort { looks: LOOKS, stop: None };
        let solved = |problem: &Problem, blocks: &[Blocks]| {
            let each = blocks.iter().cloned().map(|b| Dough::in_blocks(problem, b));
            let doughs: Option<Vec<Dough>> = each.collect();
            doughs.map_or(Outcome::Impossible, |doughs| best_of(problem, doughs, None, effort))
        };
        // Where not all can be, that which is nearest to what was asked.
        let mut optimum = day["optimum"].as_i64();
        let mut found = solved(&problem, &blocks);
        if let (Outcome::Impossible, None) = (&found, optimum) {
            problem.gives = Gives::ALL;
            (found, optimum) = (solved(&problem, &blocks), day["nearest"].as_i64());
            nearest += usize::from(optimum.is_some());
        }
        let before = proved;
        match (found, optimum) {
            (Outcome::Found(plan), Some(optimum)) => {
                assert!(i64::from(plan.bound) <= optimum, "day {n}: bound {} over {optimum}", plan.bound);
                assert!(i64::from(plan.cost) >= optimum, "day {n}: {} under {optimum}", plan.cost);
                if plan.proved {
                    assert_eq!(i64::from(plan.cost), optimum, "day {n}");
                    proved += 1;
                }
                best += u32::from(i64::from(plan.cost) == optimum);
                if !plan.proved {
                    println!("day {n}: {} for {optimum}, not proved", plan.cost);
                }
            }
            (Outcome::Impossible, None) => proved += 1,
            (Outcome::GaveUp, _) => panic!("day {n}: no plan at all"),
            (other, optimum) => panic!("day {n}: {other:?} for {optimum:?}"),
        }
        asked_proved +=
            if problem.gives == Gives::default() || optimum.is_none() { proved - before } else { 0 };
    }
    // Where all can be as it is asked, each is proved; one of those that are nearest to what cannot be is too much for so
    // many looks, and what was found for it is 8 % over the optimum.
    println!("{proved} proved, {best} at the optimum, {nearest} nearest to what cannot be");
    assert!(proved + 1 >= all.len() && nearest > 30, "{proved} proved, {nearest} nearest");
    assert_eq!(asked_proved, all.len() - nearest, "as asked");
}

/// One dough by itself: the sum over its blocks is what the solver finds, and never over it where two of its own blocks
/// want the same hands.
#[test]
fn the_sum_over_one_dough_is_the_optimum() {
    let all: Vec<Value> = serde_json::from_str(include_str!("../../../tests/data/plan_cpsat.json")).unwrap();
    let (mut same, mut impossible) = (0, 0);
    for (n, day) in all.iter().enumerate() {
        let problem = one_day(day, 1);
        for dough in day["lanes"].as_array().unwrap() {
            let blocks = [one_dough(dough)];
            let terms = Terms::of(&problem, &blocks[0], None);
            let summed = terms.as_ref().and_then(|t| alone::best(0, &blocks[0], t, None));
            let Some(terms) = terms else {
                impossible += 1;
                continue;
            };
            let effort = Effort { looks: LOOKS, stop: None };
            match (run(&problem, &blocks, std::slice::from_ref(&terms), &[0], None, effort), summed) {
                (Tried::Found(raw), Some(starts)) => {
                    let cost = terms.cost(&raw.starts[0]);
                    let fits = Standing::new(&problem).take(0, &blocks[0], &starts);
                    let sum = terms.cost(&starts);
                    assert!(sum <= cost, "day {n}: {sum} for {cost}");
                    if fits && raw.proved {
                        assert_eq!(sum, cost, "day {n}");
                        same += 1;
                    }
                }
                (Tried::Impossible, None) => impossible += 1,
                (Tried::Impossible, Some(starts)) => {
                    assert!(!Standing::new(&problem).take(0, &blocks[0], &starts), "day {n}");
                }
                (Tried::Found(_), None) => panic!("day {n}: a plan where the sum has none"),
                (Tried::GaveUp, _) => panic!("day {n}: one dough is too much"),
            }
        }
    }
    assert!(same > 200 && impossible > 20, "{same} alike, {impossible} impossible");
}
