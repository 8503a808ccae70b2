//! Slips of yeast, culture and preferments.

use super::look::{Look, g, set, times};
use super::slip::{Slip, Strength, slip};
use crate::formula::Line;
use crate::pantry::{Group, Ingredient};
use crate::rise::PLACE;
use crate::units::{Celsius, Grams, shown};
use crate::words::{ACTIVE_DRY_AS_INSTANT, Method, Stage};

pub(super) fn yeast(s: &Look) -> Option<Slip> {
    let y = s.k.instant_yeast.0;
    let at = shown::percent(s.k.instant_yeast);
    let most = s.f.style.usual().yeast_max;
    let is_yeast = |l: &Line| s.c.get(&l.ingredient).is_some_and(|i| i.group == Group::Yeast);
    let weighed = s.sum(|l, _| is_yeast(l));
    let levain_without_culture = s.stage(Stage::Preferment).next().is_some();
    if y == 0.0 && s.k.inoculation.0 == 0.0 {
        let text = "Nothing makes this dough rise. Add yeast, or a ripe culture.";
        let slip = slip("yeast-missing", Strength::Strong, text);
        if levain_without_culture {
            return Some(slip);
        }
        let grams = 0.008 * s.flour();
        return Some(
            slip.mended(format!("Add {} instant yeast", g(grams)), s.f, |f| set(f, "instant-yeast", grams)),
        );
    }
    if y > 3.0 && y >= 4.0 * most {
        let text = format!(
            "Yeast comes to {at} % as instant yeast, far over the usual {most} %. It looks ten times too much. Check the line."
        );
        let slip = slip("yeast-tenfold", Strength::Strong, text);
        // A tenth, or what is usual where that would still be too much.
        let k = (0.1f64).min(0.6 * most / y);
        return Some(slip.mended(format!("Use {}", g(weighed * k)), s.f, |f| times(f, k, is_yeast)));
    }
    if y > most {
        let dry = s.sum(|_, i| matches!(i.kin(), "instant-yeast" | "active-dry-yeast"));
        let strength = if y > 3.0 { Strength::Strong } else { Strength::Warning };
        let text = format!(
            "Yeast comes to {at} % as instant yeast; up to {most} % is usual here. The dough will race and taste of yeast. It may be fresh yeast written as dry; or use less and give it time."
        );
        let slip = slip("yeast-much", strength, text);
        if dry == 0.0 {
            return Some(slip);
        }
        return Some(slip.mended("It is fresh yeast", s.f, |f| {
            f.lines
                .iter_mut()
                .filter(|l| matches!(l.ingredient.as_str(), "instant-yeast" | "active-dry-yeast"))
                .for_each(|l| l.ingredient = "fresh-yeast".into());
        }));
    }
    if y > 0.0 && y < 0.05 && s.k.inoculation.0 < 5.0 {
        let text = format!(
            "Yeast is only {at} % as instant yeast. The rise will take the better part of a day. Check the line, or plan for it."
        );
        return Some(slip("yeast-little", Strength::Warning, text));
    }
    None
}

pub(super) fn levain_not_alive(s: &Look) -> Option<Slip> {
    let stage = Stage::ALL.into_iter().find(|&stage| {
        stage.is_preferment()
            && s.stage(stage).any(|(l, i)| l.grams.0 > 0.0 && i.flour > 0.0)
            && !s
                .stage(stage)
                .any(|(l, i)| l.grams.0 > 0.0 && matches!(i.group, Group::Culture | Group::Yeast))
    })?;
    let name = stage.name().to_lowercase();
    let text = format!(
        "The {name} has neither culture nor yeast: it will stand there and sour by chance. Give it a seed."
    );
    let slip = slip("levain-not-alive", Strength::Warning, text);
    let flour: f64 = s.stage(stage).map(|(l, i)| l.grams.0 * i.flour).sum();
    let (key, grams) = match stage {
        Stage::Preferment => ("culture-100", 0.2 * flour),
        Stage::OldDough => return Some(slip),
        _ => ("instant-yeast", 0.002 * flour),
    };
    let label = format!("Add {} {}", g(grams), s.c.get(key)?.name.to_lowercase());
    Some(slip.mended(label, s.f, |f| {
        let at = f.lines.iter().take_while(|l| l.stage <= stage).count();
        f.lines.insert(at, Line::new(key, stage, Grams(grams)));
    }))
}

pub(super) fn self_raising(s: &Look) -> Option<Slip> {
    if s.sum(|_, i| i.kin() == "self-raising-flour") == 0.0 || s.k.instant_yeast.0 + s.k.inoculation.0 == 0.0
    {
        return None;
    }
    let text = "Self-raising flour has baking powder in it already; with yeast the crumb turns coarse and salty. Use plain flour.";
    let slip = slip("self-raising-with-yeast", Strength::Warning, text);
    Some(slip.mended("Use plain flour", s.f, |f| {
        f.lines
            .iter_mut()
            .filter(|l| l.ingredient == "self-raising-flour")
            .for_each(|l| l.ingredient = "plain-flour".into());
    }))
}

pub(super) fn nothing_to_bloom_in(s: &Look) -> Option<Slip> {
    let dry = s.stage(Stage::Dough).find(|(_, i)| i.kin() == "active-dry-yeast")?.0.grams.0;
    let thin = |i: &Ingredient| matches!(i.group, Group::Liquid | Group::Dairy) && i.per_100g.water > 80.0;
    let liquid = s.sum(|l, i| l.stage == Stage::Dough && thin(i));
    if dry == 0.0 || liquid >= 4.0 * dry {
        return None;
    }
    let text = "Active dry yeast wants four times its weight of warm liquid to bloom in, and this dough has none free. Use instant yeast, which goes in dry.";
    let slip = slip("nothing-to-bloom-in", Strength::Warning, text);
    Some(slip.mended("Use instant yeast", s.f, |f| {
        for l in f.lines.iter_mut().filter(|l| l.ingredient == "active-dry-yeast") {
            l.ingredient = "instant-yeast".into();
            l.grams = l.grams * ACTIVE_DRY_AS_INSTANT;
        }
    }))
}

pub(super) fn sugar_slows(s: &Look) -> Option<Slip> {
    let sugar = s.k.fermentable_sugar.0;
    (sugar > 28.0).then(|| {
        slip(
            "sugar-slows",
            Strength::Unusual,
            format!("Sugar is {sugar:.0} % of the flour. Over about 25 it draws the water from the yeast and the rise crawls. Give it time, or less sugar."),
        )
    })
}

pub(super) fn spice_slows(s: &Look) -> Option<Slip> {
    let (cinnamon, cloves) = (s.percent("cinnamon"), s.percent("cloves"));
    (cinnamon > 1.5 || cloves > 0.6).then(|| {
        slip(
            "spice-slows-yeast",
            Strength::Unusual,
            format!(
                "{} is {:.1} % of the flour. That much holds the yeast back. Put it in the filling or on top, or use less.",
                if cinnamon > 1.5 { "Cinnamon" } else { "Clove" },
                if cinnamon > 1.5 { cinnamon } else { cloves },
            ),
        )
    })
}

pub(super) fn prefermented_much(s: &Look) -> Option<Slip> {
    let share = s.k.prefermented.0;
    (share > 55.0).then(|| {
        slip(
            "prefermented-much",
            Strength::Unusual,
            format!("{share:.0} % of the flour ferments ahead; 10 to 50 is usual. The dough will be sour and slack, and past its best soon."),
        )
    })
}

/// A preferment that is said to go in hotter than yeast bears.
pub(super) fn preferment_hot(s: &Look) -> Option<Slip> {
    let t = s.f.mix.preferment.filter(|t| t.0 > 45.0)?;
    if !s.lines().any(|(l, _)| l.stage.is_preferment() && l.grams.0 > 0.0) {
        return None;
    }
    let text = format!(
        "The preferment goes in at {:.0} °C. Over 49 °C that kills what lives in it. Was it °F?",
        t.0
    );
    let slip = slip("preferment-hot", Strength::Strong, text);
    let meant = PLACE.as_fahrenheit(t.0).unwrap_or(Celsius(24.0));
    Some(slip.mended(format!("Take {:.0} °C", meant.0), s.f, |f| f.mix.preferment = Some(meant)))
}

/// Active dry yeast in a dough that is hardly worked: it wants blooming all the more.
pub(super) fn dry_yeast_not_bloomed(s: &Look) -> Option<Slip> {
    let short = matches!(s.f.mix.method, Method::None | Method::Paddle);
    let dry = s.sum(|l, i| l.stage == Stage::Dough && i.kin() == "active-dry-yeast");
    (short && dry > 0.0).then(|| {
        slip(
            "dry-yeast-not-bloomed",
            Strength::Unusual,
            "Active dry yeast is in a dough that is hardly worked: stirred in dry it stays in specks. Bloom it in some of the water at 37 to 43 °C first, or use instant yeast.",
        )
    })
}

/// The least seed with which a levain comes to life in a day, per cent of its flour.
const SEED_LEAST: f64 = 1.0;

pub(super) fn levain_seed_little(s: &Look) -> Option<Slip> {
    let flour: f64 =
        s.stage(Stage::Preferment).filter(|(_, i)| i.group == Group::Flour).map(|(l, _)| l.grams.0).sum();
    let seed: f64 =
        s.stage(Stage::Preferment).filter(|(_, i)| i.group == Group::Culture).map(|(l, _)| l.grams.0).sum();
    let share = 100.0 * seed / flour.max(1e-9);
    (flour > 0.0 && seed > 0.0 && share < SEED_LEAST).then(|| {
        let text = format!(
            "The levain has {} of culture on {} of flour. It will take a day and more to ripen.",
            g(seed),
            g(flour)
        );
        slip("levain-seed-little", Strength::Unusual, text)
    })
}
