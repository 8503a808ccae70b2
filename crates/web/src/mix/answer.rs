//! What the Mix station answers.

use askama::Template;
use cerealis_core::formula::Formula;
use cerealis_core::mix::{WaterAction, WaterAnswer};
use cerealis_core::stations::{Liquid, Stations, water_sentence};
use cerealis_core::units::{DEGREES, Grams, shown};
use cerealis_core::words::{WaterSchool, YEAST_LIMIT};

use crate::picture::{self, both};
use crate::show::{Fact, PhaseRow, celsius, fact};

/// One school's answer for the water.
pub struct School {
    /// Its name.
    pub name: &'static str,
    /// The temperature it asks for.
    pub water: String,
    /// Its working.
    pub working: String,
    /// Whether it is the one that leads.
    pub leads: bool,
}

/// The Mix station.
#[derive(Template)]
#[template(path = "mix/answer.html")]
pub struct MixOut {
    big: String,
    pub(crate) sentence: String,
    advice: Option<String>,
    idle: String,
    desired: String,
    schools: Vec<School>,
    pub(crate) phases: Vec<PhaseRow>,
    total: String,
    work: String,
    yeast: Option<[Fact; 3]>,
    dry_yeast: bool,
    notes: Vec<String>,
    strip: String,
    signs: [String; 2],
    friction: Option<String>,
}

impl MixOut {
    /// Shows the water and the phases.
    pub fn new(f: &Formula, s: &Stations) -> Self {
        let answer = s.water_answer(f.mix.school);
        let w = &s.water;
        let factor = format!(
            "{} × {:.0} °C less flour, room{} and friction ({:.1} {DEGREES})",
            w.factor_n,
            f.mix.desired.0,
            match w.factor_n as u32 {
                3 => "".to_owned(),
                4 => ", one more part".to_owned(),
                n => format!(", {} more parts", n - 3),
            },
            w.factor_friction
        );
        let balance = format!(
            "every ingredient and the bowl at its own temperature; dough holds {:.2} kJ/kg K; mixing adds {:.1} {DEGREES}",
            w.dough_heat_capacity, s.mix.rise
        );
        let school = |name, a: &WaterAnswer, working, which| School {
            name,
            water: celsius(a.water),
            working,
            leads: f.mix.school == which,
        };
        let mut phases: Vec<PhaseRow> = s
            .mix
            .phases
            .iter()
            .zip(&s.goes_in)
            .map(|(p, goes_in)| PhaseRow {
                goes_in: goes_in.iter().map(|g| (g.name.clone(), shown::grams(g.grams))).collect(),
                name: p.name.clone(),
                time: shown::time(p.minutes),
                what: match p.rpm {
                    Some(rpm) => format!(
                        "{rpm:.0} turns a minute; {:.0} of {:.0} turns done by then. {}",
                        p.turns, s.mix.turns_wanted, p.what
                    ),
                    None => p.what.clone(),
                },
                sign: p.sign.clone(),
                hands_on: p.hands_on,
            })
            .collect();
        if let Some(folds) = s.mix.folds {
            phases.push(PhaseRow {
                name: format!("{} fold sets", folds.sets),
                goes_in: Vec::new(),
                time: format!("every {}", shown::time(folds.every)),
                what: "During the bulk rise: four folds a set, with wet hands.".into(),
                sign: "It holds its shape longer after each set.".into(),
                hands_on: true,
            });
        }
        let dry = |g: Grams| format!("{} g", shown::grams(g));
        MixOut {
            big: match &answer.action {
                WaterAction::NoLiquid => "—".into(),
                WaterAction::Refused { .. } => "not by water".into(),
                WaterAction::Ice { ice, .. } => format!("{} g ice", shown::grams(*ice)),
                _ => format!("{:.0} °C", answer.water.0),
            },
            sentence: water_sentence(answer, &s.liquid),
            advice: advice(answer, &s.liquid),
            idle: format!(
                "As it comes ({}), the dough would be {}.",
                celsius(s.liquid.comes_at),
                celsius(w.if_nothing_is_done)
            ),
            desired: celsius(f.mix.desired),
            schools: vec![
                school("Heat balance", &w.balance, balance, WaterSchool::Balance),
                school("Factor rule", &w.factor, factor, WaterSchool::Factor),
            ],
            phases,
            total: shown::time(s.mix.minutes),
            work: format!("{:.0} %", s.mix.work_done.0.min(999.0)),
            yeast: s.yeast.map(|y| {
                [
                    fact("Instant", dry(y.instant)),
                    fact("Active dry", dry(y.active_dry)),
                    fact("Fresh", dry(y.fresh)),
                ]
            }),
            dry_yeast: f.lines.iter().any(|l| l.ingredient == "active-dry-yeast"),
            notes: s.mix.notes.clone(),
            strip: both(|room| picture::mix_strip(&s.mix, &s.goes_in, room)),
            signs: s.mix.signs.clone(),
            friction: s.friction.map(|(per_minute, n)| {
                let readings = if n == 1 { "one reading".to_owned() } else { format!("{n} readings") };
                format!("Mixing adds {per_minute:.2} °C a minute here, learned from {readings}.")
            }),
        }
    }
}

fn advice(answer: &WaterAnswer, liquid: &Liquid) -> Option<String> {
    match &answer.action {
        WaterAction::Warm => liquid.one_alone(answer.water).map(|(name, t)| {
            format!("Or warm only the {name}, to {:.0} °C, and take the rest as it comes.", t.0)
        }),
        WaterAction::Refused { dough } if answer.water.0 > YEAST_LIMIT => Some(format!(
            "It would need {liquid} of {:.0} °C, and over {YEAST_LIMIT:.0} °C the yeast is harmed. With {YEAST_LIMIT:.0} °C the dough comes to {:.0} °C. Warm the flour, mix in a warmer place, or accept it and let it rise longer.",
            answer.water.0,
            dough.0,
            liquid = liquid.name,
        )),
        WaterAction::Refused { dough } => Some(format!(
            "Even with as much ice as will melt, the dough comes to {:.0} °C. Chill the flour, mix for a shorter time, or accept it and let it rise less long.",
            dough.0
        )),
        WaterAction::Ice { .. } => Some("The ice is weighed into the liquid and melts while mixing.".into()),
        _ => None,
    }
}
