//! What is pressed at the bench: a word and what it is about, as an event.

use cerealis_core::bake::{BakeAnswer, Bell, Event, EventKey, Reading, StepState, What};
use cerealis_core::fault::{Fault, Faults};
use cerealis_core::rise::Poke;
use cerealis_core::units::{Celsius, Grams, Minutes};
use cerealis_store::StoredBake;
use jiff::{SignedDuration, Timestamp};

use crate::form::{Form, Reader};

/// Words that are one touch away.
pub const QUICK: [&str; 6] = ["sticky", "slack", "tight", "tore", "stuck", "smells of acetone"];

/// Why a press is none.
#[derive(Debug)]
pub enum Trouble {
    /// No page has this button.
    Unknown,
    /// What was typed does not read.
    Faults(Faults),
}

impl From<Faults> for Trouble {
    fn from(faults: Faults) -> Self {
        Trouble::Faults(faults)
    }
}

/// A device's clock may be so far ahead and is still believed.
const AHEAD: SignedDuration = SignedDuration::from_secs(2);

/// When it was pressed, by the server's clock: a device says when by its own, corrected; now where it says nothing.
pub fn moment(form: &Form, bake: &StoredBake, now: Timestamp) -> Timestamp {
    let said = form.value("at").parse::<i64>().ok().and_then(|ms| Timestamp::from_millisecond(ms).ok());
    let earliest = bake.begun_at - SignedDuration::from_hours(1);
    said.filter(|t| *t <= now + AHEAD && *t >= earliest).map_or(now, |t| t.min(now))
}

/// The name of a press: as the device said, or one of our own.
pub fn key(form: &Form) -> EventKey {
    let said = form.value("key");
    let good = (8..=64).contains(&said.len()) && said.bytes().all(|b| b.is_ascii_alphanumeric() || b == b'-');
    if good {
        return EventKey(said.to_owned());
    }
    let mut bytes = [0; 12];
    // Without dice it is a name still: the moment makes it one.
    let _ = getrandom::fill(&mut bytes);
    EventKey(bytes.iter().map(|b| format!("{b:02x}")).collect())
}

/// The events of a press.
///
/// # Errors
/// A button that no page has; what was typed and does not read, by its field.
pub fn events(
    form: &Form,
    bake: &StoredBake,
    answer: &BakeAnswer,
    device: &str,
    now: Timestamp,
) -> Result<Vec<Event>, Trouble> {
    let (at, key) = (moment(form, bake, now), key(form));
    let what = what(form, answer)?;
    let mut all = Vec::with_capacity(2);
    // The last step that is done ends the bake.
    let ends = match &what {
        What::Done { step } | What::Skipped { step } => {
            let others = || answer.state.steps.iter().filter(|s| s.id != *step);
            others().all(StepState::is_over) || answer.due.next.iter().all(|d| d.id == *step)
        }
        _ => false,
    };
    let event = |key: EventKey, what: What| Event { key, at, device: device.to_owned(), what };
    if ends {
        let end = EventKey(format!("{}-end", key.0));
        all.push(event(end, What::Finished));
    }
    all.insert(0, event(key, what));
    for e in &all {
        bake.start.check(e)?;
    }
    Ok(all)
}

fn what(form: &Form, answer: &BakeAnswer) -> Result<What, Trouble> {
    let op = form.value("op");
    let (word, rest) = op.split_once(':').unwrap_or((op, ""));
    let step = || rest.to_owned();
    let mut r = Reader::new(form);
    let figure = |text: &str| text.parse::<f64>().ok().filter(|f| f.is_finite()).ok_or(Trouble::Unknown);
    let text = |r: &mut Reader<'_>| {
        let text = if rest.is_empty() { r.text("text") } else { rest.to_owned() };
        match text.is_empty() {
            true => Err(Trouble::Faults(Faults(vec![Fault::new(
                "missing",
                "text",
                "Say what, in a word or two.",
            )]))),
            false => Ok(text),
        }
    };
    Ok(match word {
        "done" => What::Done { step: step() },
        "skip" => What::Skipped { step: step() },
        "longer" => {
            let (step, by) = rest.rsplit_once(':').ok_or(Trouble::Unknown)?;
            What::Longer { step: step.to_owned(), by: Minutes(figure(by)?) }
        }
        "late" => What::Late { by: Minutes(figure(rest)?) },
        "weigh" => {
            let line: usize = rest.parse().map_err(|_| Trouble::Unknown)?;
            let planned = answer.state.formula.lines.get(line).ok_or(Trouble::Unknown)?.grams;
            let grams = r.measure::<Grams>("grams").unwrap_or(planned);
            r.done(())?;
            What::Weighed { line, grams }
        }
        "scale" => What::Scaled { by: figure(rest)? },
        "read" => What::Read(reading(rest, form)?),
        "move" => What::Moved { to: Celsius(figure(rest)?) },
        "note" => What::Noted { text: text(&mut r)? },
        "next" => What::NextTime { text: text(&mut r)? },
        "undo" => What::Undone { event: named(rest, &answer.state.undo)? },
        "redo" => What::Redone { event: named(rest, &answer.state.redo)? },
        "rings" => What::Rings { bell: Bell::from_key(rest).ok_or(Trouble::Unknown)? },
        "abandon" => What::Abandoned,
        "finish" => What::Finished,
        _ => return Err(Trouble::Unknown),
    })
}

fn named(said: &str, otherwise: &Option<EventKey>) -> Result<EventKey, Trouble> {
    match (said, otherwise) {
        ("", Some(key)) => Ok(key.clone()),
        ("", None) => Err(Trouble::Unknown),
        (key, _) => Ok(EventKey(key.to_owned())),
    }
}

/// A reading: its figure stands in the button, or in the field beside it.
fn reading(rest: &str, form: &Form) -> Result<Reading, Trouble> {
    let (what, said) = rest.split_once(':').unwrap_or((rest, ""));
    if what == "poke" {
        return Poke::from_key(said).map(Reading::Poke).ok_or(Trouble::Unknown);
    }
    let mut r = Reader::new(form);
    let said: Option<f64> = said.parse().ok().filter(|f: &f64| f.is_finite());
    let mut warm = || said.map_or_else(|| r.figure_of::<Celsius>(what), Celsius);
    let reading = match what {
        "mixed" => Reading::Mixed(warm()),
        "dough" => Reading::Dough(warm()),
        "place" => Reading::Place(warm()),
        "core" => Reading::Core(warm()),
        "volume" => Reading::Volume(said.ok_or(Trouble::Unknown)?),
        "baked" => Reading::Baked(said.map_or_else(|| r.figure_of::<Grams>("baked"), Grams)),
        _ => return Err(Trouble::Unknown),
    };
    r.done(())?;
    Ok(reading)
}
