//! Liquids, eggs, fats and sweeteners for their like.

use super::work::{Work, impossible};
use crate::fault::Fault;
use crate::formula::Line;
use crate::formula::scale::pour;
use crate::pantry::{Group, Ingredient};
use crate::units::Grams;
use crate::words::Stage;

impl Work<'_> {
    pub(super) fn liquid(&mut self, from: &str, to: &str) -> Result<(), Fault> {
        let (a, b) = (self.get(from, "from")?.clone(), self.get(to, "to")?.clone());
        let fits = |i: &Ingredient| matches!(i.group, Group::Liquid | Group::Dairy);
        if !fits(&a) || !fits(&b) || a.key == b.key {
            return Err(impossible("to", "Pick another drink or milk."));
        }
        self.there(from)?;
        if b.per_100g.water < 20.0 {
            return self.milk_to_powder(&a, &b);
        }
        if a.per_100g.water < 20.0 {
            return self.powder_to_milk(&a, &b);
        }
        self.replace(from, to, a.per_100g.water / b.per_100g.water);
        if b.per_100g.ash > a.per_100g.ash && matches!(to, "buttermilk" | "yoghurt" | "kefir") {
            self.notes.push("It is sour: the crumb gets softer and the rise a little slower.".into());
        }
        Ok(())
    }

    /// Milk becomes its dry matter as powder, and water.
    pub(super) fn milk_to_powder(&mut self, milk: &Ingredient, powder: &Ingredient) -> Result<(), Fault> {
        let solids = |i: &Ingredient| i.per_100g.protein + i.per_100g.sugars;
        let ratio = solids(milk) / solids(powder);
        let milk_water: f64 = self.there(&milk.key)? * milk.per_100g.water / 100.0;
        self.replace(&milk.key, &powder.key, ratio);
        let at = self.f.lines.iter().take_while(|l| l.stage <= Stage::Dough).count();
        if !self.f.lines.iter().any(|l| l.ingredient == "water" && l.stage == Stage::Dough) {
            self.f.lines.insert(at, Line::new("water", Stage::Dough, Grams(0.0)));
        }
        pour(&mut self.f, milk_water, self.c)?;
        self.notes.push("The powder goes in with the flour.".into());
        Ok(())
    }

    /// Powder and its water become milk.
    pub(super) fn powder_to_milk(&mut self, powder: &Ingredient, milk: &Ingredient) -> Result<(), Fault> {
        let solids = |i: &Ingredient| i.per_100g.protein + i.per_100g.sugars;
        if solids(milk) <= 0.5 {
            return Err(impossible("to", "That has not the solids of milk. Pick a milk or a plant drink."));
        }
        let ratio = solids(powder) / solids(milk);
        let water = self.there(&powder.key)? * ratio * milk.per_100g.water / 100.0;
        self.replace(&powder.key, &milk.key, ratio);
        pour(&mut self.f, -water, self.c)?;
        self.f.lines.retain(|l| l.ingredient != "water" || l.grams.0 > 1e-9);
        Ok(())
    }

    pub(super) fn egg_free(&mut self) -> Result<(), Fault> {
        let c = self.c;
        let is_egg =
            |l: &Line| l.stage.in_dough() && c.get(&l.ingredient).is_some_and(|i| i.group == Group::Egg);
        let (mut water, mut fat, mut all) = (0.0, 0.0, 0.0);
        for l in self.f.lines.iter().filter(|l| is_egg(l)) {
            let Some(i) = c.get(&l.ingredient) else { continue };
            all += l.grams.0;
            water += l.grams.0 * i.per_100g.water / 100.0;
            fat += l.grams.0 * i.per_100g.fat / 100.0;
        }
        if all == 0.0 {
            return Err(impossible("from", "There is no egg in the dough."));
        }
        self.f.lines.retain(|l| !is_egg(l));
        let at = self.f.lines.iter().take_while(|l| l.stage <= Stage::Dough).count();
        self.f.lines.insert(at, Line::new("vegetable-oil", Stage::Dough, Grams(fat)));
        self.f.lines.insert(at, Line::new("water", Stage::Dough, Grams(water)));
        self.notes.push(
            "The crumb is paler and a little less light; a pinch of turmeric brings the yellow back.".into(),
        );
        if self
            .f
            .lines
            .iter()
            .any(|l| !l.stage.in_dough() && c.get(&l.ingredient).is_some_and(|i| i.group == Group::Egg))
        {
            self.notes.push("There is egg in the wash still.".into());
        }
        Ok(())
    }

    /// One ingredient for another of its shelf, by what it is there for.
    pub(super) fn alike(
        &mut self,
        from: &str,
        to: &str,
        group: Group,
        by: fn(&Ingredient) -> f64,
    ) -> Result<(), Fault> {
        let (a, b) = (self.get(from, "from")?.clone(), self.get(to, "to")?.clone());
        if a.group != group || b.group != group || a.key == b.key || by(&a) <= 0.0 || by(&b) <= 0.0 {
            return Err(impossible("to", "Pick another one of the same shelf."));
        }
        self.there(from)?;
        self.replace(from, to, by(&a) / by(&b));
        if group == Group::Fat && b.per_100g.water < 1.0 && a.per_100g.water > 5.0 {
            for l in self.f.lines.iter_mut().filter(|l| l.stage == Stage::LateButter && l.ingredient == to) {
                // Oil has no need to be worked in late; it goes in with the liquid.
                if to.ends_with("-oil") {
                    l.stage = Stage::Dough;
                }
            }
            self.notes.push("Oil makes a softer crumb that keeps; butter tastes of butter.".into());
        }
        if matches!(to, "honey" | "molasses" | "golden-syrup" | "maple-syrup" | "malt-syrup" | "date-syrup") {
            self.notes.push("Syrup colours the crust sooner: the Oven station has it.".into());
        }
        Ok(())
    }

    pub(super) fn wash_egg_free(&mut self, to: &str) -> Result<(), Fault> {
        let new = self.get(to, "to")?.clone();
        if new.has_allergen("egg") {
            return Err(impossible("to", "That has egg in it. Pick a milk, a plant drink or an oil."));
        }
        let c = self.c;
        let mut found = false;
        for l in self
            .f
            .lines
            .iter_mut()
            .filter(|l| matches!(l.stage, Stage::Wash | Stage::SecondWash | Stage::Glaze))
        {
            if c.get(&l.ingredient).is_some_and(|i| i.group == Group::Egg) {
                l.ingredient = to.into();
                found = true;
            }
        }
        if !found {
            return Err(impossible("from", "There is no egg in the wash."));
        }
        self.notes.push("It shines less than egg. Brush again while the bread is hot.".into());
        Ok(())
    }
}
