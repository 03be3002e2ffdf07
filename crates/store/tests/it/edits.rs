//! Edits: many at once, exceptions that stay, and nothing done where one would not be sound.

use ratiomet_core::active_picture::ActivePicture;
use ratiomet_core::fraction::Written;
use ratiomet_core::project::{
    Choice, Deliverable, Edit, Footage, FramePatch, FramingSpec, HouseActivePicture, HouseFrame, Pair, SourcePatch,
};
use ratiomet_core::{DisplayRatio, Insets, Method, Raster, Rotation, Squeeze};
use ratiomet_store::{HOUSE, Store, StoreError};

use crate::support::{Scratch, begin, masked, name, own, tape, written};

fn squeezed(text: &str) -> Box<SourcePatch> {
    Box::new(SourcePatch { squeeze: Some(written(text, Squeeze::parse)), ..SourcePatch::default() })
}

/// A project with so many sources and two frames; their numbers.
fn filled(store: &mut Store, sources: usize) -> (i32, Vec<i32>, Vec<i32>) {
    let project = begin(store, "Salt");
    let footage = (0..sources).map(|number| tape(&format!("T{number}"))).collect();
    let sources = store.edit(project, &Edit::AddSources(footage)).expect("added").added;
    let frames = store.edit(project, &Edit::AddFrames(vec![masked("F"), masked("G")])).expect("added").added;
    (project, sources, frames)
}

#[test]
fn many_change_in_one_step_with_a_readable_name() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let (project, sources, _) = filled(&mut store, 14);
    let edit = Edit::SetSources { ids: sources.clone(), patch: squeezed("2") };
    let preview = store.preview(project, &edit).expect("preview");
    assert_eq!((preview.changed, preview.step), (14, None));
    let done = store.edit(project, &edit).expect("done");
    assert_eq!((done.label.as_str(), done.changed, done.unchanged), ("Squeeze 2 on 14 sources", 14, 0));

    // One stays different; setting the others again does not touch those that have it already.
    store.edit(project, &Edit::SetSources { ids: vec![sources[3]], patch: squeezed("1.5") }).expect("done");
    assert_eq!(store.head(project).expect("head").undo.map(|(_, label)| label).as_deref(), Some("Squeeze 1.5 on T3"));
    let again = store.edit(project, &edit).expect("done");
    assert_eq!((again.changed, again.unchanged, again.label.as_str()), (1, 13, "Squeeze 2 on 1 source"));
    // And once more is no step at all.
    assert_eq!(store.edit(project, &edit).expect("done").step, None);
}

#[test]
fn an_edit_that_one_record_cannot_take_changes_none() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let (project, sources, _) = filled(&mut store, 3);
    // 720 less 700 and 10 leave 10 columns; the one that is cut further is left with none.
    let patch = Box::new(SourcePatch { insets: [Some(700), None, None, None], ..SourcePatch::default() });
    let narrow = SourcePatch { insets: [None, None, Some(25), None], ..SourcePatch::default() };
    store.edit(project, &Edit::SetSources { ids: vec![sources[1]], patch: Box::new(narrow) }).expect("done");
    let before = store.contents(project).expect("contents");
    match store.edit(project, &Edit::SetSources { ids: sources, patch }) {
        Err(StoreError::Refused { name, why }) => {
            assert_eq!((name.as_str(), why.parameter()), ("T1", "active"));
        }
        other => panic!("not refused: {other:?}"),
    }
    let after = store.contents(project).expect("contents");
    assert_eq!((after.sources, after.head), (before.sources, before.head));
}

#[test]
fn unknown_and_deleted_records_stop_an_edit() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let (project, sources, frames) = filled(&mut store, 2);
    let delete = Edit::Delete { sources: vec![sources[0]], frames: vec![frames[1]] };
    assert_eq!(store.edit(project, &delete).expect("done").label, "Delete 1 source and 1 frame");
    let gone = Edit::SetSources { ids: sources.clone(), patch: squeezed("2") };
    assert!(matches!(store.edit(project, &gone), Err(StoreError::Deleted { what: "source", .. })));
    let strange = Edit::SetSources { ids: vec![sources[1], 999], patch: squeezed("2") };
    assert!(matches!(store.edit(project, &strange), Err(StoreError::Unknown { what: "source", id: 999 })));
    let pair = Pair { source: sources[1], frame: frames[1] };
    let edit = Edit::SetConversions { pairs: vec![pair], own: own("5").own };
    assert!(matches!(store.edit(project, &edit), Err(StoreError::Deleted { what: "frame", .. })));
}

#[test]
fn conversions_take_and_leave_a_framing_together() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let (project, sources, frames) = filled(&mut store, 3);
    let pairs: Vec<_> =
        sources.iter().flat_map(|source| frames.iter().map(|frame| Pair { source: *source, frame: *frame })).collect();
    let fill = Choice::of(FramingSpec::of(Method::Fill));
    let set = |store: &mut Store, choice: &Choice| {
        store.edit(project, &Edit::SetConversions { pairs: pairs.clone(), own: choice.own.clone() }).expect("done")
    };
    assert_eq!(set(&mut store, &fill).label, "Fill on 6 conversions");
    assert_eq!(set(&mut store, &fill).unchanged, 6);
    let follow = set(&mut store, &Choice::default());
    assert_eq!((follow.label.as_str(), follow.changed), ("Follow on 6 conversions", 6));
    assert_eq!(set(&mut store, &Choice::default()).unchanged, 6);
    let one = Edit::SetConversions { pairs: pairs[..1].to_vec(), own: own("-12.5").own };
    assert_eq!(store.edit(project, &one).expect("done").label, "Stretch, zoom 1.050, shift -12.5 1/3 on T0 into F");
}

#[test]
fn an_active_picture_is_for_its_own_raster() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let (project, sources, _) = filled(&mut store, 2);
    let other = SourcePatch { raster: Some(Raster::new(720, 480).expect("a raster")), ..SourcePatch::default() };
    store.edit(project, &Edit::SetSources { ids: vec![sources[1]], patch: Box::new(other) }).expect("done");
    let picture = HouseActivePicture {
        name: name("Tape border"),
        picture: ActivePicture::Insets {
            raster: Raster::new(720, 576).expect("a raster"),
            insets: Insets { left: 8, top: 4, right: 10, bottom: 6 },
            keep_ratio: true,
        },
    };
    let edit = Edit::ApplyActivePicture { ids: sources.clone(), picture: Box::new(picture) };
    let done = store.edit(project, &edit).expect("done");
    assert_eq!((done.changed, done.skipped, done.label.as_str()), (1, 1, "Active picture Tape border on 1 source"));
    let insets = |store: &mut Store, id| store.get::<Footage>(project, id).expect("read").value.geometry.insets();
    // 700x560 keeps 5:4; what more is cut is shared by both sides.
    assert_eq!(insets(&mut store, sources[0]), Insets { left: 9, top: 7, right: 11, bottom: 9 });
    assert_eq!(insets(&mut store, sources[1]), Insets { left: 8, top: 4, right: 10, bottom: 6 });
}

#[test]
fn the_upright_set_comes_of_the_landscape_one() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let (project, _, frames) = filled(&mut store, 1);
    let done = store.edit(project, &Edit::TurnFrames(frames)).expect("done");
    assert_eq!((done.added.len(), done.label.as_str()), (2, "Add 2 turned frames"));
    let turned = store.get::<Deliverable>(project, done.added[0]).expect("read").value;
    let raster = turned.geometry.frame().raster();
    assert_eq!((raster.width(), raster.height()), (1080, 1920));
    // A 2.00 picture turned is a 1:2.00 one.
    assert_eq!(turned.geometry.picture_ratio().map(Written::text), Some("1:2.00"));
    assert_eq!(turned.name.as_str(), "HD upright with 1:2.00");
    assert_eq!(turned.turned().expect("turned back").geometry.picture_ratio().map(Written::text), Some("2.00"));
    let patch = Box::new(FramePatch { picture_ratio: Some(None), method: Some(None), ..FramePatch::default() });
    let ids = store.list::<Deliverable>(project).expect("list").iter().map(|frame| frame.id).collect();
    let done = store.edit(project, &Edit::SetFrames { ids, patch }).expect("done");
    assert_eq!(done.label, "Picture all over the frame, follow the board on 4 frames");
}

#[test]
fn the_house_keeps_its_own_and_takes_in_what_is_new() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let frame = HouseFrame { group: name("Festivals"), frame: masked("Broadcast") };
    let guide = HouseActivePicture {
        name: name("4:3 guide"),
        picture: ActivePicture::Guide { ratio: written("4:3", DisplayRatio::parse) },
    };
    let kept = store.add(HOUSE, &frame).expect("kept");
    store.add(HOUSE, &guide).expect("kept");
    // The same comes in as nothing, another of the same name beside it.
    assert_eq!(store.import_library(std::slice::from_ref(&frame), std::slice::from_ref(&guide)).expect("in"), 0);
    let mut other = frame.clone();
    other.frame.scan = ratiomet_core::project::Scan::Interlaced;
    assert_eq!(store.import_library(&[other], &[]).expect("in"), 1);
    let names: Vec<_> = store.list::<HouseFrame>(HOUSE).expect("list").into_iter().map(|each| each.value).collect();
    assert_eq!(names[1].frame.name.as_str(), "Broadcast (imported)");
    // The house has a history of its own.
    store.delete::<HouseFrame>(HOUSE, kept.id, 1).expect("deleted");
    let head = store.head(HOUSE).expect("head");
    assert_eq!(head.undo.as_ref().map(|(_, label)| label.as_str()), Some("Delete Broadcast"));
    store.go(HOUSE, head.at, head.undo.expect("a step").0).expect("undone");
    assert_eq!(store.list::<HouseFrame>(HOUSE).expect("list").len(), 2);
}

#[test]
fn a_turn_is_named_by_its_degrees() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let (project, sources, _) = filled(&mut store, 2);
    let patch = SourcePatch { rotation: Some(Rotation::Quarter), rate: Some(None), ..SourcePatch::default() };
    let done = store.edit(project, &Edit::SetSources { ids: sources, patch: Box::new(patch) }).expect("done");
    assert_eq!(done.label, "Turn 90°, no rate on 2 sources");
}
