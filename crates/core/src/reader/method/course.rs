//! How far a method has come, sentence by sentence, and what its times, temperatures and counts are then of.

use super::clause::{Clause, Item, clauses};
use super::figure::Figure;
use super::finding::{Finding, Found};
use super::pan::{PanSaid, pan_said, touching};
use super::said::{Act, LEAVENS, SOAKS};
use crate::reader::quantity::Count;
use crate::words::{Kind, Vessel};

/// How far the dough has come.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum At {
    Before,
    Mixed,
    Risen,
    Shaped,
    Baking,
    Out,
}

/// Something with the sentence it was said in.
#[derive(Clone)]
pub(super) struct Told {
    pub count: Count,
    pub text: String,
}

/// A stretch of the bake.
pub(super) struct Stretch {
    pub minutes: Count,
    pub at: Option<Count>,
    pub under: Option<bool>,
    pub text: String,
}

pub(super) struct Course {
    pub(super) found: Vec<Finding>,
    pub(super) at: At,
    /// Whether flour and water alone were said last, so that a wait is an autolyse.
    pub(super) flour_and_water: bool,
    pub(super) knead: Option<Told>,
    pub(super) rest: Option<Told>,
    pub(super) bulk: Option<Told>,
    pub(super) second: Option<Told>,
    pub(super) proof: Option<Told>,
    pub(super) knocked: bool,
    pub(super) every: Option<Told>,
    pub(super) folds: Option<Told>,
    pub(super) preheat: Option<Told>,
    pub(super) oven: Vec<Told>,
    pub(super) bakes: Vec<Stretch>,
    pub(super) bake_unsure: bool,
    /// Whether the oven is turned down while it bakes.
    pub(super) lowered: bool,
    /// Whether the dough becomes several kinds of bread.
    pub(super) several: bool,
    /// What the first of them takes, g, and where that is said.
    pub(super) first_part: Option<(f64, String)>,
    pub(super) pieces: Option<Told>,
    pub(super) kind: Option<Kind>,
    pub(super) vessel: Option<Vessel>,
    pub(super) pan: Option<PanSaid>,
    /// The sentence that says that pieces touch.
    pub(super) touching: Option<String>,
    pub(super) washes: Vec<String>,
}

pub(super) fn add(told: &mut Option<Told>, count: Count, text: &str) {
    match told {
        Some(t) => t.count = Count { low: t.count.low + count.low, high: t.count.high + count.high },
        None => *told = Some(Told { count, text: text.into() }),
    }
}

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
        (None, None) => IN_ITS_TIN.iter().any(|w| after.contains(w)) && !after.contains("rack"),
    }
}

impl Course {
    pub fn new() -> Self {
        Course {
            found: Vec::new(),
            at: At::Before,
            flour_and_water: false,
            knead: None,
            rest: None,
            bulk: None,
            second: None,
            proof: None,
            knocked: false,
            every: None,
            folds: None,
            preheat: None,
            oven: Vec::new(),
            bakes: Vec::new(),
            bake_unsure: false,
            lowered: false,
            several: false,
            first_part: None,
            pieces: None,
            kind: None,
            vessel: None,
            pan: None,
            touching: None,
            washes: Vec::new(),
        }
    }

    pub(super) fn find(&mut self, found: Found, count: Count, key: &str, text: &str) {
        if !self.found.iter().any(|f| f.found == found && (found != Found::Fridge || f.key == key)) {
            self.found.push(Finding {
                found,
                low: count.low,
                high: count.high,
                key: key.into(),
                text: text.into(),
            });
        }
    }

    /// Takes a sentence in; `next` is the one that follows.
    pub fn sentence(&mut self, text: &str, next: &str) {
        // Of ASCII alone, so that places are the same in both.
        let lower = text.to_ascii_lowercase();
        let says = |words: &[&str]| words.iter().any(|w| lower.contains(w));
        let leaven = says(&LEAVENS) && !says(&["add ", "stir in", "with the levain"]);
        let ahead = self.at == At::Before && (leaven || says(&["ripen", "ripe after", "ripe in"]));
        let soak = self.at <= At::Mixed && self.bulk.is_none() && says(&SOAKS);
        let at = self.at;
        if says(&[
            "flour and water",
            "flour with the water",
            "flour and the water",
            "flour and milk",
            "flour and the milk",
            "flour with the milk",
            "flour and liquid",
            "flour and the liquid",
        ]) {
            self.flour_and_water = true;
        } else if says(&["salt", "add the rest", "everything"]) {
            self.flour_and_water = false;
        }
        self.several |= says(&["the rest makes", "the rest for", "the other half", "the rest becomes"]);
        self.knocked |= says(&["knock", "punch", "deflate"]);
        self.choices(text, &lower, ahead);
        let mut last = None;
        for (from, to) in clauses(&lower) {
            let clause = Clause { text, lower: &lower, from, to, ahead, soak, next };
            last = self.clause(&clause, last);
        }
        self.strands_and_pieces(text, &lower);
        self.wash(text, &lower, at);
        self.rarely(text, &lower, at);
        self.pan = self.pan.take().or_else(|| pan_said(text, &lower));
        if touching(&lower) && self.at >= At::Risen {
            self.touching.get_or_insert_with(|| text.to_owned());
        }
    }

    fn clause(&mut self, c: &Clause<'_>, before: Option<Act>) -> Option<Act> {
        let items = c.items();
        let acts: Vec<(usize, Act)> = items
            .iter()
            .filter_map(|(at, i)| if let Item::Act(a) = i { Some((*at, *a)) } else { None })
            .collect();
        let mut last = before;
        for (at, item) in items {
            match item {
                Item::Act(act) => {
                    self.passes(act, c);
                    last = Some(act);
                }
                Item::Figure(figure, end) => {
                    let behind = acts.iter().find(|(a, _)| *a >= end).copied();
                    let own = acts.iter().rev().find(|(a, _)| *a < at).map(|(_, a)| *a);
                    match figure {
                        Figure::Time(minutes) => {
                            let gap = behind.map(|(a, _)| c.lower[end..a].trim());
                            // “90-minute bulk rise”
                            let joined = ["-min", "-hour"].iter().any(|j| c.lower[at..end].contains(j));
                            let of = gap.is_some_and(|g| {
                                matches!(g, "of" | "-" | "final" | "of the" | "of final")
                                    || (joined && g.len() < 8)
                            });
                            let named = behind.map(|(_, a)| a);
                            let act = if of || (own.is_none() && gap.is_some_and(|g| g.len() < 12)) {
                                named.or(own)
                            } else {
                                own.or(named)
                            };
                            if let Some((_, a)) = behind.filter(|_| of) {
                                self.passes(a, c);
                            }
                            self.time(act.or(last), minutes, c, at, end);
                        }
                        Figure::Heat(t) => self.heat(own.or(behind.map(|b| b.1)).or(last), t, c),
                        Figure::Bare(count) => self.bare(count, c, at, end, own),
                    }
                }
            }
        }
        last
    }

    /// The method comes as far as an act.
    fn passes(&mut self, act: Act, c: &Clause<'_>) {
        let bakes =
            self.at >= At::Baking || ["bake", "oven", "lid", "pot"].iter().any(|w| c.lower.contains(w));
        let to = match act {
            // “Leave to rise uncovered”
            Act::Covered | Act::Uncovered if !bakes => return,
            Act::Knead | Act::Fold if !c.ahead && !c.soak => At::Mixed,
            Act::Shape => At::Shaped,
            Act::Bake | Act::Covered | Act::Uncovered => At::Baking,
            Act::Cool if self.at == At::Baking => At::Out,
            _ => return,
        };
        self.at = self.at.max(to);
    }

    fn time(&mut self, act: Option<Act>, minutes: Count, c: &Clause<'_>, at: usize, end: usize) {
        if minutes.low <= 0.0 || minutes.high > 7200.0 {
            return;
        }
        let before = c.lower[c.from..at].trim_end();
        let after = c.lower[end..c.to].trim_start();
        if before.ends_with("every") || before.ends_with("intervals of") || after.starts_with("apart") {
            add(&mut self.every, minutes, c.text);
            return;
        }
        let cold = ["fridge", "refrigerat", "chill", "retard", " cold"].iter().any(|w| c.own().contains(w));
        let act = act.unwrap_or(match self.at {
            At::Before | At::Mixed | At::Risen | At::Shaped => Act::Wait,
            At::Baking => Act::Bake,
            At::Out => Act::Cool,
        });
        let says = |words: &[&str]| words.iter().any(|w| c.own().contains(w));
        // “Four folds in the first two hours” are part of the rise.
        if self.at < At::Baking
            && [
                "in the first",
                "during the first",
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
            && says(&["cool", "rest", "leave", "stand", "sit"])
        {
            return self.find(Found::CoolsIn, minutes, "", c.text);
        }
        match act {
            // “Leave to rise uncovered for half an hour”
            Act::Covered | Act::Uncovered
                if self.at < At::Baking
                    && !["bake", "oven", "lid", "pot"].iter().any(|w| c.lower.contains(w)) =>
            {
                self.waits(Act::Wait, minutes, c, end)
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
            Act::Cool if self.at >= At::Baking || minutes.low >= 30.0 => {
                self.find(Found::Cool, minutes, "", c.text)
            }
            Act::Cool => {}
            Act::Knead if c.ahead || c.soak => self.waits(act, minutes, c, end),
            _ if self.at <= At::Mixed
                && c.lower.contains("butter")
                && says(&["takes", "over "])
                && self.knead.is_some() =>
            {
                self.find(Found::Butter, minutes, "", c.text)
            }
            Act::Knead if self.at <= At::Mixed => add(&mut self.knead, minutes, c.text),
            Act::Knead if self.bulk.is_some() && self.at < At::Shaped => {
                self.find(Found::Kneads, minutes, "", c.text)
            }
            Act::Bake | Act::Covered | Act::Uncovered => self.bakes(act, minutes, c, at, end),
            _ if self.at >= At::Baking => {
                if ["rack", "cut", "slice"].iter().any(|w| c.own().contains(w)) {
                    self.find(Found::Cool, minutes, "", c.text);
                }
            }
            _ if (act == Act::Fridge || cold) && minutes.low >= 60.0 => {
                let key = if self.at >= At::Shaped { "proof" } else { "bulk" };
                self.find(Found::Fridge, minutes, key, c.text);
            }
            Act::Fold if before.ends_with("after") => {}
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

    /// A rise, a rest, a soak: which one is told by how far the dough has come.
    fn waits(&mut self, act: Act, minutes: Count, c: &Clause<'_>, end: usize) {
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
            && says(&["yeast"])
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
            ];
            let next = c.next.to_ascii_lowercase();
            let comes = added.iter().any(|a| next.trim_start().starts_with(a));
            let none_yet = self.bulk.is_none() && self.knead.is_none();
            if says(&["autolyse"]) || (none_yet && minutes.high <= 180.0 && (self.flour_and_water || comes)) {
                return self.find(Found::Autolyse, minutes, "", c.text);
            }
            // What stands before it is kneaded does not rise yet.
            let kneaded_then = self.knead.is_none() && c.lower[end..].contains("knead");
            if (act == Act::Rest && minutes.high <= 30.0 || kneaded_then) && self.bulk.is_none() {
                add(&mut self.rest, minutes, c.text);
                return;
            }
            self.at = self.at.max(At::Risen);
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

    pub(super) fn bakes(&mut self, act: Act, minutes: Count, c: &Clause<'_>, at: usize, end: usize) {
        self.at = self.at.max(At::Baking);
        let behind = c.lower[end..c.to].split(|x: char| x.is_ascii_digit()).next().unwrap_or("");
        let ahead = &c.lower[c.from..at];
        let says = |text: &str, words: &[&str]| words.iter().any(|w| text.contains(w));
        let closed = [
            "covered",
            "lid on",
            "with the lid",
            "under the lid",
            "under a lid",
            "under a cover",
            "under the cover",
            "under a bowl",
        ];
        let open = ["uncovered", "uncover", "open", "without", "lid off", "with it off"];
        let under = if says(behind, &open) {
            Some(false)
        } else if says(behind, &closed) {
            Some(true)
        } else {
            match act {
                Act::Covered => Some(true),
                Act::Uncovered => Some(false),
                _ if says(ahead, &open) => Some(false),
                _ => None,
            }
        };
        let at = self.oven.last().map(|t| t.count);
        let goes_on = under.is_some()
            || says(c.own(), &["more", "another", "further", "then", "lid"])
            || self.bakes.last().is_some_and(|b| b.at.map(|t| t.low) != at.map(|t| t.low));
        if !self.bakes.is_empty() && !goes_on {
            self.bake_unsure = true;
        }
        self.bakes.push(Stretch { minutes, at, under, text: c.text.into() });
    }

    pub(super) fn heat(&mut self, act: Option<Act>, t: Count, c: &Clause<'_>) {
        let says = |words: &[&str]| words.iter().any(|w| c.lower.contains(w));
        let told = Told { count: t, text: c.text.into() };
        let of_the_core = ["core", "internal", "inside", "thermometer"].iter().any(|w| c.own().contains(w));
        if t.low >= 120.0 && of_the_core && !c.own().contains("oven") {
            // 190 can only be °F; said as °C it is doubted where it belongs.
            self.find(Found::Core, t, "", c.text);
        } else if t.low >= 120.0 {
            let heats = matches!(act, Some(Act::Preheat)) && self.at < At::Baking;
            if heats {
                self.preheat.get_or_insert(told);
            } else {
                // Minutes that were said before their temperature have it all the same.
                let lowers = act == Some(Act::Lower);
                self.lowered |= lowers && !self.bakes.is_empty();
                let own = c.own().contains("minute") && !lowers;
                if let Some(b) = self.bakes.last_mut().filter(|b| own && b.at.is_none()) {
                    b.at = Some(t);
                }
                self.oven.push(told);
            }
        } else if t.low >= 70.0 {
            if says(&["core", "middle", "inside", "internal", "cent", "thermometer", "until"]) {
                self.find(Found::Core, t, "", c.text);
            }
        } else if says(&["water", "milk", "liquid", "lukewarm"])
            && self.at <= At::Mixed
            && self.knead.is_none()
        {
            self.find(Found::Liquid, t, "", c.text);
        } else if !c.ahead && t.low >= 2.0 {
            let place = if self.at >= At::Shaped { Found::ProofPlace } else { Found::BulkPlace };
            self.find(place, t, "", c.text);
        }
    }
}
