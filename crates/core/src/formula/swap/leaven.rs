//! Yeast for yeast, for culture, and back.

use super::work::{Work, impossible, merge};
use crate::fault::Fault;
use crate::formula::scale::pour;
use crate::formula::{Line, PrefermentSize, figures, size_preferment};
use crate::pantry::{Group, Ingredient};
use crate::units::{Grams, Percent};
use crate::words::Stage;

impl Work<'_> {
    pub(super) fn yeast(&mut self, to: &str) -> Result<(), Fault> {
        let strength = self.get(to, "to")?.instant_yeast();
        if strength <= 0.0 {
            return Err(impossible("to", "Pick a form of baker's yeast."));
        }
        let mut found = false;
        for l in &mut self.f.lines {
            let was = self.c.get(&l.ingredient).map_or(0.0, Ingredient::instant_yeast);
            if was > 0.0 {
                found = true;
                l.grams = l.grams * (was / strength);
                l.ingredient = to.into();
            }
        }
        if !found {
            return Err(impossible("from", "There is no baker's yeast in this formula."));
        }
        self.notes.push(
            match to {
                "active-dry-yeast" => {
                    "Bloom it in four times its weight of water at 37 to 43 °C for 5 to 10 minutes."
                }
                "fresh-yeast" => "Crumble it into the liquid. It keeps two to three weeks in the fridge.",
                _ => "It goes in dry, with the flour.",
            }
            .into(),
        );
        Ok(())
    }

    pub(super) fn yeast_to_culture(&mut self, percent: Percent) -> Result<(), Fault> {
        if !(5.0..=50.0).contains(&percent.0) {
            return Err(impossible("percent", "Enter 5 to 50 % of the flour for the levain."));
        }
        let is_yeast = |l: &Line| self.c.get(&l.ingredient).is_some_and(|i| i.group == Group::Yeast);
        if !self.f.lines.iter().any(|l| is_yeast(l) && l.grams.0 > 0.0) {
            return Err(impossible("from", "There is no baker's yeast in this formula."));
        }
        let c = self.c;
        self.f.lines.retain(|l| c.get(&l.ingredient).is_none_or(|i| i.group != Group::Yeast));
        // What fermented ahead with yeast goes back into the dough.
        for l in self.f.lines.iter_mut().filter(|l| l.stage.is_preferment() && l.stage != Stage::Preferment) {
            l.stage = Stage::Dough;
        }
        merge(&mut self.f);
        size_preferment(&mut self.f, Stage::Preferment, PrefermentSize::Flour(percent), c)?;
        self.notes.push(
            "Bulk and proof take hours instead of minutes: see the Rise station. Set the levain ahead."
                .into(),
        );
        Ok(())
    }

    pub(super) fn culture_to_yeast(&mut self, percent: Percent) -> Result<(), Fault> {
        if !(0.05..=3.0).contains(&percent.0) {
            return Err(impossible("percent", "Enter 0.05 to 3 % of the flour."));
        }
        let before = figures(&self.f, self.c);
        if before.inoculation.0 == 0.0 {
            return Err(impossible("from", "There is no culture in this formula."));
        }
        // Undone in the order opposite to that in which a levain is taken out of the dough.
        let (mut flour, mut water) = (0.0, 0.0);
        let c = self.c;
        for l in self.f.lines.iter_mut().filter(|l| l.stage.in_dough()) {
            match c.get(&l.ingredient) {
                Some(i) if i.group == Group::Culture => {
                    flour += l.grams.0 * i.flour;
                    water += l.grams.0 * (1.0 - i.flour);
                    l.grams = Grams(0.0);
                }
                _ => {}
            }
        }
        self.f.lines.retain(|l| l.grams.0 > 0.0 || !l.stage.in_dough());
        let is_flour = |l: &Line| {
            l.stage == Stage::Dough && c.get(&l.ingredient).is_some_and(|i| i.group == Group::Flour)
        };
        let all: f64 = self.f.lines.iter().filter(|l| is_flour(l)).map(|l| l.grams.0).sum();
        if all <= 0.0 {
            return Err(impossible("from", "All of the flour is in the levain. Give the dough some first."));
        }
        self.f
            .lines
            .iter_mut()
            .filter(|l| is_flour(l))
            .for_each(|l| l.grams = l.grams * ((all + flour) / all));
        for l in self.f.lines.iter_mut().filter(|l| l.stage == Stage::Preferment) {
            l.stage = Stage::Dough;
        }
        merge(&mut self.f);
        pour(&mut self.f, water, c)?;
        let yeast = percent.of(before.flour);
        let at = self.f.lines.iter().take_while(|l| l.stage <= Stage::Dough).count();
        self.f.lines.insert(at, Line::new("instant-yeast", Stage::Dough, yeast));
        self.notes.push(
            "The bread rises sooner and is milder. A long cool bulk brings some of the taste back.".into(),
        );
        Ok(())
    }
}
