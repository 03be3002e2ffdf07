//! Edits: many at once, exceptions that stay, and nothing done where one would not be sound.

use ratiomet_core::active_picture::ActivePicture;
use ratiomet_core::error::Parameter;
use ratiomet_core::fraction::Written;
use ratiomet_core::project::{
    Choice, Edit, EditError, FrameId, FramePatch, FramingSpec, HouseActivePicture, Pair, ProjectId, SourceId,
    SourcePatch,
};
use ratiomet_core::{Insets, Method, Raster, Rotation, Squeeze};
use ratiomet_store::{Store, StoreError};

use crate::support::{Scratch, begin, edit, is_deleted, is_unknown, masked, name, own, source, tape, written};

fn squeezed(text: &str) -> Box<SourcePatch> {
    Box::new(SourcePatch { squeeze: Some(written(text, Squeeze::parse)), ..SourcePatch::default() })
}

/// A project with so many sources and two frames; their numbers.
fn filled(store: &Store, sources: usize) -> (ProjectId, Vec<SourceId>, Vec<FrameId>) {
    let project = begin(store, "Salt");
    let footage = (0..sources).map(|number| tape(&format!("T{number}"))).collect();
    let sources = edit(store, project, &Edit::AddSources(footage)).sources;
    let frames = edit(store, project, &Edit::AddFrames(vec![masked("F"), masked("G")])).frames;
    (project, sources, frames)
}

#[test]
fn many_change_in_one_step_with_a_readable_name() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let (project, sources, _) = filled(&store, 14);
    let all = Edit::SetSources { ids: sources.clone(), patch: squeezed("2") };
    let preview = store.preview(project, &all).expect("preview");
    assert_eq!((preview.changed, preview.step), (14, None));
    let done = edit(&store, project, &all);
    assert_eq!((done.label.as_str(), done.changed, done.unchanged), ("Squeeze 2 on 14 sources", 14, 0));

    // One stays different; setting the others again does not touch those that have it already.
    edit(&store, project, &Edit::SetSources { ids: vec![sources[3]], patch: squeezed("1.5") });
    assert_eq!(store.head(project).expect("head").undo.map(|undo| undo.label).as_deref(), Some("Squeeze 1.5 on T3"));
    let again = edit(&store, project, &all);
    assert_eq!((again.changed, again.unchanged, again.label.as_str()), (1, 13, "Squeeze 2 on 1 source"));
    // And once more is no step at all.
    assert_eq!(edit(&store, project, &all).step, None);
}

#[test]
fn an_edit_that_one_record_cannot_take_changes_none() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let (project, sources, _) = filled(&store, 3);
    // 720 less 700 and 10 leave 10 columns; the one that is cut further is left with none.
    let patch = Box::new(SourcePatch { insets: [Some(700), None, None, None], ..SourcePatch::default() });
    let narrow = SourcePatch { insets: [None, None, Some(25), None], ..SourcePatch::default() };
    edit(&store, project, &Edit::SetSources { ids: vec![sources[1]], patch: Box::new(narrow) });
    let before = store.contents(project).expect("contents");
    match store.edit(project, &Edit::SetSources { ids: sources, patch }, None) {
        Err(StoreError::Refused(EditError::Refused { place, name, why })) => {
            assert_eq!((place, name.as_str(), why.parameter()), (1, "T1", Some(Parameter::Active)));
        }
        other => panic!("not refused: {other:?}"),
    }
    let after = store.contents(project).expect("contents");
    assert_eq!((&after.project, &after.at), (&before.project, &before.at));
}

#[test]
fn unknown_and_deleted_records_stop_an_edit() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let (project, sources, frames) = filled(&store, 2);
    let delete = Edit::Delete { sources: vec![sources[0]], frames: vec![frames[1]] };
    assert_eq!(edit(&store, project, &delete).label, "Delete 1 source and 1 frame");
    let gone = Edit::SetSources { ids: sources.clone(), patch: squeezed("2") };
    is_deleted(store.edit(project, &gone, None), "source");
    let strange = Edit::SetSources { ids: vec![sources[1], SourceId::new(999)], patch: squeezed("2") };
    is_unknown(store.edit(project, &strange, None), "source");
    // The number of a frame is none of a source.
    let frame = Edit::SetSources { ids: vec![SourceId::new(frames[0].number())], patch: squeezed("2") };
    is_unknown(store.edit(project, &frame, None), "source");
    let set = Edit::SetConversions { pairs: vec![Pair::new(sources[1], frames[1])], own: own("5").own };
    is_deleted(store.edit(project, &set, None), "frame");
}

#[test]
fn conversions_take_and_leave_a_framing_together() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let (project, sources, frames) = filled(&store, 3);
    let pairs: Vec<_> =
        sources.iter().flat_map(|source| frames.iter().map(|frame| Pair::new(*source, *frame))).collect();
    let fill = Choice::of(FramingSpec::of(Method::Fill));
    let set = |choice: &Choice| {
        edit(&store, project, &Edit::SetConversions { pairs: pairs.clone(), own: choice.own.clone() })
    };
    assert_eq!(set(&fill).label, "Fill on 6 conversions");
    assert_eq!(set(&fill).unchanged, 6);
    let follow = set(&Choice::default());
    assert_eq!((follow.label.as_str(), follow.changed), ("Follow on 6 conversions", 6));
    assert_eq!(set(&Choice::default()).unchanged, 6);
    let one = Edit::SetConversions { pairs: pairs[..1].to_vec(), own: own("-12.5").own };
    assert_eq!(edit(&store, project, &one).label, "Stretch, zoom 1.050, shift -12.5 1/3 on T0 into F");
}

#[test]
fn an_active_picture_is_for_its_own_raster() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let (project, sources, _) = filled(&store, 2);
    let other = SourcePatch { raster: Some(Raster::new(720, 480).expect("a raster")), ..SourcePatch::default() };
    edit(&store, project, &Edit::SetSources { ids: vec![sources[1]], patch: Box::new(other) });
    let picture = HouseActivePicture {
        name: name("Tape border"),
        picture: ActivePicture::Insets {
            raster: Raster::new(720, 576).expect("a raster"),
            insets: Insets { left: 8, top: 4, right: 10, bottom: 6 },
            keep_ratio: true,
        },
    };
    let done = edit(&store, project, &Edit::ApplyActivePicture { ids: sources.clone(), picture: Box::new(picture) });
    assert_eq!((done.changed, done.skipped, done.label.as_str()), (1, 1, "Active picture Tape border on 1 source"));
    let insets = |id| source(&store, project, id).1.geometry.insets();
    // 700x560 keeps 5:4; what more is cut is shared by both sides.
    assert_eq!(insets(sources[0]), Insets { left: 9, top: 7, right: 11, bottom: 9 });
    assert_eq!(insets(sources[1]), Insets { left: 8, top: 4, right: 10, bottom: 6 });
}

#[test]
fn the_upright_set_comes_of_the_landscape_one() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let (project, _, frames) = filled(&store, 1);
    let done = edit(&store, project, &Edit::TurnFrames(frames));
    assert_eq!((done.frames.len(), done.label.as_str()), (2, "Add 2 rotated frames"));
    let contents = store.contents(project).expect("contents");
    let turned = contents.project.frame(done.frames[0]).expect("a frame");
    let raster = turned.geometry.frame().raster();
    assert_eq!((raster.width(), raster.height()), (1080, 1920));
    // A 2.00 picture turned is a 1:2.00 one.
    assert_eq!(turned.geometry.picture_ratio().map(Written::text), Some("1:2.00"));
    assert_eq!(turned.name.as_str(), "HD upright with 1:2.00");
    assert_eq!(turned.turned().expect("turned back").geometry.picture_ratio().map(Written::text), Some("2.00"));
    let patch = Box::new(FramePatch { picture_ratio: Some(None), method: Some(None), ..FramePatch::default() });
    let ids = contents.project.frames().map(|(id, _)| id).collect();
    let done = edit(&store, project, &Edit::SetFrames { ids, patch });
    assert_eq!(done.label, "Whole frame visible, follow the board on 4 frames");
}

#[test]
fn a_turn_is_named_by_its_degrees() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let (project, sources, _) = filled(&store, 2);
    let patch = SourcePatch { rotation: Some(Rotation::Quarter), rate: Some(None), ..SourcePatch::default() };
    let done = edit(&store, project, &Edit::SetSources { ids: sources, patch: Box::new(patch) });
    assert_eq!(done.label, "Rotate 90°, no rate on 2 sources");
}

#[test]
fn what_goes_through_a_deleted_frame_can_still_be_edited() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let (project, _, frames) = filled(&store, 1);
    let through = |frame: FrameId| FramePatch { through: Some(Some(frame)), ..FramePatch::default() };
    edit(&store, project, &Edit::SetFrames { ids: vec![frames[1]], patch: Box::new(through(frames[0])) });
    edit(&store, project, &Edit::Delete { sources: Vec::new(), frames: vec![frames[0]] });
    let renamed = FramePatch { name: Some(name("Still here")), ..FramePatch::default() };
    let done = edit(&store, project, &Edit::SetFrames { ids: vec![frames[1]], patch: Box::new(renamed) });
    assert_eq!(done.changed, 1);
    // But nobody can be led through it anew.
    let added = edit(&store, project, &Edit::AddFrames(vec![masked("H")])).frames[0];
    let lost = Edit::SetFrames { ids: vec![added], patch: Box::new(through(frames[0])) };
    assert!(matches!(store.edit(project, &lost, None), Err(StoreError::Refused(_))));
}
