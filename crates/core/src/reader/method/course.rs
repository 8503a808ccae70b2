//! How far a method has come, sentence by sentence, and what its times, temperatures and counts are then of.

use super::figure::{Figure, figure, word_start};
use super::finding::{Finding, Found};
use super::said::{ACTS, Act, BETWEEN, LEAVENS, METHODS, NO_ACT, PIECES, SOAKS, VESSELS, number_word};
use crate::reader::quantity::Count;
use crate::units::OUNCE;
use crate::words::{Kind, Vessel};

/// How far the dough has come.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
enum At {
    Before,
    Mixed,
    Risen,
    Shaped,
    Baking,
    Out,
}

/// Something with the sentence it was said in.
#[derive(Clone)]
struct Told {
    count: Count,
    text: String,
}

/// A stretch of the bake.
struct Stretch {
    minutes: Count,
    at: Option<Count>,
    under: Option<bool>,
    text: String,
}

pub(super) struct Course {
    found: Vec<Finding>,
    at: At,
    /// Whether flour and water alone were said last, so that a wait is an autolyse.
    flour_and_water: bool,
    knead: Option<Told>,
    rest: Option<Told>,
    bulk: Option<Told>,
    second: Option<Told>,
    proof: Option<Told>,
    knocked: bool,
    every: Option<Told>,
    folds: Option<Told>,
    preheat: Option<Told>,
    oven: Vec<Told>,
    bakes: Vec<Stretch>,
    bake_unsure: bool,
    /// Whether the dough becomes several kinds of bread.
    several: bool,
    pieces: Option<Told>,
    kind: Option<Kind>,
    vessel: Option<Vessel>,
    washes: Vec<String>,
}

/// An act or a figure, where it stands.
enum Item {
    Act(Act),
    Figure(Figure, usize),
}

fn add(told: &mut Option<Told>, count: Count, text: &str) {
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
            several: false,
            pieces: None,
            kind: None,
            vessel: None,
            washes: Vec::new(),
        }
    }

    fn find(&mut self, found: Found, count: Count, key: &str, text: &str) {
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
        let ahead = self.at == At::Before && says(&LEAVENS) && !says(&["add ", "stir in", "with the levain"]);
        let soak = self.at <= At::Mixed && self.bulk.is_none() && says(&SOAKS);
        if says(&["flour and water", "flour with the water"]) {
            self.flour_and_water = true;
        } else if says(&["salt", "add the rest", "everything"]) {
            self.flour_and_water = false;
        }
        self.several |= says(&["the rest makes", "the rest for", "the other half", "the rest becomes"]);
        self.knocked |= says(&["knock", "punch", "deflate"]);
        self.choices(text, &lower);
        let mut last = None;
        for (from, to) in clauses(&lower) {
            let clause = Clause { text, lower: &lower, from, to, ahead, soak, next };
            last = self.clause(&clause, last);
        }
        self.strands_and_pieces(text, &lower);
        self.wash(text, &lower);
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
        let to = match act {
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
        match act {
            Act::Foil => self.find(Found::Foil, minutes, "", c.text),
            Act::Lower if self.at >= At::Baking => self.bakes(Act::Bake, minutes, c, at, end),
            Act::Aside | Act::Preheat | Act::Lower => {}
            Act::Bath => self.find(Found::Bath, minutes, "", c.text),
            Act::Cool if self.at >= At::Baking || minutes.low >= 30.0 => {
                self.find(Found::Cool, minutes, "", c.text)
            }
            Act::Cool => {}
            Act::Knead if c.ahead || c.soak => self.waits(act, minutes, c, end),
            Act::Knead if self.at <= At::Mixed => add(&mut self.knead, minutes, c.text),
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

    fn bakes(&mut self, act: Act, minutes: Count, c: &Clause<'_>, at: usize, end: usize) {
        self.at = self.at.max(At::Baking);
        let behind = c.lower[end..c.to].split(|x: char| x.is_ascii_digit()).next().unwrap_or("");
        let ahead = &c.lower[c.from..at];
        let says = |text: &str, words: &[&str]| words.iter().any(|w| text.contains(w));
        let closed = ["covered", "lid on", "with the lid", "under the lid"];
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

    fn heat(&mut self, act: Option<Act>, t: Count, c: &Clause<'_>) {
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
                let own = c.own().contains("minute");
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

    /// `12 rolls`, `of 85 g`, `four strands`, `3 sets`, `bake at 375`.
    fn bare(&mut self, count: Count, c: &Clause<'_>, at: usize, end: usize, own: Option<Act>) {
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
            && c.lower.contains("divide")
            && c.lower[end..c.to].trim().is_empty();
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
    fn strands_and_pieces(&mut self, text: &str, lower: &str) {
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
            } else if word.starts_with("strand") {
                if let Some(c) = before.and_then(count) {
                    self.find(Found::Strands, c, "", text);
                    self.kind = Some(Kind::Braid);
                }
            }
            let folds =
                lower.contains("fold") && self.at < At::Shaped && (self.bulk.is_none() || self.in_bulk(text));
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
    fn in_bulk(&self, text: &str) -> bool {
        self.bulk.as_ref().is_some_and(|b| b.text == text)
    }

    /// Vessel, mixing, steam, shape and how far a rise goes.
    fn choices(&mut self, text: &str, lower: &str) {
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
            ];
            let shaping = self.at >= At::Mixed;
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
        if let Some((_, times)) = targets.iter().find(|(w, _)| lower.contains(w)) {
            let shaped = self.at >= At::Shaped
                || says(&["shape", "put it in the tin", "prove for"]) && self.bulk.is_some();
            let found = if shaped { Found::ProofTarget } else { Found::BulkTarget };
            self.find(found, Count { low: *times, high: *times }, "", text);
        }
    }

    fn wash(&mut self, text: &str, lower: &str) {
        if self.at >= At::Out || (self.at == At::Baking && !lower.contains("before")) {
            return;
        }
        for _ in 0..lower.matches("brush").count() {
            self.washes.push(text.to_owned());
        }
    }

    /// All that was found, each with the sentence it stands in.
    pub fn done(mut self) -> Vec<Finding> {
        // A short rest that no rise followed was the rise.
        if self.bulk.is_none() && self.at >= At::Shaped {
            self.bulk = self.rest.take();
        }
        // What was said of the oven once is what it bakes at.
        let first = self.oven.first().map(|t| t.count.low);
        let last = self.oven.last().cloned().or_else(|| self.preheat.clone());
        let changed = self.oven.len() > 1 && first != last.as_ref().map(|t| t.count.low);
        if let (true, Some(start)) = (changed && !self.bakes.is_empty(), self.oven.first().cloned()) {
            let hot: Vec<&Stretch> =
                self.bakes.iter().filter(|b| b.at.is_some_and(|t| t.low == start.count.low)).collect();
            if let Some(b) = hot.first() {
                let minutes = b.minutes;
                let text = b.text.clone();
                self.find(Found::HotStart, start.count, "", &start.text);
                self.find(Found::HotMinutes, minutes, "", &text);
            }
        }
        let told = [
            (Found::Knead, self.knead.take()),
            (Found::Folds, self.folds.take()),
            (Found::FoldsEvery, self.every.take()),
            (Found::Bulk, self.bulk.take()),
            (Found::Second, self.second.take()),
            (Found::Proof, self.proof.take()),
            (Found::Preheat, self.preheat.take()),
            (Found::Oven, last),
        ];
        for (found, t) in told {
            if let Some(t) = t {
                self.find(found, t.count, "", &t.text);
            }
        }
        self.bake_in_all();
        if self.several {
            // Two breads of one dough are further make-ups, not pieces of one kind in one vessel.
            self.pieces = None;
            self.found.retain(|f| f.found != Found::BakesIn);
        }
        if let Some(p) = self.pieces.take() {
            let tin = matches!(self.vessel, Some(Vessel::Tin)) && p.count.high <= 4.0;
            let kind = self.kind.or(tin.then_some(Kind::Tin));
            let count = if kind == Some(Kind::Spirals) { Count { low: 1.0, high: 1.0 } } else { p.count };
            self.find(Found::Pieces, count, kind.map_or("", Kind::key), &p.text);
        }
        let one = self.found.iter().any(|f| f.found == Found::Pieces && f.high == 1.0);
        let of_its_own = |k: &Kind| matches!(k, Kind::Flat | Kind::Spirals) || (*k == Kind::Round && one);
        if let Some(kind) = self.kind.filter(of_its_own) {
            let text = self
                .found
                .iter()
                .find(|f| f.found == Found::Pieces)
                .map_or(String::new(), |f| f.text.clone());
            self.find(Found::Shape, Count { low: 1.0, high: 1.0 }, kind.key(), &text);
        }
        if self.washes.len() > 1 {
            let n = self.washes.len() as f64;
            let text = self.washes[1].clone();
            self.find(Found::Washes, Count { low: n, high: n }, "", &text);
        }
        self.found.sort_by_key(|f| f.found as usize);
        self.found
    }

    fn bake_in_all(&mut self) {
        let sum = |under: Option<bool>, bakes: &[Stretch]| {
            let of = bakes.iter().filter(|b| under.is_none() || b.under == under);
            of.fold(None, |all: Option<Told>, b| {
                let mut all = all;
                add(&mut all, b.minutes, &b.text);
                all
            })
        };
        let bakes = std::mem::take(&mut self.bakes);
        let lid = bakes.iter().any(|b| b.under.is_some());
        if lid {
            for (under, found) in [(true, Found::Covered), (false, Found::Uncovered)] {
                if let Some(t) = sum(Some(under), &bakes) {
                    self.find(found, t.count, "", &t.text);
                }
            }
        }
        if let Some(t) = sum(None, &bakes).filter(|_| !self.bake_unsure) {
            self.find(Found::Bake, t.count, "", &t.text);
        }
    }
}

/// A part of a sentence, and what is known of the whole.
struct Clause<'a> {
    text: &'a str,
    lower: &'a str,
    from: usize,
    to: usize,
    ahead: bool,
    soak: bool,
    next: &'a str,
}

impl Clause<'_> {
    fn own(&self) -> &str {
        &self.lower[self.from..self.to]
    }

    /// Acts and figures in their order.
    fn items(&self) -> Vec<(usize, Item)> {
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
        while let Some(start) = word_start(own, at) {
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
        if let Some(at) = own.find("overnight") {
            let night = Figure::Time(Count { low: 480.0, high: 720.0 });
            items.push((self.from + at, Item::Figure(night, self.from + at + "overnight".len())));
        }
        items.sort_by_key(|(at, _)| *at);
        items
    }
}

/// The clauses of a sentence: parted by commas that part no number, and by “then”.
fn clauses(lower: &str) -> Vec<(usize, usize)> {
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
