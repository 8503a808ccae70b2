//! What is kept as it was: hydration, salt, the weight of the dough.

use super::work::Work;
use crate::fault::Fault;
use crate::formula::scale::pour;
use crate::formula::{Figures, Line, figures};
use crate::pantry::{Group, Ingredient};
use crate::units::{Grams, Percent, shown};
use crate::words::Stage;

impl Work<'_> {
    /// Brings fat, sugar, salt and water back to what they were, from the lines that are there.
    pub(super) fn kept(&mut self, keep: bool, before: &Figures) -> Result<(), Fault> {
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
    pub(super) fn make_up(
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
