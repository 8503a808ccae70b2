//! What the words around a figure say of it: what it tells, whether it is cold, where its part of the sentence ends.

use std::collections::BTreeSet;

use super::figures::{Figure, Placed, figures};
use super::frames::{Tells, stems_of};
use super::lexicon::{Act, Lexicon, Noun};

pub(super) fn cold(lower: &str, clause: (usize, usize), acts: &[Act]) -> bool {
    let own = &lower[clause.0..clause.1];
    let after = &lower[clause.1..];
    let said = |t: &str| {
        ["fridge", "refrigerat", "icebox", "in the cold", "chill", "retard", " cold "]
            .iter()
            .any(|w| t.contains(w))
    };
    acts.contains(&Act::Chill)
        || said(own) && !own.contains("out of the fridge") && !own.contains("from the fridge")
        || after.trim_start_matches([' ', '(', ',']).starts_with("in the fridge")
}

/// What a time tells, by the words around it.
pub(super) fn tells(lower: &str, p: &Placed, more: bool) -> Tells {
    let before = lower[..p.from].trim_end();
    let before = [
        "about",
        "around",
        "roughly",
        "some",
        "a good",
        "approximately",
        "approx.",
        "approx",
        "ca.",
        "just",
        "at least",
        "maybe",
        "only",
        "~",
        "up to",
    ]
    .iter()
    .find_map(|h| before.strip_suffix(h))
    .map_or(before, str::trim_end);
    let after = lower[p.to..].trim_start_matches([' ', '.']);
    let ends = |words: &[&str]| {
        words
            .iter()
            .any(|w| before.ends_with(w) && !before[..before.len() - w.len()].ends_with(char::is_alphabetic))
    };
    let starts = |words: &[&str]| words.iter().any(|w| after.starts_with(w));
    if ends(&["every", "intervals of", "each"])
        || starts(&["apart", "interval", "between"]) && !starts(&["between the"])
    {
        return Tells::Every;
    }
    let stop = [',', ';', '.'];
    let near = &lower[lower[..p.from].rfind(stop).map_or(0, |i| i + 1)..];
    let near = &near[..near[near.len() - (lower.len() - p.to)..]
        .find(stop)
        .map_or(near.len(), |i| near.len() - (lower.len() - p.to) + i)];
    if ["ajar", "switched-off", "switched off", "turned off", "door open"].iter().any(|w| near.contains(w)) {
        return Tells::Beside;
    }
    if starts(&[
        "before baking",
        "before the bake",
        "before you",
        "ahead",
        "in advance",
        "earlier",
        "beforehand",
        "before,",
        "before that",
        "before it",
        "before serving",
        "ago",
        "before shaping",
        "before supper",
        "before they",
        "old",
    ]) {
        return Tells::Beside;
    }
    if ends(&[
        "the last",
        "the final",
        "for the last",
        "the first",
        "during the first",
        "in the first",
        "of the",
        "within",
        "remaining",
    ]) || starts(&["of them", "of that", "of the"]) && !starts(&["of the dough"])
    {
        return Tells::Within;
    }
    let again = before.ends_with(" and") && before.rfind("after ").is_some_and(|i| before.len() - i <= 16);
    if again
        || ends(&["after", "once", "after the first"]) && !after.starts_with("of ")
        || starts(&["later", "in,", "into the bake", "in turn"])
    {
        return Tells::After;
    }
    if starts(&["in all", "in total", "total", "altogether", "all told", "all in all", "all in"])
        || ends(&["total", "in all", "total of", "altogether", "total time"])
    {
        return Tells::Total;
    }
    if more
        || ends(&["another", "a further", "a final", "a last", "then a", "for a final", "again for", "again"])
        || starts(&["more", "longer", "further"])
    {
        return Tells::More;
    }
    // “… or overnight in the fridge”
    if ends(&["or", "or for", "or else", "or even", "or leave", "or leave it", "even"]) {
        return Tells::Instead;
    }
    Tells::Lasts
}

/// Whether a sentence is of keeping or warming up, all of it.
pub(super) fn is_of_keeping(lower: &str, lexicon: &Lexicon) -> bool {
    let words = stems_of(lower);
    let stems: Vec<&str> = words.iter().map(String::as_str).collect();
    let says = |act: Act| (0..stems.len()).any(|i| lexicon.act(&stems[i..]).is_some_and(|(a, _)| a == act));
    says(Act::Store) && !says(Act::Knead) && !says(Act::Divide)
}

/// Whether a sentence says itself that it is of something made ahead.
pub(super) fn own_section(lower: &str, nouns: &BTreeSet<Noun>) -> Option<Noun> {
    let label =
        lower.split(':').next().filter(|l| l.len() < lower.len() && l.split_whitespace().count() <= 5);
    let goes_in = [
        "add the",
        "add all",
        "add your",
        "with the levain",
        "with the starter",
        "with the poolish",
        "into the levain",
        "to the levain",
        "the ripe",
        "to the poolish",
        "to the sponge",
        "to the biga",
        "all of the",
        "tear",
        "loosen",
        "break up",
        "and levain",
        "and starter",
        "and poolish",
        "levain,",
        "starter,",
        "plus levain",
    ];
    let before = ["night before", "evening before", "day before", "previous evening"]
        .iter()
        .any(|w| lower.contains(w));
    if nouns.contains(&Noun::Preferment) && before {
        return Some(Noun::Preferment);
    }
    if nouns.contains(&Noun::Preferment) && !goes_in.iter().any(|w| lower.contains(w)) {
        let heads = label.is_some_and(|l| {
            ["levain", "starter", "poolish", "biga", "sponge", "ferment", "sour", "stage"]
                .iter()
                .any(|w| l.contains(w))
        });
        let early = ["night before", "evening", "day before", "feed", "the night", "build"]
            .iter()
            .any(|w| lower.contains(w));
        let made = [
            "for the levain",
            "for the poolish",
            "for the biga",
            "for the sponge",
            "make the",
            "mix the levain",
            "mix the poolish",
            "mix the biga",
            "mix the sponge",
            "sponge first",
        ]
        .iter()
        .any(|w| lower.contains(w));
        let long = figures(lower).iter().any(|p| matches!(p.figure, Figure::Time(c, _) if c.high >= 180.0))
            && !lower.contains("dough")
            && !lower.contains("add ");
        if heads
            || early
            || made
            || long
            || lower.starts_with("levain")
            || lower.starts_with("poolish")
            || lower.starts_with("biga")
            || lower.starts_with("sponge")
        {
            return Some(Noun::Preferment);
        }
    }
    (nouns.contains(&Noun::Soaked) && label.is_some()
        || ["soak", "scald"].iter().any(|w| lower.starts_with(w)))
    .then_some(Noun::Soaked)
}

/// How many soft stops stand before a place.
pub(super) fn segment_at(lower: &str, at: usize) -> usize {
    let before = &lower[..at];
    let marks = before
        .char_indices()
        .filter(|(i, c)| {
            matches!(c, ',' | ';' | ':' | '(' | ')' | '–' | '—')
                && !(lower[..*i].ends_with(|c: char| c.is_ascii_digit())
                    && lower[i + c.len_utf8()..].starts_with(|c: char| c.is_ascii_digit()))
        })
        .count();
    marks + before.matches(" then ").count() + before.matches(". ").count()
}

/// From stop to stop around a place.
pub(super) fn clause_at(lower: &str, at: usize) -> (usize, usize) {
    let stops = |c: char| matches!(c, ',' | ';' | ':' | '(' | ')' | '–' | '—');
    let from =
        lower[..at].rfind(stops).map_or(0, |i| i + lower[i..].chars().next().map_or(1, char::len_utf8));
    let to = lower[at..].find(stops).map_or(lower.len(), |i| at + i);
    let from = lower[from..at].rfind(" then ").map_or(from, |i| from + i + 6);
    let to = lower[at..to].find(" then ").map_or(to, |i| at + i);
    (from, to)
}

/// Times and temperatures, and the numbers that are minutes although only the time before them says so: “15 minutes at
/// 220 °C, then at 190 °C another 25”.
pub(super) fn with_unsaid_units(lower: &str, placed: &[Placed]) -> Vec<Placed> {
    let mut out: Vec<Placed> = Vec::new();
    for p in placed {
        let Figure::Bare(count) = p.figure else {
            out.push(*p);
            continue;
        };
        let minutes = out.iter().any(|q| matches!(q.figure, Figure::Time(c, _) if c.high <= 120.0));
        let hot = out.iter().any(|q| matches!(q.figure, Figure::Heat(c, _) if c.low >= 115.0))
            || ["bake", "lid", "oven"].iter().any(|w| lower.contains(w));
        let before = lower[..p.from].trim_end();
        let after = lower[p.to..].trim_start_matches([' ', '.']);
        let led = ["another", "and", "then", ",", "further", ";", "final", "last"]
            .iter()
            .any(|w| before.ends_with(w));
        let ends = after.is_empty() || after.starts_with([',', ';', ')']);
        let goes_on =
            ["more", "without", "uncovered", "open", "with the lid", "covered", "at ", "with it off"]
                .iter()
                .any(|w| after.starts_with(w));
        let another = ["another", "further", "final"].iter().any(|w| before.ends_with(w));
        let same = minutes && before.ends_with(" for") && ends && count.high <= 60.0;
        if same {
            out.push(Placed { figure: Figure::Time(count, false), ..*p });
            continue;
        }
        if minutes && hot && (1.0..=120.0).contains(&count.low) && (led && goes_on || another && ends) {
            out.push(Placed { figure: Figure::Time(count, another), ..*p });
        }
    }
    out
}
