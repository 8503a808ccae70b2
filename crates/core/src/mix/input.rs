//! What kneading depends on, and what is told of it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::units::{Grams, Minutes, Percent};
use crate::words::{Method, SaltSchool, Style};

/// What kneading depends on.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct MixInput {
    /// How the dough is mixed.
    pub method: Method,
    /// Its style.
    pub style: Style,
    /// Effective hydration, 30 to 200 % of flour.
    pub hydration: Percent,
    /// Butter or fat that goes in late, per cent of flour.
    #[serde(default)]
    pub late_fat: Percent,
    /// Whether seeds, fruit or nuts go in at the end.
    #[serde(default)]
    pub add_ins: bool,
    /// Flour and water rest first, 0 to 180 min.
    #[serde(default)]
    pub autolyse: Minutes,
    /// The bulk rise as far as it is known, for the work that time does.
    #[serde(default)]
    pub bulk: Minutes,
    /// Dough weight, for the minutes that hands need.
    pub dough: Grams,
    /// Mixer speeds in turns of the hook a minute, slowest first; at least two for a mixer.
    #[serde(default)]
    pub speeds: Vec<f64>,
    /// What mixing adds, K a minute, in place of the method's own figure.
    #[serde(default)]
    pub friction: Option<f64>,
    /// How long a mixer runs at its first speed before that, 1 to 20 min; 4 when left out.
    #[serde(default)]
    pub slow: Option<Minutes>,
    /// How long it is kneaded or developed, 1 to 45 min; as long as the dough needs when left out.
    #[serde(default)]
    pub knead: Option<Minutes>,
    /// At which of its speeds a mixer does that, counted from the slowest, 1 to 8; the second when left out.
    #[serde(default)]
    pub speed: Option<u32>,
    /// Sets of folds in the bulk rise, 1 to 8; as the way of mixing asks for when left out.
    #[serde(default)]
    pub folds: Option<u32>,
    /// How far apart they are, 10 to 120 min; half an hour when left out.
    #[serde(default)]
    pub folds_every: Option<Minutes>,
    /// When the salt goes in.
    #[serde(default)]
    pub salt: SaltSchool,
    /// Whether liquid is kept back, to be worked in as the dough asks for it.
    #[serde(default)]
    pub held_back: bool,
    /// Hydration without the flour that is kept back, where it is flour; per cent of flour.
    #[serde(default)]
    pub held_flour: Option<Percent>,
    /// In how many portions late butter goes in, 1 to 20; by how much it is when left out.
    #[serde(default)]
    pub butter_portions: Option<u32>,
    /// How long working it in takes, 1 to 40 min; as the way of mixing needs when left out.
    #[serde(default)]
    pub butter: Option<Minutes>,
    /// The most dough that the mixer's maker allows, at about 60 % hydration.
    #[serde(default)]
    pub mixer_limit: Option<Grams>,
}

/// What hands do in a phase.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum PhaseKind {
    /// Flour and water rest.
    Autolyse,
    /// Bringing the dough together.
    Mix,
    /// Rest.
    Rest,
    /// Developing the dough.
    Knead,
    /// Late butter goes in.
    Butter,
    /// Add-ins go in.
    AddIns,
    /// Folds during the bulk rise.
    Folds,
}

choice! {
    /// The sign to stop at, as a picture.
    Stop {
        /// Rough, no dry flour.
        Shaggy = "shaggy", "rough, no dry flour";
        /// It has relaxed.
        Relaxed = "relaxed", "relaxed";
        /// It leaves the side and holds at the bottom.
        Side = "side", "leaves the side";
        /// It stretches thin enough to see light.
        Window = "window", "stretches to a window";
        /// A smooth paste.
        Paste = "paste", "smooth paste";
        /// A batter that holds a peak.
        Peak = "peak", "holds a peak";
        /// Add-ins are spread evenly.
        Spread = "spread", "spread evenly";
    }
}

/// One phase of mixing.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Phase {
    /// Which phase it is.
    pub kind: PhaseKind,
    /// Its name.
    pub name: String,
    /// How long it takes. Folds take this long a set.
    pub minutes: Minutes,
    /// Turns of the hook a minute, for a mixer.
    pub rpm: Option<f64>,
    /// Turns of the hook done when it ends, all phases together; hands on the same scale.
    pub turns: f64,
    /// What goes in or what to do.
    pub what: String,
    /// The sign to stop at.
    pub sign: String,
    /// The sign as a picture.
    pub stop: Stop,
    /// Whether hands or an eye on the mixer are needed.
    pub hands_on: bool,
}

/// Fold sets during the bulk rise.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Folds {
    /// How many sets.
    pub sets: u32,
    /// Minutes from one set to the next, and from the end of mixing to the first.
    pub every: Minutes,
    /// Hands-on minutes a set.
    pub each: Minutes,
}

impl Folds {
    /// Minutes into the bulk rise at which the sets begin.
    pub fn times(&self) -> impl Iterator<Item = Minutes> {
        (1..=self.sets).map(|n| self.every * f64::from(n))
    }
}

/// The plan for mixing.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct MixOutput {
    /// Phases in order; fold sets are in `folds`.
    pub phases: Vec<Phase>,
    /// Fold sets, where the method has them.
    pub folds: Option<Folds>,
    /// Turns of the hook that this dough wants in all.
    pub turns_wanted: f64,
    /// Share of the wanted work that mixing, folds and the bulk rise do, per cent.
    pub work_done: Percent,
    /// In how many parts it is mixed: more than one where it is more than the mixer bears, at most 8.
    pub parts: u32,
    /// Minutes from the first touch to the start of the bulk rise, for one part.
    pub minutes: Minutes,
    /// Minutes of that in which the dough is being worked.
    pub kneading: Minutes,
    /// By how much mixing warms the dough, K.
    pub rise: f64,
    /// What mixing adds by this method when nothing else is known, K a minute.
    pub usual_friction: f64,
    /// Signs of too little work and of too much.
    pub signs: [String; 2],
    /// What to know: too little work, a stiff dough, a mixer on the move.
    pub notes: Vec<String>,
}

impl MixInput {
    /// How much harder a stiff dough is to turn than one of 60 % (common practice, no source).
    pub(super) fn stiffness(&self) -> f64 {
        (1.0 + (60.0 - self.hydration.0) / 40.0).clamp(0.6, 1.7)
    }

    /// Signs of too little work and of too much (common practice, no source).
    pub(super) fn signs(&self) -> [String; 2] {
        let of = |little: &str, much: &str| [little.to_owned(), much.to_owned()];
        match self.style {
            Style::GlutenFree => {
                of("Too little: dry lumps, and it does not hold a peak.", "Too much: it does no harm.")
            }
            Style::Rye => of("Too little: dry streaks.", "Too much: it turns sticky and slack."),
            _ => of(
                "Too little: it tears at once, feels lumpy and spreads.",
                "Too much: it turns shiny, sticky and slack, and tears again; rest it, and fold it once.",
            ),
        }
    }
}

/// Words with commas and an “and”.
pub(super) fn join(words: &[&str]) -> String {
    match words {
        [] => String::new(),
        [one] => (*one).to_owned(),
        [all @ .., last] => format!("{} and {last}", all.join(", ")),
    }
}
