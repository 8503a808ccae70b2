//! What is brushed, scattered, sprayed or poured on the pieces, each at its moment. Common practice, no source, where
//! nothing else is said.

use super::input::{FinishInput, FinishStep, When};
use super::moment::GoesOnAt;
use crate::pantry::{Catalogue, Group, Ingredient};
use crate::units::{Grams, Minutes, shown};
use crate::words::{Kind, Stage};

/// Minutes before the end at which a loaf is basted: the crust has set, and what is brushed on browns
/// without burning.
const BASTE: u32 = 5;

/// Minutes before the oven at which the last wash is on, and the last seeds.
const WASHED: f64 = 5.0;
const SCATTERED: f64 = 3.0;

const HOT_OVEN: &str = "Pull the rack out to brush: the door and the oven's sides burn arms.";
const RAW_EGG: &str = "Raw egg: wash brush and hands.";

/// What goes on together: with its ingredients, and what of it goes on.
pub(super) struct Coat<'a> {
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
pub(super) fn coats<'a>(f: &'a FinishInput, catalogue: &'a Catalogue) -> Vec<Coat<'a>> {
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

/// That something is for these pieces alone, where others of the same dough stay without it.
pub(super) fn only_on(f: &FinishInput, without: &[(u32, Kind)]) -> String {
    if without.is_empty() {
        return String::new();
    }
    let others: Vec<String> =
        without.iter().map(|(n, kind)| format!("{n} × {}", kind.name().to_lowercase())).collect();
    let main = format!("{} × {}", f.pieces, f.kind.name().to_lowercase());
    format!(" On the {main} alone: the {} stay without.", others.join(" and the "))
}

/// What is brushed, scattered, sprayed or poured on.
pub(super) fn coat_step(
    f: &FinishInput,
    c: &Coat<'_>,
    all: &[Coat<'_>],
    each: f64,
    bathed: bool,
) -> FinishStep {
    let only = only_on(f, c.without);
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
