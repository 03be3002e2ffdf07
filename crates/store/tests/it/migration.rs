//! Files of earlier versions move in whole.

use diesel::connection::SimpleConnection;
use diesel::{Connection, SqliteConnection};
use ratiomet_store::Store;

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

    let mut store = Store::open(&file).expect("opened");
    let contents = store.contents(7).expect("contents");
    assert_eq!((contents.info.settings.name.as_str(), contents.info.version), ("Salt \"works\"", 3));
    assert_eq!(contents.sources.len(), 1);
    let tape = &contents.sources[0];
    assert_eq!((tape.id, tape.version, tape.value.note.as_str()), (4, 2, "two\nlines"));
    assert_eq!(tape.value.geometry.squeeze().text(), "1.00");
    assert_eq!((tape.value.geometry.insets().right, tape.value.geometry.rotation().degrees()), (10, 270));
    let frame = &contents.frames[0];
    assert_eq!(frame.value.method, Some(ratiomet_core::Method::Height.into()));
    assert_eq!(frame.value.geometry.frame().step().pixels(), 4);
    let (pair, version, choice) = &contents.choices[0];
    assert_eq!((pair.source, pair.frame, *version), (4, frame.id, 5));
    assert!(matches!(&choice.own, Some(framing) if framing.shift_x.text() == "-12.50"));
    // What was deleted comes back by undo.
    store.go(7, contents.head.at, contents.head.undo.expect("a step").0).expect("undone");
    let contents = store.contents(7).expect("contents");
    assert_eq!(contents.sources[1].value.name.as_str(), "Gone");
    assert_eq!(contents.sources[1].value.geometry.squeeze().text(), "2");
}
