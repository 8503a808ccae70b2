//! The course of a method: its clauses as frames of an act with a time, and the stage that each is of, decided over
//! the whole text by costs.

mod around;
mod baking;
mod chain;
pub(crate) mod figures;
mod findings;
mod frames;
pub(crate) mod lexicon;
mod whole;

pub(crate) use whole::told_of_all;

use crate::finding::Finding;
use crate::sentence::parted;

/// Whether a line gives the yield and the times of the page: its steps say them again.
fn of_the_page(line: &str) -> bool {
    let lower = line.trim_start().to_lowercase();
    ["makes", "yield", "prep", "serves", "cook time", "total time", "hands-on", "difficulty", "servings"]
        .iter()
        .any(|w| lower.starts_with(w))
}

/// Words that a full stop cuts short.
const CUT_SHORT: [&str; 22] = [
    "min", "mins", "hr", "hrs", "h", "tsp", "tbsp", "tblsp", "approx", "oz", "lb", "lbs", "no", "temp",
    "deg", "degs", "in", "c", "t", "w", "ca", "vs",
];

/// How much of what follows a full stop tells whether a sentence begins, in characters.
const NEXT: usize = 60;

/// A line in sentences: at a full stop, but for one that cuts a word short and goes on with no act.
fn sentences(line: &str) -> Vec<&str> {
    parted(line, |before, c, after| match c {
        ';' | '!' | '?' => true,
        '.' if after.starts_with([' ', '\t']) => {
            let word = before.rsplit(|c: char| !c.is_alphabetic()).next().unwrap_or("").to_lowercase();
            let next = after.trim_start();
            let next = &next[..next.char_indices().nth(NEXT).map_or(next.len(), |(i, _)| i)];
            let stems: Vec<String> =
                lexicon::words_of(&next.to_lowercase()).take(4).map(lexicon::stem).collect();
            let stems: Vec<&str> = stems.iter().map(String::as_str).collect();
            let acts = lexicon::ENGLISH.act(&stems).is_some();
            let cut = CUT_SHORT.contains(&word.as_str()) || word.is_empty() && before.trim().len() <= 2;
            !cut || acts || next.starts_with(char::is_uppercase)
        }
        _ => c == '.' && after.is_empty(),
    })
}

/// The times and temperatures of a method, given as its lines.
pub(crate) fn timed<'a>(lines: impl Iterator<Item = &'a str>) -> Vec<Finding> {
    let lines = lines.filter(|l| !of_the_page(l)).map(sentences);
    let all = frames::frames(lines, &lexicon::ENGLISH);
    let stands = chain::course(&all);
    findings::findings(&all, &stands)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::finding::Found;
    use proptest::prelude::*;
    use rstest::rstest;

    fn found(text: &str, what: Found) -> Option<(f64, f64)> {
        timed(text.lines()).into_iter().find(|f| f.found == what).map(|f| (f.low, f.high))
    }

    /// Facts of one sentence after another, in wordings that differ in form.
    #[rstest]
    #[case(
        "Knead 10 mins. Cover; 1 hour to 1¼ hours, until doubled. Shape into a loaf. 40 min, until puffy. Bake 25 min at 200C.",
        Found::Bulk,
        60.0,
        75.0
    )]
    #[case(
        "Knead 10 mins. Cover; 1 hour to 1¼ hours, until doubled. Shape into a loaf. 40 min, until puffy. Bake 25 min at 200C.",
        Found::Proof,
        40.0,
        40.0
    )]
    #[case(
        "Rise 1 hr. Cut into 6 balls, cover and rest for 10 minutes. Shape, prove 45 minutes. Bake 20 minutes.",
        Found::Rest,
        10.0,
        10.0
    )]
    #[case(
        "Divide in 3 and plait. Let rise 50 minutes. Hot oven (425) 12 to 15 min.",
        Found::Bake,
        12.0,
        15.0
    )]
    #[case(
        "Bake at 220C/200C fan/gas 7 for 15 mins, then lower the oven to 190C/170C fan/gas 5 and bake for a final 20 mins.",
        Found::Oven,
        190.0,
        190.0
    )]
    #[case("Bake 20 minutes with the lid on, then 25 minutes with the lid off.", Found::Covered, 20.0, 20.0)]
    #[case(
        "Stir everything. Leave it on the counter for 14 hours. Shape into a round. Bake 40 minutes at 230 °C.",
        Found::Bulk,
        840.0,
        840.0
    )]
    #[case("Poolish: 12-14 h @ 21 °C\nMix 5 min, 2nd speed.", Found::Preferment, 720.0, 840.0)]
    #[case(
        "Bake 30 minutes at 180 °C. Cool 10 minutes in the tin, then 1 hour on a rack.",
        Found::Cool,
        60.0,
        60.0
    )]
    #[case("Bake in a moderate oven until done.", Found::Oven, 180.0, 180.0)]
    fn a_time_is_of_its_stage(#[case] text: &str, #[case] what: Found, #[case] low: f64, #[case] high: f64) {
        assert_eq!(found(text, what), Some((low, high)), "{:?}", timed(text.lines()));
    }

    /// The end of a bake that was told is no bake of its own; nor is what is beside the dough.
    #[rstest]
    #[case("Bake 35 minutes at 220 °C, out of its tin for the last 5 minutes.", 35.0)]
    #[case("Heat the oven to 250 °C with a pot inside for 45 minutes. Bake 30 minutes.", 30.0)]
    #[case("Bake 18 minutes at 200 °C, turning the tray after 10 minutes.", 18.0)]
    #[case("Bake 25 minutes at 190 °C. Keeps 2 days; reheat 5 minutes at 180 °C.", 25.0)]
    fn no_time_is_counted_twice(#[case] text: &str, #[case] bake: f64) {
        assert_eq!(found(text, Found::Bake), Some((bake, bake)), "{:?}", timed(text.lines()));
    }

    proptest! {
        #[test]
        fn no_course_panics(parts in prop::collection::vec(prop::sample::select(vec![
            "Bake ", "knead ", "10", " min", "1½ hrs", "°", "F", "C", ". ", "; ", "1/0", "½", " and ", "İ", " lid on ", "fan 170",
            "gas 7", "overnight", "fridge", " for the last ", "(", ")", ",", "\n", "é ", "another ", "Poolish:",
        ]), 0..30)) {
            for f in timed(parts.concat().lines()) {
                prop_assert!(f.low.is_finite() && f.low <= f.high, "{f:?}");
            }
        }

        /// What is said beside the dough, with no figure in it, changes nothing.
        #[test]
        fn chatter_changes_nothing(at in 0usize..5, words in prop::sample::select(vec![
            "My aunt loved this one.", "It is a fine loaf for a Sunday.", "Good with soup!",
        ])) {
            let steps = ["Knead 8 minutes.", "Let rise 1 hour.", "Shape into a loaf.", "Prove 40 minutes.", "Bake 30 minutes at 210 °C."];
            let plain: Vec<_> = timed(steps.join("\n").lines()).into_iter().map(|f| (f.found, f.low, f.high)).collect();
            let mut more = steps.to_vec();
            more.insert(at, words);
            let with: Vec<_> = timed(more.join("\n").lines()).into_iter().map(|f| (f.found, f.low, f.high)).collect();
            prop_assert_eq!(plain, with);
        }
    }
}
