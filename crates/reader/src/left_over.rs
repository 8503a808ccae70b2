//! What a line says that was not taken in: a second ingredient, a second amount.
//!
//! A line is read in silence only where all that could be weighed in it was weighed.

use crate::name::{Matched, Names, is_grain};
use crate::quantity::{Amount, amount};
use crate::weigh::mass_or_volume;

/// Words that make one thing another: garlic is not garlic powder.
const FORMS: [&str; 34] = [
    "powder",
    "powdered",
    "dried",
    "instant",
    "cooked",
    "paste",
    "puree",
    "sauce",
    "juice",
    "jam",
    "nib",
    "starch",
    "meal",
    "oil",
    "syrup",
    "extract",
    "essence",
    "concentrate",
    "spread",
    "porridge",
    "pickled",
    "candied",
    "invert",
    "cayenne",
    "chip",
    "crumb",
    "liqueur",
    "wine",
    "vinegar",
    "malt",
    "cheese",
    "sugar",
    "butter",
    "water",
];

/// Words that say that a thing is not what its name is: “vegan butter”, “egg substitute”.
const STANDS_FOR: [&str; 9] = [
    "vegan",
    "plant",
    "substitute",
    "replacer",
    "replacement",
    "alternative",
    "imitation",
    "mock",
    "eggless",
];

/// What a thing may be free of: “gluten-free oats”.
const FREE_OF: [&str; 7] = ["gluten", "dairy", "milk", "egg", "nut", "sugar", "alcohol"];

/// A doubt about what else the line says, where it says more than was read. `used` are the amounts that were
/// weighed or said again.
pub(crate) fn left_over(rest: &str, matched: &Matched, used: &[Amount], names: &Names) -> Option<String> {
    let more = free_of(rest, matched, names)
        .or_else(|| another_amount(rest, used))
        .or_else(|| another_thing(matched, names))
        .or_else(|| shared_out(matched))?;
    Some(format!("Of this line, “{more}” is not taken in. Is it a line of its own?"))
}

/// What it is said to be free of, where it does not go by that.
fn free_of(rest: &str, matched: &Matched, names: &Names) -> Option<String> {
    let lower = rest.to_lowercase();
    let words: Vec<&str> = lower.split(|c: char| !c.is_alphanumeric()).filter(|w| !w.is_empty()).collect();
    let own = |w: &str| matched.candidates.first().is_some_and(|k| names.goes_by(k, w));
    let said = words
        .windows(2)
        .find(|w| w[1] == "free" && FREE_OF.contains(&w[0]) && !(own(w[0]) && own("free")))?;
    Some(said.join("-"))
}

/// An amount by weight or volume that is none of those used.
fn another_amount(rest: &str, used: &[Amount]) -> Option<String> {
    let starts = rest.char_indices().filter(|(i, c)| {
        let before = rest[..*i].chars().next_back();
        (c.is_alphanumeric() || "½⅓⅔¼¾⅛⅜⅝⅞".contains(*c))
            && before.is_none_or(|b| b.is_whitespace() || "(,;-–/[".contains(b))
    });
    let mut behind = 0;
    for (at, _) in starts {
        if at < behind {
            continue;
        }
        let mut left = &rest[at..];
        let Ok(found) = amount(&mut left) else { continue };
        behind = rest.len() - left.len();
        let measured = found.unit.is_some_and(mass_or_volume);
        // “cut to 10 g pieces” is a size, not an amount.
        let a_size = ["piece", "portion", "square", "slice", "each", "dice"]
            .iter()
            .any(|w| left.trim_start().starts_with(w));
        if measured && !a_size && !used.contains(&found) {
            return Some(rest[at..behind].trim().to_owned());
        }
    }
    None
}

/// “half for the dough and half for the top”: one amount that goes to two places.
fn shared_out(matched: &Matched) -> Option<String> {
    let parts = |note: &&str| {
        ["half for ", "half in ", "the rest for ", "the rest in "].iter().any(|w| note.contains(w))
    };
    matched.note.split("; ").find(parts).map(str::to_owned)
}

/// Another ingredient, right beside the name or joined to it behind a comma.
fn another_thing(matched: &Matched, names: &Names) -> Option<String> {
    let other = |text: &str| {
        let found = names.find(text).candidates;
        !found.is_empty() && !found.iter().any(|k| matched.candidates.contains(k))
    };
    // “tomatoes in oil”, “butter or margarine”: what it lies in, and what would do as well.
    const BESIDE: [&str; 8] = ["in ", "or ", "from ", "for ", "like ", "such ", "not ", "instead "];
    let joined = |piece: &&str| {
        ["and ", "plus ", "with ", "& ", "+ "].iter().any(|j| piece.to_lowercase().starts_with(j))
            && !["more", "extra", "for "].iter().any(|w| piece.to_lowercase().contains(w))
    };
    let around = matched.around.as_str();
    if !around.is_empty() && !BESIDE.iter().any(|b| format!("{around} ").contains(b)) && other(around) {
        return Some(around.to_owned());
    }
    // “rye” beside what is of no rye, “powder” beside what is none.
    let tells = |w: &&str| {
        (is_grain(w) || FORMS.contains(w) || STANDS_FOR.contains(w))
            && !matched.candidates.iter().any(|k| names.goes_by(k, w))
    };
    if let Some(word) = around.split_whitespace().find(tells) {
        return Some(word.to_owned());
    }
    matched.note.split("; ").filter(joined).find(|piece| other(piece)).map(str::to_owned)
}
