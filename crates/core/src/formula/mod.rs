//! The formula: what goes into the dough, and what the baker wants of each station.
//!
//! Grams are the truth and baker's percentages follow from them. Key figures count the flour of
//! every stage, culture and preferment included; the percentages of the lines follow the school
//! of the formula or the kitchen ([`Counting`](crate::words::Counting)).

mod beginning;
mod changes;
mod cost;
mod difference;
mod document;
mod edit;
mod figures;
mod line;
mod meant;
mod nutrition;
mod preferment;
mod ready_by;
mod scale;
mod slips;
mod swap;

pub use beginning::beginning;
pub use changes::{LineChange, changes};
pub use cost::{Cost, cost};
pub use difference::{REASON_MAX, difference};
pub use document::{Formula, NAME_MAX, NOTES_MAX, SAID_MAX, SAIDS_MAX, Said, TAGS_MAX, Uses};
pub use edit::{percent, set_grams, set_percent};
pub use figures::{Figures, counted_flour, figures, flour, known};
pub use line::{
    AheadWish, BUILDS, FERMENTS_AT, KEPT_BACK, LINE, LINE_GRAMS_MAX, LINE_NOTE_MAX, LINES_MAX, LevainWish,
    Line, MAKEUPS_MAX, MakeUp, STANDS, STANDS_AT, WARMEST, WARMEST_PREFERMENT,
};
pub use nutrition::{Nutrition, nutrition};
pub use preferment::{Build, PrefermentSize, builds, size_preferment};
pub use ready_by::{levain_share, levers, pull, yeast_factor};
pub use scale::{Have, PanCount, ScaleTo, Scaled, round_for, scale, scale_to, usual_fill, whole_eggs};
pub use slips::{Mend, Slip, Strength, slips};
pub(crate) use slips::{mark_meant, slip};
pub use swap::{Offer, Swap, SwapInput, Swapped, offers, swap};
