//! The method of a recipe searched for times, temperatures, counts and vessels.
//!
//! What is found is offered, never taken unasked. Temperatures without a unit are told apart by
//! size: ovens over 300 are in °F (common practice, no source).

use super::figure::{Figure, figure, word_start};
use super::finding::{Finding, Found};
use crate::reader::quantity::Count;
use crate::units::Celsius;
use crate::words::{Kind, Method, Vessel};

/// The most findings of one method.
const FINDINGS_MAX: usize = 40;

/// The longest method that is searched, in characters.
const METHOD_MAX: usize = 40_000;

/// Searches a method.
///
/// ```
/// use cerealis_core::reader::{Found, read_method};
/// let found = read_method("Knead 10 minutes. Let rise 1 hour until doubled. Bake at 375 °F for 28 minutes.");
/// let oven = found.iter().find(|f| f.found == Found::Oven).unwrap();
/// assert_eq!((oven.low.round(), oven.figure().as_str()), (191.0, "191 °C"));
/// assert_eq!(found.len(), 5);
/// ```
pub fn read_method(text: &str) -> Vec<Finding> {
    let end = text.char_indices().nth(METHOD_MAX).map_or(text.len(), |(i, _)| i);
    let mut all = Searched { found: Vec::new(), risen: false, shaped: false };
    for line in text[..end].lines() {
        for sentence in sentences(line) {
            all.sentence(sentence);
        }
    }
    all.found.truncate(FINDINGS_MAX);
    all.found
}

/// A line cut after a full stop or semicolon that ends a sentence; `min.` and `1.5` end none.
fn sentences(line: &str) -> Vec<&str> {
    let mut out = Vec::new();
    let mut from = 0;
    for (i, c) in line.char_indices() {
        let after = &line[i + c.len_utf8()..];
        let ends = match c {
            ';' | '!' => true,
            '.' => {
                after.trim_start().chars().next().is_none_or(char::is_uppercase)
                    && after.starts_with([' ', '\t'])
                    || after.is_empty()
            }
            _ => false,
        };
        if ends {
            out.push(line[from..i].trim());
            from = i + c.len_utf8();
        }
    }
    out.push(line[from..].trim());
    out.retain(|s| !s.is_empty());
    out
}

/// What has been found so far, and how far the method has come.
struct Searched {
    found: Vec<Finding>,
    risen: bool,
    shaped: bool,
}

/// What a figure was said of, by the word nearest before it, or else after it.
const TIME_WORDS: [(&str, Found); 26] = [
    ("autolyse", Found::Autolyse),
    ("knead", Found::Knead),
    ("mix", Found::Knead),
    ("beat", Found::Knead),
    ("second rise", Found::Proof),
    ("rise again", Found::Proof),
    ("final rise", Found::Proof),
    ("proof", Found::Proof),
    ("prove", Found::Proof),
    ("bulk", Found::Bulk),
    ("ferment", Found::Bulk),
    ("rise", Found::Bulk),
    ("rising", Found::Bulk),
    ("double", Found::Bulk),
    ("refrigerat", Found::Fridge),
    ("fridge", Found::Fridge),
    ("chill", Found::Fridge),
    ("retard", Found::Fridge),
    ("overnight", Found::Fridge),
    ("bake", Found::Bake),
    ("baking:", Found::Bake),
    ("baking time", Found::Bake),
    ("oven", Found::Bake),
    ("cool", Found::Cool),
    ("rest", Found::Rest),
    ("stand", Found::Rest),
];

/// Words that begin a dividing or shaping.
const SHAPING: [&str; 7] = ["shape", "divide", "form into", "roll into", "braid", "plait", "loaf pan"];

/// The nearest word of a list before a place, or else the first after it.
fn nearest<T: Copy>(words: &[(&str, T)], lower: &str, at: usize) -> Option<T> {
    let before = words
        .iter()
        .filter_map(|(w, t)| Some((lower[..at].rfind(w)? + w.len(), w.len(), *t)))
        .max_by_key(|(end, length, _)| (*end, *length));
    let after =
        || words.iter().filter_map(|(w, t)| Some((lower[at..].find(w)?, *t))).min_by_key(|(start, _)| *start);
    before.map(|(_, _, t)| t).or_else(|| after().map(|(_, t)| t))
}

impl Searched {
    fn add(&mut self, found: Found, count: Count, key: &str, text: &str) {
        let finding = Finding { found, low: count.low, high: count.high, key: key.into(), text: text.into() };
        let single = matches!(
            found,
            Found::Oven
                | Found::BulkTarget
                | Found::ProofTarget
                | Found::Pieces
                | Found::BakesIn
                | Found::MixedBy
                | Found::Steam
                | Found::Autolyse
        );
        let there = self.found.iter().any(|f| f.found == found && (single || f.figure() == finding.figure()));
        if !there {
            self.found.push(finding);
        }
    }

    fn sentence(&mut self, text: &str) {
        // Of ASCII alone, so that places are the same in both.
        let lower = text.to_ascii_lowercase();
        if SHAPING.iter().any(|w| lower.contains(w)) {
            self.shaped = true;
        }
        self.vessel_and_mixer(text, &lower);
        self.rise_target(text, &lower);
        self.figures(text, &lower);
        self.risen |= ["rise", "doubl", "ferment", "proof"].iter().any(|w| lower.contains(w));
    }

    fn figures(&mut self, text: &str, lower: &str) {
        let mut at = 0;
        while let Some(start) = word_start(lower, at) {
            let mut rest = &lower[start..];
            match figure(&mut rest) {
                Some(figure) => {
                    let end = lower.len() - rest.len();
                    self.figure(&figure, text, lower, start, end);
                    at = end.max(start + 1);
                }
                None => at = start + lower[start..].chars().next().map_or(1, char::len_utf8),
            }
        }
        if lower.contains("overnight")
            && !self.found.iter().any(|f| f.text == text && f.found == Found::Fridge)
        {
            let fridge = ["fridge", "refrigerat", "cold"].iter().any(|w| lower.contains(w));
            let found = if fridge { Found::Fridge } else { self.rise_of(Found::Bulk) };
            self.add(found, Count { low: 480.0, high: 720.0 }, "", text);
        }
    }

    /// A rise after the dough was shaped is the proof.
    fn rise_of(&self, found: Found) -> Found {
        if found == Found::Bulk && self.shaped && self.risen { Found::Proof } else { found }
    }

    fn figure(&mut self, figure: &Figure, text: &str, lower: &str, start: usize, end: usize) {
        match figure {
            Figure::Time(minutes) => {
                let Some(found) = nearest(&TIME_WORDS, lower, start) else { return };
                let found = self.rise_of(found);
                if minutes.low > 0.0 && minutes.high <= 7200.0 {
                    self.add(found, *minutes, "", text);
                }
            }
            Figure::Heat(t) => {
                let says = |words: &[&str]| words.iter().any(|w| lower.contains(w));
                let found = if t.low >= 120.0 && t.high <= 320.0 {
                    Found::Oven
                } else if (70.0..=110.0).contains(&t.low)
                    && says(&["internal", "core", "cent", "inside", "thermometer"])
                {
                    Found::Core
                } else if t.high <= 70.0 && says(&["water", "milk", "liquid", "warm", "lukewarm"]) {
                    Found::Liquid
                } else {
                    return;
                };
                self.add(found, *t, "", text);
            }
            Figure::Bare(count) => self.bare(*count, text, lower, start, end),
        }
    }

    /// `makes 8`, `divide into 8 pieces`, `12 rolls`, `bake at 375`.
    fn bare(&mut self, count: Count, text: &str, lower: &str, start: usize, end: usize) {
        let before = lower[..start].trim_end();
        let after = lower[end..].trim_start();
        let oven = ["at", "to", "oven"].iter().any(|w| before.ends_with(w))
            && ["bake", "baking", "oven", "preheat"].iter().any(|w| lower.contains(w));
        if oven && (140.0..=550.0).contains(&count.low) {
            let celsius = |t: f64| if t >= 300.0 { Celsius::from_fahrenheit(t).0 } else { t };
            self.add(Found::Oven, Count { low: celsius(count.low), high: celsius(count.high) }, "", text);
            return;
        }
        let whole = count.low >= 1.0 && count.high <= 200.0 && count.low.fract() == 0.0;
        let makes = ["makes", "makes:", "makes about", "yield", "yields", "yield:", "for", "into", "shape"]
            .iter()
            .any(|w| before.ends_with(w));
        let kind = piece_kind(after);
        let dividing = ["divide", "cut", "shape", "form", "makes", "yield"].iter().any(|w| lower.contains(w));
        if whole
            && ((makes && (kind.is_some() || lower.starts_with("makes"))) || (dividing && kind.is_some()))
        {
            self.add(Found::Pieces, count, kind.flatten().map_or("", Kind::key), text);
        }
    }

    fn vessel_and_mixer(&mut self, text: &str, lower: &str) {
        let one = Count { low: 1.0, high: 1.0 };
        let vessels = [
            ("dutch oven", Vessel::Pot),
            ("casserole", Vessel::Pot),
            ("lidded pot", Vessel::Pot),
            ("loaf pan", Vessel::Tin),
            ("bread pan", Vessel::Tin),
            ("loaf tin", Vessel::Tin),
            ("baking stone", Vessel::Stone),
            ("hot stone", Vessel::Stone),
            ("baking sheet", Vessel::Sheet),
            ("baking tray", Vessel::Sheet),
            ("cookie sheet", Vessel::Sheet),
        ];
        if let Some((_, vessel)) = vessels.iter().find(|(w, _)| lower.contains(w)) {
            self.add(Found::BakesIn, one, vessel.key(), text);
        }
        let methods = [
            ("stand mixer", Method::Mixer),
            ("dough hook", Method::Mixer),
            ("stretch and fold", Method::Fold),
            ("coil fold", Method::Fold),
            ("by hand", Method::Hand),
            ("floured surface", Method::Hand),
            ("no kneading", Method::None),
        ];
        let kneads = ["knead", "mix", "fold"].iter().any(|w| lower.contains(w));
        if let Some((_, method)) = methods.iter().find(|(w, _)| kneads && lower.contains(w)) {
            self.add(Found::MixedBy, one, method.key(), text);
        }
        if ["steam", "cup of hot water into", "ice cubes", "spray the oven"].iter().any(|w| lower.contains(w))
        {
            self.add(Found::Steam, one, "", text);
        }
    }

    fn rise_target(&mut self, text: &str, lower: &str) {
        let targets = [
            ("tripl", 3.0),
            ("half again", 1.5),
            ("one and a half times", 1.5),
            ("by half", 1.5),
            ("50 %", 1.5),
            ("50%", 1.5),
            ("doubl", 2.0),
        ];
        if let Some((_, times)) = targets.iter().find(|(w, _)| lower.contains(w)) {
            let found = if self.shaped && self.risen { Found::ProofTarget } else { Found::BulkTarget };
            self.add(found, Count { low: *times, high: *times }, "", text);
        }
    }
}

/// What follows the count: pieces of no named shape, or of one; `None` when it is something else.
fn piece_kind(after: &str) -> Option<Option<Kind>> {
    let words = after.split_whitespace().take(3);
    for word in words {
        let bare = word.trim_matches(|c: char| !c.is_alphanumeric());
        return Some(match bare {
            "roll" | "rolls" => Some(Kind::Roll),
            "bun" | "buns" => Some(Kind::Bun),
            "baguette" | "baguettes" => Some(Kind::Baguette),
            "round" | "rounds" | "boule" | "boules" => Some(Kind::Round),
            "braid" | "braids" | "plait" | "plaits" => Some(Kind::Braid),
            "loaf" | "loaves" | "piece" | "pieces" | "ball" | "balls" | "portions" => None,
            "equal" | "equally" | "even" | "large" | "small" | "medium" | "soft" | "dinner"
            | "round-shaped" => continue,
            _ => return None,
        });
    }
    None
}

#[cfg(test)]
mod tests {
    use super::super::finding::Found;
    use super::*;
    use crate::formula::Formula;
    use crate::words::Style;
    use proptest::prelude::*;
    use rstest::rstest;

    #[rstest]
    #[case("Knead for 8 to 10 minutes.", Found::Knead, 8.0, 10.0)]
    #[case("Let rise in a warm place 1 1/2 hours.", Found::Bulk, 90.0, 90.0)]
    #[case("Let it rest 1 hour 15 minutes", Found::Rest, 75.0, 75.0)]
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
        assert_eq!(of(Found::BakesIn).as_deref(), Some("Baking sheet"));
    }

    #[test]
    fn what_is_taken_goes_where_it_belongs() {
        let mut f = Formula::beginning("Rolls", Style::SoftRoll);
        f.notes.clear();
        let text = "Knead in a stand mixer 6 minutes. Rise until doubled, 1 hour. Shape 10 buns. Bake 15 minutes at 200 °C with steam.";
        read_method(text).iter().for_each(|x| x.put_into(&mut f));
        assert_eq!((f.mix.method, f.rise.bulk.target, f.shape.pieces), (Method::Mixer, 2.0, 10));
        assert_eq!((f.shape.kind, f.oven.temperature, f.oven.steam), (Kind::Bun, Some(Celsius(200.0)), true));
        assert_eq!(
            f.notes,
            "The recipe says: kneading 6 min.\nThe recipe says: bulk rise 1 h.\nThe recipe says: bake 15 min."
        );
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
