//! Where a line belongs: headings that open a stage, and what a line says of itself.

use crate::pantry::{Group, Ingredient};
use crate::words::Stage;

/// What a heading opens.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) enum Opens {
    Stage(Stage),
    Method,
}

/// Words of headings beside the stages' own names (common practice, no source).
const HEADINGS: [(&[&str], Stage); 12] = [
    (&["levain", "starter", "sourdough", "preferment", "leaven"], Stage::Preferment),
    (&["pâte fermentée", "pate fermentee", "prefermented dough"], Stage::OldDough),
    (&["pre-dough", "predough"], Stage::Sponge),
    (&["soaking", "soaked seeds", "soaked grains"], Stage::Soaker),
    (&["tangzhong", "yudane", "water roux", "flour paste", "scalded flour", "roux"], Stage::Scald),
    (&["topping", "toppings", "top", "crumble", "to finish", "finish"], Stage::Topping),
    (&["egg wash", "washing", "brushing"], Stage::Wash),
    (&["icing", "syrup", "after baking"], Stage::Glaze),
    (&["filling", "fruit and nuts", "mix-ins", "inclusions", "extras"], Stage::AddIns),
    (&["boiling", "poaching", "poaching liquid", "alkaline bath", "lye bath", "soda bath"], Stage::Bath),
    (&["work surface", "bench", "the pan"], Stage::Dusting),
    (&["final dough", "main dough", "bread", "ingredients", "the bread"], Stage::Dough),
];

/// A heading opens a stage, or the method: `For the levain:`, `Topping`, `Directions`.
pub(super) fn heading(text: &str) -> Option<Opens> {
    let lower = text.to_lowercase();
    let bare = lower.trim_matches(|c: char| !c.is_alphanumeric()).trim();
    let bare = bare.strip_prefix("for ").unwrap_or(bare);
    let bare = bare.strip_prefix("the ").unwrap_or(bare).trim();
    const METHOD: [&str; 8] = [
        "method",
        "directions",
        "instructions",
        "steps",
        "preparation",
        "procedure",
        "how to make it",
        "to make",
    ];
    if METHOD.contains(&bare) {
        return Some(Opens::Method);
    }
    let own = Stage::ALL.into_iter().find(|s| s.name().to_lowercase() == bare);
    let named = || HEADINGS.iter().find(|(words, _)| words.contains(&bare)).map(|(_, stage)| *stage);
    let heads = own.or_else(named).or_else(|| lower.ends_with(':').then(|| heading_word(bare)));
    heads.map(Opens::Stage)
}

/// The stage that a heading of several words names somewhere, or the dough.
fn heading_word(bare: &str) -> Stage {
    let says = |w: &str| bare.split(|c: char| !c.is_alphanumeric()).any(|x| x == w);
    let own = Stage::ALL.into_iter().filter(|s| *s != Stage::Dough).find(|s| says(&s.name().to_lowercase()));
    let named = || HEADINGS.iter().find(|(words, _)| words.iter().any(|w| says(w))).map(|(_, stage)| *stage);
    own.or_else(named).unwrap_or(Stage::Dough)
}

/// A stage in brackets, `(levain)`, as the formats write it.
pub(super) fn bracketed_stage(lower: &str) -> Option<Stage> {
    Stage::ALL.into_iter().find(|s| lower.contains(&format!("({})", s.name().to_lowercase())))
}

/// A line may say for itself where it belongs.
pub(super) fn own_stage(text: &str, found: Option<&Ingredient>) -> Option<Stage> {
    let lower = text.to_lowercase().replace(" + ", " plus ");
    let says = |words: &[&str]| words.iter().any(|w| lower.contains(w));
    let group = found.map(|i| i.group);
    if let Some(named) = bracketed_stage(&lower) {
        Some(named)
    } else if says(&["plus more", "plus extra", "and more for", "plus a little", "plus some for"]) {
        None
    } else if says(&[
        "after baking",
        "while hot",
        "while still hot",
        "when baked",
        "for the icing",
        "to ice",
        "for icing",
        "to decorate",
    ]) {
        Some(Stage::Glaze)
    } else if says(&["for dipping", "to dip", "for the bath", "for boiling", "for poaching"]) {
        Some(Stage::Bath)
    } else if says(&[
        "egg wash",
        "for brushing",
        "to brush",
        "for the wash",
        "to glaze",
        "for glazing",
        "for the glaze",
    ]) || (says(&["to finish"]) && matches!(group, Some(Group::Egg | Group::Dairy)))
    {
        Some(Stage::Wash)
    } else if says(&[
        "for the top",
        "for topping",
        "to sprinkle",
        "for sprinkling",
        "to scatter",
        "for scattering",
        "on top",
        "to finish",
    ]) {
        Some(Stage::Topping)
    } else if says(&[
        "dusting",
        "to dust",
        "for kneading",
        "greasing",
        "to grease",
        "for oiling",
        "for rolling out",
    ]) || for_a_tool(&lower)
    {
        Some(Stage::Dusting)
    } else {
        None
    }
}

/// Whether it is said to be for what dough lies in or on: “for the proofing basket”.
fn for_a_tool(lower: &str) -> bool {
    const TOOLS: [&str; 17] = [
        "surface", "bench", "board", "bowl", "tin", "tins", "pan", "pans", "basket", "baskets", "tray",
        "trays", "peel", "hands", "rolling", "shaping", "worktop",
    ];
    lower.split(" for ").skip(1).any(|tail| {
        tail.split(|c: char| !c.is_alphabetic()).filter(|w| !w.is_empty()).take(4).any(|w| TOOLS.contains(&w))
    })
}
