//! What goes wrong takes nothing along: panics in the middle of a write, states that nobody can read, files of
//! newer and of other programs.

use std::panic::{AssertUnwindSafe, catch_unwind};
use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use diesel::connection::SimpleConnection;
use ratiomet_core::project::{Edit, Pair, ProjectId};
use ratiomet_store::{Clock, Store, StoreError, Subject};

use crate::support::{
    Scratch, add_frame, add_source, begin, choose, edit, masked, names, own, replace, source, tape, undo,
};

#[test]
fn a_panic_in_a_write_leaves_nothing_half_done_and_the_store_in_order() {
    let scratch = Scratch::new();
    let broken = Arc::new(AtomicBool::new(false));
    let fault = broken.clone();
    let clock = Clock::new(move || {
        assert!(!fault.load(Ordering::SeqCst), "the clock is broken");
        1_000
    });
    let store = Store::open_by(&scratch.path(), clock).expect("opened");
    let project = begin(&store, "Salt");
    let id = add_source(&store, project, tape("A"));
    broken.store(true, Ordering::SeqCst);
    let hit = || catch_unwind(AssertUnwindSafe(|| replace(&store, project, id, 1, tape("B"))));
    assert!(hit().is_err() && hit().is_err());
    broken.store(false, Ordering::SeqCst);
    assert_eq!(source(&store, project, id), (1, tape("A")));
    replace(&store, project, id, 1, tape("B")).expect("the next write is carried out");
    undo(&store, project);
    assert_eq!(source(&store, project, id), (3, tape("A")));
}

/// Writes over the state of a record as a foreign hand would.
fn spoil(scratch: &Scratch, record: i32, set: &str) {
    scratch.with_tables(|connection| {
        let query = format!("UPDATE states SET {set} WHERE id = (SELECT state_id FROM records WHERE id = {record})");
        connection.batch_execute(&query).expect("spoiled");
    });
}

#[test]
fn a_state_that_cannot_be_read_is_set_aside_and_all_else_goes_on() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let project = begin(&store, "Salt");
    let bad = add_source(&store, project, tape("Bad"));
    let future = add_source(&store, project, tape("From tomorrow"));
    let good = add_source(&store, project, tape("Good"));
    let frame = add_frame(&store, project, masked("F"));
    choose(&store, project, Pair::new(good, frame), 0, own("5")).expect("set");
    drop(store);
    spoil(&scratch, bad.number(), "body = '{\"name\":7'");
    spoil(&scratch, future.number(), "format = 99");
    let store = scratch.open();
    let contents = store.contents(project).expect("contents");
    assert_eq!(names(&store, project), ["Good"]);
    let aside: Vec<_> = contents.set_aside.iter().map(|aside| (aside.kind.as_str(), aside.id, aside.format)).collect();
    assert_eq!(aside, [("source", bad.number(), ratiomet_wire::kept::FORMAT), ("source", future.number(), 99)]);
    assert_eq!(contents.set_aside[0].body, "{\"name\":7", "it is given out as it is kept");
    assert!(contents.set_aside[1].why.contains("format 99"), "{}", contents.set_aside[1].why);
    // Nobody can write over it by accident.
    let named = Edit::Delete { sources: vec![bad], frames: Vec::new() };
    assert!(matches!(store.edit(project, &named, None), Err(StoreError::Unreadable { .. })));
    assert!(matches!(store.missing(project, Subject::Source(bad)), StoreError::Unreadable { .. }));
    // Everything else goes on, back and forth.
    replace(&store, project, good, 1, tape("Better")).expect("renamed");
    undo(&store, project);
    assert_eq!(names(&store, project), ["Good"]);
    assert_eq!(store.contents(project).expect("contents").set_aside.len(), 2);
    // Once it can be read it is there again.
    drop(store);
    spoil(&scratch, future.number(), "format = 2");
    assert_eq!(names(&scratch.open(), project), ["From tomorrow", "Good"]);
}

#[test]
fn a_project_whose_own_values_cannot_be_read_is_listed_and_opens() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let project = begin(&store, "Salt");
    add_source(&store, project, tape("A"));
    let own = scratch.with_tables(|connection| {
        #[derive(diesel::QueryableByName)]
        struct Id {
            #[diesel(sql_type = diesel::sql_types::Integer)]
            id: i32,
        }
        use diesel::RunQueryDsl;
        let query = diesel::sql_query("SELECT id FROM records WHERE kind = 'project' AND project_id > 0");
        query.get_result::<Id>(connection).expect("a record").id
    });
    spoil(&scratch, own, "body = 'no JSON'");
    let listed = store.projects().expect("list");
    assert_eq!((listed.len(), listed[0].sources), (1, 1));
    assert!(listed[0].settings.name.as_str().contains("cannot be read"));
    assert_eq!(names(&store, project), ["A"]);
    // It can be given a name again.
    let settings = crate::support::settings("Salt again");
    edit(&store, project, &Edit::SetProject(settings.clone()));
    assert_eq!(store.contents(project).expect("contents").project.settings(), &settings);
    assert!(store.contents(project).expect("contents").set_aside.is_empty());
}

#[test]
fn a_file_of_a_newer_version_is_left_as_it_is_and_both_versions_are_named() {
    let scratch = Scratch::new();
    begin(&scratch.open(), "Salt");
    scratch.with_tables(|connection| {
        connection
            .batch_execute(
                "INSERT INTO __diesel_schema_migrations (version) VALUES ('20991231000001');
                UPDATE meta SET value = '9.8.7';",
            )
            .expect("from tomorrow");
    });
    let before = std::fs::read(scratch.path()).expect("a file");
    for refused in [Store::open(&scratch.path()).err(), Store::open_for_reading(&scratch.path()).err()] {
        let refused = refused.expect("refused").to_string();
        let own = env!("CARGO_PKG_VERSION");
        assert!(refused.contains("version 9.8.7") && refused.contains(own), "{refused}");
    }
    assert!(std::fs::read(scratch.path()).expect("a file") == before, "it was changed");
}

#[test]
fn a_file_of_another_program_is_left_as_it_is() {
    let scratch = Scratch::of("CREATE TABLE things (id INTEGER); INSERT INTO things VALUES (7);");
    let before = std::fs::read(scratch.path()).expect("a file");
    for refused in [Store::open(&scratch.path()).err(), Store::open_for_reading(&scratch.path()).err()] {
        assert!(refused.expect("refused").to_string().contains("another program"));
    }
    assert!(std::fs::read(scratch.path()).expect("a file") == before, "it was changed");
    assert_eq!(scratch.files(), ["test.db"]);
}

#[test]
fn reading_alone_changes_nothing_in_the_folder() {
    let scratch = Scratch::new();
    let project = begin(&scratch.open(), "Salt");
    let before = (scratch.files(), std::fs::read(scratch.path()).expect("a file"));
    let store = Store::open_for_reading(&scratch.path()).expect("opened");
    assert_eq!(store.projects().expect("list").len(), 1);
    assert!(matches!(rename_there(&store, project), Err(StoreError::Database(_))), "it can be written to");
    drop(store);
    assert_eq!((scratch.files(), std::fs::read(scratch.path()).expect("a file")), before);
    // While somebody has it open it is read as it is at that moment.
    let other = scratch.open();
    add_source(&other, project, tape("A"));
    let store = Store::open_for_reading(&scratch.path()).expect("opened");
    assert_eq!(names(&store, project), ["A"]);
    let nowhere = Store::open_for_reading(&scratch.path().with_file_name("none.db")).err().expect("refused");
    assert!(nowhere.to_string().contains("does not exist"), "{nowhere}");
}

fn rename_there(store: &Store, project: ProjectId) -> Result<ratiomet_store::Outcome, StoreError> {
    crate::support::rename(store, project, 1, "Other")
}

#[test]
fn reading_goes_on_while_another_program_holds_the_file_and_the_write_comes_through() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let project = begin(&store, "Salt");
    let id = add_source(&store, project, tape("A"));
    let held = AtomicBool::new(false);
    std::thread::scope(|scope| {
        scope.spawn(|| {
            scratch.with_tables(|other| {
                other.batch_execute("BEGIN IMMEDIATE").expect("the file is held");
                held.store(true, Ordering::SeqCst);
                std::thread::sleep(std::time::Duration::from_millis(600));
                assert_eq!(names(&store, project), ["A"], "and reading goes on");
                other.batch_execute("COMMIT").expect("it is let go");
                held.store(false, Ordering::SeqCst);
            });
        });
        while !held.load(Ordering::SeqCst) {
            std::thread::yield_now();
        }
        scope.spawn(|| replace(&store, project, id, 1, tape("B")).expect("it waits, and is written"));
        // Long before the file is let go.
        while held.load(Ordering::SeqCst) {
            assert!(["A", "B"].contains(&&*names(&store, project)[0]));
        }
    });
    assert_eq!(names(&store, project), ["B"]);
}

/// Each is one thing that a foreign hand or a failing disk has done to the file.
#[test]
fn a_check_finds_what_is_wrong_and_names_it() {
    for (done, found) in [
        (
            "UPDATE states SET body = '{}' WHERE id = (SELECT state_id FROM records WHERE kind = 'source')",
            "cannot be read",
        ),
        ("UPDATE states SET format = 99 WHERE id = 1", "state 1 of the"),
        ("UPDATE records SET state_id = NULL WHERE kind = 'source'", "is not what its history makes of it"),
        ("UPDATE records SET kind = 'ghost' WHERE kind = 'source'", "nothing of this kind"),
        ("UPDATE steps SET parent_id = id WHERE parent_id IS NOT NULL", "goes in a circle"),
        ("UPDATE projects SET step_id = NULL WHERE id = 1", "stands nowhere"),
        ("UPDATE steps SET redo_id = id WHERE parent_id IS NULL AND project_id = 1", "which does not follow it"),
        (
            "PRAGMA foreign_keys = OFF; DELETE FROM states WHERE id = (SELECT state_id FROM records WHERE kind = 'source')",
            "names a row of states that is not there",
        ),
    ] {
        let scratch = Scratch::new();
        let store = scratch.open();
        let project = begin(&store, "Salt");
        add_source(&store, project, tape("A"));
        assert_eq!(store.check().expect("looked at").faults, [""; 0]);
        scratch.with_tables(|tables| tables.batch_execute(done).expect(done));
        let faults = store.check().expect("looked at").faults;
        assert!(faults.iter().any(|fault| fault.contains(found)), "{done}: {faults:?}");
    }
}
