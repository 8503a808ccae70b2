//! The layout of a recipe: which of its lines is a heading, an ingredient, a step, or beside it. Decided for all lines
//! together: each kind has a cost by what a line looks like, each change of kind has one, and the cheapest course counts.

mod clean;
mod grid;
mod look;

pub(crate) use clean::clean;
pub(crate) use look::opens;

use self::look::{Look, look};
use crate::heading::Opens;
use crate::name::Names;

/// What a line is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Block {
    /// The name of the bread, or what is said over the recipe.
    Chatter,
    /// Yield and times.
    Meta,
    /// A heading of ingredients or steps.
    Head,
    /// An ingredient.
    Item,
    /// A step.
    Step,
    /// Notes, and variants.
    Note,
    /// What is no part of it: ratings, nutrition, comments.
    Debris,
}

const ALL: [Block; 7] =
    [Block::Chatter, Block::Meta, Block::Head, Block::Item, Block::Step, Block::Note, Block::Debris];

/// The kind of every line that holds anything.
pub(crate) fn blocks(lines: &[(&str, bool)], names: &Names) -> Vec<Block> {
    let looks: Vec<Look> =
        lines.iter().enumerate().map(|(n, (line, gap))| look(n, line, *gap, names)).collect();
    let k = ALL.len();
    if looks.is_empty() {
        return Vec::new();
    }
    let mut fore: Vec<f64> = ALL
        .iter()
        .map(|b| cost(&looks[0], *b) + if matches!(b, Block::Item | Block::Step) { 0.3 } else { 0.0 })
        .collect();
    let mut from: Vec<Vec<usize>> = Vec::new();
    for look in &looks[1..] {
        let mut next = vec![f64::INFINITY; k];
        let mut by = vec![0; k];
        for s in 0..k {
            for b in 0..k {
                let c = fore[b] + step(ALL[b], ALL[s], look);
                if c < next[s] {
                    (next[s], by[s]) = (c, b);
                }
            }
            next[s] += cost(look, ALL[s]);
        }
        fore = next;
        from.push(by);
    }
    let mut s = (0..k).min_by(|a, b| fore[*a].total_cmp(&fore[*b])).unwrap_or(0);
    let mut path = vec![ALL[s]; looks.len()];
    for i in (0..from.len()).rev() {
        s = from[i][s];
        path[i] = ALL[s];
    }
    path
}

/// What it costs to take a line for a kind. Set by hand (reading order and marks; common practice, no source).
fn cost(l: &Look, b: Block) -> f64 {
    let some = |yes: bool, cost: f64| if yes { cost } else { 0.0 };
    let many = |n: usize, each: f64, most: f64| (n as f64 * each).max(most);
    match b {
        Block::Item => {
            2.0 + some(l.amount, -2.2)
                + some(l.measured && l.words <= 14, -1.6)
                + some(l.known, -1.2)
                + some(l.bare && !l.told, -2.2)
                + some(l.words > 18, 2.0)
                + some(l.words > 30, 2.0)
                + some(l.verb_first && !l.amount && (l.told || !l.bare), 1.2)
                + l.acts as f64 * 0.25
                + l.times as f64 * 0.7
                + some(l.heats > 0 && l.times > 0, 2.0)
                + some(l.stop && !l.amount, 0.8)
                + some(l.colon, 1.7)
                + some(l.numbered && !l.known, 1.5)
                + some(l.clock, 3.0)
                + some(l.heads.is_some() && !l.amount && !l.measured, 2.2)
                + some(l.debris, 1.5)
                + some(l.meta, 2.0)
                + some(l.note, 1.0)
                + some(l.question, 2.0)
                + some(l.told, 1.2)
                + some(
                    !l.told && (l.amount || l.measured),
                    if l.known && (l.adds || l.words <= 13 && l.acts <= 3) { -2.6 } else { -1.2 },
                )
        }
        Block::Step => {
            2.0 + some(l.told, -1.0)
                + some(!l.told && l.words < 12, 1.0)
                + some(l.verb_first, -1.2)
                + many(l.acts, -0.4, -2.4)
                + many(l.times, -0.9, -1.8)
                + many(l.heats, -0.8, -0.8)
                + some(l.numbered, -1.5)
                + some(l.clock, -2.5)
                + some(l.stop, -0.5)
                + some(l.words < 3 && l.times == 0 && l.heats == 0, 1.5)
                + some(l.amount && l.known && l.words < 12, 1.0)
                + some(l.heads.is_some() && l.words <= 4, 1.5)
                + some(l.debris, 1.5)
                + some(l.meta, 1.2)
                + some(l.note, 1.5)
                + some(l.question, 0.7)
                + some(l.first, 0.7)
        }
        Block::Head => {
            3.0 + some(matches!(l.heads, Some(Opens::Stage(_))), -2.6)
                + some(l.heads == Some(Opens::Method), -3.5)
                + some(l.colon, -1.2)
                + some(l.words > 6, 2.0)
                + some(l.amount, 1.5)
                + some(l.acts > 1, 0.7)
                + some(l.times > 0 && l.words > 8, 1.0)
                + some(l.stop, 1.0)
        }
        Block::Meta => {
            2.6 + some(l.meta, -2.6)
                + some(l.amount && !l.meta, 1.5)
                + some(l.known, 1.5)
                + l.acts as f64 * 0.1
                + some(l.words > 25, 1.5)
        }
        Block::Chatter => {
            2.0 + some(l.amount, 1.2)
                + some(l.known, 1.0)
                + many(l.acts, 0.3, 0.0).min(1.5)
                + l.times as f64 * 0.3
                + l.heats as f64 * 0.5
                + some(l.numbered, 1.0)
                + some(l.heads.is_some(), 1.5)
                + some(l.meta, 1.0)
                + some(l.debris, 0.5)
                + some(l.first, -1.0)
                + some(l.question, -0.3)
        }
        Block::Note => {
            2.4 + some(l.note, -2.4) + some(l.heads.is_some(), 1.0) + some(!l.note && l.first, 2.0)
        }
        Block::Debris => 3.0 + some(l.debris, -2.4) + some(l.question, -0.8) + some(l.known, 0.5),
    }
}

fn step(from: Block, to: Block, l: &Look) -> f64 {
    use Block::*;
    match (from, to) {
        (Note, Note) => -2.0,
        (Note, Chatter | Meta | Debris) => 1.0,
        (Note, Item) if l.after_gap => 2.0,
        (Note, Item | Step) => 4.5,
        (Note, Head) => 0.5,
        (a, b) if a == b => -0.2,
        (Chatter, Item) | (Meta, Item) => 0.3,
        (Chatter | Meta, Step) => 0.6,
        (Head, Item) | (Item, Step) => 0.0,
        (Head, Step) => 0.1,
        (Head, Chatter | Meta) => 1.0,
        (Step, Item) => {
            if l.after_gap {
                0.6
            } else {
                1.2
            }
        }
        (Item, Chatter) | (Step, Chatter) => 0.8,
        (Debris, _) | (_, Debris) => 0.3,
        (_, Note) if !l.note => 2.0,
        (_, Note) => 0.3,
        _ => 0.4,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use cerealis_core::pantry::Catalogue;
    use rstest::rstest;

    fn kinds(text: &str) -> Vec<Block> {
        let names = Names::of(Catalogue::bundled());
        let lines: Vec<(&str, bool)> = text.lines().map(|l| (l, false)).collect();
        blocks(&lines, &names)
    }

    #[rstest]
    #[case("Saturday loaf\nMakes 1 large loaf | Prep 20 mins\n500 g bread flour\n10 g salt\nMethod\n1 Put the flour in a bowl and add the salt.\n2 Knead for 10 minutes.", &[Block::Chatter, Block::Meta, Block::Item, Block::Item, Block::Head, Block::Step, Block::Step])]
    #[case("Levain, 22:00\n50 g rye flour\n50 g water\nDough, next morning\n450 g bread flour\n08:15 levain in, pinch it through\n10:45 coil fold", &[Block::Head, Block::Item, Block::Item, Block::Head, Block::Item, Block::Step, Block::Step])]
    #[case("500 g flour\n300 g water\nBake 30 minutes at 220 °C.\nNotes\nFreezes for 3 months.\nUse 2 tsp yeast for a quicker loaf.", &[Block::Item, Block::Item, Block::Step, Block::Note, Block::Note, Block::Note])]
    fn lines_are_told_apart_together(#[case] text: &str, #[case] kinds_wanted: &[Block]) {
        assert_eq!(kinds(text), kinds_wanted);
    }
}
