//! Weighing in: what the scale's figures mean for a line of the formula, when one is taken, and what is to be done about
//! one that is over.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::fault::{Check, Faults};
use crate::formula::{Formula, figures};
use crate::kitchen::Kitchen;
use crate::pantry::Catalogue;
use crate::stations;
use crate::units::{Grams, Minutes, Percent};

/// For how long a figure has to stand still until it is taken, s (common practice, no source).
pub const STEADY: f64 = 1.5;
/// What a line may be off and still be taken by itself, as a part of it (common practice, no source).
const TOLERANCE: f64 = 0.01;
/// How much over is worth a word, as a part of the line.
const OVER: f64 = 0.02;

/// A figure of the scale.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Weighed {
    /// When, in seconds from anywhere.
    pub second: f64,
    /// What it shows, g.
    pub grams: Grams,
}

/// A line that is weighed.
#[derive(Clone, Debug, PartialEq, Deserialize, JsonSchema)]
pub struct WeighInput {
    /// The formula.
    pub formula: Formula,
    /// The line, by its place.
    pub line: usize,
    /// What the scale has shown, in order of time.
    pub shown: Vec<Weighed>,
    /// The scale's step, 0.01 to 10 g; 1 when left out.
    #[serde(default = "one")]
    pub step: Grams,
    /// What stood on the scale before this line, g, where several are weighed on one tare; 0 when left out.
    #[serde(default)]
    pub base: Grams,
    /// The kitchen, where it is asked what a line that is left over does to the rise; not asked when left out.
    #[serde(default)]
    pub kitchen: Option<Box<Kitchen>>,
}

impl WeighInput {
    /// A line of a formula on a scale of whole grams, by itself.
    pub fn of(formula: Formula, line: usize, shown: Vec<Weighed>) -> Self {
        WeighInput { formula, line, shown, step: one(), base: Grams(0.0), kitchen: None }
    }
}

fn one() -> Grams {
    Grams(1.0)
}

choice! {
    /// What is to be said.
    Say {
        /// Nothing is there yet.
        Empty = "empty", "empty";
        /// There is more to go.
        ToGo = "to-go", "to go";
        /// It is right.
        Right = "right", "right";
        /// It is more than it should be.
        Over = "over", "over";
    }
}

/// What could be done about a line that is over.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Over {
    /// How much is over.
    pub by: Grams,
    /// Times which everything else would be scaled.
    pub scale: f64,
    /// The hydration as it is written, per cent.
    pub hydration: Percent,
    /// The hydration if it is left so.
    pub left: Percent,
    /// How much later the first rise is ready if it is left so, min; negative where sooner. Nothing where it is not asked.
    pub rise: Option<Minutes>,
    /// What it is if it is left so, as a sentence.
    pub says: String,
}

/// What the scale's figures mean.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct WeighOutput {
    /// What is there of the line now, without what stood on the scale before.
    pub grams: Grams,
    /// What is wanted.
    pub wanted: Grams,
    /// How far it is, 0 to 1 and over.
    pub part: f64,
    /// What is to be said.
    pub say: Say,
    /// The same as a sentence.
    pub says: String,
    /// Whether it has stood still for long enough.
    pub steady: bool,
    /// What is taken for the line; nothing while it moves, or is not what is wanted.
    pub take: Option<Grams>,
    /// What could be done, where it is over.
    pub over: Option<Over>,
}

/// Whether the last figures stand still: all of the last one and a half seconds within two steps of each other.
fn is_steady(shown: &[Weighed], step: Grams) -> bool {
    let Some(last) = shown.last() else { return false };
    let since = last.second - STEADY;
    let window = || shown.iter().filter(|w| w.second >= since - 1e-9).map(|w| w.grams.0);
    let (low, high) = window().fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), g| (a.min(g), b.max(g)));
    shown.first().is_some_and(|w| w.second <= since + 1e-9) && high - low <= 2.0 * step.0 + 1e-9
}

/// What the scale's figures mean for a line.
///
/// # Errors
/// A line that is not there; figures out of order or out of range, by their place.
pub fn weigh(input: &WeighInput, catalogue: &Catalogue) -> Result<WeighOutput, Faults> {
    let WeighInput { formula, line, shown, step, base, kitchen } = input;
    let mut c = Check::new();
    c.range("line", "The line", *line as f64, 0.0, formula.lines.len() as f64 - 1.0, "");
    c.range("step", "The scale's step", step.0, 0.01, 10.0, "g");
    c.range("base", "What stood on the scale before", base.0, 0.0, 50_000.0, "g");
    let mut before = f64::NEG_INFINITY;
    for (n, w) in shown.iter().enumerate() {
        c.range(&format!("shown.{n}.grams"), "The scale", w.grams.0, -20_000.0, 50_000.0, "g");
        c.range(&format!("shown.{n}.second"), "A second after the one before", w.second, before, 1e12, "s");
        before = w.second;
    }
    c.done(())?;
    let wanted = formula.lines[*line].grams;
    let grams = shown.last().map_or(Grams(0.0), |w| w.grams - *base);
    let off = grams.0 - wanted.0;
    let within = (TOLERANCE * wanted.0).max(step.0);
    let worth_a_word = (OVER * wanted.0).max(2.0 * step.0);
    let say = match off {
        _ if grams.0 < step.0 => Say::Empty,
        o if o.abs() <= within + 1e-9 => Say::Right,
        o if o < 0.0 => Say::ToGo,
        _ => Say::Over,
    };
    let steady = is_steady(shown, *step);
    let figure = |g: f64| if step.0 < 1.0 { format!("{g:.1}") } else { format!("{g:.0}") };
    let over = (say == Say::Over && off > worth_a_word).then(|| {
        let mut left = formula.clone();
        left.lines[*line].grams = grams;
        let hydration = |f: &Formula| figures(f, catalogue).effective_hydration;
        let (was, is) = (hydration(formula), hydration(&left));
        let rise = kitchen.as_ref().and_then(|k| rise_moves(formula, &left, k, catalogue));
        let moves = rise.filter(|by| by.0.abs() >= 1.0).map_or_else(String::new, |by| {
            format!(
                ", and the rise is ready {:.0} min {}",
                by.0.abs(),
                if by.0 < 0.0 { "sooner" } else { "later" }
            )
        });
        let says = format!("Left so, {:.1} % hydration instead of {:.1}{moves}.", is.0, was.0);
        Over { by: Grams(off), scale: grams.0 / wanted.0, hydration: was, left: is, rise, says }
    });
    let says = match (say, &over) {
        (Say::Empty, _) => format!("{} g.", figure(wanted.0)),
        (Say::ToGo, _) if base.0 > 0.0 => {
            format!("{} g to go, to {} on the scale.", figure(-off), figure(base.0 + wanted.0))
        }
        (Say::ToGo, _) => format!("{} g to go.", figure(-off)),
        (Say::Right, _) => "Right.".to_owned(),
        (Say::Over, None) => format!("{} g over: it does not matter.", figure(off)),
        (Say::Over, Some(o)) => {
            format!("{} g over: take it out, or the rest scales to {:.2}.", figure(off), o.scale)
        }
    };
    let right = say == Say::Right || say == Say::Over && over.is_none();
    Ok(WeighOutput {
        part: if wanted.0 > 0.0 { grams.0 / wanted.0 } else { 1.0 },
        take: (steady && right).then_some(grams),
        grams,
        wanted,
        say,
        says,
        steady,
        over,
    })
}

/// How much later the first rise is ready of one formula than of the other, in the same kitchen at the same moment.
fn rise_moves(was: &Formula, is: &Formula, kitchen: &Kitchen, catalogue: &Catalogue) -> Option<Minutes> {
    let ready = |f: &Formula| {
        let s = stations::read(f, kitchen, catalogue, jiff::Timestamp::UNIX_EPOCH).ok()?;
        s.rise.bulk.as_ref().map(|b| b.time)
    };
    Some(ready(is)? - ready(was)?)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::words::Style;
    use proptest::prelude::*;

    fn asked(shown: Vec<Weighed>) -> WeighInput {
        WeighInput::of(Formula::beginning("A dough", Style::Tin), 0, shown)
    }

    fn of(input: &WeighInput) -> WeighOutput {
        weigh(input, Catalogue::bundled()).unwrap()
    }

    /// So many grams for some seconds, ten figures a second.
    fn held(grams: f64, seconds: f64, from: f64) -> Vec<Weighed> {
        let count = (10.0 * seconds) as usize;
        (0..=count).map(|n| Weighed { second: from + n as f64 / 10.0, grams: Grams(grams) }).collect()
    }

    #[test]
    fn a_figure_is_taken_when_it_has_stood_still_and_is_right() {
        let wanted = asked(Vec::new()).formula.lines[0].grams.0;
        assert_eq!(of(&asked(Vec::new())).say, Say::Empty);
        let early = of(&asked(held(wanted, 1.2, 0.0)));
        assert!(!early.steady && early.take.is_none());
        let taken = of(&asked(held(wanted + 1.0, 1.6, 0.0)));
        assert_eq!(taken.take, Some(Grams(wanted + 1.0)));
        let short = of(&asked(held(wanted - 12.0, 3.0, 0.0)));
        assert!(short.steady && short.take.is_none());
        assert_eq!(short.says, "12 g to go.");
    }

    #[test]
    fn what_is_over_is_asked_about() {
        let input = asked(Vec::new());
        let wanted = input.formula.lines[0].grams.0;
        let over = of(&asked(held(1.1 * wanted, 3.0, 0.0)));
        let o = over.over.unwrap();
        assert!(over.take.is_none() && (o.scale - 1.1).abs() < 1e-9);
        assert!(o.left < o.hydration, "more flour, a drier dough: {} and {}", o.left.0, o.hydration.0);
    }

    /// More yeast than was written, left so, is ready sooner; more salt later; nothing is said of the rise where no kitchen is
    /// known.
    #[test]
    fn what_is_left_over_says_what_it_does_to_the_rise() {
        let at = |key: &str, kitchen: Option<Box<Kitchen>>| {
            let input = asked(Vec::new());
            let line = input.formula.lines.iter().position(|l| l.ingredient.contains(key)).unwrap();
            let wanted = input.formula.lines[line].grams.0;
            let shown = held(wanted + (0.3 * wanted).max(4.0), 2.0, 0.0);
            of(&WeighInput { line, shown, kitchen, ..input }).over.unwrap()
        };
        let home = || Some(Box::default());
        let (yeast, salt) = (at("yeast", home()), at("salt", home()));
        assert!(yeast.rise.unwrap().0 < -1.0 && yeast.says.contains("min sooner"), "{}", yeast.says);
        assert!(salt.rise.unwrap().0 > 0.0, "{}", salt.says);
        let unasked = at("yeast", None);
        assert!(unasked.rise.is_none() && !unasked.says.contains("rise"), "{}", unasked.says);
    }

    #[test]
    fn a_line_that_is_not_there_is_told() {
        let input = WeighInput { line: 99, ..asked(Vec::new()) };
        assert_eq!(weigh(&input, Catalogue::bundled()).unwrap_err().0[0].path, "line");
    }

    proptest! {
        /// What is poured is never taken, however the hand shakes; what stands within a step and a half of right is.
        #[test]
        fn pouring_is_not_taken_and_standing_is(
            shakes in prop::collection::vec(-0.9..0.9f64, 20..40),
            speed in 8.0..200.0f64,
        ) {
            let wanted = asked(Vec::new()).formula.lines[0].grams.0;
            let pours: Vec<Weighed> = shakes
                .iter()
                .enumerate()
                .map(|(n, s)| Weighed { second: n as f64 / 10.0, grams: Grams(speed * n as f64 / 10.0 + s) })
                .collect();
            prop_assert!(of(&asked(pours)).take.is_none());
            let stands: Vec<Weighed> = shakes
                .iter()
                .enumerate()
                .map(|(n, s)| Weighed { second: n as f64 / 10.0, grams: Grams((wanted + s).round()) })
                .collect();
            prop_assert!(of(&asked(stands)).take.is_some());
        }

        /// On one tare a line is what has come on top: it is said and taken as it would be by itself.
        #[test]
        fn one_tare_for_several_is_as_one_for_each(base in 0u32..3000, off in -200i32..200, seconds in 0.5..3.0f64) {
            let (base, wanted) = (f64::from(base), asked(Vec::new()).formula.lines[0].grams.0);
            let grams = wanted + f64::from(off);
            let alone = of(&asked(held(grams, seconds, 0.0)));
            let on_top = of(&WeighInput { base: Grams(base), ..asked(held(base + grams, seconds, 0.0)) });
            prop_assert_eq!((alone.say, alone.take, alone.over), (on_top.say, on_top.take, on_top.over));
            prop_assert_eq!(alone.part, on_top.part);
        }
    }
}
