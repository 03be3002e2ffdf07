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
    // It knows how to forget a turn, and writes what it is asked for.
    let stand_in = "#!/bin/sh\ncase $* in *'-h full') echo ' -display_rotation'; exit ;; esac\n\
        for each in \"$@\"; do printf '%s\\n' \"$each\"; done >> \"$LOG\"\necho end >> \"$LOG\"\n: > \"$each\"\n";
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

/// What ffprobe says of the picture of a file.
fn probed(file: &std::path::Path, entries: &str) -> String {
    let output = Command::new("ffprobe")
        .args(["-v", "error", "-count_frames", "-select_streams", "v:0", "-show_entries", entries, "-of", "csv=p=0"])
        .arg(file)
        .output()
        .expect("ffprobe is installed with ffmpeg");
    String::from_utf8_lossy(&output.stdout).trim().to_owned()
}

// Carried out for real: 24 frames, each as light as its number, at 25 fps in milliseconds; with sound.
#[test]
fn the_script_gives_the_planned_rate_frame_by_frame() {
    let folder = tempfile::tempdir().expect("a folder");
    let at = |name: &str| folder.path().join(name);
    fs::create_dir(at("footage")).expect("a folder");
    let source = |id: i32, name: &str, playback: &str| {
        let geometry = serde_json::json!({ "raster": [320, 240] });
        serde_json::json!({ "id": id, "values": { "name": name, "geometry": geometry, "rate": "25", "playback": playback } })
    };
    let frame = |id: i32, name: &str, rate: &str| serde_json::json!({ "id": id, "values": { "name": name, "geometry": { "raster": [320, 240] }, "rate": rate } });
    let project = serde_json::json!({
        "format": "ratiomet project", "format_version": 1, "project": { "name": "Rates" },
        "sources": [source(1, "real", "real_time"), source(2, "every", "every_frame")],
        "frames": [frame(1, "Same", "25"), frame(2, "Film", "24000/1001"), frame(3, "Fast", "30"), frame(4, "Half", "12.5")],
    });
    for name in ["real", "every"] {
        let chart = "color=black:size=320x240:rate=25,format=yuv420p,geq=lum='20+8*N':cb=128:cr=128";
        let status = Command::new("ffmpeg")
            .args(["-v", "error", "-f", "lavfi", "-i", chart, "-f", "lavfi", "-i", "sine", "-t", "0.96"])
            .args(["-c:v", "ffv1", "-c:a", "pcm_s16le"])
            .arg(at("footage").join(format!("{name}.mkv")))
            .status()
            .expect("ffmpeg is installed: apt-get install ffmpeg");
        assert!(status.success());
    }
    let script = written(&package(&project), Format::Recipes, "recipes/convert.sh");
    fs::write(at("convert.sh"), &script).expect("written");
    let output = Command::new("sh")
        .args(["convert.sh", "footage", "done"])
        .current_dir(folder.path())
        .output()
        .expect("a shell");
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    assert!(output.stderr.is_empty(), "{}", String::from_utf8_lossy(&output.stderr));
    let case = |name: &str, rate: &str, [numerator, denominator]: [u32; 2], sound: bool| {
        let file = at("done").join(format!("{name}.mov"));
        assert!(
            probed(&file, "stream=avg_frame_rate").starts_with(rate),
            "{name} has {}",
            probed(&file, "stream=avg_frame_rate")
        );
        let light = measured(&file, "signalstats", "lavfi.signalstats.YAVG");
        // Frame j shows frame floor(j x from / to).
        let planned: Vec<u32> = (0_u32..).take(light.len()).map(|j| j * numerator / denominator).collect();
        let off = |(light, frame): (&f64, &u32)| (light - f64::from(20 + 8 * frame)).abs() > 2.0;
        assert!(!light.iter().zip(&planned).any(off), "{name}: {light:?}, planned {planned:?}");
        // To within one frame, all of it.
        assert!(planned.last().is_some_and(|last| (22..24).contains(last)), "{name} ends with {planned:?}");
        let output = Command::new("ffprobe")
            .args(["-v", "error", "-select_streams", "a", "-show_entries", "stream=codec_name", "-of", "csv=p=0"])
            .arg(&file)
            .output()
            .expect("ffprobe is installed with ffmpeg");
        assert_eq!(!output.stdout.is_empty(), sound, "{name}");
    };
    case("real_Same", "25/1", [1, 1], true);
    case("real_Film", "24000/1001", [25 * 1001, 24000], true);
    case("real_Fast", "30/1", [25, 30], true);
    case("real_Half", "25/2", [2, 1], true);
    case("every_Same", "25/1", [1, 1], true);
    case("every_Film", "24000/1001", [1, 1], false);
    case("every_Fast", "30/1", [1, 1], false);
    case("every_Half", "25/2", [1, 1], false);
    let script = String::from_utf8(script).expect("text");
    assert!(script.contains("# 'every_Film': 'the sound is left out: the picture runs at another speed'"), "{script}");
}

// Carried out for real: a file whose header turns the picture comes out upright, and turned no more by its header.
#[test]
fn the_script_turns_a_picture_once() {
    let folder = tempfile::tempdir().expect("a folder");
    let at = |name: &str| folder.path().join(name);
    fs::create_dir(at("footage")).expect("a folder");
    let run = |arguments: &[&str]| {
        let done = Command::new("ffmpeg").current_dir(folder.path()).args(["-v", "error"]).args(arguments).status();
        assert!(done.expect("ffmpeg is installed: apt-get install ffmpeg").success());
    };
    // The upper half as it is stored is white; turned clockwise by 90 degrees it is the right half.
    let chart = "color=black:size=320x240:rate=25,format=yuv420p,geq=lum='if(lt(Y,120),235,16)':cb=128:cr=128";
    run(&["-f", "lavfi", "-i", chart, "-frames:v", "3", "-c:v", "libx264", "plain.mp4"]);
    let help = Command::new("ffmpeg").args(["-hide_banner", "-h", "full"]).output().expect("ffmpeg");
    if String::from_utf8_lossy(&help.stdout).contains("-display_rotation") {
        run(&["-display_rotation", "-90", "-i", "plain.mp4", "-c", "copy", "footage/phone.mp4"]);
    } else {
        run(&["-i", "plain.mp4", "-c", "copy", "-metadata:s:v:0", "rotate=90", "footage/phone.mp4"]);
    }
    assert!(
        probed(&at("footage/phone.mp4"), "stream_side_data=rotation").contains("90"),
        "the header does not turn it"
    );
    let geometry = serde_json::json!({ "raster": [320, 240], "rotation": 90 });
    let project = serde_json::json!({
        "format": "ratiomet project", "format_version": 1, "project": { "name": "Turns", "method": "fill" },
        "sources": [{ "id": 1, "values": { "name": "phone", "geometry": geometry, "rate": "25" } }],
        "frames": [{ "id": 1, "values": { "name": "Up", "geometry": { "raster": [240, 320] }, "rate": "25" } }],
    });
    fs::write(at("convert.sh"), written(&package(&project), Format::Recipes, "recipes/convert.sh")).expect("written");
    let again = || {
        let shell = Command::new("sh").args(["convert.sh", "footage", "done"]).current_dir(folder.path()).output();
        let output = shell.expect("a shell");
        assert!(output.status.success() && output.stderr.is_empty(), "{}", String::from_utf8_lossy(&output.stderr));
        String::from_utf8_lossy(&output.stdout).into_owned()
    };
    again();
    let made = at("done").join("phone_Up.mov");
    assert_eq!(probed(&made, "stream=width,height"), "240,320");
    assert_eq!(probed(&made, "stream_side_data=rotation"), "", "a player turns it once more");
    let half = |x: u32| measured(&made, &format!("crop=100:300:{x}:10,signalstats"), "lavfi.signalstats.YAVG");
    assert!(half(10).iter().all(|light| *light < 20.0) && half(130).iter().all(|light| *light > 230.0));
    assert_eq!(fs::read_dir(at("done")).expect("a folder").count(), 1, "something is left over");
    // What is there already stays.
    let before = fs::metadata(&made).and_then(|made| made.modified()).expect("made");
    assert!(again().contains("phone_Up is there already"));
    assert_eq!(fs::metadata(&made).and_then(|made| made.modified()).expect("made"), before);
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
