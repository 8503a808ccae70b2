//! Finishing: what is done to the pieces just before the oven, while they bake and afterwards.
//! Common practice, no source, where nothing else is said.

use super::coat::{coat_step, coats, only_on};
use super::cuts::Score;
use super::input::{FinishInput, FinishStep, GoesOn, When};
use crate::pantry::{Catalogue, Ingredient};
use crate::units::{Grams, Minutes, shown};
use crate::words::{Kind, Stage};

/// How many pieces one pot of a bath takes at a time.
const A_BATCH: u32 = 3;

/// Minutes before the oven at which the last piece is out of its bath.
const DIP_ENDS: f64 = 4.0;
/// Minutes that a bath takes from cold (common practice, no source).
const BOIL: f64 = 12.0;

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
/// };
/// assert_eq!(finish(&round, Catalogue::bundled())[0].title, "Score");
/// ```
pub fn finish(f: &FinishInput, catalogue: &Catalogue) -> Vec<FinishStep> {
    let each = 0.2 * f64::from(f.pieces.max(1));
    let mut all = bath(f, catalogue);
    let bathed = !all.is_empty();
    let coats = coats(f, catalogue);
    all.extend(coats.iter().map(|c| coat_step(f, c, &coats, each, bathed)));
    all.extend(piped(f, each, catalogue));
    all.extend(cuts(f, each));
    // Before anything is brushed on.
    if f.strands && f.pieces > 1 {
        all.push(FinishStep {
            when: When::Before(Minutes(9.0 + 2.0 * each)),
            title: "Look over".into(),
            what: "Ends that have come loose are tucked under again.".into(),
            minutes: Minutes(1.0),
            caution: None,
        });
    }
    all.sort_by(|a, b| order(a).total_cmp(&order(b)));
    all
}

/// The bath is heated, and the pieces dipped.
fn bath(f: &FinishInput, catalogue: &Catalogue) -> Vec<FinishStep> {
    let lines = f.on.iter().filter(|l| l.stage == Stage::Bath && l.grams.0 > 0.0);
    let bath: Vec<(&GoesOn, &Ingredient)> =
        lines.filter_map(|l| Some((l, catalogue.get(&l.ingredient)?))).collect();
    let Some((first, _)) = bath.first() else { return Vec::new() };
    let only = only_on(f, &first.without);
    let (water, other): (Vec<_>, Vec<_>) = bath.iter().partition(|(_, i)| i.is_water());
    let weigh = |part: &[&(&GoesOn, &Ingredient)]| part.iter().map(|(l, _)| l.grams.0).sum::<f64>();
    let (water, other) = (weigh(&water), weigh(&other));
    if other <= 0.0 {
        let what =
            format!("In simmering water, 20 to 30 seconds a side, {A_BATCH} at a time; drain well.{only}");
        let dipping = 1.5 * f64::from(f.pieces.max(1).div_ceil(A_BATCH));
        let caution = Some("Boiling water scalds: a skimmer, and arms out of the steam.");
        let (when, minutes) = (When::Before(Minutes(DIP_ENDS + dipping)), Minutes(dipping));
        return vec![FinishStep { when, title: "Poach".into(), what, minutes, caution }];
    }
    let strong =
        if water > 0.0 { format!(", {:.1} % of its water", 100.0 * other / water) } else { String::new() };
    let batches = f.pieces.max(1).div_ceil(A_BATCH);
    let dipping = 1.5 * f64::from(batches);
    let of = if water > 0.0 { format!("{} g of water", shown::grams(Grams(water))) } else { "Water".into() };
    let other = shown::grams(Grams(other));
    let caution = Some(
        "A strong alkaline bath burns skin and eyes: gloves and goggles; steel or glass, never aluminium. A soda bath boils over: add it slowly, in a tall pot.",
    );
    let before = |minutes: f64| When::Before(Minutes(minutes));
    let heat = format!(
        "{of} brought to a simmer, which takes about ten minutes; then the {other} g stirred in slowly."
    );
    let dip = format!(
        "{other} g in the bath{strong}. Simmering, 20 to 30 seconds a side, {A_BATCH} at a time in {batches} batch{}; drain well.{only}",
        if batches > 1 { "es" } else { "" },
    );
    vec![
        FinishStep {
            when: before(DIP_ENDS + dipping + BOIL),
            title: "Heat the bath".into(),
            what: heat,
            minutes: Minutes(2.0),
            caution,
        },
        FinishStep {
            when: before(DIP_ENDS + dipping),
            title: "Dip".into(),
            what: dip,
            minutes: Minutes(dipping),
            caution,
        },
    ]
}

/// A paste of flour and water is piped on.
fn piped(f: &FinishInput, each: f64, catalogue: &Catalogue) -> Option<FinishStep> {
    let lines = f.on.iter().filter(|l| l.stage == Stage::Paste && l.grams.0 > 0.0);
    let paste: Vec<(&GoesOn, &Ingredient)> =
        lines.filter_map(|l| Some((l, catalogue.get(&l.ingredient)?))).collect();
    let what = match paste.first() {
        None if !f.finish.piped => return None,
        None => "A paste of equal flour and water with a little oil, piped across each.".to_owned(),
        Some((first, _)) => {
            let weighed: Vec<String> = paste
                .iter()
                .map(|(l, i)| format!("{} {} g", i.name.to_lowercase(), shown::grams(l.grams)))
                .collect();
            let only = only_on(f, &first.without);
            format!("Stir to a paste: {}. Pipe it across each.{only}", weighed.join(", "))
        }
    };
    let stirred = if paste.is_empty() { 0.0 } else { 2.0 };
    Some(FinishStep {
        when: When::Before(Minutes(2.5 + each + stirred)),
        title: "Pipe".into(),
        what,
        minutes: Minutes(each.max(1.0) + stirred),
        caution: None,
    })
}

/// What is cut, pricked or pressed.
fn cuts(f: &FinishInput, each: f64) -> Vec<FinishStep> {
    let mut all = Vec::new();
    let mut add = |before: f64, title: &str, what: String, minutes: f64, caution: Option<&'static str>| {
        let (when, minutes) = (When::Before(Minutes(before)), Minutes(minutes));
        all.push(FinishStep { when, title: title.to_owned(), what, minutes, caution });
    };
    let score = f.finish.score(f.kind);
    if score == Score::Docked {
        let what = "With a fork or a roller of pins, down to the tray, two fingers apart: steam gets out and it stays flat.";
        add(1.0 + 0.5 * each, "Dock", what.to_owned(), (0.5 * each).max(1.0), None);
    } else if score != Score::Plain {
        let (deep, held) = score.depth();
        let what =
            format!("{}, {deep:.0} mm deep, {held}. Flour on it first shows the pattern.", score.name());
        let caution = "A sharp blade: cut away from the holding hand.";
        add(0.5 + 0.5 * each, "Score", what, (0.5 * each).max(0.5), Some(caution));
    }
    if f.kind == Kind::Flat && score == Score::Plain {
        let what = "Press oiled fingertips down to the tray, two fingers apart, all over.".to_owned();
        add(1.0, "Dimple", what, 1.0, None);
    }
    all
}

/// Minutes against the oven, for sorting: before it negative, after it positive.
fn order(s: &FinishStep) -> f64 {
    match s.when {
        When::Shaped => -1e6,
        When::Before(m) => -m.0,
        // Every step in the oven comes before every step out of it.
        When::Into(m) => 1e-3 * (1.0 + m.0),
        When::ToGo(m) => 0.9 / (1.0 + 0.01 * m.0),
        When::After(m) => 1.0 + m.0,
        When::Cold => 1e6,
    }
}

#[cfg(test)]
mod tests {
    use super::super::wish::FinishWish;
    use super::*;

    /// Pieces of a shape with nothing on them and nothing wanted.
    fn plain(kind: Kind, pieces: u32) -> FinishInput {
        FinishInput {
            kind,
            pieces,
            strands: kind.is_plaited(),
            finish: FinishWish::default(),
            on: Vec::new(),
        }
    }

    fn with(kind: Kind, pieces: u32, on: &[(&str, Stage, f64)]) -> FinishInput {
        let on = on.iter().map(|(key, stage, grams)| GoesOn {
            stage: *stage,
            ingredient: (*key).to_owned(),
            grams: Grams(*grams),
            at: None,
            without: Vec::new(),
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
        f.on[0].without.push((2, Kind::Tin));
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

    /// Each of the moments that bakers speak of is a step of its own, in their order.
    #[test]
    fn what_goes_on_goes_on_at_its_moment() {
        let moments = [
            ("egg", Stage::Wash, "shaped"),
            ("sesame-seeds", Stage::Topping, "shaped"),
            ("egg", Stage::SecondWash, "before:15"),
            ("water", Stage::Wash, "before"),
            ("milk", Stage::Wash, "minute:12"),
            ("honey", Stage::Glaze, "to-go:5"),
            ("butter", Stage::Glaze, "hot"),
            ("icing-sugar", Stage::Glaze, "cold"),
        ];
        let mut f = plain(Kind::Braid, 1);
        f.on = moments
            .iter()
            .map(|(key, stage, at)| GoesOn {
                stage: *stage,
                ingredient: (*key).into(),
                grams: Grams(10.0),
                at: Some(at.parse().unwrap()),
                without: Vec::new(),
            })
            .collect();
        let all = finish_of(&f);
        let titles: Vec<_> = all.iter().map(|s| s.title.as_str()).collect();
        let wanted =
            ["Wash", "Press on", "Second wash", "Spray with water", "Baste", "Baste", "Brush", "Ice"];
        assert_eq!(titles, wanted);
        assert!(all[2].what.starts_with("Dab on, so that the seeds stay"), "{}", all[2].what);
        assert_eq!(all[2].when, When::Before(Minutes(15.0)));
        assert_eq!(all[4].when, When::Into(Minutes(12.0)));
        assert!(all[4].caution.unwrap().contains("burn arms"));
    }
}
