//! Feeds the reader and the importer with mutated kitchen English for so many seconds.
//!
//! Run: `cargo run --release -p cerealis-reader --example fuzz_reader -- 300`

use std::time::{Duration, Instant};

use cerealis_core::formats::import;
use cerealis_core::pantry::{Catalogue, Measures};
use cerealis_reader::{ReadInput, hydration_doubt, read, read_method};

const SEEDS: [&str; 8] = [
    include_str!("../tests/lines/lines.txt"),
    "For the levain:\n50 g rye flour\n50 g water\nMethod\nKnead 10 minutes. Rise 1 hour until doubled. Bake at 375 °F for 28 minutes. Makes 8 rolls.",
    r#"{"@type":"Recipe","name":"x","recipeIngredient":["3 cups flour"],"recipeInstructions":[{"@type":"HowToStep","text":"Mix"}],"cookTime":"PT1H"}"#,
    r#"{"format":"cerealis-formulas","version":1,"formulas":[]}"#,
    "ingredient,grams,stage\nbread-flour,500,dough\n",
    "<script type=\"application/ld+json\">{\"@graph\":[{\"@type\":[\"Recipe\"]}]}</script>",
    "½¼⅓²①٣४\u{200b}\u{301}İßﬁ𝟛🍞\u{feff}",
    "1/0 0/0 99999999999 1e309 -1 +++ ((((( ))))) \" ' \\ \0 \t",
];

/// A small generator of pseudo-random numbers (xorshift64), so that a run can be repeated.
struct Dice(u64);

impl Dice {
    fn below(&mut self, n: usize) -> usize {
        self.0 ^= self.0 << 13;
        self.0 ^= self.0 >> 7;
        self.0 ^= self.0 << 17;
        (self.0 % n.max(1) as u64) as usize
    }
}

fn piece(dice: &mut Dice) -> Vec<char> {
    let all: Vec<char> = SEEDS[dice.below(SEEDS.len())].chars().collect();
    let from = dice.below(all.len());
    let length = 1 + dice.below(80);
    all[from..(from + length).min(all.len())].to_vec()
}

fn mutated(dice: &mut Dice) -> String {
    let mut text = piece(dice);
    for _ in 0..dice.below(8) {
        let at = dice.below(text.len() + 1);
        match dice.below(4) {
            0 => drop(text.splice(at..at, piece(dice))),
            1 if at < text.len() => drop(text.remove(at)),
            2 => text.insert(at, char::from_u32(dice.below(0x11_0000) as u32).unwrap_or('\u{fffd}')),
            _ => text.truncate(at.max(1)),
        }
    }
    text.into_iter().collect()
}

fn main() {
    let seconds: u64 = std::env::args().nth(1).and_then(|s| s.parse().ok()).unwrap_or(10);
    let catalogue = Catalogue::bundled();
    let (start, mut dice, mut runs) = (Instant::now(), Dice(0x5eed_cafe), 0u64);
    while start.elapsed() < Duration::from_secs(seconds) {
        for _ in 0..200 {
            let text = mutated(&mut dice);
            let out =
                read(&ReadInput { text: text.clone(), measures: Measures::default() }, catalogue).unwrap();
            hydration_doubt(&out.lines, catalogue);
            for l in &out.lines {
                if let (Some(low), Some(g), Some(high)) = (l.low, l.grams, l.high) {
                    assert!(low.0 >= 0.0 && low <= g && g <= high && high.0.is_finite(), "{text:?}");
                }
            }
            read_method(&text);
            let _ = import(&text, catalogue);
            runs += 1;
        }
    }
    println!("{runs} texts in {seconds} s, none panicked");
}
