//! The data file: kept between starts, migrated, and left alone when it is not ours.

use std::path::Path;
use std::process::{Output, Stdio};

use serde_json::json;

use crate::support::{Server, program};

fn refused(data: &Path, more: &[&str]) -> String {
    let Output { status, stderr, .. } = program()
        .args(["serve", "--listen", "127.0.0.1:0", "--data"])
        .arg(data)
        .args(more)
        .stdin(Stdio::null())
        .output()
        .expect("it runs");
    assert_eq!(status.code(), Some(1));
    let said = String::from_utf8(stderr).expect("UTF-8");
    assert!(said.starts_with("ratiomet: "), "{said}");
    said
}

#[tokio::test]
async fn what_was_changed_is_there_after_a_second_start() {
    let folder = tempfile::tempdir().expect("a folder");
    let data = folder.path().join("kept.db");
    let first = Server::start_on("demo", &data, &[]);
    first.put("/projects/1", 1, &json!({ "name": "Changed by me" })).await.ok();
    first
        .put("/projects/1/conversions/3/17", 0, &json!({ "own": { "method": "fit", "zoom": "24000/1001" } }))
        .await
        .ok();
    let before = first.get("/projects/1/board").await.ok();
    drop(first);
    let second = Server::start_on("demo", &data, &[]);
    assert_eq!(second.get("/projects/1/board").await.ok(), before);
    let kept = second.get("/projects/1/conversions/3/17").await.ok();
    assert_eq!(kept["framing"]["zoom"], "24000/1001");
    // Deleting the demo is a change too.
    second.delete("/projects/1", 2).await;
    second.post("/projects", &json!({ "name": "Mine" })).await.ok();
    drop(second);
    let third = Server::start_on("demo", &data, &[]);
    let names = |projects: serde_json::Value| -> Vec<String> {
        let list = projects.as_array().cloned().unwrap_or_default();
        list.iter().map(|project| project["values"]["name"].as_str().unwrap_or_default().to_owned()).collect()
    };
    assert_eq!(names(third.get("/projects").await.ok()), ["Mine"]);
    drop(third);
    // Beginning again brings it back and leaves the other project.
    let fresh = Server::start_on("demo", &data, &["--fresh"]);
    assert_eq!(names(fresh.get("/projects").await.ok()), ["The Kiln at Saltreed", "Mine"]);
}

#[test]
fn a_file_that_is_no_database_is_left_as_it_is() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("letter.txt");
    let letter = "Dear editor, ".repeat(200);
    std::fs::write(&file, &letter).expect("written");
    let said = refused(&file, &[]);
    assert!(said.contains("is not a Ratiomet data file"), "{said}");
    assert_eq!(std::fs::read_to_string(&file).expect("there"), letter);
}

/// Runs SQL on a file through the store's own driver, as another program would.
fn sql(file: &Path, statements: &str) {
    use diesel::connection::SimpleConnection;
    use diesel::{Connection, SqliteConnection};
    let name = file.to_str().expect("UTF-8");
    SqliteConnection::establish(name).expect("opened").batch_execute(statements).expect(statements);
}

#[test]
fn a_database_of_another_program_is_left_as_it_is() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("other.db");
    sql(&file, "CREATE TABLE letters (text TEXT)");
    let said = refused(&file, &[]);
    assert!(said.contains("belongs to another program"), "{said}");
    sql(&file, "INSERT INTO letters VALUES ('still here')");
}

#[tokio::test]
async fn a_file_of_a_newer_version_is_refused() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("newer.db");
    drop(Server::start_on("demo", &file, &[]));
    sql(&file, "INSERT INTO __diesel_schema_migrations (version) VALUES ('29991231000000')");
    let said = refused(&file, &[]);
    let own = env!("CARGO_PKG_VERSION");
    assert!(said.contains("newer version") && said.matches(own).count() == 2, "{said}");
}

#[tokio::test]
async fn a_row_that_breaks_the_rules_is_set_aside_and_all_else_is_served() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("damaged.db");
    drop(Server::start_on("demo", &file, &[]));
    sql(
        &file,
        "UPDATE states SET body = replace(body, '\"squeeze\":\"1\"', '\"squeeze\":\"1:0\"') \
         WHERE id = (SELECT state_id FROM records WHERE id = 4)",
    );
    let server = Server::start_on("demo", &file, &[]);
    let board = server.get("/projects/1/board").await.ok();
    assert_eq!((&board["set_aside"], board["sources"].as_array().map(Vec::len)), (&json!(1), Some(17)));
    let aside = server.get("/projects/1/set-aside").await.ok();
    assert_eq!((&aside[0]["kind"], &aside[0]["id"]), (&json!("source"), &json!(4)));
    assert!(aside[0]["name"].as_str().is_some_and(|name| name.starts_with("P007")), "{aside}");
    assert!(aside[0]["why"].as_str().is_some_and(|why| why.contains("squeeze")), "{aside}");
    assert!(aside[0]["body"].as_str().is_some_and(|body| body.contains("1:0")), "{aside}");
    // Asked for by itself it is named, and not taken for deleted.
    let refused = server.get("/projects/1/sources/4").await.refusal(409);
    assert_eq!(refused["type"], "urn:ratiomet:problem:set_aside");
}

/// The demo of an older version, as it was dumped.
const OLDER: &str = include_str!("../../../store/tests/fixtures/demo-2026-11-26-accepted.sql");

#[tokio::test]
async fn an_older_file_is_copied_before_it_is_brought_up_to_date() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("older.db");
    sql(&file, &format!("PRAGMA foreign_keys = OFF; {OLDER}"));
    let server = Server::start_on("demo", &file, &[]);
    let about = server.get("/about").await.ok();
    let copies = about["backups"].as_array().expect("copies");
    assert_eq!(copies.len(), 1, "{about}");
    assert!(Path::new(copies[0].as_str().expect("a path")).is_file(), "{about}");
    assert_eq!(server.get("/projects/1/board").await.ok()["sources"].as_array().map(Vec::len), Some(16));
}

/// What only reads leaves an older file as it is, and nothing beside it.
#[test]
fn an_export_changes_nothing_of_the_file_that_it_reads() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("older.db");
    sql(&file, &format!("PRAGMA foreign_keys = OFF; {OLDER}"));
    let before = std::fs::read(&file).expect("a file");
    let elsewhere = tempfile::tempdir().expect("a folder");
    let output = program()
        .args(["export", "--project", "The Kiln at Saltreed", "--formats", "csv", "--data"])
        .arg(&file)
        .arg("--out")
        .arg(elsewhere.path().join("out.zip"))
        .output()
        .expect("it runs");
    assert!(matches!(output.status.code(), Some(0 | 1)), "{}", String::from_utf8_lossy(&output.stderr));
    assert!(std::fs::read(&file).expect("a file") == before, "the file was changed");
    let names: Vec<_> =
        std::fs::read_dir(folder.path()).expect("a folder").map(|entry| entry.expect("an entry").file_name()).collect();
    assert_eq!(names, ["older.db"]);
}

#[tokio::test]
async fn what_is_wrong_with_a_file_is_told_apart() {
    let folder = tempfile::tempdir().expect("a folder");
    let sound = folder.path().join("sound.db");
    let server = Server::start_on("demo", &sound, &[]);
    #[cfg(unix)]
    {
        use std::os::unix::fs::PermissionsExt;
        let mode = std::fs::metadata(&sound).expect("there").permissions().mode();
        assert_eq!(mode & 0o777, 0o600, "for its owner alone");
    }
    // Another server says so, and what only reads does not mind.
    assert!(refused(&sound, &[]).contains("in use by another program"), "one server has a file");
    let copy = folder.path().join("copy.db");
    let copied = program().args(["backup", "--data"]).arg(&sound).arg("--out").arg(&copy).output().expect("it runs");
    assert!(copied.status.success(), "{copied:?}");
    let twice = program().args(["backup", "--data"]).arg(&sound).arg("--out").arg(&copy).output().expect("it runs");
    assert!(String::from_utf8_lossy(&twice.stderr).contains("is there already"), "{twice:?}");
    let other = Server::start_on("serve", &copy, &[]);
    assert_eq!(other.get("/projects/1/board").await.ok()["sources"].as_array().map(Vec::len), Some(18));
    drop(other);
    // Gone under a server that runs, nothing is acknowledged any more; put back, it goes on.
    let away = folder.path().join("away.db");
    std::fs::rename(&sound, &away).expect("moved");
    let note = json!({ "edit": "set_sources", "sources": [1], "set": { "note": "Lost" } });
    let gone = server.post("/projects/1/edits", &note).await.refusal(503);
    assert_eq!(gone["title"], "The data file is gone");
    std::fs::rename(&away, &sound).expect("moved");
    server.post("/projects/1/edits", &note).await.ok();
    drop(server);

    let whole = std::fs::read(&copy).expect("there");
    let case = |name: &str, bytes: &[u8]| {
        let file = folder.path().join(name);
        std::fs::write(&file, bytes).expect("written");
        refused(&file, &[])
    };
    let short = case("short.db", &whole[..whole.len() / 2]);
    assert!(short.contains("is cut short") && short.contains(&whole.len().to_string()), "{short}");
    let mut damaged = whole.clone();
    damaged[4096..40_960].fill(0x5A);
    let said = case("damaged.db", &damaged);
    assert!(said.contains("is damaged") && said.contains("Restore it"), "{said}");
    let locked = folder.path().join("locked.db");
    std::fs::write(&locked, &whole).expect("written");
    let hold = "import sqlite3, sys, time\nfile = sqlite3.connect(sys.argv[1], isolation_level=None)\n\
                file.execute('PRAGMA locking_mode = EXCLUSIVE'); file.execute('BEGIN EXCLUSIVE'); print('held', flush=True); time.sleep(60)";
    let mut holder = std::process::Command::new("python3")
        .args(["-c", hold])
        .arg(&locked)
        .stdout(Stdio::piped())
        .spawn()
        .expect("python3 is installed");
    let mut word = [0; 4];
    std::io::Read::read_exact(holder.stdout.as_mut().expect("its output"), &mut word).expect("it holds the file");
    let said = refused(&locked, &[]);
    holder.kill().expect("it runs");
    holder.wait().expect("it ends");
    assert!(said.contains("in use by another program"), "{said}");
    let said = refused(Path::new(":memory:"), &[]);
    assert!(said.contains("names no file"), "{said}");
}

#[test]
fn places_that_cannot_hold_a_file_are_named() {
    let folder = tempfile::tempdir().expect("a folder");
    let said = refused(&folder.path().join("missing/data.db"), &[]);
    assert!(said.contains("the folder") && said.contains("--data"), "{said}");
    assert!(refused(folder.path(), &[]).contains("it is a folder"));
    // Nobody, not even root, makes files here.
    let said = refused(Path::new("/proc/ratiomet.db"), &[]);
    assert!(said.contains("cannot be opened"), "{said}");
}

#[tokio::test]
async fn a_port_in_use_is_named() {
    let server = Server::empty();
    let address = server.url().trim_start_matches("http://");
    let folder = tempfile::tempdir().expect("a folder");
    let output = program()
        .args(["serve", "--listen", address, "--data"])
        .arg(folder.path().join("a.db"))
        .output()
        .expect("it runs");
    let said = String::from_utf8_lossy(&output.stderr).into_owned();
    assert_eq!(output.status.code(), Some(1));
    assert!(said.contains(address) && said.contains("another program uses this port"), "{said}");
}
