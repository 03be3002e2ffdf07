//! Spheres from end to end: carried out by the command line, levelled and looked out of on the screen, planned into flat
//! frames, and handed over as recipes that ffmpeg carries out.

use std::path::Path;
use std::process::{Command, Output};

use fantoccini::actions::{InputSource, MOUSE_BUTTON_LEFT, MouseActions, PointerAction};
use http::Method;
use serde_json::{Value, json};

use crate::support::{Browser, Server, comes, comes_to, program};

/// A smooth sphere of 720x360, drawn by ffmpeg: red grows to the right, green downwards, blue waves.
fn sphere(folder: &Path) -> String {
    let file = folder.join("sphere.png").to_str().expect("a plain name").to_owned();
    let picture = "nullsrc=s=720x360,format=gbrp,geq=r='127.5+110*sin(2*PI*X/720)*sin(PI*Y/360)':\
                   g='127.5+110*cos(PI*Y/360)':b='127.5+110*cos(4*PI*X/720)*sin(PI*Y/360)'";
    ffmpeg(folder, &["-f", "lavfi", "-i", picture, "-frames:v", "1", &file]);
    file
}

fn ffmpeg(folder: &Path, arguments: &[&str]) -> String {
    let output = Command::new("ffmpeg")
        .args(["-hide_banner", "-nostdin", "-y"])
        .args(arguments)
        .current_dir(folder)
        .output()
        .expect("ffmpeg is installed");
    let said = String::from_utf8_lossy(&output.stderr).into_owned();
    assert!(output.status.success(), "{said}");
    said
}

/// How alike two pictures are, in decibels, as ffmpeg measures it.
fn decibels(folder: &Path, one: &str, other: &str) -> f64 {
    let both = "[0]format=gbrp[a];[1]format=gbrp[b];[a][b]psnr";
    let said = ffmpeg(folder, &["-i", one, "-i", other, "-lavfi", both, "-f", "null", "-"]);
    let (_, after) = said.split_once("average:").expect("a measurement");
    let word = after.split_whitespace().next().expect("a number");
    if word == "inf" { f64::INFINITY } else { word.parse().expect("a number") }
}

fn ran(folder: &Path, arguments: &[&str]) -> Output {
    program().args(arguments).current_dir(folder).output().expect("the program starts")
}

fn said(output: &Output) -> String {
    String::from_utf8_lossy(&output.stderr).into_owned()
}

#[test]
fn the_sphere_kinds_are_carried_out_by_the_command_line() {
    let folder = tempfile::tempdir().expect("a folder");
    let folder = folder.path();
    sphere(folder);
    let render = |request: &str, more: &[&str], out: &str| {
        let mut arguments = vec!["render", "--request", request, "--out", out, "--filter", "catmull-rom"];
        arguments.extend(more);
        ran(folder, &arguments)
    };
    let view = r#"{"kind":"sphere_view","eye":[1440,720],"view":[320,180],"fov":80,"yaw":150,"pitch":-20,"roll":8}"#;
    let made = render(view, &["--in", "sphere.png", "--times"], "view.png");
    assert!(made.status.success(), "{}", said(&made));
    let times: Value = serde_json::from_str(&said(&made)).expect("one line of JSON");
    assert!(times["resample_ms"].as_f64().is_some_and(|time| time > 0.0), "{times}");
    let high = 2.0 * (40.0_f64.to_radians().tan() * 180.0 / 320.0).atan().to_degrees();
    let filter =
        format!("format=gbrp,v360=e:flat:interp=cubic:w=320:h=180:h_fov=80:v_fov={high}:yaw=150:pitch=-20:roll=8");
    ffmpeg(folder, &["-i", "sphere.png", "-vf", &filter, "theirs.png"]);
    assert!(decibels(folder, "view.png", "theirs.png") > 40.0);

    // Levelled by two marks; what the answer of the same question says, carried out by ffmpeg, is the same picture.
    let level = r#"{"kind":"sphere_level","horizon":[["0","10"],["90","-4"]]}"#;
    let made = render(level, &["--in", "sphere.png"], "level.png");
    assert!(made.status.success(), "{}", said(&made));
    ffmpeg(folder, &["-i", "sphere.png", "-vf", &format!("format=gbrp,{}", turn_of(level)), "theirs.png"]);
    assert!(decibels(folder, "level.png", "theirs.png") > 40.0);

    // A caption over the seam: white stands on both sides of it.
    ffmpeg(folder, &["-f", "lavfi", "-i", "color=white:s=64x32", "-frames:v", "1", "caption.png"]);
    let place =
        r#"{"kind":"sphere_place","eye":[720,360],"picture":[64,32],"longitude":180,"latitude":0,"width_degrees":40}"#;
    let made = render(place, &["--in", "caption.png", "--onto", "sphere.png"], "placed.png");
    assert!(made.status.success(), "{}", said(&made));
    for x in [4, 712] {
        let crop = format!("crop=4:8:{x}:176,scale=1:1");
        let pixel = ffmpeg_pixel(folder, "placed.png", &crop);
        assert!(pixel.iter().all(|sample| *sample >= 254), "{x}: {pixel:?}");
    }

    for (request, more, why) in [
        (
            place,
            vec!["--in", "caption.png"],
            "sphere_place needs the sphere that the picture is put onto: --onto SPHERE",
        ),
        (view, vec!["--in", "sphere.png", "--onto", "sphere.png"], "--onto goes with sphere_place alone"),
        (
            view,
            vec!["--in", "caption.png"],
            "the still is 64x32 and the eye of the request 1440x720; it must be the same size, or a whole fraction of it",
        ),
        (
            r#"{"kind":"sphere_level","horizon":[["0","10"],["180","-10"]]}"#,
            vec!["--in", "sphere.png"],
            "the request is refused",
        ),
    ] {
        let refused = render(request, &more, "refused.png");
        assert_eq!(refused.status.code(), Some(1), "{request}");
        assert!(said(&refused).contains(why), "{}", said(&refused));
    }
    assert!(!folder.join("refused.png").exists());
}

/// The turn that a question of levelling answers with, as a filter.
fn turn_of(request: &str) -> String {
    let answer = &crate::recipes::calc(&[serde_json::from_str(request).expect("JSON")])[0];
    let angle = |name: &str| answer[name].as_f64().expect("an angle");
    format!("v360=e:e:interp=cubic:yaw={}:pitch={}:roll={}", angle("yaw"), angle("pitch"), angle("roll"))
}

fn ffmpeg_pixel(folder: &Path, file: &str, filter: &str) -> Vec<u8> {
    let output = Command::new("ffmpeg")
        .args(["-v", "error", "-i", file, "-vf", filter, "-f", "rawvideo", "-pix_fmt", "rgb24", "-"])
        .current_dir(folder)
        .output()
        .expect("ffmpeg is installed");
    output.stdout
}

#[test]
fn a_still_is_tagged_in_a_copy_or_in_its_place() {
    let folder = tempfile::tempdir().expect("a folder");
    let folder = folder.path();
    sphere(folder);
    let bytes = || std::fs::read(folder.join("sphere.png")).expect("a picture");
    let before = bytes();
    let tag = ["tag", "sphere.png", "--projection", "equirectangular"];
    let no_place = ran(folder, &tag);
    assert_eq!(no_place.status.code(), Some(2), "where to must be said");
    let same = ran(folder, &[&tag[..], &["--out", "sphere.png"]].concat());
    assert!(said(&same).contains("--in-place"), "{}", said(&same));
    let copied = ran(folder, &[&tag[..], &["--out", "tagged.png", "--initial-view", "-30,10,0"]].concat());
    assert!(copied.status.success(), "{}", said(&copied));
    let told = String::from_utf8_lossy(&copied.stdout).into_owned();
    assert!(told.contains("nothing of a sphere") && told.contains("equirectangular, one eye (XMP)"), "{told}");
    assert_eq!(bytes(), before, "the file itself is as it was");
    assert!(ran(folder, &[&tag[..], &["--in-place"]].concat()).status.success());
    assert_ne!(bytes(), before);
    let ordered = ran(folder, &[&tag[..], &["--in-place", "--right-eye-first"]].concat());
    let said = String::from_utf8_lossy(&ordered.stderr);
    assert!(!ordered.status.success() && said.contains("one eye has no order"), "{said}");
    assert!(ran(folder, &["tag", "sphere.png", "--none", "--in-place"]).status.success());
    assert_eq!(bytes(), before);
    let read = ran(folder, &["probe", "tagged.png"]);
    assert!(String::from_utf8_lossy(&read.stdout).contains("sphere"), "{read:?}");
}

#[test]
fn half_spheres_for_two_eyes_are_tagged_and_read_as_such() {
    let folder = tempfile::tempdir().expect("a folder");
    let folder = folder.path();
    for name in ["S006.mp4", "S006.mkv"] {
        ffmpeg(folder, &["-f", "lavfi", "-i", "testsrc2=s=640x320:r=24:d=0.5", "-c:v", "mpeg4", name]);
        let tag = ["tag", name, "--in-place", "--projection", "equirectangular", "--stereo", "side-by-side"];
        // As a whole sphere the frame would not be one.
        let doubted = ran(folder, &tag);
        assert!(said(&doubted).contains("360x180 degrees in this layout are 4:1"), "{}", said(&doubted));
        let half = ran(folder, &[&tag[..], &["--span", "180x180"]].concat());
        assert!(half.status.success() && said(&half).is_empty(), "{}", said(&half));
        let told = String::from_utf8_lossy(&half.stdout).into_owned();
        assert!(told.contains("two eyes, side by side, of a sphere of 640x320"), "{told}");
        let read = ran(folder, &["probe", name]);
        let read = String::from_utf8_lossy(&read.stdout).into_owned();
        assert!(read.contains("sphere 180x180 side_by_side"), "{name}: {read}");
        let bad = ran(folder, &[&tag[..], &["--span", "half"]].concat());
        assert!(bad.status.code() == Some(2) && said(&bad).contains("180x180"), "{}", said(&bad));
    }
}

/// Hands a project over and unpacks the archive into a folder.
fn hand_over(data: &Path, project: &str, formats: &str, folder: &Path) {
    let out = folder.join("handed-over.zip");
    let output = program()
        .args(["export", "--project", project, "--formats", formats, "--data"])
        .arg(data)
        .arg("--out")
        .arg(&out)
        .output()
        .expect("it runs");
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    let unpack = "import sys, zipfile; zipfile.ZipFile(sys.argv[1]).extractall(sys.argv[2])";
    let unpacked = Command::new("python3").args(["-c", unpack]).args([out.as_path(), folder]).status();
    assert!(unpacked.expect("python3 is installed").success());
}

/// A project with a sphere that has a still, and a flat frame.
async fn walk(server: &Server, folder: &Path) -> (String, i64, i64) {
    let project = server.post("/projects", &json!({ "name": "Walk", "method": "fill" })).await.ok()["id"].to_string();
    let base = format!("/projects/{project}");
    let values = json!({
        "name": "S002", "geometry": { "raster": [720, 360] }, "projection": "sphere", "upright_known": true,
        "scan": "progressive", "signal_range": "narrow", "turn": { "yaw": "20", "pitch": "-10", "roll": "5" },
    });
    let source = server.post(&format!("{base}/sources"), &values).await.ok()["id"].as_i64().expect("a number");
    let bytes = std::fs::read(sphere(folder)).expect("a picture");
    let still = server.request(Method::POST, &format!("{base}/sources/{source}/still?file=sphere.png"));
    server.try_send_bytes(still, bytes.into()).await.expect("an answer").ok();
    let frame = json!({ "name": "HD", "geometry": { "raster": [192, 108] } });
    let frame = server.post(&format!("{base}/frames"), &frame).await.ok()["id"].as_i64().expect("a number");
    (base, source, frame)
}

/// Where programs are found, this one among them.
fn beside_ffmpeg() -> String {
    let own = std::path::Path::new(env!("CARGO_BIN_EXE_ratiomet")).parent().expect("a folder").display().to_string();
    std::env::var("PATH").map_or(own.clone(), |path| format!("{own}:{path}"))
}

#[tokio::test]
async fn a_view_is_a_source_and_its_recipe_makes_the_same_picture() {
    let folder = tempfile::tempdir().expect("a folder");
    let data = folder.path().join("walk.db");
    let server = Server::start_on("serve", &data, &[]);
    let (base, source, frame) = walk(&server, folder.path()).await;
    let view = json!({
        "name": "S002 view", "geometry": { "raster": [320, 180] }, "upright_known": true, "scan": "progressive",
        "signal_range": "narrow",
        "view": { "sphere": source, "fov": "70", "orientation": { "yaw": "-60", "pitch": "15", "roll": "0" } },
    });
    let view = server.post(&format!("{base}/sources"), &view).await.ok();
    assert!(view["picture"].is_string(), "it has the picture of its sphere: {view}");
    let sphere_frame = json!({ "name": "Headset", "geometry": { "raster": [360, 180] }, "projection": "sphere" });
    let headset = server.post(&format!("{base}/frames"), &sphere_frame).await.ok()["id"].clone();
    for (source, frame, name) in [
        (&view["id"], &json!(frame), "view"),
        (&json!(source), &headset, "turned"),
        (&json!(source), &json!(frame), "unrolled"),
    ] {
        let path = format!("{base}/conversions/{source}/{frame}/outcome?filter=catmull-rom");
        let outcome = server.get(&path).await;
        assert!(outcome.status.is_success(), "{outcome:?}");
        std::fs::write(folder.path().join(format!("{name}.png")), &outcome.bytes).expect("written");
    }
    let taken = json!({ "edit": "set_resampling", "conversions": [[view["id"], frame], [source, headset], [source, frame]], "taken": { "filter": "catmull-rom" } });
    server.post(&format!("{base}/edits"), &taken).await.ok();
    // Rings tell where it is enlarged by how much: on each the scale of the middle has grown to its own.
    let look = json!({ "raster": [192, 108], "fov": "70" });
    let seen = server.post(&format!("{base}/sources/{source}/sphere/look"), &look).await.ok();
    let number = |value: &Value| value.as_f64().expect("a number");
    let rings = seen["rings"].as_array().expect("rings");
    assert!(!rings.is_empty(), "{seen}");
    for ring in rings {
        let out = 2.0 * 35.0_f64.to_radians().tan() * number(&ring[1]);
        let there = number(&seen["seen"]["centre_scale"]) * (1.0 + out * out);
        assert!((there - number(&ring[0])).abs() < 1e-9 && number(&ring[0]) < number(&seen["corner_scale"]), "{ring}");
    }
    // The way that goes nowhere but into a flat frame is a point with a way out.
    let board = server.get(&format!("{base}/board")).await.ok();
    let of = |source: &Value, frame: &Value| -> Value {
        let crossings = board["crossings"].as_array().expect("crossings");
        crossings.iter().find(|each| each["source"] == *source && each["frame"] == *frame).expect("it is there").clone()
    };
    assert_eq!(of(&json!(source), &json!(frame))["findings"], json!(["projection"]));
    let crossing = of(&view["id"], &json!(frame));
    // Worked example: 192 pixels over 2 tan(35 degrees) to a radian, of 720 over a whole turn.
    let scale = 192.0 / (2.0 * 35.0_f64.to_radians().tan()) / (720.0 / std::f64::consts::TAU);
    assert!((crossing["sphere_scale"].as_f64().expect("a scale") - scale).abs() < 1e-3, "{crossing}");

    hand_over(&data, "Walk", "recipes", folder.path());
    let list = std::fs::read_to_string(folder.path().join("Walk/recipes/list.tsv")).expect("a list");
    for (outcome, picture) in
        [("S002_view_HD", "view.png"), ("S002_Headset", "turned.png"), ("S002_HD", "unrolled.png")]
    {
        let line = list.lines().find(|line| line.starts_with(outcome)).unwrap_or_else(|| panic!("{list}"));
        let fields: Vec<&str> = line.split('\t').collect();
        assert_eq!(fields[1], "S002", "made of the file of the sphere");
        assert!(fields[2].contains("v360="), "{line}");
        let filter = format!("format=gbrp,{}", fields[2]);
        ffmpeg(folder.path(), &["-i", "sphere.png", "-vf", &filter, "-frames:v", "1", "recipe.png"]);
        let alike = decibels(folder.path(), "recipe.png", picture);
        assert!(alike > 38.0, "{outcome}: {alike} dB by {filter}");
    }
    // Gone, it is said, and undo has it again.
    let gone = json!({ "edit": "delete", "sources": [source], "frames": [] });
    server.post(&format!("{base}/edits"), &gone).await.ok();
    let view_path = format!("{base}/sources/{}", view["id"]);
    assert_eq!(server.get(&view_path).await.ok()["picture"], Value::Null);
    let head = server.get(&format!("{base}/history/head")).await.ok();
    server.post(&format!("{base}/history/go"), &json!({ "from": head["at"], "to": head["undo"]["to"] })).await.ok();
    assert_eq!(server.get(&view_path).await.ok()["picture"], view["picture"]);
    // A project that is exported and imported has its view look out of its own sphere.
    let file = server.get(&format!("{base}/export")).await.ok();
    let copy = server.post("/projects/import", &file).await.ok();
    let copied = server.get(&format!("/projects/{}/board", copy["id"])).await.ok();
    let sources = copied["sources"].as_array().expect("sources");
    let of = |name: &str| sources.iter().find(|each| each["values"]["name"] == name).expect("it is there");
    assert_eq!(of("S002 view")["values"]["view"]["sphere"], of("S002")["id"]);
}

#[tokio::test]
async fn wrong_questions_of_spheres_say_what_would_be_right() {
    let folder = tempfile::tempdir().expect("a folder");
    let server = Server::empty();
    let (base, source, _) = walk(&server, folder.path()).await;
    let flat = json!({ "name": "A001", "geometry": { "raster": [1920, 1080] } });
    let flat = server.post(&format!("{base}/sources"), &flat).await.ok()["id"].clone();
    let refused = server.get(&format!("{base}/sources/{flat}/sphere")).await.refusal(422);
    assert_eq!(refused["detail"], "A001 is set to a flat picture.");
    server.get(&format!("{base}/sources/{source}/sphere?width=9")).await.refusal(422);
    server.get(&format!("{base}/sources/{source}/sphere?pitch=91")).await.refusal(422);
    server.get(&format!("{base}/sources/999/sphere")).await.refusal(404);
    let look = json!({ "raster": [1920, 1080], "fov": "180" });
    let refused = server.post(&format!("{base}/sources/{source}/sphere/look"), &look).await.refusal(422);
    assert_eq!(refused["errors"][0]["pointer"], "/fov");
    for (marks, pointer) in [
        (json!({}), "/horizon"),
        (json!({ "horizon": [["0", "1"]] }), "/horizon"),
        (json!({ "horizon": [["0", "1"], ["0", "1"]] }), "/horizon"),
        (json!({ "horizon": [["0", "1"], ["9", "1"]], "uprights": [[["0", "0"], ["0", "9"]]] }), "/uprights"),
        (json!({ "horizon": [["0", "91"], ["9", "1"]] }), "/horizon/0/1"),
    ] {
        let refused = server.post("/sphere/level", &marks).await.refusal(422);
        assert_eq!(refused["errors"][0]["pointer"], pointer, "{marks}: {refused}");
    }
    let drag = json!({ "from": ["0", "0"], "to": ["30", "0"], "hold": "sideways" });
    assert_eq!(server.post("/sphere/drag", &drag).await.refusal(422)["errors"][0]["pointer"], "/hold");
    let drag = json!({ "from": ["0", "0"], "to": ["30", "0"] });
    assert_eq!(server.post("/sphere/drag", &drag).await.ok(), json!({ "yaw": "-30", "pitch": "0", "roll": "0" }));
}

#[tokio::test]
async fn what_a_movie_says_of_its_sphere_comes_into_the_project() {
    let folder = tempfile::tempdir().expect("a folder");
    let folder = folder.path();
    let source = "testsrc2=s=320x320:r=24:d=0.5";
    ffmpeg(folder, &["-f", "lavfi", "-i", source, "-c:v", "mpeg4", "plain.mp4"]);
    let tagged = ["tag", "plain.mp4", "--out", "S005.mp4", "--projection", "equirectangular", "--stereo", "top-bottom"];
    assert!(ran(folder, &tagged).status.success());
    std::fs::remove_file(folder.join("plain.mp4")).expect("removed");
    let data = folder.join("a.db");
    let imported = ran(folder, &["import", "--data", "a.db", "--project", "Spheres", "S005.mp4"]);
    assert!(imported.status.success(), "{}", said(&imported));
    let server = Server::start_on("serve", &data, &[]);
    let board = server.get("/projects/1/board").await.ok();
    let values = &board["sources"][0]["values"];
    assert_eq!(
        (&values["projection"], &values["sphere"]["layout"]),
        (&json!("sphere"), &json!("top_bottom")),
        "{values}"
    );
    // Set to another layout by hand, that counts as typed over; in a frame for one eye it is told of.
    let id = board["sources"][0]["id"].clone();
    let other = json!({ "layout": "side_by_side" });
    let edit = json!({ "edit": "set_sources", "sources": [id], "set": { "sphere": other } });
    server.post("/projects/1/edits", &edit).await.ok();
    let source = server.get(&format!("/projects/1/sources/{id}")).await.ok();
    assert_eq!(source["corrected"], json!(["projection"]));
    let frame = json!({ "name": "Headset", "geometry": { "raster": [320, 160] }, "projection": "sphere" });
    let frame = server.post("/projects/1/frames", &frame).await.ok()["id"].clone();
    let conversion = server.get(&format!("/projects/1/conversions/{id}/{frame}")).await.ok();
    let codes: Vec<&str> = conversion["crossing"]["findings"]
        .as_array()
        .expect("findings")
        .iter()
        .filter_map(Value::as_str)
        .filter(|code| code.starts_with("sphere"))
        .collect();
    assert_eq!(codes, ["sphere_form", "sphere_shape"], "{conversion}");
}

/// The demo with its sphere as it was taken: tilted, with nothing on it and no views out of it.
async fn as_taken() -> Server {
    let server = Server::demo();
    let set = json!({ "turn": { "yaw": "0", "pitch": "0", "roll": "0" }, "on_sphere": [] });
    let edits = [
        json!({ "edit": "set_sources", "sources": [6], "set": set }),
        json!({ "edit": "delete", "sources": [24, 25], "frames": [] }),
    ];
    for edit in edits {
        server.post("/projects/1/edits", &edit).await.ok();
    }
    server
}

#[tokio::test]
async fn a_sphere_is_worked_with_keys_alone_and_undone() {
    let server = as_taken().await;
    let browser = Browser::at(server.url()).await;
    browser.open("/projects/1/footage/6/sphere").await;
    browser.until("document.querySelectorAll('.sphere image').length === 2").await;
    let turn = async || server.get("/projects/1/sources/6").await.ok()["values"]["turn"].clone();
    // Ctrl and an arrow turn the sphere by a degree, and keep it.
    browser.chord('\u{e009}', '\u{e014}').await;
    browser.says("Sphere turned yaw -1°, pitch 0°, roll 0° on S002 Kiln walk").await;
    assert_eq!(turn().await, json!({ "yaw": "-1", "pitch": "0", "roll": "0" }));
    // Arrows look further; what nothing keeps is only looked at.
    browser.keys("\u{e014}\u{e014}\u{e013}").await;
    browser.until("document.querySelector('[aria-label=View] fieldset input, [aria-label=\"Where the view looks\"] input').value === '2'").await;
    browser.keys("++").await;
    browser.until("document.body.innerText.includes('sharp up to')").await;
    // An angle that is none says so and is not kept.
    browser.fill("pitch", "95").await;
    browser.says("90° at most, either way").await;
    browser.keys("\u{e00c}").await;
    assert_eq!(turn().await["pitch"], "0");
    browser.fill("pitch", "4.5").await;
    browser.keys("\u{e007}").await;
    browser.says("pitch 4.5°").await;
    assert_eq!(turn().await, json!({ "yaw": "-1", "pitch": "4.5", "roll": "0" }));
    // Undo goes back in the fields too.
    browser.run("document.activeElement.blur()").await;
    browser.keys("u").await;
    browser.until("document.querySelector('[aria-label=Turn] input').value === '-1'").await;
    browser.until("document.querySelectorAll('[aria-label=Turn] input')[1].value === '0'").await;
    browser.press("Reset the turn").await;
    browser.says("Sphere not turned on S002 Kiln walk").await;
    assert_eq!(turn().await, json!({ "yaw": "0", "pitch": "0", "roll": "0" }));
    browser.console_is_empty().await;
    browser.close().await;
}

/// Where the horizon of the stand-in camera's sphere lies at a longitude: it leans 6 degrees to its side and 3 forward.
fn horizon(longitude: f64) -> f64 {
    let ((side_sin, side_cos), (front_sin, front_cos)) =
        (6.0_f64.to_radians().sin_cos(), 3.0_f64.to_radians().sin_cos());
    let (sin, cos) = longitude.to_radians().sin_cos();
    ((cos * front_sin - sin * side_sin * front_cos) / (side_cos * front_cos)).atan().to_degrees()
}

#[tokio::test]
async fn a_tilted_sphere_is_levelled_by_two_marks_and_a_view_out_of_it_is_planned() {
    let server = as_taken().await;
    let browser = Browser::at(server.url()).await;
    browser.size(1280, 800).await;
    browser.open("/projects/1/footage?source=6").await;
    browser.press("Open the sphere").await;
    browser
        .until("document.querySelector('.sphere-unrolled image') && document.querySelector('.sphere-view image')")
        .await;
    browser.keys("h").await;
    let edge = browser.see(".sphere-unrolled .d-edge").await;
    let size = browser
        .run("const box = document.querySelector('.sphere-unrolled .d-edge').getBoundingClientRect(); return [box.width, box.height]")
        .await;
    let side = |at: usize| size[at].as_f64().expect("a length");
    for longitude in [0.0, 90.0] {
        let place = PointerAction::MoveToElement {
            element: edge.clone(),
            duration: None,
            x: (longitude / 360.0 * side(0)).round(),
            y: (-horizon(longitude) / 180.0 * side(1)).round(),
        };
        let press = MouseActions::new("mouse".to_owned())
            .then(place)
            .then(PointerAction::Down { button: MOUSE_BUTTON_LEFT })
            .then(PointerAction::Up { button: MOUSE_BUTTON_LEFT });
        browser.mouse(press).await;
    }
    browser.says("2 points; the one that fits worst misses by 0.00°").await;
    browser.press("Level the sphere").await;
    browser.until("document.querySelector('.toasts').innerText.includes('Undo')").await;
    let turn = server.get("/projects/1/sources/6").await.ok()["values"]["turn"].clone();
    let angle = |name: &str| turn[name].as_str().expect("a number").parse::<f64>().expect("a number");
    // As exact as a pixel of the screen: half a degree.
    assert!((angle("pitch") - 3.0).abs() < 0.6 && (angle("roll") - 6.0).abs() < 0.6, "{turn}");

    // Turned by a hand around what is level: pitch and roll of the level stay.
    browser.field("a hand turns it").await.select_by_value("around").await.expect("chosen");
    browser.drag(".sphere-unrolled .d-edge", 100.0, 20.0, 5).await;
    browser.until("!document.querySelector('[aria-label=Turn] input').value.startsWith('0')").await;
    browser.keys("\u{e014}").await;
    browser.press("Keep as a new view").await;
    browser.until("document.querySelector('[aria-label=view]').value !== ''").await;
    browser.fill("wide", "60").await;
    browser.keys("\u{e007}").await;
    browser.says("60° wide").await;
    let board = server.get("/projects/1/board").await.ok();
    let view = board["sources"].as_array().expect("sources").last().expect("a view").clone();
    assert_eq!((&view["values"]["view"]["sphere"], &view["values"]["view"]["fov"]), (&json!(6), &json!("60")));
    browser.open(&format!("/projects/1/board/{}/18", view["id"])).await;
    browser.says("of the sphere's own pixels").await;
    browser.until("document.querySelectorAll('.drawing image').length >= 2").await;
    // The sphere without a still, and what is no sphere, say what to do.
    browser.open("/projects/1/footage/1/sphere").await;
    browser.says("A014 Furnace mouth is set to a flat picture.").await;
    browser.console_is_empty().await;
    browser.close().await;
}

/// A gray card with a red rim and a clear hole, as PNG.
fn card(folder: &Path) -> Vec<u8> {
    let draw = "color=gray:s=400x200,format=rgba,drawbox=c=red:t=20,geq=r='r(X,Y)':g='g(X,Y)':b='b(X,Y)':a='255*gt(hypot(X-200,Y-100),40)'";
    ffmpeg(folder, &["-f", "lavfi", "-i", draw, "-frames:v", "1", "card.png"]);
    std::fs::read(folder.join("card.png")).expect("a picture")
}

#[tokio::test]
async fn what_stands_on_a_sphere_is_in_its_outcomes_its_views_and_its_recipes() {
    // A folder whose name is full of what filters and shells would stumble over.
    let outer = tempfile::tempdir().expect("a folder");
    let folder = outer.path().join("it's [a], b;c: \\d");
    std::fs::create_dir(&folder).expect("a folder");
    let data = folder.join("walk.db");
    let server = Server::start_on("serve", &data, &[]);
    let (base, source, frame) = walk(&server, &folder).await;
    let view = json!({
        "name": "S002 view", "geometry": { "raster": [320, 180] }, "upright_known": true, "scan": "progressive",
        "signal_range": "narrow",
        "view": { "sphere": source, "fov": "70", "orientation": { "yaw": "-60", "pitch": "15" } },
    });
    let view = server.post(&format!("{base}/sources"), &view).await.ok();
    let headset = json!({ "name": "Headset", "geometry": { "raster": [720, 360] }, "projection": "sphere" });
    let headset = server.post(&format!("{base}/frames"), &headset).await.ok()["id"].clone();
    let conversions = json!([[view["id"], frame], [source, headset]]);
    let taken = json!({ "edit": "set_resampling", "conversions": conversions, "taken": { "filter": "catmull-rom" } });
    server.post(&format!("{base}/edits"), &taken).await.ok();
    let outcomes = async |name: &str| {
        for (source, frame, kind) in [(&view["id"], &json!(frame), "view"), (&json!(source), &headset, "turned")] {
            let path = format!("{base}/conversions/{source}/{frame}/outcome?filter=catmull-rom");
            let outcome = server.get(&path).await;
            assert!(outcome.status.is_success(), "{outcome:?}");
            std::fs::write(folder.join(format!("{name} {kind}.png")), &outcome.bytes).expect("written");
        }
    };
    outcomes("bare").await;
    // Where the view looks, and over the seam.
    let on = format!("{base}/sources/{source}/on-sphere");
    let request = server.request(Method::POST, &format!("{on}?file=card.png&yaw=-60&pitch=15"));
    let added = server.try_send_bytes(request, card(&folder).into()).await.expect("an answer").ok();
    assert_eq!(added["values"]["on_sphere"][0]["orientation"], json!({ "yaw": "-60", "pitch": "15", "roll": "0" }));
    let caption = json!({ "text": "The Kiln at Saltreed", "yaw": "178", "pitch": "-5" });
    let added = server.post(&format!("{on}/caption"), &caption).await.ok();
    let [_, words] = &added["values"]["on_sphere"].as_array().expect("pictures")[..] else { panic!("{added}") };
    assert_eq!((&words["file"], &words["width"]), (&json!("The Kiln at Saltreed"), &json!("40")));
    outcomes("with").await;
    for kind in ["view", "turned"] {
        let alike = decibels(&folder, &format!("bare {kind}.png"), &format!("with {kind}.png"));
        assert!(alike < 28.0, "{kind}: the pictures are seen: {alike} dB");
    }
    // Where they stand is told, and that one crosses the seam.
    let look = json!({ "raster": [192, 108], "fov": "70", "turn": { "yaw": "20", "pitch": "-10", "roll": "5" } });
    let seen = server.post(&format!("{base}/sources/{source}/sphere/look"), &look).await.ok();
    let [one, other] = &seen["on_sphere"].as_array().expect("pictures")[..] else { panic!("{seen}") };
    assert_eq!((&one["crosses_seam"], &other["crosses_seam"]), (&json!(false), &json!(true)));

    hand_over(&data, "Walk", "recipes", &folder);
    std::fs::create_dir(folder.join("footage")).expect("a folder");
    std::fs::copy(folder.join("sphere.png"), folder.join("footage/S002.png")).expect("copied");
    let script = folder.join("Walk/recipes/convert.sh");
    for ending in ["mov", "mkv"] {
        let made = Command::new("sh")
            .arg(&script)
            .args(["footage", ending])
            .current_dir(&folder)
            .env("CODEC", "-c:v png -pix_fmt rgb24")
            .env("ENDING", ending)
            .env("PATH", beside_ffmpeg())
            .output()
            .expect("sh runs");
        let said = String::from_utf8_lossy(&made.stderr).into_owned();
        for (outcome, kind) in [("S002_view_HD", "view"), ("S002_Headset", "turned")] {
            let file = format!("{ending}/{outcome}.{ending}");
            assert!(folder.join(&file).exists(), "{outcome}: {said}");
            // What shows a sphere says so, as another program reads it; what is flat does not.
            let read = Command::new("ffprobe").args(["-v", "error", "-show_streams"]).arg(folder.join(&file)).output();
            let read = String::from_utf8_lossy(&read.expect("ffprobe is installed").stdout).into_owned();
            assert_eq!(read.contains("projection=equirectangular"), kind == "turned", "{file}: {read}");
            let alike = decibels(&folder, &file, &format!("with {kind}.png"));
            assert!(alike > 33.0, "{file}: {alike} dB; {said}");
        }
    }
    // A project that is taken to another machine with its stills has them too.
    let archive = server.get(&format!("{base}/archive")).await;
    let other = Server::empty();
    let request = other.request(Method::POST, "/projects/import/archive");
    let copy = other.try_send_bytes(request, archive.bytes.clone()).await.expect("an answer").ok();
    let board = other.get(&format!("/projects/{}/board", copy["id"])).await.ok();
    let sphere = board["sources"].as_array().expect("sources").iter().find(|each| each["values"]["name"] == "S002");
    let id = &sphere.expect("the sphere")["id"];
    let picture = other.get(&format!("/projects/{}/sources/{id}/picture", copy["id"])).await;
    assert!(picture.status.is_success(), "{picture:?}");
}

#[tokio::test]
async fn a_sphere_is_laid_anew_where_a_frame_wants_it_otherwise() {
    let folder = tempfile::tempdir().expect("a folder");
    let folder = folder.path();
    let data = folder.join("walk.db");
    let server = Server::start_on("serve", &data, &[]);
    sphere(folder);
    // The right eye's picture, below, has other colours.
    let two =
        "[0]split[a][b];[b]format=gbrp,colorchannelmixer=0:0:1:0:1:0:0:0:0:1:0:0[c];[a]format=gbrp[d];[d][c]vstack";
    ffmpeg(folder, &["-i", "sphere.png", "-filter_complex", two, "-frames:v", "1", "two.png"]);
    let project = server.post("/projects", &json!({ "name": "Eyes" })).await.ok()["id"].to_string();
    let base = format!("/projects/{project}");
    let form = |layout: &str, eyes: &str| json!({ "layout": layout, "eyes": eyes });
    let source = json!({
        "name": "S003", "geometry": { "raster": [720, 720] }, "projection": "sphere", "upright_known": true,
        "sphere": form("top_bottom", "left_first"), "scan": "progressive", "signal_range": "narrow",
        "turn": { "yaw": "40", "pitch": "10", "roll": "0" },
    });
    let source = server.post(&format!("{base}/sources"), &source).await.ok()["id"].clone();
    let bytes = std::fs::read(folder.join("two.png")).expect("a picture");
    let still = server.request(Method::POST, &format!("{base}/sources/{source}/still?file=two.png"));
    server.try_send_bytes(still, bytes.into()).await.expect("an answer").ok();
    let half = json!({ "span": ["180", "180"], "layout": "side_by_side", "eyes": "left_first" });
    let frames = [
        ("Beside", [1440, 360], form("side_by_side", "right_first")),
        ("Under", [720, 720], form("top_bottom", "right_first")),
        ("One", [720, 360], form("mono", "left_first")),
        ("Front", [720, 360], half),
    ];
    for (name, raster, sphere) in &frames {
        let frame = json!({ "name": name, "geometry": { "raster": raster }, "projection": "sphere", "sphere": sphere });
        let frame = server.post(&format!("{base}/frames"), &frame).await.ok()["id"].clone();
        let conversion = server.get(&format!("{base}/conversions/{source}/{frame}")).await.ok();
        let codes: Vec<&Value> =
            conversion["findings"].as_array().expect("findings").iter().map(|each| &each["code"]).collect();
        assert_eq!(codes, ["sphere_form"], "nothing is said of a flat picture: {name}");
        carried_out(&server, &base, [&source, &frame], &folder.join(format!("{name}.png"))).await;
    }
    hand_over(&data, "Eyes", "recipes,outcomes", folder);
    for (name, ..) in &frames {
        assert_recipe_is_alike(
            folder,
            &format!("Eyes/recipes/list.tsv S003_{name}"),
            ["two.png", &format!("{name}.png")],
            36.0,
        );
        let handed = decibels(folder, &format!("Eyes/outcomes/S003_{name}.png"), &format!("{name}.png"));
        assert!(handed > 60.0, "{name}: {handed} dB");
    }
}

/// Writes what our own pictures make of a conversion.
async fn carried_out(server: &Server, base: &str, [source, frame]: [&Value; 2], picture: &Path) {
    let taken =
        json!({ "edit": "set_resampling", "conversions": [[source, frame]], "taken": { "filter": "catmull-rom" } });
    server.post(&format!("{base}/edits"), &taken).await.ok();
    let outcome = server.get(&format!("{base}/conversions/{source}/{frame}/outcome?filter=catmull-rom")).await;
    assert!(outcome.status.is_success(), "{outcome:?}");
    std::fs::write(picture, &outcome.bytes).expect("written");
}

/// That a recipe of a list makes of a picture what we made of it.
fn assert_recipe_is_alike(folder: &Path, recipe: &str, [picture, ours]: [&str; 2], least: f64) {
    let (list, outcome) = recipe.split_once(' ').expect("a list and an outcome");
    let list = std::fs::read_to_string(folder.join(list)).expect("a list");
    let line = list.lines().find(|line| line.starts_with(&format!("{outcome}\t"))).unwrap_or_else(|| panic!("{list}"));
    let filter = format!("format=gbrp,{}", line.split('\t').nth(2).expect("a filter"));
    ffmpeg(folder, &["-i", picture, "-vf", &filter, "-frames:v", "1", "recipe.png"]);
    let alike = decibels(folder, "recipe.png", ours);
    assert!(alike > least, "{outcome}: {alike} dB by {filter}");
}

#[tokio::test]
async fn a_part_of_a_sphere_is_turned_laid_and_looked_out_of_by_recipes_too() {
    let folder = tempfile::tempdir().expect("a folder");
    let folder = folder.path();
    let data = folder.join("walk.db");
    let server = Server::start_on("serve", &data, &[]);
    sphere(folder);
    let project = server.post("/projects", &json!({ "name": "Parts" })).await.ok()["id"].to_string();
    let base = format!("/projects/{project}");
    let part = |span: [&str; 2], layout: &str| json!({ "span": span, "layout": layout, "eyes": "left_first" });
    // As it is turned, and in every layout, what lies outside the part is black.
    let sources = [
        ("S004", part(["200", "110"], "mono"), json!({ "yaw": "40", "pitch": "10", "roll": "0" })),
        ("S005", part(["180", "180"], "top_bottom"), json!({ "yaw": "-20", "pitch": "15", "roll": "5" })),
        ("S006", part(["150", "75"], "side_by_side"), json!({ "yaw": "0", "pitch": "0", "roll": "0" })),
    ];
    let frames = [
        ("Same", [720, 360], part(["200", "110"], "mono")),
        ("Whole", [720, 360], part(["360", "180"], "mono")),
        ("Two", [800, 480], part(["120", "72"], "top_bottom")),
    ];
    let mut numbers = Vec::new();
    for (name, raster, sphere) in &frames {
        let frame = json!({ "name": name, "geometry": { "raster": raster }, "projection": "sphere", "sphere": sphere });
        numbers.push(server.post(&format!("{base}/frames"), &frame).await.ok()["id"].clone());
    }
    let flat = json!({ "name": "HD", "geometry": { "raster": [192, 108] } });
    let flat = server.post(&format!("{base}/frames"), &flat).await.ok()["id"].clone();
    let mut made = Vec::new();
    for (name, sphere, turn) in &sources {
        let source = json!({
            "name": name, "geometry": { "raster": [720, 360] }, "projection": "sphere", "upright_known": true,
            "sphere": sphere, "scan": "progressive", "signal_range": "narrow", "turn": turn,
        });
        let source = server.post(&format!("{base}/sources"), &source).await.ok()["id"].clone();
        let bytes = std::fs::read(folder.join("sphere.png")).expect("a picture");
        let still = server.request(Method::POST, &format!("{base}/sources/{source}/still?file=sphere.png"));
        server.try_send_bytes(still, bytes.into()).await.expect("an answer").ok();
        for ((frame, ..), number) in frames.iter().zip(&numbers) {
            made.push(format!("{name}_{frame}"));
            let picture = folder.join(format!("{name}_{frame}.png"));
            carried_out(&server, &base, [&source, number], &picture).await;
        }
        // A view that looks past the edge of the part.
        let view = json!({
            "name": format!("{name} view"), "geometry": { "raster": [192, 108] },
            "view": { "sphere": source, "fov": "80", "orientation": { "yaw": "70", "pitch": "0", "roll": "0" } },
        });
        let view = server.post(&format!("{base}/sources"), &view).await.ok()["id"].clone();
        made.push(format!("{name}_view_HD"));
        carried_out(&server, &base, [&view, &flat], &folder.join(format!("{name}_view_HD.png"))).await;
    }
    hand_over(&data, "Parts", "recipes", folder);
    // Where the part ends it does so within a pixel in both.
    for outcome in made {
        let ours = format!("{outcome}.png");
        assert_recipe_is_alike(folder, &format!("Parts/recipes/list.tsv {outcome}"), ["sphere.png", &ours], 32.0);
    }
}

#[tokio::test]
async fn wrong_pictures_for_spheres_are_refused() {
    let folder = tempfile::tempdir().expect("a folder");
    let server = Server::empty();
    let (base, source, _) = walk(&server, folder.path()).await;
    let flat = json!({ "name": "A001", "geometry": { "raster": [1920, 1080] } });
    let flat = server.post(&format!("{base}/sources"), &flat).await.ok()["id"].clone();
    let caption = |text: &str| json!({ "text": text });
    let path = |source: &dyn std::fmt::Display| format!("{base}/sources/{source}/on-sphere/caption");
    let refused = server.post(&path(&flat), &caption("Words")).await.refusal(422);
    assert_eq!(refused["detail"], "A001 is set to a flat picture.");
    assert_eq!(server.post(&path(&source), &caption(" ")).await.refusal(422)["errors"][0]["pointer"], "/text");
    let request = server.request(Method::POST, &format!("{base}/sources/{source}/on-sphere"));
    let refused = server.try_send_bytes(request, "no picture".into()).await.expect("an answer").refusal(422);
    assert!(refused["hint"].as_str().is_some_and(|hint| hint.contains("PNG")), "{refused}");
    assert_eq!(server.post("/sphere/distance", &json!({ "distance": "1" })).await.ok()["width"], "53.130102");
    let refused = server.post("/sphere/distance", &json!({ "distance": "0" })).await.refusal(422);
    assert_eq!(refused["errors"][0]["detail"], "Must be a distance from 1/100 to 1000 widths; 0 is outside.");
    // Nothing of it has changed the sphere.
    assert_eq!(server.get(&format!("{base}/sources/{source}")).await.ok()["values"]["on_sphere"], json!([]));
}

#[tokio::test]
async fn pictures_are_put_on_a_sphere_dragged_over_its_seam_and_kept_at_their_place() {
    let server = as_taken().await;
    let browser = Browser::at(server.url()).await;
    browser.size(1280, 800).await;
    browser.open("/projects/1/footage/6/sphere").await;
    browser.until("document.querySelectorAll('.sphere image').length === 2").await;
    let stands = async || server.get("/projects/1/sources/6").await.ok()["values"]["on_sphere"].clone();
    browser.keys("p").await;
    browser.says("is put where the view looks").await;
    browser.fill("caption", "First firing").await;
    browser.keys("\u{e007}").await;
    browser.says("First firing").await;
    browser.until("document.querySelectorAll('.d-standing.chosen').length === 3").await;
    // A hand takes it over the seam, which is said.
    let edge = browser
        .run("const box = document.querySelector('.sphere-unrolled .d-edge').getBoundingClientRect(); return [box.width, box.height]")
        .await;
    let half = edge[0].as_f64().expect("a length") / 2.0;
    browser.run("document.activeElement.blur()").await;
    browser.drag(".sphere-unrolled .d-edge", half - 10.0, -30.0, 6).await;
    browser.says("it crosses the seam").await;
    let yaw =
        |stands: &Value| -> f64 { stands[0]["orientation"]["yaw"].as_str().expect("text").parse().expect("a number") };
    let dragged = comes("a picture on the seam", stands, |stands| yaw(stands) > 170.0).await;
    // Keys move it on over the seam, wider and narrower; the distance is typed in its place.
    browser.keys("\u{e014}\u{e014}++").await;
    browser.fill("widths away", "1").await;
    browser.keys("\u{e007}").await;
    browser.until("[...document.querySelectorAll('label')].some((label) => label.textContent === 'wide' && label.parentElement.querySelector('input').value === '53.13')").await;
    // The page shows what was typed while the keys before it are still being written.
    let wide = comes("a width of 53.130102", stands, |stands| stands[0]["width"] == "53.130102").await;
    assert!((yaw(&wide) - yaw(&dragged) - 2.0).abs() < 1e-6, "{wide}");
    // Turned, it stays at what it covers.
    browser.run("document.activeElement.blur()").await;
    browser.chord('\u{e009}', '\u{e014}').await;
    browser.says("1 picture follows").await;
    comes("a degree more", stands, |turned| (yaw(turned) - yaw(&wide) - 1.0).abs() < 1e-4).await;
    browser.keys("u").await;
    browser.until("document.querySelector('[aria-label=Turn] input').value === '0'").await;
    comes_to(&wide, stands).await;
    browser.keys("\u{e017}").await;
    browser.says("No pictures on the sphere on S002 Kiln walk").await;
    comes_to(&json!([]), stands).await;
    browser.console_is_empty().await;
    browser.close().await;
}
