//! What is said of a plan, in a few words.

use cerealis_core::plan::{STEP, WayKind};
use cerealis_core::units::{Minutes, shown};
use jiff::Timestamp;
use jiff::tz::TimeZone;

/// What a plan changes, in as few words as tell it from another.
pub fn kinds_said(kinds: &[WayKind]) -> String {
    let mut said: Vec<&str> = Vec::new();
    for kind in kinds.iter().filter(|k| **k != WayKind::AsWritten) {
        if !said.contains(&kind.name()) {
            said.push(kind.name());
        }
    }
    if said.is_empty() {
        said.push(WayKind::AsWritten.name());
    }
    let said = said.join(", ");
    let mut letters = said.chars();
    letters.next().map_or(String::new(), |first| first.to_uppercase().chain(letters).collect())
}

/// How far breads are moved, a sentence each.
pub fn moved_says(moved: &[f64], doughs: &[String]) -> Vec<String> {
    let far = doughs.iter().zip(moved).filter(|(_, m)| m.abs() >= STEP);
    far.map(|(name, m)| {
        let word = if *m > 0.0 { "later" } else { "sooner" };
        format!("{name} is ready {} {word} than it was.", shown::time(Minutes(m.abs())))
    })
    .collect()
}

/// What is said of a deed for which nobody is there.
pub fn missed_says(what: &str, name: &str) -> String {
    format!("Nobody is there for “{what}” of {name}.")
}

/// That something stands longer than it should.
pub fn over_says(what: &str, name: &str) -> String {
    format!(
        "“{what}” of {name} stands longer than it should: look at it first, and put it somewhere cooler or into the fridge meanwhile."
    )
}

/// A moment, in a few words.
pub fn said(t: Timestamp, zone: &TimeZone) -> String {
    t.to_zoned_datetime(zone.clone()).strftime("%a %H:%M").to_string()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn plans_are_told_from_each_other_by_what_they_change() {
        use WayKind::{AsWritten, FridgeProof, LessYeast};
        for (kinds, says) in [
            (vec![AsWritten, AsWritten], "As written"),
            (vec![AsWritten, FridgeProof], "Proof in the fridge"),
            (vec![FridgeProof, LessYeast, FridgeProof], "Proof in the fridge, less yeast"),
        ] {
            assert_eq!(kinds_said(&kinds), says);
        }
    }
}
