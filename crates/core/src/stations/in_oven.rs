//! The bakes of the day: batches, levels, other make-ups, what is done in the oven, and what comes out.

use super::lay_out::{Found, LEVELS, LOADING, RESETTING, TAKING_OUT, TOGETHER, vessel_inside};
use crate::day::{Layout, StepKind, Window};
use crate::finish::When;
use crate::formula::MakeUp;
use crate::oven::BakeOutput;
use crate::stations::{MakeUpAnswer, Reading};
use crate::units::Minutes;
use crate::words::Vessel;

impl Reading<'_> {
    /// Into the oven and out of it: the main pieces in as many batches as their trays need, with what can
    /// bake beside them; then what needs another setting. Gives when the first goes in.
    pub(super) fn lay_out_bakes(&self, day: &mut Layout, found: &Found<'_>) -> Minutes {
        let bake = found.bake;
        let trays = found.work.tray.as_ref().map_or(1, |t| t.layout.trays.max(1));
        let batches = trays.div_ceil(LEVELS);
        let loads = day.end().0;
        day.then("in.main", StepKind::Bake, "Into the oven", self.loading(batches), LOADING, true);
        let oven_at = day.end();
        let what = format!("Set it to {:.0} °C{}.", bake.dial.0, vessel_inside(self.formula.oven.vessel));
        let on_by = loads - bake.preheat.0;
        let window = Window { from: on_by - 1e5, to: on_by + 1.0 };
        day.beside("oven-on", StepKind::Oven, "Oven on", what, on_by, 1.0, window);
        let until = format!("Until the core is {:.0} °C and the crust {}.", bake.core_target.0, bake.colour);
        self.lay_out_in_the_oven(day, found, oven_at.0, 1);
        day.then("bake.main", StepKind::Bake, "Bake", until.clone(), bake.time.0, false);
        let (beside, after): (Vec<_>, Vec<_>) = self
            .formula
            .makeups
            .iter()
            .zip(found.makeups)
            .enumerate()
            .partition(|(_, (m, a))| self.bakes_beside(m, a, bake, trays, found.makeups));
        for (n, (m, answer)) in beside {
            let name = m.kind.name().to_lowercase();
            let what = format!("{} × {name}, baked beside the rest. Onto a rack.", m.pieces);
            let at = oven_at.0 + answer.bake.time.0;
            let window = Window { from: at, to: at + 10.0 };
            day.beside(&format!("out.{n}"), StepKind::Bake, &format!("Out: {name}"), what, at, 1.0, window);
            day.alongside(
                &format!("cool.{n}"),
                StepKind::Cool,
                &format!("Cool: {name}"),
                answer.bake.crust,
                at + 1.0,
                answer.bake.cool.0,
            );
        }
        let out_what = "Onto a rack. Tin, pot and rack are hot.";
        let mut out = self.taken_out(day, "main", "Out of the oven", out_what, bake);
        for batch in 2..=batches {
            let id = format!("main-{batch}");
            let title = format!("Into the oven, batch {batch} of {batches}");
            day.then(
                &format!("in.{id}"),
                StepKind::Bake,
                &title,
                "It was kept cool until now.",
                LOADING,
                true,
            );
            self.lay_out_in_the_oven(day, found, day.end().0, batch);
            day.then(
                &format!("bake.{id}"),
                StepKind::Bake,
                &format!("Bake, batch {batch}"),
                until.clone(),
                bake.time.0,
                false,
            );
            out = self.taken_out(day, &id, &format!("Out of the oven, batch {batch}"), out_what, bake);
        }
        let mut dial = bake.dial;
        for (n, (m, answer)) in after {
            let name = m.kind.name().to_lowercase();
            let to = answer.bake.dial;
            if (to - dial).0.abs() > 2.0 {
                let how = if to > dial { "up" } else { "down; leave its door open a moment" };
                day.then(
                    &format!("reset.{n}"),
                    StepKind::Oven,
                    &format!("Oven to {:.0} °C", to.0),
                    format!("Turn it {how}."),
                    RESETTING,
                    false,
                );
                dial = to;
            }
            let what = format!("{} × {name} at {:.0} °C, kept cool until now.", m.pieces, to.0);
            day.then(
                &format!("in.{n}"),
                StepKind::Bake,
                &format!("Into the oven: {name}"),
                what,
                LOADING,
                true,
            );
            let until = format!(
                "Until the core is {:.0} °C and the crust {}.",
                answer.bake.core_target.0, answer.bake.colour
            );
            day.then(
                &format!("bake.{n}"),
                StepKind::Bake,
                &format!("Bake: {name}"),
                until,
                answer.bake.time.0,
                false,
            );
            self.taken_out(day, &n.to_string(), &format!("Out: {name}"), out_what, &answer.bake);
        }
        for (n, s) in found.work.finish.iter().enumerate() {
            let at = match s.when {
                When::After(m) => out + m.0,
                When::Cold => out + bake.cool.0,
                _ => continue,
            };
            let window = Window { from: out, to: at + 30.0 };
            day.beside(
                &format!("finish.{n}"),
                StepKind::Finish,
                &s.title,
                s.what.clone(),
                at,
                s.minutes.0,
                window,
            );
        }
        oven_at
    }

    /// A batch comes out and cools; gives when it is out.
    pub(super) fn taken_out(
        &self,
        day: &mut Layout,
        id: &str,
        title: &str,
        what: &str,
        bake: &BakeOutput,
    ) -> f64 {
        day.then(&format!("out.{id}"), StepKind::Bake, title, what, TAKING_OUT, true);
        let out = day.end().0;
        let title = if id == "main" {
            "Cool".to_owned()
        } else {
            title.replace("Out of the oven", "Cool").replace("Out", "Cool")
        };
        day.alongside(&format!("cool.{id}"), StepKind::Cool, &title, bake.crust, out, bake.cool.0);
        out
    }

    /// What is done to a batch while it bakes.
    pub(super) fn lay_out_in_the_oven(&self, day: &mut Layout, found: &Found<'_>, oven_at: f64, batch: u32) {
        let (bake, out) = (found.bake, oven_at + found.bake.time.0);
        let of = if batch > 1 { format!(".{batch}") } else { String::new() };
        let mut at_minute = |id: &str, kind: StepKind, title: &str, what: &str, minute: f64, takes: f64| {
            let at = oven_at + minute;
            let window = Window { from: (at - 4.0).max(oven_at), to: (at + takes + 4.0).min(out) };
            day.beside(&format!("{id}{of}"), kind, title, what.to_owned(), at, takes, window);
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
                at_minute(
                    &format!("finish.{n}"),
                    StepKind::Finish,
                    &s.title,
                    &s.what,
                    minute,
                    s.minutes.0.min(bake.time.0),
                );
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
