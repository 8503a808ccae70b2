//! Names with noise matched to the catalogue.

use std::collections::HashMap;

use crate::pantry::Catalogue;

/// What a name was taken for.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Matched {
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

/// The longest text that is compared with all names, in characters.
const NEAR_MAX: usize = 48;

/// Every name of the catalogue as words, for one reading of many lines.
pub(super) struct Names {
    phrases: Vec<(Vec<String>, String)>,
    /// Places of the phrases that begin with a word.
    by_first: HashMap<String, Vec<usize>>,
}

impl Names {
    pub fn of(catalogue: &Catalogue) -> Self {
        let mut phrases: Vec<(Vec<String>, String)> = Vec::new();
        for i in catalogue.at_hand() {
            for name in i
                .aliases
                .iter()
                .chain([&i.name])
                .map(String::as_str)
                .chain([i.key.replace('-', " ").as_str()])
            {
                let entry = (words(name), i.key.clone());
                if !entry.0.is_empty() && !phrases.contains(&entry) {
                    phrases.push(entry);
                }
            }
        }
        let mut by_first: HashMap<String, Vec<usize>> = HashMap::new();
        for (n, (phrase, _)) in phrases.iter().enumerate() {
            by_first.entry(phrase[0].clone()).or_default().push(n);
        }
        Names { phrases, by_first }
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

    fn find_in(&self, name: &str, mut notes: Vec<String>) -> Matched {
        let said = words(name);
        let mut best: Vec<&str> = Vec::new();
        let (mut longest, mut at) = (0, 0);
        let begun = |(at, word): (usize, &String)| {
            self.by_first.get(word).into_iter().flatten().map(move |n| (*n, at)).collect::<Vec<_>>()
        };
        let mut fits: Vec<(usize, usize)> = said.iter().enumerate().flat_map(begun).collect();
        fits.retain(|(n, at)| said[*at..].starts_with(&self.phrases[*n].0));
        fits.sort_unstable();
        fits.dedup_by_key(|(n, _)| *n);
        for (n, start) in fits {
            let (phrase, key) = &self.phrases[n];
            let length = 100 * phrase.len() + phrase.iter().map(String::len).sum::<usize>();
            if length > longest {
                best.clear();
                (longest, at) = (length, start);
            }
            if length == longest && !best.contains(&key.as_str()) {
                best.push(key);
            }
        }
        let used = longest / 100;
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
            let name = &said[at..at + used];
            let told = notes.iter().map(|n| words(n)).find_map(|told| {
                let as_said = [told.as_slice(), name].concat();
                let by_first = [&name[..1], told.as_slice()].concat();
                let fits = |(phrase, _): &&(Vec<String>, String)| {
                    !told.is_empty() && (*phrase == as_said || *phrase == by_first)
                };
                self.phrases.iter().find(fits).map(|(_, key)| key.as_str())
            });
            if let Some(key) = told {
                best = vec![key];
            }
        }
        let around: Vec<&str> = said
            .iter()
            .enumerate()
            .filter(|(i, w)| !(at..at + used).contains(i) && *w != "of")
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
