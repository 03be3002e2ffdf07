//! Files of other writers, field by field against other readers: mkvmerge, GStreamer and PyAV write movies, ImageMagick,
//! exiftool, OpenEXR and tifffile stills.

use std::path::{Path, PathBuf};
use std::process::Command;

use ratiomet_media::{Reading, Said, read};
use serde_json::Value;

use crate::against_ffprobe::check;
use crate::made::{bytes, ffprobe, make};

/// Runs a program in a folder; `cargo xtask test` installs them all.
fn run(folder: &Path, program: &str, arguments: &[&str]) -> Vec<u8> {
    let output = Command::new(program)
        .args(arguments)
        .current_dir(folder)
        .env("PYTHONPATH", Path::new(env!("CARGO_MANIFEST_DIR")).join("../../target/python"))
        // A registry of plug-ins for these runs alone.
        .env("GST_REGISTRY", folder.join("registry"))
        .output()
        .unwrap_or_else(|error| panic!("{program}: {error}; cargo xtask test installs it"));
    let said = String::from_utf8_lossy(&output.stderr);
    assert!(output.status.success(), "{program} {arguments:?}: {said}{}", String::from_utf8_lossy(&output.stdout));
    output.stdout
}

fn reading(file: &Path) -> Reading {
    read(&bytes(file)[..]).unwrap_or_else(|failure| panic!("{}: {failure:?}", file.display()))
}

fn value<T: Clone>(said: Option<&Said<T>>) -> Option<T> {
    said.map(|said| said.value.clone())
}

fn number(value: &Value) -> Option<u32> {
    value.as_u64().and_then(|number| u32::try_from(number).ok())
}

/// A shape as a fraction, equal within what rounding of densities makes.
fn same_shape((across, down): (u32, u32), theirs: f64) -> bool {
    (f64::from(across) / f64::from(down) / theirs - 1.0).abs() < 0.001
}

/// Stills of a folder as exiftool reads them: their sizes, their turns, and the shapes of their pixels by their density.
fn against_exiftool(folder: &Path, names: &[String]) {
    let asked = ["-j", "-n", "-ImageWidth", "-ImageHeight", "-Orientation", "-XResolution", "-YResolution"];
    let asked: Vec<&str> = asked.into_iter().chain(names.iter().map(String::as_str)).collect();
    let told: Vec<Value> = serde_json::from_slice(&run(folder, "exiftool", &asked)).expect("JSON");
    assert_eq!(told.len(), names.len());
    for (name, theirs) in names.iter().zip(&told) {
        assert_eq!(theirs["SourceFile"], name.as_str());
        as_exiftool_has_it(name, &reading(&folder.join(name)), theirs);
    }
}

fn as_exiftool_has_it(name: &str, ours: &Reading, theirs: &Value) {
    assert_eq!(
        value(ours.raster.as_ref()),
        number(&theirs["ImageWidth"]).zip(number(&theirs["ImageHeight"])),
        "{name}"
    );
    let turn = match theirs["Orientation"].as_u64() {
        Some(3 | 4) => 180,
        Some(6 | 7) => 90,
        Some(5 | 8) => 270,
        _ => 0,
    };
    assert_eq!(value(ours.rotation.as_ref()).unwrap_or(0), turn, "{name}: the turn");
    if let (Some(across), Some(down)) = (theirs["XResolution"].as_f64(), theirs["YResolution"].as_f64()) {
        assert!(
            same_shape(value(ours.pixel_aspect.as_ref()).unwrap_or((1, 1)), down / across),
            "{name}: {:?}, {across} and {down} pixels to a length",
            ours.pixel_aspect
        );
    }
}

#[test]
fn stills_of_imagemagick_and_exiftool_are_read_as_exiftool_reads_them() {
    let folder = tempfile::tempdir().expect("a folder");
    let folder = folder.path();
    let mut names = Vec::new();
    for ending in ["png", "jpg", "tif", "webp", "dpx"] {
        let name = format!("plain.{ending}");
        run(folder, "convert-im6.q16", &["-size", "642x358", "gradient:red-blue", &name]);
        names.push(name);
    }
    run(folder, "convert-im6.q16", &["-size", "642x358", "plasma:", "-define", "webp:lossless=true", "lossless.webp"]);
    names.push("lossless.webp".to_owned());
    // Pixels that are not square, by their density.
    for name in ["dense.jpg", "dense.tif", "dense.png"] {
        let shape = ["-size", "642x358", "gradient:", "-units", "PixelsPerInch", "-density", "72x96", name];
        run(folder, "convert-im6.q16", &shape);
        let shape = value(reading(&folder.join(name)).pixel_aspect.as_ref()).expect("a shape");
        assert!(same_shape(shape, 4.0 / 3.0), "{name}: {shape:?}");
    }
    // Each turn that there is, written by exiftool.
    for orientation in 1..=8 {
        let turned = ["png", "jpg", "tif", "webp"].map(|ending| format!("turned-{orientation}.{ending}"));
        for name in &turned {
            let (_, ending) = name.split_once('.').expect("an ending");
            std::fs::copy(folder.join(format!("plain.{ending}")), folder.join(name)).expect("copied");
        }
        let set = format!("-Orientation={orientation}");
        let plain = ["-q", "-n", "-overwrite_original", &set];
        let arguments: Vec<&str> = plain.into_iter().chain(turned.iter().map(String::as_str)).collect();
        run(folder, "exiftool", &arguments);
        names.extend(turned);
    }
    against_exiftool(folder, &names);
}

#[test]
fn stills_of_openexr_and_tifffile_are_read_as_they_were_written() {
    let folder = tempfile::tempdir().expect("a folder");
    let folder = folder.path();
    let script = r#"
import json, numpy, OpenEXR, tifffile
picture = numpy.zeros((358, 642, 3), dtype=numpy.float16)
window = ((10, 4), (631, 353))
header = {"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage, "pixelAspectRatio": 2.0,
          "displayWindow": window, "dataWindow": ((0, 0), (641, 357))}
OpenEXR.File(header, {"RGB": picture}).write("wide.exr")
told = OpenEXR.File("wide.exr").header()
print(json.dumps({"data": [int(v) for edge in told["dataWindow"] for v in edge],
                  "display": [int(v) for edge in told["displayWindow"] for v in edge],
                  "aspect": float(told["pixelAspectRatio"])}))
tifffile.imwrite("plain.tif", picture.astype(numpy.uint16))
tifffile.imwrite("dense.tif", picture.astype(numpy.uint8), resolution=(300, 150), resolutionunit="INCH")
tifffile.imwrite("large.tif", picture.astype(numpy.uint16), bigtiff=True, compression=None)
tifffile.imwrite("motorola.tif", picture.astype(numpy.float32), byteorder=">")
"#;
    let told: Value = serde_json::from_slice(&run(folder, "python3", &["-c", script])).expect("JSON");
    let exr = reading(&folder.join("wide.exr"));
    assert_eq!(told["data"], serde_json::json!([0, 0, 641, 357]));
    assert_eq!(value(exr.raster.as_ref()), Some((642, 358)));
    assert_eq!(told["display"], serde_json::json!([10, 4, 631, 353]));
    assert_eq!(value(exr.insets.as_ref()), Some([10, 4, 10, 4]));
    assert_eq!((told["aspect"].as_f64(), value(exr.pixel_aspect.as_ref())), (Some(2.0), Some((2, 1))));
    against_exiftool(folder, &["plain.tif", "dense.tif", "large.tif", "motorola.tif"].map(str::to_owned));
}

#[test]
fn matroska_of_mkvmerge_is_read_as_mkvmerge_identifies_it() {
    let folder = tempfile::tempdir().expect("a folder");
    let folder = folder.path();
    make(folder, "in.mp4", (720, 576), "25", &["-frames:v", "12", "-c:v", "libx264", "-pix_fmt", "yuv420p"]);
    let cases: [&[&str]; 6] = [
        &[],
        &["--aspect-ratio-factor", "0:12/11"],
        &["--display-dimensions", "0:1024x576"],
        &["--cropping", "0:8,2,4,6"],
        &["--default-duration", "0:24000/1001p", "--fix-bitstream-timing-information", "0:1"],
        &["--colour-range", "0:2"],
    ];
    for arguments in cases {
        run(folder, "mkvmerge", &[&["-q", "-o", "out.mkv"], arguments, &["in.mp4"]].concat());
        let told: Value = serde_json::from_slice(&run(folder, "mkvmerge", &["-J", "out.mkv"])).expect("JSON");
        let told = &told["tracks"][0]["properties"];
        let ours = reading(&folder.join("out.mkv"));
        let pair = |key: &str| {
            let (a, b) = told[key].as_str()?.split_once('x')?;
            Some((a.parse::<u32>().ok()?, b.parse::<u32>().ok()?))
        };
        assert_eq!(value(ours.raster.as_ref()), pair("pixel_dimensions"), "{arguments:?}");
        let crop: Option<Vec<u32>> =
            told["cropping"].as_str().map(|crop| crop.split(',').filter_map(|side| side.parse().ok()).collect());
        assert_eq!(value(ours.insets.as_ref()).map(|insets| insets.to_vec()), crop, "{arguments:?}");
        // What is displayed is what the crop leaves.
        let (across, down) = pair("display_dimensions").expect("a display size");
        let [left, top, right, bottom] = value(ours.insets.as_ref()).unwrap_or_default();
        let theirs =
            f64::from(across) / f64::from(down) * f64::from(576 - top - bottom) / f64::from(720 - left - right);
        assert!(
            same_shape(value(ours.pixel_aspect.as_ref()).unwrap_or((1, 1)), theirs),
            "{arguments:?}: {:?} and {theirs}",
            ours.pixel_aspect
        );
        let (above, below) = value(ours.rate.as_ref()).expect("a rate");
        let nanoseconds = told["default_duration"].as_f64().expect("a duration");
        assert!(
            (f64::from(below) / f64::from(above) * 1e9 - nanoseconds).abs() < 2.0,
            "{arguments:?}: {above}/{below}"
        );
        if arguments.contains(&"--colour-range") {
            assert_eq!(value(ours.full_range.as_ref()), Some(true));
        }
    }
}

#[test]
fn movies_of_gstreamer_are_read_as_ffprobe_reads_them() {
    let folder = tempfile::tempdir().expect("a folder");
    let folder = folder.path();
    let cases = [
        ("square.mov", "30000/1001", "1/1", "jpegenc ! qtmux"),
        ("tape.mov", "25/1", "12/11", "jpegenc ! qtmux"),
        ("tape.mkv", "24000/1001", "16/15", "jpegenc ! matroskamux"),
        ("tape.webm", "25/1", "4/3", "vp8enc ! webmmux"),
        ("plain.avi", "25/1", "1/1", "jpegenc ! avimux"),
        ("tape.y4m", "25/1", "12/11", "y4menc"),
    ];
    for (name, rate, shape, coded) in cases {
        let caps = format!("video/x-raw,format=I420,width=640,height=360,framerate={rate},pixel-aspect-ratio={shape}");
        let line = format!("-q videotestsrc num-buffers=9 ! {caps} ! {coded} ! filesink location={name}");
        run(folder, "gst-launch-1.0", &line.split(' ').collect::<Vec<_>>());
        let file = folder.join(name);
        let mut ours = reading(&file);
        // Its Matroska files say narrow range of JPEG, which has none.
        let told = ours.remarks.pop_if(|remark| remark.ends_with("JPEG is decoded as full, which is used."));
        assert_eq!(told.is_some(), name == "tape.mkv", "{name}");
        check(name, &ours, &ffprobe(&file));
    }
}

#[test]
fn movies_of_pyav_are_read_as_ffprobe_reads_them() {
    let folder = tempfile::tempdir().expect("a folder");
    let folder = folder.path();
    let script = r#"
import av, fractions
for name, codec, rate, shape, form in [
    ("wide.mp4", "mpeg4", "24000/1001", "4/3", "yuv420p"),
    ("tape.mov", "prores_ks", "25", "16/15", "yuv422p10le"),
    ("plain.mkv", "ffv1", "50", "1", "yuv420p"),
    ("news.mxf", "mpeg2video", "25", "1", "yuv422p"),
]:
    with av.open(name, "w") as container:
        stream = container.add_stream(codec, rate=fractions.Fraction(rate))
        stream.width, stream.height, stream.pix_fmt = 1920, 1080, form
        stream.codec_context.sample_aspect_ratio = fractions.Fraction(shape)
        for _ in range(3):
            for packet in stream.encode(av.VideoFrame(1920, 1080, form)):
                container.mux(packet)
        for packet in stream.encode():
            container.mux(packet)
"#;
    run(folder, "python3", &["-c", script]);
    for name in ["wide.mp4", "tape.mov", "plain.mkv", "news.mxf"] {
        let file: PathBuf = folder.join(name);
        check(name, &reading(&file), &ffprobe(&file));
    }
}
