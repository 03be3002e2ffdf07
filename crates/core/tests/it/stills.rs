//! The pictures of sources: what they are, how they are known, what an edit says of them.

use ratiomet_core::project::{Content, Footage, Note, Scene, SourcePatch, StillSpec};
use ratiomet_core::{Raster, Rotation};

use crate::clips::{clip, with};

fn kept(byte: u8) -> StillSpec {
    let (content, raster) = (Content::new([byte; 32]), Raster::new(1920, 1080).expect("a raster"));
    StillSpec::new(None, Some(content), Note::new("A.png").expect("a note"), Some(raster)).expect("a still")
}

fn showing(footage: &Footage, still: StillSpec) -> Footage {
    with(footage, &SourcePatch { still: Some(Some(still)), ..SourcePatch::default() })
}

#[test]
fn a_content_is_its_digits() {
    let text = "00ff10".to_owned() + &"5e".repeat(29);
    assert_eq!(Content::parse(&text).expect("64 digits").to_string(), text);
    for bad in
        ["", "5e", &text.to_uppercase(), &text[1..], &(text.clone() + "0"), &text.replace("ff", "fg"), &"é".repeat(32)]
    {
        assert!(Content::parse(bad).is_none(), "{bad}");
    }
}

#[test]
fn a_still_is_a_scene_or_a_file_with_its_size() {
    let raster = Raster::new(16, 9).ok();
    let (scene, content) = (Some(Scene::Ferry), Some(Content::new([7; 32])));
    let name = Note::default;
    assert!(StillSpec::new(scene, None, name(), None).is_ok_and(|still| still.scene() == scene));
    assert!(StillSpec::new(None, content, name(), raster).is_ok_and(|still| still.file().is_some()));
    for (scene, content, raster) in [
        (scene, content, raster),
        (None, None, None),
        (None, content, None),
        (scene, None, raster),
        (None, None, raster),
    ] {
        let refused = StillSpec::new(scene, content, name(), raster).expect_err("neither").to_string();
        assert_eq!(refused, "a scene by itself, or the content of a still with its raster");
    }
    assert_eq!(
        Scene::ALL.map(Scene::word).into_iter().collect::<std::collections::HashSet<_>>().len(),
        Scene::ALL.len()
    );
}

// A browser keeps a picture by its key: whatever makes it look otherwise must change that.
#[test]
fn a_picture_is_known_by_all_that_makes_it_look_otherwise() {
    let plain = clip("A", 1920, 1080);
    assert_eq!(plain.picture_key(), None);
    let mut keys = Vec::new();
    let scene = showing(&plain, StillSpec::Scene(Scene::Harbour));
    for shown in [
        scene.clone(),
        showing(&plain, StillSpec::Scene(Scene::Ferry)),
        showing(&plain, kept(1)),
        showing(&plain, kept(2)),
    ] {
        keys.push(shown.picture_key());
    }
    let insets = [Some(8), None, None, None];
    keys.push(with(&scene, &SourcePatch { insets, ..SourcePatch::default() }).picture_key());
    keys.push(with(&scene, &SourcePatch { rotation: Some(Rotation::Quarter), ..SourcePatch::default() }).picture_key());
    let raster = Raster::new(3840, 2160).ok();
    keys.push(with(&scene, &SourcePatch { raster, ..SourcePatch::default() }).picture_key());
    assert!(keys.iter().all(Option::is_some));
    let different: std::collections::HashSet<_> = keys.iter().collect();
    assert_eq!(different.len(), keys.len(), "{keys:?}");
    // What is called otherwise looks as before.
    let note = Note::new("seen");
    assert_eq!(with(&scene, &SourcePatch { note, ..SourcePatch::default() }).picture_key(), scene.picture_key());
}

#[test]
fn an_edit_says_which_picture_it_sets() {
    let words = |still| SourcePatch { still: Some(still), ..SourcePatch::default() }.words();
    assert_eq!(words(Some(StillSpec::Scene(Scene::Kiln))), "test scene kiln");
    assert_eq!(words(Some(kept(1))), "still A.png");
    assert_eq!(words(None), "no still");
    let plain = clip("A", 1920, 1080);
    let scene = showing(&plain, StillSpec::Scene(Scene::Kiln));
    assert_eq!(SourcePatch::between(&plain, &scene).words(), "test scene kiln");
    assert_eq!(SourcePatch::between(&scene, &plain).apply(&scene).expect("sound").still, None);
}
