//! Stills of sources and what is shown of them; conversions carried out on stills, and borders, by the command line.

use std::path::Path;
use std::process::{Command, Output};

use http::Method;
use serde_json::{Value, json};

use crate::support::{Browser, Server, program};

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
        (
            r#"{"kind":"scale","from":[1,1],"to":[2,2]}"#,
            "the request is refused: /kind: Must be conversion, sphere_view, sphere_level or sphere_place.",
        ),
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

/// What a JPEG or PNG picture of an answer is, by its header.
async fn looks(server: &Server, path: &str) -> (String, String) {
    let answer = server.get(path).await;
    assert!(answer.status.is_success(), "{answer:?}");
    let kept = answer.headers["cache-control"].to_str().expect("text").to_owned();
    (answer.kind, kept)
}

#[tokio::test]
async fn a_still_is_kept_shown_carried_out_and_taken_back() {
    let server = Server::empty();
    let project = server.post("/projects", &json!({ "name": "Stills" })).await.ok()["id"].to_string();
    let base = format!("/projects/{project}");
    let tape = json!({
        "name": "Tape",
        "geometry": { "raster": [720, 576], "active": { "left": 8, "top": 4, "right": 10, "bottom": 6 } },
    });
    let source = server.post(&format!("{base}/sources"), &tape).await.ok();
    assert_eq!(source["picture"], Value::Null);
    let frame = server
        .post(&format!("{base}/frames"), &json!({ "name": "HD", "geometry": { "raster": [320, 180] } }))
        .await
        .ok();
    let source = format!("{base}/sources/{}", source["id"]);
    let outcome =
        format!("{base}/conversions/{}/{}/outcome", source.rsplit('/').next().expect("a number"), frame["id"]);
    let refused = server.get(&format!("{source}/picture")).await.refusal(422);
    assert_eq!(refused["detail"], "the source has no still.");
    let folder = tempfile::tempdir().expect("a folder");
    let bytes = std::fs::read(self::tape(folder.path())).expect("a picture");
    let send = |bytes: Vec<u8>, name: &str| {
        let request = server.request(Method::POST, &format!("{source}/still?file={name}"));
        let caller = &*server;
        async move { caller.try_send_bytes(request, bytes.into()).await.expect("an answer") }
    };
    let shown = send(bytes.clone(), "tape.png").await.ok();
    assert_eq!(shown["values"]["still"]["file"], "tape.png");
    assert_eq!(shown["values"]["still"]["raster"], json!([720, 576]));
    let key = shown["picture"].as_str().expect("a key").to_owned();
    let lasting = looks(&server, &format!("{source}/picture?side=320&key={key}")).await;
    assert_eq!(lasting, ("image/jpeg".to_owned(), "private, max-age=31536000, immutable".to_owned()));
    let passing = looks(&server, &format!("{source}/picture?side=320&of=stored&key=old")).await;
    assert_eq!(passing.1, "no-store", "what another key asks for is not kept");
    assert_eq!(looks(&server, &format!("{outcome}?filter=area&linear=srgb")).await.0, "image/png");
    // The same file again changes nothing; what is no picture is refused.
    let again = send(bytes, "tape.png").await.ok();
    assert_eq!((&again["version"], &again["picture"]), (&shown["version"], &shown["picture"]));
    let refused = send(b"plain words".to_vec(), "words.txt").await.refusal(422);
    assert!(
        refused["detail"].as_str().is_some_and(|why| why.starts_with("this is no picture that is read")),
        "{refused}"
    );
    server.get(&format!("{source}/picture?side=9")).await.refusal(422);
    server.get(&format!("{base}/sources/999/picture")).await.refusal(404);
    // A step like any other: undo takes it away, and redo has it again.
    let steps = server.get(&format!("{base}/history/head")).await.ok();
    let go = |to: &Value| json!({ "from": steps["at"], "to": to });
    server.post(&format!("{base}/history/go"), &go(&steps["undo"]["to"])).await.ok();
    server.get(&format!("{source}/picture?key={key}")).await.refusal(422);
    // A scene is drawn at once, another picture for another geometry.
    let mut values = tape.clone();
    values["still"] = json!({ "scene": "ferry" });
    let version = server.get(&source).await.ok()["version"].as_i64().expect("a version");
    let scene = server.put(&source, version, &values).await.ok();
    let ferry = scene["picture"].as_str().expect("a key").to_owned();
    assert_eq!(looks(&server, &format!("{source}/picture?side=64&key={ferry}")).await.0, "image/jpeg");
    values["geometry"]["rotation"] = json!(90);
    let turned = server.put(&source, version + 1, &values).await.ok();
    assert_ne!(turned["picture"], scene["picture"]);
    values["still"] = json!({ "scene": "ferry", "content": "0".repeat(64), "raster": [1, 1] });
    let refused = server.put(&source, version + 2, &values).await.refusal(422);
    assert!(refused["detail"].as_str().is_some_and(|why| why.contains("a scene by itself")), "{refused}");
}

#[tokio::test]
async fn drawings_show_pictures_and_a_key_takes_them_away() {
    let server = Server::demo();
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/board").await;
    browser.until("document.querySelectorAll('.cell image').length > 6").await;
    browser.keys("i").await;
    browser.until("document.querySelectorAll('.cell image').length === 0").await;
    browser.keys("i").await;
    browser.until("document.querySelectorAll('.cell image').length > 6").await;
    browser.open("/projects/1/board/5/18").await;
    // Upright with what is cut beside it, the frame, and the framings side by side.
    browser.until("document.querySelectorAll('.drawing image').length >= 5").await;
    browser.keys("o").await;
    browser
        .until(
            "[...document.querySelectorAll('image')].some((image) => image.getAttribute('href').includes('of=stored'))",
        )
        .await;
    browser.open("/projects/1/footage?source=5").await;
    let folder = tempfile::tempdir().expect("a folder");
    browser.see("input[aria-label='Choose a still']").await.send_keys(&tape(folder.path())).await.expect("chosen");
    browser.says("tape.png").await;
    browser.field("test scene").await.select_by_value("").await.expect("no picture");
    browser.until("document.querySelectorAll('.drawing image').length === 0").await;
    // A still that is gone from beside the data file is missed by name, with what to do.
    let source = "/projects/1/sources/5";
    let mut known = server.get(source).await.ok();
    known["values"]["still"] = json!({ "content": "ab".repeat(32), "file": "gone.png", "raster": [720, 576] });
    server.put(source, known["version"].as_i64().expect("a version"), &known["values"]).await.ok();
    browser.open("/projects/1/footage?source=5").await;
    browser.says("is no longer in").await;
    browser.console_is_empty().await;
    browser.close().await;
}

#[tokio::test]
async fn borders_are_proposed_and_taken_as_insets() {
    let server = Server::empty();
    let project = server.post("/projects", &json!({ "name": "Borders" })).await.ok()["id"].to_string();
    let base = format!("/projects/{project}");
    let mut sources = Vec::new();
    for (name, scene) in [("Tape 1", Value::Null), ("Tape 2", json!({ "scene": "ferry" }))] {
        let values = json!({ "name": name, "geometry": { "raster": [720, 576] }, "still": scene });
        sources.push(server.post(&format!("{base}/sources"), &values).await.ok()["id"].clone());
    }
    let tape_1 = format!("{base}/sources/{}", sources[0]);
    let folder = tempfile::tempdir().expect("a folder");
    let browser = Browser::at(server.url()).await;
    browser.open(&format!("{base}/footage?source={}", sources[0])).await;
    browser.see("input[aria-label='Choose a still']").await.send_keys(&tape(folder.path())).await.expect("chosen");
    browser.says("tape.png").await;
    browser.press("Find black borders").await;
    browser.says("1 source with other borders than their insets").await;
    browser.says("8/4/10/6").await;
    // Each edge is shown enlarged.
    browser.until("document.querySelectorAll('.edges svg image').length === 4").await;
    browser.press("Set insets of 1 source").await;
    browser.until("!document.body.innerText.includes('Set insets of')").await;
    let insets = json!({ "left": 8, "top": 4, "right": 10, "bottom": 6 });
    assert_eq!(server.get(&tape_1).await.ok()["values"]["geometry"]["active"], insets);
    // A picture that has none says so; many are measured one after the other.
    browser.keys("\u{e00c}").await;
    browser.open(&format!("{base}/footage")).await;
    browser.press("Select all").await;
    browser.press("Find black borders").await;
    browser.says("The insets match the borders.").await;
    let found = server.get(&format!("{tape_1}/borders")).await.ok();
    assert_eq!(found["insets"], insets);
    assert!(found["ratio"].as_f64().is_some_and(|ratio| (ratio - 702.0 / 566.0).abs() < 1e-9), "{found}");
    browser.console_is_empty().await;
    browser.close().await;
}

/// What lists and the board show is made while a still that has come is at hand: its file is not read again for it.
#[tokio::test]
async fn the_small_picture_is_there_as_soon_as_the_still_is() {
    let folder = tempfile::tempdir().expect("a folder");
    let server = Server::start_on("serve", &folder.path().join("house.db"), &[]);
    server.post("/projects", &json!({ "name": "One", "method": "fill" })).await.ok();
    let tape = std::fs::read(tape(folder.path())).expect("a picture");
    let source = json!({ "name": "Tape", "geometry": { "raster": [720, 576] } });
    let source = server.post("/projects/1/sources", &source).await.ok()["id"].to_string();
    let request = server.request(Method::POST, &format!("/projects/1/sources/{source}/still?file=tape.png"));
    server.try_send_bytes(request, tape.into()).await.expect("an answer").ok();
    std::fs::remove_dir_all(folder.path().join("house.db.stills")).expect("its stills");
    let picture = |side: u32| format!("/projects/1/sources/{source}/picture?side={side}");
    assert_eq!(looks(&server, &picture(320)).await.0, "image/jpeg");
    let refused = server.get(&picture(640)).await.refusal(422);
    assert!(refused["detail"].as_str().is_some_and(|why| why.contains("is no longer in")), "{refused}");
}
