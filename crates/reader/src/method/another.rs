//! Two breads of one dough: what the first takes, and what the rest becomes.

use super::course::Course;
use super::rarely::{number, one, words as words_of};
use crate::finding::Found;
use cerealis_core::units::OUNCE;
use cerealis_core::words::Kind;

/// The most pieces that are read of the rest of a dough.
const MOST_PIECES: f64 = 60.0;

/// What a unit of mass is, g.
fn mass(word: &str) -> Option<f64> {
    match word {
        "g" | "gram" | "grams" | "grammes" => Some(1.0),
        "kg" | "kilo" | "kilos" => Some(1000.0),
        "lb" | "lbs" | "pound" | "pounds" => Some(16.0 * OUNCE),
        "oz" | "ounce" | "ounces" => Some(OUNCE),
        _ => None,
    }
}

impl Course {
    /// “shape the rest into a loaf and put it in a tin”, “make the other half into eight buns”.
    pub(super) fn another_bread(&mut self, text: &str, lower: &str, words: &[&str]) {
        // “plait 500 g of the dough”
        let first = words.windows(4).find_map(|w| {
            let apart = number(w[0]).zip(mass(w[1])).filter(|_| w[2] == "of").map(|(n, of)| n * of);
            apart.or_else(|| w[0].strip_suffix('g')?.parse().ok().filter(|_| w[1] == "of"))
        });
        if let Some(grams) = first.filter(|_| lower.contains("of the dough")) {
            self.first_part.get_or_insert((grams, text.to_owned()));
        }
        let rest = [
            "the rest",
            "the other half",
            "the other part",
            "the remaining dough",
            "the remainder",
            "the remaining half",
        ];
        let Some((from, long)) = rest.iter().find_map(|r| Some((lower.find(r)?, r.len()))) else { return };
        let after = &lower[from + long..];
        // “Bake for the rest of the time”, “add the rest of the flour”.
        if after.trim_start().starts_with("of ") && !after.trim_start().starts_with("of the dough") {
            return;
        }
        let kinds = [
            (&["plait", "braid"][..], Kind::Braid),
            (&["rolls"][..], Kind::Roll),
            (&["buns"][..], Kind::Bun),
            (&["tin", "loaf tin", "loaf pan", "bread pan"][..], Kind::Tin),
            (&["round", "ball"][..], Kind::Round),
            (&["baguette"][..], Kind::Baguette),
        ];
        let Some((_, kind)) = kinds.iter().find(|(names, _)| names.iter().any(|n| after.contains(n))) else {
            return;
        };
        let own: Vec<&str> = words_of(after);
        let counted =
            own.iter().position(|w| ["rolls", "buns", "loaves", "plaits", "tins", "pieces"].contains(w));
        let count = counted.and_then(|i| (i.saturating_sub(2)..i).rev().find_map(|i| number(own[i])));
        let pieces = count.filter(|n| n.fract() == 0.0 && (1.0..=MOST_PIECES).contains(n)).unwrap_or(1.0);
        self.several = true;
        if let Some((grams, said)) = self.first_part.take() {
            self.find(Found::MainPart, one(grams), "", &said);
        }
        self.find(Found::RestMakes, one(pieces), kind.key(), text);
    }
}
