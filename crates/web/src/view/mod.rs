//! What the templates show: plain structs of text and figures, worked out from the core's answers.

mod asks;
mod bring;
mod cupboard;
mod dough;
mod oven;
mod page;
mod rail;
mod rise;
mod shape;
mod stations;

pub use asks::Asks;
pub use bring::{BringPage, FoundRow, HouseholdView, ReviewRow, stage_picks};
pub use cupboard::{CupboardPage, OwnFigure, OwnPage, ShelfGroup, ShelfRow};
pub use dough::{DoughPage, ReadingRow};
pub use oven::OvenOut;
pub use page::{
    Entry, ErrorPage, FormulaPage, FormulasPage, Fragments, KitchenPage, LineView, Lines, MakeUpRow, MakeUps,
    Pick, Sought, StageView, VersionRow, VersionsPage, picks,
};
pub use rail::{Rail, Station, Stop};
pub use rise::{RiseOut, RiseRow};
pub use shape::ShapeOut;
pub use stations::{
    DayOut, DayRow, Fact, FormulaOut, MixOut, PhaseRow, School, Sheet, SheetStage, SwapShown, Tried, day_rows,
};
