//! What the list knows of every formula, kept from one look to the next: a formula is read again when it has another
//! revision, so that a long list is searched and sorted without reading it.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, PoisonError};

use cerealis_core::formula::{Formula, figures};
use cerealis_core::pantry::{Catalogue, Cupboard};
use cerealis_core::units::{Grams, Percent};
use cerealis_store::{DamagedRecord, FormulaId, FormulaMark, Revision, Store, StoreError};

use super::first_run;

/// What is searched and sorted by.
pub struct Card {
    /// Its name in small letters.
    name: String,
    /// All that may be looked for, in small letters.
    text: String,
    /// Its tags.
    pub tags: Vec<String>,
    /// Its dough.
    dough: Grams,
    /// Its effective hydration.
    wet: Percent,
    /// Whether it is one of the examples.
    pub example: bool,
}

impl Card {
    fn new(f: &Formula, catalogue: &Catalogue) -> Card {
        let mut text = format!("{} {} {}", f.name, f.style.name(), f.tags.join(" "));
        for name in f.lines.iter().filter_map(|l| catalogue.get(&l.ingredient)).map(|i| &i.name) {
            text.push(' ');
            text.push_str(name);
        }
        let k = figures(f, catalogue);
        Card {
            name: f.name.to_lowercase(),
            text: text.to_lowercase(),
            tags: f.tags.clone(),
            dough: k.dough,
            wet: crate::show::hydration(&k).1,
            example: first_run::is_example(f),
        }
    }

    /// Whether it has every one of the words, given in small letters; a slip of the finger in a longer word is
    /// forgiven.
    pub fn says_all(&self, words: &[String]) -> bool {
        words.iter().all(|w| self.text.contains(w.as_str()) || self.near(w))
    }

    fn near(&self, word: &str) -> bool {
        let letters = word.chars().count();
        // One slip leaves one of the first two letters where it is, or beside it.
        let two = |t: &str| (t.as_bytes().first().copied(), t.as_bytes().get(1).copied());
        let (first, second) = two(word);
        let begins = |t: &&str| {
            let (a, b) = two(t);
            a == first || b == second || a == second || b == first
        };
        let others = self.text.split(|c: char| !c.is_alphanumeric());
        letters >= 4
            && others.filter(|t| t.len() + 1 >= letters).filter(begins).any(|t| {
                let end = t.char_indices().nth(letters).map_or(t.len(), |(i, _)| i);
                strsim::osa_distance(word, &t[..end]) <= 1
                    || (end < t.len() && strsim::osa_distance(word, t) <= 1)
            })
    }
}

/// A formula of the list: where it stands, and what is known of it.
pub type Listed = (FormulaMark, Arc<Card>);

#[derive(Default)]
struct Known {
    cards: HashMap<FormulaId, (Revision, Result<Arc<Card>, DamagedRecord>)>,
    /// The ingredients of its own that the names and figures go by.
    cupboard: Option<Cupboard>,
}

/// All cards, as far as they were read.
#[derive(Clone, Default)]
pub struct Index(Arc<Mutex<Known>>);

impl Index {
    /// Every formula that is not deleted, and those that do not read.
    ///
    /// # Errors
    /// What the store reports.
    pub fn all(
        &self,
        store: &Store,
        cupboard: &Cupboard,
        catalogue: &Catalogue,
    ) -> Result<(Vec<Listed>, Vec<DamagedRecord>), StoreError> {
        let marks = store.formula_marks()?;
        let mut known = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        if known.cupboard.as_ref() != Some(cupboard) {
            *known = Known { cards: HashMap::new(), cupboard: Some(cupboard.clone()) };
        }
        let missing: Vec<FormulaId> = marks
            .iter()
            .filter(|m| known.cards.get(&m.id).is_none_or(|(revision, _)| *revision != m.revision))
            .map(|m| m.id)
            .collect();
        if !missing.is_empty() {
            let (read, damaged) = store.formulas_of(&missing)?;
            for f in read {
                let card = Arc::new(Card::new(&f.formula, catalogue));
                known.cards.insert(f.id, (f.revision, Ok(card)));
            }
            for d in damaged {
                let id = FormulaId(d.id);
                let revision = marks.iter().find(|m| m.id == id).map_or(Revision::UNSAID, |m| m.revision);
                known.cards.insert(id, (revision, Err(d)));
            }
        }
        let (mut all, mut damaged) = (Vec::with_capacity(marks.len()), Vec::new());
        for mark in marks {
            match known.cards.get(&mark.id) {
                Some((_, Ok(card))) => all.push((mark, card.clone())),
                Some((_, Err(d))) => damaged.push(d.clone()),
                None => {}
            }
        }
        Ok((all, damaged))
    }
}

/// Puts the list in the order that is asked for: by name unless another is.
pub fn sort(all: &mut [Listed], by: &str) {
    match by {
        "newest" => all.sort_by(|(a, _), (b, _)| b.updated_at.cmp(&a.updated_at)),
        "dough" => all.sort_by(|(_, a), (_, b)| b.dough.0.total_cmp(&a.dough.0)),
        "hydration" => all.sort_by(|(_, a), (_, b)| b.wet.0.total_cmp(&a.wet.0)),
        _ => all.sort_by(|(_, a), (_, b)| a.name.cmp(&b.name)),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use cerealis_core::words::Style;

    #[test]
    fn a_slip_of_the_finger_is_forgiven_in_longer_words() {
        let f = Formula { name: "Seeded Weir round".into(), ..Formula::beginning("", Style::Hearth) };
        let card = Card::new(&f, Catalogue::bundled());
        let says = |words: &str| {
            card.says_all(&words.to_lowercase().split_whitespace().map(str::to_owned).collect::<Vec<_>>())
        };
        for found in ["", "weir", "seeded round", "SEDED", "seedde", "weri", "seed", "hearth", "bread flour"]
        {
            assert!(says(found), "{found}");
        }
        for lost in ["rye", "wri", "seeded rye", "sxxded"] {
            assert!(!says(lost), "{lost}");
        }
    }
}
