//! What leads in to an amount in speech: “so then you're going to want about”, “she always used”.

use crate::quantity::begins_with_amount;

/// Words that lead in to what is really said (common practice, no source).
const WORDS: [&str; 92] = [
    "a",
    "actually",
    "add",
    "adds",
    "added",
    "adding",
    "also",
    "always",
    "and",
    "are",
    "be",
    "been",
    "comes",
    "do",
    "finally",
    "first",
    "for",
    "generally",
    "get",
    "give",
    "go",
    "goes",
    "going",
    "got",
    "gran",
    "grandma",
    "granny",
    "grandad",
    "had",
    "has",
    "have",
    "having",
    "he",
    "her",
    "i",
    "in",
    "into",
    "is",
    "it",
    "it's",
    "i'm",
    "just",
    "like",
    "look",
    "mix",
    "mum",
    "my",
    "need",
    "needed",
    "needs",
    "next",
    "normally",
    "now",
    "oh",
    "ok",
    "okay",
    "only",
    "plus",
    "put",
    "puts",
    "right",
    "she",
    "so",
    "still",
    "stir",
    "take",
    "takes",
    "that",
    "that's",
    "then",
    "there",
    "there's",
    "they",
    "took",
    "tend",
    "to",
    "uh",
    "um",
    "use",
    "used",
    "uses",
    "usually",
    "want",
    "wanting",
    "well",
    "another",
    "further",
    "remaining",
    "rest",
    "additional",
    "the",
    "of",
];

/// More of them: who is spoken of, and short forms.
const SHORT: [&str; 22] = [
    "we", "we're", "we'll", "we've", "you", "you're", "you'll", "you've", "i'd", "i'll", "i've", "they're",
    "he'd", "she'd", "that'd", "that'll", "will", "would", "your", "with", "yes", "yeah",
];

/// The most words that are passed over.
const WORDS_MAX: usize = 9;

/// The line without what leads in to its amount. Where no amount follows, it stays as it is.
pub(crate) fn without_lead_in(text: &str) -> &str {
    let mut rest = text;
    for _ in 0..WORDS_MAX {
        for more in ["a further ", "an additional ", "an extra ", "another "] {
            if let Some(after) = rest.strip_prefix(more).filter(|r| begins_with_amount(r)) {
                return after;
            }
        }
        if begins_with_amount(rest) {
            return rest;
        }
        let end = rest.find(|c: char| !c.is_alphabetic() && c != '\'' && c != '’').unwrap_or(rest.len());
        let word = rest[..end].to_lowercase().replace('’', "'");
        if !(WORDS.contains(&word.as_str()) || SHORT.contains(&word.as_str())) {
            break;
        }
        rest = rest[end..].trim_start_matches([',', ':', ' ', '…', '-']);
    }
    if begins_with_amount(rest) { rest } else { text }
}
