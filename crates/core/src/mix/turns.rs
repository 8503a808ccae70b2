//! The turns of mixing as a table: for each way of mixing, what comes after what.

use super::input::PhaseKind;
use crate::words::Method;

/// Turns of a hook that a minute of kneading by hand is worth: 12 minutes make a tin loaf (common practice, no
/// source).
pub(super) const HAND_RPM: f64 = 78.0;

/// One phase as it always goes.
#[derive(Clone, Copy)]
pub(super) struct Turn {
    pub kind: PhaseKind,
    pub name: &'static str,
    pub lasts: Long,
    pub speed: Speed,
    pub work: Work,
    pub what: What,
    pub sign: Sign,
}

/// How long a phase is.
#[derive(Clone, Copy)]
pub(super) enum Long {
    /// So many minutes.
    Just(f64),
    /// As long as the mixer is to run slowly first.
    Slowly,
    /// As wished for the autolyse.
    Autolyse,
    /// As long as the dough has to be developed before its late butter.
    Develop,
    /// As long as is left of it, for the late butter.
    Butter,
    /// What hands have to do where a hand mixer tires.
    ByHand,
}

/// At which of the mixer's speeds; none by hand.
#[derive(Clone, Copy)]
pub(super) enum Speed {
    Hands,
    First,
    Developing,
}

/// Turns of a hook that a minute is worth.
#[derive(Clone, Copy)]
pub(super) enum Work {
    None,
    Of(f64),
    /// The mixer's own turns.
    Speed,
    /// As the dough is developed.
    Developing,
}

/// What goes in or what to do.
#[derive(Clone, Copy)]
pub(super) enum What {
    Text(&'static str),
    /// Everything but what goes in later.
    Everything,
    /// What goes in now, and how.
    Later(&'static str),
    Butter,
}

/// When to stop.
#[derive(Clone, Copy)]
pub(super) enum Sign {
    Text(&'static str),
    Developed,
}

const fn turn(
    kind: PhaseKind,
    name: &'static str,
    lasts: Long,
    (speed, work): (Speed, Work),
    what: What,
    sign: Sign,
) -> Turn {
    Turn { kind, name, lasts, speed, work, what, sign }
}

use Long::{Autolyse, Butter, ByHand, Develop, Just, Slowly};
use PhaseKind::{AddIns, Knead, Mix, Rest};
use Sign::{Developed, Text as Until};
use Speed::{Developing, First, Hands};
use What::{Everything, Later, Text};

/// Turns that a minute of stirring by hand is worth, and of bringing together with a hand mixer (common practice,
/// no source).
const STIRRED: Work = Work::Of(40.0);
const HAND_MIXED: Work = Work::Of(60.0);

const ROUGH: Sign = Until("A rough dough, no dry flour.");
const RELAXED: Sign = Until("It has relaxed.");

const fn butter(speed: Speed) -> Turn {
    let sign = Until("Smooth and shining; it stretches thin enough to see light.");
    turn(PhaseKind::Butter, "Work in the butter", Butter, (speed, Work::Developing), What::Butter, sign)
}

const fn add_ins(speed: Speed) -> Turn {
    let sign = Until("They are spread evenly.");
    turn(AddIns, "Add-ins", Just(1.0), (speed, Work::None), Text("Seeds, fruit and nuts."), sign)
}

/// Before everything else, where flour and water rest first.
pub(super) const RESTS_FIRST: [Turn; 2] = [
    turn(
        Mix,
        "Stir together",
        Just(2.0),
        (Hands, Work::None),
        Text("Flour with its liquid, and nothing else."),
        Until("No dry flour is left."),
    ),
    turn(
        PhaseKind::Autolyse,
        "Autolyse",
        Autolyse,
        (Hands, Work::None),
        Text("Cover. Yeast, culture and salt wait."),
        Until("It stretches more easily than before."),
    ),
];

const BY_HAND: [Turn; 5] = [
    turn(Mix, "Bring together", Just(3.0), (Hands, STIRRED), Everything, ROUGH),
    turn(Rest, "Rest", Just(5.0), (Hands, Work::None), Text("Cover."), RELAXED),
    turn(Knead, "Knead", Develop, (Hands, Work::Developing), Later("Push, fold, turn."), Developed),
    butter(Hands),
    add_ins(Hands),
];

const BY_MIXER: [Turn; 5] = [
    turn(Mix, "Bring together", Slowly, (First, Work::Speed), Everything, ROUGH),
    turn(Rest, "Rest", Just(5.0), (Hands, Work::None), Text("Cover the bowl, mixer off."), RELAXED),
    turn(Knead, "Develop", Develop, (Developing, Work::Developing), Later(""), Developed),
    butter(Developing),
    add_ins(First),
];

/// Two small hooks in a bowl: they bring a dough together well, and tire before it is done.
const BY_HAND_MIXER: [Turn; 6] = [
    turn(Mix, "Bring together", Just(3.0), (Hands, HAND_MIXED), Everything, ROUGH),
    turn(Rest, "Rest", Just(10.0), (Hands, Work::None), Text("Cover; the mixer cools too."), RELAXED),
    turn(
        Knead,
        "Develop",
        Develop,
        (Hands, Work::Developing),
        Later("Middle speed, the bowl held fast."),
        Developed,
    ),
    butter(Hands),
    turn(Knead, "Finish by hand", ByHand, (Hands, Work::Of(HAND_RPM)), Text("Push, fold, turn."), Developed),
    add_ins(Hands),
];

const BY_FOLDS: [Turn; 2] = [
    turn(
        Mix,
        "Mix",
        Just(4.0),
        (Hands, STIRRED),
        Text("Everything, with a wet hand or a spoon."),
        Until("No dry flour; it looks shaggy."),
    ),
    add_ins(Hands),
];

const LEFT_ALONE: [Turn; 2] = [
    turn(
        Mix,
        "Mix",
        Just(3.0),
        (Hands, STIRRED),
        Text("Everything, with a spoon."),
        Until("No dry flour. It may look rough: time does the rest."),
    ),
    add_ins(Hands),
];

const BEATEN: [Turn; 2] = [
    turn(
        Mix,
        "Beat with the paddle",
        Just(4.0),
        (Developing, Work::None),
        Text("Everything; there is no gluten to develop."),
        Until("A smooth, thick batter that holds a peak."),
    ),
    add_ins(Developing),
];

/// The turns of a way of mixing.
pub(super) fn turns(method: Method) -> &'static [Turn] {
    match method {
        Method::Hand => &BY_HAND,
        Method::Mixer => &BY_MIXER,
        Method::HandMixer => &BY_HAND_MIXER,
        Method::Fold => &BY_FOLDS,
        Method::None => &LEFT_ALONE,
        Method::Paddle => &BEATEN,
    }
}
