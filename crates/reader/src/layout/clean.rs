//! The text in plain lines: without marks of quoting, times of messages and captions, boxes to tick; columns one under
//! the other, and broken lines joined.

use super::grid::written_out;
use crate::name::Names;
use crate::quantity::begins_with_amount;

/// The share of lines with a mark from which all of them have it.
const MOST: f64 = 0.5;

/// From how many characters on a line may be one that was broken.
const LONG: usize = 38;

/// The text in plain lines.
pub(crate) fn clean(text: &str, names: &Names) -> String {
    let lines: Vec<String> = text.lines().map(unquoted).collect();
    let marked = |mark: &dyn Fn(&str) -> Option<usize>| {
        let full: Vec<&String> = lines.iter().filter(|l| !l.trim().is_empty()).collect();
        !full.is_empty()
            && full.iter().filter(|l| mark(l).is_some()).count() as f64 >= MOST * full.len() as f64
    };
    let captions = marked(&caption);
    let mut out: Vec<String> = Vec::new();
    for line in &lines {
        let mut line = line.as_str();
        if let Some(end) = message(line).or_else(|| caption(line).filter(|_| captions)) {
            line = line[end..].trim_start();
        }
        for part in columns(line) {
            out.push(part.trim_end().to_owned());
        }
    }
    written_out(joined(out), names).join("\n")
}

/// Without the marks of quoting.
fn unquoted(line: &str) -> String {
    line.trim_end()
        .trim_start_matches(|c: char| c == '>' || c == ' ' && line.trim_start().starts_with('>'))
        .to_owned()
}

/// Where a message begins behind its time and its sender: `[18:02] Mina: …`.
fn message(line: &str) -> Option<usize> {
    let inside = line.strip_prefix('[')?;
    let end = inside.find(']')?;
    let stamp = &inside[..end];
    let timed =
        stamp.contains(':') && stamp.chars().filter(char::is_ascii_digit).count() >= 3 && stamp.len() <= 24;
    timed.then_some(())?;
    let rest = &line[end + 2..];
    let name = rest.trim_start();
    let sender = name.find(':').filter(|i| {
        *i <= 16
            && *i > 0
            && name[..*i].split_whitespace().count() <= 2
            && name[..*i].chars().all(|c| c.is_alphabetic() || c == ' ' || c == '.')
    });
    Some(line.len() - name.len() + sender.map_or(0, |i| i + 1))
}

/// Where a caption begins behind its time: `0:07 500 g flour`.
fn caption(line: &str) -> Option<usize> {
    let (minutes, rest) = line.trim_start().split_once(':')?;
    let seconds = rest.get(..2)?;
    let fits = minutes.len() <= 2
        && minutes.parse::<u32>().is_ok_and(|m| m < 60)
        && seconds.parse::<u32>().is_ok_and(|s| s < 60)
        && rest[2..].starts_with(' ');
    fits.then(|| line.len() - rest.len() + 3)
}

/// The columns of a line, where several begin with an amount.
fn columns(line: &str) -> Vec<&str> {
    let whole = vec![line];
    if line.contains('\t') || line.contains('|') {
        return whole;
    }
    let mut parts = Vec::new();
    let mut from = 0;
    let bytes = line.as_bytes();
    let mut i = 0;
    while i < bytes.len() {
        if bytes[i] == b' ' {
            let run = bytes[i..].iter().take_while(|b| **b == b' ').count();
            if run >= 3 && i > from {
                parts.push(line[from..i].trim());
                from = i + run;
            }
            i += run;
        } else {
            i += 1;
        }
    }
    parts.push(line[from..].trim());
    parts.retain(|p| !p.is_empty());
    let amounts = parts.iter().filter(|p| begins_with_amount(p) && p.split_whitespace().count() >= 2).count();
    if parts.len() >= 2 && amounts == parts.len() { parts } else { whole }
}

/// Lines that were broken at a margin are joined: the first goes to the margin, and the next goes on in small letters.
fn joined(lines: Vec<String>) -> Vec<String> {
    let mut out: Vec<String> = Vec::new();
    let mut last = 0;
    for line in lines {
        let goes_on = out.last().is_some_and(|before: &String| {
            let small = line.trim_start().starts_with(|c: char| c.is_lowercase() || c == '&' || c == '(');
            let digits = line.trim_start().starts_with(|c: char| c.is_ascii_digit())
                && ["about", "for", "at", "to", "the", "and", "or", "another", "of", "with", "into", "than"]
                    .iter()
                    .any(|w| before.to_lowercase().ends_with(&format!(" {w}")));
            let open = !before.trim_end().ends_with(['.', ':', '!', '?']);
            last >= LONG
                && open
                && (small && !begins_with_amount(&line) || digits)
                && !line.trim_start().starts_with(['-', '*', '•'])
        });
        let long = line.chars().count();
        match out.last_mut().filter(|_| goes_on) {
            Some(before) => {
                if before.ends_with('-') && !before.ends_with(" -") {
                    before.pop();
                    before.push_str(line.trim_start());
                } else {
                    before.push(' ');
                    before.push_str(line.trim_start());
                }
            }
            None => out.push(line),
        }
        last = long;
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    #[rstest]
    #[case("[18:02] Mina: 300 plain flour", "300 plain flour")]
    #[case("> 500 g flour\n>> salt", "500 g flour\nsalt")]
    #[case("1 C. MILK            2 EGGS", "1 C. MILK\n2 EGGS")]
    #[case(
        "Mix all of it together well and leave it to\nrise for an hour.",
        "Mix all of it together well and leave it to rise for an hour."
    )]
    #[case("0:03 focaccia\n0:07 500 g flour", "focaccia\n500 g flour")]
    #[case("500 g flour\n10 g salt", "500 g flour\n10 g salt")]
    fn plain_lines(#[case] text: &str, #[case] plain: &str) {
        assert_eq!(clean(text, &Names::of(cerealis_core::pantry::Catalogue::bundled())), plain);
    }
}
