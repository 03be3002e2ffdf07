//! Each format by itself, and the archive of all.

use std::io::{Cursor, Read};
use std::path::Path;
use std::process::Command;
use std::sync::Arc;

use ratiomet_core::project::{Footage, Packaged};
use ratiomet_handoff::{Format, Order, Outcomes, Written};
use serde_json::Value;

use crate::packages::{all, files, order, package, small, written, zipped};

/// An archive of the small project, and what its manifest says.
pub fn opened(archive: Vec<u8>) -> (zip::ZipArchive<Cursor<Vec<u8>>>, Value) {
    let mut zip = zip::ZipArchive::new(Cursor::new(archive)).expect("a ZIP file");
    let mut manifest = String::new();
    zip.by_name("Small_kiln/manifest.json").expect("a manifest").read_to_string(&mut manifest).expect("text");
    (zip, serde_json::from_str(&manifest).expect("JSON"))
}

#[test]
fn the_same_project_gives_the_same_bytes() {
    let (one, other) = (package(&small()), package(&small()));
    let write = |package| zipped(package, &all());
    let archive = write(&one);
    assert!(archive == write(&other), "two archives of the same project differ");
    // The manifest names every other file, its length and its hash.
    let (mut zip, manifest) = opened(archive);
    let files = manifest["files"].as_array().expect("files");
    assert_eq!(files.len() + 1, zip.len());
    for file in files {
        let path = format!("Small_kiln/{}", file["path"].as_str().expect("a path"));
        let entry = zip.by_name(&path).unwrap_or_else(|_| panic!("{path} is not there"));
        assert_eq!(entry.size(), file["bytes"].as_u64().expect("a length"), "{path}");
    }
    let planned: Vec<_> = order(&one, &all()).paths(&|| true).into_iter().map(|(path, _)| path).collect();
    let listed: Vec<_> = files.iter().map(|file| file["path"].as_str().expect("a path")).collect();
    assert_eq!(listed, planned, "what is announced is what is written");
}

#[test]
fn work_ends_when_it_is_told_to() {
    let package = package(&small());
    let stopped = order(&package, &all()).write(&|| false, Cursor::new(Vec::new()));
    assert_eq!(stopped.expect_err("stopped"), "");
}

/// Runs a few lines of Python with the libraries that the formats' own societies publish.
pub fn python(lines: &str, file: &Path) -> String {
    let libraries = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../target/python");
    let output = Command::new("python3")
        .args(["-c", lines])
        .arg(file)
        .env("PYTHONPATH", libraries)
        .output()
        .expect("python3 is installed");
    let said = String::from_utf8_lossy(&output.stderr).into_owned();
    assert!(output.status.success(), "{said}\n(cargo xtask test installs the libraries into target/python)");
    String::from_utf8(output.stdout).expect("UTF-8")
}

// The reference library of the list's own society, asc-fdl 1.0.2 from PyPI, reads and validates it.
#[test]
fn the_reference_library_validates_the_framing_decision_list() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("framing.fdl");
    std::fs::write(&file, written(&package(&small()), Format::Fdl, "framing.fdl")).expect("written");
    let lines = "import fdl, sys\n\
                 f = fdl.read_from_file(sys.argv[1])\n\
                 c = [x.canvases[0] for x in f.contexts]\n\
                 print(len(c), len(f.framing_intents), len(f.canvas_templates), f.contexts[2].clip_id.clip_name)\n\
                 d = c[0].framing_decisions[1]\n\
                 print(c[0].anamorphic_squeeze, d.dimensions.width, d.dimensions.height, d.anchor_point.x)\n";
    // 960 x 720 at 2x is 2.667; of it 2.00 shows: 720 of 960 columns, 120 off each side.
    assert_eq!(python(lines, &file), "3 3 3 P007 Phone\n2.0 720.0 720.0 120.0\n");
}

// The OpenTimelineIO package from PyPI, 0.18.1, reads what is written.
#[test]
fn the_reference_library_reads_the_timeline() {
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("sources.otio");
    std::fs::write(&file, written(&package(&small()), Format::Otio, "sources.otio")).expect("written");
    let lines = "import opentimelineio as o, sys\n\
                 t = o.adapters.read_from_file(sys.argv[1])\n\
                 for c in t.tracks[0]:\n    b = c.media_reference.available_image_bounds\n    \
                 p = c.metadata['ratiomet']['placements']\n    \
                 print(c.name, b.max.x, b.max.y, c.source_range.start_time.rate, len(p), p[0]['frame'])\n";
    assert_eq!(
        python(lines, &file),
        "A014 Furnace 960.0 720.0 24.0 3 Scope\nT1987 Tape 720.0 576.0 25.0 3 Scope\nP007 Phone 640.0 360.0 29.97002997002997 3 Scope\n"
    );
}

// Where the files are known, timelines and lists refer to them.
#[test]
fn the_reference_libraries_find_the_files_of_the_footage() {
    let mut project = small();
    project["format_version"] = serde_json::json!(5);
    let origin = |file: &str, frames: Option<u32>, footage: bool| serde_json::json!({ "file": file, "footage": footage, "frames": frames });
    project["sources"][0]["values"]["origin"] = origin("day 3/A014 Furnace.mov", Some(240), true);
    project["sources"][1]["values"]["origin"] = origin("plates/T1987.####.exr 101-148", Some(48), true);
    project["sources"][2]["values"]["origin"] = origin("slate.csv", None, false);
    let package = package(&project);
    let folder = tempfile::tempdir().expect("a folder");
    let file = folder.path().join("sources.otio");
    std::fs::write(&file, written(&package, Format::Otio, "sources.otio")).expect("written");
    let lines = "import opentimelineio as o, sys\n\
                 t = o.adapters.read_from_file(sys.argv[1])\n\
                 a, b, c = [x.media_reference for x in t.tracks[0]]\n\
                 print(a.target_url, a.available_range.duration.value, a.available_range.duration.rate)\n\
                 print(b.target_url_base, b.name_prefix, b.start_frame, b.frame_zero_padding, b.name_suffix, b.available_range.duration.value)\n\
                 print(c.is_missing_reference)\n";
    assert_eq!(python(lines, &file), "day%203/A014%20Furnace.mov 240.0 24.0\nplates/ T1987. 101 4 .exr 48.0\nTrue\n");
    let file = folder.path().join("framing.fdl");
    std::fs::write(&file, written(&package, Format::Fdl, "framing.fdl")).expect("written");
    let lines = "import fdl, sys\nf = fdl.read_from_file(sys.argv[1])\nprint(f.contexts[0].clip_id.file)\n";
    assert_eq!(python(lines, &file), "A014 Furnace.mov\n");
}

#[test]
fn every_number_stands_in_the_tables() {
    let package = package(&small());
    let csv = String::from_utf8(written(&package, Format::Csv, "conversions.csv")).expect("UTF-8");
    let mut reader = csv::Reader::from_reader(csv.as_bytes());
    let heads = reader.headers().expect("headings").clone();
    let rows: Vec<_> = reader.records().map(|row| row.expect("a row")).collect();
    assert_eq!(rows.len(), 9);
    let cell = |row: usize, head: &str| {
        let at = heads.iter().position(|each| each == head).unwrap_or_else(|| panic!("no column {head}"));
        rows[row].get(at).expect("a cell").to_owned()
    };
    assert_eq!((cell(0, "zoom").as_str(), cell(0, "shift x").as_str()), ("1.05", "-12.5"));
    assert_eq!(cell(1, "window width"), "720");
    assert!(cell(1, "filter").starts_with("crop=720:720:120:0,scale=640:320"), "{}", cell(1, "filter"));
    let json: Value = serde_json::from_slice(&written(&package, Format::Json, "conversions.json")).expect("JSON");
    assert_eq!(json["conversions"][1]["plan"]["window"]["width"]["exact"], "720");
    assert_eq!(json["conversions"].as_array().map(Vec::len), Some(9));
    assert_eq!(json["frames"][1]["signals"]["bars"], serde_json::json!([0, 20, 0, 20]));
}

// Table E-1 of ITU-T H.264, `clap` of ISO/IEC 14496-12, codes of SMPTE ST 2016-1: all from memory.
#[test]
fn frames_signal_what_their_standards_ask_for() {
    let mut project = small();
    project["frames"] = serde_json::json!([
        { "id": 1, "values": { "name": "Full", "geometry": { "raster": [1920, 1080] }, "rate": "25" } },
        { "id": 2, "values": { "name": "Wide", "geometry": { "raster": [1920, 1080], "picture_ratio": "2.39" } } },
        { "id": 3, "values": { "name": "Pillar", "geometry": { "raster": [1920, 1080], "picture_ratio": "4:3" } } },
        { "id": 4, "values": { "name": "Half way", "geometry": { "raster": [1920, 1080], "picture_ratio": "14:9" } } },
        { "id": 5, "values": { "name": "Tape", "geometry": { "raster": [704, 576], "pixel_aspect": "12:11", "picture_ratio": "16:9" } } },
        { "id": 6, "values": { "name": "Upright", "geometry": { "raster": [1080, 1920], "pixel_aspect": "1.01" } } },
    ]);
    project["conversions"] = serde_json::json!([]);
    let csv = String::from_utf8(written(&package(&project), Format::Signals, "signals.csv")).expect("UTF-8");
    let lines: Vec<_> = csv.lines().skip(1).collect();
    assert_eq!(
        lines,
        [
            "Full,1920,1080,1,1:1,1920/1,1080/1,0/1,0/1,1000,,,,,,,,,4,4",
            "Wide,1920,1080,1,1:1,1920/1,804/1,0/1,0/1,0100,0,138,0,138,,138,,943,,",
            "Pillar,1920,1080,1,1:1,1440/1,1080/1,0/1,0/1,1001,240,0,240,0,240,,1681,,,",
            "Half way,1920,1080,1,1:1,1680/1,1080/1,0/1,0/1,1011,120,0,120,0,120,,1801,,,",
            "Tape,704,576,2,12:11,704/1,432/1,0/1,0/1,1010,0,72,0,72,,72,,505,,",
            "Upright,1080,1920,255,101:100,1080/1,1920/1,0/1,0/1,,,,,,,,,,,",
        ]
    );
}

// A picture with bars of its own signals them as a masked frame does: 4:3 in a frame of 16:9.
#[test]
fn a_picture_with_bars_of_its_own_signals_them() {
    let mut project = small();
    project["project"]["method"] = serde_json::json!("fit");
    project["sources"] =
        serde_json::json!([{ "id": 1, "values": { "name": "A", "geometry": { "raster": [1440, 1080] } } }]);
    project["frames"] =
        serde_json::json!([{ "id": 1, "values": { "name": "HD", "geometry": { "raster": [1920, 1080] } } }]);
    project["conversions"] = serde_json::json!([]);
    let json: Value =
        serde_json::from_slice(&written(&package(&project), Format::Json, "conversions.json")).expect("JSON");
    let expected =
        serde_json::json!({ "active_format": "1001", "bars": [240, 0, 240, 0], "bar_data": [240, null, 1681, null] });
    assert_eq!(json["conversions"][0]["picture"], expected);
    project["project"]["method"] = serde_json::json!("fill");
    let json: Value =
        serde_json::from_slice(&written(&package(&project), Format::Json, "conversions.json")).expect("JSON");
    assert_eq!(json["conversions"][0]["picture"], Value::Null);
}

/// The pixels of a picture: its width, and red, green, blue and what is clear of each.
fn pixels(file: &[u8]) -> (usize, Vec<[u8; 4]>) {
    let mut decoder = png::Decoder::new(std::io::Cursor::new(file));
    decoder.set_transformations(png::Transformations::ALPHA);
    let mut reader = decoder.read_info().expect("a picture");
    let mut bytes = vec![0; reader.output_buffer_size().expect("a size")];
    let frame = reader.next_frame(&mut bytes).expect("pixels");
    let all = bytes[..frame.buffer_size()].chunks_exact(4).map(|four| [four[0], four[1], four[2], four[3]]);
    (frame.width as usize, all.collect())
}

// Who frames by a chart frames by its hairlines: they lie in the outermost pixels of the window, alone.
#[test]
fn charts_have_hairlines_in_the_outermost_pixels_and_black_bars() {
    let mut project = small();
    // The same camera twice: one drawing under two names.
    let twin = project["sources"][2].clone();
    project["sources"][0] = twin.clone();
    project["sources"][0]["id"] = serde_json::json!(1);
    project["sources"][0]["values"]["name"] = serde_json::json!("P008 Phone");
    project["conversions"] = serde_json::json!([]);
    let package = package(&project);
    let one = written(&package, Format::ChartsPng, "charts/camera_P008_Phone.png");
    assert_eq!(one, written(&package, Format::ChartsPng, "charts/camera_P007_Phone.png"));
    let tape = written(&package, Format::ChartsPng, "charts/camera_T1987_Tape.png");
    let (width, all) = pixels(&tape);
    // The tape fills the scope with all of its width: 702 stored columns from 8 on.
    let of = |frame: usize| {
        let found = package.conversions().find(|each| each.source == 1 && each.frame == frame).expect("there");
        let window = found.conversion.plan.window.as_ref().expect("a window");
        [window.x.to_f64(), window.y.to_f64(), window.size.width.to_f64(), window.size.height.to_f64()]
    };
    let [x, y, across, down] = of(0);
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "inside the raster")]
    let (left, middle, top) = (x.floor() as usize, (x + across * 0.37) as usize, y.floor() as usize);
    let at = |x: usize, y: usize| all[y * width + x];
    let dark = |pixel: [u8; 4]| u16::from(pixel[0]) + u16::from(pixel[1]) + u16::from(pixel[2]) < 500;
    assert!(dark(at(middle, top)) && !dark(at(middle, top - 1)), "{:?} {:?}", at(middle, top), at(middle, top - 1));
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "inside the raster")]
    let row = (y + down * 0.61) as usize;
    assert!(dark(at(left, row)) && !dark(at(left + 1, row)), "{:?} {:?}", at(left, row), at(left + 1, row));
    // The mask of a frame is black, and what is not drawn on is clear.
    let (width, all) = pixels(&written(&package, Format::ChartsPng, "charts/overlay_Masked.png"));
    assert_eq!((all[5 * width + 300], all[100 * width + 100]), ([0, 0, 0, 255], [0, 0, 0, 0]));
}

#[test]
fn sheets_are_pages_with_their_words() {
    let package = package(&small());
    let pdf = written(&package, Format::Pdf, "plan.pdf");
    let document = lopdf::Document::load_mem(&pdf).expect("a PDF file");
    // A board, the open points, and a sheet for each of three sources.
    assert_eq!(document.get_pages().len(), 5);
    let html = String::from_utf8(written(&package, Format::Html, "plan.html")).expect("UTF-8");
    assert_eq!(html.matches("<svg ").count(), 5);
    for words in [
        "A014 Furnace",
        "Scope  1024x428",
        "percent of native",
        "open stops",
        "2026-11-26",
        "5 / 5",
        "T1987 Tape is interlaced: 3 frames",
    ] {
        assert!(html.contains(words), "{words} is not on the sheets");
    }
    assert!(
        !html.contains("http://")
            || html.matches("http://").count() == html.matches("http://www.w3.org/2000/svg").count()
    );
}

// What no face has is named by its number: nothing is ever the empty box of a letter that is missing.
#[test]
fn names_of_every_script_are_readable() {
    let mut project = small();
    project["sources"][0]["values"]["name"] = "海の窯 חוף ძველი แก้ว 🔥".into();
    let package = package(&project);
    let carries = |package: &_| {
        let document = lopdf::Document::load_mem(&written(package, Format::Pdf, "plan.pdf")).expect("a PDF file");
        let fonts = document.objects.values().filter_map(|object| object.as_dict().ok()?.get(b"BaseFont").ok());
        fonts.filter_map(|name| name.as_name().ok()).any(|name| String::from_utf8_lossy(name).contains("Unifont"))
    };
    assert!(carries(&package) && !carries(&self::package(&small())), "sheets carry the letters that they need");
    let html = String::from_utf8(written(&package, Format::Html, "plan.html")).expect("UTF-8");
    assert!(html.contains("海の窯") && html.contains("url(data:font/woff2;base64,"), "the page carries the letters");
    assert!(html.contains("[U+1F525]"), "what no face has is named");
    let plain = String::from_utf8(written(&self::package(&small()), Format::Html, "plan.html")).expect("UTF-8");
    assert!(!plain.contains("woff2"), "a page that needs no other letters does not carry them");
    // As pictures: two names of as many letters come out differently, which boxes would not.
    let chart = |name: &str| {
        let mut project = small();
        project["sources"][0]["values"]["name"] = name.into();
        let files = order(&self::package(&project), &[Format::ChartsPng]).files(&|| true);
        pixels(&files.expect("written")[0].bytes).1
    };
    assert_ne!(chart("海窯"), chart("窯海"));
}

#[test]
fn a_picture_that_is_too_large_is_not_announced_and_its_absence_is() {
    let mut project = small();
    project["frames"][0]["values"]["geometry"]["raster"] = serde_json::json!([65_536, 65_536]);
    let package = package(&project);
    let formats = [Format::ChartsPng, Format::ChartsSvg];
    let planned: Vec<_> = order(&package, &formats).paths(&|| true).into_iter().map(|(path, _)| path).collect();
    let files = files(&package, &formats);
    let written: Vec<_> = files.iter().map(|file| file.path.clone()).collect();
    assert_eq!(written, planned);
    let left: Vec<_> = order(&package, &formats).left_out(&|| true).into_iter().map(|left| left.path).collect();
    assert_eq!(left, ["charts/leader_Scope.png", "charts/overlay_Scope.png"]);
    let archive = zipped(&package, &[Format::ChartsPng]);
    let (_, manifest) = opened(archive);
    assert!(
        manifest["left_out"][0]["why"].as_str().expect("a reason").contains("65536x65536 is too large"),
        "{manifest}"
    );
    // As SVG it is there, at its true size.
    let svg = files.iter().find(|file| file.path == "charts/leader_Scope.svg").expect("a chart");
    assert!(svg.bytes.starts_with(b"<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"65536\" height=\"65536\""));
}

#[test]
fn charts_have_the_size_of_what_they_are_for() {
    let package = package(&small());
    let files = files(&package, &[Format::ChartsPng, Format::ChartsSvg]);
    let size = |path: &str| {
        let file = files.iter().find(|file| file.path == path).unwrap_or_else(|| panic!("no {path}"));
        let reader = png::Decoder::new(Cursor::new(&file.bytes)).read_info().expect("a PNG file");
        (reader.info().width, reader.info().height)
    };
    assert_eq!(size("charts/camera_A014_Furnace.png"), (960, 720));
    assert_eq!(size("charts/leader_Scope.png"), (1024, 428));
    // An overlay is clear where nothing is drawn; its mask is not.
    let overlay = files.iter().find(|file| file.path == "charts/overlay_Masked.png").expect("an overlay");
    let mut decoder = png::Decoder::new(Cursor::new(&overlay.bytes));
    decoder.set_transformations(png::Transformations::EXPAND);
    let mut reader = decoder.read_info().expect("a PNG file");
    let mut pixels = vec![0; reader.output_buffer_size().expect("a size")];
    let info = reader.next_frame(&mut pixels).expect("its pixels");
    assert_eq!((info.width, info.height, info.color_type), (640, 360, png::ColorType::Rgba));
    let alpha = |x: usize, y: usize| pixels[(y * 640 + x) * 4 + 3];
    assert_eq!((alpha(500, 200), alpha(500, 10), alpha(320, 180)), (0, 255, 255));
    let svg = files.iter().find(|file| file.path == "charts/leader_Masked.svg").expect("a leader");
    let svg = String::from_utf8(svg.bytes.clone()).expect("UTF-8");
    for words in ["width=\"640\" height=\"360\"", "EBU R 95 action", "picture 2.00", "<ellipse"] {
        assert!(svg.contains(words), "{words}: {svg}");
    }
}

/// Every conversion comes out gray.
struct Gray;

impl Outcomes for Gray {
    fn lacks(&self, packaged: &Packaged) -> Option<String> {
        (packaged.source == 2).then(|| "its source has no still".to_owned())
    }

    fn png(&self, packaged: &Packaged) -> Result<Vec<u8>, String> {
        if packaged.frame == 1 { Err("the still is gone".to_owned()) } else { Ok(vec![7; 5]) }
    }

    fn overlay(&self, _: &Footage, _: bool) -> Result<Vec<u8>, String> {
        Err("no pictures here".to_owned())
    }

    fn small(&self, packaged: &Packaged, _: u32) -> Option<Arc<Vec<u8>>> {
        // A JPEG file (ITU-T T.81) of 16 by 16 gray samples.
        const JPEG: &[u8] = include_bytes!("gray.jpg");
        self.lacks(packaged).is_none().then(|| Arc::new(JPEG.to_vec()))
    }

    fn stored(&self, packaged: &Packaged, side: u32) -> Option<Arc<Vec<u8>>> {
        self.small(packaged, side)
    }
}

#[test]
fn outcomes_are_written_where_there_is_a_still_and_what_is_missing_is_said() {
    let package = package(&small());
    let of = |formats| Order { package: &package, formats, outcomes: &Gray, pictures: false };
    let order = of(&[Format::Outcomes]);
    let planned: Vec<_> = order.paths(&|| true).into_iter().map(|(path, _)| path).collect();
    assert_eq!(planned.len(), 6);
    assert_eq!(planned[0], "outcomes/A014_Furnace_Scope.png");
    let left: Vec<_> = order.left_out(&|| true).into_iter().map(|left| (left.path, left.why)).collect();
    assert_eq!(left.len(), 3);
    assert_eq!(left[0], ("outcomes/P007_Phone_Scope.png".to_owned(), "its source has no still".to_owned()));
    assert_eq!(order.files(&|| true).expect_err("one fails"), "A014 Furnace into Masked: the still is gone");
    assert!(!Format::usual().contains(&Format::Outcomes), "they are only for those who ask for them");
}

#[test]
fn charts_show_pictures_when_asked() {
    let mut project = small();
    project["sources"][2] = project["sources"][0].clone();
    project["sources"][2]["id"] = serde_json::json!(3);
    project["sources"][2]["values"]["name"] = serde_json::json!("A015 Furnace");
    let package = package(&project);
    let formats = &[Format::ChartsSvg, Format::ChartsPng];
    let files = |pictures| {
        let order = Order { package: &package, formats, outcomes: &Gray, pictures };
        order.files(&|| true).expect("charts")
    };
    let [plain, pictured] = [files(false), files(true)];
    let of = |files: &[Written], path: &str| {
        files.iter().find(|file| file.path == path).unwrap_or_else(|| panic!("no {path}")).bytes.clone()
    };
    let svg = |files: &[Written], name: &str| {
        let svg = String::from_utf8(of(files, &format!("charts/{name}.svg"))).expect("UTF-8");
        (svg.matches("data:image/jpeg;base64,").count(), svg.contains("picture of A014 Furnace"))
    };
    for (name, shown) in [
        ("camera_A014_Furnace", (1, false)),
        ("camera_T1987_Tape", (1, false)),
        // Without a still it keeps the drawing.
        ("camera_A015_Furnace", (0, false)),
        ("leader_Scope", (1, true)),
        ("overlay_Scope", (0, false)),
    ] {
        assert_eq!((svg(&plain, name), svg(&pictured, name)), ((0, false), shown), "{name}");
    }
    // Between the lines the gray is seen, pale; lines and bars are as they were.
    let chart = |files: &[Written]| pixels(&of(files, "charts/leader_Masked.png"));
    let ((width, before), (_, after)) = (chart(&plain), chart(&pictured));
    let (at, masked) = (100 * width + 101, 5 * width + 300);
    assert_eq!((before[at], before[masked]), ([255; 4], [0, 0, 0, 255]));
    let [r, g, b, _] = after[at];
    assert!(r == g && g == b && (150..250).contains(&r), "{:?}", after[at]);
    assert_eq!(after[masked], [0, 0, 0, 255]);
}

#[test]
fn plan_sheets_show_pictures_when_asked() {
    let package = package(&small());
    let sheets = |pictures| {
        let order = Order { package: &package, formats: &[Format::Html, Format::Pdf], outcomes: &Gray, pictures };
        let files = order.files(&|| true).expect("sheets");
        files.into_iter().map(|file| file.bytes).collect::<Vec<_>>()
    };
    let [plain, pictured] = [sheets(false), sheets(true)];
    let images = |html: &[u8]| String::from_utf8_lossy(html).matches("data:image/jpeg;base64,").count();
    assert_eq!((images(&plain[0]), images(&pictured[0])), (0, 6), "a source without a still keeps its drawing");
    let document = lopdf::Document::load_mem(&pictured[1]).expect("a PDF");
    let pictures = document.objects.values().filter(|object| {
        object.as_stream().is_ok_and(|stream| {
            stream.dict.get(b"Subtype").is_ok_and(|kind| kind.as_name().is_ok_and(|name| name == b"Image"))
        })
    });
    // The same picture is kept once.
    assert_eq!(pictures.count(), 1);
}

/// So many sources in twelve frames, all plain.
fn many(sources: usize) -> serde_json::Value {
    let geometry = |width: usize| serde_json::json!({ "raster": [width, 1080] });
    let record = |at: usize, name: &str, width: usize| serde_json::json!({ "id": at, "values": { "name": format!("{name}{at}"), "geometry": geometry(width) } });
    serde_json::json!({
        "format": "ratiomet project",
        "format_version": 1,
        "project": { "name": "Many", "method": "fill" },
        "sources": (1..=sources).map(|at| record(at, "C", 1920)).collect::<Vec<_>>(),
        "frames": (1..=12).map(|at| record(at, "F", 1280 + 64 * at)).collect::<Vec<_>>(),
        "conversions": [],
    })
}

#[test]
fn too_many_sheets_are_not_announced_and_their_absence_is() {
    let package = package(&many(2_001));
    let formats = [Format::Html, Format::Pdf, Format::Signals];
    let order = order(&package, &formats);
    assert_eq!(order.paths(&|| true), [("signals.csv".to_owned(), Format::Signals)]);
    let left_out = order.left_out(&|| true);
    assert_eq!(left_out.iter().map(|left| &*left.path).collect::<Vec<_>>(), ["plan.html", "plan.pdf"]);
    assert!(left_out[0].why.contains("24000 conversions, and these are 24012"), "{}", left_out[0].why);
    assert_eq!(files(&package, &formats).len(), 1);
}

#[test]
fn work_ends_in_the_middle_of_a_file() {
    use std::sync::atomic::{AtomicUsize, Ordering};
    let package = package(&many(40));
    use Format::{ChartsSvg, Csv, Fdl, Html, Json, Otio, Recipes};
    for format in [Csv, Json, Fdl, Otio, Recipes, Html, ChartsSvg] {
        let formats = [format];
        let order = order(&package, &formats);
        let all = AtomicUsize::new(0);
        let count = || all.fetch_add(1, Ordering::Relaxed) < usize::MAX;
        assert!(!order.files(&count).expect("written").is_empty());
        // It is told of enough steps to be ended anywhere, and of as many as it says.
        let all = all.into_inner();
        assert!(all >= 40 && all <= order.steps() + 8, "{format:?}: {all} steps of {}", order.steps());
        let asked = AtomicUsize::new(0);
        let half = || asked.fetch_add(1, Ordering::Relaxed) < all / 2;
        let mut archive = std::io::Cursor::new(Vec::new());
        assert_eq!(order.write(&half, &mut archive), Err(String::new()), "{format:?}");
        assert!(asked.into_inner() <= all / 2 + 4, "{format:?} goes on");
    }
}
