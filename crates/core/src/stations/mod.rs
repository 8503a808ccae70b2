//! One formula in one household, read at all six stations.

mod answers;
mod failing;
mod in_oven;
mod inputs;
mod pieces;
mod reading;
mod tasks;

pub use answers::{
    Ahead, CoursePoint, GoesIn, Liquid, LiquidPart, MakeUpAnswer, Phase, Stations, YeastForms,
};
pub use pieces::{PanAnswer, PieceWork, TrayAnswer};
pub use reading::{Reading, read};
pub use tasks::water_sentence;
