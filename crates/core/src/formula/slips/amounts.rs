//! Slips of amounts: salt, fat, sugar, spice, lines that are empty or twice.

use super::look::{Look, g, part_word, set, times};
use super::slip::{Slip, Strength, slip};
use crate::formula::{Line, scale};
use crate::pantry::Group;
use crate::units::{Grams, OUNCE, shown};
use crate::words::{Method, Stage, Style};

pub(super) fn ounces_for_grams(s: &Look) -> Option<Slip> {
    // A household bakes from about 150 g of flour up; 8 to 60 of anything was weighed in ounces.
    if !(8.0..=60.0).contains(&s.flour()) || s.k.dough.0 > 120.0 {
        return None;
    }
    let text = format!("There are only {} of flour. These look like ounces written as grams.", g(s.flour()));
    let slip = slip("ounces-for-grams", Strength::Warning, text);
    Some(slip.mended("Read them as ounces", s.f, |f| {
        // A formula this light cannot grow over the heaviest line.
        let _ = scale(f, OUNCE);
    }))
}

pub(super) fn salt(s: &Look) -> Option<Slip> {
    let at = shown::percent(s.k.salt);
    let is_salt = |l: &Line| s.c.get(&l.ingredient).is_some_and(|i| i.group == Group::Salt);
    let weighed = s.sum(|l, _| is_salt(l));
    let by = |factor: f64| g(weighed * factor);
    // A mend that would be unusual again is none: then it goes to the usual 2 %, what else is salty left.
    let brought = s.k.salt.0 - Grams(weighed).percent_of(s.k.flour).0;
    let mend = |factor: f64| {
        let own = Grams(weighed).percent_of(s.k.flour).0;
        let then = brought + own * factor;
        if (1.75..=2.25).contains(&then) { factor } else { (2.0 - brought).max(0.5) / own }
    };
    let usual = "It sets the taste and the speed of the rise.";
    match s.k.salt.0 {
        x if x < 0.05 => {
            let text = "There is no salt. The bread will taste flat and the dough will rise too fast and slack. Add 1.8 to 2.2 % of the flour.";
            let grams = 0.02 * s.flour();
            let slip = slip("salt-missing", Strength::Strong, text);
            Some(slip.mended(format!("Add {}", g(grams)), s.f, |f| set(f, "salt", grams)))
        }
        x if x >= 12.0 && weighed > 0.0 => {
            let text = format!(
                "Salt is {at} % of the flour, about ten times the usual 2. A decimal point has moved. {usual}"
            );
            let slip = slip("salt-tenfold", Strength::Strong, text);
            Some(slip.mended(format!("Use {}", by(mend(0.1))), s.f, |f| times(f, mend(0.1), is_salt)))
        }
        x if x >= 4.8 && weighed > 0.0 => {
            let text = format!(
                "Salt is {at} % of the flour, about {:.0} times the usual 2: a tablespoon where a teaspoon was meant. {usual}",
                x / 2.0
            );
            let slip = slip("salt-spoon", Strength::Strong, text);
            let k = mend(1.0 / 3.0);
            Some(slip.mended(format!("Use {}", by(k)), s.f, |f| times(f, k, is_salt)))
        }
        x if x < 0.8 && weighed > 0.0 => {
            let text = format!(
                "Salt is {at} % of the flour, about {} of the usual 2: a teaspoon where a tablespoon was meant. {usual}",
                part_word(x / 2.0)
            );
            let slip = slip("salt-spoon", Strength::Warning, text);
            let k = mend(3.0);
            Some(slip.mended(format!("Use {}", by(k)), s.f, |f| times(f, k, is_salt)))
        }
        x if !(1.2..=2.5).contains(&x) => {
            let text = format!(
                "Salt is {at} % of the flour; 1.8 to 2.2 is usual. {usual} Check the spoon and the line."
            );
            Some(slip("salt-far", Strength::Warning, text))
        }
        x if !(1.75..=2.25).contains(&x) => {
            let text = format!(
                "Salt is {at} % of the flour, a little outside the usual 1.8 to 2.2. Keep it if you like it so."
            );
            Some(slip("salt-unusual", Strength::Unusual, text))
        }
        _ => None,
    }
}

pub(super) fn line_empty(s: &Look) -> Option<Slip> {
    let (_, empty) = s.lines().find(|(l, _)| l.grams.0 == 0.0)?;
    let text = format!("{} has no weight. Weigh it, or take the line out.", empty.name);
    let slip = slip("line-empty", Strength::Unusual, text);
    Some(slip.mended("Take empty lines out", s.f, |f| f.lines.retain(|l| l.grams.0 > 0.0)))
}

pub(super) fn line_twice(s: &Look) -> Option<Slip> {
    let twice = |l: &Line| {
        // Two lines with notes of their own are two things: “sifted”, “for the paste”.
        let same = |o: &&Line| o.stage == l.stage && o.ingredient == l.ingredient && o.note == l.note;
        s.f.lines.iter().filter(same).count() > 1
    };
    let (line, i) = s.lines().find(|(l, _)| twice(l))?;
    let text =
        format!("{} stands twice in {}. Was it entered twice?", i.name, line.stage.name().to_lowercase());
    let slip = slip("line-twice", Strength::Unusual, text);
    let (key, stage) = (line.ingredient.clone(), line.stage);
    Some(slip.mended("Make them one line", s.f, |f| {
        let same = |l: &Line| l.stage == stage && l.ingredient == key;
        let total = f.lines.iter().filter(|l| same(l)).map(|l| l.grams).sum();
        let mut first = true;
        f.lines.retain_mut(|l| {
            if !same(l) {
                return true;
            }
            l.grams = total;
            std::mem::take(&mut first)
        });
    }))
}

pub(super) fn butter_early(s: &Look) -> Option<Slip> {
    let fat = s.sum(|l, i| l.stage == Stage::Dough && i.group == Group::Fat && i.per_100g.water > 5.0);
    let share = Grams(fat).percent_of(s.k.flour).0;
    let kneaded = matches!(s.f.mix.method, Method::Hand | Method::Mixer);
    if share <= 18.0 || !kneaded {
        return None;
    }
    let text = format!(
        "Butter is {share:.0} % of the flour and goes in with it. It coats the flour before gluten has formed. Work it in late, in portions."
    );
    let slip = slip("butter-early", Strength::Unusual, text);
    Some(slip.mended("Make it late butter", s.f, |f| {
        for l in f.lines.iter_mut().filter(|l| l.stage == Stage::Dough) {
            if s.c.get(&l.ingredient).is_some_and(|i| i.group == Group::Fat && i.per_100g.water > 5.0) {
                l.stage = Stage::LateButter;
            }
        }
        f.lines.sort_by_key(|l| l.stage);
    }))
}

pub(super) fn malt_much(s: &Look) -> Option<Slip> {
    let malt = s.percent("diastatic-malt");
    if malt <= 1.5 {
        return None;
    }
    let text = format!(
        "Diastatic malt is {malt:.1} % of the flour; 0.2 to 1 is usual. Its enzymes turn the crumb gummy."
    );
    let slip = slip("malt-much", Strength::Warning, text);
    let grams = 0.005 * s.flour();
    Some(slip.mended(format!("Use {}", g(grams)), s.f, |f| set(f, "diastatic-malt", grams)))
}

pub(super) fn gluten_much(s: &Look) -> Option<Slip> {
    let gluten = s.percent("vital-gluten");
    (gluten > 8.0).then(|| {
        slip(
            "gluten-much",
            Strength::Unusual,
            format!("Vital gluten is {gluten:.0} % of the flour; 1 to 5 is usual. The dough will be rubbery and want more water."),
        )
    })
}

/// Fat over which a dough is hardly one any more, and over which a decimal point has moved, per cent of
/// flour: the richest doughs have about as much butter as half their flour or a little more.
const FAT_MUCH: f64 = 65.0;

const FAT_TENFOLD: f64 = 110.0;

pub(super) fn fat_much(s: &Look) -> Option<Slip> {
    let fat = s.k.fat.0;
    if fat <= FAT_MUCH {
        return None;
    }
    let is_fat =
        |l: &Line| s.c.get(&l.ingredient).is_some_and(|i| i.group == Group::Fat) && l.stage.in_dough();
    let weighed = s.sum(|l, _| is_fat(l));
    if fat > FAT_TENFOLD && weighed > 0.0 {
        let text = format!(
            "Fat is {fat:.0} % of the flour; even the richest doughs stay under 60. A decimal point may have moved."
        );
        let slip = slip("fat-tenfold", Strength::Strong, text);
        return Some(slip.mended(format!("Use {}", g(0.1 * weighed)), s.f, |f| times(f, 0.1, is_fat)));
    }
    let text = format!(
        "Fat is {fat:.0} % of the flour; even the richest doughs stay under 60. It will hardly hold together or rise."
    );
    Some(slip("fat-much", Strength::Warning, text))
}

/// Sugar over which yeast all but stops, and over which a decimal point has moved, per cent of flour.
const SUGAR_MUCH: f64 = 45.0;

const SUGAR_TENFOLD: f64 = 100.0;

pub(super) fn sugar_much(s: &Look) -> Option<Slip> {
    let sugar = s.k.fermentable_sugar.0;
    if sugar <= SUGAR_MUCH {
        return None;
    }
    let is_sugar =
        |l: &Line| s.c.get(&l.ingredient).is_some_and(|i| i.group == Group::Sugar) && l.stage.in_dough();
    let weighed = s.sum(|l, _| is_sugar(l));
    if sugar > SUGAR_TENFOLD && weighed > 0.0 {
        let text = format!(
            "Sugar is {sugar:.0} % of the flour; sweet doughs have 10 to 25. A decimal point may have moved."
        );
        let slip = slip("sugar-tenfold", Strength::Strong, text);
        return Some(slip.mended(format!("Use {}", g(0.1 * weighed)), s.f, |f| times(f, 0.1, is_sugar)));
    }
    let text = format!(
        "Sugar is {sugar:.0} % of the flour; sweet doughs have 10 to 25. Yeast all but stops at that."
    );
    Some(slip("sugar-much", Strength::Warning, text))
}

/// A ground spice over which a decimal point has moved, per cent of flour.
const SPICE_TENFOLD: f64 = 6.0;

pub(super) fn spice_tenfold(s: &Look) -> Option<Slip> {
    let much = |l: &Line| Grams(l.grams.0).percent_of(s.k.flour).0 > SPICE_TENFOLD;
    let of_dough = |l: &Line| l.stage == Stage::Dough;
    let seeds =
        ["fennel-seed", "coriander-seed", "cumin", "caraway", "fresh-herbs", "fresh-ginger", "vanilla"];
    let (line, i) = s
        .lines()
        .find(|(l, i)| i.group == Group::Spice && of_dough(l) && much(l) && !seeds.contains(&i.kin()))?;
    let text = format!(
        "{} is {:.0} % of the flour. A spoon or two is usual. A decimal point may have moved.",
        i.name,
        line.grams.percent_of(s.k.flour).0
    );
    let slip = slip("spice-tenfold", Strength::Warning, text);
    let (key, less) = (line.ingredient.clone(), 0.1 * line.grams.0);
    Some(
        slip.mended(format!("Use {}", g(less)), s.f, |f| {
            times(f, 0.1, |l| l.ingredient == key && of_dough(l))
        }),
    )
}

/// Egg over which a bread is a cake, per cent of flour.
const EGG_MUCH: f64 = 80.0;

pub(super) fn egg_much(s: &Look) -> Option<Slip> {
    let egg = Grams(s.sum(|_, i| i.group == Group::Egg)).percent_of(s.k.flour).0;
    (egg > EGG_MUCH && s.f.style != Style::GlutenFree).then(|| {
        let text = format!(
            "Egg is {egg:.0} % of the flour; the richest doughs have about 60. Were eggs counted twice?"
        );
        slip("egg-much", Strength::Unusual, text)
    })
}
