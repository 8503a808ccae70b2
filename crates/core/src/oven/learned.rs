//! This oven: its hot side, and its offset, heating and recovery as its readings taught them.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::asked::Looks;
use super::heating::FULL_POWER;
use crate::choice::choice;
use crate::fault::{Check, Fault};
use crate::units::{Celsius, Minutes};

choice! {
    /// The side of an oven that is hotter.
    #[derive(Default)]
    HotSide {
        /// None that shows.
        #[default]
        Even = "even", "Even";
        /// The left.
        Left = "left", "Left";
        /// The right.
        Right = "right", "Right";
        /// The back.
        Back = "back", "Back";
        /// The top.
        Top = "top", "Top";
        /// The bottom.
        Bottom = "bottom", "Bottom";
    }
}

/// What an oven showed once: a thermometer in it, or how a bake came out.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct OvenReading {
    /// What the dial was set to, 80 to 300 °C.
    pub dial: Celsius,
    /// What a thermometer in the oven read, 50 to 350 °C.
    #[serde(default)]
    pub read: Option<Celsius>,
    /// How a bake by the forecast came out.
    #[serde(default)]
    pub looks: Option<Looks>,
    /// When it was read: minutes since the oven was switched on cold, or since its door was shut where
    /// `fell_to` is given, 0.5 to 120. Left out for an oven that is hot through.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub after: Option<Minutes>,
    /// What the open door had let it fall to, 50 to 300 °C.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fell_to: Option<Celsius>,
}

impl OvenReading {
    /// A thermometer in an oven that is hot through.
    pub fn hot(dial: Celsius, read: Celsius) -> OvenReading {
        OvenReading { dial, read: Some(read), looks: None, after: None, fell_to: None }
    }

    /// How a bake by the forecast came out.
    pub fn looked(dial: Celsius, looks: Looks) -> OvenReading {
        OvenReading { dial, read: None, looks: Some(looks), after: None, fell_to: None }
    }

    /// Notes what cannot be, under the path `at`.
    pub fn check(&self, c: &mut Check, at: &str) {
        let of = |field: &str| format!("{at}.{field}");
        c.range(&of("dial"), "The dial", self.dial.0, 80.0, 300.0, "°C");
        let Some(read) = self.read else {
            if self.looks.is_none() {
                c.note(Fault::new("missing", of("read"), "Give what the thermometer read."));
            }
            return;
        };
        c.range(&of("read"), "The oven's thermometer", read.0, 50.0, 350.0, "°C");
        if let Some(after) = self.after {
            c.range(&of("after"), "The minutes of a reading", after.0, 0.5, 120.0, "min");
        }
        if let Some(fell) = self.fell_to {
            c.range(&of("fell_to"), "What it fell to", fell.0, 50.0, 300.0, "°C");
            if fell.0 >= read.0 {
                let text = format!(
                    "It fell to {:.0} °C and then stood at {:.0} °C: give the lower first.",
                    fell.0, read.0
                );
                c.note(Fault::new("impossible", of("fell_to"), text));
            }
            if self.after.is_none() {
                c.note(Fault::new("missing", of("after"), "Give the minutes since the door was shut."));
            }
        }
    }
}

/// What an oven is like, with what its readings taught.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, JsonSchema)]
pub struct Oven {
    /// What it really has over its dial, K.
    pub offset: f64,
    /// Minutes from cold to 200 °C.
    pub preheat: Minutes,
    /// Time constant with which it comes back after its door was open, min.
    pub recovery: Minutes,
}

/// How many readings a figure that was set by hand counts for.
const PRIOR: f64 = 1.0;
/// What a bake that came out too pale or too dark says of the oven, K, and how much that counts
/// against a thermometer (common practice, no source).
const BY_LOOKS: (f64, f64) = (12.0, 0.35);
/// How near its end an oven must not have come for a reading to say how fast it goes there, K.
const STILL_UNDER_WAY: f64 = 4.0;

impl Oven {
    /// What its readings make of the figures that were set by hand, in a room of `room` °C.
    ///
    /// The offset is a mean; the two times are means of their logarithms, since a time that is twice as
    /// long is as likely as one half as long. A hand-set figure counts as one reading.
    pub fn learned(self, room: f64, readings: &[OvenReading]) -> Oven {
        let offset = self.offset_by(readings);
        let times = |of: &dyn Fn(&OvenReading) -> Option<f64>, set: Minutes, low: f64, high: f64| {
            let read: Vec<f64> = readings.iter().filter_map(of).map(f64::ln).collect();
            let sum = PRIOR * set.0.ln() + read.iter().sum::<f64>();
            let mean = (sum / (PRIOR + read.len() as f64)).exp();
            // What was set by hand stays as it was set.
            if read.is_empty() { set } else { Minutes(mean.clamp(low, high)) }
        };
        Oven {
            offset,
            preheat: times(&|r| heats_in(r, room, offset), self.preheat, 1.0, 90.0),
            recovery: times(&|r| recovers_in(r, offset), self.recovery, 1.0, 30.0),
        }
    }

    /// A bake that came out as it should speaks for the offset as it stands.
    fn offset_by(&self, readings: &[OvenReading]) -> f64 {
        let (mut sum, mut weight) = (PRIOR * self.offset, PRIOR);
        let (off, counts) = BY_LOOKS;
        for r in readings.iter().filter(|r| r.after.is_none()) {
            if let Some(t) = r.read {
                sum += (t - r.dial).0;
                weight += 1.0;
            } else if let Some(looks) = r.looks {
                let shows = match looks {
                    Looks::Pale => self.offset - off,
                    Looks::Right => self.offset,
                    Looks::Dark => self.offset + off,
                };
                sum += counts * shows;
                weight += counts;
            }
        }
        (sum / weight).clamp(-60.0, 60.0)
    }
}

/// Minutes to 200 °C of an oven that was on its way when it was read: the course of `heating`, solved
/// for its time constant.
fn heats_in(r: &OvenReading, room: f64, offset: f64) -> Option<f64> {
    let (read, after) = (r.read?.0, r.after?.0);
    let under_way = read > room + STILL_UNDER_WAY && read < r.dial.0 + offset - STILL_UNDER_WAY;
    if r.fell_to.is_some() || !under_way || read >= FULL_POWER - STILL_UNDER_WAY {
        return None;
    }
    let share = |t: f64| ((FULL_POWER - room) / (FULL_POWER - t)).ln();
    Some(after * share(200.0) / share(read))
}

/// The time constant of an oven that was coming back from an open door when it was read.
fn recovers_in(r: &OvenReading, offset: f64) -> Option<f64> {
    let (read, after, fell) = (r.read?.0, r.after?.0, r.fell_to?.0);
    let hot = r.dial.0 + offset;
    let under_way = fell < read && read < hot - STILL_UNDER_WAY;
    under_way.then(|| after / ((hot - fell) / (hot - read)).ln())
}

#[cfg(test)]
mod tests {
    use super::super::heating::{PreheatInput, preheat};
    use super::*;
    use crate::words::Vessel;
    use proptest::prelude::*;

    const SET: Oven = Oven { offset: 0.0, preheat: Minutes(15.0), recovery: Minutes(6.0) };

    fn reading(dial: f64, read: f64, after: f64, fell_to: Option<f64>) -> OvenReading {
        OvenReading {
            after: Some(Minutes(after)),
            fell_to: fell_to.map(Celsius),
            ..OvenReading::hot(Celsius(dial), Celsius(read))
        }
    }

    #[test]
    fn an_offset_is_learned_from_what_it_shows() {
        let offset =
            |known: f64, all: &[OvenReading]| Oven { offset: known, ..SET }.learned(21.0, all).offset;
        let thermometer = |read: f64| OvenReading::hot(Celsius(200.0), Celsius(read));
        assert_eq!(offset(-8.0, &[]), -8.0);
        assert!((offset(0.0, &[thermometer(188.0); 3]) + 9.0).abs() < 1e-9);
        let looks = |looks| OvenReading::looked(Celsius(200.0), looks);
        assert!(offset(0.0, &[looks(Looks::Pale); 2]) < -3.0);
        assert!(offset(0.0, &[looks(Looks::Dark)]) > 2.0);
        assert!((offset(5.0, &[looks(Looks::Right); 4]) - 5.0).abs() < 1e-9);
    }

    #[test]
    fn without_a_reading_of_its_own_a_figure_stays_as_it_was_set() {
        let thermometer = [OvenReading::hot(Celsius(200.0), Celsius(190.0))];
        let learned = SET.learned(21.0, &thermometer);
        assert_eq!((learned.preheat, learned.recovery), (SET.preheat, SET.recovery));
        // An oven that has arrived says nothing of its way there.
        let arrived = [reading(200.0, 199.0, 40.0, None), reading(200.0, 199.0, 20.0, Some(170.0))];
        assert_eq!(SET.learned(21.0, &arrived), SET);
    }

    #[test]
    fn what_cannot_be_is_told_by_its_field() {
        let paths = |r: OvenReading| {
            let mut c = Check::new();
            r.check(&mut c, "readings.0");
            c.done(()).map_or_else(|f| f.0.into_iter().map(|f| f.path).collect(), |()| Vec::new())
        };
        assert!(paths(reading(230.0, 205.0, 4.0, Some(185.0))).is_empty());
        assert_eq!(paths(reading(230.0, 180.0, 4.0, Some(185.0))), ["readings.0.fell_to"]);
        assert_eq!(paths(reading(230.0, 180.0, 400.0, None)), ["readings.0.after"]);
        let no_minutes = OvenReading { after: None, ..reading(230.0, 205.0, 4.0, Some(185.0)) };
        assert_eq!(paths(no_minutes), ["readings.0.after"]);
        let nothing = OvenReading { read: None, ..reading(230.0, 205.0, 4.0, None) };
        assert_eq!(paths(nothing), ["readings.0.read"]);
        assert_eq!(paths(reading(20.0, 205.0, 4.0, None)), ["readings.0.dial"]);
    }

    proptest! {
        /// An oven that heats as the model says teaches its own figure back.
        #[test]
        fn heating_is_learned_from_its_own_course(to_200 in 8.0..40.0f64, minute in 3..8usize) {
            let course = preheat(&PreheatInput {
                to: Celsius(250.0), to_200: Minutes(to_200), room: Celsius(21.0), vessel: Vessel::Sheet,
            }).unwrap().curve;
            let read = course[minute].0;
            prop_assume!(read > 50.0);
            let many = vec![reading(250.0, read, minute as f64, None); 400];
            let learned = SET.learned(21.0, &many).preheat.0;
            prop_assert!((learned / to_200 - 1.0).abs() < 0.01, "{learned} for {to_200}");
        }

        /// An oven that comes back with a time constant teaches it, and one reading goes half the way.
        #[test]
        fn recovery_is_learned_from_its_own_course(tau in 2.0..20.0f64, after in 1.0..6.0f64) {
            let read = 230.0 - 45.0 * (-after / tau).exp();
            prop_assume!(read < 225.0);
            let r = reading(230.0, read, after, Some(185.0));
            let learned = SET.learned(21.0, &vec![r; 400]).recovery.0;
            prop_assert!((learned / tau - 1.0).abs() < 0.01, "{learned} for {tau}");
            let once = SET.learned(21.0, &[r]).recovery.0;
            prop_assert!((once / (6.0 * tau).sqrt() - 1.0).abs() < 1e-9);
        }

        /// Whatever was read, the figures stay what an oven can have.
        #[test]
        fn learned_figures_stay_in_range(
            dial in 80.0..300.0f64, read in 50.0..350.0f64, after in 0.5..120.0f64, fell in 50.0..300.0f64,
            door in any::<bool>(),
        ) {
            let r = reading(dial, read, after, door.then_some(fell));
            let o = SET.learned(21.0, &[r, r]);
            prop_assert!((1.0..=90.0).contains(&o.preheat.0) && (1.0..=30.0).contains(&o.recovery.0));
            prop_assert!(o.offset.abs() <= 60.0);
        }
    }
}
