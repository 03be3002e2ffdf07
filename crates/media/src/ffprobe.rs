//! The JSON that ffprobe writes with `-show_streams -of json`.

use serde_json::Value;

use crate::reading::{Reading, Said, Sphere, Stereo};
use crate::view::{Stop, View};

const LONGEST: u64 = 4 << 20;

pub(crate) fn read(view: &View<'_>) -> Result<Reading, Stop> {
    if view.length() > LONGEST {
        return Err(Stop::broken("this JSON is longer than ffprobe writes for one file"));
    }
    let text = view.bytes(0, view.length())?;
    let json: Value =
        serde_json::from_slice(&text).map_err(|error| Stop::broken(format!("this is not JSON: {error}")))?;
    let streams = json["streams"].as_array().ok_or_else(|| {
        Stop::broken("this JSON has no streams: it is read as ffprobe writes it with -show_streams -of json; timelines and framing \
             lists are read where lists are pasted")
    })?;
    let mut reading = Reading::of("ffprobe's JSON");
    let Some(stream) = streams.iter().find(|stream| stream["codec_type"] == "video") else {
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
    reading.rate =
        fraction("r_frame_rate", '/').filter(|rate| rate.value.0 > 0).or_else(|| fraction("avg_frame_rate", '/'));
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
    for data in stream["side_data_list"].as_array().into_iter().flatten() {
        match data["side_data_type"].as_str() {
            Some("Display Matrix") => {
                // ffprobe counts against the clock.
                let turn = data["rotation"].as_i64().map(|degrees| (-degrees).rem_euclid(360));
                match turn.and_then(|turn| u32::try_from(turn).ok()) {
                    Some(turn) if turn % 90 == 0 => reading.rotation = Some(Said::new(turn, "its display matrix")),
                    _ => reading.remark("The rotation of the display matrix is not a multiple of 90°; ignored."),
                }
            }
            Some("Spherical Mapping") => {
                let projection = data["projection"].as_str().unwrap_or("equirectangular").to_owned();
                let sphere = Sphere { projection, stereo: Stereo::Mono, part_of: None };
                reading.sphere = Some(Said::new(sphere, "its spherical mapping"));
            }
            _ => {}
        }
    }
    Ok(reading)
}
