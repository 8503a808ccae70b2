//! A wish as the fields of a form: one list that writes and reads it.

use cerealis_core::choice::Choice;
use cerealis_core::notation::Quantity;
use cerealis_core::typed::date_of;
use cerealis_core::units::{Celsius, Grams, Hours, Minutes, Percent};
use jiff::civil::{Date, DateTime};

use super::{Cm, Form, Kelvins, Reader};

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

macro_rules! of_their_own {
    ($($unit:ident $quantity:ident),+) => {$(
        impl Figure for $unit {
            const QUANTITY: Quantity = Quantity::$quantity;

            fn of(number: f64) -> Self {
                $unit(number)
            }

            fn number(self) -> f64 {
                self.0
            }
        }
    )+};
}
of_their_own!(Kelvins Kelvin, Cm Length);

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
    /// A day and a time of day, in two fields under the name.
    fn moment(&mut self, name: &str, moment: &mut Option<DateTime>);
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

/// Shows lengths in cm, each of which may be left out.
pub fn as_lengths<const N: usize>(to: &mut impl Visit, lengths: [(&str, &mut Option<f64>); N]) {
    for (name, length) in lengths {
        let mut cm = length.map(Cm);
        to.some(name, &mut cm);
        *length = cm.map(|cm| cm.0);
    }
}

/// Shows differences of temperature, each of which may be left out.
pub fn as_kelvins<const N: usize>(to: &mut impl Visit, degrees: [(&str, &mut Option<f64>); N]) {
    for (name, degrees) in degrees {
        let mut k = degrees.map(Kelvins);
        to.some(name, &mut k);
        *degrees = k.map(|k| k.0);
    }
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

/// Writes single fields into a form.
pub fn fill_with(form: &mut Form, write: impl FnOnce(&mut Filler<'_>)) {
    write(&mut Filler { form });
}

/// Writes fields.
pub struct Filler<'a> {
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
        self.form.put(name, *figure);
    }

    fn or_nought<F: Figure>(&mut self, name: &str, figure: &mut F) {
        self.form.put_some(name, Some(*figure).filter(|f| f.number() != 0.0));
    }

    fn some<F: Figure>(&mut self, name: &str, figure: &mut Option<F>) {
        self.form.put_some(name, *figure);
    }

    fn pair<A: Figure, B: Figure>(&mut self, names: [&str; 2], pair: &mut Option<(A, B)>, _: [&str; 2]) {
        self.some(names[0], &mut pair.map(|p| p.0));
        self.some(names[1], &mut pair.map(|p| p.1));
    }

    fn moment(&mut self, name: &str, moment: &mut Option<DateTime>) {
        let notation = self.form.notation();
        self.form.set(format!("{name}.day"), moment.map_or(String::new(), |m| m.date().to_string()));
        self.form.set(format!("{name}.other"), "");
        self.form.set(format!("{name}.time"), moment.map_or(String::new(), |m| notation.time(m.time())));
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

    fn moment(&mut self, name: &str, moment: &mut Option<DateTime>) {
        // A day that is written goes before one that is picked.
        let (day, other) = (format!("{name}.day"), format!("{name}.other"));
        let written = self.text(&other);
        let date = if written.is_empty() {
            self.text(&day).parse().ok()
        } else {
            let today = self.text("today").parse().unwrap_or(Date::ZERO);
            let read = date_of(&written, today).filter(|d| *d > Date::ZERO);
            if read.is_none() {
                Reader::fault(self, "malformed", &other, "Give a date, such as 24 Dec or 2026-12-24.");
            }
            read
        };
        let time = self.time(&format!("{name}.time"));
        *moment = date.zip(time).map(|(date, time)| date.to_datetime(time));
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

    fn moment(&mut self, name: &str, moment: &mut Option<DateTime>) {
        self.to.moment(&self.at(name), moment);
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
