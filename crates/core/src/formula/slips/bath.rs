//! Slips of alkaline baths.

use super::look::{Look, g};
use super::slip::{Slip, Strength, slip};
use crate::pantry::Ingredient;
use crate::units::Grams;
use crate::words::{Stage, Vessel};

pub(super) fn soda_or_lye_in_dough(s: &Look) -> Option<Slip> {
    let soda = s.percent("baking-soda") + s.percent("washing-soda");
    let powder = s.percent("baking-powder");
    let alive = s.k.instant_yeast.0 + s.k.inoculation.0 > 0.0;
    if s.percent("lye") > 0.0 {
        let text = "Lye is in the dough itself. It is only for a bath, heavily thinned, and burns. Move it to the bath.";
        let slip = slip("lye-in-dough", Strength::Strong, text);
        return Some(slip.mended("Move it to the bath", s.f, |f| {
            f.lines.iter_mut().filter(|l| l.ingredient == "lye").for_each(|l| l.stage = Stage::Bath);
            f.lines.sort_by_key(|l| l.stage);
        }));
    }
    (alive && (soda > 0.5 || powder > 2.0)).then(|| {
        slip(
            "soda-with-yeast",
            Strength::Unusual,
            "Baking soda or powder is in a dough with yeast. It tastes of soap and the yeast does the lifting. Was yeast meant, or a bath?",
        )
    })
}

fn alkali(i: &Ingredient) -> bool {
    matches!(i.kin(), "lye" | "baking-soda" | "washing-soda")
}

pub(super) fn bath_aluminium(s: &Look) -> Option<Slip> {
    let bath = s.stage(Stage::Bath).any(|(l, i)| l.grams.0 > 0.0 && alkali(i));
    if !bath || !matches!(s.f.oven.vessel, Vessel::Sheet | Vessel::Tin) {
        return None;
    }
    let text = "An alkaline bath eats aluminium, and many sheets and tins are made of it. Steel, or parchment or silicone between; the bath itself in steel or glass.";
    Some(slip("bath-aluminium", Strength::Warning, text))
}

pub(super) fn bath_strength(s: &Look) -> Option<Slip> {
    let sum = |fits: &dyn Fn(&Ingredient) -> bool| -> f64 {
        s.stage(Stage::Bath).filter(|(_, i)| fits(i)).map(|(l, _)| l.grams.0).sum()
    };
    let (lye, water) = (sum(&|i| i.kin() == "lye"), sum(&|i| i.is_water()));
    if lye == 0.0 || lye <= 0.045 * water {
        return None;
    }
    let text = format!(
        "The lye bath is {:.1} % strong; 3 to 4 is usual, and more burns skin and crust.",
        100.0 * lye / (lye + water).max(1e-9)
    );
    let slip = slip("bath-strong", Strength::Strong, text);
    if water == 0.0 {
        return Some(slip);
    }
    let right = 0.035 * water;
    Some(slip.mended(format!("Use {} lye", g(right)), s.f, |f| {
        f.lines.iter_mut().filter(|l| l.ingredient == "lye").for_each(|l| l.grams = Grams(right));
    }))
}
