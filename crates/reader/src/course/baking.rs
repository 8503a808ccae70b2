//! The oven: what it is heated to, and the stretches of the bake with their temperature and lid.

use super::chain::At;
use super::findings::Sheet;
use super::frames::{Heated, Tells};
use super::lexicon::{Act, ENGLISH};
use crate::finding::Found;
use crate::quantity::Count;

/// The coolest oven, °C.
const OVEN: f64 = 115.0;

/// A stretch of the bake.
struct Stretch {
    minutes: Count,
    at: Option<Count>,
    under: Option<bool>,
    sentence: usize,
}

/// A thing of the bake, in its place.
enum Thing {
    Heat(Heated),
    Time(usize),
    Lid(bool),
}

pub(super) fn baking(sheet: &mut Sheet<'_>) {
    let frames = &sheet.all.frames;
    let ovens: Vec<Heated> =
        sheet.all.heats.iter().copied().filter(|h| h.celsius.low >= OVEN && !of_the_core(sheet, h)).collect();
    let first_bake = (0..frames.len()).find(|i| sheet.stands[*i].at == At::Bake && frames[*i].time.is_some());
    let preheat = ovens
        .iter()
        .copied()
        .find(|h| h.act == Some(Act::Heat) && first_bake.is_none_or(|b| h.frames <= b))
        .or_else(|| {
            ovens
                .first()
                .copied()
                .filter(|h| first_bake.is_none_or(|b| h.frames < b) && h.act != Some(Act::Bake))
        });
    let mut things: Vec<((usize, usize), Thing)> = Vec::new();
    for h in &ovens {
        things.push(((h.sentence, h.from), Thing::Heat(*h)));
    }
    for (i, f) in frames.iter().enumerate().filter(|(i, _)| sheet.stands[*i].at == At::Bake) {
        for a in &f.acts {
            if let Some(on) = match a {
                Act::LidOn => Some(true),
                Act::LidOff => Some(false),
                _ => None,
            } {
                things.push(((f.sentence, f.at), Thing::Lid(on)));
            }
        }
        if f.time.is_some() {
            things.push(((f.sentence, f.at), Thing::Time(i)));
        }
    }
    things.sort_by_key(|(at, _)| *at);
    let mut now = preheat.map(|h| h.celsius);
    let mut lid = None;
    let mut stretches: Vec<Stretch> = Vec::new();
    let mut foil = None;
    let mut total = None;
    let mut pending: Option<Count> = None;
    for (n, (_, thing)) in things.iter().enumerate() {
        match thing {
            Thing::Lid(on) => lid = Some(*on),
            Thing::Heat(h) => {
                let lowers = h.act == Some(Act::Lower);
                let open = stretches.last_mut().filter(|s| s.at.is_none() && !lowers && pending.is_none());
                if let Some(s) = open {
                    s.at = Some(h.celsius);
                }
                now = Some(h.celsius);
            }
            Thing::Time(i) => {
                let f = &frames[*i];
                let Some(time) = f.time else { continue };
                let lower = &sheet.all.sentences[f.sentence].lower;
                let own = &lower[f.clause.0..f.clause.1];
                let foils = f.acts.contains(&Act::Foil) || own.contains("foil");
                let aside = f.acts.iter().any(|a| matches!(a, Act::TurnRound | Act::Steam | Act::Heat))
                    && time.tells != Tells::Lasts;
                // “15 minutes at 220”, “25 at 190”
                let behind = things[n + 1..]
                    .iter()
                    .find_map(|(_, t)| if let Thing::Heat(h) = t { Some(h) } else { None });
                let next_time =
                    things[n + 1..].iter().find_map(|(at, t)| matches!(t, Thing::Time(_)).then_some(*at));
                let at_it = behind.filter(|h| {
                    let between = lower.get(time.to..h.from).unwrap_or("x").trim();
                    let led = ["at", "@", "in a", "in the", "oven", "in an oven of"].iter().any(|w| {
                        between == *w
                            || between.ends_with(&format!(" {w}"))
                            || between.starts_with(w) && between.len() < 12
                    });
                    // “220 °C for 15 minutes, then at 190 °C another 25”
                    let parted = [",", "then", "and"].iter().any(|w| between.contains(w))
                        && next_time.is_some_and(|t| t.0 == f.sentence);
                    h.sentence == f.sentence
                        && !parted
                        && h.from >= time.to
                        && led
                        && next_time.is_none_or(|t| t > (h.sentence, h.from))
                        && !between.contains("turn")
                        && !between.contains("lower")
                        && !between.contains("reduce")
                        && !between.contains("down")
                });
                match time.tells {
                    Tells::After | Tells::Beside if foils => {
                        foil = foil.or(Some((time.minutes, f.sentence, "after")))
                    }
                    Tells::Within if foils => {
                        let first = lower[..time.from].trim_end().ends_with("first");
                        foil =
                            foil.or(Some((time.minutes, f.sentence, if first { "first" } else { "last" })));
                    }
                    Tells::After
                        if f.acts.iter().any(|a| matches!(a, Act::Lower | Act::LidOff))
                            && stretches.is_empty() =>
                    {
                        pending = Some(time.minutes);
                        stretches.push(Stretch {
                            minutes: time.minutes,
                            at: now,
                            under: lid.or(f.acts.contains(&Act::LidOff).then_some(true)),
                            sentence: f.sentence,
                        });
                    }
                    Tells::Total => total = Some((time.minutes, f.sentence)),
                    Tells::Lasts | Tells::More if !aside => {
                        lid = lid_near(lower, time.from, time.to, lid).or(lid);
                        if let Some(h) = at_it {
                            now = Some(h.celsius);
                        }
                        // What is told twice is counted once.
                        let again = stretches
                            .iter()
                            .any(|s| s.minutes == time.minutes && s.at == now && s.sentence != f.sentence)
                            && time.tells == Tells::Lasts
                            && lid.is_none();
                        if !again {
                            stretches.push(Stretch {
                                minutes: time.minutes,
                                at: now,
                                under: lid,
                                sentence: f.sentence,
                            });
                        }
                        pending = None;
                    }
                    _ => {}
                }
            }
        }
    }
    // Under a lid it bakes at what is said of the bake, where the oven is not turned down.
    let lowered = things.iter().any(|(_, t)| matches!(t, Thing::Heat(h) if h.act == Some(Act::Lower)));
    let heated = preheat.filter(|h| h.act == Some(Act::Heat)).map(|h| h.celsius);
    let said = stretches.iter().filter_map(|s| s.at).find(|t| Some(*t) != heated);
    if let Some(said) = said.filter(|_| !lowered && stretches.iter().any(|s| s.under.is_some())) {
        stretches.iter_mut().filter(|s| s.at == heated).for_each(|s| s.at = Some(said));
    }
    if ovens.is_empty() {
        oven_in_words(sheet);
    }
    put(sheet, preheat, &ovens, stretches, total, foil);
}

/// “A moderate oven”, where no figure is said.
fn oven_in_words(sheet: &mut Sheet<'_>) {
    let said = sheet.all.sentences.iter().enumerate().find_map(|(n, s)| {
        let word = ENGLISH.ovens.iter().find(|(w, _)| s.lower.contains(&format!("{w} oven")))?;
        Some((n, word.1))
    });
    if let Some((sentence, celsius)) = said {
        sheet.put(Found::Oven, Count { low: celsius, high: celsius }, "", sentence);
    }
}

/// Whether a lid is on for a time: what is said of it behind the time, up to the next stop, and else before it.
fn lid_near(lower: &str, from: usize, to: usize, lid: Option<bool>) -> Option<bool> {
    let stops = |c: char| matches!(c, ',' | ';' | '.' | '(' | ')') || c.is_ascii_digit();
    let after = &lower[to..];
    let after = &after[..after.find(stops).unwrap_or(after.len())];
    let after = after.split(" then ").next().unwrap_or(after);
    let before = &lower[..from];
    let before =
        &before[before.rfind(|c: char| c.is_ascii_digit() || matches!(c, ';' | '.')).map_or(0, |i| i + 1)..];
    let off = [
        "lid off",
        "uncover",
        "with it off",
        "remove the lid",
        "lid removed",
        "without the lid",
        "without a lid",
        "no lid",
        "open",
    ];
    let on = [
        "lid on",
        "covered",
        "with the lid",
        "with lid",
        "with its lid",
        "under a",
        "under the",
        "lidded",
        "put the lid",
        "put on the lid",
    ];
    [after, before].into_iter().find_map(|text| {
        let says = |words: &[&str]| words.iter().any(|w| text.contains(w));
        if says(&off) || lid.is_some() && says(&["without"]) {
            Some(false)
        } else if says(&on) {
            Some(true)
        } else {
            None
        }
    })
}

fn of_the_core(sheet: &Sheet<'_>, h: &Heated) -> bool {
    let lower = &sheet.all.sentences[h.sentence].lower;
    let own = &lower[h.clause.0..h.clause.1];
    h.celsius.low < 115.0
        || ["internal", "thermometer", "core", "centre reads", "center reads", "center should", "inside"]
            .iter()
            .any(|w| own.contains(w))
            && !own.contains("oven")
}

fn put(
    sheet: &mut Sheet<'_>,
    preheat: Option<Heated>,
    ovens: &[Heated],
    stretches: Vec<Stretch>,
    total: Option<(Count, usize)>,
    foil: Option<(Count, usize, &str)>,
) {
    let sentence_of = |t: Count| ovens.iter().find(|h| h.celsius == t).map_or(0, |h| h.sentence);
    let mut settings: Vec<Count> = Vec::new();
    for s in stretches.iter().filter_map(|s| s.at) {
        if settings.last() != Some(&s) {
            settings.push(s);
        }
    }
    if settings.is_empty() {
        settings.extend(ovens.last().map(|h| h.celsius));
    }
    if let Some(h) = preheat.filter(|h| h.act == Some(Act::Heat)) {
        sheet.put(Found::Preheat, h.celsius, "", h.sentence);
    }
    if let (Some(first), true) = (settings.first().copied(), settings.len() > 1) {
        sheet.put(Found::HotStart, first, "", sentence_of(first));
        let hot = stretches.iter().take_while(|s| s.at == Some(first)).fold(
            Count { low: 0.0, high: 0.0 },
            |a, s| Count { low: a.low + s.minutes.low, high: a.high + s.minutes.high },
        );
        sheet.put(Found::HotMinutes, hot, "", sentence_of(first));
    }
    if let Some(last) = settings.last().copied() {
        sheet.put(Found::Oven, last, "", sentence_of(last));
    }
    let sum = |under: Option<bool>| {
        let of: Vec<&Stretch> = stretches.iter().filter(|s| under.is_none() || s.under == under).collect();
        let first = of.first()?;
        Some((
            of.iter().fold(Count { low: 0.0, high: 0.0 }, |a, s| Count {
                low: a.low + s.minutes.low,
                high: a.high + s.minutes.high,
            }),
            first.sentence,
        ))
    };
    if stretches.iter().any(|s| s.under == Some(true)) {
        for (under, found) in [(true, Found::Covered), (false, Found::Uncovered)] {
            if let Some((count, sentence)) = sum(Some(under)) {
                sheet.put(found, count, "", sentence);
            }
        }
    }
    // “The plait for 25 minutes and the loaf for 35” bake beside each other.
    let beside = stretches.windows(2).any(|w| {
        let lower = &sheet.all.sentences[w[0].sentence].lower;
        w[0].sentence == w[1].sentence
            && w[0].under == w[1].under
            && lower.matches("the ").count() >= 2
            && lower.matches(" for ").count() >= 2
            && !lower.contains("then")
            && !lower.contains("more")
            && !lower.contains("lid")
    });
    let bake = total.or_else(|| sum(None)).filter(|_| !beside);
    if let Some((count, sentence)) = bake {
        sheet.put(Found::Bake, count, "", sentence);
    }
    if let (Some((minutes, sentence, how)), bake) = (foil, bake) {
        let after = match (how, bake) {
            ("last", Some((b, _))) if b.low > minutes.low => {
                Count { low: b.low - minutes.low, high: b.low - minutes.low }
            }
            _ => minutes,
        };
        sheet.put(Found::Foil, after, if how == "first" { "from-the-start" } else { "" }, sentence);
    }
}
