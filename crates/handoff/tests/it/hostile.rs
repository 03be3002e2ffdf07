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
    let stand_in =
        "#!/bin/sh\nfor each in \"$@\"; do printf '%s\\n' \"$each\"; done >> \"$LOG\"\necho end >> \"$LOG\"\n";
    fs::write(at("bin/ffmpeg"), stand_in).expect("written");
    Command::new("chmod").arg("+x").arg(at("bin/ffmpeg")).status().expect("chmod");
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
    assert_eq!(log.matches("\nend\n").count(), there * package.frames.len());
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

/// What a filter says of a file, by its name.
fn measured(file: &std::path::Path, filter: &str, key: &str) -> Vec<f64> {
    let graph = format!("movie={},{filter}", file.file_name().and_then(|name| name.to_str()).expect("a name"));
    let entries = format!("frame_tags={key}");
    let output = Command::new("ffprobe")
        .args(["-v", "error", "-f", "lavfi", "-i", &graph, "-show_entries", &entries, "-of", "csv=p=0"])
        .current_dir(file.parent().expect("a folder"))
        .output()
        .expect("ffprobe is installed with ffmpeg");
    let text = String::from_utf8_lossy(&output.stdout).into_owned();
    text.lines().filter_map(|line| line.trim_matches(',').parse().ok()).collect()
}

// Carried out for real: lines of two moments become one picture, and white gets the code value that ITU-R BT.709
// gives it in narrow range (235), or keeps its own and says so.
#[test]
fn the_script_makes_pictures_of_fields_and_converts_the_range() {
    let folder = tempfile::tempdir().expect("a folder");
    let at = |name: &str| folder.path().join(name);
    fs::create_dir(at("footage")).expect("a folder");
    let source = |id: i32, name: &str, more: &str| {
        let mut values = serde_json::json!({ "name": name, "geometry": { "raster": [320, 240] }, "rate": "25" });
        let more: serde_json::Value = serde_json::from_str(more).expect("JSON");
        values.as_object_mut().expect("an object").extend(more.as_object().expect("an object").clone());
        serde_json::json!({ "id": id, "values": values })
    };
    let project = serde_json::json!({
        "format": "ratiomet project", "format_version": 1, "project": { "name": "Signals" },
        "sources": [
            source(1, "combed", r#"{"scan":"interlaced","deinterlace":true}"#),
            source(2, "converted", r#"{"signal_range":"full","range_plan":"convert"}"#),
            source(3, "declared", r#"{"signal_range":"full","range_plan":"declare"}"#),
        ],
        "frames": [{ "id": 1, "values": { "name": "Out", "geometry": { "raster": [320, 240] }, "rate": "25" } }],
    });
    let make = |name: &str, chart: &str| {
        let status = Command::new("ffmpeg")
            .args(["-v", "error", "-f", "lavfi", "-i", chart, "-frames:v", "4", "-c:v", "ffv1"])
            .arg(at("footage").join(format!("{name}.mkv")))
            .status()
            .expect("ffmpeg is installed: apt-get install ffmpeg");
        assert!(status.success());
    };
    // One field white and the other black, and the other way round in the next frame.
    make("combed", "color=black:size=320x240:rate=25,format=yuv420p,geq=lum='16+219*mod(Y+N,2)':cb=128:cr=128");
    let white = "color=black:size=320x240:rate=25,format=yuvj420p,geq=lum=255:cb=128:cr=128";
    make("converted", white);
    make("declared", white);
    fs::write(at("convert.sh"), written(&package(&project), Format::Recipes, "recipes/convert.sh")).expect("written");
    let output = Command::new("sh")
        .args(["convert.sh", "footage", "done"])
        .current_dir(folder.path())
        .output()
        .expect("a shell");
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    let luma = |name: &str, key: &str| {
        let all =
            measured(&at("done").join(format!("{name}_Out.mov")), "signalstats", &format!("lavfi.signalstats.{key}"));
        assert!(!all.is_empty(), "{name} was not made");
        all
    };
    for (least, most) in luma("combed", "YMIN").into_iter().zip(luma("combed", "YMAX")) {
        assert!(most - least < 12.0, "lines of two moments: {least} to {most}");
    }
    let near = |all: Vec<f64>, value: f64| all.iter().all(|luma| (luma - value).abs() <= 2.0);
    assert!(near(luma("converted", "YAVG"), 235.0), "{:?}", luma("converted", "YAVG"));
    let range = |name: &str| {
        let probe = Command::new("ffprobe")
            .args(["-v", "error", "-select_streams", "v:0", "-show_entries", "stream=color_range", "-of", "csv=p=0"])
            .arg(at("done").join(format!("{name}_Out.mov")))
            .output()
            .expect("ffprobe is installed with ffmpeg");
        String::from_utf8_lossy(&probe.stdout).trim().to_owned()
    };
    // Narrow range is what a file means that says nothing (common practice).
    assert!(["tv", "unknown"].contains(&range("converted").as_str()), "{}", range("converted"));
    assert_eq!(range("declared"), "pc");
    assert!(near(luma("declared", "YAVG"), 255.0), "{:?}", luma("declared", "YAVG"));
}

// Carried out for real: ffprobe tells raster and sample aspect of what comes out.
#[test]
fn the_script_gives_the_planned_frames() {
    let folder = tempfile::tempdir().expect("a folder");
    let at = |name: &str| folder.path().join(name);
    fs::create_dir(at("footage")).expect("a folder");
    let package = package(&small());
    for (name, size) in [("A014 Furnace", "960x720"), ("T1987 Tape", "720x576"), ("P007 Phone", "640x360")] {
        let chart = format!("testsrc2=size={size}:rate=25");
        let status = Command::new("ffmpeg")
            .args(["-v", "error", "-f", "lavfi", "-i", &chart, "-frames:v", "2", "-c:v", "ffv1"])
            .arg(at("footage").join(format!("{name}.mkv")))
            .status()
            .expect("ffmpeg is installed: apt-get install ffmpeg");
        assert!(status.success());
    }
    fs::write(at("convert.sh"), written(&package, Format::Recipes, "recipes/convert.sh")).expect("written");
    let run = || {
        Command::new("sh").args(["convert.sh", "footage", "done"]).current_dir(folder.path()).output().expect("a shell")
    };
    let output = run();
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    for (source, _) in [("A014_Furnace", 0), ("T1987_Tape", 1), ("P007_Phone", 2)] {
        for (frame, size) in [("Scope", "1024,428,1:1"), ("Masked", "640,360,1:1"), ("Upright", "360,640,1:1")] {
            let file = at("done").join(format!("{source}_{frame}.mov"));
            let probe = Command::new("ffprobe")
                .args([
                    "-v",
                    "error",
                    "-select_streams",
                    "v:0",
                    "-show_entries",
                    "stream=width,height,sample_aspect_ratio",
                    "-of",
                    "csv=p=0",
                ])
                .arg(&file)
                .output()
                .expect("ffprobe is installed with ffmpeg");
            assert_eq!(String::from_utf8_lossy(&probe.stdout).trim(), size, "{}", file.display());
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
