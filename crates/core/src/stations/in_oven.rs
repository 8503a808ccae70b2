//! The bakes of the day: batches, levels, other make-ups, what is done in the oven, and what comes out.

use super::tasks::{Found, LEVELS, LOADING, RESETTING, TAKING_OUT, TOGETHER, finish_task, vessel_inside};
use crate::day::{Lasts, Moment, Moves, OvenNeed, StepKind, Task, Tasks};
use crate::finish::When;
use crate::formula::MakeUp;
use crate::oven::BakeOutput;
use crate::stations::{InKitchen, MakeUpAnswer};
use crate::units::Minutes;
use crate::words::Vessel;

/// How long a loaf may lie on its rack once it is cool, min (common practice, no source).
const LIES: f64 = 24.0 * 60.0;
/// How far a deed in the oven may be put off or brought forward, min.
const AROUND: f64 = 4.0;

impl InKitchen<'_> {
    /// Into the oven and out of it: the main pieces in as many batches as their trays need, with what can
    /// bake beside them; then what needs another setting. Gives when the first are in.
    pub(super) fn tasks_of_bakes(&self, day: &mut Tasks, found: &Found<'_>) -> Moment {
        let bake = found.bake;
        let trays = found.work.tray.as_ref().map_or(1, |t| t.layout.trays.max(1));
        let batches = trays.div_ceil(LEVELS);
        let need = OvenNeed { dial: bake.dial, trays: trays.min(LEVELS), preheat: bake.preheat };
        let into = Task::deed("in.main", StepKind::Bake, "Into the oven", LOADING);
        day.then(into.says(self.loading(batches)).in_the_oven(need));
        let oven_at = day.end();
        let what = format!("Set it to {:.0} °C{}.", bake.dial.0, vessel_inside(self.formula.oven.vessel));
        let on = Task::deed("oven-on", StepKind::Oven, "Oven on", 1.0).says(what);
        // Sooner does no harm; later, and it is not hot.
        day.beside(on, Moment::start("in.main").later(-bake.preheat.0), Moves::within(1e5, 0.0));
        self.tasks_in_the_oven(day, found, "main");
        day.then(baking("main", "Bake", bake, need));
        let (beside, after): (Vec<_>, Vec<_>) = self
            .formula
            .makeups
            .iter()
            .zip(found.makeups)
            .enumerate()
            .partition(|(_, (m, a))| self.bakes_beside(m, a, bake, trays, found.makeups));
        for (n, (m, answer)) in beside {
            let name = m.kind.name().to_lowercase();
            let id = format!("out.{n}");
            let out = Task::deed(&id, StepKind::Bake, format!("Out: {name}"), 1.0)
                .says(format!("{} × {name}, baked beside the rest. Onto a rack.", m.pieces));
            day.beside(out, oven_at.later(answer.bake.time.0), Moves::within(0.0, 9.0));
            day.alongside(cooling(&n.to_string(), format!("Cool: {name}"), &answer.bake), Moment::end(&id));
        }
        taken_out(day, "main", "Out of the oven", bake);
        for batch in 2..=batches {
            let id = format!("main-{batch}");
            let title = format!("Into the oven, batch {batch} of {batches}");
            let left = OvenNeed { trays: (trays - LEVELS * (batch - 1)).min(LEVELS), ..need };
            let into = Task::deed(format!("in.{id}"), StepKind::Bake, title, LOADING);
            day.then(into.says("It was kept cool until now.").in_the_oven(left));
            self.tasks_in_the_oven(day, found, &id);
            day.then(baking(&id, format!("Bake, batch {batch}"), bake, left));
            taken_out(day, &id, &format!("Out of the oven, batch {batch}"), bake);
        }
        let out = day.end();
        let mut dial = bake.dial;
        for (n, (m, answer)) in after {
            let name = m.kind.name().to_lowercase();
            let to = answer.bake.dial;
            if (to - dial).0.abs() > 2.0 {
                let how = if to > dial { "up" } else { "down; leave its door open a moment" };
                let (id, title) = (format!("reset.{n}"), format!("Oven to {:.0} °C", to.0));
                let reset = Task::wait(id, StepKind::Oven, title, Lasts::just(Minutes(RESETTING)));
                day.then(reset.says(format!("Turn it {how}.")));
                dial = to;
            }
            let need = OvenNeed { dial: to, trays: 1, preheat: answer.bake.preheat };
            let what = format!("{} × {name} at {:.0} °C, kept cool until now.", m.pieces, to.0);
            let into =
                Task::deed(format!("in.{n}"), StepKind::Bake, format!("Into the oven: {name}"), LOADING);
            day.then(into.says(what).in_the_oven(need));
            day.then(baking(&n.to_string(), format!("Bake: {name}"), &answer.bake, need));
            taken_out(day, &n.to_string(), &format!("Out: {name}"), &answer.bake);
        }
        for (n, s) in found.work.finish.iter().enumerate() {
            let later = match s.when {
                When::After(m) => m.0,
                When::Cold => bake.cool.0,
                _ => continue,
            };
            let moves = Moves::within(later, 30.0 - s.minutes.0);
            day.beside(finish_task(n, s), out.later(later), moves);
        }
        oven_at
    }

    /// What is done to a batch while it bakes.
    fn tasks_in_the_oven(&self, day: &mut Tasks, found: &Found<'_>, batch: &str) {
        let bake = found.bake;
        let of = batch.strip_prefix("main").unwrap_or("").replace('-', ".");
        let mut at_minute = |id: &str, kind: StepKind, title: &str, what: &str, minute: f64, takes: f64| {
            let last = (bake.time.0 - takes).max(0.0);
            let minute = minute.min(last);
            let begins = Moment::end(&format!("in.{batch}")).later(minute);
            let moves = Moves::within(minute.min(AROUND), (last - minute).min(AROUND));
            day.beside(Task::deed(format!("{id}{of}"), kind, title, takes).says(what), begins, moves);
        };
        if let Some(hot) = self.formula.oven.hot_start {
            let down = format!("Down to {:.0} °C.", bake.dial.0);
            at_minute("down", StepKind::Oven, "Turn the oven down", &down, hot.minutes.0, 1.0);
        }
        if let Some(turn) = bake.turn {
            let what = match found.work.tray.as_ref().map_or(1, |t| t.layout.trays) {
                1 => "Back to front.",
                _ => "Upper tray below, lower above, both back to front.",
            };
            at_minute("turn", StepKind::Oven, "Turn it round", what, turn.0, 1.0);
        }
        if let Some(lid) = bake.lid_off {
            let what = "Dry mitts, arms back: the steam comes first.";
            at_minute("lid", StepKind::Oven, "Lid off", what, lid.0, 1.0);
        }
        if let Some(foil) = bake.foil_on {
            at_minute("foil", StepKind::Oven, "Cover with foil", "Or it gets too dark.", foil.0, 1.0);
        }
        for (n, s) in found.work.finish.iter().enumerate() {
            if let When::ToGo(m) = s.when {
                let minute = (bake.time.0 - m.0).max(0.0);
                let takes = s.minutes.0.min(bake.time.0);
                at_minute(&format!("finish.{n}"), StepKind::Finish, &s.title, &s.what, minute, takes);
            }
        }
    }

    /// Whether a further make-up goes into the oven beside the main one: near enough in its setting, on
    /// the other level, and with nothing that takes the whole oven.
    pub(super) fn bakes_beside(
        &self,
        m: &MakeUp,
        answer: &MakeUpAnswer,
        main: &BakeOutput,
        trays: u32,
        all: &[MakeUpAnswer],
    ) -> bool {
        let whole = |v: Vessel| matches!(v, Vessel::Pot | Vessel::Stone);
        // With more than one beside it there is no level left.
        let earlier = self.formula.makeups.iter().zip(all).take_while(|(other, _)| !std::ptr::eq(*other, m));
        let near = |a: &MakeUpAnswer| (a.bake.dial - main.dial).0.abs() <= TOGETHER;
        let taken = earlier.filter(|(o, a)| near(a) && !whole(o.vessel)).count() as u32;
        near(answer)
            && trays + taken < LEVELS
            && !whole(self.formula.oven.vessel)
            && !whole(m.vessel)
            && answer.bake.time.0 <= 1.5 * main.time.0
    }

    pub(super) fn loading(&self, batches: u32) -> String {
        let steam = if self.formula.oven.steam {
            " Steam: stand aside, arms back, no water on the door glass."
        } else {
            ""
        };
        let how = match self.formula.oven.vessel {
            Vessel::Pot => "Into the hot pot, lid on. Dry mitts.",
            Vessel::Stone => "Onto the hot stone.",
            Vessel::Lidded => "Lid on, straight in.",
            Vessel::Sheet | Vessel::Tin => "Straight in.",
        };
        let first = if batches > 1 {
            format!(" The first two trays of {batches} batches; keep the others cool.")
        } else {
            String::new()
        };
        format!("{how}{steam}{first}")
    }
}

/// A batch bakes.
fn baking(id: &str, title: impl Into<String>, bake: &BakeOutput, need: OvenNeed) -> Task {
    let until = format!("Until the core is {:.0} °C and the crust {}.", bake.core_target.0, bake.colour);
    Task::wait(format!("bake.{id}"), StepKind::Bake, title, Lasts::just(bake.time))
        .says(until)
        .in_the_oven(need)
}

/// A batch comes out and cools.
fn taken_out(day: &mut Tasks, id: &str, title: &str, bake: &BakeOutput) {
    let out = Task::deed(format!("out.{id}"), StepKind::Bake, title, TAKING_OUT);
    day.then(out.says("Onto a rack. Tin, pot and rack are hot."));
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
