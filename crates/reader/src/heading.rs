//! Headings, which open a stage or the method.

use cerealis_core::words::Stage;

/// What a heading opens.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Opens {
    Stage(Stage),
    Method,
}

/// Words of headings beside the stages' own names (common practice, no source).
pub(crate) const HEADINGS: [(&[&str], Stage); 13] = [
    (&["levain", "starter", "sourdough", "preferment", "leaven", "sour", "rye sour"], Stage::Preferment),
    (&["pâte fermentée", "pate fermentee", "prefermented dough"], Stage::OldDough),
    (&["pre-dough", "predough"], Stage::Sponge),
    (&["soaking", "soaked seeds", "soaked grains"], Stage::Soaker),
    (&["tangzhong", "yudane", "water roux", "flour paste", "scalded flour", "roux"], Stage::Scald),
    (&["topping", "toppings", "top", "crumble", "to finish", "finish"], Stage::Topping),
    (&["egg wash", "washing", "brushing"], Stage::Wash),
    (&["icing", "syrup", "after baking"], Stage::Glaze),
    (&["filling", "fruit and nuts", "mix-ins", "inclusions", "extras"], Stage::AddIns),
    (&["boiling", "poaching", "poaching liquid", "alkaline bath", "lye bath", "soda bath"], Stage::Bath),
    // The paste of a cross lies on the buns, and is none of their dough.
    (&["crosses", "cross", "piping", "flour paste for the crosses", "cross paste"], Stage::Paste),
    (&["work surface", "bench", "the pan"], Stage::Dusting),
    (&["final dough", "main dough", "bread", "ingredients", "the bread"], Stage::Dough),
];

/// A heading opens a stage, or the method: `For the levain:`, `Topping`, `Directions`.
pub(crate) fn heading(text: &str) -> Option<Opens> {
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
pub(crate) fn bracketed_stage(lower: &str) -> Option<Stage> {
    let named = |inside: &str| Stage::ALL.into_iter().find(|s| s.name().to_lowercase() == inside);
    lower.split('(').skip(1).filter_map(|after| after.split_once(')')).find_map(|(inside, _)| named(inside))
}
