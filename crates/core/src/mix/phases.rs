//! Mixing and kneading: phases, minutes, and the sign to stop at.
//!
//! Work is counted in turns of the hook: about 600 for a short mix, 950 for a medium one, 1600 for
//! an intensive one (Hamelman; Suas; recalled, not read from the source). Hands, folds and rest
//! are put on the same scale (common practice, no source).

use super::input::{Folds, MixInput, MixOutput, Phase, PhaseKind, Stop, join};
use super::turns::{HAND_RPM, Long, RESTS_FIRST, Sign, Speed, Turn, What, Work, turns};
use super::wish::{AUTOLYSE, BUTTER, FOLDS, FOLDS_EVERY, KNEAD, PORTIONS, SLOW, SPEED};
use crate::fault::{Check, Fault, Faults};
use crate::units::{Minutes, Percent};
use crate::words::{Method, SaltSchool, Style};

/// Turns of the hook for a style: a short mix 600, a medium one 950, an intensive one 1600 (common practice, no
/// source).
fn turns_wanted(style: Style) -> f64 {
    match style {
        Style::Rye => 300.0,
        Style::Hearth | Style::Flat | Style::NoKnead => 700.0,
        Style::Tin => 950.0,
        Style::SoftRoll => 1100.0,
        Style::Braid => 1300.0,
        Style::GlutenFree => 0.0,
    }
}

/// Share of the wanted work that an hour of rest does: twelve hours do it all.
const REST_AN_HOUR: f64 = 1.0 / 12.0;

/// Share that one fold set does: three sets over an hour and a half do it all.
const FOLD_SET: f64 = (1.0 - 1.5 * REST_AN_HOUR) / 3.0;

/// Turns that a minute with a hand mixer is worth (common practice, no source).
const HAND_MIXER_RPM: f64 = 70.0;

/// Minutes that a mixer runs slowly first, where nothing is said (common practice, no source).
const SLOWLY: f64 = 4.0;

/// Friction of a hand mixer, K a minute (common practice, no source).
const HAND_MIXER_HEAT: f64 = 0.5;

/// Friction in K a minute: hands 0.2 to 0.3, a mixer 0.5 to 1.1 by its speed.
const HAND_HEAT: f64 = 0.25;

fn mixer_heat(rpm: f64) -> f64 {
    (0.5 + 0.6 * (rpm - 60.0) / 120.0).clamp(0.3, 1.3)
}

/// Plans the phases of mixing.
///
/// ```
/// # use cerealis_core::{formula::Formula, kitchen::Kitchen, pantry::Catalogue, stations::read, words::Style};
/// # let f = Formula::beginning("Weir loaf", Style::Tin);
/// # let now = "2026-03-07T08:00:00Z".parse().unwrap();
/// # let s = read(&f, &Kitchen::default(), Catalogue::bundled(), now).unwrap();
/// use cerealis_core::mix::MixInput;
/// use cerealis_core::units::{Grams, Minutes, Percent};
/// use cerealis_core::words::{Method, SaltSchool};
/// let input = MixInput {
///     method: Method::Hand, style: Style::Tin, hydration: Percent(65.0), late_fat: Percent(0.0),
///     add_ins: false, autolyse: Minutes(20.0), bulk: Minutes(90.0), dough: Grams(800.0), speeds: vec![],
///     friction: None, slow: None, knead: None, speed: None, folds: None, folds_every: None, salt: SaltSchool::default(), held_back: false,
///     held_flour: None, butter_portions: None, butter: None, mixer_limit: None,
/// };
/// let out = cerealis_core::mix::mix(&input).unwrap();
/// assert!(out.phases.iter().any(|p| !p.hands_on), "flour and water rest first");
/// assert!(out.work_done.0 > 90.0);
/// ```
///
/// # Errors
/// A figure outside its range, by its path; a mixer without two speeds.
pub fn mix(input: &MixInput) -> Result<MixOutput, Faults> {
    let mut c = Check::new();
    c.range("hydration", "Hydration", input.hydration.0, 0.0, 400.0, "%");
    AUTOLYSE.check(&mut c, "autolyse", input.autolyse.0);
    c.range("dough", "The dough", input.dough.0, 1.0, 1e6, "g");
    c.range("late_fat", "Late fat", input.late_fat.0, 0.0, 200.0, "%");
    c.range("bulk", "The bulk rise", input.bulk.0, 0.0, 10_000.0, "min");
    for (i, s) in input.speeds.iter().enumerate() {
        c.range(&format!("speeds.{i}"), "A mixer speed", *s, 20.0, 400.0, "turns a minute");
    }
    if let Some(f) = input.friction {
        c.range("friction", "Friction", f, 0.0, 3.0, "°C a minute");
    }
    SLOW.check_some(&mut c, "slow", input.slow.map(|m| m.0));
    KNEAD.check_some(&mut c, "knead", input.knead.map(|m| m.0));
    SPEED.check_some(&mut c, "speed", input.speed.map(f64::from));
    FOLDS.check_some(&mut c, "folds", input.folds.map(f64::from));
    PORTIONS.check_some(&mut c, "butter_portions", input.butter_portions.map(f64::from));
    BUTTER.check_some(&mut c, "butter", input.butter.map(|m| m.0));
    FOLDS_EVERY.check_some(&mut c, "folds_every", input.folds_every.map(|m| m.0));
    if input.method == Method::Mixer && input.speeds.len() < 2 {
        c.note(Fault::new(
            "missing",
            "speeds",
            "A mixer needs at least two speeds, in turns of the hook a minute.",
        ));
    }
    c.done(())?;
    Ok(Planner::new(input).plan())
}

struct Planner<'a> {
    input: &'a MixInput,
    wanted: f64,
    done: f64,
    heat: f64,
    natural_heat: f64,
    phases: Vec<Phase>,
}

impl<'a> Planner<'a> {
    fn new(input: &'a MixInput) -> Self {
        // An autolyse of 10 to 60 min saves up to about a third of the work.
        let saved = 0.33 * (input.autolyse.0 / 30.0).min(1.0);
        Planner {
            input,
            wanted: turns_wanted(input.style) * (1.0 - saved),
            done: 0.0,
            heat: 0.0,
            natural_heat: 0.0,
            phases: Vec::new(),
        }
    }

    fn phase(&mut self, kind: PhaseKind, name: &str, minutes: f64, rpm: Option<f64>, what: &str, sign: &str) {
        let hands_on = !matches!(kind, PhaseKind::Autolyse | PhaseKind::Rest);
        if hands_on {
            let natural = match (self.input.method, rpm) {
                (Method::Mixer | Method::Paddle, Some(rpm)) => mixer_heat(rpm),
                (Method::HandMixer, _) => HAND_MIXER_HEAT,
                _ => HAND_HEAT,
            };
            self.natural_heat += minutes * natural;
            self.heat += minutes * self.input.friction.unwrap_or(natural);
        }
        self.phases.push(Phase {
            kind,
            name: name.into(),
            minutes: Minutes(minutes),
            rpm,
            turns: 0.0,
            what: what.into(),
            sign: sign.into(),
            stop: self.stop(kind),
            hands_on,
        });
    }

    fn stop(&self, kind: PhaseKind) -> Stop {
        match (kind, self.input.style) {
            (PhaseKind::Autolyse | PhaseKind::Rest, _) => Stop::Relaxed,
            (PhaseKind::AddIns, _) => Stop::Spread,
            (PhaseKind::Mix, _) if self.input.method == Method::Paddle => Stop::Peak,
            (PhaseKind::Mix | PhaseKind::Folds, _) => Stop::Shaggy,
            (PhaseKind::Butter, _) => Stop::Window,
            (PhaseKind::Knead, Style::Rye) => Stop::Paste,
            (PhaseKind::Knead, _) if self.input.hydration.0 > 72.0 || self.input.late_fat.0 > 0.0 => {
                Stop::Side
            }
            (PhaseKind::Knead, _) => Stop::Window,
        }
    }

    /// Work done in the phase laid down last, in turns of a hook.
    fn work(&mut self, turns: f64) {
        self.done += turns;
        if let Some(phase) = self.phases.last_mut() {
            phase.turns = self.done;
        }
    }

    /// What goes in when the dough is brought together.
    fn everything(&self) -> String {
        let mut but = Vec::new();
        if self.input.late_fat.0 > 0.0 {
            but.push("late butter");
        }
        if self.input.add_ins {
            but.push("add-ins");
        }
        if self.input.salt == SaltSchool::Later {
            but.insert(0, "the salt");
        }
        if self.input.held_back {
            but.insert(0, "what is held back");
        }
        if but.is_empty() { "Everything.".into() } else { format!("Everything but {}.", join(&but)) }
    }

    /// What is added when the dough is developed.
    fn later(&self, how: &str) -> String {
        let mut parts = Vec::new();
        if self.input.salt == SaltSchool::Later {
            parts.push("The salt goes in now.");
        }
        if self.input.held_flour.is_some() {
            parts.push("Work in the flour that was held back, a spoonful at a time, and stop when it holds together.");
        } else if self.input.held_back {
            parts.push("Work in what was held back, a splash at a time, as the dough takes it.");
        }
        parts.push(how);
        parts.retain(|p| !p.is_empty());
        parts.join(" ")
    }

    fn plan(mut self) -> MixOutput {
        let rests = self.input.autolyse.0 > 0.0;
        let first: &[Turn] = if rests { &RESTS_FIRST } else { &[] };
        for turn in first.iter().chain(turns(self.input.method)) {
            self.take(turn);
        }
        let folds = self.folds();
        self.finish(folds)
    }

    /// Lays one turn of the table down.
    fn take(&mut self, turn: &Turn) {
        let (developing, pace) = self.developing();
        let before_butter = self.split_for_butter(developing);
        let minutes = match turn.lasts {
            Long::Just(minutes) => minutes,
            Long::Slowly => self.slowly(),
            Long::Autolyse => self.input.autolyse.0,
            Long::Develop => before_butter,
            Long::Butter => match (self.input.butter, self.input.late_fat.0 > 0.0) {
                (Some(own), true) => own.0,
                _ => developing - before_butter,
            },
            Long::ByHand => {
                let left = self.wanted - self.done;
                // Whoever says how long they knead, kneads so long.
                let wanted = left > 60.0 && self.input.knead.is_none();
                if wanted { (left / HAND_RPM).clamp(2.0, 12.0).round() } else { 0.0 }
            }
        };
        if minutes <= 0.0 || (turn.kind == PhaseKind::AddIns && !self.input.add_ins) {
            return;
        }
        let rpm = match turn.speed {
            Speed::Hands => None,
            Speed::First => self.input.speeds.first().copied(),
            Speed::Developing => self.developing_speed(),
        };
        let what = match turn.what {
            What::Text(text) => text.to_owned(),
            What::Everything => self.everything(),
            What::Later(how) => self.later(how),
            What::Butter => {
                let usual = (self.input.late_fat.0 / 5.0).ceil().clamp(2.0, 6.0) as u32;
                match self.input.butter_portions.unwrap_or(usual) {
                    1 => "Soft butter, all of it.".to_owned(),
                    n => format!("Soft butter in {n} portions, each worked in before the next."),
                }
            }
        };
        let sign = match turn.sign {
            Sign::Text(text) => text,
            Sign::Developed => {
                let butter_follows = matches!(turn.lasts, Long::Develop) && self.input.late_fat.0 > 0.0;
                self.develop_sign(butter_follows)
            }
        };
        self.phase(turn.kind, turn.name, minutes, rpm, &what, sign);
        match turn.work {
            Work::None => {}
            Work::Of(turns) => self.work(minutes * turns),
            Work::Speed => self.work(minutes * rpm.unwrap_or(0.0)),
            Work::Developing => self.work(minutes * pace),
        }
    }

    /// Minutes at the mixer's first speed.
    fn slowly(&self) -> f64 {
        self.input.slow.map_or(SLOWLY, |m| m.0)
    }

    /// The mixer's speed, in turns a minute, at which the dough is developed: the one that is wished for, or its
    /// fastest where it has not so many.
    fn developing_speed(&self) -> Option<f64> {
        let wished = self.input.speed.map_or(1, |n| n.saturating_sub(1) as usize);
        self.input.speeds.get(wished).or(self.input.speeds.last()).copied()
    }

    /// Minutes of developing, butter and all, and the turns that each is worth: those that are wished, or those
    /// that the dough needs when what went before is counted.
    fn developing(&self) -> (f64, f64) {
        // Two kilograms are more than a pair of hands works through at the same pace.
        let heavy = (self.input.dough.0 / 1200.0).clamp(1.0, 1.6);
        let (before, pace, least, most) = match self.input.method {
            Method::Mixer => {
                (self.slowly() * self.input.speeds[0], self.developing_speed().unwrap_or(HAND_RPM), 2.0, 20.0)
            }
            Method::HandMixer => (180.0, HAND_MIXER_RPM, 3.0, 8.0),
            _ => (2.0 * HAND_RPM, HAND_RPM / heavy, 3.0, 22.0),
        };
        let needed = ((self.wanted - before) / pace).clamp(least, most).round();
        (self.input.knead.map_or(needed, |m| m.0), pace)
    }

    /// Folds in the bulk rise: as wished, or as a dough that is only folded needs them.
    fn folds(&self) -> Option<Folds> {
        let needed = || {
            // A dough that autolysed or rises long needs fewer sets; three finish a wet one.
            let rest = self.input.bulk.0 / 60.0 * REST_AN_HOUR;
            let mixed = self.done / self.wanted.max(1.0);
            ((1.0 - rest - mixed) / FOLD_SET).ceil().clamp(2.0, 4.0) as u32
        };
        let sets = self.input.folds.or_else(|| (self.input.method == Method::Fold).then(needed))?;
        let every = self.input.folds_every.unwrap_or(Minutes(30.0));
        Some(Folds { sets, every, each: Minutes(2.0) })
    }

    /// Minutes of development before the butter goes in: all of them without late butter.
    fn split_for_butter(&self, minutes: f64) -> f64 {
        // Whoever says how long the butter takes, kneads as long as it is said before it.
        let whole = self.input.late_fat.0 <= 0.0 || self.input.butter.is_some();
        if whole { minutes } else { (minutes * 0.55).round() }
    }

    fn develop_sign(&self, butter_follows: bool) -> &'static str {
        match (butter_follows, self.input.style, self.input.hydration.0) {
            (true, ..) => "It holds together and stretches a little before it tears.",
            (_, Style::Rye, _) => "A smooth paste. Rye does not stretch: stop here.",
            (_, _, h) if h > 72.0 => "It leaves the side but holds at the bottom.",
            _ => "It leaves the side and stretches thin enough to see light.",
        }
    }

    fn finish(self, folds: Option<Folds>) -> MixOutput {
        let rest = self.input.bulk.0 / 60.0 * REST_AN_HOUR;
        let folded = folds.map_or(0.0, |f| f64::from(f.sets) * FOLD_SET);
        let work = if self.wanted > 0.0 { self.done / self.wanted + folded + rest } else { 1.0 };
        let mut notes = Vec::new();
        if let Some(without) = self.input.held_flour {
            notes.push(format!(
                "With all of the flour that is held back it has {:.0} % of water, with none of it {:.0} %: the dough decides between them, and the weight of the flour with it.",
                self.input.hydration.0, without.0
            ));
        }
        if work < 0.9 && self.input.bulk.0 > 0.0 {
            notes.push(format!(
                "Mixing, folds and the bulk rise do about {:.0} % of the work this dough wants. It will be slack: knead longer, fold more often, or let it rise cooler and longer.",
                100.0 * work
            ));
        }
        if self.input.method == Method::Mixer {
            notes.push("Keep hands and spoons out of a running mixer, and stay by it: a stiff dough makes it walk. Its maker's limits come first.".into());
            notes.extend(self.load());
        }
        if self.input.method == Method::HandMixer && self.input.dough.0 > 1000.0 {
            notes.push("Over a kilogram of dough is more than a hand mixer's hooks turn through. Mix it in two halves, or knead by hand.".into());
        }
        let parts = if self.input.method == Method::Mixer { self.parts() } else { 1 };
        let minutes = self.phases.iter().map(|p| p.minutes).sum();
        let kneading: Minutes = self.phases.iter().filter(|p| p.hands_on).map(|p| p.minutes).sum();
        MixOutput {
            phases: self.phases,
            folds,
            turns_wanted: self.wanted,
            work_done: Percent(100.0 * work),
            parts,
            minutes,
            kneading,
            rise: self.heat,
            usual_friction: if kneading.0 > 0.0 { self.natural_heat / kneading.0 } else { 0.0 },
            signs: self.input.signs(),
            notes,
        }
    }
}

/// The most parts in which a dough is mixed.
const PARTS: f64 = 8.0;

impl Planner<'_> {
    /// In how many parts the mixer takes this dough, by its maker's limit; in one where none is known.
    fn parts(&self) -> u32 {
        let heavy = self.input.dough.0 * self.input.stiffness();
        self.input.mixer_limit.map_or(1, |limit| (heavy / limit.0.max(1.0)).ceil().clamp(1.0, PARTS) as u32)
    }

    /// What the mixer bears, where its maker's limit is known; a rule of thumb where it is not.
    fn load(&self) -> Option<String> {
        let heavy = self.input.dough.0 * self.input.stiffness();
        match self.input.mixer_limit {
            Some(limit) if heavy > limit.0 => {
                let fits = (limit.0 / self.input.stiffness() / 10.0).floor() * 10.0;
                Some(format!(
                    "This dough is too much for the mixer: it bears about {fits:.0} g of one as stiff. Mix it in {} parts, or finish by hand.",
                    self.parts()
                ))
            }
            None if self.input.hydration.0 < 56.0 && self.input.dough.0 > 1200.0 => Some(
                "This is a stiff, heavy dough for a household mixer. Mix it in two halves or finish by hand."
                    .into(),
            ),
            _ => None,
        }
    }
}

#[cfg(test)]
mod tests;
