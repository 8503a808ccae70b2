//! What a line says that its ingredient is for: “to glaze”, “for the crust”, “for the tin”.

use crate::heading::{HEADINGS, Opens, bracketed_stage, heading};
use crate::quantity::after_amount;
use cerealis_core::pantry::{Group, Ingredient};
use cerealis_core::words::Stage;

/// Phrases and the stage that they name, the first that is found (common practice, no source).
const SAID: [(&[&str], Stage); 6] = [
    (
        &[
            "after baking",
            "while hot",
            "while still hot",
            "when baked",
            "for the icing",
            "to ice",
            "for icing",
        ],
        Stage::Glaze,
    ),
    (&["for dipping", "to dip", "for the bath", "for boiling", "for poaching"], Stage::Bath),
    (
        &[
            "egg wash",
            "eggwash",
            "for brushing",
            "to brush",
            "for the wash",
            "to glaze",
            "for glazing",
            "for sticking",
            "to stick",
            "for the glaze",
        ],
        Stage::Wash,
    ),
    (
        &[
            "for the top",
            "for topping",
            "to top",
            "to sprinkle",
            "for sprinkling",
            "to scatter",
            "for scattering",
            "to strew",
            "for strewing",
            "on top",
            "for the crust",
            "for crusting",
            "to coat",
            "for coating",
            "for the coating",
            "for the outside",
            "to roll in",
            "to roll it in",
            "to roll the",
            "to press",
            "to garnish",
            "for garnish",
            "to drizzle",
            "for drizzling",
        ],
        Stage::Topping,
    ),
    (&["for the cross", "to pipe", "for piping"], Stage::Paste),
    (
        &[
            "dusting",
            "to dust",
            "for kneading",
            "greasing",
            "to grease",
            "for oiling",
            "to oil",
            "for rolling out",
            "to roll out",
        ],
        Stage::Dusting,
    ),
];

/// What joins more of a thing to its amount, and words of how much more.
const JOINED: [&str; 3] = ["plus ", "and ", "with "];
const MORE: [&str; 8] =
    ["a little more ", "a little extra ", "a bit more ", "a little ", "a bit ", "more ", "extra ", "some "];

/// What follows “plus more” and its like: that there is more of it than was weighed, and what for. Other things
/// that are joined (“and a little milk”) are not more of it.
pub(crate) fn more_besides(lower: &str) -> Option<&str> {
    JOINED.iter().flat_map(|j| lower.match_indices(j)).find_map(|(at, j)| {
        let apart = lower[..at].ends_with([' ', ',', '(']);
        let after = &lower[at + j.len()..];
        let why = MORE.iter().find_map(|m| after.strip_prefix(m)).filter(|_| apart)?;
        ["for ", "to ", "as ", "if ", "in case"].iter().any(|w| why.starts_with(w)).then_some(why)
    })
}

/// What dough lies in or on.
const TOOLS: [&str; 17] = [
    "surface", "bench", "board", "bowl", "tin", "tins", "pan", "pans", "basket", "baskets", "tray", "trays",
    "peel", "hands", "rolling", "shaping", "worktop",
];

/// What is for the dough itself, or tells no stage.
const OF_THE_DOUGH: [&str; 34] = [
    "dough",
    "bread",
    "breads",
    "loaf",
    "loaves",
    "roll",
    "rolls",
    "bun",
    "buns",
    "base",
    "mix",
    "mixing",
    "flavour",
    "flavor",
    "taste",
    "colour",
    "color",
    "crunch",
    "crumb",
    "texture",
    "sweetness",
    "softness",
    "autolyse",
    "yeast",
    "bloom",
    "blooming",
    "dissolving",
    "soaking",
    "folds",
    "folding",
    "weight",
    "example",
    "me",
    "us",
];

/// Where a line says that it belongs.
pub(crate) fn own_stage(text: &str, found: Option<&Ingredient>) -> Option<Stage> {
    let lower = text.to_lowercase().replace(" + ", " plus ");
    if let Some(named) = bracketed_stage(&lower) {
        return Some(named);
    }
    if more_besides(&lower).is_some() {
        return None;
    }
    // “Topping: 30 g sesame seeds”; “Starter: 200 g” names the thing itself.
    let says_more = |rest: &str| !after_amount(rest.trim()).trim().is_empty();
    let label = lower.split_once(':').filter(|(_, rest)| says_more(rest));
    let label = label.and_then(|(label, _)| heading(label));
    if let Some(Opens::Stage(stage)) = label.filter(|l| *l != Opens::Stage(Stage::Dough)) {
        return Some(stage);
    }
    let group = found.map(|i| i.group);
    if ["to decorate", "for decoration", "to finish"].iter().any(|w| lower.contains(w)) {
        return Some(match group {
            Some(Group::Egg | Group::Dairy) => Stage::Wash,
            // What melts or runs is put on when it is baked; what is strewn goes in with it.
            Some(Group::Sugar) if found.is_some_and(|i| i.key != "pearl-sugar") => Stage::Glaze,
            _ => Stage::Topping,
        });
    }
    let said = SAID.iter().find(|(phrases, _)| phrases.iter().any(|p| lower.contains(p)));
    // Honey or jam “to glaze” is put on when it is baked; in the oven it would burn.
    let sweet =
        |stage: Stage| if stage == Stage::Wash && group == Some(Group::Sugar) { Stage::Glaze } else { stage };
    // Sugar, cocoa and seeds “to dust” lie on the bread; the bench is dusted with flour.
    let strewn = |stage: Stage| {
        let on_top = stage == Stage::Dusting && ["dusting", "to dust"].iter().any(|w| lower.contains(w));
        let sweet = found.is_some_and(|i| i.group == Group::Sugar || i.key == "cocoa" || i.key == "cinnamon");
        if on_top && sweet { Stage::Topping } else { stage }
    };
    said.map(|(_, stage)| strewn(sweet(*stage)))
        .or_else(|| purposes(&lower).any(|p| p.iter().any(|w| TOOLS.contains(w))).then_some(Stage::Dusting))
        .or_else(|| purposes(&lower).find_map(|p| named_by(&p)))
}

/// What a line that names no stage says that it is for, where that is nothing that is known here.
pub(crate) fn unknown_purpose(text: &str) -> Option<String> {
    let lower = text.to_lowercase().replace(" + ", " plus ");
    if more_besides(&lower).is_some() {
        return None;
    }
    let known = |p: &Vec<&str>| {
        p.iter().any(|w| OF_THE_DOUGH.contains(w) || w.starts_with(|c: char| c.is_ascii_digit()))
            || p.iter().any(|w| ["minute", "minutes", "hour", "hours", "night", "overnight", "a"].contains(w))
    };
    purposes(&lower).find(|p| !p.is_empty() && !known(p)).map(|p| format!("for the {}", p.join(" ")))
}

/// The words behind each “for”, at most four.
fn purposes(lower: &str) -> impl Iterator<Item = Vec<&str>> {
    lower.split(" for ").skip(1).map(|tail| {
        let clause = tail.split([',', ';', '(', ')']).next().unwrap_or("");
        let words = clause.split(|c: char| !c.is_alphanumeric()).filter(|w| !w.is_empty());
        words.filter(|w| !["the", "your", "my", "our"].contains(w)).take(4).collect()
    })
}

/// The stage that a purpose names as a heading would: “for the levain”.
fn named_by(purpose: &[&str]) -> Option<Stage> {
    let own = Stage::ALL.into_iter().filter(|s| *s != Stage::Dough);
    own.into_iter().find(|s| purpose.contains(&s.name().to_lowercase().as_str())).or_else(|| {
        let named = HEADINGS.iter().filter(|(_, stage)| *stage != Stage::Dough);
        named.clone().find(|(words, _)| purpose.iter().any(|w| words.contains(w))).map(|(_, stage)| *stage)
    })
}
