//! The course: every frame may mean a few stages, each at a cost; the cheapest way through all of them counts.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::Deserialize;

use super::frames::{Frame, Frames, Tells, waits};
use super::lexicon::{Act, Noun};

/// A stage of the work, in its order.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Deserialize)]
#[serde(rename_all = "lowercase")]
pub(crate) enum At {
    /// Something made ahead.
    Ahead,
    /// A soaker or scald.
    Soak,
    /// Yeast stands in liquid.
    Bloom,
    /// Mixing.
    Mix,
    /// A rest before kneading, or between mixing and kneading.
    Autolyse,
    /// Kneading.
    Knead,
    /// The bulk rise.
    Bulk,
    /// A second one.
    Second,
    /// Dividing.
    Divide,
    /// A rest on the bench.
    Bench,
    /// Shaping.
    Shape,
    /// The proof.
    Proof,
    /// Washing, cutting, bathing.
    Finish,
    /// Baking.
    Bake,
    /// Cooling.
    Cool,
}

/// All stages, in their order.
pub(crate) const ALL: [At; 15] = [
    At::Ahead,
    At::Soak,
    At::Bloom,
    At::Mix,
    At::Autolyse,
    At::Knead,
    At::Bulk,
    At::Second,
    At::Divide,
    At::Bench,
    At::Shape,
    At::Proof,
    At::Finish,
    At::Bake,
    At::Cool,
];

#[derive(Deserialize)]
struct Costs {
    other: f64,
    back: f64,
    unshaped: f64,
    undivided: f64,
    act: BTreeMap<String, BTreeMap<At, f64>>,
    usual: BTreeMap<String, (f64, f64)>,
}

static COSTS: LazyLock<Costs> = LazyLock::new(|| {
    toml::from_str(include_str!("costs.toml")).unwrap_or_else(|e| unreachable!("the costs: {e}"))
});

/// Where a frame stands, and by how much the next best course is dearer.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Stands {
    pub(crate) at: At,
    /// The stage that it has in the cheapest course where it has another.
    pub(crate) else_at: At,
    /// What that costs more.
    pub(crate) margin: f64,
}

/// How much an act tells: of several in one frame those that tell most count.
fn tells_much(act: Act) -> u8 {
    use Act::*;
    match act {
        Bulk | Proof | Autolyse | Second | Ripen | Bloom | Soak | Cool => 3,
        Rise | Chill => 2,
        Rest => 1,
        _ if waits(act) => 0,
        _ => 4,
    }
}

fn name(act: Act) -> String {
    format!("{act:?}").to_lowercase()
}

fn act_cost(act: Act, at: At) -> f64 {
    COSTS.act.get(&name(act)).and_then(|c| c.get(&at)).copied().unwrap_or(COSTS.other)
}

fn far(minutes: f64, usual: &str) -> f64 {
    let Some((mean, spread)) = COSTS.usual.get(usual) else { return 0.0 };
    let z = (minutes.max(0.2) / mean).ln() / spread;
    (0.5 * z * z).min(4.0)
}

/// What it costs to take a frame for a stage.
fn cost(all: &Frames, frame: &Frame, at: At) -> f64 {
    let sentence = &all.sentences[frame.sentence];
    let lower = sentence.lower.as_str();
    let own = &lower[frame.clause.0..frame.clause.1];
    let most = frame.acts.iter().map(|a| tells_much(*a)).max();
    let by_act = match most {
        None => COSTS.act.get("none").and_then(|c| c.get(&at)).copied().unwrap_or(COSTS.other),
        Some(most) => frame
            .acts
            .iter()
            .filter(|a| tells_much(**a) == most)
            .map(|a| act_cost(*a, at))
            .fold(f64::INFINITY, f64::min),
    };
    let mut cost = by_act;
    let wait = frame.acts.iter().all(|a| waits(*a));
    if let Some(time) = frame.time.filter(|t| matches!(t.tells, Tells::Lasts | Tells::More | Tells::Total)) {
        let minutes = (time.minutes.low * time.minutes.high).sqrt();
        let key = format!("{at:?}").to_lowercase();
        let usual = far(minutes, &key);
        cost += match at {
            At::Bulk | At::Proof | At::Second if frame.cold => far(minutes, "cold").min(usual + 1.0),
            At::Bulk => usual.min(far(minutes, "counter") + 0.3),
            _ => usual,
        };
        if frame.cold
            && !matches!(at, At::Bulk | At::Proof | At::Second | At::Ahead | At::Soak | At::Cool | At::Bench)
        {
            cost += 2.0;
        }
    }
    let says = |words: &[&str]| words.iter().any(|w| own.contains(w));
    let all_says = |words: &[&str]| words.iter().any(|w| lower.contains(w));
    match sentence.section {
        Some(Noun::Preferment) if at == At::Ahead => cost -= 2.0,
        Some(Noun::Soaked) if at == At::Soak => cost -= 2.0,
        Some(Noun::Preferment | Noun::Soaked) => cost += 0.7,
        _ if at == At::Ahead || at == At::Soak => cost += 1.0,
        _ => {}
    }
    if wait {
        let nouns = &sentence.nouns;
        if at == At::Bloom {
            let stands = nouns.contains(&Noun::Yeast)
                && !nouns.contains(&Noun::Flour)
                && !all_says(&["knead", "dough"]);
            cost += if stands { -2.0 } else { 1.0 };
        }
        if at == At::Autolyse && hydrates(all, frame) {
            cost -= 1.5;
        }
        let cues: [(&[&str], At, f64); 8] = [
            (
                &[
                    "final",
                    "last",
                    "shaped",
                    "loaves",
                    "buns",
                    "rolls",
                    "in the tin",
                    "in the pan",
                    "in its basket",
                    "in the basket",
                    "rim",
                    "until puffy",
                    "touching",
                    "in tins",
                    "on the tray",
                ],
                At::Proof,
                1.0,
            ),
            (&["first", "in the bowl", "in a bowl", "the dough", "tub"], At::Bulk, 0.7),
            (&["again", "second", "once more"], At::Second, 0.5),
            (&["again", "second", "once more"], At::Proof, 0.5),
            (&["bench", "balls rest", "rest the balls", "seam"], At::Bench, 0.7),
            (&["rack", "slic", "cut"], At::Cool, 1.5),
            (&["overnight", "next day", "morning"], At::Ahead, 0.2),
            (&["before kneading", "hydrate", "absorb"], At::Autolyse, 1.5),
        ];
        for (words, of, less) in cues {
            if at == of && says(words) {
                cost -= less;
            }
        }
    }
    let hot = all
        .heats
        .iter()
        .any(|h| h.sentence == frame.sentence && h.celsius.low >= 130.0 && h.act != Some(Act::Heat));
    if at == At::Bake && frame.time.is_some() && (hot || says(&["oven", "lid"])) {
        cost -= 1.5;
    }
    cost
}

/// Whether flour and water alone stand: said so, or salt and what raises it come after.
pub(crate) fn hydrates(all: &Frames, frame: &Frame) -> bool {
    let sentence = &all.sentences[frame.sentence];
    let lower = sentence.lower.as_str();
    let nouns = &sentence.nouns;
    let plain = nouns.contains(&Noun::Flour)
        && nouns.contains(&Noun::Liquid)
        && !nouns.contains(&Noun::Yeast)
        && !["salt", "starter", "levain", "everything", "all the"].iter().any(|w| lower.contains(w));
    let next = all.sentences.get(frame.sentence + 1).map_or("", |s| s.lower.trim_start());
    let added = [
        "add the salt",
        "add salt",
        "add the levain",
        "add levain",
        "add the starter",
        "add starter",
        "add the rest",
        "sprinkle the salt",
        "sprinkle over the salt",
        "sprinkle the yeast",
        "add the yeast",
        "work in the s",
        "work the salt",
    ];
    plain || added.iter().any(|w| next.starts_with(w)) || frame.acts.contains(&Act::Autolyse)
}

/// What it costs to go on from one stage to another.
fn step(from: At, to: At, frame: &Frame) -> f64 {
    use At::*;
    let knocked = frame.acts.iter().any(|a| matches!(a, Act::Knock | Act::Second));
    match (from, to) {
        (a, b) if a == b => match b {
            Bulk | Proof if frame.acts.iter().all(|a| waits(*a)) => 0.6,
            _ => 0.0,
        },
        (Ahead, Soak) | (Soak, Ahead | Bloom) | (Bloom, Ahead) => 0.5,
        (Autolyse, Mix) | (Knead, Mix | Autolyse) => 0.3,
        (Mix, Bloom | Soak) => 1.0,
        (Mix, Ahead) => 2.0,
        (Bench, Divide) | (Shape, Divide) | (Shape, Bench) => 1.0,
        (Finish, Proof) | (Bake, Finish) | (Cool, Finish) => 1.0,
        (Bulk, Knead | Mix) => 2.0,
        (Second, Bulk) => 2.0,
        (Bulk, Second) if knocked => 0.0,
        (_, Second) if from != Bulk => COSTS.back,
        (Bulk | Second | Knead | Mix | Autolyse, Bench) => COSTS.undivided,
        (Ahead | Soak | Bloom | Mix | Autolyse | Knead, Proof) => COSTS.unshaped + 1.0,
        (Bulk | Second, Proof) => COSTS.unshaped,
        (a, b) if b < a => COSTS.back,
        _ => 0.0,
    }
}

/// The cheapest course through all frames, with what the next best costs more at each.
pub(crate) fn course(all: &Frames) -> Vec<Stands> {
    let frames = &all.frames;
    let (n, k) = (frames.len(), ALL.len());
    if n == 0 {
        return Vec::new();
    }
    let costs: Vec<Vec<f64>> =
        frames.iter().map(|f| ALL.iter().map(|at| cost(all, f, *at)).collect()).collect();
    let mut fore = vec![vec![f64::INFINITY; k]; n];
    let mut from = vec![vec![0; k]; n];
    for s in 0..k {
        fore[0][s] = costs[0][s];
    }
    for i in 1..n {
        for s in 0..k {
            for b in 0..k {
                let c = fore[i - 1][b] + step(ALL[b], ALL[s], &frames[i]);
                if c < fore[i][s] {
                    (fore[i][s], from[i][s]) = (c, b);
                }
            }
            fore[i][s] += costs[i][s];
        }
    }
    let mut back = vec![vec![0.0; k]; n];
    for i in (0..n - 1).rev() {
        for b in 0..k {
            back[i][b] = (0..k)
                .map(|s| step(ALL[b], ALL[s], &frames[i + 1]) + costs[i + 1][s] + back[i + 1][s])
                .fold(f64::INFINITY, f64::min);
        }
    }
    let least = |row: &[f64]| (0..k).min_by(|a, b| row[*a].total_cmp(&row[*b])).unwrap_or(0);
    let mut s = least(&fore[n - 1]);
    let mut path = vec![0; n];
    for i in (0..n).rev() {
        path[i] = s;
        s = from[i][s];
    }
    let best = fore[n - 1][path[n - 1]];
    (0..n)
        .map(|i| {
            let through: Vec<f64> =
                (0..k).map(|s| if s == path[i] { f64::INFINITY } else { fore[i][s] + back[i][s] }).collect();
            let other = least(&through);
            Stands { at: ALL[path[i]], else_at: ALL[other], margin: through[other] - best }
        })
        .collect()
}
