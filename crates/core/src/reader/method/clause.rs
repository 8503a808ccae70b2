//! A sentence in its clauses, and each with its acts and figures.

use super::figure::{Figure, figure, word_start};
use super::said::{ACTS, Act, NO_ACT};
use crate::reader::quantity::Count;

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
        let told = |at: usize| self.lower[self.from + at..].contains(" hour");
        if let Some(at) = own.find("overnight").filter(|at| !told(*at)) {
            let night = Figure::Time(Count { low: 480.0, high: 720.0 });
            items.push((self.from + at, Item::Figure(night, self.from + at + "overnight".len())));
        }
        items.sort_by_key(|(at, _)| *at);
        items
    }
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
