//! The script that converts footage, carried out for real by a shell and ffmpeg.

use std::collections::HashSet;
use std::fs;
use std::path::{Path, PathBuf};
use std::process::{Command, Output};

use ratiomet_handoff::Format;
use serde_json::{Value, json};

use crate::packages::{package, small, written};

/// A folder with footage and a script for it.
pub struct Place(tempfile::TempDir);

impl Place {
    pub fn of(project: &Value) -> Self {
        let place = Self(tempfile::tempdir().expect("a folder"));
        fs::create_dir(place.at("footage")).expect("a folder");
        let script = written(&package(project), Format::Recipes, "recipes/convert.sh");
        fs::write(place.at("convert.sh"), script).expect("written");
        place
    }

    pub fn at(&self, path: &str) -> PathBuf {
        self.0.path().join(path)
    }

    /// Where an outcome goes.
    pub fn done(&self, name: &str) -> PathBuf {
        self.at("done").join(format!("{name}.mov"))
    }

    pub fn ffmpeg(&self, arguments: &[&str]) {
        let done = Command::new("ffmpeg").current_dir(&self.0).args(["-v", "error"]).args(arguments).status();
        assert!(done.expect("ffmpeg is installed: apt-get install ffmpeg").success(), "{arguments:?}");
    }

    /// Footage of a few frames of a chart.
    fn footage(&self, name: &str, chart: &str) {
        let file = format!("footage/{name}.mkv");
        self.ffmpeg(&["-f", "lavfi", "-i", chart, "-frames:v", "4", "-c:v", "ffv1", &file]);
    }

    fn run(&self, options: &[&str]) -> Output {
        let arguments = [&["convert.sh"], options, &["footage", "done"]].concat();
        Command::new("sh").args(arguments).current_dir(&self.0).output().expect("a shell")
    }

    /// What it says where all is made.
    pub fn converts(&self, options: &[&str]) -> String {
        let output = self.run(options);
        assert!(output.status.success() && output.stderr.is_empty(), "{}", String::from_utf8_lossy(&output.stderr));
        String::from_utf8_lossy(&output.stdout).into_owned()
    }
}

/// What a filter says of a file, by its name.
fn measured(file: &Path, filter: &str, key: &str) -> Vec<f64> {
    let graph = format!("movie={},{filter}", file.file_name().and_then(|name| name.to_str()).expect("a name"));
    let entries = format!("frame_tags={key}");
    let output = Command::new("ffprobe")
        .args(["-v", "error", "-f", "lavfi", "-i", &graph, "-show_entries", &entries, "-of", "csv=p=0"])
        .current_dir(file.parent().expect("a folder"))
        .output()
        .expect("ffprobe is installed with ffmpeg");
    let text = String::from_utf8_lossy(&output.stdout).into_owned();
    let all: Vec<f64> = text.lines().filter_map(|line| line.trim_matches(',').parse().ok()).collect();
    assert!(!all.is_empty(), "nothing of {}", file.display());
    all
}

/// What ffprobe says of the streams of a kind: `v` pictures, `a` sound.
pub fn probed(file: &Path, kind: &str, entries: &str) -> String {
    let output = Command::new("ffprobe")
        .args(["-v", "error", "-count_frames", "-select_streams", kind, "-show_entries", entries, "-of", "csv=p=0"])
        .arg(file)
        .output()
        .expect("ffprobe is installed with ffmpeg");
    String::from_utf8_lossy(&output.stdout).trim().to_owned()
}

pub fn source(id: u32, name: &str, more: Value) -> Value {
    let mut values = json!({ "name": name, "geometry": { "raster": [320, 240] }, "rate": "25" });
    let Value::Object(more) = more else { panic!("values") };
    values.as_object_mut().expect("an object").extend(more);
    json!({ "id": id, "values": values })
}

pub fn frame(id: u32, name: &str, raster: [u32; 2], rate: &str) -> Value {
    json!({ "id": id, "values": { "name": name, "geometry": { "raster": raster }, "rate": rate } })
}

pub fn project(sources: &[Value], frames: &[Value]) -> Value {
    json!({
        "format": "ratiomet project", "format_version": 1, "project": { "name": "Tests", "method": "fill" },
        "sources": sources, "frames": frames,
    })
}

// Lines of two moments become one picture, and white gets the code value that ITU-R BT.709 gives it in narrow range
// (235), or keeps its own and says so.
#[test]
fn pictures_are_made_of_fields_and_the_range_is_converted() {
    let place = Place::of(&project(
        &[
            source(1, "combed", json!({ "scan": "interlaced", "deinterlace": true })),
            source(2, "converted", json!({ "signal_range": "full", "range_plan": "convert" })),
            source(3, "declared", json!({ "signal_range": "full", "range_plan": "declare" })),
        ],
        &[frame(1, "Out", [320, 240], "25")],
    ));
    // One field white and the other black, and the other way round in the next frame.
    let combed = "color=black:size=320x240:rate=25,format=yuv420p,geq=lum='16+219*mod(Y+N,2)':cb=128:cr=128";
    place.footage("combed", combed);
    let white = "color=black:size=320x240:rate=25,format=yuvj420p,geq=lum=255:cb=128:cr=128";
    place.footage("converted", white);
    place.footage("declared", white);
    place.converts(&[]);
    let luma = |name: &str, key: &str| {
        measured(&place.done(&format!("{name}_Out")), "signalstats", &format!("lavfi.signalstats.{key}"))
    };
    for (least, most) in luma("combed", "YMIN").into_iter().zip(luma("combed", "YMAX")) {
        assert!(most - least < 12.0, "lines of two moments: {least} to {most}");
    }
    let near = |all: Vec<f64>, value: f64| all.iter().all(|luma| (luma - value).abs() <= 2.0);
    assert!(near(luma("converted", "YAVG"), 235.0), "{:?}", luma("converted", "YAVG"));
    let range = |name: &str| probed(&place.done(&format!("{name}_Out")), "v:0", "stream=color_range");
    // Narrow range is what a file means that says nothing (common practice).
    assert!(["tv", "unknown"].contains(&range("converted").as_str()), "{}", range("converted"));
    assert_eq!(range("declared"), "pc");
    assert!(near(luma("declared", "YAVG"), 255.0), "{:?}", luma("declared", "YAVG"));
}

// What is interlaced stays so in a frame that is: two fields of two moments, scaled each by itself, marked in the file.
#[test]
fn fields_are_kept_for_a_frame_that_has_them() {
    let mut interlaced = frame(1, "Tape", [360, 288], "25");
    interlaced["values"]["scan"] = json!("interlaced");
    let place = Place::of(&project(&[source(1, "combed", json!({ "scan": "interlaced" }))], &[interlaced]));
    let combed = "color=black:size=320x240:rate=25,format=yuv420p,geq=lum='16+219*mod(Y,2)':cb=128:cr=128,setfield=tff";
    let coded = ["-frames:v", "4", "-c:v", "ffv1", "-field_order", "tt", "footage/combed.mkv"];
    place.ffmpeg(&[&["-f", "lavfi", "-i", combed][..], &coded].concat());
    let said = place.converts(&["--dry-run"]);
    assert!(said.contains("combed_Tape: the fields are kept, in the order of the file"), "{said}");
    place.converts(&[]);
    let file = place.done("combed_Tape");
    let order = probed(&file, "v:0", "stream=field_order");
    assert!(["tt", "tb"].contains(&order.as_str()), "{order}");
    // One field is white and the other black, as before: scaled as one picture they would be grey.
    let (least, most) = (
        measured(&file, "separatefields,signalstats", "lavfi.signalstats.YAVG"),
        measured(&file, "signalstats", "lavfi.signalstats.YAVG"),
    );
    assert!(least[..2].iter().any(|light| *light < 30.0) && least[..2].iter().any(|light| *light > 220.0), "{least:?}");
    assert!((most[0] - 125.0).abs() < 6.0, "{most:?}");
}

// 24 frames, each as light as its number, at 25 fps in milliseconds; with sound.
#[test]
fn the_planned_rate_is_given_frame_by_frame() {
    let size = [320, 240];
    let place = Place::of(&project(
        &[
            source(1, "real", json!({ "playback": "real_time" })),
            source(2, "every", json!({ "playback": "every_frame" })),
            source(3, "blended", json!({ "rate_plan": "blend" })),
        ],
        &[
            frame(1, "Same", size, "25"),
            frame(2, "Film", size, "24000/1001"),
            frame(3, "Fast", size, "30"),
            frame(4, "Half", size, "12.5"),
        ],
    ));
    for name in ["real", "every", "blended"] {
        let chart = "color=black:size=320x240:rate=25,format=yuv420p,geq=lum='20+8*N':cb=128:cr=128";
        let file = format!("footage/{name}.mkv");
        let coded = ["-c:v", "ffv1", "-c:a", "pcm_s16le", &file];
        place.ffmpeg(&[&["-f", "lavfi", "-i", chart, "-f", "lavfi", "-i", "sine", "-t", "0.96"], &coded[..]].concat());
    }
    let dry = place.converts(&["--dry-run"]);
    assert!(dry.contains("every_Film: the sound is left out: the picture runs at another speed"), "{dry}");
    place.converts(&[]);
    let case = |name: &str, rate: &str, [numerator, denominator]: [u32; 2], sound: bool| {
        let file = place.done(name);
        let given = probed(&file, "v:0", "stream=avg_frame_rate");
        assert!(given.starts_with(rate), "{name} has {given}");
        let light = measured(&file, "signalstats", "lavfi.signalstats.YAVG");
        // Frame j shows frame floor(j x from / to).
        let planned: Vec<u32> = (0_u32..).take(light.len()).map(|j| j * numerator / denominator).collect();
        let off = |(light, frame): (&f64, &u32)| (light - f64::from(20 + 8 * frame)).abs() > 2.0;
        assert!(!light.iter().zip(&planned).any(off), "{name}: {light:?}, planned {planned:?}");
        // To within one frame, all of it.
        assert!(planned.last().is_some_and(|last| (22..24).contains(last)), "{name} ends with {planned:?}");
        assert_eq!(!probed(&file, "a", "stream=codec_name").is_empty(), sound, "{name}");
    };
    case("real_Same", "25/1", [1, 1], true);
    case("real_Film", "24000/1001", [25 * 1001, 24000], true);
    case("real_Fast", "30/1", [25, 30], true);
    case("real_Half", "25/2", [2, 1], true);
    // Blended: every frame is as light as its moment lies between two of the source.
    let file = place.done("blended_Film");
    assert!(probed(&file, "v:0", "stream=avg_frame_rate").starts_with("24000/1001"));
    let light = measured(&file, "signalstats", "lavfi.signalstats.YAVG");
    for (j, light) in (0_u32..).zip(&light).take(light.len() - 2) {
        let planned = 20.0 + 8.0 * f64::from(j) * 25.0 * 1001.0 / 24000.0;
        assert!((light - planned).abs() < 3.0, "frame {j} is {light}, planned {planned}");
    }
    assert!(dry.contains("blended_Film: frames are blended: 25 to 23.976 fps"), "{dry}");
    assert!(dry.contains("real_Film: frames are dropped or repeated (not decided)"), "{dry}");
    case("every_Same", "25/1", [1, 1], true);
    case("every_Film", "24000/1001", [1, 1], false);
    case("every_Fast", "30/1", [1, 1], false);
    case("every_Half", "25/2", [1, 1], false);
}

// A file whose header turns the picture comes out upright, and turned no more by its header.
#[test]
fn a_picture_is_turned_once() {
    let geometry = json!({ "raster": [320, 240], "rotation": 90 });
    let phone = source(1, "phone", json!({ "geometry": geometry }));
    let place = Place::of(&project(&[phone], &[frame(1, "Up", [240, 320], "25")]));
    // The upper half as it is stored is white; turned clockwise by 90 degrees it is the right half.
    let chart = "color=black:size=320x240:rate=25,format=yuv420p,geq=lum='if(lt(Y,120),235,16)':cb=128:cr=128";
    place.ffmpeg(&["-f", "lavfi", "-i", chart, "-frames:v", "3", "-c:v", "libx264", "plain.mp4"]);
    let help = Command::new("ffmpeg").args(["-hide_banner", "-h", "full"]).output().expect("ffmpeg");
    if String::from_utf8_lossy(&help.stdout).contains("-display_rotation") {
        place.ffmpeg(&["-display_rotation", "-90", "-i", "plain.mp4", "-c", "copy", "footage/phone.mp4"]);
    } else {
        place.ffmpeg(&["-i", "plain.mp4", "-c", "copy", "-metadata:s:v:0", "rotate=90", "footage/phone.mp4"]);
    }
    let turn = |file: &Path| probed(file, "v:0", "stream_side_data=rotation");
    assert!(turn(&place.at("footage/phone.mp4")).contains("90"), "the header does not turn it");
    place.converts(&[]);
    let made = place.done("phone_Up");
    assert_eq!(probed(&made, "v:0", "stream=width,height"), "240,320");
    assert_eq!(turn(&made), "", "a player turns it once more");
    let half = |x: u32| measured(&made, &format!("crop=100:300:{x}:10,signalstats"), "lavfi.signalstats.YAVG");
    assert!(half(10).iter().all(|light| *light < 20.0) && half(130).iter().all(|light| *light > 230.0));
    assert_eq!(fs::read_dir(place.at("done")).expect("a folder").count(), 1, "something is left over");
}

// A frame that the project makes from a working frame is made from its file where that is asked for: the same picture,
// whatever was done to the working file in between.
#[test]
fn frames_are_made_from_the_files_of_working_frames() {
    let mut tall = frame(3, "Tall", [180, 320], "25");
    tall["values"]["through"] = json!(2);
    let mut wide = frame(2, "Wide", [480, 360], "25");
    wide["values"]["through"] = json!(4);
    let frames = [frame(1, "Plain", [320, 180], "25"), wide, tall, frame(4, "Work", [640, 480], "25")];
    let mut project = project(&[source(1, "clip", json!({}))], &frames);
    project["conversions"] = json!([{ "source": 1, "frame": 3, "own": { "method": "fill", "shift": ["12", "0"] } }]);
    let place = Place::of(&project);
    place.footage("clip", "testsrc2=size=320x240:rate=25");
    let note = place.converts(&["--dry-run"]);
    assert!(note.contains("clip_Tall: with --from-working it is made from the file of Wide instead"), "{note}");
    place.converts(&[]);
    let straight = fs::read(place.done("clip_Tall")).expect("made");
    fs::copy(place.done("clip_Tall"), place.at("Tall_straight.mov")).expect("copied");
    fs::remove_dir_all(place.at("done")).expect("removed");
    let dry = place.converts(&["--dry-run", "--from-working"]);
    assert!(dry.contains("[4/4] clip_Tall of ./done/clip_Wide as it will be"), "{dry}");
    let said = place.converts(&["--from-working"]);
    assert!(said.contains("clip_Wide of ./done/clip_Work.mov") && said.contains("clip_Tall of ./done/clip_Wide.mov"));
    assert!(said.ends_with("4 made, 0 there already, 0 failed\n"), "{said}");
    assert_ne!(fs::read(place.done("clip_Tall")).expect("made"), straight, "it was made straight");
    fs::copy(place.done("clip_Tall"), place.at("Tall_through.mov")).expect("copied");
    let alike =
        measured(&place.at("Tall_through.mov"), "null[a];movie=Tall_straight.mov[b];[a][b]ssim", "lavfi.ssim.All");
    assert!(alike.iter().all(|alike| *alike > 0.85), "{alike:?}");
    // The working file comes back darker from whoever worked on it, and the frame is made of that.
    let dark = ["-f", "lavfi", "-i", "color=black:size=480x360:rate=25", "-frames:v", "4", "-y", "done/clip_Wide.mov"];
    place.ffmpeg(&dark);
    fs::remove_file(place.done("clip_Tall")).expect("removed");
    assert!(place.converts(&["--from-working"]).ends_with("1 made, 3 there already, 0 failed\n"));
    assert!(
        measured(&place.done("clip_Tall"), "signalstats", "lavfi.signalstats.YAVG").iter().all(|light| *light < 20.0)
    );
}

// ffprobe tells raster and sample aspect of what comes out.
#[test]
fn the_planned_frames_come_out() {
    let place = Place::of(&small());
    for (name, size) in [("A014 Furnace", "960x720"), ("T1987 Tape", "720x576"), ("P007 Phone", "640x360")] {
        place.footage(name, &format!("testsrc2=size={size}:rate=25"));
    }
    assert!(place.converts(&[]).ends_with("\n9 made, 0 there already, 0 failed\n"));
    for source in ["A014_Furnace", "T1987_Tape", "P007_Phone"] {
        for (frame, size) in [("Scope", "1024,428,1:1"), ("Masked", "640,360,1:1"), ("Upright", "360,640,1:1")] {
            let file = place.done(&format!("{source}_{frame}"));
            assert_eq!(probed(&file, "v:0", "stream=width,height,sample_aspect_ratio"), size, "{}", file.display());
        }
    }
}

// What lies beside the footage under its name is passed by, a dry run makes nothing, and what is there stays until it
// is to be replaced.
#[test]
fn it_can_be_run_again_and_says_what_it_does() {
    let place = Place::of(&project(
        &[source(1, "clip", json!({})), source(2, "other", json!({})), source(3, "gone", json!({}))],
        &[frame(1, "Small", [160, 120], "25"), frame(2, "Wide", [320, 136], "25")],
    ));
    // Earlier in the alphabet than the clip: a picture of it, its sound, notes, and a clip of another name.
    place.ffmpeg(&["-f", "lavfi", "-i", "testsrc2=size=80x60", "-frames:v", "1", "footage/clip.jpg"]);
    place.ffmpeg(&["-f", "lavfi", "-i", "sine=duration=0.1", "footage/clip.aac"]);
    fs::write(place.at("footage/clip.ale"), "Heading\n").expect("written");
    place.footage("clip.2", "testsrc2=size=320x240:rate=25");
    let tags = ["-color_primaries", "bt2020", "-color_trc", "arib-std-b67", "-colorspace", "bt2020nc"];
    let chart = ["-f", "lavfi", "-i", "smptebars=size=320x240:rate=25", "-frames:v", "2", "-c:v", "libx264"];
    place.ffmpeg(&[&chart[..], &tags, &["footage/clip.mov"]].concat());
    // Of another raster than was planned for.
    place.footage("other", "testsrc2=size=640x480:rate=25");

    let said =
        |output: &Output| [&output.stdout, &output.stderr].map(|text| String::from_utf8_lossy(text).into_owned());
    let dry = place.run(&["--dry-run"]);
    let [out, errors] = said(&dry);
    assert!(out.contains("[1/6] clip_Small of ./footage/clip.mov\n[2/6] clip_Wide of ./footage/clip.mov\n"), "{out}");
    assert!(out.ends_with("2 would be made, 0 there already, 4 failed\n"), "{out}");
    assert!(
        errors.contains("no file for other: ./footage/other.mkv has 640x480, and 320x240 was planned for"),
        "{errors}"
    );
    assert!(errors.contains("no file for gone: none of that name in ./footage holds a picture"), "{errors}");
    assert!(dry.status.code() == Some(1) && !place.at("done").exists());

    assert_eq!(place.run(&[]).status.code(), Some(1));
    let made = |name: &str| fs::metadata(place.done(name)).and_then(|file| file.modified()).expect("made");
    let colours = probed(&place.done("clip_Small"), "v:0", "stream=color_space,color_transfer,color_primaries");
    assert_eq!(colours, "bt2020nc,arib-std-b67,bt2020");
    let first = made("clip_Wide");
    fs::remove_file(place.done("clip_Small")).expect("removed");
    let [out, _] = said(&place.run(&[]));
    assert!(out.contains("clip_Wide is there already") && out.contains("clip_Small of"), "{out}");
    assert!(out.ends_with("1 made, 1 there already, 4 failed\n"), "{out}");
    assert_eq!(made("clip_Wide"), first);
    let [out, _] = said(&place.run(&["--replace"]));
    assert!(out.contains("clip_Wide of ./footage/clip.mov, which replaces the one that is there"), "{out}");
    assert_ne!(made("clip_Wide"), first);
    // Where one of a clip cannot be made, the others are, and nothing half made is left.
    fs::remove_file(place.done("clip_Small")).expect("removed");
    fs::create_dir_all(place.at("done/clip_Wide.part.mov")).expect("in the way");
    let [out, errors] = said(&place.run(&["--replace"]));
    assert!(out.ends_with("1 made, 0 there already, 5 failed\n"), "{out}{errors}");
    assert!(errors.contains("clip_Wide was not made") && place.done("clip_Small").exists(), "{errors}");
    assert!(!place.at("done/clip_Small.part.mov").exists());

    for (wrong, says) in [
        (&["convert.sh", "footage"][..], "usage: sh convert.sh"),
        (&["convert.sh", "--drye", "footage", "done"], "usage: sh convert.sh"),
        (&["convert.sh", "nowhere", "done"], "nowhere is no folder"),
    ] {
        let output = Command::new("sh").args(wrong).current_dir(&place.0).output().expect("a shell");
        assert_eq!(output.status.code(), Some(2), "{wrong:?}");
        assert!(said(&output)[1].contains(says), "{wrong:?}: {}", said(&output)[1]);
    }
    let help = Command::new("sh").args(["convert.sh", "--help"]).current_dir(&place.0).output().expect("a shell");
    assert!(said(&help)[0].contains("--replace") && said(&help)[0].contains("It does not read numbered pictures"));
}

// What is taken in a proof: the recipe asks for the same filter, whose kernel is told by what it does to a hard edge; what
// it cannot do is noted.
#[test]
fn a_filter_that_is_taken_is_the_filter_of_the_recipe() {
    let words = ["nearest", "bilinear", "catmull-rom", "mitchell", "lanczos3", "area"];
    let frames: Vec<Value> =
        (1..).zip(words).map(|(id, word)| frame(id, &format!("By {word}"), [960, 720], "25")).collect();
    let mut project = project(&[source(1, "Edge", json!({ "scan": "progressive" }))], &frames);
    let taken = |(id, word): (u32, &str)| {
        let sharpening = (word == "mitchell").then(|| json!({ "amount": "0.4" }));
        json!({ "source": 1, "frame": id, "taken": { "filter": word, "sharpening": sharpening } })
    };
    project["conversions"] = (1..).zip(words).map(taken).collect();
    let place = Place::of(&project);
    // Black left, white right, on the line between two pixels.
    place.footage("Edge", "color=black:s=160x240:r=25,format=gray,pad=320:240:0:0:white");
    place.converts(&[]);
    // The row of pixels across the edge: how many are neither black nor white, and whether some swing over the white.
    let row = |word: &str| {
        let file = place.done(&format!("Edge_By_{word}"));
        place.ffmpeg(&[
            "-i",
            file.to_str().expect("plain"),
            "-frames:v",
            "1",
            "-vf",
            "format=gray16le,crop=24:1:468:360",
            "-f",
            "rawvideo",
            "-y",
            "row",
        ]);
        let bytes = fs::read(place.at("row")).expect("a row");
        bytes.chunks_exact(2).map(|pair| u16::from_le_bytes([pair[0], pair[1]])).collect::<Vec<u16>>()
    };
    let mixed = |word: &str| {
        let row = row(word);
        let (black, white) = (row[0], row[row.len() - 1]);
        row.iter().filter(|value| value.abs_diff(black) > 600 && value.abs_diff(white) > 600).count()
    };
    assert_eq!(mixed("nearest"), 0, "pixels stay pixels");
    let rows: HashSet<Vec<u16>> = words[..5].iter().map(|word| row(word)).collect();
    assert_eq!(rows.len(), 4, "each filter mixes them otherwise, but for the two cubics");
    let script = fs::read_to_string(place.at("convert.sh")).expect("a script");
    for flags in ["neighbor", "bilinear", "bicubic", "lanczos", "area"] {
        assert!(script.contains(&format!("flags={flags},")), "{flags}");
    }
    let list = String::from_utf8(written(&package(&project), Format::Recipes, "recipes/list.tsv")).expect("UTF-8");
    let sharp = list.lines().find(|line| line.contains("By_mitchell")).expect("a line");
    assert!(
        sharp
            .contains("taken is: Mitchell, one step, sharpened 0.4 at 1 px; of that the recipe takes the filter alone"),
        "{sharp}"
    );
    assert!(sharp.contains("B = 0 and C = 0.6"), "{sharp}");
    assert!(!list.lines().any(|line| line.contains("By_area") && line.contains("taken is")), "{list}");
    let csv = String::from_utf8(written(&package(&project), Format::Csv, "conversions.csv")).expect("UTF-8");
    assert!(csv.contains("\"Mitchell, one step, sharpened 0.4 at 1 px\""), "{csv}");
    let html = String::from_utf8(written(&package(&project), Format::Html, "plan.html")).expect("UTF-8");
    assert!(html.contains(">taken</text>") && html.contains("Catmull-Rom, one step"), "the sheet says what is taken");
}
