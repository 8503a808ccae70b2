//! Finishing: what is done to the pieces just before the oven, while they bake and afterwards.
//! Common practice, no source, where nothing else is said.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::cuts::Score;
use super::wish::FinishWish;
use crate::pantry::{Catalogue, Group, Ingredient};
use crate::units::{Grams, Minutes, shown};
use crate::words::{Kind, Stage};

/// Something that goes on the pieces, or that they are dipped in.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct GoesOn {
    /// When: a wash, a glaze, a topping or a bath; what belongs to the dough is passed over.
    pub stage: Stage,
    /// Key of the ingredient in the catalogue; what is not known there is passed over.
    pub ingredient: String,
    /// Its mass, g.
    pub grams: Grams,
}

/// Pieces that are finished, and what is wanted of them.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FinishInput {
    /// Their shape.
    pub kind: Kind,
    /// How many, 1 to 200.
    pub pieces: u32,
    /// Whether they are made of strands, whose ends may come loose.
    #[serde(default)]
    pub strands: bool,
    /// What is wanted.
    #[serde(default)]
    pub finish: FinishWish,
    /// What goes on them.
    #[serde(default)]
    pub on: Vec<GoesOn>,
    /// Other pieces of the same dough, which stay without: how many of which shape.
    #[serde(default)]
    pub others: Vec<(u32, Kind)>,
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
fn only_on(f: &FinishInput) -> String {
    let others: Vec<String> =
        f.others.iter().map(|(n, kind)| format!("{n} × {}", kind.name().to_lowercase())).collect();
    if others.is_empty() {
        return String::new();
    }
    let main = format!("{} × {}", f.pieces, f.kind.name().to_lowercase());
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
///
/// ```
/// use cerealis_core::finish::{FinishInput, FinishWish, finish};
/// use cerealis_core::pantry::Catalogue;
/// use cerealis_core::words::Kind;
/// let round = FinishInput {
///     kind: Kind::Round,
///     pieces: 1,
///     strands: false,
///     finish: FinishWish::default(),
///     on: vec![],
///     others: vec![],
/// };
/// assert_eq!(finish(&round, Catalogue::bundled())[0].title, "Score");
/// ```
pub fn finish(f: &FinishInput, catalogue: &Catalogue) -> Vec<FinishStep> {
    let lines = |stage: Stage| -> Vec<(Grams, &Ingredient)> {
        f.on.iter()
            .filter(|l| l.stage == stage && l.grams.0 > 0.0)
            .filter_map(|l| Some((l.grams, catalogue.get(&l.ingredient)?)))
            .collect()
    };
    let pieces = f.pieces.max(1);
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
    let score = f.finish.score(f.kind);
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
    if f.kind == Kind::Flat && score == Score::Plain {
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
    if f.strands && f.pieces > 1 {
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

    /// Pieces of a shape with nothing on them and nothing wanted.
    fn plain(kind: Kind, pieces: u32) -> FinishInput {
        let (finish, on, others) = (FinishWish::default(), Vec::new(), Vec::new());
        FinishInput { kind, pieces, strands: kind.is_plaited(), finish, on, others }
    }

    fn with(kind: Kind, pieces: u32, on: &[(&str, Stage, f64)]) -> FinishInput {
        let on = on.iter().map(|(key, stage, grams)| GoesOn {
            stage: *stage,
            ingredient: (*key).to_owned(),
            grams: Grams(*grams),
        });
        FinishInput { on: on.collect(), ..plain(kind, pieces) }
    }

    fn steps(kind: Kind, pieces: u32, on: &[(&str, Stage, f64)]) -> Vec<FinishStep> {
        finish_of(&with(kind, pieces, on))
    }

    fn finish_of(input: &FinishInput) -> Vec<FinishStep> {
        finish(input, Catalogue::bundled())
    }

    fn find<'a>(all: &'a [FinishStep], title: &str) -> &'a FinishStep {
        all.iter().find(|s| s.title == title).unwrap_or_else(|| panic!("no {title} in {all:?}"))
    }

    #[test]
    fn a_dipped_bun_has_its_bath_with_its_strength_and_batches() {
        let bath = [("water", Stage::Bath, 1000.0), ("baking-soda", Stage::Bath, 40.0)];
        let all = steps(Kind::Dipped, 8, &bath);
        let dip = find(&all, "Dip");
        assert!(dip.what.contains("4.0 % of its water") && dip.what.contains("3 batches"), "{}", dip.what);
        assert!(dip.caution.unwrap().contains("never aluminium"));
    }

    #[test]
    fn washes_come_before_seeds_and_seeds_before_the_oven() {
        let all = steps(
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
        let without = steps(Kind::Roll, 12, &[("milk", Stage::Wash, 20.0)]);
        assert_eq!(without[0].title, "Wash without egg");
    }

    /// What is dipped is cut when it is out of the bath, and salted over the cut.
    #[test]
    fn the_bath_comes_first_then_the_cut_then_the_salt() {
        let bath = [
            ("water", Stage::Bath, 1000.0),
            ("baking-soda", Stage::Bath, 40.0),
            ("coarse-salt", Stage::Topping, 5.0),
        ];
        let mut f = with(Kind::Dipped, 12, &bath);
        f.finish.score = Some(Score::Cross);
        let titles: Vec<_> = finish_of(&f).into_iter().map(|s| s.title).collect();
        assert_eq!(titles, ["Heat the bath", "Dip", "Score", "Scatter"]);
        assert!(finish_of(&f)[0].what.starts_with("1000 g of water"));
    }

    /// A wash with egg is never put on a make-up without it (an allergy matter).
    #[test]
    fn a_finish_is_on_the_main_pieces_alone_and_says_so() {
        let mut f = with(Kind::Braid, 1, &[("egg", Stage::Wash, 20.0)]);
        f.others.push((2, Kind::Tin));
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
        let mut f = plain(Kind::Flat, 1);
        assert!(finish_of(&f).iter().any(|s| s.title == "Dimple"));
        f.finish.score = Some(Score::Docked);
        let titles: Vec<_> = finish_of(&f).into_iter().map(|s| s.title).collect();
        assert!(titles.contains(&"Dock".to_owned()) && !titles.contains(&"Dimple".to_owned()), "{titles:?}");
        let all = steps(Kind::Round, 1, &[]);
        assert!(find(&all, "Score").what.starts_with("Cross, 10 mm deep"));
        assert!(steps(Kind::Tin, 1, &[]).is_empty());
    }

    #[test]
    fn butter_goes_on_hot_and_icing_cold() {
        let all = steps(Kind::Bun, 9, &[("butter", Stage::Glaze, 20.0)]);
        assert_eq!(find(&all, "Brush").when, When::After(Minutes(1.0)));
        assert!(all.iter().all(|s| s.title != "Baste"));
        let iced = steps(Kind::Bun, 9, &[("icing-sugar", Stage::Glaze, 80.0), ("milk", Stage::Glaze, 15.0)]);
        assert_eq!(find(&iced, "Ice").when, When::Cold);
    }

    #[test]
    fn half_of_the_butter_goes_on_in_the_oven_if_it_is_wanted() {
        let mut f = with(Kind::Roll, 12, &[("butter", Stage::Glaze, 20.0)]);
        f.finish.basted = true;
        let all = finish_of(&f);
        let titles: Vec<_> = all.iter().map(|s| s.title.as_str()).collect();
        assert_eq!(titles, ["Baste", "Brush"]);
        assert_eq!(find(&all, "Baste").when, When::ToGo(Minutes(5.0)));
        assert!(find(&all, "Brush").what.contains("the rest of the butter"));
        f.on.clear();
        assert!(finish_of(&f).is_empty(), "nothing to baste with");
    }
}
