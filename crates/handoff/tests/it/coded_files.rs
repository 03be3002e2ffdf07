//! Files made as their frames say, by a shell and ffmpeg, and read again by ffprobe.

use std::path::Path;
use std::process::Command;

use ratiomet_core::file::{Codec, FileSpec};
use ratiomet_core::{FrameRate, Raster};
use ratiomet_wire::read::Reader;
use serde_json::{Value, json};

use crate::convert_script::{Place, frame, probed, project, source};

/// A file of each codec and profile, at its greatest depth and finest chroma.
fn every_profile() -> Vec<(String, Value)> {
    let mut files = Vec::new();
    for codec in Codec::ALL {
        for profile in codec.profiles() {
            let rates = codec.has_keyframes();
            let file = json!({
                "container": codec.containers()[0].word(), "codec": codec.word(), "profile": profile.word,
                "depth": profile.depths.last(), "chroma": profile.chromas.last().map(|chroma| chroma.word()),
                "average_mbps": if rates { Some("2") } else { None }, "highest_mbps": if rates { Some("3") } else { None },
                "keyframe_distance": if rates { Some(5) } else { None }, "sound": { "coding": "none" },
            });
            files.push((format!("{} {}", codec.word(), profile.word), file));
        }
    }
    files
}

/// What ffprobe calls a profile; none where it does not say.
fn called(codec: &str, profile: &str) -> Option<&'static str> {
    Some(match (codec, profile) {
        ("h264" | "h265" | "av1" | "mpeg2", "main") => "Main",
        ("h264", "high") => "High",
        ("h264", "high_10") => "High 10",
        ("h264", "high_422") => "High 4:2:2",
        ("h264", "high_444") => "High 4:4:4 Predictive",
        ("h265", "main_10") => "Main 10",
        ("h265", _) => "Rext",
        ("av1", "high") => "High",
        ("av1", "professional") => "Professional",
        ("mpeg2", "422") => "4:2:2",
        ("prores", "422_proxy") => "Proxy",
        ("prores", "422_lt") => "LT",
        ("prores", "422") => "Standard",
        ("prores", "422_hq") => "HQ",
        ("prores", "4444") => "4444",
        ("prores", "4444_xq") => "XQ",
        ("vc3", "lb") => "DNXHR LB",
        ("vc3", "sq") => "DNXHR SQ",
        ("vc3", "hq") => "DNXHR HQ",
        ("vc3", "hqx") => "DNXHR HQX",
        ("vc3", "444") => "DNXHR 444",
        _ => return None,
    })
}

fn read(file: &Value) -> FileSpec {
    Reader::request(file.to_string().as_bytes()).expect("a file")
}

#[test]
fn profiles_of_h264_and_h265_come_out_as_they_were_planned() {
    come_out(|codec| matches!(codec, "h264" | "h265"));
}

#[test]
fn all_other_profiles_come_out_as_they_were_planned() {
    come_out(|codec| !matches!(codec, "h264" | "h265"));
}

/// Every profile of some codecs is planned, made by the script, and read again.
fn come_out(is_asked: impl Fn(&str) -> bool) {
    let mut files = every_profile();
    files.retain(|(name, _)| name.split(' ').next().is_some_and(&is_asked));
    assert!(files.len() > 4, "{files:?}");
    let frames: Vec<_> = (1..)
        .zip(&files)
        .map(|(id, (name, file))| {
            let mut frame = frame(id, name, [480, 272], "25");
            frame["values"]["file"] = file.clone();
            frame
        })
        .collect();
    let place = Place::of(&project(&[source(1, "clip", json!({}))], &frames));
    place.ffmpeg(&[
        "-f",
        "lavfi",
        "-i",
        "testsrc2=size=320x240:rate=25",
        "-f",
        "lavfi",
        "-i",
        "sine=frequency=440",
        "-t",
        "0.28",
        "-c:v",
        "ffv1",
        "-c:a",
        "pcm_s16le",
        "footage/clip.mkv",
    ]);
    place.converts(&[]);
    for (name, file) in &files {
        let (codec, profile) = name.split_once(' ').expect("two words");
        let spec = read(file);
        let ending = spec.parts().container.word();
        let made = place.at("done").join(format!("clip_{}.{ending}", name.replace(' ', "_")));
        let told = all_that_is_shown(&made);
        let streams = told["streams"].as_array().expect("streams");
        let [picture] = &streams[..] else { panic!("{name} has sound: {streams:?}") };
        let packets = told["packets"].as_array().expect("packets");
        let sampling = match spec.parts().chroma.word() {
            "4:2:0" => "420",
            "4:2:2" => "422",
            _ => "444",
        };
        let depth = if spec.parts().depth == 8 { String::new() } else { format!("{}le", spec.parts().depth) };
        let codec_name = match codec {
            "h265" => "hevc",
            "mpeg2" => "mpeg2video",
            "vc3" => "dnxhd",
            same => same,
        };
        for (entry, wanted) in [
            ("codec_name", json!(codec_name)),
            ("width", json!(480)),
            ("height", json!(272)),
            ("pix_fmt", json!(format!("yuv{sampling}p{depth}"))),
            ("nb_read_frames", json!("7")),
        ] {
            assert_eq!(picture[entry], wanted, "{name}: {picture}");
        }
        if let Some(called) = called(codec, profile) {
            assert_eq!(picture["profile"], called, "{name}");
        }
        weighs_what_was_said(name, &spec, packets);
        if spec.parts().keyframe_distance.is_some() {
            let is_key = |packet: &Value| packet["flags"].as_str().is_some_and(|flags| flags.starts_with('K'));
            let distance = packets.iter().skip(1).position(is_key);
            assert!(distance.is_some_and(|distance| distance < 5), "{name}: {packets:?}");
        }
    }
}

/// What ffprobe shows of the streams of a file, and of their packets.
fn all_that_is_shown(file: &Path) -> Value {
    let entries = "stream=codec_type,codec_name,profile,width,height,pix_fmt,nb_read_frames:packet=size,flags";
    let output = Command::new("ffprobe")
        .args(["-v", "error", "-count_frames", "-show_entries", entries, "-of", "json"])
        .arg(file)
        .output()
        .expect("ffprobe is installed with ffmpeg");
    serde_json::from_slice(&output.stdout).expect("JSON")
}

/// Frames of a fixed size are exactly as large as planned, about fixed ones no larger by half (the encoder of ffmpeg).
fn weighs_what_was_said(name: &str, spec: &FileSpec, packets: &[Value]) {
    let raster = Raster::new(480, 272).expect("a raster");
    let rate = FrameRate::parse("25").expect("a rate");
    let size = |packet: &Value| packet["size"].as_str().and_then(|size| size.parse::<f64>().ok());
    let sizes: Vec<f64> = packets.iter().filter_map(size).collect();
    assert!(!sizes.is_empty(), "{name} has no packets");
    let Some((bits, about)) = spec.picture_bits(raster, &rate) else { return };
    let planned = bits.to_short_decimal(6).parse::<f64>().expect("a number") / 8.0 / 25.0;
    match spec.parts().codec {
        Codec::Vc3 => assert!(sizes.iter().all(|size| (size - planned).abs() < 0.5), "{name}: {sizes:?} for {planned}"),
        _ if about => {
            let mean = sizes.iter().sum::<f64>() / sizes.iter().map(|_| 1.0).sum::<f64>();
            assert!(mean > 0.3 * planned && mean < 1.5 * planned, "{name}: {mean} for {planned}");
        }
        _ => {}
    }
}

#[test]
fn levels_qualities_and_sound_come_out_as_planned() {
    let with = |id, name: &str, file: Value| {
        let mut frame = frame(id, name, [640, 360], "25");
        frame["values"]["file"] = file;
        frame
    };
    let sound = |kind: Value| {
        json!({ "container": "mov", "codec": "h264", "profile": "high", "depth": 8, "chroma": "4:2:0",
                "constant_quality": 30, "sound": kind })
    };
    let mut avc = sound(json!({ "coding": "aac", "rate": 48000, "kbps": "96", "channels": 1 }));
    avc["level"] = json!("4.1");
    let mut hevc = sound(json!({ "coding": "pcm", "rate": 96000, "bits": 24 }));
    for (key, value) in [("codec", json!("h265")), ("profile", json!("main")), ("level", json!("5.1 high"))] {
        hevc[key] = value;
    }
    let place = Place::of(&project(
        &[source(1, "clip", json!({}))],
        &[with(1, "one", avc), with(2, "two", hevc), with(3, "three", sound(json!({ "coding": "as_source" })))],
    ));
    place.ffmpeg(&[
        "-f",
        "lavfi",
        "-i",
        "testsrc2=size=320x240:rate=25",
        "-f",
        "lavfi",
        "-i",
        "sine=frequency=440:sample_rate=44100",
        "-ac",
        "2",
        "-t",
        "0.4",
        "-c:v",
        "ffv1",
        "-c:a",
        "pcm_s16le",
        "footage/clip.mkv",
    ]);
    let said = place.converts(&["--dry-run"]);
    assert!(said.contains("clip_one: its file is made as the frame says: MOV, H.264 High"), "{said}");
    place.converts(&[]);
    let of = |name: &str, kind: &str, entries: &str| probed(&place.done(&format!("clip_{name}")), kind, entries);
    assert_eq!(of("one", "v:0", "stream=level"), "41");
    // ITU-T H.265, 7.4.4: thirty times the level.
    assert_eq!(of("two", "v:0", "stream=level"), "153");
    assert_eq!(of("two", "v:0", "stream=codec_tag_string"), "hvc1");
    assert_eq!(of("one", "a", "stream=codec_name,sample_rate,channels"), "aac,48000,1");
    assert_eq!(of("two", "a", "stream=codec_name,sample_rate,channels"), "pcm_s24le,96000,2");
    assert_eq!(of("three", "a", "stream=codec_name,sample_rate,channels"), "pcm_s16le,44100,2");
    // Made again only when asked.
    assert!(place.converts(&[]).contains("0 made, 3 there already, 0 failed"));
}
