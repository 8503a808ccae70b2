//! What is set before the dough is mixed: preferments in their builds, soakers, scalds, and the feeds of a kept culture
//! that raise it from the fridge.

use super::{Ahead, InKitchen};
use crate::day::{Lasts, Moment, Moves, StepKind, Task, Tasks};
use crate::formula::{Build, Formula, Line, builds, figures, known};
use crate::pantry::{Group, Ingredient};
use crate::rise::{Liveliness, ripen};
use crate::units::{Grams, Percent, shown};
use crate::words::Stage;

/// Minutes to set a preferment, a soaker or a scald.
const SETTING: f64 = 5.0;
/// Parts of fresh flour and water that a culture is fed, to one of its own weight (common practice, no source).
const FED: f64 = 4.0;
/// The least of a culture that is fed: less is hard to weigh, and dries out in its jar (common practice, no source).
const LEAST_SEED: Grams = Grams(10.0);

/// Something that is set, and stands.
struct Part {
    id: String,
    title: String,
    what: String,
    stands: Task,
}

impl Part {
    /// How long before its end it is begun, min.
    fn lead(&self) -> f64 {
        SETTING + self.stands.lasts.best.0
    }

    fn set(&self) -> Task {
        Task::deed(&self.id, StepKind::Levain, &self.title, SETTING).says(&self.what)
    }
}

fn lead(chain: &[Part]) -> f64 {
    chain.iter().map(Part::lead).sum()
}

impl InKitchen<'_> {
    /// Whether a soaker's liquid is poured over it boiling, as one of its lines says.
    pub(super) fn is_poured_hot(&self, stage: Stage) -> bool {
        let says = |l: &Line| l.stage == stage && l.note.to_lowercase().contains("boil");
        stage == Stage::Soaker && self.formula.lines.iter().any(says)
    }

    /// What stands longest is set first; the others so that all are ready together.
    pub(super) fn tasks_ahead(&self, day: &mut Tasks, ahead: &[Ahead]) {
        let builds = builds(self.formula, self.catalogue);
        let standing = ahead.iter().filter(|a| a.time.0 > 0.0);
        let mut chains: Vec<Vec<Part>> = standing
            .map(|a| match a.stage {
                Stage::Preferment if !builds.is_empty() => {
                    let mut chain = self.feeds(builds[0].culture);
                    chain.extend(self.built(a, &builds));
                    chain
                }
                _ => vec![self.whole(a)],
            })
            .collect();
        if builds.is_empty() {
            // A culture that goes into the dough as it is.
            chains.push(self.feeds(self.culture_taken()));
        }
        chains.retain(|c| !c.is_empty());
        let Some(first) = (0..chains.len()).max_by(|a, b| lead(&chains[*a]).total_cmp(&lead(&chains[*b])))
        else {
            return;
        };
        for part in chains.remove(first) {
            day.then(part.set());
            day.then(part.stands);
        }
        let ready = day.end();
        for chain in chains {
            let mut before = lead(&chain);
            for part in chain {
                day.beside(part.set(), ready.later(-before), Moves::within(SETTING, 0.0));
                before -= part.lead();
                day.alongside(part.stands, Moment::end(&part.id));
            }
        }
    }

    /// What is set at once.
    fn whole(&self, a: &Ahead) -> Part {
        let name = a.stage.name().to_lowercase();
        let what: Vec<String> = self
            .lines(a.stage)
            .filter(|(g, _)| g.0 > 0.0)
            .map(|(g, i)| format!("{} g {}", shown::grams(g), i.name.to_lowercase()))
            .collect();
        let id = format!("ahead.{}", a.stage.key());
        Part {
            title: format!("Set the {name}"),
            what: format!("{}. {}", what.join(", "), setting(a)),
            stands: stands(a, &id, None),
            id,
        }
    }

    /// A levain in its builds.
    fn built(&self, a: &Ahead, builds: &[Build]) -> Vec<Part> {
        let (name, g) = (a.stage.name().to_lowercase(), shown::grams);
        let last = builds.len();
        let part = |b: &Build| {
            let from = if b.number == 1 { "ripe culture" } else { "of the build before" };
            let what = format!("{} g {from}, {} g flour, {} g water.", g(b.culture), g(b.flour), g(b.water));
            let id = format!("ahead.{}.{}", a.stage.key(), b.number);
            if (b.number as usize) < last {
                let title = format!("Feed, build {} of {last}", b.number);
                return Part { title, what, stands: stands(a, &id, Some(b.number)), id };
            }
            let keep = self.formula.levain.keep;
            let kept = match keep.0 > 0.0 {
                true => format!(" {} g of it are kept for the next bake.", g(keep)),
                false => String::new(),
            };
            Part {
                title: format!("Set the {name}"),
                what: format!("{what} {}{kept}", setting(a)),
                stands: stands(a, &id, None),
                id,
            }
        };
        builds.iter().map(part).collect()
    }

    /// The feeds with which a kept culture comes to raise a dough that takes so much of it: as often as the kitchen
    /// says, each as long as the engine finds. None where no culture is taken.
    fn feeds(&self, taken: Grams) -> Vec<Part> {
        let feeds = self.kitchen.culture_feeds;
        if feeds == 0 || taken.0 <= 0.0 {
            return Vec::new();
        }
        let seeds = seeds(taken, feeds);
        let parts = (1..=feeds).zip(seeds).map(|(n, seed)| self.feed(n, feeds, seed));
        parts.collect::<Option<Vec<_>>>().unwrap_or_default()
    }

    /// How much of a culture goes into the dough, by its first build.
    fn culture_taken(&self) -> Grams {
        match builds(self.formula, self.catalogue).first() {
            Some(build) => build.culture,
            None => {
                let lines = known(self.formula, self.catalogue);
                lines.filter(|(_, i)| i.group == Group::Culture).map(|(l, _)| l.grams).sum()
            }
        }
    }

    /// The flour that the feeds take before a bake, a line a feed; none where the culture is not fed for it.
    pub fn flour_fed(&self) -> Vec<Line> {
        let taken = self.culture_taken();
        if taken.0 <= 0.0 {
            return Vec::new();
        }
        let feeds = seeds(taken, self.kitchen.culture_feeds);
        feeds.into_iter().filter_map(|seed| self.feed_lines(seed)).map(|[_, flour, _]| flour).collect()
    }

    /// What a feed is made of: so much of the culture, and of fresh flour and water as wet as it is kept.
    fn feed_lines(&self, seed: Grams) -> Option<[Line; 3]> {
        let lines = || known(self.formula, self.catalogue).filter(|(l, _)| l.grams.0 > 0.0);
        let (culture, kind) = lines().find(|(_, i)| i.group == Group::Culture)?;
        let flours = || lines().filter(|(_, i)| i.group == Group::Flour);
        let heaviest =
            |a: &(&Line, &Ingredient), b: &(&Line, &Ingredient)| a.0.grams.0.total_cmp(&b.0.grams.0);
        let own = flours().filter(|(l, _)| l.stage == Stage::Preferment).max_by(heaviest);
        let (flour, _) = own.or_else(|| flours().max_by(heaviest))?;
        let fresh = seed * FED;
        let (dry, wet) = (fresh * kind.flour, fresh * (1.0 - kind.flour));
        let line = |key: &str, grams| Line::new(key, Stage::Dough, grams);
        Some([line(&culture.ingredient, seed), line(&flour.ingredient, dry), line("water", wet)])
    }

    fn feed(&self, n: u32, of: u32, seed: Grams) -> Option<Part> {
        let lines = self.feed_lines(seed)?;
        let [_, flour, water] = &lines;
        let (dry, wet) = (flour.grams, water.grams);
        let name = self.catalogue.get(&flour.ingredient)?.name.to_lowercase();
        let lines = lines.to_vec();
        let f = figures(&Formula { lines, ..self.formula.clone() }, self.catalogue);
        let mut dough = self.dough(&f, Percent(0.0));
        if n == 1 {
            dough.pace *= Liveliness::Sluggish.pace();
        }
        let place = self.stands(Stage::Preferment);
        let r = ripen(&dough, place.temperature, &place).ok().filter(|r| r.ripens)?;
        let g = shown::grams;
        let from = if n == 1 { "of the culture from the fridge" } else { "of the feed before" };
        let id = format!("feed.{n}");
        let which = if of > 1 { format!(", {n} of {of}") } else { String::new() };
        let over = if n == of { " What is over goes back to its jar." } else { "" };
        let wait = Task::wait(
            format!("{id}.stands"),
            StepKind::Levain,
            format!("The culture rises{which}"),
            Lasts::between(r.time, r.time, r.good_until),
        );
        Some(Part {
            title: format!("Feed the culture{which}"),
            what: format!("{} g {from}, {} g {}, {} g water.{over}", g(seed), g(dry), name, g(wet)),
            stands: wait.says(ripe()).stands_at(place.temperature),
            id,
        })
    }
}

/// How much of a culture each of so many feeds begins with, so that the last makes what is taken, the first first.
fn seeds(taken: Grams, feeds: u32) -> Vec<Grams> {
    let mut makes = taken;
    let mut all: Vec<Grams> = (0..feeds)
        .map(|_| {
            makes = Grams((makes.0 / (1.0 + FED)).max(LEAST_SEED.0).ceil());
            makes
        })
        .collect();
    all.reverse();
    all
}

/// It stands, for one of its builds or for all of them.
fn stands(a: &Ahead, id: &str, build: Option<u32>) -> Task {
    let title = format!("The {} stands", a.stage.name().to_lowercase());
    let title = build.map_or(title.clone(), |n| format!("{title}, build {n}"));
    Task::wait(format!("{id}.stands"), StepKind::Levain, title, a.lasts())
        .says(ready_sign(a))
        .stands_at(a.place)
}

fn setting(a: &Ahead) -> &'static str {
    match a.stage {
        Stage::Soaker if a.hot => {
            "Pour the liquid over, boiling, stir and cover. It scalds: pour away from you."
        }
        Stage::Soaker => "Pour the liquid over, stir and cover.",
        Stage::Scald => "Cook flour and liquid, stirring, until it is thick and clear; cover, let it cool.",
        Stage::OldDough => "Tear it up.",
        _ => "Stir until no dry flour is left; cover.",
    }
}

fn ready_sign(a: &Ahead) -> &'static str {
    match a.stage {
        Stage::Soaker if a.hot => "Ready when it has drunk its liquid and is no warmer than the hand.",
        Stage::Soaker => "Ready when it has drunk its liquid.",
        Stage::Scald => "Ready when it is no warmer than the hand.",
        _ => ripe(),
    }
}

fn ripe() -> &'static str {
    "Ripe when it is domed and full of bubbles, just before it sinks."
}

#[cfg(test)]
mod tests {
    use crate::day::Task;
    use crate::formula::{Formula, Line, PrefermentSize, size_preferment};
    use crate::kitchen::Kitchen;
    use crate::pantry::Catalogue;
    use crate::stations::read;
    use crate::units::{Grams, Percent};
    use crate::words::{Stage, Style};

    fn hearth(of_levain: bool) -> Formula {
        let mut f = Formula::beginning("A hearth loaf", Style::Hearth);
        if of_levain {
            f.lines.retain(|l| !l.ingredient.contains("yeast"));
            size_preferment(
                &mut f,
                Stage::Preferment,
                PrefermentSize::Flour(Percent(20.0)),
                Catalogue::bundled(),
            )
            .unwrap();
        }
        f
    }

    fn tasks(f: &Formula, culture_feeds: u32) -> Vec<Task> {
        let kitchen = Kitchen { culture_feeds, ..Kitchen::default() };
        let now = "2026-11-27T08:00:00Z".parse().unwrap();
        read(f, &kitchen, Catalogue::bundled(), now).unwrap().tasks
    }

    /// A culture from the fridge is fed as often as the kitchen says, and is ripe when the levain is set with it; it is
    /// slower at its first feed.
    #[test]
    fn a_culture_from_the_fridge_is_fed_first() {
        let f = hearth(true);
        let (usual, all) = (tasks(&f, 0), tasks(&f, 2));
        let ids: Vec<&str> = all.iter().take(5).map(|t| t.id.as_str()).collect();
        let fed = ["feed.1", "feed.1.stands", "feed.2", "feed.2.stands", "ahead.preferment.1"];
        assert_eq!(ids, fed);
        assert_eq!(usual[0].id, "ahead.preferment.1");
        let stands = |n: usize| all[n].lasts.best.0;
        assert!(stands(1) > 1.1 * stands(3), "{} and {} min", stands(1), stands(3));
        assert!(all[2].detail.contains("goes back to its jar"), "{}", all[2].detail);
        assert_eq!(all[4..].len(), usual.len(), "the rest is as ever");
    }

    /// A culture that goes into the dough as it is, is fed before that; a dough of yeast has no feeds.
    #[test]
    fn a_culture_in_the_dough_is_fed_too() {
        let mut f = hearth(false);
        assert!(tasks(&f, 3).iter().all(|t| !t.id.starts_with("feed.")));
        f.lines.push(Line::new("culture-100", Stage::Dough, Grams(100.0)));
        let all = tasks(&f, 1);
        assert_eq!((all[0].id.as_str(), all[1].id.as_str()), ("feed.1", "feed.1.stands"));
        // 100 g are a fifth of culture and four of flour and water.
        assert!(all[0].detail.starts_with("20 g of the culture from the fridge, 40 g"), "{}", all[0].detail);
    }

    /// A soaker whose liquid is poured over it boiling stands until it is no warmer than the hand; a cold one overnight.
    #[test]
    fn a_hot_soaker_stands_shorter_and_says_that_it_scalds() {
        let soaker = |note: &str| {
            let mut f = hearth(false);
            f.lines.insert(0, Line::new("rolled-oats", Stage::Soaker, Grams(80.0)));
            let water = Line::new("water", Stage::Soaker, Grams(120.0));
            f.lines.insert(1, Line { note: note.into(), ..water });
            let all = tasks(&f, 0);
            assert_eq!(all[1].id, "ahead.soaker.stands");
            (all[0].detail.clone(), all[1].lasts.best.0)
        };
        let (cold, hot) = (soaker("cold"), soaker("boiling"));
        assert_eq!((cold.1, hot.1), (480.0, 90.0));
        assert!(hot.0.contains("scalds") && !cold.0.contains("scalds"));
    }
}
