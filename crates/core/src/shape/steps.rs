//! Pre-shape, rest and final shape: the steps of the hands with their minutes and signs. Common
//! practice, no source.

use schemars::JsonSchema;
use serde::Serialize;

use crate::units::Minutes;
use crate::words::Kind;

/// A step of shaping.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct ShapeStep {
    /// What it is called.
    pub name: &'static str,
    /// How long, for all pieces.
    pub minutes: Minutes,
    /// What the hands do.
    pub what: &'static str,
    /// The sign to stop at.
    pub sign: &'static str,
    /// Whether it needs hands.
    pub hands_on: bool,
}

/// How a piece is pre-shaped, and the sign.
fn pre_shape(kind: Kind) -> (&'static str, &'static str) {
    match kind {
        Kind::Baguette | Kind::Braid | Kind::RoundBraid | Kind::Ring => {
            ("Roll each piece up loosely into a short log.", "An even log, its seam closed.")
        }
        Kind::Flat => ("Tip it out onto the oiled tray.", "It lies flat and is full of gas."),
        Kind::Swirl => ("Press it out into a rectangle.", "An even rectangle with straight edges."),
        Kind::Spirals => (
            "Divide each loaf's dough into three equal pieces; round each up.",
            "Three loose balls a loaf, equally heavy.",
        ),
        _ => ("Fold the edges to the middle, turn it over, round it up.", "A loose ball with a smooth skin."),
    }
}

/// The final shape: what the hands do in order, each with its sign and its share of the time.
fn final_shape(kind: Kind) -> Vec<(&'static str, &'static str, &'static str, f64)> {
    match kind {
        Kind::Round => vec![(
            "Shape the round",
            "Fold the four sides to the middle, turn it over, and draw it towards you with both hands, a quarter turn each time.",
            "A tight skin that a finger does not stick to.",
            1.0,
        )],
        Kind::Batard => vec![(
            "Shape the oval",
            "Press it flat, fold the far third over, then the near one, roll it up from the far edge and seal the seam.",
            "An oval with a tight skin, its seam straight.",
            1.0,
        )],
        Kind::Baguette => vec![
            (
                "Fold",
                "Fold it lengthwise in thirds, sealing with the heel of the hand.",
                "A stick as long as a hand and a half.",
                0.5,
            ),
            (
                "Roll out",
                "Roll it from the middle outwards with both hands.",
                "As long as the tray, its ends pointed.",
                0.5,
            ),
        ],
        Kind::Tin => vec![(
            "Shape the log",
            "Press it into a rectangle as wide as the tin, roll it up tightly and lay it in seam down.",
            "A log that fills the tin from end to end.",
            1.0,
        )],
        Kind::Spirals => vec![
            (
                "Flatten",
                "Roll each of the three pieces to a long oval, fold its sides to the middle.",
                "A strip as wide as a third of the tin.",
                0.4,
            ),
            (
                "Roll the spirals",
                "Roll each strip up from its short end, not too tightly.",
                "Three even spirals of two and a half turns.",
                0.4,
            ),
            (
                "Into the tin",
                "Stand the spirals side by side across the tin, seams down, all turned one way.",
                "They stand just clear of each other.",
                0.2,
            ),
        ],
        Kind::Swirl => vec![
            (
                "Spread",
                "Spread the filling thinly, a finger's width short of the far edge.",
                "No bare spots, no heaps.",
                0.4,
            ),
            (
                "Roll up",
                "Roll it up from the near edge without stretching; seal the seam and both ends.",
                "An even roll; no air between dough and filling.",
                0.4,
            ),
            (
                "Into the tin",
                "Lay it in seam down. Prick it four times to the middle.",
                "It fills the tin from end to end.",
                0.2,
            ),
        ],
        Kind::Braid => vec![
            (
                "Roll the strands",
                "Roll each strand from the middle outwards, thick in the middle, pointed at its ends. When they spring back, let them rest and roll again.",
                "All equally long, within a finger's width.",
                0.5,
            ),
            (
                "Plait",
                "Plait loosely, step by step as drawn; pinch the ends and tuck them under.",
                "Even, with no gaps, and loose enough to rise.",
                0.5,
            ),
        ],
        Kind::RoundBraid => vec![
            (
                "Roll the strands",
                "Roll four strands of one thickness.",
                "All equally long, within a finger's width.",
                0.4,
            ),
            (
                "Weave",
                "Lay them crosswise and weave round about, as drawn.",
                "A round with a high middle.",
                0.6,
            ),
        ],
        Kind::Ring => vec![
            ("Roll out", "Roll the log out evenly.", "It goes round your hand twice.", 0.5),
            (
                "Close the ring",
                "Lap the ends by a thumb's width and roll the joint under your palm.",
                "The joint is as thick as the rest; the hole is wider than you want it.",
                0.5,
            ),
        ],
        Kind::Roll => vec![(
            "Round up",
            "Roll it under a cupped hand until it stands up.",
            "A tight ball, its seam a small point.",
            1.0,
        )],
        Kind::PullApart => vec![
            (
                "Round up",
                "Roll it under a cupped hand until it stands up.",
                "A tight ball, its seam a small point.",
                0.8,
            ),
            (
                "Into the pan",
                "Set the balls in rows, a thumb's width apart.",
                "They will touch when they are proofed.",
                0.2,
            ),
        ],
        Kind::Bun => vec![
            ("Round up", "Roll it under a cupped hand until it stands up.", "A tight ball.", 0.7),
            (
                "Flatten",
                "After a few minutes press it flat with the palm, if it is to be filled; leave it round if not.",
                "Half as high as it was.",
                0.3,
            ),
        ],
        Kind::FoldOver => vec![
            (
                "Flatten",
                "Press it into an oval, thinner along the middle.",
                "As thick as a finger, the middle half of that.",
                0.5,
            ),
            (
                "Fold over",
                "Brush one half with butter and fold the other over it, a little short of the edge.",
                "The upper lip lies just inside the lower.",
                0.5,
            ),
        ],
        Kind::Dipped => vec![
            (
                "Shape",
                "Round it up, or roll a rope and knot it.",
                "A tight skin: loose folds soak up the bath.",
                0.8,
            ),
            (
                "Chill",
                "Uncovered in the fridge for 20 minutes before the bath.",
                "The skin is dry to the touch.",
                0.2,
            ),
        ],
        Kind::Flat => vec![(
            "Stretch",
            "Oil your hands and press it outwards from the middle; when it springs back, wait five minutes and go on.",
            "It fills the tray evenly, a finger thick.",
            1.0,
        )],
    }
}

/// All steps of shaping `kind`, by the minutes that dividing, resting and shaping take in all.
pub fn steps(kind: Kind, batter: bool, divide: Minutes, rest: Minutes, shape: Minutes) -> Vec<ShapeStep> {
    let step = |name, minutes, what, sign, hands_on| ShapeStep { name, minutes, what, sign, hands_on };
    if batter {
        return vec![step(
            "Fill and smooth",
            divide + shape,
            "Spoon it into the greased pan, knock out the air, smooth the top with a wet spatula.",
            "A smooth top, level from edge to edge.",
            true,
        )];
    }
    let (what, sign) = pre_shape(kind);
    let mut all = vec![step("Divide and pre-shape", divide, what, sign, true)];
    if rest.0 > 0.0 {
        all.push(step(
            "Rest",
            rest,
            "Covered, on the floured bench.",
            "A piece that is pulled no longer springs back. If it does, give it five minutes more.",
            false,
        ));
    }
    for (name, what, sign, share) in final_shape(kind) {
        all.push(step(name, shape * share, what, sign, true));
    }
    all
}

/// Filling for a swirl, g on a cm² of dough (common practice, no source): as thick as a knife's back.
pub const FILLING: f64 = 0.22;

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_shape_has_its_steps_and_their_minutes_add_up() {
        for kind in Kind::ALL {
            let all = steps(kind, false, Minutes(3.0), Minutes(10.0), Minutes(8.0));
            let minutes: f64 = all.iter().map(|s| s.minutes.0).sum();
            assert!((minutes - 21.0).abs() < 1e-9, "{kind:?}: {minutes}");
            assert!(all.iter().all(|s| !s.what.is_empty() && !s.sign.is_empty()));
        }
        let batter = steps(Kind::Tin, true, Minutes(1.0), Minutes(0.0), Minutes(2.0));
        assert_eq!((batter.len(), batter[0].minutes), (1, Minutes(3.0)));
        assert!(
            steps(Kind::Roll, false, Minutes(3.0), Minutes(5.0), Minutes(3.0))[1]
                .sign
                .contains("five minutes more")
        );
    }
}
