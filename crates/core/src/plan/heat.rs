//! One oven over several doughs: it is not switched on twice, nor set otherwise with bread in it.

use jiff::{SignedDuration, Timestamp};

use super::answer::PlannedStep;
use super::combinations::Candidate;
use super::problem::{STEP, TOGETHER};
use super::terms::KEEPS_HOT;

/// Something in the oven, as the plan has it.
struct Baking {
    dough: usize,
    dial: f64,
    from: Timestamp,
    to: Timestamp,
}

fn end(s: &PlannedStep) -> Timestamp {
    let lasts = SignedDuration::from_secs((60.0 * s.length.0).round() as i64);
    s.at.checked_add(lasts).unwrap_or(s.at)
}

/// What is in the oven of each dough, from the first of its loads in to the last out.
fn baking(steps: &[PlannedStep]) -> Vec<Baking> {
    let mut all: Vec<Baking> = Vec::new();
    for s in steps {
        let Some(dial) = s.oven else { continue };
        let (from, to) = (s.at, end(s));
        let same = |b: &&mut Baking| b.dough == s.dough && (b.dial - dial).abs() < 1.0;
        match all.iter_mut().find(same) {
            Some(b) => (b.from, b.to) = (b.from.min(from), b.to.max(to)),
            None => all.push(Baking { dough: s.dough, dial, from, to }),
        }
    }
    all
}

/// Says of each “oven on” where the oven is hot from another dough already, and does it when what bakes at another
/// setting is out.
pub(super) fn shares_its_heat(steps: &mut [PlannedStep], candidates: &[Candidate]) {
    let all = baking(steps);
    let oven = |dough: usize| candidates.get(dough).map(|c| c.oven);
    let hot_for = SignedDuration::from_mins((f64::from(KEEPS_HOT) * STEP) as i64);
    for n in 0..steps.len() {
        let (dough, at) = (steps[n].dough, steps[n].at);
        if steps[n].id != "oven-on" {
            continue;
        }
        let Some(own) = all.iter().find(|b| b.dough == dough) else { continue };
        let others = || all.iter().filter(|b| b.dough != dough && oven(b.dough) == oven(dough));
        let near = |b: &Baking| (b.dial - own.dial).abs() <= TOGETHER;
        let name = |b: &Baking| candidates.get(b.dough).map_or("", |c| c.name.as_str());
        let before = |b: &&Baking| b.from < own.from && b.to + hot_for >= at;
        // What is in it then at another setting, whatever goes in beside the own bread later.
        let other = others().filter(before).filter(|b| !near(b) && b.to > at).max_by_key(|b| b.to);
        let Some(last) = other.or_else(|| others().filter(before).max_by_key(|b| b.to)) else { continue };
        if !near(last) && last.to > at {
            // When it is out, which is a minute or two later.
            let out = steps.iter().find(|s| s.dough == last.dough && s.hands_on && s.at >= last.to);
            let free = out.map_or(last.to, end);
            let detail = format!("When {} is out. {}", name(last), steps[n].detail);
            (steps[n].at, steps[n].detail) = (first_free(steps, n, free), detail);
        } else if near(last) {
            steps[n].detail = format!("It is on for {} already. {}", name(last), steps[n].detail);
        }
    }
}

/// The first moment from one on at which hands are free for a deed.
fn first_free(steps: &[PlannedStep], deed: usize, from: Timestamp) -> Timestamp {
    let length = SignedDuration::from_secs((60.0 * steps[deed].length.0) as i64);
    let mut at = from;
    for _ in 0..steps.len() {
        let others = steps.iter().enumerate().filter(|(n, s)| *n != deed && s.hands_on);
        let busy = others.map(|(_, s)| s).find(|s| s.at < at + length && at < end(s));
        match busy {
            Some(s) => at = end(s),
            None => break,
        }
    }
    at
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::day::StepKind;
    use crate::plan::Wanted;
    use crate::units::Minutes;

    fn step(dough: usize, id: &str, minute: i64, length: f64, oven: Option<f64>) -> PlannedStep {
        PlannedStep {
            dough,
            id: id.into(),
            kind: StepKind::Bake,
            title: id.into(),
            detail: "Set it.".into(),
            at: Timestamp::from_second(60 * minute).unwrap(),
            length: Minutes(length),
            hands_on: oven.is_none(),
            hangs_on: None,
            give: Minutes(0.0),
            oven,
            swells: Vec::new(),
        }
    }

    /// The loaf's “oven on”, to be at `on`, with buns out at 61 that bake at so many degrees: it goes in at `bakes`, at 240 °C.
    fn loaf_after_buns(buns: f64, on: i64, bakes: i64) -> (i64, String) {
        let of = |name: &str| Candidate {
            name: name.into(),
            wanted: Wanted::AnyTime,
            ways: Vec::new(),
            fixed: Vec::new(),
            pinned: Vec::new(),
            oven: 0,
            mixer: 0,
        };
        let mut steps = vec![
            step(0, "bake", 40, 21.0, Some(buns)),
            step(1, "oven-on", on, 1.0, None),
            step(0, "out", 61, 2.0, None),
            step(1, "bake", bakes, 40.0, Some(240.0)),
        ];
        shares_its_heat(&mut steps, &[of("Buns"), of("Loaf")]);
        (steps[1].at.as_second() / 60, steps[1].detail.clone())
    }

    #[test]
    fn nobody_turns_it_up_with_buns_in_it() {
        assert_eq!(loaf_after_buns(180.0, 50, 75), (63, "When Buns is out. Set it.".into()));
        assert_eq!(loaf_after_buns(240.0, 50, 75), (50, "It is on for Buns already. Set it.".into()));
        // Hours after them it is switched on as ever, and set higher when they are out.
        assert_eq!(loaf_after_buns(240.0, 185, 200), (185, "Set it.".into()));
        assert_eq!(loaf_after_buns(180.0, 70, 110), (70, "Set it.".into()));
    }
}
