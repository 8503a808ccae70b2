//! The steps of the day, in the order of the hands.

use super::*;
use crate::finish::When;
use crate::formula::{Handling, RiseWish};
use crate::mixing::{self, PhaseKind};
use crate::plan::{Doubt, Layout, Step, StepKind};
use crate::thermal::WaterAction;

impl Reading<'_> {
    #[allow(clippy::too_many_arguments)]
    pub(super) fn lay_out(
        &self,
        ahead: &[Ahead],
        mix: &MixOutput,
        liquid: &Liquid,
        water: &WaterPlan,
        rise: &RiseOutput,
        shape: &ShapeOutput,
        work: &PieceWork,
        bake: &BakeOutput,
        makeups: &[MakeUpAnswer],
    ) -> LaidOut {
        let mut day = Layout::new();
        self.lay_out_ahead(&mut day, ahead);
        let answer = match self.formula.mix.school {
            WaterSchool::Balance => &water.balance,
            WaterSchool::Factor => &water.factor,
        };
        day.then(StepKind::Mix, "Weigh out", water_sentence(answer, liquid), 10.0, true);
        for p in &mix.phases {
            day.then(StepKind::Mix, &p.name, phase_sentence(p), p.minutes.0, p.hands_on);
        }
        let mixed_at = day.end();
        if let Some(bulk) = &rise.bulk {
            let plan = &self.formula.rise.bulk;
            let sign = match plan.stays {
                Some(_) => format!("It should stand at about {:.1} times its size.", bulk.grown),
                None => format!("Until it has grown to {} times its size.", plan.target),
            };
            day.then(StepKind::Bulk, "Bulk rise", sign, bulk.time.0, false);
            lay_out_moves(&mut day, plan, self.room(), mixed_at.0, bulk.time.0);
            if let Some(folds) = mix.folds {
                for n in 1..=folds.sets {
                    let at = mixed_at.0 + f64::from(n) * folds.every.0;
                    if at + folds.each.0 <= day.end().0 {
                        let what = "Four folds, one from each side, with wet hands.";
                        day.beside(StepKind::Fold, &format!("Fold, set {n}"), what, at, folds.each.0);
                    }
                }
            }
        }
        if let Some(second) = &rise.second {
            let plan = &self.formula.rise.second;
            let (title, how) = match self.formula.rise.between {
                Handling::Firm => ("Knock down", "Press the gas out and round it up."),
                Handling::Gentle => ("Fold", "Four folds, one from each side, gently."),
            };
            day.then(StepKind::Fold, title, how, 2.0, true);
            let begins = day.end().0;
            let sign = match plan.stays {
                Some(_) => format!("It should stand at about {:.1} times its size.", second.grown),
                None => format!("Until it has grown to {} times its size again.", plan.target),
            };
            day.then(StepKind::Bulk, "Second rise", sign, second.time.0, false);
            lay_out_moves(&mut day, plan, self.room(), begins, second.time.0);
        }
        self.lay_out_shaping(&mut day, shape, work, makeups);
        let proof_at = day.end();
        if let Some(proof) = &rise.proof {
            let plan = &self.formula.rise.proof;
            let sign = match plan.stays {
                Some(_) => format!(
                    "It should stand at about {:.1} times the size it was shaped at. Baked as cold as it is.",
                    proof.grown
                ),
                None => format!(
                    "Until it is {} times the size it was shaped at; a poke springs back slowly.",
                    plan.target
                ),
            };
            day.then(StepKind::Proof, "Final proof", sign, proof.time.0, false);
            lay_out_moves(&mut day, plan, self.room(), proof_at.0, proof.time.0);
        }
        day.then(StepKind::Bake, "Into the oven", self.loading(), 3.0, true);
        let oven_at = day.end();
        for step in &work.finish {
            if let When::Before(m) = step.when {
                let at = oven_at.0 - 3.0 - m.0;
                day.beside(StepKind::Finish, &step.title, step.what.clone(), at, step.minutes.0);
            }
        }
        let what = format!("Set it to {:.0} °C{}.", bake.dial.0, vessel_inside(self.formula.oven.vessel));
        day.beside(StepKind::Oven, "Oven on", what, oven_at.0 - 3.0 - bake.preheat.0, 1.0);
        if let Some(hot) = self.formula.oven.hot_start {
            let down = format!("Down to {:.0} °C.", bake.dial.0);
            day.beside(StepKind::Oven, "Turn the oven down", down, oven_at.0 + hot.minutes.0, 1.0);
        }
        if let Some(turn) = bake.turn {
            let what = match work.tray.as_ref().map_or(1, |t| t.layout.trays) {
                1 => "Back to front.",
                _ => "Upper tray below, lower above, both back to front.",
            };
            day.beside(StepKind::Oven, "Turn it round", what, oven_at.0 + turn.0, 1.0);
        }
        let in_oven = oven_at.0 + bake.time.0;
        let until = format!("Until the core is {:.0} °C and the crust {}.", bake.core_target.0, bake.colour);
        day.then(StepKind::Bake, "Bake", until, bake.time.0, false);
        if let Some(lid) = bake.lid_off {
            let what = "Dry mitts, arms back: the steam comes first.";
            day.beside(StepKind::Oven, "Lid off", what, oven_at.0 + lid.0, 1.0);
        }
        if let Some(foil) = bake.foil_on {
            day.beside(StepKind::Oven, "Cover with foil", "Or it gets too dark.", oven_at.0 + foil.0, 1.0);
        }
        self.lay_out_second_bakes(&mut day, bake, makeups);
        let what = "Onto a rack. Tin, pot and rack are hot.";
        day.then(StepKind::Bake, "Out of the oven", what, 2.0, true);
        let out = day.end().0;
        day.then(StepKind::Cool, "Cool", bake.crust, bake.cool.0, false);
        for step in &work.finish {
            let at = match step.when {
                When::Before(_) => continue,
                When::ToGo(m) => (in_oven - m.0).max(oven_at.0),
                When::After(m) => out + m.0,
                When::Cold => day.end().0,
            };
            day.beside(StepKind::Finish, &step.title, step.what.clone(), at, step.minutes.0);
        }
        LaidOut { steps: day.finish(), mixed_at, proof_at, oven_at }
    }

    /// Make-ups that cannot share the oven's setting go in after the main one.
    fn lay_out_second_bakes(&self, day: &mut Layout, main: &BakeOutput, makeups: &[MakeUpAnswer]) {
        for (m, answer) in self.formula.makeups.iter().zip(makeups) {
            let name = m.kind.name().to_lowercase();
            let near = (answer.bake.dial - main.dial).0.abs() <= 10.0;
            if near && answer.bake.time.0 <= main.time.0 {
                let what = format!("{} × {name}: done before the rest, in at the same time.", m.pieces);
                let at = day.end().0 - main.time.0 + answer.bake.time.0;
                day.beside(StepKind::Oven, &format!("Out: {name}"), what, at, 1.0);
                continue;
            }
            let what = format!("{} × {name} at {:.0} °C, kept cool until now.", m.pieces, answer.bake.dial.0);
            day.then(StepKind::Bake, &format!("Bake: {name}"), what, answer.bake.time.0, false);
        }
    }

    /// What stands longest is set first; the others so that all are ready together.
    fn lay_out_ahead(&self, day: &mut Layout, ahead: &[Ahead]) {
        let builds = builds(self.formula, self.catalogue);
        let lead = |a: &Ahead| {
            let earlier = if a.stage == Stage::Preferment { builds.len().saturating_sub(1) } else { 0 };
            SETTING + (a.time.0 + SETTING) * earlier as f64 + a.time.0
        };
        let standing: Vec<&Ahead> = ahead.iter().filter(|a| a.time.0 > 0.0).collect();
        let Some(first) = standing.iter().max_by(|a, b| lead(a).total_cmp(&lead(b))) else { return };
        let ready = lead(first);
        for a in &standing {
            let (name, mut at) = (a.stage.name().to_lowercase(), ready - lead(a));
            let own_builds: &[Build] = if a.stage == Stage::Preferment { &builds } else { &[] };
            for build in own_builds.iter().take(own_builds.len().saturating_sub(1)) {
                let title = format!("Feed, build {} of {}", build.number, builds.len());
                let g = shown::grams;
                let what = format!(
                    "{} g culture, {} g flour, {} g water.",
                    g(build.culture),
                    g(build.flour),
                    g(build.water)
                );
                day.beside(StepKind::Levain, &title, what, at, SETTING);
                at += SETTING + a.time.0;
            }
            let grams =
                a.grams + if a.stage == Stage::Preferment { self.formula.levain.keep } else { Grams(0.0) };
            let what = format!("{} g in all. {}", shown::grams(grams), setting(a.stage));
            day.beside(StepKind::Levain, &format!("Set the {name}"), what, at, SETTING);
        }
        let name = first.stage.name().to_lowercase();
        day.then(StepKind::Levain, &format!("The {name} stands"), ready_sign(first), ready, false);
    }

    fn lay_out_shaping(
        &self,
        day: &mut Layout,
        shape: &ShapeOutput,
        work: &PieceWork,
        makeups: &[MakeUpAnswer],
    ) {
        let plan = &self.formula.shape;
        let piece = shown::grams(shape.piece);
        let pieces = match shape.strand {
            Some(strand) => format!("{} strands of {} g.", plan.pieces * plan.strands, shown::grams(strand)),
            None if plan.pieces == 1 => format!("One piece of {piece} g."),
            None => format!("{} pieces of {piece} g.", plan.pieces),
        };
        // Other make-ups are divided when the main pieces have been.
        let (first, rest): (Vec<_>, Vec<_>) = work.steps.iter().enumerate().partition(|(i, _)| *i == 0);
        for (_, step) in first {
            day.then(
                StepKind::Shape,
                step.name,
                format!("{pieces} {}", step.what),
                step.minutes.0,
                step.hands_on,
            );
        }
        for (i, step) in rest {
            if i == 1 && step.hands_on || i == 2 && !work.steps[1].hands_on {
                self.lay_out_makeups(day, makeups);
            }
            let what = match (shape.strand_length, step.name) {
                (Some(cm), "Roll the strands") => format!("To {cm:.0} cm. {}", step.what),
                _ => format!("{} {}", step.what, step.sign),
            };
            day.then(StepKind::Shape, step.name, what, step.minutes.0, step.hands_on);
        }
    }

    fn lay_out_makeups(&self, day: &mut Layout, makeups: &[MakeUpAnswer]) {
        for (m, answer) in self.formula.makeups.iter().zip(makeups) {
            let kind = m.kind.name().to_lowercase();
            let what = format!("{} × {} g, {kind}.", m.pieces, shown::grams(m.piece_weight));
            let minutes = (answer.shape.divide + answer.shape.shape).0;
            day.then(StepKind::Shape, "Divide and shape the rest", what, minutes, true);
        }
    }

    fn loading(&self) -> String {
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
        format!("{how}{steam}")
    }
}

/// The dough is carried from one place to the next.
fn lay_out_moves(day: &mut Layout, plan: &RiseWish, room: Celsius, begins: f64, lasts: f64) {
    let places = plan.legs.iter().map(|l| l.place).chain([plan.place.unwrap_or(room)]).skip(1);
    let mut at = 0.0;
    for (leg, to) in plan.legs.iter().zip(places) {
        at += 60.0 * leg.hours.0;
        if at < lasts {
            let title = if to.0 < 10.0 { "Into the fridge" } else { "To its next place" };
            day.beside(StepKind::Bulk, title, format!("Covered, at {:.0} °C.", to.0), begins + at, 1.0);
        }
    }
}

pub(super) struct LaidOut {
    pub steps: Vec<Step>,
    pub mixed_at: Minutes,
    pub proof_at: Minutes,
    pub oven_at: Minutes,
}

/// Minutes to set a preferment, a soaker or a scald.
const SETTING: f64 = 5.0;

/// How a stage that is made ahead is set.
fn setting(stage: Stage) -> &'static str {
    match stage {
        Stage::Soaker => "Pour the liquid over, stir and cover.",
        Stage::Scald => "Cook flour and liquid, stirring, until it is thick and clear; cover, let it cool.",
        Stage::OldDough => "Tear it up.",
        _ => "Stir until no dry flour is left; cover.",
    }
}

fn ready_sign(a: &Ahead) -> &'static str {
    match a.stage {
        Stage::Soaker => "Ready when it has drunk its liquid.",
        Stage::Scald => "Ready when it is no warmer than the hand.",
        _ => "Ripe when it is domed and full of bubbles, just before it sinks.",
    }
}

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
            format!("Water alone cannot do it: the dough comes to {:.0} °C.", dough.0)
        }
        WaterAction::NoLiquid => "No liquid to warm or cool.".into(),
    }
}

fn phase_sentence(p: &mixing::Phase) -> String {
    let speed = p.rpm.map(|rpm| format!("{rpm:.0} turns a minute. ")).unwrap_or_default();
    let gap = if p.what.is_empty() { "" } else { " " };
    match p.kind {
        PhaseKind::Rest | PhaseKind::Autolyse => p.what.clone(),
        _ => format!("{speed}{}{gap}{}", p.what, p.sign),
    }
}

fn vessel_inside(v: Vessel) -> &'static str {
    match v {
        Vessel::Pot => ", the pot and its lid inside",
        Vessel::Stone => ", the stone inside",
        Vessel::Sheet | Vessel::Tin | Vessel::Lidded => "",
    }
}
