//! Figures and words as every page shows them.

mod fact;
mod here;
mod makeups;
mod pick;
mod said;

pub use fact::{Fact, PhaseRow, fact};
pub use here::Here;
pub use makeups::makeup_rows;
pub use pick::{Pick, days, equipment, picks, picks_of};
pub use said::said;

use cerealis_core::formula::Figures;
use cerealis_core::rise::Which;
use cerealis_core::units::{Celsius, Minutes, Percent, shown};
use jiff::ZonedDateTime;

/// `25 °C`. What goes out is turned into the household's notation as a whole.
pub fn celsius(t: Celsius) -> String {
    format!("{:.0}\u{a0}°C", t.0)
}

/// A unit as it is said at a field: degrees of a difference are degrees.
pub fn sign(unit: &str) -> &str {
    if unit == "K" { "°C" } else { unit }
}

/// A time of day: `14:15`.
pub fn clock(z: &ZonedDateTime) -> String {
    z.strftime("%H:%M").to_string()
}

/// A day: `Sat 21 Nov`.
pub fn day(z: &ZonedDateTime) -> String {
    z.strftime("%a %-d %b").to_string()
}

/// `likely 1 h 20 to 1 h 55`.
pub fn likely(early: Minutes, late: Minutes) -> String {
    format!("likely {} to {}", shown::time(early), shown::time(late))
}

/// Which rise a page's words are about.
pub fn rise_word(which: Which) -> &'static str {
    match which {
        Which::Bulk => "bulk rise",
        Which::Second => "second rise",
        Which::Proof => "final proof",
    }
}

/// How wet the dough is as it is said large, by all that is wet, and what that is called where the water alone
/// comes to another figure.
pub fn hydration(k: &Figures) -> (&'static str, Percent) {
    let alike = (k.hydration.0 - k.effective_hydration.0).abs() <= 1.0;
    (if alike { "hydration" } else { "water in all" }, k.effective_hydration)
}
