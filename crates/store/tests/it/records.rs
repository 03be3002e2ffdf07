//! Records: spelling, versions, deleting, and who may see what.

use std::path::Path;

use ratiomet_core::fraction::Written;
use ratiomet_core::project::{Choice, FrameId, Pair, Project, ProjectId, SourceId};
use ratiomet_store::{Store, Subject};

use crate::support::{
    Scratch, add_frame, add_source, begin, choose, delete, is_deleted, is_stale, is_unknown, masked, own, rename,
    replace, settings, source, tape, undo,
};

#[test]
fn what_is_written_is_read_in_its_own_spelling_after_a_new_start() {
    let scratch = Scratch::new();
    let (project, pair) = {
        let store = scratch.open();
        let project = begin(&store, "Salt");
        let source = add_source(&store, project, tape("T1"));
        let frame = add_frame(&store, project, masked("Broadcast"));
        let pair = Pair::new(source, frame);
        choose(&store, project, pair, 0, own("-12.50")).expect("set");
        (project, pair)
    };
    let store = scratch.open();
    let contents = store.contents(project).expect("contents");
    assert_eq!(contents.project.source(pair.source), Some(&tape("T1")));
    assert_eq!(contents.project.frame(pair.frame), Some(&masked("Broadcast")));
    let squeeze = contents.project.source(pair.source).expect("a source").geometry.squeeze().text();
    let ratio = contents.project.frame(pair.frame).expect("a frame").geometry.picture_ratio().map(Written::text);
    assert_eq!((squeeze, ratio), ("1.00", Some("2.00:1")));
    assert_eq!(contents.project.choice(pair), own("-12.50"));
    assert_eq!(contents.version(Subject::Choice(pair)), Some(1));
}

#[test]
fn every_write_names_the_version_it_changes() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let project = begin(&store, "Salt");
    let id = add_source(&store, project, tape("T1"));
    let version = |subject| store.contents(project).expect("contents").version(subject);
    assert_eq!((version(Subject::Settings), version(Subject::Source(id))), (Some(1), Some(1)));

    replace(&store, project, id, 1, tape("T2")).expect("replaced");
    assert_eq!(source(&store, project, id), (2, tape("T2")));
    is_stale(replace(&store, project, id, 1, tape("T3")), 2);
    is_stale(delete(&store, project, id, 1), 2);
    assert_eq!(source(&store, project, id), (2, tape("T2")));
    // The same again is no change.
    assert_eq!(replace(&store, project, id, 2, tape("T2")).expect("replaced").step, None);
    assert_eq!(version(Subject::Source(id)), Some(2));

    // Changing what is in a project is no change of the project itself.
    rename(&store, project, 1, "Salt works").expect("renamed");
    is_stale(rename(&store, project, 1, "Other"), 2);
    is_stale(store.delete_project(project, 1), 2);
}

#[test]
fn a_conversion_begins_at_version_0_and_keeps_counting() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let project = begin(&store, "Salt");
    let pair = Pair::new(add_source(&store, project, tape("T1")), add_frame(&store, project, masked("F")));
    let now = || {
        let contents = store.contents(project).expect("contents");
        (contents.version(Subject::Choice(pair)).expect("there"), contents.project.choice(pair))
    };
    assert_eq!(now(), (0, Choice::default()));
    is_stale(choose(&store, project, pair, 1, own("0")), 0);
    choose(&store, project, pair, 0, own("5")).expect("set");
    assert_eq!(now(), (1, own("5")));
    is_stale(choose(&store, project, pair, 0, own("6")), 1);
    // Following again does not begin the count anew, or an old window could write over it.
    choose(&store, project, pair, 1, Choice::default()).expect("set");
    assert_eq!(now(), (2, Choice::default()));
    is_stale(choose(&store, project, pair, 0, own("7")), 2);
    drop(store);
    let contents = scratch.open().contents(project).expect("contents");
    assert_eq!(contents.version(Subject::Choice(pair)), Some(2));
}

#[test]
fn deleted_things_are_gone_until_undo_brings_them_back() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let project = begin(&store, "Salt");
    let id = add_source(&store, project, tape("T1"));
    let pair = Pair::new(id, add_frame(&store, project, masked("F")));
    choose(&store, project, pair, 0, own("5")).expect("set");

    delete(&store, project, id, 1).expect("deleted");
    is_deleted::<()>(Err(store.missing(project, Subject::Source(id))), "source");
    is_deleted(delete(&store, project, id, 2), "source");
    is_deleted(replace(&store, project, id, 2, tape("T2")), "source");
    is_deleted(choose(&store, project, pair, 1, own("6")), "source");
    assert_eq!(store.projects().expect("list")[0].sources, 0);

    assert_eq!(store.head(project).expect("head").undo.map(|undo| undo.label).as_deref(), Some("Delete T1"));
    undo(&store, project);
    assert_eq!(source(&store, project, id), (3, tape("T1")));
    assert_eq!(store.contents(project).expect("contents").project.choice(pair), own("5"));

    store.delete_project(project, 1).expect("deleted");
    is_deleted(store.contents(project), "project");
    is_deleted(replace(&store, project, id, 3, tape("T2")), "project");
    is_deleted(store.head(project), "project");
    assert_eq!(store.projects().expect("list"), []);
    let restored = store.restore_project(project).expect("restored").info();
    assert_eq!((restored.sources, restored.frames), (1, 1));
}

#[test]
fn numbers_of_another_project_or_kind_are_unknown() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let (first, second) = (begin(&store, "First"), begin(&store, "Second"));
    let id = add_source(&store, first, tape("T1"));
    let frame = add_frame(&store, second, masked("F"));
    is_unknown(delete(&store, second, id, 1), "source");
    is_unknown::<()>(Err(store.missing(first, Subject::Frame(FrameId::new(id.number())))), "frame");
    is_unknown(choose(&store, first, Pair::new(id, frame), 0, own("1")), "frame");
    is_unknown(choose(&store, second, Pair::new(SourceId::new(frame.number()), frame), 0, own("1")), "source");
    is_unknown(store.contents(ProjectId::new(99)), "project");
    is_unknown(store.restore_project(ProjectId::new(99)), "project");
    let elsewhere = store.head(second).expect("head").at;
    let here = store.head(first).expect("head").at;
    is_unknown(store.go(first, here, elsewhere), "step");
}

#[test]
fn the_last_changed_project_stands_first_and_the_house_is_no_project() {
    let scratch = Scratch::new();
    let time = std::sync::Arc::new(std::sync::atomic::AtomicI64::new(1_000));
    let store = scratch.open_at(&time);
    let first = begin(&store, "First");
    begin(&store, "Second");
    let order = || -> Vec<String> {
        let projects = store.projects().expect("list");
        projects.iter().map(|project| project.settings.name.as_str().to_owned()).collect()
    };
    assert_eq!(order(), ["Second", "First"]);
    time.store(2_000, std::sync::atomic::Ordering::SeqCst);
    add_source(&store, first, tape("T1"));
    assert_eq!(order(), ["First", "Second"]);
    is_unknown(store.contents(ProjectId::new(0)), "project");
}

#[test]
fn the_demo_takes_the_place_of_the_demo_alone() {
    let scratch = Scratch::new();
    let store = scratch.open();
    assert!(!store.has_demo().expect("read"));
    begin(&store, "Mine");
    let mut demo = Project::new(settings("Demo"));
    demo.put_source(SourceId::new(1), Some(tape("T1")));
    demo.put_source(SourceId::new(2), Some(tape("T2")));
    // Two frames of which the first goes through the second.
    demo.put_frame(FrameId::new(1), Some(masked("F")));
    let mut last = masked("F");
    last.through = Some(FrameId::new(1));
    demo.put_frame(FrameId::new(2), Some(last));
    demo.put_choice(Pair::new(SourceId::new(2), FrameId::new(1)), own("5"));
    let first = store.seed_demo(&demo).expect("seeded");
    assert_eq!(store.contents(first).expect("contents").project.renumbered(), demo);
    let second = store.seed_demo(&demo).expect("seeded");
    assert_ne!(first, second, "a number is never used twice");
    assert_eq!(store.contents(second).expect("contents").project.renumbered(), demo);
    is_unknown(store.contents(first), "project");
    assert_eq!(store.projects().expect("list").len(), 2);
    assert!(store.has_demo().expect("read"));
    // Deleted by its user it still counts as given.
    store.delete_project(second, 1).expect("deleted");
    assert!(store.has_demo().expect("read"));
}

#[test]
fn two_programs_on_one_file_guard_each_other() {
    let scratch = Scratch::new();
    let (one, other) = (scratch.open(), scratch.open());
    let project = begin(&one, "Salt");
    let id = add_source(&one, project, tape("T1"));
    let head = one.head(project).expect("head");
    replace(&other, project, id, 1, tape("T2")).expect("replaced");
    is_stale(replace(&one, project, id, 1, tape("T3")), 2);
    // Neither may one take back what it has not seen.
    is_stale(one.go(project, head.at, head.undo.expect("a step").to), head.at.number() + 1);
    assert_eq!(source(&one, project, id), (2, tape("T2")));
}

#[test]
fn a_place_that_is_no_file_is_refused_in_words() {
    let refused = Store::open(Path::new("/nowhere/at/all.db")).err().expect("refused").to_string();
    assert!(refused.contains("/nowhere/at/all.db") && refused.contains("the folder"), "{refused}");
}

#[test]
fn a_file_may_be_called_what_one_likes() {
    let folder = tempfile::tempdir().expect("a folder");
    for name in ["what? 100% #1.db", "file:memory.db", "a&b=c.db", "ü.db"] {
        let path = folder.path().join(name);
        let project = begin(&Store::open(&path).expect("made"), "Salt");
        assert!(path.is_file(), "{name}");
        let store = Store::open_for_reading(&path).expect("read");
        assert_eq!(store.contents(project).expect("contents").project.settings(), &settings("Salt"));
    }
}
