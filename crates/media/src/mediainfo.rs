//! What MediaInfo writes with `--Output=JSON` and `--Output=XML`.

use quick_xml::Reader;
use quick_xml::events::Event;
use ratiomet_core::published::PIXEL_ASPECTS;
use serde_json::Value;

use crate::reading::{Reading, Said, known_rate, lowest};
use crate::view::{Stop, View};

const LONGEST: u64 = 4 << 20;

/// The fields of a track of pictures, each with its text.
type Fields = Vec<(String, String)>;

/// Whether JSON is such a report.
pub(crate) fn is(json: &Value) -> bool {
    media(json).is_some_and(|media| media["track"].is_array())
}

fn media(json: &Value) -> Option<&Value> {
    let first = if json.is_array() { json.get(0)? } else { json };
    first.get("media")
}

pub(crate) fn of_json(json: &Value) -> Reading {
    let tracks = media(json).and_then(|media| media["track"].as_array()).map(Vec::as_slice).unwrap_or_default();
    let video = tracks.iter().find(|track| track["@type"] == "Video").and_then(Value::as_object);
    let fields = video.map(|track| {
        let text = |(name, value): (&String, &Value)| match value {
            Value::String(text) => Some((name.clone(), text.clone())),
            Value::Number(number) => Some((name.clone(), number.to_string())),
            _ => None,
        };
        track.iter().filter_map(text).collect::<Fields>()
    });
    of_fields(fields.unwrap_or_default())
}

pub(crate) fn of_xml(view: &View<'_>) -> Result<Reading, Stop> {
    if view.length() > LONGEST {
        return Err(Stop::broken("this XML is longer than MediaInfo writes for one file"));
    }
    let bytes = view.bytes(0, view.length())?;
    let text = std::str::from_utf8(&bytes).map_err(|_| Stop::broken("this XML is not UTF-8"))?;
    let mut reader = Reader::from_str(text);
    let (mut report, mut inside, mut done, mut open) = (false, false, false, String::new());
    let mut fields = Fields::new();
    loop {
        match reader.read_event() {
            Ok(Event::Start(element)) => {
                let name = element.local_name().as_ref().to_owned();
                report |= name.eq_ignore_ascii_case("mediainfo");
                if name == "track" {
                    let kind = element.attributes().flatten().find(|attribute| attribute.key.as_ref() == "type");
                    inside = !done && kind.is_some_and(|kind| kind.value == "Video");
                }
                open = name;
            }
            Ok(Event::Text(text)) if inside && fields.len() < 500 => {
                let text = text.trim().to_owned();
                if !text.is_empty() {
                    fields.push((open.clone(), text));
                }
            }
            Ok(Event::End(element)) => {
                if element.local_name().as_ref() == "track" && inside {
                    (inside, done) = (false, true);
                }
                open.clear();
            }
            Ok(Event::Eof) => break,
            Ok(_) => {}
            Err(error) => return Err(Stop::broken(format!("this XML cannot be read: {error}"))),
        }
    }
    if !report {
        return Err(Stop::broken(
            "this XML is no report of MediaInfo: it is read as MediaInfo writes it with --Output=XML",
        ));
    }
    Ok(of_fields(fields))
}

fn of_fields(fields: Fields) -> Reading {
    let mut reading = Reading::of("MediaInfo's report");
    let said = |name: &str| fields.iter().find(|(each, _)| each == name).map(|(_, text)| text.as_str());
    // Older reports write for people: "1 920 pixels".
    let number = |name: &str| {
        let digits: String = said(name)?.split('.').next()?.chars().filter(char::is_ascii_digit).collect();
        digits.parse::<u32>().ok()
    };
    let real = |name: &str| said(name)?.split([' ', '(']).next()?.parse::<f64>().ok();
    reading.codec = said("Format").or_else(|| said("CodecID")).map(str::to_owned);
    reading.raster = number("Width").zip(number("Height")).map(|raster| Said::new(raster, "Width and Height"));
    reading.pixel_aspect = real("PixelAspectRatio")
        .or_else(|| real("Pixel_aspect_ratio"))
        .and_then(|ratio| Some(Said::new(shape(ratio)?, "PixelAspectRatio")));
    if reading.pixel_aspect.is_none() {
        whole_picture(said("Display_aspect_ratio"), &mut reading);
    }
    let turn = real("Rotation").map(|turn| turn.rem_euclid(360.0).round());
    match turn {
        Some(turn) if [0.0, 90.0, 180.0, 270.0].contains(&turn) => {
            #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "from 0 to 270")]
            let turn = turn as u32;
            reading.rotation = Some(Said::new(turn, "Rotation"));
        }
        Some(_) => reading.remark("The rotation is not a multiple of 90°; ignored."),
        None => {}
    }
    let exact = number("FrameRate_Num").zip(number("FrameRate_Den")).map(|(a, b)| lowest(a, b));
    let rate = exact.or_else(|| real("FrameRate").or_else(|| real("Frame_rate")).map(known_rate));
    reading.rate = rate.map(|rate| Said::new(rate, "FrameRate"));
    if said("FrameRate_Mode").or_else(|| said("Frame_rate_mode")).is_some_and(|mode| mode.starts_with('V')) {
        let average = if reading.rate.is_some() { "; the rate is the average" } else { "" };
        reading.remark(format!("Variable frame rate{average}."));
    }
    reading.interlaced = match said("ScanType").or_else(|| said("Scan_type")) {
        Some("Progressive") => Some(Said::new(false, "ScanType")),
        Some("Interlaced" | "MBAFF") => Some(Said::new(true, "ScanType")),
        _ => None,
    };
    reading.full_range = match said("colour_range").or_else(|| said("Color_range")) {
        Some("Full") => Some(Said::new(true, "colour_range")),
        Some("Limited") => Some(Said::new(false, "colour_range")),
        _ => None,
    };
    reading
}

/// Reports for people have only the shape of the whole picture, rounded.
fn whole_picture(ratio: Option<&str>, reading: &mut Reading) {
    let terms = ratio
        .and_then(|ratio| ratio.split_once(':'))
        .map(|(across, down)| (across.trim().parse::<f64>(), down.trim().parse::<f64>()));
    let (Some((Ok(across), Ok(down))), Some(raster)) = (terms, &reading.raster) else { return };
    let (width, height) = raster.value;
    let Some(shape) = shape(across / down * f64::from(height) / f64::from(width)) else { return };
    let near_square = (f64::from(shape.0) / f64::from(shape.1) - 1.0).abs() < 0.02;
    let shape = if near_square { (1, 1) } else { shape };
    if !near_square {
        reading.remark(format!(
            "The report says only that the picture is {across}:{down}, rounded: pixels of {}:{} may be others nearby.",
            shape.0, shape.1
        ));
    }
    reading.pixel_aspect = Some(Said::new(shape, "Display_aspect_ratio"));
}

/// Shapes that make 720 pixels a picture of 4:3 or 16:9 (common practice).
const TAPE: [(u32, u32); 4] = [(16, 15), (8, 9), (64, 45), (32, 27)];

/// The shape that three decimals were rounded from: a standard one near it, else them.
fn shape(ratio: f64) -> Option<(u32, u32)> {
    if !(0.05..=20.0).contains(&ratio) {
        return None;
    }
    let near = |(across, down): &&(u32, u32)| (f64::from(*across) / f64::from(*down) - ratio).abs() < 0.001;
    if let Some(known) = PIXEL_ASPECTS.iter().chain(&TAPE).find(near) {
        return Some(*known);
    }
    #[expect(clippy::cast_possible_truncation, clippy::cast_sign_loss, reason = "from 50 to 20,000")]
    let thousandths = (ratio * 1000.0).round() as u32;
    Some(lowest(thousandths, 1000))
}
