//! Several people in one project: each takes back what is theirs.

use std::sync::atomic::{AtomicBool, AtomicI64, Ordering};
use std::sync::{Arc, Mutex, mpsc};
use std::time::Duration;

use proptest::prelude::*;
use ratiomet_core::project::{Pair, ProjectId, SourceId};
use ratiomet_store::{Clock, InTheWay, Step, Store, StoreError, Which};

use crate::support::{
    Scratch, add_frame, add_source, begin, choose, masked, names, own, redo, replace, source, tape, undo,
};

fn rename_source(store: &Store, project: ProjectId, id: SourceId, to: &str) {
    let (version, _) = source(store, project, id);
    replace(store, project, id, version, tape(to)).expect("renamed");
}

fn in_the_way(store: &Store, project: ProjectId) -> InTheWay {
    let head = store.head(project).expect("head");
    assert_eq!(head.undo, None);
    head.in_the_way.expect("something of others")
}

/// A project of two sources, in the hands of two people.
fn shared(scratch: &Scratch) -> (Store, Store, ProjectId, [SourceId; 2]) {
    let store = scratch.open();
    let project = begin(&store, "Salt");
    let sources = [add_source(&store, project, tape("A")), add_source(&store, project, tape("B"))];
    (store.in_hands_of(Some("Ada")), store.in_hands_of(Some("Ben")), project, sources)
}

#[test]
fn each_takes_back_their_own_newest_change_and_nobody_elses() {
    let scratch = Scratch::new();
    let (ada, ben, project, [a, b]) = shared(&scratch);
    rename_source(&ada, project, a, "A by Ada");
    rename_source(&ben, project, b, "B by Ben");
    undo(&ada, project);
    assert_eq!(names(&ada, project), ["A", "B by Ben"]);
    let steps = ada.steps(project, Which::default()).expect("steps").steps;
    let said: Vec<_> = steps.iter().take(2).map(|step| (step.label.as_str(), step.made_by.as_deref())).collect();
    assert_eq!(said[0], ("Undo: Name A by Ada on A", Some("Ada")));
    assert_eq!(said[1].1, Some("Ben"));
    assert_eq!(steps[0].takes_back, Some(steps[2].id));
    let of = |name: &str| ada.steps(project, Which { by: Some(name.to_owned()), ..Which::default() }).expect("steps");
    assert_eq!(of("Ada").people, ["Ada", "Ben"], "whoever is asked for");
    let ids = |steps: &[Step]| steps.iter().map(|step| step.id).collect::<Vec<_>>();
    assert_eq!((ids(&of("Ada").steps), ids(&of("Ben").steps)), (vec![steps[0].id, steps[2].id], vec![steps[1].id]));
    assert!(of("Cleo").steps.is_empty());
    // Nothing more of hers but what nobody has signed, and that he has signed over for one of them.
    redo(&ada, project);
    assert_eq!(names(&ada, project), ["A by Ada", "B by Ben"]);
    undo(&ben, project);
    assert_eq!(names(&ada, project), ["A by Ada", "B"]);
    undo(&ada, project);
    assert_eq!(names(&ada, project), ["A", "B"]);
}

#[test]
fn what_somebody_has_changed_since_stands_in_the_way_and_is_named() {
    let scratch = Scratch::new();
    let (ada, ben, project, [a, b]) = shared(&scratch);
    rename_source(&ada, project, a, "A by Ada");
    rename_source(&ben, project, a, "A by Ben");
    rename_source(&ben, project, b, "B by Ben");
    let way = in_the_way(&ada, project);
    assert_eq!(way.by.as_deref(), Some("Ben"));
    assert_eq!(way.label, "Name A by Ben on A by Ada");
    // Once he has taken that back it is free again.
    undo(&ben, project);
    undo(&ben, project);
    undo(&ada, project);
    assert_eq!(names(&ada, project), ["A", "B"]);
}

#[test]
fn a_source_that_others_have_framed_stays() {
    let scratch = Scratch::new();
    let (ada, ben, project, _) = shared(&scratch);
    let frame = add_frame(&ben, project, masked("F"));
    let new = add_source(&ada, project, tape("C"));
    choose(&ben, project, Pair::new(new, frame), 0, own("3")).expect("framed");
    assert_eq!(in_the_way(&ada, project).by.as_deref(), Some("Ben"));
    undo(&ben, project);
    undo(&ada, project);
    assert_eq!(names(&ada, project), ["A", "B"]);
}

#[test]
fn a_wish_that_is_not_what_undo_does_is_stale() {
    let scratch = Scratch::new();
    let (ada, ben, project, [a, b]) = shared(&scratch);
    rename_source(&ada, project, a, "A by Ada");
    let step = ada.head(project).expect("head").at;
    rename_source(&ben, project, b, "B by Ben");
    let at = ada.head(project).expect("head").at;
    for (store, from, step) in [(&ben, at, step), (&ada, step, step), (&ada, at, at)] {
        assert!(matches!(store.take_back(project, from, step), Err(StoreError::Stale { .. })));
    }
    assert_eq!(names(&ada, project), ["A by Ada", "B by Ben"]);
}

#[test]
fn whoever_listens_hears_of_every_change() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let heard = Arc::new(Mutex::new(Vec::new()));
    let listener = heard.clone();
    store.tell(move |project| listener.lock().expect("free").push(project));
    let project = begin(&store, "Salt");
    add_source(&store.in_hands_of(Some("Ada")), project, tape("A"));
    undo(&store, project);
    store.delete_project(project, 1).expect("deleted");
    store.restore_project(project).expect("back");
    assert_eq!(*heard.lock().expect("free"), [project; 5]);
}

#[test]
fn a_link_ends_on_its_day_and_with_its_project() {
    let scratch = Scratch::new();
    let time = Arc::new(AtomicI64::new(1_000_000));
    let store = scratch.open_at(&time);
    let project = begin(&store, "Salt");
    let link = store.in_hands_of(Some("Ada")).add_link(project, "The festival", "d1", 2_000_000).expect("made");
    assert_eq!((link.name.as_str(), link.made_by.as_deref()), ("The festival", Some("Ada")));
    assert_eq!(store.linked("d1").expect("read"), Some(project));
    assert_eq!(store.linked("d2").expect("read"), None);
    time.store(2_000_000, Ordering::SeqCst);
    assert_eq!(store.linked("d1").expect("read"), None, "its day is over");
    store.add_link(project, "The studio", "d2", 3_000_000).expect("made");
    store.delete_project(project, 1).expect("deleted");
    assert_eq!(store.linked("d2").expect("read"), None);
    store.restore_project(project).expect("back");
    assert_eq!(store.linked("d2").expect("read"), Some(project));
    store.remove_link(project, link.id).expect("removed");
    assert!(store.remove_link(project, link.id).is_err());
    assert_eq!(store.links(project).expect("read").len(), 1);
}

/// What two people do: who, and to which of two sources; undo where it is none.
fn acts() -> impl Strategy<Value = Vec<(bool, Option<bool>)>> {
    prop::collection::vec((any::<bool>(), prop::option::weighted(0.55, any::<bool>())), 1..16)
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 48, ..ProptestConfig::default() })]

    /// Against a reading of the rule by itself: the newest of one's own that counts is taken back if the source still has
    /// the name that it was given then, else nothing happens.
    #[test]
    fn undo_is_by_person_whatever_comes_in_between(acts in acts()) {
        let scratch = Scratch::new();
        let (ada, ben, project, sources) = shared(&scratch);
        let people = [ada, ben];
        let mut now = ["A".to_owned(), "B".to_owned()];
        // Who, which source, before, after; those that count.
        let mut done: Vec<(usize, usize, String, String)> = Vec::new();
        for (number, (who, what)) in acts.into_iter().enumerate() {
            let who = usize::from(who);
            if let Some(which) = what {
                let (which, name) = (usize::from(which), format!("{number} by {who}"));
                rename_source(&people[who], project, sources[which], &name);
                done.push((who, which, std::mem::replace(&mut now[which], name.clone()), name));
                continue;
            }
            let head = people[who].head(project).expect("head");
            let Some(place) = done.iter().rposition(|step| step.0 == who) else {
                // What is not signed belongs to everybody: it is not undone here.
                continue;
            };
            let (_, which, before, after) = done[place].clone();
            if now[which] == after {
                prop_assert!(head.undo.is_some(), "{head:?}");
                undo(&people[who], project);
                done.remove(place);
                now[which] = before;
            } else {
                prop_assert_eq!(&head.undo, &None);
                let way = head.in_the_way.expect("what has changed it");
                prop_assert!(way.by.is_some());
            }
            prop_assert_eq!(names(&people[0], project), now.clone());
        }
    }
}

#[test]
fn nobody_waits_to_read_while_another_writes() {
    let scratch = Scratch::new();
    let (writes, is_writing) = mpsc::channel();
    let (go_on, may_go_on) = mpsc::channel::<()>();
    let (holds, may_go_on) = (Arc::new(AtomicBool::new(false)), Mutex::new(may_go_on));
    let held = holds.clone();
    // A write asks what time it is, and is kept waiting for the answer.
    let clock = Clock::new(move || {
        if held.swap(false, Ordering::SeqCst) {
            writes.send(()).expect("the test waits");
            // OK because the end of the sender lets it go on too.
            let _ = may_go_on.lock().expect("one writes").recv();
        }
        1_000
    });
    let store = Store::open_by(&scratch.path(), clock).expect("opened");
    let project = begin(&store, "Salt");
    let id = add_source(&store, project, tape("before"));
    holds.store(true, Ordering::SeqCst);
    let other = store.clone();
    let writing = std::thread::spawn(move || rename_source(&other, project, id, "after"));
    is_writing.recv().expect("it writes");
    let (read, is_read) = mpsc::channel();
    let reader = store.clone();
    std::thread::spawn(move || read.send(names(&reader, project)).is_ok());
    assert_eq!(is_read.recv_timeout(Duration::from_secs(20)).expect("it does not wait"), ["before"]);
    drop(go_on);
    writing.join().expect("it ends");
    // And what was written is seen by whoever reads next.
    for _ in 0..8 {
        assert_eq!(names(&store, project), ["after"]);
    }
}
