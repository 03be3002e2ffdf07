//! Names with quotes, dollar signs, tags and formulas: they stay names, in every format.

use std::fs;
use std::process::Command;

use proptest::prelude::*;
use ratiomet_handoff::{Format, archive, names};
use serde_json::json;

use crate::packages::{all, package, small, written};

const NAMES: [&str; 8] = [
    "$(touch pwned)",
    "`touch pwned`",
    "'; touch pwned; '",
    "-rf \"x\" \\",
    "=1+2+cmd|' /C calc'!A1",
    "<script>alert(1)</script>",
    "../../etc & co || touch pwned",
    "!! ~ * ? [a] {b} #c %d",
];

fn hostile() -> serde_json::Value {
    let mut project = small();
    project["project"]["name"] = json!("<b>\"'$(x)");
    project["sources"] = NAMES
        .iter()
        .zip(1..)
        .map(|(name, id)| json!({ "id": id, "values": { "name": name, "geometry": { "raster": [64, 48] } } }))
        .collect();
    for (at, name) in ["A$(touch pwned)", "-B'\"", "<i>&amp;"].iter().enumerate() {
        project["frames"][at]["values"]["name"] = json!(name);
    }
    project["conversions"] = json!([]);
    project
}

// A shell runs the script with a stand-in for ffmpeg that writes down what it is given.
#[test]
fn a_shell_runs_nothing_but_what_is_meant() {
    let folder = tempfile::tempdir().expect("a folder");
    let at = |name: &str| folder.path().join(name);
    for name in ["bin", "in", "out"] {
        fs::create_dir(at(name)).expect("a folder");
    }
    // It knows how to forget a turn, and writes what it is asked for; every file is a picture of the raster.
    let stand_in = "#!/bin/sh\ncase $* in *'-h full') echo ' -display_rotation'; exit ;; esac\n\
        for each in \"$@\"; do printf '%s\\n' \"$each\"; done >> \"$LOG\"\necho end >> \"$LOG\"\n\
        for each in \"$@\"; do case $each in *.part.mov) : > \"$each\" ;; esac; done\n";
    fs::write(at("bin/ffmpeg"), stand_in).expect("written");
    fs::write(at("bin/ffprobe"), "#!/bin/sh\necho 64x48\n").expect("written");
    Command::new("chmod").arg("+x").args([at("bin/ffmpeg"), at("bin/ffprobe")]).status().expect("chmod");
    for name in NAMES.iter().filter(|name| !name.contains('/')) {
        fs::write(at("in").join(format!("{name}.mov")), "x").expect("a file");
    }
    let package = package(&hostile());
    fs::write(at("convert.sh"), written(&package, Format::Recipes, "recipes/convert.sh")).expect("written");
    let path = format!("{}:{}", at("bin").display(), std::env::var("PATH").unwrap_or_default());
    let status = Command::new("sh")
        .args(["convert.sh", "in", "out"])
        .current_dir(folder.path())
        .env("PATH", path)
        .env("LOG", at("log"))
        .status()
        .expect("a shell");
    // Names with a slash have no file, which is said by the exit status.
    assert_eq!(status.code(), Some(1));
    let log = fs::read_to_string(at("log")).expect("what ffmpeg was given");
    let there = NAMES.iter().filter(|name| !name.contains('/')).count();
    // Each is read once for all that becomes of it.
    assert_eq!(log.matches("\nend\n").count(), there);
    assert_eq!(fs::read_dir(at("out")).expect("a folder").count(), there * package.frames.len());
    for name in NAMES.iter().filter(|name| !name.contains('/')) {
        assert!(log.contains(&format!("\n./in/{name}.mov\n")), "{name} did not arrive whole: {log}");
    }
    let left: Vec<_> =
        fs::read_dir(folder.path()).expect("a folder").map(|entry| entry.expect("an entry").file_name()).collect();
    assert!(left.iter().all(|name| name != "pwned"), "{left:?}");
    assert!(!at("in/pwned").exists() && !at("out/pwned").exists());
}

#[test]
fn nothing_that_is_written_is_active() {
    let package = package(&hostile());
    for file in archive::files(&package, &all(), &|| true).expect("files") {
        let safe = |part: &str| part.bytes().all(|byte| byte.is_ascii_alphanumeric() || b"._-".contains(&byte));
        assert!(file.path.split('/').all(|part| safe(part) && !part.starts_with(['.', '-'])), "{}", file.path);
        let text = String::from_utf8_lossy(&file.bytes);
        if file.path.ends_with(".html") || file.path.ends_with(".svg") {
            for active in ["<script", "<b>", "<i>", "onload", "javascript:", "<foreignObject", "<!ENTITY", "href"] {
                assert!(!text.contains(active), "{active} in {}", file.path);
            }
        }
        if file.path.ends_with(".csv") || file.path.ends_with(".tsv") {
            for line in text.lines() {
                for cell in line.split([',', '\t']) {
                    assert!(!cell.trim_start_matches('"').starts_with('='), "a formula in {}: {line}", file.path);
                }
            }
        }
    }
}

proptest! {
    #[test]
    fn proposed_names_are_safe_and_each_comes_once(all in prop::collection::vec(any::<String>(), 1..20)) {
        let mut given = names::Names::default();
        let made: Vec<String> = all.iter().map(|name| given.unique(name)).collect();
        for name in &made {
            prop_assert!(!name.is_empty() && name.len() <= 90);
            prop_assert!(name.bytes().all(|byte| byte.is_ascii_alphanumeric() || b"._-".contains(&byte)), "{name:?}");
            prop_assert!(!name.starts_with(['.', '-', '_']), "{name:?}");
        }
        let mut once: Vec<String> = made.iter().map(|name| name.to_ascii_lowercase()).collect();
        once.sort();
        once.dedup();
        prop_assert_eq!(once.len(), made.len());
    }
}
