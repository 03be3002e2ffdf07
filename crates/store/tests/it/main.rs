//! The store on files of its own: what is written is what is read, versions guard every write, and
//! deleted things come back as they were.

use std::path::Path;

use ratiomet_core::fraction::Written;
use ratiomet_core::project::{
    Choice, Deliverable, Footage, FrameSpec, FramingSpec, Name, Note, Scan, SignalRange, SourceSpec,
};
use ratiomet_core::{
    DisplayRatio, FrameRate, Insets, Method, PixelAspect, Raster, Rotation, Shift, Squeeze, Step, Zoom,
};
use ratiomet_store::{ConversionKey, Demo, Store, StoreError};

fn name(text: &str) -> Name {
    Name::new(text).expect("a name")
}

fn written<T>(text: &str, rule: fn(&str) -> Result<T, ratiomet_core::Error>) -> Written<T> {
    Written::parse(text, rule).expect(text)
}

fn tape(title: &str) -> Footage {
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
    }
}

fn masked(title: &str) -> Deliverable {
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
        default_method: Method::Height,
    }
}

fn own(shift: &str) -> Choice {
    Choice::Own(FramingSpec {
        method: Method::Stretch,
        zoom: written("1.050", Zoom::parse),
        shift_x: written(shift, Shift::parse),
        shift_y: written("1/3", Shift::parse),
    })
}

struct Scratch {
    folder: tempfile::TempDir,
}

impl Scratch {
    fn new() -> Self {
        Self { folder: tempfile::tempdir().expect("a folder") }
    }

    fn open(&self) -> Store {
        Store::open(&self.folder.path().join("test.db")).expect("a data file")
    }
}

#[track_caller]
fn is_stale<T: std::fmt::Debug>(answer: Result<T, StoreError>, current: i32) {
    match answer {
        Err(StoreError::Stale { current: stored }) => assert_eq!(stored, current),
        other => panic!("not stale: {other:?}"),
    }
}

#[track_caller]
fn is_deleted<T: std::fmt::Debug>(answer: Result<T, StoreError>, gone: &str) {
    match answer {
        Err(StoreError::Deleted { what, .. }) => assert_eq!(what, gone),
        other => panic!("not deleted: {other:?}"),
    }
}

#[track_caller]
fn is_unknown<T: std::fmt::Debug>(answer: Result<T, StoreError>, missing: &str) {
    match answer {
        Err(StoreError::Unknown { what, .. }) => assert_eq!(what, missing),
        other => panic!("not unknown: {other:?}"),
    }
}

#[test]
fn what_is_written_is_read_in_its_own_spelling_after_a_new_start() {
    let scratch = Scratch::new();
    let (project, source, frame) = {
        let mut store = scratch.open();
        let project = store.add_project(&name("Salt")).expect("added").id;
        let source = store.add_source(project, &tape("T1")).expect("added");
        let frame = store.add_frame(project, &masked("Broadcast")).expect("added");
        let key = ConversionKey { source: source.id, frame: frame.id };
        store.set_choice(project, key, 0, &own("-12.50")).expect("set");
        (project, source, frame)
    };
    let mut store = scratch.open();
    let contents = store.contents(project).expect("contents");
    assert_eq!(contents.sources, std::slice::from_ref(&source));
    assert_eq!(contents.frames, std::slice::from_ref(&frame));
    assert_eq!(contents.sources[0].value, tape("T1"));
    assert_eq!(contents.sources[0].value.geometry.squeeze().text(), "1.00");
    assert_eq!(contents.frames[0].value.geometry.picture_ratio().map(Written::text), Some("2.00:1"));
    let (key, choice) = &contents.choices[0];
    assert_eq!(*key, ConversionKey { source: source.id, frame: frame.id });
    assert_eq!((choice.version, &choice.value), (1, &own("-12.50")));
}

#[test]
fn every_write_names_the_version_it_changes() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let project = store.add_project(&name("Salt")).expect("added");
    let source = store.add_source(project.id, &tape("T1")).expect("added");
    assert_eq!((project.version, source.version), (1, 1));

    let changed = store.replace_source(project.id, source.id, 1, &tape("T2")).expect("replaced");
    assert_eq!((changed.version, changed.value.name.as_str()), (2, "T2"));
    is_stale(store.replace_source(project.id, source.id, 1, &tape("T3")), 2);
    is_stale(store.delete_source(project.id, source.id, 1), 2);
    assert_eq!(store.source(project.id, source.id).expect("read").value.name.as_str(), "T2");

    // Changing what is in a project is no change of the project itself.
    store.rename_project(project.id, 1, &name("Salt works")).expect("renamed");
    is_stale(store.rename_project(project.id, 1, &name("Other")), 2);
    is_stale(store.delete_project(project.id, 1), 2);
}

#[test]
fn a_conversion_begins_at_version_0_and_keeps_counting() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let project = store.add_project(&name("Salt")).expect("added").id;
    let source = store.add_source(project, &tape("T1")).expect("added").id;
    let frame = store.add_frame(project, &masked("F")).expect("added").id;
    let key = ConversionKey { source, frame };
    let untouched = store.choice(project, key).expect("read");
    assert_eq!((untouched.version, untouched.value), (0, Choice::Follows));
    is_stale(store.set_choice(project, key, 1, &own("0")), 0);
    assert_eq!(store.set_choice(project, key, 0, &own("5")).expect("set").version, 1);
    is_stale(store.set_choice(project, key, 0, &own("6")), 1);
    // Following again does not begin the count anew, or an old window could write over it.
    let follows = store.set_choice(project, key, 1, &Choice::Follows).expect("set");
    assert_eq!((follows.version, follows.value), (2, Choice::Follows));
    is_stale(store.set_choice(project, key, 0, &own("7")), 2);
}

#[test]
fn deleted_things_are_gone_until_they_are_restored() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let project = store.add_project(&name("Salt")).expect("added").id;
    let source = store.add_source(project, &tape("T1")).expect("added").id;
    let frame = store.add_frame(project, &masked("F")).expect("added").id;
    let key = ConversionKey { source, frame };
    store.set_choice(project, key, 0, &own("5")).expect("set");

    store.delete_source(project, source, 1).expect("deleted");
    is_deleted(store.source(project, source), "source");
    is_deleted(store.delete_source(project, source, 2), "source");
    is_deleted(store.replace_source(project, source, 2, &tape("T2")), "source");
    is_deleted(store.choice(project, key), "source");
    is_deleted(store.set_choice(project, key, 1, &own("6")), "source");
    assert_eq!(store.contents(project).expect("contents").sources, []);
    assert_eq!(store.project(project).expect("read").value.sources, 0);

    let back = store.restore_source(project, source).expect("restored");
    assert_eq!((back.version, back.value), (3, tape("T1")));
    // Restoring what is there changes nothing.
    assert_eq!(store.restore_source(project, source).expect("restored").version, 3);
    assert_eq!(store.choice(project, key).expect("read").value, own("5"));

    store.delete_frame(project, frame, 1).expect("deleted");
    is_deleted(store.set_choice(project, key, 1, &own("6")), "frame");
    store.restore_frame(project, frame).expect("restored");

    store.delete_project(project, 1).expect("deleted");
    is_deleted(store.project(project), "project");
    is_deleted(store.sources(project), "project");
    is_deleted(store.add_frame(project, &masked("G")), "project");
    is_deleted(store.restore_source(project, source), "project");
    assert_eq!(store.projects().expect("list"), []);
    let restored = store.restore_project(project).expect("restored");
    assert_eq!((restored.value.sources, restored.value.frames), (1, 1));
}

#[test]
fn numbers_of_another_project_are_unknown() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let first = store.add_project(&name("First")).expect("added").id;
    let second = store.add_project(&name("Second")).expect("added").id;
    let source = store.add_source(first, &tape("T1")).expect("added").id;
    let frame = store.add_frame(second, &masked("F")).expect("added").id;
    is_unknown(store.source(second, source), "source");
    is_unknown(store.delete_source(second, source, 1), "source");
    is_unknown(store.restore_frame(first, frame), "frame");
    is_unknown(store.choice(first, ConversionKey { source, frame }), "frame");
    is_unknown(store.project(99), "project");
    is_unknown(store.restore_project(99), "project");
}

#[test]
fn the_last_changed_project_stands_first() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    let first = store.add_project(&name("First")).expect("added").id;
    store.add_project(&name("Second")).expect("added");
    let order = |store: &mut Store| -> Vec<String> {
        let projects = store.projects().expect("list");
        projects.iter().map(|project| project.value.name.as_str().to_owned()).collect()
    };
    assert_eq!(order(&mut store), ["Second", "First"]);
    std::thread::sleep(std::time::Duration::from_millis(5));
    store.add_source(first, &tape("T1")).expect("added");
    assert_eq!(order(&mut store), ["First", "Second"]);
}

#[test]
fn the_demo_takes_the_place_of_the_demo_alone() {
    let scratch = Scratch::new();
    let mut store = scratch.open();
    assert!(!store.has_demo().expect("read"));
    store.add_project(&name("Mine")).expect("added");
    let demo = Demo {
        name: name("Demo"),
        footage: vec![tape("T1"), tape("T2")],
        frames: vec![(masked("F"), vec![(1, own("5"))])],
    };
    let first = store.seed_demo(&demo).expect("seeded");
    let contents = store.contents(first).expect("contents");
    assert_eq!(contents.choices[0].0.source, contents.sources[1].id);
    let second = store.seed_demo(&demo).expect("seeded");
    assert_ne!(first, second, "a number is never used twice");
    is_unknown(store.project(first), "project");
    assert_eq!(store.projects().expect("list").len(), 2);
    assert!(store.has_demo().expect("read"));
    // Deleted by its user it still counts as given.
    store.delete_project(second, 1).expect("deleted");
    assert!(store.has_demo().expect("read"));
}

#[test]
fn two_programs_on_one_file_guard_each_other() {
    let scratch = Scratch::new();
    let (mut one, mut other) = (scratch.open(), scratch.open());
    let project = one.add_project(&name("Salt")).expect("added").id;
    let source = one.add_source(project, &tape("T1")).expect("added").id;
    other.replace_source(project, source, 1, &tape("T2")).expect("replaced");
    is_stale(one.replace_source(project, source, 1, &tape("T3")), 2);
    assert_eq!(one.source(project, source).expect("read").value.name.as_str(), "T2");
}

#[test]
fn a_place_that_is_no_file_is_refused_in_words() {
    let refused = Store::open(Path::new("/nowhere/at/all.db")).err().expect("refused").to_string();
    assert!(refused.contains("/nowhere/at/all.db") && refused.contains("there is no folder"), "{refused}");
}
