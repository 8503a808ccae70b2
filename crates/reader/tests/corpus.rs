//! The reader against a corpus of lines, each with what a baker would weigh.
//!
//! The lines and figures are our own (common practice, no source); grams follow the catalogue's
//! measures. The reader was made with `lines.txt`; `apart.txt` was written after it. Seventeen such sets were read once
//! before they were looked at, and mended after: 102 of 126 right and 9 wrong in silence, 67 of 88 and 4, 53 of 60
//! and 1, 59 of 60 and 1 (“rye flour (type 1150)”), 42 of 44 and 1 (“butter or margarine”), 76 of 80 and 2
//! (“wholemeal rye”), 77 of 80 and 1 (“for the crust”), 60 of 65 and none, 64 of 66 and none, 58 of 60 and 1
//! (“raisins, soaked”), 72 of 74 and 1 (“plus more as needed”), 69 of 75 and 1 (“a good tablespoon”), 70 of 75 and
//! none, 71 of 75 and 2 (“gluten-free white bread flour”), 79 of 84 and 3 (“pinch of sugar”; two were faults of the
//! key), 69 of 76 and none, 72 of 72 and none, which is the set that stands in `apart.txt`.

use cerealis_core::pantry::{Catalogue, Measures};
use cerealis_core::words::Stage;
use cerealis_reader::{LineKind, ReadInput, ReadLine, read};
use proptest::prelude::*;

/// One ingredient that a line should become.
struct Wanted {
    key: Option<String>,
    grams: Option<f64>,
    stage: Stage,
}

struct Case {
    line: &'static str,
    wanted: Vec<Wanted>,
}

fn wanted(text: &str) -> Option<Wanted> {
    let text = text.trim();
    if text == "-" {
        return None;
    }
    let unknown = text.starts_with('?');
    let words: Vec<&str> = text.trim_start_matches('?').split_whitespace().collect();
    let stage = words.last().and_then(|w| Stage::from_key(w)).filter(|_| words.len() > 2);
    let figure = words[words.len() - 1 - usize::from(stage.is_some())];
    Some(Wanted {
        key: (!unknown).then(|| words[0].to_owned()),
        grams: figure.parse().ok(),
        stage: stage.unwrap_or(Stage::Dough),
    })
}

const MADE_WITH: &str = include_str!("corpus/lines.txt");
const APART: &str = include_str!("corpus/apart.txt");

fn cases(text: &'static str) -> Vec<Case> {
    text.lines()
        .filter(|l| !l.starts_with('#') && !l.trim().is_empty())
        .map(|l| {
            let (line, right) = l.rsplit_once(" => ").unwrap_or_else(|| panic!("no => in {l}"));
            Case { line, wanted: right.split(';').filter_map(wanted).collect() }
        })
        .collect()
}

#[derive(Clone, Copy, Debug, PartialEq)]
enum Verdict {
    Right,
    Doubted,
    Silent,
}

fn near(a: f64, b: f64) -> bool {
    (a - b).abs() <= 0.06 * b.max(0.05)
}

fn meets(line: &ReadLine, w: &Wanted) -> bool {
    let named = match &w.key {
        Some(key) => line.ingredient.as_deref() == Some(key),
        None => line.ingredient.is_none(),
    };
    let weighed = match w.grams {
        Some(g) => line.grams.is_some_and(|x| near(x.0, g)),
        // Nobody said how much: it is left open, or its guess is doubted.
        None => line.grams.is_none() || !line.doubts.is_empty(),
    };
    named && weighed && (line.stage == w.stage || w.key.is_none())
}

fn judge(case: &Case) -> (Verdict, Vec<ReadLine>) {
    let input = ReadInput { text: case.line.into(), measures: Measures::default() };
    let out = read(&input, Catalogue::bundled()).unwrap();
    let lines: Vec<ReadLine> = out.lines.into_iter().filter(|l| l.kind == LineKind::Ingredient).collect();
    let right = lines.len() == case.wanted.len() && lines.iter().zip(&case.wanted).all(|(l, w)| meets(l, w));
    let doubted = lines.iter().any(|l| !l.doubts.is_empty());
    let verdict = match (right, doubted) {
        (true, _) => Verdict::Right,
        (false, true) => Verdict::Doubted,
        (false, false) => Verdict::Silent,
    };
    (verdict, lines)
}

/// Lines that are right, doubted and wrong in silence.
fn counted(text: &'static str) -> (usize, usize, usize) {
    let (mut right, mut doubted, mut silent) = (0, 0, 0);
    for case in &cases(text) {
        let (verdict, lines) = judge(case);
        match verdict {
            Verdict::Right => right += 1,
            Verdict::Doubted => doubted += 1,
            Verdict::Silent => silent += 1,
        }
        if std::env::var_os("CORPUS_COUNT").is_none() {
            told(case, verdict, &lines);
        }
    }
    (right, doubted, silent)
}

fn told(case: &Case, verdict: Verdict, lines: &[ReadLine]) {
    let anyway = lines.iter().any(|l| !l.doubts.is_empty());
    if verdict != Verdict::Right || anyway {
        let got: Vec<String> = lines
            .iter()
            .map(|l| {
                let key = l.ingredient.as_deref().unwrap_or("?");
                format!("{key} {:.2} {} {:?}", l.grams.map_or(-1.0, |g| g.0), l.stage.key(), l.doubts)
            })
            .collect();
        println!("{verdict:?}: {} -> {}", case.line, got.join(" ; "));
    }
}

#[test]
fn the_lines_that_the_reader_was_made_with() {
    let (right, doubted, silent) = counted(MADE_WITH);
    let all = right + doubted + silent;
    println!("{right} of {all} right, {doubted} doubted, {silent} in silence");
    assert_eq!(silent, 0);
    assert!(right as f64 >= 0.97 * all as f64, "{right} of {all}");
}

#[test]
fn the_lines_that_were_kept_apart() {
    let (right, doubted, silent) = counted(APART);
    let all = right + doubted + silent;
    println!("{right} of {all} right, {doubted} doubted, {silent} in silence");
    assert_eq!(silent, 0, "every miss is doubted");
    assert!(right as f64 >= 0.97 * all as f64, "{right} of {all}");
}

/// What is said to be free of something is never read in silence as what holds it: bread is baked for people who
/// may not eat it.
#[test]
fn what_is_free_of_an_allergen_is_not_read_as_what_holds_it() {
    let words = |allergen: &str| match allergen {
        "gluten" => &["gluten-free", "gluten free"][..],
        "milk" => &["dairy-free", "vegan", "plant-based"],
        "egg" => &["egg-free", "vegan"],
        "nuts" => &["nut-free"],
        _ => &[],
    };
    let mut asked = 0;
    for i in Catalogue::bundled().at_hand() {
        for allergen in &i.allergens {
            for free in words(allergen) {
                let text = format!("100 g {free} {}", i.name);
                let out =
                    read(&ReadInput { text, measures: Measures::default() }, Catalogue::bundled()).unwrap();
                let line = &out.lines[0];
                let found = line.ingredient.as_deref().and_then(|k| Catalogue::bundled().get(k));
                let holds = found.is_some_and(|f| f.allergens.contains(allergen));
                assert!(!holds || !line.doubts.is_empty(), "{} became {:?}", line.text, line.ingredient);
                asked += 1;
            }
        }
    }
    assert!(asked > 100, "{asked}");
}

#[test]
fn the_corpus_is_in_order() {
    let all: Vec<Case> = [MADE_WITH, APART].into_iter().flat_map(cases).collect();
    assert!(all.len() >= 360, "{}", all.len());
    for case in &all {
        for w in &case.wanted {
            if let Some(key) = &w.key {
                assert!(Catalogue::bundled().get(key).is_some(), "{key} in {}", case.line);
            }
        }
    }
}

/// An amount as it is written, and what it is.
fn amounts() -> impl Strategy<Value = (String, f64)> {
    let parts = || {
        prop::sample::select(vec![("½", 0.5), ("1/4", 0.25), ("¾", 0.75), ("2/3", 2.0 / 3.0), ("1/8", 0.125)])
    };
    let words = vec![
        ("one", 1.0),
        ("two", 2.0),
        ("a quarter", 0.25),
        ("half", 0.5),
        ("three quarters", 0.75),
        ("two and a half", 2.5),
        ("one and three quarter", 1.75),
        ("twenty", 20.0),
        ("one hundred and fifty", 150.0),
    ];
    prop_oneof![
        (1u32..900).prop_map(|n| (n.to_string(), f64::from(n))),
        (1u32..40, 1u32..10).prop_map(|(n, d)| (format!("{n}.{d}"), f64::from(n) + f64::from(d) / 10.0)),
        (1u32..40, 1u32..10).prop_map(|(n, d)| (format!("{n},{d}"), f64::from(n) + f64::from(d) / 10.0)),
        parts().prop_map(|(t, v)| (t.to_owned(), v)),
        (1u32..9, parts()).prop_map(|(n, (t, v))| (format!("{n} {t}"), f64::from(n) + v)),
        (1u32..9, 1u32..9).prop_map(|(n, d)| (format!("{n}-{}", n + d), f64::from(n) + f64::from(d) / 2.0)),
        prop::sample::select(words).prop_map(|(t, v)| (t.to_owned(), v)),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(2000))]

    /// Whatever is written before and behind it: an amount is right, or it is doubted.
    #[test]
    fn no_amount_is_wrong_in_silence(
        (amount, value) in amounts(),
        (unit, grams) in prop::sample::select(vec![
            ("g", 1.0), ("grams", 1.0), ("kg", 1000.0), ("oz", 28.35), ("ounces", 28.35), ("lb", 453.6), ("pounds", 453.6),
        ]),
        of in prop::sample::select(vec![" ", " of "]),
        ingredient in any::<prop::sample::Index>(),
        before in prop::sample::select(vec!["", "- ", "• ", "about ", "approx. ", "scant ", "add ", "1) "]),
        behind in prop::sample::select(vec![
            "", ", sifted", " (at room temperature)", ", plus extra for dusting", ", or to taste", ", divided",
            " (optional)", ", cut in 2 cm dice", " (about 3 spoons)", ", warmed to 30 °C", ", for the dough", " - see page 12",
            ", soaked for 2 hours", " (70 %)", " + more if needed", ", halved", ", 20 g of it kept back", "; 2 days old",
        ]),
    ) {
        let names: Vec<&str> = Catalogue::bundled().iter().map(|i| i.name.as_str()).collect();
        let line = format!("{before}{amount} {unit}{of}{}{behind}", ingredient.get(&names).to_lowercase());
        let out = read(&ReadInput { text: line.clone(), measures: Measures::default() }, Catalogue::bundled()).unwrap();
        let lines: Vec<&ReadLine> = out.lines.iter().filter(|l| l.kind == LineKind::Ingredient).collect();
        prop_assert!(!lines.is_empty(), "{line} is no ingredient: {:?}", out.lines);
        let read = lines[0];
        prop_assert!(
            !read.doubts.is_empty() || read.grams.is_none_or(|g| (g.0 - value * grams).abs() <= 0.02 * value * grams),
            "{line}: {:?} instead of {:.1}", read.grams, value * grams
        );
    }
}

/// A name is found in other orders and with words between, or the line is doubted: “rye sourdough starter”.
#[test]
fn no_name_in_another_order_is_another_thing_in_silence() {
    let catalogue = Catalogue::bundled();
    let mut wrong = Vec::new();
    for i in catalogue.iter() {
        // A share behind a name is a baker's percentage: “milk 2 %”.
        for name in i.aliases.iter().chain([&i.name]).filter(|n| !n.contains('%')) {
            let words: Vec<&str> = name.split_whitespace().collect();
            let [first, .., last] = words[..] else { continue };
            let between = [&words[..1], &["good"], &words[1..]].concat().join(" ");
            let turned = format!("{last} {}", words[..words.len() - 1].join(" "));
            let apart = format!("{last}, {}", words[..words.len() - 1].join(" "));
            let bracketed = format!("{last} ({})", words[..words.len() - 1].join(" "));
            let longer = format!("{first} organic {}", words[1..].join(" "));
            // “raisins, soaked” are weighed before: behind a comma stands what is done later.
            let later = ["soaked", "cooked", "boiled", "grated"].contains(&first.to_lowercase().as_str());
            let forms =
                if later { vec![between, longer] } else { vec![between, turned, apart, bracketed, longer] };
            for said in forms {
                let text = format!("100 g {}", said.to_lowercase());
                let out = read(&ReadInput { text: text.clone(), measures: Measures::default() }, catalogue)
                    .unwrap();
                for line in &out.lines {
                    if line.doubts.is_empty() && line.ingredient.as_deref().is_some_and(|k| k != i.key) {
                        wrong.push(format!("{text} -> {}", line.ingredient.clone().unwrap_or_default()));
                    }
                }
            }
        }
    }
    assert!(wrong.is_empty(), "{}: {wrong:#?}", wrong.len());
}
