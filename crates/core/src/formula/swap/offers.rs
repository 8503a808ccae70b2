//! The swaps that a formula offers.

use schemars::JsonSchema;
use serde::Serialize;

use super::kinds::Swap;
use crate::formula::{Formula, Line, figures, known};
use crate::pantry::{Catalogue, Group, Ingredient};
use crate::units::Percent;
use crate::words::{Stage, Style};

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
