//! Conversions carried out on stills, and borders, by the command line.

use std::path::Path;
use std::process::{Command, Output};

use serde_json::Value;

use crate::support::program;

/// A white picture with black edges of 8, 4, 10 and 6 pixels, drawn by ffmpeg.
fn tape(folder: &Path) -> String {
    let file = folder.join("tape.png").to_str().expect("a plain name").to_owned();
    let made = Command::new("ffmpeg")
        .args(["-v", "error", "-y", "-f", "lavfi", "-i", "color=white:size=702x566,pad=720:576:8:4:black"])
        .args(["-frames:v", "1", "-pix_fmt", "rgb24", &file])
        .status()
        .expect("ffmpeg is installed");
    assert!(made.success());
    file
}

fn ran(arguments: &[&str]) -> Output {
    program().args(arguments).output().expect("the program starts")
}

fn said(output: &Output) -> String {
    String::from_utf8(output.stderr.clone()).expect("UTF-8")
}

#[test]
fn a_conversion_is_carried_out_on_a_still() {
    let folder = tempfile::tempdir().expect("a folder");
    let tape = tape(folder.path());
    let out = folder.path().join("out.png").to_str().expect("a plain name").to_owned();
    let request = r#"{"kind":"conversion",
        "source":{"raster":[720,576],"pixel_aspect":"12:11","active":{"left":8,"top":4,"right":10,"bottom":6}},
        "delivery":{"raster":[1280,720],"picture_ratio":"2"},"framing":{"method":"fill"}}"#;
    let by_file = folder.path().join("request.json");
    std::fs::write(&by_file, request).expect("written");
    let by_file = format!("@{}", by_file.display());
    for (request, filter) in [(request, "lanczos3"), (by_file.as_str(), "area")] {
        let rendered =
            ran(&["render", "--request", request, "--in", &tape, "--out", &out, "--filter", filter, "--times"]);
        assert_eq!(rendered.status.code(), Some(0), "{}", said(&rendered));
        let times: Value = serde_json::from_str(&said(&rendered)).expect("one line of JSON");
        for stage in ["read_ms", "decode_ms", "resample_ms", "encode_ms"] {
            assert!(times[stage].as_f64().is_some_and(|time| time >= 0.0), "{times}");
        }
        // The picture is white and fills its area; 40 lines above and below stay black.
        let found = ran(&["borders", "--json", &out]);
        let found: Value = serde_json::from_slice(&found.stdout).expect("a line of JSON");
        assert_eq!(found["insets"], serde_json::json!({ "left": 0, "top": 40, "right": 0, "bottom": 40 }), "{filter}");
    }
    assert!(
        !folder
            .path()
            .read_dir()
            .expect("a folder")
            .any(|file| { file.expect("a file").file_name().to_string_lossy().ends_with(".part") })
    );
}

#[test]
fn borders_are_told_a_line_a_file() {
    let folder = tempfile::tempdir().expect("a folder");
    let tape = tape(folder.path());
    let found = ran(&["borders", "--json", &tape, "no-such-file.png", &tape]);
    assert_eq!(found.status.code(), Some(1), "one file is not there");
    let text = String::from_utf8(found.stdout).expect("UTF-8");
    let lines: Vec<Value> = text.lines().map(|line| serde_json::from_str(line).expect("JSON")).collect();
    assert_eq!(lines.len(), 3);
    assert_eq!(lines[0]["file"], tape.as_str());
    assert_eq!(lines[0]["insets"], serde_json::json!({ "left": 8, "top": 4, "right": 10, "bottom": 6 }));
    assert!(lines[0]["confidence"].as_f64().is_some_and(|sure| sure > 0.9), "{text}");
    assert!(lines[1]["error"].as_str().is_some_and(|why| why.starts_with("no-such-file.png cannot be read")), "{text}");
    let words = ran(&["borders", "--together", &tape, &tape]);
    assert!(String::from_utf8_lossy(&words.stdout).contains(": left 8, top 4, right 10, bottom 6 (1"), "{words:?}");
}

#[test]
fn what_cannot_be_carried_out_says_what_would_be_right() {
    let folder = tempfile::tempdir().expect("a folder");
    let tape = tape(folder.path());
    let out = folder.path().join("out.png").to_str().expect("a plain name").to_owned();
    let conversion = r#"{"kind":"conversion","source":{"raster":[720,576]},"delivery":{"raster":[1280,720]}}"#;
    let refused = |request: &str, still: &str, out: &str| {
        let output = ran(&["render", "--request", request, "--in", still, "--out", out]);
        assert_eq!(output.status.code(), Some(1), "{request}");
        said(&output)
    };
    for (request, why) in [
        ("{", "the request is refused: "),
        (r#"{"kind":"scale","from":[1,1],"to":[2,2]}"#, "the request is refused: /kind: Must be conversion."),
        (r#"{"kind":"conversion","source":{"raster":[720,0]},"delivery":{"raster":[1,1]}}"#, "/source/raster"),
        (
            r#"{"kind":"conversion","source":{"raster":[1920,1080]},"delivery":{"raster":[1280,720]}}"#,
            "the still is 720x576 and the source 1920x1080; it must be the same size, or a whole fraction of it",
        ),
        ("@no-such-request.json", "no-such-request.json cannot be read"),
    ] {
        let said = refused(request, &tape, &out);
        assert!(said.contains(why), "{said}");
    }
    assert!(refused(conversion, "no-such-still.png", &out).contains("no-such-still.png cannot be read"));
    assert!(refused(conversion, &tape, "out.jpg").contains("out.jpg must end in .png or .exr"));
    assert!(refused(conversion, &tape, "/no/such/folder/out.png").contains("cannot be written"));
    assert!(refused(conversion, folder.path().to_str().expect("plain"), &out).contains("is no file"));
    assert!(!Path::new(&out).exists(), "nothing is written");
    let filter = ran(&["render", "--request", conversion, "--in", &tape, "--out", &out, "--filter", "best"]);
    assert_eq!(filter.status.code(), Some(2));
    assert!(said(&filter).contains("nearest, bilinear, catmull-rom, mitchell, lanczos3, area"), "{}", said(&filter));
}
