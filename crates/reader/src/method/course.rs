//! How far a method has come, sentence by sentence, and what its times, temperatures and counts are then of.

use super::clause::{Clause, Item, clauses};
use super::figure::Figure;
use super::pan::{PanSaid, pan_said, touching};
use super::said::{Act, LEAVENS, SOAKS};
use crate::finding::{Finding, Found};
use crate::quantity::Count;
use cerealis_core::words::{Kind, Vessel};

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
    /// Whether the last sentence was of something that is made ahead.
    ahead: bool,
    /// How long a mixer ran slowly in the last sentence of mixing.
    pub(super) slowly: Option<Told>,
    /// Whether it was of something that soaks.
    soaking: bool,
    pub(super) knead: Option<Told>,
    pub(super) rest: Option<Told>,
    pub(super) bulk: Option<Told>,
    /// Whether what was told of it calls it a rise.
    pub(super) bulk_named: bool,
    /// Whether a lid is on, or has come off.
    pub(super) lid: Option<bool>,
    pub(super) second: Option<Told>,
    pub(super) proof: Option<Told>,
    pub(super) knocked: bool,
    pub(super) every: Option<Told>,
    pub(super) folds: Option<Told>,
    /// Whether folding was spoken of.
    pub(super) folded: bool,
    pub(super) preheat: Option<Told>,
    pub(super) oven: Vec<Told>,
    pub(super) bakes: Vec<Stretch>,
    pub(super) bake_unsure: bool,
    /// For how long at the end of the bake foil lies over it.
    pub(super) foil_last: Option<Told>,
    /// Whether the oven falls from one setting to another.
    pub(super) falls: bool,
    /// Whether the oven is turned down while it bakes.
    pub(super) lowered: bool,
    /// Whether the dough becomes several kinds of bread.
    pub(super) several: bool,
    /// What the first of them takes, g, and where that is said.
    pub(super) first_part: Option<(f64, String)>,
    pub(super) pieces: Option<Told>,
    pub(super) kind: Option<Kind>,
    /// Whether the last sentence divided it.
    pub(super) divided: bool,
    /// Whether pieces are rolled up.
    pub(super) rolled_tight: bool,
    /// Whether it is rolled up with a filling.
    pub(super) rolled_up: bool,
    /// Whether spirals are rolled.
    pub(super) spirals: bool,
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

impl Course {
    pub fn new() -> Self {
        Course {
            found: Vec::new(),
            at: At::Before,
            flour_and_water: false,
            ahead: false,
            slowly: None,
            soaking: false,
            knead: None,
            rest: None,
            bulk: None,
            bulk_named: false,
            lid: None,
            second: None,
            proof: None,
            knocked: false,
            every: None,
            folds: None,
            folded: false,
            preheat: None,
            oven: Vec::new(),
            bakes: Vec::new(),
            bake_unsure: false,
            lowered: false,
            falls: false,
            foil_last: None,
            several: false,
            first_part: None,
            pieces: None,
            kind: None,
            spirals: false,
            divided: false,
            rolled_tight: false,
            rolled_up: false,
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
        let leaven = (says(&LEAVENS) || lower.starts_with("sour"))
            && !says(&[
                "add ",
                "stir in",
                "with the levain",
                "and salt",
                "and the salt",
                "honey",
                "oil",
                "butter",
            ])
            && !(self.ahead && says(&["next day", "morning"]));
        // “… for the levain; it wants ten hours”
        let goes_on = self.ahead
            && !says(&[
                "flour", "mix", "knead", "add", "combine", "stir", "dough", "autolyse", "salt", "bulk",
            ]);
        let ahead = self.at == At::Before && (leaven || goes_on || says(&["ripen", "ripe after", "ripe in"]));
        self.ahead = ahead;
        let soaking = self.soaking && !says(&["flour", "mix", "knead", "add", "combine", "stir", "dough"]);
        let soak = self.at <= At::Mixed && self.bulk.is_none() && (soaking || says(&SOAKS));
        self.soaking = soak;
        let at = self.at;
        if says(&["flour"])
            && says(&["water", "milk", "liquid"])
            && !says(&["yeast", "salt", "starter", "levain", "sour", "everything", "knead", "all the"])
        {
            self.flour_and_water = true;
        } else if says(&["salt", "add the rest", "everything"]) {
            self.flour_and_water = false;
        }
        self.several |= says(&["the rest makes", "the rest for", "the other half", "the rest becomes"]);
        self.knocked |= says(&["knock", "punch", "deflate"]);
        self.choices(text, &lower, ahead);
        let mut last = None;
        let risen = self.bulk.as_ref().map_or(0.0, |b| b.count.low);
        for (from, to) in clauses(&lower) {
            let clause = Clause { text, lower: &lower, from, to, ahead, soak, next };
            last = self.clause(&clause, last);
        }
        self.folded |= lower.contains("fold");
        self.strands_and_pieces(text, &lower);
        // “During the next two hours, fold it every 40 minutes”
        let long = self.bulk.as_ref().map_or(0.0, |b| b.count.low) - risen;
        let every = self.every.as_ref().filter(|e| e.text == text).map(|e| e.count.low);
        if let (None, Some(every)) =
            (&self.folds, every.filter(|every| lower.contains("fold") && long >= 2.0 * every))
        {
            let sets = (long / every).floor();
            self.folds = Some(Told { count: Count { low: sets, high: sets }, text: text.into() });
        }
        self.divided = says(&["divide", "cut it into", "cut into"]);
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
        self.falls |= ["falling", "dropping"].iter().any(|w| c.own().contains(w));
        // “190 °C for 20 minutes” once the dough is shaped.
        let bare = acts.is_empty() && last.is_none() && self.at >= At::Risen;
        let hot =
            |i: &Item| matches!(i, Item::Figure(Figure::Heat(t), _) if (140.0..=300.0).contains(&t.low));
        let heats = acts.is_empty() && last.is_none() && self.at < At::Baking && c.own().contains("oven");
        let begins = ["into the", "start", "falling", "dropping"].iter().any(|w| c.own().contains(w));
        if heats && items.iter().any(|(_, i)| hot(i)) && !begins {
            last = Some(Act::Preheat);
        } else if bare && items.iter().any(|(_, i)| hot(i)) && c.lower.contains("min") {
            last = Some(Act::Bake);
        }
        for (at, item) in items {
            match item {
                Item::Act(act) => {
                    if act == Act::Foil {
                        self.foil_now(c, at, &acts);
                    }
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
                            let foil = own == Some(Act::Foil);
                            let of = !foil
                                && gap.is_some_and(|g| {
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
        if bakes && matches!(act, Act::Covered | Act::Uncovered) && self.vessel != Some(Vessel::Lidded) {
            self.lid = Some(act == Act::Covered);
        }
        self.at = self.at.max(to);
    }
}
