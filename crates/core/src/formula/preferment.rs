//! Preferments: their size against the dough, and how a levain comes from the kept culture.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::scale::pour;
use super::{Formula, Line, figures, known};
use crate::fault::Fault;
use crate::pantry::{Catalogue, Group};
use crate::units::{Grams, Percent};
use crate::words::Stage;

/// How large a preferment should be.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum PrefermentSize {
    /// Its flour as a share of all flour, 0.5 to 100 %.
    Flour(Percent),
    /// What it weighs, 5 to 50 000 g.
    Weight(Grams),
}

/// An ordinary preferment of each kind on 100 g of flour: water, and culture or instant yeast
/// (common practice, no source).
fn ordinary(stage: Stage) -> Option<(f64, &'static str, f64)> {
    Some(match stage {
        Stage::Preferment => (100.0, "culture-100", 20.0),
        Stage::Poolish => (100.0, "instant-yeast", 0.1),
        Stage::Biga => (50.0, "instant-yeast", 0.2),
        Stage::Sponge => (62.0, "instant-yeast", 1.0),
        _ => return None,
    })
}

/// Sizes a preferment; the dough shrinks or grows to match, so that flour and water of the whole
/// stay. A preferment that has no lines yet is begun as an ordinary one from the dough's flour.
///
/// # Errors
/// When the dough has not the flour or the water to give, or the stage is no preferment.
pub fn size_preferment(
    formula: &mut Formula,
    stage: Stage,
    size: PrefermentSize,
    catalogue: &Catalogue,
) -> Result<(), Fault> {
    let impossible = |text: &str| Fault::new("impossible", "size", text);
    if !stage.is_preferment() {
        return Err(impossible("Only a preferment has a size of its own."));
    }
    let mut out = formula.clone();
    // A preferment just begun is not yet taken out of the dough; one that was there is.
    let begun = !out.lines.iter().any(|l| l.stage == stage && l.grams.0 > 0.0);
    if begun {
        begin(&mut out, stage, catalogue)
            .ok_or_else(|| impossible("Give this preferment its lines first, or the dough some flour."))?;
    }
    let all = figures(formula, catalogue).flour.0;
    let own = |what: &dyn Fn(&Line, f64) -> f64| -> f64 {
        known(&out, catalogue).filter(|(l, _)| l.stage == stage).map(|(l, i)| what(l, i.flour)).sum()
    };
    let (weight, flour) = (own(&|l, _| l.grams.0), own(&|l, share| l.grams.0 * share));
    if flour <= 0.0 {
        return Err(impossible("This preferment has no flour to be sized by."));
    }
    let factor = match size {
        PrefermentSize::Flour(p) if (0.5..=100.0).contains(&p.0) => p.0 / 100.0 * all / flour,
        PrefermentSize::Flour(_) => return Err(impossible("Enter 0.5 to 100 % of the flour.")),
        PrefermentSize::Weight(w) if (5.0..=50_000.0).contains(&w.0) => w.0 / weight,
        PrefermentSize::Weight(_) => return Err(impossible("Enter 5 to 50 000 g.")),
    };
    let was = if begun { 0.0 } else { 1.0 };
    let mut moved = Vec::new();
    for line in out.lines.iter_mut().filter(|l| l.stage == stage) {
        moved.push((line.ingredient.clone(), line.grams.0 * (factor - was)));
        line.grams = line.grams * factor;
    }
    for (key, grams) in moved {
        give(&mut out, &key, grams, catalogue)?;
    }
    *formula = out;
    Ok(())
}

/// Adds the lines of an ordinary preferment on 100 g of the dough's chief flour.
fn begin(formula: &mut Formula, stage: Stage, catalogue: &Catalogue) -> Option<()> {
    let (water, leaven, share) = ordinary(stage)?;
    let chief = known(formula, catalogue)
        .filter(|(l, i)| l.stage == Stage::Dough && i.group == Group::Flour)
        .max_by(|a, b| a.0.grams.0.total_cmp(&b.0.grams.0))
        .map(|(l, _)| l.ingredient.clone())?;
    formula.lines.retain(|l| l.stage != stage);
    let at = formula.lines.iter().take_while(|l| l.stage <= stage).count();
    let lines = [(chief.as_str(), 100.0), ("water", water), (leaven, share)];
    for (n, (key, grams)) in lines.into_iter().enumerate() {
        formula.lines.insert(at + n, Line::new(key, stage, Grams(grams)));
    }
    Some(())
}

/// Takes so much of an ingredient out of the dough: flour from the same flour or else from all in
/// proportion, water from the water or else from the milk, a culture as its flour and its water. Anything else comes
/// from its like while there is any.
fn give(formula: &mut Formula, key: &str, grams: f64, catalogue: &Catalogue) -> Result<(), Fault> {
    let Some(ingredient) = catalogue.get(key) else { return Ok(()) };
    match ingredient.group {
        Group::Flour => give_flour(formula, key, grams, catalogue),
        Group::Culture => {
            give_flour(formula, "", grams * ingredient.flour, catalogue)?;
            give_water(formula, grams * (1.0 - ingredient.flour), catalogue)
        }
        _ if ingredient.is_water() => give_water(formula, grams, catalogue),
        _ => {
            let there = dough_grams(formula, key);
            if there > 0.0 { give_like(formula, key, grams.min(there)) } else { Ok(()) }
        }
    }
}

fn dough_grams(formula: &Formula, key: &str) -> f64 {
    formula.lines.iter().filter(|l| l.stage == Stage::Dough && l.ingredient == key).map(|l| l.grams.0).sum()
}

fn give_like(formula: &mut Formula, key: &str, grams: f64) -> Result<(), Fault> {
    take(formula, grams, |l| l.ingredient == key)
}

/// Water comes from the dough's water; where there is too little, from its milk or other drinks.
fn give_water(formula: &mut Formula, grams: f64, catalogue: &Catalogue) -> Result<(), Fault> {
    if dough_grams(formula, "water") > grams.max(0.0) {
        return give_like(formula, "water", grams);
    }
    pour(formula, -grams, catalogue).map(|_| ()).map_err(|_| too_little())
}

fn too_little() -> Fault {
    let text = "The dough has not that much flour or water to give. Make the preferment smaller.";
    Fault::new("impossible", "size", text)
}

fn give_flour(formula: &mut Formula, key: &str, grams: f64, catalogue: &Catalogue) -> Result<(), Fault> {
    if dough_grams(formula, key) >= grams.max(1e-9) {
        return give_like(formula, key, grams);
    }
    take(formula, grams, |l| catalogue.get(&l.ingredient).is_some_and(|i| i.group == Group::Flour))
}

/// Takes grams from the dough's lines that fit, in proportion.
fn take(formula: &mut Formula, grams: f64, fits: impl Fn(&Line) -> bool) -> Result<(), Fault> {
    if grams.abs() < 1e-9 {
        return Ok(());
    }
    let fitting = |l: &Line| l.stage == Stage::Dough && fits(l);
    let there: f64 = formula.lines.iter().filter(|l| fitting(l)).map(|l| l.grams.0).sum();
    if there <= 0.0 || there - grams < -1e-9 {
        return Err(too_little());
    }
    let k = ((there - grams) / there).max(0.0);
    formula.lines.iter_mut().filter(|l| fitting(l)).for_each(|l| l.grams = l.grams * k);
    Ok(())
}

/// One build of a levain.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Build {
    /// Its number; the last is the levain itself.
    pub number: u32,
    /// The culture it begins with: the kept one, or the build before.
    pub culture: Grams,
    /// Flour fed.
    pub flour: Grams,
    /// Water fed.
    pub water: Grams,
    /// What it makes.
    pub makes: Grams,
}

/// How the levain comes from the kept culture, in the number of builds that is wanted. Every
/// build feeds as the last one does, and the last makes what is kept back besides. Empty where
/// the levain has no culture or no flour.
pub fn builds(formula: &Formula, catalogue: &Catalogue) -> Vec<Build> {
    let lines = || known(formula, catalogue).filter(|(l, _)| l.stage == Stage::Preferment);
    let sum =
        |group: Group| -> f64 { lines().filter(|(_, i)| i.group == group).map(|(l, _)| l.grams.0).sum() };
    let total: f64 = lines().map(|(l, _)| l.grams.0).sum();
    let (culture, flour) = (sum(Group::Culture), sum(Group::Flour));
    if culture <= 0.0 || flour <= 0.0 {
        return Vec::new();
    }
    // One build multiplies its culture by this.
    let grows = total / culture;
    let mut makes = total + formula.levain.keep.0;
    let mut all = Vec::new();
    for number in (1..=formula.levain.builds).rev() {
        let fed = makes / grows;
        let flour = Grams(makes * flour / total);
        all.push(Build {
            number,
            culture: Grams(fed),
            flour,
            water: Grams(makes - fed) - flour,
            makes: Grams(makes),
        });
        makes = fed;
    }
    all.reverse();
    all
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formula::LevainWish;
    use crate::words::Style;
    use approx::assert_relative_eq;
    use proptest::prelude::*;

    fn of(lines: &[(&str, Stage, f64)]) -> Formula {
        let mut f = Formula::beginning("Test", Style::Hearth);
        f.lines = lines.iter().map(|&(k, stage, g)| Line::new(k, stage, Grams(g))).collect();
        f
    }

    fn plain() -> Formula {
        of(&[
            ("bread-flour", Stage::Dough, 800.0),
            ("whole-wheat-flour", Stage::Dough, 200.0),
            ("water", Stage::Dough, 650.0),
            ("salt", Stage::Dough, 20.0),
        ])
    }

    /// The worked check: a fifth of 1000 g flour prefermented at 100 % is a levain of 400 g, and
    /// 800 g flour and 450 g water are left for the dough (common practice, no source).
    #[test]
    fn a_fifth_prefermented() {
        let c = Catalogue::bundled();
        let mut f = plain();
        size_preferment(&mut f, Stage::Preferment, PrefermentSize::Flour(Percent(20.0)), c).unwrap();
        let sum =
            |stage: Stage| -> f64 { f.lines.iter().filter(|l| l.stage == stage).map(|l| l.grams.0).sum() };
        assert_relative_eq!(sum(Stage::Preferment), 400.0, epsilon = 1e-9);
        assert_relative_eq!(sum(Stage::Dough), 800.0 + 450.0 + 20.0, epsilon = 1e-9);
        let k = figures(&f, c);
        assert_relative_eq!(k.prefermented.0, 20.0, epsilon = 1e-9);
        assert_relative_eq!(k.hydration.0, 65.0, epsilon = 1e-9);
        assert_relative_eq!(k.dough.0, 1670.0, epsilon = 1e-9);
    }

    #[test]
    fn a_dough_without_water_cannot_give_any() {
        let mut f = of(&[("bread-flour", Stage::Dough, 500.0), ("egg", Stage::Dough, 320.0)]);
        let before = f.clone();
        let fault = size_preferment(
            &mut f,
            Stage::Poolish,
            PrefermentSize::Flour(Percent(30.0)),
            Catalogue::bundled(),
        )
        .unwrap_err();
        assert_eq!(fault.code, "impossible");
        assert_eq!(f, before, "a refused change changes nothing");
    }

    #[test]
    fn builds_lead_from_the_kept_culture_to_the_levain() {
        let mut f = of(&[
            ("bread-flour", Stage::Preferment, 90.0),
            ("water", Stage::Preferment, 90.0),
            ("culture-100", Stage::Preferment, 20.0),
            ("bread-flour", Stage::Dough, 400.0),
            ("water", Stage::Dough, 250.0),
        ]);
        f.levain = LevainWish { builds: 2, keep: Grams(20.0) };
        let b = builds(&f, Catalogue::bundled());
        assert_eq!(b.len(), 2);
        assert_relative_eq!(b[1].makes.0, 220.0, epsilon = 1e-9);
        assert_relative_eq!(b[1].culture.0, b[0].makes.0, epsilon = 1e-9);
        assert_relative_eq!(b[0].culture.0, 2.2, epsilon = 1e-9);
        f.lines.remove(2);
        assert!(builds(&f, Catalogue::bundled()).is_empty());
    }

    proptest! {
        /// However many empty lines stand there already: nothing comes of nothing.
        #[test]
        fn empty_lines_make_no_flour(empty in 0usize..6, share in 5.0..40.0f64, kind in 0usize..4) {
            let c = Catalogue::bundled();
            let stage = Stage::ALL[kind];
            let mut f = plain();
            for key in ["bread-flour", "water", "instant-yeast", "salt", "malt-extract", "milk"].iter().take(empty) {
                f.lines.insert(0, Line::new(*key, stage, Grams(0.0)));
            }
            size_preferment(&mut f, stage, PrefermentSize::Flour(Percent(share)), c).unwrap();
            let k = figures(&f, c);
            prop_assert!((k.flour.0 - 1000.0).abs() < 1e-6 && (k.prefermented.0 - share).abs() < 1e-6);
        }

        #[test]
        fn a_preferment_of_any_size_leaves_the_whole_as_it_was(
            first in 5.0..40.0f64, second in 5.0..40.0f64, kind in 0usize..4,
        ) {
            let c = Catalogue::bundled();
            let stage = Stage::ALL[kind];
            let mut f = plain();
            for share in [first, second] {
                size_preferment(&mut f, stage, PrefermentSize::Flour(Percent(share)), c).unwrap();
                let k = figures(&f, c);
                prop_assert!((k.prefermented.0 - share).abs() < 1e-6);
                prop_assert!((k.flour.0 - 1000.0).abs() < 1e-6);
                prop_assert!((k.hydration.0 - 65.0).abs() < 1e-6);
                prop_assert!(f.lines.iter().all(|l| l.grams.0 >= 0.0));
            }
        }

        #[test]
        fn every_build_adds_up(builds_wanted in 1u32..=4, keep in 0.0..200.0f64, seed in 2.0..80.0f64) {
            let mut f = of(&[
                ("bread-flour", Stage::Preferment, 70.0),
                ("water", Stage::Preferment, 60.0),
                ("culture-rye", Stage::Preferment, seed),
                ("bread-flour", Stage::Dough, 400.0),
            ]);
            f.levain = LevainWish { builds: builds_wanted, keep: Grams(keep) };
            let all = builds(&f, Catalogue::bundled());
            prop_assert_eq!(all.len() as u32, builds_wanted);
            for pair in all.windows(2) {
                prop_assert!((pair[0].makes.0 - pair[1].culture.0).abs() < 1e-9);
            }
            for b in &all {
                prop_assert!((b.culture + b.flour + b.water - b.makes).0.abs() < 1e-9);
                prop_assert!(b.culture.0 > 0.0);
            }
        }
    }
}
