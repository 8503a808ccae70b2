//! What a course comes to: a figure for each stage, counted once.

use super::baking::baking;
use super::chain::{At, Stands, hydrates};
use super::frames::{Frame, Frames, Tells, Timed, waits};
use super::lexicon::Act;
use crate::finding::{Finding, Found};
use crate::quantity::Count;

/// The longest that yeast stands in liquid, min (common practice, no source).
const BLOOM_MOST: f64 = 30.0;

pub(super) struct Sheet<'a> {
    pub(super) all: &'a Frames,
    pub(super) stands: &'a [Stands],
    pub(super) out: Vec<Finding>,
    /// Whether the rest on the bench is one.
    pub(super) benched: bool,
}

impl Sheet<'_> {
    pub(super) fn put(&mut self, found: Found, count: Count, key: &str, sentence: usize) {
        let text = self.all.sentences[sentence].text.clone();
        self.out.push(Finding { found, low: count.low, high: count.high, key: key.to_owned(), text });
    }

    /// The frames of a stage that have a time of these kinds.
    pub(super) fn of(&self, at: At, tells: &[Tells]) -> Vec<(usize, &Frame, Timed)> {
        let frames = self.all.frames.iter().enumerate().filter(|(i, _)| self.stands[*i].at == at);
        frames.filter_map(|(i, f)| Some((i, f, f.time.filter(|t| tells.contains(&t.tells))?))).collect()
    }

    /// Whether it is folded between two frames.
    fn folded_between(&self, from: usize, to: usize) -> bool {
        (from..=to).any(|i| self.all.frames[i].acts.iter().any(|a| matches!(a, Act::Fold | Act::Knock)))
    }

    /// One figure of a rise: what is told of all of it, or what its parts come to.
    fn rise(&self, at: At) -> Option<(Count, usize)> {
        if let Some((_, f, t)) = self.of(at, &[Tells::Total]).first() {
            return Some((t.minutes, f.sentence));
        }
        let parts: Vec<(usize, &Frame, Timed)> =
            self.of(at, &[Tells::Lasts, Tells::More]).into_iter().filter(|(_, f, _)| !f.cold).collect();
        let Some((first, rest)) = parts.split_first() else {
            // “When it has risen, after 70 minutes”
            let after = self
                .of(at, &[Tells::After])
                .into_iter()
                .find(|(_, f, _)| f.acts.iter().any(|a| waits(*a)))?;
            return Some((after.2.minutes, after.1.sentence));
        };
        let mut sum = first.2.minutes;
        let mut last = first.0;
        for (i, _, t) in rest {
            let further = t.tells == Tells::More || self.folded_between(last, *i);
            // What is told twice is counted once.
            if further {
                sum = Count { low: sum.low + t.minutes.low, high: sum.high + t.minutes.high };
                last = *i;
            }
        }
        Some((sum, first.1.sentence))
    }
}

/// All findings of times and temperatures.
pub(super) fn findings(all: &Frames, stands: &[Stands]) -> Vec<Finding> {
    let mut sheet = Sheet { all, stands, out: Vec::new(), benched: true };
    let lasts = [Tells::Lasts, Tells::More, Tells::Total];
    for (at, found) in [(At::Ahead, Found::Preferment), (At::Soak, Found::Soaker)] {
        let of: Vec<(Count, usize)> = sheet
            .of(at, &lasts)
            .into_iter()
            .filter(|(_, _, t)| t.minutes.high >= 20.0)
            .map(|(_, f, t)| (t.minutes, f.sentence))
            .collect();
        for (count, sentence) in of {
            sheet.put(found, count, "", sentence);
        }
    }
    let bloom = sheet
        .of(At::Bloom, &lasts)
        .into_iter()
        .find(|(_, _, t)| t.minutes.high <= BLOOM_MOST)
        .map(|(_, f, t)| (t.minutes, f.sentence));
    if let Some((count, sentence)) = bloom {
        sheet.put(Found::Bloom, count, "", sentence);
    }
    // What rests after it is kneaded is no autolyse: it is the rise where nothing else is.
    let kneaded = (0..all.frames.len()).find(|i| stands[*i].at == At::Knead).unwrap_or(usize::MAX);
    let rests: Vec<(usize, Count, usize, bool)> = sheet
        .of(At::Autolyse, &lasts)
        .into_iter()
        .map(|(i, f, t)| (i, t.minutes, f.sentence, hydrates(all, f)))
        .collect();
    let autolyse = rests.iter().find(|(_, _, _, named)| *named).map(|(_, c, s, _)| (*c, *s));
    let rested = rests.iter().find(|(i, _, _, named)| !*named && *i > kneaded).map(|(_, c, s, _)| (*c, *s));
    let knead: Vec<(Count, usize)> = kneading(&sheet);
    if let Some((first, sentence)) = autolyse {
        sheet.put(Found::Autolyse, first, "", sentence);
    }
    if let Some((_, sentence)) = knead.first().copied() {
        let sum = knead.iter().fold(Count { low: 0.0, high: 0.0 }, |a, (c, _)| Count {
            low: a.low + c.low,
            high: a.high + c.high,
        });
        sheet.put(Found::Knead, sum, "", sentence);
    }
    for (at, found, key) in [
        (At::Bulk, Found::Bulk, "bulk"),
        (At::Second, Found::Second, "bulk"),
        (At::Proof, Found::Proof, "proof"),
    ] {
        if let Some((count, sentence)) = sheet.rise(at).or(rested.filter(|_| at == At::Bulk)) {
            sheet.put(found, count, "", sentence);
        }
        let cold = sheet
            .of(at, &[Tells::Lasts, Tells::More])
            .into_iter()
            .find(|(_, f, t)| f.cold && t.minutes.high >= 60.0)
            .map(|(_, f, t)| (t.minutes, f.sentence));
        if let Some((count, sentence)) =
            cold.filter(|_| !sheet.out.iter().any(|f| f.found == Found::Fridge && f.key == key))
        {
            sheet.put(Found::Fridge, count, key, sentence);
        }
    }
    bench_or_proof(&mut sheet);
    let bench = sheet.of(At::Bench, &lasts).first().map(|(_, f, t)| (t.minutes, f.sentence));
    if let Some((count, sentence)) = bench.filter(|_| sheet.benched) {
        sheet.put(Found::Rest, count, "", sentence);
    }
    folds(&mut sheet);
    heats(&mut sheet);
    baking(&mut sheet);
    let baked = (0..all.frames.len()).find(|i| stands[*i].at == At::Bake).unwrap_or(usize::MAX);
    let cooling: Vec<(Count, usize, bool)> = sheet
        .of(At::Cool, &lasts)
        .into_iter()
        .filter(|(i, f, _)| *i > baked && f.acts.contains(&Act::Cool))
        .map(|(_, f, t)| (t.minutes, f.sentence, in_its_tin(&all.sentences[f.sentence].lower, t)))
        .collect();
    for (found, inside) in [(Found::CoolsIn, true), (Found::Cool, false)] {
        if let Some((count, sentence, _)) = cooling.iter().find(|(_, _, i)| *i == inside).copied() {
            sheet.put(found, count, "", sentence);
        }
    }
    sheet.out
}

/// The times of kneading: those of mixing only where a mixer runs or nothing else is told.
fn kneading(sheet: &Sheet<'_>) -> Vec<(Count, usize)> {
    let lasts = [Tells::Lasts, Tells::More, Tells::Total];
    // What is kneaded again after its rise is told by itself.
    let risen = sheet.of(At::Bulk, &[Tells::Lasts]).first().map_or(usize::MAX, |(i, _, _)| *i);
    let of = |at: At| -> Vec<(Count, usize, bool)> {
        let butter =
            |f: &Frame| f.acts.is_empty() && sheet.all.sentences[f.sentence].lower.contains("butter");
        let told = sheet.of(at, &lasts).into_iter().filter(|(i, f, t)| {
            *i < risen && (0.5..=60.0).contains(&t.minutes.low) && !butter(f) && f.acts != [Act::Fold]
        });
        told.map(|(_, f, t)| (t.minutes, f.sentence, f.acts.contains(&Act::Knead))).collect()
    };
    if let Some((_, f, t)) = sheet.of(At::Knead, &[Tells::Total]).first() {
        return vec![(t.minutes, f.sentence)];
    }
    let (kneads, mixes) = (of(At::Knead), of(At::Mix));
    let only = kneads.is_empty();
    let all = kneads.into_iter().chain(mixes.into_iter().filter(|(_, _, knead)| only || *knead));
    all.map(|(c, s, _)| (c, s)).collect()
}

/// A rest behind shaping that nothing but the oven follows is the proof.
fn bench_or_proof(sheet: &mut Sheet<'_>) {
    if sheet.out.iter().any(|f| f.found == Found::Proof || f.found == Found::Fridge && f.key == "proof") {
        return;
    }
    let lasts = [Tells::Lasts, Tells::More, Tells::Total];
    let last = sheet.of(At::Bench, &lasts).last().map(|(i, f, t)| (*i, t.minutes, f.sentence));
    let Some((i, minutes, sentence)) = last else { return };
    let shaped = (i + 1..sheet.all.frames.len())
        .any(|n| matches!(sheet.stands[n].at, At::Shape | At::Divide | At::Proof));
    if !shaped {
        sheet.put(Found::Proof, minutes, "", sentence);
        sheet.benched = false;
    }
}

/// Whether a time is one in the tin: what is said since the last figure, and right behind it.
fn in_its_tin(lower: &str, time: Timed) -> bool {
    let before = &lower[..time.from];
    let before =
        &before[before.rfind(|c: char| c.is_ascii_digit() || matches!(c, ',' | ';')).map_or(0, |i| i + 1)..];
    let after = &lower[time.to..];
    let after = &after[..after.find([',', ';', '.']).unwrap_or(after.len())];
    let says = |text: &str, words: &[&str]| words.iter().any(|w| text.contains(w));
    let tins = [
        "in the tin",
        "in its tin",
        "in the pan",
        "in its pan",
        "in their pan",
        "in their tin",
        "in the pot",
        "in tins",
        "in pan",
        "in tin",
    ];
    match (says(before, &tins), says(before, &["rack"])) {
        (true, rack) => !rack,
        (false, true) => false,
        (false, false) => tins.iter().any(|w| after.trim_start().starts_with(w)),
    }
}

/// How often, and how far apart, it is folded.
fn folds(sheet: &mut Sheet<'_>) {
    let every = sheet
        .all
        .frames
        .iter()
        .enumerate()
        .filter(|(i, _)| matches!(sheet.stands[*i].at, At::Bulk | At::Knead | At::Mix))
        .find_map(|(_, f)| f.time.filter(|t| t.tells == Tells::Every).map(|t| (t.minutes, f.sentence)));
    if let Some((count, sentence)) = every {
        sheet.put(Found::FoldsEvery, count, "", sentence);
    }
}

/// Temperatures of the liquid, of places and of the core.
fn heats(sheet: &mut Sheet<'_>) {
    let mut told: Vec<(Found, Count, usize)> = Vec::new();
    for h in &sheet.all.heats {
        let lower = &sheet.all.sentences[h.sentence].lower;
        let own = &lower[h.clause.0..h.clause.1];
        let says = |words: &[&str]| words.iter().any(|w| own.contains(w));
        let all_says = |words: &[&str]| words.iter().any(|w| lower.contains(w));
        let at = h.frames.checked_sub(1).map_or(At::Mix, |i| sheet.stands[i].at);
        // What lasts at it, in its sentence, tells where it is.
        let near = (0..sheet.all.frames.len())
            .filter(|i| sheet.all.frames[*i].sentence == h.sentence && sheet.all.frames[*i].time.is_some());
        let near = near.min_by_key(|i| sheet.all.frames[*i].at.abs_diff(h.from)).map(|i| sheet.stands[i].at);
        let at = near.unwrap_or(at);
        let t = h.celsius;
        let core = all_says(&[
            "core",
            "internal",
            "inside",
            "thermometer",
            "centre",
            "center",
            "middle reads",
            "reads",
            "probe",
        ]) && !says(&["oven"]);
        let waits_at = (0..sheet.all.frames.len())
            .filter(|i| {
                let f = &sheet.all.frames[*i];
                f.sentence == h.sentence
                    && f.time.is_some()
                    && !f.acts.is_empty()
                    && f.acts.iter().all(|a| waits(*a))
            })
            .min_by_key(|i| sheet.all.frames[*i].at.abs_diff(h.from));
        if t.low > 102.0 && core && lower.contains("core")
            || (70.0..=102.0).contains(&t.low) && (at >= At::Finish || core)
        {
            told.push((Found::Core, t, h.sentence));
        } else if (15.0..=60.0).contains(&t.low)
            && at <= At::Knead
            && (waits_at.is_none() || says(&["water", "milk"]))
            && says(&[
                "water",
                "milk",
                "liquid",
                "lukewarm",
                "tepid",
                "warm",
                "cool to",
                "cooled to",
                "degrees",
            ])
            && !all_says(&["ddt", "dough temperature", "room"])
        {
            told.push((Found::Liquid, t, h.sentence));
        } else if (10.0..=50.0).contains(&t.low) && !all_says(&["ddt", "dough temp"]) {
            match at {
                At::Proof => told.push((Found::ProofPlace, t, h.sentence)),
                At::Bulk | At::Second => told.push((Found::BulkPlace, t, h.sentence)),
                At::Autolyse if waits_at.is_some() => told.push((Found::BulkPlace, t, h.sentence)),
                _ => {}
            }
        }
    }
    for (found, count, sentence) in told {
        if !sheet.out.iter().any(|f| f.found == found) {
            sheet.put(found, count, "", sentence);
        }
    }
}
