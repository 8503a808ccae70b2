//! What the list knows of every formula, kept from one look to the next: a formula is read again when it has another
//! revision, so that a long list is searched and sorted without reading it. The list as a whole stands until something
//! is written, with the words that are in it.

use std::collections::{BTreeMap, BTreeSet, HashMap};
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
}

/// Whether a word of the list is meant by one that was typed, both in small letters: it is part of it, or it begins
/// alike but for one slip of the finger, where it is long enough.
fn meant(typed: &str, word: &str) -> bool {
    if word.contains(typed) {
        return true;
    }
    let letters = typed.chars().count();
    // One slip leaves one of the first two letters where it is, or beside it.
    let two = |t: &str| (t.as_bytes().first().copied(), t.as_bytes().get(1).copied());
    let (first, second) = two(typed);
    let near = |t: &str| {
        let (a, b) = two(t);
        let begins = a == first || b == second || a == second || b == first;
        let end = t.char_indices().nth(letters).map_or(t.len(), |(i, _)| i);
        begins
            && t.len() + 1 >= letters
            && (strsim::osa_distance(typed, &t[..end]) <= 1
                || (end < t.len() && strsim::osa_distance(typed, t) <= 1))
    };
    letters >= 4 && word.split(|c: char| !c.is_alphanumeric()).any(near)
}

/// A formula of the list: where it stands, and what is known of it.
#[derive(Clone)]
pub struct Listed {
    /// Its number, and when it was changed.
    pub mark: FormulaMark,
    /// What is known of it.
    pub card: Arc<Card>,
}

/// What there is of some formulas.
#[derive(Default)]
pub struct Kept {
    /// How many there are.
    pub count: usize,
    /// How many of them are examples.
    pub examples: usize,
    /// Their tags.
    pub tags: Vec<String>,
}

impl Kept {
    fn of<'a>(cards: impl Iterator<Item = &'a Arc<Card>>) -> Kept {
        let (mut kept, mut tags) = (Kept::default(), BTreeSet::new());
        for card in cards {
            kept.count += 1;
            kept.examples += usize::from(card.example);
            tags.extend(&card.tags);
        }
        kept.tags = tags.into_iter().cloned().collect();
        kept.tags.sort_by_cached_key(|t| t.to_lowercase());
        kept
    }
}

/// Every formula that is not deleted, by name.
#[derive(Default)]
pub struct List {
    /// The formulas.
    pub all: Vec<Listed>,
    /// Those that do not read.
    pub damaged: Vec<DamagedRecord>,
    /// What there is of those at hand, and of those that are archived.
    pub kept: [Kept; 2],
    /// Each word, and at which places of the list it stands.
    words: BTreeMap<String, Vec<u32>>,
}

impl List {
    fn new(mut all: Vec<Listed>, damaged: Vec<DamagedRecord>) -> List {
        all.sort_by(|a, b| a.card.name.cmp(&b.card.name));
        let mut words: BTreeMap<String, Vec<u32>> = BTreeMap::new();
        for (n, listed) in (0u32..).zip(&all) {
            for word in listed.card.text.split_whitespace() {
                let places = match words.get_mut(word) {
                    Some(places) => places,
                    None => words.entry(word.to_owned()).or_default(),
                };
                if places.last() != Some(&n) {
                    places.push(n);
                }
            }
        }
        let of = |away: bool| all.iter().filter(move |l| l.mark.archived == away).map(|l| &l.card);
        let kept = [Kept::of(of(false)), Kept::of(of(true))];
        List { all, damaged, kept, words }
    }

    /// Which formulas say every one of some words, given in small letters, by their place.
    pub fn saying(&self, typed: &[String]) -> Vec<bool> {
        let mut says = vec![true; self.all.len()];
        for word in typed {
            let mut has = vec![false; self.all.len()];
            let places = self.words.iter().filter(|(w, _)| meant(word, w)).flat_map(|(_, places)| places);
            for n in places {
                has[*n as usize] = true;
            }
            says.iter_mut().zip(has).for_each(|(s, h)| *s &= h);
        }
        says
    }
}

#[derive(Default)]
struct Known {
    cards: HashMap<FormulaId, (Revision, Result<Arc<Card>, DamagedRecord>)>,
    /// The ingredients of its own that the names and figures go by.
    cupboard: Option<Cupboard>,
    /// The list, and how often the store had been written to.
    list: Option<(u64, Arc<List>)>,
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
    ) -> Result<Arc<List>, StoreError> {
        let mut known = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let writes = store.writes();
        if known.cupboard.as_ref() != Some(cupboard) {
            *known = Known { cupboard: Some(cupboard.clone()), ..Known::default() };
        }
        if let Some((at, list)) = &known.list
            && *at == writes
        {
            return Ok(list.clone());
        }
        let marks = store.formula_marks()?;
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
                Some((_, Ok(card))) => all.push(Listed { mark, card: card.clone() }),
                Some((_, Err(d))) => damaged.push(d.clone()),
                None => {}
            }
        }
        let list = Arc::new(List::new(all, damaged));
        known.list = Some((writes, list.clone()));
        Ok(list)
    }
}

/// Puts what is shown in the order that is asked for: by name, as the list is, unless another is.
pub fn sort(all: &mut [&Listed], by: &str) {
    match by {
        "newest" => all.sort_by(|a, b| b.mark.updated_at.cmp(&a.mark.updated_at)),
        "dough" => all.sort_by(|a, b| b.card.dough.0.total_cmp(&a.card.dough.0)),
        "hydration" => all.sort_by(|a, b| b.card.wet.0.total_cmp(&a.card.wet.0)),
        _ => {}
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use cerealis_core::words::Style;

    #[test]
    fn a_slip_of_the_finger_is_forgiven_in_longer_words() {
        let f = Formula { name: "Seeded Weir round".into(), ..Formula::beginning("", Style::Hearth) };
        let mark = FormulaMark {
            id: FormulaId(1),
            revision: Revision(1),
            updated_at: String::new(),
            archived: false,
        };
        let card = Arc::new(Card::new(&f, Catalogue::bundled()));
        let list = List::new(vec![Listed { mark, card }], Vec::new());
        let says = |words: &str| {
            list.saying(&words.to_lowercase().split_whitespace().map(str::to_owned).collect::<Vec<_>>())[0]
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
