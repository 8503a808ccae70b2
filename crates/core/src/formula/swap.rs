//! Swaps: one thing for another, with everything that follows from it shown before it is accepted.
//!
//! Effective hydration, sugar, fat and salt are kept: what the new ingredient brings too much or
//! too little of is made up from the lines that are there. Only flours move the water on purpose,
//! by what they drink. The proportions are common practice, without a source.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::ScaleTo;
use super::scale::pour;
use super::{Figures, Formula, Line, PrefermentSize, figures, known, scale_to, size_preferment};
use crate::fault::{Fault, Faults};
use crate::pantry::{Catalogue, Group, Ingredient};
use crate::units::{Grams, Percent, shown};
use crate::words::{Stage, Style};

/// A swap with all that it needs to know.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(tag = "kind", rename_all = "kebab-case")]
pub enum Swap {
    /// All baker's yeast to another form of it.
    Yeast {
        /// Key of the form: `instant-yeast`, `active-dry-yeast`, `fresh-yeast`.
        to: String,
    },
    /// Baker's yeast to a levain from a kept culture; the rise is computed anew.
    YeastToCulture {
        /// Flour in the levain, 5 to 50 % of all.
        percent: Percent,
    },
    /// Levain and culture to baker's yeast; their flour and water go back into the dough.
    CultureToYeast {
        /// Instant yeast, 0.05 to 3 % of the flour.
        percent: Percent,
    },
    /// One flour to another, all of it or a part; the water follows what they drink.
    Flour {
        /// Key of the flour that gives way.
        from: String,
        /// Key of the flour that takes its place.
        to: String,
        /// How much of it, 1 to 100 %.
        percent: Percent,
    },
    /// One drink or dairy to another, `dry-milk` with water among them.
    Liquid {
        /// Key of what gives way.
        from: String,
        /// Key of what takes its place.
        to: String,
    },
    /// Eggs to water and oil.
    EggFree,
    /// One fat to another.
    Fat {
        /// Key of the fat that gives way.
        from: String,
        /// Key of the fat that takes its place.
        to: String,
    },
    /// One sugar or syrup to another.
    Sugar {
        /// Key of the sugar that gives way.
        from: String,
        /// Key of what takes its place.
        to: String,
    },
    /// Egg in wash and glaze to a drink.
    WashEggFree {
        /// Key of what is brushed on instead.
        to: String,
    },
    /// A part of the flour is cooked with water of the dough.
    Scald {
        /// How much of the flour, 2 to 15 %.
        percent: Percent,
        /// Water against that flour, 3 to 5.
        times: f64,
    },
    /// Everything with gluten to a gluten-free template of the same flour weight.
    GlutenFree,
}

/// What to swap in a formula.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SwapInput {
    /// The formula.
    pub formula: Formula,
    /// The swap.
    pub swap: Swap,
    /// Whether to keep effective hydration, sugar, fat and salt; they are kept when left out.
    #[serde(default = "yes")]
    pub keep: bool,
}

fn yes() -> bool {
    true
}

/// A line that changed.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct LineChange {
    /// Its stage.
    pub stage: Stage,
    /// Key of its ingredient.
    pub ingredient: String,
    /// What it weighed; 0 for a new line.
    pub before: Grams,
    /// What it weighs; 0 for a line that is gone.
    pub after: Grams,
}

/// A swap done, to be looked at.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Swapped {
    /// The formula as it would be.
    pub formula: Formula,
    /// Lines that changed.
    pub changes: Vec<LineChange>,
    /// Key figures before.
    pub before: Figures,
    /// Key figures after.
    pub after: Figures,
    /// What to know.
    pub notes: Vec<String>,
}

/// Swaps, in a formula that has passed [`Formula::check`].
///
/// # Errors
/// What is to give way is not there, what takes its place does not fit, or the dough has not the
/// water to give.
pub fn swap(input: &SwapInput, catalogue: &Catalogue) -> Result<Swapped, Faults> {
    let mut work = Work { f: input.formula.clone(), c: catalogue, notes: Vec::new() };
    let before = figures(&input.formula, catalogue);
    work.apply(&input.swap, input.keep, &before)?;
    merge(&mut work.f);
    work.f.lines.sort_by_key(|l| l.stage);
    let after = figures(&work.f, catalogue);
    Ok(Swapped {
        changes: changes(&input.formula, &work.f),
        formula: work.f,
        before,
        after,
        notes: work.notes,
    })
}

/// The lines in which two formulas differ, by stage and ingredient.
pub fn changes(a: &Formula, b: &Formula) -> Vec<LineChange> {
    let sum = |f: &Formula, stage: Stage, key: &str| -> Grams {
        f.lines.iter().filter(|l| l.stage == stage && l.ingredient == key).map(|l| l.grams).sum()
    };
    let mut seen: Vec<(Stage, &str)> = Vec::new();
    for line in a.lines.iter().chain(&b.lines) {
        if !seen.contains(&(line.stage, line.ingredient.as_str())) {
            seen.push((line.stage, &line.ingredient));
        }
    }
    seen.sort_by_key(|s| s.0);
    seen.into_iter()
        .map(|(stage, key)| LineChange {
            stage,
            ingredient: key.into(),
            before: sum(a, stage, key),
            after: sum(b, stage, key),
        })
        .filter(|c| (c.before.0 - c.after.0).abs() > 5e-4)
        .collect()
}

struct Work<'a> {
    f: Formula,
    c: &'a Catalogue,
    notes: Vec<String>,
}

fn impossible(path: &str, text: impl Into<String>) -> Fault {
    Fault::new("impossible", path, text)
}

impl Work<'_> {
    fn apply(&mut self, swap: &Swap, keep: bool, before: &Figures) -> Result<(), Faults> {
        match swap {
            Swap::Yeast { to } => self.yeast(to)?,
            Swap::YeastToCulture { percent } => self.yeast_to_culture(*percent)?,
            Swap::CultureToYeast { percent } => self.culture_to_yeast(*percent)?,
            Swap::Flour { from, to, percent } => self.flour(from, to, *percent)?,
            Swap::Liquid { from, to } => {
                self.liquid(from, to)?;
                self.kept(keep, before)?;
            }
            Swap::EggFree => {
                self.egg_free()?;
                self.kept(keep, before)?;
            }
            Swap::Fat { from, to } => {
                self.alike(from, to, Group::Fat, |i| i.per_100g.fat)?;
                self.kept(keep, before)?;
            }
            Swap::Sugar { from, to } => {
                self.alike(from, to, Group::Sugar, |i| i.per_100g.sugars)?;
                self.kept(keep, before)?;
            }
            Swap::WashEggFree { to } => self.wash_egg_free(to)?,
            Swap::Scald { percent, times } => self.scald(*percent, *times)?,
            Swap::GlutenFree => self.gluten_free()?,
        }
        Ok(())
    }

    fn get(&self, key: &str, path: &str) -> Result<&Ingredient, Fault> {
        self.c.get(key).ok_or_else(|| {
            Fault::new(
                "unknown",
                path,
                format!("“{key}” is not in the catalogue. Pick a name from the list."),
            )
        })
    }

    /// Grams of an ingredient in the dough; a fault where there is none.
    fn there(&self, key: &str) -> Result<f64, Fault> {
        let grams: f64 = self
            .f
            .lines
            .iter()
            .filter(|l| l.ingredient == key && l.stage.in_dough())
            .map(|l| l.grams.0)
            .sum();
        if grams > 0.0 { Ok(grams) } else { Err(impossible("from", "That is not in the dough.")) }
    }

    /// Puts `ratio` grams of `to` in the place of each gram of `from`, wherever it is in the dough.
    fn replace(&mut self, from: &str, to: &str, ratio: f64) {
        for l in self.f.lines.iter_mut().filter(|l| l.ingredient == from && l.stage.in_dough()) {
            l.ingredient = to.into();
            l.grams = l.grams * ratio;
        }
    }

    fn yeast(&mut self, to: &str) -> Result<(), Fault> {
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

    fn yeast_to_culture(&mut self, percent: Percent) -> Result<(), Fault> {
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

    fn culture_to_yeast(&mut self, percent: Percent) -> Result<(), Fault> {
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

    fn flour(&mut self, from: &str, to: &str, percent: Percent) -> Result<(), Fault> {
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

    fn liquid(&mut self, from: &str, to: &str) -> Result<(), Fault> {
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
    fn milk_to_powder(&mut self, milk: &Ingredient, powder: &Ingredient) -> Result<(), Fault> {
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
    fn powder_to_milk(&mut self, powder: &Ingredient, milk: &Ingredient) -> Result<(), Fault> {
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

    fn egg_free(&mut self) -> Result<(), Fault> {
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
    fn alike(&mut self, from: &str, to: &str, group: Group, by: fn(&Ingredient) -> f64) -> Result<(), Fault> {
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

    fn wash_egg_free(&mut self, to: &str) -> Result<(), Fault> {
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

    fn scald(&mut self, percent: Percent, times: f64) -> Result<(), Fault> {
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
    fn gluten_free(&mut self) -> Result<(), Faults> {
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

    /// Brings fat, sugar, salt and water back to what they were, from the lines that are there.
    fn kept(&mut self, keep: bool, before: &Figures) -> Result<(), Fault> {
        if !keep {
            return Ok(());
        }
        let salt = |i: &Ingredient| i.per_100g.salt;
        let fat = |i: &Ingredient| i.per_100g.fat;
        let sugar = |i: &Ingredient| i.per_100g.sugars;
        self.make_up("fat", Group::Fat, fat, before.fat.of(before.flour).0, |k| k.fat.of(k.flour).0)?;
        self.make_up("sugar", Group::Sugar, sugar, before.sugar.of(before.flour).0, |k| {
            k.sugar.of(k.flour).0
        })?;
        self.make_up("salt", Group::Salt, salt, before.composition.salt, |k| k.composition.salt)?;
        let k = figures(&self.f, self.c);
        let short = before.effective_hydration.of(before.flour).0 - k.effective_hydration.of(k.flour).0;
        if short.abs() > 1e-9 {
            if short > 0.0 && !self.f.lines.iter().any(|l| l.ingredient == "water" && l.stage == Stage::Dough)
            {
                let at = self.f.lines.iter().take_while(|l| l.stage <= Stage::Dough).count();
                self.f.lines.insert(at, Line::new("water", Stage::Dough, Grams(0.0)));
            }
            pour(&mut self.f, short, self.c)?;
            self.f.lines.retain(|l| l.ingredient != "water" || l.grams.0 > 1e-9);
        }
        Ok(())
    }

    /// Makes up the difference of one thing from the first line of its shelf.
    fn make_up(
        &mut self,
        name: &str,
        group: Group,
        share: fn(&Ingredient) -> f64,
        wanted: f64,
        now: fn(&Figures) -> f64,
    ) -> Result<(), Fault> {
        let k = figures(&self.f, self.c);
        let short = wanted - now(&k);
        if short.abs() < 1e-9 {
            return Ok(());
        }
        let c = self.c;
        let line = self.f.lines.iter_mut().filter(|l| l.stage.in_dough()).find_map(|l| {
            let i = c.get(&l.ingredient).filter(|i| i.group == group && share(i) > 0.0)?;
            Some((l, share(i)))
        });
        match line {
            Some((l, share)) if l.grams.0 + 100.0 * short / share >= 0.0 => {
                l.grams += Grams(100.0 * short / share);
            }
            _ => {
                let percent = Grams(-short).percent_of(k.flour);
                if percent.0.abs() >= 0.3 {
                    let word = if percent.0 > 0.0 { "more" } else { "less" };
                    let figure = shown::percent(Percent(percent.0.abs()));
                    self.notes.push(format!(
                        "There is {figure} % {word} {name} in it; no line is there to make up for it."
                    ));
                }
            }
        }
        Ok(())
    }
}

/// Makes one line of lines of the same stage and ingredient.
fn merge(f: &mut Formula) {
    let mut merged: Vec<Line> = Vec::new();
    for line in f.lines.drain(..) {
        match merged.iter_mut().find(|l| l.stage == line.stage && l.ingredient == line.ingredient) {
            Some(same) => same.grams += line.grams,
            None => merged.push(line),
        }
    }
    f.lines = merged;
}

/// A swap that this formula offers.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Offer {
    /// The swap, with its usual figures.
    pub swap: Swap,
    /// What it is called: “Butter to oil”.
    pub name: String,
}

/// The swaps that make sense for a formula, the likeliest first.
pub fn offers(formula: &Formula, catalogue: &Catalogue) -> Vec<Offer> {
    let mut all = Vec::new();
    let has = |key: &str| {
        formula.lines.iter().any(|l| l.ingredient == key && l.stage.in_dough() && l.grams.0 > 0.0)
    };
    let name_of = |key: &str| catalogue.get(key).map_or(key.to_owned(), |i| i.name.clone());
    let mut offer = |swap: Swap, name: String| all.push(Offer { swap, name });
    let k = figures(formula, catalogue);
    let forms = ["instant-yeast", "active-dry-yeast", "fresh-yeast"];
    if let Some(now) = forms.into_iter().find(|y| has(y)) {
        for to in forms.into_iter().filter(|y| *y != now) {
            offer(
                Swap::Yeast { to: to.into() },
                format!("{} to {}", name_of(now), name_of(to).to_lowercase()),
            );
        }
        if formula.style != Style::GlutenFree && k.inoculation.0 == 0.0 {
            offer(Swap::YeastToCulture { percent: Percent(15.0) }, "Baker's yeast to a levain".into());
        }
    }
    if k.inoculation.0 > 0.0 {
        offer(Swap::CultureToYeast { percent: Percent(0.8) }, "Levain to baker's yeast".into());
    }
    let mut flours: Vec<(&Line, &Ingredient)> = known(formula, catalogue)
        .filter(|(l, i)| l.stage == Stage::Dough && i.group == Group::Flour && l.grams.0 > 0.0)
        .collect();
    flours.sort_by(|a, b| b.0.grams.0.total_cmp(&a.0.grams.0));
    if let Some((line, i)) = flours.first().filter(|(_, i)| i.has_allergen("gluten")) {
        for (to, percent) in [("whole-wheat-flour", 30.0), ("dark-rye-flour", 15.0), ("spelt-flour", 100.0)] {
            if to != line.ingredient {
                let all = percent >= 100.0;
                let part = if all {
                    i.name.clone()
                } else {
                    format!("{percent} % of the {}", i.name.to_lowercase())
                };
                let name = format!("{part} to {}", name_of(to).to_lowercase());
                let (from, to) = (line.ingredient.clone(), to.to_owned());
                offer(Swap::Flour { from, to, percent: Percent(percent) }, name);
            }
        }
    }
    let pairs: [(&str, &[&str]); 8] = [
        ("milk", &["buttermilk", "oat-drink", "water", "dry-milk"]),
        ("buttermilk", &["milk", "yoghurt"]),
        ("oat-drink", &["milk"]),
        ("soy-drink", &["milk"]),
        ("water", &["milk"]),
        ("dry-milk", &["milk"]),
        ("yoghurt", &["buttermilk", "milk"]),
        ("cream", &["milk"]),
    ];
    for (from, tos) in pairs.iter().filter(|(from, _)| has(from)) {
        for to in *tos {
            let name = format!(
                "{} to {}{}",
                name_of(from),
                name_of(to).to_lowercase(),
                if *to == "dry-milk" { " and water" } else { "" }
            );
            offer(Swap::Liquid { from: (*from).into(), to: (*to).into() }, name);
        }
    }
    if k.egg {
        offer(Swap::EggFree, "Eggs to water and oil".into());
    }
    let fats: [(&str, &str); 5] = [
        ("butter", "vegetable-oil"),
        ("salted-butter", "butter"),
        ("olive-oil", "butter"),
        ("vegetable-oil", "butter"),
        ("lard", "butter"),
    ];
    for (from, to) in fats.into_iter().filter(|(from, _)| has(from)) {
        offer(
            Swap::Fat { from: from.into(), to: to.into() },
            format!("{} to {}", name_of(from), name_of(to).to_lowercase()),
        );
    }
    let sugars: [(&str, &str); 5] = [
        ("sugar", "honey"),
        ("sugar", "golden-syrup"),
        ("honey", "sugar"),
        ("brown-sugar", "sugar"),
        ("malt-syrup", "honey"),
    ];
    for (from, to) in sugars.into_iter().filter(|(from, _)| has(from)) {
        offer(
            Swap::Sugar { from: from.into(), to: to.into() },
            format!("{} to {}", name_of(from), name_of(to).to_lowercase()),
        );
    }
    let egg_wash = known(formula, catalogue).any(|(l, i)| {
        matches!(l.stage, Stage::Wash | Stage::SecondWash | Stage::Glaze) && i.group == Group::Egg
    });
    if egg_wash {
        for to in ["milk", "soy-drink"] {
            offer(Swap::WashEggFree { to: to.into() }, format!("Egg wash to {}", name_of(to).to_lowercase()));
        }
    }
    let scalds = formula.lines.iter().any(|l| l.stage == Stage::Scald);
    if formula.style != Style::GlutenFree && !scalds && k.hydration.0 > 30.0 {
        offer(Swap::Scald { percent: Percent(5.0), times: 4.0 }, "Scald 5 % of the flour".into());
    }
    if formula.style != Style::GlutenFree {
        offer(Swap::GlutenFree, "A gluten-free template".into());
    }
    all
}
