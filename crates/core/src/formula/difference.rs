//! What is different between two states of a formula, in words.

use super::{Formula, changes};
use crate::pantry::Catalogue;
use crate::units::{Grams, shown};

/// The longest reason, in characters.
pub const REASON_MAX: usize = 200;

/// What changed from `a` to `b`, shortly: “Salt 10 to 11 g; dough 25 to 26 °C”. Empty when they
/// are the same.
pub fn difference(a: &Formula, b: &Formula, catalogue: &Catalogue) -> String {
    let name = |key: &str| catalogue.get(key).map_or(key.to_owned(), |i| i.name.clone());
    let mut said = Vec::new();
    if a.name != b.name {
        said.push(format!("renamed from “{}”", a.name));
    }
    if let Some(factor) = scaled(a, b) {
        said.push(format!("scaled × {}", shown::percent(crate::units::Percent(factor))));
    } else {
        for c in changes(a, b) {
            let g = |x: Grams| shown::grams(x);
            said.push(match (c.before.0 > 0.0, c.after.0 > 0.0) {
                (false, _) => format!("{} {} g new", name(&c.ingredient), g(c.after)),
                (_, false) => format!("no {}", name(&c.ingredient).to_lowercase()),
                _ => format!("{} {} to {} g", name(&c.ingredient), g(c.before), g(c.after)),
            });
        }
    }
    let mut moved = |what: &str, a: String, b: String| {
        if a != b {
            said.push(format!("{what} {a} to {b}"));
        }
    };
    let place = |t: Option<crate::units::Celsius>| t.map_or("the room".to_owned(), |t| format!("{} °C", t.0));
    let stays = |w: &crate::rise::RiseWish| {
        let leg = |l: &crate::rise::Leg| format!("{} h at {} °C", l.hours.0, l.place.0);
        let last = w.stays.map(|h| format!("{} h", h.0));
        let all: Vec<String> = w.legs.iter().map(leg).chain(last).collect();
        if all.is_empty() { "until ready".to_owned() } else { all.join(" and ") }
    };
    moved("style", a.style.name().to_lowercase(), b.style.name().to_lowercase());
    moved("mixing", a.mix.method.name().to_lowercase(), b.mix.method.name().to_lowercase());
    moved("dough", format!("{} °C", a.mix.desired.0), format!("{} °C", b.mix.desired.0));
    for ((name, a), (_, b)) in a.rise.rises().into_iter().zip(b.rise.rises()) {
        moved(&format!("{name} at"), place(a.place), place(b.place));
        moved(name, format!("{} times", a.target), format!("{} times", b.target));
        moved(&format!("{name} stays"), stays(a), stays(b));
    }
    let shape = |f: &Formula| format!("{} × {}", f.shape.pieces, f.shape.kind.name().to_lowercase());
    moved("shape", shape(a), shape(b));
    moved("on", a.oven.vessel.name().to_lowercase(), b.oven.vessel.name().to_lowercase());
    let oven = |f: &Formula| f.oven.temperature.map_or("found".to_owned(), |t| format!("{} °C", t.0));
    moved("oven", oven(a), oven(b));
    if said.is_empty() && a != b {
        said.push("settings".into());
    }
    let text = said.join("; ");
    let mut letters = text.chars();
    let text: String =
        letters.next().map(|c| c.to_uppercase().chain(letters.by_ref()).collect()).unwrap_or_default();
    if text.chars().count() <= REASON_MAX {
        return text;
    }
    text.chars().take(REASON_MAX - 1).chain(['…']).collect()
}

/// The factor between two formulas that differ by nothing else.
fn scaled(a: &Formula, b: &Formula) -> Option<f64> {
    let first = a.lines.iter().zip(&b.lines).find(|(x, _)| x.grams.0 > 0.0)?;
    let factor = first.1.grams.0 / first.0.grams.0;
    let same = a.lines.len() == b.lines.len()
        && a.lines.iter().zip(&b.lines).all(|(x, y)| {
            x.ingredient == y.ingredient
                && x.stage == y.stage
                && (x.grams.0 * factor - y.grams.0).abs() <= 1e-6 * x.grams.0.max(1.0)
        });
    (same && (factor - 1.0).abs() > 1e-6 && a.lines.len() > 1).then_some(factor)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formula::{Line, scale};
    use crate::units::Celsius;
    use crate::words::{Stage, Style};

    fn said(change: impl FnOnce(&mut Formula)) -> String {
        let a = Formula::beginning("Mill loaf", Style::Tin);
        let mut b = a.clone();
        change(&mut b);
        difference(&a, &b, Catalogue::bundled())
    }

    #[test]
    fn said_as_a_baker_would_note_it() {
        assert_eq!(said(|_| {}), "");
        assert_eq!(said(|f| f.lines[2].grams = Grams(11.0)), "Fine salt 10 to 11 g");
        assert_eq!(said(|f| f.mix.desired = Celsius(26.0)), "Dough 25 °C to 26 °C");
        assert_eq!(said(|f| scale(f, 2.0).unwrap()), "Scaled × 2");
        assert_eq!(said(|f| f.lines.push(Line::new("honey", Stage::Dough, Grams(5.0)))), "Honey 5 g new");
        assert_eq!(said(|f| f.lines.retain(|l| l.ingredient != "butter")), "No butter");
        assert_eq!(said(|f| f.notes = "crisper".into()), "Settings");
        assert!(said(|f| f.name = "x".repeat(70)).starts_with("Renamed"));
    }

    #[test]
    fn never_longer_than_a_reason_may_be() {
        let long =
            said(|f| f.lines.iter_mut().enumerate().for_each(|(i, l)| l.grams = Grams(l.grams.0 + i as f64)));
        assert!(long.chars().count() <= REASON_MAX);
        let c: Vec<String> = Catalogue::bundled().iter().take(50).map(|i| i.key.clone()).collect();
        let very = said(|f| f.lines = c.iter().map(|k| Line::new(k, Stage::Dough, Grams(7.0))).collect());
        assert_eq!(very.chars().count(), REASON_MAX);
    }
}
