//! Slips: figures that a baker would want to be asked about.
//!
//! The ranges are common practice, without a source. Each slip says what, why and what to do.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::{Figures, Formula, Style};
use crate::units::shown;

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

/// One slip.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Slip {
    /// A short word for programs, such as `salt-missing`.
    pub code: &'static str,
    /// How loudly to say it.
    pub strength: Strength,
    /// What, why and what to do.
    pub text: String,
}

fn slip(code: &'static str, strength: Strength, text: impl Into<String>) -> Slip {
    Slip { code, strength, text: text.into() }
}

/// The first slips: salt, yeast and hydration against what is usual.
pub fn slips(formula: &Formula, figures: &Figures) -> Vec<Slip> {
    [salt(figures), yeast(formula, figures), hydration(formula, figures)].into_iter().flatten().collect()
}

fn salt(f: &Figures) -> Option<Slip> {
    let at = shown::percent(f.salt);
    match f.salt.0 {
        s if s < 0.05 => Some(slip(
            "salt-missing",
            Strength::Strong,
            "There is no salt. The bread will taste flat and the dough will rise too fast and slack. Add 1.8 to 2.2 % of the flour.",
        )),
        s if !(1.2..=2.5).contains(&s) => Some(slip(
            "salt-far",
            Strength::Warning,
            format!(
                "Salt is {at} % of the flour; 1.8 to 2.2 is usual. It sets the taste and the speed of the rise. Check the spoon and the line."
            ),
        )),
        s if !(1.75..=2.25).contains(&s) => Some(slip(
            "salt-unusual",
            Strength::Unusual,
            format!(
                "Salt is {at} % of the flour, a little outside the usual 1.8 to 2.2. Keep it if you like it so."
            ),
        )),
        _ => None,
    }
}

fn yeast(formula: &Formula, f: &Figures) -> Option<Slip> {
    let y = f.instant_yeast.0;
    let at = shown::percent(f.instant_yeast);
    let most = formula.style.usual().yeast_max;
    if y == 0.0 && f.inoculation.0 == 0.0 {
        return Some(slip(
            "yeast-missing",
            Strength::Strong,
            "Nothing makes this dough rise. Add yeast, or a ripe culture.",
        ));
    }
    if y > 3.0 {
        return Some(slip(
            "yeast-tenfold",
            Strength::Strong,
            format!(
                "Yeast comes to {at} % as instant yeast, far over the usual {most} %. It may be ten times too much, or fresh yeast written as dry. Check the line."
            ),
        ));
    }
    if y > most {
        return Some(slip(
            "yeast-much",
            Strength::Warning,
            format!(
                "Yeast comes to {at} % as instant yeast; up to {most} % is usual here. The dough will race and taste of yeast. Use less and give it time."
            ),
        ));
    }
    if y > 0.0 && y < 0.05 && f.inoculation.0 < 5.0 {
        return Some(slip(
            "yeast-little",
            Strength::Warning,
            format!(
                "Yeast is only {at} % as instant yeast. The rise will take the better part of a day. Check the line, or plan for it."
            ),
        ));
    }
    None
}

fn hydration(formula: &Formula, f: &Figures) -> Option<Slip> {
    let (mut low, mut high) = formula.style.usual().hydration;
    if formula.style == Style::Rye {
        // The more rye, the more water it drinks.
        low = 60.0 + 0.1 * f.rye.0;
        high = 72.0 + 0.28 * f.rye.0;
    } else if formula.style != Style::GlutenFree {
        high += 0.08 * f.whole_grain.0;
    }
    let h = f.effective_hydration.0;
    if (low..=high).contains(&h) {
        return None;
    }
    let (how, why) =
        if h < low { ("dry", "stiff and slow to rise") } else { ("wet", "slack and hard to shape") };
    let far = (low - h).max(h - high) > 15.0;
    let strength = if far { Strength::Strong } else { Strength::Unusual };
    Some(slip(
        "hydration-far",
        strength,
        format!(
            "Effective hydration is {h:.0} %, {how} for {}: {low:.0} to {high:.0} % is usual. The dough will be {why}. Check flour and liquids, or choose another style.",
            formula.style.name().to_lowercase(),
        ),
    ))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formula::{Line, Stage, figures};
    use crate::ingredient::Catalogue;
    use crate::units::Grams;
    use rstest::rstest;

    fn codes(lines: &[(&str, f64)]) -> Vec<&'static str> {
        let mut f = Formula::beginning("Test", Style::Tin);
        f.lines = lines
            .iter()
            .map(|&(k, g)| Line { ingredient: k.into(), stage: Stage::Dough, grams: Grams(g) })
            .collect();
        slips(&f, &figures(&f, Catalogue::bundled())).into_iter().map(|s| s.code).collect()
    }

    #[rstest]
    #[case(10.0, 5.0, 325.0, &[])]
    #[case(0.0, 5.0, 325.0, &["salt-missing"])]
    #[case(30.0, 5.0, 325.0, &["salt-far"])]
    #[case(12.0, 5.0, 325.0, &["salt-unusual"])]
    #[case(10.0, 0.0, 325.0, &["yeast-missing"])]
    #[case(10.0, 50.0, 325.0, &["yeast-tenfold"])]
    #[case(10.0, 12.0, 325.0, &["yeast-much"])]
    #[case(10.0, 0.1, 325.0, &["yeast-little"])]
    #[case(10.0, 5.0, 440.0, &["hydration-far"])]
    #[case(10.0, 5.0, 250.0, &["hydration-far"])]
    fn each_slip_is_caught_once(
        #[case] salt: f64,
        #[case] yeast: f64,
        #[case] water: f64,
        #[case] expected: &[&str],
    ) {
        let found =
            codes(&[("bread-flour", 500.0), ("water", water), ("salt", salt), ("instant-yeast", yeast)]);
        assert_eq!(found, expected);
    }
}
