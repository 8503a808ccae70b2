//! The search against another solver.

use super::super::blocks::{Block, Link, OvenUse, Use};
use super::super::problem::{Closed, Lane};
use super::*;
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

fn one_dough(v: &Value) -> Blocks {
    let block = |b: &Value| Block {
        hands: lists(&b["hands"]).iter().map(|u| Use { from: u[0] as i32, lasts: u[1] as i32 }).collect(),
        oven: lists(&b["oven"])
            .iter()
            .map(|u| OvenUse {
                when: Use { from: u[0] as i32, lasts: u[1] as i32 },
                dial: u[2],
                trays: u[3] as i32,
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
        blocks,
        links: lists(&v["links"]).iter().map(link).collect(),
        tasks: Vec::new(),
        ready: Some(At { block: ready[0] as usize, minutes: ready[1] }),
        wanted: match v["wanted"][0].as_str().unwrap() {
            "at" => Wanted::At(at),
            "by" => Wanted::By(at),
            "not-before" => Wanted::NotBefore(at),
            _ => Wanted::AnyTime,
        },
    }
}

/// Looks at one day: a few of the two hundred are hard, and are not waited for.
const LOOKS: u64 = 4_000;

/// Two hundred random days of one to four doughs against OR-Tools 9.15's CP-SAT, by the same model written a second
/// time (`scripts/plan_cpsat.py`, which made the file): the same optimum, and no plan where it proves that there is
/// none. It took 212 s over them, one thread, beside other work.
#[test]
fn the_optimum_is_that_of_another_solver() {
    let all: Vec<Value> = serde_json::from_str(include_str!("../../../tests/data/plan_cpsat.json")).unwrap();
    let (mut proved, mut best) = (0, 0);
    for (n, day) in all.iter().enumerate() {
        let blocks: Vec<Blocks> = day["lanes"].as_array().unwrap().iter().map(one_dough).collect();
        let lane = Lane { tasks: Vec::new(), wanted: Wanted::AnyTime, fixed: Vec::new(), oven: 0, mixer: 0 };
        let closed = lists(&day["closed"]);
        let problem = Problem {
            begins: 0,
            length: day["length"].as_i64().unwrap() as i32,
            lanes: vec![lane; blocks.len()],
            closed: closed
                .iter()
                .map(|c| Closed { from: c[0] as i32, to: c[1] as i32, spares: c[2] as i32, sleep: true })
                .collect(),
            hands: 1,
            ovens: vec![2],
        };
        match (best_of(&problem, &blocks, LOOKS), day["optimum"].as_i64()) {
            (Outcome::Found(plan), Some(optimum)) => {
                assert!(i64::from(plan.bound) <= optimum, "day {n}: bound {} over {optimum}", plan.bound);
                assert!(i64::from(plan.cost) >= optimum, "day {n}: {} under {optimum}", plan.cost);
                if plan.proved {
                    assert_eq!(i64::from(plan.cost), optimum, "day {n}");
                    proved += 1;
                }
                best += u32::from(i64::from(plan.cost) == optimum);
            }
            (Outcome::Impossible, None) => proved += 1,
            (Outcome::GaveUp, _) => {}
            (other, optimum) => panic!("day {n}: {other:?} for {optimum:?}"),
        }
    }
    eprintln!("{proved} of {} proved, {best} at the optimum", all.len());
    assert!(proved >= 180, "{proved} of {} proved, {best} at the optimum", all.len());
}
