//! How sure the figures are: what comes out against what bakers say, by class, from the tables that the engines'
//! tests make; and where the engines are known to be weak.

use actix_web::HttpResponse;
use askama::Template;

use crate::error::{PageError, html};

/// A class of doughs or breads against practice.
#[derive(Debug, PartialEq)]
struct Class {
    name: &'static str,
    cases: &'static str,
    /// `+4 %`
    off: String,
    /// The same as a share of the widest that is drawn, −1 to 1.
    at: f64,
}

impl Class {
    /// Where its mark stands, of 200 across.
    fn x(&self) -> String {
        format!("{:.0}", 100.0 + 96.0 * self.at)
    }
}

/// An engine with its classes.
struct Engine {
    title: &'static str,
    what: &'static str,
    /// `77 inside their range`, with how many there are.
    all: String,
    classes: Vec<Class>,
    weak: &'static [&'static str],
}

/// Per cent that is drawn to either side.
const WIDEST: f64 = 20.0;

/// The rows of the table by class: name, cases, and the mean by which they are off, in per cent or as a logarithm.
fn classes(table: &'static str) -> Vec<Class> {
    let rows =
        table.lines().skip_while(|l| !l.starts_with("|---")).skip(1).take_while(|l| l.starts_with('|'));
    rows.filter_map(|row| {
        let mut cells = row.trim_matches('|').split('|').map(str::trim);
        let (name, cases, off) = (cells.next()?, cells.next()?, cells.next()?);
        let percent = match off.strip_suffix(" %") {
            Some(n) => n.parse::<f64>().ok()?,
            None => 100.0 * (off.parse::<f64>().ok()?.exp() - 1.0),
        };
        let off = match percent.round() {
            0.0 => "0 %".to_owned(),
            n => format!("{n:+.0} %").replace('-', "−"),
        };
        Some(Class { name, cases, off, at: (percent / WIDEST).clamp(-1.0, 1.0) })
    })
    .collect()
}

/// “77 of 80 inside”, from the sentence over all.
fn inside(table: &'static str) -> Option<String> {
    let line = table.lines().find(|l| l.starts_with("All: "))?;
    let all = line.split(" over ").nth(1)?.split(';').next()?;
    let inside = line.split("; ").nth(1)?.split_whitespace().next()?;
    Some(format!("{inside} of {all} came out as bakers say."))
}

/// Where the rises are weak, in a baker's words; docs/rise.md has the reasons.
const RISES_WEAK: [&str; 6] = [
    "A shaped dough that goes straight into the fridge, sour or rich, rises a little more than is said here.",
    "A warm dough with much yeast that was forgotten for hours has sunk further than is said.",
    "A culture differs from kitchen to kitchen by a third either way: say that it is lively or sluggish, or let a reading say it.",
    "Half rye and more: bakers judge it by cracks in the flour on top, and so should you.",
    "The first half hour after the fridge: the outside of a large dough is warm long before its middle is.",
    "How cool a room gets by night is a guess until you have measured it.",
];

/// Where the bakes are weak; docs/oven.md has the reasons.
const BAKES_WEAK: [&str; 6] = [
    "In a very hot pot, 250 °C and more, it says a fifth too long: go by the colour once the lid is off.",
    "A round of half rye on a stone or sheet: a sixth too long. Its core tells better than its crust.",
    "Soft rolls under 180 °C: a seventh too long. Go by their colour.",
    "Plaits of nearly a kilogram: a tenth too short. Measure in the thickest place.",
    "Foil, a bowl over the loaf and a second tray are reckoned by rules of thumb.",
    "A dough that is dark of itself has a crust that tells nothing: go by its core.",
];

/// The page.
#[derive(Template)]
#[template(path = "sure.html")]
struct SurePage {
    engines: Vec<Engine>,
}

/// Shows it.
pub async fn show() -> Result<HttpResponse, PageError> {
    const BAKES: &str = include_str!("../../../docs/bakes.md");
    const RISES: &str = include_str!("../../../docs/rises.md");
    let engine = |title, what, table, weak| Engine {
        title,
        what,
        all: inside(table).unwrap_or_default(),
        classes: classes(table),
        weak,
    };
    let rise = engine(
        "Rises",
        "Minutes to a size, and the size after hours, against what bakers say of such doughs.",
        RISES,
        &RISES_WEAK,
    );
    let oven =
        engine("Bakes", "Minutes in the oven, against when bakers take such breads out.", BAKES, &BAKES_WEAK);
    html(&SurePage { engines: vec![rise, oven] })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_tables_of_the_tests_are_read() {
        let bakes = classes(include_str!("../../../docs/bakes.md"));
        assert_eq!(bakes.len(), 9);
        assert!(bakes.iter().any(|c| c.name == "plaits" && c.cases == "9"), "{bakes:?}");
        let rises = classes(include_str!("../../../docs/rises.md"));
        assert!(rises.len() == 7 && rises.iter().all(|c| c.at.abs() < 1.0), "{rises:?}");
        let said = inside(include_str!("../../../docs/bakes.md")).unwrap();
        assert!(said.contains(" of 80 came out"), "{said}");
    }
}
