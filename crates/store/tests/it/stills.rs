//! Stills are referred to by every state of every history: undo and redo need them.

use std::collections::HashSet;

use ratiomet_core::project::{Content, Edit, Note, Scene, SourcePatch, StillFile, StillSpec};
use ratiomet_core::{Raster, space::Stored};

use crate::support::{Scratch, add_source, begin, redo, tape, undo};

fn still(byte: u8) -> StillSpec {
    let raster: Raster<Stored> = Raster::new(720, 576).expect("a raster");
    StillSpec::File(StillFile {
        content: Content::new([byte; 32]),
        name: Note::new("a \"still\".png").expect("a note"),
        raster,
    })
}

#[test]
fn what_any_step_shows_is_needed() {
    let scratch = Scratch::new();
    let store = scratch.open();
    let project = begin(&store, "Salt");
    let source = add_source(&store, project, tape("A"));
    assert_eq!(store.stills().expect("read"), HashSet::new());
    let set = |still: Option<StillSpec>| {
        let patch = SourcePatch { still: Some(still), ..SourcePatch::default() };
        store.edit(project, &Edit::SetSources { ids: vec![source], patch: Box::new(patch) }, None).expect("edited");
    };
    let shown = || store.contents(project).expect("contents").project.source(source).expect("a source").still.clone();
    let used = |bytes: &[u8]| bytes.iter().map(|byte| Content::new([*byte; 32])).collect::<HashSet<_>>();
    set(Some(still(1)));
    set(Some(StillSpec::Scene(Scene::Ferry)));
    set(Some(still(2)));
    assert_eq!(store.stills().expect("read"), used(&[1, 2]), "the first one is an undo away");
    for _ in 0..2 {
        undo(&store, project);
    }
    assert_eq!(shown(), Some(still(1)));
    assert_eq!(store.stills().expect("read"), used(&[1, 2]));
    redo(&store, project);
    assert_eq!(shown(), Some(StillSpec::Scene(Scene::Ferry)));
    drop(store);
    // As much after a restart.
    assert_eq!(scratch.open().stills().expect("read"), used(&[1, 2]));
}
