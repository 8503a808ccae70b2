//! Slips of soakers, scalds and what goes in hot.

use super::look::{Look, g};
use super::slip::{Slip, Strength, slip};
use crate::units::Celsius;
use crate::words::Stage;

pub(super) fn scald_ratio(s: &Look) -> Option<Slip> {
    let flour: f64 = s.stage(Stage::Scald).map(|(l, i)| l.grams.0 * i.flour).sum();
    if flour == 0.0 {
        return None;
    }
    let liquid: f64 = s.stage(Stage::Scald).map(|(l, i)| l.grams.0 * i.free_water() / 100.0).sum();
    let ratio = liquid / flour;
    (!(1.5..=6.0).contains(&ratio)).then(|| {
        slip(
            "scald-ratio",
            Strength::Unusual,
            format!("The scald has {ratio:.1} times its flour in liquid; three to five is usual for one that is cooked. It will be {}.", if ratio < 1.5 { "too stiff to cook through" } else { "too thin to thicken" }),
        )
    })
}

pub(super) fn soaker_dry(s: &Look) -> Option<Slip> {
    let dry: f64 =
        s.stage(Stage::Soaker).filter(|(_, i)| i.per_100g.water < 20.0).map(|(l, _)| l.grams.0).sum();
    let wet: f64 =
        s.stage(Stage::Soaker).map(|(l, i)| if i.per_100g.water > 50.0 { l.grams.0 } else { 0.0 }).sum();
    (dry > 0.0 && wet < 0.5 * dry).then(|| {
        slip(
            "soaker-dry",
            Strength::Unusual,
            format!("The soaker has {} to drink for {} of grain. What stays dry will draw water from the dough later. Give it as much liquid as grain.", g(wet), g(dry)),
        )
    })
}

pub(super) fn goes_in_hot(s: &Look) -> Option<Slip> {
    let hot = s.f.stages.iter().find(|p| {
        let there = s.stage(p.stage).any(|(l, _)| l.grams.0 > 0.0);
        there && p.temperature.is_some_and(|t| t.0 > 45.0)
    })?;
    let t = hot.temperature?.0;
    let egg = if s.k.egg && t > 62.0 { " and sets egg" } else { "" };
    let text = format!(
        "The {} goes in at {t:.0} °C. Over 49 °C that harms yeast{egg}. Let it cool to the hand.",
        hot.stage.name().to_lowercase()
    );
    let slip = slip("goes-in-hot", Strength::Warning, text);
    let stage = hot.stage;
    Some(slip.mended("Let it cool to 35 °C", s.f, |f| {
        f.stages.iter_mut().filter(|p| p.stage == stage).for_each(|p| p.temperature = Some(Celsius(35.0)));
    }))
}
