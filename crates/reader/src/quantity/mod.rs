//! Quantities and units as people write or say them.

mod spoken;
mod unit;

pub(crate) use spoken::and_a_part;
pub use unit::Unit;

use schemars::JsonSchema;
use serde::Serialize;
use winnow::Result;
use winnow::ascii::{digit1, space0, space1};
use winnow::combinator::{alt, opt, peek, preceded, terminated};
use winnow::prelude::*;
use winnow::token::{any, one_of, take_while};

use self::spoken::spoken;
use self::unit::unit;
use cerealis_core::units::vulgar_fraction;

/// How many, as a range whose ends are alike when one figure was given.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Count {
    /// The lower end.
    pub low: f64,
    /// The upper end.
    pub high: f64,
}

impl Count {
    fn one(x: f64) -> Self {
        Count { low: x, high: x }
    }
}

/// How full a spoon or cup is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Level {
    /// Heaping, rounded, generous, good.
    Heaping,
    /// Scant.
    Scant,
    /// Level, said so.
    Level,
}

/// A quantity with its unit, as far as they were given.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Amount {
    /// How many.
    pub count: Count,
    /// Of what; `None` for things that are counted, such as eggs.
    pub unit: Option<Unit>,
    /// How full.
    pub level: Option<Level>,
    /// Whether it was said to be “about” so much, or “a few”.
    pub vague: bool,
}

/// Whether a text begins with an amount.
pub(crate) fn begins_with_amount(text: &str) -> bool {
    amount.parse_peek(text).is_ok()
}

/// Whether a text begins with a measure and no figure: “pinch of sugar”, “good knob of butter”, “teaspoon of salt”.
pub(crate) fn begins_with_measure(text: &str) -> bool {
    let measure = (opt((level, space1)), unit, space1, word("of"), space1);
    measure.void().parse_peek(text).is_ok_and(|(rest, ())| !rest.is_empty())
}

/// What stands behind the amount that a text begins with; all of it where it begins with none.
pub(crate) fn after_amount(text: &str) -> &str {
    let mut rest = text;
    match amount.parse_next(&mut rest) {
        Ok(_) => rest,
        Err(_) => text,
    }
}

/// Reads the amount at the beginning of a line and leaves the rest.
pub(crate) fn amount(input: &mut &str) -> Result<Amount> {
    let whole = *input;
    let vague = opt(terminated(about, space0)).parse_next(input)?.is_some();
    let before = opt(terminated(level, space1)).parse_next(input)?;
    let (count, unsure) = alt((few, between, counted)).parse_next(input)?;
    // A percentage is no amount.
    if input.trim_start().starts_with('%') {
        return Err(winnow::error::ContextError::new());
    }
    let count = match opt(times).parse_next(input)? {
        Some(each) => Count { low: count.low * each, high: count.high * each },
        None => count,
    };
    let _ = opt((space1, alt((word("more"), word("further"), word("additional"))))).parse_next(input)?;
    let hyphen = opt(preceded(space0, '-')).parse_next(input)?;
    let _ = space0.parse_next(input)?;
    let between = opt(terminated(level, space1)).parse_next(input)?;
    let unit = opt(unit).parse_next(input)?;
    if unit.is_none() && hyphen.is_some() {
        return Err(winnow::error::ContextError::new());
    }
    let said = &whole[..whole.len() - input.len()];
    let count =
        if said.contains(',') && unit.is_some_and(is_large) { without_thousands(count) } else { count };
    // “1.000 g” is a thousand where a stop parts them.
    let count = if has_stopped_thousands(said) && matches!(unit, Some(Unit::Gram | Unit::Millilitre)) {
        Count { low: count.low * 1000.0, high: count.high * 1000.0 }
    } else {
        count
    };
    // “a cup and a half”: the half is of the same unit.
    let half = if unit.is_some() { opt(and_a_part).parse_next(input)?.unwrap_or(0.0) } else { 0.0 };
    let count = Count { low: count.low + half, high: count.high + half };
    Ok(Amount { count, unit, level: before.or(between), vague: vague || unsure })
}

/// `3 x 8 g`: so many of each; the figure of each is left to be read with its unit.
pub(crate) fn times(input: &mut &str) -> Result<f64> {
    let before = *input;
    (space0, alt(("x", "×", "X", "*")), space0).parse_next(input)?;
    match number(input) {
        Ok(each) => Ok(each),
        Err(e) => {
            *input = before;
            Err(e)
        }
    }
}

/// One to three figures that do not begin with nought, a stop, and exactly three figures.
fn has_stopped_thousands(said: &str) -> bool {
    let Some((before, after)) = said.split_once('.') else { return false };
    let start = before.rfind(|c: char| !c.is_ascii_digit()).map_or(0, |i| i + 1);
    let whole = &before[start..];
    (1..=3).contains(&whole.len())
        && !whole.starts_with('0')
        && after.chars().take_while(char::is_ascii_digit).count() == 3
}

/// `between 300 and 320`, `up to 50`.
fn between(input: &mut &str) -> Result<(Count, bool)> {
    alt((
        (word("between"), space1, number, space1, word("and"), space1, number)
            .map(|(_, _, low, _, _, _, high)| (Count { low: low.min(high), high: high.max(low) }, false)),
        (word("up"), space1, word("to"), space1, number).map(|(.., n)| (Count::one(n), true)),
    ))
    .parse_next(input)
}

/// Units that nobody measures a thousand of at home: their comma is a decimal one.
fn is_large(unit: Unit) -> bool {
    use self::unit::Unit::*;
    matches!(unit, Kilogram | Pound | Litre | Cup | Pint | Quart | Tablespoon | Teaspoon | Decilitre)
}

fn without_thousands(count: Count) -> Count {
    let less = |x: f64| if x >= 1000.0 { x / 1000.0 } else { x };
    Count { low: less(count.low), high: less(count.high) }
}

/// Reads a further amount: `plus 1 tablespoon`, `+ 2 tbsp`, `and 1 tsp`.
pub(crate) fn further(input: &mut &str) -> Result<Amount> {
    preceded((space0, alt(("plus", "+", "and", "&")), space0), amount)
        .verify(|a: &Amount| a.unit.is_some())
        .parse_next(input)
}

/// Reads an amount in a smaller unit of the same kind right behind another: `2 lb 3 oz`, `1 l 200 ml`.
pub(crate) fn smaller(than: Unit) -> impl FnMut(&mut &str) -> Result<Amount> {
    move |input: &mut &str| {
        let parts = |u: Unit| match than {
            Unit::Pound => u == Unit::Ounce,
            Unit::Kilogram => matches!(u, Unit::Gram),
            Unit::Litre => matches!(u, Unit::Millilitre | Unit::Decilitre | Unit::Centilitre),
            Unit::Pint | Unit::Quart => u == Unit::FluidOunce,
            Unit::Cup => matches!(u, Unit::Tablespoon | Unit::Teaspoon),
            Unit::Tablespoon => u == Unit::Teaspoon,
            _ => false,
        };
        preceded((space0, opt(','), space0), amount)
            .verify(|a: &Amount| a.unit.is_some_and(parts))
            .parse_next(input)
    }
}

/// Reads the end of a word: what follows is no letter.
pub(crate) fn word_end(input: &mut &str) -> Result<()> {
    match input.chars().next() {
        Some(c) if c.is_alphabetic() => Err(winnow::error::ContextError::new()),
        _ => Ok(()),
    }
}

pub(crate) fn word<'a>(text: &'static str) -> impl Parser<&'a str, &'a str, winnow::error::ContextError> {
    terminated(winnow::ascii::Caseless(text), word_end)
}

/// `about`, `just over`, `a little less than`: near the figure.
fn about(input: &mut &str) -> Result<()> {
    let nearly = alt((
        alt((
            word("about"),
            word("approximately"),
            word("approx."),
            word("approx"),
            word("around"),
            word("ca."),
        )),
        alt((
            word("roughly"),
            word("maybe"),
            word("perhaps"),
            word("nearly"),
            word("almost"),
            word("at least"),
        )),
        (word("a good"), peek((space1, number))).map(|_| "a good"),
        "~",
    ));
    let somewhat = alt((
        (alt((word("a little"), word("a bit"), word("a touch"), word("slightly"), word("just"))), space1)
            .void(),
        ().void(),
    ));
    let beside = alt((word("more than"), word("less than"), word("over"), word("under"), word("short of")));
    alt((nearly.void(), (somewhat, beside).void())).parse_next(input)
}

fn level(input: &mut &str) -> Result<Level> {
    alt((
        alt((word("heaping"), word("heaped"), word("rounded"), word("generous"), word("good")))
            .value(Level::Heaping),
        alt((word("scant"), word("scanty"))).value(Level::Scant),
        word("level").value(Level::Level),
    ))
    .parse_next(input)
}

/// `a few`, `some`: two to four.
fn few(input: &mut &str) -> Result<(Count, bool)> {
    alt((
        alt((word("a few"), word("some"), word("several"))).value((Count { low: 2.0, high: 4.0 }, true)),
        word("a couple of").value((Count::one(2.0), true)),
        word("a couple").value((Count::one(2.0), true)),
    ))
    .parse_next(input)
}

pub(crate) fn counted(input: &mut &str) -> Result<(Count, bool)> {
    let low = number(input)?;
    let to = (
        space0,
        alt(("-".void(), "–".void(), "—".void(), (word("to"), space1).void(), (word("or"), space1).void())),
        space0,
    );
    let high = opt(preceded(to, number)).parse_next(input)?;
    let high = high.filter(|h| *h > low);
    Ok((Count { low, high: high.unwrap_or(low) }, false))
}

/// One figure: `3`, `3.5`, `3,5`, `1/2`, `½`, `2 1/4`, `2¼`, `three and three quarter`, `half a`.
fn number(input: &mut &str) -> Result<f64> {
    alt((figures, spoken)).parse_next(input)
}

fn figures(input: &mut &str) -> Result<f64> {
    alt((mixed, fraction, glyph, decimal)).parse_next(input)
}

/// A whole number with a fraction after it.
fn mixed(input: &mut &str) -> Result<f64> {
    let whole = digits(input)?;
    let part = alt((
        preceded((space0, opt("and"), space0), glyph),
        preceded((space1, opt(("and", space1))), fraction),
        // “1-1/2” is one and a half.
        preceded('-', fraction.verify(|part: &f64| *part < 1.0)),
    ))
    .parse_next(input)?;
    Ok(whole + part)
}

fn digits(input: &mut &str) -> Result<f64> {
    digit1.verify(|d: &str| d.len() <= 7).parse_to::<f64>().parse_next(input)
}

fn fraction(input: &mut &str) -> Result<f64> {
    let (top, _, bottom) = (digits, (space0, one_of(['/', '\u{2044}']), space0), digits).parse_next(input)?;
    if bottom == 0.0 { Err(winnow::error::ContextError::new()) } else { Ok(top / bottom) }
}

fn glyph(input: &mut &str) -> Result<f64> {
    any.verify_map(vulgar_fraction).parse_next(input)
}

/// `3.5`, `3,5`; a comma before exactly three figures parts thousands.
fn decimal(input: &mut &str) -> Result<f64> {
    if input.starts_with('.') && input[1..].starts_with(|c: char| c.is_ascii_digit()) {
        let part: &str = preceded('.', take_while(1..=6, |c: char| c.is_ascii_digit())).parse_next(input)?;
        return Ok(part.parse::<f64>().unwrap_or(0.0) / 10f64.powi(part.len() as i32));
    }
    let whole = digits(input)?;
    let thousands: Option<&str> =
        opt(preceded(',', digit1.verify(|d: &str| d.len() == 3))).parse_next(input)?;
    if let Some(rest) = thousands.filter(|_| (1.0..1000.0).contains(&whole)) {
        return Ok(1000.0 * whole + rest.parse::<f64>().unwrap_or(0.0));
    } else if let Some(rest) = thousands {
        return Ok(whole + rest.parse::<f64>().unwrap_or(0.0) / 1000.0);
    }
    let rest: Option<&str> =
        opt(preceded(one_of(['.', ',']), take_while(1..=6, |c: char| c.is_ascii_digit())))
            .parse_next(input)?;
    let part = rest.map_or(0.0, |r| r.parse::<f64>().unwrap_or(0.0) / 10f64.powi(r.len() as i32));
    Ok(whole + part)
}
