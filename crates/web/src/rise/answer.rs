//! The Rise station: when to be back, and what moves it.

use askama::Template;
use cerealis_core::fault::Faults;
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::rise::{Forecast, Matter, RiseOutput, RiseWish};
use cerealis_core::stations::{Ahead, Stations};
use cerealis_core::units::{Celsius, Grams, Minutes, shown};
use cerealis_core::words::Handling;
use cerealis_reader::Found;
use cerealis_store::FormulaId;
use jiff::{SignedDuration, ZonedDateTime};

use super::asked::{Back, RiseAsked, Turned, Way};
use crate::asks::Asks;
use crate::form::plain;
use crate::picture::{self, Over, both};
use crate::show::{celsius, clock, likely, said};

/// One rise as shown.
pub struct RiseRow {
    name: &'static str,
    key: &'static str,
    time: String,
    likely: String,
    target: String,
    course: String,
    back: String,
    trouble: Option<String>,
    recipe: Option<Recipe>,
    curve: String,
    table: Vec<[String; 4]>,
}

/// What the recipe says of a rise, and a press to follow it or the dough.
struct Recipe {
    says: String,
    op: String,
    press: &'static str,
}

/// A way to make the rise fit.
struct WayRow {
    key: &'static str,
    says: String,
    found: bool,
}

/// What being back at a time means.
struct BackAt {
    says: String,
    ways: Vec<WayRow>,
    /// Whether the ways are still to come.
    later: bool,
}

/// The Rise station.
#[derive(Template)]
#[template(path = "rise/answer.html")]
pub struct RiseOut {
    now_at: String,
    band: String,
    rises: Vec<RiseRow>,
    back: Option<BackAt>,
    other: Option<String>,
    matters: String,
    tub: Option<String>,
    ahead: Vec<String>,
    builds: Vec<[String; 5]>,
    sour: Option<String>,
    handling: &'static str,
    hold: String,
}

impl RiseOut {
    /// Shows bulk and proof.
    pub fn new(
        id: FormulaId,
        f: &Formula,
        s: &Stations,
        asks: &Asks,
        asked: &RiseAsked,
        kitchen: &Kitchen,
    ) -> Self {
        let plan = &f.rise;
        let other = asked.other.as_ref().and_then(|o| o.as_ref().ok());
        let over = |pick: fn(&RiseOutput) -> &Option<Forecast>| other.and_then(|o| pick(o).as_ref());
        let rows = [
            ("Bulk rise", "bulk", &plan.bulk, &s.rise.bulk, over(|o| &o.bulk)),
            ("Second rise", "second", &plan.second, &s.rise.second, over(|o| &o.second)),
            ("Final proof", "proof", &plan.proof, &s.rise.proof, over(|o| &o.proof)),
        ];
        let rises = rows
            .into_iter()
            .filter_map(|(name, key, wish, forecast, over)| {
                let row = Row { name, key, forecast: forecast.as_ref()?, wish };
                Some(RiseRow { recipe: recipe(f, &row, s), ..row.shown(s, over) })
            })
            .collect();
        let moved = &asked.matters;
        RiseOut {
            now_at: format!("/formulas/{id}/dough"),
            band: both(|room| picture::band("rise", s, kitchen, room)),
            back: asked.back.as_ref().and_then(|back| back_at(back, f, s)),
            other: asked.other.as_ref().and_then(|other| match other {
                Ok(other) => other_sentence(asks, other, &s.rise),
                Err(faults) => Some(faults.to_string()),
            }),
            matters: if moved.is_empty() { String::new() } else { matters_picture(moved) },
            tub: tub(f, s, kitchen),
            rises,
            ahead: s.ahead.iter().map(ahead_sentence).collect(),
            builds: s
                .builds
                .iter()
                .map(|b| {
                    let g = |x: Grams| format!("{} g", shown::grams(x));
                    [b.number.to_string(), g(b.culture), g(b.flour), g(b.water), g(b.makes)]
                })
                .collect(),
            sour: s.rise.sourness.map(|x| format!("{} ({:.0} of 10)", x.word(), x.index)),
            handling: match plan.handling {
                Handling::Gentle => "Handled gently, three quarters of the gas stay.",
                Handling::Firm => "Knocked down, a quarter of the gas stays.",
            },
            hold: format!("{:.1}", s.figures.hold),
        }
    }
}

/// What the recipe says beside what is worked out here, and why the two may differ.
fn recipe(f: &Formula, row: &Row<'_>, s: &Stations) -> Option<Recipe> {
    let (said, figure) = said(f, Found::from_key(row.key)?)?;
    let followed = row.wish.stays.is_some_and(|h| (60.0 * h.0 - 0.5 * (said.low + said.high)).abs() < 1.0);
    if followed {
        let says = format!("It goes by the recipe: {figure}. The dough decides all the same.");
        return Some(Recipe { says, op: format!("unfollow:{}", row.key), press: "Go by the dough" });
    }
    let leaven = match (s.figures.instant_yeast.0, s.figures.inoculation.0) {
        (yeast, _) if yeast > 0.005 => format!("{yeast:.2} % of instant yeast"),
        (_, culture) => format!("{culture:.0} % of the flour in the levain"),
    };
    let from = row.forecast.curve.first().map_or(s.rise.shaped_temperature.0, |m| m.temperature);
    let says = format!(
        "The recipe says {figure}; here {}, because the dough is at {} with {leaven}.",
        likely(row.forecast.early, row.forecast.late),
        celsius(Celsius(from)),
    );
    Some(Recipe { says, op: format!("follow:{}", row.key), press: "Go by the recipe" })
}

fn matters_picture(moved: &[Matter]) -> String {
    both(|room| picture::matters(moved, room))
}

/// The tub with its lines; none for a dough that does not rise in bulk.
fn tub(f: &Formula, s: &Stations, kitchen: &Kitchen) -> Option<String> {
    let bulk = s.rise.bulk.as_ref()?;
    let ml = s.figures.dough.0 / cerealis_core::rise::DOUGH_DENSITY;
    let target = bulk.until(f.rise.bulk.target, f.rise.bulk.stays.is_some());
    Some(both(|room| picture::tub(ml, target, bulk.most, kitchen.tub, room)))
}

/// When a rise begins, by the plan's clock; its step has its key for its id.
fn begins<'a>(s: &'a Stations, key: &str) -> Option<&'a ZonedDateTime> {
    s.day.steps.iter().find(|c| c.step.id == key).map(|c| &c.at)
}

fn after(at: &ZonedDateTime, minutes: Minutes) -> ZonedDateTime {
    at.checked_add(SignedDuration::from_secs((60.0 * minutes.0) as i64)).unwrap_or_else(|_| at.clone())
}

struct Row<'a> {
    name: &'static str,
    key: &'static str,
    forecast: &'a Forecast,
    wish: &'a RiseWish,
}

impl Row<'_> {
    fn shown(&self, s: &Stations, other: Option<&Forecast>) -> RiseRow {
        let (forecast, target) = (self.forecast, self.wish.target);
        let stays = self.wish.stays;
        let field = format!("rise.{}.target", self.key);
        let pull = stays.is_none().then_some(field.as_str());
        let over = Over { other, pull, ..Over::default() };
        RiseRow {
            name: self.name,
            key: self.key,
            time: shown::time(forecast.time),
            likely: match stays {
                Some(_) if forecast.grown_high - forecast.grown_low < 0.1 => {
                    format!("stands at about {:.1} times then", forecast.grown)
                }
                Some(_) => format!(
                    "stands at {:.1} times then, likely {:.1} to {:.1}",
                    forecast.grown, forecast.grown_low, forecast.grown_high
                ),
                None if !forecast.reached && forecast.most >= target => "not within three days".into(),
                None => likely(forecast.early, forecast.late),
            },
            target: match stays {
                Some(_) => "left to stand".into(),
                None if forecast.reached => format!("{} times its size", plain(target)),
                None => {
                    format!(
                        "{} times its size, the most it holds; {} was wished",
                        plain(forecast.until(target, false)),
                        plain(target)
                    )
                }
            },
            course: course(forecast),
            back: begins(s, self.key)
                .map_or(String::new(), |at| back_sentence(forecast, at, stays.is_some())),
            trouble: trouble(forecast, target, stays.is_some()),
            recipe: None,
            curve: both(|room| picture::rise_curve(self.name, forecast, target, &over, room)),
            table: table(forecast),
        }
    }
}

/// “When must I be back?”, answered.
fn back_sentence(f: &Forecast, at: &ZonedDateTime, stays: bool) -> String {
    let (early, ready) = (clock(&after(at, f.early)), clock(&after(at, f.time)));
    if stays {
        return format!("Out at {ready}.");
    }
    let stands = match f.stands_until {
        Some(until) if until.0 > f.time.0 + 5.0 => {
            let more = shown::time(until - f.time);
            format!(" It bears waiting until {}, {more} more.", clock(&after(at, until)))
        }
        _ => " It does not wait.".to_owned(),
    };
    format!("Look at {early}; it is likely there by {ready}.{stands}")
}

/// The same figures as the curve, for reading.
fn table(f: &Forecast) -> Vec<[String; 4]> {
    let start = f.curve.first().map_or(1.0, |m| m.volume);
    let parts = 8;
    (0..=parts)
        .filter_map(|i| {
            let at = f.time.0 * f64::from(i) / f64::from(parts);
            let near = |c: &[cerealis_core::rise::Moment]| {
                c.iter().min_by(|a, b| (a.minutes - at).abs().total_cmp(&(b.minutes - at).abs())).copied()
            };
            let (m, slow, fast) = (near(&f.curve)?, near(&f.slow)?, near(&f.fast)?);
            let times = |v: f64| format!("{:.2}", v / start);
            Some([
                shown::time(Minutes(m.minutes)),
                times(m.volume),
                format!("{} to {}", times(slow.volume), times(fast.volume)),
                celsius(Celsius(m.temperature)),
            ])
        })
        .collect()
}

fn other_sentence(asks: &Asks, other: &RiseOutput, now: &RiseOutput) -> Option<String> {
    let dough = asks.other_dough.map(|t| format!("from a dough of {} °C", plain(t)));
    let place = asks.other_place.map(|t| format!("in bulk at {} °C", plain(t)));
    let proof = asks.other_proof.map(|t| format!("proofed at {} °C", plain(t)));
    let how = [dough, place, proof].into_iter().flatten().collect::<Vec<_>>().join(", ");
    let rows = [
        ("the bulk rise", &other.bulk, &now.bulk),
        ("the second rise", &other.second, &now.second),
        ("the final proof", &other.proof, &now.proof),
    ];
    let takes = |(name, o, n): (&str, &Option<Forecast>, &Option<Forecast>)| {
        let (o, n) = (o.as_ref()?, n.as_ref()?);
        let by = (o.time - n.time).0;
        let moved = match by {
            by if by.abs() < 0.5 => "as long as it does".to_owned(),
            by if by < 0.0 => format!("{} less", shown::time(Minutes(-by))),
            by => format!("{} more", shown::time(Minutes(by))),
        };
        Some(format!("{name} takes {}, {moved}", shown::time(o.time)))
    };
    let said: Vec<String> = rows.into_iter().filter_map(takes).collect();
    (!said.is_empty()).then(|| format!("The broken line: {how}, {}.", said.join("; ")))
}

/// What being back at a time means for the bulk rise, and what would make it right.
fn back_at(back: &Result<Back, Faults>, f: &Formula, s: &Stations) -> Option<BackAt> {
    let bulk = s.rise.bulk.as_ref()?;
    let Back { at, wished, stands, ways } = match back {
        Ok(back) => back,
        Err(faults) => return Some(BackAt { says: faults.to_string(), ways: Vec::new(), later: false }),
    };
    let wished = *wished;
    let target = f.rise.bulk.target;
    let time = at.strftime("%H:%M");
    let says = if (wished.0 - bulk.time.0).abs() < 6.0 {
        format!("At {time} it is just right.")
    } else if stands.fallen {
        format!(
            "At {time} it will have risen for {}, be past its best and stand at {:.1} times, sinking. It is not lost: knock it back, shape it, and proof it shorter. Or make it right:",
            shown::time(wished),
            stands.grown
        )
    } else if wished < bulk.time {
        format!(
            "At {time} it will stand at {:.2} times its size; it wants {} more.",
            stands.grown,
            shown::time(bulk.time - wished)
        )
    } else {
        format!(
            "At {time} it will stand at {:.2} times its size, past the {} you want.",
            stands.grown,
            plain(target)
        )
    };
    let rows = ways.iter().flatten().map(way_row).collect();
    Some(BackAt { says, ways: rows, later: ways.is_none() })
}

fn way_row(way: &Way) -> WayRow {
    let figure = match way.to {
        Turned::Yeast(now, then) => {
            format!("{} g of yeast instead of {} g", shown::grams(then), shown::grams(now))
        }
        Turned::Levain(now, then) => {
            format!("{then:.0} % of the flour in the levain instead of {now:.0} %")
        }
        Turned::Place(t) => format!("a place of {:.1} °C", t.0),
        Turned::Start(t) => format!("a dough of {:.1} °C after mixing", t.0),
        Turned::Fridge(m) => format!("{} in the fridge first", shown::time(m)),
    };
    let says = if way.found {
        format!("With {figure}.")
    } else {
        // What comes nearest is of no use to anybody: it is said that there is no answer this way.
        format!("Not to be had by the {} alone.", way.by.name().to_lowercase())
    };
    WayRow { key: way.by.key(), says, found: way.found }
}

fn ahead_sentence(a: &Ahead) -> String {
    let name = a.stage.name();
    let (grams, place) = (shown::grams(a.grams), celsius(a.place));
    match &a.ripening {
        Some(r) if !r.ripens => format!(
            "{name}, {grams} g: it does not ripen within three days at {place}. Give it a warmer place or more seed."
        ),
        Some(r) if r.time == a.time => format!(
            "{name}, {grams} g: ripe in {} at {place}, {}; good until {}.",
            shown::time(r.time),
            likely(r.early, r.late),
            shown::time(r.good_until)
        ),
        Some(r) => format!(
            "{name}, {grams} g: stands {} at {place}; by itself it would be ripe in {}, and good until {}.",
            shown::time(a.time),
            shown::time(r.time),
            shown::time(r.good_until)
        ),
        None if a.time.0 > 0.0 => format!("{name}, {grams} g: stands {} at {place}.", shown::time(a.time)),
        None => format!("{name}, {grams} g."),
    }
}

fn course(f: &Forecast) -> String {
    let (Some(a), Some(b)) = (f.curve.first(), f.curve.last()) else { return String::new() };
    let (from, to) = (Celsius(a.temperature), Celsius(b.temperature));
    let coldest = f.curve.iter().map(|m| m.temperature).fold(f64::INFINITY, f64::min);
    if coldest < from.0.min(to.0) - 1.0 {
        let coldest = celsius(Celsius(coldest));
        format!("dough goes from {} through {coldest} to {}", celsius(from), celsius(to))
    } else if (from.0 - to.0).abs() < 0.6 {
        format!("dough stays at {}", celsius(to))
    } else {
        format!("dough goes from {} to {}", celsius(from), celsius(to))
    }
}

fn trouble(f: &Forecast, target: f64, stays: bool) -> Option<String> {
    if stays {
        return if f.stands_too_long() && !f.has_sunk() {
            Some("It is past its height by then, and still holds. Go on without delay.".into())
        } else if f.stands_too_long() {
            Some(
                "It stands too long and falls. Take it out earlier, or give it a colder place or less yeast."
                    .into(),
            )
        } else if !f.reached {
            Some(format!(
                "It does not get to {} times in that time. Bake it a little young, or let it stand longer.",
                plain(target)
            ))
        } else {
            None
        };
    }
    (!f.reached).then(|| {
        if f.most < target {
            format!(
                "This dough gives way at {} times, before it is {target} times its size. It is ready at {}, which the time is to: go on by then, or choose a lower target.",
                plain((20.0 * f.most).floor() / 20.0),
                plain(f.until(target, false)),
            )
        } else {
            "It hardly grows any more, and does not get there. Give it a warmer place, or more yeast or culture.".into()
        }
    })
}
