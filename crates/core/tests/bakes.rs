//! Bakes against practice: each within its range, and no class long or short on the whole. Common practice, no
//! source.
//!
//! `cargo test -p cerealis-core --test bakes -- --nocapture` prints the figures of docs/oven.md.

use std::collections::BTreeMap;

use cerealis_core::oven::{BakeInput, BakeOutput, bake};
use serde_json::{Map, Value, json};

struct Case {
    class: &'static str,
    name: &'static str,
    minutes: (f64, f64),
    loss: Option<(f64, f64)>,
    input: BakeInput,
}

fn range(text: &str) -> Option<(f64, f64)> {
    let (from, to) = text.split_once('-')?;
    Some((from.parse().ok()?, to.parse().ok()?))
}

fn pan(text: &str) -> Value {
    let sides: Vec<f64> = text.split('x').map(|n| n.parse().expect("a figure in cm")).collect();
    match sides[..] {
        [across, depth] => json!({ "shape": "round", "length": across, "depth": depth }),
        [length, width, depth] => json!({ "shape": "tin", "length": length, "width": width, "depth": depth }),
        _ => panic!("{text} is no pan"),
    }
}

fn input(what: &str, rest: &str) -> BakeInput {
    let words: Vec<&str> = what.split_whitespace().collect();
    let [grams, kind, style, vessel, oven] = words[..] else { panic!("{what}") };
    let number = |text: &str| text.parse::<f64>().unwrap_or_else(|_| panic!("{text} in {what}"));
    let mut out = json!({
        "piece": number(grams), "kind": kind, "style": style, "proofed_volume": 2.2, "start": 25, "water": 46,
        "preheat": 15, "oven": { "vessel": vessel, "temperature": number(oven) },
    });
    let mut bed: Map<String, Value> = Map::new();
    for word in rest.split_whitespace() {
        let (name, value) = word.split_once('=').unwrap_or((word, ""));
        match name {
            "vol" => out["proofed_volume"] = number(value).into(),
            "water" | "sugar" => out[name] = number(value).into(),
            "whole" => out["whole_grain"] = number(value).into(),
            "dairy" | "fan" | "dark" => out[name] = true.into(),
            "wash" => out["washed"] = true.into(),
            "bath" => out["bathed"] = true.into(),
            "steam" => out["oven"]["steam"] = true.into(),
            "pan" => drop(bed.insert("pan".into(), pan(value))),
            "n" => drop(bed.insert("pieces".into(), (number(value) as u32).into())),
            "hot" => {
                let (t, m) = value.split_once('/').expect("°C/min");
                out["oven"]["hot_start"] = json!({ "temperature": number(t), "minutes": number(m) });
            }
            _ => panic!("{word}"),
        }
    }
    if !bed.is_empty() {
        out["bed"] = bed.into();
    }
    serde_json::from_value(out).unwrap_or_else(|e| panic!("{what}: {e}"))
}

fn cases() -> Vec<Case> {
    let table = include_str!("bakes/practice.txt").lines().filter(|l| !l.starts_with('#'));
    table
        .map(|line| {
            let cells: Vec<&str> = line.split(" | ").map(str::trim).collect();
            Case {
                class: cells[0],
                name: cells[1],
                minutes: range(cells[2]).unwrap_or_else(|| panic!("{line}")),
                loss: range(cells[3]),
                input: input(cells[4], cells.get(5).unwrap_or(&"")),
            }
        })
        .collect()
}

/// How far a bake is from the middle of its range: 0.1 is a tenth too long.
fn off(case: &Case, out: &BakeOutput) -> f64 {
    out.time.0 / (0.5 * (case.minutes.0 + case.minutes.1)) - 1.0
}

#[test]
fn bakes_come_out_when_bakers_take_them_out() {
    let all: Vec<(Case, BakeOutput)> = cases()
        .into_iter()
        .map(|c| {
            let out = bake(&c.input).unwrap();
            (c, out)
        })
        .collect();
    let mut by_class: BTreeMap<&str, Vec<f64>> = BTreeMap::new();
    let (mut inside, mut covered, mut faults) = (0, 0, Vec::new());
    for (c, out) in &all {
        let (from, to) = c.minutes;
        let t = out.time.0;
        println!(
            "| {} | {} | {from:.0} to {to:.0} | {t:.0} ({:.0} to {:.0}) | {:+.0} % | {:?}, core {:.0}, {}, loses {:.0} % |",
            c.class,
            c.name,
            out.early.0,
            out.late.0,
            100.0 * off(c, out),
            out.last,
            out.core.0,
            out.colour,
            out.loss_cooled
        );
        by_class.entry(c.class).or_default().push(off(c, out));
        inside += usize::from((from..=to).contains(&t));
        covered += usize::from(out.early.0 <= 0.5 * (from + to) && 0.5 * (from + to) <= out.late.0);
        if t < from / 1.2 || t > 1.2 * to {
            faults.push(format!("{}: {t:.0} min for {from} to {to}", c.name));
        }
        if let Some((dry, drier)) = c.loss.filter(|(dry, drier)| !(*dry..=*drier).contains(&out.loss_cooled))
        {
            faults.push(format!("{}: loses {:.1} % for {dry} to {drier}", c.name, out.loss_cooled));
        }
    }
    let mean = |errors: &[f64]| errors.iter().sum::<f64>() / errors.len() as f64;
    for (class, errors) in &by_class {
        println!("{class}: {:+.1} % over {}", 100.0 * mean(errors), errors.len());
        if mean(errors).abs() > 0.10 {
            faults.push(format!("{class} is off by {:+.0} %", 100.0 * mean(errors)));
        }
    }
    let errors: Vec<f64> = all.iter().map(|(c, out)| off(c, out)).collect();
    println!(
        "all: {:+.1} % over {}, {inside} inside, {covered} covered",
        100.0 * mean(&errors),
        errors.len()
    );
    if mean(&errors).abs() > 0.05 {
        faults.push(format!("all are off by {:+.1} %", 100.0 * mean(&errors)));
    }
    if 10 * inside < 9 * all.len() {
        faults.push(format!("{inside} of {} inside", all.len()));
    }
    assert!(all.len() >= 60 && faults.is_empty(), "{}", faults.join("\n"));
}
