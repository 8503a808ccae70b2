//! What a bake depends on, and what is told of it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::baking::BakeMoment;
use super::marks::Marks;
use super::wish::OvenWish;
use crate::shape::{Bed, Size};
use crate::units::{Celsius, Grams, Minutes};
use crate::words::{Kind, Style};

/// What a bake depends on.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct BakeInput {
    /// Mass of one piece of dough, 10 to 5000 g.
    pub piece: Grams,
    /// Its shape.
    pub kind: Kind,
    /// Its style: range of temperature, core, colour and dryness wanted.
    pub style: Style,
    /// Volume against the dough without gas when it goes in, 1 to 4.
    pub proofed_volume: f64,
    /// Its temperature then, 0 to 45 °C.
    pub start: Celsius,
    /// Water in the dough, the flour's own moisture included, per cent of its mass, 15 to 75.
    pub water: f64,
    /// Heat capacity of everything else, kJ/kg K.
    #[serde(default = "dry_heat")]
    pub solids_heat: f64,
    /// Sugar, per cent of flour: it speeds the colour.
    #[serde(default)]
    pub sugar: f64,
    /// Whether milk is in the dough.
    #[serde(default)]
    pub dairy: bool,
    /// Whether it is washed with egg or milk.
    #[serde(default)]
    pub washed: bool,
    /// Whether it is dipped in an alkaline bath.
    #[serde(default)]
    pub bathed: bool,
    /// Whole-grain flour, per cent: it springs less.
    #[serde(default)]
    pub whole_grain: f64,
    /// Whether the dough itself is dark, of cocoa, molasses, malt or rye: its crust tells nothing, and it goes by its
    /// core.
    #[serde(default)]
    pub dark: bool,
    /// The pan whose shape it takes, and how many lie in it, touching; free on its vessel, or in an ordinary tin,
    /// when left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bed: Option<Bed>,
    /// What it bakes on or in, steam, and a temperature to insist on.
    pub oven: OvenWish,
    /// Whether the fan is on.
    #[serde(default)]
    pub fan: bool,
    /// What the oven really has over its dial, K, −60 to 60.
    #[serde(default)]
    pub offset: f64,
    /// Minutes the oven takes to 200 °C.
    #[serde(default = "preheat_minutes")]
    pub preheat: Minutes,
    /// Time constant with which it comes back after the door was open, min, 1 to 30.
    #[serde(default = "recovery_minutes")]
    pub recovery: Minutes,
    /// All the dough that goes in together, up to 20 kg; this piece alone when left out.
    #[serde(default)]
    pub load: Option<Grams>,
    /// Trays in the oven at once, 1 to 4.
    #[serde(default = "one_tray")]
    pub trays: u32,
    /// The marks on its dial.
    #[serde(default)]
    pub marks: Marks,
    /// Temperature of the room, in which a cold tin or sheet stood, and the bread cools, 0 to 45 °C.
    #[serde(default = "room")]
    pub room: Celsius,
    /// Altitude in metres, −430 to 4500.
    #[serde(default)]
    pub altitude: f64,
    /// The hottest that this oven gets, 150 to 350 °C.
    #[serde(default = "no_end")]
    pub hottest: Celsius,
}

fn recovery_minutes() -> Minutes {
    Minutes(6.0)
}

fn one_tray() -> u32 {
    1
}

fn no_end() -> Celsius {
    Celsius(350.0)
}

fn room() -> Celsius {
    Celsius(21.0)
}

fn dry_heat() -> f64 {
    1.7
}

fn preheat_minutes() -> Minutes {
    Minutes(15.0)
}

/// What the bake waited for last.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Last {
    /// The core.
    Core,
    /// The colour.
    Colour,
    /// The dryness of the crust.
    Dryness,
}

/// How to bake it.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct BakeOutput {
    /// Temperature in the oven.
    pub temperature: Celsius,
    /// Where to set the dial of this oven for that: to five degrees, where it is corrected at all.
    pub dial: Celsius,
    /// Minutes in the oven.
    pub time: Minutes,
    /// The early end of what is likely.
    pub early: Minutes,
    /// The late end.
    pub late: Minutes,
    /// What was waited for last.
    pub last: Last,
    /// When the core is done.
    pub core_at: Option<Minutes>,
    /// When to turn it round, or trays about.
    pub turn: Option<Minutes>,
    /// What was found for it, where the baker insists on other minutes.
    pub found: Option<Minutes>,
    /// When the lid comes off.
    pub lid_off: Option<Minutes>,
    /// When foil that was over it from the start comes off.
    pub foil_off: Option<Minutes>,
    /// When to cover the loaf with foil, since it would get too dark.
    pub foil_on: Option<Minutes>,
    /// Core temperature at which it is done.
    pub core_target: Celsius,
    /// Core temperature when it comes out.
    pub core: Celsius,
    /// Lightness of the crust when it comes out.
    pub lightness: f64,
    /// Its colour in a word.
    pub colour: &'static str,
    /// The colour that is wanted, as lightness.
    pub golden: f64,
    /// The lightness under which it would be too dark.
    pub darkest: f64,
    /// The colour of sides and base in a word.
    pub colour_below: [&'static str; 2],
    /// Loss of weight in the oven, per cent of the dough.
    pub loss: f64,
    /// Loss of weight when it has cooled, per cent of the dough.
    pub loss_cooled: f64,
    /// What one piece weighs when it has cooled.
    pub baked: Grams,
    /// What it weighs when it comes out.
    pub hot: Grams,
    /// Boiling point here.
    pub boiling: Celsius,
    /// Minutes to heat the oven, and what stands in it, before the loaf goes in.
    pub preheat: Minutes,
    /// Its size in the oven, cm.
    pub size: Size,
    /// Its volume in the oven over its volume before.
    pub spring: f64,
    /// Minutes to cool before it is cut.
    pub cool: Minutes,
    /// What to know.
    pub notes: Vec<String>,
    /// What to do with the crust when it is out.
    pub crust: &'static str,
    /// Its course.
    pub curve: Vec<BakeMoment>,
    /// The loaf cut open at moments of its course.
    pub cuts: Vec<Cut>,
}

/// How far a crust may miss its colour, in steps of lightness (common practice, no source).
const NEAR_ENOUGH: f64 = 2.0;

impl BakeOutput {
    /// Whether it is done in time and as it should look: baked through, golden, and not too dark.
    pub fn comes_out_well(&self) -> bool {
        let colour = self.darkest - NEAR_ENOUGH..=self.golden + NEAR_ENOUGH;
        self.core_at.is_some() && colour.contains(&self.lightness) && self.foil_on.is_none()
    }
}

/// The loaf cut open at one moment: temperatures in °C from the middle to the surface, at equal steps.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Cut {
    /// Minutes in the oven.
    pub minutes: f64,
    /// Towards the top.
    pub top: Vec<f64>,
    /// Towards the sides.
    pub sides: Vec<f64>,
    /// Towards the base.
    pub base: Vec<f64>,
}
