//! Minutes and temperatures of the oven, with the lid on and off.

use super::clause::Clause;
use super::course::{At, Course, Stretch, Told};
use super::said::Act;
use crate::finding::Found;
use crate::quantity::Count;
use cerealis_core::words::Vessel;

impl Course {
    /// “Then cover with foil and bake on”: it goes on when so much of the bake is over, where no time of its own is
    /// said before the next act. `at` is where foil is said.
    pub(super) fn foil_now(&mut self, c: &Clause<'_>, at: usize, acts: &[(usize, Act)]) {
        let next = acts.iter().map(|(i, _)| *i).find(|i| *i > at).unwrap_or(c.to);
        let timed =
            ["min", "hour"].iter().any(|w| c.lower[at..next].contains(w)) || c.lower[at..].contains("after");
        let so_far = self.bakes.iter().fold(Count { low: 0.0, high: 0.0 }, |all, b| Count {
            low: all.low + b.minutes.low,
            high: all.high + b.minutes.high,
        });
        if !timed && so_far.low > 0.0 && self.at == At::Baking {
            self.find(Found::Foil, so_far, "", c.text);
        }
    }

    pub(super) fn bakes(&mut self, act: Act, minutes: Count, c: &Clause<'_>, at: usize, end: usize) {
        self.at = self.at.max(At::Baking);
        let behind = c.lower[end..c.to].split(|x: char| x.is_ascii_digit()).next().unwrap_or("");
        let ahead = &c.lower[c.from..at];
        let says = |text: &str, words: &[&str]| words.iter().any(|w| text.contains(w));
        let closed = [
            "covered",
            "lid on",
            "with the lid",
            "under the lid",
            "under a lid",
            "under a cover",
            "under the cover",
            "under a bowl",
            "with lid",
        ];
        // “20 minutes with steam, 20 without” is of no lid.
        let lid = self.lid.is_some() || says(c.lower, &["lid", "cover"]);
        let without = if lid { "without" } else { "lid off" };
        let act = if lid || !c.own().contains("without") { act } else { Act::Bake };
        let open = ["uncovered", "uncover", "open", without, "lid off", "with it off"];
        let under = if says(behind, &open) {
            Some(false)
        } else if says(behind, &closed) {
            Some(true)
        } else {
            match act {
                Act::Covered => Some(true),
                Act::Uncovered => Some(false),
                _ if says(ahead, &open) => Some(false),
                // As the lid was left.
                _ => self.lid,
            }
        };
        self.lid = under.or(self.lid);
        // Of a lidded tin the lid stays.
        let under = under.filter(|_| self.vessel != Some(Vessel::Lidded));
        let at = self.oven.last().map(|t| t.count);
        let goes_on = under.is_some()
            || self.falls
            || says(c.own(), &["more", "another", "further", "then", "lid"])
            || self.bakes.last().is_some_and(|b| b.at.map(|t| t.low) != at.map(|t| t.low));
        if !self.bakes.is_empty() && !goes_on {
            self.bake_unsure = true;
        }
        self.bakes.push(Stretch { minutes, at, under, text: c.text.into() });
    }

    pub(super) fn heat(&mut self, act: Option<Act>, t: Count, c: &Clause<'_>) {
        let says = |words: &[&str]| words.iter().any(|w| c.lower.contains(w));
        let told = Told { count: t, text: c.text.into() };
        let core = c.own().split(|x: char| !x.is_alphabetic()).any(|w| w == "core");
        let of_the_core = core || ["internal", "inside", "thermometer"].iter().any(|w| c.own().contains(w));
        if t.low >= 120.0 && of_the_core && act != Some(Act::Lower) && !c.own().contains("oven") {
            // 190 can only be °F; said as °C it is doubted where it belongs.
            self.find(Found::Core, t, "", c.text);
        } else if t.low >= 120.0 {
            let heats = matches!(act, Some(Act::Preheat)) && self.at < At::Baking;
            if heats {
                self.preheat.get_or_insert(told);
            } else {
                // Minutes that were said before their temperature have it all the same.
                let lowers = act == Some(Act::Lower);
                self.lowered |= lowers && !self.bakes.is_empty();
                let own = c.own().contains("min") && !lowers;
                if let Some(b) = self.bakes.last_mut().filter(|b| own && b.at.is_none()) {
                    b.at = Some(t);
                }
                self.oven.push(told);
            }
        } else if t.low >= 70.0 {
            if self.at >= At::Baking
                || says(&["core", "middle", "inside", "internal", "cent", "thermometer", "until"])
            {
                self.find(Found::Core, t, "", c.text);
            }
        } else if says(&[
            "water",
            "milk",
            "liquid",
            "lukewarm",
            "drink",
            "juice",
            "beer",
            "whey",
            "cream",
            "dissolve",
            "cool to",
            "cooled to",
        ]) && self.at <= At::Mixed
            && self.knead.is_none()
            && !c.ahead
        {
            self.find(Found::Liquid, t, "", c.text);
        } else if t.low < 10.0 {
            // A fridge is a place of the kitchen.
        } else if !c.ahead && t.low >= 2.0 {
            let place = if self.at >= At::Shaped { Found::ProofPlace } else { Found::BulkPlace };
            self.find(place, t, "", c.text);
        }
    }
}
