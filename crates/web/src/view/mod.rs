//! What the templates show: plain structs of text and figures, worked out from the core's answers.

mod bring;
mod cupboard;
mod dough;
mod page;

pub use bring::{BringPage, FoundRow, HouseholdView, ReviewRow, stage_picks};
pub use cupboard::{CupboardPage, OwnFigure, OwnPage, ShelfGroup, ShelfRow};
pub use dough::{DoughPage, ReadingRow};
pub use page::{ErrorPage, VersionRow, VersionsPage};
