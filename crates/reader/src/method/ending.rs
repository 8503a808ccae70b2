//! What a method comes to when all of it has been read.

use super::course::{At, Course, Stretch, Told, add};
use crate::finding::{Finding, Found};
use crate::quantity::Count;
use cerealis_core::words::{Kind, Vessel};

/// The widest pan that is one for loaves, cm (common practice, no source).
pub(super) const LOAF_WIDE: f64 = 15.0;

impl Course {
    /// All that was found, each with the sentence it stands in.
    pub fn done(mut self) -> Vec<Finding> {
        // A short rest that no rise followed was the rise.
        if self.bulk.is_none() && self.at >= At::Shaped {
            self.bulk = self.rest.take();
        }
        // What bakes before the oven is turned down bakes at what it was heated to.
        if let (Some(heated), [first, second, ..]) = (self.preheat.clone(), self.bakes.as_mut_slice())
            && first.at.is_none()
            && (self.lowered || first.under.is_none() && second.at.is_some_and(|t| t.low < heated.count.low))
        {
            first.at = Some(heated.count);
            self.oven.insert(0, heated);
        }
        // “240 °C falling to 200 °C: 10 minutes hot, 15 at the lower heat”
        if let (true, [first, .., last], [early, late]) =
            (self.falls, self.oven.as_slice(), self.bakes.as_mut_slice())
        {
            (early.at, late.at) = (Some(first.count), Some(last.count));
        }
        // What was said of the oven once is what it bakes at.
        let first = self.oven.first().map(|t| t.count.low);
        let last = self.oven.last().cloned().or_else(|| self.preheat.clone());
        let changed = self.oven.len() > 1 && first != last.as_ref().map(|t| t.count.low);
        if let (true, Some(start)) = (changed && !self.bakes.is_empty(), self.oven.first().cloned()) {
            let hot: Vec<&Stretch> =
                self.bakes.iter().filter(|b| b.at.is_some_and(|t| t.low == start.count.low)).collect();
            if let Some(b) = hot.first() {
                let minutes = b.minutes;
                let text = b.text.clone();
                self.find(Found::HotStart, start.count, "", &start.text);
                self.find(Found::HotMinutes, minutes, "", &text);
            }
        }
        let told = [
            (Found::Knead, self.knead.take()),
            (Found::Folds, self.folds.take()),
            (Found::FoldsEvery, self.every.take()),
            (Found::Bulk, self.bulk.take()),
            (Found::Second, self.second.take()),
            (Found::Proof, self.proof.take()),
            (Found::Preheat, self.preheat.take()),
            (Found::Oven, last),
        ];
        for (found, t) in told {
            if let Some(t) = t {
                self.find(found, t.count, "", &t.text);
            }
        }
        if self.several && self.bakes.len() == 1 {
            // “The rolls for 18 minutes” is of one of them.
            let one = ["the rolls for", "the buns for", "the loaf for", "the plait for", "the round for"];
            let of_one = |text: &str| {
                let lower = text.to_lowercase();
                one.iter()
                    .filter_map(|w| lower.split_once(w))
                    .any(|(_, t)| t.trim_start().starts_with(|c: char| c.is_ascii_digit()))
            };
            self.bakes.retain(|b| !of_one(&b.text));
        }
        self.bake_in_all();
        let bake = self.found.iter().find(|f| f.found == Found::Bake).map(|f| f.low);
        if let (Some(last), Some(bake)) = (self.foil_last.take(), bake)
            && bake > last.count.low
        {
            let after = bake - last.count.low;
            self.find(Found::Foil, Count { low: after, high: after }, "", &last.text);
        }
        if self.several {
            // Two breads of one dough are further make-ups, not pieces of one kind in one vessel.
            self.pieces = None;
            self.found.retain(|f| f.found != Found::BakesIn);
            (self.pan, self.touching) = (None, None);
        }
        // A pan as narrow as a loaf is one for loaves.
        let narrow =
            self.pan.as_ref().filter(|p| p.width.is_some_and(|w| w <= LOAF_WIDE)).map(|p| p.text.clone());
        if let (None, Some(text)) = (self.vessel, narrow) {
            self.vessel = Some(Vessel::Tin);
            self.find(Found::BakesIn, Count { low: 1.0, high: 1.0 }, Vessel::Tin.key(), &text);
        }
        // “Cut in two … and twist them into a two-strand plait” makes one.
        let strands = self.found.iter().find(|f| f.found == Found::Strands).map(|f| f.low);
        if let Some(p) = self.pieces.as_mut()
            && self.kind == Some(Kind::Braid)
            && strands == Some(p.count.low)
            && self.found.iter().any(|f| f.found == Found::Strands && f.text.contains("into a"))
        {
            p.count = Count { low: 1.0, high: 1.0 };
        }
        if self.rolled_up && self.vessel == Some(Vessel::Tin) && matches!(self.kind, None | Some(Kind::Tin)) {
            self.kind = Some(Kind::Swirl);
        }
        self.one_in_its_tin();
        self.spirals |= self.rolled_tight && self.pieces.as_ref().is_some_and(|p| p.count.low == 3.0);
        if self.spirals && matches!(self.vessel, Some(Vessel::Tin | Vessel::Lidded)) {
            self.kind = Some(Kind::Spirals);
        }
        let told = |what: Found, key: &str| {
            self.found.iter().any(|f| f.found == what && (key.is_empty() || f.key == key))
        };
        if self.kind.is_none()
            && self.pieces.is_none()
            && told(Found::Cuts, "docked")
            && told(Found::Thick, "")
            && !self.found.iter().any(|f| f.found == Found::Thick && f.text.contains("cut"))
        {
            self.kind = Some(Kind::Flat);
        }
        let plaited = self.found.iter().find(|f| f.found == Found::Strands).map(|f| f.text.clone());
        if let (Some(text), Some(Kind::Braid), None, false) = (plaited, self.kind, &self.pieces, self.several)
        {
            self.pieces = Some(Told { count: Count { low: 1.0, high: 1.0 }, text });
        }
        let spirals = self.kind == Some(Kind::Spirals);
        self.pan_and_pieces(self.pieces.as_ref().map(|p| p.count).filter(|_| !spirals));
        if let Some(p) = self.pieces.take() {
            let tin = matches!(self.vessel, Some(Vessel::Tin)) && p.count.high <= 4.0;
            let kind = self.kind.or(tin.then_some(Kind::Tin));
            let count = if kind == Some(Kind::Spirals) { Count { low: 1.0, high: 1.0 } } else { p.count };
            self.find(Found::Pieces, count, kind.map_or("", Kind::key), &p.text);
        }
        let one = self.found.iter().any(|f| f.found == Found::Pieces && f.high == 1.0);
        let of_its_own = |k: &Kind| matches!(k, Kind::Flat | Kind::Spirals) || (*k == Kind::Round && one);
        if let Some(kind) = self.kind.filter(of_its_own) {
            let text = self
                .found
                .iter()
                .find(|f| f.found == Found::Pieces)
                .map_or(String::new(), |f| f.text.clone());
            self.find(Found::Shape, Count { low: 1.0, high: 1.0 }, kind.key(), &text);
        }
        if self.washes.len() > 1 {
            let n = self.washes.len() as f64;
            let text = self.washes[1].clone();
            self.find(Found::Washes, Count { low: n, high: n }, "", &text);
        }
        self.found.sort_by_key(|f| f.found as usize);
        self.found
    }

    /// “Shape and put in a greased tin”: one loaf, where no number of pieces was said.
    fn one_in_its_tin(&mut self) {
        let loaf = matches!(self.kind, None | Some(Kind::Tin | Kind::Swirl));
        let lone = self.pieces.is_none() && !self.several && self.touching.is_none();
        let text = self.found.iter().find(|f| f.found == Found::BakesIn).map(|f| f.text.clone());
        if let (Some(Vessel::Tin), true, Some(text)) = (self.vessel, loaf && lone, text) {
            let words = |w: &str| text.to_lowercase().split(|c: char| !c.is_alphabetic()).any(|x| x == w);
            if (words("tin") || words("pan")) && !words("tins") && !words("pans") {
                self.pieces = Some(Told { count: Count { low: 1.0, high: 1.0 }, text });
            }
        }
    }

    fn bake_in_all(&mut self) {
        let sum = |under: Option<bool>, bakes: &[Stretch]| {
            let of = bakes.iter().filter(|b| under.is_none() || b.under == under);
            of.fold(None, |all: Option<Told>, b| {
                let mut all = all;
                add(&mut all, b.minutes, &b.text);
                all
            })
        };
        let bakes = std::mem::take(&mut self.bakes);
        let lid = bakes.iter().any(|b| b.under.is_some());
        if lid {
            for (under, found) in [(true, Found::Covered), (false, Found::Uncovered)] {
                if let Some(t) = sum(Some(under), &bakes) {
                    self.find(found, t.count, "", &t.text);
                }
            }
        }
        if let Some(t) = sum(None, &bakes).filter(|_| !self.bake_unsure) {
            self.find(Found::Bake, t.count, "", &t.text);
        }
    }
}
