//! Movies tagged as spheres: what other readers find, and that nothing else of a file has changed.

use std::io::Cursor;
use std::path::Path;
use std::process::Command;

use proptest::prelude::*;
use ratiomet_media::tag::{Tag, TagError, copy};
use ratiomet_media::{Said, Slices, Stereo, read};

/// A short movie with sound; its index stands before the media or behind it.
fn movie(folder: &Path, name: &str, more: &[&str]) -> Vec<u8> {
    let file = folder.join(name);
    let made = Command::new("ffmpeg")
        .args(["-v", "error", "-y", "-f", "lavfi", "-i", "testsrc2=s=320x160:r=24:d=1"])
        .args(["-f", "lavfi", "-i", "sine=d=1", "-c:v", "mpeg4", "-c:a", "aac"])
        .args(more)
        .arg(&file)
        .status();
    assert!(made.expect("ffmpeg is installed").success());
    std::fs::read(&file).expect("a movie")
}

fn tagged(bytes: &[u8], tag: Option<Tag>) -> Vec<u8> {
    let mut out = Vec::new();
    copy(&mut Cursor::new(bytes), tag, &mut out, |_, _| true).expect("a copy");
    out
}

const TAGS: [Tag; 3] = [
    Tag { stereo: Stereo::Mono, right_first: false, span: Tag::WHOLE, initial_view: [0.0; 3] },
    Tag { stereo: Stereo::TopBottom, right_first: false, span: Tag::WHOLE, initial_view: [30.0, -10.0, 0.0] },
    Tag { stereo: Stereo::SideBySide, right_first: false, span: Tag::WHOLE, initial_view: [-90.0, 45.0, 12.0] },
];

fn said(program: &str, arguments: &[&str], file: &Path) -> String {
    let output = Command::new(program).args(arguments).arg(file).output().expect("the program is installed");
    String::from_utf8_lossy(&output.stdout).into_owned()
}

/// What ffprobe shows of the pictures of a file.
fn probed(entry: &str, file: &Path) -> String {
    let show = ["-v", "error", "-select_streams", "v", "-show_entries", entry, "-of", "default=nk=1:nw=1"];
    said("ffprobe", &show, file).trim().to_owned()
}

/// Sums of every decoded frame and of all sound.
fn decoded(file: &Path) -> String {
    let output = Command::new("ffmpeg").args(["-v", "error", "-i"]).arg(file).args(["-f", "framemd5", "-"]).output();
    let text = String::from_utf8(output.expect("ffmpeg is installed").stdout).expect("text");
    assert!(text.lines().count() > 24, "{text}");
    text
}

#[test]
fn other_readers_find_what_was_meant_and_the_pictures_are_the_same() {
    let folder = tempfile::tempdir().expect("a folder");
    let place = folder.path();
    for (name, more) in [("behind.mp4", &[][..]), ("before.mp4", &["-movflags", "+faststart"]), ("plain.mov", &[])] {
        let bytes = movie(place, name, more);
        let pictures = decoded(&place.join(name));
        for tag in TAGS {
            let out = tagged(&bytes, Some(tag));
            let file = place.join(format!("tagged {name}"));
            std::fs::write(&file, &out).expect("written");
            let sphere = read(&Slices::new(out.len() as u64, vec![(0, out.clone())])).expect("a reading").sphere;
            let sphere = sphere.expect("a sphere").value;
            assert_eq!(
                (sphere.projection.as_str(), sphere.stereo, sphere.part_of),
                ("equirectangular", tag.stereo, None)
            );
            let probed = said("ffprobe", &["-v", "error", "-show_streams", "-of", "json"], &file);
            let probed: serde_json::Value = serde_json::from_str(&probed).expect("JSON");
            let sides = probed["streams"][0]["side_data_list"].to_string();
            assert!(sides.contains("Spherical Mapping") && sides.contains("equirectangular"), "{name}: {sides}");
            let [yaw, pitch, _] = tag.initial_view;
            assert!(sides.contains(&format!("\"yaw\":{yaw:.0}")), "{name}: {sides}");
            assert!(sides.contains(&format!("\"pitch\":{pitch:.0}")), "{name}: {sides}");
            let eyes = match tag.stereo {
                Stereo::Mono => "2D",
                Stereo::TopBottom => "top and bottom",
                Stereo::SideBySide => "side by side",
            };
            assert!(sides.contains(eyes), "{name}: {sides}");
            // exiftool reads the first generation.
            let exif = said("exiftool", &["-s", "-ee", "-api", "LargeFileSupport=1"], &file);
            let has = |key: &str, value: &str| {
                exif.lines().any(|line| line.split_once(':').is_some_and(|(k, v)| k.trim() == key && v.trim() == value))
            };
            assert!(has("ProjectionType", "equirectangular") && has("Spherical", "true"), "{name}: {exif}");
            assert!(has("InitialViewHeadingDegrees", &format!("{yaw:.0}")), "{name}: {exif}");
            assert_eq!(decoded(&file), pictures, "{name}: frame by frame");
            // Taken off again it is the file that it was, and tagged twice it says it once.
            assert!(tagged(&out, None) == bytes, "{name}: {tag:?}");
            assert!(tagged(&out, Some(tag)) == out, "{name}: {tag:?}");
        }
    }
}

/// The pictures after a jump, which go by the index.
fn jumped(file: &Path) -> String {
    let output = Command::new("ffmpeg")
        .args(["-v", "error", "-ss", "3.2", "-i"])
        .arg(file)
        .args(["-map", "0:v", "-f", "framemd5", "-"])
        .output();
    let text = String::from_utf8(output.expect("ffmpeg is installed").stdout).expect("text");
    assert!(text.lines().count() > 12, "{text}");
    text
}

#[test]
fn matroska_says_it_in_its_tracks_and_its_index_still_leads_to_the_pictures() {
    let folder = tempfile::tempdir().expect("a folder");
    let place = folder.path();
    let made = |name: &str, more: &[&str]| {
        let made = Command::new("ffmpeg")
            .args(["-v", "error", "-y", "-f", "lavfi", "-i", "testsrc2=s=320x160:r=24:d=4"])
            .args(["-f", "lavfi", "-i", "sine=d=4", "-c:v", "mpeg4", "-g", "12"])
            .args(more)
            .arg(place.join(name))
            .status();
        assert!(made.expect("ffmpeg is installed").success());
    };
    made("plain.mkv", &["-cluster_time_limit", "500"]);
    made("before.mkv", &["-cluster_time_limit", "500", "-cues_to_front", "1"]);
    made("web.webm", &["-c:v", "libvpx", "-c:a", "libopus"]);
    let muxed = Command::new("mkvmerge")
        .args(["--quiet", "--cluster-length", "500ms", "-o"])
        .args([place.join("muxed.mkv"), place.join("plain.mkv")])
        .status();
    assert!(muxed.expect("mkvmerge is installed").success());
    for name in ["plain.mkv", "before.mkv", "web.webm", "muxed.mkv"] {
        let bytes = std::fs::read(place.join(name)).expect("a movie");
        let pictures = [decoded(&place.join(name)), jumped(&place.join(name))];
        for tag in TAGS {
            let out = tagged(&bytes, Some(tag));
            let file = place.join(format!("tagged {name}"));
            std::fs::write(&file, &out).expect("written");
            let [before, after] = [&bytes, &out]
                .map(|bytes| read(&Slices::new(bytes.len() as u64, vec![(0, bytes.clone())])).expect("a reading"));
            let sphere = after.sphere.expect("a sphere").value;
            let shape = |shape: Option<Said<(u32, u32)>>| shape.map_or((1, 1), |shape| shape.value);
            assert_eq!(shape(after.pixel_aspect), shape(before.pixel_aspect), "{name}: {tag:?}");
            assert_eq!((sphere.projection.as_str(), sphere.stereo), ("equirectangular", tag.stereo), "{name}");
            let probed = said("ffprobe", &["-v", "error", "-show_streams", "-of", "json"], &file);
            let probed: serde_json::Value = serde_json::from_str(&probed).expect("JSON");
            let sides = probed["streams"][0]["side_data_list"].to_string();
            let [yaw, pitch, roll] = tag.initial_view;
            for part in [
                "Spherical Mapping".to_owned(),
                "equirectangular".to_owned(),
                format!("\"yaw\":{yaw:.0}"),
                format!("\"pitch\":{pitch:.0}"),
                format!("\"roll\":{roll:.0}"),
            ] {
                assert!(sides.contains(&part), "{name}: {part} is not in {sides}");
            }
            let (eyes, shown) = match tag.stereo {
                Stereo::Mono => ("", ""),
                Stereo::TopBottom => ("top and bottom", "Top-Bottom (left eye first)"),
                Stereo::SideBySide => ("side by side", "Side by Side (left eye first)"),
            };
            assert!(sides.contains(eyes) && !sides.contains("\"inverted\":1"), "{name}: {sides}");
            let layout = said("mediainfo", &["--Inform=Video;%MultiView_Layout%"], &file);
            assert_eq!(layout.trim(), shown, "{name}");
            // Every element is where the index of a writer of this format expects it.
            let checked =
                Command::new("mkvmerge").args(["--identify"]).arg(&file).output().expect("mkvmerge is installed");
            assert!(checked.status.success(), "{name}: {}", String::from_utf8_lossy(&checked.stdout));
            assert_eq!([decoded(&file), jumped(&file)], pictures, "{name}: frame by frame, and after a jump");
            assert!(points_to_what_it_says(&out) >= 3, "{name}");
            // Taken off again it is the file that it was, and tagged twice it says it once.
            assert!(tagged(&out, None) == bytes, "{name}: {tag:?}");
            assert!(tagged(&out, Some(tag)) == out, "{name}: {tag:?}");
        }
        assert!(tagged(&bytes, None) == bytes, "{name}");
    }
}

#[test]
fn half_spheres_and_other_parts_say_how_much_they_hold() {
    let folder = tempfile::tempdir().expect("a folder");
    // The eye's picture of a frame of 320 by 160, and the sphere that it is the middle of.
    let cases = [
        (Stereo::Mono, [180.0, 180.0], [640, 160, 160, 0]),
        (Stereo::SideBySide, [180.0, 180.0], [320, 160, 80, 0]),
        (Stereo::TopBottom, [360.0, 120.0], [320, 120, 0, 20]),
    ];
    for name in ["part.mp4", "part.mkv", "part.png"] {
        let still = name.ends_with("png");
        let bytes = if still { drawn(folder.path(), name) } else { movie(folder.path(), name, &[]) };
        for (stereo, span, whole) in cases.into_iter().filter(|(stereo, ..)| !still || *stereo == Stereo::Mono) {
            let tag = Tag { stereo, span, ..TAGS[0] };
            let out = tagged(&bytes, Some(tag));
            let reading = read(&Slices::new(out.len() as u64, vec![(0, out.clone())])).expect("a reading");
            let sphere = reading.sphere.expect("a sphere").value;
            assert_eq!((sphere.stereo, sphere.part_of), (stereo, Some(whole)), "{name}: {span:?}");
            let file = folder.path().join(name);
            std::fs::write(&file, &out).expect("written");
            if !still {
                // ffprobe counts what lies outside in pixels of a frame of both eyes, to the nearest but one.
                let probed = said("ffprobe", &["-v", "error", "-show_streams", "-of", "json"], &file);
                let probed: serde_json::Value = serde_json::from_str(&probed).expect("JSON");
                let sides = probed["streams"][0]["side_data_list"].as_array().cloned().unwrap_or_default();
                let tile = sides.iter().find(|side| side["projection"] == "tiled equirectangular");
                let tile = tile.unwrap_or_else(|| panic!("{name}: {sides:?}"));
                for (bound, share, side) in [
                    ("left", span[0] / 360.0, 320.0),
                    ("right", span[0] / 360.0, 320.0),
                    ("top", span[1] / 180.0, 160.0),
                    ("bottom", span[1] / 180.0, 160.0),
                ] {
                    let theirs = tile[format!("bound_{bound}")].as_f64().expect("a number");
                    assert!((theirs - side * (1.0 - share) / 2.0 / share).abs() < 1.01, "{name}: {bound} {tile}");
                }
            }
            assert!(tagged(&out, None) == bytes, "{name}: {tag:?}");
            assert!(tagged(&out, Some(tag)) == out, "{name}: {tag:?}");
        }
    }
}

#[test]
fn two_eyes_in_matroska_have_the_shape_that_ffprobe_reads() {
    let folder = tempfile::tempdir().expect("a folder");
    for (eyes, shape) in [("top_bottom", "1/1"), ("left_right", "1/1"), ("top_bottom", "3/2"), ("right_left", "3/4")] {
        let more = ["-metadata:s:v", &format!("stereo_mode={eyes}"), "-vf", &format!("setsar={shape}")];
        let bytes = movie(folder.path(), "eyes.mkv", &more);
        let reading = read(&Slices::new(bytes.len() as u64, vec![(0, bytes.clone())])).expect("a reading");
        let (across, down) = reading.pixel_aspect.map_or((1, 1), |shape| shape.value);
        assert_eq!(format!("{across}/{down}"), shape, "{eyes}");
        let shown = |name: &str| probed("stream=sample_aspect_ratio", &folder.path().join(name)).replace(':', "/");
        assert_eq!(shown("eyes.mkv"), shape, "{eyes}");
        // Tagged in another order of the eyes the pixels keep their shape, and when the tag is taken off.
        let tags = TAGS.map(|tag| tagged(&bytes, Some(tag)));
        let none = tagged(&tags[0], None);
        assert!(tags.iter().all(|out| tagged(out, None) == none), "{eyes}");
        for out in tags.iter().chain([&none]) {
            std::fs::write(folder.path().join("tagged.mkv"), out).expect("written");
            assert_eq!(shown("tagged.mkv"), shape, "{eyes}");
        }
    }
}

#[test]
fn the_right_eye_comes_first_in_matroska_alone() {
    let folder = tempfile::tempdir().expect("a folder");
    let bytes = movie(folder.path(), "eyes.mkv", &[]);
    let mp4 = movie(folder.path(), "eyes.mp4", &[]);
    let of = |bytes: &[u8]| {
        let reading = read(&Slices::new(bytes.len() as u64, vec![(0, bytes.to_vec())])).expect("a reading");
        reading.sphere.map(|sphere| (sphere.value.stereo, sphere.value.right_first))
    };
    // As ffprobe calls them, and as ffmpeg writes them.
    for (stereo, right_first, word) in [
        (Stereo::TopBottom, false, "top_bottom"),
        (Stereo::TopBottom, true, "bottom_top"),
        (Stereo::SideBySide, false, "left_right"),
        (Stereo::SideBySide, true, "right_left"),
    ] {
        let tag = Tag { stereo, right_first, ..TAGS[0] };
        let out = tagged(&bytes, Some(tag));
        assert_eq!(of(&out), Some((stereo, right_first)));
        let file = folder.path().join("tagged.mkv");
        std::fs::write(&file, &out).expect("written");
        assert_eq!(probed("stream_tags=stereo_mode", &file), word);
        assert!(tagged(&out, None) == bytes);
        let theirs = movie(folder.path(), "theirs.mkv", &["-metadata:s:v", &format!("stereo_mode={word}")]);
        assert_eq!(of(&tagged(&theirs, Some(tag))), Some((stereo, right_first)));
        let other = copy(&mut Cursor::new(&mp4), Some(tag), &mut Vec::new(), |_, _| true);
        match other {
            Ok(()) => assert!(!right_first),
            Err(why) => assert!(right_first && why.to_string().contains("only Matroska"), "{why}"),
        }
    }
}

/// Number, where its content begins, and its end, of an element (RFC 8794).
fn ebml(bytes: &[u8], at: usize) -> Option<(u64, usize, usize)> {
    let number = |at: usize, keep: bool| {
        let length = bytes.get(at)?.leading_zeros() as usize + 1;
        let value = bytes.get(at..at + length)?.iter().fold(0_u64, |value, byte| value << 8 | u64::from(*byte));
        Some((if keep { value } else { value & !(1 << (7 * length)) }, at + length))
    };
    let (id, at) = number(at, true)?;
    let (size, start) = number(at, false)?;
    Some((id, start, start + usize::try_from(size).ok()?))
}

/// Follows every place that seek heads and cues of a file name to what stands there; how many they are.
fn points_to_what_it_says(bytes: &[u8]) -> usize {
    fn walk(bytes: &[u8], from: usize, to: usize, seen: &mut impl FnMut(u64, &[u8])) {
        let mut at = from;
        while at < to {
            let (id, start, end) = ebml(bytes, at).expect("an element");
            if [0x114D_9B74, 0x4DBB, 0x1C53_BB6B, 0xBB, 0xB7].contains(&id) {
                walk(bytes, start, end, seen);
            } else {
                seen(id, &bytes[start..end]);
            }
            at = end;
        }
    }
    let (_, _, head) = ebml(bytes, 0).expect("a head");
    let (_, begin, end) = ebml(bytes, head).expect("a segment");
    let (mut places, mut wanted) = (Vec::new(), 0);
    walk(bytes, begin, end, &mut |id, content| {
        let value = content.iter().take(8).fold(0_u64, |value, byte| value << 8 | u64::from(*byte));
        match id {
            0x53AB => wanted = value,
            0x53AC => places.push((wanted, value)),
            0xF1 => places.push((0x1F43_B675, value)),
            _ => {}
        }
    });
    for (id, place) in &places {
        let found = ebml(bytes, begin + usize::try_from(*place).expect("a place")).expect("an element");
        assert_eq!(found.0, *id, "at {place}");
    }
    places.len()
}

/// A Matroska file of hardly anything, whose cues point past a place that needs one byte more once it has moved.
fn small(before: usize, position: &[u8]) -> Vec<u8> {
    let of = |id: &[u8], content: &[u8]| {
        let size = u32::try_from(content.len()).expect("small") | 0x1000_0000;
        [id, &size.to_be_bytes(), content].concat()
    };
    let track = of(&[0xAE], &[of(&[0xD7], &[1]), of(&[0x86], b"V_VP8"), of(&[0xE0], &of(&[0xB0], &[64]))].concat());
    let tracks = of(&[0x16, 0x54, 0xAE, 0x6B], &track);
    let info = of(&[0x15, 0x49, 0xA9, 0x66], &vec![0; before]);
    let cluster = of(&[0x1F, 0x43, 0xB6, 0x75], &[of(&[0xE7], &[0]), of(&[0xA7], position)].concat());
    let at = tracks.len() + info.len();
    let at: Vec<u8> = at.to_be_bytes().into_iter().skip_while(|byte| *byte == 0).collect();
    let cues = of(&[0x1C, 0x53, 0xBB, 0x6B], &of(&[0xBB], &of(&[0xB7], &of(&[0xF1], &at))));
    let segment = of(&[0x18, 0x53, 0x80, 0x67], &[tracks, info, cluster, cues].concat());
    [of(&[0x1A, 0x45, 0xDF, 0xA3], &[]), segment].concat()
}

#[test]
fn places_of_clusters_that_need_a_byte_more_get_it() {
    for before in 80..180 {
        let bytes = small(before, &[0]);
        let out = tagged(&bytes, Some(TAGS[1]));
        assert_eq!(points_to_what_it_says(&out), 1, "{before}");
        assert_eq!(points_to_what_it_says(&tagged(&out, None)), 1, "{before}");
    }
    // The position of a cluster follows in as many bytes as it has; where it needs more, it goes.
    let (tracks, clusters) = ([0x16, 0x54, 0xAE, 0x6B], [0x1F, 0x43, 0xB6, 0x75]);
    let at = |bytes: &[u8], id: [u8; 4]| bytes.windows(4).position(|here| here == id).expect("an element");
    let plain = small(170, &[0]);
    let position = u8::try_from(at(&plain, clusters) - at(&plain, tracks)).expect("near");
    for (position, stays) in [(vec![0, position], true), (vec![position], false)] {
        let out = tagged(&small(170, &position), Some(TAGS[1]));
        let (_, inside, _) = ebml(&out, at(&out, clusters)).expect("a cluster");
        let (_, _, next) = ebml(&out, inside).expect("its time");
        let (id, start, end) = ebml(&out, next).expect("its position");
        assert_eq!(id, if stays { 0xA7 } else { 0xEC }, "{position:?}");
        if stays {
            let value = out[start..end].iter().fold(0_usize, |value, byte| value << 8 | usize::from(*byte));
            assert_eq!(value, at(&out, clusters) - at(&out, tracks));
        }
    }
}

/// A box of the file format.
fn boxed(kind: &[u8; 4], parts: &[Vec<u8>]) -> Vec<u8> {
    let inside = parts.concat();
    let size = u32::try_from(inside.len() + 8).expect("small");
    [&size.to_be_bytes()[..], kind, &inside].concat()
}

/// A movie without media, whose one track of pictures names these places.
fn indexed(places: &[u64], wide: bool) -> Vec<u8> {
    let mut table = vec![0; 4];
    table.extend(u32::try_from(places.len()).expect("few").to_be_bytes());
    for place in places {
        let all = place.to_be_bytes();
        table.extend_from_slice(if wide { &all } else { &all[4..] });
    }
    let entry = boxed(b"mp4v", &[vec![0; 78]]);
    let stsd = boxed(b"stsd", &[vec![0, 0, 0, 0, 0, 0, 0, 1], entry]);
    let stbl = boxed(b"stbl", &[stsd, boxed(if wide { b"co64" } else { b"stco" }, &[table])]);
    let hdlr = boxed(b"hdlr", &[vec![0; 8], b"vide".to_vec(), vec![0; 12]]);
    let mdia = boxed(b"mdia", &[hdlr, boxed(b"minf", &[stbl])]);
    [boxed(b"ftyp", &[b"isom\0\0\0\0".to_vec()]), boxed(b"moov", &[boxed(b"trak", &[mdia])])].concat()
}

// A place that no longer goes into 32 bits gets 64, which makes the index longer once more.
#[test]
fn places_that_grow_too_large_become_wide_ones() {
    let near = u64::from(u32::MAX) - 10;
    let plain = indexed(&[near, 8], false);
    let out = tagged(&plain, Some(TAGS[0]));
    let by = (out.len() - plain.len()) as u64;
    let wide = [near + by, 8].map(u64::to_be_bytes).concat();
    assert!(out.windows(4).any(|kind| kind == b"co64") && out.windows(16).any(|places| places == wide));
    let far = tagged(&indexed(&[1 << 40], true), Some(TAGS[0]));
    let by = (far.len() - indexed(&[1 << 40], true).len()) as u64;
    assert!(far.windows(8).any(|place| place == ((1_u64 << 40) + by).to_be_bytes()));
}

#[test]
fn what_cannot_be_tagged_says_why() {
    let folder = tempfile::tempdir().expect("a folder");
    let refuse = |bytes: &[u8]| {
        let refused = copy(&mut Cursor::new(bytes), Some(TAGS[0]), &mut Vec::new(), |_, _| true).expect_err("refused");
        assert!(matches!(refused, TagError::Refused(_)), "{refused}");
        refused.to_string()
    };
    assert!(refuse(b"plain words of no movie").contains("no MP4, MOV or Matroska file"));
    let pieces = movie(folder.path(), "pieces.mp4", &["-movflags", "+frag_keyframe+empty_moov"]);
    assert!(refuse(&pieces).contains("fragments"));
    let sound = movie(folder.path(), "sound.mp4", &["-vn"]);
    assert!(refuse(&sound).contains("no track of pictures"));
    let whole = movie(folder.path(), "whole.mp4", &[]);
    assert!(refuse(&whole[..whole.len() - 20]).contains("cut short"));
    assert!(refuse(&boxed(b"ftyp", &[vec![0; 8]])).contains("no index"));
    let sound = movie(folder.path(), "sound.mkv", &["-vn"]);
    assert!(refuse(&sound).contains("no track of pictures"));
    let mut live = small(0, &[0]);
    let cluster = live.windows(4).position(|id| id == [0x1F, 0x43, 0xB6, 0x75]).expect("a cluster");
    live[cluster + 4..cluster + 8].copy_from_slice(&[0x1F, 0xFF, 0xFF, 0xFF]);
    assert!(refuse(&live).contains("a live recording"));
    let film = movie(folder.path(), "film.mkv", &[]);
    assert!(refuse(&film[..film.len() - 20]).contains("cut short"));
    let stopped = copy(&mut Cursor::new(&film), Some(TAGS[0]), &mut Vec::new(), |_, _| false);
    assert!(matches!(stopped, Err(TagError::Stopped)));
    let stopped = copy(&mut Cursor::new(&whole), Some(TAGS[0]), &mut Vec::new(), |_, _| false);
    assert!(matches!(stopped, Err(TagError::Stopped)));
}

proptest! {
    #[test]
    fn damaged_indexes_are_refused_and_never_panic(
        at in 0_usize..400, value in any::<u8>(), cut in 0_usize..400, wide in any::<bool>(),
    ) {
        let mut bytes = indexed(&[900, 4_000_000_000], wide);
        let end = bytes.len();
        bytes[at % end] = value;
        bytes.truncate(end - cut % end);
        let mut out = Vec::new();
        let copied = copy(&mut Cursor::new(&bytes), Some(TAGS[1]), &mut out, |_, _| true);
        prop_assert!(copied.is_err() || out.len() >= bytes.len());
    }
}

proptest! {
    #[test]
    fn damaged_segments_are_refused_and_never_panic(
        at in 0_usize..400, value in any::<u8>(), cut in 0_usize..400, before in 0_usize..90,
    ) {
        let mut bytes = small(before, &[0, 90]);
        let end = bytes.len();
        bytes[at % end] = value;
        bytes.truncate(end - cut % end);
        // OK to be refused or copied: what is asked is that it ends.
        let _ = copy(&mut Cursor::new(&bytes), Some(TAGS[1]), &mut Vec::new(), |_, _| true);
        let _ = copy(&mut Cursor::new(&bytes), None, &mut Vec::new(), |_, _| true);
    }
}

fn drawn(folder: &Path, name: &str) -> Vec<u8> {
    let file = folder.join(name);
    let made = Command::new("ffmpeg")
        .args(["-v", "error", "-y", "-f", "lavfi", "-i", "testsrc2=s=320x160", "-frames:v", "1"])
        .arg(&file)
        .status();
    assert!(made.expect("ffmpeg is installed").success());
    std::fs::read(&file).expect("a still")
}

/// What Pillow finds in the XMP of a still, and the sum of its samples.
fn by_pillow(file: &Path) -> String {
    let script = "import sys, hashlib\nfrom PIL import Image\nimage = Image.open(sys.argv[1])\n\
                  text = image.info.get('xmp') or image.info.get('XML:com.adobe.xmp') or b''\n\
                  print(hashlib.sha256(image.convert('RGB').tobytes()).hexdigest())\n\
                  print(text.decode() if isinstance(text, bytes) else text)";
    let libraries = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../target/python");
    let output = Command::new("python3").args(["-c", script]).arg(file).env("PYTHONPATH", libraries).output();
    let output = output.expect("python3 is installed");
    assert!(output.status.success(), "{}", String::from_utf8_lossy(&output.stderr));
    String::from_utf8_lossy(&output.stdout).into_owned()
}

#[test]
fn stills_say_it_in_xmp_and_lose_it_again() {
    let folder = tempfile::tempdir().expect("a folder");
    let tag = Tag { initial_view: [-30.0, 10.0, 0.0], ..TAGS[0] };
    for name in ["a.jpg", "a.png"] {
        let bytes = drawn(folder.path(), name);
        let plain = by_pillow(&folder.path().join(name));
        let said = tagged(&bytes, Some(tag));
        std::fs::write(folder.path().join(name), &said).expect("written");
        let found = by_pillow(&folder.path().join(name));
        assert_eq!(found.lines().next(), plain.lines().next(), "{name}: the same samples");
        for each in
            ["ProjectionType=\"equirectangular\"", "FullPanoWidthPixels=\"320\"", "InitialViewHeadingDegrees=\"330\""]
        {
            assert!(found.contains(each), "{name}: {found}");
        }
        let reading = read(&Slices::new(said.len() as u64, vec![(0, said.clone())])).expect("read");
        let sphere = reading.sphere.expect("a sphere").value;
        assert_eq!((sphere.projection.as_str(), sphere.part_of), ("equirectangular", Some([320, 160, 0, 0])), "{name}");
        // Said twice is said once, and taken off it is the file that it was.
        assert_eq!(tagged(&said, Some(tag)), said, "{name}");
        assert_eq!(tagged(&said, None), bytes, "{name}");
        assert_eq!(tagged(&bytes, None), bytes, "{name}");
    }
}

#[test]
fn other_xmp_of_a_still_stays() {
    let folder = tempfile::tempdir().expect("a folder");
    let bytes = drawn(folder.path(), "a.jpg");
    let foreign = "<x:xmpmeta xmlns:x='adobe:ns:meta/'><rdf:RDF xmlns:rdf='http://www.w3.org/1999/02/22-rdf-syntax-ns#'>\
                   <rdf:Description rdf:about='' xmlns:dc='http://purl.org/dc/elements/1.1/' dc:format='image/jpeg' \
                   xmlns:pano='http://ns.google.com/photos/1.0/panorama/' pano:ProjectionType='cylindrical'>\
                   <pano:FullPanoWidthPixels>9</pano:FullPanoWidthPixels><dc:source>island</dc:source>\
                   </rdf:Description></rdf:RDF></x:xmpmeta>";
    let content = [b"http://ns.adobe.com/xap/1.0/\0", foreign.as_bytes()].concat();
    let length = u16::try_from(content.len() + 2).expect("short").to_be_bytes();
    let with = [&bytes[..2], &[0xFF, 0xE1], &length[..], &content, &bytes[2..]].concat();
    let said = tagged(&with, Some(TAGS[0]));
    let text = String::from_utf8_lossy(&said).into_owned();
    assert!(text.contains("<dc:source>island</dc:source>") && text.contains("dc:format='image/jpeg'"));
    assert!(!text.contains("cylindrical") && !text.contains("pano:Full") && text.contains("equirectangular"));
    let off = String::from_utf8_lossy(&tagged(&said, None)).into_owned();
    assert!(off.contains("<dc:source>island</dc:source>") && !off.contains("photos/1.0/panorama"));
}

#[test]
fn stills_that_cannot_be_tagged_say_why() {
    let folder = tempfile::tempdir().expect("a folder");
    let bytes = drawn(folder.path(), "a.png");
    let refused = |bytes: &[u8], stereo| {
        let tag = Tag { stereo, ..TAGS[0] };
        copy(&mut Cursor::new(bytes), Some(tag), &mut Vec::new(), |_, _| true).expect_err("refused").to_string()
    };
    assert!(refused(&bytes, Stereo::TopBottom).contains("one picture for both eyes"));
    let jpeg = drawn(folder.path(), "a.jpg");
    for cut in 3..200 {
        // Never a panic, and never a copy of half a head.
        for bytes in [&bytes[..cut.min(bytes.len())], &jpeg[..cut]] {
            let tag = Some(TAGS[0]);
            let _ = copy(&mut Cursor::new(bytes), tag, &mut Vec::new(), |_, _| true);
        }
    }
    assert!(refused(&jpeg[..100], Stereo::Mono).contains("damaged"));
}
