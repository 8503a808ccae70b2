//! One formula in one household, read at all six stations.

mod ahead;
mod answers;
mod bakes;
mod failing;
mod in_kitchen;
mod in_oven;
mod inputs;
mod makeup;
mod pieces;
mod shaping;
mod tasks;

pub use answers::{
    Ahead, CoursePoint, GoesIn, Liquid, LiquidPart, MakeUpAnswer, Phase, Stations, YeastForms,
};
pub use bakes::KnownBakes;
pub use in_kitchen::{InKitchen, has_night, read, read_to_plan};
pub use pieces::{PanAnswer, PieceWork, TrayAnswer};
pub use tasks::water_sentence;
