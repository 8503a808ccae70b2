//! A method as frames: what is done, how long, how warm, in the order in which it is said.

use std::collections::BTreeSet;

use super::around::{clause_at, cold, is_of_keeping, own_section, segment_at, tells, with_unsaid_units};
use super::figures::{Figure, Placed, figures};
use super::lexicon::{Act, Lexicon, Noun, is_of_a_word, stem};
use crate::quantity::Count;

/// What a time tells.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Tells {
    /// How long it lasts.
    Lasts,
    /// How long it goes on.
    More,
    /// How long all of it lasts.
    Total,
    /// How far apart things are.
    Every,
    /// When something is done within what lasts.
    After,
    /// The end of what was told before.
    Within,
    /// Another way of doing it.
    Instead,
    /// Nothing of the dough: how long before, how far ahead.
    Beside,
}

/// A time of a frame.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Timed {
    pub(crate) minutes: Count,
    pub(crate) tells: Tells,
    pub(crate) from: usize,
    pub(crate) to: usize,
}

/// One act with at most one time. Acts of waiting that are said together are one frame.
#[derive(Clone, Debug)]
pub(crate) struct Frame {
    pub(crate) acts: Vec<Act>,
    pub(crate) time: Option<Timed>,
    pub(crate) sentence: usize,
    pub(crate) at: usize,
    /// What is said around it, from stop to stop, bytes of the sentence.
    pub(crate) clause: (usize, usize),
    pub(crate) cold: bool,
}

/// A temperature, with the act that it is nearest to.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Heated {
    pub(crate) celsius: Count,
    pub(crate) sentence: usize,
    pub(crate) from: usize,
    pub(crate) act: Option<Act>,
    /// How many frames stand before it.
    pub(crate) frames: usize,
    pub(crate) clause: (usize, usize),
}

/// A sentence and what is named in it.
#[derive(Clone, Debug)]
pub(crate) struct Sentence {
    pub(crate) text: String,
    pub(crate) lower: String,
    pub(crate) nouns: BTreeSet<Noun>,
    /// Whether it is of something made ahead, or soaked: said so, or under a heading that does.
    pub(crate) section: Option<Noun>,
}

/// A method in its frames.
pub(crate) struct Frames {
    pub(crate) sentences: Vec<Sentence>,
    pub(crate) frames: Vec<Frame>,
    pub(crate) heats: Vec<Heated>,
}

struct Word {
    from: usize,
    to: usize,
    stem: String,
    clause: usize,
}

#[derive(Clone, Copy)]
struct Done {
    act: Act,
    from: usize,
}

/// Acts in which the dough, or something, is only left.
pub(crate) fn waits(act: Act) -> bool {
    use Act::*;
    matches!(
        act,
        Autolyse | Rest | Leave | Rise | Proof | Bulk | Second | Chill | Soak | Bloom | Ripen | Cool
    )
}

/// Words by which an act is not done.
const NOT: [&str; 8] = ["don't", "dont", "not", "no", "without", "never", "avoid", "skip"];

/// Takes sentences apart.
pub(crate) fn frames<'a>(lines: impl Iterator<Item = Vec<&'a str>>, lexicon: &Lexicon) -> Frames {
    let mut out = Frames { sentences: Vec::new(), frames: Vec::new(), heats: Vec::new() };
    let mut section = None;
    for line in lines {
        if let [only] = line.as_slice()
            && let Some(opened) = heading(only, lexicon)
        {
            section = opened;
            continue;
        }
        for sentence in line {
            out.sentence(sentence, section, lexicon);
        }
    }
    out
}

/// A short line without a figure of time is a heading: of something made ahead, or of the dough.
fn heading(line: &str, lexicon: &Lexicon) -> Option<Option<Noun>> {
    let lower = line.to_ascii_lowercase();
    let words = stems_of(&lower);
    let short = words.len() <= 6 && !line.trim_end().ends_with('.') && figures(&lower).is_empty();
    if !short {
        return None;
    }
    let stems: Vec<&str> = words.iter().map(String::as_str).collect();
    let mut noun = None;
    for i in 0..stems.len() {
        if let Some((n, _)) = lexicon.noun(&stems[i..]) {
            noun = noun.or(Some(n));
        }
    }
    match noun {
        Some(n @ (Noun::Preferment | Noun::Soaked)) => Some(Some(n)),
        Some(Noun::Finished) => Some(None),
        _ if lower.trim_end().ends_with(':') => Some(None),
        _ => None,
    }
}

fn words(lower: &str, taken: &[Placed]) -> Vec<Word> {
    let mut out: Vec<Word> = Vec::new();
    let mut clause = 0;
    let mut chars = lower.char_indices().peekable();
    while let Some((at, c)) = chars.next() {
        if let Some(p) = taken.iter().find(|p| p.from == at) {
            while chars.peek().is_some_and(|(i, _)| *i < p.to) {
                chars.next();
            }
            // No phrase goes over a figure.
            clause += 1;
            continue;
        }
        if is_of_a_word(c) {
            let mut to = at + c.len_utf8();
            while let Some((i, c)) = chars.peek().copied() {
                if !is_of_a_word(c) || taken.iter().any(|p| p.from == i) {
                    break;
                }
                to = i + c.len_utf8();
                chars.next();
            }
            out.push(Word { from: at, to, stem: stem(&lower[at..to]), clause });
        } else if matches!(c, ',' | ';' | ':' | '(' | ')' | '–' | '—' | '.' | '/' | '!' | '=' | '|') {
            let number = matches!(c, ',' | '.' | '/')
                && lower[..at].ends_with(|c: char| c.is_ascii_digit())
                && lower[at + 1..].starts_with(|c: char| c.is_ascii_digit());
            if !number {
                clause += 1;
            }
        }
    }
    out
}

impl Frames {
    fn sentence(&mut self, text: &str, section: Option<Noun>, lexicon: &Lexicon) {
        // Of ASCII alone, so that places are the same in both.
        let lower = text.to_ascii_lowercase().replace('\u{2019}', "'");
        let lower = if lower.len() == text.len() { lower } else { text.to_ascii_lowercase() };
        let placed = figures(&lower);
        let timed = with_unsaid_units(&lower, &placed);
        let words = words(&lower, &timed);
        let stems: Vec<&str> = words.iter().map(|w| w.stem.as_str()).collect();
        let mut nouns = BTreeSet::new();
        let mut acts: Vec<Done> = Vec::new();
        let mut i = 0;
        while i < words.len() {
            let end = i + words[i..].iter().take_while(|w| w.clause == words[i].clause).count();
            let named = lexicon.noun(&stems[i..end]);
            nouns.extend(named.map(|(n, _)| n));
            let act = lexicon.act(&stems[i..end]);
            let tool = named.filter(|(n, long)| *n == Noun::Tool && act.is_none_or(|(_, a)| a <= *long));
            if let Some((_, long)) = tool {
                i += long;
                continue;
            }
            match act {
                Some((act, long)) => {
                    let denied = words[i.saturating_sub(2)..i]
                        .iter()
                        .any(|w| w.clause == words[i].clause && NOT.contains(&&lower[w.from..w.to]));
                    if !denied || act == Act::Cool || act == Act::LidOff {
                        acts.push(Done { act, from: words[i].from });
                    }
                    // What stands in a phrase with a gap may be an act of its own, but not of the same words.
                    i += long;
                }
                None => i += 1,
            }
        }
        // “Oven 450 °F with a stone in it for 45 minutes”
        let inside =
            ["stone", "pot ", "dutch", "steel", "casserole", "inside"].iter().any(|w| lower.contains(w));
        if let Some(at) =
            lower.find("oven").filter(|at| *at < 12 && inside && !acts.iter().any(|a| a.act == Act::Bake))
        {
            acts.insert(0, Done { act: Act::Heat, from: at });
        }
        // “Bake in a Dutch oven at 240 °C” heats none.
        if let Some(bake) = acts.iter().find(|a| a.act == Act::Bake).map(|a| a.from) {
            acts.retain(|a| a.act != Act::Heat || a.from < bake || !lower[a.from..].starts_with("oven"));
            // … and “bake on a sheet” lays nothing down.
            acts.retain(|a| a.act != Act::Place || a.from < bake);
        }
        // “Heat a lidded pot in the oven” bakes nothing yet.
        let heats: Vec<(usize, usize)> = acts
            .iter()
            .filter(|a| a.act == Act::Heat)
            .map(|a| (a.from, segment_at(&lower, a.from)))
            .collect();
        acts.retain(|a| {
            !matches!(a.act, Act::LidOn | Act::Bake | Act::Place)
                || !heats.iter().any(|(at, own)| *at < a.from && *own == segment_at(&lower, a.from))
        });
        // “Leave to rise uncovered” is of no lid.
        let bakes = ["bake", "baking", "oven", "lid", "pot", "°"].iter().any(|w| lower.contains(w));
        acts.retain(|a| bakes || !matches!(a.act, Act::LidOn | Act::LidOff));
        if acts.iter().any(|a| a.act == Act::Store) {
            acts.clear();
        }
        let number = self.sentences.len();
        let said_own = own_section(&lower, &nouns);
        let stored = is_of_keeping(&lower, lexicon);
        self.place(number, &lower, &timed, &acts, stored);
        self.sentences.push(Sentence { text: text.to_owned(), lower, nouns, section: said_own.or(section) });
    }

    fn place(&mut self, sentence: usize, lower: &str, timed: &[Placed], acts: &[Done], stored: bool) {
        let mut times: Vec<(Timed, Option<usize>)> = Vec::new();
        for p in timed {
            let Figure::Time(minutes, more) = p.figure else { continue };
            let tells = tells(lower, p, more);
            if stored || minutes.low <= 0.0 || minutes.high > 7200.0 {
                continue;
            }
            let chosen = self.act_of(lower, p, timed, acts, times.last().map_or(0, |(t, _)| t.from));
            // Heating the oven and turning a tray round are beside the dough.
            if chosen
                .is_some_and(|n| matches!(acts[n].act, Act::Heat | Act::TurnRound | Act::Aside | Act::Store))
            {
                continue;
            }
            // “Overnight, for 10 to 12 hours” is what it says.
            let night = lower[p.from..p.to].starts_with("overnight");
            let told = timed.iter().any(|q| matches!(q.figure, Figure::Time(c, _) if q.from > p.to && q.from <= p.to + 16 && c.high >= 240.0));
            if night && told {
                continue;
            }
            let chosen = chosen.filter(|n| lasts(acts[*n].act));
            times.push((Timed { minutes, tells, from: p.from, to: p.to }, chosen));
        }
        let mut all: Vec<Frame> = Vec::new();
        let clause = |at: usize| clause_at(lower, at);
        let mut used = vec![false; acts.len()];
        let taken: Vec<usize> = times.iter().filter_map(|(_, a)| *a).collect();
        for (time, act) in &times {
            let mut of: Vec<Act> = Vec::new();
            if let Some(n) = act {
                of.push(acts[*n].act);
                used[*n] = true;
                // Acts of waiting that stand by it are one with it.
                if waits(acts[*n].act) {
                    let mut i = *n;
                    while i > 0
                        && !taken.contains(&(i - 1))
                        && waits(acts[i - 1].act)
                        && !times.iter().any(|(t, _)| t.from > acts[i - 1].from && t.from < acts[*n].from)
                    {
                        i -= 1;
                        of.push(acts[i].act);
                        used[i] = true;
                    }
                    let mut i = *n + 1;
                    while i < acts.len()
                        && !taken.contains(&i)
                        && waits(acts[i].act)
                        && !times.iter().any(|(t, _)| t.from > time.from && t.from < acts[i].from)
                    {
                        of.push(acts[i].act);
                        used[i] = true;
                        i += 1;
                    }
                }
            }
            let clause = clause(time.from);
            all.push(Frame {
                cold: cold(lower, clause, &of),
                acts: of,
                time: Some(*time),
                sentence,
                at: time.from,
                clause,
            });
        }
        for (n, a) in acts.iter().enumerate().filter(|(n, _)| !used[*n]) {
            let _ = n;
            if waits(a.act) || matches!(a.act, Act::Aside | Act::Heat | Act::TurnRound) {
                continue;
            }
            all.push(Frame {
                acts: vec![a.act],
                time: None,
                sentence,
                at: a.from,
                clause: clause(a.from),
                cold: false,
            });
        }
        all.sort_by_key(|f| f.at);
        for p in timed {
            let Figure::Heat(celsius, _) = p.figure else { continue };
            if stored {
                continue;
            }
            let own = segment_at(lower, p.from);
            let near = |a: &&Done| segment_at(lower, a.from) == own;
            let before = acts.iter().rfind(|a| a.from < p.from);
            let act = acts
                .iter()
                .filter(|a| a.from < p.from)
                .rfind(near)
                .or(acts.iter().filter(|a| a.from >= p.to).find(near))
                .or(before)
                .map(|a| a.act);
            let frames = self.frames.len() + all.iter().filter(|f| f.at < p.from).count();
            self.heats.push(Heated { celsius, sentence, from: p.from, act, frames, clause: clause(p.from) });
        }
        self.frames.extend(all);
    }
}

/// Whether an act takes time: one that only changes the dough is none that a time is told of.
fn lasts(act: Act) -> bool {
    use Act::*;
    waits(act)
        || matches!(
            act,
            Mix | Knead
                | Fold
                | Bake
                | LidOn
                | LidOff
                | Lower
                | TakeOut
                | Foil
                | Bath
                | Heat
                | TurnRound
                | Aside
                | Store
                | Steam
        )
}

impl Frames {
    /// The act that a time is told of: right behind it, before it in its part of the sentence, behind it there, before it.
    fn act_of(
        &self,
        lower: &str,
        p: &Placed,
        timed: &[Placed],
        acts: &[Done],
        since: usize,
    ) -> Option<usize> {
        let own = segment_at(lower, p.from);
        let same = |a: &Done| segment_at(lower, a.from) == own;
        let is_time = |q: &&Placed| matches!(q.figure, Figure::Time(..));
        let next = timed.iter().filter(is_time).map(|q| q.from).find(|f| *f > p.from).unwrap_or(lower.len());
        let behind = acts.iter().position(|a| a.from >= p.to && a.from < next && lasts(a.act));
        let joined = behind.filter(|n| {
            matches!(
                lower[p.to..acts[*n].from].trim(),
                "" | "-" | "of" | "of the" | "of gentle" | "of final" | "final"
            )
        });
        let before = |within: bool| {
            acts.iter()
                .rposition(|a| a.from < p.from && a.from >= since && lasts(a.act) && (!within || same(a)))
        };
        let far = acts.iter().rposition(|a| a.from < p.from && lasts(a.act));
        joined
            .or_else(|| before(true))
            .or_else(|| behind.filter(|n| same(&acts[*n])))
            .or_else(|| before(false))
            .or(far)
    }
}

/// The stems of a text.
pub(super) fn stems_of(lower: &str) -> Vec<String> {
    words(lower, &[]).into_iter().map(|w| w.stem).collect()
}
