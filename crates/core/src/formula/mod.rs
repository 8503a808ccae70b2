//! The formula: what goes into the dough, and what the baker wants of each station.
//!
//! Grams are the truth and baker's percentages follow from them. Key figures count the flour of
//! every stage, culture and preferment included; the percentages of the lines follow the school
//! of the formula or the kitchen ([`Counting`]).

mod beginning;
mod cost;
mod difference;
mod edit;
mod figures;
mod nutrition;
mod preferment;
mod ready_by;
mod scale;
mod slips;
mod swap;

pub use cost::*;
pub use difference::*;
pub use edit::*;
pub use figures::*;
pub use nutrition::*;
pub use preferment::*;
pub use ready_by::*;
pub use scale::*;
pub(crate) use slips::is_dough_temperature;
pub use slips::*;
pub use swap::*;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::fault::{Check, Fault, Faults};
use crate::finish::FinishWish;
use crate::mixing::MixPlan;
use crate::oven::OvenPlan;
use crate::pantry::Catalogue;
use crate::pantry::Renamed;
use crate::plan::DayPlan;
use crate::shape::ShapePlan;
use crate::units::{Celsius, Grams, Hours};
use crate::words::Kind;
use crate::words::Stands;
use crate::words::Vessel;
use crate::words::{Counting, Handling, Stage, Style};

/// The longest name of a formula, in characters.
pub const NAME_MAX: usize = 80;
/// The most lines of a formula.
pub const LINES_MAX: usize = 60;
/// The heaviest line, in grams.
pub const LINE_GRAMS_MAX: f64 = 50_000.0;

/// One line: so much of one ingredient in one stage.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Line {
    /// Key of the ingredient in the catalogue.
    pub ingredient: String,
    /// The stage it belongs to.
    pub stage: Stage,
    /// Its mass, 0 to 50 000 g.
    pub grams: Grams,
    /// What is to be known of it besides: “sifted”, “toasted”. At most 200 characters.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
}

impl Line {
    /// A line without a note.
    pub fn new(ingredient: impl Into<String>, stage: Stage, grams: Grams) -> Line {
        Line { ingredient: ingredient.into(), stage, grams, note: String::new() }
    }
}

/// What is wanted of a stage that is made ahead.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct StagePlan {
    /// Which stage.
    pub stage: Stage,
    /// How long it stands, 0.25 to 72 h; until ripe, or as is usual, when left out.
    #[serde(default)]
    pub hours: Option<Hours>,
    /// Where it stands, −2 to 60 °C; the preferments' usual place, or the room, when left out.
    #[serde(default)]
    pub place: Option<Celsius>,
    /// How warm it is when it meets the dough, −2 to 95 °C; as its place when left out.
    #[serde(default)]
    pub temperature: Option<Celsius>,
}

/// How the levain comes from the kept culture.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LevainPlan {
    /// In how many builds, 1 to 4; the lines of the levain are the last one.
    pub builds: u32,
    /// What to keep back of the last build for the next bake, 0 to 2000 g.
    pub keep: Grams,
}

impl Default for LevainPlan {
    fn default() -> Self {
        LevainPlan { builds: 1, keep: Grams(0.0) }
    }
}

/// A further make-up from the same dough: so many pieces of another shape.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct MakeUp {
    /// The shape of the pieces.
    pub kind: Kind,
    /// How many, 1 to 200.
    pub pieces: u32,
    /// What each weighs, 5 to 20 000 g.
    pub piece_weight: Grams,
    /// What they bake on or in.
    pub vessel: Vessel,
}

/// The most further make-ups.
pub const MAKEUPS_MAX: usize = 4;
/// The most tags, and the longest in characters.
pub const TAGS_MAX: (usize, usize) = (12, 30);
/// The longest notes, in characters.
pub const NOTES_MAX: usize = 8000;
/// The longest note of a line, in characters.
pub const LINE_NOTE_MAX: usize = 200;

/// A stay somewhere before a rise's own place: an hour on the counter, a night in the fridge.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Leg {
    /// How long, over 0 and to 72 h.
    pub hours: Hours,
    /// Temperature there, 0 to 45 °C.
    pub place: Celsius,
}

/// The most stays before a rise's own place.
pub const LEGS_MAX: usize = 3;

/// One rise: where it stands and how far it should go.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct RiseWish {
    /// Stays before its place, at most 3.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub legs: Vec<Leg>,
    /// Temperature of the place, 0 to 45 °C; the kitchen's room when left out.
    #[serde(default)]
    pub place: Option<Celsius>,
    /// How many times its starting volume it should reach: 1 (no rise) to 3.
    pub target: f64,
    /// How long it stays at its place whatever it has reached, 0.25 to 72 h: a proof that is baked
    /// from the fridge. Until its target when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stays: Option<Hours>,
    /// What it stands in.
    #[serde(default)]
    pub stands: Stands,
    /// How much cooler its place gets by night than by day, 0 to 15 K. The room follows the
    /// kitchen's own night.
    #[serde(default, skip_serializing_if = "is_nought")]
    pub night: f64,
}

fn is_nought(x: &f64) -> bool {
    *x == 0.0
}

impl RiseWish {
    /// No rise at all.
    pub fn none() -> RiseWish {
        RiseWish::to(1.0, None)
    }

    /// Whether there is a rise at all.
    pub fn rises(&self) -> bool {
        self.target > 1.0 || self.stays.is_some()
    }

    /// A rise to a target in one place, the room when none is given.
    pub fn to(target: f64, place: Option<Celsius>) -> RiseWish {
        RiseWish { place, target, ..RiseWish::default() }
    }
}

/// What the baker wants of bulk and proof.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct RisePlan {
    /// The bulk rise.
    pub bulk: RiseWish,
    /// A second bulk rise, after the dough was knocked down or folded; none when left out.
    #[serde(default = "RiseWish::none")]
    pub second: RiseWish,
    /// How the dough is handled before a second bulk rise.
    #[serde(default = "knocked_down")]
    pub between: Handling,
    /// The final proof.
    pub proof: RiseWish,
    /// How the dough is handled when it is divided and shaped.
    pub handling: Handling,
    /// Where the levain or preferment ripens; the kitchen's room when left out.
    #[serde(default)]
    pub levain_place: Option<Celsius>,
}

fn knocked_down() -> Handling {
    Handling::Firm
}

impl RisePlan {
    /// The three rises by the names of their fields.
    pub fn rises(&self) -> [(&'static str, &RiseWish); 3] {
        [("bulk", &self.bulk), ("second", &self.second), ("proof", &self.proof)]
    }
}

/// A formula with what is wanted at each of the six stations.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Formula {
    /// Its name, 1 to 80 characters.
    pub name: String,
    /// Its style.
    pub style: Style,
    /// When set, changing one line's grams changes all the others with it.
    #[serde(default)]
    pub percent_locked: bool,
    /// How its starter is counted; as the kitchen does when left out.
    #[serde(default)]
    pub counting: Option<Counting>,
    /// Its lines, at most 60.
    pub lines: Vec<Line>,
    /// What is wanted of the stages that are made ahead; at most one of each.
    #[serde(default)]
    pub stages: Vec<StagePlan>,
    /// How the levain is built.
    #[serde(default)]
    pub levain: LevainPlan,
    /// Wishes at the Mix station.
    pub mix: MixPlan,
    /// Wishes at the Rise station.
    pub rise: RisePlan,
    /// Wishes at the Shape station, for the main make-up.
    pub shape: ShapePlan,
    /// Further make-ups from the same dough; the main one has what they leave.
    #[serde(default)]
    pub makeups: Vec<MakeUp>,
    /// What is wanted of the finish.
    #[serde(default)]
    pub finish: FinishWish,
    /// Wishes at the Oven station.
    pub oven: OvenPlan,
    /// Wishes at the Day station.
    #[serde(default)]
    pub day: DayPlan,
    /// Whose recipe it is, at most 80 characters.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub author: String,
    /// Words to find it by.
    #[serde(default)]
    pub tags: Vec<String>,
    /// Whatever else is to be known, as plain text.
    #[serde(default)]
    pub notes: String,
    /// Codes of slips that were answered “I mean it”.
    #[serde(default)]
    pub meant: Vec<String>,
}

impl Formula {
    /// The keys of all its ingredients, a key as often as it has lines.
    pub fn keys(&self) -> impl Iterator<Item = &str> {
        self.lines.iter().map(|l| l.ingredient.as_str())
    }

    /// Gives every line the key that its ingredient has in the household which took it in.
    pub fn rename(&mut self, renamed: &Renamed) {
        for line in &mut self.lines {
            line.ingredient = renamed.key(&line.ingredient).to_owned();
        }
    }

    /// Checks everything that can be checked without computing. Temperatures that can only be °F
    /// pass: they are a slip, and the engines take [`Formula::as_meant`].
    pub fn check(&self, catalogue: &Catalogue) -> Result<(), Faults> {
        let mut c = Check::new();
        if self.name.trim().is_empty() {
            c.note(Fault::new("missing", "name", "The formula needs a name."));
        }
        if self.name.chars().count() > NAME_MAX {
            c.note(Fault::new("out-of-range", "name", format!("Keep the name under {NAME_MAX} characters.")));
        }
        if self.lines.len() > LINES_MAX {
            c.note(Fault::new("out-of-range", "lines", format!("A formula has at most {LINES_MAX} lines.")));
        }
        for (i, line) in self.lines.iter().enumerate() {
            let at = |field: &str| format!("lines.{i}.{field}");
            if catalogue.get(&line.ingredient).is_none() {
                let text =
                    format!("“{}” is not in the catalogue. Pick a name from the list.", line.ingredient);
                c.note(Fault::new("unknown", at("ingredient"), text));
            }
            c.range(&at("grams"), "A line", line.grams.0, 0.0, LINE_GRAMS_MAX, "g");
            c.length(&at("note"), "A note", &line.note, LINE_NOTE_MAX);
        }
        self.check_stages(&mut c);
        self.check_words(&mut c);
        self.mix.check(&mut c);
        for (name, wish) in self.rise.rises() {
            if let Some(place) = wish.place {
                c.range(&format!("rise.{name}.place"), "A place for dough", place.0, 0.0, 115.0, "°C");
            }
            let at = |field: &str| format!("rise.{name}.{field}");
            c.range(&at("target"), "The target", wish.target, 1.0, 3.0, "times");
            if let Some(stays) = wish.stays {
                c.range(&at("stays"), "A stay", stays.0, 0.25, 72.0, "h");
            }
            c.range(&at("night"), "How much cooler it gets by night", wish.night, 0.0, 15.0, "K");
            if wish.legs.len() > LEGS_MAX {
                c.note(Fault::new("out-of-range", at("legs"), format!("At most {LEGS_MAX} stays before.")));
            }
            for (n, leg) in wish.legs.iter().enumerate() {
                c.range(&at(&format!("legs.{n}.hours")), "A stay", leg.hours.0, 0.05, 72.0, "h");
                c.range(&at(&format!("legs.{n}.place")), "A place for dough", leg.place.0, 0.0, 45.0, "°C");
            }
        }
        if let Some(place) = self.rise.levain_place {
            c.range("rise.levain_place", "A place for a levain", place.0, 0.0, 115.0, "°C");
        }
        self.shape.check(&mut c);
        self.check_makeups(&mut c);
        self.oven.check(&mut c);
        if flour(self, catalogue).0 < 1.0 {
            let first =
                self.lines.iter().position(|l| catalogue.get(&l.ingredient).is_some_and(|i| i.flour > 0.0));
            let at = first.map_or("lines".to_owned(), |i| format!("lines.{i}.grams"));
            let text = "There is no flour yet. Everything is counted against it: give it a weight.";
            c.note(Fault::new("missing", at, text));
        }
        c.done(())
    }

    fn check_stages(&self, c: &mut Check) {
        for (i, plan) in self.stages.iter().enumerate() {
            // Faults are told by stage, which is how a page and a reader know them.
            let at = |field: &str| format!("stages.{}.{field}", plan.stage.key());
            if !plan.stage.is_ahead() || self.stages[..i].iter().any(|p| p.stage == plan.stage) {
                let text = "Only stages made ahead have a time and a place, each once.";
                c.note(Fault::new("impossible", at("stage"), text));
            }
            let (h, p) = (plan.hours.map_or(1.0, |h| h.0), plan.place.map_or(20.0, |p| p.0));
            c.range(&at("hours"), "The time it stands", h, 0.25, 72.0, "h");
            c.range(
                &at("place"),
                "A place",
                p,
                -2.0,
                if plan.stage.is_preferment() { 45.0 } else { 60.0 },
                "°C",
            );
            let t = plan.temperature.map_or(20.0, |t| t.0);
            let warmest = if plan.stage.is_preferment() { 50.0 } else { 95.0 };
            c.range(&at("temperature"), "What goes into the dough", t, -2.0, warmest, "°C");
        }
        c.range("levain.builds", "The number of builds", f64::from(self.levain.builds), 1.0, 4.0, "");
        c.range("levain.keep", "What is kept back", self.levain.keep.0, 0.0, 2000.0, "g");
    }

    fn check_makeups(&self, c: &mut Check) {
        if self.makeups.len() > MAKEUPS_MAX {
            let text = format!("At most {MAKEUPS_MAX} further make-ups.");
            c.note(Fault::new("out-of-range", "makeups", text));
        }
        for (i, m) in self.makeups.iter().enumerate() {
            c.range(
                &format!("makeups.{i}.pieces"),
                "The number of pieces",
                f64::from(m.pieces),
                1.0,
                200.0,
                "",
            );
            c.range(&format!("makeups.{i}.piece_weight"), "A piece", m.piece_weight.0, 5.0, 20_000.0, "g");
        }
    }

    fn check_words(&self, c: &mut Check) {
        let (most, longest) = TAGS_MAX;
        if self.tags.len() > most || self.tags.iter().any(|t| t.is_empty() || t.chars().count() > longest) {
            let text = format!("At most {most} tags, each of at most {longest} characters.");
            c.note(Fault::new("out-of-range", "tags", text));
        }
        c.length("author", "Whose recipe it is", &self.author, NAME_MAX);
        c.length("notes", "The notes", &self.notes, NOTES_MAX);
        if self.meant.len() > 60 || self.meant.iter().any(|m| m.len() > 40) {
            c.note(Fault::new("out-of-range", "meant", "These are not answers to slips."));
        }
    }

    /// What is wanted of a stage made ahead.
    pub fn stage_plan(&self, stage: Stage) -> StagePlan {
        let none = StagePlan { stage, hours: None, place: None, temperature: None };
        self.stages.iter().find(|p| p.stage == stage).copied().unwrap_or(none)
    }

    /// How its percentages are counted.
    pub fn counting(&self, kitchens: Counting) -> Counting {
        self.counting.unwrap_or(kitchens)
    }

    /// A plain formula of a style to begin from: 500 g of flour with what the style needs.
    pub fn beginning(name: &str, style: Style) -> Formula {
        beginning::beginning(name, style)
    }
}
