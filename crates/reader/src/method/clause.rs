//! A sentence in its clauses, and each with its acts and figures.

use super::figure::{Figure, figure, word_start};
use super::said::{ACTS, Act, NO_ACT};
use crate::quantity::Count;

/// An act or a figure, where it stands.
pub(super) enum Item {
    Act(Act),
    Figure(Figure, usize),
}

/// A part of a sentence, and what is known of the whole.
pub(super) struct Clause<'a> {
    pub text: &'a str,
    pub lower: &'a str,
    pub from: usize,
    pub to: usize,
    /// Whether something is made ahead in it.
    pub ahead: bool,
    /// Whether something soaks in it.
    pub soak: bool,
    /// The sentence that follows.
    pub next: &'a str,
}

/// The most figures that are looked at in one clause.
const FIGURES_MAX: usize = 16;

impl Clause<'_> {
    pub fn own(&self) -> &str {
        &self.lower[self.from..self.to]
    }

    /// Acts and figures in their order.
    pub fn items(&self) -> Vec<(usize, Item)> {
        let own = self.own();
        let mut acts: Vec<(usize, usize, Act)> = Vec::new();
        for (word, act) in ACTS {
            for (at, _) in own.match_indices(word) {
                let begins = own[..at].chars().next_back().is_none_or(|c| !c.is_alphanumeric());
                let none =
                    NO_ACT.iter().any(|n| own.match_indices(n).any(|(i, n)| i <= at && at < i + n.len()));
                if begins && !none {
                    acts.push((at, word.len(), act));
                }
            }
        }
        // “They need an hour to rise” bakes nothing.
        if ["rise", "prove", "proof", "double", "puff"].iter().any(|w| own.contains(w)) {
            acts.retain(|(at, ..)| !["they need", "it needs"].iter().any(|w| own[*at..].starts_with(w)));
        }
        acts.extend(laid(own).map(|at| (at, 1, Act::Shape)));
        // Of two at one place, or one within the other, the longer counts.
        acts.sort_by_key(|(at, long, _)| (*at, usize::MAX - long));
        let mut kept: Vec<(usize, usize, Act)> = Vec::new();
        for act in acts {
            if kept.last().is_none_or(|(at, long, _)| act.0 >= at + long) {
                kept.push(act);
            }
        }
        // “Heat a pot in the oven” bakes nothing yet.
        if kept.iter().any(|(_, _, a)| *a == Act::Preheat) {
            kept.retain(|(at, _, a)| *a != Act::Bake || !own[*at..].starts_with("in the oven"));
        }
        let mut items: Vec<(usize, Item)> =
            kept.into_iter().map(|(at, _, act)| (self.from + at, Item::Act(act))).collect();
        let mut at = 0;
        let before = items.len();
        while let Some(start) = word_start(own, at).filter(|_| items.len() < before + FIGURES_MAX) {
            let mut rest = &own[start..];
            match figure(&mut rest) {
                Some(figure) => {
                    let end = own.len() - rest.len();
                    items.push((self.from + start, Item::Figure(figure, self.from + end)));
                    at = end.max(start + 1);
                }
                None => at = start + own[start..].chars().next().map_or(1, char::len_utf8),
            }
            while !own.is_char_boundary(at) {
                at += 1;
            }
        }
        // “Overnight, for 10 to 12 hours” is what it says.
        let told = |at: usize| {
            let rest = &self.lower[self.from + at..];
            rest.contains(" hour")
                || rest.split(|c: char| !c.is_alphanumeric()).any(|w| matches!(w, "h" | "hrs" | "hr"))
        };
        if let Some(at) = own.find("overnight").filter(|at| !told(*at)) {
            let night = Figure::Time(Count { low: 480.0, high: 720.0 });
            items.push((self.from + at, Item::Figure(night, self.from + at + "overnight".len())));
        }
        items.sort_by_key(|(at, _)| *at);
        items
    }
}

/// Verbs by which dough comes into what it proofs or bakes in (common practice, no source).
const LAYS: [&str; 33] = [
    "put", "place", "tip", "drop", "spoon", "scrape", "pour", "set", "lay", "arrange", "transfer", "turn",
    "ease", "pop", "press", "pat", "move", "lift", "slide", "scoop", "fit", "pack", "spread", "line",
    "nestle", "tuck", "flip", "plop", "dollop", "push", "roll", "stretch", "settle",
];
/// What dough proofs or bakes in; a bowl or a tub is not.
const HOLDS: [&str; 19] = [
    "tin",
    "tins",
    "pan",
    "pans",
    "mould",
    "moulds",
    "dish",
    "basket",
    "baskets",
    "banneton",
    "bannetons",
    "tray",
    "trays",
    "sheet",
    "sheets",
    "parchment",
    "couche",
    "form",
    "forms",
];
/// The most words between “into” and what holds it: “into a well greased 2 lb loaf tin”.
const BETWEEN: usize = 10;

/// “a pan of boiling water”
fn water(words: &[&str], holds: usize) -> bool {
    words.get(holds + 1) == Some(&"of")
        && words[holds + 2..].iter().take(2).any(|w| matches!(*w, "water" | "boiling" | "hot" | "ice"))
}

/// Where dough is laid into what it proofs or bakes in: “tip into an oiled pan”, “set them on a lined tray”.
fn laid(own: &str) -> Option<usize> {
    let words: Vec<&str> =
        own.split(|c: char| !(c.is_alphanumeric() || c == '-')).filter(|w| !w.is_empty()).collect();
    let verbs = words.iter().enumerate().filter(|(_, w)| LAYS.contains(w)).map(|(n, _)| n);
    verbs.into_iter().find_map(|lays| lies(own, &words, lays))
}

/// Whether what the verb at a place lays lies in what holds it.
fn lies(own: &str, words: &[&str], lays: usize) -> Option<usize> {
    let to = lays + words[lays..].iter().position(|w| matches!(*w, "into" | "in" | "on" | "onto" | "to"))?;
    let holds = words[to..].iter().take(BETWEEN + 1).position(|w| HOLDS.contains(w))? + to;
    let between = &words[to..holds];
    // “Put a pan of water on a tray in the oven” lays no dough, and a cloth lies on a tin.
    let other = ["oven", "water", "bowl", "stone", "steam"];
    let before = &words[lays..to];
    if between.iter().chain(before).any(|w| other.contains(w)) || water(words, holds) {
        return None;
    }
    own.find(words[lays])
}

/// The clauses of a sentence: parted by commas that part no number, and by “then”.
pub(super) fn clauses(lower: &str) -> Vec<(usize, usize)> {
    let mut ends: Vec<(usize, usize)> = Vec::new();
    for (at, c) in lower.char_indices().filter(|(_, c)| matches!(c, ',' | ';' | ':' | '(' | ')' | '–')) {
        let digit = |c: Option<char>| c.is_some_and(|c| c.is_ascii_digit());
        let number =
            digit(lower[..at].chars().next_back()) && digit(lower[at + c.len_utf8()..].chars().next());
        if !number {
            ends.push((at, at + c.len_utf8()));
        }
    }
    ends.extend(lower.match_indices(" then ").map(|(at, _)| (at, at + 1)));
    ends.sort_unstable();
    let mut out = Vec::new();
    let mut from = 0;
    for (at, next) in ends {
        if at > from {
            out.push((from, at));
        }
        from = next.max(from);
    }
    out.push((from, lower.len()));
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case("tip into an oiled 33 x 23 cm pan and leave it", true)]
    #[case("drop it in an oiled 900 g tin", true)]
    #[case("set them close together on two lined trays", true)]
    #[case("roll it up and set it seam side down in the pan", true)]
    #[case("place them in a buttered dish of 30 x 20 cm", true)]
    #[case("put the dough into a greased bowl", false)]
    #[case("put a pan of boiling water on the floor of it", false)]
    #[case("put a tray in the oven to heat", false)]
    #[case("leave it in the tin for ten minutes", false)]
    fn what_lies_in_what_holds_it_is_shaped(#[case] own: &str, #[case] lies: bool) {
        assert_eq!(laid(own).is_some(), lies, "{own}");
    }

    #[test]
    fn clauses_part_at_commas_and_then_but_not_in_numbers() {
        let text = "mix 1,5 minutes, rest then fold (twice) over";
        let parts: Vec<&str> = clauses(text).into_iter().map(|(a, b)| text[a..b].trim()).collect();
        assert_eq!(parts, ["mix 1,5 minutes", "rest", "then fold", "twice", "over"]);
    }
}
