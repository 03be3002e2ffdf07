//! Files of every version that ever was move in whole, and a copy of them stays.

use diesel::connection::SimpleConnection;
use diesel::{Connection, SqliteConnection};
use ratiomet_core::Method;
use ratiomet_core::project::{Judgement, ProjectId, SourceId};
use ratiomet_store::{Store, Subject, Which};

use crate::support::{Scratch, names, undo};

/// A file as the first version wrote it: a project with two sources, one of them deleted, a frame
/// and a framing.
const FIRST_VERSION: &str = "
CREATE TABLE __diesel_schema_migrations (
    version VARCHAR(50) PRIMARY KEY NOT NULL, run_on TIMESTAMP NOT NULL DEFAULT CURRENT_TIMESTAMP);
INSERT INTO __diesel_schema_migrations (version) VALUES ('20261125000001');
INSERT INTO projects (id, version, name, demo, changed_at) VALUES (7, 3, 'Salt \"works\"', FALSE, 1000);
INSERT INTO sources VALUES (4, 7, 2, 'T1', 'two' || char(10) || 'lines', 720, 576, '12:11', '1.00', 8, 4, 10, 6, 270,
    '30000/1001', 'interlaced', 'full', NULL);
INSERT INTO sources VALUES (5, 7, 2, 'Gone', '', 1920, 1080, '1', '2', 0, 0, 0, 0, 0, NULL, 'progressive', 'narrow',
    2000);
INSERT INTO frames VALUES (1, 7, 4, 'F', '', 1920, 1080, '1', '2.00:1', 4, 'height', '25', 'progressive', 'narrow',
    NULL);
INSERT INTO conversions VALUES (4, 1, 5, 'stretch', '1.050', '-12.50', '1/3');
INSERT INTO conversions VALUES (5, 1, 1, NULL, '1', '0', '0');
";

#[test]
fn a_file_of_the_first_version_moves_in_whole() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("old.db");
    let tables = include_str!("../../migrations/2026-11-25-000001_projects/up.sql");
    let mut old = SqliteConnection::establish(file.to_str().expect("UTF-8")).expect("made");
    old.batch_execute(tables).expect("the first tables");
    old.batch_execute(FIRST_VERSION).expect("rows");
    drop(old);

    let project = ProjectId::new(7);
    let store = Store::open(&file).expect("opened");
    let contents = store.contents(project).expect("contents");
    let info = contents.info();
    assert_eq!((info.settings.name.as_str(), info.version), ("Salt \"works\"", 3));
    let tape = SourceId::new(4);
    assert_eq!(contents.version(Subject::Source(tape)), Some(2));
    let footage = contents.project.source(tape).expect("a tape");
    assert_eq!((contents.project.sources().len(), footage.note.as_str()), (1, "two\nlines"));
    assert_eq!(footage.geometry.squeeze().text(), "1.00");
    assert_eq!((footage.geometry.insets().right, footage.geometry.rotation().degrees()), (10, 270));
    let (_, frame) = contents.project.frames().next().expect("a frame");
    assert_eq!((frame.method, frame.geometry.frame().step().pixels()), (Some(Method::Height.into()), 4));
    let (pair, choice) = contents.project.choices().next().expect("a framing");
    assert_eq!((pair.source, contents.version(Subject::Choice(pair))), (tape, Some(5)));
    assert!(matches!(&choice.own, Some(framing) if framing.shift_x.text() == "-12.50"));
    // What was deleted comes back by undo.
    undo(&store, project);
    assert_eq!(names(&store, project), ["T1", "Gone"]);
    let contents = store.contents(project).expect("contents");
    assert_eq!(contents.project.source(SourceId::new(5)).expect("back").geometry.squeeze().text(), "2");
}

/// Data files of the demo, as each version of the format was first shipped with it: 16 sources and 7 frames;
/// from the third on with findings that were accepted, a step that was taken back, and a frame of the house; in the
/// last seven with a typing profile too.
const SHIPPED: [(&str, &str); 11] = [
    ("2026-11-25", include_str!("../fixtures/demo-2026-11-25.sql")),
    ("2026-11-26", include_str!("../fixtures/demo-2026-11-26.sql")),
    ("2026-11-26, accepted", include_str!("../fixtures/demo-2026-11-26-accepted.sql")),
    ("2026-11-28", include_str!("../fixtures/demo-2026-11-28.sql")),
    ("2026-11-28, points", include_str!("../fixtures/demo-2026-11-28-points.sql")),
    ("2026-11-29", include_str!("../fixtures/demo-2026-11-29.sql")),
    ("2026-11-29, files", include_str!("../fixtures/demo-2026-11-29-files.sql")),
    ("2026-11-29, stills", include_str!("../fixtures/demo-2026-11-29-stills.sql")),
    ("2026-11-29, proofs", include_str!("../fixtures/demo-2026-11-29-proofs.sql")),
    ("2026-11-29, spheres", include_str!("../fixtures/demo-2026-11-29-spheres.sql")),
    ("2026-11-29, captions", include_str!("../fixtures/demo-2026-11-29-captions.sql")),
];

fn demo(store: &Store) -> ProjectId {
    store.projects().expect("list")[0].id
}

#[test]
fn every_demo_that_was_shipped_opens_with_everything_in_it() {
    for (day, dump) in SHIPPED {
        let scratch = Scratch::of(dump);
        let store = scratch.open();
        let contents = store.contents(demo(&store)).expect(day);
        let project = &contents.project;
        assert_eq!(project.settings().name.as_str(), "The Kiln at Saltreed", "{day}");
        assert!(contents.set_aside.is_empty(), "{day}: {:?}", contents.set_aside);
        let first_version = day == "2026-11-25";
        assert_eq!(project.sources().len(), 16, "{day}");
        assert_eq!(project.frames().len(), 7, "{day}");
        assert!(project.choices().any(|(_, choice)| choice.own.is_some()), "{day}");
        if !first_version {
            // A branch is there to go back to, the house has kept its frame.
            let steps = store.steps(contents.id, Which::default()).expect(day).steps;
            assert!(steps.iter().any(|step| !step.on_line), "{day}");
            undo(&store, contents.id);
            let house = store.house().expect(day).house;
            assert_eq!(house.frames().count(), 1, "{day}");
            assert_eq!(
                house.profiles().count(),
                usize::from(day.ends_with("points") || day.starts_with("2026-11-29")),
                "{day}"
            );
        }
    }
}

// A change of wording must not open again what somebody has accepted.
#[test]
fn what_was_accepted_is_still_accepted() {
    for (day, dump) in &SHIPPED[2..] {
        let scratch = Scratch::of(dump);
        let store = scratch.open();
        let contents = store.contents(demo(&store)).expect(day);
        let (mut accepted, mut lapsed) = (0, Vec::new());
        for (pair, conversion) in contents.project.board() {
            for finding in &conversion.findings {
                match conversion.judgement(finding) {
                    Judgement::Accepted(_) => accepted += 1,
                    // Detours were told by the wrong numbers in files before the last: those are asked about again.
                    Judgement::Lapsed(acceptance)
                        if acceptance.code == "detour" && !SHIPPED[4..].iter().any(|(later, _)| later == day) => {}
                    Judgement::Lapsed(acceptance) => lapsed.push((pair, finding.to_string(), acceptance.clone())),
                    Judgement::Open => {}
                }
            }
        }
        assert!(lapsed.is_empty(), "{day}: {lapsed:#?}");
        assert!(accepted > 100, "{day}: {accepted}");
    }
}

#[test]
fn a_copy_is_made_before_an_older_file_is_changed() {
    let scratch = Scratch::of(SHIPPED[2].1);
    let store = scratch.open();
    assert_eq!(scratch.files().iter().filter(|name| name.contains(".before-")).count(), 1);
    let [copy] = store.backups() else { panic!("not one copy: {:?}", store.backups()) };
    // The copy is the file as it was: it can be opened itself, and a copy is made of it again.
    let again = Store::open(copy).expect("the copy opens");
    assert_eq!(
        again.contents(demo(&again)).expect("contents").project,
        store.contents(demo(&store)).expect("contents").project
    );
    drop((store, again));
    // A file that is up to date is not copied.
    let store = scratch.open();
    assert_eq!(store.backups().len(), 2, "{:?}", store.backups());
}

#[test]
fn an_older_file_is_read_without_being_changed() {
    let scratch = Scratch::of(SHIPPED[2].1);
    let before = std::fs::read(scratch.path()).expect("a file");
    let store = Store::open_for_reading(&scratch.path()).expect("read");
    assert_eq!(store.contents(demo(&store)).expect("contents").project.sources().len(), 16);
    assert_eq!(scratch.files(), ["test.db"]);
    assert!(std::fs::read(scratch.path()).expect("a file") == before, "it was changed");
}

#[test]
fn a_folder_without_room_for_a_copy_leaves_an_older_file_as_it_is() {
    let scratch = Scratch::of(SHIPPED[2].1);
    // A name as long as names may be: that of a copy would be longer.
    let folder = scratch.path().parent().expect("a folder").to_owned();
    let long = folder.join(format!("{}.db", "n".repeat(250)));
    std::fs::rename(scratch.path(), &long).expect("renamed");
    let before = std::fs::read(&long).expect("a file");
    let refused = Store::open(&long).err().expect("refused").to_string();
    assert!(refused.contains("no copy of it can be made"), "{refused}");
    assert!(std::fs::read(&long).expect("a file") == before, "it was changed");
}

#[test]
fn every_file_that_was_shipped_is_found_sound() {
    for (day, dump) in SHIPPED {
        let scratch = Scratch::of(dump);
        let checked = scratch.open().check().expect(day);
        assert_eq!(checked.faults, [""; 0], "{day}");
        assert!(checked.projects > 0 && checked.states > 20, "{day}: {checked:?}");
    }
}
