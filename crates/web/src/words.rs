//! The words of the trade as they are used here: one meaning each.

use actix_web::HttpResponse;
use askama::Template;

use cerealis_core::finish::Score;
use cerealis_core::formula::{Formula, figures};
use cerealis_core::mix::Stop;
use cerealis_core::pantry::Catalogue;
use cerealis_core::shape::Size;
use cerealis_core::words::{Kind, Style};

use crate::error::{PageError, html};
use crate::picture::{self, Room};

/// A word with what it means.
struct Word {
    /// Where a link to it leads: `/words#levain`.
    at: &'static str,
    word: &'static str,
    means: &'static str,
}

/// A picture where one says more than the sentence.
fn picture(at: &str) -> Option<String> {
    let tin = || Formula::beginning("A tin loaf", Style::Tin);
    let long = Size { width: 12.0, height: 9.0, length: 26.0 };
    Some(match at {
        "percent" => {
            let f = tin();
            let catalogue = Catalogue::bundled();
            picture::flour_bar(&f, catalogue, figures(&f, catalogue).flour, Room::Narrow)
        }
        "bulk" => picture::tub(1000.0, 2.0, 3.0, None, Room::Narrow),
        "window" => picture::stop_sign(Stop::Window),
        "peak" => picture::stop_sign(Stop::Peak),
        "autolyse" => picture::stop_sign(Stop::Relaxed),
        "score" => picture::score(Score::Grain, Kind::Batard, long),
        "portion" => picture::bread(&picture::Bread::of(&Formula::beginning("Rolls", Style::SoftRoll))),
        "glaze" => picture::bread(&picture::Bread::of(&Formula::beginning("A plait", Style::Braid))),
        _ => return None,
    })
}

const fn word(at: &'static str, word: &'static str, means: &'static str) -> Word {
    Word { at, word, means }
}

/// The words, by letter.
const WORDS: [Word; 32] = [
    word(
        "autolyse",
        "Autolyse",
        "Flour and water rest together before salt and yeast go in. The dough comes together by itself and wants less kneading.",
    ),
    word(
        "percent",
        "Baker's percentage",
        "What an ingredient weighs against all the flour, which is 100 %. Water of 65 % is 650 g to a kilogram of flour.",
    ),
    word(
        "lye",
        "Bath",
        "What pieces are dipped in before the oven: water with soda or lye, which browns them deeply. It burns skin and eyes.",
    ),
    word(
        "biga",
        "Biga",
        "A stiff preferment: flour, half its weight of water and a little yeast, 12 to 16 hours.",
    ),
    word(
        "bloom",
        "Blooming",
        "Active dry yeast stands in a little warm liquid until it foams, before it meets the flour.",
    ),
    word("bulk", "Bulk rise", "The rise of the whole dough, from mixing until it is divided."),
    word("core", "Core", "The middle of a loaf. Its temperature says when it is baked."),
    word("crumb", "Crumb", "The inside of the bread; what is not crust."),
    word(
        "culture",
        "Culture",
        "Flour and water in which wild yeasts and bacteria live. It is fed and kept from bake to bake; starter is another word for it.",
    ),
    word(
        "ddt",
        "Dough temperature",
        "What the dough has when mixing is over. The water is cooled or warmed to reach the one that is wanted, because everything after it follows from it.",
    ),
    word(
        "fold",
        "Fold",
        "In the bulk rise the dough is stretched and laid over itself, a set from all four sides. It gains strength without kneading.",
    ),
    word(
        "formula",
        "Formula",
        "A recipe by weight and baker's percentage, with its mixing, rises, shape and bake.",
    ),
    word("friction", "Friction", "The warmth that kneading brings into the dough, in degrees a minute."),
    word("glaze", "Glaze", "What is brushed or poured on after the bake, hot or cold."),
    word(
        "hydration",
        "Hydration",
        "All the water in a dough against its flour, that in milk, eggs and culture counted too.",
    ),
    word(
        "inoculation",
        "Inoculation",
        "How much of the flour has been fermented before, in levain or preferment.",
    ),
    word(
        "levain",
        "Levain",
        "A part of the culture, fed for one bake and used up in it. It is ripe when it stands at its highest.",
    ),
    word(
        "oven-spring",
        "Oven spring",
        "The last rise, in the first minutes of the bake, until the crust sets.",
    ),
    word(
        "peak",
        "Peak",
        "The highest that a dough or levain stands. After it, it sinks slowly and turns sour and slack.",
    ),
    word(
        "poke",
        "Poke",
        "A floured finger pressed into a proofed piece. If it springs back slowly and not quite, the piece is ready.",
    ),
    word(
        "poolish",
        "Poolish",
        "A liquid preferment: equal weights of flour and water with very little yeast.",
    ),
    word(
        "portion",
        "Portion",
        "A part of one dough that becomes another bread: half a plait, half rolls. It has its own shape, finish and bake.",
    ),
    word(
        "preferment",
        "Preferment",
        "A part of the flour that ferments ahead of the dough: poolish, biga, sponge, old dough or levain.",
    ),
    word(
        "pre-shape",
        "Pre-shape",
        "Pieces are rounded loosely and rest, so that they take their final shape without tearing.",
    ),
    word("proof", "Proof", "The last rise, from shaping to the oven."),
    word("retard", "Retard", "A rise in the fridge, slowed to fit a night or a day."),
    word(
        "scald",
        "Scald",
        "Flour cooked with several times its weight of hot liquid. It binds water and keeps the crumb soft.",
    ),
    word("score", "Score", "Cuts in the top with a sharp blade, so that the loaf opens where it should."),
    word(
        "soaker",
        "Soaker",
        "Seeds or grain left to drink, so that they do not draw the water of the dough.",
    ),
    word("sponge", "Sponge", "A quick preferment with much of the yeast, half an hour to two hours."),
    word(
        "window",
        "Window",
        "A pinch of dough stretched until light shows through. If it does not tear, it is kneaded enough.",
    ),
    word("yeast", "Yeast", "Fresh, active dry or instant: 3 g of fresh do the work of about 1 g of instant."),
];

#[derive(Template)]
#[template(path = "words.html")]
struct WordsPage {
    words: &'static [Word],
}

/// The page.
pub async fn show() -> Result<HttpResponse, PageError> {
    html(&WordsPage { words: &WORDS })
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::fs;
    use std::path::Path;

    fn templates(folder: &Path, all: &mut Vec<String>) {
        for entry in fs::read_dir(folder).unwrap() {
            let path = entry.unwrap().path();
            if path.is_dir() {
                templates(&path, all);
            } else {
                all.push(fs::read_to_string(path).unwrap());
            }
        }
    }

    /// Words stand once, and every link to one leads somewhere.
    #[test]
    fn every_word_is_there_once() {
        let mut ends: Vec<&str> = WORDS.iter().map(|w| w.at).collect();
        ends.sort_unstable();
        ends.dedup();
        assert_eq!(ends.len(), WORDS.len());
        let mut all = Vec::new();
        templates(&Path::new(env!("CARGO_MANIFEST_DIR")).join("templates"), &mut all);
        let linked: Vec<&str> =
            all.iter().flat_map(|t| t.split("/words#").skip(1)).filter_map(|t| t.split('"').next()).collect();
        assert!(linked.len() >= 8, "words are reached from where they stand: {linked:?}");
        for at in linked {
            assert!(at.contains("{{") || WORDS.iter().any(|w| w.at == at), "{at}");
        }
    }

    /// What stands on buttons and links that look like them is the usual word for it: a new one is added here on
    /// purpose, and the private ones of old do not come back.
    #[test]
    fn the_labels_are_these() {
        let mut all = Vec::new();
        templates(&Path::new(env!("CARGO_MANIFEST_DIR")).join("templates"), &mut all);
        let mut labels: Vec<String> = Vec::new();
        for text in &all {
            for tag in text.split("<button").skip(1).chain(text.split("<a class=\"act").skip(1)) {
                let Some((_, inner)) = tag.split_once('>') else { continue };
                let label = inner.split('<').next().unwrap_or("").trim();
                if !label.is_empty() && !label.contains(['{', '}']) {
                    labels.push(label.to_owned());
                }
            }
        }
        labels.sort();
        labels.dedup();
        let known: Vec<&str> = include_str!("../tests/labels.txt").lines().collect();
        assert_eq!(labels, known, "tests/labels.txt holds the labels");
        let private = [
            "Look",
            "Put away",
            "Take out",
            "Bring in",
            "Begin",
            "Make it so",
            "I mean it",
            "Go back",
            "Take back",
        ];
        assert!(private.iter().all(|p| !labels.iter().any(|l| l.starts_with(p))));
    }
}
