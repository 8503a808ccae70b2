//! The reader of methods against methods in wording of our own, each with the facts that it states (common
//! practice, no source). `made_with.txt` and `apart.txt` were written before the reader was; `apart.txt` was counted
//! before it was looked at: 94 of 97 facts right, one wrong without a doubt. `apart2.txt` was written after it and
//! read once: 65 of 77 and five; `apart3.txt` was written before the reader was widened for it (172 of 198, about a
//! dozen of which it had no name for, and eleven wrong); `apart4.txt` 117 of 133 and eight, `apart5.txt` 85 of 88 and
//! one, `apart6.txt` 70 of 71 and none, each read once. From the seventh on they are in other people's ways of
//! speaking, down to notes by the clock; each was read once before it was looked at, and then mended by cause: 74 of
//! 106, 76 of 104, 78 of 102, 83 of 98, 83 of 109, 76 of 91, 69 of 91, 72 of 85, 88 of 101 (of what was wrong without
//! a doubt, 25, 19, 12, 9, 7, 13, 8, 11 and 7, a third was right and missing in the key), and last 94 of 100 and two.

use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::{Catalogue, Measures};
use cerealis_core::stations;
use cerealis_core::words::Style;
use cerealis_reader::{Fact as Proposed, Finding, ReadInput, read, read_method};
use rstest::rstest;

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
        let range = word.split_once('-').filter(|(low, _)| !low.is_empty()).unwrap_or((word, word));
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

/// Whatever a method says, the formula that is proposed of it reads at all six stations, and its day holds what
/// was said of its pieces, its oven and its rises.
#[test]
fn every_method_makes_a_plan() {
    let both = [
        include_str!("methods/made_with.txt"),
        include_str!("methods/apart.txt"),
        include_str!("methods/apart2.txt"),
        include_str!("methods/apart3.txt"),
        include_str!("methods/apart4.txt"),
        include_str!("methods/apart5.txt"),
        include_str!("methods/apart6.txt"),
        include_str!("methods/apart7.txt"),
    ];
    for case in both.into_iter().flat_map(cases) {
        let text = format!(
            "{}\n500 g bread flour\n330 g water\n9 g salt\n4 g instant yeast\n30 g butter\n\nMethod\n{}",
            case.name, case.text
        );
        let input = ReadInput { text, measures: Measures::default() };
        let proposal = read(&input, Catalogue::bundled()).unwrap().proposal.expect("it has lines");
        let f = &proposal.formula;
        let now = "2026-03-14T08:00:00Z".parse().unwrap();
        let s = stations::read(f, &Kitchen::default(), Catalogue::bundled(), now)
            .unwrap_or_else(|e| panic!("{}: {e}", case.name));
        let fact = |what: &str| case.facts.iter().find(|fact| fact.what == what);
        if let Some(pieces) = fact("pieces") {
            assert_eq!(Some(f64::from(f.shape.pieces)), pieces.low, "{}", case.name);
        }
        if let Some(oven) = fact("oven") {
            assert!((s.bake.temperature.0 - oven.low.unwrap()).abs() <= 1.0, "{}", case.name);
        }
        if let Some(fridge) = fact("fridge") {
            let rise = if fridge.key == "proof" { &f.rise.proof } else { &f.rise.bulk };
            assert!(rise.stays.is_some() && rise.place.is_some_and(|t| t.0 < 8.0), "{}", case.name);
        }
        if let Some(folds) = fact("folds") {
            assert_eq!(s.mix.folds.map(|x| f64::from(x.sets)), folds.low, "{}", case.name);
        }
        if let Some(bloom) = fact("bloom") {
            let step = s.day.steps.iter().find(|c| c.step.id == "bloom.stands").expect("it blooms");
            assert_eq!(Some(step.step.length.0), bloom.low);
        }
        // What is taken is told on the day.
        let day: String = s.tasks.iter().map(|t| format!("{}: {}\n", t.title, t.detail)).collect();
        let told = [
            ("rest-makes", "Shape: "),
            ("cools-in", "in its tin"),
            ("ajar", "door ajar"),
            ("bare", "a skin forms"),
            ("piped", "Pipe: "),
            ("cuts", if fact("cuts").is_some_and(|c| c.key == "docked") { "Dock: " } else { "Score: " }),
        ];
        for (what, words) in told {
            assert!(fact(what).is_none() || day.contains(words), "{}: {what} in {day}", case.name);
        }
        if let Some(rim) = fact("rim").filter(|_| s.work.pan.is_some()) {
            assert_eq!(f.rise.rim, rim.low, "{}", case.name);
            assert!(day.contains("the rim, about"), "{}: {day}", case.name);
        }
        assert!(!proposal.because.is_empty());
    }
}

/// The style is told by what decides it.
#[rstest]
#[case("500 g rice flour\n100 g tapioca starch\n480 g water", "Bake in a tin.", Style::GlutenFree)]
#[case("500 g bread flour\n200 g milk", "Divide into 3 strands and plait them.", Style::Braid)]
#[case("300 g dark rye flour\n100 g bread flour\n330 g water", "Bake in a tin.", Style::Rye)]
#[case("500 g bread flour\n380 g water", "Stir, no kneading, and leave for 16 hours.", Style::NoKnead)]
#[case("500 g bread flour\n380 g water", "Press it out with your fingertips.", Style::Flat)]
#[case("500 g bread flour\n300 g milk", "Divide into 12 rolls.", Style::SoftRoll)]
#[case("500 g bread flour\n350 g water\n150 g starter", "Shape into a round. Bake in a pot.", Style::Hearth)]
#[case("500 g bread flour\n330 g water", "Put it in a loaf tin.", Style::Tin)]
fn the_style_is_told_by_evidence(#[case] lines: &str, #[case] method: &str, #[case] style: Style) {
    let input = ReadInput { text: format!("{lines}\n\nMethod\n{method}"), measures: Measures::default() };
    let proposal = read(&input, Catalogue::bundled()).unwrap().proposal.unwrap();
    assert_eq!(proposal.style, style, "{}", proposal.because);
}

/// What cannot be is doubted at its place and not taken, and nothing is dropped.
#[rstest]
#[case("Bake at 400 °C for 30 minutes.", "oven")]
#[case("Bake until the core is at 190 °C.", "core")]
fn what_cannot_be_is_doubted(#[case] method: &str, #[case] what: &str) {
    let found = read_method(method);
    let f = found.iter().find(|f| f.found.key() == what).unwrap_or_else(|| panic!("{found:?}"));
    assert!(f.doubt().is_some() && !Proposed::of(f.clone()).taken);
}

#[test]
fn a_second_set_of_methods_that_was_kept_apart() {
    let (right, all, _) = counted(include_str!("methods/apart2.txt"));
    assert!(right as f64 >= 0.9 * all as f64);
}

#[test]
fn those_that_were_written_later() {
    let sets = [
        include_str!("methods/apart3.txt"),
        include_str!("methods/apart4.txt"),
        include_str!("methods/apart5.txt"),
        include_str!("methods/apart6.txt"),
        include_str!("methods/apart7.txt"),
        include_str!("methods/apart8.txt"),
        include_str!("methods/apart9.txt"),
        include_str!("methods/apart10.txt"),
        include_str!("methods/apart11.txt"),
        include_str!("methods/apart12.txt"),
        include_str!("methods/apart13.txt"),
        include_str!("methods/apart14.txt"),
        include_str!("methods/apart15.txt"),
        include_str!("methods/apart16.txt"),
    ];
    let counts: Vec<(usize, usize, Vec<String>)> = sets.into_iter().map(counted).collect();
    let short: Vec<_> = counts
        .iter()
        .filter(|(right, all, wrong)| (*right as f64) < 0.95 * *all as f64 || !wrong.is_empty())
        .collect();
    assert!(short.is_empty(), "{short:#?}");
}
