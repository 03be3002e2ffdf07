//! The history: undo, redo, branches, jumps, pruning.

use proptest::prelude::*;
use ratiomet_core::project::{Choice, Edit, Footage, Pair};
use ratiomet_store::Store;
use ratiomet_wire::project::ProjectContents;

use crate::support::{Scratch, begin, is_stale, masked, own, settings, tape};

fn undo(store: &mut Store, project: i32) {
    let head = store.head(project).expect("head");
    store.go(project, head.at, head.undo.expect("something to undo").0).expect("undone");
}

fn redo(store: &mut Store, project: i32) {
    let head = store.head(project).expect("head");
    store.go(project, head.at, head.redo.expect("something to redo").0).expect("redone");
}

fn names(store: &mut Store, project: i32) -> Vec<String> {
    let sources = store.list::<Footage>(project).expect("list");
    sources.iter().map(|source| source.value.name.as_str().to_owned()).collect()
}

#[test]
fn undo_and_redo_go_through_a_restart() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let project = begin(&mut store, "Salt");
    store.add(project, &tape("A")).expect("added");
    store.add(project, &tape("B")).expect("added");
    store.set_project(project, 1, &settings("Salt works")).expect("renamed");
    drop(store);

    let mut store = scratch.open();
    undo(&mut store, project);
    assert_eq!(store.project(project).expect("read").settings.name.as_str(), "Salt");
    undo(&mut store, project);
    assert_eq!(names(&mut store, project), ["A"]);
    drop(store);

    let mut store = scratch.open();
    redo(&mut store, project);
    assert_eq!(names(&mut store, project), ["A", "B"]);
    redo(&mut store, project);
    let head = store.head(project).expect("head");
    assert_eq!(head.redo, None);
    assert_eq!(head.undo.map(|(_, label)| label).as_deref(), Some("Rename the project to Salt works"));
    for _ in 0..3 {
        undo(&mut store, project);
    }
    assert_eq!(store.head(project).expect("head").undo, None, "the beginning stays");
    assert_eq!(names(&mut store, project), [""; 0]);
}

#[test]
fn a_change_after_an_undo_leaves_the_old_branch_in_reach() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let project = begin(&mut store, "Salt");
    store.add(project, &tape("A")).expect("added");
    store.add(project, &tape("B")).expect("added");
    let left = store.head(project).expect("head").at;
    undo(&mut store, project);
    store.add(project, &tape("C")).expect("added");
    assert_eq!(names(&mut store, project), ["A", "C"]);

    let steps = store.steps(project, None).expect("steps");
    let on_line: Vec<_> = steps.steps.iter().map(|step| (step.label.as_str(), step.on_line)).collect();
    assert_eq!(on_line, [("Add C", true), ("Add B", false), ("Add A", true), ("The beginning", true)]);
    store.go(project, steps.at, left).expect("gone");
    assert_eq!(names(&mut store, project), ["A", "B"]);
    // From here redo stays on this branch.
    undo(&mut store, project);
    redo(&mut store, project);
    assert_eq!(names(&mut store, project), ["A", "B"]);
    store.go(project, left, steps.steps[0].id).expect("gone");
    assert_eq!(names(&mut store, project), ["A", "C"]);
}

#[test]
fn who_does_not_know_where_the_history_stands_is_refused() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let project = begin(&mut store, "Salt");
    let first = store.head(project).expect("head").at;
    store.add(project, &tape("A")).expect("added");
    let at = store.head(project).expect("head").at;
    is_stale(store.go(project, first, first), at);
    assert_eq!(names(&mut store, project), ["A"]);
}

#[test]
fn only_old_branches_are_pruned_and_the_way_back_never() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let project = begin(&mut store, "Salt");
    store.add(project, &tape("A")).expect("added");
    store.add(project, &tape("B")).expect("added");
    undo(&mut store, project);
    store.add(project, &tape("C")).expect("added");
    undo(&mut store, project);
    // All of it is younger than the beginning of time.
    assert_eq!(store.prune(0).expect("pruned"), 0);
    // In the far future the branch with B has become old; C can still be done again.
    assert_eq!(store.prune(i64::MAX).expect("pruned"), 1);
    let steps = store.steps(project, None).expect("steps");
    let labels: Vec<_> = steps.steps.iter().map(|step| step.label.as_str()).collect();
    assert_eq!(labels, ["Add C", "Add A", "The beginning"]);
    redo(&mut store, project);
    assert_eq!(names(&mut store, project), ["A", "C"]);
    undo(&mut store, project);
    undo(&mut store, project);
    redo(&mut store, project);
    assert_eq!(names(&mut store, project), ["A"]);
}

#[test]
fn a_long_history_is_listed_in_parts() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let project = begin(&mut store, "Salt");
    let source = store.add(project, &tape("A")).expect("added").id;
    for version in 1..=520 {
        store.replace(project, source, version, &tape(&format!("A{version}"))).expect("replaced");
    }
    let newest = store.steps(project, None).expect("steps");
    assert_eq!((newest.steps.len(), newest.more), (500, true));
    let rest = store.steps(project, newest.steps.last().map(|step| step.id)).expect("steps");
    assert_eq!((rest.steps.len(), rest.more), (22, false));
    assert_eq!(rest.steps[21].label, "The beginning");
    // From the end to near the beginning and back, each in one go.
    let (end, first) = (newest.at, rest.steps[20].id);
    store.go(project, end, first).expect("gone");
    assert_eq!(names(&mut store, project), ["A"]);
    store.go(project, first, end).expect("gone");
    assert_eq!(names(&mut store, project), ["A520"]);
}

/// What a hand may do to a project.
#[derive(Clone, Debug)]
enum Act {
    AddSource(u8),
    AddFrames,
    Rename(u8, u8),
    Delete(u8),
    Frame(u8, u8, i8),
    Jump(u8),
}

fn act() -> impl Strategy<Value = Act> {
    prop_oneof![
        any::<u8>().prop_map(Act::AddSource),
        Just(Act::AddFrames),
        any::<(u8, u8)>().prop_map(|(which, name)| Act::Rename(which, name)),
        any::<u8>().prop_map(Act::Delete),
        any::<(u8, u8, i8)>().prop_map(|(source, frame, shift)| Act::Frame(source, frame, shift)),
        any::<u8>().prop_map(Act::Jump),
    ]
}

fn pick<T>(list: &[T], which: u8) -> Option<&T> {
    list.get(usize::from(which) % list.len().max(1))
}

fn carry_out(store: &mut Store, project: i32, act: &Act) {
    let contents = store.contents(project).expect("contents");
    match act {
        Act::AddSource(name) => {
            store.add(project, &tape(&format!("S{name}"))).expect("added");
        }
        Act::AddFrames => {
            store.edit(project, &Edit::AddFrames(vec![masked("F"), masked("G")])).expect("added");
        }
        Act::Rename(which, name) => {
            if let Some(source) = pick(&contents.sources, *which) {
                store.replace(project, source.id, source.version, &tape(&format!("N{name}"))).expect("renamed");
            }
        }
        Act::Delete(which) => {
            if let Some(source) = pick(&contents.sources, *which) {
                let edit = Edit::Delete { sources: vec![source.id], frames: Vec::new() };
                store.edit(project, &edit).expect("deleted");
            }
        }
        Act::Frame(source, frame, shift) => {
            if let Some((source, frame)) = pick(&contents.sources, *source).zip(pick(&contents.frames, *frame)) {
                let choice = if *shift == 0 { Choice::default() } else { own(&shift.to_string()) };
                let pairs = vec![Pair { source: source.id, frame: frame.id }];
                store.edit(project, &Edit::SetConversions { pairs, own: choice.own }).expect("framed");
            }
        }
        Act::Jump(_) => {}
    }
}

fn seen(store: &mut Store, project: i32) -> ProjectContents {
    store.contents(project).expect("contents").without_numbers()
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, ..ProptestConfig::default() })]

    #[test]
    fn going_to_any_step_shows_what_was_there_after_it(acts in prop::collection::vec(act(), 1..25)) {
        let scratch = Scratch::new();
        let mut store = scratch.open();
        let project = begin(&mut store, "P");
        let mut remembered = vec![(store.head(project).expect("head").at, seen(&mut store, project))];
        for act in &acts {
            if let Act::Jump(to) = act {
                let (step, contents) = pick(&remembered, *to).expect("a step").clone();
                let at = store.head(project).expect("head").at;
                store.go(project, at, step).expect("gone");
                prop_assert_eq!(seen(&mut store, project), contents);
            } else {
                carry_out(&mut store, project, act);
                let at = store.head(project).expect("head").at;
                if remembered.iter().all(|(step, _)| *step != at) {
                    remembered.push((at, seen(&mut store, project)));
                }
            }
        }
        for (step, contents) in remembered.iter().rev() {
            let at = store.head(project).expect("head").at;
            store.go(project, at, *step).expect("gone");
            prop_assert_eq!(&seen(&mut store, project), contents);
        }
    }
}
