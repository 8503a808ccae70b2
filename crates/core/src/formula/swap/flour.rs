//! Flour for flour, without gluten, or scalded.

use super::work::{Work, impossible};
use crate::fault::{Fault, Faults};
use crate::formula::scale::pour;
use crate::formula::{Formula, Line, ScaleTo, figures, known, scale_to};
use crate::pantry::{Group, Ingredient};
use crate::units::{Grams, Percent, shown};
use crate::words::{Stage, Style};

impl Work<'_> {
    pub(super) fn flour(&mut self, from: &str, to: &str, percent: Percent) -> Result<(), Fault> {
        if !(1.0..=100.0).contains(&percent.0) {
            return Err(impossible("percent", "Enter 1 to 100 % of that flour."));
        }
        let (a, b) = (self.get(from, "from")?.clone(), self.get(to, "to")?.clone());
        if a.group != Group::Flour || b.group != Group::Flour || a.key == b.key {
            return Err(impossible("to", "Pick another flour."));
        }
        self.there(from)?;
        let part = percent.0 / 100.0;
        let mut moved = 0.0;
        for n in (0..self.f.lines.len()).rev() {
            let l = &mut self.f.lines[n];
            if l.ingredient != from || !l.stage.in_dough() {
                continue;
            }
            let new = l.grams * part;
            moved += new.0;
            let line = Line::new(to, l.stage, new);
            l.grams = l.grams - new;
            self.f.lines.insert(n + 1, line);
        }
        self.f.lines.retain(|l| l.ingredient != from || l.grams.0 > 1e-9);
        let drinks = |i: &Ingredient| i.absorption.unwrap_or(60.0);
        let water = moved * (drinks(&b) - drinks(&a)) / 100.0;
        let (name, change) = pour(&mut self.f, water, self.c)?;
        if change.0.abs() >= 0.5 {
            let word = if change.0 > 0.0 { "more" } else { "less" };
            let than = if change.0 > 0.0 { "drinks more than" } else { "drinks less than" };
            self.notes.push(format!(
                "{} {than} {}: {} g {word} {name}.",
                b.name,
                a.name.to_lowercase(),
                shown::grams(Grams(change.0.abs()))
            ));
        }
        if b.hold < a.hold {
            self.notes.push("It holds less gas. Let it rise less far: see the Rise station.".into());
        }
        if a.has_allergen("gluten") && !b.has_allergen("gluten") {
            self.notes.push("It has no gluten. Over a fifth of it the dough needs a binder.".into());
        }
        Ok(())
    }

    pub(super) fn scald(&mut self, percent: Percent, times: f64) -> Result<(), Fault> {
        if !(2.0..=15.0).contains(&percent.0) {
            return Err(impossible("percent", "Enter 2 to 15 % of the flour."));
        }
        if !(3.0..=5.0).contains(&times) {
            return Err(impossible("times", "Enter 3 to 5 times its flour in water."));
        }
        if self.f.lines.iter().any(|l| l.stage == Stage::Scald) {
            return Err(impossible("from", "There is a scald in it already."));
        }
        let grams = percent.of(figures(&self.f, self.c).flour);
        let c = self.c;
        let chief = self
            .f
            .lines
            .iter_mut()
            .filter(|l| {
                l.stage == Stage::Dough && c.get(&l.ingredient).is_some_and(|i| i.group == Group::Flour)
            })
            .max_by(|a, b| a.grams.0.total_cmp(&b.grams.0))
            .filter(|l| l.grams.0 > grams.0)
            .ok_or_else(|| impossible("percent", "The dough has not that much flour to cook."))?;
        chief.grams = chief.grams - grams;
        let key = chief.ingredient.clone();
        pour(&mut self.f, -grams.0 * times, c)?;
        let water = Grams(grams.0 * times);
        self.f.lines.insert(0, Line::new("water", Stage::Scald, water));
        self.f.lines.insert(0, Line::new(key, Stage::Scald, grams));
        self.notes.push("The cooked flour holds its water: the dough feels drier at first and the bread stays soft for days.".into());
        Ok(())
    }

    /// The template of the style, on the same flour, with the salt, fat, sugar, seeds and fruit
    /// that have no gluten.
    pub(super) fn gluten_free(&mut self) -> Result<(), Faults> {
        if self.f.style == Style::GlutenFree {
            return Err(impossible("from", "This is a gluten-free formula already.").into());
        }
        let flour = figures(&self.f, self.c).flour;
        let template = Formula::beginning(&self.f.name, Style::GlutenFree);
        let mut new = scale_to(&template, &ScaleTo::Flour { grams: flour }, self.c)?.formula;
        let kept = |l: &Line, i: &Ingredient| {
            !i.has_allergen("gluten")
                && match i.group {
                    Group::Salt
                    | Group::Fat
                    | Group::Sugar
                    | Group::Seed
                    | Group::Nut
                    | Group::Fruit
                    | Group::Spice => true,
                    _ => !l.stage.in_dough(),
                }
        };
        let own: Vec<Line> =
            known(&self.f, self.c).filter(|(l, i)| kept(l, i)).map(|(l, _)| l.clone()).collect();
        let has = |group: Group| {
            own.iter()
                .any(|l| l.stage.in_dough() && self.c.get(&l.ingredient).is_some_and(|i| i.group == group))
        };
        for group in [Group::Salt, Group::Fat] {
            if has(group) {
                new.lines.retain(|l| self.c.get(&l.ingredient).is_none_or(|i| i.group != group));
            }
        }
        new.lines.extend(own);
        for l in &mut new.lines {
            // A batter is beaten in one go.
            if matches!(l.stage, Stage::LateButter | Stage::HeldBack) || l.stage.is_ahead() {
                l.stage = Stage::Dough;
            }
        }
        let f = &self.f;
        self.f = Formula {
            author: f.author.clone(),
            tags: f.tags.clone(),
            notes: f.notes.clone(),
            counting: f.counting,
            percent_locked: f.percent_locked,
            day: f.day.clone(),
            ..new
        };
        self.notes.push("Another bread altogether: a batter for a tin, beaten and filled, with one short rise. In a kitchen with wheat flour it is not safe for coeliac disease.".into());
        Ok(())
    }
}
