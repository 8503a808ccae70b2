//! Plaits: strands, their weight and taper, and every crossing as over and under from a rule table.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::choice::choice;
use crate::fault::{Check, Fault, Faults};
use crate::rise::DOUGH_DENSITY;
use crate::units::Grams;

choice! {
    /// From which side a plait is begun.
    #[derive(Default)]
    Hand {
        /// From the right.
        #[default]
        Right = "right", "Right-handed";
        /// From the left: the mirror of it.
        Left = "left", "Left-handed";
    }
}

/// What a plait depends on.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct BraidInput {
    /// Dough for the whole plait, 20 to 10 000 g.
    pub dough: Grams,
    /// Strands: 1 to 6 for a long plait, 4 for a round one.
    pub strands: u32,
    /// Whether it is round.
    #[serde(default)]
    pub round: bool,
    /// Whether its two strands are laid as a cross, and their ends worked over each other.
    #[serde(default)]
    pub crossed: bool,
    /// The hand.
    #[serde(default)]
    pub hand: Hand,
    /// Length of the proofed loaf, or width of a round one, 5 to 100 cm.
    pub length: f64,
}

/// How a passed strand lies to the one that moves.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Passes {
    /// The moving strand goes over it.
    Over,
    /// The moving strand goes under it.
    Under,
}

/// One move: a strand goes from one place to another and passes those between.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Move {
    /// The place it leaves, from the left, or clockwise from the top; from 0.
    pub from: usize,
    /// The place it comes to.
    pub to: usize,
    /// How it passes each strand on its way, in order.
    pub passes: Vec<Passes>,
}

/// A picture's worth of plaiting.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct BraidStep {
    /// What to do, a sentence.
    pub says: String,
    /// The moves of this step: one, or all the pairs of a round.
    pub moves: Vec<Move>,
    /// Which strand (or leg of one) lies at each place after it.
    pub order: Vec<usize>,
}

/// A plait.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
pub struct BraidOutput {
    /// What one strand weighs.
    pub strand: Grams,
    /// The weights that are near enough, 2 % either way.
    pub strand_range: (Grams, Grams),
    /// How long to roll a strand, cm.
    pub strand_length: f64,
    /// How thick it is in the middle and at its ends, cm.
    pub thick: (f64, f64),
    /// Places side by side or round about: the strands, or eight legs.
    pub places: usize,
    /// Steps after which the moves repeat.
    pub repeats_after: usize,
    /// The steps, until every move has been seen at least once and the pattern has come round.
    pub steps: Vec<BraidStep>,
    /// How it ends.
    pub ends: String,
}

use Passes::{Over, Under};

/// How far a strand tapers: its middle and its ends against its mean thickness (common practice, no
/// source).
const TAPER: (f64, f64) = (1.2, 0.65);

/// The moves of a long plait from the right, which repeat (common practice, no source). Each strand
/// that lies to the left of the mover's way shifts one place to the right, and the other way round.
fn rules(strands: u32) -> Vec<(usize, usize, Vec<Passes>, &'static str)> {
    match strands {
        2 => vec![(1, 0, vec![Over], "The right strand over the left.")],
        3 => vec![
            (2, 1, vec![Over], "The right strand over the middle one."),
            (0, 1, vec![Over], "The left strand over the middle one."),
        ],
        4 => vec![(
            3,
            0,
            vec![Over, Under, Over],
            "The outer right strand over one, under one, over one, to the left edge.",
        )],
        5 => vec![
            (4, 2, vec![Over, Over], "The outer right strand over two, into the middle."),
            (0, 2, vec![Over, Over], "The outer left strand over two, into the middle."),
        ],
        _ => vec![(
            5,
            0,
            vec![Over, Over, Under, Over, Over],
            "The outer right strand over two, under one, over two, to the left edge.",
        )],
    }
}

/// How much longer a strand is than the loaf it makes (common practice, no source: 1.4 to 1.8); one of a round plait
/// runs from edge to edge and on into its woven legs.
/// Of two that are laid as a cross, each half is worked along the whole loaf.
pub fn lengthens(strands: u32, round: bool, crossed: bool) -> f64 {
    match strands {
        _ if round => 1.9,
        _ if crossed => 3.0,
        1 => 1.8,
        2 => 1.5,
        3 | 4 => 1.6,
        _ => 1.75,
    }
}

/// The legs of a round plait: four strands laid crosswise have eight.
const LEGS: usize = 8;

/// Works out a plait.
///
/// ```
/// use cerealis_core::shape::{BraidInput, Hand, braid};
/// use cerealis_core::units::Grams;
/// let input =
///     BraidInput { dough: Grams(600.0), strands: 3, round: false, crossed: false, hand: Hand::Right, length: 30.0 };
/// let plait = braid(&input).unwrap();
/// assert_eq!(plait.strand, Grams(200.0));
/// assert!(!plait.steps.is_empty());
/// ```
///
/// # Errors
/// A figure outside its range, by its path; a round plait of other than four strands, at `strands`.
pub fn braid(input: &BraidInput) -> Result<BraidOutput, Faults> {
    let mut c = Check::new();
    c.range("dough", "The dough", input.dough.0, 20.0, 10_000.0, "g");
    c.range("strands", "The number of strands", f64::from(input.strands), 1.0, 6.0, "");
    c.range("length", "The plait", input.length, 5.0, 100.0, "cm");
    if input.round && input.strands != 4 {
        c.note(Fault::new("impossible", "strands", "A round plait is woven of four strands."));
    }
    if input.crossed && input.strands != 2 {
        c.note(Fault::new("impossible", "strands", "Laid as a cross, a plait has two strands."));
    }
    c.done(())?;
    let strand = input.dough / f64::from(input.strands);
    let length = input.length * lengthens(input.strands, input.round, input.crossed);
    let mean = (strand.0 / DOUGH_DENSITY / length * 4.0 / std::f64::consts::PI).sqrt();
    let (places, repeats_after, steps, ends) = match (input.round, input.strands) {
        (true, _) => (
            LEGS,
            2,
            round(input.hand),
            "Tuck the ends under, in the direction of the last round, and turn nothing over.".to_owned(),
        ),
        (false, 2) if input.crossed => (
            ENDS,
            2,
            crossed(input.hand),
            "Go on until the ends are short, pinch them and tuck them under; lay it on its side.".to_owned(),
        ),
        (false, 1) => (1, 3, knot(input.hand), "Tuck the last end under.".to_owned()),
        (false, n) => {
            let (repeats, steps) = long(n, input.hand);
            (n as usize, repeats, steps, "Go on to the ends, pinch them and tuck them under.".to_owned())
        }
    };
    Ok(BraidOutput {
        strand,
        strand_range: (strand * 0.98, strand * 1.02),
        strand_length: length,
        thick: (TAPER.0 * mean, TAPER.1 * mean),
        places,
        repeats_after,
        steps,
        ends,
    })
}

fn swapped(text: &str) -> String {
    text.replace("right", "\u{1}").replace("left", "right").replace('\u{1}', "left")
}

/// A move in an order of strands.
fn carry(order: &mut Vec<usize>, m: &Move) {
    let strand = order.remove(m.from);
    order.insert(m.to, strand);
}

fn long(strands: u32, hand: Hand) -> (usize, Vec<BraidStep>) {
    let n = strands as usize;
    let rules = rules(strands);
    let mirrored = |place: usize| if hand == Hand::Left { n - 1 - place } else { place };
    let moves: Vec<(Move, String)> = rules
        .iter()
        .map(|(from, to, passes, says)| {
            let m = Move { from: mirrored(*from), to: mirrored(*to), passes: passes.clone() };
            (m, if hand == Hand::Left { swapped(says) } else { (*says).to_owned() })
        })
        .collect();
    let mut order: Vec<usize> = (0..n).collect();
    let mut steps = Vec::new();
    // Until the pattern shows: each strand has set out once.
    let count = n.max(4).next_multiple_of(moves.len());
    for (m, says) in moves.iter().cycle().take(count) {
        carry(&mut order, m);
        steps.push(BraidStep { says: says.clone(), moves: vec![m.clone()], order: order.clone() });
    }
    (moves.len(), steps)
}

/// One strand is bent so that its two limbs and the loop between them lie side by side.
fn knot(hand: Hand) -> Vec<BraidStep> {
    let step = |says: &str| BraidStep {
        says: if hand == Hand::Left { swapped(says) } else { says.to_owned() },
        moves: Vec::new(),
        order: vec![0],
    };
    vec![
        step("Lay the strand in a loop, the right end over the left."),
        step("Bring the right end round behind and up through the loop."),
        step("Press the left end into the middle from below."),
    ]
}

/// The ends of two strands that are laid as a cross.
const ENDS: usize = 4;

/// The ends of the strand that lies beneath change sides over the other one, passing each other on the same hand; then
/// those of the other strand, which lies beneath now (common practice, no source). Ends are counted clockwise from
/// the top.
fn crossed(hand: Hand) -> Vec<BraidStep> {
    let mut order: Vec<usize> = (0..ENDS).collect();
    let mut steps = vec![BraidStep {
        says: "Lay one strand across the middle of the other: a cross with four ends.".into(),
        moves: Vec::new(),
        order: order.clone(),
    }];
    for n in 0..4 {
        let (a, b) = if n % 2 == 0 { (0, 2) } else { (1, 3) };
        let (ends, side) = match (n % 2, hand) {
            (0, Hand::Right) => ("upper and lower", "right"),
            (0, Hand::Left) => ("upper and lower", "left"),
            (_, Hand::Right) => ("left and right", "lower"),
            (_, Hand::Left) => ("left and right", "upper"),
        };
        order.swap(a, b);
        let moves = [(a, b), (b, a)].map(|(from, to)| Move { from, to, passes: vec![Over] });
        let says = format!(
            "The {ends} ends change places over the middle, the first on the {side} side of the second."
        );
        steps.push(BraidStep { says, moves: moves.to_vec(), order: order.clone() });
    }
    steps
}

/// Legs swap in pairs, first one way round and then the other; the moving leg goes over its neighbour.
fn round(hand: Hand) -> Vec<BraidStep> {
    let mut order: Vec<usize> = (0..LEGS).collect();
    let mut steps = vec![BraidStep {
        says: "Lay two strands side by side, and weave the other two across them: over one and under one, then under and over. Each side has two legs.".into(),
        moves: Vec::new(),
        order: order.clone(),
    }];
    for n in 0..4 {
        // Round by round the pairs shift by one place, and the direction turns.
        let clockwise = (n % 2 == 0) == (hand == Hand::Right);
        let first = n % 2;
        let moves: Vec<Move> = (0..LEGS / 2)
            .map(|pair| {
                let (a, b) = ((2 * pair + first) % LEGS, (2 * pair + first + 1) % LEGS);
                let (from, to) = if clockwise { (a, b) } else { (b, a) };
                Move { from, to, passes: vec![Over] }
            })
            .collect();
        for m in &moves {
            order.swap(m.from, m.to);
        }
        let which = match (n, clockwise) {
            (0, _) => "Each leg that comes from under",
            (_, _) => "Each of the same legs' neighbours",
        };
        let way = if clockwise { "clockwise" } else { "anticlockwise" };
        let says = format!("{which} goes over the next one, {way}: four crossings round about.");
        steps.push(BraidStep { says, moves, order: order.clone() });
    }
    steps
}

#[cfg(test)]
mod tests {
    use super::*;
    use rstest::rstest;

    fn plait(strands: u32, round: bool, hand: Hand) -> BraidOutput {
        braid(&BraidInput { dough: Grams(800.0), strands, round, crossed: false, hand, length: 30.0 })
            .unwrap()
    }

    /// Follows every strand: each step puts each strand in one place, a mover passes just those whose
    /// order to it turns round, and nothing else changes its order.
    #[rstest]
    fn no_strand_passes_through_another(
        #[values(2, 3, 4, 5, 6)] strands: u32,
        #[values(Hand::Right, Hand::Left)] hand: Hand,
    ) {
        let out = plait(strands, false, hand);
        let mut before: Vec<usize> = (0..out.places).collect();
        for step in &out.steps {
            let m = &step.moves[0];
            let mover = before[m.from];
            assert_eq!(step.order[m.to], mover);
            let mut sorted = step.order.clone();
            sorted.sort_unstable();
            assert_eq!(sorted, (0..out.places).collect::<Vec<_>>(), "each strand has one place");
            let at = |order: &[usize], s: usize| order.iter().position(|x| *x == s).unwrap();
            let mut turned = 0;
            for a in 0..out.places {
                for b in 0..a {
                    let was = at(&before, a) < at(&before, b);
                    if was != (at(&step.order, a) < at(&step.order, b)) {
                        assert!(a == mover || b == mover, "two that did not move changed their order");
                        turned += 1;
                    }
                }
            }
            assert_eq!(turned, m.passes.len(), "one over or under for each strand that it passes");
            assert_eq!(turned, m.from.abs_diff(m.to));
            before.clone_from(&step.order);
        }
    }

    /// The ends of a cross change sides two by two: a strand's with its own other end, the two strands in turn, and after
    /// two rounds of both every end lies where it began. From the left it is the mirror of it.
    #[test]
    fn the_ends_of_a_cross_come_home() {
        let of = |hand| {
            braid(&BraidInput {
                dough: Grams(700.0),
                strands: 2,
                round: false,
                crossed: true,
                hand,
                length: 30.0,
            })
            .unwrap()
        };
        let out = of(Hand::Right);
        assert_eq!((out.places, out.strand), (4, Grams(350.0)));
        assert!(out.steps[0].moves.is_empty(), "it is laid first");
        for (n, step) in out.steps.iter().skip(1).enumerate() {
            let ends = if n % 2 == 0 { [0, 2] } else { [1, 3] };
            assert!(
                step.moves.iter().all(|m| ends.contains(&m.from) && ends.contains(&m.to) && m.from != m.to)
            );
        }
        let last = out.steps.last().unwrap();
        assert_eq!(last.order, (0..4).collect::<Vec<_>>());
        assert!(out.strand_length > 2.0 * 30.0, "each half runs along the whole loaf");
        for (right, left) in out.steps.iter().zip(&of(Hand::Left).steps).skip(1) {
            assert!(right.says != left.says && right.order == left.order);
        }
        let three = BraidInput {
            dough: Grams(700.0),
            strands: 3,
            round: false,
            crossed: true,
            hand: Hand::Right,
            length: 30.0,
        };
        assert_eq!(braid(&three).unwrap_err().0[0].path, "strands");
    }

    /// The rule is a permutation that comes round, and on the way every strand moves, lies over and
    /// lies under: nothing can be lifted out.
    #[rstest]
    fn every_strand_is_woven_in(#[values(3, 4, 5, 6)] strands: u32) {
        let rules = rules(strands);
        let n = strands as usize;
        let (mut over, mut under) = (vec![0; n], vec![0; n]);
        let mut order: Vec<usize> = (0..n).collect();
        let mut periods = 0;
        loop {
            for (from, to, passes, _) in &rules {
                let mover = order[*from];
                for (i, p) in passes.iter().enumerate() {
                    let passed = order[if from > to { from - 1 - i } else { from + 1 + i }];
                    let (top, bottom) = if *p == Over { (mover, passed) } else { (passed, mover) };
                    over[top] += 1;
                    under[bottom] += 1;
                }
                carry(&mut order, &Move { from: *from, to: *to, passes: passes.clone() });
            }
            periods += 1;
            if order.iter().enumerate().all(|(i, s)| i == *s) {
                break;
            }
            assert!(periods < 60, "it never comes round");
        }
        assert!(
            over.iter().all(|o| *o > 0) && under.iter().all(|u| *u > 0),
            "{over:?} over, {under:?} under"
        );
    }

    #[test]
    fn a_left_hand_is_the_mirror() {
        for strands in 2..=6 {
            let (r, l) = (plait(strands, false, Hand::Right), plait(strands, false, Hand::Left));
            for (a, b) in r.steps.iter().zip(&l.steps) {
                let n = r.places;
                let mirrored: Vec<usize> = b.order.iter().rev().map(|s| n - 1 - s).collect();
                assert_eq!(a.order, mirrored);
            }
            assert!(l.steps[0].says.to_lowercase().contains("left"));
        }
    }

    /// Eight legs swap with both neighbours in turn, the direction turning each round.
    #[rstest]
    fn a_round_plait_turns(#[values(Hand::Right, Hand::Left)] hand: Hand) {
        let out = plait(4, true, hand);
        let clockwise = |m: &Move| (m.from + 1) % LEGS == m.to;
        for pair in out.steps.windows(2) {
            let moves = &pair[1].moves;
            assert!(moves.iter().all(|m| clockwise(m) == clockwise(&moves[0])), "a round goes one way");
            let mut order = pair[0].order.clone();
            let mut touched = Vec::new();
            for m in moves {
                touched.extend([m.from, m.to]);
                order.swap(m.from, m.to);
            }
            assert_eq!(order, pair[1].order);
            touched.sort_unstable();
            assert_eq!(touched, (0..LEGS).collect::<Vec<_>>(), "every leg takes part once a round");
        }
        let way = |i: usize| clockwise(&out.steps[i].moves[0]);
        assert!(way(1) != way(2) && way(1) == way(3));
        let wrong =
            BraidInput { dough: Grams(800.0), strands: 3, round: true, crossed: false, hand, length: 20.0 };
        assert_eq!(braid(&wrong).unwrap_err().0[0].path, "strands");
    }

    #[test]
    fn strands_are_equal_and_taper() {
        let out = plait(4, false, Hand::Right);
        assert_eq!((out.strand, out.strand_range.0), (Grams(200.0), Grams(196.0)));
        assert!((1.4..=1.8).contains(&(out.strand_length / 30.0)));
        assert!(out.thick.0 > out.thick.1 && (1.0..4.0).contains(&out.thick.0), "{:?}", out.thick);
        assert_eq!(plait(1, false, Hand::Right).steps.len(), 3);
    }
}
