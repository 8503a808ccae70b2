//! Rises against practice: each within its range, and none slow or quick on the whole. Common practice, no source.
//!
//! Table and picture of docs/rises.md are made here, and must be those of today: `DOCS=write cargo test -p
//! cerealis-core --test all rises::` writes it.

use crate::docs;
use crate::docs::Row;
use std::collections::BTreeMap;

use cerealis_core::rise::{Dough, KITCHEN_SPREAD, Place, RiseInput, Stretch, rise};
use cerealis_core::units::{Celsius, Grams, Hours, Minutes, Percent};
use cerealis_core::words::Handling;

enum Wanted {
    /// Minutes to so many times.
    To(f64),
    /// Times after so many hours.
    At(f64),
}

struct Case {
    class: &'static str,
    name: &'static str,
    wanted: Wanted,
    range: (f64, f64),
    input: RiseInput,
}

impl Case {
    /// The middle of its range: of minutes by their ratio, of times by their difference.
    fn middle(&self) -> f64 {
        let (from, to) = self.range;
        match self.wanted {
            Wanted::To(_) => (from * to).sqrt(),
            Wanted::At(_) => 0.5 * (from + to),
        }
    }
}

fn dough(text: &str) -> (Dough, f64, f64) {
    let of: BTreeMap<&str, &str> =
        text.split_whitespace().map(|w| w.split_once('=').unwrap_or_else(|| panic!("{w}"))).collect();
    let known = ["t", "yeast", "culture", "water", "salt", "sugar", "fat", "hold", "pace", "kg"];
    assert!(of.keys().all(|k| known.contains(k)), "{text}");
    let number = |name: &str, usual: f64| of.get(name).map_or(usual, |n| n.parse().unwrap());
    let (start, place) = of["t"].split_once('>').unwrap_or((of["t"], of["t"]));
    let (water, salt, sugar, fat) =
        (number("water", 65.0), number("salt", 2.0), number("sugar", 0.0), number("fat", 0.0));
    let flour = 1000.0 * number("kg", 0.6);
    // Salt gives two particles, and so does sugar once yeast has split it.
    let osmolality = (salt * 10.0 / 58.44 * 2.0 + sugar * 10.0 / 342.3 * 2.0) / (water / 100.0);
    let dough = Dough {
        mass: Grams(flour * (1.0 + (water + salt + sugar + fat) / 100.0)),
        flour: Grams(flour),
        water: Percent(water),
        instant_yeast: Percent(number("yeast", 0.0)),
        unbloomed: false,
        culture: Percent(number("culture", 0.0)),
        sugar: Percent(sugar),
        fat: Percent(fat),
        salt: Percent(salt),
        osmolality,
        hold: number("hold", 3.8),
        pace: number("pace", 1.0),
    };
    (dough, start.parse().unwrap(), place.parse().unwrap())
}

fn case(line: &'static str) -> Case {
    let cells: Vec<&str> = line.split(" | ").map(str::trim).collect();
    let [class, name, wanted, text] = cells[..] else { panic!("{line}") };
    let words: Vec<&str> = wanted.split_whitespace().collect();
    let range = words.last().and_then(|r| r.split_once('-')).unwrap_or_else(|| panic!("{line}"));
    let figure: f64 = words[1].parse().unwrap();
    let wanted = if words[0] == "to" { Wanted::To(figure) } else { Wanted::At(figure) };
    let (dough, start, place) = dough(text);
    let at = |target: f64, hours: Option<f64>| Stretch {
        places: vec![Place::steady(Celsius(place))],
        target,
        hours: hours.map(Hours),
        ..Stretch::default()
    };
    let bulk = match wanted {
        Wanted::To(times) => at(times, None),
        Wanted::At(hours) => at(2.0, Some(hours)),
    };
    let input = RiseInput {
        dough,
        start: Celsius(start),
        bulk,
        between: Handling::Firm,
        second: Stretch::default(),
        handling: Handling::Gentle,
        shaping: Minutes(10.0),
        room: Celsius(place),
        piece: None,
        proof: at(1.2, None),
        kitchen: 1.0,
        spread: KITCHEN_SPREAD,
    };
    Case { class, name, wanted, range: (range.0.parse().unwrap(), range.1.parse().unwrap()), input }
}

struct Risen {
    case: Case,
    /// Minutes or times, as is wanted, with the ends of what is likely.
    got: f64,
    likely: (f64, f64),
    reached: bool,
}

impl Risen {
    fn inside(&self) -> bool {
        self.reached && (self.case.range.0..=self.case.range.1).contains(&self.got)
    }

    /// The logarithm of what came out over the middle of the range: of minutes, or of times its volume.
    fn off(&self) -> f64 {
        (self.got / self.case.middle()).ln()
    }
}

fn all() -> Vec<Risen> {
    let table = include_str!("rises/practice.txt").lines().filter(|l| !l.starts_with('#'));
    table
        .map(|line| {
            let case = case(line);
            let f = rise(&case.input).unwrap().bulk.unwrap();
            match case.wanted {
                Wanted::To(_) => {
                    Risen { got: f.time.0, likely: (f.early.0, f.late.0), reached: f.reached, case }
                }
                Wanted::At(_) => {
                    Risen { got: f.grown, likely: (f.grown_low, f.grown_high), reached: true, case }
                }
            }
        })
        .collect()
}

fn mean(errors: impl Iterator<Item = f64>) -> f64 {
    let errors: Vec<f64> = errors.collect();
    errors.iter().sum::<f64>() / errors.len() as f64
}

fn classes(all: &[Risen]) -> Vec<&'static str> {
    let mut names: Vec<&str> = Vec::new();
    for r in all {
        if !names.contains(&r.case.class) {
            names.push(r.case.class);
        }
    }
    names
}

#[test]
fn rises_go_as_bakers_know_them() {
    let all = all();
    let inside = all.iter().filter(|r| r.inside()).count();
    let missed: Vec<String> = all
        .iter()
        .filter(|r| !r.inside())
        .map(|r| format!("{}: {:.2} for {:?}", r.case.name, r.got, r.case.range))
        .collect();
    let off = mean(all.iter().map(Risen::off));
    assert!(all.len() >= 35);
    assert!(10 * inside >= 9 * all.len(), "{inside} of {} inside; missed: {missed:#?}", all.len());
    assert!(off.abs() <= 0.05, "mean of the logarithms {off:+.3}");
    for class in classes(&all) {
        let off = mean(all.iter().filter(|r| r.case.class == class).map(Risen::off));
        assert!(off.abs() <= 0.15, "{class} is off by {off:+.2}");
    }
}

fn table(all: &[Risen]) -> String {
    let inside = all.iter().filter(|r| r.inside()).count();
    let mut out = String::from(
        "# Rises against practice\n\n\
        Made by `crates/core/tests/rises.rs` of the cases in `crates/core/tests/rises/practice.txt`, each range written down before the engine ran on it. Common practice, no source. “Off” is the natural logarithm of what came out over the middle of the range: +0.10 is a tenth too much, of minutes or of times its volume.\n\n\
        ![Each case as a dot, by how far it is off, on the range that bakers say](rises.svg)\n\n\
        | class | cases | mean off |\n|---|---|---|\n",
    );
    for class in classes(all) {
        let of = || all.iter().filter(|r| r.case.class == class);
        out += &format!("| {class} | {} | {:+.2} |\n", of().count(), mean(of().map(Risen::off)));
    }
    out += &format!(
        "\nAll: {:+.3} over {}; {inside} inside their range.\n\n| class | what | wanted | practice | worked out (likely) | off |\n|---|---|---|---|---|---|\n",
        mean(all.iter().map(Risen::off)),
        all.len()
    );
    for r in all {
        let ((from, to), (low, high)) = (r.case.range, r.likely);
        let row = match r.case.wanted {
            Wanted::To(times) => {
                format!("to {times} times, min | {from:.0} to {to:.0} | {:.0} ({low:.0} to {high:.0})", r.got)
            }
            Wanted::At(hours) => {
                format!("times after {hours:.0} h | {from} to {to} | {:.2} ({low:.2} to {high:.2})", r.got)
            }
        };
        let outside = if r.inside() { "" } else { ", outside" };
        out += &format!("| {} | {} | {row} | {:+.2}{outside} |\n", r.case.class, r.case.name, r.off());
    }
    out
}

/// Each case by what it is off from the middle of its range, from half to one and a half of it.
fn picture(all: &[Risen]) -> String {
    let (left, scale) = (300.0, 420.0);
    let x = |off: f64| left + scale * (off.clamp(-0.5, 0.5) + 0.5);
    let marks = [(-0.5, "−40 %"), (-0.25, "−22 %"), (0.0, "as practice"), (0.25, "+28 %"), (0.5, "+65 %")];
    let row = |r: &Risen| {
        let (from, to) = r.case.range;
        let at = |figure: f64| x((figure / r.case.middle()).ln());
        Row {
            name: format!("{}, {}", r.case.class, r.case.name),
            range: (at(from), at(to)),
            likely: (at(r.likely.0), at(r.likely.1)),
            got: at(r.got),
            inside: r.inside(),
        }
    };
    let marks = marks.map(|(off, name)| (x(off), name.to_owned()));
    docs::picture(left, &marks, &all.iter().map(row).collect::<Vec<_>>())
}

#[test]
fn the_table_in_the_docs_is_of_today() {
    let all = all();
    docs::of_today(&[("rises.md", table(&all)), ("rises.svg", picture(&all))]);
}
