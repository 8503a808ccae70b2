//! The lines of a formula, and what is wanted of those that are made ahead.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::finish::{FinishWish, GoesOnAt, Pieces};
use crate::range::Range;
use crate::shape::ShapeWish;
use crate::units::{Celsius, Grams, Hours};
use crate::words::{Kind, Stage, Vessel};

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
    #[schemars(transform = LINE.limit())]
    pub grams: Grams,
    /// What is to be known of it besides: “sifted”, “toasted”. At most 200 characters.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
    /// For what goes on the pieces: when; as is usual for its stage when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub at: Option<GoesOnAt>,
    /// For what goes on the pieces: on which; on the main ones when left out.
    #[serde(default, skip_serializing_if = "Pieces::is_main")]
    pub on: Pieces,
}

impl Line {
    /// A line with nothing said of it besides.
    pub fn new(ingredient: impl Into<String>, stage: Stage, grams: Grams) -> Line {
        let (note, on) = (String::new(), Pieces::Main);
        Line { ingredient: ingredient.into(), stage, grams, note, at: None, on }
    }
}

/// What a line weighs.
pub const LINE: Range = Range::of("A line", 0.0, LINE_GRAMS_MAX, "g");
/// How long what is made ahead stands.
pub const STANDS: Range = Range::of("The time it stands", 0.25, 72.0, "h");
/// Where a preferment stands.
pub const FERMENTS_AT: Range = Range::of("A place", -2.0, 45.0, "°C");
/// Where a soaker or a scald stands.
pub const STANDS_AT: Range = Range::of("A place", -2.0, 60.0, "°C");
/// How warm a preferment is when it meets the dough.
pub const WARMEST_PREFERMENT: Range = Range::of("What goes into the dough", -2.0, 50.0, "°C");
/// How warm anything else is when it meets the dough.
pub const WARMEST: Range = Range::of("What goes into the dough", -2.0, 95.0, "°C");
/// In how many builds a levain comes.
pub const BUILDS: Range = Range::of("The number of builds", 1.0, 4.0, "");
/// What is kept back of it.
pub const KEPT_BACK: Range = Range::of("What is kept back", 0.0, 2000.0, "g");

/// What is wanted of a stage that is made ahead.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct AheadWish {
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
pub struct LevainWish {
    /// In how many builds, 1 to 4; the lines of the levain are the last one.
    #[schemars(transform = BUILDS.limit())]
    pub builds: u32,
    /// What to keep back of the last build for the next bake, 0 to 2000 g.
    #[schemars(transform = KEPT_BACK.limit())]
    pub keep: Grams,
}

impl Default for LevainWish {
    fn default() -> Self {
        LevainWish { builds: 1, keep: Grams(0.0) }
    }
}

/// A further make-up from the same dough: pieces of their own, shaped, panned and finished for themselves.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct MakeUp {
    /// What is wanted of the pieces; what each weighs must be said.
    #[serde(flatten)]
    pub shape: ShapeWish,
    /// What is wanted of their finish; which lines go on them stands at the lines.
    #[serde(default)]
    pub finish: FinishWish,
    /// What they bake on or in.
    pub vessel: Vessel,
}

impl MakeUp {
    /// So many pieces of a shape, with nothing else wanted.
    pub fn of(kind: Kind, pieces: u32, each: Grams, vessel: Vessel) -> MakeUp {
        let shape = ShapeWish { piece_weight: Some(each), ..ShapeWish::of(kind, pieces) };
        MakeUp { shape, finish: FinishWish::default(), vessel }
    }

    /// What all its pieces weigh.
    pub fn weight(&self) -> Grams {
        self.each() * f64::from(self.shape.pieces)
    }

    /// What each weighs.
    pub fn each(&self) -> Grams {
        self.shape.piece_weight.unwrap_or_default()
    }

    /// Its pieces, as they are named: “2 × tin loaf”.
    pub fn name(&self) -> String {
        format!("{} × {}", self.shape.pieces, self.shape.kind.name().to_lowercase())
    }
}

/// The most further make-ups.
pub const MAKEUPS_MAX: usize = 4;

/// The longest note of a line, in characters.
pub const LINE_NOTE_MAX: usize = 200;
