//! Quantities and units as people write or say them.

use schemars::JsonSchema;
use serde::Serialize;
use winnow::Result;
use winnow::ascii::{digit1, space0, space1};
use winnow::combinator::{alt, opt, preceded, repeat, terminated};
use winnow::prelude::*;
use winnow::token::{one_of, take_while};

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

/// A unit of the kitchen.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Unit {
    /// Milligram.
    Milligram,
    /// Gram.
    Gram,
    /// Kilogram.
    Kilogram,
    /// Ounce, 28.35 g.
    Ounce,
    /// Pound, 453.6 g.
    Pound,
    /// Millilitre.
    Millilitre,
    /// Centilitre.
    Centilitre,
    /// Decilitre.
    Decilitre,
    /// Litre.
    Litre,
    /// US fluid ounce, 29.57 ml.
    FluidOunce,
    /// Cup, by setting.
    Cup,
    /// Tablespoon, by setting.
    Tablespoon,
    /// Teaspoon, a third of a US tablespoon.
    Teaspoon,
    /// US pint, two cups.
    Pint,
    /// US quart, four cups.
    Quart,
    /// Stick of butter.
    Stick,
    /// Packet, sachet or envelope.
    Packet,
    /// Cube of fresh yeast.
    Cube,
    /// Large egg; eggs by size.
    Large,
    /// Medium egg.
    Medium,
    /// Small egg.
    Small,
    /// Extra large egg.
    ExtraLarge,
    /// Clove.
    Clove,
    /// Slice or piece.
    Piece,
    /// Handful.
    Handful,
    /// Pinch.
    Pinch,
}

/// How full a spoon or cup is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Level {
    /// Heaping, rounded, generous.
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

/// Reads the amount at the beginning of a line and leaves the rest.
pub(super) fn amount(input: &mut &str) -> Result<Amount> {
    let whole = *input;
    let vague = opt(terminated(about, space0)).parse_next(input)?.is_some();
    let before = opt(terminated(level, space1)).parse_next(input)?;
    let (count, unsure) = alt((few, counted)).parse_next(input)?;
    let hyphen = opt(preceded(space0, '-')).parse_next(input)?;
    let _ = space0.parse_next(input)?;
    let between = opt(terminated(level, space1)).parse_next(input)?;
    let unit = opt(unit).parse_next(input)?;
    if unit.is_none() && hyphen.is_some() {
        return Err(winnow::error::ContextError::new());
    }
    let comma = whole[..whole.len() - input.len()].contains(',');
    let count = if comma && unit.is_some_and(is_large) { without_thousands(count) } else { count };
    // “a cup and a half”: the half is of the same unit.
    let half = if unit.is_some() { opt(and_a_part).parse_next(input)?.unwrap_or(0.0) } else { 0.0 };
    let count = Count { low: count.low + half, high: count.high + half };
    Ok(Amount { count, unit, level: before.or(between), vague: vague || unsure })
}

/// Units that nobody measures a thousand of at home: their comma is a decimal one.
fn is_large(unit: Unit) -> bool {
    use Unit::*;
    matches!(unit, Kilogram | Pound | Litre | Cup | Pint | Quart | Tablespoon | Teaspoon | Decilitre)
}

fn without_thousands(count: Count) -> Count {
    let less = |x: f64| if x >= 1000.0 { x / 1000.0 } else { x };
    Count { low: less(count.low), high: less(count.high) }
}

/// Reads a further amount: `plus 1 tablespoon`, `+ 2 tbsp`, `and 1 tsp`.
pub(super) fn further(input: &mut &str) -> Result<Amount> {
    preceded((space0, alt(("plus", "+", "and", "&")), space0), amount)
        .verify(|a: &Amount| a.unit.is_some())
        .parse_next(input)
}

/// Reads the end of a word: what follows is no letter.
fn word_end(input: &mut &str) -> Result<()> {
    match input.chars().next() {
        Some(c) if c.is_alphabetic() => Err(winnow::error::ContextError::new()),
        _ => Ok(()),
    }
}

fn word<'a>(text: &'static str) -> impl Parser<&'a str, &'a str, winnow::error::ContextError> {
    terminated(winnow::ascii::Caseless(text), word_end)
}

fn about(input: &mut &str) -> Result<()> {
    alt((
        word("about"),
        word("approximately"),
        word("approx."),
        word("approx"),
        word("around"),
        word("ca."),
        word("roughly"),
        "~",
    ))
    .void()
    .parse_next(input)
}

fn level(input: &mut &str) -> Result<Level> {
    alt((
        alt((word("heaping"), word("heaped"), word("rounded"), word("generous"))).value(Level::Heaping),
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

pub(super) fn counted(input: &mut &str) -> Result<(Count, bool)> {
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
    one_of(['½', '⅓', '⅔', '¼', '¾', '⅕', '⅖', '⅗', '⅘', '⅙', '⅚', '⅛', '⅜', '⅝', '⅞'])
        .map(|c| match c {
            '½' => 0.5,
            '⅓' => 1.0 / 3.0,
            '⅔' => 2.0 / 3.0,
            '¼' => 0.25,
            '¾' => 0.75,
            '⅕' => 0.2,
            '⅖' => 0.4,
            '⅗' => 0.6,
            '⅘' => 0.8,
            '⅙' => 1.0 / 6.0,
            '⅚' => 5.0 / 6.0,
            '⅛' => 0.125,
            '⅜' => 0.375,
            '⅝' => 0.625,
            _ => 0.875,
        })
        .parse_next(input)
}

/// `3.5`, `3,5`; a comma before exactly three figures parts thousands.
fn decimal(input: &mut &str) -> Result<f64> {
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

/// Numbers in words, with a part: `three and three quarter`, `one and a half`, `half a`, `a`.
fn spoken(input: &mut &str) -> Result<f64> {
    alt((
        terminated(part, opt((space1, word("of"), opt((space1, alt((word("an"), word("a")))))))),
        (whole_word, opt(and_a_part)).map(|(w, p)| w + p.unwrap_or(0.0)),
    ))
    .parse_next(input)
}

fn whole_word(input: &mut &str) -> Result<f64> {
    if opt(word("a dozen")).parse_next(input)?.is_some() {
        return Ok(12.0);
    }
    const WORDS: [(&str, f64); 14] = [
        ("a", 1.0),
        ("an", 1.0),
        ("one", 1.0),
        ("two", 2.0),
        ("three", 3.0),
        ("four", 4.0),
        ("five", 5.0),
        ("six", 6.0),
        ("seven", 7.0),
        ("eight", 8.0),
        ("nine", 9.0),
        ("ten", 10.0),
        ("twelve", 12.0),
        ("dozen", 12.0),
    ];
    let said: &str = take_while(1..=6, |c: char| c.is_ascii_alphabetic()).parse_next(input)?;
    word_end(input)?;
    WORDS
        .iter()
        .find(|(w, _)| w.eq_ignore_ascii_case(said))
        .map(|(_, n)| *n)
        .ok_or_else(winnow::error::ContextError::new)
}

fn and_a_part(input: &mut &str) -> Result<f64> {
    preceded((space1, word("and"), space1), part).parse_next(input)
}

/// A part of one in words: `a half`, `half a`, `three quarters`, `a third`.
fn part(input: &mut &str) -> Result<f64> {
    alt((
        (alt((word("half a"), word("half an"), word("a half"), word("one half"), word("half")))).value(0.5),
        (
            opt((alt((word("a"), word("one"))), space1)),
            word("quarter"),
            opt((space1, alt((word("an"), word("a"))))),
        )
            .value(0.25),
        (
            word("three"),
            alt((space1, "-")),
            alt((word("quarters"), word("quarter"))),
            opt((space1, alt((word("an"), word("a"))))),
        )
            .value(0.75),
        (
            word("two"),
            alt((space1, "-")),
            alt((word("thirds"), word("third"))),
            opt((space1, alt((word("an"), word("a"))))),
        )
            .value(2.0 / 3.0),
        (
            opt((alt((word("a"), word("one"))), space1)),
            word("third"),
            opt((space1, alt((word("an"), word("a"))))),
        )
            .value(1.0 / 3.0),
    ))
    .parse_next(input)
}

/// Reads a unit, with or without a full stop, plural, whatever its case; `T` and `t` differ.
fn unit(input: &mut &str) -> Result<Unit> {
    let letters: &str = take_while(1.., |c: char| c.is_alphabetic()).parse_next(input)?;
    let found = match letters {
        "T" | "Tb" | "TB" => Some(Unit::Tablespoon),
        "t" => Some(Unit::Teaspoon),
        _ => by_word(&letters.to_lowercase(), input),
    };
    let Some(found) = found else { return Err(winnow::error::ContextError::new()) };
    repeat::<_, _, (), _, _>(0..=1, '.').parse_next(input)?;
    Ok(found)
}

fn by_word(word: &str, rest: &mut &str) -> Option<Unit> {
    Some(match word {
        "mg" | "milligram" | "milligrams" => Unit::Milligram,
        "g" | "gr" | "gram" | "grams" | "gramme" | "grammes" => Unit::Gram,
        "kg" | "kilo" | "kilos" | "kilogram" | "kilograms" => Unit::Kilogram,
        "oz" | "ounce" | "ounces" => Unit::Ounce,
        "lb" | "lbs" | "pound" | "pounds" => Unit::Pound,
        "ml" | "millilitre" | "millilitres" | "milliliter" | "milliliters" => Unit::Millilitre,
        "cl" | "centilitre" | "centilitres" => Unit::Centilitre,
        "dl" | "decilitre" | "decilitres" | "deciliter" | "deciliters" => Unit::Decilitre,
        "l" | "litre" | "litres" | "liter" | "liters" => Unit::Litre,
        "cup" | "cups" | "c" => Unit::Cup,
        "tbsp" | "tbsps" | "tbs" | "tbl" | "tablespoon" | "tablespoons" | "tablespoonful" => Unit::Tablespoon,
        "tsp" | "tsps" | "teaspoon" | "teaspoons" | "teaspoonful" => Unit::Teaspoon,
        "pint" | "pints" | "pt" => Unit::Pint,
        "quart" | "quarts" | "qt" => Unit::Quart,
        "stick" | "sticks" => Unit::Stick,
        "packet" | "packets" | "package" | "packages" | "pkg" | "sachet" | "sachets" | "envelope"
        | "envelopes" => Unit::Packet,
        "cube" | "cubes" => Unit::Cube,
        "large" => Unit::Large,
        "medium" => Unit::Medium,
        "small" => Unit::Small,
        "clove" | "cloves" => Unit::Clove,
        "piece" | "pieces" | "slice" | "slices" => Unit::Piece,
        "handful" | "handfuls" => Unit::Handful,
        "pinch" | "pinches" | "dash" | "dashes" => Unit::Pinch,
        "fl" | "fluid" => {
            let tail = rest.trim_start_matches(['.', ' ']);
            let left = ["ounces", "ounce", "oz"].iter().find_map(|o| tail.strip_prefix(o))?;
            *rest = left;
            Unit::FluidOunce
        }
        "extra" => {
            *rest = rest.trim_start_matches(['-', ' ']).strip_prefix("large")?;
            Unit::ExtraLarge
        }
        _ => return None,
    })
}
