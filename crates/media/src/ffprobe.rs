//! The JSON that ffprobe writes with `-show_streams -of json`; MediaInfo's is told apart here.

use serde_json::Value;

use crate::mediainfo;
use crate::reading::{Reading, Said, Sphere, Stereo, known_rate};
use crate::view::{Stop, View};

const LONGEST: u64 = 4 << 20;

pub(crate) fn read(view: &View<'_>) -> Result<Reading, Stop> {
    if view.length() > LONGEST {
        return Err(Stop::broken("this JSON is longer than ffprobe writes for one file"));
    }
    let text = view.bytes(0, view.length())?;
    let json: Value =
        serde_json::from_slice(&text).map_err(|error| Stop::broken(format!("this is not JSON: {error}")))?;
    if mediainfo::is(&json) {
        return Ok(mediainfo::of_json(&json));
    }
    let streams = json["streams"].as_array().ok_or_else(|| {
        Stop::broken("this JSON has no streams: it is read as ffprobe writes it with -show_streams -of json; timelines and framing \
             lists are read where lists are pasted")
    })?;
    let mut reading = Reading::of("ffprobe's JSON");
    // A cover is a picture, but not of the clip.
    let pictures = |stream: &&Value| stream["codec_type"] == "video" && stream["disposition"]["attached_pic"] != 1;
    let Some(stream) = streams.iter().find(pictures) else {
        return Ok(reading);
    };
    let side = |name: &str| stream[name].as_u64().and_then(|side| u32::try_from(side).ok());
    let fraction = |name: &str, between: char| {
        let (a, b) = stream[name].as_str()?.split_once(between)?;
        Some(Said::new((a.parse().ok()?, b.parse().ok()?), name))
    };
    reading.codec = stream["codec_name"].as_str().map(str::to_owned);
    reading.raster = side("width").zip(side("height")).map(|raster| Said::new(raster, "width and height"));
    reading.pixel_aspect = fraction("sample_aspect_ratio", ':');
    reading.rate = rate(fraction("r_frame_rate", '/'), fraction("avg_frame_rate", '/'), &mut reading);
    reading.interlaced = match stream["field_order"].as_str() {
        Some("progressive") => Some(Said::new(false, "field_order")),
        Some("tt" | "bb" | "tb" | "bt") => Some(Said::new(true, "field_order")),
        _ => None,
    };
    reading.full_range = match stream["color_range"].as_str() {
        Some("pc") => Some(Said::new(true, "color_range")),
        Some("tv") => Some(Said::new(false, "color_range")),
        _ => None,
    };
    // Older versions told the turn by a tag.
    match stream["tags"]["rotate"].as_str().map(|turn| turn.parse::<i64>().map(|turn| turn.rem_euclid(360))) {
        Some(Ok(turn @ (0 | 90 | 180 | 270))) => {
            reading.rotation = u32::try_from(turn).ok().map(|turn| Said::new(turn, "the tag rotate"));
        }
        Some(_) => reading.remark("The rotation of the tag rotate is not a multiple of 90°; ignored."),
        None => {}
    }
    for data in stream["side_data_list"].as_array().into_iter().flatten() {
        match data["side_data_type"].as_str() {
            Some("Display Matrix") => {
                // ffprobe counts against the clock.
                let turn = data["rotation"].as_f64().and_then(whole).map(|degrees| (-degrees).rem_euclid(360));
                match turn.and_then(|turn| u32::try_from(turn).ok()) {
                    Some(turn) if turn % 90 == 0 => reading.rotation = Some(Said::new(turn, "its display matrix")),
                    _ => reading.remark("The rotation of the display matrix is not a multiple of 90°; ignored."),
                }
            }
            Some("Spherical Mapping") => {
                let projection = data["projection"].as_str().unwrap_or("equirectangular").to_owned();
                let sphere = Sphere { projection, stereo: Stereo::Mono, right_first: false, part_of: None };
                reading.sphere = Some(Said::new(sphere, "its spherical mapping"));
            }
            _ => {}
        }
    }
    Ok(reading)
}

fn whole(degrees: f64) -> Option<i64> {
    #[expect(clippy::cast_possible_truncation, reason = "from -360 to 360")]
    (-360.0..=360.0).contains(&degrees).then(|| degrees.round() as i64)
}

/// The rate of the pictures. The lowest one that fits all their times may be no more than the clock they are told by.
fn rate(
    fits: Option<Said<(u32, u32)>>,
    average: Option<Said<(u32, u32)>>,
    reading: &mut Reading,
) -> Option<Said<(u32, u32)>> {
    let real = |said: &Said<(u32, u32)>| {
        (said.value.0 > 0 && said.value.1 > 0).then(|| f64::from(said.value.0) / f64::from(said.value.1))
    };
    let (Some(fits), Some(average)) = (&fits, &average) else { return fits.or(average) };
    let (Some(fast), Some(mean)) = (real(fits), real(average)) else {
        return Some(if real(fits).is_some() { fits } else { average }.clone());
    };
    if (fast / mean - 1.0).abs() < 0.01 {
        return Some(fits.clone());
    }
    // Fields are counted by some files: twice the frames, evenly.
    if (fast / mean - 2.0).abs() > 0.02 {
        reading.remark("Variable frame rate; the rate is the average.");
    }
    Some(Said::new(known_rate(mean), "avg_frame_rate"))
}
