//! What methods say more rarely: butter in portions, a line in the pan, cuts and crosses.

use super::course::{At, Course, Told};
use super::pan::INCH;
use super::said::number_word;
use crate::finding::Found;
use crate::quantity::Count;
use cerealis_core::finish::Score;

/// A finger's breadth, cm (common practice, no source).
const FINGER: f64 = 1.5;

pub(super) fn one(n: f64) -> Count {
    Count { low: n, high: n }
}

/// Words of a sentence, with figures, fractions and hyphens in them.
pub(super) fn words(lower: &str) -> Vec<&str> {
    lower
        .split(|c: char| !(c.is_alphanumeric() || matches!(c, '-' | '.' | '/' | '½' | '¼' | '¾')))
        .map(|w| w.trim_matches(['.', '-']))
        .filter(|w| !w.is_empty())
        .collect()
}

/// A number in one word: `1`, `0.5`, `1/2`, `½`, `half`, `two`.
pub(super) fn number(word: &str) -> Option<f64> {
    match word {
        "half" | "½" | "1/2" => Some(0.5),
        "quarter" | "¼" | "1/4" => Some(0.25),
        "¾" | "3/4" => Some(0.75),
        "an" => Some(1.0),
        _ => number_word(word),
    }
}

/// How long a unit of length is, cm.
fn length(word: &str) -> Option<f64> {
    match word {
        "cm" | "centimetre" | "centimetres" | "centimeter" | "centimeters" => Some(1.0),
        "mm" | "millimetres" | "millimeters" => Some(0.1),
        "inch" | "inches" | "in" => Some(INCH),
        "finger" | "finger's" | "fingers" => Some(FINGER),
        _ => None,
    }
}

/// A length that ends before the word at `end`: `1 cm`, `half an inch`, `a finger's breadth`.
fn length_before(words: &[&str], end: usize) -> Option<f64> {
    let from = end.saturating_sub(5);
    let unit = (from..end).rev().find(|i| length(words[*i]).is_some())?;
    let per = length(words[unit])?;
    let n = (from..unit).rev().find_map(|i| number(words[i]).filter(|n| *n > 0.0));
    // “half an inch” is half of one.
    let halved = (from..unit).any(|i| words[i] == "half") && n == Some(1.0);
    Some(per * if halved { 0.5 } else { n.unwrap_or(1.0) })
}

/// `2`, `two`, `second`.
fn ordinal(word: &str) -> Option<f64> {
    match word {
        "first" => Some(1.0),
        "second" => Some(2.0),
        "third" => Some(3.0),
        "fourth" => Some(4.0),
        _ => number_word(word),
    }
}

/// Minutes that stand just before a word, “3 minutes on low”, or just behind it, “on low for 3 to 4 minutes”.
fn minutes_near(words: &[&str], at: usize) -> Option<Count> {
    let is = |i: usize| words.get(i).is_some_and(|w| matches!(*w, "min" | "mins" | "minute" | "minutes"));
    let ends_at = |i: usize| -> Option<Count> {
        let high = number(words.get(i.checked_sub(1)?)?)?;
        let joined = i.checked_sub(2).is_some_and(|i| matches!(words[i], "to" | "or"));
        let low = i.checked_sub(3).filter(|_| joined).and_then(|i| number(words[i])).unwrap_or(high);
        Some(Count { low, high })
    };
    let before = (at.saturating_sub(3)..at).rev().find(|i| is(*i));
    let behind = (at + 1..(at + 7).min(words.len())).find(|i| is(*i));
    before.or(behind).and_then(ends_at)
}

impl Course {
    /// Takes in what a sentence says besides its times, temperatures and counts. `at` is how far the dough had come
    /// before it.
    pub(super) fn rarely(&mut self, text: &str, lower: &str, at: At) {
        let says = |all: &[&str]| all.iter().any(|w| lower.contains(w));
        let words = words(lower);
        let late = [
            "add the butter",
            "adding the butter",
            "add the soft butter",
            "add the softened butter",
            "work in the butter",
            "work in the soft butter",
            "work the butter in",
            "knead in the butter",
            "beat in the butter",
            "beat the butter in",
            "everything but the butter",
            "except the butter",
            "all but the butter",
        ];
        if at <= At::Mixed && says(&late) && (at == At::Mixed || says(&["knead", "mix", "then"])) {
            self.find(Found::LateButter, one(1.0), "", text);
        }
        let extras = [
            "fruit",
            "raisin",
            "sultana",
            "currant",
            "nuts",
            "walnut",
            "hazelnut",
            "almond",
            "seeds",
            "olives",
            "chocolate",
            "peel",
            "add-ins",
            "inclusions",
        ];
        let last = [
            "at the end",
            "last minute",
            "last moment",
            "right at the end",
            "then the",
            "finally",
            "everything but",
        ];
        if at <= At::Mixed && says(&extras) && says(&last) && !says(&["soak", "sprinkle", "scatter"]) {
            self.find(Found::AddIns, one(1.0), "", text);
        }
        if at <= At::Mixed && says(&["butter", "fat", "lard"]) {
            let portions =
                words.iter().position(|w| matches!(*w, "portions" | "lots" | "batches" | "additions"));
            let count = portions.and_then(|i| number(words[i.checked_sub(1)?]));
            if let Some(n) = count.filter(|n| n.fract() == 0.0 && (1.0..=20.0).contains(n)) {
                self.find(Found::Portions, one(n), "", text);
                self.find(Found::LateButter, one(1.0), "", text);
            }
        }
        self.mixer(text, lower, &words, at);
        self.line_in_the_pan(text, lower, &words);
        if let Some(i) = words.iter().position(|w| *w == "thick" || *w == "thickness")
            && at < At::Baking
            && says(&["roll", "press", "sheet", "pat ", "flat", "stretch", "spread"])
            && let Some(cm) = length_before(&words, i)
            && (0.3..=8.0).contains(&cm)
        {
            self.find(Found::Thick, one(cm), "", text);
        }
        let strands = says(&["strand", "rope", "sausage", "plait", "braid"]);
        if at < At::Baking && strands && says(&["as a cross", "into a cross", "like a cross", "in a cross"]) {
            self.find(Found::Crossed, one(1.0), "", text);
        }
        if at < At::Baking && says(&["strand", "rope", "sausage"]) {
            let cm = (1..words.len()).find_map(|i| {
                let per = length(words[i]).filter(|per| *per != FINGER)?;
                Some(number(words[i - 1])? * per)
            });
            if let Some(cm) = cm.filter(|cm| (8.0..=120.0).contains(cm)) {
                self.find(Found::StrandLength, one(cm.round()), "", text);
            }
        }
        if at < At::Out {
            let score = if says(&["dock", "prick"]) {
                Some(Score::Docked)
            } else if says(&[
                "score x",
                "slash x",
                "snip a cross",
                "cut a cross",
                "score a cross",
                "slash a cross",
                "cross in the top",
                "cross into the top",
            ]) {
                Some(Score::Cross)
            } else if says(&["slash", "score"]) && says(&[" once"]) && !says(&["brush"])
                || says(&[
                    "slash once",
                    "score once",
                    "one long cut",
                    "one long slash",
                    "a single slash",
                    "a single cut",
                    "slash it once",
                ])
            {
                Some(Score::Single)
            } else if says(&["slash diagonally", "diagonal cuts", "diagonal slashes", "slanting cuts"]) {
                Some(Score::Slanting)
            } else {
                None
            };
            if let Some(score) = score {
                self.find(Found::Cuts, one(1.0), score.key(), text);
            }
            if says(&["pipe a cross", "pipe cross", "pipe the cross", "piped cross"]) {
                self.find(Found::Piped, one(1.0), "", text);
            }
        }
        if self.at >= At::Risen
            && at < At::Baking
            && says(&["uncovered", "without a cover", "leave them bare"])
            && !says(&["bake", "oven"])
        {
            self.find(Found::Bare, one(1.0), "", text);
        }
        self.another_bread(text, lower, &words);
    }

    /// “3 minutes on low, then 6 on speed 2”.
    fn mixer(&mut self, text: &str, lower: &str, words: &[&str], at: At) {
        let mixes =
            ["knead", "mix", "beat", "speed", "run it", "hook", "medium"].iter().any(|w| lower.contains(w));
        if at > At::Mixed || !mixes {
            return;
        }
        // “on speed 2”, “second speed”; one that is the first is the slow one.
        let speed = words.iter().enumerate().find_map(|(i, w)| {
            let n = match *w {
                "speed" => [words.get(i + 1), i.checked_sub(1).and_then(|i| words.get(i))]
                    .into_iter()
                    .flatten()
                    .find_map(|w| ordinal(w))?,
                _ => return None,
            };
            (n > 1.0).then_some(n)
        });
        if let Some(n) = speed.filter(|n| n.fract() == 0.0 && *n <= 8.0) {
            self.find(Found::Speed, one(n), "", text);
        }
        let slow = words.iter().enumerate().find_map(|(i, w)| {
            let beside = [i.checked_sub(1), Some(i + 1)].into_iter().flatten();
            let first = *w == "speed"
                && beside.filter_map(|n| words.get(n)).filter_map(|w| ordinal(w)).any(|n| n == 1.0);
            (matches!(*w, "low" | "slow" | "slowly" | "lowest" | "slowest") || first).then_some(i)
        });
        let fast = ["medium", "high", "faster", "fast", "quicker"];
        let turned_up = words.iter().any(|w| fast.contains(w)) || speed.is_some();
        let slowly = slow.and_then(|i| minutes_near(words, i));
        match (slowly, turned_up) {
            (Some(minutes), true) => self.find(Found::Slow, minutes, "", text),
            // “… on low for 2 minutes. Increase to medium …”
            (Some(minutes), false) => self.slowly = Some(Told { count: minutes, text: text.into() }),
            (None, true) => {
                if let Some(t) = self.slowly.take() {
                    self.find(Found::Slow, t.count, "", &t.text);
                }
            }
            (None, false) => {}
        }
    }

    /// “until it stands 1 cm above the rim”, “a finger under the rim”, “level with the rim”.
    fn line_in_the_pan(&mut self, text: &str, lower: &str, words: &[&str]) {
        let Some(rim) = words.iter().position(|w| matches!(*w, "rim" | "edge" | "top")) else { return };
        let of_a_pan = words[rim] == "rim"
            || ["tin", "pan", "mould", "dish"].iter().any(|v| lower.contains(v)) && lower.contains("of the");
        let rises =
            ["ris", "prove", "proof", "stand", "until", "till", "reach", "leave", "come", "grow", "climb"]
                .iter()
                .any(|w| lower.contains(w));
        if !of_a_pan || !rises {
            return;
        }
        let before = &words[rim.saturating_sub(4)..rim];
        let at = |names: &[&str]| {
            before.iter().rposition(|w| names.contains(w)).map(|i| i + rim.saturating_sub(4))
        };
        let (over, under) = (at(&["above", "over"]), at(&["below", "under", "beneath", "from"]));
        let cm = match (over, under) {
            (Some(i), _) => length_before(words, i),
            (None, Some(i)) => {
                let just = ["just", "right", "close"].contains(&words[i.saturating_sub(1)]);
                length_before(words, i).or(just.then_some(1.0)).map(|cm| -cm)
            }
            (None, None) => {
                let level = at(&["to", "with", "reaches", "at", "the"]).is_some();
                (level && words[rim] == "rim").then_some(0.0)
            }
        };
        // “over the rim by 1 cm”
        let by = words.get(rim + 1).filter(|w| **w == "by").and_then(|_| {
            let end = (rim + 5).min(words.len());
            length_before(&words[..end], end)
                .map(|cm| if over.is_none() && under.is_some() { -cm } else { cm })
        });
        // “until it nearly reaches the rim”
        let nearly = ["nearly", "almost", "just under", "just below"].iter().any(|w| lower.contains(w));
        let cm = cm.map(|cm| if cm == 0.0 && nearly { -1.0 } else { cm });
        if let Some(cm) = by.or(cm).filter(|cm| cm.abs() <= 8.0) {
            self.find(Found::Rim, one((100.0 * cm).round() / 100.0), "", text);
        }
    }
}
