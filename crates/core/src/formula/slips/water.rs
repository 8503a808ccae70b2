//! Slips of water.

use super::look::{Look, g};
use super::slip::{Slip, Strength, slip};
use crate::formula::figures;
use crate::words::{Handling, Method, Stage, Style};

/// The usual range of effective hydration for this style with these flours.
fn usual_hydration(s: &Look) -> (f64, f64) {
    let (low, high) = s.f.style.usual().hydration;
    match s.f.style {
        // The more rye, the more water it drinks.
        Style::Rye => (60.0 + 0.1 * s.k.rye.0, 72.0 + 0.28 * s.k.rye.0),
        Style::GlutenFree => (low, high),
        _ => (low, high + 0.08 * s.k.whole_grain.0 + rich(s)),
    }
}

/// How much more water a rich dough may have: that of eggs and butter is bound in part, per cent of flour
/// for each per cent of fat, and at most.
const RICH: (f64, f64) = (0.4, 16.0);

fn rich(s: &Look) -> f64 {
    if s.f.style == Style::GlutenFree { 0.0 } else { (RICH.0 * s.k.fat.0).min(RICH.1) }
}

/// A liquid ten times too much or too little puts the dough this far out of its range.
const TENFOLD: (f64, f64) = (0.45, 2.2);

pub(super) fn hydration(s: &Look) -> Option<Slip> {
    let (low, high) = usual_hydration(s);
    let h = s.k.effective_hydration.0;
    let loose = h - s.soaked_up();
    if h >= low && loose <= high {
        return None;
    }
    if (h < TENFOLD.0 * low || h > TENFOLD.1 * high)
        && let Some(slip) = moved_point(s, low, high)
    {
        return Some(slip);
    }
    let (how, why) =
        if h < low { ("dry", "stiff and slow to rise") } else { ("wet", "slack and hard to shape") };
    let strength = match (low - h).max(loose - high) {
        off if off > 25.0 => Strength::Strong,
        off if off > 12.0 => Strength::Warning,
        _ => Strength::Unusual,
    };
    let drinks = if loose < h - 0.5 {
        format!(" ({loose:.0} % without what the soaker holds)")
    } else {
        String::new()
    };
    let text = format!(
        "Effective hydration is {h:.0} %{drinks}, {how} for {}: {low:.0} to {high:.0} % is usual. The dough will be {why}. Check flour and liquids, or choose another style.",
        s.f.style.name().to_lowercase(),
    );
    Some(slip("hydration-far", strength, text))
}

/// A known cause: one liquid, ten times more or less, would make an ordinary dough.
fn moved_point(s: &Look, low: f64, high: f64) -> Option<Slip> {
    for (n, line) in s.f.lines.iter().enumerate().filter(|(_, l)| l.stage.in_dough()) {
        let Some(i) = s.c.get(&line.ingredient).filter(|i| i.free_water() > 50.0) else { continue };
        for factor in [10.0, 0.1] {
            let mut tried = s.f.clone();
            tried.lines[n].grams = line.grams * factor;
            let h = figures(&tried, s.c).effective_hydration.0;
            if (low..=high).contains(&h) {
                let text = format!(
                    "Effective hydration is {:.0} %; with {} {} instead of {} it would be {h:.0} %. A decimal point may have moved.",
                    s.k.effective_hydration.0,
                    g(line.grams.0 * factor),
                    i.name.to_lowercase(),
                    g(line.grams.0),
                );
                let slip = slip("liquid-tenfold", Strength::Strong, text);
                let label = format!("Use {}", g(line.grams.0 * factor));
                return Some(slip.mended(label, s.f, |f| *f = tried));
            }
        }
    }
    None
}

pub(super) fn held_back_much(s: &Look) -> Option<Slip> {
    let held: f64 = s.stage(Stage::HeldBack).map(|(l, i)| l.grams.0 * i.free_water() / 100.0).sum();
    let all = s.k.effective_hydration.0 / 100.0 * s.flour();
    (held > 0.3 * all).then(|| {
        slip(
            "held-back-much",
            Strength::Unusual,
            format!("{} of the water is held back, nearly a third of all. The dough may be too stiff to mix before it goes in; 5 to 15 % is usual.", g(held)),
        )
    })
}

pub(super) fn knocked_down_wet(s: &Look) -> Option<Slip> {
    let loose = s.k.effective_hydration.0 - s.soaked_up();
    let wet = loose > 82.0 && s.f.style != Style::GlutenFree && s.k.rye.0 < 40.0;
    if !wet || s.f.rise.handling != Handling::Firm || s.f.mix.method == Method::None {
        return None;
    }
    let text =
        format!("At {loose:.0} % water a dough that is knocked down does not come back. Handle it gently.");
    let slip = slip("knocked-down-wet", Strength::Unusual, text);
    Some(slip.mended("Handle gently", s.f, |f| f.rise.handling = Handling::Gentle))
}
