//! The words of the trade: choices that everything else speaks in, each with its plain properties. They know
//! of nothing above them: no formula, no kitchen, no engine.

mod air;
mod counting;
mod handling;
mod kind;
mod method;
mod stage;
mod stands;
mod station;
mod style;
mod vessel;
mod yeast;

pub use air::Air;
pub use counting::Counting;
pub use handling::{GENTLY_KEEPS, Handling};
pub use kind::Kind;
pub use method::{Method, SaltSchool, WaterSchool};
pub use stage::Stage;
pub use stands::Stands;
pub use station::Station;
pub use style::{Style, StyleRange};
pub use vessel::{Made, Vessel};
pub use yeast::{ACTIVE_DRY_AS_INSTANT, FRESH_AS_INSTANT, YEAST_HARMED, YEAST_LIMIT};
