//! Pieces, strands, folds, vessels and ways of mixing in a method.

use super::clause::Clause;
use super::course::{At, Course, Told};
use super::finding::Found;
use super::said::{Act, BETWEEN, METHODS, PIECES, VESSELS, number_word};
use crate::reader::quantity::Count;
use crate::units::OUNCE;
use crate::words::{Kind, Vessel};

impl Course {
    /// `12 rolls`, `of 85 g`, `four strands`, `3 sets`, `bake at 375`.
    pub(super) fn bare(&mut self, count: Count, c: &Clause<'_>, at: usize, end: usize, own: Option<Act>) {
        let before = c.lower[c.from..at].trim_end();
        let after = c.lower[end..].trim_start();
        let bakes = matches!(own, Some(Act::Bake | Act::Preheat | Act::Lower));
        if bakes
            && ["at", "to", "oven"].iter().any(|w| before.ends_with(w))
            && (140.0..=550.0).contains(&count.low)
        {
            let celsius = |t: f64| if t >= 300.0 { (t - 32.0) / 1.8 } else { t };
            return self.heat(own, Count { low: celsius(count.low), high: celsius(count.high) }, c);
        }
        if self.at == At::Baking && !self.bakes.is_empty() && (1.0..=120.0).contains(&count.low) {
            let goes_on = ["without", "uncovered", "open", "more", "with the lid", "covered"];
            if goes_on.iter().any(|w| after.starts_with(w)) {
                return self.bakes(Act::Bake, count, c, at, end);
            }
        }
        let mut words = after.split(|x: char| !(x.is_alphanumeric() || x == '-')).filter(|w| !w.is_empty());
        let first = words.next().unwrap_or("");
        let one = match first {
            "g" | "gram" | "grams" => Some(1.0),
            "oz" | "ounce" | "ounces" => Some(OUNCE),
            "kg" => Some(1000.0),
            _ => None,
        };
        if let Some(one) = one {
            let shaping = ["divide", "shape", "pieces", "buns", "rolls", "balls", "rounds", "make", "each"];
            let strands = before.contains("strand");
            let rounds = after.split_whitespace().nth(1).is_some_and(|w| PIECES.iter().any(|(p, _)| *p == w));
            if !strands
                && (rounds || shaping.iter().any(|w| c.lower[..at].contains(w)))
                && count.low * one <= 3000.0
            {
                self.find(
                    Found::PieceWeight,
                    Count { low: count.low * one, high: count.high * one },
                    "",
                    c.text,
                );
            }
            return;
        }
        let whole = count.low.fract() == 0.0 && (1.0..=200.0).contains(&count.low);
        if !whole {
            return;
        }
        // After a count come words of size, a weight, and then the pieces.
        let mut kinds = after
            .split(|x: char| !(x.is_alphanumeric() || x == '-'))
            .filter(|w| !w.is_empty())
            .take(6)
            .skip_while(|w| BETWEEN.contains(w) || w.parse::<f64>().is_ok());
        let kind = kinds.next().and_then(|w| PIECES.iter().find(|(p, _)| *p == w)).map(|(_, k)| *k);
        let dividing = ["divide", "cut", "shape", "form", "make", "yield", "into", "roll", "set of"]
            .iter()
            .any(|w| c.lower.contains(w));
        let alone = ["into", "in"].iter().any(|w| before.ends_with(w))
            && ["divide", "cut"].iter().any(|w| c.lower.contains(w))
            && (c.lower[end..c.to].trim().is_empty()
                || ["and ", "then "].iter().any(|w| after.starts_with(w)));
        let kind = match kind {
            Some(None) if count.high == 1.0 && after.starts_with("ball") => Some(Some(Kind::Round)),
            kind => kind,
        };
        if (kind.is_some() && dividing) || alone || before.ends_with("makes") {
            let one_tin = kind == Some(Some(Kind::Tin)) && count.high == 1.0;
            if self.pieces.is_none() && !one_tin {
                self.pieces = Some(Told { count, text: c.text.into() });
                self.kind = self.kind.or(kind.flatten());
            }
        }
    }

    /// Strands, folds and pieces that are named without a figure of their own.
    pub(super) fn strands_and_pieces(&mut self, text: &str, lower: &str) {
        let words: Vec<&str> =
            lower.split(|x: char| !(x.is_alphanumeric() || x == '-')).filter(|w| !w.is_empty()).collect();
        for (n, word) in words.iter().enumerate() {
            let count = |w: &str| number_word(w).map(|n| Count { low: n, high: n });
            let before = n.checked_sub(1).map(|n| words[n]);
            if let Some(number) = word.strip_suffix("-strand") {
                if let Some(c) = count(number) {
                    // What a plait has counts before what was divided for several.
                    self.found.retain(|f| f.found != Found::Strands);
                    self.find(Found::Strands, c, "", text);
                    self.kind = Some(Kind::Braid);
                    if let Some(c) = before.and_then(count).filter(|c| c.low > 1.0) {
                        self.pieces = Some(Told { count: c, text: text.into() });
                    }
                }
            } else if word.starts_with("strand")
                && lower.contains("each")
                && let Some(pieces) = self.pieces.take_if(|p| p.text == text && p.count.low > 1.0)
            {
                // “Divide into three and roll each to a strand”
                self.find(Found::Strands, pieces.count, "", text);
                self.kind = Some(Kind::Braid);
            } else if word.starts_with("strand")
                && let Some(c) = before.and_then(count).filter(|c| c.low > 1.0)
            {
                self.find(Found::Strands, c, "", text);
                self.kind = Some(Kind::Braid);
            }
            let folds =
                lower.contains("fold") && self.at < At::Shaped && (self.bulk.is_none() || self.in_bulk(text));
            if matches!(*word, "folds" | "sets")
                && self.folds.is_none()
                && self.at < At::Shaped
                && let Some(c) = before.and_then(count)
            {
                self.folds = Some(Told { count: c, text: text.into() });
            }
            let times = match *word {
                "times" | "sets" | "set" | "fold" | "folds" => before.and_then(count),
                "twice" | "thrice" | "once" => count(word),
                _ => None,
            };
            if let Some(c) = times.filter(|_| folds && self.folds.is_none()) {
                self.folds = Some(Told { count: c, text: text.into() });
            }
        }
        if self.at >= At::Shaped && self.pieces.is_none() {
            let single = [
                ("a round", Some(Kind::Round)),
                ("a ball", Some(Kind::Round)),
                ("one loaf", None),
                ("a loaf", None),
                ("one round", Some(Kind::Round)),
                ("a boule", Some(Kind::Round)),
                ("a batard", Some(Kind::Batard)),
                ("a bâtard", Some(Kind::Batard)),
                ("an oval", Some(Kind::Batard)),
            ];
            let shapes =
                ["shape", "form", "braid", "plait", "roll", "make"].iter().any(|w| lower.contains(w));
            let each = lower.contains("each ");
            let said = |w: &str| {
                lower.match_indices(w).any(|(at, w)| {
                    let after = &lower[at + w.len()..];
                    ![" tin", " pan"].iter().any(|v| after.starts_with(v))
                })
            };
            if let Some((_, kind)) = single.iter().find(|(w, _)| shapes && !each && said(w)) {
                self.pieces = Some(Told { count: Count { low: 1.0, high: 1.0 }, text: text.into() });
                self.kind = self.kind.or(*kind);
            }
        }
    }

    /// Whether the bulk rise was said in this sentence.
    pub(super) fn in_bulk(&self, text: &str) -> bool {
        self.bulk.as_ref().is_some_and(|b| b.text == text)
    }

    /// Vessel, mixing, steam, shape and how far a rise goes.
    pub(super) fn choices(&mut self, text: &str, lower: &str, ahead: bool) {
        let one = Count { low: 1.0, high: 1.0 };
        let says = |words: &[&str]| words.iter().any(|w| lower.contains(w));
        if let Some((_, vessel)) =
            VESSELS.iter().find(|(w, _)| lower.contains(w)).filter(|_| self.vessel.is_none())
        {
            let cake = says(&["square tin", "round tin", "cake tin"]);
            if !(cake && *vessel == Vessel::Tin) {
                self.vessel = Some(*vessel);
                self.find(Found::BakesIn, one, vessel.key(), text);
            }
        }
        let mixes = says(&["knead", "mix", "fold", "beat"]);
        if let Some((_, method)) = METHODS.iter().find(|(w, _)| mixes && lower.contains(w))
            && self.at <= At::Mixed
        {
            self.find(Found::MixedBy, one, method.key(), text);
        }
        if says(&["steam", "cup of hot water into", "ice cubes", "spray the oven"]) {
            self.find(Found::Steam, one, "", text);
        }
        if says(&["fingertips", "dimple", "dock", "press it out", "stretch it to the edges"]) {
            self.kind = Some(Kind::Flat);
        }
        if says(&["into a spiral", "spirals", "roll up tightly"]) && says(&["tin", "pan"]) {
            self.kind = Some(Kind::Spirals);
        }
        if self.kind.is_none() {
            let word = |w: &str| lower.split(|x: char| !x.is_alphanumeric()).any(|x| x == w);
            let named = [
                ("baguettes", Kind::Baguette),
                ("buns", Kind::Bun),
                ("bun", Kind::Bun),
                ("rolls", Kind::Roll),
                ("rounds", Kind::Round),
                ("boules", Kind::Round),
                ("batards", Kind::Batard),
                ("ovals", Kind::Batard),
            ];
            let shaping = self.at >= At::Mixed && !says(&["fold"]);
            self.kind = named.iter().find(|(w, _)| shaping && word(w)).map(|(_, k)| *k);
        }
        let targets = [
            ("tripl", 3.0),
            ("half again", 1.5),
            ("one and a half times", 1.5),
            ("by half", 1.5),
            ("50 %", 1.5),
            ("50%", 1.5),
            ("doubl", 2.0),
        ];
        // How far a levain goes is no target of the dough.
        if let Some((_, times)) = targets.iter().find(|(w, _)| lower.contains(w) && !ahead) {
            let shaped = self.at >= At::Shaped
                || says(&["shape", "put it in the tin", "prove for"]) && self.bulk.is_some();
            let found = if shaped { Found::ProofTarget } else { Found::BulkTarget };
            self.find(found, Count { low: *times, high: *times }, "", text);
        }
    }

    /// Brushing; `at` is how far the dough had come before the sentence.
    pub(super) fn wash(&mut self, text: &str, lower: &str, at: At) {
        let first = match (lower.find("brush"), lower.find("bake")) {
            (Some(brush), Some(bake)) => brush < bake,
            _ => true,
        };
        if at >= At::Out || (at == At::Baking && !lower.contains("before")) || !first {
            return;
        }
        for _ in 0..lower.matches("brush").count() {
            self.washes.push(text.to_owned());
        }
    }
}
