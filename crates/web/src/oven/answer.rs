//! The Oven station: temperature and minutes, and everything that moves on the way.

use askama::Template;
use cerealis_core::day::StepKind;
use cerealis_core::finish::When;
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::oven::{BakeOutput, HotSide, Last, Notations, Oven, SizeRow, colour_card};
use cerealis_core::stations::Stations;
use cerealis_core::units::{DEGREES, Minutes, shown};
use cerealis_core::words::{Style, Vessel};
use cerealis_reader::Found;

use super::asked::OvenAsked;
use crate::picture::{self, both, crust_colour};
use crate::show::{Fact, celsius, clock, fact, likely, makeup_rows, said};

/// A step of the colour card.
struct Shade {
    colour: String,
    word: &'static str,
    wanted: bool,
}

/// The answer to a probe in a loaf that bakes.
struct Probed {
    says: String,
}

/// The Oven station.
#[derive(Template)]
#[template(path = "oven/answer.html")]
pub struct OvenOut {
    makeups: Vec<[String; 4]>,
    temperature: String,
    notations: String,
    time: String,
    likely: String,
    recipe: Option<Recipe>,
    last: &'static str,
    strip: Vec<Fact>,
    facts: Vec<Fact>,
    cut: String,
    cut_moments: String,
    cut_says: String,
    cuts: usize,
    curves: String,
    card: Vec<Shade>,
    without: Vec<String>,
    probed: Option<Probed>,
    crust: &'static str,
    oven: String,
    sizes: Option<(String, Vec<[String; 5]>)>,
    cautions: Vec<&'static str>,
    notes: Vec<String>,
}

impl OvenOut {
    /// Shows temperature and minutes.
    pub fn new(f: &Formula, s: &Stations, asked: &OvenAsked, kitchen: &Kitchen) -> Self {
        let b = &s.bake;
        let mut notes = b.notes.clone();
        if f.shape.pieces > 1 && s.shape.used.0 > 1400.0 {
            notes.push(
                "A full oven falls further when it is loaded, and is counted so: leave the door shut for the first half."
                    .into(),
            );
        }
        if let Some(Err(faults)) = &asked.sizes {
            notes.push(faults.to_string());
        }
        OvenOut {
            makeups: makeup_rows(f, s),
            temperature: format!("{:.0} °C", b.temperature.0),
            notations: notations(&s.notations),
            time: shown::time(b.time),
            likely: match b.found {
                Some(found) => format!("as you insist; {} would be found for it", shown::time(found)),
                None => likely(b.early, b.late),
            },
            recipe: recipe(f, s),
            last: match b.last {
                Last::Core => "The core is the last to be ready.",
                Last::Colour => "The colour is the last to be ready.",
                Last::Dryness => "The crust's dryness is the last to be ready.",
            },
            strip: strip(f, s),
            facts: vec![
                fact("Crust", format!("{}, base {}", b.colour, b.colour_below[1])),
                fact("Loss", format!("{:.0} % hot, {:.0} % cold", b.loss, b.loss_cooled)),
                fact("Baked weight", format!("{} × {} g", f.shape.pieces, shown::grams(b.baked))),
                fact("Water boils here at", format!("{:.1} °C", b.boiling.0)),
                fact("Cool before cutting", shown::time(b.cool)),
            ],
            cut: both(|room| picture::cut_loaf(f.shape.kind, b, room)),
            cut_moments: picture::cut_moments(b),
            cut_says: picture::cut_says(b),
            cuts: b.cuts.len().saturating_sub(1),
            curves: both(|room| picture::oven_curves(b, room)),
            card: card(b),
            without: without_a_thermometer(s),
            probed: asked.probed.as_ref().map(|now| match now {
                Ok(now) => Probed { says: now.says.clone() },
                Err(faults) => Probed { says: faults.to_string() },
            }),
            crust: b.crust,
            oven: this_oven(&kitchen.with(&f.uses.oven, "")),
            sizes: asked.sizes.as_ref().and_then(|rows| rows.as_ref().ok()).map(|rows| sizes(rows, s)),
            cautions: cautions(f),
            notes,
        }
    }
}

/// What the recipe says of the bake, and a press to go by its minutes, or by what is found.
struct Recipe {
    says: String,
    op: Option<(&'static str, &'static str)>,
}

/// What the recipe says of the bake, beside what is worked out here.
fn recipe(f: &Formula, s: &Stations) -> Option<Recipe> {
    let of = |found: Found, words: &str| said(f, found).map(|(_, figure)| format!("{words}{figure}"));
    let says = [
        of(Found::Bake, ""),
        of(Found::Covered, "with the lid on "),
        of(Found::Uncovered, "without it "),
        of(Found::Core, "to a core of "),
        of(Found::Preheat, "heated to "),
        of(Found::Foil, "foil after "),
        of(Found::Cool, "cooled "),
    ];
    let says: Vec<String> = says.into_iter().flatten().collect();
    if says.is_empty() {
        return None;
    }
    let b = &s.bake;
    let found = b.found.unwrap_or(b.time);
    let says = format!(
        "The recipe says {}. {} {} for a piece of {} g, and {} °C in its middle.",
        says.join(", "),
        if b.found.is_some() { "It goes by that; found here are" } else { "Here" },
        shown::time(found),
        shown::grams(s.shape.piece),
        b.core_target.0.round()
    );
    let op = match (b.found, said(f, Found::Bake)) {
        (Some(_), _) => Some(("unfollow:bake", "Go by what is found")),
        (None, Some(_)) => Some(("follow:bake", "Go by the recipe's minutes")),
        (None, None) => None,
    };
    Some(Recipe { says, op })
}

/// The moments of the bake, in their order.
fn strip(f: &Formula, s: &Stations) -> Vec<Fact> {
    let b = &s.bake;
    let on = s.day.steps.iter().find(|c| c.step.kind == StepKind::Oven);
    let before =
        |c: &cerealis_core::day::ClockStep| format!("{} before, at {}", shown::time(b.preheat), clock(&c.at));
    let mut all = vec![(f64::NEG_INFINITY, fact("Switch on", on.map_or(String::new(), before)))];
    let dial = match f.oven.hot_start {
        Some(hot) => {
            let first = hot.temperature - (b.temperature - b.dial);
            format!("{}, after {} {}", celsius(first), shown::time(hot.minutes), celsius(b.dial))
        }
        None => celsius(b.dial),
    };
    all.push((-1.0, fact("Set the dial to", dial)));
    let mut moment = |name: &'static str, at: Option<Minutes>| {
        if let Some(m) = at {
            all.push((m.0, fact(name, shown::time(m))));
        }
    };
    let lid = if f.oven.vessel == Vessel::Pot { "Lid off after" } else { "Cover off after" };
    moment(lid, b.lid_off);
    moment("Foil off after", b.foil_off);
    moment("Cover with foil after", b.foil_on);
    moment("Turn it round after", b.turn);
    let baste = s.work.finish.iter().find_map(|step| match step.when {
        When::ToGo(m) => Some(Minutes((b.time - m).0.max(0.0))),
        When::Into(m) => Some(m),
        _ => None,
    });
    moment("Baste after", baste);
    all.push((f64::INFINITY, fact("Done when the core is", celsius(b.core_target))));
    all.sort_by(|a, b| a.0.total_cmp(&b.0));
    all.into_iter().map(|(_, fact)| fact).collect()
}

fn notations(n: &Notations) -> String {
    let gas = n.gas.as_ref().map_or(String::new(), |g| format!(" · gas mark {g}"));
    format!(
        "On the dial: {:.0} °C without fan · {:.0} °C with fan · {:.0} °F{gas}",
        n.still.0, n.fan.0, n.fahrenheit
    )
}

fn card(b: &BakeOutput) -> Vec<Shade> {
    let card = colour_card();
    let far = |l: f64| (l - b.golden.min(b.lightness)).abs();
    let wanted = (0..card.len()).min_by(|a, b| far(card[*a].0).total_cmp(&far(card[*b].0)));
    card.iter()
        .enumerate()
        .map(|(n, (l, word))| Shade { colour: crust_colour(*l), word, wanted: Some(n) == wanted })
        .collect()
}

/// Doneness without a thermometer (common practice, no source).
fn without_a_thermometer(s: &Stations) -> Vec<String> {
    let b = &s.bake;
    let mut all = vec![
        format!(
            "On the scale: {} g went in, and it comes out at {} g or less.",
            shown::grams(s.shape.piece),
            shown::grams(b.hot)
        ),
        format!("It has sprung to about {:.1} times what went in.", b.spring),
    ];
    all.push(if s.bake_input.style == Style::GlutenFree {
        "Pressed in the middle it is firm, and a thin skewer comes out of it clean.".into()
    } else if s.shape.piece.0 < 130.0 {
        "Pressed at the side it comes back, and feels light for its size.".into()
    } else {
        "Knocked on its base it sounds hollow; pressed at the side it is firm and does not squeak.".into()
    });
    all
}

/// What the kitchen's oven is like, and on what that rests.
pub fn this_oven(kitchen: &Kitchen) -> String {
    let Oven { offset, preheat, recovery } = kitchen.oven();
    let rests = match kitchen.oven_readings.len() {
        0 => "as it was set".to_owned(),
        1 => "by one reading".to_owned(),
        n => format!("by {n} readings"),
    };
    let name = if kitchen.oven_name.is_empty() { "This oven" } else { kitchen.oven_name.as_str() };
    let word = if offset < 0.0 { "cooler" } else { "hotter" };
    let runs = if offset.abs() < 0.5 {
        "goes by its dial".to_owned()
    } else {
        format!("runs {:.0} {DEGREES} {word} than its dial", offset.abs())
    };
    let side = match kitchen.oven_hot {
        HotSide::Even => String::new(),
        side => format!(" Its hot side: {}.", side.name().to_lowercase()),
    };
    format!(
        "{name} {runs}, heats to 200 °C in {:.0} min, and makes good two thirds of what an open door costs it in {:.0} min: {rests}.{side}",
        preheat.0, recovery.0
    )
}

fn sizes(rows: &[SizeRow], s: &Stations) -> (String, Vec<[String; 5]>) {
    let row = |r: &SizeRow| {
        [
            format!("{:.0} g", r.grams.0),
            r.kind.name().to_owned(),
            format!("{:.0} °C", r.temperature.0),
            shown::time(r.time),
            format!("{:.0} °C, {:.0} %", r.core.0, r.loss),
        ]
    };
    (both(|room| picture::by_size(rows, s.shape.piece, room)), rows.iter().map(row).collect())
}

fn cautions(f: &Formula) -> Vec<&'static str> {
    let mut all = Vec::new();
    if matches!(f.oven.vessel, Vessel::Pot | Vessel::Lidded) {
        all.push("Pot, tin and lid are as hot as the oven: dry mitts, and lift the lid away from you.");
    }
    if f.oven.steam {
        all.push("Steam burns: arms back, and never water on the door glass.");
    }
    all
}
