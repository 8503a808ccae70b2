//! The steps of the day, in the order of the hands.

use super::pieces::PieceWork;
use super::{Ahead, Liquid, MakeUpAnswer, Reading};
use crate::day::{Doubt, Layout, Step, StepKind, Window};
use crate::finish::{FinishStep, When};
use crate::formula::builds;
use crate::mix::{MixOutput, PhaseKind, WaterAction, WaterAnswer, WaterAnswers};
use crate::oven::BakeOutput;
use crate::rise::{RiseOutput, RiseWish};
use crate::shape::ShapeOutput;
use crate::units::{Celsius, Minutes, shown};
use crate::words::{Handling, Kind, Stage, Vessel, WaterSchool};

/// Minutes to set a preferment, a soaker or a scald.
const SETTING: f64 = 5.0;
/// Minutes that loading the oven takes.
pub(super) const LOADING: f64 = 3.0;
/// Minutes that taking out takes.
pub(super) const TAKING_OUT: f64 = 2.0;
/// Minutes for which an oven comes to another setting between two bakes.
pub(super) const RESETTING: f64 = 6.0;
/// Trays that an oven holds at once: two levels.
pub(super) const LEVELS: u32 = 2;
/// How far apart two settings may be that bake together, K (common practice, no source).
pub(super) const TOGETHER: f64 = 10.0;

/// Everything that the stations have found and that the day is laid out from.
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

pub(super) struct LaidOut {
    pub steps: Vec<Step>,
    pub mixed_at: Minutes,
    pub proof_at: Minutes,
    pub oven_at: Minutes,
}

impl Reading<'_> {
    pub(super) fn lay_out(&self, found: &Found<'_>) -> LaidOut {
        let mut day = Layout::new();
        self.lay_out_ahead(&mut day, found.ahead);
        let answer = match self.formula.mix.school {
            WaterSchool::Balance => &found.water.balance,
            WaterSchool::Factor => &found.water.factor,
        };
        day.then("weigh", StepKind::Mix, "Weigh out", water_sentence(answer, found.liquid), 10.0, true);
        for (n, p) in found.mix.phases.iter().enumerate() {
            day.then(&format!("mix.{n}"), StepKind::Mix, &p.name, phase_sentence(p), p.minutes.0, p.hands_on);
        }
        let mixed_at = day.end();
        self.lay_out_bulk(&mut day, found);
        self.lay_out_shaping(&mut day, found);
        let proof_at = day.end();
        if let Some(proof) = &found.rise.proof {
            let plan = &self.formula.rise.proof;
            let sign = match plan.stays {
                Some(_) => format!(
                    "It should stand at about {} times the size it was shaped at.{}",
                    times(proof.grown),
                    if ends_cold(plan, self.room()) { " Baked as cold as it is." } else { "" },
                ),
                None => format!(
                    "Until it is {} times the size it was shaped at; a poke springs back slowly.",
                    times(proof.until(plan.target, false))
                ),
            };
            day.then("proof", StepKind::Proof, "Final proof", sign, proof.time.0, false);
            lay_out_moves(&mut day, "proof", plan, self.room(), proof_at.0, proof.time.0);
        }
        self.lay_out_finish(&mut day, found, proof_at.0);
        let oven_at = self.lay_out_bakes(&mut day, found);
        let (steps, put_off) = day.finish();
        let after = |m: Minutes| m + put_off;
        LaidOut { steps, mixed_at: after(mixed_at), proof_at: after(proof_at), oven_at: after(oven_at) }
    }

    fn lay_out_bulk(&self, day: &mut Layout, found: &Found<'_>) {
        let begins = day.end().0;
        if let Some(bulk) = &found.rise.bulk {
            let plan = &self.formula.rise.bulk;
            let sign = match plan.stays {
                Some(_) => format!("It should stand at about {} times its size.", times(bulk.grown)),
                None => {
                    format!("Until it has grown to {} times its size.", times(bulk.until(plan.target, false)))
                }
            };
            day.then("bulk", StepKind::Bulk, "Bulk rise", sign, bulk.time.0, false);
            lay_out_moves(day, "bulk", plan, self.room(), begins, bulk.time.0);
            if let Some(folds) = found.mix.folds {
                let (each, every) = (folds.each.0, folds.every.0);
                for n in 1..=folds.sets {
                    let at = begins + f64::from(n) * every;
                    if at + each <= day.end().0 {
                        let what = "Four folds, one from each side, with wet hands.";
                        // A fold may shift by a third of the interval.
                        let window = Window { from: at - every / 3.0, to: at + each + every / 3.0 };
                        day.beside(
                            &format!("fold.{n}"),
                            StepKind::Fold,
                            &format!("Fold, set {n}"),
                            what,
                            at,
                            each,
                            window,
                        );
                    }
                }
            }
        }
        if let Some(second) = &found.rise.second {
            let plan = &self.formula.rise.second;
            let (title, how) = match self.formula.rise.between {
                Handling::Firm => ("Knock down", "Press the gas out and round it up."),
                Handling::Gentle => ("Fold", "Four folds, one from each side, gently."),
            };
            day.then("between", StepKind::Fold, title, how, 2.0, true);
            let begins = day.end().0;
            let sign = match plan.stays {
                Some(_) => format!("It should stand at about {} times its size.", times(second.grown)),
                None => format!(
                    "Until it has grown to {} times its size again.",
                    times(second.until(plan.target, false))
                ),
            };
            day.then("second", StepKind::Bulk, "Second rise", sign, second.time.0, false);
            lay_out_moves(day, "second", plan, self.room(), begins, second.time.0);
        }
    }

    /// Washes, seeds, bath and cuts: beside the proof where it is long enough for them, after it where
    /// it is not.
    fn lay_out_finish(&self, day: &mut Layout, found: &Found<'_>, proof_at: f64) {
        let loads = day.end().0;
        let mut chain = Vec::new();
        for (n, s) in found.work.finish.iter().enumerate() {
            match s.when {
                When::Shaped => chain.push(finish_step(n, s, proof_at)),
                When::Before(m) => chain.push(finish_step(n, s, loads - m.0)),
                When::ToGo(_) | When::After(_) | When::Cold => {}
            }
        }
        if !day.lead_up_to(loads, proof_at, chain.clone()) {
            for s in chain {
                day.then(&s.id, s.kind, &s.title, s.detail, s.length.0, true);
            }
        }
    }

    /// What stands longest is set first; the others so that all are ready together.
    fn lay_out_ahead(&self, day: &mut Layout, ahead: &[Ahead]) {
        let builds = builds(self.formula, self.catalogue);
        let own_builds = |a: &Ahead| if a.stage == Stage::Preferment { builds.as_slice() } else { &[] };
        let lead = |a: &Ahead| (SETTING + a.time.0) * own_builds(a).len().max(1) as f64;
        let standing: Vec<&Ahead> = ahead.iter().filter(|a| a.time.0 > 0.0).collect();
        let Some(first) = standing.iter().max_by(|a, b| lead(a).total_cmp(&lead(b))).copied() else { return };
        let ready = lead(first);
        let parts = |a: &Ahead| -> Vec<(String, String, String)> {
            let name = a.stage.name().to_lowercase();
            let built = own_builds(a);
            if built.is_empty() {
                let what: Vec<String> = self
                    .lines(a.stage)
                    .filter(|(g, _)| g.0 > 0.0)
                    .map(|(g, i)| format!("{} g {}", shown::grams(g), i.name.to_lowercase()))
                    .collect();
                return vec![(
                    format!("ahead.{}", a.stage.key()),
                    format!("Set the {name}"),
                    format!("{}. {}", what.join(", "), setting(a.stage)),
                )];
            }
            let g = shown::grams;
            let last = built.len();
            built
                .iter()
                .map(|b| {
                    let from = if b.number == 1 { "ripe culture" } else { "of the build before" };
                    let what =
                        format!("{} g {from}, {} g flour, {} g water.", g(b.culture), g(b.flour), g(b.water));
                    let (title, more) = if b.number as usize == last {
                        let keep = self.formula.levain.keep;
                        let kept = if keep.0 > 0.0 {
                            format!(" {} g of it are kept for the next bake.", g(keep))
                        } else {
                            String::new()
                        };
                        (format!("Set the {name}"), format!(" {}{kept}", setting(a.stage)))
                    } else {
                        (format!("Feed, build {} of {last}", b.number), String::new())
                    };
                    (format!("ahead.{}.{}", a.stage.key(), b.number), title, format!("{what}{more}"))
                })
                .collect()
        };
        for a in &standing {
            let in_line = std::ptr::eq(*a, first);
            let mut at = ready - lead(a);
            let set = parts(a);
            let last = set.len();
            for (n, (id, title, what)) in set.into_iter().enumerate() {
                let stands = format!("The {} stands", a.stage.name().to_lowercase());
                let stands = if n + 1 < last { format!("{stands}, build {}", n + 1) } else { stands };
                let wait = format!("{id}.stands");
                if in_line {
                    day.then(&id, StepKind::Levain, &title, what, SETTING, true);
                    day.then(&wait, StepKind::Levain, &stands, ready_sign(a), a.time.0, false);
                } else {
                    let window = Window { from: at - SETTING, to: at + SETTING };
                    day.beside(&id, StepKind::Levain, &title, what, at, SETTING, window);
                    day.alongside(&wait, StepKind::Levain, &stands, ready_sign(a), at + SETTING, a.time.0);
                }
                at += SETTING + a.time.0;
            }
        }
    }

    fn lay_out_shaping(&self, day: &mut Layout, found: &Found<'_>) {
        let (shape, work, makeups) = (found.shape, found.work, found.makeups);
        let plan = &self.formula.shape;
        let piece = shown::grams(shape.piece);
        let pieces = match (shape.strand, work.divide.grid.as_ref()) {
            (Some(strand), _) => {
                format!("{} strands of {} g.", plan.pieces * plan.strands, shown::grams(strand))
            }
            (None, Some(sheet)) => format!("{} pieces of {piece} g. {}", plan.pieces, sheet.says()),
            (None, None) if plan.kind == Kind::Spirals => {
                format!("{} pieces of {} g, three a loaf.", 3 * plan.pieces, shown::grams(shape.piece / 3.0))
            }
            (None, None) if plan.pieces == 1 => format!("One piece of {piece} g."),
            (None, None) => format!("{} pieces of {piece} g.", plan.pieces),
        };
        // One length for the strands, wherever it is said.
        let strand_length = work.braid.as_ref().map(|b| b.strand_length).or(shape.strand_length);
        // Other make-ups are divided when the main pieces have been, and shaped while the main ones rest
        // or right before they are shaped.
        let made =
            work.steps.iter().position(|s| !s.hands_on).map_or(1, |rest| rest + 1).min(work.steps.len());
        for (i, step) in work.steps.iter().enumerate() {
            if i == made {
                self.lay_out_makeups(day, makeups);
            }
            let what = match (i, strand_length, step.name) {
                // Cut from a sheet they are neither rounded nor pressed out.
                (0, _, _) if work.divide.grid.is_some() => pieces.clone(),
                (0, _, _) => format!("{pieces} {}", step.what),
                (_, Some(cm), "Roll the strands") => format!("To {cm:.0} cm. {}", step.what),
                _ => format!("{} {}", step.what, step.sign),
            };
            day.then(&format!("shape.{i}"), StepKind::Shape, step.name, what, step.minutes.0, step.hands_on);
        }
        if made >= work.steps.len() {
            self.lay_out_makeups(day, makeups);
        }
    }

    fn lay_out_makeups(&self, day: &mut Layout, makeups: &[MakeUpAnswer]) {
        for (n, (m, answer)) in self.formula.makeups.iter().zip(makeups).enumerate() {
            let kind = m.kind.name().to_lowercase();
            let what = format!("{} × {} g, {kind}.", m.pieces, shown::grams(m.piece_weight));
            let minutes = (answer.shape.divide + answer.shape.shape).0;
            day.then(
                &format!("makeup.{n}"),
                StepKind::Shape,
                "Divide and shape the rest",
                what,
                minutes,
                true,
            );
        }
    }
}

/// A step of the finish that should begin at a minute.
fn finish_step(n: usize, s: &FinishStep, start: f64) -> Step {
    Step {
        id: format!("finish.{n}"),
        kind: StepKind::Finish,
        title: s.title.clone(),
        detail: s.what.clone(),
        start: Minutes(start),
        length: s.minutes,
        hands_on: true,
    }
}

/// A height in times, as it is said everywhere.
pub(super) fn times(height: f64) -> String {
    let text = format!("{height:.2}");
    text.trim_end_matches('0').trim_end_matches('.').to_owned()
}

/// Whether a proof ends in a cold place.
fn ends_cold(plan: &RiseWish, room: Celsius) -> bool {
    plan.place.unwrap_or(room).0 < 12.0
}

/// The dough is carried from one place to the next.
fn lay_out_moves(day: &mut Layout, id: &str, plan: &RiseWish, room: Celsius, begins: f64, lasts: f64) {
    let places = plan.legs.iter().map(|l| l.place).chain([plan.place.unwrap_or(room)]).skip(1);
    let mut at = 0.0;
    for (n, (leg, to)) in plan.legs.iter().zip(places).enumerate() {
        at += 60.0 * leg.hours.0;
        if at < lasts {
            let title = if to.0 < 10.0 { "Into the fridge" } else { "To its next place" };
            let window = Window { from: begins, to: begins + lasts };
            day.beside(
                &format!("move.{id}.{n}"),
                StepKind::Bulk,
                title,
                format!("Covered, at {:.0} °C.", to.0),
                begins + at,
                1.0,
                window,
            );
        }
    }
}

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
