//! The commands do what they say, and what they keep is current.

use std::collections::BTreeSet;
use std::fs::{self, File};
use std::path::Path;
use std::time::{Duration, SystemTime};

use clap::CommandFactory;

use crate::licences::{self, Package};
use crate::{Cli, root, run, setup};

#[test]
fn the_committed_list_of_packages_is_what_ships() {
    let packages = licences::packages(&root()).expect("the lock files");
    let committed = fs::read_to_string(root().join(licences::LIST)).expect("the list");
    assert!(
        licences::list(&packages).expect("JSON") == committed,
        "{} is not what the lock files name; run: cargo xtask licences",
        licences::LIST
    );
    for name in ["axum", "diesel", "react", "bootstrap"] {
        assert!(packages.iter().any(|each| each.name == name && each.licence != "not named"), "{name} ships");
    }
    // What is only built or tested with does not ship, and the project itself is no package of others.
    for name in ["fantoccini", "proptest", "criterion", "vite", "typescript", "ratiomet-core"] {
        assert!(packages.iter().all(|each| each.name != name), "{name} does not ship");
    }
}

#[test]
fn a_licence_stands_once_under_all_who_carry_it() {
    let folder = tempfile::tempdir().expect("a folder");
    let package = |name: &str, file: &str, text: &str| {
        let home = folder.path().join(name);
        fs::create_dir_all(&home).expect("a folder");
        fs::write(home.join(file), text).expect("a file");
        fs::write(home.join("README.md"), "no licence").expect("a file");
        Package { name: name.to_owned(), version: "1.0.0".to_owned(), licence: "MIT".to_owned(), folder: home }
    };
    let packages = BTreeSet::from([
        package("b", "LICENSE-MIT", "Do as you like.\r\n"),
        package("a", "license", "Do as you like.\n\n"),
        package("c", "COPYING.txt", "Name us."),
    ]);
    let texts = licences::texts(&packages);
    assert_eq!(texts.matches("Do as you like.").count(), 1);
    assert!(texts.contains("\na 1.0.0, b 1.0.0\n\nDo as you like.\n"), "{texts}");
    assert!(texts.contains("\nc 1.0.0\n\nName us.\n") && !texts.contains("no licence"), "{texts}");
}

#[test]
fn packages_are_installed_when_the_lock_file_is_newer() {
    let web = tempfile::tempdir().expect("a folder");
    let written = |file: &str, ago: u64| {
        let path = web.path().join(file);
        fs::create_dir_all(path.parent().unwrap_or(Path::new("."))).expect("a folder");
        fs::write(&path, "{}").expect("a file");
        let time = SystemTime::now() - Duration::from_secs(ago);
        File::options().write(true).open(&path).and_then(|file| file.set_modified(time)).expect("a time");
    };
    written("package-lock.json", 60);
    written("node_modules/.package-lock.json", 30);
    assert_eq!(setup::node_packages(web.path()), Ok(()), "nothing is installed anew");
    // A lock file that names nothing cannot be installed, and that is told.
    written("node_modules/.package-lock.json", 90);
    let failed = setup::node_packages(web.path()).expect_err("an empty lock file");
    assert!(failed.starts_with("npm ci"), "{failed}");
}

#[test]
fn what_fails_is_named() {
    let here = Path::new(".");
    assert_eq!(run(here, "true", &[]), Ok(()));
    assert_eq!(run(here, "false", &["now"]), Err("false now ended with exit status: 1".to_owned()));
    let missing = run(here, "no-such-program", &[]).expect_err("no program");
    assert!(missing.starts_with("no-such-program cannot be run: "), "{missing}");
}

#[test]
fn the_commands_are_sound() {
    Cli::command().debug_assert();
}

#[test]
fn the_container_has_a_node_that_builds_the_pages() {
    let read = |file: &str| fs::read_to_string(root().join(file)).expect("a file");
    let container = read("packaging/Containerfile");
    let node = container.split("/node:").nth(1).and_then(|rest| rest.split('-').next()).expect("a stage with node");
    let node: u32 = node.parse().expect("its first number");
    let lock: serde_json::Value = serde_json::from_str(&read("web/package-lock.json")).expect("JSON");
    for tool in ["vite", "@vitejs/plugin-react"] {
        let taken =
            lock["packages"][format!("node_modules/{tool}")]["engines"]["node"].as_str().expect("what it runs on");
        let takes = |range: &str| {
            let number = |text: &str| text.split('.').next().and_then(|first| first.parse::<u32>().ok());
            match (range.strip_prefix('^'), range.strip_prefix(">=")) {
                (Some(same), _) => number(same) == Some(node),
                (_, Some(least)) => number(least).is_some_and(|least| least <= node),
                _ => false,
            }
        };
        assert!(taken.split("||").any(|range| takes(range.trim())), "{tool} runs on Node {taken}, not {node}");
    }
    // What is built on this machine is not sent there.
    let ignored = read(".gitignore").replace("\n/", "\n");
    assert_eq!(ignored.trim_start_matches('/'), read(".dockerignore"));
}
