//! The words of the acts, from a table a language: code knows acts, never words.

use std::collections::{BTreeMap, HashMap};
use std::sync::LazyLock;

use serde::Deserialize;

/// What is done, or waited for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Deserialize)]
#[serde(rename_all = "lowercase")]
pub(crate) enum Act {
    /// Something goes in.
    Add,
    /// Mixing.
    Mix,
    /// Kneading.
    Knead,
    /// Flour and water rest.
    Autolyse,
    /// A rest that calls itself one.
    Rest,
    /// It is only left.
    Leave,
    /// A rise that calls itself one.
    Rise,
    /// The word proof or prove.
    Proof,
    /// The word bulk, or first rise.
    Bulk,
    /// A rise again.
    Second,
    /// Folding.
    Fold,
    /// In the cold.
    Chill,
    /// Knocking back.
    Knock,
    /// Dividing.
    Divide,
    /// Shaping loosely, before a rest.
    Preshape,
    /// Shaping.
    Shape,
    /// Laying into what it proofs or bakes in.
    Place,
    /// Heating the oven.
    Heat,
    /// Brushing.
    Wash,
    /// Strewing.
    Top,
    /// Cutting the loaf's top.
    Cut,
    /// Steam.
    Steam,
    /// Baking.
    Bake,
    /// Turning the oven to another setting.
    Lower,
    /// The lid goes on.
    LidOn,
    /// The lid comes off.
    LidOff,
    /// Turning a tray round.
    TurnRound,
    /// Out of the tin, for the end of the bake.
    TakeOut,
    /// Foil goes on.
    Foil,
    /// Cooling.
    Cool,
    /// Keeping, freezing, warming up.
    Store,
    /// Soaking.
    Soak,
    /// A hot bath.
    Bath,
    /// Yeast stands in liquid.
    Bloom,
    /// Something made ahead ripens.
    Ripen,
    /// What is done beside the dough.
    Aside,
}

/// A noun of the method.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Deserialize)]
#[serde(rename_all = "lowercase")]
pub(crate) enum Noun {
    /// A levain, a poolish, a sponge.
    Preferment,
    /// A soaker or scald.
    Soaked,
    /// Flour.
    Flour,
    /// Yeast.
    Yeast,
    /// Water, milk.
    Liquid,
    /// The dough.
    Finished,
    /// What is called like an act, and is none.
    Tool,
}

#[derive(Deserialize)]
struct Table {
    act: BTreeMap<Act, Vec<String>>,
    noun: BTreeMap<Noun, Vec<String>>,
    oven: BTreeMap<String, f64>,
}

/// Phrases by the stem of their first word.
type Phrases<T> = HashMap<String, Vec<(Vec<String>, T)>>;

/// All words of a language.
pub(crate) struct Lexicon {
    acts: Phrases<Act>,
    nouns: Phrases<Noun>,
    /// What an oven is called without a figure, °C.
    pub(crate) ovens: Vec<(String, f64)>,
}

/// English.
pub(crate) static ENGLISH: LazyLock<Lexicon> = LazyLock::new(|| Lexicon::read(include_str!("en.toml")));

/// The most words that a gap of a phrase stands for.
const GAP: usize = 5;

impl Lexicon {
    fn read(table: &str) -> Lexicon {
        // The tables are part of the program, and a test reads each.
        let table: Table = toml::from_str(table).unwrap_or_else(|e| unreachable!("a lexicon: {e}"));
        let mut ovens: Vec<(String, f64)> = table.oven.into_iter().collect();
        ovens.sort_by_key(|(w, _)| std::cmp::Reverse(w.len()));
        Lexicon { acts: phrases(table.act), nouns: phrases(table.noun), ovens }
    }

    /// The act that a run of stems begins with, and how many of them it takes.
    pub(crate) fn act(&self, stems: &[&str]) -> Option<(Act, usize)> {
        longest(&self.acts, stems)
    }

    /// The noun that a run of stems begins with, and how many of them it takes.
    pub(crate) fn noun(&self, stems: &[&str]) -> Option<(Noun, usize)> {
        longest(&self.nouns, stems)
    }
}

fn phrases<T: Copy>(table: BTreeMap<T, Vec<String>>) -> Phrases<T> {
    let mut all: Phrases<T> = HashMap::new();
    for (what, words) in table {
        for phrase in words {
            let stems: Vec<String> = words_of(&phrase).map(stem).collect();
            if let Some(first) = stems.first() {
                all.entry(first.clone()).or_default().push((stems, what));
            }
        }
    }
    all
}

fn longest<T: Copy>(table: &Phrases<T>, stems: &[&str]) -> Option<(T, usize)> {
    let of_it = table.get(*stems.first()?)?;
    of_it
        .iter()
        .filter_map(|(phrase, what)| Some((*what, taken(phrase, stems)?, phrase.len())))
        .max_by_key(|(_, _, n)| *n)
        .map(|(what, n, _)| (what, n))
}

/// How many stems a phrase takes, where it fits.
fn taken(phrase: &[String], stems: &[&str]) -> Option<usize> {
    let Some((first, rest)) = phrase.split_first() else { return Some(0) };
    if first == "_" {
        return (1..=GAP.min(stems.len())).find_map(|n| Some(n + taken(rest, &stems[n..])?));
    }
    (stems.first() == Some(&first.as_str())).then_some(())?;
    Some(1 + taken(rest, &stems[1..])?)
}

/// The words of a text, with what joins them in one: “pre-shape”, “s&f”.
pub(crate) fn words_of(text: &str) -> impl Iterator<Item = &str> {
    text.split(|c: char| !is_of_a_word(c)).filter(|w| !w.is_empty())
}

/// Whether a character is part of a word.
pub(crate) fn is_of_a_word(c: char) -> bool {
    c.is_alphanumeric() || matches!(c, '_' | '\'' | '&' | '+' | '-')
}

/// A word without its ending: knead, kneads, kneaded and kneading are one.
pub(crate) fn stem(word: &str) -> String {
    let word = word.trim_matches(['-', '\'', '+']).trim_end_matches("'s");
    let cut = |end: &str| word.strip_suffix(end).filter(|w| w.chars().count() >= 3);
    let bare = cut("ing")
        .or_else(|| cut("ed"))
        .or_else(|| cut("es").filter(|w| w.ends_with(['s', 'h', 'x', 'z'])))
        .or_else(|| cut("s").filter(|w| !w.ends_with('s')));
    let mut stem = bare.unwrap_or(word).to_owned();
    let doubled = bare.is_some() && {
        let mut back = stem.chars().rev();
        let (last, before) = (back.next(), back.next());
        last == before && last.is_some_and(|c| !"aeiouls".contains(c))
    };
    if doubled || stem.chars().count() > 3 && stem.ends_with('e') {
        stem.pop();
    }
    stem
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case(&["knead", "kneads", "kneaded", "kneading"])]
    #[case(&["rise", "rises", "rising"])]
    #[case(&["prove", "proves", "proved", "proving"])]
    #[case(&["divide", "divided", "dividing"])]
    #[case(&["slash", "slashes", "slashing"])]
    #[case(&["cut", "cutting"])]
    #[case(&["double", "doubled", "doubles"])]
    fn a_word_has_one_stem(#[case] words: &[&str]) {
        let stems: Vec<String> = words.iter().map(|w| stem(w)).collect();
        assert!(stems.windows(2).all(|w| w[0] == w[1]), "{stems:?}");
    }

    #[test]
    fn the_longer_phrase_counts() {
        let said = |text: &str| {
            let stems: Vec<String> = words_of(text).map(stem).collect();
            ENGLISH.act(&stems.iter().map(String::as_str).collect::<Vec<_>>())
        };
        assert_eq!(said("roll the dough out thinly"), Some((Act::Shape, 4)));
        assert_eq!(said("turn the oven down"), Some((Act::Lower, 4)));
        assert_eq!(said("proofing for an hour"), Some((Act::Proof, 1)));
        assert_eq!(said("bread"), None);
    }
}
