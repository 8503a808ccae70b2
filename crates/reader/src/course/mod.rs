//! The course of a method: its clauses as frames of an act with a time, and the stage that each is of, decided over
//! the whole text by costs.

mod around;
mod baking;
mod chain;
pub(crate) mod figures;
mod findings;
mod frames;
pub(crate) mod lexicon;
mod whole;

pub(crate) use whole::told_of_all;

use crate::finding::Finding;

/// Whether a line gives the yield and the times of the page: its steps say them again.
fn of_the_page(line: &str) -> bool {
    let lower = line.trim_start().to_lowercase();
    ["makes", "yield", "prep", "serves", "cook time", "total time", "hands-on", "difficulty", "servings"]
        .iter()
        .any(|w| lower.starts_with(w))
}

/// Words that a full stop cuts short.
const CUT_SHORT: [&str; 22] = [
    "min", "mins", "hr", "hrs", "h", "tsp", "tbsp", "tblsp", "approx", "oz", "lb", "lbs", "no", "temp",
    "deg", "degs", "in", "c", "t", "w", "ca", "vs",
];

/// A line in sentences: at a full stop, but for one that cuts a word short and goes on with no act.
fn sentences(line: &str) -> Vec<&str> {
    let mut out = Vec::new();
    let mut from = 0;
    for (i, c) in line.char_indices() {
        let after = &line[i + c.len_utf8()..];
        let ends = match c {
            ';' | '!' | '?' => true,
            '.' if after.is_empty() => true,
            '.' if after.starts_with([' ', '\t']) => {
                let word =
                    line[from..i].rsplit(|c: char| !c.is_alphabetic()).next().unwrap_or("").to_lowercase();
                let next = after.trim_start();
                let stems: Vec<String> =
                    lexicon::words_of(&next.to_lowercase()).take(4).map(lexicon::stem).collect();
                let stems: Vec<&str> = stems.iter().map(String::as_str).collect();
                let acts = lexicon::ENGLISH.act(&stems).is_some();
                let cut =
                    CUT_SHORT.contains(&word.as_str()) || word.is_empty() && line[from..i].trim().len() <= 2;
                !cut || acts || next.starts_with(char::is_uppercase)
            }
            _ => false,
        };
        if ends {
            out.push(line[from..i].trim());
            from = i + c.len_utf8();
        }
    }
    out.push(line[from..].trim());
    out.retain(|s| !s.is_empty());
    out
}

/// The times and temperatures of a method, given as its lines.
pub(crate) fn timed<'a>(lines: impl Iterator<Item = &'a str>) -> Vec<Finding> {
    let lines = lines.filter(|l| !of_the_page(l)).map(sentences);
    let all = frames::frames(lines, &lexicon::ENGLISH);
    let stands = chain::course(&all);
    if std::env::var_os("READER_TRACE").is_some() {
        for (f, s) in all.frames.iter().zip(&stands) {
            eprintln!(
                "{:?} {:?} {:?} {:.1} {:?} | {}",
                s.at,
                f.acts,
                f.time.map(|t| (t.minutes.low, t.minutes.high, t.tells)),
                s.margin,
                s.else_at,
                &all.sentences[f.sentence].text
            );
        }
        for h in &all.heats {
            eprintln!("{:?} {:?} {}", h.celsius, h.act, h.frames);
        }
    }
    findings::findings(&all, &stands)
}
