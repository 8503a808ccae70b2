//! The reader of methods against methods in wording of our own, each with the facts that it states (common
//! practice, no source). `made_with.txt` and `apart.txt` were written before the reader was; the second was not
//! looked at while it was made, and is counted.

use cerealis_core::reader::{Finding, read_method};

struct Case {
    name: String,
    text: String,
    facts: Vec<Fact>,
}

#[derive(Debug)]
struct Fact {
    what: String,
    low: Option<f64>,
    high: Option<f64>,
    key: String,
}

fn fact(text: &str) -> Fact {
    let mut words = text.split_whitespace();
    let what = words.next().unwrap().to_owned();
    let (mut low, mut high, mut key) = (None, None, String::new());
    for word in words {
        let range = word.split_once('-').unwrap_or((word, word));
        match (range.0.parse(), range.1.parse()) {
            (Ok(a), Ok(b)) => (low, high) = (Some(a), Some(b)),
            _ => key = word.to_owned(),
        }
    }
    Fact { what, low, high, key }
}

fn cases(text: &str) -> Vec<Case> {
    text.split("\n## ")
        .skip(1)
        .map(|block| {
            let (name, rest) = block.split_once('\n').unwrap();
            let (text, facts) = rest.split_once("\n=> ").unwrap_or_else(|| panic!("no facts in {name}"));
            let facts = facts.lines().next().unwrap().split(" ; ").map(fact).collect();
            Case { name: name.into(), text: text.trim().into(), facts }
        })
        .collect()
}

fn meets(f: &Finding, fact: &Fact) -> bool {
    // A bath is said in seconds.
    let scale = if fact.what == "bath" { 60.0 } else { 1.0 };
    let near = |a: f64, b: Option<f64>| b.is_none_or(|b| (scale * a - b).abs() <= 0.01 * b.abs() + 0.05);
    f.found.key() == fact.what
        && near(f.low, fact.low)
        && near(f.high, fact.high)
        && (fact.key.is_empty() || f.key == fact.key)
}

/// Facts that are right, facts that are missing, and findings that are wrong without a doubt.
fn counted(text: &str) -> (usize, usize, Vec<String>) {
    let (mut right, mut all, mut wrong) = (0, 0, Vec::new());
    for case in cases(text) {
        let found = read_method(&case.text);
        for fact in &case.facts {
            all += 1;
            if found.iter().any(|f| meets(f, fact)) {
                right += 1;
            } else if std::env::var_os("METHODS_COUNT").is_none() {
                let got: Vec<String> =
                    found.iter().filter(|f| f.found.key() == fact.what).map(Finding::figure).collect();
                println!("{}: {fact:?} is {got:?}", case.name);
            }
        }
        for f in found.iter().filter(|f| f.doubt().is_none()) {
            if !case.facts.iter().any(|fact| meets(f, fact)) {
                wrong.push(format!("{}: {} {} from “{}”", case.name, f.found.key(), f.figure(), f.text));
            }
        }
    }
    if std::env::var_os("METHODS_COUNT").is_none() {
        wrong.iter().for_each(|w| println!("wrong: {w}"));
    }
    println!("{right} of {all} facts right, {} wrong without a doubt", wrong.len());
    (right, all, wrong)
}

#[test]
fn the_methods_that_the_reader_was_made_with() {
    let (right, all, wrong) = counted(include_str!("methods/made_with.txt"));
    assert!(right as f64 >= 0.95 * all as f64);
    assert!(wrong.is_empty());
}

#[test]
fn the_methods_that_were_kept_apart() {
    let (right, all, _) = counted(include_str!("methods/apart.txt"));
    assert!(right as f64 >= 0.9 * all as f64);
}
