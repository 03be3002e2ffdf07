//! Field by field against ffprobe and MediaInfo.

use ratiomet_media::{Failure, Reading, Said, Slices, read};
use serde_json::Value;

use crate::made::{bytes, ffprobe, make, mediainfo};

type Case = (&'static str, (u32, u32), &'static str, &'static [&'static str]);

/// Containers and codings, sample aspects, turns, rates, scans, ranges, odd sizes.
const CASES: &[Case] = &[
    ("plain.mp4", (640, 360), "25", &["-frames:v", "12", "-c:v", "libx264", "-pix_fmt", "yuv420p"]),
    (
        "tape.mp4",
        (720, 576),
        "25",
        &["-frames:v", "12", "-vf", "setsar=12/11", "-c:v", "libx264", "-pix_fmt", "yuv420p"],
    ),
    (
        "ntsc.mp4",
        (720, 480),
        "30000/1001",
        &["-frames:v", "12", "-vf", "setsar=10/11", "-c:v", "libx264", "-pix_fmt", "yuv420p"],
    ),
    ("film.mov", (960, 400), "24000/1001", &["-frames:v", "12", "-vf", "setsar=2/1", "-c:v", "prores_ks"]),
    ("turned.mp4", (640, 360), "30", &["-frames:v", "6", "-c:v", "libx264", "-pix_fmt", "yuv420p"]),
    ("upside.mov", (640, 360), "50", &["-frames:v", "6", "-c:v", "mjpeg"]),
    ("other.mov", (640, 360), "60000/1001", &["-frames:v", "6", "-c:v", "prores_ks"]),
    ("odd.mp4", (641, 359), "24", &["-frames:v", "6", "-c:v", "libx264", "-pix_fmt", "yuv444p"]),
    (
        "full.mp4",
        (640, 360),
        "25",
        &[
            "-frames:v",
            "6",
            "-vf",
            "scale=out_range=full",
            "-c:v",
            "libx264",
            "-pix_fmt",
            "yuv420p",
            "-color_range",
            "pc",
        ],
    ),
    (
        "fields.mov",
        (720, 576),
        "25",
        &["-frames:v", "6", "-vf", "setsar=16/11,setfield=tff", "-c:v", "prores_ks", "-flags", "+ildct"],
    ),
    ("late.mp4", (320, 180), "25", &["-frames:v", "50", "-c:v", "libx264", "-pix_fmt", "yuv420p"]),
    (
        "early.mp4",
        (320, 180),
        "25",
        &["-frames:v", "50", "-c:v", "libx264", "-pix_fmt", "yuv420p", "-movflags", "+faststart"],
    ),
    (
        "pieces.mp4",
        (320, 180),
        "25",
        &["-frames:v", "50", "-c:v", "libx264", "-pix_fmt", "yuv420p", "-movflags", "frag_keyframe+empty_moov"],
    ),
    (
        "sound.mp4",
        (320, 180),
        "25",
        &["-f", "lavfi", "-i", "sine=d=1", "-frames:v", "25", "-c:v", "libx264", "-pix_fmt", "yuv420p", "-c:a", "aac"],
    ),
    ("squeezed.mkv", (1440, 1080), "24", &["-frames:v", "6", "-vf", "setsar=4/3", "-c:v", "ffv1"]),
    ("plain.mkv", (641, 359), "120", &["-frames:v", "6", "-c:v", "ffv1"]),
    (
        "wide.webm",
        (640, 360),
        "30000/1001",
        &["-frames:v", "6", "-vf", "setsar=3/2", "-c:v", "libvpx-vp9", "-pix_fmt", "yuv420p"],
    ),
    (
        "range.mkv",
        (640, 360),
        "25",
        &["-frames:v", "6", "-c:v", "libx264", "-pix_fmt", "yuv420p", "-color_range", "pc"],
    ),
    (
        "broadcast.mxf",
        (1920, 1080),
        "25",
        &["-frames:v", "6", "-c:v", "mpeg2video", "-pix_fmt", "yuv422p", "-b:v", "50M"],
    ),
    (
        "wide.mxf",
        (720, 576),
        "25",
        &["-frames:v", "6", "-vf", "setsar=16/11", "-c:v", "mpeg2video", "-pix_fmt", "yuv422p"],
    ),
    (
        "hevc.mp4",
        (640, 362),
        "30000/1001",
        &["-frames:v", "9", "-vf", "setsar=4/3", "-c:v", "libx265", "-pix_fmt", "yuv420p"],
    ),
    (
        "range-hevc.mkv",
        (640, 360),
        "25",
        &[
            "-frames:v",
            "9",
            "-c:v",
            "libx265",
            "-x265-params",
            "range=full",
            "-pix_fmt",
            "yuv420p",
            "-color_range",
            "pc",
        ],
    ),
    ("av1.mp4", (642, 360), "24", &["-frames:v", "2", "-c:v", "libsvtav1", "-pix_fmt", "yuv420p"]),
    (
        "range-av1.webm",
        (642, 360),
        "24",
        &["-frames:v", "2", "-c:v", "libsvtav1", "-pix_fmt", "yuv420p", "-color_range", "pc"],
    ),
    (
        "range-vp9.mp4",
        (640, 360),
        "25",
        &["-frames:v", "2", "-c:v", "libvpx-vp9", "-pix_fmt", "yuv420p", "-color_range", "pc"],
    ),
    (
        "fields.mp4",
        (1920, 1080),
        "25",
        &["-frames:v", "2", "-c:v", "libx264", "-flags", "+ildct+ilme", "-x264opts", "bff=1", "-pix_fmt", "yuv420p"],
    ),
    (
        "fields.ts",
        (1920, 1080),
        "25",
        &["-frames:v", "9", "-c:v", "libx264", "-flags", "+ildct+ilme", "-x264opts", "tff=1", "-pix_fmt", "yuv420p"],
    ),
    (
        "tape.ts",
        (720, 576),
        "25",
        &["-frames:v", "9", "-vf", "setsar=64/45", "-c:v", "mpeg2video", "-flags", "+ildct+ilme"],
    ),
    ("fast.ts", (1280, 720), "60000/1001", &["-frames:v", "9", "-c:v", "mpeg2video"]),
    ("hevc.ts", (640, 362), "50", &["-frames:v", "9", "-c:v", "libx265", "-pix_fmt", "yuv420p"]),
    (
        "camera.m2ts",
        (1440, 1080),
        "30000/1001",
        &["-frames:v", "9", "-vf", "setsar=4/3", "-c:v", "libx264", "-mpegts_m2ts_mode", "1", "-pix_fmt", "yuv420p"],
    ),
    ("old.mpg", (352, 288), "25", &["-frames:v", "9", "-c:v", "mpeg1video"]),
    ("disc.vob", (720, 480), "30000/1001", &["-frames:v", "9", "-vf", "setsar=32/27", "-c:v", "mpeg2video"]),
    ("bare.m2v", (720, 576), "25", &["-frames:v", "9", "-vf", "setsar=16/15", "-c:v", "mpeg2video"]),
    ("bare.h264", (640, 360), "24000/1001", &["-frames:v", "3", "-c:v", "libx264", "-pix_fmt", "yuv420p"]),
    ("bare.hevc", (640, 360), "24000/1001", &["-frames:v", "3", "-c:v", "libx265", "-pix_fmt", "yuv420p"]),
    ("mpeg4.avi", (640, 360), "25", &["-frames:v", "9", "-vf", "setsar=4/3", "-c:v", "mpeg4"]),
    ("named.avi", (640, 360), "30000/1001", &["-frames:v", "9", "-c:v", "mpeg4", "-vtag", "XVID"]),
    ("range.avi", (640, 360), "25", &["-frames:v", "9", "-c:v", "mjpeg"]),
    ("raw.avi", (640, 360), "25", &["-frames:v", "3", "-c:v", "rawvideo", "-pix_fmt", "bgr24"]),
    (
        "h264.avi",
        (640, 360),
        "25",
        &["-frames:v", "3", "-c:v", "libx264", "-pix_fmt", "yuv420p", "-bsf:v", "h264_mp4toannexb"],
    ),
    ("pal.dv", (720, 576), "25", &["-frames:v", "2", "-vf", "setsar=64/45", "-c:v", "dvvideo", "-pix_fmt", "yuv420p"]),
    (
        "ntsc.dv",
        (720, 480),
        "30000/1001",
        &["-frames:v", "2", "-vf", "setsar=8/9", "-c:v", "dvvideo", "-pix_fmt", "yuv411p"],
    ),
    ("mpeg4.mp4", (640, 360), "25", &["-frames:v", "3", "-vf", "setsar=12/11", "-c:v", "mpeg4"]),
    ("mpeg4.mkv", (640, 360), "25", &["-frames:v", "3", "-c:v", "mpeg4"]),
    ("range-jpeg.mkv", (640, 360), "25", &["-frames:v", "3", "-c:v", "mjpeg"]),
    (
        "fields.mkv",
        (720, 576),
        "25",
        &["-frames:v", "3", "-vf", "setfield=tff", "-c:v", "prores_ks", "-flags", "+ildct"],
    ),
    ("compact.mxf", (1920, 1080), "25", &["-frames:v", "2", "-c:v", "dnxhd", "-b:v", "120M", "-pix_fmt", "yuv422p"]),
    ("still.avif", (642, 360), "25", &["-frames:v", "1", "-c:v", "libsvtav1", "-pix_fmt", "yuv420p"]),
    ("tape.y4m", (720, 576), "25", &["-frames:v", "3", "-vf", "setsar=12/11", "-pix_fmt", "yuv420p"]),
    (
        "ntsc.y4m",
        (720, 480),
        "30000/1001",
        &["-frames:v", "3", "-vf", "setsar=40/33", "-pix_fmt", "yuv422p", "-strict", "-1"],
    ),
    ("still.png", (641, 359), "25", &["-frames:v", "1", "-vf", "setsar=4/3"]),
    ("square.png", (640, 360), "25", &["-frames:v", "1"]),
    ("still.jpg", (640, 360), "25", &["-frames:v", "1", "-vf", "setsar=12/11"]),
    ("still.tiff", (641, 359), "25", &["-frames:v", "1", "-vf", "setsar=4/3"]),
    ("still.exr", (640, 360), "25", &["-frames:v", "1", "-vf", "setsar=2/1", "-pix_fmt", "gbrpf32le"]),
    ("still.dpx", (640, 360), "25", &["-frames:v", "1", "-vf", "setsar=2/1"]),
    ("deep.dpx", (641, 359), "24", &["-frames:v", "1", "-pix_fmt", "gbrp10le"]),
];

fn said(fraction: &str, between: char) -> Option<(u32, u32)> {
    let (a, b) = fraction.split_once(between)?;
    let (a, b) = (a.parse().ok()?, b.parse().ok()?);
    (a > 0 && b > 0).then_some((a, b))
}

pub fn check(name: &str, reading: &Reading, probe: &Value) {
    let stream = &probe["streams"][0];
    let side = |key: &str| stream[key].as_u64().and_then(|side| u32::try_from(side).ok());
    let raster = reading.raster.as_ref().map(|raster| raster.value);
    assert_eq!(raster, side("width").zip(side("height")), "{name}: the stored size");
    // Not said means square to both.
    let aspect = reading.pixel_aspect.as_ref().map_or((1, 1), |aspect| aspect.value);
    let theirs = stream["sample_aspect_ratio"].as_str().and_then(|text| said(text, ':')).unwrap_or((1, 1));
    // In a JPEG the two numbers are densities (ITU-T T.871, 10.1), which ffmpeg writes and reads as a shape.
    let aspect = if reading.format == "JPEG" { (aspect.1, aspect.0) } else { aspect };
    assert_eq!(aspect, theirs, "{name}: the pixel aspect");
    let stills = ["png", "jpg", "tiff", "exr", "dpx", "avif"].iter().any(|ending| name.ends_with(ending));
    if !stills {
        let rate = reading.rate.as_ref().unwrap_or_else(|| panic!("{name} has no rate")).value;
        assert_eq!(Some(rate), stream["r_frame_rate"].as_str().and_then(|text| said(text, '/')), "{name}: the rate");
    }
    let counted = stream["nb_frames"].as_str().and_then(|count| count.parse::<u64>().ok());
    if let (Some(frames), Some(theirs)) = (&reading.frames, counted) {
        assert_eq!(frames.value, theirs, "{name}: the frames");
    }
    let turn = stream["side_data_list"][0]["rotation"].as_i64().map_or(0, |degrees| (-degrees).rem_euclid(360));
    assert_eq!(i64::from(reading.rotation.as_ref().map_or(0, |turn| turn.value)), turn, "{name}: the turn");
    if let Some(full) = &reading.full_range {
        let theirs = stream["color_range"].as_str();
        assert!(theirs.is_none() || theirs == Some(if full.value { "pc" } else { "tv" }), "{name}: {theirs:?}");
    } else if name.starts_with("full") || name.starts_with("range") {
        panic!("{name}: the range was not seen");
    }
    // ffprobe knows the fields of DV only when it has decoded some.
    let order = stream["field_order"].as_str().filter(|order| *order != "unknown");
    if let (Some(interlaced), Some(order)) = (&reading.interlaced, order) {
        assert_eq!(interlaced.value, order != "progressive", "{name}: the scan");
    }
    // Only that ffmpeg follows neither the PNG nor the JFIF standard is worth a word.
    let odd = (name == "still.png" && reading.format == "PNG") || (name == "still.jpg" && reading.format == "JPEG");
    assert_eq!(reading.remarks.len(), usize::from(odd), "{name}: {:?}", reading.remarks);
}

/// A value where it is said.
fn value<T: Copy>(said: Option<&Said<T>>) -> Option<T> {
    said.map(|said| said.value)
}

/// What MediaInfo reports of a file, in each of its forms, is read as the file itself is, as far as it goes.
fn against_mediainfo(name: &str, file: &std::path::Path, reading: &Reading) {
    // The forms for people are those of the same program: a few will do.
    let few = name.starts_with("fields") || name.starts_with("tape");
    let forms: &[&str] = if few { &["JSON", "XML", "OLDXML"] } else { &["JSON"] };
    for form in forms {
        let report = mediainfo(file, form);
        let theirs = read(&report[..]).unwrap_or_else(|failure| panic!("{name}, {form}: {failure:?}"));
        assert_eq!(theirs.format, "MediaInfo's report");
        assert_eq!(value(theirs.raster.as_ref()), value(reading.raster.as_ref()), "{name}, {form}");
        let square = |said: Option<&Said<(u32, u32)>>| value(said).unwrap_or((1, 1));
        let (one, other) = (square(theirs.pixel_aspect.as_ref()), square(reading.pixel_aspect.as_ref()));
        let apart = f64::from(one.0) * f64::from(other.1) / f64::from(one.1) / f64::from(other.0) - 1.0;
        // The oldest form has the shape of the whole picture only, rounded, and may leave that out.
        let rounded = *form == "OLDXML";
        assert!(apart.abs() < 0.005 || rounded, "{name}, {form}: {one:?} and {other:?}");
        // Where it knows no rate it says that it varies; of a bare stream it guesses one.
        if let (Some(one), Some(other)) = (value(theirs.rate.as_ref()), value(reading.rate.as_ref())) {
            assert!(one == other || name.starts_with("bare"), "{name}, {form}: {one:?} and {other:?}");
        }
        if let (Some(one), Some(other)) = (value(theirs.full_range.as_ref()), value(reading.full_range.as_ref())) {
            assert_eq!(one, other, "{name}, {form}: the range");
        }
        // Of DV it goes by what the file says of itself, which ffmpeg writes otherwise than the stream.
        if let (Some(one), Some(other)) = (value(theirs.interlaced.as_ref()), value(reading.interlaced.as_ref()))
            && !name.ends_with(".dv")
        {
            assert_eq!(one, other, "{name}, {form}: the scan");
        }
        if let Some(turn) = value(theirs.rotation.as_ref()) {
            assert_eq!(turn, value(reading.rotation.as_ref()).unwrap_or(0), "{name}, {form}: the turn");
        }
    }
}

/// Writes the matrix of a clockwise turn into the track head of a file.
fn turn_track(file: &std::path::Path, turn: u32) {
    let mut content = bytes(file);
    let (one, minus) = (65_536_i32, -65_536_i32);
    let matrix = match turn {
        90 => [0, one, 0, minus, 0, 0],
        180 => [minus, 0, 0, 0, minus, 0],
        _ => [0, minus, 0, one, 0, 0],
    };
    let at = content.windows(4).position(|four| four == b"tkhd").expect("a track head") + 4 + 40;
    for (place, value) in matrix.into_iter().enumerate() {
        content[at + 4 * place..at + 4 * place + 4].copy_from_slice(&value.to_be_bytes());
    }
    std::fs::write(file, content).expect("written");
}

/// Reads a file of which only the slices that are asked for are at hand.
fn by_slices(file: &[u8], least: u64) -> (Reading, u64) {
    let length = file.len() as u64;
    let mut parts: Vec<(u64, Vec<u8>)> = Vec::new();
    let mut sent = 0;
    for _ in 0..64 {
        match read(&Slices::new(length, parts.clone())) {
            Ok(reading) => return (reading, sent),
            Err(Failure::Needs(at, wanted)) => {
                let end = (at + wanted.max(least)).min(length);
                let part = |place: u64| usize::try_from(place).expect("in memory");
                parts.push((at, file[part(at)..part(end)].to_vec()));
                sent += end - at;
            }
            Err(Failure::Unreadable(why)) => panic!("{why}"),
        }
    }
    panic!("no end of slices");
}

#[test]
fn files_made_by_ffmpeg_are_read_as_ffprobe_reads_them() {
    let folder = tempfile::tempdir().expect("a folder");
    let halves = CASES.split_at(CASES.len() / 2);
    std::thread::scope(|scope| {
        scope.spawn(|| check_all(halves.0, folder.path()));
        check_all(halves.1, folder.path());
    });
}

fn check_all(cases: &[Case], folder: &std::path::Path) {
    for (name, size, rate, arguments) in cases {
        let file = make(folder, name, *size, rate, arguments);
        let turn = match *name {
            "turned.mp4" => 90,
            "upside.mov" => 180,
            "other.mov" => 270,
            _ => 0,
        };
        if turn != 0 {
            turn_track(&file, turn);
        }
        let probe = ffprobe(&file);
        let content = bytes(&file);
        let reading = read(&content[..]).unwrap_or_else(|failure| panic!("{name}: {failure:?}"));
        check(name, &reading, &probe);
        assert_eq!(reading.rotation.as_ref().map_or(0, |said| said.value), turn, "{name}");
        // A few slices say the same, and ffprobe's own words do.
        let (sliced, _) = by_slices(&content, 4096);
        assert_eq!(sliced, reading, "{name} by slices");
        if !matches!(reading.format, "PNG" | "JPEG" | "TIFF" | "OpenEXR" | "DPX" | "AVIF" | "YUV4MPEG2") {
            against_mediainfo(name, &file, &reading);
        }
        let words = probe.to_string();
        let theirs = read(words.as_bytes()).unwrap_or_else(|failure| panic!("{name}: {failure:?}"));
        check(name, &theirs, &probe);
    }
}

#[test]
fn every_value_tells_where_it_stands() {
    let folder = tempfile::tempdir().expect("a folder");
    let (_, size, rate, arguments) = CASES[1];
    let reading = read(&bytes(&make(folder.path(), "tape.mp4", size, rate, arguments))[..]).expect("a reading");
    let by = |said: Option<String>| said.unwrap_or_default();
    assert_eq!(by(reading.raster.map(|said| said.by)), "the sample entry");
    assert_eq!(by(reading.pixel_aspect.map(|said| said.by)), "pasp");
    assert_eq!(by(reading.rotation.map(|said| said.by)), "the track's matrix");
    assert_eq!(by(reading.rate.map(|said| said.by)), "stts and mdhd");
    assert_eq!((reading.format, reading.codec.as_deref()), ("MP4", Some("avc1")));
}

// Only headers travel: an index behind gigabytes of pictures is found by a few small slices.
#[test]
fn an_index_at_the_end_of_a_vast_file_needs_little() {
    let folder = tempfile::tempdir().expect("a folder");
    let (_, size, rate, arguments) = CASES[10];
    let small = bytes(&make(folder.path(), "late.mp4", size, rate, arguments));
    // The same file with 20 GB of pictures between its head and its index.
    let place = |kind: &[u8]| small.windows(4).position(|four| four == kind).expect("a box") - 4;
    let (mdat, moov) = (place(b"mdat"), place(b"moov"));
    let vast: u64 = 20 << 30;
    let mut head = small[..mdat].to_vec();
    head.extend(1_u32.to_be_bytes());
    head.extend(b"mdat");
    head.extend(vast.to_be_bytes());
    let index = mdat as u64 + vast;
    let index_bytes = &small[moov..];
    let length = index + index_bytes.len() as u64;
    let mut parts: Vec<(u64, Vec<u8>)> = Vec::new();
    let mut sent = 0;
    let reading = loop {
        match read(&Slices::new(length, parts.clone())) {
            Ok(reading) => break reading,
            Err(Failure::Needs(at, wanted)) => {
                let end = (at + wanted.max(65_536)).min(length);
                let byte = |at: u64| match usize::try_from(at.saturating_sub(index)) {
                    Ok(inside) if at >= index => index_bytes[inside],
                    _ => usize::try_from(at).ok().and_then(|at| head.get(at).copied()).unwrap_or(0),
                };
                parts.push((at, (at..end).map(byte).collect()));
                sent += end - at;
                assert!(parts.len() < 20, "too many slices");
            }
            Err(Failure::Unreadable(why)) => panic!("{why}"),
        }
    };
    assert_eq!(reading.raster.expect("a size").value, (320, 180));
    assert!(sent < 1 << 20, "{sent} bytes");
}
