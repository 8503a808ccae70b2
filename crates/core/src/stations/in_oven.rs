//! The bakes of the day: batches, levels, other make-ups, what is done in the oven, and what comes out.

use super::makeup::bakes_alone;
use super::pieces::PieceWork;
use super::tasks::{Finished, Found, LOADING, RESETTING, TAKING_OUT, vessel_inside};
use crate::day::{Lasts, Moment, Moves, OvenNeed, StepKind, Task, Tasks};
use crate::finish::When;
use crate::oven::{BakeOutput, HotStart, OvenWish};
use crate::shape::{Pan, PanShape};
use crate::stations::InKitchen;
use crate::units::{Celsius, Minutes, shown};
use crate::words::Vessel;

/// How long a loaf may lie on its rack once it is cool, min (common practice, no source).
const LIES: f64 = 24.0 * 60.0;
/// Minutes that an emptied pot takes to be hot again (common practice, no source).
const POT_AGAIN: f64 = 12.0;
/// How much longer than the main pieces something may bake beside them, as a share.
const LONGER: f64 = 1.5;
/// How far a deed in the oven may be put off or brought forward, min.
const AROUND: f64 = 4.0;

/// What bakes as one: the main pieces or a further make-up, and the task that it goes in with.
struct Baked<'a> {
    bake: &'a BakeOutput,
    trays: u32,
    hot_start: Option<HotStart>,
    pot: bool,
    finished: Finished<'a>,
    /// The task with which it goes in.
    into: String,
    /// What marks its own tasks: nothing for the first batch, `.2`, `.m0`.
    mark: String,
    /// What its tasks are called by besides.
    name: Option<String>,
}

impl InKitchen<'_> {
    /// Into the oven and out of it: the main pieces in as many batches as their trays need, with what can
    /// bake beside them; then what needs another setting. Gives when the first are in.
    pub(super) fn tasks_of_bakes(&self, day: &mut Tasks, found: &Found<'_>) -> Moment {
        let bake = found.bake;
        let (trays, levels) = self.loads(found);
        let batches = trays.div_ceil(levels);
        let need = OvenNeed {
            dial: bake.dial,
            air: self.formula.oven.air(),
            trays: trays.min(levels),
            preheat: bake.preheat,
            pot: self.formula.oven.vessel == Vessel::Pot,
        };
        let beside = self.together(found);
        let with: Vec<String> = beside.iter().map(|n| self.formula.makeups[*n].name()).collect();
        let down = match (self.formula.oven.hot_start, self.heated(bake)) {
            (None, Some(_)) => format!(" Turn it to {:.0} °C.", bake.dial.0),
            _ => String::new(),
        };
        let loading = format!("{}{down}", self.loading(batches));
        let says = match with.is_empty() {
            true => loading,
            false => format!("{loading} With them: {}.", with.join(", ")),
        };
        let into = Task::deed("in.main", StepKind::Bake, "Into the oven", LOADING);
        day.then(into.says(says).in_the_oven(need));
        let oven_at = day.end();
        let heated = self.heated(bake).unwrap_or(bake.dial);
        let what = format!("Set it to {:.0} °C{}.", heated.0, vessel_inside(self.formula.oven.vessel));
        let on = Task::deed("oven-on", StepKind::Oven, "Oven on", 1.0).says(what);
        // Sooner does no harm; later, and it is not hot.
        day.beside(on, Moment::start("in.main").later(-bake.preheat.0), Moves::within(1e5, 0.0));
        tasks_in_the_oven(day, &self.main_baked(found, 1));
        day.then(baking("main", "Bake", (bake, &self.formula.oven), need));
        for n in beside {
            let (name, answer) = (self.formula.makeups[n].name(), &found.makeups[n]);
            tasks_in_the_oven(day, &self.makeup_baked(found, n, "in.main"));
            let id = format!("out.{n}");
            let out = Task::deed(&id, StepKind::Bake, format!("Out: {name}"), 1.0)
                .says(format!("Baked beside the rest, {} Onto a rack.", until(&answer.bake, &answer.oven)));
            day.beside(out, oven_at.later(answer.bake.time.0), Moves::within(0.0, 9.0));
            day.alongside(cooling(&n.to_string(), format!("Cool: {name}"), &answer.bake), Moment::end(&id));
            tasks_when_out(day, &found.makeup_finished(n, self.formula), &answer.bake, &Moment::end(&id));
        }
        taken_out(day, "main", "Out of the oven", bake, &self.formula.oven);
        for batch in 2..=batches {
            let id = format!("main-{batch}");
            let title = format!("Into the oven, batch {batch} of {batches}");
            let left = OvenNeed { trays: (trays - levels * (batch - 1)).min(levels), ..need };
            if self.formula.oven.vessel == Vessel::Pot {
                let lasts = Lasts::just(Minutes(POT_AGAIN));
                let wait = Task::wait(format!("reheat.{id}"), StepKind::Oven, "The pot heats again", lasts);
                day.then(wait.says("With its lid, back in the oven."));
            }
            let into = Task::deed(format!("in.{id}"), StepKind::Bake, title, LOADING);
            day.then(into.says("It was kept cool until now.").in_the_oven(left));
            tasks_in_the_oven(day, &self.main_baked(found, batch));
            day.then(baking(&id, format!("Bake, batch {batch}"), (bake, &self.formula.oven), left));
            taken_out(day, &id, &format!("Out of the oven, batch {batch}"), bake, &self.formula.oven);
        }
        let out = day.end();
        let mut dial = bake.dial;
        let together = self.together(found);
        for n in (0..found.makeups.len()).filter(|n| !together.contains(n)) {
            self.tasks_of_a_bake_after(day, found, n, &mut dial);
        }
        tasks_when_out(day, &found.finished(), bake, &out);
        oven_at
    }

    /// What the dial is set to before it goes in, where that is another setting than it bakes at.
    fn heated(&self, bake: &BakeOutput) -> Option<Celsius> {
        let over = self.formula.oven.hot_start.map(|h| h.temperature).or(self.formula.oven.heated_to)?;
        let dial = over - (bake.temperature - bake.dial);
        ((dial - bake.dial).0.abs() > 2.0).then_some(dial)
    }

    /// How many loads the main pieces make, and how many of them go in at once: trays on two levels, or loaves in the
    /// pots that the kitchen has.
    fn loads(&self, found: &Found<'_>) -> (u32, u32) {
        // Rolls lie in one pot together; of loaves each has its own.
        if self.formula.oven.vessel != Vessel::Pot || self.formula.shape.kind.is_small() {
            return (trays_of(found.work), self.kitchen.oven_levels);
        }
        let pot = |p: &&Pan| p.form.is_some_and(|f| f.shape == PanShape::Pot);
        let pots = self.kitchen.pans.iter().filter(pot).count().max(1);
        (self.formula.shape.pieces, (pots as u32).min(self.kitchen.oven_levels))
    }

    /// A further make-up goes in when the oven is free, at its own setting.
    fn tasks_of_a_bake_after(&self, day: &mut Tasks, found: &Found<'_>, n: usize, dial: &mut Celsius) {
        let (name, answer) = (self.formula.makeups[n].name(), &found.makeups[n]);
        let to = answer.bake.dial;
        if (to - *dial).0.abs() > 2.0 {
            let how = if to > *dial { "up" } else { "down; leave its door open a moment" };
            let (id, title) = (format!("reset.{n}"), format!("Oven to {:.0} °C", to.0));
            let reset = Task::wait(id, StepKind::Oven, title, Lasts::just(Minutes(RESETTING)));
            day.then(reset.says(format!("Turn it {how}{}.", vessel_inside(answer.oven.vessel))));
            *dial = to;
        }
        let finished = found.makeup_finished(n, self.formula);
        for (i, s) in finished.steps.iter().enumerate() {
            match s.when {
                // It dries while it proofs, whenever that ends.
                When::Shaped => day.beside(
                    finished.task(i),
                    Moment::end(&format!("makeup.{n}")),
                    Moves::within(0.0, 20.0),
                ),
                When::Before(m) => {
                    let begins = Moment::start(&format!("in.{n}")).later(-m.0);
                    day.beside(finished.task(i), begins, Moves::within(15.0, 0.0));
                }
                _ => {}
            }
        }
        let need = OvenNeed {
            dial: to,
            air: answer.oven.air(),
            trays: trays_of(&answer.work).min(self.kitchen.oven_levels),
            preheat: answer.bake.preheat,
            pot: answer.oven.vessel == Vessel::Pot,
        };
        let what = format!("{name} at {:.0} °C, kept cool until now.", to.0);
        let into = Task::deed(format!("in.{n}"), StepKind::Bake, format!("Into the oven: {name}"), LOADING);
        day.then(into.says(what).in_the_oven(need));
        tasks_in_the_oven(day, &self.makeup_baked(found, n, &format!("in.{n}")));
        day.then(baking(&n.to_string(), format!("Bake: {name}"), (&answer.bake, &answer.oven), need));
        taken_out(day, &n.to_string(), &format!("Out: {name}"), &answer.bake, &answer.oven);
        let out = day.end();
        tasks_when_out(day, &finished, &answer.bake, &out);
    }

    fn main_baked<'a>(&self, found: &'a Found<'_>, batch: u32) -> Baked<'a> {
        let (into, mark) = match batch {
            1 => ("in.main".into(), String::new()),
            n => (format!("in.main-{n}"), format!(".{n}")),
        };
        let trays = trays_of(found.work);
        let hot_start = self.formula.oven.hot_start;
        let (pot, finished) = (self.formula.oven.vessel == Vessel::Pot, found.finished());
        Baked { bake: found.bake, trays, hot_start, pot, finished, into, mark, name: None }
    }

    /// A further make-up in the oven; beside the main pieces it is turned down with them.
    fn makeup_baked<'a>(&self, found: &'a Found<'_>, n: usize, into: &str) -> Baked<'a> {
        let answer = &found.makeups[n];
        Baked {
            bake: &answer.bake,
            trays: trays_of(&answer.work),
            hot_start: answer.oven.hot_start.filter(|_| into != "in.main"),
            pot: answer.oven.vessel == Vessel::Pot,
            finished: found.makeup_finished(n, self.formula),
            into: into.to_owned(),
            mark: format!(".m{n}"),
            name: Some(self.formula.makeups[n].name()),
        }
    }

    /// The further make-ups that go into the oven beside the main pieces: at their setting, where there is a level
    /// left, and with nothing that takes the whole oven.
    pub(super) fn together(&self, found: &Found<'_>) -> Vec<usize> {
        let mut taken = trays_of(found.work);
        let mut with = Vec::new();
        for (n, answer) in found.makeups.iter().enumerate() {
            let fits = answer.together
                && !bakes_alone(self.formula.oven.vessel)
                && !bakes_alone(answer.oven.vessel)
                && taken + trays_of(&answer.work) <= self.kitchen.oven_levels
                && answer.bake.time.0 <= LONGER * found.bake.time.0;
            if fits {
                taken += trays_of(&answer.work);
                with.push(n);
            }
        }
        with
    }

    pub(super) fn loading(&self, batches: u32) -> String {
        let steam = if self.formula.oven.steam {
            " Steam: stand aside, arms back, no water on the door glass."
        } else {
            ""
        };
        let covered = self.formula.oven.covered.is_some();
        let how = match self.formula.oven.vessel {
            Vessel::Pot => "Into the hot pot, lid on. Dry mitts.",
            Vessel::Stone if covered => "Onto the hot stone, and the cover over it. Dry mitts.",
            Vessel::Stone => "Onto the hot stone.",
            Vessel::Lidded => "Lid on, straight in.",
            Vessel::Sheet | Vessel::Tin if covered => "Cover it, and straight in.",
            Vessel::Sheet | Vessel::Tin => "Straight in.",
        };
        let foil = if self.formula.oven.foiled.is_some() { " Foil over it, loosely." } else { "" };
        let pot = self.formula.oven.vessel == Vessel::Pot;
        let first = if batches > 1 && pot {
            format!(" The first of {batches} bakes; keep the others cool.")
        } else if batches > 1 {
            format!(" The first two trays of {batches} batches; keep the others cool.")
        } else {
            String::new()
        };
        format!("{how}{foil}{steam}{first}")
    }
}

/// How many trays, or levels of pans, some pieces take.
fn trays_of(work: &PieceWork) -> u32 {
    work.tray.as_ref().map_or(1, |t| t.layout.trays.max(1))
}

/// What is done to what bakes while it bakes.
fn tasks_in_the_oven(day: &mut Tasks, b: &Baked<'_>) {
    let bake = b.bake;
    let mut at_minute = |id: String, kind: StepKind, title: &str, what: &str, minute: f64, takes: f64| {
        let last = (bake.time.0 - takes).max(0.0);
        let minute = minute.min(last);
        let begins = Moment::end(&b.into).later(minute);
        let moves = Moves::within(minute.min(AROUND), (last - minute).min(AROUND));
        let title = match &b.name {
            Some(name) => format!("{title}: {name}"),
            None => title.to_owned(),
        };
        day.beside(Task::deed(id, kind, title, takes).says(what), begins, moves);
    };
    let id = |deed: &str| format!("{deed}{}", b.mark);
    if let Some(hot) = b.hot_start {
        let down = format!("Down to {:.0} °C.", bake.dial.0);
        at_minute(id("down"), StepKind::Oven, "Turn the oven down", &down, hot.minutes.0, 1.0);
    }
    if let Some(turn) = bake.turn {
        let what = match b.trays {
            1 => "Back to front.",
            _ => "Upper tray below, lower above, both back to front.",
        };
        at_minute(id("turn"), StepKind::Oven, "Turn it round", what, turn.0, 1.0);
    }
    if let Some(lid) = bake.lid_off {
        let what = "Dry mitts, arms back: the steam comes first.";
        let title = if b.pot { "Lid off" } else { "Cover off" };
        at_minute(id("lid"), StepKind::Oven, title, what, lid.0, 1.0);
    }
    if let Some(off) = bake.foil_off {
        let what = "Dry mitts: what it held is steam.";
        at_minute(id("foil-off"), StepKind::Oven, "Foil off", what, off.0, 1.0);
    }
    if let Some(foil) = bake.foil_on {
        at_minute(id("foil"), StepKind::Oven, "Cover with foil", "Or it gets too dark.", foil.0, 1.0);
    }
    for (n, s) in b.finished.steps.iter().enumerate() {
        let minute = match s.when {
            When::Into(m) => m.0,
            When::ToGo(m) => (bake.time.0 - m.0).max(0.0),
            _ => continue,
        };
        let takes = s.minutes.0.min(bake.time.0);
        // Each batch is finished for itself.
        let mark = if b.name.is_some() { "" } else { b.mark.as_str() };
        at_minute(format!("{}.{n}{mark}", b.finished.id), StepKind::Finish, &s.title, &s.what, minute, takes);
    }
}

/// What is done to what is out: while it is hot, and when it is cold.
fn tasks_when_out(day: &mut Tasks, finished: &Finished<'_>, bake: &BakeOutput, out: &Moment) {
    for (n, s) in finished.steps.iter().enumerate() {
        let later = match s.when {
            When::After(m) => m.0,
            When::Cold => bake.cool.0,
            _ => continue,
        };
        let moves = Moves::within(later, 30.0 - s.minutes.0);
        day.beside(finished.task(n), out.later(later), moves);
    }
}

/// When it is done: by its core, and by its crust where that is left to darken.
fn until(bake: &BakeOutput, oven: &OvenWish) -> String {
    let core = format!("until the core is {:.0} °C", bake.core_target.0);
    match oven.foil_after {
        Some(_) => format!("{core}; its crust stays as it is under the foil."),
        None => format!("{core} and the crust {}.", bake.colour),
    }
}

/// A batch bakes.
fn baking(
    id: &str,
    title: impl Into<String>,
    (bake, oven): (&BakeOutput, &OvenWish),
    need: OvenNeed,
) -> Task {
    let mut until = until(bake, oven);
    until[..1].make_ascii_uppercase();
    Task::wait(format!("bake.{id}"), StepKind::Bake, title, Lasts::just(bake.time))
        .says(until)
        .in_the_oven(need)
}

/// A batch comes out and cools.
fn taken_out(day: &mut Tasks, id: &str, title: &str, bake: &BakeOutput, oven: &OvenWish) {
    if let Some(minutes) = oven.ajar {
        let wait =
            Task::wait(format!("ajar.{id}"), StepKind::Bake, "Oven off, door ajar", Lasts::just(minutes));
        day.then(wait.says("A spoon in the door: its crust dries."));
    }
    let out = Task::deed(format!("out.{id}"), StepKind::Bake, title, TAKING_OUT);
    day.then(out.says(match oven.cools_in {
        Some(minutes) => {
            format!(
                "It stays {} in its tin, then onto a rack. Tin, pot and rack are hot.",
                shown::time(minutes)
            )
        }
        None => "Onto a rack. Tin, pot and rack are hot.".to_owned(),
    }));
    let cool = match id {
        "main" => "Cool".to_owned(),
        _ => title.replace("Out of the oven", "Cool").replace("Out", "Cool"),
    };
    let end = day.end();
    day.alongside(cooling(id, cool, bake), end);
}

/// Bread on its rack.
fn cooling(id: &str, title: String, bake: &BakeOutput) -> Task {
    let lasts = Lasts::between(bake.cool, bake.cool, bake.cool + Minutes(LIES));
    Task::wait(format!("cool.{id}"), StepKind::Cool, title, lasts).says(bake.crust)
}
