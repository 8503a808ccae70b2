//! What is to be done for one dough, in the order of the hands: tasks, each with what it hangs on. Minutes come
//! later, when they are laid out.

use super::pieces::PieceWork;
use super::{Ahead, InKitchen, Liquid, MakeUpAnswer};
use crate::day::{Doubt, LaidOut, Lasts, Moment, Moves, StepKind, Task, Tasks, lay, lead_up};
use crate::finish::{FinishStep, When};
use crate::formula::Formula;
use crate::mix::{MixOutput, PhaseKind, WaterAction, WaterAnswer, WaterAnswers};
use crate::oven::BakeOutput;
use crate::rise::{Forecast, RiseOutput, RiseWish};
use crate::shape::ShapeOutput;
use crate::units::{Celsius, Grams, Minutes, shown};
use crate::words::{Handling, Stage, Style, Vessel, WaterSchool};

/// Minutes that it takes to knock a dough down or fold it between its rises.
const BETWEEN: f64 = 2.0;
/// Minutes that loading the oven takes.
pub(super) const LOADING: f64 = 3.0;
/// Minutes that taking out takes.
pub(super) const TAKING_OUT: f64 = 2.0;
/// Minutes for which an oven comes to another setting between two bakes.
pub(super) const RESETTING: f64 = 6.0;
/// How far apart two settings may be that bake together, K (common practice, no source).
pub(super) const TOGETHER: f64 = 10.0;

/// The longest that is looked at for a dough that does not fall, min.
const LONGEST: Minutes = Minutes(72.0 * 60.0);

/// Everything that the stations have found and that the tasks are made from.
pub(super) struct Found<'a> {
    pub ahead: &'a [Ahead],
    pub mix: &'a MixOutput,
    pub liquid: &'a Liquid,
    pub water: &'a WaterAnswers,
    pub rise: &'a RiseOutput,
    pub shape: &'a ShapeOutput,
    pub work: &'a PieceWork,
    pub bake: &'a BakeOutput,
    pub makeups: &'a [MakeUpAnswer],
}

/// The tasks of a dough, and the moments that the stations speak of.
pub(super) struct Course {
    pub tasks: Vec<Task>,
    pub laid: LaidOut,
    pub mixed_at: Minutes,
    pub proof_at: Minutes,
    pub oven_at: Minutes,
}

/// A proof to less than this is one that nobody sees, times (common practice, no source).
const HARDLY: f64 = 1.15;

impl InKitchen<'_> {
    /// The tasks of the dough that the stations have found, laid out.
    pub(super) fn course(&self, found: &Found<'_>) -> Course {
        let mut day = Tasks::new();
        self.tasks_ahead(&mut day, found.ahead);
        let answer = match self.formula.mix.school {
            WaterSchool::Balance => &found.water.balance,
            WaterSchool::Factor => &found.water.factor,
        };
        let weigh = Task::deed("weigh", StepKind::Mix, "Weigh out", 10.0);
        day.then(weigh.says(water_sentence(answer, found.liquid)));
        if let Some(minutes) = self.formula.mix.bloom
            && let Some(what) = self.bloom()
        {
            day.then(Task::deed("bloom", StepKind::Mix, "Stir the yeast in", 2.0).says(what));
            let stands = Task::wait("bloom.stands", StepKind::Mix, "The yeast blooms", Lasts::just(minutes));
            day.then(stands.says("Until it foams. If it does not, the yeast is dead: take another."));
        }
        // What is too much for the mixer is mixed part after part; the first parts wait, covered.
        let parts = found.mix.parts.max(1);
        for part in 1..=parts {
            let of = if parts > 1 { format!(", part {part} of {parts}") } else { String::new() };
            for (n, p) in found.mix.phases.iter().enumerate() {
                let id = if part > 1 { format!("mix.{n}.{part}") } else { format!("mix.{n}") };
                let title = format!("{}{of}", p.name);
                let task = match p.hands_on {
                    true => Task::deed(id, StepKind::Mix, title, p.minutes.0),
                    false => Task::wait(id, StepKind::Mix, title, Lasts::just(p.minutes)),
                };
                day.then(task.says(phase_sentence(p)).in_the_mixer(p.rpm.is_some()));
            }
        }
        let mixed = day.end();
        self.tasks_of_bulk(&mut day, found);
        self.tasks_of_shaping(&mut day, found);
        let shaped = day.end();
        if let Some(proof) = &found.rise.proof {
            let plan = &self.formula.rise.proof;
            let sign = match plan.stays {
                Some(_) => format!(
                    "It should stand at about {} times the size it was shaped at.{}",
                    times(proof.grown),
                    if ends_cold(plan, self.room()) { " Baked as cold as it is." } else { "" },
                ),
                // A dough without gluten does not spring back.
                None if self.formula.style == Style::GlutenFree => format!(
                    "Until it {}{} times its size, and small holes show on top.",
                    self.line_in_the_pan(found.work)
                        .map_or("is ".to_owned(), |line| format!("stands {line}, about ")),
                    times(proof.until(plan.target, false))
                ),
                None if proof.until(plan.target, false) < HARDLY
                    && self.line_in_the_pan(found.work).is_none() =>
                {
                    "Until a poke springs back slowly. It hardly grows any more before the oven.".to_owned()
                }
                None => format!(
                    "Until it {}{} times the size it was shaped at; a poke springs back slowly.",
                    self.line_in_the_pan(found.work)
                        .map_or("is ".to_owned(), |line| format!("stands {line}, about ")),
                    times(proof.until(plan.target, false))
                ),
            };
            let bare = if self.formula.rise.uncovered {
                " Uncovered: a skin forms, which is wanted here; keep it out of the draught."
            } else {
                ""
            };
            let sign = format!("{sign}{bare}");
            let stands = self.rising(("proof", StepKind::Proof, "Final proof"), plan, proof, &sign);
            day.then(stands.stands_in(self.formula.oven.vessel));
            self.moves(&mut day, "proof", plan, proof.time.0);
        }
        self.tasks_of_finish(&mut day, found, &self.together(found));
        let in_oven = self.tasks_of_bakes(&mut day, found);
        let tasks = day.into_tasks();
        let laid = lay(&tasks);
        let minute = |m: &Moment| laid.minute(m).unwrap_or_default();
        Course { mixed_at: minute(&mixed), proof_at: minute(&shaped), oven_at: minute(&in_oven), tasks, laid }
    }

    /// What blooms in what; `None` for a dough without yeast of its own or liquid to take for it.
    fn bloom(&self) -> Option<String> {
        let (yeast, name) = self
            .lines(Stage::Dough)
            .find(|(g, i)| g.0 > 0.0 && i.instant_yeast() > 0.0)
            .map(|(g, i)| (g, i.name.to_lowercase()))?;
        let liquid = self.blooms_in();
        (liquid.0 > 0.0).then(|| {
            let (yeast, some) = (shown::grams(yeast), shown::grams(Grams(liquid.0.round())));
            format!("{yeast} g {name} into {some} g of {} at 37 to 43 °C.", self.blooming_liquid())
        })
    }

    /// A rise, from when it may be ended to when it must be: where it stands first, and the sign to look for.
    fn rising(
        &self,
        (id, kind, title): (&str, StepKind, &str),
        plan: &RiseWish,
        rise: &Forecast,
        sign: &str,
    ) -> Task {
        let lasts = Lasts::between(rise.usable_from(), rise.time, rise.stands_until.unwrap_or(LONGEST));
        let place = plan.place.unwrap_or(self.room());
        let first = plan.legs.first().map_or(place, |l| l.place);
        let says = match self.where_it_is(first) {
            Some(there) => format!("{there} {sign}"),
            None => sign.to_owned(),
        };
        Task::wait(id, kind, title, lasts).stands_at(place).says(says)
    }

    /// Where in the kitchen it has a temperature, as a sentence; nothing for the room.
    fn where_it_is(&self, place: Celsius) -> Option<String> {
        let near = |t: Celsius| (t.0 - place.0).abs() < SAME_PLACE;
        if near(self.room()) {
            return None;
        }
        if near(self.kitchen.fridge) || place.0 < FRIDGE {
            return Some(format!("Into the fridge, {:.0} °C.", place.0));
        }
        let of_kitchen = self.kitchen.places.iter().find(|p| near(p.really()));
        Some(match of_kitchen {
            Some(p) => format!("{}, {:.0} °C.", p.name, place.0),
            None => format!("Where it is {:.0} °C.", place.0),
        })
    }

    fn tasks_of_bulk(&self, day: &mut Tasks, found: &Found<'_>) {
        if let Some(bulk) = &found.rise.bulk {
            let plan = &self.formula.rise.bulk;
            let sign = match plan.stays {
                Some(_) => format!("It should stand at about {} times its size.", times(bulk.grown)),
                None => {
                    format!("Until it has grown to {} times its size.", times(bulk.until(plan.target, false)))
                }
            };
            day.then(self.rising(("bulk", StepKind::Bulk, "Bulk rise"), plan, bulk, &sign));
            self.moves(day, "bulk", plan, bulk.time.0);
            if let Some(folds) = found.mix.folds {
                let (each, every) = (folds.each.0, folds.every.0);
                for n in 1..=folds.sets {
                    let at = f64::from(n) * every;
                    if at + each <= bulk.time.0 {
                        let fold =
                            Task::deed(format!("fold.{n}"), StepKind::Fold, format!("Fold, set {n}"), each)
                                .says("Four folds, one from each side, with wet hands.");
                        // A fold may shift by a third of the interval.
                        day.beside(fold, Moment::start("bulk").later(at), Moves::either_way(every / 3.0));
                    }
                }
            }
        }
        if let Some(second) = &found.rise.second {
            let plan = &self.formula.rise.second;
            let (title, how) = match (self.formula.rise.kneads, self.formula.rise.between) {
                (Some(_), _) => {
                    ("Knead again", "Press the gas out, and knead it until it is smooth and springs back.")
                }
                (None, Handling::Firm) => ("Knock down", "Press the gas out and round it up."),
                (None, Handling::Gentle) => ("Fold", "Four folds, one from each side, gently."),
            };
            let minutes = self.formula.rise.kneads.map_or(BETWEEN, |m| m.0);
            day.then(Task::deed("between", StepKind::Fold, title, minutes).says(how));
            let sign = match plan.stays {
                Some(_) => format!("It should stand at about {} times its size.", times(second.grown)),
                None => format!(
                    "Until it has grown to {} times its size again.",
                    times(second.until(plan.target, false))
                ),
            };
            day.then(self.rising(("second", StepKind::Bulk, "Second rise"), plan, second, &sign));
            self.moves(day, "second", plan, second.time.0);
        }
    }

    /// The dough is carried from one place to the next while it rises for so many minutes.
    fn moves(&self, day: &mut Tasks, rise: &str, plan: &RiseWish, lasts: f64) {
        let own = plan.place.unwrap_or(self.room());
        let places = plan.legs.iter().map(|l| l.place).chain([own]).skip(1);
        let mut at = 0.0;
        for (n, (leg, to)) in plan.legs.iter().zip(places).enumerate() {
            at += 60.0 * leg.hours.0;
            if at < lasts {
                let (title, says) = match self.where_it_is(to) {
                    _ if to.0 < FRIDGE => ("Into the fridge", format!("Covered, at {:.0} °C.", to.0)),
                    None => ("Out into the room", format!("Covered, at {:.0} °C.", to.0)),
                    Some(there) => ("To its next place", format!("{there} Covered.")),
                };
                let begins = at.min(lasts - 1.0).max(0.0);
                let task = Task::deed(format!("move.{rise}.{n}"), StepKind::Bulk, title, 1.0);
                let task = task.says(says).stands_at(to);
                let about = Moves::within(begins, lasts - 1.0 - begins);
                day.beside(task, Moment::start(rise).later(begins), about);
            }
        }
    }

    /// Washes, seeds, bath and cuts of the main pieces, and of those that go into the oven with them: beside the proof
    /// where it is long enough for them, after it where it is not.
    fn tasks_of_finish(&self, day: &mut Tasks, found: &Found<'_>, with: &[usize]) {
        let proof = found.rise.proof.as_ref().map_or(Minutes(0.0), |p| p.time);
        let all = with.iter().map(|n| found.makeup_finished(*n, self.formula)).chain([found.finished()]);
        let mut chain = Vec::new();
        for finished in all {
            for (n, s) in finished.steps.iter().enumerate() {
                let wished = match s.when {
                    When::Shaped => Minutes(0.0),
                    When::Before(m) => proof - m,
                    When::Into(_) | When::ToGo(_) | When::After(_) | When::Cold => continue,
                };
                chain.push((finished.task(n), (wished, s.minutes)));
            }
        }
        chain.sort_by(|a, b| a.1.0.0.total_cmp(&b.1.0.0));
        let wishes: Vec<_> = chain.iter().map(|(_, w)| *w).collect();
        match lead_up(&wishes, proof) {
            Some(begin) => {
                for ((task, _), at) in chain.into_iter().zip(begin) {
                    day.alongside(task, Moment::end("proof").later((at - proof).0));
                }
            }
            None => chain.into_iter().for_each(|(task, _)| day.then(task)),
        }
    }
}

/// The finish of the main pieces, or of a further make-up, which has a name.
pub(super) struct Finished<'a> {
    pub steps: &'a [FinishStep],
    /// What its tasks are called by: `finish`, or `finish.m0`.
    pub id: String,
    pub name: Option<String>,
}

impl Finished<'_> {
    /// A step of it as a task.
    pub fn task(&self, n: usize) -> Task {
        let s = &self.steps[n];
        let title = match &self.name {
            Some(name) => format!("{}: {name}", s.title),
            None => s.title.clone(),
        };
        Task::deed(format!("{}.{n}", self.id), StepKind::Finish, title, s.minutes.0).says(&s.what)
    }
}

impl Found<'_> {
    /// The finish of the main pieces.
    pub fn finished(&self) -> Finished<'_> {
        Finished { steps: &self.work.finish, id: "finish".into(), name: None }
    }

    /// That of a further make-up.
    pub fn makeup_finished(&self, n: usize, formula: &Formula) -> Finished<'_> {
        let name = Some(formula.makeups[n].name());
        Finished { steps: &self.makeups[n].work.finish, id: format!("finish.m{n}"), name }
    }
}

/// A height in times, as it is said everywhere.
pub(super) fn times(height: f64) -> String {
    let text = format!("{height:.2}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

/// What is colder than this is a fridge, °C.
const FRIDGE: f64 = 10.0;
/// How near a temperature is to that of a place of the kitchen for it to be that place, K.
const SAME_PLACE: f64 = 0.6;

/// Whether a proof ends in a cold place.
fn ends_cold(plan: &RiseWish, room: Celsius) -> bool {
    plan.place.unwrap_or(room).0 < 12.0
}

/// How a stage that is made ahead is set.
pub(super) fn doubt(ahead: &[Ahead], rise: &RiseOutput, bake: &BakeOutput) -> Doubt {
    let forecasts = [&rise.bulk, &rise.second, &rise.proof].into_iter().flatten();
    let (mut early, mut late) = (bake.time - bake.early, bake.late - bake.time);
    for f in forecasts {
        early += f.time - f.early;
        late += f.late - f.time;
    }
    // The longest that ripens by itself moves the rest; one with a set time does not.
    let longest = ahead
        .iter()
        .filter_map(|a| a.ripening.as_ref().filter(|r| r.time == a.time))
        .max_by(|a, b| a.time.0.total_cmp(&b.time.0));
    if let Some(l) = longest {
        early += l.time - l.early;
        late += l.late - l.time;
    }
    Doubt { early, late }
}

/// The water's answer as a sentence for the day.
pub fn water_sentence(answer: &WaterAnswer, liquid: &Liquid) -> String {
    let (all, name) = (shown::grams(liquid.grams), &liquid.name);
    match &answer.action {
        WaterAction::Tap => format!("{all} g {name} as it comes."),
        WaterAction::Warm => format!("{all} g {name} at {:.0} °C.", answer.water.0),
        WaterAction::Ice { ice, water } => {
            format!("{} g {name} and {} g ice.", shown::grams(*water), shown::grams(*ice))
        }
        WaterAction::Refused { dough } => {
            format!("{all} g {name}; that alone cannot do it: the dough comes to {:.0} °C.", dough.0)
        }
        WaterAction::NoLiquid => "No liquid to warm or cool.".into(),
    }
}

fn phase_sentence(p: &crate::mix::Phase) -> String {
    let speed = p.rpm.map(|rpm| format!("{rpm:.0} turns a minute. ")).unwrap_or_default();
    let gap = if p.what.is_empty() { "" } else { " " };
    match p.kind {
        PhaseKind::Rest | PhaseKind::Autolyse => p.what.clone(),
        _ => format!("{speed}{}{gap}{}", p.what, p.sign),
    }
}

pub(super) fn vessel_inside(v: Vessel) -> &'static str {
    match v {
        Vessel::Pot => ", the pot and its lid inside",
        Vessel::Stone => ", the stone inside",
        Vessel::Sheet | Vessel::Tin | Vessel::Lidded => "",
    }
}
