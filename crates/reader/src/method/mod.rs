//! The method of a recipe searched for times, temperatures, counts and vessels.
//!
//! A method is followed sentence by sentence: how far the dough has come tells which rise a time is of. What is
//! found is offered, never taken unasked. Temperatures without a unit are told apart by
//! size: ovens over 300 are in °F (common practice, no source).

mod another;
mod baking;
mod clause;
mod course;
mod ending;
mod figure;
mod pan;
mod rarely;
mod said;
mod things;
mod times;
mod waits;

use crate::finding::{Finding, Found};
use crate::sentence::parted;
use course::Course;

/// The most findings of one method.
const FINDINGS_MAX: usize = 40;

/// The longest method that is searched, in characters.
const METHOD_MAX: usize = 40_000;

/// Searches a method.
///
/// ```
/// use cerealis_reader::{Found, read_method};
/// let found = read_method("Knead 10 minutes. Let rise 1 hour until doubled. Bake at 375 °F for 28 minutes.");
/// let oven = found.iter().find(|f| f.found == Found::Oven).unwrap();
/// assert_eq!((oven.low.round(), oven.figure().as_str()), (191.0, "191 °C"));
/// assert_eq!(found.len(), 5);
/// ```
pub fn read_method(text: &str) -> Vec<Finding> {
    let end = text.char_indices().nth(METHOD_MAX).map_or(text.len(), |(i, _)| i);
    let all: Vec<&str> = text[..end].lines().flat_map(sentences).flat_map(cut).collect();
    let mut course = Course::new();
    for (n, sentence) in all.iter().enumerate() {
        course.sentence(sentence, all.get(n + 1).copied().unwrap_or_default());
    }
    let mut found = course.done();
    fill_gaps(&mut found, crate::course::timed(text[..end].lines()));
    // Of a lidded tin the lid stays.
    if found.iter().any(|f| f.found == Found::BakesIn && f.key == "lidded") {
        found.retain(|f| !matches!(f.found, Found::Covered | Found::Uncovered));
    }
    found.sort_by_key(|f| f.found as usize);
    found.truncate(FINDINGS_MAX);
    found
}

/// What goes together: where one of it was found, the rest is not taken from elsewhere.
const TOGETHER: [&[Found]; 11] = [
    &[Found::Oven, Found::HotStart, Found::HotMinutes, Found::Preheat],
    &[Found::Bake, Found::Covered, Found::Uncovered],
    &[Found::Bulk, Found::Second, Found::Fridge, Found::Autolyse, Found::Rest],
    &[Found::Proof, Found::Fridge, Found::Rest],
    &[Found::Knead],
    &[Found::Preferment],
    &[Found::Soaker],
    &[Found::FoldsEvery],
    &[Found::Core],
    &[Found::Foil],
    &[Found::Cool, Found::CoolsIn],
];

/// Takes from the course of the whole text what following its sentences did not find.
fn fill_gaps(found: &mut Vec<Finding>, course: Vec<Finding>) {
    let several = found.iter().any(|f| matches!(f.found, Found::RestMakes | Found::MainPart));
    let new: Vec<Finding> = course
        .into_iter()
        .filter(|f| f.doubt().is_none())
        .filter(|f| f.found != Found::Bake || !several)
        // What was found as something else there is that.
        .filter(|f| !found.iter().any(|o| (o.low, o.high) == (f.low, f.high) && o.text.contains(&f.text)))
        .filter(|f| {
            let groups =
                TOGETHER.iter().filter(|g| g[0] == f.found || g[0] != Found::Proof && g.contains(&f.found));
            let mut groups = groups.peekable();
            groups.peek().is_some() && groups.all(|g| !found.iter().any(|o| g.contains(&o.found)))
        })
        .collect();
    found.extend(new);
}

/// The longest sentence that is looked at in one piece, bytes; a longer one is cut.
const SENTENCE_MAX: usize = 400;

/// A sentence in pieces of no more than [`SENTENCE_MAX`].
fn cut(sentence: &str) -> Vec<&str> {
    let mut rest = sentence;
    let mut out = Vec::new();
    while rest.len() > SENTENCE_MAX {
        let at = (1..=SENTENCE_MAX).rev().find(|i| rest.is_char_boundary(*i)).unwrap_or(rest.len());
        let (piece, after) = rest.split_at(at);
        out.push(piece);
        rest = after;
    }
    out.push(rest);
    out
}

/// A line cut after a full stop or semicolon that ends a sentence; `min.` and `1.5` end none.
fn sentences(line: &str) -> Vec<&str> {
    parted(line, |before, c, after| match c {
        ';' | '!' => true,
        '.' => {
            let next = after.trim_start().chars().next();
            let begins = next.is_none_or(char::is_uppercase) || figures_begin(before, next);
            begins && after.starts_with([' ', '\t']) || after.is_empty()
        }
        _ => false,
    })
}

/// Whether a sentence may begin with a figure after what ends in a full stop: `… proof. 15 minutes at`, but not
/// `approx. 15`.
fn figures_begin(before: &str, next: Option<char>) -> bool {
    let word = before.rsplit(|c: char| !c.is_alphabetic()).next().unwrap_or("").to_lowercase();
    let cut = ["approx", "temp", "mins", "about", "tsps", "tbsp", "degs"].contains(&word.as_str());
    next.is_some_and(|c| c.is_ascii_digit()) && (word.len() >= 4 && !cut || before.ends_with(')'))
}

#[cfg(test)]
mod tests {
    use super::*;
    use cerealis_core::formula::Formula;
    use cerealis_core::units::Celsius;
    use cerealis_core::words::{Kind, Method, Style};
    use proptest::prelude::*;
    use rstest::rstest;

    #[rstest]
    #[case("Knead for 8 to 10 minutes.", Found::Knead, 8.0, 10.0)]
    #[case("Let rise in a warm place 1 1/2 hours.", Found::Bulk, 90.0, 90.0)]
    #[case("Let it rest 1 hour 15 minutes", Found::Bulk, 75.0, 75.0)]
    #[case("Bake at 375 °F for 28 minutes", Found::Bake, 28.0, 28.0)]
    #[case("Preheat the oven to 200°C.", Found::Oven, 200.0, 200.0)]
    #[case("Bake in a 220 C oven until golden", Found::Oven, 220.0, 220.0)]
    #[case("Heat oven to 450 degrees F.", Found::Oven, 232.2, 232.2)]
    #[case("Bake at 375 until golden", Found::Oven, 190.6, 190.6)]
    #[case("Bake until the internal temperature is 190°F", Found::Core, 87.8, 87.8)]
    #[case("Warm the milk to 40 °C.", Found::Liquid, 40.0, 40.0)]
    #[case("Refrigerate for 12 hours", Found::Fridge, 720.0, 720.0)]
    #[case("Leave in the fridge overnight.", Found::Fridge, 480.0, 720.0)]
    #[case("Cool on a rack for an hour", Found::Cool, 60.0, 60.0)]
    #[case("Leave to rise about an hour and a half, until doubled", Found::Bulk, 90.0, 90.0)]
    #[case("Let it rise an hour and three quarters", Found::Bulk, 105.0, 105.0)]
    #[case("Mix flour and water, autolyse 30 min.", Found::Autolyse, 30.0, 30.0)]
    #[case("Let rise until doubled.", Found::BulkTarget, 2.0, 2.0)]
    #[case("Makes 8", Found::Pieces, 8.0, 8.0)]
    #[case("Divide into 12 equal pieces", Found::Pieces, 12.0, 12.0)]
    #[case("Yield: 2 loaves", Found::Pieces, 2.0, 2.0)]
    fn one_of_each(#[case] text: &str, #[case] found: Found, #[case] low: f64, #[case] high: f64) {
        let all = read_method(text);
        let f = all.iter().find(|f| f.found == found).unwrap_or_else(|| panic!("{all:?}"));
        assert!((f.low - low).abs() < 0.05 && (f.high - high).abs() < 0.05, "{f:?}");
    }

    #[test]
    fn a_second_rise_after_shaping_is_the_proof() {
        let text = "Let rise 1 hour. Divide into 8 rolls and put on a baking sheet. Let rise 45 minutes.";
        let all = read_method(text);
        let of = |found| all.iter().find(|f| f.found == found).map(|f| f.figure());
        assert_eq!(of(Found::Bulk).as_deref(), Some("1 h"));
        assert_eq!(of(Found::Proof).as_deref(), Some("45 min"));
        assert_eq!(of(Found::Pieces).as_deref(), Some("8 × roll"));
        assert_eq!(of(Found::BakesIn).as_deref(), Some("baking sheet"));
    }

    #[test]
    fn what_is_taken_goes_where_it_belongs() {
        let mut f = Formula::beginning("Rolls", Style::SoftRoll);
        f.notes.clear();
        let text = "Knead in a stand mixer 6 minutes. Rise until doubled, 1 hour. Shape 10 buns. Bake 15 minutes at 200 °C with steam.";
        read_method(text).iter().for_each(|x| x.put_into(&mut f));
        assert_eq!((f.mix.method, f.rise.bulk.target, f.shape.pieces), (Method::Mixer, 2.0, 10));
        assert_eq!((f.shape.kind, f.oven.temperature, f.oven.steam), (Kind::Bun, Some(Celsius(200.0)), true));
        assert_eq!((f.mix.knead, f.notes.as_str()), (Some(cerealis_core::units::Minutes(6.0)), ""));
        let kept: Vec<(&str, f64)> = f.said.iter().map(|s| (s.what.as_str(), s.low)).collect();
        assert_eq!(kept, [("bulk", 60.0), ("bake", 15.0)]);
    }

    #[test]
    fn nothing_is_found_where_nothing_is_said() {
        for text in
            ["", "Add the butter.", "Brush with 1 egg.", "Put 2 tsp of salt in.", "It is 400 years old."]
        {
            assert_eq!(read_method(text), [], "{text}");
        }
    }

    proptest! {
        #[test]
        fn no_method_panics(text in "\\PC{0,200}") {
            read_method(&text);
        }

        #[test]
        fn no_method_like_noise_panics(parts in prop::collection::vec(prop::sample::select(vec![
            "bake ", "10", " min", "°", "F", "C", ".", ";", "1/0", "½", " hour", " and ", "İ", "makes ", "at ", "rolls", "knead", "-", "é ",
        ]), 0..20)) {
            for f in read_method(&parts.concat()) {
                prop_assert!(f.low.is_finite() && f.low <= f.high);
            }
        }
    }
}
