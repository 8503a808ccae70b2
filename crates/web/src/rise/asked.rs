//! What is asked beside the plan at the Rise station: another setting, and being back at a time.

use cerealis_core::fault::Faults;
use cerealis_core::formula::{Formula, Line, levain_share, levers, yeast_factor};
use cerealis_core::rise::{
    Forecast, InverseInput, Lever, Matter, RiseInput, RiseOutput, Which, matters, rise, rise_inverse,
};
use cerealis_core::stations::Stations;
use cerealis_core::units::{Celsius, Grams, Hours, Minutes};
use cerealis_core::words::Stage;
use jiff::civil::Time;

use crate::asks::{Asks, wait_until};
use crate::household::Household;

/// The answers, each with what is wrong where there is none.
pub struct RiseAsked {
    /// The rises in another place, from another dough temperature.
    pub other: Option<Result<RiseOutput, Faults>>,
    /// What moves the bulk rise.
    pub matters: Vec<Matter>,
    /// What being back at a time means.
    pub back: Option<Result<Back, Faults>>,
}

/// Being back at a time.
pub struct Back {
    /// The time.
    pub at: Time,
    /// From the beginning of the bulk rise.
    pub wished: Minutes,
    /// How the dough stands then.
    pub stands: Forecast,
    /// What would make it right; `None` until it is asked for.
    pub ways: Option<Vec<Way>>,
}

/// A way to make the rise fit.
pub struct Way {
    /// What is turned.
    pub by: Lever,
    /// Whether it can be made to fit by that alone.
    pub found: bool,
    /// To what.
    pub to: Turned,
}

/// What a lever is turned to.
pub enum Turned {
    /// The dough's own yeast, now and then.
    Yeast(Grams, Grams),
    /// Per cent of the flour in the levain, now and then.
    Levain(f64, f64),
    /// A place.
    Place(Celsius),
    /// A dough temperature after mixing.
    Start(Celsius),
    /// So long in the fridge first.
    Fridge(Minutes),
}

impl RiseAsked {
    /// Works out what is asked.
    pub fn of(asks: &Asks, f: &Formula, s: &Stations, house: &Household) -> Self {
        let begun = s.rise.bulk.as_ref();
        RiseAsked {
            other: another(asks, &s.rise_input).map(|input| rise(&input)),
            // A dough that does not rise in bulk has nothing that moves it.
            matters: matters(&s.rise_input, Which::Bulk).unwrap_or_default(),
            back: asks.back.zip(begun).and_then(|(at, bulk)| back(at, bulk, asks.ways, f, s, house)),
        }
    }
}

/// The rises as they are, with what is asked put in; `None` where nothing is.
fn another(asks: &Asks, input: &RiseInput) -> Option<RiseInput> {
    if asks.other_place.is_none() && asks.other_dough.is_none() && asks.other_proof.is_none() {
        return None;
    }
    let mut other = input.clone();
    if let Some(t) = asks.other_place {
        other.bulk.places.iter_mut().for_each(|p| p.temperature = Celsius(t));
    }
    if let Some(t) = asks.other_dough {
        other.start = Celsius(t);
    }
    if let Some(t) = asks.other_proof {
        other.proof.places.iter_mut().for_each(|p| p.temperature = Celsius(t));
    }
    Some(other)
}

fn back(
    at: Time,
    bulk: &Forecast,
    ways: bool,
    f: &Formula,
    s: &Stations,
    house: &Household,
) -> Option<Result<Back, Faults>> {
    let wished = wait_until(at, s)?;
    let mut then = s.rise_input.clone();
    then.bulk.hours = Some(Hours(wished.0 / 60.0));
    then.proof.target = 1.0;
    then.proof.hours = None;
    let stands = match rise(&then) {
        Ok(out) => out.bulk?,
        Err(faults) => return Some(Err(faults)),
    };
    // A stay in the fridge can only make it longer.
    let all =
        || levers(f, &house.catalogue).into_iter().filter(|by| *by != Lever::Fridge || wished > bulk.time);
    let ways = ways.then(|| all().map(|by| way(by, wished, f, s, house)).collect::<Result<Vec<_>, _>>());
    Some(ways.transpose().map(|ways| Back { at, wished, stands, ways }))
}

fn way(by: Lever, wished: Minutes, f: &Formula, s: &Stations, house: &Household) -> Result<Way, Faults> {
    let input = InverseInput {
        rise: s.rise_input.clone(),
        which: Which::Bulk,
        time: wished,
        by,
        fridge: Celsius(house.kitchen.fridge.0.max(0.0)),
    };
    let answer = rise_inverse(&input)?;
    let v = answer.value;
    let to = match by {
        Lever::Yeast => {
            let factor = yeast_factor(f, v, &s.rise_input, &house.catalogue)?;
            let is_own = |l: &&Line| {
                l.stage == Stage::Dough
                    && house.catalogue.get(&l.ingredient).is_some_and(|i| i.instant_yeast() > 0.0)
            };
            let yeast: Grams = f.lines.iter().filter(is_own).map(|l| l.grams).sum();
            Turned::Yeast(yeast, yeast * factor)
        }
        Lever::Culture => Turned::Levain(
            levain_share(f, s.figures.inoculation.0, &house.catalogue)?,
            levain_share(f, v, &house.catalogue)?,
        ),
        Lever::Place => Turned::Place(Celsius(v)),
        Lever::Start => Turned::Start(Celsius(v)),
        Lever::Fridge => Turned::Fridge(Minutes(60.0 * v)),
    };
    Ok(Way { by, found: answer.found, to })
}
