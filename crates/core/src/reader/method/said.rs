//! The words of a method, and what each tells of (common practice, no source).

use crate::words::{Kind, Method, Vessel};

/// What is done, as far as times and temperatures hang on it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Act {
    /// Kneading, mixing, beating.
    Knead,
    /// Rising, resting, standing: which rise is told by how far the method has come.
    Wait,
    /// A short rest: on the bench, or before the rise.
    Rest,
    /// In the fridge.
    Fridge,
    /// Folding.
    Fold,
    /// Dividing and shaping.
    Shape,
    /// Heating the oven, or what stands in it.
    Preheat,
    /// Turning the oven to another setting.
    Lower,
    /// In the oven.
    Bake,
    /// In the oven under a lid.
    Covered,
    /// In the oven with the lid off.
    Uncovered,
    /// Covering with foil.
    Foil,
    /// Turning a tray round, spraying: a time that is of no station.
    Aside,
    /// In a hot bath.
    Bath,
    /// On the rack.
    Cool,
}

/// Words that name an act. Of two at one place the longer counts.
pub(super) const ACTS: [(&str, Act); 106] = [
    ("knead", Act::Knead),
    ("mix", Act::Knead),
    ("beat", Act::Knead),
    ("work in", Act::Knead),
    ("by machine", Act::Knead),
    ("on speed", Act::Knead),
    ("on low", Act::Knead),
    ("slow", Act::Knead),
    ("rise", Act::Wait),
    ("rising", Act::Wait),
    ("prove", Act::Wait),
    ("proving", Act::Wait),
    ("proof", Act::Wait),
    ("ferment", Act::Wait),
    ("bulk", Act::Wait),
    ("ripen", Act::Wait),
    ("leave", Act::Wait),
    ("left", Act::Wait),
    ("let ", Act::Wait),
    ("stand", Act::Wait),
    ("double", Act::Wait),
    ("give it", Act::Wait),
    ("give them", Act::Wait),
    ("wait", Act::Wait),
    ("soak", Act::Wait),
    ("autolyse", Act::Wait),
    ("rest for", Act::Rest),
    ("rest the dough", Act::Rest),
    ("let it rest", Act::Rest),
    ("let them rest", Act::Rest),
    ("let the dough rest", Act::Rest),
    ("bench rest", Act::Rest),
    ("rest ", Act::Rest),
    ("relax", Act::Rest),
    ("fridge", Act::Fridge),
    ("refrigerat", Act::Fridge),
    ("chill", Act::Fridge),
    ("retard", Act::Fridge),
    ("fold", Act::Fold),
    ("divide", Act::Shape),
    ("shape", Act::Shape),
    ("preshape", Act::Shape),
    ("form ", Act::Shape),
    ("form it", Act::Shape),
    ("roll into", Act::Shape),
    ("roll each", Act::Shape),
    ("roll out", Act::Shape),
    ("roll it", Act::Shape),
    ("roll them", Act::Shape),
    ("plait", Act::Shape),
    ("braid", Act::Shape),
    ("twist", Act::Shape),
    ("cut into", Act::Shape),
    ("press it out", Act::Shape),
    ("press out", Act::Shape),
    ("stretch it to", Act::Shape),
    ("scrape it into", Act::Shape),
    ("scrape into", Act::Shape),
    ("fill into", Act::Shape),
    ("fill it into", Act::Shape),
    ("spoon into", Act::Shape),
    ("pour into", Act::Shape),
    ("pour onto", Act::Shape),
    ("form into", Act::Shape),
    ("make 1", Act::Shape),
    ("make two", Act::Shape),
    ("preheat", Act::Preheat),
    ("heat the oven", Act::Preheat),
    ("heat oven", Act::Preheat),
    ("heat your oven", Act::Preheat),
    ("heat a ", Act::Preheat),
    ("get the oven", Act::Preheat),
    ("oven on", Act::Preheat),
    ("oven to", Act::Preheat),
    ("meanwhile heat", Act::Preheat),
    ("turn down", Act::Lower),
    ("turn it down", Act::Lower),
    ("turn the oven down", Act::Lower),
    ("lower the", Act::Lower),
    ("reduce", Act::Lower),
    ("bake", Act::Bake),
    ("baking time", Act::Bake),
    ("in the oven", Act::Bake),
    ("they need", Act::Bake),
    ("it needs", Act::Bake),
    ("bake covered", Act::Covered),
    ("covered for", Act::Covered),
    ("lid on", Act::Covered),
    ("with the lid", Act::Covered),
    ("under the lid", Act::Covered),
    ("lid off", Act::Uncovered),
    ("with it off", Act::Uncovered),
    ("take the lid off", Act::Uncovered),
    ("remove the lid", Act::Uncovered),
    ("uncover", Act::Uncovered),
    ("without", Act::Uncovered),
    ("foil", Act::Foil),
    ("turning", Act::Aside),
    ("rotate", Act::Aside),
    ("dip", Act::Bath),
    ("boil each", Act::Bath),
    ("poach", Act::Bath),
    ("cool", Act::Cool),
    ("before cutting", Act::Cool),
    ("before slicing", Act::Cool),
    ("do not cut", Act::Cool),
];

/// Words that are none of those that begin like them: “the rest” is no rest, “shape of”.
pub(super) const NO_ACT: [&str; 11] = [
    "from the fridge",
    "out of the fridge",
    "the rest ",
    "the rest.",
    "the rest,",
    "cooler",
    "mixture",
    "slowly",
    "covered and",
    "not cool",
    "overlap",
];

/// What a ripe or soaked thing is called that is made ahead.
pub(super) const LEAVENS: [&str; 10] = [
    "levain",
    "starter",
    "sourdough",
    "poolish",
    "biga",
    "sponge",
    "preferment",
    "pre-ferment",
    "rye sour",
    "pre-dough",
];

/// Words of soaking.
pub(super) const SOAKS: [&str; 6] =
    ["soak", "over the seeds", "over the grains", "over the oats", "scald", "on the seeds"];

/// What the loaves bake on or in; the first that is said.
pub(super) const VESSELS: [(&str, Vessel); 24] = [
    ("lidded tin", Vessel::Lidded),
    ("lidded pan", Vessel::Lidded),
    ("tin with a lid", Vessel::Lidded),
    ("dutch oven", Vessel::Pot),
    ("casserole", Vessel::Pot),
    ("iron pot", Vessel::Pot),
    ("lidded pot", Vessel::Pot),
    ("a pot", Vessel::Pot),
    ("the pot", Vessel::Pot),
    ("and pot", Vessel::Pot),
    ("loaf pan", Vessel::Tin),
    ("bread pan", Vessel::Tin),
    ("loaf tin", Vessel::Tin),
    ("bread tin", Vessel::Tin),
    ("greased tin", Vessel::Tin),
    ("in the tin", Vessel::Tin),
    ("two tins", Vessel::Tin),
    ("tin loaf", Vessel::Tin),
    ("stone", Vessel::Stone),
    ("baking sheet", Vessel::Sheet),
    ("baking tray", Vessel::Sheet),
    ("cookie sheet", Vessel::Sheet),
    ("oiled tray", Vessel::Sheet),
    ("on a tray", Vessel::Sheet),
];

/// How it is mixed.
pub(super) const METHODS: [(&str, Method); 16] = [
    ("paddle", Method::Paddle),
    ("hand mixer", Method::HandMixer),
    ("stand mixer", Method::Mixer),
    ("in the mixer", Method::Mixer),
    ("in a mixer", Method::Mixer),
    ("by machine", Method::Mixer),
    ("dough hook", Method::Mixer),
    ("on speed", Method::Mixer),
    ("minutes slow", Method::Mixer),
    ("stretch and fold", Method::Fold),
    ("coil fold", Method::Fold),
    ("no knead", Method::None),
    ("not knead", Method::None),
    ("without kneading", Method::None),
    ("by hand", Method::Hand),
    ("floured surface", Method::Hand),
];

/// Shapes by the word for a piece; `None` is a piece or a loaf of no shape of its own.
pub(super) const PIECES: [(&str, Option<Kind>); 30] = [
    ("roll", Some(Kind::Roll)),
    ("rolls", Some(Kind::Roll)),
    ("bun", Some(Kind::Bun)),
    ("buns", Some(Kind::Bun)),
    ("baguette", Some(Kind::Baguette)),
    ("baguettes", Some(Kind::Baguette)),
    ("round", Some(Kind::Round)),
    ("rounds", Some(Kind::Round)),
    ("boule", Some(Kind::Round)),
    ("boules", Some(Kind::Round)),
    ("braid", Some(Kind::Braid)),
    ("braids", Some(Kind::Braid)),
    ("plait", Some(Kind::Braid)),
    ("plaits", Some(Kind::Braid)),
    ("spirals", Some(Kind::Spirals)),
    ("loaf", None),
    ("loaves", None),
    ("breads", None),
    ("piece", None),
    ("pieces", None),
    ("ball", None),
    ("balls", None),
    ("portions", None),
    ("parts", None),
    ("tin", Some(Kind::Tin)),
    ("tins", Some(Kind::Tin)),
    ("flatbreads", Some(Kind::Flat)),
    ("batards", Some(Kind::Batard)),
    ("bâtards", Some(Kind::Batard)),
    ("rings", Some(Kind::Ring)),
];

/// Words that may stand between a count and its pieces.
pub(super) const BETWEEN: [&str; 18] = [
    "equal",
    "even",
    "large",
    "small",
    "medium",
    "soft",
    "dinner",
    "long",
    "round",
    "tight",
    "smooth",
    "loaf",
    "g",
    "gram",
    "grams",
    "four-strand",
    "three-strand",
    "round-shaped",
];

/// Numbers that stand before a strand, a fold or a set.
pub(super) fn number_word(word: &str) -> Option<f64> {
    const WORDS: [(&str, f64); 13] = [
        ("once", 1.0),
        ("twice", 2.0),
        ("one", 1.0),
        ("two", 2.0),
        ("three", 3.0),
        ("four", 4.0),
        ("five", 5.0),
        ("six", 6.0),
        ("seven", 7.0),
        ("eight", 8.0),
        ("a", 1.0),
        ("thrice", 3.0),
        ("single", 1.0),
    ];
    WORDS.iter().find(|(w, _)| *w == word).map(|(_, n)| *n).or_else(|| word.parse().ok())
}
