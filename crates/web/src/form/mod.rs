//! What was typed: form fields as text, and what is wrong with them.
//!
//! Nothing typed is lost: a page is always drawn again from the text itself. `fields.rs` writes a wish into
//! fields and reads it back.

mod fields;
pub mod rows;

pub use fields::{
    Fields, Figure, Visit, as_kelvins, as_lengths, fill, fill_under, fill_with, read, read_under,
};

use cerealis_store::Revision;
use std::borrow::Cow;
use std::collections::BTreeMap;

use cerealis_core::fault::{Fault, Faults};
use cerealis_core::formats::plain_text;
use cerealis_core::notation::{Notation, Quantity};
use cerealis_core::typed::{time_of_day, typed, typed_in};
use cerealis_core::units::{Grams, shown};
use jiff::civil::Time;

/// The field in which a form says its notation.
const TYPED_IN: &str = "typed_in";

/// The text of every field of a form, with what is wrong.
#[derive(Clone, Debug, Default)]
pub struct Form {
    pub(crate) values: BTreeMap<String, String>,
    faults: BTreeMap<String, String>,
}

impl Form {
    /// Reads a posted body; bytes that are no text become the mark for that.
    pub fn parse(body: &[u8]) -> Form {
        let plain = |v: Cow<'_, str>| plain_text(&v).into_owned();
        let values = form_urlencoded::parse(body).map(|(k, v)| (k.into_owned(), plain(v))).collect();
        Form { values, faults: BTreeMap::new() }
    }

    /// An empty form in a notation.
    pub fn within(notation: Notation) -> Form {
        let mut form = Form::default();
        form.set(TYPED_IN, notation.key());
        form
    }

    /// The notation in which its figures are typed.
    pub fn notation(&self) -> Notation {
        Notation::from_key(self.value(TYPED_IN)).unwrap_or_default()
    }

    /// Writes a figure into a field, in the form's notation.
    pub fn put<F: Figure>(&mut self, name: impl Into<String>, figure: F) {
        let text = self.notation().text(figure.number(), F::QUANTITY);
        self.set(name, text);
    }

    /// Writes a figure into a field, or empties it.
    pub fn put_some<F: Figure>(&mut self, name: impl Into<String>, figure: Option<F>) {
        match figure {
            Some(figure) => self.put(name, figure),
            None => self.set(name, ""),
        }
    }

    /// A weight as its field has it, as finely as it is weighed; what is exact travels beside it.
    pub fn weighed(&self, grams: Grams) -> String {
        let notation = self.notation();
        if !notation.in_ounces() {
            return shown::grams(grams);
        }
        let ounces = notation.written(grams.0, Quantity::Grams);
        let decimals = if ounces < 1.0 { 3 } else { 2 };
        let text = format!("{ounces:.decimals$}");
        text.trim_end_matches('0').trim_end_matches('.').to_owned()
    }

    /// Writes a weight into a field. What is exact travels beside it with what the page shows of it, so that a weight that
    /// nobody changed is stored as it was, in whatever unit it was shown.
    pub fn put_weight(&mut self, name: &str, grams: Option<Grams>) {
        let text = grams.map_or(String::new(), |g| self.weighed(g));
        self.set(exact_field(name), grams.map_or(String::new(), |g| g.0.to_string()));
        self.set(shown_field(name), &text);
        self.set(name, text);
    }

    /// A weight of a field: what is exact where the field is as it was shown, else what is typed.
    pub fn weight(&self, name: &str) -> Option<Grams> {
        self.unchanged_weight(name).or_else(|| self.figure(name))
    }

    fn unchanged_weight(&self, name: &str) -> Option<Grams> {
        let text = self.value(name);
        let same = !text.is_empty() && text == self.value(&shown_field(name));
        let exact: f64 = self.value(&exact_field(name)).parse().ok().filter(|_| same)?;
        (exact.is_finite() && exact >= 0.0).then_some(Grams(exact))
    }

    /// A figure of a field, or of nothing where it does not read.
    pub fn figure<F: Figure>(&self, name: &str) -> Option<F> {
        typed_in(self.value(name), F::QUANTITY, self.notation()).map(F::of)
    }

    /// The text of a field; empty when it is missing.
    pub fn value(&self, name: &str) -> &str {
        self.values.get(name).map_or("", String::as_str)
    }

    /// Whether a box is ticked.
    pub fn ticked(&self, name: &str) -> bool {
        !self.value(name).is_empty()
    }

    /// What is wrong with a field.
    pub fn fault(&self, name: &str) -> Option<&str> {
        self.faults.get(name).map(String::as_str)
    }

    /// All faults by field.
    pub fn faults(&self) -> &BTreeMap<String, String> {
        &self.faults
    }

    /// Faults that belong to no field on the page: no field of that name was filled or sent.
    pub fn general_faults(&self) -> Vec<&str> {
        self.faults
            .iter()
            .filter(|(name, _)| !self.values.contains_key(*name))
            .map(|(_, m)| m.as_str())
            .collect()
    }

    /// The revision that the page was read at; `None` where it does not say.
    pub fn revision(&self) -> Option<Revision> {
        self.value("revision").parse().ok().map(Revision)
    }

    /// The revision that a save of what the household has one of is over: the one that was read, or any where
    /// the baker said so.
    pub fn over(&self) -> Option<Revision> {
        (!self.ticked("over")).then(|| self.revision().unwrap_or(Revision::UNSAID))
    }

    /// All fields and their text.
    pub fn values(&self) -> &BTreeMap<String, String> {
        &self.values
    }

    /// Sets a field's text.
    pub fn set(&mut self, name: impl Into<String>, value: impl Into<String>) {
        self.values.insert(name.into(), value.into());
    }

    /// Forgets fields.
    pub fn forget(&mut self, which: impl Fn(&str) -> bool) {
        self.values.retain(|name, _| !which(name));
    }

    /// Marks what is wrong.
    pub fn mark(&mut self, faults: &Faults) {
        for f in &faults.0 {
            self.faults.entry(f.path.clone()).or_insert_with(|| f.message.clone());
        }
    }
}

/// What to say where a figure cannot be read.
fn not_a_number(of: Quantity) -> &'static str {
    match of {
        Quantity::Plain => "This is not a number. Use digits, such as 25, 25.5 or 1/2.",
        Quantity::Percent => "This is not a number. Use digits, such as 70 or 2.5 %.",
        Quantity::Grams => "This is not a weight. Use digits, such as 500, 1/2 kg or 8 oz.",
        Quantity::Celsius => "This is not a temperature. Use digits, such as 24 or 75 °F.",
        Quantity::Kelvin => "This is not a number of degrees. Use digits, such as 5 or 9 °F.",
        Quantity::Length => "This is not a length. Use digits, such as 23 or 9 in.",
        Quantity::Hours => "This is not a time. Use digits, such as 1.5, 1:30 or 90 min.",
        Quantity::Minutes => "This is not a time. Use digits, such as 45, 1:15 or 1 h 15.",
    }
}

/// Reads fields one by one and collects what is wrong with each.
pub struct Reader<'a> {
    pub(crate) form: &'a Form,
    faults: Vec<Fault>,
}

/// The field beside a weight's that carries it exactly.
pub fn exact_field(name: &str) -> String {
    format!("exact.{name}")
}

/// The field beside a weight's that carries what the page shows of it.
pub fn shown_field(name: &str) -> String {
    format!("shown.{name}")
}

/// Reads a number as people type it; `None` where it is none.
pub fn number(text: &str) -> Option<f64> {
    typed(text, Quantity::Plain)
}

impl<'a> Reader<'a> {
    /// Begins to read a form.
    pub fn new(form: &'a Form) -> Self {
        Reader { form, faults: Vec::new() }
    }

    /// Notes what is wrong with a field.
    pub fn fault(&mut self, code: &str, name: &str, message: &str) {
        self.faults.push(Fault::new(code, name, message));
    }

    /// The text of a field.
    pub fn text(&self, name: &str) -> String {
        self.form.value(name).trim().to_owned()
    }

    /// A weight that may be left out; exactly as it was where nobody changed it.
    pub fn weight(&mut self, name: &str) -> Option<Grams> {
        self.form.unchanged_weight(name).or_else(|| self.measure(name))
    }

    /// A number that must be there.
    pub fn number(&mut self, name: &str) -> f64 {
        self.figure_of(name)
    }

    /// A number that may be left out.
    pub fn optional(&mut self, name: &str) -> Option<f64> {
        self.measure(name)
    }

    /// A figure that must be there.
    pub fn figure_of<F: Figure>(&mut self, name: &str) -> F {
        self.measure(name).unwrap_or_else(|| {
            if self.form.value(name).trim().is_empty() {
                self.fault("missing", name, "Enter a number.");
            }
            F::of(0.0)
        })
    }

    /// A figure that may be left out, in the unit of its field or in another one of its kind.
    pub fn measure<F: Figure>(&mut self, name: &str) -> Option<F> {
        let text = self.form.value(name);
        if text.trim().is_empty() {
            return None;
        }
        let read = typed_in(text, F::QUANTITY, self.form.notation());
        if read.is_none() {
            self.fault("not-a-number", name, not_a_number(F::QUANTITY));
        }
        read.map(F::of)
    }

    /// A time of day that may be left out.
    pub fn time(&mut self, name: &str) -> Option<Time> {
        let text = self.text(name);
        if text.is_empty() {
            return None;
        }
        let read = time_of_day(&text);
        if read.is_none() {
            self.fault("malformed", name, "Give a time of day, such as 14:30 or 2:30 pm.");
        }
        read
    }

    /// A whole number that must be there.
    pub fn whole(&mut self, name: &str) -> u32 {
        let n = self.number(name);
        if n.fract() == 0.0 && (0.0..=1e6).contains(&n) {
            return n as u32;
        }
        self.fault("not-a-number", name, "Enter a whole number, such as 2.");
        1
    }

    /// One of a fixed set.
    pub fn choice<T>(&mut self, name: &str, from_key: impl Fn(&str) -> Option<T>, otherwise: T) -> T {
        from_key(self.form.value(name)).unwrap_or_else(|| {
            self.fault("unknown", name, "Choose one from the list.");
            otherwise
        })
    }

    /// `Ok(value)` when every field could be read.
    ///
    /// # Errors
    /// All faults.
    pub fn done<T>(self, value: T) -> Result<T, Faults> {
        if self.faults.is_empty() { Ok(value) } else { Err(Faults(self.faults)) }
    }
}

/// A difference of temperature in K.
#[derive(Clone, Copy)]
pub struct Kelvins(pub f64);

/// A length in cm.
#[derive(Clone, Copy)]
pub struct Cm(pub f64);

/// A number without trailing noughts, to the hundredth where it is one; in full where rounding it would change
/// it, so that a page that is sent back changes nothing.
pub fn plain(x: f64) -> String {
    let hundredths = format!("{x:.2}");
    if hundredths.parse() != Ok(x) {
        return x.to_string();
    }
    hundredths.trim_end_matches('0').trim_end_matches('.').to_owned()
}
