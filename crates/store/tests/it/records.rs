//! Records: spelling, versions, deleting, and who may see what.

use std::path::Path;

use ratiomet_core::fraction::Written;
use ratiomet_core::project::{Choice, Deliverable, Footage, Pair};
use ratiomet_store::Store;
use ratiomet_wire::project::ProjectContents;

use crate::support::{Scratch, begin, empty, is_deleted, is_stale, is_unknown, masked, own, put, settings, tape};

#[test]
fn what_is_written_is_read_in_its_own_spelling_after_a_new_start() {
    let scratch = Scratch::new();
    let (project, source, frame) = {
        let mut store = scratch.open();
        let project = begin(&mut store, "Salt");
        let source = store.add(project, &tape("T1")).expect("added");
        let frame = store.add(project, &masked("Broadcast")).expect("added");
        store.set_choice(project, Pair { source: source.id, frame: frame.id }, 0, &put(own("-12.50"))).expect("set");
        (project, source, frame)
    };
    let mut store = scratch.open();
    let contents = store.contents(project).expect("contents");
    assert_eq!(contents.sources, std::slice::from_ref(&source));
    assert_eq!(contents.frames, std::slice::from_ref(&frame));
    assert_eq!(contents.sources[0].value, tape("T1"));
    assert_eq!(contents.sources[0].value.geometry.squeeze().text(), "1.00");
    assert_eq!(contents.frames[0].value.geometry.picture_ratio().map(Written::text), Some("2.00:1"));
    assert_eq!(contents.choices, [(Pair { source: source.id, frame: frame.id }, 1, own("-12.50"))]);
}

#[test]
fn every_write_names_the_version_it_changes() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let project = begin(&mut store, "Salt");
    let source = store.add(project, &tape("T1")).expect("added");
    assert_eq!((store.project(project).expect("read").version, source.version), (1, 1));

    let changed = store.replace(project, source.id, 1, &tape("T2")).expect("replaced");
    assert_eq!((changed.version, changed.value.name.as_str()), (2, "T2"));
    is_stale(store.replace(project, source.id, 1, &tape("T3")), 2);
    is_stale(store.delete::<Footage>(project, source.id, 1), 2);
    assert_eq!(store.get::<Footage>(project, source.id).expect("read").value.name.as_str(), "T2");
    // The same again is no change.
    assert_eq!(store.replace(project, source.id, 2, &tape("T2")).expect("replaced").version, 2);

    // Changing what is in a project is no change of the project itself.
    store.set_project(project, 1, &settings("Salt works")).expect("renamed");
    is_stale(store.set_project(project, 1, &settings("Other")), 2);
    is_stale(store.delete_project(project, 1), 2);
}

#[test]
fn a_conversion_begins_at_version_0_and_keeps_counting() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let project = begin(&mut store, "Salt");
    let source = store.add(project, &tape("T1")).expect("added").id;
    let frame = store.add(project, &masked("F")).expect("added").id;
    let pair = Pair { source, frame };
    assert_eq!(store.choice(project, pair).expect("read"), (0, Choice::default()));
    is_stale(store.set_choice(project, pair, 1, &put(own("0"))), 0);
    assert_eq!(store.set_choice(project, pair, 0, &put(own("5"))).expect("set").0, 1);
    is_stale(store.set_choice(project, pair, 0, &put(own("6"))), 1);
    // Following again does not begin the count anew, or an old window could write over it.
    assert_eq!(store.set_choice(project, pair, 1, &put(Choice::default())).expect("set"), (2, Choice::default()));
    is_stale(store.set_choice(project, pair, 0, &put(own("7"))), 2);
}

#[test]
fn deleted_things_are_gone_until_undo_brings_them_back() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let project = begin(&mut store, "Salt");
    let source = store.add(project, &tape("T1")).expect("added").id;
    let frame = store.add(project, &masked("F")).expect("added").id;
    let pair = Pair { source, frame };
    store.set_choice(project, pair, 0, &put(own("5"))).expect("set");

    store.delete::<Footage>(project, source, 1).expect("deleted");
    is_deleted(store.get::<Footage>(project, source), "source");
    is_deleted(store.delete::<Footage>(project, source, 2), "source");
    is_deleted(store.replace(project, source, 2, &tape("T2")), "source");
    is_deleted(store.choice(project, pair), "source");
    is_deleted(store.set_choice(project, pair, 1, &put(own("6"))), "source");
    assert_eq!(store.contents(project).expect("contents").sources, []);
    assert_eq!(store.project(project).expect("read").sources, 0);

    let head = store.head(project).expect("head");
    assert_eq!(head.undo.as_ref().map(|(_, label)| label.as_str()), Some("Delete T1"));
    store.go(project, head.at, head.undo.expect("a step").0).expect("undone");
    let back = store.get::<Footage>(project, source).expect("there");
    assert_eq!((back.version, back.value), (3, tape("T1")));
    assert_eq!(store.choice(project, pair).expect("read").1, own("5"));

    store.delete_project(project, 1).expect("deleted");
    is_deleted(store.project(project), "project");
    is_deleted(store.list::<Footage>(project), "project");
    is_deleted(store.add(project, &masked("G")), "project");
    is_deleted(store.head(project), "project");
    assert_eq!(store.projects().expect("list"), []);
    let restored = store.restore_project(project).expect("restored");
    assert_eq!((restored.sources, restored.frames), (1, 1));
}

#[test]
fn numbers_of_another_project_or_kind_are_unknown() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let (first, second) = (begin(&mut store, "First"), begin(&mut store, "Second"));
    let source = store.add(first, &tape("T1")).expect("added").id;
    let frame = store.add(second, &masked("F")).expect("added").id;
    is_unknown(store.get::<Footage>(second, source), "source");
    is_unknown(store.delete::<Footage>(second, source, 1), "source");
    is_unknown(store.get::<Deliverable>(first, source), "frame");
    is_unknown(store.choice(first, Pair { source, frame }), "frame");
    is_unknown(store.project(99), "project");
    is_unknown(store.restore_project(99), "project");
    let elsewhere = store.head(second).expect("head").at;
    let here = store.head(first).expect("head").at;
    is_unknown(store.go(first, here, elsewhere), "step");
}

#[test]
fn the_last_changed_project_stands_first_and_the_house_is_no_project() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let first = begin(&mut store, "First");
    begin(&mut store, "Second");
    let order = |store: &mut Store| -> Vec<String> {
        let projects = store.projects().expect("list");
        projects.iter().map(|project| project.settings.name.as_str().to_owned()).collect()
    };
    assert_eq!(order(&mut store), ["Second", "First"]);
    std::thread::sleep(std::time::Duration::from_millis(5));
    store.add(first, &tape("T1")).expect("added");
    assert_eq!(order(&mut store), ["First", "Second"]);
    is_unknown(store.contents(ratiomet_store::HOUSE), "project");
}

#[test]
fn the_demo_takes_the_place_of_the_demo_alone() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    assert!(!store.has_demo().expect("read"));
    begin(&mut store, "Mine");
    let demo = ProjectContents {
        sources: vec![tape("T1"), tape("T2")],
        frames: vec![masked("F")],
        conversions: vec![(1, 0, own("5"))],
        ..empty("Demo")
    };
    let first = store.seed_demo(&demo).expect("seeded");
    let contents = store.contents(first).expect("contents");
    assert_eq!(contents.choices[0].0.source, contents.sources[1].id);
    assert_eq!(contents.without_numbers(), demo);
    let second = store.seed_demo(&demo).expect("seeded");
    assert_ne!(first, second, "a number is never used twice");
    is_unknown(store.project(first), "project");
    assert_eq!(store.projects().expect("list").len(), 2);
    assert!(store.has_demo().expect("read"));
    // Deleted by its user it still counts as given.
    store.delete_project(second, 1).expect("deleted");
    assert!(store.has_demo().expect("read"));
}

#[test]
fn two_programs_on_one_file_guard_each_other() {
    let scratch = Scratch::new();
    let (mut one, mut other) = (scratch.open(), scratch.open());
    let project = begin(&mut one, "Salt");
    let source = one.add(project, &tape("T1")).expect("added").id;
    let head = one.head(project).expect("head");
    other.replace(project, source, 1, &tape("T2")).expect("replaced");
    is_stale(one.replace(project, source, 1, &tape("T3")), 2);
    // Neither may one take back what it has not seen.
    is_stale(one.go(project, head.at, head.undo.expect("a step").0), head.at + 1);
    assert_eq!(one.get::<Footage>(project, source).expect("read").value.name.as_str(), "T2");
}

#[test]
fn a_place_that_is_no_file_is_refused_in_words() {
    let refused = Store::open(Path::new("/nowhere/at/all.db")).err().expect("refused").to_string();
    assert!(refused.contains("/nowhere/at/all.db") && refused.contains("there is no folder"), "{refused}");
}
