//! Dividing and shaping on the day: the main pieces, and those of the further make-ups between them.

use super::pieces::PieceWork;
use super::tasks::Found;
use super::{InKitchen, MakeUpAnswer};
use crate::day::{Lasts, StepKind, Task, Tasks};
use crate::formula::MakeUp;
use crate::shape::{ShapeOutput, ShapeStep, ShapeWish};
use crate::units::{Minutes, shown};
use crate::words::Kind;

/// The pieces of one make-up, as they are divided and shaped.
struct Pieces<'a> {
    plan: &'a ShapeWish,
    cut: &'a ShapeOutput,
    work: &'a PieceWork,
}

impl<'a> Pieces<'a> {
    fn of(makeup: &'a MakeUp, answer: &'a MakeUpAnswer) -> Self {
        Pieces { plan: &makeup.shape, cut: &answer.shape, work: &answer.work }
    }

    /// How many of what weight.
    fn divided(&self) -> String {
        let (plan, piece) = (self.plan, shown::grams(self.cut.piece));
        match (self.cut.strand, self.work.divide.grid.as_ref()) {
            (Some(strand), _) => {
                format!("{} strands of {} g.", plan.pieces * plan.strands, shown::grams(strand))
            }
            (None, Some(sheet)) => format!("{} pieces of {piece} g. {}", plan.pieces, sheet.says()),
            (None, None) if plan.kind == Kind::Spirals => {
                let third = shown::grams(self.cut.piece / 3.0);
                format!("{} pieces of {third} g, three a loaf.", 3 * plan.pieces)
            }
            (None, None) if plan.pieces == 1 => format!("One piece of {piece} g."),
            (None, None) => format!("{} pieces of {piece} g.", plan.pieces),
        }
    }

    /// What is done at a step.
    fn says(&self, i: usize, step: &ShapeStep) -> String {
        // One length for the strands, wherever it is said.
        let strand_length = self.work.braid.as_ref().map(|b| b.strand_length).or(self.cut.strand_length);
        let what = match (i, strand_length, step.name) {
            // Cut from a sheet they are neither rounded nor pressed out.
            (0, _, _) if self.work.divide.grid.is_some() => self.divided(),
            (0, _, _) => format!("{} {}", self.divided(), step.what),
            (_, _, "Stretch") if self.plan.rolled.is_some() => format!(
                "Roll or press it out {:.1} cm thick; when it springs back, wait five minutes and go on.",
                self.plan.rolled.unwrap_or_default()
            ),
            (_, _, "Plait") if self.plan.is_crossed() => {
                format!("Lay one strand across the other and work their ends over each other. {}", step.what)
            }
            (_, Some(cm), "Roll the strands") => format!("To {cm:.0} cm. {}", step.what),
            _ => format!("{} {}", step.what, step.sign),
        };
        match &self.work.pan {
            Some(pan) if pan.together > 1 && i + 1 == self.work.steps.len() => {
                format!("{what} {}", pan.laid())
            }
            _ => what,
        }
    }

    /// Where it rests between dividing and the final shape.
    fn rest(&self) -> Option<usize> {
        self.work.steps.iter().position(|s| !s.hands_on)
    }

    /// The hands' minutes and words of some of its steps.
    fn hands(&self, steps: std::ops::Range<usize>) -> (f64, String) {
        let here = steps.filter_map(|i| Some((i, self.work.steps.get(i).filter(|s| s.hands_on)?)));
        here.fold((0.0, String::new()), |(minutes, what), (i, s)| {
            let gap = if what.is_empty() { "" } else { " " };
            (minutes + s.minutes.0, format!("{what}{gap}{}", self.says(i, s).trim()))
        })
    }
}

impl InKitchen<'_> {
    /// The main pieces are divided, then those of the others; they rest together, and are shaped in turn.
    pub(super) fn tasks_of_shaping(&self, day: &mut Tasks, found: &Found<'_>) {
        let main = Pieces { plan: &self.formula.shape, cut: found.shape, work: found.work };
        let steps = &main.work.steps;
        let divided = main.rest().unwrap_or(1).min(steps.len());
        let others: Vec<Pieces<'_>> =
            self.formula.makeups.iter().zip(found.makeups).map(|(m, a)| Pieces::of(m, a)).collect();
        let mut since = 0.0;
        for (i, step) in steps.iter().enumerate() {
            if i == divided {
                self.divide_others(day, &others);
            }
            let task = match step.hands_on {
                true => Task::deed(format!("shape.{i}"), StepKind::Shape, step.name, step.minutes.0),
                false => {
                    Task::wait(format!("shape.{i}"), StepKind::Shape, step.name, Lasts::just(step.minutes))
                }
            };
            day.then(task.says(main.says(i, step)));
            if i >= divided {
                since += step.minutes.0;
            }
        }
        if divided >= steps.len() {
            self.divide_others(day, &others);
        }
        for (n, (other, m)) in others.iter().zip(&self.formula.makeups).enumerate() {
            let from = other.rest().map_or(0, |rest| rest + 1);
            let rest = other.rest().map_or(0.0, |rest| other.work.steps[rest].minutes.0 - since);
            let name = m.name();
            if rest > 0.0 {
                let lasts = Lasts::just(Minutes(rest));
                let wait =
                    Task::wait(format!("makeup.{n}.rest"), StepKind::Shape, format!("Rest: {name}"), lasts);
                day.then(wait.says("Covered, until it can be shaped without springing back."));
                since += rest;
            }
            let (minutes, what) = other.hands(from..other.work.steps.len());
            let title = if from == 0 { "Divide and shape" } else { "Shape" };
            let task =
                Task::deed(format!("makeup.{n}"), StepKind::Shape, format!("{title}: {name}"), minutes);
            day.then(task.says(what).stands_in(found.makeups[n].oven.vessel));
            since += minutes;
        }
    }

    fn divide_others(&self, day: &mut Tasks, others: &[Pieces<'_>]) {
        for (n, (other, m)) in others.iter().zip(&self.formula.makeups).enumerate() {
            if let Some(rest) = other.rest() {
                let (minutes, what) = other.hands(0..rest);
                let id = format!("makeup.{n}.divide");
                day.then(
                    Task::deed(id, StepKind::Shape, format!("Divide: {}", m.name()), minutes).says(what),
                );
            }
        }
    }
}
