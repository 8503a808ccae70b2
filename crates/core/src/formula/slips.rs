//! Slips: figures that a baker would want to be asked about.
//!
//! Each rule looks at one thing and says what, why and what to do; where one mend is likely it
//! brings the mended formula. The ranges are common practice, without a source. A slip that was
//! answered “I mean it” stays known, but is not said again.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::{Figures, Formula, Handling, Line, ScaleTo, Stage, Style, figures, known, scale, scale_to};
use crate::ingredient::{Catalogue, Group, Ingredient};
use crate::mixing::Method;
use crate::oven::Vessel;
use crate::units::{Celsius, Grams, shown};

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
const RULES: [Rule; 34] = [
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
        Grams(self.sum(|l, _| l.ingredient == key)).percent_of(self.k.flour).0
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
            Some(slip.mended(format!("Use {}", by(0.1)), s.f, |f| times(f, 0.1, is_salt)))
        }
        x if x >= 4.8 && weighed > 0.0 => {
            let text = format!(
                "Salt is {at} % of the flour, about three times the usual 2: a tablespoon where a teaspoon was meant. {usual}"
            );
            let slip = slip("salt-spoon", Strength::Strong, text);
            Some(slip.mended(format!("Use {}", by(1.0 / 3.0)), s.f, |f| times(f, 1.0 / 3.0, is_salt)))
        }
        x if x < 0.8 && weighed > 0.0 => {
            let text = format!(
                "Salt is {at} % of the flour, about a third of the usual 2: a teaspoon where a tablespoon was meant. {usual}"
            );
            let slip = slip("salt-spoon", Strength::Warning, text);
            Some(slip.mended(format!("Use {}", by(3.0)), s.f, |f| times(f, 3.0, is_salt)))
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
        return Some(slip.mended(format!("Use {}", g(weighed / 10.0)), s.f, |f| times(f, 0.1, is_yeast)));
    }
    if y > most {
        let dry = s.sum(|_, i| matches!(i.key.as_str(), "instant-yeast" | "active-dry-yeast"));
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
        _ => (low, high + 0.08 * s.k.whole_grain.0),
    }
}

fn hydration(s: &Look) -> Option<Slip> {
    let (low, high) = usual_hydration(s);
    let h = s.k.effective_hydration.0;
    if (low..=high).contains(&h) {
        return None;
    }
    if let Some(slip) = moved_point(s, low, high) {
        return Some(slip);
    }
    let (how, why) =
        if h < low { ("dry", "stiff and slow to rise") } else { ("wet", "slack and hard to shape") };
    let strength = if (low - h).max(h - high) > 15.0 { Strength::Strong } else { Strength::Unusual };
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
        s.f.lines.iter().filter(|o| o.stage == l.stage && o.ingredient == l.ingredient).count() > 1
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
    if s.sum(|l, _| l.ingredient == "self-raising-flour") == 0.0
        || s.k.instant_yeast.0 + s.k.inoculation.0 == 0.0
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
    let dry = s.stage(Stage::Dough).find(|(l, _)| l.ingredient == "active-dry-yeast")?.0.grams.0;
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
    let t = s.f.oven.temperature.filter(|t| t.0 > OVEN_MAX)?;
    let meant = oven_meant(t);
    let text = format!(
        "No household oven reaches {:.0} °C. {:.0} °F is {:.0} °C, and is taken for it here.",
        t.0, t.0, meant.0
    );
    let slip = slip("oven-fahrenheit", Strength::Strong, text);
    Some(slip.mended(format!("Set it to {:.0} °C", meant.0), s.f, |f| f.oven.temperature = Some(meant)))
}

fn oven_celsius_as_fahrenheit(s: &Look) -> Option<Slip> {
    let t = s.f.oven.temperature.filter(|t| t.0 < OVEN_MIN)?;
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
    if t.0 <= DOUGH_MAX {
        return None;
    }
    let meant = dough_meant(t);
    let text = format!(
        "A dough of {:.0} °C is dead. {:.0} °F is {:.0} °C, and is taken for it here.",
        t.0, t.0, meant.0
    );
    let slip = slip("dough-fahrenheit", Strength::Strong, text);
    Some(slip.mended(format!("Set it to {:.0} °C", meant.0), s.f, |f| f.mix.desired = meant))
}

fn place_fahrenheit(s: &Look) -> Option<Slip> {
    let r = &s.f.rise;
    let t = [r.bulk.place, r.proof.place, r.levain_place].into_iter().flatten().find(|t| t.0 > PLACE_MAX)?;
    let text = format!(
        "A place of {:.0} °C kills the dough. {:.0} °F is {:.0} °C, and is taken for it here.",
        t.0,
        t.0,
        place_meant(t).0
    );
    let slip = slip("place-fahrenheit", Strength::Strong, text);
    Some(slip.mended("Read it as °F", s.f, |f| {
        let r = &mut f.rise;
        for place in [&mut r.bulk.place, &mut r.proof.place, &mut r.levain_place].into_iter().flatten() {
            *place = place_meant(*place);
        }
    }))
}

/// The hottest household oven, °C.
const OVEN_MAX: f64 = 300.0;
/// The coolest that bread is baked at, °C.
const OVEN_MIN: f64 = 120.0;
/// The warmest dough, °C.
const DOUGH_MAX: f64 = 38.0;
/// The warmest place, °C.
const PLACE_MAX: f64 = 45.0;

fn oven_meant(t: Celsius) -> Celsius {
    let meant = match t.0 {
        x if x > OVEN_MAX => Celsius::from_fahrenheit(x).0,
        x if x < OVEN_MIN => Celsius(x).fahrenheit(),
        x => x,
    };
    Celsius(meant.clamp(OVEN_MIN, OVEN_MAX).round())
}

fn dough_meant(t: Celsius) -> Celsius {
    if t.0 > DOUGH_MAX { Celsius(Celsius::from_fahrenheit(t.0).0.clamp(10.0, DOUGH_MAX).round()) } else { t }
}

fn place_meant(t: Celsius) -> Celsius {
    if t.0 > PLACE_MAX { Celsius(Celsius::from_fahrenheit(t.0).0.clamp(0.0, PLACE_MAX).round()) } else { t }
}

impl Formula {
    /// The formula with temperatures that can only be °F read as such: what the engines take until
    /// the slip is mended.
    pub fn as_meant(&self) -> Formula {
        let mut f = self.clone();
        f.oven.temperature =
            f.oven.temperature.map(|t| if (OVEN_MIN..=OVEN_MAX).contains(&t.0) { t } else { oven_meant(t) });
        f.mix.desired = dough_meant(f.mix.desired);
        f.rise.bulk.place = f.rise.bulk.place.map(place_meant);
        f.rise.second.place = f.rise.second.place.map(place_meant);
        f.rise.proof.place = f.rise.proof.place.map(place_meant);
        f.rise.levain_place = f.rise.levain_place.map(place_meant);
        f
    }
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
    matches!(i.key.as_str(), "lye" | "baking-soda" | "washing-soda")
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
    let (lye, water) = (sum(&|i| i.key == "lye"), sum(&|i| i.is_water()));
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
    let far = s.f.rise.proof.target.max(s.f.rise.bulk.target);
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
        f.rise.proof.target = f.rise.proof.target.min(least).max(1.0);
    }))
}

fn strand_size(s: &Look) -> Option<Slip> {
    let braid = s.f.shape.kind == crate::shape::Kind::Braid;
    let strand = s.k.dough.0 / f64::from(s.f.shape.pieces * s.f.shape.strands);
    (braid && s.f.makeups.is_empty() && !(25.0..=450.0).contains(&strand)).then(|| {
        slip(
            "strand-size",
            Strength::Unusual,
            format!("A strand of {} is hard to plait. Change the pieces or the strands.", g(strand)),
        )
    })
}
