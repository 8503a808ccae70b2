//! The further make-ups of a dough: each as a dough of its own from where it is divided, with its pan, its finish and
//! its bake.

use super::pieces::in_its_pan;
use super::tasks::TOGETHER;
use super::{InKitchen, MakeUpAnswer};
use crate::fault::Faults;
use crate::finish::Pieces;
use crate::formula::{Formula, Line};
use crate::oven::{BakeOutput, HotSide};
use crate::rise::RiseOutput;
use crate::units::{Grams, Minutes};
use crate::words::{Kind, Style, Vessel};

/// The further make-ups, which come from the same dough: how many pieces of which shape, and what they weigh.
pub(super) fn beside(formula: &Formula) -> Vec<(u32, Kind, Grams)> {
    formula.makeups.iter().map(|m| (m.shape.pieces, m.shape.kind, m.weight())).collect()
}

/// Whether it takes the whole oven.
pub(super) fn bakes_alone(vessel: Vessel) -> bool {
    matches!(vessel, Vessel::Pot | Vessel::Stone)
}

/// How the pieces of a further make-up are baked, in a dough of this style: rolls of a soft dough as rolls, a plait
/// as a plait, whatever else comes of it.
fn style_of(kind: Kind, dough: Style) -> Style {
    match (kind, dough) {
        (kind, Style::Tin | Style::Braid) if kind.is_small() => Style::SoftRoll,
        (kind, Style::Tin | Style::SoftRoll) if kind.is_plaited() => Style::Braid,
        (Kind::Tin | Kind::Spirals | Kind::Swirl, Style::Braid | Style::SoftRoll) => Style::Tin,
        (_, style) => style,
    }
}

impl InKitchen<'_> {
    /// The further make-ups, each with its pieces and its bake: beside the main ones at their setting where it
    /// comes out well there.
    pub(super) fn makeups(&self, rise: &RiseOutput, main: &BakeOutput) -> Result<Vec<MakeUpAnswer>, Faults> {
        (0..self.formula.makeups.len()).map(|n| self.makeup(n, rise, main)).collect()
    }

    fn makeup(&self, n: usize, rise: &RiseOutput, main: &BakeOutput) -> Result<MakeUpAnswer, Faults> {
        let mut formula = self.formula.part(n);
        in_its_pan(&mut formula, self.kitchen);
        formula.style = style_of(formula.shape.kind, self.formula.style);
        let mut beside = beside(self.formula);
        beside.remove(n);
        beside.push((self.formula.shape.pieces, self.formula.shape.kind, self.main_dough()));
        let part = InKitchen {
            formula: &formula,
            kitchen: self.kitchen,
            catalogue: self.catalogue,
            figures: self.figures.clone(),
            begins: self.begins,
            part: Some(n as u32),
            beside,
            known: self.known,
        };
        let shape = part.shape(Some(rise))?;
        let tray = part.tray(&shape)?;
        let trays = tray.as_ref().map_or(1, |t| t.layout.trays.max(1));
        let mut input = part.bake_input(rise, &shape, trays);
        let own = self.named("oven", self.baked(&input))?;
        let near = (own.temperature - main.temperature).0.abs() <= TOGETHER;
        let shares = !bakes_alone(formula.oven.vessel)
            && !bakes_alone(self.formula.oven.vessel)
            && formula.oven.air().suits(self.formula.oven.air());
        input.oven.temperature = Some(main.temperature);
        let shared = self.named("oven", self.baked(&input))?;
        let together = shares && (near || shared.comes_out_well());
        let mut baked = if together { shared } else { own };
        if trays == 1 && self.kitchen.oven_hot == HotSide::Even {
            baked.turn = None;
        }
        let work = part.piece_work(rise, &shape, &baked, tray)?;
        let oven = formula.oven;
        Ok(MakeUpAnswer { shape, bake: baked, work, oven, together })
    }

    /// Minutes that dividing and shaping the further make-ups take.
    pub(super) fn makeups_shaping(&self) -> Result<Minutes, Faults> {
        let minutes = |n: usize| -> Result<Minutes, Faults> {
            let makeup = &self.formula.makeups[n];
            let cut = self.divide(makeup.weight(), makeup.shape.clone(), None)?;
            Ok(cut.divide + cut.shape)
        };
        (0..self.formula.makeups.len()).map(minutes).sum()
    }

    /// What of a line goes on these pieces: all of it, or of what goes on all pieces their share by weight.
    pub(super) fn share_of(&self, line: &Line) -> Grams {
        if line.on != Pieces::All || self.beside.is_empty() {
            return line.grams;
        }
        let others: Grams = self.beside.iter().map(|(_, _, grams)| *grams).sum();
        let own = self.main_dough();
        line.grams * (own.0 / (own + others).0.max(1.0))
    }

    /// The other pieces of the same dough, which stay without a line.
    pub(super) fn without(&self, line: &Line) -> Vec<(u32, Kind)> {
        let others = self.beside.iter().filter(|_| line.on != Pieces::All);
        others.map(|(pieces, kind, _)| (*pieces, *kind)).collect()
    }
}
