//! Numbers in words.

use winnow::Result;
use winnow::ascii::space1;
use winnow::combinator::preceded;
use winnow::prelude::*;

use super::{word, word_end};

/// The value of a number word below twenty, of a ten, or of a multiplier.
#[derive(Clone, Copy)]
enum NumberWord {
    Small(f64),
    Ten(f64),
    Hundred,
    Thousand,
    Dozen,
    /// A part of one: a half, a third.
    Part(f64),
    /// `a`, `an`.
    An,
    And,
}

fn number_word(word: &str) -> Option<NumberWord> {
    use NumberWord::*;
    const SMALL: [&str; 20] = [
        "nought",
        "one",
        "two",
        "three",
        "four",
        "five",
        "six",
        "seven",
        "eight",
        "nine",
        "ten",
        "eleven",
        "twelve",
        "thirteen",
        "fourteen",
        "fifteen",
        "sixteen",
        "seventeen",
        "eighteen",
        "nineteen",
    ];
    const TENS: [&str; 8] = ["twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety"];
    if let Some(n) = SMALL.iter().position(|w| *w == word) {
        return (n > 0).then_some(Small(n as f64));
    }
    if let Some(n) = TENS.iter().position(|w| *w == word) {
        return Some(Ten(20.0 + 10.0 * n as f64));
    }
    Some(match word {
        "fourty" => Ten(40.0),
        "hundred" => Hundred,
        "thousand" => Thousand,
        "dozen" => Dozen,
        "half" | "halves" => Part(0.5),
        "third" | "thirds" => Part(1.0 / 3.0),
        "quarter" | "quarters" => Part(0.25),
        "fifth" | "fifths" => Part(0.2),
        "sixth" | "sixths" => Part(1.0 / 6.0),
        "eighth" | "eighths" => Part(0.125),
        "a" | "an" => An,
        "and" => And,
        _ => return None,
    })
}

/// The next word with what is behind it; a hyphen parts words of a number as a space does.
fn next_word(text: &str) -> Option<(String, &str)> {
    let text = text.trim_start_matches([' ', '-', '\u{2010}', '\u{2011}']);
    let end = text.find(|c: char| !c.is_ascii_alphabetic()).unwrap_or(text.len());
    (end > 0).then(|| (text[..end].to_ascii_lowercase(), &text[end..]))
}

/// Any number in words: `three and three quarter`, `two hundred and twenty`, `twenty-five`, `one-half`,
/// `half a`, `a`.
pub(crate) fn spoken(input: &mut &str) -> Result<f64> {
    use NumberWord::*;
    let mut rest = *input;
    // What is read so far and can stand by itself, with what is left then.
    let mut done: Option<(f64, &str)> = None;
    let (mut thousands, mut whole, mut now) = (0.0, 0.0, None::<f64>);
    fn ahead(text: &str) -> Option<(NumberWord, &str)> {
        next_word(text).and_then(|(w, r)| Some((number_word(&w)?, r)))
    }
    let part_follows = |text: &str| matches!(ahead(text), Some((Part(_), _)));
    while let Some((word, after)) = ahead(rest) {
        match (word, now) {
            (Part(part), _) => {
                let mut left = after;
                // “half a”, “half of a”, “a quarter of an”.
                for skipped in ["of", "a", "an"] {
                    if let Some((w, r)) = next_word(left)
                        && w == skipped
                        && left.starts_with(' ')
                    {
                        left = r;
                    }
                }
                // “half a dozen”
                let of = match ahead(left) {
                    Some((Dozen, r)) => (12.0, r),
                    Some((Hundred, r)) => (100.0, r),
                    Some((Thousand, r)) => (1000.0, r),
                    _ => (1.0, left),
                };
                done = Some((thousands + whole + now.unwrap_or(1.0) * part * of.0, of.1));
                break;
            }
            (An, None) if done.is_none() => match ahead(after) {
                Some((Hundred | Thousand | Dozen | Part(_), _)) => {
                    rest = after;
                    continue;
                }
                _ => {
                    done = Some((1.0, after));
                    break;
                }
            },
            (An, Some(_)) if part_follows(after) => (whole, now) = (whole + now.unwrap_or(0.0), None),
            (An, _) => break,
            (And, Some(_)) => match ahead(after) {
                Some((Small(_) | Ten(_) | Part(_) | An, _)) => {
                    // A further number is part of this one only where it can be added to it.
                    rest = after;
                    if part_follows(after) {
                        (whole, now) = (whole + now.unwrap_or(0.0), None);
                    }
                    continue;
                }
                _ => break,
            },
            (And, None) => break,
            (Small(n) | Ten(n), None) => now = Some(n),
            (Small(n), Some(c)) if n < 10.0 && c % 100.0 >= 20.0 && c % 10.0 == 0.0 => now = Some(c + n),
            (Small(n) | Ten(n), Some(c)) if c >= 100.0 && c % 100.0 == 0.0 => now = Some(c + n),
            (Small(n), Some(c)) if part_follows(after) => {
                whole += c;
                now = Some(n);
                rest = after;
                continue;
            }
            (Small(_) | Ten(_), _) => break,
            (Hundred, n) => now = Some(n.unwrap_or(1.0) * 100.0),
            (Dozen, n) => now = Some(n.unwrap_or(1.0) * 12.0),
            (Thousand, n) => {
                thousands += n.unwrap_or(1.0) * 1000.0;
                now = Some(0.0);
            }
        }
        rest = after;
        done = Some((thousands + whole + now.unwrap_or(0.0), after));
    }
    if done.is_none() {
        done = next_word(input).filter(|(w, _)| w == "nought" || w == "zero").map(|(_, r)| (0.0, r));
        if done.is_none_or(|(_, r)| pointed(r).is_none()) {
            return Err(winnow::error::ContextError::new());
        }
    }
    let (mut value, mut left) = done.ok_or_else(winnow::error::ContextError::new)?;
    if let Some((part, after)) = pointed(left) {
        (value, left) = (value + part, after);
    }
    *input = left;
    word_end(input)?;
    Ok(value)
}

/// `point two five`: the decimals of a number in words.
fn pointed(text: &str) -> Option<(f64, &str)> {
    let (_, mut rest) = next_word(text).filter(|(w, _)| w == "point")?;
    let (mut part, mut place) = (0.0, 1.0);
    while let Some((word, after)) = next_word(rest) {
        let digit = match number_word(&word) {
            Some(NumberWord::Small(n)) if n < 10.0 => n,
            _ if word == "nought" || word == "zero" => 0.0,
            _ => break,
        };
        place /= 10.0;
        part += digit * place;
        rest = after;
    }
    (place < 1.0).then_some((part, rest))
}

/// A part of one behind a unit: a cup `and a half`, `and a quarter`.
pub(crate) fn and_a_part(input: &mut &str) -> Result<f64> {
    let mut rest = preceded((space1, word("and"), space1), winnow::token::rest).parse_peek(*input)?.1;
    let part = spoken(&mut rest)?;
    if part >= 1.0 {
        return Err(winnow::error::ContextError::new());
    }
    *input = rest;
    Ok(part)
}
