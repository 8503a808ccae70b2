//! The formula as a document, and what can be wrong with it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::figures::flour;
use super::line::{
    AheadWish, BUILDS, FERMENTS_AT, KEPT_BACK, LINE, LINE_NOTE_MAX, LINES_MAX, LevainWish, Line, MAKEUPS_MAX,
    MakeUp, STANDS, STANDS_AT, WARMEST, WARMEST_PREFERMENT,
};
use crate::day::DayWish;
use crate::fault::{Check, Fault, Faults};
use crate::finish::FinishWish;
use crate::mix::MixWish;
use crate::oven::OvenWish;
use crate::pantry::{Catalogue, Renamed};
use crate::rise::RisesWish;
use crate::shape::ShapeWish;
use crate::units::Grams;
use crate::words::{Counting, Stage, Style};

/// The longest name of a formula, in characters.
pub const NAME_MAX: usize = 80;

/// The most tags, and the longest in characters.
pub const TAGS_MAX: (usize, usize) = (12, 30);

/// The longest notes, in characters.
pub const NOTES_MAX: usize = 8000;

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
    pub stages: Vec<AheadWish>,
    /// How the levain is built.
    #[serde(default)]
    pub levain: LevainWish,
    /// Wishes at the Mix station.
    pub mix: MixWish,
    /// Wishes at the Rise station.
    pub rise: RisesWish,
    /// Wishes at the Shape station, for the main make-up.
    pub shape: ShapeWish,
    /// Further make-ups from the same dough; the main one has what they leave.
    #[serde(default)]
    pub makeups: Vec<MakeUp>,
    /// What is wanted of the finish.
    #[serde(default)]
    pub finish: FinishWish,
    /// Wishes at the Oven station.
    pub oven: OvenWish,
    /// Wishes at the Day station.
    #[serde(default)]
    pub day: DayWish,
    /// Which of the kitchen's ovens and mixers it uses.
    #[serde(default, skip_serializing_if = "Uses::is_usual")]
    pub uses: Uses,
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
    /// What the recipe that it came from says of figures that are worked out here, at most 24.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub said: Vec<Said>,
}

/// Which of the kitchen's ovens and mixers a formula uses, by their names; the usual one where there is none of that
/// name.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(default)]
pub struct Uses {
    /// The oven, at most 40 characters.
    pub oven: String,
    /// The mixer, at most 40 characters.
    pub mixer: String,
}

impl Uses {
    /// Whether it is the usual ones.
    pub fn is_usual(&self) -> bool {
        *self == Uses::default()
    }
}

/// A figure of the recipe that a formula came from, kept beside what is worked out here.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Said {
    /// What it is of, by its key: `bulk`, `proof`, `bake`, `core`, `cool`.
    pub what: String,
    /// Its low end; minutes or °C.
    pub low: f64,
    /// Its high end.
    pub high: f64,
    /// The sentence it stands in, at most 300 characters.
    #[serde(default)]
    pub text: String,
}

/// The longest sentence that is kept of a recipe, in characters.
pub const SAID_MAX: usize = 300;
/// The most figures that are kept of one.
pub const SAIDS_MAX: usize = 24;

impl Formula {
    /// The keys of all its ingredients, a key as often as it has lines.
    pub fn keys(&self) -> impl Iterator<Item = &str> {
        self.lines.iter().map(|l| l.ingredient.as_str())
    }

    /// What the further make-ups weigh together.
    pub fn makeups_weight(&self) -> Grams {
        self.makeups.iter().map(MakeUp::weight).sum()
    }

    /// The dough as one of its make-ups has it: its own pieces, pan, vessel and finish, and no other pieces beside it.
    pub fn part(&self, n: usize) -> Formula {
        let mut part = self.clone();
        let makeup = part.makeups.swap_remove(n);
        part.makeups.clear();
        part.shape = ShapeWish { on_scale: Some(makeup.weight()), ..makeup.shape };
        part.finish = makeup.finish;
        part.oven.vessel = makeup.vessel;
        part.lines.retain(|l| l.stage.in_dough() || l.on.on(Some(n as u32)));
        part
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
            LINE.check(&mut c, &at("grams"), line.grams.0);
            c.length(&at("note"), "A note", &line.note, LINE_NOTE_MAX);
        }
        self.check_stages(&mut c);
        self.check_words(&mut c);
        self.mix.check(&mut c);
        self.rise.check(&mut c);
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
            STANDS.check_some(c, &at("hours"), plan.hours.map(|h| h.0));
            let (place, warmth) = if plan.stage.is_preferment() {
                (FERMENTS_AT, WARMEST_PREFERMENT)
            } else {
                (STANDS_AT, WARMEST)
            };
            place.check_some(c, &at("place"), plan.place.map(|t| t.0));
            warmth.check_some(c, &at("temperature"), plan.temperature.map(|t| t.0));
        }
        BUILDS.check(c, "levain.builds", f64::from(self.levain.builds));
        KEPT_BACK.check(c, "levain.keep", self.levain.keep.0);
    }

    fn check_makeups(&self, c: &mut Check) {
        if self.makeups.len() > MAKEUPS_MAX {
            let text = format!("At most {MAKEUPS_MAX} further portions.");
            c.note(Fault::new("out-of-range", "makeups", text));
        }
        for (i, m) in self.makeups.iter().enumerate() {
            let mut own = Check::new();
            m.shape.check(&mut own);
            if m.shape.piece_weight.is_none() {
                own.note(Fault::new("missing", "shape.piece_weight", "Say what each piece weighs."));
            }
            for fault in own.done(()).err().into_iter().flat_map(|Faults(faults)| faults) {
                let path = fault.path.replacen("shape.", &format!("makeups.{i}."), 1);
                c.note(Fault { path, ..fault });
            }
        }
    }

    fn check_words(&self, c: &mut Check) {
        let (most, longest) = TAGS_MAX;
        if self.tags.len() > most || self.tags.iter().any(|t| t.is_empty() || t.chars().count() > longest) {
            let text = format!("At most {most} tags, each of at most {longest} characters.");
            c.note(Fault::new("out-of-range", "tags", text));
        }
        c.length("uses.oven", "The oven's name", &self.uses.oven, 40);
        c.length("uses.mixer", "The mixer's name", &self.uses.mixer, 40);
        c.length("author", "Whose recipe it is", &self.author, NAME_MAX);
        c.length("notes", "The notes", &self.notes, NOTES_MAX);
        if self.said.len() > SAIDS_MAX {
            c.note(Fault::new("out-of-range", "said", format!("At most {SAIDS_MAX} figures of a recipe.")));
        }
        for (i, said) in self.said.iter().enumerate() {
            c.length(&format!("said.{i}.text"), "A sentence of the recipe", &said.text, SAID_MAX);
            if !(said.low.is_finite() && said.high.is_finite() && said.low <= said.high) {
                let text = "What a recipe says runs from low to high.";
                c.note(Fault::new("out-of-range", format!("said.{i}.low"), text));
            }
        }
        if self.meant.len() > 60 || self.meant.iter().any(|m| m.len() > 40) {
            c.note(Fault::new("out-of-range", "meant", "These are not answers to slips."));
        }
    }

    /// What is wanted of a stage made ahead.
    pub fn stage_plan(&self, stage: Stage) -> AheadWish {
        let none = AheadWish { stage, hours: None, place: None, temperature: None };
        self.stages.iter().find(|p| p.stage == stage).copied().unwrap_or(none)
    }

    /// How its percentages are counted.
    pub fn counting(&self, kitchens: Counting) -> Counting {
        self.counting.unwrap_or(kitchens)
    }

    /// A plain formula of a style to begin from: 500 g of flour with what the style needs.
    pub fn beginning(name: &str, style: Style) -> Formula {
        super::beginning::beginning(name, style)
    }
}
