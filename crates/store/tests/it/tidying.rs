//! Tidying up, by a clock that is set by hand: nothing goes before its time, and what goes takes along only
//! what nobody else needs.

use std::sync::Arc;
use std::sync::atomic::{AtomicI64, Ordering};

use diesel::RunQueryDsl;
use diesel::sql_types::BigInt;
use ratiomet_core::project::{Edit, ProjectId};
use ratiomet_store::{DAYS, MOST_STEPS, Store, Tidied, Which};

use crate::support::{Scratch, add_source, begin, edit, is_unknown, names, redo, replace, tape, undo};

const DAY: i64 = 86_400_000;

fn clock() -> Arc<AtomicI64> {
    Arc::new(AtomicI64::new(1_800_000_000_000))
}

fn wait(time: &AtomicI64, days: i64) {
    time.fetch_add(days * DAY, Ordering::SeqCst);
}

/// Lets days pass on which the file is in use; gives what was taken away on the last of them.
fn live(store: &Store, time: &AtomicI64, days: i64) -> Tidied {
    let each = (0..days).map(|_| {
        wait(time, 1);
        store.tidy().expect("tidied")
    });
    each.last().expect("a day")
}

fn labels(store: &Store, project: ProjectId) -> Vec<String> {
    store.steps(project, Which::default()).expect("steps").steps.into_iter().map(|step| step.label).collect()
}

#[derive(diesel::QueryableByName)]
struct Count {
    #[diesel(sql_type = BigInt)]
    count: i64,
}

/// How many rows a table has.
fn rows(scratch: &Scratch, table: &str) -> i64 {
    scratch.with_tables(|connection| {
        let query = diesel::sql_query(format!("SELECT count(*) AS count FROM {table}"));
        query.get_result::<Count>(connection).expect("a count").count
    })
}

#[test]
fn a_branch_goes_30_days_after_it_was_left_and_not_after_it_was_made() {
    let scratch = Scratch::new();
    let time = clock();
    let store = scratch.open_at(&time);
    let project = begin(&store, "Salt");
    add_source(&store, project, tape("A"));
    add_source(&store, project, tape("B"));
    // Half a year later somebody goes back past B and does something else.
    assert_eq!(live(&store, &time, 180), Tidied::default());
    undo(&store, project);
    add_source(&store, project, tape("C"));
    live(&store, &time, DAYS);
    drop(store);
    let store = scratch.open_at(&time);
    assert_eq!(labels(&store, project), ["Add C", "Add B", "Add A", "The beginning"], "it is not yet time");
    time.fetch_add(1, Ordering::SeqCst);
    drop(store);
    let store = scratch.open_at(&time);
    assert_eq!(labels(&store, project), ["Add C", "Add A", "The beginning"]);
    // Undo and redo go where they went.
    undo(&store, project);
    assert_eq!(names(&store, project), ["A"]);
    redo(&store, project);
    assert_eq!(names(&store, project), ["A", "C"]);
}

#[test]
fn what_can_be_done_again_is_no_branch_however_old() {
    let scratch = Scratch::new();
    let time = clock();
    let store = scratch.open_at(&time);
    let project = begin(&store, "Salt");
    add_source(&store, project, tape("A"));
    add_source(&store, project, tape("B"));
    undo(&store, project);
    undo(&store, project);
    assert_eq!(live(&store, &time, 400), Tidied::default());
    redo(&store, project);
    redo(&store, project);
    assert_eq!(names(&store, project), ["A", "B"]);
}

#[test]
fn a_branch_to_which_somebody_came_back_is_left_anew() {
    let scratch = Scratch::new();
    let time = clock();
    let store = scratch.open_at(&time);
    let project = begin(&store, "Salt");
    add_source(&store, project, tape("A"));
    add_source(&store, project, tape("B"));
    let b = store.head(project).expect("head").at;
    undo(&store, project);
    add_source(&store, project, tape("C"));
    let c = store.head(project).expect("head").at;
    // Shortly before its time the branch with B is looked at again; now that with C is left.
    live(&store, &time, 29);
    store.go(project, c, b).expect("gone");
    store.go(project, b, c).expect("gone");
    assert_eq!(live(&store, &time, 29).steps, 0);
    assert_eq!(live(&store, &time, 2).steps, 1);
    assert_eq!(labels(&store, project), ["Add C", "Add A", "The beginning"]);
    is_unknown(store.go(project, c, b), "step");
}

#[test]
fn a_branch_goes_with_all_that_only_it_knew() {
    let scratch = Scratch::new();
    let time = clock();
    let store = scratch.open_at(&time);
    let project = begin(&store, "Salt");
    let kept = add_source(&store, project, tape("A"));
    let (records, states) = (rows(&scratch, "records"), rows(&scratch, "states"));
    // A branch of three steps with a branch of its own.
    add_source(&store, project, tape("B"));
    replace(&store, project, kept, 1, tape("A2")).expect("renamed");
    undo(&store, project);
    edit(&store, project, &Edit::AddSources(vec![tape("D"), tape("E")]));
    for _ in 0..2 {
        undo(&store, project);
    }
    replace(&store, project, kept, 3, tape("A3")).expect("renamed");
    assert_eq!(live(&store, &time, DAYS + 1).steps, 3);
    assert_eq!(labels(&store, project), ["Name A3 on A", "Add A", "The beginning"]);
    assert_eq!((rows(&scratch, "records"), rows(&scratch, "states")), (records, states + 1));
    // What is left still holds together, and counts on.
    scratch.with_tables(|connection| {
        let broken = diesel::sql_query("SELECT count(*) AS count FROM pragma_foreign_key_check()");
        assert_eq!(broken.get_result::<Count>(connection).expect("a check").count, 0);
    });
    assert!(add_source(&store, project, tape("F")).number() > kept.number() + 3, "a number is never used twice");
}

#[test]
fn a_deleted_project_can_be_restored_for_30_days() {
    let scratch = Scratch::new();
    let time = clock();
    let store = scratch.open_at(&time);
    let (states, steps) = (rows(&scratch, "states"), rows(&scratch, "steps"));
    let (project, other) = (begin(&store, "Salt"), begin(&store, "Other"));
    for number in 0..1_200 {
        add_source(&store, project, tape(&format!("A{number}")));
    }
    store.delete_project(project, 1).expect("deleted");
    live(&store, &time, DAYS);
    store.restore_project(project).expect("restored");
    assert_eq!(names(&store, project).len(), 1_200);
    store.delete_project(project, 1).expect("deleted");
    assert_eq!(live(&store, &time, DAYS + 1), Tidied { steps: 0, projects: 1 });
    is_unknown(store.restore_project(project), "project");
    assert_eq!(store.contents(other).expect("contents").project.sources().len(), 0);
    assert_eq!((rows(&scratch, "states"), rows(&scratch, "steps")), (states + 1, steps + 1));
    assert_eq!((rows(&scratch, "changes"), rows(&scratch, "records")), (0, 1));
}

#[test]
fn nothing_goes_because_a_clock_jumps() {
    let scratch = Scratch::new();
    let time = clock();
    let store = scratch.open_at(&time);
    let project = begin(&store, "Salt");
    add_source(&store, project, tape("A"));
    undo(&store, project);
    add_source(&store, project, tape("B"));
    live(&store, &time, 20);
    drop(store);
    // The machine starts with a clock that is a year ahead; the next day somebody sets it right.
    wait(&time, 365);
    for _ in 0..3 {
        let store = scratch.open_at(&time);
        assert_eq!(labels(&store, project), ["Add B", "Add A", "The beginning"]);
    }
    wait(&time, -365);
    let store = scratch.open_at(&time);
    assert_eq!(live(&store, &time, 10), Tidied::default(), "its days are over, and not a moment more");
    assert_eq!(live(&store, &time, 1).steps, 1);
    // One that is set back for a while takes nothing earlier either.
    undo(&store, project);
    add_source(&store, project, tape("C"));
    wait(&time, -3_650);
    assert_eq!(live(&store, &time, 2), Tidied::default());
    wait(&time, 3_650);
    assert_eq!(live(&store, &time, 30), Tidied::default());
    assert_eq!(labels(&store, project), ["Add C", "Add B", "The beginning"]);
    assert_eq!(live(&store, &time, 1).steps, 1);
}

#[test]
fn a_history_that_is_too_long_loses_its_beginning() {
    let scratch = Scratch::new();
    let time = clock();
    let store = scratch.open_at(&time);
    let project = begin(&store, "Salt");
    add_source(&store, project, tape("A"));
    drop(store);
    // As many steps as are kept and 50 more, the first of them with a branch.
    let extra = MOST_STEPS + 50;
    scratch.with_tables(|connection| {
        use diesel::connection::SimpleConnection;
        connection
            .batch_execute(&format!(
                "PRAGMA foreign_keys = OFF; BEGIN;
                WITH RECURSIVE many (n) AS (SELECT 100 UNION ALL SELECT n + 1 FROM many WHERE n < 99 + {extra})
                INSERT INTO steps (id, project_id, parent_id, redo_id, label, made_at)
                SELECT n, {project}, CASE WHEN n = 100 THEN (SELECT step_id FROM projects WHERE id = {project}) ELSE n - 1 END,
                    CASE WHEN n = 99 + {extra} THEN NULL ELSE n + 1 END, 'step ' || n, 0 FROM many;
                INSERT INTO steps (id, project_id, parent_id, label, made_at, left_at)
                VALUES (50, {project}, 100, 'branch', 0, 1800000000000);
                UPDATE steps SET redo_id = 100 WHERE id = (SELECT step_id FROM projects WHERE id = {project});
                UPDATE projects SET step_id = 99 + {extra} WHERE id = {project};
                COMMIT;"
            ))
            .expect("many steps");
    });
    let store = scratch.open_at(&time);
    // The beginning, the source, and with the first of the many its branch.
    assert_eq!(usize::try_from(rows(&scratch, "steps")).expect("a count"), MOST_STEPS + 1, "the house has one too");
    let steps = store.steps(project, Which::default()).expect("steps");
    assert_eq!(steps.at.number(), i32::try_from(99 + extra).expect("small"));
    assert_eq!(names(&store, project), ["A"]);
    for _ in 0..30 {
        undo(&store, project);
    }
    assert_eq!(names(&store, project), ["A"]);
    assert_eq!(store.tidy().expect("tidied"), Tidied::default());
}
