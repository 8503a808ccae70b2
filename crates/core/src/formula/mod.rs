//! The formula: what goes into the dough, and what the baker wants of each station.
//!
//! Grams are the truth and baker's percentages follow from them. Flour counts in every stage,
//! culture and preferment included (the “all flour” school).

mod beginning;
mod edit;
mod figures;
mod slips;

pub use edit::*;
pub use figures::*;
pub use slips::*;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::fault::{Check, Fault, Faults};
use crate::ingredient::Catalogue;
use crate::mixing::MixPlan;
use crate::oven::OvenPlan;
use crate::plan::DayPlan;
use crate::shape::ShapePlan;
use crate::units::{Celsius, Grams};

/// The longest name of a formula, in characters.
pub const NAME_MAX: usize = 80;
/// The most lines of a formula.
pub const LINES_MAX: usize = 60;
/// The heaviest line, in grams.
pub const LINE_GRAMS_MAX: f64 = 50_000.0;

choice! {
    /// When a line meets the dough.
    Stage {
        /// A levain or another preferment, made ahead; all of it goes into the dough.
        Preferment = "preferment", "Levain or preferment";
        /// The dough itself.
        Dough = "dough", "Dough";
        /// Butter or fat that goes in late, in portions.
        LateButter = "late-butter", "Late butter";
        /// Seeds, fruit and nuts, in the last minute.
        AddIns = "add-ins", "Add-ins";
        /// Brushed on; not part of the dough's weight.
        Wash = "wash", "Wash";
        /// Scattered on; not part of the dough's weight.
        Topping = "topping", "Topping";
    }
}

impl Stage {
    /// Whether it is part of the dough's weight.
    pub fn in_dough(self) -> bool {
        !matches!(self, Stage::Wash | Stage::Topping)
    }
}

/// One line: so much of one ingredient in one stage.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Line {
    /// Key of the ingredient in the catalogue.
    pub ingredient: String,
    /// The stage it belongs to.
    pub stage: Stage,
    /// Its mass, 0 to 50 000 g.
    pub grams: Grams,
}

choice! {
    /// The kind of bread; it brings the usual ranges for hydration, core and crust.
    Style {
        /// White or mixed bread in a tin.
        Tin = "tin", "Tin loaf";
        /// Soft rolls and buns with some fat and sugar.
        SoftRoll = "soft-roll", "Soft rolls";
        /// Lean hearth bread with a thick crust.
        Hearth = "hearth", "Hearth bread";
        /// Enriched plaits.
        Braid = "braid", "Enriched plait";
        /// Wet dough that develops by time alone.
        NoKnead = "no-knead", "No-knead";
        /// Flat bakes such as focaccia.
        Flat = "flat", "Flat bake";
        /// Bread with a good share of rye.
        Rye = "rye", "Rye";
        /// Bread without gluten.
        GlutenFree = "gluten-free", "Gluten-free";
    }
}

/// What is usual for a style. All *common practice, no source*.
#[derive(Clone, Copy, Debug)]
pub struct StyleRange {
    /// Effective hydration, per cent of flour.
    pub hydration: (f64, f64),
    /// Instant yeast over which a warning is due, per cent of flour.
    pub yeast_max: f64,
    /// Desired dough temperature, °C.
    pub dough_temp: (f64, f64),
}

impl Style {
    /// What is usual for it.
    pub fn usual(self) -> StyleRange {
        let (hydration, yeast_max, dough_temp) = match self {
            Style::Tin => ((58.0, 70.0), 2.0, (24.0, 26.0)),
            Style::SoftRoll => ((52.0, 70.0), 2.5, (24.0, 27.0)),
            Style::Hearth => ((62.0, 82.0), 2.0, (23.0, 26.0)),
            Style::Braid => ((50.0, 64.0), 2.5, (23.0, 26.0)),
            Style::NoKnead => ((73.0, 87.0), 1.0, (20.0, 24.0)),
            Style::Flat => ((70.0, 90.0), 2.0, (23.0, 26.0)),
            Style::Rye => ((60.0, 100.0), 2.0, (26.0, 29.0)),
            Style::GlutenFree => ((80.0, 125.0), 3.0, (24.0, 28.0)),
        };
        StyleRange { hydration, yeast_max, dough_temp }
    }
}

choice! {
    /// How the dough is handled when it is divided and shaped: what that leaves of its gas.
    Handling {
        /// Folded over gently: three quarters of the gas stay.
        Gentle = "gentle", "Handle gently";
        /// Knocked down: a quarter stays.
        Firm = "firm", "Knock down";
    }
}

/// One rise: where it stands and how far it should go.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct RiseWish {
    /// Temperature of the place, 0 to 45 °C; the kitchen's room when left out.
    #[serde(default)]
    pub place: Option<Celsius>,
    /// How many times its starting volume it should reach: 1 (no rise) to 3.
    pub target: f64,
}

/// What the baker wants of bulk and proof.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct RisePlan {
    /// The bulk rise.
    pub bulk: RiseWish,
    /// The final proof.
    pub proof: RiseWish,
    /// How the dough is handled in between.
    pub handling: Handling,
    /// Where the levain or preferment ripens; the kitchen's room when left out.
    #[serde(default)]
    pub levain_place: Option<Celsius>,
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
    /// Its lines, at most 60.
    pub lines: Vec<Line>,
    /// Wishes at the Mix station.
    pub mix: MixPlan,
    /// Wishes at the Rise station.
    pub rise: RisePlan,
    /// Wishes at the Shape station.
    pub shape: ShapePlan,
    /// Wishes at the Oven station.
    pub oven: OvenPlan,
    /// Wishes at the Day station.
    #[serde(default)]
    pub day: DayPlan,
}

impl Formula {
    /// Checks everything that can be checked without computing. The engines may rely on it.
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
        }
        self.mix.check(&mut c);
        for (name, wish) in [("bulk", &self.rise.bulk), ("proof", &self.rise.proof)] {
            if let Some(place) = wish.place {
                c.range(&format!("rise.{name}.place"), "A place for dough", place.0, 0.0, 45.0, "°C");
            }
            c.range(&format!("rise.{name}.target"), "The target", wish.target, 1.0, 3.0, "times");
        }
        if let Some(place) = self.rise.levain_place {
            c.range("rise.levain_place", "A place for a levain", place.0, 0.0, 45.0, "°C");
        }
        self.shape.check(&mut c);
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

    /// A plain formula of a style to begin from: 500 g of flour with what the style needs.
    pub fn beginning(name: &str, style: Style) -> Formula {
        beginning::beginning(name, style)
    }
}
