//! Mixing: the water that gives the dough its temperature, and the phases of kneading.

mod heat;
mod input;
mod phases;
mod turns;
mod water;
mod wish;

pub use heat::heat_capacity;
pub use input::{Folds, MixInput, MixOutput, Phase, PhaseKind, Stop};
pub use phases::mix;
pub use water::{ICE, Part, WaterAction, WaterAnswer, WaterAnswers, WaterInput, ice, water};
pub use wish::{
    AUTOLYSE, BLOOM, BUTTER, DESIRED, FLOUR, FOLDS, FOLDS_EVERY, FRICTION, KNEAD, MixWish, PORTIONS,
    PREFERMENT, ROOM, SLOW,
};
