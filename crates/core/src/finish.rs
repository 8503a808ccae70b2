//! Finishing: what is done to the pieces just before the oven, while they bake and afterwards.
//! Common practice, no source, where nothing else is said.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::formula::{Formula, known};
use crate::ingredient::{Catalogue, Group, Ingredient};
use crate::shape::ShapeOutput;
use crate::units::{Grams, Minutes, shown};
use crate::words::Kind;
use crate::words::Stage;

choice! {
    /// A pattern of cuts.
    Score {
        /// None.
        Plain = "plain", "Not scored";
        /// One long cut, a little beside the middle.
        Single = "single", "One long cut";
        /// Two cuts that cross.
        Cross = "cross", "Cross";
        /// Four cuts round a square.
        Square = "square", "Square";
        /// Slanting cuts along a stick, each beginning beside the end of the one before.
        Slanting = "slanting", "Slanting cuts";
        /// A middle line with short cuts to both sides.
        Grain = "grain", "Ear of grain";
        /// Pricked all over, so that a flat bread stays flat.
        Docked = "docked", "Docked all over";
    }
}

/// One cut, from the middle of the loaf: x along its width, y along its length, from −1 to 1. A prick
/// ends where it begins.
pub type Cut = [(f64, f64); 2];

impl Score {
    /// What is usual for a shape.
    pub fn usual(kind: Kind) -> Score {
        match kind {
            Kind::Round => Score::Cross,
            Kind::Batard => Score::Single,
            Kind::Baguette => Score::Slanting,
            _ => Score::Plain,
        }
    }

    /// Its cuts on a shape: a flat bake reaches into its corners, all else is round.
    pub fn cuts(self, kind: Kind) -> Vec<Cut> {
        match self {
            Score::Plain => Vec::new(),
            Score::Single => vec![[(-0.12, -0.75), (0.12, 0.75)]],
            Score::Cross => vec![[(0.0, -0.62), (0.0, 0.62)], [(-0.62, 0.0), (0.62, 0.0)]],
            Score::Square => {
                let (a, b) = (0.42, 0.55);
                vec![[(-a, -b), (-a, b)], [(a, -b), (a, b)], [(-b, -a), (b, -a)], [(-b, a), (b, a)]]
            }
            Score::Slanting => (0..4)
                .map(|i| {
                    let y = -0.78 + 0.39 * f64::from(i);
                    [(-0.3, y), (0.3, y + 0.38)]
                })
                .collect(),
            Score::Grain => {
                let mut cuts = vec![[(0.0, -0.75), (0.0, 0.75)]];
                for i in 0..4 {
                    let y = -0.5 + 0.32 * f64::from(i);
                    cuts.push([(0.1, y), (0.45, y - 0.22)]);
                    cuts.push([(-0.1, y), (-0.45, y - 0.22)]);
                }
                cuts
            }
            // In rows that stand between each other, as far as the loaf reaches.
            Score::Docked => (-3..=3)
                .flat_map(|row: i32| {
                    let off = 0.13 * f64::from(row.rem_euclid(2));
                    (-3..=3).map(move |n| (0.26 * f64::from(n) + off, 0.26 * f64::from(row)))
                })
                .filter(|(x, y)| {
                    let out = if kind == Kind::Flat { x.abs().max(y.abs()) } else { x.hypot(*y) };
                    out < 0.85
                })
                .map(|prick| [prick, prick])
                .collect(),
        }
    }

    /// How deep, mm, and how the blade is held.
    pub fn depth(self) -> (f64, &'static str) {
        match self {
            Score::Plain => (0.0, ""),
            Score::Single | Score::Slanting => (6.0, "the blade held flat, as if to lift a flap"),
            Score::Cross | Score::Square => (10.0, "the blade upright"),
            Score::Grain => (4.0, "the blade upright, lightly"),
            Score::Docked => (0.0, "down to the tray"),
        }
    }
}

/// What is wanted of the finish.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FinishPlan {
    /// The cuts; as is usual for the shape when left out.
    #[serde(default)]
    pub score: Option<Score>,
    /// A cross or a line piped of flour and water before the bake.
    #[serde(default)]
    pub piped: bool,
    /// Half of a brushed glaze goes on in the oven, near the end of the bake.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub basted: bool,
}

impl FinishPlan {
    /// The cuts of a shape.
    pub fn score(&self, kind: Kind) -> Score {
        self.score.unwrap_or_else(|| Score::usual(kind))
    }
}

/// When a step of the finish is due.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum When {
    /// As soon as it is shaped.
    Shaped,
    /// So many minutes before the oven.
    Before(Minutes),
    /// In the oven, so many minutes before it comes out.
    ToGo(Minutes),
    /// So many minutes after it came out.
    After(Minutes),
    /// When it is cold.
    Cold,
}

/// A step of the finish.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct FinishStep {
    /// When.
    pub when: When,
    /// What it is called.
    pub title: String,
    /// What to do.
    pub what: String,
    /// Hands-on minutes.
    pub minutes: Minutes,
    /// What to be careful of.
    pub caution: Option<&'static str>,
}

/// Minutes before the end at which a loaf is basted: the crust has set, and what is brushed on browns
/// without burning.
const BASTE: f64 = 5.0;

/// How many pieces one pot of a bath takes at a time.
const A_BATCH: u32 = 3;

/// Minutes before the oven at which the last piece is out of its bath.
const DIP_ENDS: f64 = 4.0;
/// Minutes that a bath takes from cold (common practice, no source).
const BOIL: f64 = 12.0;

/// What a finish goes on, where other pieces come from the same dough: on the main ones alone.
fn only_on(f: &Formula) -> String {
    let others: Vec<String> =
        f.makeups.iter().map(|m| format!("{} × {}", m.pieces, m.kind.name().to_lowercase())).collect();
    if others.is_empty() {
        return String::new();
    }
    let main = format!("{} × {}", f.shape.pieces, f.shape.kind.name().to_lowercase());
    format!(" On the {main} alone: the {} stay without.", others.join(" and the "))
}

/// What in a wash may matter to somebody.
fn allergy(all: &[(Grams, &Ingredient)]) -> String {
    let mut names: Vec<&str> = all.iter().flat_map(|(_, i)| i.allergens.iter().map(String::as_str)).collect();
    names.sort_unstable();
    names.dedup();
    if names.is_empty() { "what is brushed on".into() } else { names.join(" and ") }
}

/// The steps of the finish, in their order.
pub fn finish(f: &Formula, cut: &ShapeOutput, catalogue: &Catalogue) -> Vec<FinishStep> {
    let lines = |stage: Stage| -> Vec<(Grams, &Ingredient)> {
        known(f, catalogue)
            .filter(|(l, _)| l.stage == stage && l.grams.0 > 0.0)
            .map(|(l, i)| (l.grams, i))
            .collect()
    };
    let pieces = f.shape.pieces.max(1);
    let mut all = Vec::new();
    let mut add = |when: When, title: &str, what: String, minutes: f64, caution: Option<&'static str>| {
        all.push(FinishStep { when, title: title.to_owned(), what, minutes: Minutes(minutes), caution });
    };
    let before = |minutes: f64| When::Before(Minutes(minutes));
    let each = 0.2 * f64::from(pieces);
    let only = only_on(f);

    let bath = lines(Stage::Bath);
    let bathed = !bath.is_empty();
    if bathed {
        let (water, other): (Vec<_>, Vec<_>) = bath.iter().partition(|(_, i)| i.is_water());
        let weigh = |part: &[&(Grams, &Ingredient)]| part.iter().map(|(g, _)| g.0).sum::<f64>();
        let (water, other) = (weigh(&water), weigh(&other));
        let strong = if water > 0.0 {
            format!(", {:.1} % of its water", 100.0 * other / water)
        } else {
            String::new()
        };
        let batches = pieces.div_ceil(A_BATCH);
        let dipping = 1.5 * f64::from(batches);
        let of =
            if water > 0.0 { format!("{} g of water", shown::grams(Grams(water))) } else { "Water".into() };
        let caution = "A strong alkaline bath burns skin and eyes: gloves and goggles; steel or glass, never aluminium. A soda bath boils over: add it slowly, in a tall pot.";
        let what = format!(
            "{of} brought to a simmer, which takes about ten minutes; then the {} g stirred in slowly.",
            shown::grams(Grams(other))
        );
        add(before(DIP_ENDS + dipping + BOIL), "Heat the bath", what, 2.0, Some(caution));
        let what = format!(
            "{} g in the bath{strong}. Simmering, 20 to 30 seconds a side, {A_BATCH} at a time in {batches} batch{}; drain well.{only}",
            shown::grams(Grams(other)),
            if batches > 1 { "es" } else { "" },
        );
        add(before(DIP_ENDS + dipping), "Dip", what, dipping, Some(caution));
    }
    let twice = !lines(Stage::SecondWash).is_empty();
    for (stage, title) in [(Stage::Wash, "Wash"), (Stage::SecondWash, "Second wash")] {
        let all = lines(stage);
        if all.is_empty() {
            continue;
        }
        let names: Vec<String> =
            all.iter().map(|(g, i)| format!("{} {} g", i.name.to_lowercase(), shown::grams(*g))).collect();
        let egg = all.iter().any(|(_, i)| i.group == Group::Egg);
        let title = if egg || stage == Stage::SecondWash { title } else { "Wash without egg" };
        // Of two washes the first goes on when it is shaped, and dries while it proofs.
        let first = stage == Stage::Wash && twice;
        let dry = if first { " It dries while it proofs; the second goes on before the oven." } else { "" };
        let when = if first { When::Shaped } else { before(5.0 + each) };
        let caution = egg.then_some("Raw egg: wash brush and hands.");
        let kept = if only.is_empty() {
            String::new()
        } else {
            format!(
                "{only} A brush of its own, and a gap between: {} may matter to who eats the others.",
                allergy(&all)
            )
        };
        add(
            when,
            title,
            format!("Brush thinly with {}.{dry}{kept}", names.join(" and ")),
            each.max(1.0),
            caution,
        );
    }
    // On what is dipped, salt and seeds go on last, over the cut; on what is brushed, at once, while it
    // is wet.
    for (g, i) in lines(Stage::Topping) {
        let share = shown::grams(g / f64::from(pieces));
        let what = format!("{} g of {} on each.{only}", share, i.name.to_lowercase());
        add(before(if bathed { 0.2 } else { 3.0 + each }), "Scatter", what, (0.5 * each).max(0.5), None);
    }
    if f.finish.piped {
        let what = "A paste of equal flour and water with a little oil, piped across each.".to_owned();
        add(before(2.5 + each), "Pipe", what, each.max(1.0), None);
    }
    let score = f.finish.score(f.shape.kind);
    if score == Score::Docked {
        let what = "With a fork or a roller of pins, down to the tray, two fingers apart: steam gets out and it stays flat.";
        add(before(1.0 + 0.5 * each), "Dock", what.to_owned(), (0.5 * each).max(1.0), None);
    } else if score != Score::Plain {
        let (deep, held) = score.depth();
        let what =
            format!("{}, {deep:.0} mm deep, {held}. Flour on it first shows the pattern.", score.name());
        add(
            before(0.5 + 0.5 * each),
            "Score",
            what,
            (0.5 * each).max(0.5),
            Some("A sharp blade: cut away from the holding hand."),
        );
    }
    if f.shape.kind == Kind::Flat && score == Score::Plain {
        let what = "Press oiled fingertips down to the tray, two fingers apart, all over.".to_owned();
        add(before(1.0), "Dimple", what, 1.0, None);
    }
    let glaze = lines(Stage::Glaze);
    let (icing, brushed): (Vec<_>, Vec<_>) = glaze.iter().partition(|(_, i)| i.kin() == "icing-sugar");
    if !brushed.is_empty() && icing.is_empty() {
        let names: Vec<String> = brushed.iter().map(|(_, i)| i.name.to_lowercase()).collect();
        let (names, minutes) = (names.join(" and "), (0.5 * each).max(1.0));
        if f.finish.basted {
            let what = format!("Half of the {names}, thinly; then shut the door again at once.");
            let caution = "Pull the rack out to brush: the door and the oven's sides burn arms.";
            add(When::ToGo(Minutes(BASTE)), "Baste", what, minutes, Some(caution));
        }
        let rest = if f.finish.basted { "the rest of the " } else { "" };
        let what = format!("Brush with {rest}{names} while it is hot: the crust stays soft.");
        add(When::After(Minutes(1.0)), "Brush", what, minutes, None);
    }
    if !icing.is_empty() {
        let what = "Stir the icing smooth, and pour or pipe it on when the bread is cold.".to_owned();
        add(When::Cold, "Ice", what, each.max(2.0), None);
    }
    // Before anything is brushed on.
    if cut.strand.is_some() && f.shape.pieces > 1 {
        add(
            before(9.0 + 2.0 * each),
            "Look over",
            "Ends that have come loose are tucked under again.".to_owned(),
            1.0,
            None,
        );
    }
    all.sort_by(|a, b| order(a).total_cmp(&order(b)));
    all
}

/// Minutes against the oven, for sorting: before it negative, after it positive.
fn order(s: &FinishStep) -> f64 {
    match s.when {
        When::Shaped => -1e6,
        When::Before(m) => -m.0,
        // Every step in the oven comes before every step out of it.
        When::ToGo(m) => 1.0 / (1.0 + m.0),
        When::After(m) => 1.0 + m.0,
        When::Cold => 1e6,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::formula::Line;
    use crate::shape::{ShapeInput, shape};
    use crate::words::Style;

    fn steps(style: Style, kind: Kind, pieces: u32, extra: &[(&str, Stage, f64)]) -> Vec<FinishStep> {
        let mut f = Formula::beginning("Test", style);
        f.shape.kind = kind;
        f.shape.pieces = pieces;
        f.lines.retain(|l| l.stage.in_dough());
        f.lines.extend(extra.iter().map(|(k, s, g)| Line::new(*k, *s, Grams(*g))));
        finish_of(&f)
    }

    fn finish_of(f: &Formula) -> Vec<FinishStep> {
        let input = ShapeInput {
            dough: Grams(900.0),
            shape: f.shape.clone(),
            shaped_volume: 1.2,
            proofed_volume: 2.0,
            batter: false,
        };
        finish(f, &shape(&input).unwrap(), Catalogue::bundled())
    }

    fn find<'a>(all: &'a [FinishStep], title: &str) -> &'a FinishStep {
        all.iter().find(|s| s.title == title).unwrap_or_else(|| panic!("no {title} in {all:?}"))
    }

    #[test]
    fn a_dipped_bun_has_its_bath_with_its_strength_and_batches() {
        let bath = [("water", Stage::Bath, 1000.0), ("baking-soda", Stage::Bath, 40.0)];
        let all = steps(Style::SoftRoll, Kind::Dipped, 8, &bath);
        let dip = find(&all, "Dip");
        assert!(dip.what.contains("4.0 % of its water") && dip.what.contains("3 batches"), "{}", dip.what);
        assert!(dip.caution.unwrap().contains("never aluminium"));
    }

    #[test]
    fn washes_come_before_seeds_and_seeds_before_the_oven() {
        let all = steps(
            Style::Braid,
            Kind::Braid,
            1,
            &[
                ("egg", Stage::Wash, 20.0),
                ("egg", Stage::SecondWash, 15.0),
                ("sesame-seeds", Stage::Topping, 12.0),
            ],
        );
        let titles: Vec<_> = all.iter().map(|s| s.title.as_str()).collect();
        assert_eq!(titles, ["Wash", "Second wash", "Scatter"]);
        assert!(all[2].what.starts_with("12 g of sesame"), "{}", all[2].what);
        assert_eq!(all[0].when, When::Shaped, "it dries while it proofs");
        let without = steps(Style::SoftRoll, Kind::Roll, 12, &[("milk", Stage::Wash, 20.0)]);
        assert_eq!(without[0].title, "Wash without egg");
    }

    /// What is dipped is cut when it is out of the bath, and salted over the cut.
    #[test]
    fn the_bath_comes_first_then_the_cut_then_the_salt() {
        let mut f = Formula::beginning("Test", Style::SoftRoll);
        f.shape.kind = Kind::Dipped;
        f.finish.score = Some(Score::Cross);
        f.lines.retain(|l| l.stage.in_dough());
        for (key, stage, g) in [
            ("water", Stage::Bath, 1000.0),
            ("baking-soda", Stage::Bath, 40.0),
            ("coarse-salt", Stage::Topping, 5.0),
        ] {
            f.lines.push(Line::new(key, stage, Grams(g)));
        }
        let titles: Vec<_> = finish_of(&f).into_iter().map(|s| s.title).collect();
        assert_eq!(titles, ["Heat the bath", "Dip", "Score", "Scatter"]);
        assert!(finish_of(&f)[0].what.starts_with("1000 g of water"));
    }

    /// A wash with egg is never put on a make-up without it (an allergy matter).
    #[test]
    fn a_finish_is_on_the_main_pieces_alone_and_says_so() {
        let mut f = Formula::beginning("Test", Style::Braid);
        f.lines.retain(|l| l.stage.in_dough());
        f.lines.push(Line::new("egg", Stage::Wash, Grams(20.0)));
        f.makeups.push(crate::formula::MakeUp {
            kind: Kind::Tin,
            pieces: 2,
            piece_weight: Grams(300.0),
            vessel: crate::words::Vessel::Tin,
        });
        let wash = find(&finish_of(&f), "Wash").what.clone();
        assert!(wash.contains("alone") && wash.contains("2 × ") && wash.contains("egg may matter"), "{wash}");
    }

    #[test]
    fn every_shape_has_its_usual_cuts_and_they_stay_on_the_loaf() {
        for score in Score::ALL {
            for cut in score.cuts(Kind::Round) {
                assert!(cut.iter().all(|(x, y)| x.hypot(*y) <= 1.0), "{score:?}");
            }
            assert!(score.cuts(Kind::Flat).iter().flatten().all(|(x, y)| x.abs().max(y.abs()) <= 1.0));
            assert_eq!(score == Score::Plain, score.cuts(Kind::Flat).is_empty());
        }
        let mut f = Formula::beginning("Test", Style::Flat);
        assert!(finish_of(&f).iter().any(|s| s.title == "Dimple"));
        f.finish.score = Some(Score::Docked);
        let titles: Vec<_> = finish_of(&f).into_iter().map(|s| s.title).collect();
        assert!(titles.contains(&"Dock".to_owned()) && !titles.contains(&"Dimple".to_owned()), "{titles:?}");
        let all = steps(Style::Hearth, Kind::Round, 1, &[]);
        assert!(find(&all, "Score").what.starts_with("Cross, 10 mm deep"));
        assert!(steps(Style::Tin, Kind::Tin, 1, &[]).is_empty());
    }

    #[test]
    fn butter_goes_on_hot_and_icing_cold() {
        let all = steps(Style::SoftRoll, Kind::Bun, 9, &[("butter", Stage::Glaze, 20.0)]);
        assert_eq!(find(&all, "Brush").when, When::After(Minutes(1.0)));
        assert!(all.iter().all(|s| s.title != "Baste"));
        let iced = steps(
            Style::SoftRoll,
            Kind::Bun,
            9,
            &[("icing-sugar", Stage::Glaze, 80.0), ("milk", Stage::Glaze, 15.0)],
        );
        assert_eq!(find(&iced, "Ice").when, When::Cold);
    }

    #[test]
    fn half_of_the_butter_goes_on_in_the_oven_if_it_is_wanted() {
        let mut f = Formula::beginning("Test", Style::SoftRoll);
        f.lines.retain(|l| l.stage.in_dough());
        f.lines.push(Line::new("butter", Stage::Glaze, Grams(20.0)));
        f.finish.basted = true;
        let all = finish_of(&f);
        let titles: Vec<_> = all.iter().map(|s| s.title.as_str()).collect();
        assert_eq!(titles, ["Baste", "Brush"]);
        assert_eq!(find(&all, "Baste").when, When::ToGo(Minutes(5.0)));
        assert!(find(&all, "Brush").what.contains("the rest of the butter"));
        f.lines.retain(|l| l.stage != Stage::Glaze);
        assert!(finish_of(&f).is_empty(), "nothing to baste with");
    }
}
