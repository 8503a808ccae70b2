//! Slips against what a bread should be free of.

use super::look::{Look, g, set};
use super::slip::{Slip, Strength, slip};
use crate::words::Style;

pub(super) fn gluten_in_gluten_free(s: &Look) -> Option<Slip> {
    if s.f.style != Style::GlutenFree {
        return None;
    }
    let (_, i) = s.lines().find(|(l, i)| l.grams.0 > 0.0 && i.has_allergen("gluten"))?;
    let text = format!(
        "{} has gluten, and this is a gluten-free formula. Use something else, or another style.",
        i.name
    );
    Some(slip("gluten-in-gluten-free", Strength::Strong, text))
}

pub(super) fn no_binder(s: &Look) -> Option<Slip> {
    let binders = ["psyllium", "xanthan", "guar", "chia-seeds", "linseed"];
    if s.f.style != Style::GlutenFree
        || binders.iter().any(|b| s.percent(b) > 0.0)
        || s.k.gluten_flour.0 > 0.0
    {
        return None;
    }
    let text = "Nothing binds this dough in gluten's place: it will not hold its gas. Add psyllium, 3 to 6 % of the flour.";
    let slip = slip("no-binder", Strength::Warning, text);
    let grams = 0.05 * s.flour();
    Some(slip.mended(format!("Add {} psyllium", g(grams)), s.f, |f| set(f, "psyllium", grams)))
}

pub(super) fn not_free_of(s: &Look) -> Option<Slip> {
    let said = format!("{} {}", s.f.name, s.f.tags.join(" ")).to_lowercase().replace('-', " ");
    let claims: [(&[&str], &[&str]); 8] = [
        (&["nut free", "without nuts", "no nuts"], &["nuts", "peanut"]),
        (&["sesame free", "without sesame"], &["sesame"]),
        (&["egg free", "without egg", "eggless"], &["egg"]),
        (&["dairy free", "milk free", "without milk"], &["milk"]),
        (&["gluten free", "without gluten"], &["gluten"]),
        (&["soy free", "soya free"], &["soy"]),
        (&["vegan"], &["egg", "milk"]),
        (&["lupin free"], &["lupin"]),
    ];
    let (words, allergens) = claims.iter().find(|(words, bad)| {
        words.iter().any(|w| said.contains(w)) && bad.iter().any(|b| s.k.allergens.iter().any(|a| a == b))
    })?;
    let (_, i) = s.lines().find(|(_, i)| allergens.iter().any(|a| i.has_allergen(a)))?;
    let claim = words.iter().find(|w| said.contains(*w))?;
    let text = format!(
        "Its name or tags say “{claim}”, but {} is in it. Someone may rely on that.",
        i.name.to_lowercase()
    );
    Some(slip("not-free-of", Strength::Strong, text))
}
