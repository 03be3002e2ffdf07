//! What an office does with its file: copies, checks, restores; and how the program is installed.

use std::path::Path;
use std::process::{Command, Output};

use serde_json::json;

use crate::support::{Server, program};

fn run(words: &[&str], path: &Path) -> Output {
    program().args(words).arg(path).output().expect("the program runs")
}

fn said(output: &Output) -> String {
    String::from_utf8_lossy(&[&output.stdout[..], &output.stderr[..]].concat()).into_owned()
}

/// A demo with a still, and the path of its file.
async fn house(folder: &Path) -> std::path::PathBuf {
    let data = folder.join("house.db");
    let server = Server::start_on("demo", &data, &[]);
    let still = include_bytes!("../../../../docs/screenshots/ways.png");
    let request = http::Request::post(format!("{}/api/v1/projects/1/sources/1/still?file=a.png", server.url()))
        .header("if-match", "\"1\"");
    let answer = server.try_send_bytes(request, still.to_vec().into()).await.expect("an answer");
    assert!(answer.status.is_success(), "{answer:?}");
    data
}

#[tokio::test]
async fn a_copy_is_checked_and_restored_and_nothing_is_overwritten() {
    let folder = tempfile::tempdir().expect("a folder");
    let data = house(folder.path()).await;
    let checked = run(&["check"], &data);
    assert!(checked.status.success(), "{}", said(&checked));
    assert!(said(&checked).contains("1 project, ") && said(&checked).contains("2 stills"), "{}", said(&checked));
    let copy = folder.path().join("copy.db");
    let backed = program().arg("backup").arg("--data").arg(&data).arg("--out").arg(&copy).output().expect("it runs");
    assert!(backed.status.success(), "{}", said(&backed));

    let restore = |to: &Path| program().arg("restore").arg(&copy).arg("--data").arg(to).output().expect("it runs");
    let before = std::fs::read(&data).expect("a file");
    let over = restore(&data);
    assert!(!over.status.success() && said(&over).contains("nothing is overwritten"), "{}", said(&over));
    assert!(std::fs::read(&data).expect("a file") == before, "it was changed");
    let back = folder.path().join("back.db");
    assert!(restore(&back).status.success());
    assert!(run(&["check"], &back).status.success());
    let server = Server::start_on("serve", &back, &[]);
    let source = server.get("/projects/1/sources/1").await.ok();
    assert!(source["values"]["still"].to_string().contains("a.png"), "{source}");
    assert_eq!(server.get("/projects/1/sources/1/picture").await.status, 200);
    drop(server);

    // A still that has another content, or is gone, is found; such a copy is not restored.
    let stills = folder.path().join("copy.db.stills");
    let still = std::fs::read_dir(&stills).expect("a folder").next().expect("one").expect("an entry").path();
    std::fs::write(&still, b"something else").expect("written");
    let checked = run(&["check"], &copy);
    assert_eq!(checked.status.code(), Some(1));
    assert!(
        said(&checked).contains("has another content") && said(&checked).contains("1 thing is wrong"),
        "{}",
        said(&checked)
    );
    std::fs::remove_file(&still).expect("removed");
    assert!(said(&run(&["check"], &copy)).contains("is no longer in"));
    let refused = restore(&folder.path().join("other.db"));
    assert!(!refused.status.success() && said(&refused).contains("not sound itself"), "{}", said(&refused));
    assert!(!folder.path().join("other.db").exists());
    // What is no data file at all is told apart.
    std::fs::write(folder.path().join("text.db"), "words").expect("written");
    assert!(said(&run(&["check"], &folder.path().join("text.db"))).contains("is not a Ratiomet data file"));
}

#[tokio::test]
async fn a_server_copies_its_file_by_itself() {
    let folder = tempfile::tempdir().expect("a folder");
    let data = house(folder.path()).await;
    let server = Server::start_on("serve", &data, &["--copies", "2"]);
    let edit = json!({ "edit": "set_sources", "sources": [2], "set": { "note": "Copied" } });
    server.post("/projects/1/edits", &edit).await.ok();
    let mut copies = json!([]);
    for _ in 0..150 {
        copies = server.get("/about").await.ok()["copies"].clone();
        if copies != json!([]) {
            break;
        }
        tokio::time::sleep(std::time::Duration::from_millis(200)).await;
    }
    let copy = copies[0].as_str().expect("a copy within half a minute").to_owned();
    let checked = run(&["check"], Path::new(&copy));
    assert!(checked.status.success() && said(&checked).contains("2 stills"), "{}", said(&checked));
}

/// Built and installed into a folder of its own, as `dpkg` does it.
#[cfg(target_os = "linux")]
#[test]
fn a_package_is_made_and_installed() {
    let folder = tempfile::tempdir().expect("a folder");
    let script = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../packaging/deb.sh");
    let made = Command::new(script)
        .env("COMPRESSION", "none")
        .arg(env!("CARGO_BIN_EXE_ratiomet"))
        .arg(folder.path())
        .output()
        .expect("it runs");
    assert!(made.status.success(), "{}", said(&made));
    let package = String::from_utf8_lossy(&made.stdout).trim().to_owned();
    let root = folder.path().join("root");
    for place in ["var/lib/dpkg/info", "var/lib/dpkg/updates"] {
        std::fs::create_dir_all(root.join(place)).expect("a folder");
    }
    std::fs::write(root.join("var/lib/dpkg/status"), "").expect("written");
    let mut to = std::ffi::OsString::from("--root=");
    to.push(&root);
    let installed = Command::new("dpkg")
        .arg(to)
        .args(["--force-not-root", "--force-depends", "--force-script-chrootless", "--install", &package])
        .output()
        .expect("dpkg is installed");
    assert!(installed.status.success(), "{}", said(&installed));
    let version = Command::new(root.join("usr/bin/ratiomet")).arg("--version").output().expect("it runs");
    assert!(said(&version).starts_with(concat!("ratiomet ", env!("CARGO_PKG_VERSION"), " (")), "{}", said(&version));
    for file in [
        "usr/share/man/man1/ratiomet.1.gz",
        "usr/share/man/man1/ratiomet-people-add.1.gz",
        "usr/share/bash-completion/completions/ratiomet",
        "usr/share/zsh/vendor-completions/_ratiomet",
        "usr/share/fish/vendor_completions.d/ratiomet.fish",
        "usr/lib/systemd/system/ratiomet.service",
    ] {
        let length = std::fs::metadata(root.join(file)).map(|about| about.len());
        assert!(length.is_ok_and(|length| length > 100), "{file}");
    }
    let status = std::fs::read_to_string(root.join("var/lib/dpkg/status")).expect("a status");
    assert!(status.contains("Package: ratiomet") && status.contains("Status: install ok installed"), "{status}");
}
