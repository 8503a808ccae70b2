//! The store on a real SQLite file.

use std::path::PathBuf;

use cerealis_core::bake::{Event, EventKey, Outcome, Start, What, stands};
use cerealis_core::formats::{Imported, import, write_household};
use cerealis_core::formula::Formula;
use cerealis_core::kitchen::Kitchen;
use cerealis_core::pantry::{Catalogue, Cupboard, OwnIngredient};
use cerealis_core::stations::read;
use cerealis_core::units::Celsius;
use cerealis_core::words::Style;
use cerealis_store::{BakeId, FormulaId, Removed, Revision, Store, StoreError, Wanted};
use tempfile::TempDir;

fn place() -> (TempDir, PathBuf) {
    let dir = tempfile::tempdir().unwrap();
    let path = dir.path().join("kitchen.sqlite");
    (dir, path)
}

#[test]
fn what_was_saved_is_there_after_opening_again() {
    let (_dir, path) = place();
    let formula = Formula::beginning("Mill loaf", Style::Tin);
    let id = Store::open(&path).unwrap().create_formula(&formula).unwrap();
    let again = Store::open(&path).unwrap();
    assert_eq!(again.formula(id).unwrap().formula, formula);
}

#[test]
fn a_second_tab_does_not_overwrite_the_first() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    let mut formula = Formula::beginning("Mill loaf", Style::Tin);
    let id = store.create_formula(&formula).unwrap();
    let read = store.formula(id).unwrap().revision;
    formula.mix.desired = Celsius(26.0);
    let saved = store.save_formula(id, read, &formula, "").unwrap();
    formula.mix.desired = Celsius(22.0);
    assert!(matches!(store.save_formula(id, read, &formula, ""), Err(StoreError::Conflict)));
    assert_eq!(store.formula(id).unwrap().formula.mix.desired, Celsius(26.0));
    assert_eq!(store.save_formula(id, saved, &formula, "").unwrap(), Revision(saved.0 + 1));
}

#[test]
fn a_deletion_can_be_taken_back() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    let id = store.create_formula(&Formula::beginning("Mill loaf", Style::Tin)).unwrap();
    store.delete_formula(id).unwrap();
    assert!(matches!(store.formula(id), Err(StoreError::NotFound)));
    assert!(store.formulas().unwrap().is_empty());
    assert_eq!(store.deleted_name(id).unwrap(), "Mill loaf");
    store.restore_formula(id).unwrap();
    assert_eq!(store.formulas().unwrap().len(), 1);
    assert!(matches!(store.delete_formula(FormulaId(99)), Err(StoreError::NotFound)));
}

#[test]
fn two_saves_of_the_kitchen_conflict() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    let mut read = store.kitchen().unwrap();
    assert_eq!(read.revision, Revision(0));
    read.kitchen.room = Celsius(19.0);
    store.save_kitchen(Some(read.revision), &read.kitchen).unwrap();
    assert!(matches!(store.save_kitchen(Some(read.revision), &read.kitchen), Err(StoreError::Conflict)));
    assert_eq!(store.kitchen().unwrap().kitchen.room, Celsius(19.0));
}

#[test]
fn the_demo_fills_a_kitchen() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    store.fill_with_demo().unwrap();
    assert_eq!(store.formulas().unwrap().len(), 7);
    assert_eq!(store.kitchen().unwrap().kitchen.time_zone, "Europe/London");
}

#[test]
fn a_file_that_is_not_ours_is_refused_and_left_alone() {
    let (_dir, path) = place();
    std::fs::write(&path, "flour, water, salt\n").unwrap();
    assert!(matches!(Store::open(&path), Err(StoreError::NotOurs(_))));
    assert_eq!(std::fs::read_to_string(&path).unwrap(), "flour, water, salt\n");
}

#[test]
fn another_programs_database_is_refused() {
    use diesel::connection::{Connection, SimpleConnection};
    let (_dir, path) = place();
    let mut other = diesel::SqliteConnection::establish(path.to_str().unwrap()).unwrap();
    other.batch_execute("CREATE TABLE songs (title TEXT);").unwrap();
    drop(other);
    assert!(matches!(Store::open(&path), Err(StoreError::NotOurs(_))));
}

#[test]
fn an_impossible_place_is_said_in_a_sentence() {
    let (dir, _) = place();
    let nowhere = dir.path().join("no/such/folder/kitchen.sqlite");
    let Err(error) = Store::open(&nowhere) else { panic!("opened a file in no folder") };
    assert!(error.to_string().contains("cannot be opened for writing"), "{error}");
}

#[test]
fn every_save_is_a_version_and_old_files_get_theirs() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    let mut formula = Formula::beginning("Mill loaf", Style::Tin);
    let id = store.create_formula(&formula).unwrap();
    formula.mix.desired = Celsius(26.0);
    store.save_formula(id, Revision(1), &formula, "Dough 25 °C to 26 °C").unwrap();
    assert!(store.save_formula(id, Revision(1), &formula, "late").is_err());
    let all = store.versions(id).unwrap();
    let told: Vec<_> = all.iter().map(|v| (v.revision, v.reason.as_str())).collect();
    assert_eq!(told, [(Revision(2), "Dough 25 °C to 26 °C"), (Revision(1), "As it began")]);
    assert_eq!(all[0].formula, formula);
    assert_eq!(all[1].formula.mix.desired, Celsius(25.0));
    assert!(matches!(store.versions(FormulaId(99)), Err(StoreError::NotFound)));
}

fn own(name: &str, protein: f64) -> OwnIngredient {
    OwnIngredient {
        key: "own-mill".into(),
        name: name.into(),
        like: "bread-flour".into(),
        protein: Some(protein),
        ..OwnIngredient::default()
    }
}

fn baked_with(key: &str) -> Formula {
    let mut f = Formula::beginning("Mill loaf", Style::Tin);
    f.lines[0].ingredient = key.into();
    f
}

#[test]
fn two_saves_of_the_cupboard_conflict() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    let read = store.cupboard().unwrap();
    assert_eq!((read.revision, &read.cupboard), (Revision(0), &Cupboard::default()));
    let price = |key: &'static str| {
        move |c: &mut Cupboard| {
            c.prices.insert(key.into(), 0.6);
            Ok(())
        }
    };
    store.change_cupboard(Some(read.revision), price("salt")).unwrap();
    let again = store.change_cupboard(Some(read.revision), price("butter"));
    assert!(matches!(again, Err(StoreError::Conflict)));
    store.change_cupboard(None, price("milk")).unwrap();
    let kept = Store::open(&path).unwrap().cupboard().unwrap();
    assert_eq!(
        kept.cupboard.prices.keys().collect::<Vec<_>>(),
        ["milk", "salt"],
        "each is changed as it stands"
    );
    let bad = store.change_cupboard(None, |c| {
        c.prices.insert("salt".into(), -1.0);
        Ok(())
    });
    assert!(matches!(bad, Err(StoreError::Refused(_))));
    assert_eq!(store.cupboard().unwrap().cupboard.prices["salt"], 0.6);
}

/// What uses an own ingredient keeps it: a formula or a rising dough in sight, a version or a deleted
/// formula out of sight.
#[test]
fn an_own_ingredient_in_use_cannot_vanish() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    let id = store.bring_in(vec![baked_with("own-mill")], &[own("Mill", 12.0)]).unwrap()[0];
    assert!(matches!(store.remove_own("own-mill"), Err(StoreError::InUse(by)) if by.contains("Mill loaf")));
    let now = "2026-03-07T08:00:00Z".parse().unwrap();
    let all = Catalogue::bundled().with(&store.cupboard().unwrap().cupboard.own);
    let stations = read(&baked_with("own-mill"), &Kitchen::default(), &all, now).unwrap();
    let start = Start::of(&baked_with("own-mill"), &stations, now);
    let bake = store.begin_bake(Some(id), &start, &[]).unwrap();
    store.save_formula(id, Revision(1), &baked_with("bread-flour"), "another flour").unwrap();
    assert!(matches!(store.remove_own("own-mill"), Err(StoreError::InUse(by)) if by.contains("goes on")));
    store.add_events(bake, &[event("end", "2026-03-07T09:00:00Z", What::Finished)]).unwrap();
    // Version 1 has it still.
    assert!(matches!(store.remove_own("own-mill").unwrap(), Removed::PutAway(_)));
    let all = Catalogue::bundled().with(&store.cupboard().unwrap().cupboard.own);
    assert!(all.get("own-mill").is_some() && !all.at_hand().any(|i| i.key == "own-mill"));
    store.versions(id).unwrap()[1].formula.check(&all).unwrap();
    let unused = OwnIngredient { key: "own-spare".into(), ..own("Spare", 9.0) };
    store.bring_in(Vec::new(), std::slice::from_ref(&unused)).unwrap();
    assert_eq!(store.remove_own("own-spare").unwrap(), Removed::Gone(unused));
    assert!(matches!(store.remove_own("own-spare"), Err(StoreError::NotFound)));
}

#[test]
fn a_household_goes_out_and_comes_in_once() {
    let (_dir, path) = place();
    let (_other, elsewhere) = place();
    let from = Store::open(&path).unwrap();
    from.fill_with_demo().unwrap();
    from.archive_formula(from.formulas().unwrap()[0].id, true).unwrap();
    let file = from.household().unwrap();
    let text = write_household(&file);
    let Ok(Some(Imported::Household(read))) = import(&text, Catalogue::bundled()) else {
        panic!("{text:.200}")
    };
    assert_eq!(*read, file, "what goes out comes in");
    let to = Store::open(&elsewhere).unwrap();
    let wanted = Wanted { kitchen: true, prices: true };
    let taken = to.take_household(file.clone(), wanted).unwrap();
    assert_eq!((taken.formulas, taken.here_already), (7, 0));
    assert_eq!(to.household().unwrap(), file);
    let again = to.take_household(file.clone(), wanted).unwrap();
    assert_eq!((again.formulas, again.here_already), (0, 7));
    assert_eq!(to.household().unwrap(), file);
}

#[test]
fn what_is_brought_in_comes_whole_or_not_at_all() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    let ids = store.bring_in(vec![baked_with("own-mill")], &[own("Mill", 12.0)]).unwrap();
    assert_eq!(store.cupboard().unwrap().revision, Revision(1));
    // The same again changes nothing in the cupboard; another of the same name stands beside it.
    store.bring_in(vec![baked_with("own-mill")], &[own("Mill", 12.0)]).unwrap();
    assert_eq!(store.cupboard().unwrap().revision, Revision(1));
    let other = store.bring_in(vec![baked_with("own-mill")], &[own("Mill", 9.0)]).unwrap();
    let cupboard = store.cupboard().unwrap().cupboard;
    let line = |id: FormulaId| store.formula(id).unwrap().formula.lines[0].ingredient.clone();
    assert_eq!((line(ids[0]).as_str(), line(other[0])), ("own-mill", cupboard.own[1].key.clone()));
    let broken =
        OwnIngredient { like: "moon".into(), key: "own-x".into(), name: "X".into(), ..own("X", 9.0) };
    let refused = store.bring_in(vec![baked_with("own-x")], &[broken]);
    assert!(matches!(refused, Err(StoreError::Refused(_))), "{refused:?}");
    assert_eq!(store.formulas().unwrap().len(), 3, "nothing of it was kept");
}

#[test]
fn a_formula_is_put_away_and_taken_out() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    let id = store.create_formula(&Formula::beginning("Mill loaf", Style::Tin)).unwrap();
    store.archive_formula(id, true).unwrap();
    let away = store.formula(id).unwrap();
    assert!(away.archived && away.revision == Revision(1), "its content is untouched");
    store.archive_formula(id, false).unwrap();
    assert!(!store.formula(id).unwrap().archived);
    store.delete_formula(id).unwrap();
    assert!(matches!(store.archive_formula(id, true), Err(StoreError::NotFound)));
}

fn event(key: &str, at: &str, what: What) -> Event {
    Event { key: EventKey(key.into()), at: at.parse().unwrap(), device: "Phone".into(), what }
}

/// What happened to a bake is only ever added to: twice is once, two at the same time are both there, and taking back is an event.
#[test]
fn a_bake_is_what_happened_to_it() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    let formula = Formula::beginning("Mill loaf", Style::Tin);
    let id = store.create_formula(&formula).unwrap();
    let now = "2026-03-07T08:00:00Z".parse().unwrap();
    let stations = read(&formula, &Kitchen::default(), Catalogue::bundled(), now).unwrap();
    let start = Start::of(&formula, &stations, now);
    let (bake, second) =
        (store.begin_bake(Some(id), &start, &[]).unwrap(), store.begin_bake(Some(id), &start, &[]).unwrap());
    assert_eq!(store.all_baking().unwrap(), [id, id], "two of one formula at once");
    let done = event("a", "2026-03-07T08:10:00Z", What::Done { step: "weigh".into() });
    let (stored, fresh) = store.add_events(bake, std::slice::from_ref(&done)).unwrap();
    assert_eq!((fresh, stored.state().steps[0].done), (1, Some(done.at)));
    assert_eq!(store.add_events(bake, std::slice::from_ref(&done)).unwrap().1, 0, "the same once more");
    let seq = store.last_event().unwrap();
    store.add_events(second, &[event("a", "2026-03-07T08:12:00Z", What::Abandoned)]).unwrap();
    assert_eq!(store.bakes_since(seq).unwrap(), [second]);
    assert_eq!(store.running_bakes().unwrap().iter().map(|b| b.id).collect::<Vec<_>>(), [bake]);
    let given_up = &store.past_bakes(Some(id), 10).unwrap()[0];
    assert_eq!(
        (given_up.id, given_up.state().outcome),
        (second, Outcome::Abandoned),
        "a state, not a deletion"
    );
    store
        .add_events(
            second,
            &[event("b", "2026-03-07T08:13:00Z", What::Undone { event: EventKey("a".into()) })],
        )
        .unwrap();
    assert_eq!(store.running_bakes().unwrap().len(), 2, "and it can be taken back");
    assert_eq!(Store::open(&path).unwrap().bake(bake).unwrap(), store.bake(bake).unwrap());
    assert!(matches!(store.add_events(BakeId(99), &[done]), Err(StoreError::NotFound)));
    store.delete_formula(id).unwrap();
    assert_eq!(store.running_bakes().unwrap().len(), 2, "what is made of it stays");
}

#[test]
fn the_demo_has_bakes_under_way_and_a_cupboard_in_order() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    store.fill_with_demo().unwrap();
    let cupboard = store.cupboard().unwrap().cupboard;
    cupboard.check(Catalogue::bundled()).unwrap();
    let all = Catalogue::bundled().with(&cupboard.own);
    assert!(cupboard.prices.keys().all(|k| all.get(k).is_some()), "every price is of something");
    let now = jiff::Timestamp::now();
    let mut heads = Vec::new();
    for bake in store.running_bakes().unwrap() {
        let answer = stands(&bake.start, &bake.events, &all, now).unwrap();
        let head = &answer.due.next[0];
        assert!(head.at > now, "{}: {} is over its time", bake.start.formula.name, head.id);
        assert!(
            answer.outlook.is_none_or(|w| w.forecast.questions.is_empty()),
            "{}",
            bake.start.formula.name
        );
        heads.push(head.id.clone());
    }
    assert!(heads.iter().any(|h| h == "bulk") && heads.iter().any(|h| h.starts_with("cool")), "{heads:?}");
    assert_eq!(heads.len(), 3);
    let past = &store.past_bakes(None, 9).unwrap()[0];
    assert!(past.state().next_time.is_some());
}

#[test]
fn a_day_plan_is_kept_and_two_saves_of_it_conflict() {
    use cerealis_core::plan::{DayPlan, Pins, PlanDough, WantedAs};
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    assert!(store.day_plan().unwrap().plan.is_none());
    let from = jiff::civil::date(2026, 11, 27);
    let dough = PlanDough {
        formula: 3,
        wanted: WantedAs::By,
        at: Some(from.at(18, 30, 0, 0)),
        pins: Pins { no_fridge: true, ..Pins::default() },
        fixed: Vec::new(),
    };
    let plan = DayPlan { doughs: vec![dough], ..DayPlan::beginning(from) };
    let (first, _) = store.save_day_plan(Some(Revision(0)), &plan).unwrap();
    let other = DayPlan { days: 4, ..plan.clone() };
    assert!(matches!(store.save_day_plan(Some(Revision(0)), &other), Err(StoreError::Conflict)));
    assert_eq!(Store::open(&path).unwrap().day_plan().unwrap().plan, Some(plan));
    store.save_day_plan(Some(first), &other).unwrap();
    assert_eq!(store.day_plan().unwrap().plan.unwrap().days, 4);
}

/// What a list knows of each formula without reading it: all that are not deleted, with the revision that they have.
#[test]
fn the_marks_of_formulas_follow_what_is_done_to_them() {
    let (_dir, path) = place();
    let store = Store::open(&path).unwrap();
    let mut formula = Formula::beginning("Mill loaf", Style::Tin);
    let ids: Vec<FormulaId> = (0..3).map(|_| store.create_formula(&formula).unwrap()).collect();
    let marks = || store.formula_marks().unwrap();
    assert_eq!(marks().len(), 3);
    formula.name = "Weir loaf".into();
    let saved = store.save_formula(ids[0], Revision(1), &formula, "").unwrap();
    store.archive_formula(ids[1], true).unwrap();
    store.delete_formula(ids[2]).unwrap();
    let now = marks();
    assert_eq!(now.len(), 2);
    assert_eq!(now.iter().find(|m| m.id == ids[0]).unwrap().revision, saved);
    assert!(now.iter().find(|m| m.id == ids[1]).unwrap().archived);
    let (read, damaged) = store.formulas_of(&ids).unwrap();
    assert!(damaged.is_empty() && read.iter().any(|f| f.formula.name == "Weir loaf"));
}
