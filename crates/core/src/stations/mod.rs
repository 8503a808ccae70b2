//! One formula in one household, read at all six stations.

mod answers;
mod failing;
mod in_oven;
mod inputs;
mod lay_out;
mod pieces;
mod reading;

pub use answers::{
    Ahead, CoursePoint, GoesIn, Liquid, LiquidPart, MakeUpAnswer, Phase, Stations, YeastForms,
};
pub use lay_out::water_sentence;
pub use pieces::{PanAnswer, PieceWork, TrayAnswer};
pub use reading::{Reading, read};
