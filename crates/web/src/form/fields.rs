//! A wish as the fields of a form: one list that writes and reads it.

use cerealis_core::choice::Choice;
use cerealis_core::typed::Quantity;
use cerealis_core::units::{Celsius, Grams, Hours, Minutes, Percent};

use super::{Form, Reader, plain};

/// A wish that stands in the fields of a form.
///
/// It names each of its fields once, with what of it stands there; the visitor writes them or reads them. So
/// what is read from a form that was filled is the wish that filled it.
pub trait Fields {
    /// Shows every field to the visitor.
    fn fields(&mut self, to: &mut impl Visit);
}

/// A figure with its unit.
pub trait Figure: Copy {
    /// What its field holds.
    const QUANTITY: Quantity;
    /// Of the bare number.
    fn of(number: f64) -> Self;
    /// The bare number.
    fn number(self) -> f64;
}

macro_rules! figures {
    ($($unit:ident),+) => {$(
        impl Figure for $unit {
            const QUANTITY: Quantity = Quantity::$unit;

            fn of(number: f64) -> Self {
                $unit(number)
            }

            fn number(self) -> f64 {
                self.0
            }
        }
    )+};
}
figures!(Celsius, Grams, Hours, Minutes, Percent);

impl Figure for f64 {
    const QUANTITY: Quantity = Quantity::Plain;

    fn of(number: f64) -> Self {
        number
    }

    fn number(self) -> f64 {
        self
    }
}

/// What is done with each field: it is written, or read.
pub trait Visit {
    /// One of a fixed set.
    fn choice<C: Choice>(&mut self, name: &str, choice: &mut C);
    /// One of a fixed set, or what is usual where it is empty.
    fn some_choice<C: Choice>(&mut self, name: &str, choice: &mut Option<C>);
    /// A figure that must be there.
    fn figure<F: Figure>(&mut self, name: &str, figure: &mut F);
    /// A figure that is nought where it is left out.
    fn or_nought<F: Figure>(&mut self, name: &str, figure: &mut F);
    /// A figure that may be left out.
    fn some<F: Figure>(&mut self, name: &str, figure: &mut Option<F>);
    /// Two figures that stand together or are both left out, and what to say where one is missing.
    fn pair<A: Figure, B: Figure>(&mut self, names: [&str; 2], pair: &mut Option<(A, B)>, ask: [&str; 2]);
    /// A whole number.
    fn whole(&mut self, name: &str, number: &mut u32);
    /// A whole number that may be left out.
    fn some_whole(&mut self, name: &str, number: &mut Option<u32>);
    /// A tick.
    fn tick(&mut self, name: &str, on: &mut bool);
    /// A text that may be left out.
    fn some_text(&mut self, name: &str, text: &mut Option<String>);
    /// Notes what is wrong with a field when it is read.
    fn fault(&mut self, name: &str, message: &str);
}

/// Writes a wish into a form.
pub fn fill<W: Fields + Clone>(form: &mut Form, wish: &W) {
    wish.clone().fields(&mut Filler { form });
}

/// Reads a wish over one to begin with, of which every field is replaced.
pub fn read<W: Fields>(r: &mut Reader<'_>, mut wish: W) -> W {
    wish.fields(r);
    wish
}

struct Filler<'a> {
    form: &'a mut Form,
}

impl Visit for Filler<'_> {
    fn choice<C: Choice>(&mut self, name: &str, choice: &mut C) {
        self.form.set(name, choice.key());
    }

    fn some_choice<C: Choice>(&mut self, name: &str, choice: &mut Option<C>) {
        self.form.set(name, choice.map_or("", Choice::key));
    }

    fn figure<F: Figure>(&mut self, name: &str, figure: &mut F) {
        self.form.set(name, plain(figure.number()));
    }

    fn or_nought<F: Figure>(&mut self, name: &str, figure: &mut F) {
        let text = if figure.number() == 0.0 { String::new() } else { plain(figure.number()) };
        self.form.set(name, text);
    }

    fn some<F: Figure>(&mut self, name: &str, figure: &mut Option<F>) {
        self.form.set(name, figure.map_or(String::new(), |f| plain(f.number())));
    }

    fn pair<A: Figure, B: Figure>(&mut self, names: [&str; 2], pair: &mut Option<(A, B)>, _: [&str; 2]) {
        self.some(names[0], &mut pair.map(|p| p.0));
        self.some(names[1], &mut pair.map(|p| p.1));
    }

    fn whole(&mut self, name: &str, number: &mut u32) {
        self.form.set(name, number.to_string());
    }

    fn some_whole(&mut self, name: &str, number: &mut Option<u32>) {
        self.form.set(name, number.map_or(String::new(), |n| n.to_string()));
    }

    fn tick(&mut self, name: &str, on: &mut bool) {
        self.form.set(name, if *on { "on" } else { "" });
    }

    fn some_text(&mut self, name: &str, text: &mut Option<String>) {
        self.form.set(name, text.as_deref().unwrap_or_default());
    }

    fn fault(&mut self, _: &str, _: &str) {}
}

impl Visit for Reader<'_> {
    fn choice<C: Choice>(&mut self, name: &str, choice: &mut C) {
        let key = self.text(name);
        match C::all().iter().find(|c| c.key() == key) {
            Some(found) => *choice = *found,
            None => Reader::fault(self, "unknown", name, "Choose one from the list."),
        }
    }

    fn some_choice<C: Choice>(&mut self, name: &str, choice: &mut Option<C>) {
        *choice = None;
        if let (false, Some(first)) = (self.text(name).is_empty(), C::all().first()) {
            let mut chosen = *first;
            Visit::choice(self, name, &mut chosen);
            *choice = Some(chosen);
        }
    }

    fn figure<F: Figure>(&mut self, name: &str, figure: &mut F) {
        *figure = self.figure_of(name);
    }

    fn or_nought<F: Figure>(&mut self, name: &str, figure: &mut F) {
        *figure = self.measure(name).unwrap_or(F::of(0.0));
    }

    fn some<F: Figure>(&mut self, name: &str, figure: &mut Option<F>) {
        *figure = self.measure(name);
    }

    fn pair<A: Figure, B: Figure>(&mut self, names: [&str; 2], pair: &mut Option<(A, B)>, ask: [&str; 2]) {
        *pair = match (self.measure(names[0]), self.measure(names[1])) {
            (Some(a), Some(b)) => Some((a, b)),
            (None, None) => None,
            (a, _) => {
                let missing = usize::from(a.is_some());
                Reader::fault(self, "missing", names[missing], ask[missing]);
                None
            }
        };
    }

    fn whole(&mut self, name: &str, number: &mut u32) {
        *number = Reader::whole(self, name);
    }

    fn some_whole(&mut self, name: &str, number: &mut Option<u32>) {
        *number = match self.text(name).trim() {
            "" => None,
            _ => Some(Reader::whole(self, name)),
        };
    }

    fn tick(&mut self, name: &str, on: &mut bool) {
        *on = !self.text(name).is_empty();
    }

    fn some_text(&mut self, name: &str, text: &mut Option<String>) {
        *text = Some(self.text(name)).filter(|t| !t.is_empty());
    }

    fn fault(&mut self, name: &str, message: &str) {
        Reader::fault(self, "missing", name, message);
    }
}

/// The fields of one of several alike: those of `shape.` and the rest under its own name, `makeups.0.`.
pub struct Under<'v, V> {
    to: &'v mut V,
    prefix: String,
}

impl<'v, V: Visit> Under<'v, V> {
    /// Under a name, which ends with a full stop.
    pub fn new(to: &'v mut V, prefix: String) -> Self {
        Under { to, prefix }
    }

    fn at(&self, name: &str) -> String {
        format!("{}{}", self.prefix, name.strip_prefix("shape.").unwrap_or(name))
    }
}

impl<V: Visit> Visit for Under<'_, V> {
    fn choice<C: Choice>(&mut self, name: &str, choice: &mut C) {
        self.to.choice(&self.at(name), choice);
    }

    fn some_choice<C: Choice>(&mut self, name: &str, choice: &mut Option<C>) {
        self.to.some_choice(&self.at(name), choice);
    }

    fn figure<F: Figure>(&mut self, name: &str, figure: &mut F) {
        self.to.figure(&self.at(name), figure);
    }

    fn or_nought<F: Figure>(&mut self, name: &str, figure: &mut F) {
        self.to.or_nought(&self.at(name), figure);
    }

    fn some<F: Figure>(&mut self, name: &str, figure: &mut Option<F>) {
        self.to.some(&self.at(name), figure);
    }

    fn pair<A: Figure, B: Figure>(&mut self, names: [&str; 2], pair: &mut Option<(A, B)>, ask: [&str; 2]) {
        let (first, second) = (self.at(names[0]), self.at(names[1]));
        self.to.pair([&first, &second], pair, ask);
    }

    fn whole(&mut self, name: &str, number: &mut u32) {
        self.to.whole(&self.at(name), number);
    }

    fn some_whole(&mut self, name: &str, number: &mut Option<u32>) {
        self.to.some_whole(&self.at(name), number);
    }

    fn tick(&mut self, name: &str, on: &mut bool) {
        self.to.tick(&self.at(name), on);
    }

    fn some_text(&mut self, name: &str, text: &mut Option<String>) {
        self.to.some_text(&self.at(name), text);
    }

    fn fault(&mut self, name: &str, message: &str) {
        self.to.fault(&self.at(name), message);
    }
}

/// Writes one of several alike into a form.
pub fn fill_under<W: Fields + Clone>(form: &mut Form, prefix: String, wish: &W) {
    wish.clone().fields(&mut Under::new(&mut Filler { form }, prefix));
}

/// Reads one of several alike.
pub fn read_under<W: Fields>(r: &mut Reader<'_>, prefix: String, mut wish: W) -> W {
    wish.fields(&mut Under::new(r, prefix));
    wish
}
