use jiff::{SignedDuration, Timestamp};
use proptest::prelude::*;
use proptest::sample::select;

use super::*;
use crate::day::{Point, StepKind};
use crate::formula::Formula;
use crate::kitchen::Kitchen;
use crate::pantry::Catalogue;
use crate::plan::PlannedStep;
use crate::rise::Poke;
use crate::stations::read;
use crate::units::{Celsius, Grams, Minutes};
use crate::watch::later;
use crate::words::{Handling, Style};

fn moment(minute: i64) -> Timestamp {
    Timestamp::UNIX_EPOCH + SignedDuration::from_mins(minute)
}

fn planned(id: &str, kind: StepKind, at: i64, length: f64, hands_on: bool) -> PlannedStep {
    PlannedStep {
        dough: 0,
        id: id.into(),
        kind,
        title: id.into(),
        detail: String::new(),
        at: moment(at),
        length: Minutes(length),
        hands_on,
        hangs_on: None,
        give: Minutes(0.0),
        oven: None,
        swells: Vec::new(),
    }
}

/// Four steps in a line, hands and waits in turn.
fn line() -> Vec<PlannedStep> {
    (0..4).map(|n| planned(&format!("s{n}"), StepKind::Mix, 30 * n, 30.0, n % 2 == 0)).collect()
}

/// A rise with three folds beside it, then a deed.
fn folds() -> Vec<PlannedStep> {
    let fold = |n: i64| planned(&format!("fold.{n}"), StepKind::Fold, 10 + 30 * n, 2.0, true);
    vec![
        planned("weigh", StepKind::Mix, 0, 10.0, true),
        planned("rests", StepKind::Bulk, 10, 150.0, false),
        fold(1),
        fold(2),
        fold(3),
        planned("shape", StepKind::Shape, 160, 5.0, true),
    ]
}

fn begun_with(steps: Vec<PlannedStep>) -> Start {
    let formula = Formula::beginning("A dough", Style::Tin);
    Start { formula, steps, kitchen: None, own: Vec::new(), of_plan: None, bell: None }
}

fn at(steps: Vec<PlannedStep>, events: &[Event], minute: i64) -> BakeAnswer {
    stands(&begun_with(steps), events, Catalogue::bundled(), moment(minute)).unwrap()
}

fn event(n: usize, minute: i64, what: What) -> Event {
    Event { key: EventKey(format!("e{n}")), at: moment(minute), device: "Phone".into(), what }
}

fn done(n: usize, minute: i64, step: &str) -> Event {
    event(n, minute, What::Done { step: step.into() })
}

fn ids(answer: &BakeAnswer) -> Vec<&str> {
    answer.due.next.iter().map(|s| s.id.as_str()).collect()
}

#[test]
fn what_is_done_late_moves_what_comes_after() {
    let all = [done(0, 30, "s0"), done(1, 72, "s1")];
    let answer = at(line(), &all, 72);
    assert_eq!(answer.due.late.0, 12.0);
    assert_eq!(ids(&answer), ["s2", "s3"]);
    assert_eq!((answer.due.next[0].begins, answer.due.next[0].in_minutes.0), (moment(72), 0.0));
    assert_eq!(answer.state.undo, Some(EventKey("e1".into())));
}

/// A wait that nobody ended goes on, and what comes after it waits for it; its timer rang when it was time.
#[test]
fn what_is_over_its_time_keeps_its_timer() {
    let answer = at(line(), &[done(0, 30, "s0")], 75);
    let (wait, deed) = (&answer.due.next[0], &answer.due.next[1]);
    assert_eq!((wait.id.as_str(), wait.at, wait.ends), ("s1", moment(60), moment(75)));
    assert_eq!(deed.begins, moment(75));
    assert_eq!((answer.due.timers[0].rings, answer.due.late.0), (moment(60), 15.0));
}

/// Two phones that press Done together do it once, at the first press.
#[test]
fn two_phones_that_press_together_do_it_once() {
    let answer = at(line(), &[done(1, 31, "s0"), done(0, 30, "s0")], 60);
    assert_eq!(answer.state.steps[0].done, Some(moment(30)));
    assert_eq!(ids(&answer)[0], "s1");
}

/// Whoever says to be late in a rise with folds comes later to the next fold too, and no fold overtakes the one before it,
/// however late that is.
#[test]
fn being_late_moves_the_next_fold_and_none_overtakes() {
    let begun = || vec![done(0, 10, "weigh"), done(1, 40, "fold.1")];
    let plain = at(folds(), &begun(), 50);
    let folds_of = |a: &BakeAnswer| -> Vec<Timestamp> {
        a.due.next.iter().filter(|s| s.id.starts_with("fold.")).map(|s| s.at).collect()
    };
    let planned = folds_of(&plain);
    let mut all = begun();
    all.push(event(2, 50, What::Late { by: Minutes(40.0) }));
    let late = at(folds(), &all, 50);
    let moved = folds_of(&late);
    assert_eq!(moved[0], later(planned[0], Minutes(40.0)), "the next one is forty minutes later");
    assert!(moved.windows(2).all(|w| w[1] > later(w[0], Minutes(10.0))), "{moved:?}");
    // Not said, but late all the same: the one after it waits for it.
    for minute in [75, 100, 130, 155] {
        let overdue = at(folds(), &begun(), minute);
        let all = folds_of(&overdue);
        assert!(all.windows(2).all(|w| w[1] > w[0].max(moment(minute))), "{minute}: {all:?}");
        let ids = ids(&overdue);
        let places: Vec<usize> =
            ["fold.2", "fold.3"].iter().filter_map(|f| ids.iter().position(|i| i == f)).collect();
        assert!(places.is_sorted(), "{minute}: {ids:?}");
    }
}

/// Forty minutes late at the second fold: the third keeps two thirds of their interval away, and the rise ends when it did.
#[test]
fn folds_never_bunch_up_and_do_not_move_the_rise() {
    let before = at(folds(), &[done(0, 10, "weigh")], 20);
    assert_eq!(ids(&before), ["fold.1", "fold.2", "fold.3", "rests", "shape"]);
    let late = at(folds(), &[done(0, 10, "weigh"), done(1, 40, "fold.1"), done(2, 110, "fold.2")], 111);
    assert_eq!(ids(&late)[0], "fold.3");
    assert_eq!(late.due.next[0].at, moment(130));
    let rise = late.due.next.iter().find(|s| s.id == "rests").unwrap();
    assert_eq!((rise.ends, late.due.late.0), (moment(160), 0.0));
    // Once the rise is over nobody folds any more.
    let over = at(folds(), &[done(0, 10, "weigh"), done(1, 150, "rests")], 151);
    assert_eq!(ids(&over), ["shape"]);
}

#[test]
fn more_time_and_being_late_move_what_comes_and_are_forgotten_when_it_is_done() {
    let longer = event(1, 55, What::Longer { step: "s1".into(), by: Minutes(5.0) });
    let answer = at(line(), &[done(0, 30, "s0"), longer.clone()], 56);
    assert_eq!((answer.due.timers[0].rings, answer.due.late.0), (moment(65), 5.0));
    let late = event(2, 56, What::Late { by: Minutes(40.0) });
    let said = at(line(), &[done(0, 30, "s0"), late.clone()], 57);
    assert_eq!((said.due.next[0].at, said.due.late.0), (moment(100), 40.0));
    let over = at(line(), &[done(0, 30, "s0"), late, done(3, 61, "s1")], 61);
    assert_eq!((over.due.late.0, over.state.said_late.0), (1.0, 0.0));
}

#[test]
fn what_was_weighed_is_what_the_figures_go_by_and_the_rest_is_scaled() {
    let start = begun_with(line());
    let before: Vec<f64> = start.formula.lines.iter().map(|l| l.grams.0).collect();
    let weighed = event(0, 2, What::Weighed { line: 0, grams: Grams(508.0) });
    let state = replay(&start, &[weighed, event(1, 3, What::Scaled { by: 1.016 })]);
    assert_eq!(state.formula.lines[0].grams, Grams(508.0));
    assert!((state.formula.lines[1].grams.0 - 1.016 * before[1]).abs() < 1e-9);
}

#[test]
fn what_does_not_fit_is_told_by_its_place() {
    let wrong = vec![
        event(0, 0, What::Done { step: "elsewhere".into() }),
        event(1, 0, What::Weighed { line: 99, grams: Grams(1.0) }),
        event(2, 0, What::Read(Reading::Dough(Celsius(72.0)))),
    ];
    let input = BakeInput { start: begun_with(line()), events: wrong, now: moment(5) };
    let paths: Vec<String> = bake_state(&input).unwrap_err().0.into_iter().map(|f| f.path).collect();
    assert_eq!(paths, ["events.0.step", "events.1.line", "events.2.value"]);
}

/// A whole tin loaf, begun at a time, each step done when it is due.
fn loaf() -> Start {
    let mut formula = Formula::beginning("Loaf", Style::Tin);
    formula.rise.handling = Handling::Gentle;
    let stations = read(&formula, &Kitchen::default(), Catalogue::bundled(), moment(0)).unwrap();
    Start::of(&formula, &stations, moment(0))
}

/// A bake of any style in an oven that takes so many minutes, as its stations lay it out.
fn of_style(style: Style, preheat: f64) -> Start {
    let formula = Formula::beginning(style.name(), style);
    let kitchen = Kitchen { oven_preheat: Minutes(preheat), ..Kitchen::default() };
    let stations = read(&formula, &kitchen, Catalogue::bundled(), moment(0)).unwrap();
    Start::of(&formula, &stations, moment(0)).at_home(&kitchen, &crate::pantry::Cupboard::default())
}

/// What is planned for tomorrow rings then, and is not said to be now.
#[test]
fn what_is_not_begun_rings_when_it_should_begin() {
    let answer = at(folds(), &[], -700);
    let head = &answer.due.next[0];
    assert_eq!((head.under_way, head.at, head.in_minutes.0), (false, moment(0), 700.0));
    let rings: Vec<_> = answer.due.timers.iter().map(|t| (t.step.as_str(), t.rings)).collect();
    assert_eq!(rings, [("weigh", moment(0))]);
    assert!(at(folds(), &[], 0).due.timers.is_empty());
    // Begun before its time, the rest goes with it.
    let early = at(folds(), &[done(0, -700, "weigh")], -700);
    let rise = early.due.next.iter().find(|d| d.id == "rests").unwrap();
    assert_eq!((rise.begins, rise.ends, rise.under_way), (moment(-700), moment(-550), true));
    assert_eq!(early.due.late.0, -710.0);
}

/// The last that was chosen rings; the choice of the dough's last bake until then.
#[test]
fn a_bake_rings_as_was_chosen() {
    let start = Start { bell: Some(Bell::Knocks), ..begun_with(line()) };
    assert_eq!(replay(&start, &[]).bell, Some(Bell::Knocks));
    let chosen = event(0, 3, What::Rings { bell: Bell::Low });
    assert_eq!(replay(&start, &[chosen]).bell, Some(Bell::Low));
}

fn of_loaf(start: &Start, events: &[Event], now: Timestamp) -> BakeAnswer {
    stands(start, events, Catalogue::bundled(), now).unwrap()
}

/// Presses Done at the head whenever it is due, and goes on; what was pressed, and when it was over.
fn on_time(start: &Start) -> (Vec<Event>, Vec<String>) {
    let (mut events, mut pressed, mut now) = (Vec::new(), Vec::new(), start.steps[0].at);
    for n in 0..200 {
        let answer = of_loaf(start, &events, now);
        let Some(head) = answer.due.next.first() else { break };
        now = now.max(if head.hands_on { head.ends } else { head.at });
        pressed.push(head.id.clone());
        let what = What::Done { step: head.id.clone() };
        events.push(Event { key: EventKey(format!("p{n}")), at: now, device: String::new(), what });
    }
    (events, pressed)
}

#[test]
fn a_bake_on_time_is_a_press_a_step_and_ends_as_planned() {
    let start = loaf();
    let (events, pressed) = on_time(&start);
    assert_eq!(pressed.len(), start.steps.len());
    let last = events.last().unwrap().at;
    let off = last.duration_since(
        start
            .steps
            .iter()
            .map(|s| s.at + SignedDuration::from_secs((60.0 * s.length.0) as i64))
            .max()
            .unwrap(),
    );
    assert!(off.as_mins().abs() <= 2, "off by {off}");
}

/// What a reading says of a rise moves what comes after it.
#[test]
fn a_reading_moves_the_rest() {
    let start = loaf();
    let (events, _) = on_time(&start);
    let bulk = start.step("bulk").unwrap();
    let before: Vec<Event> = events.iter().filter(|e| e.at <= bulk.at).cloned().collect();
    let half = bulk.at + SignedDuration::from_secs((30.0 * bulk.length.0) as i64);
    let plain = of_loaf(&start, &before, half);
    let outlook = plain.outlook.clone().expect("it rises");
    let mut read = before;
    let fast = outlook.volume * 1.3;
    read.push(Event {
        key: EventKey("v".into()),
        at: half,
        device: String::new(),
        what: What::Read(Reading::Volume(fast)),
    });
    let sooner = of_loaf(&start, &read, half);
    assert!(moved(Some(&outlook), sooner.outlook.as_ref()).unwrap().0 < -2.0);
    assert!(sooner.due.late < plain.due.late);
    let doubted = doubt(&sooner.state, sooner.outlook.as_ref(), &Reading::Volume(1.0), Catalogue::bundled());
    assert!(doubted.is_some(), "a dough that fell is asked about");
    assert_eq!(
        doubt(&sooner.state, sooner.outlook.as_ref(), &Reading::Volume(fast + 0.2), Catalogue::bundled()),
        None
    );
}

#[test]
fn salt_that_is_forgotten_is_asked_about_before_mixing_ends() {
    let start = loaf();
    let salt = start.formula.lines.iter().position(|l| l.ingredient.contains("salt")).expect("it has salt");
    let mix: Vec<&str> =
        start.steps.iter().filter(|s| s.kind == StepKind::Mix).map(|s| s.id.as_str()).collect();
    let mut events: Vec<Event> = (0..start.formula.lines.len())
        .filter(|n| *n != salt)
        .map(|n| event(n, 1, What::Weighed { line: n, grams: start.formula.lines[n].grams }))
        .collect();
    for (n, id) in mix.iter().enumerate().take(mix.len() - 1) {
        assert_eq!(of_loaf(&start, &events, moment(20)).forgotten, None, "before {id}");
        events.push(done(100 + n, 10 + n as i64, id));
    }
    assert_eq!(of_loaf(&start, &events, moment(20)).forgotten, Some(salt));
    events.push(event(200, 20, What::Weighed { line: salt, grams: Grams(9.0) }));
    assert_eq!(of_loaf(&start, &events, moment(21)).forgotten, None);
}

#[test]
fn a_dough_that_is_rising_already_goes_on_from_there() {
    let start = loaf().with_step_at("bulk", moment(100));
    let events = start.rising_since(moment(100), "Laptop");
    let answer = of_loaf(&start, &events, moment(110));
    assert_eq!(answer.outlook.unwrap().began, moment(100));
    assert_eq!(answer.state.undo, None, "nobody pressed anything yet");
    assert!(answer.due.late.0.abs() < 1.0, "{}", answer.due.late.0);
}

/// The line on another plan, so many minutes later.
fn later_by(by: i64) -> Vec<PlannedStep> {
    line().into_iter().map(|s| PlannedStep { at: s.at + SignedDuration::from_mins(by), ..s }).collect()
}

/// A day that is planned again while a bake of it goes on: what was done is done, what is to come goes by the new plan, and a
/// press takes back what was pressed and not the plan.
#[test]
fn a_bake_goes_on_by_the_plan_that_its_day_was_given() {
    let mut steps = later_by(60);
    steps.truncate(3);
    steps.push(planned("fridge", StepKind::Proof, 150, 600.0, false));
    let all = [
        done(0, 30, "s0"),
        event(1, 35, What::Replanned { steps }),
        done(2, 95, "s1"),
        done(3, 800, "fridge"),
    ];
    let begun = at(line(), &all[..2], 40);
    assert_eq!(ids(&begun), ["s1", "s2", "fridge"]);
    assert!(begun.state.steps[0].is_over() && begun.due.late.0 < 0.0, "{:?}", begun.due.late);
    assert_eq!(begun.state.undo, Some(EventKey("e0".into())));
    let later = at(line(), &all, 810);
    assert_eq!(ids(&later), ["s2"], "what stands on the new plan alone is known");
    let input = BakeInput { start: begun_with(line()), events: all.to_vec(), now: moment(810) };
    assert_eq!(bake_state(&input).unwrap(), later);
}

fn whats() -> impl Strategy<Value = What> {
    let step = || (0usize..4).prop_map(|n| format!("s{n}"));
    let key = || (0usize..8).prop_map(|n| EventKey(format!("e{n}")));
    prop_oneof![
        step().prop_map(|step| What::Begun { step }),
        step().prop_map(|step| What::Done { step }),
        step().prop_map(|step| What::Skipped { step }),
        (step(), 1.0..30.0f64).prop_map(|(step, m)| What::Longer { step, by: Minutes(m) }),
        (0usize..3, 1.0..900.0f64).prop_map(|(line, g)| What::Weighed { line, grams: Grams(g) }),
        (0.5..2.0f64).prop_map(|by| What::Scaled { by }),
        (0.8..3.0f64).prop_map(|x| What::Read(Reading::Volume(x))),
        Just(What::Read(Reading::Poke(Poke::Slowly))),
        (5.0..40.0f64).prop_map(|t| What::Moved { to: Celsius(t) }),
        (0.0..60.0f64).prop_map(|m| What::Late { by: Minutes(m) }),
        (1i64..90).prop_map(|by| What::Replanned { steps: later_by(by) }),
        "[a-z]{1,9}".prop_map(|text| What::Noted { text }),
        "[a-z]{1,9}".prop_map(|text| What::NextTime { text }),
        key().prop_map(|event| What::Undone { event }),
        key().prop_map(|event| What::Redone { event }),
        select(&Bell::ALL[..]).prop_map(|bell| What::Rings { bell }),
        Just(What::Abandoned),
        Just(What::Finished),
    ]
}

fn events() -> impl Strategy<Value = Vec<Event>> {
    prop::collection::vec((0i64..240, whats()), 0..12)
        .prop_map(|all| all.into_iter().enumerate().map(|(n, (m, w))| event(n, m, w)).collect())
}

proptest! {
    /// Whatever order they arrive in, and however often, it is the same bake.
    #[test]
    fn any_order_of_arrival_is_the_same_bake(
        (all, shuffled) in events().prop_flat_map(|all| {
            let twice: Vec<Event> = all.iter().chain(all.iter()).cloned().collect();
            (Just(all), Just(twice).prop_shuffle())
        }),
    ) {
        let start = begun_with(line());
        prop_assert_eq!(replay(&start, &all), replay(&start, &shuffled));
    }

    /// Taking the last back leaves the bake as it was before it, and doing it again as it was after.
    #[test]
    fn undo_and_redo_are_inverses(all in events(), minute in 300i64..400, what in whats()) {
        prop_assume!(!matches!(what, What::Undone { .. } | What::Redone { .. }));
        let start = begun_with(line());
        let of = |more: Vec<Event>| {
            let mut events = all.clone();
            events.extend(more);
            BakeState { undo: None, redo: None, ..replay(&start, &events) }
        };
        let last = event(100, minute, what);
        let key = last.key.clone();
        let undone = event(101, minute + 1, What::Undone { event: key.clone() });
        let redone = event(102, minute + 2, What::Redone { event: key });
        let before = of(Vec::new());
        let after = of(vec![last.clone()]);
        prop_assert_eq!(&of(vec![last.clone(), undone.clone()]), &before);
        prop_assert_eq!(&of(vec![redone, last, undone]), &after);
    }

    /// A step is to come or over, never both; nothing is to come where a bake is over; what is to come stands in the order of
    /// its touches, the line in its own, and nothing rings that is not to come.
    #[test]
    fn every_step_is_to_come_or_over(all in events(), now in 0i64..400) {
        let answer = at(line(), &all, now);
        for s in &answer.state.steps {
            let to_come = answer.due.next.iter().any(|d| d.id == s.id);
            prop_assert_eq!(to_come, !s.is_over() && answer.state.outcome == Outcome::Running);
        }
        prop_assert!(ids(&answer).is_sorted());
        for t in &answer.due.timers {
            prop_assert!(answer.due.next.iter().any(|d| d.id == t.step));
        }
    }

    /// Moving everything in time moves what rings by as much: whatever the clock of the wall does on that day.
    #[test]
    fn timers_go_by_what_passes_and_not_by_the_wall(all in events(), by in -200_000i64..200_000, now in 0i64..400) {
        let shifted = |t: Timestamp| t + SignedDuration::from_mins(by);
        let moved_steps = line().into_iter().map(|s| PlannedStep { at: shifted(s.at), ..s }).collect();
        let what = |e: &Event| match &e.what {
            What::Replanned { steps } => What::Replanned {
                steps: steps.iter().map(|s| PlannedStep { at: shifted(s.at), ..s.clone() }).collect(),
            },
            other => other.clone(),
        };
        let moved_events: Vec<Event> =
            all.iter().map(|e| Event { at: shifted(e.at), what: what(e), ..e.clone() }).collect();
        let one = at(line(), &all, now);
        let other = stands(&begun_with(moved_steps), &moved_events, Catalogue::bundled(), shifted(moment(now))).unwrap();
        let rings = |a: &BakeAnswer| a.due.timers.iter().map(|t| t.rings).collect::<Vec<_>>();
        prop_assert_eq!(rings(&one).into_iter().map(shifted).collect::<Vec<_>>(), rings(&other));
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 40, ..ProptestConfig::default() })]

    /// Whoever is late, by whatever, what is done beside a wait moves with what it hangs on: the oven is hot when the bread goes
    /// in, the lid comes off when it should, the wash goes on before the oven.
    #[test]
    fn what_hangs_on_a_moment_moves_with_it(
        style in select(&Style::ALL[..]),
        preheat in 5.0..90.0f64,
        late in prop::collection::vec(0i64..50, 1..30),
    ) {
        let start = of_style(style, preheat);
        let (mut events, mut now) = (Vec::new(), start.steps[0].at);
        for (n, late) in late.into_iter().enumerate() {
            let answer = of_loaf(&start, &events, now);
            let span = |id: &str| answer.due.spans.iter().find(|s| s.id == id);
            let to_come = |id: &str| answer.due.next.iter().any(|d| d.id == id && !d.under_way);
            for s in start.steps.iter().filter(|s| s.kind != StepKind::Fold && to_come(&s.id)) {
                let Some(Point::Start(id)) = &s.hangs_on else { continue };
                let (Some(of), Some(is)) = (start.step(id), span(&s.id)) else { continue };
                let planned = s.at.duration_since(of.at).as_secs_f64();
                let really = is.from.duration_since(span(id).unwrap().from).as_secs_f64();
                // Whoever said to be late is late for what is next in the wait that they are in, and for nothing else.
                let late = answer.state.said_late.0 * 60.0;
                let as_late = late > 0.0 && (really - planned - late).abs() < 90.0;
                prop_assert!((planned - really).abs() < 90.0 || as_late, "{} of {id}: {planned} s, now {really} s", s.id);
            }
            // Some say that they are late, and some only are.
            let Some(head) = answer.due.next.first() else { break };
            let (by, said) = (Minutes(late as f64), late % 2 == 0);
            let what = if said { What::Late { by } } else { What::Done { step: head.id.clone() } };
            if !said {
                now = now.max(if head.hands_on { head.ends } else { head.at }) + SignedDuration::from_mins(late);
            }
            events.push(Event { key: EventKey(format!("p{n:02}")), at: now, device: String::new(), what });
        }
    }
}
