//! The pictures of sources: what they are, how they are known, what an edit says of them.

use ratiomet_core::project::{Choice, Content, Edit, Footage, FramingSpec, Note, Pair, Scene, SourcePatch, StillSpec};
use ratiomet_core::resampling::{Amount, Filter, Radius, Resampling, Sharpening, Smoothing, Steps, Transfer};
use ratiomet_core::{Method, Raster, Rotation};

use crate::clips::{clip, delivered, project, with};

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

#[test]
fn a_way_of_resampling_is_taken_for_conversions_and_stays_with_them() {
    let (footage, frame) = (clip("A001", 1920, 1080), delivered("UHD", 3840, 2160));
    let mut project = project(&footage, &frame, &Choice::default(), Method::Fill.into());
    let (source, frame) = (project.sources().next().expect("a source").0, project.frames().next().expect("a frame").0);
    let pair = Pair::new(source, frame);
    let sharp = Resampling {
        light: Some(Transfer::Bt1886),
        steps: Steps::WholeFirst,
        smoothing: Smoothing::Median5,
        sharpening: Some(Sharpening {
            radius: Radius::parse("0.8").expect("a radius"),
            amount: Amount::parse("0.4").expect("an amount"),
        }),
        ..Resampling::by(Filter::CatmullRom)
    };
    let take = |taken: Option<&Resampling>| Edit::SetResampling { pairs: vec![pair], taken: taken.cloned() };
    let changes = project.apply(&take(Some(&sharp))).expect("sound");
    let words = "Catmull-Rom in light (BT.1886), whole enlargement first, median 5x5, sharpened 0.4 at 0.8 px";
    assert!(changes.label.starts_with(&format!("Take {words} on ")), "{}", changes.label);
    project = project.with(&changes);
    assert_eq!(project.conversion(pair).expect("a conversion").taken, Some(sharp.clone()));
    // It is no framing: what is planned is the same, and another framing leaves it.
    let other = Edit::SetConversions { pairs: vec![pair], own: Some(FramingSpec::of(Method::Fit)) };
    project = project.with(&project.apply(&other).expect("sound"));
    assert_eq!(project.conversion(pair).expect("a conversion").taken, Some(sharp.clone()));
    // Taken again nothing changes; undecided it is as before.
    assert_eq!(project.apply(&take(Some(&sharp))).expect("sound").unchanged, 1);
    let undecided = project.apply(&take(None)).expect("sound");
    assert!(undecided.label.starts_with("Resampling undecided on "), "{}", undecided.label);
    assert_eq!(project.with(&undecided).conversion(pair).expect("a conversion").taken, None);
    assert!(Radius::parse("0.2").is_err() && Radius::parse("21").is_err() && Amount::parse("5.1").is_err());
}
