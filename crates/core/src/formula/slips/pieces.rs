//! Slips of pieces and strands.

use super::look::{Look, g};
use super::slip::{Slip, Strength, slip};
use crate::formula::{Formula, ScaleTo, scale_to};
use crate::units::{Grams, OUNCE, shown};
use crate::words::Style;

pub(super) fn piece_ounces(s: &Look) -> Option<Slip> {
    let w = s.f.shape.piece_weight.filter(|w| w.0 < 20.0)?;
    let grams = Grams((w.0 * OUNCE).round());
    let text =
        format!("Pieces of {} are smaller than a walnut. {} oz are {}.", g(w.0), shown::grams(w), g(grams.0));
    let slip = slip("piece-ounces", Strength::Warning, text);
    Some(slip.mended(format!("Make them {}", g(grams.0)), s.f, |f| f.shape.piece_weight = Some(grams)))
}

pub(super) fn pieces_do_not_add_up(s: &Look) -> Option<Slip> {
    let w = s.f.shape.piece_weight.filter(|w| w.0 >= 20.0)?;
    let others: f64 = s.f.makeups_weight().0;
    let wanted = w.0 * f64::from(s.f.shape.pieces) + others;
    let off = s.k.dough.0 - wanted;
    if off.abs() <= 0.05 * wanted {
        return None;
    }
    let text = format!(
        "{} pieces of {} take {}, but the dough weighs {}: {} {}.",
        s.f.shape.pieces,
        g(w.0),
        g(wanted),
        g(s.k.dough.0),
        g(off.abs()),
        if off > 0.0 { "over" } else { "short" },
    );
    let slip =
        slip("pieces-do-not-add-up", if off < 0.0 { Strength::Warning } else { Strength::Unusual }, text);
    let makeups = s.f.makeups.clone();
    match scale_to(s.f, &ScaleTo::Dough { grams: Grams(wanted) }, s.c) {
        Ok(scaled) => {
            Some(slip.mended("Scale the dough to fit", s.f, |f| *f = Formula { makeups, ..scaled.formula }))
        }
        Err(_) => Some(slip),
    }
}

pub(super) fn rise_past_the_dough(s: &Look) -> Option<Slip> {
    let waits = |w: &crate::rise::RiseWish| if w.stays.is_some() { 1.0 } else { w.target };
    let far = s.f.rise.rises().iter().map(|(_, w)| waits(w)).fold(1.0, f64::max);
    if far <= s.k.hold || s.f.style == Style::GlutenFree {
        return None;
    }
    let least = (s.k.hold * 0.8 * 4.0).floor() / 4.0;
    let text = format!(
        "It is to rise to {far} times, but these flours hold about {:.1}. It will give way before. Stop sooner.",
        s.k.hold
    );
    let slip = slip("rise-past-the-dough", Strength::Warning, text);
    Some(slip.mended(format!("Stop at {least} times"), s.f, |f| {
        f.rise.bulk.target = f.rise.bulk.target.min(least).max(1.0);
        f.rise.second.target = f.rise.second.target.min(least).max(1.0);
        f.rise.proof.target = f.rise.proof.target.min(least).max(1.0);
    }))
}

pub(super) fn strand_size(s: &Look) -> Option<Slip> {
    let braid = s.f.shape.kind == crate::words::Kind::Braid;
    let strand = s.k.dough.0 / f64::from(s.f.shape.pieces * s.f.shape.strands);
    (braid && s.f.makeups.is_empty() && !(25.0..=450.0).contains(&strand)).then(|| {
        slip(
            "strand-size",
            Strength::Unusual,
            format!("A strand of {} is hard to plait. Change the pieces or the strands.", g(strand)),
        )
    })
}

/// Plaits that are drawn and described.
const STRANDS_MAX: u32 = 6;

pub(super) fn no_such_plait(s: &Look) -> Option<Slip> {
    let n = s.f.shape.strands;
    (s.f.shape.kind == crate::words::Kind::Braid && n > STRANDS_MAX).then(|| {
        let text = format!(
            "There is no plait of {n} strands here, only its strands' weights. Up to {STRANDS_MAX} are drawn."
        );
        slip("no-such-plait", Strength::Unusual, text)
            .mended("Take six strands", s.f, |f| f.shape.strands = STRANDS_MAX)
    })
}

/// The heaviest piece that a household oven bakes through well, g.
const PIECE_HEAVIEST: f64 = 3500.0;

pub(super) fn piece_too_heavy(s: &Look) -> Option<Slip> {
    let others: f64 = s.f.makeups_weight().0;
    let each = s.f.shape.piece_weight.map_or((s.k.dough.0 - others) / f64::from(s.f.shape.pieces), |w| w.0);
    (each > PIECE_HEAVIEST && s.f.shape.kind != crate::words::Kind::Flat).then(|| {
        let text = format!(
            "A piece of {} is more than a household oven bakes through. Divide it into more.",
            g(each)
        );
        slip("piece-too-heavy", Strength::Warning, text)
    })
}
