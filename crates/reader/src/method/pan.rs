//! The pan that a method names by its size, and whether its pieces touch there.

use super::course::Course;
use super::said::number_word;
use crate::finding::Found;
use crate::quantity::Count;
use cerealis_core::units::{OUNCE, vulgar_fraction};

/// A pan by its inside, cm.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct PanSaid {
    pub length: f64,
    /// Nothing for a round one.
    pub width: Option<f64>,
    pub depth: Option<f64>,
    /// How many of them.
    pub count: f64,
    /// Whether it is one for loaves: what lies in it does not lie side by side.
    pub loaf: bool,
    pub text: String,
}

/// Words of things that have an inside.
const PANS: [&str; 13] = [
    "tin",
    "tins",
    "pan",
    "pans",
    "dish",
    "dishes",
    "form",
    "mould",
    "skillet",
    "springform",
    "tray",
    "roaster",
    "cake",
];
/// Words between its size and its name.
const OF_A_PAN: [&str; 16] = [
    "round",
    "square",
    "loaf",
    "baking",
    "bread",
    "deep",
    "metal",
    "glass",
    "greased",
    "lined",
    "oblong",
    "rectangular",
    "roasting",
    "ring",
    "ovenproof",
    "shallow",
];
/// Tins by the dough that they are named for, in grams, with their inside in cm (common practice, no source).
const NAMED: [(f64, f64, [f64; 3]); 2] =
    [(400.0, 520.0, [16.0, 9.5, 6.0]), (850.0, 1050.0, [22.0, 11.5, 7.0])];
pub(super) const INCH: f64 = 2.54;
const POUND: f64 = 16.0 * OUNCE;

#[derive(Clone, Copy, Debug, PartialEq)]
enum Token<'a> {
    Number(f64),
    Word(&'a str),
}

/// Numbers and words, `×` and the mark of an inch as words.
fn tokens(lower: &str) -> Vec<Token<'_>> {
    let mut out = Vec::new();
    let mut rest = lower;
    while let Some(c) = rest.chars().next() {
        let long = match c {
            c if c.is_ascii_digit() => {
                rest.find(|x: char| !(x.is_ascii_digit() || x == '.')).unwrap_or(rest.len())
            }
            c if c.is_alphabetic() => rest.find(|x: char| !x.is_alphabetic()).unwrap_or(rest.len()),
            c => c.len_utf8(),
        };
        let (token, after) = rest.split_at(long);
        let part = after.chars().next().and_then(vulgar_fraction);
        match token.trim_end_matches('.').parse::<f64>() {
            // “8½”
            Ok(n) if c.is_ascii_digit() && part.is_some() => {
                out.push(Token::Number(n + part.unwrap_or_default()));
                rest = after.get(after.chars().next().map_or(0, char::len_utf8)..).unwrap_or("");
                continue;
            }
            Ok(n) if c.is_ascii_digit() => out.push(Token::Number(n)),
            _ if c.is_alphabetic() => out.push(Token::Word(token)),
            _ if "×\"″”'".contains(c) => out.push(Token::Word(if c == '×' { "x" } else { "inch" })),
            _ => {}
        }
        rest = after;
    }
    out
}

/// What a unit of length is in cm.
fn length_unit(token: Option<&Token<'_>>) -> Option<f64> {
    match token {
        Some(Token::Word("cm" | "centimetre" | "centimetres" | "centimeter" | "centimeters")) => Some(1.0),
        Some(Token::Word("mm")) => Some(0.1),
        Some(Token::Word("inch" | "inches" | "in")) => Some(INCH),
        _ => None,
    }
}

/// Sides that are parted by “x” or “by”, with their unit, and how many tokens they take.
fn sides(tokens: &[Token<'_>]) -> Option<(Vec<f64>, usize)> {
    let (mut found, mut unit, mut at) = (Vec::new(), None, 0);
    while let Some(Token::Number(n)) = tokens.get(at) {
        found.push(*n);
        at += 1;
        if let Some(one) = length_unit(tokens.get(at)) {
            unit = Some(one);
            at += 1;
        }
        let goes_on = matches!(tokens.get(at), Some(Token::Word("x" | "by")))
            && matches!(tokens.get(at + 1), Some(Token::Number(_)));
        if !goes_on || found.len() == 3 {
            break;
        }
        at += 1;
    }
    // A pan of 9 by 13 is one in inches; one of 23 by 33 in cm.
    let usual = if found.len() > 1 && found[0] <= 15.0 { INCH } else { 1.0 };
    let one = unit.or((found.len() > 1).then_some(usual))?;
    Some((found.iter().map(|n| n * one).collect(), at))
}

/// The pan that a sentence names by its size.
pub(super) fn pan_said(text: &str, lower: &str) -> Option<PanSaid> {
    let tokens = tokens(lower);
    let word = |at: usize| match tokens.get(at) {
        Some(Token::Word(w)) => *w,
        _ => "",
    };
    for at in 0..tokens.len() {
        let Token::Number(n) = tokens[at] else { continue };
        let (inside, end) = match sides(&tokens[at..]) {
            // “Bake the 12 in tins”: no inches.
            Some((inside, _)) if inside.len() == 1 && word(at + 1) == "in" => continue,
            Some((inside, long)) => (inside, at + long),
            None => {
                let grams = match word(at + 1) {
                    "lb" | "pound" | "lbs" => n * POUND,
                    "g" | "gram" => n,
                    "kg" => n * 1000.0,
                    _ => continue,
                };
                let named = NAMED.iter().find(|(low, high, _)| (*low..=*high).contains(&grams));
                let Some((_, _, inside)) = named else { continue };
                (inside.to_vec(), at + 2)
            }
        };
        // The thing is named right after its size, or right before it: “a lidded tin of 21 x 11 cm”.
        let mut after: Vec<&str> =
            (end..end + 4).map(word).take_while(|w| PANS.contains(w) || OF_A_PAN.contains(w)).collect();
        let before = at.checked_sub(2).map(word).filter(|w| word(at - 1) == "of" && PANS.contains(w));
        if after.is_empty() && inside.len() > 1 {
            after.extend(before);
        }
        let Some(named) = after.iter().position(|w| PANS.contains(w)) else { continue };
        let said = |w: &str| after[..=named].contains(&w) || word(at.wrapping_sub(1)) == w;
        let by_weight = matches!(word(at + 1), "lb" | "lbs" | "pound" | "g" | "gram" | "kg");
        let loaf = by_weight || said("loaf") || said("bread");
        let square = said("square");
        let (length, width, depth) = match inside[..] {
            [side] if square => (side, Some(side), None),
            // One side of a loaf tin tells nothing of the other.
            [_] if loaf => continue,
            [across] => (across, None, None),
            [a, b] => (a.max(b), Some(a.min(b)), None),
            [a, b, depth] => (a.max(b), Some(a.min(b)), Some(depth)),
            _ => continue,
        };
        let many = number_word(word(at.wrapping_sub(1))).or(match at.checked_sub(1).map(|i| tokens[i]) {
            Some(Token::Number(n)) => Some(n),
            _ => None,
        });
        let count = many.filter(|n| (1.0..=12.0).contains(n)).unwrap_or(1.0);
        return Some(PanSaid { length, width, depth, count, loaf, text: text.to_owned() });
    }
    None
}

/// Whether a sentence says that pieces touch, or are about to.
pub(super) fn touching(lower: &str) -> bool {
    let says = [
        "touching",
        "will touch",
        "just touch",
        "touch each other",
        "shoulder to shoulder",
        "side by side",
        "snugly",
        "close together",
        "nestle",
        "packed together",
    ];
    let not = [
        "not touching",
        "don't touch",
        "do not touch",
        "not quite touching",
        "without touching",
        "apart",
        "not too close together",
    ];
    says.iter().any(|w| lower.contains(w)) && !not.iter().any(|w| lower.contains(w))
}

/// Small breads that lie side by side in a pan that is none for loaves.
const ENOUGH: f64 = 4.0;

impl Course {
    /// What was said of the pan, and how many lie in one, with so many pieces in all.
    pub(super) fn pan_and_pieces(&mut self, pieces: Option<Count>) {
        let pan = self.pan.take();
        if let Some(p) = &pan {
            let key = if p.width.is_some() { "" } else { "round" };
            self.find(Found::Pan, Count { low: p.length, high: p.width.unwrap_or(p.length) }, key, &p.text);
            if let Some(depth) = p.depth {
                self.find(Found::PanDepth, Count { low: depth, high: depth }, "", &p.text);
            }
        }
        let Some(pieces) = pieces.filter(|c| c.low == c.high && c.low >= 2.0) else { return };
        let pans = pan.as_ref().map_or(1.0, |p| p.count);
        let lies = pan.as_ref().is_some_and(|p| !p.loaf && pieces.low / pans >= ENOUGH);
        let said = self.touching.clone().or(pan.filter(|_| lies).map(|p| p.text));
        if let Some(text) = said.filter(|_| pieces.low / pans > 1.0) {
            let each = (pieces.low / pans).ceil();
            self.find(Found::Together, Count { low: each, high: each }, "", &text);
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case("Put them in a 33 x 23 cm tin.", 33.0, Some(23.0), 1.0)]
    #[case("Grease a 9-by-13-inch pan.", 33.02, Some(22.86), 1.0)]
    #[case("Use a 9x13 pan.", 33.02, Some(22.86), 1.0)]
    #[case("Place in two 20 cm round tins.", 20.0, None, 2.0)]
    #[case("Line a 23cm square cake tin.", 23.0, Some(23.0), 1.0)]
    #[case("In a 2 lb loaf tin.", 22.0, Some(11.5), 1.0)]
    #[case("Into a 900 g tin.", 22.0, Some(11.5), 1.0)]
    #[case("In an 8 inch square baking dish.", 20.32, Some(20.32), 1.0)]
    fn pans_by_size(#[case] text: &str, #[case] length: f64, #[case] width: Option<f64>, #[case] count: f64) {
        let p = pan_said(text, &text.to_ascii_lowercase()).unwrap_or_else(|| panic!("{text}"));
        let near = |a: f64, b: f64| (a - b).abs() < 0.01;
        assert!(near(p.length, length) && p.count == count, "{p:?}");
        assert!(p.width.zip(width).map_or(p.width == width, |(a, b)| near(a, b)), "{p:?}");
    }

    #[rstest]
    #[case("Roll it out to 30 x 20 cm and put it in the tin.")]
    #[case("Bake the 12 in tins.")]
    #[case("Set them 5 cm apart on the tray.")]
    #[case("Shape each into a 25 cm rope.")]
    #[case("Divide into 12 pieces of 60 g.")]
    #[case("Bake at 200 C in the pan for 25 minutes.")]
    fn no_pan(#[case] text: &str) {
        assert_eq!(pan_said(text, &text.to_ascii_lowercase()), None, "{text}");
    }

    #[test]
    fn what_touches() {
        assert!(touching("lay them side by side in the tin"));
        assert!(!touching("place on a tray, not quite touching"));
    }
}
