//! Lines that are steps of the method.

use crate::arrange::amount_first;
use crate::lead_in::without_lead_in;
use crate::name::Names;
use crate::quantity::{after_amount, begins_with_amount, begins_with_measure};

/// Words that steps of a method begin with.
const STEP_WORDS: [&str; 84] = [
    "add",
    "after",
    "allow",
    "bake",
    "beat",
    "bring",
    "brush",
    "carefully",
    "combine",
    "cook",
    "cool",
    "cover",
    "cream",
    "crumble",
    "cut",
    "degas",
    "dip",
    "dissolve",
    "divide",
    "do",
    "drain",
    "drop",
    "dust",
    "fold",
    "form",
    "gently",
    "grease",
    "grind",
    "heat",
    "if",
    "in",
    "keep",
    "knead",
    "knock",
    "lay",
    "leave",
    "let",
    "lift",
    "line",
    "make",
    "meanwhile",
    "measure",
    "melt",
    "mix",
    "once",
    "pinch",
    "place",
    "plait",
    "pour",
    "preheat",
    "prepare",
    "press",
    "proof",
    "prove",
    "punch",
    "put",
    "remove",
    "repeat",
    "rest",
    "rinse",
    "roll",
    "rub",
    "scald",
    "score",
    "serve",
    "set",
    "shape",
    "sift",
    "slash",
    "soak",
    "sprinkle",
    "stir",
    "stretch",
    "take",
    "tip",
    "toast",
    "transfer",
    "turn",
    "using",
    "warm",
    "weigh",
    "when",
    "whisk",
    "work",
];

/// Words of things that are also done: “Oil a tin”, “Flour the board”.
const ALSO_DONE: [&str; 8] = ["oil", "butter", "flour", "salt", "egg", "glaze", "seed", "water"];

/// What a line tells to put in, without its condition and what is said of it behind a comma; all of it where
/// more is told to be done.
fn put_in_alone(text: &str) -> &str {
    let plain = text.split(" if ").next().unwrap_or(text);
    let ends = [", ", " (", "; ", " - ", " – ", " + "].iter().filter_map(|e| Some((plain.find(e)?, e.len())));
    let Some((at, long)) = ends.min() else { return plain };
    let (before, after) = (&plain[..at], &plain[at + long..]);
    let next = after.split_whitespace().next().unwrap_or("").to_lowercase();
    const GOES_ON: [&str; 12] =
        ["then", "and", "mix", "stir", "knead", "whisk", "beat", "cover", "leave", "let", "until", "while"];
    if GOES_ON.contains(&next.as_str()) { plain } else { before }
}

/// Words from which on a line that ends in a full stop, and begins with no amount, is a sentence.
const A_SENTENCE: usize = 9;

/// Whether a line is one or more whole sentences: “Pipe crosses over the buns. Bake for 20 minutes at 200C.”
pub(crate) fn is_sentences(text: &str) -> bool {
    let many = text.split_whitespace().count();
    let parted = text.match_indices(". ").any(|(i, _)| {
        let next = text[i + 2..].chars().next();
        let word = text[..i].rsplit(' ').next().unwrap_or("");
        next.is_some_and(char::is_uppercase) && word.len() > 3
    });
    !begins_with_amount(text) && many >= A_SENTENCE && (parted || text.trim_end().ends_with('.'))
}

/// Whether a line is a step of the method: it says what to do, and more than a name. What only tells to
/// put in an amount of something is that amount.
pub(crate) fn is_step(body: &str, names: &Names) -> bool {
    let text = body.strip_prefix("Step ").unwrap_or(body);
    let text = text.trim_start_matches(|c: char| c.is_ascii_digit() && body.starts_with("Step"));
    let text = text.trim_start_matches([':', ' ']);
    if text.trim_end().ends_with(':') || begins_with_measure(text) {
        return false;
    }
    if is_sentences(text) {
        return true;
    }
    let ordered = without_lead_in(text);
    // “add 30 g of honey if you like it sweeter” puts in an amount, whatever its condition; “add 200 g of the
    // flour” speaks of what was listed.
    let thing = after_amount(put_in_alone(ordered)).trim_start();
    let listed = ["the ", "of the ", "your "].iter().any(|w| thing.starts_with(w));
    let short = thing.split_whitespace().count() <= 6;
    if ordered != text && short && !listed && !names.find(thing).candidates.is_empty() {
        return false;
    }
    let many = text.split_whitespace().count();
    let lower = text.to_lowercase();
    // “Cream cheese, 200 g”: its amount stands behind a name that begins like a deed.
    let first = lower.split(|c: char| !c.is_alphanumeric()).find(|w| !w.is_empty()).unwrap_or("");
    let measured = amount_first(text);
    if measured != text && begins_with_amount(&measured) && many <= 8 {
        let found = names.find(after_amount(&measured).trim_start()).candidates;
        if found.first().is_some_and(|key| names.goes_by(key, first)) {
            return false;
        }
    }
    let mut words = lower.split_whitespace().map(|w| w.trim_matches(|c: char| !c.is_alphanumeric()));
    let mut first = words.next().unwrap_or("");
    // “Next, knead …”, “Then you want to leave it …”
    let mut led = false;
    while matches!(
        first,
        "next" | "then" | "now" | "first" | "finally" | "and" | "so" | "you" | "want" | "to" | "meanwhile"
    ) {
        led = true;
        first = words.next().unwrap_or("");
    }
    let second = words.next().unwrap_or("");
    // “Salt, a teaspoon” and “butter the size of a walnut” are none.
    let done = ALSO_DONE.contains(&first)
        && matches!(second, "a" | "an" | "the" | "your" | "both" | "two")
        && !lower.contains(" size of ")
        && !lower.split_whitespace().next().is_some_and(|w| w.ends_with([',', ':']));
    let step =
        STEP_WORDS.contains(&first) && (led || many >= 3 || (many == 2 && matches!(first, "bake" | "knead")));
    step && !second.is_empty() || done
}
