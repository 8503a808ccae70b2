//! A line put in order before it is read: without what only leads in, its amount first, and each thing in
//! it by itself.

use winnow::combinator::repeat;
use winnow::prelude::*;

use crate::heading::{Opens, heading};
use crate::lead_in::without_lead_in;
use crate::name::Names;
use crate::parts::parts_of;
use crate::purpose::own_stage;
use crate::quantity::{after_amount, amount, begins_with_amount, begins_with_measure, further, smaller};
use cerealis_core::words::Stage;

/// Things that hold what is weighed, said between the amount and the name.
pub(crate) const CONTAINERS: [&str; 20] = [
    "packet",
    "package",
    "pkg",
    "pkt",
    "sachet",
    "envelope",
    "can",
    "tin",
    "jar",
    "bag",
    "box",
    "carton",
    "bottle",
    "tub",
    "container",
    "pot",
    "pouch",
    "tube",
    "brick",
    "punnet",
];

/// The name without the container that was counted or weighed: `tin of coconut milk`.
pub(crate) fn without_container(rest: &str) -> &str {
    let text = rest.trim_start();
    let word = text.split(|c: char| !c.is_alphabetic()).next().unwrap_or("");
    let one = word.strip_suffix('s').unwrap_or(word).to_lowercase();
    let is_one = CONTAINERS.contains(&one.as_str()) || one == "cube" || one == "block" || one == "stick";
    if !is_one || word.is_empty() {
        return rest;
    }
    let after = text[word.len()..].trim_start();
    after.strip_prefix("of ").unwrap_or(after)
}

/// The line without the mark of a list, its number, the leaders and tabs between its columns, and its
/// percentages.
pub(crate) fn bare(text: &str) -> String {
    let text = text.replace(['\t', '\u{a0}', '\u{202f}'], " ").replace('\u{2044}', "/");
    let mut text = text.trim_start_matches(['-', '*', '•', '·', '–', '—', '▢', '☐', '□', '✓', '+', ' ']);
    for mark in ["[ ]", "[x]", "[]", "( )"] {
        text = text.strip_prefix(mark).unwrap_or(text).trim_start();
    }
    let text = without_number(text);
    let mut out = String::new();
    let mut dots = 0;
    for c in text.chars() {
        // Two stops and more lead the eye to the next column.
        if c == '.' || c == '…' {
            dots += if c == '…' { 3 } else { 1 };
            continue;
        }
        if dots > 0 {
            out.push_str(if dots > 1 { " : " } else { "." });
            dots = 0;
        }
        out.push(c);
    }
    if dots == 1 {
        out.push('.');
    }
    label_behind(without_percentages(out.trim()))
}

/// “Egg wash: 1 egg” as “1 egg, for the egg wash”: what a line is for may stand before it.
fn label_behind(text: String) -> String {
    let Some((label, rest)) = text.split_once(':') else { return text };
    let rest = rest.trim();
    let opens = matches!(heading(label), Some(Opens::Stage(stage)) if stage != Stage::Dough);
    let named = !after_amount(rest).trim().is_empty();
    if !opens || !begins_with_amount(rest) || !named || rest.contains(". ") {
        return text;
    }
    let label = label.trim();
    let lower = label.to_lowercase();
    let told = if lower.starts_with("for ") { lower } else { format!("for the {lower}") };
    format!("{rest}, {told}")
}

/// `1) 400 g …`, `2. Bread flour …`: the number of a list.
fn without_number(text: &str) -> &str {
    let rest = text.trim_start_matches(|c: char| c.is_ascii_digit());
    let digits = text.len() - rest.len();
    let marked = rest.strip_prefix([')', '.']).filter(|r| r.starts_with(' '));
    match marked {
        Some(after) if (1..=2).contains(&digits) => after.trim_start(),
        _ => text,
    }
}

/// Takes `100 %`, `(2%)` and `70%:` out: baker's percentages and hydrations, which are no amounts.
fn without_percentages(text: &str) -> String {
    let mut out = text.to_owned();
    while let Some(at) = out.find('%') {
        let before = out[..at].trim_end();
        let start = before
            .rfind(|c: char| !(c.is_ascii_digit() || c == '.' || c == ','))
            .map_or(0, |i| i + before[i..].chars().next().map_or(1, char::len_utf8));
        if start == before.len() {
            out.replace_range(at..=at, " ");
            continue;
        }
        let opened = out[..start].trim_end().ends_with('(');
        let (mut from, mut to) = (start, at + 1);
        if opened && out[to..].trim_start().starts_with(')') {
            from = out[..start].trim_end().len() - 1;
            to += out[to..].find(')').unwrap_or(0) + 1;
        }
        out.replace_range(from..to, " ");
    }
    out.split_whitespace().collect::<Vec<_>>().join(" ")
}

/// Where an amount stands behind a name: its place and end.
fn amount_behind(text: &str) -> Option<(usize, usize)> {
    let starts = text.char_indices().filter(|(i, c)| {
        let before = text[..*i].chars().next_back();
        *i > 0
            && (c.is_alphanumeric() || "½⅓⅔¼¾⅛⅜⅝⅞".contains(*c))
            && before.is_some_and(|b| b.is_whitespace() || "(:,-–".contains(b))
    });
    for (at, c) in starts {
        // In words only behind a mark: “Salt, a teaspoon”.
        if c.is_alphabetic() && !text[..at].trim_end().ends_with([':', '(', '-', '–', ',']) {
            continue;
        }
        let mut rest = &text[at..];
        let Ok(read) = amount.parse_next(&mut rest) else { continue };
        let _: winnow::Result<()> =
            read.unit.map_or(Ok(()), |unit| repeat(0..=2, smaller(unit)).parse_next(&mut rest));
        let _: winnow::Result<()> = repeat(0..=3, further).parse_next(&mut rest);
        let end = text.len() - rest.len();
        let counted = rest.trim_start().is_empty() || rest.trim_start().starts_with([')', '(']);
        // A count without a unit only where nothing else follows: “Egg (1)”, not “type 550 flour”.
        if read.unit.is_some() || (counted && text[..at].trim_end().ends_with([':', '(', '-', '–', ','])) {
            return Some((at, end));
        }
    }
    None
}

/// The line with its amount first.
pub(crate) fn amount_first(text: &str) -> String {
    let text = without_lead_in(text);
    if begins_with_amount(text) {
        return text.to_owned();
    }
    if begins_with_measure(text) {
        return format!("a {text}");
    }
    let Some((at, end)) = amount_behind(text) else { return text.to_owned() };
    let name = text[..at].trim_end_matches(['(', ':', ',', '-', '–', ' ']);
    let opened = text[..at].trim_end().ends_with('(');
    let after = if opened {
        text[end..].trim_start().strip_prefix(')').unwrap_or(&text[end..])
    } else {
        &text[end..]
    };
    format!("{} {name} {}", &text[at..end], after.trim_start()).trim().to_owned()
}

/// Joints between two things in one line.
const JOINTS: [&str; 10] =
    [" and ", " plus ", " with ", " & ", " + ", ", plus ", ", ", "; ", " soaked in ", " dissolved in "];

/// The line as one text a thing: “350 g bread flour and 150 g whole-wheat flour” are two.
pub(crate) fn things(text: &str, names: &Names) -> Vec<String> {
    let parts = parts_of(text);
    if parts.len() > 1 {
        return parts.into_iter().map(|(name, count)| format!("{count} {name}")).collect();
    }
    in_water(text, names)
        .or_else(|| so_much_each(text, names))
        .unwrap_or_else(|| apart(text, names, THINGS_MAX))
}

/// “3 tbsp baking soda for each litre of water”: a bath, and what is in it.
fn in_water(text: &str, names: &Names) -> Option<Vec<String>> {
    let joints = [" for every ", " for each ", " per ", " for ", " to each ", " to ", " in "];
    let (at, long) =
        joints.iter().filter_map(|j| Some((text.find(j)?, j.len()))).min_by_key(|(at, _)| *at)?;
    let (left, right) = (&text[..at], &text[at + long..]);
    let alkaline = |k: &String| matches!(k.as_str(), "baking-soda" | "washing-soda" | "lye");
    let first = names.find(after_amount(left)).candidates;
    if !begins_with_amount(left) || first.is_empty() || !first.iter().all(alkaline) {
        return None;
    }
    let water = if begins_with_amount(right) { right.to_owned() } else { format!("1 {right}") };
    let named = names.find(after_amount(&water)).candidates;
    let bath = |part: &str| format!("{part}, for the bath");
    (begins_with_amount(&water) && named == ["water"]).then(|| vec![bath(left), bath(&water)])
}

/// “50 g each of sunflower seeds, pumpkin seeds and linseed”, “butter and lard, 50 g of each”: one amount,
/// of several.
fn so_much_each(text: &str, names: &Names) -> Option<Vec<String>> {
    let mut rest = text;
    amount.parse_next(&mut rest).ok()?;
    let count = &text[..text.len() - rest.len()];
    let rest = rest.trim_start();
    let lower = rest.to_ascii_lowercase();
    let led =
        ["each of ", "each ", "of each of "].iter().find_map(|e| lower.starts_with(e).then_some(e.len()));
    let ends = || [" of each", ", each", " each"].iter().find_map(|e| Some(lower.strip_suffix(e)?.len()));
    let listed = match led {
        Some(from) => &rest[from..],
        None => rest[..ends()?].trim_end_matches([',', ' ']),
    };
    let listed = listed.strip_prefix("equal parts ").unwrap_or(listed).strip_prefix("of ").unwrap_or(listed);
    let things: Vec<&str> = listed
        .split([',', '&', '+'])
        .flat_map(|part| part.split(" and "))
        .map(|part| part.trim().strip_prefix("and ").unwrap_or(part.trim()))
        .filter(|part| !part.is_empty())
        .collect();
    let all_named = things.iter().all(|t| stands_alone(t, names));
    ((2..=THINGS_MAX).contains(&things.len()) && all_named)
        .then(|| things.iter().map(|thing| format!("{} {thing}", count.trim())).collect())
}

/// The most things that stand in one line.
const THINGS_MAX: usize = 6;

fn apart(text: &str, names: &Names, most: usize) -> Vec<String> {
    // Of ASCII alone, so that places are the same in both.
    let lower = text.to_ascii_lowercase();
    if most <= 1 {
        return vec![text.to_owned()];
    }
    let joints = JOINTS.iter().flat_map(|j| lower.match_indices(j).map(|(i, j)| (i, j.len())));
    let mut joints: Vec<(usize, usize)> = joints.collect();
    joints.sort_unstable();
    joints.truncate(2 * THINGS_MAX);
    for (at, long) in joints {
        let (left, right) = (&text[..at], &text[at + long..]);
        let depth = left.matches('(').count() > left.matches(')').count();
        if depth || !stands_alone(left, names) {
            continue;
        }
        if let Some((one, other)) = both_unsaid(left, &lower[at..at + long], right, names) {
            let one = match purpose(text) {
                Some(p) => format!("{one}, {p}"),
                None => one,
            };
            return std::iter::once(one).chain(apart(&other, names, most - 1)).collect();
        }
        let added = lower[at..].trim_start_matches([',', ' ']).starts_with("plus ");
        if let Some(right) = a_thing(left, right, names) {
            // “4 eggs, plus 1 egg for the glaze”: what is added has a purpose of its own.
            let purpose = purpose(text).filter(|_| !added);
            let with = |part: &str| match purpose {
                Some(p) if !part.to_lowercase().contains(&p.to_lowercase()) => format!("{part}, {p}"),
                _ => part.to_owned(),
            };
            let left = with(left.trim_end_matches([',', ' ']));
            return std::iter::once(left).chain(apart(&with(&right), names, most - 1)).collect();
        }
    }
    vec![text.to_owned()]
}

/// “Chopped almonds and pearl sugar”, “pumpkin and sunflower seeds”: two things, and nobody said how much of either.
fn both_unsaid(left: &str, joint: &str, right: &str, names: &Names) -> Option<(String, String)> {
    let short = |text: &str| text.split_whitespace().count() <= 3;
    let bare = |text: &str| !begins_with_amount(text) && stands_alone(text, names) && short(text);
    if !matches!(joint.trim(), "and" | "&") || !bare(left) || !bare(right) {
        return None;
    }
    // What the second is a kind of, the first may be too.
    let of = right.split_whitespace().last().unwrap_or("");
    let shared = format!("{left} {of}");
    let alike = names.find(&shared).candidates.len() == 1
        && names.find(&shared).candidates != names.find(of).candidates
        && names.find(&shared).candidates != names.find(left).candidates;
    Some((if alike { shared } else { left.to_owned() }, right.to_owned()))
}

/// Whether a text names something of the catalogue.
fn stands_alone(text: &str, names: &Names) -> bool {
    !names.find(after_amount(text)).candidates.is_empty()
}

/// What stands behind a joint, where it is a thing of its own.
fn a_thing(left: &str, right: &str, names: &Names) -> Option<String> {
    let lower = right.to_ascii_lowercase();
    let of_egg = left.to_lowercase().contains("egg");
    for (part, whole) in [("white", "egg white"), ("yolk", "egg yolk")] {
        let rest = after_amount(right).trim_start();
        if of_egg && rest.to_lowercase().starts_with(part) {
            let count = right.len() - rest.len();
            return Some(format!(
                "{}{whole}{}",
                &right[..count],
                &rest[part.len()..].trim_start_matches('s')
            ));
        }
    }
    let little = ["a little ", "some ", "a bit of ", "a drop of ", "a touch of ", "pinch of ", "dash of "];
    if let Some(l) = little.iter().find(|l| lower.starts_with(**l)) {
        let rest = &right[l.len()..];
        return (!rest.starts_with("for ") && !rest.starts_with("more") && stands_alone(rest, names))
            .then(|| rest.to_owned());
    }
    let ordered = amount_first(right);
    let right = ordered.as_str();
    let mut rest = right;
    let counted = amount.parse_next(&mut rest).ok().filter(|_| !lower.contains(" if "))?;
    let measured = counted.unit.is_some();
    let rest = rest.trim_start();
    let more_of_it = rest.to_lowercase();
    let said_for = more_of_it.starts_with("for ")
        || more_of_it.starts_with("to ")
        || more_of_it.starts_with("extra for ");
    if measured && said_for {
        // “… plus 1 tbsp for the tin”: more of the same.
        let count = right.len() - rest.len();
        let name = after_amount(left).trim();
        return Some(format!("{}{name}, {rest}", &right[..count]));
    }
    (!names.find(rest).candidates.is_empty()).then(|| right.to_owned())
}

/// What a line says its things are for, at its end: “, to glaze”, “, for the wash”.
fn purpose(text: &str) -> Option<&str> {
    let behind_comma = text.rsplit_once(", ").map(|(_, end)| end);
    if let Some(end) =
        behind_comma.filter(|e| ["for ", "to "].iter().any(|w| e.to_lowercase().starts_with(w)))
    {
        return Some(end);
    }
    // “1 egg + 1 tbsp milk for egg wash”: a wash is brushed on mixed.
    let at = text.rfind(" for ").or_else(|| text.rfind(" to "))?;
    matches!(own_stage(&text[at..], None), Some(Stage::Wash | Stage::Dusting)).then(|| &text[at + 1..])
}
