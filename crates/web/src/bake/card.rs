//! One step, large: what to do, its figure, its sign, what it takes.

use cerealis_core::bake::{DueStep, StepState};
use cerealis_core::day::StepKind;
use cerealis_core::oven::{Looks, ProbeReading, what_now};
use cerealis_core::pantry::household;
use cerealis_core::units::{Minutes, shown};
use cerealis_core::words::{Stage, Vessel};

use super::standing::Standing;
use crate::household::Household;
use crate::picture;
use crate::show::{Here, celsius, rise_word};

/// A line that is weighed in.
pub struct WeighLine {
    /// Its place among the lines.
    pub line: usize,
    /// What it is.
    pub name: String,
    /// Of which stage, where that is said for the first time.
    pub stage: Option<&'static str>,
    /// What is wanted, as this household measures it.
    pub much: String,
    /// By the spoon, or by number, where that is how it is measured.
    pub beside: String,
    /// What was really weighed.
    pub weighed: Option<String>,
    /// What is there of it then, or will be, g.
    pub grams: f64,
}

/// A step as a card.
pub struct Card {
    /// Its id.
    pub id: String,
    /// What it is called.
    pub title: String,
    /// What to do, and the sign to look for.
    pub what: String,
    /// The one figure, where it has one that is no timer.
    pub figure: String,
    /// What the figure is.
    pub of_figure: String,
    /// When its timer rings, ms.
    pub rings: Option<i64>,
    /// By the clock.
    pub at: String,
    /// Whether it is now, or when.
    pub kicker: String,
    /// Whether it wants hands.
    pub hands: bool,
    /// What goes in.
    pub amounts: Vec<(String, String)>,
    /// What is weighed in.
    pub weigh: Vec<WeighLine>,
    /// Picture by picture, with a sentence each.
    pub pictures: Vec<(String, String)>,
    /// What is known besides, a sentence each.
    pub says: Vec<String>,
    /// What to be careful of here.
    pub cautions: Vec<String>,
    /// What comes after it, and when.
    pub then: String,
    /// Whether more time can be given to it.
    pub longer: bool,
}

/// The cards of all that is to come, in the order of their touches.
pub fn cards(s: &Standing, home: &Household) -> Vec<Card> {
    let (next, here) = (&s.answer.due.next, s.here(home));
    next.iter().enumerate().map(|(n, due)| card(s, home, &here, due, next.get(n + 1))).collect()
}

/// What is to be done within so many minutes is to be done now.
const NOW: f64 = 1.5;

fn card(s: &Standing, home: &Household, here: &Here, due: &DueStep, then: Option<&DueStep>) -> Card {
    let step = s.bake.start.step(&due.id);
    let kind = step.map_or(StepKind::Mix, |p| p.kind);
    let timer = s.answer.due.timers.iter().find(|t| t.step == due.id);
    let (figure, of_figure) = figure(s, due, kind);
    Card {
        id: due.id.clone(),
        title: due.title.clone(),
        what: step.map_or(String::new(), |p| p.detail.clone()),
        figure,
        of_figure,
        rings: timer.map(|t| t.rings.as_millisecond()),
        at: here.when(due.at),
        kicker: match (due.hands_on, due.under_way) {
            (true, true) => "Now".into(),
            (true, false) if due.in_minutes.0.abs() <= NOW => "Now".into(),
            (true, false) => format!("At {}", here.when(due.at)),
            (false, true) => format!("Until about {}", here.when(due.at)),
            (false, false) => format!("Later, until about {}", here.when(due.at)),
        },
        hands: due.hands_on,
        amounts: amounts(s, &due.id),
        weigh: if due.id == "weigh" { weigh_lines(s, home) } else { Vec::new() },
        pictures: pictures(s, &due.id, &due.title),
        says: says(s, due, kind, here),
        cautions: cautions(s, &due.id, kind),
        then: then.map_or("Then it is done.".into(), |t| format!("Then {}, {}", t.title, here.when(t.at))),
        longer: timer.is_some() && (due.under_way || s.answer.state.steps.iter().any(StepState::is_over)),
    }
}

/// The figure of a step that is none of time.
fn figure(s: &Standing, due: &DueStep, kind: StepKind) -> (String, String) {
    let Some(st) = &s.stations else { return Default::default() };
    match (kind, due.id.as_str()) {
        (StepKind::Shape, "shape.0") => match st.shape.strand {
            Some(strand) => (format!("{} g", shown::grams(strand)), "a strand".into()),
            None if s.bake.start.formula.shape.pieces > 1 => {
                (format!("{} g", shown::grams(st.shape.piece)), "a piece".into())
            }
            None => Default::default(),
        },
        (StepKind::Oven, "oven-on") => match s.bake.start.step(&due.id).and_then(|p| p.oven) {
            Some(dial) => (format!("{dial:.0} °C"), "on the dial".into()),
            None => (celsius(st.bake.dial), "on the dial".into()),
        },
        _ => Default::default(),
    }
}

/// What goes in at a phase of mixing.
fn amounts(s: &Standing, id: &str) -> Vec<(String, String)> {
    let Some(st) = &s.stations else { return Vec::new() };
    let phase = id.strip_prefix("mix.").and_then(|n| n.split('.').next()?.parse::<usize>().ok());
    let goes_in = phase.and_then(|n| st.goes_in.get(n)).into_iter().flatten();
    goes_in.map(|g| (g.name.clone(), format!("{} g", shown::grams(g.grams)))).collect()
}

/// The lines in the order of the bowl. What was made ahead is in its tub already.
pub fn weigh_lines(s: &Standing, home: &Household) -> Vec<WeighLine> {
    let (f, kitchen) = (&s.answer.state.formula, s.kitchen(home));
    let mut all = Vec::new();
    let mut said = None;
    for stage in Stage::ALL.into_iter().filter(|st| st.in_dough() && !st.is_ahead()) {
        for (n, l) in f.lines.iter().enumerate().filter(|(_, l)| l.stage == stage && l.grams.0 > 0.0) {
            let ingredient = s.catalogue.get(&l.ingredient);
            let spoon = ingredient.and_then(|i| household(i, l.grams, kitchen.measures));
            let counted = ingredient.is_some_and(|i| i.group == cerealis_core::pantry::Group::Egg);
            // The spoon where the scale is too coarse for it, and eggs by their number.
            let by_spoon = l.grams.0 < 12.0 * kitchen.scale.step() || counted;
            let grams = format!("{} g", shown::grams(l.grams));
            let (much, beside) = match spoon {
                Some(said) if kitchen.notation().in_cups() => (said, grams),
                Some(said) if by_spoon => (grams, said),
                _ => (grams, String::new()),
            };
            all.push(WeighLine {
                line: n,
                name: ingredient.map_or_else(|| l.ingredient.clone(), |i| i.name.clone()),
                stage: (said != Some(stage)).then_some(stage.name()),
                much,
                beside,
                grams: (10.0 * l.grams.0).round() / 10.0,
                weighed: s.answer.state.weighed.get(&n).map(|g| format!("{} g", shown::grams(*g))),
            });
            said = Some(stage);
        }
    }
    all
}

fn pictures(s: &Standing, id: &str, title: &str) -> Vec<(String, String)> {
    let Some(st) = s.stations.as_ref().filter(|_| id.starts_with("shape.") && title == "Plait") else {
        return Vec::new();
    };
    st.work.braid.as_ref().map_or(Vec::new(), |b| {
        let drawn = picture::braid(b, s.bake.start.formula.shape.hand);
        drawn.into_iter().zip(b.steps.iter().map(|step| step.says.clone())).collect()
    })
}

fn says(s: &Standing, due: &DueStep, kind: StepKind, here: &Here) -> Vec<String> {
    let mut all = Vec::new();
    let rises = matches!(due.id.as_str(), "bulk" | "second" | "proof");
    if let Some(o) = s.answer.outlook.as_ref() {
        let (ready, likely) = (here.when(o.ready), here.between(o.early, o.late));
        if rises && due.under_way {
            all.push(format!(
                "Ready {ready}, likely {likely}. Now about {:.1}× its starting size.",
                o.volume
            ));
            // Whoever is late finds it so much past that.
            if due.at.duration_since(o.ready).as_secs() >= 5 * 60 {
                all.push(format!("You are there {}.", here.when(due.at)));
            }
            all.push(o.advice.clone());
        } else if matches!(kind, StepKind::Fold | StepKind::Finish | StepKind::Oven) && due.hands_on {
            all.push(format!("The {} goes on: ready {ready}, likely {likely}.", rise_word(o.which)));
        }
    }
    let Some(st) = &s.stations else { return all };
    if kind == StepKind::Bake && !due.hands_on {
        all.push(format!("Done at a core of {}.", celsius(st.bake.core_target)));
        if let Some(said) = core_says(s, due) {
            all.push(said);
        }
    }
    if kind == StepKind::Cool {
        all.push(format!("Cut it not before {}.", here.when(due.ends.max(due.at))));
        all.extend(st.keeping.iter().take(2).cloned());
    }
    all
}

/// What the last core that was read means.
fn core_says(s: &Standing, due: &DueStep) -> Option<String> {
    use cerealis_core::bake::Reading;
    let st = s.stations.as_ref()?;
    let last = s.answer.state.readings.iter().rev().find_map(|(at, r)| match r {
        Reading::Core(t) if *at >= due.begins => Some((*at, *t)),
        _ => None,
    });
    let (at, core) = last?;
    let minutes = Minutes((at.duration_since(due.begins).as_secs_f64() / 60.0).max(1.0));
    let now = what_now(&st.bake, &ProbeReading { minutes, core, looks: Looks::Right }).ok()?;
    Some(format!("The core is at {}. {}", celsius(core), now.says))
}

/// What to be careful of at a step, each where the hand is.
fn cautions(s: &Standing, id: &str, kind: StepKind) -> Vec<String> {
    let mut all: Vec<String> = Vec::new();
    let vessel = s.bake.start.formula.oven.vessel;
    let hot_pot = vessel == Vessel::Pot;
    let tin = matches!(vessel, Vessel::Tin | Vessel::Lidded);
    match kind {
        StepKind::Bake if id.starts_with("in.") && hot_pot => {
            all.push(
                "The pot and its lid are as hot as the oven: dry mitts, long sleeves, lid away from you."
                    .into(),
            );
        }
        StepKind::Bake if id.starts_with("in.") && s.bake.start.formula.oven.steam => {
            all.push("Steam burns: arms back, and never water on the door's glass.".into());
        }
        StepKind::Bake if id.starts_with("in.") => all.push("Hot racks: dry mitts, arms covered.".into()),
        StepKind::Bake if id.starts_with("out.") => {
            let tin = if tin { " The tin stays hot for a quarter of an hour." } else { "" };
            all.push(format!("Everything that comes out is as hot as the oven: dry mitts.{tin}"));
        }
        StepKind::Bake if id.starts_with("lid") => {
            all.push("Steam under the lid: open it away from you.".into())
        }
        StepKind::Mix if s.stations.as_ref().is_some_and(|st| uses_mixer(st, id)) => {
            all.push("Hands, sleeves and spoons out of the bowl while the mixer turns.".into());
        }
        StepKind::Finish => {
            let steps = s.stations.iter().flat_map(|st| &st.work.finish);
            let title = s.bake.start.step(id).map(|p| p.title.clone()).unwrap_or_default();
            all.extend(steps.filter(|f| f.title == title).filter_map(|f| f.caution).map(str::to_owned));
        }
        StepKind::Oven if id.starts_with("reheat") => all.push("The pot is hot again: dry mitts.".into()),
        _ => {}
    }
    all
}

fn uses_mixer(st: &cerealis_core::stations::Stations, id: &str) -> bool {
    st.tasks.iter().any(|t| t.id == id && t.needs.mixer)
}
