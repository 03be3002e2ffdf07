//! Sample records, and stores on files of their own.

use ratiomet_core::fraction::Written;
use ratiomet_core::project::{
    Choice, ChoicePatch, Deliverable, Footage, FrameSpec, FramingSpec, Name, Note, Playback, ProjectSettings, Scan,
    SignalRange, SourceSpec,
};
use ratiomet_core::{
    DisplayRatio, FrameRate, Insets, Method, PixelAspect, Raster, Rotation, Shift, Squeeze, Step, Zoom,
};
use ratiomet_store::{Store, StoreError};
use ratiomet_wire::project::ProjectContents;

pub fn name(text: &str) -> Name {
    Name::new(text).expect("a name")
}

pub fn written<T>(text: &str, rule: fn(&str) -> Result<T, ratiomet_core::Error>) -> Written<T> {
    Written::parse(text, rule).expect(text)
}

pub fn tape(title: &str) -> Footage {
    let geometry = SourceSpec::new(
        Raster::new(720, 576).expect("a raster"),
        written("12:11", PixelAspect::parse),
        written("1.00", Squeeze::parse),
        Insets { left: 8, top: 4, right: 10, bottom: 6 },
        Rotation::ThreeQuarters,
    );
    Footage {
        name: name(title),
        note: Note::new("two\nlines").expect("a note"),
        geometry: geometry.expect("a source"),
        rate: Some(written("30000/1001", FrameRate::parse)),
        scan: Scan::Interlaced,
        signal_range: SignalRange::Full,
        playback: Playback::EveryFrame,
        subject: None,
        method: Some(Method::Width.into()),
    }
}

pub fn masked(title: &str) -> Deliverable {
    let geometry = FrameSpec::new(
        Raster::new(1920, 1080).expect("a raster"),
        written("1", PixelAspect::parse),
        Some(written("2.00:1", DisplayRatio::parse)),
        Step::Four,
    );
    Deliverable {
        name: name(title),
        note: Note::default(),
        geometry: geometry.expect("a frame"),
        rate: None,
        scan: Scan::Progressive,
        signal_range: SignalRange::Narrow,
        safe_areas: Vec::new(),
        guides: Vec::new(),
        through: None,
        method: Some(Method::Height.into()),
    }
}

/// A choice as a request sets it.
pub fn put(choice: Choice) -> ChoicePatch {
    ChoicePatch { own: Some(choice.own), ..ChoicePatch::default() }
}

pub fn own(shift: &str) -> Choice {
    Choice::of(FramingSpec {
        method: Method::Stretch.into(),
        zoom: written("1.050", Zoom::parse),
        shift_x: written(shift, Shift::parse),
        shift_y: written("1/3", Shift::parse),
    })
}

pub struct Scratch {
    pub folder: tempfile::TempDir,
}

impl Scratch {
    pub fn new() -> Self {
        Self { folder: tempfile::tempdir().expect("a folder") }
    }

    pub fn open(&self) -> Store {
        Store::open(&self.folder.path().join("test.db")).expect("a data file")
    }
}

pub fn settings(title: &str) -> ProjectSettings {
    ProjectSettings { name: name(title), method: Method::Fit.into() }
}

pub fn empty(title: &str) -> ProjectContents {
    ProjectContents { settings: settings(title), sources: Vec::new(), frames: Vec::new(), conversions: Vec::new() }
}

/// A new, empty project.
pub fn begin(store: &mut Store, title: &str) -> i32 {
    store.add_project(&empty(title), "The beginning").expect("added").id
}

#[track_caller]
pub fn is_stale<T: std::fmt::Debug>(answer: Result<T, StoreError>, current: i32) {
    match answer {
        Err(StoreError::Stale { current: stored }) => assert_eq!(stored, current),
        other => panic!("not stale: {other:?}"),
    }
}

#[track_caller]
pub fn is_deleted<T: std::fmt::Debug>(answer: Result<T, StoreError>, gone: &str) {
    match answer {
        Err(StoreError::Deleted { what, .. }) => assert_eq!(what, gone),
        other => panic!("not deleted: {other:?}"),
    }
}

#[track_caller]
pub fn is_unknown<T: std::fmt::Debug>(answer: Result<T, StoreError>, missing: &str) {
    match answer {
        Err(StoreError::Unknown { what, .. }) => assert_eq!(what, missing),
        other => panic!("not unknown: {other:?}"),
    }
}
