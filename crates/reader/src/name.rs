//! Names with noise matched to the catalogue.

use std::collections::{HashMap, HashSet};

use cerealis_core::pantry::{Catalogue, Group};

/// What a name was taken for.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Matched {
    /// Keys that fit equally well; none, one or several.
    pub candidates: Vec<String>,
    /// What was said besides the name.
    pub note: String,
    /// Of that, what stands right around the name: neither in brackets nor behind a comma.
    pub around: String,
}

/// Words that stand for several things: the likeliest first.
const OPEN_WORDS: [(&str, &[&str]); 3] = [
    ("flour", &["plain-flour", "bread-flour", "whole-wheat-flour"]),
    ("yeast", &["instant-yeast", "active-dry-yeast", "fresh-yeast"]),
    ("cream", &["cream", "soured-cream"]),
];

/// Words that tell one flour, flake, malt or culture from another.
const GRAINS: [&str; 18] = [
    "rye",
    "spelt",
    "einkorn",
    "emmer",
    "khorasan",
    "durum",
    "barley",
    "oat",
    "rice",
    "maize",
    "corn",
    "buckwheat",
    "sorghum",
    "teff",
    "millet",
    "wholemeal",
    "wholewheat",
    "wholegrain",
];

/// What is done to something after it is weighed, where it stands behind a comma: “raisins, soaked”.
const DONE_LATER: [&str; 4] = ["soaked", "cooked", "boiled", "grated"];

/// The longest text that is compared with all names, in characters.
const NEAR_MAX: usize = 48;

/// What an ingredient goes by.
struct GoesBy {
    /// Its place in the catalogue.
    place: usize,
    group: Group,
    /// All the words of its names.
    words: HashSet<String>,
}

/// Every name of the catalogue as words, for one reading of many lines.
pub(crate) struct Names {
    phrases: Vec<(Vec<String>, String)>,
    /// Places of the phrases that begin with a word.
    by_first: HashMap<String, Vec<usize>>,
    /// Places of those of several words that end with one.
    by_last: HashMap<String, Vec<usize>>,
    /// Of each ingredient, its group and all the words it goes by.
    by_key: HashMap<String, GoesBy>,
}

impl Names {
    pub fn of(catalogue: &Catalogue) -> Self {
        let mut phrases: Vec<(Vec<String>, String)> = Vec::new();
        let mut by_key = HashMap::new();
        for i in catalogue.at_hand() {
            let mut goes_by = HashSet::new();
            for name in i
                .aliases
                .iter()
                .chain([&i.name])
                .map(String::as_str)
                .chain([i.key.replace('-', " ").as_str()])
            {
                let entry = (words(name), i.key.clone());
                goes_by.extend(entry.0.iter().cloned());
                if !entry.0.is_empty() && !phrases.contains(&entry) {
                    phrases.push(entry);
                }
            }
            let place = by_key.len();
            by_key.insert(i.key.clone(), GoesBy { place, group: i.group, words: goes_by });
        }
        let mut by_first: HashMap<String, Vec<usize>> = HashMap::new();
        let mut by_last: HashMap<String, Vec<usize>> = HashMap::new();
        for (n, (phrase, _)) in phrases.iter().enumerate() {
            by_first.entry(phrase[0].clone()).or_default().push(n);
            if let [_, .., last] = phrase.as_slice() {
                by_last.entry(last.clone()).or_default().push(n);
            }
        }
        Names { phrases, by_first, by_last, by_key }
    }

    /// Keys of the names that are spelt most like the text: at most three, the likest first.
    pub fn near(&self, text: &str) -> Vec<String> {
        let said: String = words(&set_apart(text).0).join(" ").chars().take(NEAR_MAX).collect();
        let mut likely: Vec<(f64, &str)> = self
            .phrases
            .iter()
            .map(|(phrase, key)| (strsim::jaro_winkler(&said, &phrase.join(" ")), key.as_str()))
            .filter(|(alike, _)| *alike > 0.84)
            .collect();
        likely.sort_by(|a, b| b.0.total_cmp(&a.0));
        let mut near: Vec<String> = Vec::new();
        for (_, key) in likely {
            if near.len() < 3 && !near.iter().any(|k| k == key) {
                near.push(key.to_owned());
            }
        }
        near
    }

    /// Finds the longest name in the text; what is left over is the note.
    pub fn find(&self, text: &str) -> Matched {
        let (name, notes) = set_apart(text);
        let matched = self.find_in(&name, notes.clone());
        // “cold, diced butter”: the name is behind the comma.
        match notes.split_last() {
            Some((last, before)) if matched.candidates.is_empty() && name_is_told(&name, last) => {
                self.find_in(&format!("{name} {last}"), before.to_vec())
            }
            _ => matched,
        }
    }

    /// “50 g rye”, “100 g plain”: a grain or a kind by itself is its flour, where a flour goes by that.
    pub fn flour_of(&self, text: &str) -> Option<String> {
        let mut said = words(&set_apart(text).0);
        if !(1..=2).contains(&said.len()) {
            return None;
        }
        said.push("flour".to_owned());
        let same = |n: &&usize| self.phrases[**n].0 == said;
        let found = self.by_first.get(&said[0]).into_iter().flatten().find(same)?;
        let key = &self.phrases[*found].1;
        self.by_key.get(key).filter(|k| k.group == Group::Flour).map(|_| key.clone())
    }

    /// Whether a word is one of those that an ingredient goes by.
    pub fn goes_by(&self, key: &str, word: &str) -> bool {
        self.by_key.get(key).is_some_and(|k| k.words.contains(word))
    }

    /// Another ingredient of the same group that goes by all the words that were found, and by one more that
    /// tells a grain.
    fn goes_by_more(&self, key: &str, said: &[String], places: &[usize]) -> Option<&str> {
        let own = self.by_key.get(key)?;
        let more: Vec<&String> = said.iter().filter(|w| is_grain(w) && !own.words.contains(*w)).collect();
        if more.is_empty() {
            return None;
        }
        let wanted = || places.iter().map(|i| &said[*i]).chain(more.iter().copied());
        let fits =
            |(_, k): &(&String, &GoesBy)| k.group == own.group && wanted().all(|w| k.words.contains(w));
        // Of several the first in the catalogue.
        let first = self.by_key.iter().filter(fits).min_by_key(|(_, k)| k.place)?;
        Some(first.0.as_str())
    }

    fn find_in(&self, name: &str, mut notes: Vec<String>) -> Matched {
        let mut said = words(name);
        // “wholemeal bread flour”: the grain tells more than the use.
        if said.windows(2).any(|w| w == ["bread", "flour"]) && said.iter().any(|w| is_grain(w)) {
            said.retain(|w| w != "bread");
        }
        let mut best: Vec<&str> = Vec::new();
        let (mut longest, mut places) = (0, Vec::new());
        let turned = said.first().and_then(|w| self.by_last.get(w)).into_iter().flatten();
        let turned = turned.filter_map(|n| Some((*n, turned_round(&self.phrases[*n].0, &said)?)));
        let begun = said.iter().enumerate().flat_map(|(start, word)| {
            let here = self.by_first.get(word).into_iter().flatten();
            here.map(move |n| (*n, start))
        });
        let begun = begun.filter_map(|(n, start)| Some((n, in_order(&self.phrases[n].0, &said, start)?)));
        for (n, at) in begun.chain(turned) {
            let (phrase, key) = &self.phrases[n];
            let apart = at.last().zip(at.first()).map_or(0, |(l, f)| (l + 1).abs_diff(*f)) != at.len();
            let letters = phrase.iter().map(String::len).sum::<usize>();
            let length = 1000 * phrase.len() + 2 * letters + usize::from(!apart);
            if length > longest {
                best.clear();
                (longest, places) = (length, at);
            }
            if length == longest && !best.contains(&key.as_str()) {
                best.push(key);
            }
        }
        let (used, at) = (places.len(), places.first().copied().unwrap_or(0));
        let open = OPEN_WORDS.iter().find(|(word, _)| used < 2 && said.iter().any(|w| w == word));
        if let Some((word, keys)) = open
            && (best.is_empty() || said[at] == *word)
        {
            best = keys.to_vec();
            // “Flour (strong white)”: what is set apart tells which.
            let told = notes.iter().find_map(|n| {
                let told = words(n);
                let both = [told.clone(), vec![(*word).to_owned()]].concat();
                let fits = |(phrase, _): &&(Vec<String>, String)| *phrase == both || *phrase == told;
                self.phrases.iter().find(fits).map(|(_, key)| key.as_str())
            });
            if let Some(key) = told {
                best = vec![key];
            }
        }
        // “rye flour (type 1150)”, “sugar (brown)”, “oil (olive)”: what is set apart tells which.
        if best.len() == 1 && used > 0 {
            let name: Vec<String> = places.iter().map(|i| said[*i].clone()).collect();
            let told = notes.iter().map(|n| words(n)).find_map(|told| {
                let as_said = [told.as_slice(), &name].concat();
                let by_first = [&name[..1], told.as_slice()].concat();
                let fits = |(phrase, _): &&(Vec<String>, String)| {
                    let done_later = told.first().is_none_or(|w| DONE_LATER.contains(&w.as_str()));
                    !done_later && (*phrase == as_said || *phrase == by_first)
                };
                self.phrases.iter().find(fits).map(|(_, key)| key.as_str())
            });
            if let Some(key) = told {
                best = vec![key];
            }
        }
        // “whole-grain spelt flour” is whole wheat and white spelt by half each: one that goes by both.
        let grains: Vec<&String> = said.iter().filter(|w| is_grain(w) || w.as_str() == "whole").collect();
        let of_all = |k: &&str| grains.iter().all(|w| self.goes_by(k, w));
        if best.len() > 1 && best.iter().filter(|k| of_all(k)).count() == 1 {
            best.retain(|k| of_all(k));
        }
        // “rye sourdough starter”, “wholemeal rye”: one that goes by more of these words.
        if let [key] = best[..]
            && let Some(more) = self.goes_by_more(key, &said, &places)
        {
            best = vec![more];
        }
        let taken = best.first().copied().unwrap_or_default();
        let around: Vec<&str> = said
            .iter()
            .enumerate()
            .filter(|(i, w)| !places.contains(i) && *w != "of" && !self.goes_by(taken, w))
            .map(|(_, w)| w.as_str())
            .collect();
        let around = if best.is_empty() { String::new() } else { around.join(" ") };
        if !around.is_empty() {
            notes.insert(0, around.clone());
        }
        let candidates = best.into_iter().map(str::to_owned).collect();
        Matched { candidates, note: notes.join("; "), around }
    }
}

/// How many words may stand between those of a name: “skimmed organic milk”.
const BETWEEN: usize = 2;
/// Words that part one thing from another.
const PARTING: [&str; 10] = ["and", "or", "with", "in", "for", "from", "plus", "of", "to", "on"];

/// The words of a name turned round, where nothing else is said: “milk skimmed”.
fn turned_round(phrase: &[String], said: &[String]) -> Option<Vec<usize>> {
    let [rest @ .., last] = phrase else { return None };
    (said.len() == phrase.len() && said[0] == *last && said[1..] == *rest).then(|| (0..said.len()).collect())
}

/// Where the words of a name stand in what is said, in order and with few words between, from one place on.
fn in_order(phrase: &[String], said: &[String], start: usize) -> Option<Vec<usize>> {
    let mut at = start;
    let mut places = Vec::with_capacity(phrase.len());
    for word in phrase {
        let left = places.first().map_or(0, |first: &usize| BETWEEN + places.len() - (at - first));
        let step = said[at..].iter().take(left + 1).position(|w| w == word)?;
        if said[at..at + step].iter().any(|w| PARTING.contains(&w.as_str())) {
            return None;
        }
        places.push(at + step);
        at += step + 1;
    }
    Some(places)
}

/// Whether a word tells which grain something is of.
pub(crate) fn is_grain(word: &str) -> bool {
    GRAINS.contains(&word)
}

/// Whether the text was parted by a comma, not by brackets, and its first part is a word or two.
fn name_is_told(name: &str, last: &str) -> bool {
    !last.is_empty() && (1..=3).contains(&name.split_whitespace().count())
}

/// Sets apart what stands in brackets and after the first comma.
fn set_apart(text: &str) -> (String, Vec<String>) {
    let (mut name, mut notes, mut depth, mut inside) = (String::new(), Vec::new(), 0, String::new());
    for c in text.chars() {
        match c {
            '(' | '[' => depth += 1,
            ')' | ']' if depth > 0 => {
                depth -= 1;
                notes.push(std::mem::take(&mut inside).trim().to_owned());
            }
            c if depth > 0 => inside.push(c),
            c => name.push(c),
        }
    }
    if !inside.trim().is_empty() {
        notes.push(inside.trim().to_owned());
    }
    if let Some((before, after)) = name.split_once([',', ';']) {
        notes.push(after.trim().to_owned());
        name = before.to_owned();
    }
    notes.retain(|n| !n.is_empty());
    (name, notes)
}

/// Lower-case words in the singular.
fn words(text: &str) -> Vec<String> {
    text.to_lowercase()
        .split(|c: char| !(c.is_alphanumeric() || c == '\'' || c == '’'))
        .filter(|w| !w.is_empty())
        .map(|w| match w.strip_suffix("es").filter(|s| s.ends_with('o')).or_else(|| w.strip_suffix('s')) {
            Some(stem) if stem.len() > 2 && !stem.ends_with('s') => stem.to_owned(),
            _ => w.to_owned(),
        })
        .collect()
}
