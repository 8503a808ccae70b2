//! Parts of what is counted whole: the zest of two lemons, three eggs' yolks, the juice of half an orange.

use winnow::prelude::*;

use crate::quantity::amount;

/// A part of something that is counted whole: the words that say the part, those that say the whole, and
/// the catalogue's name for it.
const PARTS: [(&[&str], &[&str], &str); 6] = [
    (&["zest", "zested", "rind", "peel"], &["lemon", "lemons"], "lemon zest"),
    (&["zest", "zested", "rind", "peel"], &["orange", "oranges"], "orange zest"),
    (&["juice", "juiced"], &["lemon", "lemons"], "lemon juice"),
    (&["juice", "juiced"], &["orange", "oranges"], "orange juice"),
    (&["white", "whites"], &["egg", "eggs"], "egg white"),
    (&["yolk", "yolks"], &["egg", "eggs"], "egg yolk"),
];

/// The parts that a line names of something counted, each with its count as it was written: “zest and juice
/// of 1 lemon” are two. Empty where the line names none, or not of how many.
pub(crate) fn parts_of(text: &str) -> Vec<(&'static str, String)> {
    let lower = text.to_ascii_lowercase();
    if lower.contains("candied") || lower.contains("mixed peel") {
        return Vec::new();
    }
    let says =
        |words: &[&str]| words.iter().any(|w| lower.split(|c: char| !c.is_alphabetic()).any(|x| x == *w));
    // “2 egg yolks (save the whites)”: what stands in brackets is told of only where nothing else is.
    if let Some((outside, _)) = text.split_once('(') {
        let outside_lower = outside.to_lowercase();
        if PARTS.iter().any(|(part, ..)| part.iter().any(|p| outside_lower.contains(p))) {
            return parts_of(outside);
        }
    }
    let named = PARTS.iter().filter(|(part, whole, _)| says(part) && says(whole));
    let Some(count) = counted(text, &lower) else { return Vec::new() };
    // Fruit has no sizes here; eggs have.
    let bare = |name: &str| match count.split_once(' ') {
        Some((many, _)) if !name.starts_with("egg") => many.to_owned(),
        _ => count.clone(),
    };
    named.map(|(_, _, name)| (*name, bare(name))).collect()
}

/// How many of the whole: behind “of”, or before the whole with the part behind a comma.
fn counted(text: &str, lower: &str) -> Option<String> {
    let of = lower.find(" of ").map(|at| at + 4);
    let start = match of {
        Some(at) => at,
        // “2 oranges, zest only”: the comma parts the whole from what is taken of it.
        None if lower.contains(", ") || lower.contains(" (") => 0,
        None => return None,
    };
    let mut rest = text[start..].trim_start();
    let before = rest;
    let whole = ["lemon", "orange", "egg", "large ", "medium ", "small ", "unwaxed ", "organic ", "fresh "];
    let read = amount.parse_next(&mut rest).ok()?;
    let follows = rest.trim_start().to_lowercase();
    (read.unit.is_none_or(|u| u.is_size()) && whole.iter().any(|w| follows.starts_with(w)))
        .then(|| before[..before.len() - rest.len()].trim().to_owned())
}
