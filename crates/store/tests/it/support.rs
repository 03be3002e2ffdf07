//! Sample records, and stores on files of their own.

use std::path::PathBuf;
use std::sync::Arc;
use std::sync::atomic::{AtomicI64, Ordering};

use diesel::connection::SimpleConnection;
use diesel::{Connection, SqliteConnection};
use ratiomet_core::cadence::Intent;
use ratiomet_core::fraction::Written;
use ratiomet_core::project::{
    Aspect, Choice, ChoicePatch, Deliverable, Edit, Footage, FrameId, FrameSpec, FramingSpec, Name, Note, Pair,
    Project, ProjectId, ProjectSettings, SourceId, SourceSpec,
};
use ratiomet_core::signal::{Scan, SignalRange};
use ratiomet_core::{
    DisplayRatio, FrameRate, Insets, Method, PixelAspect, Raster, Rotation, Shift, Squeeze, Step, Zoom,
};
use ratiomet_store::{Clock, Expected, Outcome, Store, StoreError, Subject};

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
    let footage = Footage {
        note: Note::new("two\nlines").expect("a note"),
        rate: Some(written("30000/1001", FrameRate::parse)),
        scan: Some(Scan::Interlaced),
        signal_range: Some(SignalRange::Full),
        playback: Intent::EveryFrame,
        method: Some(Method::Width.into()),
        ..Footage::of(name(title), geometry.expect("a source"))
    };
    footage.read_from("A/tape.mov", [(Aspect::Raster, "the sample entry".to_owned())])
}

pub fn masked(title: &str) -> Deliverable {
    let geometry = FrameSpec::new(
        Raster::new(1920, 1080).expect("a raster"),
        written("1", PixelAspect::parse),
        Some(written("2.00:1", DisplayRatio::parse)),
        Step::Four,
    );
    Deliverable { method: Some(Method::Height.into()), ..Deliverable::of(name(title), geometry.expect("a frame")) }
}

pub fn own(shift: &str) -> Choice {
    Choice::of(FramingSpec {
        method: Method::Stretch.into(),
        zoom: written("1.050", Zoom::parse),
        shift_x: written(shift, Shift::parse),
        shift_y: written("1/3", Shift::parse),
    })
}

/// A data file of its own.
pub struct Scratch {
    folder: tempfile::TempDir,
}

impl Scratch {
    pub fn new() -> Self {
        Self { folder: tempfile::tempdir().expect("a folder") }
    }

    /// A file that holds what a dump says.
    pub fn of(dump: &str) -> Self {
        let scratch = Self::new();
        scratch.with_tables(|connection| {
            connection.batch_execute(&format!("PRAGMA foreign_keys = OFF; {dump}")).expect("a dump")
        });
        scratch
    }

    pub fn path(&self) -> PathBuf {
        self.folder.path().join("test.db")
    }

    pub fn open(&self) -> Store {
        Store::open(&self.path()).expect("a data file")
    }

    /// Opens it by a clock that is set by hand.
    pub fn open_at(&self, time: &Arc<AtomicI64>) -> Store {
        let time = time.clone();
        Store::open_by(&self.path(), Clock::new(move || time.load(Ordering::SeqCst))).expect("a data file")
    }

    /// Lays hands on the tables themselves.
    pub fn with_tables<T>(&self, work: impl FnOnce(&mut SqliteConnection) -> T) -> T {
        work(&mut SqliteConnection::establish(self.path().to_str().expect("UTF-8")).expect("a database"))
    }

    /// The names of all files beside the data file, itself included.
    pub fn files(&self) -> Vec<String> {
        let entries = std::fs::read_dir(self.folder.path()).expect("a folder");
        let mut names: Vec<_> =
            entries.map(|entry| entry.expect("an entry").file_name().into_string().expect("UTF-8")).collect();
        names.sort();
        names
    }
}

pub fn settings(title: &str) -> ProjectSettings {
    ProjectSettings { method: Method::Fit.into(), ..ProjectSettings::named(name(title)) }
}

/// A new, empty project.
pub fn begin(store: &Store, title: &str) -> ProjectId {
    store.add_project(&Project::new(settings(title)), "The beginning").expect("added").id
}

#[track_caller]
pub fn edit(store: &Store, project: ProjectId, edit: &Edit) -> Outcome {
    store.edit(project, edit, None).expect("done")
}

pub fn add_source(store: &Store, project: ProjectId, footage: Footage) -> SourceId {
    edit(store, project, &Edit::AddSources(vec![footage])).sources[0]
}

pub fn add_frame(store: &Store, project: ProjectId, frame: Deliverable) -> FrameId {
    edit(store, project, &Edit::AddFrames(vec![frame])).frames[0]
}

/// Puts another value in the place of a source of this version.
pub fn replace(
    store: &Store,
    project: ProjectId,
    id: SourceId,
    version: i32,
    footage: Footage,
) -> Result<Outcome, StoreError> {
    let expected = Expected { subject: Subject::Source(id), version };
    store.edit(project, &Edit::ReplaceSource { id, footage: Box::new(footage) }, Some(expected))
}

pub fn delete(store: &Store, project: ProjectId, id: SourceId, version: i32) -> Result<Outcome, StoreError> {
    let expected = Expected { subject: Subject::Source(id), version };
    store.edit(project, &Edit::Delete { sources: vec![id], frames: Vec::new() }, Some(expected))
}

/// Sets what a conversion of this version adds.
pub fn choose(
    store: &Store,
    project: ProjectId,
    pair: Pair,
    version: i32,
    choice: Choice,
) -> Result<Outcome, StoreError> {
    let patch = Box::new(ChoicePatch { own: Some(choice.own), ..ChoicePatch::default() });
    let expected = Expected { subject: Subject::Choice(pair), version };
    store.edit(project, &Edit::SetChoice { pair, patch }, Some(expected))
}

pub fn rename(store: &Store, project: ProjectId, version: i32, title: &str) -> Result<Outcome, StoreError> {
    let expected = Expected { subject: Subject::Settings, version };
    store.edit(project, &Edit::SetProject(settings(title)), Some(expected))
}

/// The version and the value of a source.
#[track_caller]
pub fn source(store: &Store, project: ProjectId, id: SourceId) -> (i32, Footage) {
    let contents = store.contents(project).expect("contents");
    let version = contents.version(Subject::Source(id)).expect("there");
    (version, contents.project.source(id).expect("there").clone())
}

pub fn names(store: &Store, project: ProjectId) -> Vec<String> {
    let contents = store.contents(project).expect("contents");
    contents.project.sources().map(|(_, footage)| footage.name.as_str().to_owned()).collect()
}

pub fn undo(store: &Store, project: ProjectId) {
    let head = store.head(project).expect("head");
    let undo = head.undo.expect("something to undo");
    match undo.takes_back {
        Some(step) => store.take_back(project, head.at, step),
        None => store.go(project, head.at, undo.to),
    }
    .expect("undone");
}

pub fn redo(store: &Store, project: ProjectId) {
    let head = store.head(project).expect("head");
    store.go(project, head.at, head.redo.expect("something to redo").0).expect("redone");
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
