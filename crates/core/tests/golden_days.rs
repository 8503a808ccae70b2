//! The days of many doughs, as they were laid out when they were last looked over: eight styles of bread in the
//! shapes and ways of mixing that they are baked in, and the demo's. A change here is a change of what bakers are told; after
//! looking it over, `GOLDEN=write cargo test -p cerealis-core --test all golden_days::` takes it.

use crate::common;
use std::fmt::Write;

use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::Catalogue;
use cerealis_core::stations::read;
use cerealis_core::words::{Kind, Method, Style};

const KINDS: [Kind; 5] = [Kind::Round, Kind::Tin, Kind::Braid, Kind::Bun, Kind::Flat];
const METHODS: [Method; 3] = [Method::Hand, Method::Mixer, Method::Fold];

fn days() -> String {
    let kitchen = Kitchen { time_zone: "Europe/Paris".into(), ..Kitchen::default() };
    let mut all = String::new();
    for style in Style::ALL {
        for kind in KINDS {
            for method in METHODS {
                let mut f = Formula::beginning("Golden", style);
                f.shape.kind = kind;
                f.shape.pieces = if kind == Kind::Bun { 9 } else { 1 };
                f.mix.method = method;
                let name = format!("{} · {} · {}", style.key(), kind.key(), method.key());
                write_day(&mut all, &name, &f, &kitchen);
            }
        }
    }
    let kitchen: Kitchen = toml::from_str(include_str!("../../../data/demo/kitchen.toml")).unwrap();
    for f in common::demo() {
        write_day(&mut all, &f.name, &f, &kitchen);
    }
    all
}

fn write_day(all: &mut String, name: &str, f: &Formula, kitchen: &Kitchen) {
    let now = "2026-03-14T08:00:00Z".parse().unwrap();
    let _ = writeln!(all, "== {name}");
    match read(f, kitchen, Catalogue::bundled(), now) {
        Ok(s) => {
            for step in &s.day.steps {
                let (at, minutes) = (step.at.strftime("%a %H:%M"), step.step.length.0);
                let _ = writeln!(all, "{at} {minutes:.1} {} {}", step.step.id, step.step.title);
            }
        }
        Err(faults) => {
            let _ = writeln!(all, "refused: {faults}");
        }
    }
}

#[test]
fn the_days_are_as_they_were() {
    let now = days();
    let path = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/golden/days.txt");
    if std::env::var_os("GOLDEN").is_some() {
        std::fs::write(path, &now).unwrap();
    }
    let was = std::fs::read_to_string(path).unwrap();
    let other: Vec<(&str, &str)> = was.lines().zip(now.lines()).filter(|(a, b)| a != b).take(10).collect();
    assert!(other.is_empty() && was.len() == now.len(), "was and is: {other:#?}");
}
