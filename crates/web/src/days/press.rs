//! What the buttons of the Day page ask for.

use cerealis_core::plan::{DayPlan, Fixed, Otherwise, STEP};
use jiff::civil::DateTime;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};

/// A button of the page, other than those of its lists.
#[derive(Clone, Debug, PartialEq)]
pub enum Press {
    /// Plan what is asked.
    Plan,
    /// Let go the plan that is followed.
    Again,
    /// Follow one of the plans.
    Take(String),
    /// Set a step, or the time at which a bread is wanted, to a time.
    Move(Move),
    /// Set it free again: the dough, and the place of what is set for it.
    Free(usize, usize),
    /// It goes otherwise.
    Otherwise(Happens),
    /// Go on in one of the ways that were offered then.
    On(String),
}

/// Something that is moved to a time, in steps from the beginning of the plan.
#[derive(Clone, Debug, PartialEq)]
pub struct Move {
    /// Of which dough.
    pub dough: usize,
    /// A step by its id; the time at which the bread is wanted where it is none.
    pub step: Option<String>,
    /// To which step of the clock.
    pub to: i32,
}

/// What has come otherwise, as it is pressed.
#[derive(Clone, Debug, PartialEq)]
pub enum Happens {
    /// So many minutes without hands.
    Late(i64),
    /// No hands until the time that is typed.
    NoHands,
    /// No hands until the morning.
    Bed,
    /// The oven is taken until the time that is typed.
    OvenTaken,
    /// A wait of a dough is over.
    Ready(usize, String),
    /// A step is wanted at another time.
    Moved(Move),
}

impl Press {
    /// Reads a button's key; nothing for any other.
    pub fn from_key(key: &str) -> Option<Press> {
        for (word, press) in [("take:", Press::Take as fn(String) -> Press), ("on:", Press::On)] {
            if let Some(key) = key.strip_prefix(word).filter(|k| !k.is_empty()) {
                return Some(press(key.to_owned()));
            }
        }
        let parts: Vec<&str> = key.split(':').collect();
        let number = |text: &str| text.parse::<usize>().ok();
        Some(match parts.as_slice() {
            ["plan"] => Press::Plan,
            ["again"] => Press::Again,
            ["move", moved @ ..] => Press::Move(Move::read(moved)?),
            ["free", dough, place] => Press::Free(number(dough)?, number(place)?),
            ["late", minutes] => {
                let minutes = minutes.parse().ok().filter(|m| (1..=600).contains(m))?;
                Press::Otherwise(Happens::Late(minutes))
            }
            ["until"] => Press::Otherwise(Happens::NoHands),
            ["bed"] => Press::Otherwise(Happens::Bed),
            ["oven"] => Press::Otherwise(Happens::OvenTaken),
            ["ready", dough, id] => Press::Otherwise(Happens::Ready(number(dough)?, (*id).to_owned())),
            ["shift", moved @ ..] => Press::Otherwise(Happens::Moved(Move::read(moved)?)),
            _ => return None,
        })
    }
}

impl Move {
    /// Reads `0:shape.0:216`, or `0::216` for the time at which the bread is wanted.
    fn read(parts: &[&str]) -> Option<Move> {
        let [dough, step, to] = parts else { return None };
        Some(Move {
            dough: dough.parse().ok()?,
            step: Some((*step).to_owned()).filter(|s| !s.is_empty()),
            to: to.parse().ok().filter(|n| (-288..=3000).contains(n))?,
        })
    }

    /// The same as [`Press::from_key`] reads it after `move:`.
    pub fn from_text(text: &str) -> Option<Move> {
        Move::read(&text.split(':').collect::<Vec<_>>())
    }

    /// The moment that it is moved to.
    pub fn at(&self, plan: &DayPlan, zone: &TimeZone) -> Timestamp {
        let seconds = (f64::from(self.to) * STEP * 60.0) as i64;
        let begins = plan.begins(zone);
        begins.checked_add(SignedDuration::from_secs(seconds)).unwrap_or(begins)
    }

    /// The plan with that moved; as it was where there is no such dough.
    pub fn in_plan(&self, mut plan: DayPlan, title: &str, zone: &TimeZone) -> DayPlan {
        let at: DateTime = self.at(&plan, zone).to_zoned_datetime(zone.clone()).datetime();
        let Some(dough) = plan.doughs.get_mut(self.dough) else { return plan };
        match &self.step {
            None => dough.at = Some(at),
            Some(id) => {
                let kept = dough.fixed.iter().find(|f| f.id == *id).map(|f| f.title.clone());
                let title = kept.unwrap_or_else(|| title.to_owned());
                dough.fixed.retain(|f| f.id != *id);
                dough.fixed.push(Fixed { id: id.clone(), at, title });
            }
        }
        plan
    }

    /// The same where the plan is followed already.
    pub fn otherwise(&self, plan: &DayPlan, zone: &TimeZone) -> Otherwise {
        let id = self.step.clone().unwrap_or_default();
        Otherwise::Moved { dough: self.dough, id, at: self.at(plan, zone) }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_the_buttons_of_the_page_are_pressed() {
        let moved = |step: Option<&str>| Move { dough: 1, step: step.map(str::to_owned), to: 216 };
        for (key, press) in [
            ("plan", Press::Plan),
            ("take:as-written+yeast-0.5", Press::Take("as-written+yeast-0.5".into())),
            ("move:1:shape.0:216", Press::Move(moved(Some("shape.0")))),
            ("move:1::216", Press::Move(moved(None))),
            ("free:0:2", Press::Free(0, 2)),
            ("late:20", Press::Otherwise(Happens::Late(20))),
            ("ready:0:bulk", Press::Otherwise(Happens::Ready(0, "bulk".into()))),
            ("shift:1:bulk:216", Press::Otherwise(Happens::Moved(moved(Some("bulk"))))),
        ] {
            assert_eq!(Press::from_key(key), Some(press), "{key}");
        }
        for key in [
            "",
            "late:0",
            "late:601",
            "late:x",
            "move:1:shape.0",
            "move:x:a:1",
            "move:1:a:99999",
            "free:1",
            "take",
        ] {
            assert_eq!(Press::from_key(key), None, "{key}");
        }
    }
}
