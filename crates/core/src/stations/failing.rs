//! Slips that only the stations see: rises that fail, levains that do, an oven out of the way.

use super::answers::Stations;
use super::in_kitchen::WARM_HOURS;
use super::tasks;
use crate::formula::{Formula, Slip, Strength, slip};
use crate::kitchen::Kitchen;
use crate::rise::Forecast;
use crate::units::{Celsius, shown};
use crate::words::YEAST_HARMED;

/// The longest rise at which nobody looks twice, h, for a plan without a night in the cold.
const LONG_RISE: f64 = 30.0;

/// Slips that show only when the stations have been read.
pub(super) fn later_slips(f: &Formula, kitchen: &Kitchen, s: &Stations) -> Vec<Slip> {
    let mut found = Vec::new();
    for answer in [&s.water.balance, &s.water.factor] {
        if s.liquid.grams.0 > 0.0 && answer.water.0 > YEAST_HARMED && found.is_empty() {
            let text = format!(
                "The {} would have to be {:.0} °C. Over {YEAST_HARMED:.0} °C it harms yeast, and over 60 °C it sets egg. Warm the flour or the bowl instead, or wish for a cooler dough.",
                s.liquid.name, answer.water.0,
            );
            found.push(slip("liquid-hot", Strength::Warning, text));
        }
    }
    let warm = |f: &Option<Forecast>| -> f64 {
        f.iter()
            .flat_map(|f| f.curve.windows(2))
            .filter(|w| w[0].temperature > 12.0)
            .map(|w| w[1].minutes - w[0].minutes)
            .sum()
    };
    let hours = (warm(&s.rise.bulk) + warm(&s.rise.second) + warm(&s.rise.proof)) / 60.0;
    // Milk in a dough that sours keeps longer than egg does, and butter is hardly milk.
    let sours = s.figures.inoculation.0 > 0.0;
    let (bears, strength) = match s.figures.egg {
        true => (WARM_HOURS, Strength::Warning),
        false if sours => (3.0 * WARM_HOURS, Strength::Unusual),
        false => (1.5 * WARM_HOURS, Strength::Unusual),
    };
    if (s.figures.egg || s.figures.dairy) && hours > bears {
        let what = if s.figures.egg { "egg" } else { "milk" };
        let text = format!(
            "A dough with {what} stands warm for {hours:.0} hours. Two hours between 4 and 60 °C is the usual limit for such food. Rise it in the fridge, or use more yeast.",
        );
        found.push(slip("egg-or-milk-left-out", strength, text));
    }
    found.extend(rises_that_fail(f, s));
    found.extend(levains_that_fail(s));
    found.extend(oven_out_of_the_way(f, kitchen, s));
    found
}

/// Rises that stand past what the dough bears, or never get there.
fn rises_that_fail(f: &Formula, s: &Stations) -> Option<Slip> {
    let rises = [
        ("bulk rise", &f.rise.bulk, &s.rise.bulk),
        ("second rise", &f.rise.second, &s.rise.second),
        ("final proof", &f.rise.proof, &s.rise.proof),
    ];
    for (name, wish, forecast) in rises {
        let Some(r) = forecast else { continue };
        let stays = wish.stays.is_some();
        if stays && r.stands_too_long() && !r.has_sunk() {
            let at = r
                .stands_until
                .map_or(String::new(), |t| format!(", which it reaches after {}", shown::time(t)));
            let text = format!(
                "The {name} stands {}, past its height{at}: at {} of {} times it still holds, and sinks slowly. Go on without delay.",
                shown::time(r.time),
                tasks::times(r.grown),
                tasks::times(r.most),
            );
            return Some(slip("past-its-height", Strength::Unusual, text));
        }
        if stays && r.stands_too_long() {
            let bears = r.stands_until.map_or(String::new(), |t| format!("; it bears {}", shown::time(t)));
            let late = if name == "final proof" {
                "If it is late all the same, bake it at once: it comes out lower."
            } else {
                "If it is late all the same, knock it back and shape it, with a shorter proof."
            };
            let text = format!(
                "The {name} stands {}{bears}. It will be past its best and sinking. Use less yeast or culture, a cooler place, or a shorter stay. {late}",
                shown::time(r.time)
            );
            return Some(slip("stands-too-long", Strength::Warning, text));
        }
        if stays && wish.target > 1.0 && r.grown - 1.0 < 0.5 * (wish.target - 1.0) && !r.fallen {
            let text = format!(
                "The {name} comes to {} times its size in the time it is given, and {} is wished: far too little yeast or culture for it, or too cold. Give it more of one, or longer.",
                tasks::times((20.0 * r.grown).round() / 20.0),
                tasks::times(wish.target)
            );
            return Some(slip("too-young", Strength::Warning, text));
        }
        if !stays && !r.reached && r.most >= wish.target {
            let when = if r.time.0 > 60.0 * 71.0 {
                " within three days".to_owned()
            } else {
                format!("; after {} it hardly grows any more", shown::time(r.time))
            };
            let text = format!(
                "The {name} does not get to {} times its size{when}. Use more yeast or culture, or a warmer place.",
                tasks::times(wish.target)
            );
            return Some(slip("does-not-get-there", Strength::Warning, text));
        }
        if !stays
            && r.time.0 > 60.0 * LONG_RISE
            && wish.legs.is_empty()
            && wish.place.is_none_or(|p| p.0 > 12.0)
        {
            let text = format!(
                "The {name} takes {} as it stands. Was more yeast meant, or a warmer place?",
                shown::time(r.time)
            );
            return Some(slip("rise-very-long", Strength::Warning, text));
        }
    }
    None
}

/// A levain or preferment that is past its best when it is used, or not ripe.
fn levains_that_fail(s: &Stations) -> Option<Slip> {
    for a in &s.ahead {
        let Some(r) = &a.ripening else { continue };
        let name = a.stage.name().to_lowercase();
        if !r.ripens {
            let text = format!(
                "The {name} does not ripen within three days at {:.0} °C. Give it more seed, or a warmer place.",
                a.place.0
            );
            return Some(slip("levain-not-ripe", Strength::Warning, text));
        }
        if a.time.0 > r.good_until.0 + 1.0 {
            let text = format!(
                "The {name} stands {} and is past its best after {}: sour, slack and slow. Give it less seed, a cooler place, or a shorter time.",
                shown::time(a.time),
                shown::time(r.good_until)
            );
            return Some(slip("levain-over-ripe", Strength::Warning, text));
        }
        if a.time.0 < 0.6 * r.early.0 {
            let text = format!(
                "The {name} stands {} and is ripe only after {}. Give it more seed, a warmer place, or longer.",
                shown::time(a.time),
                shown::time(r.time)
            );
            return Some(slip("levain-not-ripe", Strength::Warning, text));
        }
    }
    None
}

/// How far an oven that is insisted on may be from what colour and core ask for before it is worth a
/// word, K (common practice, no source).
const OVEN_FAR: f64 = 35.0;

/// An oven far too cool or too hot for this dough, or past the end of its dial.
fn oven_out_of_the_way(f: &Formula, kitchen: &Kitchen, s: &Stations) -> Option<Slip> {
    let wanted = f.oven.temperature?;
    let (low, high) = crate::oven::usual_range(f.style, f.shape.kind, f.oven.vessel);
    if wanted > kitchen.oven_hottest + Celsius(2.0) {
        let text = format!("This oven's dial ends at {:.0} °C.", kitchen.oven_hottest.0);
        return Some(slip("oven-past-its-end", Strength::Warning, text));
    }
    let off = if wanted.0 < low - OVEN_FAR {
        "cool"
    } else if wanted.0 > high + OVEN_FAR {
        "hot"
    } else {
        return None;
    };
    let what =
        if off == "cool" { "dries out before it browns" } else { "burns outside before it is done inside" };
    let text = format!(
        "An oven of {:.0} °C is far too {off} for {}: {low:.0} to {high:.0} °C is usual. It {what}. It takes {} by this setting.",
        wanted.0,
        f.style.name().to_lowercase(),
        shown::time(s.bake.time)
    );
    Some(slip("oven-far", Strength::Warning, text))
}
