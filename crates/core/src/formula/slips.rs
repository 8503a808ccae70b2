//! Slips: figures that a baker would want to be asked about.
//!
//! Each rule looks at one thing and says what, why and what to do; where one mend is likely it
//! brings the mended formula. Every limit is common practice, without a source; those that are not in a
//! style's own range have a name below. A slip that was answered “I mean it” stays known, but is not
//! said again.

use super::meant::oven_meant;
use crate::mix::DESIRED;
use crate::oven::OVEN;
use crate::rise::PLACE;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::{Figures, Formula, Line, ScaleTo, figures, known, scale, scale_to};
use crate::pantry::{Catalogue, Group, Ingredient};
use crate::units::{Celsius, Grams, shown};
use crate::words::Method;
use crate::words::Vessel;
use crate::words::{Handling, Stage, Style};

/// How loudly a slip is said.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Strength {
    /// Unusual, perhaps meant.
    Unusual,
    /// Likely to spoil the bread.
    Warning,
    /// Almost surely a slip.
    Strong,
}

impl Strength {
    /// The word that goes before it.
    pub fn word(self) -> &'static str {
        match self {
            Strength::Unusual => "Unusual",
            Strength::Warning => "Look again",
            Strength::Strong => "Stop and check",
        }
    }
}

/// What would mend a slip, in one press.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Mend {
    /// What it does: “Use 4 g”.
    pub label: String,
    /// The formula mended.
    #[serde(skip)]
    pub formula: Box<Formula>,
}

/// One slip.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Slip {
    /// A short word for programs, such as `salt-missing`.
    pub code: &'static str,
    /// How loudly to say it.
    pub strength: Strength,
    /// What, why and what to do.
    pub text: String,
    /// What would mend it, where one thing is likely.
    pub mend: Option<Mend>,
    /// Whether it was answered “I mean it”.
    pub meant: bool,
}

pub(crate) fn slip(code: &'static str, strength: Strength, text: impl Into<String>) -> Slip {
    Slip { code, strength, text: text.into(), mend: None, meant: false }
}

impl Slip {
    /// With a mend: a change to a copy of the formula.
    fn mended(
        mut self,
        label: impl Into<String>,
        formula: &Formula,
        change: impl FnOnce(&mut Formula),
    ) -> Slip {
        let mut copy = formula.clone();
        change(&mut copy);
        self.mend = Some(Mend { label: label.into(), formula: Box::new(copy) });
        self
    }
}

/// What the rules look at.
struct Look<'a> {
    f: &'a Formula,
    k: &'a Figures,
    c: &'a Catalogue,
}

type Rule = fn(&Look) -> Option<Slip>;

/// The rules, in the order in which a baker would check.
const RULES: [Rule; 43] = [
    ounces_for_grams,
    salt,
    yeast,
    levain_not_alive,
    hydration,
    line_empty,
    line_twice,
    self_raising,
    nothing_to_bloom_in,
    sugar_slows,
    spice_slows,
    butter_early,
    malt_much,
    gluten_much,
    prefermented_much,
    scald_ratio,
    soaker_dry,
    goes_in_hot,
    held_back_much,
    gluten_in_gluten_free,
    no_binder,
    not_free_of,
    soda_or_lye_in_dough,
    oven_fahrenheit,
    oven_celsius_as_fahrenheit,
    dough_fahrenheit,
    place_fahrenheit,
    piece_ounces,
    pieces_do_not_add_up,
    bath_aluminium,
    bath_strength,
    knocked_down_wet,
    rise_past_the_dough,
    strand_size,
    fat_much,
    sugar_much,
    spice_tenfold,
    preferment_hot,
    dry_yeast_not_bloomed,
    no_such_plait,
    egg_much,
    levain_seed_little,
    piece_too_heavy,
];

/// Everything that looks like a slip, those that were meant included.
pub fn slips(formula: &Formula, figures: &Figures, catalogue: &Catalogue) -> Vec<Slip> {
    let look = Look { f: formula, k: figures, c: catalogue };
    let mut found: Vec<Slip> = RULES.iter().filter_map(|rule| rule(&look)).collect();
    mark_meant(&mut found, formula);
    found
}

/// Marks those that were answered “I mean it”.
pub(crate) fn mark_meant(slips: &mut [Slip], formula: &Formula) {
    slips.iter_mut().for_each(|s| s.meant = formula.meant.iter().any(|m| m == s.code));
}

impl Look<'_> {
    fn lines(&self) -> impl Iterator<Item = (&Line, &Ingredient)> {
        known(self.f, self.c)
    }

    fn stage(&self, stage: Stage) -> impl Iterator<Item = (&Line, &Ingredient)> {
        self.lines().filter(move |(l, _)| l.stage == stage)
    }

    /// Grams of what fits, in the dough.
    fn sum(&self, fits: impl Fn(&Line, &Ingredient) -> bool) -> f64 {
        self.lines().filter(|(l, i)| l.stage.in_dough() && fits(l, i)).map(|(l, _)| l.grams.0).sum()
    }

    /// Per cent of flour of an ingredient of the dough.
    fn percent(&self, key: &str) -> f64 {
        Grams(self.sum(|_, i| i.kin() == key)).percent_of(self.k.flour).0
    }

    fn flour(&self) -> f64 {
        self.k.flour.0
    }
}

/// Multiplies what fits.
fn times(f: &mut Formula, factor: f64, fits: impl Fn(&Line) -> bool) {
    f.lines.iter_mut().filter(|l| fits(l)).for_each(|l| l.grams = l.grams * factor);
}

/// Sets an ingredient of the dough to so many grams, on a new line where there is none.
fn set(f: &mut Formula, key: &str, grams: f64) {
    match f.lines.iter_mut().find(|l| l.ingredient == key && l.stage.in_dough()) {
        Some(line) => line.grams = Grams(grams),
        None => {
            let at = f.lines.iter().take_while(|l| l.stage <= Stage::Dough).count();
            f.lines.insert(at, Line::new(key, Stage::Dough, Grams(grams)));
        }
    }
}

fn g(x: f64) -> String {
    format!("{} g", shown::grams(Grams(x)))
}

fn ounces_for_grams(s: &Look) -> Option<Slip> {
    // A household bakes from about 150 g of flour up; 8 to 60 of anything was weighed in ounces.
    if !(8.0..=60.0).contains(&s.flour()) || s.k.dough.0 > 120.0 {
        return None;
    }
    let text = format!("There are only {} of flour. These look like ounces written as grams.", g(s.flour()));
    let slip = slip("ounces-for-grams", Strength::Warning, text);
    Some(slip.mended("Read them as ounces", s.f, |f| {
        // A formula this light cannot grow over the heaviest line.
        let _ = scale(f, 28.349_523_125);
    }))
}

fn salt(s: &Look) -> Option<Slip> {
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

/// A part of one in words: a third, a fifth.
fn part_word(x: f64) -> &'static str {
    match (1.0 / x.max(0.05)).round() as u32 {
        0..=2 => "a half",
        3 => "a third",
        4 => "a quarter",
        5 => "a fifth",
        6..=7 => "a sixth",
        8..=9 => "an eighth",
        _ => "a tenth or less",
    }
}

fn yeast(s: &Look) -> Option<Slip> {
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

fn levain_not_alive(s: &Look) -> Option<Slip> {
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

fn hydration(s: &Look) -> Option<Slip> {
    let (low, high) = usual_hydration(s);
    let h = s.k.effective_hydration.0;
    if (low..=high).contains(&h) {
        return None;
    }
    if (h < TENFOLD.0 * low || h > TENFOLD.1 * high)
        && let Some(slip) = moved_point(s, low, high)
    {
        return Some(slip);
    }
    let (how, why) =
        if h < low { ("dry", "stiff and slow to rise") } else { ("wet", "slack and hard to shape") };
    let strength = match (low - h).max(h - high) {
        off if off > 25.0 => Strength::Strong,
        off if off > 12.0 => Strength::Warning,
        _ => Strength::Unusual,
    };
    let text = format!(
        "Effective hydration is {h:.0} %, {how} for {}: {low:.0} to {high:.0} % is usual. The dough will be {why}. Check flour and liquids, or choose another style.",
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

fn line_empty(s: &Look) -> Option<Slip> {
    let (_, empty) = s.lines().find(|(l, _)| l.grams.0 == 0.0)?;
    let text = format!("{} has no weight. Weigh it, or take the line out.", empty.name);
    let slip = slip("line-empty", Strength::Unusual, text);
    Some(slip.mended("Take empty lines out", s.f, |f| f.lines.retain(|l| l.grams.0 > 0.0)))
}

fn line_twice(s: &Look) -> Option<Slip> {
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

fn self_raising(s: &Look) -> Option<Slip> {
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

fn nothing_to_bloom_in(s: &Look) -> Option<Slip> {
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
            l.grams = l.grams * (0.33 / 0.4);
        }
    }))
}

fn sugar_slows(s: &Look) -> Option<Slip> {
    let sugar = s.k.fermentable_sugar.0;
    (sugar > 28.0).then(|| {
        slip(
            "sugar-slows",
            Strength::Unusual,
            format!("Sugar is {sugar:.0} % of the flour. Over about 25 it draws the water from the yeast and the rise crawls. Give it time, or less sugar."),
        )
    })
}

fn spice_slows(s: &Look) -> Option<Slip> {
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

fn butter_early(s: &Look) -> Option<Slip> {
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

fn malt_much(s: &Look) -> Option<Slip> {
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

fn gluten_much(s: &Look) -> Option<Slip> {
    let gluten = s.percent("vital-gluten");
    (gluten > 8.0).then(|| {
        slip(
            "gluten-much",
            Strength::Unusual,
            format!("Vital gluten is {gluten:.0} % of the flour; 1 to 5 is usual. The dough will be rubbery and want more water."),
        )
    })
}

fn prefermented_much(s: &Look) -> Option<Slip> {
    let share = s.k.prefermented.0;
    (share > 55.0).then(|| {
        slip(
            "prefermented-much",
            Strength::Unusual,
            format!("{share:.0} % of the flour ferments ahead; 10 to 50 is usual. The dough will be sour and slack, and past its best soon."),
        )
    })
}

fn scald_ratio(s: &Look) -> Option<Slip> {
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

fn soaker_dry(s: &Look) -> Option<Slip> {
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

fn goes_in_hot(s: &Look) -> Option<Slip> {
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

fn held_back_much(s: &Look) -> Option<Slip> {
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

fn gluten_in_gluten_free(s: &Look) -> Option<Slip> {
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

fn no_binder(s: &Look) -> Option<Slip> {
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

fn not_free_of(s: &Look) -> Option<Slip> {
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

fn soda_or_lye_in_dough(s: &Look) -> Option<Slip> {
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

/// An oven temperature over what household ovens reach was read in °F.
fn oven_fahrenheit(s: &Look) -> Option<Slip> {
    let t = s.f.oven.temperature.filter(|t| t.0 > OVEN.high)?;
    let meant = oven_meant(t);
    let text = format!(
        "No household oven reaches {:.0} °C. {:.0} °F is {:.0} °C, and is taken for it here.",
        t.0, t.0, meant.0
    );
    let slip = slip("oven-fahrenheit", Strength::Strong, text);
    Some(slip.mended(format!("Set it to {:.0} °C", meant.0), s.f, |f| f.oven.temperature = Some(meant)))
}

fn oven_celsius_as_fahrenheit(s: &Look) -> Option<Slip> {
    let t = s.f.oven.temperature.filter(|t| t.0 < OVEN.low)?;
    let meant = oven_meant(t);
    let text = format!(
        "Bread does not bake at {:.0} °C. That is what {:.0} °C looks like when it was read as °F; it is taken for that here.",
        t.0, meant.0
    );
    let slip = slip("oven-celsius-as-fahrenheit", Strength::Strong, text);
    Some(slip.mended(format!("Set it to {:.0} °C", meant.0), s.f, |f| f.oven.temperature = Some(meant)))
}

fn dough_fahrenheit(s: &Look) -> Option<Slip> {
    let t = s.f.mix.desired;
    if t.0 <= DESIRED.high {
        return None;
    }
    let meant = DESIRED.meant(t);
    let text = format!(
        "A dough of {:.0} °C is dead. {:.0} °F is {:.0} °C, and is taken for it here.",
        t.0, t.0, meant.0
    );
    let slip = slip("dough-fahrenheit", Strength::Strong, text);
    Some(slip.mended(format!("Set it to {:.0} °C", meant.0), s.f, |f| f.mix.desired = meant))
}

fn place_fahrenheit(s: &Look) -> Option<Slip> {
    let r = &s.f.rise;
    let t = [r.bulk.place, r.second.place, r.proof.place, r.levain_place]
        .into_iter()
        .flatten()
        .find(|t| t.0 > PLACE.high)?;
    let text = format!(
        "A place of {:.0} °C kills the dough. {:.0} °F is {:.0} °C, and is taken for it here.",
        t.0,
        t.0,
        PLACE.meant(t).0
    );
    let slip = slip("place-fahrenheit", Strength::Strong, text);
    Some(slip.mended("Read it as °F", s.f, |f| {
        let r = &mut f.rise;
        let places = [&mut r.bulk.place, &mut r.second.place, &mut r.proof.place, &mut r.levain_place];
        for place in places.into_iter().flatten() {
            *place = PLACE.meant(*place);
        }
    }))
}

fn piece_ounces(s: &Look) -> Option<Slip> {
    let w = s.f.shape.piece_weight.filter(|w| w.0 < 20.0)?;
    let grams = Grams((w.0 * 28.349_523_125).round());
    let text =
        format!("Pieces of {} are smaller than a walnut. {} oz are {}.", g(w.0), shown::grams(w), g(grams.0));
    let slip = slip("piece-ounces", Strength::Warning, text);
    Some(slip.mended(format!("Make them {}", g(grams.0)), s.f, |f| f.shape.piece_weight = Some(grams)))
}

fn pieces_do_not_add_up(s: &Look) -> Option<Slip> {
    let w = s.f.shape.piece_weight.filter(|w| w.0 >= 20.0)?;
    let others: f64 = s.f.makeups.iter().map(|m| m.piece_weight.0 * f64::from(m.pieces)).sum();
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

fn alkali(i: &Ingredient) -> bool {
    matches!(i.kin(), "lye" | "baking-soda" | "washing-soda")
}

fn bath_aluminium(s: &Look) -> Option<Slip> {
    let bath = s.stage(Stage::Bath).any(|(l, i)| l.grams.0 > 0.0 && alkali(i));
    if !bath || !matches!(s.f.oven.vessel, Vessel::Sheet | Vessel::Tin) {
        return None;
    }
    let text = "An alkaline bath eats aluminium, and many sheets and tins are made of it. Steel, or parchment or silicone between; the bath itself in steel or glass.";
    Some(slip("bath-aluminium", Strength::Warning, text))
}

fn bath_strength(s: &Look) -> Option<Slip> {
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

fn knocked_down_wet(s: &Look) -> Option<Slip> {
    let wet = s.k.effective_hydration.0 > 82.0 && s.f.style != Style::GlutenFree && s.k.rye.0 < 40.0;
    if !wet || s.f.rise.handling != Handling::Firm || s.f.mix.method == Method::None {
        return None;
    }
    let text = format!(
        "At {:.0} % water a dough that is knocked down does not come back. Handle it gently.",
        s.k.effective_hydration.0
    );
    let slip = slip("knocked-down-wet", Strength::Unusual, text);
    Some(slip.mended("Handle gently", s.f, |f| f.rise.handling = Handling::Gentle))
}

fn rise_past_the_dough(s: &Look) -> Option<Slip> {
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

fn strand_size(s: &Look) -> Option<Slip> {
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

/// Fat over which a dough is hardly one any more, and over which a decimal point has moved, per cent of
/// flour: the richest doughs have about as much butter as half their flour or a little more.
const FAT_MUCH: f64 = 65.0;
const FAT_TENFOLD: f64 = 110.0;

fn fat_much(s: &Look) -> Option<Slip> {
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

fn sugar_much(s: &Look) -> Option<Slip> {
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

fn spice_tenfold(s: &Look) -> Option<Slip> {
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

/// A preferment that is said to go in hotter than yeast bears.
fn preferment_hot(s: &Look) -> Option<Slip> {
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
fn dry_yeast_not_bloomed(s: &Look) -> Option<Slip> {
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

/// Plaits that are drawn and described.
const STRANDS_MAX: u32 = 6;

fn no_such_plait(s: &Look) -> Option<Slip> {
    let n = s.f.shape.strands;
    (s.f.shape.kind == crate::words::Kind::Braid && n > STRANDS_MAX).then(|| {
        let text = format!(
            "There is no plait of {n} strands here, only its strands' weights. Up to {STRANDS_MAX} are drawn."
        );
        slip("no-such-plait", Strength::Unusual, text)
            .mended("Take six strands", s.f, |f| f.shape.strands = STRANDS_MAX)
    })
}

/// Egg over which a bread is a cake, per cent of flour.
const EGG_MUCH: f64 = 80.0;

fn egg_much(s: &Look) -> Option<Slip> {
    let egg = Grams(s.sum(|_, i| i.group == Group::Egg)).percent_of(s.k.flour).0;
    (egg > EGG_MUCH && s.f.style != Style::GlutenFree).then(|| {
        let text = format!(
            "Egg is {egg:.0} % of the flour; the richest doughs have about 60. Were eggs counted twice?"
        );
        slip("egg-much", Strength::Unusual, text)
    })
}

/// The least seed with which a levain comes to life in a day, per cent of its flour.
const SEED_LEAST: f64 = 1.0;

fn levain_seed_little(s: &Look) -> Option<Slip> {
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

/// The heaviest piece that a household oven bakes through well, g.
const PIECE_HEAVIEST: f64 = 3500.0;

fn piece_too_heavy(s: &Look) -> Option<Slip> {
    let others: f64 = s.f.makeups.iter().map(|m| m.piece_weight.0 * f64::from(m.pieces)).sum();
    let each = s.f.shape.piece_weight.map_or((s.k.dough.0 - others) / f64::from(s.f.shape.pieces), |w| w.0);
    (each > PIECE_HEAVIEST && s.f.shape.kind != crate::words::Kind::Flat).then(|| {
        let text = format!(
            "A piece of {} is more than a household oven bakes through. Divide it into more.",
            g(each)
        );
        slip("piece-too-heavy", Strength::Warning, text)
    })
}
