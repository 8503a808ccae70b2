//! Slips: figures that a baker would want to be asked about.
//!
//! Each rule looks at one thing and says what, why and what to do; where one mend is likely it
//! brings the mended formula. Every limit is common practice, without a source; those that are not in a
//! style's own range have a name below. A slip that was answered “I mean it” stays known, but is not
//! said again.

use super::ahead::goes_in_hot;
use super::ahead::scald_ratio;
use super::ahead::soaker_dry;
use super::amounts::butter_early;
use super::amounts::egg_much;
use super::amounts::fat_much;
use super::amounts::gluten_much;
use super::amounts::line_empty;
use super::amounts::line_twice;
use super::amounts::malt_much;
use super::amounts::ounces_for_grams;
use super::amounts::salt;
use super::amounts::spice_tenfold;
use super::amounts::sugar_much;
use super::bath::bath_aluminium;
use super::bath::bath_strength;
use super::bath::soda_or_lye_in_dough;
use super::fahrenheit::dough_fahrenheit;
use super::fahrenheit::oven_celsius_as_fahrenheit;
use super::fahrenheit::oven_fahrenheit;
use super::fahrenheit::place_fahrenheit;
use super::free_of::gluten_in_gluten_free;
use super::free_of::no_binder;
use super::free_of::not_free_of;
use super::leaven::dry_yeast_not_bloomed;
use super::leaven::levain_not_alive;
use super::leaven::levain_seed_little;
use super::leaven::nothing_to_bloom_in;
use super::leaven::preferment_hot;
use super::leaven::prefermented_much;
use super::leaven::self_raising;
use super::leaven::spice_slows;
use super::leaven::sugar_slows;
use super::leaven::yeast;
use super::look::Look;
use super::pieces::no_such_plait;
use super::pieces::piece_ounces;
use super::pieces::piece_too_heavy;
use super::pieces::pieces_do_not_add_up;
use super::pieces::rise_past_the_dough;
use super::pieces::strand_size;
use super::slip::Slip;
use super::water::held_back_much;
use super::water::hydration;
use super::water::knocked_down_wet;
use crate::formula::{Figures, Formula};
use crate::pantry::Catalogue;

type Rule = fn(&Look) -> Option<Slip>;

/// The rules, in the order in which a baker would check.
const RULES: [Rule; 43] = [
    ounces_for_grams,
    salt,
    yeast,
    levain_not_alive,
    hydration,
    line_empty,
    line_twice,
    self_raising,
    nothing_to_bloom_in,
    sugar_slows,
    spice_slows,
    butter_early,
    malt_much,
    gluten_much,
    prefermented_much,
    scald_ratio,
    soaker_dry,
    goes_in_hot,
    held_back_much,
    gluten_in_gluten_free,
    no_binder,
    not_free_of,
    soda_or_lye_in_dough,
    oven_fahrenheit,
    oven_celsius_as_fahrenheit,
    dough_fahrenheit,
    place_fahrenheit,
    piece_ounces,
    pieces_do_not_add_up,
    bath_aluminium,
    bath_strength,
    knocked_down_wet,
    rise_past_the_dough,
    strand_size,
    fat_much,
    sugar_much,
    spice_tenfold,
    preferment_hot,
    dry_yeast_not_bloomed,
    no_such_plait,
    egg_much,
    levain_seed_little,
    piece_too_heavy,
];

/// Everything that looks like a slip, those that were meant included.
pub fn slips(formula: &Formula, figures: &Figures, catalogue: &Catalogue) -> Vec<Slip> {
    let look = Look { f: formula, k: figures, c: catalogue };
    let mut found: Vec<Slip> = RULES.iter().filter_map(|rule| rule(&look)).collect();
    mark_meant(&mut found, formula);
    found
}

/// Marks those that were answered “I mean it”.
pub(crate) fn mark_meant(slips: &mut [Slip], formula: &Formula) {
    slips.iter_mut().for_each(|s| s.meant = formula.meant.iter().any(|m| m == s.code));
}
