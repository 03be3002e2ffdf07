//! What the house keeps, and what comes in from another one.

use ratiomet_core::DisplayRatio;
use ratiomet_core::active_picture::ActivePicture;
use ratiomet_core::project::{HouseActivePicture, HouseEdit, HouseFrame, HouseFrameId};
use ratiomet_core::signal::Scan;
use ratiomet_store::{HouseExpected, HouseSubject, Store};

use crate::support::{Scratch, is_deleted, is_stale, is_unknown, masked, name, written};

fn broadcast() -> HouseFrame {
    HouseFrame { group: name("Festivals"), frame: masked("Broadcast") }
}

fn names(store: &Store) -> Vec<String> {
    let contents = store.house().expect("the house");
    contents.house.frames().map(|(_, frame)| frame.frame.name.as_str().to_owned()).collect()
}

#[test]
fn the_house_keeps_its_own_and_takes_in_what_is_new() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let picture = ActivePicture::Guide { ratio: written("4:3", DisplayRatio::parse) };
    let guide = HouseActivePicture { name: name("4:3 guide"), picture };
    let kept = store.edit_house(&HouseEdit::AddFrame(Box::new(broadcast())), None).expect("kept");
    store.edit_house(&HouseEdit::AddPicture(Box::new(guide.clone())), None).expect("kept");
    // The same comes in as nothing, another of the same name beside it.
    let import = |frames: Vec<HouseFrame>, pictures| {
        store.edit_house(&HouseEdit::Import(frames, pictures, Vec::new()), None).expect("in")
    };
    let same = import(vec![broadcast()], vec![guide]);
    assert_eq!((same.step, same.known), (None, 2));
    let mut other = broadcast();
    other.frame.scan = Scan::Interlaced;
    assert_eq!(import(vec![other.clone()], Vec::new()).written.len(), 1);
    assert_eq!(names(&store), ["Broadcast", "Broadcast (imported)"]);
    // The same file once more doubles nothing, nor does a file that holds a thing twice.
    assert_eq!(import(vec![other.clone(), other], Vec::new()).known, 2);
    assert_eq!(names(&store).len(), 2);
    // The house has a history of its own.
    let id = HouseFrameId::new(kept.written[0]);
    let expected = |version| Some(HouseExpected { subject: HouseSubject::Frame(id), version });
    store.edit_house(&HouseEdit::SetFrame(id, None), expected(1)).expect("deleted");
    let head = store.house_head().expect("head");
    assert_eq!(head.undo.as_ref().map(|undo| undo.label.as_str()), Some("Delete Broadcast"));
    store.go_in_house(head.at, head.undo.expect("a step").to).expect("undone");
    assert_eq!(names(&store).len(), 2);
}

#[test]
fn what_is_stale_deleted_or_unknown_in_the_house_is_refused() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let kept = store.edit_house(&HouseEdit::AddFrame(Box::new(broadcast())), None).expect("kept");
    let id = HouseFrameId::new(kept.written[0]);
    let set = |id: HouseFrameId, frame: Option<HouseFrame>, version: i32| {
        let expected = HouseExpected { subject: HouseSubject::Frame(id), version };
        store.edit_house(&HouseEdit::SetFrame(id, frame.map(Box::new)), Some(expected))
    };
    is_stale(set(id, None, 4), 1);
    // The same again is no change.
    assert_eq!(set(id, Some(broadcast()), 1).expect("the same").step, None);
    set(id, None, 1).expect("deleted");
    is_deleted(set(id, None, 2), "house frame");
    is_unknown(set(HouseFrameId::new(999), None, 1), "house frame");
}
