//! Finishing: what is done to the pieces just before the oven, while they bake and afterwards.
//! Common practice, no source, where nothing else is said.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::coat::GoesOnAt;
use super::cuts::Score;
use super::wish::FinishWish;
use crate::pantry::{Catalogue, Group, Ingredient};
use crate::units::{Grams, Minutes, shown};
use crate::words::{Kind, Stage};

/// Something that goes on the pieces, or that they are dipped in.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct GoesOn {
    /// A wash, a glaze, a topping or a bath; what belongs to the dough is passed over.
    pub stage: Stage,
    /// Key of the ingredient in the catalogue; what is not known there is passed over.
    pub ingredient: String,
    /// Its mass on these pieces, g.
    pub grams: Grams,
    /// When; as is usual for its stage when left out.
    #[serde(default)]
    pub at: Option<GoesOnAt>,
    /// Other pieces of the same dough, which stay without it: how many of which shape.
    #[serde(default)]
    pub without: Vec<(u32, Kind)>,
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
}

/// When a step of the finish is due.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum When {
    /// As soon as it is shaped.
    Shaped,
    /// So many minutes before the oven.
    Before(Minutes),
    /// After so many minutes in the oven.
    Into(Minutes),
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
const BASTE: u32 = 5;

/// How many pieces one pot of a bath takes at a time.
const A_BATCH: u32 = 3;

/// Minutes before the oven at which the last piece is out of its bath.
const DIP_ENDS: f64 = 4.0;
/// Minutes that a bath takes from cold (common practice, no source).
const BOIL: f64 = 12.0;

/// Minutes before the oven at which the last wash is on, and the last seeds.
const WASHED: f64 = 5.0;
const SCATTERED: f64 = 3.0;

const HOT_OVEN: &str = "Pull the rack out to brush: the door and the oven's sides burn arms.";
const RAW_EGG: &str = "Raw egg: wash brush and hands.";

/// What goes on together: with its ingredients, and what of it goes on.
struct Coat<'a> {
    stage: Stage,
    at: GoesOnAt,
    parts: Vec<(Grams, &'a Ingredient)>,
    /// Half of it, or the rest of it, where it goes on twice.
    share: &'static str,
    without: &'a [(u32, Kind)],
}

impl Coat<'_> {
    fn names(&self) -> String {
        let names: Vec<String> = self.parts.iter().map(|(_, i)| i.name.to_lowercase()).collect();
        names.join(" and ")
    }

    fn weighed(&self) -> String {
        let part =
            |(g, i): &(Grams, &Ingredient)| format!("{} {} g", i.name.to_lowercase(), shown::grams(*g));
        self.parts.iter().map(part).collect::<Vec<_>>().join(" and ")
    }

    fn egg(&self) -> bool {
        self.parts.iter().any(|(_, i)| i.group == Group::Egg)
    }

    fn water_alone(&self) -> bool {
        self.parts.iter().all(|(_, i)| i.is_water())
    }

    /// That it is for these pieces alone, where other pieces come from the same dough.
    fn only_on(&self, f: &FinishInput) -> String {
        if self.without.is_empty() {
            return String::new();
        }
        let others: Vec<String> =
            self.without.iter().map(|(n, kind)| format!("{n} × {}", kind.name().to_lowercase())).collect();
        let main = format!("{} × {}", f.pieces, f.kind.name().to_lowercase());
        format!(" On the {main} alone: the {} stay without.", others.join(" and the "))
    }

    /// What in it may matter to somebody.
    fn allergy(&self) -> String {
        let all = self.parts.iter().flat_map(|(_, i)| i.allergens.iter().map(String::as_str));
        let mut names: Vec<&str> = all.collect();
        names.sort_unstable();
        names.dedup();
        if names.is_empty() { "what is brushed on".into() } else { names.join(" and ") }
    }

    /// When it is due, for pieces that take so many minutes each way.
    fn when(&self, each: f64, bathed: bool) -> When {
        let m = |n: u32| Minutes(f64::from(n));
        match self.at {
            GoesOnAt::Shaped => When::Shaped,
            GoesOnAt::Earlier(n) => When::Before(m(n)),
            GoesOnAt::Before => When::Before(Minutes(match self.stage {
                // On what is dipped, salt and seeds go on last, over the cut; on what is brushed, at once, while it
                // is wet.
                Stage::Topping if bathed => 0.2,
                Stage::Topping => SCATTERED + each,
                _ => WASHED + each,
            })),
            GoesOnAt::Minute(n) => When::Into(m(n)),
            GoesOnAt::ToGo(n) => When::ToGo(m(n)),
            GoesOnAt::Hot => When::After(Minutes(1.0)),
            GoesOnAt::Cold => When::Cold,
        }
    }

    fn in_the_oven(&self) -> bool {
        matches!(self.at, GoesOnAt::Minute(_) | GoesOnAt::ToGo(_))
    }
}

/// What goes on the pieces, each stage's at each of its moments together.
fn coats<'a>(f: &'a FinishInput, catalogue: &'a Catalogue) -> Vec<Coat<'a>> {
    let on = |stage: Stage| {
        f.on.iter()
            .filter(move |l| l.stage == stage && l.grams.0 > 0.0)
            .filter_map(|l| Some((l, catalogue.get(&l.ingredient)?)))
    };
    let twice = on(Stage::SecondWash).next().is_some();
    let iced = on(Stage::Glaze).any(|(_, i)| i.kin() == "icing-sugar");
    let mut all: Vec<Coat> = Vec::new();
    for stage in [Stage::Wash, Stage::SecondWash, Stage::Topping, Stage::Glaze] {
        let usual = match stage {
            // Of two washes the first goes on when it is shaped, and dries while it proofs.
            Stage::Wash if twice => GoesOnAt::Shaped,
            Stage::Glaze if iced => GoesOnAt::Cold,
            Stage::Glaze => GoesOnAt::Hot,
            _ => GoesOnAt::Before,
        };
        for (line, ingredient) in on(stage) {
            let at = line.at.unwrap_or(usual);
            let with = |c: &&mut Coat| c.stage == stage && c.at == at && c.without == line.without;
            match all.iter_mut().find(with).filter(|_| stage != Stage::Topping) {
                Some(coat) => coat.parts.push((line.grams, ingredient)),
                None => {
                    let parts = vec![(line.grams, ingredient)];
                    all.push(Coat { stage, at, parts, share: "", without: &line.without });
                }
            }
        }
    }
    // Half of a glaze near the end of the bake, half when it is out.
    if let Some(n) = all.iter().position(|c| c.stage == Stage::Glaze && c.at == GoesOnAt::Hot)
        && f.finish.basted
    {
        let rest = &mut all[n];
        rest.share = "the rest of the ";
        let (parts, without) = (rest.parts.clone(), rest.without);
        let at = GoesOnAt::ToGo(BASTE);
        all.push(Coat { stage: Stage::Glaze, at, parts, share: "half of the ", without });
    }
    all
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
/// };
/// assert_eq!(finish(&round, Catalogue::bundled())[0].title, "Score");
/// ```
pub fn finish(f: &FinishInput, catalogue: &Catalogue) -> Vec<FinishStep> {
    let each = 0.2 * f64::from(f.pieces.max(1));
    let mut all = bath(f, catalogue);
    let bathed = !all.is_empty();
    let coats = coats(f, catalogue);
    all.extend(coats.iter().map(|c| coat_step(f, c, &coats, each, bathed)));
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
    let coat =
        Coat { stage: Stage::Bath, at: GoesOnAt::Before, parts: vec![], share: "", without: &first.without };
    let only = coat.only_on(f);
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

/// What is brushed, scattered, sprayed or poured on.
fn coat_step(f: &FinishInput, c: &Coat<'_>, all: &[Coat<'_>], each: f64, bathed: bool) -> FinishStep {
    let only = c.only_on(f);
    let names = c.names();
    let (title, what, minutes): (&str, String, f64) = match c.stage {
        Stage::Topping => {
            let grams: f64 = c.parts.iter().map(|(g, _)| g.0).sum();
            let share = shown::grams(Grams(grams / f64::from(f.pieces.max(1))));
            let (title, how) = match c.at {
                GoesOnAt::Shaped => ("Press on", ", pressed on while it is moist"),
                _ => ("Scatter", ""),
            };
            (title, format!("{share} g of {names} on each{how}.{only}"), (0.5 * each).max(0.5))
        }
        Stage::Glaze if c.at == GoesOnAt::Cold => {
            let what = if c.parts.iter().any(|(_, i)| i.kin() == "icing-sugar") {
                "Stir the icing smooth, and pour or pipe it on when the bread is cold.".to_owned()
            } else {
                format!("Brush with {}{names} when the bread is cold.", c.share)
            };
            ("Ice", format!("{what}{only}"), each.max(2.0))
        }
        _ if c.in_the_oven() => {
            let whole = if c.share.is_empty() { "the " } else { c.share };
            let mut what = format!("{whole}{names}, thinly; then shut the door again at once.{only}");
            what[..1].make_ascii_uppercase();
            (if c.water_alone() { "Spray" } else { "Baste" }, what, (0.5 * each).max(1.0))
        }
        _ if c.at == GoesOnAt::Hot => {
            let what = format!("Brush with {}{names} while it is hot: the crust stays soft.{only}", c.share);
            ("Brush", what, (0.5 * each).max(1.0))
        }
        _ if c.water_alone() => {
            ("Spray with water", format!("Until it shines; or brush it.{only}"), (0.5 * each).max(1.0))
        }
        stage => {
            let title = match stage {
                Stage::SecondWash => "Second wash",
                Stage::Glaze => "Brush",
                _ if c.egg() => "Wash",
                _ => "Wash without egg",
            };
            let dry = if c.at == GoesOnAt::Shaped { " It dries while it proofs." } else { "" };
            let later = if c.at == GoesOnAt::Shaped
                && stage == Stage::Wash
                && all.iter().any(|o| o.stage == Stage::SecondWash)
            {
                " The second goes on before the oven."
            } else {
                ""
            };
            // Seeds that lie there already would stick to the brush.
            let seeded = all.iter().any(|o| o.stage == Stage::Topping && o.at < c.at);
            let how = if seeded { "Dab on, so that the seeds stay," } else { "Brush thinly with" };
            let kept = if only.is_empty() {
                String::new()
            } else {
                format!(
                    "{only} A brush of its own, and a gap between: {} may matter to who eats the others.",
                    c.allergy()
                )
            };
            (title, format!("{how} {}.{dry}{later}{kept}", c.weighed()), each.max(1.0))
        }
    };
    let caution = if c.in_the_oven() { Some(HOT_OVEN) } else { c.egg().then_some(RAW_EGG) };
    FinishStep {
        when: c.when(each, bathed),
        title: title.to_owned(),
        what,
        minutes: Minutes(minutes),
        caution,
    }
}

/// What is cut, pricked, pressed or piped.
fn cuts(f: &FinishInput, each: f64) -> Vec<FinishStep> {
    let mut all = Vec::new();
    let mut add = |before: f64, title: &str, what: String, minutes: f64, caution: Option<&'static str>| {
        let (when, minutes) = (When::Before(Minutes(before)), Minutes(minutes));
        all.push(FinishStep { when, title: title.to_owned(), what, minutes, caution });
    };
    if f.finish.piped {
        let what = "A paste of equal flour and water with a little oil, piped across each.".to_owned();
        add(2.5 + each, "Pipe", what, each.max(1.0), None);
    }
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
