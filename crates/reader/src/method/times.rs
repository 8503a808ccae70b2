//! Times: of which act each is, by how far the dough has come.

use super::clause::Clause;
use super::course::{At, Course, Told, add};
use super::said::{Act, LEAVENS};
use crate::finding::Found;
use crate::quantity::Count;

/// What a loaf is left in when it is out.
const IN_ITS_TIN: [&str; 10] = [
    "in the tin",
    "in its tin",
    "in their tin",
    "in the pan",
    "in its pan",
    "in their pan",
    "in the pot",
    "in the mould",
    "in the dish",
    "in the tins",
];

/// Whether a time is one in the tin: that is said last before it, or where nothing is, behind it.
fn in_its_tin(before: &str, after: &str) -> bool {
    let last = |text: &str, words: &[&str]| words.iter().filter_map(|w| text.rfind(w)).max();
    match (last(before, &IN_ITS_TIN), last(before, &["rack"])) {
        (Some(tin), rack) => rack.is_none_or(|rack| rack < tin),
        (None, Some(_)) => false,
        (None, None) => {
            lies_in_tin(after) || IN_ITS_TIN.iter().any(|w| after.contains(w)) && !after.contains("rack")
        }
    }
}

/// Whether a sentence is of working late butter in.
fn works_butter_in(lower: &str) -> bool {
    ["the butter in", "in the butter", "butter bit by bit", "butter little by little"]
        .iter()
        .any(|w| lower.contains(w))
        && !["except", "everything but", "all but"].iter().any(|w| lower.contains(w))
}

/// Without “about” and its like at its end.
fn unhedged(before: &str) -> &str {
    const HEDGES: [&str; 7] = ["about", "around", "roughly", "some", "a good", "approximately", "ca."];
    HEDGES.iter().find_map(|h| before.strip_suffix(h)).map_or(before, str::trim_end)
}

/// Whether a time is followed by the tin it is spent in.
fn lies_in_tin(after: &str) -> bool {
    IN_ITS_TIN.iter().any(|w| after.starts_with(w))
}

impl Course {
    /// Whether a stretch of the bake has been told.
    fn baked(&self) -> bool {
        self.at >= At::Baking && !self.bakes.is_empty()
    }

    pub(super) fn time(&mut self, act: Option<Act>, minutes: Count, c: &Clause<'_>, at: usize, end: usize) {
        if minutes.low <= 0.0 || minutes.high > 7200.0 {
            return;
        }
        let before = unhedged(c.lower[c.from..at].trim_end());
        let after = c.lower[end..c.to].trim_start();
        // “Two days ahead”, “half an hour before, …”, “again after 30 minutes” last no time.
        if [
            "before baking",
            "before the bake",
            "before you bake",
            "ahead",
            "in advance",
            "earlier",
            "beforehand",
            "before,",
            "ago",
        ]
        .iter()
        .any(|w| after.starts_with(w))
            || before.ends_with("again after")
            || before.ends_with("after") && self.at < At::Shaped && c.own().trim_start().starts_with("add ")
        {
            return;
        }
        if before.ends_with("every")
            || before.ends_with("intervals of")
            || ["apart", "interval"].iter().any(|w| after.starts_with(w))
        {
            add(&mut self.every, minutes, c.text);
            return;
        }
        // “16 hours at 4 °C”
        let chilled = after.strip_prefix("at ").and_then(|t| t.split([' ', '°']).next()?.parse::<f64>().ok());
        let cold = chilled.is_some_and(|t| t < 10.0) && after.contains('°')
            || ["fridge", "refrigerat", "chill", "retard", " cold"].iter().any(|w| c.own().contains(w));
        // “The biga 12 to 16 hours in the fridge”
        if self.at == At::Before && LEAVENS.iter().any(|w| c.own().contains(w)) {
            return self.find(Found::Preferment, minutes, "", c.text);
        }
        // “… rest 5 minutes; 1 minute more”
        let act = match act {
            None if self.at == At::Mixed && minutes.high <= 3.0 && after.starts_with("more") => {
                Some(Act::Knead)
            }
            act => act,
        };
        // “Oven 245 °C. 22 minutes”, once it has proofed.
        let heated = self.at == At::Shaped && self.proof.is_some() && self.preheat.is_some();
        let act = if heated && act.is_none() { Some(Act::Bake) } else { act };
        let act = act.unwrap_or(match self.at {
            At::Before | At::Mixed | At::Risen | At::Shaped => Act::Wait,
            At::Baking => Act::Bake,
            At::Out => Act::Cool,
        });
        let says = |words: &[&str]| words.iter().any(|w| c.own().contains(w));
        // “or overnight in the fridge, if that suits better” is another way.
        let told = self.proof.is_some() || self.bulk.is_some();
        if told
            && self.at < At::Baking
            && c.own().trim_start().starts_with("or ")
            && says(&["fridge", "refrigerat", "cold"])
        {
            return;
        }
        // “10 minutes by hand”
        let by = [
            "by hand",
            "by machine",
            "in the machine",
            "in the mixer",
            "in a mixer",
            "with the paddle",
            "with a paddle",
            "with the dough hook",
            "with a dough hook",
            "with the hook",
        ];
        let act =
            if self.at <= At::Mixed && by.iter().any(|w| after.starts_with(w)) { Act::Knead } else { act };
        // “Four folds in the first two hours” are part of the rise.
        if self.at < At::Baking
            && [
                "in the first",
                "during the first",
                "during the last",
                "over the first",
                "within the first",
                "for the last",
                "in the last",
            ]
            .iter()
            .any(|w| before.ends_with(w))
        {
            return;
        }
        if self.at >= At::Baking
            && says(&["ajar", "switched-off", "switched off", "turned-off", "turned off", "door open"])
        {
            return self.find(Found::Ajar, minutes, "", c.text);
        }
        if self.at >= At::Baking
            && in_its_tin(before, after)
            && (says(&["cool", "rest", "leave", "stand", "sit"]) || self.baked() && lies_in_tin(after))
        {
            return self.find(Found::CoolsIn, minutes, "", c.text);
        }
        // “then an hour on a rack”
        if self.baked()
            && ["on a rack", "on the rack", "on a wire", "on the wire"].iter().any(|w| after.starts_with(w))
        {
            return self.find(Found::Cool, minutes, "", c.text);
        }
        match act {
            // “Leave to rise uncovered for half an hour”
            Act::Covered | Act::Uncovered
                if self.at < At::Baking
                    && !["bake", "oven", "lid", "pot"].iter().any(|w| c.lower.contains(w)) =>
            {
                self.waits(Act::Wait, minutes, c, end)
            }
            Act::Foil if before.ends_with("last") => {
                self.foil_last = Some(Told { count: minutes, text: c.text.into() })
            }
            Act::Foil if before.ends_with("after") => self.find(Found::Foil, minutes, "", c.text),
            Act::Foil => {
                self.find(Found::Foil, minutes, "from-the-start", c.text);
                // “for the first 10 minutes” of those that were said.
                if !before.ends_with("first") {
                    self.bakes(Act::Bake, minutes, c, at, end);
                }
            }
            Act::Lower if self.at >= At::Baking => self.bakes(Act::Bake, minutes, c, at, end),
            Act::Aside | Act::Preheat | Act::Lower => {}
            Act::Bath => self.find(Found::Bath, minutes, "", c.text),
            Act::Cool if c.soak => self.find(Found::Soaker, minutes, "", c.text),
            Act::Cool
                if self.at >= At::Baking
                    || minutes.low >= 30.0 && (self.at >= At::Shaped || says(&["rack", "cut", "slic"])) =>
            {
                self.find(Found::Cool, minutes, "", c.text)
            }
            Act::Cool => {}
            Act::Knead if c.ahead || c.soak => self.waits(act, minutes, c, end),
            _ if self.at <= At::Mixed
                && c.lower.contains("butter")
                && (says(&["take ", "takes", "over "]) || works_butter_in(&c.lower[..at]))
                && self.knead.is_some() =>
            {
                self.find(Found::Butter, minutes, "", c.text)
            }
            Act::Knead if self.at <= At::Risen && !self.bulk_named && !says(&["again"]) => {
                self.kneads_on();
                match self.at {
                    At::Risen => self.find(Found::Kneads, minutes, "", c.text),
                    _ => add(&mut self.knead, minutes, c.text),
                }
            }
            Act::Knead if self.at <= At::Mixed => add(&mut self.knead, minutes, c.text),
            Act::Knead if self.bulk.is_some() && self.at < At::Shaped => {
                self.find(Found::Kneads, minutes, "", c.text)
            }
            Act::Bake | Act::Covered | Act::Uncovered => self.bakes(act, minutes, c, at, end),
            // “Take the lid off and give it 15 minutes more”
            _ if self.baked()
                && says(&["more", "another", "further", "lid"])
                && !says(&["rack", "cut", "slic", "cool"]) =>
            {
                self.bakes(Act::Bake, minutes, c, at, end)
            }
            _ if self.at >= At::Baking => {
                if ["rack", "cut", "slic"].iter().any(|w| c.own().contains(w)) {
                    self.find(Found::Cool, minutes, "", c.text);
                }
            }
            _ if (act == Act::Fridge || cold) && minutes.low >= 60.0 => {
                let key = if self.at >= At::Shaped { "proof" } else { "bulk" };
                self.find(Found::Fridge, minutes, key, c.text);
            }
            Act::Fold if before.ends_with("after") => {
                self.folds.get_or_insert(Told { count: Count { low: 1.0, high: 1.0 }, text: c.text.into() });
            }
            // “folding it after 30 and 60 minutes”
            Act::Fold if c.own().contains("after") && before.ends_with("and") => {
                let after = c.lower[c.from..at].rsplit("after").next().unwrap_or("");
                let times = 1.0
                    + after.split_whitespace().filter(|w| w.trim_matches(',').parse::<f64>().is_ok()).count()
                        as f64;
                self.folds
                    .get_or_insert(Told { count: Count { low: times, high: times }, text: c.text.into() });
            }
            Act::Fold => {
                if let Some(every) = &self.every {
                    let sets = (minutes.low / every.count.low).round();
                    add(&mut self.folds, Count { low: sets, high: sets }, c.text);
                }
                add(&mut self.bulk, minutes, c.text);
            }
            _ => self.waits(act, minutes, c, end),
        }
    }
}
