//! What the rules look at.

use crate::formula::{Figures, Formula, Line, known};
use crate::pantry::{Catalogue, Ingredient};
use crate::units::{Grams, shown};
use crate::words::Stage;

/// What the rules look at.
pub(super) struct Look<'a> {
    pub(super) f: &'a Formula,
    pub(super) k: &'a Figures,
    pub(super) c: &'a Catalogue,
}

impl Look<'_> {
    pub(super) fn lines(&self) -> impl Iterator<Item = (&Line, &Ingredient)> {
        known(self.f, self.c)
    }

    pub(super) fn stage(&self, stage: Stage) -> impl Iterator<Item = (&Line, &Ingredient)> {
        self.lines().filter(move |(l, _)| l.stage == stage)
    }

    /// Grams of what fits, in the dough.
    pub(super) fn sum(&self, fits: impl Fn(&Line, &Ingredient) -> bool) -> f64 {
        self.lines().filter(|(l, i)| l.stage.in_dough() && fits(l, i)).map(|(l, _)| l.grams.0).sum()
    }

    /// Per cent of flour of an ingredient of the dough.
    pub(super) fn percent(&self, key: &str) -> f64 {
        Grams(self.sum(|_, i| i.kin() == key)).percent_of(self.k.flour).0
    }

    /// Water that the grain and seeds of a soaker hold, per cent of flour: their own weight at most (common practice, no
    /// source). It makes no dough slack.
    pub(super) fn soaked_up(&self) -> f64 {
        let soaker = || self.stage(Stage::Soaker);
        let dry: f64 =
            soaker().filter(|(_, i)| i.flour == 0.0 && i.per_100g.water < 20.0).map(|(l, _)| l.grams.0).sum();
        let wet: f64 = soaker().map(|(l, i)| l.grams.0 * i.free_water() / 100.0).sum();
        Grams(dry.min(wet)).percent_of(self.k.flour).0
    }

    pub(super) fn flour(&self) -> f64 {
        self.k.flour.0
    }
}

/// Multiplies what fits.
pub(super) fn times(f: &mut Formula, factor: f64, fits: impl Fn(&Line) -> bool) {
    f.lines.iter_mut().filter(|l| fits(l)).for_each(|l| l.grams = l.grams * factor);
}

/// Sets an ingredient of the dough to so many grams, on a new line where there is none.
pub(super) fn set(f: &mut Formula, key: &str, grams: f64) {
    match f.lines.iter_mut().find(|l| l.ingredient == key && l.stage.in_dough()) {
        Some(line) => line.grams = Grams(grams),
        None => {
            let at = f.lines.iter().take_while(|l| l.stage <= Stage::Dough).count();
            f.lines.insert(at, Line::new(key, Stage::Dough, Grams(grams)));
        }
    }
}

pub(super) fn g(x: f64) -> String {
    format!("{} g", shown::grams(Grams(x)))
}

/// A part of one in words: a third, a fifth.
pub(super) fn part_word(x: f64) -> &'static str {
    match (1.0 / x.max(0.05)).round() as u32 {
        0..=2 => "a half",
        3 => "a third",
        4 => "a quarter",
        5 => "a fifth",
        6..=7 => "a sixth",
        8..=9 => "an eighth",
        _ => "a tenth or less",
    }
}
