//! Times in which nothing is done to the dough: which rise, rest or soak each is.

use super::clause::Clause;
use super::course::{At, Course, Told, add};
use super::said::Act;
use crate::finding::Found;
use crate::quantity::Count;

/// Words that name a rise as one (common practice, no source).
const RISES: [&str; 10] =
    ["rise", "rising", "bulk", "ferment", "doubl", "prove", "proof", "proving", "grow", "puff"];

/// Words of a time that is told of all of it.
const IN_ALL: [&str; 6] = ["in all", "in total", "total", "altogether", "all told", "all in all"];

/// A stay of no more than this may turn out to have been a rest, min (common practice, no source).
const REST_MOST: f64 = 60.0;

/// Words that name no rise: the dough is only left.
fn named(own: &str) -> bool {
    RISES.iter().any(|w| own.contains(w))
}

impl Course {
    /// A rise, a rest, a soak: which one is told by how far the method has come.
    pub(super) fn waits(&mut self, act: Act, minutes: Count, c: &Clause<'_>, end: usize) {
        let says = |words: &[&str]| words.iter().any(|w| c.lower.contains(w));
        let more = ["more", "another", "further"].iter().any(|w| c.own().contains(w));
        if c.soak {
            return self.find(Found::Soaker, minutes, "", c.text);
        }
        if c.ahead {
            return self.find(Found::Preferment, minutes, "", c.text);
        }
        if self.at <= At::Mixed
            && self.bulk.is_none()
            && minutes.high <= 20.0
            && (says(&["yeast"]) || self.at == At::Before && says(&["foam", "froth"]))
            && !says(&["flour", "knead"])
        {
            return self.find(Found::Bloom, minutes, "", c.text);
        }
        if self.at < At::Shaped {
            let added = [
                "add the salt",
                "add salt",
                "add levain",
                "add the levain",
                "add the rest",
                "add the yeast",
                "add the starter",
                "add starter",
                "sprinkle the salt",
                "sprinkle over the salt",
                "sprinkle the yeast",
                "work in the salt",
                "work the salt",
            ];
            let next = c.next.to_ascii_lowercase();
            let comes = added.iter().any(|a| next.trim_start().starts_with(a));
            let none_yet = self.bulk.is_none() && self.knead.is_none();
            if says(&["autolyse"]) || (none_yet && minutes.high <= 180.0 && (self.flour_and_water || comes)) {
                return self.find(Found::Autolyse, minutes, "", c.text);
            }
            // Nothing is mixed yet that could rise.
            let named_here = named(c.own()) || named(c.lower) && !c.own().contains("rest");
            if self.at == At::Before && minutes.high <= 20.0 && !named_here {
                return;
            }
            // What stands before it is kneaded does not rise yet.
            let kneaded_then = self.knead.is_none() && c.lower[end..].contains("knead");
            if (act == Act::Rest && minutes.high <= 30.0 || kneaded_then) && self.bulk.is_none() {
                add(&mut self.rest, minutes, c.text);
                return;
            }
            // “Turn it out, fold it and let it rest for 15 minutes. Shape it …”
            let shapes = ["shape", "form ", "roll ", "make it into", "stretch"].iter();
            if act == Act::Rest
                && minutes.high <= 30.0
                && self.bulk.as_ref().is_some_and(|b| b.count.low >= 60.0)
                && shapes.clone().any(|w| next.trim_start().starts_with(w) || c.lower[end..].contains(w))
            {
                return self.find(Found::Rest, minutes, "", c.text);
            }
            self.at = self.at.max(At::Risen);
            let named = named_here;
            // “Bulk takes five hours in all” counts what was told of it before.
            if IN_ALL.iter().any(|w| c.own().contains(w)) && named {
                self.bulk = None;
            } else if named && !more && !self.bulk_named {
                self.was_a_rest();
            }
            self.bulk_named |= named;
            // Folds that went before are part of the rise that is “more”.
            if let (None, true, Some(f), Some(e)) = (&self.bulk, more, &self.folds, &self.every) {
                let folded = f.count.low * e.count.low;
                add(&mut self.bulk, Count { low: folded, high: folded }, c.text);
            }
            match self.bulk {
                Some(_) if self.knocked || (!more && says(&["again", "second"])) => {
                    add(&mut self.second, minutes, c.text);
                }
                _ => add(&mut self.bulk, minutes, c.text),
            }
            return;
        }
        // A short rest with more shaping to come is one on the bench.
        let comes = format!("{} {}", &c.lower[end..], c.next.to_ascii_lowercase());
        let shapes =
            ["shape", "roll ", "twist", "plait", "braid", "stretch"].iter().any(|w| comes.contains(w));
        if minutes.high <= 30.0 && shapes && self.proof.is_none() {
            return self.find(Found::Rest, minutes, "", c.text);
        }
        if self.proof.is_none() || more {
            add(&mut self.proof, minutes, c.text);
        }
    }

    /// What was taken for the bulk rise was a rest, if it was short and nobody called it a rise: the rise is told of,
    /// or the dough is kneaded, only now.
    pub(super) fn was_a_rest(&mut self) {
        let short = |t: &mut Told| t.count.high <= REST_MOST;
        if !self.bulk_named && self.folds.is_none() && !self.knocked {
            self.rest = self.bulk.take_if(short).or(self.rest.take());
        }
    }

    /// Whether what the dough has stood so far, if at all, may turn out to have been a rest.
    pub(super) fn may_be_a_rest(&self) -> bool {
        self.bulk.as_ref().is_none_or(|b| b.count.high <= REST_MOST && !self.bulk_named)
    }

    /// It is kneaded, or kneaded on: what the dough stood before it was a rest.
    pub(super) fn kneads_on(&mut self) {
        if self.at == At::Risen {
            self.was_a_rest();
            if self.bulk.is_none() {
                self.at = At::Mixed;
            }
        }
    }
}
