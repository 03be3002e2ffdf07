//! The history: undo, redo, branches, jumps.

use proptest::prelude::*;
use ratiomet_core::project::{Choice, Edit, FrameId, Pair, Project, ProjectId, SourceId};
use ratiomet_store::{Store, Which};

use crate::support::{
    Scratch, add_source, begin, edit, is_stale, masked, names, own, redo, rename, replace, source, tape, undo,
};

#[test]
fn undo_and_redo_go_through_a_restart() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let project = begin(&store, "Salt");
    add_source(&store, project, tape("A"));
    add_source(&store, project, tape("B"));
    rename(&store, project, 1, "Salt works").expect("renamed");
    drop(store);

    let store = scratch.open();
    undo(&store, project);
    let settings = store.contents(project).expect("read").project.settings().clone();
    assert_eq!(settings.name.as_str(), "Salt");
    undo(&store, project);
    assert_eq!(names(&store, project), ["A"]);
    drop(store);

    let store = scratch.open();
    redo(&store, project);
    assert_eq!(names(&store, project), ["A", "B"]);
    redo(&store, project);
    let head = store.head(project).expect("head");
    assert_eq!(head.redo, None);
    assert_eq!(head.undo.map(|undo| undo.label).as_deref(), Some("Rename the project to Salt works"));
    for _ in 0..3 {
        undo(&store, project);
    }
    assert_eq!(store.head(project).expect("head").undo, None, "the beginning stays");
    assert_eq!(names(&store, project), [""; 0]);
}

#[test]
fn a_change_after_an_undo_leaves_the_old_branch_in_reach() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let project = begin(&store, "Salt");
    add_source(&store, project, tape("A"));
    add_source(&store, project, tape("B"));
    let left = store.head(project).expect("head").at;
    undo(&store, project);
    add_source(&store, project, tape("C"));
    assert_eq!(names(&store, project), ["A", "C"]);

    let steps = store.steps(project, Which::default()).expect("steps");
    let on_line: Vec<_> = steps.steps.iter().map(|step| (step.label.as_str(), step.on_line)).collect();
    assert_eq!(on_line, [("Add C", true), ("Add B", false), ("Add A", true), ("The beginning", true)]);
    store.go(project, steps.at, left).expect("gone");
    assert_eq!(names(&store, project), ["A", "B"]);
    // From here redo stays on this branch.
    undo(&store, project);
    redo(&store, project);
    assert_eq!(names(&store, project), ["A", "B"]);
    store.go(project, left, steps.steps[0].id).expect("gone");
    assert_eq!(names(&store, project), ["A", "C"]);
}

#[test]
fn who_does_not_know_where_the_history_stands_is_refused() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let project = begin(&store, "Salt");
    let first = store.head(project).expect("head").at;
    add_source(&store, project, tape("A"));
    let at = store.head(project).expect("head").at;
    is_stale(store.go(project, first, first), at.number());
    assert_eq!(names(&store, project), ["A"]);
}

#[test]
fn a_long_history_is_listed_in_parts() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let project = begin(&store, "Salt");
    let id = add_source(&store, project, tape("A"));
    for version in 1..=520 {
        replace(&store, project, id, version, tape(&format!("A{version}"))).expect("replaced");
    }
    let newest = store.steps(project, Which::default()).expect("steps");
    assert_eq!((newest.steps.len(), newest.more), (500, true));
    let rest = store
        .steps(project, Which { before: newest.steps.last().map(|step| step.id), ..Which::default() })
        .expect("steps");
    assert_eq!((rest.steps.len(), rest.more), (22, false));
    assert_eq!(rest.steps[21].label, "The beginning");
    assert!(rest.steps[..21].iter().all(|step| step.changes == 1 && step.on_line));
    // From the end to near the beginning and back, each in one go.
    let (end, first) = (newest.at, rest.steps[20].id);
    store.go(project, end, first).expect("gone");
    assert_eq!(names(&store, project), ["A"]);
    store.go(project, first, end).expect("gone");
    assert_eq!(names(&store, project), ["A520"]);
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

fn carry_out(store: &Store, project: ProjectId, act: &Act) {
    let contents = store.contents(project).expect("contents");
    let sources: Vec<SourceId> = contents.project.sources().map(|(id, _)| id).collect();
    let frames: Vec<FrameId> = contents.project.frames().map(|(id, _)| id).collect();
    match act {
        Act::AddSource(name) => drop(add_source(store, project, tape(&format!("S{name}")))),
        Act::AddFrames => drop(edit(store, project, &Edit::AddFrames(vec![masked("F"), masked("G")]))),
        Act::Rename(which, name) => {
            if let Some(id) = pick(&sources, *which) {
                let version = source(store, project, *id).0;
                replace(store, project, *id, version, tape(&format!("N{name}"))).expect("renamed");
            }
        }
        Act::Delete(which) => {
            if let Some(id) = pick(&sources, *which) {
                edit(store, project, &Edit::Delete { sources: vec![*id], frames: Vec::new() });
            }
        }
        Act::Frame(source, frame, shift) => {
            if let Some((source, frame)) = pick(&sources, *source).zip(pick(&frames, *frame)) {
                let choice = if *shift == 0 { Choice::default() } else { own(&shift.to_string()) };
                let pairs = vec![Pair::new(*source, *frame)];
                edit(store, project, &Edit::SetConversions { pairs, own: choice.own });
            }
        }
        Act::Jump(_) => {}
    }
}

/// What the store says is there, from its memory and as another program reads it.
fn seen(scratch: &Scratch, store: &Store, project: ProjectId) -> Project {
    let kept = store.contents(project).expect("contents").project.clone();
    let read = Store::open_for_reading(&scratch.path()).expect("read").contents(project).expect("contents");
    assert_eq!(kept, read.project, "what is remembered is what is in the file");
    kept
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 24, ..ProptestConfig::default() })]

    #[test]
    fn going_to_any_step_shows_what_was_there_after_it(acts in prop::collection::vec(act(), 1..25)) {
        let scratch = Scratch::new();
        let store = scratch.open();
        let project = begin(&store, "P");
        let mut remembered = vec![(store.head(project).expect("head").at, seen(&scratch, &store, project))];
        for act in &acts {
            if let Act::Jump(to) = act {
                let (step, contents) = pick(&remembered, *to).expect("a step").clone();
                let at = store.head(project).expect("head").at;
                store.go(project, at, step).expect("gone");
                prop_assert_eq!(seen(&scratch, &store, project), contents);
            } else {
                carry_out(&store, project, act);
                let at = store.head(project).expect("head").at;
                if remembered.iter().all(|(step, _)| *step != at) {
                    remembered.push((at, seen(&scratch, &store, project)));
                }
            }
        }
        for (step, contents) in remembered.iter().rev() {
            let at = store.head(project).expect("head").at;
            store.go(project, at, *step).expect("gone");
            prop_assert_eq!(&seen(&scratch, &store, project), contents);
        }
    }
}
