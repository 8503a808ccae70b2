//! What matters: how many minutes a degree, a pinch of yeast or of salt moves this rise.

use schemars::JsonSchema;
use serde::Serialize;

use super::course::RiseInput;
use super::inverse::Which;
use super::model::HORIZON;
use super::rates::OSM_REF;
use crate::fault::Faults;
use crate::units::{Celsius, DEGREES, Minutes, Percent};

/// One thing that moves a rise.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Matter {
    /// What is changed, and by how much: “Dough 1 °C warmer”.
    pub change: String,
    /// How much longer the rise takes with it; below zero how much less long.
    pub moves: Minutes,
}

/// Works out what a small change of each thing does to one rise, the strongest first. Nothing where
/// the rise has no target to wait for.
///
/// # Errors
/// A figure outside its range, by its path.
pub fn matters(input: &RiseInput, which: Which) -> Result<Vec<Matter>, Faults> {
    input.check()?;
    let stretch = input.stretch(which);
    if stretch.target <= 1.0 || stretch.hours.is_some() {
        return Ok(Vec::new());
    }
    let minutes = |rise: &RiseInput| 60.0 * rise.hours_of(which, HORIZON);
    let now = minutes(input);
    let mut all = Vec::new();
    let mut with = |change: &str, make: &dyn Fn(&mut RiseInput)| {
        let mut other = input.clone();
        make(&mut other);
        all.push(Matter { change: change.into(), moves: Minutes(minutes(&other) - now) });
    };
    with(&format!("Dough 1 {DEGREES} warmer"), &|r| r.start = Celsius((r.start.0 + 1.0).min(60.0)));
    with(&format!("Place 1 {DEGREES} warmer"), &|r| {
        let stretch = r.stretch_mut(which);
        stretch.places.iter_mut().for_each(|p| p.temperature = Celsius((p.temperature.0 + 1.0).min(60.0)));
    });
    if input.dough.instant_yeast.0 > 0.0 {
        with("0.1 % more yeast", &|r| r.dough.instant_yeast += Percent(0.1));
    }
    if input.dough.culture.0 > 0.0 {
        with("1 % more flour prefermented", &|r| {
            r.dough.culture = Percent((r.dough.culture.0 + 1.0).min(100.0));
        });
    }
    with("1 % more salt", &|r| {
        let osmol = OSM_REF * 0.65 / 2.0;
        r.dough.osmolality = (r.dough.osmolality + osmol / (r.dough.water.0 / 100.0).max(0.1)).min(100.0);
        r.dough.salt += Percent(1.0);
    });
    all.sort_by(|a, b| b.moves.0.abs().total_cmp(&a.moves.0.abs()));
    Ok(all)
}
