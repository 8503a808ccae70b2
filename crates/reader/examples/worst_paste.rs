//! How long the worst texts of a megabyte take to be taken in or refused.
//!
//! `cargo run --release -p cerealis-reader --example worst_paste`

use std::time::Instant;

use cerealis_core::formats::{Imported, TEXT_MAX, import};
use cerealis_core::pantry::{Catalogue, Measures};
use cerealis_reader::{ReadInput, read};

fn filled(with: &str) -> String {
    with.repeat(TEXT_MAX / with.len())
}

fn main() {
    let texts = [
        ("short lines", filled("1 g\n")),
        ("a thousand long lines", format!("{}\n", "1 cup and 2 tbsp and 3 g flour ".repeat(33)).repeat(400)),
        ("one long line", filled("and 1 ")),
        ("scripts that are never closed", filled("<script type=\"application/ld+json\">{")),
        ("empty scripts", filled("<script type=\"application/ld+json\"></script>")),
        (
            "nested tags",
            format!("<div itemscope itemtype=\"https://schema.org/Recipe\">{}", filled("<p itemprop=x>")),
        ),
        ("brackets", filled("[")),
        ("open objects", filled("{\"a\":")),
        ("percent signs", filled("1 %")),
        ("stops", filled(". . ")),
        ("one endless sentence", format!("Mix {}.", filled("the 3 g of flourish "))),
        ("a hundred thousand sentences", filled("Add 9 g. Now ")),
        ("one sentence that names it all", format!("Mix {} well.", filled("9 g rye flour, "))),
        ("CSV", format!("ingredient,grams\n{}", filled("a,1\n"))),
    ];
    for (name, text) in texts {
        let text: String = text.chars().take(TEXT_MAX).collect();
        let began = Instant::now();
        let lines = match import(&text, Catalogue::bundled()) {
            Ok(Some(Imported::Recipe(recipe))) => Some(recipe.lines),
            Ok(None) => Some(text),
            Ok(Some(_)) | Err(_) => None,
        };
        let read = lines.map(|text| {
            read(&ReadInput { text, measures: Measures::default() }, Catalogue::bundled()).is_ok()
        });
        println!(
            "{name}: {:.0} ms, {}",
            1e3 * began.elapsed().as_secs_f64(),
            if read == Some(true) { "read" } else { "refused" }
        );
    }
}
