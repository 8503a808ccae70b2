//! Slips: figures that a baker would want to be asked about.
//!
//! Each rule looks at one thing and says what, why and what to do; where one mend is likely it
//! brings the mended formula. Every limit is common practice, without a source; those that are not in a
//! style's own range have a name below. A slip that was answered “I mean it” stays known, but is not
//! said again.

use super::ahead::{goes_in_hot, scald_ratio, soaker_dry};
use super::amounts::{
    butter_early, egg_much, fat_much, gluten_much, line_empty, line_twice, malt_much, ounces_for_grams, salt,
    spice_tenfold, sugar_much,
};
use super::bath::{bath_aluminium, bath_strength, soda_or_lye_in_dough};
use super::fahrenheit::{dough_fahrenheit, oven_celsius_as_fahrenheit, oven_fahrenheit, place_fahrenheit};
use super::free_of::{gluten_in_gluten_free, no_binder, not_free_of};
use super::leaven::{
    dry_yeast_not_bloomed, levain_not_alive, levain_seed_little, nothing_to_bloom_in, preferment_hot,
    prefermented_much, self_raising, spice_slows, sugar_slows, yeast,
};
use super::look::Look;
use super::pieces::{
    no_such_plait, piece_ounces, piece_too_heavy, pieces_do_not_add_up, rise_past_the_dough, strand_size,
};
use super::slip::Slip;
use super::water::{held_back_much, hydration, knocked_down_wet};
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
