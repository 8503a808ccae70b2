//! What the doubts of the lines come to: how wet the dough may be.

use schemars::JsonSchema;
use serde::Serialize;

use crate::lines::{LineKind, ReadLine};
use cerealis_core::pantry::Catalogue;
use cerealis_core::units::Percent;

/// The effective hydration between its ends, and what to weigh to know it better.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct HydrationDoubt {
    /// With all flours at their high end and all liquids at their low end.
    pub low: Percent,
    /// The other way round.
    pub high: Percent,
    /// The line, by its place among all lines, that brings the most doubt; none where all is weighed.
    pub weigh: Option<usize>,
}

/// Works out the doubt of the hydration; `None` where no flour was read.
pub fn hydration_doubt(lines: &[ReadLine], catalogue: &Catalogue) -> Option<HydrationDoubt> {
    let parts: Vec<(usize, f64, f64, f64, f64)> = lines
        .iter()
        .enumerate()
        .filter(|(_, l)| l.kind == LineKind::Ingredient && l.stage.in_dough())
        .filter_map(|(n, l)| {
            let i = catalogue.get(l.ingredient.as_deref()?)?;
            Some((n, l.low?.0, l.high?.0, i.flour, i.free_water() / 100.0))
        })
        .collect();
    let sum = |of: fn(&(usize, f64, f64, f64, f64)) -> f64| parts.iter().map(of).sum::<f64>();
    let (flour_low, flour_high) = (sum(|p| p.1 * p.3), sum(|p| p.2 * p.3));
    let (water_low, water_high) = (sum(|p| p.1 * p.4), sum(|p| p.2 * p.4));
    if flour_low <= 0.0 {
        return None;
    }
    let (flour, water) = (0.5 * (flour_low + flour_high), 0.5 * (water_low + water_high));
    // A line's share of the doubt: what its own spread moves the quotient by.
    let moves = |p: &(usize, f64, f64, f64, f64)| (p.2 - p.1) * (p.4 / flour + p.3 * water / (flour * flour));
    let most = parts.iter().max_by(|a, b| moves(a).total_cmp(&moves(b)));
    Some(HydrationDoubt {
        low: Percent(100.0 * water_low / flour_high),
        high: Percent(100.0 * water_high / flour_low),
        weigh: most.filter(|p| moves(p) > 0.005).map(|p| p.0),
    })
}
