//! Pieces, strands, folds, vessels and ways of mixing in a method.

use super::clause::Clause;
use super::course::{At, Course, Told, add};
use super::ending::LOAF_WIDE;
use super::pan::pan_said;
use super::said::{Act, BETWEEN, METHODS, PIECES, VESSELS, number_word};
use crate::finding::Found;
use crate::quantity::Count;
use cerealis_core::units::OUNCE;
use cerealis_core::words::{Kind, Method, Vessel};

/// Whether a thing is named, and none that only begins like it: “the pot”, not “the potato”.
fn names(lower: &str, thing: &str) -> bool {
    let ends = |rest: &str| !rest.trim_start_matches('s').starts_with(char::is_alphabetic);
    lower.match_indices(thing).any(|(at, w)| ends(&lower[at + w.len()..]))
}

/// Whether a word is one for what is plaited.
fn is_strand(word: &str) -> bool {
    ["strand", "rope", "sausage", "snake"].iter().any(|w| word.starts_with(w))
}

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
            // “15 minutes at 220 °C, then at 190 °C another 25”, “… and 25 at 190 °C”
            let ends = after.is_empty() || after.starts_with(['.', ',', ';', ')']);
            let another = ends && ["another", "further"].iter().any(|w| before.ends_with(w));
            let and = ["and", "then", ","].iter().any(|w| before.ends_with(w));
            let cooler =
                and && after.strip_prefix("at ").is_some_and(|t| t.starts_with(|x: char| x.is_ascii_digit()));
            if another || cooler || goes_on.iter().any(|w| after.starts_with(w)) {
                return self.bakes(Act::Bake, count, c, at, end);
            }
        }
        // “knead 3 more”
        if self.at <= At::Mixed
            && own == Some(Act::Knead)
            && self.knead.is_some()
            && after.starts_with("more")
        {
            return add(&mut self.knead, count, c.text);
        }
        // “five minutes on slow, five on medium”
        let speeds = [
            "fast",
            "slow",
            "quick",
            "on slow",
            "on low",
            "on medium",
            "on fast",
            "on high",
            "on speed",
            "on second",
            "on the ",
        ];
        if self.at <= At::Mixed && self.knead.is_some() && speeds.iter().any(|w| after.starts_with(w)) {
            return add(&mut self.knead, count, c.text);
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
            // “a 900 g tin” is a tin.
            if after
                .split_whitespace()
                .skip(1)
                .take(2)
                .any(|w| w.starts_with("tin") || w.starts_with("loaf") || w.starts_with("pan"))
            {
                return;
            }
            let shaping = [
                "scale ",
                "cut off",
                "divide",
                "cut into",
                "portion at",
                "portion into",
                "shape",
                "pieces",
                "buns",
                "rolls",
                "balls",
                "rounds",
                "each",
            ];
            let made = self.at >= At::Mixed && c.lower[..at].contains("make");
            let strands = before.contains("strand");
            let rounds = after.split_whitespace().nth(1).is_some_and(|w| PIECES.iter().any(|(p, _)| *p == w));
            if !strands
                && (rounds || made || shaping.iter().any(|w| c.lower[..at].contains(w)))
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
        let dividing = [
            "divide",
            "weigh",
            "portion at",
            "portion into",
            "cut",
            "shape",
            "form",
            "make",
            "yield",
            "into",
            "roll",
            "set of",
            "drop",
        ]
        .iter()
        .any(|w| c.lower.contains(w));
        let alone = ["into", "in"].iter().any(|w| before.ends_with(w))
            && ["divide", "cut"].iter().any(|w| c.lower.contains(w))
            && (c.lower[end..c.to].trim().is_empty()
                || ["and ", "then "].iter().any(|w| after.starts_with(w)));
        let kind = match kind {
            // “90 g for each bun, 10 in all”
            None if after.starts_with("in all")
                && ["bun", "roll", "piece", "ball"].iter().any(|w| c.lower[..at].contains(w)) =>
            {
                Some(None)
            }
            // “55 g pieces (about 20)”
            None if c.lower[..at].trim_end().ends_with("(about") && c.lower.contains("pieces") => Some(None),
            Some(None) if count.high == 1.0 && (after.starts_with("ball") || after.contains(" ball")) => {
                Some(Some(Kind::Round))
            }
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
            } else if is_strand(word)
                && (lower.contains("each") || lower.contains("braid") || lower.contains("plait"))
                && before.and_then(count).is_none_or(|c| c.low <= 1.0)
                && !self.found.iter().any(|f| f.found == Found::Strands)
                && let Some(pieces) = self
                    .pieces
                    .take_if(|p| (p.text == text || self.divided) && (2.0..=8.0).contains(&p.count.low))
            {
                // “Divide into three and roll each to a strand”
                self.find(Found::Strands, pieces.count, "", text);
                self.kind = Some(Kind::Braid);
            } else if is_strand(word)
                && let Some(c) = before.and_then(count).filter(|c| c.low > 1.0)
            {
                self.find(Found::Strands, c, "", text);
                self.kind = Some(Kind::Braid);
            }
            let again = self.folded && (lower.contains("do this") || lower.contains("do it"));
            let folds = (again || lower.contains("fold"))
                && self.at < At::Shaped
                && (self.may_be_a_rest() || self.in_bulk(text));
            if (matches!(*word, "folds" | "sets") || word.ends_with("-folds"))
                && self.folds.is_none()
                && self.at < At::Shaped
                && let Some(c) = before.and_then(count)
            {
                self.folds = Some(Told { count: c, text: text.into() });
            }
            // “4 coil folds”
            let coil =
                matches!(*word, "folds") && before.is_some_and(|w| ["coil", "gentle", "quick"].contains(&w));
            if coil
                && self.folds.is_none()
                && let Some(c) = n.checked_sub(2).and_then(|n| count(words[n]))
            {
                self.folds = Some(Told { count: c, text: text.into() });
            }
            // “Folds ×4”
            if *word == "folds" && self.folds.is_none() && self.at < At::Shaped {
                let next = words.get(n + 1).map(|w| w.trim_start_matches('x'));
                let mark = lower.contains("folds ×") || lower.contains("folds x");
                if let Some(c) = next.filter(|_| mark).and_then(|w| w.parse::<f64>().ok()) {
                    self.folds = Some(Told { count: Count { low: c, high: c }, text: text.into() });
                }
            }
            // “Fold; repeat three more times”
            if *word == "repeat" && self.folded && self.folds.is_none() && self.at < At::Shaped {
                let more = words[n..].iter().take(4).find_map(|w| count(w));
                self.folds = more.map(|c| Told {
                    count: Count { low: c.low + 1.0, high: c.high + 1.0 },
                    text: text.into(),
                });
            }
            // “Fold. Fold twice more …”
            let more = words.get(n + 1) == Some(&"more") && matches!(*word, "twice" | "thrice");
            if more && folds && self.folds.is_none() {
                self.folds = count(word).map(|c| Told {
                    count: Count { low: c.low + 1.0, high: c.high + 1.0 },
                    text: text.into(),
                });
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
        let parts = [
            ("divide in half", 2.0),
            ("divide it in half", 2.0),
            ("halve the dough", 2.0),
            ("half in each", 2.0),
            ("quarter the dough", 4.0),
        ];
        if let Some((_, n)) = parts.iter().find(|(w, _)| lower.contains(w)).filter(|_| self.pieces.is_none())
        {
            self.pieces = Some(Told { count: Count { low: *n, high: *n }, text: text.into() });
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
                ("it round", Some(Kind::Round)),
                ("it oval", Some(Kind::Batard)),
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
        // “into a 2 lb tin”, “two long tins”
        let tin = self.at < At::Baking
            && lower.split(|c: char| !c.is_alphabetic()).any(|w| matches!(w, "tin" | "tins"))
            && !says(&["muffin", "roasting tin", "bun tin", "baking tin"])
            && pan_said(text, lower).is_none_or(|p| p.loaf || p.width.is_some_and(|w| w <= LOAF_WIDE));
        let tray = self.at < At::Baking
            && self.at >= At::Risen
            && says(&[" on ", "onto", " over "])
            && lower
                .split(|c: char| !c.is_alphabetic())
                .any(|w| matches!(w, "tray" | "trays" | "sheet" | "sheets"))
            && pan_said(text, lower).is_none();
        let pot = self.at < At::Baking
            && says(&["oven", "lid", "hot", "covered", "preheated"])
            && lower.split(|c: char| !c.is_alphabetic()).any(|w| w == "pot")
            && !says(&["pot of"]);
        let named = VESSELS.iter().find(|(w, _)| names(lower, w)).map(|(_, v)| *v);
        if let Some(vessel) = &named
            .or(tin.then_some(Vessel::Tin))
            .or(tray.then_some(Vessel::Sheet))
            .or(pot.then_some(Vessel::Pot))
            .filter(|_| self.vessel.is_none())
        {
            let cake = says(&["square tin", "round tin", "cake tin"]);
            if !(cake && *vessel == Vessel::Tin) {
                self.vessel = Some(*vessel);
                self.find(Found::BakesIn, one, vessel.key(), text);
            }
        }
        let mixes = says(&["knead", "mix", "fold", "beat", "work it", "work everything", "work to a"]);
        let plain =
            |w: &str| mixes || ["paddle", "dough hook", "mixer", "machine"].iter().any(|p| w.contains(p));
        if let Some((_, method)) = METHODS.iter().find(|(w, _)| lower.contains(w) && plain(w))
            && self.at <= At::Mixed
        {
            let folded = *method == Method::None && says(&["fold"]);
            let method = if folded { Method::Fold } else { *method };
            self.find(Found::MixedBy, one, method.key(), text);
        }
        if says(&["steam", "cup of hot water into", "ice cubes", "spray the oven"]) {
            self.find(Found::Steam, one, "", text);
        }
        let into =
            says(&["press into", "press it into", "press the dough into", "spread it in", "stretch it into"]);
        let wide = pan_said(text, lower).is_some_and(|p| !p.loaf && p.width.is_none_or(|w| w > LOAF_WIDE));
        let pressed =
            into && wide || says(&["press out"]) && !says(&["press out the air", "press out the gas"]);
        if pressed
            || says(&[
                "flat fingers",
                "into the corners",
                "to the corners",
                "fingertips",
                "dimple",
                "dock",
                "press it out",
                "stretch it to the edges",
            ])
        {
            self.kind = Some(Kind::Flat);
        }
        self.rolled_tight |= says(&["roll up tightly", "roll it up tightly", "roll each up tightly"]);
        self.spirals |= says(&["into a spiral", "spirals", "all three in one", "all three in a"]);
        let rolled_up = says(&["roll up", "roll it up", "rolled up"]) && says(&["filling", "cinnamon"]);
        self.rolled_up |= rolled_up && !says(&["cut into", "slice"]);
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
                ("bâtards", Kind::Batard),
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
            ("by about half", 1.5),
            ("by around half", 1.5),
            ("50 %", 1.5),
            ("50%", 1.5),
            ("doubl", 2.0),
            ("twice its", 2.0),
            ("twice the size", 2.0),
            ("twice as big", 2.0),
        ];
        // How far a levain goes is no target of the dough.
        if let Some((w, times)) = targets.iter().find(|(w, _)| lower.contains(w) && !ahead) {
            let before = &lower[..lower.find(w).unwrap_or(0)];
            let shaping = ["shape", "put it in the tin", "prove for"].iter().any(|w| before.contains(w));
            let shaped = self.at >= At::Shaped || shaping && self.bulk.is_some();
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
        let again = lower
            .find("brush")
            .is_some_and(|at| [", again", "and again"].iter().any(|w| lower[at..].contains(w)));
        let twice = (again || lower.contains("twice"))
            && ["brush", "wash", "glaze"].iter().any(|w| lower.contains(w));
        let eggs = lower.matches("egg it").count() + lower.matches("egg them").count();
        // “Wash. Proof an hour. Wash again.”
        let washes = lower.split(|c: char| !c.is_alphabetic()).filter(|w| *w == "wash").count();
        let hands = lower.contains("your hands") || lower.contains("wash the");
        let times = (lower.matches("brush").count() + eggs)
            .max(if hands { 0 } else { washes })
            .max(if twice { 2 } else { 0 });
        self.washes.extend(std::iter::repeat_n(text.to_owned(), times));
    }
}
