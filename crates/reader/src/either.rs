//! What would do as well, and the same amount said twice: “butter or margarine”, “3 cups/375 g flour”.

use winnow::prelude::*;

use crate::name::Names;
use crate::quantity::{amount, begins_with_amount};

/// The name without the same amount said again: `/375 g all-purpose flour`.
pub(crate) fn without_slashed(rest: &str) -> &str {
    let Some(mut after) = rest.trim_start().strip_prefix('/') else { return rest };
    after = after.trim_start();
    let mut name = after;
    match amount.parse_next(&mut name) {
        Ok(_) => name,
        Err(_) => after,
    }
}

/// Of “butter or margarine” the first; of “white or brown sugar”, whose first is no name by itself, all of it
/// with a doubt.
pub(crate) fn first_of_two<'a>(name: &'a str, names: &Names) -> (&'a str, Option<String>) {
    let plain = name.split(['(', ',', ';']).next().unwrap_or(name);
    let Some(at) = plain.find(" or ") else { return (name, None) };
    let (first, other) = (&plain[..at], &plain[at + 4..]);
    if names.find(other).candidates.is_empty() {
        return (name, None);
    }
    match names.find(first).candidates.is_empty() {
        false => (first, None),
        true => (name, Some(format!("It says “{}”. Which is meant?", plain.trim()))),
    }
}

/// The name without what would do as well: “fresh yeast or 1 sachet instant yeast”.
pub(crate) fn without_alternative(name: &str) -> &str {
    name.match_indices(" or ")
        .find(|(at, or)| begins_with_amount(&name[at + or.len()..]))
        .map_or(name, |(at, _)| name[..at].trim_end_matches([',', ' ']))
}
